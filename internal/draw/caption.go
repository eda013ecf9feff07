package draw

import (
	"cmp"
	"fmt"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// Caption is what is written on a window.
type Caption struct {
	Marks string // glyphs of its states
	Name  string // its app, else what it is called otherwise
	Title string
	Size  string // in pixels, and for a tile its share of the width
}

// NewCaption is the caption of a window.
func NewCaption(d *desk.Desk, w *desk.Window) Caption {
	return Caption{Marks(d, w), cmp.Or(w.App, w.Label()), w.Title, Size(d, w)}
}

// Marks are the glyphs of a window's states, in the order in which they matter.
func Marks(d *desk.Desk, w *desk.Window) string {
	s := ""
	for _, m := range []struct {
		on    bool
		glyph string
	}{
		{d.Focus == w.ID, "●"},
		{d.Lost(w).Cause != stray.None, "!"},
		{w.Urgent, "^"},
		{w.Minimised, "▁"},
		{!w.Minimised && !d.Tiled(w) && !(w.Fullscreen && d.Covers(w)) && !d.Settings.Alongside, "≈"},
		{!w.Minimised && d.Waits(w), "□"},
	} {
		if m.on {
			s += m.glyph
		}
	}
	return s
}

// Size is a window's size in pixels, and for a tile its share of the width; for one that
// may have another by now, that it is from when it was last seen.
func Size(d *desk.Desk, w *desk.Window) string {
	s := fmt.Sprintf("%d×%d", w.Rect.W, w.Rect.H)
	if w.LastSeen {
		return "last seen"
	}
	if m := d.Monitor(w.Monitor); d.Tiled(w) && m.Work.W > 0 && w.Rect.W < m.Work.W {
		s += fmt.Sprintf(" %d%%", geom.Percent(w.Rect.W, m.Work.W))
	}
	return s
}

// Measure is how texts are measured where a caption is drawn: in cells or in points.
type Measure struct {
	Width func(text string) float64
	// Cut is a text cut to a width, with a sign that it was.
	Cut func(text string, width float64) string
}

// Lines are as much of the caption as fits into so many rows of a width. The name may be cut,
// down to two letters, or left out. The marks are before the first row; the second is the
// title, the third the size.
func (c Caption) Lines(m Measure, width float64, rows int) []string {
	letter := m.Width("n")
	room := width - m.Width(c.Marks)
	if c.Marks != "" {
		room -= m.Width(" ")
	}
	if rows < 1 || width < 2*letter {
		return nil
	}
	first := m.Cut(c.Name, room)
	switch name := []rune(c.Name); {
	case room < 2*letter:
		return []string{""}
	case room < 4*letter && len(name) > 2:
		return []string{string(name[:2])}
	case rows == 1 && c.Title != "" && room > m.Width(c.Name)+4*letter:
		return []string{m.Cut(c.Name+" · "+c.Title, room)}
	}
	lines := []string{first}
	if rows > 1 && width >= 6*letter {
		lines = append(lines, m.Cut(c.Title, width))
	}
	if rows > 2 && width >= 9*letter {
		lines = append(lines, m.Cut(c.Size, width))
	}
	return lines
}
