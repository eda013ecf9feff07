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

// pointer is where the pointer was when the desk was last shown, and the request after which it
// was there. What the server tells from before that, we did ourselves.
type pointer struct {
	at    geom.Point
	after uint16 // number of the request
	known bool
}

// entered follows the pointer into a window, where the focus follows it. A window that
// came under the pointer, by whatever we did, was not entered.
func (h *Host) entered(e xproto.EnterNotifyEvent) {
	c := h.byXID[e.Event]
	if h.opt.Pointing != PointingFollows || c == nil || h.desk == nil || h.atlas.up || h.drag.id != 0 ||
		e.Mode != xproto.NotifyModeNormal || e.Detail == xproto.NotifyDetailInferior || c.id == h.focused {
		return
	}
	early := int16(e.Sequence-h.pointer.after) < 0
	still := geom.Point{X: int(e.RootX), Y: int(e.RootY)} == h.pointer.at
	if h.pointer.known && (early || still) {
		return
	}
	if w := h.desk.Window(c.id); w != nil && !w.NoFocus {
		h.emit(desk.Activated{ID: c.id})
	}
}

// notePointer notes where the pointer is after the desk was shown.
func (h *Host) notePointer() {
	if h.opt.Pointing != PointingFollows {
		return
	}
	ck := xproto.QueryPointer(h.conn, h.root)
	if r, err := ck.Reply(); err == nil {
		h.pointer = pointer{geom.Point{X: int(r.RootX), Y: int(r.RootY)}, ck.Sequence, true}
	}
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
