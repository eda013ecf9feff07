package paint

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"reflect"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jezek/xgb/xproto"

	zdraw "zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/status"
)

// LineLook is what a line looks like, and where it is.
type LineLook struct {
	Rect   geom.Rect // on the plane, in pixels
	Screen geom.Rect // all monitors, from whose edges a dock counts its strip
	Size   int       // of its letters, in pixels
	Bottom bool      // it is at the bottom edge, and its scale on top of it
	Theme  zdraw.Theme
}

// LineHeight is how high a line is whose letters have a size.
func LineHeight(size int) int { return size*2 + 2 }

// Line is a line at an edge of a monitor, in a window of its own. Its picture is the window's
// background, so that the server paints it.
type Line struct {
	letter byte
	win    xproto.Window
	gc     xproto.Gcontext
	pixmap xproto.Pixmap
	look   LineLook
	image  *image.RGBA
	says   status.Line
	parts  []Part
}

// Lines are the lines of a display. One goroutine draws them when what they say changes, so
// that no command waits for it.
type Lines struct {
	s       *Screen
	source  *status.Source
	managed bool // by another program, as docks

	mu    sync.Mutex
	shown []*Line
	sizes map[int]faces
	wake  chan struct{}
	over  chan struct{} // closed at the end
	ended atomic.Bool
}

// lineEvents are what the pointer does on a line.
const lineEvents = xproto.EventMaskButtonPress | xproto.EventMaskButtonRelease | xproto.EventMaskButtonMotion

// NewLines makes lines that show a source. Managed ones are windows that another program
// manages as docks.
func NewLines(s *Screen, source *status.Source, managed bool) *Lines {
	ls := &Lines{s: s, source: source, managed: managed, sizes: map[int]faces{}, wake: make(chan struct{}, 1), over: make(chan struct{})}
	go ls.run()
	return ls
}

// frameTime is the least time between two drawings: a program may change its title as often
// as it likes.
const frameTime = 8 * time.Millisecond

// run draws the lines whenever something changes, until the end.
func (ls *Lines) run() {
	changed, stop := ls.source.Changed(false)
	defer stop()
	for {
		select {
		case <-changed:
		case <-ls.wake:
		case <-ls.over:
			return
		}
		began := time.Now()
		ls.draw()
		if rest := frameTime - time.Since(began); rest > 0 {
			time.Sleep(rest)
		}
	}
}

// draw draws the lines that say something else than before.
func (ls *Lines) draw() {
	ls.mu.Lock()
	defer ls.mu.Unlock()
	if ls.ended.Load() {
		return
	}
	for _, l := range ls.shown {
		now, ok := ls.source.Line(l.letter)
		if !ok || l.image != nil && reflect.DeepEqual(now, l.says) {
			continue
		}
		l.says = now
		img := filled(l.look.Rect.W, l.look.Rect.H, l.look.Theme.Ink)
		l.parts = drawLine(img, ls.faces(l.look.Size), l.look, now)
		ls.put(l, img)
	}
}

// faces are the fonts of a size, with the pictures of letters that were drawn.
func (ls *Lines) faces(size int) faces {
	f, ok := ls.sizes[size]
	if !ok {
		f = facesOf(float64(size), float64(size), float64(size))
		ls.sizes[size] = f
	}
	return f
}

// put shows a picture on a line: those columns of it that changed.
func (ls *Lines) put(l *Line, img *image.RGBA) {
	from, to := 0, img.Rect.Dx()
	if l.image != nil && l.image.Rect == img.Rect {
		from, to = changedColumns(l.image, img)
	}
	l.image = img
	if from >= to {
		return
	}
	part := image.NewRGBA(image.Rect(0, 0, to-from, img.Rect.Dy()))
	draw.Draw(part, part.Rect, img, image.Pt(from, 0), draw.Src)
	ls.s.paintAt(xproto.Drawable(l.pixmap), l.gc, part, from)
	xproto.ClearArea(ls.s.Conn, false, l.win, int16(from), 0, uint16(to-from), 0)
}

// changedColumns are the columns in which two pictures of one size differ; none where to is
// not after from.
func changedColumns(a, b *image.RGBA) (from, to int) {
	w := 4 * a.Rect.Dx()
	from, to = w, 0
	for y := range a.Rect.Dy() {
		p, q := a.Pix[y*a.Stride:][:w], b.Pix[y*b.Stride:][:w]
		if bytes.Equal(p, q) {
			continue
		}
		i := 0
		for p[i] == q[i] {
			i++
		}
		k := w
		for p[k-1] == q[k-1] {
			k--
		}
		from, to = min(from, i), max(to, k)
	}
	return from / 4, (to + 3) / 4
}

// Place has lines be on the monitors of these letters, in their order, and on no others. It
// gives their windows.
func (ls *Lines) Place(looks map[byte]LineLook) []xproto.Window {
	ls.mu.Lock()
	defer ls.mu.Unlock()
	if ls.ended.Load() {
		return nil
	}
	ls.shown = slices.DeleteFunc(ls.shown, func(l *Line) bool {
		look, stays := looks[l.letter]
		if stays && (look.Rect.W == l.look.Rect.W && look.Rect.H == l.look.Rect.H || !ls.managed) {
			return false
		}
		xproto.DestroyWindow(ls.s.Conn, l.win)
		xproto.FreePixmap(ls.s.Conn, l.pixmap)
		xproto.FreeGC(ls.s.Conn, l.gc)
		return true
	})
	var letters []byte
	for letter := range looks {
		letters = append(letters, letter)
	}
	slices.Sort(letters)
	for _, letter := range letters {
		i := slices.IndexFunc(ls.shown, func(l *Line) bool { return l.letter == letter })
		if i < 0 {
			if l := ls.make(letter, looks[letter]); l != nil {
				ls.shown = append(ls.shown, l)
			}
			continue
		}
		ls.move(ls.shown[i], looks[letter])
	}
	var wins []xproto.Window
	for _, l := range ls.shown {
		wins = append(wins, l.win)
	}
	select {
	case ls.wake <- struct{}{}:
	default:
	}
	return wins
}

