package settings

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// Chord is a key with modifiers, as people write it: Super+Shift+3. Atlas stands for the
// modifiers of the atlas key, which the settings choose.
type Chord struct {
	Atlas, Super, Hyper, Meta, Ctrl, Alt, Shift bool

	Key    string // as in keysyms, or the name of a class: digit, letter, arrow
	Keysym uint32 // of the X protocol; 0 of a class
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

// class is keys that one row of the settings stands for; the word in its command is
// replaced by that of each.
type class struct {
	name, shown string
	keys, words []string
}

var classes = []class{
	{"digit", "1-9", strings.Split("123456789", ""), strings.Split("123456789", "")},
	{"letter", "a-z", strings.Split("ABCDEFGHIJKLMNOPQRSTUVWXYZ", ""), strings.Split("abcdefghijklmnopqrstuvwxyz", "")},
	{"arrow", "arrows", []string{"Left", "Right", "Up", "Down"}, []string{"left", "right", "up", "down"}},
}

// classOf is the class that a chord is of; ok is false for a single key.
func classOf(c Chord) (class, bool) {
	i := slices.IndexFunc(classes, func(k class) bool { return k.name == c.Key })
	if i < 0 || c.Keysym != 0 {
		return class{}, false
	}
	return classes[i], true
}

// modifiers are those of a chord, in their usual order.
func (c *Chord) modifiers() []struct {
	name string
	on   *bool
} {
	return []struct {
		name string
		on   *bool
	}{{"Atlas", &c.Atlas}, {"Super", &c.Super}, {"Hyper", &c.Hyper}, {"Meta", &c.Meta}, {"Ctrl", &c.Ctrl}, {"Alt", &c.Alt}, {"Shift", &c.Shift}}
}

// take turns on the modifier of a name; ok is false for no such.
func (c *Chord) take(name string) (ok bool) {
	for _, m := range c.modifiers() {
		if strings.EqualFold(m.name, name) {
			*m.on = true
			return true
		}
	}
	return false
}

// ParseChord reads a chord. It needs a modifier, so that no key is taken away
// from every program; with the error about that the chord is what was read.
func ParseChord(s string) (Chord, error) {
	var c Chord
	parts := strings.Split(s, "+")
	if strings.HasSuffix(s, "++") { // the key is a plus
		parts = append(strings.Split(strings.TrimSuffix(s, "++"), "+"), "+")
	}
	for _, p := range parts[:len(parts)-1] {
		if !c.take(p) {
			return c, fmt.Errorf("the chord %q has %q, which is no modifier: Atlas, Super, Hyper, Meta, Ctrl, Alt and Shift are", s, p)
		}
	}
	key := parts[len(parts)-1]
	for name, sym := range keysyms {
		if strings.EqualFold(name, key) {
			c.Key, c.Keysym = name, sym
		}
	}
	for _, k := range classes {
		if strings.EqualFold(k.name, key) {
			c.Key = k.name
		}
	}
	if isTyped(key) {
		c.Key, c.Keysym = strings.ToUpper(key), uint32(strings.ToLower(key)[0])
	}
	switch {
	case c.Key == "":
		return c, fmt.Errorf("the chord %q has no key that is known: %q", s, key)
	case !c.Atlas && !c.Super && !c.Hyper && !c.Meta && !c.Ctrl && !c.Alt:
		return c, fmt.Errorf("the chord %q needs Atlas, Super, Hyper, Meta, Ctrl or Alt", s)
	}
	return c, nil
}

// isTyped tells whether a text is one letter, digit or sign of a keyboard.
func isTyped(key string) bool { return len(key) == 1 && key[0] > ' ' && key[0] < 0x7f }

// ParseAtlasKey reads the modifiers that Atlas stands for: one of Super, Alt, Hyper and
// Meta, or two, of which one may be Ctrl.
func ParseAtlasKey(s string) (Chord, error) {
	var c Chord
	parts := strings.Split(s, "+")
	for _, p := range parts {
		if !c.take(p) || c.Atlas || c.Shift {
			return Chord{}, fmt.Errorf("%q is no modifier for the atlas key: Super, Alt, Hyper and Meta are, and Ctrl with one of these", p)
		}
	}
	if len(parts) > 2 || !c.Super && !c.Alt && !c.Hyper && !c.Meta || len(parts) != strings.Count(c.String(), "+") {
		return Chord{}, errors.New("the atlas key is one of Super, Alt, Hyper and Meta, or two of them, or one with Ctrl")
	}
	return c, nil
}

// With is the chord with the modifiers of the atlas key in the place of Atlas.
func (c Chord) With(atlas Chord) Chord {
	if !c.Atlas {
		return c
	}
	c.Atlas = false
	of := atlas.modifiers()
	for i, m := range c.modifiers() {
		*m.on = *m.on || *of[i].on
	}
	return c
}

// String is the chord with its modifiers in their usual order.
func (c Chord) String() string {
	s := ""
	for _, m := range c.modifiers() {
		if *m.on {
			s += m.name + "+"
		}
	}
	return s + c.Key
}
