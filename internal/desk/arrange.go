package desk

import (
	"errors"
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// axis is the way a direction runs in a tree, and whether it leads to its end.
func (d Dir) axis() (split layout.Split, after bool) {
	if d == Left || d == Right {
		return layout.Across, d == Right
	}
	return layout.Down, d == Down
}

// tile is the one chosen window, which must be tiled, and its sheet to be written.
func (e *edit) tile() (*Window, *Sheet, error) {
	if len(e.chosen) != 1 {
		return nil, nil, fmt.Errorf("one window at a time: %d are chosen", len(e.chosen))
	}
	w := e.Window(e.chosen[0])
	if !e.Tiled(w) {
		return nil, nil, fmt.Errorf("%s is not tiled", w.Label())
	}
	return w, e.sheet(e.Index(w.Workspace), w.Monitor), nil
}

// neighbourTile is the tile of the window's sheet nearest in a direction; nil
// where there is none.
func (e *edit) neighbourTile(w *Window, s *Sheet, dir Dir) *Window {
	var near []*Window
	rects := map[int]geom.Rect{} // as the tree says: one may be maximised
	layout.Place(s.Tiles, e.RoomOf(s, w.Monitor), e.gapOf(s), func(id int, r geom.Rect) { rects[id] = r })
	for _, id := range s.Tiles.Windows() {
		if o := e.Window(id); id != w.ID && beyond(rects[w.ID], rects[id], dir) && level(rects[w.ID], rects[id], dir) {
			c := *o
			c.Rect = rects[id]
			near = append(near, &c)
		}
	}
	if len(near) == 0 {
		return nil
	}
	return e.Window(slices.MinFunc(near, byNearness(rects[w.ID], dir)).ID)
}

// swap exchanges a tile with its neighbour, or with the next or the previous
// one of the order, around the sheet.
func (e *edit) swap(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	var other *Window
	if dir, ok := ParseDir(c.Args[0].Word); ok {
		if other = e.neighbourTile(w, s, dir); other == nil {
			return "", fmt.Errorf("there is no tile %s %s", dir.beside(), w.Label())
		}
	} else {
		ids := s.Tiles.Windows()
		if len(ids) < 2 {
			return "", fmt.Errorf("%s is alone on its sheet", w.Label())
		}
		step := 1
		if c.Args[0].Word == "prev" {
			step = len(ids) - 1
		}
		other = e.Window(ids[(slices.Index(ids, w.ID)+step)%len(ids)])
	}
	s.setTiles(layout.Swap(s.Tiles, w.ID, other.ID))
	return fmt.Sprintf("%s and %s changed places.", w.Label(), other.Label()), nil
}

// move takes a tile in a direction: past its neighbour, out of its group, and at
// the edge of the sheet on to the next monitor. One that floats is nudged.
func (e *edit) move(c Command) (string, error) {
	dir, _ := ParseDir(c.Args[0].Word)
	if len(e.chosen) == 1 && !e.Tiled(e.Window(e.chosen[0])) {
		return e.nudge(Command{Args: []Arg{c.Args[0], {Kind: Number, N: 50}}})
	}
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	split, after := dir.axis()
	if other := e.neighbourTile(w, s, dir); other != nil {
		switch s.Layout {
		case layout.Tree, layout.Free:
			s.Tiles = layout.Put(s.Tiles, w.ID, other.ID, split, after)
		default: // a list: they change places
			s.setTiles(layout.Swap(s.Tiles, w.ID, other.ID))
		}
		return fmt.Sprintf("Moved %s %s, past %s.", w.Label(), dir, other.Label()), nil
	}
	if s.Layout == layout.Tree {
		if tiles, ok := layout.Outward(s.Tiles, w.ID, split, after); ok {
			s.Tiles = tiles
			return fmt.Sprintf("Moved %s %s, out of its group.", w.Label(), dir), nil
		}
	}
	m := e.neighbour(e.Monitor(w.Monitor), dir)
	if m == nil {
		return "", fmt.Errorf("%s is at the edge, and no monitor is %s %c", w.Label(), dir.beside(), w.Monitor)
	}
	words, err := e.send(c)
	if err == nil && e.Focus != w.ID && e.Visible(e.Window(w.ID)) {
		e.setFocus(w.ID)
	}
	return words, err
}

// even makes shares equal again: around the window, or on the whole sheet.
func (e *edit) even(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	ref := e.Ref(w)
	if s.Layout == layout.Lead {
		e.nothing = s.Share == 50
		s.Share = 50
		s.setTiles(s.Tiles)
		return fmt.Sprintf("The lead of %s has half.", ref), nil
	}
	tiles := layout.Even(s.Tiles)
	if len(c.Args) == 0 && s.Layout == layout.Tree {
		tiles = layout.EvenAround(s.Tiles, w.ID)
	}
	s.Tiles = tiles
	return fmt.Sprintf("The tiles of %s are even.", ref), nil
}

// share gives the lead of a sheet more or less of it, in per cent.
func (e *edit) share(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	if s.Layout != layout.Lead {
		room := e.RoomOf(s, w.Monitor)
		split, length := layout.Across, room.W
		if w.Rect.W == room.W {
			split, length = layout.Down, room.H
		}
		return e.resizeTile(w, s, split, true, c.Args[0].N*length/100)
	}
	was := s.Share
	s.Share = geom.Clamp(s.Share+c.Args[0].N, layout.MinShare, layout.MaxShare)
	e.nothing = s.Share == was
	s.setTiles(s.Tiles)
	return fmt.Sprintf("The lead of %s has %d per cent.", e.Ref(w), s.Share), nil
}

// resizeTile moves an edge of a tile. A list whose tiles are no longer even is
// a tree from then on.
func (e *edit) resizeTile(w *Window, s *Sheet, split layout.Split, after bool, px int) (string, error) {
	tiles, by := layout.Resize(s.Tiles, w.ID, e.RoomOf(s, w.Monitor), e.gapOf(s), split, after, px)
	if by == 0 && px != 0 {
		return "", fmt.Errorf("%s has no neighbour to share that edge with, or no pixel to spare", w.Label())
	}
	s.Layout, s.Tiles = layout.Tree, tiles
	e.nothing = by == 0
	e.layOut(e.Index(w.Workspace), w.Monitor)
	now, room := e.Window(w.ID).Rect, e.RoomOf(s, w.Monitor)
	return fmt.Sprintf("%s is %d×%d, %d%% by %d%% of its sheet.", w.Label(), now.W, now.H, 100*now.W/max(room.W, 1), 100*now.H/max(room.H, 1)), nil
}

// split chooses where the next window of the sheet opens beside the focused tile.
func (e *edit) split(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	if s.Layout != layout.Tree {
		return "", fmt.Errorf("sheet %s is laid out as %s, which splits by itself. layout tree splits by choice", e.Ref(w), s.Layout)
	}
	s.Next = layout.Down
	if c.Args[0].Word == "across" {
		s.Next = layout.Across
	}
	return fmt.Sprintf("The next window of %s opens %s %s.", e.Ref(w), map[layout.Split]string{layout.Across: "to the right of", layout.Down: "below"}[s.Next], w.Label()), nil
}

// turn turns the tiles around one a quarter clockwise; columns and rows as a whole.
func (e *edit) turn(Command) (string, error) {
	return e.change("Turned", "turned", layout.Turn, func(s *Sheet) {
		ids := s.Tiles.Windows()
		if s.Layout == layout.Columns {
			s.Layout, s.Tiles = layout.Rows, layout.Of(layout.Rows, ids, 0)
			return
		}
		slices.Reverse(ids)
		s.Layout, s.Tiles = layout.Columns, layout.Of(layout.Columns, ids, 0)
	})
}

// mirror reverses the tiles around one, left and right; rows are their own mirror.
func (e *edit) mirror(Command) (string, error) {
	return e.change("Mirrored", "mirrored", layout.Mirror, func(s *Sheet) {
		ids := s.Tiles.Windows()
		if e.nothing = s.Layout == layout.Rows; !e.nothing {
			slices.Reverse(ids)
			s.Tiles = layout.Of(layout.Columns, ids, 0)
		}
	})
}

// change changes the tree around a tile, or a sheet of columns or rows.
func (e *edit) change(did, done string, tree func(*layout.Node, int) *layout.Node, list func(s *Sheet)) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	switch s.Layout {
	case layout.Tree:
		tiles := tree(s.Tiles, w.ID)
		if tiles == s.Tiles {
			return "", fmt.Errorf("%s is in no group", w.Label())
		}
		s.Tiles = tiles
	case layout.Columns, layout.Rows:
		list(s)
	default:
		return "", fmt.Errorf("sheet %s is laid out as %s, which cannot be %s", e.Ref(w), s.Layout, done)
	}
	return fmt.Sprintf("%s the tiles around %s.", did, w.Label()), nil
}

