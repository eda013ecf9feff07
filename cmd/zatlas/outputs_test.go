package main

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// Three real outputs are pulled and plugged in again in every order, with
// windows on them, in both modes: every window is where it was, on the desk
// and on the display.
func TestThreeOutputs(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	settingsFile := filepath.Join(s.Dir, "zealous-atlas", "settings.toml")
	s.Env = append(s.Env, "XDG_CONFIG_HOME="+s.Dir)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Plug(t, "DUMMY2", 3840, 0)
	s.Keeper(t)
	client, err := remote.Dial(socketOf(s))
	if err != nil {
		t.Fatal(err)
	}
	get := func() *desk.Desk {
		d, err := client.Desk(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return d
	}
	do := func(lines ...string) {
		t.Helper()
		for _, line := range lines {
			c := desks.Command(t, line)
			if o, err := client.Do(t.Context(), c, keeper.Line); err != nil || o.Err != nil {
				t.Fatalf("%s: %v %v", line, err, o.Err)
			}
		}
	}
	x := s.NewX(t)
	wins := map[string]xproto.Window{}
	for i := range 9 {
		title := fmt.Sprintf("w%d", i)
		wins[title] = x.Window(title, 60, 60, 400+10*i, 300)
		x.Map(wins[title])
		testkit.Until(t, title+" is on the desk", func() bool { return len(get().Windows) == i+1 })
	}
	do("add Stage", "send B of title:=w1 or title:=w2", "send C of title:=w3 or title:=w4", "send B2 of title:=w5", "send C2 of title:=w6",
		"float of title:=w2", "float of title:=w6", "layout rows of title:=w3")
	// places is every window's place on the desk, and on the display where it is shown.
	places := func(d *desk.Desk) string {
		var b strings.Builder
		for _, w := range d.Windows {
			px, py, ww, wh, border, ok := x.Geometry(wins[w.Title])
			fmt.Fprintf(&b, "%s %s %v", w.Title, d.Ref(w), w.Rect)
			if d.Visible(w) && ok {
				fmt.Fprintf(&b, " at %d,%d %dx%d viewable %v", px, py, ww+2*border, wh+2*border, x.Viewable(wins[w.Title]))
			}
			b.WriteByte('\n')
		}
		return b.String()
	}
	outputs := []string{"DUMMY0", "DUMMY1", "DUMMY2"}
	on := [3]bool{true, true, true}
	// One call for all: xrandr moves what is left to the origin.
	arrange := func(i int, plugged bool) {
		on[i] = plugged
		var args []string
		for j, output := range outputs {
			args = append(args, "--output", output)
			if on[j] {
				args = append(args, "--mode", "1920x1080", "--pos", fmt.Sprintf("%dx0", 1920*j))
			} else {
				args = append(args, "--off")
			}
		}
		testkit.Run(t, s.Env, "xrandr", args...)
	}
	orders := [][]int{{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}
	for _, mode := range []string{"spanning", "separate"} {
		if mode == "separate" {
			os.MkdirAll(filepath.Dir(settingsFile), 0o700)
			if err := os.WriteFile(settingsFile, []byte("[desk]\nmode = \"separate\"\n"), 0o600); err != nil {
				t.Fatal(err)
			}
			do("home 2 B", "reload")
		}
		testkit.Until(t, "the display is as the desk says", func() bool { d := get(); return shown(x, d, wins) })
		before := places(get())
		for n, pull := range orders {
			plug := orders[len(orders)-1-n]
			in := 3
			for _, i := range pull {
				arrange(i, false)
				in--
				testkit.Until(t, fmt.Sprint(in, " monitors are left"), func() bool { return connected(get()) == max(in, 1) })
				if d := get(); len(d.Windows) != len(wins) || !everyWindowHasAMonitor(d) {
					t.Fatalf("%s: windows are lost: %s", mode, places(d))
				}
			}
			for _, i := range plug {
				arrange(i, true)
				in++
				testkit.Until(t, fmt.Sprint(in, " monitors are there"), func() bool { return connected(get()) == in })
			}
			after := ""
			for range 200 { // the display follows the desk
				if after = places(get()); after == before {
					break
				}
			}
			if after != before {
				t.Fatalf("%s: pulled in the order %v, plugged in %v:\n%s\nbefore\n%s", mode, pull, plug, after, before)
			}
		}
	}
}

func connected(d *desk.Desk) int {
	n := 0
	for _, m := range d.Monitors {
		if m.Connected {
			n++
		}
	}
	return n
}

func everyWindowHasAMonitor(d *desk.Desk) bool {
	for _, w := range d.Windows {
		if !d.Connected(w.Monitor) {
			return false
		}
	}
	return true
}

// shown tells whether every window is where the desk says.
func shown(x *testkit.X, d *desk.Desk, wins map[string]xproto.Window) bool {
	for _, w := range d.Windows {
		px, py, _, _, _, ok := x.Geometry(wins[w.Title])
		if v := x.Viewable(wins[w.Title]); !ok || v != d.Visible(w) || v && (px != w.Rect.X || py != w.Rect.Y) {
			return false
		}
	}
	return true
}

// A monitor turned upright and back: its tiles follow, what floats keeps its part
// of the free room, and all is as it was afterwards.
func TestUprightMonitor(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Keeper(t)
	one, two, loose := client(t, s, "one", "xterm"), client(t, s, "two", "xterm"), client(t, s, "loose", "xlogo")
	s.Do(t, "float of title:=loose", "snap bottomright of title:=loose", "send B of all")
	where(t, s, one, true, 1920, 0, 960, 1080)
	where(t, s, two, true, 2880, 0, 960, 1080)
	where(t, s, loose, true, 2880, 540, 960, 540)
	mode := func(name string) {
		testkit.Run(t, s.Env, "xrandr", "--output", "DUMMY1", "--mode", name, "--pos", "1920x0")
	}
	testkit.Run(t, s.Env, "xrandr", "--newmode", "upright", "148.5", "1080", "1140", "1180", "1300", "1920", "1930", "1940", "1960")
	testkit.Run(t, s.Env, "xrandr", "--addmode", "DUMMY1", "upright")
	mode("upright")
	where(t, s, one, true, 1920, 0, 540, 1920)
	where(t, s, two, true, 2460, 0, 540, 1920)
	where(t, s, loose, true, 2040, 1380, 960, 540) // flush right and at the bottom still
	mode("1920x1080")
	where(t, s, one, true, 1920, 0, 960, 1080)
	where(t, s, two, true, 2880, 0, 960, 1080)
	where(t, s, loose, true, 2880, 540, 960, 540)
}

// TestModeForAWhile holds that windows that float are where they were on the server, to the
// pixel, when a program has set a smaller mode and given the old one back.
func TestModeForAWhile(t *testing.T) {
	t.Parallel()
	s := managed(t)
	x := s.NewX(t)
	dock := x.Window("dock", 0, 1050, 1920, 30)
	x.Cards(dock, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(x.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	x.Cards(dock, "_NET_WM_STRUT", xproto.AtomCardinal, 0, 0, 0, 30)
	x.Map(dock)
	places := []string{"700x500+101+203", "131x77+903+61", "1500x900+300+100"}
	ids := map[string]string{}
	for i, p := range places {
		ids[p] = client(t, s, fmt.Sprint("window", i), "xlogo", "-geometry", p)
	}
	s.Do(t, "float of all", "resize right 333 of title:=window0", "nudge down 17 of title:=window0")
	at := func() (all []string) {
		for _, p := range places {
			x, y, w, h, _, _ := s.Info(ids[p])
			all = append(all, fmt.Sprintf("%dx%d+%d+%d", w, h, x, y))
		}
		return all
	}
	testkit.TryRun(s.Env, "xrandr", "--addmode", "DUMMY0", "1280x720")
	before := at()
	for range 3 {
		testkit.Run(t, s.Env, "xrandr", "--output", "DUMMY0", "--mode", "1280x720")
		testkit.Until(t, "it fits the smaller mode", func() bool { return !slices.Equal(at(), before) })
		testkit.Run(t, s.Env, "xrandr", "--output", "DUMMY0", "--mode", "1920x1080")
		testkit.Until(t, "all is as it was", func() bool { return slices.Equal(at(), before) })
	}
}
