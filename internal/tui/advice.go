package tui

import (
	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/tui/cells"
)

// adviceScreen lists what could be ordered better, beside the map on which the one
// that was asked for is pencilled.
type adviceScreen struct {
	of      *desk.Desk
	data    survey.Data
	reloads int // of the settings, when it was worked out
	items   []survey.Item
	at      int
	pen     bool // the one under the cursor is pencilled
}

// openAdvice shows the advice by what the survey shows.
func (m *model) openAdvice(s *surveyScreen) tea.Cmd {
	if s.report == nil {
		return nil
	}
	a := &adviceScreen{}
	a.fill(m, s.data)
	m.rooms = append(m.rooms, a)
	return nil
}

// fill works the advice out for the present desk.
func (a *adviceScreen) fill(m *model, data survey.Data) {
	a.of, a.data, a.reloads = m.d, data, m.reloads
	a.items = survey.Advise(data, Keyboard(m.set), m.d).Items(m.d)
	a.at = geom.Clamp(a.at, 0, len(a.items)-1)
}

// Keyboard is what the chords of the settings stand for.
func Keyboard(set settings.Settings) survey.Keyboard {
	k := survey.Keyboard{Chords: map[string]string{}, Atlas: set.AtlasKey()}
	bounds, _ := set.Bounds() // of settings at fault none
	for _, b := range bounds {
		k.Chords[b.Keys.String()] = b.Command
	}
	return k
}

// follow works it out anew after every change.
func (a *adviceScreen) follow(m *model) tea.Cmd {
	if a.of != m.d || a.reloads != m.reloads {
		a.pen = false
		a.fill(m, a.data)
	}
	return nil
}

// settle stays here after a command.
func (a *adviceScreen) settle(m *model, _ desk.Report, _ string) bool { return true }

func (a *adviceScreen) pending(*model) (desk.Command, bool) {
	if !a.pen || len(a.items) == 0 {
		return desk.Command{}, false
	}
	return a.items[a.at].Command, true
}

func (a *adviceScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (a *adviceScreen) hints(m *model) legend {
	enter := hint{"Enter", "preview it on the map"}
	switch {
	case !a.items[a.at].Does():
		enter.does = "nothing to be done by itself"
	case a.items[a.at].Chord != "":
		enter.does = "set the chord"
	case a.pen:
		enter.does = "do it"
	}
	return legend{first: []hint{{"up, down", "choose"}, enter, m.undoHint(), {"Escape", "back to the survey"}}, flows: true}
}

func (a *adviceScreen) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	step := rowStep(name, len(a.items))
	switch {
	case step != 0:
		a.at, a.pen = geom.Clamp(a.at+step, 0, len(a.items)-1), false
	case name == "enter" && a.items[a.at].Chord != "":
		return a.setChord(m, a.items[a.at])
	case name == "enter" && !a.items[a.at].Does():
		m.say("There is no command for this: it is for you to think about.", false)
	case name == "enter" && !a.pen:
		a.pen = true
	case name == "enter":
		a.pen = false
		return m.do(a.items[a.at].Command)
	case name == "esc" && a.pen:
		a.pen = false
	case name == "esc" || name == "q":
		m.pop()
	default:
		return m.pageKey(k, name)
	}
	return nil
}

// setChord has a chord stand for what is done so often.
func (a *adviceScreen) setChord(m *model, it survey.Item) tea.Cmd {
	if err := settings.SetChords(m.opt.Settings, [][2]string{{it.Chord, it.Form}}); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return m.wroteSettings(it.Chord + " stands for " + it.Form + " now.")
}

// draw draws the map and the list.
func (a *adviceScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	m.head(c)
	chartR, list := m.footedParts()
	p := m.painter(c, m.chartOf(chartR, m.workspaceAt()))
	p.Draw()
	if next := m.preview(); next != nil {
		p.Pencil(next)
		p.Renumber(next)
	}
	quiet := t.Style(t.Slate)
	o := cells.NewSidebar(c, list, quiet)
	o.Line(cells.Words("ADVICE", cells.Bold(t.Style(t.Brass))), cells.Words("  based on how you work; nothing happens until you do it", quiet))
	// Lines of each item, so that the chosen one is in sight.
	var lines [][]cells.Span
	cursor := 0
	for i, it := range a.items {
		if it.Head != "" {
			lines = append(lines, nil, []cells.Span{cells.Words(it.Head, cells.Bold(t.Style(t.Green)))})
		}
		row := t.Style(t.Paper)
		if i == a.at {
			row, cursor = cells.Reverse(cells.Bold(t.Style(t.Brass))), len(lines)
		}
		for n, line := range cells.Wrap(it.Words, list.W-5) {
			mark := "  "
			if n == 0 && it.Does() {
				mark = "› "
			}
			lines = append(lines, []cells.Span{cells.Words(mark, row), cells.Words(line, row)})
		}
		if it.Worth != "" {
			for _, line := range cells.Wrap(it.Worth, list.W-5) {
				lines = append(lines, []cells.Span{cells.Words("  "+line, quiet)})
			}
		}
		if i == a.at && it.Command.Verb != "" {
			lines = append(lines, []cells.Span{cells.Words("  :"+lang.Print(it.Command), quiet)})
		}
	}
	room := list.H - 1
	first := geom.Clamp(cursor-room/2, 0, max(0, len(lines)-room))
	for _, l := range lines[first:] {
		o.Line(l...)
	}
	return m.foot(c, m.parts())
}
