package x11

import (
	"slices"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
)

// The buttons that, with the atlas key held, move a window by any point of it, and
// resize it from its nearest corner.
const (
	moveButton   = 1
	resizeButton = 3
)

// catchEdge is within how many pixels edges catch.
const catchEdge = 12

// dragSlack is how far the pointer goes before a press on a heading is a drag.
const dragSlack = 8

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
	drops  bool // a tile, which stays until it is let go
	slack  int  // pixels it must go first
	hand   int64
	held   bool // the pointer is grabbed by us, and not by a press
	keys   bool // it follows keys
	any    bool // any button that is let go ends it
	begun  bool // the core was told of it
	told   time.Time
}

// dragEvery is how long after one step of a drag the next one is, at least: programs
// that draw themselves anew at every size need time for it.
const dragEvery = 8 * time.Millisecond

// buttons are those taken with the atlas key.
type buttons struct {
	atlas uint16   // its modifiers; 0 where the keyboard has not all
	locks []uint16 // the states of the locks that make no difference
}

// grabButtons takes the buttons with the atlas key, in every state of the locks, in the place
// of those taken before.
func (h *Host) grabButtons() {
	now := buttons{locks: h.board.Locks}
	if mods, has := h.board.Of(h.opt.AtlasKey); has {
		now.atlas = mods
	}
	if now.atlas == h.buttons.atlas && slices.Equal(now.locks, h.buttons.locks) {
		return
	}
	if now.atlas == 0 {
		h.log.Warn("this keyboard has no such modifier, and the atlas key does not work: keeper.atlas_key names another")
	}
	for _, b := range []byte{moveButton, resizeButton} {
		for _, lock := range h.buttons.locks {
			if h.buttons.atlas != 0 {
				xproto.UngrabButton(h.conn, b, h.root, h.buttons.atlas|lock)
			}
		}
		for _, lock := range now.locks {
			if now.atlas != 0 { // else every press would be ours
				xproto.GrabButton(h.conn, false, h.root, dragEvents, xproto.GrabModeAsync, xproto.GrabModeAsync,
					xproto.WindowNone, xproto.CursorNone, b, now.atlas|lock)
			}
		}
	}
	h.buttons = now
}

// rootPress follows a button on the root: with the atlas key, it takes hold of the window
// under the pointer; without, of the edge two tiles share, in the gap between
// them.
func (h *Host) rootPress(e xproto.ButtonPressEvent) {
	if h.desk == nil {
		return
	}
	p := geom.Point{X: int(e.RootX), Y: int(e.RootY)}
	if a := h.buttons.atlas; a != 0 && e.State&a == a {
		if c := h.byXID[e.Child]; c != nil {
			h.startDrag(c, e.Detail, p)
		}
		return
	}
	if e.Child != 0 || e.Detail != moveButton {
		return
	}
	if id, edges, ok := h.desk.EdgeAt(p); ok {
		h.drag = drag{id: id, from: p, to: p, rect: h.desk.Window(id).Rect, button: e.Detail, moves: edges, hand: time.Now().UnixNano()}
	}
}

// startDrag takes hold of a window.
func (h *Host) startDrag(c *client, button xproto.Button, p geom.Point) {
	w := h.desk.Window(c.id)
	if w == nil || w.Fullscreen || button == resizeButton && (w.Fixed || w.Maximised) {
		return
	}
	h.drag = drag{id: c.id, from: p, to: p, rect: w.Rect, button: button, hand: time.Now().UnixNano()}
	switch {
	case button == resizeButton:
		middle := w.Rect.Center()
		h.drag.moves = [4]bool{p.X < middle.X, p.X >= middle.X, p.Y < middle.Y, p.Y >= middle.Y}
	case h.desk.Tiled(w):
		h.drag.drops = true
	case !w.Loose.Empty(): // snapped: its old size, with the pointer at the same part of it
		r := w.Loose
		r.X = p.X - (p.X-w.Rect.X)*r.W/max(w.Rect.W, 1)
		r.Y = p.Y - min(p.Y-w.Rect.Y, r.H-1)
		h.drag.rect = r
	}
	h.emit(desk.Activated{ID: c.id})
}

// dragTo follows the pointer; endDrag tells where it ends.
func (h *Host) dragTo(x, y int16) {
	if p := (geom.Point{X: int(x), Y: int(y)}); h.drag.id != 0 && p != h.drag.to {
		h.drag.to, h.drag.moved = p, true
	}
}

// far tells whether the pointer has gone far enough to mean it.
func (d *drag) far() bool {
	dx, dy := d.to.X-d.from.X, d.to.Y-d.from.Y
	return max(dx, -dx, dy, -dy) > d.slack
}

