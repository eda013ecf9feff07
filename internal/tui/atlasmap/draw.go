package atlasmap

import (
	"fmt"
	"image/color"
	"strings"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/picture"
	"zatlas/internal/stray"
	"zatlas/internal/tui/cells"
)

// Painter draws an atlas on a canvas.
type Painter struct {
	*cells.Canvas
	Theme    cells.Theme
	Framed   bool // too few colours to tell windows apart without frames
	Desk     *desk.Desk
	Counts   []draw.Counts // by index of the workspaces
	Chart    *Chart
	Also     map[int]bool // chosen besides, by widening
	Selected cells.Selection
	Touched  map[int]bool // windows the last command was about
	Waits    Waits
	Tints    map[string]int
	// Picture gives a window's picture for so many cells; nil where there are none.
	Picture func(window, w, h int) (picture.Cells, bool)
}

// Tint is the ground of an app's windows.
func (p *Painter) Tint(w *desk.Window) color.Color {
	if p.Framed {
		return p.Theme.Ink
	}
	return p.Theme.Tints[p.Tints[w.App]%len(p.Theme.Tints)]
}

// Waits is what a prompt waits for, and so is lit on the map.
type Waits struct{ Workspaces, Monitors bool }

// lit is how what is waited for is written.
func lit(t cells.Theme) uv.Style { return cells.Bold(uv.Style{Fg: t.Ink, Bg: t.Brass}) }

func (p *Painter) quiet() uv.Style { return p.Theme.Style(p.Theme.Slate) }

// Draw draws the whole map: heads, bands, sheets, windows.
func (p *Painter) Draw() {
	p.heads()
	for _, b := range p.Chart.Bands {
		p.label(b)
		for _, col := range p.Chart.columns {
			p.sheet(col, b)
		}
		p.windows(b)
	}
	p.scrolled()
}

// heads names the monitors over their columns.
func (p *Painter) heads() {
	y := p.Chart.area.Y - 1
	if p.Chart.pressed {
		p.Text(p.Chart.labels.X+1, y, p.Chart.labels.W-2, "not to scale", p.quiet())
	}
	for _, col := range p.Chart.columns {
		m := col.monitor
		st := p.quiet()
		if m.Letter == p.Desk.At && m.Connected {
			st = p.Theme.Style(p.Theme.Green)
		}
		words := fmt.Sprintf(" %c · %s %d×%d ", m.Letter, m.Name, m.Rect.W, m.Rect.H)
		if p.Desk.Settings.Separate && m.Connected {
			shows := "no workspace"
			if i := p.Desk.Index(p.Desk.Shown[m.Letter-'A']); i >= 0 {
				shows = p.Desk.Title(i)
			}
			words = fmt.Sprintf(" %c · shows %s ", m.Letter, shows)
		}
		line := "─"
		switch {
		case col.folded:
			p.Text(col.x, y, col.w, fmt.Sprintf("┄ %c ┄", m.Letter), st)
			continue
		case m.Mirrors != 0:
			words, line = fmt.Sprintf(" %c · %s mirrors %c ", m.Letter, m.Name, m.Mirrors), "┄"
		case !m.Connected:
			words, line = fmt.Sprintf(" %c · %s unplugged ", m.Letter, m.Name), "┄"
		case col.over != "":
			words += "(" + col.over + ") "
		}
		words = cells.Fit(words, col.w-2)
		left := (col.w - 2 - cells.Width(words)) / 2
		right := col.w - 2 - cells.Width(words) - left
		if p.Waits.Monitors && m.Connected && left >= 0 {
			defer p.Text(col.x+2+left, y, 1, string(rune(m.Letter)), lit(p.Theme))
		}
		p.Spans(col.x, y, col.w,
			cells.Words("├"+strings.Repeat(line, max(left, 0)), st),
			cells.Words(words, cells.Bold(p.Theme.Style(p.Theme.Paper))),
			cells.Words(strings.Repeat(line, max(right, 0))+"┤", st))
	}
}

