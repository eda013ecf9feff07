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
	"zatlas/internal/fuzzy"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
)

// gazetteer is the index of every open window: what is shown of it, in which
// order, and what is marked. The switcher is the same list, by recency.
type gazetteer struct {
	recent bool // the switcher
	scope  scope
	group  grouping
	sort   int // a column of gazColumns, -1 for the order of the desk
	folded map[string]bool
	text   string // of the search
	query  desk.Query
	words  []string // the plain words of the search
	fault  *lang.Error
	search bool // the search line is being typed
	marked map[int]bool
	anchor int // a window from which a range is marked, 0 for none

	rows []gazRow
	at   int // the row under the cursor
	top  int // the first row on the screen
}

// gazRow is a window, or the heading of a group.
type gazRow struct {
	group  string
	window *desk.Window // nil for a heading
	count  int          // of a heading
	score  int
}

// grouping is what the rows are put together by.
type grouping uint8

const (
	byWorkspace grouping = iota
	byApp
	byMonitor
	byRecency
)

var groupingWords = [...]string{"workspace", "app", "monitor", "recency"}

// scope is which windows the switcher lists.
type scope uint8

const (
	allWindows scope = iota
	thisApp
	thisWorkspace
)

var scopeWords = [...]string{"all windows", "this app's", "this workspace's"}

// gazColumns are what the rows can be sorted by.
var gazColumns = []struct {
	name string
	less func(m *model, a, b *desk.Window) int
}{
	{"app", func(_ *model, a, b *desk.Window) int {
		return cmp.Or(strings.Compare(a.App, b.App), strings.Compare(a.Title, b.Title))
	}},
	{"title", func(_ *model, a, b *desk.Window) int { return strings.Compare(a.Title, b.Title) }},
	{"last focused", func(_ *model, a, b *desk.Window) int { return b.Used - a.Used }},
	{"size", func(_ *model, a, b *desk.Window) int {
		return cmp.Compare(b.Rect.W*b.Rect.H, a.Rect.W*a.Rect.H)
	}},
	{"reference", func(m *model, a, b *desk.Window) int { return strings.Compare(m.d.Ref(a), m.d.Ref(b)) }},
	{"states", func(m *model, a, b *desk.Window) int {
		return strings.Compare(strings.Join(m.d.States(b), " "), strings.Join(m.d.States(a), " "))
	}},
}

// openGazetteer shows the index, with the cursor on what is chosen.
func (m *model) openGazetteer(search bool) tea.Cmd {
	m.gaz = gazetteer{sort: -1, folded: map[string]bool{}, marked: map[int]bool{}}
	return m.showGazetteer(search)
}

// openSwitcher shows the windows that had the focus, the latest first, with the
// cursor on the one before.
func (m *model) openSwitcher() tea.Cmd {
	m.gaz = gazetteer{recent: true, group: byRecency, sort: -1, folded: map[string]bool{}, marked: map[int]bool{}}
	cmd := m.showGazetteer(false)
	m.gaz.at = min(1, len(m.gaz.rows)-1)
	if m.d.Focus == 0 {
		m.gaz.at = 0
	}
	m.gazSelect()
	return cmd
}

func (m *model) showGazetteer(search bool) tea.Cmd {
	m.mode, m.screen = modeMap, screenGazetteer
	m.message = ""
	m.gazFill()
	for i, r := range m.gaz.rows {
		if r.window != nil && r.window.ID == m.sel.window {
			m.gaz.at = i
		}
	}
	m.gazSelect()
	if search {
		return m.gazSearch()
	}
	return nil
}

func (m *model) gazSearch() tea.Cmd {
	m.gaz.search = true
	m.input.SetValue(m.gaz.text)
	m.input.CursorEnd()
	return m.input.Focus()
}

// gazQuery reads the search: while it is at fault the rows stay.
func (m *model) gazQuery(text string) {
	g := &m.gaz
	g.text, g.fault = text, nil
	if strings.TrimSpace(text) == "" {
		g.query, g.words = nil, nil
		return
	}
	q, err := lang.ParseQuery(text)
	if e, ok := err.(*lang.Error); ok {
		g.fault = e
		return
	}
	g.query, g.words = q, plainWords(q)
}

// plainWords are the words of a query that are looked for in app and title.
func plainWords(q desk.Query) []string {
	var words []string
	switch q := q.(type) {
	case desk.Fuzzy:
		words = append(words, q.Text)
	case desk.And:
		for _, p := range q.Qs {
			words = append(words, plainWords(p)...)
		}
	case desk.Or:
		for _, p := range q.Qs {
			words = append(words, plainWords(p)...)
		}
	}
	return words
}

