package display

import (
	"slices"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"
)

// Facts are what a window says of itself by its properties (ICCCM 4.1.2, EWMH).
type Facts struct {
	Title, Role, Startup       string
	App, Instance              string // of WM_CLASS
	PID                        int    // 0 where it names none
	Size                       SizeHints
	NoInput, Urgent, Iconic    bool
	Group                      xproto.Window // the leader of its group, 0 for none
	Transient                  xproto.Window
	IsTransient                bool // Transient was named, if only as the root
	TakesFocus, Deletes, Pings bool
	Types, States              []string // by their names, those that are known
	Desktop                    int64    // -1 where it names none
	UserTime                   int64    // -1 where it names none
	TimeWindow                 xproto.Window
	Extents                    []uint32 // left, right, top, bottom; nil where they are not told
	Strut                      []uint32 // as Strut has them; nil for none
	Shadow                     Shadow
	Plain                      bool // it wants no border
	Colormaps                  []xproto.Window
}

// The most that is read of a property, in units of 4 bytes.
const (
	TextUnits = 1024
	ListUnits = 256
)

// Reader reads facts. Many windows can be asked at once, so that one wait does for all.
type Reader struct {
	Conn *xgb.Conn
	Atom func(name string) xproto.Atom
	Name func(a xproto.Atom) string // of one that is known; else empty
	Skip []string                   // properties that are not read
}

// predefined are atoms that every server has.
var predefined = map[string]xproto.Atom{
	"WM_NAME": xproto.AtomWmName, "WM_CLASS": xproto.AtomWmClass, "WM_NORMAL_HINTS": xproto.AtomWmNormalHints,
	"WM_HINTS": xproto.AtomWmHints, "WM_TRANSIENT_FOR": xproto.AtomWmTransientFor,
}

// Property is the atom of a property by its name, of those that every server has too.
func (r *Reader) Property(name string) xproto.Atom {
	if a, ok := predefined[name]; ok {
		return a
	}
	return r.Atom(name)
}

// Matters tells whether a property is a fact that is read.
func (r *Reader) Matters(a xproto.Atom) bool {
	return slices.ContainsFunc(factProperties, func(p factProperty) bool { return r.Property(p.name) == a && !slices.Contains(r.Skip, p.name) })
}

// factProperty is how a property is read into facts.
type factProperty struct {
	name  string
	units uint32
	read  func(r *Reader, f *Facts, ck xproto.GetPropertyCookie)
}

// text, list and one are what reads a property of a text, of numbers, and of one number.
func text(into func(f *Facts, s string)) func(*Reader, *Facts, xproto.GetPropertyCookie) {
	return func(r *Reader, f *Facts, ck xproto.GetPropertyCookie) { into(f, Text(ck, r.Atom("COMPOUND_TEXT"))) }
}

func list(into func(r *Reader, f *Facts, v []uint32)) func(*Reader, *Facts, xproto.GetPropertyCookie) {
	return func(r *Reader, f *Facts, ck xproto.GetPropertyCookie) { into(r, f, Cards(ck)) }
}

func one(into func(f *Facts, v uint32)) func(*Reader, *Facts, xproto.GetPropertyCookie) {
	return list(func(_ *Reader, f *Facts, v []uint32) {
		if len(v) > 0 {
			into(f, v[0])
		}
	})
}

