// Package bench measures what must be fast, each as a ratio to a floor that is
// measured in the same run: the least that any program would need for it.
package bench

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"log/slog"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/sim"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
	"zatlas/internal/remote"
	"zatlas/internal/store"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui"
	"zatlas/internal/tui/cells"
	"zatlas/internal/tui/terminal"
)

// No goroutine outlives the tests.
func TestMain(m *testing.M) { testkit.Main(m) }

func median(ds []time.Duration) time.Duration {
	slices.Sort(ds)
	return ds[len(ds)/2]
}

// report prints the medians of measures and of their floors, the ratio of these, and what one
// in a hundred of the measures takes longer than.
func report(b *testing.B, measures, floors []time.Duration) {
	measure, floor := median(measures), median(floors) // both are in order now
	b.ReportMetric(float64(measure.Nanoseconds()), "ns")
	b.ReportMetric(float64(measures[len(measures)*99/100].Nanoseconds()), "p99-ns")
	b.ReportMetric(float64(floor.Nanoseconds()), "floor-ns")
	b.ReportMetric(float64(measure)/float64(floor), "ratio")
	b.ReportMetric(0, "ns/op") // that of one run of many says nothing
}

// deskOf makes a desk of n windows on four workspaces of two monitors.
func deskOf(b *testing.B, n int) *desk.Desk {
	b.Helper()
	d, err := desk.New([]desk.Monitor{
		{Key: "a", Letter: 'A', Rect: geom.R(0, 0, 1920, 1200), Work: geom.R(0, 0, 1920, 1168), Primary: true, Connected: true},
		{Key: "b", Letter: 'B', Rect: geom.R(1920, 0, 3440, 1440), Work: geom.R(1920, 0, 3440, 1440), Connected: true},
	}, desk.Settings{})
	if err != nil {
		b.Fatal(err)
	}
	for range 3 {
		d, _, _ = d.Apply(desks.Command(b, "add"))
	}
	var facts []desk.Fact
	for i := range n {
		facts = append(facts, desk.Opened{Window: desk.Window{
			ID: i + 1, App: fmt.Sprint("App ", i%40), Title: fmt.Sprint("title ", i),
			Workspace: d.Workspaces[i%4].ID, Monitor: byte('A' + i/4%2), Floating: i%5 == 0,
			Rect: geom.R(i%1500, i%900, 300, 200),
		}, Focus: i == 0})
	}
	d, _, _ = d.Apply(desks.Command(b, "layout columns"))
	d, _ = d.With(facts...)
	return d
}

// wideDesk is a desk of n windows on 50 workspaces of four monitors.
func wideDesk(b *testing.B, n int) *desk.Desk {
	b.Helper()
	var ms []desk.Monitor
	for i := range 4 {
		r := geom.R(1920*i, 0, 1920, 1200)
		ms = append(ms, desk.Monitor{Key: fmt.Sprint(i), Letter: byte('A' + i), Rect: r, Work: r, Connected: true})
	}
	d, err := desk.New(ms, desk.Settings{})
	if err != nil {
		b.Fatal(err)
	}
	for range 49 {
		d, _, _ = d.Apply(desks.Command(b, "add"))
	}
	var facts []desk.Fact
	for i := range n {
		facts = append(facts, desk.Opened{Window: desk.Window{
			ID: i + 1, App: fmt.Sprint("App ", i%40), Title: fmt.Sprint("title ", i), Workspace: d.Workspaces[i%50].ID, Monitor: byte('A' + i/50%4), Floating: i%5 == 0,
			Rect: geom.R(i%1500, i%900, 300, 200),
		}})
	}
	d, _ = d.With(facts...)
	return d
}

// BenchmarkCommandWide: one command in the core among 10,000 windows on 200 sheets; the
// floor is to copy the list of windows once, since a desk is never written again.
func BenchmarkCommandWide(b *testing.B) {
	d, _, err := wideDesk(b, 10_000).Apply(desks.Command(b, "send 3 of #9")) // a step to go on from
	if err != nil {
		b.Fatal(err)
	}
	for _, line := range []string{"go 7", "send 2 of #5", "focus right", "float of #6"} {
		b.Run(line, func(b *testing.B) {
			c := desks.Command(b, line)
			var measures, floors []time.Duration
			for range 300 {
				start := time.Now()
				if _, _, err := d.Apply(c); err != nil {
					b.Fatal(err)
				}
				measures = append(measures, time.Since(start))
				start = time.Now()
				if len(slices.Clone(d.Windows)) == 0 {
					b.Fatal("no windows")
				}
				floors = append(floors, time.Since(start))
			}
			report(b, measures, floors)
		})
	}
}

