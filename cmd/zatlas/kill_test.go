package main

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/remote"
	"zatlas/internal/scene"
	"zatlas/internal/store"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// crowd opens and closes windows of its own, as programs do, on a connection
// that outlives any keeper.
type crowd struct {
	mu      sync.Mutex
	x       *testkit.X
	windows map[string]xproto.Window // by title
	serial  int
}

func (c *crowd) open() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.serial++
	title := fmt.Sprintf("w%d", c.serial)
	c.windows[title] = c.x.Window(title, 40, 40, 300, 200)
	c.x.Map(c.windows[title])
}

// close closes some window but the first ten, which stay throughout.
func (c *crowd) close() {
	c.mu.Lock()
	defer c.mu.Unlock()
	for title, win := range c.windows {
		if len(title) > 2 {
			xproto.DestroyWindow(c.x.Conn, win)
			delete(c.windows, title)
			return
		}
	}
}

// mapAgain maps the windows whose request to be mapped died with the keeper
// that should have heard it, as their programs must. Those that the keeper had
// on the desk are mapped by the server.
func (c *crowd) mapAgain(t *testing.T, d *desk.Desk) {
	t.Helper()
	waitGone(t, c.x)
	for title, win := range c.windows {
		if slices.Contains(titles(d), title) {
			testkit.Until(t, title+" is mapped after the kill", func() bool { return c.x.Viewable(win) })
		} else if !c.x.Viewable(win) {
			c.x.Map(win)
		}
	}
}

// waitGone waits until the server knows that a keeper that was killed is gone.
func waitGone(t *testing.T, x *testkit.X) {
	t.Helper()
	selection := x.Atom("WM_S0")
	testkit.Until(t, "the server knows that the keeper is gone", func() bool {
		r, err := xproto.GetSelectionOwner(x.Conn, selection).Reply()
		return err == nil && r.Owner == 0
	})
}

func (c *crowd) titles() []string {
	c.mu.Lock()
	defer c.mu.Unlock()
	var ts []string
	for t := range c.windows {
		ts = append(ts, t)
	}
	slices.Sort(ts)
	return ts
}

// order is every sheet with the titles of its windows in their order, but for
// windows that are not in both lists.
func order(d *desk.Desk, only func(title string) bool) string {
	var b strings.Builder
	for i := range d.Workspaces {
		fmt.Fprintf(&b, "%s:", d.Title(i))
		for _, m := range d.Monitors {
			if !m.Connected {
				continue
			}
			fmt.Fprintf(&b, " %c", m.Letter)
			for _, w := range d.Order(i, m.Letter) {
				if only(w.Title) {
					fmt.Fprintf(&b, " %s", w.Title)
				}
			}
		}
		b.WriteByte('\n')
	}
	return b.String()
}

func titles(d *desk.Desk) []string {
	var ts []string
	for _, w := range d.Windows {
		ts = append(ts, w.Title)
	}
	slices.Sort(ts)
	return ts
}

// sabotage has the state file locked, or taken away, at random moments until the
// function it gives is called, which tells whether it can be read in the end, after
// something was changed: it may have been taken away as the last thing.
func sabotage(t *testing.T, s *testkit.Server) (end func(change func())) {
	t.Helper()
	path := stateOf(s)
	quiet, done := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(done)
		for {
			select {
			case <-quiet:
				return
			case <-time.After(time.Duration(rand.IntN(80)) * time.Millisecond):
			}
			if rand.IntN(6) == 0 {
				os.Remove(path)
				continue
			}
			if free, err := lockState(path); err == nil {
				time.Sleep(time.Duration(rand.IntN(120)) * time.Millisecond) // as a writer that is slow
				free()
			}
		}
	}()
	return func(change func()) {
		close(quiet)
		<-done
		testkit.Until(t, "the desk is on disk", func() bool {
			change() // what this process opens is another's file too
			state, err := store.Open(path)
			if err != nil {
				return false
			}
			defer state.Close()
			d, err := state.Desk(s.Display)
			return err == nil && d != nil
		})
	}
}

// lockState keeps everybody else from writing to a state file.
func lockState(path string) (free func(), err error) {
	db, err := sql.Open("sqlite", "file:"+path+"?mode=rw&_txlock=immediate&_pragma=busy_timeout(2000)")
	if err != nil {
		return nil, err
	}
	tx, err := db.Begin()
	if err != nil {
		db.Close()
		return nil, err
	}
	return func() { tx.Rollback(); db.Close() }, nil
}

