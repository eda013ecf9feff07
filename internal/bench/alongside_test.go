package bench

import (
	"context"
	"encoding/binary"
	"fmt"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/alongside"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/testkit/manager"
)

// foreign is a display of the manager of the tests with windows on two workspaces.
func foreign(b *testing.B, n int) (*testkit.Server, *manager.Manager) {
	s := testkit.NewServer(b)
	m := manager.Start(b, s.Display, 2, manager.Switches{})
	x := s.NewX(b)
	for i := range n {
		win := x.Window(fmt.Sprint("window ", i), 10+i%900, 10+i%700, 300, 200)
		class := []byte("hall\x00Hall Plan\x00")
		xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, win, xproto.AtomWmClass, xproto.AtomString, 8, uint32(len(class)), class)
		x.Cards(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, uint32(i%2))
		x.Map(win)
	}
	testkit.Until(b, "the manager has them", func() bool { return len(m.Windows()) == n })
	return s, m
}

// BenchmarkAlongsideGo: from a command to the desk on which it is seen. The floor is the
// manager's own time: from the same message of a bare client to the property that tells it.
func BenchmarkAlongsideGo(b *testing.B) {
	for _, n := range []int{10, 100} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			s, _ := foreign(b, n)
			host, d, err := alongside.Open(alongside.Options{Display: s.Display})
			if err != nil {
				b.Fatal(err)
			}
			k := keeper.New(d, host, keeper.Options{Real: true})
			ctx, cancel := context.WithCancel(context.Background())
			ended := make(chan struct{})
			go func() { defer close(ended); k.Run(ctx) }()
			defer func() { cancel(); <-ended }()
			x := s.NewX(b)
			xproto.ChangeWindowAttributes(x.Conn, x.Root, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
			current := x.Atom("_NET_CURRENT_DESKTOP")
			to := []desk.Command{desks.Command(b, "go 1"), desks.Command(b, "go 2")}
			var measures, floors []time.Duration
			for range 60 {
				start := time.Now()
				x.Message(x.Root, "_NET_CURRENT_DESKTOP", 1, 0)
				x.Await("the property", func(e xgb.Event) bool {
					p, ok := e.(xproto.PropertyNotifyEvent)
					return ok && p.Atom == current
				})
				floors = append(floors, time.Since(start))
				testkit.Until(b, "the desk follows", func() bool { return shownBy(k) == 1 })
				start = time.Now()
				if o, err := k.Do(ctx, to[0], keeper.Line); err != nil || o.Err != nil {
					b.Fatal(err, o.Err)
				}
				measures = append(measures, time.Since(start))
				for drained := false; !drained; {
					e, err := x.Conn.PollForEvent()
					drained = e == nil && err == nil
				}
			}
			report(b, measures, floors)
		})
	}
}

// shownBy is the index of the workspace that a keeper's desk shows.
func shownBy(k *keeper.Keeper) int {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	return (<-k.Watch(ctx)).Desk.Current()
}

// BenchmarkAlongsideStart: from nothing to the desk of 200 windows. The floor is a bare
// client that reads the same of them, all at once.
func BenchmarkAlongsideStart(b *testing.B) {
	for _, n := range []int{200, 2000} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			s, _ := foreign(b, n)
			var measures, floors []time.Duration
			for range 9 {
				start := time.Now()
				if got := readBare(b, s); got != n {
					b.Fatalf("the floor read %d windows", got)
				}
				floors = append(floors, time.Since(start))
				start = time.Now()
				host, d, err := alongside.Open(alongside.Options{Display: s.Display})
				if err != nil || len(d.Windows) != n {
					b.Fatal(err)
				}
				measures = append(measures, time.Since(start))
				host.Stop()
			}
			report(b, measures, floors)
		})
	}
}

// readProperties are what is read of each window.
var readProperties = []string{
	"_NET_WM_NAME", "WM_NAME", "WM_CLASS", "WM_WINDOW_ROLE", "_NET_STARTUP_ID", "WM_NORMAL_HINTS", "WM_HINTS", "WM_TRANSIENT_FOR", "WM_PROTOCOLS",
	"_NET_WM_WINDOW_TYPE", "_NET_WM_PID", "_NET_WM_DESKTOP", "_NET_WM_USER_TIME", "_NET_FRAME_EXTENTS", "_GTK_FRAME_EXTENTS", "_NET_WM_STATE",
	"_NET_WM_STRUT", "_NET_WM_STRUT_PARTIAL",
}

// readBare reads the windows of a display, their places and their frames.
func readBare(b *testing.B, s *testkit.Server) int {
	conn, err := xgb.NewConnDisplay(s.Display)
	if err != nil {
		b.Fatal(err)
	}
	defer conn.Close()
	root := xproto.Setup(conn).DefaultScreen(conn).Root
	names := append([]string{"_NET_CLIENT_LIST"}, readProperties...)
	asked := make([]xproto.InternAtomCookie, len(names))
	for i, name := range names {
		asked[i] = xproto.InternAtom(conn, false, uint16(len(name)), name)
	}
	atoms := make([]xproto.Atom, len(names))
	for i, ck := range asked {
		r, err := ck.Reply()
		if err != nil {
			b.Fatal(err)
		}
		atoms[i] = r.Atom
	}
	list, err := xproto.GetProperty(conn, false, root, atoms[0], xproto.GetPropertyTypeAny, 0, 1<<16).Reply()
	if err != nil {
		b.Fatal(err)
	}
	type window struct {
		geo   xproto.GetGeometryCookie
		at    xproto.TranslateCoordinatesCookie
		tree  xproto.QueryTreeCookie
		attr  xproto.GetWindowAttributesCookie
		props []xproto.GetPropertyCookie
	}
	var windows []window
	for v := list.Value; len(v) >= 4; v = v[4:] {
		win := xproto.Window(binary.LittleEndian.Uint32(v))
		w := window{xproto.GetGeometry(conn, xproto.Drawable(win)), xproto.TranslateCoordinates(conn, win, root, 0, 0), xproto.QueryTree(conn, win), xproto.GetWindowAttributes(conn, win), nil}
		for _, a := range atoms[1:] {
			w.props = append(w.props, xproto.GetProperty(conn, false, win, a, xproto.GetPropertyTypeAny, 0, 256))
		}
		windows = append(windows, w)
	}
	type frame struct {
		geo  xproto.GetGeometryCookie
		tree xproto.QueryTreeCookie
	}
	var frames []frame
	for _, w := range windows {
		w.geo.Reply()
		w.at.Reply()
		w.attr.Reply()
		for _, p := range w.props {
			p.Reply()
		}
		if t, err := w.tree.Reply(); err == nil {
			frames = append(frames, frame{xproto.GetGeometry(conn, xproto.Drawable(t.Parent)), xproto.QueryTree(conn, t.Parent)})
		}
	}
	for _, f := range frames {
		f.geo.Reply()
		f.tree.Reply()
	}
	return len(frames)
}
