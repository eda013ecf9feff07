// Package x11 is the keeper's host on an X server: the display's window manager, by ICCCM 2.0
// and EWMH 1.5, in its own code.
//
// All methods but those of the queue run on the keeper's goroutine. One more
// goroutine takes events from the connection into the queue and does nothing
// else, so that the connection never stands still.
package x11

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/camera"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/picture"
	"zatlas/internal/status"
)

// Options say how a display is kept. Zero values mean the usual.
type Options struct {
	Display  string              // as in $DISPLAY; empty for that
	Replace  bool                // ask the present manager to go
	Border   int                 // pixels around every window, 1 to 32; 0 means 2
	Screens  board.ScreenOptions // in the atlas window
	Amiss    string              // what is said at the start, in a sentence; empty for nothing
	Quiet    bool                // show no strip of words after a chord
	Board    board.Options
	AtlasKey keys.Modifiers // with which the pointer moves and resizes windows; none for Super
	Pointing Pointing       // what the pointer has to do with the focus
	Colours  *Colours       // of borders; nil for the usual ones
	Settings desk.Settings  // what windows that are there already are taken up by
	Line     paint.LineOptions
	Camera   *camera.Camera // is told what shows; nil for nobody
	Album    *picture.Album // of which held lists show the pictures; nil for none
	// NameApp is what an app is called by the class and the instance of its windows;
	// nil for the class.
	NameApp func(class, instance string) string
	// Recall gives the desk as an earlier keeper left it, with its history; nil for none.
	// Here tells that it was on this X server, which has this number. Left is what the server
	// remembers. If Recall is nil, left is all there is.
	Recall func(server int64, left *desk.Desk) (d *desk.Desk, here bool)
	// Fresh are the names of the workspaces that a display begins with where there is no
	// desk yet, empty for none; without any it is one.
	Fresh []string
	Log   *slog.Logger
}

// Colours are those of the borders of windows: red, green and blue in eight bits each.
type Colours struct{ Focused, Other, Urgent, Floating uint32 }

// Host is a display kept by us.
type Host struct {
	opt    Options
	log    *slog.Logger
	conn   *xgb.Conn
	wire   *display.Wire
	queue  *queue
	screen *xproto.ScreenInfo
	root   xproto.Window
	atoms  atoms
	reader *display.Reader

	selection xproto.Atom   // WM_Sn
	check     xproto.Window // owns the selection, and is _NET_SUPPORTING_WM_CHECK's window
	nofocus   xproto.Window // holds the focus where no window does
	hasRandR  bool
	knowsPIDs bool // the server tells the process of a client

	clients map[int]*client
	byXID   map[xproto.Window]*client
	docks   map[xproto.Window]*dock
	desktop map[xproto.Window]bool  // desktop-type windows
	struts  map[xproto.Window]*dock // those of windows that are no docks
	others  []xproto.Window         // docks and desktop windows, in the order in which they came
	layers  []xproto.Window         // the stacking order last carried out, docks included
	input   xproto.Timestamp        // of the last key or click that came here
	reaches map[int]bool            // windows that moved themselves out of reach under the pointer
	nextID  int

	desk      *desk.Desk      // as last shown
	fresh     []int           // windows that have opened since
	pinged    []*client       // those that may not have answered a ping
	askers    []*client       // those with something in asked or placed
	stack     []int           // the stacking order last carried out, lowest first
	above     []xproto.Window // docks and what else was over it
	overs     bool            // a fullscreen window was over these
	unlisted  bool            // windows came, went or were stacked since the root listed them
	pic       desk.Picture    // as last shown
	doubt     bool            // every window is to be looked at when the desk is shown next
	touched   map[int]bool    // windows of which a fact was told since
	count     int             // of workspaces, with those that messages have asked for
	focused   int             // the window the X focus was last given to, 0 for none
	onDesktop bool            // a desktop window has it, while the desk says insteadOf
	insteadOf int
	told      rootState
	free      freeKept
	pictures  desk.Pictures
	memory    *memory
	board     *board.Board
	buttons   buttons
	atlas     *atlas
	drawn     paint.Drawn
	paper     *paint.Screen
	status    *status.Source // what lines say
	lines     *paint.Lines
	looks     map[byte]paint.LineLook // where lines are to be, by the letters of monitors
	laid      map[byte]paint.LineLook // where they are
	lined     []xproto.Window         // their windows
	read      *display.Screen         // the monitors were
	drag      drag
	monitors  []desk.Monitor // as last read
	events    []keeper.Event // found, to be given by the next Take
	over      error

	awaitUntil time.Time // windows of a kept desk are waited for
	stirred    [partCount]stirred
	alarm      time.Time        // when Take is called next, at the latest; past for no such time
	wrote      map[property]int // changes of our own that the server has not told of yet
	fights     map[property]*fight
	pointer    pointer
	nextUntil  time.Time         // until when the place of the next window is shown; zero where it is not
	unkept     bool              // this display was never kept before
	late       map[int]time.Time // windows whose names have changed again, and when they are read
	unsure     map[int]time.Time // windows that seemed to become another kind unseen, and when to look again
	unstacked  bool              // a request that may have been about the stacking order has failed
	server     int64             // tells this X server from others
	rules      []desk.Rule       // by which noBorder of the clients is
	focusMoved bool              // by what was shown last
	truces     []property        // left to other programs for a while
	guard      *keeper.Guard
}

