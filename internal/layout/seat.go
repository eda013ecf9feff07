package layout

import "slices"

// Seat is the place of a tile that left a tree, told by its neighbour there, so
// that it can come back to it.
type Seat struct {
	Beside []int // the windows of the neighbour, before it where there was one
	Split  Split // of the group they stood in
	After  bool  // the tile stood after the neighbour
	Share  int   // the tile's among its siblings
	// Pair tells that the two were all of their group, which dissolved when the
	// tile left, and Other what the neighbour's share in it was.
	Pair  bool
	Other int
	// Outer is the place of the group they stood in, for when the neighbour is
	// not there any more; nil where that was all of the tree.
	Outer *Seat
}

// Seats gives the places in n of those of some windows that have one, and a neighbour.
func Seats(n *Node, of func(window int) bool, give func(window int, s *Seat)) {
	if n != nil {
		n.seats(n, nil, of, give)
	}
}

// seats is Seats for what is under the node k of n, at the end of a path.
func (n *Node) seats(k *Node, path []int, of func(window int) bool, give func(window int, s *Seat)) {
	if k.Split == Leaf && of(k.Window) {
		if s := n.seat(path); s != nil {
			give(k.Window, s)
		}
	}
	for i, kid := range k.Kids {
		n.seats(kid, append(path, i), of, give)
	}
}

// seat is the place of the node at the end of a path.
func (n *Node) seat(p []int) *Seat {
	if len(p) == 0 {
		return nil
	}
	up, i := p[:len(p)-1], p[len(p)-1]
	g := n.at(up)
	s := &Seat{Split: g.Split, Share: g.Kids[i].Share, Pair: len(g.Kids) == 2, Outer: n.seat(up)}
	beside := g.Kids[1]
	if i > 0 {
		beside, s.After = g.Kids[i-1], true
	}
	s.Beside, s.Other = beside.Windows(), beside.Share
	return s
}

// Sit brings a window back to a place it had in n; ok is false where its
// neighbour is not there as it was, nor that of the group they stood in. Windows
// of the neighbour that are gone are passed over.
func Sit(n *Node, window int, s *Seat) (*Node, bool) {
	if n == nil || s == nil {
		return n, false
	}
	beside := slices.DeleteFunc(slices.Clone(s.Beside), func(w int) bool { return !n.holds(w) })
	p, ok := n.find(beside)
	if !ok {
		return Sit(n, window, s.Outer)
	}
	leaf := NewLeaf(window).withShare(s.Share)
	if len(p) > 0 && !s.Pair {
		up, i := p[:len(p)-1], p[len(p)-1]
		if g := n.at(up); g.Split == s.Split {
			if s.After {
				i++
			}
			c := *g
			c.Kids = slices.Insert(slices.Clone(g.Kids), i, leaf)
			return n.put(up, &c), true
		}
	}
	other := n.at(p)
	pair := order(leaf, other.withShare(max(s.Other, 1)), s.After)
	return n.put(p, &Node{Split: s.Split, Share: other.Share, Kids: pair}), true
}
