package tui

import (
	"maps"
	"slices"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
	"zatlas/internal/tui/cells"
)

// under is what is drawn at a cell, the topmost.
func (m *model) under(x, y int) (cells.Selection, bool) {
	return m.topmost(x, y, func(cells.Selection) bool { return true })
}

func (m *model) topmost(x, y int, ok func(cells.Selection) bool) (cells.Selection, bool) {
	for _, s := range slices.Backward(m.stops) {
		if s.Rect.Has(geom.Point{X: x, Y: y}) && ok(s.At) {
			return s.At, true
		}
	}
	return cells.Selection{}, false
}

// placeUnder is the sheet on the map at a cell, or the workspace whose number is
// there, as the target of a verb.
func (m *model) placeUnder(x, y int) (arg, bool) {
	sel, ok := m.topmost(x, y, func(s cells.Selection) bool { return s.Window == 0 })
	i := m.d.Index(sel.Workspace)
	switch {
	case !ok || i < 0:
		return arg{}, false
	case sel.Letter == 0:
		return arg{Kind: desk.Number, N: i + 1}, true
	}
	return arg{Kind: desk.Ref, Letter: sel.Letter, N: i + 1}, true
}

// pointer follows the pointer, where nothing is under way.
func (m *model) pointer(msg tea.MouseMsg) tea.Cmd {
	if m.d == nil || m.w < smallestW || m.h < smallestH {
		return nil
	}
	if m.busy {
		m.grip = 0
		return nil
	}
	return m.top().pointer(m, msg)
}

// doubleTime is how soon after a click another one is the second of two.
const doubleTime = 400 * time.Millisecond

// clicked is what was clicked last, and when.
type clicked struct {
	on cells.Selection
	at time.Time
}

// chooseUnder chooses what is under a click; the second of two goes there, as Enter does.
func (m *model) chooseUnder(msg tea.MouseMsg) tea.Cmd {
	e, click := msg.(tea.MouseClickMsg)
	if !click || e.Button != tea.MouseLeft {
		return nil
	}
	if sel, ok := m.under(e.X, e.Y); ok {
		now, last := m.held.now(), m.click
		m.click = clicked{sel, now}
		m.sel, m.wide, m.message = sel, widened{}, ""
		m.keepSelection()
		if last.on == sel && now.Sub(last.at) < doubleTime {
			m.click = clicked{}
			return m.enter()
		}
	}
	return nil
}

// dragged has the window under the press sent to the sheet that the pointer is
// over, once it is let go there; one that is lost is brought back to it.
func (m *model) dragged(msg tea.MouseMsg) tea.Cmd {
	w := m.d.Window(m.grip)
	if w == nil {
		m.grip = 0
		return nil
	}
	if _, letGo := msg.(tea.MouseReleaseMsg); letGo {
		return m.letGo()
	}
	m.click = clicked{} // a drag is no click
	if m.asking() {
		m.pop()
	}
	verb, own := "send", arg{Kind: desk.Ref, Letter: w.Monitor, N: m.d.Index(w.Workspace) + 1}
	if m.d.Lost(w).Cause != stray.None {
		verb, own = "rescue", arg{}
	}
	e := msg.Mouse()
	if a, ok := m.placeUnder(e.X, e.Y); ok && a != own {
		m.message = ""
		m.push(&placePrompt{verb: verb, target: &a})
	}
	return nil
}

// letGo carries out what a drag leads to.
func (m *model) letGo() tea.Cmd {
	m.grip = 0
	p, ok := m.top().(*placePrompt)
	if !ok || p.target == nil {
		return nil
	}
	last := maps.Clone(m.last)
	cmd := p.hit(m, *p.target)
	m.last = last // Enter alone repeats what keys aimed at
	return cmd
}

// wheelOf is the way a wheel turns: down is 1.
func wheelOf(e tea.MouseWheelMsg) int {
	return map[tea.MouseButton]int{tea.MouseWheelUp: -1, tea.MouseWheelDown: 1}[e.Button]
}

// wheelRows goes through the workspaces.
func (m *model) wheelRows(e tea.MouseWheelMsg) tea.Cmd {
	if by := wheelOf(e); by != 0 && m.grip == 0 {
		i := geom.Clamp(m.workspaceAt()+by, 0, len(m.d.Workspaces)-1)
		m.sel = cells.Selection{Workspace: m.d.Workspaces[i].ID}
	}
	return nil
}

// arrowOf is the wheel as arrow keys.
func (m *model) arrowOf(e tea.MouseWheelMsg) tea.Cmd {
	code, ok := map[int]rune{-1: tea.KeyUp, 1: tea.KeyDown}[wheelOf(e)]
	if !ok {
		return nil
	}
	return m.key(tea.KeyPressMsg{Code: code})
}
