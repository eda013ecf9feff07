package desk_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
)

// plugged is a desk after a host told it its monitors, with what was said.
func plugged(t *testing.T, d *desk.Desk, ms ...desk.Monitor) (*desk.Desk, string) {
	t.Helper()
	next, words := d.With(desk.MonitorsAre{Monitors: ms})
	if err := next.Check(); err != nil {
		t.Fatal(err)
	}
	return next, strings.Join(words, " ")
}

func TestMirrors(t *testing.T) {
	a := desk.Monitor{Key: "scene-A", Rect: geom.R(0, 0, 1000, 800), Work: geom.R(0, 0, 1000, 760), Primary: true}
	b := desk.Monitor{Key: "scene-B", Rect: geom.R(1000, 0, 2000, 1000)}
	over := func(x, y, w, h int) desk.Monitor { return desk.Monitor{Key: "scene-B", Rect: geom.R(x, y, w, h)} }
	d := read(t, two)
	for _, c := range []struct {
		name  string
		b     desk.Monitor
		words string
	}{
		{"the same picture", over(0, 0, 1000, 800), "Monitor B mirrors A now. 3 windows went to A."},
		{"a part of it", over(100, 100, 640, 480), "Monitor B mirrors A now. 3 windows went to A."},
	} {
		m, words := plugged(t, d, a, c.b)
		if words != c.words {
			t.Errorf("%s: %q", c.name, words)
		}
		if mon := m.Monitor('B'); mon.Connected || mon.Mirrors != 'A' || m.Sheet(0, 'B') != nil || m.Ref(m.Window(4)) != "A1" {
			t.Errorf("%s: B is %+v, #4 on %s", c.name, mon, m.Ref(m.Window(4)))
		}
		if _, _, err := apply(t, m, "send B of #1"); err == nil || !strings.Contains(err.Error(), "mirrors A") {
			t.Errorf("%s: send B: %v", c.name, err)
		}
		again, _ := plugged(t, m, a, c.b)
		roundTrip(t, again)
		back, words := plugged(t, again, a, b)
		if words != "Monitor B is plugged in. 3 windows came home." || where(back, 4, 5) != where(d, 4, 5) {
			t.Errorf("%s, then apart: %q %s", c.name, words, where(back, 4, 5))
		}
	}
	// The larger one is the one with sheets, whichever is primary.
	m, _ := plugged(t, d, a, over(-100, -100, 3000, 2000))
	if mon := m.Monitor('A'); mon.Mirrors != 'B' || m.Ref(m.Window(1)) != "B1" {
		t.Errorf("A in B: %+v, #1 on %s", mon, m.Ref(m.Window(1)))
	}
}

// A monitor that is turned, or changes its resolution, keeps its letter and its
// windows: tiles fill it, floating ones keep their share of the free room.
func TestMonitorTurns(t *testing.T) {
	b := desk.Monitor{Key: "scene-B", Rect: geom.R(1000, 0, 2000, 1000)}
	d, _ := plugged(t, read(t, two), desk.Monitor{Key: "scene-A", Rect: geom.R(0, 0, 800, 1000), Primary: true}, b)
	// #3, 400×300 flush right and bottom of 1000×760, stays flush.
	if got, want := where(d, 1, 2, 3, 4), "#1 A1 0,0,400,1000 #2 A1 400,0,400,1000 #3 A1 400,700,400,300 #4 B1 1000,0,1200,1000"; got != want {
		t.Errorf("turned: %s\nwant %s", got, want)
	}
}

// Three monitors are pulled and plugged in again in every order: all is as it was.
// A window that became smaller with its monitor is as large as before once the monitor is, also
// where a step before was undone and done again in the meantime.
func TestUndoWhileSmaller(t *testing.T) {
	d := read(t, two)
	small := slices.Clone(d.Monitors)
	small[0].Rect, small[0].Work = geom.R(0, 0, 300, 200), geom.R(0, 0, 300, 160)
	moved := after(t, d, "nudge left 100 of #3")
	want := moved.Window(3).Rect
	d, _ = moved.With(desk.MonitorsAre{Monitors: small})
	if d.Window(3).Rect.W >= want.W {
		t.Fatalf("on a smaller monitor it has %v", d.Window(3).Rect)
	}
	d, _ = after(t, d, "undo", "redo").With(desk.MonitorsAre{Monitors: moved.Monitors})
	if got := d.Window(3).Rect; got != want {
		t.Errorf("it is %v now, and was %v", got, want)
	}
}

