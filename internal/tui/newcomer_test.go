package tui

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"
)

// newcomer knows nothing of the program but that ? shows all keys: of the others it presses
// only those that the screen offers, in the colour of keys, for words that it looks for.
type newcomer struct{ *bench }

var offer = regexp.MustCompile(`\x1b\[38;2;79;179;161;1m([^\x1b]+)\x1b\[[0-9;]*m ([^\x1b]*)`)

// names are the keys that have names on the screen.
var names = map[string]string{"Enter": "enter", "Escape": "esc", "Tab": "tab", "Home": "home", "↑": "up", "↓": "down", "←": "left", "→": "right"}

// offered is the key for what has a word or begins with a part of one; empty for none. Of
// several keys it is the one whose part of the words that is.
func (n newcomer) offered(want string) string {
	for _, o := range offer.FindAllStringSubmatch(n.View().Content, -1) {
		words, _, _ := strings.Cut(o[2], ": ") // what follows is what was done
		keys, does := strings.Fields(o[1]), strings.Split(words, ", ")
		at := slices.IndexFunc(does, func(part string) bool { return strings.Contains(" "+part, " "+want) })
		switch {
		case slices.Contains([]string{"arrows", "up, down", "left, right"}, o[1]) && slices.Contains([]string{"left", "right", "up", "down"}, want):
			return want
		case slices.ContainsFunc(keys, func(key string) bool { return names[key] == want }):
			return want
		case at < 0:
			continue
		case len(does) != len(keys):
			at = 0
		}
		if key := cmp.Or(names[keys[at]], keys[at]); names[keys[at]] != "" || len([]rune(key)) == 1 {
			return key
		}
	}
	return ""
}

// after does a thing: as the screen offers it, else as the page of keys has it for these words.
func (n newcomer) after(want string) {
	n.t.Helper()
	if typed, is := strings.CutPrefix(want, `"`); is {
		n.types(strings.TrimSuffix(typed, `"`))
		return
	}
	if key := n.offered(want); key != "" {
		n.press(key)
		n.catchUp()
		return
	}
	if n.offered("all keys") != "?" {
		n.t.Fatalf("nothing leads to %q, nor to the page of keys:\n%s", want, n.whole(want))
	}
	n.press("?")
	n.types(want)
	if n.offered("does it") != "enter" {
		n.t.Fatalf("the page of keys does not say how to do %q:\n%s", want, n.whole(want))
	}
	n.press("enter")
	n.catchUp()
}

func (n newcomer) types(text string) {
	for _, letter := range text {
		n.press(string(letter))
	}
}

// errands are what newcomers do first: what they look for, one after the other, and what the
// screen says then. In quotes is what they type.
const errands = `
	create, "Tea", adds > Added workspace 7 Tea. u undoes.
	rename, "room", renames > Workspace 7 Tea is called Tearoom now. u undoes.
	move up > Workspace Tearoom is 6 now. u undoes.
	remove > Removed workspace 6 Tearoom.
	send, Box office > Sent Reel Ledger · Running order to 3 Box office. u undoes.
	undo > Undid: Sent Reel Ledger
	rescue, all 3 > Brought 3 windows back within reach. u undoes.
	undo > Undid: Brought 3 windows
	find, "running", go there > #11 Reel Ledger
	columns, columns > Sheet A1 is laid out as columns. u undoes.
	swap, right > changed places
	wider > by 100% of the sheet
	tabs, tabs > Sheet A1 is laid out as tabs. u undoes.
	thirds, a third, left > left third. u undoes.
	gaps > The gaps of A1 are off
	give letter, "R" > u undoes.
	jump, "r" > Reel Ledger
	minimise > Minimised Reel Ledger
	restore > Restored Reel Ledger
	save arrangement, save, "Noon", does it > Saved the desk as the plate Noon
	unplug, monitor B > Monitor B was unplugged.
	export, cancels > all keys
	rule > RULES
	back > q quit
	theme, right > theme is day now.`

func TestNewcomer(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {80, 24}} {
		t.Run(fmt.Sprint(size[0]), func(t *testing.T) {
			n := newcomer{newSized(t, size)}
			n.Update(tea.ColorProfileMsg{Profile: colorprofile.TrueColor})
			for line := range strings.Lines(strings.TrimSpace(errands)) {
				looks, wants, _ := strings.Cut(strings.TrimSpace(line), " > ")
				for want := range strings.SplitSeq(looks, ", ") {
					n.after(want)
				}
				n.wants(looks, wants)
			}
		})
	}
}
