// Package layout turns a sheet's order of windows and a rectangle into a
// rectangle for each window.
//
// There is one mechanism: a tree of windows. Columns, rows, lead, pile and tabs
// are trees built from a list; the layout "tree" keeps a tree of its own.
package layout

import (
	"slices"

	"zatlas/internal/geom"
)

// Kind is a layout.
type Kind uint8

// The layouts. Free sheets tile nothing.
const (
	Tree Kind = iota
	Columns
	Rows
	Lead
	Piled
	Tabbed
	Free
)

var kindNames = [...]string{"tree", "columns", "rows", "lead", "pile", "tabs", "free"}

// String is the layout's name in commands and scenes.
func (k Kind) String() string { return kindNames[k] }

// ParseKind finds a layout by its name.
func ParseKind(name string) (Kind, bool) {
	i := slices.Index(kindNames[:], name)
	return Kind(max(i, 0)), i >= 0
}

// Names lists the layouts' names.
func Names() []string { return slices.Clone(kindNames[:]) }

// List tells whether the layout is made of the order of the windows alone.
func (k Kind) List() bool { return k != Tree && k != Free }

// Lead's share of the windows that lead, in per cent.
const (
	DefaultShare = 60
	MinShare     = 10
	MaxShare     = 90
)

// The sizes in pixels of headers where nothing says otherwise: the height of one row of
// them over tabs or a pile, and the least width of one.
const (
	HeaderHeight = 24
	HeaderWidth  = 72
	MaxHeader    = 5 * HeaderHeight // the highest that a Spacing may ask for
)

// Spacing is the room in pixels that a sheet keeps free of windows.
type Spacing struct {
	Gap    int // between neighbours
	Header int // the height of a row of headers; 0 for HeaderHeight
}

// header is the height of a row of headers, and the least width of one.
func (s Spacing) header() (high, wide int) {
	if s.Header <= 0 {
		return HeaderHeight, HeaderWidth
	}
	return s.Header, s.Header * HeaderWidth / HeaderHeight
}

// Split says how a group of a tree lays out its members.
type Split uint8

// The groups of a tree. Leaf is a window alone.
const (
	Leaf Split = iota
	Across
	Down
	Pile
	Tabs
)

var splitNames = [...]string{"window", "across", "down", "pile", "tabs"}

// String is the group's name in scenes.
func (s Split) String() string { return splitNames[s] }

// Node is a tree of tiled windows: a leaf with its window, or a group with at
// least two members. A Node is never written again once a desk holds it.
type Node struct {
	Split  Split
	Share  int // the weight among its siblings, at least 1
	Window int // of a leaf
	Kids   []*Node
}

// NewLeaf is a tree of one window.
func NewLeaf(window int) *Node { return &Node{Share: 1, Window: window} }

// Flat is a group of windows with equal shares, the window itself for one, nil
// for none.
func Flat(s Split, windows []int) *Node {
	if len(windows) == 0 {
		return nil
	}
	n := &Node{Split: s, Share: 1}
	for _, w := range windows {
		n.Kids = append(n.Kids, NewLeaf(w))
	}
	return simplify(n)
}

// Of is the tree that a list layout draws its windows by. Lead gives the first
// leads of them, at least one, share per cent of the width; where none is left
// over they have all of it. Free and Tree have no tree of a list.
func Of(k Kind, windows []int, share, leads int) *Node {
	switch k {
	case Columns:
		return Flat(Across, windows)
	case Rows:
		return Flat(Down, windows)
	case Piled:
		return Flat(Pile, windows)
	case Tabbed:
		return Flat(Tabs, windows)
	case Lead:
		leads = max(leads, 1)
		if len(windows) <= leads {
			return Flat(Down, windows)
		}
		share = geom.Clamp(share, MinShare, MaxShare)
		first, rest := Flat(Down, windows[:leads]), Flat(Down, windows[leads:])
		return &Node{Split: Across, Share: 1, Kids: []*Node{first.withShare(share), rest.withShare(100 - share)}}
	}
	return nil
}

