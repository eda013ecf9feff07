package main

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/testkit"
)

// lying is where windows are, by their titles or apps, as zatlas list tells it.
func lying(t *testing.T, s *testkit.Server) map[string]string {
	t.Helper()
	var list []struct {
		App, Title, Ref string
		States          []string
		Rect            [4]int
	}
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "list", "--json")
	if err == nil {
		err = json.Unmarshal([]byte(out), &list)
	}
	if err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	places := map[string]string{}
	for _, w := range list {
		name := w.Title
		if w.App != "XTerm" {
			name = w.App
		}
		w.States = slices.DeleteFunc(w.States, func(word string) bool { return word == "focused" || word == "urgent" })
		places[name] = fmt.Sprint(w.Ref, w.Rect, w.States)
	}
	return places
}

// sameLying tells what is not where it was; empty for nothing.
func sameLying(was, is map[string]string) string {
	var b strings.Builder
	for name, place := range was {
		if is[name] != place {
			fmt.Fprintf(&b, "%s is %s and was %s\n", name, is[name], place)
		}
	}
	return b.String()
}

// entries writes desktop entries for a display, and gives the environment with them.
func entries(t *testing.T, s *testkit.Server) {
	t.Helper()
	data := filepath.Join(s.Dir, "data", "applications")
	for id, text := range map[string]string{
		"clock": "Name=Wall Clock\nExec=xclock\nStartupWMClass=XClock\n",
		"logo":  "Name=Slow Logo\nExec=sh -c \"sleep 1; exec xlogo\"\nStartupWMClass=XLogo\n",
		"gone":  "Name=Gone\nExec=/none/such\nStartupWMClass=XEyes\n",
	} {
		if err := os.MkdirAll(data, 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(data, id+".desktop"), []byte("[Desktop Entry]\nType=Application\n"+text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	s.Env = append(s.Env, "XDG_DATA_HOME="+filepath.Dir(data), "XDG_DATA_DIRS="+filepath.Dir(data))
}

func logbookOf(t *testing.T, s *testkit.Server) string {
	t.Helper()
	return testkit.Run(t, s.Env, testkit.Binary(t), "log", "-n", "200")
}

// A day with three plates on two monitors and on one: saved, laid, laid by itself when the
// monitor comes, with apps started by it, and a keeper killed in the middle of it all.
func TestPlatesByDay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	entries(t, s)
	s.Settings(t, "[plates]\nlay = [\"Docked\"]\n")
	s.Plug(t, "DUMMY1", 1920, 0)
	keeper := s.Keeper(t)
	binary := testkit.Binary(t)
	for _, title := range []string{"code", "notes", "talk", "mail"} {
		client(t, s, title, "xterm")
	}
	s.Do(t, `open "Wall Clock"`)
	testkit.Until(t, "the clock is there", func() bool { return lying(t, s)["Wall Clock"] != "" })
	s.Do(t, "rename Work", "add Talk", "send Talk of title:=talk", "send B of title:=notes", "float of app:clock", "snap topright of app:clock", "layout lead of title:=code", "share +10")
	s.Do(t, "plate save Docked", "plate letter Docked d", "plate save Pair sheet")
	docked := lying(t, s)

	// Another desk for a call, and back: what it replaced, and what the call has opened.
	s.Do(t, "send Talk of title:=code", "send A1 of title:=notes", "close of app:clock")
	testkit.Until(t, "the clock is gone", func() bool { return lying(t, s)["Wall Clock"] == "" })
	s.Do(t, "plate save Call")
	call := lying(t, s)
	s.Do(t, "plate lay d")
	got := lying(t, s)
	if wrong := sameLying(map[string]string{"code": docked["code"], "notes": docked["notes"], "talk": docked["talk"]}, got); wrong != "" {
		t.Errorf("with Docked laid %s", wrong)
	}
	client(t, s, "guest", "xterm")
	s.Do(t, "plate lay back")
	if got := lying(t, s); got["code"][:2] != call["code"][:2] || got["notes"][:2] != call["notes"][:2] || !strings.HasPrefix(got["guest"], "A1") {
		t.Errorf("after back %s\n%v", sameLying(call, got), got)
	}
	s.Do(t, "close of title:=guest")
	testkit.Until(t, "that window is gone", func() bool { return len(lying(t, s)) == 4 })

	// What is missing is started, and goes to its place; what cannot be is told.
	s.Do(t, "plate lay Docked starting")
	testkit.Until(t, "the clock lies where it lay", func() bool { return sameLying(docked, lying(t, s)) == "" })

	// Monitors: the plate of the set that comes is laid by itself, that of another is named.
	s.Unplug(t, "DUMMY1")
	testkit.Until(t, "one monitor is left", func() bool { return strings.HasPrefix(lying(t, s)["notes"], "A1") })
	s.Do(t, "send Talk of title:=mail", "plate save Alone", "send Work of title:=mail")
	s.Plug(t, "DUMMY1", 1920, 0)
	testkit.Until(t, "Docked is laid by itself", func() bool { return sameLying(docked, lying(t, s)) == "" && strings.Contains(logbookOf(t, s), "host") })
	log := logbookOf(t, s)
	if !strings.Contains(log, "The plate Docked is laid when the windows have come to rest.") {
		t.Errorf("the logbook has\n%s", log)
	}
	s.Unplug(t, "DUMMY1")
	testkit.Until(t, "Alone is named, and not laid", func() bool {
		return strings.Contains(logbookOf(t, s), "These are the monitors of the plate Alone (plate lay Alone).")
	})
	s.Plug(t, "DUMMY1", 1920, 0)
	testkit.Until(t, "two monitors, and all as it was", func() bool { return sameLying(docked, lying(t, s)) == "" })

	// By a chord and its letter.
	x := s.NewX(t)
	s.Do(t, "send Talk of title:=code", "send A of title:=notes")
	x.Type("Super+Shift+p d")
	testkit.Until(t, "the plate is laid by its letter", func() bool { return sameLying(docked, lying(t, s)) == "" })

	// A keeper is killed while it lays plates, again and again: no window is lost, and
	// the history is there after it.
	for range 3 {
		go testkit.TryRun(s.Env, binary, "do", "plate lay Call", "plate lay Docked", "plate lay Alone", "plate lay Docked", "plate lay Call")
		before := strings.Count(logbookOf(t, s), "Laid ")
		testkit.Until(t, "plates are being laid", func() bool { return strings.Count(logbookOf(t, s), "Laid ") > before })
		killed(t, s, keeper)
		keeper = s.Keeper(t)
		if got := lying(t, s); len(got) != len(docked) {
			t.Fatalf("after the kill there are %v", got)
		}
		s.Do(t, "plate lay Docked")
		if wrong := sameLying(docked, lying(t, s)); wrong != "" {
			t.Errorf("laid after the kill, %s", wrong)
		}
	}
}

// Undo reaches back over a kill of the keeper and a restart, by 250 steps, and so does the
// logbook; a plate that was removed comes back too.
func TestUndoOutlastsTheKeeper(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeper := s.Keeper(t)
	client(t, s, "one", "xterm")
	client(t, s, "two", "xterm")
	s.Do(t, "plate save Day", "add Stage")
	start := lying(t, s)
	var lines []string
	for i := range 125 {
		lines = append(lines, fmt.Sprintf("rename Stage%d", i), "send next of title:=two", "send prev of title:=two")
	}
	s.Do(t, lines[:len(lines)-125]...)
	s.Do(t, "plate remove Day")
	waitWritten(t, s)
	state := stateOf(s)
	testkit.Until(t, "the last line is kept", func() bool { return kept(t, state, "Removed the plate Day.") })
	killed(t, s, keeper)
	s.Keeper(t)
	term := testkit.NewTerminal(t, 160, 40, s.Env, testkit.Binary(t))
	term.Wait("u undo: Removed the plate Day")
	term.Keys(";", "l").Wait("LOGBOOK", "Began with")
	term.Keys("Up", "Up").Wait("LOGBOOK", "Enter takes the desk to here")
	term.Keys("Escape")
	if out := s.Do(t, "undo"); !strings.Contains(out, "Undid: Removed the plate Day.") {
		t.Errorf("undo after the kill says %s", out)
	}
	if out := testkit.Run(t, s.Env, testkit.Binary(t), "plates"); !strings.Contains(out, "Day  desk") {
		t.Errorf("the plates are %s", out)
	}
	s.Do(t, "restart")
	testkit.Until(t, "the keeper is back", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err == nil
	})
	if out := s.Do(t, "undo 250"); !strings.Contains(out, "Undid 250 steps.") {
		t.Errorf("undo after the restart says %s", out)
	}
	if wrong := sameLying(start, lying(t, s)); wrong != "" {
		t.Error(wrong)
	}
	if out := s.Do(t, "redo 250"); !strings.Contains(out, "Did again 250 steps.") {
		t.Errorf("redo says %s", out)
	}
	if names := s.Xprop(t, "root", "_NET_DESKTOP_NAMES"); !strings.Contains(names, "Stage83") {
		t.Errorf("done again, the names are %s", names)
	}
}

// killed kills a keeper, and waits until it is gone.
func killed(t *testing.T, s *testkit.Server, keeper *exec.Cmd) {
	t.Helper()
	if err := keeper.Process.Signal(syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	testkit.Until(t, "the keeper is gone", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err != nil
	})
}

// kept tells whether a line is in the logbook on disk.
func kept(t *testing.T, path, words string) bool {
	t.Helper()
	data, err := os.ReadFile(path)
	wal, walErr := os.ReadFile(path + "-wal")
	return err == nil && strings.Contains(string(data), words) || walErr == nil && strings.Contains(string(wal), words)
}

// Another display, with another home, to which the settings folder alone was given, comes
// up as the first one.
func TestSettingsFolderIsAll(t *testing.T) {
	t.Parallel()
	first := testkit.NewServer(t)
	entries(t, first)
	first.Settings(t, "[plates]\nstart = \"Office\"\n[keeper]\nterminal = \"xterm -T TITLE -e\"\n[chords]\n\"Atlas+F9\" = \"run xlogo\"\n")
	first.Keeper(t)
	for _, title := range []string{"code", "notes", "talk"} {
		client(t, first, title, "xterm")
	}
	first.Do(t, "rename Work", "add Talk", "add", "send Talk of title:=talk", "layout rows of title:=code", "plate save Office", "plate letter Office o")
	pack := filepath.Join(first.Dir, "desk.zip")
	binary := testkit.Binary(t)
	if out := testkit.Run(t, first.Env, binary, "pack", pack); !strings.Contains(out, "Packed 2 files") || !strings.Contains(out, "plates/Office.json, settings.toml.") {
		t.Errorf("pack says %s", out)
	}
	for _, way := range []string{"copied", "unpacked"} {
		second := testkit.NewServer(t)
		if way == "copied" {
			if err := os.CopyFS(filepath.Join(second.Dir, "config"), os.DirFS(filepath.Join(first.Dir, "config"))); err != nil {
				t.Fatal(err)
			}
		} else {
			if out, err := testkit.TryRun(second.Env, binary, "unpack", pack); err == nil || !strings.Contains(out, "--yes does it") || !strings.Contains(out, `"Atlas+F9" = "run xlogo"`) {
				t.Errorf("without an answer unpack says %v %s", err, out)
			}
			testkit.Run(t, second.Env, binary, "unpack", pack, "--yes")
			text, _ := os.ReadFile(filepath.Join(second.Dir, "config", "zealous-atlas", "settings.toml"))
			if want := "# terminal = \"xterm -T TITLE -e\"\n[chords]\n# \"Atlas+F9\" = \"run xlogo\"\n"; !strings.HasSuffix(string(text), want) {
				t.Errorf("the settings are\n%s", text)
			}
		}
		for _, title := range []string{"talk", "notes", "code"} { // in another order
			id := second.Client(t, title, "xterm")
			testkit.Until(t, title+" is mapped", func() bool { return second.Seen(id) })
		}
		second.Keeper(t)
		if wrong := sameLying(lying(t, first), lying(t, second)); wrong != "" {
			t.Errorf("%s: %s", way, wrong)
		}
		a, b := first.Xprop(t, "root", "_NET_DESKTOP_NAMES"), second.Xprop(t, "root", "_NET_DESKTOP_NAMES")
		if a != b {
			t.Errorf("%s: the names are %s, and were %s", way, b, a)
		}
		if out := second.Do(t, "plate lay o"); !strings.Contains(out, "already") {
			t.Errorf("%s: laying the plate again says %s", way, out)
		}
	}
}

// The screen of plates on a display: files that are changed, broken and removed by others
// are seen, previews hold, and all of it at 80 by 24 too.
func TestPlatesScreen(t *testing.T) {
	t.Parallel()
	s := managed(t)
	client(t, s, "one", "xterm")
	client(t, s, "two", "xterm")
	term := testkit.NewTerminal(t, 160, 40, s.Env, testkit.Binary(t))
	term.Wait("display " + s.Display)
	term.Keys("P").Wait("lay the plate", "there are no plates yet")
	term.Keys("P").Wait("PLATES", "There are no plates yet.")
	term.Keys("s").Wait("save as a plate", "the whole desk")
	term.Keys("d").Type("Day").Keys("Enter").Wait("Saved the desk as the plate Day, with 2 places. u undoes.", "desk, 1 workspace, 2 places", "never laid", "of these monitors")
	term.Keys("V", "d").Wait("d lays the plate Day.", "d Day")
	term.Keys("s", "d", "Enter").Wait("Save over the plate Day?")
	term.Keys("Escape").Wait("Left as it was.")
	s.Do(t, "layout rows", "float of title:=two")
	term.Wait("XTerm · two floats.")
	term.Keys("Home").Wait("Lays Day: 2 windows move · Enter does it")
	term.Keys("d").Wait("MOVES 2", "PLACES WITHOUT A WINDOW 0", "WINDOWS WITHOUT A PLACE 0")
	term.Keys("Enter").Wait("Laid Day: 2 windows moved. u undoes.")
	term.Keys("d").Wait("laid at", "back  desk")
	folder := filepath.Join(s.Dir, "config", "zealous-atlas", "plates")
	day, err := os.ReadFile(filepath.Join(folder, "Day.json"))
	if err != nil {
		t.Fatal(err)
	}
	put := func(name, text string) {
		if err := os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	put("By hand.json", string(day))
	put("Broken.json", strings.Replace(string(day), `"layout"`, `"layuot"`, 1))
	if err := syscall.Mkfifo(filepath.Join(folder, "Pipe.json"), 0o600); err != nil {
		t.Fatal(err)
	}
	term.Wait("By hand  desk", "! Broken  cannot be read", "! Pipe  cannot be read")
	term.Keys("End", "Up").Wait("there is no such key", "Broken.json:")
	term.Keys("Enter").Wait("This file is no plate")
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "plate lay Broken"); err == nil || !strings.Contains(out, "layuot: there is no such key") {
		t.Errorf("laying a broken plate: %v %s", err, out)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "plate save Broken"); err == nil || !strings.Contains(out, "is left as it is") {
		t.Errorf("saving over a broken plate: %v %s", err, out)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "plates", "--json"); err == nil || !strings.Contains(out, `"name": "By hand"`) {
		t.Errorf("plates --json with one at fault: %v: %s", err, out)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "plates"); err == nil || !strings.Contains(out, "Broken.json:") || !strings.Contains(out, "By hand") {
		t.Errorf("zatlas plates: %v %s", err, out)
	}
	for _, name := range []string{"Broken.json", "Pipe.json", "By hand.json"} {
		os.Remove(filepath.Join(folder, name))
	}
	testkit.Until(t, "what was removed is gone", func() bool { return !strings.Contains(term.Screen(), "! Broken") })
	term.Resize(80, 24)
	term.Keys("Home").Wait("PLATES", "Day", "Laid Day: everything is in place already")
	term.Keys("e").Wait("New name of the plate Day")
	term.Keys("C-u").Type("Night").Keys("Enter").Wait("The plate Day is called Night now. u undoes.")
	term.Keys("x").Wait("Removed the plate Night. u undoes.")
	if _, err := os.Stat(filepath.Join(folder, "Night.json")); !os.IsNotExist(err) {
		t.Errorf("its file is there: %v", err)
	}
	term.Keys("u", "u")
	testkit.Until(t, "both are undone, and the file is as it was", func() bool {
		again, err := os.ReadFile(filepath.Join(folder, "Day.json"))
		return err == nil && string(again) == string(day)
	})
	term.Keys("Escape")
	testkit.Until(t, "the map is back", func() bool { return !strings.Contains(term.Screen(), "PLATES") })
	s.Do(t, "layout rows")
	term.Keys("P", "d").Wait("Laid Day")
}
