package main

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"

	"github.com/charmbracelet/x/term"
	"github.com/spf13/cobra"

	"zatlas/internal/host/display/board"
	"zatlas/internal/host/x11"
	"zatlas/internal/settings"
	"zatlas/internal/store"
	"zatlas/internal/tui"
	"zatlas/internal/tui/cells"
)

func themeFlag(cmd *cobra.Command, theme *string) {
	cmd.Flags().StringVar(theme, "theme", "", "night or day; the one of the settings where left out")
}

// errNoTerminal is told before anything is started.
var errNoTerminal = errors.New("the screens need a terminal; zatlas do, list, log and plan work without one")

// errDumb is for a terminal that says it can show nothing.
var errDumb = errors.New("TERM is dumb: this terminal says that it can show no screens. Set TERM to what it is, such as xterm-256color; zatlas do, list, log and plan work in it")

// noScreens is why the screens cannot be shown here; nil where they can.
func noScreens() error {
	switch {
	case !onTerminal():
		return errNoTerminal
	case os.Getenv("TERM") == "dumb":
		return errDumb
	}
	return nil
}

func onTerminal() bool { return term.IsTerminal(os.Stdin.Fd()) && term.IsTerminal(os.Stdout.Fd()) }

// look is the settings of this user, without what is at fault in them, and the theme of that
// name. Without a name it is the theme of the settings.
func look(theme string) (settings.Settings, cells.Theme, error) {
	set, _ := settings.Load(settings.Path()) // the screens read them too, and tell what is at fault
	if theme == "" {
		theme = set.Theme()
	}
	t, err := cells.Themes(theme)
	if err != nil {
		return set, t, wordsError{err}
	}
	return set, t, nil
}

// attach shows the screens of the running keeper.
func attach(ctx context.Context, themeName, from string) error {
	_, t, err := look(themeName)
	if err != nil {
		return err
	}
	source, err := surveyFrom(from)
	if err != nil {
		return err
	}
	if source == nil {
		source = keptSurvey{store.Path(), os.Getenv("DISPLAY")}
	}
	client, err := dial()
	if err != nil {
		return err
	}
	if err := noScreens(); err != nil {
		return err
	}
	opt := tui.Options{
		Name: "display " + os.Getenv("DISPLAY"), Title: "Zealous Atlas", Theme: t, First: firstUse(),
		Survey: source, Settings: settings.Path(), ThemeFixed: themeName != "", Pictures: client,
		Above:  x11.Ancestors(os.Getpid()),
		InPath: func(name string) bool { _, err := exec.LookPath(name); return err == nil },
	}
	if token := os.Getenv(board.TokenVariable); token != "" {
		// In the window that the keeper brought up: the title tells it which.
		opt.Title = board.Title(token)
		opt.BroughtUp, opt.Window = true, token
		if os.Getenv("XTERM_VERSION") != "" {
			os.Setenv("COLORTERM", "truecolor") // it draws any colour, and does not say so
		}
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
