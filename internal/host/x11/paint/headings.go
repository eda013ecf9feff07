package paint

import (
	"image"
	"image/color"
	"image/draw"
	"slices"
	"strconv"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
)

// The sizes in pixels of what a heading shows.
const (
	headingFont = 13
	headingPad  = 10
	headingMark = 8 // side of the mark before the active one
)

// Headings are the windows over piles and tabs that name their members. They are
// made when they are needed and kept for the next time.
type Headings struct {
	s     *Screen
	pool  []*Heading
	shown int // how many of the pool are mapped
}

// Heading is one window with the name of one member. Its picture is the
// window's background, so that the server paints it.
type Heading struct {
	win  xproto.Window
	gc   xproto.Gcontext
	told headingState
}

// headingState is what a heading was last told to show.
type headingState struct {
	desk.Header
	label   string
	focused bool
}

const headingEvents = xproto.EventMaskButtonPress | xproto.EventMaskButtonRelease | xproto.EventMaskButtonMotion

// Show has the display show the headings of the desk. It tells whether more windows
// were made for them, under all others.
func (hs *Headings) Show(d *desk.Desk) (made bool) {
	s := hs.s
	if s.faces.heading == nil || s.Info.RootDepth < 24 {
		return false
	}
	var want []headingState
	for _, m := range d.Monitors {
		i := d.Index(d.Shown[m.Letter-'A'])
		if !m.Connected || i < 0 || d.Bare {
			continue
		}
		for _, header := range d.Headers(i, m.Letter) {
			w := d.Window(header.Window)
			if header.Rect.Empty() || w == nil {
				continue
			}
			want = append(want, headingState{header, headingLabel(w, header.More), d.Focus == w.ID})
		}
	}
	before := len(hs.pool)
	for len(hs.pool) < len(want) {
		one := s.newHeading()
		if one == nil {
			want = want[:len(hs.pool)]
			break
		}
		hs.pool = append(hs.pool, one)
	}
	for i, state := range want {
		one := hs.pool[i]
		if one.told != state {
			one.tell(s, state)
		}
		if i >= hs.shown {
			xproto.MapWindow(s.Conn, one.win)
		}
	}
	for i := len(want); i < hs.shown; i++ {
		xproto.UnmapWindow(s.Conn, hs.pool[i].win)
	}
	hs.shown = len(want)
	return len(hs.pool) > before
}

// headingLabel is what a heading says: app and title, and how many windows more
// its member has.
func headingLabel(w *desk.Window, more int) string {
	label := w.Label()
	if more > 0 {
		label += "  +" + strconv.Itoa(more)
	}
	return desk.CleanText(label, desk.MaxTitle)
}

// Window is the id of the window that it names.
func (one *Heading) Window() int { return one.told.Window }

// newHeading makes a heading under all other windows; nil where it cannot.
func (s *Screen) newHeading() *Heading {
	win, err1 := xproto.NewWindowId(s.Conn)
	gc, err2 := xproto.NewGcontextId(s.Conn)
	if err1 != nil || err2 != nil {
		return nil
	}
	xproto.CreateWindow(s.Conn, s.Info.RootDepth, win, s.Info.Root, 0, 0, 1, 1, 0, xproto.WindowClassInputOutput, s.Info.RootVisual,
		xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, headingEvents})
	xproto.CreateGC(s.Conn, gc, xproto.Drawable(win), 0, nil)
	s.Title(win, "Zealous Atlas heading")
	xproto.ConfigureWindow(s.Conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeBelow})
	return &Heading{win: win, gc: gc}
}

// tell has a heading show what it names.
func (one *Heading) tell(s *Screen, told headingState) {
	one.told = told
	r := told.Rect
	xproto.ConfigureWindow(s.Conn, one.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
		[]uint32{Coordinate(r.X), Coordinate(r.Y), uint32(r.W), uint32(r.H)})
	pixmap, err := xproto.NewPixmapId(s.Conn)
	if err != nil {
		return
	}
	xproto.CreatePixmap(s.Conn, s.Info.RootDepth, pixmap, xproto.Drawable(one.win), uint16(r.W), uint16(r.H))
	s.paint(xproto.Drawable(pixmap), one.gc, s.faces.drawn(told))
	xproto.ChangeWindowAttributes(s.Conn, one.win, xproto.CwBackPixmap, []uint32{uint32(pixmap)})
	xproto.ClearArea(s.Conn, false, one.win, 0, 0, 0, 0)
	xproto.FreePixmap(s.Conn, pixmap)
}

// drawn is the picture of one heading. The active member has a mark before its name,
// which is written bold on a lighter ground; the mark is full where it has the
// focus.
func (f faces) drawn(s headingState) *image.RGBA {
	w, height := s.Rect.W, s.Rect.H
	ground, text, face := color.Color(inkColour), color.Color(mistColour), f.heading
	if s.Active {
		ground, text, face = seaColour, paperColour, f.active
	}
	img := filled(w, height, ground)
	fill := func(r image.Rectangle, c color.Color) {
		draw.Draw(img, r, image.NewUniform(c), image.Point{}, draw.Src)
	}
	// A line parts it from the next one.
	fill(image.Rect(w-1, 0, w, height), slateColour)
	fill(image.Rect(0, height-1, w, height), slateColour)
	x := headingPad
	if s.Active {
		mark := image.Rect(x, (height-headingMark)/2, x+headingMark, (height+headingMark)/2)
		fill(mark, brassColour)
		if !s.focused {
			fill(mark.Inset(2), ground)
		}
		fill(image.Rect(0, 0, w, 2), brassColour)
		x += headingMark + headingPad
	}
	write(img, face, text, x, height/2+headingFont/3, fitted(face, s.label, w-x-headingPad))
	return img
}

// At is the heading that is that window; nil where it is none.
func (hs *Headings) At(win xproto.Window) *Heading {
	i := slices.IndexFunc(hs.pool[:hs.shown], func(one *Heading) bool { return one.win == win })
	if i < 0 {
		return nil
	}
	return hs.pool[i]
}

// Beside is the window of the member after the active one of a heading's pile or
// tabs, or before it; 0 at their ends.
func (hs *Headings) Beside(one *Heading, step int) int {
	first := slices.Index(hs.pool, one) - one.told.Place
	for i := first; i < first+one.told.Of; i++ {
		if next := i + step; hs.pool[i].told.Active && next >= first && next < first+one.told.Of {
			return hs.pool[next].told.Window
		}
	}
	return 0
}
