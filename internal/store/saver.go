package store

import (
	"context"
	"log/slog"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
)

// Change is a desk to be kept, and the line of the logbook about it; Entry.Words
// is empty where there is nothing to say.
type Change struct {
	Desk   *desk.Desk
	Entry  Entry
	app    string // an app that was chosen, and nothing else
	choice apps.Choice
}

// Saver writes changes behind the keeper's back, so that no key waits for the
// disk. Of changes that come faster than the disk takes them the last desk is
// kept and every line.
type Saver struct {
	changes chan Change
	done    chan struct{}
}

// NewSaver starts writing to the store for a display. It goes on until Close.
func NewSaver(s *Store, display string, log *slog.Logger) *Saver {
	v := &Saver{changes: make(chan Change, 1000), done: make(chan struct{})}
	go v.run(s, display, log)
	return v
}

// Add has a change written. It never waits: when a thousand are waiting, as on
// a disk that stands still, the change is left to the next one.
func (v *Saver) Add(c Change) {
	select {
	case v.changes <- c:
	default:
	}
}

// AddChoice has it kept that an app was chosen.
func (v *Saver) AddChoice(app string, c apps.Choice) { v.Add(Change{app: app, choice: c}) }

// Close writes what is left and ends, within the time the context gives.
func (v *Saver) Close(ctx context.Context) {
	close(v.changes)
	select {
	case <-v.done:
	case <-ctx.Done():
	}
}

func (v *Saver) run(s *Store, display string, log *slog.Logger) {
	defer close(v.done)
	failed := false
	choice := func(c Change) bool {
		if c.app != "" {
			if err := s.SaveChoice(c.app, c.choice); err != nil {
				log.Warn("that an app was chosen cannot be kept", "error", err.Error())
			}
		}
		return c.app != ""
	}
	for first := range v.changes {
		if choice(first) {
			continue
		}
		last, entries := first.Desk, lines(nil, first)
	more:
		for {
			select {
			case c, open := <-v.changes:
				if !open {
					break more
				}
				if !choice(c) {
					last, entries = c.Desk, lines(entries, c)
				}
			default:
				break more
			}
		}
		err := s.Save(display, last, entries)
		if err != nil && !failed {
			log.Error("the desk cannot be kept on disk; everything else works", "error", err.Error())
		}
		failed = err != nil
	}
}

func lines(entries []Entry, c Change) []Entry {
	if c.Entry.Words == "" {
		return entries
	}
	if c.Entry.At.IsZero() {
		c.Entry.At = time.Now()
	}
	if n := len(entries); c.Entry.Instead && n > 0 {
		c.Entry.Instead = entries[n-1].Instead
		entries = entries[:n-1]
	}
	return append(entries, c.Entry)
}
