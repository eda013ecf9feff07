package x11

import (
	"slices"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
)

// anchored is the outer rectangle, with our border, for a place that a client asked for with
// a border of its own. The point that its gravity names stays where the client meant it
// (ICCCM 4.1.2.3).
func anchored(gravity, x, y, w, h, theirs, ours int) geom.Rect {
	r := geom.R(x, y, max(w+2*ours, 1), max(h+2*ours, 1))
	over := 2*theirs - 2*ours // by how much theirs is larger
	r.X += anchor(gravity, over, false)
	r.Y += anchor(gravity, over, true)
	return r
}

// anchor is how much of a difference of sizes a window is moved by, for the point
// that its gravity names to stay.
func anchor(gravity, over int, down bool) int {
	if gravity == xproto.GravityStatic { // the inside stays
		return over / 2
	}
	at := (gravity - 1) % 3 // from north-west, by rows
	if down {
		at = (gravity - 1) / 3
	}
	return over * at / 2
}

// request is what a window asks of its place, by any of the ways there are.
type request struct {
	mask       uint16 // of the Config bits
	x, y, w, h int    // w and h of the inside
	gravity    int
}

// configureRequest answers a window that asks for a place, a size or to be raised. A
// floating one gets it; a tiled one is told the place it has (ICCCM 4.1.5).
func (h *Host) configureRequest(e xproto.ConfigureRequestEvent) {
	c := h.byXID[e.Window]
	if c == nil {
		h.passOn(e)
		return
	}
	if e.ValueMask&xproto.ConfigWindowStackMode != 0 {
		sibling := xproto.Window(0)
		if e.ValueMask&xproto.ConfigWindowSibling != 0 {
			sibling = e.Sibling
		}
		h.askedStack(c, sibling, uint32(e.StackMode))
	}
	h.askPlace(c, request{e.ValueMask, int(e.X), int(e.Y), int(e.Width), int(e.Height), c.gravity})
}

const placeBits = xproto.ConfigWindowX | xproto.ConfigWindowY | xproto.ConfigWindowWidth | xproto.ConfigWindowHeight

// askPlace gives a floating window the place it asks for. Its least and largest size
// are not imposed on it: it knows better.
func (h *Host) askPlace(c *client, q request) {
	w := h.desk.Window(c.id)
	if w == nil || q.mask&placeBits == 0 || h.desk.Tiled(w) {
		h.tellPlace(c)
		return
	}
	s := c.wanted(w)
	if s.fullscreen || s.wide && s.high {
		h.tellPlace(c)
		return
	}
	if c.placed.Empty() {
		c.placed = w.Rect
		if now := w.Maximised || w.Fullscreen || w.Wide || w.Tall; now && !s.wide && !s.high && !w.Floated.Empty() {
			c.placed = w.Floated // the size it has had before
		}
	}
	border := h.borderOf(c)
	r := c.shadow.Whole(c.placed)
	inner := r.Inset(border)
	if q.mask&xproto.ConfigWindowWidth != 0 {
		inner.W = q.w
	}
	if q.mask&xproto.ConfigWindowHeight != 0 {
		inner.H = q.h
	}
	to := anchored(q.gravity, q.x, q.y, inner.W, inner.H, c.border, border)
	stays := q.gravity
	if stays == xproto.GravityStatic {
		stays = xproto.GravityNorthWest
	}
	if q.mask&xproto.ConfigWindowX == 0 {
		to.X = r.X + anchor(stays, r.W-to.W, false)
	}
	if q.mask&xproto.ConfigWindowY == 0 {
		to.Y = r.Y + anchor(stays, r.H-to.H, true)
	}
	seen := c.shadow.Seen(to)
	if seen == c.placed && seen == w.Rect {
		c.placed = geom.Rect{}
		h.tellPlace(c)
		return
	}
	c.placed = seen
	h.askers = append(h.askers, c)
	h.emit(desk.Moved{ID: c.id, Rect: seen})
	h.moved(c, seen)
}

// askedPlace obeys _NET_MOVERESIZE_WINDOW (EWMH).
func (h *Host) askedPlace(c *client, data []uint32) {
	q := request{x: int(int32(data[1])), y: int(int32(data[2])), w: int(min(data[3], display.MaxSide)), h: int(min(data[4], display.MaxSide)), gravity: int(data[0] & 0xff)}
	if q.gravity == 0 || q.gravity > xproto.GravityStatic {
		q.gravity = c.gravity
	}
	for i, bit := range []uint16{xproto.ConfigWindowX, xproto.ConfigWindowY, xproto.ConfigWindowWidth, xproto.ConfigWindowHeight} {
		if data[0]>>(8+i)&1 == 1 {
			q.mask |= bit
		}
	}
	q.x, q.y = geom.Clamp(q.x, -display.MaxSide, display.MaxSide), geom.Clamp(q.y, -display.MaxSide, display.MaxSide)
	h.askPlace(c, q)
}

