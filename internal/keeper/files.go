package keeper

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
)

// File is a text that commands change besides the desk, such as the settings.
type File interface {
	// Text is the whole of it.
	Text() (string, error)
	// Replace puts a text in the place of another one, unless it has changed since.
	Replace(from, to string) error
}

// change is what a step of undo has done to the file.
type change struct{ from, to string }

// writing is what a command reads and writes besides the desk. All of it is worked out
// before, from the desk; write does it, on a goroutine of its own.
type writing struct {
	plates map[string]*desk.Plate // to be kept, nil for those to be removed
	was    map[string]*desk.Plate // all plates as they were
	passes bool                   // where they cannot be kept, that is told, and the rest is done

	pin     *desk.Pin
	travels []change // of the settings: put the second text in the place of the first
	reads   bool     // the settings anew
	byHand  bool     // as the screens have changed them

	starts []desk.Start
	must   bool // the program that is started is what the command is about
}

// fileResult is what came of a writing.
type fileResult struct {
	err   error    // why nothing of it was done
	words []string // what was not done of it besides, in sentences

	plates   map[string]*desk.Plate
	take     func() (desk.Settings, string, error) // settings that were read; nil for none
	from, to *string                               // the settings as a text, before and after; nil where not read
	started  []desk.Fact
	began    [][2]string // startup ids, and what is started
	undo     []func() error
}

// needs is what must answer for it; none where nothing is read or written.
func (w *writing) needs() (needs []resource) {
	if len(w.plates) > 0 {
		needs = append(needs, thePlates)
	}
	if w.pin != nil || w.reads || len(w.travels) > 0 {
		needs = append(needs, theSettings)
	}
	if len(w.starts) > 0 {
		needs = append(needs, thePrograms)
	}
	return needs
}

// planned is what a command reads and writes that leads to the desk next.
func (k *Keeper) planned(c desk.Command, next *desk.Desk, r *desk.Result) (w writing, err error) {
	w = writing{pin: r.Pin, reads: r.Effect == desk.ReloadSettings, byHand: c.Hand != 0, starts: r.Starts, passes: !desk.VerbOf(c.Verb).Plates}
	if r.Start != nil {
		w.starts, w.must = []desk.Start{*r.Start}, true
	}
	switch {
	case w.must && k.opt.Launch == nil:
		return w, &Failure{NotHere, "no program can be started here"}
	case w.pin != nil && (k.opt.SavePin == nil || k.opt.Reload == nil):
		return w, &Failure{NotHere, "there are no settings to keep a pin in; pin LETTER window ties it to one window"}
	case w.reads && k.opt.Reload == nil:
		return w, &Failure{NotHere, "there are no settings to read here"}
	}
	if AboutPlates(c.Verb) && k.opt.Plates != nil {
		w.was = k.plates
		w.plates = next.PlatesSince(k.update.Desk.WithPlates(k.plates))
	}
	for _, t := range r.Travelled {
		made, known := k.changes[t.Number]
		if c.Verb == "undo" {
			made.from, made.to = made.to, made.from
		}
		switch {
		case known:
			w.travels = append(w.travels, made)
		case t.Verb == "reload":
			r.Words += " The settings stay as they are: how they were is not kept over a restart."
		}
	}
	return w, nil
}

// write reads and writes what a command does. It may be called from any goroutine.
func (o *Options) write(w writing) (got fileResult) {
	if got.plates, got.err = o.keepPlates(w, &got); got.err != nil {
		return got
	}
	if w.pin != nil {
		if got.err = o.savePin(*w.pin, &got); got.err != nil {
			return got
		}
	}
	for _, c := range w.travels {
		if err := o.File.Replace(c.from, c.to); err != nil {
			got.words = append(got.words, Sentence(err))
			continue
		}
		got.undo = append(got.undo, func() error { return o.File.Replace(c.to, c.from) })
		got.to, w.reads = &c.to, true
	}
	if w.reads || w.pin != nil {
		got.take = o.Reload()
	}
	if w.reads && got.to == nil {
		got.to = o.text()
	}
	for _, s := range w.starts {
		if err := o.start(s, &got); err != nil && w.must {
			got.err = err
		} else if err != nil {
			got.words = append(got.words, Sentence(err))
		}
	}
	return got
}

// text is the settings as a text; nil where they cannot be read, which reading them tells.
func (o *Options) text() *string {
	if o.File == nil {
		return nil
	}
	text, err := o.File.Text()
	if err != nil {
		return nil
	}
	return &text
}

// savePin keeps a pin in the settings.
func (o *Options) savePin(p desk.Pin, got *fileResult) error {
	if o.File != nil {
		from, err := o.File.Text()
		if err != nil {
			return err
		}
		got.from = &from
	}
	if err := o.SavePin(p); err != nil {
		return err
	}
	if got.to = o.text(); got.to != nil && got.from != nil {
		got.undo = append(got.undo, func() error { return o.File.Replace(*got.to, *got.from) })
	}
	return nil
}

