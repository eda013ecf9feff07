package bench

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/alongside"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

const (
	tabSym    = 0xff09
	escapeSym = 0xff1b
)

// pixel is a point of a display that is watched for another colour.
type pixel struct {
	x    *testkit.X
	b    *testing.B
	px   int16
	py   int16
	most time.Duration
}

func (p pixel) colour() uint32 {
	r, err := xproto.GetImage(p.x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(p.x.Root), p.px, p.py, 1, 1, 0xffffff).Reply()
	if err != nil {
		p.b.Fatal(err)
	}
	return colourOf(r.Data)
}

func colourOf(data []byte) uint32 { return uint32(data[0]) | uint32(data[1])<<8 | uint32(data[2])<<16 }

// changes waits until the point has another colour than one, or that one, and gives how
// long it took.
func (p pixel) changes(from uint32, to bool) time.Duration {
	start := time.Now()
	for (p.colour() != from) != to {
		if time.Since(start) > p.most {
			p.b.Fatalf("after %v the point at %d,%d is still %06x", p.most, p.px, p.py, from)
		}
	}
	return time.Since(start)
}

// bareCard is the least that a card can be: at a key a client takes the keyboard, maps a
// window and paints a picture of the same size into it; at the next it unmaps it.
func bareCard(b *testing.B, s *testkit.Server, w, h int) (stop func()) {
	x := s.NewX(b)
	win, err := xproto.NewWindowId(x.Conn)
	if err != nil {
		b.Fatal(err)
	}
	screen := xproto.Setup(x.Conn).DefaultScreen(x.Conn)
	xproto.CreateWindow(x.Conn, screen.RootDepth, win, x.Root, int16(960-w/2), int16(540-h/2), uint16(w), uint16(h), 0, xproto.WindowClassInputOutput, screen.RootVisual,
		xproto.CwBackPixel|xproto.CwOverrideRedirect, []uint32{0x0f1a24, 1})
	gc, err := xproto.NewGcontextId(x.Conn)
	if err != nil {
		b.Fatal(err)
	}
	xproto.CreateGC(x.Conn, gc, xproto.Drawable(win), 0, nil)
	tab := x.Code(uint32(tabSym))
	xproto.GrabKey(x.Conn, true, x.Root, switchMask, xproto.Keycode(tab), xproto.GrabModeAsync, xproto.GrabModeSync)
	x.Conn.Sync()
	rows := 60000 / w
	data := make([]byte, 4*w*rows)
	for i := 0; i < len(data); i += 4 {
		data[i], data[i+1], data[i+2] = 0x41, 0xa4, 0xd9
	}
	up := false
	return x.Follow(func(e xgb.Event) {
		k, is := e.(xproto.KeyPressEvent)
		opens := is && byte(k.Detail) == tab
		if !is || opens && up { // a repeat
			return
		}
		if up = opens; !up {
			xproto.UnmapWindow(x.Conn, win)
			xproto.UngrabKeyboard(x.Conn, xproto.TimeCurrentTime)
			return
		}
		xproto.GrabKeyboard(x.Conn, false, x.Root, k.Time, xproto.GrabModeAsync, xproto.GrabModeAsync).Reply()
		xproto.AllowEvents(x.Conn, xproto.AllowAsyncKeyboard, k.Time)
		xproto.MapWindow(x.Conn, win)
		for y := 0; y < h; y += rows {
			n := min(rows, h-y)
			xproto.PutImage(x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(win), gc, uint16(w), uint16(n), 0, int16(y), 0, screen.RootDepth, data[:4*w*n])
		}
	})
}

// BenchmarkCard: from a chord to the card of what may follow, and to the list of recent
// windows, on a real X server, until a point under it has another colour. The floor is a
// bare client on another server that takes the keyboard and paints one picture as large.
func BenchmarkCard(b *testing.B) {
	super := keys.Modifiers{Super: true}
	for _, windows := range []int{4, 200} {
		for _, c := range []struct {
			name string
			keys.Chord
		}{
			{"card", keys.Chord{Name: "Super+Tab", Command: "send", Modifiers: super, Keysym: tabSym}},
			{"list", keys.Chord{Name: "hold Super+Tab", Command: "recent", Hold: true, Modifiers: super, Keysym: tabSym}},
		} {
			b.Run(fmt.Sprintf("%s, %d windows", c.name, windows), func(b *testing.B) { benchCard(b, c.Chord, windows) })
		}
	}
}

