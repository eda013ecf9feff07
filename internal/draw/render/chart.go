package render

import (
	"fmt"
	"image/color"
	"math"
	"strconv"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/font"
	"gonum.org/v1/plot/text"
	"gonum.org/v1/plot/vg"
	vgdraw "gonum.org/v1/plot/vg/draw"

	"zatlas/internal/survey"
)

// Survey is the drawing of the charts of a report.
func Survey(r *survey.Report) *Drawing {
	return &Drawing{Title: "Survey: " + r.Title(), About: r.Sentence(), Pages: []Page{surveyPage(r)}}
}

func surveyPage(r *survey.Report) Page {
	return Page{Title: "Survey", draw: func(p *pen) {
		area := p.under(p.title("SURVEY  "+r.Title(), r.Sentence()))
		const gap = 14
		columns, rows := 2, 3
		if p.Paper.W > p.Paper.H {
			columns, rows = 3, 2
		}
		w, h := (area.w-gap*float64(columns-1))/float64(columns), (area.h-gap*float64(rows-1))/float64(rows)
		for i, f := range r.Figures() {
			at := box{area.x + float64(i%columns)*(w+gap), area.y + float64(i/columns)*(h+gap), w, h}
			p.begin(f.Head, f.Words)
			p.bold(at.x, at.y+6, 8, p.Theme.Brass, f.Head)
			y := at.y + 6
			for _, line := range p.Fonts.wrap(false, 7, f.Words, at.w) {
				y += 9
				p.write(at.x, y, 7, p.Theme.Paper, line)
			}
			p.chart(box{at.x, y + 5, at.w, at.y + at.h - y - 5}, p.figure(f))
			p.end()
		}
	}}
}

// maxBars is how many lying bars are shown.
const maxBars = 10

// figure is the plot of a figure; nil where there is nothing to draw.
func (p *pen) figure(f survey.Figure) *plot.Plot {
	switch {
	case f.Shape == survey.Square && f.Fields != nil:
		return p.square(f)
	case len(f.Bars) == 0:
		return nil
	case f.Shape == survey.Lying:
		return p.lyingBars(f, f.Bars[:min(len(f.Bars), maxBars)])
	}
	return p.uprightBars(f)
}

// chart draws a plot into an area.
func (p *pen) chart(at box, pl *plot.Plot) {
	if pl == nil {
		return
	}
	p.Push()
	defer p.Pop()
	c := vgdraw.NewCanvas(p, vg.Points(p.Paper.W), vg.Points(p.Paper.H))
	c.Rectangle = vg.Rectangle{Min: p.point(at.x, at.y+at.h), Max: p.point(at.x+at.w, at.y)}
	pl.Draw(c)
}

// newPlot is a plot in our fonts and colours: two thin axes, and nothing else.
func (p *pen) newPlot(x, y string) *plot.Plot {
	t, pl := p.Theme, plot.New()
	pl.BackgroundColor = nil
	handler := text.Plain{Fonts: p.Fonts.cache()}
	pl.TextHandler = handler
	small := font.Font{Typeface: "atlas", Variant: "Sans", Size: 6.5}
	for _, a := range []*plot.Axis{&pl.X, &pl.Y} {
		a.Color, a.Width, a.Tick.Color, a.Tick.Width, a.Tick.Length, a.Padding = t.Slate, 0.6, t.Slate, 0.6, 3, 0
		a.Tick.Label.Font, a.Tick.Label.Color, a.Tick.Label.Handler = small, t.Paper, handler
		a.Label.TextStyle.Font, a.Label.TextStyle.Color, a.Label.TextStyle.Handler = small, t.Slate, handler
		a.Label.Padding = 2
	}
	pl.X.Label.Text, pl.Y.Label.Text = x, y
	return pl
}

// bars are bars, each of segments one on the other; lying ones go to the right.
type bars struct {
	pen   *pen
	rows  [][]float64
	tints []color.Color // of the segments
	names []string      // written on segments that have room for it
	outer []float64     // an outline around each bar; nil for none
	lying bool
}

// Plot draws them.
func (b bars) Plot(c vgdraw.Canvas, pl *plot.Plot) {
	tx, ty := pl.Transforms(&c)
	at := func(i, from, to float64) vg.Rectangle {
		if b.lying {
			return vg.Rectangle{Min: vg.Point{X: tx(from), Y: ty(i - 0.36)}, Max: vg.Point{X: tx(to), Y: ty(i + 0.36)}}
		}
		return vg.Rectangle{Min: vg.Point{X: tx(i - 0.36), Y: ty(from)}, Max: vg.Point{X: tx(i + 0.36), Y: ty(to)}}
	}
	for i, row := range b.rows {
		sum := 0.0
		for k, v := range row {
			if v <= 0 {
				continue
			}
			r := at(float64(i), sum, sum+v)
			sum += v
			b.pen.segment(r, b.tints[k%len(b.tints)], k)
			b.name(r, k)
		}
		if b.outer != nil && b.outer[i] > 0 {
			b.pen.line(0.8, b.pen.Theme.Paper)
			r := at(float64(i), 0, b.outer[i])
			b.pen.Stroke(r.Path())
		}
	}
}

