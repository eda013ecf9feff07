package tui

import (
	"os"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"zatlas/internal/desk"
)

// namedKeys are the keys that the documentation calls by a name, as tests press them.
var namedKeys = map[string]string{"Enter": "enter", "Escape": "esc", "Space": " "}

// keysIn are the keys that a piece of documentation in the type of code stands for; nil
// where it is none.
func keysIn(code string) (keys []string) {
	for word := range strings.FieldsSeq(code) {
		name, named := namedKeys[word]
		switch {
		case named:
			keys = append(keys, name)
		case utf8.RuneCountInString(word) == 1:
			keys = append(keys, word)
		default:
			return nil
		}
	}
	return keys
}

// Every key that the README and the guide name does something: on the map, or where the
// sentence has led.
func TestKeysOfTheDocumentation(t *testing.T) {
	tried := map[string]bool{}
	for _, file := range []string{"../../README.md", "../../docs/GUIDE.md"} {
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		for i, part := range strings.Split(strings.ReplaceAll(string(text), "```", ""), "`") {
			keys := keysIn(part)
			if i%2 == 0 || keys == nil || tried[part] {
				continue
			}
			tried[part] = true
			for _, before := range []string{"", "? right", "/ down", "; s"} { // the map, the page of keys, the gazetteer's rows, the survey
				b := newBench(t, desk.Settings{})
				clock := time.Now()
				b.held.now = func() time.Time { clock = clock.Add(time.Second); return clock }
				for _, key := range strings.Fields(before) {
					b.press(key)
				}
				was := b.whole(before)
				for _, key := range keys {
					b.press(key)
				}
				b.catchUp()
				now := b.whole(part)
				if did := now != was && !strings.Contains(now, "does nothing here"); did {
					break
				} else if before == "; s" {
					t.Errorf("%s names %q, which does nothing:\n%s", file, part, now)
				}
			}
		}
	}
	if len(tried) < 40 {
		t.Errorf("only %d keys were found", len(tried))
	}
}
