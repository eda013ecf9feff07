package main

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
)

func configCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "config",
		Short: "Print the settings file, with explanations",
		Long: `Print a settings file with every setting explained, at its usual value.
The settings are read from ` + fromHome(settings.Path()) + `.`,
		Example: "  zatlas config > " + fromHome(settings.Path()),
		Args:    noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := fmt.Fprint(cmd.OutOrStdout(), settings.Example())
			return err
		},
	}
}

// boardOptions are the settings of the keyboard.
func boardOptions(s settings.Settings) board.Options {
	return board.Options{Chords: hostChords(s), Read: readChord(s), Card: time.Duration(s.Card()) * time.Millisecond, Corners: hostCorners(s)}
}

// hostChords are the chords of the settings as the host takes them, in an
// order that does not depend on chance.
func hostChords(s settings.Settings) []keys.Chord {
	bounds, err := s.Bounds()
	if err != nil {
		return nil // reading the settings has faulted it
	}
	var cs []keys.Chord
	for _, b := range bounds {
		cs = append(cs, keys.Chord{Name: b.Keys.String(), Command: b.Command, Hold: b.Hold, Hidden: b.Hidden,
			Modifiers: hostModifiers(b.Chord), Keysym: b.Chord.Keysym, After: strings.Fields(b.After)})
	}
	return cs
}

// readChord reads a chord, or one with keys that follow, as the host takes it.
func readChord(s settings.Settings) func(string) (keys.Chord, error) {
	return func(name string) (keys.Chord, error) {
		k, err := settings.ParseKeys(name)
		if err != nil {
			return keys.Chord{}, err
		}
		k = s.Resolved(k)
		return keys.Chord{Name: k.String(), Hold: k.Hold, Modifiers: hostModifiers(k.Chord), Keysym: k.Chord.Keysym, After: strings.Fields(k.After)}, nil
	}
}

func hostModifiers(c settings.Chord) keys.Modifiers {
	return keys.Modifiers{Super: c.Super, Hyper: c.Hyper, Meta: c.Meta, Alt: c.Alt, Ctrl: c.Ctrl, Shift: c.Shift}
}

// atlasKey are the modifiers of the atlas key.
func atlasKey(s settings.Settings) keys.Modifiers {
	c, err := settings.ParseAtlasKey(s.AtlasKey())
	if err != nil {
		return keys.Modifiers{Super: true} // reading the settings has faulted it
	}
	return hostModifiers(c)
}

// hostCorners are the corners of the settings that show something.
func hostCorners(s settings.Settings) (cs []board.Corner) {
	for _, name := range settings.CornerNames() {
		if command := s.Corners[name]; command != "" {
			cs = append(cs, board.Corner{Right: strings.HasSuffix(name, "right"), Bottom: strings.HasPrefix(name, "bottom"), Command: command})
		}
	}
	return cs
}

// borderColours are the colours of borders as the host takes them.
func borderColours(s settings.Settings) *x11.Colours {
	focused, other, urgent, floating := s.Borders()
	return &x11.Colours{Focused: focused, Other: other, Urgent: urgent, Floating: floating}
}

// savePin gives what keeps a pin in the settings at a path.
func savePin(path string) func(desk.Pin) error {
	return func(p desk.Pin) error {
		query := ""
		if p.Query != nil {
			query = lang.PrintQuery(p.Query)
		}
		return settings.SetPin(path, string(rune(p.Letter)), query)
	}
}

// settingsFile is the settings file at a path; nil where no folder for it is known.
func settingsFile(path string) keeper.File {
	if path == "" {
		return nil
	}
	return settings.File(path)
}

// reloads gives what reads the settings at a path anew, and has them taken up in the place of
// those there are.
func reloads(path string, set *settings.Settings, take func(settings.Settings)) func() func() (desk.Settings, string, error) {
	return func() func() (desk.Settings, string, error) {
		s, err := set.Reload(path)
		return func() (desk.Settings, string, error) {
			changed := s.Changes(*set)
			*set = s
			take(s)
			return s.ForDesk(), changed, err
		}
	}
}

// terminals are what runs programs in terminals: the command of the settings, or what is
// installed.
type terminals struct {
	command atomic.Pointer[string]
	index   *apps.Index
	font    func() string
}

// newTerminals begins to look what fonts there are.
func newTerminals(index *apps.Index) *terminals {
	t := &terminals{index: index, font: sync.OnceValue(func() string { return apps.ScalableFont(context.Background()) })}
	t.command.Store(new(settings.AutoTerminal))
	go t.font()
	return t
}

// window is the command for the atlas window, in a room of so many pixels; empty where
// there is no terminal.
func (t *terminals) window(room geom.Rect) []string {
	if command := *t.command.Load(); command != settings.AutoTerminal {
		return strings.Fields(command)
	}
	found, ok := apps.FindTerminal(t.index.Installed())
	if !ok {
		return nil
	}
	return found.In(room, t.font())
}

// program is the command for a program that needs a terminal: that of the atlas window
// without its title and size.
func (t *terminals) program() []string {
	words := t.window(geom.Rect{})
	for i := 1; i < len(words); i++ {
		if words[i] == "TITLE" {
			return slices.Delete(words, i-1, i+1)
		}
	}
	return words
}
