// Package cells is a canvas of terminal cells: styles, frames, lines of text, and what on it can
// be chosen. What stays the same from one drawing to the next is not written again.
package cells

import (
	"image/color"
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"

	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/geom"
)

// Canvas is a screen of cells. Drawing outside it is cut off.
type Canvas struct {
	W, H  int
	cells []cell // by rows
	Stops []Stop // what is drawn and can be chosen, the topmost last

	plain bool // the second set of marks is drawn
	inks  *inks
	last  *Canvas  // what was drawn before, whose lines are kept where they are the same
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

// NewCanvas makes a canvas after another one, which is nil for the first. The one
// before the last is drawn over: none of it may be in use any more.
func NewCanvas(w, h int, ground uv.Style, plain bool, last *Canvas) *Canvas {
	c := &Canvas{W: w, H: h, plain: plain, inks: newInks(), last: last}
	if last != nil && last.plain == plain && len(last.inks.styles) < maxInks {
		c.inks = last.inks
		if over := last.last; over != nil && over.W == w && over.H == h {
			c.cells, c.out = over.cells, over.out
		}
		last.last = nil
		if last.W != w || last.H != h {
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
func (c *Canvas) in(x, y int) bool { return x >= 0 && x < c.W && y >= 0 && y < c.H }

// At is what a cell holds; empty outside, and in the second half of a wide letter.
func (c *Canvas) At(x, y int) (content string, st uv.Style) {
	if !c.in(x, y) {
		return "", uv.Style{}
	}
	cell := &c.cells[y*c.W+x]
	return cell.content, c.inks.styles[cell.ink]
}

// Blank tells whether there is such a cell, with nothing in it.
func (c *Canvas) Blank(x, y int) bool {
	return c.in(x, y) && strings.TrimSpace(c.cells[y*c.W+x].content) == ""
}

// set sets one cell, and the next for a wide letter. Of a wide letter that is half
// covered a blank is left.
func (c *Canvas) set(x, y int, to cell) {
	if !c.in(x, y) {
		return
	}
	row := c.cells[y*c.W : (y+1)*c.W]
	if x+int(to.width) > c.W {
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

// Put sets one cell.
func (c *Canvas) Put(x, y int, content string, s uv.Style) {
	c.set(x, y, cell{content, c.inks.number(s), 1})
}

// Fill sets all cells of a rectangle.
func (c *Canvas) Fill(r geom.Rect, content string, s uv.Style) {
	r = r.Intersect(geom.R(0, 0, c.W, c.H))
	to := cell{content, c.inks.number(s), 1}
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X; x < r.Right(); x++ {
			c.set(x, y, to)
		}
	}
}

// Render is all of the canvas for a terminal. Lines that are as they were are taken
// from what was drawn before.
func (c *Canvas) Render() string {
	for y := range c.H {
		row := c.cells[y*c.W : (y+1)*c.W]
		if c.last != nil && slices.Equal(row, c.last.cells[y*c.W:(y+1)*c.W]) {
			c.out[y] = c.last.out[y]
		} else {
			c.out[y] = c.line(row)
		}
	}
	return strings.Join(c.out, "\n")
}

// line is a row of cells for a terminal.
func (c *Canvas) line(row []cell) string {
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

// Width is how many cells a text takes. It is counted letter by letter, as
// terminals without a notion of clusters do.
func Width(s string) int { return ansi.StringWidthWc(s) }

// Fit is a text cut to n cells, the last an ellipsis where it was cut.
func Fit(s string, n int) string {
	if n <= 0 {
		return ""
	}
	return ansi.TruncateWc(s, n, "…")
}

// Text writes a line of at most n cells and gives the cells it took.
func (c *Canvas) Text(x, y, n int, s string, st uv.Style) int {
	if y < 0 || y >= c.H {
		return 0
	}
	if n = min(n, c.W-x); len(s) > n { // no letter takes more cells than bytes
		s = Fit(s, n)
	}
	at, before, ink := 0, 0, c.inks.number(st)
	for i, r := range s {
		content, w := "", 1
		if r >= ' ' && r <= '~' {
			content = s[i : i+1]
		} else {
			content = string(r)
			w = Width(content)
		}
		if w == 0 && !unicode.In(r, unicode.Mn, unicode.Me) {
			continue // what is no letter must not reach the terminal
		}
		if w == 0 { // a mark on the letter before
			if p := x + at - before; at > 0 && c.in(p, y) {
				c.cells[y*c.W+p].content += content
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

// Frame is the pieces of a box: corners from the top left clockwise, the
// horizontal and the vertical line.
type Frame [6]string

var (
	LightFrame  = Frame{"┌", "┐", "┘", "└", "─", "│"}
	HeavyFrame  = Frame{"┏", "┓", "┛", "┗", "━", "┃"}
	DoubleFrame = Frame{"╔", "╗", "╝", "╚", "═", "║"}
	PencilFrame = Frame{"┌", "┐", "┘", "└", "┄", "┆"}
	ColumnLine  = Frame{"┬", "┬", "┴", "┴", "┄", "┆"}
	RowLine     = Frame{"├", "┤", "┤", "├", "┄", "┄"}
	Crossing    = Frame{"┼", "┼", "┼", "┼", "┼", "┼"}
	RoundFrame  = Frame{"╭", "╮", "╯", "╰", "─", "│"}
)

// Box draws a frame along the inside of r, keeping the ground of each cell.
// With only one row there are no corners, and the ends stand; a line alone has
// them all along.
func (c *Canvas) Box(r geom.Rect, f Frame, s uv.Style, ground color.Color) {
	c.BoxWhere(r, f, s, ground, func(int, int) bool { return true })
}

// BoxWhere draws those cells of a frame for which where is true.
func (c *Canvas) BoxWhere(r geom.Rect, f Frame, s uv.Style, ground color.Color, where func(x, y int) bool) {
	line := func(x, y int, piece string) {
		if !where(x, y) {
			return
		}
		st := s
		st.Bg = ground
		if ground == nil {
			_, under := c.At(x, y)
			st.Bg = under.Bg
		}
		c.Put(x, y, piece, st)
	}
	if f == RowLine {
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

// Written tells whether a cell holds a letter of a text, or the gap between two of
// its words.
func (c *Canvas) Written(x, y int) bool {
	letter := func(x int) bool {
		if !c.in(x, y) {
			return false
		}
		content, _ := c.At(x, y)
		for _, r := range content {
			return r > ' ' && (r < '\u2500' || r > '\u259f') && r != '·' && r != '•' // what is drawn with
		}
		return true // the second half of a wide letter
	}
	return letter(x) || letter(x-1) && letter(x+1)
}

// Span is a piece of a line with a style of its own.
type Span struct {
	Text  string
	Style uv.Style
}

// Spans writes pieces one after another in at most n cells.
func (c *Canvas) Spans(x, y, n int, ss ...Span) int {
	at := 0
	for _, s := range ss {
		at += c.Text(x+at, y, n-at, s.Text, s.Style)
	}
	return at
}

// Sidebar is lines one under the other, beside a line that parts them from the rest.
type Sidebar struct {
	Canvas *Canvas
	Rect   geom.Rect
	Y      int // of the next line
}

// NewSidebar draws the line at the left of r, and begins below its top.
func NewSidebar(c *Canvas, r geom.Rect, edge uv.Style) *Sidebar {
	for y := r.Y; y < r.Bottom(); y++ {
		c.Put(r.X-1, y, "│", edge)
	}
	return &Sidebar{c, r, r.Y}
}

// Line writes the next line, where there is room for it.
func (o *Sidebar) Line(ss ...Span) {
	if o.Y < o.Rect.Bottom() {
		o.Canvas.Spans(o.Rect.X+1, o.Y, o.Rect.W-2, ss...)
	}
	o.Y++
}

// Wrap breaks a text into lines of at most n cells, between words, and not within a value such
// as 7 h 19 min.
func Wrap(s string, n int) []string {
	if Width(s) > n {
		s = values().ReplaceAllStringFunc(s, func(v string) string { return strings.ReplaceAll(v, " ", noBreak) })
	}
	return strings.Split(strings.ReplaceAll(ansi.WrapWc(s, max(n, 1), " "), noBreak, " "), "\n")
}

// noBreak is the space at which no line is broken.
const noBreak = "\u00a0"

var values = sync.OnceValue(func() *regexp.Regexp {
	return regexp.MustCompile(`\d+ h \d+ min|\d+ (h|min|s|ms|px|pixels|per cent)\b`)
})

// JoinNonEmpty joins the parts that are not empty.
func JoinNonEmpty(sep string, parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return s == "" }), sep)
}

// Words is a text in a style.
func Words(text string, st uv.Style) Span { return Span{text, st} }
