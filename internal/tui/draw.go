package tui

import (
	"fmt"
	"image/color"
	"strings"

	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/stray"
)

// painter draws an atlas on a canvas.
type painter struct {
	*canvas
	t       Theme
	framed  bool // too few colours to tell windows apart without frames
	d       *desk.Desk
	counts  []draw.Counts // by index of the workspaces
	ch      *chart
	also    map[int]bool // chosen besides, by widening
	sel     selection
	touched map[int]bool // windows the last command was about
	waits   waits
	tints   map[string]int
}

// tint is the ground of an app's windows.
func (p *painter) tint(w *desk.Window) color.Color {
	if p.framed {
		return p.t.Ink
	}
	return p.t.Tints[p.tints[w.App]%len(p.t.Tints)]
}

// waits is what a prompt waits for, and so is lit on the map.
type waits struct{ workspaces, monitors bool }

// lit is how what is waited for is written.
func lit(t Theme) uv.Style { return bold(uv.Style{Fg: t.Ink, Bg: t.Brass}) }

func (p *painter) quiet() uv.Style { return p.t.style(p.t.Slate) }

// atlas draws the whole map: heads, bands, sheets, windows.
func (p *painter) atlas() {
	p.heads()
	for _, b := range p.ch.bands {
		p.label(b)
		for _, col := range p.ch.columns {
			p.sheet(col, b)
		}
		p.windows(b)
	}
	p.scrolled()
}

// heads names the monitors over their columns.
func (p *painter) heads() {
	y := p.ch.area.Y - 1
	if p.ch.pressed {
		p.text(p.ch.labels.X+1, y, p.ch.labels.W-2, "not to scale", p.quiet())
	}
	for _, col := range p.ch.columns {
		m := col.monitor
		st := p.quiet()
		if m.Letter == p.d.At && m.Connected {
			st = p.t.style(p.t.Green)
		}
		words := fmt.Sprintf(" %c · %s %d×%d ", m.Letter, m.Name, m.Rect.W, m.Rect.H)
		if p.d.Settings.Separate && m.Connected {
			shows := "no workspace"
			if i := p.d.Index(p.d.Shown[m.Letter-'A']); i >= 0 {
				shows = p.d.Title(i)
			}
			words = fmt.Sprintf(" %c · shows %s ", m.Letter, shows)
		}
		line := "─"
		switch {
		case col.folded:
			p.text(col.x, y, col.w, fmt.Sprintf("┄ %c ┄", m.Letter), st)
			continue
		case m.Mirrors != 0:
			words, line = fmt.Sprintf(" %c · %s mirrors %c ", m.Letter, m.Name, m.Mirrors), "┄"
		case !m.Connected:
			words, line = fmt.Sprintf(" %c · %s unplugged ", m.Letter, m.Name), "┄"
		case col.over != "":
			words += "(" + col.over + ") "
		}
		words = fit(words, col.w-2)
		left := (col.w - 2 - width(words)) / 2
		right := col.w - 2 - width(words) - left
		if p.waits.monitors && m.Connected && left >= 0 {
			defer p.text(col.x+2+left, y, 1, string(rune(m.Letter)), lit(p.t))
		}
		p.spans(col.x, y, col.w,
			span{"├" + strings.Repeat(line, max(left, 0)), st},
			span{words, bold(p.t.style(p.t.Paper))},
			span{strings.Repeat(line, max(right, 0)) + "┤", st})
	}
}

// label writes the workspace's number and name beside its band.
func (p *painter) label(b band) {
	r := p.ch.labels
	ws := p.d.Workspaces[b.index]
	shown := p.d.IsShown(ws.ID)
	chosen := p.sel == selection{workspace: ws.ID}
	name := p.t.style(p.t.Paper)
	if b.inset {
		name = bold(p.t.style(p.t.Brass))
	}
	if chosen {
		name = reverse(name)
	}
	top := b.top
	if b.head >= 0 {
		top = b.head
	}
	for y := top; y < b.top+b.rows; y++ {
		switch {
		case shown:
			p.put(r.X, y, "┃", p.t.style(p.t.Green))
		case b.inset:
			p.put(r.X, y, "│", p.t.style(p.t.Brass))
		}
	}
	title := p.d.Title(b.index)
	if chosen {
		title = fit(title, r.W-3)
		title += strings.Repeat(" ", max(0, r.W-3-width(title)))
	}
	p.text(r.X+1, top, r.W-3, title, name)
	if n := b.index + 1; p.waits.workspaces && n <= 9 {
		p.text(r.X+1, top, 1, fmt.Sprint(n), lit(p.t))
	}
	for i, line := range p.labelLines(b.index, b.top+b.rows-top == 2) {
		if y := top + 1 + i; y < b.top+b.rows {
			p.spans(r.X+2, y, r.W-3, line...)
		}
	}
}

