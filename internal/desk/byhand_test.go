package desk_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
)

func TestByHand(t *testing.T) {
	// #3, 400×300, floats at 600,460 on A (work 1000×760); #1 and #2 are tiles at 0 and 500.
	for _, c := range []struct{ line, want string }{
		{"nudge left of #3", "#3 A1 590,460,400,300"},
		{"nudge up 1 of #3", "#3 A1 600,459,400,300"},
		{"nudge right 500 of #3", "#3 B1 1100,460,400,300"},
		{"nudge left edge of #3", "#3 A1 500,460,400,300"},                        // the seam of the tiles
		{"nudge left edge of #3; nudge left edge of #3", "#3 A1 300,460,400,300"}, // its middle on that of A
		{"nudge up edge of #3", "#3 A1 600,350,400,300"},                          // its middle on B's, 500 high
		{"resize right 20 of #3", "#3 A1 600,460,420,300"},
		{"resize left 20 of #3", "#3 A1 580,460,420,300"},
		{"resize down -100 of #3", "#3 A1 600,460,400,200"},
		{"resize up -900 of #3", "#3 A1 600,712,400,48"},
		{"cascade of #3", "#3 A1 0,0,400,300"},
		{"cascade to B of #3", "#3 B1 1000,0,400,300"},
		{"cascade to A of #7", "#7 A2 0,0,300,200"},
	} {
		d := read(t, two)
		var id int
		for line := range splitLines(c.line) {
			next, r, err := apply(t, d, line)
			if err != nil {
				t.Fatalf("%s: %v", line, err)
			}
			d, id = next, r.Windows[0]
		}
		if got := where(d, id); got != c.want {
			t.Errorf("%s: %s, want %s", c.line, got, c.want)
		}
	}
	for _, line := range []string{"nudge left of #1", "cascade of #4", "nudge right edge of #99"} {
		if _, _, err := apply(t, read(t, two), line); err == nil {
			t.Errorf("%s did not fail", line)
		}
	}
}

func splitLines(s string) func(func(string) bool) {
	return func(yield func(string) bool) {
		for _, line := range strings.Split(s, "; ") {
			if !yield(line) {
				return
			}
		}
	}
}

// One use of a mode is one step, however long it takes.
func TestHandIsOneStep(t *testing.T) {
	d := read(t, two)
	for i, line := range []string{"nudge left of #3", "nudge left 50 of #3", "nudge down 7 of #3"} {
		c, err := lang.ParseCommand(line)
		if err != nil {
			t.Fatal(err)
		}
		c.At, c.Hand = int64(1+10_000*i), 77
		if d, _, err = d.Apply(c); err != nil {
			t.Fatal(err)
		}
	}
	d, _, err := apply(t, d, "undo")
	if got := where(d, 3); err != nil || got != "#3 A1 600,460,400,300" {
		t.Errorf("after one undo: %s, %v", got, err)
	}
}

