package x11

import (
	"bytes"
	"maps"
	"math/rand/v2"
	"reflect"
	"slices"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
	"zatlas/internal/scene"
)

// The states of WM_STATE (ICCCM 4.1.3.1).
const (
	stateNormal = 1
	stateIconic = 3
)

const clientEvents = xproto.EventMaskPropertyChange | xproto.EventMaskFocusChange | xproto.EventMaskEnterWindow

// adopt makes the desk of what is on the display: the windows that are there,
// where a keeper before left them if one did.
func (h *Host) adopt() (*desk.Desk, error) {
	tree, err := xproto.QueryTree(h.conn, h.root).Reply()
	if err != nil {
		return nil, err
	}
	found, read := h.meetAll(tree.Children)
	d := h.remembered()
	h.server = h.number()
	here := d != nil
	if h.opt.Recall != nil {
		d, here = h.opt.Recall(h.server, d)
	}
	var kept *desk.Desk // of which windows may open yet
	switch {
	case here:
		if !h.identify(d, found, read) {
			kept = d // its windows went with that keeper, and may open again
		}
	case d != nil:
		h.log.Info("the desk is the one kept from an earlier display")
		kept = d
	default:
		h.log.Info("no desk was left here, a new one begins")
		h.unkept = true
		if d, err = desk.New(h.monitors, desk.Settings{Layout: h.opt.Settings.Layout}, h.opt.Fresh...); err != nil {
			return nil, err
		}
	}
	d, _ = d.With(desk.Settle{Settings: h.opt.Settings})
	h.rules = d.Settings.Rules
	found, read = h.without(d, found, read)
	seen := h.recognise(d, found, read)
	return h.takeUp(d, kept, found, read).Hidden(seen), nil
}

// meetAll reads the windows that are to be managed, of those there are, all at once.
func (h *Host) meetAll(windows []xproto.Window) (found []*client, read []facts) {
	asked := make([]xproto.GetWindowAttributesCookie, len(windows))
	for i, win := range windows {
		asked[i] = xproto.GetWindowAttributes(h.conn, win)
	}
	var meetings []*meeting
	for i, win := range windows {
		attr, err := asked[i].Reply()
		if err != nil || attr.OverrideRedirect || attr.Class == xproto.WindowClassInputOnly {
			continue
		}
		h.listen(win, clientEvents)
		m := h.greet(win, false)
		m.attr = attr
		meetings = append(meetings, m)
	}
	for _, m := range meetings {
		m.inquire()
	}
	for _, m := range meetings {
		f, attr, ok := m.listen()
		if !ok || attr.MapState == xproto.MapStateUnmapped && len(f.mark) == 0 {
			h.listen(m.win, 0)
			continue // withdrawn: not to be managed
		}
		if !h.aside(m.win, f) {
			found, read = append(found, &client{win: m.win, mapped: attr.MapState != xproto.MapStateUnmapped}), append(read, f)
		}
	}
	return found, read
}

// describeAgain reads windows anew whose border is another now: what they ask of their
// size is told with it.
func (h *Host) describeAgain(clients []*client) {
	var meetings []*meeting
	for _, c := range clients {
		meetings = append(meetings, h.greet(c.win, false))
	}
	for _, m := range meetings {
		m.inquire()
	}
	for i, m := range meetings {
		if f, _, ok := m.listen(); ok {
			w := clients[i].desk
			h.describe(clients[i], f, &w)
			clients[i].desk = w
			h.emit(h.changed(clients[i], w))
		}
	}
	h.queue.signal()
}

// without leaves out the windows found that a rule has left alone, and takes in which
// the rules leave without a border.
func (h *Host) without(d *desk.Desk, found []*client, read []facts) ([]*client, []facts) {
	n := 0
	for i, c := range found {
		var w desk.Window
		h.describe(c, read[i], &w)
		w.Rect = read[i].rect
		rule := d.Rule(&w)
		if c.noBorder = rule.NoBorder; c.id == 0 && rule.Leave {
			h.listen(c.win, 0)
			continue
		}
		found[n], read[n] = c, read[i]
		n++
	}
	return found[:n], read[:n]
}