// segment draws a segment of a bar: its tint, and lines by which it is told from others
// in black and white.
func (p *pen) segment(r vg.Rectangle, tint color.Color, k int) {
	p.SetColor(tint)
	p.Fill(r.Path())
	p.line(0.3, p.Theme.Slate)
	x0, y0, x1, y1 := r.Min.X.Points(), r.Min.Y.Points(), r.Max.X.Points(), r.Max.Y.Points()
	cross := func(ax, ay, bx, by float64) {
		p.Stroke(vg.Path{{Type: vg.MoveComp, Pos: vg.Point{X: vg.Points(ax), Y: vg.Points(ay)}}, {Type: vg.LineComp, Pos: vg.Point{X: vg.Points(bx), Y: vg.Points(by)}}})
	}
	const gap = 3.5
	switch k % 4 {
	case 1: // rising
		for c := math.Ceil((y0-x1)/gap) * gap; c < y1-x0; c += gap {
			from, to := max(x0, y0-c), min(x1, y1-c)
			if from < to {
				cross(from, from+c, to, to+c)
			}
		}
	case 2: // level
		for y := math.Ceil(y0/gap) * gap; y < y1; y += gap {
			cross(x0, y, x1, y)
		}
	case 3: // falling
		for c := math.Ceil((x0+y0)/gap) * gap; c < x1+y1; c += gap {
			from, to := max(x0, c-y1), min(x1, c-y0)
			if from < to {
				cross(from, c-from, to, c-to)
			}
		}
	}
	p.line(0.4, p.Theme.Paper)
	p.Stroke(r.Path())
}

// name writes the name of a segment on it, so that it is known without its colour.
func (b bars) name(r vg.Rectangle, k int) {
	const size = 6
	if b.names == nil {
		return
	}
	w := b.pen.wide(size, b.names[k])
	if (r.Max.X-r.Min.X).Points() < w+2 || (r.Max.Y-r.Min.Y).Points() < size {
		return
	}
	x, y := (r.Min.X.Points()+r.Max.X.Points()-w)/2, (r.Min.Y.Points()+r.Max.Y.Points())/2-size*0.36
	ground := vg.Rectangle{Min: vg.Point{X: vg.Points(x - 1), Y: vg.Points(y - 1)}, Max: vg.Point{X: vg.Points(x + w + 1), Y: vg.Points(y + size - 1)}}
	b.pen.SetColor(b.tints[k%len(b.tints)])
	b.pen.Fill(ground.Path())
	b.pen.SetColor(b.pen.Theme.Paper)
	b.pen.FillString(b.pen.Fonts.face(false, size), vg.Point{X: vg.Points(x), Y: vg.Points(y)}, b.names[k])
}

// DataRange is what they take.
func (b bars) DataRange() (xmin, xmax, ymin, ymax float64) {
	most := 0.0
	for i, row := range b.rows {
		sum := 0.0
		for _, v := range row {
			sum += v
		}
		most = max(most, sum)
		if b.outer != nil {
			most = max(most, b.outer[i])
		}
	}
	n := float64(len(b.rows)) - 0.5
	if b.lying {
		return 0, most, -0.5, n
	}
	return -0.5, n, 0, most
}

// tints are the tints of n segments.
func (p *pen) tints(n int) (all []color.Color) {
	for i := range n {
		all = append(all, p.Theme.Tint(i))
	}
	return all
}

// ticks are ticks with names at whole numbers.
func ticks(names []string) plot.ConstantTicks {
	var all []plot.Tick
	for i, n := range names {
		all = append(all, plot.Tick{Value: float64(i), Label: n})
	}
	return all
}

// scale has an axis begin at 0, and gives it the figure's ticks.
func scale(a *plot.Axis, f survey.Figure) {
	a.Min, a.Max = 0, f.Most*1.04
	var all []plot.Tick
	for _, v := range f.Ticks {
		all = append(all, plot.Tick{Value: v, Label: survey.TickWords(v)})
	}
	a.Tick.Marker = plot.ConstantTicks(all)
}

