package main

import (
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// Settings with a fault: the other rows count from the start, every screen opens and tells
// the place until it is mended, and doctor and reload tell it too.
func TestFaultySettings(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"Atlas+Period\" = \"go next\"\n\"Atlas+F6\" = \"go 2\"\n[desk]\nworkspaces = 3\n")
	s.Keeper(t)
	x := s.NewX(t)
	current := func() string { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") }
	s.RootIs(t, "_NET_NUMBER_OF_DESKTOPS", "3")
	x.Press(testkit.Super, 0xffc3) // F6
	testkit.Until(t, "a chord of the file works", func() bool { return current() == "1" })
	x.Press(testkit.Super, '3')
	testkit.Until(t, "and one that comes with the program", func() bool { return current() == "2" })
	tells := func(what string, args ...string) {
		t.Helper()
		if out, _ := testkit.TryRun(s.Env, testkit.Binary(t), args...); !strings.Contains(out, "settings.toml:2:1") {
			t.Errorf("%s does not tell the place: %s", what, out)
		}
	}
	tells("doctor", "doctor")
	tells("the logbook", "log")
	tells("reload", "do", "reload")
	term := testkit.NewTerminal(t, 160, 44, s.Env, testkit.Binary(t))
	term.Wait("! settings, line 2", "settings.toml:2:1")
	for _, screen := range []struct{ keys, title string }{{"; e", "SETTINGS"}, {"; r", "RULES"}, {"; l", "LOGBOOK"}, {"; s", "SURVEY"}, {"; p", "PLATES"}, {"; !", "STRAYS"}, {"; w", "RECENT"}, {"?", "ALL KEYS"}} {
		term.Keys("Home").Keys(strings.Fields(screen.keys)...)
		term.Wait(screen.title, "! settings, line 2")
		term.Keys("Escape").Wait("ZEALOUS ATLAS", "not to scale")
	}
	// At a reload a row at fault keeps its old value, and the others count.
	s.Settings(t, "[chords]\n\"Atlas+F6\" = \"fly\"\n\"Atlas+F7\" = \"go 1\"\n")
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "reload"); err == nil || !strings.Contains(out, "settings.toml:2:1") {
		t.Errorf("reload says %s, %v", out, err)
	}
	x.Press(testkit.Super, 0xffc3)
	testkit.Until(t, "F6 stands for what it did", func() bool { return current() == "1" })
	x.Press(testkit.Super, 0xffc4)
	testkit.Until(t, "F7 works", func() bool { return current() == "0" })
	s.Settings(t, "[chords]\n\"Atlas+F7\" = \"go 1\"\n")
	s.Do(t, "reload")
	testkit.Until(t, "mended, it is not told any more", func() bool { return !strings.Contains(term.Screen(), "settings, line") })
}
