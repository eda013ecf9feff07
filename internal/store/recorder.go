package store

import (
	"cmp"
	"context"
	"log/slog"
	"sync"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/stray"
	"zatlas/internal/survey"
)

// Recorder makes of what happens to a desk what the work was like, and has it kept,
// behind the keeper's back: the keeper only tells it.
type Recorder struct {
	saver   *Saver
	idle    func() (time.Duration, error)
	log     *slog.Logger
	stirred chan struct{}
	ending  chan struct{}
	ended   chan struct{}

	mu      sync.Mutex
	waiting []moment
	terms   Terms
	on      bool // by the terms before

	// What follows is the goroutine's own.
	tracker survey.Tracker
	last    *desk.Desk
	lost    map[int]bool // windows that are
	grows   int64        // the start of the span that is open and kept already
	pruned  string
	every   time.Duration
	deaf    bool // the display does not tell how long nothing was typed, and it was said
}

// Terms are on what the work is kept.
type Terms struct {
	On   bool
	Days int           // for how many it is
	Away time.Duration // how long without a key or motion counts as away
	// Every is how often it is asked whether the user is there, and the span that
	// is open is kept: a crash loses no more of it. 0 for a minute.
	Every time.Duration
}

// moment is the desk as it was from some time on, and what led to it.
type moment struct {
	at   time.Time
	desk *desk.Desk
	by   Deed
}

// rest is how long it waits after it was told something, so that it takes nothing from
// the keeper while that answers.
const rest = 200 * time.Millisecond

// NewRecorder starts one, which has what it makes kept by a saver. Idle tells how long
// nothing was typed and the pointer stood still. It goes on until Close.
func NewRecorder(s *Saver, idle func() (time.Duration, error), log *slog.Logger) *Recorder {
	r := &Recorder{
		saver: s, idle: idle, log: log,
		stirred: make(chan struct{}, 1), ending: make(chan struct{}), ended: make(chan struct{}),
	}
	go r.run()
	return r
}

// Set sets the terms.
func (r *Recorder) Set(t Terms) {
	r.mu.Lock()
	r.terms = t
	r.mu.Unlock()
	r.stir()
}

// Deed is a command that led to a desk.
type Deed struct {
	Verb, Source string
	Form         string // as survey.FormOf has it, where keys asked for it; else empty
}

// Saw tells of a desk, and of the command that led to it, which is empty where none did.
// It never waits.
func (r *Recorder) Saw(at time.Time, d *desk.Desk, by Deed) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.terms.On {
		r.waiting = append(r.waiting, moment{at, d, by})
		r.stir()
	}
}

func (r *Recorder) stir() {
	select {
	case r.stirred <- struct{}{}:
	default:
	}
}

// Close has what is open kept, and ends, within the time the context gives.
func (r *Recorder) Close(ctx context.Context) {
	close(r.ending)
	select {
	case <-r.ended:
	case <-ctx.Done():
	}
}

func (r *Recorder) run() {
	defer close(r.ended)
	var tick <-chan time.Time // none while it is off
	for {
		select {
		case <-r.stirred:
			select { // what comes together is followed at once
			case <-time.After(rest):
			case <-r.ending:
			}
			r.take()
		case <-tick:
			r.input(time.Now())
			r.keepOpen(time.Now())
		case <-r.ending:
			r.take()
			r.keep(r.tracker.Stop(time.Now()))
			return
		}
		switch {
		case !r.on:
			tick = nil
		case tick == nil:
			tick = time.Tick(r.every)
		}
	}
}

// take follows what waits.
func (r *Recorder) take() {
	r.mu.Lock()
	terms, waiting := r.terms, r.waiting
	r.waiting = nil
	r.mu.Unlock()
	r.tracker.Away, r.every = terms.Away, cmp.Or(terms.Every, time.Minute)
	if r.on && !terms.On {
		r.keep(r.tracker.Stop(time.Now()))
		r.last = nil
	}
	if r.on = terms.On; !r.on {
		return
	}
	for _, m := range waiting {
		r.follow(m)
	}
	if day := survey.DayOf(time.Now()); day != r.pruned {
		r.pruned = day
		r.saver.AddUse(Use{Before: time.Now().AddDate(0, 0, -terms.Days)})
	}
}

