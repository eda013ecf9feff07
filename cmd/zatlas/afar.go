package main

import (
	"context"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/status"
	"zatlas/internal/tui"
)

// place is a flag that names another machine's desk.
type place string

func (p *place) String() string { return string(*p) }
func (p *place) Type() string   { return "string" }

// Set refuses an empty name, as of a variable that is not set: that would be the desk here.
func (p *place) Set(name string) error {
	if name == "" {
		return errors.New("it names no machine: [USER@]HOST[:DISPLAY]")
	}
	*p = place(name)
	return nil
}

func onFlag(cmd *cobra.Command, on *string) {
	cmd.Flags().Var((*place)(on), "on", "the desk of another machine, by ssh: [USER@]HOST[:DISPLAY]")
}

// reached is a keeper that answers, of this machine or of another.
type reached interface {
	keeper.Access
	Desk(ctx context.Context) (*desk.Desk, error)
	DoNamed(ctx context.Context, c desk.Command, name string) (keeper.Outcome, error)
	Done(ctx context.Context, name string) (keeper.Outcome, error)
	Line(ctx context.Context, follow bool, give func(status.Line) error) error
}

// dialOn reaches the keeper of a place on another machine, or that of $DISPLAY where none
// is named.
func dialOn(ctx context.Context, on string) (reached, error) {
	if on == "" {
		return dial()
	}
	place, err := remote.ParsePlace(on)
	if err != nil {
		return nil, wordsError{err}
	}
	return remote.DialAfar(ctx, place)
}

// attachAfar shows the screens of another machine's desk.
func attachAfar(ctx context.Context, themeName, on string, pictures bool) error {
	_, t, err := look(themeName)
	if err != nil {
		return err
	}
	place, err := remote.ParsePlace(on)
	if err != nil {
		return wordsError{err}
	}
	if err := noScreens(); err != nil {
		return err
	}
	client, err := remote.DialAfar(ctx, place)
	if err != nil {
		return err
	}
	defer client.Close()
	opt := tui.Options{Name: place.String(), Afar: place.Host, Title: "Zealous Atlas: " + place.String(), Theme: t, ThemeFixed: themeName != ""}
	if pictures {
		opt.Pictures, opt.Pictured = client, true
	}
	err = tui.Run(ctx, client, opt)
	if errors.Is(err, context.Canceled) {
		return nil
	}
	return err
}

func relayCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "relay DISPLAY",
		Short: "Connect --on of another machine to a desk here",
		Long: `Carry what zatlas --on of another machine says to what keeps the desk of a display
here, and back. A desk is begun beside the display's manager where none is kept.`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return wordsError{errors.New("relay takes one display, such as :0")}
			}
			if err := remote.CheckDisplay(args[0]); err != nil {
				return wordsError{err}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := os.Setenv("DISPLAY", args[0]); err != nil {
				return fmt.Errorf("taking up the display: %w", err)
			}
			if err := ensure(cmd.Context()); err != nil {
				return err
			}
			return remote.Relay(cmd.Context(), remote.SocketPath(args[0]), cmd.InOrStdin(), cmd.OutOrStdout())
		},
	}
}
