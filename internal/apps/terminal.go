package apps

import (
	"context"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"time"

	"zatlas/internal/geom"
)

// Terminal is a program that runs another one in a window of its own.
type Terminal struct {
	// Command stands before what is run. TITLE in it is the title of the window.
	Command []string
	xterm   bool
}

// FindTerminal finds an installed terminal: xterm, else the one of Debian's alternatives (Debian
// policy 11.8.3). Without either it is the first whose desktop entry has the category
// TerminalEmulator (Desktop Menu Specification 1.1, A).
func FindTerminal(list *List) (t Terminal, ok bool) {
	if executable("xterm") {
		return Terminal{Command: []string{"xterm", "-tn", "xterm-256color", "-T", "TITLE", "-e"}, xterm: true}, true
	}
	if name := "x-terminal-emulator"; executable(name) {
		return Terminal{Command: []string{name, "-T", "TITLE", "-e"}}, true
	}
	for _, app := range list.Apps {
		if app.Before != "" && !app.Hidden && executable(app.Command[0]) {
			return Terminal{Command: append(slices.Clone(app.Command), app.Before)}, true
		}
	}
	return Terminal{}, false
}

// Columns and rows that the window of a terminal has where there is room for them, and
// the heights of its letters in pixels.
const (
	columns, rows            = 150, 42
	smallest, usual, largest = 12, 16, 28
)

// bitmap is a font of the X server's own, 9 by 15 pixels, which has every mark of the
// screens.
const bitmap = "-misc-fixed-medium-r-normal--15-140-75-75-c-90-iso10646-1"

// In is the command for a terminal window that fits into a room, in pixels. With a scalable
// family, letters are as large as possible with a fifth of the room left free; a small room
// has fewer of them. Only xterm takes such arguments; for other terminals it is the plain
// command.
func (t Terminal) In(room geom.Rect, family string) []string {
	if !t.xterm {
		return slices.Clone(t.Command)
	}
	cellW, cellH := 9, 15
	font := []string{"-fn", bitmap}
	if family != "" {
		size := smallest
		if room.Empty() {
			size = usual
		}
		for size < largest && columns*wide(size+1) <= room.W*4/5 && rows*high(size+1) <= room.H*4/5 {
			size++
		}
		cellW, cellH = wide(size), high(size)
		font = []string{"-fa", fmt.Sprintf("%s:pixelsize=%d", family, size)}
	}
	if !room.Empty() {
		font = append(font, "-geometry", fmt.Sprintf("%dx%d", min(columns, room.W*9/10/cellW), min(rows, room.H*9/10/cellH)))
	}
	return slices.Concat(t.Command[:1], font, t.Command[1:])
}

// wide and high are what letters of a size take of the common families, rounded up.
func wide(size int) int { return (size*62 + 99) / 100 }
func high(size int) int { return (size*120 + 99) / 100 }

// fontWait is how long the fonts are asked for at most: they are read anew where their
// list is out of date.
const fontWait = 2 * time.Second

// ScalableFont is the family of fixed width that the user's fonts have in any size; empty
// where none is known.
func ScalableFont(ctx context.Context) string {
	ctx, cancel := context.WithTimeout(ctx, fontWait)
	defer cancel()
	out, err := exec.CommandContext(ctx, "fc-match", "-f", "%{scalable}\n%{spacing}\n%{family[0]}", "monospace").Output()
	if err != nil {
		return ""
	}
	lines := strings.SplitN(string(out), "\n", 3)
	if len(lines) != 3 || lines[0] != "True" || lines[1] != "100" || strings.ContainsAny(lines[2], ":,-\\") {
		return ""
	}
	return lines[2]
}
