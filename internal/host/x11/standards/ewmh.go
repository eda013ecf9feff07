package standards

import (
	"fmt"
	"slices"

	"github.com/jezek/xgb/xproto"
)

// EWMH are the clauses of the Extended Window Manager Hints, 1.5.
func EWMH() []Clause {
	all := slicesOf(ewmhRoot(), ewmhMessages(), ewmhStates(), ewmhWindows(), ewmhFocus(), ewmhMore())
	for _, s := range []string{"STICKY", "FULLSCREEN", "ABOVE", "BELOW", "MAXIMIZED_VERT", "MAXIMIZED_HORZ", "MODAL", "SKIP_TASKBAR", "SKIP_PAGER", "DEMANDS_ATTENTION"} {
		all = append(all, Clause{"5.7", s + " is added, added again, removed, removed again, and toggled twice", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.open(10, 10, 50, 50) // has the focus
			for _, step := range []struct {
				how  uint32
				want bool
			}{{1, true}, {1, true}, {0, false}, {0, false}, {2, true}, {2, false}} {
				p.ask(win, step.how, s)
				p.fence()
				p.until(fmt.Sprintf("after %d it is %t", step.how, step.want), func() bool { return p.state(win, s) == step.want })
			}
		}}, Clause{"5.7", s + " set before the map is kept", func(p *Probe) {
			if s == "DEMANDS_ATTENTION" {
				p.plain() // so that it may be without the focus
			}
			win := p.window(100, 100, 200, 150)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.setAtoms(win, "_NET_WM_STATE", "_NET_WM_STATE_"+s)
			if s == "DEMANDS_ATTENTION" {
				p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, 0)
			}
			p.show(win)
			p.until("it has the state", func() bool { return p.state(win, s) })
		}})
	}
	for _, kind := range []string{"TOOLBAR", "MENU", "UTILITY", "SPLASH", "DIALOG", "DROPDOWN_MENU", "POPUP_MENU", "TOOLTIP", "NOTIFICATION", "COMBO", "DND"} {
		all = append(all, Clause{"5.6", "a window of the type " + kind + " has the size it asks for", func(p *Probe) {
			p.plain()
			win := p.typed(kind)
			p.fence()
			p.size(win, 150, 100)
		}})
		if slices.Contains([]string{"MENU", "SPLASH", "DROPDOWN_MENU", "POPUP_MENU", "TOOLTIP", "NOTIFICATION", "COMBO", "DND"}, kind) {
			all = append(all, Clause{"5.6", "and takes no focus: " + kind, func(p *Probe) {
				win := p.plain()
				p.focused(win)
				p.typed(kind)
				p.never("it has lost it", func() bool { return p.focus() != win })
			}})
		}
	}
	return all
}

