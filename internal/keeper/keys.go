package keeper

import "context"

// KeyState is what becomes of a chord of the display.
type KeyState string

// The states of chords. X does not tell which program has taken one.
const (
	KeyOurs    KeyState = "ours"   // it comes to the keeper
	KeyTaken   KeyState = "taken"  // another program holds it
	KeyMissing KeyState = "no key" // no key, or no modifier, of this keyboard stands for it
	KeyHidden  KeyState = "hidden" // a shorter one stands for something, and comes before it
)

// Key is a chord of the display, what it stands for, and what becomes of it.
type Key struct {
	Chord   string   `json:"chord"`
	Command string   `json:"command"`
	State   KeyState `json:"state"`
}

// keyboard is a host that has chords.
type keyboard interface {
	// Keys lists the chords, those that another program held tried again.
	Keys() []Key
}

// Keys lists the chords of the display; none where the host has none.
func (k *Keeper) Keys(ctx context.Context) ([]Key, error) {
	r := request{keys: make(chan []Key, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.keys, nil
}

// keys asks the host for its chords.
func (k *Keeper) keys() (keys []Key) {
	if board, ok := k.host.(keyboard); ok {
		k.guard.Run("listing the chords", func() { keys = board.Keys() })
	}
	return keys
}
