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
)

// nested is one monitor of 1000 by 800 with a tree: 1 on the left, and on the
// right 2 over 3 and 4 side by side; 5 floats.
const nested = `{"format": "zealous-atlas/scene/1",
 "monitors": [{"letter": "A", "rect": [0, 0, 1000, 800]}, {"letter": "B", "rect": [1000, 0, 500, 400]}],
 "workspaces": [{"sheets": {"A": {"layout": "tree", "floating": [5], "tree":
   {"across": [{"window": 1}, {"down": [{"window": 2}, {"across": [{"window": 3}, {"window": 4}]}]}]}}}}],
 "windows": [{"id": 1, "app": "a"}, {"id": 2, "app": "b"}, {"id": 3, "app": "c"}, {"id": 4, "app": "d"},
   {"id": 5, "app": "e", "rect": [100, 100, 301, 201]}],
 "shown": {"A": 1}, "at": "A", "focus": 3}`

// A window leaves its tabs before it passes their neighbour.
func TestMoveOutOfANest(t *testing.T) {
	const nest = `{"format": "zealous-atlas/scene/1", "monitors": [{"letter": "A", "rect": [0, 0, 900, 800]}],
		"workspaces": [{"sheets": {"A": {"tree": {"across": [{"window": 1}, {"tabs": [{"window": 3}, {"window": 2}]}]}}}}],
		"windows": [{"id": 1}, {"id": 2}, {"id": 3}], "shown": {"A": 1}, "focus": 3}`
	for lines, want := range map[string][]int{"move left": {1, 3, 2}, "move left; move left": {3, 1, 2}} {
		d, _, err := apply(t, read(t, nest), strings.Split(lines, "; ")...)
		if got := d.Sheet(0, 'A').Tiles.Windows(); err != nil || !slices.Equal(got, want) {
			t.Errorf("%s: %v, want %v, %v", lines, got, want, err)
		}
	}
}

// restore without windows brings back the one that was minimised last.
func TestRestoreLast(t *testing.T) {
	d, _, err := apply(t, read(t, two), "minimise of #2", "minimise of #5", "minimise of #1", "focus #3", "restore")
	if err != nil || d.Window(1).Minimised || !d.Window(5).Minimised || d.Focus != 1 {
		t.Fatalf("restored are %v, #%d has the focus, %v", d.Window(1), d.Focus, err)
	}
	if d, _, err = apply(t, d, "restore", "restore"); err != nil || d.Window(5).Minimised || d.Window(2).Minimised {
		t.Fatal("the others were not restored in turn")
	}
	if _, _, err = apply(t, d, "restore"); err == nil {
		t.Error("where nothing is minimised, something was restored")
	}
}

