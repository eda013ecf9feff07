package desk

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zatlas/internal/assign"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// What a pair of a place and a window costs, as Plate says.
const (
	alikeRole    = 100
	alikeTitle   = 100
	alikePattern = 90
	alikeWords   = 80
	toMinimise   = 1_000_000
)

// laying is a plate that is laid on a desk.
type laying struct {
	*edit
	plate    *Plate
	monitors map[byte]byte    // of the plate, as those of the desk
	spaces   []int            // of the plate by index, as ids of the desk
	sheets   map[int]sheetKey // by place: where it is on the desk
	from     map[int]*Monitor // by place: where it is on the plate
	given    map[int]int      // the window of each place that has one
	awaits   bool             // what is missing is started
	alike    map[[2]int]int   // by place and window, as far as it is worked out
}

// layTarget is where a plate is to be laid, and whether what is missing is to be started.
func (e *edit) layTarget(p *Plate, args []Arg) (to place, starting bool, err error) {
	to = place{e.Current(), e.At}
	for i := 0; i < len(args); i++ {
		if args[i].Word == "starting" && args[i].Kind == Keyword {
			starting = true
			continue
		}
		i++ // the place after "on"
		if to, err = e.resolve(args[i], e.Current()); err != nil {
			return to, false, err
		}
		switch {
		case p.Size == OfDesk:
			return to, false, errors.New("a desk's plate is laid on the whole desk: leave out on")
		case p.Size == OfWorkspace && to.letter != 0:
			return to, false, errors.New("a workspace's plate is laid on a workspace: name one by its number")
		}
	}
	if to.workspace < 0 {
		to.workspace = e.shownOn(to.letter)
	}
	if p.Size == OfDesk {
		return to, starting, nil
	}
	if to.workspace < 0 || e.shownOn(e.At) < 0 && len(args) == 0 {
		return to, false, fmt.Errorf("monitor %c shows no workspace", cmp.Or(to.letter, e.At))
	}
	if to.letter == 0 {
		to.letter = e.fitting(to.workspace, e.At)
	}
	if p.Size == OfSheet {
		err = e.atHome(to)
	}
	return to, starting, err
}

// layPlate lays a plate. What it replaces is kept as a plate too.
func (e *edit) layPlate(p *Plate, args []Arg) (string, error) {
	to, starting, err := e.layTarget(p, args)
	if err != nil {
		return "", err
	}
	from := *e.finish()
	next, l, err := from.laidBy(p, to, starting)
	if err != nil {
		return "", err
	}
	words := l.words(&from, next)
	if starting {
		e.starts = l.missing(from.Now)
	}
	if from.same(next) {
		if len(e.starts) > 0 {
			e.keepAll(next)
		}
		return words, nil
	}
	back, err := from.places(OfDesk, true)
	if err != nil {
		return "", err
	}
	e.touches = from.Differs(next)
	e.keepAll(next)
	old := from.Plates[BackPlate]
	kept := &Plate{Name: BackPlate, Size: OfDesk, Same: true, As: back}
	if old != nil {
		kept.Letter = old.Letter
	}
	e.setPlate(BackPlate, kept)
	return words, nil
}

// keepAll has the desk be another one, of which nothing is this edit's own.
func (e *edit) keepAll(next *Desk) {
	*e.Desk = *next
	e.ownNothing()
}

// maxTurns is how often windows are given their places at most: each time by how they lie
// after the time before, until none has another. Without that a plate of which some places
// stay empty might give a window another place the second time.
const maxTurns = 6

// laidBy is the desk with a plate laid on it.
func (d *Desk) laidBy(p *Plate, to place, starting bool) (next *Desk, l *laying, err error) {
	next = d
	var given map[int]int
	alike := map[[2]int]int{}
	for range maxTurns {
		if l, err = next.layingOf(p, to); err != nil {
			return nil, nil, err
		}
		l.alike = alike
		now := l.give()
		if given != nil && maps.Equal(now, given) {
			break
		}
		given = now
		if l, err = d.layingOf(p, to); err != nil {
			return nil, nil, err
		}
		l.given, l.awaits = given, starting
		l.putAll()
		next = l.finish()
	}
	l.given, l.awaits = given, starting
	return next, l, nil
}

