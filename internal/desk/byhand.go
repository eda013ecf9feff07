package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// defaultStep is how far nudge moves a window that is told no distance, in pixels.
const defaultStep = 10

// movable lists the chosen windows that can be moved by hand: those that float
// and are on a sheet.
func (e *edit) movable() ([]int, error) {
	for _, id := range e.chosen {
		switch w := e.Window(id); {
		case w.Minimised:
			return nil, fmt.Errorf("%s is minimised. Restore it first", w.Label())
		case w.full():
			return nil, fmt.Errorf("%s is maximised or fullscreen", w.Label())
		case w.LastSeen:
			return nil, fmt.Errorf("where %s lies is not known until its workspace is shown", w.Label())
		case e.Tiled(w):
			return nil, fmt.Errorf("%s is tiled. Float it first", w.Label())
		}
	}
	return e.chosen, nil
}

// nudge moves floating windows by pixels, or to the next edge.
func (e *edit) nudge(c Command) (string, error) {
	ids, err := e.movable()
	if err != nil {
		return "", err
	}
	dir, _ := ParseDir(c.Args[0].Word)
	px, edge := defaultStep, false
	if len(c.Args) > 1 {
		px, edge = c.Args[1].N, c.Args[1].Word == "edge"
	}
	moved := false
	for _, id := range ids {
		w := e.Window(id)
		if edge {
			px = e.toEdge(w, dir)
		}
		e.moveBy(id, dir, px)
		moved = moved || px != 0
	}
	if edge && !moved {
		return "", fmt.Errorf("there is no edge further %s", dir)
	}
	return e.placeWords(ids), nil
}

// moveBy moves a window, which belongs to the monitor that shows most of it
// then, where that shows a workspace.
func (e *edit) moveBy(id int, dir Dir, px int) {
	w := e.window(id)
	r := w.Rect
	switch dir {
	case Left:
		r.X -= px
	case Right:
		r.X += px
	case Up:
		r.Y -= px
	case Down:
		r.Y += px
	}
	e.placeAt(w, r)
}

// maxPlane bounds where a window can be put by hand, in pixels.
const maxPlane = 1 << 20

// placeAt puts a floating window somewhere by hand.
func (e *edit) placeAt(w *Window, r geom.Rect) {
	r.X, r.Y = geom.Clamp(r.X, -maxPlane, maxPlane), geom.Clamp(r.Y, -maxPlane, maxPlane)
	w.Rect, w.Floated, w.Away, w.Loose, w.Wide, w.Tall = r, r, nil, geom.Rect{}, false, false
	e.sheet(e.Index(w.Workspace), w.Monitor)
	i := e.Index(w.Workspace)
	if on := stray.Look(w.Lost(), e.strays).On; on != 0 && on != w.Monitor && e.Has(i, on) {
		e.lift(w)
		w.Monitor = on
		e.lay(w, 0)
		w.Rect = r
	}
}

// toEdge is how far a window can go in a direction until one of its edges meets the next edge
// of a work area or window. The middle of a work area counts for its middle. It is 0 if there
// is none.
func (e *edit) toEdge(w *Window, dir Dir) int {
	across := dir == Left || dir == Right
	span := func(r geom.Rect) (from, to int) {
		if across {
			return r.X, r.Right()
		}
		return r.Y, r.Bottom()
	}
	from, to := span(w.Rect)
	best := 0
	try := func(mine, line int) {
		d := line - mine
		if dir == Left || dir == Up {
			d = -d
		}
		if d > 0 && (best == 0 || d < best) {
			best = d
		}
	}
	for _, m := range e.Monitors {
		if m.Connected {
			a, b := span(m.Work)
			try(from, a)
			try(to, b)
			try(from+geom.FloorDiv(to-from, 2), a+geom.FloorDiv(b-a, 2))
		}
	}
	for _, o := range e.Windows {
		if o.ID == w.ID || o.Monitor != w.Monitor || o.Minimised || o.Workspace != w.Workspace && !o.Sticky {
			continue
		}
		a, b := span(o.Rect)
		for _, line := range []int{a, b} {
			try(from, line)
			try(to, line)
		}
	}
	return best
}

