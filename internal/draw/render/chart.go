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
		for i, c := range charts() {
			at := box{area.x + float64(i%columns)*(w+gap), area.y + float64(i/columns)*(h+gap), w, h}
			p.begin(c.head, c.words(r))
			p.bold(at.x, at.y+6, 8, p.Theme.Brass, c.head)
			y := at.y + 6
			for _, line := range p.Fonts.wrap(false, 7, c.words(r), at.w) {
				y += 9
				p.write(at.x, y, 7, p.Theme.Paper, line)
			}
			p.chart(box{at.x, y + 5, at.w, at.y + at.h - y - 5}, c.plot(p, r))
			p.end()
		}
	}}
}

// chart is one of the charts: its head, what it says in a sentence, and its plot; nil
// where there is nothing to draw.
type chart struct {
	head  string
	words func(r *survey.Report) string
	plot  func(p *pen, r *survey.Report) *plot.Plot
}

func charts() []chart {
	return []chart{
		{"HOURS BY WORKSPACE", (*survey.Report).HoursWords, (*pen).hours},
		{"HOURS BY APP", (*survey.Report).AppsWords, (*pen).apps},
		{"SWITCHES", (*survey.Report).SwitchWords, (*pen).switches},
		{"CROWDING", (*survey.Report).CrowdWords, (*pen).crowding},
		{"LOST AND FOUND", (*survey.Report).LostWords, (*pen).lost},
		{"DONE MOST, AND HOW", (*survey.Report).DoneWords, (*pen).done},
	}
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
func ticks(names []string, each int) plot.ConstantTicks {
	var all []plot.Tick
	for i, n := range names {
		if i%each == 0 {
			all = append(all, plot.Tick{Value: float64(i), Label: n})
		}
	}
	return all
}

// scale has an axis begin at 0 and have ticks at round numbers.
func scale(a *plot.Axis, most float64) {
	a.Min, a.Max = 0, max(most, 1e-9)*1.04
	step := math.Pow(10, math.Floor(math.Log10(a.Max)))
	for _, by := range []float64{0.2, 0.5, 1, 2} {
		if a.Max/(step*by) <= 6 {
			step *= by
			break
		}
	}
	var all []plot.Tick
	for v := 0.0; v <= a.Max; v += step {
		all = append(all, plot.Tick{Value: v, Label: strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64)})
	}
	a.Tick.Marker = plot.ConstantTicks(all)
}

// slotNames are what stands under the slots, and which of them.
func slotNames(r *survey.Report) (names []string, each int) {
	for _, s := range r.Seen() {
		names = append(names, s.Label)
	}
	return names, map[survey.Period]int{survey.Day: 2, survey.Week: 1, survey.Weeks: 7}[r.Period]
}

var slotUnit = map[survey.Period]string{survey.Day: "hour of the day", survey.Week: "day", survey.Weeks: "day"}

