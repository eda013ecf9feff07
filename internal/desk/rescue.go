package desk

import (
	"fmt"

	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

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
	type home struct {
		rect   geom.Rect
		letter byte
		id     int // of its workspace
	}
	homes := map[int]home{}
	for _, id := range ids {
		w := e.Window(id)
		if e.Settings.Alongside && (w.Minimised || w.full()) && e.Lost(w).Cause != stray.None {
			w = e.setRight(id)
		}
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
		homes[id] = home{rect, letter, e.Workspaces[i].ID}
		done = append(done, id)
	}
	e.layAnew(done, func(w *Window) {
		to := homes[w.ID]
		w.Rect, w.Monitor, w.Workspace, w.Away, w.Loose = to.rect, to.letter, to.id, nil, geom.Rect{}
	})
	if len(done) == 0 {
		return fmt.Sprintf("%s %s within reach already.", e.the(ids), agree(ids, "is", "are")), nil
	}
	if len(done) == 1 {
		return fmt.Sprintf("Brought %s back to %s.", e.the(done), e.Ref(e.Window(done[0]))), nil
	}
	return fmt.Sprintf("Brought %s back within reach.", e.the(done)), nil
}
