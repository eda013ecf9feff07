package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/testkit"
)

// hold locks the file for writing until the function it gives is called.
func hold(t *testing.T, path string) (free func()) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+path+"?_txlock=immediate&_pragma=busy_timeout(2000)")
	if err != nil {
		t.Fatal(err)
	}
	tx, err := db.Begin()
	if err != nil {
		t.Fatal(err)
	}
	return func() {
		tx.Rollback()
		db.Close()
	}
}

// Changes that come while nothing can be written are written when it can be: the
// last desk and every line, in their order.
func TestNothingIsLostBehindALock(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	log := &testkit.Buffer{}
	v := NewSaver(openAt(t, path), ":0", 0, slog.New(slog.NewTextHandler(log, nil)))
	free := hold(t, path)
	const n = 1500
	for i := 1; i <= n; i++ {
		e := Entry{Source: "line", Words: fmt.Sprint("line ", i)}
		v.Add(Change{Desk: marked(t, i%7), Entry: e})
		v.AddChoice("Hall Plan", apps.Choice{Count: i, At: time.Now()})
	}
	v.Add(Change{Desk: marked(t, 4711), Entry: Entry{Source: "line", Words: "line 1500, joined", Instead: true}})
	testkit.Until(t, "a write has failed", func() bool { return strings.Contains(log.String(), "cannot be kept") })
	free()
	other := openAt(t, path)
	testkit.Until(t, "the last desk is on disk", func() bool { return mark(t, other) == 4711 })
	lines, err := other.Logbook(":0", 2*n)
	if err != nil || len(lines) != n || lines[0].Words != "line 1" || lines[n-1].Words != "line 1500, joined" {
		t.Errorf("%d lines are on disk, %v", len(lines), err)
	}
	if chosen, err := other.Chosen(); err != nil || chosen["Hall Plan"].Count != n {
		t.Errorf("chosen are %v, %v", chosen, err)
	}
	v.Close(t.Context())
}

// What waits at the end is written at the end.
func TestCloseWritesWhatWaits(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	v := NewSaver(openAt(t, path), ":0", 0, slog.New(slog.DiscardHandler))
	free := hold(t, path)
	for i := range 100 {
		v.Add(Change{Desk: marked(t, i+1), Entry: Entry{Source: "line", Words: "x"}})
	}
	time.AfterFunc(50*time.Millisecond, free)
	v.Close(t.Context())
	s := openAt(t, path)
	if lines, err := s.Logbook(":0", 1000); mark(t, s) != 100 || len(lines) != 100 {
		t.Errorf("mark %d, %d lines, %v", mark(t, s), len(lines), err)
	}
}

// A file that stays locked does not hold up the end, and lines beyond the bound
// are let go, which is said.
func TestBounds(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	log := &testkit.Buffer{}
	v := NewSaver(openAt(t, path), ":0", 0, slog.New(slog.NewTextHandler(log, nil)))
	free := hold(t, path)
	defer free()
	d := marked(t, 1)
	for i := range maxWaiting + 2000 {
		v.Add(Change{Desk: d, Entry: Entry{Source: "line", Words: fmt.Sprint(i)}})
	}
	testkit.Until(t, "the bound is told", func() bool { return strings.Contains(log.String(), "oldest are let go") })
	v.mu.Lock()
	if n := len(v.waiting.Entries); n > maxWaiting {
		t.Errorf("%d lines wait", n)
	}
	v.mu.Unlock()
	ctx, cancel := context.WithTimeout(t.Context(), 10*time.Millisecond)
	defer cancel()
	v.Close(ctx)
	<-ctx.Done()
	free()
	<-v.ended // it still writes to the folder that goes with the test
}

// A file that is removed, replaced or written over is noticed at the next save.
func TestFileGoesUnderIt(t *testing.T) {
	other := filepath.Join(t.TempDir(), "other.db")
	o := openAt(t, other)
	if err := save(o, marked(t, 7), []Entry{{At: time.Now(), Source: "line", Words: "of the other"}}); err != nil {
		t.Fatal(err)
	}
	o.Close()
	for _, c := range []struct {
		name string
		do   func(path string) error
		said string
		n    int // lines in the end, with the one that says so
	}{
		{"removed", os.Remove, "was removed", 2},
		{"replaced", func(path string) error { return os.Rename(other, path) }, "was replaced", 3},
		{"no store", func(path string) error { return os.WriteFile(path, []byte("no store at all"), 0o600) }, "was written over", 2},
		{"a folder removed", func(path string) error { return os.RemoveAll(filepath.Dir(path)) }, "was removed", 2},
	} {
		t.Run(c.name, func(t *testing.T) {
			path := filepath.Join(t.TempDir(), "state", "state.db")
			s := openAt(t, path)
			if err := save(s, marked(t, 1), []Entry{{At: time.Now(), Source: "line", Words: "before"}}); err != nil {
				t.Fatal(err)
			}
			if err := c.do(path); err != nil {
				t.Fatal(err)
			}
			words, err := s.Save(":0", Batch{Desk: marked(t, 2), Entries: []Entry{{At: time.Now(), Source: "line", Words: "after"}}})
			if err != nil || !strings.Contains(words, c.said) {
				t.Fatalf("it says %q, %v", words, err)
			}
			if words, err := s.Save(":0", Batch{Desk: marked(t, 3)}); err != nil || words != "" {
				t.Errorf("the time after it says %q, %v", words, err)
			}
			again := openAt(t, path)
			if lines, err := again.Logbook(":0", 9); mark(t, again) != 3 || len(lines) != c.n {
				t.Errorf("mark %d, lines %v, %v", mark(t, again), lines, err)
			}
		})
	}
}

// Nobody else reads what is beside the file either.
func TestModesBesideIt(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	if err := save(s, marked(t, 1), nil); err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{"", "-wal", "-shm"} {
		if info, err := os.Stat(path + part); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("state.db%s: %v %v", part, info, err)
		}
	}
}

// A kept desk that cannot be read is set aside, not written over.
func TestUnreadableDeskIsSetAside(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	if err := save(s, marked(t, 1), nil); err != nil {
		t.Fatal(err)
	}
	if _, err := s.db.Exec("UPDATE desks SET scene = '{\"format\": \"broken'"); err != nil {
		t.Fatal(err)
	}
	d, err := s.Desk(":0")
	var u *Unreadable
	if d != nil || !errors.As(err, &u) {
		t.Fatalf("read as %v, %v", d, err)
	}
	if err := save(s, marked(t, 2), nil); err != nil || mark(t, s) != 2 {
		t.Errorf("the next save: %v", err)
	}
	var text string
	if err := s.db.QueryRow("SELECT scene FROM desks WHERE display = ?", u.Aside).Scan(&text); err != nil || !strings.Contains(text, "broken") {
		t.Errorf("set aside is %q, %v", text, err)
	}
}

func TestPathsThatAreNoFiles(t *testing.T) {
	dir := t.TempDir()
	link := filepath.Join(dir, "zero")
	if err := os.Symlink("/dev/zero", link); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{dir, link, "/dev/null"} {
		if s, err := Open(path); s != nil || err == nil || !strings.Contains(err.Error(), path) {
			t.Errorf("%s: %v, %v", path, s, err)
		}
	}
	if _, err := os.Stat(dir + "-wal"); !errors.Is(err, fs.ErrNotExist) {
		t.Error("something was written")
	}
}
