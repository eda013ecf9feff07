package x11

import (
	"testing"

	"zatlas/internal/geom"
)

// The one work area of all monitors is the largest rectangle free for all of them.
func TestFreeForAll(t *testing.T) {
	a, b := geom.R(0, 0, 1920, 1080), geom.R(1920, 0, 2560, 1440)
	bound := geom.Bound(a, b)
	for _, c := range []struct{ workA, workB, want geom.Rect }{
		{a, b, bound},
		{geom.R(0, 30, 1920, 1050), b, geom.R(0, 30, 4480, 1410)},
		{a, geom.R(2020, 0, 2460, 1440), geom.R(2020, 0, 2460, 1440)},
		{geom.R(0, 0, 1920, 1000), geom.R(1920, 40, 2560, 1400), geom.R(0, 40, 4480, 960)},
	} {
		if got := freeForAll(bound, []geom.Rect{a, b}, []geom.Rect{c.workA, c.workB}); got != c.want {
			t.Errorf("of %v and %v it is %v, want %v", c.workA, c.workB, got, c.want)
		}
	}
}