// BenchmarkCommand: one command in the core; the floor is laying out the two
// sheets that it changes.
func BenchmarkCommand(b *testing.B) {
	for _, n := range []int{10, 100, 1000, 10_000} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			d := deskOf(b, n)
			send := desks.Command(b, "send 2 of #5")
			ids := make([]int, n/8+1)
			tiles := layout.Of(layout.Columns, ids, 0, 1)
			var measures, floors []time.Duration
			for range 200 {
				start := time.Now()
				if _, _, err := d.Apply(send); err != nil {
					b.Fatal(err)
				}
				measures = append(measures, time.Since(start))
				start = time.Now()
				for range 2 {
					layout.Place(tiles, geom.R(0, 0, 1920, 1168), layout.Spacing{}, func(int, geom.Rect) {})
				}
				floors = append(floors, time.Since(start))
			}
			report(b, measures, floors)
		})
	}
}

// BenchmarkLayout: the places of all tiles of a sheet, nested and in a row; the
// floor is a bare loop that works out as many rectangles.
func BenchmarkLayout(b *testing.B) {
	for _, n := range []int{1, 10, 100, 1000, 10_000} {
		var nested *layout.Node
		ids := make([]int, n)
		for i := range n {
			ids[i] = i + 1
			nested = layout.InsertAt(nested, max(i/2, 1), i+1, func() layout.Split { return []layout.Split{layout.Across, layout.Down}[i%2] })
		}
		for _, kind := range []struct {
			name  string
			tiles *layout.Node
		}{{"tree", nested}, {"rows", layout.Of(layout.Rows, ids, 0, 1)}, {"tabs", layout.Of(layout.Tabbed, ids, 0, 1)}} {
			b.Run(fmt.Sprint(n, " windows, ", kind.name), func(b *testing.B) {
				room := geom.R(0, 0, 3440, 1440)
				places := make([]geom.Rect, n+1)
				put := func(id int, r geom.Rect) { places[id] = r }
				var measures, floors []time.Duration
				for range 101 {
					start := time.Now()
					for range max(1000/n, 1) { // long enough for the clock
						layout.Place(kind.tiles, room, layout.Spacing{Gap: 4}, put)
					}
					measures = append(measures, time.Since(start))
					start = time.Now()
					for range max(1000/n, 1) {
						for i := range n {
							put(i+1, geom.R(i*room.W/n, 0, room.W/n, room.H))
						}
					}
					floors = append(floors, time.Since(start))
				}
				report(b, measures, floors)
			})
		}
	}
}

