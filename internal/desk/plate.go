package desk

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode"

	"zatlas/internal/layout"
)

// Plate is an arrangement that is kept under a name. It is never written again.
//
// It is laid by giving its places windows, one for one. What a pair costs has these parts,
// of which each counts only where all before it are equal; package assign finds the least
// sum, and of several the first list of windows by place:
//
//   - a place that gets no window costs 1; the app must be the same, by name or by class;
//   - what is alike: 100 for the same role, and 100 for the same title, 90 for one that
//     fits with * for anything, else 80 at most for the words in common; it costs that
//     much less;
//   - nothing for a window that is on the sheet of the place already, 1 on another of its
//     workspace, 2 elsewhere;
//   - how many windows had the focus after it;
//   - the movement, by which the size counts too: by how many pixels its edges move, and
//     1,000,000 for one that is minimised or comes back.
//
// What laying changes comes after what it does not, so that a plate that is laid twice
// gives no window another place the second time. Of more than 200 places and windows of
// one app those of the same title are given first, and then each place in its turn what
// costs least of what is left.
type Plate struct {
	Name   string
	Size   PlateSize
	Gather bool // a sheet's plate takes windows of other workspaces too
	Letter byte // that lays it, a to z; 0 for none
	// Same tells that its places are those of the very windows with their numbers, and of
	// no others: what a laying replaced.
	Same bool
	// As is the arrangement: a desk of places, which are windows without anything but an
	// app, perhaps what the title is like (* stands for anything) and a role, and how they
	// lie. A sheet's plate has one workspace on one monitor, a workspace's one workspace.
	As *Desk
}

// PlateSize is how much a plate arranges.
type PlateSize uint8

// The sizes of plates.
const (
	OfSheet PlateSize = iota
	OfWorkspace
	OfDesk
)

var plateSizes = [...]string{"sheet", "workspace", "desk"}

// String is the size's name.
func (s PlateSize) String() string { return plateSizes[s] }

// ParsePlateSize finds a size by its name.
func ParsePlateSize(name string) (PlateSize, bool) {
	i := slices.Index(plateSizes[:], name)
	return PlateSize(max(i, 0)), i >= 0
}

// MaxPlateName is how many letters the name of a plate may have, and MaxPlates how many
// plates there may be.
const (
	MaxPlateName = 64
	MaxPlates    = 200
)

// BackPlate is the name of the plate that keeps what a laying replaced.
const BackPlate = "back"

// CheckPlateName faults what is no name of a plate: those are names of files too.
func CheckPlateName(name string) error {
	bad := strings.ContainsFunc(name, func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune(" -_", r)
	})
	if n := len([]rune(name)); n == 0 || n > MaxPlateName || bad || strings.TrimSpace(name) != name {
		return fmt.Errorf("%s is no name of a plate: letters, digits, spaces, - and _, at most %d", CleanName(fmt.Sprintf("%q", name)), MaxPlateName)
	}
	return nil
}

// same tells whether another plate says the same.
func (p *Plate) same(o *Plate) bool {
	return p == o || p != nil && o != nil && p.Name == o.Name && p.Size == o.Size && p.Gather == o.Gather && p.Letter == o.Letter && p.Same == o.Same &&
		p.As.mode() == o.As.mode() && p.As.same(o.As)
}

// mode is what the settings say of how the desk is kept that a plate says too.
func (d *Desk) mode() [2]bool { return [2]bool{d.Settings.Separate, d.Settings.Growing} }

// Plate finds a plate by its name, else the only one that differs in case alone, else by
// its letter; nil where there is none.
func (d *Desk) Plate(name string) *Plate {
	if p := d.Plates[name]; p != nil {
		return p
	}
	for _, p := range d.PlateList() {
		if strings.EqualFold(p.Name, name) {
			return p
		}
	}
	for _, p := range d.PlateList() {
		if p.Letter != 0 && name == string(rune(p.Letter)) {
			return p
		}
	}
	return nil
}

