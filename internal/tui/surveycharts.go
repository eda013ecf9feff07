package tui

import (
	"fmt"
	"image/color"

	"github.com/charmbracelet/colorprofile"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/geom"
	"zatlas/internal/survey"
	"zatlas/internal/tui/cells"
)

// drawFigure draws a chart into a part of the screen: its head, what it says in a sentence,
// and the figure. Alone tells that it is the only one there.
func drawFigure(m *model, c *cells.Canvas, f survey.Figure, area geom.Rect, alone bool) {
	t := m.opt.Theme
	c.Text(area.X, area.Y, area.W, f.Head, cells.Bold(t.Style(t.Brass)))
	if alone {
		words := "up, down: the other charts"
		c.Text(area.Right()-cells.Width(words), area.Y, cells.Width(words), words, t.Style(t.Slate))
	}
	y := area.Y + 1
	for _, line := range cells.Wrap(f.Words, area.W) {
		if y < area.Bottom() {
			c.Text(area.X, y, area.W, line, t.Style(t.Slate))
		}
		y++
	}
	b := &board{Canvas: c, t: t, plain: m.profile < colorprofile.ANSI256, r: geom.R(area.X, y, area.W, area.Bottom()-y)}
	switch {
	case b.r.H < 2 || b.r.W <= 20:
	case f.Fields != nil:
		b.square(f)
	case len(f.Bars) == 0:
	case f.Shape == survey.Lying:
		b.lying(f)
	case f.Outline != "":
		b.key(f)
		b.upright(f, b.outlined)
	case f.Legend != nil:
		legend := min(34, b.r.W*2/5)
		b.legend(f, geom.R(b.r.Right()-legend, b.r.Y, legend, b.r.H))
		b.r.W -= legend + 2
		b.upright(f, b.parted)
	}
}

// board is where a chart is drawn.
type board struct {
	*cells.Canvas
	t     cells.Theme
	plain bool // too few colours to tell tints apart
	r     geom.Rect
}

// ground is the tint of the nth of several.
func (b *board) ground(n int) color.Color {
	if b.plain {
		return b.t.Ink
	}
	return b.t.Tints[n%len(b.t.Tints)]
}

