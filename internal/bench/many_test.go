package bench

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"path/filepath"
	"runtime"
	"slices"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/draw/render"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/scene"
	"zatlas/internal/status"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui"
	"zatlas/internal/tui/cells"
	"zatlas/internal/tui/terminal"
)

// crowd is a keeper on a real display with two workspaces of two windows each, and n
// windows on a third.
type crowd struct {
	b *testing.B
	k *keeper.Keeper
	x *testkit.X
}

// crowded makes a crowd that lasts as long as the benchmark, or until end is called.
func crowded(b *testing.B, n int) (c *crowd, end func()) {
	s := testkit.NewServer(b)
	x := s.NewX(b)
	k, ctx, end := keeping(b, x11.Options{Display: s.Display})
	c = &crowd{b, k, x}
	for _, line := range []string{"add", "add", "rename 1 aaaaaa", "rename 2 oooooo", "go 1"} {
		c.do(desks.Command(b, line))
	}
	open := func(title string, desktop uint32) {
		win := x.Window(title, 0, 0, 100, 100)
		x.Cards(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, desktop)
		x.Cards(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, 0)
		xproto.MapWindow(x.Conn, win)
	}
	for w := range 4 {
		open(fmt.Sprint("few ", w), uint32(w%2))
	}
	for w := range n {
		open(fmt.Sprint("many ", w), 2)
	}
	for deadline := time.Now().Add(4 * time.Minute); ; time.Sleep(50 * time.Millisecond) {
		o, err := c.k.Try(ctx, desks.Command(b, "go 1"))
		if err == nil && o.Desk != nil && len(o.Desk.Windows) == n+4 {
			break
		}
		if time.Now().After(deadline) {
			b.Fatal("the windows did not open")
		}
	}
	return c, end
}

func (c *crowd) do(command desk.Command) {
	o, err := c.k.Do(context.Background(), command, keeper.Line)
	if err = errors.Join(err, o.Err); err != nil {
		c.b.Fatal(err)
	}
}

// bare is a client of a display of its own that asks for what a keeper asks for its windows, and
// for nothing else.
type bare struct {
	x                               *testkit.X
	wins                            []xproto.Window
	turn                            int
	state, desktop, current, active xproto.Atom
}

// newBare has n windows, on a display with so many others: the server takes longer where there
// are many.
func newBare(b *testing.B, n, others int) *bare {
	x := testkit.NewServer(b).NewX(b)
	r := &bare{x: x, state: x.Atom("WM_STATE"), desktop: x.Atom("_NET_WM_DESKTOP"), current: x.Atom("_NET_CURRENT_DESKTOP"), active: x.Atom("_NET_ACTIVE_WINDOW")}
	for i := range n {
		r.wins = append(r.wins, r.x.Window(fmt.Sprint("bare ", i), 0, 0, 100, 100))
	}
	for i := range others {
		r.x.Window(fmt.Sprint("other ", i), 0, 0, 100, 100)
	}
	r.x.Conn.Sync()
	return r
}

// swap gives all windows another place, shows those that are hidden and hides the others, with
// what is written of each and of the whole. It tells how long the server takes.
func (r *bare) swap() time.Duration {
	start := time.Now()
	r.turn++
	for i, win := range r.wins {
		xproto.ConfigureWindow(r.x.Conn, win, xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight, []uint32{0, 0, uint32(100 + r.turn%2), 100})
		set(r.x, win, r.state, r.state, 1, 0)
		set(r.x, win, r.desktop, xproto.AtomCardinal, uint32(r.turn%2))
		if (i+r.turn)%2 == 0 {
			xproto.MapWindow(r.x.Conn, win)
		} else {
			xproto.UnmapWindow(r.x.Conn, win)
		}
	}
	xproto.SetInputFocus(r.x.Conn, xproto.InputFocusPointerRoot, xproto.InputFocusPointerRoot, xproto.TimeCurrentTime)
	set(r.x, r.x.Root, r.current, xproto.AtomCardinal, uint32(r.turn%2))
	set(r.x, r.x.Root, r.active, xproto.AtomWindow, uint32(r.wins[0]))
	r.x.Conn.Sync()
	return time.Since(start)
}

