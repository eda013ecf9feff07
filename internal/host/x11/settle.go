package x11

import "time"

// settleTime is how long a part of the display must have been quiet before it is read again.
// One change by the user is a burst of events, and other clients may make any number of them.
// A burst that does not end is cut off after patience.
const (
	settleTime = 60 * time.Millisecond
	patience   = 600 * time.Millisecond
)

// part is what of a display costs much to read and is read once after a burst
// of changes.
type part int

const (
	monitorsPart part = iota
	keyboardPart
	strutsPart
	partCount
)

// stirred is when a part has changed that was not read since: the first time,
// and the last; zero where it was.
type stirred struct{ first, last time.Time }

// due is when the part is to be read.
func (s stirred) due() time.Time {
	quiet, end := s.last.Add(settleTime), s.first.Add(patience)
	if quiet.Before(end) {
		return quiet
	}
	return end
}

// stir notes that a part has changed.
func (h *Host) stir(p part) {
	now := time.Now()
	if h.stirred[p].first.IsZero() {
		h.stirred[p].first = now
	}
	h.stirred[p].last = now
	h.wakeAt(h.stirred[p].due())
}

// wakeAt has Take called at a time, or somewhat before.
func (h *Host) wakeAt(t time.Time) {
	now := time.Now()
	if h.alarm.After(now) && !h.alarm.After(t) {
		return // one is set that comes first
	}
	h.alarm = t
	time.AfterFunc(max(t.Sub(now), time.Millisecond), h.queue.signal)
}

// settled reads the parts that are quiet by now.
func (h *Host) settled() {
	h.readLate()
	for p, read := range [partCount]func(){
		monitorsPart: h.readAgain, keyboardPart: h.renewKeys, strutsPart: h.docksChanged,
	} {
		switch s := h.stirred[p]; {
		case s.first.IsZero():
		case time.Now().Before(s.due()):
			h.wakeAt(s.due())
		default:
			h.stirred[p] = stirred{}
			read()
		}
	}
}
