// Package hosttest says what every host must do: a suite of tests that each one
// runs on displays of its own kind.
package hosttest

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/testkit"
)

// Rig is a host on a display of its own with two monitors and no window yet, and
// what its programs, its user and its cables do there.
type Rig struct {
	Host keeper.Host
	Desk *desk.Desk // as the host found it
	Real bool       // the monitors are: see keeper.Options
	// Alongside tells that another program manages the windows there: they float, and
	// stay as they are when the host ends.
	Alongside bool

	// Open has a program of its own open a window.
	Open func(title string)
	// Retitle has the program of a window call it something else.
	Retitle func(title, to string)
	// End has the program of a window close it, without being asked.
	End func(title string)
	// Seen is what somebody before the display sees of a window, its edges in
	// pixels of the plane.
	Seen func(title string) (r geom.Rect, visible bool)
	// Focused is the title of the window that gets what is typed, empty for none.
	Focused func() string
	// Cable plugs the second monitor in, or pulls it; nil where a command does.
	Cable func(in bool)
}

// rules are what every host must do.
var rules = []struct {
	name  string
	check func(*stage)
}{
	{"a window that opens is on the desk, shown where the desk says, and has the focus", (*stage).opens},
	{"what is on another workspace is not seen, and is back at its place with it", (*stage).switches},
	{"a window moved by a command is where the desk says", (*stage).moves},
	{"a title that changes is on the desk", (*stage).retitles},
	{"the focus goes where the desk says", (*stage).focuses},
	{"a window that is asked to close does, and its program can be ended", (*stage).closes},
	{"a window that its program closes is off the desk", (*stage).ends},
	{"a monitor that is pulled takes no window with it, and has them back", (*stage).cables},
	{"what is shown is news of nothing, however often", (*stage).twice},
	{"the end leaves every window in reach", (*stage).stops},
}

// Run checks each rule on a rig of its own.
func Run(t *testing.T, rig func(t *testing.T) Rig) {
	for _, r := range rules {
		t.Run(r.name, func(t *testing.T) {
			s := &stage{Rig: rig(t), T: t}
			s.k = keeper.New(s.Desk, insist(s.Host), keeper.Options{Real: s.Real})
			ctx, cancel := context.WithCancel(context.Background())
			ended := make(chan struct{})
			go func() { defer close(ended); s.k.Run(ctx) }()
			s.stop = func() { cancel(); <-ended }
			defer s.stop()
			s.do("add")
			r.check(s)
		})
	}
}

// insistent is a host that is shown everything twice, and asked to close windows
// that are not there: it passes over both.
type insistent struct{ keeper.Host }

// insist has a host be shown everything twice.
func insist(h keeper.Host) keeper.Host {
	if asks, ok := h.(keeper.Asking); ok {
		return insistentAsking{insistent{h}, asks}
	}
	return insistent{h}
}

// insistentAsking is such a host that asks another program.
type insistentAsking struct {
	insistent
	asking keeper.Asking
}

func (h insistentAsking) Ask(n int, x desk.Wish, r desk.Result) { h.asking.Ask(n, x, r) }

func (h insistent) Show(d *desk.Desk) {
	strangers := []int{-1, 0, 1 << 30}
	h.Host.Show(d)
	h.Host.Close(strangers)
	h.Host.Kill(strangers)
	h.Host.Show(d)
}

// stage is a rig with a keeper on it.
type stage struct {
	Rig
	*testing.T
	k    *keeper.Keeper
	stop func() // ends the keeper, and waits
}

func (s *stage) do(line string) {
	s.Helper()
	c, err := lang.ParseCommand(line)
	if err != nil {
		s.Fatal(err)
	}
	if o, err := s.k.Do(s.Context(), c, keeper.Line); err != nil || o.Err != nil {
		s.Fatalf("%s: %v, %v", line, err, o.Err)
	}
}

// update is the last one of the keeper.
func (s *stage) update() keeper.Update {
	ctx, cancel := context.WithCancel(s.Context())
	defer cancel()
	return <-s.k.Watch(ctx)
}

// now is the desk as it is kept.
func (s *stage) now() *desk.Desk { return s.update().Desk }

func (s *stage) serial() int { return s.update().Serial }

// find is the window of that title, nil where there is none.
func (s *stage) find(title string) *desk.Window {
	ws := s.now().Windows
	if i := slices.IndexFunc(ws, func(w *desk.Window) bool { return w.Title == title }); i >= 0 {
		return ws[i]
	}
	return nil
}

func (s *stage) until(what string, cond func() bool) {
	s.Helper()
	testkit.Until(s.T, what, cond)
}

// open opens windows, one after the other, and waits for each.
func (s *stage) open(titles ...string) {
	s.Helper()
	for _, title := range titles {
		s.Open(title)
		s.until(title+" is on the desk", func() bool { return s.find(title) != nil })
	}
}

// focusedOnDesk waits until commands without a window are about that one: a host may see a
// window before it sees that it has the focus.
func (s *stage) focusedOnDesk(title string) {
	s.Helper()
	s.until(title+" has the focus on the desk", func() bool { w := s.find(title); return w != nil && s.now().Focus == w.ID })
}

