package main

import (
	"fmt"
	"time"

	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// On a real display: programs are opened by their desktop entries and their
// first windows go where they are asked to, rules place windows, pins jump, the
// switcher comes up by a chord.
func TestAppsOnADisplay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	data := filepath.Join(s.Dir, "data")
	s.Env = append(s.Env, "XDG_CONFIG_HOME="+s.Dir, "XDG_DATA_HOME="+data, "XDG_DATA_DIRS="+data, "LANG=de_DE.UTF-8")
	entry := func(id, text string) {
		path := filepath.Join(data, "applications", id+".desktop")
		os.MkdirAll(filepath.Dir(path), 0o700)
		if err := os.WriteFile(path, []byte("[Desktop Entry]\nType=Application\n"+text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	entry("wall", "Name=Wall Clock\nName[de]=Wanduhr\nExec=xclock -name walluhr %U\nStartupWMClass=XClock\n")
	entry("slow", "Name=Slow Logo\nExec=sh -c \"sleep 1; exec xlogo\"\n")
	entry("gone", "Name=Gone\nExec=/none/such\n")
	file := filepath.Join(s.Dir, "zealous-atlas", "settings.toml")
	os.MkdirAll(filepath.Dir(file), 0o700)
	rules := "[[rules]]\nmatch = \"title:radio\"\nto = \"3\"\nfloat = true\n[[rules]]\nmatch = \"title:alone\"\nleave = true\n"
	if err := os.WriteFile(file, []byte(rules), 0o600); err != nil {
		t.Fatal(err)
	}
	s.Keeper(t)
	one := client(t, s, "one", "xterm")
	s.Do(t, "add", "add")
	list := func(query string) string { return s.List(t, query) }
	// Opened by its name in this language, on workspace 2; gone to the next time.
	s.Do(t, "open wand on 2")
	testkit.Until(t, "the clock is on A2", func() bool { return strings.Contains(list("app:xclock"), "A2") })
	s.Do(t, "go 1", "open Wanduhr")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	if n := strings.Count(list("app:xclock"), "A2"); n != 1 {
		t.Errorf("%d clocks run", n)
	}
	// Started here, and its window comes here though you have gone elsewhere.
	s.Do(t, "go 1", `open "Slow Logo"`, "go 2")
	testkit.Until(t, "the logo is where it was started", func() bool { return strings.Contains(list("app:xlogo"), "A1") })
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "open Gone"); err == nil || !strings.Contains(out, "could not be started") {
		t.Errorf("a program that is not there: %v %s", err, out)
	}
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "open zzz"); err == nil || !strings.Contains(out, "no app is called zzz") {
		t.Errorf("an app that is not there: %v %s", err, out)
	}
	// Rules.
	client(t, s, "radio", "xterm")
	if got := list("title:radio"); !strings.Contains(got, "A3") || !strings.Contains(got, "floating") {
		t.Errorf("by the rule the radio is %s", got)
	}
	alone := s.Client(t, "alone", "xterm")
	testkit.Until(t, "the window left alone is mapped", func() bool { return s.Seen(alone) })
	if got := s.List(t, "title:=alone"); got != "" {
		t.Errorf("it is on the desk: %s", got)
	}
	// Pins: the letter is kept in the file, and the chord goes there.
	s.Do(t, "pin k of app:xclock")
	if text, _ := os.ReadFile(file); !strings.HasPrefix(string(text), rules) || !strings.Contains(string(text), `k = "app:=Wanduhr"`) {
		t.Errorf("the settings are\n%s", text)
	}
	// Screens attached in a terminal know the letter, and how long windows are idle.
	term := testkit.NewTerminal(t, 160, 40, s.Env, testkit.Binary(t))
	term.Wait("display " + s.Display)
	term.Keys("v").Wait("jump to  k Wanduhr")
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("/").Type("app:xclock").Wait("A2 k   Wanduhr")
	term.Keys("C-u").Type("idle:<1h")
	term.Wait("2 of 4 windows", "A1     XTerm", "A2 k   Wanduhr") // the clock takes no keys, and was gone to
	if got := list("idle:<1h"); !strings.Contains(got, "one") {
		t.Errorf("of the windows used within an hour are listed %q", got)
	}
	s.Do(t, "go 1")
	x := s.NewX(t)
	x.Type("Super+v k")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	x.Press(testkit.Super, '1') // the keyboard is free again
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "0")
	// Recent windows: pressed and let go of at once, it is the window before.
	s.Do(t, "focus #1", "jump k")
	x.Press(testkit.Super, testkit.Tab)
	s.RootIs(t, "_NET_ACTIVE_WINDOW", one)
	// States as others see them.
	s.Do(t, "float of #1", "stick of #1", "above on of #1")
	if got := s.Xprop(t, one, "_NET_WM_STATE"); got != "_NET_WM_STATE_STICKY, _NET_WM_STATE_ABOVE, _NET_WM_STATE_FOCUSED" {
		t.Errorf("its states are %s", got)
	}
	s.Do(t, "bare")
	testkit.Until(t, "the desk is bare", func() bool {
		return !s.Seen(one) && s.Xprop(t, "root", "_NET_SHOWING_DESKTOP") == "1"
	})
	s.Do(t, "bare")
	testkit.Until(t, "everything is back", func() bool {
		return s.Seen(one) && s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == one
	})
	if got := testkit.Run(t, s.Env, testkit.Binary(t), "line"); !strings.Contains(got, "[1*^]  2*  3*^ | A tree") {
		t.Errorf("the line is %s", got)
	}
}

