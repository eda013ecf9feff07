package tui

import (
	"cmp"
	"fmt"
	"os"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// settingsScreen shows the settings as they are in the file, and writes it.
type settingsScreen struct {
	now settings.Settings
	at  int // the row under the cursor
}

// openSettings shows the file as it is now.
func (m *model) openSettings() tea.Cmd {
	if m.opt.Settings == "" {
		m.say("No folder for the settings is known: set HOME or XDG_CONFIG_HOME.", true)
		return nil
	}
	s := &settingsScreen{}
	if s.read(m) {
		m.goTo(s)
	}
	return nil
}

func (s *settingsScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (s *settingsScreen) hints(*model) legend {
	hs := []hint{{"up, down", "choose"}, {"left, right", "change"}}
	switch c := s.choice(); {
	case c.Text():
		hs[1] = hint{"Enter", "change"}
	case c.Values == nil:
		hs = append(hs, hint{"0-9", "type it"})
	}
	return legend{first: append(hs, hint{"/", "find"}, hint{"?", "keys and chords"}, hint{"Escape", "back to the map"})}
}

func (s *settingsScreen) read(m *model) bool {
	s.now = m.load()
	if m.unset != "" {
		m.say(m.unset, true)
	}
	s.at = geom.Clamp(s.at, 0, s.rows()-1)
	return true
}

// wroteSettings has the keeper take up what these screens have written, as a step of undo.
func (m *model) wroteSettings(words string) tea.Cmd {
	m.wroteWords = words
	return m.do(desk.Command{Verb: "reload", Hand: time.Now().UnixNano()})
}

// setTo writes a setting by its name, and has the keeper take it up.
func (m *model) setTo(name, value, words string) tea.Cmd {
	c, _ := settings.FindChoice(name)
	if err := c.Set(m.opt.Settings, value); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return m.wroteSettings(words)
}

// load is the settings as the file has them; a row at fault keeps what it had, and the fault
// goes into the heads of the screens.
func (m *model) load() settings.Settings {
	now, err := settings.Load(m.opt.Settings)
	if m.unset = ""; err != nil {
		m.unset = keeper.Sentence(err)
		if m.d != nil {
			now, _ = m.set.Reload(m.opt.Settings)
		}
	}
	return now
}

// reread takes up what the screens themselves need of changed settings.
func (m *model) reread() {
	defer m.fitMarks() // also where the settings are at fault
	if m.opt.Settings == "" {
		m.rows = m.set.Rows()
		return
	}
	now := m.load()
	m.own, m.set, m.rows = now.ForDesk(), now, now.Rows()
	m.fitHeight()
	if p, ok := on[*keysPage](m); ok {
		p.fill(m)
	}
	if s, ok := on[*settingsScreen](m); ok {
		s.now = now
	}
	if r, ok := on[*rulesScreen](m); ok {
		r.rules = now.Rules
		r.at = geom.Clamp(r.at, 0, max(0, len(now.Rules)-1))
	}
	if t, err := cells.Themes(now.Theme()); err == nil && !m.opt.ThemeFixed {
		m.base = t
		m.fitTheme()
	}
}

func (s *settingsScreen) rows() int { return len(settings.Choices()) }

// choice is the one under the cursor.
func (s *settingsScreen) choice() settings.Choice { return settings.Choices()[s.at] }

func (s *settingsScreen) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	rows := s.rows()
	step := rowStep(name, rows)
	turn := map[string]int{"left": -1, "h": -1, "right": 1, "l": 1, "space": 1, "enter": 1}[name]
	choice := s.choice()
	switch {
	case step != 0:
		s.at = geom.Clamp(s.at+step, 0, rows-1)
	case turn != 0 && choice.Text(), name == "enter" && choice.Values == nil:
		return s.ask(m, choice.Get(s.now))
	case choice.Max > 0 && name >= "0" && name <= "9":
		return s.ask(m, name)
	case name == "/":
		return m.askText(&textPrompt{label: "find a setting: ", does: "goes to the next that fits", accept: s.find}, "")
	case turn != 0:
		was := choice.Get(s.now)
		value := choice.Next(was, turn)
		if value == was {
			m.say(fmt.Sprintf("%s is %d to %d.", choice.Name(), choice.Min, choice.Max), false)
			return nil
		}
		return s.set(m, choice, value)
	case name == "esc" || name == "q":
		m.pop()
	default:
		return m.pageKey(k, name)
	}
	return nil
}

// ask asks for the value of the setting under the cursor.
func (s *settingsScreen) ask(m *model, begun string) tea.Cmd {
	choice := s.choice()
	accept := func(m *model, value string) tea.Cmd { return s.set(m, choice, value) }
	return m.askText(&textPrompt{label: choice.Name() + ": ", help: choice.Wants(), accept: accept}, begun)
}

// find goes to the next setting that has all words of a text.
func (s *settingsScreen) find(m *model, text string) tea.Cmd {
	all := settings.Choices()
	for i := range all {
		at := (s.at + 1 + i) % len(all)
		says := spelt(strings.Join([]string{all[at].Name(), all[at].Help, all[at].About}, " "))
		if !slices.ContainsFunc(strings.Fields(spelt(text)), func(word string) bool { return !strings.Contains(says, word) }) {
			s.at = at
			return func() tea.Msg { return nil }
		}
	}
	m.say("No setting has "+text+".", true)
	return nil
}

func (s *settingsScreen) set(m *model, c settings.Choice, value string) tea.Cmd {
	return s.written(m, c.Set(m.opt.Settings, value), fmt.Sprintf("%s is %s now.", c.Name(), value))
}

// wrote has the keeper take up what was written.
func (s *settingsScreen) written(m *model, err error, words string) tea.Cmd {
	if err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	s.read(m)
	return m.wroteSettings(words)
}

// draw draws the rows, and the line where one is typed.
func (s *settingsScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	m.titled(c, cells.Words("SETTINGS", head), cells.Words("  kept in "+homely(m.opt.Settings), quiet))
	type line struct {
		row   int // -1 for a heading
		spans []cells.Span
	}
	var lines []line
	wide, room := 0, 20
	for _, ch := range settings.Choices() {
		wide = max(wide, cells.Width(ch.Name())+2)
	}
	if c.W >= panelFrom {
		room = 36
	}
	row := func(i int, name, value, help string) {
		st, val, more := t.Style(t.Paper), cells.Bold(t.Style(t.Green)), quiet
		if i == s.at {
			st = cells.Reverse(cells.Bold(t.Style(t.Brass)))
			val, more = st, st
		}
		swatch := cells.Span{}
		if colour, err := cells.Hex(value); err == nil {
			swatch = cells.Words("██ ", uv.Style{Fg: colour, Bg: val.Bg})
		}
		value = cells.Fit(value, room-cells.Width(swatch.Text))
		pad := strings.Repeat(" ", room+2-cells.Width(value)-cells.Width(swatch.Text))
		lines = append(lines, line{i, []cells.Span{cells.Words(" "+cells.Fit(name, wide-1)+strings.Repeat(" ", max(1, wide-cells.Width(name))), st), swatch, cells.Words(value, val), cells.Words(pad, more), cells.Words(help, more)}})
	}
	lines = append(lines, line{-1, nil}, line{-1, []cells.Span{cells.Words("THE DESK AND ITS SCREENS", head)}})
	for i, ch := range settings.Choices() {
		value := cmp.Or(ch.Get(s.now), "none")
		if i == s.at && !ch.Text() {
			value = "‹ " + value + " ›"
		}
		if ch.Unit != "" {
			value += " " + ch.Unit
		}
		row(i, ch.Name(), value, ch.Help)
	}
	// The chosen row is explained at the foot.
	about := cells.Wrap(s.choice().About, c.W-2)
	about = about[:min(len(about), max(0, c.H/6-1))]
	room = c.H - 4 - len(about)
	cursor := slices.IndexFunc(lines, func(l line) bool { return l.row == s.at })
	first := geom.Clamp(cursor-room/2, 0, max(0, len(lines)-room))
	for i := first; i < min(len(lines), first+room); i++ {
		if lines[i].row == s.at {
			c.Fill(geom.R(1, 1+i-first, c.W-2, 1), " ", lines[i].spans[0].Style)
		}
		c.Spans(1, 1+i-first, c.W-2, lines[i].spans...)
	}
	if left := len(lines) - first - room; left > 0 {
		c.Text(1, c.H-3-len(about), c.W-2, fmt.Sprintf(" %d more below", left), quiet)
	}
	for i, l := range about {
		c.Text(1, c.H-2-len(about)+i, c.W-2, l, t.Style(t.Paper))
	}
	st := t.Style(t.Paper)
	if m.fault {
		st = cells.Bold(t.Style(t.Coral))
	}
	c.Text(1, c.H-2, c.W-2, m.message, st)
	m.legend(c, c.H-1, s.hints(m))
	return nil
}

// homely is a path with ~ for the home folder.
func homely(path string) string {
	if home, err := os.UserHomeDir(); err == nil && home != "" && strings.HasPrefix(path, home+"/") {
		return "~" + path[len(home):]
	}
	return path
}
