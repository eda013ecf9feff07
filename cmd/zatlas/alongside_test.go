package main

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"

	"github.com/jezek/xgb/xproto"
)

// foreign is a display with two monitors and a manager of another kind.
func foreign(t *testing.T, sw manager.Switches) (*testkit.Server, *manager.Manager) {
	t.Helper()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	return s, manager.Start(t, s.Display, 2, sw)
}

// What a newcomer does, on a desktop that another program manages: nothing is set up.
func TestAlongsideWalk(t *testing.T) {
	t.Parallel()
	s, m := foreign(t, manager.Switches{})
	one := s.Client(t, "Hall Plan", "xterm", "-geometry", "40x12+100+100")
	two := s.Client(t, "Press List", "xterm", "-geometry", "40x12+700+100")
	term := testkit.NewTerminal(t, 160, 48, s.Env, testkit.Binary(t))
	term.Wait("Hall Plan", "Press List")
	// A workspace is added, and a window sent there.
	term.Keys("a").Type("Foyer")
	term.Keys("Enter")
	term.Wait("Added workspace 3 Foyer")
	if _, count, _, _ := m.Shown(); count != 3 {
		t.Errorf("the manager has %d workspaces", count)
	}
	s.Do(t, "send 3 of title:Hall")
	if got := s.Xprop(t, one, "_NET_WM_DESKTOP"); got != "2" {
		t.Errorf("xprop says that it is on desktop %s", got)
	}
	term.Wait("Sent", "Hall Plan")
	s.Do(t, "undo")
	if got := s.Xprop(t, one, "_NET_WM_DESKTOP"); got != "0" {
		t.Errorf("taken back, xprop says desktop %s", got)
	}
	// One is found by a few letters.
	term.Keys("/").Type("press")
	term.Keys("Enter")
	s.RootIs(t, "_NET_ACTIVE_WINDOW", two)
	// One is lost with its monitor, found, and rescued.
	s.Do(t, "send B of title:Press")
	if x, _, _, _, _, _ := s.Info(two); x < 1920 {
		t.Errorf("sent to B, xwininfo has it at %d", x)
	}
	s.Unplug(t, "DUMMY1")
	term.Wait("Monitor B was unplugged", "lost")
	s.Do(t, "rescue of is:stray")
	if x, _, _, _, viewable, _ := s.Info(two); x > 1700 || !viewable {
		t.Errorf("rescued, xwininfo has it at %d, viewable %v", x, viewable)
	}
	s.Do(t, "undo")
	if x, _, _, _, _, _ := s.Info(two); x < 1920 {
		t.Errorf("taken back, it is at %d", x)
	}
	s.Plug(t, "DUMMY1", 1920, 0)
	term.Wait("Monitor B is plugged in")
	// It goes about, lays out once, and ends with its screens alone.
	s.Do(t, "layout columns of title:Hall", "go 2", "go 1", "focus #1", "maximise of title:Hall")
	if got := s.Xprop(t, one, "_NET_WM_STATE"); !strings.Contains(got, "MAXIMIZED_HORZ") {
		t.Errorf("maximised, xprop says %s", got)
	}
	// A letter is a step as well, and jumps nowhere when it is taken back.
	s.Do(t, "pin r of title:Hall")
	s.Do(t, "jump r")
	if out := s.Do(t, "undo"); !strings.Contains(out, "r jumps to") {
		t.Errorf("undo of a pin says %s", out)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "jump r"); err == nil {
		t.Errorf("taken back, the letter still jumps: %s", out)
	}
	s.Do(t, "redo", "jump r", "undo")
	term.Keys("q")
	if got := term.Ended(); got != "0" {
		t.Errorf("the screens end with %s", got)
	}
	if out := s.List(t); !strings.Contains(out, "Press List") {
		t.Errorf("after the screens the desk is not kept: %s", out)
	}
	s.Do(t, "end")
	testkit.Until(t, "it has ended", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err != nil
	})
	for _, win := range []string{one, two} {
		if _, _, _, _, viewable, ok := s.Info(win); !ok || !viewable {
			t.Errorf("after the end window %s is there: %v, viewable: %v", win, ok, viewable)
		}
	}
}

