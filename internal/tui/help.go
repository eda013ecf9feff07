package tui

import (
	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/settings"
)

// Keys are the keys of the screens and the chords of the display, for the card of
// keys: the verbs first.
func Keys(chords []settings.ChordRow) []draw.Section {
	verbs := draw.Section{Head: "VERBS", About: "act on what is chosen, in the same words everywhere"}
	for _, v := range desk.Verbs() {
		if keys := v.Key + v.Bound; keys != "" {
			verbs.Rows = append(verbs.Rows, draw.Key{Keys: keys, Does: v.Name + ": " + v.Help})
		}
	}
	return append([]draw.Section{verbs}, otherKeys("A, B, C", screens(), chords)...)
}

// otherKeys are the sections besides the verbs. Monitors are the letters of those
// that are plugged in, list the screens after ; .
func otherKeys(monitors string, list []listed, chords []settings.ChordRow) []draw.Section {
	moving := draw.Section{Head: "MOVING ABOUT", Rows: []draw.Key{
		{Keys: "arrows, hjkl", Does: "choose a window, an empty sheet, a number"},
		{Keys: "1-9", Does: "go to a workspace"}}}
	for _, b := range bindings() {
		moving.Rows = append(moving.Rows, draw.Key{Keys: b.shown, Does: b.does()})
	}
	other := draw.Section{Head: "AFTER ;"}
	for _, s := range afterSemicolon(list) {
		other.Rows = append(other.Rows, draw.Key{Keys: s.After, Does: s.Name + ": " + s.Help})
	}
	gaz := draw.Section{Head: "IN THE GAZETTEER"}
	for _, b := range gazBindings() {
		gaz.Rows = append(gaz.Rows, draw.Key{Keys: b.shown, Does: b.help})
	}
	all := []draw.Section{moving, other,
		{Head: "AFTER s, c OR g", Rows: []draw.Key{
			{Keys: "1-9", Does: "a workspace, at once"},
			{Keys: monitors, Does: "a monitor; then Enter, or a digit for a sheet"},
			{Keys: "arrows", Does: "aim at a sheet; the outline shows the result"},
			{Keys: "n, b, /", Does: "a new workspace, the one before, by name"},
			{Keys: "*", Does: "all windows of its app, after asking"},
			{Keys: "Enter", Does: "the same target as last time"}}},
		{Head: "AFTER t", Rows: []draw.Key{
			{Keys: "c, r, l, t", Does: "columns, rows, lead, tree"},
			{Keys: "p, b, f", Does: "pile, tabs, free"},
			{Keys: "1-9", Does: "lead, with so many leading"},
			{Keys: "n", Does: "the next of them"}}},
		{Head: "AFTER p", Rows: []draw.Key{
			{Keys: "arrows, m", Does: "a half at that side, the middle"},
			{Keys: "t, T, q, Q", Does: "a third, two, a quarter, three: then the side"},
			{Keys: "y, u, b, n", Does: "the corners"},
			{Keys: "two digits", Does: "from cell to cell of the grid; g: by arrows"}}},
		{Head: "AFTER n OR N", Rows: []draw.Key{
			{Keys: "arrows", Does: "move the window, or its edge; with Shift, in"},
			{Keys: "1-4, 5", Does: "steps of 1, 10, 50, 200 pixels, of 5 per cent"},
			{Keys: "Enter, Escape", Does: "leave it there, put it back"}}},
		gaz,
		{Head: "THE MOUSE", About: "nothing needs it", Rows: []draw.Key{
			{Keys: "click", Does: "choose, or aim after s, c or g; twice: go there"},
			{Keys: "drag", Does: "send a window to another sheet; Escape cancels"},
			{Keys: "wheel", Does: "go through workspaces, or lines"}}},
		{Head: "MARKS", Rows: []draw.Key{
			{Does: "● has the focus   ≈ floats   ▁ minimised   □ maximised or fullscreen when in front"},
			{Does: "^ urgent   ! lost   +2 two more underneath"},
			{Does: "■ the tab that shows, and 2 of 3 the window of a pile that does"}}},
	}
	if len(chords) > 0 {
		display := draw.Section{Head: "ANYWHERE ON THE DISPLAY"}
		for _, c := range chords {
			display.Rows = append(display.Rows, draw.Key{Keys: c.Keys, Does: c.Command})
		}
		all = append(all, display)
	}
	return all
}
