package settings

import (
	"bytes"
	"errors"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Line is a line of a settings file that can start a program.
type Line struct {
	Number int // from 1
	Text   string
}

// Programs lists the lines of a settings file by which a program can be started: the
// terminal, and chords that open, run or lay a plate with what is missing. A file that is
// at fault is an error.
func Programs(data []byte) ([]Line, error) {
	data = bytes.TrimPrefix(data, []byte(byteOrderMark))
	if _, err := parse(data, Default(), nil); err != nil {
		return nil, err
	}
	doc, err := read(data)
	if err != nil {
		return nil, err
	}
	rows := bytes.Split(data, []byte("\n"))
	var lines []Line
	for _, e := range doc.entries {
		if !starts(e) || slices.ContainsFunc(lines, func(l Line) bool { return l.Number == e.line }) {
			continue
		}
		lines = append(lines, Line{e.line, desk.CleanText(string(rows[e.line-1]), desk.MaxTitle)})
	}
	return lines, nil
}

// starts tells whether an entry is one by which a program can be started.
func starts(e entry) bool {
	text, _ := e.value.(string)
	if e.name() == "keeper.terminal" {
		return true
	}
	if e.path[0] != "chords" || len(e.path) != 2 {
		return false
	}
	for word := range strings.FieldsSeq(text) { // "hold" and classes before the verb
		if v, ok := desk.FindVerb(word); ok && v.Effect == desk.StartApp || word == "jump" {
			return true
		}
	}
	c, err := lang.ParseCommand(text)
	return err == nil && c.Verb == "plate" && slices.ContainsFunc(c.Args, func(a desk.Arg) bool { return a.Kind == desk.Keyword && a.Word == "starting" })
}

// maxLines is how many lines a value may go over that is commented out.
const maxLines = 50

// WithoutPrograms is a settings file in which the lines that can start a program are
// comments.
func WithoutPrograms(data []byte) ([]byte, error) {
	data = bytes.TrimPrefix(data, []byte(byteOrderMark))
	for {
		lines, err := Programs(data)
		if err != nil || len(lines) == 0 {
			return data, err
		}
		at, rows := lines[0].Number-1, bytes.Split(data, []byte("\n"))
		done := false
		for n := 1; n <= maxLines && at+n <= len(rows) && !done; n++ { // a value may go over several lines
			rows[at+n-1] = append([]byte("# "), rows[at+n-1]...)
			next := bytes.Join(rows, []byte("\n"))
			if _, err := parse(next, Default(), nil); err == nil {
				data, done = next, true
			}
		}
		if !done {
			return nil, errors.New("a line that can start a program cannot be commented out by itself: " + lines[0].Text)
		}
	}
}
