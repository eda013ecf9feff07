package tui

import (
	"fmt"
	"slices"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// headings writes the headings of piles and tabs on a large sheet: of tabs in one row, of
// a pile in a row each, under one another.
func (p *painter) headings(hs []desk.Header, cells func(geom.Rect) geom.Rect) {
	for _, h := range hs {
		strip := cells(h.Strip())
		if strip.W == 0 {
			continue
		}
		r := cells(h.Rect)
		r.Y, r.H = strip.Y, 1
		if h.Stacked {
			r.Y += h.Place
		}
		p.heading(h, r)
	}
}

// heading writes one heading in its cells.
func (p *painter) heading(h desk.Header, r geom.Rect) {
	w := p.d.Window(h.Window)
	st := uv.Style{Fg: p.t.Slate, Bg: p.t.Ink}
	if h.Folded > 0 {
		p.fill(r, " ", st)
		p.text(r.X+1, r.Y, r.W-2, fmt.Sprintf("+%d", h.Folded), st)
		return
	}
	mark := "  "
	if h.Active {
		st, mark = bold(uv.Style{Fg: p.t.Paper, Bg: p.tint(w)}), "■ "
	}
	if w.ID == p.sel.window || p.also[w.ID] {
		st = reverse(bold(p.t.style(p.t.Brass)))
	}
	p.fill(r, " ", st)
	p.stop(r, selection{window: w.ID})
	label := mark + p.marks(w) + joinNonEmpty("  ", w.App, w.Title)
	if h.More > 0 {
		label += fmt.Sprintf("  +%d", h.More)
	}
	p.text(r.X+1, r.Y, r.W-2, label, st)
}

// heads is the row of a band in which the members of a pile or of tabs are named.
type heads struct {
	row     geom.Rect
	members []desk.Header
}

// leastHead is the least width in cells of the name of a member beside others.
const leastHead = 7

// headsOf lists the rows of heads of a band: the first one of each pile or tabs that is
// two rows high there or more, and no other pile or tabs covers.
func (p *painter) headsOf(b band) (rows []heads) {
	for _, col := range p.ch.columns {
		if col.folded || !p.d.Has(b.index, col.monitor.Letter) {
			continue
		}
		hs := p.d.Headers(b.index, col.monitor.Letter)
		for len(hs) > 0 {
			group := hs[:hs[0].Of]
			hs = hs[hs[0].Of:]
			var under geom.Rect // of the windows of the pile
			if w := p.d.Window(p.d.MostRecent(group[0].Windows)); w != nil {
				under = w.Rect
			}
			strip := group[0].Strip()
			strip.X, strip.W = group[0].Rect.X, max(under.W, group[0].Rect.W)
			whole := p.ch.onSheet(geom.Bound(strip, under), col, b).Intersect(p.ch.sheet(col, b))
			if whole.H >= 2 {
				whole.H = 1
				rows = append(rows, heads{whole, group})
			}
		}
	}
	return rows
}

// below is what a row of heads leaves of a window's inside.
func (h heads) below(inner geom.Rect) geom.Rect {
	if cut := h.row.Bottom() - inner.Y; cut > 0 && inner.Overlaps(h.row) {
		inner.Y, inner.H = inner.Y+cut, max(0, inner.H-cut)
	}
	return inner
}

// writeHeads names the members of a pile or of tabs side by side; where there is no room
// for that, the chosen one, else the one that shows, and which of how many it is.
func (p *painter) writeHeads(h heads) {
	first := h.members[0]
	chosen := slices.Contains(first.Windows, p.sel.window)
	named := slices.ContainsFunc(h.members, func(m desk.Header) bool { return m.Window == p.sel.window })
	if h.row.W/len(h.members) >= leastHead && (named || !chosen) {
		for i, m := range h.members {
			from, to := i*h.row.W/len(h.members), (i+1)*h.row.W/len(h.members)
			p.heading(m, geom.R(h.row.X+from, h.row.Y, to-from, 1))
		}
		return
	}
	at := slices.IndexFunc(h.members, func(m desk.Header) bool { return m.Active })
	one := h.members[max(at, 0)]
	if chosen {
		one.Window, one.Active, one.More = p.sel.window, one.Window == p.sel.window, 0
	}
	p.heading(one, h.row)
	count := fmt.Sprintf(" %d of %d", 1+slices.Index(first.Windows, one.Window), len(first.Windows))
	if n := width(count); h.row.W > n+leastHead {
		_, st := p.at(h.row.X+1, h.row.Y)
		p.text(h.row.Right()-n-1, h.row.Y, n+1, count+" ", st)
	}
}
