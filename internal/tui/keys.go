package tui

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// binding is a key of the map that is no verb's: verbs have theirs in the one
// table of verbs.
type binding struct {
	keys  []string
	shown string // as the page of keys writes it
	help  string
	run   func(m *model) tea.Cmd
}

func directions() map[string]desk.Dir {
	return map[string]desk.Dir{
		"left": desk.Left, "h": desk.Left, "right": desk.Right, "l": desk.Right,
		"up": desk.Up, "k": desk.Up, "down": desk.Down, "j": desk.Down,
	}
}

// bindings is the table of the map's own keys.
func bindings() []binding {
	return []binding{
		{[]string{"enter"}, "Enter", "go to what is chosen", (*model).enter},
		{[]string{"b"}, "b", "go back to the workspace before this one", command("go back")},
		{[]string{"B"}, "B", "back to the window that had the focus before", command("focus back")},
		{[]string{","}, ",", "previous workspace", command("go prev")},
		{[]string{"."}, ".", "next workspace", command("go next")},
		{[]string{"<"}, "<", "send to the previous workspace", command("send prev")},
		{[]string{">"}, ">", "send to the next workspace", command("send next")},
		{[]string{"tab"}, "Tab", "choose the next window of the sheet", func(m *model) tea.Cmd { return m.step(1) }},
		{[]string{"shift+tab"}, "Shift+Tab", "choose the previous window of the sheet", func(m *model) tea.Cmd { return m.step(-1) }},
		{[]string{")"}, ")", "go to the next window of the same app", command("focus app next")},
		{[]string{"("}, "(", "go to the previous window of the same app", command("focus app prev")},
		{[]string{"home"}, "Home", "choose the focused window", func(m *model) tea.Cmd { m.sel = m.here(); return nil }},
		{[]string{"K", "shift+up"}, "K, Shift+Up", "move the chosen workspace up in the order, or the window up", func(m *model) tea.Cmd { return m.shift(desk.Up) }},
		{[]string{"J", "shift+down"}, "J, Shift+Down", "move it down", func(m *model) tea.Cmd { return m.shift(desk.Down) }},
		{[]string{"H", "shift+left"}, "H, Shift+Left", "move the chosen window left", func(m *model) tea.Cmd { return m.shift(desk.Left) }},
		{[]string{"L", "shift+right"}, "L, Shift+Right", "move it right", func(m *model) tea.Cmd { return m.shift(desk.Right) }},
		{[]string{"+"}, "+", "give the lead, or this tile, more of the sheet", command("share +5")},
		{[]string{"-"}, "-", "give it less", command("share -5")},
		{[]string{"_"}, "_", "turn the gaps of the sheet on or off", (*model).toggleGaps},
		{[]string{"/"}, "/", "find any window: the gazetteer", func(m *model) tea.Cmd { return m.openGazetteer(true) }},
		{[]string{"'"}, "'", "recent windows, the one before first", (*model).openSwitcher},
		{[]string{"!"}, "!", "what is lost: the strays", (*model).openStrays},
		{[]string{"Z"}, "Z", "widen the choice to the group around it; Escape narrows", (*model).widen},
		{[]string{"z"}, "z", "look closer: the sheet at large, and back", (*model).toggleSheet},
		{[]string{"I"}, "I", "go to the next urgent window", command("focus urgent")},
		{[]string{"O"}, "O", "open another copy of an app", func(m *model) tea.Cmd { return m.startOpen(true) }},
		{[]string{"X"}, "X", "close all windows of this app, after asking", (*model).askCloseApp},
		{[]string{"@"}, "@", "in the demo: plug a monitor in, or pull it", (*model).startPlug},
		{[]string{";"}, ";", "other screens", (*model).startScreens},
		{[]string{":"}, ":", "a command in words", (*model).openLine},
		{[]string{"?"}, "?", "this page", func(m *model) tea.Cmd { m.mode, m.scroll = modeHelp, 0; return nil }},
		{[]string{"esc"}, "Escape", "one step back; never quits", (*model).escape},
		{[]string{"q"}, "q", "quit; every window stays", func(*model) tea.Cmd { return tea.Quit }},
	}
}

// command is a key that stands for a whole command.
func command(line string) func(m *model) tea.Cmd {
	return func(m *model) tea.Cmd { return m.run(line) }
}

// run carries out a command in words, on what is chosen.
func (m *model) run(line string) tea.Cmd {
	c, err := lang.ParseCommand(line)
	if err != nil {
		m.say(err.Error(), true)
		return nil
	}
	return m.runCommand(c)
}

