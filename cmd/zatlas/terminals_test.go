package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// recorded runs a command in a real xterm and gives the file that all it writes there is
// in, by script(1).
func recorded(t *testing.T, s *testkit.Server, xterm []string, command string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "written")
	args := append(append([]string{}, xterm...), "-geometry", "150x42", "-e", "sh", "-c", `echo $$ >"$1.pid"; exec script -qefc "$0" "$1"`, command, file)
	testkit.Start(t, s.Env, "xterm", args...)
	t.Cleanup(func() { // it outlives its terminal
		if pid, err := os.ReadFile(file + ".pid"); err == nil {
			testkit.TryRun(nil, "kill", "-KILL", strings.TrimSpace(string(pid)))
		}
	})
	return file
}

// In each kind of terminal doctor says what that can, in plain text, and no title of a
// window; the screens draw with marks that it has.
func TestTerminals(t *testing.T) {
	t.Parallel()
	s, _ := sixWindows(t)
	bin := testkit.Binary(t)
	s.Do(t, "focus #1")
	colours := func(term string) []string { return []string{"TERM=" + term, "COLORTERM=", "TMUX="} }
	for _, c := range []struct {
		name  string
		env   []string
		wants []string
	}{
		{"tmux", nil, []string{"kind         tmux-256color", "150 columns, 42 rows", "colours      256", "taken for one column wide", "process ", "6 windows, 0 lost; you are on A1"}},
		{"16 colours", colours("xterm-16color"), []string{"kind         xterm-16color", "colours      16"}},
		{"a console", colours("linux"), []string{"kind         linux", "colours      16", "plain letters"}},
		{"no colours", []string{"NO_COLOR=1"}, []string{"colours      none, as it was asked for"}},
		{"dumb", colours("dumb"), []string{`TERM is "dumb"`, "Use another terminal", "thing to be done, marked by >"}},
	} {
		term := testkit.NewTerminal(t, 150, 42, append(s.Env, c.env...), bin, "doctor")
		term.Ended()
		screen := term.Screen()
		for _, want := range c.wants {
			if !strings.Contains(screen, want) {
				t.Errorf("in %s doctor says no %q:\n%s", c.name, want, screen)
			}
		}
		if strings.Contains(screen, "#1") || strings.Contains(screen, "logo") {
			t.Errorf("in %s doctor tells of windows:\n%s", c.name, screen)
		}
	}
	piped, err := testkit.TryRun(s.Env, bin, "doctor")
	if err != nil || !strings.Contains(piped, "no terminal here") || strings.Contains(piped, "\x1b") {
		t.Errorf("over a pipe: %v\n%s", err, piped)
	}
	read := func(file string) string { text, _ := os.ReadFile(file); return string(text) }
	for _, c := range []struct {
		xterm       []string
		says, draws string
	}{
		{nil, "one column wide, as they should be", "─"},
		{[]string{"-cjk_width"}, "two columns wide here", "+-----"},
	} {
		said := recorded(t, s, c.xterm, bin+" doctor")
		testkit.Until(t, "doctor says that marks are "+c.says, func() bool { return strings.Contains(read(said), c.says) })
		drawn := recorded(t, s, c.xterm, bin+" demo")
		testkit.Until(t, "the screens draw "+c.draws, func() bool { return strings.Contains(read(drawn), c.draws) })
	}
	term := testkit.NewTerminal(t, 150, 42, append(s.Env, colours("linux")...), bin, "demo")
	if screen := term.Wait("TRY THESE", "+-----"); strings.ContainsAny(screen, "─│●…") {
		t.Errorf("on a console:\n%s", screen)
	}
}
