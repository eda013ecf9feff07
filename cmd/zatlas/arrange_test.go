package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

func TestDemoArrange(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {80, 24}} {
		term := demo(t, size[0], size[1], nil)
		term.Wait("#11 Reel Ledger:")
		term.Keys("w").Wait("swap #11 Reel Ledger", "→ with the tile that way")
		term.Keys("Right").Wait("Reel Ledger · Running order and Friday changed places. u undoes.")
		term.Keys("u", "H").Wait("Reel Ledger · Running order is at the edge: no monitor is to the left of A.")
		term.Keys("L").Wait("Moved Reel Ledger · Running order right, past Friday.")
		term.Keys("u", "+").Wait("The lead of A1 has 65 per cent. u undoes.")
		term.Keys("=").Wait("The lead of A1 has half.")
		term.Keys("u", "u", "m").Wait("Reel Ledger · Running order is maximised. u undoes.")
		term.Again("m").Wait("Reel Ledger · Running order is back in place.")
		term.Keys("F").Wait("Reel Ledger · Running order is fullscreen.")
		term.Again("F").Keys("p").Wait("snap #11 Reel Ledger", "arrows a half")
		term.Keys("1").Wait("From cell 1 to which?")
		term.Keys("6").Wait("Snapped Reel Ledger · Running order: cells 1 to 6 of 3 by 3. u undoes.")
		term.Keys("u", "t", "r", "T").Wait("Turned the tiles around Reel Ledger · Running order.")
		term.Keys("W").Wait("Mirrored the tiles around Reel Ledger · Running order.")
		term.Keys("t", "t", "d", "Down").Wait("The next window of A1 opens below Reel Ledger · Running order.")
		term.Keys("N", "3", "Right")
		term.Wait("resize #11 Reel Ledger", "Enter keeps it", "Reel Ledger · Running order: ")
		term.Keys("Escape").Wait("Put back exactly where it was.")
	}
}

// Tiles on a real display: swapped, moved, resized, maximised and fullscreen by
// command and by the client's own wish.
func TestArrangeOnADisplay(t *testing.T) {
	t.Parallel()
	s := managed(t)
	x := s.NewX(t)
	one, two := client(t, s, "one", "xterm"), client(t, s, "two", "xterm")
	where(t, s, one, true, 0, 0, 960, 1080)
	where(t, s, two, true, 960, 0, 960, 1080)
	s.Do(t, "swap right of title:=one")
	where(t, s, one, true, 960, 0, 960, 1080)
	s.Do(t, "resize left 100 of title:=one", "turn of title:=one")
	where(t, s, two, true, 0, 0, 1920, 484)
	where(t, s, one, true, 0, 484, 1920, 596)
	s.Do(t, "undo 2", "maximise of title:=two")
	where(t, s, two, true, 0, 0, 1920, 1080)
	if got := s.Xprop(t, two, "_NET_WM_STATE"); got != "_NET_WM_STATE_MAXIMIZED_HORZ, _NET_WM_STATE_MAXIMIZED_VERT, _NET_WM_STATE_FOCUSED" {
		t.Errorf("maximised, its states are %s", got)
	}
	s.Do(t, "maximise of title:=two")
	where(t, s, two, true, 0, 0, 960, 1080)
	// By chords.
	s.Do(t, "focus #1")
	x.Press(testkit.Super, testkit.Shift, testkit.Left)
	where(t, s, one, true, 0, 0, 960, 1080)
	x.Press(testkit.Super, 'm')
	where(t, s, one, true, 0, 0, 1920, 1080)
	x.Press(testkit.Super, 'm')
	for _, c := range []struct{ px, py, w, h int }{ // each layout in turn, as one is laid out by it
		{0, 0, 960, 1080}, {0, 0, 1920, 540}, {0, 0, 1152, 1080}, {0, 24, 1920, 1056}, {0, 24, 1920, 1056},
	} {
		x.Type("Super+t n")
		where(t, s, one, true, c.px, c.py, c.w, c.h)
	}
	x.Type("Super+t n")
	testkit.Until(t, "the sheet is free", func() bool {
		return strings.Contains(s.List(t, "is:floating"), "one")
	})
	x.Type("Super+t n")
	where(t, s, one, true, 0, 0, 960, 1080)
	x.Press(testkit.Super, testkit.Shift, testkit.Right)
	where(t, s, two, true, 0, 0, 960, 1080)
	// A client asks for itself, by EWMH.
	win := x.Window("asks", 50, 50, 300, 200)
	x.Map(win)
	testkit.Until(t, "it is on the desk", func() bool {
		return strings.Contains(s.List(t, "all"), "asks")
	})
	ask := func(how uint32, states ...string) {
		data := []uint32{how, 0, 0, 1, 0}
		for i, name := range states {
			data[1+i] = uint32(x.Atom(name))
		}
		x.Message(win, "_NET_WM_STATE", data...)
	}
	size := func(w, h int) {
		t.Helper()
		testkit.Until(t, "it has its size", func() bool {
			_, _, gw, gh, b, _ := x.Geometry(win)
			return gw+2*b == w && gh+2*b == h
		})
	}
	ask(1, "_NET_WM_STATE_FULLSCREEN")
	size(1920, 1080)
	if _, _, _, _, b, _ := x.Geometry(win); b != 0 {
		t.Errorf("fullscreen, its border is %d", b)
	}
	ask(0, "_NET_WM_STATE_FULLSCREEN")
	size(960, 540)
	ask(2, "_NET_WM_STATE_MAXIMIZED_VERT", "_NET_WM_STATE_MAXIMIZED_HORZ")
	size(1920, 1080)
	ask(2, "_NET_WM_STATE_MAXIMIZED_VERT", "_NET_WM_STATE_MAXIMIZED_HORZ")
	size(960, 540)
	s.Do(t, "snap 3x2 2 3 of title:=asks")
	size(1280, 540)
}

