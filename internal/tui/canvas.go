package tui

import (
	"image/color"
	"strings"
	"unicode"

	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/geom"
)

// canvas is a screen of cells. Drawing outside it is cut off.
type canvas struct {
	*uv.Buffer
	w, h  int
	stops []stop // what is drawn and can be chosen, the topmost last
}

// stop says that something to choose is drawn in some cells.
func (c *canvas) stop(r geom.Rect, at selection) { c.stops = append(c.stops, stop{at, r}) }

func newCanvas(w, h int, ground uv.Style) *canvas {
	c := &canvas{Buffer: uv.NewBuffer(w, h), w: w, h: h}
	c.fill(geom.R(0, 0, w, h), " ", ground)
	return c
}

// put sets one cell. A content of width 2 needs room for both its halves.
func (c *canvas) put(x, y int, content string, s uv.Style) {
	if x >= 0 && x < c.w && y >= 0 && y < c.h {
		c.SetCell(x, y, &uv.Cell{Content: content, Style: s, Width: 1})
	}
}

func (c *canvas) fill(r geom.Rect, content string, s uv.Style) {
	r = r.Intersect(geom.R(0, 0, c.w, c.h))
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X; x < r.Right(); x++ {
			c.put(x, y, content, s)
		}
	}
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
	n = min(n, c.w-x)
	at := 0
	for _, r := range fit(s, n) {
		content := string(r)
		w := width(content)
		if w == 0 && !unicode.In(r, unicode.Mn, unicode.Me) {
			continue // what is no letter must not reach the terminal
		}
		if w == 0 { // a mark on the letter before
			if prev := c.CellAt(x+at-1, y); at > 0 && prev != nil && !prev.IsZero() {
				cell := *prev
				cell.Content += content
				c.SetCell(x+at-1, y, &cell)
			}
			continue
		}
		if x+at >= 0 {
			c.SetCell(x+at, y, &uv.Cell{Content: content, Style: st, Width: w})
		}
		at += w
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
			if cell := c.CellAt(x, y); cell != nil {
				st.Bg = cell.Style.Bg
			}
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
		cell := c.CellAt(x, y)
		if cell == nil {
			return false
		}
		for _, r := range cell.Content {
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
