package x11

import (
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/x11/paint"
	"zatlas/internal/keeper"
)

// TokenVariable names the variable of the environment by which the screens
// know that they run in the atlas window; its value is in that window's title.
const TokenVariable = "ZEALOUS_ATLAS_WINDOW"

// Title is the title of the atlas window with that token.
func Title(token string) string { return "Zealous Atlas [" + token + "]" }

// atlas is the terminal window in which a chord brings up the screens. It is
// no window of the desk.
type atlas struct {
	h     *Host
	token string
	// terminal is the program in it; nil where none is started.
	terminal *terminal
	win      xproto.Window
	screen   string // what it was last brought up with
	up       bool   // mapped, and holding the focus
	astray   bool   // what it was brought up for has failed
	words    string // of the last command that was given in it
	unmaps   int
	size     geom.Rect // as the terminal chose it
	least    geom.Rect // that of so few cells as the screens need
	byHand   bool      // a window is moved or resized by keys typed into it
	rect     geom.Rect // as last configured, with its border
	on       byte      // the letter of the monitor where it was brought up
	asked    int       // how often the screens were asked to show something
	held     time.Time // until when the keyboard waits for them at the latest; zero where it does not
	silent   bool      // they did not answer in time, the last time they were waited for
}

func newAtlas(h *Host) *atlas {
	b := make([]byte, 8)
	rand.Read(b) // never fails, by its documentation
	return &atlas{h: h, token: "zatlas-" + hex.EncodeToString(b)}
}

// isIt tells whether a window is the atlas window: by its startup id, else by
// the token in its title.
func (a *atlas) isIt(f facts) bool {
	return a.win == 0 && a.terminal != nil && (strings.Contains(f.startup, a.token) || strings.Contains(f.title, a.token))
}

// holdTime is how long the keyboard waits for the screens at most. It is meant
// for a terminal that has to start first.
const holdTime = 2 * time.Second

// hold has keys wait, from the press of a chord on that froze the keyboard, until
// the screens show what they are asked for: typed on at once, a search would go to
// a document, or be taken for commands.
func (a *atlas) hold(now xproto.Timestamp) {
	if a.silent || a.win == 0 && a.terminal == nil {
		a.h.thaw(now)
		return
	}
	a.held = time.Now().Add(holdTime)
	time.AfterFunc(holdTime, a.h.queue.signal)
}

// release lets keys that wait go to what has the focus.
func (a *atlas) release() {
	if !a.held.IsZero() {
		a.held = time.Time{}
		a.h.ungrabKeyboard()
	}
}

// titled follows a change of the atlas window's title, by which the screens
// answer: it ends with the number of what they show.
func (a *atlas) titled() {
	title := a.h.text(xproto.GetProperty(a.h.conn, false, a.win, a.h.atoms[aNetName], xproto.GetPropertyTypeAny, 0, textUnits))
	if title == "" {
		title = a.h.text(xproto.GetProperty(a.h.conn, false, a.win, xproto.AtomWmName, xproto.GetPropertyTypeAny, 0, textUnits))
	}
	if !strings.HasSuffix(title, " "+strconv.Itoa(a.asked)) {
		return
	}
	if strings.HasSuffix(title, keeper.Away+" "+strconv.Itoa(a.asked)) {
		a.hide()
		if a.words != "" && a.screen != "atlas" && !a.h.opt.Quiet {
			a.h.say(a.words)
		}
		return
	}
	a.astray = strings.HasSuffix(title, keeper.Astray+" "+strconv.Itoa(a.asked))
	a.byHand = strings.HasSuffix(title, keeper.ByHand+" "+strconv.Itoa(a.asked))
	a.place()
	a.silent = false
	a.release()
}

// toggle brings the atlas window up with a screen, or puts it away where it is
// up with that one. It follows a chord that froze the keyboard.
func (a *atlas) toggle(screen string, now xproto.Timestamp) {
	if a.up && a.screen == screen && !a.astray {
		a.hide()
		a.h.thaw(now)
		return
	}
	defer a.hold(now)
	a.bring(screen)
}

