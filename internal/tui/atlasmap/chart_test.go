package atlasmap

import (
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui/cells"
)

// The map is to scale: neighbours share an edge, nothing lies outside its
// sheet, the inset is in proportion.
func TestChart(t *testing.T) {
	d := desks.Demo(t)
	for _, size := range [][2]int{{120, 35}, {80, 20}, {60, 12}, {200, 66}} {
		for chosen := range d.Workspaces {
			ch := New(OverviewOf(d, nil), nil, geom.R(0, 2, size[0], size[1]), chosen)
			for _, b := range ch.Bands {
				if b.top < 2 || b.top+b.rows > 2+size[1] || b.rows < 1 {
					t.Errorf("%v: the band of %d is at %d, %d rows", size, b.Index+1, b.top, b.rows)
				}
				for _, col := range ch.columns {
					if s := ch.sheet(col, b); s.Right() > size[0] || s.Bottom() > b.top+b.rows {
						t.Errorf("%v: sheet %c%d is at %v", size, col.monitor.Letter, b.Index+1, s)
					}
				}
			}
			a, okA := ch.Stop(cells.Selection{Window: 13})
			b, okB := ch.Stop(cells.Selection{Window: 16})
			if okA && okB && a.Rect.Right() != b.Rect.X {
				t.Errorf("%v: neighbours lie at %v and %v", size, a.Rect, b.Rect)
			}
			for _, s := range ch.stops {
				if s.Rect.Empty() || s.Rect.X < 0 || s.Rect.Right() > size[0] {
					t.Errorf("%v: a stop is at %v", size, s.Rect)
				}
			}
		}
	}
}

// Many workspaces scroll, and the one chosen is always to be seen.
func TestChartScrolls(t *testing.T) {
	d := desks.Demo(t)
	for range 50 {
		d, _, _ = d.Apply(desk.Command{Verb: "add"})
	}
	for chosen := range d.Workspaces {
		ch := New(OverviewOf(d, nil), nil, geom.R(0, 2, 80, 19), chosen)
		b, ok := ch.band(chosen)
		if !ok || !b.inset || b.rows < 2 {
			t.Errorf("workspace %d of %d is not shown large: %+v", chosen+1, len(d.Workspaces), b)
		}
		if ch.Above+len(ch.Bands)+ch.Below != len(d.Workspaces) {
			t.Errorf("%d above, %d shown, %d below", ch.Above, len(ch.Bands), ch.Below)
		}
	}
}