// bareManager is the least that a manager in this language and on this library can be: at
// the request of a window to be mapped it asks for its changes, reads where it is and
// those properties that it has of the ones a manager must know, gives it a place and a
// border, writes its state, and maps it. (To ask for all twenty in one go, whether they
// are there or not, takes longer.)
func bareManager(b *testing.B, s *testkit.Server) (stop func()) {
	b.Helper()
	x := s.NewX(b)
	err := xproto.ChangeWindowAttributesChecked(x.Conn, x.Root, xproto.CwEventMask, []uint32{xproto.EventMaskSubstructureRedirect | xproto.EventMaskSubstructureNotify}).Check()
	if err != nil {
		b.Fatal(err)
	}
	var read []xproto.Atom
	for _, name := range []string{
		"WM_NAME", "WM_CLASS", "WM_NORMAL_HINTS", "WM_HINTS", "WM_TRANSIENT_FOR", "WM_PROTOCOLS", "WM_WINDOW_ROLE", "WM_COLORMAP_WINDOWS", "_MOTIF_WM_HINTS",
		"_NET_WM_NAME", "_NET_WM_WINDOW_TYPE", "_NET_WM_STATE", "_NET_WM_PID", "_NET_WM_DESKTOP", "_NET_WM_USER_TIME", "_NET_WM_USER_TIME_WINDOW",
		"_NET_STARTUP_ID", "_NET_WM_STRUT_PARTIAL", "_NET_WM_STRUT", "_GTK_FRAME_EXTENTS",
	} {
		read = append(read, x.Atom(name))
	}
	state, netState, desktop, extents := x.Atom("WM_STATE"), x.Atom("_NET_WM_STATE"), x.Atom("_NET_WM_DESKTOP"), x.Atom("_NET_FRAME_EXTENTS")
	return x.Follow(func(e xgb.Event) {
		m, ok := e.(xproto.MapRequestEvent)
		if !ok {
			return
		}
		win := m.Window
		xproto.ChangeWindowAttributes(x.Conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange | xproto.EventMaskStructureNotify | xproto.EventMaskFocusChange})
		attr, geo, list := xproto.GetWindowAttributes(x.Conn, win), xproto.GetGeometry(x.Conn, xproto.Drawable(win)), xproto.ListProperties(x.Conn, win)
		attr.Reply()
		geo.Reply()
		there, err := list.Reply()
		if err != nil {
			return
		}
		var props []xproto.GetPropertyCookie
		for _, a := range read {
			if slices.Contains(there.Atoms, a) {
				props = append(props, xproto.GetProperty(x.Conn, false, win, a, xproto.GetPropertyTypeAny, 0, 1024))
			}
		}
		for _, p := range props {
			p.Reply()
		}
		xproto.ChangeSaveSet(x.Conn, xproto.SetModeInsert, win)
		set(x, win, extents, xproto.AtomCardinal, 2, 2, 2, 2)
		xproto.ConfigureWindow(x.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowBorderWidth|xproto.ConfigWindowStackMode,
			[]uint32{0, 0, 1916, 1076, 2, xproto.StackModeAbove})
		set(x, win, state, xproto.AtomCardinal, 1, 0)
		set(x, win, netState, xproto.AtomCardinal)
		set(x, win, desktop, xproto.AtomCardinal, 0)
		xproto.MapWindow(x.Conn, win)
	})
}

// BenchmarkOpen: from a window's request to be mapped, on a real X server, until
// it is placed and seen. The floor is a bare manager, written for this, that reads
// the same and maps. Beside it lie other windows, which its tile makes smaller.
func BenchmarkOpen(b *testing.B) {
	for _, others := range []int{0, 1, 5, 20} {
		b.Run(fmt.Sprint("beside ", others), func(b *testing.B) {
			s, bare := testkit.NewServer(b), testkit.NewServer(b)
			defer bareManager(b, bare)()
			k, ctx, end := keeping(b, x11.Options{Display: s.Display})
			defer end()
			ours, floor := opener(b, s), opener(b, bare)
			for i := range others {
				win := ours.x.Window(fmt.Sprint("there ", i), 0, 0, 200, 150)
				ours.x.Map(win)
				ours.w.wait(b, 1, map[xproto.Window]bool{win: true})
			}
			var measures, floors []time.Duration
			for range 100 {
				floors = append(floors, floor.once(b))
				measures = append(measures, ours.once(b))
				// What the keeper still had to do about the one that went.
				if _, err := k.Do(ctx, desks.Command(b, "reload"), keeper.Line); err != nil {
					b.Fatal(err)
				}
			}
			report(b, measures, floors)
		})
	}
}

// opens opens windows on a display, one after the other.
type opens struct {
	w *watcher
	x *testkit.X
}

func opener(b *testing.B, s *testkit.Server) *opens { return &opens{watch(b, s), s.NewX(b)} }

// once is the time from the request of a window to be mapped until it is.
func (o *opens) once(b *testing.B) time.Duration {
	win := o.x.Window("opens", 0, 0, 400, 300)
	ours := map[xproto.Window]bool{win: true}
	o.x.Conn.Sync()
	start := time.Now()
	xproto.MapWindow(o.x.Conn, win)
	o.w.wait(b, 1, ours)
	took := time.Since(start)
	xproto.DestroyWindow(o.x.Conn, win)
	o.w.wait(b, 1, ours) // unmapped by it
	o.x.Conn.Sync()
	return took
}

// screen takes what a program writes, and tells when.
type screen struct {
	mu   sync.Mutex
	last time.Time
	wake chan struct{}
}

func (s *screen) Write(p []byte) (int, error) {
	s.mu.Lock()
	s.last = time.Now()
	s.mu.Unlock()
	select {
	case s.wake <- struct{}{}:
	default:
	}
	return len(p), nil
}

// quiet waits until the program has written nothing for a while.
func (s *screen) quiet() {
	for {
		select {
		case <-s.wake:
		case <-time.After(60 * time.Millisecond):
			return
		}
	}
}

