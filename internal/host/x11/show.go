package x11

import (
	"fmt"
	"slices"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/x11/paint"
)

// Show carries out the difference between the display and the desk. New
// windows are mapped topmost first before old ones are unmapped lowest first,
// so that nothing of the root shows through; properties come after.
func (h *Host) Show(d *desk.Desk) {
	first := h.desk == nil
	h.desk = d
	p := d.Picture()
	focusMoves := h.wantedFocus(p) != h.focused || first
	h.restack(p)
	for _, w := range slices.Backward(p.Windows) {
		if c := h.clients[w.ID]; c != nil {
			h.place(c, w)
			if w.Shown && !c.mapped {
				h.writeState(c, w)
				xproto.MapWindow(h.conn, c.win)
				c.mapped = true
			}
		}
	}
	if focusMoves {
		h.focus(h.wantedFocus(p), h.serverTime())
	}
	for _, w := range p.Windows {
		if c := h.clients[w.ID]; c != nil && !w.Shown && c.mapped {
			c.unmaps++
			c.mapped = false
			xproto.UnmapWindow(h.conn, c.win)
		}
	}
	h.paintBorders(p)
	if h.drawn.Headings.Show(d) { // desktop-type windows stay under all
		for win := range h.desktop {
			h.putOver(win, 0)
		}
	}
	for _, w := range p.Windows {
		if c := h.clients[w.ID]; c != nil {
			h.writeState(c, w)
		}
	}
	h.writeRoot(d, p)
	h.remember(d)
	h.tellUnseen(d)
	if first && !h.opt.Quiet {
		h.say(d.Undo()) // what was made of the windows that were here
	}
	// A command is answered when the server has all of it: what was answered is
	// there after a kill at the next moment.
	xproto.GetInputFocus(h.conn).Reply()
}

// tellUnseen says of windows that have just opened where they are, if that is out
// of sight: nobody would look there.
func (h *Host) tellUnseen(d *desk.Desk) {
	fresh := h.fresh
	h.fresh = nil
	for _, id := range fresh {
		w := d.Window(id)
		if w != nil && !d.Visible(w) && !w.Minimised && !d.Bare && !h.opt.Quiet {
			h.say(fmt.Sprintf("%s opened on %s.", w.Label(), d.Title(d.Index(w.Workspace))))
		}
	}
}

// wantedFocus is the window that should have the X focus; 0 for none. While
// the atlas window is up it keeps the focus.
func (h *Host) wantedFocus(p desk.Picture) int {
	if h.atlas.up {
		return h.focused
	}
	return p.Focus
}

// inner is the size inside the border: at least one pixel, at most what the
// protocol can say.
func inner(outer, border int) uint32 {
	return uint32(geom.Clamp(outer-2*border, 1, maxSide))
}

// place gives a window its rectangle.
func (h *Host) place(c *client, w desk.Placed) {
	r, width := c.shadow.whole(w.Rect), h.borderOf(c)
	if w.Fullscreen {
		width = 0
	}
	if c.rect == r && c.width == width {
		return
	}
	c.rect, c.width = r, width
	xproto.ConfigureWindow(h.conn, c.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowBorderWidth,
		[]uint32{paint.Coordinate(r.X), paint.Coordinate(r.Y), inner(r.W, width), inner(r.H, width), uint32(width)})
}

// restack brings the windows into the picture's order, docks over them. It
// moves windows only over windows of ours, so that menus stay on top.
func (h *Host) restack(p desk.Picture) {
	order := make([]int, 0, len(p.Windows))
	for _, w := range p.Windows {
		if h.clients[w.ID] != nil {
			order = append(order, w.ID)
		}
	}
	if slices.Equal(order, h.stack) {
		return
	}
	// What stands in the old order from below may stay.
	old := slices.DeleteFunc(slices.Clone(h.stack), func(id int) bool { return h.clients[id] == nil })
	same := 0
	for same < len(order) && same < len(old) && order[same] == old[same] {
		same++
	}
	h.stack = order
	if same == len(order) {
		return
	}
	below := xproto.Window(0)
	if same > 0 {
		below = h.clients[order[same-1]].win
	}
	for _, id := range order[same:] {
		h.putOver(h.clients[id].win, below)
		below = h.clients[id].win
	}
	for _, dock := range h.sortedDocks() {
		h.putOver(dock, below)
		below = dock
	}
	if h.atlas.up {
		h.putOver(h.atlas.win, below)
	}
	for win := range h.desktop {
		h.putOver(win, 0)
	}
}

