package tui

import (
	"fmt"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// move takes the selection in a direction.
func (m *model) move(dir desk.Dir) {
	w := m.d.Window(m.sel.Window)
	if w != nil {
		if next, ok := m.d.InPile(w, dir); ok {
			m.sel = cells.Selection{Window: next}
			return
		}
	}
	if _, large := m.screen().(*sheetScreen); large && w != nil {
		// By the windows' true places; at the edge on to the next sheet.
		var stops []cells.Stop
		i, letter := m.sheetAt()
		for _, o := range m.d.Order(i, letter) {
			if m.d.Covered(o) {
				continue
			}
			stops = append(stops, cells.Stop{At: cells.Selection{Window: o.ID}, Rect: o.Rect})
		}
		if next, ok := atlasmap.Next(stops, w.Rect, dir); ok {
			m.sel = next
			return
		}
	}
	ch := m.chart()
	at := m.sel
	if w != nil {
		at.Window = m.d.InFront(w).ID
	}
	from, ok := ch.Stop(at)
	if !ok {
		if m.sel.Window != 0 { // minimised: its sheet is where it is
			if s, found := ch.SheetOf(m.d, m.sel.Window); found {
				from = cells.Stop{Rect: geom.R(s.X, s.Y, 1, 1)}
			}
		} else {
			m.sel = m.here()
			return
		}
	}
	if next, ok := ch.Step(from, dir); ok {
		m.sel = next
		return
	}
	// The rows may have scrolled.
	i := m.workspaceAt()
	switch {
	case dir == desk.Up && i > 0 && ch.Above > 0:
		m.sel = cells.Selection{Workspace: m.d.Workspaces[i-1].ID}
	case dir == desk.Down && i+1 < len(m.d.Workspaces) && ch.Below > 0:
		m.sel = cells.Selection{Workspace: m.d.Workspaces[i+1].ID}
	}
}

// step chooses the next window of the sheet, minimised ones too; on a
// workspace's number, its first window.
func (m *model) step(by int) tea.Cmd {
	i, letter := m.workspaceAt(), m.monitorAt()
	if letter == 0 {
		letter = m.sheetOf(i)
	}
	list := append(m.d.Order(i, letter), m.d.Minimised(i, letter)...)
	if len(list) == 0 {
		m.say(fmt.Sprintf("Sheet %s is empty.", desk.SheetRef(i, letter)), false)
		return nil
	}
	at := -1
	for j, w := range list {
		if w.ID == m.sel.Window {
			at = j
		}
	}
	if at < 0 && by < 0 {
		at = 0
	}
	m.sel = cells.Selection{Window: list[(at+by+len(list))%len(list)].ID}
	return nil
}

// here is the focused window, else the sheet you are on.
func (m *model) here() cells.Selection {
	if m.d.Focus != 0 {
		return cells.Selection{Window: m.d.Focus}
	}
	i := m.d.Current()
	if !m.d.Has(i, m.d.At) {
		return cells.Selection{Workspace: m.d.Workspaces[i].ID}
	}
	return cells.Selection{Workspace: m.d.Workspaces[i].ID, Letter: m.d.At}
}

// keepSelection moves the selection off what is gone.
func (m *model) keepSelection() {
	s := m.sel
	switch {
	case s.Window != 0 && m.d.Window(s.Window) != nil:
		return
	case s.Window == 0 && m.d.Index(s.Workspace) >= 0 && (s.Letter == 0 || m.d.Has(m.d.Index(s.Workspace), s.Letter)):
		if s.Letter == 0 || len(m.d.Order(m.d.Index(s.Workspace), s.Letter)) == 0 {
			return
		}
		m.sel = cells.Selection{Window: m.d.Order(m.d.Index(s.Workspace), s.Letter)[0].ID}
		return
	}
	m.sel = m.here()
}

// subject is the query for what is chosen, for verbs that act on windows; nil
// where no window is.
func (m *model) subject() desk.Query { return desk.ByIDs(m.chosen()) }

// workspaceAt is the index of the workspace the selection is on.
func (m *model) workspaceAt() int {
	if w := m.d.Window(m.sel.Window); w != nil {
		return m.d.Index(w.Workspace)
	}
	return max(m.d.Index(m.sel.Workspace), 0)
}

// sheetOf is the monitor of the sheet that stands for a whole workspace: At's,
// or in separate mode its home's.
func (m *model) sheetOf(i int) byte {
	if m.d.Has(i, m.d.At) {
		return m.d.At
	}
	return m.d.HomeOf(i)
}

// monitorAt is the monitor the selection is on, 0 for a whole workspace.
func (m *model) monitorAt() byte {
	if w := m.d.Window(m.sel.Window); w != nil {
		return w.Monitor
	}
	return m.sel.Letter
}

// subjectWords names what is chosen.
func (m *model) subjectWords() string {
	if n := len(m.group()); n > 1 && !m.marked() {
		return fmt.Sprintf("the group of %d around #%d", n, m.sel.Window)
	}
	if n := len(m.chosen()); n > 1 {
		return fmt.Sprintf("%d marked windows", n)
	}
	if w := m.d.Window(m.sel.Window); w != nil {
		name := w.App
		if name == "" {
			name = w.Label()
		}
		return fmt.Sprintf("#%d %s", w.ID, cells.Fit(name, 24))
	}
	i := m.workspaceAt()
	if m.sel.Letter != 0 {
		return "sheet " + desk.SheetRef(i, m.sel.Letter)
	}
	return "workspace " + cells.Fit(m.d.Title(i), 20)
}

// subjectMonitor is the monitor of the chosen window, else the one you are on.
func (m *model) subjectMonitor() byte {
	if l := m.monitorAt(); l != 0 {
		return l
	}
	return m.d.At
}

// chosen lists the windows that a verb acts on: the marked ones, else the one
// chosen, or the group it was widened to.
func (m *model) chosen() []int {
	if c, ok := m.screen().(chooser); ok {
		if ids := c.chosen(m); len(ids) > 0 {
			return ids
		}
	}
	return m.group()
}

// marked tells whether windows are marked, which verbs then act on.
func (m *model) marked() bool {
	c, ok := m.screen().(chooser)
	return ok && len(c.chosen(m)) > 0
}
