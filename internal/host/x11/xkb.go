package x11

import (
	"encoding/binary"
	"time"

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
	xkbAllMaps     = 0xff // of which parts of a map
	xkbDetectable  = 1    // DetectableAutoRepeat
)

// useXKB has a key that is held down come as presses with no release between them, so
// that it is told from one pressed again, and has changes of the keyboard told: once the
// extension is in use, a MappingNotify is no longer sent for all of them. It tells whether
// the server has it.
func (h *Host) useXKB() bool {
	r, err := xproto.QueryExtension(h.conn, uint16(len(xkbName)), xkbName).Reply()
	if err != nil || !r.Present {
		return false
	}
	h.xkb = r.MajorOpcode
	if reply, err := h.askXKB(xkbUse, 1, 0); err != nil || reply[1] == 0 {
		return false
	}
	h.wire.TellKeyboard(r.FirstEvent)
	h.conn.NewRequest(h.xkbRequest(xkbSelect, xkbCore, xkbChanges, 0, xkbChanges, xkbAllMaps, xkbAllMaps), h.conn.NewCookie(false, false))
	reply, err := h.askXKB(xkbClientFlags, xkbCore, 0, xkbDetectable, 0, xkbDetectable, 0, 0, 0, 0, 0, 0, 0)
	return err == nil && reply[12]&xkbDetectable != 0
}

// xkbRequest is a request of the extension, of words of 16 bits.
func (h *Host) xkbRequest(minor byte, words ...uint16) []byte {
	b := []byte{h.xkb, minor}
	b = binary.LittleEndian.AppendUint16(b, uint16(1+len(words)/2))
	for _, w := range words {
		b = binary.LittleEndian.AppendUint16(b, w)
	}
	return b
}

// askXKB sends a request and waits for the answer, of 32 bytes or more.
func (h *Host) askXKB(minor byte, words ...uint16) ([]byte, error) {
	c := h.conn.NewCookie(true, true)
	h.conn.NewRequest(h.xkbRequest(minor, words...), c)
	return c.Reply()
}

// activeGroup is the group of the layout that is on, the first being 0.
func (h *Host) activeGroup() int {
	if h.xkb == 0 {
		return 0
	}
	reply, err := h.askXKB(xkbState, xkbCore, 0)
	if err != nil || len(reply) < 13 {
		return 0
	}
	return int(reply[12]) & 3
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
func (h *Host) repeats(e xproto.KeyPressEvent) bool {
	k := h.keys
	if !k.detects { // a release and a press at the same moment
		return e.Detail == k.released && e.Time == k.releasedTime
	}
	if e.Detail != k.held {
		k.unseen = false
	}
	since := e.Time - k.heldTime
	is := e.Detail == k.held && since < latestRepeat && (!k.unseen || h.inTime(since))
	k.held, k.heldTime, k.heldOn = e.Detail, e.Time, is
	return is
}

// inTime tells whether a repeat of the key that is held may come after so many milliseconds.
// It comes no sooner than the server's controls of the keyboard say. It may be late while the
// key is known to be down, and a little late where nobody has looked, as on a busy machine.
func (h *Host) inTime(since xproto.Timestamp) bool {
	k := h.keys
	reply, err := h.askXKB(xkbControls, xkbCore, 0)
	if err != nil || len(reply) < 24 {
		return false
	}
	wait := xproto.Timestamp(binary.LittleEndian.Uint16(reply[20:])) // the first time
	if k.heldOn {
		wait = xproto.Timestamp(binary.LittleEndian.Uint16(reply[22:]))
	}
	return since+repeatSlack >= wait && (time.Since(k.seenDown) <= 3*heldCheck || since <= wait+lateSlack)
}

// lets follows the release of a key.
func (k *keyboard) lets(e xproto.KeyReleaseEvent) {
	k.released, k.releasedTime = e.Detail, e.Time
	if k.held == e.Detail {
		k.held, k.unseen = 0, false
	}
}

// heldCheck is how often the server is asked whether a key is still down whose release
// goes elsewhere.
const heldCheck = 20 * time.Millisecond

// ungrabKeyboard gives the keyboard back. The release of a key that is still down goes
// elsewhere then, and is watched for.
func (h *Host) ungrabKeyboard() {
	xproto.UngrabKeyboard(h.conn, xproto.TimeCurrentTime)
	h.watchHeld()
}

// watchHeld follows a key that is held, whoever is told of its release.
func (h *Host) watchHeld() {
	h.keys.unseen = h.keys.held != 0 && h.down(h.keys.held)
	switch {
	case h.keys.unseen:
		h.keys.seenDown = time.Now()
		h.wakeAt(time.Now().Add(heldCheck))
	case h.keys.held != 0:
		h.keys.held = 0
	}
}
