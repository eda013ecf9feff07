package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"zatlas/internal/keeper"
	"zatlas/internal/remote"
)

func doCommand() *cobra.Command {
	var on string
	cmd := &cobra.Command{
		Use:     "do COMMAND...",
		Short:   "Have the running keeper carry out commands",
		Long:    "Have the running keeper carry out commands, each one argument, until one fails.",
		Example: `  zatlas do "send 3" "go 3"`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) == 0 {
				return wordsError{errors.New(`do needs a command, such as zatlas do "go 2"`)}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			commands, err := parseAll(args)
			if err != nil {
				return err
			}
			client, err := dialOn(cmd.Context(), on)
			if err != nil {
				return err
			}
			for i, c := range commands {
				o, err := client.Do(cmd.Context(), c, keeper.Line)
				if err == nil {
					err = o.Err
				}
				if err != nil {
					return fmt.Errorf("%s: %w", args[i], err)
				}
				fmt.Fprintln(cmd.OutOrStdout(), o.Result.Words)
			}
			return nil
		},
	}
	onFlag(cmd, &on)
	return cmd
}

// dial reaches the keeper of $DISPLAY, or says how to start one.
func dial() (*remote.Client, error) {
	display := os.Getenv("DISPLAY")
	client, err := remote.Dial(remote.SocketPath(display))
	switch {
	case err == nil:
		return client, nil
	case errors.Is(err, remote.ErrNoKeeper) && display == "":
		return nil, fmt.Errorf("%w: DISPLAY names none. zatlas demo shows a made-up desk; on an X display zatlas keep starts a keeper", err)
	case errors.Is(err, remote.ErrNoKeeper):
		return nil, fmt.Errorf("%w, %s. zatlas keep starts one, zatlas alongside one beside another manager; zatlas demo shows a made-up desk", err, display)
	}
	return nil, err
}