// remembered is the desk a keeper before left on the root window; nil where
// there is none that can be read.
func (h *Host) remembered() *desk.Desk {
	r, err := xproto.GetProperty(h.conn, false, h.root, h.atoms[aDesk], h.atoms[aUTF8], 0, 1<<20).Reply()
	if err != nil || len(r.Value) == 0 {
		return nil
	}
	d, err := scene.Read(bytes.NewReader(r.Value))
	if err != nil {
		h.log.Warn("the desk that a keeper before left here cannot be read", "error", err.Error())
		return nil
	}
	return d
}

// number is that by which this X server is told from others, which stands on the root for
// as long as it runs.
func (h *Host) number() int64 {
	r, err := xproto.GetProperty(h.conn, false, h.root, h.atoms[aServer], xproto.AtomCardinal, 0, 1).Reply()
	if err == nil && len(r.Value) == 4 {
		return int64(xgb.Get32(r.Value))
	}
	n := 1 + rand.Uint32N(1<<32-2)
	h.setCards(h.root, aServer, n)
	return int64(n)
}

// Server is a number that tells this X server from others.
func (h *Host) Server() int64 { return h.server }

// Begun tells whether nobody has kept this display before, as far as is known.
func (h *Host) Begun() bool { return h.unkept }

// identify gives windows the ids they have on a desk of this display, by the
// marks a keeper before left on them, and tells whether there were any.
func (h *Host) identify(d *desk.Desk, found []*client, read []facts) bool {
	taken := map[int]bool{}
	for i, c := range found {
		if m := read[i].mark; len(m) >= 2 && m[0] > 0 && d.Window(int(m[0])) != nil && !taken[int(m[0])] {
			c.id = int(m[0])
			taken[c.id] = true
		}
	}
	return len(taken) > 0
}

// recognise gives windows without an id those of the windows they look like on a
// desk, of which none of the others are. It lists those that could be seen.
func (h *Host) recognise(d *desk.Desk, found []*client, read []facts) (seen []int) {
	taken := map[int]bool{}
	var now, kept []desk.Window
	for i, c := range found {
		if c.id != 0 {
			taken[c.id] = true
			continue
		}
		var w desk.Window
		h.describe(c, read[i], &w)
		w.ID, w.Rect = i, read[i].rect
		now = append(now, w)
	}
	for _, w := range d.Windows {
		if !taken[w.ID] {
			kept = append(kept, *w)
		}
	}
	for i, id := range desk.Match(now, kept) {
		if found[i].id = id; found[i].mapped {
			seen = append(seen, id)
		}
	}
	slices.Sort(seen)
	return seen
}

// takeUp puts the windows found on a desk: those it knows where they were, the
// others where they are. Those it knows and that are gone go; where they were
// is kept for a while for those that open yet, as on a display that starts.
func (h *Host) takeUp(d, kept *desk.Desk, found []*client, read []facts) *desk.Desk {
	for _, w := range d.Windows {
		h.nextID = max(h.nextID, w.ID+1)
	}
	known := map[int]bool{}
	for i, c := range found {
		c.border = read[i].border
		if m := read[i].mark; len(m) >= 2 {
			c.border = geom.Clamp(int(m[1]), 0, display.MaxSide) // ours is on it now
		}
		if c.id != 0 {
			known[c.id] = true
		} else {
			c.id = h.nextID
			h.nextID++
		}
		h.clients[c.id], h.byXID[c.win] = c, c
		h.watchTime(c, read[i])
		h.strutsOf(c.win, read[i])
		c.skips = skips{read[i].state.modal, read[i].state.noTaskbar, read[i].state.noPager}
	}
	steps := []desk.Fact{desk.MonitorsAre{Monitors: h.monitors}}
	for _, w := range d.Windows {
		if !known[w.ID] {
			steps = append(steps, desk.Closed{ID: w.ID})
		}
	}
	var opened []desk.Fact
	for i, c := range found {
		var w desk.Window
		h.describe(c, read[i], &w)
		w.ID = c.id
		h.take(c)
		if known[c.id] {
			c.desk = w
			steps = append(steps, h.changed(c, w))
			continue
		}
		w.Rect, w.Minimised = c.shadow.Seen(read[i].rect), !c.mapped
		if n := read[i].Desktop; n >= 0 && n < int64(len(d.Workspaces)) {
			w.Workspace = d.Workspaces[n].ID
		}
		c.desk = w
		opened = append(opened, desk.Opened{Window: w, Keep: true})
	}
	d, _ = d.With(append(steps, opened...)...)
	if d.Focus == 0 {
		if ws := d.Order(d.Current(), d.At); len(ws) > 0 {
			d, _ = d.With(desk.Activated{ID: ws[0].ID})
		}
	}
	d, _ = d.With(desk.WorkAreas{Work: h.workAreas(d)})
	if kept != nil {
		d, _ = d.With(desk.Await{Kept: kept})
		h.awaitUntil = time.Now().Add(awaitFor)
		time.AfterFunc(awaitFor, h.queue.signal)
	}
	return d
}

