package picture

import (
	"context"
	"maps"
	"slices"
	"sync"
	"time"
)

// MaxBytes bounds the pictures of an album, in bytes: the oldest go first.
const MaxBytes = 64 << 20

// The pictures that are kept large are the latest ones; the others have this many pixels a side.
const (
	maxLarge  = 60
	smallSide = 160
)

// The bounds of what can be asked for at once: pictures, and their sides in cells.
const (
	MaxAsks = 64
	MaxSide = 400
)

// Ask asks for the picture of a window in so many cells.
type Ask struct{ Window, W, H int }

// Source is where the screens have pictures from.
type Source interface {
	// Pictures gives those that are newer than a point, 0 for all, and the point they are
	// of. It waits until there is something newer. One without cells tells that there is
	// none, or none any more.
	Pictures(ctx context.Context, since int64, asks []Ask) ([]Cells, int64, error)
}

// Album keeps the last picture of each window, by the ids of a desk. It can be used by many
// goroutines.
type Album struct {
	mu    sync.Mutex
	pages map[int]page
	bytes int
	now   int64         // a point: how often anything was put in or taken out
	asked map[int]int   // how many wait for a window's next picture
	next  chan struct{} // closed at the next change
	wants func()        // called when other windows are waited for; nil for nobody
}

// page is what an album has of a window.
type page struct {
	*Picture                 // nil once it was taken out
	made     func() *Picture // draws it when it is first looked at
	since    int64           // the point of it
}

var _ Source = (*Album)(nil)

// NewAlbum makes an empty album. Wants, which may be nil, is called when other windows than
// before are waited for.
func NewAlbum(wants func()) *Album {
	// Points of one album are not taken for those of an earlier one.
	return &Album{pages: map[int]page{}, asked: map[int]int{}, next: make(chan struct{}), now: time.Now().UnixNano(), wants: wants}
}

// Put puts a window's picture in, in the place of the one before.
func (a *Album) Put(window int, p *Picture) { a.put(window, page{Picture: p}) }

// PutMade is Put for a picture that is drawn when it is first looked at.
func (a *Album) PutMade(window int, made func() *Picture) { a.put(window, page{made: made}) }

func (a *Album) put(window int, p page) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if old := a.pages[window]; old.Picture != nil {
		clear(old.RGB)
		a.bytes -= old.size()
	}
	a.changed()
	p.since = a.now
	a.pages[window] = p
	a.bytes += p.size()
	if p.large() {
		if oldest, large := a.oldest(page.large); large > maxLarge {
			a.shrink(oldest)
		}
	}
	for a.bytes > MaxBytes {
		oldest, _ := a.oldest(func(p page) bool { return p.size() > 0 })
		a.drop(oldest)
	}
}

// oldest is the window whose picture is the oldest of those of a kind, and how many of them
// there are.
func (a *Album) oldest(of func(p page) bool) (window, n int) {
	for id, p := range a.pages {
		if of(p) {
			if n++; n == 1 || p.since < a.pages[window].since {
				window = id
			}
		}
	}
	return window, n
}

// shrink has a picture take less room.
func (a *Album) shrink(window int) {
	p := a.pages[window]
	by := float64(smallSide) / float64(max(p.W, p.H))
	small := p.Shrunk(max(1, int(float64(p.W)*by)), max(1, int(float64(p.H)*by)))
	clear(p.RGB)
	a.bytes -= p.size()
	p.Picture = small
	a.bytes += p.size()
	a.pages[window] = p
}

func (p page) large() bool { return p.Picture != nil && max(p.W, p.H) > smallSide }

func (p page) size() int {
	if p.Picture == nil {
		return 0
	}
	return len(p.RGB)
}

// changed moves on to the next point, and wakes who waits for it. The lock must be held.
func (a *Album) changed() {
	a.now++
	close(a.next)
	a.next = make(chan struct{})
}

