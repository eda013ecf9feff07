package tui

import (
	"fmt"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// headings writes the headings of piles and tabs: of tabs in one row, of a pile
// in a row each, under one another. Where they must fit into their place to
// scale, a pile without room for all its rows has one, of the window that shows.
func (p *painter) headings(hs []desk.Header, cells func(geom.Rect) geom.Rect, fits bool) {
	for _, h := range hs {
		strip := cells(h.Strip())
		rows := strip.H
		if fits && rows == 0 || strip.W == 0 {
			continue
		}
		r := cells(h.Rect)
		r.Y, r.H = strip.Y, 1
		switch {
		case !h.Stacked:
		case fits && rows < h.Of:
			if !h.Active {
				continue
			}
			quiet := uv.Style{Fg: p.t.Slate, Bg: p.t.Ink}
			p.fill(strip, " ", quiet)
			if rows > 1 {
				p.text(r.X+3, r.Y+1, r.W-4, fmt.Sprintf("and %d more", h.Members-1), quiet)
			}
		default:
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

// bandHeadings writes the headings of the row that is drawn in detail, where
// they have a line of their own there.
func (p *painter) bandHeadings(b band) {
	if !b.inset {
		return
	}
	for _, col := range p.ch.columns {
		if col.folded || !p.d.Has(b.index, col.monitor.Letter) {
			continue
		}
		p.headings(p.d.Headers(b.index, col.monitor.Letter), func(r geom.Rect) geom.Rect {
			out := p.ch.onSheet(r, col, b)
			below := p.ch.onSheet(geom.R(r.X, r.Bottom(), r.W, 1), col, b)
			out.H = max(below.Y-out.Y, 0)
			return out
		}, true)
	}
}