// Windows lists the leaves in their order.
func (n *Node) Windows() []int {
	var ids []int
	n.walk(func(leaf *Node) { ids = append(ids, leaf.Window) })
	return ids
}

// Count is how many windows n lays out.
func (n *Node) Count() int {
	count := 0
	n.walk(func(*Node) { count++ })
	return count
}

func (n *Node) walk(visit func(leaf *Node)) {
	if n == nil {
		return
	}
	if n.Split == Leaf {
		visit(n)
		return
	}
	for _, k := range n.Kids {
		k.walk(visit)
	}
}

func (n *Node) withShare(share int) *Node {
	c := *n
	c.Share = share
	return &c
}

// simplify replaces a group of one by its member, which takes the group's
// share, and a group of none by nil.
func simplify(n *Node) *Node {
	if n.Split == Leaf || len(n.Kids) > 1 {
		return n
	}
	if len(n.Kids) == 0 {
		return nil
	}
	return n.Kids[0].withShare(n.Share)
}

// Remove is n without the windows for which gone is true; nil where nothing is left.
func Remove(n *Node, gone func(window int) bool) *Node {
	if n == nil {
		return nil
	}
	if n.Split == Leaf {
		if gone(n.Window) {
			return nil
		}
		return n
	}
	c, same := *n, len(n.Kids) > 1
	for i, k := range n.Kids {
		left := Remove(k, gone)
		if left != k && same {
			c.Kids, same = slices.Clone(n.Kids[:i]), false
		}
		if !same && left != nil {
			c.Kids = append(c.Kids, left)
		}
	}
	if same {
		return n
	}
	return simplify(&c)
}

// GroupOf is a group of members; one alone is that member.
func GroupOf(split Split, share int, members []*Node) *Node {
	return simplify(&Node{Split: split, Share: share, Kids: members})
}

// Only is n with those of its windows alone that are listed; nil where none is.
func Only(n *Node, windows []int) *Node {
	stays := make(map[int]bool, len(windows))
	for _, w := range windows {
		stays[w] = true
	}
	return Remove(n, func(w int) bool { return !stays[w] })
}

// Restore is the tree kept with those windows that are listed, and the others of
// the list, in its order, as its last leaves.
func Restore(kept *Node, windows []int) *Node {
	n := Only(kept, windows)
	for _, w := range windows {
		if kept == nil || !kept.holds(w) {
			n = AppendTo(n, w)
		}
	}
	return n
}

// Equal tells whether two trees are the same: groups, shares and windows.
func Equal(a, b *Node) bool {
	if a == b {
		return true
	}
	if a == nil || b == nil {
		return false
	}
	return a.Split == b.Split && a.Share == b.Share && a.Window == b.Window && slices.EqualFunc(a.Kids, b.Kids, Equal)
}

// Map is n with each window replaced.
func Map(n *Node, to func(window int) int) *Node {
	if n == nil {
		return nil
	}
	c := *n
	if c.Split == Leaf {
		c.Window = to(c.Window)
	}
	c.Kids = nil
	for _, k := range n.Kids {
		c.Kids = append(c.Kids, Map(k, to))
	}
	return &c
}

// MaxDepth is how deep windows that open nest groups. At this depth a leaf halved each time is a
// few pixels wide; a window joins its group instead.
const MaxDepth = 16

// InsertAt gives the window half of the leaf at: to its right for Across, below it for Down, as
// split says once it is asked. A leaf of a pile or of tabs, or one MaxDepth deep, keeps its
// share, and the window joins the group behind it. Where at is no leaf of n the window joins the end
// as AppendTo does.
func InsertAt(n *Node, at, window int, split func() Split) *Node {
	if n == nil {
		return NewLeaf(window)
	}
	if c, ok := insertAt(n, at, window, split, 1); ok {
		return c
	}
	return AppendTo(n, window)
}

