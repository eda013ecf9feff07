package render

import (
	"fmt"
	"slices"
	"strings"

	"gonum.org/v1/plot/vg"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
)

// The sizes of an atlas, in points.
const (
	headHigh    = 16 // the names of the monitors
	captionHigh = 10 // over each sheet
	rowGap      = 6
	columnGap   = 8
	captionSize = 6.5
	labelSize   = 7
)

// board is an atlas laid out on a page, in true proportion: one scale for all.
type board struct {
	a     *draw.Atlas
	area  box
	label float64   // the width of the workspaces' titles
	scale float64   // points for a pixel
	x     []float64 // of the columns
	y     []float64 // of the rows, under their captions
}

func newBoard(a *draw.Atlas, area box) *board {
	b := &board{a: a, area: area, label: min(max(area.w/7, 54), 110)}
	wide, tall := 0, 1
	for _, c := range a.Columns {
		wide += c.Rect.W
		tall = max(tall, c.Rect.H)
	}
	n := float64(len(a.Rows))
	across := (area.w - b.label - columnGap*float64(max(len(a.Columns)-1, 0))) / float64(max(wide, 1))
	down := ((area.h-headHigh+rowGap)/max(n, 1) - captionHigh - rowGap) / float64(tall)
	b.scale = max(min(across, down), 1.0/500)
	x := area.x + b.label
	for _, c := range a.Columns {
		b.x = append(b.x, x)
		x += float64(c.Rect.W)*b.scale + columnGap
	}
	for i := range a.Rows {
		b.y = append(b.y, area.y+headHigh+captionHigh+float64(i)*(float64(tall)*b.scale+captionHigh+rowGap))
	}
	return b
}

// rect is where a rectangle of the plane lies on the page, on the sheet of a row and
// a column.
func (b *board) rect(row, col int, r geom.Rect) box {
	m := b.a.Columns[col].Rect
	return box{b.x[col] + float64(r.X-m.X)*b.scale, b.y[row] + float64(r.Y-m.Y)*b.scale, float64(r.W) * b.scale, float64(r.H) * b.scale}
}

// sheetFrame is how a sheet is drawn: place gives the place of a rectangle of the plane.
type sheetFrame struct {
	*draw.Sheet
	place func(geom.Rect) box
	large bool // with sizes in its labels
}

// draw draws the atlas.
func (b *board) draw(p *pen) {
	t := p.Theme
	for i, c := range b.a.Columns {
		w, y := float64(c.Rect.W)*b.scale, b.area.y+8
		colour := t.Slate
		if c.Connected {
			colour = t.Green
		}
		name := p.Fonts.cut(true, labelSize, c.Name, w)
		p.bold(b.x[i]+(w-p.Fonts.width(true, labelSize, name))/2, y, labelSize, colour, name)
		p.stroke(0.8, colour, b.x[i], y+4, b.x[i]+w, y+4)
	}
	for i, r := range b.a.Rows {
		p.begin("Workspace "+r.Title, r.Facts)
		b.rowLabel(p, i, r)
		for k := range r.Sheets {
			s := &r.Sheets[k]
			p.sheet(sheetFrame{s, func(r geom.Rect) box { return b.rect(i, k, r) }, false})
		}
		p.end()
	}
}

func (b *board) rowLabel(p *pen, i int, r draw.Row) {
	t, y := p.Theme, b.y[i]
	if r.Shown {
		high := 0.0
		for k := range b.a.Columns {
			high = max(high, b.rect(i, k, b.a.Columns[k].Rect).h)
		}
		p.fill(b.area.x, y, 2, high, t.Green)
	}
	y += labelSize
	for _, line := range p.Fonts.wrap(true, labelSize+1, r.Title, b.label-14) {
		p.bold(b.area.x+6, y, labelSize+1, t.Paper, line)
		y += labelSize + 3
	}
	for _, line := range p.Fonts.wrap(false, captionSize, r.Facts, b.label-14) {
		p.write(b.area.x+6, y, captionSize, t.Slate, line)
		y += captionSize + 2
	}
}

