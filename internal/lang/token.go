// Package lang is the grammar in which everything is asked for: commands and
// queries, parsed and printed. What verbs there are and what may follow them
// comes from the one table in package desk.
package lang

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"zatlas/internal/desk"
)

// Error is a fault in the words of a command or a query. Its Error text names
// the column, what stands there, and what could.
type Error struct {
	Input  string
	Column int    // of the fault, from 1, in letters
	Found  string // empty at the end of the input
	Want   []string
	Why    string // instead of Want, where something else is wrong
}

func (e *Error) Error() string {
	return fmt.Sprintf("column %d: %s", e.Column, e.what())
}

// what says what is at fault.
func (e *Error) what() string {
	if e.Why != "" {
		return e.Why
	}
	expected := "expected " + list(e.Want)
	if len(e.Want) == 0 {
		expected = "expected the end"
	}
	switch {
	case e.Found == "" && e.verb():
		return "a command is missing; ? lists them all, and so does zatlas language"
	case e.Found == "":
		return expected
	}
	found := e.Found
	if found != empty {
		found = fmt.Sprintf("%q", desk.CleanText(found, desk.MaxName))
	}
	verb := e.verb()
	if means := meant(e.Found); verb && means != "" {
		return found + " is not a command: " + means
	}
	if near, wrong := e.guess(); near != "" {
		return found + " " + wrong + ": did you mean " + near + "?"
	}
	if verb {
		return found + " is not a command; ? lists them all, and so does zatlas language"
	}
	if len(e.Want) > manyWords {
		return found + " is not known here; Tab lists what fits"
	}
	return found + " does not fit here, " + expected
}

// verb tells whether a command was to begin with the word at fault.
func (e *Error) verb() bool { return len(e.Want) > manyWords && slices.Contains(e.Want, "send") }

// Strange tells whether the word at fault is to be a command, and is like none and means none.
func (e *Error) Strange() bool {
	_, near := e.Near()
	return e.verb() && e.Found != "" && e.Why == "" && !near && meant(e.Found) == ""
}

// otherwise is what does what a word means that no verb does.
var otherwise = map[string]string{
	"quit":   "q quits the screens, end ends the keeper, and close closes windows",
	"exit":   "q quits the screens, end ends the keeper, and close closes windows",
	"find":   "/ finds windows on the screens, open goes to an app, and rescue brings back what is lost",
	"search": "/ finds windows on the screens, and open goes to an app",
	"list":   "zatlas list lists the windows, and ? all commands",
}

// meant says which verbs do what a word means that is none of them; empty where none is known
// for it.
func meant(word string) string {
	word = strings.ToLower(word)
	var verbs []string
	for _, v := range desk.Verbs() {
		if slices.Contains(strings.Fields(v.Also), word) {
			verbs = append(verbs, v.Name)
		}
	}
	switch words := otherwise[word]; {
	case words != "":
		return words
	case len(verbs) == 0:
		return ""
	case len(verbs) > fewWords:
		verbs = verbs[:fewWords]
	}
	return "try " + list(verbs)
}

// Of more than manyWords that fit somewhere, none is named; of verbs that do what is meant,
// fewWords are.
const (
	manyWords = 16
	fewWords  = 4
)

// list is the words with commas and an or.
func list(words []string) string {
	switch n := len(words); n {
	case 0:
		return ""
	case 1:
		return words[0]
	default:
		return strings.Join(words[:n-1], ", ") + " or " + words[n-1]
	}
}

// token is a piece of a command: a bare word or a quoted one.
type token struct {
	text   string
	quoted bool
	column int // from 1, in letters
}

// scanner cuts a line into tokens. A word ends at white space, a bracket or a
// quote; in a query a word may go on with a quoted part, as in title:"reel 3".
type scanner struct {
	input []rune
	at    int
}

const (
	quote = '"'
	empty = `""` // a quoted word of nothing
)

func isBracket(r rune) bool { return r == '(' || r == ')' }

func (s *scanner) skipSpace() {
	for s.at < len(s.input) && unicode.IsSpace(s.input[s.at]) {
		s.at++
	}
}

// next is the next token; ok is false at the end.
func (s *scanner) next() (t token, ok bool, err error) {
	s.skipSpace()
	t.column = s.at + 1
	if s.at == len(s.input) {
		return t, false, nil
	}
	switch r := s.input[s.at]; {
	case isBracket(r):
		s.at++
		t.text = string(r)
		return t, true, nil
	case r == quote:
		t.quoted = true
		t.text, err = s.quotedText()
		return t, true, err
	}
	start := s.at
	for s.at < len(s.input) && !unicode.IsSpace(s.input[s.at]) && !isBracket(s.input[s.at]) && s.input[s.at] != quote {
		s.at++
	}
	t.text = string(s.input[start:s.at])
	return t, true, nil
}

// quotedText reads "..." with \" and \\ inside.
func (s *scanner) quotedText() (string, error) {
	start := s.at
	var b strings.Builder
	for s.at++; s.at < len(s.input); s.at++ {
		switch r := s.input[s.at]; {
		case r == quote:
			s.at++
			return b.String(), nil
		case r == '\\' && s.at+1 < len(s.input) && (s.input[s.at+1] == quote || s.input[s.at+1] == '\\'):
			s.at++
			b.WriteRune(s.input[s.at])
		default:
			b.WriteRune(r)
		}
	}
	return "", &Error{Input: string(s.input), Column: start + 1, Found: `"`, Why: "this quote is not closed"}
}

// Quote is s as a quoted word.
func Quote(s string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(s) + `"`
}