// keepPlates keeps the plates that a command has changed, and gives all there are then.
// Those that are new come first, so that a renamed one is never without a name.
func (o *Options) keepPlates(w writing, got *fileResult) (map[string]*desk.Plate, error) {
	var names, gone []string
	for _, name := range slices.Sorted(maps.Keys(w.plates)) {
		if w.plates[name] == nil {
			gone = append(gone, name)
		} else {
			names = append(names, name)
		}
	}
	now := maps.Clone(w.was)
	if now == nil {
		now = map[string]*desk.Plate{}
	}
	for _, name := range append(names, gone...) {
		p := w.plates[name]
		err := o.Plates.Keep(name, p)
		switch {
		case err == nil:
			if now[name] = p; p == nil {
				delete(now, name)
			}
			got.undo = append(got.undo, func() error { return o.Plates.Keep(name, w.was[name]) })
		case name == desk.BackPlate:
			got.words = append(got.words, fmt.Sprintf("What it replaced could not be kept: %v.", err))
		case w.passes:
			got.words = append(got.words, fmt.Sprintf("The plates stay as they are: %v.", errors.Join(err, got.takeBack())))
			return w.was, nil
		default:
			return nil, errors.Join(err, got.takeBack())
		}
	}
	return now, nil
}

// start starts a program.
func (o *Options) start(s desk.Start, got *fileResult) error {
	if o.Launch == nil {
		return &Failure{NotHere, "no program can be started here"}
	}
	app, err := o.program(s)
	if err != nil {
		return err
	}
	id, pid, err := o.Launch.Start(app)
	if err != nil {
		return fmt.Errorf("%s could not be started: %w", s.App, err)
	}
	got.began = append(got.began, [2]string{id, app.Name})
	got.started = append(got.started, desk.Expect{Start: s, StartupID: id, PID: pid})
	return nil
}

// program is what is started: an app that is installed, or a command.
func (o *Options) program(s desk.Start) (apps.App, error) {
	switch {
	case s.Run:
		return apps.Run(s.App)
	case s.Terminal:
		return apps.Shell(), nil
	}
	app, ok := o.Launch.Installed().Find(s.App)
	if !ok {
		return app, fmt.Errorf("%s is not installed, as far as its name tells", s.App)
	}
	return app, nil
}

// takeBack takes back what was written, the last first.
func (got *fileResult) takeBack() error {
	var failed []error
	for _, undo := range slices.Backward(got.undo) {
		failed = append(failed, undo())
	}
	got.undo = nil
	return errors.Join(failed...)
}

// settled is the desk with what a command has read and written besides it.
func (k *Keeper) settled(d *desk.Desk, c desk.Command, r *desk.Result, w *writing, got *fileResult) *desk.Desk {
	k.changed = nil
	for _, words := range got.words {
		r.Words += " " + words
	}
	if got.plates != nil && len(w.plates) > 0 {
		k.plates = got.plates
		d = d.WithPlates(k.plates)
	}
	if got.take != nil {
		read := *r
		d = k.reload(d, &read, got.take)
		switch {
		case w.reads:
			*r = read
		case len(w.travels) > 0:
			r.Fault = read.Fault
		}
	}
	from := got.from
	if w.reads && w.byHand {
		before := k.text
		from = &before
	}
	if got.to != nil && from != nil && *got.to != *from {
		k.changed = &change{*from, *got.to}
		words := r.Words
		if strings.HasPrefix(words, "Read the settings") { // and found nothing that has a word of its own
			words = "The settings were changed."
		}
		if d.Step() == k.update.Desk.Step() { // else the command has made a step already
			d = d.Marked(c, words)
		}
	}
	if got.to != nil {
		k.text = *got.to
	}
	return k.expecting(d, got)
}

// expecting is the desk that expects the first windows of what was started.
func (k *Keeper) expecting(d *desk.Desk, got *fileResult) *desk.Desk {
	if len(got.started) == 0 {
		return d
	}
	if starts, ok := k.host.(interface{ StartupBegan(id, name string) }); ok {
		for _, s := range got.began {
			starts.StartupBegan(s[0], s[1])
		}
	}
	d, _ = d.With(got.started...)
	return d
}

// reload takes up settings that were read, and says what changed. A row at fault keeps the
// value that it had, which is told.
func (k *Keeper) reload(d *desk.Desk, r *desk.Result, take func() (desk.Settings, string, error)) *desk.Desk {
	s, changed, err := take()
	k.reloads++
	if changed != "" {
		r.Words = changed
	}
	if r.Fault = err; err != nil {
		r.Words = strings.TrimSpace(changed + " " + Sentence(err))
	}
	next, _ := d.With(desk.Settle{Settings: s})
	return next
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