func TestArrange(t *testing.T) {
	start := "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 500,400,250,400 #4 A1 750,400,250,400 #5 A1 100,100,301,201"
	for _, c := range []struct{ lines, want string }{
		{"go 1", start},
		{"swap left", "#1 A1 500,400,250,400 #2 A1 500,0,500,400 #3 A1 0,0,500,800 #4 A1 750,400,250,400"},
		{"swap up", "#1 A1 0,0,500,800 #2 A1 500,400,250,400 #3 A1 500,0,500,400 #4 A1 750,400,250,400"},
		{"swap next of #4", "#1 A1 750,400,250,400 #2 A1 500,0,500,400 #3 A1 500,400,250,400 #4 A1 0,0,500,800"},
		{"move right", "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 750,400,250,400 #4 A1 500,400,250,400"},
		{"move up", "#1 A1 0,0,500,800 #2 A1 500,0,500,267 #3 A1 500,267,500,267 #4 A1 500,534,500,266"},
		{"move left of #3", "#1 A1 0,0,334,800 #2 A1 667,0,333,400 #3 A1 334,0,333,800 #4 A1 667,400,333,400"},
		{"move right of #4", "#1 A1 0,0,334,800 #2 A1 334,0,333,400 #3 A1 334,400,333,400 #4 A1 667,0,333,800"},
		{"move right of #4; move right of #4", "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 500,400,500,400 #4 B1 1000,0,500,400"},
		{"turn", "#3 A1 500,400,500,200 #4 A1 500,600,500,200"},
		{"turn of #2", "#2 A1 750,0,250,800 #3 A1 500,0,250,400 #4 A1 500,400,250,400"},
		{"mirror", "#3 A1 750,400,250,400 #4 A1 500,400,250,400"},
		{"mirror of #1", "#1 A1 500,0,500,800 #2 A1 0,0,500,400 #3 A1 250,400,250,400 #4 A1 0,400,250,400"},
		{"resize left 40", "#1 A1 0,0,460,800 #2 A1 460,0,540,400"},
		{"resize right 40", "#3 A1 500,400,290,400 #4 A1 790,400,210,400"},
		{"resize down 100", "#2 A1 500,0,500,300 #3 A1 500,300,250,500"}, // the sheet's own edge: the other one moves
		{"resize up -50", "#2 A1 500,0,500,450 #3 A1 500,450,250,350"},
		{"resize right 9999", "#3 A1 500,400,452,400 #4 A1 952,400,48,400"},
		{"resize right 40; even", "#3 A1 500,400,250,400 #4 A1 750,400,250,400"},
		{"resize left 40; even all", start},
		{"group up", "#1 A1 0,0,500,800 #2 A1 500,0,500,200 #3 A1 500,200,500,200 #4 A1 500,400,500,400"},
		{"group left; mirror", "#1 A1 250,0,250,800 #2 A1 500,0,500,400 #3 A1 0,0,250,800 #4 A1 500,400,500,400"},
		{"ungroup", "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 500,400,500,200 #4 A1 500,600,500,200"},
		{"ungroup of #2", "#1 A1 0,0,500,800 #2 A1 500,0,250,800 #3 A1 750,0,125,800 #4 A1 875,0,125,800"},
		{"ungroup all", "#1 A1 0,0,250,800 #2 A1 250,0,250,800 #4 A1 750,0,250,800"},
		{"maximise", "#3 A1 0,0,1000,800 #4 A1 750,400,250,400"},
		{"maximise of #5", "#5 A1 0,0,1000,800"},
		{"fullscreen of #5; fullscreen of #5", start},
		{"maximise of #5; send B of #5; maximise of #5", "#5 B1 1028,33,301,201"},
		{"snap left of #5", "#5 A1 0,0,500,800"},
		{"snap bottomright of #5", "#5 A1 500,400,500,400"},
		{"snap middle of #5", "#5 A1 250,200,500,400"},
		{"snap 3x1 2 3 of #5", "#5 A1 333,0,667,800"},
		{"snap left third of #5", "#5 A1 0,0,333,800"},
		{"snap middle third of #5", "#5 A1 333,0,333,800"},
		{"snap right third of #5", "#5 A1 666,0,334,800"},
		{"snap left two-thirds of #5", "#5 A1 0,0,666,800"},
		{"snap right three-quarters of #5", "#5 A1 250,0,750,800"},
		{"snap top quarter of #5", "#5 A1 0,0,1000,200"},
		{"snap bottom third of #5", "#5 A1 0,533,1000,267"},
		// A snapped pair shares its edge.
		{"snap left of #5; snap right of #1; resize right 60 of #5", "#1 A1 560,0,440,800 #5 A1 0,0,560,800"},
		{"snap left of #5; snap right of #1; resize left -10% of #1", "#1 A1 600,0,400,800 #5 A1 0,0,600,800"},
		{"snap left of #5; snap topright of #1; snap bottomright of #2; resize right -100 of #5", "#1 A1 400,0,600,400 #2 A1 400,400,600,400 #5 A1 0,0,400,800"},
		{"snap left of #5; snap right of #1; nudge right 5 of #1; resize right 60 of #5", "#1 A1 505,0,500,800 #5 A1 0,0,560,800"},
		{"snap left of #5; snap right of #1; float of #1; float of #1; resize right 60 of #5", "#1 A1 500,0,500,800 #5 A1 0,0,560,800"}, // one was tiled since
		{"snap left of #5; snap right of #1; resize right 9999 of #5", "#1 A1 952,0,48,800 #5 A1 0,0,952,800"},
		{"snap 4x2 7 2 of #5", "#5 A1 250,0,500,800"},
		{"snap top of #1", "#1 A1 0,0,1000,400 #2 A1 0,0,1000,400 #3 A1 0,400,500,400"},
		{"layout columns; turn", "#1 A1 0,0,1000,200 #2 A1 0,200,1000,200 #3 A1 0,400,1000,200 #4 A1 0,600,1000,200"},
		{"layout rows; turn", "#1 A1 750,0,250,800 #4 A1 0,0,250,800"},
		// A group is the subject.
		{"swap up of #3 or #4", "#2 A1 500,400,500,400 #3 A1 500,0,250,400 #4 A1 750,0,250,400"},
		{"swap left of #4 or #3", "#1 A1 500,400,500,400 #3 A1 0,0,250,800 #4 A1 250,0,250,800"},
		{"move left of #3 or #4", "#1 A1 0,0,334,800 #2 A1 667,0,333,800 #3 A1 334,0,167,800 #4 A1 501,0,166,800"},
		{"turn of #2 or #3 or #4", "#1 A1 0,0,500,800 #2 A1 750,0,250,800 #3 A1 500,0,250,400 #4 A1 500,400,250,400"},
		{"mirror of #3 or #4", "#3 A1 750,400,250,400 #4 A1 500,400,250,400"},
		{"resize left 40 of #3 or #4", "#1 A1 0,0,460,800 #2 A1 460,0,540,400 #3 A1 460,400,270,400"},
		{"resize up 10% of #3 or #4", "#2 A1 500,0,500,320 #3 A1 500,320,250,480 #4 A1 750,320,250,480"},
		{"ungroup of #3 or #4", "#2 A1 500,0,500,400 #3 A1 500,400,500,200 #4 A1 500,600,500,200"},
		{"group next of #1", "#1 A1 0,0,500,400 #2 A1 500,0,500,400 #3 A1 0,400,500,400 #4 A1 500,400,500,400"},
		{"send B of #2; send B of #3 or #4", "#2 B1 1000,0,250,400 #3 B1 1250,0,125,400 #4 B1 1375,0,125,400"},
		{"minimise of #3 or #4; restore of #3; restore of #4", start},
		// Piles and tabs.
		{"layout tabs", "#1 A1 0,24,1000,776 #4 A1 0,24,1000,776"},
		{"layout pile", "#1 A1 0,24,1000,776 #4 A1 0,24,1000,776"},
		{"layout tabs of #3 or #4", "#2 A1 500,0,500,400 #3 A1 500,424,500,376 #4 A1 500,424,500,376"},
		{"layout pile of #3 or #4", "#3 A1 500,424,500,376 #4 A1 500,424,500,376"},
		{"layout rows of #3 or #4", "#3 A1 500,400,500,200 #4 A1 500,600,500,200"},
		{"layout tabs of #3 or #4; layout columns of #3 or #4", start},
		{"layout tabs of #3 or #4; move down of #2", "#2 A1 500,24,500,776 #3 A1 500,24,500,776"},          // into the tabs
		{"layout tabs of #3 or #4; move left of #4", "#4 A1 500,424,500,376"},                              // within them
		{"layout tabs of #3 or #4; move up of #4", "#2 A1 500,0,500,267 #4 A1 500,267,500,267"},            // out of them, not past their neighbour
		{"layout tabs of #3 or #4; swap right of #3; layout columns of #3 or #4", "#3 A1 750,400,250,400"}, // their order
		{"put up #1", "#1 A1 0,400,500,400 #2 A1 500,0,500,400 #3 A1 0,0,500,400 #4 A1 500,400,500,400"},
		{"put left #2 of #4", "#1 A1 0,0,500,800 #2 A1 750,0,250,400 #3 A1 500,400,500,400 #4 A1 500,0,250,400"},
		{"put onto #1", "#1 A1 500,400,250,400 #3 A1 0,0,500,800"},
		{"put right A of #1", "#1 A1 500,0,500,800 #2 A1 0,0,500,400 #3 A1 0,400,250,400"},
		{"put down A of #3 or #4", "#1 A1 0,0,500,400 #2 A1 500,0,500,400 #3 A1 0,400,500,400 #4 A1 500,400,500,400"},
		{"send B of #1; put up #1 of #3 or #4", "#1 B1 1000,200,500,200 #3 B1 1000,0,250,200 #4 B1 1250,0,250,200"},
		{"put left B", "#3 B1 1000,0,500,400"},
		{"layout tabs of #3 or #4; put onto #4 of #1", "#1 A1 0,424,1000,376 #2 A1 0,0,1000,400"},
		{"layout tabs of #3 or #4; put left #4 of #3", "#3 A1 500,400,250,400 #4 A1 750,400,250,400"}, // out of them
		{"layout tabs of #3 or #4; group right of #1", "#1 A1 0,400,500,400 #2 A1 0,0,1000,400 #3 A1 500,424,500,376"},
		{"layout columns; put left #1 of #4", "#1 A1 250,0,250,800 #2 A1 500,0,250,800 #3 A1 750,0,250,800 #4 A1 0,0,250,800"},
		{"layout columns; put right A of #1", "#1 A1 750,0,250,800 #2 A1 0,0,250,800 #3 A1 250,0,250,800 #4 A1 500,0,250,800"},
		{"layout lead 2", "#1 A1 0,0,600,400 #2 A1 0,400,600,400 #3 A1 600,0,400,400 #4 A1 600,400,400,400"},
		{"layout lead 4", "#1 A1 0,0,1000,200 #4 A1 0,600,1000,200"},
		// What leaves the tiles for a while comes back to its place.
		{"float of #4; float of #4", start},
		{"minimise of #2; restore of #2", start},
		{"minimise of #1; restore of #1", start},
		{"stick of #2; stick of #2", start},
		{"resize left 40 of #4; float of #4; float of #4", "#3 A1 500,400,210,400 #4 A1 710,400,290,400"},
		{"minimise of #2; minimise of #1; restore of #1; restore of #2", start},
		{"float of #4; send B of #3; float of #4", "#4 A1 500,400,500,400"}, // its neighbour is gone: as a new window
		{"layout lead; share -20", "#1 A1 0,0,400,800 #2 A1 400,0,600,267"},
	} {
		d := after(t, read(t, nested), strings.Split(c.lines, "; ")...)
		var ids []int
		for _, part := range strings.Split(c.want, "#")[1:] {
			var id int
			fmt.Sscan(part, &id)
			ids = append(ids, id)
		}
		if got := where(d, ids...); got != c.want {
			t.Errorf("%s:\n%s\nwant\n%s", c.lines, got, c.want)
		}
	}
	for _, line := range []string{"swap left of #1", "swap left of #5", "turn of #5", "snap 4x2 1 9 of #5", "move left of #1", "mirror of #5", "nudge left of #1", "share +5 of #5", "group down", "ungroup of #1",
		"swap left of #2 or #3", "turn of #1 or #5", "layout tabs; resize left 5%", "layout tabs; turn"} {
		if _, _, err := apply(t, read(t, nested), strings.Split(line, "; ")...); err == nil {
			t.Errorf("%s did not fail", line)
		}
	}
}

