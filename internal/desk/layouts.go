package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/layout"
)

func (e *edit) layout(c Command) (string, error) {
	sheets := []sheetKey{{e.Shown[e.At-'A'], e.At}}
	if e.shownOn(e.At) < 0 && c.Of == nil {
		return "", fmt.Errorf("monitor %c shows no workspace", e.At)
	}
	if c.Of != nil {
		sheets = nil
		for _, id := range e.chosen {
			w := e.Window(id)
			if key := (sheetKey{w.Workspace, w.Monitor}); !slices.Contains(sheets, key) {
				sheets = append(sheets, key)
			}
		}
	}
	if err := checkLeads(c); err != nil {
		return "", err
	}
	if words, done := e.layoutGroup(c); done {
		return words, nil
	}
	words := ""
	for _, key := range sheets {
		words = e.layoutSheet(e.Index(key.workspace), key.letter, c)
	}
	if n := len(sheets); n > 1 {
		words = fmt.Sprintf("%d sheets are laid out as %s.", n, c.Args[0].Word)
	}
	return words, nil
}

// groupSplits are the layouts that a group within a tree can have.
var groupSplits = map[layout.Kind]layout.Split{
	layout.Columns: layout.Across, layout.Rows: layout.Down, layout.Piled: layout.Pile, layout.Tabbed: layout.Tabs,
}

// layoutGroup lays out several chosen tiles of one sheet that are not all of it. A group is laid
// where it stands; other tiles are gathered into one at the place of the first. Done is false
// where the command is about sheets.
func (e *edit) layoutGroup(c Command) (words string, done bool) {
	ids := slices.DeleteFunc(slices.Clone(e.chosen), func(id int) bool { return !e.Tiled(e.Window(id)) })
	if len(ids) < 2 {
		return "", false
	}
	w := e.Window(ids[0])
	if slices.ContainsFunc(ids, func(id int) bool { o := e.Window(id); return o.Workspace != w.Workspace || o.Monitor != w.Monitor }) {
		return "", false
	}
	i := e.Index(w.Workspace)
	k, _ := layout.ParseKind(c.Args[0].Word)
	split := groupSplits[k]
	if split == layout.Leaf || len(ids) == len(e.Sheet(i, w.Monitor).Tiles.Windows()) {
		return "", false
	}
	s := e.sheet(i, w.Monitor)
	if s.Layout.List() {
		s.Layout, s.Kept = layout.Tree, nil // which looks the same
	}
	if group, _ := layout.Is(s.Tiles, ids); group {
		s.Tiles = layout.Relay(s.Tiles, ids, split)
	} else {
		s.Tiles = layout.Gather(s.Tiles, ids, split)
	}
	return fmt.Sprintf("%s on %s %s laid out as %s.", e.the(ids), SheetRef(i, w.Monitor), agree(ids, "is", "are"), k), true
}

// MaxLeads bounds how many windows of a sheet may lead.
const MaxLeads = 9

// checkLeads faults a number of windows that cannot lead.
func checkLeads(c Command) error {
	if len(c.Args) > 1 && (c.Args[1].N < 1 || c.Args[1].N > MaxLeads) {
		return fmt.Errorf("1 to %d windows can lead, not %d; share makes the lead wider", MaxLeads, c.Args[1].N)
	}
	return nil
}

func (e *edit) layoutSheet(i int, at byte, c Command) string {
	s := e.sheet(i, at)
	k, ok := layout.ParseKind(c.Args[0].Word)
	if !ok { // next
		k = layout.Kind((int(s.Layout) + 1) % len(layout.Names()))
	}
	was, ids := s.Layout, s.Tiles.Windows()
	leads := s.Leads
	if len(c.Args) > 1 {
		leads = c.Args[1].N
	}
	if k == was && leads == s.Leads {
		return fmt.Sprintf("Sheet %s is laid out as %s already.", SheetRef(i, at), k)
	}
	s.Layout, s.Leads = k, leads
	switch {
	case k == layout.Free && was != layout.Free:
		s.Floating = slices.Concat(ids, s.Floating)
		for _, id := range ids {
			if e.Window(id).Rect.Empty() {
				e.sized(e.window(id))
			}
		}
	case was == layout.Free:
		s.Floating = slices.DeleteFunc(s.Floating, func(id int) bool { return slices.Contains(ids, id) })
	}
	if was == layout.Tree {
		s.Kept = s.Tiles
	}
	s.setTiles(s.Tiles)
	if k == layout.Tree && s.Kept != nil {
		// Those that float for a while come back to their places in it.
		s.Tiles, s.Before, s.Kept = layout.Restore(s.Kept, ids), s.Kept, nil
	} else if k == layout.Tree && s.Tiles != nil && (s.Tiles.Split == layout.Pile || s.Tiles.Split == layout.Tabs) {
		s.Tiles = layout.Relay(s.Tiles, ids, layout.Across) // side by side: a tree is to be seen
	}
	if leads > 1 && k == layout.Lead {
		return fmt.Sprintf("Sheet %s is laid out as %s, with %d of them leading.", SheetRef(i, at), k, leads)
	}
	return fmt.Sprintf("Sheet %s is laid out as %s.", SheetRef(i, at), k)
}
