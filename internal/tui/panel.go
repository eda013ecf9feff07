package tui

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// panel lists the chosen sheet's windows, the facts of the chosen window, and
// what is lost.
func (m *model) panel(p *atlasmap.Painter, r geom.Rect) {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	col := cells.NewSidebar(p.Canvas, r, quiet)
	defer func() { m.panelEnd = col.Y }()
	line := col.Line
	i, letter := m.workspaceAt(), m.monitorAt()
	if !m.d.Has(i, letter) {
		letter = m.sheetOf(i)
	}
	s := m.d.Sheet(i, letter)
	line(cells.Words("SHEET "+desk.SheetRef(i, letter), head), cells.Words(after(draw.LayoutWords(m.d, s)), quiet))
	list := append(m.d.Order(i, letter), m.d.Minimised(i, letter)...)
	lost := m.lost()
	most := max(3, r.H-len(lost)-14)
	for n, w := range list {
		if n == most-1 && len(list) > most {
			line(cells.Words(fmt.Sprintf("    and %d more", len(list)-n), quiet))
			break
		}
		m.panelRow(p, r, col.Y, w)
		col.Y++
	}
	if len(list) == 0 {
		line(cells.Words(" Nothing is open here.", quiet))
		line(cells.Words(" s on a window sends it here.", quiet))
	}
	col.Y++
	if w := m.d.Window(m.sel.Window); w != nil {
		for _, f := range m.facts(w) {
			if f != "" {
				line(cells.Words(f, t.Style(t.Paper)))
			}
		}
		col.Y++
	}
	if len(lost) > 0 {
		line(cells.Words(fmt.Sprintf("LOST %d", len(lost)), cells.Bold(t.Style(t.Coral))), cells.Words(" · r a brings all back", quiet))
		for n, w := range lost {
			if col.Y >= r.Bottom()-1 && n < len(lost)-1 {
				line(cells.Words(fmt.Sprintf("  and %d more", len(lost)-n), quiet))
				break
			}
			name := t.Style(t.Paper)
			if w.ID == m.sel.Window {
				name = cells.Reverse(name)
			}
			p.Stop(geom.R(r.X+1, col.Y, r.W-2, 1), cells.Selection{Window: w.ID})
			line(cells.Words("! ", t.Style(t.Coral)), cells.Words(fmt.Sprintf("#%d %s", w.ID, w.App), name), cells.Words("  "+strings.TrimPrefix(draw.Why(m.d, w), "it lies "), quiet))
		}
	}
}

// panelRow is one window of the list: its marks, number, app and title.
func (m *model) panelRow(p *atlasmap.Painter, r geom.Rect, y int, w *desk.Window) {
	t := m.opt.Theme
	marks := strings.TrimSpace(p.Marks(w))
	marks = strings.Repeat(" ", max(0, 2-cells.Width(marks))) + cells.Fit(marks, 3) + " "
	row := t.Style(t.Paper)
	if w.ID == m.sel.Window {
		row = cells.Reverse(cells.Bold(t.Style(t.Brass)))
	}
	title := t.Style(t.Slate)
	if w.ID == m.sel.Window {
		title = row
		p.Fill(geom.R(r.X+1, y, r.W-2, 1), " ", row)
	}
	p.Stop(geom.R(r.X+1, y, r.W-2, 1), cells.Selection{Window: w.ID})
	name := fmt.Sprintf("#%d %s", w.ID, w.App)
	if m.isOwn(w) {
		name += " (these screens)"
	}
	p.Spans(r.X+1, y, r.W-2, cells.Words(marks, row), cells.Words(name, row), cells.Words("  "+w.Title, title))
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
		cells.JoinNonEmpty(", ", how, states),
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