func (m *model) runCommand(c desk.Command) tea.Cmd {
	c = m.about(c)
	if v, ok := desk.FindVerb(c.Verb); ok && v.Windows && c.Of == nil {
		m.say(fmt.Sprintf("Choose a window first: %s acts on windows.", c.Verb), true)
		return nil
	}
	switch c.Verb {
	case "remove":
		return m.remove(c)
	case "kill", "close":
		if ws := m.d.Select(c.Of); c.Verb == "kill" && len(ws) > 0 || len(ws) > 1 {
			return m.askEnd(c, ws)
		}
	}
	return m.do(c)
}

// askEnd asks before several windows are closed, or programs ended.
func (m *model) askEnd(c desk.Command, ws []*desk.Window) tea.Cmd {
	who := ws[0].Label()
	if len(ws) > 1 {
		who = fmt.Sprintf("%d windows", len(ws))
	}
	if c.Verb == "kill" {
		return m.ask(c, fmt.Sprintf("End the program of %s? What it has not saved is lost.", who), "ends it", "leaves it")
	}
	return m.ask(c, fmt.Sprintf("Close %s?", who), "asks their programs to close them", "leaves them open")
}

// key follows a key.
func (m *model) key(k tea.KeyPressMsg) tea.Cmd {
	name := k.String()
	if name == "ctrl+c" {
		if m.ctrlC {
			return tea.Quit
		}
		m.ctrlC = true
		m.say("q quits, and every window stays. Ctrl+C once more quits too.", false)
		return nil
	}
	m.ctrlC = false
	if m.d == nil || m.w < smallestW || m.h < smallestH {
		if name == "q" {
			return tea.Quit
		}
		return nil
	}
	m.touched = map[int]bool{}
	m.grip = 0 // a key ends a drag
	switch m.mode {
	case modeTarget:
		return m.targetKey(k, name)
	case modeLayout:
		return m.layoutKey(name)
	case modeName, modeLine:
		return m.inputKey(k, name)
	case modeAsk:
		return m.askKey(name)
	case modePlug:
		return m.plugKey(k, name)
	case modeLog:
		return m.logKey(k, name)
	case modeSettings:
		return m.settingsKey(k, name)
	case modeScreens:
		return m.screensKey(name)
	case modeHelp:
		return m.helpKey(k, name)
	case modeHand:
		return m.handKey(k, name)
	case modeDir:
		return m.dirKey(k, name)
	case modeRules:
		return m.rulesKey(k, name)
	case modeLetter:
		return m.letterKey(k, name)
	case modeOpen:
		return m.openKey(k, name)
	}
	if m.screen == screenGazetteer {
		if cmd, done := m.gazKey(k, name); done {
			return cmd
		}
	}
	if m.screen == screenStrays {
		if cmd, done := m.straysKey(name); done {
			return cmd
		}
	}
	return m.mapKey(k, name)
}

// leaving are the keys that lead from a page over the map to somewhere else, as
// they do from the map.
var leaving = []string{"/", "'", "!", ":", ";", "?", "1", "2", "3", "4", "5", "6", "7", "8", "9", ",", ".", "b", "g", "o", "v"}

// pageKey follows a key that a page over the map has no use for itself. What
// undoes stays on the page, what leads elsewhere leaves it.
func (m *model) pageKey(k tea.KeyPressMsg, name string) tea.Cmd {
	switch {
	case k.Text == "u" || k.Text == "U":
		return m.run(map[string]string{"u": "undo", "U": "redo"}[k.Text])
	case slices.Contains(leaving, k.Text):
		m.mode = modeMap
		return m.mapKey(k, name)
	}
	m.say(fmt.Sprintf("%s does nothing here. Escape goes back to the map.", k.Keystroke()), false)
	return nil
}

func (m *model) mapKey(k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	if dir, ok := directions()[name]; ok && (m.screen == screenMap || m.screen == screenSheet) {
		m.move(dir)
		return nil
	}
	if text := k.Text; len(text) == 1 && text[0] >= '1' && text[0] <= '9' {
		return m.run("go " + text)
	}
	for _, b := range bindings() {
		for _, key := range b.keys {
			if key == name {
				return b.run(m)
			}
		}
	}
	for _, v := range desk.Verbs() {
		if v.Key != "" && v.Key == k.Text {
			return m.verbKey(v)
		}
	}
	m.say(fmt.Sprintf("%s does nothing here. ? shows all keys.", k.Keystroke()), false)
	return nil
}

