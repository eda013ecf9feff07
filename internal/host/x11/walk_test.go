package x11_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"testing"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// seer walks at random over commands and what programs and cables do, on a display, and
// asks the server each time whether the window that has the focus is seen.
type seer struct {
	*rand.Rand
	*kept
	programs map[string]*testkit.X // by the titles of their windows
	wins     map[string]xproto.Window
	next     int
	b        bool // the second monitor is plugged in
}

// TestFocusIsSeen holds that whatever is done, what has the focus is mapped and not hidden
// by other windows, on the server too.
func TestFocusIsSeen(t *testing.T) {
	t.Parallel()
	steps := 700
	if testing.Short() {
		steps = 250
	}
	if os.Getenv("SOAK") != "" {
		steps = 40_000
	}
	for mode, set := range map[string]desk.Settings{"spanning": {}, "separate": {Separate: true}} {
		t.Run(mode, func(t *testing.T) { walkSeen(t, steps/2, set) })
	}
}

func walkSeen(t *testing.T, steps int, set desk.Settings) {
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	w := &seer{Rand: rand.New(rand.NewPCG(testkit.Seed(t, 1), 3)), kept: keepOn(t, s, x11.Options{Settings: set, Line: paint.LineOptions{Edge: "bottom", Theme: draw.Night}}), programs: map[string]*testkit.X{}, wins: map[string]xproto.Window{}, b: true}
	for range 4 {
		w.opens()
	}
	var last []string
	for step := range steps {
		said := ""
		switch n := w.IntN(20); {
		case step%150 == 149:
			said = w.cable()
		case n == 0 && len(w.wins) < 14:
			said = w.opens()
		case n == 1 && len(w.wins) > 3:
			said = w.closes()
		case n < 5:
			said = w.asks()
		default:
			said = w.commands()
		}
		if last = append(last, said); len(last) > 10 {
			last = last[1:]
		}
		w.lines(t)
		w.stand(fmt.Sprintf("seed step %d: %q", step, last))
	}
}

// lines holds that every monitor has its line, at the bottom of what is for windows, and that
// no tile is over it.
func (w *seer) lines(t *testing.T) {
	t.Helper()
	d := w.snapshot()
	for _, m := range d.Monitors {
		if m.Connected && m.Work != geom.R(m.Rect.X, m.Rect.Y, m.Rect.W, m.Rect.H-paint.LineHeight(14)) {
			t.Fatalf("monitor %c has %v for windows", m.Letter, m.Work)
		}
	}
	for _, o := range d.Windows {
		if d.Tiled(o) && d.Visible(o) && !o.Fullscreen && !d.Monitor(o.Monitor).Work.Contains(o.Rect) {
			t.Fatalf("#%d at %v is over the line of %c", o.ID, o.Rect, o.Monitor)
		}
	}
}

func (w *seer) pick(words ...string) string { return words[w.IntN(len(words))] }

func (w *seer) title() string {
	titles := make([]string, 0, len(w.wins))
	for title := range w.wins {
		titles = append(titles, title)
	}
	slices.Sort(titles)
	return titles[w.IntN(len(titles))]
}

// opens opens a window or a dialog, by a program of its own.
func (w *seer) opens() string {
	w.next++
	title := fmt.Sprint("window", w.next)
	x := w.NewX(w.t)
	win := x.Window(title, w.IntN(1500), w.IntN(700), 150+w.IntN(700), 100+w.IntN(500))
	if len(w.wins) > 0 && w.IntN(3) == 0 {
		parent := w.title()
		x.Cards(win, "WM_TRANSIENT_FOR", xproto.AtomWindow, uint32(w.wins[parent]))
	}
	x.Map(win)
	w.programs[title], w.wins[title] = x, win
	w.until(title+" is on the desk", func() bool { return w.find(title) != nil })
	return "opened " + title
}

func (w *seer) closes() string {
	title := w.title()
	w.programs[title].Conn.Close()
	delete(w.programs, title)
	delete(w.wins, title)
	w.until(title+" is off the desk", func() bool { return w.find(title) == nil })
	return "closed " + title
}

func (w *seer) cable() string {
	if w.b = !w.b; w.b {
		w.Plug(w.t, "DUMMY1", 1920, 0)
	} else {
		w.Unplug(w.t, "DUMMY1")
	}
	w.until("the desk knows of the cable", func() bool { return w.snapshot().Monitor('B').Connected == w.b })
	return fmt.Sprint("cable ", w.b)
}

// asks is what a program or a pager asks for.
func (w *seer) asks() string {
	title := w.title()
	win, x := w.wins[title], w.programs[title]
	atom := func(name string) uint32 { return uint32(x.Atom(name)) }
	switch w.IntN(4) {
	case 0:
		x.Message(win, "_NET_ACTIVE_WINDOW", 2)
		return "a pager goes to " + title
	case 1:
		x.Message(win, "_NET_WM_STATE", 2, atom("_NET_WM_STATE_FULLSCREEN"), 0, 1)
		return title + " asks for fullscreen, or not any more"
	case 2:
		x.Message(win, "_NET_WM_STATE", 2, atom("_NET_WM_STATE_MAXIMIZED_HORZ"), atom("_NET_WM_STATE_MAXIMIZED_VERT"), 1)
		return title + " asks to be maximised, or not any more"
	}
	xproto.ConfigureWindow(x.Conn, win, xproto.ConfigWindowStackMode, []uint32{xproto.StackModeAbove})
	x.Conn.Sync()
	return title + " raises itself"
}