// What a keeper was told while its state could not be written is on disk soon
// after it can be, and a kill then takes nothing of it.
func TestStalledWriter(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	cmd := s.Keeper(t)
	client, err := remote.Dial(socketOf(s))
	if err != nil {
		t.Fatal(err)
	}
	path := stateOf(s)
	free, err := lockState(path)
	if err != nil {
		t.Fatal(err)
	}
	const n = 1500
	for i := range n {
		c := desk.Command{Verb: "rename", Args: []desk.Arg{{Kind: desk.Name, Word: fmt.Sprint("Foyer ", i)}}}
		if o, err := client.Do(t.Context(), c, keeper.Line); err != nil || o.Err != nil {
			t.Fatal(err, o.Err)
		}
	}
	free()
	began := time.Now()
	state, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer state.Close()
	there := func() int {
		lines, err := state.Logbook(s.Display, 10*n)
		if err != nil {
			t.Fatal(err)
		}
		found := 0
		for _, l := range lines {
			if strings.HasPrefix(l.Words, "Workspace 1") {
				found++
			}
		}
		return found
	}
	testkit.Until(t, "every line is on disk", func() bool { return there() == n })
	t.Logf("%d changes were on disk %v after the writer was free", n, time.Since(began))
	cmd.Process.Kill()
	if d, err := state.Desk(s.Display); err != nil || d == nil || d.Workspaces[0].Name != fmt.Sprint("Foyer ", n-1) || there() != n {
		t.Errorf("on disk are %d lines and the desk %+v, %v", there(), d, err)
	}
}