func ewmhRoot() []Clause {
	return []Clause{
		{"3.1", "_NET_SUPPORTED is there", func(p *Probe) {
			if len(p.cards(p.root, "_NET_SUPPORTED")) == 0 {
				p.fail("it is empty")
			}
		}},
		{"3.2", "_NET_CLIENT_LIST has the windows in the order in which they were mapped", func(p *Probe) {
			a, b := p.plain(), p.plain()
			p.until("both are listed in order", func() bool {
				return p.listed("_NET_CLIENT_LIST", a) >= 0 && p.listed("_NET_CLIENT_LIST", b) > p.listed("_NET_CLIENT_LIST", a)
			})
		}},
		{"3.2", "_NET_CLIENT_LIST_STACKING has them from the bottom to the top", func(p *Probe) {
			a, b := p.open(100, 100, 100, 100), p.open(120, 120, 100, 100)
			p.message(a, "_NET_ACTIVE_WINDOW", 2, 0)
			p.until("the raised one is last", func() bool {
				return p.listed("_NET_CLIENT_LIST_STACKING", a) > p.listed("_NET_CLIENT_LIST_STACKING", b) && p.over(a, b)
			})
		}},
		{"3.2", "docks and desktop windows are listed", func(p *Probe) {
			dock, desktop := p.typed("DOCK"), p.typed("DESKTOP")
			p.plain()
			p.until("both are listed", func() bool {
				return p.listed("_NET_CLIENT_LIST", dock) >= 0 && p.listed("_NET_CLIENT_LIST", desktop) >= 0
			})
		}},
		{"3.3", "_NET_NUMBER_OF_DESKTOPS is set by a message", func(p *Probe) {
			p.desktops(3)
			p.desktops(1)
		}},
		{"3.4", "_NET_DESKTOP_GEOMETRY is the size of the screen's monitors", func(p *Probe) {
			if v := p.cards(p.root, "_NET_DESKTOP_GEOMETRY"); len(v) != 2 || v[0] == 0 || v[0] > uint32(p.screen.WidthInPixels) {
				p.fail("it is %v", v)
			}
		}},
		{"3.5", "_NET_DESKTOP_VIEWPORT is 0, 0", func(p *Probe) {
			if v := p.cards(p.root, "_NET_DESKTOP_VIEWPORT"); len(v) < 2 || v[0] != 0 || v[1] != 0 {
				p.fail("it is %v", v)
			}
		}},
		{"3.6", "_NET_CURRENT_DESKTOP follows a message", func(p *Probe) {
			p.desktops(2)
			p.message(p.root, "_NET_CURRENT_DESKTOP", 1, 0)
			p.until("it is 1", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") == 1 })
			p.desktops(1)
		}},
		{"3.6", "a desktop that is not there is not gone to", func(p *Probe) {
			p.message(p.root, "_NET_CURRENT_DESKTOP", 77, 0)
			p.never("it is another", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") != 0 })
		}},
		{"3.7", "_NET_DESKTOP_NAMES has a name for each", func(p *Probe) {
			p.desktops(3)
			p.until("there are three", func() bool { return slices.Equal([]int{3}, []int{countNul(p.bytes(p.root, "_NET_DESKTOP_NAMES"))}) })
			p.desktops(1)
		}},
		{"3.7", "and takes those that another program writes", func(p *Probe) {
			p.desktops(2)
			p.text(p.root, "_NET_DESKTOP_NAMES", "Foyer\x00Annexe\x00")
			p.fence()
			p.until("the second is so called", func() bool { return string(p.bytes(p.root, "_NET_DESKTOP_NAMES")) == "Foyer\x00Annexe\x00" })
			p.desktops(1)
		}},
		{"3.8", "_NET_ACTIVE_WINDOW is the window that has the focus", func(p *Probe) {
			win := p.plain()
			p.until("it is", func() bool { return p.card(p.root, "_NET_ACTIVE_WINDOW") == uint32(win) })
		}},
		{"3.8", "and none where none has it", func(p *Probe) {
			p.until("it is none", func() bool { return p.card(p.root, "_NET_ACTIVE_WINDOW") == 0 })
		}},
		{"3.9", "_NET_WORKAREA leaves out what a dock keeps for itself", func(p *Probe) {
			h := p.cards(p.root, "_NET_WORKAREA")[3]
			p.dock(40)
			p.until("it is 40 less", func() bool { v := p.cards(p.root, "_NET_WORKAREA"); return len(v) >= 4 && v[3] == h-40 && v[1] == 40 })
		}},
		{"3.9", "and has it again when the dock is gone", func(p *Probe) {
			v := p.cards(p.root, "_NET_WORKAREA")
			win := p.dock(40)
			p.until("it is 40 less", func() bool { return p.cards(p.root, "_NET_WORKAREA")[3] == v[3]-40 })
			xproto.DestroyWindow(p.conn, win)
			p.until("it is as before", func() bool { return slices.Equal(p.cards(p.root, "_NET_WORKAREA"), v) })
		}},
		{"3.9", "there is one for each desktop", func(p *Probe) {
			p.desktops(3)
			p.until("there are three", func() bool { return len(p.cards(p.root, "_NET_WORKAREA")) == 12 })
			p.desktops(1)
		}},
		{"3.10", "_NET_SUPPORTING_WM_CHECK names a window that names itself", func(p *Probe) {
			win := xproto.Window(p.card(p.root, "_NET_SUPPORTING_WM_CHECK"))
			if p.card(win, "_NET_SUPPORTING_WM_CHECK") != uint32(win) || win == 0 {
				p.fail("it does not")
			}
		}},
		{"3.10", "and has a name", func(p *Probe) {
			if win := xproto.Window(p.card(p.root, "_NET_SUPPORTING_WM_CHECK")); len(p.bytes(win, "_NET_WM_NAME")) == 0 {
				p.fail("it has none")
			}
		}},
		{"3.12", "_NET_SHOWING_DESKTOP puts all windows out of sight, and back", func(p *Probe) {
			win := p.plain()
			p.message(p.root, "_NET_SHOWING_DESKTOP", 1)
			p.until("it is out of sight", func() bool { return !p.seen(win) && p.card(p.root, "_NET_SHOWING_DESKTOP") == 1 })
			p.message(p.root, "_NET_SHOWING_DESKTOP", 0)
			p.until("it is back", func() bool { return p.seen(win) && p.card(p.root, "_NET_SHOWING_DESKTOP") == 0 })
		}},
	}
}

func countNul(b []byte) (n int) {
	for _, c := range b {
		if c == 0 {
			n++
		}
	}
	return n
}

// dock is a dock at the top, so many pixels high.
func (p *Probe) dock(high uint32) xproto.Window {
	win := p.window(0, 0, 400, int(high))
	p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DOCK")
	p.set(win, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, high, 0, 0, 0, 0, 0, 0, 20000, 0, 0)
	return p.show(win)
}

func ewmhMessages() []Clause {
	return []Clause{
		{"4.1", "_NET_CLOSE_WINDOW asks a window to close", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.setAtoms(win, "WM_PROTOCOLS", "WM_DELETE_WINDOW")
			p.show(win)
			p.message(win, "_NET_CLOSE_WINDOW", 0, 2)
			notified(p, "it is asked", func(e xproto.ClientMessageEvent) bool { return e.Window == win })
		}},
		{"4.2", "_NET_MOVERESIZE_WINDOW moves and resizes a floating window", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.message(win, "_NET_MOVERESIZE_WINDOW", 1|0xf<<8|2<<12, 220, 180, 260, 170)
			p.size(win, 260, 170)
			p.until("it is there", func() bool { f := p.frame(win); return f.x == 220 && f.y == 180 })
		}},
		{"4.2", "only as far as its flags say", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			f := p.frame(win)
			p.message(win, "_NET_MOVERESIZE_WINDOW", 1|1<<10|2<<12, 999, 999, 260, 999)
			p.size(win, 260, 150)
			if now := p.frame(win); now.x != f.x || now.y != f.y {
				p.fail("it has moved to %v", now)
			}
		}},
		{"4.2", "by the gravity that it names", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			f := p.frame(win)
			p.message(win, "_NET_MOVERESIZE_WINDOW", 9|3<<10|2<<12, 0, 0, 260, 170)
			p.size(win, 260, 170)
			p.pointAt(win, 2, 2, f.x+f.w, f.y+f.h)
		}},
		{"4.3", "_NET_WM_MOVERESIZE moves a window with the pointer", func(p *Probe) {
			win := p.open(300, 300, 200, 150)
			p.drag(win, 8, 350, 320, 90, 60)
			p.until("it has moved along", func() bool { f := p.frame(win); return f.x > 350 && f.y > 330 })
		}},
		{"4.3", "and resizes it by its edge", func(p *Probe) {
			win := p.open(300, 300, 200, 150)
			p.drag(win, 3, 499, 370, 80, 0)
			p.until("it is wider", func() bool { return p.place(win).w > 260 })
		}},
		{"4.3", "CANCEL ends that, and puts it back", func(p *Probe) {
			win := p.open(300, 300, 200, 150)
			f := p.frame(win)
			p.point(350, 320)
			p.button(1, true)
			p.message(win, "_NET_WM_MOVERESIZE", 350, 320, 8, 1, 1)
			p.fence()
			p.point(420, 420)
			p.until("it moves", func() bool { return p.frame(win) != f })
			p.message(win, "_NET_WM_MOVERESIZE", 0, 0, 11, 1, 1)
			p.fence()
			p.button(1, false)
			p.until("it is back", func() bool { return p.frame(win) == f })
		}},
		{"4.3", "and moves it by the keyboard", func(p *Probe) {
			win := p.open(300, 300, 200, 150)
			f := p.frame(win)
			p.message(win, "_NET_WM_MOVERESIZE", 350, 320, 10, 0, 1)
			p.fence()
			p.key(right)
			p.key(right)
			p.key(enter)
			p.until("it is further right", func() bool { return p.frame(win).x > f.x })
		}},
		{"4.4", "_NET_RESTACK_WINDOW puts a floating window under another", func(p *Probe) {
			a, b := p.open(100, 100, 200, 150), p.open(150, 150, 200, 150)
			p.message(b, "_NET_RESTACK_WINDOW", 2, uint32(a), 1)
			p.until("it is under it", func() bool { return p.over(a, b) })
		}},
		{"4.4", "or over it", func(p *Probe) {
			a, b, c := p.open(100, 100, 200, 150), p.open(150, 150, 200, 150), p.open(160, 160, 100, 100)
			p.message(a, "_NET_RESTACK_WINDOW", 2, uint32(b), 0)
			p.until("it is over that and under the next", func() bool { return p.over(a, b) && p.over(c, a) })
		}},
		{"4.5", "_NET_REQUEST_FRAME_EXTENTS tells the frame a window will have", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.message(win, "_NET_REQUEST_FRAME_EXTENTS")
			p.until("it is told", func() bool { return len(p.cards(win, "_NET_FRAME_EXTENTS")) == 4 })
			told := p.cards(win, "_NET_FRAME_EXTENTS")
			p.show(win)
			if !slices.Equal(told, p.cards(win, "_NET_FRAME_EXTENTS")) {
				p.fail("it has another one")
			}
		}},
		{"4.x", "a message about a window that is not there does no harm", func(p *Probe) {
			for _, kind := range []string{"_NET_CLOSE_WINDOW", "_NET_ACTIVE_WINDOW", "_NET_WM_STATE", "_NET_WM_DESKTOP", "_NET_MOVERESIZE_WINDOW", "_NET_WM_MOVERESIZE", "_NET_RESTACK_WINDOW", "_NET_WM_FULLSCREEN_MONITORS"} {
				p.message(0x7654321, kind, 1, 2, 3, 4, 5)
			}
			p.plain()
		}},
	}
}

