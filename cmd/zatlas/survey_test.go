package main

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zatlas/internal/host/display"
	"zatlas/internal/store"
	"zatlas/internal/survey"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// The survey is turned on on the screen, after asking; from then on focus is kept, and
// forgotten for good.
func TestSurveyOfADisplay(t *testing.T) {
	t.Parallel()
	s, _ := sixWindows(t)
	bin := testkit.Binary(t)
	csv := func() string { return testkit.Run(t, s.Env, bin, "survey", "--csv") }
	none := csv()
	if none != "start,seconds,number,workspace,monitor,app\r\n" {
		t.Fatalf("before anything is kept: %q", none)
	}
	term := testkit.NewTerminal(t, 120, 40, s.Env, bin)
	term.Wait("6 windows")
	term.Keys(";", "s").Wait("The survey is off and records nothing.")
	term.Keys("Enter").Wait("Never a title. Enter turns it on, Escape leaves it off.")
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("O").Wait("Never a title.")
	term.Keys("Enter").Wait("The survey is on from now.")
	s.Do(t, "focus #4", "add Foyer", "send 2 of #1", "go 2", "focus #1")
	time.Sleep(1100 * time.Millisecond) // what takes less than a second is no span
	s.Do(t, "go 1", "focus #4")
	testkit.Until(t, "the span on 2 is kept", func() bool { return strings.Contains(csv(), ",2,Foyer,") })
	if strings.Contains(csv(), "one") {
		t.Errorf("a title is kept: %s", csv())
	}
	term.Keys("d").Wait("XTerm", "Foyer", "commands;")
	if words := testkit.Run(t, s.Env, bin, "survey", "--period", "day"); !strings.Contains(words, "1 app") && !strings.Contains(words, "2 apps") {
		t.Errorf("in words: %s", words)
	}
	term.Keys("x").Wait("Forget since:")
	term.Type("yesterday").Keys("Enter").Wait(`"yesterday" is no day`)
	term.Keys("C-u").Type("2h").Keys("Enter").Wait("for good? Enter erases it")
	term.Keys("Enter").Wait("Erased ", " for good.")
	if got := csv(); got != none {
		t.Errorf("after forgetting: %q", got)
	}
	term.Keys("O").Wait("The survey is off. What was kept stays")
}

// On a real display, keys keep the span going, and without any it ends with the last.
func TestIdleUser(t *testing.T) {
	t.Parallel()
	srv := testkit.NewServer(t)
	x := srv.NewX(t)
	idle, err := display.NewIdle(srv.Display)
	if err != nil {
		t.Fatal(err)
	}
	defer idle.Close()
	path := filepath.Join(t.TempDir(), "state.db")
	state, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	log := slog.New(slog.DiscardHandler)
	saver := store.NewSaver(state, ":1", 0, log)
	r := store.NewRecorder(saver, idle.Time, log)
	d := desks.Demo(t)
	spans := func() []survey.Span {
		got, err := store.ReadSurvey(path, ":1", time.Unix(0, 0), time.Now().Add(time.Hour))
		if err != nil {
			t.Fatal(err)
		}
		return got.Spans
	}
	x.Press('a')
	r.Set(store.Terms{On: true, Days: 90, Away: 2500 * time.Millisecond, Every: 100 * time.Millisecond})
	r.Saw(time.Now(), d, store.Deed{})
	// For longer than it takes to count as away there are keys.
	for began := time.Now(); time.Since(began) < 4*time.Second; time.Sleep(200 * time.Millisecond) {
		x.Press('a')
	}
	last := time.Now()
	testkit.Until(t, "the span ends with the last key", func() bool {
		idle, err := idle.Time()
		return err == nil && idle > 3*time.Second && len(spans()) == 1 && !spans()[0].End().After(last.Add(time.Second))
	})
	if s := spans()[0]; s.Seconds < 3 {
		t.Errorf("the span has %d seconds, and there were keys for 4", s.Seconds)
	}
	x.Press('a')
	testkit.Until(t, "a new span begins with the next key", func() bool { return len(spans()) == 2 })
	ctx, cancel := context.WithTimeout(t.Context(), testkit.Deadline)
	defer cancel()
	r.Close(ctx)
	saver.Close(ctx)
	state.Close()
}

