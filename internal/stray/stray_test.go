package stray

import (
	"math/rand/v2"
	"testing"

	"zatlas/internal/geom"
)

// A above B, a dock at the bottom of A; C is unplugged, to the right.
var stacked = []Monitor{
	{Letter: 'A', Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1040), Primary: true, Connected: true},
	{Letter: 'B', Rect: geom.R(0, 1080, 1920, 1080), Work: geom.R(0, 1080, 1920, 1080), Connected: true},
	{Letter: 'C', Rect: geom.R(1920, 0, 1000, 1000), Work: geom.R(1920, 0, 1000, 1000)},
}

func TestLook(t *testing.T) {
	for _, c := range []struct {
		name  string
		w     Window
		cause Cause
		was   byte
		shows float64
	}{
		{"whole", Window{Rect: geom.R(100, 100, 400, 300)}, None, 0, 1},
		{"where C was", Window{Rect: geom.R(2000, 100, 400, 300)}, Off, 'C', 0},
		{"nowhere", Window{Rect: geom.R(-9000, 0, 400, 300)}, Off, 0, 0},
		{"a tenth shows", Window{Rect: geom.R(1880, 100, 400, 300)}, Sliver, 0, 0.1},
		{"a fifth shows, its top within reach", Window{Rect: geom.R(1840, 100, 400, 300)}, None, 0, 0.2},
		{"just under a fifth", Window{Rect: geom.R(1841, 100, 400, 300)}, Sliver, 0, 79.0 / 400},
		{"top above the edge", Window{Rect: geom.R(100, -40, 400, 300)}, Handle, 0, 260.0 / 300},
		{"12 rows of the top left", Window{Rect: geom.R(100, -16, 400, 300)}, None, 0, 284.0 / 300},
		{"11 rows of the top left", Window{Rect: geom.R(100, -17, 400, 300)}, Handle, 0, 283.0 / 300},
		{"the top behind the dock", Window{Rect: geom.R(100, 1041, 400, 300)}, Handle, 0, 1},
		{"11 rows over the dock", Window{Rect: geom.R(100, 1029, 400, 300)}, Handle, 0, 1},
		{"12 rows over the dock", Window{Rect: geom.R(100, 1028, 400, 300)}, None, 0, 1},
		{"a title bar in the seam, 6 and 5 rows", Window{Rect: geom.R(100, 1034, 400, 300), Bar: 16}, Handle, 0, 1},
		{"47 columns of the top", Window{Rect: geom.R(-53, 20, 100, 100)}, Handle, 0, 0.47},
		{"48 columns of the top", Window{Rect: geom.R(-52, 20, 100, 100)}, None, 0, 0.48},
		{"wider than its monitor", Window{Rect: geom.R(-200, 20, 2000, 100)}, Oversize, 0, 0.9},
		{"higher than the work area but in sight", Window{Rect: geom.R(0, 0, 400, 1060)}, None, 0, 1},
		{"tiny", Window{Rect: geom.R(5, 5, 23, 23)}, Tiny, 0, 1},
		{"tiny but meant so", Window{Rect: geom.R(5, 5, 23, 23), Fixed: true}, None, 0, 1},
		{"tiny by its minimum", Window{Rect: geom.R(5, 5, 20, 20), MinW: 16, MinH: 16}, None, 0, 1},
		{"narrow but high", Window{Rect: geom.R(5, 5, 10, 300)}, None, 0, 1},
	} {
		f := Look(c.w, stacked)
		if f.Cause != c.cause || f.Was != c.was || f.Shows < c.shows-0.001 || f.Shows > c.shows+0.001 {
			t.Errorf("%s: %v was %q shows %.3f; want %v %q %.3f", c.name, f.Cause, f.Was, f.Shows, c.cause, c.was, c.shows)
		}
	}
}

