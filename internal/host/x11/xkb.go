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
	request := func(minor byte, words ...uint16) []byte {
		b := []byte{r.MajorOpcode, minor}
		b = binary.LittleEndian.AppendUint16(b, uint16(1+len(words)/2))
		for _, w := range words {
			b = binary.LittleEndian.AppendUint16(b, w)
		}
		return b
	}
	ask := func(b []byte) ([]byte, error) {
		c := h.conn.NewCookie(true, true)
		h.conn.NewRequest(b, c)
		return c.Reply()
	}
	if reply, err := ask(request(xkbUse, 1, 0)); err != nil || reply[1] == 0 {
		return false
	}
	h.wire.keyboard.Store(uint32(r.FirstEvent))
	h.conn.NewRequest(request(xkbSelect, xkbCore, xkbChanges, 0, xkbChanges, xkbAllMaps, xkbAllMaps), h.conn.NewCookie(false, false))
	reply, err := ask(request(xkbClientFlags, xkbCore, 0, xkbDetectable, 0, xkbDetectable, 0, 0, 0, 0, 0, 0, 0))
	return err == nil && reply[12]&xkbDetectable != 0
}

// latestRepeat is how long after a press of a key that was not let go of another one is
// still its repeat, in milliseconds: its release may have gone elsewhere.
const latestRepeat = xproto.Timestamp(time.Second / time.Millisecond)

// repeats tells whether a press is of a key that is held down.
func (k *keyboard) repeats(e xproto.KeyPressEvent) bool {
	if !k.detects { // a release and a press at the same moment
		return e.Detail == k.released && e.Time == k.releasedTime
	}
	is := e.Detail == k.held && e.Time-k.heldTime < latestRepeat
	k.held, k.heldTime = e.Detail, e.Time
	return is
}

// lets follows the release of a key.
func (k *keyboard) lets(e xproto.KeyReleaseEvent) {
	k.released, k.releasedTime = e.Detail, e.Time
	if k.held == e.Detail {
		k.held = 0
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
		h.wakeAt(time.Now().Add(heldCheck))
	case h.keys.held != 0:
		h.keys.held = 0
	}
}
