package tui

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
	"zatlas/internal/stray"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui/cells"
)

// No goroutine outlives the tests.
func TestMain(m *testing.M) { testkit.Main(m) }

// bench is a model on a keeper of its own, driven by hand. What it asks for runs
// beside it, as under Bubble Tea.
type bench struct {
	t *testing.T
	*model
	msgs chan tea.Msg
	out  int // commands under way; the wait for news is always one
}

func newBench(t *testing.T, set desk.Settings) *bench {
	t.Helper()
	d := desks.Demo(t)
	d, _ = d.With(desk.Settle{Settings: set})
	return benchOf(t.Context(), t, d)
}

// benchOf is a bench of a desk, whose keeper ends with the context.
func benchOf(ctx context.Context, t *testing.T, d *desk.Desk) *bench {
	t.Helper()
	host := sim.New()
	file, set := filepath.Join(t.TempDir(), "settings.toml"), d.Settings
	k := keeper.New(d, host, keeper.Options{File: settings.File(file), Reload: func() func() (desk.Settings, string, error) {
		s, err := settings.Load(file)
		return func() (desk.Settings, string, error) {
			set.Rules = s.ForDesk().Rules // the rest is the test's
			return set, "", err
		}
	}})
	go k.Run(ctx)
	// Room for all that can still come when nobody takes it any more.
	b := &bench{t, newModel(t.Context(), worded{k, t}, Options{Name: "test", Theme: cells.Night, Simulated: true, Settings: file}), make(chan tea.Msg, 100), 0}
	b.lookAgain = 0
	b.Update(tea.WindowSizeMsg{Width: 160, Height: 40})
	b.run(b.Init())
	return b
}

// worded is a keeper that takes only what can be said in words: as screens in
// another process say it.
type worded struct {
	*keeper.Keeper
	t *testing.T
}

func (k worded) Do(ctx context.Context, c desk.Command, source keeper.Source) (keeper.Outcome, error) {
	k.check(c)
	return k.Keeper.Do(ctx, c, source)
}

func (k worded) Try(ctx context.Context, c desk.Command) (keeper.Outcome, error) {
	k.check(c)
	return k.Keeper.Try(ctx, c)
}

func (k worded) check(c desk.Command) {
	words := lang.Print(c)
	if again, err := lang.ParseCommand(words); err != nil || lang.Print(again) != words {
		k.t.Errorf("a screen asks for %q, which reads as %q, %v", words, lang.Print(again), err)
	}
}

// run runs a command of the model, and what follows from it, until only the next
// news are waited for.
func (b *bench) run(cmd tea.Cmd) {
	b.t.Helper()
	b.start(cmd)
	for b.d == nil || b.out > 1 || b.busy {
		select {
		case msg := <-b.msgs:
			b.take(msg)
		case <-time.After(testkit.Deadline):
			b.t.Fatalf("%d commands never ended, busy: %t", b.out-1, b.busy)
		}
	}
}

func (b *bench) start(cmd tea.Cmd) {
	if cmd != nil {
		b.out++
		go func() { b.msgs <- cmd() }()
	}
}

func (b *bench) take(msg tea.Msg) {
	b.out--
	if batch, ok := msg.(tea.BatchMsg); ok {
		for _, cmd := range batch {
			b.start(cmd)
		}
		return
	}
	_, next := b.Update(msg)
	b.start(next)
}

func (b *bench) press(key string) {
	b.t.Helper()
	k := tea.Key{Text: key}
	if r := []rune(key); len(r) == 1 {
		k.Code = r[0]
	} else {
		k = map[string]tea.Key{
			"left": {Code: tea.KeyLeft}, "right": {Code: tea.KeyRight}, "up": {Code: tea.KeyUp}, "down": {Code: tea.KeyDown},
			"enter": {Code: tea.KeyEnter}, "esc": {Code: tea.KeyEscape}, "tab": {Code: tea.KeyTab}, "home": {Code: tea.KeyHome},
			"backspace": {Code: tea.KeyBackspace}, "delete": {Code: tea.KeyDelete},
		}[key]
	}
	_, cmd := b.Update(tea.KeyPressMsg(k))
	b.run(cmd)
}

