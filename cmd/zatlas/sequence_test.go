package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// workspaceOf is the number of the workspace of the window with a title.
func workspaceOf(t *testing.T, s *testkit.Server, title string) string {
	t.Helper()
	for line := range strings.Lines(s.List(t, "title:="+title)) {
		for _, word := range strings.Fields(line) {
			if len(word) == 2 && word[0] >= 'A' && word[0] <= 'C' && word[1] >= '1' && word[1] <= '9' {
				return word[1:]
			}
		}
	}
	return ""
}

// settled waits until no card shows and nobody has the keyboard.
func settled(t *testing.T, s *testkit.Server, x *testkit.X) {
	t.Helper()
	testkit.Until(t, "no card shows and the keyboard is free", func() bool { return !s.Card() && x.Free() })
}

// Keys that go on with a chord, a verb that asks, a question: with the card and without,
// to their end and not, and always with the keyboard given back.
func TestSequences(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[keeper]\ncard = 300\n[chords]\n\"Atlas+Q s 3\" = \"send 3\"\n\"Atlas+Q s a B\" = \"float\"\n\"Atlas+Q g digit\" = \"go digit\"\n\"Atlas+Q c\" = \"close of app:xterm\"\n\"Atlas+Q f\" = \"find\"\n\"Atlas+F5\" = \"share\"\n")
	s.Keeper(t)
	one, two := client(t, s, "one", "xterm"), client(t, s, "two", "xterm")
	x := s.NewX(t)
	s.Do(t, "add", "add", "focus #1")
	asked := func() { t.Helper(); testkit.Until(t, "a card shows", func() bool { return s.Card() }) }
	x.Type("Super+q")
	asked()
	x.Type("g 2")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	settled(t, s, x)
	x.Type("Super+q g 1") // and at once
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "0")
	for _, leave := range []string{"Escape", "BackSpace", "s BackSpace Escape", "k", "s a b"} {
		x.Type("Super+q " + leave)
		settled(t, s, x)
		if workspaceOf(t, s, "one") != "1" || s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") != "0" {
			t.Errorf("%v did something", leave)
		}
	}
	x.Type("Super+q s BackSpace s 3")
	testkit.Until(t, "the window was sent", func() bool { return workspaceOf(t, s, "one") == "3" })
	s.Focused(t, two)
	s.Do(t, "undo", "focus #1")
	x.Type("Super+q s a Shift+b")
	testkit.Until(t, "a capital is the letter with Shift", func() bool {
		return strings.Contains(s.List(t, "is:floating"), "one")
	})
	s.Do(t, "undo", "focus #1")

	// A verb that asks.
	x.Type("Super+s 2")
	testkit.Until(t, "s and a digit sends", func() bool { return workspaceOf(t, s, "one") == "2" })
	s.Do(t, "undo", "focus #1")
	x.Type("Super+s Shift+8") // *
	x.Type("2")
	asked()
	x.Type("4")
	settled(t, s, x)
	if workspaceOf(t, s, "one") != "1" || workspaceOf(t, s, "two") != "1" {
		t.Error("another key did it all the same")
	}
	x.Type("Super+s Shift+8 2 2")
	testkit.Until(t, "all of the app are sent", func() bool { return workspaceOf(t, s, "one") == "2" && workspaceOf(t, s, "two") == "2" })
	s.Do(t, "undo", "focus #1")
	x.Type("Super+p t Left")
	where(t, s, one, true, 0, 0, 640, 1080)
	s.Do(t, "undo", "focus #1")
	x.Type("Super+w Right")
	where(t, s, two, true, 0, 0, 960, 1080)

	// What the card of a place offers works.
	s.Do(t, "undo", "focus #1")
	x.Type("Super+s .")
	testkit.Until(t, "s and . sends to the next", func() bool { return workspaceOf(t, s, "one") == "2" })
	s.Do(t, "undo", "float of #1", "nudge left 3000 of #1", "focus #1")
	x.Type("Super+r Return")
	testkit.Until(t, "r and Enter rescues it", func() bool { return !strings.Contains(s.List(t, "is:stray"), "one") })
	s.Do(t, "undo", "undo", "undo", "focus #1")
	x.Type("Super+p g Right Return Return")
	where(t, s, one, true, 640, 0, 640, 360)
	testkit.Until(t, "the screens are away, and it has the focus", func() bool {
		return fmt.Sprintf("0x%x", uint32(x.Focus())) == one || s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == one
	})
	s.Do(t, "undo", "focus #1")

	// What asks on the screens asks here.
	x.Type("Super+Shift+a")
	asked()
	x.Type("Escape")
	settled(t, s, x)
	x.Type("Super+Shift+a")
	asked()
	x.Type("a") // the same key removes it
	s.RootIs(t, "_NET_NUMBER_OF_DESKTOPS", "2")
	x.Press(testkit.Super, 'u')
	s.RootIs(t, "_NET_NUMBER_OF_DESKTOPS", "3")
	x.Type("Super+q c")
	asked()
	x.Type("z")
	settled(t, s, x)
	if list := s.List(t); strings.Count(list, "XTerm") != 2 {
		t.Errorf("left are\n%s", list)
	}
	// Every verb can be had alone, and says what it wants.
	s.Do(t, "focus #1", "layout columns")
	_, _, width, _, _, _ := s.Info(one)
	x.Type("Super+F5")
	asked()
	x.Press(testkit.Shift, '=') // +
	testkit.Until(t, "the tile is wider", func() bool { _, _, w, _, _, _ := s.Info(one); return w > width })
	// Where no window has the focus, what is lost can be rescued all the same, and a
	// workspace be called another name, in words, however early they are typed.
	s.Do(t, "float of #1", "nudge left 3000 of #1", "go 3")
	x.Type("Super+r")
	asked()
	x.Type("a")
	settled(t, s, x)
	testkit.Until(t, "it is rescued", func() bool { return !strings.Contains(s.List(t, "is:stray"), "one") })
	s.Do(t, "undo", "undo", "undo", "go 3")
	x.Type("Super+e F o y e r Return")
	testkit.Until(t, "it is renamed", func() bool {
		return strings.Contains(strings.ToLower(s.Xprop(t, "root", "_NET_DESKTOP_NAMES")), "foyer")
	})
	for range 3 { // a screen after other keys; what is typed waits for it
		s.Do(t, "focus #1")
		x.Type("Super+q f t w o Return")
		s.Focused(t, two)
		testkit.Until(t, "the keyboard is free", func() bool { return x.Free() })
	}
}