// resize moves one edge of floating windows outward by pixels, or inward where
// these are negative. No window becomes smaller than its minimum.
func (e *edit) resize(c Command) (string, error) {
	dir, _ := ParseDir(c.Args[0].Word)
	px := e.pixels(c.Args[1], dir)
	if e.Tiled(e.Window(e.chosen[0])) {
		b, err := e.block()
		if err != nil {
			return "", err
		}
		split, after := dir.axis()
		return e.resizeTile(b, split, after, px)
	}
	ids, err := e.movable()
	if err != nil {
		return "", err
	}
	for _, id := range ids {
		w := e.Window(id)
		if w.Fixed {
			return "", fmt.Errorf("%s has one size", w.Label())
		}
		r := w.resized(dir, px)
		if r == w.Rect {
			continue
		}
		e.resizeTo(e.window(id), r)
	}
	return e.placeWords(ids), nil
}

// pixels is a length in pixels. Per cents are of the work area that the first chosen window lies
// on, along the direction.
func (e *edit) pixels(a Arg, dir Dir) int {
	if a.Kind != Share {
		return a.N
	}
	work := e.Monitor(e.Window(e.chosen[0]).Monitor).Work
	if dir == Left || dir == Right {
		return a.N * work.W / 100
	}
	return a.N * work.H / 100
}

// resizeTo gives a floating window another size. An edge that two snapped windows
// share moves for both, as far as the other can be smaller, and they stay snapped.
func (e *edit) resizeTo(w *Window, r geom.Rect) {
	loose := w.Loose
	if !loose.Empty() {
		for _, dir := range []Dir{Left, Right, Up, Down} {
			r = e.pushed(w, r, dir)
		}
		// Neighbours on both sides may leave nothing between them.
		r.W, r.H = max(r.W, min(w.Rect.W, Smallest)), max(r.H, min(w.Rect.H, Smallest))
	}
	e.placeAt(w, r)
	w.Loose = loose
}

// pushed moves the edges of those that share a snapped window's edge in a direction, and is the
// rectangle that this leaves for the window.
func (e *edit) pushed(w *Window, r geom.Rect, dir Dir) geom.Rect {
	by := far(r, dir) - far(w.Rect, dir)
	if by == 0 {
		return r
	}
	var partners []int
	for _, o := range e.Windows {
		if o.ID == w.ID || o.Loose.Empty() || o.Workspace != w.Workspace || o.Monitor != w.Monitor || !e.onSheet(o) {
			continue
		}
		if near(o.Rect, dir) == far(w.Rect, dir) && level(w.Rect, o.Rect, dir) {
			partners = append(partners, o.ID)
			size, least := o.Rect.W, max(o.MinW, layout.MinTile)
			if dir == Up || dir == Down {
				size, least = o.Rect.H, max(o.MinH, layout.MinTile)
			}
			by = min(by, max(size-least, 0))
		}
	}
	for _, id := range partners {
		o := e.window(id)
		o.Rect = moved(o.Rect, dir.opposite(), -by)
		o.Floated = o.Rect
	}
	return moved(r, dir, by-(far(r, dir)-far(w.Rect, dir)))
}

// onSheet tells whether a window floats on its sheet with a place of its own.
func (d *Desk) onSheet(w *Window) bool { return !w.Minimised && !w.full() && !d.Tiled(w) }

// moved is a rectangle with one edge moved out by so many pixels.
func moved(r geom.Rect, dir Dir, by int) geom.Rect {
	switch dir {
	case Left:
		r.X, r.W = r.X-by, r.W+by
	case Right:
		r.W += by
	case Up:
		r.Y, r.H = r.Y-by, r.H+by
	case Down:
		r.H += by
	}
	return r
}

// maxSize is the longest side of a window, by the X protocol.
const maxSize = 32767

// placeWords say where windows are.
func (e *edit) placeWords(ids []int) string {
	if len(ids) > 1 {
		return fmt.Sprintf("Moved %s.", e.the(ids))
	}
	return e.PlaceWords(e.Window(ids[0]))
}

