package paint

import (
	"image"
	"image/color"
	"image/draw"

	"github.com/jezek/xgb/xproto"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gomedium"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"zatlas/internal/desk"
)

// faces are the fonts in the binary, each in one size; nil where it cannot be
// made.
type faces struct{ words, strong, heading, active font.Face }

// facesOf makes the fonts in these sizes.
func facesOf(words, strong, heading float64) faces {
	face := func(ttf []byte, size float64) font.Face {
		parsed, err := opentype.Parse(ttf)
		if err != nil {
			return nil
		}
		f, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: size, DPI: 72})
		if err != nil {
			return nil
		}
		return &drawnFace{Face: f, glyphs: map[rune]glyph{}}
	}
	return faces{face(gomedium.TTF, words), face(gobold.TTF, strong), face(goregular.TTF, heading), face(gobold.TTF, heading)}
}

// drawnFace is a face that draws each letter once, at whole pixels. It is for one goroutine.
type drawnFace struct {
	font.Face
	glyphs map[rune]glyph
}

// glyph is a letter as it is drawn with its origin at 0.
type glyph struct {
	rect    image.Rectangle
	mask    *image.Alpha
	at      image.Point
	advance fixed.Int26_6
	ok      bool
}

// maxGlyphs is from how many letters on they are drawn anew.
const maxGlyphs = 2000

func (f *drawnFace) glyph(r rune) glyph {
	g, known := f.glyphs[r]
	if known {
		return g
	}
	if len(f.glyphs) >= maxGlyphs {
		clear(f.glyphs)
	}
	rect, mask, at, advance, ok := f.Face.Glyph(fixed.Point26_6{}, r)
	g = glyph{rect: rect, advance: advance, ok: ok}
	if ok {
		g.mask = image.NewAlpha(image.Rect(0, 0, rect.Dx(), rect.Dy()))
		draw.Draw(g.mask, g.mask.Rect, mask, at, draw.Src)
	}
	f.glyphs[r] = g
	return g
}

func (f *drawnFace) Glyph(dot fixed.Point26_6, r rune) (image.Rectangle, image.Image, image.Point, fixed.Int26_6, bool) {
	g := f.glyph(r)
	return g.rect.Add(image.Pt(dot.X.Round(), dot.Y.Round())), g.mask, g.at, g.advance, g.ok
}

func (f *drawnFace) GlyphAdvance(r rune) (fixed.Int26_6, bool) {
	g := f.glyph(r)
	return g.advance, g.ok
}

// fitted is a text cut with an ellipsis to so many pixels, after what the font
// has no glyph for was replaced.
func fitted(face font.Face, text string, most int) string {
	runes := []rune(text)
	for i, r := range runes {
		if _, ok := face.GlyphAdvance(r); !ok {
			runes[i] = '□'
		}
	}
	text = string(runes)
	if font.MeasureString(face, text).Ceil() <= most {
		return text
	}
	// The longest start that fits with its ellipsis.
	low, high := 0, len(runes)
	for low < high {
		mid := (low + high + 1) / 2
		if font.MeasureString(face, desk.Cut(text, mid)).Ceil() <= most {
			low = mid
		} else {
			high = mid - 1
		}
	}
	if low == 0 {
		return ""
	}
	return desk.Cut(text, low)
}

// filled is a picture of one colour.
func filled(w, h int, c color.Color) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(img, img.Bounds(), image.NewUniform(c), image.Point{}, draw.Src)
	return img
}

// write draws a line of text on a picture, from a point on its base line.
func write(img draw.Image, face font.Face, c color.Color, x, y int, text string) {
	d := font.Drawer{Dst: img, Src: image.NewUniform(c), Face: face, Dot: fixed.P(x, y)}
	d.DrawString(text)
}

// paint puts a picture on a drawable of ours, in parts that fit a request.
func (s *Screen) paint(to xproto.Drawable, gc xproto.Gcontext, img *image.RGBA) {
	s.paintAt(to, gc, img, 0)
}

// paintAt is paint from a column on.
func (s *Screen) paintAt(to xproto.Drawable, gc xproto.Gcontext, img *image.RGBA, x int) {
	w, height := img.Bounds().Dx(), img.Bounds().Dy()
	stride := s.pixels.stride(w)
	rows := max(1, (200<<10)/stride)
	for y := 0; y < height; y += rows {
		n := min(rows, height-y)
		data := make([]byte, 0, stride*n)
		for i := range n {
			data = s.pixels.row(data, img, y+i)
		}
		xproto.PutImage(s.Conn, xproto.ImageFormatZPixmap, to, gc, uint16(w), uint16(n), int16(x), int16(y), 0, s.Info.RootDepth, data)
	}
}