// layingOf makes the workspaces of a plate be there, and finds where its places are.
func (d *Desk) layingOf(p *Plate, to place) (*laying, error) {
	l := &laying{edit: d.edit(), plate: p, monitors: d.monitorsFor(p.As.Monitors), sheets: map[int]sheetKey{}, from: map[int]*Monitor{}}
	switch p.Size {
	case OfDesk:
		if err := l.arrange(); err != nil {
			return nil, err
		}
	case OfSheet:
		l.monitors = map[byte]byte{p.As.Monitors[0].Letter: to.letter}
		fallthrough
	default:
		l.spaces = []int{l.Workspaces[to.workspace].ID}
	}
	for _, w := range p.As.Windows {
		i := l.Index(l.spaces[p.As.Index(w.Workspace)])
		l.sheets[w.ID] = sheetKey{l.Workspaces[i].ID, l.fitting(i, l.monitors[w.Monitor])}
		l.from[w.ID] = p.As.Monitor(w.Monitor)
	}
	return l, nil
}

// arrange puts the workspaces of a desk's plate first, in its order, and makes those that
// are missing. The k-th without a name is the k-th without one.
func (l *laying) arrange() error {
	as := l.plate.As
	if !l.Settings.Alongside {
		l.Settings.Growing = as.Settings.Growing
		l.setSeparate(as.Settings.Separate)
	}
	var unnamed []int
	for _, ws := range l.Workspaces {
		if ws.Name == "" {
			unnamed = append(unnamed, ws.ID)
		}
	}
	for _, ws := range as.Workspaces {
		id := 0
		if i := l.named(ws.Name); ws.Name != "" && i >= 0 && !slices.Contains(l.spaces, l.Workspaces[i].ID) {
			id = l.Workspaces[i].ID
		} else if ws.Name == "" && len(unnamed) > 0 {
			id, unnamed = unnamed[0], unnamed[1:]
		}
		if id == 0 && l.Settings.Alongside {
			return fmt.Errorf("there is no workspace for %s of the plate %s: add makes one", cmp.Or(ws.Name, "one without a name"), l.plate.Name)
		} else if id == 0 {
			i, err := l.newWorkspace(ws.Name, len(l.Workspaces))
			if err != nil {
				return err
			}
			id = l.Workspaces[i].ID
		}
		l.spaces = append(l.spaces, id)
	}
	if l.Settings.Alongside {
		return nil // the order is the other manager's
	}
	rank := func(ws *Workspace) int {
		if i := slices.Index(l.spaces, ws.ID); i >= 0 {
			return i
		}
		return len(l.spaces)
	}
	slices.SortStableFunc(l.Workspaces, func(a, b *Workspace) int { return rank(a) - rank(b) })
	for i, ws := range as.Workspaces {
		if home := l.monitors[ws.Home]; home != 0 && l.Workspaces[i].Home != home {
			l.workspace(i).Home = home
		}
	}
	if l.Settings.Separate {
		l.rehome(false)
	}
	l.reshow()
	return nil
}

// rect is where a place lies for a window: never out of reach.
func (l *laying) rect(place, w *Window) geom.Rect {
	to := l.Monitor(l.sheets[place.ID].letter)
	r := place.floatRect()
	if w.Fixed {
		r.W, r.H = w.Rect.W, w.Rect.H
	}
	lost := w.Lost()
	if lost.Rect = (Absence{Floated: r, Work: l.from[place.ID].Work}).on(w, to.Work); lost.Rect.Empty() {
		lost.Rect = defaultPlace(w, to.Work)
	}
	if f := stray.Look(lost, l.strays); f.Cause != stray.None && f.Cause != stray.Tiny {
		return stray.Into(lost, to.Work)
	}
	return lost.Rect
}

