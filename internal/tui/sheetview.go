package tui

import (
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/picture"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
)

// sheetScreen is the chosen sheet at large.
type sheetScreen struct{ sheets }

// toggleSheet shows the chosen sheet at large, or the map again.
func (m *model) toggleSheet() tea.Cmd {
	if _, there := m.screen().(*sheetScreen); there {
		m.home()
		return nil
	}
	m.goTo(&sheetScreen{})
	return nil
}

func (*sheetScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.wheelRows(e)
	}
	return m.chooseUnder(msg)
}

// settle stays on the sheet where a command goes somewhere.
func (*sheetScreen) settle(m *model, r desk.Report, verb string) bool {
	if r.Goes {
		m.settleThere(r, verb)
	}
	return r.Goes
}

// sheetAt is the sheet the selection is on.
func (m *model) sheetAt() (i int, letter byte) {
	i, letter = m.workspaceAt(), m.monitorAt()
	if !m.d.Has(i, letter) {
		letter = m.sheetOf(i)
	}
	return i, letter
}

// draw draws it: its windows to scale with their sizes in pixels and per cent,
// where the next one would open, and beside it the tree.
func (*sheetScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	m.head(c)
	parts := m.parts()
	i, letter := m.sheetAt()
	s := m.d.Sheet(i, letter)
	work := m.d.Monitor(letter).Work
	area := geom.R(1, 2, c.W-2, parts.legend-4)
	if c.W >= panelFrom {
		side := min(44, c.W*3/10)
		m.sheetTree(c, geom.R(c.W-side, 1, side, parts.legend-2), i, letter)
		area.W -= side + 1
	}
	c.Spans(1, 1, area.W, cells.Words("SHEET "+desk.SheetRef(i, letter), cells.Bold(t.Style(t.Brass))),
		cells.Words(fmt.Sprintf("  %s%s · %d×%d", m.d.Title(i), after(draw.LayoutWords(m.d, s)), work.W, work.H), t.Style(t.Slate)))
	p := atlasmap.NewSheetPlane(work, area)
	c.Fill(p.Rect(work), " ", uv.Style{Fg: t.Slate, Bg: t.Sea})
	pt := &atlasmap.Painter{Canvas: c, Theme: t, Desk: m.d, Tints: m.tints, Selected: m.sel, Also: m.inGroup(), Picture: m.picture}
	var here []*desk.Window // the lowest first
	for _, placed := range m.overview().Picture.Windows {
		if w := m.d.Window(placed.ID); w.Workspace == m.d.Workspaces[i].ID && w.Monitor == letter && !w.Minimised {
			here = append(here, w)
		}
	}
	// The tiles, what would open among them, their labels, and then what floats
	// over all that.
	tiles := slices.DeleteFunc(slices.Clone(here), func(w *desk.Window) bool { return !m.d.Tiled(w) || m.d.Covered(w) })
	for _, w := range tiles {
		m.sheetWindow(c, p, pt, w)
	}
	pt.Headings(m.d.Headers(i, letter), func(r geom.Rect) geom.Rect { return p.Rect(r).Intersect(p.Area) })
	if !m.asking() {
		m.sheetNext(c, p, i, letter)
	}
	for _, w := range tiles {
		m.sheetLabel(c, p, pt, w)
	}
	for _, w := range here {
		if !m.d.Tiled(w) {
			m.sheetWindow(c, p, pt, w)
			m.sheetLabel(c, p, pt, w)
		}
	}
	if len(m.d.Order(i, letter)) == 0 {
		c.Text(area.X+2, area.Y+1, area.W-4, "Nothing is open here. s on a window sends it here, o opens an app.", uv.Style{Fg: t.Slate, Bg: t.Sea})
	}
	if next := m.preview(); next != nil {
		for _, id := range m.d.Differs(next) {
			if w := next.Window(id); w.Workspace == m.d.Workspaces[i].ID && w.Monitor == letter && !w.Minimised {
				c.Box(p.Rect(w.Rect), cells.PencilFrame, cells.Bold(t.Style(t.Brass)), nil)
			}
		}
	}
	if part, ok := m.top().(*partPrompt); ok {
		part.drawGrid(m, c, work, m.d.GridOf(letter), p.Rect)
	}
	return m.foot(c, parts)
}