// factProperties are what is read. Where two say the same, the first of them counts.
var factProperties = []factProperty{
	{"_NET_WM_NAME", TextUnits, text(func(f *Facts, s string) { f.Title = s })},
	{"WM_NAME", TextUnits, text(func(f *Facts, s string) {
		if f.Title == "" {
			f.Title = s
		}
	})},
	{"WM_CLASS", TextUnits, text(func(f *Facts, s string) { f.App, f.Instance = ClassOf(s) })},
	{"WM_WINDOW_ROLE", TextUnits, text(func(f *Facts, s string) { f.Role = s })},
	{"_NET_STARTUP_ID", TextUnits, text(func(f *Facts, s string) { f.Startup = s })},
	{"WM_NORMAL_HINTS", ListUnits, list(func(_ *Reader, f *Facts, v []uint32) { f.Size = ParseSizeHints(v) })},
	{"WM_HINTS", ListUnits, list(func(_ *Reader, f *Facts, v []uint32) { f.hints(v) })},
	{"WM_TRANSIENT_FOR", 1, one(func(f *Facts, v uint32) { f.Transient, f.IsTransient = xproto.Window(v), true })},
	{"WM_PROTOCOLS", ListUnits, list(func(r *Reader, f *Facts, v []uint32) {
		for _, name := range r.names(v) {
			f.TakesFocus = f.TakesFocus || name == "WM_TAKE_FOCUS"
			f.Deletes = f.Deletes || name == "WM_DELETE_WINDOW"
			f.Pings = f.Pings || name == "_NET_WM_PING"
		}
	})},
	{"_NET_WM_WINDOW_TYPE", ListUnits, list(func(r *Reader, f *Facts, v []uint32) { f.Types = r.names(v) })},
	{"_NET_WM_STATE", ListUnits, list(func(r *Reader, f *Facts, v []uint32) { f.States = r.names(v) })},
	{"_NET_WM_PID", 1, one(func(f *Facts, v uint32) { f.PID = int(v) })},
	{"_NET_WM_DESKTOP", 1, one(func(f *Facts, v uint32) { f.Desktop = int64(v) })},
	{"_NET_WM_USER_TIME", 1, one(func(f *Facts, v uint32) { f.UserTime = int64(v) })},
	{"_NET_WM_USER_TIME_WINDOW", 1, one(func(f *Facts, v uint32) { f.TimeWindow = xproto.Window(v) })},
	{"_NET_FRAME_EXTENTS", 4, list(func(_ *Reader, f *Facts, v []uint32) {
		if len(v) >= 4 {
			f.Extents = v[:4]
		}
	})},
	{"_NET_WM_STRUT_PARTIAL", 12, list(func(_ *Reader, f *Facts, v []uint32) { f.Strut = Strut(v, nil) })},
	{"_NET_WM_STRUT", 4, list(func(_ *Reader, f *Facts, v []uint32) { f.Strut = Strut(f.Strut, v) })},
	{"_GTK_FRAME_EXTENTS", 4, list(func(_ *Reader, f *Facts, v []uint32) { f.Shadow = ShadowFrom(v) })},
	{"_MOTIF_WM_HINTS", 5, list(func(_ *Reader, f *Facts, v []uint32) { f.Plain = Undecorated(v) })},
	{"WM_COLORMAP_WINDOWS", ListUnits, list(func(_ *Reader, f *Facts, v []uint32) {
		for _, win := range v {
			f.Colormaps = append(f.Colormaps, xproto.Window(win))
		}
	})},
}

// names are the names of atoms, those that are known.
func (r *Reader) names(atoms []uint32) (names []string) {
	for _, a := range atoms {
		if name := r.Name(xproto.Atom(a)); name != "" {
			names = append(names, name)
		}
	}
	return names
}

// hints reads WM_HINTS (ICCCM 4.1.2.4).
func (f *Facts) hints(v []uint32) {
	const input, state, group, urgent = 1 << 0, 1 << 1, 1 << 6, 1 << 8
	if len(v) < 2 {
		return
	}
	f.NoInput, f.Urgent = v[0]&input != 0 && v[1] == 0, v[0]&urgent != 0
	const iconic = 3
	f.Iconic = v[0]&state != 0 && len(v) > 2 && v[2] == iconic
	if v[0]&group != 0 && len(v) > 8 {
		f.Group = xproto.Window(v[8])
	}
}

// Ask asks a window for those of the properties there are that matter; for all where there is
// nil. Read waits for them.
func (r *Reader) Ask(win xproto.Window, there []xproto.Atom) (read func() Facts) {
	var asked []factProperty
	var cookies []xproto.GetPropertyCookie
	for _, p := range factProperties {
		a := r.Property(p.name)
		if slices.Contains(r.Skip, p.name) || there != nil && !slices.Contains(there, a) {
			continue
		}
		asked = append(asked, p)
		cookies = append(cookies, xproto.GetProperty(r.Conn, false, win, a, xproto.GetPropertyTypeAny, 0, p.units))
	}
	return func() Facts {
		f := Facts{Desktop: -1, UserTime: -1}
		for i, p := range asked {
			p.read(r, &f, cookies[i])
		}
		return f
	}
}