var _ keeper.Host = (*Host)(nil)

// client is a window we manage.
type client struct {
	id     int
	win    xproto.Window
	border int // its own, given back when it goes
	group  xproto.Window
	shadow display.Shadow

	mapped  bool      // by us
	unmaps  int       // UnmapNotify events that our own requests will cause
	rect    geom.Rect // as last configured, outer
	width   int       // of the border as last configured
	colour  uint32
	grabbed bool // its buttons are grabbed, so that a click focuses it
	told    toldState

	takesFocus bool      // WM_TAKE_FOCUS
	deletes    bool      // WM_DELETE_WINDOW
	pings      bool      // _NET_WM_PING
	pinged     time.Time // when it was, and has not answered; else zero
	hangs      bool      // it was told to the core that it does
	netState   netState  // as last written
	actions    actions   // as last written
	placed     geom.Rect // where it asked to be, not yet carried out; empty for nowhere
	asked      *netState // by its program, and not yet carried out; nil for nothing
	skips      skips
	extents    int // of the border, as last written
	depth      byte
	userTime   xproto.Timestamp // of the last key or click in it, as it says; 0 where it does not
	timeWindow xproto.Window    // that says so in its place; 0 for none
	hinted     bool             // its hints say that it is urgent
	plain      bool             // it wants no border (_MOTIF_WM_HINTS)
	noBorder   bool             // a rule takes it
	named      time.Time        // when its names were last read
	gravity    int              // WinGravity of its hints
	span       [4]int           // the monitors it covers in fullscreen (EWMH), by their places; see spans
	spans      bool
	colormaps  []xproto.Window // WM_COLORMAP_WINDOWS
	noInput    bool            // its input hint is false
	desk       desk.Window     // as last told to the core
}

// toldState is what was last written on a client for others to read.
type toldState struct {
	written bool
	state   uint32
	desktop uint32
}

