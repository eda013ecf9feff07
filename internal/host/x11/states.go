package x11

import (
	"os"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
)

// netState is what _NET_WM_STATE of a window says (EWMH 1.5).
type netState struct {
	hidden, sticky, above, below, fullscreen, urgent, wide, high bool
	modal, noTaskbar, noPager, focused                           bool
}

// parts pairs the parts of a netState with their atoms.
func (s *netState) parts() []struct {
	on *bool
	a  atom
} {
	return []struct {
		on *bool
		a  atom
	}{
		{&s.hidden, aStateHidden}, {&s.sticky, aStateSticky}, {&s.above, aStateAbove}, {&s.below, aStateBelow},
		{&s.fullscreen, aStateFullscreen}, {&s.urgent, aStateDemands}, {&s.wide, aStateMaxH}, {&s.high, aStateMaxV},
		{&s.modal, aStateModal}, {&s.noTaskbar, aStateSkipTaskbar}, {&s.noPager, aStateSkipPager}, {&s.focused, aStateFocused},
	}
}

// writeNetState writes _NET_WM_STATE where it changed.
func (h *Host) writeNetState(c *client, w *desk.Placed) {
	s := netState{
		hidden: w.Minimised, sticky: w.Sticky, above: w.Above, below: w.Below, fullscreen: w.Fullscreen, urgent: w.Urgent,
		wide: w.Maximised || w.Wide, high: w.Maximised || w.Tall, focused: w.ID == h.desk.Focus,
		modal: c.skips.modal, noTaskbar: c.skips.noTaskbar, noPager: c.skips.noPager,
	}
	if c.told.written && c.netState == s {
		return
	}
	c.netState = s
	var values []uint32
	for _, p := range s.parts() {
		if *p.on {
			values = append(values, uint32(h.atoms[p.a]))
		}
	}
	h.setAtoms(c.win, aNetState, values)
}

// actions is what would be done if a program asked for it, by the atoms of allowable.
type actions uint16

// allowable are the atoms of _NET_WM_ALLOWED_ACTIONS that we know, in the order in
// which they are written.
var allowable = [...]atom{
	aActionMinimize, aActionStick, aActionFullscreen, aActionDesktop, aActionClose, aActionMove, aActionAbove, aActionBelow, aActionResize, aActionMaxH, aActionMaxV,
}

const (
	always   actions = 1<<5 - 1
	movable  actions = 1<<5 | 1<<6 | 1<<7
	sizable  actions = 1 << 8
	growable actions = 1<<9 | 1<<10
)

// writeActions writes _NET_WM_ALLOWED_ACTIONS where it changed.
func (h *Host) writeActions(c *client, w *desk.Placed) {
	can, fixed := always, c.desk.Fixed
	if !w.Tiled && !w.Fullscreen && !w.Maximised {
		can |= movable
		if !fixed {
			can |= sizable
		}
	}
	if !fixed {
		can |= growable
	}
	if can == c.actions {
		return
	}
	c.actions = can
	var values []uint32
	for i, a := range allowable {
		if can>>i&1 == 1 {
			values = append(values, uint32(h.atoms[a]))
		}
	}
	h.setAtoms(c.win, aAllowedActions, values)
}

// readNetState reads what a window asks for before it is mapped.
func (h *Host) readNetState(states []string) netState {
	var s netState
	for _, p := range s.parts() {
		*p.on = slices.Contains(states, atomNames[p.a])
	}
	return s
}

// wanted is the state that a window has, or will have by what was asked for and is
// not yet carried out.
func (c *client) wanted(w *desk.Window) netState {
	if c.asked != nil {
		return *c.asked
	}
	return netState{
		sticky: w.Sticky, above: w.Above, below: w.Below, urgent: w.Urgent, fullscreen: w.Fullscreen,
		wide: w.Maximised || w.Wide, high: w.Maximised || w.Tall, hidden: w.Minimised,
		modal: c.skips.modal, noTaskbar: c.skips.noTaskbar, noPager: c.skips.noPager,
	}
}

// What a _NET_WM_STATE message asks for.
const (
	stateRemove = 0
	stateAdd    = 1
	stateToggle = 2
)

// askedState obeys a _NET_WM_STATE message: remove, add or toggle up to two
// states, each as the requests before it have left it.
func (h *Host) askedState(c *client, data []uint32) {
	w := h.desk.Window(c.id)
	if w == nil || data[0] > stateToggle {
		return
	}
	was := c.wanted(w)
	s := was
	for i, asked := range data[1:3] {
		if i == 1 && asked == data[1] {
			continue // the same twice is once
		}
		for _, p := range s.parts() {
			if xproto.Atom(asked) == h.atoms[p.a] && asked != 0 {
				*p.on = data[0] == stateAdd || data[0] == stateToggle && !*p.on
			}
		}
	}
	h.askState(c, was, s)
}

