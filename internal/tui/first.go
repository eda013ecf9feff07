package tui

import (
	"fmt"
	"os"
	"path/filepath"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
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

// firstSteps are what a newcomer is asked to try: the keys on the demo's desk and
// on one of which nothing is known, and what they do.
var firstSteps = [...]struct {
	demo, real, does string
	done             func(c desk.Command) bool
}{
	{"r a", "r a", "rescue what is lost", verbIs("rescue")},
	{"u", "u", "take it back", verbIs("undo")},
	{"a Enter", "a Enter", "add a workspace", verbIs("add")},
	{"s 3", "s 2", "send a window there", func(c desk.Command) bool { return c.Verb == "send" || c.Verb == "carry" }},
	{"/ radio", "/", "find a window", func(desk.Command) bool { return false }}, // see found
}

func verbIs(name string) func(desk.Command) bool {
	return func(c desk.Command) bool { return c.Verb == name }
}

// steps is how far a newcomer has come.
type steps struct {
	first FirstUse
	away  bool
	done  [len(firstSteps)]bool
}

func newSteps(f FirstUse) steps { return steps{first: f, away: f == nil || f.Done()} }

func (s *steps) visible() bool { return !s.away }

// did ticks off what a command that succeeded was a step of.
func (s *steps) did(c desk.Command) {
	for i, step := range firstSteps {
		s.done[i] = s.done[i] || step.done(c)
	}
}

// found ticks off that a window was found, which is the last step.
func (s *steps) found() { s.done[len(firstSteps)-1] = true }

// dismiss puts the corner away for good, and says so.
func (s *steps) dismiss() string {
	s.away = true
	if err := s.first.SetDone(); err != nil {
		return "Put the first steps away; they come back next time: " + err.Error()
	}
	return "Put the first steps away. ? shows all keys."
}

// keysOf are the keys of a step on this desk.
func (m *model) keysOf(step int) string {
	if m.opt.Simulated {
		return firstSteps[step].demo
	}
	return firstSteps[step].real
}

// firstLine writes the first steps in a line, where a corner would cover windows: the
// next one in words, and the keys of those after it.
func (m *model) firstLine(c *canvas, y int) {
	t := m.opt.Theme
	key, quiet := bold(t.style(t.Green)), t.style(t.Slate)
	line := []span{{"TRY  ", bold(t.style(t.Brass))}}
	then := false
	for i, step := range firstSteps {
		switch {
		case m.steps.done[i]:
		case !then:
			line, then = append(line, span{m.keysOf(i), key}, span{" " + step.does, t.style(t.Paper)}, span{"  then", quiet}), true
		default:
			line = append(line, span{"  " + m.keysOf(i), key})
		}
	}
	if !then {
		line = append(line, span{"all done", t.style(t.Paper)})
	}
	c.spans(1, y, c.w-2, append(line, span{"   Escape: away", quiet})...)
}

// firstUse draws the corner of first steps.
func (m *model) firstUse(c *canvas, p parts) {
	if !m.steps.visible() || m.asking() {
		return
	}
	if p.panel.Empty() {
		m.firstLine(c, p.legend-2)
		return
	}
	t := m.opt.Theme
	r := geom.R(c.w-36, p.legend-1-len(firstSteps)-3, 35, len(firstSteps)+3)
	st := t.style(t.Paper)
	c.fill(r, " ", st)
	c.box(r, roundFrame, t.style(t.Green), nil)
	c.text(r.X+2, r.Y, r.W-4, " TRY THESE ", bold(t.style(t.Green)))
	for i, step := range firstSteps {
		mark, line := "· ", st
		if m.steps.done[i] {
			mark, line = "√ ", t.style(t.Slate)
		}
		c.spans(r.X+2, r.Y+1+i, r.W-4, span{mark, bold(t.style(t.Green))}, span{fmt.Sprintf("%-8s%s", m.keysOf(i), step.does), line})
	}
	c.text(r.X+2, r.Bottom()-2, r.W-4, "Escape puts this away for good", t.style(t.Slate))
}
