package x11

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
)

// wakeIn has Take called in so many milliseconds.
func (h *Host) wakeIn(ms int) {
	time.AfterFunc(time.Duration(ms)*time.Millisecond, h.queue.signal)
}

// older tells whether a time of the server is before another; they wrap around.
func older(a, b xproto.Timestamp) bool { return int32(a-b) < 0 }

// watchTime notes where a window tells of the last key or click in it. That may be another
// window of its own (EWMH, _NET_WM_USER_TIME_WINDOW).
func (h *Host) watchTime(c *client, f facts) {
	if f.UserTime > 0 {
		c.userTime = xproto.Timestamp(f.UserTime)
	}
	if f.TimeWindow == c.timeWindow || f.TimeWindow == 0 || h.own(f.TimeWindow) {
		return
	}
	c.timeWindow = f.TimeWindow
	if c.timeWindow != c.win {
		h.listen(c.timeWindow, xproto.EventMaskPropertyChange)
	}
	h.userTimeChanged(c.timeWindow)
}

// userTimeChanged reads the time of the last key or click anew.
func (h *Host) userTimeChanged(win xproto.Window) {
	c := h.byXID[win]
	if c == nil {
		for _, o := range h.clients {
			if o.timeWindow == win {
				c = o
			}
		}
	}
	if c == nil {
		return
	}
	if v := display.Cards(h.ask(win, h.atoms[aUserTime], 1)); len(v) > 0 && v[0] != 0 {
		c.userTime = xproto.Timestamp(v[0])
	}
}

// stampForm is the end of a startup id, which has the time of what started it.
var stampForm = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`_TIME([0-9]{1,10})$`) })

// mayFocus tells whether a window that opens may have the focus. A time of 0 says that it
// wants none; a key or click before the last one gives it no right to it.
func (h *Host) mayFocus(f facts) (may, wantsNone bool) {
	at, known := xproto.Timestamp(0), false
	switch m := stampForm().FindStringSubmatch(f.Startup); {
	case f.UserTime == 0:
		return false, true
	case f.UserTime > 0:
		at, known = xproto.Timestamp(f.UserTime), true
	case f.TimeWindow != 0:
		if v := display.Cards(h.ask(f.TimeWindow, h.atoms[aUserTime], 1)); len(v) > 0 {
			at, known = xproto.Timestamp(v[0]), true
		}
		if known && at == 0 {
			return false, true
		}
	case m != nil:
		if n, err := strconv.ParseUint(m[1], 10, 32); err == nil && n != 0 {
			at, known = xproto.Timestamp(n), true
		}
	}
	return !known || !older(at, h.lastInput()), false
}

// lastInput is the time of the last key or click that is known of; 0 for none, which
// nothing is older than by half of what the clock can say.
func (h *Host) lastInput() xproto.Timestamp {
	last := h.input
	if c := h.clients[h.desk.Focus]; c != nil && c.userTime != 0 && (last == 0 || older(last, c.userTime)) {
		last = c.userTime
	}
	return last
}

// askedFocus obeys _NET_ACTIVE_WINDOW, but for a program that asks by a time older
// than the last key or click: its window becomes urgent.
func (h *Host) askedFocus(c *client, data []uint32) {
	const application = 1
	if at := xproto.Timestamp(data[1]); data[0] == application && at != 0 && h.lastInput() != 0 && older(at, h.lastInput()) {
		h.emit(desk.Changed{ID: c.id, Change: func(w *desk.Window) { w.Urgent = w.ID != h.focused }})
		return
	}
	h.command("focus", desk.Arg{Kind: desk.Item, N: c.id})
}

// itsOwn tells whether a window that has taken the focus belongs to the program that
// had it: focus may go about within an app (ICCCM 4.1.7).
func (h *Host) itsOwn(c *client) bool {
	f := h.clients[h.focused]
	if w := h.desk.Window(c.id); f == nil || w == nil || w.NoFocus || h.atlas.up {
		return false
	}
	mask := xproto.Setup(h.conn).ResourceIdMask
	return uint32(f.win)&^mask == uint32(c.win)&^mask
}

