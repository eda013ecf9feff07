package main

import (
	"fmt"
	"strings"
	"testing"

	"github.com/charmbracelet/x/ansi"
)

// A table is as wide as the terminal at most, and loses what is longest.
func TestFitTable(t *testing.T) {
	t.Parallel()
	lines := [][]string{
		{"#1", "A1", "Reel Ledger", strings.Repeat("long ", 100), "lost: it lies where C was"},
		{"#20", "B3", "Tin Radio", "日本の長い題名", ""},
	}
	for _, wide := range []int{300, 100, 80, 60} {
		for i, fields := range fitTable(lines, wide) {
			w := 0
			for _, f := range fields {
				w += ansi.StringWidth(f) + tableGap
			}
			if w-tableGap > wide || fields[0] != lines[i][0] || fields[1] != lines[i][1] {
				t.Errorf("in %d columns: %q", wide, fields)
			}
		}
	}
	if got := fitTable(lines, 1000); fmt.Sprint(got) != fmt.Sprint(lines) {
		t.Errorf("with room for all it is %q", got)
	}
}

// Nine rows that differ by their digit are one.
func TestFoldDigits(t *testing.T) {
	t.Parallel()
	var lines [][]string
	for i := 1; i <= 9; i++ {
		lines = append(lines, []string{fmt.Sprint("Super+", i), fmt.Sprint("go ", i), ""})
	}
	lines = append(lines, []string{"Super+A", "add", ""}, []string{"Super+1", "go 1", ""}, []string{"Super+2", "go 2", "taken"})
	want := "[[Super+1-9 go 1-9 ] [Super+A add ] [Super+1 go 1 ] [Super+2 go 2 taken]]"
	if got := fmt.Sprint(foldDigits(lines)); got != want {
		t.Errorf("folded they are %s", got)
	}
}
