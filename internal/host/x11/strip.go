package x11

import (
	"image"
	"image/color"
	"image/draw"
	"time"

	"github.com/jezek/xgb/xproto"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gomedium"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"zatlas/internal/desk"
)

// stripTime is how long the words of a chord's result show.
const stripTime = 2 * time.Second

// The strip's sizes in pixels.
const (
	stripHeight = 34
	stripPad    = 16
	stripFont   = 15
)

var (
	stripInk   = color.RGBA{0x0f, 0x1a, 0x24, 0xff}
	stripPaper = color.RGBA{0xe9, 0xdf, 0xc7, 0xff}
)

// strip is the line of words under a chord, in a window over all others.
type strip struct {
	h     *Host
	face  font.Face
	win   xproto.Window
	gc    xproto.Gcontext
	until time.Time
	image *image.RGBA
}

// newStrip makes the window. Without one, or without a font, words are not shown.
func newStrip(h *Host) *strip {
	s := &strip{h: h}
	parsed, err := opentype.Parse(gomedium.TTF)
	if err == nil {
		s.face, err = opentype.NewFace(parsed, &opentype.FaceOptions{Size: stripFont, DPI: 72})
	}
	win, err1 := xproto.NewWindowId(h.conn)
	gc, err2 := xproto.NewGcontextId(h.conn)
	if err != nil || err1 != nil || err2 != nil || h.screen.RootDepth < 24 {
		h.log.Warn("the words after a chord cannot be shown on this display")
		return s
	}
	xproto.CreateWindow(h.conn, h.screen.RootDepth, win, h.root, 0, 0, 1, stripHeight, 1, xproto.WindowClassInputOutput, h.screen.RootVisual,
		xproto.CwBackPixel|xproto.CwBorderPixel|xproto.CwOverrideRedirect|xproto.CwEventMask,
		[]uint32{0x0f1a24, focusedColour, 1, xproto.EventMaskExposure})
	xproto.CreateGC(h.conn, gc, xproto.Drawable(win), 0, nil)
	h.setText(win, aNetName, "Zealous Atlas message")
	s.win, s.gc = win, gc
	return s
}

// show shows words at the bottom of the monitor you are on.
func (s *strip) show(words string) {
	if s.win == 0 || words == "" || s.h.desk == nil {
		return
	}
	work := s.h.desk.Monitor(s.h.desk.At).Work
	words = desk.CleanText(words, desk.MaxTitle)
	most := work.W - 4*stripPad
	for font.MeasureString(s.face, words).Ceil()+2*stripPad > most && len([]rune(words)) > 4 {
		words = desk.Cut(words, len([]rune(words))-1)
	}
	width := min(font.MeasureString(s.face, words).Ceil()+2*stripPad, max(most, 1))
	s.image = s.render(words, width)
	s.until = time.Now().Add(stripTime)
	time.AfterFunc(stripTime, s.h.queue.signal)
	xproto.ConfigureWindow(s.h.conn, s.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowStackMode,
		[]uint32{place16(work.X + (work.W-width)/2), place16(work.Bottom() - 2*stripHeight), uint32(width), xproto.StackModeAbove})
	xproto.MapWindow(s.h.conn, s.win)
	s.draw()
}

func (s *strip) render(words string, width int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, width, stripHeight))
	draw.Draw(img, img.Bounds(), image.NewUniform(stripInk), image.Point{}, draw.Src)
	d := font.Drawer{Dst: img, Src: image.NewUniform(stripPaper), Face: s.face, Dot: fixed.P(stripPad, stripHeight/2+stripFont/3)}
	d.DrawString(words)
	return img
}

// draw paints the words, in parts that fit a request.
func (s *strip) draw() {
	if s.image == nil {
		return
	}
	w := s.image.Bounds().Dx()
	rows := max(1, (200<<10)/(4*w))
	for y := 0; y < stripHeight; y += rows {
		n := min(rows, stripHeight-y)
		data := make([]byte, 0, 4*w*n)
		for _, px := range pixels(s.image, y, n) {
			data = append(data, px.B, px.G, px.R, 0)
		}
		xproto.PutImage(s.h.conn, xproto.ImageFormatZPixmap, xproto.Drawable(s.win), s.gc, uint16(w), uint16(n), 0, int16(y), 0, s.h.screen.RootDepth, data)
	}
}

func pixels(img *image.RGBA, y, n int) []color.RGBA {
	var px []color.RGBA
	for row := y; row < y+n; row++ {
		for x := range img.Bounds().Dx() {
			px = append(px, img.RGBAAt(x, row))
		}
	}
	return px
}

// tick hides the strip when its time is over.
func (s *strip) tick() {
	if s.image != nil && !time.Now().Before(s.until) {
		s.hide()
	}
}

func (s *strip) hide() {
	if s.image != nil {
		xproto.UnmapWindow(s.h.conn, s.win)
		s.image = nil
	}
}
