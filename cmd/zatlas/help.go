package main

import (
	"cmp"
	"fmt"
	"io"
	"strings"

	"github.com/charmbracelet/x/ansi"
	"github.com/spf13/cobra"
)

// How wide help is at most, and where it goes to no terminal.
const (
	widestHelp = 100
	usualHelp  = 80
)

// writeHelp writes the help of a command as wide as the terminal is.
func writeHelp(cmd *cobra.Command, _ []string) {
	out := cmd.OutOrStdout()
	wide := min(cmp.Or(columnsOf(out), usualHelp), widestHelp)
	text := strings.TrimSpace(cmp.Or(cmd.Long, cmd.Short)) + "\n"
	if cmd.Runnable() || cmd.HasSubCommands() {
		text += "\n" + cmd.UsageString()
	}
	io.WriteString(out, wrapped(text, wide))
}

// wrapped is a text in lines no wider than that. Lines that begin with a letter are those of
// paragraphs; the others stay lines, and what they have too much goes under their last column.
// Comments stay as they are: they are lines of a file.
func wrapped(text string, wide int) string {
	var b strings.Builder
	var paragraph []string
	flush := func() {
		if paragraph != nil {
			fmt.Fprintln(&b, ansi.Wordwrap(strings.Join(paragraph, " "), wide, ""))
		}
		paragraph = nil
	}
	for line := range strings.Lines(text) {
		line = strings.TrimRight(line, " \n")
		if line != "" && line[0] != ' ' {
			paragraph = append(paragraph, line)
			continue
		}
		flush()
		head, rest := lastColumn(line)
		if rest != "" && strings.TrimLeft(line, " ")[0] != '#' {
			rest = ansi.Wordwrap(rest, max(wide-len(head), usualHelp/4), "")
		}
		fmt.Fprintln(&b, head+strings.ReplaceAll(rest, "\n", "\n"+strings.Repeat(" ", len(head))))
	}
	flush()
	return b.String()
}

// lastColumn parts an indented line of a table where its second column begins; one that is none
// where its words do.
func lastColumn(line string) (head, rest string) {
	at := len(line) - len(strings.TrimLeft(line, " "))
	if gap := strings.Index(line[at:], "  "); gap >= 0 {
		at = len(line) - len(strings.TrimLeft(line[at+gap:], " "))
	}
	return line[:at], line[at:]
}
