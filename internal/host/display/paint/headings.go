package paint

import (
	"image"
	"image/color"
	"image/draw"
	"slices"
	"strconv"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	zdraw "zatlas/internal/draw"
)

// The sizes of what a heading shows, in pixels at the usual density.
const (
	headingFont = 13
	headingPad  = 10
	headingMark = 8 // side of the mark before the active one
)

// Headings are the windows over piles and tabs that name their members. They are
// made when they are needed and kept for the next time.
type Headings struct {
	s     *Screen
	shown []*Heading
	spare []*Heading
}

// Heading is one window with the name of one member, or for those folded their number.
// Its picture is the window's background, so that the server paints it.
type Heading struct {
	win   xproto.Window
	gc    xproto.Gcontext
	told  desk.Header
	drawn headingState
}

// headingState is what the picture of a heading shows.
type headingState struct {
	w, h            int
	scale           scale
	label           string
	active, focused bool
	theme           string
}

const headingEvents = xproto.EventMaskButtonPress | xproto.EventMaskButtonRelease | xproto.EventMaskButtonMotion

// Show has the display show the headings of the desk: those that are new or say other
// things are drawn, the others at most moved. It tells whether more windows were made
// for them, under all others.
func (hs *Headings) Show(d *desk.Desk) (made bool) {
	s := hs.s
	if s.faces.heading == nil {
		return false
	}
	free := map[headingState][]*Heading{} // shown so far
	for _, one := range hs.shown {
		free[one.drawn] = append(free[one.drawn], one)
	}
	was := hs.shown
	hs.shown = nil
	var fresh []desk.Header // those that must be drawn
	for _, header := range headersOf(d) {
		state := s.stateOf(d, header)
		if have := free[state]; len(have) > 0 {
			free[state] = have[1:]
			have[0].move(s, header)
			hs.shown = append(hs.shown, have[0])
		} else {
			fresh = append(fresh, header)
		}
	}
	kept := make(map[*Heading]bool, len(hs.shown))
	for _, one := range hs.shown {
		kept[one] = true
	}
	var left []*Heading // of which nothing that they show is needed
	for _, one := range was {
		if !kept[one] {
			left = append(left, one)
		}
	}
	for _, header := range fresh {
		var one *Heading
		switch {
		case len(left) > 0:
			one, left = left[0], left[1:]
		case len(hs.spare) > 0:
			one, hs.spare = hs.spare[len(hs.spare)-1], hs.spare[:len(hs.spare)-1]
		default:
			if one = s.newHeading(); one == nil {
				continue // the server is out of means
			}
			made = true
		}
		one.move(s, header)
		one.tell(s, s.stateOf(d, header))
		xproto.MapWindow(s.Conn, one.win)
		hs.shown = append(hs.shown, one)
	}
	for _, one := range left {
		xproto.UnmapWindow(s.Conn, one.win)
		hs.spare = append(hs.spare, one)
	}
	return made
}

// headersOf lists the headings of the sheets that are shown.
func headersOf(d *desk.Desk) (hs []desk.Header) {
	for _, m := range d.Monitors {
		i := d.Index(d.Shown[m.Letter-'A'])
		if !m.Connected || i < 0 || d.Bare {
			continue
		}
		for _, h := range d.Headers(i, m.Letter) {
			if !h.Rect.Empty() && (h.Folded > 0 || d.Window(h.Window) != nil) {
				hs = append(hs, h)
			}
		}
	}
	return hs
}

// stateOf is what a heading shows: app and title and how many windows more its member
// has, or for how many members it stands.
func (on *Screen) stateOf(d *desk.Desk, h desk.Header) headingState {
	s := headingState{w: h.Rect.W, h: h.Rect.H, scale: on.scaleAt(h.Rect), active: h.Active, theme: on.theme().Name}
	if h.Folded > 0 {
		s.label = "+" + strconv.Itoa(h.Folded)
		return s
	}
	w := d.Window(h.Window)
	s.focused = d.Focus == w.ID
	if h.Pile && !h.Active {
		return s // its edge
	}
	label := h.Place() + w.Label()
	if h.More > 0 {
		label += "  +" + strconv.Itoa(h.More)
	}
	s.label = desk.CleanText(label, desk.MaxTitle)
	return s
}

// Header is what it is the heading of.
func (one *Heading) Header() desk.Header { return one.told }

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

// move has a heading stand where it belongs.
func (one *Heading) move(s *Screen, h desk.Header) {
	was, r := one.told.Rect, h.Rect
	one.told = h
	if was != r {
		xproto.ConfigureWindow(s.Conn, one.win,
			xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
			[]uint32{Coordinate(r.X), Coordinate(r.Y), uint32(r.W), uint32(r.H)})
	}
}

// tell has a heading show what it says.
func (one *Heading) tell(s *Screen, state headingState) {
	one.drawn = state
	pixmap, err := xproto.NewPixmapId(s.Conn)
	if err != nil {
		return
	}
	xproto.CreatePixmap(s.Conn, s.Info.RootDepth, pixmap, xproto.Drawable(one.win), uint16(state.w), uint16(state.h))
	s.paint(xproto.Drawable(pixmap), one.gc, s.facesAt(state.scale).drawn(state, s.theme()))
	xproto.ChangeWindowAttributes(s.Conn, one.win, xproto.CwBackPixmap, []uint32{uint32(pixmap)})
	xproto.ClearArea(s.Conn, false, one.win, 0, 0, 0, 0)
	xproto.FreePixmap(s.Conn, pixmap)
}

// drawn is the picture of one heading. The active member has a mark before its name,
// which is written bold on a lighter ground; the mark is full where it has the
// focus.
func (f faces) drawn(s headingState, t zdraw.Theme) *image.RGBA {
	w, height, px := s.w, s.h, s.scale.px
	pad, mark := px(headingPad), px(headingMark)
	ground, text, face := t.Ink, t.Slate, f.heading
	if s.active {
		ground, text, face = t.Sea, t.Paper, f.active
	}
	img := filled(w, height, ground)
	fill := func(r image.Rectangle, c color.Color) {
		draw.Draw(img, r, image.NewUniform(c), image.Point{}, draw.Src)
	}
	// A line parts it from the next one.
	fill(image.Rect(w-1, 0, w, height), t.Slate)
	fill(image.Rect(0, height-1, w, height), t.Slate)
	x := pad
	if s.active {
		box := image.Rect(x, (height-mark)/2, x+mark, (height+mark)/2)
		fill(box, t.Brass)
		if !s.focused {
			fill(box.Inset(px(2)), ground)
		}
		fill(image.Rect(0, 0, w, px(2)), t.Brass)
		x += mark + pad
	}
	write(img, face, text, x, height/2+px(headingFont)/3, fitted(face, s.label, w-x-pad))
	return img
}

// At is the heading that is that window; nil where it is none.
func (hs *Headings) At(win xproto.Window) *Heading {
	i := slices.IndexFunc(hs.shown, func(one *Heading) bool { return one.win == win })
	if i < 0 {
		return nil
	}
	return hs.shown[i]
}
