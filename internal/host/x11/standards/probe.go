// Package standards checks the manager of a display against ICCCM 2.0 and EWMH 1.5, clause by
// clause. It does so from outside: what a client may send, and what it must see then. It knows
// nothing of the manager, and can be run against any.
package standards

import (
	"encoding/binary"
	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"
	"github.com/jezek/xgb/xtest"
)

// patience is how long what must come may take; what must not is looked for after the
// manager has answered a question that was asked later.
const patience = 20 * time.Second

// Probe is a client that asks things of a manager and looks at what it does.
type Probe struct {
	conn    *xgb.Conn
	other   *xgb.Conn // another client
	screen  *xproto.ScreenInfo
	root    xproto.Window
	atoms   map[string]xproto.Atom
	wins    []xproto.Window
	failure string
	display string
	work    []uint32 // without docks
}

// NewProbe connects to a display, in the form of :1.
func NewProbe(display string) (*Probe, error) {
	p := &Probe{atoms: map[string]xproto.Atom{}, display: display}
	var err error
	if p.conn, err = dial(display); err != nil {
		return nil, err
	}
	if p.other, err = dial(display); err != nil {
		p.conn.Close()
		return nil, err
	}
	if err := errors.Join(xtest.Init(p.conn), xtest.Init(p.other)); err != nil {
		p.Close()
		return nil, err
	}
	p.screen = xproto.Setup(p.conn).DefaultScreen(p.conn)
	p.root = p.screen.Root
	return p, nil
}

// dial connects by the socket of a display of this machine: the library else looks for
// an authority and says so.
func dial(display string) (*xgb.Conn, error) {
	number, _, _ := strings.Cut(strings.TrimPrefix(display, ":"), ".")
	c, err := net.Dial("unix", "/tmp/.X11-unix/X"+number)
	if err != nil {
		return nil, err
	}
	return xgb.NewConnNet(c)
}

// Close ends its connections, and with them its windows.
func (p *Probe) Close() {
	p.conn.Close()
	p.other.Close()
}

// Try tries a clause, and tells what was seen that should not have been; empty where
// it holds. The windows it made are gone then.
func (p *Probe) Try(c Clause) string {
	p.failure = ""
	if p.work == nil {
		p.work = p.cards(p.root, "_NET_WORKAREA")
	}
	p.until("the work area is as it was before the clause before", func() bool { return slices.Equal(p.cards(p.root, "_NET_WORKAREA"), p.work) })
	c.try(p)
	for _, win := range p.wins {
		xproto.DestroyWindow(p.conn, win)
	}
	p.wins = nil
	p.fence()
	return p.failure
}

// fail notes what was seen; the first counts.
func (p *Probe) fail(format string, args ...any) {
	if p.failure == "" {
		p.failure = fmt.Sprintf(format, args...)
	}
}

// until waits for something that must come.
func (p *Probe) until(what string, cond func() bool) {
	if p.failure != "" {
		return
	}
	for end := time.Now().Add(patience); !cond(); time.Sleep(4 * time.Millisecond) {
		if time.Now().After(end) {
			p.fail("not so: %s", what)
			return
		}
	}
}

// never looks whether something has come that must not, once all before it is done.
func (p *Probe) never(what string, cond func() bool) {
	p.fence()
	if cond() {
		p.fail("it is so: %s", what)
	}
}

// fence waits until the manager has followed all that was asked before.
func (p *Probe) fence() {
	win := p.create(0, 0, 10, 10, 0)
	p.message(win, "_NET_REQUEST_FRAME_EXTENTS")
	before := p.failure
	p.failure = ""
	p.until("a window that is not mapped is told its frame", func() bool { return len(p.cards(win, "_NET_FRAME_EXTENTS")) == 4 })
	p.failure = before
	xproto.DestroyWindow(p.conn, win)
}

func (p *Probe) atom(name string) xproto.Atom {
	if a, known := p.atoms[name]; known {
		return a
	}
	r, err := xproto.InternAtom(p.conn, false, uint16(len(name)), name).Reply()
	if err != nil {
		p.fail("the atom %s: %v", name, err)
		return 0
	}
	p.atoms[name] = r.Atom
	return r.Atom
}

