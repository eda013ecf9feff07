package x11

import (
	"fmt"
	"slices"
	"strings"

	"github.com/jezek/xgb/xproto"
)

// Keysyms used in chords (from the X protocol's appendix A).
const (
	keyTab     = 0xff09
	keyLeft    = 0xff51
	keyUp      = 0xff52
	keyRight   = 0xff53
	keyDown    = 0xff54
	keyNumLock = 0xff7f
	keySuperL  = 0xffeb
	keySuperR  = 0xffec
	keyScroll  = 0xff14
)

// chordAtlas stands in a chord's place for the atlas window.
const chordAtlas = "atlas"

// Chord is a key of the display with Super, and the command it stands for.
type Chord struct {
	Name    string // as people write it, such as Super+Shift+3
	Command string
	mods    uint16 // besides Super
	keysym  uint32
}

// Chords lists the chords of the keeper.
func Chords() []Chord {
	var cs []Chord
	for n := uint32(1); n <= 9; n++ {
		digit := '0' + n
		cs = append(cs,
			Chord{fmt.Sprintf("Super+%d", n), fmt.Sprintf("go %d", n), 0, digit},
			Chord{fmt.Sprintf("Super+Shift+%d", n), fmt.Sprintf("send %d", n), xproto.ModMaskShift, digit},
			Chord{fmt.Sprintf("Super+Ctrl+%d", n), fmt.Sprintf("carry %d", n), xproto.ModMaskControl, digit})
	}
	return append(cs,
		Chord{"Super+Left", "focus left", 0, keyLeft},
		Chord{"Super+Right", "focus right", 0, keyRight},
		Chord{"Super+Up", "focus up", 0, keyUp},
		Chord{"Super+Down", "focus down", 0, keyDown},
		Chord{"Super+Tab", "go back", 0, keyTab},
		Chord{"Super+A", chordAtlas, 0, 'a'},
	)
}

// keyboard is the grabs of our chords on the root window.
type keyboard struct {
	chords map[press]string // commands
	super  uint16
	locks  []uint16 // every state of the locks that makes no difference
	taken  []string
}

// press is a key with the modifiers that matter.
type press struct {
	code xproto.Keycode
	mods uint16
}

// keymap is the server's keyboard: the keysyms of each key.
type keymap struct {
	first xproto.Keycode
	per   int
	syms  []xproto.Keysym
}

// find lists the keys that carry a keysym at any level. A digit is a digit
// also where it needs Shift.
func (m keymap) find(sym uint32) []xproto.Keycode {
	var codes []xproto.Keycode
	for i, s := range m.syms {
		code := m.first + xproto.Keycode(i/m.per)
		if uint32(s) == sym && !slices.Contains(codes, code) {
			codes = append(codes, code)
		}
	}
	return codes
}

// grabKeys takes the chords, each in every state of the locks. One that
// another client holds is reported, and the rest still work.
func (h *Host) grabKeys() *keyboard {
	k := &keyboard{chords: map[press]string{}, super: xproto.ModMask4}
	setup := xproto.Setup(h.conn)
	count := byte(setup.MaxKeycode - setup.MinKeycode + 1)
	r, err := xproto.GetKeyboardMapping(h.conn, setup.MinKeycode, count).Reply()
	if err != nil || r.KeysymsPerKeycode == 0 {
		h.log.Warn("the keyboard could not be read, and no chord works")
		return k
	}
	m := keymap{setup.MinKeycode, int(r.KeysymsPerKeycode), r.Keysyms}
	k.locks = h.modifiers(k, m)
	cookies := map[press][]xproto.GrabKeyCookie{}
	names := map[press]string{}
	for _, c := range Chords() {
		for _, code := range m.find(c.keysym) {
			p := press{code, c.mods | k.super}
			if _, dup := k.chords[p]; dup {
				continue
			}
			k.chords[p], names[p] = c.Command, c.Name
			for _, lock := range k.locks {
				cookies[p] = append(cookies[p], xproto.GrabKeyChecked(h.conn, true, h.root, p.mods|lock, code, xproto.GrabModeAsync, xproto.GrabModeAsync))
			}
		}
	}
	for p, cks := range cookies {
		held := false
		for _, ck := range cks {
			held = ck.Check() != nil || held
		}
		if held && !slices.Contains(k.taken, names[p]) {
			k.taken = append(k.taken, names[p])
		}
	}
	slices.Sort(k.taken)
	if len(k.taken) > 0 {
		h.log.Warn("another program holds chords, and they do not work here: " + strings.Join(k.taken, ", "))
	}
	return k
}

// modifiers finds which modifier is Super, and every combination of the locks.
func (h *Host) modifiers(k *keyboard, m keymap) []uint16 {
	r, err := xproto.GetModifierMapping(h.conn).Reply()
	if err != nil {
		return []uint16{0, xproto.ModMaskLock}
	}
	holds := func(mod int, syms ...uint32) bool {
		per := int(r.KeycodesPerModifier)
		for _, sym := range syms {
			for _, code := range m.find(sym) {
				if slices.Contains(r.Keycodes[mod*per:(mod+1)*per], code) {
					return true
				}
			}
		}
		return false
	}
	locks := []uint16{0, xproto.ModMaskLock}
	for mod := 3; mod < 8; mod++ { // Mod1 to Mod5
		mask := uint16(1) << mod
		switch {
		case holds(mod, keySuperL, keySuperR):
			k.super = mask
		case holds(mod, keyNumLock) || holds(mod, keyScroll):
			for _, l := range slices.Clone(locks) {
				locks = append(locks, l|mask)
			}
		}
	}
	return locks
}

// renew takes the chords of a keyboard that changed. Those that stay are never
// let go of: a key pressed at that moment must not be lost.
func (k *keyboard) renew(h *Host) *keyboard {
	next := h.grabKeys()
	for p := range k.chords {
		if _, stays := next.chords[p]; stays && slices.Equal(k.locks, next.locks) {
			continue
		}
		for _, lock := range k.locks {
			if _, stays := next.chords[p]; !stays || !slices.Contains(next.locks, lock) {
				xproto.UngrabKey(h.conn, p.code, h.root, p.mods|lock)
			}
		}
	}
	return next
}

func (h *Host) keyPress(e xproto.KeyPressEvent) {
	mods := e.State & (xproto.ModMaskShift | xproto.ModMaskControl | xproto.ModMask1 | xproto.ModMask2 | xproto.ModMask3 | xproto.ModMask4 | xproto.ModMask5)
	for _, lock := range h.keys.locks {
		line, ok := h.keys.chords[press{e.Detail, mods &^ lock}]
		switch {
		case !ok:
			continue
		case line == chordAtlas:
			h.atlas.toggle()
		default:
			h.chord(line)
		}
		return
	}
}
