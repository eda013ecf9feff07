package desk

import (
	"errors"
	"fmt"
	"slices"
)

// stick has windows show on whatever their monitor shows, or on their own
// workspace again. A sticky window floats.
func (e *edit) stick(c Command) (string, error) {
	ids := e.chosen
	e.seats(ids...)
	// Several that differ all stick first.
	on := e.wanted(c, ids, func(w *Window) bool { return w.Sticky })
	others := slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return e.Window(id).Sticky == on })
	where, ending := agree(ids, "is on its own workspace", "are on their own workspaces"), " again"
	if on {
		where, ending = agree(ids, "shows", "show")+" on every workspace", ""
	}
	if len(others) == 0 {
		return fmt.Sprintf("%s %s already.", e.the(ids), where), nil
	}
	e.layAnew(others, func(w *Window) {
		if w.Sticky = on; on && !w.Floating {
			e.floatBack(w)
		}
	})
	return fmt.Sprintf("%s %s%s.", e.the(ids), where, ending), nil
}

// stacked lists the chosen windows that have a place in the stacking order of
// their sheet: those that float.
func (e *edit) stacked(verb string) ([]int, error) {
	var ids []int
	for _, id := range e.chosen {
		if w := e.Window(id); !w.Minimised && !e.Tiled(w) {
			ids = append(ids, id)
		}
	}
	if len(ids) == 0 {
		return nil, fmt.Errorf("%s %s not float: only floating windows are stacked, and %s has nothing to do", e.the(e.chosen), agree(e.chosen, "does", "do"), verb)
	}
	return ids, nil
}

func (e *edit) raiseVerb(Command) (string, error) {
	ids, err := e.stacked("raise")
	if err != nil {
		return "", err
	}
	e.toFront(ids)
	for _, id := range ids {
		w, focused := e.Window(id), e.Window(e.Focus)
		if focused != nil && e.Visible(w) && !w.NoFocus && w.Rect.Contains(focused.Rect) {
			e.setFocus(id) // else what is typed would go to a window that it hides
		}
	}
	return fmt.Sprintf("Raised %s.", e.the(ids)), nil
}

func (e *edit) lower(Command) (string, error) {
	ids, err := e.stacked("lower")
	if err != nil {
		return "", err
	}
	for _, id := range slices.Backward(ids) {
		w := e.Window(id)
		s := e.sheet(e.Index(w.Workspace), w.Monitor)
		s.Floating = append([]int{id}, without(s.Floating, id)...)
		e.Clock++
		e.window(id).Front = -e.Clock
	}
	return fmt.Sprintf("Lowered %s.", e.the(ids)), nil
}

// above keeps floating windows over all others of their sheet, or no longer; below
// under them.
func (e *edit) above(c Command) (string, error) {
	return e.keepStacked(c, func(w *Window) (this, other *bool) { return &w.Above, &w.Below })
}

func (e *edit) below(c Command) (string, error) {
	return e.keepStacked(c, func(w *Window) (this, other *bool) { return &w.Below, &w.Above })
}

func (e *edit) keepStacked(c Command, flags func(w *Window) (this, other *bool)) (string, error) {
	on := c.Args[0].Word == "on"
	ids, err := e.stacked(c.Verb)
	if err != nil {
		return "", err
	}
	for _, id := range ids {
		if this, _ := flags(e.Window(id)); *this == on {
			continue
		}
		this, other := flags(e.window(id))
		*this = on
		if on {
			*other = false
		}
	}
	if on {
		return fmt.Sprintf("%s %s %s the others.", e.the(ids), agree(ids, "stays", "stay"), c.Verb), nil
	}
	return fmt.Sprintf("%s %s stacked among the others.", e.the(ids), agree(ids, "is", "are")), nil
}

func (e *edit) kill(Command) (string, error) {
	return fmt.Sprintf("Ended the program of %s.", e.the(e.chosen)), nil
}

// bare puts every window out of sight, and back exactly as it was.
func (e *edit) bare(c Command) (string, error) {
	on := !e.Bare
	if len(c.Args) > 0 {
		on = c.Args[0].Word == "on"
	}
	switch {
	case !on && !e.Bare:
		return "The desk is not bare.", nil
	case !on:
		e.unbare()
		return "Everything is back.", nil
	case e.Bare && !slices.ContainsFunc(e.Windows, e.Visible):
		return "The desk is bare already.", nil
	}
	e.makeBare()
	return "The desk is bare. The same again brings everything back.", nil
}

// makeBare puts every window out of sight.
func (e *edit) makeBare() {
	e.Bare, e.BareClock, e.BareFocus, e.Focus = true, e.Clock, e.Focus, 0
}

// unbare shows the windows again.
func (e *edit) unbare() {
	if !e.Bare {
		return
	}
	e.Bare, e.BareClock = false, 0
	if w := e.Window(e.BareFocus); w != nil && e.Visible(w) && e.Focus == 0 {
		e.Focus, e.At = w.ID, w.Monitor
	}
	e.BareFocus = 0
}

// focusUrgent goes to the urgent window that has waited longest: the one with
// the lowest id.
func (e *edit) focusUrgent() (string, error) {
	for _, w := range e.Windows {
		if w.Urgent {
			return e.focusWindow(w.ID)
		}
	}
	return "", errors.New("no window is urgent")
}

// focusApp goes to the next or the previous window of the focused window's app,
// in the order of the desk, around its end.
func (e *edit) focusApp(word string) (string, error) {
	w := e.Window(e.Focus)
	if w == nil {
		return "", errors.New("no window has the focus, and so no app")
	}
	var ids []int
	for _, o := range e.InOrder() {
		if o.App == w.App {
			ids = append(ids, o.ID)
		}
	}
	if len(ids) < 2 {
		return "", fmt.Errorf("%s has no other window", w.App)
	}
	step := 1
	if word == "prev" {
		step = len(ids) - 1
	}
	return e.focusWindow(ids[(slices.Index(ids, w.ID)+step)%len(ids)])
}

// InOrder lists every window as the desk has them: by workspace, by monitor, in
// the order of the sheet, minimised ones last.
func (d *Desk) InOrder() []*Window {
	ws := make([]*Window, 0, len(d.Windows))
	for i := range d.Workspaces {
		for _, m := range d.Monitors {
			if m.Connected {
				ws = append(append(ws, d.Order(i, m.Letter)...), d.Minimised(i, m.Letter)...)
			}
		}
	}
	return ws
}

// Latest lists the windows that have had the focus, the latest first, and then
// the others by id.
func (d *Desk) Latest() []*Window {
	ws := slices.Clone(d.Windows)
	slices.SortStableFunc(ws, func(a, b *Window) int { return b.Used - a.Used })
	return ws
}
