package tui

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/fuzzy"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/tui/cells"
)

// gazetteer is the index of every open window: what is shown of it, in which
// order, and what is marked. Recent windows are the same list, by recency.
type gazetteer struct {
	recent bool // it lists the recent windows
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

// row is a window, or the heading of a group.
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

// scope is which of the recent windows are listed.
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
	g := &gazetteer{sort: -1, folded: map[string]bool{}, marked: map[int]bool{}}
	return g.show(m, search)
}

// openSwitcher shows the windows that had the focus, the latest first, with the
// cursor on the one before.
func (m *model) openSwitcher() tea.Cmd {
	g := &gazetteer{recent: true, group: byRecency, sort: -1, folded: map[string]bool{}, marked: map[int]bool{}}
	cmd := g.show(m, false)
	g.at = min(1, len(g.rows)-1)
	if m.d.Focus == 0 {
		g.at = 0
	}
	g.choose(m)
	return cmd
}

// openHere shows the recent windows of this workspace alone.
func (m *model) openHere() tea.Cmd {
	cmd := m.openSwitcher()
	if g, ok := m.top().(*gazetteer); ok {
		g.scope = thisWorkspace
		g.fill(m)
	}
	return cmd
}

func (g *gazetteer) show(m *model, search bool) tea.Cmd {
	m.goTo(g)
	m.message = ""
	g.fill(m)
	for i, r := range g.rows {
		if r.window != nil && r.window.ID == m.sel.Window {
			g.at = i
		}
	}
	g.choose(m)
	if search {
		return g.startSearch(m)
	}
	return nil
}

func (g *gazetteer) writes() bool { return g.search }

// follow works the rows out again.
func (g *gazetteer) follow(m *model) tea.Cmd {
	g.fill(m)
	g.choose(m)
	return nil
}

// settle leaves the cursor where it is.
func (g *gazetteer) settle(m *model, r desk.Report, _ string) bool {
	if r.Goes {
		return false
	}
	g.choose(m)
	return true
}

func (g *gazetteer) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	switch e := msg.(type) {
	case tea.MouseWheelMsg:
		g.moveBy(m, 3*wheelOf(e))
	case tea.MouseClickMsg:
		sel, ok := m.under(e.X, e.Y)
		i := slices.IndexFunc(g.rows, func(r gazRow) bool { return ok && r.window != nil && r.window.ID == sel.Window })
		if i >= 0 && !g.search && e.Button == tea.MouseLeft {
			g.at, m.message = i, ""
			g.choose(m)
		}
	}
	return nil
}

func (g *gazetteer) startSearch(m *model) tea.Cmd {
	g.search = true
	return m.startText(g.text)
}

// setQuery reads the search, and tells whether there is one to go by. While its last
// words are at fault it is that of those before them; without any, the rows stay.
func (g *gazetteer) setQuery(text string) bool {
	g.text, g.fault = text, nil
	if strings.TrimSpace(text) == "" {
		g.query, g.words = nil, nil
		return true
	}
	q, err := lang.ParseQuery(text)
	if errors.As(err, &g.fault) {
		sound := string([]rune(text)[:min(g.fault.Column-1, len([]rune(text)))])
		q, err = lang.ParseQuery(sound[:max(0, strings.LastIndexByte(sound, ' '))])
	}
	if err != nil {
		return false
	}
	g.query, g.words = q, plainWords(q)
	return true
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
	for _, word := range g.words { // some of an "or" may fit neither
		sum += fuzzy.Score([]string{word}, w.App, w.Title)
	}
	return sum
}

// fill works the rows out again, and keeps the cursor on its window, at its
// place of the screen.
func (g *gazetteer) fill(m *model) {
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
	ws := g.listed(m)
	if len(g.words) > 0 {
		for _, w := range ws {
			g.rows = append(g.rows, gazRow{window: w, score: g.score(w)})
		}
		slices.SortStableFunc(g.rows, func(a, b gazRow) int { return cmp.Or(b.score-a.score, b.window.Used-a.window.Used) })
	} else {
		g.rows = g.grouped(m, ws)
	}
	g.at = geom.Clamp(g.at, 0, max(0, len(g.rows)-1))
	for i, r := range g.rows {
		if was.window != nil && r.window != nil && r.window.ID == was.window.ID || was.window == nil && was.group != "" && r.window == nil && r.group == was.group {
			g.at = i
		}
	}
	g.top = g.at - offset
}

func (g *gazetteer) inScope(m *model, w *desk.Window) bool {
	focus := m.d.Window(m.d.Focus)
	switch g.scope {
	case thisApp:
		return focus != nil && w.App == focus.App
	case thisWorkspace:
		return m.d.Index(w.Workspace) == m.d.Current()
	}
	return true
}