// make makes a line's window and shows it; nil where it cannot.
func (ls *Lines) make(letter byte, look LineLook) *Line {
	s := ls.s
	win, err1 := xproto.NewWindowId(s.Conn)
	gc, err2 := xproto.NewGcontextId(s.Conn)
	if err1 != nil || err2 != nil || s.faces.words == nil {
		return nil
	}
	override := uint32(1)
	if ls.managed {
		override = 0
	}
	r := look.Rect
	xproto.CreateWindow(s.Conn, s.Info.RootDepth, win, s.Info.Root, int16(r.X), int16(r.Y), uint16(r.W), uint16(r.H), 0, xproto.WindowClassInputOutput, s.Info.RootVisual,
		xproto.CwBackPixel|xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{s.Pixel(rgbOf(look.Theme.Ink)), override, lineEvents})
	xproto.CreateGC(s.Conn, gc, xproto.Drawable(win), 0, nil)
	s.Title(win, "Zealous Atlas line")
	s.Dock(win, display.StrutAt(look.Rect, look.Screen, look.Bottom))
	l := &Line{letter: letter, win: win, gc: gc, look: look}
	ls.fit(l)
	xproto.MapWindow(s.Conn, win)
	return l
}

// fit gives a line a picture of its size.
func (ls *Lines) fit(l *Line) {
	if l.pixmap != 0 {
		xproto.FreePixmap(ls.s.Conn, l.pixmap)
	}
	l.pixmap, l.image = 0, nil
	pixmap, err := xproto.NewPixmapId(ls.s.Conn)
	if err != nil {
		return
	}
	l.pixmap = pixmap
	xproto.CreatePixmap(ls.s.Conn, ls.s.Info.RootDepth, pixmap, xproto.Drawable(l.win), uint16(l.look.Rect.W), uint16(l.look.Rect.H))
	ls.s.paintAt(xproto.Drawable(pixmap), l.gc, filled(l.look.Rect.W, l.look.Rect.H, l.look.Theme.Ink), 0)
	xproto.ChangeWindowAttributes(ls.s.Conn, l.win, xproto.CwBackPixmap, []uint32{uint32(pixmap)})
}

// move has a line be elsewhere, or look otherwise.
func (ls *Lines) move(l *Line, look LineLook) {
	was := l.look
	l.look = look
	if was == look {
		return
	}
	if was.Rect != look.Rect || was.Screen != look.Screen {
		ls.s.Dock(l.win, display.StrutAt(look.Rect, look.Screen, look.Bottom))
	}
	if r := look.Rect; was.Rect != r {
		xproto.ConfigureWindow(ls.s.Conn, l.win, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight,
			[]uint32{Coordinate(r.X), Coordinate(r.Y), uint32(r.W), uint32(r.H)})
	}
	ls.fit(l)
}

// At is the part of a line at a place in its window; false where the window is no line, or
// nothing is there.
func (ls *Lines) At(win xproto.Window, x, y int) (Part, bool) {
	ls.mu.Lock()
	defer ls.mu.Unlock()
	i := slices.IndexFunc(ls.shown, func(l *Line) bool { return l.win == win })
	if i < 0 {
		return Part{}, false
	}
	for _, p := range ls.shown[i].parts {
		if x >= p.From && x < p.To {
			return p, true
		}
	}
	return Part{}, false
}

// Over is the part of a line at a place on the plane.
func (ls *Lines) Over(p geom.Point) (Part, bool) {
	ls.mu.Lock()
	win := xproto.Window(0)
	var at geom.Rect
	for _, l := range ls.shown {
		if l.look.Rect.Has(p) {
			win, at = l.win, l.look.Rect
		}
	}
	ls.mu.Unlock()
	if win == 0 {
		return Part{}, false
	}
	return ls.At(win, p.X-at.X, p.Y-at.Y)
}

// On tells whether a monitor has a line.
func (ls *Lines) On(letter byte) bool {
	ls.mu.Lock()
	defer ls.mu.Unlock()
	return slices.ContainsFunc(ls.shown, func(l *Line) bool { return l.letter == letter })
}

// Is tells whether a window is a line.
func (ls *Lines) Is(win xproto.Window) bool {
	ls.mu.Lock()
	defer ls.mu.Unlock()
	return slices.ContainsFunc(ls.shown, func(l *Line) bool { return l.win == win })
}

// End has nothing be drawn any more. The windows go with the connection.
func (ls *Lines) End() {
	if !ls.ended.Swap(true) {
		close(ls.over)
	}
}

// rgbOf is a colour as 0xrrggbb.
func rgbOf(c color.RGBA) uint32 { return uint32(c.R)<<16 | uint32(c.G)<<8 | uint32(c.B) }
