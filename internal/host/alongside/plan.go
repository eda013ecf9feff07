package alongside

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// The phases in which a wish is asked for.
const (
	roomPhase  = iota // workspaces that are to be there
	freePhase         // windows that are to be moved cease to cover more than their place
	sendPhase         // windows go to their workspaces
	placePhase        // and to their places
	statePhase        // and get their states
	viewPhase         // what is shown, what has the focus, and workspaces that are to go
	phaseCount
)

// allWorkspaces is the workspace of windows that are on all of them (EWMH, _NET_WM_DESKTOP).
const allWorkspaces = 0xffffffff

// pager is the source indication of what a person asks for by another program (EWMH).
const pager = 2

// plan is what a wish is asked for by: what it differs from the desk it is of, and nothing
// besides.
func (h *Host) plan(r *request) [][]*want {
	phases := make([][]*want, phaseCount)
	add := func(phase int, ws ...*want) { phases[phase] = append(phases[phase], ws...) }
	if x := r.wish; x.To != nil {
		h.planWorkspaces(x, add)
		for _, id := range x.Touched() {
			if c := h.byID[id]; c != nil && x.From.Window(id) != nil {
				h.planWindow(c, x, add)
			}
		}
		h.planView(x, add)
	}
	h.planEffect(r.result, add)
	return phases
}

// planWorkspaces asks for the number of workspaces and for their names.
func (h *Host) planWorkspaces(x desk.Wish, add func(int, ...*want)) {
	from, to := len(x.From.Workspaces), len(x.To.Workspaces)
	if to != from {
		phase, words := roomPhase, fmt.Sprintf("The desktop's manager keeps %s.", desk.Counted(from, "workspace"))
		done := func() bool { return h.top.count >= to }
		if to < from {
			phase, done = viewPhase, func() bool { return h.top.count <= to }
		}
		add(phase, &want{ask: func() { h.message(h.root, "_NET_NUMBER_OF_DESKTOPS", uint32(to)) }, done: done, refuse: words})
	}
	names := h.namesBy(x)
	if !x.Reorders() || slices.Equal(trimmed(names), trimmed(h.top.names)) {
		return
	}
	add(sendPhase, &want{
		ask:    func() { h.writeNames(names) },
		done:   func() bool { return slices.Equal(trimmed(h.top.names), trimmed(names)) },
		refuse: "The names of the workspaces did not stay.",
	})
}

// namesBy are the names of workspaces as a wish has them: those that stay, as they are
// written, in their new order.
func (h *Host) namesBy(x desk.Wish) []string {
	names := make([]string, len(x.To.Workspaces))
	for i, ws := range x.To.Workspaces {
		names[i] = ws.Name
		if j := x.From.Index(ws.ID); j >= 0 && j < len(h.top.names) && x.From.Workspaces[j].Name == ws.Name {
			names[i] = h.top.names[j]
		}
	}
	return names
}

// trimmed are names without those at the end that are empty.
func trimmed(names []string) []string {
	for len(names) > 0 && names[len(names)-1] == "" {
		names = names[:len(names)-1]
	}
	return names
}

func (h *Host) writeNames(names []string) {
	text := ""
	if len(names) > 0 {
		text = strings.Join(names, "\x00") + "\x00"
	}
	xproto.ChangeProperty(h.conn, xproto.PropModeReplace, h.root, h.atoms["_NET_DESKTOP_NAMES"], h.atoms["UTF8_STRING"], 8, uint32(len(text)), []byte(text))
}

// planWindow asks for what a wish has a window be.
func (h *Host) planWindow(c *client, x desk.Wish, add func(int, ...*want)) {
	was, w := x.From.Window(c.id), x.To.Window(c.id)
	name := was.Name()
	if c.App != "" && was.Title == "" {
		name = was.Label()
	}
	is, to := desk.StandingOf(was), desk.StandingOf(w)
	i := x.To.Index(w.Workspace)
	if w.Sticky {
		i = -1
	}
	if before := x.From.Index(was.Workspace); i != before || w.Sticky != was.Sticky {
		at := uint32(allWorkspaces)
		if i >= 0 {
			at = uint32(i)
		}
		refuse := fmt.Sprintf("The desktop's manager left %s on its workspace.", name)
		add(sendPhase, &want{c: c, ask: func() { h.message(c.win, "_NET_WM_DESKTOP", at, pager) }, done: func() bool { return c.at == i }, refuse: refuse})
	}
	if is.Minimised && !to.Minimised {
		add(freePhase, h.restoring(c, name))
	}
	moves := w.Rect != was.Rect && !slices.Contains([]string{"maximise", "fullscreen"}, x.Command.Verb)
	covers := to.Maximised || to.Fullscreen || to.Wide || to.Tall
	covered := is.Maximised || is.Fullscreen || is.Wide || is.Tall
	place := w.Rect
	if covers { // the place that it has when it covers no more than that
		place = w.Floated
		moves = moves && w.Monitor != was.Monitor && !place.Empty()
	}
	if moves && covered {
		h.planStates(c, is, desk.Standing{Above: is.Above, Below: is.Below}, name, freePhase, add)
		is.Maximised, is.Fullscreen, is.Wide, is.Tall = false, false, false, false
	}
	if moves {
		add(placePhase, h.placing(c, place, w, name))
	}
	h.planStates(c, is, to, name, statePhase, add)
	if to.Minimised && !is.Minimised {
		refuse := fmt.Sprintf("The desktop's manager did not minimise %s.", name)
		const iconic = 3
		add(statePhase, &want{c: c, ask: func() { h.message(c.win, "WM_CHANGE_STATE", iconic) }, done: c.isHidden(true), refuse: refuse})
	}
}

