package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/scene"
	"zatlas/internal/testkit"
)

func TestDemoGazetteer(t *testing.T) {
	term := demo(t, 160, 40, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys(";", "g")
	term.Wait("GAZETTEER  by workspace", "26 of 26 windows", "▼ 1 Programme  7 windows", "Talks after the film")
	term.Keys("]")
	term.Wait("by app", "▼ Guest Rota  3 windows")
	term.Keys("]")
	term.Wait("by monitor", "▼ A · Laptop")
	term.Keys("]")
	term.Wait("by recency")
	term.Keys("]", "}")
	term.Wait("by workspace, sorted by app")
	term.Keys("Home", "Left")
	term.Wait("► 1 Programme  7 windows", "19 of 26 windows")
	term.Keys("Right")
	term.Wait("▼ 1 Programme")
	// Search: letters, a query, a fault under it while the rows stay.
	term.Keys("/")
	term.Type("til ref")
	term.Wait("the best match first · 3 of 26 windows", "Refunds")
	term.Keys("C-u")
	term.Type("app:guest is:min")
	term.Wait("Column 14: \"min\", where stray", "2 of 26") // what was found before stays
	term.Keys("C-u")
	term.Type("app:guest")
	term.Wait("3 of 26 windows")
	term.Keys("Enter", "*", "s", "6")
	term.Wait("Sent 3 windows to 6 Late night. u undoes.", "3 marked")
	term.Keys("u")
	term.Wait("Undid: Sent 3 windows")
	term.Keys("M")
	term.Wait("Minimised 3 windows. u undoes.", "minimised")
	term.Keys("u", "S")
	term.Wait("3 windows shows on every workspace.", "sticky")
	term.Keys("u", "x")
	term.Wait("Close 3 windows? Enter asks their programs to close them")
	term.Keys("Enter")
	term.Wait("No window matches.")
	term.Keys("Escape")
	term.Wait("23 of 23 windows")
	term.Keys("/")
	term.Type("subtitles")
	term.Keys("Escape")
	term.Wait("Space mark")
	term.Keys("Escape")
	term.Wait("SHEET")
}

func TestDemoSwitcher(t *testing.T) {
	term := demo(t, 80, 24, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys("2")
	term.Wait("● 2 Subtitles")
	term.Keys("'", "Enter")
	term.Wait("● 1 Programme")
	term.Keys("'", "2")
	term.Wait("● 2 Subtitles")
	term.Keys("'", "]")
	term.Wait("this app's", "2 of 26 windows")
	term.Keys("]")
	term.Wait("this workspace's", "5 of 26 windows")
	term.Keys("x")
	term.Wait("closed.", "4 of 25 windows")
	term.Keys("Escape")
	term.Wait("● 2 Subtitles", "25 windows")
}

func TestDemoPinsOpenRules(t *testing.T) {
	config := t.TempDir()
	path := filepath.Join(config, "zealous-atlas", "settings.toml")
	term := demo(t, 160, 40, []string{"XDG_CONFIG_HOME=" + config})
	term.Wait("#11 Reel Ledger:")
	file := func(want string) {
		t.Helper()
		testkit.Until(t, "the settings have "+want, func() bool {
			data, _ := os.ReadFile(path)
			return strings.Contains(string(data), want)
		})
	}
	term.Keys("V", "r")
	term.Wait("r jumps to Reel Ledger.")
	file(`r = "app:=\"Reel Ledger\""`)
	term.Keys("6", "v")
	term.Wait("jump to  r Reel Ledger")
	term.Keys("r")
	term.Wait("you are on  ● 1 Programme · A · Reel Ledger")
	term.Keys("v", "r") // and on to its next window
	term.Wait("you are on  ● 2 Subtitles · A · Reel Ledger")
	term.Keys("v", "q")
	term.Wait("Nothing is tied to q.")
	term.Keys("V", "W")
	term.Wait("w jumps to this window of Reel Ledger. u undoes.")
	// An app that runs is gone to, one that does not is started, another copy too.
	term.Keys("o")
	term.Wait("OPEN, OR GO TO", "Coat Check", "not running: Enter starts it")
	term.Type("till")
	term.Keys("Enter")
	term.Wait("you are on  ● 3 Box office · A · Ticket Till")
	term.Keys("o")
	term.Wait("OPEN, OR GO TO")
	term.Type("coat")
	term.Keys("Enter")
	term.Wait("Started Coat Check.", "27 windows", "A · Coat Check")
	term.Keys("O")
	term.Wait("OPEN ANOTHER", "Coat Check", "1 window open: Enter starts one more")
	term.Type("coat")
	term.Keys("Enter")
	term.Wait("28 windows")
	term.Keys(":")
	term.Type(`open "Lamp Diary" on B5`)
	term.Keys("Enter")
	term.Wait("29 windows")
	term.Keys("/")
	term.Type("lamp")
	term.Wait("B5     Lamp Diary")
	term.Keys("Escape")
	term.Wait("29 of 29")
	term.Keys("Escape")
	term.Wait("SHEET")
	// Windows of one app.
	term.Keys(":")
	term.Type("focus app next")
	term.Keys("Enter")
	term.Wait("● 3 Box office")
	term.Keys("X")
	term.Wait("Close all windows of Coat Check, 2 of them?")
	term.Keys("Enter")
	term.Wait("27 windows")
	// A rule from the chosen window.
	term.Keys("1", "Home", "\\;", "r")
	term.Wait("RULES", "No rule matches it", "No rule yet.")
	term.Keys("a")
	term.Wait("New rule: app:=\"Reel Ledger\" then to 1")
	term.Keys("BSpace")
	term.Type("9x")
	term.Keys("Enter")
	term.Wait("must be a workspace's number")
	term.Keys("BSpace", "BSpace")
	term.Type("4 float")
	term.Keys("Enter")
	term.Wait("Added rule 1.", "Rule 1 matches: it opens on 4, it floats.")
	file("match = 'app:=\"Reel Ledger\"'")
	term.Keys("Escape")
	term.Wait("SHEET")
	term.Keys(":")
	term.Type(`open "Reel Ledger" another`)
	term.Keys("Enter")
	term.Wait("Started Reel Ledger.", "28 windows")
	term.Keys("4")
	term.Wait("● 4 Guests", "≈ #")
	// Killing asks, and closing one does not.
	term.Keys(":")
	term.Type("kill of app:poster")
	term.Keys("Enter")
	term.Wait("End the program of 3 windows? What it has not saved is lost. Enter ends it, Escape leaves it.")
	term.Keys("Escape")
	term.Wait("Left as it was.", "28 windows")
	// The bare desk, and everything back.
	term.Keys("D")
	term.Wait("the desk is bare; D brings everything back")
	term.Keys("D")
	term.Wait("Everything is back.", "● 4 Guests")
}

func TestDeskLine(t *testing.T) {
	d, err := scene.Demo()
	if err != nil {
		t.Fatal(err)
	}
	if got, want := deskLine(d), "[1 Programme*]  2 Subtitles*  3 Box office*  4 Guests*  5 Press*  6 Late night* | A lead | ! 3 lost"; got != want {
		t.Errorf("the line is %q, want %q", got, want)
	}
}

// The five first steps tick off as they are done.
func TestDemoFirstSteps(t *testing.T) {
	term := demo(t, 160, 40, nil)
	term.Wait("TRY THESE", "· r a     rescue what is lost")
	term.Keys("r", "a")
	term.Wait("√ r a")
	term.Keys("u")
	term.Wait("√ u")
	term.Keys("a", "Enter")
	term.Wait("√ a Enter")
	term.Keys("Home", "s", "3")
	term.Wait("√ s 3")
	term.Keys("/")
	term.Type("radio")
	term.Keys("Enter", "Enter")
	term.Wait("√ / radio", "has the focus")
	term.Keys("Escape")
	term.Wait("Put the first steps away.")
}
