package main

import (
	"context"
	"errors"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"github.com/charmbracelet/x/term"
	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/store"
	"zatlas/internal/tui"
)

func demoCommand() *cobra.Command {
	var file, theme string
	cmd := &cobra.Command{
		Use:   "demo",
		Short: "Show the demo desk, or a scene of yours, in this terminal",
		Long:  "Show a made-up desk in this terminal. Nothing outside of it is touched.",
		Args:  noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			set, t, err := look(theme)
			if err != nil {
				return err
			}
			if !onTerminal() {
				return errNoTerminal
			}
			d, err := demoDesk(file)
			if err != nil {
				return err
			}
			ctx, cancel := context.WithCancel(cmd.Context())
			defer cancel()
			host := sim.New()
			if file == "" {
				d, _ = sim.Lived(d, time.Now()).With(desk.Settle{Settings: set.ForDesk()})
			}
			k := keeper.New(d, host, slog.New(slog.DiscardHandler))
			k.Reload = func() (desk.Settings, error) {
				set, err := settings.Load(settings.Path())
				return set.ForDesk(), err
			}
			k.SavePin, k.Launch = savePin, host
			go k.Run(ctx) // a simulated host has no way to fail
			name := "demo desk"
			if file != "" {
				name = desk.CleanText(filepath.Base(file), desk.MaxName)
			}
			return tui.Run(ctx, k, tui.Options{Name: name, Title: "Zealous Atlas: " + name, Theme: t, First: firstUse(),
				Settings: settings.Path(), ThemeFixed: theme != "", Simulated: true})
		},
	}
	cmd.Flags().StringVar(&file, "scene", "", "show this scene file")
	themeFlag(cmd, &theme)
	return cmd
}

func demoDesk(file string) (*desk.Desk, error) {
	if file == "" {
		return scene.Demo()
	}
	return scene.ReadFile(file)
}

func themeFlag(cmd *cobra.Command, theme *string) {
	cmd.Flags().StringVar(theme, "theme", "", "night or day; the one of the settings where left out")
}

// errNoTerminal is told before anything is started.
var errNoTerminal = errors.New("the screens need a terminal; zatlas do, list, log and plan work without one")

func onTerminal() bool { return term.IsTerminal(os.Stdin.Fd()) && term.IsTerminal(os.Stdout.Fd()) }

// look is the settings of this user, and the theme of that name, or of the
// settings where it is empty.
func look(theme string) (settings.Settings, tui.Theme, error) {
	set, err := settings.Load(settings.Path())
	if err != nil {
		return set, tui.Theme{}, err
	}
	if theme == "" {
		theme = set.Theme
	}
	t, err := tui.Themes(theme)
	if err != nil {
		return set, t, wordsError{err}
	}
	return set, t, nil
}

// attach shows the screens of the running keeper.
func attach(ctx context.Context, themeName string) error {
	set, t, err := look(themeName)
	if err != nil {
		return err
	}
	client, err := dial()
	if err != nil {
		return err
	}
	if !onTerminal() {
		return errNoTerminal
	}
	opt := tui.Options{
		Name: "display " + os.Getenv("DISPLAY"), Title: "Zealous Atlas", Theme: t, First: firstUse(), Chords: chordRows(set), ChordRows: chordRows,
		Settings: settings.Path(), ThemeFixed: themeName != "",
	}
	if token := os.Getenv(x11.TokenVariable); token != "" {
		// In the window that the keeper brought up: the title tells it which.
		opt.Title = x11.Title(token)
		opt.BroughtUp = true
	}
	err = tui.Run(ctx, client, opt)
	if errors.Is(err, context.Canceled) {
		return nil
	}
	return err
}

// firstUse is the file that says that the first steps were put away. Where no
// folder for it is known they are not shown.
func firstUse() tui.FirstUse {
	state := store.Path()
	if state == "" {
		return nil
	}
	return tui.FirstUseFile(filepath.Join(filepath.Dir(state), "first-steps-done"))
}
