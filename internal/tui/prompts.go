package tui

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// prompts are what asks for what the keys of verbs ask for. A verb that asks for
// nothing has none.
var prompts = map[desk.Ask]func(m *model, v desk.Verb) tea.Cmd{
	desk.AskPlace:   func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&placePrompt{verb: v.Name}) },
	desk.AskMonitor: func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&monitorPrompt{verb: v.Name}) },
	desk.AskLayout:  func(m *model, _ desk.Verb) tea.Cmd { return m.prompt(&layoutPrompt{}) },
	desk.AskDirection: func(m *model, v desk.Verb) tea.Cmd {
		return m.promptTiled(v, &directionPrompt{
			verb: v.Name, words: map[desk.Dir]string{desk.Left: "left", desk.Right: "right", desk.Up: "up", desk.Down: "down"}, steps: true,
			first: []hint{{"arrows", "with the tile that way"}, {"n p", "with the next, the previous"}},
		})
	},
	desk.AskSplit: func(m *model, v desk.Verb) tea.Cmd {
		return m.promptTiled(v, &directionPrompt{
			verb: v.Name, words: map[desk.Dir]string{desk.Left: "across", desk.Right: "across", desk.Up: "down", desk.Down: "down"},
			first: []hint{{"Left Right", "the next window opens beside it"}, {"Up Down", "below it"}},
		})
	},
	desk.AskPart:   func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&partPrompt{verb: v.Name}) },
	desk.AskSteps:  func(m *model, v desk.Verb) tea.Cmd { return m.startHand(v.Name) },
	desk.AskLetter: func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&letterPrompt{verb: v.Name}) },
	desk.AskName:   func(m *model, v desk.Verb) tea.Cmd { return m.startName(v.Name) },
	desk.AskApp:    func(m *model, _ desk.Verb) tea.Cmd { return m.startOpen(false) },
	desk.AskThat: func(m *model, v desk.Verb) tea.Cmd {
		return m.runCommand(desk.Command{Verb: v.Name, Args: []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}})
	},
}

// prompt asks for something.
func (m *model) prompt(r room) tea.Cmd {
	m.push(r)
	return nil
}

// promptTiled asks for something that is about a tile.
func (m *model) promptTiled(v desk.Verb, r room) tea.Cmd {
	if w := m.d.Window(m.sel.window); w != nil && !m.d.Tiled(w) {
		m.say(fmt.Sprintf("%s is not tiled: %s acts on tiles.", w.Label(), v.Name), true)
		return nil
	}
	return m.prompt(r)
}

// escapes is the hint of every prompt.
var escapes = hint{"Escape", "cancels"}

// layoutPrompt asks for the letter of a layout.
type layoutPrompt struct{ over }

// layoutKeys are the letters of layouts.
func layoutKeys() map[string]string {
	return map[string]string{"c": "columns", "r": "rows", "l": "lead", "p": "pile", "b": "tabs", "t": "tree", "f": "free", "n": "next"}
}

