package desk

import (
	"cmp"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// edit is a desk being changed: a copy whose parts are copied in their turn
// when they are first written.
type edit struct {
	*Desk
	base          *Desk // before the edit
	seen          bool  // it follows facts of a desk that another program manages
	ownWindows    map[int]bool
	ownWorkspaces map[int]bool
	ownSheets     map[*Sheet]bool
	dirty         map[sheetKey]bool
	chosen        []int // the windows the command acts on
	removed       bool  // a window is gone
	about         int   // id of the workspace the command is about, or 0
	made          bool  // the command has made a workspace
	bringing      bool  // a window that gets the focus comes back to the bare desk alone
	unseen        bool  // a window opened out of sight, where it was another time
	pinned        *Pin
	start         *Start // the app the command would have started
	starts        []Start
	travelled     []Travelled
	touches       []int    // windows the command has moved, where it names none
	seating       *Seating // the place of a plate that the window which opens has
}

type sheetKey struct {
	workspace int // id
	letter    byte
}

func (d *Desk) edit() *edit {
	c := *d
	c.Windows = slices.Clone(d.Windows)
	c.Workspaces = slices.Clone(d.Workspaces)
	e := &edit{Desk: &c, base: d}
	e.ownNothing()
	return e
}

// ownNothing has every part of the desk be copied before it is written, and none be laid
// out again.
func (e *edit) ownNothing() {
	e.ownWindows, e.ownWorkspaces, e.ownSheets = map[int]bool{}, map[int]bool{}, map[*Sheet]bool{}
	e.dirty = map[sheetKey]bool{}
}

// window is the window with that id, to be written.
func (e *edit) window(id int) *Window {
	i, ok := e.find(id)
	if !ok {
		return nil
	}
	if !e.ownWindows[id] {
		c := *e.Windows[i]
		e.Windows[i] = &c
		e.ownWindows[id] = true
	}
	return e.Windows[i]
}

// workspace is the workspace at index i, to be written.
func (e *edit) workspace(i int) *Workspace {
	ws := e.Workspaces[i]
	if !e.ownWorkspaces[ws.ID] {
		c := *ws
		ws = &c
		e.Workspaces[i] = ws
		e.ownWorkspaces[ws.ID] = true
	}
	return ws
}

// sheet is a sheet of the workspace at index i, to be written and laid out again.
func (e *edit) sheet(i int, letter byte) *Sheet {
	ws := e.workspace(i)
	s := ws.sheets[letter-'A']
	if s == nil {
		s = newSheet()
		s.Layout = e.Settings.Layout
		e.ownSheets[s] = true
	} else if !e.ownSheets[s] {
		c := *s
		c.Floating = slices.Clone(s.Floating)
		s = &c
		e.ownSheets[s] = true
	}
	ws.sheets[letter-'A'] = s
	e.dirty[sheetKey{ws.ID, letter}] = true
	return s
}

func newSheet() *Sheet { return &Sheet{Share: layout.DefaultShare, Leads: 1} }

// bringParents brings back, from the bare desk, those that a dialog belongs to.
func (e *edit) bringParents(w *Window) {
	for p := e.Window(w.Parent); p != nil && e.hidden(p); p = e.Window(p.Parent) {
		e.Clock++
		e.window(p.ID).Used = e.Clock
	}
}

// setFocus gives the focus to a window, or to none for 0. The monitor goes
// along, and a floating window comes to the top of its sheet.
func (e *edit) setFocus(id int) {
	if w := e.Window(id); w == nil || e.hidden(w) && !e.bringing {
		if was := e.window(e.Focus); was != nil {
			was.UsedAt = e.Now
		}
		e.Focus = 0
		return
	}
	if was := e.window(e.Focus); was != nil {
		was.UsedAt = e.Now // up to now
	}
	id = e.waitedFor(id)
	w := e.window(id)
	e.Focus, e.At = id, w.Monitor
	if e.Bare {
		e.BareFocus = 0
		e.bringParents(w)
	}
	w.UsedAt = e.Now
	if w.Used != e.Clock || e.Clock == 0 {
		e.Clock++
		w.Used = e.Clock
	}
	w.Urgent = false
	e.raise(w)
}

// waitedFor is the modal dialog that a window waits for, which gets the focus in its
// place; else the window itself.
func (e *edit) waitedFor(id int) int {
	dialogs := e.families()
	for range 32 {
		ids := dialogs[id]
		i := slices.IndexFunc(ids, func(id int) bool {
			w := e.Window(id)
			return w.Modal && !w.NoFocus && e.Visible(w)
		})
		if i < 0 {
			break
		}
		id = ids[i]
	}
	return id
}

// raise brings a floating window to the top of its sheet.
func (e *edit) raise(w *Window) {
	i := e.Index(w.Workspace)
	if s := e.Sheet(i, w.Monitor); s == nil || !slices.Contains(s.Floating, w.ID) || s.Floating[len(s.Floating)-1] == w.ID {
		return
	}
	s := e.sheet(i, w.Monitor)
	s.Floating = append(without(s.Floating, w.ID), w.ID)
}

func without(ids []int, id int) []int {
	return slices.DeleteFunc(slices.Clone(ids), func(x int) bool { return x == id })
}

// lift takes a window out of its sheet's lists.
func (e *edit) lift(w *Window) { e.liftAll([]int{w.ID}) }

// liftAll takes windows out of the lists of their sheets, of each sheet in one go.
func (e *edit) liftAll(ids []int) {
	for key, ids := range e.bySheet(ids) {
		i := e.Index(key.workspace)
		if i < 0 || e.Sheet(i, key.letter) == nil {
			continue
		}
		s := e.sheet(i, key.letter)
		s.Floating = slices.DeleteFunc(slices.Clone(s.Floating), func(id int) bool { return ids[id] })
		s.setTiles(layout.Remove(s.Tiles, func(id int) bool { return ids[id] }))
	}
}

// bySheet is windows by the sheets that they are on.
func (d *Desk) bySheet(ids []int) map[sheetKey]map[int]bool {
	on := map[sheetKey]map[int]bool{}
	for _, id := range ids {
		w := d.Window(id)
		key := sheetKey{w.Workspace, w.Monitor}
		if on[key] == nil {
			on[key] = map[int]bool{}
		}
		on[key][id] = true
	}
	return on
}

// setTiles takes n as the sheet's tiles; a layout of a list keeps its own shape.
func (s *Sheet) setTiles(n *layout.Node) {
	if s.Layout.List() {
		n = layout.Of(s.Layout, n.Windows(), s.Share, s.Leads)
	}
	s.Tiles = n
}

// seats keeps in mind where windows are tiled that are about to leave the tiles.
func (e *edit) seats(ids ...int) {
	tiled := slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return !e.Tiled(e.Window(id)) })
	for key, ids := range e.bySheet(tiled) {
		i := e.Index(key.workspace)
		s := e.Sheet(i, key.letter)
		layout.Seats(s.Tiles, func(id int) bool { return ids[id] }, func(id int, seat *layout.Seat) {
			e.window(id).Seat = &Seat{*seat, key.workspace, key.letter}
		})
		if !s.stands() {
			s = e.sheet(i, key.letter)
			s.Before = s.Tiles
		}
	}
}