func TestRescue(t *testing.T) {
	for _, c := range []struct {
		name   string
		w      Window
		want   geom.Rect
		letter byte
	}{
		{"whole stays", Window{Rect: geom.R(100, 100, 400, 300)}, geom.R(100, 100, 400, 300), 'A'},
		{"from where C was, to the nearest", Window{Rect: geom.R(2000, 100, 400, 300)}, geom.R(1520, 100, 400, 300), 'A'},
		{"below C's place, nearer to B", Window{Rect: geom.R(2000, 1900, 400, 300)}, geom.R(1520, 1860, 400, 300), 'B'},
		{"as far from both: the primary", Window{Rect: geom.R(-500, 900, 400, 400)}, geom.R(0, 640, 400, 400), 'A'},
		{"up from behind the dock", Window{Rect: geom.R(100, 1041, 400, 38)}, geom.R(100, 1002, 400, 38), 'A'},
		{"mostly on B", Window{Rect: geom.R(100, 1041, 400, 300)}, geom.R(100, 1080, 400, 300), 'B'},
		{"larger is shrunk", Window{Rect: geom.R(-100, -100, 3000, 3000)}, geom.R(0, 0, 1920, 1040), 'A'},
		{"not below its minimum", Window{Rect: geom.R(-100, 10, 3000, 900), MinW: 2500, MinH: 100}, geom.R(0, 10, 2500, 900), 'A'},
		{"fixed starts at the edge", Window{Rect: geom.R(-100, 10, 3000, 900), Fixed: true}, geom.R(0, 10, 3000, 900), 'A'},
		{"tiny is never grown", Window{Rect: geom.R(-100, 10, 5, 5)}, geom.R(0, 10, 5, 5), 'A'},
	} {
		if got, l := Rescue(c.w, stacked); got != c.want || l != c.letter {
			t.Errorf("%s: %v on %c, want %v on %c", c.name, got, l, c.want, c.letter)
		}
	}
	if got, l := Rescue(Window{Rect: geom.R(1, 2, 3, 4)}, stacked[2:]); l != 0 || got != geom.R(1, 2, 3, 4) {
		t.Errorf("with nothing connected: %v %c", got, l)
	}
}

func TestAside(t *testing.T) {
	work := geom.R(0, 0, 500, 400)
	first := geom.R(100, 100, 200, 100)
	second := Aside(first, work, []geom.Rect{first})
	if second != geom.R(132, 132, 200, 100) {
		t.Errorf("the second goes to %v", second)
	}
	near := geom.R(390, 380, 100, 20)
	if got := Aside(near, work, []geom.Rect{near}); got != geom.R(0, 0, 100, 20) {
		t.Errorf("a step out of the work area goes to %v", got)
	}
}

// Whatever the geometry, a rescued window is cured as far as its minimum size
// allows.
func TestRescueCures(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 1))
	cases := 1_000_000
	if testing.Short() {
		cases = 50_000
	}
	for range cases {
		var ms []Monitor
		for i := range 1 + rng.IntN(3) {
			r := geom.R(rng.IntN(6000)-2000, rng.IntN(4000)-1000, 200+rng.IntN(2000), 200+rng.IntN(1500))
			work := geom.R(r.X+rng.IntN(30), r.Y+rng.IntN(30), r.W-60, r.H-60)
			ms = append(ms, Monitor{Letter: byte('A' + i), Rect: r, Work: work, Connected: true, Primary: i == 0})
		}
		w := Window{Rect: geom.R(rng.IntN(12000)-6000, rng.IntN(9000)-4000, 30+rng.IntN(3000), 30+rng.IntN(2000)), MinW: rng.IntN(100), MinH: rng.IntN(100)}
		got, l := Rescue(w, ms)
		after := w
		after.Rect = got
		if f := Look(after, ms); f.Cause != None {
			t.Fatalf("%+v among %+v rescued to %v on %c is still %v", w, ms, got, l, f.Cause)
		}
		if again, _ := Rescue(after, ms); again != got {
			t.Fatalf("a rescued window moves again, from %v to %v", got, again)
		}
	}
}

// Three monitors in an L: A at the top left, B below it, C to the right of B.
// What would be the fourth, above C, is a hole. Coordinates go below zero.
var ell = []Monitor{
	{Letter: 'A', Rect: geom.R(-1000, -1000, 1000, 1000), Work: geom.R(-1000, -970, 1000, 970), Primary: true, Connected: true},
	{Letter: 'B', Rect: geom.R(-1000, 0, 1000, 800), Work: geom.R(-1000, 0, 1000, 800), Connected: true},
	{Letter: 'C', Rect: geom.R(0, 0, 800, 800), Work: geom.R(0, 0, 800, 800), Connected: true},
}

