package render

import (
	"image"
	"image/color"
	"math"

	stdfont "golang.org/x/image/font"
	"gonum.org/v1/plot/font"
	"gonum.org/v1/plot/vg"
)

// format is what a canvas ends in: shapes and texts at their places on a page, in
// points from its upper left corner.
type format interface {
	// path draws a path, filled or as a line.
	path(segments []segment, s state, fill bool)
	// text writes a text; angle is in degrees, against the clock.
	text(x, y, angle, size float64, bold bool, text string, c color.NRGBA)
	// begin and end stand around what belongs together, with a title and a
	// description that are read aloud.
	begin(title, about string)
	end()
}

// nowhere is the format of what is only measured.
type nowhere struct{}

func (nowhere) path([]segment, state, bool)                              {}
func (nowhere) text(_, _, _, _ float64, _ bool, _ string, _ color.NRGBA) {}
func (nowhere) begin(_, _ string)                                        {}
func (nowhere) end()                                                     {}

// segment is a part of a path: to where, and over which points where it is a curve.
type segment struct {
	kind byte // 'M' move, 'L' line, 'C' curve, 'Z' close
	x, y [3]float64
}

// state is how is drawn.
type state struct {
	m      [6]float64 // from the plot's coordinates to the page's: x' = m0 x + m2 y + m4
	width  float64
	dash   []float64
	offset float64
	colour color.NRGBA
}

// canvas is a page that plots can draw on: all of vg.Canvas but what the format does.
type canvas struct {
	format
	state
	saved []state
}

var _ vg.Canvas = (*canvas)(nil)

// newCanvas is one of a height in points. Plots count from the lower left corner.
func newCanvas(f format, height float64) *canvas {
	return &canvas{format: f, state: state{m: [6]float64{1, 0, 0, -1, 0, height}, width: 1, colour: color.NRGBA{A: 255}}}
}

// SetLineWidth sets the width of lines.
func (c *canvas) SetLineWidth(w vg.Length) { c.width = w.Points() }

// SetLineDash sets the dashes of lines.
func (c *canvas) SetLineDash(pattern []vg.Length, offset vg.Length) {
	c.dash = nil
	for _, p := range pattern {
		c.dash = append(c.dash, p.Points())
	}
	c.offset = offset.Points()
}

// SetColor sets the colour of what is drawn from now on; nil is black.
func (c *canvas) SetColor(of color.Color) {
	if of == nil {
		of = color.Black
	}
	c.colour = color.NRGBAModel.Convert(of).(color.NRGBA)
}

// Rotate turns what is drawn from now on.
func (c *canvas) Rotate(rad float64) {
	sin, cos := math.Sincos(rad)
	m := c.m
	c.m[0], c.m[1] = m[0]*cos+m[2]*sin, m[1]*cos+m[3]*sin
	c.m[2], c.m[3] = m[2]*cos-m[0]*sin, m[3]*cos-m[1]*sin
}

// Translate moves it.
func (c *canvas) Translate(pt vg.Point) { c.m[4], c.m[5] = c.at(pt) }

// Scale scales it.
func (c *canvas) Scale(x, y float64) {
	c.m[0], c.m[1], c.m[2], c.m[3] = c.m[0]*x, c.m[1]*x, c.m[2]*y, c.m[3]*y
}

// Push saves how is drawn.
func (c *canvas) Push() { c.saved = append(c.saved, c.state) }

// Pop draws as was saved last.
func (c *canvas) Pop() {
	c.state = c.saved[len(c.saved)-1]
	c.saved = c.saved[:len(c.saved)-1]
}

// at is where a point of the plot is on the page.
func (c *canvas) at(p vg.Point) (x, y float64) {
	px, py := p.X.Points(), p.Y.Points()
	return c.m[0]*px + c.m[2]*py + c.m[4], c.m[1]*px + c.m[3]*py + c.m[5]
}

// by is by how much lengths are scaled.
func (c *canvas) by() float64 { return math.Sqrt(math.Abs(c.m[0]*c.m[3] - c.m[1]*c.m[2])) }

