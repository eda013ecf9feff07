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
	"zatlas/internal/layout"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// besides is a desk that another program manages: two monitors, the workspaces and the
// windows given, each a number of its workspace and a place.
func besides(t testing.TB, names []string, windows ...desk.Stands) *desk.Desk {
	t.Helper()
	d, err := desk.New([]desk.Monitor{
		{Key: "a", Letter: 'A', Name: "Laptop", Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Primary: true, Connected: true},
		{Key: "b", Letter: 'B', Name: "Desk", Rect: geom.R(1920, 0, 1920, 1080), Work: geom.R(1920, 0, 1920, 1080), Connected: true},
	}, desk.Settings{}.BesideOthers([]string{"bare"}), names...)
	if err != nil {
		t.Fatal(err)
	}
	for _, w := range windows {
		d, _ = d.With(opens(w.ID, w.Rect), w)
	}
	return d
}

func opens(id int, r geom.Rect) desk.Opened {
	return desk.Opened{Keep: true, Window: desk.Window{ID: id, App: "Hall Plan", Title: fmt.Sprint("plan ", id), Rect: r, Floating: true}}
}

// wished is the desk that a command would lead to.
func wished(t testing.TB, d *desk.Desk, line string) desk.Wish {
	t.Helper()
	c := desks.Command(t, line)
	next, _, err := d.Apply(c)
	if err != nil {
		t.Fatalf("%s: %v", line, err)
	}
	if err := next.Check(); err != nil {
		t.Fatalf("%s: %v", line, err)
	}
	return desk.Wish{Command: c, From: d, To: next}
}

// granted are facts by which a manager does what is wished, but for some windows.
func granted(x desk.Wish, refuse ...int) (facts []desk.Fact) {
	names := []string{}
	for _, ws := range x.To.Workspaces {
		names = append(names, ws.Name)
	}
	facts = append(facts, desk.WorkspacesAre{Names: names}, desk.Shows{Workspace: x.To.Current(), Bare: x.To.Bare})
	for _, id := range x.Touched() {
		w := x.To.Window(id)
		i := x.To.Index(w.Workspace)
		if w.Sticky {
			i = -1
		}
		if !slices.Contains(refuse, id) {
			facts = append(facts, desk.Stands{ID: id, Rect: w.Rect, Workspace: i, State: desk.StandingOf(w)})
		}
	}
	return append(facts, desk.FocusIs{ID: x.To.Focus})
}

// done is the desk after a command that is done, but for some windows.
func done(t testing.TB, d *desk.Desk, line string, refuse ...int) *desk.Desk {
	t.Helper()
	x := wished(t, d, line)
	d, _ = d.With(granted(x, refuse...)...)
	d = d.Answered(x, line, refuse, false, 0)
	if err := d.Check(); err != nil {
		t.Fatalf("%s: %v", line, err)
	}
	return d
}

func rects(d *desk.Desk) string {
	var all []string
	for _, w := range d.Windows {
		all = append(all, fmt.Sprint(w.Rect))
	}
	return strings.Join(all, " ")
}

// Two commands that are asked for at once are a step each, in the order of their answers,
// and one that is answered again, after it was refused, goes on with its own.
func TestStepsAtOnce(t *testing.T) {
	d := besides(t, []string{"Programme"}, desk.Stands{ID: 1, Rect: geom.R(100, 0, 400, 300)}, desk.Stands{ID: 2, Rect: geom.R(900, 50, 400, 300)})
	one, two := wished(t, d, "nudge left 5 of #1"), wished(t, d, "nudge left 5 of #2")
	for _, x := range []desk.Wish{one, two} {
		d, _ = d.With(granted(x)...)
		d = d.Answered(x, "Nudged.", nil, false, 0)
	}
	if at := rects(d); at != "400×300 at 95,0 400×300 at 895,50" {
		t.Fatalf("nudged, they are at %s", at)
	}
	if d = done(t, d, "undo"); rects(d) != "400×300 at 95,0 400×300 at 900,50" {
		t.Errorf("the second taken back, they are at %s", rects(d))
	}
	if d = done(t, d, "undo"); rects(d) != "400×300 at 100,0 400×300 at 900,50" {
		t.Errorf("the first taken back, they are at %s", rects(d))
	}
	// One is done at once, the other after it was refused.
	both := wished(t, d, "nudge down 7 of all")
	d, _ = d.With(granted(both, 2)...)
	d = d.Answered(both, "Nudged.", []int{2}, false, 0)
	step := d.Step()
	d, _ = d.With(granted(both)...)
	if d = d.Answered(both, "Nudged.", nil, false, step); d.Step() != step {
		t.Errorf("answered again, it is step %d and was %d", d.Step(), step)
	}
	if d = done(t, d, "undo"); rects(d) != "400×300 at 100,0 400×300 at 900,50" {
		t.Errorf("taken back, they are at %s", rects(d))
	}
}

