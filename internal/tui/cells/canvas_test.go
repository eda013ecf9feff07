package cells

import (
	"strings"
	"testing"

	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/geom"
)

// rows is what a canvas shows, without styles.
func rows(c *Canvas) []string { return strings.Split(ansi.Strip(c.Render()), "\n") }

// Whatever is written where, a canvas keeps its size, and no control character leaves it.
func FuzzCanvas(f *testing.F) {
	f.Add("Hall Plan", int16(2), int16(1), "漢字", int16(3), int16(1))
	f.Add("\x1b[2J\u202e\x07", int16(-1), int16(0), "e\u0301", int16(9), int16(2))
	f.Add("漢漢漢漢漢漢", int16(9), int16(0), "x", int16(10), int16(0))
	f.Fuzz(func(t *testing.T, a string, x, y int16, b string, u, v int16) {
		c := NewCanvas(12, 3, Night.Style(Night.Paper), false, nil)
		c.Text(int(x), int(y), 12-min(max(int(x), 0), 12), a, uv.Style{})
		c.Text(int(u), int(v), 5, b, uv.Style{})
		c.Box(geom.R(int(u), int(v), 4, 2), LightFrame, uv.Style{}, nil)
		lines := rows(c)
		if len(lines) != 3 {
			t.Fatalf("%d lines: %q", len(lines), lines)
		}
		for _, line := range lines {
			if Width(line) != 12 || strings.ContainsAny(line, "\x1b\x07\u202e\u0085") {
				t.Errorf("%q is %d cells wide", line, Width(line))
			}
		}
	})
}

// Of a wide letter that is half covered a blank is left, what is too long ends in an ellipsis,
// and the second set of marks takes the same cells.
func TestCanvas(t *testing.T) {
	c := NewCanvas(12, 3, uv.Style{}, false, nil)
	c.Text(0, 0, 12, "漢字漢字", uv.Style{})
	c.Put(3, 0, "x", uv.Style{})
	c.Text(8, 0, 4, "Hall Plan", uv.Style{})
	c.Box(geom.R(0, 1, 4, 2), LightFrame, uv.Style{}, nil)
	want := []string{"漢 x漢字Hal…", "┌──┐        ", "└──┘        "}
	for i, line := range rows(c) {
		if line != want[i] {
			t.Errorf("line %d is %q, want %q", i, line, want[i])
		}
	}
	next := NewCanvas(12, 3, uv.Style{}, true, c)
	next.Box(geom.R(0, 1, 4, 2), LightFrame, uv.Style{}, nil)
	if got := rows(next); got[1] != "+--+        " {
		t.Errorf("the second set of marks draws %q", got[1])
	}
}

// Lines break between words, and not within values.
func TestWrap(t *testing.T) {
	for text, want := range map[string]string{
		"the most on Monday, 7 h 19 min.": "the most on Monday,|7 h 19 min.",
		"the most on Monday 10 min then":  "the most on Monday|10 min then",
		"short":                           "short",
		"aword thatisfartoolongforaline":  "aword|thatisfartoolongforal|ine",
	} {
		if got := strings.Join(Wrap(text, 21), "|"); got != want {
			t.Errorf("%q is broken as %q, want %q", text, got, want)
		}
	}
}
