package keeper_test

import (
	"context"
	"fmt"
	"log/slog"
	"strings"
	"sync"
	"testing"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/testkit/desks"
)

func start(t *testing.T) (*keeper.Keeper, context.CancelFunc) {
	t.Helper()
	d := desks.Demo(t)
	k := keeper.New(d, sim.New(), keeper.Options{})
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { defer close(done); k.Run(ctx) }()
	t.Cleanup(func() { cancel(); <-done })
	return k, cancel
}

func do(t *testing.T, k *keeper.Keeper, line string) keeper.Outcome {
	t.Helper()
	c := desks.Command(t, line)
	o, err := k.Do(context.Background(), c, keeper.Line)
	if err != nil {
		t.Fatal(err)
	}
	return o
}

// next waits for the first update that satisfies the condition.
func next(t *testing.T, ch <-chan keeper.Update, what string, ok func(keeper.Update) bool) keeper.Update {
	t.Helper()
	limit := time.After(10 * time.Second)
	for {
		select {
		case u, open := <-ch:
			if !open {
				t.Fatalf("the news ended before: %s", what)
			}
			if ok(u) {
				return u
			}
		case <-limit:
			t.Fatalf("no news of: %s", what)
		}
	}
}

func TestDoAndWatch(t *testing.T) {
	k, cancel := start(t)
	ctx := context.Background()
	a, b := k.Watch(ctx), k.Watch(ctx)
	first := next(t, a, "the present", func(keeper.Update) bool { return true })
	if len(first.Desk.Windows) != 26 {
		t.Errorf("the first snapshot has %d windows", len(first.Desk.Windows))
	}
	if o := do(t, k, "go 3"); o.Err != nil || !strings.HasPrefix(o.Words(), "On 3 Box office") {
		t.Errorf("go 3: %v %q", o.Err, o.Words())
	}
	for _, ch := range []<-chan keeper.Update{a, b} {
		u := next(t, ch, "workspace 3", func(u keeper.Update) bool { return u.Desk.Current() == 2 })
		if u.Serial <= first.Serial || u.Source != keeper.Line {
			t.Errorf("update %d from %s", u.Serial, u.Source)
		}
	}
	if first.Desk.Current() != 0 {
		t.Error("a snapshot that was handed out was written")
	}
	if o := do(t, k, "go 9"); o.Err == nil || o.Words() != "There is no workspace 9: there are 6; add makes one." {
		t.Errorf("go 9: %q", o.Words())
	}
	do(t, k, "close of #61")
	next(t, a, "#61 closed", func(u keeper.Update) bool { return u.Desk.Window(61) == nil })
	cancel()
	for range a { // ends
	}
	if _, err := k.Do(ctx, desk.Command{Verb: "go"}, keeper.Line); err == nil {
		t.Error("a keeper that ended carries out commands")
	}
}

// Many ask at once; every command is carried out, and everyone ends with the
// same desk.
func TestManyAtOnce(t *testing.T) {
	k, _ := start(t)
	ctx := t.Context()
	var wg sync.WaitGroup
	for n := range 8 {
		wg.Go(func() {
			for i := range 50 {
				c, err := lang.ParseCommand(fmt.Sprintf("send %d of #%d", i%6+1, []int{11, 21, 31, 41}[n%4]))
				if err != nil {
					t.Error(err)
				}
				if _, err := k.Do(ctx, c, keeper.Screen); err != nil {
					t.Error(err)
				}
			}
		})
		wg.Go(func() {
			ctx, cancel := context.WithTimeout(ctx, time.Duration(n)*time.Millisecond)
			defer cancel()
			for u := range k.Watch(ctx) {
				if err := u.Desk.Check(); err != nil {
					t.Error(err)
				}
			}
		})
	}
	wg.Wait()
	do(t, k, "go 2")
	u := next(t, k.Watch(ctx), "the last one", func(u keeper.Update) bool { return true })
	if u.Desk.Current() != 1 {
		t.Errorf("a new watcher is shown workspace %d", u.Desk.Current()+1)
	}
}

// faulty is a host whose part of a command fails inside.
type faulty struct{ *sim.Host }

func (faulty) Show(d *desk.Desk) {
	if d.Current() == 1 {
		panic("a fault of the host")
	}
}

