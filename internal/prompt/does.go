package prompt

import (
	"strings"

	"zatlas/internal/desk"
)

// said are phrases of what commands with arguments do, where the sentence of their verb says more
// than that. 1-9 stands for any digit, and arrows for any direction.
var said = map[string]string{
	"go 1-9":                         "go to a workspace",
	"go back":                        "go back to the workspace before this one",
	"go prev":                        "go to the previous workspace",
	"go next":                        "go to the next workspace",
	"focus arrows":                   "give the focus to the window or the monitor on that side",
	"focus back":                     "go back to the window that had the focus before",
	"focus urgent":                   "go to the next urgent window",
	"focus app next":                 "go to the next window of the same app",
	"focus app prev":                 "go to the previous window of the same app",
	"send 1-9":                       "send the window to a workspace; the view stays here",
	"send prev":                      "send the window to the previous workspace",
	"send next":                      "send the window to the next workspace",
	"carry 1-9":                      "send the window to a workspace and go along with it",
	"carry prev":                     "send the window to the previous workspace and go along",
	"carry next":                     "send the window to the next workspace and go along",
	"move arrows":                    "move the tile that way, out of its group, or to the next monitor",
	"reorder up":                     "move this workspace up in the order",
	"reorder down":                   "move this workspace down in the order",
	"share +5":                       "make the lead, or this tile, wider",
	"share -5":                       "make the lead, or this tile, narrower",
	"even all":                       "make all tiles of the sheet equal",
	"group next tabs":                "make tabs of this tile and the next one",
	"group next pile":                "make a pile of this tile and the next one",
	"snap left":                      "place the window on the left half",
	"snap right":                     "place the window on the right half",
	"snap top":                       "place the window on the top half",
	"snap bottom":                    "place the window on the bottom half",
	"above on":                       "keep the window above all others",
	"above off":                      "keep the window above the others no longer",
	"below on":                       "keep the window below all others",
	"below off":                      "keep the window below the others no longer",
	"another terminal":               "open another terminal",
	"cascade of is:here is:floating": "cascade the floating windows of this workspace",
}

// Phrase is what a command with arguments does, as a phrase; empty where nothing but the sentence
// of its verb says it.
func Phrase(command string) string {
	if words, ok := said[command]; ok {
		return words
	}
	verb, rest, _ := strings.Cut(command, " ")
	if len(rest) == 1 && '1' <= rest[0] && rest[0] <= '9' {
		rest = "1-9"
	} else if _, ok := desk.ParseDir(rest); ok {
		rest = "arrows"
	}
	return said[verb+" "+rest]
}

// Does says what a command of keys does, in a sentence; empty for what is none.
func Does(command string, held bool) string {
	if l, ok := FindList(command); ok && held {
		return l.Help
	}
	if words := Phrase(command); words != "" {
		return desk.Sentence(words)
	}
	verb, _, _ := strings.Cut(command, " ")
	if v, ok := desk.FindVerb(verb); ok {
		return v.Help
	}
	if verb == Around {
		return "Choose the group around the tile; the next key acts on it."
	}
	s, _, _ := FindScreen(command)
	return desk.Sentence(s.Help)
}
