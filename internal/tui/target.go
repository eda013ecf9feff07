package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
	"zatlas/internal/tui/cells"
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
	c, known := p.table(m).Find(choiceNames(k, name)...)
	dir, aims := directions()[name]
	switch {
	case name == "esc":
		return m.leave()
	case name == "enter" && p.target != nil:
		return p.hit(m, *p.target)
	case aims && (!known || c.Shown == "arrows"):
		p.aim(m, dir)
	case !known && name == "enter":
		m.say(fmt.Sprintf("No target yet: a digit is a workspace, %s a monitor.", m.monitors()), true)
	case !known && k.Text == "*" && desk.VerbOf(p.verb).Sends:
		m.say("There is no other window of its app to send along.", true)
	case !known && len(k.Text) == 1 && k.Text[0] >= '1' && k.Text[0] <= '9': // of none the command says so
		return p.hit(m, arg{Kind: desk.Number, N: int(k.Text[0] - '0')})
	case !known && len(k.Text) == 1 && k.Text[0] >= 'A' && k.Text[0] <= 'Z':
		m.say(fmt.Sprintf("No monitor %s is plugged in: %s.", k.Text, m.monitors()), true)
	case !known:
		m.say(fmt.Sprintf("%q is not a workspace or monitor. Escape cancels.", named(k)), true)
	case c.Key == "*":
		p.app = map[bool]string{true: m.d.Window(m.sel.Window).App}[p.app == ""]
		m.say("", false)
	case c.Text != "":
		return m.openLine(c.Text)
	case c.Next != nil:
		p.target = &arg{Kind: desk.Letter, Letter: c.Key[0]}
	default:
		return p.choose(m, c.Line)
	}
	return nil
}

// table is what may follow the verb, as on the display.
func (p *placePrompt) table(m *model) prompt.Prompt {
	v, _ := desk.FindVerb(p.verb)
	a := m.askedAbout(v)
	if m.marked() {
		a.App = ""
	}
	if to, ok := m.last[p.verb]; ok {
		a.Last = lang.Print(desk.Command{Verb: p.verb, Args: []arg{to}})
	}
	t, _ := prompt.For(a)
	if p.target != nil && p.target.Kind == desk.Letter {
		if c, ok := t.Find(string(rune(p.target.Letter))); ok && c.Next != nil {
			return c.Next()
		}
	}
	return t
}

// choose carries out what a choice stands for.
func (p *placePrompt) choose(m *model, line string) tea.Cmd {
	c, err := lang.ParseCommand(line)
	switch {
	case err != nil:
		m.say(err.Error(), true)
		return nil
	case c.Of != nil:
		m.pop()
		return m.do(c)
	case len(c.Args) == 0:
		m.pop()
		return m.rescueThis()
	}
	return p.hit(m, c.Args[len(c.Args)-1])
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
		if m.windowless(c) {
			return m.runCommand(c) // which says so
		}
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

// sendsFocused tells whether a verb that sends acts on the focused window, as no
// other is chosen.
func (m *model) sendsFocused(v desk.Verb) bool {
	return v.Sends && m.subject() == nil && m.d.Focus != 0
}

// ofApp is the query for all windows of an app.
func ofApp(app string) desk.Query { return desk.ByApp{Text: app, Whole: true} }

// appWords names all windows of an app.
func (m *model) appWords(app string) string {
	if n := len(m.d.Select(ofApp(app))); n != 1 {
		return fmt.Sprintf("all %d windows of %s", n, app)
	}
	return "the one window of " + app // another was closed since
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
	if a.Kind == desk.Name && len(a.Word) == 1 {
		if i := m.d.PinnedWorkspace(a.Word[0]); i >= 0 {
			return m.d.Title(i)
		}
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
	if m.sel.Window == 0 {
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

// letters are those of workspaces.
func (p *placePrompt) letters(m *model) (hs []hint) {
	for _, c := range p.table(m).Choices {
		if i := m.d.PinnedWorkspace(c.Key[0]); len(c.Key) == 1 && i >= 0 && c.Line == p.verb+" "+c.Key {
			hs = append(hs, hint{c.Key, cells.Fit(m.d.Title(i), 16)})
		}
	}
	return hs
}

// hints say what each key would lead to: the workspaces, and the rest.
// backHint tells of the way back, where there is one; a long one of those before it, too.
func (m *model) backHint(long bool) []hint {
	if len(m.d.Recent) < 2 {
		return nil
	}
	name := func(id int) string { return cells.Fit(m.d.Title(m.d.Index(id)), 16) }
	words := "back to " + name(m.d.Recent[1])
	for i, id := range m.d.Recent[2:min(4, len(m.d.Recent))] {
		if long {
			words += []string{", before it ", ", "}[i] + name(id)
		}
	}
	return []hint{{"b", words}}
}

func (p *placePrompt) hints(m *model) legend {
	var places, others []hint
	long := m.w >= 130
	for i := range m.d.Workspaces[:min(9, len(m.d.Workspaces))] {
		name := cells.Fit(m.d.Workspaces[i].Name, 14)
		if long {
			name = cells.JoinNonEmpty(" ", name, fmt.Sprintf("(%d)", m.d.Count(i)))
		} else {
			name = cells.Fit(name, 10)
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
			others = append(others, hint{"a", map[bool]string{true: "the one that is lost", false: fmt.Sprintf("all %d that are lost", lost)}[lost == 1]})
		}
		others = append(others, hint{"Enter", "this one, the shortest way"}, hint{m.monitors(), "a monitor"})
	case "go":
		others = append(others, p.asLast(m)...)
		others = append(append(others, hint{"n", "new"}), m.backHint(long)...)
		others = append(others, hint{m.monitors(), "monitor"}, hint{"/", "by name"})
		others = append(others, p.letters(m)...)
	default:
		others = append(others, hint{m.monitors(), "monitor"}, hint{"arrows", "aim"}, hint{"n", "new"})
		others = append(append(others, m.backHint(false)...), hint{"/", "by name"})
		others = append(append(others, p.letters(m)...), p.asLast(m)...)
		if w := m.d.Window(m.sel.Window); w != nil && p.app == "" && !m.marked() && len(m.d.Select(ofApp(w.App))) > 1 {
			others = append(others, hint{"*", "all of its app"})
		}
	}
	if m.parts().rows < 2 && len(places) > 1 && cells.JoinNonEmpty("", m.message, m.previewWords()) != "" { // there is less room
		places = []hint{{fmt.Sprintf("1-%d", len(places)), "workspace"}}
	}
	if p.target != nil && p.target.Kind == desk.Letter {
		places = []hint{{fmt.Sprintf("1-%d", min(9, len(m.d.Workspaces))), "a workspace there"}}
	}
	return legend{lead: p.words(m), first: places, second: append(others, escapes), flows: true}
}