// waitWritten waits until the display remembers the desk as it is now.
func waitWritten(t *testing.T, s *testkit.Server) {
	t.Helper()
	x := s.NewX(t)
	client, err := remote.Dial(socketOf(s))
	if err != nil {
		t.Fatal(err)
	}
	testkit.Until(t, "the desk is written on the root", func() bool {
		d, err := client.Desk(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		r, err := xproto.GetProperty(x.Conn, false, x.Root, x.Atom("_ZEALOUS_ATLAS_DESK"), xproto.GetPropertyTypeAny, 0, 1<<20).Reply()
		if err != nil {
			return false
		}
		written, err := scene.Read(bytes.NewReader(r.Value))
		return err == nil && scene.Equal(written, d)
	})
}

// answer is a command that was answered, when, and the desk it led to.
type answer struct {
	at   time.Time
	desk *desk.Desk
	to   desk.Command
}

// writtenWithin is within what time the arrangement is written, on a machine under load.
const writtenWithin = 400 * time.Millisecond

// fitsAfter tells whether a desk that was found is one that was left, or that with a
// command carried out that was on its way; got is how the windows lie on it that are on
// both.
func fitsAfter(last *desk.Desk, asked desk.Command, d *desk.Desk) (got string, fits bool) {
	both := func(title string) bool {
		return slices.Contains(titles(last), title) && slices.Contains(titles(d), title)
	}
	got = order(d, both)
	fits = got == order(last, both)
	next := last
	if asked.Verb != "" {
		next, _, _ = last.Apply(asked)
		fits = fits || got == order(next, both)
	}
	// What opened or closed since the last answer may have changed where among the
	// tiles of its sheet a window that was asked about comes to be; not on which sheet.
	if asked.Of != nil && !fits {
		about := func(title string) bool {
			return slices.ContainsFunc(last.Select(asked.Of), func(w *desk.Window) bool {
				return w.Title == title && (asked.Verb != "restore" || w.Minimised)
			})
		}
		others := func(title string) bool { return !about(title) && both(title) }
		fits = order(d, others) == order(next, others)
		for _, title := range titles(last) {
			only := func(t string) bool { return t == title && about(t) && both(t) }
			fits = fits && order(d, only) == order(next, only)
		}
	}
	return got, fits
}

// The keeper is killed at random moments while commands run and windows come
// and go. After each start, every window is there once, and the workspaces,
// their order, and the windows on each in their order are as they were after
// the last command that was answered, or after the one that was being carried
// out.
func TestKilledUnderLoad(t *testing.T) {
	t.Parallel()
	rounds := 60
	if os.Getenv("SOAK") != "" {
		rounds = 200
	}
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	binary := testkit.Binary(t)
	start := func() (*exec.Cmd, *remote.Client, *desk.Desk) {
		cmd := testkit.Start(t, s.Env, binary, "keep")
		var client *remote.Client
		var d *desk.Desk
		testkit.Until(t, "the keeper answers", func() bool {
			var err error
			if client, err = remote.Dial(socketOf(s)); err != nil {
				return false
			}
			d, err = client.Desk(t.Context())
			return err == nil
		})
		return cmd, client, d
	}
	command := func(line string) desk.Command {
		c := desks.Command(t, line)
		return c
	}
	cmd, client, d := start()
	c := &crowd{x: s.NewX(t), windows: map[string]xproto.Window{}}
	for range 12 {
		c.open()
	}
	for _, line := range []string{"layout columns", "add Stage", "add", `add "Late night"`} {
		client.Do(t.Context(), command(line), keeper.Line)
	}
	waitWritten(t, s)
	var err error
	if d, err = client.Desk(t.Context()); err != nil {
		t.Fatal(err)
	}
	end := sabotage(t, s)
	defer end(func() { testkit.TryRun(s.Env, testkit.Binary(t), "do", "add Last") })
	seed := rand.Uint64()
	r := rand.New(rand.NewPCG(seed, 1))
	var answered atomic.Int64
	for round := range rounds {
		ctx, cancel := context.WithCancel(t.Context())
		var load sync.WaitGroup
		// One that commands: what it was answered last, and what it asked for since.
		last := d
		var asked desk.Command
		past := []answer{{time.Now(), d, desk.Command{}}}
		lines := make([]string, 400)
		for i := range lines {
			n := r.IntN(4) + 1
			lines[i] = []string{
				fmt.Sprintf("send %d of title:=w%d", n, r.IntN(12)+1), fmt.Sprintf("send B of title:=w%d", r.IntN(12)+1),
				fmt.Sprintf("carry A%d of title:=w%d", n, r.IntN(9)+1), fmt.Sprintf("go %d", n), fmt.Sprintf("reorder %d to %d", n, r.IntN(4)+1),
				fmt.Sprintf("float of title:=w%d", r.IntN(9)+1), "focus next", "layout next",
				fmt.Sprintf("minimise of title:=w%d", r.IntN(9)+1), "restore of all", fmt.Sprintf("snap left of title:=w%d", r.IntN(9)+1),
			}[r.IntN(11)]
		}
		load.Go(func() {
			for _, line := range lines {
				asked = command(line)
				if _, err := client.Do(ctx, asked, keeper.Line); err != nil {
					return
				}
				now, err := client.Desk(ctx)
				if err != nil {
					return
				}
				past = append(past, answer{time.Now(), now, asked})
				last, asked = now, desk.Command{}
				answered.Add(1)
			}
		})
		quiet := make(chan struct{})
		load.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-quiet:
					return
				case <-time.After(2 * time.Millisecond):
				}
				if len(c.titles()) < 16 {
					c.open()
				} else {
					c.close()
				}
			}
		})
		// Every other time it is killed under load, after some answers; else at whatever moment.
		if round%2 == 1 {
			enough := answered.Load() + 2 + r.Int64N(8)
			testkit.Until(t, "commands are answered", func() bool { return answered.Load() >= enough })
		}
		time.Sleep(time.Duration(r.IntN(60_000)) * time.Microsecond)
		killed := time.Now()
		cmd.Process.Signal(syscall.SIGKILL)
		close(quiet)
		load.Wait()
		cancel()
		c.mapAgain(t, last)
		cmd, client, d = start()
		if got, want := titles(d), c.titles(); !slices.Equal(got, want) {
			t.Fatalf("seed %d round %d: the windows are %v, want %v", seed, round, got, want)
		}
		past = append(past, answer{killed, last, asked})
		fits := false
		got := ""
		for i := len(past) - 2; i >= 0 && !fits; i-- {
			// The arrangement is written behind the keeper's back: what was answered a
			// moment before may be lost, all that was before it is there.
			if i < len(past)-2 && killed.Sub(past[i+1].at) > writtenWithin {
				break
			}
			got, fits = fitsAfter(past[i].desk, past[i+1].to, d)
		}
		next := last
		both := func(title string) bool {
			return slices.Contains(titles(last), title) && slices.Contains(titles(d), title)
		}
		if !fits {
			t.Fatalf("seed %d round %d: after the kill\n%s\nafter the last answer\n%s\nand after %s\n%s", seed, round, got, order(last, both), lang.Print(asked), order(next, both))
		}
	}
	t.Logf("%d kills, %d commands answered in between", rounds, answered.Load())
	if answered.Load() < int64(rounds) {
		t.Errorf("only %d commands were answered in %d rounds: that is no load", answered.Load(), rounds)
	}
}