func insertAt(n *Node, at, window int, split func() Split, depth int) (*Node, bool) {
	if n.Split == Leaf {
		if n.Window != at {
			return n, false
		}
		return &Node{Split: split(), Share: n.Share, Kids: []*Node{n.withShare(1), NewLeaf(window)}}, true
	}
	joins := n.Split == Pile || n.Split == Tabs || depth >= MaxDepth
	for i, k := range n.Kids {
		if k.Split == Leaf && joins {
			if k.Window == at {
				c := *n
				c.Kids = slices.Insert(slices.Clip(n.Kids), i+1, NewLeaf(window).withShare(k.Share))
				return &c, true
			}
		} else if joined, ok := insertAt(k, at, window, split, depth+1); ok {
			return n.put([]int{i}, joined), true
		}
	}
	return n, false
}

// AppendTo adds the window as the last member of n. In an across group it has an average share;
// beside anything else it makes a new across group.
func AppendTo(n *Node, window int) *Node { return Beside(n, NewLeaf(window), Across, true) }

// Place gives every window of the tree its rectangle: the leaves fill room
// exactly but for the gap between neighbours. Where the gaps do not fit
// they shrink. The windows of a pile or of tabs all have the room under their
// headers, which is at least half of it.
func Place(n *Node, room geom.Rect, by Spacing, put func(window int, r geom.Rect)) {
	if n == nil {
		return
	}
	switch n.Split {
	case Leaf:
		put(n.Window, room)
	case Pile, Tabs:
		room = under(n, room, by)
		for _, k := range n.Kids {
			Place(k, room, by, put)
		}
	default:
		for i, r := range parts(n, room, &by.Gap) {
			Place(n.Kids[i], r, by, put)
		}
	}
}

// RectOf is where Place would put one window; ok is false where n has it not.
func RectOf(n *Node, room geom.Rect, by Spacing, window int) (r geom.Rect, ok bool) {
	if n == nil {
		return r, false
	}
	way, ok := n.wayTo(window, nil)
	for _, i := range way {
		if n.Split == Pile || n.Split == Tabs {
			room = under(n, room, by)
		} else {
			room = parts(n, room, &by.Gap)[i]
		}
		n = n.Kids[i]
	}
	return room, ok
}

// wayTo adds to a path the members through which a leaf is reached.
func (n *Node) wayTo(window int, path []int) (way []int, ok bool) {
	for i, k := range n.Kids {
		if way, ok := k.wayTo(window, append(path, i)); ok {
			return way, true
		}
	}
	return path, n.Split == Leaf && n.Window == window
}

// under is what the headers of a pile or of tabs leave of a room.
func under(n *Node, room geom.Rect, by Spacing) geom.Rect {
	high, _ := by.header()
	h := min(high, room.H/2)
	room.Y, room.H = room.Y+h, room.H-h
	return room
}

// parts are the rectangles of the members of an across or down group. The gap
// becomes smaller where it does not fit.
func parts(n *Node, room geom.Rect, gap *int) []geom.Rect {
	weights := make([]int, len(n.Kids))
	for i, k := range n.Kids {
		weights[i] = k.Share
	}
	length := room.W
	if n.Split == Down {
		length = room.H
	}
	// A gap may not eat the last pixel of a window.
	if between := len(n.Kids) - 1; between > 0 {
		*gap = geom.Clamp(*gap, 0, max(0, length-len(n.Kids))/between)
		length -= *gap * between
	}
	at := 0
	rects := make([]geom.Rect, len(n.Kids))
	for i, part := range geom.Share(max(length, 0), weights) {
		rects[i] = geom.Rect{X: room.X + at, Y: room.Y, W: part, H: room.H}
		if n.Split == Down {
			rects[i] = geom.Rect{X: room.X, Y: room.Y + at, W: room.W, H: part}
		}
		at += part + *gap
	}
	return rects
}
