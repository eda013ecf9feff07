package tui

import (
	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/atlasmap"
)

// overview is that of the desk there is.
func (m *model) overview() *atlasmap.Overview {
	if m.seen == nil || m.seen.Desk != m.d {
		m.seen = atlasmap.OverviewOf(m.d, m.seen)
	}
	return m.seen
}

// lost lists what is lost, by id.
func (m *model) lost() []*desk.Window { return m.overview().Lost }

// charted is what a chart was worked out for.
type charted struct {
	desk, next *desk.Desk
	area       geom.Rect
	chosen     int
	chart      *atlasmap.Chart
}

// keptCharts is how many charts are kept: the screens show one or two at once.
const keptCharts = 4

// chartOf is the map of the desk in an area, which is not written.
func (m *model) chartOf(area geom.Rect, chosen int) *atlasmap.Chart {
	next := m.preview()
	want := charted{m.d, next, area, chosen, nil}
	for _, c := range m.charts {
		ch := c.chart
		if c.chart = nil; c == want {
			return ch
		}
	}
	want.chart = atlasmap.New(m.overview(), next, area, chosen)
	m.charts = append(m.charts[max(0, len(m.charts)+1-keptCharts):], want)
	return want.chart
}
