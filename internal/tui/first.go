package tui

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// FirstUse remembers that the corner of first steps was put away for good.
type FirstUse interface {
	Done() bool
	SetDone() error
}

// FirstUseFile remembers it by a file that is there.
type FirstUseFile string

// Done tells whether the corner was put away.
func (f FirstUseFile) Done() bool {
	_, err := os.Stat(string(f))
	return err == nil
}

// SetDone puts the corner away for good.
func (f FirstUseFile) SetDone() error {
	if err := os.MkdirAll(filepath.Dir(string(f)), 0o700); err != nil {
		return err
	}
	return os.WriteFile(string(f), []byte("The first steps were put away.\n"), 0o600)
}

// firstStep is what a newcomer is asked to try: the keys, and what they do.
type firstStep struct {
	keys, does string
	short      string // a word for that, where there is little room
	done       func(c desk.Command) bool
	finds      bool // it is done by finding a window
}

// now is the step as it can be taken: where no window is open, none can be sent.
func (s firstStep) now(d *desk.Desk) firstStep {
	if s.short == "send" && len(d.Windows) == 0 {
		s.keys, s.does, s.short = "o", "open an app", "open"
	}
	return s
}

// The first steps on the demo's desk, which begins with a problem, and on a real one, of
// which nothing is known: a workspace, a window sent, the way back.
func demoSteps() []firstStep {
	return []firstStep{
		{"r a", "rescue what is lost", "rescue", verbIs("rescue"), false},
		{"u", "undo that", "undo", verbIs("undo"), false},
		{"a Enter", "add a workspace", "add", verbIs("add"), false},
		{"s 3", "send a window to 3", "send", verbIs("send", "carry"), false},
		{"/ radio", "find a window", "find", verbIs(), true},
	}
}

func realSteps() []firstStep {
	return []firstStep{
		{"a Enter", "add a workspace", "add", verbIs("add"), false},
		{"s 2", "send a window to 2", "send", verbIs("send", "carry"), false},
		{"u", "undo that", "undo", verbIs("undo"), false},
	}
}

// freeChords is the step of a display where chords could be taken.
func freeChords(n int) firstStep {
	return firstStep{"Ctrl+T", "take " + desk.Counted(n, "free chord"), "chords", verbIs("reload"), false}
}

func verbIs(names ...string) func(desk.Command) bool {
	return func(c desk.Command) bool { return slices.Contains(names, c.Verb) }
}

// steps is how far a newcomer has come.
type steps struct {
	first FirstUse
	away  bool
	list  []firstStep
	done  []bool
}

// newSteps are the first steps on a desk that is made up, or on a real one.
func newSteps(f FirstUse, simulated bool) steps {
	s := steps{first: f, away: f == nil || f.Done(), list: realSteps()}
	if simulated {
		s.list = demoSteps()
	}
	s.done = make([]bool, len(s.list))
	return s
}

func (s *steps) visible() bool { return !s.away && slices.Contains(s.done, false) }

// offer adds a step that is found out later.
func (s *steps) offer(step firstStep) {
	if !slices.ContainsFunc(s.list, func(o firstStep) bool { return o.keys == step.keys }) {
		s.list, s.done = append(s.list, step), append(s.done, false)
	}
}

// did ticks off what a command that succeeded was a step of.
func (s *steps) did(c desk.Command) {
	for i, step := range s.list {
		s.done[i] = s.done[i] || step.done(c)
	}
	s.finish()
}

// found ticks off that a window was found, where that is a step.
func (s *steps) found() {
	for i, step := range s.list {
		s.done[i] = s.done[i] || step.finds
	}
	s.finish()
}

// finish puts the corner away for good once all is done.
func (s *steps) finish() {
	if !s.away && !s.visible() {
		s.away = true
		s.first.SetDone() // else it comes again, with nothing done
	}
}

// dismiss puts the corner away for good, and says so.
func (s *steps) dismiss() string {
	s.away = true
	if err := s.first.SetDone(); err != nil {
		return "Put the first steps away; they come back next time: " + err.Error()
	}
	return "Put the first steps away. ? shows all keys."
}

// firstLine writes the first steps that are left in a line, where a corner would cover windows.
func (m *model) firstLine(c *cells.Canvas, y int) {
	t := m.opt.Theme
	key, quiet := cells.Bold(t.Style(t.Green)), t.Style(t.Slate)
	line := []cells.Span{cells.Words("TRY  ", cells.Bold(t.Style(t.Brass)))}
	for i, step := range m.steps.list {
		if step = step.now(m.d); !m.steps.done[i] {
			line = append(line, cells.Words(step.keys, key), cells.Words(" "+step.short+"  ", t.Style(t.Paper)))
		}
	}
	c.Spans(1, y, c.W-2, append(line, cells.Words(" Escape hides", quiet))...)
}

// firstUse draws the corner of first steps.
func (m *model) firstUse(c *cells.Canvas, p parts) {
	if !m.steps.visible() || m.asking() {
		return
	}
	const wide = 35 // for the longest of them
	high := len(m.steps.list) + 3
	r := geom.R(c.W-wide-1, p.legend-1-high, wide, high)
	if p.panel.Empty() || p.panel.W <= wide || r.Y <= m.panelEnd { // it would lie over something
		m.firstLine(c, p.legend-2)
		return
	}
	t := m.opt.Theme
	st := t.Style(t.Paper)
	c.Fill(r, " ", st)
	c.Box(r, cells.RoundFrame, t.Style(t.Green), nil)
	c.Text(r.X+2, r.Y, r.W-4, " TRY THESE ", cells.Bold(t.Style(t.Green)))
	for i, step := range m.steps.list {
		step = step.now(m.d)
		mark, line := "· ", st
		if m.steps.done[i] {
			mark, line = "√ ", t.Style(t.Slate)
		}
		c.Spans(r.X+2, r.Y+1+i, r.W-4, cells.Words(mark, cells.Bold(t.Style(t.Green))), cells.Words(fmt.Sprintf("%-8s%s", step.keys, step.does), line))
	}
	c.Text(r.X+2, r.Bottom()-2, r.W-4, "Escape hides this for good", t.Style(t.Slate))
}
