package tui

import (
	"maps"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// overview is what screens say of a desk as a whole: what is lost, how much there is of
// what on each workspace, and how everything lies over one another. It is worked out
// once for a desk, from that of the one before, for what has changed since.
type overview struct {
	*desk.Desk
	lost    []*desk.Window // by id
	urgent  int
	counts  []draw.Counts // by index of the workspaces
	picture desk.Picture

	astray   map[int]stray.Finding // what is lost, by id
	pictures *desk.Pictures
}

// overviewOf works out the overview of a desk; was is that of an earlier one, nil for
// none, which must not be used any more.
func overviewOf(d *desk.Desk, was *overview) *overview {
	o := &overview{Desk: d, astray: map[int]stray.Finding{}, pictures: &desk.Pictures{}}
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
	o.picture = o.pictures.Of(d)
	o.count()
	return o
}

// count counts what is on each workspace.
func (o *overview) count() {
	at := make(map[int]*draw.Counts, len(o.Workspaces))
	o.counts = make([]draw.Counts, len(o.Workspaces))
	for i, ws := range o.Workspaces {
		o.counts[i].Shown = o.IsShown(ws.ID)
		at[ws.ID] = &o.counts[i]
	}
	for _, w := range o.Windows {
		c := at[w.Workspace]
		c.Windows++
		if w.Urgent {
			c.Urgent++
			o.urgent++
		}
	}
	for _, id := range slices.Sorted(maps.Keys(o.astray)) {
		w := o.Window(id)
		at[w.Workspace].Lost++
		o.lost = append(o.lost, w)
	}
}

// inUse tells whether there is anything to show of an unplugged monitor: windows that
// are lost on its place.
func (o *overview) inUse(m *desk.Monitor) bool {
	return slices.ContainsFunc(o.lost, func(w *desk.Window) bool { f := o.astray[w.ID]; return f.Cause == stray.Off && f.Was == m.Letter })
}

// overview is that of the desk there is.
func (m *model) overview() *overview {
	if m.seen == nil || m.seen.Desk != m.d {
		m.seen = overviewOf(m.d, m.seen)
	}
	return m.seen
}

// lost lists what is lost, by id.
func (m *model) lost() []*desk.Window { return m.overview().lost }

// charted is what a chart was worked out for.
type charted struct {
	desk, next *desk.Desk
	area       geom.Rect
	chosen     int
	chart      *chart
}

// keptCharts is how many charts are kept: the screens show one or two at once.
const keptCharts = 4

// chartOf is the map of the desk in an area, which is not written.
func (m *model) chartOf(area geom.Rect, chosen int) *chart {
	next := m.preview()
	want := charted{m.d, next, area, chosen, nil}
	for _, c := range m.charts {
		ch := c.chart
		if c.chart = nil; c == want {
			return ch
		}
	}
	want.chart = newChart(m.overview(), next, area, chosen)
	m.charts = append(m.charts[max(0, len(m.charts)+1-keptCharts):], want)
	return want.chart
}