// verbKey starts a verb: at once, or after its target.
func (m *model) verbKey(v desk.Verb) tea.Cmd {
	if m.sendsFocused(v) {
		m.sel = m.here()
	}
	if v.Windows && !v.Sheet && m.subject() == nil && v.Name != "rescue" {
		m.say(fmt.Sprintf("Choose a window first: %s acts on windows.", v.Name), true)
		return nil
	}
	switch v.Name {
	case "go", "send", "carry", "rescue", "vacate", "home":
		m.mode, m.verb, m.target, m.app = modeTarget, v.Name, nil, ""
	case "layout":
		m.mode = modeLayout
	case "add", "rename":
		m.mode, m.verb = modeName, v.Name
		m.input.SetValue("")
		if v.Name == "rename" {
			m.input.SetValue(m.d.Workspaces[m.workspaceAt()].Name)
			m.input.CursorEnd()
		}
		return m.input.Focus()
	case "remove":
		return m.remove(desk.Command{Verb: v.Name, Args: []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}})
	case "jump", "pin":
		m.mode, m.verb = modeLetter, v.Name
	case "open":
		return m.startOpen(false)
	case "nudge", "resize":
		return m.startHand(v.Name)
	case "swap", "split", "snap", "group":
		if w := m.d.Window(m.sel.window); v.Name != "snap" && !m.d.Tiled(w) {
			m.say(fmt.Sprintf("%s is not tiled: %s acts on tiles.", w.Label(), v.Name), true)
			return nil
		}
		m.mode, m.verb, m.digit, m.cursor, m.part = modeDir, v.Name, 0, 0, ""
	case "close":
		if w := m.d.Window(m.sel.window); w != nil && w.Hung && len(m.chosen()) == 1 {
			return m.run("kill") // it was asked to close already
		}
		return m.run("close")
	case "minimise":
		if w := m.d.Window(m.sel.window); w != nil && w.Minimised && len(m.chosen()) == 1 {
			return m.run("restore")
		}
		return m.run("minimise")
	default:
		return m.run(v.Name)
	}
	return nil
}

// sendsFocused tells whether a verb that waits for its target acts on the focused
// window, as where no window is chosen.
func (m *model) sendsFocused(v desk.Verb) bool {
	return (v.Name == "send" || v.Name == "carry") && m.subject() == nil && m.d.Focus != 0
}

// remove takes a workspace away, after asking where it has windows.
func (m *model) remove(c desk.Command) tea.Cmd {
	i, into, err := m.d.Removal(c)
	if err != nil || m.d.Count(i) == 0 {
		return m.do(c) // and have the keeper say why not
	}
	return m.ask(c, fmt.Sprintf("Remove workspace %s? Its %s go to %s.", m.d.Title(i), windowsWord(m.d.Count(i)), m.d.Title(into)), "removes it", "keeps it")
}

// ask asks before a command. Does and leaves say what Enter and Escape do.
func (m *model) ask(c desk.Command, question, does, leaves string) tea.Cmd {
	m.mode, m.asked, m.asks = modeAsk, c, [2]string{does, leaves}
	m.say(fmt.Sprintf("%s Enter %s, Escape %s.", question, does, leaves), true)
	return nil
}

// askCloseApp asks before all windows of the chosen one's app are closed.
func (m *model) askCloseApp() tea.Cmd {
	w := m.d.Window(m.sel.window)
	if w == nil || w.App == "" {
		m.say("Choose a window first: X closes all of its app.", true)
		return nil
	}
	return m.ask(desk.Command{Verb: "close", Of: ofApp(w.App)}, fmt.Sprintf("Close %s?", m.appWords(w.App)), "asks to close them", "leaves them open")
}

// letterKey follows the letter after jump or pin. A capital pins the one window.
func (m *model) letterKey(k tea.KeyPressMsg, name string) tea.Cmd {
	m.mode = modeMap
	if name == "esc" {
		m.say("Left as it was.", false)
		return nil
	}
	text := k.Text
	if m.verb == "pin" && len(text) == 1 && text[0] >= 'A' && text[0] <= 'Z' {
		return m.run("pin " + strings.ToLower(text) + " window")
	}
	if len(text) != 1 || text[0] < 'a' || text[0] > 'z' {
		m.say(fmt.Sprintf("%s is no letter a to z.", k.Keystroke()), true)
		return nil
	}
	return m.run(m.verb + " " + text)
}

func (m *model) askKey(name string) tea.Cmd {
	switch name {
	case "enter":
		m.mode = modeMap
		return m.do(m.asked)
	case "esc", "q", "n":
		m.mode = modeMap
		m.say("Left as it was.", false)
	}
	return nil
}

