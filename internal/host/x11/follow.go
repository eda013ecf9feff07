package x11

import (
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// Pointing is what the pointer has to do with the focus.
type Pointing string

// The ways of the pointer. The zero value is PointingClicks.
const (
	PointingClicks  Pointing = "click"  // a click in a window gives it the focus
	PointingFollows Pointing = "follow" // so does moving into it
	PointingWarps   Pointing = "warp"   // the pointer is brought into a window that gets the focus by keys
)

// pointer is where the pointer was when the desk was last shown: before the requests that showed
// it, and after them. Of what comes under it between the two, we did.
type pointer struct {
	last, before, after geom.Point // last after the show before
	from, to            uint16     // numbers of the requests that asked
	known               bool
}

// rested tells whether the pointer had not been moved when a window came under it.
func (p pointer) rested(e xproto.EnterNotifyEvent) bool {
	at := p.after
	if int16(e.Sequence-p.from) < 0 {
		at = p.last
	} else if int16(e.Sequence-p.to) < 0 {
		at = p.before
	}
	return p.known && geom.Point{X: int(e.RootX), Y: int(e.RootY)} == at
}

// entered follows the pointer into a window, where the focus follows it. A window that
// came under the pointer, by whatever we did, was not entered.
func (h *Host) entered(e xproto.EnterNotifyEvent) {
	c := h.byXID[e.Event]
	if h.opt.Pointing != PointingFollows || c == nil || h.desk == nil || h.atlas.up || h.drag.id != 0 ||
		e.Mode != xproto.NotifyModeNormal || e.Detail == xproto.NotifyDetailInferior || c.id == h.focused {
		return
	}
	if h.pointer.rested(e) {
		return
	}
	if w := h.desk.Window(c.id); w != nil && !w.NoFocus {
		h.emit(desk.Activated{ID: c.id})
	}
}

// asksPointer asks where the pointer is before the desk is shown, where that matters.
func (h *Host) asksPointer() (before xproto.QueryPointerCookie) {
	if h.opt.Pointing == PointingFollows {
		before = xproto.QueryPointer(h.conn, h.root)
	}
	return before
}

// notePointer notes where the pointer was before that and is now.
func (h *Host) notePointer(before xproto.QueryPointerCookie) {
	if before.Cookie == nil {
		return
	}
	after := xproto.QueryPointer(h.conn, h.root)
	was, err := before.Reply()
	is, err2 := after.Reply()
	if err != nil || err2 != nil {
		return
	}
	at := func(r *xproto.QueryPointerReply) geom.Point { return geom.Point{X: int(r.RootX), Y: int(r.RootY)} }
	h.pointer = pointer{last: h.pointer.after, before: at(was), after: at(is), from: before.Sequence, to: after.Sequence, known: true}
}

// warp brings the pointer into the window that has the focus after a command by keys; it
// stays where it is in that window.
func (h *Host) warp(o keeper.Outcome) {
	byKeys := o.Source == keeper.Chord || o.Source == keeper.Screen || o.Source == keeper.Line
	w := h.desk.Window(h.desk.Focus)
	if h.opt.Pointing != PointingWarps || !byKeys || o.Err != nil || h.atlas.up || w == nil || h.clients[w.ID] == nil || !h.focusMoved {
		return
	}
	r, err := xproto.QueryPointer(h.conn, h.root).Reply()
	if err != nil || w.Rect.Has(geom.Point{X: int(r.RootX), Y: int(r.RootY)}) {
		return
	}
	p := w.Rect.Center()
	if m := h.desk.Monitor(w.Monitor); m != nil {
		if seen := w.Rect.Intersect(m.Rect); !seen.Empty() {
			p = seen.Center()
		}
	}
	xproto.WarpPointer(h.conn, xproto.WindowNone, h.root, 0, 0, 0, 0, int16(p.X), int16(p.Y))
}