// drop takes a picture out, and overwrites it: nothing of it stays in memory. The lock must
// be held.
func (a *Album) drop(window int) {
	p, has := a.pages[window]
	if !has {
		return
	}
	a.bytes -= p.size()
	if p.Picture != nil {
		clear(p.RGB)
	}
	a.changed()
	a.pages[window] = page{since: a.now}
}

// Drop takes the picture of a window out, of one that is gone or may not be pictured.
func (a *Album) Drop(windows ...int) {
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, id := range windows {
		a.drop(id)
	}
}

// Keep takes all pictures out but those of windows that may be kept, and tells whether there
// were any.
func (a *Album) Keep(may func(window int) bool) (dropped bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	for id, p := range a.pages {
		if p.Picture == nil && p.made == nil && a.asked[id] > 0 || may(id) {
			continue
		}
		dropped = dropped || p.Picture != nil
		a.drop(id)
		if a.asked[id] == 0 {
			delete(a.pages, id)
		}
	}
	return dropped
}

// Clear is Keep for none.
func (a *Album) Clear() (dropped bool) { return a.Keep(func(int) bool { return false }) }

// Get is a copy of the picture of a window; nil where there is none.
func (a *Album) Get(window int) *Picture {
	a.mu.Lock()
	defer a.mu.Unlock()
	p := a.look(window)
	if p == nil {
		return nil
	}
	c := *p
	c.RGB = slices.Clone(p.RGB)
	return &c
}

// look is the picture of a window, drawn by now. The lock must be held.
func (a *Album) look(window int) *Picture {
	p := a.pages[window]
	if p.Picture == nil && p.made != nil {
		p.Picture = p.made()
		a.bytes += p.size()
		a.pages[window] = p
	}
	return p.Picture
}

// Asked are the windows whose next picture is waited for.
func (a *Album) Asked() map[int]bool {
	a.mu.Lock()
	defer a.mu.Unlock()
	asked := map[int]bool{}
	for id := range maps.Keys(a.asked) {
		asked[id] = true
	}
	return asked
}

// Held tells of which windows there are pictures, and how many bytes they have. Without an
// album (nil) there are none.
func (a *Album) Held() (windows []int, bytes int) {
	if a == nil {
		return nil, 0
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	for id, p := range a.pages {
		if p.size() > 0 {
			windows = append(windows, id)
		}
	}
	slices.Sort(windows)
	return windows, a.bytes
}

// Pictures gives pictures as cells: see Source.
func (a *Album) Pictures(ctx context.Context, since int64, asks []Ask) ([]Cells, int64, error) {
	asks = asks[:min(len(asks), MaxAsks)]
	a.ask(asks, 1)
	defer a.ask(asks, -1)
	for {
		given, now, next := a.newer(since, asks)
		if len(given) > 0 || since == 0 {
			return given, now, nil
		}
		select {
		case <-next:
		case <-ctx.Done():
			return nil, since, ctx.Err()
		}
	}
}

// ask counts who waits for windows.
func (a *Album) ask(asks []Ask, by int) {
	a.mu.Lock()
	for _, k := range asks {
		if a.asked[k.Window] += by; a.asked[k.Window] == 0 {
			delete(a.asked, k.Window)
		}
	}
	wants := a.wants
	a.mu.Unlock()
	if wants != nil && by > 0 {
		wants()
	}
}

// newer gives what is newer than a point, and what is closed at the next change.
func (a *Album) newer(since int64, asks []Ask) (given []Cells, now int64, next chan struct{}) {
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, k := range asks {
		p, has := a.pages[k.Window]
		if since != 0 && (!has || p.since <= since) {
			continue
		}
		c := Cells{W: k.W, H: k.H}
		if p := a.look(k.Window); p != nil && k.W > 0 && k.H > 0 && k.W <= MaxSide && k.H <= MaxSide {
			c = p.Cells(k.W, k.H)
		}
		c.Window = k.Window
		given = append(given, c)
	}
	return given, a.now, a.next
}
