package x11

import (
	"fmt"
	"slices"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// Take gives what happened on the display since the last call.
func (h *Host) Take() ([]keeper.Event, error) {
	items, kept, closed := h.queue.take()
	defer h.queue.followed()
	for _, c := range h.askers {
		c.asked, c.placed = nil, geom.Rect{} // it is carried out by now
	}
	h.askers = h.askers[:0]
	if h.desk != nil {
		h.count = len(h.desk.Workspaces)
	}
	freed := h.queue.wasFreed()
	h.guard.Run("taking a key", func() { h.board.Turn(freed) })
	for _, it := range items {
		if it.err != nil {
			h.refused(it.err)
			continue
		}
		h.guard.Run(fmt.Sprintf("taking %T", it.event), func() { h.event(it.event) })
	}
	if h.unstacked && h.desk != nil {
		h.guard.Run("stacking anew", h.stackAnew)
	}
	h.guard.Run("following the display", func() {
		if h.drag.id != 0 {
			h.tellDrag(false)
		}
		h.putBack(kept)
		h.endTruces()
		h.drawn.Strip.Tick()
		h.followNext()
		h.board.Tick()
		h.atlas.tick()
		h.settled()
		if h.board != nil {
			h.board.Tell(h.status)
		}
		h.checkAwaited()
		h.checkPings()
		if h.desk != nil {
			h.checkUnsure()
		}
		h.checkReaches()
	})
	events := h.events
	h.events = nil
	if closed {
		h.over = keeper.ErrGone
	}
	return events, h.over
}

func (h *Host) event(e xgb.Event) {
	switch e := e.(type) {
	case xproto.MapRequestEvent:
		h.mapRequest(e.Window)
	case xproto.MapNotifyEvent:
		h.mappedItself(e)
	case xproto.UnmapNotifyEvent:
		h.unmapped(e)
	case xproto.DestroyNotifyEvent:
		h.destroyed(e.Window)
	case xproto.ReparentNotifyEvent:
		h.reparented(e)
	case xproto.ConfigureRequestEvent:
		h.configureRequest(e)
	case xproto.ConfigureNotifyEvent:
		h.configured(e)
	case xproto.PropertyNotifyEvent:
		h.property(e)
	case xproto.ClientMessageEvent:
		h.message(e)
	case xproto.KeyPressEvent:
		h.keyPress(e)
	case xproto.KeyReleaseEvent:
		h.board.KeyRelease(e)
	case xproto.ButtonPressEvent:
		switch one := h.drawn.Headings.At(e.Event); {
		case one != nil:
			h.pressHeading(one, e)
		case slices.Contains(h.lined, e.Event):
			h.pressLine(e)
		case e.Event == h.root:
			h.rootPress(e)
		default:
			h.press(e)
		}
	case xproto.EnterNotifyEvent:
		if !h.board.Entered(e.Event) {
			h.entered(e)
		}
	case xproto.LeaveNotifyEvent:
		h.board.Left(e)
	case xproto.MotionNotifyEvent:
		h.dragTo(e.RootX, e.RootY)
	case xproto.ButtonReleaseEvent:
		h.endDrag(e)
	case xproto.FocusInEvent:
		h.focusIn(e)
	case xproto.ExposeEvent:
		h.drawn.Strip.Draw()
		h.drawn.Card.Draw()
	case xproto.MappingNotifyEvent:
		h.stir(keyboardPart)
	case xproto.SelectionClearEvent:
		if e.Selection == h.selection {
			h.log.Info("another manager takes this display")
			h.yield()
		}
	}
}

// reparented follows a window that its client put into another window, out of our hands, or back
// on the root. There it is where the client said, without asking us.
func (h *Host) reparented(e xproto.ReparentNotifyEvent) {
	if e.Parent != h.root {
		h.destroyed(e.Window)
		return
	}
	if c := h.byXID[e.Window]; c != nil {
		h.placeAnew(c)
	}
}

// configured follows the root's size, and the place of a window of ours that asked to be left
// alone, whose requests do not come through us.
func (h *Host) configured(e xproto.ConfigureNotifyEvent) {
	if e.Window == h.root {
		h.stir(monitorsPart)
		return
	}
	c := h.byXID[e.Window]
	if c == nil || !e.OverrideRedirect {
		return
	}
	b := 2 * int(e.BorderWidth)
	if at := geom.R(int(e.X), int(e.Y), int(e.Width)+b, int(e.Height)+b); at != c.rect {
		h.placeAnew(c)
	}
}

// placeAnew has a window be given its place again.
func (h *Host) placeAnew(c *client) {
	c.rect = geom.Rect{}
	h.emit(desk.Changed{ID: c.id, Change: func(*desk.Window) {}})
}

// yield lets go of the display for the manager that took the selection.
func (h *Host) yield() {
	h.Stop()
	h.over = keeper.ErrReplaced
}

// press follows a click on a window that had no focus.
func (h *Host) press(e xproto.ButtonPressEvent) {
	h.input = e.Time
	if h.desktop[e.Event] {
		h.focusDesktop(e.Event, e.Time)
		return
	}
	if c := h.byXID[e.Event]; c != nil {
		if h.atlas.up {
			h.atlas.hide()
		}
		h.leaveDesktop()
		h.emit(desk.Activated{ID: c.id})
	}
}

// focusIn takes the focus back from where it must not be: a window that is not
// ours to focus now, or nowhere. Focus that comes and goes with a grab is none.
func (h *Host) focusIn(e xproto.FocusInEvent) {
	if e.Mode == xproto.NotifyModeGrab || e.Mode == xproto.NotifyModeUngrab {
		return
	}
	lost := e.Event == h.root && (e.Detail == xproto.NotifyDetailNone || e.Detail == xproto.NotifyDetailPointerRoot)
	c := h.byXID[e.Event]
	stolen := c != nil && c.id != h.focused && e.Detail != xproto.NotifyDetailPointer && e.Detail != xproto.NotifyDetailInferior
	if !lost && !stolen || h.desk == nil {
		return
	}
	if stolen && h.itsOwn(c) {
		h.emit(desk.Activated{ID: c.id})
		return
	}
	// What the server has now may be later than this event.
	r, err := xproto.GetInputFocus(h.conn).Reply()
	if err != nil {
		return
	}
	if now := h.byXID[r.Focus]; r.Focus == xproto.WindowNone || r.Focus == xproto.InputFocusPointerRoot || now != nil && now.id != h.focused {
		h.refocus()
	}
}

// refocus gives the X focus again to what should have it.
func (h *Host) refocus() {
	now := h.serverTime()
	if h.atlas.up {
		h.setFocus(h.atlas.win, now)
		return
	}
	h.focus(h.desk.Focus, now)
	if h.onDesktop {
		h.onDesktop = false
		h.paintBordersAgain()
	}
}

// message obeys a client message: those that _NET_SUPPORTED lists, and WM_CHANGE_STATE.
func (h *Host) message(e xproto.ClientMessageEvent) {
	if h.board.Message(e) || e.Format != 32 || h.desk == nil {
		return
	}
	data := e.Data.Data32
	c := h.byXID[e.Window]
	if timed := e.Type == h.atoms[aCurrentDesktop] || e.Type == h.atoms[aActiveWindow]; timed && data[1] != 0 {
		h.queue.latest.Store(&stamp{xproto.Timestamp(data[1]), time.Now()})
	}
	switch e.Type {
	case h.atoms[aCurrentDesktop]:
		h.command("go", desk.Arg{Kind: desk.Number, N: number(data[0])})
	case h.atoms[aNumberOfDesktops]:
		h.setCount(int(min(data[0], desk.MaxWorkspaces)))
	case h.atoms[aActiveWindow]:
		if c != nil {
			h.askedFocus(c, data)
		} else if h.desktop[e.Window] {
			h.focusDesktop(e.Window, xproto.Timestamp(data[1]))
		}
	case h.atoms[aWindowDesktop]:
		if c != nil {
			h.setDesktop(c, data[0])
		}
	case h.atoms[aCloseWindow]:
		if c != nil {
			h.commandOf("close", c.id)
		}
	case h.atoms[aChangeState]:
		if c != nil && data[0] == stateIconic {
			h.commandOf("minimise", c.id)
		}
	case h.atoms[aNetState]:
		if c != nil {
			h.askedState(c, data)
		}
	case h.atoms[aProtocols]:
		if e.Window == h.root && xproto.Atom(data[0]) == h.atoms[aPing] {
			h.pong(xproto.Window(data[2]))
		}
	case h.atoms[aMoveResizeWindow]:
		if c != nil {
			h.askedPlace(c, data)
		}
	case h.atoms[aMoveResize]:
		if c != nil {
			h.askedDrag(c, data)
		}
	case h.atoms[aRestackWindow]:
		if c != nil {
			h.askedStack(c, xproto.Window(data[1]), data[2])
		}
	case h.atoms[aFullscreenMonitors]:
		if c != nil {
			h.askedSpan(c, data)
		}
	case h.atoms[aShowingDesktop]:
		// What it sets, and no turn: what was asked for before may not be done yet.
		h.command("bare", desk.Arg{Kind: desk.Keyword, Word: map[bool]string{true: "on", false: "off"}[data[0] != 0]})
	case h.atoms[aRequestExtents]:
		if h.own(e.Window) {
			return
		}
		h.estimate(e.Window)
	}
}

// number is a workspace's number for a desktop's index of another program.
func number(index uint32) int { return int(min(index, 1_000_000)) + 1 }

func (h *Host) setDesktop(c *client, index uint32) {
	sticky := index == allDesktops
	if w := h.desk.Window(c.id); w != nil && c.wanted(w).sticky != sticky {
		was := c.wanted(w)
		s := was
		s.sticky = sticky
		h.askState(c, was, s)
	}
	if !sticky {
		h.commandOf("send", c.id, desk.Arg{Kind: desk.Number, N: number(index)})
	}
}

// setCount adds or removes workspaces at the end until there are n, counting
// those that messages before this one have asked for.
func (h *Host) setCount(n int) {
	for ; h.count < n; h.count++ {
		h.command("add")
	}
	for ; h.count > max(n, 1); h.count-- {
		h.command("remove", desk.Arg{Kind: desk.Keyword, Word: "last"})
	}
}

// command asks the keeper for what another program asked us.
func (h *Host) command(verb string, args ...desk.Arg) {
	h.events = append(h.events, keeper.Event{Command: &desk.Command{Verb: verb, Args: args}, Source: keeper.Program})
}

// commandOf is command about one window.
func (h *Host) commandOf(verb string, id int, args ...desk.Arg) {
	h.events = append(h.events, keeper.Event{
		Command: &desk.Command{Verb: verb, Args: args, Of: desk.ByID{ID: id}}, Source: keeper.Program,
	})
}
