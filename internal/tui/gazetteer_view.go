package tui

import (
	"fmt"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/fuzzy"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
)

// drawGazetteer draws the rows, the small map beside them, and the foot.
func (m *model) drawGazetteer(c *canvas) *tea.Cursor {
	t := m.opt.Theme
	m.head(c)
	parts := m.parts()
	area := geom.R(0, 1, c.w, parts.legend-2)
	if c.w >= panelFrom {
		side := geom.R(c.w-c.w*2/5, 2, c.w*2/5, area.H)
		area.W -= side.W + 1
		ch := newChart(m.d, m.preview(), geom.R(side.X, side.Y+1, side.W, min(side.H-1, max(12, 4*len(m.d.Workspaces)))), m.workspaceAt())
		p := m.painter(c, ch)
		c.stops = ch.all(m.d)
		p.atlas()
		if next := m.preview(); next != nil {
			p.pencil(next)
		}
		m.gridOnMap(c, ch)
	}
	m.gazHead(c, area)
	list := geom.R(area.X, area.Y+2, area.W, area.H-2)
	g := &m.gaz
	g.top = geom.Clamp(g.top, max(0, g.at-list.H+1), max(0, min(g.at, len(g.rows)-list.H)))
	for i := g.top; i < min(len(g.rows), g.top+list.H); i++ {
		m.gazLine(c, geom.R(list.X, list.Y+i-g.top, list.W, 1), i)
	}
	if len(g.rows) == 0 {
		words := "No window is open."
		if g.query != nil {
			words = "No window matches. Escape clears the search."
		}
		c.text(2, list.Y+1, list.W-2, words, t.style(t.Slate))
	}
	if g.search {
		return m.searchFoot(c, parts)
	}
	if m.mode == modeMap && m.message == "" {
		c.text(1, parts.legend-1, c.w-2, m.enterWords(), t.style(t.Brass))
	}
	return m.foot(c, parts)
}

// enterWords say what Enter would do with the row under the cursor.
func (m *model) enterWords() string {
	w := m.gazRow().window
	if w == nil {
		return ""
	}
	does := "gives " + w.Label() + " the focus"
	if i := m.d.Index(w.Workspace); !m.d.IsShown(w.Workspace) {
		does = "shows " + m.d.Title(i) + " and " + does
	}
	if w.Minimised {
		does = "restores it, " + does
	}
	return "Enter " + does + "."
}

// gazHead writes what is listed and how.
func (m *model) gazHead(c *canvas, r geom.Rect) {
	t := m.opt.Theme
	g := &m.gaz
	head, quiet := bold(t.style(t.Brass)), t.style(t.Slate)
	name, how := "GAZETTEER", "by "+groupingWords[g.group]
	if g.recent {
		name, how = "RECENT WINDOWS", scopeWords[g.scope]+", the latest first"
	}
	if len(g.words) > 0 {
		how = "the best match first"
	} else if g.sort >= 0 {
		how += ", sorted by " + gazColumns[g.sort].name
	}
	listed := 0
	for _, row := range g.rows {
		if row.window != nil {
			listed++
		}
	}
	spans := []span{{name, head}, {fmt.Sprintf("  %s · %d of %s", how, listed, desk.Counted(len(m.d.Windows), "window")), quiet}}
	if n := len(g.marked); n > 0 {
		spans = append(spans, span{fmt.Sprintf(" · %d marked", n), head})
	}
	if g.text != "" && !g.search {
		spans = append(spans, span{"  / " + g.text, t.style(t.Paper)})
	}
	c.spans(r.X+1, r.Y, r.W-1, spans...)
	c.spans(r.X, r.Y+1, r.W, m.gazCells("", "", "APP", "TITLE", "STATES", "FOCUSED", "SIZE", r.W, quiet, quiet, nil, nil)...)
}

// gazStatesFrom is from how many columns on there is room for states and sizes.
const gazStatesFrom = 84

// gazCells lays the facts of a row out in columns, with fewer of them where
// there is little room.
func (m *model) gazCells(mark, ref, app, title, states, ago, size string, w int, row, quiet uv.Style, appAt, titleAt []int) []span {
	cell := func(s string, n int) string {
		s = fit(s, n-1)
		return s + strings.Repeat(" ", max(0, n-width(s)))
	}
	appW, statesW, agoW, sizeW := 17, 0, 0, 0
	if w >= 70 {
		agoW = 9
	}
	if w >= gazStatesFrom {
		statesW, sizeW = 14, 11
	}
	titleW := max(8, w-10-appW-statesW-agoW-sizeW)
	hit := row
	hit.Underline = uv.UnderlineSingle
	hit = bold(hit)
	spans := []span{{" " + cell(mark, 2), row}, {cell(ref, 7), row}}
	spans = append(spans, letters(cell(app, appW), appAt, row, hit)...)
	spans = append(spans, letters(cell(title, titleW), titleAt, quiet, hit)...)
	return append(spans, span{cell(states, statesW+0), quiet}, span{cell(ago, agoW), quiet}, span{cell(size, sizeW), quiet})
}

// letters is a text with those at some places told apart.
func letters(s string, at []int, st, hit uv.Style) []span {
	if len(at) == 0 {
		return []span{{s, st}}
	}
	var spans []span
	for i, r := range []rune(s) {
		style := st
		if slices.Contains(at, i) {
			style = hit
		}
		if n := len(spans); n > 0 && spans[n-1].style == style {
			spans[n-1].text += string(r)
		} else {
			spans = append(spans, span{string(r), style})
		}
	}
	return spans
}