func TestEveryOrder(t *testing.T) {
	ms := []desk.Monitor{
		{Key: "scene-A", Rect: geom.R(0, 0, 1000, 800), Work: geom.R(0, 0, 1000, 760), Primary: true},
		{Key: "scene-B", Rect: geom.R(1000, 0, 2000, 1000)},
		{Key: "scene-C", Rect: geom.R(3000, 0, 500, 500)},
	}
	orders := [][]int{{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}
	for n := range 4 {
		separate, shift, left := n%2 == 1, n > 1, 0
		start, _ := plugged(t, read(t, two), ms...)
		start, _ = start.With(desk.Settle{Settings: desk.Settings{Separate: separate}})
		for _, pull := range orders {
			for _, plug := range orders {
				d, in := start, map[int]bool{0: true, 1: true, 2: true}
				step := func(i int, on bool) {
					in[i] = on
					var now []desk.Monitor
					for j, m := range ms {
						if !in[j] {
							continue
						}
						// As a server does, what is left moves to the origin.
						if shift && len(now) == 0 {
							left = m.Rect.X
						}
						m.Rect.X -= left
						if m.Work.X -= left; m.Work.Empty() {
							m.Work = m.Rect
						}
						now = append(now, m)
					}
					d, _ = plugged(t, d, now...)
				}
				for _, i := range pull {
					step(i, false)
				}
				if d.Connected('A') != (pull[2] == 0) {
					t.Fatalf("with none connected the last stays: %+v", d.Monitors)
				}
				for _, i := range plug {
					step(i, true)
				}
				ids := []int{1, 2, 3, 4, 5, 6, 7}
				if got, want := where(d, ids...), where(start, ids...); got != want {
					t.Fatalf("separate %v, pulled %v, plugged in %v:\n%s\nwant\n%s", separate, pull, plug, got, want)
				}
			}
		}
	}
}

func TestNextMonitor(t *testing.T) {
	d := read(t, two)
	d, _ = plugged(t, d, slices.Concat(d.Plugged(), []desk.Monitor{{Key: "scene-C", Rect: geom.R(3000, 0, 500, 500)}})...)
	for _, c := range []struct{ line, want string }{
		{"focus monitor next", "#4 at B"}, {"focus monitor prev", "#0 at C"},
		{"focus B; focus monitor next", "#0 at C"}, {"focus C; focus monitor next", "#1 at A"},
	} {
		got := after(t, d, strings.Split(c.line, "; ")...)
		if s := fmt.Sprintf("#%d at %c", got.Focus, got.At); s != c.want {
			t.Errorf("%s: %s, want %s", c.line, s, c.want)
		}
	}
	for line, want := range map[string]string{"send monitor next of #1": "B1", "send monitor prev of #1": "C1", "send monitor next of #6": "B2"} {
		got, r, err := apply(t, d, line)
		if err != nil || got.Ref(got.Window(r.Windows[0])) != want {
			t.Errorf("%s: %v, %+v", line, err, r)
		}
	}
}

// A workspace that is moved on by several keys in a second is one step, and
// goes back by one undo.
func TestBurst(t *testing.T) {
	d := read(t, two)
	at := func(ms int64, line string) {
		t.Helper()
		c, err := lang.ParseCommand(line)
		if err != nil {
			t.Fatal(err)
		}
		c.At = ms
		if d, _, err = d.Apply(c); err != nil {
			t.Fatal(err)
		}
	}
	order := func() string { return fmt.Sprint(d.Title(0), ", ", d.Title(1), ", ", d.Title(2)) }
	at(1000, "reorder 1 to 2")
	at(1800, "reorder 2 to 3")
	at(2600, "reorder 3 to 2")
	if order() != "1 Side, 2 Main, 3" {
		t.Fatal(order())
	}
	at(2700, "reorder 1 to 3") // another workspace: another step
	at(2800, "undo")
	if order() != "1 Side, 2 Main, 3" {
		t.Errorf("after one undo: %s", order())
	}
	at(2900, "undo")
	if order() != "1 Main, 2 Side, 3" {
		t.Errorf("after two: %s", order())
	}
}

// Windows that open on a display after the keeper did go where those that look
// like them were, in whatever order they come.
func TestAwaited(t *testing.T) {
	kept := read(t, two)
	for _, order := range [][]int{{1, 2, 3, 4, 5, 6}, {6, 5, 4, 3, 2, 1}, {2, 4, 6, 1, 3, 5}} {
		d := kept
		for id := range 7 {
			d, _ = d.With(desk.Closed{ID: id + 1})
		}
		d, _ = d.With(desk.Await{Kept: kept})
		for _, id := range order {
			w := kept.Window(id)
			d, _ = d.With(desk.Opened{Window: desk.Window{ID: 100 + id, App: w.App, Title: w.Title, Rect: geom.R(5, 5, 300, 200)}, Focus: true})
			if err := d.Check(); err != nil {
				t.Fatal(err)
			}
		}
		got := strings.ReplaceAll(where(d, 101, 102, 103, 104, 105, 106), "#10", "#")
		if want := where(kept, 1, 2, 3, 4, 5, 6); got != want {
			t.Errorf("opened in the order %v:\n%s\nwant\n%s", order, got, want)
		}
		stranger, _ := d.With(desk.Opened{Window: desk.Window{ID: 200, App: "Poster", Title: "new"}})
		if ref := stranger.Ref(stranger.Window(200)); ref != desk.SheetRef(d.Current(), d.At) {
			t.Errorf("a window nobody awaits opened on %s", ref)
		}
		d, _ = d.With(desk.Await{})
		late, _ := d.With(desk.Opened{Window: desk.Window{ID: 201, App: "Plan", Title: "seven"}})
		if ref := late.Ref(late.Window(201)); ref != desk.SheetRef(d.Current(), d.At) {
			t.Errorf("after the waiting a window opened on %s", ref)
		}
	}
}