// askState asks for what differs between two states of a window.
func (h *Host) askState(c *client, was, s netState) {
	c.asked = &s
	h.askers = append(h.askers, c)
	onOff := func(on bool) desk.Arg {
		return desk.Arg{Kind: desk.Keyword, Word: map[bool]string{true: "on", false: "off"}[on]}
	}
	axis := func(word string) desk.Arg { return desk.Arg{Kind: desk.Keyword, Word: word} }
	if s.fullscreen != was.fullscreen {
		h.commandOf("fullscreen", c.id, onOff(s.fullscreen))
	}
	switch {
	case s.wide != was.wide && s.high != was.high && s.wide == s.high:
		h.commandOf("maximise", c.id, onOff(s.wide))
	default:
		if s.wide != was.wide {
			h.commandOf("maximise", c.id, axis("across"), onOff(s.wide))
		}
		if s.high != was.high {
			h.commandOf("maximise", c.id, axis("down"), onOff(s.high))
		}
	}
	if s.sticky != was.sticky {
		h.commandOf("stick", c.id, onOff(s.sticky))
	}
	if s.above != was.above {
		h.commandOf("above", c.id, onOff(s.above))
	}
	if s.below != was.below {
		h.commandOf("below", c.id, onOff(s.below))
	}
	if s.hidden != was.hidden {
		// EWMH: hidden is the manager's to set; a request for it stands for none.
		s.hidden = was.hidden
		c.asked = &s
		h.askers = append(h.askers, c)
	}
	if s.urgent != was.urgent {
		h.emit(desk.Changed{ID: c.id, Change: func(w *desk.Window) { w.Urgent = s.urgent && w.ID != h.focused }})
	}
	if skips := (skips{s.modal, s.noTaskbar, s.noPager}); skips != c.skips {
		c.skips = skips
		h.emit(desk.Changed{ID: c.id, Change: func(w *desk.Window) { w.Modal = skips.modal }})
	}
}

// skips are the states that a window has by its own wish, and the manager keeps.
type skips struct{ modal, noTaskbar, noPager bool }

// hangAfter is how long a program that was asked to close a window may take to
// answer a ping before it is said to hang.
const hangAfter = 3 * time.Second

// ping asks the program of a window whether it is there (EWMH, _NET_WM_PING).
func (h *Host) ping(c *client, now xproto.Timestamp) {
	if !c.pings {
		return
	}
	h.send(c.win, c.win, h.atoms[aProtocols], 0, uint32(h.atoms[aPing]), uint32(now), uint32(c.win))
	if c.pinged.IsZero() {
		c.pinged = time.Now()
		h.pinged = append(h.pinged, c)
	}
	time.AfterFunc(hangAfter, h.queue.signal)
}

// pong takes an answer.
func (h *Host) pong(win xproto.Window) {
	if c := h.byXID[win]; c != nil {
		c.pinged = time.Time{}
		if c.hangs {
			c.hangs = false
			h.emit(desk.Hangs{ID: c.id})
		}
	}
}

// checkPings finds the programs that have not answered in time.
func (h *Host) checkPings() {
	h.pinged = slices.DeleteFunc(h.pinged, func(c *client) bool {
		switch {
		case c.pinged.IsZero(), h.clients[c.id] != c:
			return true
		case time.Since(c.pinged) < hangAfter:
			return false
		}
		c.hangs = true
		h.emit(desk.Hangs{ID: c.id, On: true})
		return true
	})
}

// Kill ends the clients of windows (XKillClient).
func (h *Host) Kill(ids []int) {
	for _, id := range ids {
		if c := h.clients[id]; c != nil {
			xproto.KillClient(h.conn, uint32(c.win))
		}
	}
}

// askPID asks the server for the process of a window's client (X-Resource 1.2).
func askPID(conn *xgb.Conn, win xproto.Window) res.QueryClientIdsCookie {
	const localPID = 2 // LocalClientPIDMask
	return res.QueryClientIds(conn, 1, []res.ClientIdSpec{{Client: uint32(win), Mask: localPID}})
}

// pidFrom is the answer; 0 where the server does not know.
func pidFrom(ck res.QueryClientIdsCookie) int {
	r, err := ck.Reply()
	if err != nil || len(r.Ids) == 0 || len(r.Ids[0].Value) == 0 {
		return 0
	}
	return int(r.Ids[0].Value[0])
}

// Ancestors are the ids of the processes above one, the nearest first.
func Ancestors(pid int) []int {
	var ids []int
	for range 16 {
		data, err := os.ReadFile("/proc/" + strconv.Itoa(pid) + "/stat")
		if err != nil || pid <= 1 {
			break
		}
		// The name, in brackets, may hold anything; the parent is the second word after it.
		fields := strings.Fields(string(data)[strings.LastIndexByte(string(data), ')')+1:])
		if len(fields) < 2 {
			break
		}
		if pid, err = strconv.Atoi(fields[1]); err != nil {
			break
		}
		ids = append(ids, pid)
	}
	return ids
}
