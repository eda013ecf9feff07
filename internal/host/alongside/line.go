package alongside

import (
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/status"
)

// layLines has the lines be where they are asked for, and takes their room off what docks of
// others leave.
func (h *Host) layLines(work map[byte]geom.Rect) {
	if h.lines == nil {
		if !h.opt.Line.Shown() {
			return
		}
		h.draw()
		h.lines = paint.NewLines(h.paper, h.status, true)
	}
	h.lines.Place(h.opt.Line.Lay(h.letters.Monitors, work, h.screen.Density))
}

// sayDock writes what a dock says of itself, for the manager: it is on every workspace.
func (h *Host) sayDock(win xproto.Window, strut []uint32) {
	cards := func(name, kind xproto.Atom, v ...uint32) {
		xproto.ChangeProperty(h.conn, xproto.PropModeReplace, win, name, kind, 32, uint32(len(v)), display.Pack(v))
	}
	cards(h.atoms["_NET_WM_WINDOW_TYPE"], xproto.AtomAtom, uint32(h.atoms["_NET_WM_WINDOW_TYPE_DOCK"]))
	cards(h.atoms["_NET_WM_STRUT"], xproto.AtomCardinal, strut[:4]...)
	cards(h.atoms["_NET_WM_STRUT_PARTIAL"], xproto.AtomCardinal, strut...)
	cards(h.atoms["_NET_WM_DESKTOP"], xproto.AtomCardinal, 0xffffffff)
	const noInput, hasInput = 0, 1 // WM_HINTS: it takes no focus (ICCCM 4.1.2.4)
	cards(xproto.AtomWmHints, xproto.AtomWmHints, hasInput, noInput, 0, 0, 0, 0, 0, 0, 0)
	const hasPlace = 1 | 4 // WM_NORMAL_HINTS: the user asked for this place (ICCCM 4.1.2.3)
	cards(xproto.AtomWmNormalHints, xproto.AtomWmSizeHints, append([]uint32{hasPlace}, make([]uint32, 17)...)...)
}

// onLine has the line say words, where there is one on the monitor you are on.
func (h *Host) onLine(long time.Duration, words string) bool {
	if h.lines == nil || h.desk == nil || !h.lines.On(h.desk.At) || h.desk.FullOn(h.desk.At) {
		return false
	}
	h.status.SayFor(max(long, status.NewsTime), words)
	return true
}

// pressLine follows a button on a line.
func (h *Host) pressLine(e xproto.ButtonPressEvent) {
	if h.lines == nil {
		return
	}
	part, _ := h.lines.At(e.Event, int(e.EventX), int(e.EventY))
	switch command, screen := part.Pressed(e.Detail); {
	case screen != "":
		h.atlas.bring(screen)
	case command != "":
		if c, err := lang.ParseCommand(command); err == nil {
			h.pressed = append(h.pressed, keeper.Event{Command: &c, Source: keeper.Pointer})
		}
	case part.Offers(e.Detail) && h.board != nil:
		h.board.Offer(e.Time)
	}
}

// Lines is what the lines of the display say.
func (h *Host) Lines() *status.Source { return h.status }
