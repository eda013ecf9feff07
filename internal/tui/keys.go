package tui

import (
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
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
	case "end", "restart":
		if !m.opt.Simulated {
			return m.ask(c, map[string]string{"end": "End the keeper?", "restart": "Start the keeper again?"}[c.Verb]+" Every window stays.", "does it", "keeps it")
		}
	case "kill", "close":
		if ws := m.d.Select(c.Of); c.Verb == "kill" && len(ws) > 0 || len(ws) > 1 {
			return m.askEnd(c, ws)
		}
	}
	return m.do(c)
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
	leaves := slices.Contains(leaving, k.Text)
	if leaves {
		m.mode = modeMap
	}
	if leaves || k.Text == "u" || k.Text == "U" {
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

// startPlug asks which monitor to plug in or pull.
func (m *model) startPlug() tea.Cmd {
	if !m.opt.Simulated {
		m.say(keeper.Sentence(keeper.ErrRealMonitors), false)
		return nil
	}
	m.mode = modePlug
	m.say("Plug in or pull which monitor? Its letter.", false)
	return nil
}

func (m *model) plugKey(k tea.KeyPressMsg, name string) tea.Cmd {
	letter := strings.ToUpper(k.Text)
	if name != "esc" && (len(letter) != 1 || letter[0] < 'A' || letter[0] > 'Z') {
		return nil
	}
	m.mode = modeMap
	m.message = ""
	if name == "esc" {
		m.say("Left as it was.", false)
		return nil
	}
	verb := "plug "
	if mon := m.d.Monitor(letter[0]); mon != nil && (mon.Connected || mon.Mirrors != 0) {
		verb = "pull "
	}
	return m.run(verb + letter)
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
