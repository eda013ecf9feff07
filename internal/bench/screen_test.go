package bench

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"runtime"
	"syscall"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"

	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/scene"
	"zatlas/internal/testkit"
	"zatlas/internal/tui"
	"zatlas/internal/tui/cells"
	"zatlas/internal/tui/terminal"
)

// screens drives the screens without the library's loop, and adds up the time that
// they take themselves.
type screens struct {
	b    *testing.B
	m    tea.Model
	msgs chan tea.Msg
	own  time.Duration
}

func drive(b *testing.B, m tea.Model) *screens {
	s := &screens{b: b, m: m, msgs: make(chan tea.Msg, 100)}
	s.run(m.Init())
	s.take(tea.WindowSizeMsg{Width: 160, Height: 40})
	s.take(<-s.msgs) // the first snapshot
	return s
}

// take has the screens follow a message and draw.
func (s *screens) take(msg tea.Msg) {
	start := time.Now()
	m, cmd := s.m.Update(msg)
	if m.View().Content == "" {
		s.b.Fatal("nothing is drawn")
	}
	s.own += time.Since(start)
	s.m = m
	s.run(cmd)
}

// run runs a command of the screens, and every one of a batch.
func (s *screens) run(cmd tea.Cmd) {
	if cmd == nil {
		return
	}
	go func() {
		switch msg := cmd().(type) {
		case tea.BatchMsg:
			for _, c := range msg {
				s.run(c)
			}
		case nil:
		default:
			s.msgs <- msg
		}
	}()
}

// BenchmarkRest: an open screen of 20 windows while nobody does anything: the CPU that the process
// takes and how often it is switched to, a minute. The floor is nothing at all: the process
// without a screen.
func BenchmarkRest(b *testing.B) {
	const watched = 10 * time.Second
	rest := func() (cpu, switches float64) {
		var was, now syscall.Rusage
		runtime.GC()
		syscall.Getrusage(syscall.RUSAGE_SELF, &was)
		time.Sleep(watched)
		syscall.Getrusage(syscall.RUSAGE_SELF, &now)
		minutes := watched.Minutes()
		used := func(r syscall.Rusage) int64 { return r.Utime.Nano() + r.Stime.Nano() }
		return float64(used(now)-used(was)) / 1e6 / minutes, float64(now.Nvcsw-was.Nvcsw+now.Nivcsw-was.Nivcsw) / minutes
	}
	floorCPU, floorSwitches := rest()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	k := keeper.New(deskOf(b, 20), sim.New(), keeper.Options{})
	go k.Run(ctx)
	_, keys := onScreen(func(t *terminal.Terminal) {
		tui.Run(ctx, k, tui.Options{Name: "bench", Theme: cells.Night, On: t})
	})
	defer keys.Close()
	time.Sleep(32 * time.Second) // it rests half a minute after the last news
	cpu, switches := rest()
	for _, m := range []struct {
		value float64
		unit  string
	}{{cpu, "cpu-ms/min"}, {floorCPU, "floor-cpu-ms/min"}, {switches, "switches/min"}, {floorSwitches, "floor-switches/min"}, {0, "ns/op"}} {
		b.ReportMetric(m.value, m.unit)
	}
}

func key(text string) tea.KeyPressMsg { return tea.KeyPressMsg{Text: text, Code: []rune(text)[0]} }

