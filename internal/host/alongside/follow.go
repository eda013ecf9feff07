package alongside

import (
	"maps"
	"reflect"
	"slices"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// stale is what events have told to be read anew.
type stale struct {
	top     []string
	props   map[xproto.Window]bool // all of a window
	places  map[*client]bool       // its place alone
	gone    map[xproto.Window]bool
	screens bool
	manager bool
	board   bool // the keyboard is another
	view    bool // what is shown is another, and so is what is seen
}

// followEvents reads what events tell of, and makes facts of it.
func (h *Host) followEvents(events []xgb.Event) {
	s := h.sort(events)
	now := time.Now()
	if !h.settling.IsZero() && now.After(h.settling) {
		h.settling, s.top = time.Time{}, slices.Clone(allOfTop)
	}
	for c, o := range h.later {
		if h.clients[c.win] != c {
			delete(h.later, c)
		} else if !now.Before(o.next) {
			s.places[c] = true
		}
	}
	if len(events)+len(s.places)+len(s.top) == 0 && !h.backlog {
		return
	}
	if s.manager && h.managerChanged() {
		s.top = allOfTop
		for win := range h.clients {
			s.props[win] = true
		}
	}
	if s.board && h.board != nil {
		h.board.Renew()
	}
	if s.screens {
		h.screensChanged()
		for _, c := range h.clients {
			s.places[c] = true
		}
	}
	if len(s.top) > 0 {
		h.readTop(s.top)
	}
	for win := range s.gone {
		if c := h.clients[win]; c != nil {
			h.drop(c)
		}
	}
	if slices.Contains(s.top, "_NET_NUMBER_OF_DESKTOPS") || slices.Contains(s.top, "_NET_DESKTOP_NAMES") {
		h.facts = append(h.facts, desk.WorkspacesAre{Names: h.workspaces()})
	}
	if slices.Contains(s.top, "_NET_SUPPORTED") {
		h.facts = append(h.facts, desk.ManagerIs{Lacks: h.lacks()})
		h.takeChords() // those that it makes possible
	}
	if slices.Contains(s.top, "_NET_CURRENT_DESKTOP") || slices.Contains(s.top, "_NET_SHOWING_DESKTOP") {
		s.view = true
	}
	h.readAgain(s)
	if h.backlog || slices.Contains(s.top, "_NET_CLIENT_LIST") {
		h.follow(h.top.list)
	}
	h.tellRest()
}

// sort finds out what events tell of.
func (h *Host) sort(events []xgb.Event) stale {
	s := stale{props: map[xproto.Window]bool{}, places: map[*client]bool{}, gone: map[xproto.Window]bool{}}
	for _, e := range events {
		switch e := e.(type) {
		case xproto.PropertyNotifyEvent:
			name := h.names[e.Atom]
			switch {
			case e.Window == h.atlas.win && (name == "_NET_WM_NAME" || e.Atom == xproto.AtomWmName):
				h.atlas.titled()
			case e.Window != h.root:
				s.props[e.Window] = s.props[e.Window] || h.reader.Matters(e.Atom)
			case name == "_NET_SUPPORTING_WM_CHECK":
				s.manager = true
			case slices.Contains(allOfTop, name) && !slices.Contains(s.top, name):
				s.top = append(s.top, name)
			}
		case xproto.KeyPressEvent, xproto.KeyReleaseEvent, xproto.EnterNotifyEvent, xproto.LeaveNotifyEvent, xproto.ExposeEvent:
			if h.board != nil { // else of a chord that is tried
				h.toBoard(e)
			}
		case xproto.ButtonPressEvent:
			h.pressLine(e)
		case xproto.MappingNotifyEvent:
			s.board = true
		case xproto.ConfigureNotifyEvent:
			switch e.Window {
			case h.root:
				s.screens = true
			case h.probe.win:
				h.answeredProbe()
			default:
				h.moved(s, e.Window)
			}
		case xproto.ReparentNotifyEvent:
			h.moved(s, e.Window)
		case xproto.MapNotifyEvent:
			h.moved(s, e.Window)
		case xproto.UnmapNotifyEvent:
			h.moved(s, e.Window)
		case xproto.DestroyNotifyEvent:
			if e.Window == h.atlas.win {
				h.atlas.gone()
			}
			s.manager = s.manager || e.Window == h.top.check
			s.gone[e.Window] = true
		case xproto.ClientMessageEvent:
			if h.board != nil && h.board.Message(e) {
				continue
			}
			s.manager = s.manager || e.Type == h.atoms["MANAGER"] && len(e.Data.Data32) > 1 && xproto.Atom(e.Data.Data32[1]) == h.owned
		}
	}
	maps.DeleteFunc(s.props, func(_ xproto.Window, matters bool) bool { return !matters })
	return s
}

// moved notes that a window may be elsewhere, or of another size.
func (h *Host) moved(s stale, win xproto.Window) {
	if c := h.clients[win]; c != nil {
		s.places[c] = true
	} else if c := h.byFrame[win]; c != nil {
		s.places[c] = true
	} else if h.docks[win] != nil {
		s.props[win] = true
	}
}

// toBoard follows what is about the keyboard, or about what we have drawn.
func (h *Host) toBoard(e xgb.Event) {
	switch e := e.(type) {
	case xproto.KeyPressEvent:
		h.board.KeyPress(e)
	case xproto.KeyReleaseEvent:
		h.board.KeyRelease(e)
	case xproto.EnterNotifyEvent:
		h.board.Entered(e.Event)
	case xproto.LeaveNotifyEvent:
		h.board.Left(e)
	case xproto.ExposeEvent:
		h.drawn.Strip.Draw()
		h.drawn.Card.Draw()
	}
}

// settleTime is how long a manager that begins may take to list the windows there are:
// those that are not gone are kept until then.
const settleTime = 3 * time.Second

// managerChanged finds out who manages the display now, and tells whether that is another
// one than before: any program can say that it is.
func (h *Host) managerChanged() bool {
	was := h.top.check
	err := h.readManager()
	if h.top.check == was {
		return false
	}
	h.settling = time.Now().Add(settleTime)
	h.takeChords() // none until then: those that it wants are its own
	if was != 0 {
		h.forsake()
	}
	switch {
	case err != nil && was != 0:
		h.facts = append(h.facts, desk.ManagerIs{Lacks: h.lacks(), Words: "The desktop's manager has gone. What it kept is as it was last seen."})
	case err == nil:
		h.offset = offset{}
		h.readTop(allOfTop)
		h.facts = append(h.facts, desk.ManagerIs{Lacks: h.lacks(), Words: "Another program manages the desktop now, and all was read anew."})
	}
	return true
}

// screensChanged reads the monitors anew.
func (h *Host) screensChanged() {
	now := h.screen.Monitors()
	if len(now) == 0 || slices.Equal(now, h.monitors) {
		return // all are off for a while: the core keeps the last
	}
	h.monitors = now
	f := desk.MonitorsAre{Monitors: now}
	h.letters, _ = h.letters.With(f)
	h.facts = append(h.facts, f)
	for _, c := range h.clients {
		c.doubt = c.doubt || !h.seen(c)
	}
	h.tellDocks()
}

// tellDocks tells what the docks leave of the monitors.
func (h *Host) tellDocks() {
	var docks []display.Dock
	for _, win := range slices.Sorted(maps.Keys(h.docks)) {
		docks = append(docks, *h.docks[win])
	}
	work, refused := display.WorkAreas(h.letters.Monitors, docks)
	for _, l := range refused {
		h.log.Warn("a dock asks for more than half of its monitor, and does not get it", "monitor", string(rune(l)))
	}
	h.layLines(work)
	h.facts = append(h.facts, desk.WorkAreas{Work: work})
}

// piece is how many new windows of a list are read in one turn. Anybody can write a list of any
// windows, and other work gets a turn in between.
const piece = 500

// follow takes up the windows of a list that are new, a piece at a time, and lets go of
// those that are in it no more.
func (h *Host) follow(list []xproto.Window) {
	there := make(map[xproto.Window]bool, len(list))
	var unknown []xproto.Window
	for _, win := range list {
		if there[win] || h.lines != nil && h.lines.Is(win) {
			continue
		}
		there[win] = true
		if h.clients[win] == nil && h.docks[win] == nil && !h.strangers[win] {
			unknown = append(unknown, win)
		}
	}
	maps.DeleteFunc(h.strangers, func(win xproto.Window, _ bool) bool { return !there[win] })
	if h.backlog = len(unknown) > piece; h.backlog {
		unknown = unknown[:piece]
	}
	fresh := h.askNew(unknown)
	for _, win := range slices.Sorted(maps.Keys(h.clients)) {
		if !there[win] && time.Now().After(h.settling) {
			h.drop(h.clients[win])
		}
	}
	before := len(h.docks)
	maps.DeleteFunc(h.docks, func(win xproto.Window, _ *display.Dock) bool { return !there[win] })
	if len(h.docks) != before {
		h.tellDocks()
	}
	h.takeUp(fresh)
}

// askNew asks for all that is read of windows, of those that are there.
func (h *Host) askNew(wins []xproto.Window) (fresh []*reading) {
	there := make([]xproto.GetWindowAttributesCookie, len(wins))
	for i, win := range wins {
		there[i] = xproto.GetWindowAttributes(h.conn, win)
	}
	for i, win := range wins {
		if _, err := there[i].Reply(); err != nil {
			h.strangers[win] = true // not asked about again as long as it is listed
			continue
		}
		const events = xproto.EventMaskPropertyChange | xproto.EventMaskStructureNotify
		xproto.ChangeWindowAttributes(h.conn, win, xproto.CwEventMask, []uint32{events})
		fresh = append(fresh, h.askAll(win))
	}
	return fresh
}

// takeUp takes up windows that are new.
func (h *Host) takeUp(fresh []*reading) {
	parents := map[*client]xproto.Window{}
	var opened []*client
	docks := false
	for _, r := range fresh {
		c := &client{win: r.win, facts: h.factsOf(r)}
		parent, ok := r.place.take(c)
		if !ok {
			h.strangers[r.win] = true
			continue
		}
		if h.atlas.isIt(c.facts) {
			h.docks[c.win] = &display.Dock{} // it keeps no strip, and is no window of the desk
			h.atlas.adopt(c.win)
			continue
		}
		if len(c.Strut) > 0 || c.dock {
			h.docks[c.win], docks = &display.Dock{Rect: grown(c.inside, c.border), Strut: c.Strut}, true
		}
		if c.dock || c.desktop {
			if h.docks[c.win] == nil {
				h.docks[c.win] = &display.Dock{} // it keeps no strip, and is no window of the desk
			}
			continue
		}
		parents[c] = parent
		opened = append(opened, c)
	}
	h.frames(parents)
	if !h.read { // the latest used first, as far as the windows tell
		slices.SortStableFunc(opened, func(a, b *client) int { return int(int32(uint32(max(a.UserTime, 0)) - uint32(max(b.UserTime, 0)))) })
	}
	for i, c := range opened {
		h.lastID++
		c.id = h.lastID
		h.clients[c.win], h.byID[c.id] = c, c
		h.settle(c)
		w := h.describe(c)
		c.desk, c.told = w, h.stands(c)
		w.Rect, w.Minimised, w.Urgent = c.rect, c.told.State.Minimised, c.urgent
		if !h.read && c.UserTime > 0 {
			w.Used = i + 1
		}
		h.facts = append(h.facts, desk.Opened{Window: w, Keep: true, StartupID: c.Startup}, c.told)
	}
	for _, c := range opened { // a window may open after its dialog
		h.tellSelf(c)
	}
	if docks || !h.read {
		h.tellDocks()
	}
	if len(opened) > 0 {
		h.stacked = nil
	}
}

// drop lets go of a window that is gone.
func (h *Host) drop(c *client) {
	delete(h.clients, c.win)
	delete(h.byID, c.id)
	delete(h.byFrame, c.frame)
	h.facts = append(h.facts, desk.Closed{ID: c.id})
}

// readAgain reads windows anew, all at once.
func (h *Host) readAgain(s stale) {
	full := map[*client]*reading{}
	places := map[*client]placeReading{}
	docks := map[xproto.Window]*reading{}
	for win := range s.props {
		if c := h.clients[win]; c != nil {
			full[c] = h.askAll(win)
			delete(s.places, c)
		} else if h.docks[win] != nil {
			docks[win] = h.askAll(win)
		}
	}
	for c := range s.places {
		if h.clients[c.win] == c {
			places[c] = h.askPlace(c.win)
		}
	}
	parents := map[*client]xproto.Window{}
	for c, r := range full {
		f := h.factsOf(r)
		struts := len(f.Strut) > 0 || len(c.Strut) > 0
		c.facts = f
		if h.atlas.isIt(f) { // its title came late
			h.drop(c)
			h.docks[c.win] = &display.Dock{}
			h.atlas.adopt(c.win)
			continue
		}
		if parent, ok := r.place.take(c); ok {
			parents[c] = parent
		}
		if struts {
			h.docks[c.win] = &display.Dock{Rect: grown(c.inside, c.border), Strut: f.Strut}
			docks[c.win] = nil
		}
	}
	for c, r := range places {
		if parent, ok := r.take(c); ok {
			parents[c] = parent
		}
	}
	for win, r := range docks {
		if r != nil {
			h.dockAgain(win, r)
		}
	}
	if len(docks) > 0 {
		h.tellDocks()
	}
	changed := slices.Collect(maps.Keys(parents))
	h.frames(parents)
	if s.view {
		changed = slices.Collect(maps.Values(h.clients))
	}
	h.settleAll(changed)
}

// settleAll places clients, in the order of their ids, and notes what has changed of them.
func (h *Host) settleAll(changed []*client) {
	slices.SortFunc(changed, func(a, b *client) int { return a.id - b.id })
	for _, c := range changed {
		h.settle(c)
		h.tellSelf(c)
		if now := h.stands(c); now != c.told {
			c.told = now
			h.facts = append(h.facts, now)
			h.stacked = nil // it may be on another list
		}
	}
}

// dockAgain takes in a dock that has changed.
func (h *Host) dockAgain(win xproto.Window, r *reading) {
	c := &client{win: win, facts: h.factsOf(r)}
	if _, ok := r.place.take(c); ok {
		*h.docks[win] = display.Dock{Rect: grown(c.inside, c.border), Strut: c.Strut}
	}
}

// tellSelf tells what a window says of itself, where that has changed.
func (h *Host) tellSelf(c *client) {
	now := h.describe(c)
	if reflect.DeepEqual(now, c.desk) {
		return
	}
	c.desk = now
	h.facts = append(h.facts, desk.Changed{ID: c.id, Change: func(w *desk.Window) {
		w.Title, w.App, w.Class, w.Role, w.PID, w.Kind, w.Parent = now.Title, now.App, now.Class, now.Role, now.PID, now.Kind, now.Parent
		w.Fixed, w.MinW, w.MinH, w.Sizes, w.Bar, w.Modal, w.NoFocus = now.Fixed, now.MinW, now.MinH, now.Sizes, now.Bar, now.Modal, now.NoFocus
	}})
}

// tellRest tells what is shown, the stacking order and the focus, where these are others
// or may not be what the core makes of the facts before them.
func (h *Host) tellRest() {
	shows := desk.Shows{Workspace: geom.Clamp(h.top.current, 0, max(h.top.count, 1)-1), Bare: h.top.bare}
	focused := 0
	if c := h.clients[h.top.active]; c != nil {
		focused = c.id
	} else if h.atlas.up() && h.byID[h.focused] != nil {
		focused = h.focused // the screens are about the window that had it
	}
	if len(h.facts) == 0 && shows == h.shows && focused == h.focused && h.sameStack() {
		return
	}
	if !h.sameStack() {
		var ids []int
		for _, win := range h.top.stacking {
			if c := h.clients[win]; c != nil {
				ids = append(ids, c.id)
			}
		}
		h.stacked = ids
		h.facts = append(h.facts, desk.StackingIs{IDs: ids})
	}
	h.shows, h.focused = shows, focused
	h.facts = append(h.facts, shows, desk.FocusIs{ID: focused})
}

// sameStack tells whether the stacking order is as it was last told.
func (h *Host) sameStack() bool {
	if h.stacked == nil {
		return false
	}
	n := 0
	for _, win := range h.top.stacking {
		c := h.clients[win]
		if c == nil {
			continue
		}
		if n >= len(h.stacked) || h.stacked[n] != c.id {
			return false
		}
		n++
	}
	return n == len(h.stacked)
}
