package main

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/testkit"
)

// sixWindows starts a server with two monitors, six real windows and a keeper.
func sixWindows(t *testing.T) (*testkit.Server, map[string]string) {
	t.Helper()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Keeper(t)
	ids := map[string]string{}
	for _, c := range [][2]string{{"one", "xterm"}, {"two", "xterm"}, {"three", "xterm"}, {"clock", "xclock"}, {"eyes", "xeyes"}, {"logo", "xlogo"}} {
		ids[c[0]] = client(t, s, c[0], c[1])
	}
	return s, ids
}

// managed is a server with a keeper.
func managed(t *testing.T) *testkit.Server {
	s := testkit.NewServer(t)
	s.Keeper(t)
	return s
}

// client starts a client and waits until its window is on the desk.
func client(t *testing.T, s *testkit.Server, title, name string, args ...string) string {
	t.Helper()
	id := s.Client(t, title, name, args...)
	testkit.Until(t, title+" is on the desk", func() bool {
		return s.List(t, "title:="+title) != ""
	})
	return id
}

// where waits until a window is at an outer place, viewable or not.
func where(t *testing.T, s *testkit.Server, id string, viewable bool, x, y, w, h int) {
	t.Helper()
	got := ""
	for end := time.Now().Add(testkit.Deadline); time.Now().Before(end); {
		gx, gy, gw, gh, v, ok := s.Info(id)
		got = fmt.Sprintf("%d,%d %d×%d viewable %v", gx, gy, gw+4, gh+4, v)
		if ok && v == viewable && gx == x && gy == y && gw+4 == w && gh+4 == h {
			return
		}
	}
	t.Fatalf("window %s is at %s, want %d,%d %d×%d viewable %v", id, got, x, y, w, h, viewable)
}

func TestKeeperByCommands(t *testing.T) {
	t.Parallel()
	s, ids := sixWindows(t)
	s.Do(t, "add Clocks", "send 2 of title:clock or title:eyes", "send B of title:three", "send B of title:logo", "layout lead of title:three", "layout columns of title:one")
	where(t, s, ids["one"], true, 0, 0, 960, 1080)
	where(t, s, ids["two"], true, 960, 0, 960, 1080)
	where(t, s, ids["three"], true, 1920, 0, 1152, 1080)
	where(t, s, ids["logo"], true, 3072, 0, 768, 1080)
	if s.Seen(ids["clock"]) || s.Seen(ids["eyes"]) {
		t.Error("windows of workspace 2 are viewable")
	}
	s.Do(t, "go Clocks")
	where(t, s, ids["clock"], true, 0, 0, 960, 1080)
	where(t, s, ids["one"], false, 0, 0, 960, 1080)
	if got := s.Xprop(t, "root", "_NET_CURRENT_DESKTOP"); got != "1" {
		t.Errorf("_NET_CURRENT_DESKTOP is %s", got)
	}
	if got := s.Xprop(t, ids["one"], "_NET_WM_DESKTOP"); got != "0" {
		t.Errorf("_NET_WM_DESKTOP of one is %s", got)
	}
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "go back", "go 9", "go 1")
	if err == nil || !strings.Contains(out, "There is") && !strings.Contains(out, "there is no workspace 9") {
		t.Errorf("go 9: %v %s", err, out)
	}
	where(t, s, ids["one"], true, 0, 0, 960, 1080)
	active := s.Xprop(t, "root", "_NET_ACTIVE_WINDOW")
	s.Do(t, "focus #1")
	if now := s.Xprop(t, "root", "_NET_ACTIVE_WINDOW"); now != ids["one"] || now == active && active != ids["one"] {
		t.Errorf("active is %s, want %s", now, ids["one"])
	}
	var rows []listed
	if err := json.Unmarshal([]byte(s.List(t, "on:2", "--json")), &rows); err != nil || len(rows) != 2 {
		t.Errorf("list on:2 gives %v %v", rows, err)
	}
}

// Screens attached to a keeper: several at once, each sees what another does.
func TestScreensAttach(t *testing.T) {
	t.Parallel()
	s, ids := sixWindows(t)
	s.Do(t, "add", "add")
	a := testkit.NewTerminal(t, 160, 40, s.Env, testkit.Binary(t))
	b := testkit.NewTerminal(t, 80, 24, s.Env, testkit.Binary(t))
	a.Wait("display "+s.Display, "3 workspaces · 6 windows")
	b.Wait("3 workspaces")
	a.Keys("Home", "s", "2")
	b.Wait("2 ")
	testkit.Until(t, "a window was sent", func() bool {
		return strings.Contains(s.List(t), "A2")
	})
	a.Again("2").Wait("On 2, 1 window.")
	testkit.Until(t, "the first window is hidden", func() bool { return !s.Seen(ids["one"]) })
	a.Keys("a").Wait("Name of the new workspace")
	a.Type("Foyer").Keys("Enter").Wait("Added workspace 4 Foyer.")
	b.Wait("4 Foyer")
	b.Keys("b")
	testkit.Until(t, "back on 1", func() bool { return s.Seen(ids["one"]) })
	a.Wait("you are on  ● 1")
	a.Keys("q")
	if a.Ended() != "0" {
		t.Error("q did not quit with 0")
	}
	b.Keys("c", "4")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "3")
}

