package desk

import (
	"fmt"
	"slices"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Check tells the first invariant of the desk that does not hold. It is for
// tests, and for desks read from outside.
func (d *Desk) Check() error {
	for _, check := range []func(*Desk) error{
		(*Desk).checkMonitors, (*Desk).checkWorkspaces, (*Desk).checkWindows, (*Desk).checkApart, (*Desk).checkSeparate, (*Desk).checkSheets, (*Desk).checkView, (*Desk).checkGrowing, (*Desk).checkAlongside,
	} {
		if err := check(d); err != nil {
			return err
		}
	}
	return nil
}

func (d *Desk) checkMonitors() error {
	connected := 0
	for i, m := range d.Monitors {
		if i > 0 && d.Monitors[i-1].Letter >= m.Letter {
			return fmt.Errorf("the letters of the monitors are not in order at %c", m.Letter)
		}
		if m.Connected {
			connected++
			if m.Mirrors != 0 {
				return fmt.Errorf("monitor %c has sheets, and mirrors %c", m.Letter, m.Mirrors)
			}
		}
	}
	if connected == 0 {
		return fmt.Errorf("no monitor is connected")
	}
	return nil
}

func (d *Desk) checkWorkspaces() error {
	if len(d.Workspaces) == 0 {
		return fmt.Errorf("there is no workspace")
	}
	ids, names := map[int]bool{}, map[string]bool{}
	for i, ws := range d.Workspaces {
		if ids[ws.ID] || ws.ID > d.lastID {
			return fmt.Errorf("workspace %d has the id %d, which is taken or was never given", i+1, ws.ID)
		}
		if ws.Name != "" && names[ws.Name] {
			return fmt.Errorf("two workspaces are called %q", ws.Name)
		}
		ids[ws.ID], names[ws.Name] = true, true
	}
	for _, id := range d.Recent {
		if !ids[id] {
			return fmt.Errorf("the recent workspaces name the id %d, and none has it", id)
		}
	}
	return nil
}

func (d *Desk) checkWindows() error {
	for i, w := range d.Windows {
		if i > 0 && d.Windows[i-1].ID >= w.ID {
			return fmt.Errorf("the windows are not in the order of their ids at #%d", w.ID)
		}
		if err := d.checkWindow(w); err != nil {
			return err
		}
	}
	return nil
}

func (d *Desk) checkWindow(w *Window) error {
	switch {
	case d.Index(w.Workspace) < 0:
		return fmt.Errorf("window #%d is on no workspace", w.ID)
	case !d.Connected(w.Monitor):
		return fmt.Errorf("window #%d is on monitor %c, which is not connected", w.ID, w.Monitor)
	case w.Parent != 0 && d.Window(w.Parent) == nil:
		return fmt.Errorf("window #%d is a dialog of #%d, which is not there", w.ID, w.Parent)
	case w.Rect.W < 0 || w.Rect.H < 0 || w.Rect.Empty() && !w.Minimised && !d.Tiled(w):
		return fmt.Errorf("window #%d is %d by %d", w.ID, w.Rect.W, w.Rect.H)
	case w.recency() > d.Clock:
		return fmt.Errorf("window #%d had the focus in the future", w.ID)
	}
	return nil
}

// checkSheets holds every sheet against the windows that say they are on it.
func (d *Desk) checkSheets() error {
	seen := make(map[int]bool, len(d.Windows))
	for i, ws := range d.Workspaces {
		for _, m := range d.Monitors {
			if d.Sheet(i, m.Letter) == nil {
				continue
			}
			if err := d.checkSheet(i, m.Letter, seen); err != nil {
				return fmt.Errorf("sheet %s of workspace id %d: %w", SheetRef(i, m.Letter), ws.ID, err)
			}
		}
	}
	for _, w := range d.Windows {
		if seen[w.ID] == w.Minimised {
			return fmt.Errorf("window #%d is on a sheet's list, or on none, against its being minimised (%v)", w.ID, w.Minimised)
		}
	}
	return nil
}

func (d *Desk) checkSheet(i int, letter byte, seen map[int]bool) error {
	s := d.Sheet(i, letter)
	tiles := s.Tiles.Windows()
	free := s.Layout == layout.Free
	if err := checkTree(s.Tiles, true); err != nil {
		return err
	}
	for _, id := range tiles {
		if w := d.Window(id); w == nil || w.floats() {
			return fmt.Errorf("#%d is tiled and is not there, or floats", id)
		}
		if free != slices.Contains(s.Floating, id) {
			return fmt.Errorf("#%d is on both lists, or a free sheet does not float it", id)
		}
	}
	list := s.Floating
	if !free {
		list = slices.Concat(tiles, s.Floating)
	}
	for _, id := range list {
		w := d.Window(id)
		switch {
		case w == nil:
			return fmt.Errorf("it lists #%d, which is not there", id)
		case seen[id]:
			return fmt.Errorf("it lists #%d, which is on another list", id)
		case w.Monitor != letter || w.Workspace != d.Workspaces[i].ID:
			return fmt.Errorf("it lists #%d, which says it is on %s", id, d.Ref(w))
		case !w.floats() && !slices.Contains(tiles, id):
			return fmt.Errorf("#%d floats and does not want to", id)
		}
		seen[id] = true
	}
	if free {
		return nil
	}
	return d.checkTiles(s, letter)
}

// checkTiles tells whether the leaves fill the sheet's room exactly. With gaps
// the room between them is not counted.
func (d *Desk) checkTiles(s *Sheet, letter byte) error {
	room := d.RoomOf(s, letter)
	area := int64(0)
	var fault error
	var rects []geom.Rect
	layout.Place(s.Tiles, room, d.spacing(s, letter), func(id int, r geom.Rect) {
		w := d.Window(id)
		switch {
		case d.Covers(w):
		case w.Rect != r:
			fault = fmt.Errorf("#%d is at %v, its tile is %v", id, w.Rect, r)
		case !r.Empty() && !room.Contains(r):
			fault = fmt.Errorf("#%d at %v lies outside the room %v", id, r, room)
		}
		area += r.Area()
		rects = append(rects, r)
	})
	if fault != nil || s.Tiles == nil || hasPile(s.Tiles) {
		return fault
	}
	if d.gapOf(s) == 0 && area != room.Area() {
		return fmt.Errorf("the tiles cover %d of %d pixels", area, room.Area())
	}
	for i, r := range rects {
		for _, o := range rects[i+1:] {
			if r.Overlaps(o) {
				return fmt.Errorf("the tiles %v and %v overlap", r, o)
			}
		}
	}
	return nil
}

func hasPile(n *layout.Node) bool {
	return n.Split == layout.Pile || n.Split == layout.Tabs || slices.ContainsFunc(n.Kids, hasPile)
}

func checkTree(n *layout.Node, root bool) error {
	switch {
	case n == nil && root:
		return nil
	case n == nil:
		return fmt.Errorf("a group has a member that is nothing")
	case n.Share < 1:
		return fmt.Errorf("a share is %d", n.Share)
	case n.Split != layout.Leaf && len(n.Kids) < 2:
		return fmt.Errorf("a group has %d members", len(n.Kids))
	}
	for _, k := range n.Kids {
		if err := checkTree(k, false); err != nil {
			return err
		}
	}
	return nil
}

func (d *Desk) checkView() error {
	if !d.Connected(d.At) {
		return fmt.Errorf("you are on monitor %c, which is not connected", d.At)
	}
	if d.Focus == 0 {
		return nil
	}
	w := d.Window(d.Focus)
	switch {
	case w == nil:
		return fmt.Errorf("the focused window #%d is not there", d.Focus)
	case !d.Visible(w):
		return fmt.Errorf("the focused window #%d is not shown", d.Focus)
	case w.Monitor != d.At:
		return fmt.Errorf("the focus is on %c and you are on %c", w.Monitor, d.At)
	}
	return d.checkSeen(w)
}

// checkSeen tells whether the window that has the focus is hidden by others of the desk.
// Who is over whom is another program's to say where that manages the windows.
func (d *Desk) checkSeen(w *Window) error {
	if d.Settings.Alongside {
		return nil
	}
	ws := d.Picture().Windows
	at := slices.IndexFunc(ws, func(p *Placed) bool { return p.ID == w.ID })
	if d.hides(w, ws[at+1:]) {
		return fmt.Errorf("the focused window #%d at %v is hidden", w.ID, w.Rect)
	}
	return nil
}

// checkAlongside tells whether, where another program manages the windows, every sheet is
// free and every window floats.
func (d *Desk) checkAlongside() error {
	if !d.Settings.Alongside {
		return nil
	}
	for i, ws := range d.Workspaces {
		for _, m := range d.Monitors {
			if s := ws.sheets[m.Letter-'A']; s != nil && (s.Layout != layout.Free || s.Tiles != nil) {
				return fmt.Errorf("sheet %s is not free, and another program manages the windows", SheetRef(i, m.Letter))
			}
		}
	}
	return nil
}
