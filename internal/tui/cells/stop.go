package cells

import "zatlas/internal/geom"

// Stop is a place the selection can be: a window, an empty sheet or a
// workspace's number.
type Stop struct {
	At   Selection
	Rect geom.Rect // in cells
}

// Selection is what is chosen: a window by its id, else the sheet of a
// workspace (by id) on a monitor, else, for letter 0, the workspace itself.
type Selection struct {
	Window    int
	Workspace int
	Letter    byte
}

// Stop says that something to choose is drawn in some cells.
func (c *Canvas) Stop(r geom.Rect, at Selection) { c.Stops = append(c.Stops, Stop{at, r}) }
