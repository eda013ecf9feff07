package x11

import (
	"slices"

	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// The most that is read of a property from another client, in units of 4 bytes.
const (
	textUnits = 1024
	listUnits = 256
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

const (
	hintInput  = 1 << 0
	hintState  = 1 << 1
	hintGroup  = 1 << 6
	hintUrgent = 1 << 8
)

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
	m.facts = facts{userTime: -1, desktop: -1}
	g, err := m.geo.Reply()
	properties, err2 := m.list.Reply()
	if m.attrs != nil {
		m.attr, _ = m.attrs.Reply()
	}
	if m.owner != nil {
		m.facts.pid = pidFrom(*m.owner)
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

// reader is how one property of a window is read into its facts.
type reader struct {
	property xproto.Atom
	units    uint32
	read     func(ck xproto.GetPropertyCookie)
}

// askProperties asks for those of the properties there are that matter; read waits for
// them, and takes them into the facts.
func (h *Host) askProperties(win xproto.Window, there []xproto.Atom, f *facts) (read func()) {
	oldTitle := ""
	readers := []reader{
		{h.atoms[aNetName], textUnits, func(ck xproto.GetPropertyCookie) { f.title = h.text(ck) }},
		{xproto.AtomWmName, textUnits, func(ck xproto.GetPropertyCookie) { oldTitle = h.text(ck) }},
		{xproto.AtomWmClass, textUnits, func(ck xproto.GetPropertyCookie) { f.app, f.instance = display.ClassOf(h.text(ck)) }},
		{h.atoms[aRole], textUnits, func(ck xproto.GetPropertyCookie) { f.role = h.text(ck) }},
		{xproto.AtomWmNormalHints, listUnits, func(ck xproto.GetPropertyCookie) { f.size = display.ParseSizeHints(display.Cards(ck)) }},
		{xproto.AtomWmHints, listUnits, func(ck xproto.GetPropertyCookie) { f.hints(display.Cards(ck)) }},
		{xproto.AtomWmTransientFor, 1, func(ck xproto.GetPropertyCookie) {
			if v := display.Cards(ck); len(v) > 0 {
				f.transient, f.isTransient = xproto.Window(v[0]), true
			}
		}},
		{h.atoms[aProtocols], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, p := range display.Cards(ck) {
				f.takesFocus = f.takesFocus || xproto.Atom(p) == h.atoms[aTakeFocus]
				f.deletes = f.deletes || xproto.Atom(p) == h.atoms[aDeleteWindow]
				f.pings = f.pings || xproto.Atom(p) == h.atoms[aPing]
			}
		}},
		{h.atoms[aWindowType], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, t := range display.Cards(ck) {
				f.types = append(f.types, xproto.Atom(t))
			}
		}},
		{h.atoms[aNetPID], 1, func(ck xproto.GetPropertyCookie) {
			if v := display.Cards(ck); len(v) > 0 {
				f.pid = int(v[0])
			}
		}},
		{h.atoms[aStartupID], textUnits, func(ck xproto.GetPropertyCookie) { f.startup = h.text(ck) }},
		{h.atoms[aWindowDesktop], 1, func(ck xproto.GetPropertyCookie) {
			if v := display.Cards(ck); len(v) > 0 {
				f.desktop = int64(v[0])
			}
		}},
		{h.atoms[aUserTime], 1, func(ck xproto.GetPropertyCookie) {
			if v := display.Cards(ck); len(v) > 0 {
				f.userTime = int64(v[0])
			}
		}},
		{h.atoms[aStrut], 4, func(xproto.GetPropertyCookie) { f.struts = true }},
		{h.atoms[aStrutPartial], 12, func(xproto.GetPropertyCookie) { f.struts = true }},
		{h.atoms[aUserTimeWindow], 1, func(ck xproto.GetPropertyCookie) {
			if v := display.Cards(ck); len(v) > 0 {
				f.timeWindow = xproto.Window(v[0])
			}
		}},
		{h.atoms[aMotifHints], 5, func(ck xproto.GetPropertyCookie) { f.plain = display.Undecorated(display.Cards(ck)) }},
		{h.atoms[aColormapWindows], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, v := range display.Cards(ck) {
				f.colormaps = append(f.colormaps, xproto.Window(v))
			}
		}},
		{h.atoms[aShadow], 4, func(ck xproto.GetPropertyCookie) { f.shadow = display.ShadowFrom(display.Cards(ck)) }},
		{h.atoms[aMark], listUnits, func(ck xproto.GetPropertyCookie) { f.mark = display.Cards(ck) }},
		{h.atoms[aNetState], listUnits, func(ck xproto.GetPropertyCookie) { f.state = h.readNetState(display.Cards(ck)) }},
	}
	readers = slices.DeleteFunc(readers, func(r reader) bool { return !slices.Contains(there, r.property) })
	cookies := make([]xproto.GetPropertyCookie, len(readers))
	for i, r := range readers {
		cookies[i] = h.ask(win, r.property, r.units)
	}
	return func() {
		for i, r := range readers {
			r.read(cookies[i])
		}
		if f.title == "" {
			f.title = oldTitle
		}
	}
}