// listen asks to be told of what happens to a window. A window is listened to
// before it is read, so that no change in between is missed.
func (h *Host) listen(win xproto.Window, events uint32) {
	xproto.ChangeWindowAttributes(h.conn, win, xproto.CwEventMask, []uint32{events})
}

// take makes a window ours, that survives us.
func (h *Host) take(c *client) {
	xproto.ChangeSaveSet(h.conn, xproto.SetModeInsert, c.win)
	h.setCards(c.win, aMark, uint32(c.id), uint32(c.border))
	c.extents = -1
	h.tellExtents(c, h.borderOf(c))
	// Some toolkits wait until a manager has put their windows into frames of its
	// own, and draw nothing before. Ours stay where they are, and are told that they
	// have a parent.
	e := xproto.ReparentNotifyEvent{Event: c.win, Window: c.win, Parent: h.check}
	xproto.SendEvent(h.conn, false, c.win, xproto.EventMaskStructureNotify, string(e.Bytes()))
}

// tellExtents writes _NET_FRAME_EXTENTS where the border around a window changed.
func (h *Host) tellExtents(c *client, border int) {
	if c.extents == border {
		return
	}
	c.extents = border
	b := uint32(border)
	h.setCards(c.win, aFrameExtents, b, b, b, b)
}

// aside takes care of windows that are none of the desk's: docks, the
// desktop, the atlas window. It tells whether this is one.
func (h *Host) aside(win xproto.Window, f facts) bool {
	switch h.kind(f.Types, f.IsTransient) {
	case aTypeDock:
		h.addDock(win)
		h.addOther(win)
		return true
	case aTypeDesktop:
		h.desktop[win] = true
		h.addOther(win)
		h.grabOther(win)
		xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeBelow})
		return true
	}
	if h.atlas.isIt(f) {
		h.atlas.adopt(win, f)
		return true
	}
	return false
}

// addOther takes up a dock or a desktop window, which are clients too.
func (h *Host) addOther(win xproto.Window) {
	if !slices.Contains(h.others, win) {
		h.others = append(h.others, win)
	}
	h.unlisted = true
	xproto.DeleteProperty(h.conn, win, h.atoms[aMark]) // of when it was another kind of window
	h.change(win, aState, h.atoms[aState], 32, display.Pack([]uint32{stateNormal, 0}))
}

// removeOther lets one go.
func (h *Host) removeOther(win xproto.Window) {
	h.unlist(win)
	xproto.DeleteProperty(h.conn, win, h.atoms[aState])
}

// unlist leaves one out of the lists of windows on the root.
func (h *Host) unlist(win xproto.Window) {
	if i := slices.Index(h.others, win); i >= 0 {
		h.others, h.unlisted = slices.Delete(h.others, i, i+1), true
	}
}

