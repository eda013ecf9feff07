package desk_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
	"zatlas/internal/scene"
	"zatlas/internal/stray"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// walker takes random steps on a desk: commands and facts of a host.
type walker struct {
	*rand.Rand
	d    *desk.Desk
	next int        // the next window's id
	kept *desk.Desk // as it was some time ago

	wasOf *desk.Desk // the last desk of which the places were asked, and what they are
	was   string

	scenes scene.Writer // of every tenth desk

	pictures     desk.Pictures // of desks now and then
	copied, copy *desk.Desk    // a desk some steps ago, and a copy of it kept by deltas
}

func (w *walker) pick(words ...string) string { return words[w.IntN(len(words))] }

func (w *walker) window() int {
	if len(w.d.Windows) == 0 {
		return 1
	}
	return w.d.Windows[w.IntN(len(w.d.Windows))].ID
}

func (w *walker) rect() geom.Rect {
	return geom.R(w.IntN(9000)-2000, w.IntN(4000)-1500, 1+w.IntN(2500), 1+w.IntN(1800))
}

func (w *walker) target() string {
	n := strconv.Itoa(w.IntN(len(w.d.Workspaces) + 2))
	return w.pick(n, n, w.pick("A", "B", "C")+n, "next", "prev", "back", "first", "last", "Press", `"Late night"`)
}

func (w *walker) of() string {
	return w.pick("", "", fmt.Sprintf(" of #%d", w.window()), " of #"+strconv.Itoa(w.window()), " of app:reel", " of is:floating",
		" of is:stray or is:minimised", " of not on:1 at:A", " of (on:2 or on:3) not is:focused")
}

// tile is " of" some window that is tiled, mostly.
func (w *walker) tile() string {
	for range 8 {
		if o := w.d.Window(w.window()); o != nil && w.d.Tiled(o) {
			return fmt.Sprintf(" of #%d", o.ID)
		}
	}
	return ""
}

// block is " of" the windows of a group of tiles, mostly.
func (w *walker) block() string {
	for range 8 {
		o := w.d.Window(w.window())
		if o == nil || !w.d.Tiled(o) {
			continue
		}
		ids := []int{o.ID}
		for range 1 + w.IntN(3) {
			if wider := w.d.Around(ids); wider != nil {
				ids = wider
			}
		}
		names := make([]string, len(ids))
		for i, id := range ids {
			names[i] = fmt.Sprintf("#%d", id)
		}
		return " of " + strings.Join(names, " or ")
	}
	return ""
}

