// Package sim is a host without a display: a desk whose windows are made up.
// Its windows do as they are asked.
package sim

import (
	"context"
	"sync"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/picture"
)

// Host is a simulated display.
type Host struct {
	wake chan struct{}

	mu     sync.Mutex
	events []keeper.Event
	shown  *desk.Desk
	nextID int // the highest there was
	album  *picture.Album
	looks  map[int]look // what the pictures show that it has
}

// look is what the picture of a made-up window follows from.
type look struct {
	app, title string
	w, h       int
}

var _ keeper.Host = (*Host)(nil)

// New makes a simulated display.
func New() *Host {
	return &Host{wake: make(chan struct{}, 1), album: picture.NewAlbum(nil), looks: map[int]look{}}
}

// Album has pictures of the windows, which are as made up as they are.
func (h *Host) Album() *picture.Album { return h.album }

// Lived gives the windows of a made-up desk the times when they had the focus: the latest now,
// each one before it a little longer ago.
func Lived(d *desk.Desk, now time.Time) *desk.Desk {
	var facts []desk.Fact
	for n, w := range d.Latest() {
		if w.Used == 0 {
			break
		}
		at := now.Unix() - int64(20*n*n)
		facts = append(facts, desk.Changed{ID: w.ID, Change: func(w *desk.Window) { w.UsedAt = at }})
	}
	d, _ = d.With(facts...)
	return d
}

// Wake gets a value when Take has something.
func (h *Host) Wake() <-chan struct{} { return h.wake }

// Take gives what happened.
func (h *Host) Take() ([]keeper.Event, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	events := h.events
	h.events = nil
	return events, nil
}

// Show remembers the desk, which is all there is to show, and the ids there are.
func (h *Host) Show(d *desk.Desk) {
	h.mu.Lock()
	defer h.mu.Unlock()
	was := h.shown
	h.shown = d
	for i, w := range d.Windows {
		h.nextID = max(h.nextID, w.ID)
		if was == nil || i >= len(was.Windows) || was.Windows[i] != w || len(d.Settings.Rules)+len(was.Settings.Rules) > 0 {
			h.picture(d, w) // else nothing of it is another
		}
	}
	if len(h.looks) > len(d.Windows) {
		for id := range h.looks {
			if d.Window(id) == nil {
				delete(h.looks, id)
				h.album.Drop(id)
			}
		}
	}
}

// picture has the album show what a window looks like now. One that is private has none.
func (h *Host) picture(d *desk.Desk, w *desk.Window) {
	now := look{w.App, w.Title, w.Rect.W, w.Rect.H}
	if d.Rule(w).Private {
		now = look{}
	}
	if was, known := h.looks[w.ID]; known && was == now {
		return
	}
	h.looks[w.ID] = now
	if now == (look{}) {
		h.album.Drop(w.ID)
		return
	}
	h.album.PutMade(w.ID, func() *picture.Picture { return picture.Made(now.app, now.title, now.w, now.h) })
}

// Shown is the desk that is shown; nil before the first, and after the end.
func (h *Host) Shown() *desk.Desk {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.shown
}

// Happen has the made-up programs do something.
func (h *Host) Happen(facts ...desk.Fact) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.happen(facts...)
}

// happen adds facts. The lock must be held.
func (h *Host) happen(facts ...desk.Fact) {
	for _, f := range facts {
		h.events = append(h.events, keeper.Event{Fact: f})
	}
	select {
	case h.wake <- struct{}{}:
	default:
	}
}

// Close closes windows, as their programs would.
func (h *Host) Close(ids []int) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, id := range ids {
		if h.shown != nil && h.shown.Window(id) != nil {
			h.happen(desk.Closed{ID: id})
		}
	}
}

// Kill ends programs, which closes all their windows.
func (h *Host) Kill(ids []int) { h.Close(ids) }

// Installed lists the made-up programs.
func (h *Host) Installed() *apps.List {
	names := []string{
		"Guest Rota", "Hall Plan", "Poster Board", "Press List", "Print Traffic", "Projection Log", "Reel Ledger",
		"Screening Times", "Subtitle Bench", "Ticket Till", "Tin Radio", "Trailer Cutter", "Coat Check", "Lamp Diary",
	}
	list := make([]apps.App, len(names))
	for i, n := range names {
		list[i] = apps.App{ID: n, Name: n}
	}
	return apps.NewList(list)
}

// Renew has nothing to read: what is installed here stays the same.
func (h *Host) Renew(context.Context) error { return nil }

// Start opens a window of a made-up program.
func (h *Host) Start(app apps.App) (startupID string, pid int, err error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.nextID++
	w := desk.Window{ID: h.nextID, App: app.Name, Title: "New", PID: 100_000 + h.nextID, Rect: geom.R(0, 0, 800, 600)}
	h.happen(desk.Opened{Window: w, Focus: true})
	return "", w.PID, nil
}

// Tell has nobody to tell.
func (h *Host) Tell(keeper.Outcome) {}

// Stop ends the host: nothing hides a window any more.
func (h *Host) Stop() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.shown = nil
}
