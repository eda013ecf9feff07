package desk

import (
	"errors"
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// Builder puts a desk together, part by part, for a scene or a host that
// starts. Its methods may be called in any order that names things before they
// are used; the first fault is kept and told by Desk.
type Builder struct {
	e   *edit
	err error
}

// NewBuilder starts an empty desk.
func NewBuilder(s Settings) *Builder {
	return &Builder{e: (&Desk{Settings: s}).edit()}
}

func (b *Builder) fail(format string, args ...any) {
	if b.err == nil {
		b.err = fmt.Errorf(format, args...)
	}
}

// Monitors sets the monitors. At least one must be connected.
func (b *Builder) Monitors(ms []Monitor) {
	ms = slices.Clone(ms)
	slices.SortFunc(ms, func(x, y Monitor) int { return int(x.Letter) - int(y.Letter) })
	markMirrors(ms)
	b.e.setMonitors(ms)
	for i, m := range b.e.Monitors {
		switch {
		case m.Letter < 'A' || m.Letter > 'Z':
			b.fail("a monitor's letter is %q: it must be A to Z", string(rune(m.Letter)))
		case i > 0 && b.e.Monitors[i-1].Letter == m.Letter:
			b.fail("two monitors have the letter %c", m.Letter)
		case m.Rect.Empty() || m.Work.Empty():
			b.fail("monitor %c has no room", m.Letter)
		case !m.Rect.Contains(m.Work):
			b.fail("the work area of monitor %c reaches out of it", m.Letter)
		}
	}
	if m := b.e.first(); m == nil {
		b.fail("no monitor is connected")
	} else {
		b.e.At = m.Letter
	}
}

// Err is the first fault so far. Nothing can be built on monitors at fault.
func (b *Builder) Err() error { return b.err }

// Known are the monitors, by letter.
func (b *Builder) Known() []Monitor { return b.e.Desk.Monitors }

// Connected tells whether a monitor is plugged in and has sheets.
func (b *Builder) Connected(letter byte) bool { return b.e.Connected(letter) }

// first is the primary connected monitor, else the first connected one.
func (d *Desk) first() *Monitor {
	var first *Monitor
	for i := range d.Monitors {
		m := &d.Monitors[i]
		if m.Connected && (first == nil || m.Primary && !first.Primary) {
			first = m
		}
	}
	return first
}

// Workspace adds a workspace at the end and gives its index. An ID of 0 is
// replaced by a new one.
func (b *Builder) Workspace(ws Workspace) int {
	if ws.ID <= 0 {
		ws.ID = b.e.lastID + 1
	}
	if b.e.Index(ws.ID) >= 0 {
		b.fail("two workspaces have the id %d", ws.ID)
	}
	if ws.Name != "" && b.e.named(ws.Name) >= 0 {
		b.fail("two workspaces are called %q", ws.Name)
	}
	b.e.lastID = max(b.e.lastID, ws.ID)
	b.e.ownWorkspaces[ws.ID] = true
	b.e.Workspaces = append(b.e.Workspaces, &ws)
	for _, m := range b.e.Monitors {
		if b.e.Has(len(b.e.Workspaces)-1, m.Letter) {
			b.e.sheet(len(b.e.Workspaces)-1, m.Letter)
		}
	}
	return len(b.e.Workspaces) - 1
}

// WorkspaceID is the id of the workspace at index i.
func (b *Builder) WorkspaceID(i int) int { return b.e.Workspaces[i].ID }

// First is the letter of the primary connected monitor, else of the first one.
func (b *Builder) First() byte {
	if m := b.e.first(); m != nil {
		return m.Letter
	}
	return 0
}

// Sheet sets the layout of a sheet, its tiled windows, and its floating ones in
// stacking order. The windows must have been added by Window.
func (b *Builder) Sheet(i int, letter byte, s Sheet) {
	if !b.e.Has(i, letter) {
		b.fail("workspace %d has no sheet on monitor %c", i+1, letter)
		return
	}
	*b.e.sheet(i, letter) = s
}

// Away sets the sheet that a workspace had on a monitor now unplugged.
func (b *Builder) Away(i int, letter byte, s Sheet) {
	b.e.workspace(i).away[letter-'A'] = &s
}

// Window adds a window. Its Workspace and Monitor must be set, or only its
// Workspace, where its place tells the monitor.
func (b *Builder) Window(w Window) {
	i, dup := b.e.find(w.ID)
	if dup {
		b.fail("two windows have the id %d", w.ID)
		return
	}
	if w.ID <= 0 {
		b.fail("a window has the id %d: ids start at 1", w.ID)
		return
	}
	if w.Monitor == 0 {
		if m := stray.Home(w.Rect, b.e.strays); m != nil {
			w.Monitor = m.Letter
		}
		if i := b.e.Index(w.Workspace); i >= 0 {
			w.Monitor = b.e.fitting(i, w.Monitor)
		}
	}
	b.e.Windows = slices.Insert(b.e.Windows, i, &w)
	b.e.ownWindows[w.ID] = true
	b.e.Clock = max(b.e.Clock, w.recency())
}

// Float lays a window that was added on top of the floating ones of its sheet.
func (b *Builder) Float(id int) {
	w := b.e.Window(id)
	i := b.e.Index(w.Workspace)
	if i < 0 || !b.e.Connected(w.Monitor) {
		b.fail("window %d is on no workspace", id)
		return
	}
	s := b.e.sheet(i, w.Monitor)
	s.Floating = append(s.Floating, id)
}

// Show says which workspaces the monitors show (by index), the monitor At, and
// the focused window; 0 for what is not known. Recent lists the workspaces'
// ids, the most recent first.
func (b *Builder) Show(shown map[byte]int, at byte, focus int, recent []int) {
	e := b.e
	for _, id := range slices.Backward(recent) {
		if e.Index(id) < 0 {
			b.fail("the recent workspaces name the id %d, and none has it", id)
			return
		}
		e.Recent = slices.Insert(without(e.Recent, id), 0, id)
	}
	for l, i := range shown {
		if !e.Has(i, l) {
			b.fail("monitor %c shows workspace %d, which has no sheet there", l, i+1)
			return
		}
		e.Shown[l-'A'] = e.Workspaces[i].ID
		if !e.Settings.Separate {
			e.show(i)
		}
	}
	e.reshow()
	if at != 0 {
		if !e.Connected(at) {
			b.fail("monitor %c is not connected: it cannot be where you are", at)
			return
		}
		e.At = at
	}
	if focus == 0 {
		return
	}
	w := e.Window(focus)
	if w == nil || !e.Visible(w) {
		b.fail("window %d cannot have the focus: it is not shown", focus)
		return
	}
	e.Focus, e.At = focus, w.Monitor
	if w.Used == 0 {
		e.Clock++
		e.window(focus).Used = e.Clock
	}
}

// Bare puts every window out of sight, as a look at the bare desk does, but those that had
// the focus after a count of focus changes; below 0 for all. What was given the focus by Show
// gets it back after it.
func (b *Builder) Bare(clock int) {
	e := b.e
	if b.err != nil {
		return
	}
	focus := e.Focus
	if e.makeBare(); clock >= 0 {
		e.BareClock = clock
	}
	if w := e.Window(focus); w != nil && !e.hidden(w) {
		e.Focus, e.BareFocus = focus, 0
	}
}

// Clock sets the count of focus changes, at least that of any window.
func (b *Builder) Clock(n int) { b.e.Clock = max(b.e.Clock, n) }

// LastID sets the highest workspace id that was ever given.
func (b *Builder) LastID(n int) { b.e.lastID = max(b.e.lastID, n) }

// Desk hands out the desk, laid out, or the first fault.
func (b *Builder) Desk() (*Desk, error) {
	if b.err != nil {
		return nil, b.err
	}
	if len(b.e.Workspaces) == 0 {
		return nil, errors.New("a desk needs at least one workspace")
	}
	if len(b.e.Recent) == 0 {
		b.e.show(0)
		b.e.reshow()
	}
	d := b.e.finish()
	if err := d.Check(); err != nil {
		return nil, err
	}
	return d, nil
}

// LastID is the highest workspace id this desk ever gave.
func (d *Desk) LastID() int { return d.lastID }

// defaultPlace is where a floating window goes that named no place: the middle
// of the work area, half as wide and high.
func defaultPlace(w *Window, work geom.Rect) geom.Rect {
	size := geom.R(0, 0, max(work.W/2, w.MinW), max(work.H/2, w.MinH))
	return geom.R(work.X+geom.FloorDiv(work.W-size.W, 2), work.Y+geom.FloorDiv(work.H-size.H, 2), size.W, size.H)
}

// DefaultPlace is where a floating window goes on a monitor when nothing says where.
func (b *Builder) DefaultPlace(w Window, letter byte) geom.Rect {
	return defaultPlace(&w, b.e.Monitor(letter).Work)
}

// TilesOf is the tree of a list layout.
func TilesOf(k layout.Kind, ids []int, share, leads int) *layout.Node {
	if !k.List() {
		return layout.Flat(layout.Across, ids)
	}
	return layout.Of(k, ids, share, leads)
}
