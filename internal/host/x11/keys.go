package x11

import (
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
)

// Modifiers are those held with a key or a button.
type Modifiers = display.Modifiers

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

// keyboard is the grabs of our chords on the root window.
type keyboard struct {
	chords map[press][]bound
	board  display.Keymap
	display.Masks
	atlas uint16 // those of the atlas key; 0 where the keyboard has not all
	taken []string
	lacks []string // chords for which the keyboard has no key or modifier

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

// grabKeys takes the chords, each in every state of the locks. One that
// another client holds is reported, and the rest still work.
func (h *Host) grabKeys(m display.Keymap) *keyboard {
	k := &keyboard{chords: map[press][]bound{}, board: m}
	if m.Per == 0 {
		h.log.Warn("the keyboard could not be read, and no chord works")
		return k
	}
	k.Masks = m.Masks()
	var has bool
	if k.atlas, has = k.Of(h.opt.AtlasKey); !has {
		h.log.Warn("this keyboard has no such modifier, and the atlas key does not work: keeper.atlas_key names another")
		k.atlas = 0
	}
	h.grabButtons(k)
	cookies := map[press][]xproto.GrabKeyCookie{}
	names := map[press][]string{}
	var missing []string
	for _, c := range h.opt.Chords {
		codes := m.Find(c.Keysym)
		mods, has := k.Of(c.Modifiers)
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
	for p := range k.chords {
		for _, lock := range k.Locks { // what is typed next, or the key itself, waits for what is to take it
			cookies[p] = append(cookies[p], xproto.GrabKeyChecked(h.conn, true, h.root, p.mods|lock, p.code, xproto.GrabModeAsync, xproto.GrabModeSync))
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

// renew takes the chords of a keyboard that changed, or of other settings, where
// anew is true. Those that stay are never let go of: a key pressed at that
// moment must not be lost.
func (k *keyboard) renew(h *Host, anew bool) *keyboard {
	m := display.ReadKeymap(h.conn)
	if !anew && k.board.Equal(m) {
		return k
	}
	next := h.grabKeys(m)
	next.detects, next.unseen, next.seenDown, next.heldOn, next.held, next.heldTime, next.released, next.releasedTime = k.detects, k.unseen, k.seenDown, k.heldOn, k.held, k.heldTime, k.released, k.releasedTime
	for p := range k.chords {
		if _, stays := next.chords[p]; stays && slices.Equal(k.Locks, next.Locks) {
			continue
		}
		for _, lock := range k.Locks {
			if _, stays := next.chords[p]; !stays || !slices.Contains(next.Locks, lock) {
				xproto.UngrabKey(h.conn, p.code, h.root, p.mods|lock)
			}
		}
	}
	for _, lock := range k.Locks {
		if k.atlas == 0 || k.atlas == next.atlas && slices.Contains(next.Locks, lock) {
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
func (h *Host) keyPress(e xproto.KeyPressEvent) { h.keyDown(e, h.repeats(e)) }

// keyDown follows a key of which it is known whether it is a repeat: one that had to wait
// is looked at again, and is none by that.
func (h *Host) keyDown(e xproto.KeyPressEvent, repeated bool) {
	h.input = e.Time
	defer func() {
		if cause := recover(); cause != nil { // the keyboard must not stand still for it
			h.giveBack()
			h.thaw(e.Time)
			panic(cause)
		}
	}()
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
		asked := len(h.events)
		if at.own.Hold {
			h.peekAt(at.own, e, repeated)
		} else {
			h.chord(at.own.Command, repeated)
		}
		if len(h.events) > asked {
			h.keepTyped(e.Time)
		} else {
			h.thaw(e.Time)
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

// typedTime is how long keys typed after a chord wait for its command at most: they are
// meant for the window that has the focus after it. Only a command that needs a file takes
// as long as that.
const typedTime = 50 * time.Millisecond

// keepTyped has keys wait from the press of a chord on until its command is done.
func (h *Host) keepTyped(since xproto.Timestamp) {
	h.typedSince, h.typedUntil = since, time.Now().Add(typedTime)
	h.wakeAt(h.typedUntil)
}

// letTyped lets them go to what has the focus.
func (h *Host) letTyped() {
	if !h.typedUntil.IsZero() {
		h.typedUntil = time.Time{}
		h.thaw(h.typedSince)
	}
}

// typedTick lets them go where the command takes longer.
func (h *Host) typedTick() {
	if !h.typedUntil.IsZero() && time.Now().After(h.typedUntil) {
		h.letTyped()
	}
}

// chord is the chord of a press, whatever the locks are. Where its key carries several
// letters, the group of the layout is asked for: the event of a grab does not tell it.
func (k *keyboard) chord(e xproto.KeyPressEvent, group func() int) (start, bool) {
	mods := e.State & (xproto.ModMaskShift | xproto.ModMaskControl | xproto.ModMask1 | xproto.ModMask2 | xproto.ModMask3 | xproto.ModMask4 | xproto.ModMask5)
	for _, lock := range k.Locks {
		all := k.chords[press{e.Detail, mods &^ lock}]
		if len(all) == 1 && len(k.board.Letters(e.Detail)) < 2 {
			return all[0].start, true
		}
		if len(all) > 0 {
			letter := uint32(k.board.Letter(e.Detail, group()))
			i := slices.IndexFunc(all, func(b bound) bool { return b.sym == letter })
			if i < 0 && letter != 0 && display.IsLatin(xproto.Keysym(all[0].sym)) {
				return start{}, false // in this group the key is another letter, which stands for nothing
			}
			return all[max(i, 0)].start, true
		}
	}
	return start{}, false
}