// label writes the workspace's number and name beside its band.
func (p *Painter) label(b band) {
	r := p.Chart.labels
	ws := p.Desk.Workspaces[b.Index]
	shown := p.Desk.IsShown(ws.ID)
	chosen := p.Selected == cells.Selection{Workspace: ws.ID}
	name := p.Theme.Style(p.Theme.Paper)
	if b.inset {
		name = cells.Bold(p.Theme.Style(p.Theme.Brass))
	}
	if chosen {
		name = cells.Reverse(name)
	}
	top := b.top
	if b.head >= 0 {
		top = b.head
	}
	for y := top; y < b.top+b.rows; y++ {
		switch {
		case shown:
			p.Put(r.X, y, "┃", p.Theme.Style(p.Theme.Green))
		case b.inset:
			p.Put(r.X, y, "│", p.Theme.Style(p.Theme.Brass))
		}
	}
	title := p.Desk.Title(b.Index)
	if chosen {
		title = cells.Fit(title, r.W-3)
		title += strings.Repeat(" ", max(0, r.W-3-cells.Width(title)))
	}
	p.Text(r.X+1, top, r.W-3, title, name)
	if n := b.Index + 1; p.Waits.Workspaces && n <= 9 {
		p.Text(r.X+1, top, 1, fmt.Sprint(n), lit(p.Theme))
	}
	for i, line := range p.labelLines(b.Index, b.top+b.rows-top == 2) {
		if y := top + 1 + i; y < b.top+b.rows {
			p.Spans(r.X+2, y, r.W-3, line...)
		}
	}
}

// labelLines are the lines under a workspace's title: whether it is shown, what is
// lost or urgent on it, and how many windows it has; short says in one line.
func (p *Painter) labelLines(index int, short bool) [][]cells.Span {
	quiet, counts := p.quiet(), p.Counts[index]
	shown, lost, urgent := counts.Shown, counts.Lost, counts.Urgent
	var lines [][]cells.Span
	if shown {
		lines = append(lines, []cells.Span{cells.Words("● shown", p.Theme.Style(p.Theme.Green))})
	}
	if lost > 0 {
		lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("! %d lost", lost), p.Theme.Style(p.Theme.Coral))})
	}
	if urgent > 0 {
		lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("^ %d urgent", urgent), p.Theme.Style(p.Theme.Brass))})
	}
	lines = append(lines, []cells.Span{cells.Words(draw.WindowsWord(counts.Windows), quiet)})
	if short && len(lines) > 1 {
		lines = [][]cells.Span{{}}
		for _, s := range []struct {
			on bool
			cells.Span
		}{{shown, cells.Words("● ", p.Theme.Style(p.Theme.Green))}, {lost > 0, cells.Words(fmt.Sprintf("!%d ", lost), p.Theme.Style(p.Theme.Coral))},
			{urgent > 0, cells.Words("^ ", p.Theme.Style(p.Theme.Brass))}, {true, cells.Words(draw.WindowsWord(counts.Windows), quiet)}} {
			if s.on {
				lines[0] = append(lines[0], s.Span)
			}
		}
	}
	return lines
}

// sheet draws the ground of a sheet and its caption.
func (p *Painter) sheet(col column, b band) {
	r := p.Chart.sheet(col, b)
	m := col.monitor
	if !m.Connected {
		p.unplugged(r)
		return
	}
	if !p.Desk.Has(b.Index, m.Letter) {
		p.Text(r.X+r.W/2, r.Y+(r.H-1)/2, r.W, "·", p.quiet()) // at home elsewhere
		return
	}
	ws := p.Desk.Workspaces[b.Index]
	shown := p.Desk.Shown[m.Letter-'A'] == ws.ID
	ground := uv.Style{Fg: p.Theme.Slate, Bg: p.Theme.Sea}
	if p.Framed {
		ground = p.quiet()
	}
	p.Fill(r, " ", ground)
	// What a dock keeps for itself is no room for windows.
	if work := p.Chart.onSheet(m.Work, col, b).Intersect(r); !p.Framed {
		for y := r.Y; y < r.Bottom(); y++ {
			for x := r.X; x < r.Right(); x++ {
				if !work.Has(geom.Point{X: x, Y: y}) {
					p.Put(x, y, "░", ground)
				}
			}
		}
	}
	if b.head < 0 && !p.Framed { // rows that follow at once are parted by a line
		p.Fill(geom.R(r.X, r.Y, r.W, 1), "▔", uv.Style{Fg: p.Theme.Ink, Bg: p.Theme.Sea})
	}
	if p.Framed && r.H >= 3 {
		f := cells.LightFrame
		if shown {
			f = cells.HeavyFrame
		}
		p.Box(r, f, ground, p.Theme.Ink)
	}
	if len(p.Desk.Order(b.Index, m.Letter)) == 0 && r.W > 8 {
		words := "empty"
		if b.inset && r.W > 30 && r.H > 3 {
			words = "empty: s sends a window here"
		}
		if shown && m.Letter == p.Desk.At && p.Desk.Focus == 0 && r.W > 16 {
			words, ground.Fg = "● you are here", p.Theme.Green
		}
		p.Text(r.X+(r.W-cells.Width(words))/2, r.Y+(r.H-1)/2, r.W, words, ground)
	}
	p.caption(col, b, shown)
	if (p.Selected == cells.Selection{Workspace: ws.ID, Letter: m.Letter}) {
		p.Box(r, cells.DoubleFrame, cells.Bold(uv.Style{Fg: p.Theme.Brass}), nil)
	}
}