// A window whose tile has no room has a size once it has no tile.
func TestNoRoomForATile(t *testing.T) {
	small := geom.R(0, 0, 100, 100)
	d, err := desk.New([]desk.Monitor{{Key: "one", Letter: 'A', Rect: small, Work: small, Primary: true, Connected: true}}, desk.Settings{Gap: 60})
	if err != nil {
		t.Fatal(err)
	}
	for id := 1; id <= 2; id++ {
		d, _ = d.With(desk.Opened{Window: desk.Window{ID: id, App: "App"}})
	}
	for _, line := range []string{"float of #1", "layout free", "stick of #1"} {
		if got := after(t, d, line).Window(1).Rect; got.Empty() {
			t.Errorf("after %s it is at %v", line, got)
		}
	}
}

// One window of a pile or of tabs shows: the one that had the focus last. The
// focus goes through them as the headings lie, and past them at their ends.
func TestPiles(t *testing.T) {
	type seen struct {
		focus    int
		top      int // of the windows of the pile
		headings string
	}
	for _, c := range []struct {
		lines string
		want  seen
	}{
		{"layout tabs of #3 or #4", seen{3, 3, "*3 500,400,250,24 4 750,400,250,24"}},
		{"layout tabs of #3 or #4; focus right", seen{4, 4, "3 500,400,250,24 *4 750,400,250,24"}},
		{"layout tabs of #3 or #4; focus right; focus left", seen{3, 3, "*3 500,400,250,24 4 750,400,250,24"}},
		{"layout tabs of #3 or #4; focus left", seen{1, 3, "*3 500,400,250,24 4 750,400,250,24"}},
		{"layout tabs of #3 or #4; focus #4; focus up; focus down", seen{4, 4, "3 500,400,250,24 *4 750,400,250,24"}}, // the one that shows
		{"layout pile of #3 or #4; focus down", seen{4, 4, "3 500,400,12,24 *4 512,400,488,24"}},
		{"layout pile of #3 or #4; focus up", seen{2, 3, "*3 500,400,488,24 4 988,400,12,24"}},
		{"layout tabs of #3 or #4; layout pile of #2 or #3 or #4", seen{3, 3, "2 500,0,12,24 *3+1 512,0,488,24 *3 500,24,250,24 4 750,24,250,24"}},
		{"layout tabs of #3 or #4; layout pile of #2 or #3 or #4; focus up", seen{2, 3, "*2 500,0,488,24 3+1 988,0,12,24"}},
		{"layout columns", seen{3, 4, ""}},
	} {
		d := after(t, read(t, nested), strings.Split(c.lines, "; ")...)
		got := seen{focus: d.Focus}
		for _, w := range d.Picture().Windows {
			if w.ID == 3 || w.ID == 4 {
				got.top = w.ID
			}
		}
		var hs []string
		for _, h := range d.Headers(0, 'A') {
			s := fmt.Sprintf("%d %d,%d,%d,%d", h.Window, h.Rect.X, h.Rect.Y, h.Rect.W, h.Rect.H)
			if h.More > 0 {
				s = strings.Replace(s, " ", fmt.Sprintf("+%d ", h.More), 1)
			}
			if h.Active {
				s = "*" + s
			}
			hs = append(hs, s)
		}
		if got.headings = strings.Join(hs, " "); got != c.want {
			t.Errorf("%s:\n got %+v\nwant %+v", c.lines, got, c.want)
		}
	}
}

