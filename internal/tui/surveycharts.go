package tui

import (
	"fmt"
	"image/color"
	"math"
	"strconv"
	"strings"

	"github.com/charmbracelet/colorprofile"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/geom"
	"zatlas/internal/survey"
)

// cellChart is one chart in cells: its head, what it says in a sentence, its drawing.
type cellChart struct {
	head  string
	words func(r *survey.Report) string
	body  func(b *board, r *survey.Report)
}

var cellCharts = []cellChart{
	{"HOURS BY WORKSPACE", (*survey.Report).HoursWords, (*board).hours},
	{"HOURS BY APP", (*survey.Report).AppsWords, (*board).apps},
	{"SWITCHES", (*survey.Report).SwitchWords, (*board).switches},
	{"CROWDING", (*survey.Report).CrowdWords, (*board).crowding},
	{"LOST AND FOUND", (*survey.Report).LostWords, (*board).lost},
	{"DONE MOST, AND HOW", (*survey.Report).DoneWords, (*board).done},
}

// draw draws a chart into a part of the screen; alone tells that it is the only one
// there, and which of how many.
func (ch cellChart) draw(m *model, c *canvas, r *survey.Report, area geom.Rect, alone bool) {
	t := m.opt.Theme
	c.text(area.X, area.Y, area.W, ch.head, bold(t.style(t.Brass)))
	if alone {
		words := "up, down: the other charts"
		c.text(area.Right()-width(words), area.Y, width(words), words, t.style(t.Slate))
	}
	y := area.Y + 1
	for _, line := range wrap(ch.words(r), area.W) {
		if y < area.Bottom() {
			c.text(area.X, y, area.W, line, t.style(t.Slate))
		}
		y++
	}
	b := &board{canvas: c, t: t, plain: m.profile < colorprofile.ANSI256, r: geom.R(area.X, y, area.W, area.Bottom()-y)}
	if b.r.H > 1 && b.r.W > 20 {
		ch.body(b, r)
	}
}

// board is where a chart is drawn.
type board struct {
	*canvas
	t     Theme
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
	b.put(x, y, content, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
}

// solid fills a cell of a bar that has no parts.
func (b *board) solid(x, y int) {
	if b.plain {
		b.put(x, y, "█", b.t.style(b.t.Green))
		return
	}
	b.put(x, y, " ", uv.Style{Bg: b.t.Green})
}

// axis is the scale of upright bars: how much the top is, and its words.
func (b *board) axis(most float64, words string) geom.Rect {
	plot := geom.R(b.r.X+5, b.r.Y, b.r.W-5, b.r.H-1)
	quiet := b.t.style(b.t.Slate)
	label := func(y int, v float64) {
		s := strconv.FormatFloat(v, 'f', -1, 64)
		if v >= 10 || v == 0 {
			s = fmt.Sprintf("%.0f", v)
		} else if v != float64(int(v)) {
			s = fmt.Sprintf("%.1f", v)
		}
		b.text(plot.X-1-width(s)-1, y, 5, s, quiet)
		b.put(plot.X-1, y, "┤", quiet)
	}
	for y := plot.Y; y < plot.Bottom(); y++ {
		b.put(plot.X-1, y, "│", quiet)
	}
	label(plot.Y, most)
	if half := math.Floor(most / 2); half >= 1 && plot.H > 4 {
		label(plot.Bottom()-int(half/most*float64(plot.H)+0.5), half)
	}
	b.text(b.r.X, plot.Bottom(), 5, words, quiet)
	return plot
}

// slots gives each slot its cells across, and writes their names under them.
func (b *board) slots(plot geom.Rect, slots []survey.Slot, p survey.Period) (wide int) {
	wide = max(1, plot.W/max(len(slots), 1))
	wide = min(wide, 12)
	quiet := b.t.style(b.t.Slate)
	next := plot.X
	for i, s := range slots {
		x := plot.X + i*wide
		monday := p != survey.Weeks || s.Start.Weekday() == 1
		if x >= next && monday && x+width(s.Label) <= plot.Right() {
			next = x + b.text(x, plot.Bottom(), 7, s.Label, quiet) + 1
		}
	}
	return wide
}

// shares gives the parts of a bar their cells, of n that stand for the most: what is there
// is seen, as long as there are cells for all, and the cells left over go to the parts that
// fall short most.
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

// bar draws an upright bar of parts, in cells of a height. Signs stand for the parts. With
// colours a cell is two parts high.
func (b *board) bar(x, wide int, plot geom.Rect, most float64, parts []float64, sign func(n int) string) {
	fine := 2
	if b.plain {
		fine = 1
	}
	var of []int // the part of each half of a cell, from below
	for n, cells := range shares(parts, most, fine*plot.H) {
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
				b.put(x+dx, at, "▄", uv.Style{Fg: b.ground(low), Bg: b.t.Ink})
			default:
				b.put(x+dx, at, "▄", uv.Style{Fg: b.ground(low), Bg: b.ground(high)})
			}
		}
	}
	if b.plain {
		return
	}
	// A part that is named has its sign in the middle of its whole cells.
	for n := range parts {
		var rows []int
		for y := 0; (y+1)*fine <= len(of); y++ {
			if part(y*fine) == n && part(y*fine+fine-1) == n {
				rows = append(rows, y)
			}
		}
		if s := sign(n); len(rows) > 0 {
			b.text(x+(max(wide-1, 1)-width(s))/2, plot.Bottom()-1-rows[len(rows)/2], wide, s, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
		}
	}
}