// What lays out tiles for the keeper places windows once.
func TestPlacedOnce(t *testing.T) {
	three := []desk.Stands{{ID: 1, Rect: geom.R(0, 0, 400, 300)}, {ID: 2, Rect: geom.R(900, 50, 400, 300)}, {ID: 3, Rect: geom.R(500, 100, 400, 300)}}
	pair := []desk.Stands{{ID: 1, Rect: geom.R(0, 0, 960, 1080)}, {ID: 2, Rect: geom.R(960, 0, 960, 1080)}}
	for _, c := range []struct {
		line    string
		windows []desk.Stands
		want    []geom.Rect
	}{
		{"layout columns", three, []geom.Rect{geom.R(0, 0, 640, 1080), geom.R(1280, 0, 640, 1080), geom.R(640, 0, 640, 1080)}},
		{"layout rows of #1 or #2", three, []geom.Rect{geom.R(0, 0, 1920, 540), geom.R(0, 540, 1920, 540), three[2].Rect}},
		{"layout lead", three, []geom.Rect{geom.R(0, 0, 1152, 1080), geom.R(1152, 540, 768, 540), geom.R(1152, 0, 768, 540)}},
		{"layout tree", three, []geom.Rect{geom.R(0, 0, 960, 1080), geom.R(960, 540, 960, 540), geom.R(960, 0, 960, 540)}},
		{"layout pile", pair, []geom.Rect{geom.R(0, 0, 1920, 1080), geom.R(0, 0, 1920, 1080)}},
		{"swap right of #1", pair, []geom.Rect{pair[1].Rect, pair[0].Rect}},
		{"swap next of #2", pair, []geom.Rect{pair[1].Rect, pair[0].Rect}},
		{"share +10 of #1", pair, []geom.Rect{geom.R(0, 0, 1152, 1080), geom.R(1152, 0, 768, 1080)}},
		{"share +10 of #2", pair, []geom.Rect{geom.R(0, 0, 768, 1080), geom.R(768, 0, 1152, 1080)}},
		{"even of #1", []desk.Stands{{ID: 1, Rect: geom.R(0, 0, 1200, 1080)}, {ID: 2, Rect: geom.R(1200, 0, 720, 1080)}}, []geom.Rect{pair[0].Rect, pair[1].Rect}},
		{"even of #1", []desk.Stands{{ID: 1, Rect: geom.R(0, 0, 900, 700)}, {ID: 2, Rect: geom.R(0, 700, 900, 380)}}, []geom.Rect{geom.R(0, 0, 900, 540), geom.R(0, 540, 900, 540)}},
		{"snap left of #2", three, []geom.Rect{three[0].Rect, geom.R(0, 0, 960, 1080), three[2].Rect}},
		{"nudge down 30 of #1", three, []geom.Rect{geom.R(0, 30, 400, 300), three[1].Rect, three[2].Rect}},
	} {
		d := besides(t, []string{"Programme", "Press"}, c.windows...)
		x := wished(t, d, c.line)
		for i, want := range c.want {
			if got := x.To.Windows[i].Rect; got != want {
				t.Errorf("%s: #%d would be at %v, want %v", c.line, i+1, got, want)
			}
		}
		if back := done(t, done(t, d, c.line), "undo"); rects(back) != rects(d) {
			t.Errorf("%s, taken back: %s, and it was %s", c.line, rects(back), rects(d))
		}
	}
}

