package store

import (
	"context"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
)

// Change is a desk to be kept, and the line of the logbook about it; Entry.Words
// is empty where there is nothing to say.
type Change struct {
	Desk  *desk.Desk
	Entry Entry
}

// Saver writes changes behind the keeper's back, so that no key waits for the
// disk. What cannot be written, as while the file is locked or the disk is full,
// waits and is tried again: the last desk and every line.
type Saver struct {
	store   *Store
	server  int64
	display string
	log     *slog.Logger
	stirred chan struct{} // has a value where something waits
	ending  chan struct{} // closed by Close
	given   chan struct{} // closed where it is not waited for any longer
	ended   chan struct{}

	mu      sync.Mutex
	waiting Batch
	dropped bool // lines were let go, and it was said
	point   Point
	journal *journal // nil for none
	leaves  bool     // the journal, at the end
}

// maxWaiting bounds the lines that wait: more are not kept of a display anyway.
const maxWaiting = maxEntries

// saveEvery is the least time between two writes. Of many changes in a row the last desk is
// written, with all their lines.
const saveEvery = 50 * time.Millisecond

// restEvery is the same while nothing is done but by programs, such as one that counts in its
// title: the journal has that anyway.
const restEvery = time.Second

// How long after a write that failed it is tried again: at first, and at most.
const (
	firstRetry = 50 * time.Millisecond
	lastRetry  = 400 * time.Millisecond
)

// NewSaver starts writing to the store for a display, and goes on until Close. Of an X
// server that is told from others by a number the history of the desk is kept too; the
// number is 0 where it is not known.
func NewSaver(s *Store, display string, server int64, log *slog.Logger) *Saver {
	v := &Saver{
		store: s, server: server, display: display, log: log,
		stirred: make(chan struct{}, 1), ending: make(chan struct{}), given: make(chan struct{}), ended: make(chan struct{}),
	}
	go v.run()
	return v
}

// Journal has every desk that is added from now on kept in a journal beside base, until it
// is on disk. It is called before the first.
func (v *Saver) Journal(base string) {
	v.journal = newJournal(base, v.log)
	v.point.Chain = v.journal.chain
	go v.journal.run()
}

// LeaveJournal has the journal stay after Close, so that the next keeper takes the desk from
// the store and not from the display.
func (v *Saver) LeaveJournal() { v.leaves = true }

// Add has a change written. It never waits. The receipt is that of the journal, nil where
// there is none.
func (v *Saver) Add(c Change) (r *Receipt) {
	if c.Entry.At.IsZero() {
		c.Entry.At = time.Now()
	}
	v.mu.Lock()
	v.waiting.Desk, v.waiting.Server = c.Desk, v.server
	if c.Entry.Server = v.server; c.Desk != nil {
		c.Entry.Step = c.Desk.Step()
	}
	v.waiting.Entries = withLine(v.waiting.Entries, c.Entry)
	v.bound()
	if v.journal != nil && c.Desk != nil {
		v.point.Serial++
		v.waiting.Point = v.point
		r = v.journal.add(v.point.Serial, c.Desk, c.Entry)
	}
	v.mu.Unlock()
	v.stir()
	return r
}

// AddChoice has it kept that an app was chosen.
func (v *Saver) AddChoice(app string, c apps.Choice) {
	v.mu.Lock()
	if v.waiting.Chosen == nil {
		v.waiting.Chosen = map[string]apps.Choice{}
	}
	v.waiting.Chosen[app] = c
	v.mu.Unlock()
	v.stir()
}

// AddLaid has it kept that a plate was laid.
func (v *Saver) AddLaid(name string, at time.Time) {
	v.mu.Lock()
	if v.waiting.Laid == nil {
		v.waiting.Laid = map[string]time.Time{}
	}
	v.waiting.Laid[name] = at
	v.mu.Unlock()
	v.stir()
}

// AddUse has it kept what the work was like.
func (v *Saver) AddUse(u Use) {
	v.mu.Lock()
	v.waiting.Use.add(u)
	v.mu.Unlock()
	v.stir()
}

func (v *Saver) stir() {
	select {
	case v.stirred <- struct{}{}:
	default:
	}
}