// score is how well the plain words fit a window: its app or its title, whichever
// fits better.
func (g *gazetteer) score(w *desk.Window) int {
	sum := 0
	for _, word := range g.words {
		_, app := fuzzy.Find(w.App, word)
		_, title := fuzzy.Find(w.Title, word)
		sum += max(app, title)
	}
	return sum
}

// gazFill works the rows out again, and keeps the cursor on its window, at its
// place of the screen.
func (m *model) gazFill() {
	g := &m.gaz
	var was gazRow
	if g.at < len(g.rows) {
		was = g.rows[g.at]
	}
	offset := g.at - g.top
	g.rows = g.rows[:0]
	for id := range g.marked {
		if m.d.Window(id) == nil {
			delete(g.marked, id)
		}
	}
	ws := m.gazListed()
	if len(g.words) > 0 {
		for _, w := range ws {
			g.rows = append(g.rows, gazRow{window: w, score: g.score(w)})
		}
		slices.SortStableFunc(g.rows, func(a, b gazRow) int { return cmp.Or(b.score-a.score, b.window.Used-a.window.Used) })
	} else {
		g.rows = m.grouped(ws)
	}
	g.at = geom.Clamp(g.at, 0, max(0, len(g.rows)-1))
	for i, r := range g.rows {
		if was.window != nil && r.window != nil && r.window.ID == was.window.ID || was.window == nil && was.group != "" && r.window == nil && r.group == was.group {
			g.at = i
		}
	}
	g.top = g.at - offset
}

func (m *model) inScope(w *desk.Window) bool {
	focus := m.d.Window(m.d.Focus)
	switch m.gaz.scope {
	case thisApp:
		return focus != nil && w.App == focus.App
	case thisWorkspace:
		return m.d.Index(w.Workspace) == m.d.Current()
	}
	return true
}

// gazOrder is every window in the order of the rows.
func (m *model) gazOrder() []*desk.Window {
	g := &m.gaz
	ws := m.d.InOrder()
	if g.group == byRecency {
		ws = m.d.Latest()
	}
	if g.sort >= 0 {
		slices.SortStableFunc(ws, func(a, b *desk.Window) int { return gazColumns[g.sort].less(m, a, b) })
	}
	return ws
}

// grouped puts headings over windows that belong together, in the order in
// which the groups first come.
func (m *model) grouped(ws []*desk.Window) []gazRow {
	g := &m.gaz
	if g.group == byRecency {
		var rows []gazRow
		for _, w := range ws {
			rows = append(rows, gazRow{window: w})
		}
		return rows
	}
	name := func(w *desk.Window) string {
		switch g.group {
		case byApp:
			return cmp.Or(w.App, "no app named")
		case byMonitor:
			return fmt.Sprintf("%c · %s", w.Monitor, m.d.Monitor(w.Monitor).Name)
		}
		return m.d.Title(m.d.Index(w.Workspace))
	}
	members := map[string][]*desk.Window{}
	var names []string
	for _, w := range ws {
		n := name(w)
		if members[n] == nil {
			names = append(names, n)
		}
		members[n] = append(members[n], w)
	}
	switch g.group { // the groups themselves keep an order that is known by heart
	case byApp:
		slices.SortFunc(names, func(a, b string) int { return strings.Compare(strings.ToLower(a), strings.ToLower(b)) })
	case byMonitor:
		slices.Sort(names)
	default:
		slices.SortStableFunc(names, func(a, b string) int {
			return m.d.Index(members[a][0].Workspace) - m.d.Index(members[b][0].Workspace)
		})
	}
	var rows []gazRow
	for _, n := range names {
		rows = append(rows, gazRow{group: n, count: len(members[n])})
		if g.folded[n] {
			continue
		}
		for _, w := range members[n] {
			rows = append(rows, gazRow{group: n, window: w})
		}
	}
	return rows
}

// gazSelect has verbs act on the row under the cursor.
func (m *model) gazSelect() {
	if r := m.gazRow(); r.window != nil {
		m.sel = selection{window: r.window.ID}
	}
}

func (m *model) gazRow() gazRow {
	if m.gaz.at < len(m.gaz.rows) {
		return m.gaz.rows[m.gaz.at]
	}
	return gazRow{}
}

// gazMove takes the cursor by rows.
func (m *model) gazMove(by int) {
	m.gaz.at = geom.Clamp(m.gaz.at+by, 0, max(0, len(m.gaz.rows)-1))
	m.gazSelect()
}

// gazBinding is a key of the gazetteer's own.
type gazBinding struct {
	keys  []string
	shown string
	help  string
	run   func(m *model) tea.Cmd
}

