package main

import (
	"bufio"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"
	"text/tabwriter"

	"github.com/charmbracelet/x/ansi"
	"github.com/charmbracelet/x/term"
)

// tableGap is how many columns are between two fields, and leastField how far a field is cut.
const (
	tableGap   = 2
	leastField = 12
)

// printTable prints lines with their fields under one another. On a terminal the longest
// fields are cut, so that a line is no wider than that.
func printTable(out io.Writer, lines [][]string) error {
	if wide := columnsOf(out); wide > 0 {
		lines = fitTable(lines, wide)
	}
	buffered := bufio.NewWriter(out) // it is written in many pieces
	tw := tabwriter.NewWriter(buffered, 0, 0, tableGap, ' ', 0)
	for _, fields := range lines {
		fmt.Fprintln(tw, strings.Join(fields, "\t"))
	}
	if err := tw.Flush(); err != nil {
		return err
	}
	return buffered.Flush()
}

// columnsOf is how wide a terminal is; 0 for what is none.
func columnsOf(out io.Writer) int {
	f, is := out.(*os.File)
	if !is || !term.IsTerminal(f.Fd()) {
		return 0
	}
	w, _, err := term.GetSize(f.Fd())
	if err != nil {
		return 0
	}
	return w
}

// fitTable cuts the widest columns of a table until its lines fit.
func fitTable(lines [][]string, wide int) [][]string {
	var widths []int
	for _, fields := range lines {
		for i, field := range fields {
			if i == len(widths) {
				widths = append(widths, tableGap)
			}
			widths[i] = max(widths[i], ansi.StringWidth(field)+tableGap)
		}
	}
	sum := -tableGap // after the last
	for _, w := range widths {
		sum += w
	}
	for sum > wide {
		at := 0
		for i, w := range widths {
			if w > widths[at] {
				at = i
			}
		}
		if widths[at] <= leastField+tableGap {
			break
		}
		widths[at]--
		sum--
	}
	fitted := make([][]string, len(lines))
	for n, fields := range lines {
		fitted[n] = slices.Clone(fields)
		for i, field := range fields {
			fitted[n][i] = ansi.Truncate(field, widths[i]-tableGap, "…")
		}
	}
	return fitted
}
