package desk

import (
	"errors"
	"fmt"
	"slices"
	"strings"

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

// block is what a command for tiles acts on: one tile, or all windows of one
// group of a sheet.
type block struct {
	*Sheet    // to be written
	windows   []int
	workspace int // index
	letter    byte
}

// block is what is chosen, which must be a tile or a group of tiles.
func (e *edit) block() (block, error) {
	w := e.Window(e.chosen[0])
	for _, id := range e.chosen {
		o := e.Window(id)
		if err := e.Untiled(o); err != nil {
			return block{}, err
		}
		if o.Workspace != w.Workspace || o.Monitor != w.Monitor {
			return block{}, fmt.Errorf("one window or one group at a time: these %d lie on several sheets", len(e.chosen))
		}
	}
	i := e.Index(w.Workspace)
	if ok, _ := layout.Is(e.Sheet(i, w.Monitor).Tiles, e.chosen); !ok {
		return block{}, fmt.Errorf("one window or one group at a time: these %d are no group. layout columns, rows, pile or tabs of them makes them one", len(e.chosen))
	}
	return block{e.sheet(i, w.Monitor), e.chosen, i, w.Monitor}, nil
}

// ref is the reference of the block's sheet.
func (b block) ref() string { return SheetRef(b.workspace, b.letter) }

// tileRects are the places of a sheet's tiles as its tree says: one may be maximised.
func (d *Desk) tileRects(s *Sheet, letter byte) map[int]geom.Rect {
	rects := map[int]geom.Rect{}
	layout.Place(s.Tiles, d.RoomOf(s, letter), d.spacing(s, letter), func(id int, r geom.Rect) { rects[id] = r })
	return rects
}

// neighbourOf is what lies nearest to a block in a direction: the next member of
// its pile or tabs, else the nearest tile, or the node that stands there beside
// a group; nil where there is nothing.
func (e *edit) neighbourOf(b block, dir Dir) []int {
	wide := dir == Left || dir == Right
	if split := layout.SplitOf(b.Tiles, b.windows); split == layout.Pile && !wide || split == layout.Tabs && wide {
		if next, ok := layout.Step(b.Tiles, b.windows, wide, dir == Right || dir == Down); ok {
			return next
		}
	}
	rects := e.tileRects(b.Sheet, b.letter)
	var mine []geom.Rect
	for _, id := range b.windows {
		mine = append(mine, rects[id])
	}
	from := geom.Bound(mine...)
	var near []*Window
	for _, id := range b.Tiles.Windows() {
		if !slices.Contains(b.windows, id) && beyond(from, rects[id], dir) && level(from, rects[id], dir) {
			c := *e.Window(id)
			c.Rect = rects[id]
			near = append(near, &c)
		}
	}
	if len(near) == 0 {
		return nil
	}
	nearest := slices.MinFunc(near, byNearness(from, dir)).ID
	if len(b.windows) > 1 {
		return layout.Sibling(b.Tiles, b.windows, nearest)
	}
	return []int{nearest}
}

// along is the tile after a block in the order of its sheet, or before it,
// around the end; nil where there is no other.
func along(b block, word string) []int {
	ids := b.Tiles.Windows()
	if len(ids) == len(b.windows) {
		return nil
	}
	at := slices.IndexFunc(ids, func(id int) bool { return slices.Contains(b.windows, id) })
	step := len(b.windows)
	if word == "prev" {
		step = len(ids) - 1
	}
	return []int{ids[(at+step)%len(ids)]}
}

// beside is the block that a word of a direction or of the order means.
func (e *edit) beside(b block, word string) ([]int, error) {
	if dir, ok := ParseDir(word); ok {
		if other := e.neighbourOf(b, dir); other != nil {
			return other, nil
		}
		return nil, fmt.Errorf("there is no tile %s %s", dir.beside(), e.the(b.windows))
	}
	if other := along(b, word); other != nil {
		return other, nil
	}
	return nil, fmt.Errorf("%s %s alone on the sheet", e.the(b.windows), agree(b.windows, "is", "are"))
}

// swap exchanges a block with its neighbour, or with the next or the previous
// tile of the order, around the sheet.
func (e *edit) swap(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	other, err := e.beside(b, c.Args[0].Word)
	if err != nil {
		return "", err
	}
	b.setTiles(layout.Swap(b.Tiles, b.windows, other))
	b.Kept = nil
	return fmt.Sprintf("%s and %s changed places.", e.the(b.windows), e.other(other)), nil
}

// move takes a block in a direction: past its neighbour, into a group or out of it. At the
// edge of the sheet it goes on to the next monitor or, if the settings say so, to the next
// workspace. A floating window is nudged.
func (e *edit) move(c Command) (string, error) {
	dir, _ := ParseDir(c.Args[0].Word)
	if len(e.chosen) == 1 && !e.Tiled(e.Window(e.chosen[0])) {
		return e.nudge(Command{Args: []Arg{c.Args[0], {Kind: Number, N: 50}}})
	}
	b, err := e.block()
	if err != nil {
		return "", err
	}
	split, after := dir.axis()
	other := e.neighbourOf(b, dir)
	if rest := b.nest(other); len(rest) > 0 {
		b.Tiles, b.Kept = layout.Put(b.Tiles, b.windows, rest, split, after), nil
		return fmt.Sprintf("Moved %s %s, out of its group.", e.the(b.windows), dir), nil
	}
	if other != nil {
		words := fmt.Sprintf("Moved %s %s, past %s.", e.the(b.windows), dir, e.other(other))
		theirs := layout.SplitOf(b.Tiles, other)
		joins := theirs == layout.Pile || theirs == layout.Tabs
		switch {
		case b.Layout.List(): // they change places
			b.setTiles(layout.Swap(b.Tiles, b.windows, other))
		case joins && len(other) == 1:
			b.Tiles = layout.Put(b.Tiles, b.windows, other, theirs, after)
			words = fmt.Sprintf("Moved %s %s, in the %s of %s.", e.the(b.windows), dir, theirs, e.other(other))
		default:
			b.Tiles = layout.Put(b.Tiles, b.windows, other, split, after)
		}
		b.Kept = nil
		return words, nil
	}
	if b.Layout == layout.Tree {
		if tiles, ok := layout.Outward(b.Tiles, b.windows, split, after); ok {
			b.Tiles = tiles
			return fmt.Sprintf("Moved %s %s, out of its group.", e.the(b.windows), dir), nil
		}
	}
	return e.moveOver(b, dir, c)
}

// nest are the other windows of the largest group around a block that does not hold its
// neighbour too. The block leaves this group before it passes the neighbour.
func (b block) nest(neighbour []int) (rest []int) {
	if b.Layout != layout.Tree || neighbour == nil {
		return nil
	}
	all := b.windows
	for around := all; around != nil && !slices.Contains(around, neighbour[0]); around = layout.Around(b.Tiles, all) {
		all = around
	}
	return slices.DeleteFunc(slices.Clone(all), func(id int) bool { return slices.Contains(b.windows, id) })
}

// moveOver takes a block over the edge of its sheet.
func (e *edit) moveOver(b block, dir Dir, c Command) (string, error) {
	focused := slices.Contains(b.windows, e.Focus)
	if e.neighbour(e.Monitor(b.letter), dir) == nil {
		if !e.Settings.EdgeGoes {
			return "", fmt.Errorf("%s %s at the edge: no monitor is %s %c", e.the(b.windows), agree(b.windows, "is", "are"), dir.beside(), b.letter)
		}
		return e.carry(overEdge(dir))
	}
	was := e.Focus
	words, err := e.send(c)
	if err == nil && focused && e.Focus != was && e.Visible(e.Window(was)) {
		e.setFocus(was)
	}
	return words, err
}

// overEdge names the workspace that lies over the edge of the outermost monitor.
func overEdge(dir Dir) Command {
	word := "next"
	if dir == Left || dir == Up {
		word = "prev"
	}
	return Command{Args: []Arg{{Kind: Keyword, Word: word}}}
}

// even makes shares equal again: around the window, or on the whole sheet.
func (e *edit) even(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	if b.Layout == layout.Lead {
		b.Share = 50
		b.setTiles(b.Tiles)
		return fmt.Sprintf("The lead of %s has half.", b.ref()), nil
	}
	tiles := layout.Even(b.Tiles)
	if len(c.Args) == 0 && b.Layout == layout.Tree {
		tiles = layout.EvenAround(b.Tiles, b.windows)
	}
	b.Tiles = tiles
	return fmt.Sprintf("The tiles of %s are even.", b.ref()), nil
}

// share gives the lead of a sheet more or less of it, in per cent.
func (e *edit) share(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	if b.Layout != layout.Lead {
		room := e.RoomOf(b.Sheet, b.letter)
		split, length := layout.Across, room.W
		if !layout.Shares(b.Tiles, b.windows, split, true) && !layout.Shares(b.Tiles, b.windows, split, false) {
			split, length = layout.Down, room.H
		}
		return e.resizeTile(b, split, true, c.Args[0].N*length/100)
	}
	b.Share = geom.Clamp(b.Share+c.Args[0].N, layout.MinShare, layout.MaxShare)
	b.setTiles(b.Tiles)
	return fmt.Sprintf("The lead of %s has %d per cent.", b.ref(), b.Share), nil
}

// resizeTile moves an edge of a block. A list whose tiles are no longer even is
// a tree from then on.
func (e *edit) resizeTile(b block, split layout.Split, after bool, px int) (string, error) {
	if px == 0 {
		return e.SizeWords(b.windows), nil
	}
	room := e.RoomOf(b.Sheet, b.letter)
	tiles, by := layout.Resize(b.Tiles, b.windows, room, e.spacing(b.Sheet, b.letter), split, after, px)
	if by == 0 {
		return "", fmt.Errorf("%s %s no neighbour to share that edge with, or no pixel to spare", e.the(b.windows), agree(b.windows, "has", "have"))
	}
	was := b.Layout
	if was != layout.Tree {
		b.Layout, b.Kept = layout.Tree, nil
	}
	b.Tiles = tiles
	e.layOut(b.workspace, b.letter)
	words := e.SizeWords(b.windows)
	if was != layout.Tree {
		words += fmt.Sprintf(" %s is a tree now.", b.ref())
	}
	return words, nil
}

// SizeWords say how large tiles are together, in pixels and in per cent of their
// sheet's room.
func (d *Desk) SizeWords(ids []int) string {
	var rects []geom.Rect
	for _, id := range ids {
		rects = append(rects, d.Window(id).Rect)
	}
	w := d.Window(ids[0])
	now, room := geom.Bound(rects...), d.RoomOf(d.Sheet(d.Index(w.Workspace), w.Monitor), w.Monitor)
	return fmt.Sprintf("%s: %d×%d, %d%% by %d%% of the sheet.", d.the(ids), now.W, now.H, geom.Percent(now.W, room.W), geom.Percent(now.H, room.H))
}

// treeOnly is the error where the block's sheet is no tree, with what its layout does
// instead.
func (b *block) treeOnly(instead string) error {
	if b.Layout == layout.Tree {
		return nil
	}
	return fmt.Errorf("sheet %s is laid out as %s, which %s", b.ref(), b.Layout, instead)
}

// split chooses where the next window of the sheet opens beside the focused tile.
func (e *edit) split(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	if err := b.treeOnly("splits by itself. layout tree splits by choice"); err != nil {
		return "", err
	}
	b.Next = layout.Down
	if c.Args[0].Word == "across" {
		b.Next = layout.Across
	}
	beside := e.Window(e.leafFor(b.workspace, b.letter))
	return fmt.Sprintf("The next window of %s opens %s %s.", b.ref(), map[layout.Split]string{layout.Across: "to the right of", layout.Down: "below"}[b.Next], beside.Label()), nil
}

// turn turns the tiles around one a quarter clockwise; columns and rows as a whole.
func (e *edit) turn(Command) (string, error) {
	return e.change("Turned", "turned", layout.Turn, func(s *Sheet) {
		ids := s.Tiles.Windows()
		if s.Layout == layout.Columns {
			s.Layout = layout.Rows
			s.setTiles(s.Tiles)
			return
		}
		slices.Reverse(ids)
		s.Layout, s.Tiles = layout.Columns, layout.Flat(layout.Across, ids)
	})
}

// mirror reverses the tiles around one, left and right; rows are their own mirror.
func (e *edit) mirror(Command) (string, error) {
	return e.change("Mirrored", "mirrored", layout.Mirror, func(s *Sheet) {
		ids := s.Tiles.Windows()
		if s.Layout != layout.Rows {
			slices.Reverse(ids)
			s.Tiles = layout.Flat(layout.Across, ids)
		}
	})
}

// change changes the tree around a block, or a sheet of columns or rows.
func (e *edit) change(did, done string, tree func(*layout.Node, []int) *layout.Node, list func(s *Sheet)) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	switch b.Layout {
	case layout.Tree:
		if len(b.Tiles.Windows()) < 2 {
			return "", fmt.Errorf("%s %s in no group", e.the(b.windows), agree(b.windows, "is", "are"))
		}
		b.Tiles = tree(b.Tiles, b.windows)
	case layout.Columns, layout.Rows:
		list(b.Sheet)
	default:
		return "", fmt.Errorf("sheet %s is laid out as %s, which cannot be %s", b.ref(), b.Layout, done)
	}
	if len(b.windows) > 1 {
		return fmt.Sprintf("%s %s.", did, e.the(b.windows)), nil
	}
	return fmt.Sprintf("%s the tiles around %s.", did, e.the(b.windows)), nil
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
	word := "off"
	if s.NoGaps {
		word = "on"
	}
	if len(c.Args) > 0 {
		word = c.Args[0].Word
	}
	s.NoGaps = word == "off"
	if e.Settings.Gap == 0 {
		return fmt.Sprintf("The gaps of %s are %s. They are 0 pixels wide: desk.gap in the settings makes them wider.", SheetRef(i, letter), word), nil
	}
	return fmt.Sprintf("The gaps of %s are %s.", SheetRef(i, letter), word), nil
}