// caption writes the sheet's reference and layout over it.
func (p *Painter) caption(col column, b band, shown bool) {
	if b.head < 0 {
		return
	}
	m := col.monitor
	s := p.Desk.Sheet(b.Index, m.Letter)
	ref := p.quiet()
	if shown {
		ref = p.Theme.Style(p.Theme.Green)
	}
	parts := []cells.Span{cells.Words(desk.SheetRef(b.Index, m.Letter), cells.Bold(ref)), cells.Words(" "+draw.LayoutWords(p.Desk, s), p.quiet())}
	if p.Desk.Settings.Separate {
		parts = append(parts, cells.Words(" · home", p.quiet()))
	}
	if hidden := p.Desk.Minimised(b.Index, m.Letter); len(hidden) > 0 {
		names := ""
		for _, w := range hidden {
			names += "  ▁ " + w.App
		}
		parts = append(parts, cells.Words(names, p.quiet()))
	}
	p.Spans(col.x, b.head, col.w, parts...)
}

// unplugged draws the place of a monitor that is not there.
func (p *Painter) unplugged(r geom.Rect) {
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X + (y-r.Y)%2*2; x < r.Right(); x += 4 {
			p.Put(x, y, "·", p.quiet())
		}
	}
}

// windows draws a band's windows in stacking order. One of which fewer than
// three cells can be seen becomes a number in the corner of what covers it.
func (p *Painter) windows(b band) {
	l := p.Chart.Layers[b.Index]
	all, visible, at := l.Windows, l.Visible, l.at
	// One that a pile or tabs cover is told by its head; any other that is chosen shows.
	hidden := func(i int) bool {
		w, r := all[i].W, all[i].rect
		return visible[i] < min(3, r.W*r.H) && (p.Selected.Window != w.ID || p.Desk.Covered(w))
	}
	heads := p.headsOf(b)
	named := map[int]bool{} // by a head
	for _, h := range heads {
		for _, id := range h.members[0].Windows {
			named[id] = true
		}
	}
	under := make([]int, len(all))
	for i, dr := range all {
		if hidden(i) && named[dr.W.ID] {
			continue
		}
		if hidden(i) {
			under[at(dr.rect.X+dr.rect.W/2, dr.rect.Y+dr.rect.H/2)]++
			continue
		}
		p.windowGround(dr.W, dr.rect, b)
	}
	// Labels come after all grounds, each in the largest part of its window that shows.
	for i, dr := range all {
		if hidden(i) {
			continue
		}
		inner, ground := p.insideOf(dr.W, dr.rect)
		if visible[i] < dr.rect.W*dr.rect.H {
			inner = roomiest(inner, func(x, y int) bool { return at(x, y) == i })
		}
		for _, h := range heads {
			inner = h.below(inner)
		}
		p.windowLabel(dr.W, dr.rect, inner, b, ground)
	}
	for i, n := range under {
		if n > 0 {
			r := all[i].rect
			words := fmt.Sprintf("+%d", n)
			p.Text(r.Right()-cells.Width(words), r.Bottom()-1, r.W, words, cells.Bold(uv.Style{Fg: p.Theme.Brass, Bg: p.Tint(all[i].W)}))
		}
	}
	p.windowChosen(b)
	for _, h := range heads { // over the frame: it hides none of them
		p.writeHeads(h)
	}
}