// terminalOf is a terminal of 160×40 cells.
func terminalOf(in io.Reader, out io.Writer) *terminal.Terminal {
	return &terminal.Terminal{In: in, Out: out, W: 160, H: 40, Env: []string{"TERM=xterm-256color", "COLORTERM=truecolor"}}
}

// echoOn runs a program of the library's that only shows the last key.
func echoOn(ctx context.Context, t *terminal.Terminal) {
	tea.NewProgram(echo{}, tea.WithContext(ctx), tea.WithInput(t.In), tea.WithOutput(t.Out), tea.WithWindowSize(t.W, t.H), tea.WithEnvironment(t.Env), tea.WithoutSignals()).Run()
}

// onScreen runs a program on a screen of its own, until its first frame is there.
func onScreen(run func(t *terminal.Terminal)) (*screen, *io.PipeWriter) {
	in, keys := io.Pipe()
	out := &screen{wake: make(chan struct{}, 1)}
	go run(terminalOf(in, out))
	<-out.wake
	out.quiet()
	return out, keys
}

// keyToFrame presses the first keys, then two others in turn, and gives the times until the
// program writes.
func keyToFrame(b *testing.B, first, two string, run func(t *terminal.Terminal)) (took []time.Duration) {
	b.Helper()
	out, keys := onScreen(run)
	if _, err := keys.Write([]byte(first)); err != nil {
		b.Fatal(err)
	}
	out.quiet()
	for i := range 120 {
		time.Sleep(time.Duration(i%16) * time.Millisecond) // at any moment between two frames
		start := time.Now()
		if _, err := keys.Write([]byte{two[i%2]}); err != nil {
			b.Fatal(err)
		}
		<-out.wake
		took = append(took, time.Since(start))
		for more := true; more; { // the rest of that frame
			select {
			case <-out.wake:
			case <-time.After(25 * time.Millisecond):
				more = false
			}
		}
	}
	keys.Close()
	return took
}

// echo only shows the last key.
type echo struct{ key string }

func (e echo) Init() tea.Cmd { return nil }
func (e echo) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	if k, ok := msg.(tea.KeyPressMsg); ok {
		e.key = k.String()
	}
	return e, nil
}
func (e echo) View() tea.View {
	v := tea.NewView("key: " + e.key)
	v.AltScreen = true
	return v
}

// BenchmarkKeyToFrame: from a key that moves the selection to the frame on the terminal; the
// floor is a program that only echoes the key, by the library's renderer, which waits for its
// ticker: 8 ms in the median.
func BenchmarkKeyToFrame(b *testing.B) {
	for _, n := range []int{20, 500} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) { benchKeys(b, n, "", "lh") })
	}
}

// BenchmarkSearch: a letter typed into the search, and taken away, with 1,000
// windows, until the frame; the floor is a program that only echoes it, by the library's
// renderer.
func BenchmarkSearch(b *testing.B) { benchKeys(b, 1000, "/", "r\x7f") }

// benchKeys reports what keys take to the frame with so many windows, after another key.
func benchKeys(b *testing.B, windows int, first, keys string) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	floor := keyToFrame(b, "", keys, func(t *terminal.Terminal) {
		echoOn(ctx, t)
	})
	k := keeper.New(deskOf(b, windows), sim.New(), keeper.Options{})
	go k.Run(ctx)
	measure := keyToFrame(b, first, keys, func(t *terminal.Terminal) {
		tui.Run(ctx, k, tui.Options{Name: "bench", Theme: cells.Night, On: t})
	})
	report(b, measure, floor)
}

