package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
)

func openAt(t *testing.T, path string) *Store {
	t.Helper()
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func TestSaveAndRead(t *testing.T) {
	path := filepath.Join(t.TempDir(), "new", "state.db")
	s := openAt(t, path)
	if d, err := s.Desk(":0"); d != nil || err != nil {
		t.Errorf("an empty store has %v, %v", d, err)
	}
	d := desks.Demo(t)
	at := time.Now().Truncate(time.Millisecond)
	for i := range 3 {
		if err := save(s, d, []Entry{{At: at, Source: "chord", Words: fmt.Sprintf("line %d", i)}}); err != nil {
			t.Fatal(err)
		}
	}
	s.Close()
	s = openAt(t, path)
	again, err := s.Desk(":0")
	if err != nil || !scene.Equal(d, again) {
		t.Errorf("the desk is not as it was kept: %v", err)
	}
	lines, err := s.Logbook(":0", 2)
	if err != nil || len(lines) != 2 || lines[1].Words != "line 2" || lines[0].Words != "line 1" || !lines[0].At.Equal(at) || lines[0].Source != "chord" {
		t.Errorf("the logbook is %+v, %v", lines, err)
	}
	if other, _ := s.Desk(":1"); other != nil {
		t.Error("another display has this one's desk")
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the file's mode is %v, %v", info.Mode(), err)
	}
}

// Each display keeps its latest lines, however many others have.
func TestLogbooksOfSeveralDisplays(t *testing.T) {
	s := openAt(t, filepath.Join(t.TempDir(), "state.db"))
	lines := func(n int) (all []Entry) {
		for i := range n {
			all = append(all, Entry{At: time.Now(), Source: "chord", Words: fmt.Sprint(i), Server: 1, Step: i + 1})
		}
		return all
	}
	tx, err := s.db.Begin()
	if err != nil {
		t.Fatal(err)
	}
	for _, some := range []struct {
		display string
		n       int
	}{{":0", 6_000}, {":1", 6_000}, {":0", 3_000}, {":1", 6_000}} {
		if err := saveEntries(tx, some.display, lines(some.n)); err != nil {
			t.Fatal(err)
		}
	}
	for display, want := range map[string]int{":0": 9_000, ":1": maxEntries} {
		n, points := 0, 0
		if err := tx.QueryRow("SELECT count(*), (SELECT count(*) FROM points WHERE id IN (SELECT id FROM logbook WHERE display = ?1)) FROM logbook WHERE display = ?1", display).Scan(&n, &points); err != nil || n != want || points != n {
			t.Errorf("of %s %d lines and %d points are kept, want %d, %v", display, n, points, want, err)
		}
	}
	tx.Rollback()
}

func TestDamagedFilesAreSetAside(t *testing.T) {
	whole := filepath.Join(t.TempDir(), "whole.db")
	s := openAt(t, whole)
	if err := save(s, desks.Demo(t), nil); err != nil {
		t.Fatal(err)
	}
	s.Close()
	good, err := os.ReadFile(whole)
	if err != nil {
		t.Fatal(err)
	}
	for name, data := range map[string][]byte{
		"garbage":   []byte(strings.Repeat("no database at all ", 100)),
		"truncated": good[:len(good)/2],
		"torn":      append(append([]byte{}, good[:3000]...), make([]byte, len(good)-3000)...),
	} {
		t.Run(name, func(t *testing.T) {
			path := filepath.Join(t.TempDir(), "state.db")
			if err := os.WriteFile(path, data, 0o600); err != nil {
				t.Fatal(err)
			}
			s, err := Open(path)
			var damaged *Damaged
			if !errors.As(err, &damaged) || s == nil {
				t.Fatalf("opened with %v, %v", s, err)
			}
			defer s.Close()
			if aside, err := os.ReadFile(damaged.Aside); err != nil || string(aside) != string(data) {
				t.Errorf("what was there is lost: %v", err)
			}
			if err := save(s, desks.Demo(t), nil); err != nil {
				t.Errorf("the new file does not work: %v", err)
			}
		})
	}
}

func TestLaterVersionIsLeftAlone(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	db, err := sql.Open("sqlite", "file:"+path)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("CREATE TABLE other (x); PRAGMA user_version = 99"); err != nil {
		t.Fatal(err)
	}
	db.Close()
	before, _ := os.ReadFile(path)
	if s, err := Open(path); !errors.Is(err, ErrLater) || s != nil {
		t.Errorf("opened with %v, %v", s, err)
	}
	if after, _ := os.ReadFile(path); string(before) != string(after) {
		t.Error("the file was changed")
	}
}

func TestPlacesThatCannotBe(t *testing.T) {
	file := filepath.Join(t.TempDir(), "file")
	if err := os.WriteFile(file, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{"", filepath.Join(file, "state.db"), "/proc/none/state.db", t.TempDir()} {
		if s, err := Open(path); err == nil || s != nil {
			t.Errorf("%q: %v, %v", path, s, err)
		}
	}
}

func TestSaver(t *testing.T) {
	s := openAt(t, filepath.Join(t.TempDir(), "state.db"))
	v := NewSaver(s, ":0", 0, slog.New(slog.DiscardHandler))
	d := desks.Demo(t)
	for i := range 500 {
		next, _, err := d.Apply(desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: i%6 + 1}}})
		if err != nil {
			t.Fatal(err)
		}
		d = next
		v.Add(Change{Desk: d, Entry: Entry{Source: "key", Words: fmt.Sprint(i)}})
	}
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	v.Close(ctx)
	kept, err := s.Desk(":0")
	if err != nil || !scene.Equal(d, kept) {
		t.Errorf("the last desk was not kept: %v", err)
	}
	lines, err := s.Logbook(":0", 1000)
	if err != nil || len(lines) != 500 || lines[499].Words != "499" {
		t.Errorf("%d lines were kept, %v", len(lines), err)
	}
	// A line may take the place of the one before, be that kept already or not.
	for i, e := range []Entry{{Words: "a"}, {Words: "b", Instead: true}, {Words: "c"}, {Words: "d", Instead: true}, {Words: "e", Instead: true}} {
		if i%2 == 0 {
			v = NewSaver(s, ":1", 0, slog.New(slog.DiscardHandler))
		}
		if v.Add(Change{Desk: d, Entry: e}); i%2 == 1 || i == 4 {
			v.Close(ctx)
		}
	}
	words := ""
	lines, err = s.Logbook(":1", 10)
	for _, l := range lines {
		words += l.Words
	}
	if err != nil || words != "be" {
		t.Errorf("the lines kept are %q, %v", words, err)
	}
	// A store that fails is told once, and nothing waits for it.
	s.Close()
	v = NewSaver(s, ":0", 0, slog.New(slog.DiscardHandler))
	v.Add(Change{Desk: d})
	soon, stop := context.WithTimeout(ctx, 100*time.Millisecond) // it is tried for as long as there is time
	defer stop()
	v.Close(soon)
}

