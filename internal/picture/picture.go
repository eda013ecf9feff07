// Package picture keeps the last picture of each window, in memory and nowhere else, and shrinks
// pictures to cells of a terminal.
package picture

import "time"

// The largest picture that is kept of a window, in pixels.
const (
	MaxWidth  = 480
	MaxHeight = 300
)

// Picture is what a window looked like at some time. It is never written again.
type Picture struct {
	W, H int
	RGB  []byte // three bytes a pixel, by rows
	At   time.Time
}

// New is a picture of one colour.
func New(w, h int, c RGB) *Picture {
	p := &Picture{W: w, H: h, RGB: make([]byte, 3*w*h)}
	p.Fill(0, 0, w, h, c)
	return p
}

// RGB is a colour.
type RGB struct{ R, G, B uint8 }

// Size is the size of a picture of a window so many pixels large: as large as may be kept,
// and never larger than the window.
func Size(w, h int) (int, int) {
	if w <= 0 || h <= 0 {
		return 0, 0
	}
	to := min(1, float64(MaxWidth)/float64(w), float64(MaxHeight)/float64(h))
	return max(1, int(float64(w)*to)), max(1, int(float64(h)*to))
}

// Fill gives a rectangle a colour; what is outside of the picture is left out.
func (p *Picture) Fill(x, y, w, h int, c RGB) {
	x0, y0, x1, y1 := max(x, 0), max(y, 0), min(x+w, p.W), min(y+h, p.H)
	for y := y0; y < y1; y++ {
		for x := x0; x < x1; x++ {
			i := 3 * (y*p.W + x)
			p.RGB[i], p.RGB[i+1], p.RGB[i+2] = c.R, c.G, c.B
		}
	}
}

// Pixel is the colour of a pixel of the picture.
func (p *Picture) Pixel(x, y int) RGB {
	i := 3 * (y*p.W + x)
	return RGB{p.RGB[i], p.RGB[i+1], p.RGB[i+2]}
}

// Shrunk is a picture with so many pixels, each the mean of those it stands for.
func (p *Picture) Shrunk(w, h int) *Picture {
	out := &Picture{W: w, H: h, RGB: make([]byte, 3*w*h), At: p.At}
	if p.W == 0 || p.H == 0 {
		return out
	}
	for y := range h {
		y0, y1 := span(y, h, p.H)
		for x := range w {
			x0, x1 := span(x, w, p.W)
			r, g, b := 0, 0, 0
			for v := y0; v < y1; v++ {
				row := p.RGB[3*(v*p.W+x0) : 3*(v*p.W+x1)]
				for i := 0; i < len(row); i += 3 {
					r, g, b = r+int(row[i]), g+int(row[i+1]), b+int(row[i+2])
				}
			}
			n, i := (x1-x0)*(y1-y0), 3*(y*w+x)
			out.RGB[i], out.RGB[i+1], out.RGB[i+2] = uint8(r/n), uint8(g/n), uint8(b/n)
		}
	}
	return out
}

// span is which of all pixels the one at i of n stands for, one at least.
func span(i, n, all int) (from, to int) {
	from = i * all / n
	return from, max(from+1, (i+1)*all/n)
}
