package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// helpVerbs is the page's column of verbs, made from their table, so many cells wide.
func (m *model) helpVerbs(wide int) (verbs [][]span) {
	t := m.opt.Theme
	head, key, does, quiet := bold(t.style(t.Brass)), bold(t.style(t.Green)), t.style(t.Paper), t.style(t.Slate)
	verbs = append(verbs, []span{{"VERBS", head}, {"  act on what is chosen, in the same words everywhere", quiet}})
	for _, v := range desk.Verbs() {
		keys := v.Key + v.Bound
		if len(keys) > 4 {
			keys = "" // they stand beside
		}
		lead := []span{{fmt.Sprintf(" %-4s", keys), key}, {fmt.Sprintf("%-11s", v.Name), bold(does)}}
		for _, part := range []span{{v.Help, does}, {lang.Usage(v), quiet}} {
			for _, line := range wrap(part.text, wide-16) {
				verbs = append(verbs, append(lead, span{line, part.style}))
				lead = []span{{strings.Repeat(" ", 16), quiet}}
			}
		}
	}
	return verbs
}

// helpRest is the column of everything else.
func (m *model) helpRest() (rest [][]span) {
	t := m.opt.Theme
	head, key, does, quiet := bold(t.style(t.Brass)), bold(t.style(t.Green)), t.style(t.Paper), t.style(t.Slate)
	row := func(k, what string) []span {
		return []span{{fmt.Sprintf("  %-15s", k), key}, {what, does}}
	}
	section := func(name, more string) { rest = append(rest, nil, []span{{name, head}, {more, quiet}}) }
	rest = append(rest, []span{{"MOVING ABOUT", head}},
		row("arrows, hjkl", "choose a window, an empty sheet, a number"),
		row("1-9", "go to a workspace"))
	for _, b := range bindings() {
		rest = append(rest, row(b.shown, b.help))
	}
	section("AFTER ;", "")
	for _, s := range m.list {
		rest = append(rest, row(s.key, "the "+s.name+": "+s.help))
	}
	section("AFTER s, c OR g", "")
	rest = append(rest,
		row("1-9", "a workspace, at once"),
		row(strings.ReplaceAll(m.monitors(), " or ", ", "), "a monitor; then Enter, or a digit for a sheet"),
		row("arrows", "aim at a sheet; the outline shows the result"),
		row("n, b, /", "a new workspace, the one before, by name"),
		row("*", "all windows of its app, after asking"),
		row("Enter", "the same target as last time"))
	section("AFTER t", "")
	rest = append(rest,
		row("c, r, l, t", "columns, rows, lead, tree"),
		row("p, b, f", "pile, tabs, free"),
		row("1-9", "lead, with so many leading"),
		row("n", "the next of them"))
	section("AFTER p", "")
	rest = append(rest,
		row("arrows, m", "a half at that side, the middle"),
		row("t, T, q, Q", "a third, two, a quarter, three: then the side"),
		row("y, u, b, n", "the corners"),
		row("two digits", "from cell to cell of the grid; g: by arrows"))
	section("AFTER n OR N", "")
	rest = append(rest,
		row("arrows", "move the window, or its edge; with Shift, in"),
		row("1-4, 5", "steps of 1, 10, 50, 200 pixels, of 5 per cent"),
		row("Enter, Escape", "leave it there, put it back"))
	section("IN THE GAZETTEER", "")
	for _, b := range gazBindings() {
		rest = append(rest, row(b.shown, b.help))
	}
	section("THE MOUSE", "  nothing needs it")
	rest = append(rest,
		row("click", "choose, or aim after s, c or g"),
		row("drag", "send a window to another sheet; Escape leaves it"),
		row("wheel", "go through workspaces, or lines"))
	section("MARKS", "")
	rest = append(rest,
		[]span{{"  ● has the focus   ≈ floats   ▁ minimised", does}},
		[]span{{"  ^ urgent   ! lost   +2 two more underneath", does}},
		[]span{{"  ■ shows, of a pile or tabs", does}})
	if len(m.opt.Chords) > 0 {
		section("ANYWHERE ON THE DISPLAY", "")
		for _, c := range m.opt.Chords {
			rest = append(rest, row(c[0], " "+c[1]))
		}
	}
	return rest
}

// keysPage is the page of keys.
type keysPage struct{ scroll int }

// draw draws it, in two columns where there is room for them.
func (p *keysPage) draw(m *model, c *canvas) *tea.Cursor {
	t := m.opt.Theme
	n := 2
	if c.w < 130 {
		n = 1
	}
	wide := c.w / n
	verbs, rest := m.helpVerbs(wide-2), m.helpRest()
	columns := [][][]span{verbs, rest}
	if n == 1 {
		columns = [][][]span{append(append(verbs, nil), rest...)}
	}
	longest := 0
	for _, col := range columns {
		longest = max(longest, len(col))
	}
	c.spans(1, 0, c.w-2, span{"ALL KEYS", bold(t.style(t.Brass))})
	room := c.h - 5
	p.scroll = max(0, min(p.scroll, longest-room))
	for n, col := range columns {
		for i := p.scroll; i < min(len(col), p.scroll+room); i++ {
			c.spans(1+n*wide, 2+i-p.scroll, wide-2, col[i]...)
		}
	}
	hs := []hint{{"Escape", "back"}}
	if m.message != "" {
		c.text(1, c.h-3, c.w-2, m.message, t.style(t.Paper))
	}
	if longest > room {
		hs = append(hs, hint{"up, down", "scroll"})
		if left := longest - room - p.scroll; left > 0 {
			c.text(1, c.h-2, c.w-2, fmt.Sprintf("%d more lines below", left), t.style(t.Slate))
		}
	}
	m.legend(c, c.h-1, legend{first: hs})
	return nil
}

func (*keysPage) hints(*model) legend {
	return legend{first: []hint{{"Escape", "back"}, {"up, down", "scroll"}}}
}

func (p *keysPage) pointer(_ *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		p.scroll = max(0, p.scroll+3*wheelOf(e))
	}
	return nil
}

func (p *keysPage) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	switch name {
	case "down", "j":
		p.scroll++
	case "up", "k":
		p.scroll--
	case "pgdown", "space":
		p.scroll += m.h - 5
	case "pgup":
		p.scroll -= m.h - 5
	case "home":
		p.scroll = 0
	case "esc", "?", "q", "enter":
		m.pop()
	default:
		return m.pageKey(k, name)
	}
	return nil
}
