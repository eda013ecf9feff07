package x11

import "zatlas/internal/geom"

// shadow is how far a window reaches beyond what is seen of it, by the property
// _GTK_FRAME_EXTENTS: left, right, top, bottom, in pixels. The desk knows what is
// seen. Such a window has no border of ours, which would stand off from it.
type shadow [4]int

// maxShadow bounds what another program may say.
const maxShadow = 500

func shadowFrom(v []uint32) shadow {
	var s shadow
	if len(v) < len(s) {
		return s
	}
	for i := range s {
		s[i] = int(min(v[i], maxShadow))
	}
	return s
}

// whole is the window of which r is seen.
func (s shadow) whole(r geom.Rect) geom.Rect {
	return geom.R(r.X-s[0], r.Y-s[2], r.W+s[0]+s[1], r.H+s[2]+s[3])
}

// seen is what is seen of the window at r.
func (s shadow) seen(r geom.Rect) geom.Rect {
	return geom.R(r.X+s[0], r.Y+s[2], max(r.W-s[0]-s[1], 1), max(r.H-s[2]-s[3], 1))
}

// borderOf is how wide our border around a window is.
func (h *Host) borderOf(c *client) int {
	if c.shadow != (shadow{}) || c.plain || c.noBorder {
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
