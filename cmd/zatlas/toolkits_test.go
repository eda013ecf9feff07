package main

import (
	"cmp"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// seaColour is what the programs of the toolkits paint.
const seaColour = 0x2468ac

// toolkit is a program of one, that does what it is told on its standard input.
type toolkit struct {
	name  string
	app   []string
	extra bool // is tried by "make clients" alone
	lacks []string
	turns int // into fullscreen and back; 0 for twenty
}

func toolkits() []toolkit {
	at := func(file string) string { return filepath.Join("..", "..", "internal", "testkit", "programs", file) }
	return []toolkit{
		{name: "Tk", app: []string{"wish", at("tk.tcl")}},
		{name: "GTK", app: []string{"/usr/bin/python3", at("gtk.py"), "3"}},
		{name: "Qt", app: []string{"/usr/bin/python3", at("qt.py")}},
		{name: "Swing", app: []string{"java", at("Slides.java")}, extra: true, turns: 3},
		{name: "GTK", app: []string{"/usr/bin/python3", at("gtk.py"), "4"}, extra: true, lacks: []string{"menu"}},
	}
}

// told is a program that runs.
type told struct {
	t    *testing.T
	s    *testkit.Server
	x    *testkit.X
	in   io.Writer
	name string
}

func (p *told) tell(line string) { fmt.Fprintln(p.in, line) }

// window is a window of the desk by its title; nil where there is none.
func (p *told) window(title string) *listed {
	var all []listed
	out := testkit.Run(p.t, p.s.Env, testkit.Binary(p.t), "list", "title:="+`"`+title+`"`, "--json")
	if err := json.Unmarshal([]byte(out), &all); err != nil || len(all) == 0 {
		return nil
	}
	return &all[0]
}

func (p *told) has(w *listed, state string) bool {
	if w == nil {
		return false
	}
	for _, s := range w.States {
		if s == state {
			return true
		}
	}
	return false
}

// isFullscreen tells whether its window has the state for itself to read.
func (p *told) isFullscreen(window string) bool {
	return strings.Contains(p.s.Xprop(p.t, window, "_NET_WM_STATE"), "FULLSCREEN")
}

// menus counts the windows that are seen and are none of the desk's, nor the keeper's, whose
// words come and go.
func (p *told) menus() (n int) {
	tree, err := xproto.QueryTree(p.x.Conn, p.x.Root).Reply()
	if err != nil {
		p.t.Fatal(err)
	}
	for _, win := range tree.Children {
		a, err := xproto.GetWindowAttributes(p.x.Conn, win).Reply()
		_, _, w, h, _, ok := p.x.Geometry(win)
		if err == nil && ok && a.OverrideRedirect && a.MapState == xproto.MapStateViewable && w > 20 && h > 20 &&
			!strings.HasPrefix(p.s.Xprop(p.t, fmt.Sprintf("%#x", win), "_NET_WM_NAME"), `"Zealous Atlas`) {
			n++
		}
	}
	return n
}

// run starts a program and tries it, step by step.
func (k toolkit) run(t *testing.T) {
	if _, err := exec.LookPath(k.app[0]); err != nil {
		t.Fatalf("%s is not installed: %v", k.app[0], err)
	}
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	s.Keeper(t)
	client(t, s, "beside", "xclock") // it is tiled beside another
	x := s.NewX(t)
	cmd := exec.Command(k.app[0], k.app[1:]...)
	cmd.Env = append(os.Environ(), append(s.Env, "NO_AT_BRIDGE=1", "GTK_A11Y=none", "GDK_BACKEND=x11", "QT_QPA_PLATFORM=xcb", "GSK_RENDERER=cairo")...)
	in, err := cmd.StdinPipe()
	if err != nil {
		t.Fatal(err)
	}
	var said strings.Builder
	cmd.Stderr = &said
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { cmd.Process.Kill(); cmd.Wait() })
	defer func() {
		if t.Failed() {
			t.Logf("it says: %s", said.String())
		}
	}()
	p := &told{t: t, s: s, x: x, in: in, name: k.name}
	main := k.name + " Slides"
	testkit.Until(t, "its window is on the desk", func() bool { return p.window(main) != nil })
	win := s.Named(t, main)
	testkit.Until(t, "it is drawn", func() bool { return p.drawn(win) })
	k.steps(p, main, win)
	// A keeper that starts again finds it, and it is drawn where that puts it.
	s.Do(t, "restart")
	testkit.Until(t, "the keeper is back", func() bool { _, err := testkit.TryRun(s.Env, testkit.Binary(t), "list"); return err == nil })
	s.Do(t, fmt.Sprintf("send A of #%d", p.window(main).ID))
	testkit.Until(t, "after a restart it is drawn", func() bool { return p.window(main).Ref == "A1" && p.drawn(win) })
	p.tell("quit")
	testkit.Until(t, "its window is gone", func() bool { return p.window(main) == nil })
}

// drawn tells whether the colour that the program paints is seen in its window.
func (p *told) drawn(window string) bool {
	var win xproto.Window
	fmt.Sscanf(window, "0x%x", &win)
	_, _, w, h, _, ok := p.x.Geometry(win)
	if !ok {
		return false
	}
	// What is seen on the root, where the window is: toolkits draw into windows within.
	at, err := xproto.TranslateCoordinates(p.x.Conn, win, p.x.Root, int16(w/2), int16(h*3/4)).Reply()
	if err != nil {
		return false
	}
	r, err := xproto.GetImage(p.x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(p.x.Root), at.DstX, at.DstY, 1, 1, 0xffffffff).Reply()
	return err == nil && len(r.Data) >= 3 && uint32(r.Data[0])|uint32(r.Data[1])<<8|uint32(r.Data[2])<<16 == seaColour
}

