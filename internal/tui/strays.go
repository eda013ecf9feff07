package tui

import (
	"cmp"
	"fmt"
	"slices"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
	"zatlas/internal/tui/cells"
)

// strays is the screen of what is lost.
type strays struct{}

// openStrays shows what is lost, with the cursor on the first.
func (m *model) openStrays() tea.Cmd {
	m.goTo(&strays{})
	m.message = ""
	m.selectStray()
	return nil
}

// settle goes on to the next stray after one was brought back.
func (*strays) settle(m *model, _ desk.Report, verb string) bool {
	rescued := desk.VerbOf(verb).Rescues
	if rescued {
		m.selectStray()
	}
	return rescued
}

func (*strays) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return m.chooseUnder(msg)
}

func (*strays) hints(m *model) legend {
	first := []hint{{"up, down", "choose"}, {"Enter", "bring it back"}, {"r a", "all of them"}, {"n", "move it by hand"}, {"Escape", "the map"}}
	return legend{lead: m.subjectWords() + ":", first: m.verbHints(), second: append(first, m.undoHint())}
}

// selectStray chooses a lost window, where there is one.
func (m *model) selectStray() {
	lost := m.lost()
	if len(lost) > 0 && !slices.ContainsFunc(lost, func(w *desk.Window) bool { return w.ID == m.sel.Window }) {
		m.sel = cells.Selection{Window: lost[0].ID}
	}
}

// key follows a key; what is none of the screen's own is a verb's.
func (*strays) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	lost := m.lost()
	at := slices.IndexFunc(lost, func(w *desk.Window) bool { return w.ID == m.sel.Window })
	step := cmp.Or(rowStep(name, len(lost)), map[string]int{"shift+tab": -1, "tab": 1}[name])
	switch {
	case step != 0:
		if len(lost) > 0 {
			m.sel = cells.Selection{Window: lost[geom.Clamp(at+step, 0, len(lost)-1)].ID}
		}
		m.message = ""
		return nil
	case name == "enter":
		if at < 0 {
			m.say("Nothing chosen is lost.", false)
			return nil
		}
		return m.run("rescue")
	case name == "esc" || name == "!":
		m.pop()
		m.message = ""
		return nil
	}
	return m.common(k, name)
}

// draw draws the plane, and the list of what is lost beside or under it.
func (*strays) draw(m *model, c *cells.Canvas) *tea.Cursor {
	m.drawPlaneScreen(c, "STRAYS", "  windows that are lost, where they are, and where they would go", m.drawLost)
	return m.foot(c, m.parts())
}

// drawPlaneScreen draws the head and the plane, with a list beside or under it.
func (m *model) drawPlaneScreen(c *cells.Canvas, head, about string, drawList func(c *cells.Canvas, r geom.Rect)) {
	m.head(c)
	parts := m.parts()
	area := geom.R(0, 1, c.W, parts.legend-2)
	side := min(64, c.W*2/5)
	list := geom.R(c.W-side, 1, side, area.H)
	area.W -= side + 1
	if wide := m.planeBound(); c.W < panelFrom || wide.W > 3*wide.H {
		// A plane that is wide goes over the list.
		top := min(area.H/2, c.W*wide.H/max(2*wide.W, 1)+7)
		area = geom.R(0, 1, c.W, top)
		list = geom.R(0, top+1, c.W, parts.legend-2-top)
	}
	t := m.opt.Theme
	c.Spans(1, area.Y, area.W-2, cells.Words(head, cells.Bold(t.Style(t.Brass))), cells.Words(about, t.Style(t.Slate)))
	m.drawPlane(c, geom.R(area.X+1, area.Y+1, area.W-2, area.H-1), m.preview())
	drawList(c, list)
}

// planeBound is what all monitors cover, unplugged ones too.
func (m *model) planeBound() geom.Rect {
	var rects []geom.Rect
	for _, mon := range m.d.Monitors {
		rects = append(rects, mon.Rect)
	}
	return geom.Bound(rects...)
}

// leastPictured is how wide the rows of strays are where a picture is beside them.
const leastPictured = 48

