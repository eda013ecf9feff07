package store

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/survey"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// kept is a store on a new file with its saver, which ends with the test.
func kept(t *testing.T) (path string, v *Saver, end func()) {
	t.Helper()
	path = filepath.Join(t.TempDir(), "state.db")
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	v = NewSaver(s, ":7", 0, slog.New(slog.DiscardHandler))
	ended := false
	end = func() {
		if !ended {
			ended = true
			v.Close(context.Background())
			s.Close()
		}
	}
	t.Cleanup(end)
	return path, v, end
}

func all(t *testing.T, path string) survey.Data {
	t.Helper()
	d, err := ReadSurvey(path, ":7", time.Unix(0, 0).UTC(), time.Now().AddDate(1, 0, 0))
	if err != nil {
		t.Fatal(err)
	}
	return d
}

var nine = time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)

func spanAt(minute, seconds int, app string) survey.Span {
	return survey.Span{Start: nine.Add(time.Duration(minute) * time.Minute), Seconds: seconds, Number: 1, Workspace: "Foyer", Monitor: 'B', App: app}
}

func TestUseIsKept(t *testing.T) {
	path, v, end := kept(t)
	day := survey.DayOf(nine)
	v.AddUse(Use{Spans: []KeptSpan{{spanAt(0, 60, "Ledger"), false}}, Tallies: map[survey.Tally]int{{Day: day, Kind: survey.Open, Name: "09"}: 7, {Day: day, Kind: survey.Found}: 2}})
	testkit.Until(t, "the first span is there", func() bool { return len(all(t, path).Spans) == 1 })
	v.AddUse(Use{Spans: []KeptSpan{{spanAt(0, 90, "Ledger"), true}, {spanAt(5, 10, "Till"), false}}, Tallies: map[survey.Tally]int{{Day: day, Kind: survey.Open, Name: "09"}: 5, {Day: day, Kind: survey.Found}: 1}})
	end()
	got := fmt.Sprint(all(t, path))
	want := fmt.Sprint(survey.Data{Spans: []survey.Span{spanAt(0, 90, "Ledger"), spanAt(5, 10, "Till")}, Tallies: []survey.Tally{{Day: day, Kind: survey.Found, N: 3}, {Day: day, Kind: survey.Open, Name: "09", N: 7}}})
	if got != want {
		t.Errorf("kept is\n%s\nwant\n%s", got, want)
	}
	if d, err := ReadSurvey(path, ":7", nine.Add(-time.Hour), nine.Add(time.Minute)); err != nil || len(d.Spans) != 1 {
		t.Errorf("of the first minute: %v, %v", d, err)
	}
	for _, none := range []string{filepath.Join(t.TempDir(), "none.db"), ""} {
		if d, err := ReadSurvey(none, ":7", nine, nine); err != nil || len(d.Spans) > 0 {
			t.Errorf("of no file: %v, %v", d, err)
		}
	}
}

