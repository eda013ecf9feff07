package main

import (
	"zatlas/internal/draw"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/settings"
	"zatlas/internal/status"
)

// lineEdges are where a line can be.
var lineEdges = []string{"bottom", "top", "none"}

// lineOptions are where the line of a keeper is, or of one beside another manager, and what it
// says besides the desk.
func lineOptions(s settings.Settings, alongside bool) paint.LineOptions {
	edge, on, size := s.LineAt(alongside)
	theme, _ := draw.FindTheme(s.Theme()) // a theme that was checked
	return paint.LineOptions{Edge: edge, On: on, Size: size, Theme: theme, Says: spoken(s)}
}

// spoken is what a line says besides the desk.
func spoken(s settings.Settings) status.Options {
	var o status.Options
	o.Clock, o.Date = s.Clock()
	o.Rows = s.Line
	return o
}
