package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Header is the heading of one member of a pile or of tabs.
type Header struct {
	Rect   geom.Rect
	Window int // the one that has the focus when the heading is clicked; 0 for none
	More   int // how many windows the member has besides
	Active bool
	// Folded is for how many members this heading stands that have none of their own,
	// for want of room; 0 for the heading of a member.
	Folded int
	// Pile tells that the members lie on one another: one has a heading, and the others an edge
	// beside it.
	Pile bool
	Of   int // how many headings its pile or tabs have
	Nth  int // the place of the member among all, from 1
	// Prev and Next are the windows of the members before the active one and after it;
	// 0 at the ends.
	Prev, Next int
	Members    int // of the pile or tabs
	// Windows are all of the pile or tabs, on the first heading alone.
	Windows []int
}

// Place is which of how many members of a pile it is, before its name: "2 of 3 · "; empty for
// tabs.
func (h Header) Place() string {
	if !h.Pile {
		return ""
	}
	return fmt.Sprintf("%d of %d · ", h.Nth, h.Members)
}

// Over tells whether the headings stand over a tile at r.
func (h Header) Over(r geom.Rect) bool {
	return h.Rect.Bottom() == r.Y && h.Rect.X >= r.X && h.Rect.Right() <= r.Right()
}

// Headers lists the uncovered headings of piles and tabs on a monitor, of the workspace at index
// i, in the order of the tree.
func (d *Desk) Headers(i int, letter byte) []Header {
	s := d.Sheet(i, letter)
	if s == nil || s.Layout == layout.Free || s.Tiles == nil || !hasPile(s.Tiles) {
		return nil
	}
	var hs []Header
	layout.Headers(s.Tiles, d.RoomOf(s, letter), d.spacing(s, letter), d.active, func(g *layout.Node, active int, places []layout.Header) {
		beside := func(n int) int {
			if n < 0 || n >= len(g.Kids) {
				return 0
			}
			return d.MostRecent(g.Kids[n].Windows())
		}
		prev, next := beside(active-1), beside(active+1)
		for n, p := range places {
			h := Header{Rect: p.Rect, Pile: g.Split == layout.Pile, Of: len(places), Nth: p.Member + 1, Prev: prev, Next: next, Members: len(g.Kids)}
			if n == 0 {
				h.Windows = g.Windows()
			}
			if p.Member < 0 {
				h.Folded = len(g.Kids) - n
			} else {
				ids := g.Kids[p.Member].Windows()
				h.Window, h.More, h.Active = d.MostRecent(ids), len(ids)-1, p.Member == active
			}
			hs = append(hs, h)
		}
	})
	return hs
}

// active is the member of a pile or of tabs that shows: the one with the window
// that had the focus last, else the first.
func (d *Desk) active(g *layout.Node) int {
	best, used := 0, -1
	for i, k := range g.Kids {
		if w := d.Window(d.MostRecent(k.Windows())); w != nil && w.recency() > used {
			best, used = i, w.recency()
		}
	}
	return best
}

// MostRecent is the window of a list that had the focus last, the first of those
// that never had it.
func (d *Desk) MostRecent(ids []int) int {
	best, used := 0, -1
	for _, id := range ids {
		if w := d.Window(id); w != nil && w.recency() > used {
			best, used = id, w.recency()
		}
	}
	return best
}

// NextPlace is where a window would open next as a tile of a sheet; ok is false where it
// would float, or join a pile or tabs behind the window that shows.
func (d *Desk) NextPlace(workspace int, letter byte) (r geom.Rect, ok bool) {
	s := d.Sheet(workspace, letter)
	if s == nil || s.Layout == layout.Free || s.Tiles.Count() == 0 {
		return r, false
	}
	id := d.Windows[len(d.Windows)-1].ID + 1 // they are in the order of their ids
	next, _ := d.With(Opened{Keep: true, Window: Window{ID: id, Workspace: d.Workspaces[workspace].ID, Monitor: letter}})
	w := next.Window(id)
	if w == nil || !next.Tiled(w) || next.Covered(w) {
		return r, false
	}
	return w.Rect, true
}

// Covered tells whether a tile lies under another member of its pile or tabs.
func (d *Desk) Covered(w *Window) bool {
	if !d.Tiled(w) {
		return false
	}
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	return hasPile(s.Tiles) && !slices.Contains(layout.Tops(s.Tiles, d.active), w.ID)
}

// InFront is the tile that shows in the place of one that its pile or tabs cover; else
// the window itself.
func (d *Desk) InFront(w *Window) *Window {
	if !d.Covered(w) {
		return w
	}
	tiles := d.Sheet(d.Index(w.Workspace), w.Monitor).Tiles
	pile := layout.PileOf(tiles, w.ID)
	for _, id := range layout.Tops(tiles, d.active) {
		if slices.Contains(pile, id) {
			return d.Window(id)
		}
	}
	return w
}

// coveredBy is Covered for many windows: what is covered on a sheet is kept.
func (d *Desk) coveredBy(w *Window, kept map[*Sheet]map[int]bool) bool {
	if !d.Tiled(w) {
		return false
	}
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	covered, known := kept[s]
	if !known {
		if hasPile(s.Tiles) {
			covered = map[int]bool{}
			for _, id := range s.Tiles.Windows() {
				covered[id] = true
			}
			for _, id := range layout.Tops(s.Tiles, d.active) {
				delete(covered, id)
			}
		}
		kept[s] = covered
	}
	return covered[w.ID]
}

// Around lists the windows of the smallest group of tiles that holds those
// given and more, as many as there are on their sheet at most; nil where there
// is none. One window alone stands for its tile.
func (d *Desk) Around(ids []int) []int {
	for _, id := range ids {
		if w := d.Window(id); w == nil || !d.Tiled(w) {
			return nil
		}
	}
	if len(ids) == 0 {
		return nil
	}
	w := d.Window(ids[0])
	return layout.Around(d.Sheet(d.Index(w.Workspace), w.Monitor).Tiles, ids)
}

// InPile is the window that a direction leads to from a tile within its pile, up
// and down, or within its tabs, left and right.
func (d *Desk) InPile(w *Window, dir Dir) (id int, ok bool) {
	if !d.Tiled(w) {
		return 0, false
	}
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	next, ok := layout.Step(s.Tiles, []int{w.ID}, dir == Left || dir == Right, dir == Right || dir == Down)
	return d.MostRecent(next), ok
}

// PlaceInPile is the place of a tile among those of the outermost pile or tabs that it is in,
// from 1, and how many there are; 1 of 1 where it is in none.
func (d *Desk) PlaceInPile(w *Window) (place, of int) {
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	if s == nil || s.Layout == layout.Free || !d.Tiled(w) {
		return 1, 1
	}
	all := layout.PileOf(s.Tiles, w.ID)
	return slices.Index(all, w.ID) + 1, len(all)
}
