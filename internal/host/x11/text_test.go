package x11

import (
	"testing"

	"github.com/jezek/xgb/xproto"
)

func TestCompoundText(t *testing.T) {
	for in, want := range map[string]string{
		"plain":                   "plain",
		"caf\xe9":                 "café",
		"\x1b-F\xc1\xe2\xe3 x":    "Αβγ x",
		"\x1b-L\xba\xd8\xdd\xde":  "Кино",
		"a\x1b-B\xb1\x1b-A\xe9":   "aąé",
		"\x1b$(BF|K\x5c\x1b(B ok": "日本 ok",
		"\x1b$)A\xd6\xd0\xce\xc4": "中文",
		"\x1b$(CGQ1\x5b\x1b(B!":   "한글!",
		"\x1b%G漢字\x1b%@ end":      "漢字 end",
		"\x1b%/2??":               "??",
		"\x1b":                    "",
		"":                        "",
		"\x1b$(B":                 "",
		"tail\x1b-":               "tail",
	} {
		if got := compoundText([]byte(in)); got != want {
			t.Errorf("%q is read as %q, want %q", in, got, want)
		}
	}
}

// Whatever comes, it is read to its end.
func FuzzCompoundText(f *testing.F) {
	f.Add([]byte("\x1b$(BF|\x1b-F\xc1\x1b%Gx"))
	f.Fuzz(func(t *testing.T, in []byte) { compoundText(in) })
}

func TestKeysOfAnyGroup(t *testing.T) {
	// Three keys: q in the second group, a digit, and one without Latin letters at all
	// at the place of w on a US keyboard.
	m := keymap{first: 24, per: 4, syms: []xproto.Keysym{
		0x6ca, 0x6ea, 'q', 'Q', 0x6c3, 0x6e3, 0, 0, '2', 0x22, '2', '@'}}
	for sym, want := range map[uint32]byte{'q': 24, 'w': 25, '2': 26, 'a': 38} {
		if got := m.find(sym); len(got) != 1 || byte(got[0]) != want {
			t.Errorf("%c is on %v, want %d", sym, got, want)
		}
	}
	if m.letter(24, 0) != 'q' || m.letter(25, 0) != 'w' || m.letter(26, 0) != 'e' {
		t.Errorf("the letters are %c %c %c", m.letter(24, 0), m.letter(25, 0), m.letter(26, 0))
	}
	// Where a key carries two letters, the group tells which counts.
	two := keymap{first: 24, per: 4, syms: []xproto.Keysym{'a', 'A', 'q', 'Q', 'z', 'Z', 'w', 'W'}}
	if got := two.find('q'); len(got) != 1 || got[0] != 24 {
		t.Errorf("q is on %v, want the key of a", got)
	}
	for group, want := range []byte{'a', 'q', 'a', 'a'} {
		if got := two.letter(24, group); got != want {
			t.Errorf("in group %d the key is %c, want %c", group, got, want)
		}
	}
}

func TestUndecorated(t *testing.T) {
	for _, c := range []struct {
		v    []uint32
		want bool
	}{{nil, false}, {[]uint32{2, 0, 0, 0, 0}, true}, {[]uint32{2, 0, 1, 0, 0}, false}, {[]uint32{1, 0, 0, 0, 0}, false}, {[]uint32{2}, false}} {
		if got := undecorated(c.v); got != c.want {
			t.Errorf("%v: %t", c.v, got)
		}
	}
}