// create makes a window that is not mapped.
func (p *Probe) create(x, y, w, h, border int) xproto.Window {
	win, err := xproto.NewWindowId(p.conn)
	if err != nil {
		p.fail("a window: %v", err)
		return 0
	}
	xproto.CreateWindow(p.conn, 0, win, p.root, int16(x), int16(y), uint16(w), uint16(h), uint16(border), xproto.WindowClassInputOutput, 0,
		xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify | xproto.EventMaskPropertyChange | xproto.EventMaskFocusChange})
	return win
}

// window makes one that is destroyed after the clause, and floats by a fixed size
// unless it is opened otherwise.
func (p *Probe) window(x, y, w, h int) xproto.Window {
	win := p.create(x, y, w, h, 0)
	p.wins = append(p.wins, win)
	p.text(win, "WM_CLASS", "probe\x00Probe\x00")
	p.text(win, "_NET_WM_NAME", "probe")
	p.hints(win, usPosition|usSize, x, y, w, h)
	return win
}

// Flags of WM_NORMAL_HINTS.
const (
	usPosition = 1 << 0
	usSize     = 1 << 1
	pMinSize   = 1 << 4
	pMaxSize   = 1 << 5
	pResizeInc = 1 << 6
	pGravity   = 1 << 9
)

// hints writes WM_NORMAL_HINTS: flags, and the fields after them.
func (p *Probe) hints(win xproto.Window, flags uint32, values ...int) {
	v := make([]uint32, 18)
	v[0] = flags
	for i, n := range values {
		v[1+i] = uint32(n)
	}
	p.set(win, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, v...)
}

func (p *Probe) text(win xproto.Window, name, text string) {
	kind := xproto.Atom(xproto.AtomString)
	if strings.HasPrefix(name, "_NET") {
		kind = p.atom("UTF8_STRING")
	}
	xproto.ChangeProperty(p.conn, xproto.PropModeReplace, win, p.atom(name), kind, 8, uint32(len(text)), []byte(text))
}

func (p *Probe) set(win xproto.Window, name string, kind xproto.Atom, values ...uint32) {
	var data []byte
	for _, v := range values {
		data = binary.LittleEndian.AppendUint32(data, v)
	}
	xproto.ChangeProperty(p.conn, xproto.PropModeReplace, win, p.atom(name), kind, 32, uint32(len(values)), data)
}

// setAtoms writes a list of atoms by their names.
func (p *Probe) setAtoms(win xproto.Window, name string, atoms ...string) {
	v := make([]uint32, len(atoms))
	for i, a := range atoms {
		v[i] = uint32(p.atom(a))
	}
	p.set(win, name, xproto.AtomAtom, v...)
}

// bytes are those of a property.
func (p *Probe) bytes(win xproto.Window, name string) []byte {
	r, err := xproto.GetProperty(p.conn, false, win, p.atom(name), xproto.GetPropertyTypeAny, 0, 10000).Reply()
	if err != nil {
		return nil
	}
	return r.Value
}

func (p *Probe) cards(win xproto.Window, name string) (v []uint32) {
	for b := p.bytes(win, name); len(b) >= 4; b = b[4:] {
		v = append(v, binary.LittleEndian.Uint32(b))
	}
	return v
}

// card is the first number of a property; 1<<31 where there is none.
func (p *Probe) card(win xproto.Window, name string) uint32 {
	if v := p.cards(win, name); len(v) > 0 {
		return v[0]
	}
	return 1 << 31
}

// has tells whether a list of atoms, or windows, has one.
func (p *Probe) has(win xproto.Window, list, name string) bool {
	return slices.Contains(p.cards(win, list), uint32(p.atom(name)))
}

func (p *Probe) state(win xproto.Window, name string) bool {
	return p.has(win, "_NET_WM_STATE", "_NET_WM_STATE_"+name)
}

