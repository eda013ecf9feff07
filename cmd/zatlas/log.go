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
			s, err := store.Open(store.Path())
			if s == nil { // one that is read-only will do
				return err
			}
			defer s.Close()
			entries, err := s.Logbook(os.Getenv("DISPLAY"), n)
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
