package layout

import (
	"slices"

	"zatlas/internal/geom"
)

// path is the way from n to the leaf of a window, as the index of a member at
// each group; nil where n has no such leaf.
func (n *Node) path(window int) ([]int, bool) {
	if n == nil {
		return nil, false
	}
	if n.Split == Leaf {
		return nil, n.Window == window
	}
	for i, k := range n.Kids {
		if p, ok := k.path(window); ok {
			return append([]int{i}, p...), true
		}
	}
	return nil, false
}

// at is the node at the end of a path.
func (n *Node) at(path []int) *Node {
	for _, i := range path {
		n = n.Kids[i]
	}
	return n
}

// with is n with the node at the end of a path replaced, and groups of one or
// none on the way dissolved.
func (n *Node) with(path []int, node *Node) *Node {
	if len(path) == 0 {
		return node
	}
	c := *n
	c.Kids = slices.Clone(n.Kids)
	if k := n.Kids[path[0]].with(path[1:], node); k != nil {
		c.Kids[path[0]] = k
	} else {
		c.Kids = slices.Delete(c.Kids, path[0], path[0]+1)
	}
	return simplify(&c)
}

// Swap exchanges two windows.
func Swap(n *Node, a, b int) *Node {
	return Map(n, func(w int) int {
		switch w {
		case a:
			return b
		case b:
			return a
		}
		return w
	})
}

// Even makes all members of every group of n equal.
func Even(n *Node) *Node {
	if n == nil || n.Split == Leaf {
		return n
	}
	c := *n
	c.Kids = nil
	for _, k := range n.Kids {
		c.Kids = append(c.Kids, Even(k).withShare(1))
	}
	return &c
}

// group is the path to the innermost group around a window; ok is false where
// there is none.
func (n *Node) group(window int) (path []int, ok bool) {
	p, found := n.path(window)
	if !found || len(p) == 0 {
		return nil, false
	}
	return p[:len(p)-1], true
}

// EvenAround makes the members of the innermost group around a window equal.
func EvenAround(n *Node, window int) *Node {
	p, ok := n.group(window)
	if !ok {
		return n
	}
	g := *n.at(p)
	g.Kids = slices.Clone(g.Kids)
	for i, k := range g.Kids {
		g.Kids[i] = k.withShare(1)
	}
	return n.with(p, &g)
}

// Turn turns the innermost group around a window a quarter clockwise, the groups
// inside it too: across [a b] becomes down [a b], and down [a b] across [b a].
func Turn(n *Node, window int) *Node { return n.around(window, turned) }

// Mirror reverses every across group in the innermost group around a window.
func Mirror(n *Node, window int) *Node { return n.around(window, mirrored) }

func (n *Node) around(window int, change func(*Node) *Node) *Node {
	p, ok := n.group(window)
	if !ok {
		return n
	}
	return n.with(p, change(n.at(p)))
}

func turned(n *Node) *Node {
	c := n.each(turned)
	switch n.Split {
	case Across:
		c.Split = Down
	case Down:
		c.Split = Across
		slices.Reverse(c.Kids)
	}
	return c
}

func mirrored(n *Node) *Node {
	c := n.each(mirrored)
	if n.Split == Across {
		slices.Reverse(c.Kids)
	}
	return c
}

// each is n with its members changed.
func (n *Node) each(change func(*Node) *Node) *Node {
	c := *n
	c.Kids = make([]*Node, len(n.Kids))
	for i, k := range n.Kids {
		c.Kids[i] = change(k)
	}
	return &c
}

// Put takes a window out of n and puts it beside another: before it or after it,
// along across or down. Where the other's group runs that way the window becomes
// its neighbour there with its share; else the two share the other's room.
func Put(n *Node, window, beside int, split Split, after bool) *Node {
	n = Remove(n, func(w int) bool { return w == window })
	p, ok := n.path(beside)
	if !ok {
		return AppendTo(n, window)
	}
	leaf := n.at(p)
	pair := []*Node{NewLeaf(window), leaf.withShare(1)}
	if after {
		slices.Reverse(pair)
	}
	if len(p) > 0 {
		up := p[:len(p)-1]
		if g := n.at(up); g.Split == split {
			c := *g
			at := p[len(p)-1]
			if after {
				at++
			}
			c.Kids = slices.Insert(slices.Clone(g.Kids), at, NewLeaf(window).withShare(leaf.Share))
			return n.with(up, &c)
		}
	}
	return n.with(p, &Node{Split: split, Share: leaf.Share, Kids: pair})
}

