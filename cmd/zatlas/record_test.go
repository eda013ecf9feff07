package main

import (
	"os"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/testkit"
)

// A chord is recorded in the atlas window: the keeper listens for it, and the file keeps
// its comments; undone, it is as it was to the byte. For nobody else does it listen.
func TestRecordOnADisplay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	const own = "# mine\n[chords]\n\"Atlas+F8\" = \"float\" # kept\n"
	path := s.Settings(t, own)
	reads := func(want string) {
		t.Helper()
		var got string
		for range 10 {
			if testkit.Soon(func() bool { data, _ := os.ReadFile(path); got = string(data); return got == want }) {
				return
			}
		}
		t.Fatalf("the file reads %s and not %s", got, want)
	}
	other := s.NewX(t)
	const f7Code, f9 = 73, 0xffc6
	if err := xproto.GrabKeyChecked(other.Conn, true, other.Root, xproto.ModMask4, f7Code, xproto.GrabModeAsync, xproto.GrabModeAsync).Check(); err != nil {
		t.Fatal(err)
	}
	s.Keeper(t)
	one := client(t, s, "one", "xterm")
	client(t, s, "two", "xterm")
	where(t, s, one, true, 0, 0, 960, 1080)
	x := s.NewX(t)
	keys := func(words ...uint32) {
		for _, k := range words {
			x.Press(k)
		}
	}
	page := func() {
		t.Helper()
		x.Press(testkit.Super, 'k')
		testkit.Until(t, "the page is up", func() bool { return atlasShows(s, x) })
	}
	// Looking whether the keyboard is free keeps the keeper from having it for a moment:
	// it is looked at seldom, and asked for again where it could not be had.
	listening := func() {
		t.Helper()
		for pause := 400 * time.Millisecond; pause < testkit.Deadline/2; pause += pause / 2 {
			time.Sleep(pause)
			if !x.Free() {
				return
			}
			keys(testkit.Escape, 'e')
		}
		t.Fatal("the keeper does not listen")
	}
	page()
	keys('m', 'i', 'r', 'r', 'o', 'r', testkit.Right, 'e')
	listening()
	x.Press(testkit.Super, f9)
	testkit.Until(t, "it listens no more", func() bool { return x.Free() })
	taken(x, path, own)
	const mirrored = "# mine\n[chords]\n\"Atlas+F8\" = \"float\" # kept\n\"Atlas+Shift+W\" = \"\"\n\"Atlas+F9\" = \"mirror\"\n"
	reads(mirrored)
	bound := func(chord string) {
		t.Helper()
		testkit.Until(t, chord+" is taken up", func() bool {
			return strings.Contains(testkit.Run(t, s.Env, testkit.Binary(t), "keys", "--json"), chord)
		})
	}
	bound("Super+F9")
	x.Press(testkit.Super, f9)
	where(t, s, one, true, 960, 0, 960, 1080)
	keys('u') // the latest step first, which is what the chord did
	where(t, s, one, true, 0, 0, 960, 1080)
	keys('u')
	reads(own)
	// A row of a class stays one.
	x.Press(testkit.Super, 'k')
	testkit.Until(t, "the page is put away", func() bool { return !atlasShows(s, x) })
	page()
	keys('c', 'a', 'r', 'r', 'y', ' ', '1', '-', '9', testkit.Right, 'e')
	listening()
	x.Press(testkit.Control, testkit.Alt, '4')
	testkit.Until(t, "it listens no more", func() bool { return x.Free() })
	taken(x, path, own)
	reads(own + "\"Atlas+Ctrl+digit\" = \"\"\n\"Ctrl+Alt+digit\" = \"carry digit\"\n")
	bound("Ctrl+Alt+2")
	s.Do(t, "add", "focus #1")
	x.Press(testkit.Control, testkit.Alt, '2')
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")

	// Listening is refused to anybody but the window that has the focus.
	c, err := remote.Dial(socketOf(s))
	if err != nil {
		t.Fatal(err)
	}
	for _, window := range []string{"", "zatlas-0000", "guess"} {
		if _, err := c.Key(t.Context(), keeper.KeyAsk{Window: window}); err == nil || !strings.Contains(err.Error(), "atlas window alone") {
			t.Errorf("asked as %q the keeper says %v", window, err)
		}
	}
	for chord, want := range map[string]keeper.KeyState{"Super+F9": keeper.KeyFree, "Super+F8": keeper.KeyOurs, "Super+F7": keeper.KeyTaken, "Atlas+M": keeper.KeyOurs} {
		if got, err := c.Key(t.Context(), keeper.KeyAsk{Chord: chord}); err != nil || got.State != want {
			t.Errorf("%s is %+v, %v, want %s", chord, got, err, want)
		}
	}
	if _, err := c.Key(t.Context(), keeper.KeyAsk{Chord: "nothing"}); err == nil {
		t.Error("a word is probed as a chord")
	}
}

// taken takes the chord that was recorded: by Enter once the screen shows it, which is
// tried until the file is another.
func taken(x *testkit.X, path, was string) {
	for range 20 {
		x.Press(testkit.Return)
		if testkit.Soon(func() bool { data, _ := os.ReadFile(path); return string(data) != was }) {
			return
		}
	}
}