// fits tells whether a place may get a window.
func (l *laying) fits(place, w *Window) bool {
	switch {
	case l.plate.Same && place.ID != w.ID:
		return false
	case l.plate.Size == OfSheet && !l.plate.Gather && w.Workspace != l.sheets[place.ID].workspace:
		return false
	}
	return strings.EqualFold(place.App, w.App) || w.Class != "" && strings.EqualFold(place.App, w.Class) || place.Class != "" && strings.EqualFold(place.Class, cmp.Or(w.Class, w.App))
}

// give finds the window of each place that gets one.
func (l *laying) give() map[int]int {
	recency := map[int]int{}
	for i, w := range l.Latest() {
		recency[w.ID] = i
	}
	given := map[int]int{}
	for _, g := range l.groups() {
		cost := func(place, w *Window) assign.Cost {
			return assign.Cost{0, -l.alikeness(place, w), l.apart(place, w), recency[w.ID], l.movement(place, w)}
		}
		if l.giveTitled(g, given) {
			continue
		}
		if len(g.places)*len(g.windows) > maxPairs {
			l.giveMany(g, given, cost)
			continue
		}
		to := assign.Least(len(g.places), len(g.windows)+l.spare(g), func(i, j int) assign.Cost {
			switch {
			case j >= len(g.windows):
				return assign.Cost{1}
			case !l.fits(g.places[i], g.windows[j]):
				return assign.Cost{2} // more than none at all
			}
			return cost(g.places[i], g.windows[j])
		})
		for i, j := range to {
			if j < len(g.windows) {
				given[g.places[i].ID] = g.windows[j].ID
			}
		}
	}
	return given
}

// giveTitled gives every place the one window of its title and role. It does so only where each
// place has one: no other window could be as like, so that nothing has to be weighed.
func (l *laying) giveTitled(g *group, given map[int]int) bool {
	titled := map[string]*Window{} // nil for several
	for _, w := range g.windows {
		if _, several := titled[w.Title]; several {
			titled[w.Title] = nil
		} else {
			titled[w.Title] = w
		}
	}
	all := map[int]int{}
	for _, p := range g.places {
		w := titled[p.Title]
		if p.Title == "" || w == nil || p.Role != "" && p.Role != w.Role || !l.fits(p, w) {
			return false
		}
		titled[p.Title] = nil
		all[p.ID] = w.ID
	}
	maps.Copy(given, all)
	return true
}

// spare is how many places of a group may have to stay empty: as many as windows are missing,
// and each that not every window fits.
func (l *laying) spare(g *group) int {
	n := max(0, len(g.places)-len(g.windows))
	for _, p := range g.places {
		if slices.ContainsFunc(g.windows, func(w *Window) bool { return !l.fits(p, w) }) {
			n++
		}
	}
	return min(n, len(g.places))
}

// maxPairs bounds the places and windows of one app of which the least cost is found: 200 of
// each. Of more it would take too long.
const maxPairs = 200 * 200

// giveMany gives places windows where there are very many of one app. Equal titles come first;
// then each place, in order, takes what costs it least.
func (l *laying) giveMany(g *group, given map[int]int, cost func(place, w *Window) assign.Cost) {
	titled := map[string][]*Window{}
	for _, w := range g.windows {
		titled[w.Title] = append(titled[w.Title], w)
	}
	taken := map[int]bool{}
	for _, p := range g.places {
		for i, w := range titled[p.Title] {
			if p.Title != "" && l.fits(p, w) {
				given[p.ID], taken[w.ID] = w.ID, true
				titled[p.Title] = slices.Delete(titled[p.Title], i, i+1)
				break
			}
		}
	}
	left := slices.DeleteFunc(slices.Clone(g.windows), func(w *Window) bool { return taken[w.ID] })
	for _, p := range g.places {
		if _, done := given[p.ID]; done {
			continue
		}
		best, least := -1, assign.Cost{}
		for i, w := range left {
			if l.fits(p, w) {
				if c := cost(p, w); best < 0 || slices.Compare(c[:], least[:]) < 0 {
					best, least = i, c
				}
			}
		}
		if best >= 0 {
			given[p.ID] = left[best].ID
			left = slices.Delete(left, best, best+1)
		}
	}
}