// endDrag lets go of the window. One that was only clicked stays.
func (h *Host) endDrag(e xproto.ButtonReleaseEvent) {
	if h.drag.id == 0 || e.Detail != h.drag.button && !h.drag.any {
		return
	}
	h.dragTo(e.RootX, e.RootY)
	if h.drag.far() {
		h.tellDrag(true)
	}
	h.dropDrag()
}

// tellDrag gives the core the place of the window that is held: with its edges
// caught by those near them, and its handle within reach. Where letting go of it
// would drop it elsewhere, an outline shows that place.
func (h *Host) tellDrag(done bool) {
	d := &h.drag
	w := h.desk.Window(d.id)
	if w == nil {
		h.drawn.Outline.Hide()
	}
	if w == nil || !d.moved && !done || !d.far() {
		return
	}
	if next := d.told.Add(dragEvery); !done && time.Now().Before(next) {
		h.wakeAt(next)
		return
	}
	d.moved, d.told = false, time.Now()
	d.slack = 0
	if w.Maximised && !d.begun {
		h.unmaximised(w)
	}
	d.begun = true
	if d.moves == [4]bool{} {
		if h.drop(done) || d.drops {
			return
		}
	}
	dx, dy := d.to.X-d.from.X, d.to.Y-d.from.Y
	r := d.rect
	if d.moves == [4]bool{} {
		r.X, r.Y = r.X+dx, r.Y+dy
	} else {
		r = pulled(w, r, d.moves, dx, dy)
	}
	if !h.desk.Tiled(w) {
		r = h.desk.Snapped(d.id, r, catchEdge, d.moves)
		if d.moves != [4]bool{} {
			r = w.Fitted(r, d.moves)
		}
		r = h.desk.Reach(w, r)
	}
	h.emit(desk.Dragged{ID: d.id, Rect: r, Edges: d.moves, Done: done, Hand: d.hand})
}

// drop shows where the window that is held would go if it were let go here, or
// lets it go there. It tells whether a floating one needs no other place.
func (h *Host) drop(done bool) bool {
	if space, over := h.spaceAt(h.drag.to); over {
		h.drawn.Outline.Hide()
		if done {
			c := desk.Command{Verb: "send", Args: []desk.Arg{{Kind: desk.Number, N: space}}, Of: desk.ByID{ID: h.drag.id}}
			h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Pointer})
		}
		return done
	}
	c, ok := h.desk.Drop(h.drag.id, h.drag.to)
	if !ok {
		h.drawn.Outline.Hide()
		return false
	}
	if done {
		h.drawn.Outline.Hide()
		h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Pointer})
		return true
	}
	if next, _, err := h.desk.Apply(c); err == nil {
		h.drawn.Outline.Show(next.Window(h.drag.id).Rect)
	}
	return false
}

// pulled is a rectangle with some of its edges moved, not below the minimum.
func pulled(w *desk.Window, r geom.Rect, moves [4]bool, dx, dy int) geom.Rect {
	least := func(min int) int { return max(min, desk.Smallest) }
	switch {
	case moves[0]:
		dx = min(dx, r.W-least(w.MinW))
		r.X, r.W = r.X+dx, r.W-dx
	case moves[1]:
		r.W = max(r.W+dx, least(w.MinW))
	}
	switch {
	case moves[2]:
		dy = min(dy, r.H-least(w.MinH))
		r.Y, r.H = r.Y+dy, r.H-dy
	case moves[3]:
		r.H = max(r.H+dy, least(w.MinH))
	}
	return r
}

// The buttons that the wheel presses.
const (
	wheelUp   = 4
	wheelDown = 5
)

// pressHeading follows a button on a heading: a click focuses its window, and may begin
// a drag of it, or brings up the list of those folded; the wheel goes through the members.
func (h *Host) pressHeading(one *paint.Heading, e xproto.ButtonPressEvent) {
	if h.atlas.up {
		h.atlas.hide()
	}
	head := one.Header()
	switch {
	case e.Detail == wheelUp && head.Prev != 0:
		h.emit(desk.Activated{ID: head.Prev})
	case e.Detail == wheelDown && head.Next != 0:
		h.emit(desk.Activated{ID: head.Next})
	case e.Detail == moveButton && head.Folded > 0:
		h.atlas.bring("here")
	case e.Detail == moveButton:
		h.drag = drag{id: head.Window, from: geom.Point{X: int(e.RootX), Y: int(e.RootY)}, button: e.Detail, drops: true, slack: dragSlack}
		h.drag.to = h.drag.from
		h.emit(desk.Activated{ID: head.Window})
	}
}
