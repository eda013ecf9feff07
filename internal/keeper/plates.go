package keeper

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/plate"
)

// Plates are where plates are kept. Its methods are called from the keeper's goroutine.
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
	r := request{plates: make(chan []Shelved, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.plates, nil
}

// shelf lists the plates.
func (k *Keeper) shelf() []Shelved {
	d, faults := k.withPlates(k.update.Desk)
	var list []Shelved
	for _, p := range d.PlateList() {
		list = append(list, Shelved{Plate: p, Laid: k.laid[p.Name]})
	}
	for _, f := range faults {
		list = append(list, Shelved{Fault: f})
	}
	return list
}

// withPlates is a desk with the plates as they are kept now.
func (k *Keeper) withPlates(d *desk.Desk) (*desk.Desk, []plate.Fault) {
	if k.opt.Plates == nil {
		return d, nil
	}
	plates, faults := k.opt.Plates.Read()
	return d.WithPlates(plates), faults
}

// aboutPlates tells whether a command may read or change plates.
func aboutPlates(verb string) bool { return verb == "plate" || verb == "undo" || verb == "redo" }

// faulty says of a plate that is not there that its file is at fault, where it is.
func (k *Keeper) faulty(c desk.Command, faults []plate.Fault, err error) error {
	if c.Verb != "plate" || len(c.Args) < 2 {
		return err
	}
	for _, f := range faults {
		if strings.EqualFold(f.Name, c.Args[1].Word) {
			return fmt.Errorf("the plate %s cannot be read: %s", f.Name, f.Words)
		}
	}
	return err
}

// keepPlates keeps the plates that a command has changed: those that are new first, so
// that a name is not lost between two.
func (k *Keeper) keepPlates(next *desk.Desk, r *desk.Result) error {
	if k.opt.Plates == nil {
		return nil
	}
	was, _ := k.withPlates(k.update.Desk)
	changed := next.PlatesSince(was)
	var names, gone []string
	for _, name := range slices.Sorted(maps.Keys(changed)) {
		if changed[name] == nil {
			gone = append(gone, name)
		} else {
			names = append(names, name)
		}
	}
	names = append(names, gone...)
	for i, name := range names {
		err := k.opt.Plates.Keep(name, changed[name])
		if err != nil && name == desk.BackPlate {
			r.Words += fmt.Sprintf(" What it replaced could not be kept: %v.", err)
			continue
		}
		if err == nil {
			continue
		}
		for _, done := range names[:i] { // as it was
			if undone := k.opt.Plates.Keep(done, was.Plates[done]); undone != nil {
				k.log.Error("a plate could not be put back", "plate", done, "error", undone.Error())
			}
		}
		return err
	}
	return nil
}

// wasLaid remembers when a plate was laid.
func (k *Keeper) wasLaid(c desk.Command) {
	if c.Verb != "plate" || len(c.Args) < 2 || c.Args[0].Word != "lay" {
		return
	}
	d, _ := k.withPlates(k.update.Desk)
	p := d.Plate(c.Args[1].Word)
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
func (k *Keeper) monitorsChanged(was, now *desk.Desk) string {
	if sameConnected(was, now) {
		return ""
	}
	k.toLay = ""
	d, _ := k.withPlates(now)
	var words []string
	for _, p := range d.PlateList() {
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
	if k.asking != nil {
		k.begin(c, Display, failed)
	} else {
		failed(k.do(c, Display))
	}
}