func (c *client) isHidden(on bool) func() bool { return func() bool { return c.hidden() == on } }

// restoring brings a minimised window back. On the shown workspace it is given the focus;
// elsewhere it is mapped, which its manager hears (ICCCM 4.1.4).
func (h *Host) restoring(c *client, name string) *want {
	w := &want{c: c, done: c.isHidden(false), refuse: fmt.Sprintf("The desktop's manager left %s minimised.", name)}
	byFocus := h.restoredByFocus(c)
	w.ask = func() {
		if byFocus {
			h.activate(c)
		} else {
			xproto.MapWindow(h.conn, c.win)
		}
	}
	return w
}

func (h *Host) restoredByFocus(c *client) bool { return c.at < 0 || c.at == h.top.current }

// planStates asks for states of a window (EWMH, _NET_WM_STATE).
func (h *Host) planStates(c *client, is, to desk.Standing, name string, phase int, add func(int, ...*want)) {
	wide, tall := is.Maximised || is.Wide, is.Maximised || is.Tall
	toWide, toTall := to.Maximised || to.Wide, to.Maximised || to.Tall
	both := func(on bool, verb string) {
		a, b := "_NET_WM_STATE_MAXIMIZED_HORZ", ""
		switch {
		case wide != toWide && wide == !on && tall != toTall && tall == !on:
			b = "_NET_WM_STATE_MAXIMIZED_VERT"
		case wide != toWide && wide == !on:
		case tall != toTall && tall == !on:
			a = "_NET_WM_STATE_MAXIMIZED_VERT"
		default:
			return
		}
		add(phase, h.stating(c, on, a, b, fmt.Sprintf("The desktop's manager did not %s %s.", verb, name)))
	}
	one := func(is, to bool, state, verb string) {
		if is != to {
			word := "did not"
			if !to {
				word, verb = "left", "as it was"
				add(phase, h.stating(c, to, state, "", fmt.Sprintf("The desktop's manager %s %s %s.", word, name, verb)))
				return
			}
			add(phase, h.stating(c, to, state, "", fmt.Sprintf("The desktop's manager %s %s %s.", word, verb, name)))
		}
	}
	both(false, "give back the place of")
	one(is.Fullscreen, to.Fullscreen, "_NET_WM_STATE_FULLSCREEN", "make fullscreen")
	both(true, "maximise")
	one(is.Above, to.Above, "_NET_WM_STATE_ABOVE", "keep above")
	one(is.Below, to.Below, "_NET_WM_STATE_BELOW", "keep below")
}

func (h *Host) stating(c *client, on bool, a, b, refuse string) *want {
	action := uint32(0)
	if on {
		action = 1
	}
	second := uint32(0)
	if b != "" {
		second = uint32(h.atoms[b])
	}
	return &want{
		c: c, refuse: refuse,
		ask:  func() { h.message(c.win, "_NET_WM_STATE", action, uint32(h.atoms[a]), second, pager) },
		done: func() bool { return c.states[a] == on && (b == "" || c.states[b] == on) },
	}
}

