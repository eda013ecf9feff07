package tui

import (
	"fmt"
	"slices"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// rulesScreen shows the rules for windows that open, and what they make of the
// chosen window.
type rulesScreen struct {
	rules []settings.Rule
	at    int
}

func (m *model) openRules() tea.Cmd {
	if m.opt.Settings == "" {
		m.say("No folder for the settings is known: set HOME or XDG_CONFIG_HOME.", true)
		return nil
	}
	now := m.load()
	r, ok := on[*rulesScreen](m)
	if !ok {
		r = &rulesScreen{}
		m.goTo(r)
	}
	m.say(m.unset, m.unset != "")
	r.rules = now.Rules
	r.at = geom.Clamp(r.at, 0, max(0, len(now.Rules)-1))
	return nil
}

func (r *rulesScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (r *rulesScreen) hints(*model) legend {
	hs := []hint{{"a", "a rule from the chosen window"}}
	if len(r.rules) > 0 {
		hs = append(hs, hint{"x", "remove"}, hint{"J K", "move"}, hint{"up, down", "choose"})
	}
	return legend{first: append(hs, hint{"Tab", "the next window"}, hint{"Escape", "back"})}
}

func (r *rulesScreen) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	if step := rowStep(name, len(r.rules)); step != 0 {
		r.at = geom.Clamp(r.at+step, 0, max(0, len(r.rules)-1))
		return nil
	}
	switch name {
	case "tab":
		return m.step(1)
	case "shift+tab":
		return m.step(-1)
	case "a":
		text := ""
		if w := m.d.Window(m.sel.Window); w != nil {
			text = lang.PrintQuery(desk.ByApp{Text: w.App, Whole: true}) + fmt.Sprintf(" then to %d", m.d.Index(w.Workspace)+1)
		}
		return m.askText(&textPrompt{
			label: "New rule: ", help: "A query, then: to 3, first, last, float, sticky, above, unfocused, borderless, private, stray, leave, also", accept: r.add,
		}, text)
	case "x":
		if len(r.rules) > 0 {
			return r.remove(m)
		}
	case "K", "shift+up":
		return r.move(m, -1)
	case "J", "shift+down":
		return r.move(m, 1)
	case "esc", "q":
		m.pop()
	default:
		return m.pageKey(k, name)
	}
	return nil
}

// remove removes the chosen rule, after asking.
func (r *rulesScreen) remove(m *model) tea.Cmd {
	at := r.at
	return m.askFirst(&askPrompt{
		question: desk.Question{Text: fmt.Sprintf("Remove rule %d, %s?", at+1, r.rules[at].Match), Does: "removes it", Leaves: "keeps it"},
		yes: func(m *model) tea.Cmd {
			return r.changed(m, settings.RemoveRule(m.opt.Settings, at), fmt.Sprintf("Removed rule %d.", at+1))
		},
	})
}

// move moves the chosen rule up or down in the order.
func (r *rulesScreen) move(m *model, by int) tea.Cmd {
	to := r.at + by
	if to < 0 || to >= len(r.rules) {
		m.say("It cannot go further.", false)
		return nil
	}
	err := settings.SwapRules(m.opt.Settings, min(r.at, to))
	if err == nil {
		r.at = to
	}
	return r.changed(m, err, fmt.Sprintf("It is rule %d now.", to+1))
}

// changed shows the rules as they are in the file now, and has them count, or
// says why they were not changed.
func (r *rulesScreen) changed(m *model, err error, words string) tea.Cmd {
	if err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return tea.Batch(m.openRules(), m.wroteSettings(words))
}

// add adds a rule in words.
func (r *rulesScreen) add(m *model, text string) tea.Cmd {
	rule, err := settings.ParseRule(text)
	if err == nil {
		err = settings.AddRule(m.opt.Settings, rule)
	}
	if err == nil {
		r.at = len(r.rules)
	}
	return r.changed(m, err, fmt.Sprintf("Added rule %d. It counts for windows that open from now on.", r.at+1))
}

// ruling is what the rules make of the chosen window, were it to open now, and
// why the place of each rule does not count; nil where it does.
func (r *rulesScreen) ruling(m *model) (desk.Ruling, *desk.Window, []error) {
	set := m.d.Settings
	set.Rules = settings.Settings{Rules: r.rules}.ForDesk().Rules
	d, _ := m.d.With(desk.Settle{Settings: set})
	w := d.Window(m.sel.Window)
	if w == nil {
		return desk.Ruling{}, nil, ruleFaults(d)
	}
	return d.Rule(w), w, ruleFaults(d)
}

// ruleFaults say of each rule why its place does not count; nil where it does.
func ruleFaults(d *desk.Desk) []error {
	faults := make([]error, len(d.Settings.Rules))
	for i, r := range d.Settings.Rules {
		faults[i] = d.RuleFault(r)
	}
	return faults
}

func (r *rulesScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	m.titled(c, cells.Words("RULES", head), cells.Words("  applied when a window opens; the first match wins, unless it says \"also\"", quiet))
	ruling, w, faults := r.ruling(m)
	if w == nil {
		c.Text(1, 2, c.W-2, "Select a window on the map first, to see which rules match it.", quiet)
	} else {
		c.Spans(1, 2, c.W-2, cells.Words("chosen: ", quiet), cells.Words(fmt.Sprintf("#%d %s", w.ID, w.App), cells.Bold(t.Style(t.Green))), cells.Words("  "+w.Title, quiet))
		c.Text(1, 3, c.W-2, r.words(ruling), t.Style(t.Paper))
	}
	room := c.H - 8
	first := geom.Clamp(r.at-room/2, 0, max(0, len(r.rules)-room))
	for i := first; i < min(len(r.rules), first+room); i++ {
		rule := r.rules[i]
		row, more, fault := t.Style(t.Paper), quiet, t.Style(t.Coral)
		if i == r.at {
			row = cells.Reverse(head)
			more, fault = row, row
			c.Fill(geom.R(1, 5+i-first, c.W-2, 1), " ", row)
		}
		mark := "   "
		switch {
		case slices.Contains(ruling.Used, i):
			mark = " ● "
		case slices.Contains(ruling.Matched, i):
			mark = " ○ "
		}
		wide := max(24, c.W*2/5)
		query := cells.Fit(rule.Match, wide-2)
		c.Spans(1, 5+i-first, c.W-2, cells.Words(fmt.Sprintf("%s%2d  ", mark, i+1), row), cells.Words(fmt.Sprintf("%-*s", wide, query), row), cells.Words(rule.Does(), more), ruleFault(faults, i, fault))
	}
	if len(r.rules) == 0 {
		c.Text(1, 5, c.W-2, "There are no rules yet. Press a to make one from the chosen window.", quiet)
	}
	r.drawWords(m, c, 5+max(1, min(len(r.rules), room))+1)
	words := t.Style(t.Paper)
	if m.fault {
		words = t.Style(t.Coral)
	}
	c.Text(1, c.H-2, c.W-2, m.message, words)
	m.legend(c, c.H-1, m.top().hints(m))
	return nil
}

// drawWords lists which windows the chosen rule matches, and what a rule can say, from a row
// on, as far as there is room.
func (r *rulesScreen) drawWords(m *model, c *cells.Canvas, y int) {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	line := func(ss ...cells.Span) {
		if y < c.H-3 {
			c.Spans(1, y, c.W-2, ss...)
		}
		y++
	}
	if r.at < len(r.rules) {
		var names []string
		if q, err := lang.ParseQuery(r.rules[r.at].Match); err == nil {
			for _, w := range m.d.Select(q) {
				names = append(names, fmt.Sprintf("#%d %s", w.ID, w.Label()))
			}
		}
		line(cells.Words(fmt.Sprintf("RULE %d MATCHES %d OF YOUR WINDOWS", r.at+1, len(names)), head))
		for _, n := range names[:min(len(names), 6)] {
			line(cells.Words("  "+n, t.Style(t.Paper)))
		}
		if more := len(names) - 6; more > 0 {
			line(cells.Words(fmt.Sprintf("  and %d more", more), quiet))
		}
		y++
	}
	line(cells.Words("WHAT A RULE CAN SAY", head), cells.Words("  after its query and \"then\"", quiet))
	for _, w := range settings.RuleWords() {
		line(cells.Words(fmt.Sprintf("  %-22s", w[0]), t.Style(t.Paper)), cells.Words(w[1], quiet))
	}
}

// ruleFault says why the place of a rule does not count.
func ruleFault(faults []error, i int, st uv.Style) cells.Span {
	if i >= len(faults) || faults[i] == nil {
		return cells.Span{}
	}
	return cells.Words("  ! "+faults[i].Error(), st)
}

// words say which rules match the chosen window, and what follows.
func (r *rulesScreen) words(ruling desk.Ruling) string {
	if len(ruling.Matched) == 0 {
		return "No rule matches it: it would open on the current sheet."
	}
	words := ""
	for _, i := range ruling.Used {
		words += fmt.Sprintf("Rule %d matches: %s. ", i+1, r.rules[i].Does())
	}
	if n := len(ruling.Matched) - len(ruling.Used); n > 0 {
		words += fmt.Sprintf("%d more would match, and an earlier one counts (○).", n)
	}
	return words
}