// hints reads WM_HINTS (ICCCM 4.1.2.4).
func (f *facts) hints(v []uint32) {
	if len(v) < 2 {
		return
	}
	f.noInput = v[0]&hintInput != 0 && v[1] == 0
	f.urgent = v[0]&hintUrgent != 0
	f.iconic = v[0]&hintState != 0 && len(v) > 2 && v[2] == stateIconic
	if v[0]&hintGroup != 0 && len(v) > 8 {
		f.group = xproto.Window(v[8])
	}
}

// facts are what a window says of itself.
type facts struct {
	title, app, role    string
	instance            string
	startup             string
	pid                 int
	rect                geom.Rect // outer, with its own border
	border              int
	size                display.SizeHints
	noInput, urgent     bool
	iconic              bool
	transient           xproto.Window
	isTransient         bool
	group               xproto.Window // the leader of its group, 0 for none
	takesFocus, deletes bool
	pings               bool
	state               netState
	types               []xproto.Atom
	desktop             int64 // -1 where it names none
	userTime            int64 // -1 where it names none
	mark                []uint32
	shadow              display.Shadow
	depth               byte
	struts              bool
	timeWindow          xproto.Window // 0 where it names none
	plain               bool          // it wants no border
	colormaps           []xproto.Window
}

// kind is what the first known type says the window is.
func (h *Host) kind(types []xproto.Atom, transient bool) atom {
	for _, t := range types {
		for _, a := range []atom{aTypeDesktop, aTypeDock, aTypeDialog, aTypeUtility, aTypeToolbar, aTypeMenu, aTypeSplash, aTypeNormal, aTypeDropdown, aTypePopup, aTypeTooltip, aTypeNotification, aTypeCombo, aTypeDND} {
			if t == h.atoms[a] {
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
	c.shadow, c.plain, c.depth, c.gravity, c.colormaps = f.shadow, f.plain, f.depth, max(f.size.Gravity, xproto.GravityNorthWest), f.colormaps
	wide, high := h.around(c)
	w.Title, w.App, w.Class = desk.CleanText(f.title, desk.MaxTitle), desk.CleanText(f.app, desk.MaxApp), ""
	if h.opt.NameApp != nil && w.App != "" {
		if name := h.opt.NameApp(w.App, desk.CleanText(f.instance, desk.MaxApp)); name != w.App {
			w.App, w.Class = name, w.App
		}
	}
	w.Role = desk.CleanText(f.role, desk.MaxApp)
	w.PID = f.pid
	kind := h.kind(f.types, f.isTransient)
	w.Kind = display.Kinds[atomNames[kind]]
	w.Fixed = f.size.Fixed
	w.MinW, w.MinH = 0, 0
	if f.size.MinW > 0 && f.size.MinH > 0 {
		w.MinW, w.MinH = max(f.size.MinW+wide, 1), max(f.size.MinH+high, 1)
	}
	w.Sizes = f.size.Outer(wide, high)
	w.NoFocus = f.noInput && !f.takesFocus || slices.Contains(passing, kind)
	w.Parent = 0
	c.group = f.group
	switch p := h.byXID[f.transient]; {
	case p != nil && p != c:
		w.Parent = p.id
	case f.isTransient && p == nil:
		w.Parent = h.ofGroup(c)
	}
	c.takesFocus, c.deletes, c.noInput, c.pings = f.takesFocus, f.deletes, f.noInput, f.pings
}
