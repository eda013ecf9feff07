package desk

import (
	"cmp"
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// put is the verb that puts a block beside a tile, on to one, or at an end of the
// sheet that a monitor shows.
func (e *edit) putVerb(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	dir, beside := ParseDir(c.Args[0].Word)
	if to := c.Args[1]; to.Kind == Letter {
		return e.putAtEnd(b, to.Letter, dir)
	}
	o := e.Window(c.Args[1].N)
	switch {
	case o == nil:
		return "", fmt.Errorf("there is no window #%d", c.Args[1].N)
	case !e.Tiled(o):
		return "", e.Untiled(o)
	case slices.Contains(b.windows, o.ID):
		return "", fmt.Errorf("%s cannot go beside itself", e.the(b.windows))
	}
	e.bring(b, e.Index(o.Workspace), o.Monitor)
	s := e.sheet(e.Index(o.Workspace), o.Monitor)
	s.Kept, b.Kept = nil, nil
	if !beside {
		return e.putOnto(b, s, o), nil
	}
	split, after := dir.axis()
	if s.Layout.List() {
		s.setTiles(reordered(s.Tiles, b.windows, o.ID, after))
	} else {
		others := slices.DeleteFunc(layout.PileOf(s.Tiles, o.ID), func(id int) bool { return slices.Contains(b.windows, id) })
		s.Tiles = layout.Put(s.Tiles, b.windows, others, split, after)
	}
	return fmt.Sprintf("Put %s %s %s.", e.the(b.windows), dir.beside(), o.Name()), nil
}

// bring takes a block to another sheet, where it is not there.
func (e *edit) bring(b block, i int, letter byte) {
	if b.workspace == i && b.letter == letter {
		return
	}
	group := e.groupOf(b.windows)
	var moves []move
	for _, id := range b.windows {
		moves = append(moves, move{id, i, letter})
	}
	e.putAll(moves)
	e.regroup(b.windows, group)
}

// putOnto has a block join the pile or the tabs of a tile, or change places with it.
func (e *edit) putOnto(b block, s *Sheet, o *Window) string {
	who := e.the(b.windows)
	split := layout.SplitOf(s.Tiles, []int{o.ID})
	if split != layout.Pile && split != layout.Tabs {
		s.setTiles(layout.Swap(s.Tiles, b.windows, []int{o.ID}))
		return fmt.Sprintf("%s and %s changed places.", who, o.Name())
	}
	if s.Layout.List() {
		s.setTiles(reordered(s.Tiles, b.windows, o.ID, true))
	} else {
		s.Tiles = layout.Put(s.Tiles, b.windows, []int{o.ID}, split, true)
	}
	return fmt.Sprintf("Put %s in the %s of %s.", who, split, o.Name())
}

// putAtEnd puts a block at an end of the sheet that a monitor shows.
func (e *edit) putAtEnd(b block, letter byte, dir Dir) (string, error) {
	if !e.Connected(letter) {
		return "", e.noMonitor(letter)
	}
	i := e.shownOn(letter)
	if i < 0 {
		return "", fmt.Errorf("monitor %c shows no workspace", letter)
	}
	e.bring(b, i, letter)
	s := e.sheet(i, letter)
	s.Kept, b.Kept = nil, nil
	split, after := dir.axis()
	if s.Layout.List() {
		ids := slices.DeleteFunc(s.Tiles.Windows(), func(id int) bool { return slices.Contains(b.windows, id) })
		if len(ids) > 0 {
			end := ids[0]
			if after {
				end = ids[len(ids)-1]
			}
			s.setTiles(reordered(s.Tiles, b.windows, end, after))
		}
	} else if tiles, ok := layout.Outward(s.Tiles, b.windows, split, after); ok {
		s.Tiles = tiles
	}
	return fmt.Sprintf("Put %s at the %s of %s.", e.the(b.windows), edgeNames[dir], SheetRef(i, letter)), nil
}

// edgeNames are the directions as edges, which are the words of snap too.
var edgeNames = [...]string{"left", "right", "top", "bottom"}

// reordered is the order of tiles with a block moved before or after one of them.
func reordered(n *layout.Node, block []int, beside int, after bool) *layout.Node {
	ids := slices.DeleteFunc(n.Windows(), func(id int) bool { return slices.Contains(block, id) })
	at := slices.Index(ids, beside)
	if after {
		at++
	}
	return layout.Flat(layout.Across, slices.Insert(ids, at, block...))
}

// EdgeZone is within how many pixels of a monitor's edge the pointer drops a
// window there.
const EdgeZone = 12

// Drop is the command for letting go of a window at a point of the plane. At the edge of a
// monitor a floating window is snapped, and a tile put there. Over a tile, another tile goes
// beside it; in the middle it changes places with it or joins its pile. Ok is false if letting
// go changes nothing.
func (d *Desk) Drop(id int, p geom.Point) (c Command, ok bool) {
	w := d.Window(id)
	m := d.monitorAt(p)
	if w == nil || m == nil || d.shownOn(m.Letter) < 0 || w.full() {
		return Command{}, false
	}
	word := edgeWord(m.Rect, p)
	keyword := func(word string) Arg { return Arg{Kind: Keyword, Word: word} }
	if !d.Tiled(w) {
		if w.Fixed || w.Kind != Normal || word == "" || w.Monitor != m.Letter { // it is snapped where it is
			return Command{}, false
		}
		return Command{Verb: "snap", Args: []Arg{keyword(word)}, Of: ByID{id}}, true
	}
	put := func(where string, to Arg) (Command, bool) {
		return Command{Verb: "put", Args: []Arg{keyword(where), to}, Of: ByID{id}}, true
	}
	if dir, ok := edgeDirs[word]; ok {
		return put(dir.String(), Arg{Kind: Letter, Letter: m.Letter})
	}
	o, r, heading := d.tileAt(m.Letter, p)
	switch {
	case o == nil && len(d.Order(d.shownOn(m.Letter), m.Letter)) == 0:
		return put("left", Arg{Kind: Letter, Letter: m.Letter})
	case o == nil:
		return Command{}, false
	}
	where := zone(r, p)
	if o.ID == id { // over its own place: out of its pile, beside the others of it
		o = d.otherInPile(w)
		if where == "" || heading || o == nil {
			return Command{}, false
		}
	} else if where == "" || heading {
		where = "onto"
	}
	return put(where, Arg{Kind: Item, N: o.ID})
}

// monitorAt is the connected monitor that shows a point; nil where none does.
func (d *Desk) monitorAt(p geom.Point) *Monitor {
	for i, m := range d.Monitors {
		if m.Connected && m.Rect.Contains(geom.R(p.X, p.Y, 1, 1)) {
			return &d.Monitors[i]
		}
	}
	return nil
}

// edgeWord is the edge or the corner of a rectangle that a point lies at, as the
// words of snap have it; empty where it lies at none. A corner reaches an eighth
// of each side.
func edgeWord(r geom.Rect, p geom.Point) string {
	word := ""
	atX, atY := p.X < r.X+EdgeZone || p.X >= r.Right()-EdgeZone, p.Y < r.Y+EdgeZone || p.Y >= r.Bottom()-EdgeZone
	if !atX && !atY {
		return ""
	}
	side := func(at, from, length int, near bool, low, high string) string {
		switch part := max(length/8, EdgeZone); {
		case at < from+EdgeZone || near && at < from+part:
			return low
		case at >= from+length-EdgeZone || near && at >= from+length-part:
			return high
		}
		return ""
	}
	word = side(p.Y, r.Y, r.H, atX, "top", "bottom") + side(p.X, r.X, r.W, atY, "left", "right")
	return word
}

// edgeDirs are the edges and corners as directions: a corner is of its side.
var edgeDirs = map[string]Dir{
	"left": Left, "topleft": Left, "bottomleft": Left, "right": Right, "topright": Right, "bottomright": Right, "top": Up, "bottom": Down,
}

// zone is the direction in which a point lies in a rectangle, within a quarter of
// its side from that edge; empty for the middle.
func zone(r geom.Rect, p geom.Point) string {
	best, word := 25, ""
	for dir, share := range []int{
		100 * (p.X - r.X) / max(r.W, 1), 100 * (r.Right() - p.X) / max(r.W, 1),
		100 * (p.Y - r.Y) / max(r.H, 1), 100 * (r.Bottom() - p.Y) / max(r.H, 1),
	} {
		if share < best {
			best, word = share, Dir(dir).String()
		}
	}
	return word
}

// tileAt is the tile that shows at a point of a monitor, with its rectangle;
// heading tells that the point lies on the heading of one in a pile or tabs.
func (d *Desk) tileAt(letter byte, p geom.Point) (w *Window, r geom.Rect, heading bool) {
	i := d.shownOn(letter)
	spot := geom.R(p.X, p.Y, 1, 1)
	for _, h := range d.Headers(i, letter) {
		if h.Rect.Contains(spot) {
			return d.Window(cmp.Or(h.Window, h.Prev, h.Next)), h.Rect, true
		}
	}
	s := d.Sheet(i, letter)
	if s == nil || s.Layout == layout.Free {
		return nil, r, false
	}
	rects := d.tileRects(s, letter)
	for _, id := range layout.Tops(s.Tiles, d.active) {
		if rects[id].Contains(spot) {
			return d.Window(id), rects[id], false
		}
	}
	return nil, r, false
}

// otherInPile is another window of the pile or tabs a tile is in; nil where it
// is in none.
func (d *Desk) otherInPile(w *Window) *Window {
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	for _, id := range layout.PileOf(s.Tiles, w.ID) {
		if id != w.ID {
			return d.Window(id)
		}
	}
	return nil
}