func TestSnappedAndDragged(t *testing.T) {
	d := read(t, two)
	for _, c := range []struct {
		r     geom.Rect
		moves [4]bool
		want  geom.Rect
	}{
		{geom.R(8, 300, 400, 300), [4]bool{}, geom.R(0, 300, 400, 300)},
		{geom.R(13, 300, 400, 300), [4]bool{}, geom.R(13, 300, 400, 300)},
		{geom.R(92, 300, 400, 300), [4]bool{}, geom.R(100, 300, 400, 300)}, // its right edge on the seam at 500
		{geom.R(200, 465, 400, 300), [4]bool{}, geom.R(200, 460, 400, 300)},
		{geom.R(600, 460, 391, 300), [4]bool{1: true}, geom.R(600, 460, 400, 300)},
		{geom.R(509, 460, 491, 300), [4]bool{0: true}, geom.R(500, 460, 500, 300)},
	} {
		if got := d.Snapped(3, c.r, 12, c.moves); got != c.want {
			t.Errorf("%v is caught at %v, want %v", c.r, got, c.want)
		}
	}
	// The handle of a window that is dragged stays within reach.
	r := d.Reach(d.Window(3), geom.R(-900, -400, 400, 300))
	if want := geom.R(-352, -16, 400, 300); r != want {
		t.Errorf("held at %v, want %v", r, want)
	}
	d, words := d.With(desk.Dragged{ID: 3, Rect: r, Done: true})
	if err := d.Check(); err != nil || len(words) != 1 || where(d, 3) != "#3 A1 -352,-16,400,300" {
		t.Errorf("%s %q %v", where(d, 3), words, err)
	}
	// A tile stays where it is; of its edges, the shared one follows the pointer.
	for _, c := range []struct {
		f    desk.Dragged
		want string
	}{
		{desk.Dragged{ID: 1, Rect: geom.R(200, 200, 500, 760)}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760"},
		{desk.Dragged{ID: 1, Rect: geom.R(0, 0, 540, 760), Edges: [4]bool{1: true, 3: true}}, "#1 A1 0,0,540,760 #2 A1 540,0,460,760"},
		{desk.Dragged{ID: 1, Rect: geom.R(-90, 0, 590, 700), Edges: [4]bool{0: true, 3: true}}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760"},
		{desk.Dragged{ID: 2, Rect: geom.R(440, 0, 560, 760), Edges: [4]bool{0: true}, Done: true}, "#1 A1 0,0,440,760 #2 A1 440,0,560,760"},
	} {
		now, _ := d.With(c.f)
		c.f.Hand = 9 // the same, in two goes and as a step
		first := c.f
		first.Rect.W -= 7
		back, _ := d.With(first)
		back, _ = back.With(c.f)
		if where(back, 1, 2) != where(now, 1, 2) {
			t.Errorf("%+v: in two goes %s", c.f, where(back, 1, 2))
		}
		if back.Undo() != "" && where(back, 1, 2) != where(d, 1, 2) {
			if back, _, err := apply(t, back, "undo"); err != nil || where(back, 1, 2) != where(d, 1, 2) {
				t.Errorf("%+v: undone, %s; %v", c.f, where(back, 1, 2), err)
			}
		} else if where(now, 1, 2) != where(d, 1, 2) {
			t.Errorf("%+v: it cannot be taken back", c.f)
		}
		if got := where(now, 1, 2); got != c.want || now.Check() != nil {
			t.Errorf("%+v: %s, want %s; %v", c.f, got, c.want, now.Check())
		}
	}
}

// On random desks, a rescue of all strays leaves none that its minimum size
// permits to be cured, moves nothing else, and is one step.
func TestRescueOfAll(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	cases := 3000
	if testing.Short() {
		cases = 300
	}
	for n := range cases {
		d := read(t, two)
		for i := range 12 {
			r := geom.R(rng.IntN(9000)-4000, rng.IntN(6000)-3000, 24+rng.IntN(2600), 24+rng.IntN(1500))
			d, _ = d.With(desk.Opened{Keep: true, Window: desk.Window{ID: 20 + i, App: "x", Rect: r, Floating: true, Bar: rng.IntN(3) * 12,
				MinW: rng.IntN(300), MinH: rng.IntN(300), Workspace: d.Workspaces[rng.IntN(3)].ID}})
		}
		lost := map[int]bool{}
		for _, w := range d.Select(desk.Is{State: desk.IsStray}) {
			lost[w.ID] = true
		}
		next := after(t, d, "rescue of is:stray")
		for _, w := range next.Windows {
			was := d.Window(w.ID)
			if !lost[w.ID] && w.Rect != was.Rect {
				t.Fatalf("case %d: #%d was not lost and moved from %v to %v", n, w.ID, was.Rect, w.Rect)
			}
			if f := next.Lost(w); lost[w.ID] && f.Cause != stray.None && f.Cause != stray.Tiny {
				t.Fatalf("case %d: #%d at %v is still lost: %v", n, w.ID, w.Rect, f.Cause)
			}
		}
		if len(lost) > 0 {
			if back, _, err := apply(t, next, "undo"); err != nil || fmt.Sprint(where(back, 20, 25, 31)) != where(d, 20, 25, 31) {
				t.Fatalf("case %d: undo gives %s, want %s, %v", n, where(back, 20, 25, 31), where(d, 20, 25, 31), err)
			}
		}
	}
}