// gapOf is the gap between the tiles of a sheet.
func (d *Desk) gapOf(s *Sheet) int {
	if s.NoGaps {
		return 0
	}
	return d.Settings.Gap
}

// spacing is what a sheet keeps free on a monitor: the gap, and the headings of piles and tabs.
// Their height follows from the monitor's density.
func (d *Desk) spacing(s *Sheet, letter byte) layout.Spacing {
	return layout.Spacing{Gap: d.gapOf(s), Header: d.Monitor(letter).Header}
}

// RoomOf is where the tiles of a sheet lie on a monitor: its work area less the gap.
func (d *Desk) RoomOf(s *Sheet, letter byte) geom.Rect {
	return d.Monitor(letter).Work.Inset(d.gapOf(s))
}

// maximise has windows cover the work area, or gives them their place back. Across
// and down are the two directions by themselves, which a floating window follows.
func (e *edit) maximise(c Command) (string, error) {
	axis := ""
	if len(c.Args) > 0 && (c.Args[0].Word == "across" || c.Args[0].Word == "down") {
		axis, c.Args = c.Args[0].Word, c.Args[1:]
	}
	is := func(w *Window) bool {
		return w.Maximised || axis == "across" && w.Wide || axis == "down" && w.Tall
	}
	return e.toggleFull(map[string]string{"": "maximised", "across": "maximised across", "down": "maximised down"}[axis], c, is, func(w *Window, on bool) {
		wide, tall := w.Maximised || w.Wide, w.Maximised || w.Tall
		if axis != "down" {
			wide = on
		}
		if axis != "across" {
			tall = on
		}
		w.Maximised, w.Wide, w.Tall = wide && tall, wide && !tall, tall && !wide
	})
}

