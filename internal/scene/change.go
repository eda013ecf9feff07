package scene

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"zatlas/internal/desk"
)

// ChangeFormat is the first key of what WriteSince writes.
const ChangeFormat = "zealous-atlas/change/1"

// changeOut is a desk.Delta as it is written. Numbers of workspaces are those of the
// desk after it.
type changeOut struct {
	Format     string               `json:"format"`
	Settings   *settingsOut         `json:"settings,omitempty"`
	Monitors   []monitorOut         `json:"monitors,omitempty"`
	Order      []int                `json:"order,omitempty"` // ids
	Workspaces []workspaceChangeOut `json:"workspaces,omitempty"`
	Windows    []windowOut          `json:"windows,omitempty"`
	Gone       []int                `json:"gone,omitempty"`
	Shown      map[string]int       `json:"shown"`
	At         string               `json:"at"`
	Focus      int                  `json:"focus,omitempty"`
	Bare       bool                 `json:"bare,omitempty"`
	BareClock  int                  `json:"bareClock,omitempty"`
	Recent     []int                `json:"recent"`
	Last       int                  `json:"lastWorkspace"`
	Clock      int                  `json:"clock"`
}

// workspaceChangeOut has a null for a sheet that is gone.
type workspaceChangeOut struct {
	ID     int                  `json:"id"`
	Name   string               `json:"name,omitempty"`
	Home   string               `json:"home,omitempty"`
	Pin    string               `json:"pin,omitempty"`
	Sheets map[string]*sheetOut `json:"sheets,omitempty"`
	Away   map[string]*sheetOut `json:"away,omitempty"`
}

// WriteSince writes, in one line, what the desk has that an earlier one had not: its
// size is that of the change. ReadAfter reads it.
func WriteSince(out io.Writer, d, old *desk.Desk) error {
	x := d.Since(old)
	o := changeOut{
		Format: ChangeFormat, Order: x.Order, Gone: x.Gone, Shown: shownFrom(d), At: string(rune(x.At)),
		Focus: max(x.Focus, x.BareFocus), Bare: x.Bare, BareClock: x.BareClock, Recent: recentFrom(d), Last: x.LastID, Clock: x.Clock,
	}
	if x.Settings != nil {
		set := settingsFrom(*x.Settings)
		o.Settings = &set
	}
	for _, m := range x.Monitors {
		o.Monitors = append(o.Monitors, monitorFrom(m))
	}
	for _, ws := range x.Workspaces {
		o.Workspaces = append(o.Workspaces, workspaceChangeOut{ws.ID, ws.Name, letterFrom(ws.Home), letterFrom(ws.Pin), sheetsFrom(d, ws.Sheets), sheetsFrom(d, ws.Away)})
	}
	for _, w := range x.Windows {
		win := windowFrom(d, w)
		// No sheet need be there to tell these.
		win.Workspace, win.Monitor = d.Index(w.Workspace)+1, letterFrom(w.Monitor)
		win.Floating, win.Fullscreen = w.Floating, w.Fullscreen
		o.Windows = append(o.Windows, win)
	}
	enc := json.NewEncoder(out)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(o); err != nil {
		return fmt.Errorf("writing a change: %w", err)
	}
	return nil
}

func sheetsFrom(d *desk.Desk, sheets map[byte]*desk.Sheet) map[string]*sheetOut {
	if sheets == nil {
		return nil
	}
	out := map[string]*sheetOut{}
	for l, s := range sheets {
		out[letterFrom(l)] = nil
		if s != nil {
			o := sheetFrom(d, s, false)
			out[letterFrom(l)] = &o
		}
	}
	return out
}

// ReadAfter reads what WriteSince wrote, and gives the desk after it; old is the desk
// before, of which it shares what stays the same.
func ReadAfter(in io.Reader, old *desk.Desk) (*desk.Desk, error) {
	root, err := parse(in)
	if err != nil {
		return nil, err
	}
	s := &sceneReader{r: root.r, letters: map[byte]bool{}}
	x := s.change(root, old)
	if root.r.err != nil {
		return nil, root.r.err
	}
	return old.After(x)
}

