package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
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
			if format != "" {
				return printForm(cmd, client, follow, form)
			}
			say := deskLine
			if asJSON {
				say = deskJSON
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

// printLine prints the line once, or whenever it changes until the keeper goes.
func printLine(ctx context.Context, out io.Writer, k keeper.Access, follow bool, say func(*desk.Desk) string) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	last := ""
	for u := range k.Watch(ctx) {
		if line := say(u.Desk); line != last {
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

// deskJSON is the desk in one line of JSON.
func deskJSON(d *desk.Desk) string {
	l := lineOf(d)
	line := lineDesk{Current: d.Current() + 1, Monitor: l.Monitor, Lost: l.Lost}
	for _, s := range l.Workspaces {
		line.Workspaces = append(line.Workspaces, lineSpace{s.Name, s.Windows, s.Urgent > 0, s.Shown})
	}
	if s := d.Sheet(d.Current(), d.At); s != nil {
		line.Layout = s.Layout.String()
	}
	text, err := json.Marshal(line)
	if err != nil {
		return "{}" // which cannot be: it is numbers and text
	}
	return string(text)
}

// deskLine is the desk in one line.
func deskLine(d *desk.Desk) string { return lineOf(d).Text() }

// lineOf is what the line says of a desk where you are.
func lineOf(d *desk.Desk) status.Line {
	o, _ := draw.OverviewOf(d, nil)
	return status.Of(o, d.At, status.Facts{})
}

// bracedPieces are the pieces of a form, as it names them.
func bracedPieces() (names []string) {
	for _, name := range status.Pieces() {
		names = append(names, "{"+name+"}")
	}
	return names
}

// printForm prints what the keeper's line says in a form, once or at every change of that.
func printForm(cmd *cobra.Command, k reached, follow bool, form status.Form) error {
	last, any := "", false
	err := k.Line(cmd.Context(), follow, func(l status.Line) error {
		line := form.Print(l)
		if any && line == last {
			return nil
		}
		last, any = line, true
		_, err := fmt.Fprintln(cmd.OutOrStdout(), line)
		return err
	})
	if err == nil && (!any || follow) {
		return keeper.ErrGone
	}
	return err
}
