package x11

import (
	"sync"
	"sync/atomic"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"
)

// queue takes events off the connection as they come, even while the keeper is busy. Otherwise
// the connection's reader would stop when its own room is full, and replies come through the
// same reader.
type queue struct {
	conn   *xgb.Conn
	ours   xproto.Window // whose timeAtom property is changed to ask for the time
	time   xproto.Atom
	wake   chan struct{}
	stamps chan xproto.Timestamp
	latest atomic.Pointer[stamp] // that an event told last; nil for none

	mu     sync.Mutex
	items  []item
	asked  map[property]bool // properties that items tell of
	kept   map[property]int  // how often those of keep have changed
	keep   map[xproto.Window]bool
	ofAll  map[xproto.Atom]bool // properties that are kept on every window
	closed bool
	probe  func(xgb.Event) bool
	probed chan struct{}
	keyAt  time.Time // when a key came that was not followed yet; zero for none
	freed  bool      // the keyboard was given back, since nobody followed it
}

// property is one property of one window.
type property struct {
	window xproto.Window
	atom   xproto.Atom
}

// item is an event or an error that belongs to no request waited for.
type item struct {
	event xgb.Event
	err   xgb.Error
}

// stallTime is how long a key waits for us at most: while its grab is ours the keyboard
// stands still for everybody.
const stallTime = 3 * time.Second

// watchKey gives the keyboard back where a key that came is not followed in time.
func (q *queue) watchKey() {
	if !q.keyAt.IsZero() {
		return
	}
	at := time.Now()
	q.keyAt = at
	time.AfterFunc(stallTime, func() {
		q.mu.Lock()
		stalled := q.keyAt.Equal(at)
		q.freed = q.freed || stalled
		q.mu.Unlock()
		if stalled {
			xproto.AllowEvents(q.conn, xproto.AllowAsyncKeyboard, xproto.TimeCurrentTime)
			xproto.UngrabKeyboard(q.conn, xproto.TimeCurrentTime)
		}
	})
}

// followed tells that all keys taken were followed.
func (q *queue) followed() {
	q.mu.Lock()
	defer q.mu.Unlock()
	q.keyAt = time.Time{}
	for _, it := range q.items { // those that have come meanwhile wait from now on
		switch it.event.(type) {
		case xproto.KeyPressEvent, xproto.KeyReleaseEvent:
			q.watchKey()
		}
	}
}

// wasFreed tells whether the keyboard was given back since it was last asked.
func (q *queue) wasFreed() bool {
	q.mu.Lock()
	defer q.mu.Unlock()
	freed := q.freed
	q.freed = false
	return freed
}

// newQueue takes the events of a connection. Of changes of properties of the
// windows ours and root, and of those of all windows that we write ourselves, only the
// number is kept.
func newQueue(conn *xgb.Conn, ours, root xproto.Window, timeAtom xproto.Atom, written []xproto.Atom) *queue {
	q := &queue{
		conn: conn, ours: ours, time: timeAtom,
		asked: map[property]bool{}, kept: map[property]int{}, keep: map[xproto.Window]bool{ours: true, root: true}, ofAll: map[xproto.Atom]bool{},
		wake: make(chan struct{}, 1), stamps: make(chan xproto.Timestamp, 1),
	}
	for _, a := range written {
		q.ofAll[a] = true
	}
	go q.run()
	return q
}

func (q *queue) run() {
	for {
		e, err := q.conn.WaitForEvent()
		if e == nil && err == nil {
			q.mu.Lock()
			q.closed = true
			q.mu.Unlock()
			close(q.stamps)
			q.signal()
			return
		}
		if at := timeOf(e); at != 0 {
			q.latest.Store(&stamp{at, time.Now()})
		}
		switch ev := e.(type) {
		case xproto.ButtonPressEvent:
			// The pointer stands still for everybody until the press that
			// our grab caught is let through to the window it is meant for.
			// Asking may have to wait for the connection's reader, which may
			// have to wait for us: so we do not wait. The server's own time
			// cannot be too early for it, which would leave the pointer frozen.
			go xproto.AllowEvents(q.conn, xproto.AllowReplayPointer, xproto.TimeCurrentTime)
		case xproto.PropertyNotifyEvent:
			if ev.Window == q.ours && ev.Atom == q.time {
				select {
				case q.stamps <- ev.Time:
				default: // nobody waits any more
				}
				continue
			}
		}
		q.put(item{e, err})
		q.signal()
	}
}

