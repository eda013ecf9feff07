package testkit

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"
	"github.com/jezek/xgb/xtest"
)

// Keysyms for Press, besides the letters and digits, which are their own.
const (
	Super    = 0xffeb
	Shift    = 0xffe1
	Control  = 0xffe3
	Alt      = 0xffe9
	CapsLock = 0xffe5
	NumLock  = 0xff7f
	Left     = 0xff51
	Right    = 0xff53
	Down     = 0xff54
	Tab      = 0xff09
	Return   = 0xff0d
	Escape   = 0xff1b
	Space    = 0x20
)

// X is a client of a test's own.
type X struct {
	t    testing.TB
	Conn *xgb.Conn
	Root xproto.Window
}

// NewX connects to the server.
func (s *Server) NewX(t testing.TB) *X {
	t.Helper()
	conn, err := xgb.NewConnDisplay(s.Display)
	if err != nil {
		t.Fatal(err)
	}
	if err := xtest.Init(conn); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(conn.Close)
	return &X{t, conn, xproto.Setup(conn).DefaultScreen(conn).Root}
}

// Press presses keys together, the first one first, and lets go of them, as
// real key events.
func (x *X) Press(syms ...uint32) {
	x.t.Helper()
	codes := make([]byte, len(syms))
	for i, s := range syms {
		codes[i] = x.Code(s)
	}
	for _, c := range codes {
		x.fake(xproto.KeyPress, c, 0, 0)
	}
	for i := range codes {
		x.fake(xproto.KeyRelease, codes[len(codes)-1-i], 0, 0)
	}
}

// keyNames are the keys that Type knows by names; others go by their letter or sign.
var keyNames = map[string]uint32{
	"Super": Super, "SuperR": 0xffec, "Shift": Shift, "Control": Control, "Alt": Alt, "Left": Left, "Right": Right, "Down": Down,
	"Tab": Tab, "Return": Return, "Escape": Escape, "BackSpace": 0xff08, "Space": Space, "F5": 0xffc2,
}

// Type presses keys one after the other: Tab and Super+Tab are pressed and let go of, +Super is
// held from then on, until -Super.
func (x *X) Type(keys string) {
	x.t.Helper()
	sym := func(name string) uint32 {
		if s, ok := keyNames[name]; ok {
			return s
		}
		if len(name) != 1 {
			x.t.Fatalf("%q in %q is no key", name, keys)
		}
		return uint32(name[0])
	}
	for key := range strings.FieldsSeq(keys) {
		if name := key[1:]; name != "" && (key[0] == '+' || key[0] == '-') {
			x.Key(sym(name), key[0] == '+')
			continue
		}
		names := []string{key}
		if len(key) > 1 { // else it may be the sign
			names = strings.Split(key, "+")
		}
		var syms []uint32
		for _, name := range names {
			syms = append(syms, sym(name))
		}
		x.Press(syms...)
	}
}

// Follow has a function called for every event, until end is called or the server is gone.
func (x *X) Follow(f func(xgb.Event)) (end func()) {
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		for {
			e, err := x.Conn.WaitForEvent()
			if e == nil && err == nil {
				return
			}
			if e != nil {
				f(e)
			}
		}
	}()
	return func() { x.Conn.Close(); <-ended }
}

// Await waits for an event that is meant.
func (x *X) Await(what string, is func(xgb.Event) bool) {
	x.t.Helper()
	late := time.AfterFunc(Deadline, x.Conn.Close)
	defer late.Stop()
	for {
		e, err := x.Conn.WaitForEvent()
		switch {
		case e == nil && err == nil:
			x.t.Fatalf("%s: it never came", what)
		case err != nil:
			x.t.Fatal(what, err)
		case is(e):
			return
		}
	}
}

// PressCode presses a key by its place on the keyboard, with another held, 0 for none.
func (x *X) PressCode(held uint32, code byte) {
	x.t.Helper()
	if held == 0 {
		x.fake(xproto.KeyPress, code, 0, 0)
		x.fake(xproto.KeyRelease, code, 0, 0)
		return
	}
	x.Hold(held, func() {
		x.fake(xproto.KeyPress, code, 0, 0)
		x.fake(xproto.KeyRelease, code, 0, 0)
	})
}

