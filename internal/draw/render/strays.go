package render

import (
	"fmt"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
)

// Strays is the drawing of the plane, with what is lost and where it would go.
func Strays(d *desk.Desk) *Drawing {
	plane := draw.NewPlane(d)
	about := "Nothing is lost: every window of every workspace can be reached."
	if n := len(plane.Strays); n > 0 {
		about = desk.Counted(n, "window") + " out of reach. Arrows lead to where rescue would bring them."
	}
	return &Drawing{Title: "Strays", About: about, Pages: []Page{{Title: "Strays", draw: func(p *pen) {
		area := p.under(p.title("Strays", about) + captionHigh)
		list := min(float64(len(plane.Strays))*24+10, area.h/2)
		p.plane(plane, box{area.x, area.y, area.w, area.h - list}, box{area.x, area.y + area.h - list, area.w, list})
	}}}}
}

// plane draws the plane to scale in an area, and the list of strays right under it.
func (p *pen) plane(plane *draw.Plane, area, list box) {
	t, bound := p.Theme, plane.Bound()
	scale := min(area.w/float64(max(bound.W, 1)), area.h/float64(max(bound.H, 1)))
	place := func(r geom.Rect) box {
		return box{area.x + float64(r.X-bound.X)*scale, area.y + float64(r.Y-bound.Y)*scale, float64(r.W) * scale, float64(r.H) * scale}
	}
	for i, m := range plane.Monitors {
		r := place(m.Rect)
		p.begin(m.Name, "monitor")
		if m.Connected {
			p.fill(r.x, r.y, r.w, r.h, t.Sea)
			p.docks(r, place(plane.Docks[i]))
			p.frame(r, 1.2, t.Green)
		} else {
			p.frame(r, 0.6, t.Slate, 1, 3)
		}
		p.bold(r.x, r.y-3, captionSize, t.Slate, p.Fonts.cut(true, captionSize, m.Name, r.w))
		p.end()
	}
	for _, w := range plane.Windows {
		p.frame(place(w.Rect), 0.4, t.Slate)
	}
	for i := range plane.Strays {
		s := &plane.Strays[i]
		from, to := place(s.Rect), place(s.To)
		p.begin(heading(&s.Box), s.Says)
		p.fill(from.x, from.y, from.w, from.h, t.Tint(s.Tint))
		p.frame(from, 1.1, t.Coral, 3, 1.5)
		if s.To != s.Rect {
			p.frame(to, 0.8, t.Brass, 2, 2)
		}
		p.end()
	}
	for i := range plane.Strays { // over all rectangles
		s := &plane.Strays[i]
		from, to := place(s.Rect), place(s.To)
		fx, fy := from.center()
		tx, ty := to.center()
		p.arrow(fx, fy, tx, ty, 0.9, t.Brass)
		p.bold(from.x+3, from.y+labelSize+1, labelSize, t.Coral, fmt.Sprintf("! #%d", s.ID))
	}
	y := area.y + float64(bound.H)*scale + 22
	for i, s := range plane.Strays {
		if y+12 > list.y+list.h {
			p.write(area.x, y, 8, t.Slate, fmt.Sprintf("and %d more", len(plane.Strays)-i))
			return
		}
		p.bold(area.x, y, 8, t.Coral, fmt.Sprintf("! #%d", s.ID))
		p.bold(area.x+40, y, 8, t.Paper, p.Fonts.cut(true, 8, heading(&s.Box), area.w-40))
		p.write(area.x+40, y+10, 8, t.Slate, p.Fonts.cut(false, 8, fmt.Sprintf("on %s: %s; %s, %s", s.On, s.Lost, s.Far, s.Would), area.w-40))
		y += 24
	}
}