func (w *walker) command() string {
	switch w.IntN(48) {
	case 46:
		name := w.pick("Call", "Call", "d", "Foyer")
		return "plate " + w.pick("save "+name+w.pick("", "", " sheet", " sheet gather", " workspace", " desk"), "remove "+name, "rename "+name+w.pick(" Call", " Foyer"), "letter "+name+w.pick(" d", " none"))
	case 47:
		return "plate lay " + w.pick("Call", "Call", "d", "back") + w.pick("", "", "", " on 2", " on B", " on B1", " on last", " starting")
	case 42, 43:
		return w.pick("swap left", "swap right", "swap next", "move left", "move down", "move up", "move right", "turn", "mirror", "even", "ungroup",
			"group right", "group next", "resize right 5%", "resize down -30", "layout pile", "layout tabs", "layout columns", "layout rows") + w.block()
	case 44:
		return w.pick("send 2", "carry next", "send B", "float", "minimise", "maximise", "layout tree") + w.block()
	case 45:
		if w.IntN(2) == 0 {
			return w.pick("put left A", "put right B", "put up B", fmt.Sprintf("put %s #%d", w.pick("left", "right", "up", "down", "onto", "onto"), w.window())) + w.block()
		}
		return w.pick("layout tree", "float", "float", "restore of all") + w.tile()
	case 0, 1:
		return "go " + w.target()
	case 2, 3, 4:
		return "send " + w.pick(w.target(), "A", "B", "C", "left", "right", "up", "down", "new", "monitor next", "monitor prev") + w.of()
	case 5, 6:
		return "carry " + w.pick(w.target(), "B", "right") + w.of()
	case 7, 8:
		return "focus " + w.pick("left", "right", "up", "down", "next", "prev", "back", "A", "B", "C", "monitor next", "#"+strconv.Itoa(w.window()))
	case 9:
		return w.pick("add", "reload", "end", "restart", "plug B", "pull B", "plug C", "pull C", fmt.Sprintf("add %q", w.pick("Foyer", "Box", "North wing", "Press")), "add at 1")
	case 10:
		return "remove " + w.pick(w.target(), "first", "last") + w.pick("", " into 1", " into last")
	case 11:
		return "layout " + w.pick("columns", "rows", "lead", "lead 2", "tree", "pile", "tabs", "free", "next") + w.pick("", w.of())
	case 12:
		return "float" + w.of()
	case 13:
		return "minimise" + w.of()
	case 14:
		return "restore" + w.pick(" of all", w.of())
	case 36:
		return w.pick("turn", "mirror", "group left", "group up", "group right tabs", "group next pile", "ungroup", "ungroup", "ungroup all") + w.tile()
	case 40, 41:
		return w.pick("ungroup", "group left", "group down", "ungroup all", "layout tree") + w.tile()
	case 37, 38:
		return w.pick("undo", "redo")
	case 39:
		return w.pick("share +7", "share -12", "even", "even all") + w.tile()
	case 30, 31:
		return w.pick("swap left", "swap right", "swap up", "swap next", "swap prev", "move left", "move right", "move up", "move down") + w.tile()
	case 32:
		return w.pick("turn", "mirror", "even", "even all", "split across", "split down", "gaps on", "gaps off", "gaps") + w.tile()
	case 33:
		return w.pick("share +7", "share -12", "resize right 60", "resize left -40", "resize down 25", "resize up 300") + w.tile()
	case 34:
		return w.pick("maximise", "maximise on", "maximise across", "maximise down off", "fullscreen", "fullscreen off", "below on", "below off") + w.of()
	case 35:
		return "snap " + w.pick("left", "topright", "bottom", "middle", "4x2 1 7", "3x1 2 2", "5x4 20 6") + w.of()
	case 28:
		return w.pick("nudge", "nudge") + " " + w.pick("left", "right", "up", "down") + w.pick("", " 1", " 400", " edge") + w.of()
	case 29:
		return w.pick("resize left 40", "resize up -300", "resize right 9000", "cascade", "cascade to B", "cascade to A") + w.pick(" of is:floating", w.of())
	case 23:
		return "stick" + w.pick("", "", " on", " off") + w.of()
	case 24:
		return w.pick("raise", "lower", "above on", "above off") + w.of()
	case 25:
		return w.pick("pin a", "pin b window", "pin a off", "pin c window", "pin d workspace") + w.pick("", fmt.Sprintf(" of #%d", w.window()))
	case 26:
		return w.pick("jump a", "jump b", "jump c", "jump d", "send d", "focus urgent", "focus app next", "focus app prev", "focus of app:reel", "focus of on:2", `open "Tin Radio"`, `open Reel another on 2`, `open "Hall Plan" on B`, "run xterm -e top", "another", "another terminal")
	case 27:
		return w.pick("bare", "bare", "kill of #"+strconv.Itoa(w.window()))
	case 18:
		return fmt.Sprintf("rename %s%q", w.pick("", "2 ", "last "), w.pick("", "Foyer", "Annexe", "Press", "B3"))
	case 19:
		return "reorder " + w.pick("up", "down", "first", "last", "2 to 1", "last to 2", "Press to 3", "as 3,1,2", "as 2,1")
	case 20:
		return "vacate " + w.pick("A", "B", "C to A", "D to B", "B to C")
	case 21:
		return "home " + w.pick("", "2 ", "last ") + w.pick("A", "B", "C")
	case 16:
		return w.pick("undo", "undo", "undo 3", "undo 40")
	case 17:
		return w.pick("redo", "redo", "redo 2")
	case 15:
		if w.IntN(4) == 0 {
			return w.pick("back home", "back home B")
		}
		return "rescue" + w.pick("", " to B", " to A2", " to 1") + w.pick(" of is:stray", w.of())
	}
	return "close" + w.of()
}