func TestDemoSheetView(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {80, 24}} {
		term := demo(t, size[0], size[1], nil)
		term.Wait("#11 Reel Ledger:")
		term.Keys("3", "z").Wait("SHEET A3  3 Box office · tree · 1920×1168", "1280×1168  67% by 100%", "640×584  33% by")
		term.Keys("d", "Down").Wait("The next window of A3 opens below Ticket Till · Today.", "next 1280×584")
		term.Keys("p").Wait(" 1 ", " 9 ", "snap #31 Ticket Till")
		term.Keys("2", "9").Wait("Snapped Ticket Till · Today: cells 2 to 9 of 3 by 3. u undoes.", "1280×1168  67% by 100%", "at 640,0")
		term.Keys("u").Wait("1280×1168  67% by 100%")
		term.Keys("N", "3", "Left").Wait("Ticket Till · Today: 1330×1168, 69% by 100% of the sheet.")
		term.Keys("5", "Right") // that is the sheet's own edge: the other one moves
		term.Wait("Ticket Till · Today: 1426×1168, 74% by 100% of the sheet.")
		term.Keys("Enter", "=").Wait("960×1168  50% by 100%")
		term.Keys("Right").Wait("#32 Ticket Till:")
		term.Keys("Escape").Wait("not to scale", "3 Box office")
	}
}

// Groups, piles and tabs by keys: the selection widened and narrowed, verbs on
// what it holds, the part of a window that lies behind another.
func TestDemoGroups(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {80, 24}} {
		wide := size[0] > 100
		term := demo(t, size[0], size[1], nil)
		term.Wait("#11 Reel Ledger:")
		term.Keys("3", "z").Wait("SHEET A3  3 Box office · tree", "#31 Ticket Till:")
		term.Keys("Right", "Z").Wait("the group of 2 around #32:")
		term.Keys("w", "Left").Wait("2 windows and Today changed places. u undoes.", "the group of 2 around #32:")
		if wide {
			term.Wait("1280×584  67% by 50%", "640×1168  33% by 100%")
		}
		term.Keys("t", "b").Wait("2 windows on A3 are laid out as tabs. u undoes.", "■ ")
		term.Keys("Z").Wait("the group of 3 around #32:")
		term.Keys("Z").Wait("There is no group around that. Escape takes fewer.")
		term.Keys("Escape").Wait("the group of 2 around #32:")
		term.Keys("Escape").Wait("#32 Ticket Till:")
		term.Keys("Right").Wait("#33 Print Traffic:")
		if wide {
			term.Wait("#32 Ticket Till  covered")
		}
		term.Keys("Left", "Z", "s", "4").Wait("Sent 2 windows to 4")
		term.Keys("u", "t", "p").Wait("laid out as pile", "1 of 2 · Ticket Till")
		term.Keys("t", "2").Wait("Sheet A3 is laid out as lead, with 2 of them leading. u undoes.", "lead 60/40 of 2")
		// Parts and corners of the work area, and the grid by arrows.
		term.Keys("Escape").Wait("#32 Ticket Till:")
		term.Keys("p", "t", "Right").Wait("right third. u undoes.", "640×1168", "at 1280,0")
		term.Keys("p", "y").Wait("topleft. u undoes.", "960×584  50% by 50%")
		term.Keys("p", "g", "Right", "Enter", "Right", "Down").Wait("Snaps ", "cells 2 to 6 of 3 by 3 · Enter does it")
		term.Keys("Enter").Wait("cells 2 to 6 of 3 by 3. u undoes.", "67% by 67%", "at 640,0")
	}
}

