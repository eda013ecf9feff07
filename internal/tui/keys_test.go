package tui

import (
	"context"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/remote"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui/cells"
)

// No key means two things.
func TestKeysAreUnique(t *testing.T) {
	whose := map[string]string{}
	claim := func(key, who string) {
		if other, taken := whose[key]; taken {
			t.Errorf("%s is a key of %s and of %s", key, other, who)
		}
		whose[key] = who
	}
	for _, v := range desk.Verbs() {
		if v.Key != "" {
			claim(v.Key, v.Name)
		}
		if len([]rune(v.Key)) > 1 {
			t.Errorf("%s has the key %q", v.Name, v.Key)
		}
	}
	for _, b := range bindings() {
		for _, k := range b.keys {
			claim(k, b.does())
		}
		if b.line != "" {
			if _, err := lang.ParseCommand(b.line); err != nil || b.run != nil {
				t.Errorf("%s stands for %q: %v", b.shown, b.line, err)
			}
		}
	}
	for n := '1'; n <= '9'; n++ {
		claim(string(n), "going there")
	}
	listedAs := map[string]bool{}
	for _, s := range screens() {
		if s.open == nil {
			t.Errorf("nothing opens %s", s.Name)
		}
		if s.After != "" && listedAs[s.After] {
			t.Errorf("two screens go by %s", s.After)
		}
		listedAs[s.After] = true
	}
	for _, v := range desk.Verbs() { // what a row asks for has a prompt
		if _, ok := prompts[v.Asks]; v.Asks != desk.AskNothing && !ok {
			t.Errorf("nothing asks what %s asks for", v.Name)
		}
		for _, k := range strings.Fields(v.Bound) {
			if whose[k] == "" {
				t.Errorf("%s is said to have %s, which means nothing", v.Name, k)
			}
		}
	}
}

// A key that is held does once what is done once. Times are those at which
// terminals repeat.
func TestHeldKeys(t *testing.T) {
	const first, later = 660 * time.Millisecond, 40 * time.Millisecond
	for _, c := range []struct {
		key     string
		holds   func(d *desk.Desk, n int) bool // after it was held, n times in all
		reports bool                           // by a terminal that tells of repeats
	}{
		{"x", func(d *desk.Desk, _ int) bool { return len(d.Windows) == 25 }, false},
		{"x", func(d *desk.Desk, _ int) bool { return len(d.Windows) == 25 }, true},
		{"f", func(d *desk.Desk, _ int) bool { return d.Window(11).Floating }, true},
		{">", func(d *desk.Desk, _ int) bool { return d.Index(d.Window(11).Workspace) == 1 }, true},
		{"+", func(d *desk.Desk, n int) bool { return d.Sheet(0, 'A').Share == min(60+5*n, 90) }, false},
		{"+", func(d *desk.Desk, n int) bool { return d.Sheet(0, 'A').Share == min(60+5*n, 90) }, true},
		{".", func(d *desk.Desk, n int) bool { return d.Current() == min(n, 5) }, true},
	} {
		b := newBench(t, desk.Settings{})
		now := time.Now()
		b.model.held.now = func() time.Time { return now }
		n := 0
		press := func(after time.Duration, repeat bool) {
			now = now.Add(after)
			n++
			b.give(tea.KeyPressMsg(tea.Key{Text: c.key, Code: rune(c.key[0]), IsRepeat: repeat && c.reports}))
		}
		press(time.Second, false)
		press(first, true)
		for range 5 {
			press(later, true)
		}
		if c.key == "x" && b.message != "x is still held; nothing more was closed." {
			t.Errorf("x held says %q", b.message)
		}
		b.catchUp()
		if !c.holds(b.d, n) {
			t.Errorf("%s held down %d times, reported: %t: it does not hold; it says %q", c.key, n, c.reports, b.message)
		}
		// Quiet for a while, or after another key, it is a new one.
		if c.key == "x" {
			press(750*time.Millisecond, false)
			b.press("down")
			press(50*time.Millisecond, false)
			b.catchUp()
			if len(b.d.Windows) != 23 {
				t.Errorf("typed again, %d windows are left: %q", len(b.d.Windows), b.message)
			}
		}
	}
}

