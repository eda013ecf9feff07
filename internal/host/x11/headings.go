package x11

import (
	"image"
	"image/color"
	"image/draw"
	"slices"
	"strconv"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// The sizes in pixels of what a heading shows.
const (
	headingFont = 13
	headingPad  = 10
	headingMark = 8 // side of the mark before the active one
)

// headings are the windows over piles and tabs that name their members. They are
// made when they are needed and kept for the next time.
type headings struct {
	h     *Host
	pool  []*heading
	shown int // how many of the pool are mapped
}

// heading is one window with the name of one member. Its picture is the
// window's background, so that the server paints it.
type heading struct {
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

// The buttons that the wheel presses.
const (
	wheelUp   = 4
	wheelDown = 5
)

const headingEvents = xproto.EventMaskButtonPress | xproto.EventMaskButtonRelease | xproto.EventMaskButtonMotion

// show has the display show the headings of the desk.
func (hs *headings) show(d *desk.Desk) {
	h := hs.h
	if h.faces.heading == nil || h.screen.RootDepth < 24 {
		return
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
	made := len(hs.pool)
	for len(hs.pool) < len(want) {
		one := h.newHeading()
		if one == nil {
			want = want[:len(hs.pool)]
			break
		}
		hs.pool = append(hs.pool, one)
	}
	for i, state := range want {
		one := hs.pool[i]
		if one.told != state {
			one.tell(h, state)
		}
		if i >= hs.shown {
			xproto.MapWindow(h.conn, one.win)
		}
	}
	for i := len(want); i < hs.shown; i++ {
		xproto.UnmapWindow(h.conn, hs.pool[i].win)
	}
	hs.shown = len(want)
	if len(hs.pool) > made { // desktop-type windows stay under all
		for win := range h.desktop {
			h.putOver(win, 0)
		}
	}
}

// headingLabel is what a heading says: app and title, and how many windows more
// its member has.
func headingLabel(w *desk.Window, more int) string {
	label := w.Label()
	if w.App != "" && w.App != label {
		label = w.App + "  ·  " + label
	}
	if more > 0 {
		label += "  +" + strconv.Itoa(more)
	}
	return desk.CleanText(label, desk.MaxTitle)
}

// newHeading makes a heading under all other windows; nil where it cannot.
func (h *Host) newHeading() *heading {
	win, err1 := xproto.NewWindowId(h.conn)
	gc, err2 := xproto.NewGcontextId(h.conn)
	if err1 != nil || err2 != nil {
		return nil
	}
	xproto.CreateWindow(h.conn, h.screen.RootDepth, win, h.root, 0, 0, 1, 1, 0, xproto.WindowClassInputOutput, h.screen.RootVisual,
		xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, headingEvents})
	xproto.CreateGC(h.conn, gc, xproto.Drawable(win), 0, nil)
	h.setText(win, aNetName, "Zealous Atlas heading")
	h.putOver(win, 0)
	return &heading{win: win, gc: gc}
}

// tell has a heading show what it names.
func (one *heading) tell(h *Host, s headingState) {
	one.told = s
	r := s.Rect
	xproto.ConfigureWindow(h.conn, one.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
		[]uint32{place16(r.X), place16(r.Y), uint32(r.W), uint32(r.H)})
	pixmap, err := xproto.NewPixmapId(h.conn)
	if err != nil {
		return
	}
	xproto.CreatePixmap(h.conn, h.screen.RootDepth, pixmap, xproto.Drawable(one.win), uint16(r.W), uint16(r.H))
	h.paint(xproto.Drawable(pixmap), one.gc, h.drawHeading(s))
	xproto.ChangeWindowAttributes(h.conn, one.win, xproto.CwBackPixmap, []uint32{uint32(pixmap)})
	xproto.ClearArea(h.conn, false, one.win, 0, 0, 0, 0)
	xproto.FreePixmap(h.conn, pixmap)
}

// drawHeading draws one heading. The active member has a mark before its name,
// which is written bold on a lighter ground; the mark is full where it has the
// focus.
func (h *Host) drawHeading(s headingState) *image.RGBA {
	w, height := s.Rect.W, s.Rect.H
	ground, text, face := color.Color(inkColour), color.Color(mistColour), h.faces.heading
	if s.Active {
		ground, text, face = seaColour, paperColour, h.faces.active
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

// at is the heading that is that window; nil where it is none.
func (hs *headings) at(win xproto.Window) *heading {
	i := slices.IndexFunc(hs.pool[:hs.shown], func(one *heading) bool { return one.win == win })
	if i < 0 {
		return nil
	}
	return hs.pool[i]
}

// press follows a button on a heading: a click focuses its window, and may begin
// a drag of it; the wheel goes through the members.
func (hs *headings) press(one *heading, e xproto.ButtonPressEvent) {
	h := hs.h
	if h.atlas.up {
		h.atlas.hide()
	}
	step := map[xproto.Button]int{wheelUp: -1, wheelDown: 1}[e.Detail]
	switch e.Detail {
	case moveButton:
		h.drag = drag{id: one.told.Window, from: geom.Point{X: int(e.RootX), Y: int(e.RootY)}, button: e.Detail, drops: true, slack: dragSlack}
		h.drag.to = h.drag.from
		h.emit(desk.Activated{ID: one.told.Window})
	case wheelUp, wheelDown:
		if id := hs.beside(one, step); id != 0 {
			h.emit(desk.Activated{ID: id})
		}
	}
}

// beside is the window of the member after the active one of a heading's pile or
// tabs, or before it; 0 at their ends.
func (hs *headings) beside(one *heading, step int) int {
	first := slices.Index(hs.pool, one) - one.told.Place
	for i := first; i < first+one.told.Of; i++ {
		if next := i + step; hs.pool[i].told.Active && next >= first && next < first+one.told.Of {
			return hs.pool[next].told.Window
		}
	}
	return 0
}
