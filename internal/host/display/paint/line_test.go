package paint

import (
	"fmt"
	"image/color"
	"math"
	"strings"
	"testing"

	"zatlas/internal/desk"
	zdraw "zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/status"
)

// lineOf is a line of so many workspaces, the shown one in their middle.
func lineOf(n int) status.Line {
	l := status.Line{Monitor: "A", Here: true, Layout: "lead 60/40", App: "Reel Ledger", Title: strings.Repeat("Reels of the late show ", 5), Place: "2 of 3", Lost: 2}
	l.Clock, l.Taken, l.Rows = "15:04", 1, []status.Said{{Text: "3 calls", Left: true}, {Text: "0.5", Width: 4, Click: "strays"}}
	for i := range n {
		l.Workspaces = append(l.Workspaces, status.Space{Number: i + 1, Name: "Programme", Windows: i % 7, Current: i == n/2, Shown: i == n/2, Lost: i % 3, Urgent: i % 2})
	}
	return l
}

// From 1 to 40 workspaces, on monitors of 800 to 7,680 pixels, with small and large letters, every
// workspace has its own division of the same size, the shown one is told by its bar, and no
// parts lie over each other.
func TestLinePicture(t *testing.T) {
	for _, w := range []int{800, 1920, 3440, 7680} {
		for _, n := range []int{1, 3, 12, 40} {
			for _, size := range []int{10, 14, 28} {
				for _, bottom := range []bool{true, false} {
					look := LineLook{Rect: geom.R(0, 0, w, LineHeight(size)), Size: size, Bottom: bottom, Theme: zdraw.Night}
					img := filled(w, look.Rect.H, look.Theme.Ink)
					what := fmt.Sprintf("%d workspaces on %d pixels, letters of %d", n, w, size)
					parts := drawLine(img, facesOf(float64(size), float64(size), float64(size)), look, lineOf(n))
					spaces, each := 0, 0
					for i, p := range parts {
						for _, q := range parts[:i] {
							if p.From < q.To && q.From < p.To && p.From < p.To && q.From < q.To {
								t.Errorf("%s: %+v lies over %+v", what, p, q)
							}
						}
						if p.From < 0 || p.To > w {
							t.Errorf("%s: %+v is outside", what, p)
						}
						if p.What != SpacePart {
							continue
						}
						if spaces++; p.Space != spaces || each != 0 && p.To-p.From != each {
							t.Errorf("%s: the division of %d is %+v", what, spaces, p)
						}
						each = p.To - p.From
						row := size/2 - 2
						if !bottom {
							row = look.Rect.H - 1 - row
						}
						full := img.At((p.From+p.To)/2, row) == color.Color(look.Theme.Brass)
						if full != (p.Space == n/2+1) {
							t.Errorf("%s: %d has a full bar: %v", what, p.Space, full)
						}
					}
					if spaces != n {
						t.Errorf("%s: %d of them are drawn", what, spaces)
					}
				}
			}
		}
	}
}

// What is written can be read in both themes: 4.5 to 1, as WCAG 2.1 has it.
func TestLineContrast(t *testing.T) {
	luminance := func(c color.RGBA) float64 {
		part := func(v uint8) float64 {
			if s := float64(v) / 255; s > 0.04045 {
				return math.Pow((s+0.055)/1.055, 2.4)
			}
			return float64(v) / 255 / 12.92
		}
		return 0.2126*part(c.R) + 0.7152*part(c.G) + 0.0722*part(c.B)
	}
	for _, theme := range []zdraw.Theme{zdraw.Night, zdraw.Day} {
		for name, c := range map[string]color.RGBA{"paper": theme.Paper, "brass": theme.Brass, "slate": theme.Slate, "coral": theme.Coral, "green": theme.Green} {
			x, y := luminance(c), luminance(theme.Ink)
			if k := (max(x, y) + 0.05) / (min(x, y) + 0.05); k < 4.5 {
				t.Errorf("%s: %s has a contrast of %.1f", theme.Name, name, k)
			}
		}
	}
}

// Letters are as high as the density of each monitor asks for; monitors that were not named, or
// mirror another, have no line, and the room of a line is taken off what docks leave.
func TestLay(t *testing.T) {
	ms := []desk.Monitor{
		{Letter: 'A', Key: "a", Connected: true, Primary: true, Rect: geom.R(0, 0, 1920, 1080)},
		{Letter: 'B', Key: "b", Connected: true, Rect: geom.R(1920, 0, 3840, 2160)},
		{Letter: 'C', Key: "c", Connected: true, Mirrors: 'A', Rect: geom.R(0, 0, 1920, 1080)},
		{Letter: 'D', Key: "d", Rect: geom.R(9000, 0, 1920, 1080)},
	}
	density := func(m *desk.Monitor) int { return map[string]int{"a": 96, "b": 192}[m.Key] }
	for _, c := range []struct {
		opt  LineOptions
		want string
	}{
		{LineOptions{Edge: "bottom"}, "A 14 1920×30 at 0,1010, B 28 3840×58 at 1920,2102; A 1920×1010 at 0,0, B 3840×2102 at 1920,0"},
		{LineOptions{Edge: "top", On: "primary", Size: 20}, "A 20 1920×42 at 0,0; A 1920×998 at 0,42, B 3840×2160 at 1920,0"},
		{LineOptions{Edge: "bottom", On: "B"}, "B 28 3840×58 at 1920,2102; A 1920×1040 at 0,0, B 3840×2102 at 1920,0"},
		{LineOptions{Edge: "none"}, "; A 1920×1040 at 0,0, B 3840×2160 at 1920,0"},
	} {
		work := map[byte]geom.Rect{'A': geom.R(0, 0, 1920, 1040), 'B': ms[1].Rect, 'C': ms[2].Rect, 'D': ms[3].Rect} // a dock on A
		looks := c.opt.Lay(ms, work, density)
		var lines, left []string
		for _, letter := range []byte("ABCD") {
			if look, has := looks[letter]; has {
				lines = append(lines, fmt.Sprintf("%c %d %v", letter, look.Size, look.Rect))
			}
		}
		for _, letter := range []byte("AB") {
			left = append(left, fmt.Sprintf("%c %v", letter, work[letter]))
		}
		if got := strings.Join(lines, ", ") + "; " + strings.Join(left, ", "); got != c.want {
			t.Errorf("%+v lays\n%s, want\n%s", c.opt, got, c.want)
		}
	}
}

// Only the columns in which pictures differ are sent.
func TestChangedColumns(t *testing.T) {
	a, b := filled(100, 10, zdraw.Night.Ink), filled(100, 10, zdraw.Night.Ink)
	if from, to := changedColumns(a, b); from < to {
		t.Errorf("of equal ones %d to %d", from, to)
	}
	b.Set(30, 2, zdraw.Night.Brass)
	b.Set(41, 9, zdraw.Night.Brass)
	if from, to := changedColumns(a, b); from != 30 || to != 42 {
		t.Errorf("%d to %d, want 30 to 42", from, to)
	}
}
