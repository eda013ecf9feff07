package prompt

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/lang"
)

// spelled asks for what the grammar wants after a verb that has no question of its own.
// Directions are arrows, places are digits and letters, shares are + and -. A word is its
// first letter that is free. What asks for more ends with an ellipsis.
func spelled(a About) Prompt { return a.after(a.Verb.Name) }

// explained are words that say too little by themselves.
var explained = map[string]string{"as": "all, as a list"}

// after asks for what may follow a command that is not complete.
func (a About) after(begun string) Prompt {
	p := Prompt{Lead: strings.TrimSpace(begun + " " + a.Words)}
	_, err := lang.ParseCommand(begun)
	var fault *lang.Error
	if !errors.As(err, &fault) {
		return p
	}
	add := func(c Choice, word string) {
		line := begun + " " + word
		if _, err := lang.ParseCommand(line); err == nil {
			c.Line = line
		} else {
			c.Next, c.Does = func() Prompt { return a.after(line) }, c.Does+" …"
		}
		p.Choices = append(p.Choices, c)
	}
	typed := false
	for _, want := range fault.Want {
		switch {
		case slices.Contains([]string{"left", "right", "up", "down"}, want):
			add(Choice{Key: strings.ToUpper(want[:1]) + want[1:], Does: want}, want)
		case !strings.Contains(want, " ") && want != "":
			if key := p.free(want); key != "" {
				add(Choice{Key: key, Does: cmp.Or(explained[want], want)}, want)
			}
		case want == "a workspace's number":
			for i := range a.Desk.Workspaces[:min(digits, len(a.Desk.Workspaces))] {
				add(Choice{Key: fmt.Sprint(i + 1), Does: workspace(a.Desk, i)}, fmt.Sprint(i+1))
			}
		case want == "a monitor's letter":
			for _, l := range a.monitors() {
				add(Choice{Key: l, Does: "monitor " + l}, l)
			}
		case strings.HasPrefix(want, "per cent such as +"):
			add(Choice{Key: "+", Does: "5 per cent more"}, "+5")
			add(Choice{Key: "-", Does: "5 per cent less"}, "-5")
		default:
			typed = true
		}
	}
	if typed || len(p.Choices) == 0 {
		p.Choices = append(p.Choices, Choice{Key: "/", Does: "in words", Text: begun + " "})
	}
	p.AnyCase = true
	return p
}

// free is the first letter of a word that no choice has yet; empty for none.
func (p Prompt) free(word string) string {
	for _, r := range word {
		if key := string(r); r >= 'a' && r <= 'z' && !p.has(key) {
			return key
		}
	}
	return ""
}
