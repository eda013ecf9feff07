package desk

import (
	"fmt"
	"reflect"
	"slices"
)

// Delta is what a desk has that an earlier one had not, for a copy of that one which
// is kept elsewhere. What is nil is as it was.
type Delta struct {
	Settings   *Settings // of those that a copy has: mode, count, gap, wrap and who manages the windows
	Monitors   []Monitor // all of them
	Order      []int     // the ids of all workspaces
	Workspaces []WorkspaceDelta
	Windows    []*Window // in full, in the order of their ids
	Gone       []int     // the ids of windows

	Shown         [MaxMonitors]int
	At            byte
	Focus         int
	Bare          bool
	BareFocus     int
	BareClock     int
	Recent        []int
	Clock, LastID int
}

// WorkspaceDelta is a workspace that is new or has changed. Of its sheets it has those
// that have changed, as nil those that are gone.
type WorkspaceDelta struct {
	ID           int
	Name         string
	Home, Pin    byte
	Sheets, Away map[byte]*Sheet
}

// Since is what the desk has that an earlier one had not.
func (d *Desk) Since(old *Desk) Delta {
	x := Delta{
		Shown: d.Shown, At: d.At, Focus: d.Focus, Bare: d.Bare, BareFocus: d.BareFocus, BareClock: d.BareClock,
		Recent: d.Recent, Clock: d.Clock, LastID: d.lastID,
	}
	if s, o := d.Settings, old.Settings; !reflect.DeepEqual(s.told(), o.told()) {
		x.Settings = &s
	}
	if !slices.Equal(d.Monitors, old.Monitors) {
		x.Monitors = d.Monitors
	}
	if !slices.EqualFunc(d.Workspaces, old.Workspaces, func(a, b *Workspace) bool { return a.ID == b.ID }) {
		x.Order = make([]int, len(d.Workspaces))
		for i, ws := range d.Workspaces {
			x.Order[i] = ws.ID
		}
	}
	var came []int
	for _, ws := range d.Workspaces {
		was := (*Workspace)(nil)
		if i := old.Index(ws.ID); i >= 0 {
			was = old.Workspaces[i]
		} else {
			came = append(came, ws.ID)
		}
		if ws != was {
			x.Workspaces = append(x.Workspaces, ws.since(was))
		}
	}
	x.Windows, x.Gone = windowsSince(d.Windows, old.Windows)
	if came == nil {
		return x
	}
	// A seat on a workspace that came, perhaps back, is told anew: a copy made without the
	// workspace is without the seat.
	for _, w := range d.Windows {
		if w.Seat != nil && slices.Contains(came, w.Seat.Workspace) && old.Window(w.ID) == w {
			x.Windows = append(x.Windows, w)
		}
	}
	slices.SortFunc(x.Windows, func(a, b *Window) int { return a.ID - b.ID })
	return x
}

// told are the settings that copies have.
func (s *Settings) told() Settings {
	return Settings{Gap: s.Gap, Wrap: s.Wrap, Growing: s.Growing, Separate: s.Separate, Alongside: s.Alongside, Lacks: s.Lacks}
}

// since is what the workspace has that it had not before; was is nil where it is new.
func (ws *Workspace) since(was *Workspace) WorkspaceDelta {
	if was == nil {
		was = &Workspace{}
	}
	return WorkspaceDelta{ws.ID, ws.Name, ws.Home, ws.Pin, sheetsSince(&ws.sheets, &was.sheets), sheetsSince(&ws.away, &was.away)}
}

func sheetsSince(now, was *[MaxMonitors]*Sheet) map[byte]*Sheet {
	var changed map[byte]*Sheet
	for i, s := range now {
		if s != was[i] {
			if changed == nil {
				changed = map[byte]*Sheet{}
			}
			changed['A'+byte(i)] = s
		}
	}
	return changed
}

// windowsSince lists the windows that are not as they were, and the ids of those that
// are gone. Both lists are in the order of the ids.
func windowsSince(now, was []*Window) (changed []*Window, gone []int) {
	if len(now) > 0 && len(now) == len(was) && &now[0] == &was[0] { // the same list
		return nil, nil
	}
	for len(now) > 0 || len(was) > 0 {
		switch {
		case len(now) > 0 && len(was) > 0 && now[0] == was[0]: // as most are: they are not looked into
			now, was = now[1:], was[1:]
		case len(was) == 0 || len(now) > 0 && now[0].ID < was[0].ID:
			changed, now = append(changed, now[0]), now[1:]
		case len(now) == 0 || was[0].ID < now[0].ID:
			gone, was = append(gone, was[0].ID), was[1:]
		default:
			changed = append(changed, now[0])
			now, was = now[1:], was[1:]
		}
	}
	return changed, gone
}

// After is the desk with a delta from it: what has not changed is shared with it. The
// error is that of a delta which does not fit, or which would lead to a desk that
// cannot be; what the delta leaves as it was is taken to be sound.
func (d *Desk) After(x Delta) (*Desk, error) {
	c := *d
	if s := x.Settings; s != nil {
		c.Settings.Gap, c.Settings.Wrap, c.Settings.Growing, c.Settings.Separate = s.Gap, s.Wrap, s.Growing, s.Separate
		c.Settings.Alongside, c.Settings.Lacks = s.Alongside, s.Lacks
	}
	if x.Monitors != nil {
		c.setMonitors(x.Monitors)
	}
	if err := c.takeWorkspaces(x); err != nil {
		return nil, err
	}
	c.takeWindows(x)
	c.Shown, c.At, c.Focus, c.Bare, c.BareFocus, c.BareClock = x.Shown, x.At, x.Focus, x.Bare, x.BareFocus, x.BareClock
	if w := c.Window(c.Focus); c.Bare && (w == nil || c.hidden(w)) { // it has it again when all are back
		c.Focus = 0
	} else if c.Bare {
		c.BareFocus = 0
	}
	c.Recent, c.Clock, c.lastID = x.Recent, x.Clock, x.LastID
	return &c, c.checkAfter(d, x)
}

