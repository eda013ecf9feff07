// Package survey is what the work was like: spans of focus and tallies, summed up
// by hour and day, said in words, and what could be ordered better. It is pure: the
// time, the spans and the desk are given to it.
package survey

import (
	"cmp"
	"slices"
	"strconv"
	"time"

	"zatlas/internal/desk"
)

// Span is a while in which an app had the focus. It has no titles.
type Span struct {
	Start     time.Time // a whole second
	Seconds   int       // at least 0
	Number    int       // of the workspace then, from 1
	Workspace string    // its name then; empty where it had none
	Monitor   byte      // 'A' to 'Z'
	App       string
}

// End is the moment after the span.
func (s Span) End() time.Time { return s.Start.Add(time.Duration(s.Seconds) * time.Second) }

// Label is what the span's workspace is called in charts: its name, else its number.
func (s Span) Label() string { return cmp.Or(s.Workspace, strconv.Itoa(s.Number)) }

// Label is what the current workspace of a desk is called in charts.
func Label(d *desk.Desk) string {
	i := d.Current()
	return cmp.Or(d.Workspaces[i].Name, strconv.Itoa(i+1))
}

// pause is how long nothing may have the focus between two spans that follow each
// other, at most.
const pause = 60 * time.Second

// follows tells whether a span is used in turn with the one before it.
func follows(before, s Span) bool { return s.Start.Sub(before.End()) < pause }

// Kind is what a tally counts.
type Kind string

// The kinds of tallies. The names of those that have two parts are made by Pair.
const (
	Switched Kind = "switch"  // between two workspaces, by their labels
	Open     Kind = "open"    // windows at the most, in an hour "00" to "23"
	Fullest  Kind = "fullest" // windows of the fullest sheet at the most, in an hour
	Found    Kind = "found"   // windows that got out of reach
	Rescued  Kind = "rescued" // windows that a command brought back
	Done     Kind = "done"    // commands, by verb and source
	Form     Kind = "form"    // commands by keys of the display or of the screens, as FormOf has them
)

// Most tells whether a kind keeps the most there was, and not a sum.
func (k Kind) Most() bool { return k == Open || k == Fullest }

// Tally is one number of one day.
type Tally struct {
	Day  string // 2026-11-27, where the user was
	Kind Kind
	Name string // which of its kind
	N    int
}

// Pair is the name of a tally of two parts.
func Pair(a, b string) string { return a + "\t" + b }

// DayOf is the day of a moment, where that is.
func DayOf(t time.Time) string { return t.Format(time.DateOnly) }

// Data is what is kept of a while.
type Data struct {
	Spans   []Span // by their start
	Tallies []Tally
}

// Sort puts the spans in order.
func (d *Data) Sort() {
	slices.SortStableFunc(d.Spans, func(a, b Span) int { return a.Start.Compare(b.Start) })
}

// Within is the part of it from one moment to another; spans that reach over an end
// are cut.
func (d Data) Within(from, to time.Time) Data {
	var in Data
	for _, s := range d.Spans {
		if s.End().Before(from) || !s.Start.Before(to) {
			continue
		}
		if s.Start.Before(from) {
			s.Seconds -= int(from.Sub(s.Start) / time.Second)
			s.Start = from
		}
		if over := s.End().Sub(to); over > 0 {
			s.Seconds -= int(over / time.Second)
		}
		in.Spans = append(in.Spans, s)
	}
	first, last := DayOf(from), DayOf(to.Add(-1))
	for _, t := range d.Tallies {
		if t.Day >= first && t.Day <= last {
			in.Tallies = append(in.Tallies, t)
		}
	}
	return in
}

// turn is two spans used one right after the other.
type turn struct{ from, to Span }

// turns are the spans that follow each other.
func turns(spans []Span) (all []turn) {
	for i := 1; i < len(spans); i++ {
		if follows(spans[i-1], spans[i]) {
			all = append(all, turn{spans[i-1], spans[i]})
		}
	}
	return all
}
