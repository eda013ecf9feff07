package keeper_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// slow is a host that asks a program which answers when the test has it do so.
type slow struct {
	wake chan struct{}

	mu     sync.Mutex
	asked  []string // commands, in order
	wishes map[string]ask
	events []keeper.Event
}

type ask struct {
	n    int
	wish desk.Wish
}

func newSlow() *slow { return &slow{wake: make(chan struct{}, 1), wishes: map[string]ask{}} }

func (s *slow) Wake() <-chan struct{} { return s.wake }
func (s *slow) Take() ([]keeper.Event, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	events := s.events
	s.events = nil
	return events, nil
}
func (s *slow) Show(*desk.Desk)     {}
func (s *slow) Close([]int)         {}
func (s *slow) Kill([]int)          {}
func (s *slow) Tell(keeper.Outcome) {}
func (s *slow) Stop()               {}

func (s *slow) Ask(n int, x desk.Wish, _ desk.Result) {
	line := lang.Print(x.Command)
	if line == "rename 1 Broken" {
		panic("inside")
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.asked = append(s.asked, line)
	s.wishes[line] = ask{n, x}
}

// waits tells whether exactly those commands were asked for.
func (s *slow) waits(lines ...string) func() bool {
	return func() bool {
		s.mu.Lock()
		defer s.mu.Unlock()
		return slices.Equal(s.asked, lines)
	}
}

// answer does what was asked for by a command, or refuses it with words.
func (s *slow) answer(line, refused string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	a := s.wishes[line]
	answer := keeper.Answer{N: a.n}
	if refused != "" {
		answer.Words, answer.None, answer.Refused = refused, true, a.wish.Touched()
	} else {
		s.events = append(s.events, keeper.Event{Fact: desk.Shows{Workspace: a.wish.To.Current()}})
		for _, id := range a.wish.Touched() {
			w := a.wish.To.Window(id)
			s.events = append(s.events, keeper.Event{Fact: desk.Stands{ID: id, Rect: w.Rect, Workspace: a.wish.To.Index(w.Workspace), State: desk.StandingOf(w)}})
		}
	}
	s.events = append(s.events, keeper.Event{Answer: &answer}, keeper.Event{Answer: &keeper.Answer{N: 1 << 20}}) // nobody asked for the last
	select {
	case s.wake <- struct{}{}:
	default:
	}
}

// A command is done when it is answered; those that follow wait only where they need it.
func TestAsking(t *testing.T) {
	d, err := desk.New([]desk.Monitor{{Letter: 'A', Name: "Laptop", Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Connected: true}}, desk.Settings{}.BesideOthers(nil), "Programme", "Press")
	if err != nil {
		t.Fatal(err)
	}
	for id := 1; id <= 3; id++ {
		d, _ = d.With(desk.Opened{Keep: true, Window: desk.Window{ID: id, Title: "plan", Rect: geom.R(100*id, 100, 300, 200), Floating: true}})
	}
	d, _ = d.With(desk.FocusIs{ID: 1})
	host := newSlow()
	k := keeper.New(d, host, keeper.Options{})
	ctx, cancel := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { defer close(ended); k.Run(ctx) }()
	outcomes := map[string]chan keeper.Outcome{}
	do := func(line string) {
		c := desks.Command(t, line)
		ch := make(chan keeper.Outcome, 1)
		outcomes[line] = ch
		go func() {
			o, err := k.Do(context.Background(), c, keeper.Line)
			if err != nil { // it ended before it heard of it
				o.Err = err
			}
			ch <- o
		}()
	}
	now := func() *desk.Desk {
		ctx, cancel := context.WithCancel(context.Background())
		defer cancel()
		return (<-k.Watch(ctx)).Desk
	}
	do("rename 1 Broken")
	if o := <-outcomes["rename 1 Broken"]; keeper.CodeOf(o.Err) != keeper.Inside {
		t.Errorf("a host that fails inside is told as %v", o.Err)
	}
	do("send 2 of #1")
	testkit.Until(t, "it is asked for", host.waits("send 2 of #1"))
	if w := now().Window(1); now().Index(w.Workspace) != 0 {
		t.Error("a wish is on the desk")
	}
	do("nudge left 5 of #2") // another window
	testkit.Until(t, "the other window's is asked for too", host.waits("send 2 of #1", "nudge left 5 of #2"))
	do("nudge down 5 of #1") // the same window
	do("rename 1 Foyer")     // all of them
	host.answer("nudge left 5 of #2", "The desktop's manager left it.")
	if o := <-outcomes["nudge left 5 of #2"]; o.Err == nil || o.Err.Error() != "The desktop's manager left it" || len(now().Window(2).Refused) != 1 {
		t.Errorf("what is refused is told as %v", o.Err)
	}
	if !host.waits("send 2 of #1", "nudge left 5 of #2")() {
		t.Error("a command did not wait for the one before, which it needs")
	}
	host.answer("send 2 of #1", "")
	if o := <-outcomes["send 2 of #1"]; o.Err != nil || !strings.Contains(o.Result.Words, "Sent") {
		t.Errorf("what was done is told as %v", o)
	}
	testkit.Until(t, "one of the next two is asked for", func() bool {
		host.mu.Lock()
		defer host.mu.Unlock()
		return len(host.asked) == 3
	})
	cancel()
	<-ended
	for _, line := range []string{"nudge down 5 of #1", "rename 1 Foyer"} {
		if o := <-outcomes[line]; !errors.Is(o.Err, keeper.ErrGone) {
			t.Errorf("%s, at the end: %v", line, o.Err)
		}
	}
}
