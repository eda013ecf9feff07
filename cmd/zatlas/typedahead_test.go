package main_test

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"zatlas/internal/testkit"
)

// What the terminal answers comes to the screens, also where they are left by a key that was
// typed before they began: nothing of it is left for the shell.
func TestTypedAheadQuit(t *testing.T) {
	s := testkit.NewServer(t)
	s.Keeper(t)
	x := s.NewX(t)
	at := func(name string) string { return filepath.Join(s.Dir, name) }
	script := fmt.Sprintf("stty -echo; : > %s; until [ -e %s ]; do :; done; %s demo; stty -icanon min 0 time 20; cat > %s; mv %s %s",
		at("ready"), at("go"), testkit.Binary(t), at("part"), at("part"), at("left"))
	env := append(s.Env, "TERM_PROGRAM=") // a terminal of which the library knows nothing is asked
	testkit.Start(t, env, "xterm", "-title", "shell", "-e", "sh", "-c", script)
	there := func(name string) func() bool {
		return func() bool { _, err := os.Stat(at(name)); return err == nil }
	}
	testkit.Until(t, "the shell is there", there("ready"))
	testkit.Until(t, "it has the focus", func() bool { return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") != "0x0" })
	x.Press('q')
	if err := os.WriteFile(at("go"), nil, 0o600); err != nil {
		t.Fatal(err)
	}
	testkit.Until(t, "the screens were left, and the rest read", there("left"))
	if rest, err := os.ReadFile(at("left")); err != nil || len(rest) > 0 {
		t.Errorf("left for the shell is %q, %v", rest, err)
	}
}