// What another program cannot be asked for is told, and what it does not do is no fact.
func TestOffersAlongside(t *testing.T) {
	d := besides(t, nil, desk.Stands{ID: 1, Rect: geom.R(0, 0, 400, 300)})
	for _, line := range []string{"float of #1", "split across of #1", "turn of #1", "ungroup of #1", "group left of #1", "home A", "gaps on", "bare", "layout free", "open Reel on 1"} {
		c := desks.Command(t, line)
		if next, _, err := d.Apply(c); err == nil || next != d {
			t.Errorf("%s is done: %v", line, err)
		}
	}
	d = done(t, d, "maximise of #1", 1)
	if w := d.Window(1); w.Maximised || !slices.Equal(w.Refused, []string{"maximise"}) || d.Undo() != "" {
		t.Errorf("what was refused is done, or is to be undone: %+v, %q", w, d.Undo())
	}
	d, _ = d.With(desk.Stands{ID: 1, Rect: geom.R(5, 0, 400, 300)})
	if w := d.Window(1); w.Refused != nil {
		t.Errorf("a refusal is remembered after the window changed: %v", w.Refused)
	}
}

// Undo takes back what was done, and not what others did since.
func TestUndoAlongside(t *testing.T) {
	d := besides(t, []string{"Programme", "Press", "Guests"},
		desk.Stands{ID: 1, Rect: geom.R(0, 0, 400, 300)}, desk.Stands{ID: 2, Rect: geom.R(500, 0, 400, 300)}, desk.Stands{ID: 3, Rect: geom.R(900, 0, 400, 300), Workspace: 2})
	d, _ = d.With(desk.Shows{Workspace: 0}, desk.FocusIs{ID: 1})
	sent := done(t, d, "send 2 of #1 or #2", 2)
	if sent.Index(sent.Window(1).Workspace) != 1 || sent.Index(sent.Window(2).Workspace) != 0 {
		t.Fatalf("the windows are on %s and %s", sent.Ref(sent.Window(1)), sent.Ref(sent.Window(2)))
	}
	sent, _ = sent.With(desk.Stands{ID: 2, Rect: geom.R(600, 60, 400, 300)}, desk.Stands{ID: 3, Rect: geom.R(0, 700, 400, 300), Workspace: 2})
	back := done(t, sent, "undo")
	if got, want := back.Ref(back.Window(1))+rects(back), "A1"+rects(sent); got != want {
		t.Errorf("taken back it is %s, want %s", got, want)
	}
	if again := done(t, back, "redo"); again.Index(again.Window(1).Workspace) != 1 {
		t.Errorf("done again, the window is on %s", again.Ref(again.Window(1)))
	}
	// The order is windows and names.
	for _, line := range []string{"remove 2", "reorder 3 to 1", "add Foyer at 1", "rename 2 Late"} {
		changed := done(t, d, line)
		back := done(t, changed, "undo")
		for i, ws := range d.Workspaces {
			if len(back.Workspaces) != 3 || back.Workspaces[i].Name != ws.Name || back.Count(i) != d.Count(i) {
				t.Errorf("%s, taken back: workspace %d is %s with %d windows, and was %s with %d", line, i+1, back.Title(i), back.Count(i), d.Title(i), d.Count(i))
			}
		}
	}
}

// Where the windows lay on a monitor that is pulled is known when it returns.
func TestBackHome(t *testing.T) {
	d := besides(t, nil, desk.Stands{ID: 1, Rect: geom.R(2000, 100, 400, 300)}, desk.Stands{ID: 2, Rect: geom.R(10, 10, 400, 300)})
	both := d.Plugged()
	d, _ = d.With(desk.MonitorsAre{Monitors: both[:1]})
	if w := d.Window(1); w.Monitor != 'A' || w.Rect != geom.R(2000, 100, 400, 300) || len(d.Select(desk.Is{State: desk.IsStray})) != 1 {
		t.Fatalf("the monitor is pulled, and the window on it is %+v", w)
	}
	d, _ = d.With(desk.Stands{ID: 1, Rect: geom.R(300, 100, 400, 300)})
	d, words := d.With(desk.MonitorsAre{Monitors: both})
	if !strings.Contains(strings.Join(words, ""), "back home") || d.Window(1).Rect.X != 300 {
		t.Fatalf("it is plugged in again: %v, and the window is at %v", words, d.Window(1).Rect)
	}
	d = done(t, d, "back home B")
	if w := d.Window(1); w.Monitor != 'B' || w.Rect != geom.R(2000, 100, 400, 300) {
		t.Errorf("back home, the window is on %c at %v", w.Monitor, w.Rect)
	}
	// A lost window is rescued whatever its state.
	d, _ = d.With(desk.Stands{ID: 2, Rect: geom.R(9000, 0, 1920, 1080), State: desk.Standing{Maximised: true}})
	if d = done(t, d, "rescue of is:stray"); !geom.R(0, 0, 3840, 1080).Contains(d.Window(2).Rect) || d.Window(2).Maximised {
		t.Errorf("rescued, it is at %v, maximised %v", d.Window(2).Rect, d.Window(2).Maximised)
	}
}

