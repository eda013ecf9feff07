package desk

import (
	"cmp"
	"maps"
	"slices"

	"zatlas/internal/layout"
)

// Await names a desk kept from another time, whose windows may open yet: one
// that looks like one of them goes where that was. Without a desk the waiting
// ends.
type Await struct{ Kept *Desk }

// awaited is a kept desk and its windows that are here again: the present id by
// the kept one. It is never written again.
type awaited struct {
	kept *Desk
	here map[int]int
}

func (f Await) apply(e *edit) string {
	e.awaited = nil
	if f.Kept == nil {
		return ""
	}
	a := &awaited{kept: f.Kept, here: map[int]int{}}
	for _, w := range f.Kept.Windows {
		if e.Window(w.ID) != nil {
			a.here[w.ID] = w.ID
		}
	}
	if len(a.here) < len(f.Kept.Windows) {
		e.awaited = a
	}
	return ""
}

// expected finds the kept window that one that opens looks like most, with
// which it is known from now on; nil where none is awaited.
func (e *edit) expected(w *Window) (*Window, *awaited) {
	if e.awaited == nil || w.Parent != 0 || w.Kind != Normal {
		return nil, nil
	}
	var left []Window
	for _, k := range e.awaited.kept.Windows {
		if e.awaited.here[k.ID] == 0 && e.Index(k.Workspace) >= 0 {
			left = append(left, *k)
		}
	}
	id, ok := Match([]Window{*w}, left)[w.ID]
	if !ok {
		return nil, nil
	}
	a := &awaited{e.awaited.kept, maps.Clone(e.awaited.here)}
	a.here[id] = w.ID
	if e.awaited = a; len(left) == 1 {
		e.awaited = nil // that was the last
	}
	return a.kept.Window(id), a
}

// takePlace gives a window that opened the place of a kept one; the tiles of
// its sheet are put as they were, where all of them are known from there.
func (e *edit) takePlace(w, was *Window, a *awaited) {
	i := e.Index(w.Workspace)
	s := e.Sheet(i, w.Monitor)
	old := a.kept.Index(was.Workspace)
	if s == nil || old < 0 {
		return
	}
	kept := a.kept.Sheet(old, was.Monitor)
	if kept == nil || kept.Layout != s.Layout {
		return
	}
	tree := kept.Tiles
	tree = layout.Remove(tree, func(id int) bool { return !slices.Contains(s.Tiles.Windows(), a.here[id]) })
	tree = layout.Map(tree, func(id int) int { return a.here[id] })
	if len(tree.Windows()) == len(s.Tiles.Windows()) {
		e.sheet(i, w.Monitor).setTiles(tree)
	}
}

// Match finds, for windows on a display, the windows of a desk that was kept
// from another time, when their ids meant other windows: one for one, the best
// scores first. It gives the kept window's id by the new one's.
//
// The score of a pair, of which both must be of one app: 8 for the same title,
// 4 for the same role where they have one, 2 for the same size, 1 for the same
// place. Among equal scores the order of the ids is kept, so that two windows
// that look alike do not change places.
func Match(found, kept []Window) map[int]int {
	type pair struct{ found, kept, score, order int }
	var pairs []pair
	for i, f := range found {
		for j, k := range kept {
			if f.App == "" || f.App != k.App {
				continue
			}
			p := pair{found: f.ID, kept: k.ID, order: max(i-j, j-i)}
			for _, s := range []struct {
				same  bool
				score int
			}{
				{f.Title == k.Title, 8},
				{f.Role != "" && f.Role == k.Role, 4},
				{f.Rect.W == k.Rect.W && f.Rect.H == k.Rect.H, 2},
				{f.Rect.X == k.Rect.X && f.Rect.Y == k.Rect.Y, 1},
			} {
				if s.same {
					p.score += s.score
				}
			}
			pairs = append(pairs, p)
		}
	}
	slices.SortStableFunc(pairs, func(a, b pair) int {
		return cmp.Or(b.score-a.score, a.order-b.order, a.found-b.found, a.kept-b.kept)
	})
	match, taken := map[int]int{}, map[int]bool{}
	for _, p := range pairs {
		if _, done := match[p.found]; !done && !taken[p.kept] {
			match[p.found], taken[p.kept] = p.kept, true
		}
	}
	return match
}
