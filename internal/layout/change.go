package layout

import (
	"slices"

	"zatlas/internal/geom"
)

// What follows changes a tree. A tile or a group of them is named by its
// windows, in any order; names that are no node of the tree change nothing.

// find is the way from n to the node of exactly those windows, as the index of
// a member at each group.
func (n *Node) find(windows []int) (path []int, ok bool) {
	if n == nil || len(windows) == 0 {
		return nil, false
	}
	if n.Split == Leaf {
		return nil, len(windows) == 1 && n.Window == windows[0]
	}
	for i, k := range n.Kids {
		if !k.holds(windows[0]) {
			continue
		}
		if p, ok := k.find(windows); ok {
			return append([]int{i}, p...), true
		}
	}
	ids := n.Windows()
	return nil, len(ids) == len(windows) && holdsAll(ids, windows)
}

func holdsAll(ids, windows []int) bool {
	return !slices.ContainsFunc(windows, func(w int) bool { return !slices.Contains(ids, w) })
}

// holds tells whether a window has a leaf in n.
func (n *Node) holds(window int) bool {
	if n.Split == Leaf {
		return n.Window == window
	}
	return slices.ContainsFunc(n.Kids, func(k *Node) bool { return k.holds(window) })
}

// at is the node at the end of a path.
func (n *Node) at(path []int) *Node {
	for _, i := range path {
		n = n.Kids[i]
	}
	return n
}

// with is n with the node at the end of a path replaced, or taken out where node is nil. Groups
// of one or none on the way are dissolved.
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

// Is tells whether the windows are a tile or a group of n; group tells that they
// are a group within it, not all of it.
func Is(n *Node, windows []int) (ok, group bool) {
	p, ok := n.find(windows)
	return ok, ok && len(p) > 0 && len(windows) > 1
}

// Around lists the windows of the smallest group that holds those given and
// more; nil where there is none.
func Around(n *Node, windows []int) []int {
	if n == nil || n.Split == Leaf {
		return nil
	}
	for _, k := range n.Kids {
		if ids := k.Windows(); holdsAll(ids, windows) {
			if inner := Around(k, windows); inner != nil {
				return inner
			}
			break
		}
	}
	if ids := n.Windows(); len(ids) > len(windows) && holdsAll(ids, windows) {
		return ids
	}
	return nil
}

// Sibling lists the windows of the largest node that holds a window and none of
// the block: what stands beside the block where the window does.
func Sibling(n *Node, block []int, window int) []int {
	for n != nil && n.Split != Leaf {
		i := slices.IndexFunc(n.Kids, func(k *Node) bool { return k.holds(window) })
		if i < 0 {
			return nil
		}
		n = n.Kids[i]
		if !slices.ContainsFunc(block, n.holds) {
			break
		}
	}
	return n.Windows()
}

// Step finds the node next to a block in its group, where that is a pile or
// tabs: the one after it or before it. Wide asks for tabs, else a pile. Outer
// groups are searched where the block stands at the end of its own.
func Step(n *Node, block []int, wide, after bool) (next []int, ok bool) {
	split := Pile
	if wide {
		split = Tabs
	}
	p, found := n.find(block)
	for ; found && len(p) > 0; p = p[:len(p)-1] {
		g, i := n.at(p[:len(p)-1]), p[len(p)-1]
		if i += step(after); g.Split == split && i >= 0 && i < len(g.Kids) {
			return g.Kids[i].Windows(), true
		}
	}
	return nil, false
}

func step(after bool) int {
	if after {
		return 1
	}
	return -1
}

// Layers lists the windows of n for stacking, the lowest first: of a pile or
// tabs, the member that active chooses comes last.
func Layers(n *Node, active func(group *Node) int) []int {
	if n == nil {
		return nil
	}
	if n.Split == Leaf {
		return []int{n.Window}
	}
	top := -1
	if n.Split == Pile || n.Split == Tabs {
		top = active(n)
	}
	var ids []int
	for i, k := range n.Kids {
		if i != top {
			ids = append(ids, Layers(k, active)...)
		}
	}
	if top >= 0 {
		ids = append(ids, Layers(n.Kids[top], active)...)
	}
	return ids
}

// Tops lists the windows of n that no other member of a pile or tabs covers.
func Tops(n *Node, active func(group *Node) int) []int {
	switch {
	case n == nil:
		return nil
	case n.Split == Leaf:
		return []int{n.Window}
	case n.Split == Pile || n.Split == Tabs:
		return Tops(n.Kids[active(n)], active)
	}
	var ids []int
	for _, k := range n.Kids {
		ids = append(ids, Tops(k, active)...)
	}
	return ids
}