// group is places and the windows that may get them, and no other places.
type group struct{ places, windows []*Window }

// groups parts places and windows by the apps, so that none of a group can be given to
// one of another.
func (l *laying) groups() []*group {
	root := map[string]string{} // of each name of an app: another one of its group, itself at last
	find := func(name string) string {
		for root[name] != name {
			name = root[name]
		}
		return name
	}
	join := func(a, b string) {
		for _, name := range []string{a, b} {
			if _, known := root[name]; !known {
				root[name] = name
			}
		}
		root[find(a)] = find(b)
	}
	names := func(w *Window) (app, class string) {
		return strings.ToLower(w.App), strings.ToLower(cmp.Or(w.Class, w.App))
	}
	for _, w := range slices.Concat(l.plate.As.Windows, l.Windows) {
		join(names(w))
	}
	of := map[string]*group{}
	var all []*group
	for _, p := range l.plate.As.Windows {
		app, _ := names(p)
		if l.plate.Same { // no other window is asked for
			if w := l.Window(p.ID); w != nil && w.placed() && l.fits(p, w) {
				all = append(all, &group{[]*Window{p}, []*Window{w}})
			}
			continue
		}
		g := of[find(app)]
		if g == nil {
			g = &group{}
			of[find(app)] = g
			all = append(all, g)
		}
		g.places = append(g.places, p)
	}
	for _, w := range l.Windows {
		app, _ := names(w)
		if g := of[find(app)]; g != nil && w.placed() {
			g.windows = append(g.windows, w)
		}
	}
	return all
}

// alikeness is how much of a place a window is like, besides its app.
func (l *laying) alikeness(place, w *Window) int {
	key := [2]int{place.ID, w.ID}
	if n, known := l.alike[key]; known {
		return n
	}
	n := 0
	if place.Role != "" && place.Role == w.Role {
		n += alikeRole
	}
	switch {
	case place.Title == "":
	case place.Title == w.Title:
		n += alikeTitle
	case like(strings.ToLower(place.Title), strings.ToLower(w.Title)):
		n += alikePattern
	default:
		n += alikeWords * sameWords(w.Title, place.Title) / 100
	}
	l.alike[key] = n
	return n
}

// like tells whether a text is as a pattern has it, in which * stands for anything.
func like(pattern, text string) bool {
	parts := strings.Split(pattern, "*")
	if len(parts) == 1 {
		return pattern == text
	}
	first, last := parts[0], parts[len(parts)-1]
	if !strings.HasPrefix(text, first) || len(text) < len(first)+len(last) || !strings.HasSuffix(text, last) {
		return false
	}
	text = text[len(first) : len(text)-len(last)]
	for _, part := range parts[1 : len(parts)-1] {
		i := strings.Index(text, part)
		if i < 0 {
			return false
		}
		text = text[i+len(part):]
	}
	return true
}

// apart is how far a window's sheet is from that of a place.
func (l *laying) apart(place, w *Window) int {
	switch at := l.sheets[place.ID]; {
	case at == sheetKey{w.Workspace, w.Monitor}:
		return 0
	case at.workspace == w.Workspace:
		return 1
	}
	return 2
}

// movement is by how many pixels the edges of a window would move to a place.
func (l *laying) movement(place, w *Window) int {
	n := 0
	if place.Minimised != w.Minimised {
		n = toMinimise
	}
	a, b := w.Rect, l.rect(place, w)
	return n + abs(a.X-b.X) + abs(a.Y-b.Y) + abs(a.Right()-b.Right()) + abs(a.Bottom()-b.Bottom())
}

