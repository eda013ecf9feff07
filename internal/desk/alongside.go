package desk

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// Where another program manages the windows, facts alone say where they are. A command
// makes the desk it would lead to, which is a wish: the host asks for what differs, and
// Answered is what became of it.

// noTiles is why a verb of tiles cannot be had there.
const noTiles = "nothing keeps tiles there. layout places windows once"

// BesideOthers are the settings as they are in force where another program manages the
// windows. Lacks are the verbs for which that takes no request.
func (s Settings) BesideOthers(lacks []string) Settings {
	s.Alongside, s.Lacks = true, lacks
	s.Growing, s.Separate, s.EdgeGoes, s.Layout = false, false, false, layout.Free
	return s
}

// Offers tells why a verb cannot be had on the desk; nil where it can.
func (d *Desk) Offers(v Verb) error {
	switch {
	case !d.Settings.Alongside:
	case v.Never != "":
		return fmt.Errorf("%s is not available beside another manager: %s", v.Name, v.Never)
	case slices.Contains(d.Settings.Lacks, v.Name):
		return fmt.Errorf("%s is not available: the desktop's manager takes no such request", v.Name)
	}
	return nil
}

// placedByOthers tells whether another program says where a maximised or fullscreen window lies.
// This edit says it only where a command changes the window's state or its monitor.
func (e *edit) placedByOthers(w *Window) bool {
	if !e.Settings.Alongside {
		return false
	}
	was := e.base.Window(w.ID)
	return e.seen || was == nil ||
		was.Monitor == w.Monitor && was.Maximised == w.Maximised && was.Fullscreen == w.Fullscreen && was.Wide == w.Wide && was.Tall == w.Tall
}

// WorkspacesAre are the names of the workspaces there are, in order.
type WorkspacesAre struct{ Names []string }

// Shows is the workspace that is shown, by its index, or the bare desk.
type Shows struct {
	Workspace int
	Bare      bool
}

// Stands is a window as another program has it.
type Stands struct {
	ID        int
	Rect      geom.Rect
	Workspace int // index; -1 for all of them
	State     Standing
}

// Standing is the states of such a window.
type Standing struct {
	Minimised, Maximised, Wide, Tall, Fullscreen, Above, Below, Urgent, LastSeen bool
}

// StandingOf is the states of a window of a desk.
func StandingOf(w *Window) Standing {
	return Standing{w.Minimised, w.Maximised, w.Wide, w.Tall, w.Fullscreen, w.Above, w.Below, w.Urgent, w.LastSeen}
}

// StackingIs is the stacking order of all windows, the lowest first.
type StackingIs struct{ IDs []int }

// FocusIs is the window that has the focus, 0 for none of the desk's.
type FocusIs struct{ ID int }

// ManagerIs is what the program that manages the windows takes no request for, and what
// is to be said of it in a sentence; empty for nothing.
type ManagerIs struct {
	Lacks []string
	Words string
}

func (f WorkspacesAre) apply(e *edit) string {
	n := geom.Clamp(len(f.Names), 1, MaxWorkspaces)
	for len(e.Workspaces) < n {
		e.newWorkspace("", len(e.Workspaces)) // there is room, and it has no name
	}
	if last := e.Workspaces[n-1]; len(e.Workspaces) > n {
		for _, ws := range e.Workspaces[n:] {
			e.emptyInto(ws, last)
			e.Recent = without(e.Recent, ws.ID)
		}
		gone := e.Workspaces[n:]
		e.Workspaces = slices.Clone(e.Workspaces[:n])
		if slices.ContainsFunc(gone, func(ws *Workspace) bool { return e.IsShown(ws.ID) }) {
			e.show(n - 1)
		}
	}
	names := map[string]bool{}
	for i, ws := range e.Workspaces {
		name := ""
		if i < len(f.Names) {
			name = CleanName(f.Names[i])
		}
		if names[name] {
			name = "" // one of the same name stands before it
		}
		if names[name] = true; name != ws.Name {
			e.workspace(i).Name = name
		}
	}
	return ""
}

// emptyInto moves the windows of a workspace that is gone to another one; facts that
// follow say where they really are.
func (e *edit) emptyInto(gone, into *Workspace) {
	for _, w := range e.Windows {
		if w.Workspace == gone.ID {
			w = e.window(w.ID)
			e.lift(w)
			w.Workspace = into.ID
			e.lay(w, 0)
		}
	}
}

