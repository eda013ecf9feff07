package tui

import (
	"image/color"
	"slices"
	"strings"
	"unicode"

	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/geom"
)

// canvas is a screen of cells. Drawing outside it is cut off.
type canvas struct {
	w, h  int
	cells []cell // by rows
	stops []stop // what is drawn and can be chosen, the topmost last

	plain bool // the second set of marks is drawn
	inks  *inks
	last  *canvas  // what was drawn before, whose lines are kept where they are the same
	out   []string // the lines as they were written
}

// cell is one cell of a canvas. The second half of a wide letter has no content.
type cell struct {
	content string
	ink     uint16 // its style, of the canvas's inks
	width   uint8
}

// inks numbers the styles of canvases, and keeps what a terminal is told to change from
// one to another.
type inks struct {
	styles  []uv.Style
	numbers map[uv.Style]uint16
	changes map[[2]uint16]string
}

// maxInks is from how many styles on numbering begins anew: themes have few.
const maxInks = 4096

func newInks() *inks {
	return &inks{styles: []uv.Style{{}}, numbers: map[uv.Style]uint16{{}: 0}, changes: map[[2]uint16]string{}}
}

func (k *inks) number(s uv.Style) uint16 {
	n, known := k.numbers[s]
	if !known {
		n = uint16(len(k.styles))
		k.styles, k.numbers[s] = append(k.styles, s), n
	}
	return n
}

// change is what takes a terminal from one style to another.
func (k *inks) change(from, to uint16) string {
	way := [2]uint16{from, to}
	s, known := k.changes[way]
	if !known {
		if s = ansi.ResetStyle; to != 0 {
			s = k.styles[to].Diff(&k.styles[from])
		}
		k.changes[way] = s
	}
	return s
}

// newCanvas makes a canvas after another one, which is nil for the first. The one
// before the last is drawn over: none of it may be in use any more.
func newCanvas(w, h int, ground uv.Style, plain bool, last *canvas) *canvas {
	c := &canvas{w: w, h: h, plain: plain, inks: newInks(), last: last}
	if last != nil && last.plain == plain && len(last.inks.styles) < maxInks {
		c.inks = last.inks
		if over := last.last; over != nil && over.w == w && over.h == h {
			c.cells, c.out = over.cells, over.out
		}
		last.last = nil
		if last.w != w || last.h != h {
			c.last = nil
		}
	} else {
		c.last = nil
	}
	if c.cells == nil {
		c.cells, c.out = make([]cell, w*h), make([]string, h)
	}
	blank := cell{" ", c.inks.number(ground), 1}
	for i := range c.cells {
		c.cells[i] = blank
	}
	return c
}

// in tells whether there is such a cell.
func (c *canvas) in(x, y int) bool { return x >= 0 && x < c.w && y >= 0 && y < c.h }

// at is what a cell holds; empty outside, and in the second half of a wide letter.
func (c *canvas) at(x, y int) (content string, st uv.Style) {
	if !c.in(x, y) {
		return "", uv.Style{}
	}
	cell := &c.cells[y*c.w+x]
	return cell.content, c.inks.styles[cell.ink]
}

// blank tells whether there is such a cell, with nothing in it.
func (c *canvas) blank(x, y int) bool {
	return c.in(x, y) && strings.TrimSpace(c.cells[y*c.w+x].content) == ""
}

// set sets one cell, and the next for a wide letter. Of a wide letter that is half
// covered a blank is left.
func (c *canvas) set(x, y int, to cell) {
	if !c.in(x, y) {
		return
	}
	row := c.cells[y*c.w : (y+1)*c.w]
	if x+int(to.width) > c.w {
		to.content, to.width = " ", 1
	}
	clear := func(x int) {
		switch {
		case row[x].width == 2:
			row[x].content, row[x].width = " ", 1
			row[x+1] = row[x]
		case row[x].width == 0:
			row[x-1].content, row[x-1].width = " ", 1
			row[x] = row[x-1]
		}
	}
	if row[x].width != 1 {
		clear(x)
	}
	if to.width == 2 {
		if row[x+1].width != 1 {
			clear(x + 1)
		}
		row[x+1] = cell{"", to.ink, 0}
	}
	row[x] = to
}

// put sets one cell.
func (c *canvas) put(x, y int, content string, s uv.Style) {
	c.set(x, y, cell{content, c.inks.number(s), 1})
}

func (c *canvas) fill(r geom.Rect, content string, s uv.Style) {
	r = r.Intersect(geom.R(0, 0, c.w, c.h))
	to := cell{content, c.inks.number(s), 1}
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X; x < r.Right(); x++ {
			c.set(x, y, to)
		}
	}
}

// render is all of the canvas for a terminal. Lines that are as they were are taken
// from what was drawn before.
func (c *canvas) render() string {
	for y := range c.h {
		row := c.cells[y*c.w : (y+1)*c.w]
		if c.last != nil && slices.Equal(row, c.last.cells[y*c.w:(y+1)*c.w]) {
			c.out[y] = c.last.out[y]
		} else {
			c.out[y] = c.line(row)
		}
	}
	return strings.Join(c.out, "\n")
}

// line is a row of cells for a terminal.
func (c *canvas) line(row []cell) string {
	var b strings.Builder
	k := c.inks
	b.Grow(2 * len(row))
	pen := uint16(0)
	for i := range row {
		if row[i].width == 0 {
			continue
		}
		if row[i].ink != pen {
			b.WriteString(k.change(pen, row[i].ink))
			pen = row[i].ink
		}
		if c.plain {
			b.WriteString(plain(row[i].content))
		} else {
			b.WriteString(row[i].content)
		}
	}
	if pen != 0 {
		b.WriteString(ansi.ResetStyle)
	}
	return b.String()
}

