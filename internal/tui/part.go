package tui

import (
	"fmt"
	"strconv"
	"strings"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
	"zatlas/internal/tui/cells"
)

// partPrompt asks for a part of the work area: a side, a corner, cells of a grid.
type partPrompt struct {
	over
	verb   string
	digit  int    // the first cell, 0 for none yet
	cursor int    // the cell that arrows choose, 0 where digits do
	part   string // of the work area, empty for a half
}

func (p *partPrompt) hints(m *model) legend {
	return legend{lead: p.verb + " " + m.subjectWords(), flows: true, first: append(p.partHints(m), escapes)}
}

func (p *partPrompt) pending(m *model) (desk.Command, bool) {
	if p.cursor == 0 || p.digit == 0 {
		return desk.Command{}, false
	}
	c, err := lang.ParseCommand(p.cellWords(m))
	return m.about(c), err == nil
}

// snapParts are the keys for another part than a half; snapCorners those of the
// corners.
var snapParts, snapCorners = func() (parts, corners map[string]string) {
	parts, corners = map[string]string{}, map[string]string{}
	for _, p := range prompt.Parts {
		parts[p[0]] = p[1]
	}
	for _, c := range prompt.Corners {
		corners[c[0]] = c[1]
	}
	return parts, corners
}()

// snapKey follows a key after snap: a direction, perhaps after a part; a corner;
// the digits of two cells of the grid, or arrows that choose them.
func (p *partPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	dir, isDir := directions()[name]
	grid := m.d.GridOf(m.subjectMonitor())
	digit, err := strconv.Atoi(k.Text)
	switch {
	case name == "esc":
		return m.leave()
	case p.cursor > 0 && isDir:
		p.moveCursor(grid, dir)
	case p.cursor > 0 && (name == "enter" || name == "space") && p.digit == 0:
		p.digit = p.cursor
	case p.cursor > 0 && (name == "enter" || name == "space"):
		return m.answer(p.cellWords(m))
	case p.cursor > 0:
		m.say(fmt.Sprintf("%s does nothing here: arrows choose a cell, Enter takes it.", named(k)), true)
	case isDir:
		return m.answer(strings.TrimSpace("snap " + [...]string{"left", "right", "top", "bottom"}[dir] + " " + p.part))
	case k.Text == "m":
		return m.answer(strings.TrimSpace("snap middle " + p.part))
	case snapParts[k.Text] != "":
		p.part = snapParts[k.Text]
		m.say(fmt.Sprintf("A %s: at which side?", p.part), false)
	case snapCorners[k.Text] != "":
		return m.answer("snap " + snapCorners[k.Text])
	case k.Text == "g":
		p.cursor, p.digit = 1, 0
		m.say("Arrows to the first cell, Enter; arrows to the last one, Enter.", false)
	case err == nil && digit >= 1 && grid.Cols*grid.Rows > 9:
		m.say(fmt.Sprintf("This grid has %d cells: g chooses them by arrows.", grid.Cols*grid.Rows), true)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows && p.digit == 0:
		p.digit = digit
		m.say(fmt.Sprintf("From cell %d to which?", digit), false)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows:
		return m.answer(fmt.Sprintf("snap %dx%d %d %d", grid.Cols, grid.Rows, p.digit, digit))
	default:
		m.say(fmt.Sprintf("%s is no place. Escape cancels.", named(k)), true)
	}
	return nil
}

// moveCursor goes to the next cell of a grid.
func (p *partPrompt) moveCursor(grid desk.GridSize, dir desk.Dir) {
	x, y := (p.cursor-1)%grid.Cols, (p.cursor-1)/grid.Cols
	switch dir {
	case desk.Left:
		x--
	case desk.Right:
		x++
	case desk.Up:
		y--
	case desk.Down:
		y++
	}
	p.cursor = geom.Clamp(y, 0, grid.Rows-1)*grid.Cols + geom.Clamp(x, 0, grid.Cols-1) + 1
}

// cellWords is the command that the cells chosen by arrows stand for.
func (p *partPrompt) cellWords(m *model) string {
	grid := m.d.GridOf(m.subjectMonitor())
	return fmt.Sprintf("snap %dx%d %d %d", grid.Cols, grid.Rows, p.digit, p.cursor)
}