func (f Shows) apply(e *edit) string {
	if f.Workspace >= 0 && f.Workspace < len(e.Workspaces) && e.shownOn(e.At) != f.Workspace {
		e.show(f.Workspace)
	}
	switch {
	case f.Bare && !e.Bare:
		e.makeBare()
	case !f.Bare:
		e.Bare, e.BareFocus, e.BareClock = false, 0, 0
	}
	return ""
}

func (f Stands) apply(e *edit) string {
	w := e.window(f.ID)
	if w == nil {
		return ""
	}
	was := e.Lost(w).Cause
	i := e.Index(w.Workspace)
	if f.Workspace >= 0 {
		i = min(f.Workspace, len(e.Workspaces)-1)
	}
	moved := w.Rect != f.Rect
	next := *w
	s := f.State
	next.Rect, next.Workspace, next.Sticky = f.Rect, e.Workspaces[i].ID, f.Workspace < 0
	next.Minimised, next.Maximised, next.Wide, next.Tall, next.Fullscreen = s.Minimised, s.Maximised, s.Wide, s.Tall, s.Fullscreen
	next.Above, next.Below, next.Urgent, next.LastSeen, next.Refused = s.Above, s.Below, s.Urgent, s.LastSeen, nil
	if next.Minimised && !w.Minimised {
		e.Clock++
		next.Front = e.Clock
	}
	if moved && !next.full() && !next.Wide && !next.Tall {
		next.Floated, next.Loose = next.Rect, geom.Rect{}
	}
	if on := stray.Look(next.Lost(), e.strays).On; on != 0 {
		next.Monitor = on
	}
	if next.Workspace == w.Workspace && next.Monitor == w.Monitor && next.Minimised == w.Minimised {
		*w = next
	} else {
		e.lift(w)
		floated := next.Floated
		*w = next
		e.lay(w, 0)
		w.Floated = floated
	}
	if now := e.Lost(w).Cause; moved && was == stray.None && now != stray.None && now != stray.Tiny {
		return fmt.Sprintf("%s is out of reach. rescue brings it back.", w.Label())
	}
	return ""
}

func (f StackingIs) apply(e *edit) string {
	at := make(map[int]int, len(f.IDs))
	for i, id := range f.IDs {
		at[id] = i + 1
	}
	order := func(a, b int) int { return cmp.Compare(at[a], at[b]) }
	for i := range e.Workspaces {
		for _, m := range e.Monitors {
			if s := e.Sheet(i, m.Letter); s != nil && !slices.IsSortedFunc(s.Floating, order) {
				s = e.sheet(i, m.Letter)
				slices.SortStableFunc(s.Floating, order)
			}
		}
	}
	return ""
}

func (f FocusIs) apply(e *edit) string {
	w := e.Window(f.ID)
	if w == nil || !e.Visible(w) {
		e.Focus = 0
		return ""
	}
	if e.Focus == f.ID {
		e.At = w.Monitor
		return ""
	}
	if was := e.window(e.Focus); was != nil {
		was.UsedAt = e.Now // up to now
	}
	w = e.window(f.ID)
	e.Clock++
	e.Focus, e.At, w.Used, w.UsedAt = f.ID, w.Monitor, e.Clock, e.Now
	return ""
}

func (f ManagerIs) apply(e *edit) string {
	e.Settings.Lacks = f.Lacks
	return f.Words
}

// monitorsSeen follows monitors that came, went or changed where another program places the
// windows. The windows stay where they are until they are seen elsewhere; where they lay on a
// monitor that went is noted.
func (e *edit) monitorsSeen(was []Monitor) string {
	words := ""
	for i := range was {
		old, now := &was[i], e.Monitor(was[i].Letter)
		if old.Connected && !now.Connected {
			n := e.strand(old, e.receiver(now))
			words += fmt.Sprintf(" Monitor %c was unplugged. %s it.", old.Letter, onIt(n))
		}
	}
	for i := range e.Monitors {
		m := &e.Monitors[i]
		if old := find(was, m.Letter); m.Connected && (old == nil || !old.Connected) {
			e.Shown[m.Letter-'A'] = e.Shown[e.At-'A']
			words += fmt.Sprintf(" Monitor %c is plugged in.", m.Letter)
			if n := len(e.awayFrom(m.Letter)); n > 0 {
				words += fmt.Sprintf(" back home brings %s there again.", windowsWord(n))
			}
		}
	}
	if !e.Connected(e.At) {
		e.At = e.first().Letter
	}
	e.rehome(false)
	e.reshow()
	for _, w := range e.Windows { // what has a pixel on one that came is there
		if on := stray.Look(w.Lost(), e.strays).On; on != 0 && on != w.Monitor {
			w = e.window(w.ID)
			e.lift(w)
			w.Monitor = on
			e.lay(w, 0)
		}
	}
	if words != "" {
		words = words[1:]
	}
	return words
}

