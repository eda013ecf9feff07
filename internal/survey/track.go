package survey

import (
	"cmp"
	"time"

	"zatlas/internal/desk"
)

// Focus is where the focus is; App is empty where nothing has it.
type Focus struct {
	Number    int
	Workspace string
	Monitor   byte
	App       string
}

// nameless stands for an app without a name; a title is never kept.
const nameless = "without a name"

// FocusOf is where the focus of a desk is.
func FocusOf(d *desk.Desk) Focus {
	w := d.Window(d.Focus)
	if w == nil {
		return Focus{}
	}
	i := d.Index(w.Workspace)
	return Focus{i + 1, d.Workspaces[i].Name, w.Monitor, cmp.Or(w.App, nameless)}
}

// Tracker makes spans of what it is told, in the order in which it happened. What
// took less than a second, as a workspace passed on the way to another, is none.
// The zero value has been told nothing.
type Tracker struct {
	// Away is how long without a key or the pointer moved the user counts as gone.
	// It is told something more often than that while the user is there.
	Away time.Duration

	focus Focus
	away  bool
	open  bool // a span is
	since time.Time
	seen  time.Time // when it was told something last
}

// Focus tells where the focus is from now on, and gives the span that ends by it.
func (t *Tracker) Focus(at time.Time, f Focus) (ended []Span) {
	at, ended = t.gap(at)
	if f != t.focus {
		ended = append(ended, t.end(at)...)
		t.focus = f
	}
	t.begin(at)
	return ended
}

// Input tells when the last key or motion was, and gives the span that ended with
// it where the user has been away since.
func (t *Tracker) Input(at, last time.Time) (ended []Span) {
	at, ended = t.gap(at)
	away := at.Sub(last) >= t.Away
	switch {
	case away && !t.away:
		ended = append(ended, t.end(last)...)
		t.away = true
	case !away && t.away:
		t.away = false
		t.begin(last)
	}
	t.begin(at)
	return ended
}

// Stop ends what is open.
func (t *Tracker) Stop(at time.Time) (ended []Span) {
	at, ended = t.gap(at)
	ended = append(ended, t.end(at)...)
	t.focus = Focus{}
	return ended
}

// IsAway tells whether the user is away by what it was told last.
func (t *Tracker) IsAway() bool { return t.away }

// Now is the span that is open, as it is so far; ok is false where none is.
func (t *Tracker) Now(at time.Time) (s Span, ok bool) {
	s = t.span(at)
	return s, t.open && s.Seconds > 0
}

// late is by how much what is told may be older than what was told before.
const late = 2 * time.Second

// gap ends what is open where nothing was told for too long, as while the computer
// sleeps, or the clock was set back. It gives the time from which it goes on.
func (t *Tracker) gap(at time.Time) (now time.Time, ended []Span) {
	if back := t.seen.Sub(at); back > 0 && back <= late {
		at = t.seen
	}
	if t.open && (at.Before(t.seen) || at.Sub(t.seen) > t.Away) {
		ended = t.end(t.seen)
	}
	t.seen = at
	return at, ended
}

func (t *Tracker) begin(at time.Time) {
	if !t.open && !t.away && t.focus.App != "" {
		t.open, t.since = true, at
	}
}

func (t *Tracker) end(at time.Time) []Span {
	s := t.span(at)
	was := t.open
	t.open = false
	if !was || s.Seconds <= 0 {
		return nil
	}
	return []Span{s}
}

func (t *Tracker) span(at time.Time) Span {
	f := t.focus
	return Span{t.since.Truncate(time.Second), int(at.Unix() - t.since.Unix()), f.Number, f.Workspace, f.Monitor, f.App}
}
