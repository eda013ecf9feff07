package desk_test

import (
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/testkit/desks"
)

// A tree made by hand outlives other layouts, and windows that float for a while.
// Of several steps taken back, the notes of each are told.
func TestNotesOfSeveralSteps(t *testing.T) {
	d := run(t, desks.Demo(t), "send 2 of #11", "pull B", "send 3 of #12")
	d, _ = d.With(desk.Closed{ID: 12})
	_, r, err := apply(t, d, "undo 2")
	if err != nil || !strings.Contains(r.Words, "A window was closed since") || !strings.Contains(r.Words, "Monitor B has no sheets") {
		t.Errorf("undo 2 says %q, %v", r.Words, err)
	}
}

func TestTreeComesBack(t *testing.T) {
	d := read(t, nested)
	tiles := d.Sheet(0, 'A').Tiles
	ids := tiles.Windows()
	opened := desk.Opened{Window: desk.Window{ID: 50, App: "x"}, Focus: true}
	for _, c := range []struct {
		name  string
		lines []string
		back  bool // the tree is as it was
	}{
		{"columns", []string{"layout columns", "layout tree"}, true},
		{"around", []string{"layout next", "layout next", "layout next", "layout next", "layout next", "layout next", "layout next"}, true},
		{"several", []string{"layout lead", "layout tabs", "layout free", "layout tree"}, true},
		{"looked at", []string{"layout pile", "focus next", "go 1", "layout tree"}, true},
		{"swapped", []string{"layout columns", "swap next of #1", "layout tree"}, false},
		{"moved", []string{"layout columns", "move right of #1", "layout tree"}, false},
		{"put", []string{"layout columns", "put right A of #1", "layout tree"}, false},
		{"all floated", []string{"float of #1 or #2 or #3 or #4", "float of #1 or #2 or #3 or #4"}, true},
		{"floated one by one", []string{"float of #1", "float of #3", "float of #2", "float of #2", "float of #1", "float of #3"}, true},
		{"minimised", []string{"minimise of #1 or #2 or #3 or #4", "restore of all"}, true},
		{"floated under another layout", []string{"layout rows", "float of #2", "layout tree", "float of #2"}, true},
	} {
		next := after(t, d, c.lines...)
		if got := next.Sheet(0, 'A').Tiles; layout.Equal(got, tiles) != c.back {
			t.Errorf("%s: it is %s", c.name, where(next, ids...))
		}
		roundTrip(t, next)
		if err := next.Check(); err != nil {
			t.Errorf("%s: %v", c.name, err)
		}
	}
	// Windows that came are its last leaves, those that went leave no hole.
	next := after(t, d, "layout columns")
	next, _ = next.With(opened, desk.Closed{ID: ids[1]})
	next = after(t, next, "layout tree")
	want := layout.AppendTo(layout.Remove(tiles, func(id int) bool { return id == ids[1] }), 50)
	if got := next.Sheet(0, 'A').Tiles; !layout.Equal(got, want) {
		t.Errorf("with one more and one less it is %s", where(next, append(ids, 50)...))
	}
}

// Tiles that are no group become one where they are laid out, and only there.
func TestGather(t *testing.T) {
	d := read(t, nested)
	next, r, err := apply(t, d, "layout tabs of #1 or #3")
	if err != nil || r.Words != "2 windows on A1 are laid out as tabs." {
		t.Fatalf("%q, %v", r.Words, err)
	}
	tiles := next.Sheet(0, 'A').Tiles
	if ok, group := layout.Is(tiles, []int{1, 3}); !ok || !group || layout.SplitOf(tiles, []int{3}) != layout.Tabs {
		t.Errorf("they are no tabs: %s", where(next, tiles.Windows()...))
	}
	if next, _, err = apply(t, next, "undo"); err != nil || where(next, 1, 2, 3, 4) != where(d, 1, 2, 3, 4) {
		t.Errorf("undone it is %s, %v", where(next, 1, 2, 3, 4), err)
	}
	// A list looks the same as the tree it becomes.
	rows := after(t, d, "layout lead")
	next, _, err = apply(t, rows, "layout rows of #3 or #4")
	if s := next.Sheet(0, 'A'); err != nil || s.Layout != layout.Tree || next.Window(1).Rect != rows.Window(1).Rect {
		t.Errorf("of lead comes %v: %s, %v", s.Layout, where(next, 1, 2, 3, 4), err)
	}
	for line, says := range map[string]string{
		"turn of #1 or #3": "makes them one", "mirror of #1 or #3": "makes them one", "swap right of #1 or #3": "makes them one", "move right of #1 or #3": "makes them one",
		"resize right 40 of #1 or #3": "makes them one",
	} {
		if _, _, err := apply(t, d, line); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", line, err)
		}
	}
}

