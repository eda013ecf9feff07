package tui

import (
	"fmt"
	"strings"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

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
