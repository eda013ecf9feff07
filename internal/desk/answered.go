package desk

import (
	"fmt"
	"reflect"
	"slices"

	"zatlas/internal/geom"
)

// Wish is a command that another program was asked for, of a desk, and the desk that it
// would lead to.
type Wish struct {
	Command  Command
	From, To *Desk
}

// placing is where a window is and how, as far as it can be asked for or is ours to say.
type placing struct {
	workspace int // index
	sticky    bool
	monitor   byte
	rect      geom.Rect
	state     Standing
	pin       byte
}

func (d *Desk) placing(w *Window) placing {
	s := StandingOf(w)
	s.Urgent, s.LastSeen = false, false
	return placing{d.Index(w.Workspace), w.Sticky, w.Monitor, w.Rect, s, w.Pin}
}

// Touched lists the windows that would be elsewhere, or otherwise, by the wish.
func (x Wish) Touched() (ids []int) {
	changed, _ := windowsSince(x.To.Windows, x.From.Windows)
	if x.Reorders() { // a window that stays the same is on another number
		changed = x.To.Windows
	}
	for _, w := range changed {
		if was := x.From.Window(w.ID); was == nil || x.From.placing(was) != x.To.placing(w) {
			ids = append(ids, w.ID)
		}
	}
	return ids
}

// restacked lists the windows of Restacks.
func (x Wish) restacked() (ids []int) {
	for _, m := range x.Restacks() {
		ids = append(ids, m.ID)
	}
	return ids
}

// Restack is a window and the one that is to be right above it; 0 for none.
type Restack struct{ ID, Under int }

// stackingVerbs are the commands by which the stacking order is asked for: by any other it
// is the manager's.
var stackingVerbs = []string{"raise", "lower", "undo", "redo"}

// Restacks are the windows that the wish would raise or lower, the highest first. They are as
// few as the stacking order of their sheets allows. There are none if the wish is not about
// that.
func (x Wish) Restacks() (moves []Restack) {
	if !slices.Contains(stackingVerbs, x.Command.Verb) || x.Reorders() {
		return nil
	}
	for i := range x.To.Workspaces {
		for _, m := range x.To.Monitors {
			for layer := range stackLayers {
				moves = append(moves, restacks(x.From.stackOf(i, m.Letter, layer), x.To.stackOf(i, m.Letter, layer))...)
			}
		}
	}
	return moves
}

// restacks are the fewest windows that have to be moved from one order to another, of those
// that are in both.
func restacks(from, to []int) (moves []Restack) {
	to = slices.DeleteFunc(to, func(id int) bool { return !slices.Contains(from, id) })
	stays := Staying(from, to)
	for at, id := range slices.Backward(to) {
		if stays[at] {
			continue
		}
		r := Restack{ID: id}
		if at+1 < len(to) {
			r.Under = to[at+1]
		}
		moves = append(moves, r)
	}
	return moves
}

// stackLayers is how many layers managers keep windows in, whatever the order: those below,
// the others, those above, fullscreen ones.
const stackLayers = 4

func (w *Window) stackLayer() int {
	switch {
	case w.Fullscreen:
		return 3
	case w.Above:
		return 2
	case w.Below:
		return 0
	}
	return 1
}

// stackOf is the stacking order of a layer of a sheet, the lowest first.
func (d *Desk) stackOf(i int, letter byte, layer int) (ids []int) {
	if i >= len(d.Workspaces) || d.Sheet(i, letter) == nil {
		return nil
	}
	for _, id := range d.Sheet(i, letter).Floating {
		if d.Window(id).stackLayer() == layer {
			ids = append(ids, id)
		}
	}
	return ids
}

// stackedOtherwise tells whether one of some windows has another window right above it on
// another desk.
func (d *Desk) stackedOtherwise(o *Desk, ids []int) bool {
	return slices.ContainsFunc(ids, func(id int) bool { return d.aboveOf(id) != o.aboveOf(id) })
}

// aboveOf is the window right above another one on its sheet; 0 where none is.
func (d *Desk) aboveOf(id int) int {
	w := d.Window(id)
	if w == nil {
		return 0
	}
	order := d.stackOf(d.Index(w.Workspace), w.Monitor, w.stackLayer())
	if at := slices.Index(order, id); at >= 0 && at+1 < len(order) {
		return order[at+1]
	}
	return 0
}

