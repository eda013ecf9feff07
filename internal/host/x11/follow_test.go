package x11

import (
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
)

// A window that came under a pointer that rested was not entered; one that it was moved into
// was, also while the desk was shown. Numbers of requests begin again after 65,535.
func TestRested(t *testing.T) {
	p := pointer{last: geom.Point{X: 1}, before: geom.Point{X: 2}, after: geom.Point{X: 3}, from: 65530, to: 4, known: true}
	for _, c := range []struct {
		sequence uint16
		x        int16
		rested   bool
	}{{65529, 1, true}, {65529, 2, false}, {65530, 2, true}, {3, 2, true}, {3, 3, false}, {4, 3, true}, {9, 3, true}, {9, 2, false}} {
		if got := p.rested(xproto.EnterNotifyEvent{Sequence: c.sequence, RootX: c.x}); got != c.rested {
			t.Errorf("at %d of request %d it rested: %t", c.x, c.sequence, got)
		}
	}
}
