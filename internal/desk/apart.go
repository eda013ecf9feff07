package desk

import (
	"fmt"
	"maps"
	"slices"
)

// A desk keeps in mind which windows are more than what the list of their sheet says:
// dialogs, sticky, minimised, maximised and fullscreen ones. They are few, and to look for them among
// thousands of others would take longer than all else that a command does.

// isApart tells whether the window belongs to those.
func (w *Window) isApart() bool { return w.Parent != 0 || w.Sticky || w.Minimised || w.full() }

// apartOf lists the ids of the windows that are apart.
func apartOf(ws []*Window) []int {
	var ids []int
	for _, w := range ws {
		if w.isApart() {
			ids = append(ids, w.ID)
		}
	}
	return ids
}

// manyOwn is from how many changed windows on all are looked at for those apart.
const manyOwn = 64

// mayBeApart lists windows among which are all that are apart, also of those that this
// edit has changed; by id.
func (e *edit) mayBeApart() []*Window {
	if len(e.ownWindows) > manyOwn {
		return e.Windows
	}
	ids := slices.Concat(e.apart, slices.Collect(maps.Keys(e.ownWindows)))
	slices.Sort(ids)
	return e.found(slices.Compact(ids))
}

// found are the windows of a list of ids that are there.
func (d *Desk) found(ids []int) []*Window {
	ws := make([]*Window, 0, len(ids))
	for _, id := range ids {
		if w := d.Window(id); w != nil {
			ws = append(ws, w)
		}
	}
	return ws
}

// sortOut takes in which windows are apart after the edit.
func (e *edit) sortOut() {
	if len(e.ownWindows) > 0 || e.removed {
		e.apart = apartOf(e.mayBeApart())
	}
}

func (d *Desk) checkApart() error {
	if want := apartOf(d.Windows); !slices.Equal(d.apart, want) {
		return fmt.Errorf("the windows %v are apart, and %v were", want, d.apart)
	}
	return nil
}
