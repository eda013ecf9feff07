package settings

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
)

// generator writes valid files in the many ways in which people do.
type generator struct{ *rand.Rand }

func (g generator) pick(words ...string) string { return words[g.IntN(len(words))] }

func (g generator) comment() string {
	return g.pick("", "", "# a remark, [with] = signs\n", "\n", "  # further in\n\n")
}

func (g generator) tail() string { return g.pick("", "", " # why", "   ") + "\n" }

func (g generator) text(value string) string {
	if strings.ContainsAny(value, `'\`) {
		return fmt.Sprintf("%q", value)
	}
	return g.pick(fmt.Sprintf("%q", value), "'"+value+"'")
}

// value is one that a setting can have, as a file has it.
func (g generator) value(c Choice) string {
	switch {
	case c.Max > 0:
		return fmt.Sprint(c.Min + g.IntN(c.Max-c.Min+1))
	case slices.Equal(c.Values, yesNo):
		return g.pick(c.Values...)
	case c.Values != nil:
		return g.text(g.pick(c.Values...))
	case c.Key == "atlas_key":
		return g.text(g.pick("Super", "Alt"))
	case strings.HasPrefix(c.Key, "border_"):
		return g.text(g.pick("#0aF93c", "#000000"))
	case c.Key == "start":
		return g.text(g.pick("Office", "At home 2"))
	case c.Key == "line_on":
		return g.text(g.pick("all", "A C"))
	case c.Key == PrivateName:
		return g.text(g.pick("vault", "vault letters"))
	case c.Key == "grid":
		return g.text(g.pick("3x3", "6x2"))
	}
	return g.text(g.pick("xterm -e", "vterm 'a b' -e"))
}

// file is a whole one: tables in any order, keys with dots at the top, remarks,
// either kind of line's end.
func (g generator) file() string {
	var b strings.Builder
	dotted := g.IntN(4) == 0 // what is a table's is written at the top
	b.WriteString(g.comment())
	for _, c := range Choices() {
		switch {
		case g.IntN(2) == 0:
		case c.Table == "":
			b.WriteString(c.Key + g.pick("=", " = ", "   =") + g.value(c) + g.tail() + g.comment())
		case dotted:
			b.WriteString(c.Name() + " = " + g.value(c) + g.tail() + g.comment())
		}
	}
	var tables []string
	table := func(name string, lines ...string) {
		text := g.pick("", " ") + "[" + name + "]" + g.tail() + g.comment()
		for _, l := range lines {
			if g.IntN(3) > 0 {
				text += g.pick("", "  ") + l + g.tail() + g.comment()
			}
		}
		tables = append(tables, text)
	}
	for _, name := range []string{"desk", "keeper", "plates"} {
		var lines []string
		for _, c := range Choices() {
			if c.Table == name {
				lines = append(lines, c.Key+" = "+g.value(c))
			}
		}
		if !dotted {
			table(name, lines...)
		}
	}
	table("chords", `"Super+F" = "float"`, `'super+shift+2' = ""`, `"Ctrl+Alt+Return" = 'open "Tin Radio"'`)
	table("grids", `A = "3x2"`, `C = '6x6'`)
	table("pins", `r = 'app:="Reel Ledger"'`, `q = ""`)
	g.Shuffle(len(tables), func(i, j int) { tables[i], tables[j] = tables[j], tables[i] })
	tables = tables[g.IntN(len(tables)):]
	b.WriteString(strings.Join(tables, g.pick("", "\n")))
	for i := range g.IntN(3) {
		fmt.Fprintf(&b, "%s[[rules]]%smatch = %q\n%s%s", g.comment(), g.tail(), fmt.Sprint("app:radio", i), g.pick("to = \"3\"\n", "float = true # over\n"), g.comment())
	}
	text := b.String()
	if g.IntN(3) == 0 {
		text = strings.TrimRight(text, "\n")
	}
	if g.IntN(3) == 0 {
		text = strings.ReplaceAll(text, "\n", "\r\n")
	}
	if g.IntN(4) == 0 {
		text = byteOrderMark + text
	}
	return text
}

var (
	remarks = regexp.MustCompile(`#[^\r\n]*`)
	colours = regexp.MustCompile(`["']#[0-9a-fA-F]{6}["']`) // values that look like remarks
)

func remarksOf(file []byte) string {
	return fmt.Sprintf("%s", remarks.FindAll(colours.ReplaceAll(file, nil), -1))
}

// changed holds that a change of the file reads back as meant, and that every
// remark is still there, in its order.
func changed(t *testing.T, path, what string, change func() error, holds func(s Settings) bool) {
	t.Helper()
	before, _ := os.ReadFile(path)
	if err := change(); err != nil {
		t.Fatalf("%s: %v\nof\n%s", what, err, before)
	}
	after, _ := os.ReadFile(path)
	s, err := Load(path)
	if err != nil || !holds(s) {
		t.Fatalf("%s does not hold, %v\nbefore\n%s\nafter\n%s", what, err, before, after)
	}
	if a, b := remarksOf(before), remarksOf(after); a != b {
		t.Fatalf("%s: the remarks were\n%s\nand are\n%s", what, a, b)
	}
	if strings.Contains(string(before), "\r\n") && strings.Contains(strings.ReplaceAll(string(after), "\r\n", ""), "\n") {
		t.Fatalf("%s: lines end in two ways:\n%q", what, after)
	}
}

// changeAll sets, changes and takes away all there is.
func changeAll(t *testing.T, path string) {
	t.Helper()
	for _, c := range Choices() {
		values := []string{"5x3", "2x2"}
		if c.Key == "atlas_key" {
			values = []string{"Alt", "Super"}
		} else if strings.HasPrefix(c.Key, "border_") {
			values = []string{"#0aF93c", c.Usual}
		} else if c.Key == PrivateName {
			values = []string{"vault letters", "vault"}
		} else if c.Key == "line_on" {
			values = []string{"A C", "primary"}
		} else if c.Table == "keeper" {
			values = []string{`vterm "a b" -e`, "xterm -e"}
		}
		if !c.Text() {
			values = []string{c.Next(c.Usual, 1), c.Usual}
		}
		for _, v := range values {
			changed(t, path, c.Name()+" = "+v, func() error { return c.Set(path, v) }, func(s Settings) bool { return c.Get(s) == v })
		}
	}
	for _, command := range []string{"float", `open "Tin Radio"`, ""} {
		for _, chord := range []string{"Super+F", "Super+Shift+2", "ctrl+alt+y"} {
			p, _ := ParseChord(chord)
			changed(t, path, chord+" = "+command, func() error { return SetChords(path, [][2]string{{chord, command}}) }, func(s Settings) bool { return boundsOf(t, s)[p.String()] == command })
		}
	}
	for _, query := range []string{`app:="Reel Ledger"`, "app:till", ""} {
		for _, letter := range []string{"r", "z"} {
			changed(t, path, letter+" = "+query, func() error { return SetPin(path, letter, query) }, func(s Settings) bool { return s.Pins[letter] == query })
		}
	}
	before, _ := Load(path)
	n := len(before.Rules)
	rule := Rule{Match: `title:"reel 3"`, To: "2", Also: true}
	changed(t, path, "a rule", func() error { return AddRule(path, rule) }, func(s Settings) bool { return len(s.Rules) == n+1 && s.Rules[n] == rule })
	if n > 0 {
		changed(t, path, "its order", func() error { return SwapRules(path, n-1) }, func(s Settings) bool { return s.Rules[n-1] == rule && len(s.Rules) == n+1 })
		changed(t, path, "and back", func() error { return SwapRules(path, n-1) }, func(s Settings) bool { return s.Rules[n] == rule })
	}
	changed(t, path, "no rule", func() error { return RemoveRule(path, n) }, func(s Settings) bool { return len(s.Rules) == n })
}

func TestChangesOfThePrintedFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "settings.toml")
	os.WriteFile(path, []byte(Example()), 0o600)
	changeAll(t, path)
}

