package scene

import (
	"bytes"
	"fmt"
	"io"
	"strings"

	"zatlas/internal/desk"
)

// PlateFormat is the first key of every file of a plate.
const PlateFormat = "zealous-atlas/plate/1"

// plateKeys are what keys of a scene are called in a plate.
var plateKeys = map[string]string{"windows": "places", "window": "place"}

// placeOut is a place as it is written. Keys with their usual value are left out.
type placeOut struct {
	ID         int      `json:"id"`
	App        string   `json:"app,omitempty"`
	Class      string   `json:"class,omitempty"`
	Title      string   `json:"title,omitempty"`
	Role       string   `json:"role,omitempty"`
	Rect       *rectOut `json:"rect,omitempty"`      // of one that floats, or would
	Workspace  int      `json:"workspace,omitempty"` // of a minimised one, which is on no list
	Monitor    string   `json:"monitor,omitempty"`
	Floating   bool     `json:"floating,omitempty"` // of a minimised one, or on a free sheet
	Minimised  bool     `json:"minimised,omitempty"`
	Maximised  bool     `json:"maximised,omitempty"`
	Wide       bool     `json:"wide,omitempty"`
	Tall       bool     `json:"high,omitempty"`
	Fullscreen bool     `json:"fullscreen,omitempty"`
	Sticky     bool     `json:"sticky,omitempty"`
	Above      bool     `json:"above,omitempty"`
	Below      bool     `json:"below,omitempty"`
}

// plateSettingsOut are the settings that a plate of a desk has.
type plateSettingsOut struct {
	Count string `json:"count"`
	Mode  string `json:"mode"`
}

// plateWorkspaceOut is a workspace of a plate.
type plateWorkspaceOut struct {
	Name   string              `json:"name,omitempty"`
	Home   string              `json:"home,omitempty"`
	Sheets map[string]sheetOut `json:"sheets"`
}

// WritePlate writes a plate, one monitor, workspace and place a line. Its name is that of
// the file.
func WritePlate(out io.Writer, p *desk.Plate) error {
	var b bytes.Buffer
	w := &writer{b: &b}
	w.line("{", "")
	w.key("format", PlateFormat, ",")
	w.key("size", p.Size.String(), ",")
	if p.Letter != 0 {
		w.key("letter", letterFrom(p.Letter), ",")
	}
	if p.Gather {
		w.key("gather", true, ",")
	}
	if p.Same {
		w.key("same", true, ",")
	}
	if p.Size == desk.OfDesk {
		set := settingsFrom(p.As.Settings)
		w.key("settings", plateSettingsOut{set.Count, set.Mode}, ",")
	}
	w.list("monitors", len(p.As.Monitors), func(i int) { w.json(monitorFrom(p.As.Monitors[i])) })
	w.list("workspaces", len(p.As.Workspaces), func(i int) { w.json(plateWorkspaceFrom(p.As, i)) })
	w.list("places", len(p.As.Windows), func(i int) { w.json(placeFrom(p.As, p.As.Windows[i])) })
	b.Truncate(b.Len() - len(",\n")) // the last key
	w.line("\n}", "")
	if w.err != nil {
		return fmt.Errorf("writing a plate: %w", w.err)
	}
	_, err := out.Write(b.Bytes())
	return err
}

func plateWorkspaceFrom(d *desk.Desk, i int) plateWorkspaceOut {
	ws := d.Workspaces[i]
	o := plateWorkspaceOut{Name: ws.Name, Home: letterFrom(ws.Home), Sheets: map[string]sheetOut{}}
	for _, m := range d.Monitors {
		if s := d.Sheet(i, m.Letter); s != nil {
			sheet := sheetFrom(d, s, false)
			sheet.Places, sheet.Windows = sheet.Windows, nil
			if sheet.Tree != nil {
				sheet.Tree.places = true
			}
			o.Sheets[letterFrom(m.Letter)] = sheet
		}
	}
	return o
}

func placeFrom(d *desk.Desk, w *desk.Window) placeOut {
	o := placeOut{
		ID: w.ID, App: w.App, Class: w.Class, Title: w.Title, Role: w.Role, Minimised: w.Minimised, Maximised: w.Maximised, Wide: w.Wide, Tall: w.Tall,
		Fullscreen: w.Fullscreen, Sticky: w.Sticky, Above: w.Above, Below: w.Below,
	}
	if !d.Tiled(w) {
		place := rectFrom(w.Floated)
		o.Rect = &place
	}
	if w.Minimised {
		o.Workspace, o.Monitor, o.Floating = d.Index(w.Workspace)+1, letterFrom(w.Monitor), w.Floating
	}
	return o
}

// maxPlaces is how many places a plate may have.
const maxPlaces = 10_000

// ReadPlate reads a plate of some name. What is wrong with it is a *Fault.
func ReadPlate(in io.Reader, name string) (*desk.Plate, error) {
	root, err := parse(in)
	if err == nil {
		root.r.keys = plateKeys
		s := &sceneReader{r: root.r}
		s.there = func(id int) bool { return s.windows[id] != nil }
		p := s.plate(root)
		p.Name = name
		if err = root.r.err; err == nil {
			return p, nil
		}
	}
	if f, ok := err.(*Fault); ok { // what is common to scenes and plates speaks of scenes
		f.Path = strings.ReplaceAll(f.Path, "the scene", "the plate")
		f.Words = strings.NewReplacer("a scene", "a plate", "windows", "places", "window", "place").Replace(f.Words)
	}
	return nil, err
}

