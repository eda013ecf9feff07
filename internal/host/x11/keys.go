package x11

import (
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/keeper"
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

// Chord is keys of the display, and what they stand for.
type Chord struct {
	Name    string // as people write it, such as Super+Q s 3
	Command string // a command of the grammar, a verb that asks, a screen, or a list
	Hold    bool   // it lasts for as long as the keys are held
	Hidden  bool   // a shorter one stands in its way
	Modifiers
	Keysym uint32
	After  []string // the keys that follow
}

// Modifiers are those held with a key or a button.
type Modifiers struct{ Super, Hyper, Meta, Alt, Ctrl, Shift bool }

// mods are modifiers as this keyboard has them; ok is false where it has not all.
func (k *keyboard) mods(ms Modifiers) (mods uint16, ok bool) {
	ok = true
	for _, m := range []struct {
		on   bool
		mask uint16
	}{{ms.Super, k.super}, {ms.Hyper, k.hyper}, {ms.Meta, k.meta}, {ms.Alt, k.alt}, {ms.Shift, xproto.ModMaskShift}, {ms.Ctrl, xproto.ModMaskControl}} {
		if m.on {
			mods |= m.mask
			ok = ok && m.mask != 0
		}
	}
	return mods, ok
}

// keyboard is the grabs of our chords on the root window.
type keyboard struct {
	chords map[press][]bound
	board  keymap
	super  uint16 // 0 where the keyboard has no such modifier
	hyper  uint16
	meta   uint16
	alt    uint16
	atlas  uint16   // those of the atlas key; 0 where the keyboard has not all
	locks  []uint16 // every state of the locks that makes no difference
	taken  []string
	lacks  []string // chords for which the keyboard has no key or modifier
	source keySource

	// A key held down comes as presses without a release, where the server can do
	// that, else as presses that follow their release at the same moment.
	detects      bool
	held         xproto.Keycode
	heldOn       bool      // it has repeated
	unseen       bool      // the release of that goes elsewhere
	seenDown     time.Time // when it was last, though
	heldTime     xproto.Timestamp
	released     xproto.Keycode
	releasedTime xproto.Timestamp
}

// keySource is what the grabs were worked out from: the keyboard and its
// modifiers.
type keySource struct {
	syms []xproto.Keysym
	mods []xproto.Keycode
}

func (s keySource) equal(o keySource) bool {
	return slices.Equal(s.syms, o.syms) && slices.Equal(s.mods, o.mods)
}

// bound is what a press begins where its key stands for a keysym: in layouts of several
// groups a key may carry several letters, and the group tells which is meant.
type bound struct {
	sym uint32
	start
}

// group is the group of the layout that a state of the keyboard names, the first being 0
// (X Keyboard Extension, 2.2.2).
func group(state uint16) int { return int(state>>13) & 3 }

// take has a press begin a chord, or go on to it; it tells whether it does.
func (k *keyboard) take(p press, c Chord) bool {
	all := k.chords[p]
	i := slices.IndexFunc(all, func(b bound) bool { return b.sym == c.Keysym })
	if i < 0 {
		i = len(all)
		all = append(all, bound{sym: c.Keysym})
	}
	at := &all[i].start
	switch {
	case len(c.After) > 0 && !c.Hidden:
		at.more = append(at.more, c)
	case len(c.After) == 0 && at.own.Name == "":
		at.own = c
	default:
		return false
	}
	k.chords[p] = all
	return true
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

// find lists the keys that carry a keysym at any level, in any group of the layout. A
// digit is a digit also where it needs Shift. A letter that none carries is where it lies
// on a US keyboard.
func (m keymap) find(sym uint32) []xproto.Keycode {
	var codes []xproto.Keycode
	for i, s := range m.syms {
		code := m.first + xproto.Keycode(i/m.per)
		if uint32(s) == sym && !slices.Contains(codes, code) {
			codes = append(codes, code)
		}
	}
	if at := strings.IndexByte(usLetters, byte(sym)); len(codes) == 0 && isLatin(xproto.Keysym(sym)) && at >= 0 && m.latin(usCodes[at]) == 0 {
		codes = append(codes, usCodes[at])
	}
	return codes
}

// isLatin tells whether a keysym is a letter a to z.
func isLatin(s xproto.Keysym) bool { return s >= 'a' && s <= 'z' }

// latin is the first of the letters a to z that a key carries, in any group of the
// layout; 0 where it carries none.
func (m keymap) latin(code xproto.Keycode) uint32 {
	if all := m.letters(code); len(all) > 0 {
		return uint32(all[0])
	}
	return 0
}

// letters are those that a key carries in any group.
func (m keymap) letters(code xproto.Keycode) (all []xproto.Keysym) {
	at := int(code-m.first) * m.per
	if code < m.first || at+m.per > len(m.syms) {
		return nil
	}
	for _, s := range m.syms[at : at+m.per] {
		if isLatin(s) && !slices.Contains(all, s) {
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

// letter is the letter of a key in a group of the layout, the first being 0: that of the
// group, else of any, else of its place as find has it; 0 for none.
func (m keymap) letter(code xproto.Keycode, group int) byte {
	at := int(code-m.first)*m.per + 2*group
	if group < 2 && code >= m.first && 2*group+1 < m.per && at+1 < len(m.syms) { // of more the core protocol does not tell which is which
		for _, s := range m.syms[at : at+2] {
			if isLatin(s) {
				return byte(s)
			}
		}
	}
	if l := m.latin(code); l != 0 {
		return byte(l)
	}
	if at := slices.Index(usCodes, code); at >= 0 && len(m.find(uint32(usLetters[at]))) == 1 && m.find(uint32(usLetters[at]))[0] == code {
		return usLetters[at]
	}
	return 0
}

// readKeys asks the server for its keyboard. The keymap is empty where it does
// not answer.
func (h *Host) readKeys() (keymap, keySource) {
	setup := xproto.Setup(h.conn)
	count := byte(setup.MaxKeycode - setup.MinKeycode + 1)
	mapping, mods := xproto.GetKeyboardMapping(h.conn, setup.MinKeycode, count), xproto.GetModifierMapping(h.conn)
	r, err := mapping.Reply()
	mr, err2 := mods.Reply()
	if err != nil || err2 != nil || r.KeysymsPerKeycode == 0 {
		return keymap{}, keySource{}
	}
	return keymap{setup.MinKeycode, int(r.KeysymsPerKeycode), r.Keysyms}, keySource{r.Keysyms, mr.Keycodes}
}

// grabKeys takes the chords, each in every state of the locks. One that
// another client holds is reported, and the rest still work.
func (h *Host) grabKeys(m keymap, source keySource) *keyboard {
	k := &keyboard{chords: map[press][]bound{}, board: m, source: source}
	if m.per == 0 {
		h.log.Warn("the keyboard could not be read, and no chord works")
		return k
	}
	k.locks = k.modifiers(m)
	var has bool
	if k.atlas, has = k.mods(h.opt.AtlasKey); !has {
		h.log.Warn("this keyboard has no such modifier, and the atlas key does not work: keeper.atlas_key names another")
		k.atlas = 0
	}
	h.grabButtons(k)
	cookies := map[press][]xproto.GrabKeyCookie{}
	names := map[press][]string{}
	var missing []string
	for _, c := range h.opt.Chords {
		codes := m.find(c.Keysym)
		mods, has := k.mods(c.Modifiers)
		if len(codes) == 0 || !has {
			missing = append(missing, c.Name)
			continue
		}
		for _, code := range codes {
			if p := (press{code, mods}); k.take(p, c) {
				names[p] = append(names[p], c.Name)
			}
		}
	}
	for p, all := range k.chords {
		mode := byte(xproto.GrabModeAsync)
		if slices.ContainsFunc(all, func(b bound) bool { return b.listens() }) || len(m.letters(p.code)) > 1 {
			mode = xproto.GrabModeSync // what is typed next, or the key itself, waits for what is to take it
		}
		for _, lock := range k.locks {
			cookies[p] = append(cookies[p], xproto.GrabKeyChecked(h.conn, true, h.root, p.mods|lock, p.code, xproto.GrabModeAsync, mode))
		}
	}
	for p, cks := range cookies {
		held := false
		for _, ck := range cks {
			held = ck.Check() != nil || held
		}
		for _, name := range names[p] {
			if held && !slices.Contains(k.taken, name) {
				k.taken = append(k.taken, name)
			}
		}
	}
	k.lacks = missing
	if len(missing) > 0 && (h.keys == nil || !slices.Equal(h.keys.lacks, missing)) {
		h.log.Warn("no key of this keyboard stands for them, and these chords cannot be typed: " + strings.Join(missing, ", "))
	}
	slices.Sort(k.taken)
	if len(k.taken) > 0 && (h.keys == nil || !slices.Equal(h.keys.taken, k.taken)) {
		h.log.Warn("another program holds chords, and they do not work here: " + strings.Join(k.taken, ", "))
	}
	return k
}

// modifiers finds which modifiers are which, and every combination of the locks. Where
// keys of two share a modifier, as Meta and Alt often do, both are that one.
func (k *keyboard) modifiers(m keymap) []uint16 {
	holds := func(mod int, syms ...uint32) bool {
		per := len(k.source.mods) / 8
		for _, sym := range syms {
			for _, code := range m.find(sym) {
				if slices.Contains(k.source.mods[mod*per:(mod+1)*per], code) {
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
		}{{&k.super, [2]uint32{keySuperL, keySuperR}}, {&k.hyper, [2]uint32{keyHyperL, keyHyperR}}, {&k.meta, [2]uint32{keyMetaL, keyMetaR}}, {&k.alt, [2]uint32{keyAltL, keyAltR}}} {
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
	return locks
}

// renew takes the chords of a keyboard that changed, or of other settings, where
// anew is true. Those that stay are never let go of: a key pressed at that
// moment must not be lost.
func (k *keyboard) renew(h *Host, anew bool) *keyboard {
	m, source := h.readKeys()
	if !anew && k.source.equal(source) {
		return k
	}
	next := h.grabKeys(m, source)
	next.detects, next.unseen, next.seenDown, next.heldOn, next.held, next.heldTime, next.released, next.releasedTime = k.detects, k.unseen, k.seenDown, k.heldOn, k.held, k.heldTime, k.released, k.releasedTime
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
	for _, lock := range k.locks {
		if k.atlas == 0 || k.atlas == next.atlas && slices.Contains(next.locks, lock) {
			continue
		}
		for _, b := range []byte{moveButton, resizeButton} {
			xproto.UngrabButton(h.conn, b, h.root, k.atlas|lock)
		}
	}
	return next
}

// Configure takes the options that can change while a display is kept: the chords, the
// terminal, whether words show, what the pointer does, and borders. It is called on the
// keeper's goroutine.
func (h *Host) Configure(opt Options) {
	h.opt.Card, h.opt.Chords, h.opt.Terminal, h.opt.Quiet, h.opt.AtlasKey, h.opt.Pointing, h.opt.Corners, h.opt.ReadChord = opt.Card, opt.Chords, opt.Terminal, opt.Quiet, opt.AtlasKey, opt.Pointing, opt.Corners, opt.ReadChord
	h.placeCorners(h.desk)
	h.keys = h.keys.renew(h, true)
	if opt.Colours != nil {
		h.opt.Colours = opt.Colours
	}
	if opt.Border != h.opt.Border && opt.Border != 0 {
		h.opt.Border = opt.Border
		h.describeAgain(slices.Collect(maps.Values(h.clients)))
	}
}

// Keys lists the chords and what becomes of each; those that another program held are
// tried again.
func (h *Host) Keys() []keeper.Key {
	h.retakeKeys()
	var keys []keeper.Key
	for _, c := range h.opt.Chords {
		one := keeper.Key{Chord: c.Name, Command: c.Command, State: keeper.KeyOurs}
		switch {
		case c.Hidden:
			one.State = keeper.KeyHidden
		case slices.Contains(h.keys.lacks, c.Name):
			one.State = keeper.KeyMissing
		case slices.Contains(h.keys.taken, c.Name):
			one.State = keeper.KeyTaken
		}
		keys = append(keys, one)
	}
	return keys
}

// retakeKeys tries to have the chords that another program held.
func (h *Host) retakeKeys() {
	if len(h.keys.taken) > 0 {
		h.keys = h.keys.renew(h, true)
	}
}

// keyPress follows a key that came here: by a grab of a chord, or because the keyboard
// is ours.
func (h *Host) keyPress(e xproto.KeyPressEvent) {
	h.input = e.Time
	defer func() {
		if cause := recover(); cause != nil { // the keyboard must not stand still for it
			h.giveBack()
			h.thaw(e.Time)
			panic(cause)
		}
	}()
	repeated := h.repeats(e)
	switch {
	case h.drag.keys:
		h.dragKey(e)
	case h.desk == nil:
		h.thaw(e.Time)
	case h.hearing.heard != nil:
		h.hearKey(e)
		h.goOn()
	case h.ours.on:
		if !repeated { // else one that is still held
			h.listenKey(e)
		}
		h.goOn()
	default:
		h.chordPress(e, repeated)
	}
}

// chordPress follows the press of a chord.
func (h *Host) chordPress(e xproto.KeyPressEvent, repeated bool) {
	at, ok := h.keys.chord(e, h.activeGroup)
	switch {
	case !ok: // in this group of the layout the key is another, and whose it is
		h.keys.held = 0 // its release is told to that
		xproto.AllowEvents(h.conn, xproto.AllowReplayKeyboard, e.Time)
	case !at.listens():
		h.thaw(e.Time) // where another client's grab has frozen it
		if at.own.Hold {
			h.peekAt(at.own, e, repeated)
		} else {
			h.chord(at.own.Command, repeated)
		}
	case repeated || h.stale:
		h.thaw(e.Time)
	case len(h.events) > 0:
		// What was asked for before is done first: the keyboard stands still.
		h.later = append(h.later, e)
		h.queue.signal()
	default:
		h.begin(at, e)
	}
}

// thaw ends the standstill of the keyboard that the press of a chord began. Until
// its key is let go keys come here. That of a later press, which is told by its
// time, stays.
func (h *Host) thaw(now xproto.Timestamp) {
	xproto.AllowEvents(h.conn, xproto.AllowAsyncKeyboard, now)
}

// chord is the chord of a press, whatever the locks are. Where its key carries several
// letters, the group of the layout is asked for: the event of a grab does not tell it.
func (k *keyboard) chord(e xproto.KeyPressEvent, group func() int) (start, bool) {
	mods := e.State & (xproto.ModMaskShift | xproto.ModMaskControl | xproto.ModMask1 | xproto.ModMask2 | xproto.ModMask3 | xproto.ModMask4 | xproto.ModMask5)
	for _, lock := range k.locks {
		all := k.chords[press{e.Detail, mods &^ lock}]
		if len(all) == 1 && len(k.board.letters(e.Detail)) < 2 {
			return all[0].start, true
		}
		if len(all) > 0 {
			letter := uint32(k.board.letter(e.Detail, group()))
			i := slices.IndexFunc(all, func(b bound) bool { return b.sym == letter })
			if i < 0 && letter != 0 && isLatin(xproto.Keysym(all[0].sym)) {
				return start{}, false // in this group the key is another letter, which stands for nothing
			}
			return all[max(i, 0)].start, true
		}
	}
	return start{}, false
}
