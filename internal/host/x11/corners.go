package x11

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
}

// placedCorner is a corner of a monitor.
type placedCorner struct {
	Corner
	monitor byte
	at      geom.Point
}

// wantedCorners are the corners from which the pointer cannot go on to another monitor,
// but of monitors that a fullscreen window covers.
func (h *Host) wantedCorners(d *desk.Desk) (all []placedCorner) {
	on := func(x, y int) bool {
		return slices.ContainsFunc(d.Plugged(), func(m desk.Monitor) bool { return m.Rect.Has(geom.Point{X: x, Y: y}) })
	}
	for _, m := range d.Plugged() {
		if slices.ContainsFunc(d.Windows, func(w *desk.Window) bool { return w.Fullscreen && w.Monitor == m.Letter && d.Visible(w) && d.Covers(w) }) {
			continue
		}
		for _, c := range h.opt.Corners {
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
func (h *Host) placeCorners(d *desk.Desk) {
	if d == nil || len(h.opt.Corners) == 0 && len(h.corners.wins) == 0 {
		return
	}
	wanted := h.wantedCorners(d)
	for win, c := range h.corners.wins {
		i := slices.Index(wanted, c)
		if i < 0 {
			xproto.DestroyWindow(h.conn, win)
			delete(h.corners.wins, win)
			continue
		}
		wanted = slices.Delete(wanted, i, i+1)
		xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
	}
	for _, c := range wanted {
		win, err := xproto.NewWindowId(h.conn)
		if err != nil {
			return
		}
		xproto.CreateWindow(h.conn, 0, win, h.root, int16(c.at.X), int16(c.at.Y), 1, 1, 0, xproto.WindowClassInputOnly, 0,
			xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, xproto.EventMaskEnterWindow | xproto.EventMaskLeaveWindow})
		h.setText(win, aNetName, "Zealous Atlas corner")
		xproto.MapWindow(h.conn, win)
		if h.corners.wins == nil {
			h.corners.wins = map[xproto.Window]placedCorner{}
		}
		h.corners.wins[win] = c
	}
}

// enteredCorner follows the pointer into a corner, and tells whether it was one.
func (h *Host) enteredCorner(win xproto.Window) bool {
	if _, is := h.corners.wins[win]; !is {
		return false
	}
	h.corners.rests, h.corners.due = win, time.Now().Add(cornerRest)
	h.wakeAt(h.corners.due)
	return true
}

// left follows the pointer out of a corner.
func (h *Host) left(e xproto.LeaveNotifyEvent) {
	if e.Event == h.corners.rests {
		h.corners.rests, h.corners.due = 0, time.Time{}
	}
}

// cornerTick shows what a corner stands for where the pointer has rested there, with no
// button down.
func (h *Host) cornerTick() {
	c, is := h.corners.wins[h.corners.rests]
	switch {
	case !is || h.corners.due.IsZero():
		return
	case time.Now().Before(h.corners.due):
		h.wakeAt(h.corners.due)
		return
	}
	h.corners.due = time.Time{}
	p, err := xproto.QueryPointer(h.conn, h.root).Reply()
	if err != nil || p.Mask&anyButton != 0 || (geom.Point{X: int(p.RootX), Y: int(p.RootY)}) != c.at || h.drag.id != 0 || h.board.On() {
		return
	}
	if slices.Contains(prompt.Screens(), c.Command) {
		if !h.atlas.up || h.atlas.Screen != c.Command {
			h.atlas.bring(c.Command)
		}
		return
	}
	if command, err := lang.ParseCommand(c.Command); err == nil {
		h.events = append(h.events, keeper.Event{Command: &command, Source: keeper.Pointer})
	}
}