func (k toolkit) steps(p *told, main, win string) {
	t := p.t
	if w := p.window(main); w.Rect[2] < 900 || p.has(w, "floating") {
		t.Errorf("it is not tiled: %+v", w)
	}
	question := k.name + " Question"
	p.tell("dialog")
	testkit.Until(t, "its dialog floats over it", func() bool { d := p.window(question); return p.has(d, "floating") && d.Parent == p.window(main).ID })
	testkit.Until(t, "the dialog has the focus", func() bool { return p.has(p.window(question), "focused") })
	if d := p.window(question); d.Rect[0]+d.Rect[2] > 1920 || d.Shows < 1 {
		t.Errorf("the dialog is at %v", d.Rect)
	}
	p.tell("undialog")
	testkit.Until(t, "the dialog is gone", func() bool { return p.window(question) == nil })
	testkit.Until(t, "the window has the focus again", func() bool { return p.has(p.window(main), "focused") })
	if !strings.Contains(strings.Join(k.lacks, " "), "menu") {
		before := p.menus()
		p.tell("menu")
		testkit.Until(t, "its menu is seen", func() bool { return p.menus() > before })
		p.tell("unmenu")
		testkit.Until(t, "its menu is gone", func() bool { return p.menus() == before })
	}
	// There and back many times: each is told the one after the other.
	tile := p.window(main).Rect
	for range cmp.Or(k.turns, 20) {
		p.tell("fullscreen")
		testkit.Until(t, "it is fullscreen, and is told so", func() bool { return p.has(p.window(main), "fullscreen") && p.isFullscreen(win) })
		p.tell("unfullscreen")
		testkit.Until(t, "it is not, and is told so", func() bool { return !p.has(p.window(main), "fullscreen") && !p.isFullscreen(win) })
	}
	testkit.Until(t, "it has its tile again", func() bool { return p.window(main).Rect == tile })
	p.tell("maximise")
	testkit.Until(t, "it is maximised", func() bool { w := p.window(main); return p.has(w, "maximised") && w.Rect[2] == 1920 })
	p.tell("unmaximise")
	testkit.Until(t, "it has its tile again", func() bool { w := p.window(main); return !p.has(w, "maximised") && w.Rect == tile })
	p.chords(main, win)
	p.s.Do(t, fmt.Sprintf("float of #%d", p.window(main).ID))
	testkit.Until(t, "it floats, and is drawn", func() bool { return p.has(p.window(main), "floating") && p.drawn(win) })
	if k.name == "GTK" {
		p.dragHeader(main)
	}
	p.s.Do(t, fmt.Sprintf("send B of #%d", p.window(main).ID), "focus B")
	testkit.Until(t, "on the other monitor it is drawn too", func() bool { return p.window(main).Ref == "B1" && p.drawn(win) })
}

// chords sends the window by keys after a chord and goes to it by a list that is held: the
// program that has the focus makes no difference.
func (p *told) chords(main, win string) {
	t := p.t
	p.s.Do(t, "add", fmt.Sprintf("focus #%d", p.window(main).ID))
	testkit.Until(t, "it has the focus", func() bool { return p.has(p.window(main), "focused") })
	p.x.Type("Super+s 2")
	testkit.Until(t, "it was sent by its chord", func() bool { return strings.HasSuffix(p.window(main).Ref, "2") })
	p.x.Press(testkit.Super, testkit.Tab)
	testkit.Until(t, "the list leads to it", func() bool { return p.has(p.window(main), "focused") })
	testkit.Until(t, "it is drawn", func() bool { return p.drawn(win) })
	p.x.Type("Super+Shift+1 Super+1")
	testkit.Until(t, "and it is back", func() bool {
		return strings.HasSuffix(p.window(main).Ref, "1") && p.s.Xprop(t, "root", "_NET_CURRENT_DESKTOP") == "0"
	})
	p.s.Do(t, "remove last", fmt.Sprintf("focus #%d", p.window(main).ID))
}

// dragHeader drags the window by its own header, as a user does.
func (p *told) dragHeader(main string) {
	testkit.Until(p.t, "it moves with its header", func() bool {
		was := p.window(main).Rect
		x, y := was[0]+was[2]/3, was[1]+18
		p.x.Point(x, y)
		p.x.Button(1, true)
		for i := range 8 {
			p.x.Point(x+15*(i+1), y+10*(i+1))
			time.Sleep(15 * time.Millisecond) // as a hand does
		}
		p.x.Button(1, false)
		return testkit.Soon(func() bool {
			now := p.window(main).Rect
			return now[0] > was[0]+40 && now[1] > was[1]+20 && now[2] == was[2]
		})
	})
}

// Programs of the usual toolkits are tiled, have dialogs and menus, go fullscreen and
// back, are maximised, dragged and closed.
func TestToolkits(t *testing.T) {
	t.Parallel()
	for _, k := range toolkits() {
		if k.extra == (os.Getenv("CLIENTS") != "") || os.Getenv("CLIENTS") != "" {
			name := strings.ReplaceAll(k.name+" "+strings.Join(k.app[2:], ""), " ", "")
			t.Run(name, k.run)
		}
	}
}
