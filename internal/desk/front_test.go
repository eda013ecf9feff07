package desk_test

import (
	"fmt"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// three are three tiles on A, with a small floating window and a large one, and a tile on B.
const three = `{"format": "zealous-atlas/scene/1",
 "monitors": [{"letter": "A", "rect": [0, 0, 1200, 800], "work": [0, 0, 1200, 780]}, {"letter": "B", "rect": [1200, 0, 1000, 800]}],
 "workspaces": [{"sheets": {"A": {"layout": "columns", "windows": [1, 2, 3], "floating": [4, 5]}, "B": {"layout": "columns", "windows": [6]}}}, {}],
 "windows": [{"id": 1}, {"id": 2}, {"id": 3}, {"id": 4, "rect": [500, 300, 200, 200]}, {"id": 5, "rect": [350, 0, 500, 800]}, {"id": 6}],
 "shown": {"A": 1, "B": 1}, "focus": 1}`

// The front of a sheet covers it, and what has the focus is seen.
func TestFront(t *testing.T) {
	whole, work := geom.R(0, 0, 1200, 800), geom.R(0, 0, 1200, 780)
	leaf := func(n int) geom.Rect { return geom.R((n-1)*400, 0, 400, 780) }
	small := geom.R(500, 300, 200, 200)
	for _, c := range []struct {
		lines string
		focus int
		rects map[int]geom.Rect
		top   string // the end of the stacking order
	}{
		{"maximise of #3", 3, map[int]geom.Rect{3: work}, ""},
		{"maximise of #3; focus #2", 2, map[int]geom.Rect{3: leaf(3), 2: leaf(2)}, ""},
		{"maximise of #3; focus #2; focus #3", 3, map[int]geom.Rect{3: work}, ""},
		{"maximise of #3; focus left", 2, map[int]geom.Rect{3: leaf(3)}, ""},
		{"maximise of #3; maximise of #1", 1, map[int]geom.Rect{1: work, 3: leaf(3)}, ""},
		{"maximise of #3; maximise of #1; focus back", 3, map[int]geom.Rect{1: leaf(1), 3: work}, ""},
		{"maximise of #3; maximise of #1; focus back; focus back", 1, map[int]geom.Rect{1: work, 3: leaf(3)}, ""},
		{"fullscreen of #3; fullscreen of #1; focus #3", 3, map[int]geom.Rect{1: leaf(1), 3: whole}, "3"},
		{"fullscreen of #3; focus #4", 4, map[int]geom.Rect{3: whole, 4: small}, "3 4"},
		{"fullscreen of #3; focus #4; focus #2", 2, map[int]geom.Rect{3: leaf(3)}, ""},
		{"fullscreen of #3; focus #6", 6, map[int]geom.Rect{3: whole, 6: geom.R(1200, 0, 1000, 800)}, "3"},
		{"maximise of #4; focus #2", 2, map[int]geom.Rect{4: small}, ""},
		{"maximise of #4; focus #2; focus #4", 4, map[int]geom.Rect{4: work}, "4"},
		{"maximise of #4; focus #5", 5, map[int]geom.Rect{4: work}, "4 5"},
		{"focus #6; maximise of #2", 6, map[int]geom.Rect{2: work}, ""},
		{"maximise of #3; focus #2; maximise of #3", 3, map[int]geom.Rect{3: work}, ""},
		{"maximise of #3; focus #2; maximise off of #3", 2, map[int]geom.Rect{3: leaf(3)}, ""},
		{"maximise of #3; focus #2; undo", 2, map[int]geom.Rect{3: leaf(3)}, ""},
		{"go 2; maximise of #3; go 1", 3, map[int]geom.Rect{3: work}, ""},
		// 5 hides 2 wholly, and lies under it until it has the focus or is raised.
		{"focus #5; focus #2", 2, nil, "5 2 4"},
		{"focus #5; focus #2; focus #1", 1, nil, "5 2 4"},
		{"focus #5; focus #2; focus #1; raise of #5", 1, nil, "4 5"},
		{"focus #5; focus #2; raise of #5", 5, nil, "4 5"},
		{"focus #5; focus #1", 1, nil, "4 5"},
		{"focus #2; above on of #5", 2, nil, "5 2 4"},
	} {
		d := after(t, read(t, three), strings.Split(c.lines, "; ")...)
		if err := d.Check(); err != nil {
			t.Errorf("%s: %v", c.lines, err)
		}
		if d.Focus != c.focus {
			t.Errorf("%s: #%d has the focus, want #%d", c.lines, d.Focus, c.focus)
		}
		for id, want := range c.rects {
			if got := d.Window(id).Rect; got != want {
				t.Errorf("%s: #%d lies at %v, want %v", c.lines, id, got, want)
			}
		}
		if got := strings.ReplaceAll(order(d), " 6", ""); !strings.HasSuffix(got, c.top) {
			t.Errorf("%s: from the bottom %s, want %s on top", c.lines, got, c.top)
		}
	}
}

// Where windows open, ask and are dialogs, the front is seen as well.
func TestFrontByFacts(t *testing.T) {
	work := geom.R(0, 0, 1200, 780)
	d := after(t, read(t, three), "maximise of #3")
	for name, c := range map[string]struct {
		facts []desk.Fact
		want  geom.Rect // of #3
	}{
		"a window opens":           {[]desk.Fact{desk.Opened{Window: desk.Window{ID: 9}, Focus: true}}, geom.Rect{}},
		"one opens without focus":  {[]desk.Fact{desk.Opened{Window: desk.Window{ID: 9}}}, work},
		"its dialog opens":         {[]desk.Fact{desk.Opened{Window: desk.Window{ID: 9, Parent: 3, Kind: desk.Dialog}, Focus: true}}, work},
		"another's dialog opens":   {[]desk.Fact{desk.Opened{Window: desk.Window{ID: 9, Parent: 1, Kind: desk.Dialog}, Focus: true}}, work},
		"its dialog, after a tile": {[]desk.Fact{desk.Activated{ID: 1}, desk.Opened{Window: desk.Window{ID: 9, Parent: 3, Kind: desk.Dialog}, Focus: true}}, work},
		"a pager's request":        {[]desk.Fact{desk.Activated{ID: 1}}, geom.R(800, 0, 400, 780)},
		"another sticky one":       {[]desk.Fact{desk.Opened{Window: desk.Window{ID: 9, Sticky: true, Maximised: true, Workspace: 2}, Focus: true}}, geom.R(800, 0, 400, 780)},
	} {
		next, _ := d.With(c.facts...)
		if err := next.Check(); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		if c.want.Empty() {
			c.want = geom.R(900, 0, 300, 780)
			if w := next.Window(9); next.Focus != 9 || next.Covers(next.Window(3)) {
				t.Errorf("%s: it lies at %v, #%d has the focus", name, w.Rect, next.Focus)
			}
			continue
		}
		if got := next.Window(3).Rect; got != c.want {
			t.Errorf("%s: #3 lies at %v, want %v; %s", name, got, c.want, fmt.Sprint(order(next)))
		}
	}
}