// PlateList lists the plates by their names, what a laying replaced last.
func (d *Desk) PlateList() []*Plate {
	return slices.SortedFunc(maps.Values(d.Plates), func(a, b *Plate) int {
		return cmp.Or(cmpBool(a.Name == BackPlate, b.Name == BackPlate), cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)), cmp.Compare(a.Name, b.Name))
	})
}

// WithPlates is the desk with other plates.
func (d *Desk) WithPlates(plates map[string]*Plate) *Desk {
	c := *d
	c.Plates = plates
	return &c
}

// PlatesSince are the plates that are others than on another desk, by their names; nil
// for those that are gone.
func (d *Desk) PlatesSince(old *Desk) map[string]*Plate {
	changed := map[string]*Plate{}
	for name, p := range d.Plates {
		if !p.same(old.Plates[name]) {
			changed[name] = p
		}
	}
	for name := range old.Plates {
		if d.Plates[name] == nil {
			changed[name] = nil
		}
	}
	return changed
}

// setPlate keeps a plate under a name, or removes the one there is for nil.
func (e *edit) setPlate(name string, p *Plate) { e.Plates = withPlate(e.Plates, name, p) }

// withPlate are plates with one more, or, for nil, without that of the name.
func withPlate(plates map[string]*Plate, name string, p *Plate) map[string]*Plate {
	plates = maps.Clone(plates)
	if plates == nil {
		plates = map[string]*Plate{}
	}
	if plates[name] = p; p == nil {
		delete(plates, name)
	}
	return plates
}

// platesBefore are the plates of now, those that a step changed as they were before it.
func (d *Desk) platesBefore(s *step) map[string]*Plate {
	plates := d.Plates
	for name, changed := range s.after.PlatesSince(s.desk) {
		if !changed.same(d.Plates[name]) {
			continue // it was changed since
		}
		plates = withPlate(plates, name, s.desk.Plates[name])
	}
	return plates
}

// plate is the verb about plates.
func (e *edit) plate(c Command) (string, error) {
	word, name := c.Args[0].Word, c.Args[1].Word
	if err := CheckPlateName(name); err != nil {
		return "", err
	}
	if word == "save" {
		return e.savePlate(name, c.Args[2:])
	}
	p := e.Plate(name)
	if p == nil {
		return "", fmt.Errorf("there is no plate %s: %s", name, e.plateNames())
	}
	switch word {
	case "lay":
		return e.layPlate(p, c.Args[2:])
	case "remove":
		e.setPlate(p.Name, nil)
		return fmt.Sprintf("Removed the plate %s.", p.Name), nil
	case "letter":
		return e.letterPlate(p, c.Args[2].Letter)
	}
	return e.renamePlate(p, c.Args[2].Word)
}

// plateNames says which plates there are.
func (d *Desk) plateNames() string {
	var names []string
	for _, p := range d.PlateList() {
		names = append(names, p.Name)
	}
	if len(names) == 0 {
		return "plate save NAME keeps how everything lies"
	}
	if more := len(names) - 8; more > 0 {
		names = append(names[:8], fmt.Sprintf("%d more", more))
	}
	return "there is " + strings.Join(names, ", ")
}

// nameFault tells why a plate cannot be kept under a name, besides one that may be there.
func (d *Desk) nameFault(name string, but *Plate) error {
	if err := CheckPlateName(name); err != nil {
		return err
	}
	for _, o := range d.PlateList() {
		if o != but && o.Name != name && strings.EqualFold(o.Name, name) {
			return fmt.Errorf("there is a plate %s, and no two are alike but for case", o.Name)
		}
	}
	return nil
}

func (e *edit) renamePlate(p *Plate, name string) (string, error) {
	if err := e.nameFault(name, p); err != nil {
		return "", err
	}
	switch other := e.Plates[name]; {
	case other == p:
		return fmt.Sprintf("The plate is called %s already.", name), nil
	case other != nil:
		return "", fmt.Errorf("there is a plate %s already", name)
	}
	next := *p
	next.Name = name
	e.setPlate(p.Name, nil)
	e.setPlate(name, &next)
	return fmt.Sprintf("The plate %s is called %s now.", p.Name, name), nil
}

