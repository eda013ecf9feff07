package main

import (
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/hosttest"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// displayOf is a display that a keeper keeps, or that another program manages with zatlas
// beside it.
func displayOf(t *testing.T, host string) hosttest.Display {
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Settings(t, hosttest.KeySettings)
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
		s.Focused(t, ids[title])
	}
	return hosttest.Display{Server: s, X: s.NewX(t), Windows: ids, Process: p}
}

// twoHosts runs a test on a display of each host.
func twoHosts(t *testing.T, do func(t *testing.T, host string)) {
	for _, host := range []string{"keep", "alongside"} {
		t.Run(host, func(t *testing.T) { do(t, host) })
	}
}

// What keys come to is the same whoever manages the display.
func TestKeyboards(t *testing.T) {
	t.Parallel()
	twoHosts(t, func(t *testing.T, host string) {
		hosttest.Keyboard(t, func(t *testing.T) hosttest.Display { return displayOf(t, host) })
	})
}

// The same chord brings the atlas window up and puts it away; what is chosen in it is done.
func TestAtlasOnBothHosts(t *testing.T) {
	t.Parallel()
	twoHosts(t, func(t *testing.T, host string) {
		d := displayOf(t, host)
		s, x, ids := d.Server, d.X, d.Windows
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
		testkit.Until(t, "it is up and drawn", func() bool { id := atlas(); return id != "" && s.Seen(id) && x.HasColour(id, 0xd9a441) })
		if after := s.List(t); after != before {
			t.Errorf("the desk changed:\n%s\n%s", before, after)
		}
		x.Press(testkit.Super, testkit.Space)
		testkit.Until(t, "the same chord puts it away", func() bool { return !s.Seen(atlas()) })
		s.Focused(t, ids["three"])
		x.Press(testkit.Super, testkit.Return)
		for _, key := range "one" {
			x.Press(uint32(key)) // at once: they are for the search
		}
		x.Press(testkit.Return)
		s.Focused(t, ids["one"])
		testkit.Until(t, "it is away", func() bool { return !s.Seen(atlas()) })
		x.Point(0, 0)
		testkit.Until(t, "a corner brings it up", func() bool { return s.Seen(atlas()) })
		x.Press(testkit.Super, testkit.Shift, testkit.Return)
		testkit.Until(t, "the chord for the same puts it away", func() bool { return !s.Seen(atlas()) })
		s.Do(t, "end")
		testkit.Until(t, "it goes with what brought it up", func() bool { return atlas() == "" })
	})
}

// Beside another manager the screens tell how many chords are free, and one key takes them;
// the same gives them back.
func TestFreeChordsAreOffered(t *testing.T) {
	t.Parallel()
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
	t.Parallel()
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
