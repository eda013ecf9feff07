package layout

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/geom"
)

func place(n *Node, room geom.Rect, gap int) string {
	var b strings.Builder
	Place(n, room, Spacing{Gap: gap}, func(id int, r geom.Rect) {
		fmt.Fprintf(&b, "%d:%d,%d,%d,%d ", id, r.X, r.Y, r.W, r.H)
	})
	return strings.TrimSpace(b.String())
}

// Every rectangle is worked out by hand.
func TestPlace(t *testing.T) {
	room := geom.R(0, 0, 1921, 1081)
	for _, c := range []struct {
		name string
		n    *Node
		gap  int
		want string
	}{
		{"none", Of(Columns, nil, 60, 1), 0, ""},
		{"one lead fills", Of(Lead, []int{1}, 60, 1), 0, "1:0,0,1921,1081"},
		{"columns", Of(Columns, []int{1, 2, 3}, 0, 1), 0, "1:0,0,641,1081 2:641,0,640,1081 3:1281,0,640,1081"},
		{"rows", Of(Rows, []int{1, 2}, 0, 1), 0, "1:0,0,1921,541 2:0,541,1921,540"},
		{"columns with gaps", Of(Columns, []int{1, 2, 3}, 0, 1), 10, "1:0,0,634,1081 2:644,0,634,1081 3:1288,0,633,1081"},
		{"lead", Of(Lead, []int{1, 2, 3}, 60, 1), 0, "1:0,0,1153,1081 2:1153,0,768,541 3:1153,541,768,540"},
		{"lead 10", Of(Lead, []int{1, 2}, 3, 1), 0, "1:0,0,193,1081 2:193,0,1728,1081"},
		{"tabs", Flat(Tabs, []int{1, 2}), 0, "1:0,24,1921,1057 2:0,24,1921,1057"},
		{"pile", Flat(Pile, []int{1, 2, 3}), 0, "1:0,24,1921,1057 2:0,24,1921,1057 3:0,24,1921,1057"},
		{"nested", &Node{Split: Across, Share: 1, Kids: []*Node{
			NewLeaf(21).withShare(2), Flat(Down, []int{22, 23})}}, 0,
			"21:0,0,1281,1081 22:1281,0,640,541 23:1281,541,640,540"},
	} {
		if got := place(c.n, room, c.gap); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
	}
	if got := place(Of(Columns, []int{1, 2, 3}, 0, 1), geom.R(0, 0, 5, 9), 50); got != "1:0,0,1,9 2:2,0,1,9 3:4,0,1,9" {
		t.Errorf("gaps that do not fit: %s", got)
	}
}

// halved halves a leaf across for 0, and down for 1.
func halved(way int) func() Split {
	return func() Split { return []Split{Across, Down}[way] }
}

func TestTreeOperations(t *testing.T) {
	var n *Node
	n = InsertAt(n, 0, 1, halved(0))
	n = InsertAt(n, 1, 2, halved(0))
	n = InsertAt(n, 2, 3, halved(1))
	room := geom.R(0, 0, 800, 600)
	if got := place(n, room, 0); got != "1:0,0,400,600 2:400,0,400,300 3:400,300,400,300" {
		t.Fatalf("after three: %s", got)
	}
	before := place(n, room, 0)
	smaller := Remove(n, func(id int) bool { return id == 2 })
	if got := place(smaller, room, 0); got != "1:0,0,400,600 3:400,0,400,600" {
		t.Errorf("a group of one is not replaced by its member: %s", got)
	}
	if place(n, room, 0) != before {
		t.Error("Remove wrote to the tree it was given")
	}
	if Remove(n, func(int) bool { return true }) != nil {
		t.Error("a tree without windows is not nil")
	}
	if got := place(AppendTo(smaller, 9), room, 0); got != "1:0,0,267,600 3:267,0,267,600 9:534,0,266,600" {
		t.Errorf("appended: %s", got)
	}
}

// Random trees fill their room exactly, without overlap, whatever is put in
// and taken out.
func TestRandomTreesFillTheirRoom(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 9))
	for range 400 {
		var n *Node
		var ids []int
		for id := 1; id <= 1+rng.IntN(20); id++ {
			if len(ids) > 0 && rng.IntN(4) == 0 {
				gone := ids[rng.IntN(len(ids))]
				n = Remove(n, func(x int) bool { return x == gone })
				ids = slices.DeleteFunc(ids, func(x int) bool { return x == gone })
			}
			at := 0
			if len(ids) > 0 {
				at = ids[rng.IntN(len(ids))]
			}
			n = InsertAt(n, at, id, halved(rng.IntN(2)))
			ids = append(ids, id)
		}
		room := geom.R(rng.IntN(50), rng.IntN(50), 300+rng.IntN(900), 300+rng.IntN(900))
		var rects []geom.Rect
		area := int64(0)
		Place(n, room, Spacing{}, func(_ int, r geom.Rect) { rects = append(rects, r); area += r.Area() })
		if len(rects) != len(ids) || area != room.Area() || geom.Covered(room, rects) != area {
			t.Fatalf("%d windows of %d cover %d of %d pixels", len(rects), len(ids), area, room.Area())
		}
		if got := n.Windows(); len(got) != len(ids) {
			t.Fatalf("the tree has %v, want %v", got, ids)
		}
	}
}

// Windows that open one after another beside the last nest no deeper than can
// be seen, however many they are.
func TestInsertDepth(t *testing.T) {
	var n *Node
	for i := range 500 {
		n = InsertAt(n, i, i+1, halved(i%2))
	}
	var depth func(n *Node) int
	depth = func(n *Node) int {
		deepest := 0
		for _, k := range n.Kids {
			deepest = max(deepest, depth(k))
		}
		return deepest + 1
	}
	if d := depth(n); d > MaxDepth+1 || len(n.Windows()) != 500 {
		t.Errorf("%d windows lie %d deep", len(n.Windows()), d)
	}
}
