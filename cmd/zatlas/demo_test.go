package main

import (
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// demo runs the real binary on the demo desk in a terminal.
func demo(t *testing.T, w, h int, env []string, args ...string) *testkit.Terminal {
	t.Helper()
	state := t.TempDir()
	env = append([]string{"XDG_STATE_HOME=" + state}, env...)
	return testkit.NewTerminal(t, w, h, env, append([]string{testkit.Binary(t), "demo"}, args...)...)
}

// demoSettings is the settings file of the demo that runs with a folder for
// temporary files of its own.
func demoSettings(t *testing.T, tmp string) string {
	t.Helper()
	found := ""
	testkit.Until(t, "the demo has a folder", func() bool {
		all, _ := filepath.Glob(filepath.Join(tmp, "zealous-atlas-demo-*"))
		if len(all) == 1 {
			found = filepath.Join(all[0], "settings.toml")
		}
		return found != ""
	})
	return found
}

// snapshot is everything in a folder: paths, modes, contents and times.
func snapshot(t *testing.T, dir string) string {
	t.Helper()
	var b strings.Builder
	err := filepath.WalkDir(dir, func(path string, e fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := e.Info()
		if err != nil {
			return err
		}
		fmt.Fprintln(&b, path, info.Mode(), info.ModTime().UnixNano(), info.Size())
		if info.Mode().IsRegular() {
			data, err := os.ReadFile(path)
			b.Write(data)
			return err
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// The demo touches nothing outside of it, and leaves nothing.
func TestDemoTouchesNothing(t *testing.T) {
	t.Parallel()
	home, tmp := t.TempDir(), t.TempDir()
	config := filepath.Join(home, ".config", "zealous-atlas", "settings.toml")
	os.MkdirAll(filepath.Dir(config), 0o700)
	os.WriteFile(config, []byte("# my own\n[desk]\ngap = 6\n"), 0o600)
	scene := filepath.Join(home, "mine.json")
	testkit.Run(t, nil, "sh", "-c", "cp ../../internal/scene/demo.json "+scene)
	env := []string{"HOME=" + home, "TMPDIR=" + tmp, "XDG_CONFIG_HOME=", "XDG_STATE_HOME=", "XDG_RUNTIME_DIR=" + home}
	before := snapshot(t, home)
	for _, args := range [][]string{nil, {"--scene", scene}} {
		term := testkit.NewTerminal(t, 160, 40, env, append([]string{testkit.Binary(t), "demo"}, args...)...)
		term.Wait("#11 Reel Ledger:")
		term.Keys("V", "r").Wait("r jumps to Reel Ledger.")
		term.Keys(";", "e").Wait("SETTINGS")
		term.Keys("Down", "Down", "Down", "Down", "Right").Wait("desk.mode is separate now.")
		term.Keys("Escape").Wait("TRY THESE")
		term.Keys("Escape")
		testkit.Until(t, "the first steps are put away", func() bool { return !strings.Contains(term.Screen(), "TRY THESE") })
		if data, err := os.ReadFile(demoSettings(t, tmp)); err != nil || !strings.Contains(string(data), "separate") || !strings.Contains(string(data), "Reel Ledger") {
			t.Errorf("its own settings are %q, %v", data, err)
		}
		term.Keys("q")
		if status := term.Ended(); !strings.HasPrefix(status, "0") {
			t.Errorf("it ended with %s", status)
		}
		if after := snapshot(t, home); after != before {
			t.Errorf("the demo of %v left\n%s\nand found\n%s", args, after, before)
		}
		if left, _ := os.ReadDir(tmp); len(left) != 0 {
			t.Errorf("it leaves %v behind", left)
		}
	}
}

// row is the part of a screen of 160 columns that shows a workspace, from its caption to the next one's.
func row(screen string, number int) string {
	var b strings.Builder
	for line := range strings.Lines(screen) {
		bare := strings.TrimLeft(line, " ┃│")
		if strings.HasPrefix(bare, fmt.Sprintf("%d ", number+1)) {
			break
		}
		if b.Len() > 0 || strings.HasPrefix(bare, fmt.Sprintf("%d ", number)) {
			left := []rune(strings.TrimRight(line, "\n"))
			b.WriteString(string(left[:min(len(left), 120)]) + "\n") // without the panel
		}
	}
	return b.String()
}

func TestDemoByKeys(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	screen := term.Wait("ZEALOUS ATLAS", "6 workspaces · 26 windows · ! 3 lost", "1 Programme · A · Reel Ledger", "TRY THESE")
	for _, want := range []string{"Laptop 1920×1200", "Desk screen 3440×1440", "Projector unplugged", "lead 60/40", "not to scale", "3 windows are out of reach"} {
		if !strings.Contains(screen, want) {
			t.Errorf("the first screen is without %q:\n%s", want, screen)
		}
	}
	term.Keys("s").Wait("send #11 Reel Ledger to", "3 Box office (4)", "Escape cancels")
	term.Keys("3")
	screen = term.Wait("Sent Reel Ledger · Running order to 3 Box office.", "#12 Screening Times:") // the cursor stays
	if !strings.Contains(row(screen, 3), "Reel Le") || strings.Contains(row(screen, 1), "Reel Ledger") {
		t.Errorf("after s 3 the map shows:\n%s", screen)
	}
	term.Again("3").Wait("On 3 Box office, 5 windows.", "3 Box office · A · Reel Ledger")
	term.Keys("b").Wait("On 1 Programme", "1 Programme · A · Screening Times")
	term.Keys("c", "2").Wait("Carried Screening Times · Friday to 2 Subtitles.", "2 Subtitles · A · Screening Times")
	term.Keys("a").Wait("Name of the new workspace:")
	term.Type("Foyer 2").Keys("Enter").Wait("Added workspace 7 Foyer 2.", "7 workspaces", "workspace 7 Foyer 2:")
	term.Keys("A").Wait("Removed workspace 7 Foyer 2.")
	term.Keys("Home", "r", "a").Wait("Brought 3 windows back within reach.", "6 workspaces · 26 windows")
	term.Keys("u").Wait("Undid: Brought 3 windows back", "! 3 lost", "undo: Removed workspace 7")
	term.Keys("u").Wait("Undid: Removed workspace 7 Foyer 2.", "7 workspaces")
	term.Keys("U", "U").Wait("Did again: Brought 3 windows back", "6 workspaces · 26 windows\n")
	term.Keys("U").Wait("There is nothing to redo.")
	term.Keys("g", "B").Wait("go to monitor B:", "has the focus · Enter does it", "Escape cancels")
	term.Keys("Enter").Wait("Subtitles · B · ")
	term.Keys("g", "A", "2").Wait("2 Subtitles · A · ")
	term.Keys("~").Wait("~ does nothing here. ? shows all keys.")
	term.Keys("Escape").Wait("Put the first steps away.")
	term.Keys("C-c").Wait("q quits")
	term.Keys("s", "C-c").Wait("Left as it was.")
	term.Keys("q")
	if status := term.Ended(); status != "0" {
		t.Errorf("the exit status is %s", status)
	}
}

func TestDemoWorkspacesAndMonitors(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys("Left").Wait("workspace 1 Programme:", "e rename")
	term.Keys("e").Wait("New name of workspace 1 Programme:")
	term.Type(" 2026").Keys("Enter").Wait("Workspace 1 Programme is called Programme 2026 now. u undoes.", "1 Programme 20")
	term.Keys("e", "C-u", "Enter").Wait("Workspace 1 Programme 2026 has no name now. u undoes.")
	term.Keys("u").Wait("Undid: Workspace 1 Programme 2026 has no name now.", "1 Programme 20")
	term.Keys("J", "J").Wait("3 Programme 20", "1 Subtitles", "2 Box office", "is 3 now. u undoes.")
	term.Keys("u") // a burst is one step
	term.Wait("1 Programme 20", "2 Subtitles", "3 Box office")
	term.Keys("U").Wait("3 Programme 20")
	term.Keys("K").Wait("2 Programme 20", "3 Box office")
	term.Keys("@", "c").Wait("Monitor C is plugged in.", "C · Projector 1920×1080", "6 workspaces · 26 windows\n")
	term.Keys("@", "b").Wait("Monitor B was unplugged. 12 windows went to A.", "┄ B ┄")
	term.Keys("@", "b")
	screen := term.Wait("Monitor B is plugged in.", "B · Desk screen")
	if !strings.Contains(row(screen, 1), "Trailer C") {
		t.Errorf("the windows of B did not come back:\n%s", screen)
	}
	term.Keys("C", "C").Wait("Moves 3 windows from C to A.", "A or B", "takes them")
	term.Keys("B").Wait("Moved 3 windows from C to B.", "u undoes.")
	term.Keys("u", "C", "C", "Enter").Wait("Moved 3 windows from C to A.", "u undoes.")
	term.Keys("u").Wait("Undid: Moved 3 windows")
	term.Keys("@", "q").Wait("There is no monitor Q.")
	term.Keys(":").Type("pull B").Wait("Unplugs monitor B.")
	term.Keys("Enter").Wait("Monitor B was unplugged. 12 windows went to A.")
	term.Keys(":").Type("plug B").Keys("Enter").Wait("Monitor B is plugged in.", "B · Desk screen")
}

func TestDemoLogbook(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("#11 Reel Ledger:")
	term.Keys("s", "3").Wait("u undoes.")
	term.Keys("2").Wait("On 2 Subtitles")
	term.Keys("a").Wait("Name of the new")
	term.Type("Foyer").Keys("Enter").Wait("Added workspace 7 Foyer.")
	term.Keys("r", "a").Wait("Brought 3 windows")
	term.Keys(";", "l")
	term.Wait("LOGBOOK", "WHEN      WHO             WHAT", "the display     Began with 6 workspaces and 26", "you, by key     Sent Reel Ledger · ", "● ", "The desk is here.")
	term.Keys("u").Wait("LOGBOOK", "Undid: Brought 3 windows")
	term.Keys("U").Wait("LOGBOOK", "you, by key     Did again: Brought")
	term.Keys("Up", "Up").Keys("Up", "Up", "Up")
	term.Wait("Sent Reel Ledger · Running order to 3 Box office.  Enter takes the desk to here: 3 windows are elsewhere then.", "┄")
	term.Keys("Enter").Wait("Undid 2 steps.", "6 workspaces", "! 3 lost")
	term.Keys(";", "l").Wait("○ ")
	term.Keys("Up").Wait("Enter takes the desk to here")
	term.Resize(80, 24)
	term.Wait("LOGBOOK")
	term.Keys("Enter").Wait("Did again 2 steps.", "7 workspaces")
}

// Undo works on every screen, and the keys that lead to another do too.
func TestDemoPages(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, []string{"XDG_CONFIG_HOME=" + t.TempDir()})
	term.Wait("#11 Reel Ledger:")
	term.Keys("s", "3").Wait("Sent Reel Ledger · Running order to 3 Box office. u undoes.")
	for _, page := range []struct {
		keys  []string
		shows string
	}{
		{[]string{"!"}, "STRAYS"}, {[]string{"/", "Enter"}, "GAZETTEER"}, {[]string{"'"}, "RECENT"}, {[]string{"z"}, "TILES"},
		{[]string{";", "e"}, "SETTINGS"}, {[]string{";", "r"}, "RULES"}, {[]string{";", "l"}, "LOGBOOK"}, {[]string{"?", "Right"}, "ALL KEYS"},
	} {
		term.Keys(page.keys...).Wait(page.shows)
		term.Keys("u").Wait(page.shows, "Undid: Sent Reel Ledger · Running order to 3 Box office.")
		term.Keys("U").Wait(page.shows, "Did again: Sent Reel Ledger · Running order to 3 Box office.")
		term.Keys("'").Wait("RECENT")
		term.Keys("Escape").Wait("TRY THESE")
	}
	term.Keys(":").Type("remove 4").Keys("Enter")
	term.Wait("Remove workspace 4 Guests? Its 5 windows go to 3 Box office. Enter removes it, Escape keeps it.")
	term.Keys("Escape").Wait("Left as it was.", "6 workspaces")
}

func TestDemoLine(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("ZEALOUS ATLAS")
	term.Keys(":").Type("send B2")
	screen := term.Wait("Sends Reel Ledger · Running order to B2 · Enter does it", "┄ Reel Ledger ┄"[len("┄"):len("┄ Reel Ledger ")])
	if !strings.Contains(row(screen, 2), "┄") {
		t.Errorf("nothing is pencilled on row 2:\n%s", screen)
	}
	term.Keys("BSpace", "BSpace").Type("x1 y").Wait("column 9", "does not fit")
	term.Keys("Enter")
	term.Wait(":send x1 y") // the line stays, to be mended
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys(":").Type("la").Keys("Tab").Type("fr").Keys("Tab", "Enter").Wait("Sheet A1 is laid out as free.")
	term.Keys(":").Type("send 3 of app:ledger").Keys("Enter").Wait("Sent 2 windows to 3 Box office.")
	term.Keys(":").Type("go 44").Wait("Not possible: There is no workspace 44: there are 6; add makes one.")
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("g", "Enter") // where they were sent last
	term.Wait("On 3 Box office")
	term.Keys("t", "l").Wait("Sheet A3 is laid out as lead.", "A3 lead 60/40")
}

func TestDemoPreviewByArrows(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("ZEALOUS ATLAS")
	term.Keys("s", "Down", "Right").Wait("Sends Reel Ledger · Running order to B2 · Enter does it")
	term.Keys("Escape")
	screen := term.Wait("Left as it was.")
	if !strings.Contains(row(screen, 1), "Running order") {
		t.Errorf("Escape did not leave it:\n%s", screen)
	}
	term.Keys("s", "B", "Enter").Wait("Sent Reel Ledger · Running order to monitor B.")
	term.Keys("s", "Z").Wait("No monitor Z is plugged in")
}

func TestDemoSizes(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("SHEET A1")
	for _, size := range [][2]int{{80, 24}, {60, 16}, {240, 70}, {100, 30}, {61, 17}} {
		term.Resize(size[0], size[1])
		term.Wait("ZEALOUS ATLAS", "1 Progr")
		testkit.Until(t, fmt.Sprint("the last row at ", size), func() bool {
			lines := strings.Split(strings.TrimRight(term.Screen(), "\n"), "\n")
			if len(lines) != size[1] {
				return false
			}
			last := size[1] - 1
			if size[1] >= 30 { // the line of a display is below
				if !strings.Contains(lines[last], "1 Pr") {
					return false
				}
				last--
			}
			return strings.Contains(lines[last], "q quit")
		})
	}
	term.Resize(50, 12)
	term.Wait("The atlas needs 60 columns and 16 rows; here are")
	term.Resize(80, 24)
	term.Wait("ZEALOUS ATLAS")
	term.Keys("?").Wait("ALL KEYS", "more below")
	term.Keys("Escape").Wait("#11 Reel Ledger:")
}

func TestDemoWithoutColours(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, []string{"NO_COLOR=1"})
	screen := term.Wait("ZEALOUS ATLAS", "╔", "● Reel Ledger", "! 3 lost")
	if !strings.Contains(screen, "┌") {
		t.Errorf("without colours windows have no frames:\n%s", screen)
	}
	day := demo(t, 160, 40, nil, "--theme", "day")
	day.Wait("ZEALOUS ATLAS")
}

func TestDemoMouse(t *testing.T) {
	t.Parallel()
	term := demo(t, 160, 40, nil)
	term.Wait("#11 Reel Ledger:")
	// A press in column 50, row 6, a turn of the wheel, and a window dragged to
	// another sheet, as a terminal reports them. A busy machine may tear one apart, as no terminal would.
	for _, c := range []struct{ report, shows string }{
		{"\x1b[<0;50;6M\x1b[<0;50;6m", "#13 Screening Times:"}, {"\x1b[<65;50;6M", "workspace 2 Subtitles:"},
		{"\x1b[<0;20;4M\x1b[<0;20;4m", "#11 Reel Ledger:"}, {"\x1b[<0;20;4M\x1b[<32;60;20M\x1b[<0;60;20m", "Sent Reel Ledger · Running order to B3."},
	} {
		shown := func() bool { return strings.Contains(term.Screen(), c.shows) }
		testkit.Until(t, c.shows, func() bool { term.Type(c.report); return testkit.Soon(shown) })
	}
}

// A scene may hold nothing, one window, or two hundred, with any title.
func TestDemoOtherDesks(t *testing.T) {
	t.Parallel()
	one := `{"format":"zealous-atlas/scene/1","monitors":[{"letter":"A","name":"Only","rect":[0,0,1280,1024]}],"workspaces":[%s],"windows":[%s]}`
	var many, ids []string
	for i := 1; i <= 200; i++ {
		title := fmt.Sprintf("window %d \\u001b[2J\\u001b]0;x\\u0007 %s", i, strings.Repeat("漢字", i%40))
		many = append(many, fmt.Sprintf(`{"id":%d,"app":"App %d","title":%q}`, i, i%23, title))
		ids = append(ids, fmt.Sprint(i))
	}
	for name, desk := range map[string]string{
		"none": fmt.Sprintf(one, `{}`, ""),
		"one":  fmt.Sprintf(one, `{"name":"Solo","sheets":{"A":{"windows":[1]}}}`, `{"id":1}`),
		"many": strings.ReplaceAll(fmt.Sprintf(one, `{"sheets":{"A":{"layout":"columns","windows":[`+strings.Join(ids, ",")+`]}}},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{}`, strings.Join(many, ",")), `\\u`, `\u`),
	} {
		t.Run(name, func(t *testing.T) {
			file := filepath.Join(t.TempDir(), "desk.json")
			if err := os.WriteFile(file, []byte(desk), 0o600); err != nil {
				t.Fatal(err)
			}
			for _, size := range [][2]int{{80, 24}, {160, 40}} {
				term := demo(t, size[0], size[1], nil, "--scene", file)
				screen := term.Wait("ZEALOUS ATLAS  desk.json", "A · Only", "q quit")
				for i, line := range strings.Split(screen, "\n") {
					if len([]rune(line)) > size[0] {
						t.Errorf("row %d is too long: %s", i, line)
					}
				}
				term.Keys("Down", "Right", "Tab", "Up", "x", "s", "1", "2", ".", ",", "b").Keys("?").Wait("ALL KEYS")
			}
		})
	}
}

// The settings screen writes the file, and the open screens follow it.
func TestDemoSettings(t *testing.T) {
	t.Parallel()
	config := t.TempDir()
	path := filepath.Join(config, "zealous-atlas", "settings.toml")
	os.MkdirAll(filepath.Dir(path), 0o700)
	os.WriteFile(path, []byte("# my own\n[desk]\ngap = 6 # six\n"), 0o600)
	tmp := t.TempDir()
	term := demo(t, 160, 40, []string{"XDG_CONFIG_HOME=" + config, "TMPDIR=" + tmp})
	term.Wait("#11 Reel Ledger:")
	path = demoSettings(t, tmp)
	wrote := func(want string) {
		t.Helper()
		testkit.Until(t, "the file reads "+want, func() bool {
			data, _ := os.ReadFile(path)
			return string(data) == "pictures = true\n"+want
		})
	}
	term.Keys(";", "e").Wait("SETTINGS", "desk.gap", "keeper.border_focused   ██ #", "keeper.card")
	term.Keys("Down", "Down", "Down", "Down", "Right").Wait("‹ separate ›", "desk.mode is separate now.")
	wrote("# my own\n[desk]\ngap = 6 # six\nmode = \"separate\"\n")
	term.Keys("u").Wait("Undid: Desk.mode is separate now") // and nothing else was changed
	term.Keys("Right").Wait("‹ separate ›", "desk.mode is separate now.")
	term.Keys("Down", "Down", "Left").Wait("‹ 4 ›", "desk.gap is 4 now.")
	wrote("# my own\n[desk]\ngap = 4 # six\nmode = \"separate\"\n")
	term.Keys("?").Wait("ALL KEYS", "Super+Shift+1-9")
	term.Keys("Right", "a").Wait("New chord")
	term.Type("Super+F = flaot").Keys("Enter").Wait(`"flaot"`)
	for range 4 {
		term.Keys("BSpace")
	}
	term.Type("loat").Keys("Enter").Wait("Super+F stands for float now. u undoes.")
	wrote("# my own\n[desk]\ngap = 4 # six\nmode = \"separate\"\n\n[chords]\n\"Super+F\" = \"float\"\n")
	term.Keys("u").Wait("Undid:", "Super+F stands for float now, it was nothing.")
	wrote("# my own\n[desk]\ngap = 4 # six\nmode = \"separate\"\n")
	// Recorded by what the terminal sends, with a key after it, and taken back.
	term.Keys("/").Type("mirror").Wait("Search: mirror", "Mirror the group around this tile")
	term.Keys("Right", "e").Wait("New chord for mirror", "press what this terminal can send")
	term.Keys("C-c").Wait("q quits") // which ends nothing by itself
	term.Keys("M-F9").Wait("Alt+F9", "It is free.")
	term.Keys("w").Wait("Alt+F9 w", "It is free.")
	term.Keys("Enter").Wait("Alt+F9 w stands for mirror now. u undoes.")
	wrote("# my own\n[desk]\ngap = 4 # six\nmode = \"separate\"\n\n[chords]\n\"Atlas+Shift+W\" = \"\"\n\"Alt+F9 w\" = \"mirror\"\n")
	term.Keys("u").Wait("Undid:", "Alt+F9 w stands for mirror now, it was nothing")
	term.Keys("e").Wait("New chord for mirror")
	term.Keys("M-Left").Wait("Programs commonly need it for back.")
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("e", ":").Wait("Chord for mirror:")
	term.Type("Atlas+M").Keys("Enter").Wait("It is ours: Super+M stands for maximise.")
	term.Keys("Escape", "Escape")
	term.Wait("B · shows 1 Programme") // separate mode
	os.WriteFile(path, []byte("[desk]\ngap = what\n"), 0o600)
	term.Keys(";", "e").Wait("settings.toml:2:", "! settings, line 2", "desk.gap                4") // as it was before the fault
}

// What is done often by several keys is told with a free chord; Enter sets it, and u takes
// that back.
func TestDemoAdviceOnKeys(t *testing.T) {
	t.Parallel()
	tmp := t.TempDir()
	term := demo(t, 160, 60, []string{"TMPDIR=" + tmp})
	term.Wait("#11 Reel Ledger:")
	file := demoSettings(t, tmp)
	has := func(text string) func() bool {
		return func() bool { data, _ := os.ReadFile(file); return strings.Contains(string(data), text) }
	}
	term.Keys(";", "s").Wait("SURVEY")
	term.Keys("f").Wait("DONE MOST")
	term.Keys("a").Wait("ADVICE", "Keys that could be saved", "send back: ", "Super+Ctrl+B, which is free and rhymes")
	for range 30 {
		term.Keys("Up") // it is among the last
		term.Keys("Down")
		if strings.Contains(term.Screen(), "Enter set the chord") {
			break
		}
		term.Keys("Down")
	}
	term.Keys("Enter").Wait("now. u undoes.")
	testkit.Until(t, "it is in the settings", has(`"Super+Ctrl+`))
	term.Keys("u")
	testkit.Until(t, "it is not any more", func() bool { return !has(`"Super+Ctrl+`)() })
}

// The demo shows what is in its windows; % turns that off, and on again, on the map, the sheet
// and the lists.
func TestDemoPictures(t *testing.T) {
	t.Parallel()
	term := testkit.NewTerminal(t, 160, 40, nil, testkit.Binary(t), "demo")
	pictured := func() bool { return strings.ContainsAny(term.Screen(), "▖▗▘▝▌▐") }
	on := func(is bool, keys ...string) {
		t.Helper()
		for i := 0; i < len(keys); i += 2 {
			term.Keys(keys[i]).Wait(keys[i+1])
			testkit.Until(t, fmt.Sprint("there are pictures on ", keys[i+1], " is ", is), func() bool { return pictured() == is })
		}
	}
	testkit.Until(t, "the map has pictures", pictured)
	on(true, "z", "TILES", "z", "LOST 3 · r a", "!", "STRAYS", "Escape", "LOST 3 · r a", "/", "GAZETTEER")
	term.Keys("Escape").Wait("group by app")
	term.Keys("Escape").Wait("LOST 3 · r a")
	on(false, "%", "Pictures are off", "z", "TILES", "z", "LOST 3 · r a", "!", "STRAYS", "Escape", "LOST 3 · r a")
	on(true, "%", "Pictures are on")
	term.Keys("u")
	testkit.Until(t, "undo takes them away", func() bool { return !pictured() })
}
