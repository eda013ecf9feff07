package geom

import (
	"math/rand/v2"
	"slices"
	"testing"
)

func TestShare(t *testing.T) {
	for _, c := range []struct {
		l       int
		weights []int
		want    []int
	}{
		{1920, []int{1, 1, 1}, []int{640, 640, 640}},
		{1921, []int{1, 1, 1}, []int{641, 640, 640}},
		{1922, []int{1, 1, 1}, []int{641, 641, 640}},
		{1920, []int{60, 40}, []int{1152, 768}},
		{1001, []int{60, 40}, []int{601, 400}},
		{10, []int{2, 1}, []int{7, 3}},
		{2, []int{1, 1, 1}, []int{1, 1, 0}},
		{0, []int{5, 1}, []int{0, 0}},
		{7, []int{0, 0}, []int{4, 3}},
		{5, nil, []int{}},
	} {
		if got := Share(c.l, c.weights); !slices.Equal(got, c.want) {
			t.Errorf("Share(%d, %v) = %v, want %v", c.l, c.weights, got, c.want)
		}
	}
}

// Floating windows keep their share of the free room: numbers by hand from
// x' = Ax + floor((x−Bx)·(Aw−w')/(Bw−w)).
func TestRelocate(t *testing.T) {
	for _, c := range []struct{ x, w, b, bw, w1, a, aw, want int }{
		{0, 400, 0, 1920, 400, 1920, 3440, 1920},    // flush left
		{1520, 400, 0, 1920, 400, 1920, 3440, 4960}, // flush right
		{760, 400, 0, 1920, 400, 1920, 3440, 3440},  // centred
		{100, 400, 0, 1920, 400, 1920, 3440, 2120},  // 100·3040/1520
		{101, 400, 0, 1000, 400, 0, 700, 50},        // floor(101·300/600)
		{-50, 400, 0, 1920, 400, 100, 900, 100},     // held to the free room
		{9000, 400, 0, 1920, 400, 100, 900, 600},    // held to the free room
		{5, 2000, 0, 1920, 800, 0, 1000, 100},       // wider than its source: centred
		{5, 800, 0, 1920, 1000, 50, 1000, 50},       // fills the target
		{5, 800, 0, 1920, 1200, 50, 1000, 50},       // does not fit the target
	} {
		if got := Relocate(c.x, c.w, c.b, c.bw, c.w1, c.a, c.aw); got != c.want {
			t.Errorf("Relocate(%+v) = %d", c, got)
		}
	}
}

func TestRects(t *testing.T) {
	r := R(10, 20, 30, 40)
	if got := r.Intersect(R(35, 0, 100, 25)); got != R(35, 20, 5, 5) {
		t.Errorf("Intersect = %v", got)
	}
	if got := r.Intersect(R(40, 0, 10, 100)); got != (Rect{}) {
		t.Errorf("rectangles that touch share %v", got)
	}
	if !r.Contains(r) || r.Contains(Rect{}) || r.Contains(R(10, 20, 31, 40)) {
		t.Error("Contains is wrong about itself, nothing, or a larger one")
	}
	if dx, dy := Gap(r, R(45, 70, 1, 1)); dx != 5 || dy != 10 {
		t.Errorf("Gap = %d, %d", dx, dy)
	}
	if got := Distance2(r, R(43, 64, 1, 1)); got != 9+16 {
		t.Errorf("Distance2 = %d", got)
	}
	if got := Bound(R(0, 0, 0, 5), R(-5, 3, 2, 2), r); got != R(-5, 3, 45, 57) {
		t.Errorf("Bound = %v", got)
	}
	for a, want := range map[int]int{-3: -2, -2: -1, -1: -1, 0: 0, 1: 0, 3: 1} {
		if got := FloorDiv(a, 2); got != want {
			t.Errorf("FloorDiv(%d, 2) = %d, want %d", a, got, want)
		}
	}
}

// Covered and Subtract are held against counting every pixel.
func TestCoveredByCounting(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	some := func() Rect { return R(rng.IntN(12)-2, rng.IntN(12)-2, rng.IntN(9), rng.IntN(9)) }
	for range 3000 {
		r, rs := some(), []Rect{some(), some(), some()}
		want := int64(0)
		for y := r.Y; y < r.Bottom(); y++ {
			for x := r.X; x < r.Right(); x++ {
				if slices.ContainsFunc(rs, func(s Rect) bool { return s.Has(Point{x, y}) }) {
					want++
				}
			}
		}
		if got := Covered(r, rs); got != want {
			t.Fatalf("Covered(%v, %v) = %d, want %d", r, rs, got, want)
		}
	}
}
