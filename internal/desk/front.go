package desk

import (
	"cmp"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// What has the focus is seen. Each sheet has a front: the window that had the focus last,
// or became maximised or fullscreen last. A maximised or fullscreen window covers its sheet
// while it is the front, or a dialog of it, or a floating window over it. While another
// tile is, it lies in its place and keeps its state.

// recency is the desk's count when the window last came to the front of its sheet.
func (w *Window) recency() int { return max(w.Used, w.Front) }

// Covers tells whether a maximised or fullscreen window covers its sheet now.
func (d *Desk) Covers(w *Window) bool {
	if !w.full() || d.Settings.Alongside {
		return w.full()
	}
	i := d.Index(w.Workspace)
	if at := d.shownOn(w.Monitor); w.Sticky && at >= 0 {
		i = at
	}
	id, _ := d.cover(i, w.Monitor)
	return id == w.ID
}

// Waits tells whether a window is maximised or fullscreen and lies in its place until it is
// the front of its sheet.
func (d *Desk) Waits(w *Window) bool { return w.full() && !d.Covers(w) }

// own is the place of a window, where it lies when it does not cover its sheet.
func (d *Desk) own(w *Window) geom.Rect {
	switch {
	case !d.Covers(w):
		return w.Rect
	case !d.Tiled(w):
		return w.floatRect()
	}
	r, s := w.Rect, d.Sheet(d.Index(w.Workspace), w.Monitor)
	layout.Place(s.Tiles, d.RoomOf(s, w.Monitor), d.spacing(s, w.Monitor), func(id int, place geom.Rect) {
		if id == w.ID {
			r = place
		}
	})
	return r
}

// cover is the window that covers the sheet of the workspace at index i, 0 for none, and when
// it came to the front. It is the last one to do so of the tiles and of the maximised and
// fullscreen windows. A dialog counts as its window; other floating windows do not count.
func (d *Desk) cover(i int, letter byte) (id, recency int) {
	if i < 0 || d.Settings.Alongside || d.Sheet(i, letter) == nil {
		return 0, 0
	}
	on := func(w *Window) bool {
		return !w.Minimised && w.Monitor == letter && (w.Workspace == d.Workspaces[i].ID || w.Sticky)
	}
	apart := d.found(d.apart)
	if !slices.ContainsFunc(apart, func(w *Window) bool { return w.full() && on(w) }) {
		return 0, 0
	}
	s := d.Sheet(i, letter)
	var best *Window
	try := func(w *Window, n int) {
		full := best != nil && cmpBool(w.full(), best.full()) >= 0
		if best == nil || n > recency || n == recency && full {
			best, recency = w, n
		}
	}
	if s.Layout != layout.Free {
		for _, id := range s.Tiles.Windows() {
			w := d.Window(id)
			try(w, w.recency())
		}
	}
	for _, w := range apart {
		if !on(w) {
			continue
		}
		if w.full() {
			try(w, w.recency())
		}
		if p := d.fullParent(w); p != nil && on(p) {
			try(p, w.recency())
		}
	}
	if best == nil || !best.full() {
		return 0, 0
	}
	return best.ID, recency
}

// fullParent is the maximised or fullscreen window that a window is a dialog of; nil for
// none.
func (d *Desk) fullParent(w *Window) *Window {
	for range 32 {
		if w = d.Window(w.Parent); w == nil || w.full() {
			return w
		}
	}
	return nil
}

// toFront brings windows to the front of their sheets, the focused one last.
func (e *edit) toFront(ids []int) {
	if slices.Contains(ids, e.Focus) {
		ids = append(without(ids, e.Focus), e.Focus)
	}
	for _, id := range ids {
		w := e.window(id)
		if !w.NoFocus {
			e.Clock++
			w.Front = e.Clock
			e.raise(w)
		}
	}
}

// focusFront gives the focus to the window that covers the focused one, where it came to the
// front since.
func (e *edit) focusFront() {
	if id := e.overFocus(); id != 0 {
		e.setFocus(id)
	}
}

// frontFocus makes the focused window the front of its sheet where it is not.
func (e *edit) frontFocus() {
	if e.overFocus() != 0 {
		e.Clock++
		e.window(e.Focus).Used = e.Clock
	}
}

// overFocus is the window that covers the focused one, 0 for none.
func (e *edit) overFocus() int {
	w := e.Window(e.Focus)
	if w == nil {
		return 0
	}
	id, recency := e.cover(e.shownOn(w.Monitor), w.Monitor)
	if id == w.ID || recency <= w.recency() {
		return 0
	}
	return id
}

// sinks sorts the tiles of a sheet and its floating windows, the lowest first. A floating window
// that hides a tile wholly lies under it once the tile has come to the front.
func (d *Desk) sinks(tiles, floating []*Window) (order, over []*Window) {
	mixed := map[int]bool{}
	for _, f := range floating {
		if f.Parent != 0 || f.full() {
			continue
		}
		for _, t := range tiles {
			if f.Rect.Contains(t.Rect) && f.recency() < t.recency() {
				mixed[f.ID], mixed[t.ID] = true, true
			}
		}
	}
	if len(mixed) == 0 {
		return tiles, floating
	}
	var among []*Window
	part := func(ws []*Window) (rest []*Window) {
		for _, w := range ws {
			if mixed[w.ID] {
				among = append(among, w)
			} else {
				rest = append(rest, w)
			}
		}
		return rest
	}
	order, over = part(tiles), part(floating)
	slices.SortStableFunc(among, func(a, b *Window) int { return cmp.Compare(a.recency(), b.recency()) })
	return append(order, among...), over
}

// mayHide tells whether a window may hide the focused one. Its dialogs may. So may a window
// that floats by its owner's wish, if it is kept above, was raised since, or if the focused
// one was lowered.
func (d *Desk) mayHide(p *Placed, w *Window) bool {
	switch o := d.Window(p.ID); {
	case d.Ancestor(w.ID, p.ID):
		return true
	case p.Tiled || p.Covers:
		return false
	case o.recency() > w.recency():
		return true
	case d.Tiled(w):
		return false
	default:
		return o.Above || w.Below || w.Front < 0 && -w.Front >= w.Used
	}
}

// uncover puts windows right under the focused one that hide it, those that hide most of it
// first, until it is seen.
func (d *Desk) uncover(ws []*Placed) {
	w := d.Window(d.Focus)
	if w == nil || d.Settings.Alongside {
		return
	}
	for range ws {
		at := slices.IndexFunc(ws, func(p *Placed) bool { return p.ID == d.Focus })
		if at < 0 || !d.hides(w, ws[at+1:]) {
			return
		}
		worst, most := 0, int64(0)
		for _, p := range ws[at+1:] {
			if n := p.Rect.Intersect(w.Rect).Area(); p.Shown && n > most && !d.mayHide(p, w) {
				worst, most = p.ID, n
			}
		}
		var above, sunk []*Placed
		for _, p := range ws[at+1:] {
			if p.ID == worst || (d.Ancestor(worst, p.ID) || d.Ancestor(p.ID, worst)) && !d.Ancestor(w.ID, p.ID) {
				sunk = append(sunk, p)
			} else {
				above = append(above, p)
			}
		}
		focused := ws[at]
		copy(ws[at:], slices.Concat(sunk, []*Placed{focused}, above))
	}
}

// hides tells whether windows that lie over another one hide it: more than half of it, or
// all of it where floating ones do that to a tile. Those that may do not count.
func (d *Desk) hides(w *Window, over []*Placed) bool {
	var all, tiles []geom.Rect
	for _, p := range over {
		if !p.Shown || !p.Rect.Overlaps(w.Rect) || d.mayHide(p, w) {
			continue
		}
		all = append(all, p.Rect)
		if p.Tiled || p.Covers {
			tiles = append(tiles, p.Rect)
		}
	}
	area := w.Rect.Area()
	if d.Tiled(w) {
		return 2*geom.Covered(w.Rect, tiles) > area || len(all) > 0 && geom.Covered(w.Rect, all) >= area
	}
	return 2*geom.Covered(w.Rect, all) > area
}

// FullOn tells whether a fullscreen window covers a monitor.
func (d *Desk) FullOn(letter byte) bool {
	return slices.ContainsFunc(d.Windows, func(w *Window) bool {
		return w.Fullscreen && w.Monitor == letter && d.Visible(w) && d.Covers(w)
	})
}
