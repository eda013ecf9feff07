package apps

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/geom"
)

// A terminal is found by what is installed, and xterm's window fits its room.
func TestFindTerminal(t *testing.T) {
	bin := t.TempDir()
	t.Setenv("PATH", bin)
	install := func(name, text string) {
		if err := os.WriteFile(filepath.Join(bin, name), []byte(text), 0o755); err != nil {
			t.Fatal(err)
		}
	}
	entry, err := Parse([]byte("[Desktop Entry]\nType=Application\nName=Lantern\nExec=lantern --new\nCategories=System;TerminalEmulator;\nX-TerminalArgExec=--\n"), "", "", "")
	if err != nil {
		t.Fatal(err)
	}
	list := NewList([]App{{Name: "Hall Plan", Command: []string{"sh"}}, entry})
	for _, step := range []struct {
		install string
		want    []string
	}{
		{"", nil}, {"lantern", []string{"lantern", "--new", "--"}}, {"x-terminal-emulator", []string{"x-terminal-emulator", "-T", "TITLE", "-e"}},
		{"xterm", []string{"xterm", "-tn", "xterm-256color", "-T", "TITLE", "-e"}},
	} {
		if step.install != "" {
			install(step.install, "#!/bin/sh\n")
		}
		got, ok := FindTerminal(list)
		if ok != (step.want != nil) || !slices.Equal(got.Command, step.want) {
			t.Errorf("with %s there is %q, %v; want %q", step.install, got.Command, ok, step.want)
		}
	}
	x, _ := FindTerminal(list)
	for _, c := range []struct {
		room   geom.Rect
		family string
		want   string
	}{
		{geom.R(0, 0, 1920, 1080), "Mono", "-fa Mono:pixelsize=16 -geometry 150x42"},
		{geom.R(0, 0, 3440, 1440), "Mono", "-fa Mono:pixelsize=22 -geometry 150x42"},
		{geom.R(0, 0, 7680, 4320), "Mono", "-fa Mono:pixelsize=28 -geometry 150x42"},
		{geom.R(0, 0, 1024, 600), "Mono", "-fa Mono:pixelsize=12 -geometry 115x36"},
		{geom.R(0, 0, 1024, 600), "", "-fn " + bitmap + " -geometry 102x36"},
		{geom.Rect{}, "Mono", "-fa Mono:pixelsize=16"},
	} {
		got := x.In(c.room, c.family)
		if words := strings.Join(got[1:len(got)-len(x.Command)+1], " "); words != c.want || got[0] != "xterm" || got[len(got)-1] != "-e" {
			t.Errorf("in %v with %q: %q", c.room, c.family, got)
		}
	}
	for _, c := range []struct{ fonts, want string }{
		{"printf 'True\\n100\\nMono'", "Mono"}, {"printf 'False\\n100\\nFixed'", ""}, {"printf 'True\\n0\\nSans'", ""}, {"printf 'True\\n100\\nA:b'", ""}, {"exit 1", ""},
	} {
		install("fc-match", "#!/bin/sh\n"+c.fonts+"\n")
		if got := ScalableFont(t.Context()); got != c.want {
			t.Errorf("of %q the font is %q", c.fonts, got)
		}
	}
}