// The atlas window: brought up by a chord, put away by the same or by a
// command that goes somewhere, and no window of the desk.
func TestAtlasWindow(t *testing.T) {
	t.Parallel()
	s, ids := sixWindows(t)
	if err := os.WriteFile(filepath.Join(s.Dir, "state", "zealous-atlas", "first-steps-done"), nil, 0o600); err != nil {
		t.Fatal(err) // Escape would put those away first
	}
	x := s.NewX(t)
	s.Do(t, "add", "add", "focus #1")
	before := s.List(t)
	atlas := ""
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "the atlas window is up and drawn", func() bool {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		for line := range strings.Lines(out) {
			if strings.Contains(line, `"Zealous Atlas [`) {
				atlas = strings.Fields(line)[0]
			}
		}
		return atlas != "" && s.Seen(atlas)
	})
	wx, _, w, _, _, _ := s.Info(atlas)
	if middle := wx + w/2; middle < 955 || middle > 965 {
		t.Errorf("its middle is at %d, not in the middle of A", middle)
	}
	if after := s.List(t); after != before {
		t.Errorf("the desk changed:\n%s\n%s", before, after)
	}
	if list := s.Xprop(t, "root", "_NET_CLIENT_LIST"); strings.Contains(list, atlas) {
		t.Errorf("the atlas window is among the clients: %s", list)
	}
	if got := s.Xprop(t, "root", "_NET_ACTIVE_WINDOW"); got != ids["one"] {
		t.Errorf("active is %s, want the window focused before, %s", got, ids["one"])
	}
	// Keys typed into it: the line says what it would do once it is drawn.
	typed := func(keys ...uint32) {
		for _, k := range keys {
			x.Press(k)
		}
	}
	testkit.Until(t, "its first row is drawn", func() bool { return x.HasColour(atlas, 0xd9a441) })
	typed('s', '2')
	testkit.Until(t, "send 2 in it sends the window focused before", func() bool {
		return strings.Contains(s.List(t, "#1"), "A2")
	})
	if !s.Seen(atlas) {
		t.Error("send put the atlas window away")
	}
	typed('3')
	testkit.Until(t, "going somewhere puts it away", func() bool {
		return !s.Seen(atlas) && s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "2"
	})
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "it is back", func() bool { return s.Seen(atlas) })
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "the same chord puts it away", func() bool { return !s.Seen(atlas) })
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "it is back", func() bool { return s.Seen(atlas) })
	typed(testkit.Escape)
	testkit.Until(t, "Escape puts it away", func() bool { return !s.Seen(atlas) })
	if got := s.Xprop(t, "root", "_NET_ACTIVE_WINDOW"); got == atlas {
		t.Error("it has the focus, put away")
	}
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "it is back", func() bool { return s.Seen(atlas) })
	typed('q')
	testkit.Until(t, "q ends it", func() bool { _, _, _, _, _, ok := s.Info(atlas); return !ok })
	x.Press(testkit.Super, '1') // and keys still work
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "0")
}

// atlasShows tells whether the atlas window is seen, with something drawn in it.
func atlasShows(s *testkit.Server, x *testkit.X) bool {
	out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
	for line := range strings.Lines(out) {
		if strings.Contains(line, `"Zealous Atlas [`) {
			return s.Seen(strings.Fields(line)[0]) && x.HasColour(strings.Fields(line)[0], 0xd9a441)
		}
	}
	return false
}

