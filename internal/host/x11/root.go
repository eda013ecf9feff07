package x11

import (
	"os"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// rootState is what was last written on the root for others to read.
type rootState struct {
	written             bool
	count, current      uint32
	names               string
	active              xproto.Window
	work                geom.Rect
	bound               geom.Rect
	clients, clientsTop []xproto.Window
	bare                uint32
}

// rootProperty is a property of the root that says what is: whether two states
// say the same, and how it is written.
type rootProperty struct {
	a     atom
	same  func(x, y *rootState) bool
	write func(h *Host, s *rootState)
}

var rootProperties = []rootProperty{
	{aNumberOfDesktops, func(x, y *rootState) bool { return x.count == y.count },
		func(h *Host, s *rootState) { h.setCards(h.root, aNumberOfDesktops, s.count) }},
	{aDesktopNames, func(x, y *rootState) bool { return x.names == y.names },
		func(h *Host, s *rootState) { h.setText(h.root, aDesktopNames, s.names) }},
	{aCurrentDesktop, func(x, y *rootState) bool { return x.current == y.current },
		func(h *Host, s *rootState) { h.setCards(h.root, aCurrentDesktop, s.current) }},
	{aActiveWindow, func(x, y *rootState) bool { return x.active == y.active },
		func(h *Host, s *rootState) { h.setWindows(h.root, aActiveWindow, s.active) }},
	{aDesktopGeometry, func(x, y *rootState) bool { return x.bound == y.bound },
		func(h *Host, s *rootState) {
			h.setCards(h.root, aDesktopGeometry, uint32(s.bound.W), uint32(s.bound.H))
		}},
	{aWorkarea, func(x, y *rootState) bool { return x.work == y.work && x.count == y.count },
		func(h *Host, s *rootState) {
			v := []uint32{uint32(s.work.X), uint32(s.work.Y), uint32(s.work.W), uint32(s.work.H)}
			h.setCards(h.root, aWorkarea, slices.Repeat(v, int(s.count))...)
		}},
	{aShowingDesktop, func(x, y *rootState) bool { return x.bare == y.bare },
		func(h *Host, s *rootState) { h.setCards(h.root, aShowingDesktop, s.bare) }},
	{aClientList, func(x, y *rootState) bool { return slices.Equal(x.clients, y.clients) },
		func(h *Host, s *rootState) { h.setWindows(h.root, aClientList, s.clients...) }},
	{aClientListStacking, func(x, y *rootState) bool { return slices.Equal(x.clientsTop, y.clientsTop) },
		func(h *Host, s *rootState) { h.setWindows(h.root, aClientListStacking, s.clientsTop...) }},
}

// writeRoot writes the root's properties where they changed.
func (h *Host) writeRoot(d *desk.Desk, p desk.Picture) {
	was, now := h.told, h.rootNow(d, p)
	h.told = now
	for _, r := range rootProperties {
		if !was.written || !r.same(&was, &now) {
			r.write(h, &now)
		}
	}
}

// constant is a property that stays the same as long as we keep the display, on
// the root or on our own window.
type constant struct {
	a     atom
	root  bool
	write func(h *Host)
}

var constants = []constant{
	{aSupportingCheck, true, func(h *Host) { h.setWindows(h.root, aSupportingCheck, h.check) }},
	{aSupportingCheck, false, func(h *Host) { h.setWindows(h.check, aSupportingCheck, h.check) }},
	{aNetName, false, func(h *Host) { h.setText(h.check, aNetName, keeper.ManagerName) }},
	{aNetPID, false, func(h *Host) { h.setCards(h.check, aNetPID, uint32(os.Getpid())) }},
	{aDesktopViewport, true, func(h *Host) { h.setCards(h.root, aDesktopViewport, 0, 0) }},
	{aSupported, true, func(h *Host) {
		var supported []uint32
		for _, a := range supportedAtoms {
			supported = append(supported, uint32(h.atoms[a]))
		}
		h.setAtoms(h.root, aSupported, supported)
	}},
}

// Two who put the same property back would do so for ever: after so many times
// within fightTime it is left as it is, for truceTime.
const (
	fightTurns  = 5
	windowTurns = 100 // of a client's own windows
	fightTime   = 10 * time.Second
	truceTime   = time.Minute
)

// fight is how often a property was put back lately.
type fight struct {
	since time.Time
	turns int
	until time.Time // of a truce
}

// again tells whether a property may be put back once more, and whether this is
// the beginning of a truce.
func (f *fight) again(now time.Time, most int) (yes, gives bool) {
	switch {
	case now.Before(f.until):
		return false, false
	case now.Sub(f.since) > fightTime:
		f.since, f.turns = now, 0
	}
	f.turns++
	if f.turns > most {
		f.until = now.Add(truceTime)
		return false, true
	}
	return true, false
}

// putBack writes anew those properties of ours that another client has written
// or deleted. Kept is how often each has changed, our own doing included.
func (h *Host) putBack(kept map[property]int) {
	h.wrote[property{h.root, h.atoms[aDesk]}] += h.memory.written()
	for p, n := range kept {
		own := min(n, h.wrote[p])
		if h.wrote[p] -= own; h.wrote[p] == 0 {
			delete(h.wrote, p)
		}
		if n > own && h.desk != nil {
			h.restoreProperty(p)
		}
	}
}

func (h *Host) restoreProperty(p property) {
	write := h.writer(p)
	if write == nil {
		return // none of ours
	}
	f := h.fights[p]
	if f == nil {
		f = &fight{}
		h.fights[p] = f
	}
	turns := fightTurns
	if p.window != h.root && p.window != h.check {
		turns = windowTurns
	}
	yes, gives := f.again(time.Now(), turns)
	if gives {
		h.log.Warn("another program keeps writing what the manager keeps, and is left its way for a minute", "property", h.atomName(p.atom))
		time.AfterFunc(truceTime, h.queue.signal)
		h.truces = append(h.truces, p)
	}
	if !yes {
		return
	}
	if p == (property{h.root, h.atoms[aDesktopNames]}) {
		h.renamed()
	}
	write()
}

// endTruces writes what was left to another program for a while.
func (h *Host) endTruces() {
	h.truces = slices.DeleteFunc(h.truces, func(p property) bool {
		if time.Now().Before(h.fights[p].until) {
			return false
		}
		if write := h.writer(p); write != nil {
			write()
		}
		return true
	})
}

// clientWritten are the properties of clients that the manager alone writes, from the
// map on.
var clientWritten = []atom{aState, aNetState, aWindowDesktop, aAllowedActions, aFrameExtents}

// rewrite writes what another client has written over on a window.
func (h *Host) rewrite(c *client) func() {
	return func() {
		c.told, c.actions, c.extents = toldState{}, 0, -1
		h.emit(desk.Changed{ID: c.id, Change: func(*desk.Window) {}})
		h.tellExtents(c, c.width)
	}
}

// writer is what writes a property; nil where it is none of ours.
func (h *Host) writer(p property) func() {
	if c := h.byXID[p.window]; c != nil {
		return h.rewrite(c)
	}
	for _, c := range constants {
		if h.atoms[c.a] == p.atom && c.root == (p.window == h.root) {
			return func() { c.write(h) }
		}
	}
	if p.window != h.root {
		return nil
	}
	for _, r := range rootProperties {
		if h.atoms[r.a] == p.atom {
			return func() { r.write(h, &h.told) }
		}
	}
	if p.atom == h.atoms[aDesk] {
		return func() { h.memory.remember(h.desk) }
	}
	return nil
}

func (h *Host) atomName(a xproto.Atom) string {
	for i, other := range h.atoms {
		if other == a {
			return atomNames[i]
		}
	}
	return ""
}

// renamed takes up the names that another program has given to workspaces
// (EWMH, _NET_DESKTOP_NAMES: a pager may).
func (h *Host) renamed() {
	names := strings.Split(h.text(h.ask(h.root, h.atoms[aDesktopNames], textUnits)), "\x00")
	for i := range h.desk.Workspaces {
		if i >= len(names) || desk.CleanName(names[i]) == "" || names[i] == h.nameOf(h.desk, i) {
			continue
		}
		h.command("rename", desk.Arg{Kind: desk.Number, N: i + 1}, desk.Arg{Kind: desk.Name, Word: desk.CleanName(names[i])})
	}
}

// nameOf is what _NET_DESKTOP_NAMES says of the workspace at index i.
func (h *Host) nameOf(d *desk.Desk, i int) string {
	if name := d.Workspaces[i].Name; name != "" {
		return name
	}
	return d.Title(i)
}

func (h *Host) rootNow(d *desk.Desk, p desk.Picture) rootState {
	s := rootState{written: true, count: uint32(len(d.Workspaces)), current: uint32(max(p.Current, 0))}
	var names strings.Builder
	for i := range d.Workspaces {
		names.WriteString(h.nameOf(d, i) + "\x00")
	}
	s.names = names.String()
	if c := h.clients[p.Focus]; h.onDesktop {
		s.active = h.told.active
	} else if c != nil {
		s.active = c.win
	}
	if d.Bare && !slices.ContainsFunc(d.Windows, d.Visible) {
		s.bare = 1
	}
	var rects, works []geom.Rect
	for _, m := range d.Monitors {
		if m.Connected {
			rects, works = append(rects, m.Rect), append(works, m.Work)
		}
	}
	s.bound = geom.Bound(rects...)
	s.work = h.freeArea(s.bound, rects, works)
	s.clients, s.clientsTop = h.told.clients, h.told.clientsTop
	if h.unlisted {
		s.clients, s.clientsTop = h.lists(d)
	}
	h.unlisted = false
	return s
}

// lists are the windows of _NET_CLIENT_LIST and of _NET_CLIENT_LIST_STACKING (EWMH).
func (h *Host) lists(d *desk.Desk) (all, top []xproto.Window) {
	all = append(all, h.others...)
	all = slices.Grow(all, len(d.Windows))
	for _, w := range d.Windows { // by id: the order in which they came
		if c := h.clients[w.ID]; c != nil {
			all = append(all, c.win)
		}
	}
	for _, win := range h.others {
		if h.desktop[win] {
			top = append(top, win)
		}
	}
	top = slices.Grow(top, len(h.layers))
	for _, win := range h.layers {
		if win != h.atlas.win && !slices.Contains(h.lined, win) {
			top = append(top, win)
		}
	}
	return all, top
}

// freeArea is freeForAll of the monitors there are, which seldom change: the last answer
// is kept.
func (h *Host) freeArea(bound geom.Rect, monitors, works []geom.Rect) geom.Rect {
	if f := &h.free; !slices.Equal(f.monitors, monitors) || !slices.Equal(f.works, works) {
		*f = freeKept{monitors, works, freeForAll(bound, monitors, works)}
	}
	return h.free.area
}

// freeKept is the area that was free for all at some monitors and work areas.
type freeKept struct {
	monitors, works []geom.Rect
	area            geom.Rect
}

// freeForAll is the largest rectangle of the plane that no strip which a monitor keeps
// for its docks touches: _NET_WORKAREA is one for all monitors.
func freeForAll(bound geom.Rect, monitors, works []geom.Rect) geom.Rect {
	var taken []geom.Rect
	xs, ys := []int{bound.X, bound.Right()}, []int{bound.Y, bound.Bottom()}
	for i, m := range monitors {
		w := works[i]
		for _, strip := range []geom.Rect{
			geom.R(m.X, m.Y, m.W, w.Y-m.Y), geom.R(m.X, w.Bottom(), m.W, m.Bottom()-w.Bottom()),
			geom.R(m.X, m.Y, w.X-m.X, m.H), geom.R(w.Right(), m.Y, m.Right()-w.Right(), m.H),
		} {
			if !strip.Empty() {
				taken = append(taken, strip)
				xs, ys = append(xs, strip.X, strip.Right()), append(ys, strip.Y, strip.Bottom())
			}
		}
	}
	slices.Sort(xs)
	slices.Sort(ys)
	xs, ys = slices.Compact(xs), slices.Compact(ys)
	best := geom.Rect{}
	for i, x := range xs {
		for _, right := range xs[i+1:] {
			for k, y := range ys {
				for _, bottom := range ys[k+1:] {
					r := geom.R(x, y, right-x, bottom-y)
					if r.Area() > best.Area() && !slices.ContainsFunc(taken, r.Overlaps) {
						best = r
					}
				}
			}
		}
	}
	return best
}
