package tui

import (
	"cmp"
	"slices"
	"strings"
	"unicode"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
	"zatlas/internal/settings"
)

// keyRow is a row of the page of keys: what one can do, by a key of the screens, by a
// chord of the display, by words.
type keyRow struct {
	purpose desk.Purpose
	key     string // of the screens; empty where it has none
	chord   settings.ChordRow
	does    string
	also    string // other words that people use for it
	command string // what a chord for it stands for; empty where no chord can
	words   string // how it is written on the line
	do      func(m *model) tea.Cmd
}

// keyRows are the rows of the page, by purpose, from the tables of verbs, of the map's
// own keys, of the screens after ; and of chords.
func keyRows(list []listed, chords []settings.ChordRow) []keyRow {
	rows := []keyRow{{purpose: desk.GoingAbout, key: "1-9", does: prompt.Does("go 1-9", false), command: "go 1-9", words: "go NUMBER", do: askVerb("go")}}
	for _, v := range desk.Verbs() {
		r := keyRow{purpose: v.Purpose, key: v.Key, does: v.Help, also: v.Also, command: v.Name, words: lang.Usage(v)}
		if v.Key != "" {
			r.do = askVerb(v.Name)
		} else if _, err := lang.ParseCommand(v.Name); err == nil {
			r.do = func(m *model) tea.Cmd { return m.run(v.Name) }
		} else if _, asks := prompt.Asked(v.Name); asks {
			r.do = func(m *model) tea.Cmd { return m.choose(v) }
		} else {
			r.do = func(m *model) tea.Cmd { return m.openLine(v.Name + " ") }
			r.command = ""
		}
		rows = append(rows, r)
	}
	byKey := map[string]string{}
	for _, s := range list {
		byKey[s.Key] = s.Name
	}
	delete(byKey, "")
	for _, b := range bindings() {
		r := keyRow{purpose: b.purpose, key: b.shown, does: desk.Sentence(b.does()), also: b.also, command: byKey[b.shown], do: b.run}
		if b.line != "" {
			r.command, r.words = b.line, b.line
			r.do = func(m *model) tea.Cmd { return m.run(b.line) }
		}
		rows = append(rows, r)
	}
	for _, s := range afterSemicolon(list) {
		rows = append(rows, keyRow{purpose: desk.OfScreens, key: "; " + s.After, does: desk.Sentence(s.Name + ": " + s.Help), also: s.Also + settingsWords(s.Name), command: s.Name, do: func(m *model) tea.Cmd { return s.open(m, "") }})
	}
	for _, c := range chords {
		held := strings.HasPrefix(c.Row, "hold ")
		i := slices.IndexFunc(rows, func(r keyRow) bool { return r.command == c.Command && r.chord.Row == "" && !held })
		if i >= 0 {
			rows[i].chord = c
			continue
		}
		rows = append(rows, chordRow(c, held))
	}
	slices.SortStableFunc(rows, func(a, b keyRow) int { return int(a.purpose) - int(b.purpose) })
	return rows
}

// settingsWords are the names of all settings, for the screen of that name.
func settingsWords(screen string) (words string) {
	if screen != "settings" {
		return ""
	}
	for _, c := range settings.Choices() {
		words += " " + strings.NewReplacer(".", " ", "_", " ").Replace(c.Name()) + " " + c.Help
	}
	return words
}

// offered are rows of which those of verbs that cannot be had on a desk say why.
func offered(d *desk.Desk, rows []keyRow) []keyRow {
	for i, r := range rows {
		name, _, _ := strings.Cut(r.command, " ")
		v, ok := desk.FindVerb(name)
		if !ok || d == nil {
			continue
		}
		if err := d.Offers(v); err != nil {
			rows[i].does = desk.Sentence(err.Error())
		}
	}
	return rows
}

// chordRow is the row of a chord whose command has no other.
func chordRow(c settings.ChordRow, held bool) keyRow {
	r := keyRow{purpose: desk.OfScreens, chord: c, does: prompt.Does(c.Command, held), command: c.Command, words: c.Command}
	verb, _, _ := strings.Cut(c.Command, " ")
	if v, ok := desk.FindVerb(verb); ok {
		r.purpose = v.Purpose
	}
	switch {
	case held && slices.Contains(prompt.Lists(), c.Command):
		r.purpose, r.words = desk.GoingAbout, ""
		r.do = (*model).openSwitcher
	case held:
		r.does = "While it is held: " + r.does
		r.do = func(m *model) tea.Cmd { return m.run(c.Command) }
	case verb == prompt.Around:
		r.purpose, r.words = desk.Arranging, ""
		r.do = func(m *model) tea.Cmd { return m.widen() }
	case prompt.IsScreen(verb):
		r.words = ""
		r.do = func(m *model) tea.Cmd { return m.bringUp(c.Command) }
	case c.Class:
		r.do = askVerb(verb)
	default:
		r.do = func(m *model) tea.Cmd { return m.run(c.Command) }
	}
	return r
}

