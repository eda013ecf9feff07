package display

import (
	"cmp"
	"encoding/binary"
	"strings"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// Cards are the 32-bit numbers of a property; nil where it is missing, of
// another format, or its window is gone.
func Cards(ck xproto.GetPropertyCookie) []uint32 {
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

// Text is the text of a property, of whatever encoding, where compound is the atom
// COMPOUND_TEXT; empty where it is missing, none, or its window is gone.
func Text(ck xproto.GetPropertyCookie, compound xproto.Atom) string {
	r, err := ck.Reply()
	if err != nil || r == nil || r.Format != 8 {
		return ""
	}
	if r.Type == compound {
		return CompoundText(r.Value)
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

// Pack are 32-bit numbers as a property has them.
func Pack(values []uint32) []byte {
	b := make([]byte, 0, 4*len(values))
	for _, v := range values {
		b = binary.LittleEndian.AppendUint32(b, v)
	}
	return b
}

// SizeHints is the part of WM_NORMAL_HINTS that matters (ICCCM 4.1.2.3), in pixels.
type SizeHints struct {
	Placed     bool // names its place
	ByUser     bool // by the user's wish
	MinW, MinH int
	MaxW, MaxH int
	IncW, IncH int
	// BaseW and BaseH are those the window says; its minimum stands for them in
	// counting increments, but not in its aspect.
	BaseW, BaseH int
	Least, Most  [2]int // aspects
	Gravity      int
	Fixed        bool
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

// ParseSizeHints reads WM_NORMAL_HINTS.
func ParseSizeHints(v []uint32) SizeHints {
	var s SizeHints
	if len(v) < 9 {
		return s
	}
	flags := v[0]
	at := func(i int) int {
		if i >= len(v) {
			return 0
		}
		return geom.Clamp(int(int32(v[i])), 0, MaxSide)
	}
	if s.Gravity = 1; flags&hintPWinGravity != 0 && len(v) > 17 && v[17] >= 1 && v[17] <= xproto.GravityStatic {
		s.Gravity = int(v[17])
	}
	s.Placed, s.ByUser = flags&(hintUSPosition|hintPPosition) != 0, flags&hintUSPosition != 0
	switch {
	case flags&hintPMinSize != 0:
		s.MinW, s.MinH = at(5), at(6)
	case flags&hintPBaseSize != 0:
		s.MinW, s.MinH = at(15), at(16)
	}
	if flags&hintPMaxSize != 0 {
		s.MaxW, s.MaxH = at(7), at(8)
	}
	if flags&hintPResizeInc != 0 {
		s.IncW, s.IncH = at(9), at(10)
	}
	if flags&hintPAspect != 0 {
		s.Least, s.Most = [2]int{at(11), at(12)}, [2]int{at(13), at(14)}
	}
	if flags&hintPBaseSize != 0 {
		s.BaseW, s.BaseH = at(15), at(16)
	}
	if flags&hintPMinSize != 0 && flags&hintPMaxSize != 0 {
		s.Fixed = at(5) > 0 && at(5) == at(7) && at(6) > 0 && at(6) == at(8)
	}
	return s
}

// Outer are the hints as the core has them, of what is so much wider and higher
// than the inside.
func (s SizeHints) Outer(wide, high int) desk.Sizes {
	var o desk.Sizes
	if s.MaxW > 0 && s.MaxH > 0 && (s.MaxW < MaxSide || s.MaxH < MaxSide) {
		o.MaxW, o.MaxH = max(s.MaxW+wide, 1), max(s.MaxH+high, 1)
	}
	if s.IncW > 1 || s.IncH > 1 {
		o.IncW, o.IncH = s.IncW, s.IncH
		o.BaseW, o.BaseH = max(s.BaseW+wide, 0), max(s.BaseH+high, 0)
		if s.BaseW == 0 && s.BaseH == 0 {
			o.BaseW, o.BaseH = max(s.MinW+wide, 0), max(s.MinH+high, 0)
		}
	}
	if s.Least[1] > 0 && s.Most[1] > 0 {
		o.Least, o.Most, o.Frame = s.Least, s.Most, max(wide, 0)
	}
	return o
}

// MaxSide is the longest side of a window, by the protocol.
const MaxSide = 32767

// ClassOf is the class of a WM_CLASS, its second string, else the first; and the
// instance, its first one.
func ClassOf(s string) (class, instance string) {
	instance, class, _ = strings.Cut(s, "\x00")
	return cmp.Or(strings.TrimRight(class, "\x00"), instance), instance
}

// Undecorated tells whether _MOTIF_WM_HINTS ask for no decoration.
func Undecorated(v []uint32) bool {
	const decorations = 1 << 1
	return len(v) >= 3 && v[0]&decorations != 0 && v[2] == 0
}

// Kinds are the core's kinds of the types of windows that are windows of a desk (EWMH,
// _NET_WM_WINDOW_TYPE).
var Kinds = map[string]desk.Kind{
	"_NET_WM_WINDOW_TYPE_DIALOG":        desk.Dialog,
	"_NET_WM_WINDOW_TYPE_UTILITY":       desk.Utility,
	"_NET_WM_WINDOW_TYPE_TOOLBAR":       desk.Utility,
	"_NET_WM_WINDOW_TYPE_MENU":          desk.Utility,
	"_NET_WM_WINDOW_TYPE_SPLASH":        desk.Splash,
	"_NET_WM_WINDOW_TYPE_NORMAL":        desk.Normal,
	"_NET_WM_WINDOW_TYPE_DROPDOWN_MENU": desk.Splash,
	"_NET_WM_WINDOW_TYPE_POPUP_MENU":    desk.Splash,
	"_NET_WM_WINDOW_TYPE_TOOLTIP":       desk.Splash,
	"_NET_WM_WINDOW_TYPE_NOTIFICATION":  desk.Splash,
	"_NET_WM_WINDOW_TYPE_COMBO":         desk.Splash,
	"_NET_WM_WINDOW_TYPE_DND":           desk.Splash,
}
