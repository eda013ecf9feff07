package desk_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zatlas/internal/desk"
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

func TestArrange(t *testing.T) {
	start := "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 500,400,250,400 #4 A1 750,400,250,400 #5 A1 100,100,301,201"
	for _, c := range []struct{ lines, want string }{
		{"go 1", start},
		{"swap left", "#1 A1 500,400,250,400 #2 A1 500,0,500,400 #3 A1 0,0,500,800 #4 A1 750,400,250,400"},
		{"swap up", "#1 A1 0,0,500,800 #2 A1 500,400,250,400 #3 A1 500,0,500,400 #4 A1 750,400,250,400"},
		{"swap next of #4", "#1 A1 750,400,250,400 #2 A1 500,0,500,400 #3 A1 500,400,250,400 #4 A1 0,0,500,800"},
		{"move right", "#1 A1 0,0,500,800 #2 A1 500,0,500,400 #3 A1 750,400,250,400 #4 A1 500,400,250,400"},
		{"move up", "#1 A1 0,0,500,800 #2 A1 500,267,500,267 #3 A1 500,0,500,267 #4 A1 500,534,500,266"},
		{"move left of #3", "#1 A1 334,0,333,800 #2 A1 667,0,333,400 #3 A1 0,0,334,800 #4 A1 667,400,333,400"},
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
		{"resize right 9999", "#3 A1 500,400,499,400 #4 A1 999,400,1,400"},
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
		{"snap 4x2 7 2 of #5", "#5 A1 250,0,500,800"},
		{"snap top of #1", "#1 A1 0,0,1000,400 #2 A1 0,0,1000,400 #3 A1 0,400,500,400"},
		{"layout columns; turn", "#1 A1 0,0,1000,200 #2 A1 0,200,1000,200 #3 A1 0,400,1000,200 #4 A1 0,600,1000,200"},
		{"layout rows; turn", "#1 A1 750,0,250,800 #4 A1 0,0,250,800"},
		{"layout lead; share -20", "#1 A1 0,0,400,800 #2 A1 400,0,600,267"},
	} {
		d, _, err := apply(t, read(t, nested), strings.Split(c.lines, "; ")...)
		if err != nil {
			t.Errorf("%s: %v", c.lines, err)
			continue
		}
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
	for _, line := range []string{"swap left of #1", "swap left of #5", "turn of #5", "snap 4x2 1 9 of #5", "move left of #1", "mirror of #5", "nudge left of #1", "share +5 of #5", "group down", "group right", "ungroup of #1"} {
		if _, _, err := apply(t, read(t, nested), line); err == nil {
			t.Errorf("%s did not fail", line)
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
			{"turn", "undo"}, {"move right", "undo"}, {"even all", "undo"}, {"snap left", "undo"}, {"layout columns", "undo"}, {"resize right 30", "undo"}, {"gaps off", "gaps on"},
		} {
			next, failed := d, false
			for _, line := range lines {
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

func TestSplitAndGaps(t *testing.T) {
	d, _, err := apply(t, read(t, nested), "split across of #2", "focus #2")
	if err != nil {
		t.Fatal(err)
	}
	roundTrip(t, d)
	d, _ = d.With(desk.Opened{Focus: true, Window: desk.Window{ID: 9, App: "n"}})
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
	if d, _, err = apply(t, d, "gaps off"); err != nil || where(d, 1, 3) != where(read(t, nested), 1, 3) {
		t.Errorf("gaps off: %s, %v", where(d, 1, 3), err)
	}
}

func TestDefaultLayout(t *testing.T) {
	d, _ := read(t, nested).With(desk.Settle{Settings: desk.Settings{Layout: layout.Lead}})
	d, _, err := apply(t, d, "add", "send 2 of #1", "send 2 of #2", "send 2 of #3")
	if err != nil {
		t.Fatal(err)
	}
	if got, want := where(d, 1, 2, 3), "#1 A2 0,0,600,800 #2 A2 600,0,400,400 #3 A2 600,400,400,400"; got != want {
		t.Errorf("on a new sheet: %s, want %s", got, want)
	}
	if d.Sheet(0, 'A').Layout != layout.Tree {
		t.Error("a sheet that was there changed")
	}
}
