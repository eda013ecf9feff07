package main

import (
	"os"
	"strings"
	"testing"

	"zatlas/internal/lang"
	"zatlas/internal/scene"
)

// Every command that the guide shows can be given on the demo desk, in its order, and so
// can every example of the manual pages.
func TestGuide(t *testing.T) {
	text, err := os.ReadFile("../../docs/GUIDE.md")
	if err != nil {
		t.Fatal(err)
	}
	d, err := scene.Demo()
	if err != nil {
		t.Fatal(err)
	}
	tried := 0
	try := func(line string) {
		c, err := lang.ParseCommand(line)
		if err == nil {
			d, _, err = d.Apply(c)
		}
		if err != nil {
			t.Errorf("%s: %v", line, err)
		}
		tried++
	}
	for i, block := range strings.Split(string(text), "```") {
		if lines, is := strings.CutPrefix(block, "do\n"); is && i%2 == 1 {
			for line := range strings.Lines(lines) {
				try(strings.TrimSpace(line))
			}
		}
	}
	if tried < 25 {
		t.Errorf("only %d commands were found in the guide", tried)
	}
	if d, err = scene.Demo(); err != nil {
		t.Fatal(err)
	}
	for _, line := range examples() {
		try(line)
	}
}
