package draw

import (
	"fmt"
	"image/color"
)

// Theme is the colours of drawings and of the screens.
type Theme struct {
	Name  string
	Ink   color.RGBA // behind everything
	Sea   color.RGBA // of a sheet
	Paper color.RGBA // of text
	Brass color.RGBA // of the selection, and of what changes
	Green color.RGBA // verdigris: what is shown now
	Coral color.RGBA // of strays and faults
	Slate color.RGBA // of the quiet parts
	Tints [8]color.RGBA
}

// The themes: an atlas plate by night and by day. The tints of apps differ in
// lightness as well as in hue, for eyes that do not tell every hue.
var (
	Night = theme("night", "#0f1a24 #16283a #e9dfc7 #d9a441 #4fb3a1 #e4572e #74899a #2a4d6e #5a4423 #1f5449 #573047 #413a78 #56562a #6b3a26 #44505c")
	Day   = theme("day", "#f4ecd8 #e3d9bf #1b2a38 #8a5a00 #0f6b5c #b3300c #646a71 #a1b7ca #cdb686 #99c2b6 #caa1b1 #b0aad0 #bcbf89 #d1a58f #b1b8be")
)

// FindTheme finds a theme by its name.
func FindTheme(name string) (Theme, error) {
	for _, t := range []Theme{Night, Day} {
		if t.Name == name {
			return t, nil
		}
	}
	return Theme{}, fmt.Errorf("there is no theme %q: night and day are", name)
}

// theme is that of a name, with its colours as they stand in the type.
func theme(name, colours string) Theme {
	t := Theme{Name: name}
	to := []*color.RGBA{&t.Ink, &t.Sea, &t.Paper, &t.Brass, &t.Green, &t.Coral, &t.Slate}
	for i := range t.Tints {
		to = append(to, &t.Tints[i])
	}
	for i := range to {
		at := i * len("#rrggbb ")
		*to[i] = color.RGBA{A: 255}
		fmt.Sscanf(colours[at:at+7], "#%02x%02x%02x", &to[i].R, &to[i].G, &to[i].B)
	}
	return t
}

// Tint is the ground of an app's windows.
func (t Theme) Tint(n int) color.RGBA { return t.Tints[n%len(t.Tints)] }