// sheet draws a sheet: its ground, what docks keep, its windows, its caption.
func (p *pen) sheet(s sheetFrame) {
	t, all := p.Theme, s.place(s.Rect)
	if s.Ref == "" && s.Connected {
		p.fill(all.x+all.w/2-1, all.y+all.h/2-1, 2, 2, t.Slate) // at home elsewhere
		return
	}
	title := s.Title
	if !s.Connected {
		title = "the place of a monitor that is unplugged"
	}
	p.begin(title, fmt.Sprintf("%s, %d×%d", desk.Counted(len(s.Boxes), "window"), s.Rect.W, s.Rect.H))
	defer p.end()
	if s.Connected {
		p.fill(all.x, all.y, all.w, all.h, t.Sea)
		p.docks(all, s.place(s.Work))
		p.caption(s, all)
	} else {
		p.frame(all, 0.6, t.Slate, 1, 3)
	}
	for i := range s.Boxes {
		p.window(&s.Boxes[i], s)
	}
	for _, h := range s.Heads {
		r := s.place(h.Rect)
		p.fill(r.x, r.y, r.w, r.h, t.Ink)
		p.frame(r, 0.4, t.Slate)
		size := min(captionSize, r.h-1)
		if size >= 3 {
			p.write(r.x+2, r.y+r.h-(r.h-size*0.7)/2, size, t.Paper, p.Fonts.cut(false, size, map[bool]string{true: "■ ", false: ""}[h.Active]+h.Name, r.w-4))
		}
	}
	if s.Connected {
		edge, width := t.Slate, 0.6
		if s.Shown {
			edge, width = t.Green, 1.2
		}
		p.frame(all, width, edge)
	}
	if len(s.Boxes) == 0 && s.Connected {
		p.write(all.x+all.w/2-p.wide(labelSize, "empty")/2, all.y+all.h/2+2, labelSize, t.Slate, "empty")
	}
}

// docks hatches what docks keep of a monitor for themselves.
func (p *pen) docks(all, work box) {
	for _, d := range []box{
		{all.x, all.y, all.w, work.y - all.y},
		{all.x, work.y + work.h, all.w, all.y + all.h - work.y - work.h},
		{all.x, work.y, work.x - all.x, work.h},
		{work.x + work.w, work.y, all.x + all.w - work.x - work.w, work.h},
	} {
		if d.w < 0.2 || d.h < 0.2 {
			continue
		}
		if d.w > d.h {
			for x := d.x + 2; x < d.x+d.w; x += 4 {
				p.stroke(0.4, p.Theme.Slate, x, d.y, x, d.y+d.h)
			}
		} else {
			for y := d.y + 2; y < d.y+d.h; y += 4 {
				p.stroke(0.4, p.Theme.Slate, d.x, y, d.x+d.w, y)
			}
		}
	}
}

// caption writes the reference and the layout over a sheet, and what is minimised.
func (p *pen) caption(s sheetFrame, all box) {
	t := p.Theme
	y, ref := all.y-3, t.Slate
	if s.Shown {
		ref = t.Green
	}
	p.bold(all.x, y, captionSize, ref, s.Ref)
	x := all.x + p.Fonts.width(true, captionSize, s.Ref) + 4
	p.write(x, y, captionSize, t.Slate, p.Fonts.cut(false, captionSize, s.Layout, all.x+all.w-x))
	x += p.wide(captionSize, s.Layout) + 8
	for _, m := range s.Minimised {
		p.begin(heading(&m), m.Says)
		if room := all.x + all.w - x; room > 10 {
			words := p.Fonts.cut(false, captionSize, "▁ "+m.Name, room)
			p.write(x, y, captionSize, t.Slate, words)
			x += p.wide(captionSize, words) + 6
		}
		p.end()
	}
}

// heading is what a window is called where it is read aloud.
func heading(b *draw.Box) string {
	if b.Title == "" || b.Title == b.Name {
		return b.Name
	}
	return b.Name + " · " + b.Title
}

