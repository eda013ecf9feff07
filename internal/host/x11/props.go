package x11

import (
	"cmp"
	"encoding/binary"
	"slices"
	"strings"

	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// The most that is read of a property from another client, in units of 4 bytes.
const (
	textUnits = 1024
	listUnits = 256
)

func (h *Host) ask(win xproto.Window, a xproto.Atom, units uint32) xproto.GetPropertyCookie {
	return xproto.GetProperty(h.conn, false, win, a, xproto.GetPropertyTypeAny, 0, units)
}

// cards are the 32-bit numbers of a property; nil where it is missing, of
// another format, or its window is gone.
func cards(ck xproto.GetPropertyCookie) []uint32 {
	r, err := ck.Reply()
	if err != nil || r == nil || r.Format != 32 {
		return nil
	}
	var v []uint32
	for b := r.Value; len(b) >= 4; b = b[4:] {
		v = append(v, binary.LittleEndian.Uint32(b))
	}
	return v
}

func (h *Host) text(ck xproto.GetPropertyCookie) string {
	r, err := ck.Reply()
	if err != nil || r == nil || r.Format != 8 {
		return ""
	}
	if r.Type == h.atoms[aCompoundText] {
		return compoundText(r.Value)
	}
	if r.Type != xproto.AtomString {
		return string(r.Value)
	}
	// STRING is Latin-1 (ICCCM 2.7.1).
	var b strings.Builder
	for _, c := range r.Value {
		b.WriteRune(rune(c))
	}
	return b.String()
}

func (h *Host) change(win xproto.Window, a atom, kind xproto.Atom, format byte, data []byte) {
	if win == h.root || win == h.check || h.byXID[win] != nil && slices.Contains(clientWritten, a) {
		h.wrote[property{win, h.atoms[a]}]++
	}
	xproto.ChangeProperty(h.conn, xproto.PropModeReplace, win, h.atoms[a], kind, format, uint32(len(data)/int(format/8)), data)
}

func pack(values []uint32) []byte {
	b := make([]byte, 0, 4*len(values))
	for _, v := range values {
		b = binary.LittleEndian.AppendUint32(b, v)
	}
	return b
}

func (h *Host) setCards(win xproto.Window, a atom, values ...uint32) {
	h.change(win, a, xproto.AtomCardinal, 32, pack(values))
}

func (h *Host) setAtoms(win xproto.Window, a atom, values []uint32) {
	h.change(win, a, xproto.AtomAtom, 32, pack(values))
}

func (h *Host) setWindows(win xproto.Window, a atom, windows ...xproto.Window) {
	v := make([]uint32, len(windows))
	for i, w := range windows {
		v[i] = uint32(w)
	}
	h.change(win, a, xproto.AtomWindow, 32, pack(v))
}

func (h *Host) setText(win xproto.Window, a atom, s string) {
	h.change(win, a, h.atoms[aUTF8], 8, []byte(s))
}

// sizeHints is the part of WM_NORMAL_HINTS that matters (ICCCM 4.1.2.3), in pixels.
type sizeHints struct {
	placed     bool // names its place
	byUser     bool // by the user's wish
	minW, minH int
	maxW, maxH int
	incW, incH int
	// baseW and baseH are those the window says; its minimum stands for them in
	// counting increments, but not in its aspect.
	baseW, baseH int
	least, most  [2]int // aspects
	gravity      int
	fixed        bool
}

const (
	hintUSPosition  = 1 << 0
	hintPPosition   = 1 << 2
	hintPMinSize    = 1 << 4
	hintPMaxSize    = 1 << 5
	hintPResizeInc  = 1 << 6
	hintPAspect     = 1 << 7
	hintPBaseSize   = 1 << 8
	hintPWinGravity = 1 << 9
)

func parseSizeHints(v []uint32) sizeHints {
	var s sizeHints
	if len(v) < 9 {
		return s
	}
	flags := v[0]
	at := func(i int) int {
		if i >= len(v) {
			return 0
		}
		return geom.Clamp(int(int32(v[i])), 0, maxSide)
	}
	if s.gravity = 1; flags&hintPWinGravity != 0 && len(v) > 17 && v[17] >= 1 && v[17] <= xproto.GravityStatic {
		s.gravity = int(v[17])
	}
	s.placed, s.byUser = flags&(hintUSPosition|hintPPosition) != 0, flags&hintUSPosition != 0
	switch {
	case flags&hintPMinSize != 0:
		s.minW, s.minH = at(5), at(6)
	case flags&hintPBaseSize != 0:
		s.minW, s.minH = at(15), at(16)
	}
	if flags&hintPMaxSize != 0 {
		s.maxW, s.maxH = at(7), at(8)
	}
	if flags&hintPResizeInc != 0 {
		s.incW, s.incH = at(9), at(10)
	}
	if flags&hintPAspect != 0 {
		s.least, s.most = [2]int{at(11), at(12)}, [2]int{at(13), at(14)}
	}
	if flags&hintPBaseSize != 0 {
		s.baseW, s.baseH = at(15), at(16)
	}
	if flags&hintPMinSize != 0 && flags&hintPMaxSize != 0 {
		s.fixed = at(5) > 0 && at(5) == at(7) && at(6) > 0 && at(6) == at(8)
	}
	return s
}

// outer are the hints as the core has them, of what is so much wider and higher
// than the inside.
func (s sizeHints) outer(wide, high int) desk.Sizes {
	var o desk.Sizes
	if s.maxW > 0 && s.maxH > 0 && (s.maxW < maxSide || s.maxH < maxSide) {
		o.MaxW, o.MaxH = max(s.maxW+wide, 1), max(s.maxH+high, 1)
	}
	if s.incW > 1 || s.incH > 1 {
		o.IncW, o.IncH = s.incW, s.incH
		o.BaseW, o.BaseH = max(s.baseW+wide, 0), max(s.baseH+high, 0)
		if s.baseW == 0 && s.baseH == 0 {
			o.BaseW, o.BaseH = max(s.minW+wide, 0), max(s.minH+high, 0)
		}
	}
	if s.least[1] > 0 && s.most[1] > 0 {
		o.Least, o.Most, o.Frame = s.least, s.most, max(wide, 0)
	}
	return o
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

// maxSide is the longest side of a window, by the protocol.
const maxSide = 32767

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
		{xproto.AtomWmClass, textUnits, func(ck xproto.GetPropertyCookie) { f.app, f.instance = classOf(h.text(ck)) }},
		{h.atoms[aRole], textUnits, func(ck xproto.GetPropertyCookie) { f.role = h.text(ck) }},
		{xproto.AtomWmNormalHints, listUnits, func(ck xproto.GetPropertyCookie) { f.size = parseSizeHints(cards(ck)) }},
		{xproto.AtomWmHints, listUnits, func(ck xproto.GetPropertyCookie) { f.hints(cards(ck)) }},
		{xproto.AtomWmTransientFor, 1, func(ck xproto.GetPropertyCookie) {
			if v := cards(ck); len(v) > 0 {
				f.transient, f.isTransient = xproto.Window(v[0]), true
			}
		}},
		{h.atoms[aProtocols], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, p := range cards(ck) {
				f.takesFocus = f.takesFocus || xproto.Atom(p) == h.atoms[aTakeFocus]
				f.deletes = f.deletes || xproto.Atom(p) == h.atoms[aDeleteWindow]
				f.pings = f.pings || xproto.Atom(p) == h.atoms[aPing]
			}
		}},
		{h.atoms[aWindowType], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, t := range cards(ck) {
				f.types = append(f.types, xproto.Atom(t))
			}
		}},
		{h.atoms[aNetPID], 1, func(ck xproto.GetPropertyCookie) {
			if v := cards(ck); len(v) > 0 {
				f.pid = int(v[0])
			}
		}},
		{h.atoms[aStartupID], textUnits, func(ck xproto.GetPropertyCookie) { f.startup = h.text(ck) }},
		{h.atoms[aWindowDesktop], 1, func(ck xproto.GetPropertyCookie) {
			if v := cards(ck); len(v) > 0 {
				f.desktop = int64(v[0])
			}
		}},
		{h.atoms[aUserTime], 1, func(ck xproto.GetPropertyCookie) {
			if v := cards(ck); len(v) > 0 {
				f.userTime = int64(v[0])
			}
		}},
		{h.atoms[aStrut], 4, func(xproto.GetPropertyCookie) { f.struts = true }},
		{h.atoms[aStrutPartial], 12, func(xproto.GetPropertyCookie) { f.struts = true }},
		{h.atoms[aUserTimeWindow], 1, func(ck xproto.GetPropertyCookie) {
			if v := cards(ck); len(v) > 0 {
				f.timeWindow = xproto.Window(v[0])
			}
		}},
		{h.atoms[aMotifHints], 5, func(ck xproto.GetPropertyCookie) { f.plain = undecorated(cards(ck)) }},
		{h.atoms[aColormapWindows], listUnits, func(ck xproto.GetPropertyCookie) {
			for _, v := range cards(ck) {
				f.colormaps = append(f.colormaps, xproto.Window(v))
			}
		}},
		{h.atoms[aShadow], 4, func(ck xproto.GetPropertyCookie) { f.shadow = shadowFrom(cards(ck)) }},
		{h.atoms[aMark], listUnits, func(ck xproto.GetPropertyCookie) { f.mark = cards(ck) }},
		{h.atoms[aNetState], listUnits, func(ck xproto.GetPropertyCookie) { f.state = h.readNetState(cards(ck)) }},
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
	size                sizeHints
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
	shadow              shadow
	depth               byte
	struts              bool
	timeWindow          xproto.Window // 0 where it names none
	plain               bool          // it wants no border
	colormaps           []xproto.Window
}