// mapRequest manages a new window, or shows again one that asks for it.
func (h *Host) mapRequest(win xproto.Window) {
	if c := h.byXID[win]; c != nil {
		h.askedToShow(c)
		return
	}
	if win == h.atlas.win && win != 0 {
		h.atlas.show()
		return
	}
	if h.docks[win] != nil || h.desktop[win] {
		xproto.MapWindow(h.conn, win)
		return
	}
	c := &client{win: win}
	h.listen(win, clientEvents)
	f, attr, ok := h.meet(c, true)
	if !ok || attr == nil {
		return
	}
	if attr.OverrideRedirect {
		h.listen(win, 0)
		xproto.MapWindow(h.conn, win)
		return
	}
	if h.aside(win, f) {
		if win != h.atlas.win {
			xproto.MapWindow(h.conn, win)
		}
		return
	}
	c.id, c.border = h.nextID, f.border
	w := h.opened(c, f)
	rule := h.desk.Rule(&w)
	if c.noBorder = rule.NoBorder; c.noBorder {
		w = h.opened(c, f) // with other sizes
	}
	if rule.Leave {
		h.listen(win, 0)
		xproto.MapWindow(h.conn, win)
		return
	}
	h.nextID++
	h.clients[c.id], h.byXID[win] = c, c
	h.doubt, h.unlisted = true, true
	h.fresh = append(h.fresh, c.id)
	h.take(c)
	if h.desk.Expecting() {
		f.Startup = h.startupOf(f)
	}
	h.watchTime(c, f)
	h.strutsOf(c.win, f)
	o := desk.Opened{Window: w, StartupID: f.Startup}
	o.Focus, o.Quiet = h.mayFocus(f)
	h.startupEnded(f.Startup)
	if h.desk.Expecting() {
		o.Ancestors = Ancestors(f.PID)
	}
	h.emit(o)
}

// opened is a new window for the core. It lies where it asked to, else in the middle of its
// parent or of the monitor you are on.
func (h *Host) opened(c *client, f facts) desk.Window {
	var w desk.Window
	h.describe(c, f, &w)
	w.ID, w.Urgent, w.Minimised = c.id, f.Urgent || f.state.urgent, f.Iconic
	w.Sticky, w.Above, w.Below = f.state.sticky || f.Desktop == allDesktops, f.state.above, f.state.below
	w.Fullscreen, w.Maximised = f.state.fullscreen, f.state.wide && f.state.high
	w.Wide, w.Tall = f.state.wide && !w.Maximised, f.state.high && !w.Maximised
	c.skips = skips{f.state.modal, f.state.noTaskbar, f.state.noPager}
	w.Modal = f.state.modal
	inner := f.rect.Inset(f.border)
	w.Rect = c.shadow.Seen(anchored(c.gravity, f.rect.X, f.rect.Y, inner.W, inner.H, f.border, h.borderOf(c)))
	middle := h.desk.Monitor(h.desk.At).Work
	if p := h.desk.Window(w.Parent); p != nil {
		middle = p.Rect
	}
	// A program that says 0,0 of a dialog by itself has not thought of a place.
	thoughtless := w.Parent != 0 && !f.Size.ByUser && f.rect.X == 0 && f.rect.Y == 0
	if !f.Size.Placed || thoughtless {
		w.Rect.X, w.Rect.Y = middle.X+(middle.W-w.Rect.W)/2, middle.Y+(middle.H-w.Rect.H)/2
	}
	if n := f.Desktop; n >= 0 && n < int64(len(h.desk.Workspaces)) {
		w.Workspace = h.desk.Workspaces[n].ID
	}
	c.desk = w
	return w
}

// askedToShow follows a managed window that maps itself: one minimised comes
// back (ICCCM 4.1.4), one on a hidden workspace stays there.
func (h *Host) askedToShow(c *client) {
	if w := h.desk.Window(c.id); w != nil && w.Minimised {
		h.commandOf("restore", c.id)
	}
}

// unmapped follows a window that is no longer mapped: by our own request, or
// by its client, who thereby withdraws it (ICCCM 4.1.4). A client says so
// besides by an event it sends, which has no window in Event; of a window that
// is mapped that cannot be true.
func (h *Host) unmapped(e xproto.UnmapNotifyEvent) {
	win := e.Window
	if e.Event == 0 {
		if c := h.byXID[win]; c != nil && !c.mapped {
			h.withdraw(c)
		}
		return
	}
	if win == h.atlas.win && win != 0 {
		h.atlas.unmapped()
		return
	}
	if h.docks[win] != nil || h.desktop[win] {
		h.removeOther(win)
		h.removeDock(win)
		delete(h.desktop, win)
		return
	}
	c := h.byXID[win]
	if c == nil {
		return
	}
	if c.unmaps > 0 {
		c.unmaps--
		return
	}
	h.withdraw(c)
}

