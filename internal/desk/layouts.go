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
	words, changed := "", false
	for _, key := range sheets {
		e.nothing = false
		words = e.layoutSheet(e.Index(key.workspace), key.letter, c.Args[0].Word)
		changed = changed || !e.nothing
	}
	e.nothing = !changed
	if n := len(sheets); n > 1 {
		words = fmt.Sprintf("%d sheets are laid out as %s.", n, c.Args[0].Word)
	}
	return words, nil
}

func (e *edit) layoutSheet(i int, at byte, word string) string {
	s := e.sheet(i, at)
	k, ok := layout.ParseKind(word)
	if !ok { // next
		k = layout.Kind((int(s.Layout) + 1) % len(layout.Names()))
	}
	was, ids := s.Layout, s.Tiles.Windows()
	s.Layout = k
	switch {
	case k == was:
		e.nothing = true
		return fmt.Sprintf("Sheet %s is laid out as %s already.", SheetRef(i, at), k)
	case k == layout.Free:
		s.Floating = slices.Concat(ids, s.Floating)
	case was == layout.Free:
		s.Floating = slices.DeleteFunc(s.Floating, func(id int) bool { return slices.Contains(ids, id) })
	}
	if k == layout.Columns || k == layout.Rows || k == layout.Lead {
		s.Tiles = layout.Of(k, ids, s.Share)
	}
	return fmt.Sprintf("Sheet %s is laid out as %s.", SheetRef(i, at), k)
}
