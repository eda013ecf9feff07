package sim_test

import (
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/hosttest"
	"zatlas/internal/host/sim"
	"zatlas/internal/testkit/desks"
)

// What every host must do, the simulated one does.
func TestHost(t *testing.T) {
	hosttest.Run(t, func(t *testing.T) hosttest.Rig {
		d, err := desk.New([]desk.Monitor{
			{Letter: 'A', Name: "left", Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Connected: true},
			{Letter: 'B', Name: "right", Rect: geom.R(1920, 0, 1920, 1080), Work: geom.R(1920, 0, 1920, 1080), Connected: true},
		}, desk.Settings{})
		if err != nil {
			t.Fatal(err)
		}
		h, next := sim.New(), 0
		find := func(title string) (*desk.Desk, *desk.Window) {
			for _, w := range h.Shown().Windows {
				if w.Title == title {
					return h.Shown(), w
				}
			}
			return h.Shown(), nil
		}
		return hosttest.Rig{
			Host: h, Desk: d,
			Open: func(title string) {
				next++
				h.Happen(desk.Opened{Window: desk.Window{ID: next, App: title, Title: title, Rect: geom.R(10, 10, 300, 200)}, Focus: true})
			},
			Retitle: func(title, to string) {
				_, w := find(title)
				h.Happen(desk.Changed{ID: w.ID, Change: func(w *desk.Window) { w.Title = to }})
			},
			End: func(title string) {
				_, w := find(title)
				h.Happen(desk.Closed{ID: w.ID})
			},
			Seen: func(title string) (geom.Rect, bool) {
				if h.Shown() == nil {
					return geom.Rect{}, true
				}
				d, w := find(title)
				if w == nil {
					return geom.Rect{}, false
				}
				return w.Rect, d.Visible(w)
			},
			Focused: func() string {
				d := h.Shown()
				if w := d.Window(d.Focus); w != nil {
					return w.Title
				}
				return ""
			},
		}
	})
}

// A program that is started opens a window with an id that no other has, and which
// asks for the focus.
func TestStart(t *testing.T) {
	d := desks.Demo(t)
	h := sim.New()
	h.Show(d)
	for _, name := range []string{"Coat Check", "Lamp Diary"} {
		app, ok := h.Installed().Find(name)
		if !ok {
			t.Fatalf("%s is not installed", name)
		}
		if _, pid, err := h.Start(app); err != nil || pid == 0 {
			t.Errorf("%s: pid %d, %v", name, pid, err)
		}
	}
	select {
	case <-h.Wake():
	default:
		t.Error("nobody was woken")
	}
	events, err := h.Take()
	if err != nil || len(events) != 2 {
		t.Fatalf("%d events, %v", len(events), err)
	}
	seen := map[int]bool{}
	for _, e := range events {
		o, ok := e.Fact.(desk.Opened)
		if !ok || !o.Focus || d.Window(o.Window.ID) != nil || seen[o.Window.ID] {
			t.Errorf("it says %+v", e.Fact)
		}
		seen[o.Window.ID] = true
	}
	if again, err := h.Take(); err != nil || again != nil {
		t.Errorf("taken again: %v, %v", again, err)
	}
	if err := h.Renew(t.Context()); err != nil {
		t.Error(err)
	}
	if _, ok := h.Installed().Find("No Such Thing"); ok {
		t.Error("anything is installed")
	}
}

// The windows of a made-up desk had the focus one after the other, the latest now.
func TestLived(t *testing.T) {
	d := desks.Demo(t)
	now := time.Unix(1_900_000_000, 0)
	lived := sim.Lived(d, now)
	last := now.Unix() + 1
	for i, w := range lived.Latest() {
		if w.Used == 0 {
			if w.UsedAt != 0 {
				t.Errorf("%s was never focused, and is said to have been at %d", w.Title, w.UsedAt)
			}
			continue
		}
		if w.UsedAt >= last || i == 0 && w.UsedAt != now.Unix() {
			t.Errorf("the window before %s had the focus at %d, and this one at %d", w.Title, last, w.UsedAt)
		}
		last = w.UsedAt
	}
}
