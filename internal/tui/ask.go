package tui

import (
	"fmt"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

// askPrompt asks before something is done.
type askPrompt struct {
	over
	question desk.Question
	yes      func(m *model) tea.Cmd
	command  desk.Command // that yes carries out; without a verb where it is something else
}

// ask asks before a command.
func (m *model) ask(c desk.Command, q desk.Question) tea.Cmd {
	return m.askFirst(&askPrompt{question: q, yes: func(m *model) tea.Cmd { return m.do(c) }, command: c})
}

func (m *model) askFirst(p *askPrompt) tea.Cmd {
	m.push(p)
	q := p.question
	m.say(fmt.Sprintf("%s Enter %s, Escape %s.", q.Text, q.Does, q.Leaves), true)
	return nil
}

func (p *askPrompt) key(m *model, _ tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "enter":
		m.pop()
		return p.yes(m)
	case "esc", "q", "n":
		return m.leave()
	}
	return nil
}

func (p *askPrompt) pending(*model) (desk.Command, bool) { return p.command, p.command.Verb != "" }

func (p *askPrompt) hints(m *model) legend {
	l := legend{first: []hint{{"Enter", p.question.Does}, {"Escape", p.question.Leaves}}}
	if v, ok := desk.FindVerb(p.command.Verb); ok && v.Windows {
		l.lead = m.subjectWords() + ":"
	}
	return l
}

// askCloseApp asks before all windows of the chosen one's app are closed.
func (m *model) askCloseApp() tea.Cmd {
	w := m.d.Window(m.sel.Window)
	if w == nil || w.App == "" {
		m.say("Choose a window first: X closes all of its app.", true)
		return nil
	}
	return m.ask(desk.Command{Verb: "close", Of: ofApp(w.App)}, desk.Question{Text: fmt.Sprintf("Close %s?", m.appWords(w.App)), Does: "asks to close them", Leaves: "leaves them open"})
}