// move takes the selection in a direction.
func (m *model) move(dir desk.Dir) {
	w := m.d.Window(m.sel.window)
	if w != nil {
		if next, ok := m.d.InPile(w, dir); ok {
			m.sel = selection{window: next}
			return
		}
	}
	if m.screen == screenSheet && w != nil {
		// By the windows' true places; at the edge on to the next sheet.
		var sheet chart
		i, letter := m.sheetAt()
		for _, o := range m.d.Order(i, letter) {
			if m.d.Covered(o) {
				continue
			}
			sheet.stops = append(sheet.stops, stop{selection{window: o.ID}, o.Rect})
		}
		if next, ok := sheet.next(w.Rect, dir); ok {
			m.sel = next
			return
		}
	}
	ch := m.chart()
	from, ok := ch.stop(m.sel)
	if !ok {
		if m.sel.window != 0 { // minimised: its sheet is where it is
			if s, found := ch.sheetOf(m.d, m.sel.window); found {
				from = stop{rect: geom.R(s.X, s.Y, 1, 1)}
			}
		} else {
			m.sel = m.here()
			return
		}
	}
	if next, ok := ch.next(from.rect, dir); ok {
		m.sel = next
		return
	}
	// The rows may have scrolled.
	i := m.workspaceAt()
	switch {
	case dir == desk.Up && i > 0 && ch.above > 0:
		m.sel = selection{workspace: m.d.Workspaces[i-1].ID}
	case dir == desk.Down && i+1 < len(m.d.Workspaces) && ch.below > 0:
		m.sel = selection{workspace: m.d.Workspaces[i+1].ID}
	}
}

// sheetOf is where the sheet of a window is drawn.
func (ch *chart) sheetOf(d *desk.Desk, id int) (geom.Rect, bool) {
	w := d.Window(id)
	b, ok := ch.band(d.Index(w.Workspace))
	col, known := ch.column(w.Monitor)
	if !ok || !known {
		return geom.Rect{}, false
	}
	return ch.sheet(col, b), true
}

// step chooses the next window of the sheet, minimised ones too; on a
// workspace's number, its first window.
func (m *model) step(by int) tea.Cmd {
	i, letter := m.workspaceAt(), m.monitorAt()
	if letter == 0 {
		letter = m.sheetOf(i)
	}
	list := append(m.d.Order(i, letter), m.d.Minimised(i, letter)...)
	if len(list) == 0 {
		m.say(fmt.Sprintf("Sheet %s is empty.", desk.SheetRef(i, letter)), false)
		return nil
	}
	at := -1
	for j, w := range list {
		if w.ID == m.sel.window {
			at = j
		}
	}
	if at < 0 && by < 0 {
		at = 0
	}
	m.sel = selection{window: list[(at+by+len(list))%len(list)].ID}
	return nil
}

// enter goes to what is chosen.
func (m *model) enter() tea.Cmd {
	switch {
	case m.sel.window != 0:
		return m.do(desk.Command{Verb: "focus", Args: []arg{{Kind: desk.Item, N: m.sel.window}}})
	case m.sel.letter != 0:
		return m.do(desk.Command{Verb: "go", Args: []arg{{Kind: desk.Ref, Letter: m.sel.letter, N: m.workspaceAt() + 1}}})
	}
	return m.do(desk.Command{Verb: "go", Args: []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}})
}

func (m *model) escape() tea.Cmd {
	if m.narrow() {
		return nil
	}
	if m.screen == screenSheet {
		m.screen = screenMap
		return nil
	}
	if m.steps.visible() {
		m.say(m.steps.dismiss(), false)
		return nil
	}
	m.say("Nothing to step back from. q quits.", false)
	return nil
}