// BenchmarkGoAmongMany: go between two workspaces of two windows each, with so many real
// windows on a third, from the command to its answer; the floor is a bare client that asks for
// the same of four windows, beside as many others.
func BenchmarkGoAmongMany(b *testing.B) {
	for _, n := range []int{0, 2000} {
		b.Run(fmt.Sprint(n, " others"), func(b *testing.B) {
			c, end := crowded(b, n)
			defer end()
			floor := newBare(b, 4, n)
			var measures, floors []time.Duration
			for turn := range 300 {
				start := time.Now()
				c.do(desks.Command(b, fmt.Sprint("go ", 1+turn%2)))
				measures, floors = append(measures, time.Since(start)), append(floors, floor.swap())
			}
			report(b, measures, floors)
		})
	}
}

// shownText waits for words in what a program writes.
type shownText struct {
	screen
	text chan []byte
}

func (s *shownText) Write(p []byte) (int, error) {
	s.text <- bytes.Clone(p)
	return s.screen.Write(p)
}

// BenchmarkAttached: from a key that goes to another workspace of two windows to the
// frame that says so, on a screen of another connection, with so many real windows on a
// third workspace; the floor is a program that only echoes the key.
func BenchmarkAttached(b *testing.B) {
	floor := keyToFrame(b, "", "lh", func(t *terminal.Terminal) {
		echoOn(b.Context(), t)
	})
	for _, n := range []int{20, 500, 2000} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			c, end := crowded(b, n)
			defer end()
			path := filepath.Join(b.TempDir(), "run", "bench.sock")
			server, err := remote.Listen(path, c.k, slog.New(slog.DiscardHandler))
			if err != nil {
				b.Fatal(err)
			}
			defer server.Close()
			go server.Serve()
			client, err := remote.Dial(path)
			if err != nil {
				b.Fatal(err)
			}
			in, keys := io.Pipe()
			defer keys.Close()
			ctx, cancel := context.WithCancel(context.Background())
			defer cancel()
			out := &shownText{screen{wake: make(chan struct{}, 1)}, make(chan []byte, 10_000)}
			go tui.Run(ctx, client, tui.Options{Name: "bench", Theme: cells.Night, On: terminalOf(in, out)})
			var all []time.Duration
			for turn := range 40 {
				out.quiet()
				for len(out.text) > 0 {
					<-out.text
				}
				time.Sleep(time.Duration(turn%16) * time.Millisecond) // at any moment between two frames
				start := time.Now()
				if _, err := io.WriteString(keys, []string{"2", "1"}[turn%2]); err != nil {
					b.Fatal(err)
				}
				for want := []byte([]string{"oooooo", "aaaaaa"}[turn%2]); ; {
					select {
					case p := <-out.text:
						if !bytes.Contains(p, want) {
							continue
						}
					case <-time.After(testkit.Deadline):
						b.Fatal("the screen never said where it is")
					}
					break
				}
				all = append(all, time.Since(start))
			}
			report(b, all, floor)
		})
	}
}

// BenchmarkPile: from the request of a window to be mapped until it is placed and seen in a pile
// of so many, and what is shown of the others; the floor is the bare manager of BenchmarkOpen.
func BenchmarkPile(b *testing.B) {
	other := testkit.NewServer(b)
	defer bareManager(b, other)()
	floor := opener(b, other)
	c, end := crowded(b, 0)
	defer end()
	c.do(desks.Command(b, "go 3"))
	c.do(desks.Command(b, "layout pile"))
	n := 0
	open := func() time.Duration {
		win := c.x.Window(fmt.Sprint("in the pile ", n), 0, 0, 100, 100)
		n++
		start := time.Now()
		xproto.MapWindow(c.x.Conn, win)
		for end := start.Add(testkit.Deadline); ; time.Sleep(20 * time.Microsecond) {
			o, err := c.k.Try(context.Background(), desks.Command(b, "go 3"))
			if err != nil || time.Now().After(end) {
				b.Fatal("the window did not open: ", err)
			}
			if o.Desk != nil && len(o.Desk.Windows) == n+4 {
				return time.Since(start)
			}
		}
	}
	for _, most := range []int{60, 240} {
		b.Run(fmt.Sprint("of ", most), func(b *testing.B) {
			for n < most-10 {
				open()
			}
			var measures, floors []time.Duration
			for range 20 {
				measures, floors = append(measures, open()), append(floors, floor.once(b))
			}
			report(b, measures, floors)
		})
	}
}