// What was typed and refused is said until the next key, whatever happens meanwhile.
func TestRefusalStays(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.press(":")
	for _, key := range strings.Split("nonsense", "") {
		b.press(key)
	}
	b.press("enter")
	refused := b.message
	if !b.fault || refused == "" {
		t.Fatalf("nothing is refused: %q", refused)
	}
	if _, err := b.k.Do(t.Context(), desk.Command{Verb: "rename", Args: []desk.Arg{{Kind: desk.Name, Word: "Foyer"}}}, keeper.Line); err != nil {
		t.Fatal(err)
	}
	b.take(<-b.msgs) // the news
	b.answers()
	if b.message != refused || b.d.Workspaces[0].Name != "Foyer" {
		t.Errorf("after news it says %q, and said %q", b.message, refused)
	}
	b.pulse.asked, b.pulse.quiet = time.Now().Add(-3*time.Second), 3*time.Second
	b.sayQuiet()
	if b.press("x"); b.message == refused {
		t.Error("the refusal is said after the next key")
	}
	b.sayQuiet()
	b.sayQuiet()
	if b.answers(); b.message != "There is an answer again." {
		t.Errorf("it says %q", b.message)
	}
}

// point does something with the pointer, anywhere.
func (b *bench) point(rng *rand.Rand) string {
	b.t.Helper()
	e := tea.Mouse{X: rng.IntN(b.w + 2), Y: rng.IntN(b.h + 2), Button: tea.MouseLeft}
	var msg tea.Msg
	switch rng.IntN(6) {
	case 0, 1:
		msg = tea.MouseClickMsg(e)
	case 2, 3:
		msg = tea.MouseMotionMsg(e)
	case 4:
		msg = tea.MouseReleaseMsg(e)
	case 5:
		e.Button = []tea.MouseButton{tea.MouseWheelUp, tea.MouseWheelDown}[rng.IntN(2)]
		msg = tea.MouseWheelMsg(e)
	}
	_, cmd := b.Update(msg)
	b.run(cmd)
	return fmt.Sprintf("%T at %d,%d", msg, e.X, e.Y)
}

// whole is the view as text, held to be whole: as many rows as there are, none
// wider than the screen.
func (b *bench) whole(what string) string {
	b.t.Helper()
	v := b.View()
	rows := strings.Split(v.Content, "\n")
	if len(rows) != b.rowsAll {
		b.t.Fatalf("%s: %d rows on a screen of %d", what, len(rows), b.rowsAll)
	}
	for i, r := range rows {
		if w := ansi.StringWidthWc(r); w > b.w {
			b.t.Fatalf("%s: row %d is %d wide on a screen of %d: %q", what, i, w, b.w, ansi.Strip(r))
		}
	}
	if c := v.Cursor; c != nil && (c.X < 0 || c.Y < 0 || c.Y >= b.h) {
		b.t.Fatalf("%s: the cursor is at %d,%d", what, c.X, c.Y)
	}
	return ansi.Strip(v.Content)
}