// Chords that bring the atlas window up in a mode: a window moved and resized by
// arrows, any window found by a few letters; and a letter to jump by.
func TestChordsWithScreens(t *testing.T) {
	t.Parallel()
	s, ids := sixWindows(t)
	x := s.NewX(t)
	atlasUp := func() bool { return atlasShows(s, x) }
	s.Do(t, "focus #1", "float", "cascade")
	place := func() (px, py, w, h int) { px, py, w, h, _, _ = s.Info(ids["one"]); return px, py, w, h }
	testkit.Until(t, "it is at the top left", func() bool { px, py, _, _ := place(); return px == 0 && py == 0 })
	_, _, w, h := place()
	x.Press(testkit.Super, 'n')
	testkit.Until(t, "the atlas window is up", atlasUp)
	atlas := func() geom.Rect {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		for line := range strings.Lines(out) {
			if strings.Contains(line, `"Zealous Atlas [`) {
				x, y, w, h, _, _ := s.Info(strings.Fields(line)[0])
				return geom.R(x, y, w, h)
			}
		}
		return geom.Rect{}
	}
	apart := func() bool { px, py, w, h := place(); return !atlas().Overlaps(geom.R(px, py, w, h)) }
	testkit.Until(t, "it stands in a corner, off what is moved", func() bool { r := atlas(); return apart() && r.Right() > 1900 && r.Bottom() > 1060 })
	x.Press(testkit.Right)
	testkit.Until(t, "the window itself moves", func() bool { px, _, _, _ := place(); return px == 10 })
	x.Type("3 Down")
	testkit.Until(t, "by 50", func() bool { _, py, _, _ := place(); return py == 50 })
	x.Press(testkit.Escape)
	testkit.Until(t, "and exactly back", func() bool { px, py, _, _ := place(); return px == 0 && py == 0 })
	testkit.Until(t, "it is put away by that", func() bool { return !atlasUp() })
	x.Type("Super+Shift+n Right")
	testkit.Until(t, "the window is wider", func() bool { _, _, nw, nh := place(); return nw > w && nh == h })
	x.Press(testkit.Escape)
	testkit.Until(t, "and exactly as wide as before", func() bool { px, py, nw, nh := place(); return px == 0 && py == 0 && nw == w && nh == h })
	testkit.Until(t, "it is put away by that", func() bool { return !atlasUp() })
	// What a chord opened is left by one Escape; a command that goes nowhere leaves it too;
	// after one that fails the same chord asks once more.
	x.Press(testkit.Super, 'e')
	testkit.Until(t, "the name is asked for", atlasUp)
	x.Press(testkit.Escape)
	testkit.Until(t, "one Escape leaves it", func() bool { return !atlasUp() })
	x.Press(testkit.Super, 'e')
	for _, k := range "zed" {
		x.Press(uint32(k))
	}
	x.Press(testkit.Return)
	testkit.Until(t, "it has the name and they are away", func() bool {
		return strings.Contains(s.Xprop(t, "root", "_NET_DESKTOP_NAMES"), "zed") && !atlasUp()
	})
	x.Press(testkit.Super, 'o')
	for _, k := range "qqxqq" {
		x.Press(uint32(k))
	}
	x.Press(testkit.Return)
	atlasSays := func(words string) bool {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		return strings.Contains(out, words)
	}
	testkit.Until(t, "no app is called that", func() bool { return atlasSays(" astray ") })
	x.Press(testkit.Super, 'o')
	testkit.Until(t, "it is asked once more", func() bool { return atlasUp() && !atlasSays(" astray ") })
	x.Press(testkit.Escape)
	testkit.Until(t, "one Escape leaves it", func() bool { return !atlasUp() })
	x.Type("Super+n Down Return")
	testkit.Until(t, "moved, and left there by Enter", func() bool { _, py, _, _ := place(); return py == 10 })
	testkit.Until(t, "which puts the screens away", func() bool { return !atlasUp() })
	x.Hold(testkit.Super, func() {
		x.Hold(testkit.Return, func() {
			testkit.Until(t, "the search is up", atlasUp)
			// The server repeats a key after some 0.6 seconds, 25 times a second.
			time.Sleep(1200 * time.Millisecond)
		})
	})
	if !atlasUp() {
		t.Error("the chord held down put its screen away")
	}
	x.Press(testkit.Super, testkit.Return)
	testkit.Until(t, "the chord pressed again puts it away", func() bool { return !atlasUp() })
	s.Do(t, "pin z window of title:=two")
	x.Type("Super+v z")
	s.RootIs(t, "_NET_ACTIVE_WINDOW", ids["two"])
	s.Do(t, "add")
	x.Press(testkit.Super, '2')
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
}

// Keys typed as soon as a chord is let go are for the screen that it asks for,
// also where the atlas window has to be started, or shows another screen.
func TestTypedAtOnce(t *testing.T) {
	t.Parallel()
	s, ids := sixWindows(t)
	x := s.NewX(t)
	for i := range 24 {
		name := []string{"three", "one", "logo", "two"}[i%4]
		if i%5 == 4 {
			x.Press(testkit.Super, testkit.Space)
		}
		x.Press(testkit.Super, testkit.Return)
		for _, letter := range name {
			x.Press(uint32(letter))
		}
		x.Press(testkit.Return)
		testkit.Until(t, fmt.Sprintf("search %d leads to the window %s", i, name), func() bool {
			return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == ids[name]
		})
	}
}