// follow follows one moment.
func (r *Recorder) follow(m moment) {
	if r.tracker.IsAway() {
		r.input(m.at)
	}
	r.keep(r.tracker.Focus(m.at, survey.FocusOf(m.desk)))
	if u := r.count(m); !u.empty() {
		r.saver.AddUse(u)
	}
	r.last = m.desk
}

// input asks whether the user is there.
func (r *Recorder) input(at time.Time) {
	idle, err := r.idle()
	if err != nil && !r.deaf {
		r.deaf = true
		r.log.Warn("the display does not tell how long nothing was typed: the survey counts on while you are away", "error", err.Error())
	}
	if err != nil {
		idle = 0
	}
	r.keep(r.tracker.Input(at, at.Add(-idle)))
}

// keep has spans kept that have ended.
func (r *Recorder) keep(ended []survey.Span) {
	var u Use
	for _, s := range ended {
		u.Spans = append(u.Spans, KeptSpan{s, s.Start.Unix() == r.grows})
	}
	if len(ended) > 0 {
		r.grows = 0
		r.saver.AddUse(u)
	}
}

// keepOpen has the span kept that is open, as far as it has come.
func (r *Recorder) keepOpen(at time.Time) {
	if s, ok := r.tracker.Now(at); ok {
		r.saver.AddUse(Use{Spans: []KeptSpan{{s, s.Start.Unix() == r.grows}}})
		r.grows = s.Start.Unix()
	}
}

// count counts what differs from the desk before.
func (r *Recorder) count(m moment) (u Use) {
	day, hour := survey.DayOf(m.at), m.at.Format("15")
	tally := func(k survey.Kind, name string, n int) {
		if n > 0 {
			u.Tally(survey.Tally{Day: day, Kind: k, Name: name}, n)
		}
	}
	if m.by.Verb != "" {
		tally(survey.Done, survey.Pair(m.by.Verb, m.by.Source), 1)
	}
	if m.by.Form != "" {
		tally(survey.Form, m.by.Form, 1)
	}
	tally(survey.Open, hour, len(m.desk.Windows))
	tally(survey.Fullest, hour, fullest(m.desk))
	if r.last == nil {
		r.lostNow(m.desk)
		return u
	}
	was, is := r.last.Workspaces[r.last.Current()], m.desk.Workspaces[m.desk.Current()]
	if was.ID != is.ID {
		tally(survey.Switched, survey.Pair(survey.Label(r.last), survey.Label(m.desk)), 1)
	}
	found, back := r.lostNow(m.desk)
	tally(survey.Found, "", found)
	if desk.VerbOf(m.by.Verb).Rescues {
		tally(survey.Rescued, "", back)
	}
	return u
}

// lostNow is how many windows are lost since the desk before, and how many are not
// any more; of the first desk it only notes which are.
func (r *Recorder) lostNow(d *desk.Desk) (found, back int) {
	was := r.lost
	r.lost = map[int]bool{}
	moved := r.last == nil || &d.Monitors[0] != &r.last.Monitors[0]
	for _, w := range d.Windows {
		is := was[w.ID]
		if moved || r.last.Window(w.ID) != w { // else it is as it was
			is = d.Lost(w).Cause != stray.None
		}
		if is {
			r.lost[w.ID] = true
		}
		switch {
		case is && !was[w.ID]:
			found++
		case was[w.ID] && !is:
			back++
		}
	}
	return found, back
}

// fullest is how many windows are on the sheet that has the most.
func fullest(d *desk.Desk) int {
	type sheet struct {
		workspace int
		monitor   byte
	}
	on, most := map[sheet]int{}, 0
	for _, w := range d.Windows {
		s := sheet{w.Workspace, w.Monitor}
		on[s]++
		most = max(most, on[s])
	}
	return most
}