func most(slots []survey.Slot, of func(s survey.Slot) float64) (n float64) {
	for _, s := range slots {
		n = max(n, of(s))
	}
	return n
}

func (b *board) hours(r *survey.Report) {
	if r.Seconds == 0 {
		return
	}
	per, unit := 3600.0, "h"
	if r.Period == survey.Day {
		per, unit = 60, "min"
	}
	// The names of the workspaces stand beside, where there is room.
	legend := min(34, b.r.W*2/5)
	whole := b.r
	b.r.W -= legend + 2
	slots := r.Seen()
	top := most(slots, func(s survey.Slot) (sum float64) {
		for _, n := range s.Seconds {
			sum += float64(n) / per
		}
		return sum
	})
	plot := b.axis(top, unit)
	wide := b.slots(plot, slots, r.Period)
	for i, s := range slots {
		parts := make([]float64, len(s.Seconds))
		for k, n := range s.Seconds {
			parts[k] = float64(n) / per
		}
		b.bar(plot.X+i*wide, wide, plot, top, parts, func(n int) string { return strconv.Itoa(r.Workspaces[n].Number) })
	}
	x := whole.Right() - legend
	for i, w := range r.Workspaces {
		if i >= whole.H {
			break
		}
		sign := strconv.Itoa(w.Number)
		b.text(x, b.r.Y+i, 3, fmt.Sprintf("%2s ", sign), uv.Style{Fg: b.t.Paper, Bg: b.ground(i)})
		value := fmt.Sprintf("%s %3d%%", survey.Duration(w.Seconds), geom.Percent(w.Seconds, r.Seconds))
		label := w.Label
		if label == sign {
			label = "no name"
		}
		b.text(x+4, b.r.Y+i, legend-5-width(value), label, b.t.style(b.t.Paper))
		b.text(whole.Right()-width(value), b.r.Y+i, width(value), value, b.t.style(b.t.Slate))
	}
}

// lying draws rows of lying bars: a name, the parts, and words after them.
func (b *board) lying(names []string, rows [][]float64, words []string, signs []string) {
	wide, after, top := 0, 0, 0.0
	for i := range names {
		wide, after = max(wide, width(names[i])), max(after, width(words[i]))
		sum := 0.0
		for _, v := range rows[i] {
			sum += v
		}
		top = max(top, sum)
	}
	wide = min(wide, b.r.W/4)
	room := b.r.W - wide - after - 3
	for i := range names {
		y := b.r.Y + i
		if y >= b.r.Bottom() || room < 4 || top == 0 {
			return
		}
		b.text(b.r.X, y, wide, names[i], b.t.style(b.t.Paper))
		x, from := b.r.X+wide+1, 0
		for n, cells := range shares(rows[i], top, room) {
			to := from + cells
			for k := from; k < to; k++ {
				b.cellOf(x+k, y, n, map[bool]string{true: signs[n%len(signs)], false: "█"}[len(rows[i]) > 1])
			}
			if name := signs[n%len(signs)]; len(rows[i]) > 1 && to-from >= width(name)+2 && !b.plain {
				b.text(x+from+(to-from-width(name))/2, y, width(name), name, uv.Style{Fg: b.t.Paper, Bg: b.ground(n)})
			}
			from = to
		}
		b.text(x+from+1, y, after, words[i], b.t.style(b.t.Slate))
	}
}

func (b *board) apps(r *survey.Report) {
	var names, words []string
	var rows [][]float64
	for _, a := range r.Apps[:min(len(r.Apps), max(b.r.H, 0))] {
		names, rows = append(names, a.Label), append(rows, []float64{float64(a.Seconds)})
		words = append(words, fmt.Sprintf("%s  %d %%", survey.Duration(a.Seconds), geom.Percent(a.Seconds, r.Seconds)))
	}
	b.lying(names, rows, words, []string{"█"})
}