func gazBindings() []gazBinding {
	move := func(by int) func(m *model) tea.Cmd {
		return func(m *model) tea.Cmd { m.gazMove(by); return nil }
	}
	return []gazBinding{
		{[]string{"up", "k"}, "Up", "the row before", move(-1)},
		{[]string{"down", "j"}, "Down", "the next row", move(1)},
		{[]string{"pgup"}, "PageUp", "ten rows up", move(-10)},
		{[]string{"pgdown"}, "PageDown", "ten rows down", move(10)},
		{[]string{"home"}, "Home", "the first row", move(-1 << 20)},
		{[]string{"end"}, "End", "the last row", move(1 << 20)},
		{[]string{"tab"}, "Tab", "the next group, or row of the switcher", func(m *model) tea.Cmd { return m.gazGroup(1) }},
		{[]string{"shift+tab"}, "Shift+Tab", "the group before", func(m *model) tea.Cmd { return m.gazGroup(-1) }},
		{[]string{"left", "h"}, "Left", "fold the group", func(m *model) tea.Cmd { return m.gazFold(true) }},
		{[]string{"right", "l"}, "Right", "unfold it", func(m *model) tea.Cmd { return m.gazFold(false) }},
		{[]string{"/"}, "/", "search: plain words or a query", (*model).gazSearch},
		{[]string{"space"}, "Space", "mark this window, or no longer; on a heading, its windows", (*model).gazMark},
		{[]string{"shift+down", "J"}, "Shift+Down", "mark a range downward", func(m *model) tea.Cmd { return m.gazRange(1) }},
		{[]string{"shift+up", "K"}, "Shift+Up", "mark a range upward", func(m *model) tea.Cmd { return m.gazRange(-1) }},
		{[]string{"*"}, "*", "mark all that are listed, or none", (*model).gazMarkAll},
		{[]string{"]"}, "]", "group by workspace, app, monitor, recency", (*model).gazRegroup},
		{[]string{"}"}, "}", "sort by the next column", (*model).gazSort},
		{[]string{"enter"}, "Enter", "go there; a minimised window is restored", (*model).gazEnter},
	}
}

func (m *model) gazKey(k tea.KeyPressMsg, name string) (tea.Cmd, bool) {
	if m.gaz.search {
		return m.gazSearchKey(k, name), true
	}
	m.message, m.fault = "", false
	if text := k.Text; m.gaz.recent && len(text) == 1 && text[0] >= '1' && text[0] <= '9' {
		if i := int(text[0] - '1'); i < len(m.gaz.rows) {
			m.gaz.at = i
			m.gazSelect()
			return m.gazEnter(), true
		}
		m.say(fmt.Sprintf("There is no row %s.", text), true)
		return nil, true
	}
	if m.gaz.recent && name == "]" {
		m.gaz.scope = (m.gaz.scope + 1) % 3
		m.gazFill()
		m.gazSelect()
		return nil, true
	}
	for _, b := range gazBindings() {
		if slices.Contains(b.keys, name) {
			return b.run(m), true
		}
	}
	switch name {
	case "esc":
		switch {
		case len(m.gaz.marked) > 0:
			m.gaz.marked, m.gaz.anchor = map[int]bool{}, 0
		case m.gaz.text != "":
			m.gazQuery("")
			m.gazFill()
		default:
			m.screen = screenMap
		}
		return nil, true
	case "z", "!", "R":
		m.screen = screenMap
	}
	return nil, false
}

// gazSearchKey follows a key in the search line.
func (m *model) gazSearchKey(k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "enter", "down":
		m.gaz.search = false
		m.input.Blur()
		m.gazSelect()
		return nil
	case "esc":
		m.gaz.search = false
		m.input.Blur()
		m.gazQuery("")
		m.gazFill()
		m.gazSelect()
		return nil
	case "tab":
		m.input.SetValue(completeQuery(m.input.Value(), m.d))
		m.input.CursorEnd()
	default:
		var cmd tea.Cmd
		m.input, cmd = m.input.Update(k)
		m.gazTyped()
		return cmd
	}
	m.gazTyped()
	return nil
}

// gazTyped takes up what the search line reads now: the best match comes under
// the cursor.
func (m *model) gazTyped() {
	m.gazQuery(m.input.Value())
	if m.gaz.fault != nil {
		return
	}
	m.gazFill()
	m.gaz.at, m.gaz.top = 0, 0
	for i, r := range m.gaz.rows {
		if r.window != nil {
			m.gaz.at = i
			break
		}
	}
	m.gazSelect()
}

