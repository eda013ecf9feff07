package lang

import (
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// Completion is what could stand at the end of a line, in place of the word begun there.
type Completion struct {
	Begun string   // the word begun: the end of the line from there on; may be empty
	Words []string // what can stand in its place, as it is
	Kinds []string // arguments that can, in words: "a workspace's number"
}

// All are the words and the kinds, for people to read.
func (c Completion) All() []string { return slices.Concat(c.Words, c.Kinds) }

// Extended is what stands in place of the word begun as far as there is one way: the only
// word there is, and a blank after it where it is whole; else what all have in common.
func (c Completion) Extended() string {
	switch len(c.Words) {
	case 0:
		return c.Begun
	case 1:
		if Whole(c.Words[0]) {
			return c.Words[0] + " "
		}
		return c.Words[0]
	}
	start := c.Words[0]
	for _, w := range c.Words[1:] {
		for !strings.HasPrefix(w, start) {
			start = start[:len(start)-1]
		}
	}
	if len(start) < len(c.Begun) {
		return c.Begun
	}
	return start
}

// Whole tells whether a blank follows a word of a completion, and not the rest of it.
func Whole(word string) bool { return !strings.HasSuffix(word, ":") && word != "#" && word != "(" }

// Complete gives what could stand at the end of a command's line. What a desk has is
// offered where it fits: numbers and names of workspaces, monitors, apps, titles, plates,
// letters.
func Complete(input string, d *desk.Desk) Completion {
	head := input[:lastWord(input)]
	c := Completion{Begun: input[len(head):]}
	_, want, err := parseCommand(head)
	if e, ok := err.(*Error); ok && e.Found != "" {
		return c // the fault is further left
	} else if ok && want == nil {
		want = e.Want // of a query
	}
	verb, _, _ := strings.Cut(strings.TrimSpace(head), " ")
	for _, w := range want {
		values, isKind := valuesOf(w, verb, c.Begun, d)
		for _, v := range values {
			if strings.HasPrefix(folded(v), folded(c.Begun)) {
				c.Words = append(c.Words, v)
			}
		}
		if isKind && c.Begun == "" {
			c.Kinds = append(c.Kinds, w)
		}
	}
	return c
}

// CompleteQuery does so at the end of a query.
func CompleteQuery(input string, d *desk.Desk) Completion { return Complete(ToQuery+input, d) }

// ToQuery makes a command of a query, for Complete.
const ToQuery = "rescue of "

// folded is a word without what need not be typed the same: quotes, and how large its
// letters are.
func folded(word string) string {
	return strings.ToLower(strings.ReplaceAll(word, string(quote), ""))
}

// lastWord is where the word begins that a line ends with: after the last blank or bracket
// that is in no quotes.
func lastWord(line string) int {
	start, quoted, escaped := 0, false, false
	for i, r := range line {
		switch {
		case escaped:
			escaped = false
		case quoted && r == '\\':
			escaped = true
		case r == quote:
			quoted = !quoted
		case !quoted && (r == ' ' || r == '\t' || r == '('):
			start = i + 1
		}
	}
	return start
}

// valuesOf are the words of a desk that fit what the grammar wants after a verb. It also tells
// whether what is wanted is a kind of word, and not a word itself.
func valuesOf(want, verb, begun string, d *desk.Desk) (words []string, isKind bool) {
	name := func(text string) string { return printArg(desk.Arg{Kind: desk.Name, Word: text}) }
	if d == nil {
		d = &desk.Desk{}
	}
	field, _, isField := strings.Cut(begun, ":")
	isField = isField && begun[0] != quote
	if isField && want != field+":" {
		return nil, false // a field of a query is begun, and it is not this one
	}
	each := func(list []string, word func(string) string) {
		for _, text := range list {
			if text != "" {
				words = append(words, word(text))
			}
		}
	}
	of := func(text string) string {
		if !bareName(text) {
			text = Quote(text)
		}
		if strings.HasPrefix(begun, want+"=") {
			text = "=" + text
		}
		return want + text
	}
	isKind = true
	switch want {
	case kinds["NAME"].words:
		each(workspaceNames(d), name)
		isKind = len(d.Workspaces) == 0
	case kinds["PLATE"].words:
		for _, p := range d.PlateList() {
			words = append(words, name(p.Name))
		}
	case kinds["APP"].words:
		each(d.Apps(), name)
	case kinds["NUMBER"].words:
		words = numbers(d)
	case kinds["MONITOR"].words:
		words = letters(d)
	case kinds["LETTER"].words:
		if verb == "jump" {
			words = pinned(d)
		}
	case ofWindows:
		words = []string{"of"}
	case "#12":
		if isKind = false; begun == "" {
			return []string{"#"}, false
		}
		for _, w := range d.Windows {
			words = append(words, fmt.Sprintf("#%d", w.ID))
		}
	case "app:", "title:", "on:", "at:", "is:":
		if isKind = false; !isField {
			return []string{want}, false
		}
		switch field {
		case "app":
			each(d.Apps(), of)
		case "title":
			each(titles(d), of)
		case "on":
			each(numbers(d), func(n string) string { return want + n })
			each(workspaceNames(d), func(n string) string { return PrintQuery(desk.On{Name: n}) })
		case "at":
			each(letters(d), func(l string) string { return want + l })
		case "is":
			each(desk.StateNames(), func(s string) string { return want + s })
		}
	default:
		if isKind = strings.Contains(want, " "); !isKind {
			words = []string{want}
		}
	}
	return words, isKind
}

func workspaceNames(d *desk.Desk) (names []string) {
	for _, ws := range d.Workspaces {
		names = append(names, ws.Name)
	}
	return names
}

func numbers(d *desk.Desk) (words []string) {
	for i := range d.Workspaces {
		words = append(words, fmt.Sprint(i+1))
	}
	return words
}

// letters are those of the monitors that are plugged in.
func letters(d *desk.Desk) (words []string) {
	for _, m := range d.Monitors {
		if m.Connected {
			words = append(words, string(rune(m.Letter)))
		}
	}
	return words
}

// pinned are the letters that jump somewhere.
func pinned(d *desk.Desk) (words []string) {
	for l := byte('a'); l <= 'z'; l++ {
		if d.Settings.Pins[l] != nil || len(d.Pinned(l)) > 0 || d.PinnedWorkspace(l) >= 0 {
			words = append(words, string(rune(l)))
		}
	}
	return words
}

// titles are those of the windows, each once.
func titles(d *desk.Desk) (all []string) {
	for _, w := range d.Windows {
		if !slices.Contains(all, w.Title) {
			all = append(all, w.Title)
		}
	}
	return all
}
