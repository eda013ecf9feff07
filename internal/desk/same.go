package desk

import (
	"maps"
	"reflect"
	"slices"

	"zatlas/internal/layout"
)

// same tells whether another desk has everything where this one has it: whether
// undo would have nothing to bring back. What is shown and focused, and when,
// does not count. What the two share costs nothing.
func (d *Desk) same(o *Desk) bool {
	return slices.Equal(d.Monitors, o.Monitors) &&
		slices.EqualFunc(d.Workspaces, o.Workspaces, func(a, b *Workspace) bool { return a == b || d.sameWorkspace(o, a, b) }) &&
		slices.EqualFunc(d.Windows, o.Windows, sameWindow) &&
		d.mode() == o.mode() && maps.EqualFunc(d.Plates, o.Plates, (*Plate).same)
}

// sameWorkspace compares a workspace with one of another desk.
func (d *Desk) sameWorkspace(o *Desk, a, b *Workspace) bool {
	if a.ID != b.ID || a.Name != b.Name || a.Home != b.Home || a.Pin != b.Pin {
		return false
	}
	for i := range a.sheets {
		if !d.sameSheet(o, a.sheets[i], b.sheets[i]) || !d.sameSheet(o, a.away[i], b.away[i]) {
			return false
		}
	}
	return true
}

func (d *Desk) sameSheet(o *Desk, a, b *Sheet) bool {
	if a == b {
		return true
	}
	if a == nil || b == nil {
		return false
	}
	x, y := *a, *b
	x.Tiles, x.Kept, x.Before, x.Floating = nil, nil, nil, nil
	y.Tiles, y.Kept, y.Before, y.Floating = nil, nil, nil, nil
	return reflect.DeepEqual(x, y) && slices.Equal(a.Floating, b.Floating) &&
		layout.Equal(a.Tiles, b.Tiles) &&
		layout.Equal(d.Memory(a.Kept), o.Memory(b.Kept)) && layout.Equal(d.Memory(a.Before), o.Memory(b.Before))
}

// Memory is a tree that a sheet remembers, of the windows that are still there;
// nil where it says nothing any more.
func (d *Desk) Memory(n *layout.Node) *layout.Node {
	n = layout.Remove(n, func(id int) bool { return d.Window(id) == nil })
	if n == nil || n.Split == layout.Leaf {
		return nil
	}
	return n
}

func sameWindow(a, b *Window) bool {
	if a == b {
		return true
	}
	x, y := *a, *b
	x.Used, x.UsedAt, x.Front, x.Urgent = y.Used, y.UsedAt, y.Front, y.Urgent
	if samePlace(a, b) {
		x.Rect = y.Rect
	}
	if len(x.Away) == 0 && len(y.Away) == 0 {
		x.Away, y.Away = nil, nil
	}
	return reflect.DeepEqual(x, y)
}

// samePlace tells whether a window is where it was. Where one lies that is maximised or
// fullscreen depends on what has the focus, and its own place does not.
func samePlace(a, b *Window) bool { return a.Rect == b.Rect || a.full() && b.full() }