// Whatever is typed, at whatever size, in both modes, the screen stays whole.
func TestRandomKeys(t *testing.T) {
	keys := append(strings.Split("abcdefghijklmoprstuvwxyzABCDEFGHIJKLMNOPRSTUVWXYZ123456789,.<>:?@=-+_/'*]};~!() ", ""),
		"left", "right", "up", "down", "left", "right", "up", "down", "enter", "esc", "tab", "home", "backspace", "enter", "esc")
	answers := append(strings.Split("ABC123456nbax", ""), "left", "right", "up", "down", "enter", "enter", "esc") // to a verb that asks for more
	for _, set := range []desk.Settings{{}, {Separate: true}, {Growing: true, Gap: 12, Wrap: true}} {
		t.Run(fmt.Sprintf("%+v", set), func(t *testing.T) {
			t.Parallel()
			rng := rand.New(rand.NewPCG(4, 2))
			b := newBench(t, set)
			steps := 1500
			if testing.Short() {
				steps = 250
			}
			for step := range steps {
				if step%20 == 0 {
					b.Update(tea.WindowSizeMsg{Width: 30 + rng.IntN(200), Height: 8 + rng.IntN(60)})
					b.Update(tea.ColorProfileMsg{Profile: []colorprofile.Profile{colorprofile.TrueColor, colorprofile.ASCII}[rng.IntN(2)]})
				}
				key := keys[rng.IntN(len(keys))]
				if b.top() != b.rooms[0] && rng.IntN(2) == 0 {
					key = answers[rng.IntN(len(answers))]
				}
				if rng.IntN(6) == 0 {
					key = b.point(rng)
				} else {
					b.press(key)
				}
				b.whole(fmt.Sprintf("step %d, after %s", step, key))
				if c, ok := b.pending(); ok {
					worded{t: t}.check(c)
				}
				if !b.asking() && b.d.Window(b.sel.Window) == nil && b.d.Index(b.sel.Workspace) < 0 {
					t.Fatalf("step %d, after %s: the selection %+v is nowhere", step, key, b.sel)
				}
			}
		})
	}
}

// A window is dragged to another sheet, or left where it is: by Escape, by letting
// go over its own sheet or over what is no sheet.
func TestDrag(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.whole("at the start")
	middle := func(at cells.Selection) tea.Mouse {
		i := slices.IndexFunc(b.stops, func(s cells.Stop) bool { return s.At == at })
		if i < 0 {
			t.Fatalf("%+v is not on the screen", at)
		}
		p := b.stops[i].Rect.Center()
		return tea.Mouse{X: p.X, Y: p.Y, Button: tea.MouseLeft}
	}
	drag := func(to tea.Mouse, then ...string) string {
		t.Helper()
		b.Update(tea.MouseClickMsg(middle(cells.Selection{Window: 11})))
		b.give(tea.MouseMotionMsg(to))
		for _, key := range then {
			b.press(key)
		}
		words := b.whole("dragging")
		_, cmd := b.Update(tea.MouseReleaseMsg(to))
		b.run(cmd)
		b.whole("let go")
		return words
	}
	ws := b.d.Workspaces
	before := b.d
	for _, test := range []struct {
		name string
		to   tea.Mouse
		then []string
	}{
		{"its own sheet", middle(cells.Selection{Window: 12}), nil}, {"no sheet", tea.Mouse{X: 1, Y: 0}, nil},
		{"an unplugged monitor", middle(cells.Selection{Window: 15}), nil}, {"Escape", middle(cells.Selection{Workspace: ws[2].ID}), []string{"esc"}},
	} {
		drag(test.to, test.then...)
		if b.d != before || b.asking() {
			t.Errorf("%s: the desk changed, or %T stayed", test.name, b.top())
		}
	}
	if words := drag(middle(cells.Selection{Workspace: ws[5].ID, Letter: 'A'})); !strings.Contains(words, "Sends Reel Ledger · Running order to A6 · Release does it") {
		t.Errorf("over A6 the screen says\n%s", words)
	}
	if got := b.d.Ref(b.d.Window(11)); got != "A6" {
		t.Errorf("dragged to A6, it is on %s", got)
	}
	drag(middle(cells.Selection{Workspace: ws[2].ID}))
	if got := b.d.Ref(b.d.Window(11)); got != "A3" {
		t.Errorf("dragged to the number of 3, it is on %s", got)
	}
	b.press("u")
	if got := b.d.Ref(b.d.Window(11)); got != "A6" {
		t.Errorf("after undo it is on %s", got)
	}
	b.press("1")
	b.whole("on 1")
	lost, sheet := middle(cells.Selection{Window: 15}), middle(cells.Selection{Workspace: ws[0].ID, Letter: 'B'})
	b.Update(tea.MouseClickMsg(lost))
	b.give(tea.MouseMotionMsg(sheet))
	_, cmd := b.Update(tea.MouseReleaseMsg(sheet))
	if b.run(cmd); b.d.Lost(b.d.Window(15)).Cause != stray.None {
		t.Errorf("the lost window that was dragged to B1 is at %v", b.d.Window(15).Rect)
	}
}

