package tui

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"sync"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// parts of the screen, in cells.
type parts struct {
	chart  geom.Rect
	panel  geom.Rect // empty where there is no room
	legend int       // the first of its rows
	rows   int       // of the legend
}

const (
	smallestW, smallestH = keeper.LeastColumns, keeper.LeastRows
	panelFrom            = 120 // columns
)

func (m *model) parts() parts {
	p := parts{rows: 1}
	if m.h >= twoRows {
		p.rows = 2
	}
	p.legend = m.h - p.rows
	p.chart = geom.R(0, 2, m.w, p.legend-1-2)
	if m.w >= panelFrom {
		w := min(38, m.w/4)
		p.panel = geom.R(m.w-w, 1, w, p.legend-1-1)
		p.chart.W -= w + 1
	} else if _, onMap := m.screen().(*mapScreen); onMap && m.steps.visible() {
		p.chart.H-- // for the line of first steps
	}
	return p
}

// chart works the map out for the present screen.
func (m *model) chart() *atlasmap.Chart { return m.chartOf(m.parts().chart, m.workspaceAt()) }

// title is the terminal's title. In a window that the keeper brought up it
// ends with the number of what these screens were last asked to show: keys typed
// meanwhile wait for that.
func (m *model) title() string {
	if !m.opt.BroughtUp {
		return m.opt.Title
	}
	title := m.opt.Title
	if _, hand := m.top().(*handPrompt); hand {
		title += keeper.ByHand
	}
	switch {
	case m.putAway:
		title += keeper.Away
	case m.called && m.fault && (len(m.rooms) == 1 || m.typing()):
		title += keeper.Astray
	}
	return title + " " + strconv.Itoa(m.brought)
}

// View gives the screen, drawn anew where anything has happened since.
func (m *model) View() tea.View {
	if m.stale {
		m.drawn, m.stale = m.drawView(), false
		m.burst.done(true)
	}
	return m.drawn
}

func (m *model) drawView() tea.View {
	v := tea.View{WindowTitle: m.title()}
	t := m.opt.Theme
	ground := t.Style(t.Paper)
	c := cells.NewCanvas(max(m.w, 1), max(m.h, 1), ground, m.plain, m.canvas)
	switch {
	case m.w < smallestW || m.h < smallestH:
		for i, line := range cells.Wrap(fmt.Sprintf("The atlas needs %d columns and %d rows; here are %d and %d. q quits.", smallestW, smallestH, m.w, m.h), m.w) {
			c.Text(0, i, m.w, line, ground)
		}
	case m.d == nil:
		waiting := "Waiting for the desk."
		if m.message != "" {
			waiting = m.message
		}
		for i, line := range cells.Wrap(waiting, m.w-4) {
			c.Text(2, 1+i, m.w, line, ground)
		}
	default:
		v.Cursor = m.top().draw(m, c)
	}
	m.gallery.drawn()
	v.BackgroundColor = t.Ink
	if m.profile <= colorprofile.ASCII {
		v.BackgroundColor = nil
	}
	content := c.Render()
	m.canvas, m.stops = c, c.Stops
	if m.h < m.rowsAll && m.d != nil {
		m.edge = cells.NewCanvas(max(m.w, 1), 1, ground, m.plain, m.edge)
		m.drawLine(m.edge)
		content += "\n" + m.edge.Render()
		m.stops = append(m.stops[:len(m.stops):len(m.stops)], m.edge.Stops...)
	}
	v.SetContent(content)
	return v
}

// painter draws the desk on a canvas by a chart.
func (m *model) painter(c *cells.Canvas, ch *atlasmap.Chart) *atlasmap.Painter {
	w := atlasmap.Waits{}
	switch p := m.top().(type) {
	case *placePrompt:
		w = atlasmap.Waits{Workspaces: true, Monitors: true}
	case *choosePrompt:
		w.Monitors = p.verb.Asks == desk.AskMonitor
	}
	return &atlasmap.Painter{
		Waits: w, Canvas: c, Theme: m.opt.Theme, Framed: m.profile < colorprofile.ANSI256,
		Desk: m.d, Counts: m.overview().Counts, Chart: ch, Selected: m.sel, Also: m.inGroup(), Touched: m.touched, Tints: m.tints, Picture: m.picture,
	}
}