// A selection dragged in one xterm and dropped into another works as without a
// manager, though the first click also focuses.
func TestDragBetweenTerminals(t *testing.T) {
	t.Parallel()
	s := managed(t)
	got := filepath.Join(s.Dir, "pasted")
	client(t, s, "source", "xterm", "-e", "sh", "-c", "yes WEXELBROOK-FILM-WEEK | head -n 200; sleep 600")
	client(t, s, "target", "xterm", "-e", "sh", "-c", "cat > "+got)
	s.Do(t, "layout columns")
	source := s.Named(t, "source")
	where(t, s, source, true, 0, 0, 960, 1080)
	x := s.NewX(t)
	// A click may come before the terminal is ready for it, and is made again then.
	pasted := func() bool {
		text, _ := os.ReadFile(got)
		return strings.Contains(string(text), "EXELBROOK-FILM")
	}
	testkit.Until(t, "the text is pasted", func() bool {
		x.Point(6, 300)
		x.Button(1, true)
		x.Point(200, 300)
		x.Button(1, false)
		x.Point(1300, 500)
		x.Button(2, true)
		x.Button(2, false)
		x.Press(testkit.Return)
		return testkit.Soon(pasted)
	})
	// A menu of a real client: it comes up, over the windows, and goes.
	x.Point(300, 500)
	menus := func() int {
		tree, err := xproto.QueryTree(x.Conn, x.Root).Reply()
		if err != nil {
			return 0
		}
		n := 0
		for _, w := range tree.Children {
			a, err := xproto.GetWindowAttributes(x.Conn, w).Reply()
			if err == nil && a.OverrideRedirect && a.MapState == xproto.MapStateViewable && a.Class == xproto.WindowClassInputOutput {
				n++
			}
		}
		return n
	}
	before := menus()
	testkit.Until(t, "the menu is up", func() bool {
		up := false
		x.Hold(testkit.Control, func() {
			x.Button(1, true)
			up = testkit.Soon(func() bool { return menus() > before })
			x.Button(1, false)
		})
		return up
	})
	testkit.Until(t, "the menu is gone", func() bool { return menus() == before })
}

func TestNoKeeper(t *testing.T) {
	t.Parallel()
	dir, s := t.TempDir(), testkit.NewServer(t)
	for _, args := range [][]string{{"list"}, {"do", "go 1"}, {}} {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), args...)
		if err == nil || !strings.Contains(out, "zatlas keep starts one") || !strings.Contains(out, "zatlas demo") {
			t.Errorf("zatlas %v without a keeper: %v\n%s", args, err, out)
		}
		out, err = testkit.TryRun([]string{"DISPLAY=:nowhere", "XDG_RUNTIME_DIR=" + dir, "XDG_STATE_HOME=" + dir}, testkit.Binary(t), args...)
		if err == nil || !strings.Contains(out, "no X display answers") {
			t.Errorf("zatlas %v without a display: %v\n%s", args, err, out)
		}
	}
	if out, err := testkit.TryRun([]string{"DISPLAY=", "XDG_RUNTIME_DIR=" + dir, "XDG_STATE_HOME=" + dir}, testkit.Binary(t), "keep"); err == nil || !strings.Contains(out, "set DISPLAY") {
		t.Errorf("zatlas keep where DISPLAY is empty: %v\n%s", err, out)
	}
	out, err := testkit.TryRun([]string{"DISPLAY=:nowhere", "XDG_RUNTIME_DIR=" + dir, "XDG_STATE_HOME=" + dir}, testkit.Binary(t), "keep")
	if err == nil || !strings.Contains(out, "no X display answers") || strings.Contains(out, "goroutine") {
		t.Errorf("keep without a display: %v\n%s", err, out)
	}
}

func TestSocketIsPrivate(t *testing.T) {
	t.Parallel()
	s := managed(t)
	var socket string
	err := filepath.Walk(filepath.Join(s.Dir, "run"), func(path string, info os.FileInfo, err error) error {
		if err == nil && info.Mode()&os.ModeSocket != 0 {
			socket = path
			if info.Mode().Perm() != 0o600 {
				t.Errorf("the socket's mode is %v", info.Mode())
			}
			if dir, _ := os.Stat(filepath.Dir(path)); dir.Mode().Perm() != 0o700 {
				t.Errorf("the folder's mode is %v", dir.Mode())
			}
		}
		return err
	})
	if err != nil || socket == "" {
		t.Fatalf("no socket: %v", err)
	}
}

// Settings are read at the start and again on reload; faulty ones leave the
// old in force.
func TestSettings(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	var file string
	write := func(text string) {
		t.Helper()
		file = s.Settings(t, text)
	}
	write(testkit.Run(t, s.Env, testkit.Binary(t), "config"))
	s.Keeper(t)
	id := client(t, s, "one", "xterm")
	where(t, s, id, true, 0, 0, 1920, 1080)
	x := s.NewX(t)
	write("[desk]\ngap = 20\ncount = \"growing\"\n[chords]\n\"Super+2\" = \"\"\n\"Ctrl+Alt+N\" = \"go new\"\n")
	s.Do(t, "reload")
	where(t, s, id, true, 20, 20, 1880, 1040)
	s.RootIs(t, "_NET_NUMBER_OF_DESKTOPS", "2")
	x.Hold(testkit.Control, func() { x.Press(testkit.Alt, 'n') })
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	write("[desk]\ngap = 9999\n")
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "reload")
	if err == nil || !strings.Contains(out, file+":2:1: gap must be 0 to 500 pixels") {
		t.Errorf("a faulty file: %v\n%s", err, out)
	}
	s.Do(t, "go 1")
	where(t, s, id, true, 20, 20, 1880, 1040)
}

