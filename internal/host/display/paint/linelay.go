package paint

import (
	"fmt"
	"slices"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	zdraw "zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/prompt"
	"zatlas/internal/status"
)

// LineOptions say where the line is, and what it says besides the desk.
type LineOptions struct {
	Edge  string // "bottom" or "top"; any other for no line
	On    string // "all", "primary", or the letters of monitors
	Size  int    // of the letters in pixels; 0 for what suits the monitor
	Theme zdraw.Theme
	Says  status.Options
}

// Shown tells whether there is a line.
func (o LineOptions) Shown() bool { return o.Edge == "bottom" || o.Edge == "top" }

// Spoken is what the line says besides the desk.
func (o LineOptions) Spoken() status.Options {
	o.Says.Idle = !o.Shown()
	return o.Says
}

// on tells whether a monitor has the line.
func (o LineOptions) on(m *desk.Monitor) bool {
	switch {
	case !o.Shown() || !m.Connected || m.Mirrors != 0:
		return false
	case o.On == "" || o.On == "all":
		return true
	case o.On == "primary":
		return m.Primary
	}
	return slices.Contains([]byte(o.On), m.Letter)
}

// The heights of letters on a line, in pixels: at the usual density, and at all.
const (
	usualLetters = 14
	leastLetters = 6
	mostLetters  = 64
)

// Lay gives the lines of some monitors, and takes their room off what docks leave of these. A
// dock at the same edge is outside of the line. Density is the pixels an inch of a monitor.
func (o LineOptions) Lay(ms []desk.Monitor, work map[byte]geom.Rect, density func(m *desk.Monitor) int) map[byte]LineLook {
	looks := map[byte]LineLook{}
	var screen geom.Rect
	for _, m := range ms {
		if m.Connected {
			screen = geom.Bound(screen, m.Rect)
		}
	}
	for i := range ms {
		m := &ms[i]
		r := work[m.Letter]
		if !o.on(m) {
			continue
		}
		size := o.Size
		if size == 0 {
			size = (usualLetters*density(m) + display.UsualDensity/2) / display.UsualDensity
		}
		look := LineLook{Rect: r, Screen: screen, Size: geom.Clamp(size, leastLetters, mostLetters), Bottom: o.Edge == "bottom", Theme: o.Theme}
		look.Rect.H = LineHeight(look.Size)
		if 4*look.Rect.H > r.H { // there would be next to nothing left
			continue
		}
		if look.Bottom {
			look.Rect.Y = r.Bottom() - look.Rect.H
		} else {
			r.Y += look.Rect.H
		}
		r.H -= look.Rect.H
		looks[m.Letter], work[m.Letter] = look, r
	}
	return looks
}

// The buttons of the pointer that mean something on a line.
const (
	click     = 1
	wheelUp   = 4
	wheelDown = 5
)

// Pressed is what a button on a part of a line asks for: a command in words, or a screen. A
// click on a workspace goes there, the wheel goes through them, one on what just happened
// takes it back.
func (p Part) Pressed(button xproto.Button) (command, screen string) {
	switch button {
	case wheelUp:
		return "go prev", ""
	case wheelDown:
		return "go next", ""
	case click:
	default:
		return "", ""
	}
	switch p.What {
	case SpacePart:
		return fmt.Sprint("go ", p.Space), ""
	case NewsPart:
		return "undo", ""
	case LostPart:
		return "", "strays"
	case RowPart:
		if prompt.IsScreen(p.Click) {
			return "", p.Click
		}
		return p.Click, ""
	}
	return "", ""
}

// Offers tells whether a button on a part of a line asks what can be done with the window
// that has the focus.
func (p Part) Offers(button xproto.Button) bool { return button == click && p.What == TitlePart }