// BenchmarkRow: from a window's change of its title, on a real X server with 100
// windows, until its row on the gazetteer is written anew. The floor is a client
// that is told of the change and reads the title.
func BenchmarkRow(b *testing.B) {
	s := testkit.NewServer(b)
	x, other := s.NewX(b), s.NewX(b)
	k, ctx, end := keeping(b, x11.Options{Display: s.Display})
	defer end()
	w := watch(b, s)
	var win xproto.Window
	for i := range 100 {
		win = x.Window(fmt.Sprint("row ", i), 0, 0, 200, 150)
		x.Map(win)
		w.wait(b, 1, map[xproto.Window]bool{win: true})
	}
	out, keys := onScreen(func(t *terminal.Terminal) {
		tui.Run(ctx, k, tui.Options{Name: "bench", Theme: cells.Night, On: t})
	})
	if _, err := io.WriteString(keys, ";g"); err != nil {
		b.Fatal(err)
	}
	out.quiet()
	xproto.ChangeWindowAttributes(other.Conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
	other.Conn.Sync()
	var measures, floors []time.Duration
	for i := range 60 {
		title := fmt.Sprint("retitled ", i)
		start := time.Now()
		xproto.ChangeProperty(x.Conn, xproto.PropModeReplace, win, x.Atom("_NET_WM_NAME"), x.Atom("UTF8_STRING"), 8, uint32(len(title)), []byte(title))
		if _, err := other.Conn.WaitForEvent(); err != nil {
			b.Fatal(err)
		}
		if _, err := xproto.GetProperty(other.Conn, false, win, x.Atom("_NET_WM_NAME"), xproto.GetPropertyTypeAny, 0, 100).Reply(); err != nil {
			b.Fatal(err)
		}
		floors = append(floors, time.Since(start))
		select {
		case <-out.wake:
			measures = append(measures, time.Since(start))
		case <-time.After(testkit.Deadline):
			b.Fatal("the row was never written")
		}
		out.quiet()
		time.Sleep(100 * time.Millisecond) // names are read ten times a second
	}
	report(b, measures, floors)
}

// BenchmarkQuery: a query over 10,000 windows; the floor is to look at the
// state it asks for in each.
func BenchmarkQuery(b *testing.B) {
	d := deskOf(b, 10_000)
	q, err := lang.ParseQuery("app:led not is:minimised or title:=none")
	if err != nil {
		b.Fatal(err)
	}
	var measures, floors []time.Duration
	for range 50 {
		start := time.Now()
		d.Select(q)
		measures = append(measures, time.Since(start))
		start = time.Now()
		n := 0
		for _, w := range d.Windows {
			if strings.Contains(strings.ToLower(w.App), "led") && !w.Minimised || strings.EqualFold(w.Title, "none") {
				n++
			}
		}
		floors = append(floors, time.Since(start))
	}
	report(b, measures, floors)
}

// watcher counts what happens to windows on a display.
type watcher struct {
	x      *testkit.X
	mapped chan xproto.Window
}

func watch(b *testing.B, s *testkit.Server) *watcher {
	x := s.NewX(b)
	xproto.ChangeWindowAttributes(x.Conn, x.Root, xproto.CwEventMask, []uint32{xproto.EventMaskSubstructureNotify})
	w := &watcher{x, make(chan xproto.Window, 10_000)}
	x.Follow(func(e xgb.Event) {
		switch e := e.(type) {
		case xproto.MapNotifyEvent:
			w.mapped <- e.Window
		case xproto.UnmapNotifyEvent:
			w.mapped <- e.Window
		}
	})
	return w
}

// wait waits for so many changes of the given windows.
func (w *watcher) wait(b *testing.B, n int, ours map[xproto.Window]bool) {
	b.Helper()
	limit := time.After(testkit.Deadline)
	for n > 0 {
		select {
		case win := <-w.mapped:
			if ours[win] {
				n--
			}
		case <-limit:
			b.Fatalf("%d windows were never mapped or unmapped", n)
		}
	}
}

// BenchmarkSave: keeping the arrangement of 200 windows and a line of the
// logbook; the floor is a bare insert of one row in the same kind of file.
func BenchmarkSave(b *testing.B) {
	d := deskOf(b, 200)
	save(b, func(int) store.Batch { return store.Batch{Desk: d} })
}

// BenchmarkSaveStep: the same of 20 windows, with a new step of undo each time.
func BenchmarkSaveStep(b *testing.B) {
	d := deskOf(b, 20)
	save(b, func(i int) store.Batch {
		var err error
		if d, _, err = d.Apply(desks.Command(b, fmt.Sprintf("send %d of #1", 1+(i+1)%2))); err != nil {
			b.Fatal(err)
		}
		return store.Batch{Desk: d, Server: 7}
	})
}

// save reports what it takes to save batches.
func save(b *testing.B, batch func(i int) store.Batch) {
	s, err := store.Open(filepath.Join(b.TempDir(), "state.db"))
	if err != nil {
		b.Fatal(err)
	}
	defer s.Close()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "floor.db")+"?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	if _, err := db.Exec("CREATE TABLE floor (x INTEGER)"); err != nil {
		b.Fatal(err)
	}
	var measures, floors []time.Duration
	for i := range 200 {
		w := batch(i)
		start := time.Now()
		w.Entries = []store.Entry{{At: start, Source: "chord", Words: "Sent it to 2."}}
		if _, err := s.Save(":0", w); err != nil {
			b.Fatal(err)
		}
		measures = append(measures, time.Since(start))
		start = time.Now()
		if _, err := db.Exec("INSERT INTO floor VALUES (1)"); err != nil {
			b.Fatal(err)
		}
		floors = append(floors, time.Since(start))
	}
	report(b, measures, floors)
}

