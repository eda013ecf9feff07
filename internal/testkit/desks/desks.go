// Package desks gives tests their desks and commands.
package desks

import (
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
)

// Demo is the desk of the demo after commands.
func Demo(t testing.TB, lines ...string) *desk.Desk {
	t.Helper()
	d, err := scene.Demo()
	if err != nil {
		t.Fatal(err)
	}
	return After(t, d, lines...)
}

// Command is a command in words.
func Command(t testing.TB, line string) desk.Command {
	t.Helper()
	c, err := lang.ParseCommand(line)
	if err != nil {
		t.Fatalf("%s: %v", line, err)
	}
	return c
}

// After is a desk after commands, each of which must be done.
func After(t testing.TB, d *desk.Desk, lines ...string) *desk.Desk {
	t.Helper()
	for _, line := range lines {
		next, _, err := d.Apply(Command(t, line))
		if err != nil {
			t.Fatalf("%s: %v", line, err)
		}
		d = next
	}
	return d
}