// letterPlate gives a plate the letter that lays it, which no other has then; 0 for none.
func (e *edit) letterPlate(p *Plate, letter byte) (string, error) {
	for _, o := range e.PlateList() {
		if o.Letter == letter && letter != 0 || o == p {
			next := *o
			if next.Letter = 0; o == p {
				next.Letter = letter
			}
			e.setPlate(o.Name, &next)
		}
	}
	if letter == 0 {
		return fmt.Sprintf("No letter lays the plate %s.", p.Name), nil
	}
	return fmt.Sprintf("%c lays the plate %s.", letter, p.Name), nil
}

// savePlate keeps how the desk lies, or the current workspace or sheet. A plate that is
// there keeps its size and its letter where nothing else is said.
func (e *edit) savePlate(name string, args []Arg) (string, error) {
	if err := e.nameFault(name, nil); err != nil {
		return "", err
	}
	p := &Plate{Name: name, Size: OfDesk}
	if old := e.Plates[name]; old != nil {
		p.Size, p.Letter, p.Gather = old.Size, old.Letter, old.Gather
	} else if len(e.Plates) >= MaxPlates {
		return "", fmt.Errorf("there are %d plates, and no more can be kept", MaxPlates)
	}
	for _, a := range args {
		if size, ok := ParsePlateSize(a.Word); ok {
			p.Size = size
		} else {
			p.Gather = true
		}
	}
	if p.Gather = p.Gather && p.Size == OfSheet; e.shownOn(e.At) < 0 && p.Size != OfDesk {
		return "", fmt.Errorf("monitor %c shows no workspace", e.At)
	}
	var err error
	if p.As, err = e.Desk.places(p.Size, false); err != nil {
		return "", err
	}
	e.setPlate(name, p)
	what := map[PlateSize]string{OfSheet: "sheet " + SheetRef(e.Current(), e.At), OfWorkspace: "workspace " + e.Desk.Title(e.Current()), OfDesk: "the desk"}[p.Size]
	return fmt.Sprintf("Saved %s as the plate %s, with %s.", what, name, Counted(len(p.As.Windows), "place")), nil
}

// sureToSave asks before a plate takes the place of another.
func sureToSave(d *Desk, c Command) (Question, bool) {
	if c.Args[0].Word != "save" || d.Plates[c.Args[1].Word] == nil {
		return Question{}, false
	}
	return Question{fmt.Sprintf("Save over the plate %s?", c.Args[1].Word), "saves over it", "keeps the old one"}, true
}

// places is the arrangement of the desk, or of the current workspace or sheet, as a desk
// of places. Their numbers are those of the windows where same, else count from 1 in
// the order of the desk.
func (d *Desk) places(size PlateSize, same bool) (*Desk, error) {
	set := Settings{Growing: d.Settings.Growing, Separate: d.Settings.Separate}
	if size != OfDesk {
		set = Settings{}
	}
	b := NewBuilder(set)
	var ms []Monitor
	for _, m := range d.Monitors {
		if m.Connected && (size != OfSheet || m.Letter == d.At) {
			ms = append(ms, m)
		}
	}
	if b.Monitors(ms); b.Err() != nil {
		return nil, b.Err()
	}
	from := d.Current()
	picked := d.Workspaces[from : from+1]
	if size == OfDesk {
		from, picked = 0, d.Workspaces
	}
	number := map[int]int{}
	for at, ws := range picked {
		kept := Workspace{ID: at + 1}
		if size == OfDesk {
			kept.Name, kept.Home = ws.Name, ws.Home
			if m := b.e.Monitor(ws.Home); set.Separate && m == nil {
				kept.Home = d.HomeOf(from + at)
			} else if m == nil {
				kept.Home = 0
			}
		}
		b.Workspace(kept)
		for _, m := range ms {
			if b.e.Has(at, m.Letter) && d.Sheet(from+at, m.Letter) != nil {
				d.keepSheet(b, from+at, at, m, number, same)
			}
		}
	}
	return b.Desk()
}

