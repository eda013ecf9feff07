package desk

import (
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Picture is what a host should show: every window, from the bottom of the
// stacking order to its top, and the focus.
type Picture struct {
	Windows []Placed
	Focus   int // a window's id, 0 for none
	At      byte
	Current int // index of the workspace that At shows
}

// Placed is one window of a Picture.
type Placed struct {
	ID         int
	Rect       geom.Rect // outer, border included
	Shown      bool
	Minimised  bool
	Maximised  bool
	Fullscreen bool
	Sticky     bool
	Above      bool
	Below      bool
	Wide, Tall bool
	Tiled      bool
	Urgent     bool
	Workspace  int // index
}

// Picture works out what should be shown.
func (d *Desk) Picture() Picture {
	p := Picture{Focus: d.Focus, At: d.At, Current: d.Current(), Windows: make([]Placed, 0, len(d.Windows))}
	var tiled, large, below, floating, sticky, above, full []*Window
	for i := range d.Workspaces {
		for _, m := range d.Monitors {
			s := d.Sheet(i, m.Letter)
			if s == nil {
				continue
			}
			for _, w := range d.tiles(s) {
				switch {
				case w.Fullscreen:
					full = append(full, w)
				case w.Maximised:
					large = append(large, w)
				default:
					tiled = append(tiled, w)
				}
			}
			for _, id := range s.Floating {
				switch w := d.Window(id); {
				case w.Fullscreen:
					full = append(full, w)
				case w.Above:
					above = append(above, w)
				case w.Below:
					below = append(below, w)
				case w.Sticky:
					sticky = append(sticky, w)
				default:
					floating = append(floating, w)
				}
			}
		}
	}
	index := make(map[int]int, len(d.Workspaces))
	for i, ws := range d.Workspaces {
		index[ws.ID] = i
	}
	add := func(w *Window) {
		p.Windows = append(p.Windows, Placed{
			ID: w.ID, Rect: w.Rect, Shown: d.Visible(w), Minimised: w.Minimised,
			Maximised: w.Maximised, Fullscreen: w.Fullscreen, Sticky: w.Sticky, Above: w.Above, Below: w.Below, Wide: w.Wide, Tall: w.Tall, Tiled: d.Tiled(w), Urgent: w.Urgent, Workspace: index[w.Workspace],
		})
	}
	for _, w := range d.Windows {
		if w.Minimised {
			add(w)
		}
	}
	for _, layer := range d.lifted([][]*Window{tiled, large, below, floating, sticky, above, full}) {
		for _, w := range dialogsOver(layer) {
			add(w)
		}
	}
	return p
}

// lifted are layers of windows, the lowest first, with each dialog in that of its
// parent where that is higher than its own: dialogs are over their parents, whatever
// these are.
func (d *Desk) lifted(layers [][]*Window) [][]*Window {
	at, higher := map[int]int{}, false
	for n, layer := range layers {
		for _, w := range layer {
			at[w.ID] = n
		}
	}
	var level func(w *Window, depth int) int
	level = func(w *Window, depth int) int {
		if p, there := at[w.Parent]; there && w.Parent != 0 && depth < 32 {
			return max(at[w.ID], p, level(d.Window(w.Parent), depth+1))
		}
		return at[w.ID]
	}
	for n, layer := range layers {
		for _, w := range layer {
			higher = higher || w.Parent != 0 && level(w, 0) > n
		}
	}
	if !higher {
		return layers
	}
	out := make([][]*Window, len(layers))
	for _, layer := range layers {
		for _, w := range layer {
			n := level(w, 0)
			out[n] = append(out[n], w)
		}
	}
	return out
}

// tiles lists the windows a sheet tiles right now, those that others of their
// pile or tabs cover before these.
func (d *Desk) tiles(s *Sheet) []*Window {
	var ws []*Window
	for _, id := range layout.Layers(s.Tiles, d.active) {
		if w := d.Window(id); d.Tiled(w) {
			ws = append(ws, w)
		}
	}
	return ws
}

// dialogsOver is a layer of windows, the lowest first, with every dialog
// directly over its parent where both are in the layer.
func dialogsOver(layer []*Window) []*Window {
	here := make(map[int]bool, len(layer))
	kids := map[int][]*Window{}
	for _, w := range layer {
		here[w.ID] = true
	}
	for _, w := range layer {
		if here[w.Parent] {
			kids[w.Parent] = append(kids[w.Parent], w)
		}
	}
	if len(kids) == 0 {
		return layer
	}
	out := make([]*Window, 0, len(layer))
	var add func(w *Window)
	add = func(w *Window) {
		out = append(out, w)
		for _, k := range kids[w.ID] {
			add(k)
		}
	}
	for _, w := range layer {
		if !here[w.Parent] {
			add(w)
		}
	}
	return out
}