// Hold presses a key, does something, and lets the key go.
func (x *X) Hold(sym uint32, do func()) {
	x.t.Helper()
	code := x.Code(sym)
	x.fake(xproto.KeyPress, code, 0, 0)
	defer x.fake(xproto.KeyRelease, code, 0, 0)
	do()
}

func (x *X) fake(kind, detail byte, px, py int) {
	x.t.Helper()
	if err := xtest.FakeInputChecked(x.Conn, kind, detail, 0, x.Root, int16(px), int16(py), 0).Check(); err != nil {
		x.t.Fatal(err)
	}
}

// Code is the first key that carries a keysym.
func (x *X) Code(sym uint32) byte {
	x.t.Helper()
	setup := xproto.Setup(x.Conn)
	r, err := xproto.GetKeyboardMapping(x.Conn, setup.MinKeycode, byte(setup.MaxKeycode-setup.MinKeycode+1)).Reply()
	if err != nil {
		x.t.Fatal(err)
	}
	for i, s := range r.Keysyms {
		if uint32(s) == sym {
			return byte(setup.MinKeycode) + byte(i/int(r.KeysymsPerKeycode))
		}
	}
	x.t.Fatalf("no key carries the keysym %#x", sym)
	return 0
}

// Free tells whether another client can have the keyboard, so that nobody has grabbed it.
func (x *X) Free() bool {
	x.t.Helper()
	r, err := xproto.GrabKeyboard(x.Conn, false, x.Root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
	if err != nil {
		x.t.Fatal(err)
	}
	xproto.UngrabKeyboard(x.Conn, xproto.TimeCurrentTime)
	x.Conn.Sync()
	return r.Status == xproto.GrabStatusSuccess
}

// Point moves the pointer.
func (x *X) Point(px, py int) {
	x.t.Helper()
	x.fake(xproto.MotionNotify, 0, px, py)
}

// Button presses or lets go of a button of the pointer.
func (x *X) Button(button byte, down bool) {
	x.t.Helper()
	kind := byte(xproto.ButtonRelease)
	if down {
		kind = xproto.ButtonPress
	}
	x.fake(kind, button, 0, 0)
}

// Atom is an atom by its name.
func (x *X) Atom(name string) xproto.Atom {
	x.t.Helper()
	r, err := xproto.InternAtom(x.Conn, false, uint16(len(name)), name).Reply()
	if err != nil {
		x.t.Fatal(err)
	}
	return r.Atom
}

// Message sends a client message about a window to the root, as programs ask
// a manager (EWMH).
func (x *X) Message(about xproto.Window, kind string, data ...uint32) {
	x.t.Helper()
	var d [5]uint32
	copy(d[:], data)
	e := xproto.ClientMessageEvent{Format: 32, Window: about, Type: x.Atom(kind), Data: xproto.ClientMessageDataUnionData32New(d[:])}
	mask := uint32(xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify)
	if err := xproto.SendEventChecked(x.Conn, false, x.Root, mask, string(e.Bytes())).Check(); err != nil {
		x.t.Fatal(err)
	}
}

// Window makes a window with a title that is not mapped yet.
func (x *X) Window(title string, px, py, w, h int) xproto.Window {
	x.t.Helper()
	id, err := xproto.NewWindowId(x.Conn)
	if err != nil {
		x.t.Fatal(err)
	}
	err = xproto.CreateWindowChecked(x.Conn, 0, id, x.Root, int16(px), int16(py), uint16(w), uint16(h), 1,
		xproto.WindowClassInputOutput, 0, 0, nil).Check()
	if err != nil {
		x.t.Fatal(err)
	}
	x.Text(id, "_NET_WM_NAME", title)
	xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, id, xproto.AtomWmName, xproto.AtomString, 8, uint32(len(title)), []byte(title))
	return id
}

// Text sets a property of UTF-8 text, whatever it really holds.
func (x *X) Text(win xproto.Window, property, text string) {
	x.t.Helper()
	xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, win, x.Atom(property), x.Atom("UTF8_STRING"), 8, uint32(len(text)), []byte(text))
}