// PlaceWords say where a window is: its place on its monitor, its size, and how
// much of it shows.
func (d *Desk) PlaceWords(w *Window) string {
	m := d.Monitor(w.Monitor)
	return fmt.Sprintf("%s is at %d,%d of %c, %d×%d; %.0f%% of it shows.", w.Name(), w.Rect.X-m.Rect.X, w.Rect.Y-m.Rect.Y, m.Letter,
		w.Rect.W, w.Rect.H, 100*stray.Look(w.Lost(), d.strays).Shows)
}

// cascade lays floating windows from the top left of a work area in steps.
func (e *edit) cascade(c Command) (string, error) {
	ids, err := e.movable()
	if err != nil {
		return "", err
	}
	letter := e.At
	if len(c.Args) > 1 {
		letter = c.Args[1].Letter
	}
	if !e.Connected(letter) {
		return "", e.noMonitor(letter)
	}
	at := geom.Point{X: e.Monitor(letter).Work.X, Y: e.Monitor(letter).Work.Y}
	e.layAnew(ids, func(w *Window) {
		on := e.fitting(e.Index(w.Workspace), letter) // in separate mode, its workspace's own monitor
		work, lost := e.Monitor(on).Work, w.Lost()
		lost.Rect.X, lost.Rect.Y = at.X, at.Y
		if !work.Contains(geom.R(at.X, at.Y, min(lost.Rect.W, work.W), min(lost.Rect.H, work.H))) {
			at = geom.Point{X: work.X, Y: work.Y}
			lost.Rect.X, lost.Rect.Y = at.X, at.Y
		}
		w.Rect, w.Monitor, w.Away, w.Loose = stray.Into(lost, work), on, nil, geom.Rect{}
		w.Floated = w.Rect
		at = geom.Point{X: at.X + stray.Step, Y: at.Y + stray.Step}
	})
	if len(ids) == 1 {
		return fmt.Sprintf("Brought %s to the top left of %c.", e.the(ids), letter), nil
	}
	return fmt.Sprintf("Laid %s in steps on %c.", e.the(ids), letter), nil
}

// Dragged is a window that is moved or resized by the pointer, as the keeper does
// it. One that floats stays within reach, unless a rule lets it be. Of a tile the
// edges it shares with others are moved; a tile that is moved stays where it is,
// until it is let go.
type Dragged struct {
	ID    int
	Rect  geom.Rect
	Edges [4]bool // that were moved: left, right, top, bottom; none where all of it was
	Done  bool    // the button was let go
	// Hand is the same for all facts of one drag, which are one step of undo; it
	// is no step where it is 0.
	Hand int64
}

// step makes a drag one step of undo: next is the desk after it, of the desk d.
func (f Dragged) step(d, next *Desk) {
	if w := next.Window(f.ID); f.Hand != 0 && w != nil && len(d.Differs(next)) > 0 {
		words := next.PlaceWords(w)
		if next.Tiled(w) {
			words = next.SizeWords([]int{w.ID})
		}
		next.past, next.future = d.pushed(d, Command{Verb: "drag", Hand: f.Hand}, next, words, subjectOf{}, 0), nil
	}
}

func (f Dragged) apply(e *edit) string {
	w := e.window(f.ID)
	if w == nil || w.Minimised || w.full() {
		return ""
	}
	if e.Tiled(w) {
		return e.dragEdges(w, f)
	}
	if f.Edges != [4]bool{} {
		e.resizeTo(w, f.Rect)
	} else {
		e.placeAt(w, f.Rect)
	}
	if f.Done {
		return e.placeWords([]int{f.ID})
	}
	return ""
}

