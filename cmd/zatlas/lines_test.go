package main

import (
	"bufio"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// lineWindows are the windows of lines that a server shows, with their places, from below.
func lineWindows(s *testkit.Server) (wins []string, places []geom.Rect) {
	return shownAs(s, "Zealous Atlas line")
}

// shownAs are the windows under a title that a server shows.
func shownAs(s *testkit.Server, title string) (wins []string, places []geom.Rect) {
	out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
	for line := range strings.Lines(out) {
		if strings.Contains(line, `"`+title+`"`) {
			id := strings.Fields(line)[0]
			x, y, w, h, seen, ok := s.Info(id)
			if ok && seen {
				wins, places = append(wins, id), append(places, geom.R(x, y, w, h))
			}
		}
	}
	return wins, places
}

// The line keeps its room on monitors that lie in an L, as a dock does; it is under what is
// fullscreen, follows monitors and settings, and is there again after a SIGKILL.
func TestLineKeepsItsRoom(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Plug(t, "DUMMY2", 0, 1080)
	s.Settings(t, "[desk]\nnames = [\"Day\", \"Night\", \"Stage\", \"Attic\"]\n")
	keeper := s.Keeper(t, "--line", "bottom")
	plan := s.Client(t, "Plan", "xterm")
	area := func() string { return s.Xprop(t, "root", "_NET_WORKAREA") }
	lines := func(want ...geom.Rect) {
		t.Helper()
		testkit.Until(t, fmt.Sprint("the lines are at ", want), func() bool {
			_, places := lineWindows(s)
			n := 0
			for _, w := range want {
				for _, p := range places {
					if p == w {
						n++
					}
				}
			}
			return len(places) == len(want) && n == len(want)
		})
	}
	at := 0
	defer func() { t.Log("it ends at ", at) }()
	inside := func(bottom int) {
		t.Helper()
		testkit.Until(t, fmt.Sprint("the window ends at ", bottom), func() bool {
			_, y, _, h, _, _ := s.Info(plan)
			at = y + h + 4 // with its border
			return at == bottom
		})
	}
	a, b, c := geom.R(0, 1050, 1920, 30), geom.R(1920, 1050, 1920, 30), geom.R(0, 2130, 1920, 30)
	lines(a, b, c)
	inside(1050)
	// A strip is counted from the edge of the whole screen, which other monitors move.
	struts := func(screen int) {
		t.Helper()
		testkit.Until(t, fmt.Sprint("struts are counted from ", screen), func() bool {
			wins, places := lineWindows(s)
			for i, win := range wins {
				p := places[i]
				strut := strings.Split(s.Xprop(t, win, "_NET_WM_STRUT_PARTIAL"), ", ")
				if len(strut) != 12 || strut[3] != fmt.Sprint(screen-p.Y) || strut[10] != fmt.Sprint(p.X) || strut[11] != fmt.Sprint(p.Right()-1) {
					return false
				}
			}
			return true
		})
	}
	struts(2160)
	for _, win := range func() []string { w, _ := lineWindows(s); return w }() {
		if kind := s.Xprop(t, win, "_NET_WM_WINDOW_TYPE"); kind != "_NET_WM_WINDOW_TYPE_DOCK" {
			t.Errorf("the line says it is %s", kind)
		}
	}
	if list := s.Xprop(t, "root", "_NET_CLIENT_LIST_STACKING"); list != plan {
		t.Errorf("the windows are said to be %s, and %s is all there is", list, plan)
	}
	x := s.NewX(t)
	over := func() bool { // the window is over the line of its monitor
		tree, err := xproto.QueryTree(x.Conn, x.Root).Reply()
		if err != nil {
			return false
		}
		at := map[string]int{}
		for i, win := range tree.Children {
			at[fmt.Sprintf("%#x", uint32(win))] = i
		}
		wins, places := lineWindows(s)
		for i, p := range places {
			if p == a && at[wins[i]] < at[plan] {
				return true
			}
		}
		return false
	}
	if over() {
		t.Error("a window of the desk is over the line")
	}
	s.Do(t, "fullscreen")
	inside(1080 + 4) // without a border
	testkit.Until(t, "what is fullscreen is over the line", over)
	s.Do(t, "undo")
	inside(1050)
	// A foreign dock at the same edge is outside of the line.
	dock := x.Window("shelf", 0, 1040, 1920, 40)
	x.Cards(dock, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(x.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	x.Cards(dock, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 0, 1120, 0, 0, 0, 0, 0, 0, 0, 1919)
	x.Map(dock)
	lines(geom.R(0, 1010, 1920, 30), b, c)
	inside(1010)
	xproto.DestroyWindow(x.Conn, dock)
	lines(a, b, c)
	s.Unplug(t, "DUMMY2")
	lines(a, b)
	struts(1080)
	s.Plug(t, "DUMMY2", 0, 1080)
	lines(a, b, c)
	s.Settings(t, "[keeper]\nline_on = \"C\"\nline_size = 20\n")
	s.Do(t, "reload")
	lines(geom.R(1920, 1038, 1920, 42))
	inside(1080)
	s.Settings(t, "")
	s.Do(t, "reload")
	inside(1050)
	// A window whose handle is behind the line is out of reach.
	s.Do(t, "float of title:=Plan")
	before := area()
	killed(t, s, keeper)
	testkit.Until(t, "the lines are gone with the keeper", func() bool { w, _ := lineWindows(s); return len(w) == 0 })
	s.Keeper(t, "--line", "bottom")
	lines(a, b, c)
	if after := area(); after != before {
		t.Errorf("after a SIGKILL the room for windows is %s, and it was %s", after, before)
	}
}

// On a sharp monitor the line, and the headings of tabs and piles, are larger in pixels; on one
// that is turned they are as long as its short side.
func TestLineByDensity(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	testkit.Run(t, s.Env, "xrandr", "--setmonitor", "SHARP", "1920/254x1080/143+0+0", "DUMMY0")
	s.Plug(t, "DUMMY1", 1920, 0)
	if _, err := testkit.TryRun(s.Env, "xrandr", "--output", "DUMMY1", "--rotate", "left"); err != nil {
		// A server that turns nothing still shows what is higher than wide.
		testkit.Run(t, s.Env, "xrandr", "--setmonitor", "TURNED", "1080/286x1920/508+1920+0", "DUMMY1")
	}
	s.Keeper(t, "--line", "bottom")
	for _, monitor := range []string{"A", "B"} {
		s.Do(t, "focus "+monitor)
		for _, title := range []string{"Plan", "Reels"} {
			s.Client(t, title+" "+monitor, "xterm")
		}
		s.Do(t, "layout tabs")
	}
	fromLeft := func(title string) []geom.Rect {
		_, places := shownAs(s, title)
		slices.SortFunc(places, func(a, b geom.Rect) int { return a.X - b.X })
		return places
	}
	testkit.Until(t, "lines and headings are as sharp as their monitors", func() bool {
		lines, hs := fromLeft("Zealous Atlas line"), fromLeft("Zealous Atlas heading")
		return len(lines) == 2 && lines[0] == geom.R(0, 1022, 1920, 58) && lines[1] == geom.R(1920, 1890, 1080, 30) &&
			len(hs) == 4 && hs[0].H == 48 && hs[1].H == 48 && hs[2].H == 24 && hs[3].Right() <= 3000
	})
}

// What the line shows is used by the pointer: a click goes, the wheel too, a window is dropped
// on a workspace, what just happened is taken back, and zatlas line says the same in words.
func TestLineByPointer(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[desk]\nnames = [\"Day\", \"Night\", \"Stage\", \"Attic\"]\n[[line]]\ncommand = \"echo three mails\"\nclick = \"go 4\"\n")
	s.Keeper(t, "--line", "top")
	s.Client(t, "Plan", "xterm")
	list := s.Client(t, "List", "xterm")
	x := s.NewX(t)
	last := ""
	defer func() { t.Log("the line said last: ", last) }()
	says := func(want string) {
		t.Helper()
		testkit.Until(t, "the line says "+want, func() bool {
			out, err := testkit.TryRun(s.Env, testkit.Binary(t), "line", "--format", "{workspaces} | {title} | {rows} | {news}")
			last = out
			return err == nil && strings.HasPrefix(out, want)
		})
	}
	click := func(px, py int, button byte) {
		x.Point(px, py)
		x.Button(button, true)
		x.Button(button, false)
	}
	says("[1 Day*]  2 Night  3 Stage  4 Attic | List | three mails")
	follow := exec.Command(testkit.Binary(t), "line", "--follow", "--format", "{workspaces}")
	follow.Env = append(follow.Environ(), s.Env...)
	out, err := follow.StdoutPipe()
	if err == nil {
		err = follow.Start()
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { follow.Process.Kill(); follow.Wait() })
	followed := make(chan string, 100)
	go func() {
		for in := bufio.NewScanner(out); in.Scan(); {
			followed <- in.Text()
		}
		close(followed)
	}()
	if got := <-followed; got != "[1 Day*]  2 Night  3 Stage  4 Attic" {
		t.Errorf("the line that is followed begins with %q", got)
	}
	const third, second = 970, 950 // of four workspaces, on both sides of the middle
	click(third, 15, 1)
	says("1 Day*  2 Night  [3 Stage]  4 Attic |  | three mails")
	click(second, 15, 1)
	says("1 Day*  [2 Night]")
	click(third, 15, 4) // the wheel
	says("[1 Day*]  2 Night")
	click(third, 15, 5)
	says("1 Day*  [2 Night]")
	for _, want := range []string{"1 Day*  2 Night  [3 Stage]  4 Attic", "1 Day*  [2 Night]  3 Stage  4 Attic", "[1 Day*]  2 Night  3 Stage  4 Attic"} {
		if got := <-followed; got != want {
			t.Errorf("the line that is followed says %q, want %q", got, want)
		}
	}
	click(third, 15, 4)
	says("[1 Day*]  2 Night  3 Stage  4 Attic | List")
	// The window is taken by its middle, and let go on the third workspace.
	px, py, w, h, _, _ := s.Info(list)
	x.Hold(testkit.Super, func() {
		x.Point(px+w/2, py+h/2)
		x.Button(1, true)
		for i := range 10 {
			x.Point(px+w/2+(third-px-w/2)*(i+1)/10, py+h/2+(15-py-h/2)*(i+1)/10)
		}
		x.Button(1, false)
	})
	says("[1 Day*]  2 Night  3 Stage*  4 Attic | Plan | three mails | Sent XTerm · List to 3 Stage.")
	click(30, 15, 1)
	says("[1 Day*]  2 Night  3 Stage  4 Attic | List | three mails | Undid:")
	testkit.Until(t, "nothing is news", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "line", "--format", "{news}.")
		return err == nil && out == ".\n"
	})
	testkit.Until(t, "a click on the title says what can be done with the window", func() bool {
		click(100, 15, 1)
		return testkit.Soon(func() bool {
			out, _ := testkit.TryRun(s.Env, "xwininfo", "-name", "Zealous Atlas card")
			return strings.Contains(out, "IsViewable")
		})
	})
	x.Type("s 3")
	says("[1 Day*]  2 Night  3 Stage*  4 Attic | Plan")
	testkit.Until(t, "the row's click is followed", func() bool { // wherever the row is by its width
		for px := 1900; px > 1500; px -= 10 {
			click(px, 15, 1)
		}
		return testkit.Soon(func() bool {
			out, err := testkit.TryRun(s.Env, testkit.Binary(t), "line")
			return err == nil && strings.Contains(out, "[4 Attic]")
		})
	})
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "line", "--format", "{tittle}"); err == nil || !strings.Contains(out, "there is no piece {tittle}") {
		t.Errorf("a form at fault: %v %s", err, out)
	}
}

