package tui

import (
	"fmt"
	"strings"

	"zatlas/internal/geom"
	"zatlas/internal/status"
	"zatlas/internal/tui/cells"
)

// roomForLine is from how many rows on the demo has one for the line that a keeper draws on a
// display.
const roomForLine = 30

// fitHeight gives the screens the rows of the terminal, but for that of the line.
func (m *model) fitHeight() {
	m.h = m.rowsAll
	if edge, _, _ := m.set.LineAt(false); m.opt.Simulated && edge != "none" && m.rowsAll >= roomForLine {
		m.h--
	}
}

// drawLine draws what the line of a display would say: in its middle the workspaces, in equal
// divisions; before them what you are in, after them what is lost.
func (m *model) drawLine(c *cells.Canvas) {
	t := m.opt.Theme
	l := status.Of(m.overview().Overview, m.d.At, status.Facts{})
	n := len(l.Workspaces)
	widest := 0
	for _, s := range l.Workspaces {
		widest = max(widest, cells.Width(s.Label())+8)
	}
	each := min(widest, c.W*72/100/n)
	if each < 4 {
		return
	}
	from := (c.W - n*each) / 2
	for i, s := range l.Workspaces {
		m.drawSpace(c, s, geom.R(from+i*each, 0, each, 1))
	}
	c.Text(from+n*each, 0, 1, "│", t.Style(t.Slate))
	words := []string{l.Layout, strings.Join(l.Special, " · "), l.App, l.Title, l.Place}
	c.Text(1, 0, from-2, cells.Fit(cells.JoinNonEmpty("  ", words...), from-2), t.Style(t.Paper))
	if l.Lost > 0 {
		lost := fmt.Sprintf("! %d lost", l.Lost)
		c.Text(c.W-1-cells.Width(lost), 0, c.W, lost, cells.Bold(t.Style(t.Coral)))
	}
}

// drawSpace draws a workspace of the line.
func (m *model) drawSpace(c *cells.Canvas, s status.Space, r geom.Rect) {
	t := m.opt.Theme
	st := t.Style(t.Slate)
	switch {
	case s.Current:
		st = cells.Reverse(cells.Bold(t.Style(t.Brass)))
		c.Fill(r, " ", st)
	case s.Shown:
		st = cells.Bold(t.Style(t.Green))
	case s.Windows > 0:
		st = t.Style(t.Paper)
	}
	if !s.Current {
		c.Text(r.X, 0, 1, "│", t.Style(t.Slate))
	}
	marks := strings.Repeat("'", s.Windows)
	if s.Windows > 4 {
		marks = fmt.Sprint(s.Windows)
	}
	if s.Lost > 0 {
		marks += fmt.Sprintf(" !%d", s.Lost)
	}
	if s.Urgent > 0 {
		marks += " ^"
	}
	if s.On != "" {
		marks += " " + s.On
	}
	number := fmt.Sprint(s.Number)
	room := r.W - 2 - cells.Width(number)
	name := cells.Fit(s.Name, room-cells.Width(marks)-2)
	c.Text(r.X+1, 0, r.W-1, strings.TrimRight(cells.JoinNonEmpty(" ", number, name, strings.TrimSpace(marks)), " "), st)
	c.Stops = append(c.Stops, cells.Stop{At: cells.Selection{Workspace: m.d.Workspaces[s.Number-1].ID}, Rect: geom.R(r.X, m.h, r.W, 1)})
}
