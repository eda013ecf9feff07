package x11

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/paint"
)

// shown is a client, and what a picture says of its window.
type shown struct {
	*client
	as *desk.Placed
}

// Show carries out the difference between the display and the desk. New
// windows are mapped topmost first before old ones are unmapped lowest first,
// so that nothing of the root shows through; properties come after.
func (h *Host) Show(d *desk.Desk) {
	first := h.desk == nil
	h.desk = d
	if len(h.unsure) > 0 {
		h.queue.signal() // one of them may be seen now
	}
	h.takeRules(d)
	p := h.pictures.Of(d)
	changed, reordered := h.differing(p)
	if !maps.Equal(h.looks, h.laid) {
		h.laid, h.lined = h.looks, h.lines.Place(h.looks)
	}
	h.status.Show(d)
	// A desktop window keeps the focus until the desk means another window than before.
	h.onDesktop = h.onDesktop && h.wantedFocus(p) == h.insteadOf
	pointer := h.asksPointer()
	focusMoves := (h.wantedFocus(p) != h.focused || first) && !h.onDesktop
	for _, c := range slices.Backward(changed) {
		if c.as.Shown && c.mapped && c.as.Covers { // before it is raised, or what lies between would show
			h.place(c.client, c.as)
		}
	}
	h.restack(p, reordered)
	for _, c := range slices.Backward(changed) {
		h.place(c.client, c.as)
		if c.as.Shown && !c.mapped {
			h.writeState(c.client, c.as)
			xproto.MapWindow(h.conn, c.win)
			c.mapped = true
		}
	}
	if focusMoves {
		h.focus(h.wantedFocus(p), h.eventTime(h.wantedFocus(p)))
	}
	for _, c := range changed {
		if !c.as.Shown && c.mapped {
			c.unmaps++
			c.mapped = false
			xproto.UnmapWindow(h.conn, c.win)
		}
	}
	h.paintBorders(p.Focus, changed)
	h.showHeadings(d)
	for _, c := range changed {
		h.writeState(c.client, c.as)
	}
	h.writeRoot(d, p)
	h.atlas.place()
	h.markHere(d)
	h.memory.remember(d)
	h.tellUnseen(d)
	if first && !h.opt.Quiet {
		h.tellFirst(d)
	}
	// A command is answered when the server has all of it.
	r, err := xproto.GetInputFocus(h.conn).Reply()
	if focusMoves && err == nil && h.focusIsWrong(r.Focus) {
		h.focus(h.wantedFocus(p), h.serverTime())
	}
	h.focusMoved = focusMoves
	h.followNext()
	h.tellCamera(d, p)
	h.board.Show(d)
	h.notePointer(pointer)
	h.doubt = false
}

// tellCamera tells which windows are seen, for their pictures.
func (h *Host) tellCamera(d *desk.Desk, p desk.Picture) {
	if !h.opt.Camera.On() {
		return
	}
	seen := map[int]xproto.Window{}
	for _, w := range p.Windows {
		if w.Shown && h.clients[w.ID] != nil {
			seen[w.ID] = h.clients[w.ID].win
		}
	}
	h.opt.Camera.See(d, seen)
}

// tellFirst tells what was made of the windows that were here, and how to begin.
func (h *Host) tellFirst(d *desk.Desk) {
	long, begin := paint.StripTime, h.howToBegin()
	if begin != "" || h.opt.Amiss != "" {
		long = beginTime
	}
	h.drawn.Strip.ShowFor(long, joinSentences(h.opt.Amiss, d.Undo(), begin), d.Monitor(d.At).Work)
}

func joinSentences(all ...string) string {
	return strings.Join(strings.Fields(strings.Join(all, " ")), " ")
}

// beginTime is how long the words show that say how to begin: they are read once.
const beginTime = 10 * time.Second