// window draws a window as far as it lies on the sheet; one that lies beyond is a
// mark at the edge.
func (p *pen) window(b *draw.Box, s sheetFrame) {
	t := p.Theme
	p.begin(heading(b), b.Says)
	defer p.end()
	seen := b.Rect.Intersect(s.Rect)
	if seen.Empty() {
		p.beyond(b, s)
		return
	}
	r := s.place(seen)
	p.fill(r.x, r.y, r.w, r.h, t.Tint(b.Tint))
	edge, width, dash := t.Ink, 0.8, []vg.Length(nil)
	switch {
	case b.Lost != "":
		edge, width, dash = t.Coral, 1.1, []vg.Length{3, 1.5}
	case b.Focused:
		edge, width = t.Green, 1.6
	case b.Floats:
		edge = t.Slate
	}
	p.frame(box{r.x + width/2, r.y + width/2, max(r.w-width, 0), max(r.h-width, 0)}, width, edge, dash...)
	p.label(b, r, s.large)
}

// label writes as much of a window's caption as it has room for.
func (p *pen) label(b *draw.Box, r box, large bool) {
	t, size := p.Theme, float64(labelSize)
	if large {
		size = 9
	}
	const pad = 3
	line := size * 1.25
	lines := b.Lines(p.measure(size), r.w-2*pad, int((r.h-2)/line))
	x, y := r.x+pad, r.y+1+size
	if len(lines) == 0 {
		return
	}
	marks := t.Green
	if b.Lost != "" {
		marks = t.Coral
	}
	if b.Marks != "" {
		p.bold(x, y, size, marks, b.Marks)
		x += p.Fonts.width(true, size, b.Marks+" ")
	}
	p.bold(x, y, size, t.Paper, lines[0])
	for i, text := range lines[1:] {
		y += line
		p.write(r.x+pad, y, size, t.Paper, text)
		if i == 1 && large && y+line < r.y+r.h {
			p.write(r.x+pad, y+line, size, t.Paper, fmt.Sprintf("#%d at %d,%d", b.ID, b.Rect.X, b.Rect.Y))
		}
	}
}

// beyond marks a window that lies on no monitor at the edge nearest to it.
func (p *pen) beyond(b *draw.Box, s sheetFrame) {
	t, all := p.Theme, s.place(s.Rect)
	words := fmt.Sprintf("! #%d %s", b.ID, b.Name)
	w := min(p.Fonts.width(true, captionSize, words)+6, all.w)
	c := s.place(geom.R(b.Rect.Center().X, b.Rect.Center().Y, 1, 1))
	r := box{min(max(c.x-w/2, all.x), all.x+all.w-w), min(max(c.y-5, all.y), all.y+all.h-10), w, 10}
	p.fill(r.x, r.y, r.w, r.h, t.Tint(b.Tint))
	p.frame(r, 1, t.Coral, 3, 1.5)
	p.bold(r.x+3, r.y+7.5, captionSize, t.Paper, p.Fonts.cut(true, captionSize, words, w-6))
}

// title writes the head of a page, and gives the y under it.
func (p *pen) title(head, about string) float64 {
	p.bold(margin, margin+8, 13, p.Theme.Brass, p.Fonts.cut(true, 13, head, p.Paper.W-2*margin))
	y := float64(margin + 8)
	for _, line := range p.Fonts.wrap(false, 8, about, p.Paper.W-2*margin) {
		y += 11
		p.write(margin, y, 8, p.Theme.Slate, line)
	}
	return y + 12
}

// under is the room of a page under its title.
func (p *pen) under(y float64) box {
	return box{margin, y, p.Paper.W - 2*margin, p.Paper.H - y - margin}
}

// rowsOfPage is how many workspaces stand on one page of a book.
const rowsOfPage = 8

// Atlas is the drawing of every sheet of a desk.
func Atlas(d *desk.Desk, name string) *Drawing {
	a, facts := draw.NewAtlas(d), deskFacts(d)
	return &Drawing{Title: "Atlas of " + name, About: facts, Pages: []Page{atlasPage(a, "Atlas of "+name, facts)}}
}

func atlasPage(a *draw.Atlas, head, facts string) Page {
	return Page{Title: head, draw: func(p *pen) { newBoard(a, p.under(p.title(head, facts))).draw(p) }}
}