// targetKey follows a key after a verb that takes a place.
func (m *model) targetKey(k tea.KeyPressMsg, name string) tea.Cmd {
	word := func(w string) *arg { return &arg{Kind: desk.Keyword, Word: w} }
	if dir, ok := directions()[name]; ok && m.verb != "vacate" && m.verb != "home" {
		m.aim(dir)
		return nil
	}
	if (m.verb == "vacate" || m.verb == "home") && name != "esc" && (name != "enter" || m.target == nil) && (k.Text < "A" || k.Text > "Z") {
		m.say(fmt.Sprintf("Which monitor: %s?", m.monitors()), true)
		return nil
	}
	switch {
	case name == "esc":
		m.mode, m.target = modeMap, nil
		m.say("Left as it was.", false)
		return nil
	case name == "enter" && m.target != nil:
		return m.hit(*m.target)
	case name == "enter" && m.verb == "rescue":
		m.mode = modeMap
		return m.rescueThis()
	case name == "enter":
		if a, ok := m.last[m.verb]; ok {
			return m.hit(a)
		}
		m.say(fmt.Sprintf("No target yet: a digit is a workspace, %s a monitor.", m.monitors()), true)
		return nil
	case k.Text == "a" && m.verb == "rescue":
		m.mode = modeMap
		return m.do(desk.Command{Verb: "rescue", Of: desk.Is{State: desk.IsStray}})
	case k.Text == "*" && m.sending():
		if w := m.d.Window(m.sel.window); w == nil || w.App == "" || m.marked() {
			m.say("No one app is chosen to send all of.", true)
			return nil
		}
		m.app = map[bool]string{true: m.d.Window(m.sel.window).App}[m.app == ""]
		m.say("", false)
		return nil
	case k.Text == "n" && m.verb != "rescue":
		return m.hit(*word("new"))
	case k.Text == "b" && m.verb != "rescue":
		return m.hit(*word("back"))
	case k.Text == "." && m.verb != "rescue":
		return m.hit(*word("next"))
	case k.Text == "," && m.verb != "rescue":
		return m.hit(*word("prev"))
	case k.Text == "/" || k.Text == "\"":
		m.mode = modeLine
		m.input.SetValue(m.verb + " ")
		m.input.CursorEnd()
		return m.input.Focus()
	case len(k.Text) == 1 && k.Text[0] >= '1' && k.Text[0] <= '9':
		n := int(k.Text[0] - '0')
		if m.target != nil && m.target.Kind == desk.Letter {
			return m.hit(arg{Kind: desk.Ref, Letter: m.target.Letter, N: n})
		}
		return m.hit(arg{Kind: desk.Number, N: n})
	case len(k.Text) == 1 && k.Text[0] >= 'A' && k.Text[0] <= 'Z':
		l := k.Text[0]
		if !m.d.Connected(l) {
			m.say(fmt.Sprintf("No monitor %c is plugged in: %s.", l, m.monitors()), true)
			return nil
		}
		if m.verb == "vacate" && m.target != nil {
			m.mode = modeMap
			return m.do(desk.Command{Verb: m.verb, Args: []arg{*m.target, {Kind: desk.Keyword, Word: "to"}, {Kind: desk.Letter, Letter: l}}})
		}
		m.target = &arg{Kind: desk.Letter, Letter: l}
		if m.verb == "home" || m.verb == "vacate" && len(m.others(l)) < 2 {
			return m.hit(*m.target)
		}
		return nil
	}
	m.say(fmt.Sprintf("%s is no target. Escape leaves it.", k.Keystroke()), true)
	return nil
}

// rescueThis brings the chosen window back.
func (m *model) rescueThis() tea.Cmd {
	if m.subject() == nil {
		m.say("Choose a window first, or r a for all that are lost.", true)
		return nil
	}
	return m.run("rescue")
}

// monitors names the connected monitors.
func (m *model) monitors() string { return strings.Join(m.others(0), " or ") }

// others lists the letters of the connected monitors but one.
func (m *model) others(but byte) []string {
	var ls []string
	for _, mon := range m.d.Monitors {
		if mon.Connected && mon.Letter != but {
			ls = append(ls, string(rune(mon.Letter)))
		}
	}
	return ls
}

// hit carries the verb out on its target. All of an app go after asking.
func (m *model) hit(a arg) tea.Cmd {
	c := m.targetCommand(a)
	m.mode, m.target = modeMap, nil
	m.last[m.verb] = a
	if m.app == "" {
		return m.do(c)
	}
	if _, _, err := m.d.Apply(c); err != nil {
		return m.do(c) // and have the keeper say why not
	}
	verb := map[string]string{"send": "Send", "carry": "Carry"}[c.Verb]
	return m.ask(c, fmt.Sprintf("%s %s to %s?", verb, m.appWords(m.app), m.placeWords(a)), "does it", "leaves them")
}

// sending tells whether a verb waits for its target that can take all of an app.
func (m *model) sending() bool { return m.verb == "send" || m.verb == "carry" }

// ofApp is the query for all windows of an app.
func ofApp(app string) desk.Query { return desk.ByApp{Text: app, Whole: true} }

// appWords names all windows of an app.
func (m *model) appWords(app string) string {
	return fmt.Sprintf("all %s of %s", windowsWord(len(m.d.Select(ofApp(app)))), app)
}

// placeWords names a target.
func (m *model) placeWords(a arg) string {
	switch a.Kind {
	case desk.Number:
		if a.N >= 1 && a.N <= len(m.d.Workspaces) {
			return m.d.Title(a.N - 1)
		}
	case desk.Letter:
		return fmt.Sprintf("monitor %c", a.Letter)
	case desk.Ref:
		return desk.SheetRef(a.N-1, a.Letter)
	}
	return map[string]string{"new": "a new workspace", "next": "the next workspace", "prev": "the one before it", "back": "the workspace before this"}[a.Word]
}

