package board

import (
	"log/slog"
	"slices"
	"strings"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
)

// grabs is the chords as they are grabbed on the root window.
type grabs struct {
	display.Masks
	keymap  display.Keymap
	chords  map[press][]bound
	taken   []string // chords that another program holds
	missing []string // those for which the keyboard has no key or modifier
}

// press is a key with the modifiers that matter.
type press struct {
	code xproto.Keycode
	mods uint16
}

// bound is what a press begins where its key stands for a keysym. In a layout of several groups
// a key may carry several letters; the group tells which is meant.
type bound struct {
	sym uint32
	keys.Start
}

// take has a press begin a chord, or go on to it; it tells whether it does.
func (g *grabs) take(p press, c keys.Chord) bool {
	all := g.chords[p]
	i := slices.IndexFunc(all, func(b bound) bool { return b.sym == c.Keysym })
	if i < 0 {
		i = len(all)
		all = append(all, bound{sym: c.Keysym})
	}
	if !all[i].Take(c) {
		return false
	}
	g.chords[p] = all
	return true
}

// grab takes the chords on a keyboard, each in every state of the locks or in none. One
// that another client holds is reported, and the rest still work. Was is what is grabbed
// already; of that nothing that stays is let go of: a key pressed at that moment must not be
// lost. Mode is whether the keyboard stands still with a press.
func (b *Board) grab(m display.Keymap, was grabs, mode byte) grabs {
	g := grabs{keymap: m, chords: map[press][]bound{}}
	if m.Per == 0 {
		b.home.Log.Warn("the keyboard could not be read, and no chord works")
	} else {
		g.Masks = m.Masks()
	}
	for _, c := range b.opt.Chords {
		codes := m.Find(c.Keysym)
		mods, has := g.Of(c.Modifiers)
		if len(codes) == 0 || !has {
			g.missing = append(g.missing, c.Name)
			continue
		}
		for _, code := range codes {
			g.take(press{code, mods}, c)
		}
	}
	cookies := map[press][]xproto.GrabKeyCookie{}
	for p := range g.chords {
		for _, lock := range g.Locks { // what is typed next, or the key itself, waits for what is to take it
			cookies[p] = append(cookies[p], xproto.GrabKeyChecked(b.home.Conn, true, b.home.Root, p.mods|lock, p.code, xproto.GrabModeAsync, mode))
		}
	}
	held := map[press]bool{}
	for p, cks := range cookies {
		for _, ck := range cks {
			held[p] = ck.Check() != nil || held[p]
		}
		if held[p] {
			b.letGo(p, g.Locks)
			for _, at := range g.chords[p] {
				g.taken = append(g.taken, at.Names()...)
			}
		}
	}
	for p := range was.chords {
		_, stays := g.chords[p]
		b.letGo(p, slices.DeleteFunc(slices.Clone(was.Locks), func(lock uint16) bool { return stays && slices.Contains(g.Locks, lock) }))
	}
	slices.Sort(g.taken)
	g.taken = slices.Compact(g.taken)
	if len(g.missing) > 0 && !slices.Equal(was.missing, g.missing) {
		b.home.Log.Warn("no key of this keyboard stands for them, and these chords cannot be typed: " + strings.Join(g.missing, ", "))
	}
	if len(g.taken) > 0 && !slices.Equal(was.taken, g.taken) {
		b.home.Log.Warn("another program holds chords, and they do not work here: " + strings.Join(g.taken, ", "))
	}
	return g
}

// letGo lets go of a press in some states of the locks.
func (b *Board) letGo(p press, locks []uint16) {
	for _, lock := range locks {
		xproto.UngrabKey(b.home.Conn, p.code, b.home.Root, p.mods|lock)
	}
}

// renew takes the chords of a keyboard that changed, or of other options, where anew is
// true.
func (b *Board) renew(anew bool) {
	if m := display.ReadKeymap(b.home.Conn); anew || !b.keymap.Equal(m) {
		b.grabs = b.grab(m, b.grabs, xproto.GrabModeSync)
	}
	b.readGroup()
}

// Renew takes the chords of a keyboard that may have changed, and those that another
// program held.
func (b *Board) Renew() { b.renew(len(b.taken) > 0) }