// rules are some rules for windows that open.
func (w *walker) rules() []desk.Rule {
	q := func(text string) desk.Query {
		q, err := lang.ParseQuery(text)
		if err != nil {
			panic(err)
		}
		return q
	}
	return []desk.Rule{
		{Query: q(w.pick("app:Reel", "is:floating", "all")), Position: w.pick("", "first", "last"), Also: w.IntN(2) == 0, Stray: w.IntN(2) == 0},
		{Query: q("app:Tin"), To: &desk.Arg{Kind: desk.Number, N: w.IntN(8)}, Float: w.IntN(2) == 0, Above: w.IntN(2) == 0},
		{Query: q("all"), To: &desk.Arg{Kind: desk.Letter, Letter: byte('A' + w.IntN(4))}, Sticky: w.IntN(9) == 0, NoFocus: w.IntN(2) == 0},
	}
}

func (w *walker) fact() desk.Fact {
	switch w.IntN(13) {
	case 12:
		id := w.window()
		r := w.rect()
		if o := w.d.Window(id); o != nil {
			r = w.d.Reach(o, w.d.Snapped(id, r, 12, [4]bool{}))
		}
		return desk.Dragged{ID: id, Rect: r, Edges: [4]bool{w.IntN(2) == 0, w.IntN(2) == 0, w.IntN(3) == 0, w.IntN(3) == 0}, Done: w.IntN(2) == 0, Hand: int64(w.IntN(3))}
	case 11:
		if w.IntN(2) == 0 {
			return desk.Await{}
		}
		return desk.Await{Kept: w.kept}
	case 10:
		return desk.Settle{Settings: desk.Settings{Growing: w.IntN(2) == 0, EdgeGoes: w.IntN(3) == 0, Separate: w.IntN(2) == 0, Wrap: w.IntN(2) == 0, Gap: w.pickInt(0, 0, 10, 37),
			Pins: map[byte]desk.Query{'a': desk.ByApp{Text: "Tin Radio", Whole: true}}, Rules: w.rules()}}
	case 0, 1:
		w.next++
		win := desk.Window{ID: w.next, App: w.pick("Reel Ledger", "Tin Radio", "Hall Plan"), Title: "t", Rect: w.rect(), Fixed: w.IntN(9) == 0}
		if w.IntN(4) == 0 {
			win.Parent = w.window()
		}
		if w.IntN(3) == 0 {
			win.MinW, win.MinH = w.IntN(600), w.IntN(500)
		}
		if w.IntN(3) == 0 {
			win.Sizes = desk.Sizes{MaxW: 600 + w.IntN(900), MaxH: 500 + w.IntN(900), IncW: w.IntN(20), IncH: w.IntN(20), BaseW: w.IntN(30), Least: [2]int{1, 2}, Most: [2]int{3, 1 + w.IntN(2)}}
		}
		return desk.Opened{Window: win, Focus: w.IntN(2) == 0, Keep: w.IntN(3) == 0}
	case 2, 3:
		return desk.Closed{ID: w.window()}
	case 4:
		parent := w.window()
		return desk.Changed{ID: w.window(), Change: func(o *desk.Window) {
			o.Title, o.Sticky, o.Parent = "changed", w.IntN(5) == 0, w.pickInt(0, 0, parent)
		}}
	case 5, 6:
		return desk.Moved{ID: w.window(), Rect: w.rect()}
	case 7:
		return desk.Activated{ID: w.window()}
	case 8:
		return desk.WorkAreas{Work: map[byte]geom.Rect{'A': geom.R(0, w.IntN(60), 1920, 1100), 'B': geom.R(1920, 0, 3440, 1400-w.IntN(90))}}
	}
	var ms []desk.Monitor
	for i, m := range []desk.Monitor{
		{Key: "scene-A", Rect: geom.R(0, 0, 1920, 1200), Primary: true},
		{Key: "scene-B", Rect: geom.R(1920, 0, 3440, 1440), Header: 48},
		{Key: "scene-C", Rect: geom.R(5360, 0, 1920, 1080), Header: w.IntN(2) * 72},
		{Key: "new", Rect: geom.R(0, 1200, 1280, 1024)},
		{Key: "mirror", Rect: []geom.Rect{geom.R(0, 0, 1920, 1200), geom.R(2000, 100, 640, 480), geom.R(0, 1200, 1080, 1920)}[w.IntN(3)]},
	} {
		if w.IntN(3) > 0 && i < 4 || i == 4 && w.IntN(4) == 0 || i == 3 && len(ms) == 0 && w.IntN(2) == 0 {
			ms = append(ms, m)
		}
	}
	return desk.MonitorsAre{Monitors: ms}
}

