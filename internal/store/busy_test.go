package store

import (
	"context"
	"database/sql"
	"errors"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"
	"time"

	"zatlas/internal/scene"
)

// locked makes a file of SQLite's that nobody else can read until free is called.
func locked(t *testing.T, path string) (free func()) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+path+"?_txlock=exclusive")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	if _, err := db.Exec("CREATE TABLE other (a)"); err != nil {
		t.Fatal(err)
	}
	tx, err := db.Begin()
	if err != nil {
		t.Fatal(err)
	}
	return func() { tx.Rollback() }
}

// A file that is locked is waited for; where it stays so that is said, and it is not taken
// for a damaged one.
func TestOpenLocked(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	free := locked(t, path)
	s, err := Open(path)
	var damaged *Damaged
	if s != nil || !passes(err) || errors.As(err, &damaged) {
		t.Errorf("while it is locked: %v, %v", s, err)
	}
	if all, _ := filepath.Glob(path + ".damaged*"); len(all) > 0 {
		t.Errorf("it was set aside as %v", all)
	}
	if info, err := os.Stat(path); err != nil || info.Size() == 0 {
		t.Errorf("the file is %v, %v", info, err)
	}
	time.AfterFunc(patience/10, free)
	s, err = Open(path)
	if err != nil {
		t.Fatalf("once it is free: %v", err)
	}
	s.Close()
}

// A file that is taken away while it is opened is made anew.
func TestOpenWhileRemoved(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		for ctx.Err() == nil {
			time.Sleep(time.Duration(rand.IntN(30)) * time.Millisecond)
			os.Remove(path)
		}
	}()
	for range 50 {
		s, err := Open(path)
		var damaged *Damaged
		if s == nil || errors.As(err, &damaged) {
			t.Fatalf("it is not opened: %v", err)
		}
		s.Close()
	}
	stop()
	<-ended
}

// A log that is taken away under a file that stays is written anew, with all that was kept.
func TestLogRemoved(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	d := demo(t)
	for _, line := range []string{"add One", "add Two"} {
		d = applied(t, d, line)
		words, err := s.Save(":0", Batch{Desk: d})
		if err != nil || (words != "") != (line == "add Two") {
			t.Errorf("after %s it says %q, %v", line, words, err)
		}
		os.Remove(path + "-wal")
	}
	if _, err := s.Save(":0", Batch{Desk: d}); err != nil {
		t.Fatal(err)
	}
	if kept, err := openAt(t, path).Desk(":0"); err != nil || !scene.Equal(kept, d) {
		t.Errorf("kept is another desk: %v", err)
	}
}