// Open takes the display over and gives the desk it found there. After an
// error no window has changed, but a manager that was asked to go has gone.
func Open(opt Options) (*Host, *desk.Desk, error) {
	if opt.Border == 0 {
		opt.Border = 2
	}
	if opt.Border < 1 || opt.Border > 32 {
		return nil, nil, fmt.Errorf("a border of %d pixels cannot be: 1 to 32 can", opt.Border)
	}
	if opt.AtlasKey == (keys.Modifiers{}) {
		opt.AtlasKey.Super = true
	}
	if opt.Colours == nil {
		opt.Colours = &Colours{paint.Focused, paint.Quiet, paint.Urgent, paint.Quiet}
	}
	if opt.Log == nil {
		opt.Log = slog.New(slog.DiscardHandler)
	}
	if display.Name(opt.Display) == "" {
		return nil, nil, errors.New("no X display is named: set DISPLAY, as in DISPLAY=:0 zatlas keep")
	}
	opt.Screens.Display = opt.Display
	conn, wire, err := display.Connect(display.Name(opt.Display))
	if err != nil {
		return nil, nil, err
	}
	h := &Host{
		opt: opt, log: opt.Log, conn: conn, wire: wire, guard: keeper.NewGuard(opt.Log),
		unsure: map[int]time.Time{}, late: map[int]time.Time{}, wrote: map[property]int{}, fights: map[property]*fight{},
		clients: map[int]*client{}, byXID: map[xproto.Window]*client{},
		docks: map[xproto.Window]*dock{}, desktop: map[xproto.Window]bool{}, nextID: 1,
		struts: map[xproto.Window]*dock{}, reaches: map[int]bool{}, touched: map[int]bool{}, unlisted: true,
	}
	d, err := h.open()
	if err != nil {
		conn.Close()
		return nil, nil, err
	}
	return h, d, nil
}

func (h *Host) open() (*desk.Desk, error) {
	setup := xproto.Setup(h.conn)
	h.screen = setup.DefaultScreen(h.conn)
	h.root = h.screen.Root
	var err error
	if h.atoms, err = internAtoms(h.conn); err != nil {
		return nil, err
	}
	h.reader = h.atoms.reader(h.conn)
	if h.selection, err = intern(h.conn, fmt.Sprintf("WM_S%d", h.conn.DefaultScreen)); err != nil {
		return nil, err
	}
	var first byte
	if first, h.hasRandR = display.Extension(h.conn, "RANDR"); h.hasRandR {
		h.wire.TellScreens(first, h.root)
	}
	if _, ok := display.Extension(h.conn, "X-Resource"); ok {
		v, err := res.QueryVersion(h.conn, 1, 2).Reply()
		h.knowsPIDs = err == nil && (v.ServerMajor > 1 || v.ServerMinor >= 2)
	}
	if err := h.ownWindows(); err != nil {
		return nil, err
	}
	var written []xproto.Atom
	for _, a := range clientWritten {
		written = append(written, h.atoms[a])
	}
	h.queue = newQueue(h.conn, h.check, h.root, h.atoms[aTime], written)
	if err := h.takeSelection(); err != nil {
		return nil, err
	}
	if err := h.redirect(); err != nil {
		return nil, err
	}
	h.draw()
	h.atlas = newAtlas(h)
	h.monitors = h.readMonitors()
	d, err := h.adopt()
	if err != nil {
		return nil, err
	}
	h.board = h.newBoard()
	h.grabButtons()
	h.announce()
	h.memory = newMemory(h)
	return d, nil
}

// ownWindows makes the two windows of ours that are never seen.
func (h *Host) ownWindows() error {
	for _, w := range []*xproto.Window{&h.check, &h.nofocus} {
		id, err := xproto.NewWindowId(h.conn)
		if err != nil {
			return fmt.Errorf("making a window: %w", err)
		}
		err = xproto.CreateWindowChecked(h.conn, 0, id, h.root, -100, -100, 1, 1, 0, xproto.WindowClassInputOnly, 0,
			xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, xproto.EventMaskPropertyChange}).Check()
		if err != nil {
			return fmt.Errorf("making a window: %w", err)
		}
		*w = id
	}
	xproto.MapWindow(h.conn, h.nofocus)
	return nil
}