// Cards sets a property of numbers.
func (x *X) Cards(win xproto.Window, property string, kind xproto.Atom, values ...uint32) {
	x.t.Helper()
	data := make([]byte, 0, 4*len(values))
	for _, v := range values {
		data = append(data, byte(v), byte(v>>8), byte(v>>16), byte(v>>24))
	}
	if err := xproto.ChangePropertyChecked(x.Conn, xproto.PropModeReplace, win, x.Atom(property), kind, 32, uint32(len(values)), data).Check(); err != nil {
		x.t.Fatal(err)
	}
}

// Map maps a window.
func (x *X) Map(win xproto.Window) {
	x.t.Helper()
	if err := xproto.MapWindowChecked(x.Conn, win).Check(); err != nil {
		x.t.Fatal(err)
	}
}

// Viewable tells whether a window is on the screen.
func (x *X) Viewable(win xproto.Window) bool {
	r, err := xproto.GetWindowAttributes(x.Conn, win).Reply()
	return err == nil && r.MapState == xproto.MapStateViewable
}

// Geometry is a window's place without its border; ok is false where it is gone.
func (x *X) Geometry(win xproto.Window) (px, py, w, h, border int, ok bool) {
	r, err := xproto.GetGeometry(x.Conn, xproto.Drawable(win)).Reply()
	if err != nil {
		return
	}
	return int(r.X), int(r.Y), int(r.Width), int(r.Height), int(r.BorderWidth), true
}

// Focus is the window with the X focus.
func (x *X) Focus() xproto.Window {
	r, err := xproto.GetInputFocus(x.Conn).Reply()
	if err != nil {
		return 0
	}
	return r.Focus
}

// HasColour tells whether a window that is on the screen shows a colour,
// 0xRRGGBB, somewhere in its top left corner.
func (x *X) HasColour(window string, colour uint32) bool {
	var win xproto.Window
	if _, err := fmt.Sscanf(window, "0x%x", &win); err != nil {
		return false
	}
	_, _, w, h, _, ok := x.Geometry(win)
	if !ok {
		return false
	}
	r, err := xproto.GetImage(x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(win), 0, 0, uint16(min(w, 200)), uint16(min(h, 40)), 0xffffffff).Reply()
	if err != nil {
		return false
	}
	for p := r.Data; len(p) >= 4; p = p[4:] {
		if uint32(p[0])|uint32(p[1])<<8|uint32(p[2])<<16 == colour {
			return true
		}
	}
	return false
}

// Lock has the server take modifiers as held, or no longer, though no key of them is
// (XkbLatchLockState of the X Keyboard Extension).
func (x *X) Lock(mods byte, on bool) {
	x.t.Helper()
	state := byte(0)
	if on {
		state = mods
	}
	x.latchLock(mods, state, 0, 0)
}

func (x *X) latchLock(mods, state, locks, group byte) {
	x.t.Helper()
	r, err := xproto.QueryExtension(x.Conn, 9, "XKEYBOARD").Reply()
	if err != nil || !r.Present {
		x.t.Fatalf("no keyboard extension: %v", err)
	}
	use := x.Conn.NewCookie(true, true)
	x.Conn.NewRequest([]byte{r.MajorOpcode, 0, 2, 0, 1, 0, 0, 0}, use)
	if _, err := use.Reply(); err != nil {
		x.t.Fatal(err)
	}
	lock := x.Conn.NewCookie(true, false)
	x.Conn.NewRequest([]byte{r.MajorOpcode, 5, 4, 0, 0, 1, mods, state, locks, group, 0, 0, 0, 0, 0, 0}, lock)
	if err := lock.Check(); err != nil {
		x.t.Fatal(err)
	}
}

// Group has the server be in a group of its layout, the first being 0.
func (x *X) Group(group byte) {
	x.t.Helper()
	x.latchLock(0, 0, 1, group)
}

// Key presses a key, or lets go of it.
func (x *X) Key(sym uint32, down bool) {
	x.t.Helper()
	kind := byte(xproto.KeyRelease)
	if down {
		kind = xproto.KeyPress
	}
	x.fake(kind, x.Code(sym), 0, 0)
}
