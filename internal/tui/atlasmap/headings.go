package atlasmap

import (
	"fmt"
	"slices"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// Headings writes the headings of piles and tabs on a large sheet, each group in a row.
func (p *Painter) Headings(hs []desk.Header, onScreen func(geom.Rect) geom.Rect) {
	for len(hs) > 0 {
		group := hs[:hs[0].Of]
		hs = hs[hs[0].Of:]
		row := onScreen(geom.Bound(group[0].Rect, group[len(group)-1].Rect))
		if row.H = 1; row.W > 0 {
			p.writeHeads(heads{row, group})
		}
	}
}

// heading writes one heading in its cells.
func (p *Painter) heading(h desk.Header, r geom.Rect) {
	w := p.Desk.Window(h.Window)
	st := uv.Style{Fg: p.Theme.Slate, Bg: p.Theme.Ink}
	if h.Folded > 0 {
		p.Fill(r, " ", st)
		p.Text(r.X+1, r.Y, r.W-2, fmt.Sprintf("+%d", h.Folded), st)
		return
	}
	mark := "  "
	if h.Active {
		st, mark = cells.Bold(uv.Style{Fg: p.Theme.Paper, Bg: p.Tint(w)}), "■ "
	}
	if w.ID == p.Selected.Window || p.Also[w.ID] {
		st = cells.Reverse(cells.Bold(p.Theme.Style(p.Theme.Brass)))
	}
	p.Fill(r, " ", st)
	p.Stop(r, cells.Selection{Window: w.ID})
	if h.Pile {
		mark = h.Place()
	}
	label := mark + p.Marks(w) + cells.JoinNonEmpty("  ", w.App, w.Title)
	if h.More > 0 {
		label += fmt.Sprintf("  +%d", h.More)
	}
	p.Text(r.X+1, r.Y, r.W-2, label, st)
}

// heads is the row of a band in which the members of a pile or of tabs are named.
type heads struct {
	row     geom.Rect
	members []desk.Header
}

// leastHead is the least width in cells of the name of a member beside others.
const leastHead = 7

// headsOf lists the rows of headings of a band. Each pile or tabs that is two rows high or more has
// its first row for them, if no other window covers it.
func (p *Painter) headsOf(b band) (rows []heads) {
	for _, col := range p.Chart.columns {
		if col.folded || !p.Desk.Has(b.Index, col.monitor.Letter) {
			continue
		}
		hs := p.Desk.Headers(b.Index, col.monitor.Letter)
		for len(hs) > 0 {
			group := hs[:hs[0].Of]
			hs = hs[hs[0].Of:]
			var under geom.Rect // of the windows of the pile
			if w := p.Desk.Window(p.Desk.MostRecent(group[0].Windows)); w != nil {
				under = w.Rect
			}
			strip := group[0].Rect
			strip.W = max(under.W, strip.W)
			whole := p.Chart.onSheet(geom.Bound(strip, under), col, b).Intersect(p.Chart.sheet(col, b))
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

// writeHeads names the members of tabs side by side; of a pile the chosen one, else the one
// that shows, and which of how many it is, with the edges of the others beside it. So it is
// with tabs that have no room.
func (p *Painter) writeHeads(h heads) {
	first := h.members[0]
	chosen := slices.Contains(first.Windows, p.Selected.Window)
	named := slices.ContainsFunc(h.members, func(m desk.Header) bool { return m.Window == p.Selected.Window })
	if !first.Pile && h.row.W/len(h.members) >= leastHead && (named || !chosen) {
		for i, m := range h.members {
			from, to := i*h.row.W/len(h.members), (i+1)*h.row.W/len(h.members)
			p.heading(m, geom.R(h.row.X+from, h.row.Y, to-from, 1))
		}
		return
	}
	at := max(0, slices.IndexFunc(h.members, func(m desk.Header) bool { return m.Active }))
	one := h.members[at]
	if chosen {
		if i := slices.IndexFunc(h.members, func(m desk.Header) bool { return m.Window == p.Selected.Window }); i >= 0 {
			one.Nth = h.members[i].Nth
		}
		one.Window, one.Active, one.More = p.Selected.Window, one.Window == p.Selected.Window, 0
	}
	if first.Pile {
		p.heading(one, p.pileEdges(h, at))
		return
	}
	p.heading(one, h.row)
	count := fmt.Sprintf(" %d of %d", 1+slices.Index(first.Windows, one.Window), len(first.Windows))
	if n := cells.Width(count); h.row.W > n+leastHead {
		_, st := p.At(h.row.X+1, h.row.Y)
		p.Text(h.row.Right()-n-1, h.row.Y, n+1, count+" ", st)
	}
}

// pileEdges draws the edges of the members of a pile before and after the one that shows, a cell
// each while there is room. It returns the row between them.
func (p *Painter) pileEdges(h heads, active int) geom.Rect {
	row, before, after := h.row, active, len(h.members)-1-active
	for row.W-before-after < 2*leastHead && before+after > 0 {
		if before > after {
			before--
		} else {
			after--
		}
	}
	edge := func(x int, m desk.Header, glyph string) {
		p.Text(x, row.Y, 1, glyph, uv.Style{Fg: p.Theme.Slate, Bg: p.Tint(p.Desk.Window(m.Window))})
		p.Stop(geom.R(x, row.Y, 1, 1), cells.Selection{Window: m.Window})
	}
	for i := range before {
		edge(row.X+i, h.members[active-before+i], "▏")
	}
	for i := range after {
		edge(row.Right()-after+i, h.members[active+1+i], "▕")
	}
	return geom.R(row.X+before, row.Y, row.W-before-after, 1)
}
