package x11

import "zatlas/internal/host/display"

// borderOf is how wide our border around a window is. One with a shadow has none, which
// would stand off from it.
func (h *Host) borderOf(c *client) int {
	if c.shadow != (display.Shadow{}) || c.plain || c.noBorder {
		return 0
	}
	return h.opt.Border
}

// around is by how much what the desk knows is larger than the inside of the
// window: by the border, or smaller by its shadow.
func (h *Host) around(c *client) (wide, high int) {
	b := 2 * h.borderOf(c)
	return b - c.shadow[0] - c.shadow[1], b - c.shadow[2] - c.shadow[3]
}