// A paste that the terminal does not mark comes as keys, faster than anybody types.
func TestUnmarkedPaste(t *testing.T) {
	const n = 100_000
	for _, opens := range []string{"/", ":", "a"} {
		b := newBench(t, desk.Settings{})
		b.press(opens)
		began := time.Now()
		var cmds []tea.Cmd
		for i := range n {
			r := rune('a' + i%26)
			_, cmd := b.Update(tea.KeyPressMsg(tea.Key{Text: string(r), Code: r}))
			b.View()
			if cmd != nil {
				cmds = append(cmds, cmd)
			}
		}
		for _, cmd := range cmds {
			b.run(cmd)
		}
		b.View()
		t.Logf("%d characters after %s took %v", n, opens, time.Since(began))
		if got := b.input.Value(); len(got) != b.input.CharLimit || !strings.HasPrefix(got, "abcdefghijklm") {
			t.Errorf("after %s it reads %d characters: %.40q", opens, len(got), got)
		}
		if d := time.Since(began); d > 10*time.Second {
			t.Errorf("%d characters after %s took %v", n, opens, d)
		}
	}
}

// After send the cursor stays on what took the place, and g Enter goes where it went.
func TestCursorStaysAfterSend(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.press("1")
	b.sel = cells.Selection{Window: 13} // the first of three columns
	b.press("s")
	b.press("3")
	if b.sel.Window != 16 || !b.touched[13] || b.d.Current() != 0 {
		t.Errorf("after s 3 the cursor is on %+v, touched are %v", b.sel, b.touched)
	}
	b.press("s")
	b.press("enter") // the same target
	if b.sel.Window != 17 || b.d.Index(b.d.Window(16).Workspace) != 2 {
		t.Errorf("after the second one the cursor is on %+v, and #16 on %s", b.sel, b.d.Ref(b.d.Window(16)))
	}
	b.press("s")
	b.press("enter")
	if b.sel.Window != 15 { // the only one that is left
		t.Errorf("after the last one the cursor is on %+v", b.sel)
	}
	b.press("g")
	b.press("enter")
	if b.d.Current() != 2 {
		t.Errorf("g Enter goes to %d", b.d.Current()+1)
	}
	b.press("u")
	if !b.touched[b.sel.Window] {
		t.Errorf("undo goes to %+v, and touched %v", b.sel, b.touched)
	}
}

// What is pencilled on a screen here, and on one that is attached, is what is then
// done.
func TestPreviewsAreDeeds(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(9, 9))
	pick := func(words ...string) string { return words[rng.IntN(len(words))] }
	line := func() string {
		n := pick("1", "2", "3", "6", "9", "B2", "B", "next", "new")
		return pick("undo", "undo 2", "redo", "send "+n, "carry "+n, "go "+n, "move "+pick("left", "right", "up", "down"), "layout "+pick("columns", "tabs", "tree", "next"),
			"float", "minimise", "maximise", "snap "+pick("left", "3x1 1 2", "middle"), "rescue of is:stray", "swap "+pick("left", "next"), "resize right 60", "even all",
			"add Foyer", "remove 2", "reorder 1 to 3", "vacate B", "gaps off", `open "Tin Radio"`, "jump r", "pin q window", "close", "turn", "group right", "stick", "bare", "go 77")
	}
	for round := range 40 {
		d := desks.Demo(t)
		set := desk.Settings{EdgeGoes: rng.IntN(2) == 0, Wrap: rng.IntN(2) == 0, Gap: rng.IntN(2) * 8, Growing: rng.IntN(3) == 0, Separate: rng.IntN(3) == 0,
			Pins: map[byte]desk.Query{'r': desk.ByApp{Text: "Tin Radio", Whole: true}}}
		d, _ = d.With(desk.Settle{Settings: set})
		k := keeper.New(d, sim.New(), keeper.Options{})
		ctx, cancel := context.WithCancel(t.Context())
		go k.Run(ctx)
		path := filepath.Join(t.TempDir(), "run", "k.sock")
		server, err := remote.Listen(path, k, slog.New(slog.DiscardHandler))
		if err != nil {
			t.Fatal(err)
		}
		go server.Serve()
		client, err := remote.Dial(path)
		if err != nil {
			t.Fatal(err)
		}
		here, there := attached(ctx, t, k), attached(ctx, t, client)
		for range 12 {
			words := line()
			c := desks.Command(t, words)
			var seen [2]string
			for i, b := range []*bench{here, there} {
				b.catchUp()
				b.home()
				b.sel = b.here() // on the window that the command is about
				b.push(&linePrompt{})
				b.input.SetValue(words)
				b.give(nil)
				if _, ok := b.pending(); !ok { // no window has the focus, and none is pencilled
					seen[i] = "nothing"
					continue
				}
				seen[i] = b.would.words + "\n" + said(b.would.err) + "\n" + pictured(b.preview())
				b.home()
			}
			if seen == [2]string{"nothing", "nothing"} {
				continue
			}
			o, err := k.Do(ctx, c, keeper.Screen)
			if err != nil {
				t.Fatal(err)
			}
			deed := o.Result.Words + "\n" + said(o.Err) + "\n"
			if v, _ := desk.FindVerb(c.Verb); v.Effect != desk.NoEffect { // which the simulated programs show at once
				seen[0], seen[1], deed = strings.Split(seen[0], "\n")[0], strings.Split(seen[1], "\n")[0], o.Result.Words
			} else if o.Err == nil {
				now := <-k.Watch(ctx)
				deed += pictured(now.Desk)
			}
			if !strings.HasPrefix(o.Result.Words, "Started ") && (seen[0] != seen[1] || seen[0] != deed) {
				t.Fatalf("round %d: %s is pencilled as\n%s\nattached as\n%s\nand done as\n%s", round, words, seen[0], seen[1], deed)
			}
		}
		cancel()
		server.Close()
	}
}