// What a keeper has answered is done for good: it is killed right after an answer, some time
// after it, and before it, and the next one has the desk as it was told, and takes back
// what was done last.
func TestKilledAfterAnswer(t *testing.T) {
	t.Parallel()
	rounds := 6
	if os.Getenv("SOAK") != "" {
		rounds = 100
	}
	const inFlight = -1
	s := testkit.NewServer(t)
	x := s.NewX(t)
	for i := range 12 {
		x.Map(x.Window(fmt.Sprintf("w%d", i), 40, 40, 300, 200))
	}
	binary := testkit.Binary(t)
	r := rand.New(rand.NewPCG(testkit.Seed(t, 1), 1))
	name := func(d *desk.Desk) string { return d.Workspaces[0].Name }
	of := func(d *desk.Desk, title string) string {
		for _, w := range d.Windows {
			if w.Title == title {
				return d.Title(d.Index(w.Workspace))
			}
		}
		return "nowhere"
	}
	for _, wait := range []time.Duration{0, 10 * time.Millisecond, 30 * time.Millisecond, 60 * time.Millisecond, inFlight} {
		for round := range rounds {
			keeper := testkit.Start(t, s.Env, binary, "keep")
			client := answering(t, s)
			do := func(line string) error {
				c := desks.Command(t, line)
				o, err := client.Do(t.Context(), c, "command line")
				if err == nil && (o.Err != nil && line[:6] != "send 1" || strings.Contains(o.Result.Words, "crash")) {
					t.Fatalf("%s: %v %s", line, o.Err, o.Result.Words)
				}
				return err
			}
			if round == 0 {
				do("add")
				do("add")
			}
			// Each goes on from the one before, and none says nothing new.
			first, second := fmt.Sprintf("Foyer %v %d", wait, round), fmt.Sprintf("Hall %v %d", wait, round)
			title := fmt.Sprintf("w%d", r.IntN(12))
			for _, line := range []string{"go 1", "rename " + strconv.Quote(first), "send 1 of title:=" + title, "send 2 of title:=" + title, "send 3 of title:=" + title} {
				do(line)
			}
			answered := make(chan error, 1)
			go func() { answered <- do("rename " + strconv.Quote(second)) }()
			var err error
			if wait != inFlight {
				err = <-answered
				time.Sleep(wait)
			} else {
				time.Sleep(time.Duration(r.IntN(1500)) * time.Microsecond)
			}
			keeper.Process.Signal(syscall.SIGKILL)
			waitGone(t, x)
			if wait == inFlight {
				err = <-answered
			}
			keeper = testkit.Start(t, s.Env, binary, "keep")
			client = answering(t, s)
			d, _ := client.Desk(t.Context())
			done := name(d) == second
			if !done && (err == nil || name(d) != first) || of(d, title) != "3" {
				t.Fatalf("%v, round %d, answered %v: workspace 1 is %q, %s is on %s", wait, round, err == nil, name(d), title, of(d, title))
			}
			if done {
				do("undo")
				if d, _ := client.Desk(t.Context()); name(d) != first {
					t.Fatalf("%v, round %d: after undo workspace 1 is %q", wait, round, name(d))
				}
			}
			do("undo")
			if d, _ := client.Desk(t.Context()); name(d) != first || of(d, title) != "2" {
				t.Fatalf("%v, round %d: after undo workspace 1 is %q, %s is on %s", wait, round, name(d), title, of(d, title))
			}
			keeper.Process.Signal(syscall.SIGKILL)
			waitGone(t, x)
		}
	}
}

// answering waits until a keeper answers.
func answering(t *testing.T, s *testkit.Server) (client *remote.Client) {
	t.Helper()
	testkit.Until(t, "the keeper answers", func() (ok bool) {
		var err error
		if client, err = remote.Dial(socketOf(s)); err == nil {
			_, err = client.Desk(t.Context())
		}
		return err == nil
	})
	return client
}
