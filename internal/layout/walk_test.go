package layout

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"zatlas/internal/geom"
)

// forest is a tree with what must hold of it whatever is done.
type forest struct {
	*testing.T
	rng  *rand.Rand
	n    *Node
	next int // the window that opens next
}

// pick is a window of the tree, 0 where there is none.
func (f *forest) pick() int {
	ids := f.n.Windows()
	if len(ids) == 0 {
		return 0
	}
	return ids[f.rng.IntN(len(ids))]
}

// block is a tile, or a group: the windows of a node other than the whole tree.
func (f *forest) block() []int {
	n := f.n
	var b []int
	for n != nil && len(n.Kids) > 0 {
		n = n.Kids[f.rng.IntN(len(n.Kids))]
		b = n.Windows()
		if f.rng.IntN(2) == 0 {
			break
		}
	}
	return b
}

func (f *forest) split() Split { return []Split{Across, Down, Pile, Tabs}[f.rng.IntN(4)] }

// apart tells whether two blocks have no window in common.
func apart(a, b []int) bool {
	return len(a) > 0 && len(b) > 0 && !slices.ContainsFunc(a, func(w int) bool { return slices.Contains(b, w) })
}

// steps are what can be done to a tree. Each gives the tree after it, and the
// windows it should have.
var steps = []struct {
	name string
	do   func(f *forest) (n *Node, windows []int)
}{
	{"insert", func(f *forest) (*Node, []int) {
		f.next++
		return InsertAt(f.n, f.pick(), f.next, halved(f.rng.IntN(2))), append(f.n.Windows(), f.next)
	}},
	{"append", func(f *forest) (*Node, []int) {
		f.next++
		return AppendTo(f.n, f.next), append(f.n.Windows(), f.next)
	}},
	{"beside", func(f *forest) (*Node, []int) {
		f.next++
		return Beside(f.n, NewLeaf(f.next), f.split(), f.rng.IntN(2) == 0), append(f.n.Windows(), f.next)
	}},
	{"remove", func(f *forest) (*Node, []int) {
		w := f.pick()
		return Remove(f.n, func(x int) bool { return x == w }), without(f.n.Windows(), w)
	}},
	{"put", func(f *forest) (*Node, []int) {
		a, b := f.block(), f.block()
		if !apart(a, b) {
			return f.n, f.n.Windows()
		}
		return Put(f.n, a, b, f.split(), f.rng.IntN(2) == 0), f.n.Windows()
	}},
	{"swap", func(f *forest) (*Node, []int) {
		a, b := f.block(), f.block()
		if !apart(a, b) {
			return f.n, f.n.Windows()
		}
		return Swap(f.n, a, b), f.n.Windows()
	}},
	{"group", func(f *forest) (*Node, []int) {
		a, b := f.block(), f.block()
		if !apart(a, b) {
			return f.n, f.n.Windows()
		}
		return Group(f.n, a, b, f.split(), f.rng.IntN(2) == 0), f.n.Windows()
	}},
	{"outward", func(f *forest) (*Node, []int) {
		n, _ := Outward(f.n, f.block(), f.split(), f.rng.IntN(2) == 0)
		return n, f.n.Windows()
	}},
	{"ungroup", func(f *forest) (*Node, []int) { return Ungroup(f.n, f.block()), f.n.Windows() }},
	{"turn", func(f *forest) (*Node, []int) { return Turn(f.n, f.block()), f.n.Windows() }},
	{"mirror", func(f *forest) (*Node, []int) { return Mirror(f.n, f.block()), f.n.Windows() }},
	{"relay", func(f *forest) (*Node, []int) { return Relay(f.n, f.block(), f.split()), f.n.Windows() }},
	{"even", func(f *forest) (*Node, []int) { return EvenAround(f.n, f.block()), f.n.Windows() }},
	{"gather", func(f *forest) (*Node, []int) {
		ids := f.n.Windows()
		f.rng.Shuffle(len(ids), func(i, j int) { ids[i], ids[j] = ids[j], ids[i] })
		if len(ids) < 2 {
			return f.n, ids
		}
		return Gather(f.n, ids[:2+f.rng.IntN(len(ids)-1)], f.split()), ids
	}},
	{"resize", func(f *forest) (*Node, []int) {
		n, _ := Resize(f.n, f.block(), geom.R(0, 0, 3000, 2000), Spacing{}, []Split{Across, Down}[f.rng.IntN(2)], f.rng.IntN(2) == 0, f.rng.IntN(400)-200)
		return n, f.n.Windows()
	}},
}

func without(ids []int, gone int) []int {
	return slices.DeleteFunc(slices.Clone(ids), func(w int) bool { return w == gone })
}

// Whatever is done to a tree, it has the windows it should, each once; every group
// has at least two members; shares are positive; and the tree before is as it was.
func TestWalkOfTrees(t *testing.T) {
	for seed := range uint64(40) {
		f := &forest{T: t, rng: rand.New(rand.NewPCG(seed, 11))}
		for i := range 300 {
			s := steps[f.rng.IntN(len(steps))]
			if len(f.n.Windows()) < 3 {
				s = steps[0]
			} else if len(f.n.Windows()) > 24 {
				s = steps[3]
			}
			before, was := f.n, fmt.Sprint(written(f.n))
			n, want := s.do(f)
			if got := n.Windows(); !slices.Equal(slices.Sorted(slices.Values(got)), slices.Sorted(slices.Values(want))) {
				t.Fatalf("seed %d, step %d: %s made %s of %s", seed, i, s.name, written(n), was)
			}
			if fmt.Sprint(written(before)) != was {
				t.Fatalf("seed %d, step %d: %s wrote to the tree it was given", seed, i, s.name)
			}
			if fault := sound(n); fault != "" {
				t.Fatalf("seed %d, step %d: %s made %s of %s: %s", seed, i, s.name, written(n), was, fault)
			}
			f.n = n
			f.covers(s.name)
			f.seats()
			f.around()
		}
	}
}

