package desk

import (
	"errors"
	"slices"
	"strings"
	"unicode"

	"zatlas/internal/stray"
)

// Query chooses windows.
type Query interface {
	match(d *Desk, w *Window) bool
}

// The queries: a part each of what can be asked of a window.
type (
	All   struct{}
	ByID  struct{ ID int }
	ByApp struct { // a part of the app's name, case-blind, or the whole
		Text  string
		Whole bool
	}
	ByTitle struct {
		Text  string
		Whole bool
	}
	On struct { // the workspace with that number, or of that name if Name is not empty
		Number int
		Name   string
	}
	At    struct{ Letter byte }
	Is    struct{ State State }
	Fuzzy struct{ Text string } // its letters in order, in app or title
	// Idle is a window that has not had the focus for longer than that, or for
	// less where Less is set.
	Idle struct {
		Seconds int64
		Less    bool
	}
	Not struct{ Q Query }
	And struct{ Qs []Query }
	Or  struct{ Qs []Query }
)

// State is what is: asks for.
type State uint8

// The states that is: asks for.
const (
	IsStray State = iota
	IsMinimised
	IsFloating
	IsTiled
	IsMaximised
	IsFullscreen
	IsUrgent
	IsSticky
	IsFocused
	IsHere // on the workspace you are on, or on every one
)

var stateNames = [...]string{"stray", "minimised", "floating", "tiled", "maximised", "fullscreen", "urgent", "sticky", "focused", "here"}

// String is the state's word.
func (s State) String() string { return stateNames[s] }

// StateNames lists the words after is:.
func StateNames() []string { return stateNames[:] }

// ParseState finds a state by its word. Strays are lost in the words of the screens.
func ParseState(word string) (State, bool) {
	if word == "lost" {
		return IsStray, true
	}
	i := slices.Index(stateNames[:], word)
	return State(max(i, 0)), i >= 0
}

func (All) match(*Desk, *Window) bool        { return true }
func (q ByID) match(_ *Desk, w *Window) bool { return w.ID == q.ID }
func (q ByApp) match(_ *Desk, w *Window) bool {
	return matchText(w.App, q.Text, q.Whole) || w.Class != "" && matchText(w.Class, q.Text, q.Whole)
}
func (q ByTitle) match(_ *Desk, w *Window) bool {
	return matchText(w.Title, q.Text, q.Whole)
}
func (q On) match(d *Desk, w *Window) bool {
	i := q.Number - 1
	if q.Name != "" {
		i = d.named(q.Name)
	}
	return i >= 0 && i < len(d.Workspaces) && d.Workspaces[i].ID == w.Workspace
}
func (q At) match(_ *Desk, w *Window) bool { return w.Monitor == q.Letter }
func (q Is) match(d *Desk, w *Window) bool {
	switch q.State {
	case IsStray:
		return d.Lost(w).Cause != stray.None
	case IsMinimised:
		return w.Minimised
	case IsFloating:
		return !w.Minimised && !d.Tiled(w)
	case IsTiled:
		return d.Tiled(w)
	case IsMaximised:
		return w.Maximised
	case IsFullscreen:
		return w.Fullscreen
	case IsUrgent:
		return w.Urgent
	case IsSticky:
		return w.Sticky
	case IsHere:
		return w.Sticky || d.Workspaces[d.Current()].ID == w.Workspace
	}
	return w.ID == d.Focus
}
func (q Idle) match(d *Desk, w *Window) bool {
	s, ok := d.Idle(w)
	return ok && (s > q.Seconds && !q.Less || s < q.Seconds && q.Less)
}
func (q Fuzzy) match(_ *Desk, w *Window) bool {
	return inOrder(w.App, q.Text) || inOrder(w.Title, q.Text)
}
func (q Not) match(d *Desk, w *Window) bool { return !q.Q.match(d, w) }
func (q And) match(d *Desk, w *Window) bool {
	for _, p := range q.Qs {
		if !p.match(d, w) {
			return false
		}
	}
	return true
}
func (q Or) match(d *Desk, w *Window) bool {
	for _, p := range q.Qs {
		if p.match(d, w) {
			return true
		}
	}
	return false
}

func matchText(s, part string, whole bool) bool {
	s, part = strings.ToLower(s), strings.ToLower(part)
	if whole {
		return s == part
	}
	return strings.Contains(s, part)
}

// inOrder tells whether the letters of part stand in s in that order.
func inOrder(s, part string) bool {
	rest := []rune(part)
	for _, r := range s {
		if len(rest) == 0 {
			break
		}
		if unicode.ToLower(r) == unicode.ToLower(rest[0]) {
			rest = rest[1:]
		}
	}
	return len(rest) == 0
}

// Lost is what the rules for strays say of the window. Minimised windows are
// never lost: they show nowhere by their owner's wish.
func (d *Desk) Lost(w *Window) stray.Finding {
	f := stray.Look(w.Lost(), d.Strays())
	if d.Settings.Alongside && f.Cause == stray.Off && !w.LastSeen {
		return f // whatever its state: nobody brings it back but its manager
	}
	if w.Minimised || d.Tiled(w) || w.full() {
		f.Cause = stray.None
	}
	return f
}

// ByIDs is the query for some windows; nil for none.
func ByIDs(ids []int) Query {
	var qs []Query
	for _, id := range ids {
		qs = append(qs, ByID{ID: id})
	}
	switch len(qs) {
	case 0:
		return nil
	case 1:
		return qs[0]
	}
	return Or{Qs: qs}
}

// Matches tells whether a query chooses a window.
func (d *Desk) Matches(q Query, w *Window) bool { return q.match(d, w) }

// Select lists the windows a query matches, by id.
func (d *Desk) Select(q Query) []*Window {
	if one, ok := q.(ByID); ok {
		return d.found([]int{one.ID})
	}
	var ws []*Window
	for _, w := range d.Windows {
		if q.match(d, w) {
			ws = append(ws, w)
		}
	}
	return ws
}

// errNoMatch is said of a query that chose nothing.
var errNoMatch = errors.New("no window matches")
