// Package alongside is the host on an X display whose windows another program manages.
// It reads the properties that the manager keeps (EWMH 1.5, ICCCM 2.0), and asks it for
// changes with client messages, as a pager does.
//
// One goroutine owns what is known of the display: it takes events, reads what they tell
// of, and makes facts of it. The keeper's goroutine takes these and hands over wishes,
// and waits for nothing.
package alongside

import (
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"sync"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/camera"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/picture"
	"zatlas/internal/status"
)

// Options say how a desk is read.
type Options struct {
	Display  string        // as in $DISPLAY; empty for that
	Settings desk.Settings // of the desk
	// NameApp is what an app is called by the class and the instance of its windows;
	// nil for the class.
	NameApp func(class, instance string) string
	Log     *slog.Logger  // nil for nowhere
	Board   board.Options // the chords that could be taken where they are free
	Takes   bool          // whether they are, and the corners
	// Begins tells that the manager may have begun just now, as at a login: chords are taken
	// only when it has had the time to take its own.
	Begins  bool
	Screens board.ScreenOptions // in the atlas window
	Quiet   bool                // show no strip of words after a chord
	Camera  *camera.Camera      // is told what shows; nil for nobody
	Album   *picture.Album      // of which held lists show the pictures; nil for none
	Line    paint.LineOptions   // a dock, which the manager places as any other
	// Guarded is told of the window by which a guard watches this process, once chords are
	// taken (board.Guard); nil for no guard.
	Guarded func(life xproto.Window)
	// BesideOurs has it read the display of a keeper of this program too, as any other.
	BesideOurs bool
}

// ErrNoManager is the error where nobody manages the display.
var ErrNoManager = errors.New("nobody manages the windows of this display")

// ErrOurs is the error of a display whose manager is a keeper of this program.
var ErrOurs = errors.New("a keeper of zatlas manages this display")

// ErrUntrusted is the error of a connection that the server lets change nothing of others
// (the SECURITY extension).
var ErrUntrusted = errors.New("the connection to this display is an untrusted one, which may ask nothing of a manager. With ssh, -Y makes one that may")

// Host is a display whose windows another program manages.
type Host struct {
	opt    Options
	log    *slog.Logger
	conn   *xgb.Conn
	wire   *display.Wire
	screen display.Screen
	root   xproto.Window
	owned  xproto.Atom // WM_Sn, by which ICCCM 2.8 tells who manages
	atoms  map[string]xproto.Atom
	names  map[xproto.Atom]string
	reader *display.Reader
	queue  *queue
	guard  *keeper.Guard

	// What follows is the reading goroutine's own.
	top     top
	read    bool // what is there was read once
	clients map[xproto.Window]*client
	byID    map[int]*client
	byFrame map[xproto.Window]*client
	docks   map[xproto.Window]*display.Dock
	// strangers are what the manager's list names and is no window, and backlog tells that
	// some of the list was not looked at yet.
	strangers map[xproto.Window]bool
	backlog   bool
	monitors  []desk.Monitor // as last read
	letters   *desk.Desk     // a desk without windows, that gives monitors their letters as the core does
	lastID    int
	stacked   []int // as last told
	focused   int   // as last told
	shows     desk.Shows
	pending   []*request
	later     map[*client]off // windows that have gone off every monitor
	settling  time.Time       // until when a manager begins; zero for none
	probe     probe
	offset    offset // by which places are asked for, as this manager takes them
	alarm     *time.Timer
	facts     []desk.Fact
	answers   []keeper.Answer
	pressed   []keeper.Event

	board  *board.Board // nil until there are chords
	drawn  paint.Drawn
	atlas  *atlas
	paper  *paint.Screen  // nil until something is drawn
	status *status.Source // what lines say
	lines  *paint.Lines   // nil until there are any
	desk   *desk.Desk     // as the keeper has it; nil until it was told
	// unanswered is how many commands of chords are under way. Keys that are ours wait for
	// them until busyEnd at most.
	unanswered int
	busyEnd    time.Time
	due        time.Time // when the next turn begins at the latest; zero for no such time

	stop    chan struct{}
	stopped chan struct{}
	wake    chan struct{}

	mu     sync.Mutex // guards what the two goroutines hand each other
	events []keeper.Event
	asks   []*request
	calls  []func() // by the keeper, for the reading goroutine
	over   error
}

