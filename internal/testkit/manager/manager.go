// Package manager is a small manager of windows for tests. It puts each window into a frame with
// a title bar, and has switches for what managers do differently. It holds to as much of ICCCM
// 2.0 and EWMH 1.5 as a pager asks of one.
package manager

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// Switches are what managers do differently. The zero value does what the standards ask.
type Switches struct {
	RefusesFull   bool          // moves of maximised windows
	RefusesMoves  bool          // all of them
	ByClient      bool          // a place asked for is that of the inside, whatever the gravity
	Late          time.Duration // after which each request is answered; meanwhile it goes on with others
	Slow          time.Duration // for which it stands still before it takes what came
	NoExtents     bool          // _NET_FRAME_EXTENTS is not kept
	StaleExtents  bool          // it says more than there is
	LeavesMapped  bool          // windows of other workspaces stay mapped, off the screen
	Grows         bool          // a workspace is added when the last one is occupied
	IgnoresApps   bool          // requests of source 1 are not followed
	OwnStacking   bool          // the order is its own, by who had the focus
	NoMoveResize  bool          // _NET_MOVERESIZE_WINDOW and _NET_RESTACK_WINDOW are missing
	NoBare        bool          // _NET_SHOWING_DESKTOP is missing
	BringsStrays  bool          // windows on a monitor that goes are brought to another one
	DragsDialogs  bool          // dialogs move with their windows
	ForgetsStates bool          // _NET_WM_STATE is not followed
}

// The frame, in pixels.
const (
	Bar  = 22
	Edge = 4
)

// Client is a window as the manager has it.
type Client struct {
	Win     xproto.Window
	Frame   xproto.Window
	Rect    geom.Rect // of the frame
	Desktop int       // -1 for all
	States  map[string]bool
	Hidden  bool

	before geom.Rect // where it was before it covered more
	ignore int       // UnmapNotify events of our own making
	parent xproto.Window
	used   int
}

// Manager manages the windows of a display.
type Manager struct {
	Check xproto.Window // owns WM_S0

	conn   *xgb.Conn
	screen display.Screen
	root   xproto.Window
	names  map[string]xproto.Atom
	byAtom map[xproto.Atom]string
	calls  chan func()
	ended  chan struct{}

	sw       Switches
	clients  []*Client
	docks    map[xproto.Window]geom.Rect
	stack    []*Client // the lowest first
	laid     []*Client // as it was last carried out
	current  int
	count    int
	active   *Client
	bare     bool
	uses     int
	monitors []geom.Rect

	wake     chan struct{}
	mu       sync.Mutex
	events   []xgb.Event
	gone     bool     // the display is
	requests []string // by other clients, in order
}

// Start has a manager of its own manage a display until the test ends.
func Start(t testing.TB, name string, workspaces int, sw Switches) *Manager {
	t.Helper()
	conn, wire, err := display.Connect(name)
	if err != nil {
		t.Fatal(err)
	}
	info := xproto.Setup(conn).DefaultScreen(conn)
	m := &Manager{
		conn: conn, root: info.Root, names: map[string]xproto.Atom{}, byAtom: map[xproto.Atom]string{}, docks: map[xproto.Window]geom.Rect{},
		calls: make(chan func(), 256), wake: make(chan struct{}, 1), ended: make(chan struct{}), sw: sw, count: workspaces,
	}
	first, has := display.Extension(conn, "RANDR")
	m.screen = display.Screen{Conn: conn, Info: info, RandR: has, EDID: m.atom("EDID")}
	if has {
		wire.TellScreens(first, m.root)
		randr.SelectInput(conn, m.root, randr.NotifyMaskScreenChange|randr.NotifyMaskCrtcChange|randr.NotifyMaskOutputChange)
	}
	if err := m.begin(); err != nil {
		t.Fatal(err)
	}
	go m.listen()
	go m.run()
	t.Cleanup(m.Stop)
	return m
}

// Kill has the manager die, whatever it is at.
func (m *Manager) Kill() { m.conn.Close() }

// Stop has the manager go: frames are taken off, and windows stay where they are.
func (m *Manager) Stop() {
	select {
	case <-m.ended:
		return
	default:
	}
	m.Do(func() {
		for _, c := range m.clients {
			xproto.ReparentWindow(m.conn, c.Win, m.root, int16(c.Rect.X+Edge), int16(c.Rect.Y+Bar))
			xproto.MapWindow(m.conn, c.Win)
		}
		xproto.DestroyWindow(m.conn, m.Check)
		m.conn.Sync()
		m.conn.Close()
	})
	<-m.ended
}

