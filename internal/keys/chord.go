package keys

import (
	"cmp"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// Modifiers are those held with a key or a button.
type Modifiers struct{ Super, Hyper, Meta, Alt, Ctrl, Shift bool }

// Chord is keys of the display, and what they stand for.
type Chord struct {
	Name    string // as people write it, such as Super+Q s 3
	Command string // a command of the grammar, a verb that asks, a screen, or a list
	Hold    bool   // it lasts for as long as the keys are held
	Hidden  bool   // a shorter one stands in its way
	Modifiers
	Keysym uint32
	After  []string // the keys that follow
}

// Same tells whether two chords are pressed alike.
func (c Chord) Same(o Chord) bool {
	return c.Keysym == o.Keysym && c.Modifiers == o.Modifiers && slices.Equal(c.After, o.After)
}

// Start is what the press of a chord begins.
type Start struct {
	own  Chord   // what it stands for itself; without a name for nothing
	more []Chord // those that go on with further keys, where it stands for nothing itself
}

// Take has the press begin a chord, or go on to it; it tells whether it does.
func (s *Start) Take(c Chord) bool {
	switch {
	case len(c.After) > 0 && !c.Hidden:
		s.more = append(s.more, c)
	case len(c.After) == 0 && s.own.Name == "":
		s.own = c
	default:
		return false
	}
	return true
}

// Names are the chords that it takes.
func (s Start) Names() (names []string) {
	if s.own.Name != "" {
		names = append(names, s.own.Name)
	}
	for _, c := range s.more {
		names = append(names, c.Name)
	}
	return names
}

// name is the chord as people write it.
func (s Start) name() string {
	if s.own.Name != "" {
		return strings.TrimPrefix(s.own.Name, "hold ")
	}
	name, _, _ := strings.Cut(s.more[0].Name, " ")
	return name
}

// listens tells whether keys that follow the press are, or may be, ours, so that none may
// go elsewhere meanwhile.
func (s Start) listens() bool {
	if s.own.Name == "" {
		return true
	}
	if s.own.Hold {
		return slices.Contains(prompt.Lists(), s.own.Command)
	}
	if _, asks := prompt.Asked(s.own.Command); asks || prompt.IsDeed(s.own.Command) {
		return true
	}
	c, err := lang.ParseCommand(s.own.Command)
	v, _ := desk.FindVerb(c.Verb)
	return err == nil && v.Sure != nil
}

// sequence is what may follow the chord.
func (s Start) sequence() prompt.Prompt { return following(s.name(), s.more, 0) }

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

// does is what a command does, after the command itself where its arguments say more than that.
func does(command string) string {
	help := prompt.Does(command, false)
	switch {
	case help == "":
		return command
	case prompt.Phrase(command) == "" && strings.Contains(command, " "):
		return command + ": " + help
	}
	return help
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