// Where a window is let go stands for a command.
func TestDrop(t *testing.T) {
	for _, c := range []struct {
		before string
		id     int
		x, y   int
		want   string // the command; empty for none
	}{
		{"", 5, 0, 400, "snap left of #5"},
		{"", 5, 11, 50, "snap topleft of #5"},
		{"", 5, 12, 400, ""},
		{"", 5, 990, 799, "snap bottomright of #5"},
		{"", 5, 500, 0, "snap top of #5"},
		{"", 5, 1499, 200, ""}, // most of it is on A
		{"", 5, 3000, 200, ""},
		{"", 3, 0, 400, "put left A of #3"},
		{"", 3, 700, 795, "put down A of #3"},
		{"", 3, 999, 3, "put right A of #3"},
		{"", 3, 250, 100, "put up #1 of #3"},
		{"", 3, 250, 400, "put onto #1 of #3"},
		{"", 3, 520, 200, "put left #2 of #3"},
		{"", 3, 600, 600, ""},                                          // its own place
		{"", 3, 1250, 200, "put left B of #3"},                         // an empty sheet
		{"layout tabs of #3 or #4", 3, 990, 600, "put right A of #3"},  // the edge of the monitor
		{"layout tabs of #3 or #4", 3, 950, 600, "put right #4 of #3"}, // out of the tabs
		{"layout tabs of #3 or #4", 3, 750, 600, ""},                   // it shows there
		{"layout tabs of #3 or #4", 1, 760, 410, "put onto #4 of #1"},  // a heading
		{"layout tabs of #3 or #4", 1, 750, 600, "put onto #3 of #1"},  // the one that shows
		{"layout tabs of #3 or #4; focus right", 2, 750, 600, "put onto #4 of #2"},
		{"maximise", 3, 250, 400, ""},
	} {
		d := read(t, nested)
		if c.before != "" {
			var err error
			if d, _, err = apply(t, d, strings.Split(c.before, "; ")...); err != nil {
				t.Fatal(err)
			}
		}
		got := ""
		if command, ok := d.Drop(c.id, geom.Point{X: c.x, Y: c.y}); ok {
			got = lang.Print(command)
			if _, _, err := d.Apply(command); err != nil {
				t.Errorf("%s: %v", got, err)
			}
		}
		if got != c.want {
			t.Errorf("%s: #%d let go at %d,%d: %q, want %q", c.before, c.id, c.x, c.y, got, c.want)
		}
	}
}