// bring brings the atlas window up with a screen.
func (a *atlas) bring(screen string) {
	a.screen, a.byHand = screen, screen == "nudge" || screen == "resize"
	a.asked++
	a.astray, a.words = false, ""
	a.h.events = append(a.h.events, keeper.Event{Screen: screen, Asked: a.asked})
	switch {
	case a.up:
		a.place()
	case a.win != 0:
		a.show()
	default:
		a.start()
	}
}

// terminal is the program of the atlas window, from when it is to be started on.
type terminal struct {
	started chan struct{} // closed when process is there
	process *os.Process
	ended   chan struct{} // closed when it has ended, or has not started, for what fault says
	fault   string
}

// start has the screens run in a terminal. Its window comes later.
func (a *atlas) start() {
	if a.terminal != nil {
		return
	}
	if len(a.h.opt.Command) == 0 || a.h.opt.Terminal == nil {
		a.h.say("No atlas window can be brought up here.")
		return
	}
	t := &terminal{started: make(chan struct{}), ended: make(chan struct{})}
	a.terminal = t
	opt, room, env := a.h.opt, a.h.desk.Monitor(a.h.desk.At).Work, []string{TokenVariable + "=" + a.token, "DESKTOP_STARTUP_ID=" + a.token}
	if opt.Display != "" {
		env = append(env, "DISPLAY="+opt.Display)
	}
	go func() { // the disk with the program may not answer
		defer a.h.queue.signal()
		defer close(t.ended)
		args := append(opt.Terminal(room), opt.Command...)
		if len(args) == len(opt.Command) {
			t.fault = "No terminal is installed for the atlas window. Install xterm, or name another: keeper.terminal."
			return
		}
		t.run(args, env, a.token)
	}()
}

// run runs the terminal to its end.
func (t *terminal) run(args, env []string, token string) {
	for i, arg := range args {
		args[i] = strings.ReplaceAll(arg, "TITLE", Title(token))
	}
	cmd := exec.Command(args[0], args[1:]...)
	cmd.Env = append(os.Environ(), env...)
	if filepath.Base(args[0]) == "xterm" {
		cmd.Env = append(cmd.Env, "COLORTERM=truecolor") // it draws any colour, and does not say so
	}
	if err := cmd.Start(); err != nil {
		t.fault = fmt.Sprintf("The terminal %s did not start: %v. The setting keeper.terminal names another.", args[0], err)
		return
	}
	t.process = cmd.Process
	close(t.started)
	cmd.Wait() // its exit status says nothing that its window's end does not
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
	a.least = geom.R(0, 0, f.size.BaseW+keeper.LeastColumns*cell(f.size.IncW, 8), f.size.BaseH+keeper.LeastRows*cell(f.size.IncH, 16))
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
	if w := h.desk.Window(h.desk.Focus); a.byHand && w != nil {
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

// corner is the place of something of a size in a corner of an area where it covers least
// of a rectangle: where it is, where that is as good, else at the right before the left,
// at the bottom before the top.
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
	h.stopHearing(errPutAway)
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
	a.win, a.up, a.unmaps, a.terminal = 0, false, 0, nil
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
	} else if a.terminal != nil {
		select {
		case <-a.terminal.started:
			a.terminal.process.Kill()
		default:
		}
	}
}

// tick notices a terminal that ended without ever showing a window, and screens
// that do not answer.
func (a *atlas) tick() {
	if t := a.terminal; t != nil && a.win == 0 {
		select {
		case <-t.ended:
			if a.terminal = nil; t.fault != "" {
				a.h.log.Error(t.fault)
				a.h.say(t.fault)
			}
			a.release()
		default:
		}
	}
	if !a.held.IsZero() && time.Now().After(a.held) {
		a.silent = true
		a.release()
	}
}
