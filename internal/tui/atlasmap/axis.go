package atlasmap

import (
	"math"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// axis maps pixels of the plane to cells: true to scale between lo and hi, and
// pressed together outside, where only lost windows lie.
type axis struct {
	lo, hi float64 // pixels
	scale  float64 // cells a pixel, between them
	edge   float64 // cells kept at each end for what is further out
	cells  int
	Broken bool // something is further out
}

// newAxis fits the span from lo to hi into cells. From and to are the furthest
// pixels of anything.
func newAxis(lo, hi, from, to, cells int) axis {
	a := axis{lo: float64(lo), hi: float64(hi), cells: cells}
	if a.Broken = from < lo || to > hi; a.Broken {
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

// Plane is the whole plane of monitors in cells, with everything on it.
type Plane struct {
	Area geom.Rect
	X, Y axis
}

// NewPlane lays the plane out: all monitors, unplugged ones too, at one true
// scale; what lies far outside is drawn in the margin, where the scale is broken.
func NewPlane(d *desk.Desk, more []geom.Rect, area geom.Rect) Plane {
	var monitors []geom.Rect
	for _, m := range d.Monitors {
		monitors = append(monitors, m.Rect)
	}
	bound := geom.Bound(monitors...)
	// A margin around, so that what hangs over an edge is seen.
	dx, dy := bound.W/16, bound.H/10
	bound = geom.R(bound.X-dx, bound.Y-dy, bound.W+2*dx, bound.H+2*dy)
	all := geom.Bound(append(more, bound)...)
	p := Plane{Area: area, X: newAxis(bound.X, bound.Right(), all.X, all.Right(), area.W), Y: newAxis(bound.Y, bound.Bottom(), all.Y, all.Bottom(), area.H)}
	// One scale for both: a cell is about twice as high as it is wide.
	if p.Y.scale*2 > p.X.scale {
		p.Y.scale = p.X.scale / 2
		used := p.Y.scale*(p.Y.hi-p.Y.lo) + 2*p.Y.edge
		p.Y.cells = int(math.Ceil(used))
	} else {
		p.X.scale = p.Y.scale * 2
		used := p.X.scale*(p.X.hi-p.X.lo) + 2*p.X.edge
		p.X.cells = int(math.Ceil(used))
	}
	return p
}

// NewSheetPlane lays one work area out in cells, at one scale both ways.
func NewSheetPlane(work geom.Rect, area geom.Rect) Plane {
	p := Plane{Area: area, X: newAxis(work.X, work.Right(), work.X, work.Right(), area.W), Y: newAxis(work.Y, work.Bottom(), work.Y, work.Bottom(), area.H)}
	if p.Y.scale*2 > p.X.scale {
		p.Y.scale = p.X.scale / 2
	} else {
		p.X.scale = p.Y.scale * 2
	}
	return p
}

// Rect is a rectangle in cells, at least one of them: edges are rounded, so that
// what meets on the plane meets here.
func (p Plane) Rect(r geom.Rect) geom.Rect {
	x0, x1 := int(math.Round(p.X.cell(r.X))), int(math.Round(p.X.cell(r.Right())))
	y0, y1 := int(math.Round(p.Y.cell(r.Y))), int(math.Round(p.Y.cell(r.Bottom())))
	return geom.R(p.Area.X+x0, p.Area.Y+y0, max(x1-x0, 1), max(y1-y0, 1))
}

// DrawBreaks marks where the scale is broken.
func (p Plane) DrawBreaks(c *cells.Canvas, quiet uv.Style) {
	if p.X.Broken {
		for _, x := range []int{int(p.X.edge), p.X.cells - int(p.X.edge)} {
			for y := 0; y < p.Y.cells; y++ {
				if c.Blank(p.Area.X+x, p.Area.Y+y) {
					c.Put(p.Area.X+x, p.Area.Y+y, "╎", quiet)
				}
			}
		}
	}
	if p.Y.Broken {
		for _, y := range []int{int(p.Y.edge), p.Y.cells - int(p.Y.edge)} {
			for x := 0; x < p.X.cells; x++ {
				if c.Blank(p.Area.X+x, p.Area.Y+y) {
					c.Put(p.Area.X+x, p.Area.Y+y, "╌", quiet)
				}
			}
		}
	}
}
