package desk

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/geom"
)

// Dir is a direction on the plane.
type Dir uint8

// The directions.
const (
	Left Dir = iota
	Right
	Up
	Down
)

var dirNames = [...]string{"left", "right", "up", "down"}

// ParseDir finds a direction by its word.
func ParseDir(word string) (Dir, bool) {
	i := slices.Index(dirNames[:], word)
	return Dir(max(i, 0)), i >= 0
}

// String is the direction's word.
func (d Dir) String() string { return dirNames[d] }

// opposite is the direction back.
func (d Dir) opposite() Dir { return [...]Dir{Right, Left, Down, Up}[d] }

// beside is the direction as a place: to the left of.
func (d Dir) beside() string {
	return [...]string{"to the left of", "to the right of", "above", "below"}[d]
}

// place is where a command points: a workspace by its index or -1 for the one
// a window is on, a monitor or 0 for the one it is on.
type place struct {
	workspace int
	letter    byte
}

func (p place) words(d *Desk) string {
	switch {
	case p.workspace < 0:
		return fmt.Sprintf("monitor %c", p.letter)
	case p.letter == 0:
		return d.Title(p.workspace)
	}
	return SheetRef(p.workspace, p.letter)
}

// perhaps names the workspaces that may be meant by a name that none has.
func (e *edit) perhaps(name string) string {
	var near []string
	for _, ws := range e.Workspaces {
		if ws.Name != "" && strings.Contains(strings.ToLower(ws.Name), strings.ToLower(name)) {
			near = append(near, ws.Name)
		}
	}
	if len(near) == 0 {
		return ""
	}
	return ": did you mean " + strings.Join(near, " or ") + "?"
}

// resolve finds the place an argument names, counting next and prev from the
// workspace at index from. It makes a workspace for "new".
func (e *edit) resolve(a Arg, from int) (place, error) {
	switch a.Kind {
	case Number, Ref:
		if a.Kind == Ref && !e.Connected(a.Letter) {
			return place{}, e.noMonitor(a.Letter)
		}
		if a.N < 1 || a.N > len(e.Workspaces) {
			return place{}, fmt.Errorf("there is no workspace %d: %s; add makes one", a.N, thereAre(len(e.Workspaces)))
		}
		return place{a.N - 1, a.Letter}, nil
	case Letter:
		if !e.Connected(a.Letter) {
			return place{}, e.noMonitor(a.Letter)
		}
		return place{-1, a.Letter}, nil
	case Name:
		i := e.named(a.Word)
		if i < 0 && len(a.Word) == 1 { // a letter that was given to one
			i = e.pinnedWorkspace(a.Word[0])
		}
		if i < 0 {
			return place{}, fmt.Errorf("no workspace is called %s%s", a.Word, e.perhaps(a.Word))
		}
		return place{workspace: i}, nil
	}
	i, err := e.relative(a.Word, from)
	return place{workspace: i}, err
}

func (e *edit) relative(word string, from int) (int, error) {
	last := len(e.Workspaces) - 1
	switch word {
	case "next":
		if from < last {
			return from + 1, nil
		}
		if e.Settings.Wrap {
			return 0, nil
		}
		return 0, fmt.Errorf("there is no workspace after %d", last+1)
	case "prev":
		if from > 0 {
			return from - 1, nil
		}
		if e.Settings.Wrap {
			return last, nil
		}
		return 0, errors.New("there is no workspace before 1")
	case "first":
		return 0, nil
	case "last":
		return last, nil
	case "new":
		if e.Settings.Growing {
			return last, nil
		}
		return e.newWorkspace("", last+1)
	case "back":
		if len(e.Recent) < 2 {
			return 0, errors.New("there is no workspace to go back to yet")
		}
		return e.Index(e.Recent[1]), nil
	}
	return 0, fmt.Errorf("%q is no workspace", word)
}

// leading is the workspace that the first of several arguments names, the
// current one where there is only one.
func (e *edit) leading(c Command) (int, error) {
	if len(c.Args) < 2 {
		return e.Current(), nil
	}
	p, err := e.resolve(c.Args[0], e.Current())
	return p.workspace, err
}

// atHome faults a sheet that does not exist in separate mode.
func (e *edit) atHome(p place) error {
	if p.workspace < 0 || p.letter == 0 || e.Has(p.workspace, p.letter) {
		return nil
	}
	return fmt.Errorf("workspace %d is not at home on %c: home %d %c changes that", p.workspace+1, p.letter, p.workspace+1, p.letter)
}

func (d *Desk) noMonitor(letter byte) error {
	if m := d.Monitor(letter); m != nil && m.Mirrors != 0 {
		return fmt.Errorf("monitor %c mirrors %c and has no sheets", letter, m.Mirrors)
	} else if m != nil {
		return fmt.Errorf("monitor %c is unplugged", letter)
	}
	return fmt.Errorf("there is no monitor %c", letter)
}

