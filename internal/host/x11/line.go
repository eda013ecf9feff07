package x11

import (
	"slices"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
	"zatlas/internal/status"
)

// LineOptions say where the line is, and what it says besides the desk.
type LineOptions struct {
	Edge  string // "bottom" or "top"; any other for no line
	On    string // "all", "primary", or the letters of monitors
	Size  int    // of the letters in pixels; 0 for what suits the monitor
	Theme draw.Theme
	Says  status.Options
}

// says is what the line says besides the desk.
func (o LineOptions) says() status.Options {
	o.Says.Idle = o.Edge != "bottom" && o.Edge != "top"
	return o.Says
}

// on tells whether a monitor has the line.
func (o LineOptions) on(m *desk.Monitor) bool {
	switch {
	case o.Edge != "bottom" && o.Edge != "top" || !m.Connected || m.Mirrors != 0:
		return false
	case o.On == "" || o.On == "all":
		return true
	case o.On == "primary":
		return m.Primary
	}
	return slices.Contains([]byte(o.On), m.Letter)
}

// usualLetters is how high letters are at the usual density, in pixels.
const usualLetters = 14

// size is how high the letters of the line on a monitor are.
func (h *Host) size(m *desk.Monitor) int {
	size := h.opt.Line.Size
	if size == 0 {
		dpi, known := h.densities[m.Key]
		if !known {
			dpi = display.Resources(h.conn, h.root)
		}
		size = (usualLetters*dpi + display.UsualDensity/2) / display.UsualDensity
	}
	return geom.Clamp(size, 6, 64)
}

// layLines takes the room of the lines off what docks leave of the monitors: a dock at the
// same edge is outside of the line.
func (h *Host) layLines(d *desk.Desk, work map[byte]geom.Rect) {
	h.looks = map[byte]paint.LineLook{}
	for i := range d.Monitors {
		m := &d.Monitors[i]
		r := work[m.Letter]
		if !h.opt.Line.on(m) {
			continue
		}
		look := paint.LineLook{Rect: r, Size: h.size(m), Bottom: h.opt.Line.Edge == "bottom", Theme: h.opt.Line.Theme}
		look.Rect.H = paint.LineHeight(look.Size)
		if 4*look.Rect.H > r.H { // there would be next to nothing left
			continue
		}
		if look.Bottom {
			look.Rect.Y = r.Bottom() - look.Rect.H
		} else {
			r.Y += look.Rect.H
		}
		r.H -= look.Rect.H
		h.looks[m.Letter], work[m.Letter] = look, r
	}
}

// sayDock writes what a dock says of itself on a window of ours (EWMH,
// _NET_WM_STRUT_PARTIAL). The strips are counted from the edges of the whole screen.
func (h *Host) sayDock(win xproto.Window, r geom.Rect, bottom bool) {
	h.setAtoms(win, aWindowType, []uint32{uint32(h.atoms[aTypeDock])})
	var bound geom.Rect
	for _, m := range h.monitors {
		bound = geom.Bound(bound, m.Rect)
	}
	strut := make([]uint32, 12)
	if bottom {
		strut[3], strut[10], strut[11] = uint32(bound.Bottom()-r.Y), uint32(r.X), uint32(r.Right()-1)
	} else {
		strut[2], strut[8], strut[9] = uint32(r.Bottom()-bound.Y), uint32(r.X), uint32(r.Right()-1)
	}
	h.setCards(win, aStrut, strut[:4]...)
	h.setCards(win, aStrutPartial, strut...)
}

// configureLine takes other options of the line.
func (h *Host) configureLine(opt LineOptions) {
	h.opt.Line = opt
	h.status.Configure(opt.says())
	if h.desk != nil {
		h.emit(desk.WorkAreas{Work: h.workAreas(h.desk)})
		h.lined = h.lines.Place(h.looks) // also where no work area changes
	}
}

// onLine has the line say words, where the monitor you are on has one that is seen.
func (h *Host) onLine(long time.Duration, words string) bool {
	if h.desk == nil {
		return false
	}
	if _, has := h.looks[h.desk.At]; !has || h.lineCovered() {
		return false
	}
	h.status.SayFor(max(long, status.NewsTime), words)
	return true
}

// lineCovered tells whether a fullscreen window is over the line of the monitor you are on.
func (h *Host) lineCovered() bool {
	return slices.ContainsFunc(h.desk.Windows, func(w *desk.Window) bool {
		return w.Fullscreen && w.Monitor == h.desk.At && h.desk.Visible(w) && h.desk.Covers(w)
	})
}

// tellLine tells the line what the desk does not know.
func (h *Host) tellLine() {
	if h.board == nil || len(h.lined) == 0 {
		return
	}
	typed, taken, group := h.board.Typed(), len(h.board.Taken()), h.board.Group()
	h.status.Set(func(f *status.Facts) { f.Keys, f.Taken, f.Keyboard = typed, taken, group })
}

// spaceAt is the workspace of a line that is drawn at a place on the plane.
func (h *Host) spaceAt(p geom.Point) (number int, ok bool) {
	part, ok := h.lines.Over(p)
	return part.Space, ok && part.What == paint.SpacePart
}

// pressLine follows a button on a line: a click on a workspace goes there, the wheel goes
// through them, one on what just happened takes it back.
func (h *Host) pressLine(e xproto.ButtonPressEvent) {
	h.input = e.Time
	ask := func(c desk.Command) {
		h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Pointer})
	}
	if words := map[xproto.Button]string{wheelUp: "prev", wheelDown: "next"}[e.Detail]; words != "" {
		ask(desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Keyword, Word: words}}})
		return
	}
	part, ok := h.lines.At(e.Event, int(e.EventX), int(e.EventY))
	if !ok || e.Detail != moveButton {
		return
	}
	switch part.What {
	case paint.SpacePart:
		ask(desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: part.Space}}})
	case paint.NewsPart:
		ask(desk.Command{Verb: "undo"})
	case paint.LostPart:
		h.atlas.bring("strays")
	case paint.TitlePart:
		h.board.Offer(e.Time)
	case paint.RowPart:
		if prompt.IsScreen(part.Click) {
			h.atlas.bring(part.Click)
		} else if c, err := lang.ParseCommand(part.Click); err == nil {
			ask(c)
		}
	}
}

// Lines is what the lines of the display say; nil where nothing is shown.
func (h *Host) Lines() *status.Source { return h.status }
