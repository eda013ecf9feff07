package alongside

import (
	"slices"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
)

// client is a window of the desk.
type client struct {
	id   int
	win  xproto.Window
	desk desk.Window // as last told to the core, without its place
	told desk.Stands // as last told

	// As last read.
	facts
	frame    xproto.Window // the window right below the root that holds it; itself where none does
	outer    geom.Rect     // of that
	inside   geom.Rect     // of the window itself, on the plane, without its border
	border   int
	viewable bool

	rect  geom.Rect // its frame, when it was last seen
	known bool      // it was seen since we read it first
	doubt bool      // where it is now cannot be told
	since time.Time // when rect changed last
	// away is where its manager keeps it out of sight, empty where it does not, and strayed
	// when it was last moved there.
	away    geom.Rect
	strayed time.Time
	wanted  *want // what last asked for it to be elsewhere
}

// facts are what a window's properties say, and what comes of that here.
type facts struct {
	display.Facts
	kind          desk.Kind
	dock, desktop bool
	urgent        bool
	at            int // the workspace it is on; -1 for all of them
	states        map[string]bool
}

// reading is the reading of a window, for which many can be under way at once.
type reading struct {
	win   xproto.Window
	place placeReading
	read  func() display.Facts
}

// placeReading is the reading of a window's place.
type placeReading struct {
	geo   xproto.GetGeometryCookie
	where xproto.TranslateCoordinatesCookie
	tree  xproto.QueryTreeCookie
	attr  xproto.GetWindowAttributesCookie
}

// askAll asks for all that is read of a window.
func (h *Host) askAll(win xproto.Window) *reading {
	return &reading{win: win, place: h.askPlace(win), read: h.reader.Ask(win, nil)}
}

func (h *Host) askPlace(win xproto.Window) placeReading {
	return placeReading{
		geo: xproto.GetGeometry(h.conn, xproto.Drawable(win)), where: xproto.TranslateCoordinates(h.conn, win, h.root, 0, 0),
		tree: xproto.QueryTree(h.conn, win), attr: xproto.GetWindowAttributes(h.conn, win),
	}
}

// factsOf takes in what a window's properties say.
func (h *Host) factsOf(r *reading) facts {
	f := facts{Facts: r.read(), states: map[string]bool{}, at: h.top.current}
	f.kind, f.dock, f.desktop = kindOf(f.Types, f.Transient != 0)
	if f.Desktop >= 0 {
		f.at = int(int32(f.Desktop)) // 0xFFFFFFFF is all of them
	}
	for _, name := range f.States {
		f.states[name] = true
	}
	f.urgent = f.Urgent || f.states["_NET_WM_STATE_DEMANDS_ATTENTION"]
	return f
}

// kindOf is what the first known type says.
func kindOf(types []string, transient bool) (k desk.Kind, dock, desktop bool) {
	for _, name := range types {
		if k, known := display.Kinds[name]; known {
			return k, false, false
		}
		if dock, desktop = name == "_NET_WM_WINDOW_TYPE_DOCK", name == "_NET_WM_WINDOW_TYPE_DESKTOP"; dock || desktop {
			return desk.Normal, dock, desktop
		}
	}
	if transient {
		return desk.Dialog, false, false
	}
	return desk.Normal, false, false
}

// take takes in where a window is; parent is the one that holds it, ok is false where
// it is gone.
func (p *placeReading) take(c *client) (parent xproto.Window, ok bool) {
	g, err1 := p.geo.Reply()
	at, err2 := p.where.Reply()
	tree, err3 := p.tree.Reply()
	attr, err4 := p.attr.Reply()
	if err1 != nil || err2 != nil || err3 != nil || err4 != nil {
		return 0, false
	}
	c.border = int(g.BorderWidth)
	c.inside = geom.R(int(at.DstX), int(at.DstY), int(g.Width), int(g.Height))
	c.viewable = attr.MapState == xproto.MapStateViewable
	return tree.Parent, true
}

// grown is a rectangle larger by a border.
func grown(r geom.Rect, border int) geom.Rect {
	return geom.R(r.X-border, r.Y-border, r.W+2*border, r.H+2*border)
}

// frames finds the windows right below the root that hold windows, for all of them at
// once: as many round trips as the deepest one has above it.
func (h *Host) frames(parents map[*client]xproto.Window) {
	type step struct {
		geo  xproto.GetGeometryCookie
		tree xproto.QueryTreeCookie
	}
	for c, parent := range parents {
		if parent == h.root || parent == 0 {
			h.framed(c, c.win, grown(c.inside, c.border))
			delete(parents, c)
		}
	}
	for range 8 { // no frame is deeper
		if len(parents) == 0 {
			return
		}
		steps := map[*client]step{}
		for c, parent := range parents {
			steps[c] = step{xproto.GetGeometry(h.conn, xproto.Drawable(parent)), xproto.QueryTree(h.conn, parent)}
		}
		for c, s := range steps {
			g, err := s.geo.Reply()
			tree, err2 := s.tree.Reply()
			switch {
			case err != nil || err2 != nil:
				delete(parents, c)
			case tree.Parent == h.root || tree.Parent == 0:
				border := int(g.BorderWidth)
				h.framed(c, parents[c], geom.R(int(g.X), int(g.Y), int(g.Width)+2*border, int(g.Height)+2*border))
				delete(parents, c)
			default:
				parents[c] = tree.Parent
			}
		}
	}
}

// framed takes in the frame of a window, and follows it.
func (h *Host) framed(c *client, frame xproto.Window, outer geom.Rect) {
	if c.frame != frame {
		delete(h.byFrame, c.frame)
		c.frame = frame
		if frame != c.win {
			h.byFrame[frame] = c
			xproto.ChangeWindowAttributes(h.conn, frame, xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify})
		}
	}
	c.outer = outer
}

