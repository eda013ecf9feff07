package tui

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// binding is a key of the map that is no verb's: verbs have theirs in the one
// table of verbs.
type binding struct {
	keys    []string
	shown   string // as the page of keys writes it
	help    string // a phrase; empty where it stands for a command, which says what it does
	also    string // other words that people use for it
	line    string // the command it stands for; else
	run     func(m *model) tea.Cmd
	purpose desk.Purpose
}

func directions() map[string]desk.Dir {
	return map[string]desk.Dir{
		"left": desk.Left, "h": desk.Left, "right": desk.Right, "l": desk.Right,
		"up": desk.Up, "k": desk.Up, "down": desk.Down, "j": desk.Down,
	}
}

// does is what it does, in a phrase.
func (b binding) does() string { return cmp.Or(b.help, prompt.Phrase(b.line)) }

// bindings is the table of the map's own keys.
func bindings() []binding {
	return []binding{
		{[]string{"enter"}, "Enter", "go to what is chosen", "select switch", "", (*model).enter, desk.GoingAbout},
		{[]string{"b"}, "b", "", "last previous", "go back", nil, desk.GoingAbout},
		{[]string{"B"}, "B", "", "", "focus back", nil, desk.GoingAbout},
		{[]string{","}, ",", "", "", "go prev", nil, desk.GoingAbout},
		{[]string{"."}, ".", "", "", "go next", nil, desk.GoingAbout},
		{[]string{"<"}, "<", "", "", "send prev", nil, desk.Sending},
		{[]string{">"}, ">", "", "", "send next", nil, desk.Sending},
		{[]string{"tab"}, "Tab", "choose the next window of the sheet", "", "", func(m *model) tea.Cmd { return m.step(1) }, desk.GoingAbout},
		{[]string{"shift+tab"}, "Shift+Tab", "choose the previous window of the sheet", "", "", func(m *model) tea.Cmd { return m.step(-1) }, desk.GoingAbout},
		{[]string{")"}, ")", "", "", "focus app next", nil, desk.GoingAbout},
		{[]string{"("}, "(", "", "", "focus app prev", nil, desk.GoingAbout},
		{[]string{"home"}, "Home", "choose the focused window", "", "", func(m *model) tea.Cmd { m.sel = m.here(); return nil }, desk.GoingAbout},
		{[]string{"K", "shift+up"}, "K, Shift+Up", "move the workspace or the window up", "reorder order sort", "", func(m *model) tea.Cmd { return m.shift(desk.Up) }, desk.OfWorkspaces},
		{[]string{"J", "shift+down"}, "J, Shift+Down", "move the workspace or the window down", "reorder order sort", "", func(m *model) tea.Cmd { return m.shift(desk.Down) }, desk.OfWorkspaces},
		{[]string{"H", "shift+left"}, "H, Shift+Left", "move the chosen window left", "", "", func(m *model) tea.Cmd { return m.shift(desk.Left) }, desk.Arranging},
		{[]string{"L", "shift+right"}, "L, Shift+Right", "move the chosen window right", "", "", func(m *model) tea.Cmd { return m.shift(desk.Right) }, desk.Arranging},
		{[]string{"+"}, "+", "", "wider bigger grow", "share +5", nil, desk.Arranging},
		{[]string{"-"}, "-", "", "narrower smaller shrink", "share -5", nil, desk.Arranging},
		{[]string{"/"}, "/", "find any window: the gazetteer", "search filter list", "", func(m *model) tea.Cmd { return m.openGazetteer(true) }, desk.Finding},
		{[]string{"'"}, "'", "recent windows, the one before first", "history alt tab switcher last", "", (*model).openSwitcher, desk.Finding},
		{[]string{"!"}, "!", "what is lost: the strays", "lost offscreen hidden missing", "", (*model).openStrays, desk.LostAndFound},
		{[]string{"Z"}, "Z", "widen the choice to the group around it; Escape narrows", "bigger select parent", "", (*model).widen, desk.Arranging},
		{[]string{"z"}, "z", "look closer: the sheet at large, and back", "zoom closer bigger magnify", "", (*model).toggleSheet, desk.OfScreens},
		{[]string{"I"}, "I", "", "", "focus urgent", nil, desk.GoingAbout},
		{[]string{"O"}, "O", "open another copy of an app", "copy duplicate second new", "", func(m *model) tea.Cmd { return m.startOpen(true) }, desk.Finding},
		{[]string{"X"}, "X", "close all windows of this app, after asking", "delete quit all", "", (*model).askCloseApp, desk.Closing},
		{[]string{"ctrl+t"}, "Ctrl+T", "beside another manager: take the chords that are free, or give them back", "shortcuts hotkeys", "", (*model).takeChords, desk.OfScreens},
		{[]string{"@"}, "@", "in the demo: plug a monitor in, or pull it", "unplug connect screen", "", (*model).startPlug, desk.OfMonitors},
		{[]string{"%"}, "%", "pictures of the windows on or off", "image picture thumbnail preview", "", (*model).togglePictures, desk.OfScreens},
		{[]string{"^"}, "^", "never picture this app, or picture it again", "private hide secret", "", (*model).togglePrivate, desk.OfScreens},
		{[]string{";"}, ";", "other screens", "menu pages", "", (*model).startScreens, desk.OfScreens},
		{[]string{"&"}, "&", "draw what is shown as SVG or PDF", "export save print picture screenshot pdf svg image", "", (*model).startDraw, desk.OfScreens},
		{[]string{":"}, ":", "a command in words; draw too", "", "", func(m *model) tea.Cmd { return m.openLine("") }, desk.OfScreens},
		{[]string{"?"}, "?", "this page", "help manual shortcuts", "", (*model).openKeys, desk.OfScreens},
		{[]string{"esc"}, "Escape", "one step back", "cancel leave exit", "", (*model).escape, desk.OfScreens},
		{[]string{"q"}, "q", "quit; every window stays", "exit leave close", "", (*model).quit, desk.OfScreens},
	}
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

// runCommand carries out a command on what is chosen, after asking where its verb
// asks.
func (m *model) runCommand(c desk.Command) tea.Cmd {
	c = m.about(c)
	v, _ := desk.FindVerb(c.Verb)
	if m.windowless(c) {
		m.wantsWindow(c.Verb)
		return nil
	}
	m.usedLately(c.Verb)
	ends := v.Effect == desk.EndKeeper || v.Effect == desk.RestartKeeper
	if v.Sure != nil && !(ends && m.opt.Simulated) { // which has no keeper to end
		if q, asks := v.Sure(m.d, c); asks {
			return m.ask(c, q)
		}
	}
	return m.do(c)
}

// wantsWindow says that a verb acts on windows, where none is chosen.
func (m *model) wantsWindow(verb string) {
	words := fmt.Sprintf("Choose a window first: %s acts on windows.", verb)
	if m.d.Focus != 0 {
		words += " Home takes the focused one."
	}
	m.say(words, true)
}

// windowless tells whether a command acts on windows, and there is none for it: what is
// pencilled is what is done.
func (m *model) windowless(c desk.Command) bool {
	v, ok := desk.FindVerb(c.Verb)
	here := v.Sheet && m.workspaceAt() == m.d.Current() // it acts on the sheet
	return ok && v.Windows && v.Without == nil && c.Of == nil && !m.sendsFocused(v) && !here
}

// key follows a key.
func (m *model) key(k tea.KeyPressMsg) tea.Cmd {
	name := k.String()
	if name == "ctrl+c" {
		if m.ctrlC {
			return m.quit()
		}
		if _, records := m.top().(*recorder); m.d != nil && m.asking() && !records { // a question is cancelled as by Escape
			return m.key(tea.KeyPressMsg{Code: tea.KeyEscape})
		}
		m.ctrlC = true
		m.say("q quits, and every window stays. Ctrl+C once more quits too.", false)
		return nil
	}
	m.ctrlC = false
	if m.d == nil || m.w < smallestW || m.h < smallestH {
		if name == "q" {
			return m.quit()
		}
		return nil
	}
	if m.held.ignores(m, k) {
		return nil
	}
	m.touched = map[int]bool{}
	m.grip = 0 // a key ends a drag
	cmd := m.top().key(m, k, name)
	m.done(name)
	return cmd
}

// named is a key as people read it: the letter it types, else as chords are written.
func named(k tea.KeyPressMsg) string {
	if k.Text != "" && k.Text != " " {
		return k.Text
	}
	if c, _ := chordOf(k.Keystroke()); c.Key != "" { // a chord needs a modifier, a key none
		return strings.Replace(c.String(), "Return", "Enter", 1)
	}
	return k.Keystroke()
}

// leaving are the keys that lead from a page over the map to somewhere else, as
// they do from the map.
var leaving = []string{"/", "'", "!", ":", ";", "?", "1", "2", "3", "4", "5", "6", "7", "8", "9", ",", ".", "b", "g", "o", "v", "P"}

// pageKey follows a key that a page over the map has no use for itself. What
// undoes stays on the page, what leads elsewhere leaves it.
func (m *model) pageKey(k tea.KeyPressMsg, name string) tea.Cmd {
	leaves := slices.Contains(leaving, k.Text)
	if leaves {
		m.home()
	}
	if leaves || k.Text == "u" || k.Text == "U" || k.Text == "&" {
		return m.common(k, name)
	}
	m.say(fmt.Sprintf("%s does nothing here. Escape goes back to the map.", named(k)), false)
	return nil
}

// common follows a key that means the same on every screen.
func (m *model) common(k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	if line, b, v := meaning(k, name); line != "" {
		return m.run(line)
	} else if b != nil {
		return b.run(m)
	} else if v != nil {
		return m.verbKey(*v)
	}
	m.say(fmt.Sprintf("%s does nothing here. ? shows all keys.", named(k)), false)
	return nil
}

// meaning is what a key means on every screen: a command, else something of the
// screens, else a verb; none of them where it means nothing.
func meaning(k tea.KeyPressMsg, name string) (line string, b *binding, v *desk.Verb) {
	if text := k.Text; len(text) == 1 && text[0] >= '1' && text[0] <= '9' {
		return "go " + text, nil, nil
	}
	for _, b := range bindings() {
		if slices.Contains(b.keys, name) {
			if b.line != "" {
				return b.line, nil, nil
			}
			return "", &b, nil
		}
	}
	for _, v := range desk.Verbs() {
		if v.Key != "" && v.Key == k.Text {
			return "", nil, &v
		}
	}
	return "", nil, nil
}

// verbKey starts a verb: at once, or after what its key asks for.
func (m *model) verbKey(v desk.Verb) tea.Cmd {
	if m.sendsFocused(v) {
		m.sel = m.here()
	}
	if v.Windows && !v.Sheet && m.subject() == nil && !v.Rescues {
		m.wantsWindow(v.Name)
		return nil
	}
	if ask, ok := prompts[v.Asks]; ok {
		return ask(m, v)
	}
	if w := m.d.Window(m.sel.Window); v.Instead != nil && w != nil && len(m.chosen()) == 1 {
		return m.run(v.Instead(w))
	}
	return m.run(v.Name)
}

// repeats tells whether a command in words is done again while its key is held.
func repeats(line string) bool {
	c, err := lang.ParseCommand(line)
	return err == nil && c.Repeats()
}
