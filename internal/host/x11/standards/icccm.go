package standards

import (
	"fmt"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"
)

// Clause is one thing that a standard asks of a manager.
type Clause struct {
	Number string // of the section: ICCCM 4.1.2.3, EWMH 3.4
	Says   string
	try    func(p *Probe)
}

// Masks of requests to be configured.
const (
	cx = xproto.ConfigWindowX
	cy = xproto.ConfigWindowY
	cw = xproto.ConfigWindowWidth
	ch = xproto.ConfigWindowHeight
)

// gravities are those of WM_NORMAL_HINTS, and how much of what a window grows by it is
// moved by, in halves.
var gravities = []struct {
	name    string
	n, x, y int
}{
	{"NorthWest", 1, 0, 0}, {"North", 2, 1, 0}, {"NorthEast", 3, 2, 0}, {"West", 4, 0, 1}, {"Center", 5, 1, 1}, {"East", 6, 2, 1},
	{"SouthWest", 7, 0, 2}, {"South", 8, 1, 2}, {"SouthEast", 9, 2, 2},
}

// ICCCM are the clauses of the Inter-Client Communication Conventions Manual, 2.0.
func ICCCM() []Clause {
	all := slicesOf(icccmProperties(), icccmStates(), icccmPlaces(), icccmFocus(), icccmRest())
	for _, g := range gravities {
		all = append(all, Clause{"4.1.2.3", "a window mapped with win_gravity " + g.name + " has that point of its frame where it asked", func(p *Probe) {
			win := p.create(300, 250, 200, 100, 3)
			p.wins = append(p.wins, win)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.gravity(win, g.n)
			p.show(win)
			// By the window's own border, the point is at a part of 206 by 106.
			p.pointAt(win, g.x, g.y, 300+206*g.x/2, 250+106*g.y/2)
		}}, Clause{"4.1.2.3", "one that is resized with win_gravity " + g.name + " keeps that point", func(p *Probe) {
			win := p.window(300, 250, 200, 100)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.gravity(win, g.n)
			p.show(win)
			f := p.frame(win)
			x, y := f.x+f.w*g.x/2, f.y+f.h*g.y/2
			p.configure(win, cw|ch, 300, 180)
			p.size(win, 300, 180)
			p.pointAt(win, g.x, g.y, x, y)
		}})
	}
	return all
}

func slicesOf(lists ...[]Clause) (all []Clause) {
	for _, l := range lists {
		all = append(all, l...)
	}
	return all
}

// gravity gives a window hints with a gravity, and a place of the user's.
func (p *Probe) gravity(win xproto.Window, n int) {
	v := make([]int, 17)
	v[16] = n
	p.hints(win, usPosition|usSize|pGravity, v...)
}

// pointAt waits until a point of a window's frame, given in halves of it, is somewhere.
func (p *Probe) pointAt(win xproto.Window, halfX, halfY, x, y int) {
	p.until(fmt.Sprintf("the point is at %d,%d", x, y), func() bool {
		f := p.frame(win)
		return f.x+f.w*halfX/2 == x && f.y+f.h*halfY/2 == y
	})
}

