package main

import (
	"os"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/draw"

	"zatlas/internal/status"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

func TestDemoGazetteer(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys(";", "g").Wait("GAZETTEER  by workspace", "26 of 26 windows", "▼ 1 Programme  7 windows", "Talks after the film")
	term.Keys("]").Wait("by app", "▼ Guest Rota  3 windows")
	term.Keys("]").Wait("by monitor", "▼ A · Laptop")
	term.Keys("]").Wait("by recency")
	term.Keys("]", "}").Wait("by workspace, sorted by app")
	term.Keys("Home", "Left").Wait("► 1 Programme  7 windows", "19 of 26 windows")
	term.Keys("Right").Wait("▼ 1 Programme")
	// Search: letters, a query, a fault under it while the rows stay.
	term.Keys("/").Type("til ref").Wait("the best match first · 3 of 26 windows", "Refunds")
	term.Keys("C-u").Type("app:guest is:min")
	term.Wait("did you mean app:guest is:minimised?", "3 of 26") // the words before it stand
	term.Keys("C-u").Type("app:guest").Wait("3 of 26 windows")
	term.Keys("Enter", "*", "s", "6").Wait("Sent 3 windows to 6 Late night. u undoes.", "3 marked")
	term.Keys("u").Wait("Undid: Sent 3 windows")
	term.Keys("M").Wait("Minimised 3 windows. u undoes.", "minimised")
	term.Keys("u", "S").Wait("3 windows show on every workspace.", "sticky")
	term.Keys("u", "x").Wait("Close 3 windows? Enter asks their programs to close them")
	term.Keys("Enter").Wait("No window matches.")
	term.Keys("Escape").Wait("23 of 23 windows")
	term.Keys("/").Type("subtitles").Wait("Enter look among the apps")
	term.Keys("Escape", "Escape").Wait("SHEET") // as fast as they are pressed
}

func TestDemoSwitcher(t *testing.T) {
	t.Parallel()
	term := demo(t, 80, 24, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys("2").Wait("● 2 Subtitles")
	term.Keys("'", "Enter").Wait("● 1 Programme")
	term.Keys("'", "2").Wait("● 2 Subtitles")
	term.Keys("'", "]").Wait("this app's", "2 of 26 windows")
	term.Keys("]").Wait("this workspace's", "5 of 26 windows")
	term.Keys("x").Wait("closed.", "4 of 25 windows")
	term.Keys("Escape").Wait("● 2 Subtitles", "25 windows")
}

func TestDemoPinsOpenRules(t *testing.T) {
	t.Parallel()
	tmp := t.TempDir()
	term := demo(t, 160, 40, []string{"XDG_CONFIG_HOME=" + t.TempDir(), "TMPDIR=" + tmp})
	term.Wait("#11 Reel Ledger:")
	path := demoSettings(t, tmp)
	file := func(want string) {
		t.Helper()
		testkit.Until(t, "the settings have "+want, func() bool {
			data, _ := os.ReadFile(path)
			return strings.Contains(string(data), want)
		})
	}
	term.Keys("V", "r").Wait("r jumps to Reel Ledger.")
	file(`r = "app:=\"Reel Ledger\""`)
	term.Keys("6", "v").Wait("jump to  r Reel Ledger")
	term.Keys("r").Wait("you are on  ● 1 Programme · A · Reel Ledger")
	term.Keys("v", "r") // and on to its next window
	term.Wait("you are on  ● 2 Subtitles · A · Reel Ledger")
	term.Keys("v", "q").Wait("Nothing is tied to q.")
	term.Keys("V", "W").Wait("w jumps to this window of Reel Ledger. u undoes.")
	// An app that runs is gone to, one that does not is started, another copy too.
	term.Keys("o").Wait("OPEN, OR GO TO", "Coat Check", "not running: Enter starts it")
	term.Type("till").Keys("Enter").Wait("you are on  ● 3 Box office · A · Ticket Till")
	term.Keys("o").Wait("OPEN, OR GO TO")
	term.Type("coat").Keys("Enter").Wait("Started Coat Check.", "27 windows", "A · Coat Check")
	term.Keys("O").Wait("OPEN ANOTHER", "Coat Check", "1 window open: Enter starts one more")
	term.Type("coat").Keys("Enter").Wait("28 windows")
	term.Keys(":").Type(`open "Lamp Diary" on B5`).Keys("Enter").Wait("29 windows")
	term.Keys("/").Type("lamp").Wait("B5     Lamp Diary")
	term.Keys("Escape").Wait("29 of 29")
	term.Keys("Escape").Wait("SHEET")
	// Windows of one app.
	term.Keys(":").Type("focus app next").Keys("Enter").Wait("● 3 Box office")
	term.Keys(")").Wait("#63 Coat Check:")
	term.Keys("(").Wait("#62 Coat Check:")
	term.Keys("s", "*").Wait("send all 2 windows of Coat Check to")
	term.Keys("6").Wait("Send all 2 windows of Coat Check to 6 Late night? Enter does it, Escape leaves them.", "┄")
	term.Keys("Enter").Wait("Sent 2 windows to 6 Late night. u undoes.", "6 Late night", "3 windows")
	term.Keys("u").Wait("Undid: Sent 2 windows")
	term.Keys("X").Wait("Close all 2 windows of Coat Check?")
	term.Keys("Enter").Wait("27 windows")
	// A rule from the chosen window.
	term.Keys("1", "Home", "\\;", "r").Wait("RULES", "No rule matches it", "There are no rules yet.")
	term.Keys("a").Wait("New rule: app:=\"Reel Ledger\" then to 1")
	term.Keys("BSpace").Type("9x").Keys("Enter").Wait("must be a workspace's number")
	term.Keys("BSpace", "BSpace").Type("4 float").Keys("Enter").Wait("Added rule 1.", "Rule 1 matches: it opens on 4, it floats.")
	file("match = 'app:=\"Reel Ledger\"'")
	// Another, moved before it and removed again.
	term.Keys("a", "C-u").Type("app:ledger then to 2").Keys("Enter")
	term.Wait("Added rule 2.", "1 more would match, and an earlier one counts")
	term.Keys("J").Wait("It cannot go further.")
	term.Keys("K").Wait("It is rule 1 now.", "Rule 1 matches: it opens on 2.")
	term.Keys("x").Wait("Remove rule 1, app:ledger?")
	term.Keys("Escape").Wait("Left as it was.", "Rule 1 matches: it opens on 2.")
	term.Keys("x").Wait("Remove rule 1, app:ledger?")
	term.Keys("Enter").Wait("Removed rule 1.", "Rule 1 matches: it opens on 4, it floats.")
	term.Keys("Escape").Wait("SHEET")
	term.Keys(":").Type(`open "Reel Ledger" another`).Keys("Enter").Wait("Started Reel Ledger.", "28 windows")
	term.Keys("4").Wait("● 4 Guests", "≈ #")
	// Killing asks, and closing one does not.
	term.Keys(":").Type("kill of app:poster").Keys("Enter")
	term.Wait("End the program of 3 windows? What it has not saved is lost. Enter ends it, Escape leaves it running.")
	term.Keys("Escape").Wait("Left as it was.", "28 windows")
	// The bare desk, and everything back.
	term.Keys("D").Wait("the desk is bare; D brings everything back")
	term.Again("D").Wait("Everything is back.", "● 4 Guests")
}

func TestDeskLine(t *testing.T) {
	t.Parallel()
	d := desks.Demo(t)
	separate, _ := d.With(desk.Settle{Settings: desk.Settings{Separate: true}})
	if got := deskLine(separate); strings.Count(got, "[") != 1 || strings.Count(got, "(") != 1 {
		t.Errorf("with a workspace on each of two monitors the line is %q", got)
	}
	if got, want := deskLine(d), "[1 Programme*]  2 Subtitles*  3 Box office*  4 Guests*  5 Press*  6 Late night* | A lead | ! 3 lost"; got != want {
		t.Errorf("the line is %q, want %q", got, want)
	}
}

// The five first steps tick off as they are done.
func TestDemoFirstSteps(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("TRY THESE", "· r a     rescue what is lost")
	term.Keys("r", "a").Wait("√ r a")
	term.Keys("u").Wait("√ u")
	term.Keys("a", "Enter").Wait("√ a Enter")
	term.Wait("workspace 7:", "s send #11") // nothing is chosen: the focused window goes
	term.Keys("s", "3").Wait("√ s 3")
	term.Keys("/").Type("radio").Keys("Enter", "Enter").Wait("has the focus")
	testkit.Until(t, "the corner goes when all is done", func() bool { return !strings.Contains(term.Screen(), "TRY THESE") })
}

// deskLine is what the line says of a desk where you are.
func deskLine(d *desk.Desk) string {
	o, _ := draw.OverviewOf(d, nil)
	return status.Of(o, d.At, status.Facts{}).Text()
}