func (w *walker) pickInt(ns ...int) int { return ns[w.IntN(len(ns))] }

// TestWalk takes random steps and holds every invariant after each.
func TestWalk(t *testing.T) {
	walks := []int{11_000, 5_000, 5_000, 5_000} // steps
	switch {
	case os.Getenv("SOAK") != "":
		walks = []int{60_000, 15_000, 15_000, 15_000}
	case testing.Short():
		walks = []int{3_000, 3_000}
	}
	for i, steps := range walks {
		seed := testkit.Seed(t, uint64(i))
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			t.Parallel()
			walk(t, seed, steps)
		})
	}
}

func walk(t *testing.T, seed uint64, steps int) {
	d := desks.Demo(t)
	w := &walker{Rand: rand.New(rand.NewPCG(seed, 7)), d: d, next: 100}
	done := map[string]int{}
	for step := range steps {
		before := write(t, w.d, step%50 == 0)
		var said string
		prev := w.d
		if step%500 == 0 {
			w.kept = w.d
		}
		if w.IntN(3) == 0 || len(w.d.Windows) < 3 {
			f := w.fact()
			said = fmt.Sprintf("%T %+v", f, f)
			w.d, _ = w.d.With(f)
			done[fmt.Sprintf("%T", f)]++
		} else {
			said = w.command()
			if len(w.d.Windows) > 60 || len(w.d.Workspaces) > 12 {
				w.d, _ = w.d.With(desk.Closed{ID: w.window()})
				prev, before = w.d, nil
				said = "remove last"
			}
			w.apply(t, said, done)
		}
		if err := w.d.Check(); err != nil {
			t.Fatalf("seed %d step %d, after %s: %v", seed, step, said, err)
		}
		if f := w.d.Window(w.d.Focus); f != nil && f.Used == 0 {
			t.Fatalf("seed %d step %d, after %s: #%d has the focus and never had it; before #%d", seed, step, said, f.ID, prev.Focus)
		}
		if before != nil && !bytes.Equal(before, write(t, prev, true)) {
			t.Fatalf("seed %d step %d: %s wrote to the desk it was applied to", seed, step, said)
		}
		if step%10 == 0 {
			w.treeComesBack(t)
			w.written(t)
		}
		if step%7 == 0 || step%7 == 1 {
			w.followed(t)
			if got, want := w.pictures.Of(w.d), w.d.Picture(); !reflect.DeepEqual(got, want) {
				t.Fatalf("seed %d step %d, after %s: with what sheets showed before the picture is\n%+v\nand without\n%+v", seed, step, said, got, want)
			}
		}
		if step%25 == 0 || seed == 0 && step%4 == 0 {
			roundTrip(t, w.d)
		}
	}
	allTheWay(t, w.d)
	for _, v := range desk.Verbs() {
		if done[v.Name] == 0 && steps >= 10_000 {
			t.Errorf("seed %d: no %s ever succeeded: the walk does not reach it", seed, v.Name)
		}
	}
}

// allTheWay undoes everything there is to undo, does all of it again, and holds
// that the desk is the same at both ends, whichever way it is come to.
func allTheWay(t *testing.T, d *desk.Desk) {
	t.Helper()
	go1 := func(verb string) int {
		for n := 0; ; n++ {
			next, _, err := d.Apply(desk.Command{Verb: verb})
			if err != nil {
				return n
			}
			if err := next.Check(); err != nil {
				t.Fatalf("%s: %v", verb, err)
			}
			d = next
		}
	}
	go1("redo")
	end := arrangement(t, d)
	n := go1("undo")
	start := arrangement(t, d)
	if m := go1("redo"); m != n {
		t.Fatalf("%d steps were undone and %d done again", n, m)
	}
	if got := arrangement(t, d); got != end {
		t.Fatalf("undo to the start and redo to the end, %d steps, give\n%s\nand not\n%s", n, got, end)
	}
	go1("undo")
	if got := arrangement(t, d); got != start {
		t.Fatalf("undone again, the start is\n%s\nand not\n%s", got, start)
	}
}