// A selection widens to the group around it, and to the whole sheet.
func TestAround(t *testing.T) {
	d := read(t, nested)
	for _, c := range []struct{ of, want []int }{
		{[]int{3}, []int{3, 4}},
		{[]int{4, 3}, []int{2, 3, 4}},
		{[]int{2, 3}, []int{2, 3, 4}},
		{[]int{2, 3, 4}, []int{1, 2, 3, 4}},
		{[]int{1, 2, 3, 4}, nil},
		{[]int{1}, []int{1, 2, 3, 4}},
		{[]int{5}, nil},
		{nil, nil},
	} {
		if got := d.Around(c.of); !slices.Equal(got, c.want) {
			t.Errorf("around %v: %v, want %v", c.of, got, c.want)
		}
	}
}

// At the edge of the outermost monitor, move goes to the next workspace where
// the settings say so.
func TestMoveOverTheEdge(t *testing.T) {
	d, _ := read(t, nested).With(desk.Settle{Settings: desk.Settings{EdgeGoes: true}})
	d = after(t, d, "add", "move right of #4", "move right of #4", "move right of #4")
	if got, want := where(d, 4), "#4 B2 1000,0,500,400"; got != want || d.Current() != 1 {
		t.Errorf("%s on workspace %d, want %s on 2", got, d.Current()+1, want)
	}
	if d, _, err := apply(t, d, "go 1", "focus #1", "focus right", "focus right", "focus right"); err != nil || d.Current() != 1 {
		t.Errorf("the focus goes to workspace %d: %v, want 2", d.Current()+1, err)
	}
	for _, line := range []string{"move left of #1", "focus left"} {
		if _, _, err := apply(t, read(t, nested), "focus #1", line); err == nil {
			t.Errorf("without the setting %s went over the edge", line)
		}
	}
}

