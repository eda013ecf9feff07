package desk_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// run applies commands, of which none may fail.
func run(t *testing.T, d *desk.Desk, lines ...string) *desk.Desk {
	t.Helper()
	for _, line := range lines {
		c := desks.Command(t, line)
		next, _, err := d.Apply(c)
		if err == nil {
			err = next.Check()
		}
		if err != nil {
			t.Fatalf("%s: %v", line, err)
		}
		d = next
	}
	return d
}

// words applies a command and gives what it says, or why it fails.
func words(t *testing.T, d *desk.Desk, line string) string {
	t.Helper()
	c := desks.Command(t, line)
	_, r, err := d.Apply(c)
	if err != nil {
		return err.Error()
	}
	return r.Words
}

func lies(d *desk.Desk, id int) string {
	w := d.Window(id)
	return fmt.Sprintf("%s %v", d.Ref(w), w.Rect)
}

// TestPlateWords is what the verb says, and why it fails.
func TestPlateWords(t *testing.T) {
	d := run(t, desks.Demo(t), "rescue of is:stray", "plate save Day", "plate letter Day d", "plate save Pair sheet", "plate save Room workspace")
	for _, c := range []struct{ line, want string }{
		{"plate save Call", "Saved the desk as the plate Call, with 26 places."},
		{"plate save Two sheet", "Saved sheet A1 as the plate Two, with 3 places."},
		{"plate save Pair", "Saved sheet A1 as the plate Pair, with 3 places. Nothing changed by it."}, // the size it has
		{"plate save Two workspace", "Saved workspace 1 Programme as the plate Two, with 7 places."},
		{"plate save day", "there is a plate Day, and no two are alike but for case"},
		{"plate lay Night", "there is no plate Night: there is Day, Pair, Room"},
		{"plate lay Day", "Laid Day: everything is in place already."},
		{"plate lay day", "Laid Day: everything is in place already."},
		{"plate lay d", "Laid Day: everything is in place already."},
		{"plate lay Day on 2", "a desk's plate is laid on the whole desk: leave out on"},
		{"plate lay Room on B2", "a workspace's plate is laid on a workspace: name one by its number"},
		{"plate lay Pair on 9", "there is no workspace 9: there are 6; add makes one"},
		{"plate lay Pair on C", "monitor C is unplugged"},
		{"plate rename Day Pair", "there is a plate Pair already"},
		{"plate rename Day Days", "The plate Day is called Days now."},
		{"plate rename Day DAY", "The plate Day is called DAY now."},
		{"plate letter Pair d", "d lays the plate Pair."},
		{"plate letter Day none", "No letter lays the plate Day."},
		{"plate remove d", "Removed the plate Day."},
	} {
		if got := words(t, d, c.line); got != c.want {
			t.Errorf("%s says %q, want %q", c.line, got, c.want)
		}
	}
	if d := run(t, d, "plate letter Pair d"); d.Plates["Day"].Letter != 0 || d.Plates["Pair"].Letter != 'd' {
		t.Error("two plates have one letter")
	}
	if d := run(t, d, "plate save Day sheet"); d.Plates["Day"].Letter != 'd' {
		t.Error("a plate that was saved over has lost its letter")
	}
	if _, err := lang.ParseCommand(`plate save "a/b"`); err == nil {
		t.Error("a name is taken that is no name of a file")
	}
}

