package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// prompts are what asks for what the keys of verbs ask for. A verb that asks for
// nothing has none.
var prompts = map[desk.Ask]func(m *model, v desk.Verb) tea.Cmd{
	desk.AskPlace:     func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&placePrompt{verb: v.Name}) },
	desk.AskMonitor:   (*model).choose,
	desk.AskLayout:    (*model).choose,
	desk.AskDirection: (*model).choose,
	desk.AskSplit:     (*model).choose,
	desk.AskPart:      func(m *model, v desk.Verb) tea.Cmd { return m.prompt(&partPrompt{verb: v.Name}) },
	desk.AskSteps:     func(m *model, v desk.Verb) tea.Cmd { return m.startHand(v.Name) },
	desk.AskLetter:    (*model).choose,
	desk.AskName:      func(m *model, v desk.Verb) tea.Cmd { return m.startName(v.Name) },
	desk.AskApp:       func(m *model, _ desk.Verb) tea.Cmd { return m.startOpen(false) },
	desk.AskPlate:     (*model).startPlates,
	desk.AskThat: func(m *model, v desk.Verb) tea.Cmd {
		return m.runCommand(desk.Command{Verb: v.Name, Args: []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}})
	},
}

// prompt asks for something.
func (m *model) prompt(r room) tea.Cmd {
	m.push(r)
	return nil
}

// escapes is the hint of every prompt.
var escapes = hint{"Escape", "cancels"}

// choosePrompt asks what a verb asks for by the keys that the display asks it by too.
type choosePrompt struct {
	over
	prompt.Prompt
	verb desk.Verb
}

// choose asks what a verb asks for.
func (m *model) choose(v desk.Verb) tea.Cmd {
	p, ok := prompt.For(m.askedAbout(v))
	if !ok {
		m.say(fmt.Sprintf("Nothing can follow %s here.", v.Name), true)
		return nil
	}
	if err := p.Refused(); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return m.prompt(&choosePrompt{Prompt: p, verb: v})
}

// askedAbout is what the question of a verb is about: what is chosen.
func (m *model) askedAbout(v desk.Verb) prompt.About {
	a := prompt.About{Desk: m.d, Verb: v, Workspace: m.workspaceAt(), Letter: m.layoutLetter(), Means: m.about}
	if w := m.d.Window(m.sel.Window); w != nil {
		a.App = w.App
	}
	if v.Windows {
		a.Words = m.subjectWords()
	}
	return a
}

// choiceNames are the names of a key of the terminal as prompts have them: what is typed,
// else the arrow that a letter stands for.
func choiceNames(k tea.KeyPressMsg, name string) (names []string) {
	if k.Text != "" && k.Text != " " {
		names = append(names, k.Text)
	}
	if dir, ok := directions()[name]; ok {
		names = append(names, [...]string{desk.Left: "Left", desk.Right: "Right", desk.Up: "Up", desk.Down: "Down"}[dir])
	}
	if other, ok := map[string]string{"enter": "Return", "tab": "Tab", "space": "Space"}[name]; ok {
		names = append(names, other)
	}
	return names
}

func (p *choosePrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	if name == "esc" {
		return m.leave()
	}
	c, ok := p.Find(choiceNames(k, name)...)
	switch {
	case !ok:
		m.say(fmt.Sprintf("%s is no answer. Escape cancels.", named(k)), true)
		return nil
	case c.Next != nil:
		m.say("", false)
		return m.prompt(&choosePrompt{Prompt: c.Next(), verb: p.verb})
	case c.Text != "":
		m.pop()
		return m.openLine(c.Text)
	}
	if p.verb.Sheet && m.subject() == nil && p.verb.Name == "layout" {
		if i, letter := m.workspaceAt(), m.monitorAt(); i != m.d.Current() || letter != 0 && letter != m.d.At {
			m.pop()
			m.say("Nothing lies on that sheet yet. Go there first, or choose a window.", true)
			return nil
		}
	}
	return m.answer(c.Line)
}

// pending is the command that Enter stands for; ok is false where it stands for none.
func (p *choosePrompt) pending(m *model) (desk.Command, bool) {
	choice, ok := p.Find("Return")
	if !ok || choice.Line == "" {
		return desk.Command{}, false
	}
	c, err := lang.ParseCommand(choice.Line)
	return m.about(c), err == nil
}

func (p *choosePrompt) hints(*model) legend {
	var hs []hint
	for _, r := range p.Rows() {
		hs = append(hs, hint{r.Keys, r.Does})
	}
	if len(hs) == 0 {
		hs = append(hs, hint{"", p.Empty})
	}
	return legend{lead: p.Lead, flows: true, first: append(hs, escapes)}
}

// layoutLetter is the monitor of the sheet that t is about.
func (m *model) layoutLetter() byte {
	if l := m.monitorAt(); l != 0 {
		return l
	}
	return m.sheetOf(m.workspaceAt())
}

// answer leaves a prompt and carries out the command it asked for.
func (m *model) answer(line string) tea.Cmd {
	m.pop()
	return m.run(line)
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
	for _, s := range afterSemicolon(m.list) {
		if s.After == name {
			return s.open(m, "")
		}
		names = append(names, s.After+" is "+s.Name)
	}
	m.say(fmt.Sprintf("No screen goes by %s: %s.", name, strings.Join(names, ", ")), false)
	return nil
}

func (*screensPrompt) hints(m *model) legend {
	var hs []hint
	for _, s := range afterSemicolon(m.list) {
		hs = append(hs, hint{s.After, s.Name})
	}
	return legend{lead: "other screens", first: append(hs, hint{"Escape", "stays here"})}
}