// Do does something on the manager's goroutine, and waits for it.
func (m *Manager) Do(f func()) {
	done := make(chan struct{})
	select {
	case m.calls <- func() { f(); close(done) }:
	case <-m.ended:
		return
	}
	select {
	case <-done:
	case <-m.ended:
	}
}

// Switch changes what the manager does differently.
func (m *Manager) Switch(sw Switches) { m.Do(func() { m.sw = sw; m.announce() }) }

// Requests are what other clients asked for since they were last taken.
func (m *Manager) Requests() []string {
	m.Do(func() {}) // those that have come are followed
	m.mu.Lock()
	defer m.mu.Unlock()
	r := m.requests
	m.requests = nil
	return r
}

// State is a copy of a client; ok is false where there is none.
func (m *Manager) State(win xproto.Window) (c Client, ok bool) {
	m.Do(func() {
		if found := m.find(win); found != nil {
			c, ok = *found, true
		}
	})
	return c, ok
}

// Shown is the workspace that is shown, how many there are, and the window with the focus.
func (m *Manager) Shown() (current, count int, active xproto.Window, bare bool) {
	m.Do(func() {
		current, count, bare = m.current, m.count, m.bare
		if m.active != nil {
			active = m.active.Win
		}
	})
	return
}

// Windows are the clients, in the order in which they came.
func (m *Manager) Windows() (wins []xproto.Window) {
	m.Do(func() {
		for _, c := range m.clients {
			wins = append(wins, c.Win)
		}
	})
	return wins
}

// Place moves a window by the manager's own doing; its frame gets the place.
func (m *Manager) Place(win xproto.Window, r geom.Rect) {
	m.Do(func() {
		if c := m.find(win); c != nil {
			m.place(c, r)
		}
	})
}

// Ask has a request followed as if another client had made it.
func (m *Manager) Ask(win xproto.Window, kind string, data ...uint32) {
	m.Do(func() {
		var d [5]uint32
		copy(d[:], data)
		m.message(win, kind, d[:])
	})
}

// listen takes events off the connection as they come: its reader stands still where its
// own room is full.
func (m *Manager) listen() {
	for {
		e, err := m.conn.WaitForEvent()
		m.mu.Lock()
		m.gone = e == nil && err == nil
		if e != nil {
			m.events = append(m.events, e)
		}
		gone := m.gone
		m.mu.Unlock()
		select {
		case m.wake <- struct{}{}:
		default:
		}
		if gone {
			return
		}
	}
}

func (m *Manager) run() {
	defer close(m.ended)
	for {
		select {
		case <-m.wake:
			time.Sleep(m.sw.Slow)
			m.mu.Lock()
			events, gone := m.events, m.gone
			m.events = nil
			m.mu.Unlock()
			for _, e := range events {
				m.event(e)
			}
			if gone {
				return
			}
		case f := <-m.calls:
			f()
		}
	}
}

// atom is an atom by its name.
func (m *Manager) atom(name string) xproto.Atom {
	if a, ok := m.names[name]; ok {
		return a
	}
	r, err := xproto.InternAtom(m.conn, false, uint16(len(name)), name).Reply()
	if err != nil {
		return 0
	}
	m.names[name], m.byAtom[r.Atom] = r.Atom, name
	return r.Atom
}

// named is the name of an atom.
func (m *Manager) named(a xproto.Atom) string {
	if name, ok := m.byAtom[a]; ok {
		return name
	}
	r, err := xproto.GetAtomName(m.conn, a).Reply()
	if err != nil {
		return ""
	}
	m.names[r.Name], m.byAtom[a] = a, r.Name
	return r.Name
}

