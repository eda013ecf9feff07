package tui

import (
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// A choice that was widened stays the set of windows it was, wherever it goes.
func TestWidenedChoiceStays(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.press("3")
	for _, w := range b.d.Order(2, 'A') {
		if b.d.Tiled(w) {
			b.sel = cells.Selection{Window: w.ID}
			break
		}
	}
	b.press("Z")
	was := slices.Clone(b.group())
	slices.Sort(was)
	if len(was) < 2 {
		t.Fatalf("widened to %v", was)
	}
	b.press("c")
	b.press("1")
	now := slices.Clone(b.group())
	slices.Sort(now)
	if b.d.Index(b.d.Window(was[0]).Workspace) != 0 || !slices.Equal(was, now) {
		t.Errorf("carried to 1, the choice is %v and was %v", now, was)
	}
	b.press("Z")
	if n := len(b.group()); n <= len(was) {
		t.Errorf("widened there, it has %d windows", n)
	}
	b.press("esc")
	if now := b.group(); len(now) != len(was) {
		t.Errorf("narrowed again it is %v", now)
	}
	b.press("esc")
	if now := b.group(); len(now) != 1 {
		t.Errorf("narrowed to its beginning it is %v", now)
	}
}

// The page of rules says which of them point to what is not there.
func TestRulesThatPointNowhere(t *testing.T) {
	b := newBench(t, desk.Settings{})
	for _, line := range []string{"app:radio then to 3", "app:plan then to 9"} {
		r, err := settings.ParseRule(line)
		if err != nil {
			t.Fatal(err)
		}
		if err := settings.AddRule(b.opt.Settings, r); err != nil {
			t.Fatal(err)
		}
	}
	b.press(";")
	b.press("r")
	var rows []string
	for row := range strings.Lines(b.whole("the rules")) {
		if strings.Contains(row, "app:") {
			rows = append(rows, row)
		}
	}
	if len(rows) != 2 || strings.Contains(rows[0], "there is no") || !strings.Contains(rows[1], "there is no workspace 9: there are 6") {
		t.Errorf("the rules are\n%s", strings.Join(rows, "\n"))
	}
}