// focusDesktop gives the focus to a desktop window, which is none of the desk's.
func (h *Host) focusDesktop(win xproto.Window, now xproto.Timestamp) {
	h.focused, h.onDesktop = 0, h.desk != nil
	if h.onDesktop {
		h.insteadOf = h.desk.Focus
	}
	h.setFocus(win, now)
	h.setWindows(h.root, aActiveWindow, win)
	h.told.active = win
	if h.onDesktop {
		h.paintBordersAgain()
	}
}

// leaveDesktop gives the focus back to what the desk says, where a desktop window has it.
func (h *Host) leaveDesktop() {
	if h.onDesktop {
		h.refocus()
	}
}

// grabOther has a click on a desktop window focus it.
func (h *Host) grabOther(win xproto.Window) {
	xproto.GrabButton(h.conn, false, win, xproto.EventMaskButtonPress, xproto.GrabModeSync, xproto.GrabModeSync,
		xproto.WindowNone, xproto.CursorNone, xproto.ButtonIndexAny, xproto.ModMaskAny)
}

// strutsOf takes up the strips that a window that is no dock keeps for itself.
func (h *Host) strutsOf(win xproto.Window, f facts) {
	if len(f.Strut) == 0 {
		return
	}
	h.struts[win] = &dock{stale: true}
	h.stir(strutsPart)
}

// strutChanged follows a change of the strips that a window keeps for itself.
func (h *Host) strutChanged(win xproto.Window) {
	d := h.docks[win]
	if d == nil && h.byXID[win] != nil {
		if d = h.struts[win]; d == nil {
			d = &dock{}
			h.struts[win] = d
		}
	}
	if d != nil {
		d.stale = true
		h.stir(strutsPart)
	}
}

// installColormaps has the server use the colormaps of a window that has others than
// the usual one, as ICCCM 4.1.8 says.
func (h *Host) installColormaps(c *client) {
	wins := c.colormaps
	if !slices.Contains(wins, c.win) {
		wins = append([]xproto.Window{c.win}, wins...)
	}
	for _, win := range slices.Backward(wins) {
		attr, err := xproto.GetWindowAttributes(h.conn, win).Reply()
		if err == nil && attr.Colormap != 0 && attr.Colormap != h.screen.DefaultColormap {
			xproto.InstallColormap(h.conn, attr.Colormap)
		}
	}
}

// StartupBegan tells whoever listens that a program is being started, by the startup
// notification protocol: others may show that it is on its way.
func (h *Host) StartupBegan(id, name string) {
	quoted := strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(name)
	h.broadcast(fmt.Sprintf(`new: ID=%s NAME="%s" SCREEN=%d`, id, quoted, h.conn.DefaultScreen))
}

// startupEnded tells that the first window is there of a program that we have started.
func (h *Host) startupEnded(id string) {
	if strings.HasPrefix(id, "zatlas-") {
		h.broadcast("remove: ID=" + id)
	}
}

// broadcast sends a text as _NET_STARTUP_INFO messages, 20 bytes each, the last ends
// with a 0.
func (h *Host) broadcast(text string) {
	kind := h.atoms[aStartupBegin]
	for data := append([]byte(text), 0); len(data) > 0; kind = h.atoms[aStartupInfo] {
		part := make([]byte, 20)
		n := copy(part, data)
		data = data[n:]
		e := xproto.ClientMessageEvent{Format: 8, Window: h.check, Type: kind, Data: xproto.ClientMessageDataUnionData8New(part)}
		xproto.SendEvent(h.conn, false, h.root, xproto.EventMaskPropertyChange, string(e.Bytes()))
	}
}

// startupOf is the startup id of a window, or of the leader of its group: a program of
// one process and many windows has it there.
func (h *Host) startupOf(f facts) string {
	if f.Startup != "" || f.Group == 0 {
		return f.Startup
	}
	return h.text(h.ask(f.Group, h.atoms[aStartupID], textUnits))
}
