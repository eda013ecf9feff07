package keeper_test

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/plate"
)

// shelf keeps plates in memory, but for one name.
type shelf struct {
	plates map[string]*desk.Plate
	never  string
}

func (s *shelf) Read() (map[string]*desk.Plate, []plate.Fault) {
	return maps.Clone(s.plates), []plate.Fault{{Name: "Broken", Words: "/plates/Broken.json:1:1: not a plate"}}
}

func (s *shelf) Keep(name string, p *desk.Plate) error {
	if name == s.never {
		return errors.New("the disk is full")
	}
	if s.plates[name] = p; p == nil {
		delete(s.plates, name)
	}
	return nil
}

func (s *shelf) names() string {
	return strings.Join(slices.Sorted(maps.Keys(s.plates)), " ")
}

// TestPlatesAreKept holds that a command about plates is done when they are kept, and not at
// all where they cannot be.
func TestPlatesAreKept(t *testing.T) {
	s := &shelf{plates: map[string]*desk.Plate{}}
	timed(t, simulated, keeper.Options{Plates: s}, func(t *testing.T, k *keeper.Keeper) {
		for _, c := range []struct{ line, never, says, names string }{
			{"plate save Day", "", "Saved the desk as the plate Day", "Day"},
			{"plate save Night", "Night", "The disk is full.", "Day"},
			{"plate rename Day Days", "Days", "The disk is full.", "Day"},
			{"plate rename Day Days", "", "is called Days now", "Days"},
			{"undo", "Day", "The plates stay as they are: the disk is full.", "Days"}, // and the step is passed over
			{"plate rename Days Day", "", "is called Day now", "Day"},
			{"plate rename Day Days", "", "is called Days now", "Days"},
			{"undo", "", "Undid: The plate Day is called Days now.", "Day"},
			{"plate remove Day", "Day", "The disk is full.", "Day"},
			{"plate lay Broken", "", "The plate Broken cannot be read: /plates/Broken.json:1:1", "Day"},
			{"send 5 of #11", "", "Sent", "Day"},
			{"plate lay Day", "back", "What it replaced could not be kept: the disk is full.", "Day"},
			{"undo", "", "Undid: Laid Day", "Day"},
			{"plate lay Day", "", "Laid Day:", "Day back"},
			{"plate lay back", "", "Laid back:", "Day back"},
		} {
			s.never = c.never
			if o := do(t, k, c.line); !strings.Contains(o.Words(), c.says) || s.names() != c.names {
				t.Errorf("%s says %q, and kept are %q; want %q and %q", c.line, o.Words(), s.names(), c.says, c.names)
			}
		}
		list, err := k.Plates(context.Background())
		if err != nil || len(list) != 3 || list[0].Plate.Name != "Day" || list[0].Laid.IsZero() || list[2].Fault.Name != "Broken" {
			t.Errorf("the list is %+v, %v", list, err)
		}
		// What cannot be started is told, and the rest is laid.
		if o := do(t, k, "plate lay Day starting"); o.Err != nil || strings.Contains(o.Words(), "No program can be started here.") {
			t.Errorf("with nothing to start it says %q, %v", o.Words(), o.Err)
		}
	})
}

// TestLaidByItself holds that a plate that the settings name is laid when its monitors
// come, after two seconds of quiet, once; and that another is named.
func TestLaidByItself(t *testing.T) {
	s := &shelf{plates: map[string]*desk.Plate{}}
	var host *sim.Host
	timed(t, func() keeper.Host { host = sim.New(); return host }, keeper.Options{Plates: s}, func(t *testing.T, k *keeper.Keeper) {
		settled := func(lay ...string) { host.Happen(desk.Settle{Settings: desk.Settings{Lay: lay}}) }
		now := func() keeper.Update { return <-k.Watch(t.Context()) }
		do(t, k, "plate save Docked")
		do(t, k, "pull B")
		do(t, k, "plate save Alone")
		settled("docked")
		both := []desk.Monitor{{Key: "scene-A", Rect: geom.R(0, 0, 1920, 1200), Primary: true}, {Key: "scene-B", Rect: geom.R(1920, 0, 3440, 1440)}}
		host.Happen(desk.MonitorsAre{Monitors: both})
		synctest.Wait()
		if got := now().Words; !strings.Contains(got, "The plate Docked is laid when the windows have come to rest.") {
			t.Errorf("when they come it says %q", got)
		}
		do(t, k, "send 5 of #11")
		time.Sleep(1500 * time.Millisecond)
		host.Happen(desk.Closed{ID: 61}) // not quiet yet
		time.Sleep(1500 * time.Millisecond)
		if d := now().Desk; d.Ref(d.Window(11)) == "A1" {
			t.Error("it is laid before it is quiet")
		}
		time.Sleep(600 * time.Millisecond)
		synctest.Wait()
		if d := now().Desk; d.Ref(d.Window(11)) != "A1" {
			t.Error("it is not laid")
		}
		do(t, k, "send 5 of #11")
		time.Sleep(10 * time.Second)
		if d := now().Desk; d.Ref(d.Window(11)) == "A1" {
			t.Error("it is laid again")
		}
		settled()
		host.Happen(desk.MonitorsAre{Monitors: both[:1]})
		synctest.Wait()
		if got := now().Words; !strings.Contains(got, "These are the monitors of the plate Alone (plate lay Alone).") {
			t.Errorf("with one it says %q", got)
		}
		do(t, k, "plate letter Docked d")
		host.Happen(desk.MonitorsAre{Monitors: both})
		synctest.Wait()
		if got := now().Words; !strings.Contains(got, "These are the monitors of the plate Docked (P d).") {
			t.Errorf("with both it says %q", got)
		}
	})
}