// takeWorkspaces takes over the workspaces of a delta, and their order.
func (d *Desk) takeWorkspaces(x Delta) error {
	of := make(map[int]*Workspace, len(d.Workspaces))
	order := x.Order
	for _, ws := range d.Workspaces {
		of[ws.ID] = ws
		if x.Order == nil {
			order = append(order, ws.ID)
		}
	}
	for _, w := range x.Workspaces {
		c := Workspace{ID: w.ID}
		if was := of[w.ID]; was != nil {
			c = *was
		}
		c.Name, c.Home, c.Pin = w.Name, w.Home, w.Pin
		for l, s := range w.Sheets {
			c.sheets[l-'A'] = s
		}
		for l, s := range w.Away {
			c.away[l-'A'] = s
		}
		of[w.ID] = &c
	}
	d.Workspaces = make([]*Workspace, len(order))
	for i, id := range order {
		if d.Workspaces[i] = of[id]; of[id] == nil {
			return fmt.Errorf("the order names the workspace with the id %d, which is not there", id)
		}
	}
	return nil
}

// takeWindows takes over the windows of a delta, and lets go those that are gone.
func (d *Desk) takeWindows(x Delta) {
	if len(x.Windows) == 0 && len(x.Gone) == 0 {
		return
	}
	all := make([]*Window, 0, len(d.Windows)+len(x.Windows))
	old, fresh, gone := d.Windows, x.Windows, x.Gone
	for len(old) > 0 || len(fresh) > 0 {
		switch {
		case len(fresh) > 0 && (len(old) == 0 || fresh[0].ID <= old[0].ID):
			if len(old) > 0 && old[0].ID == fresh[0].ID {
				old = old[1:]
			}
			all, fresh = append(all, fresh[0]), fresh[1:]
		default:
			for len(gone) > 0 && gone[0] < old[0].ID {
				gone = gone[1:]
			}
			if len(gone) == 0 || gone[0] != old[0].ID {
				all = append(all, old[0])
			}
			old = old[1:]
		}
	}
	d.Windows, d.apart = all, apartOf(all)
}

// checkAfter tells the first invariant that a delta from the desk was breaks.
func (d *Desk) checkAfter(was *Desk, x Delta) error {
	if x.Monitors != nil || x.Order != nil || x.Settings != nil {
		return d.Check() // anything may have changed
	}
	for _, w := range x.Windows {
		if err := d.checkWindow(w); err != nil {
			return err
		}
	}
	for _, id := range x.Gone {
		if d.Window(id) != nil {
			return fmt.Errorf("window #%d is gone and changed", id)
		}
	}
	for _, w := range d.Windows {
		if len(x.Gone) > 0 && w.Parent != 0 && d.Window(w.Parent) == nil {
			return fmt.Errorf("window #%d is a dialog of #%d, which is gone", w.ID, w.Parent)
		}
	}
	for _, check := range []func(*Desk) error{(*Desk).checkWorkspaces, (*Desk).checkSeparate, (*Desk).checkView} {
		if err := check(d); err != nil {
			return err
		}
	}
	return d.checkLists(was, x)
}

// checkLists names the first sheet whose lists and windows disagree. It looks at the sheets that
// a delta has touched, and at those it took windows from or gave them to.
func (d *Desk) checkLists(was *Desk, x Delta) error {
	sheets := map[sheetKey]bool{}
	ids := slices.Clone(x.Gone)
	for _, w := range x.Windows {
		ids = append(ids, w.ID)
		sheets[sheetKey{w.Workspace, w.Monitor}] = true
	}
	for _, id := range ids {
		if w := was.Window(id); w != nil {
			sheets[sheetKey{w.Workspace, w.Monitor}] = true
		}
	}
	for _, w := range x.Workspaces {
		if d.Index(w.ID) < 0 {
			return fmt.Errorf("the order does not name the workspace with the id %d", w.ID)
		}
		for l := range w.Sheets {
			sheets[sheetKey{w.ID, l}] = true
			if i := was.Index(w.ID); i >= 0 && was.Sheet(i, l) != nil {
				ids = append(ids, was.Sheet(i, l).listed()...)
			}
		}
	}
	seen := map[int]bool{}
	for key := range sheets {
		i := d.Index(key.workspace)
		if i < 0 || d.Sheet(i, key.letter) == nil {
			continue
		}
		if err := d.checkSheet(i, key.letter, seen); err != nil {
			return fmt.Errorf("sheet %s: %w", SheetRef(i, key.letter), err)
		}
	}
	for _, id := range ids {
		if w := d.Window(id); w != nil && seen[id] == w.Minimised {
			return fmt.Errorf("window #%d is on a sheet's list, or on none, against its being minimised (%v)", id, w.Minimised)
		}
	}
	return nil
}
