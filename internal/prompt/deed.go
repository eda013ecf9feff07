package prompt

import (
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// Screens are what keys of the display can bring up in the atlas window. The words of
// "line" may go on with what stands on the line.
func Screens() []string {
	return []string{"atlas", "recent", "find", "strays", "nudge", "resize", "grid", "keys", "line", "open", "plates"}
}

// Around is what a chord stands for that chooses the group around the tile with the focus;
// the next key is the verb that acts on it.
const Around = "around"

// IsScreen tells whether a word of keys stands for a screen.
func IsScreen(command string) bool { return slices.Contains(Screens(), command) }

// IsDeed tells whether keys of the display stand for a word that is no verb of the grammar.
func IsDeed(command string) bool { return command == Around || IsScreen(command) }

// screenHelp says what the screens do that are no verbs.
var screenHelp = map[string]string{
	"atlas": "The atlas, in a window of its own.", "recent": "Recent windows, the one before first.", "find": "Find any window.",
	"strays": "What is lost.", Around: "Choose the group around the tile; the next key acts on it.", "grid": "Place the window on cells of the grid, by arrows.", "keys": "All keys, and what each does.", "line": "A command in words.", "plates": "The plates: arrangements that are kept.",
}

// Does says what a command of keys does, in a sentence; empty for what is none.
func Does(command string, held bool) string {
	if l, ok := FindList(command); ok && held {
		return l.Help
	}
	verb, _, _ := strings.Cut(command, " ")
	if v, ok := desk.FindVerb(verb); ok {
		return v.Help
	}
	return screenHelp[verb]
}
