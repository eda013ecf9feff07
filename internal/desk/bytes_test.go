package desk_test

import (
	"fmt"
	"runtime"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/testkit/desks"
)

// What is kept for undo stays within its bound, however many windows a command moves: the
// oldest steps are let go, and the others can be taken back.
func TestHistoryIsBounded(t *testing.T) {
	d := desks.Demo(t)
	var opened []desk.Fact
	for i := range 120 {
		opened = append(opened, desk.Opened{Window: desk.Window{ID: 1000 + i, App: "Many", Title: fmt.Sprint(i), Rect: geom.R(10, 10, 300, 200)}})
	}
	d, _ = d.With(opened...)
	heap := func() int {
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return int(m.HeapAlloc >> 20)
	}
	before, most := heap(), 0
	for i := range 400 {
		if d = run(t, d, fmt.Sprintf("stick %s of app:Many", []string{"on", "off"}[i%2])); i%50 == 49 {
			most = max(most, heap()-before)
		}
	}
	if most > 64 {
		t.Errorf("400 steps of 120 windows took %d MB", most)
	}
	undo, _ := d.Steps(1000)
	if len(undo) < 10 || len(undo) >= 400 {
		t.Errorf("%d steps are kept", len(undo))
	}
	d = run(t, d, fmt.Sprintf("undo %d", len(undo)))
	if left, again := d.Steps(1000); len(left) != 0 || len(again) == 0 {
		t.Errorf("after all of them %d are left, and %d can be done again", len(left), len(again))
	}
	runtime.KeepAlive(d)
}
