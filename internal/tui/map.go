package tui

import (
	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// mapScreen is the atlas: the screen at the bottom of the stack.
type mapScreen struct{ sheets }

// sheets is what screens that show sheets have in common: arrows choose on them.
type sheets struct{}

func (sheets) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	if dir, ok := directions()[name]; ok {
		m.message, m.fault = "", false
		m.move(dir)
		return nil
	}
	return m.common(k, name)
}

func (sheets) hints(m *model) legend {
	return legend{lead: m.subjectWords() + ":", first: m.verbHints(), second: m.mapHints()}
}

func (*mapScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	switch e := msg.(type) {
	case tea.MouseWheelMsg:
		return m.wheelRows(e)
	case tea.MouseMotionMsg, tea.MouseReleaseMsg:
		if m.grip != 0 {
			return m.dragged(msg)
		}
	case tea.MouseClickMsg:
		sel, ok := m.under(e.X, e.Y)
		if cmd := m.chooseUnder(msg); cmd != nil {
			return cmd
		}
		if ok && sel.Window != 0 && e.Button == tea.MouseLeft {
			m.grip = sel.Window
		}
	}
	return nil
}

// draw draws the atlas.
func (*mapScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	parts := m.parts()
	ch := m.chart()
	p := m.painter(c, ch)
	m.head(c)
	c.Stops = ch.Whole
	p.Draw()
	if next := m.preview(); next != nil {
		p.Pencil(next)
	}
	m.gridOnMap(c, ch)
	if !parts.panel.Empty() {
		m.panel(p, parts.panel)
	}
	m.firstUse(c, parts)
	return m.foot(c, parts)
}

// gridOnMap pencils the grid over the chosen sheet of a map, where a place in it is
// being chosen.
func (m *model) gridOnMap(c *cells.Canvas, ch *atlasmap.Chart) {
	part, ok := m.top().(*partPrompt)
	if !ok {
		return
	}
	i, letter := m.workspaceAt(), m.subjectMonitor()
	part.drawGrid(m, c, m.d.Monitor(letter).Work, m.d.GridOf(letter), func(r geom.Rect) geom.Rect {
		in, _ := ch.PlaceRect(m.d, i, letter, r)
		return in
	})
}

// enter goes to what is chosen.
func (m *model) enter() tea.Cmd {
	switch {
	case m.sel.Window != 0:
		return m.do(desk.Command{Verb: "focus", Args: []arg{{Kind: desk.Item, N: m.sel.Window}}})
	case m.sel.Letter != 0:
		return m.do(desk.Command{Verb: "go", Args: []arg{{Kind: desk.Ref, Letter: m.sel.Letter, N: m.workspaceAt() + 1}}})
	}
	return m.do(desk.Command{Verb: "go", Args: []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}})
}

func (m *model) escape() tea.Cmd {
	if m.called || m.narrow() {
		return nil
	}
	if _, large := m.screen().(*sheetScreen); large {
		m.home()
		return nil
	}
	if m.steps.visible() {
		m.say(m.steps.dismiss(), false)
		return nil
	}
	if m.putAway = m.opt.BroughtUp; !m.putAway {
		m.say("Nothing to step back from. q quits.", false)
	}
	return nil
}

// shift moves what is chosen: a window in its sheet, a workspace in the order.
func (m *model) shift(dir desk.Dir) tea.Cmd {
	switch {
	case m.sel.Window != 0:
		return m.run("move " + dir.String())
	case dir == desk.Left || dir == desk.Right:
		m.say("Choose a window first: this moves it.", true)
	case m.sel.Letter != 0:
		m.say("Choose a workspace's number first: this moves it in the order.", true)
	default:
		return m.run("reorder " + dir.String())
	}
	return nil
}