// What is drawn can be clicked, on every screen.
func TestClicks(t *testing.T) {
	b := newBench(t, desk.Settings{})
	for _, test := range []struct {
		keys   []string
		window int
	}{
		{nil, 13}, {[]string{"/", "enter"}, 32}, {[]string{"esc", "esc", "!"}, 25}, {[]string{"esc", "1", "z"}, 12}, {[]string{"t", "b"}, 11},
	} {
		for _, key := range test.keys {
			b.press(key)
		}
		b.whole("before the click")
		i := len(b.stops) - 1
		for ; i >= 0 && b.stops[i].At.Window != test.window; i-- {
		}
		if i < 0 {
			t.Fatalf("after %v #%d is not on the screen", test.keys, test.window)
		}
		b.Update(tea.MouseClickMsg{X: b.stops[i].Rect.X, Y: b.stops[i].Rect.Y, Button: tea.MouseLeft})
		b.Update(tea.MouseReleaseMsg{X: b.stops[i].Rect.X, Y: b.stops[i].Rect.Y, Button: tea.MouseLeft})
		if b.sel.Window != test.window {
			t.Errorf("after %v a click on #%d chooses %+v", test.keys, test.window, b.sel)
		}
	}
}

// Every window can be reached by arrows alone, from where you start.
func TestArrowsReachEverything(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.Update(tea.WindowSizeMsg{Width: 160, Height: 40})
	reached := map[cells.Selection]bool{}
	var walk func(sel cells.Selection)
	walk = func(sel cells.Selection) {
		if reached[sel] {
			return
		}
		reached[sel] = true
		for dir := range desk.Dir(4) {
			b.sel = sel
			b.move(dir)
			walk(b.sel)
		}
	}
	walk(b.sel)
	for _, w := range b.d.Windows {
		if !reached[cells.Selection{Window: w.ID}] {
			t.Errorf("no arrows lead to #%d %s on %s", w.ID, w.App, b.d.Ref(w))
		}
	}
	for _, ws := range b.d.Workspaces {
		if !reached[cells.Selection{Workspace: ws.ID}] {
			t.Errorf("no arrows lead to the number of %s", ws.Name)
		}
	}
}

// Nothing of a title is obeyed by the terminal, whatever comes over the wire.
func TestHostileTitles(t *testing.T) {
	b := newBench(t, desk.Settings{})
	hostile := "\x1b]52;c;aGk=\x07\x1b[2J漢字\u202e\x9b31mx"
	// Hosts clean what they hand on; the canvas lets nothing through all the same.
	for _, title := range []string{desk.CleanText(hostile, desk.MaxTitle), hostile} {
		next, _ := b.d.With(desk.Changed{ID: 11, Change: func(w *desk.Window) { w.Title = title }})
		b.Update(updateMsg{Update: keeper.Update{Serial: b.serial + 1, Desk: next}, ok: true})
		b.Update(tea.WindowSizeMsg{Width: 160, Height: 40})
		content := b.View().Content
		if strings.Contains(content, "\x1b]52") || strings.Contains(content, "\x1b[2J") || strings.ContainsAny(content, "\u202e\x07") || strings.ContainsRune(content, 0x9b) {
			t.Errorf("a part of the title %q reaches the terminal as it was", title)
		}
		if !strings.Contains(b.whole("hostile title"), "漢") {
			t.Errorf("the letters of the title %q are gone too", title)
		}
	}
}