// uprightBars are bars side by side, with a legend beside them where the figure has one.
func (p *pen) uprightBars(f survey.Figure) *plot.Plot {
	b := bars{pen: p, tints: p.tints(max(len(f.Parts), 1)), names: f.Parts}
	var named []plot.Tick
	for i, bar := range f.Bars {
		b.rows, b.outer = append(b.rows, bar.Parts), append(b.outer, bar.Outline)
		if bar.Named {
			named = append(named, plot.Tick{Value: float64(i), Label: bar.Name})
		}
	}
	unit := f.Unit
	if f.Outline != "" {
		unit += ": outlined " + f.Outline + ", filled " + f.Filled
	}
	pl := p.newPlot(f.Across, unit)
	pl.Add(b)
	scale(&pl.Y, f)
	pl.X.Tick.Marker = plot.ConstantTicks(named)
	if f.Legend == nil {
		return pl
	}
	pl.Legend.TextStyle.Font, pl.Legend.TextStyle.Color, pl.Legend.TextStyle.Handler = pl.X.Tick.Label.Font, p.Theme.Paper, pl.TextHandler
	pl.Legend.Top, pl.Legend.ThumbnailWidth, pl.Legend.Padding = true, 10, 3
	for i, w := range f.Legend {
		name := w.Label
		if name != f.Parts[i] {
			name = f.Parts[i] + " " + w.Label
		}
		pl.Legend.Add(p.Fonts.cut(false, 6.5, fmt.Sprintf("%s  %s", name, survey.Duration(w.Seconds)), 110), swatch{p, b.tints[i], i})
	}
	pl.X.Max = float64(len(b.rows)) - 0.5 + float64(len(b.rows))*0.62
	pl.X.Min = -0.5
	return pl
}

// swatch is a tint in a legend.
type swatch struct {
	pen  *pen
	tint color.Color
	k    int
}

// Thumbnail draws it.
func (s swatch) Thumbnail(c *vgdraw.Canvas) {
	s.pen.segment(c.Rectangle, s.tint, s.k)
}

// lyingBars are bars with names at their left, the first at the top.
func (p *pen) lyingBars(f survey.Figure, of []survey.Bar) *plot.Plot {
	n := len(of)
	b := bars{pen: p, lying: true, tints: p.tints(max(len(f.Parts), 1)), rows: make([][]float64, n), names: f.Parts}
	labels := make([]string, n)
	for i, bar := range of {
		b.rows[n-1-i], labels[n-1-i] = bar.Parts, p.Fonts.cut(false, 6.5, bar.Name, 90)
	}
	pl := p.newPlot(f.Unit, "")
	pl.Add(b)
	scale(&pl.X, f)
	pl.Y.Tick.Marker, pl.Y.Tick.Length, pl.Y.Width = ticks(labels), 0, 0
	return pl
}

// square is switches from and to: a tint and a figure in each field.
type square struct {
	pen *pen
	n   [][]int
}

// Plot draws it, the first row at the top.
func (s square) Plot(c vgdraw.Canvas, pl *plot.Plot) {
	tx, ty := pl.Transforms(&c)
	most := 1
	for _, row := range s.n {
		for _, n := range row {
			most = max(most, n)
		}
	}
	rows := len(s.n)
	for i, row := range s.n {
		for j, n := range row {
			r := vg.Rectangle{Min: vg.Point{X: tx(float64(j) - 0.5), Y: ty(float64(rows-1-i) - 0.5)}, Max: vg.Point{X: tx(float64(j) + 0.5), Y: ty(float64(rows-1-i) + 0.5)}}
			s.pen.SetColor(mixed(s.pen.Theme.Sea, s.pen.Theme.Brass, float64(n)/float64(most)*0.75))
			if i != j {
				s.pen.Fill(r.Path())
			}
			s.pen.line(0.4, s.pen.Theme.Slate)
			s.pen.Stroke(r.Path())
			words := strconv.Itoa(n)
			size := min(7, (r.Max.Y-r.Min.Y).Points()*0.7, (r.Max.X-r.Min.X).Points()*0.9/float64(len(words))*1.6)
			if n == 0 || size < 3 {
				continue
			}
			s.pen.SetColor(s.pen.Theme.Paper)
			x := (r.Min.X.Points() + r.Max.X.Points() - s.pen.wide(size, words)) / 2
			s.pen.FillString(s.pen.Fonts.face(false, size), vg.Point{X: vg.Points(x), Y: (r.Min.Y+r.Max.Y)/2 - vg.Points(size*0.36)}, words)
		}
	}
}

// DataRange is the fields.
func (s square) DataRange() (xmin, xmax, ymin, ymax float64) {
	n := float64(len(s.n)) - 0.5
	return -0.5, n, -0.5, n
}

// mixed is a colour between two.
func mixed(a, b color.RGBA, share float64) color.RGBA {
	mix := func(x, y uint8) uint8 { return uint8(math.Round(float64(x) + (float64(y)-float64(x))*share)) }
	return color.RGBA{mix(a.R, b.R), mix(a.G, b.G), mix(a.B, b.B), 255}
}

// square is the plot of a square.
func (p *pen) square(f survey.Figure) *plot.Plot {
	pl := p.newPlot("to", "from")
	pl.Add(square{p, f.Fields})
	n := len(f.Names)
	across, down := make([]string, n), make([]string, n)
	for i, name := range f.Names {
		across[i] = p.Fonts.cut(false, 6.5, name, 190/float64(n))
		down[n-1-i] = p.Fonts.cut(false, 6.5, name, 60)
	}
	pl.X.Tick.Marker, pl.Y.Tick.Marker = ticks(across), ticks(down)
	pl.X.Tick.Length, pl.Y.Tick.Length, pl.X.Width, pl.Y.Width = 0, 0, 0, 0
	return pl
}