func (p *pen) hours(r *survey.Report) *plot.Plot {
	if r.Seconds == 0 {
		return nil
	}
	b := bars{pen: p, tints: p.tints(len(r.Workspaces))}
	unit, per := "hours", 3600.0
	if r.Period == survey.Day {
		unit, per = "minutes", 60
	}
	for _, s := range r.Seen() {
		row := make([]float64, len(s.Seconds))
		for i, n := range s.Seconds {
			row[i] = float64(n) / per
		}
		b.rows = append(b.rows, row)
	}
	pl := p.newPlot(slotUnit[r.Period], unit)
	for _, w := range r.Workspaces {
		b.names = append(b.names, strconv.Itoa(w.Number))
	}
	pl.Add(b)
	_, _, _, most := b.DataRange()
	scale(&pl.Y, most)
	names, each := slotNames(r)
	pl.X.Tick.Marker = ticks(names, each)
	pl.Legend.TextStyle.Font, pl.Legend.TextStyle.Color, pl.Legend.TextStyle.Handler = pl.X.Tick.Label.Font, p.Theme.Paper, pl.TextHandler
	pl.Legend.Top, pl.Legend.ThumbnailWidth, pl.Legend.Padding = true, 10, 3
	for i, w := range r.Workspaces {
		name := w.Label
		if name != strconv.Itoa(w.Number) {
			name = fmt.Sprintf("%d %s", w.Number, w.Label)
		}
		pl.Legend.Add(p.Fonts.cut(false, 6.5, fmt.Sprintf("%s  %s", name, survey.Duration(w.Seconds)), 110), swatch{p, b.tints[i], i})
	}
	// The legend stands beside the bars.
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
func (p *pen) lyingBars(x string, names []string, rows [][]float64, segments []string) *plot.Plot {
	n := len(rows)
	b := bars{pen: p, lying: true, tints: p.tints(max(len(segments), 1)), rows: make([][]float64, n)}
	labels := make([]string, n)
	for i := range rows {
		b.rows[n-1-i], labels[n-1-i] = rows[i], p.Fonts.cut(false, 6.5, names[i], 90)
	}
	if len(segments) > 0 {
		b.names = segments
	}
	pl := p.newPlot(x, "")
	pl.Add(b)
	_, most, _, _ := b.DataRange()
	scale(&pl.X, most)
	pl.Y.Tick.Marker, pl.Y.Tick.Length, pl.Y.Width = ticks(labels, 1), 0, 0
	return pl
}

// maxBars is how many apps or verbs are shown.
const maxBars = 10

func (p *pen) apps(r *survey.Report) *plot.Plot {
	if len(r.Apps) == 0 {
		return nil
	}
	var names []string
	var rows [][]float64
	for _, a := range r.Apps[:min(len(r.Apps), maxBars)] {
		names = append(names, a.Label)
		rows = append(rows, []float64{float64(a.Seconds) / 3600})
	}
	return p.lyingBars("hours", names, rows, nil)
}

func (p *pen) done(r *survey.Report) *plot.Plot {
	if len(r.Deeds) == 0 {
		return nil
	}
	var names []string
	var rows [][]float64
	for _, d := range r.Deeds[:min(len(r.Deeds), maxBars)] {
		row := make([]float64, len(d.By))
		for i, n := range d.By {
			row[i] = float64(n)
		}
		names, rows = append(names, d.Verb), append(rows, row)
	}
	return p.lyingBars("times", names, rows, r.Sources)
}

func (p *pen) crowding(r *survey.Report) *plot.Plot {
	b := bars{pen: p, tints: []color.Color{p.Theme.Tint(0)}}
	for _, s := range r.Seen() {
		b.rows, b.outer = append(b.rows, []float64{float64(s.Fullest)}), append(b.outer, float64(s.Open))
	}
	_, _, _, most := b.DataRange()
	if most == 0 {
		return nil
	}
	pl := p.newPlot(slotUnit[r.Period], "windows: outlined open, filled on the fullest sheet")
	pl.Add(b)
	scale(&pl.Y, most)
	names, each := slotNames(r)
	pl.X.Tick.Marker = ticks(names, each)
	return pl
}

func (p *pen) lost(r *survey.Report) *plot.Plot {
	if r.Found == 0 && r.Rescued == 0 {
		return nil
	}
	if r.Period == survey.Day {
		return p.lyingBars("windows", []string{"lost", "brought back"}, [][]float64{{float64(r.Found)}, {float64(r.Rescued)}}, nil)
	}
	b := bars{pen: p, tints: []color.Color{p.Theme.Tint(2)}}
	for _, s := range r.Seen() {
		b.rows, b.outer = append(b.rows, []float64{float64(s.Rescued)}), append(b.outer, float64(s.Found))
	}
	pl := p.newPlot(slotUnit[r.Period], "windows: outlined lost, filled brought back")
	pl.Add(b)
	_, _, _, most := b.DataRange()
	scale(&pl.Y, most)
	names, each := slotNames(r)
	pl.X.Tick.Marker = ticks(names, each)
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

func (p *pen) switches(r *survey.Report) *plot.Plot {
	if r.Switched == 0 {
		return nil
	}
	pl := p.newPlot("to", "from")
	pl.Add(square{p, r.Switches})
	n := len(r.Workspaces)
	across, down := make([]string, n), make([]string, n)
	for i, w := range r.Workspaces {
		across[i] = p.Fonts.cut(false, 6.5, w.Label, 190/float64(n))
		down[n-1-i] = p.Fonts.cut(false, 6.5, w.Label, 60)
	}
	pl.X.Tick.Marker, pl.Y.Tick.Marker = ticks(across, 1), ticks(down, 1)
	pl.X.Tick.Length, pl.Y.Tick.Length, pl.X.Width, pl.Y.Width = 0, 0, 0, 0
	return pl
}