// placing asks for the place of a window's frame. Managers differ in what a place is of: by
// how much one is off, this one is asked again, and is asked so from then on.
func (h *Host) placing(c *client, r geom.Rect, w *desk.Window, name string) *want {
	tried := false
	p := &want{c: c, refuse: fmt.Sprintf("The desktop's manager left %s where it was.", name)}
	from := c.rect
	var asked time.Time
	p.ask = func() { from, asked, c.wanted = c.rect, time.Now(), p; h.place(c, r) }
	p.done = func() bool {
		if !asked.IsZero() && c.strayed.After(asked) {
			p.note = "Where it lies now shows when its workspace does."
			return true
		}
		return c.rect.X == r.X && c.rect.Y == r.Y && fits(c.rect, r, w)
	}
	p.again = func() bool {
		err := geom.Point{X: c.rect.X - r.X, Y: c.rect.Y - r.Y}
		if c.rect == from || tried || max(err.X, -err.X) > maxExtent || max(err.Y, -err.Y) > maxExtent || err == (geom.Point{}) {
			if c.rect != from {
				p.refuse = fmt.Sprintf("The desktop's manager put %s at %d,%d, %d×%d.", name, c.rect.X, c.rect.Y, c.rect.W, c.rect.H)
			}
			return false
		}
		tried = true
		h.offset.X, h.offset.Y = h.offset.X-err.X, h.offset.Y-err.Y
		h.place(c, r)
		c.since = time.Time{}
		return true
	}
	return p
}

// fits tells whether a window got the size that was asked for, as far as it takes it: one
// that grows by steps is less than one smaller.
func fits(got, asked geom.Rect, w *desk.Window) bool {
	one := func(got, asked, step, least int) bool {
		return got == asked || got < asked && asked-got < max(step, 1) || got > asked && got <= least
	}
	return one(got.W, asked.W, w.Sizes.IncW, w.MinW) && one(got.H, asked.H, w.Sizes.IncH, w.MinH)
}

// place asks for a frame to be at a place, by the request that the manager lists. Without one it
// asks as a client does: the server hands that to the manager (ICCCM 4.1.5).
func (h *Host) place(c *client, r geom.Rect) {
	now := c.place()
	whole := c.Shadow.Whole(r)
	width, high := r.W-(now.W-c.inside.W), r.H-(now.H-c.inside.H)
	x, y := whole.X+h.offset.X, whole.Y+h.offset.Y
	width, high = max(width, 1), max(high, 1)
	if !h.supports("_NET_MOVERESIZE_WINDOW") {
		const place = xproto.ConfigWindowX | xproto.ConfigWindowY | xproto.ConfigWindowWidth | xproto.ConfigWindowHeight
		xproto.ConfigureWindow(h.conn, c.win, place, []uint32{uint32(int32(x)), uint32(int32(y)), uint32(width), uint32(high)})
		return
	}
	const flags = xproto.GravityNorthWest | 0xf<<8 | pager<<12
	h.message(c.win, "_NET_MOVERESIZE_WINDOW", flags, uint32(int32(x)), uint32(int32(y)), uint32(width), uint32(high))
}

// planView asks for what is shown, what has the focus, and who is over whom.
func (h *Host) planView(x desk.Wish, add func(int, ...*want)) {
	from, to := x.From.Current(), x.To.Current()
	if x.From.Bare != x.To.Bare {
		on := uint32(0)
		if x.To.Bare {
			on = 1
		}
		add(viewPhase, &want{
			ask:    func() { h.message(h.root, "_NET_SHOWING_DESKTOP", on) },
			done:   func() bool { return h.top.bare == x.To.Bare },
			refuse: "The desktop's manager did not show the bare desktop.",
		})
	}
	if from != to || x.Reorders() && h.top.current != to {
		add(viewPhase, &want{
			ask:    func() { h.message(h.root, "_NET_CURRENT_DESKTOP", uint32(to), 0) },
			done:   func() bool { return h.top.current == to },
			refuse: fmt.Sprintf("The desktop's manager stays on %s.", x.From.Title(from)),
		})
	}
	h.planFocus(x, add)
	for _, r := range x.Restacks() {
		if c := h.byID[r.ID]; c != nil {
			add(viewPhase, h.stackingWant(c, r, x.From.Window(r.ID)))
		}
	}
}

// planFocus asks for the focus where that is what the command is for: else it is the
// manager's to say who has it.
func (h *Host) planFocus(x desk.Wish, add func(int, ...*want)) {
	verb, c := x.Command.Verb, h.byID[x.To.Focus]
	elsewhere := x.From.At != x.To.At
	switch verb {
	case "focus", "jump", "open", "carry", "restore":
	case "go":
		if !elsewhere {
			return
		}
	default:
		return
	}
	if c == nil {
		if elsewhere && x.From.Focus != 0 && x.From.Current() == x.To.Current() {
			words := fmt.Sprintf("Nothing is open on %c, and the desktop's manager leaves the focus with a window.", x.To.At)
			add(viewPhase, &want{ask: func() {}, done: func() bool { return false }, refuse: words})
		}
		return
	}
	if x.From.Focus == x.To.Focus {
		return
	}
	refuse := fmt.Sprintf("The desktop's manager did not give %s the focus.", x.To.Window(c.id).Name())
	ask := func() { h.activate(c) }
	if was := x.From.Window(c.id); was != nil && was.Minimised && h.restoredByFocus(c) {
		ask = func() {} // it was asked for when it was brought back
	}
	add(viewPhase, &want{c: c, ask: ask, done: func() bool { return h.top.active == c.win }, refuse: refuse})
}