func (b *board) done(r *survey.Report) {
	var names, words, signs []string
	var rows [][]float64
	for _, s := range r.Sources {
		sign := s
		if b.plain {
			sign = s[:1]
		}
		signs = append(signs, sign)
	}
	for _, d := range r.Deeds[:min(len(r.Deeds), max(b.r.H, 0))] {
		row := make([]float64, len(d.By))
		var how []string
		for i, n := range d.By {
			row[i] = float64(n)
			if n > 0 {
				how = append(how, fmt.Sprintf("%s %d", r.Sources[i], n))
			}
		}
		names, rows, words = append(names, d.Verb), append(rows, row), append(words, fmt.Sprintf("%d: %s", d.N, strings.Join(how, ", ")))
	}
	b.lying(names, rows, words, signs)
}

// two draws two numbers of each slot: the larger as an outline, the other in it.
func (b *board) two(r *survey.Report, large, small func(s survey.Slot) int, unit string) {
	slots := r.Seen()
	top := most(slots, func(s survey.Slot) float64 { return float64(max(large(s), small(s))) })
	if top == 0 {
		return
	}
	plot := b.axis(top, unit)
	wide := b.slots(plot, slots, r.Period)
	for i, s := range slots {
		x := plot.X + i*wide
		for k := range int(float64(large(s))/top*float64(plot.H) + 0.5) {
			for dx := range max(wide-1, 1) {
				b.put(x+dx, plot.Bottom()-1-k, "░", b.t.style(b.t.Slate))
			}
		}
		for k := range int(float64(small(s))/top*float64(plot.H) + 0.5) {
			for dx := range max(wide-1, 1) {
				b.solid(x+dx, plot.Bottom()-1-k)
			}
		}
	}
}

func (b *board) crowding(r *survey.Report) {
	b.key("open", "on the fullest sheet")
	b.two(r, func(s survey.Slot) int { return s.Open }, func(s survey.Slot) int { return s.Fullest }, "")
}

func (b *board) lost(r *survey.Report) {
	if r.Found+r.Rescued == 0 {
		return
	}
	if r.Period == survey.Day {
		b.lying([]string{"lost", "brought back"}, [][]float64{{float64(r.Found)}, {float64(r.Rescued)}}, []string{strconv.Itoa(r.Found), strconv.Itoa(r.Rescued)}, []string{"█"})
		return
	}
	b.key("lost", "brought back")
	b.two(r, func(s survey.Slot) int { return s.Found }, func(s survey.Slot) int { return s.Rescued }, "")
}

// key says what the two numbers of a slot are, in a line of its own.
func (b *board) key(large, small string) {
	quiet := b.t.style(b.t.Slate)
	b.spans(b.r.X+5, b.r.Y, b.r.W-5, span{"░", quiet}, span{" " + large + "   ", quiet}, span{"█", b.t.style(b.t.Green)}, span{" " + small, quiet})
	b.r.Y, b.r.H = b.r.Y+1, b.r.H-1
}

func (b *board) switches(r *survey.Report) {
	if r.Switched == 0 {
		return
	}
	top, quiet := 1, b.t.style(b.t.Slate)
	for _, row := range r.Switches {
		for _, n := range row {
			top = max(top, n)
		}
	}
	names := min(16, b.r.W/4)
	wide := geom.Clamp((b.r.W-names-1)/len(r.Workspaces), 4, 9)
	x := func(j int) int { return b.r.X + names + 1 + j*wide }
	b.text(b.r.X, b.r.Y, names, "from ↓   to →", quiet)
	for j, w := range r.Workspaces {
		b.text(x(j), b.r.Y, wide-1, fmt.Sprintf("%*s", wide-1, fit(w.Label, wide-1)), quiet)
	}
	for i, row := range r.Switches {
		y := b.r.Y + 1 + i
		if y >= b.r.Bottom() {
			return
		}
		b.text(b.r.X, y, names, r.Workspaces[i].Label, b.t.style(b.t.Paper))
		for j, n := range row {
			words := fmt.Sprintf("%*d", wide-1, n)
			st := b.t.style(b.t.Paper)
			switch {
			case i == j:
				words, st = fmt.Sprintf("%*s", wide-1, "·"), quiet
			case n == 0:
				words, st = fmt.Sprintf("%*s", wide-1, "0"), quiet
			case n*2 > top && !b.plain:
				st = bold(uv.Style{Fg: b.t.Ink, Bg: b.t.Brass})
			case n*8 > top && !b.plain:
				st.Bg = b.t.Tints[1]
			case n*2 > top:
				st = reverse(bold(st))
			}
			b.text(x(j), y, wide-1, words, st)
		}
	}
}