func icccmProperties() []Clause {
	title := func(p *Probe) (xproto.Window, func() string) {
		win := p.plain()
		// What a manager makes of a name is seen where it tells of it; at the least it
		// must not stumble.
		return win, func() string { return string(p.bytes(win, "WM_NAME")) }
	}
	return []Clause{
		{"4.1.2.1", "WM_NAME in COMPOUND_TEXT is taken", func(p *Probe) {
			win, _ := title(p)
			greek := []byte("\x1b-F\xc1\xe2\xe3 x")
			xproto.ChangeProperty(p.conn, xproto.PropModeReplace, win, xproto.AtomWmName, p.atom("COMPOUND_TEXT"), 8, uint32(len(greek)), greek)
			p.fence()
			p.until("it is still managed", func() bool { return p.card(win, "WM_STATE") == 1 })
		}},
		{"4.1.2.1", "WM_NAME that is no text does no harm", func(p *Probe) {
			win, _ := title(p)
			p.set(win, "WM_NAME", xproto.AtomInteger, 1, 2, 3)
			p.fence()
			p.until("it is still managed", func() bool { return p.seen(win) })
		}},
		{"4.1.2.2", "WM_ICON_NAME is left alone", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.text(win, "WM_ICON_NAME", "small")
			p.show(win)
			p.never("it is another", func() bool { return string(p.bytes(win, "WM_ICON_NAME")) != "small" })
		}},
		{"4.1.2.3", "a floating window may be resized below its least size by its own client", func(p *Probe) {
			win := p.open(100, 100, 300, 300)
			p.hints(win, pMinSize, 0, 0, 0, 0, 250, 250)
			p.configure(win, cw|ch, 120, 90)
			p.size(win, 120, 90)
		}},
		{"4.1.2.3", "and above its largest", func(p *Probe) {
			win := p.open(100, 100, 100, 100)
			p.hints(win, pMaxSize, 0, 0, 0, 0, 0, 0, 200, 200)
			p.configure(win, cw|ch, 320, 290)
			p.size(win, 320, 290)
		}},
		{"4.1.2.3", "and out of its increments", func(p *Probe) {
			win := p.open(100, 100, 100, 100)
			p.hints(win, pResizeInc, 0, 0, 0, 0, 0, 0, 0, 0, 10, 20)
			p.configure(win, cw|ch, 123, 137)
			p.size(win, 123, 137)
		}},
		{"4.1.2.3", "hints of fewer fields, as of older conventions, are read", func(p *Probe) {
			win := p.window(50, 60, 140, 130)
			p.set(win, "WM_NORMAL_HINTS", xproto.AtomWmSizeHints, usPosition, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.show(win)
			p.until("it is where it asked", func() bool { f := p.frame(win); return f.x == 50 && f.y == 60 })
		}},
		{"4.1.2.4", "input hint false: the window is not focused", func(p *Probe) {
			p.plain()
			win := p.window(0, 0, 100, 100)
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 1, 0, 0, 0, 0, 0, 0, 0, 0)
			p.show(win)
			p.never("it has the focus", func() bool { return p.focus() == win })
		}},
		{"4.1.2.4", "initial state Iconic: the window is managed and not seen", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 2, 0, 3, 0, 0, 0, 0, 0, 0)
			xproto.MapWindow(p.conn, win)
			p.until("it is iconic", func() bool { return p.card(win, "WM_STATE") == 3 })
			p.never("it is seen", func() bool { return p.seen(win) })
		}},
		{"4.1.2.4", "the urgency hint makes it demand attention, while it has no focus", func(p *Probe) {
			win := p.plain()
			p.focused(p.plain())
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 1<<8, 0, 0, 0, 0, 0, 0, 0, 0)
			p.until("it demands attention", func() bool { return p.state(win, "DEMANDS_ATTENTION") })
		}},
		{"4.1.2.4", "and no longer when the hint ends", func(p *Probe) {
			win := p.plain()
			p.focused(p.plain())
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 1<<8, 0, 0, 0, 0, 0, 0, 0, 0)
			p.until("it demands attention", func() bool { return p.state(win, "DEMANDS_ATTENTION") })
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 0, 0, 0, 0, 0, 0, 0, 0, 0)
			p.until("it demands it no more", func() bool { return !p.state(win, "DEMANDS_ATTENTION") })
		}},
		{"4.1.2.6", "a transient window is over its parent", func(p *Probe) {
			parent := p.plain()
			win := p.window(50, 50, 100, 100)
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
			p.show(win)
			p.until("it is over it", func() bool { return p.over(win, parent) })
		}},
		{"4.1.2.6", "also when the parent gets the focus", func(p *Probe) {
			parent := p.open(100, 100, 300, 300)
			win := p.window(150, 150, 100, 100)
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
			p.show(win)
			p.message(parent, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(parent)
			p.until("it is over it", func() bool { return p.over(win, parent) })
		}},
		{"4.1.2.6", "and when the parent is fullscreen", func(p *Probe) {
			parent := p.plain()
			p.ask(parent, 1, "FULLSCREEN")
			p.until("it is fullscreen", func() bool { return p.state(parent, "FULLSCREEN") })
			win := p.window(150, 150, 100, 100)
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
			p.show(win)
			p.until("it is over it", func() bool { return p.over(win, parent) })
		}},
		{"4.1.2.6", "a loop of transients does no harm", func(p *Probe) {
			a, b := p.window(0, 0, 100, 100), p.window(0, 0, 100, 100)
			p.set(a, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(b))
			p.set(b, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(a))
			p.show(a)
			p.show(b)
		}},
		{"4.1.2.6", "one for the root belongs to its group", func(p *Probe) {
			leader := p.plain()
			p.set(leader, "WM_HINTS", xproto.AtomWmHints, 1<<6, 0, 0, 0, 0, 0, 0, 0, uint32(leader))
			p.fence()
			win := p.window(50, 50, 100, 100)
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 1<<6, 0, 0, 0, 0, 0, 0, 0, uint32(leader))
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(p.root))
			p.show(win)
			p.until("it is over it", func() bool { return p.over(win, leader) })
		}},
		{"4.1.2.7", "a window that takes part in WM_DELETE_WINDOW is asked to close, and not ended", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.setAtoms(win, "WM_PROTOCOLS", "WM_DELETE_WINDOW")
			p.show(win)
			p.message(win, "_NET_CLOSE_WINDOW", 0, 2)
			notified(p, "it is asked to close", func(e xproto.ClientMessageEvent) bool {
				return e.Window == win && e.Type == p.atom("WM_PROTOCOLS") && xproto.Atom(e.Data.Data32[0]) == p.atom("WM_DELETE_WINDOW")
			})
			p.never("it is gone", func() bool { return !p.seen(win) })
		}},
		{"4.1.2.8", "WM_COLORMAP_WINDOWS does no harm", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "WM_COLORMAP_WINDOWS", xproto.AtomWindow, uint32(win), 12345)
			p.show(win)
		}},
	}
}

