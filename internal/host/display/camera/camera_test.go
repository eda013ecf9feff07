package camera

import (
	"bytes"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb/composite"
	"github.com/jezek/xgb/shape"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/lang"
	"zatlas/internal/picture"
	"zatlas/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// studio is a server without a manager, with flat windows each of a colour of its own, and a
// camera.
type studio struct {
	*testing.T
	x     *testkit.X
	c     *Camera
	album *picture.Album
	desk  *desk.Desk
	wins  map[int]xproto.Window
	shown map[int]bool
}

// newStudio has n windows, and a camera that is told of them.
func newStudio(t *testing.T, n int, every pace, opt Options) *studio {
	t.Helper()
	server := testkit.NewServer(t)
	s := &studio{T: t, x: server.NewX(t), wins: map[int]xproto.Window{}, shown: map[int]bool{}}
	s.album = picture.NewAlbum(nil)
	s.c = start(t.Context(), server.Display, s.album, opt, every, slog.New(slog.DiscardHandler))
	var err error
	if s.desk, err = desk.New([]desk.Monitor{{Key: "one", Letter: 'A', Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Primary: true, Connected: true}}, desk.Settings{}); err != nil {
		t.Fatal(err)
	}
	for id := 1; id <= n; id++ {
		s.wins[id] = s.x.Window(fmt.Sprint("flat ", id), 40*id, 30*id, 400, 300)
		xproto.ChangeWindowAttributes(s.x.Conn, s.wins[id], xproto.CwBackPixel|xproto.CwOverrideRedirect, []uint32{pixelOf(id), 1})
		s.desk, _ = s.desk.With(desk.Opened{Window: desk.Window{ID: id, App: fmt.Sprint("Flat ", id), Rect: geom.R(40*id, 30*id, 400, 300), Floating: true}})
	}
	return s
}

// pixelOf is the colour of a window, which no other has.
func pixelOf(id int) uint32 {
	c := colourOf(id)
	return uint32(c.R)<<16 | uint32(c.G)<<8 | uint32(c.B)
}

func colourOf(id int) picture.RGB {
	return picture.RGB{R: uint8(20 + 22*id%230), G: uint8(250 - 20*id), B: uint8(60 * id % 256)}
}

// show maps a window.
func (s *studio) show(id int) {
	xproto.MapWindow(s.x.Conn, s.wins[id])
	s.shown[id] = true
	s.tell()
}

// hide unmaps it.
func (s *studio) hide(id int) {
	xproto.UnmapWindow(s.x.Conn, s.wins[id])
	s.shown[id] = false
	s.tell()
}

func (s *studio) tell() {
	s.x.Conn.Sync()
	seen := map[int]xproto.Window{}
	for id, is := range s.shown {
		if is {
			seen[id] = s.wins[id]
		}
	}
	s.c.See(s.desk, seen)
}

// honest fails where a picture has a pixel of another colour than its window's.
func (s *studio) honest(when string) {
	s.Helper()
	for id := range s.wins {
		p := s.album.Get(id)
		if p == nil {
			continue
		}
		want := colourOf(id)
		for y := range p.H {
			for x := range p.W {
				if c := p.Pixel(x, y); c != want && c != outside {
					s.Fatalf("%s: the picture of %d (%d×%d) has %v at %d,%d, and the window is %v", when, id, p.W, p.H, c, x, y, want)
				}
			}
		}
	}
}

// Whatever windows do, a picture never has a pixel of another one. The camera takes them as
// often as it can: most are in the middle of something.
func TestPicturesShowNoOtherWindow(t *testing.T) {
	steps := 2000
	if testing.Short() {
		steps = 400
	}
	s := newStudio(t, 10, pace{rest: time.Millisecond, shown: time.Millisecond, other: time.Millisecond}, Options{On: true})
	if _, ok := display.Extension(s.x.Conn, "SHAPE"); !ok {
		t.Fatal("the server is without SHAPE")
	}
	seed := testkit.Seed(t, 3)
	r := rand.New(rand.NewPCG(seed, 1))
	taken := map[time.Time]bool{}
	for step := range steps {
		id := r.IntN(len(s.wins)) + 1
		win := s.wins[id]
		if step%20 == 19 { // one is in sight, and nothing moves until it was pictured
			from := time.Now()
			shape.Mask(s.x.Conn, shape.SoSet, shape.SkBounding, win, 0, 0, 0)
			xproto.ConfigureWindow(s.x.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowStackMode,
				[]uint32{uint32(r.IntN(1000)), uint32(r.IntN(500)), uint32(20 + r.IntN(800)), uint32(20 + r.IntN(500)), xproto.StackModeAbove})
			s.show(id)
			xproto.ClearArea(s.x.Conn, false, win, 0, 0, 0, 0)
			s.x.Conn.Sync()
			testkit.Until(t, fmt.Sprint(id, " is pictured"), func() bool { p := s.album.Get(id); return p != nil && p.At.After(from) })
			s.honest(fmt.Sprintf("seed %d, step %d, at rest", seed, step))
		}
		switch r.IntN(8) {
		case 0, 1:
			s.show(id)
		case 2:
			s.hide(id)
		case 3:
			xproto.ConfigureWindow(s.x.Conn, win, xproto.ConfigWindowStackMode, []uint32{uint32(r.IntN(2))})
		case 4:
			xproto.ConfigureWindow(s.x.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY, []uint32{uint32(r.IntN(1700)), uint32(r.IntN(900))})
		case 5:
			xproto.ConfigureWindow(s.x.Conn, win, xproto.ConfigWindowWidth|xproto.ConfigWindowHeight, []uint32{uint32(20 + r.IntN(1400)), uint32(20 + r.IntN(900))})
		case 6: // other windows, which nobody knows of
			o := s.x.Window("over", r.IntN(1800), r.IntN(1000), 100, 100)
			xproto.ChangeWindowAttributes(s.x.Conn, o, xproto.CwBackPixel|xproto.CwOverrideRedirect, []uint32{0xff00ff, 1})
			xproto.MapWindow(s.x.Conn, o)
			if r.IntN(3) > 0 {
				xproto.DestroyWindow(s.x.Conn, o)
			}
		case 7:
			var hole []xproto.Rectangle
			for range r.IntN(3) {
				hole = append(hole, xproto.Rectangle{X: int16(r.IntN(300)), Y: int16(r.IntN(200)), Width: 200, Height: 150})
			}
			if hole == nil {
				shape.Mask(s.x.Conn, shape.SoSet, shape.SkBounding, win, 0, 0, 0)
			} else {
				shape.Rectangles(s.x.Conn, shape.SoSet, shape.SkBounding, 0, win, 0, 0, hole)
			}
		}
		s.x.Conn.Sync()
		if r.IntN(10) == 0 {
			time.Sleep(time.Duration(r.IntN(12)) * time.Millisecond) // at rest for a while, or not
		}
		for id := range s.wins {
			if p := s.album.Get(id); p != nil {
				taken[p.At] = true
			}
		}
		if step%20 == 0 {
			s.honest(fmt.Sprintf("seed %d, step %d", seed, step))
		}
	}
	s.honest("at the end")
	t.Logf("pictures were taken %d times", len(taken))
}

// A manager's frame that is shaped lets what is under it be seen where its window would be.
func TestPictureInAShapedFrame(t *testing.T) {
	s := newStudio(t, 2, pace{rest: 20 * time.Millisecond, shown: 20 * time.Millisecond, other: 20 * time.Millisecond}, Options{On: true})
	if _, ok := display.Extension(s.x.Conn, "SHAPE"); !ok {
		t.Fatal("the server is without SHAPE")
	}
	frame := s.x.Window("frame", 300, 200, 500, 400)
	xproto.ChangeWindowAttributes(s.x.Conn, frame, xproto.CwOverrideRedirect, []uint32{1})
	xproto.ReparentWindow(s.x.Conn, s.wins[1], frame, 50, 50)
	xproto.ConfigureWindow(s.x.Conn, s.wins[2], xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowStackMode,
		[]uint32{300, 200, 500, 400, xproto.StackModeBelow})
	shape.Rectangles(s.x.Conn, shape.SoSet, shape.SkBounding, 0, frame, 0, 0, []xproto.Rectangle{{X: 0, Y: 0, Width: 250, Height: 400}})
	xproto.MapWindow(s.x.Conn, s.wins[2])
	xproto.MapWindow(s.x.Conn, frame)
	s.show(1)
	testkit.Until(t, "it is pictured", func() bool { return s.album.Get(1) != nil })
	s.honest("in a shaped frame")
	p := s.album.Get(1)
	if p.Pixel(0, 0) != colourOf(1) || p.Pixel(p.W-1, 0) != outside {
		t.Errorf("it has %v at its left and %v at its right", p.Pixel(0, 0), p.Pixel(p.W-1, 0))
	}
	shape.Mask(s.x.Conn, shape.SoSet, shape.SkBounding, frame, 0, 0, 0)
	xproto.ClearArea(s.x.Conn, false, s.wins[1], 0, 0, 0, 0)
	s.x.Conn.Sync()
	testkit.Until(t, "it is pictured whole", func() bool { p := s.album.Get(1); return p.Pixel(p.W-1, 0) == colourOf(1) })
}

// A window that is seen is pictured, keeps its picture while it is hidden or covered, and is
// pictured anew when it is another colour and seen again.
func TestPictureIsTakenAndKept(t *testing.T) {
	s := newStudio(t, 3, pace{rest: 20 * time.Millisecond, shown: 20 * time.Millisecond, other: 20 * time.Millisecond}, Options{On: true})
	has := func(id int, c picture.RGB) {
		t.Helper()
		testkit.Until(t, fmt.Sprintf("%d is pictured as %v", id, c), func() bool {
			p := s.album.Get(id)
			return p != nil && p.Pixel(p.W/2, p.H/2) == c
		})
	}
	s.show(1)
	has(1, colourOf(1))
	s.show(2)
	s.show(3) // over both, nearly
	has(3, colourOf(3))
	if s.album.Get(2) != nil {
		t.Error("a window that was covered from the first is pictured")
	}
	s.hide(3)
	has(2, colourOf(2))
	has(3, colourOf(3))
	if p := s.album.Get(1); p.W != 400 || p.H != 300 {
		t.Errorf("a window of 400×300 is pictured with %d×%d", p.W, p.H)
	}
	s.hide(2)
	other := picture.RGB{R: 1, G: 2, B: 3}
	xproto.ChangeWindowAttributes(s.x.Conn, s.wins[1], xproto.CwBackPixel, []uint32{0x010203})
	xproto.ClearArea(s.x.Conn, false, s.wins[1], 0, 0, 0, 0)
	s.x.Conn.Sync()
	has(1, other)
}

// What is private, gone, or seen by nobody who may is not in memory any more.
func TestPicturesAreForgotten(t *testing.T) {
	fast := pace{rest: 20 * time.Millisecond, shown: 20 * time.Millisecond, other: 20 * time.Millisecond}
	s := newStudio(t, 2, fast, Options{On: true, Private: []string{"flat 2"}})
	held := func(what string, want ...int) {
		t.Helper()
		testkit.Until(t, what, func() bool { got, _ := s.album.Held(); return fmt.Sprint(got) == fmt.Sprint(want) })
	}
	xproto.ConfigureWindow(s.x.Conn, s.wins[2], xproto.ConfigWindowX, []uint32{900})
	s.show(1)
	s.show(2)
	held("one is pictured", 1)
	s.c.Configure(Options{On: true})
	held("both are, once none is private", 1, 2)
	query, err := lang.ParseQuery(`app:="Flat 1"`)
	if err != nil {
		t.Fatal(err)
	}
	rules := s.desk
	s.desk, _ = s.desk.With(desk.Settle{Settings: desk.Settings{Rules: []desk.Rule{{Query: query, Private: true}}}})
	s.tell()
	held("a rule takes one out", 2)
	s.desk = rules
	s.tell()
	held("and lets it in again", 1, 2)
	s.desk, _ = s.desk.With(desk.Closed{ID: 2})
	s.shown[2] = false
	s.tell()
	held("one is gone", 1)
	s.c.Configure(Options{})
	held("pictures are off")
	s.c.Configure(Options{On: true})
	held("and on", 1)
	xproto.ForceScreenSaver(s.x.Conn, xproto.ScreenSaverActive)
	s.x.Conn.Sync()
	held("the screen saver is on")
	xproto.ForceScreenSaver(s.x.Conn, xproto.ScreenSaverReset)
	s.x.Conn.Sync()
	xproto.ClearArea(s.x.Conn, false, s.wins[1], 0, 0, 0, 0)
	s.x.Conn.Sync()
	held("it is off", 1)
	lock := s.x.Window("lock", 0, 0, 1920, 1080)
	xproto.ChangeWindowAttributes(s.x.Conn, lock, xproto.CwOverrideRedirect, []uint32{1})
	s.x.Map(lock)
	if r, err := xproto.GrabKeyboard(s.x.Conn, false, lock, 0, 1, 1).Reply(); err != nil || r.Status != 0 {
		t.Fatal(err, r)
	}
	xproto.ClearArea(s.x.Conn, false, s.wins[1], 0, 0, 0, 0)
	s.x.Conn.Sync()
	held("the screen is locked")
}

// Where a client composes the screen, a window has its own pixels: it is pictured under others
// and past the edge, and one that is not kept apart as everywhere.
func TestPicturesOfComposedWindows(t *testing.T) {
	fast := pace{rest: 20 * time.Millisecond, shown: 20 * time.Millisecond, other: 20 * time.Millisecond}
	s := newStudio(t, 3, fast, Options{On: true})
	composer := s.x.Window("composer", 0, 0, 1, 1)
	if _, ok := display.Extension(s.x.Conn, "Composite"); !ok {
		t.Fatal("the server is without Composite")
	}
	if _, err := composite.QueryVersion(s.x.Conn, 0, 2).Reply(); err != nil {
		t.Fatal(err)
	}
	has := func(id int) {
		t.Helper()
		testkit.Until(t, fmt.Sprint(id, " is pictured"), func() bool {
			p := s.album.Get(id)
			return p != nil && p.Pixel(p.W/2, p.H/2) == colourOf(id) && p.Pixel(0, 0) == colourOf(id) && p.Pixel(p.W-1, p.H-1) == colourOf(id)
		})
	}
	place := func(id, x, y int) {
		xproto.ConfigureWindow(s.x.Conn, s.wins[id], xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowBorderWidth, []uint32{uint32(x), uint32(y), 7})
		s.show(id)
	}
	xproto.SetSelectionOwner(s.x.Conn, composer, s.x.Atom("_NET_WM_CM_S0"), xproto.TimeCurrentTime)
	place(1, 100, 100)
	has(1) // read off the screen: nothing is kept apart yet
	for _, id := range []int{2, 3} {
		composite.RedirectWindow(s.x.Conn, s.wins[id], composite.RedirectManual)
	}
	place(2, 1800, 100)
	place(3, 1800, 100) // over it
	has(3)
	has(2)
}

// Of a window that was closed, or became private, no pixels are found in memory.
func TestNoPixelsStayInMemory(t *testing.T) {
	fast := pace{rest: 20 * time.Millisecond, shown: 20 * time.Millisecond, other: 20 * time.Millisecond}
	s := newStudio(t, 3, fast, Options{On: true})
	colour := func(id int) picture.RGB { return picture.RGB{R: 0x1d, G: 0xa7, B: uint8(id)} } // as in no other test
	for id, win := range s.wins {
		xproto.ChangeWindowAttributes(s.x.Conn, win, xproto.CwBackPixel, []uint32{0x1da700 | uint32(id)})
		s.show(id)
		testkit.Until(t, fmt.Sprint(id, " is pictured"), func() bool { windows, _ := s.album.Held(); return slices.Contains(windows, id) })
		if inMemory(t, colour(id)) == 0 {
			t.Fatalf("the picture of %d is not found, and it is there", id)
		}
		s.hide(id)
	}
	s.c.Configure(Options{On: true, Private: []string{"flat 2"}})
	s.desk, _ = s.desk.With(desk.Closed{ID: 1})
	s.tell()
	for _, id := range []int{1, 2} {
		testkit.Until(t, fmt.Sprint("no pixel of ", id, " is in memory"), func() bool { return inMemory(t, colour(id)) == 0 })
	}
	if inMemory(t, colour(3)) == 0 {
		t.Error("the picture of 3 is gone too")
	}
	s.c.Configure(Options{})
	testkit.Until(t, "no pixel of 3 is in memory", func() bool { return inMemory(t, colour(3)) == 0 })
}

// inMemory counts the runs of at least a hundred pixels of a colour in the memory of this
// process, as a picture has them and as the server sends them.
func inMemory(t *testing.T, c picture.RGB) (runs int) {
	t.Helper()
	maps, err := os.ReadFile("/proc/self/maps")
	if err != nil {
		t.Fatal(err)
	}
	mem, err := os.Open("/proc/self/mem")
	if err != nil {
		t.Fatal(err)
	}
	defer mem.Close()
	part := make([]byte, 1<<20)
	defer clear(part)
	for line := range strings.Lines(string(maps)) {
		var from, to int64
		var mode string
		if n, _ := fmt.Sscanf(line, "%x-%x %s", &from, &to, &mode); n < 3 || !strings.HasPrefix(mode, "rw") {
			continue
		}
		for ; from < to; from += int64(len(part)) {
			n, _ := mem.ReadAt(part[:min(int64(len(part)), to-from)], from)
			runs += runsOf(part[:n], c.R, c.G, c.B) + runsOf(part[:n], c.B, c.G, c.R, 0xff)
		}
	}
	return runs
}

// runsOf counts where a pixel is a hundred times in a row.
func runsOf(data []byte, pixel ...byte) (runs int) {
	for at := 0; ; {
		next := bytes.Index(data[at:], pixel)
		if next < 0 {
			return runs
		}
		at += next
		n := 0
		for bytes.HasPrefix(data[at:], pixel) {
			at, n = at+len(pixel), n+1
		}
		if n >= 100 {
			runs++
		}
	}
}
