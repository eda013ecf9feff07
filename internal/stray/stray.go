// Package stray tells which windows are lost, why, and where they should go.
// It is geometry alone: a window is a rectangle and a few sizes, a monitor a
// rectangle with a work area.
package stray

import (
	"math"

	"zatlas/internal/geom"
)

// Cause says why a window counts as lost. None means it does not.
type Cause uint8

// The causes, in the order in which they are tried.
const (
	None     Cause = iota
	Off            // no pixel of it on a connected monitor
	Sliver         // less than a fifth of its area on connected monitors
	Handle         // its handle cannot be reached
	Oversize       // larger than the work area, with an edge out of sight
	Tiny           // both sides under 24 pixels, and not meant so
)

var causeNames = [...]string{"", "off", "sliver", "handle", "oversize", "tiny"}

// String is the cause's word in lists and scenes.
func (c Cause) String() string { return causeNames[c] }

// The sizes, in pixels, by which a handle counts as within reach.
const (
	DefaultBar  = 28 // the height of the handle where no title bar is known
	reachWide   = 48
	reachHigh   = 12
	tinySide    = 24
	Step        = 32 // between windows that are rescued or cascaded together
	sliverParts = 5  // less than one in so many shows: a sliver
)

// Monitor is a monitor as far as it matters here.
type Monitor struct {
	Letter    byte
	Rect      geom.Rect
	Work      geom.Rect
	Primary   bool
	Connected bool
}

// Window is a window as far as it matters here. Bar is the height of its title
// bar in pixels, 0 where unknown; MinW and MinH its minimum size.
type Window struct {
	Rect       geom.Rect
	Bar        int
	MinW, MinH int
	Fixed      bool
}

// Finding is what Look found about one window.
type Finding struct {
	Cause Cause
	Shows float64 // the share of its area on connected monitors, 0 to 1
	On    byte    // the connected monitor that shows most of it, or 0
	// DX and DY are how far it is, in pixels, from its rectangle to that of the
	// nearest connected monitor: negative to the left and up, 0 where they overlap
	// along that axis.
	DX, DY int
	Was    byte // for Off: the unplugged monitor that shows most of it, or 0
}

// Look finds out whether the window is lost.
func Look(w Window, monitors []Monitor) Finding {
	var f Finding
	var rects []geom.Rect
	for _, m := range monitors {
		if m.Connected {
			rects = append(rects, m.Rect)
		}
	}
	// A window without a pixel has no share to show; it counts by its corner.
	if w.Rect.Empty() {
		w.Rect.W, w.Rect.H = max(w.Rect.W, 1), max(w.Rect.H, 1)
	}
	covered := geom.Covered(w.Rect, rects)
	f.Shows = float64(covered) / float64(w.Rect.Area())
	on := mostOf(w.Rect, monitors, true)
	if on != nil {
		f.On = on.Letter
	} else if was := mostOf(w.Rect, monitors, false); was != nil {
		f.Was = was.Letter
	}
	if near := Home(w.Rect, monitors); near != nil && on == nil {
		f.DX = apart(w.Rect.X, w.Rect.Right(), near.Rect.X, near.Rect.Right())
		f.DY = apart(w.Rect.Y, w.Rect.Bottom(), near.Rect.Y, near.Rect.Bottom())
	}
	switch {
	case covered == 0:
		f.Cause = Off
	case covered*sliverParts < w.Rect.Area():
		f.Cause = Sliver
	case !reachable(w, monitors):
		f.Cause = Handle
	case (w.Rect.W > on.Work.W || w.Rect.H > on.Work.H) && covered < w.Rect.Area():
		f.Cause = Oversize
	case isTiny(w):
		f.Cause = Tiny
	}
	return f
}

// apart is the way from the span a to the span b, 0 where they overlap.
func apart(a0, a1, b0, b1 int) int {
	switch {
	case a1 <= b0:
		return b0 - a1
	case b1 <= a0:
		return b1 - a0
	}
	return 0
}

// Hidden says in what a handle that cannot be reached lies.
type Hidden struct {
	Dock byte    // behind the dock of that monitor, or 0
	Seam [2]byte // in the seam between those two, or 0
	Edge byte    // over the edge of that monitor
}

// Where finds out in what the handle of a window lies that cannot be reached.
func Where(w Window, monitors []Monitor) Hidden {
	handle := HandleOf(w)
	var on []Monitor
	for _, m := range monitors {
		if m.Connected && handle.Overlaps(m.Rect) {
			on = append(on, m)
		}
	}
	for _, m := range on {
		if part := handle.Intersect(m.Rect); part.W >= min(reachWide, handle.W) && part.H >= min(reachHigh, handle.H) {
			return Hidden{Dock: m.Letter}
		}
	}
	if len(on) > 1 {
		return Hidden{Seam: [2]byte{on[0].Letter, on[1].Letter}}
	}
	if m := Home(w.Rect, monitors); m != nil {
		return Hidden{Edge: m.Letter}
	}
	return Hidden{}
}

