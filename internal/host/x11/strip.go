package x11

import (
	"image"
	"time"

	"github.com/jezek/xgb/xproto"
	"golang.org/x/image/font"

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

// strip is the line of words under a chord, in a window over all others.
type strip struct {
	h     *Host
	win   xproto.Window
	gc    xproto.Gcontext
	until time.Time
	image *image.RGBA
}

// newStrip makes the window. Without one, or without a font, words are not shown.
func newStrip(h *Host) *strip {
	s := &strip{h: h}
	win, err1 := xproto.NewWindowId(h.conn)
	gc, err2 := xproto.NewGcontextId(h.conn)
	if h.faces.words == nil || err1 != nil || err2 != nil || h.screen.RootDepth < 24 {
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
	most := work.W - 4*stripPad
	face := s.h.faces.words
	words = fitted(face, desk.CleanText(words, desk.MaxTitle), most)
	width := max(min(font.MeasureString(face, words).Ceil(), most)+2*stripPad, 1)
	s.image = filled(width, stripHeight, inkColour)
	write(s.image, face, paperColour, stripPad, stripHeight/2+stripFont/3, words)
	s.until = time.Now().Add(stripTime)
	time.AfterFunc(stripTime, s.h.queue.signal)
	xproto.ConfigureWindow(s.h.conn, s.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowStackMode,
		[]uint32{place16(work.X + (work.W-width)/2), place16(work.Bottom() - 2*stripHeight), uint32(width), xproto.StackModeAbove})
	xproto.MapWindow(s.h.conn, s.win)
	s.draw()
}

// draw paints the words.
func (s *strip) draw() {
	if s.image != nil {
		s.h.paint(xproto.Drawable(s.win), s.gc, s.image)
	}
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
