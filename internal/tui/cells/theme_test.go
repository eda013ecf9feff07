package cells

import (
	"image/color"
	"math"
	"testing"
)

// contrast is the ratio of the luminances of two colours, as WCAG 2.1 has it.
func contrast(a, b color.Color) float64 {
	luminance := func(c color.Color) float64 {
		r, g, bl, _ := c.RGBA()
		part := func(v uint32) float64 {
			s := float64(v) / 0xffff
			if s <= 0.04045 {
				return s / 12.92
			}
			return math.Pow((s+0.055)/1.055, 2.4)
		}
		return 0.2126*part(r) + 0.7152*part(g) + 0.0722*part(bl)
	}
	x, y := luminance(a), luminance(b)
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

// What is written can be read on every ground it can be on: 4.5 to 1 at the least. Marks and
// lines have 3, and a window is told from a free sheet.
func TestContrast(t *testing.T) {
	for _, theme := range []Theme{Night, Day} {
		marks := map[string]color.Color{"brass": theme.Brass, "green": theme.Green, "coral": theme.Coral, "slate": theme.Slate}
		for name, c := range marks {
			for on, ground := range map[string]color.Color{"ink": theme.Ink, "sea": theme.Sea} {
				if k := contrast(c, ground); k < 3 {
					t.Errorf("%s: %s on %s has a contrast of %.2f", theme.Name, name, on, k)
				}
			}
		}
		for i, tint := range theme.Tints {
			if k := contrast(theme.EdgeOn(tint), tint); k < 3 {
				t.Errorf("%s: the edge on tint %d has a contrast of %.2f", theme.Name, i, k)
			}
			if k := contrast(tint, theme.Sea); k < 1.3 {
				t.Errorf("%s: tint %d on a free sheet has a contrast of %.2f", theme.Name, i, k)
			}
		}
		for i, tint := range theme.Tints {
			for name, c := range map[string]color.Color{"text": theme.Paper, "quiet words": theme.QuietOn(tint)} {
				if k := contrast(c, tint); k < 4.5 {
					t.Errorf("%s: %s on tint %d have a contrast of %.1f", theme.Name, name, i, k)
				}
			}
		}
		if k := contrast(theme.Slate, theme.Ink); k < 4.5 {
			t.Errorf("%s: slate on ink has a contrast of %.1f", theme.Name, k)
		}
	}
}
