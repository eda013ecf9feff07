package atlasmap

import (
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// manyStops is up to how many stops the arrows are worked out so that they reach all. A fuller
// map goes by the nearest alone.
const manyStops = 160

// Step is the stop that an arrow leads to from another one: the nearest, or on the way
// there one that no arrow would lead to else.
func (ch *Chart) Step(from cells.Stop, dir desk.Dir) (cells.Selection, bool) {
	if ch.ways == nil {
		ch.ways = waysOf(ch.seen(), ch.inInset)
	}
	ways, known := ch.ways[from.At]
	if known {
		return ways[dir], ways[dir] != cells.Selection{}
	}
	return Next(ch.stops, from.Rect, dir)
}

// seen are the stops of which anything shows, windows by the part that does.
func (ch *Chart) seen() (seen []cells.Stop) {
	parts := map[int]geom.Rect{} // by the window's id
	for _, l := range ch.Layers {
		shown := make([]geom.Rect, len(l.Windows))
		for y := l.area.Y; y < l.area.Bottom(); y++ {
			row := l.owner[(y-l.area.Y)*l.area.W:][:l.area.W]
			for x := 0; x < len(row); {
				i, from := row[x], x
				for x < len(row) && row[x] == i {
					x++
				}
				if run := geom.R(l.area.X+from, y, x-from, 1); i >= 0 && shown[i].Empty() {
					shown[i] = run
				} else if i >= 0 {
					shown[i] = geom.Bound(shown[i], run)
				}
			}
		}
		for i, r := range shown {
			if !r.Empty() {
				parts[l.Windows[i].W.ID] = r
			}
		}
	}
	for _, s := range ch.stops {
		if r, shows := parts[s.At.Window]; shows && s.At.Window != 0 {
			seen = append(seen, cells.Stop{At: s.At, Rect: r})
		} else if s.At.Window == 0 {
			seen = append(seen, s)
		}
	}
	return seen
}

// inInset tells whether a stop is in the row that is drawn in detail.
func (ch *Chart) inInset(s cells.Stop) bool {
	for _, b := range ch.Bands {
		if b.inset {
			return s.Rect.Y >= b.top && s.Rect.Y < b.top+b.rows
		}
	}
	return false
}

// waysOf works out where each arrow leads from each stop, so that arrows reach every stop.
// Stops of the row in detail reach each other without leaving it, since the map changes then.
// It is nil if there are too many stops.
func waysOf(stops []cells.Stop, inset func(cells.Stop) bool) map[cells.Selection][4]cells.Selection {
	ways := map[cells.Selection][4]cells.Selection{}
	if len(stops) > manyStops || len(stops) == 0 {
		return ways
	}
	g := &arrowGraph{stops: stops, to: make([][4]int, len(stops)), reached: make([]bool, len(stops))}
	g.nearest()
	within := func(i int) bool { return inset(stops[i]) }
	for _, in := range []func(int) bool{within, func(int) bool { return true }} {
		g.spread(in)
		for i := range stops {
			if in(i) && !g.reached[i] {
				g.insert(i)
				g.reach(i, in)
			}
		}
	}
	for i, s := range stops {
		var to [4]cells.Selection
		for dir, j := range g.to[i] {
			if j >= 0 {
				to[dir] = stops[j].At
			}
		}
		ways[s.At] = to
	}
	return ways
}

// arrowGraph is the stops, and which one each arrow leads to from each; -1 for none.
type arrowGraph struct {
	stops   []cells.Stop
	to      [][4]int
	reached []bool
}

// order is how a stop stands to another in a direction: the less, the sooner it is come
// to, by whether it is level, the room between them and how far their middles are
// apart; ok is false where it does not lie there.
func (g *arrowGraph) order(from, to int, dir desk.Dir) (key int, ok bool) {
	gap, level, off, ok := toward(g.stops[from].Rect, g.stops[to].Rect, dir)
	if !level {
		key = 1 << 40
	}
	return key + gap<<20 + off, ok
}

// nearest has every arrow lead to the nearest stop. What lies to the right of another has
// that to its left, by the same measure, so that each pair is looked at once.
func (g *arrowGraph) nearest() {
	least := make([][4]int, len(g.stops))
	for i := range g.to {
		g.to[i] = [4]int{-1, -1, -1, -1}
	}
	take := func(from, to int, dir desk.Dir, key int) {
		if now := g.to[from][dir]; now < 0 || key < least[from][dir] || key == least[from][dir] && to < now {
			g.to[from][dir], least[from][dir] = to, key
		}
	}
	for i := range g.stops {
		for j := range i {
			for _, way := range [2][2]desk.Dir{{desk.Right, desk.Left}, {desk.Down, desk.Up}} {
				if key, ok := g.order(i, j, way[0]); ok {
					take(i, j, way[0], key)
					take(j, i, way[1], key)
				} else if key, ok := g.order(i, j, way[1]); ok {
					take(i, j, way[1], key)
					take(j, i, way[0], key)
				}
			}
		}
	}
}

// spread notes all stops of a part that are reached from those that are already, or, where
// none is, from the first one.
func (g *arrowGraph) spread(in func(int) bool) {
	if !slices.Contains(g.reached, true) {
		for i := range g.stops {
			if in(i) {
				g.reach(i, in)
				return
			}
		}
	}
	for i, is := range slices.Clone(g.reached) {
		if is {
			g.reach(i, in)
		}
	}
}

// reach notes all stops of a part that are reached from one.
func (g *arrowGraph) reach(from int, in func(int) bool) {
	g.reached[from] = true
	for _, to := range g.to[from] {
		if to >= 0 && in(to) && !g.reached[to] {
			g.reach(to, in)
		}
	}
}

// insert puts a stop that is not reached on the way from the nearest one that is to where
// that leads.
func (g *arrowGraph) insert(i int) {
	from, by, least := 0, desk.Down, 1<<62
	for j := range g.stops {
		for dir := range desk.Dir(4) {
			if key, ok := g.order(j, i, dir); ok && g.reached[j] && key < least {
				from, by, least = j, dir, key
			}
		}
	}
	if next := g.to[from][by]; next >= 0 {
		g.to[i][by] = next
	}
	g.to[from][by] = i
}