// A Header is the place of the header of one member of a pile or of tabs, or of all
// those for which there is no room.
type Header struct {
	Rect   geom.Rect
	Member int // its place in the group, -1 for the header of those folded
}

// Headers gives every pile and tabs group of n that is not covered by another
// its headers. Those of tabs have equal room; those for which there is none are folded into
// one, the last, but never the one of the active member. A pile has the header of the active
// member, and the edges of the others beside it, as far as half of the room holds them.
func Headers(n *Node, room geom.Rect, by Spacing, active func(group *Node) int, put func(group *Node, active int, headers []Header)) {
	if n == nil || n.Split == Leaf {
		return
	}
	if n.Split == Across || n.Split == Down {
		for i, r := range parts(n, room, &by.Gap) {
			Headers(n.Kids[i], r, by, active, put)
		}
		return
	}
	rest, on := under(n, room, by), active(n)
	put(n, on, headers(n, on, geom.R(room.X, room.Y, room.W, room.H-rest.H), by))
	Headers(n.Kids[on], rest, by, active, put)
}

// headers shares a strip among the headers of a group.
func headers(n *Node, active int, strip geom.Rect, by Spacing) []Header {
	high, wide := by.header()
	if n.Split == Pile {
		return edges(len(n.Kids), active, strip, max(1, high/2))
	}
	places := max(2, strip.W/wide)
	if strip.W < 2 {
		places = 1
	}
	first, members := 0, len(n.Kids)
	if members > places {
		members = max(1, places-1)
		// By pages, so that they stay where they are while the active one is in sight.
		first = min(active/members*members, len(n.Kids)-members)
	} else {
		places = members
	}
	even := &Node{Split: Across}
	for range places {
		even.Kids = append(even.Kids, NewLeaf(0))
	}
	none := 0
	hs := make([]Header, places)
	for i, r := range parts(even, strip, &none) {
		hs[i] = Header{r, first + i}
		if i == members {
			hs[i].Member = -1
		}
	}
	return hs
}

// edges are the headers of a pile of so many members. The edges of those before the active one
// are at its left, of those after it at its right. If there is no room for all, the nearest
// have one.
func edges(members, active int, strip geom.Rect, wide int) (hs []Header) {
	room := strip.W / 2 / wide
	before, after := active, members-1-active
	if before+after > room {
		before = min(before, max(room/2, room-after))
		after = min(after, room-before)
	}
	x := strip.X
	for m := active - before; m <= active+after; m++ {
		w := wide
		if m == active {
			w = strip.W - (before+after)*wide
		}
		hs = append(hs, Header{geom.R(x, strip.Y, w, strip.H), m})
		x += w
	}
	return hs
}

// Swap exchanges two nodes, each with the share of the place it comes to.
func Swap(n *Node, a, b []int) *Node {
	p, okP := n.find(a)
	q, okQ := n.find(b)
	if !okP || !okQ || slices.ContainsFunc(a, func(w int) bool { return slices.Contains(b, w) }) {
		return n
	}
	x, y := n.at(p), n.at(q)
	return n.put(p, y.withShare(x.Share)).put(q, x.withShare(y.Share))
}

// put is n with the node at the end of a path replaced, and nothing dissolved.
func (n *Node) put(path []int, node *Node) *Node {
	if len(path) == 0 {
		return node
	}
	c := *n
	c.Kids = slices.Clone(n.Kids)
	c.Kids[path[0]] = n.Kids[path[0]].put(path[1:], node)
	return &c
}

// Even makes all members of every group of n equal.
func Even(n *Node) *Node {
	if n == nil || n.Split == Leaf {
		return n
	}
	return n.each(func(k *Node) *Node { return Even(k).withShare(1) })
}

// group is the path to the group a block is, or to the innermost one around a
// tile; ok is false where there is none.
func (n *Node) group(block []int) (path []int, ok bool) {
	p, found := n.find(block)
	switch {
	case !found:
		return nil, false
	case len(block) > 1:
		return p, true
	case len(p) == 0:
		return nil, false
	}
	return p[:len(p)-1], true
}

// EvenAround makes the members of a group equal, or of the innermost one around
// a tile.
func EvenAround(n *Node, block []int) *Node {
	return n.around(block, func(g *Node) *Node { return g.each(func(k *Node) *Node { return k.withShare(1) }) })
}