func TestNothingChanged(t *testing.T) {
	d := read(t, nested)
	d = after(t, d, "even all", "gaps off", "rename Foyer")
	step := d.Step()
	for _, line := range []string{"even all", "even", "gaps off", "rename Foyer", "layout tree", "reorder first", "layout next of #1"} {
		next, r, err := apply(t, d, line)
		if line == "layout next of #1" {
			if next.Step() == step {
				t.Errorf("%s is no step", line)
			}
			continue
		}
		if err != nil || next.Step() != step || !strings.Contains(r.Words, "Nothing changed") && !strings.Contains(r.Words, "already") {
			t.Errorf("%s: step %d after %d, %q, %v", line, next.Step(), step, r.Words, err)
		}
	}
}

// What makes a workspace is a step, by whatever word.
func TestNewIsAStep(t *testing.T) {
	for _, line := range []string{"go new", "send new", "carry new", `open "X" on new`, "add"} {
		d := read(t, two)
		next, _, err := apply(t, d, line)
		if err != nil || len(next.Workspaces) != len(d.Workspaces)+1 {
			t.Fatalf("%s: %v", line, err)
		}
		back, r, err := apply(t, next, "undo")
		if err != nil || len(back.Workspaces) != len(d.Workspaces) || back.Current() != d.Current() || !strings.HasPrefix(r.Words, "Undid: ") {
			t.Errorf("undo of %s: %d workspaces, on %d, %q, %v", line, len(back.Workspaces), back.Current()+1, r.Words, err)
		}
	}
	d, _ := read(t, two).With(desk.Settle{Settings: desk.Settings{Growing: true}})
	if next, _, err := apply(t, d, "go new"); err != nil || next.Step() != d.Step() {
		t.Errorf("where the count is growing: step %d, %v", next.Step(), err)
	}
}

// Undo of what was done before something else changed says so.
func TestUndoOfOlderThings(t *testing.T) {
	d := after(t, read(t, two), "rename Foyer")
	if _, r, _ := apply(t, d, "undo"); strings.Contains(r.Words, "since") {
		t.Errorf("right after it: %q", r.Words)
	}
	next, _, err := apply(t, d, "go 2", "undo")
	if err != nil || next.Current() != 1 {
		t.Errorf("undo goes to %d, %v", next.Current()+1, err)
	}
	for _, line := range []string{"go 2", "close"} {
		then := after(t, d, line)
		if line == "close" {
			then, _ = then.With(desk.Closed{ID: d.Focus})
		}
		if _, r, err := apply(t, then, "undo"); err != nil || !strings.Contains(r.Words, "Undid: Workspace 1") || !strings.Contains(r.Words, "since stays") {
			t.Errorf("after %s: %q, %v", line, r.Words, err)
		}
	}
}

func TestRepeats(t *testing.T) {
	for line, want := range map[string]bool{
		"focus left": true, "focus next": true, "focus app next": true, "focus back": false, "focus #1": false, "focus of app:ledger": false, "focus urgent": false,
		"go next": true, "go prev": true, "go new": false, "go 3": false, "go back": false, "share +5": true, "resize right 40": true, "nudge left": true,
		"undo": true, "redo": true, "add": false, "remove": false, "close": false, "kill": false, `open "X"`: false, "float": false, "maximise": false, "minimise": false,
		"send next": false, "carry 2": false, "send left": false, "bare": false, "stick": false, "layout next": false, "swap left": false, "move left": false, "jump a": false,
		"end": false, "restart": false, "reload": false, "group next": false, "turn": false, "split across": false, "rescue": false, "vacate B": false,
	} {
		c := desks.Command(t, line)
		if got := c.Repeats(); got != want {
			t.Errorf("%s repeats while its key is held: %t", line, got)
		}
	}
}

// Windows that take no keys can be chosen, and so be acted on.
func TestWindowsWithoutKeys(t *testing.T) {
	d, _ := read(t, two).With(desk.Changed{ID: 2, Change: func(w *desk.Window) { w.NoFocus = true }})
	d, r, err := apply(t, d, "focus #2")
	if err != nil || d.Focus != 2 || !strings.Contains(r.Words, "takes no keys") {
		t.Fatalf("#%d is chosen, %q, %v", d.Focus, r.Words, err)
	}
	if d, _, err = apply(t, d, "send 3"); err != nil || d.Ref(d.Window(2)) != "A3" {
		t.Errorf("it is on %s, %v", d.Ref(d.Window(2)), err)
	}
	if d.Focus == 2 {
		t.Error("it still has the focus, on another workspace")
	}
	if d, _, err = apply(t, d, "go 3"); err != nil || d.Focus != 2 {
		t.Errorf("where it is alone #%d is chosen, %v", d.Focus, err)
	}
}

