package desk

import (
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
)

// maxBytes is how much the history of one direction may take: most steps change one window
// of many, and some change all of them. Beyond it the older half is let go.
const maxBytes = 8 << 20

// MaxSteps is how many steps can be taken back. Twice as many are kept before
// the older half is let go.
const MaxSteps = 1000

// step is a command that can be taken back, or done again: the desk on the
// other side of it.
type step struct {
	desk    *Desk // without its own history
	words   string
	command Command
	subject subjectOf
	view    view  // what was shown on this side of it, right after
	after   *Desk // the desk on this side of it, right after, without its history
	older   *step
	depth   int
	bytes   int   // what it and those before it take, about, besides what other desks have
	number  int   // of the command, never used again on this desk
	prev    int   // the number of the step before it, which may not be kept any more
	touched []int // the windows it was about, where another program manages them
	mark    bool  // of what is beyond the desk, which is the same on both sides
	kept    *kept // of one that was kept beyond its desk, in the place of the desks; else nil
}

// subjectOf is what a command was about: a workspace, or windows. Joins is the
// verb's.
type subjectOf struct {
	joins     bool
	workspace int
	windows   string
}

// view is what is shown and focused.
type view struct {
	shown [MaxMonitors]int
	at    byte
	focus int
}

func (d *Desk) view() view { return view{d.Shown, d.At, d.Focus} }

// Undo says what undo would take back; empty where nothing can be.
func (d *Desk) Undo() string { return d.past.say() }

// Redo says what redo would do again; empty where nothing can be.
func (d *Desk) Redo() string { return d.future.say() }

func (s *step) say() string {
	if s == nil {
		return ""
	}
	return s.words
}

// Step is the number of the last command that undo would take back, or would where it
// was kept: at the start 0.
func (d *Desk) Step() int {
	switch {
	case d.past != nil:
		return d.past.number
	case d.future != nil:
		return d.future.prev
	}
	return d.start
}

// Back is the command that leads to the point right after the step of that
// number; ok is false where it cannot be reached any more.
// It has no verb where that is here.
func (d *Desk) Back(number int) (c Command, ok bool) {
	if d.Step() == number {
		return Command{}, true
	}
	n := 0
	for s := d.past; s != nil; s = s.older {
		n++
		if s.prev == number {
			return Command{Verb: "undo", Args: []Arg{{Kind: Number, N: n}}}, true
		}
	}
	n = 0
	for s := d.future; s != nil; s = s.older {
		n++
		if s.number == number {
			return Command{Verb: "redo", Args: []Arg{{Kind: Number, N: n}}}, true
		}
	}
	return Command{}, false
}

// bareOf is the desk without its history, so that a step does not hold all
// those before it twice.
func bareOf(d *Desk) *Desk {
	c := *d
	c.past, c.future = nil, nil
	return &c
}

// pushed is the history after a command made next of d, which leads back to the desk before.
// A command equal to the last one, by a key less than a second later, joins its step, and
// so does one whose step has the number joins.
func (d *Desk) pushed(before *Desk, c Command, next *Desk, words string, about subjectOf, joins int) *step {
	soon := c.At != 0 && c.At-d.past.at() < 1000 && d.past.at() != 0
	if p := d.past; p != nil && (joins == p.number || soon && p.continues(c, about) || c.Hand != 0 && c.Hand == p.command.Hand && c.Verb == p.command.Verb) {
		joined := *p
		joined.words, joined.command, joined.view, joined.after = words, c, next.view(), bareOf(next)
		return &joined
	}
	next.steps = d.steps + 1
	return d.past.push(d.stepTo(next, before, step{words: words, command: c, subject: about}))
}

// stepTo is a step from this desk to the next one, which has counted it. Taken back it
// leads to the desk before, which is another than this where what came about by itself
// is to be kept.
func (d *Desk) stepTo(next, before *Desk, s step) *step {
	s.prev, s.desk, s.view, s.after, s.number = d.Step(), bareOf(before), next.view(), bareOf(next), next.steps
	return &s
}

