package x11_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display/board"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/testkit"
)

// heldFor is longer than the time after which the server repeats a key that is
// held, some 0.6 seconds, 25 times a second.
const heldFor = 1200 * time.Millisecond

// hold holds a chord of Super down for so long that its key repeats.
func (d *kept) hold(key uint32) {
	d.Hold(testkit.Super, func() {
		d.Hold(key, func() { time.Sleep(heldFor) })
	})
	d.do("go 1") // which is answered after all of them
}

// What closes, makes, toggles or sends is done once for a chord that is held;
// what goes step by step is done again.
func TestHeldChords(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	d := keepOn(t, s, x11.Options{})
	for i := range 6 { // each of its own connection, which closing ends
		x := s.NewX(t)
		x.Map(x.Window(fmt.Sprint("w", i), 10, 10, 300, 200))
		d.until("it is on the desk", func() bool { return len(d.snapshot().Windows) == i+1 })
	}
	focus := d.snapshot().Focus
	d.hold(testkit.Left)
	if now := d.snapshot().Focus; now == focus {
		t.Error("focus left is not repeated, or comes round")
	}
	d.do("add", "add")
	d.hold('x')
	d.until("a window was closed", func() bool { return len(d.snapshot().Windows) < 6 })
	d.do("go 1")
	if n := len(d.snapshot().Windows); n != 5 {
		t.Errorf("one chord held down closed %d windows", 6-n)
	}
	d.hold('m')
	if n := len(d.snapshot().Workspaces); n != 4 {
		t.Errorf("go new held down made %d workspaces", n-3)
	}
	d.hold('f')
	w := d.snapshot().Window(d.snapshot().Focus)
	if w == nil || !w.Floating {
		t.Errorf("float held down toggles: %+v", w)
	}
}

// What a chord shows while it is held goes again, also where it is let go of at once.
func TestPeekTapped(t *testing.T) {
	d := keep(t)
	d.open("one")
	d.do("add", "add", "go 1")
	for range 20 {
		d.Press(testkit.Super, 'b')
		d.do("rename 2 Press") // which is answered after both
		d.until("workspace 1 is back", func() bool { return d.snapshot().Current() == 0 })
	}
	d.Hold(testkit.Super, func() {
		d.Hold('b', func() { d.until("held, it shows 3", func() bool { return d.snapshot().Current() == 2 }) })
	})
	d.until("workspace 1 is back", func() bool { return d.snapshot().Current() == 0 })
}

// A window that takes no keys is chosen, and chords act on it; the keys go nowhere
// near it.
func TestWindowWithoutKeys(t *testing.T) {
	d := keep(t)
	d.do("add", "go 1")
	d.open("other")
	clock := d.X.Window("clock", 10, 10, 200, 200)
	d.Cards(clock, "WM_HINTS", xproto.AtomWmHints, 1, 0, 1, 0, 0, 0, 0, 0, 0) // input: false
	d.Map(clock)
	d.until("it is on the desk", func() bool { return d.find("clock") != nil })
	d.do(fmt.Sprintf("focus #%d", d.find("clock").ID))
	d.wantProp("root", "_NET_ACTIVE_WINDOW", fmt.Sprintf("%#x", clock))
	if d.Focus() == clock {
		t.Error("it has the X focus")
	}
	d.Hold(testkit.Super, func() { d.Press(testkit.Shift, '2') })
	d.until("the chord sent it", func() bool { return d.snapshot().Ref(d.find("clock")) == "A2" })
	d.until("the other window has the focus", func() bool { return d.snapshot().Focus == d.find("other").ID })
}

// What opens out of sight is told on the display.
func TestOpenedOutOfSight(t *testing.T) {
	d := keep(t)
	d.do("add", "go 1")
	win := d.X.Window("far away", 10, 10, 300, 200)
	d.Cards(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, 1)
	d.Map(win)
	d.until("it is on the desk", func() bool { return d.find("far away") != nil })
	d.until("the strip shows", func() bool {
		tree, err := xproto.QueryTree(d.Conn, d.Root).Reply()
		if err != nil {
			t.Fatal(err)
		}
		for _, w := range tree.Children {
			if d.Viewable(w) && d.Xprop(t, fmt.Sprintf("%#x", w), "_NET_WM_NAME") == `"Zealous Atlas message"` {
				return true
			}
		}
		return false
	})
}