// hints sets WM_NORMAL_HINTS of a window (ICCCM 4.1.2.3): fields by their place,
// flags among them.
func hints(x *testkit.X, win xproto.Window, fields map[int]uint32) {
	v := make([]uint32, 18)
	for i, n := range fields {
		v[i] = n
	}
	x.Cards(win, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, v...)
}

// Clients as they are: increments, aspect and sizes heeded while they float, the
// exact place given while they are tiled, dialogs over the middle of their
// parents, those of a group over its latest window, and windows that open
// maximised.
func TestClientsOnADisplay(t *testing.T) {
	t.Parallel()
	s := managed(t)
	x := s.NewX(t)
	open := func(title string, w, h int, before func(win xproto.Window)) xproto.Window {
		t.Helper()
		win := x.Window(title, 0, 0, w, h)
		before(win)
		x.Map(win)
		testkit.Until(t, title+" is on the desk", func() bool {
			return strings.Contains(s.List(t, "all"), title)
		})
		return win
	}
	inside := func(win xproto.Window, px, py, w, h int) {
		t.Helper()
		testkit.Until(t, fmt.Sprintf("%#x is at %d,%d, %d×%d inside", win, px, py, w, h), func() bool {
			gx, gy, gw, gh, _, ok := x.Geometry(win)
			return ok && gx == px && gy == py && gw == w && gh == h
		})
	}
	// 10 by 20 from 5 by 8, at most 605 wide; floating.
	steps := open("steps", 205, 108, func(win xproto.Window) {
		hints(x, win, map[int]uint32{0: 1<<5 | 1<<6 | 1<<8, 7: 605, 8: 2000, 9: 10, 10: 20, 15: 5, 16: 8})
	})
	inside(steps, 0, 0, 1916, 1076) // tiled: exactly
	x.Cards(steps, "WM_NAME", xproto.AtomString)
	xproto.ConfigureWindow(x.Conn, steps, xproto.ConfigWindowWidth, []uint32{300}) // not while it is tiled
	s.Do(t, "float of title:=steps", "snap topleft of title:=steps")
	inside(steps, 0, 0, 605, 536) // exact, but for its maximum
	s.Do(t, "resize right -17 of title:=steps")
	inside(steps, 0, 0, 585, 536)
	s.Do(t, "resize down 1 of title:=steps")
	inside(steps, 0, 0, 585, 548)
	s.Do(t, "resize right 900 of title:=steps")
	inside(steps, 0, 0, 605, 548)
	// As wide as high.
	square := open("square", 300, 300, func(win xproto.Window) {
		hints(x, win, map[int]uint32{0: 1 << 7, 11: 1, 12: 1, 13: 1, 14: 1})
	})
	s.Do(t, "float of title:=square", "cascade of title:=square", "resize right -100 of title:=square")
	testkit.Until(t, "it is square still", func() bool { _, _, w, h, _, _ := x.Geometry(square); return w == h && w > 0 })
	// A dialog over the middle of its parent; one of a group over its latest window.
	parent := open("parent", 500, 400, func(win xproto.Window) {
		x.Cards(win, "WM_HINTS", xproto.AtomWmHints, 1<<6, 0, 0, 0, 0, 0, 0, 0, uint32(steps))
	})
	s.Do(t, "layout tree", "focus #3")
	where(t, s, fmt.Sprintf("%#x", parent), true, 0, 0, 1920, 1080)
	for title, transient := range map[string]xproto.Window{"dialog": parent, "of the group": x.Root} {
		dialog := open(title, 196, 96, func(win xproto.Window) {
			x.Cards(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(transient))
			x.Cards(win, "WM_HINTS", xproto.AtomWmHints, 1<<6, 0, 0, 0, 0, 0, 0, 0, uint32(steps))
		})
		inside(dialog, 860, 490, 196, 96)
		if list := s.List(t, "--json", "title:="+strconv.Quote(title)); !strings.Contains(list, `"parent": 3`) {
			t.Errorf("%s is no dialog of the parent: %s", title, list)
		}
	}
	// Maximised from the start, and back in its place when asked.
	large := open("large", 300, 200, func(win xproto.Window) {
		x.Cards(win, "_NET_WM_STATE", xproto.AtomAtom, uint32(x.Atom("_NET_WM_STATE_MAXIMIZED_VERT")), uint32(x.Atom("_NET_WM_STATE_MAXIMIZED_HORZ")))
	})
	inside(large, 0, 0, 1916, 1076)
	s.Do(t, "maximise of title:=large")
	inside(large, 960, 0, 956, 1076)
	// One with a shadow of its own: what is seen of it is placed, without a border.
	shadowed := open("shadowed", 340, 240, func(win xproto.Window) {
		x.Cards(win, "_GTK_FRAME_EXTENTS", xproto.AtomCardinal, 20, 20, 10, 30)
	})
	s.Do(t, "snap left of title:=shadowed")
	inside(shadowed, -20, -10, 1000, 1120)
	s.Do(t, "float of title:=shadowed", "float of title:=shadowed", "cascade of title:=shadowed", "nudge right 100 of title:=shadowed", "resize right -860 of title:=shadowed")
	inside(shadowed, 80, -10, 140, 1120)
	if got := s.Xprop(t, fmt.Sprintf("%#x", shadowed), "_NET_FRAME_EXTENTS"); got != "0, 0, 0, 0" {
		t.Errorf("its frame is told as %s", got)
	}
	xproto.ConfigureWindow(x.Conn, shadowed, xproto.ConfigWindowHeight, []uint32{240})
	inside(shadowed, 80, -10, 140, 240)
	x.Cards(shadowed, "_GTK_FRAME_EXTENTS", xproto.AtomCardinal, 0, 0, 0, 0) // it drew itself flat
	inside(shadowed, 100, 0, 96, 196)
}

