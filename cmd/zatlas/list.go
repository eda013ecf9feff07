package main

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/stray"
)

// listed is a window as list prints it.
type listed struct {
	ID     int      `json:"id"`
	Ref    string   `json:"ref"`
	App    string   `json:"app"`
	Title  string   `json:"title"`
	Parent int      `json:"parent,omitempty"` // the window this one is a dialog of
	States []string `json:"states"`
	Rect   [4]int   `json:"rect"`
	Shows  float64  `json:"shows"`
	Stray  string   `json:"stray,omitempty"`
	Was    string   `json:"was,omitempty"`
}

func listCommand() *cobra.Command {
	var file, on string
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "list [QUERY]",
		Short: "List windows",
		Long: `Print the windows a query matches, of the running keeper's desk or of a scene.
Without a query, all of them. Where a query matches none the exit status is 1; with
--json it is 0, and the list empty.`,
		Example: "  zatlas list app:ledger\n  zatlas list 'is:stray or on:3' --json",
		RunE: func(cmd *cobra.Command, args []string) error {
			q, err := lang.ParseQuery(strings.Join(args, " "))
			if err != nil {
				return wordsError{fmt.Errorf("%s: %w", strings.Join(args, " "), err)}
			}
			d, err := deskFor(cmd, file, on)
			if err != nil {
				return err
			}
			found := d.Select(q)
			if len(found) == 0 && !asJSON && len(args) > 0 {
				return fmt.Errorf("no window matches %s", strings.Join(args, " "))
			}
			return printList(cmd.OutOrStdout(), d, found, asJSON)
		},
	}
	cmd.Flags().StringVar(&file, "scene", "", "read this scene file instead of the running desk")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	onFlag(cmd, &on)
	cmd.ValidArgsFunction = completeQueries(sceneOr)
	return cmd
}

// deskFor is the desk of a scene file, or of the running keeper where none is named.
func deskFor(cmd *cobra.Command, file, on string) (*desk.Desk, error) {
	if file != "" || cmd.Flags().Changed("scene") {
		d, err := scene.ReadFile(file)
		if err != nil {
			return nil, err
		}
		return d.AtTime(time.Now().Unix()), nil
	}
	client, err := dialOn(cmd.Context(), on)
	if err != nil {
		return nil, err
	}
	return client.Desk(cmd.Context())
}

func printList(out io.Writer, d *desk.Desk, ws []*desk.Window, asJSON bool) error {
	rows := make([]listed, len(ws))
	for i, w := range ws {
		f := d.Lost(w)
		rows[i] = listed{
			ID: w.ID, Ref: d.Ref(w), App: w.App, Title: w.Title, Parent: w.Parent, States: d.States(w),
			Rect: [4]int{w.Rect.X, w.Rect.Y, w.Rect.W, w.Rect.H}, Shows: f.Shows, Stray: f.Cause.String(),
		}
		if f.Cause == stray.Off && f.Was != 0 {
			rows[i].Was = string(rune(f.Was))
		}
	}
	if asJSON {
		return printJSON(out, rows)
	}
	lines := make([][]string, len(rows))
	for i, r := range rows {
		states := r.States
		if r.Stray != "" {
			states = append(states, "lost: "+r.Stray)
		}
		lines[i] = []string{fmt.Sprintf("#%d", r.ID), r.Ref, r.App, r.Title, strings.Join(states, ", ")}
	}
	return printTable(out, lines)
}

// printJSON prints a value for programs.
func printJSON(out io.Writer, v any) error {
	enc := json.NewEncoder(out)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", " ")
	return enc.Encode(v)
}

// printJSONLine prints a value for programs in one line.
func printJSONLine(out io.Writer, v any) error {
	enc := json.NewEncoder(out)
	enc.SetEscapeHTML(false)
	return enc.Encode(v)
}