// activate asks for the focus for a window (EWMH, _NET_ACTIVE_WINDOW).
func (h *Host) activate(c *client) {
	h.message(c.win, "_NET_ACTIVE_WINDOW", pager, xproto.TimeCurrentTime, uint32(h.top.active))
}

// stackingWant asks for a window to be on top of the others of its sheet, or right under one
// of them.
func (h *Host) stackingWant(c *client, r desk.Restack, w *desk.Window) *want {
	mode, sibling := uint32(xproto.StackModeAbove), xproto.Window(0)
	if o := h.byID[r.Under]; o != nil {
		mode, sibling = xproto.StackModeBelow, o.win
	}
	return &want{
		c: c, refuse: fmt.Sprintf("The desktop's manager left %s where it was in the stack.", w.Name()),
		ask: func() {
			switch {
			case h.supports("_NET_RESTACK_WINDOW"):
				h.message(c.win, "_NET_RESTACK_WINDOW", pager, uint32(sibling), mode)
			case sibling != 0:
				// They are no siblings for the server, each in a frame of its own: the
				// manager is told as ICCCM 4.1.5 says.
				e := xproto.ConfigureRequestEvent{StackMode: byte(mode), Parent: h.root, Window: c.win, Sibling: sibling, ValueMask: xproto.ConfigWindowSibling | xproto.ConfigWindowStackMode}
				const mask = xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify
				xproto.SendEvent(h.conn, false, h.root, mask, string(e.Bytes()))
			default:
				xproto.ConfigureWindow(h.conn, c.win, xproto.ConfigWindowStackMode, []uint32{mode})
			}
		},
		done: func() bool { return h.aboveIn(c) == sibling },
	}
}

// aboveIn is the window of the same workspace right above one in the stacking order; 0 for
// none.
func (h *Host) aboveIn(c *client) xproto.Window {
	at := slices.Index(h.top.stacking, c.win)
	for _, win := range h.top.stacking[at+1:] {
		if o := h.clients[win]; o != nil && o.at == c.at && !o.hidden() && o.layer() == c.layer() {
			return win
		}
	}
	return 0
}

// layer is that which managers keep a window in, whatever the order (EWMH, _NET_WM_STATE).
func (c *client) layer() string {
	for _, state := range []string{"_NET_WM_STATE_FULLSCREEN", "_NET_WM_STATE_ABOVE", "_NET_WM_STATE_BELOW"} {
		if c.states[state] {
			return state
		}
	}
	return ""
}

// planEffect closes windows, or ends their programs.
func (h *Host) planEffect(r desk.Result, add func(int, ...*want)) {
	for _, id := range r.Windows {
		c := h.byID[id]
		if c == nil {
			continue
		}
		asked := false
		once := func() bool { return asked } // whether it closes is its program's to say
		switch r.Effect {
		case desk.CloseWindows:
			add(viewPhase, &want{ask: func() { h.close(c); asked = true }, done: once})
		case desk.KillWindows:
			gone := func() bool { return h.clients[c.win] != c }
			refuse := fmt.Sprintf("The program of %s did not end.", c.desk.Name())
			add(viewPhase, &want{ask: func() { xproto.KillClient(h.conn, uint32(c.win)) }, done: gone, refuse: refuse})
		}
	}
}

// close asks for a window to be closed: its manager, else its program (ICCCM 4.2.8.1).
func (h *Host) close(c *client) {
	if h.supports("_NET_CLOSE_WINDOW") {
		h.message(c.win, "_NET_CLOSE_WINDOW", xproto.TimeCurrentTime, pager)
		return
	}
	if c.Deletes {
		data := xproto.ClientMessageDataUnionData32New([]uint32{uint32(h.atoms["WM_DELETE_WINDOW"]), xproto.TimeCurrentTime, 0, 0, 0})
		e := xproto.ClientMessageEvent{Format: 32, Window: c.win, Type: h.atoms["WM_PROTOCOLS"], Data: data}
		xproto.SendEvent(h.conn, false, c.win, 0, string(e.Bytes()))
	}
}

// message asks the manager for something about a window (EWMH, 1.3.5).
func (h *Host) message(about xproto.Window, kind string, data ...uint32) {
	var d [5]uint32
	copy(d[:], data)
	e := xproto.ClientMessageEvent{Format: 32, Window: about, Type: h.atoms[kind], Data: xproto.ClientMessageDataUnionData32New(d[:])}
	const mask = xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify
	xproto.SendEvent(h.conn, false, h.root, mask, string(e.Bytes()))
}
