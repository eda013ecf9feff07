package tui

import (
	"os"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/tui/terminal"
)

// Console tells whether a kind of terminal, as TERM names it, has a font of few marks.
func Console(kind string) bool {
	return kind == "linux" || kind == "console" || kind == "ansi" || strings.HasPrefix(kind, "vt")
}

// fitMarks takes the set of marks that the settings want, or that the terminal can draw.
func (m *model) fitMarks() {
	m.plain = m.set.Marks() == "plain" || m.set.Marks() == "auto" && (m.wideMarks || Console(os.Getenv("TERM")))
}

// MarksQuestion has a terminal draw a mark of ambiguous width at the beginning of a line and
// say where its cursor is then (DECXCPR): CSI ? row ; column R. It is asked before the screens
// are there, so that the mark is not seen.
const MarksQuestion = "\r●" + ansi.RequestExtendedCursorPositionReport

// quitTime is how long an answer of the terminal is waited for at the end.
const quitTime = 500 * time.Millisecond

// quitMsg ends the screens where the terminal does not answer.
type quitMsg struct{}

// quit ends the screens. Of a terminal that was asked things a moment ago the answers are
// waited for: they would be typed into the shell. The last question is answered last.
func (m *model) quit() tea.Cmd {
	if !m.opt.asked || m.knowsMarks && m.reported || m.quits {
		return tea.Quit
	}
	m.quits = true
	return tea.Batch(terminal.Write(ansi.RequestExtendedCursorPositionReport), tea.Tick(quitTime, func(time.Time) tea.Msg { return quitMsg{} }))
}

// answered follows where the cursor was after the mark.
func (m *model) answered(at tea.CursorPositionMsg) tea.Cmd {
	if m.knowsMarks && m.quits {
		return tea.Quit // all that was asked is answered
	}
	if m.knowsMarks {
		return nil
	}
	was := m.plain
	m.knowsMarks, m.wideMarks = true, at.X == 2
	if m.fitMarks(); m.plain != was {
		return terminal.Redraw // of what was drawn too wide
	}
	return nil
}