// aim moves the pencilled target to the neighbouring sheet.
func (m *model) aim(dir desk.Dir) {
	i, letter := m.workspaceAt(), m.monitorAt()
	if m.target != nil {
		switch m.target.Kind {
		case desk.Ref:
			i, letter = m.target.N-1, m.target.Letter
		case desk.Number:
			i = m.target.N - 1
		case desk.Letter:
			letter = m.target.Letter
		}
	}
	if letter == 0 {
		letter = m.d.At
	}
	switch dir {
	case desk.Up:
		i--
	case desk.Down:
		i++
	default:
		connected := planeOrder(m.d)
		at := 0
		for j, mon := range connected {
			if mon.Letter == letter {
				at = j
			}
		}
		step := 1
		if dir == desk.Left {
			step = -1
		}
		for at += step; at >= 0 && at < len(connected); at += step {
			if connected[at].Connected {
				letter = connected[at].Letter
				break
			}
		}
	}
	if i < 0 || i >= len(m.d.Workspaces) {
		return
	}
	if m.d.Settings.Separate {
		if dir == desk.Left || dir == desk.Right {
			m.target = &arg{Kind: desk.Letter, Letter: letter}
			return
		}
		letter = m.d.HomeOf(i)
	}
	m.target = &arg{Kind: desk.Ref, Letter: letter, N: i + 1}
}

// layoutKeys are the letters after t.
func layoutKeys() map[string]string {
	return map[string]string{"c": "columns", "r": "rows", "l": "lead", "p": "pile", "b": "tabs", "t": "tree", "f": "free", "n": "next"}
}

func (m *model) layoutKey(name string) tea.Cmd {
	if name == "esc" {
		m.mode = modeMap
		m.say("Left as it was.", false)
		return nil
	}
	word, ok := layoutKeys()[name]
	args := []arg{{Kind: desk.Keyword, Word: word}}
	if n, err := strconv.Atoi(name); err == nil && n >= 1 && n <= desk.MaxLeads {
		ok = true
		args = []arg{{Kind: desk.Keyword, Word: layout.Lead.String()}, {Kind: desk.Number, N: n}}
	}
	if !ok {
		m.say(fmt.Sprintf("%s is no layout. Escape leaves it.", name), true)
		return nil
	}
	m.mode = modeMap
	c := desk.Command{Verb: "layout", Args: args, Of: m.subject()}
	if c.Of == nil {
		i, letter := m.workspaceAt(), m.monitorAt()
		if i != m.d.Current() || letter != 0 && letter != m.d.At {
			m.say("Nothing lies on that sheet yet. Go there first, or choose a window.", true)
			return nil
		}
	}
	return m.do(c)
}

func (m *model) openLine() tea.Cmd {
	m.mode = modeLine
	m.input.SetValue("")
	return m.input.Focus()
}

// inputKey follows a key in a line of text.
func (m *model) inputKey(k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		m.mode = modeMap
		m.input.Blur()
		m.say("Left as it was.", false)
		return nil
	case "tab":
		m.complete()
		return nil
	case "enter":
		return m.accept()
	}
	return m.edit(k)
}

func (m *model) edit(msg tea.Msg) tea.Cmd {
	var cmd tea.Cmd
	m.message = ""
	m.input, cmd = m.input.Update(msg)
	return cmd
}

func (m *model) accept() tea.Cmd {
	value := strings.TrimSpace(m.input.Value())
	if m.mode == modeName {
		m.mode = modeMap
		c := desk.Command{Verb: m.verb}
		if m.verb == "rename" {
			c.Args = []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}
		}
		if name := desk.CleanName(value); name != "" {
			c.Args = append(c.Args, arg{Kind: desk.Name, Word: name})
		} else if m.verb == "rename" {
			m.say("Left its name as it was.", false)
			return nil
		}
		return m.do(c)
	}
	if value == "" {
		m.mode = modeMap
		return nil
	}
	c, err := lang.ParseCommand(value)
	if err != nil {
		m.say(err.Error(), true)
		return nil // the line stays, to be mended
	}
	m.mode = modeMap
	m.input.Blur()
	return m.runCommand(c)
}

