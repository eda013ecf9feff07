package render

import (
	"image/color"
	"math"

	"gonum.org/v1/plot/vg"

	"zatlas/internal/draw"
)

// margin is what stays free around a page, in points.
const margin = 28

// pen draws on a page in points from its upper left corner, y down.
type pen struct {
	*canvas
	Style
}

func (p *pen) point(x, y float64) vg.Point {
	return vg.Point{X: vg.Points(x), Y: vg.Points(p.Paper.H - y)}
}

// box is a rectangle in points.
type box struct{ x, y, w, h float64 }

func (b box) center() (x, y float64) { return b.x + b.w/2, b.y + b.h/2 }

func (p *pen) rect(b box) vg.Path {
	r := vg.Rectangle{Min: p.point(b.x, b.y+b.h), Max: p.point(b.x+b.w, b.y)}
	return r.Path()
}

func (p *pen) fill(x, y, w, h float64, c color.Color) {
	p.SetColor(c)
	p.Fill(p.rect(box{x, y, w, h}))
}

// frame draws the edges of a rectangle.
func (p *pen) frame(b box, width float64, c color.Color, dash ...vg.Length) {
	p.line(width, c, dash...)
	p.Stroke(p.rect(b))
}

func (p *pen) line(width float64, c color.Color, dash ...vg.Length) {
	p.SetColor(c)
	p.SetLineWidth(vg.Points(width))
	p.SetLineDash(dash, 0)
}

// stroke draws a line over points, given as x and y in turn.
func (p *pen) stroke(width float64, c color.Color, at ...float64) {
	p.line(width, c)
	var path vg.Path
	for i := 0; i < len(at); i += 2 {
		if i == 0 {
			path.Move(p.point(at[0], at[1]))
		} else {
			path.Line(p.point(at[i], at[i+1]))
		}
	}
	p.Stroke(path)
}

// write writes a text with its base line at y.
func (p *pen) write(x, y, size float64, c color.Color, text string) {
	p.SetColor(c)
	p.FillString(p.Fonts.face(false, size), p.point(x, y), text)
}

// bold writes a text in bold.
func (p *pen) bold(x, y, size float64, c color.Color, text string) {
	p.SetColor(c)
	p.FillString(p.Fonts.face(true, size), p.point(x, y), text)
}

func (p *pen) wide(size float64, text string) float64 { return p.Fonts.width(false, size, text) }

// measure measures captions at a size; names are bold, and so a little wider.
func (p *pen) measure(size float64) draw.Measure {
	return draw.Measure{
		Width: func(s string) float64 { return p.Fonts.width(true, size, s) },
		Cut:   func(s string, w float64) string { return p.Fonts.cut(true, size, s, w) },
	}
}

// arrow draws a line with a head at its end, and a small ring where it begins.
func (p *pen) arrow(x0, y0, x1, y1, width float64, c color.Color) {
	long := math.Hypot(x1-x0, y1-y0)
	if long < 1 {
		return
	}
	ux, uy := (x1-x0)/long, (y1-y0)/long
	head := min(3.5*width+3, long)
	bx, by := x1-ux*head, y1-uy*head
	p.stroke(width, c, x0, y0, bx, by)
	var path vg.Path
	path.Move(p.point(x1, y1))
	path.Line(p.point(bx-uy*head/2.4, by+ux*head/2.4))
	path.Line(p.point(bx+uy*head/2.4, by-ux*head/2.4))
	path.Close()
	p.SetColor(c)
	p.Fill(path)
	var ring vg.Path
	ring.Arc(p.point(x0, y0), vg.Points(width+0.8), 0, 2*math.Pi)
	ring.Close()
	p.Fill(ring)
}
