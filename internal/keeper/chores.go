package keeper

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"zatlas/internal/desk"
)

// resource is something outside that may not answer, such as a disk. What needs the same
// one is done one after the other.
type resource string

// What the keeper has others read and write.
const (
	thePlates   resource = "the folder of the plates"
	theSettings resource = "the settings file"
	thePrograms resource = "the disk with the program"
)

// chore is work that may not come to an end. The keeper's goroutine touches no file: it has
// a goroutine do the work, goes on, and is handed what came of it.
type chore struct {
	needs []resource
	work  func() (then func()) // then is run on the keeper's goroutine
	task  *task                // the command that waits for it; nil for none

	began   time.Time
	running bool
	then    func()
	also    []func() // done after it
}

// task is a command on its way.
type task struct {
	command desk.Command
	source  Source
	reply   func(Outcome)

	fresh bool       // the plates were read for it
	on    *desk.Desk // the desk it was applied to before its files were written
	over  bool       // it was answered before its chore came to an end
}

// patience is how long the desk stays as it is for a command that has files read or
// written. A disk that answers is done by then, and nobody has come between. After that
// everything else goes on, and only the command waits.
const patience = 100 * time.Millisecond

// choreTime is how long a command waits for files at most.
const choreTime = 5 * time.Second

// chore has one done as soon as what it needs is free.
func (k *Keeper) chore(c *chore) {
	c.began = time.Now()
	if c.task != nil {
		if stuck := k.stuck(c.needs); stuck != "" {
			k.answerTask(c.task, &Failure{NoAnswer, stuck})
			return
		}
	}
	k.chores = append(k.chores, c)
	k.nextChores()
}

// stuck says what does not answer of what a chore needs; empty for nothing.
func (k *Keeper) stuck(needs []resource) string {
	for _, c := range k.chores {
		for _, r := range c.needs {
			if took := time.Since(c.began); slices.Contains(needs, r) && c.running && took >= choreTime {
				return fmt.Sprintf("%s has not answered for %v. Nothing was changed", r, took.Round(time.Second))
			}
		}
	}
	return ""
}

// nextChores runs those that need nothing that an earlier one has.
func (k *Keeper) nextChores() {
	var taken []resource
	for _, c := range k.chores {
		free := !slices.ContainsFunc(c.needs, func(r resource) bool { return slices.Contains(taken, r) })
		taken = append(taken, c.needs...)
		if c.running || !free {
			continue
		}
		c.running = true
		go func() {
			defer func() {
				if cause := recover(); cause != nil {
					c.then = func() { panic(cause) }
				}
				select {
				case k.came <- c:
				case <-k.done:
				}
			}()
			c.then = c.work()
		}()
	}
	k.setAlarm()
}

// choreDone takes up what came of a chore.
func (k *Keeper) choreDone(c *chore) {
	k.chores = slices.DeleteFunc(k.chores, func(o *chore) bool { return o == c })
	if k.reading == c {
		k.reading = nil
	}
	if c.task == nil {
		for _, then := range append([]func(){c.then}, c.also...) {
			k.guard.Run("following a file", then)
		}
	} else {
		k.guarded(c.task, c.then)
	}
	k.nextChores()
}

// held tells whether the desk stays as it is until a chore is done.
func (k *Keeper) held() bool {
	return slices.ContainsFunc(k.chores, func(c *chore) bool { return c.task != nil && time.Since(c.began) < patience })
}

// setAlarm sets the alarm to when the next chore has been waited for long enough.
func (k *Keeper) setAlarm() {
	const never = time.Hour
	next := never
	for _, c := range k.chores {
		took := time.Since(c.began)
		switch {
		case c.task == nil || c.task.over:
		case took < patience:
			next = min(next, patience-took)
		default:
			next = min(next, choreTime-took)
		}
	}
	if next == never {
		k.alarm.Stop()
		return
	}
	k.alarm.Reset(max(next, 0))
}

// overdue answers the commands that have waited long enough.
func (k *Keeper) overdue() {
	for _, c := range k.chores {
		if c.task == nil || c.task.over || time.Since(c.began) < choreTime {
			continue
		}
		var needs []string
		for _, r := range c.needs {
			needs = append(needs, string(r))
		}
		c.task.over = true
		k.answerTask(c.task, &Failure{NoAnswer, fmt.Sprintf("%s has not answered for %v. Nothing was changed", strings.Join(needs, ", or "), choreTime)})
	}
	k.setAlarm()
}
