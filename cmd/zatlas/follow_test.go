package main

import (
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// pointing starts a keeper with the focus by a way of the pointer, and three tiles side
// by side.
func pointing(t *testing.T, way string) (s *testkit.Server, x *testkit.X, ids map[string]string) {
	t.Helper()
	s = testkit.NewServer(t)
	s.Settings(t, "[desk]\nlayout = \"columns\"\n[keeper]\npointer = \""+way+"\"\n")
	x = s.NewX(t)
	x.Point(1900, 1070)
	s.Keeper(t)
	ids = map[string]string{}
	for _, title := range []string{"one", "two", "three"} {
		ids[title] = client(t, s, title, "xterm")
	}
	return s, x, ids
}

func pointerAt(t *testing.T, x *testkit.X) (px, py int) {
	t.Helper()
	r, err := xproto.QueryPointer(x.Conn, x.Root).Reply()
	if err != nil {
		t.Fatal(err)
	}
	return int(r.RootX), int(r.RootY)
}

// The focus follows the pointer into a window, and stays where it is when windows come
// under the pointer by what the keeper does.
func TestFocusFollowsPointer(t *testing.T) {
	t.Parallel()
	s, x, ids := pointing(t, "follow")
	focus := func() string { return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") }
	for _, step := range []struct {
		to   string
		x, y int
	}{{"one", 300, 500}, {"two", 900, 500}, {"three", 1600, 400}, {"one", 200, 200}} {
		x.Point(step.x, step.y)
		testkit.Until(t, step.to+" has the focus", func() bool { return focus() == ids[step.to] })
	}
	// The pointer rests on one. What is laid out anew comes under it.
	s.Do(t, "focus #3", "swap left", "swap left")
	if got := focus(); got != ids["three"] {
		t.Errorf("after windows came under the pointer %s has the focus, want %s", got, ids["three"])
	}
	s.Do(t, "focus #2", "layout rows", "layout columns", "add", "go 2", "go 1")
	if got := focus(); got != ids["two"] {
		t.Errorf("after going there and back %s has the focus, want %s", got, ids["two"])
	}
	px, py := pointerAt(t, x)
	if px != 200 || py != 200 {
		t.Errorf("the pointer was moved to %d,%d", px, py)
	}
	x.Point(px+600, py)
	testkit.Until(t, "moved again, it leads to what is under it", func() bool { return focus() == ids["one"] })
	x.Point(px+3, py)
	testkit.Until(t, "and back", func() bool { return focus() == ids["three"] })
	x.Press(testkit.Super, testkit.Right)
	testkit.Until(t, "keys go before a pointer that rests", func() bool { return focus() == ids["one"] })
}

// The pointer is brought into a window that gets the focus by keys, and stays where it is
// in one that it is in already.
func TestPointerIsBroughtAlong(t *testing.T) {
	t.Parallel()
	s, x, ids := pointing(t, "warp")
	in := func(title string) bool {
		px, py := pointerAt(t, x)
		wx, wy, w, h, _, _ := s.Info(ids[title])
		return px >= wx && px < wx+w && py >= wy && py < wy+h
	}
	s.Do(t, "focus #1")
	if !in("one") {
		t.Error("the pointer is not in the window that got the focus")
	}
	x.Press(testkit.Super, testkit.Right)
	testkit.Until(t, "it goes along to two", func() bool { return in("two") })
	wx, wy, _, _, _, _ := s.Info(ids["three"])
	x.Point(wx+40, wy+30)
	s.Do(t, "focus #3")
	if px, py := pointerAt(t, x); px != wx+40 || py != wy+30 {
		t.Errorf("it was moved to %d,%d within the window it was in", px, py)
	}
	x.Point(10, 10) // by hand: it stays there, as no focus moves
	s.Do(t, "rename Foyer")
	if px, py := pointerAt(t, x); px != 10 || py != 10 {
		t.Errorf("a command that moves no focus brought the pointer to %d,%d", px, py)
	}
	client(t, s, "four", "xterm")
	if px, py := pointerAt(t, x); px != 10 || py != 10 {
		t.Errorf("a window that opened brought the pointer to %d,%d", px, py)
	}
}