// Who manages the display decides what zatlas does.
func TestZatlasFindsOut(t *testing.T) {
	t.Parallel()
	bare := testkit.NewServer(t)
	term := testkit.NewTerminal(t, 120, 30, bare.Env, testkit.Binary(t))
	screen := term.Wait("exit status 1")
	for _, want := range []string{"nobody manages", "zatlas keep", "zatlas demo"} {
		if !strings.Contains(strings.Join(strings.Fields(screen), " "), want) {
			t.Errorf("without a manager it says\n%s\nand not %q", screen, want)
		}
	}
	s, _ := foreign(t, manager.Switches{})
	s.Client(t, "Hall Plan", "xterm")
	a := testkit.NewTerminal(t, 120, 40, s.Env, testkit.Binary(t))
	b := testkit.NewTerminal(t, 120, 40, s.Env, testkit.Binary(t))
	for _, term := range []*testkit.Terminal{a, b} {
		term.Wait("Hall Plan")
	}
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "alongside")
	if err == nil || !strings.Contains(out, "already") {
		t.Errorf("a second one says %s, %v", out, err)
	}
	s.Do(t, "rename 1 Programme")
	for _, term := range []*testkit.Terminal{a, b} {
		term.Wait("Programme")
	}
	if got := s.Xprop(t, "root", "_NET_DESKTOP_NAMES"); !strings.Contains(got, "Programme") {
		t.Errorf("the names are %s", got)
	}
	// Our own keeper takes the display over, and its socket.
	testkit.Run(t, s.Env, testkit.Binary(t), "do", "end")
}

// A desk that was started for screens ends so long after the last of them.
func TestLinger(t *testing.T) {
	t.Parallel()
	s, _ := foreign(t, manager.Switches{})
	p := testkit.Spawn(t, s.Env, testkit.Binary(t), "alongside", "--linger", "300ms")
	if status, printed := p.End(); status != 0 {
		t.Errorf("it ended with %d: %s", status, printed)
	}
}

// With --chords the chords that are free work; those of the manager stay its own.
func TestAlongsideChords(t *testing.T) {
	t.Parallel()
	s, m := foreign(t, manager.Switches{})
	x, other := s.NewX(t), s.NewX(t)
	s.Client(t, "Hall Plan", "xterm")
	xproto.GrabKey(other.Conn, true, other.Root, xproto.ModMask4, xproto.Keycode(other.Code('1')), xproto.GrabModeAsync, xproto.GrabModeAsync)
	other.Conn.Sync()
	p := testkit.Spawn(t, s.Env, testkit.Binary(t), "alongside", "--chords")
	keys := ""
	testkit.Until(t, "it answers", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "keys")
		keys = out
		return err == nil
	})
	for line := range strings.Lines(keys) {
		if strings.Contains(line, "Super+1 ") && !strings.Contains(line, "taken") || strings.Contains(line, "Super+2 ") && strings.Contains(line, "taken") {
			t.Errorf("the keys are told as %s", line)
		}
		for _, verb := range []string{"float", "turn", "mirror"} {
			if slices.Contains(strings.Fields(line), verb) {
				t.Errorf("a chord is taken for what cannot be had: %s", line)
			}
		}
	}
	shown := func(want int) func() bool {
		return func() bool { current, _, _, _ := m.Shown(); return current == want }
	}
	x.Press(testkit.Super, '2')
	testkit.Until(t, "it is on 2", shown(1))
	x.Press(testkit.Super, '1') // which another program has
	x.Press(testkit.Super, testkit.Shift, '2')
	s.Do(t, "go 1")
	testkit.Until(t, "it is on 1", shown(0))
	x.Lock(xproto.ModMaskLock, true)
	x.Press(testkit.Super, '2')
	testkit.Until(t, "it is on 2, the locks notwithstanding", shown(1))
	x.Lock(xproto.ModMaskLock, false)
	s.Settings(t, "[chords]\n\"Super+F7\" = \"go 1\"\n")
	s.Do(t, "reload")
	testkit.Until(t, "the new chord works", func() bool {
		x.Press(testkit.Super, 0xffc4)
		return testkit.Soon(shown(0))
	})
	s.Do(t, "end")
	if status, printed := p.End(); status != 0 {
		t.Errorf("it ended with %d: %s", status, printed)
	}
}