// What is done and its opposite give the same sheet.
func TestOpposites(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for n := range 200 {
		d := read(t, nested)
		for i := range rng.IntN(8) {
			d, _ = d.With(desk.Opened{Focus: true, Window: desk.Window{ID: 20 + i, App: "x"}})
			if rng.IntN(2) == 0 {
				if next, _, err := d.Apply(desk.Command{Verb: "turn"}); err == nil {
					d = next
				}
			}
		}
		tiles := d.Sheet(0, 'A').Tiles.Windows()
		id := tiles[rng.IntN(len(tiles))]
		of := fmt.Sprintf(" of #%d", id)
		for _, lines := range [][]string{
			{"swap next", "swap prev"}, {"mirror", "mirror"}, {"turn", "turn", "turn", "turn"}, {"maximise", "maximise"}, {"fullscreen", "fullscreen"},
			{"float", "float"}, {"minimise", "restore"}, {"stick", "stick"}, {"layout tabs", "undo"}, {"layout pile", "undo"}, {"layout lead 2", "undo"},
			{"turn", "undo"}, {"move right", "undo"}, {"even all", "undo"}, {"snap left", "undo"}, {"layout columns", "undo"}, {"resize right 30", "undo"}, {"gaps off", "gaps on"},
		} {
			next, failed := d, false
			for _, line := range lines {
				if line == "undo" && next.Step() == d.Step() {
					continue // nothing was changed
				}
				if line != "undo" {
					line += of
				}
				after, _, err := apply(t, next, line)
				if failed = failed || err != nil; !failed {
					next = after
				}
			}
			// The two that swap are named by their place, so the way back names the other.
			if lines[0] == "swap next" || failed {
				continue
			}
			if got, want := where(next, tiles...), where(d, tiles...); got != want {
				t.Fatalf("case %d, %v%s:\n%s\nwant\n%s", n, lines, of, got, want)
			}
		}
		roundTrip(t, d)
	}
}

