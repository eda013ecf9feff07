package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/remote"
)

func doCommand() *cobra.Command {
	var on, about string
	var wait time.Duration
	cmd := &cobra.Command{
		Use:   "do COMMAND...",
		Short: "Run commands in the running keeper",
		Long: `Have the running keeper carry out commands, each one argument, until one fails.
"zatlas do -" reads them from the standard input, one a line; empty lines and those that
begin with # are left out. What is wrong with a line is told with its number, before any
of them is carried out. Another machine is waited for 30 seconds for each, or as long as
--wait says; the keeper here as long as it takes. A command still runs after that: its name
is printed, and --about NAME waits for it again.`,
		Example: `  zatlas do "send 3" "go 3"
  printf 'go 2\nplate lay Call\n' | zatlas do -`,
		Args: func(_ *cobra.Command, args []string) error {
			switch {
			case about != "" && len(args) > 0:
				return wordsError{errors.New("--about takes no command besides")}
			case about == "" && len(args) == 0:
				return wordsError{errors.New(`do needs a command, such as zatlas do "go 2"`)}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			if on != "" && !cmd.Flags().Changed("wait") {
				wait = afarWait
			}
			if about != "" {
				return tellAbout(cmd, on, about, wait)
			}
			lines, name := args, func(i int) string { return args[i] }
			var commands []desk.Command
			var err error
			if len(args) == 1 && args[0] == "-" {
				commands, lines, err = readCommands(cmd.InOrStdin())
				name = func(i int) string { return lines[i] }
			} else {
				commands, err = parseAll(lines)
			}
			if err != nil {
				return err
			}
			var client reached
			err = within(cmd.Context(), wait, "", func(ctx context.Context) (err error) { client, err = dialOn(ctx, on); return err })
			if err != nil {
				return err
			}
			for i, c := range commands {
				var o keeper.Outcome
				called := fmt.Sprintf("%08x", rand.Uint32())
				err := within(cmd.Context(), wait, aboutLine(on, called), func(ctx context.Context) (err error) { o, err = client.DoNamed(ctx, c, called); return err })
				if err == nil {
					err = o.Err
				}
				if err != nil {
					return fmt.Errorf("%s: %w", name(i), err)
				}
				fmt.Fprintln(cmd.OutOrStdout(), o.Result.Words)
			}
			return nil
		},
	}
	onFlag(cmd, &on)
	cmd.Flags().DurationVar(&wait, "wait", 0, "give up after so long without an answer, as 10s; 0 for never")
	cmd.Flags().StringVar(&about, "about", "", "wait for the command with this name, and print its result")
	cmd.ValidArgsFunction = completeCommands(running)
	return cmd
}

// afarWait is how long another machine is waited for, where nothing else is said.
const afarWait = 30 * time.Second

// tellAbout waits again for a command with a name, and prints its result.
func tellAbout(cmd *cobra.Command, on, name string, wait time.Duration) error {
	var o keeper.Outcome
	err := within(cmd.Context(), wait, aboutLine(on, name), func(ctx context.Context) error {
		client, err := dialOn(ctx, on)
		if err == nil {
			o, err = client.Done(ctx, name)
		}
		return err
	})
	if err = cmp.Or(err, o.Err); err != nil {
		return err
	}
	fmt.Fprintln(cmd.OutOrStdout(), o.Result.Words)
	return nil
}

// aboutLine says how to ask again about a command that is not waited for.
func aboutLine(on, name string) string {
	if on != "" {
		return fmt.Sprintf("If it has arrived, the command still runs: zatlas do --on %s --about %s prints its result", on, name)
	}
	return fmt.Sprintf("The command still runs: zatlas do --about %s prints its result", name)
}

// within does something that needs an answer, and gives up after a time; 0 for never. Again
// says how to ask about it again; empty for what changes nothing.
func within(ctx context.Context, wait time.Duration, again string, f func(context.Context) error) error {
	if wait <= 0 {
		return f(ctx)
	}
	soon, cancel := context.WithTimeout(ctx, wait)
	defer cancel()
	err := f(soon)
	switch {
	case err == nil || ctx.Err() != nil || soon.Err() == nil:
		return err
	case again == "":
		return fmt.Errorf("no answer for %v: nothing was asked for", wait)
	}
	return fmt.Errorf("no answer for %v. %s", wait, again)
}

// maxScript is how long what "do -" reads may be, in bytes.
const maxScript = 1 << 20

// readCommands reads commands, one a line, and how a fault names each.
func readCommands(in io.Reader) (commands []desk.Command, names []string, err error) {
	data, err := io.ReadAll(io.LimitReader(in, maxScript+1))
	if err != nil {
		return nil, nil, fmt.Errorf("the standard input cannot be read: %w", err)
	}
	if len(data) > maxScript {
		return nil, nil, wordsError{errors.New("the standard input is longer than commands can be")}
	}
	for i, line := range strings.Split(string(data), "\n") {
		line = strings.TrimSpace(line)
		if line == "" || line[0] == '#' {
			continue
		}
		c, err := lang.ParseCommand(line)
		if err != nil {
			return nil, nil, wordsError{fmt.Errorf("line %d: %s: %w", i+1, desk.CleanText(line, desk.MaxTitle), err)}
		}
		commands, names = append(commands, c), append(names, fmt.Sprintf("line %d: %s", i+1, desk.CleanText(line, desk.MaxTitle)))
	}
	return commands, names, nil
}

// dial reaches the keeper of $DISPLAY, or says why there is none and how to start one.
func dial() (*remote.Client, error) {
	name := os.Getenv("DISPLAY")
	client, err := remote.Dial(remote.SocketPath(name))
	switch {
	case err == nil:
		return client, nil
	case errors.Is(err, remote.ErrNoKeeper) && name == "":
		return nil, fmt.Errorf("%w: DISPLAY names none. zatlas demo shows a made-up desk; on an X display zatlas keep starts a keeper", err)
	case errors.Is(err, remote.ErrNoKeeper):
		conn, _, gone := display.Connect(display.Name(name))
		if gone != nil {
			return nil, gone
		}
		conn.Close()
		return nil, fmt.Errorf("%w, %s. zatlas keep starts one, zatlas alongside one beside another manager; zatlas demo shows a made-up desk", err, name)
	}
	return nil, err
}
