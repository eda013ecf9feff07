package desk

import (
	"fmt"
	"slices"
)

// In separate mode each workspace has exactly one sheet, on its home monitor,
// or on the receiver while that is unplugged; and each monitor shows a
// workspace of its own. Spanning, every workspace has a sheet on every
// connected monitor, and all show the same one.

// HomeOf is the connected monitor on which the workspace at index i is at
// home in separate mode.
func (d *Desk) HomeOf(i int) byte {
	m := d.Monitor(d.Workspaces[i].Home)
	switch {
	case m == nil:
		m = d.first()
	case !m.Connected:
		m = d.receiver(m)
	}
	return m.Letter
}

// Has tells whether the workspace at index i has a sheet on a monitor.
func (d *Desk) Has(i int, letter byte) bool {
	return d.Connected(letter) && (!d.Settings.Separate || d.HomeOf(i) == letter)
}

// fitting is a monitor on which the workspace at index i has a sheet: that one
// where it has, else its home.
func (d *Desk) fitting(i int, letter byte) byte {
	if d.Has(i, letter) {
		return letter
	}
	if d.Settings.Separate {
		return d.HomeOf(i)
	}
	return d.At
}

// shownOn is the index of the workspace a monitor shows; -1 where it shows none.
func (d *Desk) shownOn(letter byte) int { return d.Index(d.Shown[letter-'A']) }

// rehome gives every workspace the sheets it should have. Windows of a sheet
// it should not have go to its home; where remember is set they go back when
// that sheet comes again.
func (e *edit) rehome(remember bool) {
	for i := range e.Workspaces {
		// First what goes: it makes the sheet at home as it was itself.
		for _, m := range e.Monitors {
			if e.Sheet(i, m.Letter) != nil && !e.Has(i, m.Letter) {
				e.moveSheet(i, &m, e.Monitor(e.HomeOf(i)), remember)
				e.workspace(i).sheets[m.Letter-'A'] = nil
			}
		}
		for _, m := range e.Monitors {
			if e.Sheet(i, m.Letter) == nil && e.Has(i, m.Letter) {
				e.sheet(i, m.Letter)
			}
		}
	}
	for _, w := range e.Windows {
		if i := e.Index(w.Workspace); w.Minimised && i >= 0 && !e.Has(i, w.Monitor) {
			e.window(w.ID).Monitor = e.fitting(i, w.Monitor)
		}
	}
}

// reshow has every connected monitor show a workspace that it can show: the
// one it does, else the most recent one at home there, else none.
func (e *edit) reshow() {
	if !e.Settings.Separate {
		e.show(e.Current())
		return
	}
	for _, m := range e.Monitors {
		l := m.Letter
		if i := e.shownOn(l); i >= 0 && e.Has(i, l) {
			continue
		}
		e.Shown[l-'A'] = 0
		for _, id := range slices.Concat(e.Recent, e.ids()) {
			if i := e.Index(id); i >= 0 && e.Has(i, l) {
				e.Shown[l-'A'] = id
				break
			}
		}
	}
}

// ids lists the workspaces' ids in their order.
func (d *Desk) ids() []int {
	ids := make([]int, len(d.Workspaces))
	for i, ws := range d.Workspaces {
		ids[i] = ws.ID
	}
	return ids
}

// setSeparate changes the mode. Workspaces without a home get the monitor that
// has most of their windows.
func (e *edit) setSeparate(on bool) {
	if e.Settings.Separate == on {
		return
	}
	current := e.Current()
	for i, ws := range e.Workspaces {
		if on && e.Monitor(ws.Home) == nil {
			e.workspace(i).Home = e.busiest(i)
		}
	}
	e.Settings.Separate = on
	e.rehome(on)
	if !on {
		for _, m := range e.Monitors {
			if m.Connected {
				e.comeHome(m.Letter)
				e.touchAll(m.Letter)
			}
		}
	}
	e.show(current)
	e.reshow()
}

// busiest is the connected monitor with most windows of the workspace at index
// i; the primary one on a tie.
func (e *edit) busiest(i int) byte {
	count := map[byte]int{}
	for _, w := range e.Windows {
		if w.Workspace == e.Workspaces[i].ID {
			count[w.Monitor]++
		}
	}
	best := e.first().Letter
	for _, m := range e.Monitors {
		if m.Connected && count[m.Letter] > count[best] {
			best = m.Letter
		}
	}
	return best
}

func (e *edit) home(c Command) (string, error) {
	i, err := e.leading(c)
	if err != nil {
		return "", err
	}
	letter := c.Args[len(c.Args)-1].Letter
	if !e.Connected(letter) {
		return "", e.noMonitor(letter)
	}
	title := e.Desk.Title(i)
	if e.Workspaces[i].Home == letter {
		return fmt.Sprintf("%s is at home on %c already.", title, letter), nil
	}
	seen := e.IsShown(e.Workspaces[i].ID)
	e.workspace(i).Home = letter
	e.about = e.Workspaces[i].ID
	if !e.Settings.Separate {
		return fmt.Sprintf("%s is at home on %c. That counts in separate mode.", title, letter), nil
	}
	e.rehome(false)
	if seen {
		e.Shown[letter-'A'] = e.Workspaces[i].ID
	}
	e.reshow()
	return fmt.Sprintf("%s is at home on %c now.", title, letter), nil
}

// checkSeparate holds what each mode says about sheets and what is shown.
func (d *Desk) checkSeparate() error {
	for i, ws := range d.Workspaces {
		for _, m := range d.Monitors {
			if has := d.Has(i, m.Letter); has != (ws.sheets[m.Letter-'A'] != nil) {
				return fmt.Errorf("workspace %d has a sheet on %c, or has none, against the mode (%v)", i+1, m.Letter, has)
			}
		}
	}
	for _, m := range d.Monitors {
		i := d.shownOn(m.Letter)
		switch {
		case !m.Connected:
		case i >= 0 && !d.Has(i, m.Letter):
			return fmt.Errorf("monitor %c shows workspace %d, which has no sheet there", m.Letter, i+1)
		case i < 0 && slices.ContainsFunc(indexesOf(d), func(i int) bool { return d.Has(i, m.Letter) }):
			return fmt.Errorf("monitor %c shows no workspace, and could", m.Letter)
		case i >= 0 && !d.Settings.Separate && i != d.Current():
			return fmt.Errorf("monitors show different workspaces, and the mode is spanning")
		}
	}
	return nil
}

func indexesOf(d *Desk) []int {
	is := make([]int, len(d.Workspaces))
	for i := range is {
		is[i] = i
	}
	return is
}