// deskFacts say what there is on a desk.
func deskFacts(d *desk.Desk) string {
	lost := len(d.Select(desk.Is{State: desk.IsStray}))
	words := desk.Counted(len(d.Workspaces), "workspace") + ", " + desk.Counted(len(d.Windows), "window") + ", " + desk.Counted(len(d.Plugged()), "monitor")
	if lost > 0 {
		words += fmt.Sprintf(", %d lost", lost)
	}
	return words + ". ● has the focus, ≈ floats, ▁ minimised, □ maximised or fullscreen when in front, ^ urgent, ! lost."
}

// Sheet is the drawing of one sheet at large.
func Sheet(d *desk.Desk, index int, letter byte) *Drawing {
	s := draw.OneSheet(d, index, letter)
	head := "Sheet " + s.Ref
	return &Drawing{Title: head, About: s.Title, Pages: []Page{{Title: head, draw: func(p *pen) {
		area := p.under(p.title(head, s.Title+fmt.Sprintf(", %d×%d", s.Work.W, s.Work.H)) + captionHigh)
		p.sheetAt(&s, area)
	}}}}
}

// sheetAt draws a sheet as large as an area has room for, and gives its height.
func (p *pen) sheetAt(s *draw.Sheet, area box) float64 {
	scale := min(area.w/float64(s.Rect.W), area.h/float64(s.Rect.H))
	p.sheet(sheetFrame{s, func(r geom.Rect) box {
		return box{area.x + float64(r.X-s.Rect.X)*scale, area.y + float64(r.Y-s.Rect.Y)*scale, float64(r.W) * scale, float64(r.H) * scale}
	}, true})
	return float64(s.Rect.H) * scale
}

// Plan is the drawing of a desk before and after commands, with what moves.
func Plan(before, after *desk.Desk, commands []string) *Drawing {
	head, words := "Plan", strings.Join(commands, "; ")
	d := &Drawing{Title: head, About: "Before and after: " + words}
	d.Pages = []Page{{Title: head, draw: func(p *pen) {
		area := p.under(p.title(head, words))
		first, second := area, area
		if area.w > area.h {
			first.w = (area.w - 20) / 2
			second.x, second.w = area.x+first.w+20, first.w
		} else {
			first.h = (area.h - 24) / 2
			second.y, second.h = area.y+first.h+24, first.h
		}
		for _, half := range []struct {
			words string
			d     *desk.Desk
			area  box
		}{{"BEFORE", before, first}, {"AFTER", after, second}} {
			p.bold(half.area.x, half.area.y+4, 8, p.Theme.Brass, half.words)
			half.area.y, half.area.h = half.area.y+12, half.area.h-12
			b := newBoard(draw.NewAtlas(half.d), half.area)
			b.draw(p)
			if half.d == after {
				p.moves(b, before, after)
			}
		}
	}}}
	return d
}

// moves draws an arrow from where each window was to where it is, on the board of
// the desk after.
func (p *pen) moves(b *board, before, after *desk.Desk) {
	for _, id := range before.Differs(after) {
		was, now := before.Window(id), after.Window(id)
		if was == nil || now == nil || now.Minimised || was.Minimised {
			continue
		}
		from, ok1 := b.centerOf(after, before, was)
		to, ok2 := b.centerOf(after, after, now)
		if ok1 && ok2 && from != to {
			p.begin(fmt.Sprintf("#%d moves", id), before.Ref(was)+" to "+after.Ref(now))
			p.arrow(from[0], from[1], to[0], to[1], 1, p.Theme.Brass)
			p.end()
		}
	}
}

// centerOf is the middle of a window of a desk on the board of another.
func (b *board) centerOf(board, of *desk.Desk, w *desk.Window) ([2]float64, bool) {
	row := board.Index(w.Workspace)
	letter := w.Monitor
	if l := draw.LostOn(of, w); l != 0 {
		letter = l
	}
	col := slices.IndexFunc(b.a.Columns, func(c draw.Column) bool { return c.Letter == letter })
	if row < 0 || col < 0 {
		return [2]float64{}, false
	}
	x, y := b.rect(row, col, w.Rect).center()
	return [2]float64{x, y}, true
}