// Reorders tells whether it would change which workspaces there are, their order or names.
func (x Wish) Reorders() bool {
	return !slices.EqualFunc(x.From.Workspaces, x.To.Workspaces, func(a, b *Workspace) bool { return a.ID == b.ID && a.Name == b.Name })
}

// Looks tells whether it would change what is shown or has the focus.
func (x Wish) Looks() bool { return x.From.view() != x.To.view() || x.From.Bare != x.To.Bare }

// Answered is the desk as it is seen after a wish was carried out as far as it was. It adds
// what is ours alone, and a step of undo with what was seen done. Refused are the windows for
// which it was not done; none tells that nothing was done at all. Words are those of the step.
// Joins is the number of the step of an earlier answer to the same wish, 0 for none.
func (d *Desk) Answered(x Wish, words string, refused []int, none bool, joins int) *Desk {
	e := d.edit()
	e.seen = true
	touched := x.Touched()
	for _, id := range touched {
		e.takeOurs(id, x)
	}
	for _, id := range refused {
		if w := e.window(id); w != nil && !slices.Contains(w.Refused, x.Command.Verb) {
			w.Refused = append(slices.Clip(w.Refused), x.Command.Verb)
		}
	}
	e.takeWorkspaces(x)
	if lacks := e.Settings.Lacks; !reflect.DeepEqual(x.From.Settings, x.To.Settings) {
		e.Settings = x.To.Settings
		e.Settings.Lacks = lacks
	}
	e.expecting, e.awaited, e.Plates, e.book = x.To.expecting, x.To.awaited, x.To.Plates, x.To.book
	next := e.finish()
	restacked := x.restacked()
	switch {
	case none:
	case VerbOf(x.Command.Verb).Travels:
		next.past, next.future, next.steps = x.To.past.under(d.past, x.From.past), x.To.future, max(d.steps, x.To.steps)
	case x.To.past != x.From.past && (x.To.past.mark || x.From.otherwise(next, touched) || x.From.stackedOtherwise(next, restacked) || len(x.To.PlatesSince(x.From)) > 0):
		touched = union(touched, restacked)
		next.past, next.future = d.pushed(x.before(next, touched), x.Command, next, words, x.To.past.subject, joins), nil
		next.past.mark = x.To.past.mark
		if d.past != nil && next.past.number == d.past.number { // it joined the step before
			touched = union(d.past.touched, touched)
		}
		next.past.touched = touched
	}
	return next
}

// before is the desk that the wish is about. Letters given to windows while it was asked are in
// it, so that the step takes back only what the wish did itself.
func (x Wish) before(next *Desk, ids []int) *Desk {
	e := x.From.edit()
	for _, id := range ids {
		if w, to := e.Window(id), next.Window(id); w != nil && to != nil && w.Pin != to.Pin && x.To.Window(id).Pin == w.Pin {
			e.window(id).Pin = to.Pin
		}
	}
	return e.Desk
}

// under is the history with those steps on top of it that another one has over a base: they
// came while this one was asked for.
func (s *step) under(top, base *step) *step {
	if top == nil || top == base {
		return s
	}
	c := *top
	return s.under(top.older, base).push(&c)
}

func union(a, b []int) []int {
	all := slices.Concat(a, b)
	slices.Sort(all)
	return slices.Compact(all)
}

// takeOurs gives a window what no other program knows of it, as a wish has it.
func (e *edit) takeOurs(id int, x Wish) {
	w, was, wished := e.window(id), x.From.Window(id), x.To.Window(id)
	if w == nil || was == nil {
		return
	}
	if wished.Pin != was.Pin {
		w.Pin = wished.Pin
	}
	if e.placing(w) == x.To.placing(wished) {
		w.Loose, w.Floated, w.Away = wished.Loose, wished.Floated, wished.Away
	}
}

// takeWorkspaces gives the workspaces what no other program knows of them.
func (e *edit) takeWorkspaces(x Wish) {
	if len(e.Workspaces) != len(x.To.Workspaces) || !x.Reorders() && !x.repins() {
		return
	}
	for i, ws := range x.To.Workspaces {
		if e.Workspaces[i].Pin != ws.Pin {
			e.workspace(i).Pin = ws.Pin
		}
	}
	var recent []int
	for _, id := range x.To.Recent {
		if i := x.To.Index(id); i >= 0 {
			recent = append(recent, e.Workspaces[i].ID)
		}
	}
	if i := e.shownOn(e.At); i >= 0 { // what is shown is the most recent, whatever was wished
		recent = slices.Insert(without(recent, e.Workspaces[i].ID), 0, e.Workspaces[i].ID)
	}
	e.Recent = recent
}

