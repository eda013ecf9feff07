// Package draw is a desk as a drawing: what there is to see of it, in pixels of the
// plane, without knowing what it ends in. The screens draw it in cells, the package
// render as SVG and PDF; what they have in common is here.
package draw

import (
	"cmp"
	"fmt"
	"slices"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// Atlas is every sheet of a desk: rows are workspaces, columns monitors.
type Atlas struct {
	Columns []Column // from left to right
	Rows    []Row
}

// Column is a monitor.
type Column struct {
	Letter    byte
	Name      string // "A · Laptop 1920×1200"
	Rect      geom.Rect
	Connected bool
}

// Row is a workspace.
type Row struct {
	Title string // "1 Programme"
	Facts string // "shown, 1 lost, 6 windows"
	Shown bool
	// Sheets are those of the columns; one without a Ref has none here.
	Sheets []Sheet
}

// Sheet is where a workspace and a monitor meet.
type Sheet struct {
	Ref       string // "B3"; empty where the workspace is at home elsewhere
	Title     string // "B3 Box office on Desk screen, columns"
	Layout    string
	Rect      geom.Rect // of the monitor, on the plane
	Work      geom.Rect
	Shown     bool
	Connected bool
	Boxes     []Box // in stacking order, the lowest first
	Heads     []Head
	Minimised []Box // windows that are out of sight
}

// Box is a window.
type Box struct {
	Caption
	ID      int
	Ref     string
	Rect    geom.Rect // of the plane; all of it, also what lies outside the monitor
	Tint    int       // of the app, from 0
	Focused bool
	Floats  bool
	Covered bool   // in a pile or tabs, behind the one that shows
	Lost    string // why, in words; empty where it is not
	Says    string // all of it in a sentence, to be read aloud
}

// Head is the heading of one member of a pile or of tabs.
type Head struct {
	Rect   geom.Rect
	Name   string
	Active bool
}

// PlaneOrder is the monitors from left to right, stacked ones from the top.
func PlaneOrder(d *desk.Desk) []*desk.Monitor {
	ms := make([]*desk.Monitor, len(d.Monitors))
	for i := range d.Monitors {
		ms[i] = &d.Monitors[i]
	}
	slices.SortStableFunc(ms, func(a, b *desk.Monitor) int {
		return cmp.Or(a.Rect.X-b.Rect.X, a.Rect.Y-b.Rect.Y)
	})
	return ms
}

// LostOn is the letter of the unplugged monitor on whose place a lost window lies; 0
// for none.
func LostOn(d *desk.Desk, w *desk.Window) byte {
	if f := d.Lost(w); f.Cause == stray.Off {
		return f.Was
	}
	return 0
}

// InUse tells whether there is anything to show of an unplugged monitor.
func InUse(d *desk.Desk, m *desk.Monitor) bool {
	return slices.ContainsFunc(d.Windows, func(w *desk.Window) bool { return LostOn(d, w) == m.Letter })
}

// NewAtlas describes a desk. Monitors that are unplugged are left out where nothing
// lies on their places.
func NewAtlas(d *desk.Desk) *Atlas {
	a, tints := &Atlas{}, Tints(d)
	o, _ := OverviewOf(d, nil)
	for _, m := range PlaneOrder(d) {
		if m.Connected || InUse(d, m) {
			a.Columns = append(a.Columns, Column{m.Letter, MonitorName(m), m.Rect, m.Connected})
		}
	}
	on := map[place][]Box{}
	for _, p := range d.Picture().Windows {
		w := d.Window(p.ID)
		if p.Minimised {
			continue
		}
		at := place{p.Workspace, w.Monitor}
		if l := LostOn(d, w); l != 0 {
			at.letter = l
		}
		on[at] = append(on[at], NewBox(d, w, tints))
	}
	for i, ws := range d.Workspaces {
		row := Row{Title: d.Title(i), Facts: o.Counts[i].Words(), Shown: d.IsShown(ws.ID)}
		for _, c := range a.Columns {
			row.Sheets = append(row.Sheets, newSheet(d, i, c.Letter, on[place{i, c.Letter}]))
		}
		a.Rows = append(a.Rows, row)
	}
	return a
}

type place struct {
	workspace int // index
	letter    byte
}

// OneSheet describes one sheet of a desk.
func OneSheet(d *desk.Desk, index int, letter byte) Sheet {
	tints := Tints(d)
	var boxes []Box
	for _, p := range d.Picture().Windows {
		if w := d.Window(p.ID); p.Workspace == index && w.Monitor == letter && !p.Minimised {
			boxes = append(boxes, NewBox(d, w, tints))
		}
	}
	return newSheet(d, index, letter, boxes)
}

func newSheet(d *desk.Desk, index int, letter byte, boxes []Box) Sheet {
	m := d.Monitor(letter)
	s := Sheet{Rect: m.Rect, Work: m.Work, Connected: m.Connected, Boxes: boxes}
	if !m.Connected || !d.Has(index, letter) {
		return s
	}
	name := d.Workspaces[index].Name
	if name == "" {
		name = fmt.Sprintf("workspace %d", index+1)
	}
	s.Ref, s.Layout = desk.SheetRef(index, letter), LayoutWords(d, d.Sheet(index, letter))
	s.Title = fmt.Sprintf("%s %s on %s", s.Ref, name, m.Name)
	if s.Layout != "" {
		s.Title += ", " + s.Layout
	}
	s.Shown = d.Shown[letter-'A'] == d.Workspaces[index].ID
	for _, h := range d.Headers(index, letter) {
		s.Heads = append(s.Heads, Head{h.Rect, HeadName(d, h), h.Active})
	}
	for _, w := range d.Minimised(index, letter) {
		s.Minimised = append(s.Minimised, NewBox(d, w, nil))
	}
	return s
}

// HeadName is what a heading of a pile or of tabs says.
func HeadName(d *desk.Desk, h desk.Header) string {
	w := d.Window(h.Window)
	switch {
	case h.Folded > 0:
		return fmt.Sprintf("+%d", h.Folded)
	case w == nil, h.Pile && !h.Active:
		return ""
	}
	name := h.Place() + w.App
	if h.More > 0 {
		name += fmt.Sprintf(" +%d", h.More)
	}
	return name
}

// NewBox describes a window.
func NewBox(d *desk.Desk, w *desk.Window, tints map[string]int) Box {
	b := Box{Caption: NewCaption(d, w), ID: w.ID, Ref: d.Ref(w), Rect: w.Rect, Tint: tints[w.App], Focused: d.Focus == w.ID, Floats: !d.Tiled(w), Covered: d.Covered(w)}
	b.Says = fmt.Sprintf("#%d on %s, %s at %d,%d", w.ID, b.Ref, b.Size, w.Rect.X, w.Rect.Y)
	for _, s := range d.States(w) {
		b.Says += ", " + s
	}
	if d.Lost(w).Cause != stray.None {
		b.Lost = Why(d, w)
		b.Says += ". Lost: " + b.Lost
	}
	return b
}

// Counts are what is told of a workspace beside its sheets.
type Counts struct {
	Shown                 bool
	Lost, Urgent, Windows int
}

// WindowsWord says how many windows there are.
func WindowsWord(n int) string {
	if n == 0 {
		return "empty"
	}
	return desk.Counted(n, "window")
}

// Words are the counts in a line.
func (c Counts) Words() string {
	words := WindowsWord(c.Windows)
	if c.Shown {
		words = "shown, " + words
	}
	if c.Lost > 0 {
		words += fmt.Sprintf(", %d lost", c.Lost)
	}
	if c.Urgent > 0 {
		words += fmt.Sprintf(", %d urgent", c.Urgent)
	}
	return words
}

// MonitorName is what a monitor is called in drawings.
func MonitorName(m *desk.Monitor) string {
	switch {
	case m.Mirrors != 0:
		return fmt.Sprintf("%c · %s mirrors %c", m.Letter, m.Name, m.Mirrors)
	case !m.Connected:
		return fmt.Sprintf("%c · %s unplugged", m.Letter, m.Name)
	}
	return fmt.Sprintf("%c · %s %d×%d", m.Letter, m.Name, m.Rect.W, m.Rect.H)
}

// LayoutWords name the layout of a sheet; empty where every sheet is free.
func LayoutWords(d *desk.Desk, s *desk.Sheet) string {
	if s == nil || d.Settings.Alongside {
		return ""
	}
	if s.Layout != layout.Lead {
		return s.Layout.String()
	}
	words := fmt.Sprintf("lead %d/%d", s.Share, 100-s.Share)
	if s.Leads > 1 {
		words += fmt.Sprintf(" of %d", s.Leads)
	}
	return words
}
