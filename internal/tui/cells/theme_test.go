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

// What is written on a tint can be read: 4.5 to 1 at the least.
func TestContrast(t *testing.T) {
	for _, theme := range []Theme{Night, Day} {
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
