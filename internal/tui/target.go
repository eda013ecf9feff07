package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

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
	case k.Text == "*" && sends(m.verb):
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

// sends tells whether a verb takes windows to a place: it can take all of an app.
func sends(verb string) bool { return verb == "send" || verb == "carry" }

// sendsFocused tells whether a verb that sends acts on the focused window, as no
// other is chosen.
func (m *model) sendsFocused(v desk.Verb) bool {
	return sends(v.Name) && m.subject() == nil && m.d.Focus != 0
}

// ofApp is the query for all windows of an app.
func ofApp(app string) desk.Query { return desk.ByApp{Text: app, Whole: true} }

// appWords names all windows of an app.
func (m *model) appWords(app string) string {
	if n := len(m.d.Select(ofApp(app))); n != 1 {
		return fmt.Sprintf("all %d windows of %s", n, app)
	}
	return "the one window of " + app
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

// targetCommand is the verb of modeTarget with its target.
func (m *model) targetCommand(a arg) desk.Command {
	c := desk.Command{Verb: m.verb, Args: []arg{a}}
	if m.verb == "home" {
		c.Args = []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}, a}
	}
	if m.verb == "rescue" {
		c.Args = []arg{{Kind: desk.Keyword, Word: "to"}, a}
	}
	if m.app != "" {
		c.Of = ofApp(m.app)
	}
	return m.about(c)
}

// verbWords is the verb of modeTarget with what it acts on.
func (m *model) verbWords() string {
	if m.verb == "go" {
		if m.target != nil && m.target.Kind == desk.Letter {
			return fmt.Sprintf("go to monitor %c, or on it to", m.target.Letter)
		}
		return "go to"
	}
	if m.sel.window == 0 {
		return m.verb
	}
	words := m.verb + " " + m.subjectWords()
	if m.app != "" {
		words = m.verb + " " + m.appWords(m.app)
	}
	if m.target != nil && m.target.Kind == desk.Letter {
		words += fmt.Sprintf(" to monitor %c", m.target.Letter)
	}
	return words + " to"
}

// targetHints say what each key would lead to: the workspaces, and the rest.
func (m *model) targetHints() (places, others []hint) {
	long := m.w >= 130
	for i := range m.d.Workspaces[:min(9, len(m.d.Workspaces))] {
		name := fit(m.d.Workspaces[i].Name, 14)
		if long {
			name = joinNonEmpty(" ", name, fmt.Sprintf("(%d)", m.d.Count(i)))
		} else {
			name = fit(name, 10)
		}
		places = append(places, hint{fmt.Sprint(i + 1), name})
	}
	if m.target != nil {
		others = []hint{{"Enter", "there"}}
	}
	switch m.verb {
	case "home":
		return nil, []hint{{m.monitors(), "the home monitor of " + m.d.Title(m.workspaceAt())}, {"Escape", "leaves it"}}
	case "vacate":
		if m.target != nil {
			return nil, []hint{{strings.Join(m.others(m.target.Letter), " or "), "takes them"}, {"Enter", "the usual one does"}, {"Escape", "leaves it"}}
		}
		return nil, []hint{{m.monitors(), "the monitor whose windows go to another"}, {"Escape", "leaves it"}}
	case "rescue":
		lost := len(m.lost())
		others = append(others, hint{"a", fmt.Sprintf("all %d that are lost", lost)}, hint{"Enter", "this one, the shortest way"}, hint{m.monitors(), "a monitor"})
	case "go":
		back := "back"
		if len(m.d.Recent) > 1 {
			back = "back to " + fit(m.d.Title(m.d.Index(m.d.Recent[1])), 16)
			for i, id := range m.d.Recent[2:min(4, len(m.d.Recent))] {
				if !long {
					break
				}
				back += []string{", before it ", ", "}[i] + fit(m.d.Title(m.d.Index(id)), 16)
			}
		}
		others = append(others, hint{"n", "new"}, hint{"b", back}, hint{m.monitors(), "monitor"}, hint{"/", "by name"})
	default:
		others = append(others, hint{m.monitors(), "monitor"}, hint{"arrows", "aim"}, hint{"n", "new"}, hint{"b", "back"}, hint{"/", "by name"}, hint{"Enter", "as last time"})
		if w := m.d.Window(m.sel.window); w != nil && m.app == "" && !m.marked() {
			others = append(others, hint{"*", "all of its app"})
		}
	}
	return places, append(others, hint{"Escape", "leave it"})
}