// draw makes what we draw on the display.
func (h *Host) draw() {
	h.paper = &paint.Screen{Conn: h.conn, Info: h.screen, Title: h.title, Wake: h.queue.signal, Dock: h.sayDock, Density: func(r geom.Rect) int { return h.read.DensityAt(h.monitors, r) }}
	h.paper.Theme = func() draw.Theme { return h.opt.Line.Theme }
	h.drawn = paint.On(h.paper)
	h.drawn.Card.Pictures = h.opt.Album
	if !h.drawn.Strip.Works() {
		h.log.Warn("the words after a chord cannot be shown on this display")
	}
	h.status = status.NewSource(h.opt.Line.Spoken())
	h.lines = paint.NewLines(h.paper, h.status, false)
	h.drawn.Strip.Instead = h.onLine
}

// title gives a window of ours a title.
func (h *Host) title(win xproto.Window, title string) { h.setText(win, aNetName, title) }

// say shows words on the monitor you are on, for a while.
func (h *Host) say(words string) {
	if h.desk != nil {
		h.drawn.Strip.Show(words, h.desk.Monitor(h.desk.At).Work)
	}
}

// takeSelection becomes the owner of WM_Sn as ICCCM 2.8 and 4.3 say.
func (h *Host) takeSelection() error {
	owner, err := xproto.GetSelectionOwner(h.conn, h.selection).Reply()
	if err != nil {
		return fmt.Errorf("asking who manages the display: %w", err)
	}
	old := owner.Owner
	if old != xproto.WindowNone {
		if !h.opt.Replace {
			return errors.New("another manager keeps this display. zatlas keep --replace asks it to go")
		}
		xproto.ChangeWindowAttributes(h.conn, old, xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify})
	}
	now := h.serverTime()
	xproto.SetSelectionOwner(h.conn, h.check, h.selection, now)
	owner, err = xproto.GetSelectionOwner(h.conn, h.selection).Reply()
	if err != nil || owner.Owner != h.check {
		return errors.New("another manager took the display at the same moment. Try again")
	}
	if old != xproto.WindowNone && !h.queue.waitFor(5*time.Second, func(e xgb.Event) bool {
		d, ok := e.(xproto.DestroyNotifyEvent)
		return ok && d.Window == old
	}) {
		// ICCCM 2.8 lets the new owner end the client of one that does not go.
		h.log.Warn("the manager before did not go, its connection is ended")
		xproto.KillClient(h.conn, uint32(old))
	}
	h.send(h.root, h.root, h.atoms[aManager], xproto.EventMaskStructureNotify,
		uint32(now), uint32(h.selection), uint32(h.check))
	return nil
}

const rootEvents = xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify |
	xproto.EventMaskStructureNotify | xproto.EventMaskPropertyChange | xproto.EventMaskFocusChange

// redirect asks for the requests of other clients. Only one client of a
// display can have them, also where that one owns no selection. One that just
// lost the selection may need a moment to let go.
func (h *Host) redirect() error {
	deadline := time.Now().Add(5 * time.Second)
	for {
		err := xproto.ChangeWindowAttributesChecked(h.conn, h.root, xproto.CwEventMask, []uint32{rootEvents}).Check()
		if err == nil {
			// One client has the buttons of the root: another may be first.
			err = xproto.ChangeWindowAttributesChecked(h.conn, h.root, xproto.CwEventMask, []uint32{rootEvents | dragEvents}).Check()
			if err != nil {
				h.log.Info("another program has the buttons of the root: gaps cannot be dragged")
			}
			return nil
		}
		if !h.opt.Replace || time.Now().After(deadline) {
			return errors.New("another manager keeps this display and does not let it go")
		}
		h.conn.Sync()
		time.Sleep(20 * time.Millisecond)
	}
}

// announce writes what never changes while we keep the display.
func (h *Host) announce() {
	if h.hasRandR {
		randr.SelectInput(h.conn, h.root, randr.NotifyMaskScreenChange|randr.NotifyMaskCrtcChange|randr.NotifyMaskOutputChange)
	}
	for _, p := range constants {
		p.write(h)
	}
	h.cursor()
}

