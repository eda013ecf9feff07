package main

import (
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

func TestDemoStrays(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {80, 24}} {
		term := demo(t, size[0], size[1], nil)
		term.Wait("#11 Reel Ledger:")
		term.Keys("!").Wait("STRAYS", "LOST 3", "it lies where C was", "640 px right of B", "rescue puts it on B at 2540,300", "A · Laptop")
		term.Keys("Down", "Enter").Wait("Brought Projection Log · Test pattern back to B2. u undoes.", "LOST 2")
		term.Keys("u").Wait("LOST 3")
		// By hand, and back to the pixel.
		term.Keys("Home", "n")
		term.Wait("nudge #15 Hall Plan", "Enter keeps it", "Seats, screening room is at 4080,300 of B", "is at 4080,300 of B", "0% of it shows")
		term.Keys("3", "Left", "Left", "1", "Up").Wait("is at 3980,299 of B", "arrows by 1 px")
		term.Keys("e").Wait("To the next edge: which way?")
		term.Keys("Left").Wait("is at 3440,299 of B")
		term.Keys("Escape").Wait("Put back exactly where it was.", "640 px right of B")
		// And left there, as one step.
		term.Keys("n", "4", "Left", "Left", "Left", "Left", "Enter").Wait("is at 3280,300 of B, 900×620; 18% of it shows. It stays")
		term.Keys("u").Wait("640 px right of B")
		// Resized by hand.
		term.Keys("N", "2", "Right", "S-Down").Wait("910×610")
		term.Keys("Escape").Wait("Put back exactly where it was.")
		term.Keys("r", "a").Wait("Brought 3 windows back within reach. u undoes.", "NOTHING IS LOST", "Checked: 26 windows")
		term.Keys("@", "b").Wait("AWAY FROM B")
		term.Keys("Escape").Wait("Reel Ledger")
	}
}

