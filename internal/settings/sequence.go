package settings

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Keys are what is pressed for a command: a chord, and perhaps keys after it. The zero
// value is none.
type Keys struct {
	Hold  bool // the command lasts for as long as the chord is held
	Chord Chord
	After string // the keys that follow, as they are typed, with blanks between them
}

// hold begins a row whose command lasts for as long as the chord is held.
const hold = "hold "

// maxAfter is how many keys follow a chord at most.
const maxAfter = 32

// followers are the keys with names that can follow a chord. Escape and Backspace lead
// out of a sequence.
var followers = []string{"Left", "Right", "Up", "Down", "Tab", "Return", "Space", "Home", "End", "PageUp", "PageDown"}

// ParseKeys reads the keys of a row: a chord, or a chord and the keys that follow it, such as
// Atlas+Q s 3. A capital is the letter with Shift.
func ParseKeys(s string) (Keys, error) {
	var k Keys
	rest, held := strings.CutPrefix(s, hold)
	k.Hold = held
	words := strings.Fields(rest)
	if len(words) == 0 {
		_, err := ParseChord("")
		return k, err
	}
	c, err := ParseChord(words[0])
	if err != nil {
		return k, err
	}
	k.Chord = c
	after := words[1:]
	for i, w := range after {
		if after[i], err = follower(w); err != nil {
			return k, fmt.Errorf("the keys %q have %w", s, err)
		}
	}
	k.After = strings.Join(after, " ")
	switch {
	case len(after) > maxAfter:
		return k, fmt.Errorf("the keys %q are too many: %d can follow a chord", s, maxAfter)
	case held && k.After != "":
		return k, fmt.Errorf("the keys %q cannot be held: hold takes one chord", s)
	case len(k.classes()) > 1:
		return k, fmt.Errorf("the keys %q have more than one of digit, letter and arrow", s)
	}
	return k, nil
}

// follower is a key after a chord as it is usually written.
func follower(word string) (string, error) {
	if isTyped(word) {
		return word, nil
	}
	all := slices.Clone(followers)
	for _, k := range classes {
		all = append(all, k.name)
	}
	if i := slices.IndexFunc(all, func(name string) bool { return strings.EqualFold(name, word) }); i >= 0 {
		return all[i], nil
	}
	return "", fmt.Errorf("%q, which is no key that can follow a chord: letters, digits and signs can, and %s", word, strings.Join(followers, ", "))
}

// String is the row as it is usually written.
func (k Keys) String() string {
	s := k.Chord.String()
	if k.Hold {
		s = hold + s
	}
	if k.After != "" {
		s += " " + k.After
	}
	return s
}

// pressed is what is pressed with an atlas key, held or not.
func (k Keys) pressed(atlas Chord) Keys { return Keys{Chord: k.Chord.With(atlas), After: k.After} }

// Resolved are keys with the modifiers of the atlas key in the place of Atlas.
func (s Settings) Resolved(k Keys) Keys {
	if atlas, err := ParseAtlasKey(s.AtlasKey()); err == nil {
		k.Chord = k.Chord.With(atlas)
	}
	return k
}

// begins tells whether what is pressed for keys is the beginning of what is pressed for
// others, so that those can never be typed.
func (k Keys) begins(o Keys) bool {
	return k.Chord == o.Chord && k.After != o.After && (k.After == "" || strings.HasPrefix(o.After, k.After+" "))
}

// classes are those that the keys have.
func (k Keys) classes() (all []class) {
	if c, is := classOf(k.Chord); is {
		all = append(all, c)
	}
	for _, w := range strings.Fields(k.After) {
		if i := slices.IndexFunc(classes, func(c class) bool { return c.name == w }); i >= 0 {
			all = append(all, classes[i])
		}
	}
	return all
}

// class is the one whose keys these stand for; ok is false for none.
func (k Keys) class() (c class, ok bool) {
	if all := k.classes(); len(all) > 0 {
		return all[0], true
	}
	return class{}, false
}

// of are the keys with one of a class in its place, by its number.
func (k Keys) of(c class, i int) Keys {
	if _, is := classOf(k.Chord); is {
		k.Chord.Key = c.keys[i]
		k.Chord.Keysym = keysyms[c.keys[i]]
		if isTyped(c.keys[i]) {
			k.Chord.Keysym = uint32(strings.ToLower(c.keys[i])[0])
		}
		return k
	}
	k.After = c.replaced(k.After, typed(c.keys[i]))
	return k
}

// InClassOf are the keys with the class of others in the place of one of its keys, such as
// digit for 3. The error is that of keys that have none of that class.
func (k Keys) InClassOf(o Keys) (Keys, error) {
	c, is := o.class()
	if !is {
		return k, nil
	}
	words := strings.Fields(k.After)
	for i := range c.keys {
		switch key := typed(c.keys[i]); {
		case k.Chord.Key == c.keys[i] && k.After == "":
			k.Chord.Key, k.Chord.Keysym = c.name, 0
			return k, nil
		case len(words) > 0 && words[len(words)-1] == key:
			words[len(words)-1] = c.name
			k.After = strings.Join(words, " ")
			return k, nil
		}
	}
	return k, fmt.Errorf("this row is one for each %s: press the chord with one of these, %s", c.name, c.shown)
}

// typed is a key of a class as it is typed after a chord.
func typed(key string) string {
	if isTyped(key) {
		return strings.ToLower(key)
	}
	return key
}

