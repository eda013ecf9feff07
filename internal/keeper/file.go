package keeper

import (
	"strings"

	"zatlas/internal/desk"
)

// File is a text that commands change besides the desk, such as the settings.
type File interface {
	// Text is what stands in it.
	Text() (string, error)
	// Replace puts a text in the place of another one, unless it has changed since.
	Replace(from, to string) error
}

// change is what a step of undo has done to the file.
type change struct{ from, to string }

// changing has a function change the file, and gives the desk with a step for that; where
// nothing was changed, the desk as it is.
func (k *Keeper) changing(d *desk.Desk, c desk.Command, words string, f func() error) (*desk.Desk, error) {
	if k.opt.File == nil {
		return d, f()
	}
	from, err := k.opt.File.Text()
	if err != nil {
		return d, err
	}
	if err := f(); err != nil {
		return d, err
	}
	return k.marked(d, c, words, from), nil
}

// marked is the desk with a step for a change of the file that is made already, and was
// another text before; as it is where that is the same.
func (k *Keeper) marked(d *desk.Desk, c desk.Command, words, from string) *desk.Desk {
	to, err := k.opt.File.Text()
	if err != nil || to == from {
		return d
	}
	k.text, k.changed = to, &change{from, to}
	if strings.HasPrefix(words, "Read the settings") { // and found nothing that has a word of its own
		words = "The settings were changed."
	}
	if d.Step() == k.update.Desk.Step() { // else the command is a step by itself
		d = d.Marked(c, words)
	}
	return d
}

// keepChange keeps in mind what the step that was just made has changed.
func (k *Keeper) keepChange(c *change, step int) {
	if c == nil {
		return
	}
	if len(k.changes) >= desk.MaxSteps {
		clear(k.changes)
	}
	k.changes[step] = *c
}

// travel takes back, or does again, what steps have changed besides the desk. What cannot
// be is told, and the rest of the command is done.
func (k *Keeper) travel(d *desk.Desk, verb string, r *desk.Result) *desk.Desk {
	changed := false
	for _, t := range r.Travelled {
		c, known := k.changes[t.Number]
		if verb == "undo" {
			c.from, c.to = c.to, c.from
		}
		switch {
		case known:
			if err := k.opt.File.Replace(c.from, c.to); err != nil {
				r.Words += " " + Sentence(err)
				continue
			}
			k.text, changed = c.to, true
		case t.Verb == "reload":
			r.Words += " The settings stay as they are: how they were is not kept over a restart."
		}
	}
	if !changed {
		return d
	}
	said := desk.Result{}
	next, err := k.reload(d, &said)
	if err != nil {
		return d
	}
	r.Fault = said.Fault
	return next
}
