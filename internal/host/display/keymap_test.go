package display

import (
	"testing"

	"github.com/jezek/xgb/xproto"
)

func TestKeysOfAnyGroup(t *testing.T) {
	// Three keys: q in the second group, a digit, and one without Latin letters at all
	// at the place of w on a US keyboard.
	m := Keymap{First: 24, Per: 4, Syms: []xproto.Keysym{
		0x6ca, 0x6ea, 'q', 'Q', 0x6c3, 0x6e3, 0, 0, '2', 0x22, '2', '@'}}
	for sym, want := range map[uint32]byte{'q': 24, 'w': 25, '2': 26, 'a': 38} {
		if got := m.Find(sym); len(got) != 1 || byte(got[0]) != want {
			t.Errorf("%c is on %v, want %d", sym, got, want)
		}
	}
	if m.Letter(24, 0) != 'q' || m.Letter(25, 0) != 'w' || m.Letter(26, 0) != 'e' {
		t.Errorf("the letters are %c %c %c", m.Letter(24, 0), m.Letter(25, 0), m.Letter(26, 0))
	}
	// Where a key carries two letters, the group tells which counts.
	two := Keymap{First: 24, Per: 4, Syms: []xproto.Keysym{'a', 'A', 'q', 'Q', 'z', 'Z', 'w', 'W'}}
	if got := two.Find('q'); len(got) != 1 || got[0] != 24 {
		t.Errorf("q is on %v, want the key of a", got)
	}
	for group, want := range []byte{'a', 'q', 'a', 'a'} {
		if got := two.Letter(24, group); got != want {
			t.Errorf("in group %d the key is %c, want %c", group, got, want)
		}
	}
}