// Marked is the desk with a step of undo for a change outside of it, such as one of the
// settings. Whoever made the change takes it back when Result.Travelled names the step.
func (d *Desk) Marked(c Command, words string) *Desk {
	next := *d
	next.steps = d.steps + 1
	next.past, next.future = d.past.push(d.stepTo(&next, d, step{words: words, command: c, mark: true})), nil
	return &next
}

// Travelled is a step that was taken back, or done again.
type Travelled struct {
	Number int
	Verb   string // of its command
}

// opened makes it a step of undo that windows which opened lie elsewhere than they would
// have by themselves.
func (d *Desk) opened(next, before *Desk, words string) {
	next.steps = d.steps + 1
	next.past = d.past.push(d.stepTo(next, before, step{words: words, command: Command{Verb: "opened"}}))
	next.future = nil
}

// at is when the step's command was asked for.
func (s *step) at() int64 {
	if s == nil {
		return 0
	}
	return s.command.At
}

// continues tells whether a command goes on with what the step began.
func (s *step) continues(c Command, about subjectOf) bool {
	if about.joins && s.command.Verb == c.Verb && s.subject == about {
		return true
	}
	last := s.command
	last.At, c.At = 0, 0
	return reflect.DeepEqual(last, c)
}

// bear puts a step on top of others, however many.
func (s *step) bear(top *step) *step {
	top.older, top.depth, top.bytes = s, 1, top.after.bytesSince(top.desk)
	if s != nil {
		top.depth += s.depth
		top.bytes += s.bytes + top.desk.bytesSince(s.after)
	}
	return top
}

// push puts a step on top, and lets the oldest go when there are too many.
func (s *step) push(top *step) *step {
	s.bear(top)
	if top.depth <= 2*MaxSteps && top.bytes <= maxBytes {
		return top
	}
	var kept []*step
	for p := top; p != nil && len(kept) < MaxSteps && (len(kept) == 0 || top.bytes-p.bytes < maxBytes/2); p = p.older {
		kept = append(kept, p)
	}
	var list *step
	for _, p := range slices.Backward(kept) {
		c := *p
		list = list.bear(&c)
	}
	return list
}

func (e *edit) undo(c Command) (string, error) {
	return e.travel(c, "Undid", "there is nothing to undo", func(d *Desk) (**step, **step) { return &d.past, &d.future })
}

func (e *edit) redo(c Command) (string, error) {
	return e.travel(c, "Did again", "there is nothing to redo", func(d *Desk) (**step, **step) { return &d.future, &d.past })
}

// travel goes along the history by as many steps as asked for. From and to are
// the two lists of steps, the one taken from first.
func (e *edit) travel(c Command, did, nothing string, lists func(*Desk) (from, to **step)) (string, error) {
	n := 1
	if len(c.Args) > 0 {
		n = c.Args[0].N
	}
	from, _ := lists(e.Desk)
	switch {
	case n < 1:
		return "", fmt.Errorf("%s takes a number of steps from 1 on, not %d", c.Verb, n)
	case *from == nil:
		return "", errors.New(nothing)
	}
	words, notes := "", ""
	for i := range n {
		from, to := lists(e.Desk)
		s := *from
		if s == nil {
			words = fmt.Sprintf("%s %d steps; there were no more.", did, i)
			break
		}
		var err error
		if s, err = s.ready(); err != nil {
			return "", err
		}
		before := bareOf(e.Desk)
		since := e.Desk.since(s)
		less, more := s.older, *to
		e.travelled = append(e.travelled, Travelled{s.number, s.command.Verb})
		target, note := e.Desk.laid(s)
		if e.Settings.Alongside {
			target, note = e.Desk.askedBack(s)
		}
		target.steps, target.start, target.Plates = e.Desk.steps, e.Desk.start, e.Desk.platesBefore(s)
		for _, told := range []string{note, since} {
			if !strings.Contains(notes, told) {
				notes += told
			}
		}
		*e.Desk = *target
		from, to = lists(e.Desk)
		*from = less
		// None is let go on the way: what was taken back can be done again, all of it.
		*to = more.bear(&step{desk: before, words: s.words, command: s.command, subject: s.subject, view: e.Desk.view(), after: bareOf(e.Desk), number: s.number, prev: s.prev, touched: s.touched, mark: s.mark})
		words = did + ": " + s.words
		if i > 0 {
			words = fmt.Sprintf("%s %d steps.", did, i+1)
		}
	}
	e.ownNothing() // all of it was written by laid
	return words + notes, nil
}

