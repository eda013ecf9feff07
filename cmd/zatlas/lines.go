package main

import (
	"zatlas/internal/draw"
	"zatlas/internal/host/x11"
	"zatlas/internal/settings"
	"zatlas/internal/status"
)

// lineEdges are where a line can be.
var lineEdges = []string{"bottom", "top", "none"}

// lineOptions are where the keeper's line is, and what it says besides the desk.
func lineOptions(s settings.Settings) x11.LineOptions {
	edge, on, size := s.LineAt(false)
	theme, _ := draw.FindTheme(s.Theme()) // a theme that was checked
	return x11.LineOptions{Edge: edge, On: on, Size: size, Theme: theme, Says: spoken(s)}
}

// spoken is what a line says besides the desk.
func spoken(s settings.Settings) status.Options {
	var o status.Options
	o.Clock, o.Date = s.Clock()
	for _, r := range s.Line {
		o.Rows = append(o.Rows, status.Row{Command: r.Command, Every: r.Every, Follow: r.Follow, Width: r.Width, Left: r.Left, Click: r.Click})
	}
	return o
}
