package alongside

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// Times of what was asked for.
const (
	// patience is how long the manager has before a request is told as not yet seen.
	patience = 500 * time.Millisecond
	// lateTime is how long a refused request is still watched: some managers carry out in
	// their own time what they have taken up.
	lateTime = 10 * time.Second
	// calm is how long a place other than the one asked for must stay the same before it counts
	// as the answer. A window may be moved first, and resized a moment later.
	calm = 60 * time.Millisecond
)

// request is a wish that is being asked for, in phases. Later phases need earlier ones: a
// maximised window can be moved only once it is restored.
type request struct {
	n      int // 0 where nobody waits for an answer
	wish   desk.Wish
	result desk.Result

	planned bool
	phases  [][]*want
	at      int // the phase that is asked for
	asked   time.Time
	told    bool      // it was told as not yet seen
	watched time.Time // until when it is watched, refused; zero before
	// overtaken tells that a newer request is about the same.
	overtaken bool
	done      int
	refused   []int    // windows
	missed    []string // what was not done, in sentences
	notes     []string // what else is to be said, in sentences
}

// want is one thing that is asked for.
type want struct {
	c      *client // nil for one of the whole desk
	ask    func()
	done   func() bool
	refuse string // what is said where it is not done, in a sentence
	// again asks for a place once more, where it came out otherwise; nil for what is no
	// place. It is false where that is the answer.
	again func() bool
	note  string // what is to be said where it is done, in a sentence
	state wantState
}

type wantState uint8

const (
	waiting wantState = iota
	granted
	denied
)

// offset is by how much places must be asked for elsewhere than where they are to be, for
// this manager to put windows there.
type offset struct{ geom.Point }

// pursue goes on with what is asked for, and gives when to do so again; zero for no time.
func (h *Host) pursue() (next time.Time) {
	h.pending = slices.DeleteFunc(h.pending, func(r *request) bool {
		at, over := time.Time{}, true
		if !h.guard.Run("asking for "+r.wish.Command.Verb, func() { at, over = h.advance(r) }) {
			r.missed, r.done = []string{"Asking for it failed inside."}, 0
			h.answer(r)
			return true
		}
		if !over {
			next = soonest(next, at)
		}
		return over
	})
	return next
}

// soonest is the earlier of two times, of which one is none where it is zero.
func soonest(a, b time.Time) time.Time {
	if a.IsZero() || !b.IsZero() && b.Before(a) {
		return b
	}
	return a
}

// advance goes on with one request; it gives when to look at it again, or that it is over.
func (h *Host) advance(r *request) (at time.Time, over bool) {
	if !r.planned {
		r.phases, r.planned = h.plan(r), true
		r.at = -1
		h.overtake(r)
	}
	switch {
	case !r.watched.IsZero() && r.overtaken:
		h.answers = append(h.answers, keeper.Answer{N: r.n, Same: true})
		return at, true
	case !r.watched.IsZero():
		return r.watched, h.arrived(r)
	case r.overtaken:
		for _, w := range slices.Concat(r.phases...) {
			if w.state == waiting {
				w.state = denied
			}
		}
		r.missed = append(r.missed, "What was asked for since took its place.")
		h.answer(r)
		return at, true
	}
	for {
		if r.at >= 0 {
			if at, settled := h.look(r, r.phases[r.at]); !settled {
				return at, false
			}
		}
		if r.at++; r.at >= len(r.phases) {
			if r.n != 0 && len(r.refused) > 0 {
				r.watched = time.Now().Add(lateTime)
			}
			h.answer(r)
			return r.watched, r.watched.IsZero()
		}
		r.asked = time.Now()
		for _, w := range r.phases[r.at] {
			switch {
			case w.c != nil && (slices.Contains(r.refused, w.c.id) || h.clients[w.c.win] != w.c):
				w.state = denied // what came before was refused, or it is gone: it is told of already
			case w.done():
				w.state = granted
			default:
				w.ask()
			}
		}
	}
}