// fullscreen has a window cover its monitor, or gives it its place back.
func (e *edit) fullscreen(c Command) (string, error) {
	return e.toggleFull("fullscreen", c, func(w *Window) bool { return w.Fullscreen }, func(w *Window, on bool) { w.Fullscreen = on })
}

// wanted tells what "on" or "off" after a verb ask for, or without them that all of
// the windows get what any of them has not.
func (e *edit) wanted(c Command, ids []int, is func(*Window) bool) bool {
	if len(c.Args) > 0 {
		return c.Args[0].Word == "on"
	}
	return slices.ContainsFunc(ids, func(id int) bool { return !is(e.Window(id)) })
}

func (e *edit) toggleFull(word string, c Command, is func(*Window) bool, set func(w *Window, on bool)) (string, error) {
	ids := slices.DeleteFunc(slices.Clone(e.chosen), func(id int) bool { return e.Window(id).Minimised })
	if len(ids) == 0 {
		return "", errors.New("it is minimised. Restore it first")
	}
	// What is so, and does not cover its sheet now, comes to its front.
	front := func(w *Window) bool { return is(w) && (!w.full() || e.Covers(w)) }
	on := e.wanted(c, ids, front)
	already := !slices.ContainsFunc(ids, func(id int) bool { return front(e.Window(id)) != on })
	for _, id := range ids {
		w := e.window(id)
		if on && w.Fixed && word != "fullscreen" {
			return "", fmt.Errorf("%s has one size", w.Label())
		}
		e.setFull(w, func(w *Window) { set(w, on) })
	}
	if on && !already {
		e.toFront(slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return !e.Window(id).full() }))
	}
	verb := agree(ids, "is", "are")
	if already {
		verb += " already"
	}
	if on {
		return fmt.Sprintf("%s %s %s.", e.the(ids), verb, word), nil
	}
	return fmt.Sprintf("%s %s back in place.", e.the(ids), verb), nil
}