// windowChosen draws the chosen one's frame over what covers it, but for the words there;
// one that would hardly be seen comes to the top.
func (p *Painter) windowChosen(b band) {
	l := p.Chart.Layers[b.Index]
	all, visible, at := l.Windows, l.Visible, l.at
	for i, dr := range all {
		switch area := dr.rect.W * dr.rect.H; {
		case dr.W.ID != p.Selected.Window || visible[i] == area || p.Desk.Covered(dr.W):
		case visible[i]*3 < area || small(dr.rect):
			p.window(dr.W, dr.rect, b)
		default:
			p.BoxWhere(dr.rect, cells.DoubleFrame, cells.Bold(uv.Style{Fg: p.Theme.Brass}), p.Theme.Ink, func(x, y int) bool { return at(x, y) == i || !p.Written(x, y) })
		}
	}
}

// Marks are the glyphs of a window's states, before its label.
func (p *Painter) Marks(w *desk.Window) string {
	if s := draw.Marks(p.Desk, w); s != "" {
		return s + " "
	}
	return ""
}

// inCells measures texts as they are drawn here.
var inCells = draw.Measure{
	Width: func(s string) float64 { return float64(cells.Width(s)) },
	Cut:   func(s string, n float64) string { return cells.Fit(s, int(n)) },
}

// small tells whether a rectangle has no room for a frame and a label.
func small(r geom.Rect) bool { return r.H < 3 || r.W < 6 }

// window draws one window: its ground, its edges, its label.
func (p *Painter) window(w *desk.Window, r geom.Rect, b band) {
	p.windowGround(w, r, b)
	inner, ground := p.insideOf(w, r)
	p.windowLabel(w, r, inner, b, ground)
}

// frameOf is the frame around a window; ok is false where it is parted from others by
// its edges alone.
func (p *Painter) frameOf(w *desk.Window, r geom.Rect) (f cells.Frame, st uv.Style, ok bool) {
	small := small(r)
	switch {
	case p.isChosen(w) && !small:
		return cells.DoubleFrame, cells.Bold(p.Theme.Style(p.Theme.Brass)), true
	case w.ID == p.Desk.Focus && !small:
		return cells.HeavyFrame, cells.Bold(p.Theme.Style(p.Theme.Green)), true
	case p.Desk.Lost(w).Cause != stray.None && !small:
		return cells.LightFrame, p.Theme.Style(p.Theme.Coral), true
	case p.Framed && r.W >= 3:
		return cells.LightFrame, p.quiet(), true
	case !p.Desk.Tiled(w) && !small:
		return cells.RoundFrame, uv.Style{Fg: p.Theme.EdgeOn(p.Tint(w))}, true
	}
	return f, st, false
}

func (p *Painter) isChosen(w *desk.Window) bool { return w.ID == p.Selected.Window || p.Also[w.ID] }

// insideOf is where a window's label has room, and how it is written there.
func (p *Painter) insideOf(w *desk.Window, r geom.Rect) (inner geom.Rect, ground uv.Style) {
	ground = uv.Style{Fg: p.Theme.Paper, Bg: p.Tint(w)}
	if p.isChosen(w) && small(r) {
		ground = cells.Bold(uv.Style{Fg: p.Theme.Ink, Bg: p.Theme.Brass})
		if p.Framed {
			ground = cells.Reverse(cells.Bold(p.Theme.Style(p.Theme.Brass)))
		}
	}
	_, _, framed := p.frameOf(w, r)
	switch {
	case framed && r.H >= 3:
		return geom.R(r.X+1, r.Y+1, r.W-2, r.H-2), ground
	case framed:
		return geom.R(r.X+1, r.Y, r.W-2, r.H), ground
	case r.W > 4:
		return geom.R(r.X+1, r.Y, r.W-1, r.H), ground
	}
	return r, ground
}

// windowGround draws a window's ground and its edges.
func (p *Painter) windowGround(w *desk.Window, r geom.Rect, b band) {
	_, ground := p.insideOf(w, r)
	p.Fill(r, " ", ground)
	if f, st, framed := p.frameOf(w, r); framed {
		p.Box(r, f, st, st.Bg)
	} else {
		p.edges(w, r, b, ground.Bg)
	}
	if at, pic, ok := p.pictureOf(w, r, b); ok {
		p.Canvas.Picture(at, pic, p.isChosen(w), p.Theme)
	}
}

