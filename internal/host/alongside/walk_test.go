package alongside_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// walker takes random steps: commands, and what a manager, programs and cables do.
type walker struct {
	*rand.Rand
	*desktop
	t    *testing.T
	next int
	b    bool // the second monitor is plugged in
	// byHand is the window that had the focus when the order was last changed by hand:
	// what then lies over it is meant to.
	byHand int
}

// TestWalk holds that, whatever is done by whom, the desk is as the display is whenever
// it is quiet, and that what has the focus is seen there.
func TestWalk(t *testing.T) {
	t.Parallel()
	steps := 1_500
	if os.Getenv("SOAK") != "" {
		steps = 20_000
	}
	for i, sw := range []manager.Switches{{DragsDialogs: true}, {ByClient: true, LeavesMapped: true}, {NoMoveResize: true, NoExtents: true, BringsStrays: true}} {
		seed := testkit.Seed(t, uint64(i))
		t.Run(fmt.Sprintf("%+v", sw), func(t *testing.T) {
			w := &walker{Rand: rand.New(rand.NewPCG(seed, 5)), desktop: newDesktop(t, sw, 3, "one", "two", "three"), t: t, b: true}
			last := []string{}
			for step := range steps / 3 {
				said := ""
				switch {
				case step%250 == 249:
					said = w.cable()
				case w.IntN(2) == 0:
					said = w.command()
				default:
					said = w.others()
				}
				if last = append(last, said); len(last) > 12 {
					last = last[1:]
				}
				if w.IntN(8) == 0 {
					after := fmt.Sprintf("seed %d step %d: %q", seed, step, last)
					w.agrees(t, after)
					w.seen(after)
				}
				if err := w.now().Check(); err != nil {
					t.Fatalf("seed %d step %d: %v after %q", seed, step, err, last)
				}
			}
			w.agrees(t, "all of it")
			w.onServer()
		})
	}
}

// onServer holds that each window that is seen is on the server where the desk says.
func (w *walker) onServer() {
	for title, p := range w.programs {
		o := w.window(title)
		at, err := xproto.TranslateCoordinates(w.eye.Conn, p.win, w.eye.Root, 0, 0).Reply()
		if o == nil || err != nil || !w.now().Visible(o) {
			continue
		}
		if got, want := (geom.Point{X: int(at.DstX), Y: int(at.DstY)}), (geom.Point{X: o.Rect.X + manager.Edge, Y: o.Rect.Y + manager.Bar}); got != want {
			w.t.Errorf("%s is at %v on the server, and at %v on the desk", title, got, want)
		}
	}
}

// seen holds that the server shows the focused window: mapped, and not more than half under
// others, except those that lie over it by somebody's wish or by a rule of the manager's.
func (w *walker) seen(after string) {
	w.t.Helper()
	fault := ""
	if !testkit.Soon(func() bool { fault = w.unseen(); return fault == "" }) {
		w.t.Fatalf("after %s: %s", after, fault)
	}
}

func (w *walker) unseen() string {
	d := w.now()
	f := d.Window(d.Focus)
	if f == nil || f.ID == w.byHand {
		return ""
	}
	w.byHand = 0
	tree, err := xproto.QueryTree(w.eye.Conn, w.eye.Root).Reply()
	if err != nil {
		return err.Error()
	}
	own := w.programs[f.Title].win
	if !w.eye.Viewable(own) {
		return f.Title + " has the focus and is not mapped"
	}
	frames := map[xproto.Window]*desk.Window{}
	for title, p := range w.programs {
		if c, ok := w.m.State(p.win); ok {
			frames[c.Frame] = w.window(title)
		}
	}
	at := slices.IndexFunc(tree.Children, func(win xproto.Window) bool { o := frames[win]; return o != nil && o.ID == f.ID })
	var over []geom.Rect
	var titles []string
	for _, win := range tree.Children[at+1:] {
		o := frames[win]
		if o == nil || !w.eye.Viewable(win) || o.Fullscreen || o.Above || f.Below {
			continue
		}
		x, y, wide, high, border, _ := w.eye.Geometry(win)
		over = append(over, geom.R(x, y, wide+2*border, high+2*border))
		titles = append(titles, o.Title)
	}
	if hidden := geom.Covered(f.Rect, over); 2*hidden > f.Rect.Area() {
		return fmt.Sprintf("%s has the focus at %v, and %d of its %d pixels are under %q", f.Title, f.Rect, hidden, f.Rect.Area(), titles)
	}
	return ""
}