// gaps turns the gaps of a sheet on or off.
func (e *edit) gaps(c Command) (string, error) {
	i, letter := e.Current(), e.At
	if len(e.chosen) > 0 {
		w := e.Window(e.chosen[0])
		i, letter = e.Index(w.Workspace), w.Monitor
	}
	if !e.Has(i, letter) {
		return "", fmt.Errorf("monitor %c shows no workspace", letter)
	}
	s := e.sheet(i, letter)
	off := c.Args[0].Word == "off"
	e.nothing = s.NoGaps == off
	s.NoGaps = off
	if e.Settings.Gap == 0 {
		return fmt.Sprintf("The gaps of %s are %s; the setting of their width is 0.", SheetRef(i, letter), c.Args[0].Word), nil
	}
	return fmt.Sprintf("The gaps of %s are %s.", SheetRef(i, letter), c.Args[0].Word), nil
}

// gapOf is the gap between the tiles of a sheet.
func (d *Desk) gapOf(s *Sheet) int {
	if s.NoGaps {
		return 0
	}
	return d.Settings.Gap
}

// RoomOf is where the tiles of a sheet lie on a monitor: its work area less the gap.
func (d *Desk) RoomOf(s *Sheet, letter byte) geom.Rect {
	return d.Monitor(letter).Work.Inset(d.gapOf(s))
}

