package display

import (
	"slices"
	"strings"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/keys"
)

// Keysyms of the modifiers (X protocol, appendix A).
const (
	keyNumLock = 0xff7f
	keySuperL  = 0xffeb
	keySuperR  = 0xffec
	keyScroll  = 0xff14
	keyMetaL   = 0xffe7
	keyMetaR   = 0xffe8
	keyHyperL  = 0xffed
	keyHyperR  = 0xffee
	keyAltL    = 0xffe9
	keyAltR    = 0xffea
)

// Of are modifiers as this keyboard has them; ok is false where it has not all.
func (k *Masks) Of(ms keys.Modifiers) (mods uint16, ok bool) {
	ok = true
	for _, m := range []struct {
		on   bool
		mask uint16
	}{{ms.Super, k.Super}, {ms.Hyper, k.Hyper}, {ms.Meta, k.Meta}, {ms.Alt, k.Alt}, {ms.Shift, xproto.ModMaskShift}, {ms.Ctrl, xproto.ModMaskControl}} {
		if m.on {
			mods |= m.mask
			ok = ok && m.mask != 0
		}
	}
	return mods, ok
}

// Keymap is the server's keyboard: the keysyms of each key, and which are modifiers.
type Keymap struct {
	First xproto.Keycode
	Per   int // how many keysyms each key has; 0 where the server did not tell
	Syms  []xproto.Keysym
	Mods  []xproto.Keycode // of the eight modifiers, as many each
}

// Find lists the keys that carry a keysym at any level, in any group of the layout. A
// digit is a digit also where it needs Shift. A letter that none carries is where it lies
// on a US keyboard.
func (m Keymap) Find(sym uint32) []xproto.Keycode {
	var codes []xproto.Keycode
	for i, s := range m.Syms {
		code := m.First + xproto.Keycode(i/m.Per)
		if uint32(s) == sym && !slices.Contains(codes, code) {
			codes = append(codes, code)
		}
	}
	if at := strings.IndexByte(usLetters, byte(sym)); len(codes) == 0 && IsLatin(xproto.Keysym(sym)) && at >= 0 && m.latin(usCodes[at]) == 0 {
		codes = append(codes, usCodes[at])
	}
	return codes
}

// IsLatin tells whether a keysym is a letter a to z.
func IsLatin(s xproto.Keysym) bool { return s >= 'a' && s <= 'z' }

// latin is the first of the letters a to z that a key carries, in any group of the
// layout; 0 where it carries none.
func (m Keymap) latin(code xproto.Keycode) uint32 {
	if all := m.Letters(code); len(all) > 0 {
		return uint32(all[0])
	}
	return 0
}

// Letters are those that a key carries in any group.
func (m Keymap) Letters(code xproto.Keycode) (all []xproto.Keysym) {
	at := int(code-m.First) * m.Per
	if code < m.First || at+m.Per > len(m.Syms) {
		return nil
	}
	for _, s := range m.Syms[at : at+m.Per] {
		if IsLatin(s) && !slices.Contains(all, s) {
			all = append(all, s)
		}
	}
	return all
}

// usLetters are the letters by the places of their keys on a US keyboard, which stand
// for them where a layout has no Latin letters; usCodes are those keys.
const usLetters = "qwertyuiopasdfghjklzxcvbnm"

var usCodes = func() (codes []xproto.Keycode) {
	for _, row := range []struct{ first, n xproto.Keycode }{{24, 10}, {38, 9}, {52, 7}} {
		for i := range row.n {
			codes = append(codes, row.first+i)
		}
	}
	return codes
}()

// Letter is the letter of a key in a group of the layout, the first being 0: that of the
// group, else of any, else of its place as Find has it; 0 for none.
func (m Keymap) Letter(code xproto.Keycode, group int) byte {
	at := int(code-m.First)*m.Per + 2*group
	if group < 2 && code >= m.First && 2*group+1 < m.Per && at+1 < len(m.Syms) { // of more the core protocol does not tell which is which
		for _, s := range m.Syms[at : at+2] {
			if IsLatin(s) {
				return byte(s)
			}
		}
	}
	if l := m.latin(code); l != 0 {
		return byte(l)
	}
	if at := slices.Index(usCodes, code); at >= 0 && len(m.Find(uint32(usLetters[at]))) == 1 && m.Find(uint32(usLetters[at]))[0] == code {
		return usLetters[at]
	}
	return 0
}

// Equal tells whether two keyboards are the same.
func (m Keymap) Equal(o Keymap) bool {
	return slices.Equal(m.Syms, o.Syms) && slices.Equal(m.Mods, o.Mods)
}

// ReadKeymap asks the server for its keyboard. It is empty where the server does not
// answer.
func ReadKeymap(conn *xgb.Conn) Keymap {
	setup := xproto.Setup(conn)
	count := byte(setup.MaxKeycode - setup.MinKeycode + 1)
	mapping, mods := xproto.GetKeyboardMapping(conn, setup.MinKeycode, count), xproto.GetModifierMapping(conn)
	r, err := mapping.Reply()
	mr, err2 := mods.Reply()
	if err != nil || err2 != nil || r.KeysymsPerKeycode == 0 {
		return Keymap{}
	}
	return Keymap{setup.MinKeycode, int(r.KeysymsPerKeycode), r.Keysyms, mr.Keycodes}
}

