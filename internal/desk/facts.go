package desk

import (
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// A Fact is something a host saw happen. It cannot fail: the desk follows it.
type Fact interface {
	// apply changes the desk and says in words what happened, or nothing
	// where it is not worth a word.
	apply(e *edit) string
}

// Opened is a window that came. Where it goes: beside its parent for a dialog,
// else to Workspace (an id) and Monitor (a connected letter) where given, else
// to the current sheet.
type Opened struct {
	Window Window
	// Focus asks that it takes the focus if its sheet is shown; else it is
	// marked urgent, but for one that is Quiet: it wants no focus.
	Focus, Quiet bool
	// Keep leaves a floating window where it is, even out of reach: one that
	// was there before.
	Keep bool
	// StartupID and Ancestors, the ids of the processes above the window's own,
	// tell what it was started as.
	StartupID string
	Ancestors []int
	// Anew tells that it is no window of another time, whatever it looks like.
	Anew bool
}

// Closed is a window that went. Quiet: it turned out to be none of the desk's.
type Closed struct {
	ID    int
	Quiet bool
}

// Changed is a window whose facts (names, hints, states by its own wish)
// changed. Change may write those, and nothing about its place.
type Changed struct {
	ID     int
	Change func(w *Window)
}

// Hangs tells whether the program of a window answers: it does not where On.
type Hangs struct {
	ID int
	On bool
}

// Moved is a floating window that was moved, by hand or by its own program.
type Moved struct {
	ID   int
	Rect geom.Rect
}

// Activated is a window that got the focus by hand, a click for instance.
type Activated struct{ ID int }

// Stacked is a floating window that its own program, or another one, put over another
// of its sheet, by its id, or under it; over or under all of them for 0.
type Stacked struct {
	ID, Beside int
	Under      bool
}

// MonitorsAre is a new set of monitors, all that are connected now. They are
// known again by Key; Letter is ignored.
type MonitorsAre struct{ Monitors []Monitor }

// WorkAreas are the work areas of connected monitors, by letter.
type WorkAreas struct{ Work map[byte]geom.Rect }

// With is the desk after the facts, and what is to be said about them.
func (d *Desk) With(facts ...Fact) (*Desk, []string) {
	if d.awaited == nil || len(facts) < 2 {
		return d.with(facts)
	}
	// Each window that is taken for one of another time is a step of its own.
	var words []string
	for i := range facts {
		next, said := d.with(facts[i : i+1])
		d, words = next, append(words, said...)
	}
	return d, words
}

func (d *Desk) with(facts []Fact) (*Desk, []string) {
	e := d.edit()
	e.seen = d.Settings.Alongside
	var words []string
	for _, f := range facts {
		if s := f.apply(e); s != "" {
			words = append(words, s)
		}
	}
	next := e.finish()
	for _, f := range facts {
		if drag, ok := f.(Dragged); ok {
			drag.step(d, next)
		}
	}
	if opened, ok := facts[0].(Opened); ok && e.unseen {
		opened.step(d, next, words[0])
	}
	return next, words
}

// step makes a step of undo where a window opened out of sight, at the place of one of another
// time. Undone, it lies where it would have opened otherwise.
func (f Opened) step(d, next *Desk, words string) {
	f.Anew = true
	here, _ := d.with([]Fact{f})
	d.opened(next, here, words)
}

func (f Opened) apply(e *edit) string {
	w := f.Window
	i, dup := e.find(w.ID)
	if dup {
		return ""
	}
	e.seating = nil
	rule, was, a := f.whereTo(e, &w)
	if w.Fullscreen && !f.Keep && !e.seen && was == nil && e.seating == nil {
		w.Floating = true // else the tiles behind it would make room for one that needs none
	}
	at := e.leafFor(e.Index(w.Workspace), w.Monitor)
	e.Windows = slices.Insert(e.Windows, i, &w)
	e.ownWindows[w.ID] = true
	asked := w.Rect
	e.bringIn(&w, f.Keep || rule.Stray)
	if w.Floated.Empty() && (!w.floats() || w.full()) {
		// Where it goes when it comes to float with a place of its own.
		own := w
		e.bringIn(&own, false)
		w.Floated = own.Rect
	}
	var said []string
	if rule.Fault != "" {
		said = append(said, fmt.Sprintf("%s %s opened here.", rule.Fault, w.Label()))
	}
	if w.Rect != asked && !asked.Empty() && w.floats() && stray.Look(stray.Window{Rect: asked, Bar: w.Bar}, e.strays).Cause != stray.None {
		said = append(said, fmt.Sprintf("%s opened out of reach and was brought to %c.", w.Label(), w.Monitor))
	}
	e.layBy(&w, rule.Layout)
	if e.seating != nil {
		e.seat(&w)
	}
	e.lay(&w, at)
	if was != nil {
		e.takePlace(&w, was, a)
	}
	e.placeInOrder(&w, rule.Position)
	if was != nil && !w.Minimised && !e.Visible(&w) && !e.Bare {
		e.unseen = true
		said = append(said, fmt.Sprintf("%s opened on %s, where it was before. undo brings it here.", w.Label(), e.Desk.Title(e.Index(w.Workspace))))
	}
	if w.NoFocus || w.Minimised {
		return strings.Join(said, " ")
	}
	if f.Focus {
		e.unbare()
	}
	if f.Focus && !rule.NoFocus && e.Visible(&w) {
		// The layout gives the window its place before anybody looks at it.
		e.setFocus(w.ID)
	} else if !f.Keep && !f.Quiet && was == nil {
		e.window(w.ID).Urgent = true
	}
	return strings.Join(said, " ")
}

// whereTo chooses the sheet of a window that opens. It is its parent's, or the one it was
// started for, or the one it had at another time, which is given as was. Else it is that of a
// rule, or the current one.
func (f Opened) whereTo(e *edit, w *Window) (rule Ruling, was *Window, a *awaited) {
	if p := e.Window(w.Parent); p == nil || p.ID == w.ID {
		w.Parent = 0
	} else {
		w.Workspace, w.Monitor = p.Workspace, p.Monitor
	}
	if e.seen { // where it is, is another program's to say
		if e.Index(w.Workspace) < 0 {
			w.Workspace = e.Workspaces[e.Current()].ID
		}
		w.Monitor, w.Used = stray.Home(w.Rect, e.strays).Letter, min(w.Used, e.Clock)
		return rule, nil, nil
	}
	placed := w.Parent != 0 // a dialog goes with its parent
	if x, ok := e.meet(f); ok && w.Parent == 0 && e.Index(x.Workspace) >= 0 {
		w.Workspace, w.Monitor, placed = x.Workspace, x.Monitor, x.Asked
		if x.For != nil && e.Now <= x.For.until {
			e.seating = x.For
			x.For.claim(w)
		}
	}
	if e.Index(w.Workspace) < 0 && !f.Keep && !f.Anew {
		if was, a = e.expected(w); was != nil {
			w.Workspace, w.Monitor, w.Floating, w.Floated = was.Workspace, was.Monitor, was.Floating, was.Floated
			w.Rect = geom.R(was.Rect.X, was.Rect.Y, w.Rect.W, w.Rect.H)
			if !w.Fixed {
				w.Rect = was.Rect
			}
		}
	}
	if e.Index(w.Workspace) < 0 {
		w.Workspace = e.Workspaces[e.Current()].ID
	}
	if !e.Connected(w.Monitor) {
		w.Monitor = e.At
	}
	if !f.Keep && was == nil {
		rule = e.obey(w, placed)
	}
	w.Monitor = e.fitting(e.Index(w.Workspace), w.Monitor)
	w.Used, w.Front = min(w.Used, e.Clock), min(w.Front, e.Clock)
	return rule, was, a
}

// bringIn gives a new floating window a place within reach on its monitor.
func (e *edit) bringIn(w *Window, keep bool) {
	work := e.Monitor(w.Monitor).Work
	if w.Rect.Empty() {
		w.Rect = defaultPlace(w, work)
	}
	if keep {
		return
	}
	lost := w.Lost()
	f := stray.Look(lost, e.strays)
	if f.On != 0 && f.On != w.Monitor {
		w.Rect = relocate(lost, e.Monitor(f.On).Work, work)
	} else if f.On == 0 || f.Cause != stray.None && f.Cause != stray.Tiny {
		w.Rect = stray.Into(lost, work)
	}
	// A dialog that named no place comes over the middle of its parent.
	if p := e.Window(w.Parent); p != nil && f.On == 0 {
		w.Rect.X, w.Rect.Y = p.Rect.Center().X-w.Rect.W/2, p.Rect.Center().Y-w.Rect.H/2
		w.Rect = stray.Into(w.Lost(), work)
	} else if p != nil && w.Rect.W <= work.W && w.Rect.H <= work.H && !work.Contains(w.Rect) {
		w.Rect = stray.Into(w.Lost(), work) // on one monitor, not across two
	}
}

func (f Closed) apply(e *edit) string {
	w := e.Window(f.ID)
	if w == nil {
		return ""
	}
	label := w.Label()
	e.lift(w)
	at, _ := e.find(f.ID)
	e.Windows, e.removed = slices.Delete(e.Windows, at, at+1), true
	for _, child := range e.mayBeApart() {
		if child.Parent == f.ID {
			e.window(child.ID).Parent = w.Parent
			e.retile(child.ID)
		}
	}
	for i := range e.Workspaces {
		e.forget(i, f.ID)
	}
	if e.Focus == f.ID && e.seen {
		e.Focus = 0
	} else if e.Focus == f.ID {
		e.refocus(w.Monitor)
	}
	if f.Quiet {
		return ""
	}
	return label + " closed."
}

// forget takes a window out of the sheets remembered for unplugged monitors.
func (e *edit) forget(i, id int) {
	for l, s := range e.Workspaces[i].away {
		if s == nil || !slices.Contains(s.Tiles.Windows(), id) && !slices.Contains(s.Floating, id) {
			continue
		}
		c := *s
		c.Floating = without(s.Floating, id)
		c.setTiles(layout.Remove(s.Tiles, func(x int) bool { return x == id }))
		e.workspace(i).away[l] = &c
	}
}

func (f Changed) apply(e *edit) string {
	w := e.window(f.ID)
	if w == nil {
		return ""
	}
	f.Change(w)
	if w.Parent != 0 && (e.Window(w.Parent) == nil || e.Ancestor(f.ID, f.ID)) {
		w.Parent = 0
	}
	e.retile(f.ID)
	return ""
}

// retile moves a window between the tiled and the floating ones of its sheet
// where what it is has changed.
func (e *edit) retile(id int) {
	w := e.window(id)
	s := e.Sheet(e.Index(w.Workspace), w.Monitor)
	if s == nil || w.Minimised {
		return
	}
	if slices.Contains(s.Tiles.Windows(), id) != w.floats() {
		return
	}
	at := e.leafFor(e.Index(w.Workspace), w.Monitor)
	e.lift(w)
	if w.floats() {
		e.floatBack(w)
		if w.Fixed && !w.full() {
			w.Rect.W, w.Rect.H = w.MinW, w.MinH
		}
	}
	e.lay(w, at)
}

func (f Hangs) apply(e *edit) string {
	w := e.window(f.ID)
	if w == nil || w.Hung == f.On {
		return ""
	}
	if w.Hung = f.On; f.On {
		return fmt.Sprintf("%s does not answer. kill of #%d ends its program.", w.Label(), w.ID)
	}
	return w.Label() + " answers again."
}

func (f Moved) apply(e *edit) string {
	w := e.window(f.ID)
	if w == nil || e.Tiled(w) || w.full() {
		return ""
	}
	was := stray.Look(w.Lost(), e.strays).Cause
	w.Rect, w.Floated, w.Away, w.Loose, w.Wide, w.Tall = f.Rect, f.Rect, nil, geom.Rect{}, false, false
	if now := stray.Look(w.Lost(), e.strays).Cause; was == stray.None && now != stray.None && now != stray.Tiny {
		return fmt.Sprintf("%s moved itself out of reach. rescue brings it back.", w.Label())
	}
	// A window dragged on to another monitor belongs there.
	on := stray.Look(w.Lost(), e.strays).On
	if on == 0 || on == w.Monitor {
		return ""
	}
	i := e.shownOn(on)
	if i < 0 {
		return "" // a monitor that shows no workspace takes no windows
	}
	if !e.Settings.Separate {
		i = e.Index(w.Workspace)
	}
	e.lift(w)
	w.Monitor, w.Workspace = on, e.Workspaces[i].ID
	e.lay(w, e.leafFor(i, on))
	return ""
}

func (f Activated) apply(e *edit) string {
	if w := e.Window(f.ID); w != nil && e.Visible(w) {
		e.setFocus(f.ID)
	}
	return ""
}

func (f Stacked) apply(e *edit) string {
	w := e.Window(f.ID)
	if w == nil || w.Minimised || e.Tiled(w) {
		return ""
	}
	i := e.Index(w.Workspace)
	s := e.sheet(i, w.Monitor)
	rest := without(s.Floating, f.ID)
	at := len(rest)
	if f.Under {
		at = 0
	}
	if n := slices.Index(rest, f.Beside); n >= 0 {
		at = n
		if !f.Under {
			at++
		}
	}
	s.Floating = slices.Insert(slices.Clone(rest), at, f.ID)
	e.Clock++
	if w = e.window(f.ID); f.Under {
		w.Front = -e.Clock
	} else {
		w.Front = e.Clock
	}
	return ""
}

func (f WorkAreas) apply(e *edit) string {
	ms := slices.Clone(e.Monitors)
	defer func() { e.setMonitors(ms) }()
	for i := range ms {
		m := &ms[i]
		work := f.Work[m.Letter].Intersect(m.Rect)
		if !m.Connected || work.Empty() || work == m.Work {
			continue
		}
		m.Work = work
		e.touchAll(m.Letter)
	}
	return ""
}

// touchAll marks every sheet of a monitor to be laid out again.
func (e *edit) touchAll(letter byte) {
	for i := range e.Workspaces {
		if e.Has(i, letter) {
			e.sheet(i, letter)
		}
	}
}
