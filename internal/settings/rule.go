package settings

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/layout"
)

// ruleFlag is what a rule has or has not.
type ruleFlag struct {
	word string // in a line
	on   *bool
	does string
	key  string // in a file, where it is not the word; then false turns it on
}

// inFile is its key in a file, and the value there that turns it on.
func (f ruleFlag) inFile() (key string, value bool) {
	if f.key != "" {
		return f.key, false
	}
	return f.word, true
}

// oldWords are those of earlier versions, which are still read.
var oldWords = map[string]string{"nofocus": "unfocused", "noborder": "borderless"}

// texts are the keys of a rule that are texts.
func (r *Rule) texts() map[string]*string {
	return map[string]*string{"match": &r.Match, "to": &r.To, "place": &r.Place, "layout": &r.Layout}
}

// flags are the words of a rule that stand by themselves.
func (r *Rule) flags() []ruleFlag {
	return []ruleFlag{
		{word: "float", on: &r.Float, does: "it floats"}, {word: "sticky", on: &r.Sticky, does: "it shows on every workspace"},
		{word: "above", on: &r.Above, does: "it stays above the others"},
		{word: "unfocused", on: &r.NoFocus, does: "it does not take the focus", key: "focus"}, {word: "stray", on: &r.Stray, does: "it may open out of reach"},
		{word: "borderless", on: &r.NoBorder, does: "it has no border", key: "border"}, {word: "private", on: &r.Private, does: "it is never pictured"},
		{word: "leave", on: &r.Leave, does: "it is left alone"}, {word: "also", on: &r.Also, does: "and the next rules count too"},
	}
}

// RuleWords are what a rule can say, each with what becomes of a window.
func RuleWords() (rows [][2]string) {
	rows = [][2]string{{"to 3, to B, to B3", "it opens on that workspace, monitor or sheet"}, {"first, last", "it is the first or last of its sheet"},
		{"tabs, columns, ...", "the layout of its sheet, if it is the first window there"}}
	var r Rule
	for _, f := range r.flags() {
		rows = append(rows, [2]string{f.word, f.does})
	}
	return rows
}

// then parts a rule's query from what becomes of a window, in a line.
const then = " then "

// ParseRule reads a rule in a line: a query, "then", and what becomes of a
// window that matches: to 3, first, last, float, sticky, above, unfocused, borderless,
// private, stray, leave, also.
func ParseRule(line string) (Rule, error) {
	match, rest, ok := strings.Cut(line, then)
	r := Rule{Match: strings.TrimSpace(match)}
	if !ok {
		return r, errors.New(`a rule is a query, "then", and what becomes of the window: app:radio then to 6 float`)
	}
words:
	for rest = strings.TrimSpace(rest); rest != ""; rest = strings.TrimSpace(rest) {
		word, more, _ := strings.Cut(rest, " ")
		if now := oldWords[word]; now != "" {
			word = now
		}
		for _, f := range r.flags() {
			if word == f.word {
				*f.on, rest = true, more
				continue words
			}
		}
		switch {
		case word == "first" || word == "last":
			r.Place, rest = word, more
		case slices.Contains(layout.Names(), word):
			r.Layout, rest = word, more
		case word == "to" && strings.HasPrefix(more, `"`):
			end := strings.IndexByte(more[1:], '"')
			if end < 0 {
				return r, errors.New("the name after to has no end: a quote is missing")
			}
			r.To, rest = more[:end+2], more[end+2:]
		case word == "to" && more != "":
			r.To, rest, _ = strings.Cut(more, " ")
		default:
			return r, fmt.Errorf("%q is nothing that becomes of a window: to 3, first, last, a layout, float, sticky, above, unfocused, borderless, private, stray, leave, also are", word)
		}
	}
	if _, err := r.check(); err != nil {
		return r, err
	}
	if len(r.keys()) < 2 {
		return r, errors.New("the rule does nothing: to 3, first, last, float, sticky, above, unfocused, borderless, private, stray or leave must follow then")
	}
	return r, nil
}

// String is the rule in a line, as ParseRule reads it.
func (r Rule) String() string {
	var words []string
	if r.To != "" {
		words = append(words, "to "+r.To)
	}
	if r.Place != "" {
		words = append(words, r.Place)
	}
	if r.Layout != "" {
		words = append(words, r.Layout)
	}
	for _, f := range r.flags() {
		if *f.on {
			words = append(words, f.word)
		}
	}
	return r.Match + then + strings.Join(words, " ")
}

// Does says what becomes of a window that matches.
func (r Rule) Does() string {
	var words []string
	if r.To != "" {
		words = append(words, "it opens on "+r.To)
	}
	if r.Place != "" {
		words = append(words, "it is the "+r.Place+" of its sheet")
	}
	if r.Layout != "" {
		words = append(words, "the first of its sheet has that laid out as "+r.Layout)
	}
	for _, f := range r.flags() {
		if *f.on {
			words = append(words, f.does)
		}
	}
	return strings.Join(words, ", ")
}