// classOf is the class of a WM_CLASS, its second string, else the first; and the
// instance, its first one.
func classOf(s string) (class, instance string) {
	instance, class, _ = strings.Cut(s, "\x00")
	return cmp.Or(strings.TrimRight(class, "\x00"), instance), instance
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

// windowKinds are the core's kinds of the types that are windows of a desk.
var windowKinds = map[atom]desk.Kind{
	aTypeDialog:  desk.Dialog,
	aTypeUtility: desk.Utility,
	aTypeToolbar: desk.Utility,
	aTypeMenu:    desk.Utility,
	aTypeSplash:  desk.Splash,
	aTypeNormal:  desk.Normal,

	aTypeDropdown: desk.Splash, aTypePopup: desk.Splash, aTypeTooltip: desk.Splash, aTypeNotification: desk.Splash, aTypeCombo: desk.Splash, aTypeDND: desk.Splash,
}

// passing are the types of windows that come and go with what is done elsewhere, and
// take no focus.
var passing = []atom{aTypeMenu, aTypeSplash, aTypeDropdown, aTypePopup, aTypeTooltip, aTypeNotification, aTypeCombo, aTypeDND}

// describe writes a window's facts into what the core knows of it. Its place
// and states are left alone.
func (h *Host) describe(c *client, f facts, w *desk.Window) {
	c.shadow, c.plain, c.depth, c.gravity, c.colormaps = f.shadow, f.plain, f.depth, max(f.size.gravity, xproto.GravityNorthWest), f.colormaps
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
	w.Kind = windowKinds[kind]
	w.Fixed = f.size.fixed
	w.MinW, w.MinH = 0, 0
	if f.size.minW > 0 && f.size.minH > 0 {
		w.MinW, w.MinH = max(f.size.minW+wide, 1), max(f.size.minH+high, 1)
	}
	w.Sizes = f.size.outer(wide, high)
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
