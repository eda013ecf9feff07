package paint

import (
	"image"
	"time"

	"github.com/jezek/xgb/xproto"
	"golang.org/x/image/font"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// StripTime is how long the words of a chord's result show, and where the next window opens.
const StripTime = 2 * time.Second

// The strip's sizes in pixels.
const (
	stripHeight = 34
	stripPad    = 16
	stripFont   = 15
)

// Strip is the line of words under a chord, in a window over all others.
type Strip struct {
	s     *Screen
	win   xproto.Window
	gc    xproto.Gcontext
	until time.Time
	image *image.RGBA
	// Instead shows words elsewhere, and tells whether it did; nil for nowhere.
	Instead func(long time.Duration, words string) bool
}

// newStrip makes the window. Without one, or without a font, words are not shown.
func newStrip(on *Screen) *Strip {
	s := &Strip{s: on}
	s.win, s.gc = on.window("Zealous Atlas message", stripHeight, 1)
	return s
}

// Works tells whether words can be shown on this display.
func (s *Strip) Works() bool { return s.win != 0 }

// Show shows words at the bottom of a work area, for a while.
func (s *Strip) Show(words string, work geom.Rect) { s.ShowFor(StripTime, words, work) }

// ShowFor shows words for so long.
func (s *Strip) ShowFor(long time.Duration, words string, work geom.Rect) {
	if s.win == 0 || words == "" {
		return
	}
	if s.Instead != nil && s.Instead(long, words) {
		s.Hide()
		return
	}
	k := s.s.scaleAt(work)
	high, pad := k.px(stripHeight), k.px(stripPad)
	most := work.W - 4*pad
	face := s.s.facesAt(k).words
	words = fitted(face, desk.CleanText(words, desk.MaxTitle), most)
	width := max(min(font.MeasureString(face, words).Ceil(), most)+2*pad, 1)
	t := s.s.theme()
	s.image = filled(width, high, t.Ink)
	write(s.image, face, t.Paper, pad, high/2+k.px(stripFont)/3, words)
	s.until = time.Now().Add(long)
	time.AfterFunc(long, s.s.Wake)
	xproto.ConfigureWindow(s.s.Conn, s.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowStackMode,
		[]uint32{Coordinate(work.X + (work.W-width)/2), Coordinate(work.Bottom() - 2*high), uint32(width), uint32(high), xproto.StackModeAbove})
	s.s.ground(s.win)
	xproto.MapWindow(s.s.Conn, s.win)
	s.Draw()
}

// Draw paints the words.
func (s *Strip) Draw() {
	if s.image != nil {
		s.s.paint(xproto.Drawable(s.win), s.gc, s.image)
	}
}

// Tick hides the strip when its time is over.
func (s *Strip) Tick() {
	if s.image != nil && !time.Now().Before(s.until) {
		s.Hide()
	}
}

// Hide hides the strip.
func (s *Strip) Hide() {
	if s.image != nil {
		xproto.UnmapWindow(s.s.Conn, s.win)
		s.image = nil
	}
}
