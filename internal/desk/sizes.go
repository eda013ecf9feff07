package desk

import (
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Sizes are what a window says of its sizes besides its minimum (ICCCM 4.1.2.3),
// outer ones in pixels. They are heeded where it floats and is resized; where it
// is tiled or snapped it has exactly its place. What is 0 it does not say.
type Sizes struct {
	MaxW, MaxH   int
	BaseW, BaseH int // the size from which increments count
	IncW, IncH   int
	// Least and Most bound its width through its height, as two numbers each;
	// Base is left out of both sides where it is said.
	Least, Most [2]int
	Frame       int // width of its border, both sides, which the aspect leaves out
}

// Fit is the size nearest to one asked for that a window takes, not larger but for
// its minimum.
func (w *Window) Fit(width, height int) (int, int) {
	s := w.Sizes
	least := func(n int) int { return max(n, 1) }
	width, height = min(max(width, least(w.MinW)), orMost(s.MaxW)), min(max(height, least(w.MinH)), orMost(s.MaxH))
	width, height = s.inAspect(width, height)
	width, height = stepped(width, s.BaseW, s.IncW), stepped(height, s.BaseH, s.IncH)
	return min(max(width, least(w.MinW)), maxSize), min(max(height, least(w.MinH)), maxSize)
}

func orMost(n int) int {
	if n <= 0 {
		return maxSize
	}
	return n
}

// inAspect takes from the side that is too long.
func (s Sizes) inAspect(width, height int) (int, int) {
	offW, offH := s.BaseW, s.BaseH
	if offW == 0 && offH == 0 {
		offW, offH = s.Frame, s.Frame
	}
	w, h := width-offW, height-offH
	if w <= 0 || h <= 0 {
		return width, height
	}
	if num, den := s.Least[0], s.Least[1]; num > 0 && den > 0 && w*den < num*h {
		h = max(w*den/num, 1)
	}
	if num, den := s.Most[0], s.Most[1]; num > 0 && den > 0 && w*den > num*h {
		w = max(h*num/den, 1)
	}
	return w + offW, h + offH
}

// stepped is a length less what is over whole increments from the base.
func stepped(n, base, inc int) int {
	if inc <= 1 || n <= base {
		return n
	}
	return base + (n-base)/inc*inc
}

// fitAlong is Fit where only the width or only the height is changed: the other
// stays, unless the window has an aspect to keep.
func (w *Window) fitAlong(width, height int, wide, high bool) (int, int) {
	fitW, fitH := w.Fit(width, height)
	if w.Sizes.Least[1] > 0 || w.Sizes.Most[1] > 0 {
		return fitW, fitH
	}
	if wide {
		width = fitW
	}
	if high {
		height = fitH
	}
	return width, height
}

// Smallest is the least side of a window that is made smaller by hand, in pixels:
// one that cannot be seen could not be made larger again.
const Smallest = layout.MinTile

// resized is a rectangle with an edge moved out, by at least one increment where
// it moves at all, and the other edges where they were.
func (w *Window) resized(dir Dir, px int) geom.Rect {
	r := w.Rect
	width, height := r.W, r.H
	inc := w.Sizes.IncW
	if dir == Up || dir == Down {
		inc = w.Sizes.IncH
	}
	if px > 0 {
		px = max(px, inc)
	} else if px < 0 && px > -inc {
		px = -inc
	}
	if dir == Left || dir == Right {
		width = max(width+px, min(width, Smallest))
	} else {
		height = max(height+px, min(height, Smallest))
	}
	width, height = w.fitAlong(width, height, dir == Left || dir == Right, dir == Up || dir == Down)
	if dir == Left {
		r.X -= width - r.W
	}
	if dir == Up {
		r.Y -= height - r.H
	}
	r.W, r.H = width, height
	return r
}

// Fitted is a rectangle that is dragged to, of a size the window takes; the edges
// that do not follow the pointer stay.
func (w *Window) Fitted(r geom.Rect, edges [4]bool) geom.Rect {
	width, height := w.fitAlong(r.W, r.H, edges[0] || edges[1], edges[2] || edges[3])
	if edges[0] {
		r.X = r.Right() - width
	}
	if edges[2] {
		r.Y = r.Bottom() - height
	}
	r.W, r.H = width, height
	return r
}
