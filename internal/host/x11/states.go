package x11

import (
	"os"
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
	hidden, sticky, above, fullscreen, urgent, wide, high bool
}

// stateAtoms pairs the parts of a netState with their atoms.
func (s *netState) parts() []struct {
	on *bool
	a  atom
} {
	return []struct {
		on *bool
		a  atom
	}{
		{&s.hidden, aStateHidden}, {&s.sticky, aStateSticky}, {&s.above, aStateAbove},
		{&s.fullscreen, aStateFullscreen}, {&s.urgent, aStateDemands}, {&s.wide, aStateMaxH}, {&s.high, aStateMaxV},
	}
}

// writeNetState writes _NET_WM_STATE where it changed.
func (h *Host) writeNetState(c *client, w desk.Placed) {
	s := netState{hidden: w.Minimised, sticky: w.Sticky, above: w.Above, fullscreen: w.Fullscreen, urgent: w.Urgent, wide: w.Maximised, high: w.Maximised}
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

// readNetState reads what a window asks for before it is mapped.
func (h *Host) readNetState(values []uint32) netState {
	var s netState
	for _, p := range s.parts() {
		for _, v := range values {
			*p.on = *p.on || xproto.Atom(v) == h.atoms[p.a]
		}
	}
	return s
}

// askedState obeys a _NET_WM_STATE message: remove, add or toggle up to two
// states.
func (h *Host) askedState(c *client, data []uint32) {
	w := h.desk.Window(c.id)
	if w == nil {
		return
	}
	s := netState{sticky: w.Sticky, above: w.Above, urgent: w.Urgent, fullscreen: w.Fullscreen, wide: w.Maximised, high: w.Maximised}
	was := s
	for _, asked := range data[1:3] {
		for _, p := range s.parts() {
			if xproto.Atom(asked) != h.atoms[p.a] || asked == 0 {
				continue
			}
			switch data[0] {
			case 0:
				*p.on = false
			case 1:
				*p.on = true
			case 2:
				*p.on = !*p.on
			}
		}
	}
	if s.fullscreen != was.fullscreen {
		h.commandOf("fullscreen", c.id)
	}
	// Both ways together are maximised; one of them alone is not known here.
	if s.wide != was.wide && s.high != was.high {
		h.commandOf("maximise", c.id)
	}
	if s.sticky != was.sticky {
		h.commandOf("stick", c.id)
	}
	if s.above != was.above {
		word := map[bool]string{true: "on", false: "off"}[s.above]
		h.commandOf("above", c.id, desk.Arg{Kind: desk.Keyword, Word: word})
	}
	if s.urgent != was.urgent {
		h.emit(desk.Changed{ID: c.id, Change: func(w *desk.Window) { w.Urgent = s.urgent && w.ID != h.focused }})
	}
}

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
	for _, c := range h.clients {
		if !c.pinged.IsZero() && time.Since(c.pinged) >= hangAfter && !c.hangs {
			c.hangs = true
			h.emit(desk.Hangs{ID: c.id, On: true})
		}
	}
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

// ancestors are the ids of the processes above one, the nearest first.
func ancestors(pid int) []int {
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