// Masks are which modifiers are which on a keyboard; 0 for one that it has not.
type Masks struct {
	Super, Hyper, Meta, Alt uint16
	Locks                   []uint16 // every state of the locks that makes no difference
}

// Masks finds which modifiers are which, and every combination of the locks. Where
// keys of two share a modifier, as Meta and Alt often do, both are that one.
func (m Keymap) Masks() (k Masks) {
	holds := func(mod int, syms ...uint32) bool {
		per := len(m.Mods) / 8
		for _, sym := range syms {
			for _, code := range m.Find(sym) {
				if slices.Contains(m.Mods[mod*per:(mod+1)*per], code) {
					return true
				}
			}
		}
		return false
	}
	locks := []uint16{0, xproto.ModMaskLock}
	for mod := 3; mod < 8; mod++ { // Mod1 to Mod5
		mask := uint16(1) << mod
		ours := false
		for _, one := range []struct {
			mask *uint16
			syms [2]uint32
		}{{&k.Super, [2]uint32{keySuperL, keySuperR}}, {&k.Hyper, [2]uint32{keyHyperL, keyHyperR}}, {&k.Meta, [2]uint32{keyMetaL, keyMetaR}}, {&k.Alt, [2]uint32{keyAltL, keyAltR}}} {
			if *one.mask == 0 && holds(mod, one.syms[:]...) {
				*one.mask, ours = mask, true
			}
		}
		switch {
		case ours:
		case holds(mod, keyNumLock) || holds(mod, keyScroll):
			for _, l := range slices.Clone(locks) {
				locks = append(locks, l|mask)
			}
		}
	}
	k.Locks = locks
	return k
}

// keyNames are the keys that have names, by their keysyms (X protocol, appendix A), those
// of the number pad among them.
var keyNames = map[xproto.Keysym]string{
	0xff09: "Tab", 0xfe20: "Tab", 0xff0d: "Return", 0xff8d: "Return", 0xff1b: "Escape", 0xff08: "BackSpace", 0x20: "Space",
	0xff51: "Left", 0xff52: "Up", 0xff53: "Right", 0xff54: "Down", 0xff96: "Left", 0xff97: "Up", 0xff98: "Right", 0xff99: "Down",
	0xff50: "Home", 0xff57: "End", 0xff55: "PageUp", 0xff56: "PageDown", 0xff63: "Insert", 0xffff: "Delete", 0xff61: "Print", 0xff13: "Pause", 0xff67: "Menu",
	0xffbe: "F1", 0xffbf: "F2", 0xffc0: "F3", 0xffc1: "F4", 0xffc2: "F5", 0xffc3: "F6", 0xffc4: "F7", 0xffc5: "F8", 0xffc6: "F9", 0xffc7: "F10", 0xffc8: "F11", 0xffc9: "F12",
}

// Names are what a key stands for, with Shift or without, the likeliest first. A sign depends on
// Shift, so it comes before the digit and the letter of the key, which depend on it only for
// capitals. None for a modifier.
func (m Keymap) Names(code xproto.Keycode, state uint16) []string {
	if slices.Contains(m.Mods, code) {
		return nil
	}
	at := int(code-m.First) * m.Per
	if code < m.First || at < 0 || at+m.Per > len(m.Syms) {
		return []string{"that key"}
	}
	shift := state&xproto.ModMaskShift != 0
	var signs, digits []string
	for i, sym := range m.Syms[at : at+m.Per] {
		switch name, named := keyNames[sym]; {
		case named:
			return []string{name}
		case sym >= '0' && sym <= '9':
			digits = append(digits, string(rune(sym)))
		case sym >= 0xffb0 && sym <= 0xffb9: // of the number pad
			digits = append(digits, string(rune('0'+sym-0xffb0)))
		case sym > ' ' && sym < 0x7f && !IsLatin(sym) && !(sym >= 'A' && sym <= 'Z') && (i%2 == 1) == shift:
			signs = append(signs, string(rune(sym)))
		}
	}
	names := append(signs, digits...)
	if l := m.Letter(code, Group(state)); l != 0 {
		letter := string(rune(l))
		if shift {
			letter = strings.ToUpper(letter)
		}
		names = append(names, letter)
	}
	if len(names) == 0 {
		return []string{"that key"}
	}
	return slices.Compact(names)
}

// Group is the group of the layout that a state of the keyboard names, the first being 0
// (X Keyboard Extension, 2.2.2).
func Group(state uint16) int { return int(state>>13) & 3 }

// Written is a key of some names as chords are written; empty for a modifier, which has none.
func (k *Masks) Written(names []string, state uint16) string {
	if len(names) == 0 {
		return ""
	}
	key := names[len(names)-1] // the letter or digit, not the sign
	words, had := "", uint16(0)
	for _, m := range []struct {
		name string
		mask uint16
	}{{"Super", k.Super}, {"Ctrl", xproto.ModMaskControl}, {"Alt", k.Alt}, {"Shift", xproto.ModMaskShift}, {"Hyper", k.Hyper}, {"Meta", k.Meta}} {
		if m.mask != 0 && state&m.mask == m.mask && had&m.mask == 0 { // two may be the same
			had |= m.mask
			words += m.name + "+"
		}
	}
	switch {
	case words == "" || words == "Shift+" && len(key) == 1:
		return key // a capital says it itself
	case len(key) == 1:
		return words + strings.ToUpper(key)
	}
	return words + key
}