// BenchmarkUndo: taking back steps on a desk of 200 windows, one after the other, each laid on
// the desk there is now; the floor is to copy its windows once.
func BenchmarkUndo(b *testing.B) {
	d := deskOf(b, 200)
	for i := range 1000 {
		next, _, err := d.Apply(desks.Command(b, fmt.Sprintf("send %d of #5", i%3+2)))
		if err != nil {
			b.Fatal(i, err)
		}
		d = next
	}
	undo := desks.Command(b, "undo")
	var measures, floors []time.Duration
	for d.Undo() != "" {
		start := time.Now()
		next, _, err := d.Apply(undo)
		if err != nil {
			b.Fatal(err)
		}
		measures = append(measures, time.Since(start))
		start = time.Now()
		copies := make([]desk.Window, len(d.Windows))
		for i, w := range d.Windows {
			copies[i] = *w
		}
		floors = append(floors, time.Since(start))
		d = next
	}
	report(b, measures, floors)
}

// BenchmarkRestart: from the start of a keeper on a display with 200 windows that one before it
// managed, to its first answer, with a store and without; the floor is to start a program that
// does nothing, and a bare client that reads the same of the windows.
func BenchmarkRestart(b *testing.B) {
	s := testkit.NewServer(b)
	for _, v := range s.Env {
		name, value, _ := strings.Cut(v, "=")
		b.Setenv(name, value)
	}
	x := s.NewX(b)
	for i := range 200 {
		x.Map(x.Window(fmt.Sprint("window ", i), 10*i, 0, 300, 200))
	}
	binary := testkit.Binary(b)
	restart := func(state string) time.Duration {
		start := time.Now()
		cmd := testkit.Start(b, append(slices.Clone(s.Env), "XDG_STATE_HOME="+state), binary, "keep")
		var d *desk.Desk
		testkit.Until(b, "the keeper answers", func() bool {
			client, err := remote.Dial(remote.SocketPath(s.Display))
			if err == nil {
				d, err = client.Desk(b.Context())
			}
			return err == nil
		})
		took := time.Since(start)
		if len(d.Windows) != 200 {
			b.Fatalf("%d windows", len(d.Windows))
		}
		cmd.Process.Kill()
		testkit.Until(b, "the display is free", func() bool {
			r, err := xproto.GetSelectionOwner(x.Conn, x.Atom("WM_S0")).Reply()
			return err == nil && r.Owner == 0
		})
		return took
	}
	state := b.TempDir()
	restart(state) // makes the file and marks the windows
	var with, without, floors []time.Duration
	for range 10 {
		with, without = append(with, restart(state)), append(without, restart("/proc/none"))
		start := time.Now()
		if err := exec.Command("true").Run(); err != nil {
			b.Fatal(err)
		}
		readAll(b, s)
		floors = append(floors, time.Since(start))
	}
	b.Run("with a store", func(b *testing.B) { report(b, with, floors) })
	b.Run("without", func(b *testing.B) { report(b, without, floors) })
}

// BenchmarkAdopt: from nothing to a keeper that has taken up the 200 windows of a
// display and shown them, in this process; the floor is a bare client that connects and
// reads the same of them, all at once.
func BenchmarkAdopt(b *testing.B) {
	s := testkit.NewServer(b)
	x := s.NewX(b)
	for i := range 200 {
		x.Map(x.Window(fmt.Sprint("window ", i), 10*i, 0, 300, 200))
	}
	var measures, floors []time.Duration
	for range 12 {
		start := time.Now()
		if n := readAll(b, s); n < 200 {
			b.Fatalf("%d windows", n)
		}
		floors = append(floors, time.Since(start))
		start = time.Now()
		k, ctx, end := keeping(b, x11.Options{Display: s.Display})
		if o, err := k.Try(ctx, desks.Command(b, "go 1")); err != nil || len(o.Desk.Windows) != 200 {
			b.Fatal("the windows are not there: ", err)
		}
		measures = append(measures, time.Since(start))
		end()
	}
	report(b, measures, floors)
}

