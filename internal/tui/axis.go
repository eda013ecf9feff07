package tui

import (
	"math"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// axis maps pixels of the plane to cells: true to scale between lo and hi, and
// pressed together outside, where only lost windows lie.
type axis struct {
	lo, hi float64 // pixels
	scale  float64 // cells a pixel, between them
	edge   float64 // cells kept at each end for what is further out
	cells  int
	broken bool // something is further out
}

// newAxis fits the span from lo to hi into cells. From and to are the furthest
// pixels of anything.
func newAxis(lo, hi, from, to, cells int) axis {
	a := axis{lo: float64(lo), hi: float64(hi), cells: cells}
	if a.broken = from < lo || to > hi; a.broken {
		a.edge = min(max(float64(cells)/8, 2), 10)
	}
	a.scale = (float64(cells) - 2*a.edge) / math.Max(a.hi-a.lo, 1)
	return a
}

// cell is where a pixel lies, not yet rounded.
func (a axis) cell(px int) float64 {
	x := float64(px)
	// Outside, a distance as long as the plane takes half of what is left.
	half := math.Max(a.hi-a.lo, 1)
	switch {
	case x < a.lo:
		d := (a.lo - x) / (a.lo - x + half)
		return a.edge * (1 - d)
	case x > a.hi:
		d := (x - a.hi) / (x - a.hi + half)
		return float64(a.cells) - a.edge*(1-d)
	}
	return a.edge + (x-a.lo)*a.scale
}

// plane is the whole plane of monitors in cells, with everything on it.
type plane struct {
	area geom.Rect
	x, y axis
}

// newPlane lays the plane out: all monitors, unplugged ones too, at one true
// scale; what lies far outside is drawn in the margin, where the scale is broken.
func newPlane(d *desk.Desk, more []geom.Rect, area geom.Rect) plane {
	var monitors []geom.Rect
	for _, m := range d.Monitors {
		monitors = append(monitors, m.Rect)
	}
	bound := geom.Bound(monitors...)
	// A margin around, so that what hangs over an edge is seen.
	dx, dy := bound.W/16, bound.H/10
	bound = geom.R(bound.X-dx, bound.Y-dy, bound.W+2*dx, bound.H+2*dy)
	all := geom.Bound(append(more, bound)...)
	p := plane{area: area, x: newAxis(bound.X, bound.Right(), all.X, all.Right(), area.W), y: newAxis(bound.Y, bound.Bottom(), all.Y, all.Bottom(), area.H)}
	// One scale for both: a cell is about twice as high as it is wide.
	if p.y.scale*2 > p.x.scale {
		p.y.scale = p.x.scale / 2
		used := p.y.scale*(p.y.hi-p.y.lo) + 2*p.y.edge
		p.y.cells = int(math.Ceil(used))
	} else {
		p.x.scale = p.y.scale * 2
		used := p.x.scale*(p.x.hi-p.x.lo) + 2*p.x.edge
		p.x.cells = int(math.Ceil(used))
	}
	return p
}

// newSheetPlane lays one work area out in cells, at one scale both ways.
func newSheetPlane(work geom.Rect, area geom.Rect) plane {
	p := plane{area: area, x: newAxis(work.X, work.Right(), work.X, work.Right(), area.W), y: newAxis(work.Y, work.Bottom(), work.Y, work.Bottom(), area.H)}
	if p.y.scale*2 > p.x.scale {
		p.y.scale = p.x.scale / 2
	} else {
		p.x.scale = p.y.scale * 2
	}
	return p
}

// rect is a rectangle in cells, at least one of them: edges are rounded, so that
// what meets on the plane meets here.
func (p plane) rect(r geom.Rect) geom.Rect {
	x0, x1 := int(math.Round(p.x.cell(r.X))), int(math.Round(p.x.cell(r.Right())))
	y0, y1 := int(math.Round(p.y.cell(r.Y))), int(math.Round(p.y.cell(r.Bottom())))
	return geom.R(p.area.X+x0, p.area.Y+y0, max(x1-x0, 1), max(y1-y0, 1))
}