var _ keeper.Asking = (*Host)(nil)

// Open reads a display, and gives the desk found there. It asks for nothing.
func Open(opt Options) (*Host, *desk.Desk, error) {
	if opt.Log == nil {
		opt.Log = slog.New(slog.DiscardHandler)
	}
	name := display.Name(opt.Display)
	if name == "" {
		return nil, nil, errors.New("no X display is named: set DISPLAY, as in DISPLAY=:0 zatlas")
	}
	conn, wire, err := display.Connect(name)
	if err != nil {
		return nil, nil, err
	}
	h := &Host{
		opt: opt, log: opt.Log, conn: conn, wire: wire, guard: keeper.NewGuard(opt.Log), root: xproto.Setup(conn).DefaultScreen(conn).Root,
		clients: map[xproto.Window]*client{}, byID: map[int]*client{}, byFrame: map[xproto.Window]*client{}, docks: map[xproto.Window]*display.Dock{}, later: map[*client]off{}, strangers: map[xproto.Window]bool{},
		wake: make(chan struct{}, 1), stop: make(chan struct{}), stopped: make(chan struct{}),
		alarm: time.NewTimer(time.Hour),
	}
	d, err := h.open(wire)
	if err != nil {
		conn.Close()
		return nil, nil, err
	}
	go h.run()
	return h, d, nil
}

// Find finds out who manages a display: what another program calls itself, which may be
// nothing; else ErrNoManager, ErrOurs, or why it cannot be told.
func Find(name string) (manager string, err error) {
	conn, _, err := display.Connect(display.Name(name))
	if err != nil {
		return "", err
	}
	defer conn.Close()
	if !trusted(conn) {
		return "", ErrUntrusted
	}
	h := &Host{conn: conn, root: xproto.Setup(conn).DefaultScreen(conn).Root}
	if err := h.intern(); err != nil {
		return "", err
	}
	if err := h.readManager(); err != nil {
		return "", err
	}
	if h.top.ours {
		return "", ErrOurs
	}
	return h.top.name, nil
}

// open reads what there is: the atoms, the root, the monitors, the windows, their frames.
func (h *Host) open(wire *display.Wire) (*desk.Desk, error) {
	h.screen = display.Screen{Conn: h.conn, Info: xproto.Setup(h.conn).DefaultScreen(h.conn)}
	if !trusted(h.conn) {
		return nil, ErrUntrusted
	}
	if err := h.intern(); err != nil {
		return nil, err
	}
	h.screen.EDID = h.atoms["EDID"]
	var first byte
	if first, h.screen.RandR = display.Extension(h.conn, "RANDR"); h.screen.RandR {
		wire.TellScreens(first, h.root)
		randr.SelectInput(h.conn, h.root, randr.NotifyMaskScreenChange|randr.NotifyMaskCrtcChange|randr.NotifyMaskOutputChange)
	}
	h.queue = newQueue(h.conn)
	h.status = status.NewSource(h.opt.Line.Spoken())
	h.opt.Screens.Display = h.opt.Display
	h.atlas = &atlas{Screens: board.NewScreens(h.queue.signal), h: h}
	const events = xproto.EventMaskPropertyChange | xproto.EventMaskStructureNotify
	xproto.ChangeWindowAttributes(h.conn, h.root, xproto.CwEventMask, []uint32{events})
	if err := h.readManager(); err != nil {
		return nil, err
	}
	if h.top.ours && !h.opt.BesideOurs {
		return nil, ErrOurs
	}
	h.readTop(allOfTop)
	ms := h.screen.Monitors()
	if len(ms) == 0 {
		ms = h.screen.Whole()
	}
	h.monitors = ms
	settings := h.opt.Settings.BesideOthers(h.lacks())
	d, err := desk.New(ms, settings)
	if err != nil {
		return nil, err
	}
	h.letters = d
	h.facts = append(h.facts, desk.WorkspacesAre{Names: h.workspaces()}, desk.ManagerIs{Lacks: h.lacks()})
	for h.follow(h.top.list); h.backlog; h.follow(h.top.list) {
	}
	h.tellRest()
	if h.opt.Begins {
		h.settling = time.Now().Add(settleTime)
	}
	h.takeChords()
	d, _ = d.With(h.facts...)
	h.facts, h.read = nil, true
	return d, nil
}

