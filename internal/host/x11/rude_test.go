package x11_test

import (
	"context"
	"encoding/binary"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// rude is a client that does anything a client can do, in any order.
type rude struct {
	*kept
	*rand.Rand
	wins []xproto.Window
	in   xproto.Window // where some go that are no windows of the root for a while
}

func (r *rude) win() xproto.Window {
	if len(r.wins) == 0 || r.IntN(20) == 0 {
		return []xproto.Window{r.Root, 0, 0x123456}[r.IntN(3)]
	}
	return r.wins[r.IntN(len(r.wins))]
}

// value is a number as hints and messages carry them, often at a limit.
func (r *rude) value() uint32 {
	limits := []uint32{0, 1, 2, 3, 4, 0xff, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, uint32(r.win())}
	if r.IntN(2) == 0 {
		return limits[r.IntN(len(limits))]
	}
	return r.Uint32N(3000)
}

func (r *rude) values(most int) []uint32 {
	vs := make([]uint32, r.IntN(most+1))
	for i := range vs {
		vs[i] = r.value()
	}
	return vs
}

func (r *rude) atom(names ...string) uint32 { return uint32(r.Atom(names[r.IntN(len(names))])) }

func (r *rude) property(win xproto.Window) {
	kind := []xproto.Atom{xproto.AtomCardinal, xproto.AtomAtom, xproto.AtomWindow, xproto.AtomString, xproto.AtomWmHints, xproto.AtomWmSizeHints}[r.IntN(6)]
	names := []string{"WM_NORMAL_HINTS", "WM_HINTS", "WM_TRANSIENT_FOR", "WM_PROTOCOLS", "WM_CLASS", "WM_NAME", "_NET_WM_NAME", "_NET_WM_WINDOW_TYPE",
		"_NET_WM_STATE", "_NET_WM_STRUT", "_NET_WM_STRUT_PARTIAL", "_NET_WM_USER_TIME", "_NET_WM_PID", "_NET_STARTUP_ID", "_NET_WM_DESKTOP", "_GTK_FRAME_EXTENTS", "WM_STATE",
		"_NET_WM_USER_TIME_WINDOW", "_MOTIF_WM_HINTS", "WM_COLORMAP_WINDOWS", "_NET_WM_FULLSCREEN_MONITORS", "_NET_WM_ICON", "_NET_WM_ALLOWED_ACTIONS", "_NET_FRAME_EXTENTS"}
	name := names[r.IntN(len(names))]
	switch {
	case r.IntN(8) == 0:
		xproto.DeleteProperty(r.Conn, win, r.Atom(name))
	case name == "WM_TRANSIENT_FOR":
		r.Cards(win, name, xproto.AtomWindow, uint32(r.win()))
	case name == "_NET_WM_WINDOW_TYPE":
		r.Cards(win, name, xproto.AtomAtom, r.atom("_NET_WM_WINDOW_TYPE_NORMAL", "_NET_WM_WINDOW_TYPE_DIALOG", "_NET_WM_WINDOW_TYPE_DOCK", "_NET_WM_WINDOW_TYPE_UTILITY", "_NET_WM_WINDOW_TYPE_SPLASH", "_NET_WM_WINDOW_TYPE_DESKTOP", "_NET_WM_WINDOW_TYPE_TOOLTIP"))
	case name == "_NET_WM_STATE":
		r.Cards(win, name, xproto.AtomAtom, r.state(), r.state())
	case name == "WM_PROTOCOLS":
		r.Cards(win, name, xproto.AtomAtom, r.atom("WM_DELETE_WINDOW", "WM_TAKE_FOCUS", "_NET_WM_PING"), r.value())
	case r.IntN(3) == 0:
		r.Text(win, name, strings.Repeat("\x1b[31m\x00漢\xff", r.IntN(40)))
	case name == "WM_NORMAL_HINTS":
		r.Cards(win, name, xproto.AtomWmSizeHints, append([]uint32{r.Uint32N(1 << 10)}, r.values(17)...)...)
	case name == "WM_HINTS":
		r.Cards(win, name, xproto.AtomWmHints, append([]uint32{r.Uint32N(1 << 9)}, r.values(8)...)...)
	default:
		r.Cards(win, name, kind, r.values(18)...)
	}
}

func (r *rude) state() uint32 {
	return r.atom("_NET_WM_STATE_FULLSCREEN", "_NET_WM_STATE_MAXIMIZED_VERT", "_NET_WM_STATE_MAXIMIZED_HORZ", "_NET_WM_STATE_STICKY", "_NET_WM_STATE_ABOVE",
		"_NET_WM_STATE_HIDDEN", "_NET_WM_STATE_DEMANDS_ATTENTION", "_NET_WM_STATE_MODAL", "_NET_WM_STATE_BELOW", "_NET_WM_STATE_SKIP_PAGER", "_NET_WM_STATE_FOCUSED")
}

func (r *rude) message(win xproto.Window) {
	kinds := []string{"_NET_CURRENT_DESKTOP", "_NET_NUMBER_OF_DESKTOPS", "_NET_ACTIVE_WINDOW", "_NET_WM_DESKTOP", "WM_CHANGE_STATE",
		"WM_PROTOCOLS", "_NET_SHOWING_DESKTOP", "_NET_REQUEST_FRAME_EXTENTS", "_NET_MOVERESIZE_WINDOW", "_NET_WM_MOVERESIZE", "_NET_RESTACK_WINDOW", "_NET_WM_FULLSCREEN_MONITORS"}
	if r.IntN(3) == 0 {
		r.Message(win, "_NET_WM_STATE", r.Uint32N(4), r.state(), r.state())
		return
	}
	kind := kinds[r.IntN(len(kinds))]
	values := append(r.values(5), 0, 0, 0, 0, 0)[:5]
	if kind == "_NET_NUMBER_OF_DESKTOPS" {
		values[0] %= 12
	}
	r.Message(win, kind, values...)
}

func (r *rude) act() {
	win := r.win()
	switch r.IntN(14) {
	case 0, 1:
		if len(r.wins) < 14 {
			win = r.X.Window(fmt.Sprint("rude ", r.IntN(100)), r.IntN(6000)-1500, r.IntN(4000)-1500, 1+r.IntN(2500), 1+r.IntN(1800))
			r.wins = append(r.wins, win)
			for range r.IntN(4) {
				r.property(win)
			}
		}
		xproto.MapWindow(r.Conn, win)
	case 2:
		xproto.UnmapWindow(r.Conn, win)
	case 3:
		if i := slices.Index(r.wins, win); i >= 0 && r.IntN(3) == 0 {
			xproto.DestroyWindow(r.Conn, win)
			r.wins = slices.Delete(r.wins, i, i+1)
		}
	case 4, 5:
		mask := uint16(r.Uint32N(128)) &^ xproto.ConfigWindowSibling
		values := make([]uint32, 0, 7)
		for bit := range 7 {
			if mask&(1<<bit) != 0 {
				values = append(values, []uint32{r.value(), r.value(), 1 + r.Uint32N(5000), 1 + r.Uint32N(5000), r.Uint32N(9), 0, r.Uint32N(5)}[bit])
			}
		}
		xproto.ConfigureWindow(r.Conn, win, mask, values)
	case 6:
		xproto.SetInputFocus(r.Conn, byte(r.IntN(3)), win, xproto.TimeCurrentTime)
	case 7:
		if slices.Contains(r.wins, win) {
			xproto.ChangeWindowAttributes(r.Conn, win, xproto.CwOverrideRedirect, []uint32{r.Uint32N(2)})
		}
	case 8:
		if slices.Contains(r.wins, win) {
			xproto.ReparentWindow(r.Conn, win, []xproto.Window{r.Root, r.in}[r.IntN(2)], int16(r.IntN(900)), int16(r.IntN(900)))
		}
	case 9, 10:
		r.message(win)
	default:
		if slices.Contains(r.wins, win) {
			r.property(win)
		}
	}
}

// clients are the windows that the keeper lists, by the ids it marked them with.
func (r *rude) clients() map[int]xproto.Window {
	list, err := xproto.GetProperty(r.Conn, false, r.Root, r.Atom("_NET_CLIENT_LIST"), xproto.AtomWindow, 0, 1000).Reply()
	if err != nil {
		r.t.Fatal(err)
	}
	found := map[int]xproto.Window{}
	for i := 0; i+4 <= len(list.Value); i += 4 {
		win := xproto.Window(binary.LittleEndian.Uint32(list.Value[i:]))
		mark, err := xproto.GetProperty(r.Conn, false, win, r.Atom("_ZEALOUS_ATLAS_WINDOW"), xproto.GetPropertyTypeAny, 0, 2).Reply()
		if err == nil && len(mark.Value) >= 4 {
			found[int(binary.LittleEndian.Uint32(mark.Value))] = win
		}
	}
	return found
}

// agrees tells what of the display is not as the desk says.
func (r *rude) agrees() string {
	d := r.snapshot()
	if err := d.Check(); err != nil {
		return err.Error()
	}
	clients := r.clients()
	if len(clients) != len(d.Windows) {
		return fmt.Sprintf("%d clients are listed and %d windows on the desk", len(clients), len(d.Windows))
	}
	for _, w := range d.Picture().Windows {
		win := clients[w.ID]
		if r.Viewable(win) != w.Shown {
			attr, _ := xproto.GetWindowAttributes(r.Conn, win).Reply()
			return fmt.Sprintf("#%d %x is viewable: %t, and should be: %t %+v", w.ID, win, !w.Shown, w.Shown, attr)
		}
		if said := r.differs(d, w, win); w.Shown && said != "" {
			return said
		}
	}
	return ""
}

// differs tells what of a window's place and states is not as the desk has them.
func (r *rude) differs(d *desk.Desk, w *desk.Placed, win xproto.Window) string {
	x, y, wide, high, border, ok := r.Geometry(win)
	shadow, _ := xproto.GetProperty(r.Conn, false, win, r.Atom("_GTK_FRAME_EXTENTS"), xproto.GetPropertyTypeAny, 0, 4).Reply()
	if ok && shadow != nil && len(shadow.Value) == 0 && !w.Fullscreen {
		// The server cannot place a window further out than its coordinates reach.
		got, far := geom.R(x, y, wide+2*border, high+2*border), geom.R(-16000, -16000, 32000, 32000)
		if want := w.Rect; got != want && far.Contains(want) && want.W > 2*border && want.H > 2*border {
			return fmt.Sprintf("#%d is at %v, and should be at %v", w.ID, got, want)
		}
	}
	states, err := xproto.GetProperty(r.Conn, false, win, r.Atom("_NET_WM_STATE"), xproto.AtomAtom, 0, 40).Reply()
	if err != nil || shadow == nil {
		return "it is gone"
	}
	has := func(name string) bool {
		for b := states.Value; len(b) >= 4; b = b[4:] {
			if xproto.Atom(binary.LittleEndian.Uint32(b)) == r.Atom("_NET_WM_STATE_"+name) {
				return true
			}
		}
		return false
	}
	for name, is := range map[string]bool{"FULLSCREEN": w.Fullscreen, "ABOVE": w.Above, "BELOW": w.Below, "STICKY": w.Sticky, "MAXIMIZED_HORZ": w.Maximised || w.Wide,
		"MAXIMIZED_VERT": w.Maximised || w.Tall, "DEMANDS_ATTENTION": w.Urgent, "FOCUSED": w.ID == d.Focus} {
		if has(name) != is {
			return fmt.Sprintf("#%d says of %s %t", w.ID, name, !is)
		}
	}
	return ""
}

// drain reads the events that came: the X library stands still with 5,000 unread.
func (r *rude) drain() {
	for {
		if e, err := r.Conn.PollForEvent(); e == nil && err == nil {
			return
		}
	}
}

// Whatever clients do, the keeper goes on, and shows what its desk says.
func TestRudeClients(t *testing.T) {
	t.Parallel()
	seed := testkit.Seed(t, 7)
	r := &rude{kept: keep(t), Rand: rand.New(rand.NewPCG(seed, 1))}
	r.in = r.X.Window("holder", 0, 0, 100, 100)
	commands := strings.Split("go 1|go 2|send 2|carry 1|layout next|layout tabs|float|maximise|fullscreen|minimise of all|restore of all|rescue of all|stick|group next|add|undo|redo|bare|cascade|swap next|remove", "|")
	bursts := 300
	switch {
	case testing.Short():
		bursts = 100
	case os.Getenv("SOAK") != "":
		bursts = 20_000
	}
	burst, said := 0, ""
	defer func() {
		if t.Failed() {
			t.Logf("burst %d: %s", burst, said)
		}
	}()
	for ; burst < bursts; burst++ {
		for range 10 {
			r.act()
			if r.IntN(10) == 0 {
				c := desks.Command(t, commands[r.IntN(len(commands))])
				if _, err := r.k.Do(context.Background(), c, keeper.Line); err != nil {
					t.Fatal(err) // that a command fails is all right
				}
			}
		}
		r.Conn.Sync()
		r.drain()
		r.until("the display agrees with the desk after a burst", func() bool { said = r.agrees(); return said == "" })
		if log := r.log.Take(); strings.Contains(log, "level=ERROR") {
			t.Fatalf("after burst %d the log has faults:\n%s", burst, log)
		}
		if burst%1000 == 999 {
			t.Logf("%d steps", (burst+1)*10)
		}
	}
}
