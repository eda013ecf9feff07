package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// The whole of a day's work by chords alone, on a display where no screen of ours is ever
// brought up: made, gone to, sent, carried, laid out, placed, lost, rescued, found, undone,
// removed. The keys are counted.
func TestDayByChords(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	begins := filepath.Join(t.TempDir(), "begins") // gives its window a title once it runs: a terminal is deaf until then
	if err := os.WriteFile(begins, []byte("#!/bin/sh\nprintf '\\033]2;started\\007'\nexec cat\n"), 0o700); err != nil {
		t.Fatal(err)
	}
	s.Settings(t, "[chords]\n\"Atlas+Q c\" = \"run xterm -e "+begins+"\"\n")
	s.Keeper(t)
	ids := map[string]string{}
	for _, name := range []string{"one", "two", "three"} {
		ids[name] = client(t, s, name, "xterm")
	}
	x := s.NewX(t)
	count := 0
	chord := func(keys ...uint32) { count += len(keys); x.Press(append([]uint32{testkit.Super}, keys...)...) }
	then := func(keys ...uint32) {
		count += len(keys)
		for _, k := range keys {
			x.Press(k)
		}
	}
	wants := func(what string, cond func() bool) { t.Helper(); testkit.Until(t, what, cond) }
	root := func(property string) string { return s.Xprop(t, "root", property) }
	on := func(n string) { t.Helper(); wants("on "+n, func() bool { return root("_NET_CURRENT_DESKTOP") == n }) }
	sits := func(name, n string) {
		t.Helper()
		wants(name+" is on "+n, func() bool { return workspaceOf(t, s, name) == n })
	}
	is := func(query, name string) func() bool {
		return func() bool {
			return strings.Contains(s.List(t, query), name)
		}
	}
	const shift, ctrl = testkit.Shift, testkit.Control

	chord('a')
	chord('a')
	wants("three workspaces", func() bool { return root("_NET_NUMBER_OF_DESKTOPS") == "3" })
	s.Focused(t, ids["three"])
	chord(shift, '2') // sent by number
	sits("three", "2")
	s.Focused(t, ids["two"])
	chord('2')
	on("1")
	s.Focused(t, ids["three"])
	chord('b')
	on("0")
	chord('s') // asked
	then('3')
	sits("two", "3")
	chord('u')
	sits("two", "1")
	chord(ctrl, '2')
	on("1")
	sits("two", "2")
	chord('u')
	chord('1')
	on("0")
	// Side by side.
	chord('t')
	then('c')
	where(t, s, ids["one"], true, 0, 0, 960, 1080)
	chord(testkit.Left)
	s.Focused(t, ids["one"])
	chord('w')
	then(testkit.Right)
	where(t, s, ids["one"], true, 960, 0, 960, 1080)
	chord('m')
	where(t, s, ids["one"], true, 0, 0, 1920, 1080)
	chord('m')
	where(t, s, ids["one"], true, 960, 0, 960, 1080)
	chord('p')
	then('t', testkit.Right)
	where(t, s, ids["one"], true, 1280, 0, 640, 1080)
	// Out of sight and back by the list.
	chord(shift, 'm')
	wants("it is minimised", is("is:minimised", "one"))
	// Lost, and rescued.
	var win xproto.Window = x.Window("stray", 100, 100, 400, 300)
	x.Cards(win, "WM_NORMAL_HINTS", x.Atom("WM_SIZE_HINTS"), 1|2, 100, 100, 400, 300, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)
	x.Map(win)
	wants("it is on the desk", is("title:=stray", "stray"))
	chord('f')
	wants("it floats", is("is:floating", "stray"))
	xproto.ConfigureWindow(x.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY, []uint32{9000, 9000})
	wants("it is lost", is("is:stray", "stray"))
	chord('r')
	then('a')
	wants("it is in reach", func() bool { return !is("is:stray", "stray")() })
	// Found: by a letter, by the recent ones, by its app.
	chord(shift, 'v')
	x.Press(shift, 'k')
	count += 2
	chord('2')
	on("1")
	chord('v')
	then('k')
	on("0")
	wants("the letter leads to it", func() bool { return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == hex(win) })
	chord(testkit.Tab)
	wants("the window before has the focus", func() bool { return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") != hex(win) })
	// Started, closed, removed, put in order.
	chord('q')
	then('c')
	clock := s.Named(t, "started")
	s.Focused(t, clock)
	chord('x')
	wants("it is closed", func() bool { _, _, _, _, _, ok := s.Info(clock); return !ok })
	chord('3')
	on("2")
	chord(shift, 'k')
	chord('u')
	chord(shift, 'a') // it is empty, and nothing is asked
	wants("two workspaces", func() bool { return root("_NET_NUMBER_OF_DESKTOPS") == "2" })
	chord('2')
	on("1")
	chord(shift, 'a')
	then('a')
	wants("one workspace", func() bool { return root("_NET_NUMBER_OF_DESKTOPS") == "1" })
	sits("three", "1")
	if out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree"); strings.Contains(out, `"Zealous Atlas [`) {
		t.Error("a screen was brought up")
	}
	t.Logf("the day took %d keys, the atlas key not counted", count)
	if count > 50 {
		t.Errorf("the day took %d keys, and 50 are enough", count)
	}
}

// hex is a window as xprop prints it.
func hex(win xproto.Window) string { return fmt.Sprintf("%#x", win) }