// A display that begins anew has the workspaces of the one before, and windows
// that look like those there were go where they were.
func TestStateOutlastsTheDisplay(t *testing.T) {
	t.Parallel()
	first := testkit.NewServer(t)
	keeper := first.Keeper(t)
	client(t, first, "one", "xterm")
	client(t, first, "two", "xterm")
	first.Do(t, "rename Main", "add Stage", "send Stage of title:two")
	keeper.Process.Signal(syscall.SIGTERM)
	state := filepath.Join(first.Dir, "state")
	testkit.Until(t, "the keeper ended", func() bool {
		_, err := testkit.TryRun(first.Env, testkit.Binary(t), "list")
		return err != nil
	})
	second := testkit.NewServer(t)
	// The same display as far as the state knows.
	second.Env = append(second.Env, "XDG_STATE_HOME="+state)
	db := filepath.Join(state, "zealous-atlas", "state.db")
	if _, err := os.Stat(db); err != nil {
		t.Fatal(err)
	}
	rename(t, db, first.Display, second.Display)
	two := second.Client(t, "two", "xterm")
	one := second.Client(t, "one", "xterm")
	testkit.Until(t, "both are mapped", func() bool { return second.Seen(one) && second.Seen(two) })
	second.Keeper(t)
	list := second.List(t)
	if !strings.Contains(list, "#1  A1  XTerm  one") || !strings.Contains(list, "#2  A2  XTerm  two") {
		t.Errorf("the second display has:\n%s", list)
	}
	if names := second.Xprop(t, "root", "_NET_DESKTOP_NAMES"); !strings.Contains(names, `"Main", "Stage"`) {
		t.Errorf("its workspaces are %s", names)
	}
	testkit.Until(t, "two is hidden", func() bool { return !second.Seen(two) })
	log := testkit.Run(t, second.Env, testkit.Binary(t), "log", "-n", "10")
	if !strings.Contains(log, "Sent XTerm · two to 2 Stage.") || !strings.Contains(log, "command line") {
		t.Errorf("the logbook has:\n%s", log)
	}
	// That it went out of sight is told, and can be taken back; another window of
	// its app opens where you are.
	if !strings.Contains(log, "Windows went out of sight, to where they were before: XTerm · two to 2 Stage. undo brings them here.") {
		t.Errorf("the logbook has:\n%s", log)
	}
	client(t, second, "three", "xterm")
	if list := second.List(t, "title:three"); !strings.Contains(list, "A1") {
		t.Errorf("a fresh window opened as %s", list)
	}
	second.Do(t, "undo")
	testkit.Until(t, "two is back in sight", func() bool { return second.Seen(two) })
}

// A keeper ends and starts again by a command, which is answered first; every
// window stays, and is where it was once it is kept again.
func TestEndAndRestart(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeper := s.Keeper(t)
	one, two := client(t, s, "one", "xterm"), client(t, s, "two", "xterm")
	s.Do(t, "add Stage", "send Stage of title:two", "layout rows of title:one")
	list := func() (string, error) { return testkit.TryRun(s.Env, testkit.Binary(t), "list") }
	before, err := list()
	if err != nil {
		t.Fatal(err)
	}
	began := func() int { return strings.Count(testkit.Run(t, s.Env, testkit.Binary(t), "log"), "Began with") }
	testkit.Until(t, "the logbook has its beginning", func() bool { return began() == 1 })
	screens := testkit.NewTerminal(t, 100, 30, s.Env, testkit.Binary(t))
	screens.Wait("2 workspaces · 2 windows")
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "pull A"); err == nil || !strings.Contains(out, "these monitors are real") {
		t.Errorf("pull A on a real display: %v %s", err, out)
	}
	if said := s.Do(t, "restart"); !strings.Contains(said, "The keeper starts again.") {
		t.Errorf("restart says %q", said)
	}
	testkit.Until(t, "it has begun again, and all is as before", func() bool {
		after, err := list()
		return err == nil && after == before && began() == 2
	})
	testkit.Until(t, "two is hidden", func() bool { return s.Seen(one) && !s.Seen(two) })
	screens.Wait("The keeper is back.")
	screens.Keys("2").Wait("On 2 Stage, 1 window.")
	testkit.Until(t, "the screens go on", func() bool { return s.Seen(two) && !s.Seen(one) })
	if said := s.Do(t, "end"); !strings.Contains(said, "The keeper ended. Every window stays.") {
		t.Errorf("end says %q", said)
	}
	screens.Wait("The keeper is gone. Its windows stay.")
	testkit.Until(t, "no keeper answers", func() bool { _, err := list(); return err != nil })
	testkit.Until(t, "its process is gone", func() bool { return keeper.Process.Signal(syscall.Signal(0)) != nil })
	testkit.Until(t, "both windows are there", func() bool { return s.Seen(one) && s.Seen(two) })
}