// generated is a random tree of a scene, of all kinds of groups, and its windows.
func generated(rng *rand.Rand, next *int, depth int) string {
	share := fmt.Sprintf(`"share": %d`, 1+rng.IntN(9))
	if depth == 0 || rng.IntN(3) == 0 {
		*next++
		return fmt.Sprintf(`{"window": %d, %s}`, *next, share)
	}
	var kids []string
	for range 2 + rng.IntN(3) {
		kids = append(kids, generated(rng, next, depth-1))
	}
	return fmt.Sprintf(`{"%s": [%s], %s}`, []string{"across", "down", "across", "down", "pile", "tabs"}[rng.IntN(6)], strings.Join(kids, ", "), share)
}

// Two hundred trees: the scene written and read again, and laid out again, is
// the same to the pixel, headings too; and after every window of it was widened
// to its groups and sent away and back by undo.
func TestGeneratedTrees(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	for n := range 200 {
		last := 0
		tree := generated(rng, &last, 1+n%4)
		var windows []string
		for id := range last {
			windows = append(windows, fmt.Sprintf(`{"id": %d, "app": "a", "used": %d}`, id+1, rng.IntN(9)))
		}
		text := fmt.Sprintf(`{"format": "zealous-atlas/scene/1", "settings": {"gap": %d},
 "monitors": [{"letter": "A", "rect": [%d, -40, %d, %d]}, {"letter": "B", "rect": [9000, 0, 800, 600]}],
 "workspaces": [{"sheets": {"A": {"layout": "tree", "tree": %s}}}], "windows": [%s], "shown": {"A": 1}, "at": "A", "clock": 9}`,
			rng.IntN(3)*7, rng.IntN(200), 300+rng.IntN(3000), 300+rng.IntN(2000), tree, strings.Join(windows, ", "))
		d := read(t, text)
		ids := d.Sheet(0, 'A').Tiles.Windows()
		want, headings := where(d, ids...), fmt.Sprint(d.Headers(0, 'A'))
		again := roundTrip(t, d)
		if got := where(again, ids...); got != want || fmt.Sprint(again.Headers(0, 'A')) != headings {
			t.Fatalf("case %d: written and read, it is\n%s\nwant\n%s", n, got, want)
		}
		block := []int{ids[rng.IntN(len(ids))]}
		for block != nil {
			of := " of #" + strings.Trim(strings.ReplaceAll(fmt.Sprint(block), " ", " or #"), "[]")
			back := after(t, d, "send B"+of, "undo")
			outside := slices.DeleteFunc(slices.Clone(ids), func(id int) bool { return slices.Contains(block, id) })
			for _, verb := range []string{"turn", "mirror", "even", "layout rows", "layout tabs", "layout columns"} {
				if len(block) < 2 || len(outside) == 0 {
					break // a window's verbs are about the group around it
				}
				changed := after(t, d, verb+of)
				if got, want := where(changed, outside...), where(d, outside...); got != want {
					t.Fatalf("case %d: %s%s stirs what lies outside:\n%s\nwant\n%s", n, verb, of, got, want)
				}
			}
			if got := where(back, ids...); got != want {
				t.Fatalf("case %d: sent and undone%s:\n%s\nwant\n%s", n, of, got, want)
			}
			block = d.Around(block)
		}
	}
}

