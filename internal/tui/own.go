package tui

import (
	"fmt"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/tui/cells"
)

// ownWindow is the window in which these screens run, where that is one of the desk: that of the
// nearest process above this one which has one. It is nil where there is none, as in the
// atlas window, or on another machine.
func (m *model) ownWindow() *desk.Window {
	if m.d == nil {
		return nil
	}
	for _, pid := range m.opt.Above {
		var found *desk.Window
		for _, w := range m.d.Windows {
			// Of several windows of one terminal, the one with the title of these screens.
			if w.PID == pid && (found == nil || w.Title == m.opt.Title) {
				found = w
			}
		}
		if found != nil {
			return found
		}
	}
	return nil
}

// isOwn tells whether these screens run in a window. Most have no process above this one, and
// are not compared with all the others.
func (m *model) isOwn(w *desk.Window) bool {
	if !slices.Contains(m.opt.Above, w.PID) {
		return false
	}
	own := m.ownWindow()
	return own != nil && own.ID == w.ID
}

// otherThanOwn is the window that is chosen first: not the one of these screens, where
// there is another to be seen.
func (m *model) otherThanOwn(s cells.Selection) cells.Selection {
	own := m.ownWindow()
	if own == nil || s.Window != own.ID {
		return s
	}
	for _, w := range m.d.Latest() {
		if w.ID != own.ID && m.d.Visible(w) && w.Parent == 0 {
			return cells.Selection{Window: w.ID}
		}
	}
	return s
}

// sureOfOwn asks, once, before a command acts on the window of these screens.
func (m *model) sureOfOwn(c desk.Command) (q desk.Question, asks bool) {
	own, v := m.ownWindow(), desk.Verb{}
	if v, _ = desk.FindVerb(c.Verb); m.askedOwn || own == nil || !v.Windows || c.Hand != 0 {
		return q, false
	}
	ids := []int{m.d.Focus}
	if c.Of != nil {
		ids = nil
		for _, w := range m.d.Select(c.Of) {
			ids = append(ids, w.ID)
		}
	} else if v.Sheet {
		return q, false
	}
	if !slices.Contains(ids, own.ID) {
		return q, false
	}
	m.askedOwn = true
	return desk.Question{Text: fmt.Sprintf("#%d is the terminal that these screens run in: %s it?", own.ID, c.Verb), Does: "does it", Leaves: "leaves it"}, true
}