func onIt(n int) string {
	switch n {
	case 0:
		return "No window was on"
	case 1:
		return "1 window was on"
	}
	return fmt.Sprintf("%d windows were on", n)
}

// strand gives the windows of a monitor that went to the sheets of another one, without
// moving them, and notes where they lay. It gives their number.
func (e *edit) strand(gone, to *Monitor) int {
	n := 0
	for _, w := range e.Windows {
		if w.Monitor != gone.Letter {
			continue
		}
		w = e.window(w.ID)
		e.lift(w)
		rect, floated := w.Rect, w.Floated
		w.takenFrom(gone, w.floatRect())
		w.Monitor = to.Letter
		e.lay(w, 0)
		w.Rect, w.Floated = rect, floated
		n++
	}
	for i := range e.Workspaces {
		e.workspace(i).sheets[gone.Letter-'A'] = nil
	}
	e.Shown[gone.Letter-'A'] = 0
	return n
}

// awayFrom lists the windows that lay on a monitor before it was unplugged, and are not
// on it now.
func (d *Desk) awayFrom(letter byte) (ids []int) {
	for _, w := range d.Windows {
		if w.absence(letter) >= 0 && w.Monitor != letter {
			ids = append(ids, w.ID)
		}
	}
	return ids
}

// back is the verb that brings windows back to where they lay before their monitor was
// unplugged. The keeper does so by itself.
func (e *edit) back(c Command) (string, error) {
	letters := []byte{}
	for _, m := range e.Monitors {
		if m.Connected && (len(c.Args) < 2 || c.Args[1].Letter == m.Letter) {
			letters = append(letters, m.Letter)
		}
	}
	if len(letters) == 0 {
		return "", e.noMonitor(c.Args[1].Letter)
	}
	var home []int
	for _, l := range letters {
		for _, id := range e.awayFrom(l) {
			w := e.window(id)
			if !e.Has(e.Index(w.Workspace), l) {
				continue
			}
			rect := e.relocated(w, l)
			e.lift(w)
			if !w.Minimised {
				w.Rect, w.Floated, w.Loose = rect, rect, geom.Rect{}
			}
			e.comesHome(w, l, true)
			e.lay(w, 0)
			home = append(home, id)
		}
	}
	if len(home) == 0 {
		return "Every window is home already.", nil
	}
	return fmt.Sprintf("%s %s home.", e.the(home), agree(home, "is", "are")), nil
}

// setRight has a window that is lost in a state in which it cannot be moved be as other
// windows are.
func (e *edit) setRight(id int) *Window {
	w := e.window(id)
	if w.full() && !w.Floated.Empty() {
		w.Rect = w.Floated
	}
	w.Maximised, w.Fullscreen, w.Wide, w.Tall = false, false, false, false
	e.restoreAll([]int{id})
	return e.window(id)
}

// placeable lists the windows of a sheet that a layout places, from left to right and
// from the top.
func (e *edit) placeable(i int, letter byte) []int {
	var ids []int
	for _, w := range e.Order(i, letter) {
		if !w.Fixed && w.Kind == Normal && w.Parent == 0 && !w.Sticky {
			ids = append(ids, w.ID)
		}
	}
	e.byPlace(ids)
	return ids
}

func (e *edit) byPlace(ids []int) {
	slices.SortStableFunc(ids, func(a, b int) int {
		x, y := e.Window(a).Rect, e.Window(b).Rect
		return cmp.Or(cmp.Compare(x.X, y.X), cmp.Compare(x.Y, y.Y), cmp.Compare(a, b))
	})
}

