package main

import (
	"context"
	"fmt"
	"io"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

func lineCommand() *cobra.Command {
	var follow bool
	var on string
	cmd := &cobra.Command{
		Use:   "line",
		Short: "Print the desk in one line, for a status bar or a prompt",
		Long: `Print the desk in one line: the workspaces in order, [3] the current one, 3* one
with windows, 3^ one with a window that is urgent, then the layout of the sheet
you are on, and how many windows are lost.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			client, err := dialOn(cmd.Context(), on)
			if err != nil {
				return err
			}
			return printLine(cmd.Context(), cmd.OutOrStdout(), client, follow)
		},
	}
	cmd.Flags().BoolVar(&follow, "follow", false, "print it again at every change")
	onFlag(cmd, &on)
	return cmd
}

// printLine prints the line once, or whenever it changes until the keeper goes.
func printLine(ctx context.Context, out io.Writer, k keeper.Access, follow bool) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	last := ""
	for u := range k.Watch(ctx) {
		if line := deskLine(u.Desk); line != last {
			last = line
			if _, err := fmt.Fprintln(out, line); err != nil {
				return err
			}
		}
		if !follow {
			return nil
		}
	}
	if last == "" {
		return keeper.ErrGone
	}
	return nil
}

// deskLine is the desk in one line.
func deskLine(d *desk.Desk) string {
	var words []string
	urgent := map[int]bool{}
	for _, w := range d.Windows {
		urgent[w.Workspace] = urgent[w.Workspace] || w.Urgent
	}
	for i, ws := range d.Workspaces {
		word := d.Title(i)
		if d.Count(i) > 0 {
			word += "*"
		}
		if urgent[ws.ID] {
			word += "^"
		}
		if i == d.Current() {
			word = "[" + word + "]"
		}
		words = append(words, word)
	}
	line := strings.Join(words, "  ")
	if s := d.Sheet(d.Current(), d.At); s != nil && !d.Settings.Alongside { // where every sheet is free
		line += fmt.Sprintf(" | %c %s", d.At, s.Layout)
	}
	if n := len(d.Select(desk.Is{State: desk.IsStray})); n > 0 {
		line += fmt.Sprintf(" | ! %d lost", n)
	}
	return line
}