// A plate is placings, where another program manages the windows: those that were saved
// there, and tiles of one that was saved elsewhere.
func TestPlatesAlongside(t *testing.T) {
	t.Parallel()
	s, _ := foreign(t, manager.Switches{})
	one := s.Client(t, "Hall Plan", "xterm", "-geometry", "40x12+100+100")
	two := s.Client(t, "Press List", "xterm", "-geometry", "40x12+700+100")
	term := testkit.NewTerminal(t, 160, 48, s.Env, testkit.Binary(t))
	term.Wait("Hall Plan", "Press List")
	place := func(id string) string {
		x, y, w, h, _, _ := s.Info(id)
		return fmt.Sprint(s.Xprop(t, id, "_NET_WM_DESKTOP"), x, y, w, h)
	}
	s.Do(t, "plate save Day")
	a, b := place(one), place(two)
	s.Do(t, "send 2 of title:Hall", "send B of title:Press", "resize right 200 of title:Press")
	moved := place(one) + place(two)
	if out := s.Do(t, "plate lay Day"); !strings.Contains(out, "Laid Day: 2 windows moved.") || place(one) != a || place(two) != b {
		t.Errorf("laid, %s and they lie at %s and %s, and lay at %s and %s", out, place(one), place(two), a, b)
	}
	s.Do(t, "undo")
	if got := place(one) + place(two); got != moved {
		t.Errorf("taken back, they lie at %s, and lay at %s", got, moved)
	}
	s.Do(t, "send 1 of title:Hall", "send A of title:Press")
	folder := filepath.Join(s.Dir, "config", "zealous-atlas", "plates")
	text := `{"format": "zealous-atlas/plate/1", "size": "sheet", "monitors": [{"letter": "A", "rect": [0, 0, 1000, 500]}],
		"workspaces": [{"sheets": {"A": {"layout": "columns", "places": [1, 2]}}}],
		"places": [{"id": 1, "app": "XTerm", "title": "Press*"}, {"id": 2, "app": "XTerm", "title": "Hall*"}]}`
	if err := os.WriteFile(filepath.Join(folder, "Pair.json"), []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	s.Do(t, "focus A", "plate lay Pair")
	x1, _, _, _, _, _ := s.Info(two)
	x2, _, w2, _, _, _ := s.Info(one)
	if x1 > 20 || x2 < 940 || x2 > 980 || w2 < 900 {
		t.Errorf("side by side, one is at %d and the other at %d, %d wide", x1, x2, w2)
	}
	s.Do(t, "plate remove Pair")
	if out := s.Do(t, "undo"); !strings.Contains(out, "Undid: Removed the plate Pair.") {
		t.Errorf("undo says %s", out)
	}
	if _, err := os.Stat(filepath.Join(folder, "Pair.json")); err != nil {
		t.Error(err)
	}
}

// The terminal that the screens run in is one of the windows: another is chosen first.
func TestOwnTerminal(t *testing.T) {
	t.Parallel()
	s, _ := foreign(t, manager.Switches{})
	plan := s.Client(t, "Hall Plan", "xterm", "-geometry", "40x12+100+100")
	own := s.Client(t, "Screens", "xterm", "-geometry", "150x44+600+100", "-e", testkit.Binary(t))
	x := s.NewX(t)
	testkit.Until(t, "it has the focus and its title", func() bool {
		return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == own && strings.Contains(s.Xprop(t, own, "WM_NAME"), "Zealous Atlas")
	})
	desktop := func(win string) string { return s.Xprop(t, win, "_NET_WM_DESKTOP") }
	testkit.Until(t, "s 2 sends the other window", func() bool {
		x.Type("s 2")
		return testkit.Soon(func() bool { return desktop(plan) == "1" })
	})
	if desktop(own) != "0" {
		t.Error("the screens have sent their own terminal away")
	}
	s.Do(t, "end")
}

// Beside a manager that is slower than the half second after which it is told so, and with
// many windows, what is asked for is told as done when it is: in words, by the exit status,
// in the logbook and for undo.
func TestBesideSlowManager(t *testing.T) {
	t.Parallel()
	besideSlowManager(t, 2*time.Second, 3)
}

func TestBesideSlowManagerOfMany(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		slow    time.Duration
		windows int
	}{{600 * time.Millisecond, 3}, {0, 300}, {600 * time.Millisecond, 300}} {
		t.Run(fmt.Sprintf("%v %d windows", c.slow, c.windows), func(t *testing.T) {
			t.Parallel()
			besideSlowManager(t, c.slow, c.windows)
		})
	}
}

