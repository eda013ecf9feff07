package x11_test

import (
	"log/slog"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/host/hosttest"
	"zatlas/internal/host/x11"
	"zatlas/internal/testkit"
)

// What every host must do, the one of X does. Each window is of a program of its
// own, since the ones that are ended end all their windows.
func TestHost(t *testing.T) {
	t.Parallel()
	hosttest.Run(t, func(t *testing.T) hosttest.Rig {
		s := testkit.NewServer(t)
		s.Plug(t, "DUMMY1", 1920, 0)
		host, found, err := x11.Open(x11.Options{Display: s.Display, Log: slog.New(slog.DiscardHandler)})
		if err != nil {
			t.Fatal(err)
		}
		type program struct {
			*testkit.X
			win xproto.Window
		}
		eye, programs := s.NewX(t), map[string]program{}
		return hosttest.Rig{
			Host: host, Desk: found, Real: true,
			Open: func(title string) {
				x := s.NewX(t)
				p := program{x, x.Window(title, 10, 10, 300, 200)}
				p.Map(p.win)
				programs[title] = p
			},
			Retitle: func(title, to string) {
				p := programs[title]
				p.Text(p.win, "_NET_WM_NAME", to)
				p.Conn.Sync()
			},
			End: func(title string) { programs[title].Conn.Close() },
			Seen: func(title string) (geom.Rect, bool) {
				win := programs[title].win
				x, y, w, h, b, ok := eye.Geometry(win)
				return geom.R(x, y, w+2*b, h+2*b), ok && eye.Viewable(win)
			},
			Focused: func() string {
				r, err := xproto.GetInputFocus(eye.Conn).Reply()
				if err != nil {
					t.Fatal(err)
				}
				for title, p := range programs {
					if p.win == r.Focus {
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
	})
}