// The keyboard is ours for ten seconds without a key at most, and no longer than the
// keeper lives.
func TestKeyboardIsGivenBack(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeper := s.Keeper(t)
	client(t, s, "one", "xterm")
	x := s.NewX(t)
	x.Press(testkit.Super, 's')
	testkit.Until(t, "the card shows", func() bool { return s.Card() })
	began := time.Now()
	if x.Free() {
		t.Error("the keyboard is free while a card asks")
	}
	testkit.Until(t, "the keyboard is given back", func() bool { return x.Free() })
	if took := time.Since(began); took < 8*time.Second || took > 14*time.Second || s.Card() {
		t.Errorf("it was given back after %v, the card shows: %v", took, s.Card())
	}
	for _, begin := range []func(){
		func() { x.Press(testkit.Super, 's') },
		func() { x.Key(testkit.Super, true); x.Press(testkit.Tab) },
	} {
		begin()
		testkit.Until(t, "the card shows", func() bool { return s.Card() })
		keeper.Process.Kill()
		testkit.Until(t, "its death frees the keyboard", func() bool { return x.Free() })
		x.Key(testkit.Super, false)
		keeper = s.Keeper(t)
	}
	x.Press(testkit.Super, 's')
	testkit.Until(t, "the next one asks", func() bool { return s.Card() })
	x.Press(testkit.Escape)
	// Another program's grab: no chord arrives, and none is left half done.
	other := s.NewX(t)
	testkit.Until(t, "another program has the keyboard", func() bool {
		r, err := xproto.GrabKeyboard(other.Conn, false, other.Root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
		return err == nil && r.Status == xproto.GrabStatusSuccess
	})
	x.Type("Super+Tab Super+s Super+2")
	s.Do(t, "go 1")
	if s.Card() {
		t.Error("a card shows while another program has the keyboard")
	}
	xproto.UngrabKeyboard(other.Conn, xproto.TimeCurrentTime)
	other.Conn.Sync()
	s.Do(t, "add")
	x.Press(testkit.Super, '2')
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
}

// Lists that are held: with every order of letting go, repeats, Shift, digits, closing.
func TestHeldLists(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"hold Atlas+Shift+D\" = \"bare\"\n\"hold Atlas+9\" = \"go 2\"\n")
	s.Keeper(t)
	x := s.NewX(t)
	ids := map[string]string{}
	for _, name := range []string{"one", "two", "three", "four"} {
		ids[name] = client(t, s, name, "xterm")
	}
	shows := func() { t.Helper(); testkit.Until(t, "the list shows", func() bool { return s.Card() }) }
	recent := func() {
		s.Do(t, "focus #1", "focus #2", "focus #3", "focus #4")
		s.Focused(t, ids["four"])
	}
	for _, c := range []struct{ name, keys, want string }{ // with a pause where the list shows
		{"pressed and let go of", "+Super +Tab -Tab -Super", "three"},
		{"the modifier first", "+Super +Tab -Super -Tab", "three"},
		{"twice", "+Super Tab | Tab -Super", "two"},
		{"twice, the modifier first", "+Super Tab +Tab -Super -Tab", "two"},
		{"on and back", "+Super Tab Tab Shift+Tab -Super", "three"},
		{"back around", "+Super Tab Shift+Tab Shift+Tab -Super", "one"},
		{"arrows", "+Super Tab Down Right Left -Super", "two"},
		{"a digit", "+Super Tab 4 -Super", "one"},
		{"Escape stays", "+Super Tab Escape -Super", "four"},
		{"Return", "+Super Tab Return -Super", "three"},
		{"held too long", "+Super +Tab | ~ -Tab -Super", "three"},
		{"the other modifier takes over", "+Super Tab +SuperR -Super | -SuperR", "three"},
		{"a list of the app's", "+Super l | l -Super", "two"},
		{"a list of those here", "+Super h h h -Super", "one"},
	} {
		recent()
		for i, keys := range strings.Split(c.keys, " | ") {
			if i > 0 {
				shows()
			}
			if rest, long := strings.CutPrefix(keys, "~ "); long { // the key repeats meanwhile
				time.Sleep(1200 * time.Millisecond)
				keys = rest
			}
			x.Type(keys)
		}
		testkit.Until(t, fmt.Sprintf("%s leads to %s", c.name, c.want), func() bool { return s.Xprop(t, "root", "_NET_ACTIVE_WINDOW") == ids[c.want] })
		settled(t, s, x)
	}
	// A modifier that is on and that nobody holds: it is gone to at once.
	recent()
	x.Lock(0x40, true)
	x.Press(testkit.Tab)
	s.RootIs(t, "_NET_ACTIVE_WINDOW", ids["three"])
	x.Lock(0x40, false)
	settled(t, s, x)
	// The keyboard changes in the middle.
	recent()
	x.Type("+Super Tab")
	shows()
	testkit.Run(t, s.Env, "setxkbmap", "-layout", "de")
	x.Type("Tab -Super")
	s.RootIs(t, "_NET_ACTIVE_WINDOW", ids["two"])
	settled(t, s, x)
	// Workspaces, and peeking.
	s.Do(t, "add", "add", "go 2", "go 1")
	x.Type("+Super j")
	shows()
	x.Type("-Super")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	s.Do(t, "go 1")
	recent()
	x.Type("+Super +Shift +d")
	s.RootIs(t, "_NET_SHOWING_DESKTOP", "1")
	time.Sleep(1200 * time.Millisecond) // the key repeats
	s.RootIs(t, "_NET_SHOWING_DESKTOP", "1")
	x.Type("-d -Shift -Super")
	s.RootIs(t, "_NET_SHOWING_DESKTOP", "0")
	s.Focused(t, ids["four"])
	x.Type("+Super +9")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	x.Type("-Super -9")
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "0")
	s.Focused(t, ids["four"])
	// x closes what is chosen, once a press.
	x.Type("+Super Tab +x")
	testkit.Until(t, "the one before is closed", func() bool { _, _, _, _, _, ok := s.Info(ids["three"]); return !ok })
	time.Sleep(1200 * time.Millisecond)
	x.Type("-x Escape -Super")
	settled(t, s, x)
	if list := s.List(t); strings.Count(list, "XTerm") != 3 {
		t.Errorf("x closed more than one:\n%s", list)
	}
	s.Focused(t, ids["four"])
}

