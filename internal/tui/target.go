package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/lang"
)

// placePrompt asks for the place that a verb goes to: a workspace, a sheet, a
// monitor.
type placePrompt struct {
	over
	verb   string
	target *desk.Arg // chosen by arrows or the pointer, or a monitor waiting for its digit
	app    string    // whose windows it is about, empty for those chosen
}

func (p *placePrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	word := func(w string) arg { return arg{Kind: desk.Keyword, Word: w} }
	if dir, ok := directions()[name]; ok {
		p.aim(m, dir)
		return nil
	}
	switch {
	case name == "esc":
		return m.leave()
	case name == "enter" && p.target != nil:
		return p.hit(m, *p.target)
	case name == "enter" && p.verb == "rescue":
		m.pop()
		return m.rescueThis()
	case name == "enter":
		if a, ok := m.last[p.verb]; ok {
			return p.hit(m, a)
		}
		m.say(fmt.Sprintf("No target yet: a digit is a workspace, %s a monitor.", m.monitors()), true)
		return nil
	case k.Text == "a" && p.verb == "rescue":
		m.pop()
		return m.do(desk.Command{Verb: "rescue", Of: desk.Is{State: desk.IsStray}})
	case k.Text == "*" && sends(p.verb):
		if w := m.d.Window(m.sel.window); w == nil || w.App == "" || m.marked() {
			m.say("No one app is chosen to send all of.", true)
			return nil
		}
		p.app = map[bool]string{true: m.d.Window(m.sel.window).App}[p.app == ""]
		m.say("", false)
		return nil
	case k.Text == "n" && p.verb != "rescue":
		return p.hit(m, word("new"))
	case k.Text == "b" && p.verb != "rescue":
		return p.hit(m, word("back"))
	case k.Text == "." && p.verb != "rescue":
		return p.hit(m, word("next"))
	case k.Text == "," && p.verb != "rescue":
		return p.hit(m, word("prev"))
	case k.Text == "/" || k.Text == "\"":
		return m.openLine(p.verb + " ")
	case len(k.Text) == 1 && k.Text[0] >= '1' && k.Text[0] <= '9':
		n := int(k.Text[0] - '0')
		if p.target != nil && p.target.Kind == desk.Letter {
			return p.hit(m, arg{Kind: desk.Ref, Letter: p.target.Letter, N: n})
		}
		return p.hit(m, arg{Kind: desk.Number, N: n})
	case len(k.Text) == 1 && k.Text[0] >= 'A' && k.Text[0] <= 'Z':
		l := k.Text[0]
		if !m.d.Connected(l) {
			m.say(fmt.Sprintf("No monitor %c is plugged in: %s.", l, m.monitors()), true)
			return nil
		}
		p.target = &arg{Kind: desk.Letter, Letter: l}
		return nil
	}
	m.say(fmt.Sprintf("%s is no target. Escape cancels.", named(k)), true)
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
func (p *placePrompt) hit(m *model, a arg) tea.Cmd {
	c := p.command(m, a)
	m.pop()
	m.last[p.verb] = a
	if p.app == "" {
		return m.do(c)
	}
	verb := map[string]string{"send": "Send", "carry": "Carry"}[c.Verb]
	return m.ask(c, desk.Question{Text: fmt.Sprintf("%s %s to %s?", verb, m.appWords(p.app), m.placeWords(a)), Does: "does it", Leaves: "leaves them"})
}

func (p *placePrompt) pending(m *model) (desk.Command, bool) {
	if p.target == nil {
		return desk.Command{}, false
	}
	return p.command(m, *p.target), true
}

// pointer aims at the place under a click.
func (p *placePrompt) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	switch e := msg.Mouse(); msg.(type) {
	case tea.MouseClickMsg:
		if a, ok := m.placeUnder(e.X, e.Y); ok && e.Button == tea.MouseLeft {
			p.target = &a
		}
	case tea.MouseMotionMsg, tea.MouseReleaseMsg:
		return m.dragged(msg)
	}
	return nil
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
		return fmt.Sprintf("workspace %d", a.N)
	case desk.Letter:
		return fmt.Sprintf("monitor %c", a.Letter)
	case desk.Ref:
		return desk.SheetRef(a.N-1, a.Letter)
	}
	return map[string]string{"new": "a new workspace", "next": "the next workspace", "prev": "the one before it", "back": "the workspace before this"}[a.Word]
}

