package atlasmap

import (
	"maps"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/stray"
)

// Overview is what screens say of a desk as a whole: what is lost, how much there is of
// what on each workspace, and how everything lies over one another. It is worked out
// once for a desk, from that of the one before, for what has changed since.
type Overview struct {
	*desk.Desk
	Lost    []*desk.Window // by id
	Urgent  int
	Counts  []draw.Counts // by index of the workspaces
	Picture desk.Picture

	astray   map[int]stray.Finding // what is lost, by id
	pictures *desk.Pictures
}

// OverviewOf works out the overview of a desk; was is that of an earlier one, nil for
// none, which must not be used any more.
func OverviewOf(d *desk.Desk, was *Overview) *Overview {
	o := &Overview{Desk: d, astray: map[int]stray.Finding{}, pictures: &desk.Pictures{}}
	look := func(ws []*desk.Window) {
		for _, w := range ws {
			if f := d.Lost(w); f.Cause != stray.None {
				o.astray[w.ID] = f
			}
		}
	}
	if was != nil && slices.Equal(was.Strays(), d.Strays()) {
		o.astray, o.pictures = was.astray, was.pictures
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
	o.Picture = o.pictures.Of(d)
	o.count()
	return o
}

// count counts what is on each workspace.
func (o *Overview) count() {
	at := make(map[int]*draw.Counts, len(o.Workspaces))
	o.Counts = make([]draw.Counts, len(o.Workspaces))
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

// inUse tells whether there is anything to show of an unplugged monitor: windows that
// are lost on its place.
func (o *Overview) inUse(m *desk.Monitor) bool {
	return slices.ContainsFunc(o.Lost, func(w *desk.Window) bool { f := o.astray[w.ID]; return f.Cause == stray.Off && f.Was == m.Letter })
}
