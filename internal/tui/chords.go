package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/tui/cells"
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

// free are the chords that stand for something and are not taken, beside another manager.
func (m *model) free() (free []string) {
	for _, k := range m.keys {
		if k.State == keeper.KeyFree {
			free = append(free, k.Chord)
		}
	}
	return free
}

// besideChords says, where another program manages the windows, whether its free chords are
// taken, and the key that changes that; empty elsewhere.
func (m *model) besideChords() string {
	free := m.free()
	switch {
	case m.d == nil || !m.d.Settings.Alongside || m.opt.Settings == "" || len(m.keys) == 0:
		return ""
	case len(free) > 0:
		return fmt.Sprintf("  Ctrl+T takes %s that are free here, such as %s.", desk.Counted(len(free), "chord"), strings.Join(free[:min(len(free), 3)], ", "))
	}
	return "  Ctrl+T gives the chords back."
}

// takeChords has the free chords be taken from now on, or given back.
func (m *model) takeChords() tea.Cmd {
	if m.besideChords() == "" {
		m.say("No other program manages the windows here, or there are no settings to keep it in.", true)
		return nil
	}
	free := len(m.free())
	value, words := "always", desk.Counted(free, "chord")+" of the display are taken now."
	if free == 0 {
		value, words = "never", "The chords of the display are given back."
	}
	return m.setTo("alongside.chords", value, words)
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
func (m *model) clashLines() (lines [][]cells.Span) {
	taken, missing, hidden := m.clashes()
	coral := m.opt.Theme.Style(m.opt.Theme.Coral)
	for _, list := range []struct {
		chords []string
		words  string
	}{{taken, "taken by another program"}, {missing, "not on this keyboard"}, {hidden, "hidden by a shorter one"}} {
		if len(list.chords) > 0 {
			lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("  %s: %s", list.words, strings.Join(list.chords, ", ")), coral)})
		}
	}
	return lines
}