func (m *Manager) begin() error {
	id, err := xproto.NewWindowId(m.conn)
	if err != nil {
		return err
	}
	m.Check = id
	xproto.CreateWindow(m.conn, 0, id, m.root, -10, -10, 1, 1, 0, xproto.WindowClassInputOnly, 0, xproto.CwOverrideRedirect, []uint32{1})
	xproto.SetSelectionOwner(m.conn, id, m.atom("WM_S0"), xproto.TimeCurrentTime)
	mask := uint32(xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify | xproto.EventMaskStructureNotify | xproto.EventMaskPropertyChange)
	if err := xproto.ChangeWindowAttributesChecked(m.conn, m.root, xproto.CwEventMask, []uint32{mask}).Check(); err != nil {
		return fmt.Errorf("another manager has the display: %w", err)
	}
	m.readMonitors()
	m.announce()
	tree, err := xproto.QueryTree(m.conn, m.root).Reply()
	if err != nil {
		return err
	}
	for _, win := range tree.Children {
		if a, err := xproto.GetWindowAttributes(m.conn, win).Reply(); err == nil && !a.OverrideRedirect && a.MapState == xproto.MapStateViewable {
			m.manage(win, 1)
		}
	}
	m.focus(nil)
	m.write()
	return nil
}

func (m *Manager) readMonitors() {
	m.monitors = nil
	for _, mon := range m.screen.Monitors() {
		m.monitors = append(m.monitors, mon.Rect)
	}
}

// supported are what the manager says that it follows.
func (m *Manager) supported() []string {
	list := []string{
		"_NET_SUPPORTED", "_NET_SUPPORTING_WM_CHECK", "_NET_CLIENT_LIST", "_NET_CLIENT_LIST_STACKING", "_NET_NUMBER_OF_DESKTOPS", "_NET_DESKTOP_NAMES",
		"_NET_CURRENT_DESKTOP", "_NET_ACTIVE_WINDOW", "_NET_CLOSE_WINDOW", "_NET_WM_DESKTOP", "_NET_WM_STATE", "_NET_WM_STATE_HIDDEN",
		"_NET_WM_STATE_MAXIMIZED_HORZ", "_NET_WM_STATE_MAXIMIZED_VERT", "_NET_WM_STATE_FULLSCREEN", "_NET_WM_STATE_ABOVE", "_NET_WM_STATE_BELOW",
	}
	if !m.sw.NoExtents {
		list = append(list, "_NET_FRAME_EXTENTS")
	}
	if !m.sw.NoMoveResize {
		list = append(list, "_NET_MOVERESIZE_WINDOW", "_NET_RESTACK_WINDOW")
	}
	if !m.sw.NoBare {
		list = append(list, "_NET_SHOWING_DESKTOP")
	}
	return list
}

func (m *Manager) announce() {
	var atoms []uint32
	for _, name := range m.supported() {
		atoms = append(atoms, uint32(m.atom(name)))
	}
	m.set(m.root, "_NET_SUPPORTED", xproto.AtomAtom, atoms...)
	for _, win := range []xproto.Window{m.root, m.Check} {
		m.set(win, "_NET_SUPPORTING_WM_CHECK", xproto.AtomWindow, uint32(m.Check))
	}
}

func (m *Manager) set(win xproto.Window, name string, kind xproto.Atom, values ...uint32) {
	xproto.ChangeProperty(m.conn, xproto.PropModeReplace, win, m.atom(name), kind, 32, uint32(len(values)), display.Pack(values))
}

func (m *Manager) get(win xproto.Window, name string) []uint32 {
	return display.Cards(xproto.GetProperty(m.conn, false, win, m.atom(name), xproto.GetPropertyTypeAny, 0, 64))
}

// write writes the root's properties.
func (m *Manager) write() {
	var list, stacking []uint32
	for win := range m.docks {
		list, stacking = append(list, uint32(win)), append(stacking, uint32(win))
	}
	for _, c := range m.clients {
		list = append(list, uint32(c.Win))
	}
	for _, c := range m.stack {
		stacking = append(stacking, uint32(c.Win))
	}
	m.set(m.root, "_NET_CLIENT_LIST", xproto.AtomWindow, list...)
	m.set(m.root, "_NET_CLIENT_LIST_STACKING", xproto.AtomWindow, stacking...)
	m.set(m.root, "_NET_NUMBER_OF_DESKTOPS", xproto.AtomCardinal, uint32(m.count))
	m.set(m.root, "_NET_CURRENT_DESKTOP", xproto.AtomCardinal, uint32(m.current))
	active := uint32(0)
	if m.active != nil {
		active = uint32(m.active.Win)
	}
	m.set(m.root, "_NET_ACTIVE_WINDOW", xproto.AtomWindow, active)
	bare := uint32(0)
	if m.bare {
		bare = 1
	}
	if !m.sw.NoBare {
		m.set(m.root, "_NET_SHOWING_DESKTOP", xproto.AtomCardinal, bare)
	}
}