func (x Wish) repins() bool {
	return slices.ContainsFunc(x.To.Workspaces, func(ws *Workspace) bool {
		i := x.From.Index(ws.ID)
		return i >= 0 && x.From.Workspaces[i].Pin != ws.Pin
	})
}

// otherwise tells whether windows, or the workspaces, are not as they are on another desk.
func (d *Desk) otherwise(o *Desk, ids []int) bool {
	if !slices.EqualFunc(d.Workspaces, o.Workspaces, func(a, b *Workspace) bool { return a.Name == b.Name && a.Pin == b.Pin }) {
		return true
	}
	return slices.ContainsFunc(ids, func(id int) bool {
		a, b := d.Window(id), o.Window(id)
		return a != nil && b != nil && d.placing(a) != o.placing(b)
	})
}

// askedBack is the desk with what a step did taken back, as far as it is still there. What
// others did since stays: a step holds the windows that it touched, and no others.
func (d *Desk) askedBack(s *step) (*Desk, string) {
	e := d.edit()
	if names := namesOf(s.desk); !reflect.DeepEqual(names, namesOf(s.after)) {
		WorkspacesAre{names}.apply(e)
		for i, ws := range s.desk.Workspaces {
			e.workspace(i).Pin = ws.Pin
		}
	}
	closed := 0
	for _, id := range s.touched {
		was, then := s.desk.Window(id), s.after.Window(id)
		switch {
		case was == nil || then == nil:
		case e.Window(id) == nil:
			closed++
		case s.desk.placing(was) != s.after.placing(then):
			e.putBack(id, was, s.desk)
		}
	}
	e.stackBack(s)
	if d.view() == s.view {
		if i := s.desk.shownOn(s.desk.At); i >= 0 && i < len(e.Workspaces) && e.shownOn(e.At) != i {
			e.show(i)
		}
		if w := e.Window(s.desk.Focus); w != nil && e.Visible(w) {
			e.Focus, e.At = w.ID, w.Monitor
		}
	}
	note := ""
	if closed > 0 {
		note = fmt.Sprintf(" %s closed since.", windowsWord(closed))
	}
	return e.finish(), note
}

// stackBack puts windows of a step under the ones that were right above them, where the
// step moved them in the stacking order.
func (e *edit) stackBack(s *step) {
	for _, id := range s.touched {
		w, above := e.Window(id), s.desk.aboveOf(id)
		if w == nil || w.Minimised || s.desk.Window(id) == nil || s.after.Window(id) == nil || above == s.after.aboveOf(id) {
			continue
		}
		sheet := e.sheet(e.Index(w.Workspace), w.Monitor)
		rest := without(sheet.Floating, id)
		at := slices.Index(rest, above)
		if above == 0 || at < 0 {
			at = len(rest)
		}
		if above == 0 || slices.Contains(rest, above) {
			sheet.Floating = slices.Insert(rest, at, id)
		}
	}
}

func namesOf(d *Desk) []string {
	names := make([]string, len(d.Workspaces))
	for i, ws := range d.Workspaces {
		names[i] = ws.Name
	}
	return names
}

// putBack gives a window the place that it had on an older desk.
func (e *edit) putBack(id int, was *Window, old *Desk) {
	w := e.window(id)
	workspace, monitor := e.Workspaces[min(old.Index(was.Workspace), len(e.Workspaces)-1)].ID, was.Monitor
	if !e.Connected(monitor) {
		monitor = e.first().Letter
	}
	moves := w.Workspace != workspace || w.Monitor != monitor || w.Minimised != was.Minimised
	if moves {
		e.lift(w)
	}
	w.Workspace, w.Monitor, w.Sticky = workspace, monitor, was.Sticky
	w.Rect, w.Floated, w.Loose, w.Away, w.Pin = was.Rect, was.Floated, was.Loose, was.Away, was.Pin
	w.Minimised, w.Maximised, w.Wide, w.Tall, w.Fullscreen = was.Minimised, was.Maximised, was.Wide, was.Tall, was.Fullscreen
	w.Above, w.Below = was.Above, was.Below
	e.sheet(e.Index(w.Workspace), w.Monitor)
	if moves {
		rect, floated := w.Rect, w.Floated
		e.lay(w, 0)
		w.Rect, w.Floated = rect, floated
	}
}