// maximise has windows cover the work area, or gives them their place back.
func (e *edit) maximise(Command) (string, error) {
	return e.toggleFull("maximised", func(w *Window) *bool { return &w.Maximised })
}

// fullscreen has a window cover its monitor, or gives it its place back. One
// window of a sheet is fullscreen.
func (e *edit) fullscreen(Command) (string, error) {
	return e.toggleFull("fullscreen", func(w *Window) *bool { return &w.Fullscreen })
}

func (e *edit) toggleFull(word string, flag func(*Window) *bool) (string, error) {
	ids := slices.DeleteFunc(slices.Clone(e.chosen), func(id int) bool { return e.Window(id).Minimised })
	if len(ids) == 0 {
		return "", errors.New("it is minimised. Restore it first")
	}
	on := slices.ContainsFunc(ids, func(id int) bool { return !*flag(e.Window(id)) })
	for _, id := range ids {
		w := e.window(id)
		if on && w.Fixed && word == "maximised" {
			return "", fmt.Errorf("%s has one size", w.Label())
		}
		if on && word == "fullscreen" {
			for _, o := range e.Windows {
				if o.Fullscreen && o.ID != id && o.Workspace == w.Workspace && o.Monitor == w.Monitor {
					e.setFull(e.window(o.ID), func(w *Window) { w.Fullscreen = false })
				}
			}
		}
		e.setFull(w, func(w *Window) { *flag(w) = on })
	}
	is := "is"
	if len(ids) > 1 {
		is = "are"
	}
	if on {
		return fmt.Sprintf("%s %s %s.", e.the(ids), is, word), nil
	}
	return fmt.Sprintf("%s %s back in place.", e.the(ids), is), nil
}

// setFull changes whether a window covers more than its place, which is kept.
func (e *edit) setFull(w *Window, change func(w *Window)) {
	before := w.full()
	if !before && !e.Tiled(w) {
		w.Place = w.Rect
	}
	change(w)
	e.sheet(e.Index(w.Workspace), w.Monitor)
	if before && !w.full() && !e.Tiled(w) && !w.Place.Empty() {
		w.Rect = w.Place
	}
}

// full tells whether a window covers more than its place.
func (w *Window) full() bool { return w.Maximised || w.Fullscreen }

// floatRect is where a floating window is, or would be if it were not maximised
// or fullscreen.
func (w *Window) floatRect() geom.Rect {
	if w.full() && !w.Place.Empty() {
		return w.Place
	}
	return w.Rect
}

// snapWords are the words of snap with the part of the work area each means, in
// halves: columns and rows of two, from one to another.
var snapWords = map[string][4]int{
	"left": {0, 0, 1, 2}, "right": {1, 0, 2, 2}, "top": {0, 0, 2, 1}, "bottom": {0, 1, 2, 2},
	"topleft": {0, 0, 1, 1}, "topright": {1, 0, 2, 1}, "bottomleft": {0, 1, 1, 2}, "bottomright": {1, 1, 2, 2},
}

// SnapNames are the words of snap.
func SnapNames() []string {
	return []string{"left", "right", "top", "bottom", "topleft", "topright", "bottomleft", "bottomright", "middle"}
}