// TestLay is what laying does, by hand.
func TestLay(t *testing.T) {
	shaken := []string{"send 4 of #11", "float of #14", "layout rows of #12", "reorder 3 to 1", `rename "Late night" Nights`, "minimise of #17", "send Press of #12"}
	day := run(t, desks.Demo(t), "rescue of is:stray", "plate save Day", "plate save Room workspace", "plate save Pair sheet", "plate save Wide sheet gather")
	d := run(t, day, shaken...)
	laid := run(t, d, "plate lay Day")
	for _, w := range day.Windows {
		if got, want := lies(laid, w.ID)[1:], lies(day, w.ID)[1:]; got != want || laid.Window(w.ID).Minimised != w.Minimised {
			t.Errorf("#%d lies %s, and lay %s", w.ID, got, want)
		}
	}
	// The workspace of another name follows those of the plate, and none is removed.
	var names []string
	for _, ws := range laid.Workspaces {
		names = append(names, ws.Name)
	}
	if want := []string{"Programme", "Subtitles", "Box office", "Guests", "Press", "Late night", "Nights"}; !slices.Equal(names, want) {
		t.Errorf("the order is %q, want %q", names, want)
	}
	if got := run(t, laid, "undo"); scenesDiffer(t, got, d) {
		t.Error("undone, the desk is another than before")
	}
	if got := run(t, laid, "plate lay back"); lies(got, 11) != lies(d, 11) || lies(got, 14) != lies(d, 14) || !got.Window(17).Minimised {
		t.Error("what it replaced does not come back")
	}
	if got := words(t, laid, "plate lay Day"); !strings.Contains(got, "everything is in place already") {
		t.Errorf("laid again it says %q", got)
	}

	// A sheet's plate takes no window from another workspace, unless it gathers; a
	// workspace's does.
	if got := run(t, d, "go Programme", "plate lay Pair"); lies(got, 11) != lies(d, 11) {
		t.Errorf("the plate of a sheet took #11 from %s to %s", lies(d, 11), lies(got, 11))
	}
	for _, name := range []string{"Wide", "Room"} {
		if got := run(t, d, "go Programme", "plate lay "+name); lies(got, 11)[2:] != lies(day, 11)[2:] || lies(got, 12)[2:] != lies(day, 12)[2:] {
			t.Errorf("with the plate %s #11 lies %s and #12 %s", name, lies(got, 11), lies(got, 12))
		}
	}
	if got := run(t, d, "plate lay Wide on Press"); got.Title(got.Index(got.Window(11).Workspace)) != d.Title(d.Index(d.Window(51).Workspace)) {
		t.Errorf("laid on Press, #11 is on %s", got.Ref(got.Window(11)))
	}
}

func scenesDiffer(t *testing.T, a, b *desk.Desk) bool {
	t.Helper()
	return arrangement(t, a) != arrangement(t, b)
}

// window is one of an app that opens.
func window(id int, app, title string) desk.Opened {
	return desk.Opened{Window: desk.Window{ID: id, App: app, Title: title, Rect: geom.R(100, 100, 500, 400)}, Focus: true}
}

// TestGive is which window gets which place.
func TestGive(t *testing.T) {
	empty := func() *desk.Desk {
		d, err := desk.New([]desk.Monitor{{Key: "one", Letter: 'A', Rect: geom.R(0, 0, 1200, 800), Work: geom.R(0, 0, 1200, 800), Connected: true, Primary: true}}, desk.Settings{}, "", "")
		if err != nil {
			t.Fatal(err)
		}
		return d
	}
	open := func(d *desk.Desk, ws ...desk.Opened) *desk.Desk {
		for _, o := range ws {
			d, _ = d.With(o)
		}
		return d
	}
	pair := run(t, open(empty(), window(1, "Reel Ledger", "Reel 3"), window(2, "Reel Ledger", "Reel 4"), window(3, "Tin Radio", "Late set")), "layout columns", "plate save Three desk")
	role := desk.Opened{Window: desk.Window{ID: 14, App: "Reel Ledger", Title: "New", Role: "main"}}
	for _, c := range []struct {
		name  string
		opens []desk.Opened
		lines []string
		want  []int // from left to right
	}{
		{"by title", []desk.Opened{window(11, "Tin Radio", "x"), window(12, "Reel Ledger", "Reel 4"), window(13, "Reel Ledger", "Reel 3")}, nil, []int{13, 12, 11}},
		{"by words", []desk.Opened{window(11, "Tin Radio", "x"), window(12, "Reel Ledger", "now Reel 4"), window(13, "Reel Ledger", "x y z")}, nil, []int{13, 12, 11}},
		{"by the smallest movement", []desk.Opened{window(11, "Reel Ledger", "x"), window(12, "Tin Radio", "x"), window(13, "Reel Ledger", "y")}, nil, []int{11, 13, 12}},
		{"of the sheet before others", []desk.Opened{window(11, "Reel Ledger", "x"), window(12, "Reel Ledger", "y"), window(13, "Reel Ledger", "z"), window(14, "Tin Radio", "x")}, []string{"layout columns", "send 2 of #11"}, []int{12, 13, 14}},
		{"the latest before others", []desk.Opened{window(11, "Reel Ledger", "x"), window(12, "Reel Ledger", "y"), window(13, "Reel Ledger", "z"), window(14, "Tin Radio", "x")}, nil, []int{12, 13, 14, 11}},
		{"by class", []desk.Opened{{Window: desk.Window{ID: 11, App: "The ledger of reels", Class: "reel ledger", Title: "Reel 4"}}, window(12, "Tin Radio", "x")}, nil, []int{11, 12}},
		{"none of another app", []desk.Opened{window(11, "Poster Board", "Reel 3"), window(12, "Tin Radio", "Reel 4")}, nil, []int{12, 11}},
		{"the role does not matter where none is asked for", []desk.Opened{role, window(15, "Reel Ledger", "Reel 3")}, nil, []int{15, 14}},
	} {
		d := run(t, open(empty(), c.opens...).WithPlates(pair.Plates), append(c.lines, "plate lay Three")...)
		var got []int
		for _, w := range d.Order(0, 'A') {
			got = append(got, w.ID)
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%s: the tiles are %v, want %v", c.name, got, c.want)
		}
	}
	// A pattern is a person's: * stands for anything.
	p := *pair.Plates["Three"]
	d, _ := p.As.With(desk.Changed{ID: 1, Change: func(w *desk.Window) { w.Title = "*cut*" }}, desk.Changed{ID: 2, Change: func(w *desk.Window) { w.Title = "trailer *" }})
	p.As = d
	got := run(t, open(empty(), window(11, "Reel Ledger", "Trailer 2"), window(12, "Reel Ledger", "A cut of it")).WithPlates(map[string]*desk.Plate{"Three": &p}), "plate lay Three")
	if order := got.Order(0, 'A'); order[0].ID != 12 || order[1].ID != 11 {
		t.Errorf("by patterns #%d is the first", order[0].ID)
	}
}

