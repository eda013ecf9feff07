package bench

import (
	"bytes"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/camera"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/picture"
	"zatlas/internal/status"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// A key, and the modifiers held with it, as the chord and the floor have it.
const (
	switchKey  = "Super+F5"
	switchSym  = 0xffc2
	superSym   = 0xffeb
	switchMask = xproto.ModMask4
)

// bareSwitcher is the least that a switch of workspaces can be: at a key or a message it
// maps the windows of one set, writes their states, gives one of them the focus, and
// unmaps those of the other.
type bareSwitcher struct {
	x           *testkit.X
	shown, away []xproto.Window
	ours        map[xproto.Window]bool
	state       xproto.Atom
	current     xproto.Atom
	active      xproto.Atom
}

// newBareSwitcher makes two sets of windows, at the places that those of ours have.
func newBareSwitcher(b *testing.B, s *testkit.Server, w *watcher, painted bool, places []geom.Rect) (sw *bareSwitcher, stop func()) {
	x := s.NewX(b)
	sw = &bareSwitcher{x: x, ours: map[xproto.Window]bool{}, state: x.Atom("WM_STATE"), current: x.Atom("_NET_CURRENT_DESKTOP"), active: x.Atom("_NET_ACTIVE_WINDOW")}
	owner := s.NewX(b)
	for i, r := range places {
		win := owner.Window("bare", r.X, r.Y, r.W-4, r.H-4)
		xproto.ConfigureWindow(owner.Conn, win, xproto.ConfigWindowBorderWidth, []uint32{2})
		paintGround(owner, win, painted)
		sw.ours[win] = true
		if i < len(places)/2 {
			sw.shown = append(sw.shown, win)
			owner.Map(win)
			w.wait(b, 1, sw.ours)
		} else {
			sw.away = append(sw.away, win)
		}
	}
	owner.Conn.Sync()
	err := xproto.ChangeWindowAttributesChecked(x.Conn, x.Root, xproto.CwEventMask, []uint32{xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify}).Check()
	if err != nil {
		b.Fatal(err)
	}
	xproto.GrabKey(x.Conn, true, x.Root, switchMask, xproto.Keycode(x.Code(uint32(switchSym))), xproto.GrabModeAsync, xproto.GrabModeAsync)
	x.Conn.Sync()
	return sw, x.Follow(func(e xgb.Event) {
		switch e := e.(type) {
		case xproto.KeyPressEvent:
			sw.toggle(e.Time)
		case xproto.ClientMessageEvent:
			sw.toggle(xproto.Timestamp(e.Data.Data32[1]))
		}
	})
}

// set writes a property.
func set(x *testkit.X, win xproto.Window, a, kind xproto.Atom, values ...uint32) {
	xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, win, a, kind, 32, uint32(len(values)), display.Pack(values))
}

func (s *bareSwitcher) toggle(at xproto.Timestamp) {
	for _, w := range slices.Backward(s.away) {
		set(s.x, w, s.state, s.state, 1, 0)
		xproto.MapWindow(s.x.Conn, w)
	}
	focus := s.away[0]
	xproto.SetInputFocus(s.x.Conn, xproto.InputFocusPointerRoot, focus, at)
	for _, w := range s.shown {
		xproto.UnmapWindow(s.x.Conn, w)
	}
	for _, w := range s.shown {
		set(s.x, w, s.state, s.state, 3, 0)
	}
	set(s.x, s.x.Root, s.current, xproto.AtomCardinal, 1)
	set(s.x, s.x.Root, s.active, xproto.AtomWindow, uint32(focus))
	s.shown, s.away = s.away, s.shown
}

// paintGround gives a window a ground that the server paints, or none.
func paintGround(x *testkit.X, win xproto.Window, painted bool) {
	if painted {
		xproto.ChangeWindowAttributes(x.Conn, win, xproto.CwBackPixel, []uint32{0x336699})
	} else {
		xproto.ChangeWindowAttributes(x.Conn, win, xproto.CwBackPixmap, []uint32{xproto.BackPixmapNone})
	}
}

// BenchmarkSwitch: from one workspace to another and back, on a real X server, from a
// chord or a message to the last window's change; windows with a ground that the server
// paints, and without. The floor is a bare client on another server that is asked in the
// same way and sends the same requests, for windows at the same places.
func BenchmarkSwitch(b *testing.B) {
	for _, n := range []int{1, 10, 50, 100} {
		for _, painted := range []bool{true, false} {
			for _, chord := range []bool{true, false} {
				name := fmt.Sprintf("%d windows, painted %v, chord %v", n, painted, chord)
				b.Run(name, func(b *testing.B) { benchSwitch(b, n, painted, chord) })
			}
		}
	}
}

// keptSwitcher is a keeper with two workspaces of so many windows each, and the chord that
// goes from one to the other.
type keptSwitcher struct {
	b    *testing.B
	n    int
	w    *watcher
	x    *testkit.X
	kept map[xproto.Window]bool
	do   func(line string) *desk.Desk
}