// placeOnce gives a window a place of its own.
func (e *edit) placeOnce(id int, r geom.Rect) {
	w := e.window(id)
	e.sheet(e.Index(w.Workspace), w.Monitor)
	w.Maximised, w.Fullscreen, w.Wide, w.Tall = false, false, false, false
	r = w.inTile(r)
	w.Rect, w.Floated, w.Away, w.Loose = r, r, nil, geom.Rect{}
}

// inTile is the place of a window that is put into a tile once. It is no smaller than the window
// may be, nor empty if the tile has no room.
func (w *Window) inTile(r geom.Rect) geom.Rect {
	if r.W, r.H = max(r.W, w.MinW), max(r.H, w.MinH); r.Empty() {
		r.W, r.H = max(r.W, Smallest), max(r.H, Smallest)
	}
	return r
}

// layOnce lays the windows of a sheet out, once.
func (e *edit) layOnce(c Command) (string, error) {
	i, letter, ids := e.shownOn(e.At), e.At, e.chosen
	if len(ids) > 0 {
		w := e.Window(ids[0])
		i, letter = e.Index(w.Workspace), w.Monitor
	}
	if i < 0 {
		return "", fmt.Errorf("monitor %c shows no workspace", letter)
	}
	if err := checkLeads(c); err != nil {
		return "", err
	}
	if len(ids) < 2 { // one window stands for its sheet
		ids = e.placeable(i, letter)
	}
	for _, id := range ids {
		if w := e.Window(id); w.Minimised || w.Fixed {
			return "", fmt.Errorf("%s is minimised, or has one size", w.Label())
		}
	}
	k, ok := layout.ParseKind(c.Args[0].Word)
	switch {
	case !ok:
		k = layout.Columns
	case k == layout.Free:
		return "", errors.New("every sheet is free already: another program manages the windows")
	}
	if len(ids) == 0 {
		return "", fmt.Errorf("sheet %s has no window to lay out", SheetRef(i, letter))
	}
	leads := 1
	if len(c.Args) > 1 {
		leads = c.Args[1].N
	}
	room := e.Monitor(letter).Work.Inset(e.Settings.Gap)
	if k == layout.Piled || k == layout.Tabbed {
		for _, id := range ids {
			e.placeOnce(id, room)
		}
	} else {
		layout.Place(onceTree(k, ids, leads), room, layout.Spacing{Gap: e.Settings.Gap}, e.placeOnce)
	}
	return fmt.Sprintf("%s on %s: laid out as %s, not kept so.", e.the(ids), SheetRef(i, letter), k), nil
}

// onceTree is the tree by which a layout places windows: one that is a tree halves the
// longer side for each.
func onceTree(k layout.Kind, ids []int, leads int) *layout.Node {
	if k != layout.Tree {
		return layout.Of(k, ids, layout.DefaultShare, leads)
	}
	var n *layout.Node
	halved := [...]layout.Split{layout.Down, layout.Across}
	for i, id := range ids {
		at := ids[max(i-1, 0)]
		n = layout.InsertAt(n, at, id, func() layout.Split { return halved[i%2] })
	}
	return n
}

// swapOnce has two windows change places.
func (e *edit) swapOnce(c Command) (string, error) {
	w, err := e.oneOnSheet()
	if err != nil {
		return "", err
	}
	o, err := e.besideOnce(w, c.Args[0].Word)
	if err != nil {
		return "", err
	}
	a, b := w.Rect, o.Rect
	e.placeOnce(w.ID, b)
	e.placeOnce(o.ID, a)
	return fmt.Sprintf("%s and %s changed places.", w.Label(), o.Name()), nil
}

// oneOnSheet is the one window chosen, which must have a place of its own.
func (e *edit) oneOnSheet() (*Window, error) {
	ids, err := e.movable()
	switch {
	case err != nil:
		return nil, err
	case len(ids) > 1:
		return nil, errors.New("one window at a time")
	}
	return e.Window(ids[0]), nil
}