// Keysyms.
const (
	right = 0xff53
	enter = 0xff0d
)

// drag presses a button on a window, has it ask to be dragged in a direction, and moves
// the pointer by so much before it lets go.
func (p *Probe) drag(win xproto.Window, direction uint32, x, y, dx, dy int) {
	p.point(x, y)
	p.button(1, true)
	xproto.UngrabPointer(p.conn, xproto.TimeCurrentTime)
	p.message(win, "_NET_WM_MOVERESIZE", uint32(x), uint32(y), direction, 1, 1)
	p.fence()
	for i := 1; i <= 5; i++ {
		p.point(x+dx*i/5, y+dy*i/5)
	}
	p.fence()
	p.button(1, false)
}

func ewmhStates() []Clause {
	return []Clause{
		{"5.7", "FULLSCREEN covers the monitor", func(p *Probe) {
			win := p.plain()
			p.ask(win, 1, "FULLSCREEN")
			p.until("it does", func() bool { at := p.place(win); return at.x == 0 && at.y == 0 && at.border == 0 && at.w >= 800 })
		}},
		{"5.7", "also over a dock, while it has the focus", func(p *Probe) {
			dock, win := p.dock(30), p.plain()
			p.ask(win, 1, "FULLSCREEN")
			p.until("it is over it", func() bool { return p.over(win, dock) })
		}},
		{"5.7", "and under it while another has it", func(p *Probe) {
			dock, win := p.dock(30), p.plain()
			p.ask(win, 1, "FULLSCREEN")
			p.until("it is over it", func() bool { return p.over(win, dock) })
			top := p.open(50, 50, 60, 60)
			p.ask(top, 1, "ABOVE")
			p.message(top, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(top)
			p.until("it is under it", func() bool { return p.over(dock, win) })
		}},
		{"5.7", "twenty times there and back leave it as it was", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			f := p.frame(win)
			for range 20 {
				p.ask(win, 1, "FULLSCREEN")
				p.ask(win, 0, "FULLSCREEN")
			}
			p.fence()
			p.until("it is as it was", func() bool { return p.frame(win) == f && !p.state(win, "FULLSCREEN") })
		}},
		{"5.7", "a burst of toggles counts each", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			for range 5 {
				p.ask(win, 2, "FULLSCREEN")
			}
			p.fence()
			p.until("after five it is on", func() bool { return p.state(win, "FULLSCREEN") })
		}},
		{"5.7", "both ways in one message maximise", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.ask(win, 1, "MAXIMIZED_VERT", "MAXIMIZED_HORZ")
			p.until("it covers the work area", func() bool {
				f := p.frame(win)
				return f.x == 0 && f.y == 0 && f.w >= 800 && p.state(win, "MAXIMIZED_VERT") && p.state(win, "MAXIMIZED_HORZ")
			})
		}},
		{"5.7", "and one after the other too", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.ask(win, 1, "MAXIMIZED_VERT")
			p.ask(win, 1, "MAXIMIZED_HORZ")
			p.until("it covers the work area", func() bool { f := p.frame(win); return f.x == 0 && f.y == 0 && f.w >= 800 && f.h >= 600 })
		}},
		{"5.7", "MAXIMIZED_VERT alone leaves its width", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.ask(win, 1, "MAXIMIZED_VERT")
			p.until("it is as high as the work area", func() bool { f := p.frame(win); return f.y == 0 && f.h >= 600 && p.place(win).w == 200 && f.x == 100 })
		}},
		{"5.7", "MAXIMIZED_HORZ alone leaves its height", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.ask(win, 1, "MAXIMIZED_HORZ")
			p.until("it is as wide as the work area", func() bool { f := p.frame(win); return f.x == 0 && f.w >= 800 && p.place(win).h == 150 })
		}},
		{"5.7", "what was maximised has its place back", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			f := p.frame(win)
			p.ask(win, 1, "MAXIMIZED_VERT", "MAXIMIZED_HORZ")
			p.until("it is large", func() bool { return p.frame(win).w >= 800 })
			p.ask(win, 0, "MAXIMIZED_VERT", "MAXIMIZED_HORZ")
			p.until("it is as it was", func() bool { return p.frame(win) == f })
		}},
		{"5.7", "maximised off and a move in one burst keep the size it had", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.ask(win, 1, "MAXIMIZED_VERT", "MAXIMIZED_HORZ")
			p.until("it is large", func() bool { return p.frame(win).w >= 800 })
			p.ask(win, 0, "MAXIMIZED_VERT", "MAXIMIZED_HORZ")
			p.configure(win, cx|cy, 140, 160)
			p.until("it is there, as large as before", func() bool {
				f := p.frame(win)
				return f.x == 140 && f.y == 160 && p.place(win).w == 200 && p.place(win).h == 150
			})
		}},
		{"5.7", "HIDDEN is set by the manager alone", func(p *Probe) {
			win := p.plain()
			p.ask(win, 1, "HIDDEN")
			p.never("it is hidden", func() bool { return !p.seen(win) || p.state(win, "HIDDEN") })
			p.message(win, "WM_CHANGE_STATE", 3)
			p.until("it has HIDDEN when it is iconified", func() bool { return p.state(win, "HIDDEN") })
		}},
		{"5.7", "ABOVE is over other floating windows, also when they are raised", func(p *Probe) {
			a, b := p.open(100, 100, 200, 150), p.open(120, 120, 200, 150)
			p.ask(a, 1, "ABOVE")
			p.message(b, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(b)
			p.until("it is over it", func() bool { return p.over(a, b) })
		}},
		{"5.7", "BELOW is under other floating windows, also when it has the focus", func(p *Probe) {
			a, b := p.open(100, 100, 200, 150), p.open(120, 120, 200, 150)
			p.ask(a, 1, "BELOW")
			p.until("it is so", func() bool { return p.state(a, "BELOW") })
			p.message(a, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(a)
			p.until("it is under it", func() bool { return p.over(b, a) })
		}},
		{"5.7", "MODAL: the focus goes to the dialog, and not to its parent", func(p *Probe) {
			parent := p.plain()
			win := p.window(50, 50, 100, 100)
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
			p.setAtoms(win, "_NET_WM_STATE", "_NET_WM_STATE_MODAL")
			p.show(win)
			p.message(parent, "_NET_ACTIVE_WINDOW", 2, 0)
			p.fence()
			p.focused(win)
		}},
		{"5.7", "STICKY is seen on every desktop", func(p *Probe) {
			p.desktops(2)
			win := p.open(100, 100, 100, 100)
			p.ask(win, 1, "STICKY")
			p.until("it is so", func() bool { return p.state(win, "STICKY") })
			p.message(p.root, "_NET_CURRENT_DESKTOP", 1, 0)
			p.until("the second is shown", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") == 1 })
			p.never("it is not seen", func() bool { return !p.seen(win) })
			p.desktops(1)
		}},
		{"5.7", "DEMANDS_ATTENTION ends when the window gets the focus", func(p *Probe) {
			a := p.plain()
			p.focused(p.plain())
			p.ask(a, 1, "DEMANDS_ATTENTION")
			p.until("it is so", func() bool { return p.state(a, "DEMANDS_ATTENTION") })
			p.message(a, "_NET_ACTIVE_WINDOW", 2, 0)
			p.until("it is so no more", func() bool { return !p.state(a, "DEMANDS_ATTENTION") })
		}},
		{"5.7", "FOCUSED is on the window that has the focus, and on no other", func(p *Probe) {
			a, b := p.plain(), p.plain()
			p.until("it is on the second", func() bool { return p.state(b, "FOCUSED") && !p.state(a, "FOCUSED") })
		}},
		{"5.7", "a state that is not known is not kept", func(p *Probe) {
			win := p.plain()
			p.ask(win, 1, "LEVITATING")
			p.never("it has it", func() bool { return p.state(win, "LEVITATING") })
		}},
		{"5.7", "a withdrawn window has no states any more", func(p *Probe) {
			win := p.plain()
			p.ask(win, 1, "ABOVE", "STICKY")
			p.until("it is sticky", func() bool { return p.state(win, "STICKY") })
			xproto.UnmapWindow(p.conn, win)
			p.until("it has none", func() bool {
				return len(p.cards(win, "_NET_WM_STATE")) == 0 && len(p.cards(win, "_NET_WM_DESKTOP")) == 0
			})
		}},
	}
}

func ewmhWindows() []Clause {
	return []Clause{
		{"5.5", "_NET_WM_DESKTOP is that of the window", func(p *Probe) {
			win := p.plain()
			p.until("it is 0", func() bool { return p.card(win, "_NET_WM_DESKTOP") == 0 })
		}},
		{"5.5", "a message sends it to another", func(p *Probe) {
			p.desktops(2)
			win := p.plain()
			p.message(win, "_NET_WM_DESKTOP", 1, 2)
			p.until("it is there", func() bool { return p.card(win, "_NET_WM_DESKTOP") == 1 && !p.seen(win) })
			p.desktops(1)
		}},
		{"5.5", "0xFFFFFFFF has it on all", func(p *Probe) {
			win := p.open(0, 0, 100, 100)
			p.message(win, "_NET_WM_DESKTOP", 0xFFFFFFFF, 2)
			p.until("it is", func() bool { return p.card(win, "_NET_WM_DESKTOP") == 0xFFFFFFFF })
		}},
		{"5.5", "also before the map", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, 0xFFFFFFFF)
			p.show(win)
			p.until("it is sticky", func() bool { return p.card(win, "_NET_WM_DESKTOP") == 0xFFFFFFFF && p.state(win, "STICKY") })
		}},
		{"5.5", "a desktop named before the map is where it opens", func(p *Probe) {
			p.desktops(2)
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, 1)
			xproto.MapWindow(p.conn, win)
			p.until("it is there", func() bool { return p.card(win, "_NET_WM_DESKTOP") == 1 && p.card(win, "WM_STATE") == 1 })
			p.desktops(1)
		}},
		{"5.6", "a dock is where it asks to be, and not tiled", func(p *Probe) {
			win := p.dock(25)
			p.plain()
			p.never("it is elsewhere", func() bool { at := p.place(win); return at.x != 0 || at.y != 0 || at.h != 25 || at.w != 400 })
		}},
		{"5.6", "a dock is over other windows", func(p *Probe) {
			win := p.dock(25)
			other := p.open(0, 0, 300, 300)
			p.message(other, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(other)
			p.until("it is over it", func() bool { return p.over(win, other) })
		}},
		{"5.6", "a desktop window is under all others", func(p *Probe) {
			other := p.plain()
			win := p.typed("DESKTOP")
			p.until("it is under it", func() bool { return p.over(other, win) })
		}},
		{"5.6", "a desktop window has WM_STATE, and can have the focus", func(p *Probe) {
			win := p.typed("DESKTOP")
			p.message(win, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(win)
		}},
		{"5.6", "a click on a desktop window focuses it", func(p *Probe) {
			win := p.window(0, 0, 700, 500)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DESKTOP")
			p.show(win)
			over := p.open(500, 400, 50, 50)
			p.fence()
			p.click(200, 200)
			p.focused(win)
			p.text(over, "_NET_WM_NAME", "Another")
			p.fence()
			p.fence() // what follows from that is shown by then
			p.focused(win)
			at := p.frame(over)
			p.click(at.x+20, at.y+20)
			p.focused(over)
			p.click(200, 200)
			p.focused(win)
			xproto.DestroyWindow(p.conn, win)
			p.focused(over)
		}},
		{"5.6", "an unknown type, and then a known one: that counts", func(p *Probe) {
			p.plain()
			win := p.window(10, 10, 150, 100)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_HOVERING", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.show(win)
			p.size(win, 150, 100)
		}},
		{"5.8", "_NET_WM_ALLOWED_ACTIONS of a floating window has moving and resizing", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			p.until("it has", func() bool {
				return p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_MOVE") && p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_RESIZE") &&
					p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_CLOSE")
			})
		}},
		{"5.8", "and whatever else is done when a program asks for it", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			for _, action := range []string{"MINIMIZE", "STICK", "MAXIMIZE_HORZ", "MAXIMIZE_VERT", "FULLSCREEN", "CHANGE_DESKTOP", "ABOVE", "BELOW"} {
				p.until("it has "+action, func() bool { return p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_"+action) })
			}
		}},
		{"5.6", "a window of the type NORMAL is one as others", func(p *Probe) { p.focused(p.typed("NORMAL")) }},
		{"5.8", "that of one with a single size has no resizing", func(p *Probe) {
			win := p.window(100, 100, 200, 150)
			p.hints(win, pMinSize|pMaxSize, 0, 0, 0, 0, 200, 150, 200, 150)
			p.show(win)
			p.until("it has moving", func() bool { return p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_MOVE") })
			p.never("it has resizing", func() bool { return p.has(win, "_NET_WM_ALLOWED_ACTIONS", "_NET_WM_ACTION_RESIZE") })
		}},
		{"5.9", "_NET_WM_STRUT counts, without spans", func(p *Probe) {
			v := p.cards(p.root, "_NET_WORKAREA")
			win := p.window(0, 0, 300, 33)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DOCK")
			p.set(win, "_NET_WM_STRUT", xproto.AtomCardinal, 0, 0, 33, 0)
			p.show(win)
			p.until("the work area is 33 less", func() bool { now := p.cards(p.root, "_NET_WORKAREA"); return now[3] == v[3]-33 })
		}},
		{"5.10", "_NET_WM_STRUT_PARTIAL counts on any window", func(p *Probe) {
			v := p.cards(p.root, "_NET_WORKAREA")
			win := p.window(0, 0, 300, 33)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_UTILITY")
			p.set(win, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 33, 0, 0, 0, 0, 0, 0, 20000, 0, 0)
			p.show(win)
			p.until("the work area is 33 less", func() bool { now := p.cards(p.root, "_NET_WORKAREA"); return now[3] == v[3]-33 })
		}},
		{"5.10", "a strut that changes is followed", func(p *Probe) {
			v := p.cards(p.root, "_NET_WORKAREA")
			win := p.dock(20)
			p.set(win, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 50, 0, 0, 0, 0, 0, 0, 20000, 0, 0)
			p.until("the work area is 50 less", func() bool { now := p.cards(p.root, "_NET_WORKAREA"); return now[3] == v[3]-50 })
		}},
		{"5.10", "one that would take more than there is does not", func(p *Probe) {
			v := p.cards(p.root, "_NET_WORKAREA")
			win := p.dock(10)
			p.set(win, "_NET_WM_STRUT_PARTIAL", xproto.AtomCardinal, 0, 0, 0xffffff, 0, 0, 0, 0, 0, 0, 20000, 0, 0)
			p.fence()
			p.until("the work area is as before", func() bool { now := p.cards(p.root, "_NET_WORKAREA"); return now[3] > v[3]/2 })
		}},
		{"5.12", "_NET_WM_ICON is kept for those who ask", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_ICON", xproto.AtomCardinal, 1, 1, 0xff00ff00)
			p.show(win)
			p.never("it is another", func() bool { return !slices.Equal(p.cards(win, "_NET_WM_ICON"), []uint32{1, 1, 0xff00ff00}) })
		}},
		{"5.13", "_NET_WM_PID is kept", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_PID", xproto.AtomCardinal, 4711)
			p.show(win)
			p.never("it is another", func() bool { return p.card(win, "_NET_WM_PID") != 4711 })
		}},
		{"5.16", "_NET_FRAME_EXTENTS is there before the window is seen", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			xproto.MapWindow(p.conn, win)
			p.until("it is seen", func() bool { return p.seen(win) })
			if len(p.cards(win, "_NET_FRAME_EXTENTS")) != 4 {
				p.fail("it is not")
			}
		}},
		{"5.16", "it says how far the frame reaches beyond the inside", func(p *Probe) {
			win := p.open(100, 100, 200, 150)
			e, at := p.cards(win, "_NET_FRAME_EXTENTS"), p.place(win)
			if len(e) != 4 || int(e[0]) < at.border || at.x-int(e[0]) != 100 {
				p.fail("it says %v of %v", e, at)
			}
		}},
		{"5.16", "it is nothing in fullscreen", func(p *Probe) {
			win := p.plain()
			p.ask(win, 1, "FULLSCREEN")
			p.until("it is", func() bool { return slices.Equal(p.cards(win, "_NET_FRAME_EXTENTS"), []uint32{0, 0, 0, 0}) })
			p.ask(win, 0, "FULLSCREEN")
			p.until("and something after it", func() bool { return p.card(win, "_NET_FRAME_EXTENTS") != 0 })
		}},
	}
}

