package desk

import (
	"testing"

	"zatlas/internal/geom"
)

// Every size is worked out by hand.
func TestFit(t *testing.T) {
	for _, c := range []struct {
		name                  string
		w                     Window
		width, height         int
		wantWidth, wantHeight int
	}{
		{"nothing said", Window{}, 301, 199, 301, 199},
		{"no pixel left", Window{}, -5, 0, 1, 1},
		{"minimum", Window{MinW: 400, MinH: 300}, 301, 399, 400, 399},
		{"maximum", Window{Sizes: Sizes{MaxW: 250, MaxH: 500}}, 301, 399, 250, 399},
		{"increments", Window{Sizes: Sizes{BaseW: 19, BaseH: 4, IncW: 6, IncH: 13}}, 301, 199, 301, 199},
		{"increments, less", Window{Sizes: Sizes{BaseW: 19, BaseH: 4, IncW: 6, IncH: 13}}, 306, 211, 301, 199},
		{"below the base", Window{Sizes: Sizes{BaseW: 19, IncW: 6}}, 10, 10, 10, 10},
		{"too high for its aspect", Window{Sizes: Sizes{Least: [2]int{4, 3}, Most: [2]int{16, 9}}}, 400, 500, 400, 300},
		{"too wide", Window{Sizes: Sizes{Least: [2]int{4, 3}, Most: [2]int{16, 9}}}, 1000, 450, 800, 450},
		{"aspect without the border", Window{Sizes: Sizes{Least: [2]int{1, 1}, Most: [2]int{1, 1}, Frame: 4}}, 304, 204, 204, 204},
		{"a minimum above what increments give", Window{MinW: 30, Sizes: Sizes{IncW: 20}}, 35, 10, 30, 10},
	} {
		if w, h := c.w.Fit(c.width, c.height); w != c.wantWidth || h != c.wantHeight {
			t.Errorf("%s: %d×%d, want %d×%d", c.name, w, h, c.wantWidth, c.wantHeight)
		}
	}
	w := Window{Rect: geom.R(100, 100, 199, 134), Sizes: Sizes{BaseW: 19, BaseH: 4, IncW: 6, IncH: 13}}
	for _, c := range []struct {
		dir  Dir
		px   int
		want geom.Rect
	}{
		{Right, 1, geom.R(100, 100, 205, 134)}, // one increment at least
		{Left, 20, geom.R(82, 100, 217, 134)},
		{Down, -1, geom.R(100, 100, 199, 121)},
		{Up, -30, geom.R(100, 139, 199, 95)},
		{Up, 0, w.Rect},
		{Right, 6, geom.R(100, 100, 205, 134)},
	} {
		if got := w.resized(c.dir, c.px); got != c.want {
			t.Errorf("%v by %d: %v, want %v", c.dir, c.px, got, c.want)
		}
	}
	w.Rect.H = 140 // between two steps, and it stays so while its width changes
	if got, want := w.resized(Right, 60), geom.R(100, 100, 259, 140); got != want {
		t.Errorf("wider: %v, want %v", got, want)
	}
	if got, want := w.Fitted(geom.R(100, 100, 203, 140), [4]bool{1: true}), geom.R(100, 100, 199, 140); got != want {
		t.Errorf("dragged by its right edge: %v, want %v", got, want)
	}
	if got, want := w.Fitted(geom.R(50, 60, 240, 170), [4]bool{true, false, true, false}), geom.R(55, 70, 235, 160); got != want {
		t.Errorf("dragged by its top left corner: %v, want %v", got, want)
	}
}