func TestGoneKeeper(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	d := desks.Demo(t)
	b := benchOf(ctx, t, d)
	cancel()
	for !b.gone {
		b.take(<-b.msgs)
	}
	if !strings.Contains(b.whole("after the end"), "The keeper is gone. Its windows stay.") {
		t.Error("the end of the keeper is not told")
	}
	b.press("3")
	b.whole("a command without a keeper")
}

// give follows a message and what comes of it.
func (b *bench) give(msg tea.Msg) {
	b.t.Helper()
	_, cmd := b.Update(msg)
	b.run(cmd)
}

// Arrows reach every window of which any cell shows on the map, from wherever they begin.
func TestArrowsReachAll(t *testing.T) {
	d := desks.Demo(t)
	rng := rand.New(rand.NewPCG(testkit.Seed(t, 1), 5))
	for turn := range 60 {
		for _, size := range [][2]int{{160, 40}, {80, 24}} {
			b := benchOf(t.Context(), t, d)
			b.give(tea.WindowSizeMsg{Width: size[0], Height: size[1]})
			unreached := b.unreached()
			if len(unreached) > 0 {
				t.Errorf("turn %d, %v: arrows do not reach %v", turn, size, unreached)
			}
		}
		line := fmt.Sprintf("%s of #%d", []string{"float", "snap left", "snap topright", "layout pile", "layout tabs", "layout free", "send 2", "cascade", "nudge right 300"}[rng.IntN(9)], d.Windows[rng.IntN(len(d.Windows))].ID)
		c := desks.Command(t, line)
		if next, _, err := d.Apply(c); err == nil {
			d = next
		}
	}
}

// unreached lists the windows that show on the map, and that arrows do not lead to from
// where the choice is.
func (b *bench) unreached() (ids []int) {
	reached := map[cells.Selection]bool{b.sel: true}
	for next := []cells.Selection{b.sel}; len(next) > 0; {
		from := next[0]
		next = next[1:]
		for dir := range desk.Dir(4) {
			b.sel = from
			b.move(dir)
			if !reached[b.sel] {
				reached[b.sel] = true
				next = append(next, b.sel)
			}
		}
	}
	b.sel = b.here()
	ch := b.chart()
	for _, band := range ch.Bands {
		l := ch.Layers[band.Index]
		for i, n := range l.Visible {
			if id := l.Windows[i].W.ID; n > 0 && !reached[cells.Selection{Window: id}] {
				ids = append(ids, id)
			}
		}
	}
	slices.Sort(ids)
	return ids
}

// In a window that the keeper brought up Escape steps back, and with nothing to step back
// from has the window be put away: its title says so until it is brought up again.
func TestEscapePutsAway(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.opt.BroughtUp = true
	for _, key := range []string{"z", "s"} {
		b.press(key)
	}
	for _, want := range []bool{false, false, true} { // from the question, from the sheet, from the map
		b.press("esc")
		if got := strings.Contains(b.title(), keeper.Away); got != want {
			t.Errorf("the title is %q, want away: %t", b.title(), want)
		}
	}
	if screen := b.whole("the map"); !strings.Contains(screen, "Escape away") {
		t.Errorf("the legend does not say so:\n%s", screen)
	}
	b.calls, b.wanted = b.calls+1, "atlas"
	b.run(b.typeAhead())
	if strings.Contains(b.title(), keeper.Away) {
		t.Errorf("brought up again the title is %q", b.title())
	}
}

// What is pencilled is what Enter does: nothing, where a verb has no window to act on.
func TestPencilIsDone(t *testing.T) {
	b := newBench(t, desk.Settings{})
	for _, c := range []struct {
		line    string
		pencils bool
	}{{"swap right", false}, {"layout rows", true}, {"send 3", true}, {"add Foyer", true}} {
		b.sel = cells.Selection{Workspace: b.d.Workspaces[b.d.Current()].ID}
		b.press(":")
		b.startText(c.line)
		if _, ok := b.pending(); ok != c.pencils {
			t.Errorf("%s with a number chosen is pencilled: %v", c.line, ok)
		}
		before := b.d.Step()
		b.press("enter")
		if done := b.d.Step() != before; done != c.pencils {
			t.Errorf("%s with a number chosen is done: %v, %s", c.line, done, b.message)
		}
		b.home()
	}
}

