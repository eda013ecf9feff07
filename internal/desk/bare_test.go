package desk_test

import (
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/scene"
)

// From the bare desk the window that is chosen comes back alone, with those that it is a
// dialog of; the same again brings all of them back.
func TestBareOneAtATime(t *testing.T) {
	d := read(t, two)
	seen := func() (ids []int) {
		for _, w := range d.Windows {
			if d.Visible(w) {
				ids = append(ids, w.ID)
			}
		}
		return ids
	}
	all := seen()
	do := func(lines ...string) {
		t.Helper()
		var err error
		if d, _, err = apply(t, d, lines...); err != nil {
			t.Fatal(err)
		}
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
	}
	is := func(after string, want ...int) {
		t.Helper()
		if got := seen(); !slices.Equal(got, want) {
			t.Errorf("after %s these are seen: %v, want %v", after, got, want)
		}
		var b strings.Builder
		if err := scene.Write(&b, d); err != nil {
			t.Fatal(err)
		}
		again, err := scene.Read(strings.NewReader(b.String()))
		if err != nil || again.Focus != d.Focus || again.Bare != d.Bare || !scene.Equal(d, again) {
			t.Errorf("after %s the scene is read as another desk: #%d and #%d, %v", after, again.Focus, d.Focus, err)
		}
	}
	do("focus #1", "bare")
	is("bare")
	do("focus #3")
	is("focus #3", 3)
	do("focus #1")
	is("focus #1", 1, 3)
	if d.Focus != 1 || !d.Bare {
		t.Errorf("#%d has the focus, bare %t", d.Focus, d.Bare)
	}
	do("bare on")
	is("bare on")
	d, _ = d.With(desk.Opened{Window: desk.Window{ID: 50, App: "a", Parent: 1, Kind: desk.Dialog}, Keep: true})
	do("focus #50")
	is("a dialog", 1, 50)
	d, _ = d.With(desk.Closed{ID: 50})
	is("the dialog is closed", 1)
	do("bare off")
	is("bare off", all...)
	do("bare", "focus #3", "float of #3")
	is("another command", all...)
}
