package cells

import "testing"

// A plain mark takes one cell, as what it stands for.
func TestPlain(t *testing.T) {
	for _, c := range []struct{ of, want string }{{"a", "a"}, {"é", "e"}, {"e\u0301", "e\u0301"}, {"漢", "漢"}, {"Ω", "?"}, {"─", "-"}, {"…", ">"}, {"", ""}} {
		if got := plain(c.of); got != c.want {
			t.Errorf("%q is drawn as %q, want %q", c.of, got, c.want)
		}
	}
	for r, mark := range plainMarks {
		if len(mark) != 1 || Width(string(r)) != 1 {
			t.Errorf("%q is drawn as %q: not one cell for one", r, mark)
		}
	}
}