// stands tells whether the tiles of the sheet stand as those did before some of
// them left.
func (s *Sheet) stands() bool {
	ids := s.Tiles.Windows()
	rest := layout.Only(s.Before, ids)
	return s.Before != nil && (layout.Equal(rest, s.Tiles) || s.Layout.List() && slices.Equal(rest.Windows(), ids))
}

// comeBack gives windows the places among the tiles that they had before they left
// them; ok is false where that cannot be told any more.
func (s *Sheet) comeBack(ids ...int) (ok bool) {
	before := map[int]bool{}
	for _, id := range s.Before.Windows() {
		before[id] = true
	}
	if slices.ContainsFunc(ids, func(id int) bool { return !before[id] }) || !s.stands() {
		return false
	}
	s.setTiles(layout.Only(s.Before, append(s.Tiles.Windows(), ids...)))
	return true
}

// lay puts a window, lifted before, on the sheet its fields name, as a tile
// beside the leaf at where it has one, else floating on top.
func (e *edit) lay(w *Window, at int) {
	if w.Minimised {
		return
	}
	s := e.sheet(e.Index(w.Workspace), w.Monitor)
	if w.floats() || s.Layout == layout.Free {
		s.Floating = append(s.Floating, w.ID)
		if !w.full() {
			w.Floated = w.Rect
		}
	}
	if w.floats() {
		return
	}
	if s.Layout != layout.Free {
		w.Loose = geom.Rect{} // a tile is not snapped
	}
	if seat := w.Seat; w.seated() {
		w.Seat = nil
		if s.comeBack(w.ID) {
			return
		}
		if tiles, ok := layout.Sit(s.Tiles, w.ID, &seat.Seat); ok {
			s.setTiles(tiles)
			return
		}
	}
	if s.Layout.List() {
		s.Tiles = layout.Of(s.Layout, append(s.Tiles.Windows(), w.ID), s.Share, s.Leads)
		return
	}
	next := s.Next
	s.Next = layout.Leaf
	s.Tiles = layout.InsertAt(s.Tiles, at, w.ID, func() layout.Split {
		if next != layout.Leaf {
			return next
		}
		if r, ok := layout.RectOf(s.Tiles, e.RoomOf(s, w.Monitor), e.spacing(s, w.Monitor), at); ok && r.W < r.H {
			return layout.Down
		}
		return layout.Across
	})
}