// dead is a shelf on a disk that does not answer between stop and go.
type dead struct {
	shelf
	mu     sync.Mutex
	closed chan struct{}
}

func (d *dead) stops() {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.closed = make(chan struct{})
}

func (d *dead) goes() {
	d.mu.Lock()
	defer d.mu.Unlock()
	close(d.closed)
	d.closed = nil
}

func (d *dead) wait() {
	d.mu.Lock()
	closed := d.closed
	d.mu.Unlock()
	if closed != nil {
		<-closed
	}
}

func (d *dead) Read() (map[string]*desk.Plate, []plate.Fault) { d.wait(); return d.shelf.Read() }
func (d *dead) Keep(name string, p *desk.Plate) error         { d.wait(); return d.shelf.Keep(name, p) }
func (d *dead) Text() (string, error)                         { d.wait(); return "", nil }
func (d *dead) Replace(string, string) error                  { d.wait(); return nil }
func (d *dead) Start(apps.App) (string, int, error)           { d.wait(); return "", 7, nil }
func (d *dead) Renew(context.Context) error                   { return nil }
func (d *dead) Installed() *apps.List {
	return apps.NewList([]apps.App{{ID: "Lamp Diary", Name: "Lamp Diary", Command: []string{"lamp"}}})
}

// TestDiskStandsStill holds that commands which need files wait by themselves where those do
// not answer, are told so, and change nothing; that everything else goes on meanwhile; and
// that what was written too late is taken back.
func TestDiskStandsStill(t *testing.T) {
	d := &dead{shelf: shelf{plates: map[string]*desk.Plate{}}}
	opt := keeper.Options{Plates: d, File: d, Launch: d, SavePin: func(desk.Pin) error { d.wait(); return nil }, Reload: func() func() (desk.Settings, string, error) {
		d.wait()
		return func() (desk.Settings, string, error) { return desk.Settings{}, "Read the settings.", nil }
	}}
	timed(t, simulated, opt, func(t *testing.T, k *keeper.Keeper) {
		synctest.Wait()
		do(t, k, "plate save Day")
		do(t, k, "plate letter Day d")
		for _, line := range []string{"undo", "plate save Night", "pin x of #11", "reload", "open \"Lamp Diary\"", "plate lay Day"} {
			d.stops()
			began := time.Now()
			said := make(chan keeper.Outcome, 1)
			go func() { said <- do(t, k, line) }()
			synctest.Wait()
			for _, other := range []string{"go 2", "go 1"} {
				do(t, k, other)
			}
			if took := time.Since(began); took > 100*time.Millisecond {
				t.Errorf("beside %s other commands take %v", line, took)
			}
			if _, err := k.Log(t.Context()); err != nil {
				t.Error(err)
			}
			o := <-said
			if keeper.CodeOf(o.Err) != keeper.NoAnswer || time.Since(began) != 5*time.Second || !strings.Contains(o.Words(), "has not answered for 5s. Nothing was changed.") {
				t.Errorf("%s says %q, after %v", line, o.Words(), time.Since(began))
			}
			time.Sleep(time.Second)
			began = time.Now()
			if o := do(t, k, line); keeper.CodeOf(o.Err) != keeper.NoAnswer || time.Since(began) != 0 || !strings.Contains(o.Words(), "has not answered for 6s") {
				t.Errorf("%s again says %q, after %v", line, o.Words(), time.Since(began))
			}
			d.goes()
			synctest.Wait()
			if d.names() != "Day" {
				t.Errorf("after %s the plates are %q", line, d.names())
			}
		}
	})
}

// TestSlowDisk holds that a command whose files are slow is done when they are, and not
// where another was done meanwhile that it does not fit.
func TestSlowDisk(t *testing.T) {
	d := &dead{shelf: shelf{plates: map[string]*desk.Plate{}}}
	timed(t, simulated, keeper.Options{Plates: d}, func(t *testing.T, k *keeper.Keeper) {
		for _, c := range []struct{ meanwhile, says, names string }{
			{"go 2", "Saved the desk as the plate", "Day0"},
			{"send 3 of #11", "Something else was done while the folder of the plates did not answer: nothing was changed. Do it again.", "Day0"},
		} {
			d.stops()
			said := make(chan keeper.Outcome, 1)
			name := fmt.Sprint("Day", len(d.plates))
			go func() { said <- do(t, k, "plate save "+name) }()
			time.Sleep(time.Second)
			read := d.closed
			d.stops() // it was read, and is to be written
			close(read)
			time.Sleep(time.Second)
			do(t, k, c.meanwhile)
			d.goes()
			if o := <-said; !strings.Contains(o.Words(), c.says) {
				t.Errorf("with %q meanwhile it says %q", c.meanwhile, o.Words())
			}
			synctest.Wait()
			if d.names() != c.names {
				t.Errorf("with %q meanwhile the plates are %q", c.meanwhile, d.names())
			}
		}
	})
}
