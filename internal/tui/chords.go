package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// keysMsg are the chords of the display, as the keeper has them.
type keysMsg []keeper.Key

// askKeys asks what becomes of the chords.
func (m *model) askKeys() tea.Cmd {
	if m.opt.Simulated {
		return nil
	}
	return func() tea.Msg {
		keys, err := m.k.Keys(m.ctx)
		if err != nil {
			return nil // a keeper that is gone is told otherwise
		}
		return keysMsg(keys)
	}
}

// clashes are the chords that do not work, by what is the matter with them.
func (m *model) clashes() (taken, missing, hidden []string) {
	for _, k := range m.keys {
		switch k.State {
		case keeper.KeyTaken:
			taken = append(taken, k.Chord)
		case keeper.KeyMissing:
			missing = append(missing, k.Chord)
		case keeper.KeyHidden:
			hidden = append(hidden, k.Chord)
		}
	}
	return taken, missing, hidden
}

// clashWords say how many chords do not work, for the head of the screens; empty for
// none.
func (m *model) clashWords() string {
	taken, missing, hidden := m.clashes()
	var words []string
	if n := len(taken); n > 0 {
		words = append(words, desk.Counted(n, "chord")+" taken")
	}
	if n := len(missing); n > 0 {
		words = append(words, desk.Counted(n, "chord")+" without a key")
	}
	if n := len(hidden); n > 0 {
		words = append(words, desk.Counted(n, "chord")+" hidden")
	}
	return strings.Join(words, ", ")
}

// clashLines say which do not work, for the page of keys.
func (m *model) clashLines() (lines [][]span) {
	taken, missing, hidden := m.clashes()
	coral := m.opt.Theme.style(m.opt.Theme.Coral)
	for _, list := range []struct {
		chords []string
		words  string
	}{{taken, "taken by another program"}, {missing, "not on this keyboard"}, {hidden, "hidden by a shorter one"}} {
		if len(list.chords) > 0 {
			lines = append(lines, []span{{fmt.Sprintf("  %s: %s", list.words, strings.Join(list.chords, ", ")), coral}})
		}
	}
	return lines
}