// order is every window in the order of the rows.
func (g *gazetteer) order(m *model) []*desk.Window {
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
func (g *gazetteer) grouped(m *model, ws []*desk.Window) []gazRow {
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

// choose has verbs act on the row under the cursor.
func (g *gazetteer) choose(m *model) {
	if r := g.row(); r.window != nil {
		m.sel = cells.Selection{Window: r.window.ID}
	}
}

func (g *gazetteer) row() gazRow {
	if g.at < len(g.rows) {
		return g.rows[g.at]
	}
	return gazRow{}
}

// moveBy takes the cursor by rows.
func (g *gazetteer) moveBy(m *model, by int) {
	g.at = geom.Clamp(g.at+by, 0, max(0, len(g.rows)-1))
	g.choose(m)
}

// gazBinding is a key of the gazetteer's own.
type gazBinding struct {
	keys  []string
	shown string
	help  string
	run   func(g *gazetteer, m *model) tea.Cmd
}

func gazBindings() []gazBinding {
	move := func(by int) func(g *gazetteer, m *model) tea.Cmd {
		return func(g *gazetteer, m *model) tea.Cmd { g.moveBy(m, by); return nil }
	}
	return []gazBinding{
		{[]string{"up", "k"}, "Up", "the row before", move(-1)},
		{[]string{"down", "j"}, "Down", "the next row", move(1)},
		{[]string{"pgup"}, "PageUp", "ten rows up", move(-10)},
		{[]string{"pgdown"}, "PageDown", "ten rows down", move(10)},
		{[]string{"home"}, "Home", "the first row", move(-1 << 20)},
		{[]string{"end"}, "End", "the last row", move(1 << 20)},
		{[]string{"tab"}, "Tab", "the next group, or row of the recent windows", func(g *gazetteer, m *model) tea.Cmd { return g.toGroup(m, 1) }},
		{[]string{"shift+tab"}, "Shift+Tab", "the group before", func(g *gazetteer, m *model) tea.Cmd { return g.toGroup(m, -1) }},
		{[]string{"left", "h"}, "Left", "fold the group", func(g *gazetteer, m *model) tea.Cmd { return g.fold(m, true) }},
		{[]string{"right", "l"}, "Right", "unfold it", func(g *gazetteer, m *model) tea.Cmd { return g.fold(m, false) }},
		{[]string{"/"}, "/", "search: plain words or a query", (*gazetteer).startSearch},
		{[]string{"space"}, "Space", "mark this window, or no longer; on a heading, its windows", (*gazetteer).markRow},
		{[]string{"shift+down", "J"}, "Shift+Down", "mark a range downward", func(g *gazetteer, m *model) tea.Cmd { return g.markRange(m, 1) }},
		{[]string{"shift+up", "K"}, "Shift+Up", "mark a range upward", func(g *gazetteer, m *model) tea.Cmd { return g.markRange(m, -1) }},
		{[]string{"*"}, "*", "mark all that are listed, or none", (*gazetteer).markAll},
		{[]string{"]"}, "]", "group by workspace, app, monitor, recency", (*gazetteer).regroup},
		{[]string{"}"}, "}", "sort by the next column", (*gazetteer).sortNext},
		{[]string{"enter"}, "Enter", "go there; a minimised window is restored", (*gazetteer).enter},
	}
}

// key follows a key; what is none of the screen's own is a verb's.
func (g *gazetteer) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	if g.search {
		return g.searchKey(m, k, name)
	}
	m.message, m.fault = "", false
	if text := k.Text; g.recent && len(text) == 1 && text[0] >= '1' && text[0] <= '9' {
		if i := int(text[0] - '1'); i < len(g.rows) {
			g.at = i
			g.choose(m)
			return g.enter(m)
		}
		m.say(fmt.Sprintf("There is no row %s.", text), true)
		return nil
	}
	if g.recent && name == "]" {
		g.scope = (g.scope + 1) % 3
		g.fill(m)
		g.choose(m)
		return nil
	}
	for _, b := range gazBindings() {
		if slices.Contains(b.keys, name) {
			return b.run(g, m)
		}
	}
	switch name {
	case "esc":
		switch {
		case len(g.marked) > 0:
			g.marked, g.anchor = map[int]bool{}, 0
		case g.text != "":
			g.setQuery("")
			g.fill(m)
		default:
			m.pop()
		}
		return nil
	case "z", "!", "R":
		m.home()
	}
	return m.common(k, name)
}

// searchKey follows a key in the search line.
func (g *gazetteer) searchKey(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "enter", "down":
		g.search = false
		m.input.Blur()
		if at := g.only(); name == "enter" && at >= 0 {
			g.at = at
			return g.enter(m)
		}
		if name == "enter" && g.seeksApp() {
			return m.openNamed(g.text)
		}
		g.choose(m)
		return nil
	case "esc":
		g.search = false
		m.input.Blur()
		g.setQuery("")
		g.fill(m)
		g.choose(m)
		return nil
	case "tab":
		m.extend(lang.CompleteQuery(m.input.Value(), m.d))
		g.wrote(m)
	default:
		return m.write(k)
	}
	return nil
}

