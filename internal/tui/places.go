package tui

import (
	"fmt"
	"strconv"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// layoutKeys are the letters after t.
func layoutKeys() map[string]string {
	return map[string]string{"c": "columns", "r": "rows", "l": "lead", "p": "pile", "b": "tabs", "t": "tree", "f": "free", "n": "next"}
}

func (m *model) layoutKey(name string) tea.Cmd {
	if name == "esc" {
		m.mode = modeMap
		m.say("Left as it was.", false)
		return nil
	}
	word, ok := layoutKeys()[name]
	args := []arg{{Kind: desk.Keyword, Word: word}}
	if n, err := strconv.Atoi(name); err == nil && n >= 1 && n <= desk.MaxLeads {
		ok = true
		args = []arg{{Kind: desk.Keyword, Word: layout.Lead.String()}, {Kind: desk.Number, N: n}}
	}
	if !ok {
		m.say(fmt.Sprintf("%s is no layout. Escape leaves it.", name), true)
		return nil
	}
	m.mode = modeMap
	c := desk.Command{Verb: "layout", Args: args, Of: m.subject()}
	if c.Of == nil {
		i, letter := m.workspaceAt(), m.monitorAt()
		if i != m.d.Current() || letter != 0 && letter != m.d.At {
			m.say("Nothing lies on that sheet yet. Go there first, or choose a window.", true)
			return nil
		}
	}
	return m.do(c)
}

// layoutLetter is the monitor of the sheet that t is about.
func (m *model) layoutLetter() byte {
	if l := m.monitorAt(); l != 0 {
		return l
	}
	return m.sheetOf(m.workspaceAt())
}

// dirKey follows the direction after swap, group or split.
func (m *model) dirKey(k tea.KeyPressMsg, name string) tea.Cmd {
	if m.verb == "snap" {
		return m.snapKey(k, name)
	}
	dir, isDir := directions()[name]
	switch {
	case name == "esc":
		m.mode = modeMap
		m.say("Left as it was.", false)
		return nil
	case isDir && m.verb == "split":
		return m.dirDone(map[bool]string{true: "across", false: "down"}[dir == desk.Left || dir == desk.Right])
	case isDir:
		return m.dirDone(dir.String())
	case m.verb != "split" && (k.Text == "n" || k.Text == "p"):
		return m.dirDone(map[string]string{"n": "next", "p": "prev"}[k.Text])
	}
	m.say(fmt.Sprintf("%s is no direction. Escape leaves it.", k.Keystroke()), true)
	return nil
}

// dirDone carries out the verb that waited for these words.
func (m *model) dirDone(words string) tea.Cmd {
	m.mode, m.cursor = modeMap, 0
	return m.run(m.verb + " " + words)
}

// snapParts are the keys for another part than a half; snapCorners those of the
// corners.
var (
	snapParts   = map[string]string{"t": "third", "T": "two-thirds", "q": "quarter", "Q": "three-quarters"}
	snapCorners = map[string]string{"y": "topleft", "u": "topright", "b": "bottomleft", "n": "bottomright"}
)

// snapKey follows a key after snap: a direction, perhaps after a part; a corner;
// the digits of two cells of the grid, or arrows that choose them.
func (m *model) snapKey(k tea.KeyPressMsg, name string) tea.Cmd {
	dir, isDir := directions()[name]
	grid := m.d.GridOf(m.subjectMonitor())
	digit, err := strconv.Atoi(k.Text)
	switch {
	case name == "esc":
		m.mode, m.cursor = modeMap, 0
		m.say("Left as it was.", false)
	case m.cursor > 0 && isDir:
		m.moveCursor(grid, dir)
	case m.cursor > 0 && (name == "enter" || name == "space") && m.digit == 0:
		m.digit = m.cursor
	case m.cursor > 0 && (name == "enter" || name == "space"):
		return m.dirDone(strings.TrimPrefix(m.cellWords(), "snap "))
	case m.cursor > 0:
		m.say(fmt.Sprintf("%s does nothing here: arrows choose a cell, Enter takes it.", k.Keystroke()), true)
	case isDir:
		return m.dirDone(strings.TrimSpace([...]string{"left", "right", "top", "bottom"}[dir] + " " + m.part))
	case k.Text == "m":
		return m.dirDone(strings.TrimSpace("middle " + m.part))
	case snapParts[k.Text] != "":
		m.part = snapParts[k.Text]
		m.say(fmt.Sprintf("A %s: at which side?", m.part), false)
	case snapCorners[k.Text] != "":
		return m.dirDone(snapCorners[k.Text])
	case k.Text == "g":
		m.cursor, m.digit = 1, 0
		m.say("Arrows to the first cell, Enter; arrows to the last one, Enter.", false)
	case err == nil && digit >= 1 && grid.Cols*grid.Rows > 9:
		m.say(fmt.Sprintf("This grid has %d cells: g chooses them by arrows.", grid.Cols*grid.Rows), true)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows && m.digit == 0:
		m.digit = digit
		m.say(fmt.Sprintf("From cell %d to which?", digit), false)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows:
		return m.dirDone(fmt.Sprintf("%dx%d %d %d", grid.Cols, grid.Rows, m.digit, digit))
	default:
		m.say(fmt.Sprintf("%s is no place. Escape leaves it.", k.Keystroke()), true)
	}
	return nil
}

// moveCursor goes to the next cell of a grid.
func (m *model) moveCursor(grid desk.GridSize, dir desk.Dir) {
	x, y := (m.cursor-1)%grid.Cols, (m.cursor-1)/grid.Cols
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
	m.cursor = geom.Clamp(y, 0, grid.Rows-1)*grid.Cols + geom.Clamp(x, 0, grid.Cols-1) + 1
}

// cellWords is the command that the cells chosen by arrows stand for.
func (m *model) cellWords() string {
	grid := m.d.GridOf(m.subjectMonitor())
	return fmt.Sprintf("snap %dx%d %d %d", grid.Cols, grid.Rows, m.digit, m.cursor)
}

// snapHints are the keys after snap.
func (m *model) snapHints() []hint {
	grid := m.d.GridOf(m.subjectMonitor())
	size := fmt.Sprintf("of %d by %d", grid.Cols, grid.Rows)
	if m.cursor > 0 {
		return []hint{{"arrows", "a cell " + size}, {"Enter", "takes it"}}
	}
	half := m.part
	if half == "" {
		half = "half"
	}
	hs := []hint{{"arrows", "a " + half}, {"m", "the middle"}}
	if m.part != "" {
		return hs
	}
	if grid.Cols*grid.Rows <= 9 {
		hs = append(hs, hint{"two digits", "cell to cell " + size})
	}
	return append(hs, hint{"g", "cells by arrows"}, hint{"t T", "a third, two"}, hint{"q Q", "a quarter, three"}, hint{"y u b n", "corners"})
}
