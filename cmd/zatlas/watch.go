package main

import (
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// change is a change of the desk as watch prints it.
type change struct {
	At     string `json:"at"` // RFC 3339
	Serial int    `json:"serial"`
	// Verb is that of the command it came of; empty where it was none.
	Verb   string `json:"verb,omitempty"`
	Source string `json:"source"`
	Words  string `json:"words,omitempty"`
	// Windows are the ids of those that are elsewhere now, or are new, and Closed of
	// those that are gone.
	Windows   []int  `json:"windows"`
	Closed    []int  `json:"closed"`
	Workspace int    `json:"workspace"` // the number of the current one
	Monitor   string `json:"monitor"`
	Focus     int    `json:"focus,omitempty"`
}

func watchCommand() *cobra.Command {
	var on string
	cmd := &cobra.Command{
		Use:     "watch",
		Short:   "Print every change of the desk as a line of JSON",
		Example: "  zatlas watch\n  zatlas watch --on annexe",
		Long: `Print a line of JSON for every change of the desk of the running keeper, until that
ends: the verb of the command and who gave it, what was said, the windows that are
elsewhere, new or gone, and where you are. The fields stay as docs/json.md has them. Of
changes that come faster than they are read the last is printed, with all that is
elsewhere since the line before.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			client, err := dialOn(cmd.Context(), on)
			if err != nil {
				return err
			}
			var last *desk.Desk
			for u := range client.Watch(cmd.Context()) {
				if u.Err != nil {
					return u.Err
				}
				if last != nil {
					if err := printJSONLine(cmd.OutOrStdout(), changeOf(last, u)); err != nil {
						return err
					}
				}
				last = u.Desk
			}
			if last == nil {
				return keeper.ErrGone
			}
			return nil
		},
	}
	onFlag(cmd, &on)
	return cmd
}

// changeOf is what an update changed.
func changeOf(was *desk.Desk, u keeper.Update) change {
	c := change{
		At: time.Now().Format(time.RFC3339), Serial: u.Serial, Verb: u.Verb, Source: string(u.Source), Words: u.Words,
		Windows: append([]int{}, was.Differs(u.Desk)...), Closed: []int{}, Workspace: u.Desk.Current() + 1, Monitor: string(rune(u.Desk.At)), Focus: u.Desk.Focus,
	}
	for _, w := range was.Windows {
		if u.Desk.Window(w.ID) == nil {
			c.Closed = append(c.Closed, w.ID)
		}
	}
	return c
}