// withdraw lets a window go that is to be ours no more.
func (h *Host) withdraw(c *client) {
	h.release(c)
	xproto.ChangeSaveSet(h.conn, xproto.SetModeDelete, c.win)
	h.listen(c.win, 0)
	for _, a := range []atom{aState, aWindowDesktop, aMark, aFrameExtents, aNetState, aAllowedActions, aFullscreenMonitors} {
		xproto.DeleteProperty(h.conn, c.win, h.atoms[a])
	}
	h.forget(c, false)
}

// mappedItself follows a window that was mapped past us, as one that says it is
// to be left alone since it became ours: it is.
func (h *Host) mappedItself(e xproto.MapNotifyEvent) {
	if c := h.byXID[e.Window]; c != nil && e.OverrideRedirect {
		h.withdraw(c)
	}
}

// destroyed follows a window that is gone for good.
func (h *Host) destroyed(win xproto.Window) {
	h.unlist(win)
	switch {
	case h.docks[win] != nil:
		h.removeDock(win)
	case win == h.atlas.win && win != 0:
		h.atlas.gone()
	}
	delete(h.desktop, win)
	if c := h.byXID[win]; c != nil {
		h.forget(c, false)
	}
	if h.board != nil && len(h.board.Taken()) > 0 {
		h.stir(keyboardPart) // its program may have held them
	}
}

func (h *Host) forget(c *client, quiet bool) {
	delete(h.clients, c.id)
	delete(h.byXID, c.win)
	h.doubt, h.unlisted = true, true
	delete(h.reaches, c.id)
	for _, a := range clientWritten {
		delete(h.wrote, property{c.win, h.atoms[a]})
		delete(h.fights, property{c.win, h.atoms[a]})
	}
	if h.struts[c.win] != nil {
		delete(h.struts, c.win)
		h.stir(strutsPart)
	}
	if h.focused == c.id {
		h.focused = 0
	}
	h.emit(desk.Closed{ID: c.id, Quiet: quiet})
}

// passOn carries out the request of a window that is none of ours. The root and
// our own windows ask for nothing.
func (h *Host) passOn(e xproto.ConfigureRequestEvent) {
	if h.own(e.Window) {
		return
	}
	var v []uint32
	mask := uint16(0)
	for _, p := range []struct {
		mask  uint16
		value uint32
	}{
		{xproto.ConfigWindowX, uint32(e.X)}, {xproto.ConfigWindowY, uint32(e.Y)},
		{xproto.ConfigWindowWidth, uint32(e.Width)}, {xproto.ConfigWindowHeight, uint32(e.Height)},
		{xproto.ConfigWindowBorderWidth, uint32(e.BorderWidth)},
		{xproto.ConfigWindowSibling, uint32(e.Sibling)}, {xproto.ConfigWindowStackMode, uint32(e.StackMode)},
	} {
		if e.ValueMask&p.mask != 0 {
			mask |= p.mask // and no bit that means nothing
			v = append(v, p.value)
		}
	}
	xproto.ConfigureWindowChecked(h.conn, e.Window, mask, v) // whatever comes of it is its program's own matter
}

// property follows a change of a window's own words and hints.
func (h *Host) property(e xproto.PropertyNotifyEvent) {
	if e.Atom == h.atoms[aStrut] || e.Atom == h.atoms[aStrutPartial] {
		h.strutChanged(e.Window)
		return
	}
	if e.Atom == h.atoms[aUserTime] {
		h.userTimeChanged(e.Window)
		return
	}
	if !slices.Contains([]xproto.Atom{
		h.atoms[aNetName], xproto.AtomWmName, xproto.AtomWmClass, h.atoms[aRole], xproto.AtomWmNormalHints, xproto.AtomWmHints,
		xproto.AtomWmTransientFor, h.atoms[aProtocols], h.atoms[aWindowType], h.atoms[aShadow], h.atoms[aMotifHints], h.atoms[aColormapWindows],
		h.atoms[aUserTimeWindow],
	}, e.Atom) {
		return
	}
	if e.Window == h.atlas.win {
		h.atlas.titled()
		return
	}
	c := h.byXID[e.Window]
	if c == nil || (e.Atom == h.atoms[aNetName] || e.Atom == xproto.AtomWmName) && h.putOff(c) {
		return
	}
	h.reread(c, false)
}

