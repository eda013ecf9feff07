package tui

import (
	"fmt"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// logbook is the screen of what was done: its lines, the one under the cursor,
// and the desk as going back to it would leave it.
type logbook struct {
	lines  []keeper.Entry
	at     int
	here   int        // the line after which the desk is
	would  *desk.Desk // nil until it is known, or where nothing would change
	words  string     // what going there would do
	serial int        // of the snapshot the lines are of
}

type (
	logMsg struct {
		lines  []keeper.Entry
		serial int
		err    error
	}
	wouldMsg struct {
		at      int
		serial  int
		outcome keeper.Outcome
		err     error
	}
)

// openLog asks for the logbook.
func (m *model) openLog() tea.Cmd {
	serial := m.serial
	return func() tea.Msg {
		lines, err := m.k.Log(m.ctx)
		return logMsg{lines, serial, err}
	}
}

// gotLog takes the lines, with the cursor on the point where the desk is, unless
// it was taken to another one.
func (m *model) gotLog(msg logMsg) tea.Cmd {
	if msg.err != nil {
		m.say(keeper.Sentence(msg.err), true)
		m.mode = modeMap
		return nil
	}
	was := m.log
	chosen := m.mode == modeLog && was.at != was.here
	m.mode = modeLog
	m.log = logbook{lines: msg.lines, serial: msg.serial}
	for i, l := range msg.lines {
		if !l.Gone && l.Back.Verb == "" {
			m.log.at, m.log.here = i, i
		}
	}
	if chosen {
		m.log.at = min(was.at, len(msg.lines)-1)
	}
	return m.look()
}

// look asks what going to the line under the cursor would change.
func (m *model) look() tea.Cmd {
	m.log.would, m.log.words = nil, ""
	if len(m.log.lines) == 0 {
		return nil
	}
	line := m.log.lines[m.log.at]
	switch {
	case line.Gone:
		m.log.words = "The desk cannot be taken back to here any more."
		return nil
	case line.Back.Verb == "":
		m.log.words = "The desk is here."
		return nil
	}
	at, serial := m.log.at, m.log.serial
	return func() tea.Msg {
		o, err := m.k.Try(m.ctx, line.Back)
		return wouldMsg{at, serial, o, err}
	}
}

func (m *model) gotWould(msg wouldMsg) {
	if msg.at != m.log.at || msg.serial != m.log.serial {
		return // of a line the cursor has left
	}
	switch {
	case msg.err != nil:
		m.log.words = keeper.Sentence(msg.err)
	case msg.outcome.Err != nil:
		m.log.words = keeper.Sentence(msg.outcome.Err)
	default:
		m.log.would = msg.outcome.Desk
		n := len(m.d.Differs(msg.outcome.Desk))
		m.log.words = fmt.Sprintf("Enter takes the desk to here: %s elsewhere then.", map[bool]string{true: "1 window is", false: fmt.Sprintf("%d windows are", n)}[n == 1])
	}
}

func (m *model) logKey(k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	step := map[string]int{"up": -1, "k": -1, "down": 1, "j": 1, "pgup": -10, "pgdown": 10, "home": -len(m.log.lines), "end": len(m.log.lines)}[name]
	switch {
	case step != 0 && len(m.log.lines) > 0:
		m.log.at = geom.Clamp(m.log.at+step, 0, len(m.log.lines)-1)
		return m.look()
	case name == "enter" && len(m.log.lines) > 0:
		line := m.log.lines[m.log.at]
		if line.Gone || line.Back.Verb == "" {
			return nil // which the words say already
		}
		m.mode = modeMap
		return m.do(line.Back)
	case name == "esc" || name == "q":
		m.mode = modeMap
	case step == 0:
		return m.pageKey(k, name)
	}
	return nil
}

// logParts shares the screen between the map and the lines.
func (m *model) logParts() (chart, list geom.Rect) {
	h := m.h - 4
	if m.w >= panelFrom {
		w := m.w * 2 / 5
		return geom.R(0, 2, m.w-w-1, h), geom.R(m.w-w, 1, w, h+1)
	}
	top := h / 2
	return geom.R(0, 2, m.w, top), geom.R(0, top+2, m.w, h-top)
}

// drawLog draws the map with what would change pencilled on it, and the lines.
func (m *model) drawLog(c *canvas) {
	t := m.opt.Theme
	area, list := m.logParts()
	ch := newChart(m.d, m.log.would, area, m.workspaceAt())
	p := m.painter(c, ch)
	m.head(c)
	p.atlas()
	if m.log.would != nil {
		p.pencil(m.log.would)
	}
	quiet := t.style(t.Slate)
	c.fill(list, " ", quiet)
	c.spans(list.X+1, list.Y, list.W-1, span{"LOGBOOK", bold(t.style(t.Brass))}, span{" · what was done, when, by whom", quiet})
	rows := list.H - 1
	first := geom.Clamp(m.log.at-rows/2, 0, max(0, len(m.log.lines)-rows))
	for i := first; i < min(len(m.log.lines), first+rows); i++ {
		m.logLine(c, geom.R(list.X+1, list.Y+1+i-first, list.W-2, 1), i)
	}
	if len(m.log.lines) == 0 {
		c.text(list.X+1, list.Y+2, list.W-2, "Nothing was done yet.", quiet)
	}
	words := m.message
	if words == "" && len(m.log.lines) > 0 { // whole, where the row has room for its start
		words = m.log.lines[m.log.at].Words
	}
	c.spans(1, m.h-2, m.w-2, span{fit(words, max(0, m.w-4-width(m.log.words))) + "  ", t.style(t.Paper)}, span{m.log.words, t.style(t.Brass)})
	m.legend(c, m.h-1, nil, []hint{{"up, down", "choose a point"}, {"Enter", "take the desk there"}, {"u U", "undo, redo"}, {"Escape", "back to the map"}})
}

// when is the time of day of a line, with the day before it where that is not
// the day of the last line.
func (m *model) when(at time.Time) string {
	at = at.In(time.Local)
	last := m.log.lines[len(m.log.lines)-1].At.In(time.Local)
	if at.YearDay() == last.YearDay() && at.Year() == last.Year() {
		return at.Format("15:04:05")
	}
	return at.Format("Jan _2  15:04")
}

func (m *model) logLine(c *canvas, r geom.Rect, i int) {
	t := m.opt.Theme
	l := m.log.lines[i]
	row, quiet := t.style(t.Paper), t.style(t.Slate)
	mark := "  "
	switch {
	case l.Gone:
		row = quiet
	case i == m.log.here:
		mark = "● "
	case l.Back.Verb == "redo":
		row = quiet
		mark = "○ "
	}
	if i == m.log.at {
		row = reverse(bold(t.style(t.Brass)))
		quiet = row
		c.fill(r, " ", row)
	}
	c.spans(r.X, r.Y, r.W, span{mark, row}, span{m.when(l.At) + "  ", quiet},
		span{fmt.Sprintf("%-14s", l.Source), quiet}, span{l.Words, row})
}
