package x11_test

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// kept is a display with a keeper in this process.
type kept struct {
	*testkit.Server
	*testkit.X
	t    testing.TB
	host *x11.Host
	k    *keeper.Keeper
	stop func() // ends the keeper in an orderly way, and waits
	log  *testkit.Buffer

	mu   sync.Mutex
	desk *desk.Desk
}

// keep starts a server with two monitors and a keeper on it.
func keep(t testing.TB) *kept {
	t.Helper()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	return keepOn(t, s, x11.Options{})
}

func keepOn(t testing.TB, s *testkit.Server, opt x11.Options) *kept {
	t.Helper()
	d := &kept{Server: s, X: s.NewX(t), t: t, log: &testkit.Buffer{}}
	opt.Display = s.Display
	opt.Board.Chords = chords()
	opt.Log = slog.New(slog.NewTextHandler(d.log, nil))
	host, found, err := x11.Open(opt)
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	d.host, d.k = host, keeper.New(found, whole{host, t}, keeper.Options{Log: opt.Log})
	ended := make(chan struct{})
	go func() { defer close(ended); d.k.Run(ctx) }()
	d.stop = func() { cancel(); <-ended }
	t.Cleanup(d.stop)
	d.desk = found
	news := d.k.Watch(ctx)
	go func() {
		for u := range news {
			d.mu.Lock()
			d.desk = u.Desk
			d.mu.Unlock()
		}
	}()
	return d
}

// whole is a host that holds after each desk that is shown that every window is as the desk
// has it: Show leaves out those that it takes to be so.
type whole struct {
	*x11.Host
	t testing.TB
}

func (w whole) Show(d *desk.Desk) {
	w.Host.Show(d)
	if words := w.Missed(); words != "" {
		w.t.Errorf("Show left something out: %s", words)
	}
}

// chords are some that the tests press.
func chords() []keys.Chord {
	super := func(command string, keysym uint32) keys.Chord {
		return keys.Chord{Name: fmt.Sprintf("Super+%c", keysym), Command: command, Modifiers: keys.Modifiers{Super: true}, Keysym: keysym}
	}
	var cs []keys.Chord
	for n := uint32('1'); n <= '9'; n++ {
		send, carry := super(fmt.Sprintf("send %c", n), n), super(fmt.Sprintf("carry %c", n), n)
		send.Shift, carry.Ctrl = true, true
		cs = append(cs, super(fmt.Sprintf("go %c", n), n), send, carry)
	}
	peek := super("go 3", 'b')
	peek.Hold = true
	return append(cs, peek, super("add", 'n'), super("close", 'x'), super("go new", 'm'), super("float", 'f'), super("focus left", testkit.Left), super("focus right", testkit.Right), super("go back", testkit.Tab))
}

func (d *kept) snapshot() *desk.Desk {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.desk
}

func (d *kept) do(lines ...string) {
	d.t.Helper()
	for _, line := range lines {
		c := desks.Command(d.t, line)
		o, err := d.k.Do(context.Background(), c, keeper.Line)
		if err != nil || o.Err != nil {
			d.t.Fatalf("%s: %v %v", line, err, o.Err)
		}
	}
}

// open maps a window and waits until it is on the desk.
func (d *kept) open(title string) xproto.Window {
	d.t.Helper()
	win := d.X.Window(title, 10, 10, 300, 200)
	d.Map(win)
	d.until(title+" is on the desk", func() bool { return d.find(title) != nil })
	return win
}

func (d *kept) until(what string, cond func() bool) {
	d.t.Helper()
	testkit.Until(d.t, what, cond)
}

func (d *kept) find(title string) *desk.Window {
	for _, w := range d.snapshot().Windows {
		if w.Title == title {
			return w
		}
	}
	return nil
}

// at waits until a window is viewable, or not, at an outer rectangle.
func (d *kept) at(win xproto.Window, viewable bool, r geom.Rect) {
	d.t.Helper()
	var got string
	for range 1000 {
		x, y, w, h, b, ok := d.Geometry(win)
		g := geom.R(x, y, w+2*b, h+2*b)
		if ok && d.Viewable(win) == viewable && g == r {
			return
		}
		got = fmt.Sprint(g, " viewable ", d.Viewable(win))
		d.Conn.Sync()
	}
	d.t.Fatalf("window %#x is at %s, and should be at %v, viewable %v", win, got, r, viewable)
}

