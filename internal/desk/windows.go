package desk

import (
	"errors"
	"fmt"
	"slices"
)

// the names several windows: by label for one, by number for more.
func (d *Desk) the(ids []int) string {
	if len(ids) == 1 {
		return d.Window(ids[0]).Label()
	}
	return windowsWord(len(ids))
}

// other names a window beside another in a message, or several.
func (d *Desk) other(ids []int) string {
	if len(ids) == 1 {
		return d.Window(ids[0]).Name()
	}
	return windowsWord(len(ids))
}

// agree is the word for one window or for several.
func agree(ids []int, one, several string) string {
	if len(ids) == 1 {
		return one
	}
	return several
}

// float has windows float over the tiles, or be tiles again.
func (e *edit) float(c Command) (string, error) {
	ids := e.chosen
	// Several that differ all float first.
	float := e.wanted(c, ids, (*Window).floats)
	for _, id := range ids {
		switch w := e.Window(id); {
		case w.MustFloat() && !float:
			return "", fmt.Errorf("%s always floats: %s", w.Label(), whyFloats(w))
		case w.Minimised:
			return "", fmt.Errorf("%s is minimised. Restore it first", w.Label())
		}
	}
	others := slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return e.Window(id).floats() == float })
	if len(others) == 0 && float {
		return fmt.Sprintf("%s %s already.", e.the(ids), agree(ids, "floats", "float")), nil
	}
	e.seats(others...)
	e.layAnew(others, func(w *Window) {
		if w.Floating, w.Away = float, nil; float {
			e.floatBack(w)
		}
	})
	free := slices.IndexFunc(ids, func(id int) bool { return !e.Tiled(e.Window(id)) })
	switch {
	case float:
		return fmt.Sprintf("%s %s.", e.the(ids), agree(ids, "floats", "float")), nil
	case free >= 0:
		return fmt.Sprintf("%s %s tiled once %s is not free.", e.the(ids), agree(ids, "is", "are"), e.Ref(e.Window(ids[free]))), nil
	case len(others) == 0:
		return fmt.Sprintf("%s %s tiled already.", e.the(ids), agree(ids, "is", "are")), nil
	}
	return fmt.Sprintf("Tiled %s again.", e.the(ids)), nil
}

func whyFloats(w *Window) string {
	switch {
	case w.Fixed:
		return "it has one size"
	case w.Sticky:
		return "it is sticky"
	}
	return "it is a " + max(w.Kind, Dialog).String()
}

func (e *edit) minimise(Command) (string, error) {
	ids := e.chosen
	e.seats(ids...)
	done := slices.DeleteFunc(e.withDialogs(ids), func(id int) bool { return e.Window(id).Minimised })
	e.liftAll(done)
	for _, id := range done {
		w := e.window(id)
		w.Minimised = true
		e.Clock++
		w.Front = e.Clock
	}
	if slices.Contains(done, e.Focus) {
		e.refocus(e.Window(e.Focus).Monitor)
	}
	if len(done) == 0 {
		return fmt.Sprintf("%s %s minimised already.", e.the(ids), agree(ids, "is", "are")), nil
	}
	return fmt.Sprintf("Minimised %s.", e.the(done)), nil
}

// minimisedLast is the window that was minimised last, of those that are; 0 for none.
func (d *Desk) minimisedLast() int {
	best := (*Window)(nil)
	for _, w := range d.found(d.apart) {
		if p := d.Window(w.Parent); !w.Minimised || p != nil && p.Minimised {
			continue // a dialog comes back with its window
		}
		if best == nil || w.recency() > best.recency() {
			best = w
		}
	}
	if best == nil {
		return 0
	}
	return best.ID
}

func (e *edit) restore(c Command) (string, error) {
	ids := e.chosen
	done := e.restoreAll(e.withDialogs(ids))
	switch {
	case len(done) == 0 && c.Of == nil:
		return "", errors.New("no window is minimised")
	case len(done) == 0:
		return fmt.Sprintf("%s %s not minimised.", e.the(ids), agree(ids, "is", "are")), nil
	}
	if w := e.Window(done[len(done)-1]); e.Visible(w) {
		e.setFocus(w.ID)
	}
	return fmt.Sprintf("Restored %s.", e.the(done)), nil
}

// withDialogs are windows with their dialogs, which go out of sight with them and come
// back with them.
func (e *edit) withDialogs(ids []int) []int {
	all, dialogs := slices.Clone(ids), e.families()
	for i := 0; i < len(all); i++ {
		for _, id := range dialogs[all[i]] {
			if !slices.Contains(all, id) {
				all = append(all, id)
			}
		}
	}
	return all
}

// restoreAll brings those of the windows back that are minimised, and lists them.
func (e *edit) restoreAll(ids []int) (done []int) {
	leaves := map[sheetKey]int{}
	for _, id := range ids {
		w := e.window(id)
		if !w.Minimised {
			continue
		}
		e.addLeaf(leaves, e.Index(w.Workspace), w.Monitor)
		w.Minimised = false
		done = append(done, id)
	}
	e.layAll(done, leaves)
	return done
}

func (e *edit) close(Command) (string, error) {
	return fmt.Sprintf("Asked %s to close.", e.the(e.chosen)), nil
}