func (w *walker) apply(t *testing.T, line string, done map[string]int) {
	t.Helper()
	c := desks.Command(t, line)
	if again, err := lang.ParseCommand(lang.Print(c)); err != nil || !reflect.DeepEqual(c, again) {
		t.Fatalf("%s is printed as %s, which reads as %+v, %v", line, lang.Print(c), again, err)
	}
	next, r, err := w.d.Apply(c)
	if err != nil {
		if next != w.d {
			t.Fatalf("%s failed and changed the desk", line)
		}
		return
	}
	if r.Words == "" {
		t.Fatalf("%s succeeded and says nothing", line)
	}
	done[c.Verb]++
	if c.Verb == "send" || c.Verb == "carry" || c.Verb == "rescue" {
		for _, id := range r.Windows {
			placed(t, w.d, next, id, line)
		}
	}
	v, _ := desk.FindVerb(c.Verb)
	stepped := next.Step() != w.d.Step() && c.Verb != "undo" && c.Verb != "redo"
	before, after := w.was, places(t, next)
	if w.wasOf != w.d {
		before = places(t, w.d)
	}
	w.wasOf, w.was = next, after
	if changed := before != after || len(next.PlatesSince(w.d)) > 0; !v.View && changed != stepped {
		t.Fatalf("%s changed something: %t; is a step of undo: %t\n%s\n%s", line, changed, stepped, before, after)
	} else if v.View && stepped && len(next.Workspaces) == len(w.d.Workspaces) {
		t.Fatalf("%s is a step of undo", line)
	} else if !v.View && !changed && !strings.Contains(r.Words, "already") && !strings.Contains(r.Words, "Nothing changed") && r.Pin == nil && r.Words != "No window is lost." {
		t.Fatalf("%s changed nothing and says %q", line, r.Words)
	}
	if stepped && !w.d.Bare && w.IntN(3) == 0 {
		w.thereAndBack(t, next, line)
	}
	w.d = next
}

// places is a desk's scene without what is shown and focused.
func places(t *testing.T, d *desk.Desk) string {
	t.Helper()
	return without(arrangement(t, d), []string{"shown", "at", "focus", "bareFocus"})
}

// without is a scene without the lines of some keys, without what a window's line says of
// others, and without empty lines.
func without(scene string, keys []string, members ...string) string {
	var b strings.Builder
	for line := range strings.Lines(scene) {
		rest := strings.TrimSpace(line)
		key, _, _ := strings.Cut(strings.TrimPrefix(rest, `"`), `":`)
		if rest == "" || slices.Contains(keys, key) {
			continue
		}
		for _, name := range members {
			if before, after, found := strings.Cut(line, `,"`+name+`":`); found {
				line = before + after[strings.IndexAny(after, ",}"):]
			}
		}
		b.WriteString(line)
	}
	return b.String()
}

// treeComesBack holds that a tree that is laid out otherwise for a while is the
// same again.
func (w *walker) treeComesBack(t *testing.T) {
	t.Helper()
	o := w.d.Window(w.window())
	if o == nil || !w.d.Tiled(o) || w.d.Sheet(w.d.Index(o.Workspace), o.Monitor).Layout != layout.Tree {
		return
	}
	d := w.d
	for _, line := range []string{"layout " + w.pick("columns", "rows", "lead", "pile", "tabs", "free"), "layout tree"} {
		c, err := lang.ParseCommand(fmt.Sprintf("%s of #%d", line, o.ID))
		if err != nil {
			t.Fatal(err)
		}
		if d, _, err = d.Apply(c); err != nil {
			t.Fatal(err)
		}
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
	}
	was, is := w.d.Sheet(w.d.Index(o.Workspace), o.Monitor), d.Sheet(d.Index(o.Workspace), o.Monitor)
	if !layout.Equal(was.Tiles, is.Tiles) {
		t.Fatalf("the tree of #%d is another after a while as %v", o.ID, is.Layout)
	}
}

// thereAndBack holds that undo gives the desk before a command, and redo the
// one after it.
func (w *walker) thereAndBack(t *testing.T, next *desk.Desk, line string) {
	t.Helper()
	back, _, err := next.Apply(desk.Command{Verb: "undo"})
	if err != nil {
		t.Fatalf("undo of %s: %v", line, err)
	}
	if got, want := arrangement(t, back), arrangement(t, w.d); got != want {
		t.Fatalf("undo of %s gives\n%s\nand not\n%s", line, got, want)
	}
	again, _, err := back.Apply(desk.Command{Verb: "redo"})
	if err != nil {
		t.Fatalf("redo of %s: %v", line, err)
	}
	if got, want := arrangement(t, again), arrangement(t, next); got != want {
		t.Fatalf("redo of %s gives\n%s\nand not\n%s", line, got, want)
	}
}

