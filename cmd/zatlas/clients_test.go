package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/testkit"
)

// page is what the browser shows: a list at its upper left corner, over a colour.
const page = `<title>Browser Slides</title><body style="margin:0;background:#2468ac"><select autofocus style="width:200px;height:40px;margin:0"><option>First reel<option>Second reel<option>Third reel</select>`

// A browser and a video player, which nobody here wrote for tests, work as usual.
func TestBigClients(t *testing.T) {
	t.Parallel()
	if os.Getenv("CLIENTS") == "" {
		t.Skip("make clients tries these: they are large, and not on every machine")
	}
	t.Run("browser", func(t *testing.T) { tryBrowser(t, "chromium") })
	t.Run("player", func(t *testing.T) { tryPlayer(t, "mpv") })
}

// started starts a client on a new server beside a clock, and gives its window.
func started(t *testing.T, title string, name string, args ...string) (*told, string) {
	t.Helper()
	if _, err := exec.LookPath(name); err != nil {
		t.Fatalf("%s could not be installed: %v", name, err)
	}
	s := managed(t)
	client(t, s, "beside", "xclock")
	testkit.Start(t, append(s.Env, "HOME="+t.TempDir()), name, args...)
	p := &told{t: t, s: s, x: s.NewX(t), name: name}
	testkit.Until(t, "its window is on the desk", func() bool { return p.window(title) != nil })
	win := s.Named(t, title)
	testkit.Until(t, "it is tiled", func() bool { w := p.window(title); return !p.has(w, "floating") && w.Rect[2] > 900 })
	return p, win
}

func tryBrowser(t *testing.T, name string) {
	file := filepath.Join(t.TempDir(), "page.html")
	if err := os.WriteFile(file, []byte(page), 0o600); err != nil {
		t.Fatal(err)
	}
	const title = "Browser Slides"
	p, win := started(t, title, name, "--no-sandbox", "--disable-gpu", "--no-first-run", "--log-level=3", "--user-data-dir="+t.TempDir(), "--app=file://"+file)
	testkit.Until(t, "it is drawn", func() bool { return p.drawn(win) })
	p.chords(title, win)
	// The list opens under its field.
	before := p.menus()
	w := p.window(title)
	p.s.Do(t, "focus #"+strconv.Itoa(w.ID))
	testkit.Until(t, "its list is seen", func() bool {
		p.x.Point(w.Rect[0]+60, w.Rect[1]+60)
		p.x.Press(testkit.Space)
		return testkit.Soon(func() bool { return p.menus() > before })
	})
	x, y := p.menuAt()
	// It does not count the border that X draws around its window, and so is off by that.
	if left := w.Rect[0] + 2; x != left && x != left-2 || y <= w.Rect[1] {
		t.Errorf("its list is at %d,%d, and its field begins at %d", x, y, left)
	}
	p.x.Press(testkit.Escape)
	testkit.Until(t, "its list is gone", func() bool { return p.menus() == before })
	for range 3 {
		p.x.Press(f11)
		testkit.Until(t, "it is fullscreen", func() bool { return p.has(p.window(title), "fullscreen") })
		p.x.Press(f11)
		testkit.Until(t, "it is not", func() bool { return !p.has(p.window(title), "fullscreen") })
	}
	p.s.Do(t, "close of #"+strconv.Itoa(w.ID))
	testkit.Until(t, "it is closed", func() bool { return p.window(title) == nil })
}

const f11 = 0xffc8

// menuAt is where the window is that is seen and is none of the desk's.
func (p *told) menuAt() (x, y int) {
	tree, err := xproto.QueryTree(p.x.Conn, p.x.Root).Reply()
	if err != nil {
		p.t.Fatal(err)
	}
	for _, win := range tree.Children {
		a, err := xproto.GetWindowAttributes(p.x.Conn, win).Reply()
		px, py, w, h, _, ok := p.x.Geometry(win)
		if err == nil && ok && a.OverrideRedirect && a.MapState == xproto.MapStateViewable && w > 20 && h > 20 {
			x, y = px, py
		}
	}
	return x, y
}

func tryPlayer(t *testing.T, name string) {
	const title = "Player Slides"
	p, _ := started(t, title, name, "--no-config", "--vo=x11", "--ao=null", "--title="+title, "--loop=inf", "av://lavfi:testsrc=size=320x240")
	dock := p.x.Window("strip", 0, 0, 1920, 24)
	p.x.Cards(dock, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(p.x.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	p.x.Map(dock)
	p.s.Do(t, "focus #"+strconv.Itoa(p.window(title).ID))
	for range 5 {
		p.x.Press('f')
		testkit.Until(t, "it is fullscreen", func() bool { return p.has(p.window(title), "fullscreen") })
		p.x.Press('f')
		testkit.Until(t, "it is not", func() bool { return !p.has(p.window(title), "fullscreen") })
	}
	p.s.Do(t, "close of #"+strconv.Itoa(p.window(title).ID))
	testkit.Until(t, "it is closed", func() bool { return p.window(title) == nil })
}
