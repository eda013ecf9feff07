package desk_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
)

// two is a desk of two monitors side by side with three workspaces.
const two = `{"format": "zealous-atlas/scene/1",
 "monitors": [{"letter": "A", "rect": [0, 0, 1000, 800], "work": [0, 0, 1000, 760], "primary": true},
              {"letter": "B", "rect": [1000, 0, 2000, 1000]},
              {"letter": "C", "rect": [3000, 0, 500, 500], "connected": false}],
 "workspaces": [
  {"name": "Main", "sheets": {"A": {"layout": "columns", "windows": [1, 2], "floating": [3]}, "B": {"layout": "lead", "windows": [4, 5]}}},
  {"name": "Side", "sheets": {"A": {"layout": "columns", "windows": [6]}}},
  {}],
 "windows": [{"id": 1, "app": "Ledger", "title": "one", "used": 5}, {"id": 2, "app": "Ledger", "title": "two", "used": 4},
  {"id": 3, "app": "Radio", "title": "three", "rect": [600, 460, 400, 300], "used": 3}, {"id": 4, "app": "Till", "title": "four", "used": 2},
  {"id": 5, "app": "Till", "title": "five", "used": 1}, {"id": 6, "app": "Rota", "title": "six"},
  {"id": 7, "app": "Plan", "title": "seven", "rect": [3100, 100, 300, 200], "min": [100, 100], "workspace": 2}],
 "shown": {"A": 1, "B": 1}, "at": "A", "focus": 1}`

