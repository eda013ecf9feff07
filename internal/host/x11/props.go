package x11

import (
	"cmp"
	"slices"

	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// The most that is read of a property from another client, in units of 4 bytes.
const (
	textUnits = display.TextUnits
	listUnits = display.ListUnits
)

func (h *Host) ask(win xproto.Window, a xproto.Atom, units uint32) xproto.GetPropertyCookie {
	return xproto.GetProperty(h.conn, false, win, a, xproto.GetPropertyTypeAny, 0, units)
}

func (h *Host) text(ck xproto.GetPropertyCookie) string {
	return display.Text(ck, h.atoms[aCompoundText])
}

func (h *Host) change(win xproto.Window, a atom, kind xproto.Atom, format byte, data []byte) {
	if win == h.root || win == h.check || h.byXID[win] != nil && slices.Contains(clientWritten, a) {
		h.wrote[property{win, h.atoms[a]}]++
	}
	xproto.ChangeProperty(h.conn, xproto.PropModeReplace, win, h.atoms[a], kind, format, uint32(len(data)/int(format/8)), data)
}

func (h *Host) setCards(win xproto.Window, a atom, values ...uint32) {
	h.change(win, a, xproto.AtomCardinal, 32, display.Pack(values))
}

func (h *Host) setAtoms(win xproto.Window, a atom, values []uint32) {
	h.change(win, a, xproto.AtomAtom, 32, display.Pack(values))
}

func (h *Host) setWindows(win xproto.Window, a atom, windows ...xproto.Window) {
	v := make([]uint32, len(windows))
	for i, w := range windows {
		v[i] = uint32(w)
	}
	h.change(win, a, xproto.AtomWindow, 32, display.Pack(v))
}

func (h *Host) setText(win xproto.Window, a atom, s string) {
	h.change(win, a, h.atoms[aUTF8], 8, []byte(s))
}

// ofGroup is the window that a dialog of a whole group belongs to (ICCCM 4.1.2.4,
// 4.1.11): the one of its group that had the focus last; 0 where it has none.
func (h *Host) ofGroup(c *client) int {
	best, used := 0, -1
	for id, o := range h.clients {
		if o == c || c.group == 0 || o.group != c.group || h.desk == nil {
			continue
		}
		if w := h.desk.Window(id); w != nil && w.Parent == 0 && (w.Used > used || w.Used == used && id < best) {
			best, used = id, w.Used
		}
	}
	return best
}

// readFacts reads what a window says of itself. ok is false where the window is
// gone.
func (h *Host) readFacts(c *client) (facts, bool) {
	f, _, ok := h.meet(c, false)
	return f, ok
}

// meet reads what a window says of itself, and with attributes those the server
// has of it.
func (h *Host) meet(c *client, attributes bool) (f facts, attr *xproto.GetWindowAttributesReply, ok bool) {
	m := h.greet(c.win, attributes)
	m.inquire()
	return m.listen()
}

// meeting is the reading of a window, in two goes: what there is, and then no more than
// that, since every question costs time. Many can be under way at once, so that one wait
// does for all of them.
type meeting struct {
	h     *Host
	win   xproto.Window
	geo   xproto.GetGeometryCookie
	list  xproto.ListPropertiesCookie
	attrs *xproto.GetWindowAttributesCookie // nil where they are not asked for
	owner *res.QueryClientIdsCookie         // as well

	attr  *xproto.GetWindowAttributesReply
	facts facts
	there bool
	read  func() // takes in the properties that were asked for
}

// greet asks what there is.
func (h *Host) greet(win xproto.Window, attributes bool) *meeting {
	m := &meeting{h: h, win: win, geo: xproto.GetGeometry(h.conn, xproto.Drawable(win)), list: xproto.ListProperties(h.conn, win)}
	if attributes {
		attrs := xproto.GetWindowAttributes(h.conn, win)
		m.attrs = &attrs
		if h.knowsPIDs {
			owner := askPID(h.conn, win)
			m.owner = &owner
		}
	}
	return m
}

// inquire waits for that, and asks for the properties that matter.
func (m *meeting) inquire() {
	m.facts = facts{Facts: display.Facts{Desktop: -1, UserTime: -1}}
	g, err := m.geo.Reply()
	properties, err2 := m.list.Reply()
	if m.attrs != nil {
		m.attr, _ = m.attrs.Reply()
	}
	if m.owner != nil {
		m.facts.PID = pidFrom(*m.owner)
	}
	if m.there = err == nil && err2 == nil; !m.there {
		return
	}
	border := int(g.BorderWidth)
	m.facts.border, m.facts.depth = border, g.Depth
	m.facts.rect = geom.R(int(g.X), int(g.Y), int(g.Width)+2*border, int(g.Height)+2*border)
	m.read = m.h.askProperties(m.win, properties.Atoms, &m.facts)
}

// listen waits for these; ok is false where the window is gone.
func (m *meeting) listen() (f facts, attr *xproto.GetWindowAttributesReply, ok bool) {
	if m.there {
		m.read()
	}
	return m.facts, m.attr, m.there
}

// facts are what a window says of itself, and what the server has of it.
type facts struct {
	display.Facts
	rect   geom.Rect // outer, with its own border
	border int
	depth  byte
	mark   []uint32
	state  netState
}

// askProperties asks for those of the properties there are that matter; read waits for
// them, and takes them into the facts.
func (h *Host) askProperties(win xproto.Window, there []xproto.Atom, f *facts) (read func()) {
	own := h.reader.Ask(win, there)
	var mark *xproto.GetPropertyCookie
	if slices.Contains(there, h.atoms[aMark]) {
		ck := h.ask(win, h.atoms[aMark], listUnits)
		mark = &ck
	}
	return func() {
		pid := f.PID
		f.Facts = own()
		f.PID = cmp.Or(f.PID, pid)
		f.state = h.readNetState(f.States)
		if mark != nil {
			f.mark = display.Cards(*mark)
		}
	}
}

// kind is what the first known type says the window is.
func (h *Host) kind(types []string, transient bool) atom {
	for _, t := range types {
		for _, a := range []atom{aTypeDesktop, aTypeDock, aTypeDialog, aTypeUtility, aTypeToolbar, aTypeMenu, aTypeSplash, aTypeNormal, aTypeDropdown, aTypePopup, aTypeTooltip, aTypeNotification, aTypeCombo, aTypeDND} {
			if t == atomNames[a] {
				return a
			}
		}
	}
	if transient {
		return aTypeDialog
	}
	return aTypeNormal
}

// passing are the types of windows that come and go with what is done elsewhere, and
// take no focus.
var passing = []atom{aTypeMenu, aTypeSplash, aTypeDropdown, aTypePopup, aTypeTooltip, aTypeNotification, aTypeCombo, aTypeDND}

// describe writes a window's facts into what the core knows of it. Its place
// and states are left alone.
func (h *Host) describe(c *client, f facts, w *desk.Window) {
	c.shadow, c.plain, c.depth, c.gravity, c.colormaps = f.Shadow, f.Plain, f.depth, max(f.Size.Gravity, xproto.GravityNorthWest), f.Colormaps
	wide, high := h.around(c)
	w.Title, w.App, w.Class = desk.CleanText(f.Title, desk.MaxTitle), desk.CleanText(f.App, desk.MaxApp), ""
	if h.opt.NameApp != nil && w.App != "" {
		if name := h.opt.NameApp(w.App, desk.CleanText(f.Instance, desk.MaxApp)); name != w.App {
			w.App, w.Class = name, w.App
		}
	}
	w.Role = desk.CleanText(f.Role, desk.MaxApp)
	w.PID = f.PID
	kind := h.kind(f.Types, f.IsTransient)
	w.Kind = display.Kinds[atomNames[kind]]
	w.Fixed = f.Size.Fixed
	w.MinW, w.MinH = 0, 0
	if f.Size.MinW > 0 && f.Size.MinH > 0 {
		w.MinW, w.MinH = max(f.Size.MinW+wide, 1), max(f.Size.MinH+high, 1)
	}
	w.Sizes = f.Size.Outer(wide, high)
	w.NoFocus = f.NoInput && !f.TakesFocus || slices.Contains(passing, kind)
	w.Parent = 0
	c.group = f.Group
	switch p := h.byXID[f.Transient]; {
	case p != nil && p != c:
		w.Parent = p.id
	case f.IsTransient && p == nil:
		w.Parent = h.ofGroup(c)
	}
	c.takesFocus, c.deletes, c.noInput, c.pings = f.TakesFocus, f.Deletes, f.NoInput, f.Pings
}