func said(err error) string {
	if err == nil {
		return ""
	}
	return err.Error()
}

// pictured is what a desk looks like: every window's place and state.
func pictured(d *desk.Desk) string {
	if d == nil {
		return ""
	}
	var b strings.Builder
	for _, w := range d.Windows {
		fmt.Fprintln(&b, w.ID, d.Ref(w), w.Rect, strings.Join(slices.DeleteFunc(d.States(w), func(s string) bool { return s == "focused" || s == "urgent" }), " "))
	}
	fmt.Fprint(&b, len(d.Workspaces), d.Current(), d.Bare)
	return b.String()
}

// attached is a bench on any keeper.
func attached(ctx context.Context, t *testing.T, k keeper.Access) *bench {
	t.Helper()
	b := &bench{t, newModel(ctx, k, Options{Name: "test", Theme: cells.Night, Simulated: true}), make(chan tea.Msg, 100), 0}
	b.Update(tea.WindowSizeMsg{Width: 160, Height: 40})
	b.run(b.Init())
	return b
}

// catchUp takes the news there are: it asks for the newest, and waits for it.
func (b *bench) catchUp() {
	b.t.Helper()
	ctx, cancel := context.WithCancel(b.ctx)
	defer cancel()
	newest := <-b.k.Watch(ctx)
	for b.serial < newest.Serial {
		b.take(<-b.msgs)
	}
	b.run(nil)
}

// A preview says what will be done, in the words of the result.
func TestWillDo(t *testing.T) {
	for words, want := range map[string]string{
		"Sent Tin Radio · Late set to 3.":                          "Sends Tin Radio · Late set to 3",
		"Undid: Sent 2 windows to 3.":                              "Undoes: Sent 2 windows to 3",
		"Laid Day: 4 windows moved.":                               "Lays Day: 4 windows move",
		"Removed workspace 3. 1 window went to 2.":                 "Removes workspace 3. 1 window goes to 2",
		"Monitor B was unplugged. 3 windows went to A.":            "Unplugs monitor B. 3 windows go to A",
		"Monitor B is plugged in. 3 windows came home.":            "Monitor B is plugged in. 3 windows come home",
		"Tin Radio floats.":                                        "Tin Radio floats",
		"Sentinel · Moved house floats.":                           "Sentinel · Moved house floats",
		"The order is now 1 Programme, 2 Late night, 3 Box office": "The order is now 1 Programme, 2 Late night, 3 Box office",
	} {
		if got := willDo(words); got != want {
			t.Errorf("%q will be %q, want %q", words, got, want)
		}
	}
}