// place is where the window is by what was read: its frame as the manager tells it, where
// what it tells can be, else the window that holds it; less a shadow of its own.
func (c *client) place() geom.Rect {
	r := c.outer
	if e := c.Extents; e != nil && c.frame != c.win {
		told := geom.R(c.inside.X-int(min(e[0], maxExtent)), c.inside.Y-int(min(e[2], maxExtent)), 0, 0)
		told.W = c.inside.W + int(min(e[0], maxExtent)+min(e[1], maxExtent))
		told.H = c.inside.H + int(min(e[2], maxExtent)+min(e[3], maxExtent))
		if c.outer.Contains(told) && told.Contains(grown(c.inside, c.border)) {
			r = told
		}
	}
	return c.Shadow.Seen(r)
}

// maxExtent bounds what a property may say of a frame, in pixels.
const maxExtent = 500

// seen tells whether the window is to be seen now.
func (h *Host) seen(c *client) bool {
	return c.viewable && !h.top.bare && !c.hidden() && (c.at < 0 || c.at == h.top.current)
}

// hidden tells whether the window is minimised. That it is iconic does not tell it: on
// many desktops a window of another workspace is (EWMH, _NET_WM_STATE_HIDDEN).
func (c *client) hidden() bool { return c.states["_NET_WM_STATE_HIDDEN"] }

// settle takes in where a window is, if that is known. A manager may keep a hidden window off
// every monitor; such a window has the place where it was last seen.
func (h *Host) settle(c *client) {
	r := c.place()
	on, seen := h.onPlane(r), h.seen(c)
	switch {
	case on || !c.known:
	case c.rect == r:
		c.doubt = c.doubt && c.viewable && !seen // what is not mapped is where it will be seen
		delete(h.later, c)
		return
	case !seen:
		// Moved where it is out of sight: where it will be seen is not to be told.
		moved := c.away != (geom.Rect{}) || c.wanted != nil && c.wanted.state == waiting || r.W != c.rect.W || r.H != c.rect.H
		if (moved || !c.viewable) && c.away != r {
			c.doubt, c.strayed = true, time.Now()
		}
		c.away = r
		delete(h.later, c)
		return
	case h.onPlane(c.rect) && !h.believes(c):
		return
	}
	if seen && !on && !c.known && c.viewable && !h.believes(c) {
		c.rect, c.doubt = r, true
		return
	}
	c.away = geom.Rect{}
	delete(h.later, c)
	switch {
	case seen:
		c.known, c.doubt = true, false
	case !c.known:
		c.doubt = !on
	default:
		c.doubt = c.doubt && c.viewable
	}
	if c.rect != r {
		c.rect, c.since = r, time.Now()
	}
}

// onPlane tells whether a monitor shows a pixel of a rectangle.
func (h *Host) onPlane(r geom.Rect) bool {
	return slices.ContainsFunc(h.monitors, func(m desk.Monitor) bool { return m.Rect.Overlaps(r) })
}

// believes tells whether a window off every monitor is lost. Managers move windows there before
// they say that they show another workspace, so some turns must have passed since.
func (h *Host) believes(c *client) bool {
	o, waits := h.later[c]
	if !waits {
		o.since = time.Now()
	}
	var gone bool
	gone, o.next = h.goneOn(o.since, 1)
	h.later[c] = o
	return gone
}

// stands is a window as it is told to the core.
func (h *Host) stands(c *client) desk.Stands {
	s := c.states
	wide, tall := s["_NET_WM_STATE_MAXIMIZED_HORZ"], s["_NET_WM_STATE_MAXIMIZED_VERT"]
	return desk.Stands{
		ID: c.id, Rect: c.rect, Workspace: min(c.at, max(h.top.count, 1)-1),
		State: desk.Standing{
			Minimised: c.hidden(), Maximised: wide && tall, Wide: wide && !tall, Tall: tall && !wide, Fullscreen: s["_NET_WM_STATE_FULLSCREEN"],
			Above: s["_NET_WM_STATE_ABOVE"], Below: s["_NET_WM_STATE_BELOW"], Urgent: c.urgent, LastSeen: c.doubt,
		},
	}
}

// describe is what a window says of itself.
func (h *Host) describe(c *client) desk.Window {
	w := desk.Window{
		ID: c.id, Title: desk.CleanText(c.Title, desk.MaxTitle), App: desk.CleanText(c.App, desk.MaxApp), Role: desk.CleanText(c.Role, desk.MaxApp),
		PID: c.PID, Kind: c.kind, Fixed: c.Size.Fixed, Floating: true, Modal: c.states["_NET_WM_STATE_MODAL"], NoFocus: c.NoInput && c.kind == desk.Splash,
	}
	if h.opt.NameApp != nil && w.App != "" {
		if name := h.opt.NameApp(w.App, desk.CleanText(c.Instance, desk.MaxApp)); name != w.App {
			w.App, w.Class = name, w.App
		}
	}
	place := c.place()
	wide, high := place.W-c.inside.W, place.H-c.inside.H
	if c.Size.MinW > 0 && c.Size.MinH > 0 {
		w.MinW, w.MinH = max(c.Size.MinW+wide, 1), max(c.Size.MinH+high, 1)
	}
	w.Sizes = c.Size.Outer(wide, high)
	if bar := c.inside.Y - place.Y; bar > 0 {
		w.Bar = bar
	}
	if p := h.clients[c.Transient]; p != nil && p != c {
		w.Parent = p.id
	}
	return w
}