// run follows the display until it is told to stop.
func (h *Host) run() {
	defer close(h.stopped)
	for {
		select {
		case <-h.stop:
			return
		case <-h.queue.wake:
		case <-h.alarm.C:
		}
		over := false
		h.guard.Run("following the display", func() { over = h.turn() })
		if over {
			return
		}
	}
}

// turn follows what has come: events, wishes, and the time.
func (h *Host) turn() (over bool) {
	events, closed := h.queue.take()
	if closed {
		h.hand(keeper.ErrGone)
		return true
	}
	if h.due = (time.Time{}); h.board != nil {
		h.board.Turn(false)
	}
	h.followEvents(events)
	h.mu.Lock()
	asks, calls := h.asks, h.calls
	h.asks, h.calls = nil, nil
	h.mu.Unlock()
	for _, f := range calls {
		f()
	}
	if h.board != nil {
		h.board.Tick()
		h.board.Tell(h.status)
		h.drawn.Strip.Tick()
		h.atlas.tick()
	}
	h.pending = append(h.pending, asks...)
	next := soonest(h.pursue(), h.due)
	if !h.settling.IsZero() {
		next = soonest(next, h.settling)
	}
	if h.backlog {
		next = soonest(next, time.Now())
	}
	for _, o := range h.later {
		next = soonest(next, o.next)
	}
	if !next.IsZero() {
		h.alarm.Reset(max(time.Until(next), time.Millisecond))
	}
	if h.top.ours && !h.opt.BesideOurs {
		h.hand(keeper.ErrReplaced)
		return true
	}
	h.hand(nil)
	return false
}

// hand hands the keeper what was found.
func (h *Host) hand(over error) {
	if len(h.facts)+len(h.answers)+len(h.pressed) == 0 && over == nil {
		return
	}
	h.mu.Lock()
	for _, f := range h.facts {
		h.events = append(h.events, keeper.Event{Fact: f})
	}
	for _, a := range h.answers {
		h.events = append(h.events, keeper.Event{Answer: &a})
	}
	h.events = append(h.events, h.pressed...)
	h.over = over
	h.mu.Unlock()
	h.facts, h.answers, h.pressed = nil, nil, nil
	select {
	case h.wake <- struct{}{}:
	default:
	}
}

// Wake gets a value when Take has something.
func (h *Host) Wake() <-chan struct{} { return h.wake }

// Take gives what was found since the last call.
func (h *Host) Take() ([]keeper.Event, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	events := h.events
	h.events = nil
	return events, h.over
}

// Ask asks for what a wish differs from the desk it is of.
func (h *Host) Ask(n int, wish desk.Wish, r desk.Result) {
	h.mu.Lock()
	h.asks = append(h.asks, &request{n: n, wish: wish, result: r})
	h.mu.Unlock()
	h.queue.signal()
}

// Close asks for windows to be closed; nobody hears what became of it.
func (h *Host) Close(ids []int) { h.effect(desk.CloseWindows, ids) }

// Kill ends the programs of windows.
func (h *Host) Kill(ids []int) { h.effect(desk.KillWindows, ids) }

func (h *Host) effect(e desk.Effect, ids []int) {
	h.mu.Lock()
	h.asks = append(h.asks, &request{result: desk.Result{Effect: e, Report: desk.Report{Windows: ids}}})
	h.mu.Unlock()
	h.queue.signal()
}

