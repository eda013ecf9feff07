package store

import (
	"bytes"
	"database/sql"
	"errors"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
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

// A file that is taken away while it is opened, a few times, is made anew.
func TestOpenWhileRemoved(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	for range 50 {
		var removing sync.WaitGroup
		removing.Go(func() {
			for range 3 {
				time.Sleep(time.Duration(rand.IntN(10)) * time.Millisecond)
				os.Remove(path)
			}
		})
		s, err := Open(path)
		var damaged *Damaged
		if s == nil || errors.As(err, &damaged) {
			t.Fatalf("it is not opened: %v", err)
		}
		removing.Wait()
		s.Close()
	}
}

// A log that is taken away under a file that stays is written anew, with all that was kept.
func TestLogRemoved(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	d := desks.Demo(t)
	for _, line := range []string{"add One", "add Two"} {
		d = desks.After(t, d, line)
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

// Where only the index of the log is taken away, nothing that the log has is lost, also while
// another has the file open.
func TestIndexRemoved(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	openAt(t, path)
	for n, line := range []string{"before", "after"} {
		if err := save(s, marked(t, n), []Entry{{At: time.Now(), Source: "line", Words: line}}); err != nil {
			t.Fatal(err)
		}
		os.Remove(path + "-shm")
	}
	if lines, err := openAt(t, path).Logbook(":0", 9); err != nil || len(lines) != 3 || lines[0].Words != "before" {
		t.Errorf("the logbook has %v, %v", lines, err)
	}
}

// Several that open a file where there is none make one, and none takes it for damaged.
func TestOpenTogether(t *testing.T) {
	t.Parallel()
	for range 10 {
		path := filepath.Join(t.TempDir(), "state.db")
		var all sync.WaitGroup
		begin := make(chan struct{})
		var stores [8]*Store
		for i := range stores {
			all.Go(func() {
				<-begin
				s, err := Open(path)
				if err != nil {
					t.Error(err)
				}
				stores[i] = s
			})
		}
		close(begin)
		all.Wait()
		for _, s := range stores {
			if s != nil {
				t.Cleanup(func() { s.Close() })
			}
		}
	}
}

// A file that another one took the place of while it was opened is not kept on in.
func TestMovedWhileOpened(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := &Store{path: path}
	defer s.disconnect()
	if err := errors.Join(s.connect(), s.prepare()); err != nil {
		t.Fatal(err)
	}
	if err := os.Rename(path, path+".old"); err != nil {
		t.Fatal(err)
	}
	if err := s.recognise(); !errors.Is(err, errMoved) {
		t.Errorf("with no file there it says %v", err)
	}
	openAt(t, path)
	if err := s.recognise(); !errors.Is(err, errMoved) {
		t.Errorf("with another file there it says %v", err)
	}
}

// A store holds SQLite's lock on its file after any number of saves: without it another process
// that closes the file takes its log away.
func TestLocksAreKept(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	for n := range 3 {
		if err := save(s, marked(t, n), nil); err != nil {
			t.Fatal(err)
		}
	}
	f, err := os.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	const ofAnOpenFile = 36 // F_OFD_GETLK of fcntl(2), which tells this process of its own locks
	lock := syscall.Flock_t{Type: syscall.F_WRLCK}
	if err := syscall.FcntlFlock(f.Fd(), ofAnOpenFile, &lock); err != nil || lock.Type != syscall.F_RDLCK {
		t.Errorf("the lock is %+v, %v", lock, err)
	}
}

// A file that turns out damaged in a save is set aside by the next one.
func TestDamagedWhileOpen(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	if err := save(s, marked(t, 1), nil); err != nil {
		t.Fatal(err)
	}
	s.db.Exec("PRAGMA wal_checkpoint(TRUNCATE); PRAGMA cache_size = 0; PRAGMA shrink_memory")
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := f.WriteAt(bytes.Repeat([]byte{0xff}, int(info.Size())-4096), 4096); err != nil {
		t.Fatal(err)
	}
	_, first := s.Save(":0", Batch{Desk: marked(t, 2)})
	words, second := s.Save(":0", Batch{Desk: marked(t, 3)})
	if first == nil || second != nil || !strings.Contains(words, "file was damaged") {
		t.Errorf("after %v it says %q, %v", first, words, second)
	}
	if got := mark(t, openAt(t, path)); got != 3 {
		t.Errorf("kept is mark %d", got)
	}
}