// howToBegin names the chord that brings up the atlas, on a display that was never kept
// before; nothing on another.
func (h *Host) howToBegin() string {
	for _, c := range h.opt.Board.Chords {
		if h.unkept && c.Command == "atlas" && !slices.Contains(h.board.Taken(), c.Name) {
			return c.Name + " brings up the atlas."
		}
	}
	return ""
}

// takeRules takes in which windows other rules than before leave without a border.
func (h *Host) takeRules(d *desk.Desk) {
	now := d.Settings.Rules
	if len(now) == len(h.rules) && (len(now) == 0 || &now[0] == &h.rules[0]) {
		return
	}
	h.rules = now
	var others []*client
	for _, w := range d.Windows {
		c, no := h.clients[w.ID], d.Rule(w).NoBorder
		if c != nil && c.noBorder != no {
			c.noBorder = no
			others = append(others, c)
		}
	}
	h.describeAgain(others)
}

// differing lists the windows of a picture that may not be shown as it says. They differ from the
// picture before, have or had the focus, or a fact was told of them since. Reordered tells
// whether the order may be another.
func (h *Host) differing(p desk.Picture) (changed []shown, reordered bool) {
	was := h.pic
	reordered = h.doubt || len(p.Windows) != len(was.Windows)
	for i, w := range p.Windows {
		known := !h.doubt && i < len(was.Windows) && was.Windows[i].ID == w.ID
		reordered = reordered || !known
		if known && (was.Windows[i] == w || *was.Windows[i] == *w) && !h.touched[w.ID] && w.ID != p.Focus && w.ID != was.Focus {
			continue
		}
		if c := h.clients[w.ID]; c != nil {
			changed = append(changed, shown{c, w})
		}
	}
	h.pic, h.doubt = p, true // until it is carried out
	clear(h.touched)
	return changed, reordered
}

// markHere marks the monitor you are on where nothing there shows that: no window has the
// focus, and there is another monitor.
func (h *Host) markHere(d *desk.Desk) {
	m, i := d.Monitor(d.At), d.Index(d.Shown[d.At-'A'])
	several := len(h.plugged()) > 1
	if !several || d.Focus != 0 || d.Bare || i >= 0 && len(d.Order(i, d.At)) > 0 {
		h.drawn.Here.Hide()
		return
	}
	h.drawn.Here.Show(m.Work)
}

// tellUnseen says of windows that have just opened where they are, if that is out
// of sight: nobody would look there.
func (h *Host) tellUnseen(d *desk.Desk) {
	fresh := h.fresh
	h.fresh = nil
	for _, id := range fresh {
		w := d.Window(id)
		if w != nil && !d.Visible(w) && !w.Minimised && !d.Bare && !h.opt.Quiet {
			h.say(fmt.Sprintf("%s opened on %s.", w.Label(), d.Title(d.Index(w.Workspace))))
		}
	}
}

// wantedFocus is the window that should have the X focus; 0 for none. While
// the atlas window is up it keeps the focus.
func (h *Host) wantedFocus(p desk.Picture) int {
	if h.atlas.up {
		return h.focused
	}
	return p.Focus
}

// inner is the size inside the border: at least one pixel, at most what the
// protocol can say.
func inner(outer, border int) uint32 {
	return uint32(geom.Clamp(outer-2*border, 1, display.MaxSide))
}

// place gives a window its rectangle.
func (h *Host) place(c *client, w *desk.Placed) {
	r, width := c.shadow.Whole(w.Rect), h.borderOf(c)
	if w.Fullscreen {
		width = 0
	}
	if w.Fullscreen && w.Covers {
		r = h.spanned(c, w.Rect)
	}
	// A tile so small that its border would be larger than it has a narrower one.
	width = max(min(width, (min(r.W, r.H)-1)/2), 0)
	if c.rect == r && c.width == width {
		return
	}
	c.rect, c.width = r, width
	h.tellExtents(c, width)
	defer h.tellPlace(c)
	xproto.ConfigureWindow(h.conn, c.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowBorderWidth,
		[]uint32{paint.Coordinate(r.X), paint.Coordinate(r.Y), inner(r.W, width), inner(r.H, width), uint32(width)})
}

