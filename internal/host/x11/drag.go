package x11

import (
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// The buttons that, with Super held, move a window by any point of it, and
// resize it from its nearest corner.
const (
	moveButton   = 1
	resizeButton = 3
)

// catchEdge is within how many pixels edges catch.
const catchEdge = 12

const dragEvents = xproto.EventMaskButtonPress | xproto.EventMaskButtonRelease | xproto.EventMaskButtonMotion

// drag is a window held by the pointer.
type drag struct {
	id     int // 0 for none
	from   geom.Point
	rect   geom.Rect // where it was
	moves  [4]bool   // the edges that follow the pointer: left, right, top, bottom; none for all
	to     geom.Point
	moved  bool // since the last fact
	button xproto.Button
}

// grabButtons takes the buttons with Super, in every state of the locks.
func (h *Host) grabButtons(k *keyboard) {
	for _, lock := range k.locks {
		for _, b := range []byte{moveButton, resizeButton} {
			xproto.GrabButton(h.conn, false, h.root, dragEvents, xproto.GrabModeAsync, xproto.GrabModeAsync,
				xproto.WindowNone, xproto.CursorNone, b, k.super|lock)
		}
	}
}

// startDrag takes hold of the window under the pointer.
func (h *Host) startDrag(e xproto.ButtonPressEvent) {
	c := h.byXID[e.Child]
	if c == nil || h.desk == nil {
		return
	}
	w := h.desk.Window(c.id)
	if w == nil || w.Fullscreen || e.Detail == resizeButton && w.Fixed {
		return
	}
	p := geom.Point{X: int(e.RootX), Y: int(e.RootY)}
	h.drag = drag{id: c.id, from: p, to: p, rect: w.Rect, button: e.Detail}
	if e.Detail == resizeButton {
		middle := w.Rect.Center()
		h.drag.moves = [4]bool{p.X < middle.X, p.X >= middle.X, p.Y < middle.Y, p.Y >= middle.Y}
	}
	h.emit(desk.Activated{ID: c.id})
}

// dragTo follows the pointer; endDrag tells where it ends.
func (h *Host) dragTo(x, y int16) {
	if p := (geom.Point{X: int(x), Y: int(y)}); h.drag.id != 0 && p != h.drag.to {
		h.drag.to, h.drag.moved = p, true
	}
}

// endDrag lets go of the window. One that was only clicked stays.
func (h *Host) endDrag(e xproto.ButtonReleaseEvent) {
	if h.drag.id == 0 || e.Detail != h.drag.button {
		return
	}
	h.dragTo(e.RootX, e.RootY)
	if h.drag.to != h.drag.from {
		h.tellDrag(true)
	}
	h.drag = drag{}
}

// tellDrag gives the core the place of the window that is held: with its edges
// caught by those near them, and its handle within reach.
func (h *Host) tellDrag(done bool) {
	d := &h.drag
	w := h.desk.Window(d.id)
	if w == nil || !d.moved && !done {
		return
	}
	d.moved = false
	dx, dy := d.to.X-d.from.X, d.to.Y-d.from.Y
	r := d.rect
	if d.moves == [4]bool{} {
		r.X, r.Y = r.X+dx, r.Y+dy
	} else {
		r = pulled(w, r, d.moves, dx, dy)
	}
	r = h.desk.Reach(w, h.desk.Snapped(d.id, r, catchEdge, d.moves))
	h.emit(desk.Dragged{ID: d.id, Rect: r, Done: done})
}

// smallest is the least side of a window that is resized by the pointer and
// names no minimum, in pixels.
const smallest = 48

// pulled is a rectangle with some of its edges moved, not below the minimum.
func pulled(w *desk.Window, r geom.Rect, moves [4]bool, dx, dy int) geom.Rect {
	least := func(min int) int { return max(min, smallest) }
	if moves[0] {
		dx = min(dx, r.W-least(w.MinW))
		r.X, r.W = r.X+dx, r.W-dx
	} else {
		r.W = max(r.W+dx, least(w.MinW))
	}
	if moves[2] {
		dy = min(dy, r.H-least(w.MinH))
		r.Y, r.H = r.Y+dy, r.H-dy
	} else {
		r.H = max(r.H+dy, least(w.MinH))
	}
	return r
}