// Taken are the chords that another program holds.
func (b *Board) Taken() []string { return b.taken }

// find is what the press of a chord begins, whatever the locks are. Where its key carries
// several letters, the group of the layout is asked for: the event of a grab does not tell it.
func (g *grabs) find(e xproto.KeyPressEvent, group func() int) (keys.Start, bool) {
	mods := e.State & (xproto.ModMaskShift | xproto.ModMaskControl | xproto.ModMask1 | xproto.ModMask2 | xproto.ModMask3 | xproto.ModMask4 | xproto.ModMask5)
	for _, lock := range g.Locks {
		all := g.chords[press{e.Detail, mods &^ lock}]
		if len(all) == 1 && len(g.keymap.Letters(e.Detail)) < 2 {
			return all[0].Start, true
		}
		if len(all) > 0 {
			letter := uint32(g.keymap.Letter(e.Detail, group()))
			i := slices.IndexFunc(all, func(b bound) bool { return b.sym == letter })
			if i < 0 && letter != 0 && display.IsLatin(xproto.Keysym(all[0].sym)) {
				return keys.Start{}, false // in this group the key is another letter, which stands for nothing
			}
			return all[max(i, 0)].Start, true
		}
	}
	return keys.Start{}, false
}

// Keys lists the chords and what becomes of each; those that another program held are tried
// again.
func (b *Board) Keys() (all []keeper.Key) {
	if len(b.taken) > 0 {
		b.renew(true)
	}
	for _, c := range b.opt.Chords {
		all = append(all, keeper.Key{Chord: c.Name, Command: c.Command, State: b.state(c)})
	}
	return all
}

// Tried lists chords that are not taken, and which could be: each is taken for a moment, in
// which the keyboard does not stand still.
func Tried(home Home, chords []keys.Chord) (all []keeper.Key) {
	home.Log = slog.New(slog.DiscardHandler)
	b := &Board{home: home, opt: Options{Chords: chords}}
	b.grabs = b.grab(display.ReadKeymap(home.Conn), grabs{}, xproto.GrabModeAsync)
	for p := range b.chords {
		b.letGo(p, b.Locks)
	}
	for _, c := range chords {
		one := keeper.Key{Chord: c.Name, Command: c.Command, State: b.state(c)}
		if one.State == keeper.KeyOurs {
			one.State = keeper.KeyFree
		}
		all = append(all, one)
	}
	return all
}

// state is what becomes of a chord of ours.
func (b *Board) state(c keys.Chord) keeper.KeyState {
	switch {
	case c.Hidden:
		return keeper.KeyHidden
	case slices.Contains(b.missing, c.Name):
		return keeper.KeyMissing
	case slices.Contains(b.taken, c.Name):
		return keeper.KeyTaken
	}
	return keeper.KeyOurs
}

// Probe tells what would become of a chord: that of the keyboard as it is, and of other
// programs at this moment.
func (b *Board) Probe(name string) (keeper.Key, error) {
	if b.opt.Read == nil {
		return keeper.Key{}, errNotInFront
	}
	c, err := b.opt.Read(name)
	if err != nil {
		return keeper.Key{}, err
	}
	key := keeper.Key{Chord: c.Name, State: keeper.KeyFree}
	if i := slices.IndexFunc(b.opt.Chords, c.Same); i >= 0 {
		key.Command, key.State = b.opt.Chords[i].Command, keeper.KeyOurs
	}
	mods, has := b.Of(c.Modifiers)
	codes := b.keymap.Find(c.Keysym)
	if !has || len(codes) == 0 {
		key.State = keeper.KeyMissing
		return key, nil
	}
	for _, code := range codes {
		p := press{code, mods}
		switch _, ours := b.chords[p]; {
		case ours && !slices.Contains(b.taken, key.Chord):
		case ours || xproto.GrabKeyChecked(b.home.Conn, true, b.home.Root, mods, code, xproto.GrabModeAsync, xproto.GrabModeAsync).Check() != nil:
			key.State = keeper.KeyTaken
		default:
			b.letGo(p, []uint16{0})
		}
	}
	return key, nil
}