// A state file that is no such file is set aside whole, the keeper works, and its
// logbook says so.
func TestDamagedState(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	folder := filepath.Join(s.Dir, "state", "zealous-atlas")
	if err := os.MkdirAll(folder, 0o700); err != nil {
		t.Fatal(err)
	}
	garbage := strings.Repeat("no database at all ", 900)
	if err := os.WriteFile(filepath.Join(folder, "state.db"), []byte(garbage), 0o600); err != nil {
		t.Fatal(err)
	}
	s.Keeper(t)
	s.Do(t, "add Stage")
	testkit.Until(t, "the logbook tells of it and goes on", func() bool {
		log := testkit.Run(t, s.Env, testkit.Binary(t), "log")
		return strings.Contains(log, "The state file was damaged") && strings.Contains(log, "Added workspace 2 Stage.")
	})
	files, err := os.ReadDir(folder)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		if data, _ := os.ReadFile(filepath.Join(folder, f.Name())); string(data) == garbage {
			return
		}
	}
	t.Errorf("what the file held is gone: %v", files)
}

// Every client of a server dies with the keeper, as when a login ends badly, and
// they are started again: some before the keeper, some after. Each goes where one
// like it was.
func TestClientsDieWithTheKeeper(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeper := s.Keeper(t)
	died := []*exec.Cmd{keeper}
	for _, title := range []string{"one", "two", "loose", "four"} {
		died = append(died, testkit.Start(t, s.Env, "xterm", "-title", title))
		testkit.Until(t, title+" is on the desk", func() bool {
			return s.List(t, "title:="+title) != ""
		})
	}
	s.Do(t, "rename Main", "add Stage", "send Stage of title:two or title:loose", "float of title:loose", "nudge right 100 of title:loose", "layout columns")
	list := func() string { // without the ids, which are new
		var rows []listed
		if err := json.Unmarshal([]byte(s.List(t, "--json")), &rows); err != nil {
			t.Fatal(err)
		}
		var lines []string
		for _, r := range rows {
			lines = append(lines, fmt.Sprint(r.Title, " ", r.Ref, " ", r.Rect))
		}
		slices.Sort(lines)
		return strings.Join(lines, "\n")
	}
	before := list()
	waitWritten(t, s)
	for _, cmd := range died {
		cmd.Process.Signal(syscall.SIGKILL)
	}
	testkit.Until(t, "their windows are gone", func() bool {
		out, err := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		return err == nil && !strings.Contains(out, "XTerm")
	})
	for _, title := range []string{"loose", "one"} {
		id := s.Client(t, title, "xterm")
		testkit.Until(t, title+" is mapped", func() bool { return s.Seen(id) })
	}
	s.Keeper(t)
	client(t, s, "four", "xterm")
	client(t, s, "two", "xterm")
	if after := list(); after != before {
		t.Errorf("after the start again the windows are\n%s\nand were\n%s", after, before)
	}
}

func rename(t *testing.T, db, from, to string) {
	t.Helper()
	conn, err := sql.Open("sqlite", "file:"+db)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	if _, err := conn.Exec("UPDATE desks SET display = ?2 WHERE display = ?1; UPDATE logbook SET display = ?2 WHERE display = ?1", from, to); err != nil {
		t.Fatal(err)
	}
}

// In separate mode each of three monitors shows a workspace of its own.
func TestSeparateOnDisplay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Plug(t, "DUMMY2", 3840, 0)
	s.Settings(t, "[desk]\nmode = \"separate\"\n")
	s.Keeper(t)
	ids := map[string]string{}
	for _, name := range []string{"one", "two", "three", "four"} {
		ids[name] = client(t, s, name, "xterm")
	}
	s.Do(t, "add", "add", "add", "home 2 B", "home 3 C", "send 2 of title:two", "send 3 of title:three", "send 4 of title:four")
	where(t, s, ids["one"], true, 0, 0, 1920, 1080)
	where(t, s, ids["two"], true, 1920, 0, 1920, 1080)
	where(t, s, ids["three"], true, 3840, 0, 1920, 1080)
	if s.Seen(ids["four"]) {
		t.Error("four is shown, and its workspace is not")
	}
	s.Do(t, "go 4")
	where(t, s, ids["four"], true, 0, 0, 1920, 1080)
	if s.Seen(ids["one"]) || !s.Seen(ids["two"]) || !s.Seen(ids["three"]) {
		t.Error("going to a workspace changed more than its own monitor")
	}
	s.Unplug(t, "DUMMY2")
	where(t, s, ids["three"], true, 0, 0, 1920, 1080)
	s.Plug(t, "DUMMY2", 3840, 0)
	where(t, s, ids["three"], true, 3840, 0, 1920, 1080)
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "go B3")
	if err == nil || !strings.Contains(out, "home 3 B") {
		t.Errorf("go B3: %v %s", err, out)
	}
}

