package tui

import (
	"fmt"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/tui/cells"
)

// logbook is the screen of what was done: its lines, the one under the cursor,
// and the desk as going back to it would leave it.
type logbook struct {
	lines []keeper.Entry
	at    int
	here  int // the line after which the desk is
}

type logMsg struct {
	lines []keeper.Entry
	err   error
}

// openLog shows the logbook.
func (m *model) openLog() tea.Cmd {
	m.goTo(&logbook{})
	return m.askLog()
}

// askLog asks for the lines.
func (m *model) askLog() tea.Cmd {
	return func() tea.Msg {
		lines, err := m.k.Log(m.ctx)
		return logMsg{lines, err}
	}
}

// follow asks for the lines again after every change.
func (*logbook) follow(m *model) tea.Cmd { return m.askLog() }

// gotLog takes the lines, with the cursor on the point where the desk is, unless
// it was taken to another one.
func (m *model) gotLog(msg logMsg) {
	l, ok := on[*logbook](m)
	if !ok {
		return // left meanwhile
	}
	if msg.err != nil {
		m.say(keeper.Sentence(msg.err), true)
		m.pop()
		return
	}
	was := *l
	*l = logbook{lines: msg.lines}
	for i, line := range msg.lines {
		if !line.Gone && line.Back.Verb == "" {
			l.at, l.here = i, i
		}
	}
	if was.at != was.here {
		l.at = min(was.at, len(msg.lines)-1)
	}
}

// line is the one under the cursor; ok is false where there is none.
func (l *logbook) line() (line keeper.Entry, ok bool) {
	if l.at < 0 || l.at >= len(l.lines) {
		return line, false
	}
	return l.lines[l.at], true
}

// pending is the command that takes the desk to the line under the cursor.
func (l *logbook) pending(*model) (desk.Command, bool) {
	line, ok := l.line()
	return line.Back, ok && !line.Gone && line.Back.Verb != ""
}

// words say what going to the line under the cursor would do.
func (l *logbook) words(m *model) string {
	line, ok := l.line()
	c, can := l.pending(m)
	switch {
	case !ok:
		return ""
	case line.Gone:
		return "The desk cannot be taken back to here any more."
	case !can:
		return "The desk is here."
	case m.would.of != m.question(c):
		return ""
	case m.would.err != nil:
		return keeper.Sentence(m.would.err)
	}
	n := len(m.d.Differs(m.would.desk))
	return fmt.Sprintf("Enter takes the desk to here: %s elsewhere then.", map[bool]string{true: "1 window is", false: fmt.Sprintf("%d windows are", n)}[n == 1])
}

func (*logbook) hints(*model) legend {
	return legend{first: []hint{{"up, down", "choose a point"}, {"Enter", "take the desk there"}, {"u U", "undo, redo"}, {"Escape", "back to the map"}}}
}

func (*logbook) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (l *logbook) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	step := rowStep(name, len(l.lines))
	switch {
	case step != 0 && len(l.lines) > 0:
		l.at = geom.Clamp(l.at+step, 0, len(l.lines)-1)
	case name == "enter" && len(l.lines) > 0:
		line := l.lines[l.at]
		if line.Gone || line.Back.Verb == "" {
			return nil // which the words say already
		}
		m.home()
		return m.do(line.Back)
	case name == "esc" || name == "q":
		m.pop()
	case step == 0:
		return m.pageKey(k, name)
	}
	return nil
}

// wide is how many cells the longest line needs.
func (l *logbook) wide() (most int) {
	for _, e := range l.lines {
		most = max(most, 2+2+cells.Width(l.when(e.At))+2+sourceWidth+cells.Width(e.Words)+1)
	}
	return most
}

// listParts shares the screen between the map and a list, which has as much of the width
// as it needs, from two fifths to three.
func (m *model) listParts(wide int) (chart, list geom.Rect) {
	h := m.h - 4
	if m.w >= panelFrom {
		w := geom.Clamp(wide, m.w*2/5, m.w*3/5)
		return geom.R(0, 2, m.w-w-1, h), geom.R(m.w-w, 1, w, h+1)
	}
	top := h / 2
	return geom.R(0, 2, m.w, top), geom.R(0, top+2, m.w, h-top)
}