func ewmhFocus() []Clause {
	return []Clause{
		{"3.8", "_NET_ACTIVE_WINDOW from a pager focuses a window", func(p *Probe) {
			a, _ := p.plain(), p.plain()
			p.message(a, "_NET_ACTIVE_WINDOW", 2, 0)
			p.focused(a)
		}},
		{"3.8", "and goes to its desktop", func(p *Probe) {
			p.desktops(2)
			win := p.plain()
			p.message(p.root, "_NET_CURRENT_DESKTOP", 1, 0)
			p.until("it is out of sight", func() bool { return !p.seen(win) })
			p.message(win, "_NET_ACTIVE_WINDOW", 2, 0)
			p.until("its desktop is shown", func() bool { return p.card(p.root, "_NET_CURRENT_DESKTOP") == 0 && p.seen(win) })
			p.desktops(1)
		}},
		{"5.14", "user time 0: a window does not take the focus", func(p *Probe) {
			a := p.plain()
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, 0)
			p.show(win)
			p.never("it has it", func() bool { return p.focus() != a })
		}},
		{"5.14", "one from a key before the last demands attention instead", func(p *Probe) {
			p.set(p.plain(), "_NET_WM_USER_TIME", xproto.AtomCardinal, 5000)
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, 4000)
			p.show(win)
			p.until("it does", func() bool { return p.state(win, "DEMANDS_ATTENTION") })
		}},
		{"5.14", "a window of a time before the last key takes no focus", func(p *Probe) {
			early := p.time()
			a := p.plain()
			p.focused(a)
			p.set(a, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time())+5)
			p.fence()
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(early))
			p.show(win)
			p.never("it has it", func() bool { return p.focus() != a })
		}},
		{"5.14", "one of a later time does", func(p *Probe) {
			a := p.plain()
			p.focused(a)
			p.set(a, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time()))
			p.fence()
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time())+10)
			p.show(win)
			p.focused(win)
		}},
		{"5.14", "the time of a startup id stands for one that is not told", func(p *Probe) {
			early := p.time()
			a := p.plain()
			p.focused(a)
			p.set(a, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time())+5)
			p.fence()
			win := p.window(0, 0, 100, 100)
			p.text(win, "_NET_STARTUP_ID", fmt.Sprintf("probe-1_TIME%d", early))
			p.show(win)
			p.never("it has the focus", func() bool { return p.focus() != a })
		}},
		{"5.14", "the time may be told on a window of its own", func(p *Probe) {
			early := p.time()
			a, clock := p.window(0, 0, 100, 100), p.create(0, 0, 1, 1, 0)
			p.wins = append(p.wins, clock)
			p.set(a, "_NET_WM_USER_TIME_WINDOW", xproto.AtomWindow, uint32(clock))
			p.show(a)
			p.focused(a)
			p.set(clock, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time())+5)
			p.fence()
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(early))
			p.show(win)
			p.never("it has it", func() bool { return p.focus() != a })
		}},
		{"5.14", "a request for the focus by an application, of an earlier time, is not followed", func(p *Probe) {
			early := p.time()
			a, b := p.plain(), p.plain()
			p.focused(b)
			p.set(b, "_NET_WM_USER_TIME", xproto.AtomCardinal, uint32(p.time())+5)
			p.fence()
			p.message(a, "_NET_ACTIVE_WINDOW", 1, uint32(early), uint32(b))
			p.fence()
			p.focused(b)
			p.until("it demands attention", func() bool { return p.state(a, "DEMANDS_ATTENTION") })
		}},
	}
}