// A grid of one's own, on one monitor: too fine for digits, so by arrows.
func TestDemoOwnGrid(t *testing.T) {
	t.Parallel()
	config := t.TempDir()
	file := filepath.Join(config, "zealous-atlas", "settings.toml")
	if err := errors.Join(os.MkdirAll(filepath.Dir(file), 0o700), os.WriteFile(file, []byte("[grids]\nA = \"6x3\"\n"), 0o600)); err != nil {
		t.Fatal(err)
	}
	term := demo(t, 160, 40, []string{"XDG_CONFIG_HOME=" + config})
	term.Wait("#11 Reel Ledger:")
	term.Keys("p")
	if screen := term.Wait(" 9 ", " 18 ", "g cells by arrows"); !strings.Contains(screen, "A2 columns") {
		t.Errorf("the grid is not on the map:\n%s", screen)
	}
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("z", "p").Wait(" 18 ", "g cells by arrows", "TILES")
	term.Keys("1").Wait("This grid has 18 cells: g chooses them by arrows.")
	term.Keys("g", "Down", "Right", "Enter").Wait("Snaps Reel Ledger · Running order: cells 8 to 8 of 6 by 3 · Enter does it")
	term.Keys("Right", "Right", "Enter").Wait("cells 8 to 10 of 6 by 3. u undoes.", "960×389  50% by 33%", "at 320,389")
}

// A title that changes while its window is being taken up is not missed.
func TestTitleWhileOpening(t *testing.T) {
	t.Parallel()
	s := managed(t)
	x := s.NewX(t)
	name, utf8 := x.Atom("_NET_WM_NAME"), x.Atom("UTF8_STRING")
	for i := range 60 {
		win := x.Window("early", 0, 0, 200, 100)
		title := fmt.Sprintf("late %d,", i)
		xproto.MapWindow(x.Conn, win)
		for range i { // at this moment or that of its way on to the desk
			xproto.NoOperation(x.Conn)
		}
		xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, win, name, utf8, 8, uint32(len(title)), []byte(title))
		testkit.Until(t, "it has its last title", func() bool {
			return strings.Contains(s.List(t), title)
		})
	}
}