// completeQuery goes on with the word begun in a query, as far as there is one way.
func completeQuery(value string, d *desk.Desk) string {
	head := "rescue of "
	words := lang.Complete(head+value, d)
	begun := value[strings.LastIndexAny(value, " (")+1:]
	var fits []string
	for _, w := range words {
		if w = strings.TrimSuffix(w, "…"); strings.HasPrefix(w, begun) && !strings.Contains(w, " ") {
			fits = append(fits, w)
		}
	}
	if len(fits) == 0 {
		return value
	}
	return value[:len(value)-len(begun)] + common(fits)
}

func (m *model) gazGroup(by int) tea.Cmd {
	g := &m.gaz
	if g.group == byRecency || len(g.words) > 0 {
		m.gazMove(by)
		return nil
	}
	for i := g.at + by; i >= 0 && i < len(g.rows); i += by {
		if g.rows[i].window == nil {
			g.at = i
			break
		}
	}
	m.gazSelect()
	return nil
}

func (m *model) gazFold(fold bool) tea.Cmd {
	g := &m.gaz
	r := m.gazRow()
	if r.group == "" || len(g.words) > 0 {
		return nil
	}
	g.folded[r.group] = fold
	m.gazFill()
	for i, row := range g.rows {
		if fold && row.window == nil && row.group == r.group {
			g.at = i
		}
	}
	m.gazSelect()
	return nil
}

func (m *model) gazMark() tea.Cmd {
	g := &m.gaz
	r := m.gazRow()
	if r.window == nil {
		on := false
		var ids []int
		for _, row := range m.grouped(m.gazListed()) {
			if row.window != nil && row.group == r.group {
				ids = append(ids, row.window.ID)
				on = on || !g.marked[row.window.ID]
			}
		}
		for _, id := range ids {
			g.mark(id, on)
		}
		return nil
	}
	g.mark(r.window.ID, !g.marked[r.window.ID])
	g.anchor = 0
	m.gazMove(1)
	return nil
}

// gazListed are the windows that are to be listed, those of folded groups too.
func (m *model) gazListed() []*desk.Window {
	now := m.d.AtTime(time.Now().Unix())
	var ws []*desk.Window
	for _, w := range m.gazOrder() {
		if m.inScope(w) && (m.gaz.query == nil || now.Matches(m.gaz.query, w)) {
			ws = append(ws, w)
		}
	}
	return ws
}

func (g *gazetteer) mark(id int, on bool) {
	if on {
		g.marked[id] = true
	} else {
		delete(g.marked, id)
	}
}

// gazRange marks the window under the cursor and the next one in a direction.
func (m *model) gazRange(by int) tea.Cmd {
	if r := m.gazRow(); r.window != nil {
		m.gaz.mark(r.window.ID, true)
	}
	m.gazMove(by)
	if r := m.gazRow(); r.window != nil {
		m.gaz.mark(r.window.ID, true)
	}
	return nil
}

func (m *model) gazMarkAll() tea.Cmd {
	ws := m.gazListed()
	on := slices.ContainsFunc(ws, func(w *desk.Window) bool { return !m.gaz.marked[w.ID] })
	for _, w := range ws {
		m.gaz.mark(w.ID, on)
	}
	return nil
}

func (m *model) gazRegroup() tea.Cmd {
	m.gaz.group = (m.gaz.group + 1) % grouping(len(groupingWords))
	m.gazFill()
	m.gaz.top = 0
	m.gazSelect()
	return nil
}

func (m *model) gazSort() tea.Cmd {
	if m.gaz.sort++; m.gaz.sort == len(gazColumns) {
		m.gaz.sort = -1
	}
	m.gazFill()
	return nil
}

// gazEnter goes to the window under the cursor; on a heading it folds.
func (m *model) gazEnter() tea.Cmd {
	r := m.gazRow()
	if r.window == nil {
		return m.gazFold(!m.gaz.folded[r.group])
	}
	m.screen = screenMap
	if m.gaz.text != "" {
		m.steps.found()
	}
	return m.do(desk.Command{Verb: "focus", Args: []arg{{Kind: desk.Item, N: r.window.ID}}})
}

// chosen lists the windows that a verb acts on: the marked ones, else the one
// chosen.
func (m *model) chosen() []int {
	if m.marked() {
		var ids []int
		for id := range m.gaz.marked {
			ids = append(ids, id)
		}
		slices.Sort(ids)
		return ids
	}
	return m.group()
}

// marked tells whether windows are marked, which verbs then act on.
func (m *model) marked() bool { return m.screen == screenGazetteer && len(m.gaz.marked) > 0 }

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
	spans := []span{{name, head}, {fmt.Sprintf("  %s · %d of %d windows", how, listed, len(m.d.Windows)), quiet}}
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
