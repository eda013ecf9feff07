package main

import (
	"os"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// twoHosts has the same done on a display that a keeper keeps, and on one that another
// program manages. There are three workspaces and the windows one, two and three, of which
// the last was focused last and one before it.
func twoHosts(t *testing.T, do func(t *testing.T, s *testkit.Server, x *testkit.X, ids map[string]string, p *testkit.Process)) {
	for _, host := range []string{"keep", "alongside"} {
		t.Run(host, func(t *testing.T) {
			s := testkit.NewServer(t)
			s.Plug(t, "DUMMY1", 1920, 0)
			s.Settings(t, "[chords]\n\"Atlas+Q s 3\" = \"send 3\"\n\"Atlas+Q c\" = \"close of all\"\n\"hold Atlas+F8\" = \"go 3\"\n[keeper]\ncard = 100\n[corners]\ntopleft = \"strays\"\n")
			args := []string{"keep", "--line", "none"}
			if host == "alongside" {
				manager.Start(t, s.Display, 3, manager.Switches{})
				args = []string{"alongside", "--chords"}
			}
			p := testkit.Spawn(t, s.Env, testkit.Binary(t), args...)
			testkit.Until(t, "it answers", func() bool {
				_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
				return err == nil
			})
			if host == "keep" {
				s.Do(t, "add", "add", "go 1")
			}
			ids := map[string]string{}
			for _, title := range []string{"two", "one", "three"} {
				ids[title] = s.Client(t, title, "xterm", "-geometry", "40x12+100+100")
				focused(t, s, ids[title])
			}
			do(t, s, s.NewX(t), ids, p)
		})
	}
}

// What chords come to, read from the server, is the same whoever manages the display.
func TestSameKeysOnBothHosts(t *testing.T) {
	twoHosts(t, func(t *testing.T, s *testkit.Server, x *testkit.X, ids map[string]string, _ *testkit.Process) {
		const f8 = 0xffc5
		at := func(title, desktop string) {
			t.Helper()
			testkit.Until(t, title+" is on desktop "+desktop, func() bool { return s.Xprop(t, ids[title], "_NET_WM_DESKTOP") == desktop })
		}
		shown := func(desktop string) {
			t.Helper()
			testkit.Until(t, "desktop "+desktop+" is shown", func() bool { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == desktop })
		}
		shows := func(what string, is bool) {
			t.Helper()
			testkit.Until(t, what, func() bool { return card(s) == is })
		}
		free := func(after string) {
			t.Helper()
			testkit.Until(t, "the keyboard is everybody's after "+after, x.Free)
			if card(s) {
				t.Errorf("a card shows after %s", after)
			}
		}
		for _, c := range []struct {
			name string
			do   func()
		}{
			{"a command", func() { x.Press(testkit.Super, '2'); shown("1"); x.Press(testkit.Super, '1'); shown("0") }},
			{"a question", func() { x.Press(testkit.Super, 's'); x.Press('2'); at("three", "1") }},
			{"taken back", func() { x.Press(testkit.Super, 'u'); at("three", "0"); s.Do(t, "focus #3") }},
			{"Super held on", func() {
				x.Hold(testkit.Super, func() { x.Press('s'); x.Press('3') })
				at("three", "2")
				x.Press(testkit.Super, 'u')
				at("three", "0")
				s.Do(t, "focus #3")
			}},
			{"a card", func() {
				x.Press(testkit.Super, 's')
				shows("the card shows", true)
				x.Press(testkit.Escape)
			}},
			{"a wrong key", func() { x.Press(testkit.Super, 's'); shows("the card shows", true); x.Press(0xffc9) }},
			{"a sequence", func() {
				x.Press(testkit.Super, 'q')
				shows("the card of the sequence shows", true)
				x.Press('s')
				x.Press('3')
				at("three", "2")
				x.Press(testkit.Super, 'u')
				at("three", "0")
				s.Do(t, "focus #3")
			}},
			{"all are asked about, and left", func() {
				x.Press(testkit.Super, 'q')
				x.Press('c')
				shows("it is asked", true)
				x.Press('n')
			}},
			{"a list, let go of", func() {
				x.Hold(testkit.Super, func() { x.Press(testkit.Tab); shows("the list shows", true) })
				focused(t, s, ids["one"])
			}},
			{"a list at one go", func() { x.Press(testkit.Super, testkit.Tab); focused(t, s, ids["three"]) }},
			{"further on the list, and back", func() {
				x.Hold(testkit.Super, func() { x.Press(testkit.Tab); x.Press(testkit.Tab); x.Press(testkit.Shift, testkit.Tab) })
				focused(t, s, ids["one"])
			}},
			{"a digit on the list", func() {
				x.Hold(testkit.Super, func() { x.Press(testkit.Tab); x.Press('3') })
				focused(t, s, ids["two"])
			}},
			{"a peek", func() {
				x.Hold(testkit.Super, func() { x.Hold(f8, func() { shown("2") }) })
				shown("0")
				focused(t, s, ids["two"])
			}},
			{"a monitor that goes while a card shows", func() {
				x.Press(testkit.Super, 's')
				shows("the card shows", true)
				s.Unplug(t, "DUMMY1")
				x.Press('2')
				at("two", "1")
				s.Plug(t, "DUMMY1", 1920, 0)
				x.Press(testkit.Super, 'u')
				at("two", "0")
			}},
			{"one on the list is closed", func() {
				s.Do(t, "focus #1", "focus #3")
				focused(t, s, ids["three"])
				x.Hold(testkit.Super, func() {
					x.Press(testkit.Tab)
					shows("the list shows", true)
					x.Press('x')
					testkit.Until(t, "two is gone", func() bool { _, _, _, _, _, ok := s.Info(ids["two"]); return !ok })
				})
			}},
		} {
			t.Run(c.name, func(t *testing.T) {
				c.do()
				free(c.name)
			})
		}
	})
}

// The same chord brings the atlas window up and puts it away; what is chosen in it is done.
func TestAtlasOnBothHosts(t *testing.T) {
	twoHosts(t, func(t *testing.T, s *testkit.Server, x *testkit.X, ids map[string]string, _ *testkit.Process) {
		atlas := func() string {
			out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
			for line := range strings.Lines(out) {
				if strings.Contains(line, `"Zealous Atlas [`) {
					return strings.Fields(line)[0]
				}
			}
			return ""
		}
		before := s.List(t)
		x.Press(testkit.Super, testkit.Space)
		testkit.Until(t, "it is up and drawn", func() bool { id := atlas(); return id != "" && viewable(s, id) && x.HasColour(id, 0xd9a441) })
		if after := s.List(t); after != before {
			t.Errorf("the desk changed:\n%s\n%s", before, after)
		}
		x.Press(testkit.Super, testkit.Space)
		testkit.Until(t, "the same chord puts it away", func() bool { return !viewable(s, atlas()) })
		focused(t, s, ids["three"])
		x.Press(testkit.Super, testkit.Return)
		for _, key := range "one" {
			x.Press(uint32(key)) // at once: they are for the search
		}
		x.Press(testkit.Return)
		focused(t, s, ids["one"])
		testkit.Until(t, "it is away", func() bool { return !viewable(s, atlas()) })
		x.Point(0, 0)
		testkit.Until(t, "a corner brings it up", func() bool { return viewable(s, atlas()) })
		x.Press(testkit.Super, testkit.Shift, testkit.Return)
		testkit.Until(t, "the chord for the same puts it away", func() bool { return !viewable(s, atlas()) })
		s.Do(t, "end")
		testkit.Until(t, "it goes with what brought it up", func() bool { return atlas() == "" })
	})
}

// A process that is killed, or stands still, in the middle of keys keeps the keyboard from
// nobody.
func TestDeadInTheMiddleOfKeys(t *testing.T) {
	for _, sig := range []os.Signal{syscall.SIGKILL, syscall.SIGSTOP} {
		twoHosts(t, func(t *testing.T, s *testkit.Server, x *testkit.X, _ map[string]string, p *testkit.Process) {
			x.Press(testkit.Super, 's')
			testkit.Until(t, "the card shows", func() bool { return card(s) })
			if x.Free() {
				t.Fatal("the keyboard is not taken")
			}
			p.Process.Signal(sig)
			began := time.Now()
			for !x.Free() && time.Since(began) < 3*testkit.Deadline {
				time.Sleep(50 * time.Millisecond)
			}
			t.Logf("after %v the keyboard is free again %v later", sig, time.Since(began))
			if !x.Free() {
				t.Errorf("after %v the keyboard is nobody's", sig)
			}
		})
	}
}

// A chord that another program holds stays its own, and the rest work.
func TestChordOfAnother(t *testing.T) {
	twoHosts(t, func(t *testing.T, s *testkit.Server, x *testkit.X, _ map[string]string, _ *testkit.Process) {
		other := s.NewX(t)
		held := xproto.Keycode(other.Code(0xffc6)) // F9
		if err := xproto.GrabKeyChecked(other.Conn, true, other.Root, xproto.ModMask4, held, xproto.GrabModeAsync, xproto.GrabModeAsync).Check(); err != nil {
			t.Fatal(err)
		}
		s.Settings(t, "[chords]\n\"Super+F9\" = \"go 2\"\n\"Super+F10\" = \"go 3\"\n")
		s.Do(t, "reload")
		testkit.Until(t, "one is told as taken", func() bool {
			out, _ := testkit.TryRun(s.Env, testkit.Binary(t), "keys")
			return strings.Contains(out, "Super+F10") && strings.Contains(out, "taken")
		})
		x.Press(testkit.Super, 0xffc7)
		testkit.Until(t, "the other works", func() bool { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "2" })
	})
}

// Beside another manager the screens tell how many chords are free, and one key takes them;
// the same gives them back.
func TestFreeChordsAreOffered(t *testing.T) {
	s := testkit.NewServer(t)
	manager.Start(t, s.Display, 3, manager.Switches{})
	s.Client(t, "Hall Plan", "xterm", "-geometry", "40x12+100+100")
	x := s.NewX(t)
	term := testkit.NewTerminal(t, 160, 48, s.Env, testkit.Binary(t))
	term.Wait("Hall Plan", "TRY THESE", "Ctrl+T  take", "free chords")
	x.Press(testkit.Super, '2')
	term.Keys("?").Wait("Ctrl+T takes", "chords that are free here, such as")
	if got := s.Xprop(t, "root", "_NET_CURRENT_DESKTOP"); got != "0" {
		t.Errorf("a chord that is not taken went to desktop %s", got)
	}
	term.Keys("C-t").Wait("Ctrl+T gives the chords back")
	testkit.Until(t, "they work", func() bool {
		x.Press(testkit.Super, '2')
		return testkit.Soon(func() bool { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "1" })
	})
	term.Keys("C-t").Wait("Ctrl+T takes")
	testkit.Until(t, "they do nothing any more", func() bool {
		s.Do(t, "go 1")
		x.Press(testkit.Super, '2')
		return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "0" && x.Free()
	})
}

// A manager that takes the place of another has the chords that it wants: ours are let go of
// until it has had the time to take them.
func TestNewManagerHasItsChords(t *testing.T) {
	s := testkit.NewServer(t)
	m := manager.Start(t, s.Display, 3, manager.Switches{})
	s.Client(t, "Hall Plan", "xterm", "-geometry", "40x12+100+100")
	testkit.Spawn(t, s.Env, testkit.Binary(t), "alongside", "--chords")
	x, next := s.NewX(t), s.NewX(t)
	works := func(key uint32, desktop string) func() bool {
		return func() bool {
			x.Press(testkit.Super, key)
			return testkit.Soon(func() bool { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == desktop })
		}
	}
	testkit.Until(t, "chords work", works('2', "1"))
	code := next.Code('2')
	grabs := func() bool {
		return xproto.GrabKeyChecked(next.Conn, true, next.Root, xproto.ModMask4, xproto.Keycode(code), xproto.GrabModeAsync, xproto.GrabModeAsync).Check() == nil
	}
	if grabs() {
		t.Fatal("another client can have a chord that is taken")
	}
	m.Stop()
	testkit.Until(t, "the next one can have the chord", grabs)
	manager.Start(t, s.Display, 3, manager.Switches{})
	testkit.Until(t, "the others work beside it", works('3', "2"))
	x.Press(testkit.Super, '2')
	s.Do(t, "go 1")
	if got := s.Xprop(t, "root", "_NET_CURRENT_DESKTOP"); got != "0" {
		t.Errorf("a chord of the manager's went to desktop %s", got)
	}
	for line := range strings.Lines(testkit.Run(t, s.Env, testkit.Binary(t), "keys")) {
		if strings.HasPrefix(line, "Super+2 ") && !strings.Contains(line, "taken") {
			t.Errorf("it is told as %s", line)
		}
	}
}