// What is forgotten is in none of the files any more, and does not come back by the
// span that is open.
func TestForgetIsForGood(t *testing.T) {
	path, v, end := kept(t)
	v.AddUse(Use{Spans: []KeptSpan{{spanAt(0, 60, "Velvet Rope"), false}, {spanAt(30, 60, "Popcorn Count"), false}}, Tallies: map[survey.Tally]int{{Day: survey.DayOf(nine), Kind: survey.Found}: 1}})
	testkit.Until(t, "both are there", func() bool { return len(all(t, path).Spans) == 2 })
	holds := func(word string) bool {
		for _, part := range []string{"", "-wal"} {
			data, err := os.ReadFile(path + part)
			if err == nil && bytes.Contains(data, []byte(word)) {
				return true
			}
		}
		return false
	}
	if !holds("Popcorn Count") {
		t.Fatal("what is kept cannot be found by its bytes")
	}
	if n, _, err := ForgetSurvey(path, ":7", nine.Add(20*time.Minute)); n != 1 || err != nil || holds("Popcorn Count") || !holds("Velvet Rope") {
		t.Errorf("%d forgotten, %v; the newer still there: %v, the older: %v", n, err, holds("Popcorn Count"), holds("Velvet Rope"))
	}
	v.AddUse(Use{Spans: []KeptSpan{{spanAt(30, 200, "Popcorn Count"), true}}})
	end()
	if d := all(t, path); len(d.Spans) != 1 || len(d.Tallies) != 0 || holds("Popcorn Count") {
		t.Errorf("left are %v", d)
	}
	// A copy of an earlier version is erased in too, and a damaged file whole.
	data, err := os.ReadFile(path)
	if err != nil || !holds("Velvet Rope") {
		t.Fatal("the older one is gone", err)
	}
	aside := path + ".damaged-20261128-100000"
	for name, text := range map[string]string{path + ".version-1": string(data), aside: "none, but for Velvet Rope", aside + "-wal": "Velvet Rope", aside + "-shm": "x"} {
		if err := os.WriteFile(name, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if n, gone, err := ForgetSurvey(path, ":7.0", time.Time{}); n != 1 || err != nil || len(gone) != 3 || gone[0] != aside {
		t.Errorf("%d forgotten, and the files %q, %v", n, gone, err)
	}
	files, _ := filepath.Glob(filepath.Join(filepath.Dir(path), "*"))
	for _, name := range files {
		if data, _ := os.ReadFile(name); bytes.Contains(data, []byte("Velvet Rope")) || strings.Contains(name, "damaged") {
			t.Errorf("%s is left, %d bytes", name, len(data))
		}
	}
	if n, _, err := ForgetSurvey(path, ":8", time.Time{}); n != 0 || err != nil {
		t.Errorf("of another display: %d, %v", n, err)
	}
}

func TestOldUseIsLetGo(t *testing.T) {
	path, v, end := kept(t)
	v.AddUse(Use{Spans: []KeptSpan{{spanAt(0, 60, "A"), false}, {spanAt(60, 60, "B"), false}}, Before: nine.Add(30 * time.Minute)})
	end()
	if d := all(t, path); len(d.Spans) != 1 || d.Spans[0].App != "B" {
		t.Errorf("left are %v", d)
	}
}

// The recorder makes spans of the desks it is told of, counts, and lets nothing be
// known while it is off or the user away.
func TestRecorder(t *testing.T) {
	path, v, end := kept(t)
	idle := make(chan time.Duration, 1)
	idle <- 0
	r := NewRecorder(v, func() (time.Duration, error) {
		n := <-idle
		idle <- n
		return n, nil
	}, slog.New(slog.DiscardHandler))
	d := desks.Demo(t)
	r.Saw(time.Now(), d, Deed{Verb: "go", Source: "key"}) // off: not told
	r.Set(Terms{On: true, Days: 3000, Away: time.Hour, Every: 20 * time.Millisecond})
	at := time.Now().Add(-30 * time.Minute)
	saw := func(minute int, line string) {
		t.Helper()
		c, err := lang.ParseCommand(line)
		if err != nil {
			t.Fatal(err)
		}
		if d, _, err = d.Apply(c); err != nil {
			t.Fatal(err)
		}
		r.Saw(at.Add(time.Duration(minute)*time.Minute), d, Deed{Verb: c.Verb, Form: survey.FormOf(c), Source: "key"})
	}
	r.Saw(at, d, Deed{})
	saw(1, "go 2")
	saw(2, "focus #22")
	saw(4, "rescue of is:stray")
	d, _ = d.With(desk.Changed{ID: 14, Change: func(w *desk.Window) { w.Rect = geom.R(9000, 9000, 300, 200) }})
	r.Saw(at.Add(5*time.Minute), d, Deed{})
	testkit.Until(t, "the open span is kept while it is open", func() bool {
		s := all(t, path).Spans
		return len(s) == 3 && s[2].Seconds > 25*60
	})
	<-idle
	idle <- 20 * time.Minute // less than an hour: still there
	r.Set(Terms{})
	testkit.Until(t, "it is off", func() bool { r.mu.Lock(); defer r.mu.Unlock(); return len(r.waiting) == 0 })
	r.Saw(time.Now(), d, Deed{Verb: "send", Source: "key"})
	r.Close(context.Background())
	end()
	var got []string
	data := all(t, path)
	for _, s := range data.Spans {
		got = append(got, fmt.Sprintf("%d %s %s", s.Number, s.App, s.Start.Sub(at.Truncate(time.Second)).Truncate(time.Minute)))
	}
	if want := "1 Reel Ledger 0s, 2 Subtitle Bench 1m0s, 2 Subtitle Bench 2m0s"; strings.Join(got, ", ") != want {
		t.Errorf("spans: %s\nwant   %s", strings.Join(got, ", "), want)
	}
	counts := map[string]int{}
	for _, c := range data.Tallies {
		counts[string(c.Kind)+" "+strings.ReplaceAll(c.Name, "\t", ",")] += c.N
	}
	for name, want := range map[string]int{"done go,key": 1, "done rescue,key": 1, "done send,key": 0, "found ": 1, "rescued ": 3, "switch Programme,Subtitles": 1} {
		if counts[name] != want {
			t.Errorf("%q was counted %d times, want %d: %v", name, counts[name], want, counts)
		}
	}
}

// While the user is away nothing is counted, and the span ends with the last key.
func TestRecorderAway(t *testing.T) {
	t.Parallel()
	path, v, end := kept(t)
	var last time.Time
	r := NewRecorder(v, func() (time.Duration, error) { return time.Since(last), nil }, slog.New(slog.DiscardHandler))
	last = time.Now().Add(-time.Second)
	d := desks.Demo(t)
	r.Set(Terms{On: true, Days: 90, Away: 3 * time.Second, Every: 50 * time.Millisecond})
	began := time.Now().Add(-2500 * time.Millisecond)
	r.Saw(began, d, Deed{})
	testkit.Until(t, "the span ends with the last key", func() bool {
		s := all(t, path).Spans
		return len(s) == 1 && !s[0].End().After(last)
	})
	r.Close(context.Background())
	end()
	if s := all(t, path).Spans; len(s) != 1 || s[0].Start.After(began) || s[0].End().After(last) {
		t.Errorf("kept is %v, the last key was at %v", s, last)
	}
}
