package main

import (
	"fmt"
	"io"
	"os"
	"slices"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/store"
	"zatlas/internal/survey"
)

func logCommand() *cobra.Command {
	var n int
	var asJSON, follow bool
	var since string
	cmd := &cobra.Command{
		Use:     "log",
		Short:   "Print what was done, and by whom",
		Example: "  zatlas log -n 10\n  zatlas log --since 2h\n  zatlas log --follow --json",
		Args:    noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if n < 1 {
				return wordsError{fmt.Errorf("--lines must be 1 or more, and is %d", n)}
			}
			from := time.Time{}
			if since != "" {
				var err error
				if from, err = survey.ParseSince(since, time.Now()); err != nil {
					return wordsError{err}
				}
				if !cmd.Flags().Changed("lines") {
					n = allLines
				}
			}
			entries, err := logbook(cmd, n)
			if err != nil {
				return err
			}
			entries = slices.DeleteFunc(entries, func(e store.Entry) bool { return e.At.Before(from) })
			out := cmd.OutOrStdout()
			if asJSON {
				for _, e := range entries {
					if err := printLogLine(out, e); err != nil {
						return err
					}
				}
			} else if err := printLog(out, entries); err != nil {
				return err
			}
			if !follow {
				return nil
			}
			return followLog(cmd, asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON, a line each")
	cmd.Flags().BoolVarP(&follow, "follow", "f", false, "go on with what is done from now on")
	cmd.Flags().StringVar(&since, "since", "", "from a day such as 2026-11-20 on, or a while ago such as 30m, 2h or 3d")
	cmd.Flags().IntVarP(&n, "lines", "n", 40, "how many lines, the latest ones")
	return cmd
}

// allLines is more than a logbook keeps.
const allLines = 10_000

func printLog(out io.Writer, entries []store.Entry) error {
	lines := make([][]string, len(entries))
	for i, e := range entries {
		lines[i] = []string{e.At.Format(time.DateTime), e.Source, e.Words}
	}
	return printTable(out, lines)
}

// logLine is a line of the logbook as log prints it for programs.
type logLine struct {
	At     string `json:"at"` // RFC 3339
	Source string `json:"source"`
	Words  string `json:"words"`
}

func printLogLine(out io.Writer, e store.Entry) error {
	return printJSONLine(out, logLine{e.At.Format(time.RFC3339), e.Source, e.Words})
}

// followLog prints what is done from now on, until the keeper goes.
func followLog(cmd *cobra.Command, asJSON bool) error {
	client, err := dial()
	if err != nil {
		return err
	}
	first := true
	for u := range client.Watch(cmd.Context()) {
		if u.Err != nil {
			return u.Err
		}
		e := store.Entry{At: time.Now(), Source: string(u.Source), Words: u.Words}
		switch {
		case first || u.Words == "":
			err = nil
		case asJSON:
			err = printLogLine(cmd.OutOrStdout(), e)
		default:
			err = printLog(cmd.OutOrStdout(), []store.Entry{e})
		}
		if first = false; err != nil {
			return err
		}
	}
	return nil
}

// logbook is the last lines of the display's logbook. A running keeper is asked, since it writes
// a little later; without one, the file is read.
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
	return store.ReadLogbook(store.Path(), os.Getenv("DISPLAY"), n)
}
