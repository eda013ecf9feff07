package tui

import (
	"context"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/keeper"
	"zatlas/internal/settings"
)

// WatchKeys prints each key that the terminal sends as a chord is written in the
// settings, or why it cannot be one, until Ctrl+C.
func WatchKeys(ctx context.Context, more ...tea.ProgramOption) error {
	_, err := tea.NewProgram(keyWatch{}, append([]tea.ProgramOption{tea.WithContext(ctx)}, more...)...).Run()
	if ctx.Err() != nil {
		return nil
	}
	return err
}

// keyWatch is the model of WatchKeys.
type keyWatch struct{}

func (keyWatch) Init() tea.Cmd { return nil }

func (keyWatch) View() tea.View {
	return tea.NewView("Press what a chord is to be. This terminal may keep some keys for itself. Ctrl+C ends.")
}

func (w keyWatch) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	k, ok := msg.(tea.KeyPressMsg)
	if !ok {
		return w, nil
	}
	if k.Keystroke() == "ctrl+c" {
		return w, tea.Quit
	}
	return w, tea.Println(written(k.Keystroke()))
}

// settingsNames are the keys that the settings name in another way than the library.
var settingsNames = map[string]string{"enter": "Return", "esc": "Escape", "pgup": "PageUp", "pgdown": "PageDown"}

// written is a key of the library's as the settings write it, or why they do not.
func written(keystroke string) string {
	c, err := chordOf(keystroke)
	if err != nil {
		return keeper.Sentence(err)
	}
	return c.String()
}

// chordOf is a key of the library's as a chord. With an error it is what was read.
func chordOf(keystroke string) (settings.Chord, error) {
	at := strings.LastIndex(strings.TrimSuffix(keystroke, "+"), "+") + 1
	if name, ok := settingsNames[keystroke[at:]]; ok {
		keystroke = keystroke[:at] + name
	}
	return settings.ParseChord(keystroke)
}
