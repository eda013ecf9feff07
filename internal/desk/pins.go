package desk

import (
	"fmt"
	"slices"
)

// Pin is a letter that was tied to an app, to be kept in the settings; with a
// nil Query it was taken away.
type Pin struct {
	Letter byte
	Query  Query
}

// pin ties a letter to the window's app, which the settings keep, or to the one
// window.
func (e *edit) pin(c Command) (string, error) {
	letter := c.Args[0].Letter
	how := ""
	if len(c.Args) > 1 {
		how = c.Args[1].Word
	}
	for _, w := range e.Windows {
		if w.Pin == letter {
			e.window(w.ID).Pin = 0
		}
	}
	for i, ws := range e.Workspaces {
		if ws.Pin == letter {
			e.workspace(i).Pin = 0
		}
	}
	if how == "off" {
		e.pinned = &Pin{Letter: letter}
		return fmt.Sprintf("%c is tied to nothing.", letter), nil
	}
	if how == "workspace" {
		i := e.Current()
		if c.Of != nil { // that of what is chosen
			i = e.Index(e.Window(e.chosen[0]).Workspace)
		}
		e.workspace(i).Pin = letter
		e.about = e.Workspaces[i].ID
		return fmt.Sprintf("%c jumps to workspace %s.", letter, e.Desk.Title(i)), nil
	}
	if c.Of == nil {
		var err error
		if e.chosen, err = e.Desk.subject(c); err != nil {
			return "", err
		}
	}
	if len(e.chosen) != 1 {
		return "", fmt.Errorf("a pin is tied to one window or its app, and %d are chosen", len(e.chosen))
	}
	w := e.window(e.chosen[0])
	if how == "window" {
		w.Pin = letter
		return fmt.Sprintf("%c jumps to this window of %s.", letter, w.App), nil
	}
	if w.App == "" {
		return "", fmt.Errorf("%s names no app. pin %c window ties the letter to this window", w.Label(), letter)
	}
	e.pinned = &Pin{letter, ByApp{w.App, true}}
	return fmt.Sprintf("%c jumps to %s.", letter, w.App), nil
}

// Pinned lists the windows a letter jumps to, by id: the one it is tied to,
// else those of its app.
func (d *Desk) Pinned(letter byte) []*Window {
	for _, w := range d.Windows {
		if w.Pin == letter {
			return []*Window{w}
		}
	}
	if q := d.Settings.Pins[letter]; q != nil {
		return d.Select(q)
	}
	return nil
}

// pinnedWorkspace is the index of the workspace a letter jumps to; -1 for none.
func (d *Desk) pinnedWorkspace(letter byte) int {
	return slices.IndexFunc(d.Workspaces, func(ws *Workspace) bool { return ws.Pin == letter })
}

// PinnedWorkspace is the index of the workspace a letter jumps to, where it jumps to no
// window; -1 for none.
func (d *Desk) PinnedWorkspace(letter byte) int {
	if len(d.Pinned(letter)) > 0 {
		return -1
	}
	return d.pinnedWorkspace(letter)
}

// PinOf is the letter that jumps to a window; 0 where none does.
func (d *Desk) PinOf(w *Window) byte {
	if w.Pin != 0 {
		return w.Pin
	}
	for l := byte('a'); l <= 'z'; l++ {
		if q := d.Settings.Pins[l]; q != nil && q.match(d, w) {
			return l
		}
	}
	return 0
}

// jump goes to the window a letter is tied to: of several to the most recent,
// and from one of them to the next. Where none is open it is started.
func (e *edit) jump(c Command) (string, error) {
	letter := c.Args[0].Letter
	q := e.Settings.Pins[letter]
	ws := e.Pinned(letter)
	if i := e.pinnedWorkspace(letter); i >= 0 && len(ws) == 0 {
		return e.goTo(Command{Verb: "go", Args: []Arg{{Kind: Number, N: i + 1}}})
	}
	if len(ws) == 0 {
		app, ok := q.(ByApp)
		switch {
		case q == nil:
			return "", fmt.Errorf("nothing is tied to %c. pin %c gives it to the focused window's app", letter, letter)
		case !ok || !app.Whole:
			return "", fmt.Errorf("nothing that %c is tied to is open", letter)
		}
		e.start = &Start{App: app.Text, Workspace: e.Workspaces[e.Current()].ID, Monitor: e.At}
		return fmt.Sprintf("Started %s.", app.Text), nil
	}
	var ids []int
	for _, w := range ws {
		ids = append(ids, w.ID)
	}
	return e.focusAmong(ids)
}