func (p *Probe) listed(list string, win xproto.Window) int {
	return slices.Index(p.cards(p.root, list), uint32(win))
}

// message sends a client message to the root.
func (p *Probe) message(win xproto.Window, kind string, data ...uint32) {
	p.send(p.conn, win, kind, data...)
}

func (p *Probe) send(conn *xgb.Conn, win xproto.Window, kind string, data ...uint32) {
	var d [5]uint32
	copy(d[:], data)
	e := xproto.ClientMessageEvent{Format: 32, Window: win, Type: p.atom(kind), Data: xproto.ClientMessageDataUnionData32New(d[:])}
	xproto.SendEvent(conn, false, p.root, xproto.EventMaskSubstructureNotify|xproto.EventMaskSubstructureRedirect, string(e.Bytes()))
	conn.Sync()
}

// ask sends _NET_WM_STATE: 0 removes, 1 adds, 2 toggles.
func (p *Probe) ask(win xproto.Window, how uint32, states ...string) {
	data := []uint32{how, 0, 0, 1}
	for i, s := range states {
		data[1+i] = uint32(p.atom("_NET_WM_STATE_" + s))
	}
	p.message(win, "_NET_WM_STATE", data...)
}

// show maps a window, and waits until it is seen.
func (p *Probe) show(win xproto.Window) xproto.Window {
	xproto.MapWindow(p.conn, win)
	p.until("a window that is mapped is seen", func() bool { return p.seen(win) })
	p.until("it has WM_STATE", func() bool { return p.card(win, "WM_STATE") == 1 })
	return win
}

// open is a floating window that is seen: a dialog of none.
func (p *Probe) open(x, y, w, h int) xproto.Window {
	win := p.window(x, y, w, h)
	p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
	return p.show(win)
}

// plain is a usual window that is seen.
func (p *Probe) plain() xproto.Window { return p.show(p.window(100, 100, 300, 200)) }

// typed is a window of a type, mapped.
func (p *Probe) typed(kind string) xproto.Window {
	win := p.window(200, 200, 150, 100)
	p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_"+kind)
	return p.show(win)
}

func (p *Probe) seen(win xproto.Window) bool {
	a, err := xproto.GetWindowAttributes(p.conn, win).Reply()
	return err == nil && a.MapState == xproto.MapStateViewable
}

// place is where a window's outer corner is on the root, its inside and its border.
type place struct{ x, y, w, h, border int }

func (p *Probe) place(win xproto.Window) place {
	g, err := xproto.GetGeometry(p.conn, xproto.Drawable(win)).Reply()
	if err != nil {
		return place{}
	}
	t, err := xproto.TranslateCoordinates(p.conn, win, p.root, 0, 0).Reply()
	if err != nil {
		return place{}
	}
	return place{int(t.DstX), int(t.DstY), int(g.Width), int(g.Height), int(g.BorderWidth)}
}

// frame is the outer rectangle, what surrounds the window included.
func (p *Probe) frame(win xproto.Window) place {
	at, e := p.place(win), p.cards(win, "_NET_FRAME_EXTENTS")
	if len(e) < 4 {
		return at
	}
	return place{at.x - int(e[0]), at.y - int(e[2]), at.w + int(e[0]+e[1]), at.h + int(e[2]+e[3]), 0}
}

// size waits for the size of a window's inside.
func (p *Probe) size(win xproto.Window, w, h int) {
	p.until(fmt.Sprintf("the inside is %d×%d", w, h), func() bool { at := p.place(win); return at.w == w && at.h == h })
}

func (p *Probe) focus() xproto.Window {
	r, err := xproto.GetInputFocus(p.conn).Reply()
	if err != nil {
		return 0
	}
	return r.Focus
}

func (p *Probe) focused(win xproto.Window) {
	p.until("the window has the focus", func() bool { return p.focus() == win })
}

