package desk

import (
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Picture is what a host should show: every window, from the bottom of the
// stacking order to its top, and the focus.
type Picture struct {
	Windows []*Placed // never written again: pictures share what is the same in them
	Focus   int       // a window's id, 0 for none
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
	Covers     bool // it is maximised or fullscreen, and covers its sheet now
	Tiled      bool
	Urgent     bool
	Workspace  int // index
}

// Picture works out what should be shown.
func (d *Desk) Picture() Picture { return new(Pictures).Of(d) }

// Pictures works out pictures of desks one after the other, and keeps what the sheets
// show that are the same in the next. The zero value has none.
type Pictures struct {
	desk   *Desk
	sheets map[*Sheet]*sheetLayers
}

// layerCount is the number of layers of windows. The lower four are tiles, the maximised window
// that covers them, windows kept below, and floating ones. Over them are sticky windows, those
// kept above, the fullscreen window that covers all, and floating ones that came to the front
// since.
const layerCount = 8

// layered is a window of a layer, the sheet it is on, and what the last picture showed of it.
type layered struct {
	*Window
	sheet *sheetLayers
	last  *lastPlaced
}

// lastPlaced is what a picture showed of a window, and whether it covers its sheet as far as that
// depends on the two alone.
type lastPlaced struct {
	*Placed
	covers bool
}

// in is what is shown of the window in a picture of a desk.
func (w layered) in(d *Desk) *Placed {
	shown := (w.sheet.shown || w.Sticky) && !w.Minimised && !d.hidden(w.Window)
	covers := w.last.covers || w.Sticky && d.Covers(w.Window)
	if p := w.last.Placed; p.Workspace != w.sheet.index || p.Shown != shown || p.Covers != covers {
		now := *p
		now.Workspace, now.Shown, now.Covers = w.sheet.index, shown, covers
		w.last.Placed = &now
	}
	return w.last.Placed
}

// sheetLayers is the windows of a sheet by their layers, the lowest first.
type sheetLayers struct {
	layers [layerCount][]layered
	tiled  bool // its tiles are: it is not free
	dialog bool // one of its windows has a parent
	cover  int  // the window that covers it; 0 for none
	listed int  // windows
	index  int  // of its workspace
	shown  bool
}

// Of works out what should be shown of a desk.
func (p *Pictures) Of(d *Desk) Picture {
	sheets := p.layersOf(d)
	pic := Picture{Focus: d.Focus, At: d.At, Current: d.Current(), Windows: make([]*Placed, 0, len(d.Windows))}
	dialogs, listed := false, 0
	for _, s := range sheets {
		dialogs, listed = dialogs || s.dialog, listed+s.listed
	}
	add := func(layer []layered) {
		for _, w := range layer {
			pic.Windows = append(pic.Windows, w.in(d))
		}
	}
	if listed < len(d.Windows) {
		for _, w := range d.Windows {
			if w.Minimised {
				s := &sheetLayers{index: d.Index(w.Workspace)}
				add([]layered{{w, s, d.placed(w, s)}})
			}
		}
	}
	var layers [layerCount][]layered
	for n := range layers {
		for _, s := range sheets {
			if !dialogs {
				add(s.layers[n])
				continue
			}
			layers[n] = append(layers[n], s.layers[n]...)
		}
	}
	if dialogs {
		d.lift(&layers)
		for _, layer := range layers {
			add(dialogsOver(layer))
		}
	}
	d.uncover(pic.Windows)
	return pic
}

// placed is what is shown of a window of a sheet, whatever else there is.
func (d *Desk) placed(w *Window, s *sheetLayers) *lastPlaced {
	return &lastPlaced{&Placed{
		ID: w.ID, Rect: w.Rect, Minimised: w.Minimised, Maximised: w.Maximised, Fullscreen: w.Fullscreen, Sticky: w.Sticky,
		Above: w.Above, Below: w.Below, Wide: w.Wide, Tall: w.Tall, Urgent: w.Urgent,
		Tiled: s.tiled && !w.Minimised && !w.floats(), Workspace: s.index,
	}, w.full() && (s.cover == w.ID || d.Settings.Alongside)}
}

// layersOf is the layers of every sheet, in the order of the workspaces and of the
// monitors.
func (p *Pictures) layersOf(d *Desk) []*sheetLayers {
	stirred := map[sheetKey]bool{} // sheets whose windows are not as they were
	sticky := map[byte]bool{}      // monitors of sticky ones, which count on every sheet there
	if p.desk != nil {
		changed, gone := windowsSince(d.Windows, p.desk.Windows)
		stir := func(w *Window) {
			stirred[sheetKey{w.Workspace, w.Monitor}] = true
			sticky[w.Monitor] = sticky[w.Monitor] || w.Sticky
		}
		for _, w := range changed {
			stir(w)
			gone = append(gone, w.ID)
		}
		for _, id := range gone {
			if w := p.desk.Window(id); w != nil {
				stir(w)
			}
		}
	}
	kept := make(map[*Sheet]*sheetLayers, len(p.sheets))
	var all []*sheetLayers
	for i, ws := range d.Workspaces {
		for _, m := range d.Monitors {
			s := ws.sheets[m.Letter-'A']
			if s == nil {
				continue
			}
			l := p.sheets[s]
			if l == nil || stirred[sheetKey{ws.ID, m.Letter}] || sticky[m.Letter] {
				l = d.layers(s, i, m.Letter)
			}
			l.index, l.shown = i, d.Shown[m.Letter-'A'] == ws.ID
			kept[s] = l
			all = append(all, l)
		}
	}
	p.desk, p.sheets = d, kept
	return all
}

// layers sorts the windows of a sheet into layers.
func (d *Desk) layers(s *Sheet, i int, letter byte) *sheetLayers {
	l := &sheetLayers{index: i, tiled: s.Layout != layout.Free}
	tiles, floats := d.sinks(d.tiles(s), d.found(s.Floating))
	add := func(n int, w *Window) {
		l.layers[n] = append(l.layers[n], layered{w, l, d.placed(w, l)})
		l.dialog, l.listed = l.dialog || w.Parent != 0, l.listed+1
	}
	const tiled, large, below, floating, sticky, above, full, front = 0, 1, 2, 3, 4, 5, 6, 7
	cover, recency := d.cover(i, letter)
	l.cover = cover
	screen := cover != 0 && d.Window(cover).Fullscreen
	for _, w := range tiles {
		switch {
		case w.ID != cover:
			add(tiled, w)
		case screen:
			add(full, w)
		default:
			add(large, w)
		}
	}
	for _, w := range floats {
		switch {
		case w.ID == cover && screen || w.Fullscreen && d.Settings.Alongside:
			add(full, w)
		case screen && w.recency() > recency:
			add(front, w)
		case w.Above:
			add(above, w)
		case w.Below:
			add(below, w)
		case w.Sticky:
			add(sticky, w)
		default:
			add(floating, w)
		}
	}
	return l
}

// lift puts each dialog into the layer of its parent where that is higher than its
// own: dialogs are over their parents, whatever these are.
func (d *Desk) lift(layers *[layerCount][]layered) {
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
			higher = higher || w.Parent != 0 && level(w.Window, 0) > n
		}
	}
	if !higher {
		return
	}
	var out [layerCount][]layered
	for _, layer := range layers {
		for _, w := range layer {
			n := level(w.Window, 0)
			out[n] = append(out[n], w)
		}
	}
	*layers = out
}

// tiles lists the windows a sheet tiles right now, those that others of their
// pile or tabs cover before these.
func (d *Desk) tiles(s *Sheet) []*Window {
	if s.Layout == layout.Free {
		return nil
	}
	var ws []*Window
	for _, id := range layout.Layers(s.Tiles, d.active) {
		if w := d.Window(id); !w.Minimised && !w.floats() {
			ws = append(ws, w)
		}
	}
	return ws
}

// dialogsOver is a layer of windows, the lowest first, with every dialog
// directly over its parent where both are in the layer.
func dialogsOver(layer []layered) []layered {
	here := make(map[int]bool, len(layer))
	kids := map[int][]layered{}
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
	out := make([]layered, 0, len(layer))
	var add func(w layered)
	add = func(w layered) {
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