func ewmhMore() []Clause {
	return []Clause{
		{"6.1", "_NET_WM_PING: an answer is taken", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.setAtoms(win, "WM_PROTOCOLS", "WM_DELETE_WINDOW", "_NET_WM_PING")
			p.show(win)
			p.message(win, "_NET_CLOSE_WINDOW", 0, 2)
			e := notified(p, "it is pinged", func(e xproto.ClientMessageEvent) bool {
				return xproto.Atom(e.Data.Data32[0]) == p.atom("_NET_WM_PING") && e.Data.Data32[2] == uint32(win)
			})
			if e.Type != 0 {
				p.message(p.root, "WM_PROTOCOLS", e.Data.Data32...)
			}
		}},
		{"6.3", "_NET_WM_FULLSCREEN_MONITORS is kept on the window", func(p *Probe) {
			win := p.plain()
			p.message(win, "_NET_WM_FULLSCREEN_MONITORS", 0, 0, 0, 0, 1)
			p.until("it is", func() bool { return slices.Equal(p.cards(win, "_NET_WM_FULLSCREEN_MONITORS"), []uint32{0, 0, 0, 0}) })
		}},
		{"6.3", "monitors that are not there are not taken", func(p *Probe) {
			win := p.plain()
			p.message(win, "_NET_WM_FULLSCREEN_MONITORS", 9, 9, 9, 9, 1)
			p.never("they are", func() bool { return len(p.cards(win, "_NET_WM_FULLSCREEN_MONITORS")) > 0 })
		}},
		{"7.x", "_NET_WM_BYPASS_COMPOSITOR is left alone", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_BYPASS_COMPOSITOR", xproto.AtomCardinal, 1)
			p.show(win)
			p.never("it is another", func() bool { return p.card(win, "_NET_WM_BYPASS_COMPOSITOR") != 1 })
		}},
		{"7.x", "_NET_WM_WINDOW_OPACITY is left alone", func(p *Probe) {
			win := p.window(0, 0, 100, 100)
			p.set(win, "_NET_WM_WINDOW_OPACITY", xproto.AtomCardinal, 0x7fffffff)
			p.show(win)
			p.never("it is another", func() bool { return p.card(win, "_NET_WM_WINDOW_OPACITY") != 0x7fffffff })
		}},
		{"GTK", "_GTK_FRAME_EXTENTS: what is seen is where it asked, without a border", func(p *Probe) {
			win := p.window(100, 100, 260, 220)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.set(win, "_GTK_FRAME_EXTENTS", xproto.AtomCardinal, 20, 20, 10, 30)
			p.show(win)
			p.until("its frame is none", func() bool {
				return slices.Equal(p.cards(win, "_NET_FRAME_EXTENTS"), []uint32{0, 0, 0, 0}) && p.place(win).border == 0
			})
		}},
		{"Motif", "_MOTIF_WM_HINTS without decorations: no border", func(p *Probe) {
			win := p.window(100, 100, 200, 150)
			p.setAtoms(win, "_NET_WM_WINDOW_TYPE", "_NET_WM_WINDOW_TYPE_DIALOG")
			p.set(win, "_MOTIF_WM_HINTS", p.atom("_MOTIF_WM_HINTS"), 2, 0, 0, 0, 0)
			p.show(win)
			p.until("it has none", func() bool { return p.place(win).border == 0 && p.card(win, "_NET_FRAME_EXTENTS") == 0 })
		}},
		{"5.x", "a dialog goes out of sight with its parent, and comes back with it", func(p *Probe) {
			parent := p.plain()
			win := p.window(50, 50, 100, 100)
			p.set(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(parent))
			p.show(win)
			p.message(parent, "WM_CHANGE_STATE", 3)
			p.until("it is out of sight", func() bool { return !p.seen(win) })
			p.show(parent)
			p.until("it is back", func() bool { return p.seen(win) })
		}},
		{"5.x", "a window of 32 bits a pixel is managed as the others", func(p *Probe) {
			visual, ok := p.deep()
			if !ok {
				return // this screen has none
			}
			id, _ := xproto.NewColormapId(p.conn)
			xproto.CreateColormap(p.conn, xproto.ColormapAllocNone, id, p.root, visual)
			win, _ := xproto.NewWindowId(p.conn)
			xproto.CreateWindow(p.conn, 32, win, p.root, 0, 0, 100, 100, 0, xproto.WindowClassInputOutput, visual,
				xproto.CwBackPixel|xproto.CwBorderPixel|xproto.CwColormap, []uint32{0, 0, uint32(id)})
			p.wins = append(p.wins, win)
			p.show(win)
		}},
	}
}

// deep is a visual of 32 bits a pixel.
func (p *Probe) deep() (xproto.Visualid, bool) {
	for _, d := range p.screen.AllowedDepths {
		if d.Depth == 32 && len(d.Visuals) > 0 {
			return d.Visuals[0].VisualId, true
		}
	}
	return 0, false
}
