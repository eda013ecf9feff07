package cells

import (
	"image/color"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/geom"
	"zatlas/internal/picture"
)

// Picture draws a picture from the top left of a rectangle. One that is not bright, as only
// what is chosen is, is brought towards the theme's ground: labels and marks stand out.
func (c *Canvas) Picture(r geom.Rect, p picture.Cells, bright bool, t Theme) {
	ground, known := t.Ink.(color.RGBA)
	for y := range min(p.H, r.H) {
		for x := range min(p.W, r.W) {
			k := p.Cells[y*p.W+x]
			fg, bg := shade(k.Fg, ground, bright || !known), shade(k.Bg, ground, bright || !known)
			c.Put(r.X+x, r.Y+y, k.Sign(), uv.Style{Fg: fg, Bg: bg})
		}
	}
}

// shade is a colour of a picture, of one that is dim three tenths of the way to the ground.
func shade(c picture.RGB, ground color.RGBA, bright bool) color.RGBA {
	if bright {
		return color.RGBA{c.R, c.G, c.B, 255}
	}
	mix := func(v, g uint8) uint8 { return uint8((7*int(v) + 3*int(g)) / 10) }
	return color.RGBA{mix(c.R, ground.R), mix(c.G, ground.G), mix(c.B, ground.B), 255}
}