// dragEdges moves the edges a tile shares with others to where they are dragged.
func (e *edit) dragEdges(w *Window, f Dragged) string {
	b := block{e.sheet(e.Index(w.Workspace), w.Monitor), []int{w.ID}, e.Index(w.Workspace), w.Monitor}
	words := ""
	for dir, moves := range f.Edges {
		split, after := Dir(dir).axis()
		if px := far(f.Rect, Dir(dir)) - far(e.Window(f.ID).Rect, Dir(dir)); moves && px != 0 && layout.Shares(b.Tiles, b.windows, split, after) {
			if said, err := e.resizeTile(b, split, after, px); err == nil {
				words = said
			}
		}
	}
	if !f.Done {
		return ""
	}
	if p := e.past; words == "" && p != nil && p.command.Verb == "drag" && p.command.Hand == f.Hand {
		return e.SizeWords([]int{f.ID}) // of all its steps
	}
	return words
}

// EdgeAt is the tile whose edge with a gap lies at a point, and which of its
// edges that is: left, right, top, bottom; ok is false where there is no gap
// that two tiles share.
func (d *Desk) EdgeAt(p geom.Point) (id int, edges [4]bool, ok bool) {
	m := d.monitorAt(p)
	if m == nil || d.shownOn(m.Letter) < 0 {
		return 0, edges, false
	}
	s := d.Sheet(d.shownOn(m.Letter), m.Letter)
	if s == nil || s.Layout == layout.Free {
		return 0, edges, false
	}
	gap := d.gapOf(s)
	for id, r := range d.tileRects(s, m.Letter) {
		switch {
		case p.Y >= r.Y && p.Y < r.Bottom() && p.X >= r.Right() && p.X < r.Right()+gap && layout.Shares(s.Tiles, []int{id}, layout.Across, true):
			return id, [4]bool{1: true}, true
		case p.X >= r.X && p.X < r.Right() && p.Y >= r.Bottom() && p.Y < r.Bottom()+gap && layout.Shares(s.Tiles, []int{id}, layout.Down, true):
			return id, [4]bool{3: true}, true
		}
	}
	return 0, edges, false
}

// Reach is the rectangle nearest to r at which the handle of a window can be
// reached on some connected monitor. A rule may let a window go out of reach.
func (d *Desk) Reach(w *Window, r geom.Rect) geom.Rect {
	if d.Rule(w).Stray {
		return r
	}
	lost := w.Lost()
	lost.Rect = r
	return stray.Reach(lost, d.strays)
}

// Snapped is r with its edges on those of work areas and of other windows that
// lie within so many pixels of them; resize says which edges move: left, right,
// top, bottom; none of them where all do.
func (d *Desk) Snapped(id int, r geom.Rect, within int, moves [4]bool) geom.Rect {
	var xs, ys []int
	add := func(o geom.Rect) {
		xs, ys = append(xs, o.X, o.Right()), append(ys, o.Y, o.Bottom())
	}
	for _, m := range d.Monitors {
		if m.Connected {
			add(m.Work)
		}
	}
	for _, w := range d.Windows {
		if w.ID != id && d.Visible(w) {
			add(w.Rect)
		}
	}
	catch := func(edge int, lines []int) (by int, ok bool) {
		for _, l := range lines {
			if delta := l - edge; abs(delta) <= within && (!ok || abs(delta) < abs(by)) {
				by, ok = delta, true
			}
		}
		return by, ok
	}
	if slices.Contains(moves[:], true) {
		if by, ok := catch(r.X, xs); moves[0] && ok {
			r.X, r.W = r.X+by, r.W-by
		}
		if by, ok := catch(r.Right(), xs); moves[1] && ok {
			r.W += by
		}
		if by, ok := catch(r.Y, ys); moves[2] && ok {
			r.Y, r.H = r.Y+by, r.H-by
		}
		if by, ok := catch(r.Bottom(), ys); moves[3] && ok {
			r.H += by
		}
		return r
	}
	left, okL := catch(r.X, xs)
	right, okR := catch(r.Right(), xs)
	if okL && (!okR || abs(left) <= abs(right)) {
		r.X += left
	} else if okR {
		r.X += right
	}
	top, okT := catch(r.Y, ys)
	bottom, okB := catch(r.Bottom(), ys)
	if okT && (!okB || abs(top) <= abs(bottom)) {
		r.Y += top
	} else if okB {
		r.Y += bottom
	}
	return r
}