// sheetWindow draws the ground and the frame of a window.
func (m *model) sheetWindow(c *cells.Canvas, p atlasmap.Plane, pt *atlasmap.Painter, w *desk.Window) {
	t := m.opt.Theme
	r := m.sheetRect(p, w)
	if r.Empty() {
		return
	}
	c.Fill(r, " ", m.groundOf(pt, w))
	c.Stop(r, cells.Selection{Window: w.ID})
	frame, edge := cells.RoundFrame, uv.Style{Fg: t.EdgeOn(pt.Tint(w))}
	if w.ID == m.sel.Window || pt.Also[w.ID] {
		frame, edge = cells.DoubleFrame, cells.Bold(t.Style(t.Brass))
	}
	if r.W >= 4 && r.H >= 2 {
		c.Box(r, frame, edge, edge.Bg)
	}
	if p, ok := m.sheetPicture(r, w); ok {
		c.Picture(geom.R(r.X+1, r.Bottom()-1-p.H, p.W, p.H), p, w.ID == m.sel.Window, t)
	}
}

// labelOver is what is written over a window's picture: its app and title. Where there is room,
// one or two rows more have its size and its place.
func (m *model) labelOver(r geom.Rect, facts []string) (rows []string) {
	if both := facts[0] + "  " + facts[1]; cells.Width(both) <= r.W-4 {
		facts = []string{both}
	}
	most := 0
	switch {
	case r.H >= 14:
		most = 2
	case r.H >= 9:
		most = 1
	}
	return facts[:min(len(facts), most)]
}

// sheetPicture is the picture of a window that is drawn in a rectangle, under its label.
func (m *model) sheetPicture(r geom.Rect, w *desk.Window) (picture.Cells, bool) {
	return m.picture(w.ID, r.W-2, r.H-3-len(m.labelOver(r, m.sizeWords(w))))
}

// sheetRect is where a window is drawn: under the row of its headings, which is
// higher than to scale.
func (m *model) sheetRect(p atlasmap.Plane, w *desk.Window) geom.Rect {
	r := p.Rect(w.Rect).Intersect(p.Area)
	for _, h := range m.d.Headers(m.d.Index(w.Workspace), w.Monitor) {
		if m.d.Tiled(w) && h.Over(w.Rect) {
			if top := p.Rect(h.Rect).Y + 1; top > r.Y && top < r.Bottom() {
				r.Y, r.H = top, r.Bottom()-top
			}
		}
	}
	return r
}

// groundOf is the colour of a window's app.
func (m *model) groundOf(pt *atlasmap.Painter, w *desk.Window) uv.Style {
	s := uv.Style{Fg: m.opt.Theme.Paper, Bg: pt.Tint(w)}
	if m.profile < colorprofile.ANSI256 {
		s.Bg = m.opt.Theme.Ink
	}
	return s
}

// sizeWords are a window's size, in pixels and per cent of the work area, and its place there.
func (m *model) sizeWords(w *desk.Window) []string {
	work := m.d.Monitor(w.Monitor).Work
	return []string{
		fmt.Sprintf("%d×%d  %d%% by %d%%", w.Rect.W, w.Rect.H, geom.Percent(w.Rect.W, work.W), geom.Percent(w.Rect.H, work.H)),
		fmt.Sprintf("at %d,%d", w.Rect.X-work.X, w.Rect.Y-work.Y),
	}
}

// sheetLabel writes what a window is and its sizes.
func (m *model) sheetLabel(c *cells.Canvas, p atlasmap.Plane, pt *atlasmap.Painter, w *desk.Window) {
	t := m.opt.Theme
	r := m.sheetRect(p, w)
	ground := m.groundOf(pt, w)
	quiet := ground
	quiet.Fg = t.QuietOn(ground.Bg)
	if m.touched[w.ID] {
		quiet.Fg = t.Brass
	}
	facts := m.sizeWords(w)
	lines := []struct {
		text  string
		style uv.Style
	}{
		{pt.Marks(w) + w.App, cells.Bold(ground)},
		{w.Title, ground},
		{facts[0], ground},
		{facts[1], quiet},
	}
	if p, ok := m.sheetPicture(r, w); ok { // the rows over it have all
		at := r.X + 2 + c.Text(r.X+2, r.Y+1, r.W-4, lines[0].text, lines[0].style)
		c.Text(at, r.Y+1, r.Right()-2-at, "  "+cells.JoinNonEmpty("  ", w.Title, m.asOf(w, p)), ground)
		for n, text := range m.labelOver(r, m.sizeWords(w)) {
			c.Text(r.X+2, r.Y+2+n, r.W-4, text, ground)
		}
		return
	}
	for n, l := range lines {
		if n < r.H-2 || n == 0 {
			c.Text(r.X+2, r.Y+min(1, r.H-1)+n, r.W-4, l.text, l.style)
		}
	}
}