// setFull changes whether a window covers more than its place, which is kept.
func (e *edit) setFull(w *Window, change func(w *Window)) {
	before := w.full() || w.Wide || w.Tall
	if !before && !e.Tiled(w) {
		w.Floated = w.Rect
	}
	change(w)
	e.sheet(e.Index(w.Workspace), w.Monitor)
	if before && !w.full() && !e.Tiled(w) && !w.Floated.Empty() {
		w.Rect = w.Floated
	}
}

// floatBack puts a window that comes to float where it floated before, within reach. One that
// never did floats in the place of its tile, or in the middle if that had no room.
func (e *edit) floatBack(w *Window) {
	if !w.Floated.Empty() {
		w.Rect = w.Floated
		w.Rect = e.relocated(w, w.Monitor)
		return
	}
	e.sized(w)
}

// sized gives a window without a size the middle of the work area: its tile had no room.
func (e *edit) sized(w *Window) {
	if w.Rect.Empty() {
		w.Rect = snapPlace(e.Monitor(w.Monitor).Work, "middle", "")
	}
}

// full tells whether a window covers more than its place.
func (w *Window) full() bool { return w.Maximised || w.Fullscreen }

// floatRect is where a floating window is, or would be if it were not maximised
// or fullscreen.
func (w *Window) floatRect() geom.Rect {
	if (w.full() || w.Wide || w.Tall) && !w.Floated.Empty() {
		return w.Floated
	}
	return w.Rect
}