// TestOtherMonitors is where places go whose monitors are others.
func TestOtherMonitors(t *testing.T) {
	day := run(t, desks.Demo(t), "rescue of is:stray", "plate save Day")
	d := run(t, day, "pull B", "send 6 of #11", "plate lay Day")
	for _, w := range d.Windows {
		if f := d.Lost(w); f.Cause != stray.None {
			t.Errorf("#%d is lost: %v", w.ID, f.Cause)
		}
		if was := day.Window(w.ID); d.Ref(w)[1:] != day.Ref(was)[1:] || d.Ref(w)[0] != 'A' {
			t.Errorf("#%d of %s lies on %s", w.ID, day.Ref(was), d.Ref(w))
		}
	}
	// The tiles of B follow those of A.
	var order []int
	for _, w := range d.Order(0, 'A') {
		if d.Tiled(w) {
			order = append(order, w.ID)
		}
	}
	if want := []int{11, 12, 13, 16, 17}; !slices.Equal(order, want) {
		t.Errorf("A1 has %v, want %v", order, want)
	}
	// Of another size: the same share of the room.
	ms := []desk.Monitor{{Key: "left", Rect: geom.R(0, 0, 1000, 800)}, {Key: "main", Rect: geom.R(1000, 0, 2000, 1000), Primary: true}}
	other, _ := day.With(desk.MonitorsAre{Monitors: ms})
	other = run(t, other, "plate lay Day")
	main, left := other.Window(11), other.Window(13)
	if m := other.Monitor(main.Monitor); m.Key != "main" || main.Rect != geom.R(1000, 0, 1200, 1000) {
		t.Errorf("the lead of the primary monitor lies on %s at %v", m.Key, main.Rect)
	}
	if m := other.Monitor(left.Monitor); m.Key != "left" || left.Rect.H != 800 {
		t.Errorf("a tile of the other monitor lies on %s at %v", m.Key, left.Rect)
	}
}

// TestMode holds that a desk's plate has its mode and its count, as one step.
func TestMode(t *testing.T) {
	growing, _ := desks.Demo(t).With(desk.Settle{Settings: desk.Settings{Growing: true, Separate: true}})
	plates := run(t, growing, "plate save Apart").Plates
	d := desks.Demo(t).WithPlates(plates)
	next := run(t, d, "plate lay Apart")
	if !next.Settings.Separate || !next.Settings.Growing || next.HomeOf(0) != growing.HomeOf(0) {
		t.Errorf("laid, the settings are %+v", next.Settings)
	}
	if back := run(t, next, "undo"); back.Settings.Separate || back.Settings.Growing || scenesDiffer(t, back, d) {
		t.Errorf("undone, the settings are %+v", back.Settings)
	}
}

// TestStarting holds that what is missing is started, and its first window gets its place
// within two minutes.
func TestStarting(t *testing.T) {
	day := run(t, desks.Demo(t).AtTime(1000), "rescue of is:stray", "plate save Day")
	d, _ := day.With(desk.Closed{ID: 11}, desk.Closed{ID: 14}, desk.Closed{ID: 16})
	c := desks.Command(t, "plate lay Day starting")
	next, r, err := d.AtTime(1000).Apply(c)
	if err != nil || len(r.Starts) != 3 || !strings.Contains(r.Words, "Starting Reel Ledger, Tin Radio, Projection Log.") {
		t.Fatalf("%v, starts %+v, says %q", err, r.Starts, r.Words)
	}
	for i, s := range r.Starts {
		next, _ = next.With(desk.Expect{Start: s, PID: 900 + i})
	}
	for _, late := range []bool{false, true} {
		d := next.AtTime(1120)
		if late {
			d = next.AtTime(1121)
		}
		for _, i := range []int{2, 0, 1} { // in another order than they were started
			o := window(901+i, r.Starts[i].App, "New")
			o.Window.PID = 900 + i
			d, _ = d.With(o)
		}
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
		for i, was := range []int{11, 14, 16} {
			got, want := lies(d, 901+i), lies(day, was)
			if (got == want) == late {
				t.Errorf("late %v: the window for the place of #%d lies %s, that was %s", late, was, got, want)
			}
		}
	}
}