func icccmStates() []Clause {
	return []Clause{
		{"4.1.3.1", "a window that is shown has WM_STATE Normal", func(p *Probe) { p.plain() }},
		{"4.1.3.1", "one of a desktop that is not shown is not seen, and stays Normal: it is not minimised", func(p *Probe) {
			p.desktops(2)
			win := p.plain()
			p.message(p.root, "_NET_CURRENT_DESKTOP", 1, 0)
			p.until("it is not seen", func() bool { return !p.seen(win) })
			p.until("the desktop is shown", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") == 1 })
			if p.card(win, "WM_STATE") != 1 {
				p.fail("WM_STATE is %d", p.card(win, "WM_STATE"))
			}
			p.desktops(1)
		}},
		{"4.1.4", "WM_CHANGE_STATE to Iconic iconifies", func(p *Probe) {
			win := p.plain()
			p.message(win, "WM_CHANGE_STATE", 3)
			p.until("it is iconic", func() bool { return p.card(win, "WM_STATE") == 3 && !p.seen(win) })
		}},
		{"4.1.4", "mapping an iconic window brings it back", func(p *Probe) {
			win := p.plain()
			p.message(win, "WM_CHANGE_STATE", 3)
			p.until("it is iconic", func() bool { return p.card(win, "WM_STATE") == 3 })
			p.show(win)
		}},
		{"4.1.4", "unmapping withdraws: WM_STATE is gone", func(p *Probe) {
			win := p.plain()
			xproto.UnmapWindow(p.conn, win)
			p.until("it has no WM_STATE", func() bool { return len(p.cards(win, "WM_STATE")) == 0 })
		}},
		{"4.1.4", "an iconic window is withdrawn by the event that says so", func(p *Probe) {
			win := p.plain()
			p.message(win, "WM_CHANGE_STATE", 3)
			p.until("it is iconic", func() bool { return p.card(win, "WM_STATE") == 3 })
			e := xproto.UnmapNotifyEvent{Event: p.root, Window: win}
			xproto.SendEvent(p.conn, false, p.root, xproto.EventMaskSubstructureRedirect|xproto.EventMaskSubstructureNotify, string(e.Bytes()))
			p.until("it has no WM_STATE", func() bool { return len(p.cards(win, "WM_STATE")) == 0 })
		}},
		{"4.1.4", "a withdrawn window is in no list", func(p *Probe) {
			win := p.plain()
			p.until("it is listed", func() bool { return p.listed("_NET_CLIENT_LIST", win) >= 0 })
			xproto.UnmapWindow(p.conn, win)
			p.until("it is not", func() bool { return p.listed("_NET_CLIENT_LIST", win) < 0 })
		}},
		{"4.1.4", "one that is withdrawn can be mapped again", func(p *Probe) {
			win := p.plain()
			xproto.UnmapWindow(p.conn, win)
			p.until("it is withdrawn", func() bool { return len(p.cards(win, "WM_STATE")) == 0 })
			p.show(win)
		}},
		{"4.1.4", "a withdrawn window gets its own border back", func(p *Probe) {
			win := p.create(0, 0, 100, 100, 7)
			p.wins = append(p.wins, win)
			p.show(win)
			xproto.UnmapWindow(p.conn, win)
			p.until("its border is 7", func() bool { return p.place(win).border == 7 && len(p.cards(win, "WM_STATE")) == 0 })
		}},
		{"4.1.4", "a window that is destroyed is in no list", func(p *Probe) {
			win := p.plain()
			xproto.DestroyWindow(p.conn, win)
			p.until("it is not listed", func() bool { return p.listed("_NET_CLIENT_LIST", win) < 0 })
		}},
		{"4.1.4", "a hundred windows that come and go at once leave none", func(p *Probe) {
			for range 100 {
				win := p.window(0, 0, 50, 50)
				xproto.MapWindow(p.conn, win)
				xproto.DestroyWindow(p.conn, win)
			}
			p.until("none is listed", func() bool { return len(p.cards(p.root, "_NET_CLIENT_LIST")) == 0 })
		}},
	}
}

func icccmPlaces() []Clause {
	return []Clause{
		{"4.1.5", "a floating window that asks for a place gets it", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.configure(win, cx|cy, 333, 222)
			p.until("it is there", func() bool { f := p.frame(win); return f.x == 333 && f.y == 222 })
		}},
		{"4.1.5", "and a size", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.configure(win, cw|ch, 260, 210)
			p.size(win, 260, 210)
		}},
		{"4.1.5", "one that is moved and not resized is told its place on the root", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			events(p, func(xproto.ConfigureNotifyEvent) bool { return true })
			p.configure(win, cx|cy, 333, 222)
			p.until("it is there", func() bool { return p.frame(win).x == 333 })
			at := p.place(win)
			e := notified(p, "it is told", func(e xproto.ConfigureNotifyEvent) bool {
				return e.Window == win && int(e.X) == at.x && int(e.Y) == at.y && e.BorderWidth == 0
			})
			if int(e.Width) != 200 || int(e.Height) != 150 {
				p.fail("it is told the size %d×%d", e.Width, e.Height)
			}
		}},
		{"4.1.5", "one that gets nothing of what it asks for is told the place that it has", func(p *Probe) {
			win := p.plain()
			p.fence()
			at := p.place(win)
			events(p, func(xproto.ConfigureNotifyEvent) bool { return true })
			p.configure(win, cx, at.x) // what it has
			notified(p, "it is told", func(e xproto.ConfigureNotifyEvent) bool {
				return e.Window == win && int(e.X) == at.x && int(e.Y) == at.y && int(e.Width) == at.w
			})
		}},
		{"4.1.5", "what it is told last, after many requests, is so", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			for i := range 50 {
				p.configure(win, cx|cy|cw|ch, 100+i, 120+i, 200+i, 150+i)
			}
			p.size(win, 249, 199)
			p.until("it is where the last one said", func() bool { f := p.frame(win); return f.x == 149 && f.y == 169 })
			at := p.place(win)
			all := events(p, func(e xproto.ConfigureNotifyEvent) bool { return e.Window == win && e.BorderWidth == 0 })
			if len(all) == 0 || int(all[len(all)-1].X) != at.x || int(all[len(all)-1].Y) != at.y {
				p.fail("it was told another place last than %v", at)
			}
		}},
		{"4.1.5", "a border that it asks for does not move it", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			f := p.frame(win)
			p.configure(win, xproto.ConfigWindowBorderWidth, 9)
			p.never("it is elsewhere", func() bool { return p.frame(win) != f })
		}},
		{"4.1.5", "one that is not managed gets what it asks for", func(p *Probe) {
			win := p.window(10, 10, 100, 100)
			p.configure(win, cx|cy|cw|ch, 44, 55, 66, 77)
			p.until("it is there", func() bool { return p.place(win) == place{44, 55, 66, 77, 0} })
		}},
		{"4.1.5", "a floating window that raises itself is raised", func(p *Probe) {
			a, b := p.open(100, 100, 200, 150), p.open(150, 150, 200, 150)
			p.until("the second is over it", func() bool { return p.over(b, a) })
			p.configure(a, xproto.ConfigWindowStackMode, xproto.StackModeAbove)
			p.until("it is over the other", func() bool { return p.over(a, b) })
		}},
		{"4.1.5", "one that lowers itself is lowered", func(p *Probe) {
			a, b := p.open(100, 100, 200, 150), p.open(150, 150, 200, 150)
			p.configure(b, xproto.ConfigWindowStackMode, xproto.StackModeBelow)
			p.until("it is under the other", func() bool { return p.over(a, b) })
		}},
		{"4.1.5", "override-redirect windows are not managed", func(p *Probe) {
			win := p.window(10, 10, 100, 100)
			xproto.ChangeWindowAttributes(p.conn, win, xproto.CwOverrideRedirect, []uint32{1})
			xproto.MapWindow(p.conn, win)
			p.until("it is seen", func() bool { return p.seen(win) })
			p.never("it is listed", func() bool { return p.listed("_NET_CLIENT_LIST", win) >= 0 || len(p.cards(win, "WM_STATE")) > 0 })
		}},
		{"4.1.5", "an override-redirect window stays over the others", func(p *Probe) {
			menu := p.window(10, 10, 100, 100)
			xproto.ChangeWindowAttributes(p.conn, menu, xproto.CwOverrideRedirect, []uint32{1})
			xproto.MapWindow(p.conn, menu)
			win := p.open(0, 0, 300, 300)
			xproto.ConfigureWindow(p.conn, menu, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
			p.message(win, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(win)
			p.until("it is on top", func() bool { return p.over(menu, win) })
		}},
	}
}