// snap gives windows an exact part of their monitor's work area: a half, a
// quarter, the middle, or a block of cells of a grid, numbered by rows.
func (e *edit) snap(c Command) (string, error) {
	for _, id := range e.chosen {
		switch w := e.Window(id); {
		case w.Minimised:
			return "", fmt.Errorf("%s is minimised. Restore it first", w.Label())
		case w.Fixed:
			return "", fmt.Errorf("%s has one size", w.Label())
		}
	}
	part := func(work geom.Rect) geom.Rect { return snapRect(work, 2, 2, snapWords[c.Args[0].Word]) }
	words := c.Args[0].Word
	switch {
	case c.Args[0].Kind == Grid:
		cols, rows := c.Args[0].N/100, c.Args[0].N%100
		a, b := c.Args[1].N, c.Args[2].N
		if a < 1 || b < 1 || a > cols*rows || b > cols*rows {
			return "", fmt.Errorf("a grid of %d by %d has the cells 1 to %d", cols, rows, cols*rows)
		}
		ax, ay, bx, by := (a-1)%cols, (a-1)/cols, (b-1)%cols, (b-1)/cols
		cells := [4]int{min(ax, bx), min(ay, by), max(ax, bx) + 1, max(ay, by) + 1}
		part = func(work geom.Rect) geom.Rect { return snapRect(work, cols, rows, cells) }
		words = fmt.Sprintf("cells %d to %d of %d by %d", a, b, cols, rows)
	case words == "middle":
		part = func(work geom.Rect) geom.Rect {
			w, h := work.W/2, work.H/2
			return geom.R(work.X+(work.W-w)/2, work.Y+(work.H-h)/2, w, h)
		}
	}
	for _, id := range e.chosen {
		w := e.window(id)
		e.setFull(w, func(w *Window) { w.Maximised, w.Fullscreen = false, false })
		e.lift(w)
		if !w.MustFloat() && e.Sheet(e.Index(w.Workspace), w.Monitor).Layout != layout.Free {
			w.Floating = true
		}
		lost := w.Lost()
		lost.Rect = part(e.Monitor(w.Monitor).Work)
		lost.Rect.W, lost.Rect.H = max(lost.Rect.W, w.MinW), max(lost.Rect.H, w.MinH)
		w.Rect, w.Away = stray.Into(lost, e.Monitor(w.Monitor).Work), nil
		e.lay(w, 0)
	}
	return fmt.Sprintf("Snapped %s: %s.", e.the(e.chosen), words), nil
}

// snapRect is a block of cells of a grid over a work area: from one column and
// row to others. Edges lie at floor(i·W/n), so that snapped windows meet.
func snapRect(work geom.Rect, cols, rows int, c [4]int) geom.Rect {
	x0, x1 := c[0]*work.W/cols, c[2]*work.W/cols
	y0, y1 := c[1]*work.H/rows, c[3]*work.H/rows
	return geom.R(work.X+x0, work.Y+y0, x1-x0, y1-y0)
}

// group makes one group of a tile and its neighbour.
func (e *edit) group(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	dir, _ := ParseDir(c.Args[0].Word)
	if s.Layout != layout.Tree {
		return "", fmt.Errorf("sheet %s is laid out as %s, which has no groups. layout tree has", e.Ref(w), s.Layout)
	}
	other := e.neighbourTile(w, s, dir)
	if other == nil {
		return "", fmt.Errorf("there is no tile %s %s", dir.beside(), w.Label())
	}
	split, after := dir.axis()
	tiles := layout.Group(s.Tiles, w.ID, other.ID, split, !after)
	if tiles == s.Tiles {
		return "", fmt.Errorf("%s and %s are a group already", w.Label(), other.Label())
	}
	s.Tiles = tiles
	return fmt.Sprintf("Grouped %s with %s.", w.Label(), other.Label()), nil
}

// ungroup dissolves the group around a tile, or all of the sheet's.
func (e *edit) ungroup(c Command) (string, error) {
	w, s, err := e.tile()
	if err != nil {
		return "", err
	}
	if len(c.Args) > 0 && s.Layout == layout.Tree && s.Tiles.Split != layout.Leaf {
		e.nothing = !slices.ContainsFunc(s.Tiles.Kids, func(k *layout.Node) bool { return k.Split != layout.Leaf })
		s.Tiles = layout.Flat(s.Tiles.Split, s.Tiles.Windows())
		return fmt.Sprintf("The tiles of %s are in no groups.", e.Ref(w)), nil
	}
	tiles := layout.Ungroup(s.Tiles, w.ID)
	if s.Layout != layout.Tree || tiles == s.Tiles {
		return "", fmt.Errorf("%s is in no group within another", w.Label())
	}
	s.Tiles = tiles
	return fmt.Sprintf("Dissolved the group around %s.", w.Label()), nil
}
