// Package geom holds rectangles and distances on the integer plane of a desk.
//
// All lengths are pixels of the whole plane, x to the right and y down. A
// rectangle covers the pixels from X to X+W-1 and from Y to Y+H-1.
package geom

import "fmt"

// Limit bounds coordinates and sizes. No scene and no X server has a pixel further out, and sums
// and products of such numbers fit into an int64.
const Limit = 1 << 24

// Point is one pixel of the plane.
type Point struct{ X, Y int }

// Rect is a rectangle of pixels. It is empty when W or H is not positive.
type Rect struct{ X, Y, W, H int }

// R is short for Rect{x, y, w, h}.
func R(x, y, w, h int) Rect { return Rect{x, y, w, h} }

// Right is the first column to the right of r.
func (r Rect) Right() int { return r.X + r.W }

// Bottom is the first row below r.
func (r Rect) Bottom() int { return r.Y + r.H }

// Empty tells whether r covers no pixel.
func (r Rect) Empty() bool { return r.W <= 0 || r.H <= 0 }

// Area is the number of pixels of r.
func (r Rect) Area() int64 {
	if r.Empty() {
		return 0
	}
	return int64(r.W) * int64(r.H)
}

// Center is the middle of r, rounded to the upper left.
func (r Rect) Center() Point { return Point{r.X + FloorDiv(r.W, 2), r.Y + FloorDiv(r.H, 2)} }

// Intersect is what r and s share; the empty Rect where they share nothing.
func (r Rect) Intersect(s Rect) Rect {
	x, y := max(r.X, s.X), max(r.Y, s.Y)
	t := Rect{x, y, min(r.Right(), s.Right()) - x, min(r.Bottom(), s.Bottom()) - y}
	if t.Empty() {
		return Rect{}
	}
	return t
}

// Overlaps tells whether r and s share a pixel.
func (r Rect) Overlaps(s Rect) bool { return !r.Intersect(s).Empty() }

// Contains tells whether every pixel of s is one of r. An empty s is nowhere.
func (r Rect) Contains(s Rect) bool { return !s.Empty() && r.Intersect(s) == s }

// Has tells whether p is a pixel of r.
func (r Rect) Has(p Point) bool {
	return p.X >= r.X && p.X < r.Right() && p.Y >= r.Y && p.Y < r.Bottom()
}

// Inset is r with n pixels taken off each side, never less than nothing.
func (r Rect) Inset(n int) Rect {
	return Rect{r.X + min(n, r.W/2), r.Y + min(n, r.H/2), max(r.W-2*n, 0), max(r.H-2*n, 0)}
}

// Bound is the smallest rectangle around all of rs that are not empty.
func Bound(rs ...Rect) Rect {
	var b Rect
	for _, r := range rs {
		switch {
		case r.Empty():
		case b.Empty():
			b = r
		default:
			x, y := min(b.X, r.X), min(b.Y, r.Y)
			b = Rect{x, y, max(b.Right(), r.Right()) - x, max(b.Bottom(), r.Bottom()) - y}
		}
	}
	return b
}

// String is the rectangle as people write it: 800×600 at 40,30.
func (r Rect) String() string { return fmt.Sprintf("%d×%d at %d,%d", r.W, r.H, r.X, r.Y) }

// Gap is the free room between r and s along each axis, and 0 where they
// touch or overlap along it.
func Gap(r, s Rect) (dx, dy int) {
	return max(0, s.X-r.Right(), r.X-s.Right()), max(0, s.Y-r.Bottom(), r.Y-s.Bottom())
}

// Distance2 is the square of the straight distance between the nearest edges
// of r and s: 0 where they touch or overlap.
func Distance2(r, s Rect) int64 {
	dx, dy := Gap(r, s)
	return int64(dx)*int64(dx) + int64(dy)*int64(dy)
}

// Covered is the number of pixels of r that lie in at least one of rs.
func Covered(r Rect, rs []Rect) int64 {
	left := []Rect{r}
	if r.Empty() {
		return 0
	}
	for _, s := range rs {
		var next []Rect
		for _, piece := range left {
			next = Subtract(next, piece, s)
		}
		left = next
	}
	free := int64(0)
	for _, piece := range left {
		free += piece.Area()
	}
	return r.Area() - free
}

// Subtract appends to dst the parts of r outside s, at most four rectangles
// that do not overlap.
func Subtract(dst []Rect, r, s Rect) []Rect {
	t := r.Intersect(s)
	if t.Empty() {
		if r.Empty() {
			return dst
		}
		return append(dst, r)
	}
	for _, p := range [4]Rect{
		{r.X, r.Y, r.W, t.Y - r.Y},
		{r.X, t.Bottom(), r.W, r.Bottom() - t.Bottom()},
		{r.X, t.Y, t.X - r.X, t.H},
		{t.Right(), t.Y, r.Right() - t.Right(), t.H},
	} {
		if !p.Empty() {
			dst = append(dst, p)
		}
	}
	return dst
}

// FloorDiv is a/b rounded towards minus infinity, for b > 0.
func FloorDiv(a, b int) int {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}

// Clamp is v held to lo..hi, and lo where hi is less than lo.
func Clamp(v, lo, hi int) int { return max(lo, min(v, hi)) }

// Percent is how many per cent n is of a whole, rounded.
func Percent(n, of int) int { return (100*n + of/2) / max(of, 1) }

// Relocate gives the start of a length w1 within the target span (a, aw). It keeps the share
// of the free room that the length w at x had within the source span (b, bw). What was flush
// with an end or centred stays so. A length that does not fit starts at the target's start.
func Relocate(x, w, b, bw, w1, a, aw int) int {
	switch {
	case w1 >= aw:
		return a
	case bw <= w:
		return a + FloorDiv(aw-w1, 2)
	}
	off := int64(Clamp(x-b, 0, bw-w))
	return a + int(off*int64(aw-w1)/int64(bw-w))
}

// Share divides the length l by the weights exactly: each part is
// floor(l·w/sum), and the pixels left over go one each to the first parts.
// Weights below 1 count as 1. The parts sum to l, for l >= 0.
func Share(l int, weights []int) []int {
	parts := make([]int, len(weights))
	sum := int64(0)
	for _, w := range weights {
		sum += int64(max(w, 1))
	}
	left := l
	for i, w := range weights {
		parts[i] = int(int64(l) * int64(max(w, 1)) / sum)
		left -= parts[i]
	}
	for i := range parts {
		if left == 0 {
			break
		}
		parts[i]++
		left--
	}
	return parts
}
