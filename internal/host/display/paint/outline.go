package paint

import (
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
)

// outlineWidth is how thick an outline is, in pixels.
const outlineWidth = 4

// Outline is a frame of four windows over all others.
type Outline struct {
	s     *Screen
	sides [4]xproto.Window
	rect  geom.Rect // empty where it is hidden
}

func newOutline(s *Screen, name string) *Outline {
	o := &Outline{s: s}
	for i := range o.sides {
		win, err := xproto.NewWindowId(s.Conn)
		if err != nil {
			return &Outline{s: s}
		}
		xproto.CreateWindow(s.Conn, 0, win, s.Info.Root, 0, 0, 1, 1, 0, xproto.WindowClassInputOutput, 0,
			xproto.CwBackPixel|xproto.CwOverrideRedirect, []uint32{s.Pixel(Focused), 1})
		s.Title(win, "Zealous Atlas "+name)
		o.sides[i] = win
	}
	return o
}

// Show shows it at a rectangle of the plane.
func (o *Outline) Show(r geom.Rect) {
	if o.sides[0] == 0 || r == o.rect {
		return
	}
	wasHidden := o.rect.Empty()
	o.rect = r
	t := min(o.s.scaleAt(r).px(outlineWidth), r.W, r.H)
	for i, side := range []geom.Rect{
		geom.R(r.X, r.Y, r.W, t), geom.R(r.X, r.Bottom()-t, r.W, t), geom.R(r.X, r.Y, t, r.H), geom.R(r.Right()-t, r.Y, t, r.H),
	} {
		xproto.ConfigureWindow(o.s.Conn, o.sides[i],
			xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowStackMode,
			[]uint32{Coordinate(side.X), Coordinate(side.Y), uint32(max(side.W, 1)), uint32(max(side.H, 1)), xproto.StackModeAbove})
		if wasHidden {
			xproto.MapWindow(o.s.Conn, o.sides[i])
		}
	}
}

// Hide hides it.
func (o *Outline) Hide() {
	if o.rect.Empty() {
		return
	}
	o.rect = geom.Rect{}
	for _, win := range o.sides {
		xproto.UnmapWindow(o.s.Conn, win)
	}
}