// around is the connected monitor after or before one, by letter, around the
// end; ok is false where the arguments do not ask for one.
func (d *Desk) around(args []Arg, from byte) (Arg, bool) {
	if args[0].Kind != Keyword || args[0].Word != "monitor" {
		return Arg{}, false
	}
	var letters []byte
	for _, m := range d.Monitors {
		if m.Connected {
			letters = append(letters, m.Letter)
		}
	}
	step := 1
	if args[1].Word == "prev" {
		step = len(letters) - 1
	}
	return Arg{Kind: Letter, Letter: letters[(slices.Index(letters, from)+step)%len(letters)]}, true
}

func (e *edit) focus(c Command) (string, error) {
	if c.Of != nil {
		ids, err := e.subject(c)
		if err != nil {
			return "", err
		}
		return e.focusAmong(ids)
	}
	a := c.Args[0]
	if m, ok := e.around(c.Args, e.At); ok {
		a = m
	}
	switch a.Kind {
	case Item:
		return e.focusWindow(a.N)
	case Letter:
		if !e.Connected(a.Letter) {
			return "", e.noMonitor(a.Letter)
		}
		i := e.shownOn(a.Letter)
		if i < 0 {
			e.At, e.Focus = a.Letter, 0
			return fmt.Sprintf("Monitor %c shows no workspace.", a.Letter), nil
		}
		e.land(place{i, a.Letter})
		return e.focusWords(), nil
	}
	if dir, ok := ParseDir(a.Word); ok {
		return e.focusDir(dir)
	}
	switch a.Word {
	case "back":
		return e.focusBack()
	case "urgent":
		return e.focusUrgent()
	case "app":
		return e.focusApp(c.Args[1].Word)
	}
	return e.focusStep(a.Word)
}

// focusAmong gives the focus to the window of some that was used last, or goes on from one of
// them to the next.
func (e *edit) focusAmong(ids []int) (string, error) {
	if i := slices.Index(ids, e.Focus); i >= 0 {
		return e.focusWindow(ids[(i+1)%len(ids)])
	}
	return e.focusWindow(slices.MaxFunc(ids, func(a, b int) int { return e.Window(a).Used - e.Window(b).Used }))
}

func (e *edit) focusWords() string {
	if w := e.Window(e.Focus); w != nil && w.NoFocus {
		return fmt.Sprintf("%s is chosen. It takes no keys.", w.Label())
	} else if w != nil {
		return fmt.Sprintf("%s has the focus.", w.Label())
	}
	return fmt.Sprintf("Monitor %c has the focus. Nothing is open there.", e.At)
}

func (e *edit) focusWindow(id int) (string, error) {
	w := e.Window(id)
	if w == nil {
		return "", fmt.Errorf("there is no window #%d", id)
	}
	e.restoreAll([]int{id})
	if w = e.Window(id); !e.onShown(w) {
		e.show(e.Index(w.Workspace))
	}
	e.setFocus(id)
	return e.focusWords(), nil
}

func (e *edit) focusBack() (string, error) {
	var best *Window
	for _, w := range e.Windows {
		if w.ID != e.Focus && w.Used > 0 && (best == nil || w.Used > best.Used) {
			best = w
		}
	}
	if best == nil {
		return "", errors.New("no other window has had the focus yet")
	}
	return e.focusWindow(best.ID)
}

// focusStep goes to the next or previous window of the sheet, around its end.
func (e *edit) focusStep(word string) (string, error) {
	order := e.Order(e.Current(), e.At)
	if len(order) == 0 {
		return "", fmt.Errorf("sheet %s is empty", SheetRef(e.Current(), e.At))
	}
	step := 1
	if word == "prev" {
		step = -1
	}
	i := slices.IndexFunc(order, func(w *Window) bool { return w.ID == e.Focus })
	switch {
	case i >= 0:
		i = (i + step + len(order)) % len(order)
	case step > 0:
		i = 0
	default:
		i = len(order) - 1
	}
	e.setFocus(order[i].ID)
	return e.focusWords(), nil
}

// focusDir goes to the nearest window in a direction, over the edge to the
// next monitor.
func (e *edit) focusDir(dir Dir) (string, error) {
	w := e.Window(e.Focus)
	from := e.Monitor(e.At)
	if w != nil {
		from = e.Monitor(w.Monitor)
		if next, ok := e.nextInPile(w, dir); ok {
			e.setFocus(next)
			return e.focusWords(), nil
		}
		var near []*Window
		place := e.own(w)
		for _, o := range e.showing(from.Letter) {
			if o.ID != w.ID && beyond(place, o.Rect, dir) {
				near = append(near, o)
			}
		}
		if len(near) > 0 {
			e.setFocus(slices.MinFunc(near, byNearness(place, dir)).ID)
			return e.focusWords(), nil
		}
	}
	m := e.neighbour(from, dir)
	switch {
	case m == nil && e.Settings.EdgeGoes:
		return e.goTo(overEdge(dir))
	case m == nil:
		return "", fmt.Errorf("there is nothing further %s", dir)
	}
	e.crossTo(m, w, dir)
	return e.focusWords(), nil
}