func read(t *testing.T, text string) *desk.Desk {
	t.Helper()
	d, err := scene.Read(strings.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// after is a desk after commands, all of which are done.
func after(t *testing.T, d *desk.Desk, lines ...string) *desk.Desk {
	t.Helper()
	next, _, err := apply(t, d, lines...)
	if err != nil {
		t.Fatalf("%q: %v", lines, err)
	}
	return next
}

func apply(t *testing.T, d *desk.Desk, lines ...string) (*desk.Desk, desk.Result, error) {
	t.Helper()
	var r desk.Result
	for _, line := range lines {
		c, err := lang.ParseCommand(line)
		if err != nil {
			t.Fatal(err)
		}
		if d, r, err = d.Apply(c); err != nil {
			return d, r, err
		}
		if err := d.Check(); err != nil {
			t.Fatalf("after %s: %v", line, err)
		}
	}
	return d, r, nil
}

// where tells the windows that are asked for, with their places.
func where(d *desk.Desk, ids ...int) string {
	var b strings.Builder
	for _, id := range ids {
		w := d.Window(id)
		fmt.Fprintf(&b, "#%d %s %d,%d,%d,%d ", id, d.Ref(w), w.Rect.X, w.Rect.Y, w.Rect.W, w.Rect.H)
	}
	return strings.TrimSpace(b.String())
}

func TestCommands(t *testing.T) {
	for _, c := range []struct {
		lines string // parted by ;
		ids   []int
		want  string // places
		focus int
		on    string // the sheet you are on
	}{
		{"go 1", []int{1, 2, 3}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760 #3 A1 600,460,400,300", 1, "A1"},
		{"go 2", []int{6}, "#6 A2 0,0,1000,760", 6, "A2"},
		{"go B2", nil, "", 7, "B2"}, // the stray there is B's
		{"go B", nil, "", 4, "B1"},  // what B shows
		{"go 3", nil, "", 0, "A3"},
		{"go 3; go back", nil, "", 1, "A1"},
		{"go last; go prev", nil, "", 6, "A2"},
		{"go Side; go first", nil, "", 1, "A1"},
		{"go new", nil, "", 0, "A4"},
		{"send 2", []int{1, 2, 6}, "#1 A2 500,0,500,760 #2 A1 0,0,1000,760 #6 A2 0,0,500,760", 2, "A1"},
		{"send B", []int{1, 4, 5}, "#1 B1 2200,500,800,500 #4 B1 1000,0,1200,1000 #5 B1 2200,0,800,500", 2, "A1"},
		{"send right", []int{1}, "#1 B1 2200,500,800,500", 2, "A1"},
		{"send B3", []int{1}, "#1 B3 1000,0,2000,1000", 2, "A1"},
		{"send next of #4", []int{4, 5}, "#4 B2 1000,0,2000,1000 #5 B1 1000,0,2000,1000", 1, "A1"},
		{"carry 2", []int{1}, "#1 A2 500,0,500,760", 1, "A2"},
		{"carry B3", []int{1}, "#1 B3 1000,0,2000,1000", 1, "B3"},
		// Flush right and flush at the bottom stays so: 1000+(600·1600/600), 460·700/460.
		{"send B of #3", []int{3}, "#3 B1 2600,700,400,300", 1, "A1"},
		// From C's place, 100 of 200 free and 100 of 300, on to A: 100·700/200, 100·560/300.
		{"send A of #7", []int{7}, "#7 A2 350,186,300,200", 1, "A1"},
		// It stays B's, and comes from C: 1000+100·1700/200, 100·800/300.
		{"send 3 of #7", []int{7}, "#7 B3 1850,266,300,200", 1, "A1"},
		{"rescue of is:stray", []int{7}, "#7 B2 2700,100,300,200", 1, "A1"},
		{"focus right", nil, "", 2, "A1"},
		{"focus #2; focus left", nil, "", 1, "A1"},
		{"focus #2; focus right", nil, "", 3, "A1"}, // overlaps, with its centre further right
		{"focus #3; focus right", nil, "", 4, "B1"},
		{"focus #3; focus up", nil, "", 2, "A1"},
		{"focus B", nil, "", 4, "B1"},
		{"focus next", nil, "", 2, "A1"},
		{"focus prev", nil, "", 3, "A1"},
		{"focus #6", nil, "", 6, "A2"},
		{"focus #6; focus back", nil, "", 1, "A1"},
		{"float", []int{1, 2}, "#1 A1 0,0,500,760 #2 A1 0,0,1000,760", 1, "A1"},
		{"float; float", []int{1, 2}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760", 1, "A1"},
		{"layout rows", []int{1, 2}, "#1 A1 0,0,1000,380 #2 A1 0,380,1000,380", 1, "A1"},
		{"layout lead", []int{1, 2}, "#1 A1 0,0,600,760 #2 A1 600,0,400,760", 1, "A1"},
		{"layout free; layout columns", []int{1, 2, 3}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760 #3 A1 600,460,400,300", 1, "A1"},
		{"minimise", []int{2}, "#2 A1 0,0,1000,760", 2, "A1"},
		{"minimise; restore of #1", []int{1, 2}, "#1 A1 0,0,500,760 #2 A1 500,0,500,760", 1, "A1"},
		{"remove 2", []int{6, 7}, "#6 A1 667,0,333,760 #7 B1 1850,266,300,200", 1, "A1"},
		{"remove 1", []int{1, 6}, "#1 A1 334,0,333,760 #6 A1 0,0,334,760", 1, "A1"},
		{"remove 2 into 3", []int{6}, "#6 A2 0,0,1000,760", 1, "A1"},
		{"add First at 1", []int{1}, "#1 A2 0,0,500,760", 1, "A2"},
		{"send new of app:ledger", []int{1, 2}, "#1 A4 0,0,500,760 #2 A4 500,0,500,760", 3, "A1"},
	} {
		d := after(t, read(t, two), strings.Split(c.lines, "; ")...)
		if got := where(d, c.ids...); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.lines, got, c.want)
		}
		if on := desk.SheetRef(d.Current(), d.At); d.Focus != c.focus || on != c.on {
			t.Errorf("%s: focus #%d on %s, want #%d on %s", c.lines, d.Focus, on, c.focus, c.on)
		}
	}
}

// A command that fails says why and changes nothing.
func TestCommandsThatFail(t *testing.T) {
	for line, want := range map[string]string{
		"go 4":                    "there is no workspace 4: there are 3; add makes one",
		"go 0":                    "there is no workspace 0",
		"go prev":                 "there is no workspace before 1",
		"go back":                 "there is no workspace to go back to yet",
		"go Nowhere":              "no workspace is called Nowhere",
		"go C1":                   "monitor C is unplugged",
		"go D1":                   "there is no monitor D",
		"send left":               "there is no monitor to the left of A",
		"plug Q":                  "there is no monitor Q",
		"pull Q":                  "there is no monitor Q",
		"send 2 of #99":           "no window matches",
		"focus left":              "there is nothing further left",
		"focus #99":               "there is no window #99",
		"add Main":                "workspace 1 is called Main already",
		"add X2 at 9":             "a new workspace can stand at 1 to 4, not at 9",
		"remove 2 into 2":         "cannot go into itself",
		"restore":                 "no window is minimised",
		"layout lead 70":          "1 to 9 windows can lead, not 70",
		"reorder 2 to 0":          "workspace 2 cannot stand at 0",
		"undo 0":                  "a number of steps from 1 on, not 0",
		"float of app:ledger #99": "no window matches",
	} {
		d := read(t, two)
		if line == "add X2 at 9" {
			line = `add "X2" at 9`
		}
		next, _, err := apply(t, d, line)
		if err == nil || !strings.Contains(err.Error(), want) || next != d {
			t.Errorf("%s: %v, want %q", line, err, want)
		}
	}
}

// What is so already is no failure, so that the commands after it are done. The desk stays.
func TestAlreadySo(t *testing.T) {
	for lines, want := range map[string]string{
		"go 1":                                 "You are on 1 Main already.",
		"send 1":                               "Ledger · one is on 1 Main already.",
		"send A of app:ledger":                 "2 windows are on monitor A already.",
		"carry 1 of #1":                        "Ledger · one is on 1 Main already.",
		"minimise of #5; minimise of #5":       "Till · five is minimised already.",
		"restore of #5":                        "Till · five is not minimised. Nothing changed by it.",
		"plug A":                               "Monitor A is plugged in already.",
		"pull C":                               "Monitor C is unplugged already.",
		"resize right 0 of #1":                 "Ledger · one: 500×760, 50% by 100% of the sheet. Nothing changed by it.",
		"layout columns":                       "Sheet A1 is laid out as columns already.",
		"layout tree of #4; group next of #4":  "Till · four and five are a group already.",
		"bare off":                             "The desk is not bare.",
		"bare on; bare on":                     "The desk is bare already.",
		"float on of #1; float on of #1":       "Ledger · one floats already.",
		"stick of #1; float on of #1":          "Ledger · one floats already.",
		"float off of #1":                      "Ledger · one is tiled already.",
		"stick on of #1; stick on of #1":       "Ledger · one shows on every workspace already.",
		"maximise on of #1; maximise on of #1": "Ledger · one is already maximised.",
		"rename \"Main\"":                      "Workspace 1 Main is called that already.",
		"rescue of #1":                         "Ledger · one is within reach already.",
	} {
		all := strings.Split(lines, "; ")
		d := after(t, read(t, two), all[:len(all)-1]...)
		next, r, err := apply(t, d, all[len(all)-1])
		if err != nil || next.Step() != d.Step() || len(d.Differs(next)) > 0 || r.Words != want {
			t.Errorf("%s: %q, %v, want %q", lines, r.Words, err, want)
		}
	}
}

// The window of a query that was used last gets the focus; from one of them it is the next.
func TestFocusAmong(t *testing.T) {
	d := after(t, read(t, two), "focus #2", "focus #4")
	for _, want := range []int{2, 1, 2} {
		if d = after(t, d, "focus of app:ledger"); d.Focus != want {
			t.Errorf("#%d has the focus, want #%d", d.Focus, want)
		}
	}
	if _, _, err := apply(t, d, "focus of app:nobody"); err == nil || err.Error() != "no window matches" {
		t.Errorf("of none it says %v", err)
	}
}

func TestLastWorkspaceStays(t *testing.T) {
	d := after(t, read(t, two), "remove last", "remove last")
	if _, _, err := apply(t, d, "remove"); err == nil || !strings.Contains(err.Error(), "the last workspace cannot be removed") {
		t.Errorf("removing the last one: %v", err)
	}
}

func TestQueries(t *testing.T) {
	d := after(t, read(t, two), "minimise of #5", "maximise of #2", "fullscreen of #6", "focus #1")
	for q, want := range map[string][]int{
		"":                              {1, 2, 3, 4, 5, 6, 7},
		"all":                           {1, 2, 3, 4, 5, 6, 7},
		"#12":                           nil,
		"#4":                            {4},
		"app:led":                       {1, 2},
		"app:=led":                      nil,
		"app:=LEDGER title:tw":          {2},
		"on:2":                          {6, 7},
		"on:9":                          nil,
		"at:B":                          {4, 5, 7},
		"on:side":                       {6, 7},
		`on:"Main" is:tiled`:            {1, 2, 4},
		"on:Nowhere":                    nil,
		"is:stray":                      {7},
		"is:lost":                       {7},
		"is:maximised or is:fullscreen": {2, 6},
		"is:minimised":                  {5},
		"is:floating":                   {3, 7},
		"is:focused":                    {1},
		"not on:1":                      {6, 7},
		"on:1 (app:till or app:radio)":  {3, 4, 5},
		"app:till or app:radio on:2":    {4, 5},
		"thr":                           {3},
		"lgr":                           {1, 2},
		`title:"o" not title:"fo"`:      {1, 2},
		"not (on:1 or is:stray)":        {6},
		"is:urgent or is:sticky or #6":  {6},
		"is:here not #1":                {2, 3, 4, 5},
		`app:="Radio" or "seven" or #1`: {1, 3, 7},
	} {
		query, err := lang.ParseQuery(q)
		if err != nil {
			t.Errorf("%s: %v", q, err)
			continue
		}
		var got []int
		for _, w := range d.Select(query) {
			got = append(got, w.ID)
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s chooses %v, want %v", q, got, want)
		}
	}
}

// What a monitor had goes to the one that is left and comes back with it, but
// for what was placed elsewhere since.
func TestMonitorGoesAndComesBack(t *testing.T) {
	d := read(t, two)
	a := desk.Monitor{Key: "scene-A", Rect: geom.R(0, 0, 1000, 800), Work: geom.R(0, 0, 1000, 760), Primary: true}
	b := desk.Monitor{Key: "scene-B", Rect: geom.R(1000, 0, 2000, 1000)}
	gone, words := d.With(desk.MonitorsAre{Monitors: []desk.Monitor{a}})
	if err := gone.Check(); err != nil {
		t.Fatal(err)
	}
	if len(words) != 1 || words[0] != "Monitor B was unplugged. 3 windows went to A." {
		t.Errorf("said %q", words)
	}
	if got, want := where(gone, 1, 2, 4, 5), "#1 A1 0,0,250,760 #2 A1 250,0,250,760 #4 A1 500,0,250,760 #5 A1 750,0,250,760"; got != want {
		t.Errorf("unplugged:\n got %s\nwant %s", got, want)
	}
	back, _ := gone.With(desk.MonitorsAre{Monitors: []desk.Monitor{a, b}})
	if err := back.Check(); err != nil {
		t.Fatal(err)
	}
	all := []int{1, 2, 3, 4, 5, 6}
	if got, want := where(back, all...), where(d, all...); got != want {
		t.Errorf("plugged in again:\n got %s\nwant %s", got, want)
	}
	moved := after(t, gone, "send 2 of #5")
	back, _ = moved.With(desk.MonitorsAre{Monitors: []desk.Monitor{b, a}})
	if got, want := where(back, 4, 5), "#4 B1 1000,0,2000,1000 #5 A2 500,0,500,760"; got != want {
		t.Errorf("one was sent meanwhile:\n got %s\nwant %s", got, want)
	}
	none, _ := d.With(desk.MonitorsAre{})
	if where(none, all...) != where(d, all...) {
		t.Error("with no monitor at all windows moved")
	}
}

func TestFacts(t *testing.T) {
	d := read(t, two)
	d, _ = d.With(desk.Opened{Window: desk.Window{ID: 20, Title: "new"}, Focus: true})
	if got, want := where(d, 1, 2, 20), "#1 A1 0,0,334,760 #2 A1 334,0,333,760 #20 A1 667,0,333,760"; got != want || d.Focus != 20 {
		t.Errorf("opened: %s, focus #%d", got, d.Focus)
	}
	d, _ = d.With(desk.Opened{Window: desk.Window{ID: 21, Parent: 4, Rect: geom.R(0, 0, 200, 100), Kind: desk.Dialog}})
	if w := d.Window(21); d.Ref(w) != "B1" || !w.Urgent || !d.Monitor('B').Work.Contains(w.Rect) {
		t.Errorf("a dialog of #4 is on %s at %v, urgent %v", d.Ref(w), w.Rect, w.Urgent)
	}
	d, _, _ = apply(t, d, "send 3 of #4")
	if got := d.Ref(d.Window(21)); got != "B3" {
		t.Errorf("its parent went to B3, the dialog is on %s", got)
	}
	d, _ = d.With(desk.Closed{ID: 4})
	if w := d.Window(21); w.Parent != 0 {
		t.Errorf("its parent is gone, and it names #%d", w.Parent)
	}
	d, _ = d.With(desk.Closed{ID: 20})
	if d.Focus != 1 {
		t.Errorf("the focused one closed: focus #%d, want #1", d.Focus)
	}
	d, _ = d.With(desk.Moved{ID: 3, Rect: geom.R(2500, 100, 400, 300)})
	if got := where(d, 3); got != "#3 B1 2500,100,400,300" {
		t.Errorf("dragged: %s", got)
	}
	d, _ = d.With(desk.WorkAreas{Work: map[byte]geom.Rect{'A': geom.R(0, 30, 1000, 700)}})
	if got := where(d, 1); got != "#1 A1 0,30,500,700" {
		t.Errorf("under a dock: %s", got)
	}
}

// A window that opens as a tile, or covering the whole work area, has the place and
// the size it asked for when it comes to float.
func TestOwnPlace(t *testing.T) {
	asked := geom.R(120, 140, 300, 200)
	for _, c := range []struct {
		name  string
		w     desk.Window
		lines []string
		want  string
	}{
		{"a tile", desk.Window{ID: 20, Rect: asked}, []string{"float"}, "#20 A1 120,140,300,200"},
		{"a tile out of reach", desk.Window{ID: 20, Rect: geom.R(-5000, 140, 300, 200)}, []string{"float"}, "#20 A1 0,140,300,200"},
		{"maximised", desk.Window{ID: 20, Rect: asked, Maximised: true}, []string{"maximise", "float"}, "#20 A1 120,140,300,200"},
		{"maximised and floating", desk.Window{ID: 20, Rect: asked, Maximised: true, Floating: true}, []string{"maximise"}, "#20 A1 120,140,300,200"},
		{"fullscreen, of one size", desk.Window{ID: 20, Rect: asked, Fullscreen: true, Fixed: true}, []string{"fullscreen"}, "#20 A1 120,140,300,200"},
	} {
		d, _ := read(t, two).With(desk.Opened{Window: c.w, Focus: true})
		for _, line := range c.lines {
			var err error
			if d, _, err = apply(t, d, line); err != nil {
				t.Fatalf("%s: %s: %v", c.name, line, err)
			}
		}
		if got := where(d, 20); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

func TestPictureStacks(t *testing.T) {
	d := read(t, two)
	d, _ = d.With(
		desk.Opened{Window: desk.Window{ID: 30, Parent: 3, Kind: desk.Dialog, Rect: geom.R(650, 500, 100, 100)}, Keep: true},
		desk.Opened{Window: desk.Window{ID: 31, Fixed: true, Rect: geom.R(10, 10, 50, 50)}, Keep: true})
	d = after(t, d, "focus #3")
	var order []int
	for _, p := range d.Picture().Windows {
		if p.Shown {
			order = append(order, p.ID)
		}
	}
	// Tiles, then floating ones, the raised parent with its dialog over it.
	if want := []int{1, 2, 4, 5, 31, 3, 30}; !reflect.DeepEqual(order, want) {
		t.Errorf("stacked %v, want %v", order, want)
	}
}

func TestCleanText(t *testing.T) {
	for in, want := range map[string]string{
		"plain":                          "plain",
		"  two   words\n":                "two words",
		"\x1b[31mred\x1b[0m":             "red",
		"\x1b]0;title\x07after":          "after",
		"\x1b]0;title\x1b\\after":        "after",
		"\u009b2Jx":                      "x",
		"a\x00b\x7fc":                    "abc",
		"\u202egnp.exe":                  "gnp.exe",
		"e\u0301":                        "é",
		"x\u0301\u0302\u0303\u0304":      "x\u0301\u0302",
		"\xff\xfe":                       "\uFFFD",
		"\U0001F469\u200d\U0001F4BB tea": "\U0001F469\U0001F4BB tea",
		"\U0001F1EB\U0001F1F7":           "FR",
		"\ue0b0":                         "\uFFFD",
	} {
		if got := desk.CleanText(in, 100); got != want {
			t.Errorf("CleanText(%q) = %q, want %q", in, got, want)
		}
	}
	if got := desk.CleanText(strings.Repeat("x", 1<<20), 10); got != "xxxxxxxxx…" {
		t.Errorf("a long text becomes %q", got)
	}
}

func FuzzCleanText(f *testing.F) {
	f.Add("\x1b]0;x\x07\x1b[1mb\u0301\u202e", 20)
	f.Fuzz(func(t *testing.T, s string, n int) {
		n = 1 + (n&0x7fffffff)%200
		got := desk.CleanText(s, n)
		if len([]rune(got)) > n {
			t.Errorf("%q is longer than %d", got, n)
		}
		for _, r := range got {
			if r < 0x20 || r >= 0x7f && r < 0xa0 || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 {
				t.Errorf("%q holds %#x", got, r)
			}
		}
		if again := desk.CleanText(got, n); again != got {
			t.Errorf("cleaned twice, %q becomes %q", got, again)
		}
	})
}

func TestMatch(t *testing.T) {
	w := func(id int, app, title string, x int) desk.Window {
		return desk.Window{ID: id, App: app, Title: title, Rect: geom.R(x, 0, 100, 100)}
	}
	for _, c := range []struct {
		name        string
		found, kept []desk.Window
		want        map[int]int
	}{
		{"by title", []desk.Window{w(1, "T", "a", 0), w(2, "T", "b", 0)}, []desk.Window{w(11, "T", "b", 0), w(12, "T", "a", 0)}, map[int]int{1: 12, 2: 11}},
		{"alike ones keep their order", []desk.Window{w(1, "T", "a", 0), w(2, "T", "a", 0)}, []desk.Window{w(11, "T", "a", 0), w(12, "T", "a", 0)}, map[int]int{1: 11, 2: 12}},
		{"alike ones by place", []desk.Window{w(1, "T", "a", 5), w(2, "T", "a", 0)}, []desk.Window{w(11, "T", "a", 0), w(12, "T", "a", 5)}, map[int]int{1: 12, 2: 11}},
		{"never another app", []desk.Window{w(1, "T", "a", 0)}, []desk.Window{w(11, "U", "a", 0)}, map[int]int{}},
		{"each once", []desk.Window{w(1, "T", "a", 0), w(2, "T", "a", 0)}, []desk.Window{w(11, "T", "a", 0)}, map[int]int{1: 11}},
	} {
		if got := desk.Match(c.found, c.kept); !reflect.DeepEqual(got, c.want) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
}

// A rule sends windows that open, but neither a dialog away from its parent nor
// a window from the place it was asked to open on.
func TestRules(t *testing.T) {
	q := desk.ByApp{Text: "Radio", Whole: true}
	d, _ := read(t, two).With(desk.Settle{Settings: desk.Settings{Rules: []desk.Rule{
		{Query: desk.ByTitle{Text: "quiet"}, NoFocus: true, Also: true},
		{Query: q, To: &desk.Arg{Kind: desk.Number, N: 3}, Float: true},
		{Query: q, Sticky: true},
	}}})
	d, _ = d.With(
		desk.Expect{Start: desk.Start{App: "Radio", Workspace: d.Workspaces[1].ID, Monitor: 'A', Asked: true}, PID: 77},
		desk.Expect{Start: desk.Start{App: "Radio", Workspace: d.Workspaces[1].ID, Monitor: 'A'}, PID: 78})
	for _, c := range []struct {
		w    desk.Window
		want string
	}{
		{desk.Window{ID: 20, App: "Radio"}, "A3"},
		{desk.Window{ID: 21, App: "Radio", Parent: 6}, "A2"},
		{desk.Window{ID: 22, App: "Radio", PID: 77}, "A2"},
		{desk.Window{ID: 23, App: "Radio", PID: 78}, "A3"}, // started from there, and no more
		{desk.Window{ID: 24, App: "Other"}, "A1"},
	} {
		next, _ := d.With(desk.Opened{Window: c.w, Focus: true})
		w := next.Window(c.w.ID)
		if got := next.Ref(w); got != c.want || w.Sticky || w.App == "Radio" && !w.Floating {
			t.Errorf("#%d opens on %s, want %s: %+v", c.w.ID, got, c.want, w)
		}
	}
	quiet := &desk.Window{ID: 30, App: "Radio", Title: "quiet"}
	if r := d.Rule(quiet); !r.NoFocus || r.To == nil || fmt.Sprint(r.Matched, r.Used) != "[0 1 2] [0 1]" {
		t.Errorf("the ruling is %+v", r)
	}
}

// Rules are looked up by the app: what is found is what all of them give, one by one.
func TestRulesByApp(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	apps := []string{"Ledger", "ledger-gui", "Radio", "Hall Plan", ""}
	var query func(deep int) desk.Query
	query = func(deep int) desk.Query {
		switch n := r.IntN(8); {
		case n < 3 || deep == 0:
			return desk.ByApp{Text: []string{"led", "Ledger", "radio", "a", "none"}[r.IntN(5)], Whole: r.IntN(3) == 0}
		case n == 3:
			return desk.ByTitle{Text: "1"}
		case n == 4:
			return desk.Not{Q: query(deep - 1)}
		case n == 5:
			return desk.All{}
		case n == 6:
			return desk.Or{Qs: []desk.Query{query(deep - 1), query(deep - 1)}}
		}
		return desk.And{Qs: []desk.Query{query(deep - 1), query(deep - 1)}}
	}
	d := read(t, two)
	for round := range 40 {
		rules := make([]desk.Rule, r.IntN(60))
		for i := range rules {
			rules[i] = desk.Rule{Query: query(3), Also: r.IntN(4) > 0}
		}
		if round%4 > 0 {
			d, _ = d.With(desk.Settle{Settings: desk.Settings{Rules: rules}})
		} else {
			d.Settings.Rules = rules // of which the desk has not been told
		}
		for range 30 {
			w := &desk.Window{ID: 900, App: apps[r.IntN(len(apps))], Class: apps[r.IntN(len(apps))], Title: fmt.Sprint(r.IntN(3))}
			var want []int
			for i, rule := range rules {
				if d.Matches(rule.Query, w) {
					want = append(want, i)
				}
			}
			if got := d.Rule(w).Matched; !slices.Equal(got, want) {
				t.Fatalf("round %d: of %q (%q) the rules %v match, and not %v", round, w.App, w.Class, got, want)
			}
		}
	}
}

// A command that no grammar writes is an error, and never a panic.
func TestFaultInside(t *testing.T) {
	d := desks.Demo(t)
	next, _, err := d.Apply(desk.Command{Verb: "go"})
	var fault *desk.Breakdown
	if next != d || !errors.As(err, &fault) || !strings.Contains(fault.Stack, "goTo") || strings.Contains(err.Error(), "goroutine") {
		t.Errorf("go without a target gives %v", err)
	}
}

// Windows that float are where they were, and as large, when their monitor has its size
// again, whatever it had meanwhile; unless they were placed then.
func TestModes(t *testing.T) {
	d := desks.Demo(t)
	for _, line := range []string{"go 1", "float of #11", "float of #12", "snap left of #11", "layout free"} {
		d = run(t, d, line)
	}
	screens := slices.Clone(d.Plugged())
	as := func(d *desk.Desk, w, h int) *desk.Desk {
		t.Helper()
		ms := slices.Clone(screens)
		if ms[0].Rect = geom.R(0, 0, w, h); w > 0 {
			ms[0].Work = geom.Rect{} // which the host tells after it
		} else {
			ms = screens
		}
		d, _ = d.With(desk.MonitorsAre{Monitors: ms})
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
		return d
	}
	now := d
	for _, size := range [][2]int{{1280, 720}, {800, 600}, {1024, 768}, {0, 0}, {640, 480}, {0, 0}} {
		now = as(now, size[0], size[1])
	}
	for _, w := range d.Windows {
		if o := now.Window(w.ID); o.Rect != w.Rect || o.Before != (desk.Before{}) {
			t.Errorf("%s is %v, and was %v", w.Title, o.Rect, w.Rect)
		}
	}
	now = as(d, 1280, 720)
	moved := run(t, now, "nudge right 40 of #12").Window(12).Rect
	if now = as(run(t, now, "nudge right 40 of #12"), 0, 0); now.Window(12).Rect == d.Window(12).Rect {
		t.Errorf("one that was placed at %v goes back to %v", moved, now.Window(12).Rect)
	}
}

// A window that opens fullscreen moves no tile, and floats when it is that no longer; one
// that wants no focus is not urgent, and another that may not have it is.
func TestOpensFullscreen(t *testing.T) {
	d := run(t, desks.Demo(t), "go 3")
	tiles := map[int]geom.Rect{}
	for _, w := range d.Windows {
		if d.Visible(w) && d.Tiled(w) {
			tiles[w.ID] = w.Rect
		}
	}
	d, _ = d.With(desk.Opened{Window: desk.Window{ID: 900, App: "Game", Rect: geom.R(10, 10, 800, 600), Fullscreen: true}, Focus: true})
	if w := d.Window(900); w.Rect != d.Monitor(w.Monitor).Rect || d.Focus != 900 {
		t.Errorf("it is at %v", w.Rect)
	}
	d = run(t, d, "fullscreen off of #900")
	if w := d.Window(900); d.Tiled(w) || w.Rect.W != 800 || w.Rect.H != 600 {
		t.Errorf("afterwards it is at %v, tiled %v", w.Rect, d.Tiled(w))
	}
	for id, r := range tiles {
		if got := d.Window(id).Rect; got != r {
			t.Errorf("#%d is at %v, and was at %v", id, got, r)
		}
	}
	for quiet, urgent := range map[bool]bool{true: false, false: true} {
		next, _ := d.With(desk.Opened{Window: desk.Window{ID: 901, App: "Player", Rect: geom.R(10, 10, 300, 200)}, Quiet: quiet})
		if next.Window(901).Urgent != urgent {
			t.Errorf("one that opens quiet %v is urgent %v", quiet, !urgent)
		}
	}
	if err := d.Check(); err != nil {
		t.Error(err)
	}
}