// since says that something else that can be seen has changed since a step, by
// what is none: so that nobody takes what comes back for that.
func (d *Desk) since(s *step) string {
	other := slices.EqualFunc(d.Windows, s.after.Windows, func(a, b *Window) bool { return a.ID == b.ID && samePlace(a, b) && a.Workspace == b.Workspace })
	if d.Shown == s.after.Shown && other {
		return ""
	}
	return " What changed since stays as it is."
}

// laid is the arrangement of a step's desk laid on the windows and monitors
// there are now, and what could not be taken back. One opened since stays on
// its workspace, in a restored tree as the last leaf; one closed since is
// passed over; a place on a monitor that is gone goes by the rule for those.
// What is shown goes back too, unless it was changed since the step.
func (d *Desk) laid(s *step) (*Desk, string) {
	old := s.desk
	e := old.edit()
	e.Now, e.expecting, e.awaited = d.Now, d.expecting, d.awaited
	e.Clock, e.Recent, e.lastID = d.Clock, d.recentOn(old), max(d.lastID, old.lastID)
	set := d.Settings
	if old.mode() != s.after.mode() { // the step has changed it
		set.Growing, set.Separate = old.Settings.Growing, old.Settings.Separate
	}
	Settle{set}.apply(e)
	e.Bare, e.BareFocus, e.BareClock = d.Bare, d.BareFocus, d.BareClock
	e.knowMonitors(d)
	closed := 0
	for _, w := range old.Windows {
		if d.Window(w.ID) == nil {
			Closed{ID: w.ID, Quiet: true}.apply(e)
			closed++
		}
	}
	// All windows of now are there before any says which it is a dialog of.
	for _, w := range d.Windows {
		if e.Window(w.ID) == nil {
			e.join(d, w)
		}
	}
	for _, w := range d.Windows {
		if old.Window(w.ID) != nil {
			e.keepFacts(w)
		}
	}
	e.frontFocus()
	next, _ := e.finish().With(MonitorsAre{Monitors: d.Plugged()})
	e = next.edit()
	if i := e.shownOn(e.At); i >= 0 {
		e.show(i) // so that it is the most recent one
	}
	if d.view() != s.view {
		e.restoreView(d)
	}
	e.followFocus()
	if e.Focus != 0 && e.Window(e.Focus).Used == 0 { // its first time
		e.Clock++
		e.window(e.Focus).Used, e.window(e.Focus).Urgent = e.Clock, false
	}
	e.frontFocus()
	note := ""
	if closed == 1 {
		note = " A window was closed since and stays closed."
	} else if closed > 1 {
		note = fmt.Sprintf(" %d windows were closed since and stay closed.", closed)
	}
	for _, m := range old.Monitors {
		if m.Connected && !d.Connected(m.Letter) {
			note += fmt.Sprintf(" Monitor %c has no sheets any more, and its windows are on another.", m.Letter)
		}
	}
	next = e.finish()
	next.share(d)
	return next, note
}

// share has a desk that nobody has seen yet share with another one what is equal there,
// so that a step between the two holds only the rest.
func (d *Desk) share(o *Desk) {
	for i, ws := range d.Workspaces {
		if j := o.Index(ws.ID); j >= 0 && o.Workspaces[j] != ws && reflect.DeepEqual(o.Workspaces[j], ws) {
			d.Workspaces[i] = o.Workspaces[j]
		}
	}
	for i, w := range d.Windows {
		if was := o.Window(w.ID); was != nil && was != w && reflect.DeepEqual(was, w) {
			d.Windows[i] = was
		}
	}
}

