package settings

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// LineRow is what the user adds to the line: the last line that a command prints.
type LineRow struct {
	Command string        // for the shell
	Every   time.Duration // after which it is run again; 0 for once
	Follow  bool          // it keeps running, and each line replaces the one before
	Width   int           // in letters; 0 for as many as it has
	Left    bool          // before the title, else after it
	Click   string        // a command in words, for a click on it
}

// The bounds of a row.
const (
	leastEvery = time.Second
	mostEvery  = 24 * time.Hour
	maxWidth   = 200
)

// lineKeys are the keys of a row, each with what it needs and how it is taken.
var lineKeys = map[string]struct {
	wants string
	take  func(r *LineRow, value any) (ok bool)
}{
	"command": {"a command for the shell, in quotes", func(r *LineRow, v any) (ok bool) {
		r.Command, ok = v.(string)
		return ok && !strings.ContainsRune(r.Command, 0)
	}},
	"every": {`a time from 1s to 24h in quotes, such as "30s"`, func(r *LineRow, v any) bool {
		text, _ := v.(string)
		every, err := time.ParseDuration(text)
		r.Every = every
		return err == nil && every >= leastEvery && every <= mostEvery
	}},
	"follow": {"true or false", func(r *LineRow, v any) (ok bool) { r.Follow, ok = v.(bool); return ok }},
	"width": {"a number of letters from 1 to " + strconv.Itoa(maxWidth), func(r *LineRow, v any) bool {
		n, ok := v.(int64)
		r.Width = int(n)
		return ok && n >= 1 && n <= maxWidth
	}},
	"side": {`"left" or "right"`, func(r *LineRow, v any) bool { r.Left = v == "left"; return r.Left || v == "right" }},
	"click": {`a command in quotes, such as "strays" or "go 3"`, func(r *LineRow, v any) (ok bool) {
		if r.Click, ok = v.(string); !ok {
			return false
		}
		_, err := lang.ParseCommand(r.Click)
		return err == nil || prompt.IsScreen(r.Click)
	}},
}

// lineKey follows a key of a row of the line.
func (r *reading) lineKey(e entry) {
	i, err := strconv.Atoi(e.path[1])
	if err != nil || len(e.path) > 3 {
		r.fault(e, errors.New("rows of the line are written as tables: [[line]] and then command = and the rest"))
		return
	}
	for len(r.line) <= i {
		r.line = append(r.line, LineRow{})
	}
	if len(e.path) == 2 { // its head
		return
	}
	key := e.path[2]
	switch k, known := lineKeys[key]; {
	case !known:
		r.fault(e, fmt.Errorf("there is no %q in a row of the line; zatlas config lists what there is", key))
	case !k.take(&r.line[i], e.value):
		r.fault(e, fmt.Errorf("%s of a row of the line must be %s", key, k.wants))
	}
}

// lineRows are the rows without those at fault, or with those in their places from before.
func (r *reading) lineRows() (good []LineRow) {
	for i, row := range r.line {
		if r.badLine[i] {
			row = LineRow{}
			if r.was != nil && i < len(r.was.Line) {
				row = r.was.Line[i]
			}
		}
		if row.Command != "" {
			good = append(good, row)
		}
	}
	return good
}

// LineAt is where the keeper's line is, or the one beside another manager: "bottom", "top" or
// "none"; on which monitors; and how many pixels its letters are high, 0 for what suits the
// monitor.
func (s Settings) LineAt(alongside bool) (edge, on string, size int) {
	edge = s.values["keeper.line"]
	if alongside {
		edge = s.values["alongside.line"]
	}
	return edge, s.values["keeper.line_on"], number(s.values["keeper.line_size"])
}

// Clock is the forms of the time and of the date on the line; empty for none.
func (s Settings) Clock() (clock, date string) {
	return s.values["keeper.clock"], s.values["keeper.date"]
}

// isLineOn faults what names no monitors.
func isLineOn(text string) error {
	if text == "all" || text == "primary" {
		return nil
	}
	for _, letter := range strings.Fields(text) {
		if len(letter) != 1 || letter[0] < 'A' || int(letter[0]-'A') >= desk.MaxMonitors {
			return fmt.Errorf(`%q is no monitor: "all", "primary", or letters such as "A C"`, letter)
		}
	}
	return notEmpty(text)
}

// isClock faults what is no form of a time.
func isClock(text string) error {
	if len(text) > desk.MaxName || desk.CleanText(text, desk.MaxName) != text {
		return errors.New("that is too long for a form of the time")
	}
	return nil
}
