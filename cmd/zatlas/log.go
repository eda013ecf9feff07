package main

import (
	"fmt"
	"os"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"zatlas/internal/store"
)

func logCommand() *cobra.Command {
	var n int
	cmd := &cobra.Command{
		Use:   "log",
		Short: "Print what was done on this display, and by whom",
		Args:  noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if n < 1 {
				return wordsError{fmt.Errorf("--lines must be 1 or more, and is %d", n)}
			}
			entries, err := logbook(cmd, n)
			if err != nil {
				return err
			}
			tw := tabwriter.NewWriter(cmd.OutOrStdout(), 0, 0, 2, ' ', 0)
			for _, e := range entries {
				fmt.Fprintf(tw, "%s\t%s\t%s\n", e.At.Format("2006-01-02 15:04:05"), e.Source, e.Words)
			}
			return tw.Flush()
		},
	}
	cmd.Flags().IntVarP(&n, "lines", "n", 40, "how many lines, the latest ones")
	return cmd
}

// logbook is the last lines of the display's logbook: as the keeper has it that runs,
// which writes it down a little later, else as it is on disk.
func logbook(cmd *cobra.Command, n int) ([]store.Entry, error) {
	if client, err := dial(); err == nil {
		if lines, err := client.Log(cmd.Context()); err == nil {
			var entries []store.Entry
			for _, l := range lines[max(0, len(lines)-n):] {
				entries = append(entries, store.Entry{At: l.At, Source: string(l.Source), Words: l.Words})
			}
			return entries, nil
		}
	}
	s, err := store.Open(store.Path())
	if s == nil { // one that is read-only will do
		return nil, err
	}
	defer s.Close()
	return s.Logbook(os.Getenv("DISPLAY"), n)
}
