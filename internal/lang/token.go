// Package lang is the grammar in which everything is asked for: commands and
// queries, parsed and printed. What verbs there are and what may follow them
// comes from the one table in package desk.
package lang

import (
	"fmt"
	"strings"
	"unicode"
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
	found := e.Found
	if found == "" {
		found = "the end"
	} else if found != empty {
		found = fmt.Sprintf("%q", found)
	}
	if e.Why != "" {
		return fmt.Sprintf("column %d: %s", e.Column, e.Why)
	}
	if near, ok := e.Near(); ok {
		return fmt.Sprintf("column %d: %s is not known: did you mean %s?", e.Column, found, near)
	}
	if len(e.Want) > manyWords {
		return fmt.Sprintf("column %d: %s is not known: there are %s and %d more", e.Column, found, strings.Join(e.Want[:fewWords], ", "), len(e.Want)-fewWords)
	}
	return fmt.Sprintf("column %d: %s, where %s could stand", e.Column, found, list(e.Want))
}

// Of more than manyWords that could stand somewhere, fewWords are named.
const (
	manyWords = 16
	fewWords  = 6
)

// list is the words with commas and an or.
func list(words []string) string {
	switch n := len(words); n {
	case 0:
		return "nothing more"
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
