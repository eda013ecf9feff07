package x11_test

import (
	"testing"
	"time"

	"zatlas/internal/host/display/board"
	"zatlas/internal/host/x11"
	"zatlas/internal/keys"
	"zatlas/internal/testkit"
)

// A keeper that does not follow a key, by whatever mistake, does not keep the keyboard from
// everybody for long.
func TestStalledKey(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	host, d, err := x11.Open(x11.Options{Display: s.Display, Board: board.Options{Chords: []keys.Chord{{Name: "Super+S", Command: "send", Modifiers: keys.Modifiers{Super: true}, Keysym: 's'}}}})
	if err != nil {
		t.Fatal(err)
	}
	defer host.Stop()
	host.Show(d)
	x := s.NewX(t)
	began := time.Now()
	x.Press(testkit.Super, 's') // and nobody takes what has come
	if x.Free() {
		t.Error("the keyboard is free at once, and does not wait")
	}
	testkit.Until(t, "the keyboard is given back", x.Free)
	if took := time.Since(began); took < 2*time.Second || took > 8*time.Second {
		t.Errorf("it was given back after %v", took)
	}
	if _, err := host.Take(); err != nil {
		t.Fatal(err)
	}
	if !x.Free() {
		t.Error("a key that was followed too late took the keyboard")
	}
}