// What another program sets is so however quickly it was said before: twice the same is no
// turn.
func TestBareIsSet(t *testing.T) {
	d := keepOn(t, testkit.NewServer(t), x11.Options{})
	said := func() (n int) {
		lines, err := d.k.Log(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		for _, l := range lines {
			if l.Source == keeper.Program {
				n++
			}
		}
		return n
	}
	for _, burst := range [][]uint32{{1, 1}, {1, 1, 0}, {0, 1, 0, 1}, {1}, {0, 0}, {1, 0, 0, 1, 1, 1}} {
		before := said()
		for _, on := range burst {
			d.Message(d.Root, "_NET_SHOWING_DESKTOP", on)
		}
		d.until("all of it is done", func() bool { return said() == before+len(burst) })
		want := burst[len(burst)-1] == 1
		d.until(fmt.Sprintf("after %v the desk is bare: %v", burst, want), func() bool { return d.snapshot().Bare == want })
	}
}

// What is typed right after a chord goes to the window that has the focus by it.
func TestTypedAfterChord(t *testing.T) {
	t.Parallel()
	d := keepOn(t, testkit.NewServer(t), x11.Options{Board: board.Options{Chords: []keys.Chord{
		{Name: "Super+1", Command: "go 1", Modifiers: keys.Modifiers{Super: true}, Keysym: '1'},
		{Name: "Super+2", Command: "go 2", Modifiers: keys.Modifiers{Super: true}, Keysym: '2'},
	}}})
	type typed struct {
		in  string
		key xproto.Keycode
	}
	got := make(chan typed, 1000)
	for i := range 2 {
		x := d.NewX(t)
		title := fmt.Sprint(i + 1)
		win := x.Window(title, 0, 0, 400, 300)
		xproto.ChangeWindowAttributes(x.Conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskKeyPress})
		x.Map(win)
		d.until(title+" is there", func() bool { return d.find(title) != nil })
		x.Follow(func(e xgb.Event) {
			if e, is := e.(xproto.KeyPressEvent); is {
				got <- typed{title, e.Detail}
			}
		})
	}
	d.do("add", "send 2 of title:2", "go 1")
	d.until("one has the focus", func() bool { d.Press('a'); return len(got) > 0 })
	a := (<-got).key
	for len(got) > 0 {
		<-got
	}
	for n := range 60 {
		key := uint32('1' + (n+1)%2)
		d.Press(testkit.Super, key)
		time.Sleep([]time.Duration{0, 0, 10, 20, 50}[n%5] * time.Millisecond) // as quick as hands are
		d.Press('a')
		for late := time.After(testkit.Deadline); ; {
			select {
			case k := <-got:
				if k.key != a { // Super's own
					continue
				}
				if k.in != string(rune(key)) {
					t.Fatalf("step %d: what is typed after going to %c goes to %s", n, key, k.in)
				}
			case <-late:
				t.Fatalf("step %d: what is typed goes nowhere", n)
			}
			break
		}
	}
}

// From the bare desk the chosen window comes back alone, as the server has it.
func TestBareBringsOne(t *testing.T) {
	d := keepOn(t, testkit.NewServer(t), x11.Options{})
	wins := map[string]xproto.Window{}
	for _, title := range []string{"one", "two", "three"} {
		wins[title] = d.X.Window(title, 10, 10, 300, 200)
		d.Map(wins[title])
		d.until(title+" is on the desk", func() bool { return d.find(title) != nil })
	}
	shown := func(want ...string) func() bool {
		return func() bool {
			n := 0
			for title, win := range wins {
				if d.Viewable(win) != slices.Contains(want, title) {
					return false
				}
				n++
			}
			return n == 3
		}
	}
	d.do("bare")
	d.until("none is seen", shown())
	d.wantProp("root", "_NET_SHOWING_DESKTOP", "1")
	d.do(fmt.Sprintf("focus #%d", d.find("two").ID))
	d.until("two alone is seen", shown("two"))
	d.until("it has the X focus", func() bool { return d.Focus() == wins["two"] })
	d.wantProp("root", "_NET_SHOWING_DESKTOP", "0")
	d.do("bare")
	d.until("all are seen", shown("one", "two", "three"))
	d.until("two has the X focus", func() bool { return d.Focus() == wins["two"] })
}
