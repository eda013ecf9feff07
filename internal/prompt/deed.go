package prompt

import (
	"strings"

	"zatlas/internal/desk"
)

// Screens are what keys of the display can bring up in the atlas window. The words of
// "line" may go on with what stands on the line.
func Screens() []string {
	return []string{"atlas", "recent", "find", "strays", "nudge", "resize", "grid", "keys", "line", "open", "plates"}
}

// Lists are what a chord that is held can show as long as its modifiers are down; the
// chosen one is gone to.
func Lists() []string { return []string{"recent", "workspaces", "app", "here"} }

// screenHelp says what the screens do that are no verbs, and listHelp the lists.
var (
	screenHelp = map[string]string{
		"atlas": "The atlas, in a window of its own.", "recent": "Recent windows, the one before first.", "find": "Find any window.",
		"strays": "What is lost.", "grid": "Place the window on cells of the grid, by arrows.", "keys": "All keys, and what each does.", "line": "A command in words.", "plates": "The plates: arrangements that are kept.",
	}
	listHelp = map[string]string{
		"recent": "Recent windows; letting go goes to the chosen one.", "workspaces": "The workspaces; letting go goes to the chosen one.",
		"app": "The windows of this app; letting go goes to the chosen one.", "here": "The windows of this workspace; letting go goes to the chosen one.",
	}
)

// Does says what a command of keys does, in a sentence; empty for what is none.
func Does(command string, held bool) string {
	if help, ok := listHelp[command]; ok && held {
		return help
	}
	verb, _, _ := strings.Cut(command, " ")
	if v, ok := desk.FindVerb(verb); ok {
		return v.Help
	}
	return screenHelp[verb]
}