// spansFile is a file of spans in which 1 and 6 of the demo desk are switched between.
func spansFile(t *testing.T) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("start,seconds,number,workspace,monitor,app\n")
	now := time.Now()
	at := now.Add(-time.Hour).Truncate(time.Second)
	if today := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location()); at.Before(today) {
		at = today
	}
	for i := range 40 {
		place := []string{"1,Programme,A,Reel Ledger", "6,Late night,B,Tin Radio"}[i%2]
		fmt.Fprintf(&b, "%s,30,%s\n", at.Add(time.Duration(30*i)*time.Second).Format(time.RFC3339), place)
	}
	path := filepath.Join(t.TempDir(), "spans.csv")
	if err := os.WriteFile(path, []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

func TestAdviceOnTheScreen(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 50, nil, "--from", spansFile(t))
	term.Wait("6 workspaces")
	term.Keys(";", "s").Wait("20 min in front of 2 apps; Programme 50%; 39 switches, 100% of them between 1 and 6.")
	term.Keys("d").Wait("HOURS BY WORKSPACE", "DONE MOST")
	term.Keys("f").Wait("Four weeks")
	term.Keys("Left").Wait("Nothing is kept of this time")
	term.Keys("Right").Keys("Right").Wait("This is the latest there is.")
	term.Keys("a").Wait("Next and previous would be 39 steps for these 39 switches", "instead of 195.")
	term.Keys("Enter").Wait("The order is now 1 Programme, 2 Late night", "→2 Late night")
	term.Keys("Enter").Wait("The order is now 1 Programme, 2 Late night, 3 Subtitles", "Today's order is the best")
	term.Keys("u").Wait("Undid: The order is now", "instead of 195")
	term.Keys("Down", "Down", "Enter").Wait("Sends Tin Radio · Late set to 1 Programme")
	term.Keys("Escape").Wait("Enter preview it on the map")
	term.Keys("Escape").Wait("HOURS BY APP")
	term.Keys("Escape").Wait("6 Late night")
}

func TestSurveyCommands(t *testing.T) {
	t.Parallel()
	bin, csv := testkit.Binary(t), spansFile(t)
	scene := "../../internal/scene/demo.json"
	got := testkit.Run(t, nil, bin, "survey", "advice", "--from", csv, "--scene", scene, "--json")
	if want := `{"spans":40,"left_out":0,"by_way":{"order":[1,6,2,3,4,5],"now":195,"best":39,"exact":true},"by_use":{"order":[1,6,2,3,4,5],"seconds":[600,0,0,0,0,600]},` +
		`"together":[{"apps":["Reel Ledger","Tin Radio"],"turns":39,"workspaces":[1,6]}],"apart":[],"idle":{"windows":[],"workspaces":[2,3,4,5]},"by_keys":[]}` + "\n"; got != want {
		t.Errorf("the advice is\n%s\nwant\n%s", got, want)
	}
	if got := testkit.Run(t, nil, bin, "survey", "advice", "--from", csv, "--scene", scene); !strings.Contains(got, "zatlas do 'reorder as 1,6,2,3,4,5'") {
		t.Errorf("in words: %s", got)
	}
	figures := testkit.Run(t, nil, bin, "survey", "--from", csv, "--json")
	for _, want := range []string{`"seconds":1200,`, `"workspaces":[{"label":"Programme","number":1,"seconds":600},{"label":"Late night","number":6,"seconds":600}]`, `"switches":[[0,20],[19,0]],"switched":39,`, `"sources":[]`} {
		if !strings.Contains(figures, want) {
			t.Errorf("without %s in figures: %s", want, figures)
		}
	}
	if again := testkit.Run(t, nil, bin, "survey", "--from", csv, "--csv"); strings.Count(again, "\r\n") != 41 {
		t.Errorf("printed again: %s", again)
	}
	bad := filepath.Join(t.TempDir(), "bad.csv")
	os.WriteFile(bad, []byte("start,seconds,number,workspace,monitor,app\n2026-11-26T09:00:00Z,x,1,F,A,L\n"), 0o600)
	for _, c := range [][]string{
		{`bad.csv: line 2: seconds "x" is no whole number`, "survey", "--from", bad},
		{`bad.csv: line 2:`, "survey", "advice", "--from", bad, "--scene", scene},
		{`there is no period "year"`, "survey", "--period", "year"},
		{`"soon" is no day`, "survey", "forget", "soon"},
		{"forget takes one time", "survey", "forget", "1d", "2d"},
	} {
		if out, err := testkit.TryRun([]string{"XDG_STATE_HOME=" + t.TempDir()}, bin, c[1:]...); err == nil || !strings.Contains(out, c[0]) {
			t.Errorf("%q: %v, %s", c[1:], err, out)
		}
	}
}
