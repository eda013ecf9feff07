package settings

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"zatlas/internal/desk"
	"zatlas/internal/prompt"
)

// The sets of chords that a file's own are laid on, by keeper.chords.
const (
	fewChords   = "few"
	usualChords = "usual"
	noChords    = "none"
)

// usualRow is a chord that comes with the program.
type usualRow struct {
	keys, command string
	few           bool   // it is one of the few
	why           string // it has no key of the screens for its own; empty where it has
}

// The few, and those that are no verb's. They rhyme: a chord is the atlas key with the key
// of the screens. Where that is a sign, which lies elsewhere on every keyboard, or where
// there is none, the chord departs from that, and says why.
func otherRows() []usualRow {
	const sign = "its key on the screens is a sign, which lies elsewhere on other keyboards"
	const noKey = "it has no key on the screens"
	const point = "the same as on the screens, where < and > send; with Ctrl you go along, as with the digits"
	const half = "p and the arrow would be two keys"
	return []usualRow{
		{keys: "Atlas+digit", command: "go digit", few: true},
		{keys: "Atlas+Shift+digit", command: "send digit", few: true, why: "the digits go, and with Shift the window goes: s and the digit would be two keys"},
		{keys: "Atlas+Ctrl+digit", command: "carry digit", few: true, why: "with Ctrl you go along"},
		{keys: "Atlas+arrow", command: "focus arrow", few: true},
		{keys: "Atlas+Shift+arrow", command: "move arrow", few: true},
		{keys: "Atlas+B", command: "go back", few: true},
		{keys: "Atlas+Space", command: "atlas", few: true, why: "no screen is needed to bring the atlas up: the longest key does"},
		{keys: "Atlas+Return", command: "find", few: true, why: sign},
		{keys: "Atlas+Shift+B", command: "focus back"},
		{keys: "Atlas+Shift+I", command: "focus urgent"},
		{keys: "Atlas+Shift+J", command: "reorder down"},
		{keys: "Atlas+Shift+K", command: "reorder up"},
		{keys: "Atlas+Shift+Return", command: "strays", why: sign + "; find, and with Shift what is lost"},
		{keys: "Atlas+Shift+Space", command: prompt.Command, why: sign + "; the atlas, and with Shift its line"},
		{keys: "Atlas+K", command: "keys", why: sign + "; K for keys"},
		{keys: "hold Atlas+Tab", command: "recent", why: sign + "; Tab goes from one to the next there too"},
		{keys: "hold Atlas+H", command: "here", why: "a list held is the display's own: h, j and l walk on the screens"},
		{keys: "hold Atlas+J", command: "workspaces", why: "as with h"},
		{keys: "hold Atlas+L", command: "app", why: "as with h"},
		{keys: "Atlas+.", command: "go next", why: point},
		{keys: "Atlas+,", command: "go prev", why: point},
		{keys: "Atlas+Shift+.", command: "send next", why: point},
		{keys: "Atlas+Shift+,", command: "send prev", why: point},
		{keys: "Atlas+Ctrl+.", command: "carry next", why: point},
		{keys: "Atlas+Ctrl+,", command: "carry prev", why: point},
		{keys: "Atlas+Ctrl+Left", command: "snap left", why: half},
		{keys: "Atlas+Ctrl+Right", command: "snap right", why: half},
		{keys: "Atlas+Ctrl+Up", command: "snap top", why: half},
		{keys: "Atlas+Ctrl+Down", command: "snap bottom", why: half},
		{keys: "Atlas+Shift+Z", command: "around"},
		{keys: "Atlas+Ctrl+W", command: "share +5", why: sign + "; with Ctrl, w for wider"},
		{keys: "Atlas+Ctrl+N", command: "share -5", why: sign + "; with Ctrl, n for narrower"},
		{keys: "Atlas+Z e", command: "even", why: sign + "; behind z stands what has no letter of its own"},
		{keys: "Atlas+Z E", command: "even all", why: sign},
		{keys: "Atlas+Z g", command: "gaps", why: sign},
		{keys: "Atlas+Z c", command: "cascade of is:here is:floating", why: "R is about one window"},
		{keys: "Atlas+Z o", command: "another", why: noKey},
		{keys: "Atlas+Z Return", command: "another terminal", why: noKey},
		{keys: "Atlas+Z t", command: "group next tabs", why: noKey},
		{keys: "Atlas+Z p", command: "group next pile", why: noKey},
		{keys: "Atlas+Z r", command: "restore", why: noKey},
		{keys: "Atlas+Z l", command: "lower", why: noKey},
		{keys: "Atlas+Z a", command: "above on", why: noKey},
		{keys: "Atlas+Z A", command: "above off", why: noKey},
		{keys: "Atlas+Z b", command: "below on", why: noKey},
		{keys: "Atlas+Z B", command: "below off", why: noKey},
		{keys: "Atlas+Z k", command: "kill", why: noKey},
		{keys: "Atlas+Z q", command: "end", why: noKey},
		{keys: "Atlas+Z Q", command: "restart", why: noKey},
	}
}

// usualRows are the chords of a set, in the order in which the example lists them.
func usualRows(set string) []usualRow {
	if set == noChords {
		return nil
	}
	rows := otherRows()
	for _, v := range desk.Verbs() {
		if len(v.Key) != 1 || !isLetter(v.Key[0]) || v.MadeUp {
			continue
		}
		keys := "Atlas+" + strings.ToUpper(v.Key)
		if v.Key != strings.ToLower(v.Key) {
			keys = "Atlas+Shift+" + v.Key
		}
		rows = append(rows, usualRow{keys: keys, command: v.Name})
	}
	if set == fewChords {
		rows = slices.DeleteFunc(rows, func(r usualRow) bool { return !r.few })
	}
	return rows
}

func isLetter(b byte) bool { return b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z' }

// setRow is a chord of a set, as it is read.
type setRow struct {
	row, command string
	keys         Keys
}

// sets are the chords of each set, read once.
var sets = sync.OnceValue(func() map[string][]setRow {
	all := map[string][]setRow{}
	for _, set := range []string{usualChords, fewChords} {
		for _, r := range usualRows(set) {
			k, err := ParseKeys(r.keys)
			if err != nil {
				panic("a chord that comes with the program is at fault: " + err.Error()) // a test reads them
			}
			all[set] = append(all[set], setRow{k.String(), r.command, k})
		}
	}
	return all
})

// setOf are the chords of a set.
func setOf(set string) []setRow { return sets()[set] }

// chordsExample is the chords of the usual set as a file writes them.
func chordsExample() string {
	var b strings.Builder
	b.WriteString("[chords]\n")
	for _, r := range usualRows(usualChords) {
		line := fmt.Sprintf("%q = %q", r.keys, r.command)
		if r.why != "" {
			line += " # " + r.why
		}
		b.WriteString(line + "\n")
	}
	return b.String()
}
