package tui

import (
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/settings"
)

// Every verb and every chord has a row, in its group, with something that it does; nothing
// stands twice.
func TestKeyRows(t *testing.T) {
	rows := keyRows(screens(), settings.Default().Rows())
	verbs, chords, seen, said := map[string]bool{}, 0, map[string]bool{}, map[string]bool{}
	for i, r := range rows {
		if r.does == "" || r.do == nil {
			t.Errorf("row %d, %q %q, does %q", i, r.key, r.chord.Keys, r.does)
		}
		if i > 0 && rows[i-1].purpose > r.purpose {
			t.Errorf("%s stands after %s", rows[i-1].purpose, r.purpose)
		}
		if r.chord.Row != "" {
			chords++
		}
		if r.key != "" && seen[r.key] {
			t.Errorf("the key %s has two rows", r.key)
		}
		if said[r.does] {
			t.Errorf("two rows say %q", r.does)
		}
		seen[r.key], said[r.does] = true, true
		verbs[r.verb()] = true
	}
	for _, v := range desk.Verbs() {
		if !verbs[v.Name] && v.Usage != "WORDS" {
			t.Errorf("%s has no row", v.Name)
		}
	}
	if n := len(settings.Default().Rows()); chords != n {
		t.Errorf("%d of %d rows of chords are listed", chords, n)
	}
}

// A command with a sign in it is one command, and no class of them.
func TestRowOfACommand(t *testing.T) {
	b := newBench(t, desk.Settings{})
	r := chordRow(settings.ChordRow{Row: "Atlas+F1", Keys: "Super+F1", Command: "share -5"}, false)
	b.run(r.do(b.model))
	b.catchUp()
	if text := b.whole("the row"); !strings.Contains(text, "The lead of A1 has 55 per cent.") {
		t.Errorf("it does not do what it says:\n%s", text)
	}
}

// A search finds rows by any words of them, those used lately first.
func TestFoundKeys(t *testing.T) {
	rows := keyRows(screens(), settings.Default().Rows())
	for _, c := range []struct {
		search string
		lately []string
		first  string
	}{
		{"maximise", nil, "m"}, {"cover work area", nil, "m"}, {"super+m", nil, "m"}, {"SEND Windows", nil, "s"},
		{"window", []string{"minimise", "float"}, "M"}, {"window", []string{"float", "minimise"}, "f"}, {"lost and found", nil, "r"},
		{"zzz", nil, ""}, {"float zzz", nil, ""},
	} {
		got := found(rows, c.search, c.lately)
		if c.first == "" && len(got) > 0 || c.first != "" && (len(got) == 0 || got[0].key != c.first) {
			t.Errorf("%q, after %v: %d rows, want %q first", c.search, c.lately, len(got), c.first)
		}
		for _, r := range got {
			for word := range strings.FieldsSeq(strings.ToLower(c.search)) {
				all := strings.ToLower(strings.Join([]string{r.key, r.chord.Keys, r.does, r.also, r.command, r.words, r.purpose.String()}, " "))
				if !strings.Contains(all, word) {
					t.Errorf("%q finds %q", c.search, r.does)
				}
			}
		}
	}
	m := &model{}
	for _, v := range []string{"send", "go", "send", "float", ""} {
		m.usedLately(v)
	}
	if got := strings.Join(m.lately, " "); got != "float send go" {
		t.Errorf("used lately are %s", got)
	}
}

// A search finds what does it by the reader's own words, in either spelling; the first row is
// the one that is meant.
func TestFoundByOtherWords(t *testing.T) {
	rows := keyRows(screens(), settings.Default().Rows())
	for words, want := range map[string]string{ // commands, or keys, of which one is the first
		"wider": "share resize", "width": "resize share", "bigger": "share resize maximise", "grow": "share resize", "percentage": "share resize", "ratio": "share resize",
		"theme": "settings", "colour": "settings", "color": "settings", "history": "recent undo logbook survey", "week": "survey", "export": "&",
		"minimized": "minimise restore", "minimised": "minimise restore", "hidden": "restore minimise", "opens on": "rules", "copy": "O another", "mouse": "settings send put resize nudge",
		"drag": "send put resize nudge", "zoom": "z maximise", "config": "settings reload", "exit": "q end close", "save": "plate", "quit": "q", "help": "?", "delete": "remove close X",
		"move workspace": "reorder K", "/thirds": "snap", "margin": "gaps", "unplug": "pull", "y": "group", "maximize": "maximise", "center": "snap", "screenshot": "&",
	} {
		got := found(rows, words, nil)
		if len(got) == 0 {
			t.Errorf("%q finds nothing", words)
			continue
		}
		if first := got[0]; !slices.Contains(strings.Fields(want), first.verb()) && !slices.Contains(strings.Fields(want), strings.Split(first.key, ",")[0]) {
			t.Errorf("%q finds %q %q first: %s", words, first.key, first.command, first.does)
		}
	}
}

// A word on the line that is no command, and known on the page of keys, leads to its key; a
// state typed into the search like a title, to its query.
func TestOtherWordsWhereTheyAreTyped(t *testing.T) {
	for _, c := range []struct{ keys, says string }{
		{": t h e m e", `"theme" is not a command: try ; e (settings)`},
		{": e x p o r t", `"export" is not a command: try &`},
		{": w i d e r", `"wider" is not a command: try share or resize`},
		{": z z z", "? lists them all"},
		{"/ m i n i m i z e d", "is:minimised finds those that are minimised."},
		{"/ z z z", "No window matches. Escape clears the search."},
	} {
		b := newBench(t, desk.Settings{})
		for key := range strings.FieldsSeq(c.keys) {
			b.press(key)
		}
		if got := b.View().Content; !strings.Contains(got, c.says) {
			t.Errorf("%s does not say %s:\n%s", c.keys, c.says, got)
		}
	}
	if got := (&gazetteer{words: []string{"lost"}}).stateWords(); got != "is:lost finds those that are lost." {
		t.Errorf("lost, where nothing matches, is answered with %q", got)
	}
}
