package x11

import (
	"slices"
	"testing"
)

// The choice in a held list stays with its row, whatever closes.
func TestListLeft(t *testing.T) {
	for _, c := range []struct {
		at    int
		gone  []int // ids, which are 10, 20, 30 and 40
		id    int   // of the row chosen then, 0 for none
		count int
	}{
		{2, []int{10}, 30, 3}, {2, []int{40}, 30, 3}, {2, []int{10, 20}, 30, 2}, {2, []int{30}, 40, 3}, {3, []int{40}, 30, 3},
		{3, []int{10, 40}, 30, 2}, {0, []int{10, 20, 30, 40}, 0, 0},
	} {
		items := []heldItem{{10, "a"}, {20, "b"}, {30, "c"}, {40, "d"}}
		items, at := left(items, c.at, func(it heldItem) bool { return slices.Contains(c.gone, it.id) })
		id := 0
		if at >= 0 && at < len(items) {
			id = items[at].id
		}
		if id != c.id || len(items) != c.count {
			t.Errorf("of row %d without %v: %d rows, #%d chosen, want #%d", c.at, c.gone, len(items), id, c.id)
		}
	}
}
