package draw

import (
	"image/color"
	"math"

	"zatlas/internal/desk"
)

// Tints gives each app its tint, from 0.
func Tints(d *desk.Desk) map[string]int {
	tints := map[string]int{}
	AddTints(tints, d)
	return tints
}

// sheetOf is the sheet of a window.
type sheetOf struct {
	workspace int
	letter    byte
}

// AddTints gives tints to the apps that have none yet, in the order in which they appear. It
// takes a tint that the fewest apps have; of those, the one most different from the tints
// beside the app's windows. Other apps keep theirs.
func AddTints(tints map[string]int, d *desk.Desk) {
	var fresh []string
	of := map[string][]*desk.Window{}
	for _, w := range d.Windows {
		if _, known := tints[w.App]; !known && of[w.App] == nil {
			fresh = append(fresh, w.App)
			of[w.App] = []*desk.Window{}
		}
	}
	if len(fresh) == 0 {
		return
	}
	sheets := map[sheetOf][]*desk.Window{}
	for _, w := range d.Windows {
		at := sheetOf{w.Workspace, w.Monitor}
		if len(sheets[at]) < manyBeside {
			sheets[at] = append(sheets[at], w)
		}
		if ws, wanted := of[w.App]; wanted && len(ws) < manyBeside {
			of[w.App] = append(ws, w)
		}
	}
	had := [len(Night.Tints)]int{}
	for _, t := range tints {
		had[t%len(had)]++
	}
	for _, app := range fresh {
		beside := map[int]float64{} // how much each tint lies beside the app's windows
		for _, w := range of[app] {
			for _, o := range sheets[sheetOf{w.Workspace, w.Monitor}] {
				if t, known := tints[o.App]; known && o.App != app {
					beside[t%len(had)] += nearness(w, o)
				}
			}
		}
		best := 0
		for t := range had {
			if had[t] < had[best] || had[t] == had[best] && likeness(t, beside) < likeness(best, beside) {
				best = t
			}
		}
		tints[app] = best
		had[best]++
	}
}

// manyBeside bounds the windows of a sheet, and of an app, that are looked at.
const manyBeside = 64

// nearness is how much one window lies beside another of its sheet.
func nearness(a, b *desk.Window) float64 {
	const gap = 40 // pixels
	if a.Rect.Inset(-gap).Overlaps(b.Rect) {
		return 1
	}
	return 0.05
}

// likeness is how like a tint is to those that it would lie beside.
func likeness(t int, beside map[int]float64) (sum float64) {
	for other := range Night.Tints {
		if n := beside[other]; n > 0 {
			sum += n / (1 + Difference(t, other))
		}
	}
	return sum
}

// Difference is how different two tints look in either theme, 0 for the same. It is the distance
// of their colours, weighted as the eye sees red, green and blue.
func Difference(a, b int) float64 {
	of := func(a, b color.RGBA) float64 {
		red := (float64(a.R) + float64(b.R)) / 2
		dr, dg, db := float64(a.R)-float64(b.R), float64(a.G)-float64(b.G), float64(a.B)-float64(b.B)
		return math.Sqrt((2+red/256)*dr*dr + 4*dg*dg + (2+(255-red)/256)*db*db)
	}
	return min(of(Night.Tint(a), Night.Tint(b)), of(Day.Tint(a), Day.Tint(b)))
}
