package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// helpLines is the page of keys, made from the tables of verbs and of keys.
func (m *model) helpLines() [][]span {
	t := m.opt.Theme
	head, key, does, quiet := bold(t.style(t.Brass)), bold(t.style(t.Green)), t.style(t.Paper), t.style(t.Slate)
	row := func(k, what, more string) []span {
		return []span{{fmt.Sprintf("  %-14s", k), key}, {what, does}, {more, quiet}}
	}
	lines := [][]span{
		{{"VERBS", head}, {"   act on what is chosen; the words are the same on the : line and in zatlas do", quiet}},
	}
	for _, v := range desk.Verbs() {
		if v.Name == "focus" {
			continue
		}
		lines = append(lines, row(v.Key, fmt.Sprintf("%-10s", v.Name), v.Help), []span{{strings.Repeat(" ", 26) + lang.Usage(v), quiet}})
	}
	lines = append(lines, nil, []span{{"ABOUT", head}},
		row("arrows, hjkl", "choose a window, an empty sheet, or a workspace's number", ""),
		row("1-9", "go to a workspace", ""))
	for _, b := range bindings() {
		lines = append(lines, row(b.shown, b.help, ""))
	}
	lines = append(lines, nil, []span{{"AFTER s, c OR g", head}},
		row("1-9", "a workspace, at once", ""),
		row(strings.ReplaceAll(m.monitors(), " or ", ", "), "a monitor: then Enter, or a digit for a sheet", ""),
		row("arrows", "aim at a sheet: the outline shows what Enter would do", ""),
		row("n, b, /", "a new workspace, the one before, one by its name", ""),
		row("Enter", "the same target as last time", ""))
	lines = append(lines, nil, []span{{"MARKS", head}},
		[]span{{"  ● has the focus   ≈ floats   ▁ minimised   ^ urgent   ! lost   +2 two more underneath", does}})
	if len(m.opt.Chords) > 0 {
		lines = append(lines, nil, []span{{"ANYWHERE ON THE DISPLAY", head}})
		for _, c := range m.opt.Chords {
			lines = append(lines, row(c[0], " "+c[1], ""))
		}
	}
	return lines
}

func (m *model) help(c *canvas) {
	t := m.opt.Theme
	lines := m.helpLines()
	c.spans(1, 0, c.w-2, span{"ALL KEYS", bold(t.style(t.Brass))})
	room := c.h - 3
	m.scroll = max(0, min(m.scroll, len(lines)-room))
	for i := range min(room, len(lines)-m.scroll) {
		c.spans(1, 2+i-1, c.w-2, lines[m.scroll+i]...)
	}
	hs := []hint{{"Escape", "back to the map"}}
	if len(lines) > room {
		hs = append(hs, hint{"up, down", "scroll"})
		if left := len(lines) - room - m.scroll; left > 0 {
			c.text(1, c.h-2, c.w-2, fmt.Sprintf("%d more lines below", left), t.style(t.Slate))
		}
	}
	m.legend(c, c.h-1, nil, hs)
}

func (m *model) helpKey(name string) tea.Cmd {
	switch name {
	case "down", "j":
		m.scroll++
	case "up", "k":
		m.scroll--
	case "pgdown", "space":
		m.scroll += m.h - 4
	case "pgup":
		m.scroll -= m.h - 4
	case "home":
		m.scroll = 0
	case "esc", "?", "q", "enter":
		m.mode = modeMap
	}
	return nil
}