func TestShapes(t *testing.T) {
	for _, c := range []struct {
		name   string
		w      Window
		cause  Cause
		dx, dy int
		hidden Hidden
		want   geom.Rect
		letter byte
	}{
		{"in the hole, nearer to A", Window{Rect: geom.R(100, -600, 300, 200)}, Off, -100, 0, Hidden{}, geom.R(-300, -600, 300, 200), 'A'},
		{"in the hole, nearer to C", Window{Rect: geom.R(400, -260, 300, 200)}, Off, 0, 60, Hidden{}, geom.R(400, 0, 300, 200), 'C'},
		{"over the corner of the hole, most on A", Window{Rect: geom.R(-300, -200, 400, 300)}, None, 0, 0, Hidden{}, geom.R(-400, -300, 400, 300), 'A'},
		{"its title bar in the hole", Window{Rect: geom.R(20, -100, 400, 300)}, Handle, 0, 0, Hidden{Edge: 'C'}, geom.R(20, 0, 400, 300), 'C'},
		{"behind the dock at the top of A", Window{Rect: geom.R(-900, -1000, 400, 300)}, Handle, 0, 0, Hidden{Dock: 'A'}, geom.R(-900, -970, 400, 300), 'A'},
		{"over three monitors, in reach", Window{Rect: geom.R(-600, -200, 900, 500), Bar: 20}, None, 0, 0, Hidden{}, geom.R(-900, 0, 900, 500), 'B'},
		// 1,000×1,000 + 1,000×800 + 800×800 of 5,000×4,000 show: an eighth.
		{"larger than all of them", Window{Rect: geom.R(-2000, -1500, 5000, 4000)}, Sliver, 0, 0, Hidden{}, geom.R(-1000, -970, 1000, 970), 'A'},
		{"its minimum larger than the work area", Window{Rect: geom.R(-2500, -100, 1400, 300), MinW: 1200, MinH: 100}, Off, 100, 0, Hidden{}, geom.R(-1000, -300, 1200, 300), 'A'},
		{"far to the right and below", Window{Rect: geom.R(900, 1000, 100, 100)}, Off, -100, -200, Hidden{}, geom.R(700, 700, 100, 100), 'C'},
		{"in the seam, a few rows on each", Window{Rect: geom.R(-900, -10, 400, 300), Bar: 20}, Handle, 0, 0, Hidden{Seam: [2]byte{'A', 'B'}}, geom.R(-900, 0, 400, 300), 'B'},
	} {
		f := Look(c.w, ell)
		if f.Cause != c.cause || f.DX != c.dx || f.DY != c.dy {
			t.Errorf("%s: %v, %d,%d away; want %v, %d,%d", c.name, f.Cause, f.DX, f.DY, c.cause, c.dx, c.dy)
		}
		if h := Where(c.w, ell); c.cause == Handle && h != c.hidden {
			t.Errorf("%s: hidden in %+v, want %+v", c.name, h, c.hidden)
		}
		if got, l := Rescue(c.w, ell); got != c.want || l != c.letter {
			t.Errorf("%s: goes to %v on %c, want %v on %c", c.name, got, l, c.want, c.letter)
		}
	}
}

// On small planes every place is tried: none whole in the work area is nearer
// than the one a rescue chooses.
func TestNoShorterWay(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	for range 3000 {
		work := geom.R(rng.IntN(20)-10, rng.IntN(20)-10, 5+rng.IntN(25), 5+rng.IntN(25))
		w := Window{Rect: geom.R(rng.IntN(80)-40, rng.IntN(80)-40, 1+rng.IntN(work.W), 1+rng.IntN(work.H))}
		got := Into(w, work)
		way := func(r geom.Rect) int {
			dx, dy := r.X-w.Rect.X, r.Y-w.Rect.Y
			return dx*dx + dy*dy
		}
		if !work.Contains(got) || got.W != w.Rect.W || got.H != w.Rect.H {
			t.Fatalf("%v goes to %v, which is not whole in %v", w.Rect, got, work)
		}
		for x := work.X; x+got.W <= work.Right(); x++ {
			for y := work.Y; y+got.H <= work.Bottom(); y++ {
				if other := geom.R(x, y, got.W, got.H); way(other) < way(got) {
					t.Fatalf("%v goes to %v in %v, and %v is nearer", w.Rect, got, work, other)
				}
			}
		}
	}
}

// A window pulled anywhere keeps its handle within reach, and moves no further
// than that asks for.
func TestReach(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 6))
	for range 20_000 {
		w := Window{Rect: geom.R(rng.IntN(8000)-4000, rng.IntN(8000)-4000, 1+rng.IntN(900), 1+rng.IntN(700)), Bar: rng.IntN(40)}
		got := Window{Rect: Reach(w, ell), Bar: w.Bar}
		if !reachable(got, ell) || got.Rect.W != w.Rect.W || got.Rect.H != w.Rect.H {
			t.Fatalf("%v is held at %v, out of reach", w.Rect, got.Rect)
		}
		if reachable(w, ell) && got.Rect != w.Rect {
			t.Fatalf("%v was within reach and moved to %v", w.Rect, got.Rect)
		}
	}
}
