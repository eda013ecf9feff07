package board

import (
	"slices"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// cornerRest is how long the pointer rests in a corner before that shows something.
const cornerRest = 150 * time.Millisecond

// Corner is what a corner of the monitors shows when the pointer rests there.
type Corner struct {
	Right, Bottom bool   // else left, top
	Command       string // a screen, or a command that only shows
}

// corners are the places where the pointer is waited for: windows of one pixel that
// nobody sees. Presses there reach no other window.
type corners struct {
	wins  map[xproto.Window]placedCorner
	rests xproto.Window // where the pointer is; 0 for in none
	due   time.Time     // when that one shows; zero where it has, or is not to
	// spent is the corner that has shown something, until the pointer is out of it. What comes
	// up may cover it, and the pointer seems to come in again when that goes.
	spent xproto.Window
	look  time.Time // when to look whether the pointer is out of one that is covered
}

// cornerLook is how often that is looked at.
const cornerLook = 500 * time.Millisecond

// placedCorner is a corner of a monitor.
type placedCorner struct {
	Corner
	monitor byte
	at      geom.Point
}

// wantedCorners are the corners from which the pointer cannot go on to another monitor,
// but of monitors that a fullscreen window covers.
func (b *Board) wantedCorners(d *desk.Desk) (all []placedCorner) {
	on := func(x, y int) bool {
		return slices.ContainsFunc(d.Plugged(), func(m desk.Monitor) bool { return m.Rect.Has(geom.Point{X: x, Y: y}) })
	}
	for _, m := range d.Plugged() {
		if d.FullOn(m.Letter) {
			continue
		}
		for _, c := range b.opt.Corners {
			p, dx, dy := geom.Point{X: m.Rect.X, Y: m.Rect.Y}, -1, -1
			if c.Right {
				p.X, dx = m.Rect.Right()-1, 1
			}
			if c.Bottom {
				p.Y, dy = m.Rect.Bottom()-1, 1
			}
			if !on(p.X+dx, p.Y) && !on(p.X, p.Y+dy) {
				all = append(all, placedCorner{c, m.Letter, p})
			}
		}
	}
	return all
}

// placeCorners has the corners be where they are wanted, over all windows.
func (b *Board) placeCorners(d *desk.Desk) {
	if d == nil || len(b.opt.Corners) == 0 && len(b.corners.wins) == 0 {
		return
	}
	wanted := b.wantedCorners(d)
	for win, c := range b.corners.wins {
		i := slices.Index(wanted, c)
		if i < 0 {
			xproto.DestroyWindow(b.home.Conn, win)
			delete(b.corners.wins, win)
			continue
		}
		wanted = slices.Delete(wanted, i, i+1)
		xproto.ConfigureWindow(b.home.Conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
	}
	for _, c := range wanted {
		win, err := xproto.NewWindowId(b.home.Conn)
		if err != nil {
			return
		}
		xproto.CreateWindow(b.home.Conn, 0, win, b.home.Root, int16(c.at.X), int16(c.at.Y), 1, 1, 0, xproto.WindowClassInputOnly, 0,
			xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, xproto.EventMaskEnterWindow | xproto.EventMaskLeaveWindow})
		b.home.Title(win, "Zealous Atlas corner")
		xproto.MapWindow(b.home.Conn, win)
		if b.corners.wins == nil {
			b.corners.wins = map[xproto.Window]placedCorner{}
		}
		b.corners.wins[win] = c
	}
}

// Entered follows the pointer into a corner, and tells whether it was one.
func (b *Board) Entered(win xproto.Window) bool {
	if _, is := b.corners.wins[win]; !is {
		return false
	}
	b.corners.rests, b.corners.look = win, time.Time{}
	if win != b.corners.spent {
		b.corners.spent, b.corners.due = 0, time.Now().Add(cornerRest)
		b.home.Wake(b.corners.due)
	}
	return true
}

// Left follows the pointer out of a corner.
func (b *Board) Left(e xproto.LeaveNotifyEvent) {
	c := &b.corners
	if e.Event != c.rests {
		return
	}
	if here := (geom.Point{X: int(e.RootX), Y: int(e.RootY)}); here != c.wins[e.Event].at {
		c.spent = 0
	} else if c.spent != 0 { // a window came over it
		c.look = time.Now().Add(cornerLook)
		b.home.Wake(c.look)
	}
	c.rests, c.due = 0, time.Time{}
}

// cornerCovered looks whether the pointer is out of a corner that a window covers.
func (b *Board) cornerCovered() {
	c := &b.corners
	if c.look.IsZero() {
		return
	}
	if time.Now().Before(c.look) {
		b.home.Wake(c.look)
		return
	}
	c.look = time.Now().Add(cornerLook)
	p, err := xproto.QueryPointer(b.home.Conn, b.home.Root).Reply()
	if err != nil || (geom.Point{X: int(p.RootX), Y: int(p.RootY)}) != c.wins[c.spent].at {
		c.spent, c.look = 0, time.Time{}
		return
	}
	b.home.Wake(c.look)
}

// cornerTick shows what a corner stands for where the pointer has rested there, with no
// button down.
func (b *Board) cornerTick() {
	b.cornerCovered()
	c, is := b.corners.wins[b.corners.rests]
	switch {
	case !is || b.corners.due.IsZero():
		return
	case time.Now().Before(b.corners.due):
		b.home.Wake(b.corners.due)
		return
	}
	b.corners.due = time.Time{}
	const anyButton = xproto.ButtonMask1 | xproto.ButtonMask2 | xproto.ButtonMask3
	p, err := xproto.QueryPointer(b.home.Conn, b.home.Root).Reply()
	if err != nil || p.Mask&anyButton != 0 || (geom.Point{X: int(p.RootX), Y: int(p.RootY)}) != c.at || b.home.Drags != nil && b.home.Drags() || b.On() {
		return
	}
	b.corners.spent = b.corners.rests
	if prompt.IsScreen(c.Command) {
		b.home.Rest(c.Command)
	} else if command, err := lang.ParseCommand(c.Command); err == nil {
		b.home.Do(command, keeper.Pointer)
	}
}