// An empty monitor that you are on is marked on the display, where there is another one.
func TestEmptyMonitorIsMarked(t *testing.T) {
	t.Parallel()
	s := managed(t)
	client(t, s, "one", "xterm")
	marked := func() (at string) {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		for line := range strings.Lines(out) {
			if strings.Contains(line, `"Zealous Atlas here"`) && s.Seen(strings.Fields(line)[0]) {
				at += strings.Fields(line)[len(strings.Fields(line))-1] + " "
			}
		}
		return at
	}
	s.Do(t, "add", "go 2")
	if at := marked(); at != "" {
		t.Errorf("the only monitor is marked at %s", at)
	}
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Do(t, "go 1")
	testkit.Until(t, "the second monitor", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "go B1")
		return err == nil
	})
	testkit.Until(t, "its edges are marked", func() bool { return strings.Contains(marked(), "+1920+0") && strings.Contains(marked(), "+3836+0") })
	s.Do(t, "focus left")
	testkit.Until(t, "not where a window has the focus", func() bool { return marked() == "" })
	s.Do(t, "go B1")
	testkit.Until(t, "and again", func() bool { return marked() != "" })
	client(t, s, "two", "xterm")
	testkit.Until(t, "not when a window is there", func() bool { return marked() == "" })
}

// A fresh display has the workspaces of the settings at once.
func TestFreshDisplay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[desk]\nworkspaces = 4\nnames = [\"Programme\", \"Box office\"]\n")
	keeper := s.Keeper(t)
	if got := s.Xprop(t, "root", "_NET_DESKTOP_NAMES"); got != `"Programme", "Box office", "3", "4"` {
		t.Errorf("the workspaces are %s", got)
	}
	if got, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "undo"); err == nil {
		t.Errorf("undo does something: %s", got)
	}
	s.Do(t, "remove 4")
	waitWritten(t, s)
	keeper.Process.Signal(syscall.SIGKILL)
	s.Keeper(t)
	if got := s.Xprop(t, "root", "_NET_DESKTOP_NAMES"); got != `"Programme", "Box office", "3"` {
		t.Errorf("after another start the workspaces are %s", got)
	}
}