// settled waits until every window is seen where the desk says, or not at all.
func (s *stage) settled() {
	s.Helper()
	s.until("every window is where the desk says", func() bool {
		d := s.now()
		for _, w := range d.Windows {
			if r, visible := s.Seen(w.Title); visible != d.Visible(w) || visible && r != w.Rect {
				return false
			}
		}
		return true
	})
}

// unseen tells whether windows are hidden.
func (s *stage) unseen(titles ...string) bool {
	return !slices.ContainsFunc(titles, func(title string) bool { _, visible := s.Seen(title); return visible })
}

func (s *stage) opens() {
	s.open("one", "two")
	s.settled()
	s.until("two has the focus", func() bool { return s.Focused() == "two" })
	s.focusedOnDesk("two")
	d := s.now()
	one, two := s.find("one"), s.find("two")
	if d.Focus != two.ID || one.Rect.Overlaps(two.Rect) {
		s.Errorf("%d has the focus on the desk, and two is %d; they are at %v and %v", d.Focus, two.ID, one.Rect, two.Rect)
	}
}

func (s *stage) switches() {
	s.open("one", "two")
	s.settled()
	was, _ := s.Seen("one")
	s.do("go 2")
	s.settled()
	if !s.unseen("one", "two") {
		s.Error("what is on workspace 1 is seen on 2")
	}
	s.do("go 1")
	s.settled()
	if r, visible := s.Seen("one"); !visible || r != was {
		s.Errorf("one is back at %v, visible %v, and was at %v", r, visible, was)
	}
}

func (s *stage) moves() {
	s.open("one", "two")
	s.focusedOnDesk("two")
	if !s.Alongside { // there it floats anyway
		s.do("float")
	}
	s.settled()
	was, _ := s.Seen("two")
	s.do("nudge right edge")
	s.do("nudge down edge")
	s.settled()
	if r, _ := s.Seen("two"); r.X <= was.X || r.Y <= was.Y {
		s.Errorf("two was at %v, and is at %v", was, r)
	}
	s.do("send B")
	s.settled()
	if w := s.find("two"); w.Monitor != 'B' {
		s.Errorf("two was sent to B and is on %c", w.Monitor)
	}
}

func (s *stage) retitles() {
	s.open("one")
	s.Retitle("one", "another")
	s.until("the new title is on the desk", func() bool { return s.find("another") != nil })
	if n := len(s.now().Windows); n != 1 {
		s.Errorf("there are %d windows", n)
	}
}

func (s *stage) focuses() {
	s.open("one", "two", "three")
	for _, title := range []string{"one", "three", "two"} {
		s.do(fmt.Sprintf("focus #%d", s.find(title).ID))
		s.until(title+" has the focus", func() bool { return s.Focused() == title })
	}
	s.do("go 2")
	s.until("nothing that is hidden has the focus", func() bool { return s.Focused() == "" })
	s.do("go 1")
	s.until("two has it again", func() bool { return s.Focused() == "two" })
}

func (s *stage) closes() {
	s.open("one", "two", "three")
	s.do("close of title:two")
	s.until("two is closed", func() bool { return s.find("two") == nil })
	s.do("kill of title:three")
	s.until("three is ended", func() bool { return s.find("three") == nil })
	s.settled()
	if s.find("one") == nil || !s.unseen("two", "three") {
		s.Errorf("one is %v, and the others are seen", s.find("one"))
	}
}

func (s *stage) ends() {
	s.open("one", "two")
	s.End("two")
	s.until("two is off the desk", func() bool { return s.find("two") == nil })
	s.settled()
	s.until("one has the focus", func() bool { return s.Focused() == "one" })
}

// cable plugs the second monitor in, or pulls it.
func (s *stage) cable(in bool) {
	s.Helper()
	switch {
	case s.Cable != nil:
		s.Cable(in)
	case in:
		s.do("plug B")
	default:
		s.do("pull B")
	}
	s.until("the desk knows of the cable", func() bool { return s.now().Monitor('B').Connected == in })
}

func (s *stage) cables() {
	s.open("one", "two")
	s.focusedOnDesk("two")
	s.do("send B")
	s.settled()
	was, _ := s.Seen("two")
	s.cable(false)
	s.settled()
	if w := s.find("two"); w == nil || w.Monitor != 'A' {
		s.Fatalf("two was on the monitor that is gone, and is %v", w)
	}
	s.cable(true)
	if s.Alongside {
		s.do("back home")
	}
	s.settled()
	if r, visible := s.Seen("two"); !visible || r != was {
		s.Errorf("two is back at %v, visible %v, and was at %v", r, visible, was)
	}
}

func (s *stage) twice() {
	s.open("one", "two")
	s.settled()
	serial := s.serial()
	s.do("go 2")
	s.settled()
	s.do("go 1")
	s.settled()
	if n := s.serial() - serial; n != 2 && !s.Alongside { // there each fact is one
		s.Errorf("two commands made %d updates", n)
	}
}

func (s *stage) stops() {
	s.open("one", "two")
	s.do("go 2")
	s.settled()
	s.stop()
	if s.Alongside {
		if !s.unseen("one", "two") {
			s.Error("the end shows windows, which is not for it to do")
		}
		return
	}
	s.until("every window is seen", func() bool { return !s.unseen("one") && !s.unseen("two") })
}
