package settings

import (
	"fmt"
	"strings"
)

// Chord is a key with modifiers, as people write it: Super+Shift+3.
type Chord struct {
	Super, Shift, Ctrl, Alt bool
	Key                     string // as in keysyms
	Keysym                  uint32 // of the X protocol
}

// keysyms are the keys that have names (X protocol, appendix A). Letters,
// digits and signs stand for themselves.
var keysyms = map[string]uint32{
	"Tab": 0xff09, "Return": 0xff0d, "Escape": 0xff1b, "BackSpace": 0xff08, "Delete": 0xffff, "Insert": 0xff63,
	"Home": 0xff50, "End": 0xff57, "PageUp": 0xff55, "PageDown": 0xff56, "Print": 0xff61, "Pause": 0xff13, "Menu": 0xff67,
	"Left": 0xff51, "Up": 0xff52, "Right": 0xff53, "Down": 0xff54, "Space": 0x20,
	"F1": 0xffbe, "F2": 0xffbf, "F3": 0xffc0, "F4": 0xffc1, "F5": 0xffc2, "F6": 0xffc3,
	"F7": 0xffc4, "F8": 0xffc5, "F9": 0xffc6, "F10": 0xffc7, "F11": 0xffc8, "F12": 0xffc9,
}

// ParseChord reads a chord. It needs a modifier, so that no key is taken away
// from every program.
func ParseChord(s string) (Chord, error) {
	var c Chord
	parts := strings.Split(s, "+")
	if strings.HasSuffix(s, "++") { // the key is a plus
		parts = append(strings.Split(strings.TrimSuffix(s, "++"), "+"), "+")
	}
	for _, p := range parts[:len(parts)-1] {
		flag := map[string]*bool{"super": &c.Super, "shift": &c.Shift, "ctrl": &c.Ctrl, "alt": &c.Alt}[strings.ToLower(p)]
		if flag == nil {
			return c, fmt.Errorf("the chord %q has %q, which is no modifier: Super, Shift, Ctrl and Alt are", s, p)
		}
		*flag = true
	}
	key := parts[len(parts)-1]
	for name, sym := range keysyms {
		if strings.EqualFold(name, key) {
			c.Key, c.Keysym = name, sym
		}
	}
	if len(key) == 1 && key[0] > ' ' && key[0] < 0x7f {
		c.Key, c.Keysym = strings.ToUpper(key), uint32(strings.ToLower(key)[0])
	}
	switch {
	case c.Key == "":
		return c, fmt.Errorf("the chord %q has no key that is known: %q", s, key)
	case !c.Super && !c.Ctrl && !c.Alt:
		return c, fmt.Errorf("the chord %q needs Super, Ctrl or Alt", s)
	}
	return c, nil
}

// String is the chord with its modifiers in their usual order.
func (c Chord) String() string {
	s := ""
	for _, m := range []struct {
		on   bool
		name string
	}{{c.Super, "Super+"}, {c.Ctrl, "Ctrl+"}, {c.Alt, "Alt+"}, {c.Shift, "Shift+"}} {
		if m.on {
			s += m.name
		}
	}
	return s + c.Key
}
