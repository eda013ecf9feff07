package bench

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"log/slog"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/draw/render"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/store"
	"zatlas/internal/survey"
	"zatlas/internal/testkit/desks"
)

// yearOf is a file with n spans of a year up to a moment.
func yearOf(b *testing.B, n int, now time.Time) (path string) {
	b.Helper()
	path = filepath.Join(b.TempDir(), "state.db")
	s, err := store.Open(path)
	if err != nil {
		b.Fatal(err)
	}
	defer s.Close()
	var use store.Use
	step := 365 * 24 * time.Hour / time.Duration(n)
	for i := range n {
		place := 1 + i*7%6
		use.Spans = append(use.Spans, store.KeptSpan{Span: survey.Span{Start: now.Add(-365*24*time.Hour + time.Duration(i)*step).Truncate(time.Second), Seconds: int(step / time.Second),
			Number: place, Workspace: fmt.Sprint("Place ", place), Monitor: 'A', App: fmt.Sprint("App ", i*13%40)}})
	}
	if _, err := s.Save(":1", store.Batch{Use: use}); err != nil {
		b.Fatal(err)
	}
	return path
}

// BenchmarkSurvey: from a year of spans in the file to the figures of all thirteen
// times four weeks, the advice, and the charts of the last; the floor is to read the
// same rows and do nothing with them.
func BenchmarkSurvey(b *testing.B) {
	now := time.Date(2026, 11, 27, 12, 0, 0, 0, time.UTC)
	path, d := yearOf(b, 200_000, now), deskOf(b, 40)
	fonts, err := render.NewFonts()
	if err != nil {
		b.Fatal(err)
	}
	paper, err := render.PaperNamed("a4")
	if err != nil {
		b.Fatal(err)
	}
	var measures, floors []time.Duration
	for range 7 {
		start := time.Now()
		data, err := store.ReadSurvey(path, ":1", now.AddDate(-2, 0, 0), now)
		if err != nil || len(data.Spans) != 200_000 {
			b.Fatal(len(data.Spans), err)
		}
		for later := range 13 {
			r := survey.NewReport(data, survey.Weeks, now, -later)
			if later > 0 {
				continue
			}
			if err := render.Survey(r).Write(io.Discard, ".svg", render.Style{Fonts: fonts, Theme: draw.Day, Paper: paper}); err != nil {
				b.Fatal(err)
			}
		}
		survey.Advise(data, survey.Keyboard{}, d)
		measures = append(measures, time.Since(start))
		start = time.Now()
		readRows(b, path)
		floors = append(floors, time.Since(start))
	}
	report(b, measures, floors)
}

// readRows reads all spans of a file, and does nothing with them.
func readRows(b *testing.B, path string) {
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	rows, err := db.Query("SELECT start, seconds, number, workspace, monitor, app FROM spans ORDER BY start")
	if err != nil {
		b.Fatal(err)
	}
	defer rows.Close()
	for rows.Next() {
		var start int64
		var seconds, number int
		var workspace, monitor, app string
		if err := rows.Scan(&start, &seconds, &number, &workspace, &monitor, &app); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkRecord: go by a keeper that records what the work is like, and by one that does not;
// the floor is a goroutine that answers after it has copied the list of windows.
func BenchmarkRecord(b *testing.B) {
	keep := func(record bool) *keeper.Keeper {
		s, err := store.Open(filepath.Join(b.TempDir(), "state.db"))
		if err != nil {
			b.Fatal(err)
		}
		log := slog.New(slog.DiscardHandler)
		saver := store.NewSaver(s, ":1", 0, log)
		r := store.NewRecorder(saver, func() (time.Duration, error) { return 0, nil }, log)
		r.Set(store.Terms{On: record, Days: 90, Away: time.Hour})
		k := keeper.New(deskOf(b, 400), sim.New(), keeper.Options{Keep: func(u keeper.Update) keeper.Receipt {
			r.Saw(time.Now(), u.Desk, store.Deed{Verb: u.Verb, Form: u.Form, Source: string(u.Source)})
			return nil
		}})
		go k.Run(b.Context())
		b.Cleanup(func() {
			r.Close(context.Background())
			saver.Close(context.Background())
			s.Close()
		})
		return k
	}
	asks, answers := make(chan bool), make(chan []*desk.Window)
	defer close(asks)
	windows := deskOf(b, 400).Windows
	go func() {
		for range asks {
			answers <- slices.Clone(windows)
		}
	}()
	for name, record := range map[string]bool{"recorded": true, "not recorded": false} {
		b.Run(name, func(b *testing.B) {
			k := keep(record)
			var measures, floors []time.Duration
			for i := range 2000 {
				c := desks.Command(b, fmt.Sprint("go ", 1+i%2))
				start := time.Now()
				if o, err := k.Do(b.Context(), c, keeper.Chord); err != nil || o.Err != nil {
					b.Fatal(err, o.Err)
				}
				between := time.Now()
				asks <- true
				<-answers
				measures, floors = append(measures, between.Sub(start)), append(floors, time.Since(between))
			}
			report(b, measures, floors)
		})
	}
}

// BenchmarkJournal: send by a keeper of two thousand windows that answers when it is in the
// journal; the floor is the same by one that has none, in turn with it.
func BenchmarkJournal(b *testing.B) {
	keep := func(journal bool) *keeper.Keeper {
		dir := b.TempDir()
		s, err := store.Open(filepath.Join(dir, "state.db"))
		if err != nil {
			b.Fatal(err)
		}
		saver := store.NewSaver(s, ":1", 1, slog.New(slog.DiscardHandler))
		if journal {
			saver.Journal(filepath.Join(dir, "display--1"))
		}
		k := keeper.New(deskOf(b, 2000), sim.New(), keeper.Options{Keep: func(u keeper.Update) keeper.Receipt {
			return saver.Add(store.Change{Desk: u.Desk, Entry: store.Entry{Words: u.Words}})
		}})
		go k.Run(b.Context())
		b.Cleanup(func() {
			saver.Close(context.Background())
			s.Close()
		})
		return k
	}
	on, off := keep(true), keep(false)
	for _, lines := range [][2]string{{"go 1", "go 2"}, {"send 2 of #1", "send 1 of #1"}, {"send 3 of #5", "undo"}, {"focus next", "focus next"}} {
		b.Run(lines[0], func(b *testing.B) { against(b, on, off, func(i int) string { return lines[i%2] }) })
	}
}

// against reports what commands of a keeper take, with the same of another one as the floor.
func against(b *testing.B, on, off *keeper.Keeper, line func(i int) string) {
	var measures, floors []time.Duration
	for i := range 2000 {
		c := desks.Command(b, line(i))
		turns := []struct {
			*keeper.Keeper
			to *[]time.Duration
		}{{on, &measures}, {off, &floors}}
		for n := range turns {
			k := turns[(i/2+n)%2] // each is the first as often as the other
			start := time.Now()
			if o, err := k.Do(b.Context(), c, keeper.Chord); err != nil || o.Err != nil {
				b.Fatal(err, o.Err)
			}
			*k.to = append(*k.to, time.Since(start))
		}
	}
	report(b, measures, floors)
}
