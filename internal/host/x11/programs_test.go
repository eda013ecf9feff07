package x11_test

import (
	"strings"
	"testing"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/composite"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/host/x11"
	"zatlas/internal/testkit"
)

// A window that its own program drags out of reach stays there while the button is
// held, and can be reached when it is let go.
func TestDraggedByItsOwnProgram(t *testing.T) {
	d := keep(t)
	win := d.open("a")
	d.do("float")
	d.until("it floats", func() bool { return !d.snapshot().Tiled(d.find("a")) })
	d.Point(200, 200)
	d.Button(1, true)
	xproto.ConfigureWindow(d.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY, []uint32{uint32(300), uint32(5000)})
	d.until("it is out of reach", func() bool { return d.find("a").Rect.Y == 5000 })
	d.Button(1, false)
	d.until("it is within reach", func() bool { r := d.find("a").Rect; return r.Y < 1080 && r.X == 300 })
	d.until("and is seen there", func() bool { _, y, _, _, _, _ := d.Geometry(win); return y < 1080 })
}

// Letters are found where a layout has them in another group, and where it has none
// by their places on a US keyboard.
func TestChordsOnOtherLayouts(t *testing.T) {
	d := keep(t)
	d.open("a")
	setup := xproto.Setup(d.Conn)
	m, err := xproto.GetKeyboardMapping(d.Conn, setup.MinKeycode, byte(setup.MaxKeycode-setup.MinKeycode+1)).Reply()
	if err != nil {
		t.Fatal(err)
	}
	const f = 41 // the key of f on a US keyboard
	for name, row := range map[string][]xproto.Keysym{"f in the second group": {0x6c1, 0x6e1, 'f', 'F'}, "no Latin letters": {0x6c1, 0x6e1}} {
		syms := make([]xproto.Keysym, m.KeysymsPerKeycode)
		copy(syms, row)
		xproto.ChangeKeyboardMapping(d.Conn, 1, f, m.KeysymsPerKeycode, syms)
		d.Conn.Sync()
		was := d.snapshot().Tiled(d.find("a"))
		d.until(name+": Super and the key float it", func() bool {
			d.PressCode(testkit.Super, f)
			return testkit.Soon(func() bool { return d.snapshot().Tiled(d.find("a")) != was })
		})
	}
}

// With a compositing client the border of a window of 32 bits a pixel is not seen
// through.
func TestComposited(t *testing.T) {
	d := keep(t)
	if err := composite.Init(d.Conn); err != nil {
		t.Fatal(err)
	}
	if _, err := composite.QueryVersion(d.Conn, 0, 4).Reply(); err != nil {
		t.Fatal(err)
	}
	composite.RedirectSubwindows(d.Conn, d.Root, composite.RedirectAutomatic)
	screen := xproto.Setup(d.Conn).DefaultScreen(d.Conn)
	var visual xproto.Visualid
	for _, depth := range screen.AllowedDepths {
		if depth.Depth == 32 && len(depth.Visuals) > 0 {
			visual = depth.Visuals[0].VisualId
		}
	}
	if visual == 0 {
		t.Fatal("the server has no visual of 32 bits")
	}
	colours, _ := xproto.NewColormapId(d.Conn)
	xproto.CreateColormap(d.Conn, xproto.ColormapAllocNone, colours, d.Root, visual)
	win, _ := xproto.NewWindowId(d.Conn)
	xproto.CreateWindow(d.Conn, 32, win, d.Root, 0, 0, 300, 200, 0, xproto.WindowClassInputOutput, visual,
		xproto.CwBackPixel|xproto.CwBorderPixel|xproto.CwColormap, []uint32{0x80102030, 0, uint32(colours)})
	d.Text(win, "_NET_WM_NAME", "deep")
	d.Map(win)
	d.until("it is on the desk", func() bool { return d.find("deep") != nil })
	d.at(win, true, geom.R(0, 0, 1920, 1080))
	d.until("its border is that of the focus, and solid", func() bool {
		pixmap, _ := xproto.NewPixmapId(d.Conn)
		if composite.NameWindowPixmapChecked(d.Conn, win, xproto.Pixmap(pixmap)).Check() != nil {
			return false
		}
		defer xproto.FreePixmap(d.Conn, pixmap)
		r, err := xproto.GetImage(d.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(pixmap), 0, 0, 1, 1, 0xffffffff).Reply()
		if err != nil || len(r.Data) < 4 {
			return false
		}
		pixel := uint32(r.Data[0]) | uint32(r.Data[1])<<8 | uint32(r.Data[2])<<16 | uint32(r.Data[3])<<24
		return pixel == 0xff000000|paint.Focused
	})
	if strings.Contains(d.log.String(), "level=WARN") {
		t.Errorf("the log has: %s", d.log)
	}
}