// tell writes a client's own properties.
func (m *Manager) tell(c *Client) {
	at := uint32(c.Desktop)
	if c.Desktop < 0 {
		at = 0xffffffff
	}
	m.set(c.Win, "_NET_WM_DESKTOP", xproto.AtomCardinal, at)
	var states []uint32
	for _, name := range []string{"MAXIMIZED_HORZ", "MAXIMIZED_VERT", "FULLSCREEN", "ABOVE", "BELOW", "HIDDEN", "DEMANDS_ATTENTION"} {
		if c.States[name] {
			states = append(states, uint32(m.atom("_NET_WM_STATE_"+name)))
		}
	}
	m.set(c.Win, "_NET_WM_STATE", xproto.AtomAtom, states...)
	state := uint32(1)
	if c.States["HIDDEN"] || !m.sw.LeavesMapped && !m.seen(c) {
		state = 3 // iconic
	}
	m.set(c.Win, "WM_STATE", m.atom("WM_STATE"), state, 0)
	extents := []uint32{Edge, Edge, Bar, Edge}
	if m.sw.StaleExtents {
		extents = []uint32{40, 40, 60, 40}
	}
	if !m.sw.NoExtents {
		m.set(c.Win, "_NET_FRAME_EXTENTS", xproto.AtomCardinal, extents...)
	}
}

func (m *Manager) find(win xproto.Window) *Client {
	for _, c := range m.clients {
		if c.Win == win || c.Frame == win {
			return c
		}
	}
	return nil
}

func (m *Manager) seen(c *Client) bool {
	return !m.bare && !c.States["HIDDEN"] && (c.Desktop < 0 || c.Desktop == m.current)
}