// commands does a random one; what cannot be done changes nothing.
func (w *seer) commands() string {
	of := " of title:=\"" + w.title() + "\""
	line := w.pick(
		"maximise"+of, "maximise"+of, "fullscreen"+of, "maximise", "fullscreen", "focus next", "focus prev", "focus back", "focus left", "focus right", "focus up", "focus down",
		"float"+of, "float"+of, "stick"+of, "above on"+of, "above off"+of, "below on"+of, "raise"+of, "lower"+of, "minimise"+of, "restore"+of,
		"go 1", "go 2", "go back", "send 1"+of, "send 2"+of, "send B"+of, "send A"+of, "carry 2"+of, "carry B"+of, "layout pile", "layout tabs", "layout columns", "layout lead", "layout tree", "layout free",
		"snap left"+of, "snap 2x2 1 4"+of, "swap next"+of, "group next"+of, "rescue of is:stray", "cascade", "vacate B", "bare", "undo", "undo", "redo", "add", "remove last",
	)
	c := desks.Command(w.t, line)
	o, err := w.k.Do(w.t.Context(), c, keeper.Line)
	if err != nil {
		w.t.Fatal(err)
	}
	return fmt.Sprintf("%s: %v", line, o.Err)
}

// stand waits until the server shows the desk as it should be seen.
func (w *seer) stand(after string) {
	w.t.Helper()
	fault := ""
	if !testkit.Soon(func() bool { fault = w.unseen(); return fault == "" }) {
		w.t.Fatalf("%s: %s", after, fault)
	}
}

// unseen tells how the server shows the window with the focus otherwise than it should;
// empty where it does not.
func (w *seer) unseen() string {
	d := w.snapshot()
	if err := d.Check(); err != nil {
		return err.Error()
	}
	if d.Focus == 0 {
		return ""
	}
	tree, err := xproto.QueryTree(w.Conn, w.Root).Reply()
	if err != nil {
		return err.Error()
	}
	titles := map[xproto.Window]string{}
	for title, win := range w.wins {
		titles[win] = title
	}
	focus := w.Focus()
	f := d.Window(d.Focus)
	if titles[focus] != f.Title {
		return fmt.Sprintf("%s has the focus on the desk, and %q on the server", f.Title, titles[focus])
	}
	at := slices.Index(tree.Children, focus)
	var own geom.Rect
	var all, tiles []geom.Rect
	var over []string
	for _, win := range tree.Children[max(at, 0):] {
		i := slices.IndexFunc(d.Windows, func(o *desk.Window) bool { return o.Title == titles[win] })
		if i < 0 {
			continue
		}
		o := d.Windows[i]
		x, y, wide, high, border, _ := w.Geometry(win)
		viewable := w.Viewable(win)
		r := geom.R(x, y, wide+2*border, high+2*border)
		switch {
		case win == focus && !viewable:
			return f.Title + " has the focus and is not mapped"
		case win == focus:
			own = r
		case viewable && !dialogOf(d, o, f.ID) && !wished(d, o, f):
			all = append(all, r)
			over = append(over, fmt.Sprintf("%s at %v, %v, parent %d, used %d, front %d", o.Title, r, d.States(o), o.Parent, o.Used, o.Front))
			if d.Tiled(o) || d.Covers(o) {
				tiles = append(tiles, r)
			}
		}
	}
	if own != f.Rect {
		return fmt.Sprintf("%s is at %v on the server, and at %v on the desk", f.Title, own, f.Rect)
	}
	hidden, byTiles := geom.Covered(own, all), geom.Covered(own, tiles)
	if 2*byTiles > own.Area() || hidden >= own.Area() || !d.Tiled(f) && 2*hidden > own.Area() {
		return fmt.Sprintf("%s has the focus at %v, and %d of its %d pixels are hidden on the server; #%d %v, parent %d, used %d, front %d, is under %q; on the desk %v, on the server %v", f.Title, own, hidden, own.Area(), f.ID, d.States(f), f.Parent, f.Used, f.Front, over, w.deskOrder(d), w.serverOrder(tree.Children))
	}
	return ""
}

// deskOrder is the stacking order as the desk has it, and serverOrder as the server does,
// the lowest first; what is not to be seen in brackets.
func (w *seer) deskOrder(d *desk.Desk) (titles []string) {
	for _, p := range d.Picture().Windows {
		title := d.Window(p.ID).Title
		if !p.Shown {
			title = "(" + title + ")"
		}
		titles = append(titles, title)
	}
	return titles
}

func (w *seer) serverOrder(wins []xproto.Window) (titles []string) {
	for _, win := range wins {
		for title, own := range w.wins {
			if own != win {
				continue
			}
			if !w.Viewable(win) {
				title = "(" + title + ")"
			}
			titles = append(titles, title)
		}
	}
	return titles
}

// wished tells whether a floating window lies over the focused one by somebody's wish: it is
// kept above or was raised since, or the focused one is kept below or was lowered.
func wished(d *desk.Desk, o, f *desk.Window) bool {
	if d.Tiled(o) || d.Covers(o) {
		return false
	}
	return max(o.Used, o.Front) > max(f.Used, f.Front) || !d.Tiled(f) && (o.Above || f.Below || f.Front < 0 && -f.Front >= f.Used)
}

// dialogOf tells whether a window is a dialog of another, or of one of its dialogs.
func dialogOf(d *desk.Desk, w *desk.Window, id int) bool {
	for range 32 {
		if w == nil || w.Parent == 0 {
			return false
		}
		if w.Parent == id {
			return true
		}
		w = d.Window(w.Parent)
	}
	return false
}