// labelLines are the lines under a workspace's title: whether it is shown, what is
// lost or urgent on it, and how many windows it has; short says in one line.
func (p *painter) labelLines(index int, short bool) [][]span {
	quiet, counts := p.quiet(), p.counts[index]
	shown, lost, urgent := counts.Shown, counts.Lost, counts.Urgent
	var lines [][]span
	if shown {
		lines = append(lines, []span{{"● shown", p.t.style(p.t.Green)}})
	}
	if lost > 0 {
		lines = append(lines, []span{{fmt.Sprintf("! %d lost", lost), p.t.style(p.t.Coral)}})
	}
	if urgent > 0 {
		lines = append(lines, []span{{fmt.Sprintf("^ %d urgent", urgent), p.t.style(p.t.Brass)}})
	}
	lines = append(lines, []span{{draw.WindowsWord(counts.Windows), quiet}})
	if short && len(lines) > 1 {
		lines = [][]span{{}}
		for _, s := range []struct {
			on bool
			span
		}{{shown, span{"● ", p.t.style(p.t.Green)}}, {lost > 0, span{fmt.Sprintf("!%d ", lost), p.t.style(p.t.Coral)}},
			{urgent > 0, span{"^ ", p.t.style(p.t.Brass)}}, {true, span{draw.WindowsWord(counts.Windows), quiet}}} {
			if s.on {
				lines[0] = append(lines[0], s.span)
			}
		}
	}
	return lines
}

// sheet draws the ground of a sheet and its caption.
func (p *painter) sheet(col column, b band) {
	r := p.ch.sheet(col, b)
	m := col.monitor
	if !m.Connected {
		p.unplugged(r)
		return
	}
	if !p.d.Has(b.index, m.Letter) {
		p.text(r.X+r.W/2, r.Y+(r.H-1)/2, r.W, "·", p.quiet()) // at home elsewhere
		return
	}
	ws := p.d.Workspaces[b.index]
	shown := p.d.Shown[m.Letter-'A'] == ws.ID
	ground := uv.Style{Fg: p.t.Slate, Bg: p.t.Sea}
	if p.framed {
		ground = p.quiet()
	}
	p.fill(r, " ", ground)
	// What a dock keeps for itself is no room for windows.
	if work := p.ch.onSheet(m.Work, col, b).Intersect(r); !p.framed {
		for y := r.Y; y < r.Bottom(); y++ {
			for x := r.X; x < r.Right(); x++ {
				if !work.Has(geom.Point{X: x, Y: y}) {
					p.put(x, y, "░", ground)
				}
			}
		}
	}
	if b.head < 0 && !p.framed { // rows that follow at once are parted by a line
		p.fill(geom.R(r.X, r.Y, r.W, 1), "▔", uv.Style{Fg: p.t.Ink, Bg: p.t.Sea})
	}
	if p.framed && r.H >= 3 {
		f := lightFrame
		if shown {
			f = heavyFrame
		}
		p.box(r, f, ground, p.t.Ink)
	}
	if len(p.d.Order(b.index, m.Letter)) == 0 && r.W > 8 {
		words := "empty"
		if b.inset && r.W > 30 && r.H > 3 {
			words = "empty: s sends a window here"
		}
		if shown && m.Letter == p.d.At && p.d.Focus == 0 && r.W > 16 {
			words, ground.Fg = "● you are here", p.t.Green
		}
		p.text(r.X+(r.W-width(words))/2, r.Y+(r.H-1)/2, r.W, words, ground)
	}
	p.caption(col, b, shown)
	if (p.sel == selection{workspace: ws.ID, letter: m.Letter}) {
		p.box(r, doubleFrame, bold(uv.Style{Fg: p.t.Brass}), nil)
	}
}

// caption writes the sheet's reference and layout over it.
func (p *painter) caption(col column, b band, shown bool) {
	if b.head < 0 {
		return
	}
	m := col.monitor
	s := p.d.Sheet(b.index, m.Letter)
	ref := p.quiet()
	if shown {
		ref = p.t.style(p.t.Green)
	}
	parts := []span{{desk.SheetRef(b.index, m.Letter), bold(ref)}, {" " + draw.LayoutWords(p.d, s), p.quiet()}}
	if p.d.Settings.Separate {
		parts = append(parts, span{" · home", p.quiet()})
	}
	if hidden := p.d.Minimised(b.index, m.Letter); len(hidden) > 0 {
		names := ""
		for _, w := range hidden {
			names += "  ▁ " + w.App
		}
		parts = append(parts, span{names, p.quiet()})
	}
	p.spans(col.x, b.head, col.w, parts...)
}

