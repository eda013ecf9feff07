package desk

import (
	"reflect"

	"zatlas/internal/layout"
)

// What parts of a desk take, in bytes, without the texts, which are the same on all of them.
var (
	deskBytes      = int(reflect.TypeFor[Desk]().Size())
	seatBytes      = int(reflect.TypeFor[Seat]().Size())
	windowBytes    = int(reflect.TypeFor[Window]().Size())
	workspaceBytes = int(reflect.TypeFor[Workspace]().Size())
	sheetBytes     = int(reflect.TypeFor[Sheet]().Size())
	nodeBytes      = int(reflect.TypeFor[layout.Node]().Size()) + pointerBytes
)

const pointerBytes = 8

// bytesSince is about how much a desk takes besides what it shares with another one.
func (d *Desk) bytesSince(old *Desk) (n int) {
	if d == nil || old == nil || d == old {
		return 0
	}
	n = deskBytes
	if len(d.Windows) > 0 && (len(old.Windows) == 0 || &d.Windows[0] != &old.Windows[0]) {
		n += pointerBytes * len(d.Windows)
		i := 0
		for _, w := range d.Windows { // both by id
			if i < len(old.Windows) && old.Windows[i] == w { // most are the same: they are not looked into
				i++
				continue
			}
			for i < len(old.Windows) && old.Windows[i].ID < w.ID {
				i++
			}
			if i == len(old.Windows) || old.Windows[i] != w {
				n += windowBytes + w.seatBytes()
			}
		}
	}
	for i, ws := range d.Workspaces {
		var was *Workspace
		if i < len(old.Workspaces) {
			was = old.Workspaces[i]
		}
		if was != ws {
			n += workspaceBytes + ws.bytesSince(was)
		}
	}
	for name, p := range d.Plates {
		if old.Plates[name] != p {
			n += windowBytes * len(p.As.Windows)
		}
	}
	return n
}

// seatBytes is what the seat of a window takes. It names all neighbours, which may be many.
func (w *Window) seatBytes() (n int) {
	if w.Seat == nil {
		return 0
	}
	for s := &w.Seat.Seat; s != nil; s = s.Outer {
		n += seatBytes + pointerBytes*len(s.Beside)
	}
	return n
}

func (ws *Workspace) bytesSince(was *Workspace) (n int) {
	if was == nil {
		was = &Workspace{}
	}
	for i := range ws.sheets {
		n += ws.sheets[i].bytesSince(was.sheets[i]) + ws.away[i].bytesSince(was.away[i])
	}
	return n
}

func (s *Sheet) bytesSince(was *Sheet) (n int) {
	if s == nil || s == was {
		return 0
	}
	if was == nil {
		was = &Sheet{}
	}
	n = sheetBytes + pointerBytes*len(s.Floating)
	for _, t := range [][2]*layout.Node{{s.Tiles, was.Tiles}, {s.Kept, was.Kept}, {s.Before, was.Before}} {
		if t[0] != t[1] {
			n += nodeBytes * t[0].Count()
		}
	}
	return n
}