// keeping starts a keeper of a display as the program does: with its store, its journal and its
// socket. End waits until it has let go of the display.
func keeping(b *testing.B, opt x11.Options) (k *keeper.Keeper, ctx context.Context, end func()) {
	host, d, err := x11.Open(opt)
	if err != nil {
		b.Fatal(err)
	}
	dir, log := b.TempDir(), slog.New(slog.DiscardHandler)
	state, err := store.Open(filepath.Join(dir, "state.db"))
	if err != nil {
		b.Fatal(err)
	}
	saver := store.NewSaver(state, "bench", host.Server(), log)
	saver.Journal(filepath.Join(dir, "bench"))
	k = keeper.New(d, host, keeper.Options{Keep: func(u keeper.Update) keeper.Receipt {
		return saver.Add(store.Change{Desk: u.Desk, Entry: store.Entry{Source: string(u.Source), Words: u.Words, Instead: u.Joined}})
	}})
	server, err := remote.Listen(filepath.Join(dir, "run", "bench.sock"), k, log)
	if err != nil {
		b.Fatal(err)
	}
	go server.Serve()
	ctx, cancel := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { defer close(ended); k.Run(ctx) }()
	return k, ctx, func() {
		cancel()
		<-ended
		server.Close()
		saver.Close(context.Background())
		state.Close()
	}
}

// readAll connects to a display and reads what is there of every window: attributes,
// place, and every property that it has.
func readAll(b *testing.B, s *testkit.Server) (windows int) {
	conn, err := xgb.NewConnDisplay(s.Display)
	if err != nil {
		b.Fatal(err)
	}
	defer conn.Close()
	tree, err := xproto.QueryTree(conn, xproto.Setup(conn).DefaultScreen(conn).Root).Reply()
	if err != nil {
		b.Fatal(err)
	}
	type one struct {
		attrs xproto.GetWindowAttributesCookie
		geo   xproto.GetGeometryCookie
		list  xproto.ListPropertiesCookie
		props []xproto.GetPropertyCookie
	}
	all := make([]one, len(tree.Children))
	for i, win := range tree.Children {
		all[i] = one{attrs: xproto.GetWindowAttributes(conn, win), geo: xproto.GetGeometry(conn, xproto.Drawable(win)), list: xproto.ListProperties(conn, win)}
	}
	for i, win := range tree.Children {
		all[i].attrs.Reply()
		all[i].geo.Reply()
		there, err := all[i].list.Reply()
		if err != nil {
			continue
		}
		for _, a := range there.Atoms {
			all[i].props = append(all[i].props, xproto.GetProperty(conn, false, win, a, xproto.GetPropertyTypeAny, 0, 1024))
		}
	}
	for _, o := range all {
		for _, p := range o.props {
			p.Reply()
		}
	}
	return len(all)
}

// BenchmarkStrays: finding out for every window whether it is lost, per window;
// the floor is to ask of each whether it overlaps one rectangle. The update is
// one window moved and all looked at again.
func BenchmarkStrays(b *testing.B) {
	for _, n := range []int{10, 100, 1000, 10_000} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			d := deskOf(b, n)
			lost := desk.Is{State: desk.IsStray}
			area, rounds := geom.R(0, 0, 1920, 1200), max(1, 10_000/n) // long enough for the clock
			var measures, floors, updates []time.Duration
			for i := range 50 {
				start := time.Now()
				d.Select(lost)
				measures = append(measures, time.Since(start)/time.Duration(n))
				start = time.Now()
				hits := 0
				for range rounds {
					for _, w := range d.Windows {
						if area.Overlaps(w.Rect) {
							hits++
						}
					}
				}
				floors = append(floors, max(time.Since(start)/time.Duration(n*rounds), 1))
				if hits == 0 { // or the loop would be left out
					b.Fatal("no window overlaps the monitor")
				}
				start = time.Now()
				next, _ := d.With(desk.Moved{ID: d.Windows[0].ID, Rect: geom.R(9000+i, 0, 300, 200)})
				next.Select(lost)
				updates = append(updates, time.Since(start))
			}
			report(b, measures, floors)
			b.ReportMetric(float64(median(updates).Microseconds()), "update-µs")
		})
	}
}
