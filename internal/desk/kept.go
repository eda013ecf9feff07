package desk

import (
	"errors"
	"fmt"
	"slices"
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
	c.past, pastIDs = c.pushKept(nil, past)
	c.future, futureIDs = c.pushKept(nil, future)
	return &c, pastIDs, futureIDs
}

// pushKept puts steps that were kept on top of a list, the first of them on top of all.
func (d *Desk) pushKept(top *step, made []Made) (*step, []any) {
	ids := make([]any, len(made))
	for i, m := range slices.Backward(made) {
		k := &kept{load: m.Load}
		ids[i] = k
		top = top.push(&step{words: m.Words, number: m.Number, prev: m.Prev, kept: k})
		d.steps = max(d.steps, m.Number)
	}
	return top, ids
}

// History is how the history of a desk differs from that of an earlier one.
type History struct {
	Undone, Redone int    // how many steps are gone from the top of undo and of redo
	Past, Future   []Made // the steps on top in their place, the next first
}

// HistorySince is how the history of the desk differs from that of an earlier one.
func (d *Desk) HistorySince(old *Desk) (x History) {
	x.Past, x.Undone = stepsSince(d.past, old.past, 1)
	x.Future, x.Redone = stepsSince(d.future, old.future, -1)
	return x
}

// stepsSince lists the steps on top of a list that an earlier one had not, and counts those
// that it had and that are gone. The numbers in a list go down, or up where down is -1.
func stepsSince(now, was *step, down int) (fresh []Made, gone int) {
	for now != was {
		switch {
		case was == nil || now != nil && down*(now.number-was.number) > 0:
			fresh, now = append(fresh, now.made()), now.older
		case now == nil || now.number != was.number:
			gone, was = gone+1, was.older
		case now.made().ID == was.made().ID:
			return fresh, gone
		default: // a later command has joined it
			fresh, gone = append(fresh, now.made()), gone+1
			now, was = now.older, was.older
		}
	}
	return fresh, gone
}

// WithHistory is the desk with a history that differs so from its own. The error is that of
// one which takes away more steps than there are.
func (d *Desk) WithHistory(x History) (*Desk, error) {
	c := *d
	for list, gone := range map[**step]int{&c.past: x.Undone, &c.future: x.Redone} {
		for range gone {
			if *list == nil {
				return nil, errors.New("more steps of undo were taken back than there are")
			}
			*list = (*list).older
		}
	}
	c.past, _ = c.pushKept(c.past, x.Past)
	c.future, _ = c.pushKept(c.future, x.Future)
	return &c, nil
}

// Resumed is a desk without a history after the step of a number: no step of it has one
// up to that.
func (d *Desk) Resumed(number int) *Desk {
	c := *d
	c.steps, c.start = max(c.steps, number), number
	return &c
}
