package alongside_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/alongside"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/testkit/manager"
)

// desktop is a stand with a keeper beside its manager.
type desktop struct {
	*stand
	m      *manager.Manager
	mapped bool // it leaves windows of other workspaces mapped
	k      *keeper.Keeper
	end    func()
}

// newDesktop starts a manager, has programs open windows, and begins beside it.
func newDesktop(t *testing.T, sw manager.Switches, workspaces int, titles ...string) *desktop {
	t.Helper()
	d := &desktop{mapped: sw.LeavesMapped}
	d.stand = newStand(t, func(s *stand) {
		d.m = manager.Start(t, s.Display, workspaces, sw)
		s.frameOf = func(win xproto.Window) geom.Rect { c, _ := d.m.State(win); return c.Rect }
	})
	for _, title := range titles {
		d.open(t, title)
	}
	d.managing(t, len(titles))
	d.begin(t, d.Display)
	return d
}

// managing waits until the manager has so many windows.
func (d *desktop) managing(t *testing.T, n int) {
	t.Helper()
	testkit.Until(t, "the manager has the windows", func() bool { return len(d.m.Windows()) == n })
}

// begin begins beside the manager, on the display by that name.
func (d *desktop) begin(t *testing.T, display string) {
	t.Helper()
	host, found, err := alongside.Open(alongside.Options{Display: display})
	if err != nil {
		t.Fatal(err)
	}
	d.k = keeper.New(found, host, keeper.Options{Real: true})
	ctx, cancel := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { defer close(ended); d.k.Run(ctx) }()
	d.end = func() { cancel(); <-ended }
	t.Cleanup(d.end)
}

func (d *desktop) do(t *testing.T, line string) (words string, err error) {
	t.Helper()
	c := desks.Command(t, line)
	o, err := d.k.Do(t.Context(), c, keeper.Line)
	if err != nil {
		t.Fatal(err)
	}
	return o.Result.Words, o.Err
}

// must is do for what is not refused.
func (d *desktop) must(t *testing.T, lines ...string) {
	t.Helper()
	for _, line := range lines {
		if words, err := d.do(t, line); err != nil || strings.Contains(words, "The desktop's manager") {
			t.Fatalf("%s: %s, %v", line, words, err)
		}
	}
}

func (d *desktop) now() *desk.Desk {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	return (<-d.k.Watch(ctx)).Desk
}

// window is the one of that title.
func (d *desktop) window(title string) *desk.Window {
	ws := d.now().Windows
	if i := slices.IndexFunc(ws, func(w *desk.Window) bool { return w.Title == title }); i >= 0 {
		return ws[i]
	}
	return nil
}

// keptAway tells whether the manager keeps a window off the screen: the desk has the place
// where it was last seen.
func (d *desktop) keptAway(c manager.Client, current int) bool {
	return d.mapped && (c.Desktop >= 0 && c.Desktop != current || c.States["HIDDEN"])
}

// disagree tells where the desk and the manager are not of one mind; empty where they are.
func (d *desktop) disagree() string {
	now := d.now()
	current, count, active, bare := d.m.Shown()
	if now.Current() != current || len(now.Workspaces) != count || now.Bare != bare {
		return fmt.Sprintf("the desk is on %d of %d, bare %v; the manager on %d of %d, %v", now.Current(), len(now.Workspaces), now.Bare, current, count, bare)
	}
	wins := d.m.Windows()
	if len(wins) != len(now.Windows) {
		return fmt.Sprintf("the desk has %d windows, the manager %d", len(now.Windows), len(wins))
	}
	for _, win := range wins {
		c, _ := d.m.State(win)
		w := d.window(d.m.Title(win))
		if w == nil {
			return fmt.Sprintf("the desk has no window %q", d.m.Title(win))
		}
		if at := now.Index(w.Workspace); at != c.Desktop && c.Desktop >= 0 || w.Sticky != (c.Desktop < 0) || w.Rect != c.Rect && !w.LastSeen && !d.keptAway(c, current) ||
			w.Minimised != c.States["HIDDEN"] || w.Fullscreen != c.States["FULLSCREEN"] || w.Above != c.States["ABOVE"] ||
			w.Maximised != (c.States["MAXIMIZED_HORZ"] && c.States["MAXIMIZED_VERT"]) {
			return fmt.Sprintf("%s is %+v on workspace %d of the desk, and the manager has %+v", w.Title, w, at, c)
		}
		if active == win && now.Focus != w.ID && !bare && !w.Minimised {
			return fmt.Sprintf("%s has the focus, and #%d on the desk", w.Title, now.Focus)
		}
	}
	return ""
}