// change reads a delta from a desk.
func (s *sceneReader) change(root node, old *desk.Desk) desk.Delta {
	x := desk.Delta{At: s.letter(root.at("at")), Clock: root.at("clock").int(0, 0, maxID), LastID: root.at("lastWorkspace").int(0, 0, maxID)}
	if got := root.at("format").text(""); got != ChangeFormat {
		s.r.fail("format", "this must be %q, not %q", ChangeFormat, got)
		return x
	}
	s.separate = old.Settings.Separate
	if n := root.at("settings"); !n.missing() {
		set := s.settings(n)
		x.Settings, s.separate = &set, set.Separate
	}
	s.monitorsAfter(root.at("monitors"), old, &x)
	x.Order = root.at("order").ints(1, maxID)
	ids := x.Order
	if ids == nil {
		for _, ws := range old.Workspaces {
			ids = append(ids, ws.ID)
		}
	}
	x.Gone = root.at("gone").ints(1, maxID)
	s.windowsAfter(root.at("windows"), ids, old, &x)
	names := map[string]bool{}
	for _, n := range root.at("workspaces").list() {
		ws := s.workspace(n, nil, names)
		x.Workspaces = append(x.Workspaces, desk.WorkspaceDelta{ID: ws.ID, Name: ws.Name, Home: ws.Home, Pin: ws.Pin, Sheets: s.sheetsAfter(n.at("sheets")), Away: s.sheetsAfter(n.at("away"))})
		n.done()
	}
	for l, i := range s.shownBy(root.at("shown"), len(ids)) {
		if l != 0 {
			x.Shown[l-'A'] = ids[i]
		}
	}
	for _, n := range root.at("recent").list() {
		if i := n.int(1, 1, len(ids)); s.r.err == nil {
			x.Recent = append(x.Recent, ids[i-1])
		}
	}
	x.Focus, x.Bare = root.at("focus").int(0, 0, maxID), root.at("bare").bool(false)
	if x.Bare {
		x.BareClock = root.at("bareClock").int(0, 0, maxID)
		x.BareFocus = x.Focus // which of the two it is the windows tell
	}
	root.done()
	return x
}

func (s *sceneReader) monitorsAfter(n node, old *desk.Desk, x *desk.Delta) {
	if !n.missing() {
		b := desk.NewBuilder(desk.Settings{})
		b.Monitors(s.monitors(n))
		if err := b.Err(); err != nil {
			s.r.fail(n.path(), "%v", err)
		}
		x.Monitors = b.Known()
	}
	ms := old.Monitors
	if x.Monitors != nil {
		ms = x.Monitors
	}
	for _, m := range ms {
		s.letters[m.Letter] = m.Connected
	}
}

func (s *sceneReader) windowsAfter(n node, ids []int, old *desk.Desk, x *desk.Delta) {
	s.windows = map[int]*windowRead{}
	for _, n := range n.list() {
		w := s.window(n)
		switch {
		case s.windows[w.ID] != nil || len(x.Windows) > 0 && x.Windows[len(x.Windows)-1].ID > w.ID:
			s.r.fail(n.path(), "the windows are not in the order of their ids")
		case w.Workspace < 1 || w.Workspace > len(ids):
			s.r.fail(n.path(), "there is no workspace %d", w.Workspace)
		case w.Seat != nil && w.Seat.Workspace > len(ids):
			s.r.fail(n.path(), "there is no workspace %d", w.Seat.Workspace)
		}
		if s.r.err != nil {
			return
		}
		w.Workspace = ids[w.Workspace-1]
		if w.Seat != nil {
			w.Seat.Workspace = ids[w.Seat.Workspace-1]
		}
		s.windows[w.ID] = w
		win := w.Window // without what it was read from
		x.Windows = append(x.Windows, &win)
	}
	s.there = func(id int) bool {
		return s.windows[id] != nil || old.Window(id) != nil && !slices.Contains(x.Gone, id)
	}
}

// sheetsAfter reads sheets by the letters of their monitors; null is one that is gone.
func (s *sceneReader) sheetsAfter(n node) map[byte]*desk.Sheet {
	if n.missing() {
		return nil
	}
	sheets := map[byte]*desk.Sheet{}
	for _, key := range n.keys() {
		c := n.at(key)
		l := s.letter(c.name())
		if _, known := s.letters[l]; !known {
			s.r.fail(c.path(), "there is no monitor %s", key)
			return nil
		}
		sheets[l] = nil
		if !c.missing() {
			sheet := s.sheet(c, 0, l, true)
			sheets[l] = &sheet
		}
	}
	return sheets
}