// SnapNames are the words of snap.
func SnapNames() []string {
	return []string{"left", "right", "top", "bottom", "topleft", "topright", "bottomleft", "bottomright", "middle"}
}

// SnapParts are the words of snap for another part than a half.
func SnapParts() []string { return []string{"third", "two-thirds", "quarter", "three-quarters"} }

// snapParts are those parts as fractions.
var snapParts = map[string][2]int{"": {1, 2}, "third": {1, 3}, "two-thirds": {2, 3}, "quarter": {1, 4}, "three-quarters": {3, 4}}

// snapPlace is the part of a work area that words of snap mean: at an edge a part
// of it, half unless said; in a corner half of both ways; in the middle that part
// of the width, or half by half.
func snapPlace(work geom.Rect, word, part string) geom.Rect {
	n, of := snapParts[part][0], snapParts[part][1]
	from := map[string]int{"left": 0, "top": 0, "right": of - n, "bottom": of - n}
	switch {
	case word == "left" || word == "right":
		return snapRect(work, of, 1, [4]int{from[word], 0, from[word] + n, 1})
	case word == "top" || word == "bottom":
		return snapRect(work, 1, of, [4]int{0, from[word], 1, from[word] + n})
	case word == "middle" && part != "":
		return snapRect(work, 2*of, 1, [4]int{of - n, 0, of + n, 1})
	case word == "middle":
		w, h := work.W/2, work.H/2
		return geom.R(work.X+(work.W-w)/2, work.Y+(work.H-h)/2, w, h)
	}
	x, y := 0, 0
	if strings.HasSuffix(word, "right") {
		x = 1
	}
	if strings.HasPrefix(word, "bottom") {
		y = 1
	}
	return snapRect(work, 2, 2, [4]int{x, y, x + 1, y + 1})
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
	words, share := c.Args[0].Word, ""
	if len(c.Args) == 2 {
		share = c.Args[1].Word
		words += " " + share
	}
	part := func(work geom.Rect) geom.Rect { return snapPlace(work, c.Args[0].Word, share) }
	if c.Args[0].Kind == Grid {
		cols, rows := c.Args[0].Grid.Cols, c.Args[0].Grid.Rows
		a, b := c.Args[1].N, c.Args[2].N
		if a < 1 || b < 1 || a > cols*rows || b > cols*rows {
			return "", fmt.Errorf("a grid of %d by %d has the cells 1 to %d", cols, rows, cols*rows)
		}
		ax, ay, bx, by := (a-1)%cols, (a-1)/cols, (b-1)%cols, (b-1)/cols
		cells := [4]int{min(ax, bx), min(ay, by), max(ax, bx) + 1, max(ay, by) + 1}
		part = func(work geom.Rect) geom.Rect { return snapRect(work, cols, rows, cells) }
		words = fmt.Sprintf("cells %d to %d of %d by %d", a, b, cols, rows)
	}
	e.seats(e.chosen...)
	for _, id := range e.chosen {
		w := e.window(id)
		switch {
		case !w.Loose.Empty():
		case !e.Tiled(w):
			w.Loose = w.floatRect()
		case !w.Floated.Empty():
			w.Loose = w.Floated
		default:
			w.Loose = defaultPlace(w, e.Monitor(w.Monitor).Work)
		}
		e.setFull(w, func(w *Window) { w.Maximised, w.Fullscreen, w.Wide, w.Tall = false, false, false, false })
	}
	e.layAnew(e.chosen, func(w *Window) {
		if !w.MustFloat() && e.Sheet(e.Index(w.Workspace), w.Monitor).Layout != layout.Free {
			w.Floating = true
		}
		lost := w.Lost()
		lost.Rect = part(e.Monitor(w.Monitor).Work)
		lost.Rect.W = min(max(lost.Rect.W, w.MinW), orMost(w.Sizes.MaxW))
		lost.Rect.H = min(max(lost.Rect.H, w.MinH), orMost(w.Sizes.MaxH))
		w.Rect, w.Away = stray.Into(lost, e.Monitor(w.Monitor).Work), nil
	})
	return fmt.Sprintf("Snapped %s: %s.", e.the(e.chosen), words), nil
}