// written is a tree in brackets.
func written(n *Node) string {
	if n == nil {
		return "nothing"
	}
	if len(n.Kids) == 0 {
		return fmt.Sprintf("%d*%d", n.Window, n.Share)
	}
	s := fmt.Sprintf("%s*%d[", splitNames[n.Split], n.Share)
	for i, k := range n.Kids {
		if i > 0 {
			s += " "
		}
		s += written(k)
	}
	return s + "]"
}

// sound says what is wrong with a tree, empty for nothing.
func sound(n *Node) string {
	switch {
	case n == nil:
		return ""
	case n.Share < 1:
		return "a share of " + fmt.Sprint(n.Share)
	case n.Split == Leaf && len(n.Kids) > 0, n.Split != Leaf && len(n.Kids) < 2:
		return fmt.Sprintf("%d members in a %s", len(n.Kids), splitNames[n.Split])
	}
	for _, k := range n.Kids {
		if fault := sound(k); fault != "" {
			return fault
		}
	}
	return ""
}

// covers checks that the windows that show fill the room, one pixel each once, and
// that the others lie under one of them.
func (f *forest) covers(after string) {
	f.Helper()
	room := geom.R(7, 9, 400+f.rng.IntN(6000), 400+f.rng.IntN(6000))
	first := func(*Node) int { return 0 } // the member that shows
	tops, rects := Tops(f.n, first), map[int]geom.Rect{}
	by := Spacing{Header: f.rng.IntN(4) * 24}
	Place(f.n, room, by, func(w int, r geom.Rect) { rects[w] = r })
	var filled []geom.Rect
	area := int64(0)
	for _, w := range tops {
		filled, area = append(filled, rects[w]), area+rects[w].Area()
	}
	Headers(f.n, room, by, first, func(_ *Node, _ int, hs []Header) {
		for _, h := range hs {
			filled, area = append(filled, h.Rect), area+h.Rect.Area()
		}
	})
	if area != room.Area() || geom.Covered(room, filled) != area {
		f.Fatalf("after %s of %s the windows that show and the headings cover %d, once, of %d pixels; all but %d is covered",
			after, written(f.n), area, room.Area(), room.Area()-geom.Covered(room, filled))
	}
	layers := Layers(f.n, first)
	if len(layers) != len(rects) || !slices.Equal(slices.Sorted(slices.Values(layers)), slices.Sorted(slices.Values(f.n.Windows()))) {
		f.Fatalf("%s is stacked as %v", written(f.n), layers)
	}
}

// seats checks that a tile that leaves comes back to the very same tree.
func (f *forest) seats() {
	f.Helper()
	w := f.pick()
	if len(f.n.Windows()) < 2 {
		return
	}
	var seat *Seat
	Seats(f.n, func(window int) bool { return window == w }, func(_ int, s *Seat) { seat = s })
	rest := Remove(f.n, func(x int) bool { return x == w })
	back, ok := Sit(rest, w, seat)
	if !ok || !slices.Equal(back.Windows(), f.n.Windows()) {
		f.Fatalf("%d left %s and came back to %s, %t", w, written(f.n), written(back), ok)
	}
	if again := Restore(f.n, without(f.n.Windows(), w)); !Equal(again, Only(f.n, without(f.n.Windows(), w))) {
		f.Fatalf("%s restored without %d is %s", written(f.n), w, written(again))
	}
}

// around checks what is told of a block: the group about it, and what stands by it.
func (f *forest) around() {
	f.Helper()
	b := f.block()
	if len(b) == 0 {
		return
	}
	if ok, _ := Is(f.n, b); !ok {
		f.Fatalf("%v is no node of %s", b, written(f.n))
	}
	if rest, node := Take(f.n, b); node == nil || len(rest.Windows())+len(b) != len(f.n.Windows()) {
		f.Fatalf("%v taken out of %s leaves %s", b, written(f.n), written(rest))
	}
	outer := Around(f.n, b)
	if len(outer) <= len(b) && len(b) < len(f.n.Windows()) {
		f.Fatalf("around %v of %s is %v", b, written(f.n), outer)
	}
	for _, w := range f.n.Windows() {
		if slices.Contains(b, w) {
			continue
		}
		if s := Sibling(f.n, b, w); !slices.Contains(s, w) || !apart(s, b) {
			f.Fatalf("beside %v of %s, %d stands in %v", b, written(f.n), w, s)
		}
	}
	for _, wide := range []bool{true, false} {
		if next, ok := Step(f.n, b, wide, true); ok && !apart(next, b) {
			f.Fatalf("after %v of %s comes %v", b, written(f.n), next)
		}
	}
	if p := PileOf(f.n, f.pick()); len(p) == 0 {
		f.Fatalf("a window of %s is in no pile, not even alone", written(f.n))
	}
}