// manage puts a window into a frame.
func (m *Manager) manage(win xproto.Window, unmaps int) {
	if m.find(win) != nil {
		return
	}
	g, err := xproto.GetGeometry(m.conn, xproto.Drawable(win)).Reply()
	if err != nil {
		return
	}
	types := m.get(win, "_NET_WM_WINDOW_TYPE")
	if len(types) > 0 && xproto.Atom(types[0]) == m.atom("_NET_WM_WINDOW_TYPE_DOCK") {
		m.docks[win] = geom.R(int(g.X), int(g.Y), int(g.Width), int(g.Height))
		xproto.MapWindow(m.conn, win)
		m.write()
		return
	}
	c := &Client{Win: win, Desktop: m.current, States: map[string]bool{}, ignore: unmaps}
	if v := m.get(win, "_NET_WM_DESKTOP"); len(v) > 0 && int(v[0]) < m.count {
		c.Desktop = int(v[0])
	}
	if v := m.get(win, "WM_TRANSIENT_FOR"); len(v) > 0 {
		c.parent = xproto.Window(v[0])
	}
	c.Frame, err = xproto.NewWindowId(m.conn)
	if err != nil {
		return
	}
	c.Rect = geom.R(int(g.X), int(g.Y), int(g.Width)+2*Edge, int(g.Height)+Bar+Edge)
	mask := uint32(xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify)
	xproto.CreateWindow(m.conn, 0, c.Frame, m.root, int16(c.Rect.X), int16(c.Rect.Y), uint16(c.Rect.W), uint16(c.Rect.H), 0, xproto.WindowClassInputOutput, 0,
		xproto.CwBackPixel|xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{0x6f7a83, 1, mask})
	xproto.ChangeSaveSet(m.conn, xproto.SetModeInsert, win)
	xproto.ConfigureWindow(m.conn, win, xproto.ConfigWindowBorderWidth, []uint32{0})
	xproto.ReparentWindow(m.conn, win, c.Frame, Edge, Bar)
	xproto.ChangeWindowAttributes(m.conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
	m.clients, m.stack = append(m.clients, c), append(m.stack, c)
	m.place(c, c.Rect)
	xproto.MapWindow(m.conn, win)
	m.show(c)
	m.tell(c)
	m.grow()
	if m.seen(c) {
		m.focus(c)
	}
	m.write()
}

// unmanage lets go of a window that is withdrawn or gone.
func (m *Manager) unmanage(c *Client, gone bool) {
	if !gone {
		xproto.ReparentWindow(m.conn, c.Win, m.root, int16(c.Rect.X+Edge), int16(c.Rect.Y+Bar))
		for _, name := range []string{"WM_STATE", "_NET_WM_DESKTOP", "_NET_WM_STATE"} {
			xproto.DeleteProperty(m.conn, c.Win, m.atom(name))
		}
	}
	xproto.DestroyWindow(m.conn, c.Frame)
	same := func(o *Client) bool { return o == c }
	m.clients, m.stack = slices.DeleteFunc(m.clients, same), slices.DeleteFunc(m.stack, same)
	if m.active == c {
		m.active = nil
		m.focus(m.latest())
	}
	m.grow()
	m.write()
}

// latest is the window that had the focus last of those that are seen.
func (m *Manager) latest() (best *Client) {
	for _, c := range m.clients {
		if m.seen(c) && (best == nil || c.used > best.used) {
			best = c
		}
	}
	return best
}

// grow adds a workspace where the last one is occupied.
func (m *Manager) grow() {
	if m.sw.Grows && slices.ContainsFunc(m.clients, func(c *Client) bool { return c.Desktop == m.count-1 }) {
		m.count++
	}
}

// far is where windows of other workspaces are that stay mapped.
const far = 12000

// place gives a frame a place, and its window the room in it.
func (m *Manager) place(c *Client, r geom.Rect) {
	r.W, r.H = max(r.W, 2*Edge+1), max(r.H, Bar+Edge+1)
	c.Rect = r
	x := r.X
	if m.sw.LeavesMapped && !m.seen(c) {
		x += far
	}
	xproto.ConfigureWindow(m.conn, c.Frame, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
		[]uint32{uint32(int32(x)), uint32(int32(r.Y)), uint32(r.W), uint32(r.H)})
	xproto.ConfigureWindow(m.conn, c.Win, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
		[]uint32{Edge, Bar, uint32(r.W - 2*Edge), uint32(r.H - Bar - Edge)})
	// ICCCM 4.1.5: a window that is moved alone is told so by an event that is made up.
	e := xproto.ConfigureNotifyEvent{Event: c.Win, Window: c.Win, X: int16(x + Edge), Y: int16(r.Y + Bar), Width: uint16(r.W - 2*Edge), Height: uint16(r.H - Bar - Edge)}
	xproto.SendEvent(m.conn, false, c.Win, xproto.EventMaskStructureNotify, string(e.Bytes()))
}

// show has a frame be seen where it is to be.
func (m *Manager) show(c *Client) {
	hide := !m.seen(c)
	switch {
	case hide && m.sw.LeavesMapped && !c.States["HIDDEN"] && !m.bare:
		m.place(c, c.Rect)
	case hide && !c.Hidden:
		xproto.UnmapWindow(m.conn, c.Frame)
		c.ignore++
		xproto.UnmapWindow(m.conn, c.Win)
		c.Hidden = true
	case !hide:
		m.place(c, c.Rect)
		xproto.MapWindow(m.conn, c.Win)
		xproto.MapWindow(m.conn, c.Frame)
		c.Hidden = false
	}
	m.tell(c)
}

// focus gives the focus to a window, or to none.
func (m *Manager) focus(c *Client) {
	m.active = c
	if c == nil {
		xproto.SetInputFocus(m.conn, xproto.InputFocusPointerRoot, m.root, xproto.TimeCurrentTime)
		return
	}
	m.uses++
	c.used = m.uses
	m.raise(c)
	xproto.SetInputFocus(m.conn, xproto.InputFocusPointerRoot, c.Win, xproto.TimeCurrentTime)
}

func (m *Manager) raise(c *Client) {
	m.stack = append(slices.DeleteFunc(m.stack, func(o *Client) bool { return o == c }), c)
	m.restack()
}

// layer is which windows one lies over: those of the lower layers.
func (c *Client) layer() int {
	switch {
	case c.States["BELOW"]:
		return 0
	case c.States["FULLSCREEN"]:
		return 3
	case c.States["ABOVE"]:
		return 2
	}
	return 1
}

// restack puts the frames in the order, those above over the others.
func (m *Manager) restack() {
	slices.SortStableFunc(m.stack, func(a, b *Client) int { return a.layer() - b.layer() })
	same := 0 // at the bottom, as they are on the server
	for same < len(m.stack) && same < len(m.laid) && m.laid[same] == m.stack[same] {
		same++
	}
	if n := len(m.laid); same < n && same < len(m.stack) && slices.Equal(m.laid[same+1:], m.stack[same:min(n-1, len(m.stack))]) {
		same = n - 1 // one went from among them to the top
	}
	m.laid = slices.Clone(m.stack)
	for _, c := range m.stack[same:] {
		xproto.ConfigureWindow(m.conn, c.Frame, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
	}
}

// change shows another workspace.
func (m *Manager) change(to int) {
	if to < 0 || to >= m.count || to == m.current {
		return
	}
	m.current, m.bare = to, false
	for _, c := range m.clients {
		m.show(c)
	}
	if m.active == nil || !m.seen(m.active) {
		m.focus(m.latest())
	}
	m.write()
}

// area is the monitor a frame lies on, less the docks at its edges.
func (m *Manager) area(c *Client, whole bool) geom.Rect {
	best, most := geom.R(0, 0, 1920, 1080), int64(-1)
	for _, r := range m.monitors {
		if a := r.Intersect(c.Rect).Area(); a > most {
			best, most = r, a
		}
	}
	if whole {
		return best
	}
	for _, d := range m.docks {
		switch {
		case !best.Overlaps(d):
		case d.Y == best.Y && d.W > d.H:
			best.Y, best.H = best.Y+d.H, best.H-d.H
		case d.W > d.H:
			best.H -= d.H
		}
	}
	return best
}

// cover gives a window the place that its states ask for.
func (m *Manager) cover(c *Client, was bool) {
	wide, tall, full := c.States["MAXIMIZED_HORZ"], c.States["MAXIMIZED_VERT"], c.States["FULLSCREEN"]
	if now := wide || tall || full; now && !was {
		c.before = c.Rect
	} else if !now && was {
		m.place(c, c.before)
		return
	}
	r := c.before
	area := m.area(c, false)
	if wide {
		r.X, r.W = area.X, area.W
	}
	if tall {
		r.Y, r.H = area.Y, area.H
	}
	if full {
		r = m.area(c, true)
	}
	if wide || tall || full {
		m.place(c, r)
	}
}

func (c *Client) full() bool {
	return c.States["MAXIMIZED_HORZ"] || c.States["MAXIMIZED_VERT"] || c.States["FULLSCREEN"]
}

// note keeps in mind what was asked for.
func (m *Manager) note(format string, args ...any) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.requests = append(m.requests, fmt.Sprintf(format, args...))
}

// soon follows a request, when its time has come.
func (m *Manager) soon(f func()) {
	if m.sw.Late == 0 {
		f()
		return
	}
	time.AfterFunc(m.sw.Late, func() { m.Do(f) })
}

func (m *Manager) event(e xgb.Event) {
	switch e := e.(type) {
	case xproto.MapRequestEvent:
		if c := m.find(e.Window); c != nil {
			m.note("map %d", e.Window)
			m.soon(func() { m.deiconify(c) })
			return
		}
		m.manage(e.Window, 0)
	case xproto.UnmapNotifyEvent:
		c := m.find(e.Window)
		if c == nil || e.Window != c.Win {
			return
		}
		if e.Event != 0 && c.ignore > 0 { // one that was made up has no window in Event
			c.ignore--
			return
		}
		m.unmanage(c, false)
	case xproto.DestroyNotifyEvent:
		if _, dock := m.docks[e.Window]; dock {
			delete(m.docks, e.Window)
			m.write()
		}
		if c := m.find(e.Window); c != nil && e.Window == c.Win {
			m.unmanage(c, true)
		}
	case xproto.ConfigureRequestEvent:
		m.configure(e)
	case xproto.ConfigureNotifyEvent:
		if e.Window == m.root {
			m.screens()
		}
	case xproto.ClientMessageEvent:
		if e.Format != 32 {
			return
		}
		kind := m.named(e.Type)
		m.note("%s %d %v", kind, e.Window, e.Data.Data32)
		data := slices.Clone(e.Data.Data32)
		m.soon(func() { m.message(e.Window, kind, data) })
	}
}

// screens follows monitors that have changed.
func (m *Manager) screens() {
	m.readMonitors()
	for _, c := range m.clients {
		on := slices.ContainsFunc(m.monitors, func(r geom.Rect) bool { return r.Overlaps(c.Rect) })
		if !on && m.sw.BringsStrays && len(m.monitors) > 0 {
			m.place(c, geom.R(m.monitors[0].X+40, m.monitors[0].Y+40, c.Rect.W, c.Rect.H))
		}
	}
}

func (m *Manager) configure(e xproto.ConfigureRequestEvent) {
	c := m.find(e.Window)
	if c == nil {
		values := []uint32{uint32(int32(e.X)), uint32(int32(e.Y)), uint32(e.Width), uint32(e.Height)}
		mask := e.ValueMask & (xproto.ConfigWindowX | xproto.ConfigWindowY | xproto.ConfigWindowWidth | xproto.ConfigWindowHeight)
		var some []uint32
		for i, bit := range []uint16{xproto.ConfigWindowX, xproto.ConfigWindowY, xproto.ConfigWindowWidth, xproto.ConfigWindowHeight} {
			if mask&bit != 0 {
				some = append(some, values[i])
			}
		}
		xproto.ConfigureWindow(m.conn, e.Window, mask, some)
		return
	}
	m.note("configure %d %d %d %d %d %d", e.Window, e.ValueMask, e.X, e.Y, e.Width, e.Height)
	m.soon(func() {
		flags := uint32(e.ValueMask&0xf) << 8
		m.moveResize(c, []uint32{flags | xproto.GravityNorthWest, uint32(int32(e.X)), uint32(int32(e.Y)), uint32(e.Width), uint32(e.Height)})
		if e.ValueMask&xproto.ConfigWindowStackMode != 0 && !m.sw.OwnStacking {
			m.stackBy(c, m.find(e.Sibling), uint32(e.StackMode))
		}
	})
}

// stackBy puts a window over all others or under them, or right over or under one.
func (m *Manager) stackBy(c, beside *Client, mode uint32) {
	rest := slices.DeleteFunc(slices.Clone(m.stack), func(o *Client) bool { return o == c })
	at := 0
	switch i := slices.Index(rest, beside); {
	case i >= 0 && mode == xproto.StackModeBelow:
		at = i
	case i >= 0:
		at = i + 1
	case mode == xproto.StackModeAbove:
		at = len(rest)
	}
	m.stack = slices.Insert(rest, at, c)
	m.restack()
	m.write()
}

// deiconify brings a window back.
func (m *Manager) deiconify(c *Client) {
	delete(c.States, "HIDDEN")
	m.show(c)
	if m.seen(c) {
		m.focus(c)
	}
	m.write()
}

// message follows a request of a pager.
func (m *Manager) message(win xproto.Window, kind string, d []uint32) {
	c := m.find(win)
	switch kind {
	case "_NET_CURRENT_DESKTOP":
		m.change(int(d[0]))
	case "_NET_NUMBER_OF_DESKTOPS":
		m.number(int(d[0]))
	case "_NET_SHOWING_DESKTOP":
		m.showBare(d[0] != 0)
	}
	if c == nil {
		return
	}
	source := map[string]uint32{"_NET_ACTIVE_WINDOW": d[0], "_NET_WM_DESKTOP": d[1], "_NET_CLOSE_WINDOW": d[1], "_NET_WM_STATE": d[3], "_NET_RESTACK_WINDOW": d[0], "_NET_MOVERESIZE_WINDOW": d[0] >> 12 & 3}[kind]
	if source == 1 && m.sw.IgnoresApps {
		return
	}
	switch kind {
	case "_NET_ACTIVE_WINDOW":
		m.activate(c)
	case "_NET_CLOSE_WINDOW":
		m.close(c)
	case "_NET_WM_DESKTOP":
		m.send(c, d[0])
	case "_NET_WM_STATE":
		m.state(c, d)
	case "_NET_MOVERESIZE_WINDOW":
		if !m.sw.NoMoveResize {
			m.moveResize(c, d)
		}
	case "_NET_RESTACK_WINDOW":
		if !m.sw.NoMoveResize && !m.sw.OwnStacking {
			m.stackBy(c, m.find(xproto.Window(d[1])), d[2])
		}
	case "WM_CHANGE_STATE":
		if d[0] == 3 {
			c.States["HIDDEN"] = true
			m.show(c)
			if m.active == c {
				m.focus(m.latest())
			}
			m.write()
		}
	}
}

func (m *Manager) activate(c *Client) {
	delete(c.States, "HIDDEN")
	m.bare = false
	if c.Desktop >= 0 && c.Desktop != m.current {
		m.change(c.Desktop)
	}
	for _, o := range m.clients {
		m.show(o)
	}
	m.focus(c)
	m.write()
}

func (m *Manager) close(c *Client) {
	for _, p := range m.get(c.Win, "WM_PROTOCOLS") {
		if xproto.Atom(p) == m.atom("WM_DELETE_WINDOW") {
			data := xproto.ClientMessageDataUnionData32New([]uint32{p, xproto.TimeCurrentTime, 0, 0, 0})
			e := xproto.ClientMessageEvent{Format: 32, Window: c.Win, Type: m.atom("WM_PROTOCOLS"), Data: data}
			xproto.SendEvent(m.conn, false, c.Win, 0, string(e.Bytes()))
			return
		}
	}
	xproto.KillClient(m.conn, uint32(c.Win))
}

func (m *Manager) send(c *Client, to uint32) {
	if to == 0xffffffff {
		c.Desktop = -1
	} else if int(to) < m.count {
		c.Desktop = int(to)
	}
	m.show(c)
	if m.active == c && !m.seen(c) {
		m.focus(m.latest())
	}
	m.grow()
	m.write()
}

// number makes workspaces, or takes the last ones away.
func (m *Manager) number(n int) {
	m.count = max(n, 1)
	for _, c := range m.clients {
		if c.Desktop >= m.count {
			c.Desktop = m.count - 1
			m.show(c)
		}
	}
	m.grow()
	m.change(min(m.current, m.count-1))
	m.write()
}

func (m *Manager) showBare(on bool) {
	if m.sw.NoBare {
		return
	}
	m.bare = on
	for _, c := range m.clients {
		m.show(c)
	}
	m.focus(m.latest())
	m.write()
}

// state follows _NET_WM_STATE: 0 takes away, 1 adds, 2 toggles.
func (m *Manager) state(c *Client, d []uint32) {
	if m.sw.ForgetsStates {
		return
	}
	was, layer := c.full(), c.layer()
	for _, a := range d[1:3] {
		name, ok := strings.CutPrefix(m.named(xproto.Atom(a)), "_NET_WM_STATE_")
		if !ok || a == 0 || name == "HIDDEN" { // which is the manager's to set
			continue
		}
		if c.States[name] = d[0] == 1 || d[0] == 2 && !c.States[name]; !c.States[name] {
			delete(c.States, name)
		}
	}
	m.cover(c, was)
	if c.layer() < layer && m.active != nil && m.active != c { // it does not come to lie over the focus
		m.stack = slices.DeleteFunc(m.stack, func(o *Client) bool { return o == c })
		m.stack = slices.Insert(m.stack, slices.Index(m.stack, m.active), c)
	}
	m.restack()
	m.tell(c)
	m.write()
}

// moveResize follows _NET_MOVERESIZE_WINDOW, and what a ConfigureRequest asks for.
func (m *Manager) moveResize(c *Client, d []uint32) {
	if m.sw.RefusesMoves || m.sw.RefusesFull && c.full() {
		return
	}
	at := func(i int) int { return int(int32(d[i])) }
	r := c.Rect
	if d[0]&(1<<10) != 0 {
		r.W = at(3) + 2*Edge
	}
	if d[0]&(1<<11) != 0 {
		r.H = at(4) + Bar + Edge
	}
	dx, dy := 0, 0
	if m.sw.ByClient || d[0]&0xff == xproto.GravityStatic {
		dx, dy = Edge, Bar
	}
	if d[0]&(1<<8) != 0 {
		r.X = at(1) - dx
	}
	if d[0]&(1<<9) != 0 {
		r.Y = at(2) - dy
	}
	was := c.Rect
	m.place(c, r)
	for _, o := range m.clients {
		if m.sw.DragsDialogs && o.parent == c.Win {
			m.place(o, geom.R(o.Rect.X+r.X-was.X, o.Rect.Y+r.Y-was.Y, o.Rect.W, o.Rect.H))
		}
	}
}

// Title is the title of a window, as its client wrote it.
func (m *Manager) Title(win xproto.Window) string {
	r, err := xproto.GetProperty(m.conn, false, win, m.atom("_NET_WM_NAME"), xproto.GetPropertyTypeAny, 0, 256).Reply()
	if err != nil {
		return ""
	}
	return desk.CleanText(string(r.Value), desk.MaxTitle)
}

// Names writes the names of workspaces, as any pager may.
func (m *Manager) Names(names ...string) {
	m.Do(func() {
		data := []byte(strings.Join(names, "\x00") + "\x00")
		xproto.ChangeProperty(m.conn, xproto.PropModeReplace, m.root, m.atom("_NET_DESKTOP_NAMES"), m.atom("UTF8_STRING"), 8, uint32(len(data)), data)
		m.conn.Sync()
	})
}
