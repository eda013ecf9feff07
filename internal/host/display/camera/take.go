package camera

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/composite"
	"github.com/jezek/xgb/damage"
	"github.com/jezek/xgb/render"
	"github.com/jezek/xgb/shape"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/picture"
)

// formats are how the server's pictures have their colours (the Render extension).
type formats struct {
	of   map[xproto.Visualid]render.Pictformat
	argb render.Pictformat // 32 bits a pixel, eight of them each of blue, green, red
}

// readFormats asks for them.
func readFormats(conn *xgb.Conn) (f formats, err error) {
	r, err := render.QueryPictFormats(conn).Reply()
	if err != nil {
		return f, fmt.Errorf("asking for the formats of pictures: %w", err)
	}
	f.of = map[xproto.Visualid]render.Pictformat{}
	for _, s := range r.Screens {
		for _, d := range s.Depths {
			for _, v := range d.Visuals {
				f.of[v.Visual] = v.Format
			}
		}
	}
	for _, i := range r.Formats {
		d := i.Direct
		if i.Type == render.PictTypeDirect && i.Depth == 32 && d.AlphaMask == 0xff && d.RedShift == 16 && d.GreenShift == 8 && d.BlueShift == 0 {
			f.argb = i.Id
		}
	}
	if f.argb == 0 {
		return f, errors.New("the X server's RENDER has no format of 32 bits")
	}
	return f, nil
}

// shot is a picture that is being taken.
type shot struct {
	*subject
	visual xproto.Visualid
	inner  geom.Rect              // without its border, on the root
	w, h   int                    // of the picture
	shape  []geom.Rect            // of a window that is not a whole rectangle, from its top left
	frame  frame                  // whose pixmap it is a part of; zero if the screen is read
	read   render.CompositeCookie // the first step
	image  xproto.GetImageCookie
}

// frame is a child of the root whose pixels a compositing client keeps apart from the screen.
type frame struct {
	win    xproto.Window
	visual xproto.Visualid
	origin geom.Rect // with its border, on the root
}

// take pictures windows. It is false where something has moved meanwhile: then none of the
// pictures is used, since one may show another window's pixels.
func (c *Camera) take(these []*subject) bool {
	if !c.synced() {
		return false
	}
	before := c.moved
	tree, err := xproto.QueryTree(c.conn, c.root).Reply()
	if err != nil {
		return false
	}
	shots := c.frame(these, tree.Children)
	c.wire.Note()
	for i := range shots {
		c.shoot(&shots[i])
	}
	now := time.Now()
	pictures := make([]*picture.Picture, len(shots))
	for i := range shots {
		pictures[i] = shots[i].develop(now)
	}
	c.wire.Forget()
	if !c.synced() || c.moved != before || c.saver {
		for i := range shots {
			if shots[i].dirty = true; pictures[i] != nil {
				clear(pictures[i].RGB)
			}
		}
		return false
	}
	for i, s := range shots {
		if s.taken = now; pictures[i] != nil {
			c.album.Put(s.id, pictures[i])
		}
	}
	return true
}

// locked tells whether the screen seems to be locked: a window that nobody manages covers all of
// it, above everything managed, and somebody else has the keyboard. That is asked once after
// each change of what lies where.
func (c *Camera) locked() bool {
	if c.lookedAt == c.moved {
		return c.lock
	}
	c.lookedAt, c.lock = c.moved, false
	all := c.bounds()
	var order []xproto.Window
	for _, t := range c.tops {
		if t.mapped && t.override && t.rect.Contains(all) {
			if tree, err := xproto.QueryTree(c.conn, c.root).Reply(); err == nil {
				order = tree.Children
			}
			break
		}
	}
	if c.lock = c.covering(order, all); c.lock {
		c.dropped(c.album.Clear())
	}
	return c.lock
}