// cursor gives the root the usual arrow of the server's cursor font.
func (h *Host) cursor() {
	font, err1 := xproto.NewFontId(h.conn)
	cursor, err2 := xproto.NewCursorId(h.conn)
	if err1 != nil || err2 != nil {
		return
	}
	const leftPtr = 68
	xproto.OpenFont(h.conn, font, uint16(len("cursor")), "cursor")
	xproto.CreateGlyphCursor(h.conn, cursor, font, font, leftPtr, leftPtr+1, 0, 0, 0, 0xffff, 0xffff, 0xffff)
	xproto.ChangeWindowAttributes(h.conn, h.root, xproto.CwCursor, []uint32{uint32(cursor)})
	xproto.FreeCursor(h.conn, cursor)
	xproto.CloseFont(h.conn, font)
}

// serverTime asks the server for its time, as requests about the focus and
// selections must carry it (ICCCM 2.1). It is 0, the present, where the server
// does not answer.
func (h *Host) serverTime() xproto.Timestamp {
	return h.queue.serverTime()
}

// freshTime is how long the server's time as an event told it is as good as a new one.
const freshTime = 50 * time.Millisecond

// eventTime is the server's time that the key, the click or the message told by which a
// command came, for a window to get the focus. Where none did it is asked for, and for
// a window that takes the focus itself: nobody would find out that the time was wrong.
func (h *Host) eventTime(focus int) xproto.Timestamp {
	c := h.clients[focus]
	itself := c != nil && c.noInput
	if t := h.queue.latest.Load(); t != nil && time.Since(t.told) < freshTime && !itself {
		return t.at
	}
	return h.serverTime()
}

// Wake gets a value when Take has something.
func (h *Host) Wake() <-chan struct{} { return h.queue.wake }

// Close asks the programs of windows to close them (ICCCM 4.2.8.1). A window
// that does not take part in that protocol has its client ended.
func (h *Host) Close(ids []int) {
	now := h.serverTime()
	for _, id := range ids {
		if c := h.clients[id]; c != nil {
			h.close(c, now)
		}
	}
}

func (h *Host) close(c *client, now xproto.Timestamp) {
	if c.deletes {
		h.protocol(c.win, aDeleteWindow, now)
		h.ping(c, now)
		return
	}
	xproto.KillClient(h.conn, uint32(c.win))
}

// protocol sends a WM_PROTOCOLS message.
func (h *Host) protocol(win xproto.Window, a atom, now xproto.Timestamp) {
	h.send(win, win, h.atoms[aProtocols], 0, uint32(h.atoms[a]), uint32(now))
}

// send sends a client message about a window to dest.
func (h *Host) send(dest, about xproto.Window, kind xproto.Atom, mask uint32, data ...uint32) {
	var d [5]uint32
	copy(d[:], data)
	e := xproto.ClientMessageEvent{Format: 32, Window: about, Type: kind, Data: xproto.ClientMessageDataUnionData32New(d[:])}
	xproto.SendEvent(h.conn, false, dest, mask, string(e.Bytes()))
}

// Tell shows the words of a chord's result, and puts the atlas window away
// after a command that goes somewhere.
func (h *Host) Tell(o keeper.Outcome) {
	if o.Source == keeper.Chord {
		h.board.LetTyped()
	}
	if h.desk != nil {
		h.warp(o)
	}
	if o.Err == nil && o.Result.Goes {
		h.leaveDesktop()
	}
	words := o.Words()
	if o.Err == nil && o.Verb == "split" {
		words += h.showNext()
	}
	if o.Verb == "reload" && o.Err != nil && o.Source != keeper.Chord && !h.opt.Quiet {
		h.say(words) // whoever asked: it is the display that goes by the settings
	}
	if (o.Source == keeper.Chord || o.Source == keeper.Pointer || o.Source == keeper.Display) && !h.opt.Quiet {
		h.say(words)
	}
	if h.atlas.up && o.Source == keeper.Screen {
		h.atlas.Words = words
	}
	if o.Err == nil && o.Result.Goes && h.atlas.up {
		h.atlas.hide()
	}
}