// putAll puts the windows into their places. Those without one stay: where their sheet is
// laid they come last among its tiles, and over the others that float.
func (l *laying) putAll() {
	took := map[int]sheetKey{} // where the windows were
	for _, p := range l.plate.As.Windows {
		if id, ok := l.given[p.ID]; ok {
			w := l.window(id)
			l.lift(w)
			took[id] = sheetKey{w.Workspace, w.Monitor}
			l.settle(p, w)
		}
	}
	var keys []sheetKey
	joined := map[sheetKey][]*Sheet{}
	for i, id := range l.spaces {
		for _, m := range byRank(l.plate.As.Monitors) {
			if s := l.plate.As.Sheet(i, m.Letter); s != nil {
				key := sheetKey{id, l.fitting(l.Index(id), l.monitors[m.Letter])}
				if joined[key] == nil {
					keys = append(keys, key)
				}
				joined[key] = append(joined[key], s)
			}
		}
	}
	for _, key := range keys {
		l.laySheet(key, joined[key])
	}
	l.sortOut()
	l.focusFront()
	if w := l.Window(l.Focus); w != nil && l.Visible(w) {
		l.raise(w)
	}
	dialogs := l.families()
	for _, p := range l.plate.As.Windows {
		id, ok := l.given[p.ID]
		if key := l.sheets[p.ID]; ok && took[id] != key {
			for _, child := range dialogs[id] {
				l.put(child, l.Index(key.workspace), key.letter)
			}
		}
	}
}

// settle gives a window all that a place says but its rectangle among tiles.
func (l *laying) settle(p, w *Window) {
	r, was := l.rect(p, w), *w
	key := l.sheets[p.ID]
	w.Workspace, w.Monitor, w.Away, w.Seat, w.Loose = key.workspace, key.letter, nil, nil, geom.Rect{}
	if w.Minimised, w.Sticky = p.Minimised, p.Sticky; !w.MustFloat() {
		w.Floating = p.Floating
	}
	w.Maximised, w.Wide, w.Tall, w.Fullscreen = p.Maximised && !w.Fixed, p.Wide && !w.Fixed, p.Tall && !w.Fixed, p.Fullscreen
	w.Above, w.Below = p.Above, p.Below
	if l.plate.As.Covers(p) && !was.full() {
		l.Clock++
		w.Front = l.Clock
	}
	if w.Rect = r; w.floats() || w.full() || w.Minimised || l.plate.As.Sheet(l.plate.As.Index(p.Workspace), p.Monitor).Layout == layout.Free {
		if w.Floated = r; was.Floated.Empty() && was.Rect == r && !w.full() && !w.Wide && !w.Tall {
			w.Floated = was.Floated // which says as much
		}
	}
	// Where it was there already, it keeps what it remembers.
	if c := was; samePlace(&c, w) || l.base.Tiled(&was) && w.Floated == was.Floated {
		c.Rect, c.Away, c.Seat, c.Loose = w.Rect, w.Away, w.Seat, w.Loose
		if sameWindow(&c, w) {
			w.Away, w.Seat, w.Loose = was.Away, was.Seat, was.Loose
		}
	}
}

// laySheet lays a sheet as the plate has it. Where several sheets of the plate share it, the
// first is laid as it is, and the tiles of the others come after its own.
func (l *laying) laySheet(key sheetKey, plates []*Sheet) {
	first := plates[0]
	s := l.sheet(l.Index(key.workspace), key.letter)
	stay := *s
	stayTiles := stay.Tiles.Windows()
	var full *layout.Node // with the places that have no window, by their numbers below 0
	var floating []int
	for n, as := range plates {
		tree := layout.Remove(as.Tiles, func(place int) bool {
			id, ok := l.given[place]
			return ok && l.Window(id).floats() || l.plate.As.Window(place).floats()
		})
		tree = layout.Map(tree, l.tile)
		if n == 0 {
			full = tree
		}
		for _, id := range tree.Windows() {
			if n > 0 {
				full = layout.AppendTo(full, id)
			}
		}
		floating = append(floating, l.floating(as, first.Layout)...)
	}
	for _, id := range stayTiles {
		full = layout.AppendTo(full, id)
	}
	if full != nil && s.Layout == layout.Free { // of which some may have come to float
		full = layout.Remove(full, func(id int) bool { return id > 0 && l.Window(id).floats() })
	}
	s.Layout, s.Share, s.Leads, s.NoGaps, s.Next, s.Kept, s.Before = first.Layout, first.Share, first.Leads, first.NoGaps, layout.Leaf, nil, nil
	if l.Settings.Alongside {
		s.Layout = layout.Free
		l.placeTiles(key, layout.Only(full, slices.DeleteFunc(full.Windows(), func(id int) bool { return id < 0 || slices.Contains(stayTiles, id) })))
	}
	s.setTiles(layout.Remove(full, func(id int) bool { return id < 0 }))
	if l.awaits && full != nil {
		s.Before = full
	}
	tiles := s.Tiles.Windows()
	for _, id := range stay.Floating {
		if s.Layout == layout.Free || l.Window(id).floats() {
			floating = append(floating, id)
		}
	}
	if s.Layout == layout.Free {
		for _, id := range tiles {
			if !slices.Contains(floating, id) {
				floating = append(floating, id)
			}
		}
	}
	s.Floating = floating
	if !l.awaits {
		l.remember(key, s, stay)
	}
}