// An app goes by what it is called, and is found by its class.
func TestNameApp(t *testing.T) {
	s := testkit.NewServer(t)
	d := keepOn(t, s, x11.Options{NameApp: func(class, instance string) string {
		return map[string]string{"Probe-gui": "Reel Ledger"}[class] + map[bool]string{true: class}[class != "Probe-gui"]
	}})
	win := d.X.Window("a", 0, 0, 100, 100)
	d.Text(win, "WM_CLASS", "probe\x00Probe-gui\x00")
	d.Map(win)
	d.until("it is so called", func() bool {
		w := d.find("a")
		return w != nil && w.App == "Reel Ledger" && w.Class == "Probe-gui"
	})
	d.do("float of app:probe-gui", `float of app:="Reel Ledger"`)
}

// What is started is told of in the words of the startup notification protocol, and
// its end too.
func TestStartupIsTold(t *testing.T) {
	d := keep(t)
	xproto.ChangeWindowAttributes(d.Conn, d.Root, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
	d.Conn.Sync()
	d.host.StartupBegan("zatlas-1-1_TIME0", `The "Reel" Ledger`)
	win := d.X.Window("a", 0, 0, 100, 100)
	d.Text(win, "_NET_STARTUP_ID", "zatlas-1-1_TIME0")
	d.Map(win)
	said, want := "", "new: ID=zatlas-1-1_TIME0 NAME=\"The \\\"Reel\\\" Ledger\" SCREEN=0\x00remove: ID=zatlas-1-1_TIME0\x00"
	for !strings.HasSuffix(said, want[len(want)-10:]) {
		var m xproto.ClientMessageEvent
		d.Await("it is told", func(e xgb.Event) (ok bool) {
			m, ok = e.(xproto.ClientMessageEvent)
			return ok && m.Format == 8
		})
		if begins := m.Type == d.Atom("_NET_STARTUP_INFO_BEGIN"); begins != (said == "" || strings.HasSuffix(said, "\x00")) {
			t.Errorf("the message %q begins one: %t", m.Data.Data8, begins)
		}
		part, _, ended := strings.Cut(string(m.Data.Data8), "\x00")
		if said += part; ended {
			said += "\x00"
		}
	}
	if said != want {
		t.Errorf("told is %q, want %q", said, want)
	}
}

func TestDragOfAMaximisedWindow(t *testing.T) {
	d := keep(t)
	win := d.open("a")
	d.do("float")
	xproto.ConfigureWindow(d.Conn, win, xproto.ConfigWindowWidth|xproto.ConfigWindowHeight, []uint32{400, 300})
	d.until("it has its size", func() bool { return d.find("a").Rect.W == 404 })
	d.do("maximise on")
	d.at(win, true, geom.R(0, 0, 1920, 1080))
	d.Point(960, 200)
	d.Hold(testkit.Super, func() {
		d.Button(1, true)
		for i := range 6 {
			d.Point(960+30*i, 200+40*i)
		}
		d.until("it has its normal size under the pointer", func() bool {
			w := d.find("a")
			return !w.Maximised && w.Rect.W == 404 && w.Rect.Has(geom.Point{X: 1110, Y: 400})
		})
		d.Button(1, false)
	})
}

// A window of one size stays one while it is hidden, whatever becomes of its hints then, and
// what they say when it is seen again is taken up.
func TestHintsOfTheHidden(t *testing.T) {
	t.Parallel()
	d := keepOn(t, testkit.NewServer(t), x11.Options{})
	x := d.NewX(t)
	win := x.Window("mine", 100, 80, 240, 180)
	fixed := []uint32{16 | 32, 0, 0, 0, 0, 240, 180, 240, 180, 0, 0, 0, 0, 0, 0, 0, 0, 0} // PMinSize, PMaxSize
	hints := func() { x.Cards(win, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, fixed...) }
	hints()
	x.Map(win)
	d.until("it floats", func() bool { w := d.find("mine"); return w != nil && w.Fixed })
	before := d.find("mine").Rect
	asItWas := func() {
		t.Helper()
		d.until("it is as it was", func() bool { w := d.find("mine"); return w != nil && w.Fixed && w.Rect == before })
	}
	for range 3 {
		d.do("send new of title:=mine", "go 1")
		xproto.DeleteProperty(x.Conn, win, xproto.AtomWmNormalHints)
		x.Text(win, "_NET_WM_NAME", "gone")
		d.until("that it has no hints has come", func() bool { return d.find("gone") != nil })
		if w := d.find("gone"); !w.Fixed || w.Rect != before {
			t.Fatalf("hidden, without hints, it is %v at %v", d.snapshot().States(w), w.Rect)
		}
		d.do("go 2")
		hints()
		x.Text(win, "_NET_WM_NAME", "mine")
		asItWas()
		d.do("send 1 of title:=mine", "go 1", "remove last")
	}
	d.do("send new of title:=mine", "go 1")
	xproto.DeleteProperty(x.Conn, win, xproto.AtomWmNormalHints)
	x.Conn.Sync()
	d.do("go 2")
	d.until("one that has other hints for good is another window", func() bool { w := d.find("mine"); return !w.Fixed && d.snapshot().Tiled(w) })
	hints()
	asItWas()
}