// bounds is the root, which may have been resized; empty where the server does not say.
func (c *Camera) bounds() geom.Rect {
	r, err := xproto.GetGeometry(c.conn, xproto.Drawable(c.root)).Reply()
	if err != nil {
		return geom.Rect{}
	}
	return geom.R(0, 0, int(r.Width), int(r.Height))
}

// covering tells whether the topmost window covers all and its owner has the keyboard.
func (c *Camera) covering(order []xproto.Window, all geom.Rect) bool {
	for _, win := range slices.Backward(order) {
		t := c.tops[win]
		if t == nil || !t.mapped || t.override && !t.rect.Contains(all) {
			continue
		}
		if !t.override || c.byWin[win] != nil {
			return false // what is under a window of the desk locks nothing
		}
		r, err := xproto.GrabKeyboard(c.conn, false, c.root, xproto.TimeCurrentTime, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
		if err != nil {
			return true
		}
		if r.Status == xproto.GrabStatusSuccess {
			xproto.UngrabKeyboard(c.conn, xproto.TimeCurrentTime)
		}
		return r.Status == xproto.GrabStatusAlreadyGrabbed
	}
	return false
}

// frame works out which of the windows are seen, wholly and alone in their places, or have
// pixels of their own.
func (c *Camera) frame(these []*subject, order []xproto.Window) (shots []shot) {
	type asked struct {
		*subject
		attributes xproto.GetWindowAttributesCookie
		geometry   xproto.GetGeometryCookie
		at         xproto.TranslateCoordinatesCookie
		tree       xproto.QueryTreeCookie
	}
	all := make([]asked, len(these))
	for i, s := range these {
		all[i] = asked{subject: s, attributes: xproto.GetWindowAttributes(c.conn, s.win), geometry: xproto.GetGeometry(c.conn, xproto.Drawable(s.win)),
			at: xproto.TranslateCoordinates(c.conn, s.win, c.root, 0, 0), tree: xproto.QueryTree(c.conn, s.win)}
	}
	root, composited := c.bounds(), c.composited()
	for _, a := range all {
		attributes, err1 := a.attributes.Reply()
		geometry, err2 := a.geometry.Reply()
		at, err3 := a.at.Reply()
		tree, err4 := a.tree.Reply()
		if err1 != nil || err2 != nil || err3 != nil || err4 != nil {
			a.dirty = false // it is gone
			continue
		}
		s := shot{subject: a.subject, visual: attributes.Visual, inner: geom.R(int(at.DstX), int(at.DstY), int(geometry.Width), int(geometry.Height))}
		s.w, s.h = picture.Size(s.inner.W, s.inner.H)
		top := c.topOf(s.win, tree.Parent)
		if composited && !a.plain {
			s.frame = c.frameOf(top)
		}
		if attributes.MapState != xproto.MapStateViewable || attributes.Class == xproto.WindowClassInputOnly || c.formats.of[s.visual] == 0 ||
			s.frame.win == 0 && (!root.Contains(s.inner) || c.covered(s.inner, top, order)) {
			a.blocked = c.moved
			continue
		}
		where, ok := c.shapeOf(s.win, top, s.inner)
		if s.shape = where; !ok {
			a.blocked = c.moved
			continue
		}
		shots = append(shots, s)
	}
	return shots
}

// manyRectangles bounds the rectangles of a shape: a window with more is not pictured.
const manyRectangles = 4096

// shapeOf is where a window shows, from its top left: in its own shape and in that of the child
// of the root that it is in. It is nil where it shows wholly, and not ok where that cannot be
// told. Both are followed from now on: another shape spoils a picture.
func (c *Camera) shapeOf(win, top xproto.Window, inner geom.Rect) (all []geom.Rect, ok bool) {
	if !c.shapes {
		return nil, true
	}
	parts := []xproto.Window{win, top}
	if top == win {
		parts = parts[:1]
	}
	for _, of := range parts {
		at := inner
		if of != win {
			shape.SelectInput(c.conn, top, true)
			r, err := xproto.TranslateCoordinates(c.conn, top, c.root, 0, 0).Reply()
			if err != nil {
				return nil, false
			}
			at.X, at.Y = int(r.DstX), int(r.DstY)
		}
		extents, err := shape.QueryExtents(c.conn, of).Reply()
		if err != nil {
			return nil, false
		}
		if !extents.BoundingShaped {
			continue
		}
		r, err := shape.GetRectangles(c.conn, of, shape.SkBounding).Reply()
		if err != nil || len(r.Rectangles) > manyRectangles {
			return nil, false
		}
		both := []geom.Rect{}
		for _, r := range r.Rectangles {
			r := geom.R(int(r.X)+at.X-inner.X, int(r.Y)+at.Y-inner.Y, int(r.Width), int(r.Height))
			if all == nil {
				both = append(both, r)
			}
			for _, o := range all {
				if s := r.Intersect(o); !s.Empty() {
					both = append(both, s)
				}
			}
		}
		all = both
	}
	return all, len(all) <= manyRectangles
}

// composited tells whether a client composes the screen of what windows draw (EWMH,
// _NET_WM_CM_Sn).
func (c *Camera) composited() bool {
	if c.composer == 0 {
		return false
	}
	r, err := xproto.GetSelectionOwner(c.conn, c.composer).Reply()
	return err == nil && r.Owner != 0
}

// frameOf is a child of the root as a frame; zero where it is none.
func (c *Camera) frameOf(win xproto.Window) frame {
	t := c.tops[win]
	if t == nil {
		return frame{}
	}
	r, err := xproto.GetWindowAttributes(c.conn, win).Reply()
	if err != nil || c.formats.of[r.Visual] == 0 {
		return frame{}
	}
	return frame{win, r.Visual, t.rect}
}

// topOf is the child of the root that has a window in it: a manager's frame, or itself.
func (c *Camera) topOf(win, parent xproto.Window) xproto.Window {
	for range 8 { // as deep as any manager goes
		if parent == c.root || parent == 0 {
			return win
		}
		win = parent
		r, err := xproto.QueryTree(c.conn, win).Reply()
		if err != nil {
			return 0
		}
		parent = r.Parent
	}
	return 0
}

// covered tells whether anything over a child of the root is in a rectangle. The order is from
// below.
func (c *Camera) covered(r geom.Rect, of xproto.Window, order []xproto.Window) bool {
	at := slices.Index(order, of)
	if at < 0 {
		return true
	}
	for _, win := range order[at+1:] {
		if t := c.tops[win]; win != c.mark && (t == nil || t.mapped && !t.unseen && !t.rect.Intersect(r).Empty()) {
			return true
		}
	}
	return false
}

// shoot has the server shrink what a window shows, in two steps of which each halves at most
// by a mean of four pixels, and asks for that.
func (c *Camera) shoot(s *shot) {
	s.dirty = false // unless there is news of it from now on
	if s.damage != 0 {
		damage.Subtract(c.conn, s.damage, 0, 0)
	}
	source, err := render.NewPictureId(c.conn)
	if err != nil {
		return
	}
	drawable, visual, left, above := xproto.Drawable(s.win), s.visual, 0, 0
	var made []xproto.Pixmap
	if s.frame.win != 0 {
		pixmap, err := xproto.NewPixmapId(c.conn)
		if err != nil {
			return
		}
		composite.NameWindowPixmap(c.conn, s.frame.win, pixmap)
		drawable, visual, left, above = xproto.Drawable(pixmap), s.frame.visual, s.inner.X-s.frame.origin.X, s.inner.Y-s.frame.origin.Y
		made = append(made, pixmap)
	}
	render.CreatePicture(c.conn, source, drawable, c.formats.of[visual], render.CpSubwindowMode, []uint32{xproto.SubwindowModeIncludeInferiors})
	from, fw, fh := source, s.inner.W, s.inner.H
	pictures := []render.Picture{source}
	for _, by := range []int{2, 1} {
		w, h := min(by*s.w, fw), min(by*s.h, fh)
		pixmap, err1 := xproto.NewPixmapId(c.conn)
		to, err2 := render.NewPictureId(c.conn)
		if err1 != nil || err2 != nil {
			break
		}
		xproto.CreatePixmap(c.conn, 32, pixmap, xproto.Drawable(c.root), uint16(w), uint16(h))
		render.CreatePicture(c.conn, to, xproto.Drawable(pixmap), c.formats.argb, 0, nil)
		fixed := func(a, b int) render.Fixed { return render.Fixed(int64(a) << 16 / int64(b)) }
		render.SetPictureTransform(c.conn, from, render.Transform{Matrix11: fixed(fw, w), Matrix13: fixed(left, 1), Matrix22: fixed(fh, h), Matrix23: fixed(above, 1), Matrix33: 1 << 16})
		render.SetPictureFilter(c.conn, from, uint16(len("bilinear")), "bilinear", nil)
		drawn := render.CompositeChecked(c.conn, render.PictOpSrc, from, 0, to, 0, 0, 0, 0, 0, 0, uint16(w), uint16(h))
		if from == source {
			s.read = drawn
		}
		made, pictures = append(made, pixmap), append(pictures, to)
		from, fw, fh, left, above = to, w, h, 0, 0
	}
	if len(pictures) == 3 {
		s.image = xproto.GetImage(c.conn, xproto.ImageFormatZPixmap, xproto.Drawable(made[len(made)-1]), 0, 0, uint16(s.w), uint16(s.h), 0xffffffff)
	}
	for _, p := range pictures {
		render.FreePicture(c.conn, p)
	}
	for _, p := range made {
		xproto.FreePixmap(c.conn, p)
	}
}

// outside is the colour of what is in a picture and not in the window's shape.
var outside = picture.RGB{R: 40, G: 52, B: 64}

// develop takes what the server has sent; nil where that is nothing.
func (s *shot) develop(at time.Time) *picture.Picture {
	if s.image.Cookie == nil {
		return nil
	}
	r, err := s.image.Reply()
	if err != nil || len(r.Data) < 4*s.w*s.h {
		return nil
	}
	if s.read.Check() != nil { // the image has whatever was in memory
		if clear(r.Data); s.frame.win != 0 {
			s.plain, s.dirty = true, true // it is not kept apart
		}
		return nil
	}
	p := &picture.Picture{W: s.w, H: s.h, RGB: make([]byte, 3*s.w*s.h), At: at}
	for from, to := r.Data[:4*s.w*s.h], p.RGB; len(to) > 0; from, to = from[4:], to[3:] {
		to[0], to[1], to[2] = from[2], from[1], from[0]
	}
	clear(r.Data)
	if s.shape != nil {
		s.mask(p)
	}
	return p
}

// mask takes out the pixels that are not wholly in the shape, and those next to them, which
// the shrinking may have mixed with them.
func (s *shot) mask(p *picture.Picture) {
	all := geom.R(0, 0, s.inner.W, s.inner.H)
	var there []geom.Rect // what of the shape is in the row
	for y := range s.h {
		y0, y1 := (y-1)*s.inner.H/s.h, (y+2)*s.inner.H/s.h+1
		there = there[:0]
		for _, r := range s.shape {
			if r.Y < y1 && r.Bottom() > y0 {
				there = append(there, r)
			}
		}
		for x := range s.w {
			x0, x1 := (x-1)*s.inner.W/s.w, (x+2)*s.inner.W/s.w+1
			r := geom.R(x0, y0, x1-x0, y1-y0).Intersect(all)
			if geom.Covered(r, there) != r.Area() {
				p.Fill(x, y, 1, 1, outside)
			}
		}
	}
}