// remember has a sheet that is as it was already keep what it remembers. Stay is the sheet
// before, without what was laid on it.
func (l *laying) remember(key sheetKey, s *Sheet, stay Sheet) {
	c := stay
	c.Tiles, c.Floating, c.Kept, c.Before, c.Next = s.Tiles, s.Floating, s.Kept, s.Before, s.Next
	at := l.base.Index(key.workspace)
	if at < 0 {
		return
	}
	if was := l.base.Sheet(at, key.letter); was != nil && l.sameSheet(l.base, s, &c) && layout.Equal(was.Tiles, s.Tiles) {
		s.Kept, s.Before, s.Next = was.Kept, was.Before, was.Next
	}
}

// tile is the window that has a place among tiles, else the place's number below 0.
func (l *laying) tile(place int) int {
	if id, ok := l.given[place]; ok {
		return id
	}
	return -place
}

// floating lists the windows that float by a sheet of the plate, from below, and those
// that cannot be tiles where it has them so.
func (l *laying) floating(as *Sheet, kind layout.Kind) (ids []int) {
	for _, place := range slices.Concat(as.Floating, as.Tiles.Windows()) {
		id, ok := l.given[place]
		if ok && !slices.Contains(ids, id) && (kind == layout.Free || l.Settings.Alongside || l.Window(id).floats()) {
			ids = append(ids, id)
		}
	}
	return ids
}

// placeTiles places windows once, where another program manages them.
func (l *laying) placeTiles(key sheetKey, tiles *layout.Node) {
	layout.Place(tiles, l.Monitor(key.letter).Work.Inset(l.Settings.Gap), layout.Spacing{Gap: l.Settings.Gap, Header: l.Monitor(key.letter).Header}, func(id int, r geom.Rect) {
		w := l.window(id)
		r = w.inTile(r)
		if w.Floated = r; !w.full() {
			w.Rect = r
		}
	})
}

// empty lists the places that have no window.
func (l *laying) empty() (places []*Window) {
	for _, p := range l.plate.As.Windows {
		if _, ok := l.given[p.ID]; !ok {
			places = append(places, p)
		}
	}
	return places
}

// without lists the windows that have no place, of those that the plate is about.
func (l *laying) without() (ws []*Window) {
	has := map[int]bool{}
	for _, id := range l.given {
		has[id] = true
	}
	for _, w := range l.Windows {
		about := l.plate.Size == OfDesk || slices.Contains(l.spaces, w.Workspace)
		if l.plate.Size == OfSheet {
			for _, letter := range l.monitors {
				about = about && w.Monitor == letter
			}
		}
		if about && !has[w.ID] && w.placed() {
			ws = append(ws, w)
		}
	}
	return ws
}