// What a file says is as little trusted as what a window says.
func TestHostileFile(t *testing.T) {
	s := openAt(t, filepath.Join(t.TempDir(), "state.db"))
	if err := save(s, marked(t, 1), []Entry{{At: time.Now(), Source: "key\x1b[31m", Words: "Sent\x1b]0;x\x07 it\r\nto \u202e3."}}); err != nil {
		t.Fatal(err)
	}
	lines, err := s.Logbook(":0", 9)
	if err != nil || len(lines) != 1 || lines[0].Source != "key" || lines[0].Words != "Sent it to 3." {
		t.Errorf("the logbook is %+v, %v", lines, err)
	}
}

// save keeps a desk and lines.
func save(s *Store, d *desk.Desk, entries []Entry) error {
	_, err := s.Save(":0", Batch{Desk: d, Entries: entries})
	return err
}

// A file of the version before is brought up to this one, and a copy of it is kept.
func TestEarlierVersion(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	if err := save(s, desks.Demo(t), []Entry{{Words: "before"}}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.db.Exec("DROP TABLE steps; DROP TABLE points; DROP TABLE laid; PRAGMA user_version = 1"); err != nil {
		t.Fatal(err)
	}
	s.Close()
	for range 2 { // and again, as what it is by then
		s = openAt(t, path)
		d, err := s.Desk(":0")
		lines, err2 := s.Logbook(":0", 9)
		if err != nil || err2 != nil || d == nil || len(lines) != 1 {
			t.Errorf("after it there are %v, %v, %v, %v", d, lines, err, err2)
		}
		s.Close()
	}
	info, err := os.Stat(path + ".version-1")
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Fatalf("the copy: %v", err)
	}
	db, err := sql.Open("sqlite", path+".version-1")
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var found int
	if err := db.QueryRow("PRAGMA user_version").Scan(&found); err != nil || found != 1 {
		t.Errorf("the copy is of version %d, %v", found, err)
	}
}

// Looking at the logbook of a file that is damaged says so, and leaves the file.
func TestLookingAtDamaged(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	if lines, err := ReadLogbook(path, ":0", 9); err != nil || lines != nil {
		t.Errorf("of no file: %v, %v", lines, err)
	}
	if err := os.WriteFile(path, []byte("SQLite format 3\x00, and then nothing of the kind"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := ReadLogbook(path, ":0", 9); err == nil {
		t.Error("nothing is said")
	}
	files, err := os.ReadDir(filepath.Dir(path))
	if err != nil || len(files) != 1 {
		t.Errorf("there are %v, %v", files, err)
	}
}
