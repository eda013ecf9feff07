package x11

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/testkit"
)

// Windows put over one another as desk.Staying says come into the new order, and no window
// is moved that need not be.
func TestStaying(t *testing.T) {
	for _, c := range []struct {
		old, order []xproto.Window
		moves      int
	}{
		{nil, nil, 0},
		{nil, []xproto.Window{1, 2}, 2},
		{[]xproto.Window{1, 2, 3}, []xproto.Window{1, 2, 3}, 0},
		{[]xproto.Window{1, 2, 3, 4, 5}, []xproto.Window{1, 3, 4, 5, 2}, 1},
		{[]xproto.Window{1, 2, 3, 4, 5}, []xproto.Window{5, 1, 2, 3, 4}, 1},
		{[]xproto.Window{1, 2, 3, 4, 5}, []xproto.Window{1, 2, 9, 4, 5}, 1},
		{[]xproto.Window{1, 2, 3}, []xproto.Window{3, 2, 1}, 2},
	} {
		stays := desk.Staying(c.old, c.order)
		moves := 0
		for _, s := range stays {
			if !s {
				moves++
			}
		}
		if moves != c.moves {
			t.Errorf("from %v to %v in %d moves, want %d", c.old, c.order, moves, c.moves)
		}
	}
	rng := rand.New(rand.NewPCG(testkit.Seed(t, 1), 3))
	for range 2000 {
		var old, order []xproto.Window
		for _, w := range rng.Perm(20) {
			if rng.IntN(5) > 0 {
				old = append(old, xproto.Window(w+1))
			}
		}
		for _, w := range rng.Perm(20) {
			if rng.IntN(5) > 0 {
				order = append(order, xproto.Window(w+1))
			}
		}
		// A server of our own: the lowest first, new windows at the top.
		stack := slices.Clone(old)
		for _, win := range order {
			if !slices.Contains(stack, win) {
				stack = append(stack, win)
			}
		}
		below := xproto.Window(0)
		for i, stays := range desk.Staying(old, order) {
			if win := order[i]; !stays {
				stack = slices.DeleteFunc(stack, func(w xproto.Window) bool { return w == win })
				stack = slices.Insert(stack, slices.Index(stack, below)+1, win)
			}
			below = order[i]
		}
		stack = slices.DeleteFunc(stack, func(w xproto.Window) bool { return !slices.Contains(order, w) })
		if !slices.Equal(stack, order) {
			t.Fatalf("from %v to %v the windows come to %v", old, order, stack)
		}
	}
}