// words say what laying it has done.
func (l *laying) words(from, next *Desk) string {
	moved := "everything is in place already"
	if n := len(from.Differs(next)); n > 0 {
		moved = windowsWord(n) + " moved"
	} else if !from.same(next) {
		moved = "no window moved"
	}
	words := fmt.Sprintf("Laid %s: %s.", l.plate.Name, moved)
	if empty := l.empty(); len(empty) > 0 && !l.plate.Same {
		var apps []string
		for _, p := range empty {
			if !slices.Contains(apps, p.App) {
				apps = append(apps, p.App)
			}
		}
		if more := len(apps) - 3; more > 0 {
			apps = append(apps[:3], fmt.Sprintf("%d more", more))
		}
		if l.awaits {
			words += fmt.Sprintf(" Starting %s.", strings.Join(apps, ", "))
		} else {
			words += fmt.Sprintf(" No window for %s of %s.", Counted(len(empty), "place"), strings.Join(apps, ", "))
		}
	}
	if n := len(l.without()); n > 0 {
		words += fmt.Sprintf(" %s without a place.", windowsWord(n))
	}
	return words
}

// maxStarting is for how many seconds a place waits for the window of an app that was
// started for it.
const maxStarting = 120

// missing are the apps to be started for the places that have no window.
func (l *laying) missing(now int64) (starts []Start) {
	for _, p := range l.empty() {
		if key := l.sheets[p.ID]; p.App != "" {
			w := *p
			w.Rect = l.rect(p, &w)
			w.Monitor = key.letter
			starts = append(starts, Start{App: p.App, Workspace: key.workspace, Monitor: key.letter, Asked: true, For: &Seating{w, now + maxStarting}})
		}
	}
	return starts
}

// Seating is the place of a plate that the first window of an app gets which was started
// for it, until a time in seconds since 1970. It is never written.
type Seating struct {
	place Window // with its rectangle as of the desk
	until int64
}

// claim gives a window that opens what the place says that its app was started for.
func (s *Seating) claim(w *Window) {
	p := s.place
	w.Floating, w.Minimised, w.Sticky, w.Above, w.Below = p.Floating && !p.Sticky, p.Minimised, p.Sticky, p.Above, p.Below
	if p.Rect.W, p.Rect.H = max(p.Rect.W, w.MinW), max(p.Rect.H, w.MinH); w.Fixed {
		p.Rect.W, p.Rect.H = w.Rect.W, w.Rect.H
	} else {
		w.Maximised, w.Wide, w.Tall = p.Maximised, p.Wide, p.Tall
	}
	w.Fullscreen, w.Rect, w.Floated = p.Fullscreen, p.Rect, p.Rect
}

// seat tiles a window that opens at the place it was started for, as long as the others of the
// sheet stand as they were laid.
func (e *edit) seat(w *Window) {
	i := e.Index(w.Workspace)
	s := e.Sheet(i, w.Monitor)
	free := -e.seating.place.ID
	if s == nil || s.Layout == layout.Free || w.floats() || !slices.Contains(s.Before.Windows(), free) {
		return
	}
	e.sheet(i, w.Monitor).Before = layout.Map(s.Before, func(id int) int {
		if id == free {
			return w.ID
		}
		return id
	})
	w.Seat = &Seat{Workspace: w.Workspace, Monitor: w.Monitor}
}

// Fitting is what laying a plate comes to.
type Fitting struct {
	Moved   []*Window // that would lie elsewhere, as they would lie
	Empty   []*Window // the places without a window
	Without []*Window // the windows without a place, of those it is about
}

// Fit tells what laying a plate on the desk, or on the current workspace or sheet, comes to,
// and what the desk would be.
func (d *Desk) Fit(p *Plate) (f Fitting, next *Desk, err error) {
	to, _, err := d.edit().layTarget(p, nil)
	if err != nil {
		return f, nil, err
	}
	next, l, err := d.laidBy(p, to, false)
	if err != nil {
		return f, nil, err
	}
	for _, id := range d.Differs(next) {
		f.Moved = append(f.Moved, next.Window(id))
	}
	f.Empty, f.Without = l.empty(), l.without()
	return f, next, nil
}