// width is how many cells a text takes. It is counted letter by letter, as
// terminals without a notion of clusters do.
func width(s string) int { return ansi.StringWidthWc(s) }

// fit is a text cut to n cells, the last an ellipsis where it was cut.
func fit(s string, n int) string {
	if n <= 0 {
		return ""
	}
	return ansi.TruncateWc(s, n, "…")
}

// text writes a line of at most n cells and gives the cells it took.
func (c *canvas) text(x, y, n int, s string, st uv.Style) int {
	if y < 0 || y >= c.h {
		return 0
	}
	if n = min(n, c.w-x); len(s) > n { // no letter takes more cells than bytes
		s = fit(s, n)
	}
	at, before, ink := 0, 0, c.inks.number(st)
	for i, r := range s {
		content, w := "", 1
		if r >= ' ' && r <= '~' {
			content = s[i : i+1]
		} else {
			content = string(r)
			w = width(content)
		}
		if w == 0 && !unicode.In(r, unicode.Mn, unicode.Me) {
			continue // what is no letter must not reach the terminal
		}
		if w == 0 { // a mark on the letter before
			if p := x + at - before; at > 0 && c.in(p, y) {
				c.cells[y*c.w+p].content += content
			}
			continue
		}
		if x+at >= 0 {
			c.set(x+at, y, cell{content, ink, uint8(w)})
		}
		at, before = at+w, w
	}
	return at
}

// frame is the pieces of a box: corners from the top left clockwise, the
// horizontal and the vertical line.
type frame [6]string

var (
	lightFrame  = frame{"┌", "┐", "┘", "└", "─", "│"}
	heavyFrame  = frame{"┏", "┓", "┛", "┗", "━", "┃"}
	doubleFrame = frame{"╔", "╗", "╝", "╚", "═", "║"}
	pencilFrame = frame{"┌", "┐", "┘", "└", "┄", "┆"}
	columnLine  = frame{"┬", "┬", "┴", "┴", "┄", "┆"}
	rowLine     = frame{"├", "┤", "┤", "├", "┄", "┄"}
	crossing    = frame{"┼", "┼", "┼", "┼", "┼", "┼"}
	roundFrame  = frame{"╭", "╮", "╯", "╰", "─", "│"}
)

// box draws a frame along the inside of r, keeping the ground of each cell.
// With only one row there are no corners, and the ends stand; a line alone has
// them all along.
func (c *canvas) box(r geom.Rect, f frame, s uv.Style, ground color.Color) {
	c.boxWhere(r, f, s, ground, func(int, int) bool { return true })
}

// boxWhere draws those cells of a frame for which where is true.
func (c *canvas) boxWhere(r geom.Rect, f frame, s uv.Style, ground color.Color, where func(x, y int) bool) {
	line := func(x, y int, piece string) {
		if !where(x, y) {
			return
		}
		st := s
		st.Bg = ground
		if ground == nil {
			_, under := c.at(x, y)
			st.Bg = under.Bg
		}
		c.put(x, y, piece, st)
	}
	if f == rowLine {
		for x := r.X + 1; x < r.Right()-1; x++ {
			line(x, r.Y, f[4])
		}
		line(r.X, r.Y, f[0])
		line(r.Right()-1, r.Y, f[1])
		return
	}
	if r.H == 1 {
		line(r.X, r.Y, f[5])
		line(r.Right()-1, r.Y, f[5])
		return
	}
	for x := r.X + 1; x < r.Right()-1; x++ {
		line(x, r.Y, f[4])
		line(x, r.Bottom()-1, f[4])
	}
	for y := r.Y + 1; y < r.Bottom()-1; y++ {
		line(r.X, y, f[5])
		line(r.Right()-1, y, f[5])
	}
	line(r.X, r.Y, f[0])
	line(r.Right()-1, r.Y, f[1])
	line(r.Right()-1, r.Bottom()-1, f[2])
	line(r.X, r.Bottom()-1, f[3])
}

// written tells whether a cell holds a letter of a text, or the gap between two of
// its words.
func (c *canvas) written(x, y int) bool {
	letter := func(x int) bool {
		if !c.in(x, y) {
			return false
		}
		content, _ := c.at(x, y)
		for _, r := range content {
			return r > ' ' && (r < '\u2500' || r > '\u259f') && r != '·' && r != '•' // what is drawn with
		}
		return true // the second half of a wide letter
	}
	return letter(x) || letter(x-1) && letter(x+1)
}

// span is a piece of a line with a style of its own.
type span struct {
	text  string
	style uv.Style
}

// spans writes pieces one after another in at most n cells.
func (c *canvas) spans(x, y, n int, ss ...span) int {
	at := 0
	for _, s := range ss {
		at += c.text(x+at, y, n-at, s.text, s.style)
	}
	return at
}

// sidebar is lines one under the other, beside a line that parts them from the rest.
type sidebar struct {
	c *canvas
	r geom.Rect
	y int // of the next line
}

func newSidebar(c *canvas, r geom.Rect, edge uv.Style) *sidebar {
	for y := r.Y; y < r.Bottom(); y++ {
		c.put(r.X-1, y, "│", edge)
	}
	return &sidebar{c, r, r.Y}
}

// line writes the next line, where there is room for it.
func (o *sidebar) line(ss ...span) {
	if o.y < o.r.Bottom() {
		o.c.spans(o.r.X+1, o.y, o.r.W-2, ss...)
	}
	o.y++
}

// wrap breaks a text into lines of at most n cells, between words.
func wrap(s string, n int) []string {
	return strings.Split(ansi.WrapWc(s, max(n, 1), " "), "\n")
}

// joinNonEmpty joins the parts that are not empty.
func joinNonEmpty(sep string, parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return s == "" }), sep)
}