// askedStack obeys a program that raises or lowers a floating window of its own, and
// _NET_RESTACK_WINDOW.
func (h *Host) askedStack(c *client, sibling xproto.Window, mode uint32) {
	w := h.desk.Window(c.id)
	if w == nil || h.desk.Tiled(w) {
		return
	}
	s := desk.Stacked{ID: c.id}
	if o := h.byXID[sibling]; o != nil {
		s.Beside = o.id
	}
	switch mode {
	case xproto.StackModeAbove, xproto.StackModeTopIf:
	case xproto.StackModeBelow, xproto.StackModeBottomIf:
		s.Under = true
	default: // opposite: to the top, unless it is there
		ids := h.stack
		s.Under = len(ids) > 0 && ids[len(ids)-1] == c.id
	}
	h.emit(s)
}

// tellPlace sends the ConfigureNotify of ICCCM 4.1.5: the place of the inside on the
// root, as of a window without a border.
func (h *Host) tellPlace(c *client) {
	e := xproto.ConfigureNotifyEvent{
		Event: c.win, Window: c.win,
		X: int16(c.rect.X + c.width), Y: int16(c.rect.Y + c.width),
		Width:  uint16(max(c.rect.W-2*c.width, 1)),
		Height: uint16(max(c.rect.H-2*c.width, 1)),
	}
	xproto.SendEvent(h.conn, false, c.win, xproto.EventMaskStructureNotify, string(e.Bytes()))
}

// moved follows a window that moved itself: one dragged by its own header out of
// reach is brought back when the button is let go.
func (h *Host) moved(c *client, r geom.Rect) {
	w := h.desk.Window(c.id)
	if h.desk.Reach(w, r) == r {
		return
	}
	if p, err := xproto.QueryPointer(h.conn, h.root).Reply(); err == nil && p.Mask&anyButton != 0 {
		h.reaches[c.id] = true
		h.wakeIn(reachEvery)
	}
}

const (
	anyButton  = xproto.ButtonMask1 | xproto.ButtonMask2 | xproto.ButtonMask3
	reachEvery = 60 // milliseconds
)

// checkReaches brings back what is out of reach, once no button is held.
func (h *Host) checkReaches() {
	if len(h.reaches) == 0 || h.desk == nil {
		return
	}
	if p, err := xproto.QueryPointer(h.conn, h.root).Reply(); err == nil && p.Mask&anyButton != 0 {
		h.wakeIn(reachEvery)
		return
	}
	for id := range h.reaches {
		if w := h.desk.Window(id); w != nil && !h.desk.Tiled(w) {
			if r := h.desk.Reach(w, w.Rect); r != w.Rect {
				h.emit(desk.Moved{ID: id, Rect: r})
			}
		}
	}
	clear(h.reaches)
}

// askedSpan obeys _NET_WM_FULLSCREEN_MONITORS: which monitors a window covers in
// fullscreen, by the ones whose top, bottom, left and right edges it has.
func (h *Host) askedSpan(c *client, data []uint32) {
	n := uint32(len(h.plugged()))
	if slices.Max(data[:4]) >= n {
		return
	}
	for i := range c.span {
		c.span[i] = int(data[i])
	}
	c.spans = true
	h.setCards(c.win, aFullscreenMonitors, data[:4]...)
	h.placeAnew(c)
}

// plugged are the rectangles of the monitors there are, in the server's order.
func (h *Host) plugged() (rects []geom.Rect) {
	for _, m := range h.monitors {
		if m.Connected {
			rects = append(rects, m.Rect)
		}
	}
	return rects
}

// spanned is what a fullscreen window covers.
func (h *Host) spanned(c *client, usual geom.Rect) geom.Rect {
	ms := h.plugged()
	if !c.spans || slices.Max(c.span[:]) >= len(ms) {
		return usual
	}
	top, bottom, left, right := ms[c.span[0]].Y, ms[c.span[1]].Bottom(), ms[c.span[2]].X, ms[c.span[3]].Right()
	if top >= bottom || left >= right {
		return usual
	}
	return geom.R(left, top, right-left, bottom-top)
}

// estimate tells a window that is not yet mapped what border it will have
// (_NET_REQUEST_FRAME_EXTENTS).
func (h *Host) estimate(win xproto.Window) {
	b := uint32(h.opt.Border)
	edges, motif := h.ask(win, h.atoms[aShadow], 4), h.ask(win, h.atoms[aMotifHints], 5)
	if display.ShadowFrom(display.Cards(edges)) != (display.Shadow{}) || display.Undecorated(display.Cards(motif)) {
		b = 0
	}
	h.setCards(win, aFrameExtents, b, b, b, b)
}

// Directions of _NET_WM_MOVERESIZE.
const (
	dragMove   = 8
	sizeByKeys = 9
	moveByKeys = 10
	dragCancel = 11
)