// cellOf fills a cell of the nth of several: with its tint, or, without enough
// colours, with a sign of its own.
func (b *board) cellOf(x, y, n int, sign string) {
	content := " "
	if b.plain {
		content = sign
	}
	b.Put(x, y, content, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
}

// solid fills a cell of a bar that has no parts.
func (b *board) solid(x, y int) {
	if b.plain {
		b.Put(x, y, "█", b.t.Style(b.t.Green))
		return
	}
	b.Put(x, y, " ", uv.Style{Bg: b.t.Green})
}

// upright draws upright bars, each by draw into the cells from x on, with the scale of their
// values, and their names under them where these have room.
func (b *board) upright(f survey.Figure, draw func(f survey.Figure, bar survey.Bar, x, wide int, plot geom.Rect)) {
	plot := geom.R(b.r.X+5, b.r.Y, b.r.W-5, b.r.H-1)
	quiet := b.t.Style(b.t.Slate)
	for y := plot.Y; y < plot.Bottom(); y++ {
		b.Put(plot.X-1, y, "│", quiet)
	}
	each := 1 // tick has its words, so that these are not in each other's way
	for len(f.Ticks) > 1 && float64(each*plot.H)*f.Ticks[1] < 2*f.Most {
		each++
	}
	for i := each; i < len(f.Ticks); i += each {
		y, words := plot.Bottom()-cellsOf(f.Ticks[i], f.Most, plot.H), survey.TickWords(f.Ticks[i])
		b.Text(plot.X-2-cells.Width(words), y, 5, words, quiet)
		b.Put(plot.X-1, y, "┤", quiet)
	}
	b.Text(b.r.X, plot.Bottom(), 5, map[string]string{"hours": "h", "minutes": "min"}[f.Unit], quiet)
	wide := geom.Clamp(plot.W/len(f.Bars), 1, 12)
	next := plot.X
	for i, bar := range f.Bars {
		x := plot.X + i*wide
		draw(f, bar, x, wide, plot)
		if bar.Named && x >= next && x+cells.Width(bar.Name) <= plot.Right() {
			next = x + b.Text(x, plot.Bottom(), 7, bar.Name, quiet) + 1
		}
	}
}

// cellsOf is how many of n cells a value has: what is there is seen.
func cellsOf(v, most float64, n int) int {
	if v <= 0 {
		return 0
	}
	return geom.Clamp(int(v/most*float64(n)+0.5), 1, n)
}

// shares divides cells among the parts of a bar; n cells stand for the most. Every part that
// is not 0 has a cell, if there are enough. Cells left over go to the parts that lost most by
// rounding.
func shares(parts []float64, most float64, n int) []int {
	cells, short := make([]int, len(parts)), make([]float64, len(parts))
	sum, given, some := 0.0, 0, 0
	for i, v := range parts {
		exact := v / most * float64(n)
		sum += exact
		if cells[i] = int(exact); v > 0 {
			some++
			cells[i] = max(cells[i], 1)
		}
		short[i] = exact - float64(cells[i])
		given += cells[i]
	}
	want := min(max(int(sum+0.5), some), n)
	for ; given < want; given++ {
		i := mostOf(cells, func(i int) float64 { return short[i] }, func(i int) bool { return parts[i] > 0 })
		cells[i], short[i] = cells[i]+1, short[i]-1
	}
	for ; given > want; given-- {
		i := mostOf(cells, func(i int) float64 { return -short[i] }, func(i int) bool { return cells[i] > 1 })
		if i < 0 { // there are fewer cells than parts
			i = mostOf(cells, func(i int) float64 { return -short[i] }, func(i int) bool { return cells[i] > 0 })
		}
		cells[i], short[i] = cells[i]-1, short[i]+1
	}
	return cells
}

// mostOf is the place where a measure is the most, of those that count; -1 for none.
func mostOf(list []int, measure func(i int) float64, counts func(i int) bool) int {
	best := -1
	for i := range list {
		if counts(i) && (best < 0 || measure(i) > measure(best)) {
			best = i
		}
	}
	return best
}

// parted draws an upright bar of parts. Their names stand in them. With colours a cell is two
// parts high.
func (b *board) parted(f survey.Figure, bar survey.Bar, x, wide int, plot geom.Rect) {
	sign := func(n int) string { return f.Parts[n] }
	fine := 2
	if b.plain {
		fine = 1
	}
	var of []int // the part of each half of a cell, from below
	for n, cells := range shares(bar.Parts, f.Most, fine*plot.H) {
		for range cells {
			of = append(of, n)
		}
	}
	part := func(k int) int {
		if k < len(of) {
			return of[k]
		}
		return -1
	}
	for y := 0; y*fine < len(of); y++ {
		low, high := part(y*fine), part(y*fine+fine-1)
		for dx := range max(wide-1, 1) {
			switch at := plot.Bottom() - 1 - y; {
			case low == high:
				b.cellOf(x+dx, at, low, sign(low))
			case high < 0:
				b.Put(x+dx, at, "▄", uv.Style{Fg: b.ground(low), Bg: b.t.Ink})
			default:
				b.Put(x+dx, at, "▄", uv.Style{Fg: b.ground(low), Bg: b.ground(high)})
			}
		}
	}
	if b.plain {
		return
	}
	// A part that is named has its sign in the middle of its whole cells.
	for n := range bar.Parts {
		var rows []int
		for y := 0; (y+1)*fine <= len(of); y++ {
			if part(y*fine) == n && part(y*fine+fine-1) == n {
				rows = append(rows, y)
			}
		}
		if s := sign(n); len(rows) > 0 {
			b.Text(x+(max(wide-1, 1)-cells.Width(s))/2, plot.Bottom()-1-rows[len(rows)/2], wide, s, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
		}
	}
}

// legend says what the parts are.
func (b *board) legend(f survey.Figure, r geom.Rect) {
	all := 0
	for _, w := range f.Legend {
		all += w.Seconds
	}
	for i, w := range f.Legend[:min(len(f.Legend), r.H)] {
		b.Text(r.X, r.Y+i, 3, fmt.Sprintf("%2s ", f.Parts[i]), uv.Style{Fg: b.t.Paper, Bg: b.ground(i)})
		value := fmt.Sprintf("%s %3d%%", survey.Duration(w.Seconds), geom.Percent(w.Seconds, all))
		label := w.Label
		if label == f.Parts[i] {
			label = "no name"
		}
		b.Text(r.X+4, r.Y+i, r.W-5-cells.Width(value), label, b.t.Style(b.t.Paper))
		b.Text(r.Right()-cells.Width(value), r.Y+i, cells.Width(value), value, b.t.Style(b.t.Slate))
	}
}

// lying draws rows of lying bars: a name, the parts, and words after them.
func (b *board) lying(f survey.Figure) {
	bars := f.Bars[:min(len(f.Bars), b.r.H)]
	wide, after := 0, 0
	for _, bar := range bars {
		wide, after = max(wide, cells.Width(bar.Name)), max(after, cells.Width(bar.Words))
	}
	wide = min(wide, b.r.W/4)
	room := b.r.W - wide - after - 3
	if room < 4 {
		return
	}
	sign := func(n int) string {
		switch {
		case len(f.Parts) == 0:
			return "█"
		case b.plain:
			return f.Parts[n][:1]
		}
		return f.Parts[n]
	}
	for i, bar := range bars {
		y := b.r.Y + i
		b.Text(b.r.X, y, wide, bar.Name, b.t.Style(b.t.Paper))
		x := b.r.X + wide + 1
		for n, given := range shares(bar.Parts, f.Most, room) {
			for k := range given {
				b.cellOf(x+k, y, n, sign(n))
			}
			if name := sign(n); len(f.Parts) > 0 && given >= cells.Width(name)+2 && !b.plain {
				b.Text(x+(given-cells.Width(name))/2, y, cells.Width(name), name, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
			}
			x += given
		}
		b.Text(x+1, y, after, bar.Words, b.t.Style(b.t.Slate))
	}
}

// outlined draws a bar of two numbers: the larger as an outline, the other in it.
func (b *board) outlined(f survey.Figure, bar survey.Bar, x, wide int, plot geom.Rect) {
	for dx := range max(wide-1, 1) {
		for k := range cellsOf(bar.Outline, f.Most, plot.H) {
			b.Put(x+dx, plot.Bottom()-1-k, "░", b.t.Style(b.t.Slate))
		}
		for k := range cellsOf(bar.Parts[0], f.Most, plot.H) {
			b.solid(x+dx, plot.Bottom()-1-k)
		}
	}
}

// key says what the two numbers of a slot are, in a line of its own.
func (b *board) key(f survey.Figure) {
	quiet := b.t.Style(b.t.Slate)
	b.Spans(b.r.X+5, b.r.Y, b.r.W-5, cells.Words("░", quiet), cells.Words(" "+f.Outline+"   ", quiet), cells.Words("█", b.t.Style(b.t.Green)), cells.Words(" "+f.Filled, quiet))
	b.r.Y, b.r.H = b.r.Y+1, b.r.H-1
}

// square draws numbers from and to.
func (b *board) square(f survey.Figure) {
	top, quiet := 1, b.t.Style(b.t.Slate)
	for _, row := range f.Fields {
		for _, n := range row {
			top = max(top, n)
		}
	}
	names := min(16, b.r.W/4)
	wide := geom.Clamp((b.r.W-names-1)/len(f.Names), 4, 9)
	x := func(j int) int { return b.r.X + names + 1 + j*wide }
	b.Text(b.r.X, b.r.Y, names, "from ↓   to →", quiet)
	for j, name := range f.Names {
		b.Text(x(j), b.r.Y, wide-1, fmt.Sprintf("%*s", wide-1, cells.Fit(name, wide-1)), quiet)
	}
	for i, row := range f.Fields {
		y := b.r.Y + 1 + i
		if y >= b.r.Bottom() {
			return
		}
		b.Text(b.r.X, y, names, f.Names[i], b.t.Style(b.t.Paper))
		for j, n := range row {
			words := fmt.Sprintf("%*d", wide-1, n)
			st := b.t.Style(b.t.Paper)
			switch {
			case i == j:
				words, st = fmt.Sprintf("%*s", wide-1, "·"), quiet
			case n == 0:
				words, st = fmt.Sprintf("%*s", wide-1, "0"), quiet
			case n*2 > top && !b.plain:
				st = cells.Bold(uv.Style{Fg: b.t.Ink, Bg: b.t.Brass})
			case n*8 > top && !b.plain:
				st.Bg = b.t.Tints[1]
			case n*2 > top:
				st = cells.Reverse(cells.Bold(st))
			}
			b.Text(x(j), y, wide-1, words, st)
		}
	}
}
