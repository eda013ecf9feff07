package alongside

import (
	"sync"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"
)

// queue takes events off the connection as they come, however long reading takes: the
// connection's reader stands still where its own room is full.
type queue struct {
	conn *xgb.Conn
	wake chan struct{}

	mu     sync.Mutex
	events []xgb.Event
	told   map[key]bool // properties and places that events tell of already
	closed bool
}

// key is what an event tells to be read anew: a property of a window, or its place
// where atom is 0.
type key struct {
	win  xproto.Window
	atom xproto.Atom
}

func newQueue(conn *xgb.Conn) *queue {
	q := &queue{conn: conn, wake: make(chan struct{}, 1), told: map[key]bool{}}
	go q.run()
	return q
}

func (q *queue) run() {
	for {
		e, err := q.conn.WaitForEvent()
		over := e == nil && err == nil
		q.mu.Lock()
		q.closed = q.closed || over
		if e != nil && !q.known(e) {
			q.events = append(q.events, e)
		}
		q.mu.Unlock()
		q.signal()
		if over {
			return
		}
	}
}

// known tells whether what an event tells of is to be read already, so that a burst is
// read once.
func (q *queue) known(e xgb.Event) bool {
	var k key
	switch e := e.(type) {
	case xproto.PropertyNotifyEvent:
		k = key{e.Window, e.Atom}
	case xproto.ConfigureNotifyEvent:
		k = key{e.Window, 0}
	default:
		return false
	}
	was := q.told[k]
	q.told[k] = true
	return was
}

func (q *queue) signal() {
	select {
	case q.wake <- struct{}{}:
	default:
	}
}

// take gives all that has come; closed tells that nothing will come any more.
func (q *queue) take() (events []xgb.Event, closed bool) {
	q.mu.Lock()
	defer q.mu.Unlock()
	events, q.events = q.events, nil
	clear(q.told)
	return events, q.closed
}