func newKeptSwitcher(b *testing.B, n int, painted bool, line paint.LineOptions, pictures bool) (sw *keptSwitcher, end func()) {
	s := testkit.NewServer(b)
	sw = &keptSwitcher{b: b, n: n, w: watch(b, s), x: s.NewX(b), kept: map[xproto.Window]bool{}}
	var shots *camera.Camera
	if pictures {
		shots = camera.Start(b.Context(), s.Display, picture.NewAlbum(nil), camera.Options{On: true}, slog.New(slog.DiscardHandler))
	}
	k, ctx, end := keeping(b, x11.Options{Display: s.Display, Quiet: true, Line: line, Camera: shots, Board: board.Options{Chords: []keys.Chord{{Name: switchKey, Command: "go back", Modifiers: keys.Modifiers{Super: true}, Keysym: switchSym}}}})
	sw.do = func(line string) *desk.Desk {
		b.Helper()
		o, err := k.Do(ctx, desks.Command(b, line), keeper.Line)
		if err = errors.Join(err, o.Err); err != nil {
			b.Fatal(line, err)
		}
		o, err = k.Try(ctx, desks.Command(b, "go 1"))
		if err != nil {
			b.Fatal(err)
		}
		return o.Desk
	}
	sw.do("add")
	for i := range 2 * n {
		win := sw.x.Window(fmt.Sprint("kept ", i), 0, 0, 200, 150)
		paintGround(sw.x, win, painted)
		sw.kept[win] = true
		sw.x.Map(win)
		sw.w.wait(b, 1, sw.kept)
		if i < n {
			sw.do("send 2")
			sw.w.wait(b, 1, sw.kept)
		}
	}
	return sw, end
}

// begin goes to the second workspace.
func (sw *keptSwitcher) begin() {
	sw.do("go 2")
	sw.w.wait(sw.b, 2*sw.n, sw.kept)
}

// turn is how long it takes from one workspace to the other.
func (sw *keptSwitcher) turn(ask func(x *testkit.X)) time.Duration {
	start := time.Now()
	ask(sw.x)
	sw.w.wait(sw.b, 2*sw.n, sw.kept)
	took := time.Since(start)
	sw.do("focus next") // after all that the switch still had to write
	sw.x.Conn.Sync()
	return took
}

func byChord(x *testkit.X) { x.Press(superSym, switchSym) }

func benchSwitch(b *testing.B, n int, painted, chord bool) {
	sw, end := newKeptSwitcher(b, n, painted, paint.LineOptions{}, false)
	defer end()
	var places []geom.Rect
	now := sw.do("focus next")
	for ws := range 2 {
		for _, win := range now.Windows {
			if now.Index(win.Workspace) == ws {
				places = append(places, win.Rect)
			}
		}
	}
	other := testkit.NewServer(b)
	w2 := watch(b, other)
	bare, stop := newBareSwitcher(b, other, w2, painted, places)
	defer stop()
	x2 := other.NewX(b)
	sw.begin()
	var measures, floors []time.Duration
	for turn := range 60 {
		ask := byChord
		if !chord {
			ask = func(x *testkit.X) { x.Message(x.Root, "_NET_CURRENT_DESKTOP", uint32(turn%2), 0) }
		}
		start := time.Now()
		ask(x2)
		w2.wait(b, 2*n, bare.ours)
		floors = append(floors, time.Since(start))
		x2.Conn.Sync()
		measures = append(measures, sw.turn(ask))
	}
	report(b, measures, floors)
}

// BenchmarkSwitchWithLine: from one workspace to another and back by a chord, with the line on
// the monitor. The floor is a keeper without it, on another server.
func BenchmarkSwitchWithLine(b *testing.B) {
	for _, n := range []int{1, 10, 50} {
		b.Run(fmt.Sprintf("%d windows", n), func(b *testing.B) {
			with, end := newKeptSwitcher(b, n, true, paint.LineOptions{Edge: "bottom", Theme: draw.Night, Says: status.Options{Clock: "15:04"}}, false)
			defer end()
			without, end := newKeptSwitcher(b, n, true, paint.LineOptions{}, false)
			defer end()
			sideBySide(b, with, without)
		})
	}
}

// sideBySide reports switches of one keeper to those of another, in turn.
func sideBySide(b *testing.B, with, without *keptSwitcher) {
	b.Helper()
	with.begin()
	without.begin()
	var measures, floors []time.Duration
	for range 200 {
		floors = append(floors, without.turn(byChord))
		measures = append(measures, with.turn(byChord))
	}
	report(b, measures, floors)
}

// BenchmarkSwitchWithPictures: from one workspace to another and back by a chord, while windows
// are pictured. The floor is a keeper without pictures, on another server. Pictures are taken at
// rest: what costs is that the camera is told, and hears what moves.
func BenchmarkSwitchWithPictures(b *testing.B) {
	for _, n := range []int{10, 50} {
		b.Run(fmt.Sprintf("%d windows", n), func(b *testing.B) {
			with, end := newKeptSwitcher(b, n, true, paint.LineOptions{}, true)
			defer end()
			without, end := newKeptSwitcher(b, n, true, paint.LineOptions{}, false)
			defer end()
			sideBySide(b, with, without)
		})
	}
}