// titleRowFrom is from how many rows on a title that does not fit beside the app's name has a
// row of its own over a picture.
const titleRowFrom = 6

// pictureOf is the picture of a window of the chosen row, and where it is: under its label.
func (p *Painter) pictureOf(w *desk.Window, r geom.Rect, b band) (at geom.Rect, pic picture.Cells, ok bool) {
	if p.Picture == nil || !b.inset || p.Framed {
		return at, pic, false
	}
	at, _ = p.insideOf(w, r)
	rows := 1
	if at.H >= titleRowFrom && w.Title != "" && cells.Width(p.Marks(w)+w.App+"  "+w.Title) > at.W {
		rows = 2
	}
	at.Y, at.H = at.Y+rows, at.H-rows
	pic, ok = p.Picture(w.ID, at.W, at.H)
	return at, pic, ok
}

// roomiest is the part of r where a label of three lines has the most room among the free cells.
// Of equal ones it is the first from the top left.
func roomiest(r geom.Rect, free func(x, y int) bool) (best geom.Rect) {
	score := func(r geom.Rect) int { return min(r.W, 28) * min(r.H, 3) }
	for top := r.Y; top < r.Bottom(); top++ {
		all := make([]bool, r.W) // columns that are free from top on
		for i := range all {
			all[i] = true
		}
		for y := top; y < min(r.Bottom(), top+3); y++ {
			from := 0
			for i := range r.W + 1 {
				if i < r.W {
					all[i] = all[i] && free(r.X+i, y)
				}
				if i < r.W && all[i] {
					continue
				}
				if run := geom.R(r.X+from, top, i-from, y-top+1); score(run) > score(best) {
					best = run
				}
				from = i + 1
			}
		}
	}
	return best
}

// edges part a window from its neighbours by a thin line of ink.
func (p *Painter) edges(w *desk.Window, r geom.Rect, b band, ground color.Color) {
	line := uv.Style{Fg: p.Theme.Ink, Bg: ground}
	if (r.Y > b.top || b.head < 0) && r.H > 1 {
		for x := r.X; x < r.Right(); x++ {
			p.Put(x, r.Y, "▔", line)
		}
	}
	if col, ok := p.Chart.column(w.Monitor); ok && r.X == col.x {
		return // nothing lies to its left
	}
	for y := r.Y; y < r.Bottom(); y++ {
		p.Put(r.X, y, "▏", line)
	}
}

// windowLabel writes what there is room for in a part of a window: app and title, app, the
// app cut, two letters, nothing. Over a picture all is in one row.
func (p *Painter) windowLabel(w *desk.Window, whole, r geom.Rect, b band, st uv.Style) {
	lost := p.Desk.Lost(w).Cause != stray.None
	marks := p.Marks(w)
	markStyle := cells.Bold(st)
	switch loud := !p.Framed && st.Bg != p.Theme.Brass; {
	case lost && loud:
		markStyle.Fg, markStyle.Bg = p.Theme.Coral, p.Theme.Ink // on a tint it would be the weakest of all
	case w.ID == p.Desk.Focus && loud:
		markStyle.Fg, markStyle.Bg = p.Theme.Green, p.Theme.Ink
	}
	app := st
	if p.Touched[w.ID] {
		app = cells.Reverse(st)
	}
	caption := draw.NewCaption(p.Desk, w)
	if r.H < 1 || r.W < 2 {
		return
	}
	if wide := cells.Width(marks + caption.Name); lost && wide > r.W { // it is named in full
		over := p.widened(r, wide)
		if over.W < wide { // that it is lost says the most
			marks = "! "
			over = p.widened(r, cells.Width(marks+caption.Name))
		}
		at := p.Text(over.X, over.Y, over.W, marks, markStyle)
		p.Text(over.X+at, over.Y, over.W-at, caption.Name, cells.Bold(app))
		if r.H > 1 && w.Title != "" {
			p.Text(r.X, r.Y+1, r.W, w.Title, st)
		}
		return
	}
	if r.W-cells.Width(marks) < 2 {
		p.Text(r.X, r.Y, r.W, marks+caption.Name, cells.Bold(app))
		return
	}
	at := p.Text(r.X, r.Y, r.W, marks, markStyle)
	rows := r.H
	under, _, pictured := p.pictureOf(w, whole, b)
	if pictured {
		inside, _ := p.insideOf(w, whole)
		rows = min(rows, under.Y-inside.Y)
	} else if !b.inset {
		rows = min(rows, 2)
	}
	for i, line := range caption.Lines(inCells, float64(r.W), rows) {
		switch i {
		case 0:
			p.Text(r.X+at, r.Y, r.W-at, line, cells.Bold(app))
		case 1:
			p.Text(r.X, r.Y+1, r.W, line, st)
		case 2:
			facts := st
			facts.Fg = p.Theme.Slate
			if !p.Framed {
				facts.Fg = p.Theme.QuietOn(st.Bg)
			}
			p.Text(r.X, r.Y+2, r.W, line, facts)
		}
	}
}

