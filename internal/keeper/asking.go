package keeper

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// Asking is a host whose windows another program manages: it can ask for what a command
// needs, and sees what becomes of that. The desk follows what it sees, and a command is
// done when it has been answered.
type Asking interface {
	Host
	// Ask asks for what a wish differs from the desk it is of. It does not wait: an
	// event with the answer of that number comes when it is known, always.
	Ask(n int, wish desk.Wish, r desk.Result)
}

// Answer is what became of what was asked for under a number.
type Answer struct {
	N       int
	Refused []int  // the windows of which something was not done
	Words   string // what was not done, in sentences; empty for nothing
	None    bool   // nothing of it was done
	Note    string // how it was done, in a sentence, where that is not plain; empty else
	// Unseen tells that some of it has not been seen done, nor refused. Watched tells that
	// what was refused may be seen done yet. Another answer follows both; Same is one by
	// which nothing has changed since the last.
	Unseen, Watched, Same bool
}

// asked is a command that was asked for, or is to be, and has not been answered.
type asked struct {
	n      int  // 0 for one that waits to be asked for
	fails  bool // it would, with the desk as it was when it came
	wish   desk.Wish
	result desk.Result
	source Source
	reply  func(Outcome)

	told   bool    // as not yet seen: nothing waits for it any more
	ended  bool    // it was answered, and is watched
	line   int     // of what was told of it in the logbook, from 1, counted from the beginning; 0 for none
	change *change // what it has done to the file; nil for nothing
	step   int     // the number of the step that it made; 0 for none
}

// mustWait tells whether a command waits for those before it, as it does only where it
// needs what they do; then it has been put to those that wait.
func (k *Keeper) mustWait(t *task, next *desk.Desk, r desk.Result, err error) bool {
	a := &asked{wish: desk.Wish{Command: t.command, From: k.withPlates(k.update.Desk), To: next}, result: r, source: t.source, reply: t.reply, fails: err != nil}
	if !k.needs(a) {
		return false
	}
	k.unanswered = append(k.unanswered, a)
	return true
}

// askFor asks for what a command wishes.
func (k *Keeper) askFor(t *task, wish desk.Wish, r desk.Result) {
	a := &asked{wish: wish, result: r, source: t.source, reply: t.reply, change: k.changed}
	if t.over {
		a.reply = func(Outcome) {}
	}
	k.number++
	a.n = k.number
	k.asking.Ask(a.n, a.wish, a.result)
	k.unanswered = append(k.unanswered, a)
}

// needs tells whether a command must wait for those that are not answered yet. It must where it
// or one of them is about the order of the workspaces, and where they are about the same window.
// It must also where it depends on the focus, and one of them moves that. One that fails may do
// so for what is not done yet.
func (k *Keeper) needs(a *asked) bool {
	return slices.ContainsFunc(k.unanswered, func(o *asked) bool {
		if o.told {
			return false
		}
		if a.fails || o.fails {
			return true // what it comes to is not known yet
		}
		switch v := desk.VerbOf(a.wish.Command.Verb); {
		case v.Travels, v.Effect == desk.EndKeeper, v.Effect == desk.RestartKeeper, v.Effect == desk.ReloadSettings:
			return true
		}
		mine, theirs := a.windows(), o.windows()
		return a.wish.Reorders() || o.wish.Reorders() ||
			slices.ContainsFunc(mine, func(id int) bool { return slices.Contains(theirs, id) }) ||
			(o.wish.Looks() || o.result.Effect != desk.NoEffect) && !absolute(a.wish.Command)
	})
}

// windows are those that a command touches.
func (a *asked) windows() []int {
	ids := a.wish.Touched()
	if v, _ := desk.FindVerb(a.wish.Command.Verb); v.Windows {
		ids = append(ids, a.result.Windows...)
	}
	return ids
}

// absolute tells whether a command means the same whatever has the focus.
func absolute(c desk.Command) bool {
	v, _ := desk.FindVerb(c.Verb)
	if v.Windows && c.Of == nil {
		return false
	}
	return !slices.ContainsFunc(c.Args, func(a desk.Arg) bool { return a.Kind == desk.Keyword && v.Goes })
}

