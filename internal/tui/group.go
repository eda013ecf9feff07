package tui

import (
	tea "charm.land/bubbletea/v2"
)

// widened is how far the selection was widened: so many groups around a window.
type widened struct{ window, levels int }

// group lists the windows of the group that the selection was widened to: the
// chosen window alone where it was not, none where none is chosen.
func (m *model) group() []int {
	if m.sel.window == 0 {
		return nil
	}
	ids := []int{m.sel.window}
	if m.wide.window != m.sel.window {
		return ids
	}
	for range m.wide.levels {
		wider := m.d.Around(ids)
		if wider == nil {
			break
		}
		ids = wider
	}
	return ids
}

// inGroup tells which windows are chosen together by widening.
func (m *model) inGroup() map[int]bool {
	in := map[int]bool{}
	for _, id := range m.group() {
		in[id] = true
	}
	return in
}

// widen chooses the group around what is chosen.
func (m *model) widen() tea.Cmd {
	w := m.d.Window(m.sel.window)
	switch {
	case w == nil:
		m.say("Choose a window first: Z takes the group around it.", true)
	case !m.d.Tiled(w):
		m.say(w.Label()+" is not tiled, and in no group.", true)
	case m.d.Around(m.group()) == nil:
		m.say("There is no group around that. Escape takes fewer.", false)
	default:
		if m.wide.window != w.ID {
			m.wide = widened{window: w.ID}
		}
		m.wide.levels++
		m.say("", false)
	}
	return nil
}

// narrow takes one widening back; ok is false where there was none.
func (m *model) narrow() bool {
	if m.wide.window != m.sel.window || m.wide.levels == 0 {
		return false
	}
	m.wide.levels--
	m.say("", false)
	return true
}
