package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// the names several windows: by label for one, by number for more.
func (d *Desk) the(ids []int) string {
	if len(ids) == 1 {
		return d.Window(ids[0]).Label()
	}
	return windowsWord(len(ids))
}

// rescue brings windows whole into a work area, by the least movement or on
// the monitor named. Several do not end on top of each other.
func (e *edit) rescue(c Command) (string, error) {
	ids := e.chosen
	to := place{workspace: -1}
	if len(c.Args) > 1 {
		var err error
		if to, err = e.resolve(c.Args[1], e.Current()); err != nil {
			return "", err
		}
	}
	var done []int
	var placed []geom.Rect
	for _, id := range ids {
		w := e.Window(id)
		if e.Tiled(w) || w.Minimised || w.full() {
			continue
		}
		rect, letter := stray.Rescue(w.Lost(), e.strays)
		if to.letter != 0 {
			letter = to.letter
			rect = stray.Into(w.Lost(), e.Monitor(letter).Work)
		}
		i := e.Index(w.Workspace)
		if to.workspace >= 0 {
			i = to.workspace
		}
		if !e.Has(i, letter) { // in separate mode a window is where its workspace is
			letter = e.fitting(i, letter)
			rect = stray.Into(w.Lost(), e.Monitor(letter).Work)
		}
		if rect != w.Rect && len(ids) > 1 {
			rect = stray.Aside(rect, e.Monitor(letter).Work, placed)
		}
		placed = append(placed, rect)
		if rect == w.Rect && letter == w.Monitor && e.Workspaces[i].ID == w.Workspace {
			continue
		}
		w = e.window(id)
		e.lift(w)
		w.Rect, w.Monitor, w.Workspace, w.Away, w.Loose = rect, letter, e.Workspaces[i].ID, nil, geom.Rect{}
		e.lay(w, 0)
		done = append(done, id)
	}
	if len(done) == 0 {
		return fmt.Sprintf("%s is within reach already.", e.the(ids)), nil
	}
	if len(done) == 1 {
		return fmt.Sprintf("Brought %s back to %s.", e.the(done), e.Ref(e.Window(done[0]))), nil
	}
	return fmt.Sprintf("Brought %s back within reach.", e.the(done)), nil
}

func (e *edit) float(Command) (string, error) {
	ids := e.chosen
	for _, id := range ids {
		switch w := e.Window(id); {
		case w.MustFloat():
			return "", fmt.Errorf("%s always floats: %s", w.Label(), whyFloats(w))
		case w.Minimised:
			return "", fmt.Errorf("%s is minimised. Restore it first", w.Label())
		}
	}
	e.seats(ids...)
	// Several that differ all float first.
	float := slices.ContainsFunc(ids, func(id int) bool { return !e.Window(id).Floating })
	for _, id := range ids {
		if e.Window(id).Floating == float {
			continue
		}
		at := e.leafFor(e.Index(e.Window(id).Workspace), e.Window(id).Monitor)
		w := e.window(id)
		e.lift(w)
		w.Floating, w.Away = float, nil
		if float && !w.Place.Empty() {
			w.Rect = w.Place
			w.Rect = e.relocated(w, w.Monitor)
		}
		e.lay(w, at)
	}
	if float {
		return fmt.Sprintf("%s floats.", e.the(ids)), nil
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
	var done []int
	for _, id := range ids {
		if w := e.window(id); !w.Minimised {
			e.lift(w)
			w.Minimised = true
			done = append(done, id)
			if e.Focus == id {
				e.refocus(w.Monitor)
			}
		}
	}
	if len(done) == 0 {
		return "", fmt.Errorf("%s is minimised already", e.the(ids))
	}
	return fmt.Sprintf("Minimised %s.", e.the(done)), nil
}

func (e *edit) restore(Command) (string, error) {
	ids := e.chosen
	var done []int
	for _, id := range ids {
		if e.restoreOne(id) {
			done = append(done, id)
		}
	}
	if len(done) == 0 {
		return "", fmt.Errorf("%s is not minimised", e.the(ids))
	}
	if w := e.Window(done[len(done)-1]); e.Visible(w) {
		e.setFocus(w.ID)
	}
	return fmt.Sprintf("Restored %s.", e.the(done)), nil
}

func (e *edit) restoreOne(id int) bool {
	w := e.window(id)
	if !w.Minimised {
		return false
	}
	at := e.leafFor(e.Index(w.Workspace), w.Monitor)
	w.Minimised = false
	e.lay(w, at)
	return true
}

func (e *edit) close(Command) (string, error) {
	return fmt.Sprintf("Asked %s to close.", e.the(e.chosen)), nil
}
