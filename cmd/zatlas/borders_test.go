package main

import (
	"fmt"
	"syscall"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// pixelAt is the colour of a point of the display.
func pixelAt(t *testing.T, x *testkit.X, px, py int) uint32 {
	t.Helper()
	r, err := xproto.GetImage(x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(x.Root), int16(px), int16(py), 1, 1, 0xffffffff).Reply()
	if err != nil {
		t.Fatal(err)
	}
	return uint32(r.Data[0]) | uint32(r.Data[1])<<8 | uint32(r.Data[2])<<16
}

// Borders have the width and the colours of the settings, changed by "reload" while the
// display is kept; a rule takes them from windows.
func TestBorders(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	write := func(border, colour int, rest string) {
		t.Helper()
		text := "[desk]\nlayout = \"columns\"\n[keeper]\n"
		for i, kind := range []string{"focused", "other", "urgent", "floating"} {
			text += fmt.Sprintf("border_%s = \"#%06x\"\n", kind, colour+i)
		}
		s.Settings(t, text+fmt.Sprintf("border = %d\n%s", border, rest))
	}
	write(3, 0x102030, "")
	keeper := s.Keeper(t)
	x := s.NewX(t)
	wins := map[string]xproto.Window{}
	for _, title := range []string{"quiet", "loud", "drifting", "bare", "last"} {
		wins[title] = x.Window(title, 0, 0, 300, 200)
		x.Map(wins[title])
		testkit.Until(t, title+" is shown", func() bool { return x.Viewable(wins[title]) })
	}
	s.Do(t, "float of title:drifting")
	x.Cards(wins["loud"], "WM_HINTS", xproto.AtomWmHints, 1<<8, 0, 0, 0, 0, 0, 0, 0, 0)
	shows := func(what string, want map[string][2]int) {
		t.Helper()
		for title, is := range want {
			testkit.Until(t, fmt.Sprintf("%s: %s has a border of %d, #%06x", what, title, is[0], is[1]), func() bool {
				px, py, _, _, border, ok := x.Geometry(wins[title])
				return ok && border == is[0] && (border == 0 || pixelAt(t, x, px, py) == uint32(is[1]))
			})
		}
	}
	shows("at the start", map[string][2]int{"quiet": {3, 0x102031}, "loud": {3, 0x102032}, "drifting": {3, 0x102033}, "bare": {3, 0x102031}, "last": {3, 0x102030}})
	write(9, 0x405060, "[[rules]]\nmatch = \"title:bare\"\nnoborder = true\n")
	s.Do(t, "reload")
	shows("after a reload", map[string][2]int{"quiet": {9, 0x405061}, "loud": {9, 0x405062}, "drifting": {9, 0x405063}, "bare": {}, "last": {9, 0x405060}})
	if _, _, w, h, _, _ := x.Geometry(wins["bare"]); w < 300 || h < 1000 {
		t.Errorf("without its border the tile is %dx%d", w, h)
	}
	// One that opens without a border, and one that may not be resized, are as large as they asked.
	fixed := x.Window("fixed", 400, 300, 320, 220)
	x.Cards(fixed, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, 1<<4|1<<5, 0, 0, 0, 0, 320, 220, 320, 220, 0, 0, 0, 0, 0, 0, 0, 0, 0)
	slip := x.Window("barely", 900, 300, 310, 210)
	x.Cards(slip, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(x.Atom("_NET_WM_WINDOW_TYPE_DIALOG")))
	x.Map(fixed)
	x.Map(slip)
	sized := func(what string) {
		t.Helper()
		for _, one := range []struct {
			win          xproto.Window
			w, h, border int
		}{{fixed, 320, 220, 9}, {slip, 310, 210, 0}} {
			testkit.Until(t, fmt.Sprintf("%s: it is %dx%d with a border of %d", what, one.w, one.h, one.border), func() bool {
				_, _, w, h, border, _ := x.Geometry(one.win)
				return x.Viewable(one.win) && w == one.w && h == one.h && border == one.border
			})
		}
	}
	sized("opened")
	keeper.Process.Signal(syscall.SIGKILL)
	s.Keeper(t)
	sized("with another keeper")
	black := "[keeper]\nborder = 9\n"
	for _, kind := range []string{"focused", "other", "urgent", "floating"} {
		black += "border_" + kind + " = \"#000000\"\n"
	}
	s.Settings(t, black)
	s.Do(t, "reload")
	shows("all black", map[string][2]int{"quiet": {9, 0}, "bare": {9, 0}})
}
