package alongside

import (
	"cmp"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
)

// atlas is the terminal window in which a chord brings up the screens. It is managed as any
// other, and is no window of the desk.
type atlas struct {
	*board.Screens
	h     *Host
	win   xproto.Window
	here  bool // the screens show what they were asked for
	shown bool // it was asked to the front, and not put away since
	// coming is true from then until the manager has given it the focus, and leaving from when it
	// is put away until it has lost it. A chord that is pressed meanwhile goes by what was asked.
	coming, leaving bool
}

// isIt tells whether a window is the atlas window.
func (a *atlas) isIt(f facts) bool { return a.win == 0 && a.Has(f.Startup, f.Title) }

// up tells whether it is in front.
func (a *atlas) up() bool { return a.win != 0 && a.h.top.active == a.win && !a.leaving }

// seen takes in which window has the focus.
func (a *atlas) seen(active xproto.Window) {
	a.leaving = false
	if active == a.win {
		a.coming = false
	}
}

// toggle brings the atlas window up with a screen, or puts it away where it is up with that
// one. It tells whether keys wait for it.
func (a *atlas) toggle(screen string) bool {
	if (a.up() || a.coming) && a.Screen == screen && !a.Astray {
		a.hide()
		return false
	}
	a.bring(screen)
	return a.Hold(a.win != 0)
}

// rest brings it up because the pointer rests in a corner.
func (a *atlas) rest(screen string) {
	if !a.up() && !a.coming || a.Screen != screen {
		a.bring(screen)
	}
}

// bring brings it up with a screen.
func (a *atlas) bring(screen string) {
	h := a.h
	a.here = false
	h.pressed = append(h.pressed, a.Ask(screen))
	switch {
	case a.win != 0:
		a.raise()
	case h.desk == nil:
	default:
		if words := a.Start(h.opt.Screens, h.desk.Monitor(h.desk.At).Work); words != "" {
			h.board.Say(words)
		}
	}
}

// adopt takes a window as the atlas window.
func (a *atlas) adopt(win xproto.Window) {
	a.win = win
	a.titled()
	a.raise()
}

// raise asks for it to be brought to the workspace that is shown, and to the front.
func (a *atlas) raise() {
	a.shown, a.coming = true, !a.up()
	a.h.message(a.win, "_NET_WM_DESKTOP", uint32(a.h.top.current), pager)
	a.h.message(a.win, "_NET_ACTIVE_WINDOW", pager, xproto.TimeCurrentTime, uint32(a.h.top.active))
}

// hide asks for it to be minimised (ICCCM 4.1.4).
func (a *atlas) hide() {
	a.shown, a.coming, a.leaving = false, false, a.h.top.active == a.win
	a.h.board.EndListening()
	a.release()
	const iconic = 3
	a.h.message(a.win, "WM_CHANGE_STATE", iconic)
}

// titled follows a change of its title, by which the screens answer.
func (a *atlas) titled() {
	text := func(name string) string {
		return display.Text(a.h.ask(a.win, name, maxText), a.h.atoms["COMPOUND_TEXT"])
	}
	switch a.Answered(cmp.Or(text("_NET_WM_NAME"), text("WM_NAME"))) {
	case board.Away:
		a.hide()
		if a.Words != "" && a.Screen != "atlas" && !a.h.opt.Quiet {
			a.h.board.Say(a.Words)
		}
	case board.Here:
		a.here = true
	}
}

// release lets keys that wait go to what has the focus.
func (a *atlas) release() {
	if a.Release() {
		a.h.board.Give()
	}
}

// gone forgets the window; the next chord starts another.
func (a *atlas) gone() {
	a.h.board.EndListening()
	a.Gone()
	a.win, a.shown, a.coming, a.leaving = 0, false, false, false
	a.release()
}

// tick lets keys go when the screens are there, or do not answer, and notices a terminal that
// ended without ever showing a window.
func (a *atlas) tick() {
	if a.win == 0 {
		if fault, ended := a.Ended(); ended {
			if fault != "" {
				a.h.log.Error(fault)
				a.h.board.Say(fault)
			}
			a.release()
		}
	}
	if a.here && a.up() || a.Late() {
		a.release()
	}
}

// end ends the program in it.
func (a *atlas) end() {
	if a.win != 0 {
		xproto.KillClient(a.h.conn, uint32(a.win))
		a.h.conn.Sync() // before the connection is closed
		return
	}
	a.Kill()
}