// showNext shows for a while where the next window opens, and gives its size in words.
func (h *Host) showNext() string {
	r, ok := h.desk.NextPlace(h.desk.Current(), h.desk.At)
	if !ok {
		return ""
	}
	h.nextUntil = time.Now().Add(paint.StripTime)
	h.wakeAt(h.nextUntil)
	h.followNext()
	return fmt.Sprintf(" It is %d×%d there.", r.W, r.H)
}

// followNext keeps the outline of the next window's place where that is, until its time
// is over. A drag has the outline for itself.
func (h *Host) followNext() {
	if h.nextUntil.IsZero() || h.drag.id != 0 {
		h.nextUntil = time.Time{}
		return
	}
	r, ok := h.desk.NextPlace(h.desk.Current(), h.desk.At)
	if !ok || !time.Now().Before(h.nextUntil) {
		h.nextUntil = time.Time{}
		h.drawn.Outline.Hide()
		return
	}
	h.drawn.Outline.Show(r)
}

// Stop leaves every window mapped, with its own border, and the display to
// whoever comes next.
func (h *Host) Stop() {
	h.memory.end(h.over == nil)
	h.status.End()
	h.lines.End()
	if h.over == nil {
		h.atlas.end()
		h.drawn.Strip.Hide()
		h.drawn.Card.Hide()
		for _, id := range h.stack {
			if c := h.clients[id]; c != nil {
				h.release(c)
				xproto.MapWindow(h.conn, c.win)
			}
		}
		xproto.SetInputFocus(h.conn, xproto.InputFocusPointerRoot, xproto.InputFocusPointerRoot, xproto.TimeCurrentTime)
		for _, a := range []atom{aSupportingCheck, aSupported, aClientList, aClientListStacking, aActiveWindow} {
			xproto.DeleteProperty(h.conn, h.root, h.atoms[a])
		}
		xproto.ChangeWindowAttributes(h.conn, h.root, xproto.CwEventMask, []uint32{0})
		xproto.DestroyWindow(h.conn, h.check) // tells a successor that we are gone
		h.conn.Sync()
	}
	h.conn.Close()
}

// release gives a window its own border back. It may be gone already, which tells nothing of
// the stacking order: that of a checked request does not come to refused.
func (h *Host) release(c *client) {
	xproto.UngrabButton(h.conn, xproto.ButtonIndexAny, c.win, xproto.ModMaskAny)
	xproto.ConfigureWindowChecked(h.conn, c.win, xproto.ConfigWindowBorderWidth, []uint32{uint32(c.border)})
}

// own tells whether a window is the root, or one of ours that no client has.
func (h *Host) own(win xproto.Window) bool {
	return win == h.root || win == h.check || win == h.nofocus
}

// refused tells an error that came without a request being waited for. A window
// that vanished between two requests is a fact, and nothing amiss.
func (h *Host) refused(err xgb.Error) {
	const configureWindow = 12 // the request's number in the protocol
	opcode := byte(0)
	switch of := err.(type) {
	case xproto.WindowError:
		opcode = of.MajorOpcode
	case xproto.MatchError:
		opcode = of.MajorOpcode
	}
	h.unstacked = h.unstacked || opcode == configureWindow // it may have named a sibling
	switch err.(type) {
	case xproto.WindowError, xproto.DrawableError, xproto.MatchError:
		if h.log.Enabled(context.Background(), slog.LevelDebug) {
			h.log.Debug("a window was gone", "error", err.Error())
		}
	default:
		h.log.Warn("the X server refused a request", "error", strings.TrimSpace(err.Error()))
	}
}
