package x11

import (
	"cmp"
	"slices"
	"strings"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// start is what the press of a chord begins.
type start struct {
	own  Chord   // what it stands for itself; without a name for nothing
	more []Chord // those that go on with further keys, where it stands for nothing itself
}

// name is the chord as people write it.
func (s start) name() string {
	if s.own.Name != "" {
		return strings.TrimPrefix(s.own.Name, "hold ")
	}
	name, _, _ := strings.Cut(s.more[0].Name, " ")
	return name
}

// listens tells whether keys that follow the press are, or may be, ours, so that none may
// go elsewhere meanwhile.
func (s start) listens() bool {
	if s.own.Name == "" {
		return true
	}
	if s.own.Hold {
		return slices.Contains(prompt.Lists(), s.own.Command)
	}
	if _, asks := prompt.Asked(s.own.Command); asks || slices.Contains(prompt.Screens(), s.own.Command) {
		return true
	}
	c, err := lang.ParseCommand(s.own.Command)
	v, _ := desk.FindVerb(c.Verb)
	return err == nil && v.Sure != nil
}

// sequence is what may follow the chord.
func (s start) sequence() prompt.Prompt { return following(s.name(), s.more, 0) }

// following is what may follow so many keys after a chord.
func following(lead string, chords []Chord, n int) prompt.Prompt {
	p := prompt.Prompt{Lead: lead}
	for _, c := range chords {
		key := c.After[n]
		if slices.ContainsFunc(p.Choices, func(o prompt.Choice) bool { return o.Key == key }) {
			continue
		}
		var more []Chord
		for _, o := range chords {
			if o.After[n] == key && len(o.After) > n+1 {
				more = append(more, o)
			}
		}
		one := prompt.Choice{Key: key, Does: does(c.Command), Deed: c.Command}
		if len(c.After) > n+1 {
			one.Deed, one.Does = "", "more: "+begun(more)
			one.Next = func() prompt.Prompt { return following(lead+" "+key, more, n+1) }
		}
		p.Choices = append(p.Choices, one)
	}
	slices.SortStableFunc(p.Choices, func(a, b prompt.Choice) int { // a before A before b
		return cmp.Or(strings.Compare(strings.ToLower(a.Key), strings.ToLower(b.Key)), strings.Compare(b.Key, a.Key))
	})
	return p
}

// does is a command and what it does.
func does(command string) string {
	if help := prompt.Does(command, false); help != "" {
		return command + ": " + help
	}
	return command
}

// begun are the first words of what chords stand for, for the card of what comes before.
func begun(chords []Chord) string {
	var words []string
	for _, c := range chords {
		if verb, _, _ := strings.Cut(c.Command, " "); !slices.Contains(words, verb) {
			words = append(words, verb)
		}
	}
	return strings.Join(words, ", ")
}

// keyNames are the keys that have names, by their keysyms (X protocol, appendix A), those
// of the number pad among them.
var keyNames = map[xproto.Keysym]string{
	0xff09: "Tab", 0xfe20: "Tab", 0xff0d: "Return", 0xff8d: "Return", 0xff1b: "Escape", 0xff08: "BackSpace", 0x20: "Space",
	0xff51: "Left", 0xff52: "Up", 0xff53: "Right", 0xff54: "Down", 0xff96: "Left", 0xff97: "Up", 0xff98: "Right", 0xff99: "Down",
	0xff50: "Home", 0xff57: "End", 0xff55: "PageUp", 0xff56: "PageDown", 0xff63: "Insert", 0xffff: "Delete", 0xff61: "Print", 0xff13: "Pause", 0xff67: "Menu",
	0xffbe: "F1", 0xffbf: "F2", 0xffc0: "F3", 0xffc1: "F4", 0xffc2: "F5", 0xffc3: "F6", 0xffc4: "F7", 0xffc5: "F8", 0xffc6: "F9", 0xffc7: "F10", 0xffc8: "F11", 0xffc9: "F12",
}

// names are what a key stands for, as typed with Shift or without, in the order in which
// they are meant: a sign, which depends on Shift, before the digit and the letter of its
// key, which do not but for a capital. None for a modifier.
func (k *keyboard) names(code xproto.Keycode, state uint16) []string {
	if slices.Contains(k.board.Mods, code) {
		return nil
	}
	at := int(code-k.board.First) * k.board.Per
	if code < k.board.First || at < 0 || at+k.board.Per > len(k.board.Syms) {
		return []string{"that key"}
	}
	shift := state&xproto.ModMaskShift != 0
	var signs, digits []string
	for i, sym := range k.board.Syms[at : at+k.board.Per] {
		switch name, named := keyNames[sym]; {
		case named:
			return []string{name}
		case sym >= '0' && sym <= '9':
			digits = append(digits, string(rune(sym)))
		case sym >= 0xffb0 && sym <= 0xffb9: // of the number pad
			digits = append(digits, string(rune('0'+sym-0xffb0)))
		case sym > ' ' && sym < 0x7f && !display.IsLatin(sym) && !(sym >= 'A' && sym <= 'Z') && (i%2 == 1) == shift:
			signs = append(signs, string(rune(sym)))
		}
	}
	names := append(signs, digits...)
	if l := k.board.Letter(code, group(state)); l != 0 {
		letter := string(rune(l))
		if shift {
			letter = strings.ToUpper(letter)
		}
		names = append(names, letter)
	}
	if len(names) == 0 {
		return []string{"that key"}
	}
	return slices.Compact(names)
}