// A window that is asked to close: one that does, one that answers and stays,
// one whose program does not answer any more.
func TestCloseAndKill(t *testing.T) {
	t.Parallel()
	s := managed(t)
	x := s.NewX(t)
	list := func() string { return s.List(t, "all") }
	// (A terminal would hang up its shell, which may be too young to take notice.)
	client(t, s, "obeys", "xclock")
	s.Do(t, "close of title:=obeys")
	testkit.Until(t, "it is gone", func() bool { return !strings.Contains(list(), "obeys") })
	// This one takes the message and the ping, and does nothing with either.
	hangs := x.Window("hangs", 0, 0, 300, 200)
	x.Cards(hangs, "WM_PROTOCOLS", x.Atom("ATOM"), uint32(x.Atom("WM_DELETE_WINDOW")), uint32(x.Atom("_NET_WM_PING")))
	x.Map(hangs)
	testkit.Until(t, "it is on the desk", func() bool { return strings.Contains(list(), "hangs") })
	s.Do(t, "close of title:=hangs")
	testkit.Until(t, "it is said to hang", func() bool { return strings.Contains(list(), "hung") })
	log := testkit.Run(t, s.Env, testkit.Binary(t), "log")
	if !strings.Contains(log, "hangs does not answer.") {
		t.Errorf("the logbook is\n%s", log)
	}
	victim := client(t, s, "victim", "xclock")
	s.Do(t, "kill of title:=victim")
	testkit.Until(t, "its client is ended", func() bool { _, _, _, _, _, ok := s.Info(victim); return !ok })
	if got := list(); !strings.Contains(got, "hangs") || strings.Contains(got, "victim") {
		t.Errorf("the desk is\n%s", got)
	}
}

// With twenty thousand programs installed nothing is held up, by their being read
// or by one being chosen among them.
func TestManyPrograms(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	data := filepath.Join(s.Dir, "data")
	dir := filepath.Join(data, "applications")
	if err := os.MkdirAll(dir, 0o700); err != nil {
		t.Fatal(err)
	}
	for i := range 20_000 {
		text := fmt.Sprintf("[Desktop Entry]\nType=Application\nName=Program %d\nExec=true %d\n", i, i)
		if err := os.WriteFile(filepath.Join(dir, fmt.Sprintf("p%d.desktop", i)), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	s.Env = append(s.Env, "XDG_DATA_HOME="+data, "XDG_DATA_DIRS="+data)
	s.Keeper(t)
	k, err := remote.Dial(socketOf(s))
	if err != nil {
		t.Fatal(err)
	}
	timed := func(line string) time.Duration {
		c := desks.Command(t, line)
		began := time.Now()
		if o, err := k.Do(t.Context(), c, keeper.Line); err != nil || o.Err != nil {
			t.Fatalf("%s: %v %v", line, err, o.Err)
		}
		return time.Since(began)
	}
	// The first one may come before they are read, and waits for that by itself.
	first := make(chan time.Duration, 1)
	go func() {
		o, err := k.Do(t.Context(), desk.Command{Verb: "open", Args: []desk.Arg{{Kind: desk.Name, Word: "Program 19999"}}}, keeper.Line)
		if err != nil || o.Err != nil {
			t.Errorf("open: %v %v", err, o.Err)
		}
		close(first)
	}()
	longest, n := time.Duration(0), 0
	for open := true; open; n++ {
		longest = max(longest, timed("go 1"))
		select {
		case <-first:
			open = false
		default:
		}
	}
	t.Logf("%d times go meanwhile, the slowest took %v; open took %v, and %v by a part of its name", n, longest, timed(`open "Program 123"`), timed(`open "gram 77"`))
	if longest > 2*time.Second {
		t.Errorf("go was held up for %v", longest)
	}
}