// footedParts is listParts over the foot that the map has.
func (m *model) footedParts() (chart, list geom.Rect) {
	chart, list = m.listParts(0)
	if by := m.parts().rows - 1; m.w >= panelFrom {
		chart.H, list.H = chart.H-by, list.H-by
	} else {
		list.H -= by
	}
	return chart, list
}

// draw draws the map with what would change pencilled on it, and the lines.
func (l *logbook) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	area, list := m.listParts(l.wide())
	ch := m.chartOf(area, m.workspaceAt())
	p := m.painter(c, ch)
	m.head(c)
	p.Draw()
	if next := m.preview(); next != nil {
		p.Pencil(next)
	}
	quiet := t.Style(t.Slate)
	c.Fill(list, " ", quiet)
	c.Spans(list.X+1, list.Y, list.W-1, cells.Words("LOGBOOK", cells.Bold(t.Style(t.Brass))), cells.Words(" · what was done, and the way back to each point", quiet))
	rows := list.H - 2
	first := geom.Clamp(l.at-rows/2, 0, max(0, len(l.lines)-rows))
	if len(l.lines) > 0 {
		at := 2 + cells.Width(l.when(l.lines[first].At)) + 2
		c.Text(list.X+1+2, list.Y+1, list.W-4, "WHEN", quiet)
		c.Text(list.X+1+at, list.Y+1, list.W-2-at, fmt.Sprintf("%-*s%s", sourceWidth, "WHO", "WHAT"), quiet)
	}
	for i := first; i < min(len(l.lines), first+rows); i++ {
		l.drawLine(m, c, geom.R(list.X+1, list.Y+2+i-first, list.W-2, 1), i)
	}
	if len(l.lines) == 0 {
		c.Text(list.X+1, list.Y+2, list.W-2, "Nothing was done yet.", quiet)
	}
	would, words := l.words(m), m.message
	if words == "" && len(l.lines) > 0 { // whole, where the row has room for its start
		words = l.lines[l.at].Words
	}
	c.Spans(1, m.h-2, m.w-2, cells.Words(cells.Fit(words, max(0, m.w-4-cells.Width(would)))+"  ", t.Style(t.Paper)), cells.Words(would, t.Style(t.Brass)))
	m.legend(c, m.h-1, l.hints(m))
	return nil
}

// sourceWidth is how many cells the name of who did something has, with the space after
// it.
const sourceWidth = 16

// who says in words who did something.
func who(s keeper.Source) string {
	if words, known := map[keeper.Source]string{
		keeper.Screen: "you, by key", keeper.Chord: "you, by chord", keeper.Pointer: "you, by pointer", keeper.Line: "a command line",
		keeper.Program: "a program", keeper.Display: "the display",
	}[s]; known {
		return words
	}
	return string(s)
}

// when is the time of day of a line, with the day before it where that is not
// the day of the last line.
func (l *logbook) when(at time.Time) string {
	at = at.In(time.Local)
	last := l.lines[len(l.lines)-1].At.In(time.Local)
	if at.YearDay() == last.YearDay() && at.Year() == last.Year() {
		return at.Format("15:04:05")
	}
	return at.Format("Jan _2  15:04")
}

func (l *logbook) drawLine(m *model, c *cells.Canvas, r geom.Rect, i int) {
	t := m.opt.Theme
	e := l.lines[i]
	row, quiet := t.Style(t.Paper), t.Style(t.Slate)
	mark := "  "
	switch {
	case e.Gone:
		row = quiet
	case i == l.here:
		mark = "● "
	case e.Back.Verb == "redo":
		row = quiet
		mark = "○ "
	}
	if i == l.at {
		row = cells.Reverse(cells.Bold(t.Style(t.Brass)))
		quiet = row
		c.Fill(r, " ", row)
	}
	c.Spans(r.X, r.Y, r.W, cells.Words(mark, row), cells.Words(l.when(e.At)+"  ", quiet),
		cells.Words(fmt.Sprintf("%-*s", sourceWidth, who(e.Source)), quiet), cells.Words(e.Words, row))
}
