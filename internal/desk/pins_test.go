package desk_test

import (
	"strings"
	"testing"
)

// A letter may be given to a workspace: it goes there, and sends there where no
// workspace is called by it.
func TestPinnedWorkspace(t *testing.T) {
	d := read(t, nested)
	for _, c := range []struct {
		lines string
		at    int // the number of the workspace that is current then
		ref   string
		fault string
	}{
		{"add Stage; go 2; pin q workspace; go 1; jump q", 2, "A1", ""},
		{"add Stage; pin q workspace; go 2; jump q", 1, "A1", ""},
		{"add Stage; go 2; pin q workspace; go 1; send q of #1", 1, "A2", ""},
		{"add Stage; go 2; pin q workspace; go 1; carry q of #1", 2, "A2", ""},
		{"add Stage; add q; go 2; pin q workspace; go 1; send q of #1", 1, "A3", ""}, // the name says otherwise
		{"add Stage; go 2; pin q workspace; reorder 2 to 1; go 2; jump q", 1, "A2", ""},
		{"add Stage; add; go 2; pin q workspace; go 3; pin q workspace; go 1; jump q", 3, "A1", ""},
		{"add Stage; go 2; pin q workspace; pin q off; go 1; jump q", 1, "", "nothing is tied to q"},
		{"add Stage; go 2; pin q workspace; go 1; pin q window of #1; jump q", 1, "A1", ""},
		{"add Stage; go 2; pin q workspace; undo; go 1; jump q", 1, "", "nothing is tied to q"},
		{"add Stage; go 2; pin q workspace; remove 2; go 1; jump q", 1, "", "nothing is tied to q"},
		{"send q of #1", 1, "", "no workspace is called q"},
		{"add Stage; pin s workspace of #1; go 2; jump s", 1, "A1", ""},
	} {
		next, _, err := apply(t, d, strings.Split(c.lines, "; ")...)
		if c.fault != "" {
			if err == nil || !strings.Contains(err.Error(), c.fault) {
				t.Errorf("%s: %v, want %q", c.lines, err, c.fault)
			}
			continue
		}
		if err != nil || next.Current() != c.at-1 || next.Ref(next.Window(1)) != c.ref {
			t.Errorf("%s: %v, on %d, #1 on %s", c.lines, err, next.Current()+1, next.Ref(next.Window(1)))
			continue
		}
		roundTrip(t, next)
	}
}