// Strays on a real display: windows put out of reach by their own geometry and
// by configure requests, a dock in the seam, a monitor unplugged under them;
// found, moved by hand, rescued, put back; and dragged by the pointer.
func TestStraysOnADisplay(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 0, 1080) // below
	s.Keeper(t)
	x := s.NewX(t)
	list := func(query string) string { return s.List(t, query) }
	client(t, s, "tile", "xterm")
	// One that opens out of reach is brought in, with a line about it.
	out := x.Window("out", -3000, -2000, 400, 300)
	xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, out, xproto.AtomWmNormalHints, xproto.AtomWmSizeHints, 32, 18, fixedSize(400, 300))
	x.Map(out)
	testkit.Until(t, "it is brought in", func() bool {
		px, py, _, _, _, ok := x.Geometry(out)
		return ok && px >= 0 && py >= 0 && x.Viewable(out)
	})
	if log := testkit.Run(t, s.Env, testkit.Binary(t), "log"); !strings.Contains(log, "out opened out of reach and was brought to A.") {
		t.Errorf("the logbook is\n%s", log)
	}
	// One that moves itself off is reported, and not moved.
	away := x.Window("away", 300, 300, 400, 300)
	x.Map(away)
	testkit.Until(t, "it is on the desk", func() bool { return strings.Contains(list("all"), "away") })
	s.Do(t, "float of title:=away") // at the size it asked for
	xproto.ConfigureWindow(x.Conn, away, xproto.ConfigWindowX|xproto.ConfigWindowY, []uint32{5000, 200})
	testkit.Until(t, "it is a stray", func() bool { return strings.Contains(list("is:stray"), "away") })
	if px, _, _, _, _, _ := x.Geometry(away); px != 5000 {
		t.Errorf("it was moved to %d", px)
	}
	s.Do(t, "nudge left 1000 of title:=away")
	testkit.Until(t, "the window itself moves", func() bool { px, _, _, _, _, _ := x.Geometry(away); return px == 4000 })
	s.Do(t, "rescue of is:stray")
	inside := func(win xproto.Window, ax, ay, aw, ah int) bool {
		px, py, w, h, b, ok := x.Geometry(win)
		return ok && px >= ax && py >= ay && px+w+2*b <= ax+aw && py+h+2*b <= ay+ah
	}
	testkit.Until(t, "it is whole on A", func() bool { return inside(away, 0, 0, 1920, 1080) })
	s.Do(t, "undo")
	testkit.Until(t, "undo puts it back to the pixel", func() bool { px, py, _, _, _, _ := x.Geometry(away); return px == 4000 && py == 200 })
	s.Do(t, "rescue of is:stray")
	// A dock at the bottom of A, in the seam, and a title bar behind it.
	dock := x.Window("dock", 0, 1040, 1920, 40)
	x.Cards(dock, "_NET_WM_WINDOW_TYPE", x.Atom("ATOM"), uint32(x.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	x.Cards(dock, "_NET_WM_STRUT_PARTIAL", x.Atom("CARDINAL"), 0, 0, 0, 2160-1040, 0, 0, 0, 0, 0, 0, 0, 1919)
	x.Map(dock)
	testkit.Until(t, "the dock keeps its strip", func() bool { return strings.HasSuffix(s.Xprop(t, "root", "_NET_WORKAREA"), "") && x.Viewable(dock) })
	xproto.ConfigureWindow(x.Conn, away, xproto.ConfigWindowX|xproto.ConfigWindowY, []uint32{500, 1052})
	testkit.Until(t, "its title bar counts as hidden", func() bool { return strings.Contains(list("is:stray"), "away") })
	s.Do(t, "rescue of is:stray")
	testkit.Until(t, "it is in reach", func() bool { return !strings.Contains(list("is:stray"), "away") })
	// The pointer takes it by its handle, and by any other point.
	for _, at := range []struct{ dx, dy int }{{200, 10}, {390, 290}, {5, 250}} {
		px, py, _, _, _, _ := x.Geometry(away)
		x.Point(px+at.dx, py+at.dy)
		x.Hold(testkit.Super, func() {
			x.Button(1, true)
			x.Point(px+at.dx-60, py+at.dy-90)
			x.Button(1, false)
		})
		testkit.Until(t, "it is dragged, but for an edge that caught", func() bool {
			nx, ny, _, _, _, _ := x.Geometry(away)
			return max(nx-px+60, px-60-nx) <= 12 && max(ny-py+90, py-90-ny) <= 12
		})
	}
	// It cannot be dragged out of reach.
	px, py, _, _, _, _ := x.Geometry(away)
	x.Point(px+200, py+150)
	x.Hold(testkit.Super, func() {
		x.Button(1, true)
		x.Point(px+100, py+60)
		x.Point(20, 20) // short of the edge, where it would be snapped
		x.Button(1, false)
	})
	testkit.Until(t, "it moved", func() bool { nx, _, _, _, _, _ := x.Geometry(away); return nx != px })
	if strings.Contains(list("is:stray"), "away") {
		nx, ny, _, _, _, _ := x.Geometry(away)
		t.Errorf("dragging made a stray of it, at %d,%d", nx, ny)
	}
	// Resized from the nearest corner, the bottom right.
	s.Do(t, "cascade of title:=away")
	testkit.Until(t, "it is at the top left", func() bool { nx, ny, _, _, _, _ := x.Geometry(away); return nx == 0 && ny == 0 })
	_, _, w, h, _, _ := x.Geometry(away)
	x.Point(380, 280)
	x.Hold(testkit.Super, func() {
		x.Button(3, true)
		x.Point(430, 310)
		x.Button(3, false)
	})
	testkit.Until(t, "it is larger", func() bool { _, _, nw, nh, _, _ := x.Geometry(away); return nw == w+50 && nh == h+30 })
	// A monitor goes under it, and comes back.
	s.Do(t, "send B of title:=away")
	testkit.Until(t, "it is on B", func() bool { return inside(away, 0, 1080, 1920, 1080) })
	bx, by, _, _, _, _ := x.Geometry(away)
	s.Unplug(t, "DUMMY1")
	testkit.Until(t, "it is on A", func() bool { return inside(away, 0, 0, 1920, 1080) })
	s.Plug(t, "DUMMY1", 0, 1080)
	testkit.Until(t, "it is back on B, where it was", func() bool { nx, ny, _, _, _, _ := x.Geometry(away); return nx == bx && ny == by })
}

// fixedSize is WM_NORMAL_HINTS of a window that names its place and has one size.
func fixedSize(w, h uint32) []byte {
	v := make([]uint32, 18)
	v[0] = 1<<0 | 1<<4 | 1<<5
	v[5], v[6], v[7], v[8] = w, h, w, h
	var b []byte
	for _, n := range v {
		b = append(b, byte(n), byte(n>>8), byte(n>>16), byte(n>>24))
	}
	return b
}
