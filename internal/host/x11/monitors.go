package x11

import (
	"crypto/sha256"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
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
	if now == nil || slices.Equal(now, h.monitors) {
		return
	}
	h.monitors = now
	next, _ := h.desk.With(desk.MonitorsAre{Monitors: now})
	h.emit(desk.MonitorsAre{Monitors: now})
	h.emit(desk.WorkAreas{Work: h.workAreas(next)})
}

// readMonitors asks RandR 1.5 for the monitors; without it there is one, the
// root. Which of them mirror others is the core's to see.
func (h *Host) readMonitors() []desk.Monitor {
	var ms []desk.Monitor
	if h.hasRandR {
		if r, err := randr.GetMonitors(h.conn, h.root, true).Reply(); err == nil {
			for i := range r.Monitors {
				ms = append(ms, h.monitor(&r.Monitors[i]))
			}
		}
	}
	ms = slices.DeleteFunc(ms, func(m desk.Monitor) bool { return m.Rect.Empty() })
	if len(ms) == 0 && h.monitors != nil {
		return nil // all are off for a while; the core keeps the last
	}
	if len(ms) == 0 {
		r := geom.R(0, 0, int(h.screen.WidthInPixels), int(h.screen.HeightInPixels))
		ms = []desk.Monitor{{Key: "root", Name: "Screen", Rect: r, Primary: true}}
	}
	// Letters that are given for the first time go from left to right, the
	// primary one first.
	slices.SortStableFunc(ms, func(a, b desk.Monitor) int {
		if a.Primary != b.Primary {
			if a.Primary {
				return -1
			}
			return 1
		}
		return a.Rect.X - b.Rect.X
	})
	for i := range ms {
		ms[i].Letter, ms[i].Work, ms[i].Connected = byte('A'+i), ms[i].Rect, true
	}
	return ms[:min(len(ms), desk.MaxMonitors)]
}

func (h *Host) monitor(m *randr.MonitorInfo) desk.Monitor {
	name := "monitor"
	if r, err := xproto.GetAtomName(h.conn, m.Name).Reply(); err == nil {
		name = desk.CleanName(r.Name)
	}
	out := desk.Monitor{
		Key: name, Name: name, Primary: m.Primary,
		Rect: geom.R(int(m.X), int(m.Y), int(m.Width), int(m.Height)),
	}
	if len(m.Outputs) > 0 {
		r, err := randr.GetOutputProperty(h.conn, m.Outputs[0], h.atoms[aEDID], xproto.AtomAny, 0, 64, false, false).Reply()
		if err == nil && len(r.Data) > 0 {
			out.Key += fmt.Sprintf(" %x", sha256.Sum256(r.Data))[:17]
		}
	}
	return out
}

// dock is a window that keeps a strip of a monitor for itself.
type dock struct {
	rect  geom.Rect
	strut []uint32 // left, right, top, bottom and their spans, as _NET_WM_STRUT_PARTIAL
	stale bool     // it has changed since it was read
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

// readStruts reads what a dock reserves. The older property has no spans: its
// strips are as long as the screen.
func (h *Host) readStruts(win xproto.Window, d *dock) {
	partial, plain := h.ask(win, h.atoms[aStrutPartial], 12), h.ask(win, h.atoms[aStrut], 4)
	geo := xproto.GetGeometry(h.conn, xproto.Drawable(win))
	d.strut = cards(partial)
	if v := cards(plain); len(d.strut) < 12 && len(v) >= 4 {
		const far = 1 << 20
		d.strut = append(slices.Clone(v[:4]), 0, far, 0, far, 0, far, 0, far)
	}
	if g, err := geo.Reply(); err == nil {
		d.rect = geom.R(int(g.X), int(g.Y), int(g.Width), int(g.Height))
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
	var bound geom.Rect
	for _, m := range d.Monitors {
		if m.Connected {
			bound = geom.Bound(bound, m.Rect)
		}
	}
	work := map[byte]geom.Rect{}
	for _, m := range d.Monitors {
		work[m.Letter] = m.Rect
	}
	all := maps.Clone(h.docks)
	maps.Copy(all, h.struts)
	for _, win := range slices.Sorted(maps.Keys(all)) {
		dock := all[win]
		m := showsMost(dock.rect, d.Monitors)
		if m == nil || len(dock.strut) < 12 {
			continue
		}
		left, ok := reserve(work[m.Letter], m.Rect, bound, dock.strut)
		if !ok {
			h.log.Warn("a dock asks for more than half of its monitor, and does not get it", "monitor", string(rune(m.Letter)))
			continue
		}
		work[m.Letter] = left
	}
	return work
}

func showsMost(r geom.Rect, ms []desk.Monitor) *desk.Monitor {
	var best *desk.Monitor
	most := int64(0)
	for i := range ms {
		if area := r.Intersect(ms[i].Rect).Area(); ms[i].Connected && area > most {
			best, most = &ms[i], area
		}
	}
	return best
}

// reserve takes a dock's strips off a monitor's work area. A strip lies
// between the strut's inner edge, which counts from the edge of the whole
// screen, and the monitor's own edge; strips of more than half the monitor are
// refused.
func reserve(work, monitor, screen geom.Rect, strut []uint32) (geom.Rect, bool) {
	s := make([]int, 12)
	for i, v := range strut[:12] {
		s[i] = int(min(v, 1<<20))
	}
	within := func(from, to, lo, hi int) bool { return from < hi && to >= lo }
	top, bottom := work.Y, work.Bottom()
	left, right := work.X, work.Right()
	if s[0] > 0 && within(s[4], s[5], monitor.Y, monitor.Bottom()) {
		left = max(left, screen.X+s[0])
	}
	if s[1] > 0 && within(s[6], s[7], monitor.Y, monitor.Bottom()) {
		right = min(right, screen.Right()-s[1])
	}
	if s[2] > 0 && within(s[8], s[9], monitor.X, monitor.Right()) {
		top = max(top, screen.Y+s[2])
	}
	if s[3] > 0 && within(s[10], s[11], monitor.X, monitor.Right()) {
		bottom = min(bottom, screen.Bottom()-s[3])
	}
	if 2*(left-monitor.X) > monitor.W || 2*(monitor.Right()-right) > monitor.W ||
		2*(top-monitor.Y) > monitor.H || 2*(monitor.Bottom()-bottom) > monitor.H || left >= right || top >= bottom {
		return work, false
	}
	return geom.R(left, top, right-left, bottom-top), true
}