// drawLost lists the strays, and then the windows that are away from home.
func (m *model) drawLost(c *cells.Canvas, r geom.Rect) {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Coral))
	y := r.Y
	var pictured geom.Rect // beside the rows, where there is room; else under them
	if m.pictured() && r.W >= 2*leastPictured {
		pictured = geom.R(r.X+r.W/2+1, r.Y+1, r.W/2-2, r.H-1)
		r.W /= 2
	}
	line := func(ss ...cells.Span) {
		if y < r.Bottom() {
			c.Spans(r.X+1, y, r.W-2, ss...)
		}
		y++
	}
	lost := m.lost()
	if len(lost) == 0 {
		line(cells.Words("NOTHING IS LOST", cells.Bold(t.Style(t.Green))))
		line(cells.Words(fmt.Sprintf("Checked: %s on every workspace, hidden ones too,", draw.WindowsWord(len(m.d.Windows))), quiet))
		line(cells.Words("against the monitors that are plugged in and their docks.", quiet))
	} else {
		line(cells.Words(fmt.Sprintf("LOST %d", len(lost)), head), cells.Words("  Enter brings one back, r a all", quiet))
	}
	at := slices.IndexFunc(lost, func(w *desk.Window) bool { return w.ID == m.sel.Window })
	away := m.away()
	// Where there is no room for three lines of each, only the chosen one has them;
	// where not even for that, the last line says how many more there are.
	lines, room := r.H-1-len(away), len(lost)
	brief := 3*room > lines
	if brief && room > lines-2 {
		room = max(lines-3, 1)
	}
	first := geom.Clamp(at-room/2, 0, max(0, len(lost)-room))
	for i := first; i < min(len(lost), first+room); i++ {
		w := lost[i]
		row := t.Style(t.Paper)
		if i == at {
			row = cells.Reverse(cells.Bold(t.Style(t.Brass)))
			c.Fill(geom.R(r.X+1, y, r.W-2, 1), " ", row)
		}
		whole, high := !brief || i == at, 1
		if whole {
			high = 3
		}
		c.Stop(geom.R(r.X+1, y, r.W-2, high), cells.Selection{Window: w.ID})
		line(cells.Words(fmt.Sprintf("! #%d %s", w.ID, w.App), row), cells.Words("  "+w.Title, row))
		if whole {
			why := draw.Why(m.d, w)
			if m.d.Lost(w).Cause == stray.Off {
				why += ", none of it shows"
			}
			line(cells.Words(fmt.Sprintf("    on %s: %s", m.d.Title(m.d.Index(w.Workspace)), why), quiet))
			line(cells.Words("    "+draw.Distance(m.d, w)+", "+draw.WouldGo(m.d, w), quiet))
		}
	}
	if left := len(lost) - first - room; left > 0 {
		line(cells.Words(fmt.Sprintf("  and %d more below", left), quiet))
	}
	for _, l := range away {
		line(l...)
	}
	if at >= 0 && pictured.Empty() {
		pictured = geom.R(r.X+1, y+1, r.W-2, r.Bottom()-y-1)
	}
	if at >= 0 {
		m.besidePicture(c, pictured, lost[at])
	}
}

// away tells of the windows that monitors which went will get back, in lines.
func (m *model) away() (lines [][]cells.Span) {
	t := m.opt.Theme
	quiet := t.Style(t.Slate)
	for _, mon := range m.d.Monitors {
		var ids []string
		for _, w := range m.d.Windows {
			if n := len(w.Away); n > 0 && !mon.Connected && w.Away[n-1].Letter == mon.Letter {
				ids = append(ids, fmt.Sprintf("#%d %s on %s", w.ID, w.App, m.d.Ref(w)))
			}
		}
		if len(ids) == 0 {
			continue
		}
		lines = append(lines, nil, []cells.Span{cells.Words(fmt.Sprintf("AWAY FROM %c", mon.Letter), cells.Bold(t.Style(t.Brass))), cells.Words(fmt.Sprintf("  %s was unplugged; they go home with it", mon.Name), quiet)})
		for i, id := range ids {
			if i == 4 && len(ids) > 5 {
				lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("    and %d more", len(ids)-i), quiet)})
				break
			}
			lines = append(lines, []cells.Span{cells.Words("    "+id, quiet)})
		}
	}
	return lines
}
