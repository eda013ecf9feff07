package tui

import (
	"cmp"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// textPrompt asks for a line of text, in the last rows of the screen beneath.
type textPrompt struct {
	over
	label string
	help  string // what can be typed, while nothing is wrong
	does  string // what Enter does; empty for writing it
	// accept takes the text; nil leaves the line, to be mended, and the message says
	// why.
	accept func(m *model, text string) tea.Cmd
}

// askText asks for a line, with what stands in it first.
func (m *model) askText(p *textPrompt, text string) tea.Cmd {
	m.message, m.fault = "", false
	m.push(p)
	return m.startText(text)
}

func (*textPrompt) writes() bool { return true }

func (*textPrompt) wrote(*model) {}

func (p *textPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		return m.leave()
	case "enter":
		cmd := p.accept(m, strings.TrimSpace(m.input.Value()))
		if cmd != nil {
			m.pop()
		}
		return cmd
	}
	return m.write(k)
}

func (p *textPrompt) hints(*model) legend {
	return legend{first: []hint{{"Enter", cmp.Or(p.does, "writes it")}, escapes}}
}

func (p *textPrompt) draw(m *model, c *cells.Canvas) *tea.Cursor {
	m.screen().draw(m, c)
	t := m.opt.Theme
	c.Fill(geom.R(0, c.H-3, c.W, 3), " ", t.Style(t.Paper))
	words, st := p.help, t.Style(t.Slate)
	if m.fault {
		words, st = m.message, t.Style(t.Coral)
	}
	saying(c, c.H-3, words, st)
	at := 1 + c.Text(1, c.H-2, c.W, p.label, cells.Bold(t.Style(t.Brass)))
	c.Text(at, c.H-2, c.W-at, m.input.Value(), t.Style(t.Paper))
	m.legend(c, c.H-1, p.hints(m))
	return m.cursorAt(at, c.H-2)
}
