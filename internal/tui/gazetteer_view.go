package tui

import (
	"cmp"
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
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// draw draws the rows, the small map beside them, and the foot.
func (g *gazetteer) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	m.head(c)
	parts := m.parts()
	area := geom.R(0, 1, c.W, parts.legend-2)
	if c.W >= panelFrom {
		side := geom.R(c.W-c.W*2/5, 2, c.W*2/5, area.H)
		area.W -= side.W + 1
		ch := m.chartOf(geom.R(side.X, side.Y+1, side.W, min(side.H-1, max(12, 4*len(m.d.Workspaces)))), m.workspaceAt())
		p := m.painter(c, ch)
		c.Stops = ch.Whole
		p.Picture = nil // the one of the row is large, beneath
		p.Draw()
		if next := m.preview(); next != nil {
			p.Pencil(next)
		}
		m.gridOnMap(c, ch)
		under := ch.Bottom() + 1
		m.besidePicture(c, geom.R(side.X+1, under, side.W-2, side.Bottom()-under), g.row().window)
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
			words = "No window matches. " + cmp.Or(g.stateWords(), "Escape clears the search.")
		}
		c.Text(2, list.Y+1, list.W-2, words, t.Style(t.Slate))
	}
	if g.search {
		return g.searchFoot(m, c, parts)
	}
	if m.asking() {
		return m.foot(c, parts)
	}
	return m.footWith(c, parts, g.enterWords(m))
}

// stateWords say how one searches for what a window is, where that was typed like a title; empty
// where it was not.
func (g *gazetteer) stateWords() string {
	for _, word := range g.words {
		for _, state := range append(desk.StateNames(), "lost") {
			if word = spelt(word); len(word) >= leastOfState && strings.HasPrefix(spelt(state), word) {
				return "is:" + state + " finds those that are " + state + "."
			}
		}
	}
	return ""
}

// leastOfState is how many letters of a state have to be typed for it to be meant.
const leastOfState = 3

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
func (g *gazetteer) drawHead(m *model, c *cells.Canvas, r geom.Rect) {
	t := m.opt.Theme
	head, quiet := cells.Bold(t.Style(t.Brass)), t.Style(t.Slate)
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
	spans := []cells.Span{cells.Words(name, head), cells.Words(fmt.Sprintf("  %s · %d of %s", how, listed, desk.Counted(len(m.d.Windows), "window")), quiet)}
	if n := len(g.marked); n > 0 {
		spans = append(spans, cells.Words(fmt.Sprintf(" · %d marked", n), head))
	}
	if g.text != "" && !g.search {
		spans = append(spans, cells.Words("  / "+g.text, t.Style(t.Paper)))
	}
	c.Spans(r.X+1, r.Y, r.W-1, spans...)
	c.Spans(r.X, r.Y+1, r.W, gazFacts{app: "APP", title: "TITLE", states: "STATES", ago: "FOCUSED", size: "SIZE", row: quiet, quiet: quiet}.cells(r.W)...)
}

// gazStatesFrom is from how many columns on there is room for states and sizes.
const gazStatesFrom = 84

// gazFacts are the facts of a row.
type gazFacts struct {
	mark, ref, glyphs, app, title, states, ago, size string
	row, quiet                                       uv.Style
	appAt, titleAt                                   []int // the letters that were searched for
}

// cells lays them out in columns, with fewer of them where there is little room.
func (g gazFacts) cells(w int) []cells.Span {
	cell := func(s string, n int) string {
		s = cells.Fit(s, n-1)
		return s + strings.Repeat(" ", max(0, n-cells.Width(s)))
	}
	appW, statesW, agoW, sizeW, glyphsW := 17, 0, 0, 0, 4
	if w >= 70 {
		agoW = 9
	}
	if w >= gazStatesFrom {
		statesW, sizeW, glyphsW = 14, 11, 0 // the states are there in words
	}
	titleW := max(8, w-10-glyphsW-appW-statesW-agoW-sizeW)
	hit := g.row
	hit.Underline = uv.UnderlineSingle
	hit = cells.Bold(hit)
	spans := []cells.Span{cells.Words(" "+cell(g.mark, 2), g.row), cells.Words(cell(g.ref, 7), g.row), cells.Words(cell(g.glyphs, glyphsW), g.row)}
	spans = append(spans, letters(cell(g.app, appW), g.appAt, g.row, hit)...)
	spans = append(spans, letters(cell(g.title, titleW), g.titleAt, g.quiet, hit)...)
	return append(spans, cells.Words(cell(g.states, statesW), g.quiet), cells.Words(cell(g.ago, agoW), g.quiet), cells.Words(cell(g.size, sizeW), g.quiet))
}

