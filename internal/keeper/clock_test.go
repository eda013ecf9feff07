package keeper_test

import (
	"context"
	"testing"
	"testing/synctest"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/testkit/desks"
)

// timed runs a test with a keeper of the demo desk, and the host that is made for it,
// on a clock of its own.
func timed(t *testing.T, host func() keeper.Host, opt keeper.Options, test func(*testing.T, *keeper.Keeper)) {
	t.Helper()
	d := desks.Demo(t)
	synctest.Test(t, func(t *testing.T) {
		ctx, cancel := context.WithCancel(t.Context())
		k := keeper.New(d, host(), opt)
		go k.Run(ctx)
		test(t, k)
		cancel()
		synctest.Wait()
	})
}

func simulated() keeper.Host { return sim.New() }

// A key of a screen typed again within a second goes on with the step it began.
func TestStepsOfASecond(t *testing.T) {
	for pause, want := range map[time.Duration]int{999 * time.Millisecond: 1, time.Second: 4} {
		timed(t, simulated, keeper.Options{}, func(t *testing.T, k *keeper.Keeper) {
			c := desks.Command(t, "share +1 of #11")
			for range 4 {
				if o, err := k.Do(t.Context(), c, keeper.Screen); err != nil || o.Err != nil {
					t.Fatal(err, o.Err)
				}
				time.Sleep(pause)
			}
			steps := 0
			for ; do(t, k, "undo").Err == nil; steps++ {
			}
			if steps != want {
				t.Errorf("four keys %v apart are %d steps, want %d", pause, steps, want)
			}
		})
	}
}

// The logbook says when by the keeper's clock.
func TestClockOfTheLogbook(t *testing.T) {
	at := time.Date(2031, 5, 6, 7, 8, 9, 0, time.UTC)
	timed(t, simulated, keeper.Options{Now: func() time.Time { return at }}, func(t *testing.T, k *keeper.Keeper) {
		do(t, k, "go 2")
		lines, err := k.Log(t.Context())
		if err != nil || len(lines) != 2 {
			t.Fatal(lines, err)
		}
		for _, l := range lines {
			if !l.At.Equal(at) {
				t.Errorf("%q at %v", l.Words, l.At)
			}
		}
	})
}

// A host that always has something leaves commands their turn: one waits for the
// fact that is followed, and for those of one turn.
func TestTurns(t *testing.T) {
	slow := desk.Changed{ID: 11, Change: func(w *desk.Window) {
		time.Sleep(3 * time.Millisecond)
		w.Title += "."
	}}
	again, err := lang.ParseCommand("go 1") // between two, so that each is followed by itself
	if err != nil {
		t.Fatal(err)
	}
	busy := func() keeper.Host {
		h := &eventful{sim.New(), make(chan struct{}, 1), nil}
		for range 1000 {
			h.events = append(h.events, keeper.Event{Fact: slow}, keeper.Event{Command: &again, Source: keeper.Chord})
		}
		h.wake <- struct{}{}
		return h
	}
	timed(t, busy, keeper.Options{}, func(t *testing.T, k *keeper.Keeper) {
		time.Sleep(10 * time.Millisecond)
		for range 20 {
			began := time.Now()
			do(t, k, "go 2")
			if took := time.Since(began); took > 25*time.Millisecond {
				t.Errorf("a command waited %v", took)
			}
		}
		began := time.Now()
		for do(t, k, "go 2"); time.Since(began) < 5*time.Second; do(t, k, "go 1") {
			time.Sleep(time.Second)
		}
		if w := (<-k.Watch(t.Context())).Desk.Window(11); len(w.Title) < 1000 {
			t.Errorf("after %v the title is %d letters long", time.Since(began), len(w.Title))
		}
	})
}

// stuck is a launcher that is never done reading what is installed.
type stuck struct{ *sim.Host }

func (stuck) Renew(ctx context.Context) error { <-ctx.Done(); return ctx.Err() }
func (stuck) Installed() *apps.List           { return &apps.List{} }

// An app that nobody knows is waited for half a minute, while all else goes on.
func TestUnknownAppIsWaitedFor(t *testing.T) {
	timed(t, simulated, keeper.Options{Launch: stuck{}}, func(t *testing.T, k *keeper.Keeper) {
		began := time.Now()
		failed := make(chan time.Duration, 1)
		go func() {
			if o := do(t, k, "open Nobody"); keeper.CodeOf(o.Err) != keeper.UnknownApp {
				t.Errorf("it ended with %v", o.Err)
			}
			failed <- time.Since(began)
		}()
		time.Sleep(time.Second)
		if do(t, k, "go 2"); time.Since(began) != time.Second {
			t.Errorf("another command waited %v", time.Since(began)-time.Second)
		}
		if took := <-failed; took != 30*time.Second {
			t.Errorf("it took %v", took)
		}
	})
}
