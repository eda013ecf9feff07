// Package scene reads and writes a desk as a JSON file. Reading is strict and
// names the place of a fault; writing is stable, and what was written is read
// back as an equal desk. docs/scene.schema.json describes the format.
package scene

import (
	"bytes"
	"fmt"
	"io"
	"slices"

	"github.com/tidwall/gjson"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Format is the first key of every scene.
const Format = "zealous-atlas/scene/1"

// The largest numbers a scene may hold.
const (
	maxPlace = 1_000_000     // pixels from the origin, and of a side
	maxID    = 1<<53 - 1     // exact in every reader of JSON
	maxGap   = 500           // pixels
	maxShare = 1_000_000_000 // the weight of a tile
)

// ReadFile reads a scene from a file.
func ReadFile(name string) (*desk.Desk, error) {
	data, err := file.Read(name, file.MaxScene)
	if err != nil {
		return nil, err
	}
	d, err := Read(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	return d, nil
}

// Read reads a scene.
func Read(in io.Reader) (*desk.Desk, error) {
	root, err := parse(in)
	if err != nil {
		return nil, err
	}
	s := &sceneReader{r: root.r}
	s.there = func(id int) bool { return s.windows[id] != nil }
	d := s.scene(root)
	if root.r.err != nil {
		return nil, root.r.err
	}
	return d, nil
}

// sceneReader gathers a scene before the desk is built from it: sheets name
// windows that stand further down in the file.
type sceneReader struct {
	r       *reader
	b       *desk.Builder
	letters map[byte]bool // connected, by letter; present for every known one
	windows map[int]*windowRead
	order   []int
	there   func(id int) bool // whether there is a window

	separate bool
}

// listing is a place of a list that names a window; none of a window on no list.
type listing struct {
	list node
	at   int
}

func (l listing) none() bool { return l.list.r == nil }

func (l listing) String() string {
	if l.at < 0 {
		return l.list.path()
	}
	return fmt.Sprintf("%s[%d]", l.list.path(), l.at)
}

// windowRead is a window and where the sheets have put it so far.
type windowRead struct {
	desk.Window
	node   node
	listed listing // where a list names it
	tiled  bool
	placed bool // names its rectangle
}

func (s *sceneReader) scene(root node) *desk.Desk {
	if got := root.at("format").text(""); got != Format {
		s.r.fail("format", "this must be %q, not %q", Format, got)
		return nil
	}
	set := s.settings(root.at("settings"))
	s.separate = set.Separate
	s.b = desk.NewBuilder(set)
	s.b.Monitors(s.monitors(root.at("monitors")))
	if err := s.b.Err(); err != nil {
		s.r.fail("monitors", "%v", err)
		return nil
	}
	for l := range s.letters {
		s.letters[l] = s.b.Connected(l)
	}
	s.windowList(root.at("windows"))
	workspaces := root.at("workspaces").list()
	if len(workspaces) == 0 || len(workspaces) > desk.MaxWorkspaces {
		s.r.fail("workspaces", "there must be 1 to %d of them", desk.MaxWorkspaces)
	}
	if s.r.err != nil {
		return nil
	}
	ids := s.workspaces(workspaces)
	if s.r.err != nil {
		return nil
	}
	shown, at := s.shownBy(root.at("shown"), len(ids)), s.letter(root.at("at"))
	focus := root.at("focus").int(0, 0, maxID)
	var recent []int
	for _, n := range root.at("recent").list() {
		if i := n.int(1, 1, len(ids)); s.r.err == nil {
			recent = append(recent, ids[i-1])
		}
	}
	s.b.Clock(root.at("clock").int(0, 0, maxID))
	s.b.LastID(root.at("lastWorkspace").int(0, 0, maxID))
	bare, bareClock := root.at("bare").bool(false), root.at("bareClock").int(-1, 0, maxID)
	root.done()
	if s.r.err != nil {
		return nil
	}
	s.b.Show(shown, at, focus, recent)
	if bare {
		s.b.Bare(bareClock)
	}
	d, err := s.b.Desk()
	if err != nil {
		s.r.fail("", "%v", err)
	}
	return d
}

func (s *sceneReader) settings(n node) desk.Settings {
	var set desk.Settings
	if n.missing() {
		return set
	}
	set.Separate = s.oneOf(n.at("mode"), "spanning", "separate") == "separate"
	set.Growing = s.oneOf(n.at("count"), "fixed", "growing") == "growing"
	set.Gap = n.at("gap").int(0, 0, maxGap)
	set.Wrap = n.at("wrap").bool(false)
	lacks := s.verbs(n.at("lacks"))
	if n.at("alongside").bool(false) {
		set = set.BesideOthers(lacks)
	}
	n.done()
	return set
}

// verbs are the names of some.
func (s *sceneReader) verbs(n node) (names []string) {
	for _, c := range n.list() {
		name := c.text("")
		if _, ok := desk.FindVerb(name); !ok {
			s.r.fail(c.path(), "there is no command %q", name)
		}
		names = append(names, name)
	}
	return names
}

// oneOf faults a text that is none of the words; the first one stands for a
// missing text.
func (s *sceneReader) oneOf(n node, words ...string) string {
	got := n.text(words[0])
	if !slices.Contains(words, got) {
		s.r.fail(n.path(), "this must be one of %q, not %q", words, got)
	}
	return got
}

func (s *sceneReader) letter(n node) byte {
	t := n.text("")
	if n.missing() {
		return 0
	}
	if len(t) != 1 || t[0] < 'A' || t[0] > 'Z' {
		s.r.fail(n.path(), "this must be a letter from A to Z")
		return 0
	}
	return t[0]
}

func (s *sceneReader) rect(n node) geom.Rect {
	if n.missing() {
		return geom.Rect{}
	}
	var r geom.Rect
	if !n.some(-maxPlace, maxPlace, &r.X, &r.Y, &r.W, &r.H) {
		s.r.fail(n.path(), "a rectangle is [x, y, width, height]")
	}
	if r.W < 0 || r.H < 0 {
		s.r.fail(n.path(), "the sides of a rectangle must be whole numbers from 0 to %d", maxPlace)
	}
	return r
}

func (s *sceneReader) monitors(n node) []desk.Monitor {
	s.letters = map[byte]bool{}
	var ms []desk.Monitor
	for _, n := range n.list() {
		m := desk.Monitor{
			Letter:    s.letter(n.at("letter")),
			Name:      desk.CleanName(n.at("name").text("")),
			Rect:      s.rect(n.at("rect")),
			Work:      s.rect(n.at("work")),
			Primary:   n.at("primary").bool(false),
			Header:    n.at("header").int(0, 0, layout.MaxHeader),
			Connected: n.at("connected").bool(true),
		}
		m.Key = desk.CleanText(n.at("key").text(""), desk.MaxTitle)
		n.done()
		if m.Key == "" {
			m.Key = "scene-" + string(rune(m.Letter))
		}
		if m.Letter == 0 {
			s.r.fail(join(n.path(), "letter"), "a monitor needs a letter")
		}
		if m.Rect.Empty() {
			s.r.fail(join(n.path(), "rect"), "a monitor needs a rectangle")
		}
		if _, dup := s.letters[m.Letter]; dup {
			s.r.fail(join(n.path(), "letter"), "another monitor has the letter %c", m.Letter)
		}
		if m.Work.Empty() {
			m.Work = m.Rect
		}
		if !m.Rect.Contains(m.Work) {
			s.r.fail(join(n.path(), "work"), "the work area reaches out of the monitor")
		}
		s.letters[m.Letter] = m.Connected
		ms = append(ms, m)
	}
	return ms
}

func (s *sceneReader) windowList(n node) {
	s.windows = map[int]*windowRead{}
	for _, n := range n.list() {
		w := s.window(n)
		if s.windows[w.ID] != nil {
			s.r.fail(join(n.path(), "id"), "another window has the id %d", w.ID)
			return
		}
		s.windows[w.ID] = w
		s.order = append(s.order, w.ID)
	}
	for _, id := range s.order {
		w := s.windows[id]
		if w.Parent != 0 && s.windows[w.Parent] == nil || w.Parent == id {
			s.r.fail(join(w.node.path(), "parent"), "there is no other window %d", w.Parent)
		}
	}
}

func (s *sceneReader) window(n node) *windowRead {
	w := &windowRead{node: n}
	if !n.has("id") {
		s.r.fail(n.path(), "a window needs an id")
	}
	w.ID = n.at("id").int(0, 1, maxID)
	w.App = desk.CleanText(n.at("app").text(""), desk.MaxApp)
	w.Class = desk.CleanText(n.at("class").text(""), desk.MaxApp)
	w.Title = desk.CleanText(n.at("title").text(""), desk.MaxTitle)
	w.Role = desk.CleanText(n.at("role").text(""), desk.MaxApp)
	w.PID = n.at("pid").int(0, 0, maxID)
	kind, ok := desk.ParseKind(n.at("kind").text("normal"))
	if !ok {
		s.r.fail(join(n.path(), "kind"), "there is no such kind of window")
	}
	w.Kind = kind
	w.Parent = n.at("parent").int(0, 1, maxID)
	w.Rect, w.Floated = s.rect(n.at("rect")), s.rect(n.at("place"))
	w.Loose = s.rect(n.at("loose"))
	w.placed = n.has("rect")
	w.Bar = n.at("bar").int(0, 0, maxPlace)
	if min := n.at("min"); !min.missing() {
		if !min.some(0, maxPlace, &w.MinW, &w.MinH) {
			s.r.fail(min.path(), "a size is [width, height]")
		}
	}
	w.Fixed = n.at("fixed").bool(false)
	if z := n.at("sizes"); !z.missing() {
		w.Sizes = s.sizes(z)
	}
	s.seat(n.at("seat"), w)
	w.Monitor, w.Away = s.letter(n.at("monitor")), s.absences(n.at("away"))
	if f := n.at("before"); !f.missing() {
		w.Before = desk.Before{Monitor: s.letter(f.at("monitor")), Screen: s.rect(f.at("screen")), Work: s.rect(f.at("work")), Place: s.rect(f.at("place")), Now: s.rect(f.at("now"))}
		f.done()
	}
	w.Floating = n.at("floating").bool(false)
	w.Minimised = n.at("minimised").bool(false)
	w.Sticky = n.at("sticky").bool(false)
	w.Urgent = n.at("urgent").bool(false)
	w.NoFocus = n.now("unfocused", "noFocus").bool(false)
	w.Maximised, w.Fullscreen = n.at("maximised").bool(false), n.at("fullscreen").bool(false)
	w.Wide, w.Tall = n.at("wide").bool(false), n.now("high", "tall").bool(false)
	w.Above, w.Hung = n.at("above").bool(false), n.at("hung").bool(false)
	w.LastSeen, w.Refused = n.at("lastSeen").bool(false), s.verbs(n.at("refused"))
	w.Below, w.Modal = n.at("below").bool(false), n.at("modal").bool(false)
	w.Pin = s.pin(n)
	w.UsedAt = int64(n.at("usedAt").int(0, 0, maxID))
	w.Used, w.Front = n.at("used").int(0, 0, maxID), n.at("front").int(0, 0, maxID)
	w.Workspace = n.at("workspace").int(0, 1, desk.MaxWorkspaces) // a number, until the ids are known
	n.done()
	return w
}

// seat reads where a window was tiled before it was minimised or floated. Its
// workspace is a number until the ids are known.
func (s *sceneReader) seat(n node, w *windowRead) {
	if n.missing() {
		return
	}
	w.Seat = &desk.Seat{Workspace: n.at("workspace").int(1, 1, desk.MaxWorkspaces), Monitor: s.letter(n.at("monitor")), Seat: s.place(n)}
}

// place reads a place among tiles, and those of the groups around it.
func (s *sceneReader) place(n node) layout.Seat {
	p := layout.Seat{Beside: n.at("beside").ints(1, maxID), Split: s.split(n.at("split")), After: n.at("after").bool(false)}
	p.Share = n.at("share").int(1, 1, maxShare)
	p.Pair, p.Other = n.at("pair").bool(false), n.at("other").int(1, 1, maxShare)
	if outer := n.at("outer"); !outer.missing() {
		o := s.place(outer)
		p.Outer = &o
	}
	n.done()
	return p
}

// split reads how a group lays out its members.
func (s *sceneReader) split(n node) layout.Split {
	word := s.oneOf(n, "across", "down", "pile", "tabs")
	for _, split := range []layout.Split{layout.Down, layout.Pile, layout.Tabs} {
		if split.String() == word {
			return split
		}
	}
	return layout.Across
}

// sizes reads what a window says of its sizes.
func (s *sceneReader) sizes(n node) desk.Sizes {
	var z desk.Sizes
	for _, p := range []struct {
		key  string
		a, b *int
	}{
		{"max", &z.MaxW, &z.MaxH}, {"base", &z.BaseW, &z.BaseH}, {"step", &z.IncW, &z.IncH}, {"least", &z.Least[0], &z.Least[1]}, {"most", &z.Most[0], &z.Most[1]},
	} {
		if v := n.at(p.key); !v.missing() {
			if !v.some(0, maxPlace, p.a, p.b) {
				s.r.fail(v.path(), "these must be two numbers")
			}
		}
	}
	z.Frame = n.at("frame").int(0, 0, maxPlace)
	n.done()
	return z
}

// absences reads the monitors a window was taken from; a letter alone is the
// only one.
func (s *sceneReader) absences(n node) []desk.Absence {
	if n.value.Type == gjson.String {
		return []desk.Absence{{Letter: s.letter(n)}}
	}
	var as []desk.Absence
	for _, n := range n.list() {
		as = append(as, desk.Absence{Letter: s.letter(n.at("monitor")), Floated: s.rect(n.at("place")), Work: s.rect(n.at("work"))})
		n.done()
	}
	return as
}

// shownBy reads which workspace each monitor shows, as indexes.
func (s *sceneReader) shownBy(n node, count int) map[byte]int {
	shown, first := map[byte]int{}, 0
	for _, key := range n.keys() {
		v := n.at(key)
		l := s.letter(v.name())
		if !s.letters[l] {
			s.r.fail(v.path(), "monitor %s is not connected: it shows nothing", key)
		}
		number := v.int(1, 1, count)
		if first != 0 && first != number && !s.separate {
			s.r.fail(v.path(), "monitors show different workspaces, and the mode is spanning")
		}
		first = number
		shown[l] = number - 1
	}
	return shown
}

// pin is the letter that jumps to a window or a workspace; 0 for none.
func (s *sceneReader) pin(n node) byte {
	pin := n.at("pin").text("")
	if len(pin) == 1 && pin[0] >= 'a' && pin[0] <= 'z' {
		return pin[0]
	}
	if pin != "" {
		s.r.fail(join(n.path(), "pin"), "a pin is a letter a to z")
	}
	return 0
}

// sheetRead is a sheet of the file before its windows are known to be there.
type sheetRead struct {
	desk.Sheet
	index  int
	letter byte
}

// workspace reads a workspace without its sheets, after those of some ids and names.
func (s *sceneReader) workspace(n node, ids []int, names map[string]bool) desk.Workspace {
	ws := desk.Workspace{
		ID:   n.at("id").int(0, 1, maxID),
		Name: desk.CleanName(n.at("name").text("")),
		Home: s.letter(n.at("home")),
		Pin:  s.pin(n),
	}
	if ws.Name != "" && names[ws.Name] {
		s.r.fail(join(n.path(), "name"), "another workspace is called %q", ws.Name)
	}
	names[ws.Name] = true
	if _, known := s.letters[ws.Home]; ws.Home != 0 && !known {
		s.r.fail(join(n.path(), "home"), "there is no monitor %c", ws.Home)
	}
	if ws.ID != 0 && slices.Contains(ids, ws.ID) {
		s.r.fail(join(n.path(), "id"), "another workspace has the id %d", ws.ID)
	}
	return ws
}

func (s *sceneReader) workspaces(list []node) []int {
	var ids []int
	var sheets, away []sheetRead
	names := map[string]bool{}
	for i, n := range list {
		ws := s.workspace(n, ids, names)
		at := n.at("sheets")
		if keys := at.keys(); s.separate && ws.Home == 0 && len(keys) == 1 && len(keys[0]) == 1 {
			ws.Home = keys[0][0]
		}
		for _, key := range at.keys() {
			c := at.at(key)
			l := s.letter(c.name())
			if connected, known := s.letters[l]; !known || !connected {
				s.r.fail(c.path(), "monitor %s is unknown, not connected or a mirror: it has no sheet", key)
			}
			sheets = append(sheets, sheetRead{s.sheet(c, i, l, false), i, l})
		}
		at = n.at("away")
		for _, key := range at.keys() {
			c := at.at(key)
			l := s.letter(c.name())
			if _, known := s.letters[l]; !known {
				s.r.fail(c.path(), "there is no monitor %s", key)
			}
			away = append(away, sheetRead{s.sheet(c, i, l, true), i, l})
		}
		n.done()
		if s.r.err != nil {
			return nil
		}
		b := s.b.Workspace(ws)
		ids = append(ids, s.b.WorkspaceID(b))
	}
	s.addWindows(ids)
	if s.r.err != nil {
		return nil
	}
	for _, sh := range sheets {
		s.b.Sheet(sh.index, sh.letter, sh.Sheet)
	}
	for _, sh := range away {
		s.b.Away(sh.index, sh.letter, sh.Sheet)
	}
	for _, id := range s.order {
		if w := s.windows[id]; w.listed.none() && !w.Minimised {
			s.b.Float(id)
		}
	}
	return ids
}

// addWindows hands the windows to the builder: those on no list float on the
// workspace they name.
func (s *sceneReader) addWindows(ids []int) {
	for _, id := range s.order {
		w := s.windows[id]
		switch {
		case w.listed.none() && w.Workspace == 0:
			s.r.fail(w.node.path(), "window %d is on no sheet and names no workspace", id)
			return
		case !w.listed.none() && w.Minimised:
			s.r.fail(w.listed.String(), "window %d is minimised: no sheet lists it", id)
			return
		case w.Workspace > len(ids):
			s.r.fail(join(w.node.path(), "workspace"), "there is no workspace %d", w.Workspace)
			return
		case w.Monitor != 0 && !s.letters[w.Monitor]:
			s.r.fail(join(w.node.path(), "monitor"), "monitor %c is not connected", w.Monitor)
			return
		case w.tiled && w.MustFloat():
			s.r.fail(w.listed.String(), "window %d is tiled, and such windows float", id)
			return
		}
		w.Workspace = ids[w.Workspace-1]
		if w.Seat != nil && w.Seat.Workspace > len(ids) {
			s.r.fail(join(w.node.path(), "seat.workspace"), "there is no workspace %d", w.Seat.Workspace)
			return
		} else if w.Seat != nil {
			w.Seat.Workspace = ids[w.Seat.Workspace-1]
		}
		if w.listed.none() && !w.Minimised {
			w.Floating = !w.MustFloat()
			w.Monitor = 0 // by its place
		}
		if !w.placed && !w.tiled {
			letter := w.Monitor
			if letter == 0 {
				letter = s.b.First()
			}
			w.Rect = s.b.DefaultPlace(w.Window, letter)
		}
		s.b.Window(w.Window)
	}
}

// sheet reads a sheet of the workspace at index i. Away sheets only remember
// and claim no window.
func (s *sceneReader) sheet(n node, i int, letter byte, away bool) desk.Sheet {
	k, ok := layout.ParseKind(n.at("layout").text("tree"))
	if !ok {
		s.r.fail(join(n.path(), "layout"), "there is no such layout; there are %q", layout.Names())
	}
	sh := desk.Sheet{Layout: k, Share: n.at("share").int(layout.DefaultShare, layout.MinShare, layout.MaxShare)}
	sh.Leads = n.at("leads").int(1, 1, desk.MaxLeads)
	sh.NoGaps = n.now("gapless", "noGaps").bool(false)
	switch next := n.at("next").text(""); next {
	case "":
	case "across":
		sh.Next = layout.Across
	case "down":
		sh.Next = layout.Down
	default:
		s.r.fail(join(n.path(), "next"), "the next window splits across or down")
	}
	claim := func(list node, ids []int, tiled bool) {
		for j, id := range ids {
			s.claim(listing{list, j}, id, i, letter, tiled, away)
		}
	}
	windows, floating := n.at("windows"), n.at("floating")
	ids := windows.ints(1, maxID)
	claim(windows, ids, true)
	sh.Tiles = desk.TilesOf(k, ids, sh.Share, sh.Leads)
	if tree := n.at("tree"); !tree.missing() {
		if !windows.missing() || k != layout.Tree && k != layout.Free {
			s.r.fail(tree.path(), "a tree stands with the layouts tree and free, and without windows")
		}
		sh.Tiles = s.tree(tree)
		claim(tree, sh.Tiles.Windows(), true)
	}
	sh.Floating = floating.ints(1, maxID)
	if stack := n.at("stack"); !stack.missing() {
		sh.Floating = s.stack(stack, slices.Concat(sh.Tiles.Windows(), sh.Floating), k)
		claim(floating, floating.ints(1, maxID), false)
	} else {
		claim(floating, sh.Floating, false)
		if k == layout.Free {
			sh.Floating = slices.Concat(sh.Tiles.Windows(), sh.Floating)
		}
	}
	sh.Kept, sh.Before = s.memory(n.at("kept")), s.memory(n.at("before"))
	if full := n.at("fullscreen"); !full.missing() && !away {
		s.fullscreen(full, &sh, i, letter)
	}
	n.done()
	return sh
}

// memory reads a tree that a sheet remembers. Its windows are there, and may be
// anywhere.
func (s *sceneReader) memory(n node) *layout.Node {
	if n.missing() {
		return nil
	}
	tree := s.tree(n)
	seen := map[int]bool{}
	for _, id := range tree.Windows() {
		switch {
		case s.r.err != nil:
		case !s.there(id):
			s.r.fail(n.path(), "there is no window %d", id)
		case seen[id]:
			s.r.fail(n.path(), "window %d stands here twice", id)
		}
		seen[id] = true
	}
	return tree
}

// stack reads the stacking order of a free sheet: all its windows, once each.
func (s *sceneReader) stack(n node, all []int, k layout.Kind) []int {
	order := n.ints(1, maxID)
	a, b := slices.Sorted(slices.Values(all)), slices.Sorted(slices.Values(order))
	if k != layout.Free || !slices.Equal(a, b) {
		s.r.fail(n.path(), "a stack lists the windows of a free sheet, each once")
	}
	return order
}

// claim puts a window on a sheet's list, and faults one that is on another or
// not there.
func (s *sceneReader) claim(at listing, id, i int, letter byte, tiled, away bool) {
	if away || s.r.err != nil {
		return
	}
	w := s.windows[id]
	switch {
	case w == nil:
		s.r.fail(at.String(), "there is no window %d", id)
		return
	case !w.listed.none():
		s.r.fail(at.String(), "window %d is on another list already, %s", id, w.listed)
		return
	case w.Workspace != 0 && w.Workspace != i+1:
		s.r.fail(at.String(), "window %d says it is on workspace %d", id, w.Workspace)
		return
	}
	w.listed, w.tiled = at, tiled
	w.Workspace, w.Monitor = i+1, letter
	w.Floating = !tiled && !w.MustFloat()
}

func (s *sceneReader) fullscreen(n node, sh *desk.Sheet, i int, letter byte) {
	id := n.int(0, 1, maxID)
	w := s.windows[id]
	if w == nil {
		s.r.fail(n.path(), "there is no window %d", id)
		return
	}
	if w.listed.none() {
		s.claim(listing{n, -1}, id, i, letter, false, false)
		sh.Floating = append(sh.Floating, id)
	}
	if w.Monitor != letter || w.Workspace != i+1 {
		s.r.fail(n.path(), "window %d is on another sheet", id)
	}
	w.Fullscreen = true
}

// tree reads a tree of tiles.
func (s *sceneReader) tree(n node) *layout.Node {
	share := n.at("share").int(1, 1, maxShare)
	if n.has("window") {
		leaf := layout.NewLeaf(n.at("window").int(0, 1, maxID))
		leaf.Share = share
		n.done()
		return leaf
	}
	for _, split := range []layout.Split{layout.Across, layout.Down, layout.Pile, layout.Tabs} {
		if !n.has(split.String()) {
			continue
		}
		var members []*layout.Node
		n.at(split.String()).each(func(c node) { members = append(members, s.tree(c)) })
		n.done()
		if len(members) == 0 {
			s.r.fail(n.path(), "a group needs members")
			return layout.NewLeaf(1)
		}
		return layout.GroupOf(split, share, members)
	}
	s.r.fail(n.path(), "this must be a window, or across, down, pile or tabs")
	return layout.NewLeaf(1)
}
