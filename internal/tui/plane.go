package tui

import (
	"fmt"
	"math"
	"strings"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
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

// rect is a rectangle in cells, at least one of them: edges are rounded, so that
// what meets on the plane meets here.
func (p plane) rect(r geom.Rect) geom.Rect {
	x0, x1 := int(math.Round(p.x.cell(r.X))), int(math.Round(p.x.cell(r.Right())))
	y0, y1 := int(math.Round(p.y.cell(r.Y))), int(math.Round(p.y.cell(r.Bottom())))
	return geom.R(p.area.X+x0, p.area.Y+y0, max(x1-x0, 1), max(y1-y0, 1))
}

// drawPlane draws the monitors, what is on them, and the strays with the way to
// where each would go. Would is the desk as it would be; nil where nothing is
// asked for.
func (m *model) drawPlane(c *canvas, area geom.Rect, would *desk.Desk) {
	t := m.opt.Theme
	quiet := t.style(t.Slate)
	var far []geom.Rect
	lost := m.lost()
	for _, w := range lost {
		far = append(far, w.Rect)
	}
	if w := m.d.Window(m.sel.window); w != nil {
		far = append(far, w.Rect)
	}
	p := newPlane(m.d, far, area)
	for _, mon := range m.d.Monitors {
		m.drawMonitor(c, p, mon)
	}
	for _, w := range m.d.Windows {
		if w.ID != m.sel.window && m.d.Lost(w).Cause == stray.None && m.d.Visible(w) {
			c.box(p.rect(w.Rect), lightFrame, quiet, nil)
		}
	}
	coral := bold(t.style(t.Coral))
	for _, w := range lost {
		r := p.rect(w.Rect)
		c.box(r, lightFrame, coral, nil)
		c.stop(r, selection{window: w.ID})
		if w.ID != m.sel.window {
			m.drawWay(c, p, w.Rect, m.wouldBe(w, nil), quiet, len(lost) <= fewStrays)
		}
	}
	// Names come last, so that no frame cuts them.
	for _, mon := range m.d.Monitors {
		m.nameMonitor(c, p, mon)
	}
	for _, w := range lost {
		m.name(c, p.rect(w.Rect), w, coral)
	}
	if w := m.d.Window(m.sel.window); w != nil {
		if now := m.wouldBe(w, would); now != w.Rect {
			m.drawWay(c, p, w.Rect, now, t.style(t.Brass), true)
		}
		r := p.rect(w.Rect)
		st := bold(t.style(t.Brass))
		c.boxWhere(r, doubleFrame, st, nil, func(x, y int) bool { return !c.written(x, y) || y == r.Y || y == r.Bottom()-1 })
		m.name(c, r, w, st)
	}
	if p.x.broken || p.y.broken {
		m.drawBreaks(c, p)
		c.text(area.X+1, area.Bottom()-1, area.W-2, "Beyond ╎ and ╌ the scale is broken: it is further than it looks.", quiet)
	}
}

// wouldBe is where a window would be: by what is asked for, else by a rescue.
func (m *model) wouldBe(w *desk.Window, would *desk.Desk) geom.Rect {
	if would != nil {
		if next := would.Window(w.ID); next != nil {
			return next.Rect
		}
	}
	if m.d.Lost(w).Cause == stray.None {
		return w.Rect
	}
	r, _ := stray.Rescue(w.Lost(), m.d.Strays())
	return r
}

func (m *model) drawMonitor(c *canvas, p plane, mon desk.Monitor) {
	t := m.opt.Theme
	r := p.rect(mon.Rect)
	if !mon.Connected {
		for y := r.Y; y < r.Bottom(); y++ {
			for x := r.X + y%2; x < r.Right(); x += 3 {
				c.put(x, y, "·", t.style(t.Slate))
			}
		}
		return
	}
	sea := uv.Style{Fg: t.Slate, Bg: t.Sea}
	c.fill(r, " ", sea)
	work := p.rect(mon.Work)
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X; x < r.Right(); x++ {
			if mon.Work != mon.Rect && !work.Has(geom.Point{X: x, Y: y}) {
				c.put(x, y, "░", sea)
			}
		}
	}
	c.box(r, roundFrame, t.style(t.Green), t.Sea)
}

// nameMonitor writes a monitor's letter, name and state on its upper edge.
func (m *model) nameMonitor(c *canvas, p plane, mon desk.Monitor) {
	t := m.opt.Theme
	r := p.rect(mon.Rect)
	st := bold(t.style(t.Green))
	name := fmt.Sprintf(" %c · %s ", mon.Letter, mon.Name)
	switch {
	case mon.Mirrors != 0:
		st = t.style(t.Slate)
		name += fmt.Sprintf("mirrors %c ", mon.Mirrors)
	case !mon.Connected:
		st = t.style(t.Slate)
		name += "unplugged "
	}
	if r.Y--; r.Y < p.area.Y {
		r.Y++
	}
	c.text(r.X+1, r.Y, r.W-2, strings.TrimSpace(name), st)
}

// fewStrays is up to how many the places where they would go are all outlined: of
// more, only that of the chosen one, or the plane would be full of outlines.
const fewStrays = 3

func (m *model) name(c *canvas, r geom.Rect, w *desk.Window, st uv.Style) {
	label := fmt.Sprintf("! #%d", w.ID)
	if m.d.Lost(w).Cause == stray.None {
		label = fmt.Sprintf("#%d", w.ID)
	}
	if r.W >= 14 {
		label += " " + w.App
	}
	y := r.Y
	if r.H > 2 {
		y++
	}
	c.text(r.X+1, y, max(r.W-2, width(strings.Fields(label)[0])+4), label, st)
}

// drawWay draws a line to where a window would go, and perhaps the outline there.
func (m *model) drawWay(c *canvas, p plane, from, to geom.Rect, st uv.Style, outline bool) {
	if from == to {
		return
	}
	a, b := p.rect(from).Center(), p.rect(to).Center()
	steps := max(abs(b.X-a.X), abs(b.Y-a.Y))
	for i := 1; i < steps; i++ {
		x, y := a.X+(b.X-a.X)*i/steps, a.Y+(b.Y-a.Y)*i/steps
		if i%2 == 0 && c.blank(x, y) {
			s := st
			_, under := c.at(x, y)
			s.Bg = under.Bg
			c.put(x, y, "•", s)
		}
	}
	if outline {
		c.box(p.rect(to), pencilFrame, st, nil)
	}
}

// drawBreaks marks where the scale is broken.
func (m *model) drawBreaks(c *canvas, p plane) {
	quiet := m.opt.Theme.style(m.opt.Theme.Slate)
	if p.x.broken {
		for _, x := range []int{int(p.x.edge), p.x.cells - int(p.x.edge)} {
			for y := 0; y < p.y.cells; y++ {
				if c.blank(p.area.X+x, p.area.Y+y) {
					c.put(p.area.X+x, p.area.Y+y, "╎", quiet)
				}
			}
		}
	}
	if p.y.broken {
		for _, y := range []int{int(p.y.edge), p.y.cells - int(p.y.edge)} {
			for x := 0; x < p.x.cells; x++ {
				if c.blank(p.area.X+x, p.area.Y+y) {
					c.put(p.area.X+x, p.area.Y+y, "╌", quiet)
				}
			}
		}
	}
}

func abs(n int) int { return max(n, -n) }
