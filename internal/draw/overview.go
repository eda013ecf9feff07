package draw

import (
	"maps"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/stray"
)

// Overview is what is said of a desk as a whole: what is lost, and how much there is of what
// on each workspace. It is worked out once for a desk, from that of the one before, for what
// has changed since.
type Overview struct {
	*desk.Desk
	Lost   []*desk.Window // by id
	Urgent int
	Counts []Counts // by index of the workspaces

	astray map[int]stray.Finding // what is lost, by id
}

// OverviewOf works out the overview of a desk; was is that of an earlier one, nil for none,
// which must not be used any more. Kept tells that what was worked out for that one counts.
func OverviewOf(d *desk.Desk, was *Overview) (o *Overview, kept bool) {
	o = &Overview{Desk: d, astray: map[int]stray.Finding{}}
	look := func(ws []*desk.Window) {
		for _, w := range ws {
			if f := d.Lost(w); f.Cause != stray.None {
				o.astray[w.ID] = f
			}
		}
	}
	if kept = was != nil && slices.Equal(was.Strays(), d.Strays()); kept {
		o.astray = was.astray
		x := d.Since(was.Desk)
		for _, id := range x.Gone {
			delete(o.astray, id)
		}
		for _, w := range x.Windows {
			delete(o.astray, w.ID)
		}
		look(x.Windows)
	} else {
		look(d.Windows)
	}
	o.count()
	return o, kept
}

// count counts what is on each workspace.
func (o *Overview) count() {
	at := make(map[int]*Counts, len(o.Workspaces))
	o.Counts = make([]Counts, len(o.Workspaces))
	for i, ws := range o.Workspaces {
		o.Counts[i].Shown = o.IsShown(ws.ID)
		at[ws.ID] = &o.Counts[i]
	}
	for _, w := range o.Windows {
		c := at[w.Workspace]
		c.Windows++
		if w.Urgent {
			c.Urgent++
			o.Urgent++
		}
	}
	for _, id := range slices.Sorted(maps.Keys(o.astray)) {
		w := o.Window(id)
		at[w.Workspace].Lost++
		o.Lost = append(o.Lost, w)
	}
}

// InUse tells whether there is anything to show of an unplugged monitor: windows that are
// lost on its place.
func (o *Overview) InUse(m *desk.Monitor) bool {
	return slices.ContainsFunc(o.Lost, func(w *desk.Window) bool { f := o.astray[w.ID]; return f.Cause == stray.Off && f.Was == m.Letter })
}