// gazLine draws one row.
func (m *model) gazLine(c *canvas, r geom.Rect, i int) {
	t := m.opt.Theme
	g := &m.gaz
	g0 := g.rows[i]
	row, quiet := t.style(t.Paper), t.style(t.Slate)
	if i == g.at {
		row = reverse(bold(t.style(t.Brass)))
		quiet = row
		c.fill(r, " ", row)
	}
	if g0.window == nil {
		fold := "▼ "
		if g.folded[g0.group] {
			fold = "► "
		}
		if i != g.at {
			row = bold(t.style(t.Green))
		}
		c.spans(r.X+1, r.Y, r.W-1, span{fold + g0.group, row}, span{fmt.Sprintf("  %s", windowsWord(g0.count)), quiet})
		return
	}
	w := g0.window
	c.stop(r, selection{window: w.ID})
	mark := ""
	switch {
	case g.marked[w.ID]:
		mark = "◆"
	case g.recent && i < 9:
		mark = fmt.Sprint(i + 1)
	}
	p := &painter{t: t, d: m.d}
	glyphs := strings.TrimSpace(p.marks(w))
	states := strings.Join(m.gazStates(w), ", ")
	ref := m.d.Ref(w)
	if pin := m.d.PinOf(w); pin != 0 {
		ref += " " + string(rune(pin))
	}
	appAt, titleAt := m.gazHits(w)
	app := w.App
	if glyphs != "" && r.W < gazStatesFrom {
		app = glyphs + " " + app
	}
	c.spans(r.X, r.Y, r.W, m.gazCells(mark, ref, app, w.Title, states, m.ago(w),
		fmt.Sprintf("%d×%d", w.Rect.W, w.Rect.H), r.W, row, quiet, appAt, titleAt)...)
}

// gazStates are a window's states in words, lost among them.
func (m *model) gazStates(w *desk.Window) []string {
	lost := m.d.Lost(w).Cause != stray.None
	states := slices.DeleteFunc(m.d.States(w), func(s string) bool { return s == "floating" && (w.Sticky || lost) })
	if lost {
		states = append([]string{"! lost"}, states...)
	}
	return states
}

// gazHits are the letters of app and title that the search found.
func (m *model) gazHits(w *desk.Window) (app, title []int) {
	for _, word := range m.gaz.words {
		a, as := fuzzy.Find(w.App, word)
		t, ts := fuzzy.Find(w.Title, word)
		if as >= ts {
			app = append(app, a...)
		} else {
			title = append(title, t...)
		}
	}
	return app, title
}

// ago is how long a window has not had the focus.
func (m *model) ago(w *desk.Window) string {
	s, ok := m.d.AtTime(time.Now().Unix()).Idle(w)
	switch {
	case !ok:
		return ""
	case w.ID == m.d.Focus:
		return "now"
	case s < 60:
		return fmt.Sprintf("%d s", s)
	case s < 3600:
		return fmt.Sprintf("%d min", s/60)
	case s < 48*3600:
		return fmt.Sprintf("%d h", s/3600)
	}
	return fmt.Sprintf("%d days", s/86400)
}

// searchFoot draws the search line, with its fault and what could stand there.
func (m *model) searchFoot(c *canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	value := m.input.Value()
	words, st := "", t.style(t.Slate)
	switch {
	case m.gaz.fault != nil && m.gaz.fault.Found != "":
		words, st = keeper.Sentence(m.gaz.fault), t.style(t.Coral)
	case strings.TrimSpace(value) == "":
		words = "Letters of app or title, or a query: app:ledger is:stray on:2 at:B idle:>2h not or ( )"
	}
	c.text(1, p.legend-1, c.w-2, words, st)
	at := c.text(1, p.legend, c.w, "/", bold(t.style(t.Brass))) + 1
	m.typed(c, at, p.legend, value, m.gaz.fault)
	x := at + width(value) + 3
	if more := lang.Complete("rescue of "+value, m.d); strings.TrimSpace(value) != "" && len(more) > 0 && c.w-x > 12 {
		c.text(x, p.legend, c.w-x-1, strings.Join(more, "  "), t.style(t.Slate))
	}
	if p.rows > 1 {
		m.legend(c, p.legend+1, nil, []hint{{"Enter", "to the rows"}, {"Down", "to the rows"}, {"Tab", "completes"}, {"Escape", "clears it"}})
	}
	return tea.NewCursor(at+width(string([]rune(value)[:m.input.Position()])), p.legend)
}

// gazHints are what the legend says of the gazetteer's own keys.
func (m *model) gazHints() []hint {
	hs := []hint{{"Enter", "go there"}, {"/", "search"}, {"Space", "mark"}, {"*", "mark all"}, {"]", "group by " + groupingWords[(m.gaz.group+1)%4]}, {"}", "sort"}, {"Left Right", "fold"}}
	if m.gaz.recent {
		hs = []hint{{"Enter", "go there"}, {"1-9", "a row"}, {"Tab", "next"}, {"]", scopeWords[(m.gaz.scope+1)%3]}, {"/", "search"}, {"Space", "mark"}}
	}
	undo := hint{"u", "nothing to undo"}
	if m.undo != "" {
		undo.does = "undo: " + fit(strings.TrimSuffix(m.undo, "."), 26)
	}
	return append(hs, undo, hint{"Escape", "the map"}, hint{"?", "all keys"})
}
