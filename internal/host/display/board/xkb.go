package board

import (
	"encoding/binary"
	"strings"
	"time"

	"zatlas/internal/desk"

	"github.com/jezek/xgb/xproto"
)

// Of the X Keyboard Extension: requests, the keyboard that all devices make up, and the
// events that tell of another keyboard or another map of its keys.
const (
	xkbName        = "XKEYBOARD"
	xkbUse         = 0
	xkbSelect      = 1
	xkbState       = 4
	xkbControls    = 6
	xkbClientFlags = 21
	xkbCore        = 0x100
	xkbChanges     = 0x3  // NewKeyboardNotify and MapNotify, which are of the types 0 and 1
	xkbStates      = 0x4  // StateNotify
	xkbGroup       = 0x10 // the part of a state that is the group
	xkbAllMaps     = 0xff // of which parts of a map
	xkbDetectable  = 1    // DetectableAutoRepeat
)

// useXKB asks the keyboard's extension to send a held key as presses without releases
// between them. So a held key differs from one pressed again. It also asks for news of the
// keyboard, since the server sends fewer MappingNotify events to clients of the extension. It
// tells whether the server has the extension.
func (b *Board) useXKB() bool {
	r, err := xproto.QueryExtension(b.home.Conn, uint16(len(xkbName)), xkbName).Reply()
	if err != nil || !r.Present {
		return false
	}
	b.xkb = r.MajorOpcode
	if reply, err := b.askXKB(xkbUse, 1, 0); err != nil || reply[1] == 0 {
		return false
	}
	b.home.Wire.TellKeyboard(r.FirstEvent)
	b.home.Conn.NewRequest(b.xkbRequest(xkbSelect, xkbCore, xkbChanges|xkbStates, 0, xkbChanges, xkbAllMaps, xkbAllMaps, xkbGroup, xkbGroup), b.home.Conn.NewCookie(false, false))
	reply, err := b.askXKB(xkbClientFlags, xkbCore, 0, xkbDetectable, 0, xkbDetectable, 0, 0, 0, 0, 0, 0, 0)
	return err == nil && reply[12]&xkbDetectable != 0
}

// xkbRequest is a request of the extension, of words of 16 bits.
func (b *Board) xkbRequest(minor byte, words ...uint16) []byte {
	r := binary.LittleEndian.AppendUint16([]byte{b.xkb, minor}, uint16(1+len(words)/2))
	for _, w := range words {
		r = binary.LittleEndian.AppendUint16(r, w)
	}
	return r
}

// askXKB sends a request and waits for the answer, of 32 bytes or more.
func (b *Board) askXKB(minor byte, words ...uint16) ([]byte, error) {
	c := b.home.Conn.NewCookie(true, true)
	b.home.Conn.NewRequest(b.xkbRequest(minor, words...), c)
	return c.Reply()
}

// activeGroup is the group of the layout that is on, the first being 0.
func (b *Board) activeGroup() int {
	if b.xkb == 0 {
		return 0
	}
	reply, err := b.askXKB(xkbState, xkbCore, 0)
	if err != nil || len(reply) < 13 {
		return 0
	}
	return int(reply[12]) & 3
}

// readGroup reads which layout is on, where the keyboard has several: the rules by which it
// was set up name them.
func (b *Board) readGroup() {
	b.group = ""
	name := "_XKB_RULES_NAMES"
	atom, err := xproto.InternAtom(b.home.Conn, true, uint16(len(name)), name).Reply()
	if err != nil || atom.Atom == xproto.AtomNone || b.xkb == 0 {
		return
	}
	r, err := xproto.GetProperty(b.home.Conn, false, b.home.Root, atom.Atom, xproto.AtomString, 0, 1024).Reply()
	if err != nil {
		return
	}
	parts := strings.Split(string(r.Value), "\x00") // rules, model, layouts, variants, options
	if len(parts) < 3 {
		return
	}
	layouts := strings.Split(parts[2], ",")
	if at := b.activeGroup(); len(layouts) > 1 && at < len(layouts) {
		b.group = desk.CleanName(layouts[at])
	}
}

// repeatSlack is by how many milliseconds a repeat of a key may be off its time.
const repeatSlack = 25

// lateSlack is by how many it may be late where it was not looked whether the key was down.
// Nobody lets a key go and presses it again so soon.
const lateSlack = 80

// latestRepeat is how many milliseconds after a press of a key another one is its repeat
// at most.
const latestRepeat = 3000

// repeats tells whether a press is of a key that is held down: one whose release was not
// seen. Where that has gone elsewhere, a repeat is told by its time.
func (b *Board) repeats(e xproto.KeyPressEvent) bool {
	if !b.detects { // a release and a press at the same moment
		return e.Detail == b.released && e.Time == b.releasedTime
	}
	if e.Detail != b.key {
		b.unseen = false
	}
	since := e.Time - b.time
	is := e.Detail == b.key && since < latestRepeat && (!b.unseen || b.inTime(since))
	b.key, b.time, b.on = e.Detail, e.Time, is
	return is
}

// inTime tells whether a repeat of the key that is held may come after so many milliseconds.
// It comes no sooner than the server's controls of the keyboard say. It may be late while the
// key is known to be down, and a little late where nobody has looked, as on a busy machine.
func (b *Board) inTime(since xproto.Timestamp) bool {
	reply, err := b.askXKB(xkbControls, xkbCore, 0)
	if err != nil || len(reply) < 24 {
		return false
	}
	wait := xproto.Timestamp(binary.LittleEndian.Uint16(reply[20:])) // the first time
	if b.on {
		wait = xproto.Timestamp(binary.LittleEndian.Uint16(reply[22:]))
	}
	return since+repeatSlack >= wait && (time.Since(b.seenDown) <= 3*heldCheck || since <= wait+lateSlack)
}

// lets follows the release of a key.
func (b *Board) lets(e xproto.KeyReleaseEvent) {
	b.released, b.releasedTime = e.Detail, e.Time
	if b.key == e.Detail {
		b.key, b.unseen = 0, false
	}
}

// heldCheck is how often the server is asked whether a key is still down whose release
// goes elsewhere.
const heldCheck = 20 * time.Millisecond

// watchHeld follows a key that is held, whoever is told of its release.
func (b *Board) watchHeld() {
	b.unseen = b.key != 0 && b.isDown(byte(b.key))
	switch {
	case b.unseen:
		b.seenDown = time.Now()
		b.home.Wake(time.Now().Add(heldCheck))
	case b.key != 0:
		b.key = 0
	}
}