func icccmFocus() []Clause {
	return []Clause{
		{"4.1.7", "passive: a window without WM_TAKE_FOCUS is given the focus", func(p *Probe) { p.focused(p.plain()) }},
		{"4.1.7", "locally active: one with it is given the focus and told", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.setAtoms(win, "WM_PROTOCOLS", "WM_TAKE_FOCUS")
			p.set(win, "WM_HINTS", xproto.AtomWmHints, 1, 1, 0, 0, 0, 0, 0, 0, 0)
			p.show(win)
			p.focused(win)
			p.told(win)
		}},
		{"4.1.7", "globally active: one with it and without input is told alone", func(p *Probe) {
			win := p.globally()
			p.told(win)
			p.never("it has the focus", func() bool { return p.focus() == win })
		}},
		{"4.1.7", "and the time it is told is one of the server", func(p *Probe) {
			now := p.time()
			win := p.globally()
			if e := p.told(win); e.Type != 0 && int32(e.Data.Data32[1]-uint32(now)) < 0 {
				p.fail("it is told the time %d, before %d", e.Data.Data32[1], now)
			}
		}},
		{"4.1.7", "a globally active window that takes the focus keeps it", func(p *Probe) {
			p.plain()
			win := p.globally()
			p.told(win)
			xproto.SetInputFocus(p.conn, xproto.InputFocusParent, win, xproto.TimeCurrentTime)
			p.focused(win)
			p.never("it has lost it", func() bool { return p.focus() != win })
		}},
		{"4.1.7", "a client may move the focus among its own windows", func(p *Probe) {
			a, b := p.plain(), p.plain()
			p.focused(b)
			xproto.SetInputFocus(p.conn, xproto.InputFocusParent, a, xproto.TimeCurrentTime)
			p.until("it is the active one", func() bool { return p.card(p.root, "_NET_ACTIVE_WINDOW") == uint32(a) })
			p.never("it has lost it", func() bool { return p.focus() != a })
		}},
		{"4.1.7", "and to a window within one", func(p *Probe) {
			a := p.plain()
			inside, _ := xproto.NewWindowId(p.conn)
			xproto.CreateWindow(p.conn, 0, inside, a, 5, 5, 20, 20, 0, xproto.WindowClassInputOutput, 0, 0, nil)
			xproto.MapWindow(p.conn, inside)
			p.focused(a)
			xproto.SetInputFocus(p.conn, xproto.InputFocusParent, inside, xproto.TimeCurrentTime)
			p.focused(inside)
			p.never("it has lost it", func() bool { return p.focus() != inside })
		}},
		{"4.1.7", "another client does not get it by taking it", func(p *Probe) {
			theirs, _ := xproto.NewWindowId(p.other)
			xproto.CreateWindow(p.other, 0, theirs, p.root, 0, 0, 100, 100, 0, xproto.WindowClassInputOutput, 0, 0, nil)
			xproto.MapWindow(p.other, theirs)
			p.until("theirs is seen", func() bool { return p.seen(theirs) })
			ours := p.plain()
			p.focused(ours)
			xproto.SetInputFocus(p.other, xproto.InputFocusParent, theirs, xproto.TimeCurrentTime)
			p.other.Sync()
			p.fence()
			p.focused(ours)
			xproto.DestroyWindow(p.other, theirs)
			p.other.Sync()
		}},
		{"4.1.7", "when nothing is there to be focused, keys still go somewhere", func(p *Probe) {
			p.until("the focus is on a window", func() bool { return p.focus() > xproto.InputFocusPointerRoot })
		}},
		{"4.1.7", "the focus goes on when the window that has it goes", func(p *Probe) {
			a, b := p.plain(), p.plain()
			p.focused(b)
			xproto.DestroyWindow(p.conn, b)
			p.focused(a)
		}},
		{"4.1.7", "the focus set to None does not stay so", func(p *Probe) {
			win := p.plain()
			p.focused(win)
			xproto.SetInputFocus(p.conn, xproto.InputFocusNone, xproto.WindowNone, xproto.TimeCurrentTime)
			p.fence()
			p.focused(win)
		}},
		{"4.1.8", "a window with a colormap of its own has it installed while it has the focus", func(p *Probe) {
			id, _ := xproto.NewColormapId(p.conn)
			xproto.CreateColormap(p.conn, xproto.ColormapAllocNone, id, p.root, p.screen.RootVisual)
			win := p.window(0, 0, 100, 100)
			xproto.ChangeWindowAttributes(p.conn, win, xproto.CwColormap, []uint32{uint32(id)})
			p.set(win, "WM_COLORMAP_WINDOWS", xproto.AtomWindow, uint32(win))
			p.show(win)
			p.focused(win)
			p.until("it is installed", func() bool {
				a, err := xproto.GetWindowAttributes(p.conn, win).Reply()
				return err == nil && a.MapIsInstalled
			})
		}},
	}
}

