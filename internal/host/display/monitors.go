package display

import (
	"crypto/sha256"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// Screen is a screen of a display.
type Screen struct {
	Conn  *xgb.Conn
	Info  *xproto.ScreenInfo
	RandR bool        // the server has it
	EDID  xproto.Atom // by which a monitor is known again

	// densities are the pixels an inch of the monitors last read, by their keys, where what
	// they say of their size is plausible.
	densities map[string]int

	looked geom.Rect // the root, when the server was last made to look at its monitors
}

// Monitors asks RandR 1.5 for the monitors; without it there is one, the root. Which of
// them mirror others is the core's to see. It is nil where there is RandR and every monitor
// is off.
func (s *Screen) Monitors() []desk.Monitor {
	if !s.RandR {
		return []desk.Monitor{s.whole()}
	}
	root := xproto.GetGeometry(s.Conn, xproto.Drawable(s.Info.Root))
	ms := s.monitors()
	r, err := root.Reply()
	if err != nil || len(ms) == 0 {
		return ms
	}
	// A server in a window of another one tells of its new size before it has given it to
	// its monitor. To be asked for its resources makes it look.
	now, all := geom.R(0, 0, int(r.Width), int(r.Height)), ms[0].Rect
	for _, m := range ms {
		all = geom.Bound(all, m.Rect)
	}
	if all != now && s.looked != now {
		s.looked = now
		randr.GetScreenResources(s.Conn, s.Info.Root).Reply()
		ms = s.monitors()
	}
	return ms
}

// monitors asks for them in two round trips.
func (s *Screen) monitors() []desk.Monitor {
	r, err := randr.GetMonitors(s.Conn, s.Info.Root, true).Reply()
	if err != nil {
		return []desk.Monitor{s.whole()}
	}
	named := make([]func() desk.Monitor, len(r.Monitors))
	s.densities = map[string]int{}
	for i := range r.Monitors {
		named[i] = s.meet(&r.Monitors[i])
	}
	var ms []desk.Monitor
	for _, m := range named {
		if m := m(); !m.Rect.Empty() {
			ms = append(ms, m)
		}
	}
	for i := range ms {
		ms[i].Header = headerAt(s.Density(&ms[i]))
	}
	return lettered(ms)
}

// headerAt is how high the headers of piles and tabs are on a monitor; 0 for the usual, which
// they have at the usual density and below.
func headerAt(density int) int {
	if density <= UsualDensity {
		return 0
	}
	return min((layout.HeaderHeight*density+UsualDensity/2)/UsualDensity, layout.MaxHeader)
}

// lettered gives monitors the letters of a first time: from left to right, the
// primary one first.
func lettered(ms []desk.Monitor) []desk.Monitor {
	slices.SortStableFunc(ms, func(a, b desk.Monitor) int {
		if a.Primary != b.Primary {
			if a.Primary {
				return -1
			}
			return 1
		}
		return a.Rect.X - b.Rect.X
	})
	ms = ms[:min(len(ms), desk.MaxMonitors)]
	for i := range ms {
		ms[i].Letter, ms[i].Work, ms[i].Connected = byte('A'+i), ms[i].Rect, true
	}
	return ms
}

// whole is the screen as one monitor.
func (s *Screen) whole() desk.Monitor {
	r := geom.R(0, 0, int(s.Info.WidthInPixels), int(s.Info.HeightInPixels))
	return desk.Monitor{Key: "root", Letter: 'A', Name: "Screen", Rect: r, Work: r, Primary: true, Connected: true}
}

// Whole is the root as the one monitor there is, where no other can be told.
func (s *Screen) Whole() []desk.Monitor { return []desk.Monitor{s.whole()} }

// meet asks what a monitor is called, and what it says of itself.
func (s *Screen) meet(m *randr.MonitorInfo) func() desk.Monitor {
	name := xproto.GetAtomName(s.Conn, m.Name)
	var edid *randr.GetOutputPropertyCookie
	if len(m.Outputs) > 0 {
		ck := randr.GetOutputProperty(s.Conn, m.Outputs[0], s.EDID, xproto.AtomAny, 0, 64, false, false)
		edid = &ck
	}
	return func() desk.Monitor {
		out := desk.Monitor{
			Key: "monitor", Name: "monitor", Primary: m.Primary,
			Rect: geom.R(int(m.X), int(m.Y), int(m.Width), int(m.Height)),
		}
		if r, err := name.Reply(); err == nil {
			out.Name = desk.CleanName(r.Name)
			out.Key = out.Name
		}
		if edid != nil {
			if r, err := edid.Reply(); err == nil && len(r.Data) > 0 {
				out.Key += fmt.Sprintf(" %x", sha256.Sum256(r.Data))[:17]
			}
		}
		if dpi := density(m); dpi > 0 {
			s.densities[out.Key] = dpi
		}
		return out
	}
}

// The densities that a monitor can have, in pixels an inch. What says to have another, such as
// a projector or a virtual one, does not know its size.
const (
	leastDensity = 60
	mostDensity  = 400
)

// density is how many pixels an inch a monitor has, as it says; 0 where that is not plausible.
// A monitor that is turned may tell its sides as they were before.
func density(m *randr.MonitorInfo) int {
	mm := max(m.WidthInMillimeters, m.HeightInMillimeters)
	if mm == 0 {
		return 0
	}
	dpi := (int(max(m.Width, m.Height))*254 + 5*int(mm)) / (10 * int(mm))
	if dpi < leastDensity || dpi > mostDensity {
		return 0
	}
	return dpi
}

// UsualDensity is the pixels an inch where nothing tells of others.
const UsualDensity = 96

// Density is the pixels an inch of a monitor that was read: as it says, else as the resources
// of the display ask for, else the usual.
func (s *Screen) Density(m *desk.Monitor) int {
	if dpi, known := s.densities[m.Key]; known {
		return dpi
	}
	return s.asked()
}

// DensityAt is that of the monitor that shows the middle of a place.
func (s *Screen) DensityAt(ms []desk.Monitor, r geom.Rect) int {
	for i := range ms {
		if ms[i].Rect.Has(r.Center()) {
			return s.Density(&ms[i])
		}
	}
	return UsualDensity
}

// asked is the density that the resources of a display ask for (Xft.dpi in the property
// RESOURCE_MANAGER).
func (s *Screen) asked() int {
	r, err := xproto.GetProperty(s.Conn, false, s.Info.Root, xproto.AtomResourceManager, xproto.AtomString, 0, 1<<14).Reply()
	if err != nil {
		return UsualDensity
	}
	for line := range strings.Lines(string(r.Value)) {
		key, value, _ := strings.Cut(line, ":")
		if strings.TrimSpace(key) != "Xft.dpi" {
			continue
		}
		if dpi, err := strconv.ParseFloat(strings.TrimSpace(value), 64); err == nil && dpi >= leastDensity && dpi <= mostDensity {
			return int(dpi + 0.5)
		}
	}
	return UsualDensity
}

// Dock is a window that keeps a strip of a monitor for itself.
type Dock struct {
	Rect  geom.Rect
	Strut []uint32 // left, right, top, bottom and their spans, as _NET_WM_STRUT_PARTIAL
}

// Strut is what the two properties of struts say. The older one has no spans: its
// strips are as long as the screen.
func Strut(partial, plain []uint32) []uint32 {
	if len(partial) >= 12 || len(plain) < 4 {
		return partial
	}
	const far = 1 << 20
	return append(slices.Clone(plain[:4]), 0, far, 0, far, 0, far, 0, far)
}

// StrutAt is the room that a dock at the bottom or the top edge of a monitor reserves (EWMH,
// _NET_WM_STRUT_PARTIAL). It counts from the edge of the whole screen.
func StrutAt(r, screen geom.Rect, bottom bool) []uint32 {
	strut := make([]uint32, 12)
	if bottom {
		strut[3], strut[10], strut[11] = uint32(screen.Bottom()-r.Y), uint32(r.X), uint32(r.Right()-1)
	} else {
		strut[2], strut[8], strut[9] = uint32(r.Bottom()-screen.Y), uint32(r.X), uint32(r.Right()-1)
	}
	return strut
}

// WorkAreas is what docks leave of each monitor, by letter. Refused are the letters of
// monitors of which one asked for more than half.
func WorkAreas(ms []desk.Monitor, docks []Dock) (work map[byte]geom.Rect, refused []byte) {
	var bound geom.Rect
	work = map[byte]geom.Rect{}
	for _, m := range ms {
		if m.Connected {
			bound = geom.Bound(bound, m.Rect)
		}
		work[m.Letter] = m.Rect
	}
	for _, dock := range docks {
		m := showsMost(dock.Rect, ms)
		if m == nil || len(dock.Strut) < 12 {
			continue
		}
		left, ok := reserve(work[m.Letter], m.Rect, bound, dock.Strut)
		if !ok {
			refused = append(refused, m.Letter)
			continue
		}
		work[m.Letter] = left
	}
	return work, refused
}

func showsMost(r geom.Rect, ms []desk.Monitor) *desk.Monitor {
	var best *desk.Monitor
	most := int64(0)
	for i := range ms {
		if area := r.Intersect(ms[i].Rect).Area(); ms[i].Connected && area > most {
			best, most = &ms[i], area
		}
	}
	return best
}

// reserve takes a dock's strips off a monitor's work area. A strip lies
// between the strut's inner edge, which counts from the edge of the whole
// screen, and the monitor's own edge; strips of more than half the monitor are
// refused.
func reserve(work, monitor, screen geom.Rect, strut []uint32) (geom.Rect, bool) {
	s := make([]int, 12)
	for i, v := range strut[:12] {
		s[i] = int(min(v, 1<<20))
	}
	within := func(from, to, lo, hi int) bool { return from < hi && to >= lo }
	top, bottom := work.Y, work.Bottom()
	left, right := work.X, work.Right()
	if s[0] > 0 && within(s[4], s[5], monitor.Y, monitor.Bottom()) {
		left = max(left, screen.X+s[0])
	}
	if s[1] > 0 && within(s[6], s[7], monitor.Y, monitor.Bottom()) {
		right = min(right, screen.Right()-s[1])
	}
	if s[2] > 0 && within(s[8], s[9], monitor.X, monitor.Right()) {
		top = max(top, screen.Y+s[2])
	}
	if s[3] > 0 && within(s[10], s[11], monitor.X, monitor.Right()) {
		bottom = min(bottom, screen.Bottom()-s[3])
	}
	if 2*(left-monitor.X) > monitor.W || 2*(monitor.Right()-right) > monitor.W ||
		2*(top-monitor.Y) > monitor.H || 2*(monitor.Bottom()-bottom) > monitor.H || left >= right || top >= bottom {
		return work, false
	}
	return geom.R(left, top, right-left, bottom-top), true
}
