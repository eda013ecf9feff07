package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/layout"
)

func (e *edit) goTo(c Command) (string, error) {
	if c.Args[0].Kind == Letter {
		return e.focus(c)
	}
	p, err := e.resolve(c.Args[0], e.Current())
	if err != nil {
		return "", err
	}
	if err := e.atHome(p); err != nil {
		return "", err
	}
	already := e.shownOn(e.At) == p.workspace && p.letter == 0
	e.show(p.workspace)
	if e.Settings.Separate && !already {
		p.letter = e.HomeOf(p.workspace)
		e.Focus = 0
	}
	e.land(p)
	n := e.Count(p.workspace)
	if already {
		return fmt.Sprintf("You are on %s already.", e.Desk.Title(p.workspace)), nil
	}
	if n == 0 {
		return fmt.Sprintf("On %s. It is empty.", e.Desk.Title(p.workspace)), nil
	}
	return fmt.Sprintf("On %s, %s.", e.Desk.Title(p.workspace), windowsWord(n)), nil
}

// land gives the focus where a place is shown: it stays with a window that has
// it there, else the one that had it last gets it; the monitor stays where
// nothing is open.
func (e *edit) land(p place) {
	if p.letter != 0 {
		e.At = p.letter
	}
	if w := e.Window(e.Focus); w != nil && e.Visible(w) && (p.letter == 0 || p.letter == w.Monitor) {
		return
	}
	e.setFocus(e.latest(p.workspace, p.letter))
}

func (e *edit) send(c Command) (string, error) {
	sent, p, err := e.sendAll(c)
	if err != nil {
		return "", err
	}
	if !sent {
		return e.thereAlready(p), nil
	}
	return fmt.Sprintf("Sent %s to %s.", e.the(e.chosen), p.words(e.Desk)), nil
}

func (e *edit) carry(c Command) (string, error) {
	sent, p, err := e.sendAll(c)
	if err != nil {
		return "", err
	}
	w := e.Window(e.chosen[len(e.chosen)-1])
	i := e.Index(w.Workspace)
	e.show(i)
	switch {
	case w.Minimised:
		e.land(place{workspace: i})
	default:
		e.setFocus(w.ID)
	}
	if !sent {
		return e.thereAlready(p), nil
	}
	return fmt.Sprintf("Carried %s to %s.", e.the(e.chosen), p.words(e.Desk)), nil
}

// thereAlready says that the chosen windows are where they were to go.
func (e *edit) thereAlready(p place) string {
	return fmt.Sprintf("%s %s on %s already.", e.the(e.chosen), agree(e.chosen, "is", "are"), p.words(e.Desk))
}

// sendAll moves the chosen windows to the place the first argument names. All
// must be able to go, or none does. Sent is false where all are there already.
func (e *edit) sendAll(c Command) (sent bool, p place, err error) {
	ids := e.chosen
	w := e.Window(ids[0])
	from, fromMonitor := e.Index(w.Workspace), w.Monitor
	arg := c.Args[0]
	if m, ok := e.around(c.Args, fromMonitor); ok {
		arg = m
	}
	if dir, ok := ParseDir(arg.Word); ok && arg.Kind == Keyword {
		m := e.neighbour(e.Monitor(fromMonitor), dir)
		if m == nil {
			return false, p, fmt.Errorf("there is no monitor %s %c", dir.beside(), fromMonitor)
		}
		p = place{workspace: -1, letter: m.Letter}
	} else {
		// Next, and the rest, count from where the window is.
		if p, err = e.resolve(arg, from); err != nil {
			return false, p, err
		}
	}
	if err := e.atHome(p); err != nil {
		return false, p, err
	}
	if e.Settings.Separate && p.workspace < 0 { // a monitor stands for what it shows
		if p.workspace = e.shownOn(p.letter); p.workspace < 0 {
			return false, p, fmt.Errorf("monitor %c shows no workspace", p.letter)
		}
	}
	var moves []move
	focus := e.Window(e.Focus)
	group := e.groupOf(ids)
	for _, id := range ids {
		w := e.Window(id)
		i, letter := p.workspace, p.letter
		if i < 0 {
			i = e.Index(w.Workspace)
		}
		if letter == 0 {
			letter = e.fitting(i, w.Monitor)
		}
		if e.Workspaces[i].ID == w.Workspace && letter == w.Monitor {
			continue
		}
		moves = append(moves, move{id, i, letter})
	}
	if len(moves) == 0 {
		return false, p, nil
	}
	e.putAll(moves)
	e.regroup(ids, group)
	if focus != nil {
		now := e.Window(focus.ID)
		if now.Workspace != focus.Workspace || now.Monitor != focus.Monitor {
			e.refocus(focus.Monitor)
		}
	}
	return true, p, nil
}

// groupOf is the group that windows make up in the tree of their sheet; nil
// where they make up none.
func (e *edit) groupOf(ids []int) *layout.Node {
	w := e.Window(ids[0])
	if len(ids) < 2 || !e.Tiled(w) {
		return nil
	}
	s := e.Sheet(e.Index(w.Workspace), w.Monitor)
	if s.Layout != layout.Tree {
		return nil
	}
	_, group := layout.Take(s.Tiles, ids)
	return group
}

// regroup makes windows that were sent a group again, in the place of the first
// of them, where their new sheet is a tree.
func (e *edit) regroup(ids []int, group *layout.Node) {
	w := e.Window(ids[0])
	if group == nil || e.Sheet(e.Index(w.Workspace), w.Monitor).Layout != layout.Tree {
		return
	}
	s := e.sheet(e.Index(w.Workspace), w.Monitor)
	tiles := s.Tiles.Windows()
	if slices.ContainsFunc(ids, func(id int) bool { return !slices.Contains(tiles, id) }) {
		return
	}
	first := group.Windows()[0]
	rest := layout.Remove(s.Tiles, func(id int) bool { return id != first && slices.Contains(ids, id) })
	s.Tiles = layout.Replace(rest, []int{first}, group)
}