// dragEdges are the edges that follow the pointer, by the direction: left, right, top,
// bottom.
var dragEdges = [8][4]bool{
	{true, false, true, false}, {false, false, true, false}, {false, true, true, false}, {false, true, false, false},
	{false, true, false, true}, {false, false, false, true}, {true, false, false, true}, {true, false, false, false},
}

// askedDrag obeys _NET_WM_MOVERESIZE: a window that is dragged by a part of its own
// is dragged as by the atlas key and the button.
func (h *Host) askedDrag(c *client, data []uint32) {
	p := geom.Point{X: int(int32(data[0])), Y: int(int32(data[1]))}
	direction := data[2]
	if direction == dragCancel {
		if h.drag.id == c.id {
			h.cancelDrag()
		}
		return
	}
	if direction > dragCancel || h.drag.id != 0 {
		return
	}
	keys := direction == sizeByKeys || direction == moveByKeys
	if !h.hold(keys) {
		return
	}
	button := xproto.Button(moveButton)
	if direction < dragMove || direction == sizeByKeys {
		button = resizeButton
	}
	h.startDrag(c, button, p)
	if h.drag.id == 0 {
		h.letGo()
		return
	}
	h.drag.held, h.drag.keys, h.drag.any = true, keys, true
	if direction < dragMove {
		h.drag.moves = dragEdges[direction]
	}
	if direction == sizeByKeys {
		h.drag.moves = dragEdges[4]
	}
	if direction == dragMove {
		h.drag.slack = dragSlack
	}
}

// hold takes the pointer, and for a drag by keys the keyboard.
func (h *Host) hold(keys bool) bool {
	p, err := xproto.GrabPointer(h.conn, false, h.root, uint16(dragEvents), xproto.GrabModeAsync, xproto.GrabModeAsync, xproto.WindowNone, xproto.CursorNone, xproto.TimeCurrentTime).Reply()
	if err != nil || p.Status != xproto.GrabStatusSuccess {
		return false
	}
	if keys {
		k, err := xproto.GrabKeyboard(h.conn, false, h.root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
		if err != nil || k.Status != xproto.GrabStatusSuccess {
			h.letGo()
			return false
		}
	}
	return true
}

func (h *Host) letGo() {
	xproto.UngrabPointer(h.conn, xproto.TimeCurrentTime)
	xproto.UngrabKeyboard(h.conn, xproto.TimeCurrentTime)
}

// cancelDrag puts a window that is held back where it was.
func (h *Host) cancelDrag() {
	d := h.drag
	if !d.drops && d.begun {
		h.emit(desk.Dragged{ID: d.id, Rect: d.rect, Edges: d.moves, Done: true, Hand: d.hand})
	}
	h.dropDrag()
}

// dropDrag ends a drag.
func (h *Host) dropDrag() {
	if h.drag.held {
		h.letGo()
	}
	h.drag = drag{}
	h.drawn.Outline.Hide()
}

// keyStep is by how far an arrow moves what is dragged by keys, in pixels.
const keyStep = 10

// dragKey follows a key while a window is dragged by keys.
func (h *Host) dragKey(e xproto.KeyPressEvent) {
	r, err := xproto.GetKeyboardMapping(h.conn, e.Detail, 1).Reply()
	if err != nil || len(r.Keysyms) == 0 {
		return
	}
	const left, up, right, down, enter, escape = 0xff51, 0xff52, 0xff53, 0xff54, 0xff0d, 0xff1b
	step := map[xproto.Keysym][2]int{left: {-keyStep, 0}, right: {keyStep, 0}, up: {0, -keyStep}, down: {0, keyStep}}
	switch by, moves := step[r.Keysyms[0]]; {
	case moves:
		h.drag.to = geom.Point{X: h.drag.to.X + by[0], Y: h.drag.to.Y + by[1]}
		h.drag.moved = true
	case r.Keysyms[0] == enter:
		if h.drag.far() {
			h.tellDrag(true)
		}
		h.dropDrag()
	case r.Keysyms[0] == escape:
		h.cancelDrag()
	}
}

// unmaximised has a maximised window that is dragged away have its normal size, under
// the pointer.
func (h *Host) unmaximised(w *desk.Window) {
	c := desk.Command{Verb: "maximise", Args: []desk.Arg{{Kind: desk.Keyword, Word: "off"}}, Of: desk.ByID{ID: w.ID}, Hand: h.drag.hand}
	h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Pointer})
	if r := w.Floated; !h.desk.Tiled(w) && !r.Empty() {
		p := h.drag.from
		r.X = p.X - (p.X-w.Rect.X)*r.W/max(w.Rect.W, 1)
		r.Y = p.Y - min(p.Y-w.Rect.Y, r.H-1)
		h.drag.rect = r
	}
	h.drag.drops = h.desk.Tiled(w)
}
