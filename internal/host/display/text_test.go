package display

import "testing"

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
		if got := CompoundText([]byte(in)); got != want {
			t.Errorf("%q is read as %q, want %q", in, got, want)
		}
	}
}

// Whatever comes, it is read to its end.
func FuzzCompoundText(f *testing.F) {
	f.Add([]byte("\x1b$(BF|\x1b-F\xc1\x1b%Gx"))
	f.Fuzz(func(t *testing.T, in []byte) { CompoundText(in) })
}

func TestUndecorated(t *testing.T) {
	for _, c := range []struct {
		v    []uint32
		want bool
	}{{nil, false}, {[]uint32{2, 0, 0, 0, 0}, true}, {[]uint32{2, 0, 1, 0, 0}, false}, {[]uint32{1, 0, 0, 0, 0}, false}, {[]uint32{2}, false}} {
		if got := Undecorated(c.v); got != c.want {
			t.Errorf("%v: %t", c.v, got)
		}
	}
}