// stamp is a time of the server, and when it was told.
type stamp struct {
	at   xproto.Timestamp
	told time.Time
}

// timeOf is the server's time that an event tells; 0 where it tells none.
func timeOf(e xgb.Event) xproto.Timestamp {
	switch e := e.(type) {
	case xproto.KeyPressEvent:
		return e.Time
	case xproto.KeyReleaseEvent:
		return e.Time
	case xproto.ButtonPressEvent:
		return e.Time
	case xproto.ButtonReleaseEvent:
		return e.Time
	case xproto.MotionNotifyEvent:
		return e.Time
	case xproto.PropertyNotifyEvent:
		return e.Time
	}
	return 0
}

func (q *queue) signal() {
	select {
	case q.wake <- struct{}{}:
	default:
	}
}

// put adds an item. A property is read once, however often it changed. Of two placings of a
// window, or two moves of the pointer, the later one counts.
func (q *queue) put(it item) {
	q.mu.Lock()
	defer q.mu.Unlock()
	if q.probe != nil && it.event != nil && q.probe(it.event) {
		q.probe = nil
		close(q.probed)
	}
	switch e := it.event.(type) {
	case xproto.KeyPressEvent, xproto.KeyReleaseEvent:
		q.watchKey()
	case xproto.PropertyNotifyEvent:
		p := property{e.Window, e.Atom}
		if q.keep[e.Window] || q.ofAll[e.Atom] {
			q.kept[p]++
			return
		}
		if q.asked[p] {
			return
		}
		q.asked[p] = true
	case xproto.ConfigureNotifyEvent:
		if n := len(q.items); n > 0 {
			if p, ok := q.items[n-1].event.(xproto.ConfigureNotifyEvent); ok && p.Window == e.Window {
				q.items[n-1] = it
				return
			}
		}
	case xproto.MotionNotifyEvent:
		if n := len(q.items); n > 0 {
			if _, ok := q.items[n-1].event.(xproto.MotionNotifyEvent); ok {
				q.items[n-1] = it
				return
			}
		}
	}
	q.items = append(q.items, it)
}

// take gives all that has come, and how often properties of our own windows and
// the root have changed; closed tells that nothing will come any more.
func (q *queue) take() (items []item, kept map[property]int, closed bool) {
	q.mu.Lock()
	defer q.mu.Unlock()
	items, q.items = q.items, nil
	clear(q.asked)
	if len(q.kept) > 0 {
		kept, q.kept = q.kept, map[property]int{}
	}
	return items, kept, q.closed
}

// waitFor waits until an event comes for which match is true, and tells
// whether it did. Events go on to the queue.
func (q *queue) waitFor(limit time.Duration, match func(xgb.Event) bool) bool {
	done := make(chan struct{})
	q.mu.Lock()
	for _, it := range q.items {
		if it.event != nil && match(it.event) {
			q.mu.Unlock()
			return true
		}
	}
	q.probe, q.probed = match, done
	q.mu.Unlock()
	select {
	case <-done:
		return true
	case <-time.After(limit):
		q.mu.Lock()
		q.probe = nil
		q.mu.Unlock()
		return false
	}
}

// serverTime makes the server say its time, by a change of nothing to a
// property (ICCCM 2.1).
func (q *queue) serverTime() xproto.Timestamp {
	select {
	case <-q.stamps: // of one that was given up
	default:
	}
	xproto.ChangeProperty(q.conn, xproto.PropModeAppend, q.ours, q.time, xproto.AtomCardinal, 32, 0, nil)
	select {
	case t := <-q.stamps:
		return t
	case <-time.After(time.Second):
		return xproto.TimeCurrentTime
	}
}