// Stop ends the host. Nothing on the display changes by it, but that the atlas window goes.
func (h *Host) Stop() {
	select {
	case <-h.stopped:
	default:
		close(h.stop)
		<-h.stopped
	}
	if h.mu.Lock(); h.over == nil {
		h.atlas.end()
	}
	h.mu.Unlock()
	h.alarm.Stop()
	h.status.End()
	if h.lines != nil {
		h.lines.End()
	}
	h.conn.Close()
}

// atomNames are the atoms of the standards that are read or sent.
var atomNames = []string{
	"WM_PROTOCOLS", "WM_DELETE_WINDOW", "WM_CHANGE_STATE", "WM_WINDOW_ROLE", "UTF8_STRING", "COMPOUND_TEXT", "EDID", "MANAGER",
	"_NET_SUPPORTED", "_NET_SUPPORTING_WM_CHECK", "_NET_CLIENT_LIST", "_NET_CLIENT_LIST_STACKING", "_NET_NUMBER_OF_DESKTOPS", "_NET_DESKTOP_NAMES",
	"_NET_CURRENT_DESKTOP", "_NET_ACTIVE_WINDOW", "_NET_SHOWING_DESKTOP", "_NET_CLOSE_WINDOW", "_NET_MOVERESIZE_WINDOW", "_NET_RESTACK_WINDOW",
	"_NET_WM_NAME", "_NET_WM_DESKTOP", "_NET_WM_WINDOW_TYPE", "_NET_WM_STATE", "_NET_WM_STRUT", "_NET_WM_STRUT_PARTIAL", "_NET_WM_PID", "_NET_WM_USER_TIME",
	"_NET_FRAME_EXTENTS", "_GTK_FRAME_EXTENTS", "_NET_STARTUP_ID",
	"_NET_WM_STATE_HIDDEN", "_NET_WM_STATE_MAXIMIZED_HORZ", "_NET_WM_STATE_MAXIMIZED_VERT", "_NET_WM_STATE_FULLSCREEN", "_NET_WM_STATE_ABOVE", "_NET_WM_STATE_BELOW",
	"_NET_WM_STATE_DEMANDS_ATTENTION", "_NET_WM_STATE_MODAL",
	"_NET_WM_WINDOW_TYPE_DESKTOP", "_NET_WM_WINDOW_TYPE_DOCK",
}

// trusted tells whether the server trusts the connection. From one that it does not trust, it
// hides the extensions that could see or do too much.
func trusted(conn *xgb.Conn) bool {
	r, err := xproto.ListExtensions(conn).Reply()
	return err != nil || slices.ContainsFunc(r.Names, func(s xproto.Str) bool { return s.Name != "BIG-REQUESTS" && s.Name != "XC-MISC" })
}

// intern asks for the atoms, all at once.
func (h *Host) intern() error {
	names := slices.Concat([]string{fmt.Sprintf("WM_S%d", h.conn.DefaultScreen)}, atomNames, slices.Sorted(maps.Keys(display.Kinds)))
	cookies := make([]xproto.InternAtomCookie, len(names))
	for i, name := range names {
		cookies[i] = xproto.InternAtom(h.conn, false, uint16(len(name)), name)
	}
	h.atoms, h.names = map[string]xproto.Atom{}, map[xproto.Atom]string{}
	for i, ck := range cookies {
		r, err := ck.Reply()
		if err != nil {
			return fmt.Errorf("asking for the atom %s: %w", names[i], err)
		}
		h.atoms[names[i]], h.names[r.Atom] = r.Atom, names[i]
	}
	h.owned = h.atoms[names[0]]
	h.reader = &display.Reader{
		Conn: h.conn, Atom: func(name string) xproto.Atom { return h.atoms[name] }, Name: func(a xproto.Atom) string { return h.names[a] },
		Skip: []string{"_NET_WM_USER_TIME_WINDOW", "_MOTIF_WM_HINTS", "WM_COLORMAP_WINDOWS"}, // for managers
	}
	return nil
}
