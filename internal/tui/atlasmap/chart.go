package atlasmap

import (
	"math"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// Chart is the atlas worked out in cells: where every sheet and window of a
// desk lies on the screen. Rows (bands) are workspaces, columns are monitors.
type Chart struct {
	area    geom.Rect // of the whole map, labels included
	labels  geom.Rect // the column of the workspaces' numbers
	columns []column
	Bands   []band
	Above   int // workspaces scrolled off the top
	Below   int
	pressed bool // the other rows are flatter than true
	stops   []cells.Stop
	Whole   []cells.Stop                           // see all
	Layers  map[int]*layer                         // by the index of the workspace
	ways    map[cells.Selection][4]cells.Selection // see step; nil until it is asked for
	rows    []int                                  // by the index of the workspace, the place of its band; -1 for none
}

// placed is a window, and where it is drawn.
type placed struct {
	W    *desk.Window
	rect geom.Rect
}

// layer is the windows of a band as they lie over one another.
type layer struct {
	area    geom.Rect // the cells of the band
	Windows []placed  // the lowest first
	owner   []int     // of each cell, by its place in windows; -1 for none
	Visible []int     // how many cells of each show
}

// at is which window a cell shows; -1 for none.
func (l *layer) at(x, y int) int { return l.owner[(y-l.area.Y)*l.area.W+x-l.area.X] }

// settle works out what shows.
func (l *layer) settle() {
	l.owner = slices.Repeat([]int{-1}, l.area.W*l.area.H)
	for i, p := range l.Windows {
		r := p.rect.Intersect(l.area)
		for y := r.Y; y < r.Bottom(); y++ {
			row := l.owner[(y-l.area.Y)*l.area.W+r.X-l.area.X:][:r.W]
			for x := range row {
				row[x] = i
			}
		}
	}
	l.Visible = make([]int, len(l.Windows))
	for _, i := range l.owner {
		if i >= 0 {
			l.Visible[i]++
		}
	}
}

// column is a monitor's share of the width.
type column struct {
	monitor *desk.Monitor
	x, w    int
	folded  bool   // unplugged and of no use now
	over    string // "above A" for a stacked one
}

// band is a workspace's share of the height.
type band struct {
	Index int // of the workspace
	head  int // the row of its captions, -1 where there is none
	top   int
	rows  int
	inset bool
}

const (
	labelWidth  = 15
	foldedWidth = 5
	columnGap   = 2
	minInset    = 4
)

// newChart lays a desk out in an area, with the workspace at index chosen as
// the inset. Where next is not nil, there is room for what lies elsewhere on it.
func New(o *Overview, next *desk.Desk, area geom.Rect, chosen int) *Chart {
	d := o.Desk
	ch := &Chart{area: area, labels: geom.R(area.X, area.Y, min(labelWidth, area.W/4), area.H)}
	scale := ch.layColumns(o, next)
	ch.layBands(d, chosen, scale)
	for _, b := range ch.Bands {
		ws := d.Workspaces[b.Index]
		ch.stops = append(ch.stops, cells.Stop{At: cells.Selection{Workspace: ws.ID}, Rect: geom.R(ch.labels.X, b.top, ch.labels.W-1, b.rows)})
		for _, col := range ch.columns {
			if !d.Has(b.Index, col.monitor.Letter) {
				continue
			}
			if len(d.Order(b.Index, col.monitor.Letter)) == 0 {
				at := cells.Selection{Workspace: ws.ID, Letter: col.monitor.Letter}
				ch.stops = append(ch.stops, cells.Stop{At: at, Rect: ch.sheet(col, b)})
			}
		}
	}
	ch.rows = slices.Repeat([]int{-1}, len(d.Workspaces))
	for row, b := range ch.Bands {
		ch.rows[b.Index] = row
	}
	ch.Layers = map[int]*layer{}
	for _, b := range ch.Bands {
		ch.Layers[b.Index] = &layer{area: geom.R(area.X, b.top, area.W, b.rows)}
	}
	for _, p := range o.Picture.Windows {
		if p.Minimised || ch.rows[p.Workspace] < 0 {
			continue
		}
		w := d.Window(p.ID)
		if r, ok := ch.PlaceRect(d, p.Workspace, w.Monitor, p.Rect); ok {
			ch.stops = append(ch.stops, cells.Stop{At: cells.Selection{Window: p.ID}, Rect: r})
			if l := ch.Layers[p.Workspace]; !r.Empty() {
				l.Windows = append(l.Windows, placed{w, r})
			}
		}
	}
	for _, l := range ch.Layers {
		l.settle()
	}
	ch.Whole = slices.Clip(ch.all(d))
	return ch
}

// layColumns shares the width among the monitors, at one scale for all, and
// gives that scale in cells per pixel.
func (ch *Chart) layColumns(o *Overview, next *desk.Desk) float64 {
	d, total := o.Desk, 0
	room := ch.area.W - ch.labels.W
	for _, m := range draw.PlaneOrder(d) {
		col := column{monitor: m, folded: !m.Connected && !o.InUse(m) && (next == nil || !draw.InUse(next, m))}
		for i := range d.Monitors {
			under := &d.Monitors[i]
			if under.Connected && m.Connected && under != m && m.Rect.Bottom() <= under.Rect.Y && m.Rect.X < under.Rect.Right() && under.Rect.X < m.Rect.Right() {
				col.over = "above " + string(rune(under.Letter))
			}
		}
		if col.folded {
			room -= foldedWidth
		} else {
			total += m.Rect.W
		}
		room -= columnGap
		ch.columns = append(ch.columns, col)
	}
	room = max(room+columnGap, len(ch.columns))
	scale := float64(room) / float64(max(total, 1))
	x, px := ch.area.X+ch.labels.W, 0
	at := func(px int) int { return int(math.Round(float64(px) * scale)) }
	for i := range ch.columns {
		col := &ch.columns[i]
		col.x = x
		if col.folded {
			col.w = foldedWidth
		} else {
			col.w = max(1, at(px+col.monitor.Rect.W)-at(px))
			px += col.monitor.Rect.W
		}
		x += col.w + columnGap
	}
	return scale
}

// layBands shares the height among the workspaces: the chosen one in true
// proportion as far as there is room, the others flatter. With no room for all
// of them they scroll.
func (ch *Chart) layBands(d *desk.Desk, chosen int, scale float64) {
	tallest := 1
	for _, col := range ch.columns {
		if !col.folded {
			tallest = max(tallest, col.monitor.Rect.H)
		}
	}
	n, room := len(d.Workspaces), ch.area.H
	whole := max(minInset, int(math.Round(float64(tallest)*scale/2)))
	inset := geom.Clamp(whole, minInset, max(minInset, room*9/20))
	heads := 1
	each := func() int {
		if n == 1 {
			return 0
		}
		return (room - inset - heads - (n-1)*heads) / (n - 1)
	}
	if each() < 2 {
		heads = 0
	}
	if each() < 2 {
		inset = geom.Clamp(whole, minInset, max(minInset, room/3))
	}
	first, last := 0, n
	rows := min(each(), inset)
	if n > 1 && rows < 1 {
		rows = 1
		fits := max(0, room-inset-1) // the rest, one row each
		first = geom.Clamp(chosen-fits/2, 0, max(0, n-1-fits))
		last = min(n, first+fits+1)
	}
	// What the division left goes to the chosen row, and then around it.
	left := room - heads*(last-first) - (last-first-1)*rows
	inset = min(whole, left)
	left -= inset
	if left == n-2 && inset > 8 {
		inset, left = inset-1, left+1 // room for a line between all rows
	}
	ch.Above, ch.Below = first, n-last
	ch.pressed = n > 1 && rows < whole
	y := ch.area.Y
	for i := first; i < last; i++ {
		if heads > 0 && i > first && (left >= n-1 || left > 0 && i == chosen+1) {
			y++
		}
		b := band{Index: i, head: -1, rows: rows, inset: i == chosen}
		if heads > 0 {
			b.head = y
			y++
		}
		if b.inset {
			b.rows = max(inset, 1)
		}
		b.top = y
		y += b.rows
		ch.Bands = append(ch.Bands, b)
	}
}

// tallestOf is the height in pixels that a band's rows stand for.
func (ch *Chart) tallest() int {
	t := 1
	for _, col := range ch.columns {
		if !col.folded {
			t = max(t, col.monitor.Rect.H)
		}
	}
	return t
}

// sheet is where a monitor lies in a band.
func (ch *Chart) sheet(col column, b band) geom.Rect {
	if col.folded {
		return geom.R(col.x, b.top, col.w, b.rows)
	}
	rows := int(math.Round(float64(col.monitor.Rect.H) * float64(b.rows) / float64(ch.tallest())))
	return geom.R(col.x, b.top, col.w, geom.Clamp(rows, 1, b.rows))
}

// onSheet is where a rectangle of the plane lies in cells: its edges are
// rounded, so that neighbours share an edge.
func (ch *Chart) onSheet(r geom.Rect, col column, b band) geom.Rect {
	m := col.monitor.Rect
	s := ch.sheet(col, b)
	x := func(v int) int { return s.X + int(math.Round(float64(v-m.X)*float64(s.W)/float64(m.W))) }
	y := func(v int) int { return s.Y + int(math.Round(float64(v-m.Y)*float64(s.H)/float64(m.H))) }
	out := geom.R(x(r.X), y(r.Y), 0, 0)
	out.W, out.H = max(x(r.Right())-out.X, 1), max(y(r.Bottom())-out.Y, 1)
	if out.X >= s.Right() && r.X < m.Right() {
		out.X = s.Right() - 1
	}
	if out.Y >= s.Bottom() && r.Y < m.Bottom() {
		out.Y = s.Bottom() - 1
	}
	return out
}

func (ch *Chart) band(index int) (band, bool) {
	if index < 0 || index >= len(ch.rows) || ch.rows[index] < 0 {
		return band{}, false
	}
	return ch.Bands[ch.rows[index]], true
}

func (ch *Chart) column(letter byte) (column, bool) {
	i := slices.IndexFunc(ch.columns, func(c column) bool { return c.monitor.Letter == letter })
	if i < 0 {
		return column{}, false
	}
	return ch.columns[i], true
}

// PlaceRect is where a rectangle of the plane is drawn for the workspace at an index. It is
// on the sheet of the monitor. A window lost on an unplugged monitor is in that one's column.
// One lost elsewhere is a mark at the nearest edge of its sheet.
func (ch *Chart) PlaceRect(d *desk.Desk, index int, letter byte, r geom.Rect) (geom.Rect, bool) {
	b, ok := ch.band(index)
	col, known := ch.column(letter)
	if !ok || !known {
		return geom.Rect{}, false
	}
	for n := -1; n < len(ch.columns); n++ { // its own first
		c := col
		if n >= 0 {
			c = ch.columns[n]
		}
		if c.folded || !c.monitor.Rect.Overlaps(r) {
			continue
		}
		if c.monitor.Letter != letter && c.monitor.Connected && col.monitor.Rect.Overlaps(r) {
			continue
		}
		return ch.onSheet(r, c, b).Intersect(ch.sheet(c, b)), true
	}
	s := ch.sheet(col, b)
	mark := ch.onSheet(geom.R(r.Center().X, r.Center().Y, 1, 1), col, b)
	mark.X, mark.Y = geom.Clamp(mark.X, s.X, s.Right()-3), geom.Clamp(mark.Y, s.Y, s.Bottom()-1)
	mark.W, mark.H = min(3, s.W), 1
	return mark, true
}

// Stop finds the stop of a selection.
func (ch *Chart) Stop(sel cells.Selection) (cells.Stop, bool) {
	i := slices.IndexFunc(ch.stops, func(s cells.Stop) bool { return s.At == sel })
	if i < 0 {
		return cells.Stop{}, false
	}
	return ch.stops[i], true
}

// all are the stops, over the sheets and the captions that they lie on.
func (ch *Chart) all(d *desk.Desk) []cells.Stop {
	var all []cells.Stop
	for _, b := range ch.Bands {
		for _, col := range ch.columns {
			if d.Has(b.Index, col.monitor.Letter) {
				r := ch.sheet(col, b)
				if b.head >= 0 {
					r.Y, r.H = b.head, r.Bottom()-b.head
				}
				all = append(all, cells.Stop{At: cells.Selection{Workspace: d.Workspaces[b.Index].ID, Letter: col.monitor.Letter}, Rect: r})
			}
		}
	}
	return append(all, ch.stops...)
}

// Next is the stop the eye finds in a direction: level ones first, then the
// nearest edge, then the nearest middle. Cells count as twice as high as wide.
func Next(stops []cells.Stop, from geom.Rect, dir desk.Dir) (cells.Selection, bool) {
	best, found := cells.Stop{}, false
	var least [3]int
	for _, s := range stops {
		gap, level, off, ok := toward(from, s.Rect, dir)
		if !ok {
			continue
		}
		key := [3]int{1, gap, off}
		if level {
			key[0] = 0
		}
		if !found || slices.Compare(key[:], least[:]) < 0 {
			best, least, found = s, key, true
		}
	}
	return best.At, found
}

// toward tells how o lies in a direction from r: the room between their edges,
// whether they are level, how far their middles are apart across.
func toward(r, o geom.Rect, dir desk.Dir) (gap int, level bool, off int, ok bool) {
	if dir == desk.Up || dir == desk.Down {
		r, o = geom.R(r.Y, r.X, r.H, r.W), geom.R(o.Y, o.X, o.H, o.W)
	}
	if dir == desk.Left || dir == desk.Up {
		r, o = o, r
	}
	if o.X <= r.X || 2*o.X+o.W <= 2*r.X+r.W {
		return 0, false, 0, false
	}
	return abs(o.X - r.X - r.W), r.Y < o.Y+o.H && o.Y < r.Y+r.H, abs(2*r.Y + r.H - 2*o.Y - o.H), true
}

// SheetOf is where the sheet of a window is drawn.
func (ch *Chart) SheetOf(d *desk.Desk, id int) (geom.Rect, bool) {
	w := d.Window(id)
	b, ok := ch.band(d.Index(w.Workspace))
	col, known := ch.column(w.Monitor)
	if !ok || !known {
		return geom.Rect{}, false
	}
	return ch.sheet(col, b), true
}

func abs(n int) int { return max(n, -n) }

// Bottom is the row under the last workspace that is drawn.
func (ch *Chart) Bottom() int {
	if len(ch.Bands) == 0 {
		return ch.area.Y
	}
	last := ch.Bands[len(ch.Bands)-1]
	return last.top + last.rows
}
