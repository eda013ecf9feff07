package desk

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

func (e *edit) add(c Command) (string, error) {
	name, at := "", len(e.Workspaces)
	if e.Settings.Growing {
		at--
	}
	for i, a := range c.Args {
		switch a.Kind {
		case Name:
			name = a.Word
		case Number:
			if i > 0 && (a.N < 1 || a.N > len(e.Workspaces)+1) {
				return "", fmt.Errorf("a new workspace can stand at 1 to %d, not at %d", len(e.Workspaces)+1, a.N)
			}
			at = a.N - 1
		}
	}
	if e.Settings.Growing && name == "" && at >= len(e.Workspaces)-1 {
		return "", fmt.Errorf("workspace %d is empty and waits at the end. Give the new one a name, or a place", len(e.Workspaces))
	}
	i, err := e.newWorkspace(name, at)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("Added workspace %s.", e.Desk.Title(i)), nil
}

// newWorkspace makes a workspace that stands at index at.
func (e *edit) newWorkspace(name string, at int) (int, error) {
	if len(e.Workspaces) >= MaxWorkspaces {
		return 0, fmt.Errorf("there are %d workspaces, and no more can be made", MaxWorkspaces)
	}
	name = CleanName(name)
	if i := e.named(name); name != "" && i >= 0 {
		return 0, fmt.Errorf("workspace %d is called %s already", i+1, name)
	}
	e.lastID++
	ws := &Workspace{ID: e.lastID, Name: name}
	if e.Settings.Separate {
		ws.Home = e.At
	}
	e.about, e.made = ws.ID, true
	e.ownWorkspaces[ws.ID] = true
	e.Workspaces = slices.Insert(e.Workspaces, at, ws)
	for _, m := range e.Monitors {
		if e.Has(at, m.Letter) {
			e.sheet(at, m.Letter)
		}
	}
	e.reshow()
	return at, nil
}

// named is the index of the workspace of exactly that name, else of the only
// one that differs in case alone; -1 where there is none.
func (d *Desk) named(name string) int {
	found := -1
	for i, ws := range d.Workspaces {
		if ws.Name == name {
			return i
		}
		if strings.EqualFold(ws.Name, name) {
			if found >= 0 {
				return -1
			}
			found = i
		}
	}
	return found
}

func (e *edit) remove(c Command) (string, error) {
	i, into, err := e.removal(c)
	if err != nil {
		return "", err
	}
	return e.removeAt(i, into), nil
}

// Removal is the index of the workspace that a remove command takes away, and of
// the one that its windows go to.
func (d *Desk) Removal(c Command) (i, into int, err error) { return d.edit().removal(c) }

func (e *edit) removal(c Command) (i, into int, err error) {
	i, into = e.Current(), -1
	for n := 0; n < len(c.Args); n++ {
		a, from := c.Args[n], e.Current()
		isInto := a.Kind == Keyword && a.Word == "into"
		if isInto {
			n++
			a, from = c.Args[n], i
		}
		p, err := e.resolve(a, from)
		if err != nil {
			return 0, 0, err
		}
		if isInto {
			into = p.workspace
		} else {
			i = p.workspace
		}
	}
	switch {
	case len(e.Workspaces) == 1:
		return 0, 0, errors.New("the last workspace cannot be removed")
	case into == i:
		return 0, 0, errors.New("a workspace's windows cannot go into itself")
	case into < 0 && i == 0:
		into = 1
	case into < 0:
		into = i - 1
	}
	return i, into, nil
}

func (e *edit) removeAt(i, into int) string {
	gone, target := e.Workspaces[i], e.Workspaces[into]
	title := e.Desk.Title(i)
	var moves []move
	for _, m := range e.Monitors {
		if s := e.Sheet(i, m.Letter); m.Connected && s != nil {
			for _, id := range slices.Concat(s.Tiles.Windows(), s.Floating) {
				moves = append(moves, move{id, into, m.Letter})
			}
		}
	}
	e.putAll(moves)
	moved := len(moves)
	for _, w := range e.Windows {
		if w.Workspace == gone.ID { // minimised
			e.window(w.ID).Workspace = target.ID
			e.window(w.ID).Monitor = e.fitting(e.Index(target.ID), w.Monitor)
			moved++
		}
	}
	e.Recent = without(e.Recent, gone.ID)
	e.Workspaces = slices.Delete(e.Workspaces, i, i+1)
	if into = e.Index(target.ID); !e.IsShown(gone.ID) {
		return removedWords(title, moved, e.Desk.Title(into))
	}
	if e.Settings.Separate {
		e.reshow()
		if e.Focus == 0 || e.Window(e.Focus).Workspace == target.ID {
			e.show(into)
		}
		return removedWords(title, moved, e.Desk.Title(into))
	}
	e.show(into)
	e.land(place{workspace: into})
	return removedWords(title, moved, e.Desk.Title(into))
}