// Reach is the window's rectangle moved by the least distance so that its handle
// can be reached; it keeps its size.
func Reach(w Window, monitors []Monitor) geom.Rect {
	if reachable(w, monitors) {
		return w.Rect
	}
	best, least := w.Rect, int64(math.MaxInt64)
	for _, m := range monitors {
		if !m.Connected {
			continue
		}
		r := w.Rect
		bar := HandleOf(w).H
		wide, high := min(reachWide, r.W), min(reachHigh, bar)
		r.X = geom.Clamp(r.X, m.Work.X+wide-r.W, m.Work.Right()-wide)
		r.Y = geom.Clamp(r.Y, m.Work.Y+high-bar, m.Work.Bottom()-high)
		dx, dy := int64(r.X-w.Rect.X), int64(r.Y-w.Rect.Y)
		if d := dx*dx + dy*dy; d < least {
			best, least = r, d
		}
	}
	return best
}

func isTiny(w Window) bool {
	meant := w.Fixed || (w.MinW > 0 && w.MinW < tinySide && w.MinH > 0 && w.MinH < tinySide)
	return w.Rect.W < tinySide && w.Rect.H < tinySide && !meant
}

// reachable tells whether enough of the handle lies in one connected work area.
func reachable(w Window, monitors []Monitor) bool {
	handle := HandleOf(w)
	for _, m := range monitors {
		part := handle.Intersect(m.Work)
		if m.Connected && part.W >= min(reachWide, handle.W) && part.H >= min(reachHigh, handle.H) {
			return true
		}
	}
	return false
}

// HandleOf is the strip along the top of the window by which a pointer can
// take it: its title bar, 28 pixels where that is unknown.
func HandleOf(w Window) geom.Rect {
	bar := w.Bar
	if bar <= 0 {
		bar = DefaultBar
	}
	h := w.Rect
	h.H = min(bar, h.H)
	return h
}

// mostOf is the monitor, connected or not as asked, that shows most of r; nil
// where none shows a pixel.
func mostOf(r geom.Rect, monitors []Monitor, connected bool) *Monitor {
	var best *Monitor
	most := int64(0)
	for i := range monitors {
		m := &monitors[i]
		if area := r.Intersect(m.Rect).Area(); m.Connected == connected && area > most {
			best, most = m, area
		}
	}
	return best
}

// Home is the connected monitor a window belongs to by its place: the one that
// shows most of it; else the nearest by the gap between the rectangles, the
// primary one on a tie, then the first letter. It is nil where none is connected.
func Home(r geom.Rect, monitors []Monitor) *Monitor {
	if m := mostOf(r, monitors, true); m != nil {
		return m
	}
	var best *Monitor
	least := int64(math.MaxInt64)
	for i := range monitors {
		m := &monitors[i]
		if !m.Connected {
			continue
		}
		gap := geom.Distance2(r, m.Rect)
		if best == nil || gap < least || gap == least && (m.Primary && !best.Primary ||
			m.Primary == best.Primary && m.Letter < best.Letter) {
			best, least = m, gap
		}
	}
	return best
}

// Into is the window's rectangle brought whole into the work area by the least
// movement. One larger than it is shrunk, not below its minimum size; an axis
// that still does not fit starts at the work area's edge. One that lies whole
// in it stays as it is, and none is made larger.
func Into(w Window, work geom.Rect) geom.Rect {
	r := w.Rect
	if !w.Fixed {
		r.W = min(r.W, max(work.W, w.MinW))
		r.H = min(r.H, max(work.H, w.MinH))
	}
	r.X = geom.Clamp(r.X, work.X, work.Right()-r.W)
	r.Y = geom.Clamp(r.Y, work.Y, work.Bottom()-r.H)
	return r
}

// Rescue is where a lost window should go, and the letter of that monitor. A
// window that lies whole in a work area stays. With no monitor connected
// nothing moves and the letter is 0.
func Rescue(w Window, monitors []Monitor) (geom.Rect, byte) {
	for _, m := range monitors {
		if m.Connected && m.Work.Contains(w.Rect) {
			return w.Rect, m.Letter
		}
	}
	m := Home(w.Rect, monitors)
	if m == nil {
		return w.Rect, 0
	}
	return Into(w, m.Work), m.Letter
}

// Aside moves r by (32, 32) as long as its top left corner is within 32 pixels, both ways, of
// one in placed. A step out of the work area goes on from its top left. If every step is
// taken, r stays where it was.
func Aside(r, work geom.Rect, placed []geom.Rect) geom.Rect {
	start := r
	for range 4 * (len(placed) + 1) {
		if !crowded(r, placed) {
			return r
		}
		r.X, r.Y = r.X+Step, r.Y+Step
		if !work.Contains(r) {
			r.X, r.Y = work.X, work.Y
		}
	}
	return start
}

func crowded(r geom.Rect, placed []geom.Rect) bool {
	for _, p := range placed {
		if dx, dy := r.X-p.X, r.Y-p.Y; max(dx, -dx) < Step && max(dy, -dy) < Step {
			return true
		}
	}
	return false
}
