package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/keeper"
	"zatlas/internal/status"
)

func lineCommand() *cobra.Command {
	var follow, asJSON bool
	var on, format string
	cmd := &cobra.Command{
		Use:     "line",
		Short:   "Print what the line shows, for a bar or a prompt",
		Example: "  zatlas line\n  zatlas line --follow\n  zatlas line --json\n  zatlas line --format '{workspaces}  {app} {title}  {clock}'",
		Long: `Print the desk in one line: the workspaces in order, [3] the current one, (3) one that
another monitor shows, 3* one with windows, 3^ one with a window that is urgent, then the layout of the sheet
you are on, and how many windows are lost.

With --format it is what the keeper's line says where you are, by pieces: ` + strings.Join(bracedPieces(), ", ") + `.
{{ stands for a brace.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			form, err := status.ParseForm(format)
			if err != nil {
				return wordsError{err}
			}
			client, err := dialOn(cmd.Context(), on)
			if err != nil {
				return err
			}
			say := status.Line.Text
			if format != "" {
				say = form.Print
			} else if asJSON {
				say = lineJSON
			}
			return printLine(cmd.Context(), cmd.OutOrStdout(), client, follow, say)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	cmd.Flags().BoolVar(&follow, "follow", false, "print it again at every change")
	cmd.Flags().StringVar(&format, "format", "", "print these pieces, such as '{workspaces} {title}'")
	cmd.MarkFlagsMutuallyExclusive("json", "format")
	onFlag(cmd, &on)
	return cmd
}

// printLine prints what the keeper's line says, once, or whenever that changes until the keeper
// goes.
func printLine(ctx context.Context, out io.Writer, k reached, follow bool, say func(status.Line) string) error {
	last, any := "", false
	err := k.Line(ctx, follow, func(l status.Line) error {
		line := say(l)
		if any && line == last {
			return nil
		}
		last, any = line, true
		_, err := fmt.Fprintln(out, line)
		return err
	})
	if err == nil && !any {
		return keeper.ErrGone
	}
	return err
}

// lineSpace is a workspace as line prints it for programs.
type lineSpace struct {
	Name    string `json:"name,omitempty"`
	Windows int    `json:"windows"`
	Urgent  bool   `json:"urgent,omitempty"`
	Shown   bool   `json:"shown,omitempty"`
}

// lineDesk is the desk as line prints it for programs.
type lineDesk struct {
	Workspaces []lineSpace `json:"workspaces"` // in their order
	Current    int         `json:"current"`
	Monitor    string      `json:"monitor"`
	Layout     string      `json:"layout,omitempty"`
	Lost       int         `json:"lost"`
}

// lineJSON is the line as one of JSON.
func lineJSON(l status.Line) string {
	layout, _, _ := strings.Cut(l.Layout, " ")
	line := lineDesk{Current: 1, Monitor: l.Monitor, Layout: layout, Lost: l.Lost}
	for _, s := range l.Workspaces {
		line.Workspaces = append(line.Workspaces, lineSpace{s.Name, s.Windows, s.Urgent > 0, s.Shown})
		if s.Current {
			line.Current = s.Number
		}
	}
	text, err := json.Marshal(line)
	if err != nil {
		return "{}" // which cannot be: it is numbers and text
	}
	return string(text)
}

// bracedPieces are the pieces of a form, as it names them.
func bracedPieces() (names []string) {
	for _, name := range status.Pieces() {
		names = append(names, "{"+name+"}")
	}
	return names
}