func (e *edit) rename(c Command) (string, error) {
	i, err := e.leading(c)
	if err != nil {
		return "", err
	}
	name := CleanName(c.Args[len(c.Args)-1].Word)
	was := e.Desk.Title(i)
	if name == "" {
		e.about, e.workspace(i).Name = e.Workspaces[i].ID, ""
		return fmt.Sprintf("Workspace %s has no name now.", was), nil
	}
	if j := slices.IndexFunc(e.Workspaces, func(ws *Workspace) bool { return ws.Name == name }); j == i {
		return fmt.Sprintf("Workspace %s is called that already.", was), nil
	} else if j >= 0 {
		return "", fmt.Errorf("workspace %d is called %s already", j+1, name)
	}
	e.workspace(i).Name = name
	e.about = e.Workspaces[i].ID
	return fmt.Sprintf("Workspace %s is called %s now.", was, name), nil
}

func (e *edit) reorder(c Command) (string, error) {
	i, to := e.Current(), 0
	switch word := c.Args[0].Word; {
	case len(c.Args) == 2:
		return e.reorderAll(c.Args[1].Word)
	case len(c.Args) > 2:
		p, err := e.resolve(c.Args[0], i)
		if err != nil {
			return "", err
		}
		i, to = p.workspace, c.Args[2].N-1
	case word == "up":
		to = i - 1
	case word == "down":
		to = i + 1
	case word == "last":
		to = len(e.Workspaces) - 1
	}
	switch last := len(e.Workspaces) - 1; {
	case to < 0 && i == 0:
		return "", fmt.Errorf("workspace %d is the first already", i+1)
	case to == i+1 && i == last:
		return "", fmt.Errorf("workspace %d is the last already", i+1)
	case to < 0 || to > last:
		return "", fmt.Errorf("workspace %d cannot stand at %d: %s", i+1, to+1, thereAre(len(e.Workspaces)))
	}
	ws := e.Workspaces[i]
	e.about = ws.ID
	e.Workspaces = slices.Insert(slices.Delete(e.Workspaces, i, i+1), to, ws)
	if ws.Name == "" {
		return fmt.Sprintf("Workspace %d is %d now.", i+1, to+1), nil
	}
	return fmt.Sprintf("Workspace %s is %d now.", ws.Name, to+1), nil
}

// reorderAll gives the workspaces an order: their numbers, from first to last.
func (e *edit) reorderAll(order string) (string, error) {
	var all []*Workspace
	for word := range strings.SplitSeq(order, ",") {
		n, err := strconv.Atoi(word)
		if err != nil || n < 1 || n > len(e.Workspaces) || slices.Contains(all, e.Workspaces[n-1]) {
			return "", fmt.Errorf("the order %s must name each workspace once, 1 to %d", order, len(e.Workspaces))
		}
		all = append(all, e.Workspaces[n-1])
	}
	if len(all) != len(e.Workspaces) {
		return "", fmt.Errorf("the order %s names %d of the workspaces, and %s", order, len(all), thereAre(len(e.Workspaces)))
	}
	var names []string
	for i, ws := range all {
		name := fmt.Sprintf("%d is what was %d", i+1, slices.Index(e.Workspaces, ws)+1)
		if ws.Name != "" {
			name = fmt.Sprintf("%d %s", i+1, ws.Name)
		}
		names = append(names, name)
	}
	e.Workspaces = all
	return "The order is now " + strings.Join(names, ", ") + ".", nil
}

func removedWords(title string, moved int, into string) string {
	if moved == 0 {
		return fmt.Sprintf("Removed workspace %s.", title)
	}
	return fmt.Sprintf("Removed workspace %s. %s went to %s.", title, windowsWord(moved), into)
}

func (e *edit) reload(Command) (string, error) { return "Read the settings again.", nil }

func (e *edit) restart(Command) (string, error) { return "The keeper starts again.", nil }

func (e *edit) end(Command) (string, error) { return "The keeper ended. Every window stays.", nil }