// growing is what is done with a desk of any size.
type growing struct {
	name string
	do   func(d *desk.Desk) error
}

// growings are commands about a quarter of the windows, and what is made of a whole desk.
func growings(b *testing.B) (all []growing) {
	for _, line := range []string{
		"send 2 of on:1", "carry 2 of on:1", "layout columns of on:1", "swap next of #2", "group next of #2", "ungroup all of #2", "turn of #2", "mirror of #2", "even all of #2",
		"share +5 of #2", "gaps off of on:1", "maximise of on:1", "fullscreen of on:1", "snap left of on:1", "rescue of on:1", "cascade of on:1 is:floating", "nudge right of on:1 is:floating", "float of on:1",
		"minimise of on:1", "close of on:1", "raise of on:1", "lower of on:1", "above on of on:1", "stick of on:1",
		"rescue of is:stray", "minimise of app:9", "minimise of title:99", "minimise of is:floating", "remove 1",
	} {
		c := desks.Command(b, line)
		all = append(all, growing{line, func(d *desk.Desk) error { _, _, err := d.Apply(c); return err }})
	}
	hidden := desks.Command(b, "minimise of on:1")
	fonts, err := render.NewFonts()
	if err != nil {
		b.Fatal(err)
	}
	return append(all,
		growing{"restore of what was minimised", func(d *desk.Desk) error {
			d, _, err := d.Apply(hidden)
			d.Apply(desks.Command(b, "restore of is:minimised"))
			return err
		}},
		growing{"scene", func(d *desk.Desk) error { return scene.Write(io.Discard, d) }},
		growing{"change", func(d *desk.Desk) error {
			next, _, err := d.Apply(hidden)
			return errors.Join(err, scene.WriteSince(io.Discard, next, d))
		}},
		growing{"line", func(d *desk.Desk) error {
			o, _ := draw.OverviewOf(d, nil)
			status.Of(o, 'A', status.Facts{}).Text()
			return nil
		}},
		growing{"atlas", func(d *desk.Desk) error {
			return render.Atlas(d, "bench").Write(io.Discard, ".svg", render.Style{Fonts: fonts, Theme: draw.Night})
		}},
		growing{"strays", func(d *desk.Desk) error {
			for _, w := range d.Windows {
				d.Lost(w)
			}
			return nil
		}},
		growing{"pictures of the display", func(d *desk.Desk) error { d.Picture(); return nil }},
	)
}

// BenchmarkGrowth: each of these with 10,000 windows; the floor is ten times the same with 1,000.
// The ten that grow most are printed.
func BenchmarkGrowth(b *testing.B) {
	few, many := deskOf(b, 1000), deskOf(b, 10_000)
	type grown struct {
		name  string
		ratio float64
	}
	var all []grown
	for _, g := range growings(b) {
		b.Run(g.name, func(b *testing.B) {
			took := func(d *desk.Desk, weight time.Duration) (all []time.Duration) {
				for range 5 {
					runtime.GC() // it would else be counted to whoever comes when it is due
					start := time.Now()
					if err := g.do(d); err != nil {
						b.Fatal(err)
					}
					all = append(all, weight*time.Since(start))
				}
				return all
			}
			measures, floors := took(many, 1), took(few, 10)
			report(b, measures, floors)
			all = append(all, grown{g.name, float64(median(measures)) / float64(median(floors))})
		})
	}
	slices.SortFunc(all, func(x, y grown) int { return cmp.Compare(y.ratio, x.ratio) })
	for _, g := range all[:min(10, len(all))] {
		fmt.Printf("ten times as many windows take %.1f times as long: %s\n", 10*g.ratio, g.name)
	}
}