// snapHints are the keys after snap.
func (p *partPrompt) partHints(m *model) []hint {
	grid := m.d.GridOf(m.subjectMonitor())
	size := fmt.Sprintf("of %d by %d", grid.Cols, grid.Rows)
	if p.cursor > 0 {
		return []hint{{"arrows", "a cell " + size}, {"Enter", "takes it"}}
	}
	half := p.part
	if half == "" {
		half = "half"
	}
	hs := []hint{{"arrows", "a " + half}, {"m", "the middle"}}
	if p.part != "" {
		return hs
	}
	if grid.Cols*grid.Rows <= 9 {
		hs = append(hs, hint{"two digits", "cell to cell " + size})
	}
	return append(hs, hint{"g", "cells by arrows"}, hint{"t T", "a third, two"}, hint{"q Q", "a quarter, three"}, hint{"y u b n", "corners"})
}

// startGrid asks for cells of the grid, by arrows.
func (m *model) startGrid() tea.Cmd {
	if m.subject() == nil {
		m.say("No window has the focus: snap acts on windows.", true)
		return nil
	}
	return m.prompt(&partPrompt{verb: "snap", cursor: 1})
}

// drawGrid pencils the grid over a sheet, with the numbers of its cells; those
// chosen so far are reversed. Where there is little room the numbers stand alone.
// At gives the cells on the screen of a rectangle on the plane.
func (p *partPrompt) drawGrid(m *model, c *cells.Canvas, work geom.Rect, grid desk.GridSize, at func(r geom.Rect) geom.Rect) {
	st := cells.Bold(m.opt.Theme.Style(m.opt.Theme.Brass))
	cell := func(x, y int) geom.Rect {
		x0, y0 := x*work.W/grid.Cols, y*work.H/grid.Rows
		return at(geom.R(work.X+x0, work.Y+y0, (x+1)*work.W/grid.Cols-x0, (y+1)*work.H/grid.Rows-y0))
	}
	whole := at(work)
	if whole.W < 3*grid.Cols || whole.H < grid.Rows {
		return // no room for the digits
	}
	if whole.W >= 5*grid.Cols && whole.H >= 2*grid.Rows+1 {
		// The names there, and the frame of the chosen window, would be cut by the numbers.
		for y := whole.Y; y < whole.Bottom(); y++ {
			for x := whole.X; x < whole.Right(); x++ {
				_, under := c.At(x, y)
				c.Put(x, y, " ", uv.Style{Fg: under.Fg, Bg: under.Bg})
			}
		}
		c.Box(whole, cells.PencilFrame, st, nil)
		for x := 1; x < grid.Cols; x++ {
			c.Box(geom.R(cell(x, 0).X, whole.Y, 1, whole.H), cells.ColumnLine, st, nil)
		}
		for y := 1; y < grid.Rows; y++ {
			c.Box(geom.R(whole.X, cell(0, y).Y, whole.W, 1), cells.RowLine, st, nil)
			for x := 1; x < grid.Cols; x++ {
				c.Box(geom.R(cell(x, y).X, cell(x, y).Y, 1, 1), cells.Crossing, st, nil)
			}
		}
	}
	for n := range grid.Cols * grid.Rows {
		mid := cell(n%grid.Cols, n/grid.Cols).Center()
		s := st
		if p.cellChosen(grid, n+1) {
			s = cells.Reverse(st)
		}
		words := fmt.Sprintf(" %d ", n+1)
		c.Text(mid.X-cells.Width(words)/2, mid.Y, cells.Width(words), words, s)
	}
}

// cellChosen tells whether a cell lies in the block chosen so far.
func (p *partPrompt) cellChosen(grid desk.GridSize, cell int) bool {
	from, to := p.digit, p.cursor
	if from == 0 {
		from = to
	}
	if to == 0 {
		to = from
	}
	if from == 0 {
		return false
	}
	within := func(n, a, b int) bool { return n >= min(a, b) && n <= max(a, b) }
	return within((cell-1)%grid.Cols, (from-1)%grid.Cols, (to-1)%grid.Cols) && within((cell-1)/grid.Cols, (from-1)/grid.Cols, (to-1)/grid.Cols)
}
