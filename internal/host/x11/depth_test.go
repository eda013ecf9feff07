package x11_test

import (
	"fmt"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/x11"
	"zatlas/internal/testkit"
)

// Headings and words are drawn at every depth of a root: by masks, and from a palette.
func TestDepths(t *testing.T) {
	for _, bits := range []int{16, 8} {
		t.Run(fmt.Sprint(bits), func(t *testing.T) {
			d := keepOn(t, testkit.NewServerOfDepth(t, bits), x11.Options{})
			d.open("a")
			d.open("b")
			d.do("layout tabs")
			d.Press(testkit.Super, '7') // there is none: that is told
			for _, title := range []string{"Zealous Atlas message", "Zealous Atlas heading"} {
				d.until(title+" is drawn", func() bool { return colours(d.X, title) > 2 })
			}
		})
	}
}

// colours counts the colours of a window that is shown under a title; 0 for none.
func colours(x *testkit.X, title string) int {
	tree, err := xproto.QueryTree(x.Conn, x.Root).Reply()
	if err != nil {
		return 0
	}
	for _, win := range tree.Children {
		name, err := xproto.GetProperty(x.Conn, false, win, x.Atom("_NET_WM_NAME"), xproto.GetPropertyTypeAny, 0, 64).Reply()
		g, err2 := xproto.GetGeometry(x.Conn, xproto.Drawable(win)).Reply()
		if err != nil || err2 != nil || string(name.Value) != title || !x.Viewable(win) {
			continue
		}
		r, err := xproto.GetImage(x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(win), 0, 0, g.Width, g.Height, 0xffffffff).Reply()
		if err != nil {
			continue
		}
		size := 1
		if g.Depth == 16 {
			size = 2
		}
		seen := map[string]bool{}
		for i := 0; i+size <= len(r.Data); i += size {
			seen[string(r.Data[i:i+size])] = true
		}
		return len(seen)
	}
	return 0
}

// A server in a window of another one tells of its size before its monitor has it.
func TestNestedServer(t *testing.T) {
	t.Parallel()
	outer := keep(t)
	inner := &testkit.Server{Display: ":20" + outer.Display[1:]}
	testkit.Start(t, outer.Env, "Xephyr", inner.Display, "-noreset", "-resizeable", "-screen", "1000x700")
	testkit.Until(t, "the server in the window answers", func() bool {
		_, err := testkit.TryRun([]string{"DISPLAY=" + inner.Display}, "xprop", "-root", "_NET_SUPPORTED")
		return err == nil
	})
	d := keepOn(t, inner, x11.Options{})
	outer.do("layout columns")
	var half xproto.Window
	for i := range 4 {
		if i%2 == 0 {
			half = outer.open("half")
		} else {
			xproto.DestroyWindow(outer.Conn, half)
		}
		d.until("the monitor is as large as the root", func() bool {
			g, err := xproto.GetGeometry(d.Conn, xproto.Drawable(d.Root)).Reply()
			r := d.snapshot().Monitors[0].Rect
			outerWide := outer.snapshot().Monitors[0].Rect.W
			return err == nil && r.W == int(g.Width) && r.H == int(g.Height) && (r.W > outerWide/2) == (i%2 == 1)
		})
	}
}