// restack brings the windows into the picture's order, docks over them, and over
// these the fullscreen window that has the focus, with what belongs to it. It moves
// windows only over windows of ours, so that menus stay on top.
// Where none of these has changed, the order of the windows counts only if it is reordered.
func (h *Host) restack(p desk.Picture, reordered bool) {
	over, docks := h.overDocks(p), slices.Concat(h.sortedDocks(), h.lined)
	var atlas []xproto.Window
	if h.atlas.up {
		atlas = append(atlas, h.atlas.win)
	}
	above := slices.Concat(docks, atlas)
	if !reordered && over == nil && !h.overs && slices.Equal(above, h.above) {
		return
	}
	h.overs, h.above = over != nil, above
	h.stack = h.stack[:0]
	order := make([]xproto.Window, 0, len(p.Windows)+len(above))
	var high []xproto.Window
	for _, w := range p.Windows {
		c := h.clients[w.ID]
		if c == nil {
			continue
		}
		h.stack = append(h.stack, c.id)
		if over[c.id] {
			high = append(high, c.win)
		} else {
			order = append(order, c.win)
		}
	}
	order = slices.Concat(order, docks, high, atlas)
	if slices.Equal(order, h.layers) {
		return
	}
	stays := desk.Staying(h.layers, order)
	h.layers, h.unlisted = order, true
	below := xproto.Window(0)
	for i, win := range order {
		if !stays[i] {
			h.putOver(win, below)
		}
		below = win
	}
	for win := range h.desktop {
		h.putOver(win, 0)
	}
}

// stackAnew stacks all windows after a request failed because a window it named had vanished.
// Everything above that one is at a wrong place, too.
func (h *Host) stackAnew() {
	h.unstacked, h.layers, h.unlisted = false, nil, true
	h.restack(h.pic, true)
}

// overDocks are the windows that stand over docks: the fullscreen one that has the
// focus, itself or by one of its dialogs, and these.
func (h *Host) overDocks(p desk.Picture) map[int]bool {
	full := h.desk.Window(p.Focus)
	for range 32 {
		if full == nil || full.Fullscreen {
			break
		}
		full = h.desk.Window(full.Parent)
	}
	if full == nil || !full.Fullscreen {
		return nil
	}
	over := map[int]bool{full.ID: true}
	for _, w := range p.Windows {
		over[w.ID] = over[w.ID] || h.desk.Ancestor(full.ID, w.ID)
	}
	return over
}

// putOver stacks a window directly over another, or at the very bottom for 0.
func (h *Host) putOver(win, below xproto.Window) {
	if below == 0 {
		xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeBelow})
		return
	}
	xproto.ConfigureWindow(h.conn, win, xproto.ConfigWindowSibling|xproto.ConfigWindowStackMode,
		[]uint32{uint32(below), xproto.StackModeAbove})
}

// focus gives the X focus to a window as ICCCM 4.1.7 says, or to our own window of no size. It
// is never None: grabbed keys would die.
func (h *Host) focus(id int, now xproto.Timestamp) {
	h.focused = id
	c := h.clients[id]
	if c == nil {
		h.focused = 0
		h.setFocus(h.nofocus, now)
		return
	}
	if len(c.colormaps) > 0 || c.depth != h.screen.RootDepth {
		h.installColormaps(c)
	}
	switch {
	case !c.noInput:
		h.setFocus(c.win, now)
	case !c.takesFocus:
		h.setFocus(h.nofocus, now)
	}
	if c.takesFocus {
		h.protocol(c.win, aTakeFocus, now)
	}
}

// focusIsWrong tells whether the X focus is on another window than the one it was given to,
// and on none of that client's own. That happens if our time was not the server's, or if
// another client got the focus at a later time.
func (h *Host) focusIsWrong(has xproto.Window) bool {
	c := h.clients[h.focused]
	if c == nil || c.noInput {
		return false // it is for the client to take
	}
	other := h.byXID[has]
	return has == h.nofocus || has <= xproto.InputFocusPointerRoot || other != nil && other != c
}

