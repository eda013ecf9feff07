package tui

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/fuzzy"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
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
