package x11

import (
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/status"
)

// sayDock writes what a dock says of itself on a window of ours.
func (h *Host) sayDock(win xproto.Window, strut []uint32) {
	h.setAtoms(win, aWindowType, []uint32{uint32(h.atoms[aTypeDock])})
	h.setCards(win, aStrut, strut[:4]...)
	h.setCards(win, aStrutPartial, strut...)
}

// configureLine takes other options of the line.
func (h *Host) configureLine(opt paint.LineOptions) {
	h.opt.Line = opt
	h.status.Configure(opt.Spoken())
	if h.desk != nil {
		h.emit(desk.WorkAreas{Work: h.workAreas(h.desk)})
		h.laid, h.lined = h.looks, h.lines.Place(h.looks) // also where no work area changes
		h.showHeadings(h.desk)                            // by day or by night
	}
}

// onLine has the line say words, where the monitor you are on has one that is seen.
func (h *Host) onLine(long time.Duration, words string) bool {
	if h.desk == nil {
		return false
	}
	if _, has := h.looks[h.desk.At]; !has || h.desk.FullOn(h.desk.At) {
		return false
	}
	h.status.SayFor(max(long, status.NewsTime), words)
	return true
}

// spaceAt is the workspace of a line that is drawn at a place on the plane.
func (h *Host) spaceAt(p geom.Point) (number int, ok bool) {
	part, ok := h.lines.Over(p)
	return part.Space, ok && part.What == paint.SpacePart
}

// pressLine follows a button on a line.
func (h *Host) pressLine(e xproto.ButtonPressEvent) {
	h.input = e.Time
	part, _ := h.lines.At(e.Event, int(e.EventX), int(e.EventY))
	switch command, screen := part.Pressed(e.Detail); {
	case screen != "":
		h.atlas.bring(screen)
	case command != "":
		if c, err := lang.ParseCommand(command); err == nil {
			h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Pointer})
		}
	case part.Offers(e.Detail):
		h.board.Offer(e.Time)
	}
}

// Lines is what the lines of the display say.
func (h *Host) Lines() *status.Source { return h.status }