func (*layoutPrompt) key(m *model, _ tea.KeyPressMsg, name string) tea.Cmd {
	if name == "esc" {
		return m.leave()
	}
	word, ok := layoutKeys()[name]
	args := []arg{{Kind: desk.Keyword, Word: word}}
	n, err := strconv.Atoi(name)
	if name == "l" { // one leads, whatever was before
		n, err = 1, nil
	}
	if err == nil && n >= 1 && n <= desk.MaxLeads {
		ok = true
		args = []arg{{Kind: desk.Keyword, Word: layout.Lead.String()}, {Kind: desk.Number, N: n}}
	}
	if !ok {
		m.say(fmt.Sprintf("%s is no layout. Escape cancels.", name), true)
		return nil
	}
	m.pop()
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

func (*layoutPrompt) hints(m *model) legend {
	return legend{
		lead: "lay out sheet " + desk.SheetRef(m.workspaceAt(), m.layoutLetter()) + " as", flows: true,
		first: []hint{{"c", "columns"}, {"r", "rows"}, {"l", "lead"}, {"1-9", "so many leading"}, {"p", "pile"}, {"b", "tabs"}, {"t", "tree"}, {"f", "free"}, {"n", "the next"}, escapes},
	}
}

// layoutLetter is the monitor of the sheet that t is about.
func (m *model) layoutLetter() byte {
	if l := m.monitorAt(); l != 0 {
		return l
	}
	return m.sheetOf(m.workspaceAt())
}

// directionPrompt asks for a direction, in the words that the verb has for it.
type directionPrompt struct {
	over
	verb  string
	words map[desk.Dir]string
	steps bool // next and previous are answers too
	first []hint
}

func (p *directionPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	dir, isDir := directions()[name]
	step, isStep := map[string]string{"n": "next", "p": "prev"}[k.Text]
	switch {
	case name == "esc":
		return m.leave()
	case isDir:
		return m.answer(p.verb + " " + p.words[dir])
	case isStep && p.steps:
		return m.answer(p.verb + " " + step)
	}
	m.say(fmt.Sprintf("%s is no direction. Escape cancels.", k.Keystroke()), true)
	return nil
}

func (p *directionPrompt) hints(m *model) legend {
	return legend{lead: p.verb + " " + m.subjectWords(), flows: true, first: append(slices.Clip(p.first), escapes)}
}

// answer leaves a prompt and carries out the command it asked for.
func (m *model) answer(line string) tea.Cmd {
	m.pop()
	return m.run(line)
}

// letterPrompt asks for a letter a to z. A capital pins the one window.
type letterPrompt struct {
	over
	verb string
}

func (p *letterPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	if name == "esc" {
		return m.leave()
	}
	text := k.Text
	if p.verb == "pin" && len(text) == 1 && text[0] >= 'A' && text[0] <= 'Z' {
		return m.answer("pin " + strings.ToLower(text) + " window")
	}
	if len(text) != 1 || text[0] < 'a' || text[0] > 'z' {
		m.pop()
		m.say(fmt.Sprintf("%s is no letter a to z.", k.Keystroke()), true)
		return nil
	}
	return m.answer(p.verb + " " + text)
}

func (p *letterPrompt) hints(m *model) legend {
	if p.verb == "pin" {
		return legend{lead: p.verb + " " + m.subjectWords(), first: []hint{{"a-z", "jumps to its app"}, {"A-Z", "jumps to this one window"}, escapes}}
	}
	var hs []hint
	for l := byte('a'); l <= 'z'; l++ {
		if ws := m.d.Pinned(l); len(ws) > 0 {
			hs = append(hs, hint{string(rune(l)), ws[0].App})
		} else if q := m.d.Settings.Pins[l]; q != nil {
			hs = append(hs, hint{string(rune(l)), lang.PrintQuery(q)})
		}
	}
	if len(hs) == 0 {
		hs = append(hs, hint{"no letter was given yet:", "V gives one"})
	}
	return legend{lead: p.verb + " to", first: append(hs, escapes)}
}

// plugPrompt asks which monitor to plug in or pull.
type plugPrompt struct{ over }

func (m *model) startPlug() tea.Cmd {
	if !m.opt.Simulated {
		m.say(keeper.Sentence(keeper.ErrRealMonitors), false)
		return nil
	}
	m.say("Plug in or pull which monitor? Its letter.", false)
	return m.prompt(&plugPrompt{})
}

func (*plugPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	letter := strings.ToUpper(k.Text)
	switch {
	case name == "esc":
		return m.leave()
	case len(letter) != 1 || letter[0] < 'A' || letter[0] > 'Z':
		return nil
	}
	m.message = ""
	verb := "plug "
	if mon := m.d.Monitor(letter[0]); mon != nil && (mon.Connected || mon.Mirrors != 0) {
		verb = "pull "
	}
	return m.answer(verb + letter)
}

func (*plugPrompt) hints(*model) legend {
	return legend{lead: "plug in or pull", first: []hint{{"A B C", "a monitor"}, escapes}}
}

// screensPrompt asks for the letter of another screen.
type screensPrompt struct{ over }

func (m *model) startScreens() tea.Cmd { return m.prompt(&screensPrompt{}) }

func (*screensPrompt) key(m *model, _ tea.KeyPressMsg, name string) tea.Cmd {
	m.pop()
	if name == "esc" {
		m.say("Stayed here.", false)
		return nil
	}
	var names []string
	for _, s := range m.list {
		if s.key == name {
			return s.open(m)
		}
		names = append(names, s.key+" is the "+s.name)
	}
	m.say(fmt.Sprintf("No screen goes by %s: %s.", name, strings.Join(names, ", ")), false)
	return nil
}

func (*screensPrompt) hints(m *model) legend {
	var hs []hint
	for _, s := range m.list {
		hs = append(hs, hint{s.key, s.name})
	}
	return legend{lead: "other screens", first: append(hs, hint{"Escape", "stays here"})}
}
