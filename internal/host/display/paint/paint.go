// Package paint draws what hosts show on a display themselves. That is the line, the strip of
// words under a chord, and the cards of keys and of held lists. It also draws headings of piles
// and tabs, outlines, and the colours of borders.
package paint

import (
	"math"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// The colours of borders, 0xrrggbb. Only the colour tells the focused window, so
// that nothing moves when the focus does.
const (
	Focused = 0xd9a441
	Quiet   = 0x2b3d4d
	Urgent  = 0xe2644d
)

// Screen is where it is drawn.
type Screen struct {
	Conn *xgb.Conn
	Info *xproto.ScreenInfo
	// Title gives a window of ours a title, by which others know what it is.
	Title func(win xproto.Window, title string)
	// Wake is called, on any goroutine, when Strip.Tick has something to do.
	Wake func()
	// Dock says of a line's window that it keeps a strip of an edge for itself
	// (_NET_WM_STRUT_PARTIAL).
	Dock func(win xproto.Window, strut []uint32)

	// Density is the pixels an inch of the monitor that shows a place; nil for the usual.
	Density func(r geom.Rect) int
	// Theme is the colours now, which a reload may change; nil, or a theme without a name,
	// for night.
	Theme func() draw.Theme

	faces  faces // in the usual size
	sized  map[int]faces
	pixels pixels
}

// Drawn is what is drawn on a screen.
type Drawn struct {
	Strip    *Strip
	Headings *Headings
	Outline  *Outline // of where a window would go
	Here     *Outline // of the monitor you are on, where it is empty
	Card     *Card
}

// On makes what can be drawn on a screen; nothing of it shows yet.
func On(s *Screen) Drawn {
	s.sized = map[int]faces{}
	s.faces, s.pixels = facesOf(stripFont, cardFont, headingFont), newPixels(s)
	return Drawn{newStrip(s), &Headings{s: s}, newOutline(s, "outline"), newOutline(s, "here"), newCard(s)}
}

// scale is a size in pixels at the usual density, for the monitor that shows a place.
type scale int

func (s *Screen) scaleAt(r geom.Rect) scale {
	if s.Density == nil {
		return display.UsualDensity
	}
	return scale(max(s.Density(r), display.UsualDensity))
}

func (k scale) px(n int) int { return (n*int(k) + display.UsualDensity/2) / display.UsualDensity }

// facesAt are the fonts for a scale.
func (s *Screen) facesAt(k scale) faces {
	if k == display.UsualDensity || s.faces.words == nil {
		return s.faces
	}
	f, made := s.sized[int(k)]
	if !made {
		f = facesOf(float64(k.px(stripFont)), float64(k.px(cardFont)), float64(k.px(headingFont)))
		s.sized[int(k)] = f
	}
	return f
}

// theme is the colours now.
func (s *Screen) theme() draw.Theme {
	if s.Theme != nil {
		if t := s.Theme(); t.Name != "" {
			return t
		}
	}
	return draw.Night
}

// ground gives a window with words the colours of the theme, before it is shown.
func (s *Screen) ground(win xproto.Window) {
	t := s.theme()
	xproto.ChangeWindowAttributes(s.Conn, win, xproto.CwBackPixel|xproto.CwBorderPixel, []uint32{s.Pixel(rgbOf(t.Ink)), s.Pixel(rgbOf(t.Brass))})
}

// Pixel is a colour, 0xrrggbb, as the screen has it.
func (s *Screen) Pixel(rgb uint32) uint32 { return s.pixels.of(rgb) }

// window makes a window over all others, with words in it, which does not show yet, and
// what it is painted with; 0 where there can be none, or no font.
func (s *Screen) window(title string, height, border uint16) (xproto.Window, xproto.Gcontext) {
	win, err1 := xproto.NewWindowId(s.Conn)
	gc, err2 := xproto.NewGcontextId(s.Conn)
	if s.faces.words == nil || err1 != nil || err2 != nil {
		return 0, 0
	}
	xproto.CreateWindow(s.Conn, s.Info.RootDepth, win, s.Info.Root, 0, 0, 1, height, border, xproto.WindowClassInputOutput, s.Info.RootVisual,
		xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, xproto.EventMaskExposure})
	s.ground(win)
	xproto.CreateGC(s.Conn, gc, xproto.Drawable(win), 0, nil)
	s.Title(win, title)
	return win, gc
}

// Coordinate holds a place on the plane to what the protocol can say.
func Coordinate(v int) uint32 { return uint32(int32(geom.Clamp(v, math.MinInt16, math.MaxInt16))) }