func besideSlowManager(t *testing.T, slow time.Duration, windows int) {
	t.Helper()
	s := testkit.NewServer(t)
	m := manager.Start(t, s.Display, 2, manager.Switches{})
	x := s.NewX(t)
	var open []xproto.Window
	for i := range windows {
		open = append(open, x.Window(fmt.Sprint("plan ", i), 10+i, 10+i, 200, 150))
		x.Map(open[i])
	}
	testkit.Start(t, s.Env, testkit.Binary(t), "alongside")
	testkit.Until(t, "all are on the desk", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err == nil && strings.Count(out, "\n") == windows
	})
	m.Switch(manager.Switches{Slow: slow})
	on := func(desktop int) (n int) {
		for _, win := range open {
			if got, ok := m.State(win); ok && got.Desktop == desktop {
				n++
			}
		}
		return n
	}
	want := fmt.Sprintf("Sent %d windows to 2.", windows)
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "send 2 of all"); err != nil || !strings.HasPrefix(out, want) || on(1) != windows {
		t.Errorf("send says %q, %v, and %d are there", out, err, on(1))
	}
	lines := strings.Split(strings.TrimSpace(testkit.Run(t, s.Env, testkit.Binary(t), "log")), "\n")
	if last := lines[len(lines)-1]; !strings.Contains(last, want) || strings.Contains(strings.Join(lines, "\n"), "not yet seen") {
		t.Errorf("the logbook ends with\n%s", strings.Join(lines[max(0, len(lines)-3):], "\n"))
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "undo"); err != nil || !strings.HasPrefix(out, "Undid: "+want) || on(0) != windows {
		t.Errorf("undo says %q, %v, and %d are back", out, err, on(0))
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "redo"); err != nil || on(1) != windows {
		t.Errorf("redo says %q, %v, and %d are there", out, err, on(1))
	}
}

// A manager that dies in the middle has done nothing more: the command fails, and says why;
// undo has nothing of it, and the next manager is asked anew.
func TestBesideDeadManager(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	m := manager.Start(t, s.Display, 2, manager.Switches{})
	one := s.Client(t, "Hall Plan", "xterm")
	testkit.Start(t, s.Env, testkit.Binary(t), "alongside")
	testkit.Until(t, "it is on the desk", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err == nil && strings.Contains(out, "Hall Plan")
	})
	held, let := make(chan struct{}), make(chan struct{})
	release := sync.OnceFunc(func() { close(let) })
	defer release()
	go m.Do(func() { close(held); <-let })
	<-held
	said := make(chan string)
	go func() {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "send 2 of all")
		said <- fmt.Sprint(err, " ", out)
	}()
	testkit.Until(t, "it is asked for", func() bool {
		return strings.Contains(testkit.Run(t, s.Env, testkit.Binary(t), "log"), "Asked for, and not yet seen: Sent XTerm · Hall Plan to 2.")
	})
	m.Kill()
	release()
	if out := <-said; !strings.Contains(out, "exit status 1") || !strings.Contains(out, "manager has gone before it was done") {
		t.Errorf("the command line is told %s", out)
	}
	log := strings.TrimSpace(testkit.Run(t, s.Env, testkit.Binary(t), "log"))
	if !strings.HasSuffix(log, "The desktop's manager has gone before it was done.") {
		t.Errorf("the logbook is\n%s", log)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "undo"); err == nil || !strings.Contains(out, "nothing to undo") {
		t.Errorf("undo says %s", out)
	}
	manager.Start(t, s.Display, 2, manager.Switches{})
	testkit.Until(t, "the next manager does it", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "send 2 of all")
		return err == nil && strings.HasPrefix(out, "Sent XTerm · Hall Plan to 2.")
	})
	if got := s.Xprop(t, one, "_NET_WM_DESKTOP"); got != "1" {
		t.Errorf("xprop says desktop %s", got)
	}
}
