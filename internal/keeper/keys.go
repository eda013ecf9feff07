package keeper

import (
	"context"
	"time"
)

// KeyState is what becomes of a chord of the display.
type KeyState string

// The states of chords. X does not tell which program has taken one.
const (
	KeyOurs    KeyState = "ours"   // it comes to the keeper
	KeyTaken   KeyState = "taken"  // another program holds it
	KeyFree    KeyState = "free"   // it stands for nothing, and could
	KeyMissing KeyState = "no key" // no key, or no modifier, of this keyboard stands for it
	KeyHidden  KeyState = "hidden" // a shorter one stands for something, and comes before it
)

// Key is a chord of the display, what it stands for, and what becomes of it.
type Key struct {
	Chord   string   `json:"chord"`
	Command string   `json:"command"`
	State   KeyState `json:"state"`
}

// keyboard is a host that has chords. What is told is told once, on any goroutine.
type keyboard interface {
	// Keys lists the chords, those that another program held tried again.
	Keys(told func([]Key))
	// Probe tells what would become of a chord, as people write it.
	Probe(chord string, told func(Key, error))
	// Listen tells the next key that is pressed, or why none was. It works while the host's own
	// window of screens has the focus, which a word shared with them proves. Listen of nothing
	// ends that.
	Listen(window string, told func(Key, error))
}

// KeyAsk is what is asked of a chord: with Chord, what would become of that one; else
// which is pressed next, in the window of the host's that is known by Window.
type KeyAsk struct {
	Chord  string `json:"chord,omitempty"`
	Window string `json:"window,omitempty"`
}

// keyRequest is a KeyAsk on its way.
type keyRequest struct {
	KeyAsk
	stop  bool
	reply chan keyReply
}

type keyReply struct {
	key Key
	err error
}

// Key tells what would become of a chord, or which is pressed next.
func (k *Keeper) Key(ctx context.Context, ask KeyAsk) (Key, error) {
	r := keyRequest{KeyAsk: ask, reply: make(chan keyReply, 1)}
	if err := k.send(ctx, request{key: &r}); err != nil {
		return Key{}, err
	}
	select {
	case got := <-r.reply:
		return got.key, got.err
	case <-ctx.Done():
		stop, cancel := context.WithTimeout(context.Background(), time.Second)
		defer cancel()
		k.send(stop, request{key: &keyRequest{stop: true}})
		return Key{}, ctx.Err()
	case <-k.done:
		return Key{}, ErrGone
	}
}

// askKey answers a KeyAsk, at once or when a key is pressed.
func (k *Keeper) askKey(r *keyRequest) {
	board, ok := k.host.(keyboard)
	tell := func(key Key, err error) { r.reply <- keyReply{key, err} }
	switch {
	case r.stop && ok:
		k.guard.Run("ending to listen", func() { board.Listen("", nil) })
	case r.stop:
	case !ok:
		tell(Key{}, &Failure{NotHere, "there are no chords here"})
	case r.Chord != "":
		k.guard.Run("trying a chord", func() { board.Probe(r.Chord, tell) })
	default:
		k.guard.Run("listening for a key", func() { board.Listen(r.Window, tell) })
	}
}

// Keys lists the chords of the display; none where the host has none.
func (k *Keeper) Keys(ctx context.Context) ([]Key, error) {
	r := request{keys: make(chan []Key, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	select {
	case keys := <-r.keys:
		return keys, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	case <-k.done:
		return nil, ErrGone
	}
}

// askKeys asks the host for its chords.
func (k *Keeper) askKeys(told chan<- []Key) {
	board, ok := k.host.(keyboard)
	if !ok || !k.guard.Run("listing the chords", func() { board.Keys(func(keys []Key) { told <- keys }) }) {
		told <- nil
	}
}