// Outward takes a window out of the groups around it and puts it at that end of
// n; ok is false where it stands there already.
func Outward(n *Node, window int, split Split, after bool) (*Node, bool) {
	p, found := n.path(window)
	if !found || len(p) == 0 {
		return n, false
	}
	end := 0
	if after {
		end = len(n.Kids) - 1
	}
	if n.Split == split && len(p) == 1 && p[0] == end {
		return n, false
	}
	rest := Remove(n, func(w int) bool { return w == window })
	leaf := NewLeaf(window)
	if rest.Split == split {
		c := *rest
		sum := 0
		for _, k := range rest.Kids {
			sum += k.Share
		}
		at := 0
		if after {
			at = len(rest.Kids)
		}
		c.Kids = slices.Insert(slices.Clone(rest.Kids), at, leaf.withShare(max(1, sum/len(rest.Kids))))
		return &c, true
	}
	kids := []*Node{leaf, rest.withShare(1)}
	if after {
		slices.Reverse(kids)
	}
	return &Node{Split: split, Share: 1, Kids: kids}, true
}

// Resize moves an edge of a window's tile outward by px pixels, or inward for
// less than none: the edge on the side that split and after name. Both
// neighbours of a shared edge move. Where that edge is the room's own, the
// opposite one moves instead. Afterwards the shares of that group are its sizes
// in pixels. It gives by how much the window grew.
func Resize(n *Node, window int, room geom.Rect, gap int, split Split, after bool, px int) (*Node, int) {
	p, ok := n.path(window)
	if !ok {
		return n, 0
	}
	for _, side := range []bool{after, !after} {
		for depth := len(p) - 1; depth >= 0; depth-- {
			g := n.at(p[:depth])
			i := p[depth]
			other := i + 1
			if !side {
				other = i - 1
			}
			if g.Split != split || other < 0 || other >= len(g.Kids) {
				continue
			}
			sizes := n.sizes(p[:depth], room, gap)
			px = geom.Clamp(px, 1-sizes[i], sizes[other]-1)
			c := *g
			c.Kids = slices.Clone(g.Kids)
			sizes[i], sizes[other] = sizes[i]+px, sizes[other]-px
			for k := range c.Kids {
				c.Kids[k] = c.Kids[k].withShare(max(sizes[k], 1))
			}
			return n.with(p[:depth], &c), px
		}
	}
	return n, 0
}

// sizes are the lengths in pixels of the members of the group at a path, along
// the way it runs.
func (n *Node) sizes(path []int, room geom.Rect, gap int) []int {
	for _, i := range path {
		if n.Split == Across || n.Split == Down {
			room = parts(n, room, &gap)[i]
		} else {
			room = under(n, room)
		}
		n = n.Kids[i]
	}
	var sizes []int
	for _, r := range parts(n, room, &gap) {
		if n.Split == Down {
			sizes = append(sizes, r.H)
		} else {
			sizes = append(sizes, r.W)
		}
	}
	return sizes
}

// Group makes one group of a window and another, which takes the other's room
// and, where they stood in one group, the window's besides. The window comes
// before the other, or after it.
func Group(n *Node, window, other int, split Split, after bool) *Node {
	share := 0
	p, okP := n.path(window)
	q, okQ := n.path(other)
	if !okP || !okQ || window == other {
		return n
	}
	if len(p) == len(q) && slices.Equal(p[:len(p)-1], q[:len(q)-1]) {
		share = n.at(p).Share
		if len(n.at(p[:len(p)-1]).Kids) == 2 {
			return n // they are a group of their own
		}
	}
	n = Remove(n, func(w int) bool { return w == window })
	if q, okQ = n.path(other); !okQ {
		return n
	}
	leaf := n.at(q)
	pair := []*Node{NewLeaf(window), leaf.withShare(1)}
	if after {
		slices.Reverse(pair)
	}
	return n.with(q, &Node{Split: split, Share: leaf.Share + share, Kids: pair})
}

// maxShare bounds the shares that dissolving groups multiplies.
const maxShare = 1 << 20

// Ungroup dissolves the innermost group around a window: its members become
// those of the group around it, and keep their part of the whole. It is n where
// there is no group around that one.
func Ungroup(n *Node, window int) *Node {
	p, ok := n.group(window)
	if !ok || len(p) == 0 {
		return n
	}
	at := p[len(p)-1]
	up := p[:len(p)-1]
	outer := n.at(up)
	inner := outer.Kids[at]
	sum := 0
	for _, k := range inner.Kids {
		sum += k.Share
	}
	c := *outer
	c.Kids = nil
	for i, k := range outer.Kids {
		if i != at {
			c.Kids = append(c.Kids, k.withShare(min(k.Share*sum, maxShare)))
			continue
		}
		for _, m := range inner.Kids {
			c.Kids = append(c.Kids, m.withShare(min(m.Share*inner.Share, maxShare)))
		}
	}
	return n.with(up, &c)
}
