package desk

import (
	"fmt"
	"sync"
)

// Made is a step of undo or of redo, to be kept beyond the desk it is of, or kept so.
type Made struct {
	Number int
	Prev   int // the number of the step before it
	Words  string
	// ID is the same for the same step as long as it says the same.
	ID any
	// Load gives the desks before and after it, without their history. It may be
	// called from any goroutine.
	Load func() (before, after *Desk, err error)
}

// kept is a step that was kept beyond its desk and is read when it is needed.
type kept struct {
	once          sync.Once
	load          func() (before, after *Desk, err error)
	before, after *Desk
	err           error
}

// ready is the step with its desks. The error is that of a step which was kept and
// cannot be read.
func (s *step) ready() (*step, error) {
	if s.kept == nil {
		return s, nil
	}
	k := s.kept
	k.once.Do(func() { k.before, k.after, k.err = k.load() })
	if k.err != nil {
		return nil, fmt.Errorf("%s cannot be taken back any more, nor anything before it: %w", s.words, k.err)
	}
	c := *s
	c.desk, c.after, c.view, c.kept = k.before, k.after, k.after.view(), nil
	return &c, nil
}

// made is a step as it is kept.
func (s *step) made() Made {
	m := Made{Number: s.number, Prev: s.prev, Words: s.words, ID: s.after, Load: func() (before, after *Desk, err error) {
		r, err := s.ready()
		if err != nil {
			return nil, nil, err
		}
		return r.desk, r.after, nil
	}}
	if s.kept != nil {
		m.ID = s.kept
	}
	return m
}

// Steps are what undo takes back and what redo does again, the next first, n of each at
// most.
func (d *Desk) Steps(n int) (past, future []Made) {
	for s := d.past; s != nil && len(past) < n; s = s.older {
		past = append(past, s.made())
	}
	for s := d.future; s != nil && len(future) < n; s = s.older {
		future = append(future, s.made())
	}
	return past, future
}

// WithSteps is the desk with a history that was kept, in the place of its own; the next
// steps come first. It gives what their IDs are from now on, in the same order.
func (d *Desk) WithSteps(past, future []Made) (next *Desk, pastIDs, futureIDs []any) {
	c := *d
	list := func(made []Made) (top *step, ids []any) {
		ids = make([]any, len(made))
		for i := len(made) - 1; i >= 0; i-- {
			k := &kept{load: made[i].Load}
			ids[i] = k
			top = top.push(&step{words: made[i].Words, number: made[i].Number, prev: made[i].Prev, kept: k})
			c.steps = max(c.steps, made[i].Number)
		}
		return top, ids
	}
	c.past, pastIDs = list(past)
	c.future, futureIDs = list(future)
	return &c, pastIDs, futureIDs
}

// Resumed is a desk without a history after the step of a number: no step of it has one
// up to that.
func (d *Desk) Resumed(number int) *Desk {
	c := *d
	c.steps, c.start = max(c.steps, number), number
	return &c
}
