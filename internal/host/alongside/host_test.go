package alongside_test

import (
	"context"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/alongside"
	"zatlas/internal/host/hosttest"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/layout"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// program is one with a window.
type program struct {
	*testkit.X
	win xproto.Window
}

// stand is a display with two monitors and a manager, and programs on it.
type stand struct {
	*testkit.Server
	eye      *testkit.X
	programs map[string]program
	frameOf  func(xproto.Window) geom.Rect // as the manager has it
}

// newStand starts a display on which start has a manager begin.
func newStand(t *testing.T, start func(s *stand)) *stand {
	t.Helper()
	s := &stand{Server: testkit.NewServer(t), programs: map[string]program{}}
	s.Plug(t, "DUMMY1", 1920, 0)
	s.eye = s.NewX(t)
	start(s)
	return s
}

// open has a program of its own open a window, each beside the last.
func (s *stand) open(t *testing.T, title string) program {
	t.Helper()
	x := s.NewX(t)
	n := len(s.programs)
	p := program{x, x.Window(title, 20+340*(n%5), 30+260*(n/5), 300, 200)}
	x.Cards(p.win, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, append([]uint32{1}, make([]uint32, 17)...)...) // the user's place
	p.Map(p.win)
	s.programs[title] = p
	return p
}

// managed has the manager of the tests manage the display.
func managed(t *testing.T, sw manager.Switches) (s *stand, m *manager.Manager) {
	t.Helper()
	s = newStand(t, func(s *stand) {
		m = manager.Start(t, s.Display, 1, sw)
		s.frameOf = func(win xproto.Window) geom.Rect { c, _ := m.State(win); return c.Rect }
	})
	return s, m
}

// kept has the keeper of this project manage the display.
func kept(t *testing.T) *stand {
	t.Helper()
	return newStand(t, func(s *stand) {
		host, d, err := x11.Open(x11.Options{Display: s.Display, Settings: desk.Settings{Layout: layout.Free}})
		if err != nil {
			t.Fatal(err)
		}
		k := keeper.New(d, host, keeper.Options{Real: true})
		ctx, cancel := context.WithCancel(context.Background())
		ended := make(chan struct{})
		go func() { defer close(ended); k.Run(ctx) }()
		t.Cleanup(func() { cancel(); <-ended })
		s.frameOf = func(win xproto.Window) geom.Rect {
			x, y, w, h, b, _ := s.eye.Geometry(win)
			return geom.R(x, y, w+2*b, h+2*b)
		}
	})
}

// beside opens the host.
func (s *stand) beside(t *testing.T) (*alongside.Host, *desk.Desk) {
	t.Helper()
	host, d, err := alongside.Open(alongside.Options{Display: s.Display, BesideOurs: true})
	if err != nil {
		t.Fatal(err)
	}
	return host, d
}

// rig is the stand as the suite of all hosts wants it.
func (s *stand) rig(t *testing.T) hosttest.Rig {
	host, d := s.beside(t)
	return hosttest.Rig{
		Host: host, Desk: d, Real: true, Alongside: true,
		Open: func(title string) { s.open(t, title) },
		Retitle: func(title, to string) {
			p := s.programs[title]
			p.Text(p.win, "_NET_WM_NAME", to)
			p.Conn.Sync()
		},
		End: func(title string) { s.programs[title].Conn.Close() },
		Seen: func(title string) (geom.Rect, bool) {
			win := s.programs[title].win
			r := s.frameOf(win)
			on := geom.R(0, 0, 8192, 4096)
			x, err := xproto.TranslateCoordinates(s.eye.Conn, win, s.eye.Root, 0, 0).Reply()
			return r, err == nil && s.eye.Viewable(win) && on.Contains(geom.R(int(x.DstX), int(x.DstY), 1, 1))
		},
		Focused: func() string {
			focus := s.eye.Focus()
			for title, p := range s.programs {
				if p.win == focus {
					return title
				}
			}
			return ""
		},
		Cable: func(in bool) {
			if in {
				s.Plug(t, "DUMMY1", 1920, 0)
			} else {
				s.Unplug(t, "DUMMY1")
			}
		},
	}
}

// What every host must do, this one does beside every manager.
func TestHost(t *testing.T) {
	t.Parallel()
	for name, sw := range map[string]manager.Switches{
		"one by the standards":         {},
		"places by the inside":         {ByClient: true},
		"late":                         {Late: 120 * time.Millisecond},
		"without extents":              {NoExtents: true},
		"with stale extents":           {StaleExtents: true},
		"leaves windows mapped":        {LeavesMapped: true},
		"adds workspaces":              {Grows: true},
		"hears no programs":            {IgnoresApps: true},
		"has its own order":            {OwnStacking: true},
		"without requests of places":   {NoMoveResize: true},
		"by the inside, without these": {NoMoveResize: true, ByClient: true, NoExtents: true},
		"brings strays":                {BringsStrays: true, RefusesFull: true},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			hosttest.Run(t, func(t *testing.T) hosttest.Rig {
				s, _ := managed(t, sw)
				return s.rig(t)
			})
		})
	}
	t.Run("the keeper", func(t *testing.T) {
		t.Parallel()
		hosttest.Run(t, func(t *testing.T) hosttest.Rig { return kept(t).rig(t) })
	})
}