func (w *walker) pick(words ...string) string { return words[w.IntN(len(words))] }

// title is that of some window; empty where there is none.
func (w *walker) title() string {
	var titles []string
	for title := range w.programs {
		titles = append(titles, title)
	}
	if len(titles) == 0 {
		return ""
	}
	slices.Sort(titles)
	return w.pick(titles...)
}

// command does a random one; what cannot be done is told and nothing else.
func (w *walker) command() string {
	of := ""
	if title := w.title(); title != "" {
		of = " of title:" + title
	}
	line := w.pick(
		"go 1", "go 2", "go 3", "go next", "go back", "send 1"+of, "send 2"+of, "send 3"+of, "send B"+of, "send A"+of, "carry 2"+of, "carry next"+of,
		"focus next", "focus left", "focus back", "maximise"+of, "maximise across"+of, "fullscreen"+of, "minimise"+of, "restore"+of, "restore of all",
		"stick"+of, "above on"+of, "above off"+of, "raise"+of, "lower"+of, "snap left"+of, "snap 3x2 2 6"+of, "nudge right 40"+of, "nudge down edge"+of, "resize right 30"+of,
		"layout columns", "layout rows", "layout lead", "layout tree", "swap next"+of, "even"+of, "share +5"+of, "cascade"+of, "rescue of is:stray", "vacate B", "back home",
		"add", "add Foyer at 1", "remove 3", "remove 1", "rename 2 Press", "reorder 1 to 2", "reorder last to 1", "undo", "undo", "redo", "undo 3", "bare",
	)
	if len(w.now().Workspaces) > 5 {
		line = "remove last"
	}
	_, err := w.do(w.t, line)
	switch verb, _, _ := strings.Cut(line, " "); verb {
	case "raise", "lower", "undo", "redo":
		w.byHand = w.now().Focus
	}
	return fmt.Sprintf("%s: %v", line, err)
}

// others does something that a manager does, or a program.
func (w *walker) others() string {
	title := w.title()
	p := w.programs[title]
	switch n := w.IntN(12); {
	case n == 0 && len(w.programs) < 9 || title == "":
		w.next++
		title = fmt.Sprint("new", w.next)
		w.open(w.t, title)
		return "opened " + title
	case n == 1 && len(w.programs) > 3:
		p.Conn.Close()
		delete(w.programs, title)
		return "closed " + title
	case n < 5:
		r := geom.R(w.IntN(3600)-100, w.IntN(1000)-50, 120+w.IntN(900), 100+w.IntN(700))
		w.m.Place(p.win, r)
		return fmt.Sprintf("the manager placed %s at %v", title, r)
	case n == 5:
		w.m.Names(w.pick("Programme", "Press"), w.pick("", "Foyer", "Late"))
		return "named"
	case n == 6:
		w.m.Ask(p.win, "WM_CHANGE_STATE", 3)
		return "the manager minimised " + title
	case n == 7:
		w.m.Ask(p.win, "_NET_WM_DESKTOP", uint32(w.IntN(3)), 2)
		return "the manager sent " + title
	case n == 8:
		w.m.Ask(w.eye.Root, "_NET_CURRENT_DESKTOP", uint32(w.IntN(3)))
		return "the manager switched"
	}
	w.m.Ask(p.win, "_NET_ACTIVE_WINDOW", 2)
	return "the manager gave the focus to " + title
}

// cable plugs the second monitor in, or pulls it.
func (w *walker) cable() string {
	if w.b = !w.b; w.b {
		w.Plug(w.t, "DUMMY1", 1920, 0)
		return "plugged in"
	}
	w.Unplug(w.t, "DUMMY1")
	return "pulled"
}
