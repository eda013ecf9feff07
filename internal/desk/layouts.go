package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/geom"
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
	if words, ok := e.layoutGroup(c); ok {
		return words, nil
	}
	words, changed := "", false
	for _, key := range sheets {
		e.nothing = false
		words = e.layoutSheet(e.Index(key.workspace), key.letter, c)
		changed = changed || !e.nothing
	}
	e.nothing = !changed
	if n := len(sheets); n > 1 {
		words = fmt.Sprintf("%d sheets are laid out as %s.", n, c.Args[0].Word)
	}
	return words, nil
}

// groupSplits are the layouts that a group within a tree can have.
var groupSplits = map[layout.Kind]layout.Split{
	layout.Columns: layout.Across, layout.Rows: layout.Down, layout.Piled: layout.Pile, layout.Tabbed: layout.Tabs,
}

// layoutGroup lays out a group of a tree, where just the windows of one are
// chosen; ok is false where the command is about sheets.
func (e *edit) layoutGroup(c Command) (words string, ok bool) {
	k, _ := layout.ParseKind(c.Args[0].Word)
	split := groupSplits[k]
	if len(e.chosen) < 2 || split == layout.Leaf {
		return "", false
	}
	b, err := e.block()
	if err != nil || b.Layout != layout.Tree {
		return "", false
	}
	if _, group := layout.Is(b.Tiles, b.windows); !group {
		return "", false
	}
	b.Tiles = layout.Relay(b.Tiles, b.windows, split)
	return fmt.Sprintf("%s on %s are laid out as %s.", e.the(b.windows), b.ref(), k), true
}

// MaxLeads bounds how many windows of a sheet may lead.
const MaxLeads = 9

func (e *edit) layoutSheet(i int, at byte, c Command) string {
	s := e.sheet(i, at)
	k, ok := layout.ParseKind(c.Args[0].Word)
	if !ok { // next
		k = layout.Kind((int(s.Layout) + 1) % len(layout.Names()))
	}
	was, ids := s.Layout, s.Tiles.Windows()
	leads := s.Leads
	if len(c.Args) > 1 {
		leads = geom.Clamp(c.Args[1].N, 1, MaxLeads)
	}
	e.nothing = k == was && leads == s.Leads
	s.Layout, s.Leads = k, leads
	switch {
	case e.nothing:
		return fmt.Sprintf("Sheet %s is laid out as %s already.", SheetRef(i, at), k)
	case k == layout.Free && was != layout.Free:
		s.Floating = slices.Concat(ids, s.Floating)
	case was == layout.Free:
		s.Floating = slices.DeleteFunc(s.Floating, func(id int) bool { return slices.Contains(ids, id) })
	}
	s.setTiles(s.Tiles)
	if k == layout.Tree && s.Tiles != nil && (s.Tiles.Split == layout.Pile || s.Tiles.Split == layout.Tabs) {
		s.Tiles = layout.Relay(s.Tiles, ids, layout.Across) // side by side: a tree is to be seen
	}
	if len(c.Args) > 1 {
		return fmt.Sprintf("Sheet %s is laid out as %s, with %d of them leading.", SheetRef(i, at), k, leads)
	}
	return fmt.Sprintf("Sheet %s is laid out as %s.", SheetRef(i, at), k)
}
