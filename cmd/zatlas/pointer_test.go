package main

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// A random walk of the pointer, of chords and of commands over real windows on
// two monitors. After each step the display shows what the keeper says: every
// window of the workspace that is shown is mapped and at its place.
func TestPointerWalk(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Keeper(t)
	x := s.NewX(t)
	wins := map[string]xproto.Window{}
	open := func(i int) {
		title := fmt.Sprintf("walk%d", i)
		wins[title] = x.Window(title, 100*i, 80*i, 300+20*i, 200+30*i)
		x.Map(wins[title])
	}
	for i := range 6 {
		open(i)
	}
	s.Do(t, "add")
	rng := rand.New(rand.NewPCG(5, 6))
	steps := 200
	if testing.Short() {
		steps = 40
	}
	point := func() (int, int) {
		if rng.IntN(4) == 0 { // at an edge
			return []int{0, 1919, 1920, 3839}[rng.IntN(4)], rng.IntN(1080)
		}
		return rng.IntN(3840), []int{rng.IntN(30), rng.IntN(1080), rng.IntN(1080), 1079}[rng.IntN(4)]
	}
	id := func() string { return fmt.Sprintf("#%d", 1+rng.IntN(8)) }
	pick := func(words ...string) string { return words[rng.IntN(len(words))] }
	next := 6
	for step := range steps {
		fx, fy := point()
		tx, ty := point()
		var said string
		switch rng.IntN(8) {
		case 0, 1:
			said = fmt.Sprintf("Super and the left button from %d,%d to %d,%d", fx, fy, tx, ty)
			x.Hold(testkit.Super, func() { drag(x, 1, fx, fy, tx, ty) })
		case 2:
			said = fmt.Sprintf("Super and the right button from %d,%d to %d,%d", fx, fy, tx, ty)
			x.Hold(testkit.Super, func() { drag(x, 3, fx, fy, tx, ty) })
		case 3:
			said = fmt.Sprintf("the button from %d,%d to %d,%d", fx, fy, tx, ty)
			drag(x, 1, fx, fy, tx, ty)
		case 4:
			said = fmt.Sprintf("the wheel at %d,%d", fx, fy)
			x.Point(fx, fy)
			for _, b := range []byte{4, 5, 5} {
				x.Button(b, true)
				x.Button(b, false)
			}
		case 5:
			keys := [][]uint32{{testkit.Super, 't'}, {testkit.Super, 'm'}, {testkit.Super, 'f'}, {testkit.Super, testkit.Left}, {testkit.Super, testkit.Shift, testkit.Down}, {testkit.Super, '1'}, {testkit.Super, '2'}}[rng.IntN(7)]
			said = fmt.Sprintf("keys %#x", keys)
			x.Press(keys...)
		case 6:
			said = pick("layout tree", "layout tabs", "layout pile", "layout lead 2", "float of "+id(), "minimise of "+id(), "restore of all", "undo 2", "redo",
				"send B of "+id(), "send 2 of "+id(), "group next of "+id(), "layout tabs of #2 or #3", "stick of "+id())
			testkit.TryRun(s.Env, testkit.Binary(t), "do", said) // it may fail, and says why
		case 7:
			if rng.IntN(2) == 0 {
				said = "a window opens"
				open(next)
				next++
				break
			}
			for title, win := range wins {
				said = title + " closes"
				xproto.DestroyWindow(x.Conn, win)
				delete(wins, title)
				break
			}
		}
		if fault := differs(t, s, x, wins); fault != "" {
			t.Fatalf("step %d, %s: %s\n%s", step, said, fault, s.List(t))
		}
	}
}

// differs tells how the display differs from what the keeper says, once it has
// had time to follow; empty where it does not.
func differs(t *testing.T, s *testkit.Server, x *testkit.X, wins map[string]xproto.Window) string {
	fault := ""
	for end := time.Now().Add(testkit.Deadline); time.Now().Before(end); {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "list", "--json")
		if err != nil {
			return "the keeper does not answer: " + out
		}
		var list []struct {
			Title  string
			Ref    string
			States []string
			Rect   [4]int
		}
		if err := json.Unmarshal([]byte(out), &list); err != nil {
			return err.Error()
		}
		here := s.Xprop(t, "root", "_NET_CURRENT_DESKTOP")
		if fault = ""; len(list) != len(wins) {
			fault = fmt.Sprintf("%d windows are listed, %d are there", len(list), len(wins))
		}
		for _, w := range list {
			states := strings.Join(w.States, " ")
			shown := !strings.Contains(states, "minimised") && (strings.Contains(states, "sticky") || fmt.Sprint(int(w.Ref[1]-'1')) == here)
			px, py, ww, wh, b, ok := x.Geometry(wins[w.Title])
			switch got := [4]int{px, py, ww + 2*b, wh + 2*b}; {
			case !ok:
				fault = w.Title + " is not there"
			case x.Viewable(wins[w.Title]) != shown:
				fault = fmt.Sprintf("%s is shown: %v, on %s, %s", w.Title, !shown, w.Ref, states)
			case shown && got != w.Rect:
				fault = fmt.Sprintf("%s is at %v, and said to be at %v", w.Title, got, w.Rect)
			}
		}
		if fault == "" {
			return ""
		}
	}
	return fault
}
