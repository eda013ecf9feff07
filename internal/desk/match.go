package desk

import (
	"cmp"
	"slices"
)

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