// widened is a row for a label of some cells that begins in a rectangle, as far as the
// monitor's column has room.
func (p *Painter) widened(r geom.Rect, wide int) geom.Rect {
	for _, col := range p.Chart.columns {
		if r.X >= col.x && r.X < col.x+col.w {
			r.X = max(col.x, min(r.X, col.x+col.w-wide))
			r.W = min(wide, col.x+col.w-r.X)
		}
	}
	r.H = 1
	return r
}

// scrolled says how many workspaces there is no room for.
func (p *Painter) scrolled() {
	st := p.Theme.Style(p.Theme.Brass)
	if n := p.Chart.Above; n > 0 && len(p.Chart.Bands) > 0 {
		p.Text(p.Chart.labels.X+1, p.Chart.area.Y-1, p.Chart.labels.W-1, fmt.Sprintf("▲ %d more", n), st)
	}
	if n := p.Chart.Below; n > 0 {
		p.Text(p.Chart.labels.X+1, p.Chart.area.Bottom(), p.Chart.labels.W-1, fmt.Sprintf("▼ %d more", n), st)
	}
}

// Pencil outlines what would be different on another desk: windows that are
// elsewhere or of another size there.
func (p *Painter) Pencil(next *desk.Desk) {
	st := cells.Bold(uv.Style{Fg: p.Theme.Brass})
	for _, w := range next.Windows {
		old := p.Desk.Window(w.ID)
		if old != nil && old.Rect == w.Rect && old.Workspace == w.Workspace && old.Monitor == w.Monitor {
			continue
		}
		// The workspace may stand at another number, or not yet be there.
		index := p.Desk.Index(w.Workspace)
		if index < 0 || w.Minimised {
			continue
		}
		r, ok := p.Chart.PlaceRect(p.Desk, index, w.Monitor, w.Rect)
		if !ok || r.Empty() {
			continue
		}
		name := " " + w.App + " "
		y := p.clearRow(r, min(cells.Width(name), r.W-2))
		p.BoxWhere(r, cells.PencilFrame, st, nil, func(x, y int) bool { return !p.Written(x, y) })
		if r.W > 4 {
			p.Text(r.X+1, y, r.W-2, name, st)
		}
	}
}

// clearRow is the edge of a frame on which a name of a width covers no other: the upper one,
// else the lower one. Without either it is the upper one.
func (p *Painter) clearRow(r geom.Rect, wide int) int {
	for _, y := range []int{r.Y, r.Bottom() - 1} {
		clear := true
		for x := r.X + 1; x <= r.X+wide; x++ {
			clear = clear && !p.Written(x, y)
		}
		if clear {
			return y
		}
	}
	return r.Y
}

// Renumber pencils beside each workspace the number it would have.
func (p *Painter) Renumber(next *desk.Desk) {
	for _, b := range p.Chart.Bands {
		i := next.Index(p.Desk.Workspaces[b.Index].ID)
		if i < 0 || i == b.Index {
			continue
		}
		y := b.top
		if b.head >= 0 {
			y = b.head
		}
		r, st := p.Chart.labels, cells.Bold(p.Theme.Style(p.Theme.Brass))
		p.Fill(geom.R(r.X+1, y, r.W-1, 1), " ", st)
		p.Text(r.X+1, y, r.W-2, "→"+next.Title(i), st)
	}
}
