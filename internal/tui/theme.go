package tui

import (
	"fmt"
	"image/color"

	"charm.land/lipgloss/v2"
	uv "github.com/charmbracelet/ultraviolet"
)

// A Theme is the colours of the screens: an atlas plate by night or by day.
type Theme struct {
	Name  string
	Ink   color.Color // behind everything
	Sea   color.Color // of a sheet
	Paper color.Color // of text
	Brass color.Color // of the selection
	Green color.Color // verdigris: what is shown now
	Coral color.Color // of strays and faults
	Slate color.Color // of the quiet parts
	Tints [8]color.Color
}

// The themes. The tints of apps differ in lightness as well as in hue, for
// eyes that do not tell every hue.
var (
	Night = theme("night", "#0f1a24", "#16283a", "#e9dfc7", "#d9a441", "#4fb3a1", "#e4572e", "#6b7f8f",
		"#2a4d6e", "#5a4423", "#1f5449", "#573047", "#413a78", "#5b5b2e", "#6b3a26", "#44505c")
	Day = theme("day", "#f4ecd8", "#e3d9bf", "#1b2a38", "#8a5a00", "#0f6b5c", "#b3300c", "#6a7077",
		"#b7d0e6", "#e9cf98", "#aedccf", "#e5b7c9", "#c8c1ec", "#d6d99c", "#eebba2", "#c9d1d8")
)

// Themes finds a theme by its name.
func Themes(name string) (Theme, error) {
	for _, t := range []Theme{Night, Day} {
		if t.Name == name {
			return t, nil
		}
	}
	return Theme{}, fmt.Errorf("there is no theme %q: night and day are", name)
}

func theme(name, ink, sea, paper, brass, green, coral, slate string, tints ...string) Theme {
	t := Theme{
		Name: name, Ink: lipgloss.Color(ink), Sea: lipgloss.Color(sea), Paper: lipgloss.Color(paper),
		Brass: lipgloss.Color(brass), Green: lipgloss.Color(green), Coral: lipgloss.Color(coral), Slate: lipgloss.Color(slate),
	}
	for i := range t.Tints {
		t.Tints[i] = lipgloss.Color(tints[i])
	}
	return t
}

// indexed is the theme in the 256 colours of a terminal, chosen by eye: the
// nearest ones of a dark tint are often gaudy.
func (t Theme) indexed() Theme {
	if t.Name == Day.Name {
		return theme(t.Name, "230", "187", "235", "94", "23", "124", "242", "153", "222", "151", "182", "189", "186", "216", "252")
	}
	return theme(t.Name, "234", "235", "223", "179", "73", "203", "244", "24", "94", "23", "96", "60", "65", "131", "240")
}

// basic is the theme in the 16 colours of a terminal, which are the user's own.
func (t Theme) basic() Theme {
	b := theme(t.Name, "0", "0", "15", "11", "14", "9", "7", "0", "0", "0", "0", "0", "0", "0", "0")
	if t.Name == Day.Name {
		b = theme(t.Name, "15", "15", "0", "5", "4", "1", "8", "15", "15", "15", "15", "15", "15", "15", "15")
	}
	return b
}

// style is a foreground on the theme's ground.
func (t Theme) style(fg color.Color) uv.Style { return uv.Style{Fg: fg, Bg: t.Ink} }

func bold(s uv.Style) uv.Style {
	s.Attrs |= uv.AttrBold
	return s
}

func reverse(s uv.Style) uv.Style {
	s.Attrs |= uv.AttrReverse
	return s
}