// nameEvery is how often the names of a window are read at most: some programs count in them.
const nameEvery = 100 * time.Millisecond

// putOff tells whether the names of a client were read just now; then they are read again
// somewhat later.
func (h *Host) putOff(c *client) bool {
	now := time.Now()
	if due := c.named.Add(nameEvery); now.Before(due) {
		h.late[c.id] = due
		h.wakeAt(due)
		return true
	}
	c.named = now
	return false
}

// readLate reads the names that were put off until now.
func (h *Host) readLate() {
	for id, due := range h.late {
		c := h.clients[id]
		if wait := time.Until(due); c != nil && wait > 0 {
			h.wakeAt(due)
			continue
		}
		delete(h.late, id)
		if c != nil {
			c.named = time.Now()
			h.reread(c, false)
		}
	}
}

// reread follows what a client says of itself by now. Some programs take their hints away
// while they are hidden. So a window that nobody sees does not become another kind, unless
// that is sure.
func (h *Host) reread(c *client, sure bool) {
	f, ok := h.readFacts(c)
	if !ok {
		return
	}
	if h.atlas.isIt(f) { // it told its name late
		h.forget(c, true)
		h.atlas.adopt(c.win, f)
		return
	}
	w, was, plain, hinted := c.desk, c.shadow, c.plain, c.hinted
	h.watchTime(c, f)
	h.describe(c, f, &w)
	delete(h.unsure, c.id)
	if !sure && w.MustFloat() != c.desk.MustFloat() && h.hidden(c.id) {
		w.Kind, w.MinW, w.MinH, w.Fixed, w.Sizes = c.desk.Kind, c.desk.MinW, c.desk.MinH, c.desk.Fixed, c.desk.Sizes
		h.unsure[c.id] = time.Time{}
	}
	if c.hinted = f.Urgent; f.Urgent != hinted {
		h.emit(desk.Changed{ID: c.id, Change: func(w *desk.Window) { w.Urgent = f.Urgent && w.ID != h.focused }})
	}
	if reflect.DeepEqual(w, c.desk) && c.shadow == was && c.plain == plain {
		return
	}
	c.desk = w
	h.emit(h.changed(c, w))
}

// hidden tells whether a window of the desk is not to be seen.
func (h *Host) hidden(id int) bool {
	if h.desk == nil {
		return false
	}
	w := h.desk.Window(id)
	return w != nil && !h.desk.Visible(w)
}

// seenFor is for how long a window must be seen before it is taken at its word that it is
// another kind of window.
const seenFor = time.Second

// checkUnsure looks again at windows that seemed to become another kind while nobody saw them.
func (h *Host) checkUnsure() {
	for id, due := range h.unsure {
		c, w := h.clients[id], h.desk.Window(id)
		switch {
		case c == nil || w == nil:
			delete(h.unsure, id)
		case !h.desk.Visible(w):
			h.unsure[id] = time.Time{}
		case due.IsZero():
			h.unsure[id] = time.Now().Add(seenFor)
			h.wakeAt(h.unsure[id])
		case !time.Now().Before(due):
			h.reread(c, true)
		default:
			h.wakeAt(due)
		}
	}
}

// changed is the fact that a window says other things of itself than before.
func (h *Host) changed(c *client, now desk.Window) desk.Fact {
	return desk.Changed{ID: c.id, Change: func(w *desk.Window) {
		w.Class = now.Class
		w.Title, w.App, w.Role, w.PID, w.Kind, w.Parent = now.Title, now.App, now.Role, now.PID, now.Kind, now.Parent
		w.MinW, w.MinH, w.Fixed, w.Sizes, w.NoFocus = now.MinW, now.MinH, now.Fixed, now.Sizes, now.NoFocus
	}}
}

// emit tells a fact. What it is about is looked at when the desk is shown next, since its client
// may have changed with it.
func (h *Host) emit(f desk.Fact) {
	if of, is := f.(desk.Changed); is {
		h.touched[of.ID] = true
	}
	h.events = append(h.events, keeper.Event{Fact: f})
}

// sortedDocks lists the docks in the order of their windows, so that what
// depends on them does not depend on chance.
func (h *Host) sortedDocks() []xproto.Window { return slices.Sorted(maps.Keys(h.docks)) }