func (h *Host) setFocus(win xproto.Window, now xproto.Timestamp) {
	xproto.SetInputFocus(h.conn, xproto.InputFocusPointerRoot, win, now)
}

// paintBorders marks the focused window, and has a click on any other one
// focus it.
func (h *Host) paintBorders(focus int, all []shown) {
	if h.onDesktop {
		focus = 0
	}
	for _, c := range all {
		colour := h.opt.Colours.Other
		switch {
		case c.id == focus:
			colour = h.opt.Colours.Focused
		case c.as.Urgent:
			colour = h.opt.Colours.Urgent
		case !c.as.Tiled:
			colour = h.opt.Colours.Floating
		}
		if c.depth == 32 {
			colour |= 0xff000000 // its first byte is how much covers what is below
		} else {
			colour = h.paper.Pixel(colour)
		}
		if c.colour != colour {
			c.colour = colour
			xproto.ChangeWindowAttributes(h.conn, c.win, xproto.CwBorderPixel, []uint32{colour})
		}
		h.grabClick(c.client, c.id != focus || h.atlas.up)
	}
}

// paintBordersAgain does it after the atlas window has come or gone, or a desktop window has
// got the focus.
func (h *Host) paintBordersAgain() {
	h.paintBorders(h.pic.Focus, h.paired(h.pic))
}

// paired are all windows of a picture that have a client.
func (h *Host) paired(p desk.Picture) []shown {
	all := make([]shown, 0, len(p.Windows))
	for _, w := range p.Windows {
		if c := h.clients[w.ID]; c != nil {
			all = append(all, shown{c, w})
		}
	}
	return all
}

// grabClick catches the next press on a window, which the event reader lets
// through at once. The keyboard waits with the pointer: else a modifier pressed
// after the click would be told as held at the click.
func (h *Host) grabClick(c *client, grab bool) {
	switch {
	case grab == c.grabbed:
	case grab:
		xproto.GrabButton(h.conn, false, c.win, xproto.EventMaskButtonPress, xproto.GrabModeSync, xproto.GrabModeSync,
			xproto.WindowNone, xproto.CursorNone, xproto.ButtonIndexAny, xproto.ModMaskAny)
	default:
		xproto.UngrabButton(h.conn, xproto.ButtonIndexAny, c.win, xproto.ModMaskAny)
	}
	c.grabbed = grab
}

// allDesktops is the number of _NET_WM_DESKTOP for a sticky window (EWMH).
const allDesktops = 0xFFFFFFFF

// writeState writes WM_STATE and _NET_WM_DESKTOP where they changed. A window of a hidden
// workspace is unmapped and stays Normal. Programs take Iconic for minimised, and some then
// hide in a tray.
func (h *Host) writeState(c *client, w *desk.Placed) {
	t := toldState{written: true, state: stateNormal, desktop: uint32(w.Workspace)}
	if w.Minimised {
		t.state = stateIconic
	}
	if w.Sticky {
		t.desktop = allDesktops
	}
	h.writeNetState(c, w)
	h.writeActions(c, w)
	if c.told == t {
		return
	}
	if c.told.state != t.state || !c.told.written {
		h.change(c.win, aState, h.atoms[aState], 32, display.Pack([]uint32{t.state, 0}))
	}
	if c.told.desktop != t.desktop || !c.told.written {
		h.setCards(c.win, aWindowDesktop, t.desktop)
	}
	c.told = t
}

// showHeadings has the headings of piles and tabs show. Desktop-type windows stay under all.
func (h *Host) showHeadings(d *desk.Desk) {
	if h.drawn.Headings.Show(d) {
		for win := range h.desktop {
			h.putOver(win, 0)
		}
	}
}