func (d *desktop) agrees(t *testing.T, after string) {
	t.Helper()
	last := ""
	for end := time.Now().Add(testkit.Deadline); time.Now().Before(end); time.Sleep(2 * time.Millisecond) {
		if last = d.disagree(); last == "" {
			return
		}
	}
	t.Fatalf("after %s: %s", after, last)
}

// Nothing is asked for that no command asks for, and no more than it needs.
func TestAsksWhatIsNeeded(t *testing.T) {
	d := &desktop{}
	d.stand = newStand(t, func(s *stand) { d.m = manager.Start(t, s.Display, 3, manager.Switches{}) })
	d.open(t, "one")
	d.open(t, "two")
	d.managing(t, 2)
	d.m.Requests()
	spy := d.Spy(t)
	d.begin(t, spy.Display)
	d.open(t, "three")
	d.Unplug(t, "DUMMY1")
	d.Plug(t, "DUMMY1", 1920, 0)
	testkit.Until(t, "three is on the desk", func() bool { return d.window("three") != nil })
	d.m.Ask(d.programs["three"].win, "_NET_CURRENT_DESKTOP", 1)
	testkit.Until(t, "it is on 2", func() bool { return d.now().Current() == 1 })
	d.m.Ask(d.programs["three"].win, "_NET_CURRENT_DESKTOP", 0)
	d.agrees(t, "what others did")
	if asked := append(spy.Take(), d.m.Requests()...); len(asked) > 0 {
		t.Fatalf("without a command it asks for %q", asked)
	}
	for _, c := range []struct {
		line string
		asks []string // the kinds of requests, in order
	}{
		{"go 2", []string{"_NET_CURRENT_DESKTOP"}},
		{"go 2", nil},
		{"go 1", []string{"_NET_CURRENT_DESKTOP"}},
		{"focus #1", []string{"_NET_ACTIVE_WINDOW"}},
		{"send 2 of #1", []string{"_NET_WM_DESKTOP"}},
		{"undo", []string{"_NET_WM_DESKTOP"}},
		{"carry 3 of #2", []string{"_NET_WM_DESKTOP", "_NET_CURRENT_DESKTOP", "_NET_ACTIVE_WINDOW"}},
		{"go 1", []string{"_NET_CURRENT_DESKTOP"}},
		{"send B of #1", []string{"_NET_MOVERESIZE_WINDOW"}},
		{"maximise of #1", []string{"_NET_WM_STATE"}},
		{"maximise across off of #1", []string{"_NET_WM_STATE"}},
		{"maximise off of #1", []string{"_NET_WM_STATE"}},
		{"above on of #1", []string{"_NET_WM_STATE"}},
		{"below on of #1", []string{"_NET_WM_STATE", "_NET_WM_STATE"}},
		{"below off of #1", []string{"_NET_WM_STATE"}},
		{"minimise of #1", []string{"WM_CHANGE_STATE"}},
		{"restore of #1", []string{"_NET_ACTIVE_WINDOW"}},
		{"stick of #1", []string{"_NET_WM_DESKTOP"}},
		{"stick of #1", []string{"_NET_WM_DESKTOP"}},
		{"send A of #1", []string{"_NET_MOVERESIZE_WINDOW"}},
		{"lower of #1", []string{"_NET_RESTACK_WINDOW"}},
		{"raise of #1", []string{"_NET_RESTACK_WINDOW"}},
		{"bare", []string{"_NET_SHOWING_DESKTOP"}},
		{"bare", []string{"_NET_SHOWING_DESKTOP"}},
		{"add", []string{"_NET_NUMBER_OF_DESKTOPS"}},
		{"remove 4", []string{"_NET_NUMBER_OF_DESKTOPS"}},
		{"rename 1 Programme", nil},
		{"rename 1 Programme", nil},
		{"snap left of #1", []string{"_NET_MOVERESIZE_WINDOW"}},
		{"layout rows of #1 or #3", []string{"_NET_MOVERESIZE_WINDOW", "_NET_MOVERESIZE_WINDOW"}},
		{"pin a window of #1", nil},
		{"close of #1", []string{"_NET_CLOSE_WINDOW"}},
	} {
		spy.Take()
		d.m.Requests()
		if words, err := d.do(t, c.line); err != nil {
			t.Fatalf("%s: %s, %v", c.line, words, err)
		}
		var kinds []string
		asked := d.m.Requests()
		testkit.Until(t, "what "+c.line+" asks for has come", func() bool { // nothing comes back of being asked to close
			asked = append(asked, d.m.Requests()...)
			return len(asked) >= len(c.asks)
		})
		for _, r := range asked {
			kind, _, _ := strings.Cut(r, " ")
			kinds = append(kinds, kind)
		}
		said := len(spy.Take())
		want := len(c.asks)
		if strings.HasPrefix(c.line, "rename") && said == 1 { // the names are written, and no message
			want = 1
		}
		if !slices.Equal(kinds, c.asks) || said != want {
			t.Errorf("%s asks for %v, in %d requests; want %v", c.line, kinds, said, c.asks)
		}
	}
}

