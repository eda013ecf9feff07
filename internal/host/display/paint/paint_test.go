package paint

import (
	"image"
	"image/color"
	"strings"
	"testing"

	"zatlas/internal/draw"
	"zatlas/internal/host/display"

	"golang.org/x/image/font"
)

// A text is cut to its room, and what the font has no glyph for is a box: never
// wider than there is room, never more than there was.
func TestFitted(t *testing.T) {
	f := facesOf(stripFont, cardFont, headingFont)
	for _, text := range []string{"", "Running order", strings.Repeat("wide ", 80), "日本 \u200b", "\U0010ffff"} {
		for _, most := range []int{0, 1, 20, 150, 5000} {
			got := fitted(f.heading, text, most)
			if w := font.MeasureString(f.heading, got).Ceil(); w > most {
				t.Errorf("%.20q in %d pixels is %q, which takes %d", text, most, got, w)
			}
			if most == 5000 && len([]rune(got)) != len([]rune(text)) {
				t.Errorf("%.20q with room enough is %q", text, got)
			}
		}
	}
	if got := fitted(f.heading, "\U0010ffff", 100); got != "□" {
		t.Errorf("a letter that there is none of is %q", got)
	}
}

// used tells whether a colour is on a picture.
func used(img *image.RGBA, c color.RGBA) bool {
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			if img.RGBAAt(x, y) == c {
				return true
			}
		}
	}
	return false
}

// The active heading has a mark of brass before its name and a lighter ground; the
// mark is full where it has the focus. So it is by night and by day.
func TestHeadingsDiffer(t *testing.T) {
	f := facesOf(stripFont, cardFont, headingFont)
	for _, theme := range []draw.Theme{draw.Night, draw.Day} {
		state := headingState{w: 200, h: 24, scale: display.UsualDensity, label: "Reel Ledger"}
		plain := f.drawn(state, theme)
		state.active = true
		active := f.drawn(state, theme)
		state.focused = true
		focused := f.drawn(state, theme)
		if used(plain, theme.Brass) || !used(active, theme.Brass) || active.RGBAAt(100, 5) != theme.Sea || plain.RGBAAt(100, 5) != theme.Ink {
			t.Errorf("by %s the active heading is not told from the others", theme.Name)
		}
		middle := image.Pt(headingPad+headingMark/2, 12)
		if active.RGBAAt(middle.X, middle.Y) != theme.Sea || focused.RGBAAt(middle.X, middle.Y) != theme.Brass {
			t.Errorf("by %s the mark is %v, and with the focus %v", theme.Name, active.RGBAAt(middle.X, middle.Y), focused.RGBAAt(middle.X, middle.Y))
		}
		state.w, state.h = 3, 2 // no room for anything
		f.drawn(state, theme)
	}
}

// A coordinate is held to the sixteen bits of the protocol.
func TestCoordinate(t *testing.T) {
	for v, want := range map[int]int16{0: 0, -5: -5, 1 << 20: 32767, -1 << 20: -32768} {
		if got := int16(Coordinate(v)); got != want {
			t.Errorf("%d is %d, want %d", v, got, want)
		}
	}
}