// bound lets the oldest lines go where too many wait, and says so once.
func (v *Saver) bound() {
	over := len(v.waiting.Entries) - maxWaiting
	if over <= 0 {
		return
	}
	v.waiting.Entries = append([]Entry{}, v.waiting.Entries[over:]...)
	if !v.dropped {
		v.dropped = true
		v.log.Error(fmt.Sprintf("more than %d lines of the logbook wait for the disk, and the oldest are let go", maxWaiting))
	}
}

// Close writes what is left and ends, within the time the context gives. What
// cannot be written by then is in the journal alone, and it says so. A journal that nobody
// needs is removed, unless LeaveJournal was called.
func (v *Saver) Close(ctx context.Context) {
	close(v.ending)
	kept := true
	select {
	case <-v.ended:
	case <-ctx.Done():
		close(v.given)
		v.mu.Lock()
		defer v.mu.Unlock()
		if kept = v.waiting.empty(); !kept {
			v.log.Error("the last changes could not be kept on disk in time")
		}
	}
	if v.journal != nil {
		v.journal.end(ctx, kept && !v.leaves)
	}
}

func (v *Saver) run() {
	defer close(v.ended)
	retry, failed := time.Duration(0), false
	for {
		v.mu.Lock()
		w := v.waiting
		v.waiting = Batch{}
		v.mu.Unlock()
		if w.empty() {
			select {
			case <-v.stirred:
				continue
			case <-v.ending:
				if v.idle() {
					return
				}
				continue
			}
		}
		words, err := v.store.Save(v.display, w)
		if words != "" {
			v.log.Warn(words)
		}
		v.tellJournal(w, err)
		if err == nil {
			if failed {
				v.log.Info("the desk is kept on disk again")
			}
			retry, failed = 0, false
			v.rest(v.journal != nil && w.quiet())
			continue
		}
		v.giveBack(w)
		if !failed {
			v.log.Error("the desk cannot be kept on disk for now; everything else works", "error", err.Error())
		}
		failed = true
		retry = min(max(2*retry, firstRetry), lastRetry)
		select {
		case <-time.After(retry):
		case <-v.given:
			return
		}
	}
}

// rest waits until it is time for the next write.
func (v *Saver) rest(quiet bool) {
	every := saveEvery
	if quiet {
		every = restEvery
	}
	wait := time.NewTimer(every)
	defer wait.Stop()
	for {
		select {
		case <-wait.C:
			return
		case <-v.ending:
			return
		case <-v.stirred:
			v.mu.Lock()
			loud := quiet && !v.waiting.quiet()
			v.mu.Unlock()
			if loud {
				return
			}
		}
	}
}

// quiet tells whether a batch has nothing but a desk to be kept.
func (b Batch) quiet() bool {
	return len(b.Entries) == 0 && len(b.Chosen) == 0 && len(b.Laid) == 0
}

// tellJournal tells the journal what became of a batch.
func (v *Saver) tellJournal(w Batch, err error) {
	switch {
	case v.journal == nil:
	case err != nil:
		v.journal.stall()
	case w.Desk != nil:
		v.journal.has(w.Point.Serial)
	}
}

// idle tells whether nothing waits.
func (v *Saver) idle() bool {
	v.mu.Lock()
	defer v.mu.Unlock()
	return v.waiting.empty()
}

// giveBack has what could not be written wait again, before what came since.
func (v *Saver) giveBack(w Batch) {
	v.mu.Lock()
	defer v.mu.Unlock()
	since := v.waiting
	if since.Desk != nil {
		w.Desk, w.Server, w.Point = since.Desk, since.Server, since.Point
	}
	for name, at := range since.Laid {
		if w.Laid == nil {
			w.Laid = since.Laid
			break
		}
		w.Laid[name] = at
	}
	for _, e := range since.Entries {
		w.Entries = withLine(w.Entries, e)
	}
	w.Use.add(since.Use)
	for app, c := range since.Chosen {
		if w.Chosen == nil {
			w.Chosen = since.Chosen
			break
		}
		w.Chosen[app] = c
	}
	v.waiting = w
	v.bound()
}

// withLine is the lines with one more, which may take the place of the last.
func withLine(entries []Entry, e Entry) []Entry {
	if e.Words == "" {
		return entries
	}
	if n := len(entries); e.Instead && n > 0 {
		e.Instead = entries[n-1].Instead
		entries = entries[:n-1]
	}
	return append(entries, e)
}
