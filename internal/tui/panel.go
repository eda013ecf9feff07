package tui

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// panel lists the chosen sheet's windows, the facts of the chosen window, and
// what is lost.
func (m *model) panel(p *painter, r geom.Rect) {
	t := m.opt.Theme
	quiet, head := t.style(t.Slate), bold(t.style(t.Brass))
	col := newSidebar(p.canvas, r, quiet)
	defer func() { m.panelEnd = col.y }()
	line := col.line
	i, letter := m.workspaceAt(), m.monitorAt()
	if !m.d.Has(i, letter) {
		letter = m.sheetOf(i)
	}
	s := m.d.Sheet(i, letter)
	line(span{"SHEET " + desk.SheetRef(i, letter), head}, span{after(draw.LayoutWords(m.d, s)), quiet})
	list := append(m.d.Order(i, letter), m.d.Minimised(i, letter)...)
	lost := m.lost()
	most := max(3, r.H-len(lost)-14)
	for n, w := range list {
		if n == most-1 && len(list) > most {
			line(span{fmt.Sprintf("    and %d more", len(list)-n), quiet})
			break
		}
		m.panelRow(p, r, col.y, w)
		col.y++
	}
	if len(list) == 0 {
		line(span{" Nothing is open here.", quiet})
		line(span{" s on a window sends it here.", quiet})
	}
	col.y++
	if w := m.d.Window(m.sel.window); w != nil {
		for _, f := range m.facts(w) {
			if f != "" {
				line(span{f, t.style(t.Paper)})
			}
		}
		col.y++
	}
	if len(lost) > 0 {
		line(span{fmt.Sprintf("LOST %d", len(lost)), bold(t.style(t.Coral))}, span{" · r a brings all back", quiet})
		for n, w := range lost {
			if col.y >= r.Bottom()-1 && n < len(lost)-1 {
				line(span{fmt.Sprintf("  and %d more", len(lost)-n), quiet})
				break
			}
			name := t.style(t.Paper)
			if w.ID == m.sel.window {
				name = reverse(name)
			}
			p.stop(geom.R(r.X+1, col.y, r.W-2, 1), selection{window: w.ID})
			line(span{"! ", t.style(t.Coral)}, span{fmt.Sprintf("#%d %s", w.ID, w.App), name}, span{"  " + strings.TrimPrefix(draw.Why(m.d, w), "it lies "), quiet})
		}
	}
}

// panelRow is one window of the list: its marks, number, app and title.
func (m *model) panelRow(p *painter, r geom.Rect, y int, w *desk.Window) {
	t := m.opt.Theme
	marks := strings.TrimSpace(p.marks(w))
	marks = strings.Repeat(" ", max(0, 2-width(marks))) + fit(marks, 3) + " "
	row := t.style(t.Paper)
	if w.ID == m.sel.window {
		row = reverse(bold(t.style(t.Brass)))
	}
	title := t.style(t.Slate)
	if w.ID == m.sel.window {
		title = row
		p.fill(geom.R(r.X+1, y, r.W-2, 1), " ", row)
	}
	p.stop(geom.R(r.X+1, y, r.W-2, 1), selection{window: w.ID})
	name := fmt.Sprintf("#%d %s", w.ID, w.App)
	if m.isOwn(w) {
		name += " (these screens)"
	}
	p.spans(r.X+1, y, r.W-2, span{marks, row}, span{name, row}, span{"  " + w.Title, title})
}

// after is words that follow others; empty for none.
func after(words string) string {
	if words == "" {
		return ""
	}
	return " · " + words
}

// facts are what the panel says of the chosen window.
func (m *model) facts(w *desk.Window) []string {
	m1 := m.d.Monitor(w.Monitor)
	size := fmt.Sprintf("%d×%d at %d,%d", w.Rect.W, w.Rect.H, w.Rect.X-m1.Rect.X, w.Rect.Y-m1.Rect.Y)
	states := strings.Join(m.d.States(w), ", ")
	how := "tiled"
	if m.d.Settings.Alongside {
		how = ""
	}
	if s := m.d.Sheet(m.d.Index(w.Workspace), w.Monitor); s != nil && s.Layout == layout.Free && how != "" {
		how = "on a free sheet"
	}
	if !m.d.Tiled(w) && how == "tiled" {
		how = ""
	}
	f := []string{
		w.App,
		w.Title,
		"on " + m.d.Ref(w) + ", " + size,
		joinNonEmpty(", ", how, states),
	}
	if p := m.d.Window(w.Parent); p != nil {
		f = append(f, "a dialog of "+p.Label())
	}
	if len(w.Refused) > 0 {
		f = append(f, "refused: "+strings.Join(w.Refused, ", "))
	}
	if find := m.d.Lost(w); find.Cause != stray.None {
		rect, l := stray.Rescue(w.Lost(), m.d.Strays())
		f = append(f, "lost: "+draw.Why(m.d, w), fmt.Sprintf("r Enter brings it to %c, %d,%d", l, rect.X-m.d.Monitor(l).Rect.X, rect.Y-m.d.Monitor(l).Rect.Y))
	}
	return f
}