// putOver stacks a window directly over another, or at the very bottom for 0.
func (h *Host) putOver(win, below xproto.Window) {
	if below == 0 {
		xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeBelow})
		return
	}
	xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowSibling|xproto.ConfigWindowStackMode,
		[]uint32{uint32(below), xproto.StackModeAbove})
}

// focus gives the X focus to a window as ICCCM 4.1.7 says, or to our own
// window of no size: it is never None, or grabbed keys would die.
func (h *Host) focus(id int, now xproto.Timestamp) {
	h.focused = id
	c := h.clients[id]
	if c == nil {
		h.focused = 0
		h.setFocus(h.nofocus, now)
		return
	}
	switch {
	case !c.noInput:
		h.setFocus(c.win, now)
	case !c.takesFocus:
		h.setFocus(h.nofocus, now)
	}
	if c.takesFocus {
		h.protocol(c.win, aTakeFocus, now)
	}
}

func (h *Host) setFocus(win xproto.Window, now xproto.Timestamp) {
	xproto.SetInputFocus(h.conn, xproto.InputFocusPointerRoot, win, now)
}

// paintBorders marks the focused window, and has a click on any other one
// focus it.
func (h *Host) paintBorders(p desk.Picture) {
	for _, w := range p.Windows {
		c := h.clients[w.ID]
		if c == nil {
			continue
		}
		colour := uint32(paint.Quiet)
		if w.ID == p.Focus {
			colour = paint.Focused
		}
		if c.colour != colour {
			c.colour = colour
			xproto.ChangeWindowAttributes(h.conn, c.win, xproto.CwBorderPixel, []uint32{colour})
		}
		h.grabClick(c, w.ID != p.Focus || h.atlas.up)
	}
}

// grabClick catches the next press on a window, which the event reader lets
// through at once. The keyboard waits with the pointer: else a modifier pressed
// after the click would be told as held at the click.
func (h *Host) grabClick(c *client, grab bool) {
	switch {
	case grab == c.grabbed:
	case grab:
		xproto.GrabButton(h.conn, false, c.win, xproto.EventMaskButtonPress, xproto.GrabModeSync, xproto.GrabModeSync,
			xproto.WindowNone, xproto.CursorNone, xproto.ButtonIndexAny, xproto.ModMaskAny)
	default:
		xproto.UngrabButton(h.conn, xproto.ButtonIndexAny, c.win, xproto.ModMaskAny)
	}
	c.grabbed = grab
}

// allDesktops is the number of _NET_WM_DESKTOP for a sticky window (EWMH).
const allDesktops = 0xFFFFFFFF

// writeState writes WM_STATE and _NET_WM_DESKTOP where they changed.
func (h *Host) writeState(c *client, w desk.Placed) {
	t := toldState{written: true, state: stateNormal, desktop: uint32(w.Workspace)}
	if !w.Shown {
		t.state = stateIconic
	}
	if w.Sticky {
		t.desktop = allDesktops
	}
	h.writeNetState(c, w)
	if c.told == t {
		return
	}
	if c.told.state != t.state || !c.told.written {
		h.change(c.win, aState, h.atoms[aState], 32, pack([]uint32{t.state, 0}))
	}
	if c.told.desktop != t.desktop || !c.told.written {
		h.setCards(c.win, aWindowDesktop, t.desktop)
	}
	c.told = t
}