// nextInPile is the window that a direction leads to within a pile, up and down,
// or within tabs, left and right.
func (e *edit) nextInPile(w *Window, dir Dir) (id int, ok bool) {
	return e.InPile(w, dir)
}

// crossTo gives the focus to the window of a monitor nearest to the edge it is
// entered by, of those level with w first; to the monitor where it is empty.
func (e *edit) crossTo(m *Monitor, w *Window, dir Dir) {
	there := e.showing(m.Letter)
	e.At = m.Letter
	if len(there) == 0 {
		e.setFocus(0)
		return
	}
	subject := m.Rect
	if w != nil {
		subject = e.own(w)
	}
	entry := near(m.Rect, dir)
	best := slices.MinFunc(there, func(a, b *Window) int {
		return cmp.Or(
			-cmpBool(level(subject, a.Rect, dir), level(subject, b.Rect, dir)),
			cmp.Compare(abs(near(a.Rect, dir)-entry), abs(near(b.Rect, dir)-entry)),
			cmp.Compare(b.Used, a.Used),
			cmp.Compare(a.ID, b.ID))
	})
	e.setFocus(best.ID)
}

// showing lists the windows a monitor shows, without those that their pile or tabs cover.
func (d *Desk) showing(letter byte) []*Window {
	ids := slices.Clone(d.apart) // the sticky ones of other workspaces are among these
	if i := d.shownOn(letter); i >= 0 && d.Sheet(i, letter) != nil {
		ids = append(ids, d.Sheet(i, letter).listed()...)
	}
	slices.Sort(ids)
	covered := map[*Sheet]map[int]bool{}
	return slices.DeleteFunc(d.found(slices.Compact(ids)), func(w *Window) bool {
		return w.Monitor != letter || !d.Visible(w) || d.coveredBy(w, covered)
	})
}

// neighbour is the nearest connected monitor in a direction; nil where there is none.
func (d *Desk) neighbour(from *Monitor, dir Dir) *Monitor {
	var best *Monitor
	key := func(m *Monitor) []int {
		lvl := 1
		if level(from.Rect, m.Rect, dir) {
			lvl = 0
		}
		return []int{lvl, abs(near(m.Rect, dir) - far(from.Rect, dir)), int(m.Letter)}
	}
	for i := range d.Monitors {
		m := &d.Monitors[i]
		if !m.Connected || m.Letter == from.Letter || !beyond(from.Rect, m.Rect, dir) {
			continue
		}
		if best == nil || slices.Compare(key(m), key(best)) < 0 {
			best = m
		}
	}
	return best
}

// byNearness orders windows in a direction from a rectangle: level ones first,
// then the nearest edge, the most recent, the lower id.
func byNearness(from geom.Rect, dir Dir) func(a, b *Window) int {
	return func(a, b *Window) int {
		return cmp.Or(
			-cmpBool(level(from, a.Rect, dir), level(from, b.Rect, dir)),
			cmp.Compare(abs(near(a.Rect, dir)-far(from, dir)), abs(near(b.Rect, dir)-far(from, dir))),
			cmp.Compare(b.Used, a.Used),
			cmp.Compare(a.ID, b.ID))
	}
}

// far is the edge of r in the direction, near the one against it, both counted
// so that further is more.
func far(r geom.Rect, dir Dir) int {
	return [...]int{-r.X, r.Right(), -r.Y, r.Bottom()}[dir]
}

func near(r geom.Rect, dir Dir) int {
	return [...]int{-r.Right(), r.X, -r.Bottom(), r.Y}[dir]
}

// beyond tells whether o lies in the direction from r: past its edge, or
// overlapping with its centre further on.
func beyond(r, o geom.Rect, dir Dir) bool {
	if near(o, dir) >= far(r, dir) {
		return true
	}
	return r.Overlaps(o) && far(o, dir)+near(o, dir) > far(r, dir)+near(r, dir)
}

// level tells whether r and o overlap across the direction.
func level(r, o geom.Rect, dir Dir) bool {
	if dir == Left || dir == Right {
		return r.Y < o.Bottom() && o.Y < r.Bottom()
	}
	return r.X < o.Right() && o.X < r.Right()
}

func cmpBool(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

func abs(n int) int { return max(n, -n) }

// thereAre says how many workspaces there are.
func thereAre(n int) string {
	if n == 1 {
		return "there is 1"
	}
	return fmt.Sprintf("there are %d", n)
}