// only is the row of the one window that matches what is searched for; -1 where none
// does, or several do.
func (g *gazetteer) only() int {
	at, shown, all := -1, 0, 0
	for i, r := range g.rows {
		all += r.count // of a heading, which also counts what is folded
		if r.window != nil {
			at, shown = i, shown+1
		}
	}
	if shown != 1 || all > 1 || g.text == "" || g.fault != nil {
		return -1
	}
	return at
}

// seeksApp tells whether no window matches a word, which may be the name of an app.
func (g *gazetteer) seeksApp() bool {
	return len(g.rows) == 0 && g.text != "" && g.fault == nil && !strings.ContainsAny(g.text, ":()\"")
}

// wrote takes up what the search line reads now: the best match comes under
// the cursor.
func (g *gazetteer) wrote(m *model) {
	if !g.setQuery(m.input.Value()) {
		return
	}
	g.fill(m)
	g.at, g.top = 0, 0
	for i, r := range g.rows {
		if r.window != nil {
			g.at = i
			break
		}
	}
	g.choose(m)
}

func (g *gazetteer) toGroup(m *model, by int) tea.Cmd {
	if g.group == byRecency || len(g.words) > 0 {
		g.moveBy(m, by)
		return nil
	}
	for i := g.at + by; i >= 0 && i < len(g.rows); i += by {
		if g.rows[i].window == nil {
			g.at = i
			break
		}
	}
	g.choose(m)
	return nil
}

func (g *gazetteer) fold(m *model, fold bool) tea.Cmd {
	r := g.row()
	if r.group == "" || len(g.words) > 0 {
		return nil
	}
	g.folded[r.group] = fold
	g.fill(m)
	for i, row := range g.rows {
		if fold && row.window == nil && row.group == r.group {
			g.at = i
		}
	}
	g.choose(m)
	return nil
}

func (g *gazetteer) markRow(m *model) tea.Cmd {
	r := g.row()
	if r.window == nil {
		on := false
		var ids []int
		for _, row := range g.grouped(m, g.listed(m)) {
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
	g.moveBy(m, 1)
	return nil
}

// listed are the windows that are to be listed, those of folded groups too.
func (g *gazetteer) listed(m *model) []*desk.Window {
	now := m.d.AtTime(time.Now().Unix())
	var ws []*desk.Window
	for _, w := range g.order(m) {
		if g.inScope(m, w) && (g.query == nil || now.Matches(g.query, w)) {
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

// markRange marks the window under the cursor and the next one in a direction.
func (g *gazetteer) markRange(m *model, by int) tea.Cmd {
	if r := g.row(); r.window != nil {
		g.mark(r.window.ID, true)
	}
	g.moveBy(m, by)
	if r := g.row(); r.window != nil {
		g.mark(r.window.ID, true)
	}
	return nil
}

func (g *gazetteer) markAll(m *model) tea.Cmd {
	ws := g.listed(m)
	on := slices.ContainsFunc(ws, func(w *desk.Window) bool { return !g.marked[w.ID] })
	for _, w := range ws {
		g.mark(w.ID, on)
	}
	return nil
}

func (g *gazetteer) regroup(m *model) tea.Cmd {
	g.group = (g.group + 1) % grouping(len(groupingWords))
	g.fill(m)
	g.top = 0
	g.choose(m)
	return nil
}

func (g *gazetteer) sortNext(m *model) tea.Cmd {
	if g.sort++; g.sort == len(gazColumns) {
		g.sort = -1
	}
	g.fill(m)
	return nil
}

// enter goes to the window under the cursor; on a heading it folds.
func (g *gazetteer) enter(m *model) tea.Cmd {
	r := g.row()
	if r.window == nil {
		return g.fold(m, !g.folded[r.group])
	}
	m.home()
	if g.text != "" {
		m.steps.found()
	}
	return m.do(desk.Command{Verb: "focus", Args: []arg{{Kind: desk.Item, N: r.window.ID}}})
}

// chosen lists the marked windows.
func (g *gazetteer) chosen(*model) []int { return slices.Sorted(maps.Keys(g.marked)) }
