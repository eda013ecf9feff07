package x11

import (
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
)

// atlas is the terminal window in which a chord brings up the screens. It is
// no window of the desk.
type atlas struct {
	*board.Screens
	h      *Host
	win    xproto.Window
	up     bool // mapped, and holding the focus
	unmaps int
	size   geom.Rect // as the terminal chose it
	least  geom.Rect // that of so few cells as the screens need
	rect   geom.Rect // as last configured, with its border
	on     byte      // the letter of the monitor where it was brought up
}

func newAtlas(h *Host) *atlas { return &atlas{Screens: board.NewScreens(h.queue.signal), h: h} }

// isIt tells whether a window is the atlas window.
func (a *atlas) isIt(f facts) bool { return a.win == 0 && a.Has(f.Startup, f.Title) }

// release lets keys that wait go to what has the focus.
func (a *atlas) release() {
	if a.Release() {
		a.h.board.Give()
	}
}

// titled follows a change of the atlas window's title, by which the screens answer.
func (a *atlas) titled() {
	title := a.h.text(xproto.GetProperty(a.h.conn, false, a.win, a.h.atoms[aNetName], xproto.GetPropertyTypeAny, 0, textUnits))
	if title == "" {
		title = a.h.text(xproto.GetProperty(a.h.conn, false, a.win, xproto.AtomWmName, xproto.GetPropertyTypeAny, 0, textUnits))
	}
	switch a.Answered(title) {
	case board.Away:
		a.hide()
		if a.Words != "" && a.Screen != "atlas" && !a.h.opt.Quiet {
			a.h.say(a.Words)
		}
	case board.Here:
		a.place()
		a.release()
	}
}

// toggle brings the atlas window up with a screen, or puts it away where it is
// up with that one. It follows a chord that froze the keyboard, and tells whether that waits.
func (a *atlas) toggle(screen string) bool {
	if a.up && a.Screen == screen && !a.Astray {
		a.hide()
		return false
	}
	a.bring(screen)
	return a.Hold(a.win != 0)
}

// bring brings the atlas window up with a screen.
func (a *atlas) bring(screen string) {
	a.h.events = append(a.h.events, a.Ask(screen))
	switch {
	case a.up:
		a.place()
	case a.win != 0:
		a.show()
	default:
		if words := a.Start(a.h.opt.Screens, a.h.desk.Monitor(a.h.desk.At).Work); words != "" {
			a.h.say(words)
		}
	}
}

// adopt takes the window as the atlas window.
func (a *atlas) adopt(win xproto.Window, f facts) {
	a.win = win
	h := a.h
	// The release of the chord's key, which comes to this window when the keyboard
	// is free again, tells a key held down from one pressed twice.
	xproto.ChangeWindowAttributes(h.conn, win, xproto.CwEventMask|xproto.CwBorderPixel, []uint32{h.paper.Pixel(paint.Focused), clientEvents | xproto.EventMaskKeyRelease})
	for _, p := range []atom{aWindowDesktop, aMark} {
		xproto.DeleteProperty(h.conn, win, h.atoms[p])
	}
	a.size = f.rect.Inset(f.border)
	cell := func(unit, usual int) int { return min(max(unit, usual/2), 3*usual) } // of a terminal that says it
	a.least = geom.R(0, 0, f.Size.BaseW+keeper.LeastColumns*cell(f.Size.IncW, 8), f.Size.BaseH+keeper.LeastRows*cell(f.Size.IncH, 16))
	a.show()
}

