package prompt

import "strings"

// Screen is a screen that opens by keys of the map, and in the atlas window by a chord.
type Screen struct {
	Name  string // in chords
	Key   string // on the map; empty where it has none of its own
	After string // on the map, after ;
	Help  string // a phrase; empty for a verb's screen, which has the verb's
	Also  string // other words that people use for it
}

// screens are those there are, in the order in which they are listed. To add one, write its
// row here; the screens themselves know how to open it by its name.
var screens = []Screen{
	{"atlas", "", "", "the atlas, in a window of its own", "map overview"},
	{"find", "/", "", "find any window", "search filter"},
	{"gazetteer", "", "g", "every open window; search, sort, mark", "list search filter all windows table"},
	{"recent", "'", "w", "recent windows, the latest first", "history alt tab switcher"},
	{"here", "", "", "recent windows of this workspace", ""},
	{"strays", "!", "!", "windows that are lost, and where they would go", "lost offscreen hidden missing"},
	{"plates", "", "p", "saved arrangements, to lay out again", "save saved arrangement"},
	{"survey", "", "s", "what the work was like, and what could be ordered better", "history week statistics time usage report"},
	{"logbook", "", "l", "what was done, and the way back", "history log past undo journal"},
	{"rules", "", "r", "what becomes of windows that open, and why", "opens on assign default automatic"},
	{"settings", "", "e", "what can be set, and the chords", "config configuration options preferences colour dark light mouse font"},
	{"keys", "?", "", "all keys, and what each does", "help shortcuts hotkeys manual"},
	{Command, ":", "", "a command in words", "line type words"},
	{"grid", "", "", "place the window on cells of the grid, by arrows", "snap place"},
	{"nudge", "", "", "", ""},
	{"resize", "", "", "", ""},
	{"open", "", "", "", ""},
}

// Command is the screen with the line for a command in words: a chord may go on with what
// is on the line first. It was called line before.
const Command = "command"

// Screens are the screens there are.
func Screens() []Screen { return screens }

// Around is what a chord stands for that chooses the group around the tile with the focus;
// the next key is the verb that acts on it.
const Around = "around"

// FindScreen finds the screen that a command of keys brings up, and what is on the line of
// that for commands.
func FindScreen(command string) (s Screen, line string, ok bool) {
	if first, rest, _ := strings.Cut(command, " "); first == Command || first == "line" {
		command, line = Command, rest
	}
	for _, s := range screens {
		if s.Name == command {
			return s, line, true
		}
	}
	return Screen{}, "", false
}

// IsScreen tells whether a command of keys brings up a screen.
func IsScreen(command string) bool {
	_, _, ok := FindScreen(command)
	return ok
}

// IsDeed tells whether keys of the display stand for a word that is no verb of the grammar.
func IsDeed(command string) bool { return command == Around || IsScreen(command) }