// Nothing of a sequence, a question or a list reaches the program that has the focus: no
// letter, and no release of a key whose press it has not seen.
func TestNothingLeaks(t *testing.T) {
	t.Parallel()
	s := managed(t)
	log := filepath.Join(s.Dir, "events")
	testkit.Start(t, s.Env, "sh", "-c", "exec xev -name watched -event keyboard > "+log)
	watched := s.Named(t, "watched")
	s.Focused(t, watched)
	client(t, s, "other", "xterm")
	s.Do(t, "add", "focus #1")
	s.Focused(t, watched)
	x := s.NewX(t)
	x.Press('a') // which it does see
	seen := func() string { data, _ := os.ReadFile(log); return string(data) }
	testkit.Until(t, "a letter typed comes to it", func() bool { return strings.Contains(seen(), "keysym 0x61, a") })
	for _, keys := range []string{"s Escape", "s k", "p t Escape", "t BackSpace", "z e", "g 1", "v y"} {
		x.Type("Super+" + keys)
		testkit.Until(t, "the keyboard is free", x.Free)
	}
	x.Type("+Super Tab Down Escape -Super")
	testkit.Until(t, "the keyboard is free", x.Free)
	s.Focused(t, watched)
	x.Press('b')
	testkit.Until(t, "what is typed then comes to it again", func() bool { return strings.Contains(seen(), "keysym 0x62, b") })
	for event := range strings.SplitSeq(seen(), "\n\n") {
		_, key, is := strings.Cut(event, "(keysym ")
		key, _, _ = strings.Cut(key, ")")
		if is && !strings.HasSuffix(key, ", a") && !strings.HasSuffix(key, ", b") && !strings.HasSuffix(key, ", Super_L") {
			t.Errorf("it has seen %s:\n%s", key, event)
		}
	}
}