// unplugged draws the place of a monitor that is not there.
func (p *painter) unplugged(r geom.Rect) {
	for y := r.Y; y < r.Bottom(); y++ {
		for x := r.X + (y-r.Y)%2*2; x < r.Right(); x += 4 {
			p.put(x, y, "·", p.quiet())
		}
	}
}

// windows draws a band's windows in stacking order. One of which fewer than
// three cells can be seen becomes a number in the corner of what covers it.
func (p *painter) windows(b band) {
	l := p.ch.layers[b.index]
	all, visible, at := l.windows, l.visible, l.at
	// One that a pile or tabs cover is told by its head; any other that is chosen shows.
	hidden := func(i int) bool {
		w, r := all[i].w, all[i].rect
		return visible[i] < min(3, r.W*r.H) && (p.sel.window != w.ID || p.d.Covered(w))
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
		if hidden(i) && named[dr.w.ID] {
			continue
		}
		if hidden(i) {
			under[at(dr.rect.X+dr.rect.W/2, dr.rect.Y+dr.rect.H/2)]++
			continue
		}
		p.windowGround(dr.w, dr.rect, b)
	}
	// Labels come after all grounds, each in the largest part of its window that shows.
	for i, dr := range all {
		if hidden(i) {
			continue
		}
		inner, ground := p.insideOf(dr.w, dr.rect)
		if visible[i] < dr.rect.W*dr.rect.H {
			inner = roomiest(inner, func(x, y int) bool { return at(x, y) == i })
		}
		for _, h := range heads {
			inner = h.below(inner)
		}
		p.windowLabel(dr.w, inner, b, ground)
	}
	for i, n := range under {
		if n > 0 {
			r := all[i].rect
			words := fmt.Sprintf("+%d", n)
			p.text(r.Right()-width(words), r.Bottom()-1, r.W, words, bold(uv.Style{Fg: p.t.Brass, Bg: p.tint(all[i].w)}))
		}
	}
	// The chosen one's frame is seen over what covers it, but for the words there;
	// one that would hardly be seen comes to the top.
	for i, dr := range all {
		switch area := dr.rect.W * dr.rect.H; {
		case dr.w.ID != p.sel.window || visible[i] == area || p.d.Covered(dr.w):
		case visible[i]*3 < area || small(dr.rect):
			p.window(dr.w, dr.rect, b)
		default:
			p.boxWhere(dr.rect, doubleFrame, bold(uv.Style{Fg: p.t.Brass}), nil, func(x, y int) bool { return at(x, y) == i || !p.written(x, y) })
		}
	}
	for _, h := range heads { // over the frame: it hides none of them
		p.writeHeads(h)
	}
}

// marks are the glyphs of a window's states, before its label.
func (p *painter) marks(w *desk.Window) string {
	if s := draw.Marks(p.d, w); s != "" {
		return s + " "
	}
	return ""
}

// cells measures texts as they are drawn here.
var cells = draw.Measure{
	Width: func(s string) float64 { return float64(width(s)) },
	Cut:   func(s string, n float64) string { return fit(s, int(n)) },
}

// small tells whether a rectangle has no room for a frame and a label.
func small(r geom.Rect) bool { return r.H < 3 || r.W < 6 }

// window draws one window: its ground, its edges, its label.
func (p *painter) window(w *desk.Window, r geom.Rect, b band) {
	p.windowGround(w, r, b)
	inner, ground := p.insideOf(w, r)
	p.windowLabel(w, inner, b, ground)
}

// frameOf is the frame around a window; ok is false where it is parted from others by
// its edges alone.
func (p *painter) frameOf(w *desk.Window, r geom.Rect) (f frame, st uv.Style, ok bool) {
	small := small(r)
	switch {
	case p.isChosen(w) && !small:
		return doubleFrame, bold(uv.Style{Fg: p.t.Brass}), true
	case w.ID == p.d.Focus && !small:
		return heavyFrame, bold(uv.Style{Fg: p.t.Green}), true
	case p.d.Lost(w).Cause != stray.None && !small:
		return lightFrame, uv.Style{Fg: p.t.Coral}, true
	case p.framed && r.W >= 3:
		return lightFrame, p.quiet(), true
	case !p.d.Tiled(w) && !small:
		return roundFrame, uv.Style{Fg: p.t.Slate}, true
	}
	return f, st, false
}

func (p *painter) isChosen(w *desk.Window) bool { return w.ID == p.sel.window || p.also[w.ID] }