// leafFor is the leaf of a sheet beside which a new window opens: the most
// recently focused one, 0 for an empty tree.
func (e *edit) leafFor(i int, letter byte) int {
	s := e.Sheet(i, letter)
	if s == nil {
		return 0
	}
	best := (*Window)(nil)
	for _, id := range s.Tiles.Windows() {
		if w := e.Window(id); best == nil || w.recency() >= best.recency() {
			best = w
		}
	}
	if best == nil {
		return 0
	}
	return best.ID
}

// put moves a window, and its dialogs with it, to the sheet of the workspace at
// index i on a connected monitor; one that floats keeps its share of the free
// room there. It is a placing by the user: the window no longer goes back to a
// monitor it was away from.
func (e *edit) put(id, i int, letter byte) { e.putAll([]move{{id, i, letter}}) }

// move is a window and the sheet that it is put on.
type move struct {
	id, workspace int // the workspace by its index
	letter        byte
}

// putAll puts windows on sheets, each with its dialogs, in order.
func (e *edit) putAll(moves []move) {
	var all []move
	dialogs, moved := e.families(), map[int]bool{}
	for _, m := range moves {
		if !moved[m.id] { // else it goes with its parent
			all = e.withMove(all, m, dialogs, moved)
		}
	}
	ids := make([]int, len(all))
	leaves := map[sheetKey]int{}
	for n, m := range all {
		ids[n] = m.id
		e.addLeaf(leaves, m.workspace, m.letter)
	}
	e.liftAll(ids)
	for _, m := range all {
		w := e.window(m.id)
		rect := e.relocated(w, m.letter)
		w.Workspace, w.Monitor, w.Away, w.Seat = e.Workspaces[m.workspace].ID, m.letter, nil, nil
		if !e.tileOn(w, m.workspace, m.letter) {
			w.Rect = rect
			if w.full() {
				w.Floated = rect
			}
		}
	}
	e.layAll(ids, leaves)
}

// withMove is a list with one more move at its end, and those of the window's dialogs. Moved
// are the windows in it.
func (e *edit) withMove(list []move, m move, dialogs families, moved map[int]bool) []move {
	m.letter = e.fitting(m.workspace, m.letter)
	if moved[m.id] {
		list = slices.DeleteFunc(list, func(o move) bool { return o.id == m.id })
	}
	list, moved[m.id] = append(list, m), true
	for _, child := range dialogs[m.id] {
		list = e.withMove(list, move{child, m.workspace, m.letter}, dialogs, moved)
	}
	return list
}

// addLeaf finds out beside which leaf tiles go on a sheet that is a tree, where that is not
// known.
func (e *edit) addLeaf(leaves map[sheetKey]int, i int, letter byte) {
	key := sheetKey{e.Workspaces[i].ID, letter}
	if _, known := leaves[key]; !known {
		leaves[key] = 0
		if s := e.Sheet(i, letter); s != nil && !s.Layout.List() {
			leaves[key] = e.leafFor(i, letter)
		}
	}
}

// layAll lays windows, lifted before, as lay does one. Leaves are those beside which tiles
// go on trees.
func (e *edit) layAll(ids []int, leaves map[sheetKey]int) {
	listed := map[*Sheet][]int{}
	for _, id := range e.seatAll(ids) {
		w := e.window(id)
		key := sheetKey{w.Workspace, w.Monitor}
		s := e.sheet(e.Index(w.Workspace), w.Monitor)
		if s.Layout.List() && !w.floats() && !w.Minimised && w.Seat == nil {
			w.Loose = geom.Rect{}
			listed[s] = append(listed[s], id)
			continue
		}
		if e.lay(w, leaves[key]); s.Layout.List() {
			continue
		}
		if leaf := e.Window(leaves[key]); !w.floats() && !w.Minimised && (leaf == nil || w.recency() >= leaf.recency()) {
			leaves[key] = id
		}
	}
	for s, ids := range listed {
		s.Tiles = layout.Of(s.Layout, append(s.Tiles.Windows(), ids...), s.Share, s.Leads)
	}
}

