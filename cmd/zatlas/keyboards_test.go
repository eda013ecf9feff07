package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// typist types letters, digits and signs as a person does on the keyboard that a display
// has: with Shift where that is needed, and on one without Latin letters where they lie
// elsewhere.
type typist struct {
	*testkit.X
	t     *testing.T
	group int // of the layout that is on; -1 for any
}

// lettersUS are the letters by their places on a US keyboard.
const lettersUS = "qwertyuiopasdfghjklzxcvbnm"

// find gives the key of a sign, and whether it needs Shift.
func (p *typist) find(sym uint32) (code byte, shift bool) {
	p.t.Helper()
	setup := xproto.Setup(p.Conn)
	r, err := xproto.GetKeyboardMapping(p.Conn, setup.MinKeycode, byte(setup.MaxKeycode-setup.MinKeycode+1)).Reply()
	if err != nil {
		p.t.Fatal(err)
	}
	for i, s := range r.Keysyms {
		level := i % int(r.KeysymsPerKeycode)
		if uint32(s) == sym && level < 4 && (p.group < 0 || level/2 == p.group) {
			return byte(setup.MinKeycode) + byte(i/int(r.KeysymsPerKeycode)), level%2 == 1
		}
	}
	at := strings.IndexByte(lettersUS, byte(sym))
	if at < 0 {
		p.t.Fatalf("no key carries %c", sym)
	}
	for _, row := range []struct{ first, n int }{{24, 10}, {38, 9}, {52, 7}} {
		if at < row.n {
			return byte(row.first + at), false
		}
		at -= row.n
	}
	return 0, false
}

// types types text.
func (p *typist) types(text string) {
	p.t.Helper()
	for _, c := range text {
		code, shift := p.find(uint32(c))
		if shift {
			p.PressCode(testkit.Shift, code)
		} else {
			p.PressCode(0, code)
		}
	}
}

// chord presses the atlas key with a letter.
func (p *typist) chord(letter rune) {
	p.t.Helper()
	code, _ := p.find(uint32(letter))
	p.PressCode(testkit.Super, code)
}

// layouts are keyboards, by the layout, the variant and the group that is on.
var layouts = [][]string{{"us"}, {"de"}, {"fr"}, {"ru"}, {"us,ru"}, {"ru,us"}, {"us", "dvorak"}, {"us,fr", ",", "2"}, {"us,us", ",dvorak", "2"}, {"us,ru", ",", "2"}}

// lay has the display have a keyboard, and waits until Super+S is found on it. It leaves the
// card of that shown.
func (p *typist) lay(t *testing.T, s *testkit.Server, layout []string) (name string) {
	t.Helper()
	args := []string{"-layout", layout[0]}
	if len(layout) > 1 {
		args = append(args, "-variant", layout[1])
	}
	testkit.Run(t, s.Env, "setxkbmap", args...)
	p.group = -1
	if len(layout) > 2 { // its second group is on
		p.group = 1
		p.Group(1)
	}
	name = strings.Join(layout, " ")
	// The keyboard is read again a moment after it has changed.
	testkit.Until(t, name+" is taken up", func() bool {
		if card(s) {
			return true
		}
		p.chord('s')
		return testkit.Soon(func() bool { return card(s) })
	})
	return name
}

// Chords, the keys after them and signs are found on every keyboard, with the locks on too.
func TestKeyboards(t *testing.T) {
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"Atlas+Q y z 3\" = \"send 3\"\n")
	s.Keeper(t)
	one := client(t, s, "one", "xterm")
	client(t, s, "two", "xterm")
	x := s.NewX(t)
	p := &typist{x, t, -1}
	s.Do(t, "add", "add", "focus #1")
	for _, layout := range layouts {
		name := p.lay(t, s, layout)
		p.types("2")
		testkit.Until(t, name+": s and 2 sends", func() bool { return workspaceOf(t, s, "one") == "2" })
		s.Do(t, "undo", "focus #1")
		for _, lock := range []uint32{0, testkit.CapsLock, testkit.NumLock} {
			if lock != 0 {
				x.Press(lock)
			}
			p.chord('p')
			p.types("m")
			testkit.Until(t, name+": p and m snaps", func() bool {
				px, _, w, _, _, _ := s.Info(one)
				return px > 100 && w < 1500
			})
			s.Do(t, "undo", "focus #1")
			p.chord('q')
			p.types("yz3")
			testkit.Until(t, name+": the sequence sends", func() bool { return workspaceOf(t, s, "one") == "3" })
			s.Do(t, "undo", "focus #1")
			if lock != 0 {
				x.Press(lock)
			}
		}
		p.chord('s')
		p.types("*2")
		testkit.Until(t, name+": it is asked whether all go", func() bool { return card(s) })
		x.Press(testkit.Escape)
		testkit.Until(t, "and left", func() bool { return !card(s) })
	}
}

// Beside another manager too, where the keyboard changes while chords are taken.
func TestKeyboardsAlongside(t *testing.T) {
	s := testkit.NewServer(t)
	manager.Start(t, s.Display, 2, manager.Switches{})
	testkit.Spawn(t, s.Env, testkit.Binary(t), "alongside", "--chords")
	testkit.Until(t, "it answers", func() bool { _, err := testkit.TryRun(s.Env, testkit.Binary(t), "list"); return err == nil })
	focused(t, s, s.Client(t, "one", "xterm"))
	p := &typist{s.NewX(t), t, -1}
	for _, layout := range layouts {
		name := p.lay(t, s, layout)
		p.types("2")
		testkit.Until(t, name+": s and 2 sends", func() bool { return workspaceOf(t, s, "one") == "2" })
		p.Press(testkit.CapsLock)
		p.chord('u')
		testkit.Until(t, name+": u takes it back", func() bool { return workspaceOf(t, s, "one") == "1" })
		p.Press(testkit.CapsLock)
		s.Do(t, "focus #1")
	}
}

// A key that is a chord's in one group of the layout goes to the program that has the focus
// where it is another letter in the group that is on.
func TestKeyOfAnotherGroup(t *testing.T) {
	s := testkit.NewServer(t)
	s.Settings(t, "[keeper]\nchords = \"none\"\n[chords]\n\"Atlas+A\" = \"add\"\n")
	testkit.Run(t, s.Env, "setxkbmap", "-layout", "us,fr")
	s.Keeper(t)
	log := filepath.Join(s.Dir, "events")
	testkit.Start(t, s.Env, "sh", "-c", "exec xev -name watched -event keyboard > "+log)
	focused(t, s, s.Named(t, "watched"))
	x := s.NewX(t)
	seen := func(what string) bool { data, _ := os.ReadFile(log); return strings.Contains(string(data), what) }
	added := func(n string) {
		t.Helper()
		testkit.Until(t, "there are "+n+" workspaces", func() bool { return s.Xprop(t, "root", "_NET_NUMBER_OF_DESKTOPS") == n })
	}
	const left, above = 38, 24 // a and q on a US keyboard, q and a on a French one
	x.PressCode(testkit.Super, left)
	added("2")
	x.PressCode(testkit.Super, above)
	testkit.Until(t, "q is the program's", func() bool { return seen("keysym 0x71, q") })
	x.Group(1)
	x.PressCode(testkit.Super, above)
	added("3")
	if seen("keysym 0x61, a") {
		t.Error("the chord has come to the program too")
	}
	x.PressCode(testkit.Super, left)
	// The server tells it of the press without the group, which is not ours to mend.
	testkit.Until(t, "the key is the program's there too", func() bool { return seen("keycode 38 (") })
	s.Do(t, "go 1")
	added("3")
}
