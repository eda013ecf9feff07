package tui

import (
	"math/rand/v2"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// benchAlongside is a bench of a desk that another program manages.
func benchAlongside(t *testing.T) *bench {
	t.Helper()
	d, err := desk.New([]desk.Monitor{
		{Letter: 'A', Name: "Laptop", Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Connected: true, Primary: true},
		{Letter: 'B', Name: "Desk", Rect: geom.R(1920, 0, 1920, 1080), Work: geom.R(1920, 0, 1920, 1080), Connected: true},
	}, desk.Settings{}.BesideOthers([]string{"bare"}), "Programme", "Press")
	if err != nil {
		t.Fatal(err)
	}
	for id, title := range []string{"Seats", "Week plan", "Late set"} {
		w := desk.Window{ID: id + 1, App: "Hall Plan", Title: title, Rect: geom.R(500*id, 100, 450, 600), Floating: true, LastSeen: id == 1}
		d, _ = d.With(desk.Opened{Keep: true, Window: w})
	}
	d, _ = d.With(desk.FocusIs{ID: 1}, desk.Changed{ID: 1, Change: func(w *desk.Window) { w.Refused = []string{"maximise"} }})
	return benchOf(t.Context(), t, d)
}

// What cannot be had beside another manager is not offered, and says why; what was refused
// is marked, and so is a place that may be another.
func TestAlongsideScreens(t *testing.T) {
	b := benchAlongside(t)
	screen := b.whole("the map")
	for _, want := range []string{"beside its manager", "maximise (refused)", "refused: maximise", "last seen", "w swap", "450×600"} {
		if !strings.Contains(screen, want) {
			t.Errorf("the map is without %q:\n%s", want, screen)
		}
	}
	for _, not := range []string{"= even" /* with nothing beside it */, "f float", "d split", "T turn", "≈", "free", "D bare"} {
		if strings.Contains(screen, not) {
			t.Errorf("the map has %q:\n%s", not, screen)
		}
	}
	for key, want := range map[string]string{"f": "every window floats", "T": "keeps tiles", "D": "takes no such request"} {
		b.press(key)
		if screen := b.whole("after " + key); !strings.Contains(screen, want) {
			t.Errorf("%s does not say %q:\n%s", key, want, screen)
		}
	}
	b.press("w") // which is offered, and asks its way
	if screen := b.whole("after w"); strings.Contains(screen, "no tile") || !strings.Contains(screen, "with the tile that way") {
		t.Errorf("swap is offered, and says:\n%s", screen)
	}
	b.press("esc")
	b.press("?")
	for _, c := range "float" {
		b.press(string(c))
	}
	if screen := b.whole("the page of keys"); !strings.Contains(screen, "not available") {
		t.Errorf("the page of keys offers it:\n%s", screen)
	}
}

// Whatever is typed there, the screen stays whole.
func TestRandomKeysAlongside(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(8, 1))
	b := benchAlongside(t)
	keys := append(strings.Split("abcdefghijklmoprstuvwxyzACDFGHKLMNSTUVWXYZ123,.<>:?=-+_/'*z!()", ""), "left", "right", "up", "down", "enter", "esc", "tab", "esc")
	for range 400 {
		key := keys[rng.IntN(len(keys))]
		b.press(key)
		b.whole("after " + key)
	}
}
