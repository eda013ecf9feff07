package tui

import (
	"fmt"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

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
