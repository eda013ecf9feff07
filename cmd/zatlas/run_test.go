package main

import (
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// Commands that are no apps are run, their words split as a shell splits them, by no
// shell; on the list of apps they stand last and are never chosen by themselves.
func TestRun(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"Atlas+Shift+X\" = \"run xclock -title chord\"\n")
	s.Keeper(t)
	s.Do(t, "add Stage", "add", "go 1")
	out := s.Do(t, `run xclock -title 'two words; $HOME'`)
	if !strings.Contains(out, "Started") {
		t.Errorf("run says %s", out)
	}
	s.Named(t, "two words; $HOME")
	for line, want := range map[string]string{
		"run nosuchprogram -x": "no program nosuchprogram can be run: it is not in the PATH",
		"run xclock 'open":     "has a quote that is not closed",
		"run":                  "a command, which is the rest of the line",
	} {
		if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", line); err == nil || !strings.Contains(strings.ToLower(out), strings.ToLower(want)) {
			t.Errorf("%s says %s", line, out)
		}
	}
	s.NewX(t).Press(testkit.Super, testkit.Shift, 'x')
	s.Named(t, "chord")
	term := testkit.NewTerminal(t, 120, 40, s.Env, testkit.Binary(t))
	term.Wait("Stage")
	term.Keys("o").Type("xclock -title listed").Wait("no app: Enter runs it as a command")
	term.Keys("Enter").Wait("Down and Enter run it")
	term.Keys("Down", "Enter").Wait("Started")
	s.Named(t, "listed")
	term.Keys("o").Type("nosuchprogram -x")
	if screen := term.Wait("No app fits that"); strings.Contains(screen, "runs it as a command") {
		t.Errorf("a program that is not there is offered:\n%s", screen)
	}
	term.Keys("Escape")
}