// Whatever another program does, and whatever it refuses, all invariants hold.
func TestWalkAlongside(t *testing.T) {
	seed := testkit.Seed(t, 3)
	w := &walker{Rand: rand.New(rand.NewPCG(seed, 9)), next: 1}
	w.d = besides(t, []string{"Programme", "Press"}, desk.Stands{ID: 1, Rect: geom.R(0, 0, 400, 300)})
	steps, answered := 12_000, 0
	if testing.Short() {
		steps = 2_000
	}
	for step := range steps {
		said := ""
		switch {
		case w.IntN(3) > 0 || len(w.d.Windows) == 0:
			f := w.others()
			said = fmt.Sprintf("%T %+v", f, f)
			w.d, _ = w.d.With(f)
		default:
			said = w.command()
			c, err := lang.ParseCommand(said)
			if err != nil {
				t.Fatalf("%s: %v", said, err)
			}
			next, _, err := w.d.Apply(c)
			if err != nil {
				continue
			}
			if err := next.Check(); err != nil {
				t.Fatalf("seed %d step %d, wishing %s: %v", seed, step, said, err)
			}
			x := desk.Wish{Command: c, From: w.d, To: next}
			refused := []int{w.window()}
			w.d, _ = w.d.With(granted(x, refused...)...)
			w.d = w.d.Answered(x, said, refused, w.IntN(9) == 0, 0)
			answered++
		}
		if err := w.d.Check(); err != nil {
			t.Fatalf("seed %d step %d, after %s: %v", seed, step, said, err)
		}
		if step%100 == 0 {
			roundTrip(t, w.d)
		}
		if len(w.d.Windows) > 40 || len(w.d.Workspaces) > 9 {
			w.d, _ = w.d.With(desk.Closed{ID: w.window()}, desk.WorkspacesAre{Names: []string{"a", "b"}})
		}
	}
	if answered < steps/20 {
		t.Errorf("only %d of %d steps were commands that could be asked for", answered, steps)
	}
}

// others is something that another program did.
func (w *walker) others() desk.Fact {
	switch w.IntN(10) {
	case 0:
		names := []string{w.pick("", "Press"), w.pick("Press", "Foyer", "Foyer"), "Late", ""}
		return desk.WorkspacesAre{Names: names[:1+w.IntN(4)]}
	case 1:
		return desk.Shows{Workspace: w.IntN(6) - 1, Bare: w.IntN(5) == 0}
	case 2:
		return desk.FocusIs{ID: w.pickInt(0, w.window())}
	case 3:
		var ids []int
		for _, o := range w.d.Windows {
			ids = append(ids, o.ID)
		}
		w.Shuffle(len(ids), func(i, j int) { ids[i], ids[j] = ids[j], ids[i] })
		return desk.StackingIs{IDs: ids}
	case 4:
		w.next++
		return opens(w.next, w.rect())
	case 5:
		for {
			if f, ok := w.fact().(desk.MonitorsAre); ok {
				return f
			}
		}
	case 6:
		return desk.Closed{ID: w.window()}
	}
	one := func() bool { return w.IntN(5) == 0 }
	return desk.Stands{ID: w.window(), Rect: w.rect(), Workspace: w.IntN(5) - 1,
		State: desk.Standing{Minimised: one(), Maximised: one(), Fullscreen: one(), Wide: one(), Above: one(), Urgent: one(), LastSeen: one()}}
}

func TestLayoutOfWishesIsFree(t *testing.T) {
	d := besides(t, nil, desk.Stands{ID: 1, Rect: geom.R(0, 0, 400, 300)})
	if x := wished(t, d, "layout columns"); x.To.Sheet(0, 'A').Layout != layout.Free {
		t.Errorf("the sheet is laid out as %v", x.To.Sheet(0, 'A').Layout)
	}
}