func TestChangesOfGeneratedFiles(t *testing.T) {
	g := generator{rand.New(rand.NewPCG(5, 6))}
	files := 6
	if os.Getenv("SOAK") != "" {
		files = 100
	}
	for n := range files {
		path := filepath.Join(t.TempDir(), "settings.toml")
		text := g.file()
		os.WriteFile(path, []byte(text), 0o600)
		if _, err := Load(path); err != nil {
			t.Fatalf("file %d is not read: %v\n%s", n, err, text)
		}
		changeAll(t, path)
	}
}

// All that is wrong is told at once, in words that are not those of a language.
func TestAllFaults(t *testing.T) {
	_, err := load(t, byteOrderMark+"theme = 3\r\n[desk]\r\ngap = \"wide\"\r\nwrap = 1\r\nsize = 2\r\n[desks]\r\n[chords]\r\n\"Super+F\" = true\r\n\"Super+G\" = \"flaot\"\r\n"+
		"[pins]\r\nr = {a = 1}\r\n[[rules]]\r\nmatch = 7\r\nfloat = \"yes\"\r\nwhere = 3\r\n")
	if err == nil {
		t.Fatal("it is read")
	}
	for _, want := range []string{
		`:1:1: theme must be "night" or "day"`, `3:1: gap must be 0 to 500 pixels`, "4:1: wrap must be false or true", `5:1: there is no setting "desk.size"`,
		`6:1: there is no setting "desks"`, "8:1: Super+F must be a command in quotes", `9:1: Super+G stands for "flaot"`, `11:6: there is no setting "pins.r.a"`,
		"13:1: match of a rule must be a text in quotes", "14:1: float of a rule must be false or true", `15:1: there is no "where" in a rule`,
	} {
		if !strings.Contains(err.Error(), want) {
			t.Errorf("without %q:\n%v", want, err)
		}
	}
	for _, word := range []string{"struct", "int64", "interface", "toml: ", "map[", "settings.C"} {
		if strings.Contains(err.Error(), word) {
			t.Errorf("%q is no word of ours:\n%v", word, err)
		}
	}
	if _, err := load(t, strings.Repeat("[[rule]]\n", 1000)); err == nil || !strings.Contains(err.Error(), "20:1: ") || !strings.HasSuffix(err.Error(), "; and 980 more") {
		t.Errorf("a file of a thousand faults: %v", err)
	}
}