// Beside another manager the line is a dock of it, where the settings ask for one, with the
// same in it.
func TestLineAlongside(t *testing.T) {
	t.Parallel()
	s, m := foreign(t, manager.Switches{})
	s.Settings(t, "[alongside]\nline = \"bottom\"\n")
	s.Client(t, "Plan", "xterm")
	p := testkit.Spawn(t, s.Env, testkit.Binary(t), "alongside")
	testkit.Until(t, "the line is there", func() bool {
		_, places := lineWindows(s)
		slices.SortFunc(places, func(a, b geom.Rect) int { return a.X - b.X })
		return slices.Equal(places, []geom.Rect{geom.R(0, 1050, 1920, 30), geom.R(1920, 1050, 1920, 30)})
	})
	testkit.Until(t, "it says what is", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "line", "--format", "{workspaces} {title}")
		return err == nil && strings.HasPrefix(out, "[1") && strings.Contains(out, "Plan")
	})
	if list := s.List(t); strings.Count(list, "\n") != 1 {
		t.Errorf("the line is a window of the desk:\n%s", list)
	}
	x := s.NewX(t)
	testkit.Until(t, "a click goes to the workspace", func() bool {
		x.Point(1050, 1065)
		x.Button(1, true)
		x.Button(1, false)
		return testkit.Soon(func() bool { current, _, _, _ := m.Shown(); return current > 0 })
	})
	s.Settings(t, "")
	s.Do(t, "reload")
	testkit.Until(t, "the line is gone", func() bool { w, _ := lineWindows(s); return len(w) == 0 })
	s.Do(t, "end")
	p.End()
}
