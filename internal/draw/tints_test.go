package draw

import (
	"fmt"
	"maps"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/testkit/desks"
)

// Up to eight apps have each a tint of its own, those that lie beside one another ones
// that are easy to tell apart; what an app has it keeps.
func TestTints(t *testing.T) {
	d := desks.Demo(t)
	tints := Tints(d)
	least, all := 1e9, 0.0
	pairs := 0
	for _, a := range d.Windows {
		for _, b := range d.Windows {
			if a.App < b.App && a.Workspace == b.Workspace && a.Monitor == b.Monitor && a.Rect.Inset(-40).Overlaps(b.Rect) {
				diff := Difference(tints[a.App], tints[b.App])
				least, all, pairs = min(least, diff), all+diff, pairs+1
				if diff < 60 {
					t.Errorf("%s and %s lie beside one another, and differ by %.0f", a.App, b.App, diff)
				}
			}
		}
	}
	t.Logf("%d pairs beside one another differ by %.0f at least and by %.0f as a rule", pairs, least, all/float64(pairs))
	for range 5 {
		if again := Tints(d); !maps.Equal(again, tints) {
			t.Fatalf("the tints are %v, and were %v", again, tints)
		}
	}
	before := maps.Clone(tints)
	next, _ := d.With(desk.Opened{Window: desk.Window{ID: 900, App: "Coat Check", Rect: geom.R(0, 0, 300, 200), Workspace: d.Workspaces[0].ID, Monitor: 'A'}})
	AddTints(tints, next)
	for app, tint := range before {
		if tints[app] != tint {
			t.Errorf("%s had the tint %d, and has %d now", app, tint, tints[app])
		}
	}
	had := map[int]int{}
	for i := range 8 {
		next, _ = next.With(desk.Opened{Window: desk.Window{ID: 901 + i, App: fmt.Sprint("app ", i), Rect: geom.R(0, 0, 300, 200), Workspace: d.Workspaces[1].ID, Monitor: 'B'}})
	}
	for _, tint := range Tints(next) {
		had[tint]++
	}
	if len(had) != len(Night.Tints) {
		t.Errorf("of %d tints %d are used: %v", len(Night.Tints), len(had), had)
	}
}
