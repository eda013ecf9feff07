package tui

import "zatlas/internal/geom"

// stop is a place the selection can be: a window, an empty sheet or a
// workspace's number.
type stop struct {
	at   selection
	rect geom.Rect // in cells
}

// selection is what is chosen: a window by its id, else the sheet of a
// workspace (by id) on a monitor, else, for letter 0, the workspace itself.
type selection struct {
	window    int
	workspace int
	letter    byte
}

// stop says that something to choose is drawn in some cells.
func (c *canvas) stop(r geom.Rect, at selection) { c.stops = append(c.stops, stop{at, r}) }
