package tui

import (
	"fmt"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/fuzzy"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
)

// draw draws the rows, the small map beside them, and the foot.
func (g *gazetteer) draw(m *model, c *canvas) *tea.Cursor {
	t := m.opt.Theme
	m.head(c)
	parts := m.parts()
	area := geom.R(0, 1, c.w, parts.legend-2)
	if c.w >= panelFrom {
		side := geom.R(c.w-c.w*2/5, 2, c.w*2/5, area.H)
		area.W -= side.W + 1
		ch := m.chartOf(geom.R(side.X, side.Y+1, side.W, min(side.H-1, max(12, 4*len(m.d.Workspaces)))), m.workspaceAt())
		p := m.painter(c, ch)
		c.stops = ch.whole
		p.atlas()
		if next := m.preview(); next != nil {
			p.pencil(next)
		}
		m.gridOnMap(c, ch)
	}
	g.drawHead(m, c, area)
	list := geom.R(area.X, area.Y+2, area.W, area.H-2)
	g.top = geom.Clamp(g.top, max(0, g.at-list.H+1), max(0, min(g.at, len(g.rows)-list.H)))
	for i := g.top; i < min(len(g.rows), g.top+list.H); i++ {
		g.drawLine(m, c, geom.R(list.X, list.Y+i-g.top, list.W, 1), i)
	}
	if len(g.rows) == 0 {
		words := "No window is open."
		if g.query != nil {
			words = "No window matches. Escape clears the search."
		}
		c.text(2, list.Y+1, list.W-2, words, t.style(t.Slate))
	}
	if g.search {
		return g.searchFoot(m, c, parts)
	}
	if m.asking() {
		return m.foot(c, parts)
	}
	return m.footWith(c, parts, g.enterWords(m))
}

// enterWords say what Enter would do with the row under the cursor.
func (g *gazetteer) enterWords(m *model) string {
	w := g.row().window
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

// drawHead writes what is listed and how.
func (g *gazetteer) drawHead(m *model, c *canvas, r geom.Rect) {
	t := m.opt.Theme
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
	c.spans(r.X, r.Y+1, r.W, gazFacts{app: "APP", title: "TITLE", states: "STATES", ago: "FOCUSED", size: "SIZE", row: quiet, quiet: quiet}.cells(r.W)...)
}

// gazStatesFrom is from how many columns on there is room for states and sizes.
const gazStatesFrom = 84

// gazFacts are the facts of a row.
type gazFacts struct {
	mark, ref, app, title, states, ago, size string
	row, quiet                               uv.Style
	appAt, titleAt                           []int // the letters that were searched for
}

// cells lays them out in columns, with fewer of them where there is little room.
func (g gazFacts) cells(w int) []span {
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
	hit := g.row
	hit.Underline = uv.UnderlineSingle
	hit = bold(hit)
	spans := []span{{" " + cell(g.mark, 2), g.row}, {cell(g.ref, 7), g.row}}
	spans = append(spans, letters(cell(g.app, appW), g.appAt, g.row, hit)...)
	spans = append(spans, letters(cell(g.title, titleW), g.titleAt, g.quiet, hit)...)
	return append(spans, span{cell(g.states, statesW), g.quiet}, span{cell(g.ago, agoW), g.quiet}, span{cell(g.size, sizeW), g.quiet})
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

// drawLine draws one row.
func (g *gazetteer) drawLine(m *model, c *canvas, r geom.Rect, i int) {
	t := m.opt.Theme
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
		c.spans(r.X+1, r.Y, r.W-1, span{fold + g0.group, row}, span{fmt.Sprintf("  %s", draw.WindowsWord(g0.count)), quiet})
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
	appAt, titleAt := g.hits(m, w)
	app := w.App
	if glyphs != "" && r.W < gazStatesFrom {
		app = glyphs + " " + app
	}
	size := fmt.Sprintf("%d×%d", w.Rect.W, w.Rect.H)
	c.spans(r.X, r.Y, r.W, gazFacts{mark, ref, app, w.Title, states, m.ago(w), size, row, quiet, appAt, titleAt}.cells(r.W)...)
}

// gazStates are a window's states in words, lost among them.
func (m *model) gazStates(w *desk.Window) []string {
	lost := m.d.Lost(w).Cause != stray.None
	states := m.d.States(w)
	if m.isOwn(w) {
		states = append([]string{"these screens"}, states...)
	}
	states = slices.DeleteFunc(states, func(s string) bool { return s == "floating" && (w.Sticky || lost) })
	if lost {
		states = append([]string{"! lost"}, states...)
	}
	return states
}

// hits are the letters of app and title that the search found.
func (g *gazetteer) hits(m *model, w *desk.Window) (app, title []int) {
	for _, word := range g.words {
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

// searchHints are the keys of the search line.
func (g *gazetteer) searchHints() legend {
	enter := "to the rows"
	switch {
	case g.only() >= 0:
		enter = "go there"
	case g.seeksApp():
		enter = "look among the apps"
	}
	return legend{first: []hint{{"Enter", enter}, {"Down", "to the rows"}, {"Tab", "completes"}, {"Escape", "clears it"}}}
}

// searchFoot draws the search line, with its fault and what could stand there.
func (g *gazetteer) searchFoot(m *model, c *canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	value := m.input.Value()
	words, st := "", t.style(t.Slate)
	switch {
	case g.fault != nil && g.fault.Found != "":
		words, st = keeper.Sentence(g.fault), t.style(t.Coral)
	case strings.TrimSpace(value) == "":
		words = "Letters of app or title, or a query: app:ledger is:stray on:2 at:B idle:>2h not or ( )"
	}
	if p.rows < 2 && words == "" {
		m.legend(c, p.legend-1, g.searchHints())
	}
	c.text(1, p.legend-1, c.w-2, words, st)
	at := c.text(1, p.legend, c.w, "/", bold(t.style(t.Brass))) + 1
	m.typed(c, at, p.legend, value, g.fault)
	x := at + width(value) + 3
	if more := lang.CompleteQuery(value, m.d).All(); strings.TrimSpace(value) != "" && len(more) > 0 && c.w-x > 12 {
		c.text(x, p.legend, c.w-x-1, strings.Join(more, "  "), t.style(t.Slate))
	}
	if p.rows > 1 {
		m.legend(c, p.legend+1, g.searchHints())
	}
	return m.cursorAt(at, p.legend)
}

// hints are its own keys, and the verbs for what is chosen.
func (g *gazetteer) hints(m *model) legend {
	hs := []hint{{"Enter", "go there"}, {"/", "search"}, {"Space", "mark"}, {"*", "mark all"}, {"]", "group by " + groupingWords[(g.group+1)%4]}, {"}", "sort"}, {"Left Right", "fold"}}
	if g.recent {
		hs = []hint{{"Enter", "go there"}, {"1-9", "a row"}, {"Tab", "next"}, {"]", scopeWords[(g.scope+1)%3]}, {"/", "search"}, {"Space", "mark"}}
	}
	hs = append(hs, m.undoHint(), hint{"Escape", "the map"}, hint{"?", "all keys"})
	l := legend{lead: m.subjectWords() + ":", first: m.verbHints(), second: hs}
	if m.parts().rows < 2 {
		l.first, l.second = l.second, l.first
	}
	return l
}