// BenchmarkCardAlongside: the same beside another manager; the floor is the keeper's.
func BenchmarkCardAlongside(b *testing.B) {
	for _, c := range []keys.Chord{
		{Name: "Super+Tab", Command: "send", Modifiers: keys.Modifiers{Super: true}, Keysym: tabSym},
		{Name: "hold Super+Tab", Command: "recent", Hold: true, Modifiers: keys.Modifiers{Super: true}, Keysym: tabSym},
	} {
		b.Run(c.Command, func(b *testing.B) {
			s, other := testkit.NewServer(b), testkit.NewServer(b)
			opt := board.Options{Chords: []keys.Chord{c}}
			_, _, end := keeping(b, x11.Options{Display: s.Display, Quiet: true, Board: opt})
			defer end()
			manager.Start(b, other.Display, 3, manager.Switches{})
			x, x2 := s.NewX(b), other.NewX(b)
			for i := range 4 {
				for _, on := range []*testkit.X{x, x2} {
					on.Map(on.Window(fmt.Sprint("kept ", i), 0, 0, 200, 150))
				}
			}
			host, d, err := alongside.Open(alongside.Options{Display: other.Display, Quiet: true, Board: opt, Takes: true})
			if err != nil {
				b.Fatal(err)
			}
			ctx, cancel := context.WithCancel(context.Background())
			ended := make(chan struct{})
			k := keeper.New(d, host, keeper.Options{})
			go func() { defer close(ended); k.Run(ctx) }()
			defer func() { cancel(); <-ended }()
			for _, on := range []*testkit.X{x, x2} {
				testkit.Until(b, "the chord is taken", func() bool { // until then it comes to nobody
					on.Key(superSym, true)
					on.Key(tabSym, true)
					taken := testkit.Soon(func() bool { return !on.Free() })
					on.Key(tabSym, false)
					on.Press(escapeSym)
					on.Key(superSym, false)
					return taken
				})
			}
			var measures, floors []time.Duration
			for range 60 {
				floors = append(floors, toCard(b, x))
				measures = append(measures, toCard(b, x2))
			}
			report(b, measures, floors)
		})
	}
}

// toCard is how long it takes from the chord until its card is seen; then it is left.
func toCard(b *testing.B, x *testkit.X) time.Duration { return withCard(b, x, func() {}) }

// withCard does something while the card is up.
func withCard(b *testing.B, x *testkit.X, do func()) time.Duration {
	point := pixel{x, b, 960, 540, testkit.Deadline}
	before := point.colour()
	x.Key(superSym, true)
	x.Key(tabSym, true)
	took := point.changes(before, true)
	do()
	x.Key(tabSym, false)
	x.Press(escapeSym)
	x.Key(superSym, false)
	point.changes(before, false)
	return took
}

// sizeOfCard is how large the card is, in pixels.
func sizeOfCard(b *testing.B, x *testkit.X) (w, h int) {
	withCard(b, x, func() {
		r, err := xproto.TranslateCoordinates(x.Conn, x.Root, x.Root, 960, 540).Reply()
		if err != nil {
			b.Fatal(err)
		}
		_, _, w, h, _, _ = x.Geometry(r.Child)
	})
	b.ReportMetric(float64(w*h), "pixels")
	return w, h
}

func benchCard(b *testing.B, c keys.Chord, windows int) {
	s, other := testkit.NewServer(b), testkit.NewServer(b)
	x, x2 := s.NewX(b), other.NewX(b)
	_, _, end := keeping(b, x11.Options{Display: s.Display, Quiet: true, Board: board.Options{Chords: []keys.Chord{c}}})
	defer end()
	w := watch(b, s)
	kept := map[xproto.Window]bool{}
	for i := range windows {
		win := x.Window(fmt.Sprint("kept ", i), 0, 0, 200, 150)
		kept[win] = true
		x.Map(win)
		w.wait(b, 1, kept)
	}
	x.Conn.Sync()
	wide, high := sizeOfCard(b, x)
	stop := bareCard(b, other, wide, high)
	defer stop()
	under := pixel{x2, b, 960, 540, testkit.Deadline}
	var measures, floors []time.Duration
	for range 60 {
		before := under.colour()
		x2.Key(superSym, true)
		x2.Key(tabSym, true)
		floors = append(floors, under.changes(before, true))
		x2.Key(tabSym, false)
		x2.Key(superSym, false)
		x2.Press(escapeSym)
		under.changes(before, false)
		measures = append(measures, toCard(b, x))
	}
	report(b, measures, floors)
}
