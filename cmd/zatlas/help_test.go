package main

import (
	"slices"
	"strings"
	"testing"

	"github.com/spf13/cobra"
)

// Help fits a terminal of 80 columns: every page of it, but for lines of files.
func TestHelpFits(t *testing.T) {
	var try func(cmd *cobra.Command)
	try = func(cmd *cobra.Command) {
		var b strings.Builder
		cmd.SetOut(&b)
		cmd.HelpFunc()(cmd, nil)
		for line := range strings.Lines(b.String()) {
			if n := len([]rune(strings.TrimRight(line, "\n"))); n > usualHelp && strings.TrimLeft(line, " ")[0] != '#' {
				t.Errorf("help %s has a line of %d columns: %s", cmd.Name(), n, line)
			}
		}
		for _, sub := range cmd.Commands() {
			try(sub)
		}
	}
	try(newRoot())
}

func TestWrapped(t *testing.T) {
	text := "A paragraph that\ngoes on.\n\nFlags:\n  --out string  the file, which ends with .svg\n    # a comment of a file, as long as it is\n"
	want := []string{"A paragraph that goes on.", "", "Flags:", "  --out string  the file, which ends", "                with .svg", "    # a comment of a file, as long as it is", ""}
	if got := strings.Split(wrapped(text, 36), "\n"); !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
}