func (d *kept) prop(window any, name string) string {
	w := "root"
	if id, ok := window.(xproto.Window); ok {
		w = fmt.Sprintf("%#x", id)
	}
	return d.Xprop(d.t, w, name)
}

func (d *kept) wantProp(window any, name, want string) {
	d.t.Helper()
	got := ""
	for range 200 {
		if got = d.prop(window, name); strings.Contains(got, want) {
			return
		}
	}
	d.t.Errorf("%s is %q, without %q", name, got, want)
}

func TestTilesAndSwitches(t *testing.T) {
	d := keep(t)
	a, b := d.open("a"), d.open("b")
	d.at(a, true, geom.R(0, 0, 960, 1080))
	d.at(b, true, geom.R(960, 0, 960, 1080))
	d.wantProp("root", "_NET_ACTIVE_WINDOW", fmt.Sprintf("%#x", b))
	d.do("add", "send 2", "go 2")
	d.at(a, false, geom.R(0, 0, 1920, 1080))
	d.at(b, true, geom.R(0, 0, 1920, 1080))
	d.wantProp("root", "_NET_CURRENT_DESKTOP", "1")
	d.wantProp("root", "_NET_NUMBER_OF_DESKTOPS", "2")
	d.wantProp(a, "_NET_WM_DESKTOP", "0")
	d.wantProp(b, "_NET_WM_DESKTOP", "1")
	d.wantProp(a, "WM_STATE", "Normal") // as EWMH allows: it is not minimised
	d.wantProp(b, "WM_STATE", "Normal")
	d.wantProp(b, "_NET_FRAME_EXTENTS", "2, 2, 2, 2")
	d.do("carry B", "layout columns")
	d.at(b, true, geom.R(1920, 0, 1920, 1080))
	d.do("go back")
	d.at(a, true, geom.R(0, 0, 1920, 1080))
	d.at(b, false, geom.R(1920, 0, 1920, 1080))
	d.wantProp("root", "_NET_CLIENT_LIST", fmt.Sprintf("%#x, %#x", a, b))
	d.do("add \"Böx office\"")
	d.wantProp("root", "_NET_DESKTOP_NAMES", "\"1\", \"2\", \"B")
	if check := d.prop("root", "_NET_SUPPORTING_WM_CHECK"); check == "" || d.Xprop(t, check, "_NET_SUPPORTING_WM_CHECK") != check {
		t.Errorf("_NET_SUPPORTING_WM_CHECK is %q and does not name itself", check)
	}
}

func TestMessagesOfOtherPrograms(t *testing.T) {
	d := keep(t)
	a, b := d.open("a"), d.open("b")
	d.Message(d.Root, "_NET_NUMBER_OF_DESKTOPS", 3)
	d.Message(d.Root, "_NET_NUMBER_OF_DESKTOPS", 3) // and again, before the first is done
	d.until("three workspaces", func() bool { return len(d.snapshot().Workspaces) == 3 })
	d.Message(b, "_NET_WM_DESKTOP", 2)
	d.until("b is on 3", func() bool { return d.snapshot().Ref(d.find("b")) == "A3" })
	d.Message(d.Root, "_NET_CURRENT_DESKTOP", 2)
	d.until("b has the focus", func() bool { return d.Viewable(b) && !d.Viewable(a) && d.Focus() == b })
	d.Message(d.Root, "_NET_CURRENT_DESKTOP", 77) // there is none: nothing happens
	d.Message(a, "_NET_ACTIVE_WINDOW", 2)
	d.until("a is active", func() bool { return d.Focus() == a && d.Viewable(a) })
	d.Message(a, "WM_CHANGE_STATE", 3)
	d.until("a is minimised", func() bool { return d.find("a").Minimised && !d.Viewable(a) })
	d.Map(a)
	d.until("a is back", func() bool { return !d.find("a").Minimised && d.Viewable(a) })
	d.Message(b, "_NET_WM_DESKTOP", 0xFFFFFFFF)
	d.until("b is sticky", func() bool { return d.find("b").Sticky && d.Viewable(b) })
	d.wantProp(b, "_NET_WM_DESKTOP", "4294967295")
	if n := len(d.snapshot().Workspaces); n != 3 {
		t.Errorf("asked for three workspaces twice, there are %d", n)
	}
	d.Message(d.Root, "_NET_NUMBER_OF_DESKTOPS", 1)
	d.until("one workspace", func() bool { return len(d.snapshot().Workspaces) == 1 })
	d.Client(t, "polite", "xclock") // which closes at any time: xterm does not until its shell runs
	d.until("the client is there", func() bool { return d.find("polite") != nil })
	id := d.Named(t, "polite")
	var win xproto.Window
	fmt.Sscanf(id, "0x%x", &win)
	d.Message(win, "_NET_CLOSE_WINDOW")
	d.until("the client closed", func() bool { return d.find("polite") == nil })
}

