package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
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

// Keys are the keys of the screens and the chords of the display, for the card of
// keys: the verbs first.
func Keys(chords [][2]string) []draw.Section {
	verbs := draw.Section{Head: "VERBS", About: "act on what is chosen, in the same words everywhere"}
	for _, v := range desk.Verbs() {
		if keys := v.Key + v.Bound; keys != "" {
			verbs.Rows = append(verbs.Rows, draw.Key{Keys: keys, Does: v.Name + ": " + v.Help})
		}
	}
	return append([]draw.Section{verbs}, otherKeys("A, B, C", screens(), chords)...)
}

// otherKeys are the sections besides the verbs. Monitors are the letters of those
// that are plugged in, list the screens after ; .
func otherKeys(monitors string, list []listed, chords [][2]string) []draw.Section {
	moving := draw.Section{Head: "MOVING ABOUT", Rows: []draw.Key{
		{Keys: "arrows, hjkl", Does: "choose a window, an empty sheet, a number"},
		{Keys: "1-9", Does: "go to a workspace"}}}
	for _, b := range bindings() {
		moving.Rows = append(moving.Rows, draw.Key{Keys: b.shown, Does: b.help})
	}
	other := draw.Section{Head: "AFTER ;"}
	for _, s := range list {
		other.Rows = append(other.Rows, draw.Key{Keys: s.key, Does: "the " + s.name + ": " + s.help})
	}
	gaz := draw.Section{Head: "IN THE GAZETTEER"}
	for _, b := range gazBindings() {
		gaz.Rows = append(gaz.Rows, draw.Key{Keys: b.shown, Does: b.help})
	}
	all := []draw.Section{moving, other,
		{Head: "AFTER s, c OR g", Rows: []draw.Key{
			{Keys: "1-9", Does: "a workspace, at once"},
			{Keys: monitors, Does: "a monitor; then Enter, or a digit for a sheet"},
			{Keys: "arrows", Does: "aim at a sheet; the outline shows the result"},
			{Keys: "n, b, /", Does: "a new workspace, the one before, by name"},
			{Keys: "*", Does: "all windows of its app, after asking"},
			{Keys: "Enter", Does: "the same target as last time"}}},
		{Head: "AFTER t", Rows: []draw.Key{
			{Keys: "c, r, l, t", Does: "columns, rows, lead, tree"},
			{Keys: "p, b, f", Does: "pile, tabs, free"},
			{Keys: "1-9", Does: "lead, with so many leading"},
			{Keys: "n", Does: "the next of them"}}},
		{Head: "AFTER p", Rows: []draw.Key{
			{Keys: "arrows, m", Does: "a half at that side, the middle"},
			{Keys: "t, T, q, Q", Does: "a third, two, a quarter, three: then the side"},
			{Keys: "y, u, b, n", Does: "the corners"},
			{Keys: "two digits", Does: "from cell to cell of the grid; g: by arrows"}}},
		{Head: "AFTER n OR N", Rows: []draw.Key{
			{Keys: "arrows", Does: "move the window, or its edge; with Shift, in"},
			{Keys: "1-4, 5", Does: "steps of 1, 10, 50, 200 pixels, of 5 per cent"},
			{Keys: "Enter, Escape", Does: "leave it there, put it back"}}},
		gaz,
		{Head: "THE MOUSE", About: "nothing needs it", Rows: []draw.Key{
			{Keys: "click", Does: "choose, or aim after s, c or g"},
			{Keys: "drag", Does: "send a window to another sheet; Escape cancels"},
			{Keys: "wheel", Does: "go through workspaces, or lines"}}},
		{Head: "MARKS", Rows: []draw.Key{
			{Does: "● has the focus   ≈ floats   ▁ minimised"},
			{Does: "^ urgent   ! lost   +2 two more underneath"},
			{Does: "■ shows, of a pile or tabs"}}},
	}
	if len(chords) > 0 {
		display := draw.Section{Head: "ANYWHERE ON THE DISPLAY"}
		for _, c := range chords {
			display.Rows = append(display.Rows, draw.Key{Keys: c[0], Does: c[1]})
		}
		all = append(all, display)
	}
	return all
}

// helpRest is the column of everything else.
func (m *model) helpRest() (rest [][]span) {
	t := m.opt.Theme
	head, key, does, quiet := bold(t.style(t.Brass)), bold(t.style(t.Green)), t.style(t.Paper), t.style(t.Slate)
	for i, s := range otherKeys(strings.ReplaceAll(m.monitors(), " or ", ", "), m.list, m.opt.Chords) {
		if i > 0 {
			rest = append(rest, nil)
		}
		about := s.About
		if about != "" {
			about = "  " + about
		}
		rest = append(rest, []span{{s.Head, head}, {about, quiet}})
		for _, k := range s.Rows {
			if k.Keys == "" {
				rest = append(rest, []span{{"  " + k.Does, does}})
				continue
			}
			rest = append(rest, []span{{fmt.Sprintf("  %-14s ", k.Keys), key}, {k.Does, does}})
		}
	}
	return append(rest, m.clashLines()...)
}

// openKeys opens the page of keys.
func (m *model) openKeys() tea.Cmd {
	m.push(&keysPage{})
	return m.askKeys()
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