// over tells whether a window is stacked over another on the display.
func (p *Probe) over(a, b xproto.Window) bool {
	t, err := xproto.QueryTree(p.conn, p.root).Reply()
	if err != nil {
		return false
	}
	at := func(win xproto.Window) int {
		for { // the child of the root that it is in
			q, err := xproto.QueryTree(p.conn, win).Reply()
			if err != nil || q.Parent == p.root || q.Parent == 0 {
				return slices.Index(t.Children, win)
			}
			win = q.Parent
		}
	}
	return at(a) > at(b)
}

// configure asks for what mask says of place and size.
func (p *Probe) configure(win xproto.Window, mask uint16, values ...int) {
	v := make([]uint32, len(values))
	for i, n := range values {
		v[i] = uint32(n)
	}
	xproto.ConfigureWindow(p.conn, win, mask, v)
}

// events are those that have come about a window, of a kind.
func events[E xgb.Event](p *Probe, match func(E) bool) (found []E) {
	p.conn.Sync()
	for {
		e, _ := p.conn.PollForEvent()
		if e == nil {
			return found
		}
		if k, ok := e.(E); ok && match(k) {
			found = append(found, k)
		}
	}
}

// notified waits for an event of a kind about which match is true.
func notified[E xgb.Event](p *Probe, what string, match func(E) bool) (got E) {
	p.until(what, func() bool {
		if all := events(p, match); len(all) > 0 {
			got = all[len(all)-1]
			return true
		}
		return false
	})
	return got
}

// time is the server's, by a change of a property.
func (p *Probe) time() xproto.Timestamp {
	win := p.create(0, 0, 1, 1, 0)
	defer xproto.DestroyWindow(p.conn, win)
	p.text(win, "WM_NAME", "when")
	return notified(p, "the time comes", func(e xproto.PropertyNotifyEvent) bool { return e.Window == win }).Time
}

// point moves the pointer.
func (p *Probe) point(x, y int) {
	xtest.FakeInput(p.conn, xproto.MotionNotify, 0, 0, p.root, int16(x), int16(y), 0)
	p.conn.Sync()
}

func (p *Probe) button(n byte, down bool) {
	kind := byte(xproto.ButtonRelease)
	if down {
		kind = xproto.ButtonPress
	}
	xtest.FakeInput(p.conn, kind, n, 0, p.root, 0, 0, 0)
	p.conn.Sync()
}

func (p *Probe) click(x, y int) {
	p.point(x, y)
	p.button(1, true)
	p.button(1, false)
}

// key presses the key that carries a keysym, and lets it go.
func (p *Probe) key(sym xproto.Keysym) {
	setup := xproto.Setup(p.conn)
	m, err := xproto.GetKeyboardMapping(p.conn, setup.MinKeycode, byte(setup.MaxKeycode-setup.MinKeycode+1)).Reply()
	if err != nil {
		p.fail("the keyboard: %v", err)
		return
	}
	code := byte(setup.MinKeycode) + byte(slices.Index(m.Keysyms, sym)/int(m.KeysymsPerKeycode))
	xtest.FakeInput(p.conn, xproto.KeyPress, code, 0, p.root, 0, 0, 0)
	xtest.FakeInput(p.conn, xproto.KeyRelease, code, 0, p.root, 0, 0, 0)
	p.conn.Sync()
}

// desktops has there be so many, and the first one shown.
func (p *Probe) desktops(n int) {
	p.message(p.root, "_NET_NUMBER_OF_DESKTOPS", uint32(n))
	p.until("there are so many desktops", func() bool { return p.card(p.root, "_NET_NUMBER_OF_DESKTOPS") == uint32(n) })
	p.message(p.root, "_NET_CURRENT_DESKTOP", 0, 0)
	p.until("the first is shown", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") == 0 })
}

// name is the name of an atom.
func (p *Probe) name(a uint32) string {
	r, err := xproto.GetAtomName(p.conn, xproto.Atom(a)).Reply()
	if err != nil {
		return fmt.Sprint(a)
	}
	return r.Name
}

// tried tells whether a clause has used an atom.
func (p *Probe) tried(name string) bool {
	_, is := p.atoms[name]
	return is
}
