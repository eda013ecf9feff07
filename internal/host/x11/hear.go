package x11

import (
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/keeper"
)

// hearing is a key that the screens in the atlas window have asked for.
type hearing struct {
	heard func(keeper.Key, error) // nil where none is
	until time.Time
}

// Why no key was told.
var (
	errNotInFront = &keeper.Failure{Code: keeper.NotHere, Words: "keys are listened for in the atlas window alone, while it has the focus; here a chord can be typed"}
	errHeld       = &keeper.Failure{Code: keeper.NotHere, Words: "another program holds the keyboard"}
	errNoKey      = &keeper.Failure{Code: keeper.NotHere, Words: "no key was pressed in ten seconds"}
	errPutAway    = &keeper.Failure{Code: keeper.NotHere, Words: "the atlas window was put away"}
)

// Listen has the next key pressed be told.
func (h *Host) Listen(window string, heard func(keeper.Key, error)) {
	if heard == nil {
		h.stopHearing(errPutAway)
		return
	}
	h.stopHearing(errPutAway)
	if !h.atlas.up || window == "" || window != h.atlas.token || h.ours.on || !h.atlasFocused() {
		heard(keeper.Key{}, errNotInFront)
		return
	}
	r, err := xproto.GrabKeyboard(h.conn, false, h.root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeSync).Reply()
	if err != nil || r.Status != xproto.GrabStatusSuccess {
		heard(keeper.Key{}, errHeld)
		return
	}
	h.hearing = hearing{heard, time.Now().Add(keeper.ListenTime)}
	h.nextKey()
	h.wakeAt(h.hearing.until)
}

// atlasFocused tells whether the atlas window, or a window in it, has the X focus.
func (h *Host) atlasFocused() bool {
	r, err := xproto.GetInputFocus(h.conn).Reply()
	if err != nil {
		return false
	}
	for win := r.Focus; win > xproto.InputFocusPointerRoot && win != h.root; {
		if win == h.atlas.win {
			return true
		}
		t, err := xproto.QueryTree(h.conn, win).Reply()
		if err != nil {
			return false
		}
		win = t.Parent
	}
	return false
}

// hearKey tells the key that was asked for. Modifiers by themselves are waited out.
func (h *Host) hearKey(e xproto.KeyPressEvent) {
	name := h.keys.written(e)
	if name == "" {
		return
	}
	heard := h.hearing.heard
	h.endHearing()
	key, err := h.Probe(name)
	if err != nil { // no chord, such as a letter by itself
		key, err = keeper.Key{Chord: name}, nil
	}
	heard(key, err)
}

func (h *Host) endHearing() {
	h.hearing = hearing{}
	h.ungrabKeyboard()
}

// stopHearing tells why no key is told, where one was asked for.
func (h *Host) stopHearing(why error) {
	if heard := h.hearing.heard; heard != nil {
		h.endHearing()
		heard(keeper.Key{}, why)
	}
}

// hearTick gives up where no key comes, or the window has the focus no more.
func (h *Host) hearTick() {
	switch {
	case h.hearing.heard == nil:
	case !h.atlas.up:
		h.stopHearing(errPutAway)
	case time.Now().Before(h.hearing.until):
		h.wakeAt(h.hearing.until)
	default:
		h.stopHearing(errNoKey)
	}
}

// written is the key of a press as chords are written; empty for a modifier.
func (k *keyboard) written(e xproto.KeyPressEvent) string {
	names := k.names(e.Detail, e.State)
	if len(names) == 0 {
		return ""
	}
	key := names[len(names)-1] // the letter or digit, not the sign
	words, had := "", uint16(0)
	for _, m := range []struct {
		name string
		mask uint16
	}{{"Super", k.Super}, {"Ctrl", xproto.ModMaskControl}, {"Alt", k.Alt}, {"Shift", xproto.ModMaskShift}, {"Hyper", k.Hyper}, {"Meta", k.Meta}} {
		if m.mask != 0 && e.State&m.mask == m.mask && had&m.mask == 0 { // two may be the same
			had |= m.mask
			words += m.name + "+"
		}
	}
	if words == "" || words == "Shift+" && len(key) == 1 {
		return key // a capital says it itself
	}
	return words + upper(key)
}

func upper(key string) string {
	if len(key) == 1 {
		return strings.ToUpper(key)
	}
	return key
}

// Probe tells what would become of a chord: that of the keyboard as it is, and of other
// programs at this moment.
func (h *Host) Probe(name string) (keeper.Key, error) {
	if h.opt.ReadChord == nil {
		return keeper.Key{}, errNotInFront
	}
	c, err := h.opt.ReadChord(name)
	if err != nil {
		return keeper.Key{}, err
	}
	key := keeper.Key{Chord: c.Name, State: keeper.KeyFree}
	if i := slices.IndexFunc(h.opt.Chords, func(o Chord) bool { return same(o, c) }); i >= 0 {
		key.Command, key.State = h.opt.Chords[i].Command, keeper.KeyOurs
	}
	mods, has := h.keys.Of(c.Modifiers)
	codes := h.keys.board.Find(c.Keysym)
	if !has || len(codes) == 0 {
		key.State = keeper.KeyMissing
		return key, nil
	}
	for _, code := range codes {
		if _, ours := h.keys.chords[press{code, mods}]; ours {
			if slices.Contains(h.keys.taken, key.Chord) {
				key.State = keeper.KeyTaken
			}
			continue
		}
		held := xproto.GrabKeyChecked(h.conn, true, h.root, mods, code, xproto.GrabModeAsync, xproto.GrabModeAsync).Check() != nil
		if held {
			key.State = keeper.KeyTaken
			continue
		}
		xproto.UngrabKey(h.conn, code, h.root, mods)
	}
	return key, nil
}

// same tells whether two chords are pressed alike.
func same(a, b Chord) bool {
	return a.Keysym == b.Keysym && a.Modifiers == b.Modifiers && slices.Compare(a.After, b.After) == 0
}