func TestSplitAndGaps(t *testing.T) {
	d := after(t, read(t, nested), "split across of #2", "focus #2")
	roundTrip(t, d)
	next, ok := d.NextPlace(0, 'A')
	d, _ = d.With(desk.Opened{Focus: true, Window: desk.Window{ID: 9, App: "n"}})
	if got := d.Window(9).Rect; !ok || got != next {
		t.Errorf("it was to open at %v, %t, and did at %v", next, ok, got)
	}
	for _, way := range []string{"layout pile", "layout free", "float of all"} {
		if over, _, err := apply(t, d, way); err != nil {
			t.Error(err)
		} else if r, ok := over.NextPlace(0, 'A'); ok {
			t.Errorf("after %s the next one is to open at %v", way, r)
		}
	}
	if got, want := where(d, 2, 9), "#2 A1 500,0,250,400 #9 A1 750,0,250,400"; got != want {
		t.Errorf("split across: %s, want %s", got, want)
	}
	if s := d.Sheet(0, 'A'); s.Next != layout.Leaf {
		t.Errorf("the choice stays: %v", s.Next)
	}
	d, _ = read(t, nested).With(desk.Settle{Settings: desk.Settings{Gap: 10}})
	if got, want := where(d, 1, 3), "#1 A1 10,10,485,780 #3 A1 505,405,238,385"; got != want {
		t.Errorf("with gaps: %s, want %s", got, want)
	}
	if toggled, _, err := apply(t, d, "gaps", "gaps", "gaps"); err != nil || where(toggled, 1, 3) != where(read(t, nested), 1, 3) {
		t.Errorf("gaps three times: %s, %v", where(toggled, 1, 3), err)
	}
	if d, _, err := apply(t, d, "gaps off"); err != nil || where(d, 1, 3) != where(read(t, nested), 1, 3) {
		t.Errorf("gaps off: %s, %v", where(d, 1, 3), err)
	}
}

func TestDefaultLayout(t *testing.T) {
	d, _ := read(t, nested).With(desk.Settle{Settings: desk.Settings{Layout: layout.Lead}})
	d = after(t, d, "add", "send 2 of #1", "send 2 of #2", "send 2 of #3")
	if got, want := where(d, 1, 2, 3), "#1 A2 0,0,600,800 #2 A2 600,0,400,400 #3 A2 600,400,400,400"; got != want {
		t.Errorf("on a new sheet: %s, want %s", got, want)
	}
	if d.Sheet(0, 'A').Layout != layout.Tree {
		t.Error("a sheet that was there changed")
	}
}