// A change of the settings by these screens is a step: u takes it back before what was done
// before it, and U does it again; a file that was changed since is left alone.
func TestSettingsAreSteps(t *testing.T) {
	b := newBench(t, desk.Settings{})
	text := func() string {
		data, _ := os.ReadFile(b.opt.Settings)
		return string(data)
	}
	b.press("a")
	b.press("enter") // a workspace
	n := len(b.d.Workspaces)
	b.press(";")
	b.press("e")
	b.press("right")
	changed := text()
	if changed == "" {
		t.Fatal("nothing was written")
	}
	b.press("u")
	if now := text(); now == changed || len(b.d.Workspaces) != n {
		t.Errorf("taken back, the file is %q, with %d workspaces", now, len(b.d.Workspaces))
	}
	b.press("U")
	if now := text(); now != changed {
		t.Errorf("done again, the file is %q, and was %q", now, changed)
	}
	if err := os.WriteFile(b.opt.Settings, []byte(changed+"# mine\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	b.press("u")
	if now := text(); now != changed+"# mine\n" || !strings.Contains(b.message, "left as it is") {
		t.Errorf("changed since, it is %q, and is said %q", now, b.message)
	}
	b.press("u")
	if len(b.d.Workspaces) != n-1 {
		t.Errorf("there are %d workspaces, and the step before is to be taken back", len(b.d.Workspaces))
	}
}

// Before something is done to the window of these screens it is asked, once, and the window
// is marked; it is not the first that is chosen.
func TestOwnWindow(t *testing.T) {
	b := newBench(t, desk.Settings{})
	d, _ := b.d.With(desk.Changed{ID: b.d.Focus, Change: func(w *desk.Window) { w.PID = 77 }})
	b.d, b.opt.Above = d, []int{5, 77}
	own := d.Focus
	if got := b.otherThanOwn(b.here()); got.Window == own || got.Window == 0 {
		t.Errorf("the first choice is %+v, and the screens run in #%d", got, own)
	}
	if screen := b.whole("the map"); !strings.Contains(screen, "(these screens)") {
		t.Errorf("the window of the screens is not marked:\n%s", screen)
	}
	b.sel = cells.Selection{Window: own}
	b.press("m")
	if _, asks := b.top().(*askPrompt); !asks || b.d.Window(own).Maximised {
		t.Fatalf("m on the window of the screens is done at once: %s", b.message)
	}
	b.press("esc")
	b.press("m")
	if !b.d.Window(own).Maximised {
		t.Errorf("asked once, it is still not done: %s", b.message)
	}
}

// A recorder hears the answer to its last question alone, and a chord that another program
// holds is not called free.
func TestRecorderHearsItsAnswer(t *testing.T) {
	b := newBench(t, desk.Settings{})
	r := &recorder{ends: func() {}}
	b.push(r)
	b.opt.Simulated = false
	for _, keys := range []string{"Ctrl+Alt+F9", "Ctrl+Alt+F8"} { // answered when the second is asked about
		r.take(b.model, keys)
	}
	b.gotKey(heardMsg{r, b.questions - 1, keeper.Key{Chord: "Ctrl+Alt+F9", State: keeper.KeyTaken}, nil})
	if r.state != "It is free." {
		t.Errorf("the answer about the first is taken for the second: %s", r.state)
	}
	b.gotKey(heardMsg{r, b.questions, keeper.Key{Chord: "Ctrl+Alt+F8", State: keeper.KeyTaken}, nil})
	if strings.Contains(r.state, "free") || !strings.Contains(r.state, "Another program holds it") {
		t.Errorf("of a chord that is taken it says %q", r.state)
	}
}

// No two texts lie over each other at the foot of the recent windows and the gazetteer, the
// frame of the chosen window leaves the tabs to be read, and the first steps lie over nothing.
func TestNothingOverlaps(t *testing.T) {
	for _, size := range [][2]int{{80, 24}, {100, 24}, {120, 24}, {120, 36}} {
		for _, keys := range []string{"'", "/ down"} {
			b := newBench(t, desk.Settings{})
			b.Update(tea.WindowSizeMsg{Width: size[0], Height: size[1]})
			for _, key := range strings.Fields(keys) {
				b.press(key)
			}
			lines := strings.Split(strings.TrimRight(b.whole(keys), "\n"), "\n")
			foot := strings.Join(lines[max(0, len(lines)-3):], "\n")
			if !strings.Contains(foot, " Enter ") || !strings.Contains(foot, ":  ") {
				t.Errorf("%v after %s: the foot is\n%s", size, keys, foot)
			}
		}
	}
	b := newBench(t, desk.Settings{})
	for _, key := range []string{"esc", "t", "b"} {
		b.press(key)
	}
	if screen := b.whole("tabs"); !strings.Contains(screen, "■ ● Reel L") || !strings.Contains(screen, "  Screening…") {
		t.Errorf("the row of tabs is not to be read:\n%s", screen)
	}
}

// A workspace's letter is a target on the screens as on the display.
func TestWorkspaceLetterIsATarget(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.runLine(t, "go 3")
	b.runLine(t, "pin q workspace")
	b.runLine(t, "go 1")
	b.sel = b.here()
	id := b.sel.Window
	b.press("s")
	b.press("q")
	if w := b.d.Window(id); b.d.Ref(w) != "A3" {
		t.Errorf("sent to the letter of workspace 3 it is on %s: %s", b.d.Ref(w), b.message)
	}
}

// runLine types a command.
func (b *bench) runLine(t *testing.T, line string) {
	t.Helper()
	b.press(":")
	b.startText(line)
	b.press("enter")
}

// The parts of a bar are seen as long as there are cells for all of them.
func TestShares(t *testing.T) {
	for _, c := range []struct {
		parts []float64
		most  float64
		n     int
		want  []int
	}{
		{[]float64{1, 1}, 2, 10, []int{5, 5}}, {[]float64{100, 1, 0, 1}, 102, 10, []int{8, 1, 0, 1}}, {[]float64{1, 1, 1}, 30, 10, []int{1, 1, 1}},
		{[]float64{3, 3, 3}, 9, 10, []int{4, 3, 3}}, {[]float64{1, 2, 3, 4}, 10, 3, nil}, {[]float64{0, 0}, 5, 10, []int{0, 0}},
	} {
		got := shares(c.parts, c.most, c.n)
		sum := 0
		for _, n := range got {
			sum += n
		}
		if c.want != nil && !slices.Equal(got, c.want) || sum > c.n {
			t.Errorf("%v of %v in %d cells are %v, want %v", c.parts, c.most, c.n, got, c.want)
		}
	}
}

// The second of two clicks goes to what is under them, as Enter does; a later one only chooses.
func TestDoubleClick(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.whole("at first")
	now := time.Now()
	b.held.now = func() time.Time { return now }
	click := func() {
		i := slices.IndexFunc(b.stops, func(s cells.Stop) bool { return s.At == cells.Selection{Window: 21} })
		_, cmd := b.Update(tea.MouseClickMsg{X: b.stops[i].Rect.X + 1, Y: b.stops[i].Rect.Y, Button: tea.MouseLeft})
		b.run(cmd)
		b.Update(tea.MouseReleaseMsg{Button: tea.MouseLeft})
		b.whole("a click")
	}
	click()
	now = now.Add(2 * doubleTime)
	click()
	if b.d.Focus == 21 || b.sel.Window != 21 {
		t.Errorf("after two slow clicks the focus is on %d, and %d is chosen", b.d.Focus, b.sel.Window)
	}
	now = now.Add(doubleTime / 2)
	click()
	b.catchUp()
	if b.d.Focus != 21 {
		t.Errorf("after a double click the focus is on %d", b.d.Focus)
	}
}