// TestShaken saves random desks, shakes them and lays them again: every window that had a
// place and is there lies as it lay, nothing is lost, and a second time nothing changes.
func TestShaken(t *testing.T) {
	t.Parallel()
	seed := testkit.Seed(t, 1)
	runs := 120
	if testing.Short() {
		runs = 40
	}
	for n := range runs {
		w := &walker{Rand: rand.New(rand.NewPCG(seed, uint64(n))), d: desks.Demo(t), next: 100}
		w.shake(t, 40)
		w.d = run(t, w.d, "rescue of is:stray")
		saved := run(t, w.d, "plate save Then")
		w.d = saved
		w.shake(t, 30)
		now, _ := w.d.With(desk.MonitorsAre{Monitors: saved.Plugged()})
		now = now.WithPlates(saved.Plates)
		laid := run(t, now, "plate lay Then")
		said := fmt.Sprintf("seed %d walk %d", seed, n)
		if len(laid.Windows) != len(now.Windows) {
			t.Fatalf("%s: %d windows, and %d before", said, len(laid.Windows), len(now.Windows))
		}
		for _, was := range saved.Windows {
			if o := laid.Window(was.ID); o != nil && was.Parent == 0 {
				liesAsItLay(t, saved, laid, was, o, said)
			}
		}
		if again := run(t, laid, "plate lay Then"); scenesDiffer(t, again, laid) {
			t.Fatalf("%s: the second time something changes:\n%s\nand then\n%s", said, arrangement(t, laid), arrangement(t, again))
		}
		if laid.Step() != now.Step() && !now.Bare {
			if back := run(t, laid, "undo"); scenesDiffer(t, back, now) {
				t.Fatalf("%s: undone it is\n%s\nand not\n%s", said, arrangement(t, back), arrangement(t, now))
			}
		}
	}
}

// shake takes random steps, by which every window keeps its app and its title.
func (w *walker) shake(t *testing.T, steps int) {
	t.Helper()
	for range steps {
		switch w.IntN(12) {
		case 0:
			w.next++
			w.d, _ = w.d.With(window(w.next, "Coat Check", fmt.Sprint("Hook ", w.next)))
		case 1:
			w.d, _ = w.d.With(desk.Closed{ID: w.window()})
		case 2:
			if f, ok := w.fact().(desk.MonitorsAre); ok {
				w.d, _ = w.d.With(f)
			}
		default:
			if line := w.command(); !strings.HasPrefix(line, "plate") {
				w.apply(t, line, map[string]int{})
			}
		}
	}
}

// liesAsItLay holds that a window is where it was, to the pixel where nothing else has
// changed on its sheet.
func liesAsItLay(t *testing.T, saved, laid *desk.Desk, was, is *desk.Window, said string) {
	t.Helper()
	i, at := saved.Index(was.Workspace), laid.Index(is.Workspace)
	type states struct {
		letter                                           byte
		minimised, maximised, full, sticky, above, tiled bool
	}
	of := func(d *desk.Desk, w *desk.Window) states {
		return states{w.Monitor, w.Minimised, w.Maximised, w.Fullscreen, w.Sticky, w.Above, d.Tiled(w)}
	}
	if a, b := of(saved, was), of(laid, is); i != at || a != b {
		t.Fatalf("%s: #%d is on workspace %d, %+v, and was on %d, %+v", said, was.ID, at+1, b, i+1, a)
	}
	sheet := func(d *desk.Desk, i int) (tiles []int) {
		if s := d.Sheet(i, was.Monitor); s != nil {
			tiles = s.Tiles.Windows()
		}
		return tiles
	}
	if saved.Tiled(was) && !slices.Equal(sheet(saved, i), sheet(laid, at)) || was.Minimised || saved.Monitor(was.Monitor).Work != laid.Monitor(was.Monitor).Work {
		return
	}
	if was.Rect != is.Rect && !was.Maximised && !was.Fullscreen {
		t.Fatalf("%s: #%d lies at %v, and lay at %v", said, was.ID, is.Rect, was.Rect)
	}
}