// complete goes on with the word begun, as far as there is one way.
func (m *model) complete() {
	if m.mode != modeLine {
		return
	}
	value := m.input.Value()
	words := lang.Complete(value, m.d)
	var begun string
	if i := strings.LastIndexByte(value, ' '); i < len(value)-1 {
		begun = value[i+1:]
	}
	var fits []string
	for _, w := range words {
		if strings.HasPrefix(w, begun) && (!strings.Contains(w, " ") || w[0] == '"') {
			fits = append(fits, w)
		}
	}
	switch {
	case len(fits) == 1:
		m.input.SetValue(value[:len(value)-len(begun)] + fits[0] + " ")
	case len(fits) > 1:
		m.input.SetValue(value[:len(value)-len(begun)] + common(fits))
	}
	m.input.CursorEnd()
}

// common is the start that all words share.
func common(words []string) string {
	start := words[0]
	for _, w := range words[1:] {
		for !strings.HasPrefix(w, start) {
			start = start[:len(start)-1]
		}
	}
	return start
}

// shift moves what is chosen: a window in its sheet, a workspace in the order.
func (m *model) shift(dir desk.Dir) tea.Cmd {
	if m.sel.window != 0 {
		return m.run("move " + dir.String())
	}
	switch dir {
	case desk.Up:
		return m.reorder(-1)
	case desk.Down:
		return m.reorder(1)
	}
	m.say("Choose a window first: this moves it.", true)
	return nil
}

// toggleGaps turns the gaps of the chosen sheet on or off.
func (m *model) toggleGaps() tea.Cmd {
	word := "off"
	if s := m.d.Sheet(m.workspaceAt(), m.layoutLetter()); s != nil && s.NoGaps {
		word = "on"
	}
	return m.do(m.about(desk.Command{Verb: "gaps", Args: []arg{{Kind: desk.Keyword, Word: word}}}))
}

// dirKey follows the direction after swap, group or split.
func (m *model) dirKey(k tea.KeyPressMsg, name string) tea.Cmd {
	if m.verb == "snap" {
		return m.snapKey(k, name)
	}
	dir, isDir := directions()[name]
	switch {
	case name == "esc":
		m.mode = modeMap
		m.say("Left as it was.", false)
		return nil
	case isDir && m.verb == "split":
		return m.dirDone(map[bool]string{true: "across", false: "down"}[dir == desk.Left || dir == desk.Right])
	case isDir:
		return m.dirDone(dir.String())
	case m.verb != "split" && (k.Text == "n" || k.Text == "p"):
		return m.dirDone(map[string]string{"n": "next", "p": "prev"}[k.Text])
	}
	m.say(fmt.Sprintf("%s is no direction. Escape leaves it.", k.Keystroke()), true)
	return nil
}

// dirDone carries out the verb that waited for these words.
func (m *model) dirDone(words string) tea.Cmd {
	m.mode, m.cursor = modeMap, 0
	return m.run(m.verb + " " + words)
}

// snapParts are the keys for another part than a half; snapCorners those of the
// corners.
var (
	snapParts   = map[string]string{"t": "third", "T": "two-thirds", "q": "quarter", "Q": "three-quarters"}
	snapCorners = map[string]string{"y": "topleft", "u": "topright", "b": "bottomleft", "n": "bottomright"}
)

// snapKey follows a key after snap: a direction, perhaps after a part; a corner;
// the digits of two cells of the grid, or arrows that choose them.
func (m *model) snapKey(k tea.KeyPressMsg, name string) tea.Cmd {
	dir, isDir := directions()[name]
	grid := m.d.GridOf(m.subjectMonitor())
	digit, err := strconv.Atoi(k.Text)
	switch {
	case name == "esc":
		m.mode, m.cursor = modeMap, 0
		m.say("Left as it was.", false)
	case m.cursor > 0 && isDir:
		m.moveCursor(grid, dir)
	case m.cursor > 0 && (name == "enter" || name == "space") && m.digit == 0:
		m.digit = m.cursor
	case m.cursor > 0 && (name == "enter" || name == "space"):
		return m.dirDone(strings.TrimPrefix(m.cellWords(), "snap "))
	case m.cursor > 0:
		m.say(fmt.Sprintf("%s does nothing here: arrows choose a cell, Enter takes it.", k.Keystroke()), true)
	case isDir:
		return m.dirDone(strings.TrimSpace([...]string{"left", "right", "top", "bottom"}[dir] + " " + m.part))
	case k.Text == "m":
		return m.dirDone(strings.TrimSpace("middle " + m.part))
	case snapParts[k.Text] != "":
		m.part = snapParts[k.Text]
		m.say(fmt.Sprintf("A %s: at which side?", m.part), false)
	case snapCorners[k.Text] != "":
		return m.dirDone(snapCorners[k.Text])
	case k.Text == "g":
		m.cursor, m.digit = 1, 0
		m.say("Arrows to the first cell, Enter; arrows to the last one, Enter.", false)
	case err == nil && digit >= 1 && grid.Cols*grid.Rows > 9:
		m.say(fmt.Sprintf("This grid has %d cells: g chooses them by arrows.", grid.Cols*grid.Rows), true)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows && m.digit == 0:
		m.digit = digit
		m.say(fmt.Sprintf("From cell %d to which?", digit), false)
	case err == nil && digit >= 1 && digit <= grid.Cols*grid.Rows:
		return m.dirDone(fmt.Sprintf("%dx%d %d %d", grid.Cols, grid.Rows, m.digit, digit))
	default:
		m.say(fmt.Sprintf("%s is no place. Escape leaves it.", k.Keystroke()), true)
	}
	return nil
}

