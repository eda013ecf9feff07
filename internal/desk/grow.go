package desk

import (
	"fmt"
	"slices"
)

// Settle is a change of the settings.
type Settle struct{ Settings Settings }

func (f Settle) apply(e *edit) string {
	if e.Settings.Gap != f.Settings.Gap {
		for _, m := range e.Monitors {
			if m.Connected {
				e.touchAll(m.Letter)
			}
		}
	}
	if e.Settings.Alongside {
		f.Settings = f.Settings.BesideOthers(e.Settings.Lacks)
	}
	separate := f.Settings.Separate
	f.Settings.Separate = e.Settings.Separate
	if e.Settings = f.Settings; !e.book.of(e.Settings.Rules) {
		e.book = newRulebook(e.Settings.Rules)
	}
	e.setSeparate(separate)
	return ""
}

// spare tells whether the workspace at index i is empty and has no name.
func (d *Desk) spare(i int) bool { return d.Workspaces[i].Name == "" && d.Count(i) == 0 }

// grow keeps exactly one spare workspace, the last one. Of several spare ones
// at the end, those that are not shown go.
func (e *edit) grow() {
	last := len(e.Workspaces) - 1
	if !e.spare(last) {
		if _, err := e.newWorkspace("", last+1); err != nil {
			return // there are as many as there may be
		}
		e.about, e.made = 0, false
		last++
	}
	for ; last > 0 && e.spare(last) && e.spare(last-1); last-- {
		switch {
		case !e.IsShown(e.Workspaces[last-1].ID):
			e.drop(last - 1)
		case !e.IsShown(e.Workspaces[last].ID):
			e.drop(last)
		default:
			return
		}
	}
}

// drop takes out a workspace that has no windows and is not shown.
func (e *edit) drop(i int) {
	e.Recent = without(e.Recent, e.Workspaces[i].ID)
	e.Workspaces = slices.Delete(e.Workspaces, i, i+1)
}

// checkGrowing holds that a growing desk ends with one spare workspace.
func (d *Desk) checkGrowing() error {
	last := len(d.Workspaces) - 1
	if d.Settings.Growing && last+1 < MaxWorkspaces && !d.spare(last) {
		return fmt.Errorf("a growing desk has no spare workspace at its end")
	}
	if d.Settings.Growing && last > 0 && d.spare(last) && d.spare(last-1) && !d.IsShown(d.Workspaces[last-1].ID) {
		return fmt.Errorf("a growing desk has two spare workspaces at its end")
	}
	return nil
}
