package draw

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// Plane is the whole plane of monitors, with what is lost on it.
type Plane struct {
	Monitors []Column
	Docks    []geom.Rect // the work areas of those that are plugged in
	Windows  []Box       // that are seen, the lowest first
	Strays   []Stray
}

// Stray is a lost window, and the place where rescue would bring it.
type Stray struct {
	Box
	On    string // the workspace's title
	To    geom.Rect
	Far   string // how far it is
	Would string // where it would go
}

// NewPlane describes the plane of a desk.
func NewPlane(d *desk.Desk) *Plane {
	p, tints := &Plane{}, Tints(d)
	for _, m := range PlaneOrder(d) {
		p.Monitors = append(p.Monitors, Column{m.Letter, MonitorName(m), m.Rect, m.Connected})
		p.Docks = append(p.Docks, m.Work)
	}
	for _, placed := range d.Picture().Windows {
		w := d.Window(placed.ID)
		switch {
		case placed.Minimised:
		case d.Lost(w).Cause != stray.None:
			to, _ := stray.Rescue(w.Lost(), d.Strays())
			p.Strays = append(p.Strays, Stray{NewBox(d, w, tints), d.Title(d.Index(w.Workspace)), to, Distance(d, w), WouldGo(d, w)})
		case d.Visible(w):
			p.Windows = append(p.Windows, NewBox(d, w, tints))
		}
	}
	return p
}

// Bound is what everything on the plane covers.
func (p *Plane) Bound() geom.Rect {
	var all []geom.Rect
	for _, m := range p.Monitors {
		all = append(all, m.Rect)
	}
	for _, s := range p.Strays {
		all = append(all, s.Rect)
	}
	return geom.Bound(all...)
}

// Why says why a window counts as lost, as a person would.
func Why(d *desk.Desk, w *desk.Window) string {
	f := d.Lost(w)
	switch f.Cause {
	case stray.Off:
		if f.Was != 0 {
			return fmt.Sprintf("it lies where %c was", f.Was)
		}
		return "it lies off every monitor"
	case stray.Sliver:
		return fmt.Sprintf("only %.0f%% of it shows, at the edge of %c", 100*f.Shows, f.On)
	case stray.Oversize:
		return fmt.Sprintf("it is larger than %c, and an edge is out of sight", f.On)
	case stray.Tiny:
		return "it is too small to see"
	}
	switch h := stray.Where(w.Lost(), d.Strays()); {
	case h.Dock != 0:
		return fmt.Sprintf("its title bar is behind the dock of %c", h.Dock)
	case h.Seam[0] != 0:
		return fmt.Sprintf("its title bar is in the seam between %c and %c", h.Seam[0], h.Seam[1])
	default:
		return fmt.Sprintf("its title bar is over the edge of %c", h.Edge)
	}
}

// Distance is how far a window is from the nearest monitor, and how much of it
// shows, in words.
func Distance(d *desk.Desk, w *desk.Window) string {
	f := d.Lost(w)
	var parts []string
	for _, p := range []struct {
		n    int
		word string
	}{{-f.DX, "right of"}, {f.DX, "left of"}, {-f.DY, "below"}, {f.DY, "above"}} {
		if p.n > 0 {
			parts = append(parts, fmt.Sprintf("%d px %s", p.n, p.word))
		}
	}
	if len(parts) == 0 {
		return fmt.Sprintf("%.0f%% of it shows", 100*f.Shows)
	}
	return strings.Join(parts, " and ") + " " + string(rune(stray.Home(w.Rect, d.Strays()).Letter))
}

// WouldGo says what rescue would do with a lost window, places counted from the
// corner of the monitor.
func WouldGo(d *desk.Desk, w *desk.Window) string {
	to, letter := stray.Rescue(w.Lost(), d.Strays())
	if to == w.Rect {
		return "and stays: it cannot be made to fit"
	}
	mon := d.Monitor(letter).Rect
	words := fmt.Sprintf("rescue puts it on %c at %d,%d", letter, to.X-mon.X, to.Y-mon.Y)
	if to.W != w.Rect.W || to.H != w.Rect.H {
		words += fmt.Sprintf(" at %d×%d", to.W, to.H)
	}
	return words
}