// moveCursor goes to the next cell of a grid.
func (m *model) moveCursor(grid desk.GridSize, dir desk.Dir) {
	x, y := (m.cursor-1)%grid.Cols, (m.cursor-1)/grid.Cols
	switch dir {
	case desk.Left:
		x--
	case desk.Right:
		x++
	case desk.Up:
		y--
	case desk.Down:
		y++
	}
	m.cursor = geom.Clamp(y, 0, grid.Rows-1)*grid.Cols + geom.Clamp(x, 0, grid.Cols-1) + 1
}

// cellWords is the command that the cells chosen by arrows stand for.
func (m *model) cellWords() string {
	grid := m.d.GridOf(m.subjectMonitor())
	return fmt.Sprintf("snap %dx%d %d %d", grid.Cols, grid.Rows, m.digit, m.cursor)
}

// subjectMonitor is the monitor of the chosen window, else the one you are on.
func (m *model) subjectMonitor() byte {
	if l := m.monitorAt(); l != 0 {
		return l
	}
	return m.d.At
}

// reorder moves the workspace whose number is chosen.
func (m *model) reorder(by int) tea.Cmd {
	if m.sel.window != 0 || m.sel.letter != 0 {
		m.say("Choose a workspace's number first: this moves it in the order.", true)
		return nil
	}
	i := m.workspaceAt()
	return m.do(desk.Command{Verb: "reorder", Args: []arg{
		{Kind: desk.Number, N: i + 1}, {Kind: desk.Keyword, Word: "to"}, {Kind: desk.Number, N: i + 1 + by}}})
}

// startPlug asks which of the demo's monitors to plug in or pull.
func (m *model) startPlug() tea.Cmd {
	if m.opt.Plug == nil {
		m.say("These monitors are real: plug one in, or pull it, by its cable.", false)
		return nil
	}
	m.mode = modePlug
	m.say("Plug in or pull which monitor? Its letter.", false)
	return nil
}

func (m *model) plugKey(k tea.KeyPressMsg, name string) tea.Cmd {
	if name == "esc" {
		m.mode = modeMap
		m.say("Left as it was.", false)
		return nil
	}
	letter := strings.ToUpper(k.Text)
	if len(letter) != 1 {
		return nil
	}
	m.mode = modeMap
	m.message = ""
	if err := m.opt.Plug(letter[0]); err != nil {
		m.say(keeper.Sentence(err), true)
	}
	return nil
}

// screen is another screen, by the letter after ; that opens it.
type screen struct {
	key, name, help string
	open            func(m *model) tea.Cmd
}

func screens() []screen {
	return []screen{
		{"g", "gazetteer", "every open window, to be searched, sorted and marked", func(m *model) tea.Cmd { return m.openGazetteer(false) }},
		{"w", "switcher", "recent windows, the latest first", (*model).openSwitcher},
		{"s", "strays", "windows that are lost, and where they would go", (*model).openStrays},
		{"l", "logbook", "what was done, and the way back to any point of it", (*model).openLog},
		{"r", "rules", "what becomes of windows that open, and why", (*model).openRules},
		{"e", "settings", "what can be chosen, and the chords of the display", (*model).openSettings},
	}
}

func (m *model) startScreens() tea.Cmd {
	m.mode = modeScreens
	return nil
}

// screensKey follows the letter of another screen.
func (m *model) screensKey(name string) tea.Cmd {
	m.mode = modeMap
	if name == "esc" {
		m.say("Stayed on the map.", false)
		return nil
	}
	var names []string
	for _, s := range screens() {
		if s.key == name {
			return s.open(m)
		}
		names = append(names, s.key+" is the "+s.name)
	}
	m.say(fmt.Sprintf("No screen goes by %s: %s.", name, strings.Join(names, ", ")), false)
	return nil
}