// seatAll gives windows back the places that they left among the tiles of their sheets. It lists
// the windows of sheets where not all of them can have theirs.
func (e *edit) seatAll(ids []int) (rest []int) {
	seated := map[*Sheet][]int{}
	for _, id := range ids {
		w := e.Window(id)
		if s := e.sheet(e.Index(w.Workspace), w.Monitor); w.seated() && !w.floats() && !w.Minimised && s.Layout != layout.Free {
			seated[s] = append(seated[s], id)
		}
	}
	done := map[int]bool{}
	for s, ids := range seated {
		if !s.comeBack(ids...) {
			continue
		}
		for _, id := range ids {
			w := e.window(id)
			w.Seat, w.Loose, done[id] = nil, geom.Rect{}, true
		}
	}
	return slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return done[id] })
}

// seated tells whether the window has left a place among the tiles of the sheet that it is on.
func (w *Window) seated() bool {
	return w.Seat != nil && w.Seat.Workspace == w.Workspace && w.Seat.Monitor == w.Monitor
}

// layAnew takes windows off their sheets, changes them, and lays them there again.
func (e *edit) layAnew(ids []int, change func(w *Window)) {
	leaves := map[sheetKey]int{}
	for _, id := range ids {
		w := e.Window(id)
		e.addLeaf(leaves, e.Index(w.Workspace), w.Monitor)
	}
	e.liftAll(ids)
	for _, id := range ids {
		change(e.window(id))
	}
	e.layAll(ids, leaves)
}

func (e *edit) tileOn(w *Window, i int, letter byte) bool {
	s := e.Sheet(i, letter)
	return !w.floats() && (s == nil || s.Layout != layout.Free)
}

// families are the windows that have a parent, by it, and not under it in a loop.
type families map[int][]int

func (e *edit) families() families {
	of := families{}
	for _, w := range e.mayBeApart() {
		if w.Parent != 0 && w.Parent != w.ID && !e.Ancestor(w.ID, w.Parent) {
			of[w.Parent] = append(of[w.Parent], w.ID)
		}
	}
	return of
}

// Ancestor tells whether a stands somewhere above id in the chain of parents.
// Chains longer than any real one are loops and are cut.
func (d *Desk) Ancestor(a, id int) bool {
	for range 32 {
		w := d.Window(id)
		if w == nil || w.Parent == 0 {
			return false
		}
		if w.Parent == a {
			return true
		}
		id = w.Parent
	}
	return true
}

// relocated is the window's rectangle on another monitor: the same size where
// it fits, the same share of the free room; on its own monitor it stays,
// unless it would be lost there.
func (e *edit) relocated(w *Window, letter byte) geom.Rect {
	target := e.Monitor(letter)
	source := e.sourceOf(w)
	lost := w.Lost()
	lost.Rect = w.floatRect()
	r := lost.Rect
	if source.Letter != letter {
		r = relocate(lost, source.Work, target.Work)
		lost.Rect = r
	}
	if f := stray.Look(lost, e.strays); f.Cause != stray.None && f.Cause != stray.Tiny || f.On != letter {
		r = stray.Into(lost, target.Work)
	}
	return r
}

// sourceOf is the monitor that a window's place is relative to. It is its own, unless that shows
// no pixel of it and the window lies where an unplugged one was.
func (e *edit) sourceOf(w *Window) *Monitor {
	own := e.Monitor(w.Monitor)
	if own.Rect.Overlaps(w.Rect) {
		return own
	}
	if f := stray.Look(w.Lost(), e.strays); f.On != 0 {
		return e.Monitor(f.On)
	} else if f.Was != 0 {
		return e.Monitor(f.Was)
	}
	return own
}

// relocate carries a floating window from one work area to another: its size
// where it fits, else shrunk to it, never below the minimum; its share of the
// free room kept.
func relocate(w stray.Window, from, to geom.Rect) geom.Rect {
	r := w.Rect
	n := r
	if !w.Fixed {
		n.W = min(r.W, max(to.W, w.MinW))
		n.H = min(r.H, max(to.H, w.MinH))
	}
	n.X = geom.Relocate(r.X, r.W, from.X, from.W, n.W, to.X, to.W)
	n.Y = geom.Relocate(r.Y, r.H, from.Y, from.H, n.H, to.Y, to.H)
	return n
}