// globally is a globally active window, mapped.
func (p *Probe) globally() xproto.Window {
	win := p.window(0, 0, 100, 100)
	p.setAtoms(win, "WM_PROTOCOLS", "WM_TAKE_FOCUS")
	p.set(win, "WM_HINTS", xproto.AtomWmHints, 1, 0, 0, 0, 0, 0, 0, 0, 0)
	return p.show(win)
}

// told waits until a window is told WM_TAKE_FOCUS.
func (p *Probe) told(win xproto.Window) xproto.ClientMessageEvent {
	return notified(p, "it is told WM_TAKE_FOCUS", func(e xproto.ClientMessageEvent) bool {
		return e.Window == win && xproto.Atom(e.Data.Data32[0]) == p.atom("WM_TAKE_FOCUS")
	})
}

func icccmRest() []Clause {
	return []Clause{
		{"4.2.8.1", "a window that takes part in no protocol is ended when it is closed", func(p *Probe) {
			conn := p.other
			win, _ := xproto.NewWindowId(conn)
			xproto.CreateWindow(conn, 0, win, p.root, 0, 0, 100, 100, 0, xproto.WindowClassInputOutput, 0, 0, nil)
			xproto.MapWindow(conn, win)
			p.until("it is seen", func() bool { return p.seen(win) })
			p.message(win, "_NET_CLOSE_WINDOW", 0, 2)
			p.until("it is gone", func() bool { return !p.seen(win) })
			p.again()
		}},
		{"4.3", "the selection WM_S0 has an owner", func(p *Probe) {
			r, err := xproto.GetSelectionOwner(p.conn, p.atom("WM_S0")).Reply()
			if err != nil || r.Owner == 0 {
				p.fail("it has none")
			}
		}},
		{"2.8", "the owner of WM_S0 is a window that is there", func(p *Probe) {
			r, err := xproto.GetSelectionOwner(p.conn, p.atom("WM_S0")).Reply()
			if err == nil {
				_, err = xproto.GetGeometry(p.conn, xproto.Drawable(r.Owner)).Reply()
			}
			if err != nil {
				p.fail("it is not: %v", err)
			}
		}},
		{"4.1.1", "a client that was there with a window gone and its id used again is no other", func(p *Probe) {
			for range 10 {
				p.plain()
				xproto.DestroyWindow(p.conn, p.wins[len(p.wins)-1])
			}
			p.until("none is listed", func() bool { return len(p.cards(p.root, "_NET_CLIENT_LIST")) == 0 })
		}},
		{"4.1.9", "a client that hangs does not hold the others up", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.setAtoms(win, "WM_PROTOCOLS", "WM_DELETE_WINDOW", "_NET_WM_PING", "WM_TAKE_FOCUS")
			p.show(win)
			p.message(win, "_NET_CLOSE_WINDOW", 0, 2) // and does not answer
			began := time.Now()
			p.fence()
			if took := time.Since(began); took > time.Second {
				p.fail("the manager stood still for %v", took)
			}
		}},
		{"2.6", "text in UTF8_STRING is taken for names", func(p *Probe) {
			win := p.plain()
			p.text(win, "_NET_WM_NAME", strings.Repeat("ü漢", 100))
			p.fence()
			p.until("it is seen", func() bool { return p.seen(win) })
		}},
	}
}

// again connects the other client again, whose connection was ended.
func (p *Probe) again() {
	p.other.Close()
	other, err := dial(p.display)
	if err != nil {
		p.fail("connecting again: %v", err)
		return
	}
	p.other = other
}