// about has a command that names no windows act on the chosen one, where its
// verb acts on windows, and reorder on the chosen workspace.
func (m *model) about(c desk.Command) desk.Command {
	if v, ok := desk.FindVerb(c.Verb); ok && v.Windows && c.Of == nil && (v.Without == nil || m.minimised()) {
		c.Of = m.subject()
	}
	if c.Verb == "reorder" && len(c.Args) == 1 && m.sel.Window == 0 && m.sel.Letter == 0 {
		i := m.workspaceAt()
		to := map[string]int{"up": i, "down": i + 2, "first": 1, "last": len(m.d.Workspaces)}[c.Args[0].Word]
		c.Args = []arg{{Kind: desk.Number, N: i + 1}, {Kind: desk.Keyword, Word: "to"}, {Kind: desk.Number, N: to}}
	}
	return c
}

// minimised tells whether a chosen window is.
func (m *model) minimised() bool {
	return slices.ContainsFunc(m.chosen(), func(id int) bool { w := m.d.Window(id); return w != nil && w.Minimised })
}

// head writes the first row: what this is, where you are, what there is.
func (m *model) head(c *cells.Canvas) {
	t := m.opt.Theme
	quiet := t.Style(t.Slate)
	lost := len(m.lost())
	facts := []cells.Span{cells.Words(m.modeWords()+desk.Counted(len(m.d.Workspaces), "workspace")+" · "+desk.Counted(len(m.d.Windows), "window"), quiet)}
	if n := m.overview().Urgent; n > 0 {
		facts = append(facts, cells.Words(" · ", quiet), cells.Words(fmt.Sprintf("^ %d urgent", n), cells.Bold(t.Style(t.Brass))))
	}
	if lost > 0 {
		facts = append(facts, cells.Words(" · ", quiet), cells.Words(fmt.Sprintf("! %d lost", lost), cells.Bold(t.Style(t.Coral))))
	}
	if m.unset != "" {
		facts = append(facts, cells.Words(" · ", quiet), cells.Words("! "+m.unsetWords(), cells.Bold(t.Style(t.Coral))))
	}
	if words := m.clashWords(); words != "" && m.w >= panelFrom {
		facts = append(facts, cells.Words(" · ", quiet), cells.Words(words, cells.Bold(t.Style(t.Coral))))
	}
	wide := 0
	for _, s := range facts {
		wide += cells.Width(s.Text)
	}
	right := c.W - wide - 1
	name := "  " + m.opt.Name
	if m.d.Settings.Alongside {
		name += ", beside its manager"
	}
	if 1+len("ZEALOUS ATLAS")+cells.Width(name)+2 > right {
		name = ""
	}
	at := 1 + c.Spans(1, 0, right-2, cells.Words("ZEALOUS ATLAS", cells.Bold(t.Style(t.Brass))), cells.Words(name, quiet))
	c.Spans(right, 0, wide, facts...)
	where := "● " + m.d.Title(m.d.Current()) + " · " + string(rune(m.d.At))
	if w := m.d.Window(m.d.Focus); w != nil {
		where += " · " + w.App
	}
	words, mark := "you are on  ", quiet
	if m.lastSeen() {
		words, mark = "last seen  ", cells.Bold(t.Style(t.Coral))
	}
	room := right - at - 4
	if m.d.Bare {
		where = "the desk is bare; D brings everything back"
		if !m.lastSeen() {
			words = ""
		}
	}
	if room < cells.Width(words+where) && !m.lastSeen() {
		words = ""
	}
	where = cells.Fit(where, room-cells.Width(words))
	x := at + 2 + max(0, (room-cells.Width(words+where))/2)
	c.Spans(x, 0, room, cells.Words(words, mark), cells.Words(where, cells.Bold(t.Style(t.Green))))
}

// titled writes the first row of a page that has a title of its own there, with what is at
// fault with the settings.
func (m *model) titled(c *cells.Canvas, title ...cells.Span) {
	room := c.W - 2
	if m.unset != "" {
		words := "! " + m.unsetWords()
		room -= cells.Width(words) + 2
		c.Text(c.W-1-cells.Width(words), 0, cells.Width(words), words, cells.Bold(m.opt.Theme.Style(m.opt.Theme.Coral)))
	}
	c.Spans(1, 0, room, title...)
}

// unsetWords name the place in the settings that is at fault.
func (m *model) unsetWords() string {
	if m := unsetPlace().FindStringSubmatch(m.unset); m != nil {
		return "settings, line " + m[1]
	}
	return "settings"
}

var unsetPlace = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`:(\d+):\d+: `) })

// modeWords name what is not as it is by default, where there is room for it.
func (m *model) modeWords() string {
	words := ""
	if m.d.Settings.Separate && m.w >= panelFrom {
		words += "separate · "
	}
	if m.d.Settings.Growing && m.w >= panelFrom {
		words += "growing · "
	}
	return words
}
