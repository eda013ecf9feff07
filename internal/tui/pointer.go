package tui

import (
	"maps"
	"slices"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// under is what is drawn at a cell, the topmost.
func (m *model) under(x, y int) (selection, bool) {
	return m.topmost(x, y, func(selection) bool { return true })
}

func (m *model) topmost(x, y int, ok func(selection) bool) (selection, bool) {
	for _, s := range slices.Backward(m.stops) {
		if s.rect.Has(geom.Point{X: x, Y: y}) && ok(s.at) {
			return s.at, true
		}
	}
	return selection{}, false
}

// placeUnder is the sheet on the map at a cell, or the workspace whose number is
// there, as the target of a verb.
func (m *model) placeUnder(x, y int) (arg, bool) {
	sel, ok := m.topmost(x, y, func(s selection) bool { return s.window == 0 })
	i := m.d.Index(sel.workspace)
	switch {
	case !ok || i < 0:
		return arg{}, false
	case sel.letter == 0:
		return arg{Kind: desk.Number, N: i + 1}, true
	}
	return arg{Kind: desk.Ref, Letter: sel.letter, N: i + 1}, true
}

// click chooses what is under the pointer, and after a verb that takes a place
// aims at it.
func (m *model) click(e tea.Mouse) {
	if m.d == nil || m.busy || e.Button != tea.MouseLeft {
		return
	}
	if m.mode == modeTarget && slices.Contains([]string{"go", "send", "carry", "rescue"}, m.verb) {
		if a, ok := m.placeUnder(e.X, e.Y); ok {
			m.target = &a
		}
		return
	}
	sel, ok := m.under(e.X, e.Y)
	switch {
	case !ok:
	case m.mode == modeMap && m.screen == screenGazetteer:
		m.gazClick(sel)
	case m.mode == modeMap:
		m.sel, m.wide, m.message = sel, widened{}, ""
		m.keepSelection()
		if m.screen == screenMap && sel.window != 0 {
			m.grip = sel.window
		}
	}
}

// gazClick brings the row of a window under the cursor.
func (m *model) gazClick(sel selection) {
	i := slices.IndexFunc(m.gaz.rows, func(r gazRow) bool { return r.window != nil && r.window.ID == sel.window })
	if i >= 0 && !m.gaz.search {
		m.gaz.at, m.message = i, ""
		m.gazSelect()
	}
}

// drag has the window under the press sent to the sheet that the pointer is
// over, once it is let go there; one that is lost is brought back to it.
func (m *model) drag(e tea.Mouse) {
	w := m.d.Window(m.grip)
	if w == nil || m.busy {
		m.grip = 0
		return
	}
	m.mode, m.target = modeMap, nil
	verb, own := "send", arg{Kind: desk.Ref, Letter: w.Monitor, N: m.d.Index(w.Workspace) + 1}
	if m.d.Lost(w).Cause != stray.None {
		verb, own = "rescue", arg{}
	}
	if a, ok := m.placeUnder(e.X, e.Y); ok && a != own {
		m.mode, m.verb, m.target, m.app, m.message = modeTarget, verb, &a, "", ""
	}
}

// letGo carries out what a drag leads to.
func (m *model) letGo() tea.Cmd {
	dragged := m.grip != 0 && m.mode == modeTarget && m.target != nil
	m.grip = 0
	if !dragged || m.busy {
		return nil
	}
	last := maps.Clone(m.last)
	cmd := m.hit(*m.target)
	m.last = last // Enter alone repeats what keys aimed at
	return cmd
}

// wheel goes through what there is: workspaces on the map, lines elsewhere.
func (m *model) wheel(e tea.Mouse) tea.Cmd {
	dir := map[tea.MouseButton]int{tea.MouseWheelUp: -1, tea.MouseWheelDown: 1}[e.Button]
	if m.d == nil || dir == 0 || m.busy || m.grip != 0 {
		return nil
	}
	switch {
	case m.mode == modeHelp:
		m.scroll = max(0, m.scroll+3*dir)
	case m.mode == modeMap && m.screen == screenGazetteer:
		m.gazMove(3 * dir)
	case m.mode == modeMap && m.screen != screenStrays:
		i := geom.Clamp(m.workspaceAt()+dir, 0, len(m.d.Workspaces)-1)
		m.sel = selection{workspace: m.d.Workspaces[i].ID}
	case m.mode == modeMap || m.mode == modeLog || m.mode == modeRules && !m.rules.line && !m.rules.asks:
		return m.key(tea.KeyPressMsg{Code: map[int]rune{-1: tea.KeyUp, 1: tea.KeyDown}[dir]})
	}
	return nil
}