func TestFaultInside(t *testing.T) {
	d := desks.Demo(t)
	k := keeper.New(d, faulty{sim.New()}, keeper.Options{})
	go k.Run(t.Context())
	if o := do(t, k, "go 2"); o.Err == nil || !strings.Contains(o.Words(), "failed inside") {
		t.Errorf("a fault inside is told as %q", o.Words())
	}
	if o := do(t, k, "go 3"); o.Err != nil {
		t.Errorf("after it: %v", o.Err)
	}
}

// eventful is a host that has seen something.
type eventful struct {
	*sim.Host
	wake   chan struct{}
	events []keeper.Event
}

func (h *eventful) Wake() <-chan struct{} { return h.wake }

func (h *eventful) Take() ([]keeper.Event, error) {
	events := h.events
	h.events = nil
	return events, nil
}

// A fact that fails inside is left out, and those before and after it count.
func TestFactFailsInside(t *testing.T) {
	d := desks.Demo(t)
	retitle := func(id int, title string) keeper.Event {
		return keeper.Event{Fact: desk.Changed{ID: id, Change: func(w *desk.Window) {
			if w.Title = title; title == "" {
				panic("a fault of ours")
			}
		}}}
	}
	h := &eventful{sim.New(), make(chan struct{}, 1), []keeper.Event{retitle(11, "one"), retitle(12, ""), retitle(14, "three")}}
	h.wake <- struct{}{}
	var log strings.Builder
	k := keeper.New(d, h, keeper.Options{Log: slog.New(slog.NewTextHandler(&log, nil))})
	go k.Run(t.Context())
	do(t, k, "go 2")
	u := next(t, k.Watch(t.Context()), "the facts", func(u keeper.Update) bool { return u.Desk.Window(14).Title == "three" })
	if u.Desk.Window(11).Title != "one" || u.Desk.Window(12).Title != d.Window(12).Title {
		t.Errorf("the titles are %q and %q", u.Desk.Window(11).Title, u.Desk.Window(12).Title)
	}
	if !strings.Contains(log.String(), "a fault of ours") || !strings.Contains(log.String(), "keeper_test.go") {
		t.Errorf("the log says\n%s", &log)
	}
}

// Steps of one move by hand are one line of the logbook, with the words of the last.
func TestHandIsOneLine(t *testing.T) {
	k, _ := start(t)
	do(t, k, "go 2")
	for _, hand := range []int64{7, 7, 7, 8} {
		c := desks.Command(t, "nudge left of #14")
		c.Hand = hand
		if o, err := k.Do(t.Context(), c, keeper.Screen); err != nil || o.Err != nil {
			t.Fatal(err, o.Err)
		}
	}
	do(t, k, "go 1")
	lines, err := k.Log(t.Context())
	if err != nil || len(lines) != 5 {
		t.Fatalf("%d lines, %v: %+v", len(lines), err, lines)
	}
	if !strings.Contains(lines[2].Words, "is at 1350,860") || !strings.Contains(lines[3].Words, "is at 1340,860") {
		t.Errorf("the lines are %q and %q", lines[2].Words, lines[3].Words)
	}
}

// The logbook leads back to any point of it, and trying changes nothing.
func TestLogAndTry(t *testing.T) {
	k, _ := start(t)
	ctx := t.Context()
	for _, line := range []string{"send 3 of #11", "go 2", "add Foyer", "rescue of is:stray"} {
		if o := do(t, k, line); o.Err != nil {
			t.Fatal(o.Err)
		}
	}
	backs := func() string {
		lines, err := k.Log(ctx)
		if err != nil {
			t.Fatal(err)
		}
		var b strings.Builder
		for _, l := range lines {
			word := "here"
			if l.Back.Verb != "" {
				word = lang.Print(l.Back)
			}
			b.WriteString(word + ", ")
		}
		return b.String()
	}
	if got, want := backs(), "undo 3, undo 2, undo 2, undo 1, here, "; got != want {
		t.Errorf("the way back is %s, want %s", got, want)
	}
	c := desks.Command(t, "undo 2")
	o, err := k.Try(ctx, c)
	if err != nil || o.Err != nil || len(o.Desk.Workspaces) != 6 {
		t.Errorf("tried: %+v %v", o, err)
	}
	if got := backs(); got != "undo 3, undo 2, undo 2, undo 1, here, " {
		t.Errorf("after trying the way back is %s", got)
	}
	do(t, k, "undo 2")
	if got, want := backs(), "undo 1, here, here, redo 1, redo 2, here, "; got != want {
		t.Errorf("after undo the way is %s, want %s", got, want)
	}
	do(t, k, "float of #12") // what was undone cannot be had any more
	if got := backs(); !strings.HasSuffix(got, "undo 1, here, ") {
		t.Errorf("after another command the way is %s", got)
	}
	lines, _ := k.Log(ctx)
	if !lines[3].Gone || !lines[4].Gone || lines[0].Gone || lines[0].Words != "Began with 6 workspaces and 26 windows." {
		t.Errorf("what is out of reach is not told: %+v", lines)
	}
}

