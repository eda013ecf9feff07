package main

import (
	"errors"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/keeper"
	"zatlas/internal/tui"
)

// keyWords say what becomes of a chord.
var keyWords = map[keeper.KeyState]string{
	keeper.KeyOurs: "", keeper.KeyTaken: "taken by another program", keeper.KeyMissing: "this keyboard has no such key or modifier", keeper.KeyHidden: "hidden: a shorter one comes before it",
}

func keysCommand() *cobra.Command {
	var asJSON, watch bool
	cmd := &cobra.Command{
		Use:   "keys",
		Short: "Print the chords of the display, and whether they work",
		Long: `Print the chords of the running keeper's display, what each stands for, and those
that do not work: taken by another program (X does not tell which), or not to be
typed on this keyboard. Those that were taken are tried again. With --watch, print
what this terminal sends, as the settings write it.`,
		Example: "  zatlas keys\n  zatlas keys --json\n  zatlas keys --watch",
		Args:    noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			switch {
			case watch && asJSON:
				return errors.New("--watch prints keys as they are pressed, and --json those that are bound: give one of the two")
			case watch && !onTerminal():
				return errors.New("--watch prints what a terminal sends, and needs one")
			case watch:
				return tui.WatchKeys(cmd.Context())
			}
			client, err := dial()
			if err != nil {
				return err
			}
			keys, err := client.Keys(cmd.Context())
			if err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), append([]keeper.Key{}, keys...)) // a list, also of none
			}
			var lines [][]string
			for _, k := range keys {
				lines = append(lines, []string{k.Chord, k.Command, keyWords[k.State]})
			}
			return printTable(cmd.OutOrStdout(), foldDigits(lines))
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	cmd.Flags().BoolVar(&watch, "watch", false, "print each key that is pressed here as chords are written")
	return cmd
}

// foldDigits makes one line of the lines in turn that differ by the digits 1 to 9 alone, such
// as Super+1-9 for go 1-9.
func foldDigits(lines [][]string) (folded [][]string) {
	for len(lines) > 0 {
		first, n := lines[0], 1
		for n < len(lines) && n < 9 && sameBut(first, lines[n], n+1) {
			n++
		}
		if n == 9 {
			first = slices.Clone(first)
			for i, field := range first {
				first[i] = strings.Replace(field, "1", "1-9", 1)
			}
		} else {
			n = 1
		}
		folded, lines = append(folded, first), lines[n:]
	}
	return folded
}

// sameBut tells whether a line is another one with a digit in the place of the 1.
func sameBut(one, line []string, digit int) bool {
	for i, field := range one {
		if strings.Replace(field, "1", strconv.Itoa(digit), 1) != line[i] {
			return false
		}
	}
	return true
}