// insideOf is where a window's label has room, and how it is written there.
func (p *painter) insideOf(w *desk.Window, r geom.Rect) (inner geom.Rect, ground uv.Style) {
	ground = uv.Style{Fg: p.t.Paper, Bg: p.tint(w)}
	if p.isChosen(w) && small(r) {
		ground = bold(uv.Style{Fg: p.t.Ink, Bg: p.t.Brass})
		if p.framed {
			ground = reverse(bold(p.t.style(p.t.Brass)))
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
func (p *painter) windowGround(w *desk.Window, r geom.Rect, b band) {
	_, ground := p.insideOf(w, r)
	p.fill(r, " ", ground)
	if f, st, framed := p.frameOf(w, r); framed {
		p.box(r, f, st, nil)
	} else {
		p.edges(w, r, b, ground.Bg)
	}
}

// roomiest is the part of r in which a label of three lines has the most room, of the
// cells for which free is true: of equal ones the first from the top left.
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
func (p *painter) edges(w *desk.Window, r geom.Rect, b band, ground color.Color) {
	line := uv.Style{Fg: p.t.Ink, Bg: ground}
	if (r.Y > b.top || b.head < 0) && r.H > 1 {
		for x := r.X; x < r.Right(); x++ {
			p.put(x, r.Y, "▔", line)
		}
	}
	if col, ok := p.ch.column(w.Monitor); ok && r.X == col.x {
		return // nothing lies to its left
	}
	for y := r.Y; y < r.Bottom(); y++ {
		p.put(r.X, y, "▏", line)
	}
}

// windowLabel writes what there is room for: app and title, app, the app cut,
// two letters, nothing.
func (p *painter) windowLabel(w *desk.Window, r geom.Rect, b band, st uv.Style) {
	lost := p.d.Lost(w).Cause != stray.None
	marks := p.marks(w)
	markStyle := bold(st)
	switch loud := !p.framed && st.Bg != p.t.Brass; {
	case lost && loud:
		markStyle.Fg = p.t.Coral
	case w.ID == p.d.Focus && loud:
		markStyle.Fg = p.t.Green
	}
	app := st
	if p.touched[w.ID] {
		app = reverse(st)
	}
	caption := draw.NewCaption(p.d, w)
	if r.H < 1 || r.W < 2 {
		return
	}
	if r.W-width(marks) < 2 {
		p.text(r.X, r.Y, r.W, marks+caption.Name, bold(app))
		return
	}
	at := p.text(r.X, r.Y, r.W, marks, markStyle)
	rows := r.H
	if !b.inset {
		rows = min(rows, 2)
	}
	for i, line := range caption.Lines(cells, float64(r.W), rows) {
		switch i {
		case 0:
			p.text(r.X+at, r.Y, r.W-at, line, bold(app))
		case 1:
			p.text(r.X, r.Y+1, r.W, line, st)
		case 2:
			facts := st
			facts.Fg = p.t.Slate
			if !p.framed {
				facts.Fg = p.t.quietOn(st.Bg)
			}
			p.text(r.X, r.Y+2, r.W, line, facts)
		}
	}
}

// scrolled says how many workspaces there is no room for.
func (p *painter) scrolled() {
	st := p.t.style(p.t.Brass)
	if n := p.ch.above; n > 0 && len(p.ch.bands) > 0 {
		p.text(p.ch.labels.X+1, p.ch.area.Y-1, p.ch.labels.W-1, fmt.Sprintf("▲ %d more", n), st)
	}
	if n := p.ch.below; n > 0 {
		p.text(p.ch.labels.X+1, p.ch.area.Bottom(), p.ch.labels.W-1, fmt.Sprintf("▼ %d more", n), st)
	}
}

// pencil outlines what would be different on another desk: windows that are
// elsewhere or of another size there.
func (p *painter) pencil(next *desk.Desk) {
	st := bold(uv.Style{Fg: p.t.Brass})
	for _, w := range next.Windows {
		old := p.d.Window(w.ID)
		if old != nil && old.Rect == w.Rect && old.Workspace == w.Workspace && old.Monitor == w.Monitor {
			continue
		}
		// The workspace may stand at another number, or not yet be there.
		index := p.d.Index(w.Workspace)
		if index < 0 || w.Minimised {
			continue
		}
		r, ok := p.ch.placeRect(p.d, index, w.Monitor, w.Rect)
		if !ok || r.Empty() {
			continue
		}
		p.box(r, pencilFrame, st, nil)
		if r.W > 4 {
			p.text(r.X+1, r.Y, r.W-2, " "+w.App+" ", st)
		}
	}
}
