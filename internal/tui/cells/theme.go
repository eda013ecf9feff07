package cells

import (
	"fmt"
	"image/color"

	"charm.land/lipgloss/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/draw"
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

// The themes of the screens are those of drawings.
var (
	Night = themeOf(draw.Night)
	Day   = themeOf(draw.Day)
)

// Themes finds a theme by its name.
func Themes(name string) (Theme, error) {
	t, err := draw.FindTheme(name)
	return themeOf(t), err
}

func themeOf(d draw.Theme) Theme {
	t := Theme{Name: d.Name, Ink: d.Ink, Sea: d.Sea, Paper: d.Paper, Brass: d.Brass, Green: d.Green, Coral: d.Coral, Slate: d.Slate}
	for i, c := range d.Tints {
		t.Tints[i] = c
	}
	return t
}

// theme is a theme of colours by their numbers, in the order of its fields.
func theme(name string, colours ...string) Theme {
	t := Theme{Name: name}
	all := []*color.Color{&t.Ink, &t.Sea, &t.Paper, &t.Brass, &t.Green, &t.Coral, &t.Slate}
	for i := range t.Tints {
		all = append(all, &t.Tints[i])
	}
	for i, c := range all {
		*c = lipgloss.Color(colours[i])
	}
	return t
}

// Indexed is the theme in the 256 colours of a terminal, chosen by eye: the
// nearest ones of a dark tint are often gaudy.
func (t Theme) Indexed() Theme {
	if t.Name == Day.Name {
		return theme(t.Name, "230", "187", "235", "94", "23", "124", "242", "153", "222", "151", "182", "189", "186", "216", "252")
	}
	return theme(t.Name, "234", "235", "223", "179", "73", "203", "244", "24", "94", "23", "96", "60", "65", "131", "240")
}

// Basic is the theme in the 16 colours of a terminal, which are the user's own.
func (t Theme) Basic() Theme {
	b := theme(t.Name, "0", "0", "15", "11", "14", "9", "7", "0", "0", "0", "0", "0", "0", "0", "0")
	if t.Name == Day.Name {
		b = theme(t.Name, "15", "15", "0", "5", "4", "1", "8", "15", "15", "15", "15", "15", "15", "15", "15")
	}
	return b
}

// Hex is a colour written as #rrggbb.
func Hex(text string) (color.Color, error) {
	var c color.RGBA
	if len(text) != len("#rrggbb") {
		return nil, fmt.Errorf("%q is no colour such as #d9a441", text)
	}
	if _, err := fmt.Sscanf(text, "#%02x%02x%02x", &c.R, &c.G, &c.B); err != nil {
		return nil, fmt.Errorf("%q is no colour such as #d9a441", text)
	}
	c.A = 255
	return c, nil
}

// QuietOn is the colour of quiet words on a tint: text of the theme, taken a little
// towards the tint, and still to be read.
func (t Theme) QuietOn(tint color.Color) color.Color {
	a, ok1 := t.Paper.(color.RGBA)
	b, ok2 := tint.(color.RGBA)
	if !ok1 || !ok2 {
		return t.Paper // of a terminal with few colours
	}
	return mixed(a, b, 7)
}

// EdgeOn is the colour of a line around a window on its tint.
func (t Theme) EdgeOn(tint color.Color) color.Color {
	a, ok1 := t.Paper.(color.RGBA)
	b, ok2 := tint.(color.RGBA)
	if !ok1 || !ok2 {
		return t.Slate
	}
	return mixed(a, b, 5)
}

// mixed is so many eighths of a colour, and the rest of another.
func mixed(a, b color.RGBA, eighths int) color.RGBA {
	mix := func(x, y uint8) uint8 { return uint8((eighths*int(x) + (8-eighths)*int(y)) / 8) }
	return color.RGBA{mix(a.R, b.R), mix(a.G, b.G), mix(a.B, b.B), 255}
}

// Style is a foreground on the theme's ground.
func (t Theme) Style(fg color.Color) uv.Style { return uv.Style{Fg: fg, Bg: t.Ink} }

// Bold is a style with bold letters.
func Bold(s uv.Style) uv.Style {
	s.Attrs |= uv.AttrBold
	return s
}

// Reverse is a style with its colours exchanged.
func Reverse(s uv.Style) uv.Style {
	s.Attrs |= uv.AttrReverse
	return s
}
