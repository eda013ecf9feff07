package desk

import (
	"reflect"

	"zatlas/internal/layout"
)

// What parts of a desk take, in bytes, without the texts, which are the same on all of them.
var (
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
	if len(d.Windows) > 0 && (len(old.Windows) == 0 || &d.Windows[0] != &old.Windows[0]) {
		n += pointerBytes * len(d.Windows)
		i := 0
		for _, w := range d.Windows { // both by id
			for i < len(old.Windows) && old.Windows[i].ID < w.ID {
				i++
			}
			if i == len(old.Windows) || old.Windows[i] != w {
				n += windowBytes
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
	return n
}

func (ws *Workspace) bytesSince(was *Workspace) (n int) {
	for i, s := range ws.sheets {
		if s != nil && (was == nil || was.sheets[i] != s) {
			n += sheetBytes + pointerBytes*len(s.Floating) + nodeBytes*len(s.Tiles.Windows())
		}
	}
	return n
}