// Stroke draws a path as a line.
func (c *canvas) Stroke(p vg.Path) {
	if c.width > 0 {
		c.draw(p, false)
	}
}

// Fill fills a path.
func (c *canvas) Fill(p vg.Path) { c.draw(p, true) }

func (c *canvas) draw(p vg.Path, fill bool) {
	if c.colour.A == 0 {
		return
	}
	s := c.state
	s.width *= c.by()
	c.path(c.segments(p), s, fill)
}

// segments are the parts of a path on the page, arcs as curves.
func (c *canvas) segments(p vg.Path) (all []segment) {
	add := func(kind byte, points ...vg.Point) {
		s := segment{kind: kind}
		for i, pt := range points {
			s.x[i], s.y[i] = c.at(pt)
		}
		all = append(all, s)
	}
	var now vg.Point
	for _, part := range p {
		switch part.Type {
		case vg.MoveComp:
			add('M', part.Pos)
		case vg.LineComp:
			add('L', part.Pos)
		case vg.CurveComp:
			one, two := now, part.Pos
			if len(part.Control) == 1 { // of the second degree
				q := part.Control[0]
				one = now.Add(q.Sub(now).Scale(2.0 / 3))
				two = part.Pos.Add(q.Sub(part.Pos).Scale(2.0 / 3))
			} else if len(part.Control) == 2 {
				one, two = part.Control[0], part.Control[1]
			}
			add('C', one, two, part.Pos)
		case vg.ArcComp:
			begins, curves := arc(part)
			kind := byte('L')
			if len(all) == 0 {
				kind = 'M'
			}
			add(kind, begins)
			for _, k := range curves {
				add('C', k[:]...)
				now = k[2]
			}
			continue
		case vg.CloseComp:
			add('Z')
			continue
		}
		now = part.Pos
	}
	return all
}

// arc is a part of a circle as curves of at most a quarter each.
func arc(a vg.PathComp) (begins vg.Point, curves [][3]vg.Point) {
	on := func(angle, out float64) vg.Point {
		sin, cos := math.Sincos(angle)
		r := a.Radius.Points()
		return a.Pos.Add(vg.Point{X: vg.Points(r * (cos - out*sin)), Y: vg.Points(r * (sin + out*cos))})
	}
	n := max(1, int(math.Ceil(math.Abs(a.Angle)/(math.Pi/2)-1e-9)))
	step := a.Angle / float64(n)
	k := 4.0 / 3 * math.Tan(step/4)
	for i := range n {
		from := a.Start + float64(i)*step
		curves = append(curves, [3]vg.Point{on(from, k), on(from+step, -k), on(from+step, 0)})
	}
	return on(a.Start, 0), curves
}

// FillString writes a text.
func (c *canvas) FillString(f font.Face, pt vg.Point, text string) {
	if f.Font.Size <= 0 || text == "" {
		return
	}
	x, y := c.at(pt)
	angle := math.Atan2(-c.m[1], c.m[0]) * 180 / math.Pi
	c.text(x, y, angle, f.Font.Size.Points()*c.by(), f.Font.Weight >= stdfont.WeightBold, text, c.colour)
}

// DrawImage draws an image, each pixel as a rectangle.
func (c *canvas) DrawImage(r vg.Rectangle, img image.Image) {
	b := img.Bounds()
	w, h := (r.Max.X-r.Min.X)/vg.Length(b.Dx()), (r.Max.Y-r.Min.Y)/vg.Length(b.Dy())
	for y := range b.Dy() {
		for x := range b.Dx() {
			c.SetColor(img.At(b.Min.X+x, b.Min.Y+y))
			low := vg.Point{X: r.Min.X + w*vg.Length(x), Y: r.Max.Y - h*vg.Length(y+1)}
			c.Fill((&vg.Rectangle{Min: low, Max: low.Add(vg.Point{X: w, Y: h})}).Path())
		}
	}
}