// snapRect is a block of cells of a grid over a work area: from one column and
// row to others. Edges lie at floor(i·W/n), so that snapped windows meet.
func snapRect(work geom.Rect, cols, rows int, c [4]int) geom.Rect {
	x0, x1 := c[0]*work.W/cols, c[2]*work.W/cols
	y0, y1 := c[1]*work.H/rows, c[3]*work.H/rows
	return geom.R(work.X+x0, work.Y+y0, x1-x0, y1-y0)
}

// group makes one group of a block and its neighbour.
func (e *edit) group(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	if err := b.treeOnly("has no groups. layout tree has"); err != nil {
		return "", err
	}
	word := c.Args[0].Word
	other, err := e.beside(b, word)
	if err != nil {
		return "", err
	}
	if len(other) == 1 && !slices.Contains(layout.PileOf(b.Tiles, other[0]), b.windows[0]) {
		other = layout.PileOf(b.Tiles, other[0]) // a pile is grouped as one
	}
	if len(c.Args) > 1 {
		return e.groupAs(b, other, Command{Args: c.Args[1:]})
	}
	split, after := layout.Across, word == "next"
	if dir, ok := ParseDir(word); ok {
		split, after = dir.axis()
	} else if own := layout.SplitOf(b.Tiles, b.windows); own == layout.Down {
		split = own
	}
	tiles := layout.Group(b.Tiles, b.windows, other, split, !after)
	if tiles == b.Tiles {
		return fmt.Sprintf("%s and %s are a group already.", e.the(b.windows), e.other(other)), nil
	}
	b.Tiles, b.Kept = tiles, nil
	return fmt.Sprintf("Grouped %s with %s.", e.the(b.windows), e.other(other)), nil
}

// groupAs lays a block out with its neighbour as a pile or as tabs.
func (e *edit) groupAs(b block, other []int, as Command) (string, error) {
	e.chosen = slices.Concat(b.windows, other)
	if words, done := e.layoutGroup(as); done {
		return words, nil
	}
	return e.layoutSheet(b.workspace, b.letter, as), nil // these are all there is
}

// ungroup dissolves a group, the one around a tile, or all of the sheet's.
func (e *edit) ungroup(c Command) (string, error) {
	b, err := e.block()
	if err != nil {
		return "", err
	}
	if len(c.Args) > 0 && b.Layout == layout.Tree && b.Tiles.Split != layout.Leaf {
		b.Tiles = layout.Flat(b.Tiles.Split, b.Tiles.Windows())
		return fmt.Sprintf("The tiles of %s are in no groups.", b.ref()), nil
	}
	tiles := layout.Ungroup(b.Tiles, b.windows)
	if b.Layout != layout.Tree || tiles == b.Tiles {
		return "", fmt.Errorf("%s %s in no group within another", e.the(b.windows), agree(b.windows, "is", "are"))
	}
	b.Tiles = tiles
	return fmt.Sprintf("Dissolved the group around %s.", e.the(b.windows)), nil
}
