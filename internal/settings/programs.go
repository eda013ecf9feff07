package settings

import (
	"bytes"
	"errors"
	"slices"
	"strings"
	"unicode"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Line is a value of a settings file that can start a program, with all its lines.
type Line struct {
	Number int // of the first, from 1
	Text   string
	rows   int // how many lines
}

// Programs lists the values of a settings file by which a program can be started. Those are
// the terminal, the letters of apps, and chords that open, run, jump or lay a plate with what
// is missing. A file that is at fault is an error.
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
		if !starts(e) || slices.ContainsFunc(lines, func(l Line) bool { return e.line < l.Number+l.rows && e.line >= l.Number }) {
			continue
		}
		l := Line{Number: e.line, rows: rowsOf(rows[e.line-1:])}
		for i, row := range rows[e.line-1:][:l.rows] {
			if i > 0 {
				l.Text += "\n"
			}
			l.Text += desk.CleanText(string(row), desk.MaxWords)
		}
		lines = append(lines, l)
	}
	return lines, nil
}

// starts tells whether an entry is one by which a program can be started, by what is made
// of it.
func starts(e entry) bool {
	text, _ := e.value.(string)
	switch {
	case e.name() == "keeper.terminal", e.path[0] == "line" && e.path[len(e.path)-1] == "command":
		return true
	case e.path[0] == "line" && e.path[len(e.path)-1] == "click":
		return startsWith(text)
	case len(e.path) != 2:
		return false
	case e.path[0] == "pins":
		q, err := lang.ParseQuery(text)
		app, is := q.(desk.ByApp)
		return err == nil && is && app.Whole
	case e.path[0] != "chords":
		return false
	}
	return startsWith(text)
}

// startsWith tells whether a program can be started by what a chord or a click stands for.
func startsWith(text string) bool {
	c, err := lang.ParseCommand(text)
	if err != nil { // a question that is asked, or one key of several
		c.Verb = strings.TrimSpace(text)
		if end := strings.IndexFunc(c.Verb, func(r rune) bool { return !unicode.IsLetter(r) }); end >= 0 {
			c.Verb = c.Verb[:end]
		}
	}
	if v, ok := desk.FindVerb(c.Verb); ok && v.Effect == desk.StartApp || c.Verb == "jump" {
		return true
	}
	return c.Verb == "plate" && slices.ContainsFunc(c.Args, func(a desk.Arg) bool { return a.Kind == desk.Keyword && a.Word == "starting" })
}

// maxLines is how many lines a value may go over.
const maxLines = 50

// rowsOf is over how many lines the value goes that begins on the first; 1 where that cannot
// be told.
func rowsOf(rows [][]byte) int {
	for n := 1; n <= min(maxLines, len(rows)); n++ {
		if _, err := read(bytes.Join(rows[:n], []byte("\n"))); err == nil {
			return n
		}
	}
	return 1
}

// WithoutPrograms is a settings file in which the values that can start a program are
// comments.
func WithoutPrograms(data []byte) ([]byte, error) {
	data = bytes.TrimPrefix(data, []byte(byteOrderMark))
	lines, err := Programs(data)
	if err != nil || len(lines) == 0 {
		return data, err
	}
	rows := bytes.Split(data, []byte("\n"))
	for _, l := range lines {
		for i := range l.rows {
			rows[l.Number-1+i] = append([]byte("# "), rows[l.Number-1+i]...)
		}
	}
	data = bytes.Join(rows, []byte("\n"))
	if left, err := Programs(data); err != nil || len(left) > 0 {
		return nil, errors.New("what can start a program cannot be commented out by itself: " + lines[0].Text)
	}
	return data, nil
}