// arrangement is a desk's scene without what is no place of a window: where one lies that
// is maximised or fullscreen goes by what has the focus.
func arrangement(t *testing.T, d *desk.Desk) string {
	t.Helper()
	own := *d
	own.Windows = slices.Clone(d.Windows)
	for i, w := range own.Windows {
		if w.Maximised || w.Fullscreen {
			c := *w
			c.Rect = geom.R(0, 0, 1, 1)
			own.Windows[i] = &c
		}
	}
	return without(string(write(t, &own, true)), []string{"clock", "lastWorkspace", "recent", "bare", "bareClock"}, "used", "front", "urgent")
}

// placed holds that a floating window just sent is no stray, as far as its
// minimum size allows.
func placed(t *testing.T, before, d *desk.Desk, id int, line string) {
	t.Helper()
	w, old := d.Window(id), before.Window(id)
	if d.Tiled(w) || w.Minimised || w.Workspace == old.Workspace && w.Monitor == old.Monitor {
		return
	}
	work := d.Monitor(w.Monitor).Work
	fits := w.MinW <= work.W && w.MinH <= work.H && (!w.Fixed || w.Rect.W <= work.W && w.Rect.H <= work.H)
	if f := d.Lost(w); fits && f.Cause != stray.None && f.Cause != stray.Tiny {
		t.Fatalf("%s left #%d at %v on %c, a stray (%v)", line, id, w.Rect, w.Monitor, f.Cause)
	}
}

func write(t *testing.T, d *desk.Desk, really bool) []byte {
	t.Helper()
	if !really {
		return nil
	}
	var b bytes.Buffer
	if err := scene.Write(&b, d); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// written holds that a writer that keeps lines of the desks before writes as a fresh one.
func (w *walker) written(t *testing.T) {
	t.Helper()
	var b bytes.Buffer
	if err := w.scenes.Write(&b, w.d); err != nil {
		t.Fatal(err)
	}
	if want := write(t, w.d, true); !bytes.Equal(b.Bytes(), want) {
		t.Fatalf("with lines of the desks before:\n%s\nand without:\n%s", b.Bytes(), want)
	}
}

// followed holds that a copy which is told only of changes stays the same.
func (w *walker) followed(t *testing.T) {
	t.Helper()
	if w.copied == nil {
		w.copied, w.copy = w.d, roundTrip(t, w.d)
	}
	var b bytes.Buffer
	if err := scene.WriteSince(&b, w.d, w.copied); err != nil {
		t.Fatal(err)
	}
	change := b.String()
	next, err := scene.ReadAfter(&b, w.copy)
	if err != nil {
		t.Fatalf("a change that was written is not taken: %v\n%s", err, change)
	}
	if err := next.Check(); err != nil {
		t.Fatalf("a change leads to a desk that cannot be, and nothing was said: %v\n%s", err, change)
	}
	got, want := write(t, next, true), write(t, w.d, true)
	if !bytes.Equal(got, want) {
		t.Fatalf("after the change\n%s\nthe copy is\n%s\nand the desk\n%s", change, got, want)
	}
	for _, win := range w.copy.Windows { // the copy before must stay as it was
		if now := next.Window(win.ID); now == win && now.Title != w.d.Window(win.ID).Title {
			t.Fatalf("#%d is shared, and another", win.ID)
		}
	}
	w.copied, w.copy = w.d, next
}

func roundTrip(t *testing.T, d *desk.Desk) *desk.Desk {
	t.Helper()
	b := write(t, d, true)
	again, err := scene.Read(bytes.NewReader(b))
	if err != nil {
		os.WriteFile("/tmp/scene-that-failed.json", b, 0o600)
		t.Fatalf("a scene that was written is not read: %v", err)
	}
	if got := write(t, again, true); !bytes.Equal(b, got) {
		t.Fatalf("a scene is not read as it was written:\n%s\n%s", b, got)
	}
	return again
}