// knowMonitors gives the desk the monitors another one knows besides, as
// unplugged, so that letters stay.
func (e *edit) knowMonitors(d *Desk) {
	ms := slices.Clone(e.Monitors)
	for _, m := range d.Monitors {
		if e.Monitor(m.Letter) == nil {
			m.Connected, m.Mirrors = false, 0
			ms = append(ms, m)
		}
	}
	slices.SortFunc(ms, func(a, b Monitor) int { return int(a.Letter) - int(b.Letter) })
	e.setMonitors(ms)
}

// recentOn is the recency of workspaces as far as another desk has them.
func (d *Desk) recentOn(o *Desk) []int {
	recent := slices.DeleteFunc(slices.Clone(d.Recent), func(id int) bool { return o.Index(id) < 0 })
	for _, ws := range o.Workspaces {
		if !slices.Contains(recent, ws.ID) {
			recent = append(recent, ws.ID)
		}
	}
	return recent
}

// keepFacts gives a window of an older desk what it says of itself now; only
// its place is taken back.
func (e *edit) keepFacts(now *Window) {
	if e.Window(now.ID) == now { // nothing of it has changed since
		return
	}
	w := e.window(now.ID)
	c := *now
	c.Workspace, c.Monitor, c.Away, c.Rect, c.Floated, c.Loose, c.Before = w.Workspace, w.Monitor, w.Away, w.Rect, w.Floated, w.Loose, w.Before
	c.Floating, c.Minimised, c.Sticky, c.Seat = w.Floating, w.Minimised, w.Sticky, w.Seat
	c.Maximised, c.Fullscreen, c.Wide, c.Tall = w.Maximised, w.Fullscreen, w.Wide, w.Tall
	c.Above, c.Below, c.Pin = w.Above, w.Below, w.Pin
	*w = c
	e.retile(w.ID)
}

// join adds a window that the older desk did not have yet.
func (e *edit) join(d *Desk, w *Window) {
	c := *w
	if e.Index(c.Workspace) < 0 {
		i := min(d.Index(c.Workspace), len(e.Workspaces)-1)
		c.Workspace = e.Workspaces[i].ID
	}
	if !e.Connected(c.Monitor) {
		c.Monitor = e.At
	}
	c.Monitor = e.fitting(e.Index(c.Workspace), c.Monitor)
	at, _ := e.find(c.ID)
	e.Windows = slices.Insert(e.Windows, at, &c)
	e.ownWindows[c.ID] = true
	e.lay(&c, 0)
}

// restoreView shows what another desk shows, as far as it is there.
func (e *edit) restoreView(d *Desk) {
	for _, m := range e.Monitors {
		if i := e.Index(d.Shown[m.Letter-'A']); i >= 0 && e.Has(i, m.Letter) {
			e.Shown[m.Letter-'A'] = e.Workspaces[i].ID
		}
	}
	if i := e.Index(d.Shown[d.At-'A']); i >= 0 {
		e.show(i)
	}
	e.reshow()
	if e.Connected(d.At) {
		e.At = d.At
	}
	e.Focus = 0
	if w := e.Window(d.Focus); w != nil && e.Visible(w) {
		e.Focus, e.At = w.ID, w.Monitor
	}
	if e.Focus == 0 && d.Focus != 0 {
		e.refocus(e.At)
	}
}

// gone lists the windows that are on another sheet of another desk, or, where there
// are none, all that are elsewhere there.
func (d *Desk) gone(o *Desk) []int {
	var ids []int
	for _, w := range o.Windows {
		if was := d.Window(w.ID); was != nil && (was.Workspace != w.Workspace || was.Monitor != w.Monitor) {
			ids = append(ids, w.ID)
		}
	}
	if len(ids) == 0 {
		return d.Differs(o)
	}
	return ids
}

// Differs lists the windows that are elsewhere on another desk.
func (d *Desk) Differs(o *Desk) []int {
	var ids []int
	for _, w := range o.Windows {
		was := d.Window(w.ID)
		if was == nil || was.Workspace != w.Workspace || was.Monitor != w.Monitor ||
			!samePlace(was, w) && (o.Visible(w) || !o.Tiled(w)) || was.Minimised != w.Minimised || was.Floating != w.Floating {
			ids = append(ids, w.ID)
		}
	}
	return ids
}