// answered follows an answer: the desk is as it is seen by now.
func (k *Keeper) answered(answer Answer) {
	i := slices.IndexFunc(k.unanswered, func(a *asked) bool { return a.n == answer.N })
	if i < 0 {
		return
	}
	a := k.unanswered[i]
	if !answer.Unseen && !answer.Watched {
		k.unanswered = slices.Delete(k.unanswered, i, i+1)
	}
	switch {
	case answer.Same:
		return
	case answer.Unseen:
		a.told = true
		k.tellUnseen(a)
	default:
		k.tellAnswer(a, answer)
	}
	k.goOn()
}

// tellUnseen tells that what was asked for has not been seen done yet.
func (k *Keeper) tellUnseen(a *asked) {
	o := Outcome{Source: a.source, Verb: a.wish.Command.Verb, Result: a.result.Report, Unseen: true}
	o.Result.Words = "Asked for, and not yet seen: " + a.result.Words
	k.takeUp(k.update.Desk, o.Result.Words, a.wish.Command, a.source)
	a.line = k.lines
	o.Serial = k.update.Serial
	k.tell(o)
	a.reply(o)
}

// tellAnswer tells what has become of a command. What was told of it before, if anything,
// is put right, in the logbook too.
func (k *Keeper) tellAnswer(a *asked, answer Answer) {
	c := a.wish.Command
	o := Outcome{Source: a.source, Verb: c.Verb, Result: a.result.Report}
	o.Err = a.result.Fault
	if answer.None && answer.Words != "" {
		o.Err = errors.New(strings.TrimSuffix(answer.Words, "."))
	}
	for _, more := range []string{answer.Note, answer.Words} {
		o.Result.Words = strings.TrimSpace(o.Result.Words + " " + more)
	}
	if answer.None {
		o.Result.Words = answer.Words
	}
	last := a.line != 0 && a.line == k.lines
	k.joined, k.hand = c.Hand != 0 && c.Hand == k.hand || last, c.Hand
	k.guard.Run("following an answer", func() {
		now := k.now()
		next := now.Answered(a.wish, a.result.Words, answer.Refused, answer.None, a.step)
		if next.Step() != now.Step() {
			a.step = next.Step()
			k.keepChange(a.change, a.step)
		}
		k.host.Show(next)
		k.takeUp(next, o.Result.Words, c, a.source)
	})
	k.joined = false
	// Another program knows workspaces by their numbers: the one that was moved has the id
	// of the place where it is now.
	if i := a.wish.To.Index(o.Result.Workspace); a.wish.Reorders() && i >= 0 && i < len(k.update.Desk.Workspaces) {
		o.Result.Workspace = k.update.Desk.Workspaces[i].ID
	}
	o.Serial, a.line = k.update.Serial, k.lines
	if o.Err == nil {
		switch a.result.Effect {
		case desk.EndKeeper, desk.RestartKeeper:
			k.ends, k.again = true, a.result.Effect == desk.RestartKeeper
		}
	}
	k.tell(o)
	if !a.ended {
		a.reply(o)
	}
	a.told, a.ended = true, true
}

// goOn begins the commands that have waited, as far as they need wait no longer.
func (k *Keeper) goOn() {
	waiting := slices.DeleteFunc(slices.Clone(k.unanswered), func(a *asked) bool { return a.n != 0 })
	k.unanswered = slices.DeleteFunc(k.unanswered, func(a *asked) bool { return a.n == 0 })
	for _, a := range waiting {
		k.begin(a.wish.Command, a.source, a.reply)
	}
}

// letGo tells everybody whose command was not answered that none will be.
func (k *Keeper) letGo() {
	for _, a := range k.unanswered {
		if a.ended {
			continue
		}
		a.reply(Outcome{Source: a.source, Verb: a.wish.Command.Verb, Err: fmt.Errorf("%w before it was answered", ErrGone)})
	}
	k.unanswered = nil
	for _, c := range k.chores {
		if t := c.task; t != nil && !t.over {
			t.reply(Outcome{Source: t.source, Verb: t.command.Verb, Err: fmt.Errorf("%w before it was done", ErrGone)})
		}
	}
}