// show puts the workspace at index i on every monitor, in separate mode on its
// home, and remembers it as the most recent one.
func (e *edit) show(i int) {
	id := e.Workspaces[i].ID
	for _, m := range e.Monitors {
		if e.Has(i, m.Letter) {
			e.Shown[m.Letter-'A'] = id
		}
	}
	e.Recent = slices.Insert(without(e.Recent, id), 0, id)
}

// latest is the window of the workspace at index i that came to the front last, of
// those on one monitor where letter is not 0; 0 where there is none. Among
// windows never focused, those of At come first, then the first of the order.
func (d *Desk) latest(i int, letter byte) int {
	best, found := (*Window)(nil), 0
	keys := func(w *Window) bool { return !w.NoFocus } // one that takes none is chosen where no other is
	here := func(w *Window) bool { return w.Monitor == d.At }
	for _, m := range d.Monitors {
		if !m.Connected || letter != 0 && m.Letter != letter {
			continue
		}
		for _, w := range d.Order(i, m.Letter) {
			if d.hidden(w) {
				continue
			}
			if best == nil || cmp.Or(cmpBool(keys(w), keys(best)), cmp.Compare(w.recency(), best.recency()), cmpBool(here(w), here(best))) > 0 {
				best, found = w, w.ID
			}
		}
	}
	return found
}

// refocus gives the focus to a window after the focused one went from a
// monitor: the most recently focused one of the sheet it shows, else none.
func (e *edit) refocus(letter byte) {
	e.At = letter
	e.setFocus(e.latest(e.Current(), letter))
}

// followFocus keeps you on the monitor of the focused window, and finds
// another where that window is no longer shown.
func (e *edit) followFocus() {
	if w := e.Window(e.Focus); w != nil && e.Visible(w) {
		e.At = w.Monitor
	} else if e.Focus != 0 && e.seen {
		e.Focus = 0 // who has it now is another's to say
	} else if e.Focus != 0 {
		e.refocus(e.At)
	}
}

// finish lays out the sheets that changed and hands the desk out.
func (e *edit) finish() *Desk {
	e.sortOut()
	if e.Settings.Growing {
		e.grow()
	}
	e.followFocus()
	e.focusFront()
	if w := e.Window(e.BareFocus); w == nil || !e.Bare || !e.onShown(w) || w.Monitor != e.At {
		e.BareFocus = 0
	}
	for _, w := range e.found(e.apart) {
		if w.full() && !w.Minimised { // whether it covers may be another by what has the focus
			e.dirty[sheetKey{w.Workspace, w.Monitor}] = true
		}
	}
	for key := range e.dirty {
		if i := e.Index(key.workspace); i >= 0 && e.Sheet(i, key.letter) != nil {
			e.layOut(i, key.letter)
		}
	}
	return e.Desk
}

func (e *edit) layOut(i int, letter byte) {
	s := e.Sheet(i, letter)
	if s == nil {
		return
	}
	m := e.Monitor(letter)
	front, _ := e.cover(i, letter)
	put := func(id int, r geom.Rect) {
		w := e.Window(id)
		covers := id == front
		if w.Sticky || e.Settings.Alongside {
			covers = e.Covers(w)
		}
		switch {
		case e.placedByOthers(w):
		case covers && w.Fullscreen:
			r = m.Rect
		case covers:
			r = m.Work
		case w.full() && !e.Tiled(w):
			r = e.withinReach(w, w.floatRect())
		case (w.Wide || w.Tall) && !e.Tiled(w):
			work := e.Monitor(letter).Work
			if w.Wide {
				r.X, r.W = work.X, work.W
			}
			if w.Tall {
				r.Y, r.H = work.Y, work.H
			}
		}
		if w.Rect != r {
			e.window(id).Rect = r
		}
	}
	if s.Layout != layout.Free {
		layout.Place(s.Tiles, e.RoomOf(s, letter), e.spacing(s, letter), put)
	}
	for _, id := range s.Floating {
		put(id, e.Window(id).Rect)
	}
}

// withinReach is a place of the window, brought into the work area where it would be lost
// there.
func (e *edit) withinReach(w *Window, r geom.Rect) geom.Rect {
	lost := w.Lost()
	lost.Rect = r
	if f := stray.Look(lost, e.strays); f.Cause != stray.None && f.Cause != stray.Tiny {
		return stray.Into(lost, e.Monitor(w.Monitor).Work)
	}
	return r
}
