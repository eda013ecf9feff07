package tui

import (
	"slices"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/keeper"
)

// widened is what the selection was widened to, from a window to one group
// around it after the other. Each is the windows that it had at that moment: a
// choice that goes to another sheet takes in nobody there.
type widened struct {
	window int
	groups [][]int
}

// group lists the windows of the group that the selection was widened to: the
// chosen window alone where it was not, none where none is chosen.
func (m *model) group() []int {
	if m.sel.Window == 0 {
		return nil
	}
	if m.wide.window != m.sel.Window || len(m.wide.groups) == 0 {
		return []int{m.sel.Window}
	}
	ids := m.wide.groups[len(m.wide.groups)-1]
	return slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return m.d.Window(id) == nil })
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
	w := m.d.Window(m.sel.Window)
	if w == nil {
		m.say("Choose a window first: Z takes the group around it.", true)
		return nil
	}
	if err := m.d.Untiled(w); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	wider := m.d.Around(m.group())
	if wider == nil {
		m.say("There is no group around that. Escape takes fewer.", false)
		return nil
	}
	if m.wide.window != w.ID {
		m.wide = widened{window: w.ID}
	}
	m.wide.groups = append(m.wide.groups, wider)
	m.say("", false)
	return nil
}

// narrow takes one widening back; ok is false where there was none.
func (m *model) narrow() bool {
	n := len(m.wide.groups)
	if m.wide.window != m.sel.Window || n == 0 {
		return false
	}
	m.wide.groups = m.wide.groups[:n-1]
	m.say("", false)
	return true
}