func (s *sceneReader) plate(root node) *desk.Plate {
	p := &desk.Plate{}
	if got := root.at("format").text(""); got != PlateFormat {
		s.r.fail("format", "this must be %q, not %q", PlateFormat, got)
		return p
	}
	word := s.oneOf(root.at("size"), "desk", "workspace", "sheet")
	p.Size, _ = desk.ParsePlateSize(word)
	if letter := root.at("letter"); !letter.missing() {
		if t := letter.text(""); len(t) == 1 && t[0] >= 'a' && t[0] <= 'z' {
			p.Letter = t[0]
		} else {
			s.r.fail("letter", "this must be a letter from a to z")
		}
	}
	p.Gather, p.Same = root.at("gather").bool(false), root.at("same").bool(false)
	set := s.plateMode(root.at("settings"))
	s.separate = set.Separate
	switch {
	case p.Gather && p.Size != desk.OfSheet:
		s.r.fail("gather", "only the plate of a sheet has it: the others gather always")
	case p.Size != desk.OfDesk && (set.Separate || set.Growing):
		s.r.fail("settings", "only the plate of a desk has them")
	}
	s.b = desk.NewBuilder(set)
	s.b.Monitors(s.monitors(root.at("monitors")))
	if err := s.b.Err(); err != nil {
		s.r.fail("monitors", "%v", err)
	}
	for l, connected := range s.letters {
		if !connected || s.r.err == nil && !s.b.Connected(l) {
			s.r.fail("monitors", "monitor %c is unplugged, or a mirror: a plate has no others than those with sheets", l)
		}
	}
	if p.Size == desk.OfSheet && len(s.letters) != 1 {
		s.r.fail("monitors", "the plate of a sheet has one monitor")
	}
	s.places(root.at("windows"))
	workspaces := root.at("workspaces").list()
	if n := len(workspaces); n == 0 || n > desk.MaxWorkspaces || n > 1 && p.Size != desk.OfDesk {
		s.r.fail("workspaces", "there must be 1 of them, or of a desk's plate up to %d", desk.MaxWorkspaces)
	}
	if s.r.err != nil {
		return p
	}
	s.workspaces(workspaces)
	root.done()
	if s.r.err != nil {
		return p
	}
	d, err := s.b.Desk()
	if err != nil {
		s.r.fail("", "%v", err)
	}
	p.As = d
	return p
}

// plateMode reads how workspaces were counted and shown on the plate of a desk.
func (s *sceneReader) plateMode(n node) (set desk.Settings) {
	if n.missing() {
		return set
	}
	set.Separate = s.oneOf(n.at("mode"), "spanning", "separate") == "separate"
	set.Growing = s.oneOf(n.at("count"), "fixed", "growing") == "growing"
	n.done()
	return set
}

// places reads the list of places as windows.
func (s *sceneReader) places(list node) {
	s.windows = map[int]*windowRead{}
	for _, n := range list.list() {
		w := s.place1(n)
		if s.windows[w.ID] != nil {
			s.r.fail(join(n.path(), "id"), "another place has the id %d", w.ID)
		} else if len(s.order) == maxPlaces {
			s.r.fail(list.path(), "there are more than %d", maxPlaces)
		}
		if s.r.err != nil {
			return
		}
		s.windows[w.ID] = w
		s.order = append(s.order, w.ID)
	}
}

func (s *sceneReader) place1(n node) *windowRead {
	w := &windowRead{node: n}
	if !n.has("id") {
		s.r.fail(n.path(), "a place needs an id")
	}
	w.ID = n.at("id").int(0, 1, maxID)
	w.App, w.Class = desk.CleanText(n.at("app").text(""), desk.MaxApp), desk.CleanText(n.at("class").text(""), desk.MaxApp)
	w.Title, w.Role = desk.CleanText(n.at("title").text(""), desk.MaxTitle), desk.CleanText(n.at("role").text(""), desk.MaxApp)
	w.Rect, w.placed = s.rect(n.at("rect")), n.has("rect")
	w.Floated = w.Rect
	w.Workspace, w.Monitor = n.at("workspace").int(0, 1, desk.MaxWorkspaces), s.letter(n.at("monitor"))
	w.Floating, w.Minimised = n.at("floating").bool(false), n.at("minimised").bool(false)
	w.Maximised, w.Wide, w.Tall = n.at("maximised").bool(false), n.at("wide").bool(false), n.now("high", "tall").bool(false)
	w.Fullscreen, w.Sticky = n.at("fullscreen").bool(false), n.at("sticky").bool(false)
	w.Above, w.Below = n.at("above").bool(false), n.at("below").bool(false)
	n.done()
	if w.Minimised && w.Monitor == 0 && s.r.err == nil {
		s.r.fail(n.path(), "a minimised place needs a workspace and a monitor: it is on no list")
	}
	return w
}