// letters is a text with those at some places told apart.
func letters(s string, at []int, st, hit uv.Style) []cells.Span {
	if len(at) == 0 {
		return []cells.Span{cells.Words(s, st)}
	}
	var spans []cells.Span
	for i, r := range []rune(s) {
		style := st
		if slices.Contains(at, i) {
			style = hit
		}
		if n := len(spans); n > 0 && spans[n-1].Style == style {
			spans[n-1].Text += string(r)
		} else {
			spans = append(spans, cells.Words(string(r), style))
		}
	}
	return spans
}

// drawLine draws one row.
func (g *gazetteer) drawLine(m *model, c *cells.Canvas, r geom.Rect, i int) {
	t := m.opt.Theme
	g0 := g.rows[i]
	row, quiet := t.Style(t.Paper), t.Style(t.Slate)
	if i == g.at {
		row = cells.Reverse(cells.Bold(t.Style(t.Brass)))
		quiet = row
		c.Fill(r, " ", row)
	}
	if g0.window == nil {
		fold := "▼ "
		if g.folded[g0.group] {
			fold = "► "
		}
		if i != g.at {
			row = cells.Bold(t.Style(t.Green))
		}
		c.Spans(r.X+1, r.Y, r.W-1, cells.Words(fold+g0.group, row), cells.Words(fmt.Sprintf("  %s", draw.WindowsWord(g0.count)), quiet))
		return
	}
	w := g0.window
	c.Stop(r, cells.Selection{Window: w.ID})
	mark := ""
	switch {
	case g.marked[w.ID]:
		mark = "◆"
	case g.recent && i < 9:
		mark = fmt.Sprint(i + 1)
	}
	p := &atlasmap.Painter{Theme: t, Desk: m.d}
	glyphs := strings.TrimSpace(p.Marks(w))
	states := strings.Join(m.gazStates(w), ", ")
	ref := m.d.Ref(w)
	if pin := m.d.PinOf(w); pin != 0 {
		ref += " " + string(rune(pin))
	}
	appAt, titleAt := g.hits(m, w)
	size := fmt.Sprintf("%d×%d", w.Rect.W, w.Rect.H)
	c.Spans(r.X, r.Y, r.W, gazFacts{mark, ref, glyphs, w.App, w.Title, states, m.ago(w), size, row, quiet, appAt, titleAt}.cells(r.W)...)
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

// searchFoot draws the search line, with its fault and what fits there.
func (g *gazetteer) searchFoot(m *model, c *cells.Canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	value := m.input.Value()
	words, st := "", t.Style(t.Slate)
	switch {
	case g.fault != nil && g.fault.Found != "":
		words, st = keeper.Sentence(g.fault), t.Style(t.Coral)
	case strings.TrimSpace(value) == "":
		words = "Letters of app or title, or a query: app:ledger is:stray on:2 at:B idle:>2h not or ( )"
	}
	if p.rows < 2 && words == "" {
		m.legend(c, p.legend-1, g.searchHints())
	}
	saying(c, p.legend-1, words, st)
	at := c.Text(1, p.legend, c.W, "/", cells.Bold(t.Style(t.Brass))) + 1
	m.typed(c, at, p.legend, value, g.fault)
	x := at + cells.Width(value) + 3
	if more := lang.CompleteQuery(value, m.d).All(); strings.TrimSpace(value) != "" && len(more) > 0 && c.W-x > 12 {
		c.Text(x, p.legend, c.W-x-1, strings.Join(more, "  "), t.Style(t.Slate))
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
