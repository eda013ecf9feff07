package display

import "zatlas/internal/geom"

// Shadow is how far a window reaches beyond what is seen of it, by the property
// _GTK_FRAME_EXTENTS: left, right, top, bottom, in pixels. The desk knows what is
// seen.
type Shadow [4]int

// maxShadow bounds what another program may say.
const maxShadow = 500

// ShadowFrom reads the property.
func ShadowFrom(v []uint32) Shadow {
	var s Shadow
	if len(v) < len(s) {
		return s
	}
	for i := range s {
		s[i] = int(min(v[i], maxShadow))
	}
	return s
}

// Whole is the window of which r is seen.
func (s Shadow) Whole(r geom.Rect) geom.Rect {
	return geom.R(r.X-s[0], r.Y-s[2], r.W+s[0]+s[1], r.H+s[2]+s[3])
}

// Seen is what is seen of the window at r.
func (s Shadow) Seen(r geom.Rect) geom.Rect {
	return geom.R(r.X+s[0], r.Y+s[2], max(r.W-s[0]-s[1], 1), max(r.H-s[2]-s[3], 1))
}
