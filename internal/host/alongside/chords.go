package alongside

import (
	"slices"
	"strings"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
)

// Chord is one press of the display's keyboard and the command that it stands for. More
// than one press, what asks, and lists that are held, are for a keeper: here another
// program has the keyboard.
type Chord struct {
	Name    string // as people write it
	Words   string // the command, as they write it
	Command desk.Command
	display.Modifiers
	Keysym uint32
}

// pressed is a key with the modifiers that matter.
type pressed struct {
	code xproto.Keycode
	mods uint16
}

// board is the grabs of chords.
type board struct {
	asked   []Chord // those that were asked for
	list    []Chord // those of them whose command can be had here
	keymap  display.Keymap
	masks   display.Masks
	chords  map[pressed]Chord
	taken   []string // chords that another program holds
	missing []string // those for which the keyboard has no key or modifier
}

// Configure has other chords be taken.
func (h *Host) Configure(chords []Chord) {
	h.mu.Lock()
	h.chords = &chords
	h.mu.Unlock()
	h.queue.signal()
}

// grab takes the chords that are free, where there are any. The manager's own, and those of
// other programs, stay theirs.
func (h *Host) grab(chords []Chord) {
	if len(chords) == 0 && h.board == nil {
		return
	}
	b := &board{asked: chords, list: h.possible(chords), keymap: display.ReadKeymap(h.conn), chords: map[pressed]Chord{}}
	b.masks = b.keymap.Masks()
	if old := h.board; old != nil {
		if old.keymap.Equal(b.keymap) && slices.Equal(old.names(), b.names()) {
			return
		}
		for p := range old.chords {
			for _, lock := range old.masks.Locks {
				xproto.UngrabKey(h.conn, p.code, h.root, p.mods|lock)
			}
		}
	}
	for _, c := range b.list {
		mods, has := b.masks.Of(c.Modifiers)
		codes := b.keymap.Find(c.Keysym)
		if !has || len(codes) == 0 {
			b.missing = append(b.missing, c.Name)
			continue
		}
		for _, code := range codes {
			if p := (pressed{code, mods}); b.chords[p].Name == "" && h.grabs(b, p) {
				b.chords[p] = c
			} else if !slices.Contains(b.taken, c.Name) {
				b.taken = append(b.taken, c.Name)
			}
		}
	}
	h.mu.Lock()
	h.board = b
	h.mu.Unlock()
	if len(b.taken) > 0 {
		h.log.Info("another program holds chords, and they stay its own: " + strings.Join(b.taken, ", "))
	}
}

// possible are the chords whose command the manager leaves possible.
func (h *Host) possible(chords []Chord) []Chord {
	lacks := h.lacks()
	return slices.DeleteFunc(slices.Clone(chords), func(c Chord) bool {
		v, _ := desk.FindVerb(c.Command.Verb)
		return v.Never != "" || slices.Contains(lacks, v.Name)
	})
}

// names are the chords and what they stand for.
func (b *board) names() (names []string) {
	for _, c := range b.list {
		names = append(names, c.Name+" "+c.Words)
	}
	return names
}

// grabs takes a key in every state of the locks, or in none.
func (h *Host) grabs(b *board, p pressed) bool {
	var cookies []xproto.GrabKeyCookie
	for _, lock := range b.masks.Locks {
		cookies = append(cookies, xproto.GrabKeyChecked(h.conn, true, h.root, p.mods|lock, p.code, xproto.GrabModeAsync, xproto.GrabModeAsync))
	}
	all := true
	for _, ck := range cookies {
		all = ck.Check() == nil && all
	}
	if !all {
		for _, lock := range b.masks.Locks {
			xproto.UngrabKey(h.conn, p.code, h.root, p.mods|lock)
		}
	}
	return all
}

// press follows a key that was grabbed.
func (h *Host) press(e xproto.KeyPressEvent) {
	if h.board == nil {
		return
	}
	const all = xproto.ModMaskShift | xproto.ModMaskControl | xproto.ModMask1 | xproto.ModMask2 | xproto.ModMask3 | xproto.ModMask4 | xproto.ModMask5
	for _, lock := range h.board.masks.Locks {
		if c, ok := h.board.chords[pressed{e.Detail, e.State & all &^ lock}]; ok {
			command := c.Command
			h.pressed = append(h.pressed, keeper.Event{Command: &command, Source: keeper.Chord})
			return
		}
	}
}

// Keys lists the chords and what became of each.
func (h *Host) Keys() (keys []keeper.Key) {
	h.mu.Lock()
	b := h.board
	h.mu.Unlock()
	if b == nil {
		return nil
	}
	for _, c := range b.list {
		k := keeper.Key{Chord: c.Name, Command: c.Words, State: keeper.KeyOurs}
		switch {
		case slices.Contains(b.missing, c.Name):
			k.State = keeper.KeyMissing
		case slices.Contains(b.taken, c.Name):
			k.State = keeper.KeyTaken
		}
		keys = append(keys, k)
	}
	return keys
}

// Probe has no chord tried: which are free is the manager's to say.
func (h *Host) Probe(string) (keeper.Key, error) { return keeper.Key{}, errNoProbe }

// Listen tells of no key.
func (h *Host) Listen(_ string, heard func(keeper.Key, error)) {
	if heard != nil {
		heard(keeper.Key{}, errNoProbe)
	}
}

var errNoProbe error = &keeper.Failure{Code: keeper.NotHere, Words: "chords are recorded where zatlas keeps the display itself"}
