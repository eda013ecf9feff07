package tui

import (
	"os"
	"strings"
	"testing"

	tea "charm.land/bubbletea/v2"
	eaw "golang.org/x/text/width"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// ambiguous gives the letters of a text that a terminal may draw one or two columns wide.
func ambiguous(text string) (found string) {
	for _, r := range text {
		if eaw.LookupRune(r).Kind() == eaw.EastAsianAmbiguous {
			found += string(r)
		}
	}
	return found
}

// Where a terminal says that marks are two columns wide, no screen draws any of them,
// and every one keeps its place; a setting does the same.
func TestPlainMarks(t *testing.T) {
	b := newBench(t, desk.Settings{})
	next, _ := b.d.With(desk.Changed{ID: 11, Change: func(w *desk.Window) { w.Title = "Café × Ω → 漢字" }})
	b.Update(updateMsg{Update: keeper.Update{Serial: b.serial + 1, Desk: next}, ok: true})
	b.give(tea.WindowSizeMsg{Width: 160, Height: 40})
	drawn := b.whole("first")
	if ambiguous(drawn) == "" {
		t.Fatal("the first set has nothing of ambiguous width")
	}
	b.give(tea.CursorPositionMsg{X: 2})
	for _, keys := range []string{"", "s", "escape", "/", "escape", "'", "escape", "!", "escape", "z", "escape", "P P", "escape", "; s", "escape", "; l", "escape", "; r", "escape", "; e", "escape", "?"} {
		for _, key := range strings.Fields(keys) {
			b.press(key)
		}
		if found := ambiguous(b.whole(keys)); found != "" {
			t.Errorf("after %q there is %q in\n%s", keys, found, b.whole(keys))
		}
	}
	b = newBench(t, desk.Settings{})
	b.give(tea.WindowSizeMsg{Width: 160, Height: 40})
	b.give(tea.CursorPositionMsg{X: 1})
	if got := b.whole("first"); ambiguous(got) == "" {
		t.Errorf("with marks of one column the second set is drawn:\n%s", got)
	}
	b.give(tea.CursorPositionMsg{X: 2}) // of something else, later
	if got := b.whole("first"); ambiguous(got) == "" {
		t.Error("a later position of the cursor changed the marks")
	}
}

// On a console plain letters are drawn also where the settings are at fault.
func TestConsoleWithFaultySettings(t *testing.T) {
	t.Setenv("TERM", "linux")
	b := newBench(t, desk.Settings{})
	if err := os.WriteFile(b.opt.Settings, []byte("theme = \n"), 0o600); err != nil {
		t.Fatal(err)
	}
	b.plain = false
	if b.reread(); !b.plain {
		t.Error("lines are drawn on a console")
	}
}
