package hosttest

import (
	"os"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// Display is a real display with three workspaces, a second monitor on the output DUMMY1, and
// a process that takes chords there. The windows two, one and three were focused in that order.
// Chords are asked for by KeySettings.
type Display struct {
	*testkit.Server
	X       *testkit.X
	Windows map[string]string // ids by title
	Process *testkit.Process
}

// KeySettings are the settings that the rules for keys ask for.
const KeySettings = `[chords]
"Atlas+Q s 3" = "send 3"
"Atlas+Q y z m 3" = "send 3"
"Atlas+Q c" = "close of all"
"hold Atlas+F8" = "go 3"
[keeper]
card = 100
[corners]
topleft = "strays"
`

// keyRules are what every host with a keyboard must do. What comes of keys is read from the
// server. The names are short since a socket's path, which has them in it, is.
var keyRules = []struct {
	name  string
	check func(t *testing.T, d Display)
}{
	{"same keys", sameKeys},
	{"every keyboard", everyKeyboard},
	{"killed", func(t *testing.T, d Display) { dead(t, d, syscall.SIGKILL) }},
	{"stopped", func(t *testing.T, d Display) { dead(t, d, syscall.SIGSTOP) }},
	{"held by another", chordOfAnother},
}

// Keyboard checks each rule for keys on a display of its own.
func Keyboard(t *testing.T, start func(t *testing.T) Display) {
	for _, r := range keyRules {
		t.Run(r.name, func(t *testing.T) {
			t.Parallel()
			r.check(t, start(t))
		})
	}
}

// at waits until a window is on a desktop, by its number from 0.
func (d Display) at(t *testing.T, title, desktop string) {
	t.Helper()
	testkit.Until(t, title+" is on desktop "+desktop, func() bool { return d.Xprop(t, d.Windows[title], "_NET_WM_DESKTOP") == desktop })
}

// shown waits until a desktop is shown.
func (d Display) shown(t *testing.T, desktop string) {
	t.Helper()
	testkit.Until(t, "desktop "+desktop+" is shown", func() bool { return d.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == desktop })
}

// back has the last window focused, where it was at first.
func (d Display) back(t *testing.T) {
	t.Helper()
	d.at(t, "three", "0")
	d.Do(t, "focus #3")
}

func sameKeys(t *testing.T, d Display) {
	const f8 = 0xffc5
	shows := func(what string, is bool) {
		t.Helper()
		testkit.Until(t, what, func() bool { return d.Card() == is })
	}
	free := func(after string) {
		t.Helper()
		testkit.Until(t, "the keyboard is everybody's after "+after, d.X.Free)
		if d.Card() {
			t.Errorf("a card shows after %s", after)
		}
	}
	for _, c := range []struct {
		name string
		do   func()
	}{
		{"a command", func() { d.X.Press(testkit.Super, '2'); d.shown(t, "1"); d.X.Press(testkit.Super, '1'); d.shown(t, "0") }},
		{"a question", func() { d.X.Press(testkit.Super, 's'); d.X.Press('2'); d.at(t, "three", "1") }},
		{"taken back", func() { d.X.Press(testkit.Super, 'u'); d.back(t) }},
		{"Super held on", func() {
			d.X.Hold(testkit.Super, func() { d.X.Press('s'); d.X.Press('3') })
			d.at(t, "three", "2")
			d.X.Press(testkit.Super, 'u')
			d.back(t)
		}},
		{"a card", func() {
			d.X.Press(testkit.Super, 's')
			shows("the card shows", true)
			d.X.Press(testkit.Escape)
		}},
		{"a wrong key", func() { d.X.Press(testkit.Super, 's'); shows("the card shows", true); d.X.Press(0xffc9) }},
		{"a sequence", func() {
			d.X.Press(testkit.Super, 'q')
			shows("the card of the sequence shows", true)
			d.X.Press('s')
			d.X.Press('3')
			d.at(t, "three", "2")
			d.X.Press(testkit.Super, 'u')
			d.back(t)
		}},
		{"all are asked about, and left", func() {
			d.X.Press(testkit.Super, 'q')
			d.X.Press('c')
			shows("it is asked", true)
			d.X.Press('n')
		}},
		{"a list, let go of", func() {
			d.X.Hold(testkit.Super, func() { d.X.Press(testkit.Tab); shows("the list shows", true) })
			d.Focused(t, d.Windows["one"])
		}},
		{"a list, its key let go of last", func() {
			d.X.Key(testkit.Super, true)
			d.X.Key(testkit.Tab, true)
			shows("the list shows", true)
			d.X.Key(testkit.Super, false)
			d.X.Key(testkit.Tab, false)
			d.Focused(t, d.Windows["three"])
		}},
		{"a question, Super let go of first", func() {
			d.X.Key(testkit.Super, true)
			d.X.Key('s', true)
			d.X.Key(testkit.Super, false)
			d.X.Key('s', false)
			d.X.Press('3')
			d.at(t, "three", "2")
			d.X.Press(testkit.Super, 'u')
			d.at(t, "three", "0")
			d.Do(t, "focus #3", "focus #2")
			d.Focused(t, d.Windows["one"])
		}},
		{"a list at one go", func() { d.X.Press(testkit.Super, testkit.Tab); d.Focused(t, d.Windows["three"]) }},
		{"further on the list, and back", func() {
			d.X.Hold(testkit.Super, func() { d.X.Press(testkit.Tab); d.X.Press(testkit.Tab); d.X.Press(testkit.Shift, testkit.Tab) })
			d.Focused(t, d.Windows["one"])
		}},
		{"a digit on the list", func() {
			d.X.Hold(testkit.Super, func() { d.X.Press(testkit.Tab); d.X.Press('3') })
			d.Focused(t, d.Windows["two"])
		}},
		{"a peek", func() {
			d.X.Hold(testkit.Super, func() { d.X.Hold(f8, func() { d.shown(t, "2") }) })
			d.shown(t, "0")
			d.Focused(t, d.Windows["two"])
		}},
		{"a monitor that goes while a card shows", func() {
			d.X.Press(testkit.Super, 's')
			shows("the card shows", true)
			d.Unplug(t, "DUMMY1")
			d.X.Press('2')
			d.at(t, "two", "1")
			d.Plug(t, "DUMMY1", 1920, 0)
			d.X.Press(testkit.Super, 'u')
			d.at(t, "two", "0")
		}},
		{"one on the list is closed", func() {
			d.Do(t, "focus #1", "focus #3")
			d.Focused(t, d.Windows["three"])
			d.X.Hold(testkit.Super, func() {
				d.X.Press(testkit.Tab)
				shows("the list shows", true)
				d.X.Press('x')
				testkit.Until(t, "two is gone", func() bool { _, _, _, _, _, ok := d.Info(d.Windows["two"]); return !ok })
			})
		}},
	} {
		t.Run(c.name, func(t *testing.T) {
			c.do()
			free(c.name)
		})
	}
}

// dead has the process get a signal while a card shows: the keyboard is free again.
func dead(t *testing.T, d Display, sig os.Signal) {
	d.X.Press(testkit.Super, 's')
	testkit.Until(t, "the card shows", d.Card)
	if d.X.Free() {
		t.Fatal("the keyboard is not taken")
	}
	d.Process.Process.Signal(sig)
	began := time.Now()
	for !d.X.Free() && time.Since(began) < 3*testkit.Deadline {
		time.Sleep(50 * time.Millisecond)
	}
	t.Logf("after %v the keyboard is free again %v later", sig, time.Since(began))
	if !d.X.Free() {
		t.Errorf("after %v the keyboard is nobody's", sig)
	}
}

// chordOfAnother has another program hold a chord, which stays its own; the next one works.
func chordOfAnother(t *testing.T, d Display) {
	other := d.NewX(t)
	held := xproto.Keycode(other.Code(0xffc6)) // F9
	if err := xproto.GrabKeyChecked(other.Conn, true, other.Root, xproto.ModMask4, held, xproto.GrabModeAsync, xproto.GrabModeAsync).Check(); err != nil {
		t.Fatal(err)
	}
	d.Settings(t, "[chords]\n\"Super+F9\" = \"go 2\"\n\"Super+F10\" = \"go 3\"\n")
	d.Do(t, "reload")
	testkit.Until(t, "one is told as taken", func() bool {
		out, _ := testkit.TryRun(d.Env, testkit.Binary(t), "keys")
		return strings.Contains(out, "Super+F10") && strings.Contains(out, "taken")
	})
	d.X.Press(testkit.Super, 0xffc7)
	d.shown(t, "2")
}

// typist types letters, digits and signs on a display's keyboard as a person does: with Shift
// where needed, and on a keyboard without Latin letters at their places.
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
func (p *typist) lay(d Display, layout []string) (name string) {
	p.t.Helper()
	args := []string{"-layout", layout[0]}
	if len(layout) > 1 {
		args = append(args, "-variant", layout[1])
	}
	testkit.Run(p.t, d.Env, "setxkbmap", args...)
	p.group = -1
	if len(layout) > 2 { // its second group is on
		p.group = 1
		p.Group(1)
	}
	name = strings.Join(layout, " ")
	// The keyboard is read again a moment after it has changed.
	testkit.Until(p.t, name+" is taken up", func() bool {
		if d.Card() {
			return true
		}
		p.chord('s')
		return testkit.Soon(d.Card)
	})
	return name
}

// everyKeyboard has the display have one keyboard after the other, and types on each, with the
// locks on too.
func everyKeyboard(t *testing.T, d Display) {
	p := &typist{d.X, t, -1}
	for _, layout := range layouts {
		t.Log(p.lay(d, layout))
		p.types("2")
		d.at(t, "three", "1")
		p.chord('u')
		d.back(t)
		for _, lock := range []uint32{testkit.CapsLock, testkit.NumLock} {
			p.Press(lock)
			p.chord('q')
			p.types("yzm3")
			d.at(t, "three", "2")
			p.chord('u')
			p.Press(lock)
			d.back(t)
		}
		p.chord('q')
		p.types("c")
		testkit.Until(t, "it is asked whether all go", d.Card)
		p.Press(testkit.Escape)
		testkit.Until(t, "and left", func() bool { return !d.Card() })
	}
}