// Turn turns a group a quarter clockwise, or the innermost one around a tile, and
// the groups inside it: across [a b] becomes down [a b], and down [a b] across
// [b a]. Piles and tabs have nothing to turn.
func Turn(n *Node, block []int) *Node { return n.around(block, turned) }

// Mirror reverses every across group in a group, or in the innermost one around
// a tile.
func Mirror(n *Node, block []int) *Node { return n.around(block, mirrored) }

func (n *Node) around(block []int, change func(*Node) *Node) *Node {
	p, ok := n.group(block)
	if !ok {
		return n
	}
	return n.put(p, change(n.at(p)))
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

// Relay lays the members of a group out another way.
func Relay(n *Node, block []int, split Split) *Node {
	p, ok := n.find(block)
	if !ok || len(block) < 2 {
		return n
	}
	g := *n.at(p)
	g.Split = split
	return n.put(p, &g)
}

// Gather makes one group of windows that need not be neighbours. They keep their order in n; the
// group has the place and the share of the first.
func Gather(n *Node, windows []int, split Split) *Node {
	var ids []int
	n.walk(func(leaf *Node) {
		if slices.Contains(windows, leaf.Window) {
			ids = append(ids, leaf.Window)
		}
	})
	if len(ids) < 2 {
		return n
	}
	rest := Remove(n, func(w int) bool { return w != ids[0] && slices.Contains(ids, w) })
	return Replace(rest, ids[:1], Flat(split, ids))
}

// SplitOf is how the group around a block lays out its members; Leaf where there
// is none.
func SplitOf(n *Node, block []int) Split {
	p, ok := n.find(block)
	if !ok || len(p) == 0 {
		return Leaf
	}
	return n.at(p[:len(p)-1]).Split
}

// PileOf lists the windows of the outermost pile or tabs that a window is in; the
// window alone where it is in none.
func PileOf(n *Node, window int) []int {
	p, ok := n.find([]int{window})
	if !ok {
		return nil
	}
	for depth := range p {
		if g := n.at(p[:depth]); g.Split == Pile || g.Split == Tabs {
			return g.Windows()
		}
	}
	return []int{window}
}

// Take takes a block out of n: what is left, and the block's node, nil where it
// is none of n's.
func Take(n *Node, block []int) (rest, node *Node) {
	p, ok := n.find(block)
	if !ok {
		return n, nil
	}
	return n.with(p, nil), n.at(p)
}

// Replace is n with a node in the place of a block, with its share.
func Replace(n *Node, block []int, node *Node) *Node {
	p, ok := n.find(block)
	if !ok {
		return n
	}
	return n.put(p, node.withShare(n.at(p).Share))
}

// Put takes a block out of n and puts it beside another: before it or after it,
// along split. Where the other's group runs that way the block becomes its
// neighbour there with its share; else the two share the other's room.
func Put(n *Node, block, beside []int, split Split, after bool) *Node {
	rest, node := Take(n, block)
	if node == nil {
		return n
	}
	if c, ok := Graft(rest, node, beside, split, after); ok {
		return c
	}
	return n
}

// Graft puts a node of no tree beside a block of n, as Put does; ok is false
// where n has no such block.
func Graft(n, node *Node, beside []int, split Split, after bool) (*Node, bool) {
	p, ok := n.find(beside)
	if !ok {
		return n, false
	}
	other := n.at(p)
	if len(p) > 0 {
		up, i := p[:len(p)-1], p[len(p)-1]
		if g := n.at(up); g.Split == split {
			if after {
				i++
			}
			c := *g
			c.Kids = slices.Insert(slices.Clone(g.Kids), i, node.withShare(other.Share))
			return n.put(up, &c), true
		}
	}
	pair := order(node.withShare(1), other.withShare(1), after)
	return n.put(p, &Node{Split: split, Share: other.Share, Kids: pair}), true
}

// order is a pair with the node first, or last.
func order(node, other *Node, after bool) []*Node {
	if after {
		return []*Node{other, node}
	}
	return []*Node{node, other}
}

// Outward takes a block out of the groups around it and puts it at that end of
// n; ok is false where it stands there already.
func Outward(n *Node, block []int, split Split, after bool) (*Node, bool) {
	p, found := n.find(block)
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
	rest, node := Take(n, block)
	return Beside(rest, node, split, after), true
}

// Beside puts a node at an end of n: as a member of n where that runs along
// split, else beside all of it.
func Beside(n, node *Node, split Split, after bool) *Node {
	if n == nil {
		return node.withShare(1)
	}
	if n.Split != split {
		return &Node{Split: split, Share: 1, Kids: order(node.withShare(1), n.withShare(1), after)}
	}
	c := *n
	sum := 0
	for _, k := range n.Kids {
		sum += k.Share
	}
	at := 0
	if after {
		at = len(n.Kids)
	}
	c.Kids = slices.Insert(slices.Clone(n.Kids), at, node.withShare(max(1, sum/len(n.Kids))))
	return &c
}

// MinTile is the least length in pixels that resizing leaves of a tile or a group.
const MinTile = 48

// Resize moves an edge of a block outward by px pixels, or inward for less than
// none: the edge on the side that split and after name. Both neighbours of a
// shared edge move. Where that edge is the room's own, the opposite one moves
// instead. Afterwards the shares of that group are its sizes in pixels. It gives
// by how much the block grew.
func Resize(n *Node, block []int, room geom.Rect, by Spacing, split Split, after bool, px int) (*Node, int) {
	p, ok := n.find(block)
	if !ok {
		return n, 0
	}
	for _, side := range []bool{after, !after} {
		if q, other, ok := n.edge(p, split, side); ok {
			g := n.at(q)
			i := p[len(q)]
			sizes := n.sizes(q, room, by)
			px = geom.Clamp(px, min(0, MinTile-sizes[i]), max(0, sizes[other]-MinTile))
			c := *g
			c.Kids = slices.Clone(g.Kids)
			sizes[i], sizes[other] = sizes[i]+px, sizes[other]-px
			for k := range c.Kids {
				c.Kids[k] = c.Kids[k].withShare(max(sizes[k], 1))
			}
			return n.put(q, &c), px
		}
	}
	return n, 0
}

// edge finds the innermost group in which the node at the end of a path shares
// its edge on a side, and which member it shares it with.
func (n *Node) edge(p []int, split Split, after bool) (group []int, other int, ok bool) {
	for depth := len(p) - 1; depth >= 0; depth-- {
		g, other := n.at(p[:depth]), p[depth]+step(after)
		if g.Split == split && other >= 0 && other < len(g.Kids) {
			return p[:depth], other, true
		}
	}
	return nil, 0, false
}

// Shares tells whether a block shares its edge on a side with another tile.
func Shares(n *Node, block []int, split Split, after bool) bool {
	p, ok := n.find(block)
	if ok {
		_, _, ok = n.edge(p, split, after)
	}
	return ok
}

// sizes are the lengths in pixels of the members of the group at a path, along
// the way it runs.
func (n *Node) sizes(path []int, room geom.Rect, by Spacing) []int {
	for _, i := range path {
		if n.Split == Across || n.Split == Down {
			room = parts(n, room, &by.Gap)[i]
		} else {
			room = under(n, room, by)
		}
		n = n.Kids[i]
	}
	var sizes []int
	for _, r := range parts(n, room, &by.Gap) {
		if n.Split == Down {
			sizes = append(sizes, r.H)
		} else {
			sizes = append(sizes, r.W)
		}
	}
	return sizes
}

// Group makes one group of a block and another, which takes the other's room
// and, where they stood in one group, the block's besides. The block comes
// before the other, or after it.
func Group(n *Node, block, other []int, split Split, after bool) *Node {
	share := 0
	p, okP := n.find(block)
	q, okQ := n.find(other)
	if !okP || !okQ || len(p) == 0 || len(q) == 0 {
		return n
	}
	if slices.Equal(p[:len(p)-1], q[:len(q)-1]) {
		if len(n.at(p[:len(p)-1]).Kids) == 2 {
			return n // they are a group of their own
		}
		share = n.at(p).Share
	}
	rest, node := Take(n, block)
	if q, okQ = rest.find(other); !okQ {
		return n
	}
	was := rest.at(q)
	return rest.put(q, &Node{Split: split, Share: was.Share + share, Kids: order(node.withShare(1), was.withShare(1), after)})
}

// maxShare bounds the shares that dissolving groups multiplies.
const maxShare = 1 << 20

func product(a, b int) int { return min(min(a, maxShare)*min(b, maxShare), maxShare) }

// Ungroup dissolves a group, or the innermost one around a tile: its members
// become those of the group around it, and keep their part of the whole. It is n
// where there is no group around that one.
func Ungroup(n *Node, block []int) *Node {
	p, ok := n.group(block)
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
			c.Kids = append(c.Kids, k.withShare(product(k.Share, sum)))
			continue
		}
		for _, m := range inner.Kids {
			c.Kids = append(c.Kids, m.withShare(product(m.Share, inner.Share)))
		}
	}
	return n.put(up, &c)
}