// askVerb begins a verb as its key does.
func askVerb(name string) func(m *model) tea.Cmd {
	return func(m *model) tea.Cmd {
		v, _ := desk.FindVerb(name)
		if v.Key == "" {
			return m.choose(v)
		}
		return m.verbKey(v)
	}
}

// spelt is a text as it is compared: minimize is minimise, and color colour.
func spelt(text string) string { return spellings.Replace(strings.ToLower(text)) }

var spellings = strings.NewReplacer("z", "s", "colour", "color", "centre", "center", "grey", "gray", "behaviour", "behavior")

// The ranks of a word of a search in a row, the best first.
const (
	keyRank    = iota // it is the row's key
	nameRank          // a command begins with it, or it is the first word of what the row says
	wordRank          // it is a word of what the row says
	startRank         // a word of what the row says begins with it
	formRank          // it is one of how the command is written, or of the group
	alsoRank          // another word that people use for it does
	insideRank        // it stands anywhere else
	noRank
)

// rank tells how well a search fits a row: the sum over its words; false where one of them is
// not in it.
func (r keyRow) rank(search string) (sum int, found bool) {
	does, forms := spelt(r.does), spelt(r.words+" "+r.purpose.String())
	all := spelt(strings.Join([]string{r.key, r.chord.Keys, r.command, r.also}, " ")) + " " + does + " " + forms
	parts := func(text string) []string {
		return strings.FieldsFunc(text, func(c rune) bool { return !unicode.IsLetter(c) && !unicode.IsDigit(c) })
	}
	whole := parts(does)
	begins := func(text, word string) bool { return strings.Contains(" "+text, " "+word) }
	for word := range strings.FieldsSeq(search) {
		w, rank := spelt(word), noRank
		switch {
		case word == r.key || w == spelt(r.chord.Keys):
			rank = keyRank
		case strings.HasPrefix(spelt(r.command), w), len(whole) > 0 && whole[0] == w:
			rank = nameRank
		case slices.Contains(whole, w) || slices.Contains(whole, w+"s"):
			rank = wordRank
		case begins(does, w):
			rank = startRank
		case slices.Contains(parts(forms), w):
			rank = formRank
		case begins(spelt(r.also), w):
			rank = alsoRank
		case strings.Contains(all, w):
			rank = insideRank
		}
		if rank == noRank {
			return 0, false
		}
		sum += rank
	}
	return sum, true
}

// verb is the verb of the row's command; empty for none.
func (r keyRow) verb() string {
	verb, _, _ := strings.Cut(r.command, " ")
	return verb
}

// keyless is 1 for a row that has no key: of rows alike those with one come first.
func keyless(r keyRow) int {
	if r.key == "" {
		return 1
	}
	return 0
}

// found are the rows that a search matches: the best first, of equal ones those used lately.
func found(rows []keyRow, search string, lately []string) []keyRow {
	if strings.TrimSpace(search) == "" {
		return rows
	}
	if len(search) > 1 { // where a search begins with it everywhere else
		search = strings.TrimPrefix(search, "/")
	}
	type one struct {
		keyRow
		rank, lately int
	}
	var all []one
	for _, r := range rows {
		if rank, is := r.rank(search); is {
			used := slices.Index(lately, r.verb())
			if used < 0 || r.verb() == "" {
				used = len(lately)
			}
			all = append(all, one{r, rank, used})
		}
	}
	slices.SortStableFunc(all, func(a, b one) int {
		return cmp.Or(a.rank-b.rank, a.lately-b.lately, keyless(a.keyRow)-keyless(b.keyRow))
	})
	rows = nil
	for _, r := range all {
		rows = append(rows, r.keyRow)
	}
	return rows
}

// maxLately is how many verbs are remembered as used.
const maxLately = 12

// usedLately notes that a verb was used.
func (m *model) usedLately(verb string) {
	if verb == "" {
		return
	}
	m.lately = append([]string{verb}, slices.DeleteFunc(m.lately, func(v string) bool { return v == verb })...)
	m.lately = m.lately[:min(len(m.lately), maxLately)]
}