// look finds out what of a phase has been answered; where it is not settled, it gives when
// to look again.
func (h *Host) look(r *request, wants []*want) (at time.Time, settled bool) {
	now := time.Now()
	settled = true
	gone, next := h.goneOn(r.asked, refusing)
	for _, w := range wants {
		if w.state != waiting {
			continue
		}
		switch {
		case w.done():
			h.grant(r, w)
		case w.c != nil && h.clients[w.c.win] != w.c:
			w.state = denied
		case w.again != nil && w.c.since.After(r.asked) && now.Sub(w.c.since) < calm:
			settled = false
			at = soonest(at, w.c.since.Add(calm))
		case w.again != nil && w.c.since.After(r.asked) && w.again():
			settled = false
			r.asked = now // it is another request
			at = soonest(at, now.Add(probeTime))
		case !gone:
			settled = false
			at = soonest(at, next)
		default:
			h.deny(r, w)
		}
	}
	if !settled && !r.told && r.n != 0 {
		if late := r.asked.Add(patience); now.Before(late) {
			at = soonest(at, late)
		} else {
			r.told = true
			h.answers = append(h.answers, keeper.Answer{N: r.n, Unseen: true})
		}
	}
	return at, settled
}

func (h *Host) grant(r *request, w *want) {
	w.state = granted
	r.done++
	if w.note != "" && !slices.Contains(r.notes, w.note) {
		r.notes = append(r.notes, w.note)
	}
}

func (h *Host) deny(r *request, w *want) {
	w.state = denied
	r.missed = append(r.missed, w.refuse)
	if w.c != nil && !slices.Contains(r.refused, w.c.id) {
		r.refused = append(r.refused, w.c.id)
	}
}

// arrived looks whether a request that was refused was done all the same, and tells it
// then; it is over when it was, or when it is watched no more.
func (h *Host) arrived(r *request) (over bool) {
	seen := true
	for _, wants := range r.phases {
		for _, w := range wants {
			seen = seen && (w.state == granted || w.done())
		}
	}
	if !seen {
		if over = time.Now().After(r.watched); over {
			h.answers = append(h.answers, keeper.Answer{N: r.n, Same: true})
		}
		return over
	}
	r.refused, r.missed, r.done, r.watched = nil, nil, 1, time.Time{}
	h.answer(r)
	return true
}

// overtake ends the watch over requests that a newer one replaces. What they asked of the same
// window, or of the desk, will not happen any more.
func (h *Host) overtake(by *request) {
	about := map[*client]bool{}
	for _, wants := range by.phases {
		for _, w := range wants {
			about[w.c] = true
		}
	}
	for _, r := range h.pending {
		if r == by || !r.told && r.watched.IsZero() {
			continue
		}
		for _, w := range slices.Concat(r.phases...) {
			if about[w.c] && w.state != granted {
				r.overtaken = true
			}
		}
	}
}

// forsake ends what the manager was asked for, since it is gone and will not do it any
// more. What it was asked last goes with it, and whether it goes on.
func (h *Host) forsake() {
	h.probe.asked = time.Time{}
	h.pending = slices.DeleteFunc(h.pending, func(r *request) bool {
		switch {
		case !r.planned:
			return false
		case !r.watched.IsZero():
			h.answers = append(h.answers, keeper.Answer{N: r.n, Same: true})
			return true
		}
		r.missed = append(r.missed, "The desktop's manager has gone before it was done.")
		h.answer(r)
		return true
	})
}

// answer tells the keeper what became of a request.
func (h *Host) answer(r *request) {
	if r.n == 0 {
		return
	}
	a := keeper.Answer{N: r.n, Refused: r.refused, Words: sentences(r.missed), None: len(r.missed) > 0 && r.done == 0, Watched: !r.watched.IsZero()}
	if r.wish.To != nil && r.wish.Reorders() && len(r.wish.Touched()) > 0 && !a.None {
		r.notes = append(r.notes, "Windows and names were moved for it.")
	}
	a.Note = sentences(r.notes)
	h.answers = append(h.answers, a)
}

// maxSentences bounds how much is said of what was not done.
const maxSentences = 3

// sentences joins sentences, each said once, and counts those that are too many.
func sentences(all []string) string {
	var said []string
	for _, s := range all {
		if !slices.Contains(said, s) {
			said = append(said, s)
		}
	}
	if more := len(said) - maxSentences; more > 0 {
		said = append(said[:maxSentences:maxSentences], fmt.Sprintf("So it was with %d more.", more))
	}
	return strings.Join(said, " ")
}
