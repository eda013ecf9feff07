package x11

import (
	"maps"
	"slices"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// awaitFor is how long windows of a desk kept from another display are waited
// for: as long as a display takes to open what it opens by itself.
const awaitFor = 2 * time.Minute

// checkAwaited ends the waiting for windows.
func (h *Host) checkAwaited() {
	if !h.awaitUntil.IsZero() && time.Now().After(h.awaitUntil) {
		h.awaitUntil = time.Time{}
		h.emit(desk.Await{})
	}
}

// readAgain reads the monitors after a burst of changes, and tells the
// difference as one fact.
func (h *Host) readAgain() {
	now := h.readMonitors()
	if len(now) == 0 || slices.Equal(now, h.monitors) {
		return
	}
	h.monitors = now
	h.doubt = true
	next, _ := h.desk.With(desk.MonitorsAre{Monitors: now})
	h.emit(desk.MonitorsAre{Monitors: now})
	h.emit(desk.WorkAreas{Work: h.workAreas(next)})
}

// readMonitors asks for the monitors. There are none where all are off for a while,
// and the core keeps the last; at the start the screen is one then.
func (h *Host) readMonitors() []desk.Monitor {
	s := &display.Screen{Conn: h.conn, Info: h.screen, RandR: h.hasRandR, EDID: h.atoms[aEDID]}
	ms := s.Monitors()
	h.read = s
	if len(ms) == 0 && h.monitors == nil {
		return s.Whole()
	}
	return ms
}

// dock is a window that keeps a strip of a monitor for itself.
type dock struct {
	display.Dock
	stale bool // it has changed since it was read
}

func (h *Host) addDock(win xproto.Window) {
	d := &dock{}
	h.docks[win] = d
	xproto.ChangeWindowAttributes(h.conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
	h.readStruts(win, d)
	h.docksChanged()
}

func (h *Host) removeDock(win xproto.Window) {
	delete(h.docks, win)
	h.stir(strutsPart)
}

// readStruts reads what a dock reserves.
func (h *Host) readStruts(win xproto.Window, d *dock) {
	partial, plain := h.ask(win, h.atoms[aStrutPartial], 12), h.ask(win, h.atoms[aStrut], 4)
	geo := xproto.GetGeometry(h.conn, xproto.Drawable(win))
	d.Strut = display.Strut(display.Cards(partial), display.Cards(plain))
	if g, err := geo.Reply(); err == nil {
		d.Rect = geom.R(int(g.X), int(g.Y), int(g.Width), int(g.Height))
	}
	d.stale = false
}

// docksChanged reads the docks that have changed, and tells what they leave.
func (h *Host) docksChanged() {
	for _, docks := range []map[xproto.Window]*dock{h.docks, h.struts} {
		for win, d := range docks {
			if d.stale {
				h.readStruts(win, d)
			}
		}
	}
	if h.desk != nil {
		h.emit(desk.WorkAreas{Work: h.workAreas(h.desk)})
	}
}

// workAreas is what the docks leave of each monitor of a desk.
func (h *Host) workAreas(d *desk.Desk) map[byte]geom.Rect {
	all := maps.Clone(h.docks)
	maps.Copy(all, h.struts)
	var docks []display.Dock
	for _, win := range slices.Sorted(maps.Keys(all)) {
		docks = append(docks, all[win].Dock)
	}
	work, refused := display.WorkAreas(d.Monitors, docks)
	for _, letter := range refused {
		h.log.Warn("a dock asks for more than half of its monitor, and does not get it", "monitor", string(rune(letter)))
	}
	h.looks = h.opt.Line.Lay(d.Monitors, work, h.read.Density)
	return work
}