// kept is a desk of another time, with windows of one app on three workspaces.
func kept(t *testing.T) *desk.Desk {
	t.Helper()
	d := read(t, two)
	for i, title := range []string{"Foyer plan", "Seats, hall 1", "Seats, hall 2"} {
		d, _ = d.With(desk.Opened{Window: desk.Window{ID: 60 + i, App: "Hall Plan", Title: title, Role: "plan", Rect: geom.R(100, 100, 400, 300), Workspace: d.Workspaces[i].ID}})
	}
	return d
}

// A window that opens is taken for an old one only where nothing else can be meant.
func TestFreshWindows(t *testing.T) {
	old := kept(t)
	empty := old
	for _, w := range old.Windows {
		empty, _ = empty.With(desk.Closed{ID: w.ID})
	}
	empty, _ = empty.With(desk.Await{Kept: old})
	for _, c := range []struct {
		w    desk.Window
		want string
	}{
		{desk.Window{App: "Hall Plan", Title: "Seats, hall 2", Role: "plan"}, "A3"},
		{desk.Window{App: "Hall Plan", Title: "Seats, hall 2 (changed)", Role: "plan"}, "A3"},
		{desk.Window{App: "Hall Plan", Title: "Seats, hall", Role: "plan"}, "A1"}, // two are as like
		{desk.Window{App: "Hall Plan", Title: "Untitled", Role: "plan"}, "A1"},
		{desk.Window{App: "Hall Plan", Title: "Seats, hall 2", Role: "print"}, "A1"},
		{desk.Window{App: "Poster Board", Title: "Seats, hall 2", Role: "plan"}, "A1"},
		{desk.Window{App: "Hall Plan", Title: "Seats, hall 2", Role: "plan", Kind: desk.Dialog}, "A1"},
	} {
		c.w.ID = 90
		next, words := empty.With(desk.Opened{Window: c.w, Focus: true})
		if got := next.Ref(next.Window(90)); got != c.want {
			t.Errorf("%+v opens on %s, want %s", c.w, got, c.want)
		}
		if err := next.Check(); err != nil {
			t.Error(err)
		}
		if c.want == "A1" {
			if len(words) > 0 || next.Undo() != "" {
				t.Errorf("%+v: it says %q, undo takes back %q", c.w, words, next.Undo())
			}
			continue
		}
		if len(words) != 1 || !strings.Contains(words[0], "opened on 3, where it was before") {
			t.Errorf("out of sight it says %q", words)
		}
		back, _, err := apply(t, next, "undo")
		if err != nil || back.Ref(back.Window(90)) != "A1" {
			t.Errorf("taken back it is on %s, %v", back.Ref(back.Window(90)), err)
		}
		if again, _, err := apply(t, back, "redo"); err != nil || again.Ref(again.Window(90)) != "A3" {
			t.Errorf("done again it is on %s, %v", again.Ref(again.Window(90)), err)
		}
		// Each place once, and none when the waiting has ended.
		c.w.ID = 91
		if twice, _ := next.With(desk.Opened{Window: c.w, Focus: true}); twice.Ref(twice.Window(91)) != "A1" {
			t.Errorf("a second one opens on %s", twice.Ref(twice.Window(91)))
		}
		late, _ := empty.With(desk.Await{})
		if late, _ = late.With(desk.Opened{Window: c.w, Focus: true}); late.Ref(late.Window(91)) != "A1" {
			t.Errorf("a late one opens on %s", late.Ref(late.Window(91)))
		}
	}
}

// A rule for a workspace that is not there says so, and the window opens here.
func TestRuleForNowhere(t *testing.T) {
	d, _ := read(t, two).With(desk.Settle{Settings: desk.Settings{Rules: []desk.Rule{{Query: desk.ByApp{Text: "Hall"}, To: &desk.Arg{Kind: desk.Number, N: 9}}}}})
	next, words := d.With(desk.Opened{Window: desk.Window{ID: 90, App: "Hall Plan", Title: "Seats"}, Focus: true})
	if next.Ref(next.Window(90)) != "A1" || len(words) != 1 || words[0] != "The rule for it cannot be followed: there is no workspace 9: there are 3; add makes one. Hall Plan · Seats opened here." {
		t.Errorf("it opens on %s and says %q", next.Ref(next.Window(90)), words)
	}
	if err := d.RuleFault(d.Settings.Rules[0]); err == nil {
		t.Error("the rule has no fault")
	}
}
