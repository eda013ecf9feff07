package board

import (
	"fmt"
	"syscall"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display"
)

// A key that begins a chord makes the server hold back what is typed until the keeper says to
// whom it goes, and nobody else can say that. A keeper that stands still (stopped, in a
// debugger, on a machine that swaps) would leave the keyboard dead for everybody. The guard,
// a process of its own, ends the keeper's connection then.

// How often the guard asks the keeper for a sign of life, and for how many seconds it waits
// for one.
const (
	guardAsks  = 2 * time.Second
	guardWaits = 5
)

// signName is the property of the sign of life.
const signName = "_ZEALOUS_ATLAS_SIGN"

// begin makes the window by which the guard asks for a sign of life. Where there can be none,
// none is given, and no guard is started.
func (b *Board) begin() {
	conn, root := b.home.Conn, b.home.Root
	atom, err1 := xproto.InternAtom(conn, false, uint16(len(signName)), signName).Reply()
	win, err2 := xproto.NewWindowId(conn)
	if err1 != nil || err2 != nil {
		return
	}
	if xproto.CreateWindowChecked(conn, 0, win, root, -100, -100, 1, 1, 0, xproto.WindowClassInputOnly, 0, xproto.CwOverrideRedirect, []uint32{1}).Check() == nil {
		b.life, b.sign = win, atom.Atom
	}
}

// Life is the window of ours by which Guard watches this process; 0 where there is none.
func (b *Board) Life() xproto.Window { return b.life }

// Message gives the guard the sign of life that it asks for; it tells whether a message was
// that.
func (b *Board) Message(e xproto.ClientMessageEvent) bool {
	if e.Window != b.life || e.Type != b.sign || e.Format != 32 {
		return false
	}
	xproto.ChangeProperty(b.home.Conn, xproto.PropModeReplace, b.life, b.sign, xproto.AtomCardinal, 32, 1, display.Pack(e.Data.Data32[:1]))
	return true
}

// guard watches a keeper, from a process of its own.
type guard struct {
	conn   *xgb.Conn
	root   xproto.Window
	life   xproto.Window
	sign   xproto.Atom
	events chan xgb.Event // closed with the connection
	asked  uint32
}

// Guard watches the keeper of a display by its window of life, until that is gone. If the
// keyboard is held and the keeper gives no sign of life for five seconds, Guard cuts its
// connection (XKillClient) and wakes the process, which starts anew. Windows stay.
func Guard(name string, life xproto.Window, pid int) error {
	conn, _, err := display.Connect(name)
	if err != nil {
		return err
	}
	defer conn.Close()
	g := &guard{conn: conn, root: xproto.Setup(conn).DefaultScreen(conn).Root, life: life, events: make(chan xgb.Event, 64)}
	atom, err := xproto.InternAtom(conn, false, uint16(len(signName)), signName).Reply()
	if err != nil {
		return fmt.Errorf("guarding the keyboard: %w", err)
	}
	g.sign = atom.Atom
	if err := xproto.ChangeWindowAttributesChecked(conn, life, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange | xproto.EventMaskStructureNotify}).Check(); err != nil {
		return nil // it has ended already
	}
	go g.listen()
	for {
		switch alive, gone := g.ask(); {
		case gone:
			return nil
		case !alive && g.keyboardHeld():
			xproto.KillClient(conn, uint32(life))
			conn.Sync()
			return syscall.Kill(pid, syscall.SIGCONT)
		}
		if g.over(guardAsks) {
			return nil
		}
	}
}

func (g *guard) listen() {
	defer close(g.events)
	for {
		e, err := g.conn.WaitForEvent()
		if e == nil && err == nil {
			return
		}
		if e != nil {
			g.events <- e
		}
	}
}

// ask asks for a sign of life, and waits for it. Each second counts only when the server has
// answered after it: where that stands still, or the whole machine did, it is not the keeper.
func (g *guard) ask() (alive, gone bool) {
	g.asked++
	data := xproto.ClientMessageDataUnionData32New([]uint32{g.asked, 0, 0, 0, 0})
	e := xproto.ClientMessageEvent{Format: 32, Window: g.life, Type: g.sign, Data: data}
	xproto.SendEvent(g.conn, false, g.life, 0, string(e.Bytes()))
	g.conn.Sync()
	tick := time.NewTicker(time.Second)
	defer tick.Stop()
	for second := 0; second < guardWaits; {
		select {
		case e, ok := <-g.events:
			if !ok || destroys(e) {
				return false, true
			}
			if p, is := e.(xproto.PropertyNotifyEvent); is && p.Atom == g.sign {
				return true, false
			}
		case <-tick.C:
			g.conn.Sync()
			second++
		}
	}
	return false, false
}

// over waits, and tells whether the keeper has ended meanwhile.
func (g *guard) over(wait time.Duration) bool {
	end := time.After(wait)
	for {
		select {
		case e, ok := <-g.events:
			if !ok || destroys(e) {
				return true
			}
		case <-end:
			return false
		}
	}
}

func destroys(e xgb.Event) bool { _, is := e.(xproto.DestroyNotifyEvent); return is }

// keyboardHeld tells whether somebody has the keyboard for himself: it cannot be had then.
func (g *guard) keyboardHeld() bool {
	r, err := xproto.GrabKeyboard(g.conn, false, g.root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
	if err != nil {
		return false
	}
	if r.Status == xproto.GrabStatusSuccess {
		xproto.UngrabKeyboard(g.conn, xproto.TimeCurrentTime)
		g.conn.Sync()
	}
	return r.Status == xproto.GrabStatusAlreadyGrabbed || r.Status == xproto.GrabStatusFrozen
}