// sheetNext pencils the place of a window that would open next.
func (m *model) sheetNext(c *cells.Canvas, p atlasmap.Plane, i int, letter byte) {
	at, ok := m.d.NextPlace(i, letter)
	if !ok {
		return
	}
	st := m.opt.Theme.Style(m.opt.Theme.Slate)
	r := p.Rect(at)
	c.Box(r, cells.PencilFrame, st, nil)
	words := fmt.Sprintf(" next %d×%d ", at.W, at.H)
	if r.W > cells.Width(words)+2 && r.H > 1 {
		_, under := c.At(r.X+1, r.Bottom()-1)
		st.Bg = under.Bg
		c.Text(r.X+1, r.Bottom()-1, r.W-2, words, st)
	}
}

// sheetTree writes the sheet's tree as an outline, and what floats.
func (m *model) sheetTree(c *cells.Canvas, r geom.Rect, i int, letter byte) {
	t := m.opt.Theme
	quiet := t.Style(t.Slate)
	o := outline{cells.NewSidebar(c, r, quiet), m}
	s := m.d.Sheet(i, letter)
	if m.d.Settings.Alongside {
		o.Line(cells.Words("WINDOWS", cells.Bold(t.Style(t.Brass))), cells.Words(" · the top one first", quiet))
		if s != nil {
			o.floating(s)
		}
		return
	}
	o.Line(cells.Words("TILES", cells.Bold(t.Style(t.Brass))), cells.Words(" · "+draw.LayoutWords(m.d, s), quiet))
	if s != nil && s.Tiles != nil && s.Layout != layout.Free {
		o.node(s.Tiles, 0, 0)
	} else {
		o.Line(cells.Words("none", quiet))
	}
	if s == nil || len(s.Floating) == 0 {
		return
	}
	o.Y++
	o.Line(cells.Words("FLOATING", cells.Bold(t.Style(t.Brass))), cells.Words(" · the top one first", quiet))
	o.floating(s)
}

// floating writes the windows that float on a sheet, the top one first.
func (o *outline) floating(s *desk.Sheet) {
	for _, id := range slices.Backward(s.Floating) {
		w := o.m.d.Window(id)
		o.window(0, w.ID, draw.Size(o.m.d, w))
	}
}

// outline is a sheet written in lines, one under the other.
type outline struct {
	*cells.Sidebar
	m *model
}

// window writes a window, depth groups in.
func (o *outline) window(depth, id int, more string) {
	t, w := o.m.opt.Theme, o.m.d.Window(id)
	st, quiet := t.Style(t.Paper), t.Style(t.Slate)
	if id == o.m.sel.Window {
		st = cells.Reverse(cells.Bold(t.Style(t.Brass)))
	}
	if o.m.d.Covered(w) {
		more = cells.JoinNonEmpty(" ", more, "covered")
	}
	o.Canvas.Stop(geom.R(o.Rect.X+1, o.Y, o.Rect.W-2, 1), cells.Selection{Window: id})
	o.Line(cells.Words(strings.Repeat("  ", depth), quiet), cells.Words(fmt.Sprintf("#%d %s", id, w.App), st), cells.Words("  "+more, quiet))
}

// node writes a group and its members, or a window. Of is the sum of the shares in
// the group around it, 0 where they mean nothing.
func (o *outline) node(n *layout.Node, depth, of int) {
	t := o.m.opt.Theme
	share := ""
	if of > 0 {
		share = fmt.Sprintf("%d%%", geom.Percent(n.Share, of))
	}
	if n.Split == layout.Leaf {
		o.window(depth, n.Window, share)
		return
	}
	st, in := t.Style(t.Green), o.m.inGroup()
	if ids := n.Windows(); len(ids) == len(in) && in[ids[0]] && in[ids[len(ids)-1]] {
		st = cells.Reverse(cells.Bold(t.Style(t.Brass))) // all of what is chosen
	}
	quiet, sum := t.Style(t.Slate), 0
	o.Line(cells.Words(strings.Repeat("  ", depth), quiet), cells.Words(n.Split.String(), st), cells.Words("  "+share, quiet))
	if n.Split != layout.Pile && n.Split != layout.Tabs {
		for _, k := range n.Kids {
			sum += k.Share
		}
	}
	for _, k := range n.Kids {
		o.node(k, depth+1, sum)
	}
}