// What is asked for is not done until it is seen, and what is refused is told.
func TestRefused(t *testing.T) {
	t.Parallel()
	d := newDesktop(t, manager.Switches{RefusesMoves: true, ForgetsStates: true, OwnStacking: true}, 2, "one", "two")
	for _, c := range []struct{ line, words string }{
		{"send B of title:one", "The desktop's manager left one where it was"},
		{"maximise of title:one", "The desktop's manager did not maximise one"},
		{"layout columns of title:one or title:two", "left one where it was. The desktop's manager left two where it was"},
	} {
		before := d.now()
		_, err := d.do(t, c.line)
		if err == nil || !strings.Contains(err.Error(), c.words) {
			t.Errorf("%s: %v, want %s", c.line, err, c.words)
		}
		if now := d.now(); now.Window(1).Rect != before.Window(1).Rect || now.Window(1).Maximised || now.Undo() != before.Undo() {
			t.Errorf("after %s was refused, the desk is another", c.line)
		}
	}
	one := d.window("one")
	if !slices.Equal(one.Refused, []string{"send", "maximise", "layout"}) {
		t.Errorf("what was refused is remembered as %v", one.Refused)
	}
	d.m.Place(d.programs["one"].win, geom.R(50, 60, 308, 226))
	testkit.Until(t, "what was refused is forgotten", func() bool { return len(d.window("one").Refused) == 0 })
	// Some of it is done, and undo holds that.
	d.m.Switch(manager.Switches{RefusesFull: true})
	d.must(t, "maximise of title:two")
	d.m.Switch(manager.Switches{RefusesMoves: true})
	words, err := d.do(t, "send B2 of title:one")
	if err != nil || !strings.Contains(words, "left one where it was") {
		t.Errorf("sent to another workspace and monitor: %s, %v", words, err)
	}
	if w := d.window("one"); d.now().Ref(w) != "A2" {
		t.Errorf("it is on %s", d.now().Ref(w))
	}
	d.must(t, "undo")
	if w := d.window("one"); d.now().Ref(w) != "A1" {
		t.Errorf("taken back, it is on %s", d.now().Ref(w))
	}
	// A maximised window is restored first where it must be moved.
	d.m.Switch(manager.Switches{RefusesFull: true})
	d.must(t, "snap right of title:two")
	d.agrees(t, "a maximised window is snapped")
}

// hold has the manager stand still until release is called.
func (d *desktop) hold(t *testing.T) (release func()) {
	held, let := make(chan struct{}), make(chan struct{})
	go d.m.Do(func() { close(held); <-let })
	<-held
	release = sync.OnceFunc(func() { close(let) })
	t.Cleanup(release)
	return release
}