// rogue are installed programs whose names are no names.
type rogue struct{ started []string }

func (r *rogue) Renew(context.Context) error { return nil }

func (r *rogue) Installed() *apps.List {
	return apps.NewList([]apps.App{{ID: "a", Name: "Evil\x1b]0;x\x07 \u202ePlan", Command: []string{"a"}}, {ID: "b", Name: "\x1b[2J\x07", Command: []string{"b"}}})
}

func (r *rogue) Start(app apps.App) (string, int, error) {
	r.started = append(r.started, app.ID)
	return "", 1, nil
}

// The names of what is installed are safe to show, and still start what they name.
func TestRogueNames(t *testing.T) {
	d := desks.Demo(t)
	launcher := &rogue{}
	k := keeper.New(d, sim.New(), keeper.Options{Launch: launcher})
	go k.Run(t.Context())
	list, err := k.Apps(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, a := range list {
		if a.Name != desk.CleanText(a.Name, desk.MaxApp) || a.Name == "" {
			t.Errorf("%q is the name of an app", a.Name)
		}
	}
	o := do(t, k, `open "Evil Plan"`)
	if o.Err != nil || o.Result.Words != "Started Evil Plan." || len(launcher.started) != 1 || launcher.started[0] != "a" {
		t.Errorf("started %v, saying %q, %v", launcher.started, o.Result.Words, o.Err)
	}
}

// A desk whose screens are all there is to it is not ended by a command.
func TestCannotEnd(t *testing.T) {
	k, _ := start(t)
	for _, line := range []string{"end", "restart"} {
		if o := do(t, k, line); o.Err == nil || !strings.Contains(o.Err.Error(), "q quits") {
			t.Errorf("%s: %v", line, o.Err)
		}
	}
	if o := do(t, k, "plug C"); o.Err != nil || o.Result.Words != "Monitor C is plugged in." {
		t.Errorf("a monitor of the demo: %q, %v", o.Result.Words, o.Err)
	}
}

// scripted is a host on which some things happen at once.
type scripted struct {
	*sim.Host
	events []keeper.Event
	wake   chan struct{}
}

func (s *scripted) Wake() <-chan struct{} { return s.wake }

func (s *scripted) Take() ([]keeper.Event, error) {
	events := s.events
	s.events = nil
	return events, nil
}

// A command that ends the keeper does so whatever comes in with it.
func TestEndsAmongOthers(t *testing.T) {
	d := desks.Demo(t)
	h := &scripted{Host: sim.New(), wake: make(chan struct{}, 1)}
	for _, line := range []string{"go 2", "restart", "go 3"} {
		c := desks.Command(t, line)
		h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Chord})
	}
	k := keeper.New(d, h, keeper.Options{Real: true})
	h.wake <- struct{}{}
	ctx, cancel := context.WithTimeout(t.Context(), 10*time.Second)
	defer cancel()
	if err := k.Run(ctx); err != keeper.ErrRestart {
		t.Errorf("it ended with %v", err)
	}
}

// clumsy is a host that fails at telling what became of commands.
type clumsy struct{ *sim.Host }

func (clumsy) Tell(keeper.Outcome) { panic("told") }

// A mistake in telling an outcome does not end the keeper, and the command is done.
func TestTellingFails(t *testing.T) {
	d := desks.Demo(t)
	k := keeper.New(d, clumsy{sim.New()}, keeper.Options{})
	go k.Run(t.Context())
	for range 2 {
		if o := do(t, k, "add"); o.Err != nil {
			t.Fatal(o.Err)
		}
	}
	if n := len((<-k.Watch(t.Context())).Desk.Workspaces); n != 8 {
		t.Errorf("there are %d workspaces", n)
	}
}