// BenchmarkLineSeen: a switch by a chord, to the line's own picture of it. The floor is the same
// switch to the last change of a window; later-ms-p99 is how much later the line is.
func BenchmarkLineSeen(b *testing.B) {
	for _, n := range []int{1, 10, 50} {
		b.Run(fmt.Sprintf("%d windows", n), func(b *testing.B) {
			sw, end := newKeptSwitcher(b, n, true, paint.LineOptions{Edge: "bottom", Theme: draw.Night}, false)
			defer end()
			sw.begin()
			var measures, floors, later []time.Duration
			for range 100 {
				var was []byte
				testkit.Until(b, "the line is at rest", func() bool {
					was = edgeOf(b, sw.x)
					time.Sleep(50 * time.Millisecond)
					return bytes.Equal(edgeOf(b, sw.x), was)
				})
				start := time.Now()
				floor := sw.turn(byChord)
				testkit.Until(b, "the line shows the switch", func() bool { return !bytes.Equal(edgeOf(b, sw.x), was) })
				took := time.Since(start)
				measures, floors, later = append(measures, took), append(floors, floor), append(later, took-floor)
			}
			slices.Sort(later)
			report(b, measures, floors)
			b.ReportMetric(float64(later[98].Microseconds())/1000, "later-ms-p99")
		})
	}
}

// edgeOf is the picture of the bottom edge of the display, where the line is.
func edgeOf(b *testing.B, x *testkit.X) []byte {
	r, err := xproto.GetImage(x.Conn, xproto.ImageFormatZPixmap, xproto.Drawable(x.Root), 700, 1060, 500, 12, 0xffffffff).Reply()
	if err != nil {
		b.Fatal(err)
	}
	return r.Data
}

// BenchmarkDrag: the gap between two of ten columns is dragged by a pointer that moves
// 1,000 times a second. It prints how many configures the windows get for each, by
// frames of 8 ms; how far behind the last one comes; and what of one core the keeper
// takes. The floor is the number of frames.
func BenchmarkDrag(b *testing.B) {
	s := testkit.NewServer(b)
	s.Settings(b, "[desk]\ngap = 12\n")
	k := s.Keeper(b)
	s.Do(b, "layout columns")
	x, w := s.NewX(b), s.NewX(b)
	var wins []xproto.Window
	for i := range 10 {
		win := x.Window(fmt.Sprint("column ", i), 0, 0, 200, 150)
		x.Map(win)
		wins = append(wins, win)
	}
	last := func() int {
		px, _, _, _, _, _ := x.Geometry(wins[9])
		return px
	}
	testkit.Until(b, "ten columns", func() bool { return last() > 1000 })
	px, _, _, ht, _, _ := x.Geometry(wins[5])
	xproto.ChangeWindowAttributes(w.Conn, w.Root, xproto.CwEventMask, []uint32{xproto.EventMaskSubstructureNotify})
	w.Conn.Sync()
	var mu sync.Mutex
	configures, latest := map[xproto.Window]int{}, time.Time{}
	w.Follow(func(e xgb.Event) {
		if c, ok := e.(xproto.ConfigureNotifyEvent); ok {
			mu.Lock()
			configures[c.Window]++
			latest = time.Now()
			mu.Unlock()
		}
	})
	x.Point(px-8, ht/2)
	x.Button(1, true)
	const steps = 2000
	used := cpuOf(b, k.Process.Pid)
	start := time.Now()
	for i := range steps {
		x.Point(px-8+i%120-60, ht/2)
		time.Sleep(time.Until(start.Add(time.Duration(i+1) * time.Millisecond)))
	}
	ended := time.Now()
	took := ended.Sub(start)
	used = cpuOf(b, k.Process.Pid) - used
	time.Sleep(50 * time.Millisecond)
	x.Button(1, false)
	mu.Lock()
	defer mu.Unlock()
	most := 0
	for _, n := range configures {
		most = max(most, n)
	}
	if most == 0 {
		b.Fatal("nothing was dragged")
	}
	frames := float64(took) / float64(8*time.Millisecond)
	b.ReportMetric(float64(most), "configures")
	b.ReportMetric(frames, "floor-frames")
	b.ReportMetric(float64(most)/frames, "ratio")
	b.ReportMetric(latest.Sub(ended).Seconds()*1000, "behind-ms")
	b.ReportMetric(100*used.Seconds()/took.Seconds(), "core-%")
	b.ReportMetric(0, "ns/op")
}

// cpuOf is the time that a process has had of the processors.
func cpuOf(b *testing.B, pid int) time.Duration {
	data, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		b.Fatal(err)
	}
	fields := strings.Fields(string(data[bytes.LastIndexByte(data, ')')+1:]))
	ticks := 0
	for _, f := range fields[11:13] { // utime and stime
		n, err := strconv.Atoi(f)
		if err != nil {
			b.Fatal(err)
		}
		ticks += n
	}
	return time.Duration(ticks) * 10 * time.Millisecond
}