// The atlas key is the one that the settings name, for chords and for the pointer; after
// a change and "reload" nothing of the one before is held.
func TestAtlasKeyIsChosen(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	write := func(text string) { s.Settings(t, text) }
	write("[keeper]\natlas_key = \"Alt\"\n")
	s.Keeper(t)
	x := s.NewX(t)
	current := func() string { return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") }
	s.Do(t, "add", "add", "go 1")
	id := client(t, s, "held", "xterm")
	s.Do(t, "float", "cascade")
	held := func() (px, py int) { px, py, _, _, _, _ = s.Info(id); return px, py }
	drag := func(modifier uint32) {
		px, py := held()
		x.Point(px+60, py+60)
		x.Hold(modifier, func() {
			x.Button(1, true)
			x.Point(px+160, py+160)
			x.Point(px+260, py+160)
			x.Button(1, false)
		})
	}
	const alt = 0xffe9
	x.Press(alt, '2')
	testkit.Until(t, "Alt+2 goes to 2", func() bool { return current() == "1" })
	s.Do(t, "go 1")
	x.Press(testkit.Super, '3')
	before, _ := held()
	drag(testkit.Super)
	drag(alt)
	testkit.Until(t, "it is dragged with Alt", func() bool { px, _ := held(); return px == before+200 })
	if current() != "0" {
		t.Error("Super+3 goes to a workspace, and is no chord")
	}
	write("[keeper]\natlas_key = \"Super+Alt\"\n")
	if got := s.Do(t, "reload"); !strings.Contains(got, "keeper.atlas_key is Super+Alt now, it was Alt.") && !strings.Contains(got, "Keeper.atlas_key is Super+Alt now, it was Alt.") {
		t.Errorf("reload says %s", got)
	}
	x.Press(alt, '2')
	x.Press(testkit.Super, '2')
	before, _ = held()
	drag(alt)
	x.Press(testkit.Super, alt, '3')
	testkit.Until(t, "both together go to 3", func() bool { return current() == "2" })
	s.Do(t, "go 1")
	if px, _ := held(); px != before {
		t.Errorf("it was dragged with the key of before, from %d to %d", before, px)
	}
	// Another client can have the chord that is free now.
	err := xproto.GrabKeyChecked(x.Conn, true, x.Root, xproto.ModMask1, 11, xproto.GrabModeAsync, xproto.GrabModeAsync).Check()
	if err != nil {
		t.Errorf("Alt+2 is still held: %v", err)
	}
}

// What a terminal sends is printed as the settings write it.
func TestKeysWatch(t *testing.T) {
	t.Parallel()
	term := testkit.NewTerminal(t, 120, 24, nil, testkit.Binary(t), "keys", "--watch")
	term.Wait("Ctrl+C ends.")
	for _, one := range [][2]string{
		{"M-y", "\nAlt+Y "}, {"C-Left", "\nCtrl+Left "}, {"M-Enter", "\nAlt+Return "}, {"M-S-F5", "\nAlt+Shift+F5 "}, {"C-PPage", "\nCtrl+PageUp "},
		{"M-+", "\nAlt++ "}, {"C-Space", "\nCtrl+Space "}, {"q", `The chord "q" needs Atlas, Super, Hyper, Meta, Ctrl or Alt`},
	} {
		term.Keys(one[0])
		testkit.Until(t, one[0]+" is printed", func() bool { return strings.Contains(strings.ReplaceAll("\n"+term.Screen(), "\n", " \n"), one[1]) })
	}
	term.Keys("C-c")
	term.Ended()
	for _, args := range [][]string{{"keys", "--watch"}, {"keys", "--watch", "--json"}} {
		if out, err := testkit.TryRun(nil, testkit.Binary(t), args...); err == nil || !strings.Contains(out, "--watch prints") {
			t.Errorf("%v without a terminal says %s", args, out)
		}
	}
}

// What becomes of each chord is told; those that another program had are had again once
// it lets them go, or ends.
func TestKeys(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"Ctrl+Alt+F12\" = \"undo\"\n\"Atlas+3\" = \"float\"\n\"Atlas+Q s\" = \"float\"\n\"Atlas+Q s 3\" = \"send 3\"\n\"Atlas+Menu\" = \"bare\"\n\"hold Atlas+F11\" = \"bare\"\n")
	other := s.NewX(t)
	for _, code := range []xproto.Keycode{14, 15} { // 5 and 6
		if err := xproto.GrabKeyChecked(other.Conn, true, other.Root, xproto.ModMask4, code, xproto.GrabModeAsync, xproto.GrabModeAsync).Check(); err != nil {
			t.Fatal(err)
		}
	}
	setup := xproto.Setup(other.Conn)
	board, err := xproto.GetKeyboardMapping(other.Conn, setup.MinKeycode, byte(setup.MaxKeycode-setup.MinKeycode+1)).Reply()
	if err != nil {
		t.Fatal(err)
	}
	for i, sym := range board.Keysyms { // no key of this keyboard is Menu
		if code := setup.MinKeycode + xproto.Keycode(i/int(board.KeysymsPerKeycode)); sym == 0xff67 {
			xproto.ChangeKeyboardMapping(other.Conn, 1, code, board.KeysymsPerKeycode, make([]xproto.Keysym, board.KeysymsPerKeycode))
		}
	}
	win := other.Window("holder", 0, 0, 200, 100)
	s.Keeper(t)
	other.Map(win)
	states := func() (got map[string]string) {
		var keys []struct{ Chord, Command, State string }
		if err := json.Unmarshal([]byte(testkit.Run(t, s.Env, testkit.Binary(t), "keys", "--json")), &keys); err != nil {
			t.Fatal(err)
		}
		got = map[string]string{}
		for _, k := range keys {
			got[k.Chord] = k.Command + ", " + k.State
		}
		return got
	}
	for chord, want := range map[string]string{"Super+5": "go 5, taken", "Super+6": "go 6, taken", "Super+4": "go 4, ours", "Super+3": "float, ours", "Ctrl+Alt+F12": "undo, ours",
		"Super+Q s": "float, ours", "Super+Q s 3": "send 3, hidden", "hold Super+F11": "bare, ours", "Super+Menu": "bare, no key"} {
		if got := states()[chord]; got != want {
			t.Errorf("%s: %s, want %s", chord, got, want)
		}
	}
	if out := testkit.Run(t, s.Env, testkit.Binary(t), "keys"); !strings.Contains(out, "taken by another program") || !strings.Contains(out, "hidden: a shorter one comes before it") {
		t.Errorf("keys prints\n%s", out)
	}
	term := testkit.NewTerminal(t, 160, 40, s.Env, testkit.Binary(t))
	term.Wait("2 chords taken, 1 chord without a key, 1 chord hidden")
	xproto.UngrabKey(other.Conn, 14, other.Root, xproto.ModMask4)
	other.Conn.Sync()
	testkit.Until(t, "Super+5 is ours once it is let go", func() bool { return states()["Super+5"] == "go 5, ours" })
	s.Do(t, "add", "add", "add", "add", "add", "go 1")
	xproto.UngrabKey(other.Conn, 15, other.Root, xproto.ModMask4)
	xproto.DestroyWindow(other.Conn, win)
	other.Conn.Sync()
	x := s.NewX(t)
	testkit.Until(t, "Super+6 works after a window of the other went", func() bool {
		x.Press(testkit.Super, '6')
		return s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "5"
	})
}

// socketOf is where the keeper of a server answers.
func socketOf(s *testkit.Server) string {
	return filepath.Join(s.Dir, "run", "zealous-atlas", "display-"+strings.ReplaceAll(s.Display, ":", "-")+".sock")
}

// stateOf is where a keeper of a server keeps its state.
func stateOf(s *testkit.Server) string {
	return filepath.Join(s.Dir, "state", "zealous-atlas", "state.db")
}
