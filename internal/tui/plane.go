package tui

import (
	"fmt"
	"slices"
	"strings"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// drawPlane draws the monitors, what is on them, and the strays with the way to
// where each would go. Would is the desk as it would be; nil where nothing is
// asked for.
func (m *model) drawPlane(c *cells.Canvas, area geom.Rect, would *desk.Desk) {
	t := m.opt.Theme
	quiet := t.Style(t.Slate)
	var far []geom.Rect
	lost := m.lost()
	for _, w := range lost {
		far = append(far, w.Rect)
	}
	if w := m.d.Window(m.sel.Window); w != nil {
		far = append(far, w.Rect)
	}
	p := atlasmap.NewPlane(m.d, far, area)
	for _, mon := range m.d.Monitors {
		m.drawMonitor(c, p, mon)
	}
	for _, w := range m.d.Windows {
		if w.ID != m.sel.Window && m.d.Lost(w).Cause == stray.None && m.d.Visible(w) {
			r := p.Rect(w.Rect)
			c.Box(r, cells.LightFrame, quiet, nil)
			if r.W > leastNamed && r.H > 2 {
				c.Text(r.X+1, r.Y+1, r.W-2, w.App, uv.Style{Fg: t.Slate, Bg: t.Sea})
			}
		}
	}
	coral := cells.Bold(t.Style(t.Coral))
	for _, w := range lost {
		r := p.Rect(w.Rect)
		c.Box(r, cells.LightFrame, coral, nil)
		c.Stop(r, cells.Selection{Window: w.ID})
		if w.ID != m.sel.Window {
			m.drawWay(c, p, w.Rect, m.wouldBe(w, nil), quiet, len(lost) <= fewStrays)
		}
	}
	// Names come last, so that no frame cuts them.
	for _, mon := range m.d.Monitors {
		m.nameMonitor(c, p, mon)
	}
	names, own, ownName := labels{}, geom.Rect{}, ""
	if w := m.d.Window(m.sel.Window); w != nil { // before the others have theirs
		r := p.Rect(w.Rect)
		own, ownName = names.place(r, m.strayNames(r, w))
		names = append(names, geom.R(r.X, r.Y, r.W, 1), geom.R(r.X, r.Bottom()-1, r.W, 1), geom.R(r.X, r.Y, 1, r.H), geom.R(r.Right()-1, r.Y, 1, r.H))
	}
	for _, w := range lost {
		if r := p.Rect(w.Rect); w.ID != m.sel.Window {
			if at, label := names.place(r, m.strayNames(r, w)); !at.Empty() {
				c.Text(at.X, at.Y, at.W, label, coral)
			}
		}
	}
	if w := m.d.Window(m.sel.Window); w != nil {
		if now := m.wouldBe(w, would); now != w.Rect {
			m.drawWay(c, p, w.Rect, now, t.Style(t.Brass), true)
		}
		r := p.Rect(w.Rect)
		st := cells.Bold(t.Style(t.Brass))
		c.BoxWhere(r, cells.DoubleFrame, st, nil, func(x, y int) bool { return !c.Written(x, y) || y == r.Y || y == r.Bottom()-1 })
		c.Text(own.X, own.Y, own.W, ownName, st)
	}
	if p.X.Broken || p.Y.Broken {
		p.DrawBreaks(c, quiet)
		c.Text(area.X+1, area.Bottom()-1, area.W-2, "Beyond ╎ and ╌ the scale is broken: it is further than it looks.", quiet)
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

func (m *model) drawMonitor(c *cells.Canvas, p atlasmap.Plane, mon desk.Monitor) {
	t := m.opt.Theme
	r := p.Rect(mon.Rect)
	if !mon.Connected {
		for y := r.Y; y < r.Bottom(); y++ {
			for x := r.X + y%2; x < r.Right(); x += 3 {
				c.Put(x, y, "·", t.Style(t.Slate))
			}
		}
		return
	}
	sea := uv.Style{Fg: t.Slate, Bg: t.Sea}
	c.Fill(r, " ", sea)
	work := p.Rect(mon.Work)
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X; x < r.Right(); x++ {
			if mon.Work != mon.Rect && !work.Has(geom.Point{X: x, Y: y}) {
				c.Put(x, y, "░", sea)
			}
		}
	}
	c.Box(r, cells.RoundFrame, t.Style(t.Green), t.Sea)
}

// nameMonitor writes a monitor's letter, name and state on its upper edge.
func (m *model) nameMonitor(c *cells.Canvas, p atlasmap.Plane, mon desk.Monitor) {
	t := m.opt.Theme
	r := p.Rect(mon.Rect)
	st := cells.Bold(t.Style(t.Green))
	name := fmt.Sprintf(" %c · %s ", mon.Letter, mon.Name)
	switch {
	case mon.Mirrors != 0:
		st = t.Style(t.Slate)
		name += fmt.Sprintf("mirrors %c ", mon.Mirrors)
	case !mon.Connected:
		st = t.Style(t.Slate)
		name += "unplugged "
	}
	if r.Y--; r.Y < p.Area.Y {
		r.Y++
	}
	c.Text(r.X+1, r.Y, r.W-2, strings.TrimSpace(name), st)
}

// fewStrays is up to how many strays have an outline where they would go. Of more, only the
// chosen one has: the plane would be full of outlines.
const fewStrays = 3

// leastNamed is the width in cells of the frame of a window that is not lost, to have its name.
const leastNamed = 8

// strayNames are what a window is called in a frame: its number and app if that has room, else
// the number alone.
func (m *model) strayNames(r geom.Rect, w *desk.Window) []string {
	number := fmt.Sprintf("#%d", w.ID)
	if m.d.Lost(w).Cause != stray.None {
		number = "! " + number
	}
	if r.W < 14 {
		return []string{number}
	}
	return []string{number + " " + w.App, number}
}

// labels are the places of names on a plane.
type labels []geom.Rect

// place finds room in a frame for the first of some names that meets none placed before it; the
// last name is never cut. The place is empty if there is none.
func (l *labels) place(r geom.Rect, names []string) (at geom.Rect, name string) {
	first, last := r.Y+1, r.Bottom()-2
	if r.H <= 2 {
		first, last = r.Y, r.Bottom()-1
	}
	for _, name := range names {
		wide := max(min(cells.Width(name), r.W-2), cells.Width(names[len(names)-1]))
		for x := r.X + 1; x == r.X+1 || x+wide < r.Right(); x++ {
			for y := first; y <= last; y++ {
				at := geom.R(x, y, wide, 1)
				if !slices.ContainsFunc(*l, at.Overlaps) {
					*l = append(*l, at)
					return at, name
				}
			}
		}
	}
	return geom.Rect{}, ""
}

// drawWay draws a line to where a window would go, and perhaps the outline there. The line has
// every second cell, and every one over the dots of an unplugged monitor.
func (m *model) drawWay(c *cells.Canvas, p atlasmap.Plane, from, to geom.Rect, st uv.Style, outline bool) {
	if from == to {
		return
	}
	a, b := p.Rect(from).Center(), p.Rect(to).Center()
	steps := max(b.X-a.X, a.X-b.X, b.Y-a.Y, a.Y-b.Y)
	for i := 1; i < steps; i++ {
		x, y := a.X+(b.X-a.X)*i/steps, a.Y+(b.Y-a.Y)*i/steps
		content, under := c.At(x, y)
		if dot := content == "·"; dot || i%2 == 0 && c.Blank(x, y) {
			s := st
			s.Bg = under.Bg
			c.Put(x, y, "•", s)
		}
	}
	if outline {
		c.Box(p.Rect(to), cells.PencilFrame, st, nil)
	}
}