func TestChords(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	other := s.NewX(t)
	// Super with 5 is somebody else's.
	grab := xproto.GrabKeyChecked(other.Conn, true, other.Root, xproto.ModMask4, 14, xproto.GrabModeAsync, xproto.GrabModeAsync)
	if err := grab.Check(); err != nil {
		t.Fatal(err)
	}
	d := keepOn(t, s, x11.Options{})
	taken := func() (names []string) {
		keys, err := d.k.Keys(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		for _, k := range keys {
			if k.State == keeper.KeyTaken {
				names = append(names, k.Chord)
			}
		}
		return slices.Compact(names) // chords of one name here, with other modifiers
	}
	if got := taken(); len(got) != 1 || got[0] != "Super+5" {
		t.Errorf("chords taken: %q, want Super+5", got)
	}
	if !strings.Contains(d.log.String(), "Super+5") {
		t.Errorf("the log does not name the chord that is taken:\n%s", d.log)
	}
	a, b := d.open("a"), d.open("b")
	d.do("add", "add", "add")
	shown := func(n int) {
		t.Helper()
		d.until(fmt.Sprintf("%d is shown", n), func() bool { return d.snapshot().Current() == n-1 })
	}
	d.Press(testkit.Super, '3') // an empty one: the keys must live on
	shown(3)
	d.Press(testkit.Super, testkit.Tab)
	shown(1)
	for _, lock := range []uint32{testkit.NumLock, testkit.CapsLock} {
		d.Press(lock)
		d.Press(testkit.Super, '2')
		shown(2)
		d.Press(testkit.Super, '1')
		shown(1)
	}
	d.Press(testkit.Super, testkit.Left)
	d.until("a has the focus", func() bool { return d.Focus() == a })
	d.Press(testkit.Super, testkit.Right)
	d.until("b has the focus", func() bool { return d.Focus() == b })
	d.Press(testkit.Super, testkit.Shift, '2')
	d.until("b was sent", func() bool { return d.snapshot().Ref(d.find("b")) == "A2" && !d.Viewable(b) })
	shown(1)
	d.Press(testkit.Super, testkit.Control, '4')
	d.until("a was carried", func() bool { return d.snapshot().Ref(d.find("a")) == "A4" && d.Viewable(a) })
	shown(4)
	words := d.Named(t, "Zealous Atlas message")
	if _, _, _, _, viewable, _ := d.Info(words); !viewable {
		t.Error("the words of a chord do not show")
	}
	d.until("the words go", func() bool { _, _, _, _, viewable, _ := d.Info(words); return !viewable })
}

// A chord held down too long makes one workspace.
func TestChordHeldDown(t *testing.T) {
	t.Parallel()
	d := keep(t)
	before := len(d.snapshot().Workspaces)
	d.Hold(testkit.Super, func() {
		d.Hold('n', func() {
			d.until("a workspace was added", func() bool { return len(d.snapshot().Workspaces) > before })
			// The server repeats a key after some 0.6 seconds, 25 times a second.
			time.Sleep(1200 * time.Millisecond)
		})
	})
	d.Press(testkit.Super, '2') // which comes after all of those
	d.until("on 2", func() bool { return d.snapshot().Current() == 1 })
	if n := len(d.snapshot().Workspaces) - before; n != 1 {
		t.Errorf("one chord held down made %d workspaces", n)
	}
}

func TestDocksAndWindowsLeftAlone(t *testing.T) {
	d := keep(t)
	a := d.open("a")
	dock := d.X.Window("dock", 0, 1040, 1920, 40)
	d.Cards(dock, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(d.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	d.Cards(dock, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 0, 40, 0, 0, 0, 0, 0, 0, 0, 1919)
	d.Map(dock)
	d.at(a, true, geom.R(0, 0, 1920, 1040))
	if x, y, _, _, _, _ := d.Geometry(dock); x != 0 || y != 1040 || !d.Viewable(dock) {
		t.Errorf("the dock is at %d,%d, viewable %v", x, y, d.Viewable(dock))
	}
	ground := d.X.Window("ground", 5, 6, 1900, 1000)
	d.Cards(ground, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(d.Atom("_NET_WM_WINDOW_TYPE_DESKTOP")))
	d.Map(ground)
	menu := d.X.Window("menu", 100, 120, 50, 60)
	xproto.ChangeWindowAttributes(d.Conn, menu, xproto.CwOverrideRedirect, []uint32{1})
	d.Map(menu)
	d.do("add", "go 2")
	d.until("a is hidden", func() bool { return !d.Viewable(a) })
	for _, w := range []xproto.Window{dock, ground, menu} {
		if !d.Viewable(w) {
			t.Errorf("window %#x was hidden", w)
		}
	}
	if x, y, w, h, b, _ := d.Geometry(menu); x != 100 || y != 120 || w != 50 || h != 60 || b != 1 {
		t.Errorf("the menu was placed: %d,%d %d×%d, border %d", x, y, w, h, b)
	}
	if n := len(d.snapshot().Windows); n != 1 {
		t.Errorf("%d windows are on the desk, want 1", n)
	}
	xproto.DestroyWindow(d.Conn, dock)
	d.at(a, false, geom.R(0, 0, 1920, 1080))
}

func TestMonitorsComeAndGo(t *testing.T) {
	t.Parallel()
	d := keep(t)
	a, b := d.open("a"), d.open("b")
	d.do("send B of title:b", "add", "send 2 of title:a")
	d.at(b, true, geom.R(1920, 0, 1920, 1080))
	d.Unplug(t, "DUMMY1")
	d.until("b is on A", func() bool { return d.snapshot().Ref(d.find("b")) == "A1" })
	d.at(b, true, geom.R(0, 0, 1920, 1080))
	d.Plug(t, "DUMMY1", 1920, 0)
	d.until("b is home", func() bool { return d.snapshot().Ref(d.find("b")) == "B1" })
	d.at(b, true, geom.R(1920, 0, 1920, 1080))
	d.at(a, false, geom.R(0, 0, 1920, 1080))
	d.wantProp("root", "_NET_DESKTOP_GEOMETRY", "3840, 1080")
	d.Plug(t, "DUMMY2", 0, 1080)
	d.until("C came", func() bool { return d.snapshot().Connected('C') })
	d.do("send C2 of title:b", "go 2")
	d.at(b, true, geom.R(0, 1080, 1920, 1080))
}

// A window says in its hints how it takes the focus (ICCCM 4.1.7).
func TestFocus(t *testing.T) {
	d := keep(t)
	plain := d.open("plain")
	d.until("the plain one has the focus", func() bool { return d.Focus() == plain })
	deaf := d.X.Window("deaf", 0, 0, 100, 100)
	d.Cards(deaf, "WM_HINTS", xproto.AtomWmHints, 1, 0, 0, 0, 0, 0, 0, 0, 0)
	d.Map(deaf)
	d.until("the deaf one is there", func() bool { return d.find("deaf") != nil && d.Viewable(deaf) })
	if d.Focus() != plain {
		t.Error("a window that takes no input got the focus")
	}
	global := d.X.Window("global", 0, 0, 100, 100)
	d.Cards(global, "WM_HINTS", xproto.AtomWmHints, 1, 0, 0, 0, 0, 0, 0, 0, 0)
	d.Cards(global, "WM_PROTOCOLS", xproto.AtomAtom, uint32(d.Atom("WM_TAKE_FOCUS")))
	d.Map(global)
	d.Await("it is told to take the focus", func(e xgb.Event) bool {
		m, ok := e.(xproto.ClientMessageEvent)
		if ok = ok && m.Window == global; ok && (m.Type != d.Atom("WM_PROTOCOLS") || xproto.Atom(m.Data.Data32[0]) != d.Atom("WM_TAKE_FOCUS") || m.Data.Data32[1] == 0) {
			t.Errorf("the message is %+v", m)
		}
		return ok
	})
	d.do("add", "go 2")
	d.until("nothing has the focus", func() bool { return d.snapshot().Focus == 0 })
	if f := d.Focus(); f <= xproto.InputFocusPointerRoot {
		t.Errorf("the X focus is %d, which swallows keys", f)
	}
	d.do("go 1", fmt.Sprintf("focus #%d", d.find("plain").ID))
	quiet := d.X.Window("quiet", 0, 0, 100, 100)
	d.Cards(quiet, "_NET_WM_USER_TIME", xproto.AtomCardinal, 0)
	d.Map(quiet)
	d.until("the quiet one is there, and calls for nobody", func() bool { w := d.find("quiet"); return w != nil && !w.Urgent })
	if d.Focus() != plain {
		t.Error("a window with user time 0 took the focus")
	}
	// A client that takes the focus for itself does not keep it.
	xproto.SetInputFocus(d.Conn, xproto.InputFocusNone, deaf, 0)
	d.until("the focus is back", func() bool { return d.Focus() == plain })
	xproto.SetInputFocus(d.Conn, xproto.InputFocusNone, xproto.WindowNone, 0)
	d.until("the focus is back from nowhere", func() bool { return d.Focus() == plain })
}

func TestClickFocuses(t *testing.T) {
	d := keep(t)
	a, b := d.open("a"), d.open("b")
	xproto.ChangeWindowAttributes(d.Conn, a, xproto.CwEventMask, []uint32{xproto.EventMaskButtonPress})
	d.at(a, true, geom.R(0, 0, 960, 1080))
	d.until("b has the focus", func() bool { return d.Focus() == b })
	d.Point(100, 100)
	d.Button(1, true)
	d.Button(1, false)
	d.until("a has the focus", func() bool { return d.Focus() == a })
	d.Await("the press, which was not swallowed", func(e xgb.Event) bool {
		p, ok := e.(xproto.ButtonPressEvent)
		return ok && p.Event == a
	})
	d.wantProp("root", "_NET_ACTIVE_WINDOW", fmt.Sprintf("%#x", a))
}

// A tiled window that asks for another place is told the one it has (ICCCM
// 4.1.5); a floating one gets what it asks for.
func TestConfigureRequests(t *testing.T) {
	d := keep(t)
	a := d.open("a")
	d.at(a, true, geom.R(0, 0, 1920, 1080))
	xproto.ChangeWindowAttributes(d.Conn, a, xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify})
	xproto.ConfigureWindow(d.Conn, a, xproto.ConfigWindowX|xproto.ConfigWindowWidth, []uint32{77, 500})
	d.Await("it is told its place", func(e xgb.Event) bool {
		c, ok := e.(xproto.ConfigureNotifyEvent)
		if ok && (c.X != 2 || c.Y != 2 || c.Width != 1916 || c.Height != 1076 || c.BorderWidth != 0) {
			t.Errorf("told %+v", c)
		}
		return ok
	})
	d.do("float")
	xproto.ConfigureWindow(d.Conn, a, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight, []uint32{100, 90, 500, 400})
	d.at(a, true, geom.R(100, 90, 504, 404))
	d.until("the desk knows", func() bool { return d.find("a").Rect == geom.R(100, 90, 504, 404) })
}

// Titles are somebody else's words.
func TestTitlesAreCleaned(t *testing.T) {
	t.Parallel()
	d := keep(t)
	win := d.open("plain")
	for _, title := range []string{
		"\x1b]0;pwned\x07\x1b[2J\x1b[31mred", "a\x00b\nc\td\x7f", "\xff\xfe broken \xc3", strings.Repeat("long ", 20_000),
		"\u202eright to left\u2066", "e" + strings.Repeat("\u0301", 500), "漢字かな交じり文 \U0001F3AC", "",
	} {
		d.Text(win, "_NET_WM_NAME", title+"!")
		d.until(fmt.Sprintf("a clean title of %.20q", title), func() bool {
			w := d.snapshot().Windows[0]
			return w.Title != "plain" && (strings.HasSuffix(w.Title, "!") || strings.HasSuffix(w.Title, "…"))
		})
		w := d.snapshot().Windows[0]
		if len([]rune(w.Title)) > desk.MaxTitle || strings.ContainsAny(w.Title, "\x1b\x00\x07\n\t\x7f\u202e\u2066") || strings.Contains(w.Title, "[31m") {
			t.Errorf("the title %.60q came through", w.Title)
		}
		d.Text(win, "_NET_WM_NAME", "plain")
		d.until("the plain title", func() bool { return d.snapshot().Windows[0].Title == "plain" })
	}
}

// Windows that vanish between any two requests are no fault.
func TestWindowsVanish(t *testing.T) {
	t.Parallel()
	d := keep(t)
	d.do("add")
	stays := d.open("stays")
	for round := range 40 {
		var wins []xproto.Window
		for i := range 5 {
			w := d.X.Window(fmt.Sprint("short ", i), 0, 0, 50, 50)
			d.Map(w)
			wins = append(wins, w)
		}
		d.do(fmt.Sprintf("go %d", round%2+1), "layout next")
		for _, w := range wins {
			xproto.DestroyWindow(d.Conn, w)
		}
	}
	d.until("only one is left", func() bool { return len(d.snapshot().Windows) == 1 })
	d.do("go 1")
	d.until("it is shown", func() bool { return d.Viewable(stays) })
	if strings.Contains(d.log.String(), "level=ERROR") || strings.Contains(d.log.String(), "level=WARN") {
		t.Errorf("the log has faults:\n%s", d.log)
	}
}

// A window that its client withdraws is let go of (ICCCM 4.1.4).
func TestWithdraw(t *testing.T) {
	d := keep(t)
	a := d.open("a")
	d.open("b")
	xproto.UnmapWindow(d.Conn, a)
	d.until("a is gone", func() bool { return d.find("a") == nil })
	d.until("it lost its marks", func() bool {
		return d.prop(a, "WM_STATE") == "" || strings.Contains(d.prop(a, "WM_STATE"), "not found")
	})
	if _, _, _, _, border, _ := d.Geometry(a); border != 1 {
		t.Errorf("its border is %d, not its own", border)
	}
	d.Map(a)
	d.until("a is back", func() bool { return d.find("a") != nil && d.Viewable(a) })
	// While hidden, only the synthetic event of 4.1.4 tells.
	d.do("add", "send 2 of title:a")
	d.until("a is hidden", func() bool { return !d.Viewable(a) })
	e := xproto.UnmapNotifyEvent{Event: d.Root, Window: a}
	xproto.SendEvent(d.Conn, false, d.Root, xproto.EventMaskSubstructureRedirect|xproto.EventMaskSubstructureNotify, string(e.Bytes()))
	d.until("a is withdrawn", func() bool { return d.find("a") == nil })
}

func TestOrderlyEndAndSuccessor(t *testing.T) {
	t.Parallel()
	d := keep(t)
	a, b := d.open("a"), d.open("b")
	d.do("add Stage", "send Stage of title:b", "layout lead")
	d.until("b is hidden", func() bool { return !d.Viewable(b) })
	// The others are processes of their own: the library for X shares a table
	// among the connections of one.
	out, err := testkit.TryRun(d.Env, testkit.Binary(t), "keep")
	if err == nil || !strings.Contains(out, "--replace") {
		t.Errorf("a second keeper: %v\n%s", err, out)
	}
	next := testkit.Start(t, d.Env, testkit.Binary(t), "keep", "--replace")
	list := ""
	d.until("the successor answers", func() bool {
		list, err = testkit.TryRun(d.Env, testkit.Binary(t), "list")
		return err == nil
	})
	if !strings.Contains(list, "#2  A2") || !strings.Contains(list, "#1  A1") {
		t.Errorf("the successor has:\n%s", list)
	}
	d.until("b is hidden again", func() bool { return d.Viewable(a) && !d.Viewable(b) })
	d.wantProp("root", "_NET_DESKTOP_NAMES", "Stage")
	next.Process.Signal(syscall.SIGTERM)
	d.until("all are mapped", func() bool { return d.Viewable(a) && d.Viewable(b) })
	d.until("they have their own borders", func() bool {
		_, _, _, _, x, _ := d.Geometry(a)
		_, _, _, _, y, _ := d.Geometry(b)
		return x == 1 && y == 1
	})
}

// Dialogs float over their parents and go where they go.
func TestDialogs(t *testing.T) {
	d := keep(t)
	parent := d.open("parent")
	d.open("other")
	dialog := d.X.Window("dialog", 0, 0, 200, 100)
	d.Cards(dialog, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
	d.Map(dialog)
	d.at(dialog, true, geom.R(378, 488, 204, 104)) // the middle of 0..960
	d.do("add", "send 2 of title:parent")
	d.until("both went", func() bool { return !d.Viewable(parent) && !d.Viewable(dialog) })
	d.until("the dialog is on A2", func() bool { return d.snapshot().Ref(d.find("dialog")) == "A2" })
	// A loop of parents is cut.
	d.Cards(parent, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(dialog))
	d.do("go 2")
	d.until("both show", func() bool { return d.Viewable(parent) && d.Viewable(dialog) })
}
