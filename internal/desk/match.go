package desk

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

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

// expected finds the kept window that one that opens is, with which it is known
// from now on; nil where none is awaited, or it cannot be told which: a new
// window must not be taken for an old one.
func (e *edit) expected(w *Window) (*Window, *awaited) {
	if e.awaited == nil || w.Parent != 0 || w.Kind != Normal {
		return nil, nil
	}
	var best *Window
	likest, left, clear := 0, 0, false
	for _, k := range e.awaited.kept.Windows {
		if e.awaited.here[k.ID] != 0 || e.Index(k.Workspace) < 0 {
			continue
		}
		left++
		switch l := likeness(w, k); {
		case l < alike || l < likest:
		case l > likest:
			best, likest, clear = k, l, true
		case k.Workspace != best.Workspace || k.Monitor != best.Monitor:
			clear = false
		}
	}
	if best == nil || !clear {
		return nil, nil
	}
	a := &awaited{e.awaited.kept, maps.Clone(e.awaited.here)}
	a.here[best.ID] = w.ID
	if e.awaited = a; left == 1 {
		e.awaited = nil // that was the last
	}
	return best, a
}

// alike is how like two windows must be at least, in per cent, to be one.
const alike = 50

// sameApp tells whether a window of another time was of the same app, also where that
// was known by its class alone then.
func (w *Window) sameApp(was *Window) bool {
	return w.App != "" && (w.App == was.App || w.Class != "" && was.Class == "" && w.Class == was.App)
}

// likeness is how much a present window is like one of another time, in per cent. It is 0 if
// app, role or kind differ, else the share of equal words in their titles.
func likeness(now, was *Window) int {
	if !now.sameApp(was) || now.Role != was.Role || now.Kind != was.Kind {
		return 0
	}
	if now.Title == was.Title {
		return 100
	}
	return sameWords(now.Title, was.Title)
}

// sameWords is how many of the words of two texts are the same, in per cent, 99 at most.
func sameWords(a, b string) int {
	common, all, left := 0, strings.Fields(a), strings.Fields(b)
	for _, word := range all {
		if i := slices.Index(left, word); i >= 0 {
			common++
			left = slices.Delete(left, i, i+1)
		}
	}
	return 99 * common / max(len(all)+len(left), 1)
}

// Hidden makes one step of undo for windows that went out of sight because they were taken for
// windows of another time. Of those with these ids, it is about the ones that somebody could
// see. Undone, they are on the current sheet. Where there are none it is the same desk.
func (d *Desk) Hidden(ids []int) *Desk {
	here := d.edit()
	var words []string
	for _, id := range ids {
		w := here.Window(id)
		if w == nil || w.Minimised || w.Parent != 0 || d.Visible(w) {
			continue
		}
		words = append(words, fmt.Sprintf("%s to %s", w.Label(), d.Title(d.Index(w.Workspace))))
		here.put(id, here.Current(), here.At)
	}
	if len(words) == 0 {
		return d
	}
	next := *d
	said := fmt.Sprintf("Windows went out of sight, to where they were before: %s. undo brings them here.", strings.Join(words, ", "))
	d.opened(&next, here.finish(), said)
	return &next
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

// Match pairs windows on a display with those of a desk kept from another time, when the ids
// meant other windows: one for one, the likest first. It gives the kept window's id by the new
// one's.
//
// Both must be of one app, role and kind, and have at least half of the words of
// their titles in common. Among those that are as like, the same size and place
// count, then the order of the ids, so that two windows that look alike do not
// change places.
func Match(found, kept []Window) map[int]int {
	type pair struct{ found, kept, score, order int }
	var pairs []pair
	for i := range found {
		for j := range kept {
			f, k := &found[i], &kept[j]
			l := likeness(f, k)
			if l < alike {
				continue
			}
			p := pair{found: f.ID, kept: k.ID, score: 4 * l, order: max(i-j, j-i)}
			if f.Rect.W == k.Rect.W && f.Rect.H == k.Rect.H {
				p.score += 2
			}
			if f.Rect.X == k.Rect.X && f.Rect.Y == k.Rect.Y {
				p.score++
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
