package survey

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// FormOf is a command without what it is about: its fixed words, digits and letters. It is
// empty for a command with names or other words of the user's.
func FormOf(c desk.Command) string {
	for _, a := range c.Args {
		switch a.Kind {
		case desk.Keyword, desk.Number, desk.Letter, desk.Small, desk.Ref, desk.Share, desk.Grid:
		default:
			return ""
		}
	}
	if c.Of = nil; len(c.Args) == 0 && desk.VerbOf(c.Verb).Picks {
		return "" // the windows say it all
	}
	return lang.Print(c)
}

// ByKeys is a form of a command that takes more keys than it needs to.
type ByKeys struct {
	Form  string `json:"command"`
	Times int    `json:"times"`
	Keys  int    `json:"keys"`  // of the display that it takes
	Chord string `json:"chord"` // a free one that rhymes
	Saves int    `json:"saves"` // keys in the time that was counted
}

// Keyboard is what the keys of the display stand for.
type Keyboard struct {
	Chords map[string]string // by keys, as people write them
	Atlas  string            // the modifiers of the atlas key, such as Super
}

// What of the advice on keys is worth saying.
const (
	maxByKeys = 3
	fewSaved  = 20
)

// adviseKeys works out which chords would save the most keys, of what was counted by its
// form. The most comes first, and each chord is given once.
func adviseKeys(tallies []Tally, k Keyboard, d *desk.Desk) []ByKeys {
	times := map[string]int{}
	for _, t := range tallies {
		if t.Kind == Form {
			times[t.Name] += t.N
		}
	}
	all := []ByKeys{}
	for _, form := range slices.Sorted(maps.Keys(times)) {
		if keys := k.presses(form, d); keys > 1 && times[form]*(keys-1) >= fewSaved {
			all = append(all, ByKeys{Form: form, Times: times[form], Keys: keys, Saves: times[form] * (keys - 1)})
		}
	}
	slices.SortStableFunc(all, func(a, b ByKeys) int { return cmp.Compare(b.Saves, a.Saves) })
	had := map[string]bool{}
	best := []ByKeys{}
	for _, one := range all {
		if one.Chord = k.free(one.Form, had); one.Chord != "" && len(best) < maxByKeys {
			had[one.Chord] = true
			best = append(best, one)
		}
	}
	return best
}

// ToLearn is a chord, and how often its command was done in all, and by any chord.
type ToLearn struct {
	Chord, Command string
	Times, ByChord int
}

// maxToLearn is how many chords are worth a page.
const maxToLearn = 20

// ToLearn lists the chords whose commands were done most often without them: the most first.
// Of a verb that asks for more, all its commands count; chords are counted by verb.
func (k Keyboard) ToLearn(tallies []Tally) (all []ToLearn) {
	forms, verbs, byChord := map[string]int{}, map[string]int{}, map[string]int{}
	for _, t := range tallies {
		switch t.Kind {
		case Form:
			forms[t.Name] += t.N
		case Done:
			verb, source, _ := strings.Cut(t.Name, "\t")
			if verbs[verb] += t.N; source == "chord" {
				byChord[verb] += t.N
			}
		}
	}
	for _, chord := range slices.Sorted(maps.Keys(k.Chords)) {
		one := ToLearn{Chord: chord, Command: k.Chords[chord]}
		verb, _, more := strings.Cut(one.Command, " ")
		if one.Times = verbs[verb]; more {
			c, _ := lang.ParseCommand(one.Command)
			one.Times = forms[FormOf(c)]
		}
		if verbs[verb] > 0 {
			one.ByChord = one.Times * byChord[verb] / verbs[verb]
		}
		if one.Times > one.ByChord {
			all = append(all, one)
		}
	}
	slices.SortStableFunc(all, func(a, b ToLearn) int { return cmp.Compare(b.Times-b.ByChord, a.Times-a.ByChord) })
	return all[:min(len(all), maxToLearn)]
}

// presses is how many keys a command takes on the display by the shortest way. That may be its own
// chord, its verb's chord and the answers, or the atlas and its keys there.
func (k Keyboard) presses(form string, d *desk.Desk) int {
	verb, _, _ := strings.Cut(form, " ")
	v := desk.VerbOf(verb)
	answers := answer(form, v, d)
	fewest := 0
	atlas := 1
	for keys, command := range k.Chords {
		n := len(strings.Fields(strings.TrimPrefix(keys, "hold ")))
		if strings.HasPrefix(keys, "hold ") {
			continue
		}
		if command == "atlas" {
			atlas = n
		}
		switch c, err := lang.ParseCommand(command); {
		case err == nil && FormOf(c) == form && c.Of == nil:
		case command == verb:
			n += answers
		default:
			continue
		}
		if fewest == 0 || n < fewest {
			fewest = n
		}
	}
	if own := atlas + 1 + answers; v.Key != "" && (fewest == 0 || own < fewest) {
		fewest = own
	}
	return fewest
}

// maxAnswers is how many keys answer a verb at most.
const maxAnswers = 3

// answer is how many keys say what comes after the verb of a form; more than there can be
// where none do.
func answer(form string, v desk.Verb, d *desk.Desk) int {
	p, asks := prompt.For(prompt.About{Desk: d, Verb: v, Workspace: d.Current(), Letter: d.At})
	if !asks || form == v.Name {
		return 0
	}
	level := []prompt.Prompt{p}
	for n := 1; n <= maxAnswers; n++ {
		var next []prompt.Prompt
		for _, p := range level {
			for _, c := range p.Choices {
				if c.Line == form {
					return n
				}
				if c.Next != nil {
					next = append(next, c.Next())
				}
			}
		}
		level = next
	}
	return maxAnswers
}

// free is the first chord that rhymes with a command and is not in use. It has the letter of
// the verb on the screens, or the first one of a word. Fewer modifiers come before more, and
// then letters in the order of the alphabet.
func (k Keyboard) free(form string, had map[string]bool) string {
	verb, _, _ := strings.Cut(form, " ")
	var letters []string
	for _, word := range append(strings.Fields(form), desk.VerbOf(verb).Key) {
		if l := strings.ToUpper(word[:min(len(word), 1)]); l >= "A" && l <= "Z" && !slices.Contains(letters, l) {
			letters = append(letters, l)
		}
	}
	slices.Sort(letters)
	for _, with := range []string{"", "Shift+", "Ctrl+", "Ctrl+Shift+"} {
		for _, l := range letters {
			chord := k.Atlas + "+" + with + l
			begins := func(keys string) bool {
				return strings.TrimPrefix(keys, "hold ") == chord || strings.HasPrefix(keys, chord+" ")
			}
			if !had[chord] && !slices.ContainsFunc(slices.Collect(maps.Keys(k.Chords)), begins) {
				return chord
			}
		}
	}
	return ""
}

// words say what is advised, and worth what it would be.
func (b ByKeys) words() string {
	return fmt.Sprintf("%s: %s by %d keys.", b.Form, counted(b.Times, "time", "times"), b.Keys)
}

func (b ByKeys) worth() string {
	return fmt.Sprintf("%s, which is free and rhymes, would have saved %d keys.", b.Chord, b.Saves)
}