// lastLine is the last line of the logbook.
func (d *desktop) lastLine(t *testing.T) string {
	t.Helper()
	lines, err := d.k.Log(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return lines[len(lines)-1].Words
}

// A manager that stands still has refused nothing: what it was asked for is not yet seen,
// and done when it is.
func TestSlowManager(t *testing.T) {
	t.Parallel()
	d := newDesktop(t, manager.Switches{}, 2, "one")
	release := d.hold(t)
	c := desks.Command(t, "send 2 of #1")
	o, err := d.k.Do(t.Context(), c, keeper.Screen)
	if err != nil || o.Err != nil || !o.Unseen || !strings.Contains(o.Result.Words, "not yet seen") {
		t.Errorf("while the manager stands still: %+v, %v", o, err)
	}
	if w := d.window("one"); d.now().Ref(w) != "A1" || d.now().Undo() != "" {
		t.Errorf("the desk has it on %s, and would take back %q", d.now().Ref(w), d.now().Undo())
	}
	d.must(t, "pin p window of #1") // which waits for nothing
	line := make(chan keeper.Outcome)
	go func() {
		c, _ := lang.ParseCommand("go 2")
		o, _ := d.k.Do(context.Background(), c, keeper.Line)
		line <- o
	}()
	testkit.Until(t, "it is asked for too", func() bool { return strings.HasPrefix(d.lastLine(t), "Asked for, and not yet seen: On 2") })
	release()
	if o := <-line; o.Err != nil || o.Unseen {
		t.Errorf("a command line waits for it, and is told %+v", o)
	}
	testkit.Until(t, "it is told as done", func() bool {
		lines, _ := d.k.Log(t.Context())
		return slices.ContainsFunc(lines, func(l keeper.Entry) bool { return strings.HasPrefix(l.Words, "Sent one to 2") })
	})
	if w := d.window("one"); d.now().Ref(w) != "A2" || !strings.HasPrefix(d.now().Undo(), "Sent one") {
		t.Errorf("it is on %s, and undo would take back %q", d.now().Ref(w), d.now().Undo())
	}
	d.must(t, "undo")
	d.agrees(t, "it is taken back")
	if w := d.window("one"); d.now().Ref(w) != "A1" || w.Pin != 'p' {
		t.Errorf("taken back, it is on %s, with the letter %c", d.now().Ref(w), w.Pin)
	}
}

// What comes after it was taken for refused is put right, in the logbook and for undo.
func TestLateAnswer(t *testing.T) {
	t.Parallel()
	d := newDesktop(t, manager.Switches{Late: 1500 * time.Millisecond}, 3, "one", "two")
	if words, err := d.do(t, "send 2 of title:one"); err == nil {
		t.Errorf("a manager that goes on without it has done it: %s", words)
	}
	testkit.Until(t, "it is told as done", func() bool { return strings.HasPrefix(d.lastLine(t), "Sent one to 2") })
	if w := d.window("one"); d.now().Ref(w) != "A2" || !strings.HasPrefix(d.now().Undo(), "Sent one") {
		t.Errorf("it is on %s, and undo would take back %q", d.now().Ref(w), d.now().Undo())
	}
	// What is asked for since takes the place of what is late.
	d.do(t, "send 1 of title:one")
	d.m.Switch(manager.Switches{})
	d.must(t, "send 3 of title:one")
	d.m.Switch(manager.Switches{Late: 50 * time.Millisecond})
	// A command that needs nothing of one before does not wait for it.
	release := d.hold(t)
	first := make(chan struct{})
	c, _ := lang.ParseCommand("send 2 of title:two")
	go func() { d.k.Do(context.Background(), c, keeper.Line); close(first) }()
	d.must(t, "rename 2 Press")
	release()
	d.must(t, "undo")
	<-first
	d.agrees(t, "commands at once")
}

// A workspace that is moved is told by where it is then, so that a cursor goes with it.
func TestReorderGoesAlong(t *testing.T) {
	d := newDesktop(t, manager.Switches{}, 4, "one", "two")
	d.must(t, "rename 1 Press", "rename 2 Foyer", "rename 3 Guests")
	c := desks.Command(t, "reorder Guests to 1")
	o, err := d.k.Do(t.Context(), c, keeper.Line)
	if err != nil || o.Err != nil {
		t.Fatal(err, o.Err)
	}
	if i := d.now().Index(o.Result.Workspace); i != 0 || d.now().Workspaces[0].Name != "Guests" {
		t.Errorf("Guests was moved to 1, and the one told is %d, %q", i+1, d.now().Workspaces[max(i, 0)].Name)
	}
}

// Managers come and go, and nothing is lost.
func TestAnotherManager(t *testing.T) {
	d := newDesktop(t, manager.Switches{}, 3, "one", "two")
	d.must(t, "rename 2 Press", "send 2 of title:two", "pin p window of title:two")
	two := d.window("two").ID
	d.m.Stop()
	testkit.Until(t, "it is told", func() bool {
		lines, _ := d.k.Log(t.Context())
		return slices.ContainsFunc(lines, func(l keeper.Entry) bool { return strings.Contains(l.Words, "manager has gone") })
	})
	if n := len(d.now().Windows); n != 2 {
		t.Errorf("without a manager there are %d windows", n)
	}
	d.m = manager.Start(t, d.Display, 2, manager.Switches{NoBare: true})
	d.managing(t, 2)
	d.agrees(t, "another manager came")
	if w := d.window("two"); w.ID != two || w.Pin != 'p' {
		t.Errorf("the window that was #%d is %+v", two, w)
	}
	if c, err := d.do(t, "bare"); err == nil {
		t.Errorf("what it does not list is done: %s", c)
	}
	d.must(t, "go 2", "add", "send 3 of title:one", "go 3")
	d.agrees(t, "commands to the other one")
}

// Windows vanish in the middle, and clients say anything.
func TestVanishing(t *testing.T) {
	d := newDesktop(t, manager.Switches{Late: 50 * time.Millisecond}, 2, "one", "two", "three")
	for range 3 {
		done := make(chan struct{})
		go func() { defer close(done); d.do(t, "send 2 of all") }()
		for title, p := range d.programs {
			p.Conn.Close()
			delete(d.programs, title)
			break
		}
		<-done
	}
	testkit.Until(t, "all are gone", func() bool { return len(d.now().Windows) == 0 })
	p := d.open(t, "\x1b[31mred\x07")
	p.Cards(p.win, "_NET_WM_STATE", xproto.AtomWindow, 0xffffffff, 0, 7)
	p.Cards(p.win, "_NET_WM_DESKTOP", xproto.AtomCardinal, 77)
	p.Cards(p.win, "_NET_FRAME_EXTENTS", xproto.AtomCardinal, 0xffffffff, 0xffffffff, 0xffffffff, 0xffffffff)
	p.Cards(p.win, "_GTK_FRAME_EXTENTS", xproto.AtomCardinal, 1<<30, 1<<30, 1<<30, 1<<30)
	p.Cards(p.win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(p.win))
	p.Cards(d.eye.Root, "_NET_NUMBER_OF_DESKTOPS", xproto.AtomCardinal, 0xffffffff)
	p.Cards(d.eye.Root, "_NET_CLIENT_LIST", xproto.AtomWindow, uint32(p.win), 1, 2, 3, uint32(p.win), 0xffffffff)
	p.Text(d.eye.Root, "_NET_CURRENT_DESKTOP", "text")
	testkit.Until(t, "it is on the desk", func() bool { return len(d.now().Windows) == 1 })
	for _, w := range d.now().Windows {
		if strings.ContainsAny(w.Title, "\x1b\x07") || w.Rect.W < 1 || w.Rect.H < 1 {
			t.Errorf("it is %q at %v", w.Title, w.Rect)
		}
	}
	if err := d.now().Check(); err != nil {
		t.Error(err)
	}
}

// Whatever anybody writes into the manager's list, real windows are taken up and commands
// are answered: what is no window is asked about once.
func TestHostileList(t *testing.T) {
	t.Parallel()
	d := newDesktop(t, manager.Switches{}, 2, "one")
	made := make([]uint32, 60_000)
	for i := range made {
		made[i] = uint32(0x3f000000 + 8*i)
	}
	for n := range 20 {
		made[0]++ // another list
		d.eye.Cards(d.eye.Root, "_NET_CLIENT_LIST", xproto.AtomWindow, append(slices.Clone(made), uint32(d.programs["one"].win))...)
		d.must(t, fmt.Sprintf("go %d", 1+(n+1)%2))
	}
	d.open(t, "two")
	testkit.Until(t, "two is on the desk", func() bool { return d.window("two") != nil })
	if n := len(d.now().Windows); n != 2 {
		t.Errorf("there are %d windows", n)
	}
}

// A connection that may see nothing is told of, and so is a display without a manager.
func TestOpenFails(t *testing.T) {
	s, trusted, untrusted := testkit.NewGuardedServer(t)
	t.Setenv("XAUTHORITY", trusted)
	if _, _, err := alongside.Open(alongside.Options{Display: s.Display}); !errors.Is(err, alongside.ErrNoManager) {
		t.Errorf("without a manager: %v", err)
	}
	m := manager.Start(t, s.Display, 2, manager.Switches{})
	x := s.NewX(t)
	x.Map(x.Window("one", 10, 10, 300, 200))
	testkit.Until(t, "the manager has it", func() bool { return len(m.Windows()) == 1 })
	t.Setenv("XAUTHORITY", untrusted)
	if _, _, err := alongside.Open(alongside.Options{Display: s.Display}); !errors.Is(err, alongside.ErrUntrusted) {
		t.Errorf("an untrusted connection: %v", err)
	}
	if _, err := alongside.Find(s.Display); !errors.Is(err, alongside.ErrUntrusted) {
		t.Errorf("an untrusted connection finds out: %v", err)
	}
	t.Setenv("XAUTHORITY", trusted)
	if _, d, err := alongside.Open(alongside.Options{Display: s.Display}); err != nil || len(d.Windows) != 1 {
		t.Errorf("a trusted one: %v", err)
	}
}

// The work area of a monitor is what its docks leave, and a window behind one is a stray.
func TestDocks(t *testing.T) {
	d := newDesktop(t, manager.Switches{}, 2, "one")
	x := d.NewX(t)
	panel := x.Window("panel", 1920, 0, 1920, 40)
	x.Cards(panel, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(x.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	x.Cards(panel, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 40, 0, 0, 0, 0, 0, 1920, 3839, 0, 0)
	x.Map(panel)
	work := func(letter byte) geom.Rect { return d.now().Monitor(letter).Work }
	testkit.Until(t, "the dock counts", func() bool { return work('B') == geom.R(1920, 40, 1920, 1040) && work('A').Y == 0 })
	if n := len(d.now().Windows); n != 1 {
		t.Errorf("there are %d windows: the dock is none", n)
	}
	x.Cards(panel, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 60, 0, 0, 0, 0, 0, 1920, 3839, 0, 0)
	testkit.Until(t, "it grows", func() bool { return work('B').Y == 60 })
	d.m.Place(d.programs["one"].win, geom.R(2000, 2, 308, 226))
	testkit.Until(t, "one is behind it", func() bool { return len(d.now().Select(desk.Is{State: desk.IsStray})) == 1 })
	d.must(t, "rescue of is:stray")
	if w := d.window("one"); w.Rect.Y < 60 {
		t.Errorf("rescued, it is at %v", w.Rect)
	}
	x.Conn.Close()
	testkit.Until(t, "the dock is gone", func() bool { return work('B').Y == 0 })
}

// Who is over whom is asked for by raise and lower alone, and taken back.
func TestStackingBack(t *testing.T) {
	for _, sw := range []manager.Switches{{}, {NoMoveResize: true}} {
		d := newDesktop(t, sw, 2, "one", "two", "three", "over")
		d.must(t, "above on of title:over")
		order := func() (ids []int) { return d.now().Sheet(0, 'A').Floating }
		before := slices.Clone(order())
		d.must(t, "raise of title:one")
		if now := order(); now[2] != 1 || now[3] != 4 {
			t.Errorf("with one raised the order is %v", now)
		}
		d.must(t, "undo")
		if now := order(); !slices.Equal(now, before) {
			t.Errorf("taken back it is %v, and was %v", now, before)
		}
		d.must(t, "lower of title:three", "undo", "redo")
		if now := order(); now[0] != 3 {
			t.Errorf("with three lowered it is %v", now)
		}
		d.must(t, "undo")
		if now := order(); !slices.Equal(now, before) {
			t.Errorf("taken back it is %v, and was %v", now, before)
		}
	}
}
