package tui

import (
	"fmt"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

// askPrompt asks before a command.
type askPrompt struct {
	over
	command  desk.Command
	question desk.Question
}

// ask asks before a command.
func (m *model) ask(c desk.Command, q desk.Question) tea.Cmd {
	m.push(&askPrompt{command: c, question: q})
	m.say(fmt.Sprintf("%s Enter %s, Escape %s.", q.Text, q.Does, q.Leaves), true)
	return nil
}

func (p *askPrompt) key(m *model, _ tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "enter":
		m.pop()
		return m.do(p.command)
	case "esc", "q", "n":
		return m.leave()
	}
	return nil
}

func (p *askPrompt) pending(*model) (desk.Command, bool) { return p.command, true }

func (p *askPrompt) hints(m *model) legend {
	return legend{lead: m.subjectWords() + ":", first: []hint{{"Enter", p.question.Does}, {"Escape", p.question.Leaves}}}
}

// askCloseApp asks before all windows of the chosen one's app are closed.
func (m *model) askCloseApp() tea.Cmd {
	w := m.d.Window(m.sel.window)
	if w == nil || w.App == "" {
		m.say("Choose a window first: X closes all of its app.", true)
		return nil
	}
	return m.ask(desk.Command{Verb: "close", Of: ofApp(w.App)}, desk.Question{Text: fmt.Sprintf("Close %s?", m.appWords(w.App)), Does: "asks to close them", Leaves: "leaves them open"})
}