// Bound is keys of the display and what they stand for.
type Bound struct {
	Keys
	Command string
	Row     string // of the settings that says so
	Hidden  bool   // a shorter one stands for something, and these can never be typed
}

// Bounds are the keys, each of a class by itself, in the order of their names. The
// error is that of two rows that claim the same.
func (s Settings) Bounds() ([]Bound, error) {
	claimed, err := s.claims()
	if err != nil {
		return nil, err
	}
	names := map[Keys]string{}
	var all []Bound
	for at, b := range claimed {
		if b.Command == "" {
			continue
		}
		b.Hidden = hidden(at, claimed)
		names[b.Keys] = b.Keys.String()
		all = append(all, b)
	}
	slices.SortFunc(all, func(a, b Bound) int { return strings.Compare(names[a.Keys], names[b.Keys]) })
	return all, nil
}

// claims are what the rows stand for, by what is pressed: a class goes after a row of its
// own for one of its keys.
func (s Settings) claims() (map[Keys]Bound, error) {
	atlas, err := ParseAtlasKey(s.values["keeper.atlas_key"])
	if err != nil {
		return nil, err
	}
	single, many := map[Keys]Bound{}, map[Keys]Bound{}
	for _, row := range slices.Sorted(maps.Keys(s.Chords)) { // which are told as the same is no matter of chance
		command := s.Chords[row]
		k, err := ParseKeys(row)
		if err != nil {
			continue // checked before
		}
		k.Chord = k.Chord.With(atlas)
		c, isClass := k.class()
		if !isClass {
			if err := claim(single, Bound{Keys: k, Command: command, Row: row}); err != nil {
				return nil, err
			}
			continue
		}
		for i, word := range c.words {
			if err := claim(many, Bound{Keys: k.of(c, i), Command: c.replaced(command, word), Row: row}); err != nil {
				return nil, err
			}
		}
	}
	for at, b := range many {
		if _, own := single[at]; !own {
			single[at] = b
		}
	}
	return single, nil
}

// hidden tells whether something shorter than keys stands for something.
func hidden(k Keys, all map[Keys]Bound) bool {
	for words := strings.Fields(k.After); len(words) > 0; {
		words = words[:len(words)-1]
		k.After = strings.Join(words, " ")
		if b := all[k]; b.Command != "" {
			return true
		}
	}
	return false
}

// claim takes keys for a row.
func claim(taken map[Keys]Bound, b Bound) error {
	at := b.pressed(Chord{})
	if other, is := taken[at]; is && other.Row != b.Row {
		rows := []string{other.Row, b.Row}
		slices.Sort(rows)
		return fmt.Errorf("%s and %s are the same chord, %s: choose another atlas_key, or take one of the rows away by \"\"", rows[0], rows[1], at)
	}
	taken[at] = b
	return nil
}

// replaced is a command with the word of a class replaced by that of one of its keys.
func (c class) replaced(command, word string) string {
	words := strings.Fields(command)
	for i, w := range words {
		if w == c.name {
			words[i] = word
		}
	}
	return strings.Join(words, " ")
}

// Shown is a row of chords as a page of keys writes it: its keys with the modifiers of
// the atlas key, and what they stand for; a class by all its keys.
func (s Settings) Shown(row string) (keys, command string) {
	k, err := ParseKeys(row)
	atlas, err2 := ParseAtlasKey(s.values["keeper.atlas_key"])
	command = s.Chords[row]
	if err != nil || err2 != nil {
		return row, command
	}
	k.Chord = k.Chord.With(atlas)
	if c, is := k.class(); is {
		if k.Chord.Keysym == 0 {
			k.Chord.Key = c.shown
		}
		k.After = c.replaced(k.After, c.shown)
		command = c.replaced(command, c.shown)
	}
	return k.String(), command
}

// ChordRow is a row of chords.
type ChordRow struct {
	Row     string // as the settings write it
	Keys    string // with the modifiers of the atlas key; a class by all its keys
	Command string // the same way
	Class   bool   // it stands for all keys of a class
}

// Rows are the rows of chords that stand for something, in their order.
func (s Settings) Rows() (rows []ChordRow) {
	for _, row := range slices.Sorted(maps.Keys(s.Chords)) {
		if keys, command := s.Shown(row); command != "" {
			k, _ := ParseKeys(row)
			_, class := k.class()
			rows = append(rows, ChordRow{row, keys, command, class})
		}
	}
	return rows
}

// merged are the chords of a file over a set of usual ones. A usual one gives way if it equals
// one of the file's with an atlas key, or if one would hide the other. An empty command
// removes a chord.
func merged(set string, own map[string]string, atlas Chord) map[string]string {
	all := map[string]string{}
	usual := setOf(set)
	for _, r := range usual {
		all[r.row] = r.command
	}
	mine := map[string]string{}
	for row, command := range own {
		k, err := ParseKeys(row)
		if err != nil {
			continue // checked before
		}
		at := k.pressed(atlas)
		inClass := false
		for _, r := range usual {
			u := r.keys.pressed(atlas)
			if u == at || command != "" && (u.begins(at) || at.begins(u)) {
				delete(all, r.row)
			}
			if c, is := u.class(); is {
				for i := range c.words {
					inClass = inClass || u.of(c, i) == at
				}
			}
		}
		if command != "" || inClass { // a key is taken out of its class
			mine[k.String()] = command
		}
	}
	maps.Copy(all, mine)
	return all
}
