package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// A key that is a chord's in one group of the layout goes to the program that has the focus
// where it is another letter in the group that is on.
func TestKeyOfAnotherGroup(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[keeper]\nchords = \"none\"\n[chords]\n\"Atlas+A\" = \"add\"\n")
	testkit.Run(t, s.Env, "setxkbmap", "-layout", "us,fr")
	s.Keeper(t)
	log := filepath.Join(s.Dir, "events")
	testkit.Start(t, s.Env, "sh", "-c", "exec xev -name watched -event keyboard > "+log)
	s.Focused(t, s.Named(t, "watched"))
	x := s.NewX(t)
	seen := func(what string) bool { data, _ := os.ReadFile(log); return strings.Contains(string(data), what) }
	added := func(n string) {
		t.Helper()
		s.RootIs(t, "_NET_NUMBER_OF_DESKTOPS", n)
	}
	const left, above = 38, 24 // a and q on a US keyboard, q and a on a French one
	x.PressCode(testkit.Super, left)
	added("2")
	x.PressCode(testkit.Super, above)
	testkit.Until(t, "q is the program's", func() bool { return seen("keysym 0x71, q") })
	x.Group(1)
	x.PressCode(testkit.Super, above)
	added("3")
	if seen("keysym 0x61, a") {
		t.Error("the chord has come to the program too")
	}
	x.PressCode(testkit.Super, left)
	// The server tells it of the press without the group, which is not ours to mend.
	testkit.Until(t, "the key is the program's there too", func() bool { return seen("keycode 38 (") })
	s.Do(t, "go 1")
	added("3")
}