// BenchmarkScreen: what the screens themselves do from a key to the frame that is
// handed to the library: one that moves the choice, and one that goes to another
// workspace, from its command to the snapshot. The floor is a program that only echoes
// the key, without the library's loop either.
func BenchmarkScreen(b *testing.B) {
	for _, n := range []int{20, 500, 2000} {
		b.Run(fmt.Sprint(n, " windows"), func(b *testing.B) {
			ctx, cancel := context.WithCancel(context.Background())
			defer cancel()
			k := keeper.New(deskOf(b, n), sim.New(), keeper.Options{})
			go k.Run(ctx)
			s := drive(b, tui.New(ctx, k, tui.Options{Name: "bench", Theme: cells.Night}))
			var chosen, gone, floors []time.Duration
			for i := range 100 {
				s.own = 0
				s.take(key([]string{"l", "h"}[i%2]))
				chosen = append(chosen, s.own)
				s.own = 0
				s.take(key([]string{"2", "1"}[i%2]))
				for range 2 { // the answer and the snapshot, in any order
					select {
					case msg := <-s.msgs:
						s.take(msg)
					case <-time.After(testkit.Deadline):
						b.Fatal("no snapshot came")
					}
				}
				gone = append(gone, s.own)
				start := time.Now()
				e, _ := tea.Model(echo{}).Update(key("l"))
				e.View()
				floors = append(floors, time.Since(start))
			}
			report(b, chosen, floors)
			b.ReportMetric(float64(median(gone).Nanoseconds()), "go-ns")
		})
	}
}

// BenchmarkSceneRead: a scene of 10,000 windows read strictly, into a desk that is laid out
// and checked; the floor is the standard library, which makes plain maps and lists of it.
func BenchmarkSceneRead(b *testing.B) {
	const n = 10_000
	var text bytes.Buffer
	if err := scene.Write(&text, wideDesk(b, n)); err != nil {
		b.Fatal(err)
	}
	var measures, floors []time.Duration
	var before, after runtime.MemStats
	allocs := uint64(0)
	for range 10 {
		runtime.ReadMemStats(&before)
		start := time.Now()
		if _, err := scene.Read(bytes.NewReader(text.Bytes())); err != nil {
			b.Fatal(err)
		}
		measures = append(measures, time.Since(start))
		runtime.ReadMemStats(&after)
		allocs = after.Mallocs - before.Mallocs
		start = time.Now()
		var plain any
		if err := json.Unmarshal(text.Bytes(), &plain); err != nil {
			b.Fatal(err)
		}
		floors = append(floors, time.Since(start))
	}
	report(b, measures, floors)
	b.ReportMetric(float64(allocs)/n, "allocs/window")
}

// BenchmarkSheetWithPictures: from the key that shows a sheet at large to the frame with all of
// its windows' pictures, for eight windows, which are drawn for the first time; the floor is the
// same without pictures.
func BenchmarkSheetWithPictures(b *testing.B) {
	first := func(pictured bool) time.Duration {
		ctx, cancel := context.WithCancel(context.Background())
		defer cancel()
		host := sim.New()
		k := keeper.New(deskOf(b, 8), host, keeper.Options{})
		go k.Run(ctx)
		s := drive(b, tui.New(ctx, k, tui.Options{Name: "bench", Theme: cells.Night, Simulated: true, Pictures: host.Album(), Pictured: pictured}))
		s.take(tea.ColorProfileMsg{Profile: colorprofile.TrueColor})
		if pictured { // those of the map come first, and say what a picture looks like
			s.untilPictured()
		}
		start := time.Now()
		s.take(key("z"))
		if pictured {
			s.untilPictured()
		} else if s.quarters() > 0 {
			b.Fatal("there are pictures")
		}
		return time.Since(start)
	}
	var with, without []time.Duration
	for range 15 {
		with, without = append(with, first(true)), append(without, first(false))
	}
	report(b, with, without)
}

// quarters counts the cells of pictures.
func (s *screens) quarters() (n int) {
	for _, r := range s.m.View().Content {
		if r >= '▖' && r <= '▟' {
			n++
		}
	}
	return n
}

// untilPictured draws what comes until there are pictures.
func (s *screens) untilPictured() {
	late := time.After(testkit.Deadline)
	for s.quarters() == 0 {
		select {
		case msg := <-s.msgs:
			s.take(msg)
		case <-late:
			s.b.Fatal("no picture came")
		}
	}
}
