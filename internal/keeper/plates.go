package keeper

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/plate"
)

// Plates are where plates are kept. Its methods may be called from any goroutine, one at a
// time.
type Plates interface {
	// Read gives the plates as they are now, by their names, and those that are at fault.
	Read() (map[string]*desk.Plate, []plate.Fault)
	// Keep keeps a plate under a name, or removes it where it is nil.
	Keep(name string, p *desk.Plate) error
}

// Shelved is a plate as it is kept, or one that is at fault.
type Shelved struct {
	Plate *desk.Plate
	Laid  time.Time // the last time; zero for never
	Fault plate.Fault
}

// Plates lists the plates that there are, and then those that are at fault.
func (k *Keeper) Plates(ctx context.Context) ([]Shelved, error) {
	k.renewPlates(ctx)
	r := request{plates: make(chan []Shelved, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.plates, nil
}

// renewPlates waits until the plates are known that there are at the time of the call, or
// for as long as a list may take; else they are known as they were read last.
func (k *Keeper) renewPlates(ctx context.Context) {
	ctx, cancel := context.WithTimeout(ctx, listTime)
	defer cancel()
	r := request{renewed: make(chan struct{})}
	if k.opt.Plates == nil || k.send(ctx, r) != nil {
		return
	}
	select {
	case <-r.renewed:
	case <-ctx.Done():
	case <-k.done:
	}
}

// readPlates has the plates read, and then does something. The desk waits with a command
// that needs them, if the disk answers soon.
func (k *Keeper) readPlates(t *task, then func()) {
	if k.opt.Plates == nil {
		then()
		return
	}
	k.shelved = k.opt.Now()
	if c := k.reading; t == nil && c != nil && !c.running { // what is about to be read is read once
		c.also = append(c.also, then)
		return
	}
	c := &chore{needs: []resource{thePlates}, task: t, work: func() func() {
		plates, faults := k.opt.Plates.Read()
		return func() {
			k.plates, k.faults = plates, faults
			then()
		}
	}}
	if t == nil {
		k.reading = c
	}
	k.chore(c)
}

// shelf lists the plates.
func (k *Keeper) shelf() []Shelved {
	var list []Shelved
	for _, p := range k.withPlates(k.update.Desk).PlateList() {
		list = append(list, Shelved{Plate: p, Laid: k.laid[p.Name]})
	}
	for _, f := range k.faults {
		list = append(list, Shelved{Fault: f})
	}
	if stuck := k.stuck([]resource{thePlates}); stuck != "" {
		list = append(list, Shelved{Fault: plate.Fault{Words: Sentence(errors.New(stuck))}})
	}
	return list
}

// withPlates is a desk with the plates as they were read last.
func (k *Keeper) withPlates(d *desk.Desk) *desk.Desk {
	if k.opt.Plates == nil {
		return d
	}
	return d.WithPlates(k.plates)
}

// AboutPlates tells whether a command of that verb may change plates.
func AboutPlates(verb string) bool { v := desk.VerbOf(verb); return v.Plates || v.Travels }

// faulty says of a plate that is not there that its file is at fault, where it is.
func (k *Keeper) faulty(c desk.Command, err error) error {
	if !desk.VerbOf(c.Verb).Plates || len(c.Args) < 2 {
		return err
	}
	for _, f := range k.faults {
		if strings.EqualFold(f.Name, c.Args[1].Word) {
			return fmt.Errorf("the plate %s cannot be read: %s", f.Name, f.Words)
		}
	}
	return err
}

// wasLaid remembers when a plate was laid.
func (k *Keeper) wasLaid(c desk.Command) {
	if !desk.VerbOf(c.Verb).Plates || len(c.Args) < 2 || c.Args[0].Word != "lay" {
		return
	}
	p := k.withPlates(k.update.Desk).Plate(c.Args[1].Word)
	if p == nil {
		return
	}
	k.laid[p.Name] = k.opt.Now()
	if k.opt.KeepLaid != nil {
		k.opt.KeepLaid(p.Name, k.laid[p.Name])
	}
}

// quiet is for how long windows and monitors must have come to rest before a plate is
// laid for monitors that were plugged in or pulled.
const quiet = 2 * time.Second

// monitorsChanged says which plates are of the monitors that there are now, after others,
// and has one of them laid that the settings name.
func (k *Keeper) monitorsChanged(was, now *desk.Desk) {
	if sameConnected(was, now) {
		return
	}
	k.toLay = ""
	k.readPlates(nil, func() {
		words := k.ofMonitors(k.withPlates(k.update.Desk))
		if words == "" {
			return
		}
		k.tell(Outcome{Source: Display, Result: desk.Report{Words: words}})
		k.log.Info(words)
		k.publish(k.update.Desk, words, Display)
	})
}

// ofMonitors says which plates are of the monitors that are plugged in, or which is laid
// now that they are.
func (k *Keeper) ofMonitors(now *desk.Desk) string {
	var words []string
	for _, p := range now.PlateList() {
		if p.Size != desk.OfDesk || p.Same || !now.SameMonitors(p) {
			continue
		}
		if slices.ContainsFunc(now.Settings.Lay, func(name string) bool { return strings.EqualFold(name, p.Name) }) {
			k.toLay = p.Name
			k.quiet.Reset(quiet)
			return fmt.Sprintf("The plate %s is laid when the windows have come to rest.", p.Name)
		}
		how := "plate lay " + p.Name
		if p.Letter != 0 {
			how = fmt.Sprintf("P %c", p.Letter)
		}
		words = append(words, fmt.Sprintf("%s (%s)", p.Name, how))
	}
	if len(words) == 0 {
		return ""
	}
	if more := len(words) - 3; more > 0 {
		words = append(words[:3], fmt.Sprintf("%d more", more))
	}
	return fmt.Sprintf("These are the monitors of the plate %s.", strings.Join(words, ", of "))
}

// sameConnected tells whether the same monitors are plugged in on two desks.
func sameConnected(a, b *desk.Desk) bool {
	keys := func(d *desk.Desk) (keys []string) {
		for _, m := range d.Monitors {
			if m.Connected {
				keys = append(keys, m.Key)
			}
		}
		slices.Sort(keys)
		return keys
	}
	return slices.Equal(keys(a), keys(b))
}

// stirred has a plate that waits to be laid wait longer, where windows come, go and move.
func (k *Keeper) stirred(facts []desk.Fact) {
	if k.toLay == "" {
		return
	}
	for _, f := range facts {
		switch f.(type) {
		case desk.Opened, desk.Closed, desk.Moved, desk.MonitorsAre, desk.WorkAreas:
			k.quiet.Reset(quiet)
			return
		}
	}
}

// layWaiting lays the plate that has waited for quiet, once.
func (k *Keeper) layWaiting() {
	name := k.toLay
	if k.toLay = ""; name == "" {
		return
	}
	c := desk.Command{Verb: "plate", Args: []desk.Arg{{Kind: desk.Keyword, Word: "lay"}, {Kind: desk.Name, Word: name}}}
	failed := func(o Outcome) {
		if o.Err != nil {
			k.publish(k.update.Desk, fmt.Sprintf("The plate %s could not be laid: %v.", name, o.Err), Display)
		}
	}
	k.begin(c, Display, failed)
}