// aim moves the pencilled target to the neighbouring sheet.
func (p *placePrompt) aim(m *model, dir desk.Dir) {
	i, letter := m.workspaceAt(), m.monitorAt()
	if p.target != nil {
		switch p.target.Kind {
		case desk.Ref:
			i, letter = p.target.N-1, p.target.Letter
		case desk.Number:
			i = p.target.N - 1
		case desk.Letter:
			letter = p.target.Letter
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
		connected := draw.PlaneOrder(m.d)
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
			p.target = &arg{Kind: desk.Letter, Letter: letter}
			return
		}
		letter = m.d.HomeOf(i)
	}
	p.target = &arg{Kind: desk.Ref, Letter: letter, N: i + 1}
}

// command is the verb with its target.
func (p *placePrompt) command(m *model, a arg) desk.Command {
	c := desk.Command{Verb: p.verb, Args: []arg{a}}
	if p.verb == "rescue" {
		c.Args = []arg{{Kind: desk.Keyword, Word: "to"}, a}
	}
	if p.app != "" {
		c.Of = ofApp(p.app)
	}
	return m.about(c)
}

// words are the verb with what it acts on.
func (p *placePrompt) words(m *model) string {
	if p.verb == "go" {
		if p.target != nil && p.target.Kind == desk.Letter {
			return fmt.Sprintf("go to monitor %c:", p.target.Letter)
		}
		return "go to"
	}
	if m.sel.window == 0 {
		return p.verb
	}
	words := p.verb + " " + m.subjectWords()
	if p.app != "" {
		words = p.verb + " " + m.appWords(p.app)
	}
	if p.target != nil && p.target.Kind == desk.Letter {
		return words + fmt.Sprintf(" to monitor %c:", p.target.Letter)
	}
	return words + " to"
}

// asLast says where Enter leads, which is where the verb led last, or, of go, where
// windows were sent; nothing where there is no such place.
func (p *placePrompt) asLast(m *model) []hint {
	to, ok := m.last[p.verb]
	if !ok || p.target != nil {
		return nil
	}
	words := strings.TrimPrefix(lang.Print(desk.Command{Verb: p.verb, Args: []arg{to}}), p.verb+" ")
	return []hint{{"Enter", words + " as last time"}}
}

// hints say what each key would lead to: the workspaces, and the rest.
func (p *placePrompt) hints(m *model) legend {
	var places, others []hint
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
	if p.target != nil && p.target.Kind == desk.Letter {
		others = []hint{{"Enter", "there as it is"}}
	} else if p.target != nil {
		others = []hint{{"Enter", "there"}}
	}
	switch p.verb {
	case "rescue":
		if lost := len(m.lost()); lost > 0 {
			others = append(others, hint{"a", fmt.Sprintf("all %d that are lost", lost)})
		}
		others = append(others, hint{"Enter", "this one, the shortest way"}, hint{m.monitors(), "a monitor"})
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
		others = append(others, p.asLast(m)...)
		others = append(others, hint{"n", "new"}, hint{"b", back}, hint{m.monitors(), "monitor"}, hint{"/", "by name"})
	default:
		others = append(others, hint{m.monitors(), "monitor"}, hint{"arrows", "aim"}, hint{"n", "new"}, hint{"b", "back"}, hint{"/", "by name"})
		others = append(others, p.asLast(m)...)
		if w := m.d.Window(m.sel.window); w != nil && p.app == "" && !m.marked() {
			others = append(others, hint{"*", "all of its app"})
		}
	}
	if m.parts().rows < 2 && len(places) > 1 && joinNonEmpty("", m.message, m.previewWords()) != "" { // there is less room
		places = []hint{{fmt.Sprintf("1-%d", len(places)), "workspace"}}
	}
	if p.target != nil && p.target.Kind == desk.Letter {
		places = []hint{{fmt.Sprintf("1-%d", min(9, len(m.d.Workspaces))), "a workspace there"}}
	}
	return legend{lead: p.words(m), first: places, second: append(others, hint{"Escape", "cancel"}), flows: true}
}