// keepSheet keeps the sheet of the workspace at index i as that of the one at index at, a
// place for each of its windows.
func (d *Desk) keepSheet(b *Builder, i, at int, m Monitor, number map[int]int, same bool) {
	s := d.Sheet(i, m.Letter)
	for _, w := range append(d.Order(i, m.Letter), d.Minimised(i, m.Letter)...) {
		if !w.placed() {
			continue
		}
		if number[w.ID] = len(number) + 1; same {
			number[w.ID] = w.ID
		}
		p := Window{
			ID: number[w.ID], App: w.App, Class: w.Class, Title: w.Title, Role: w.Role, Rect: w.Rect, Workspace: b.WorkspaceID(at), Monitor: m.Letter,
			Floating: w.floats() && !w.Sticky, Minimised: w.Minimised, Maximised: w.Maximised, Wide: w.Wide, Tall: w.Tall, Fullscreen: w.Fullscreen, Sticky: w.Sticky, Above: w.Above, Below: w.Below,
		}
		if w.full() || w.Minimised {
			p.Rect = w.floatRect()
		}
		if !d.Tiled(w) {
			p.Floated = p.Rect
		}
		b.Window(p)
	}
	kept := *s
	kept.Kept, kept.Before, kept.Next = nil, nil, layout.Leaf
	tiles := layout.Remove(s.Tiles, func(id int) bool { return number[id] == 0 })
	kept.Tiles = nil
	kept.setTiles(layout.Map(tiles, func(id int) int { return number[id] }))
	kept.Floating = nil
	for _, id := range s.Floating {
		if number[id] != 0 {
			kept.Floating = append(kept.Floating, number[id])
		}
	}
	b.Sheet(at, m.Letter, kept)
}

// placed tells whether plates have a place for the window: dialogs go with their parents,
// and splashes by themselves.
func (w *Window) placed() bool { return w.Parent == 0 && (w.Kind == Normal || w.Kind == Utility) }

// SameMonitors tells whether a plate is of the very monitors that are plugged in.
func (d *Desk) SameMonitors(p *Plate) bool {
	n := 0
	for _, m := range d.Monitors {
		if m.Connected {
			n++
		}
	}
	return len(p.As.Monitors) == n && d.byKeys(p.As.Monitors) != nil
}

// byKeys gives monitors of a plate those of the same connector and EDID, by letter; nil
// where not all are there.
func (d *Desk) byKeys(ms []Monitor) map[byte]byte {
	to := map[byte]byte{}
	for _, m := range ms {
		i := slices.IndexFunc(d.Monitors, func(o Monitor) bool { return o.Connected && o.Key == m.Key })
		if i < 0 {
			return nil
		}
		to[m.Letter] = d.Monitors[i].Letter
	}
	return to
}

// byRank orders monitors: the primary one, then from left to right, then from the top.
func byRank(ms []Monitor) []Monitor {
	ms = slices.DeleteFunc(slices.Clone(ms), func(m Monitor) bool { return !m.Connected })
	slices.SortFunc(ms, func(a, b Monitor) int {
		return cmp.Or(-cmpBool(a.Primary, b.Primary), cmp.Compare(a.Rect.X, b.Rect.X), cmp.Compare(a.Rect.Y, b.Rect.Y), cmp.Compare(a.Letter, b.Letter))
	})
	return ms
}

// monitorsFor gives each monitor of a plate one of the desk, by letter. Where all connectors and
// EDIDs are there, these decide, else the rank; those that are left share the last.
func (d *Desk) monitorsFor(ms []Monitor) map[byte]byte {
	if to := d.byKeys(ms); to != nil {
		return to
	}
	to, here := map[byte]byte{}, byRank(d.Monitors)
	for i, m := range byRank(ms) {
		to[m.Letter] = here[min(i, len(here)-1)].Letter
	}
	return to
}

// Beginning is a desk that begins, with a desk's plate laid on it: nothing can be taken
// back, and nothing was replaced.
func (d *Desk) Beginning(p *Plate) *Desk {
	next, _, err := d.laidBy(p, place{}, false)
	if err != nil {
		return d // as many workspaces as there may be
	}
	return next
}
