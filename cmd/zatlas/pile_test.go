package main

import (
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// arranged starts a keeper on a server with three windows in columns on A, and
// gives their X ids by title.
func arranged(t *testing.T) (*testkit.Server, *testkit.X, map[string]string) {
	s := managed(t)
	ids := map[string]string{}
	for _, name := range []string{"one", "two", "three"} {
		ids[name] = client(t, s, name, "xterm")
	}
	s.Do(t, "layout columns")
	where(t, s, ids["three"], true, 1280, 0, 640, 1080)
	return s, s.NewX(t), ids
}

// headings are the windows over piles and tabs that are shown.
func headings(s *testkit.Server) []string {
	ids, _ := shownAs(s, "Zealous Atlas heading")
	return ids
}

// active counts the headings whose picture has the mark of the one in front.
func active(x *testkit.X, headings []string) int {
	n := 0
	for _, id := range headings {
		if x.HasColour(id, 0xd9a441) && x.HasColour(id, 0xe9dfc7) {
			n++
		}
	}
	return n
}

// Tabs and piles on a real display: headings of 24 pixels, clicks and the wheel
// on them, the focus through them, and a window dragged out by its heading.
func TestPileOnDisplay(t *testing.T) {
	t.Parallel()
	s, x, ids := arranged(t)
	s.Do(t, "focus #1", "layout tabs")
	for _, id := range ids {
		where(t, s, id, true, 0, 24, 1920, 1056)
	}
	testkit.Until(t, "there are three headings", func() bool { return len(headings(s)) == 3 })
	// One of them is told apart by more than its place: a mark, and another ground.
	testkit.Until(t, "the first heading shows that it is active", func() bool {
		hs := headings(s)
		return len(hs) == 3 && active(x, hs) == 1
	})
	click := func(button byte, px, py int) {
		x.Point(px, py)
		x.Button(button, true)
		x.Button(button, false)
	}
	click(1, 1600, 10)
	s.Focused(t, ids["three"])
	top := func() string {
		list := strings.Split(s.Xprop(t, "root", "_NET_CLIENT_LIST_STACKING"), ", ")
		return list[len(list)-1]
	}
	testkit.Until(t, "it lies over the others", func() bool { return top() == ids["three"] })
	click(4, 1600, 10)
	s.Focused(t, ids["two"])
	click(5, 10, 10)
	s.Focused(t, ids["three"])
	x.Press(testkit.Super, testkit.Left)
	s.Focused(t, ids["two"])
	s.Do(t, "focus right")
	s.Focused(t, ids["three"])
	s.Do(t, "layout pile")
	where(t, s, ids["one"], true, 0, 24, 1920, 1056)
	click(1, 6, 10) // the edge of the first, at the left of the heading
	s.Focused(t, ids["one"])
	click(1, 1902, 10) // that of the second, before the edge of the third
	s.Focused(t, ids["two"])
	s.Do(t, "focus up")
	s.Focused(t, ids["one"])
	// In a tree: one beside tabs of the others, and one of these dragged out.
	s.Do(t, "layout tree", "ungroup all of #1", "group right of #2", "layout tabs of #2 or #3")
	where(t, s, ids["two"], true, 640, 24, 1280, 1056)
	testkit.Until(t, "two headings are left", func() bool { return len(headings(s)) == 2 })
	drag(x, 1, 700, 10, 100, 540)
	where(t, s, ids["two"], true, 0, 0, 480, 1080)
	where(t, s, ids["three"], true, 960, 0, 960, 1080)
	testkit.Until(t, "no heading is left", func() bool { return len(headings(s)) == 0 })
	s.Do(t, "undo")
	where(t, s, ids["two"], true, 640, 24, 1280, 1056)
}

// drag presses a button at a point, moves the pointer to another and lets go.
func drag(x *testkit.X, button byte, fx, fy, tx, ty int) {
	x.Point(fx, fy)
	x.Button(button, true)
	x.Point((fx+tx)/2, (fy+ty)/2)
	x.Point(tx, ty)
	x.Button(button, false)
}

// With Super, tiles are dragged to where an outline shows, and their shared
// edges moved; in a gap the pointer alone moves these. A floating window let go
// at an edge is snapped, and dragged away has its old size.
func TestDragOnDisplay(t *testing.T) {
	t.Parallel()
	s, x, ids := arranged(t)
	super := func(do func()) { x.Hold(testkit.Super, do) }
	super(func() {
		x.Point(200, 500)
		x.Button(1, true)
		x.Point(1300, 500)
		testkit.Until(t, "an outline shows where it would go", func() bool {
			out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
			return strings.Contains(out, `"Zealous Atlas outline": ()  640x4+640+0`)
		})
		where(t, s, ids["one"], true, 0, 0, 640, 1080)
		x.Button(1, false)
	})
	where(t, s, ids["one"], true, 640, 0, 640, 1080) // before three
	where(t, s, ids["two"], true, 0, 0, 640, 1080)
	s.Do(t, "undo")
	where(t, s, ids["one"], true, 0, 0, 640, 1080)
	super(func() { drag(x, 1, 200, 500, 960, 500) }) // the middle: they change places
	where(t, s, ids["one"], true, 640, 0, 640, 1080)
	super(func() { drag(x, 1, 700, 500, 0, 500) }) // the edge of the monitor
	where(t, s, ids["one"], true, 0, 0, 640, 1080)
	super(func() { drag(x, 3, 600, 500, 700, 500) }) // a shared edge
	where(t, s, ids["one"], true, 0, 0, 740, 1080)
	where(t, s, ids["two"], true, 740, 0, 540, 1080)
	s.Do(t, "undo") // a drag is one step
	where(t, s, ids["one"], true, 0, 0, 640, 1080)
	s.Do(t, "redo")
	where(t, s, ids["one"], true, 0, 0, 740, 1080)
	// Floating: snapped at an edge, and loose again with its old size.
	s.Do(t, "float of #3", "cascade of #3")
	_, _, w, h, _, _ := s.Info(ids["three"])
	super(func() { drag(x, 1, 100, 100, 1915, 500) })
	where(t, s, ids["three"], true, 960, 0, 960, 1080)
	super(func() { drag(x, 1, 1440, 500, 1000, 400) })
	testkit.Until(t, "it has its old size", func() bool { _, _, nw, nh, _, _ := s.Info(ids["three"]); return nw == w && nh == h })
}

// What the settings say of arranging: a gap whose middle the pointer drags, a
// layout by rule, and the edge over which move goes on.
func TestArrangeBySettings(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	text := "[desk]\ngap = 20\nedge = true\n[[rules]]\nmatch = 'title:=two'\nto = '2'\nlayout = 'pile'\n"
	s.Settings(t, text)
	s.Keeper(t)
	s.Do(t, "add")
	x := s.NewX(t)
	one, three := client(t, s, "one", "xterm"), client(t, s, "three", "xterm")
	where(t, s, one, true, 20, 20, 930, 1040)
	where(t, s, three, true, 970, 20, 930, 1040)
	drag(x, 1, 960, 500, 1060, 500)
	where(t, s, one, true, 20, 20, 1030, 1040)
	where(t, s, three, true, 1070, 20, 830, 1040)
	x.Point(960, 10) // the gap around them belongs to no two
	x.Button(1, true)
	x.Point(960, 300)
	x.Button(1, false)
	two := client(t, s, "two", "xterm")
	if got := s.List(t, "on:2"); !strings.Contains(got, "two") {
		t.Errorf("on 2 is %s", got)
	}
	s.Do(t, "go 2", "send 2 of title:=three", "go 2")
	where(t, s, two, true, 20, 44, 1880, 1016) // under one heading
	where(t, s, one, false, 20, 20, 1880, 1040)
	s.Do(t, "go 1", "move down of title:=one")
	testkit.Until(t, "it went over the edge, and the view along", func() bool {
		return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "1" && strings.Contains(s.List(t, "on:2"), "one")
	})
}