// show centres the atlas window over what is shown and gives it the focus.
func (a *atlas) show() {
	h := a.h
	if a.up || a.win == 0 || h.desk == nil {
		return
	}
	a.up, a.rect, a.on = true, geom.Rect{}, h.desk.At
	h.drawn.Strip.Hide() // it may be what says how to bring this up
	a.place()
	xproto.ConfigureWindow(h.conn, a.win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
	h.change(a.win, aState, h.atoms[aState], 32, display.Pack([]uint32{stateNormal, 0}))
	xproto.MapWindow(h.conn, a.win)
	h.setFocus(a.win, h.serverTime())
	h.paintBordersAgain()
}

// place has the atlas window stand in the middle of the monitor you were on; while a window
// is moved or resized by hand, small in a corner where it covers least of that.
func (a *atlas) place() {
	h := a.h
	if !a.up || a.win == 0 || h.desk == nil {
		return
	}
	if !h.desk.Connected(a.on) {
		a.on = h.desk.At
	}
	work, b := h.desk.Monitor(a.on).Work, h.opt.Border
	size := geom.R(0, 0, min(a.size.W, work.W*9/10)+2*b, min(a.size.H, work.H*9/10)+2*b)
	r := geom.R(work.X+(work.W-size.W)/2, work.Y+(work.H-size.H)/2, size.W, size.H)
	if w := h.desk.Window(h.desk.Focus); a.ByHand && w != nil {
		small := geom.R(0, 0, min(a.least.W+2*b, size.W), min(a.least.H+2*b, size.H))
		r = corner(work, small, w.Rect, a.rect)
	}
	if r == a.rect {
		return
	}
	a.rect = r
	xproto.ConfigureWindow(h.conn, a.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowBorderWidth,
		[]uint32{paint.Coordinate(r.X), paint.Coordinate(r.Y), uint32(r.W - 2*b), uint32(r.H - 2*b), uint32(b)})
}

// corner finds the corner of an area in which something of a size covers least of a
// rectangle. Of equal corners it takes the present one, then right before left and bottom
// before top.
func corner(area, size, free, now geom.Rect) geom.Rect {
	var best geom.Rect
	covered := int64(-1)
	for _, at := range []geom.Point{
		{X: now.X, Y: now.Y}, {X: area.Right() - size.W, Y: area.Bottom() - size.H}, {X: area.X, Y: area.Bottom() - size.H},
		{X: area.Right() - size.W, Y: area.Y}, {X: area.X, Y: area.Y},
	} {
		r := geom.R(at.X, at.Y, size.W, size.H)
		atCorner := (r.X == area.X || r.Right() == area.Right()) && (r.Y == area.Y || r.Bottom() == area.Bottom())
		if c := r.Intersect(free).Area(); atCorner && (covered < 0 || c < covered) {
			best, covered = r, c
		}
	}
	return best
}

// hide puts the atlas window away; the focus goes back to the desk.
func (a *atlas) hide() {
	if !a.up {
		return
	}
	a.up = false
	a.unmaps++
	h := a.h
	h.board.EndListening()
	h.focus(h.desk.Focus, h.serverTime())
	a.release()
	xproto.UnmapWindow(h.conn, a.win)
	h.change(a.win, aState, h.atoms[aState], 32, display.Pack([]uint32{stateIconic, 0}))
	h.paintBordersAgain()
}

// unmapped follows an UnmapNotify of the atlas window: one of our own making,
// or its end.
func (a *atlas) unmapped() {
	if a.unmaps > 0 {
		a.unmaps--
		return
	}
	a.gone()
}

// gone forgets the window; the next chord starts another.
func (a *atlas) gone() {
	up := a.up
	a.h.board.EndListening()
	a.Gone()
	a.win, a.up, a.unmaps = 0, false, 0
	a.release()
	if up {
		a.h.refocus()
		a.h.paintBordersAgain()
	}
}

// end ends the program in the atlas window.
func (a *atlas) end() {
	if a.win != 0 {
		xproto.KillClient(a.h.conn, uint32(a.win))
		return
	}
	a.Kill()
}

// tick notices a terminal that ended without ever showing a window, and screens
// that do not answer.
func (a *atlas) tick() {
	if a.win == 0 {
		if fault, ended := a.Ended(); ended {
			if fault != "" {
				a.h.log.Error(fault)
				a.h.say(fault)
			}
			a.release()
		}
	}
	if a.Late() {
		a.release()
	}
}
