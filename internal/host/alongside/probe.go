package alongside

import (
	"time"

	"github.com/jezek/xgb/xproto"
)

// Times of asking whether the manager has gone on.
const (
	// probeTime is how long the manager has before it is asked whether it goes on, and how
	// long lies between two such questions.
	probeTime = 100 * time.Millisecond
	// refusing is after how many turns without an effect a request counts as refused. A manager
	// may take it up in one turn and carry it out in another.
	refusing = 3
)

// probe finds out whether the manager follows requests at all. A window of ours that is never
// shown asks for another place. The server hands that to the manager in the order of all
// requests, and the manager lets it happen (ICCCM 4.1.5, 4.1.4). So a slow manager is told apart
// from one that refuses, on a busy machine too.
type probe struct {
	win     xproto.Window // 0 before the first question
	asked   time.Time     // when the question under way was; zero for none
	x       int           // its place on the plane, in pixels
	answers []time.Time   // when those that were answered had been asked, the latest last
}

// off is since when a window has been off every monitor, and when to look again.
type off struct{ since, next time.Time }

// goneOn tells whether the manager has gone on since a time by so many turns; else when to
// look again.
func (h *Host) goneOn(since time.Time, turns int) (gone bool, next time.Time) {
	n, last := 0, since
	for _, at := range h.probe.answers {
		if at.After(since) {
			n, last = n+1, at
		}
	}
	if n >= turns {
		return true, time.Time{}
	}
	now := time.Now()
	if next = last.Add(probeTime); now.Before(next) {
		return false, next
	}
	if h.probe.asked.IsZero() {
		h.question()
	}
	return false, now.Add(probeTime) // its answer is an event, and comes before
}

// question asks the manager to let our window be elsewhere.
func (h *Host) question() {
	if h.probe.win == 0 {
		id, err := xproto.NewWindowId(h.conn)
		if err != nil {
			return
		}
		h.probe.win = id
		xproto.CreateWindow(h.conn, 0, id, h.root, 0, 0, 1, 1, 0, xproto.WindowClassInputOutput, 0, xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify})
	}
	h.probe.asked = time.Now()
	h.probe.x = (h.probe.x + 1) % 1000
	xproto.ConfigureWindow(h.conn, h.probe.win, xproto.ConfigWindowX, []uint32{uint32(h.probe.x)})
}

// answeredProbe takes in that the manager has followed a question.
func (h *Host) answeredProbe() {
	p := &h.probe
	if p.asked.IsZero() {
		return
	}
	p.answers = append(p.answers[max(0, len(p.answers)-refusing+1):], p.asked)
	p.asked = time.Time{}
}