// besideOnce is the window of the same sheet that a word of a direction or of the order
// means.
func (e *edit) besideOnce(w *Window, word string) (*Window, error) {
	ids := slices.DeleteFunc(e.placeable(e.Index(w.Workspace), w.Monitor), func(id int) bool { return e.Window(id).full() })
	if dir, ok := ParseDir(word); ok {
		var near []*Window
		for _, id := range ids {
			if o := e.Window(id); id != w.ID && beyond(w.Rect, o.Rect, dir) {
				near = append(near, o)
			}
		}
		if len(near) == 0 {
			return nil, fmt.Errorf("there is no window %s %s", dir.beside(), w.Label())
		}
		return slices.MinFunc(near, byNearness(w.Rect, dir)), nil
	}
	at := slices.Index(ids, w.ID)
	if len(ids) < 2 || at < 0 {
		return nil, fmt.Errorf("%s is alone on its sheet", w.Label())
	}
	step := 1
	if word == "prev" {
		step = len(ids) - 1
	}
	return e.Window(ids[(at+step)%len(ids)]), nil
}

// touch is how far apart edges may lie that count as touching, in pixels besides the gap.
const touch = 4

// touching lists the windows of a sheet whose edge touches that of another in a direction.
func (e *edit) touching(w *Window, dir Dir) []int {
	var ids []int
	for _, id := range e.placeable(e.Index(w.Workspace), w.Monitor) {
		o := e.Window(id)
		if id != w.ID && e.onSheet(o) && level(w.Rect, o.Rect, dir) && abs(near(o.Rect, dir)-far(w.Rect, dir)) <= e.Settings.Gap+touch {
			ids = append(ids, id)
		}
	}
	return ids
}

// rowOf is the windows that stand in one row with a window, each touching the next, in
// their order; down tells whether it is a column.
func (e *edit) rowOf(w *Window, down bool) []int {
	row := []int{w.ID}
	dirs := []Dir{Left, Right}
	if down {
		dirs = []Dir{Up, Down}
	}
	for _, dir := range dirs {
		for at := w; ; {
			next := e.touching(at, dir)
			if len(next) != 1 || slices.Contains(row, next[0]) {
				break
			}
			row, at = append(row, next[0]), e.Window(next[0])
		}
	}
	slices.SortFunc(row, func(a, b int) int {
		if down {
			return cmp.Compare(e.Window(a).Rect.Y, e.Window(b).Rect.Y)
		}
		return cmp.Compare(e.Window(a).Rect.X, e.Window(b).Rect.X)
	})
	return row
}

// evenOnce makes the windows equal that stand in a row or in a column.
func (e *edit) evenOnce(Command) (string, error) {
	w, err := e.oneOnSheet()
	if err != nil {
		return "", err
	}
	split, row := layout.Across, e.rowOf(w, false)
	if len(row) < 2 {
		split, row = layout.Down, e.rowOf(w, true)
	}
	if len(row) < 2 {
		return "", fmt.Errorf("no window touches %s to be even with", w.Label())
	}
	var rects []geom.Rect
	for _, id := range row {
		rects = append(rects, e.Window(id).Rect)
	}
	layout.Place(layout.Flat(split, row), geom.Bound(rects...), layout.Spacing{Gap: e.Settings.Gap}, e.placeOnce)
	return fmt.Sprintf("%s are even.", windowsWord(len(row))), nil
}

// shareOnce moves the edge that a window shares with others.
func (e *edit) shareOnce(c Command) (string, error) {
	w, err := e.oneOnSheet()
	if err != nil {
		return "", err
	}
	work := e.Monitor(w.Monitor).Work
	for _, dir := range []Dir{Right, Left, Down, Up} {
		others := e.touching(w, dir)
		if len(others) == 0 {
			continue
		}
		length, least := work.W, func(o *Window) int { return o.Rect.W - max(o.MinW, Smallest) }
		if dir == Up || dir == Down {
			length, least = work.H, func(o *Window) int { return o.Rect.H - max(o.MinH, Smallest) }
		}
		px := max(c.Args[0].N*length/100, -max(least(w), 0))
		for _, id := range others {
			px = min(px, max(least(e.Window(id)), 0))
		}
		if px == 0 {
			return "", fmt.Errorf("there is no pixel to spare %s %s", dir.beside(), w.Label())
		}
		e.placeOnce(w.ID, moved(w.Rect, dir, px))
		for _, id := range others {
			e.placeOnce(id, moved(e.Window(id).Rect, dir.opposite(), -px))
		}
		return fmt.Sprintf("%s: %d×%d.", w.Label(), e.Window(w.ID).Rect.W, e.Window(w.ID).Rect.H), nil
	}
	return "", fmt.Errorf("%s has no neighbour to share an edge with", w.Label())
}
