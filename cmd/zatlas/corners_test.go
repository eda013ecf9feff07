package main

import (
	"strings"
	"testing"
	"time"

	"zatlas/internal/testkit"
)

// The pointer that rests in a corner shows what the settings say: not in passing, not
// with a button down, not over a fullscreen window, and not where another monitor goes on.
func TestCorners(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	path := s.Settings(t, "[corners]\nbottomright = \"bare\"\ntopleft = \"strays\"\n")
	s.Keeper(t)
	one := client(t, s, "one", "xterm")
	x := s.NewX(t)
	bare := func() bool { return s.Xprop(t, "root", "_NET_SHOWING_DESKTOP") == "1" }
	const quiet = 400 * time.Millisecond // longer than the pointer has to rest
	away := func() { x.Point(900, 500) }
	away()
	x.Point(1919, 1079)
	testkit.Until(t, "the bare desk shows", bare)
	time.Sleep(quiet)
	if !bare() {
		t.Error("it does not stay")
	}
	away()
	x.Point(1919, 1079)
	testkit.Until(t, "and goes by the same corner", func() bool { return !bare() })
	stays := func(what string) {
		t.Helper()
		time.Sleep(quiet)
		if bare() {
			t.Errorf("the bare desk shows %s", what)
		}
	}
	away()
	x.Point(1919, 1079)
	away()
	stays("in passing")
	x.Button(1, true)
	x.Point(1919, 1079)
	stays("with a button down")
	x.Button(1, false)
	away()
	s.Do(t, "fullscreen of title:=one")
	testkit.Until(t, "it is fullscreen", func() bool { return strings.Contains(s.Xprop(t, one, "_NET_WM_STATE"), "FULLSCREEN") })
	x.Point(1919, 1079)
	stays("over a fullscreen window")
	away()
	s.Do(t, "fullscreen of title:=one")
	s.Plug(t, "DUMMY1", 1920, 0)
	testkit.Until(t, "the monitor is there", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "focus B")
		return err == nil
	})
	x.Point(1919, 1079)
	stays("where the pointer goes on to another monitor")
	x.Point(3839, 1079)
	testkit.Until(t, "the corner of all of them shows it", bare)
	s.Do(t, "bare")
	away()
	x.Point(0, 0)
	testkit.Until(t, "a screen comes up", func() bool {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		for line := range strings.Lines(out) {
			if strings.Contains(line, `"Zealous Atlas [`) {
				return s.Seen(strings.Fields(line)[0])
			}
		}
		return false
	})
	s.Settings(t, "")
	s.Do(t, "reload", "focus #1")
	if out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree"); strings.Contains(out, "Zealous Atlas corner") {
		t.Errorf("corners are left that the settings at %s no longer have", path)
	}
}
