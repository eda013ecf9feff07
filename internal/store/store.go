// Package store keeps what must outlast a keeper and its display, in SQLite:
// the arrangement of each display after every change, and the logbook of what
// was done.
package store

import (
	"bytes"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/scene"
)

// Version is of the tables. A file of a later one is left alone, and one of an earlier is
// brought up to it, with a copy kept.
const Version = 2

const schema = `
CREATE TABLE desks (display TEXT PRIMARY KEY, scene BLOB NOT NULL, at INTEGER NOT NULL);
CREATE TABLE logbook (id INTEGER PRIMARY KEY, display TEXT NOT NULL, at INTEGER NOT NULL, source TEXT NOT NULL, words TEXT NOT NULL);
CREATE INDEX logbook_by_display ON logbook (display, id);
`

// added are tables that came later; files without them get them.
const added = `CREATE TABLE IF NOT EXISTS chosen (app TEXT PRIMARY KEY, count INTEGER NOT NULL, at INTEGER NOT NULL);
CREATE TABLE IF NOT EXISTS spans (display TEXT NOT NULL, start INTEGER NOT NULL, seconds INTEGER NOT NULL, number INTEGER NOT NULL,
	workspace TEXT NOT NULL, monitor TEXT NOT NULL, app TEXT NOT NULL, PRIMARY KEY (display, start)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS tallies (display TEXT NOT NULL, day TEXT NOT NULL, kind TEXT NOT NULL, name TEXT NOT NULL, n INTEGER NOT NULL,
	PRIMARY KEY (display, day, kind, name)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS steps (display TEXT NOT NULL, server INTEGER NOT NULL, side INTEGER NOT NULL, number INTEGER NOT NULL, prev INTEGER NOT NULL, words TEXT NOT NULL,
	desks BLOB NOT NULL, PRIMARY KEY (display, side, number));
CREATE TABLE IF NOT EXISTS points (id INTEGER PRIMARY KEY, server INTEGER NOT NULL, step INTEGER NOT NULL);
CREATE TABLE IF NOT EXISTS journals (display TEXT PRIMARY KEY, at INTEGER NOT NULL, server INTEGER NOT NULL, chain TEXT NOT NULL, serial INTEGER NOT NULL);
CREATE TABLE IF NOT EXISTS laid (plate TEXT PRIMARY KEY, at INTEGER NOT NULL);
`

// maxEntries is how many lines of the logbook are kept for a display.
const maxEntries = 10_000

// Store is an open file.
type Store struct {
	path string
	copy string // folder of the copy that stands for a file that cannot be written

	mu     sync.Mutex
	scenes scene.Writer
	steps  map[string]steps // that the file has, by display; nil for one of which nothing is known yet
	most   int              // how many bytes the steps of undo of a display may take
	db     *sql.DB
	// The file that was opened. It stays open as long as db is: to close any of a process's files
	// gives up all its locks on it (fcntl(2)), SQLite's too. And no other file can have its inode.
	file    *os.File
	beside  [2]fs.FileInfo // the log and its index, which SQLite keeps open
	suspect bool           // a save failed as it does where these belong to different files
}

// besides are what SQLite keeps beside a file.
var besides = [2]string{"-wal", "-shm"}

// Entry is a line of the logbook.
type Entry struct {
	At     time.Time
	Source string // who asked for it, as keeper.Source
	Words  string // what happened
	// Instead tells that it takes the place of the line before it.
	Instead bool
	// Server is the X server on which it was done, and Step the last step of undo then; 0
	// for a server that is not known.
	Server int64
	Step   int
}

// Path is where the store is, in the folder of this program's state. It is empty
// where that is not known.
func Path() string {
	dir := file.StateFolder()
	if dir == "" {
		return ""
	}
	return filepath.Join(dir, "state.db")
}

// ErrLater says that a file was written by a later version. It is left as it is.
var ErrLater = errors.New("a later version wrote the state file, so it is left as it is")

// ErrReadOnly says that a file can be read and not written. What it holds is
// there to be used; what is saved is lost in the end.
var ErrReadOnly = errors.New("the state file is read-only: what it holds is used, and nothing new is kept")

// Damaged says that a file could not be read and was set aside.
type Damaged struct {
	Aside string // its new name
	Err   error
}

func (d *Damaged) Error() string {
	return fmt.Sprintf("the state file was damaged (%v) and is kept as %s", d.Err, d.Aside)
}

func (d *Damaged) Unwrap() error { return d.Err }

// Open opens the file, and makes it where there is none. With a *Damaged error
// the store is open all the same, on a new file, and with ErrReadOnly on a copy;
// with any other there is none.
func Open(path string) (*Store, error) {
	if path == "" {
		return nil, errors.New("no folder for the state is known")
	}
	if err := file.Check(path); err != nil {
		return nil, fmt.Errorf("the state: %w", err)
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return nil, fmt.Errorf("the folder of the state: %w", err)
	}
	if readOnly(path) {
		return openCopy(path)
	}
	until := time.Now().Add(patience)
	s, err := open(path)
	for passes(err) && time.Now().Before(until) {
		time.Sleep(patience / 100)
		s, err = open(path)
	}
	if err == nil || errors.Is(err, ErrLater) || passes(err) || !isDamage(path, err) {
		return s, err
	}
	aside := setAsideName(path)
	if renamed := os.Rename(path, aside); renamed != nil {
		return nil, fmt.Errorf("the state file is damaged (%w) and cannot be set aside: %w", err, renamed)
	}
	for _, part := range besides {
		os.Rename(path+part, aside+part) // where they are
	}
	damaged := &Damaged{aside, err}
	if s, err = open(path); err != nil {
		return nil, err
	}
	return s, damaged
}

// patience is for how long a file that cannot be opened for the moment is tried: SQLite does not
// wait in every case, as where the file is new.
const patience = 2 * time.Second

// errMoved says that a file was taken away while it was opened.
var errMoved = errors.New("the state file was taken away while it was opened")

// passes tells an error that may pass: another process has locked the file, or took it away in
// the middle, or the disk is full. None says that what is in the file is damaged.
func passes(err error) bool {
	switch code(err) & 0xff {
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_FULL, sqlite3.SQLITE_PROTOCOL:
		return true
	}
	return code(err) == sqlite3.SQLITE_READONLY_DBMOVED || errors.Is(err, errMoved)
}

// code is SQLite's, extended, of an error; 0 of any other.
func code(err error) int {
	var of *sqlite.Error
	if !errors.As(err, &of) {
		return 0
	}
	return of.Code()
}

// setAsideName is the new name of a file that cannot be read.
func setAsideName(path string) string {
	return fmt.Sprintf("%s.damaged-%s", path, time.Now().Format("20060102-150405"))
}

// readOnly tells whether the file is there and it or its folder, in which
// SQLite keeps its log, cannot be written.
func readOnly(path string) bool {
	if info, err := os.Stat(path); err != nil || !info.Mode().IsRegular() {
		return false
	}
	return denied(path) || denied(filepath.Dir(path))
}

// denied tells whether what is at a path may not be written. It does not open it, which would
// cost a store of this process its locks.
func denied(path string) bool {
	const toWrite = 2 // W_OK of access(2)
	err := syscall.Access(path, toWrite)
	return errors.Is(err, syscall.EROFS) || errors.Is(err, os.ErrPermission)
}

// openCopy opens a copy of a file that can only be read, and of SQLite's log beside it: a
// database with a log cannot be read without writing.
func openCopy(path string) (*Store, error) {
	dir, err := os.MkdirTemp("", "zealous-atlas-*")
	if err != nil {
		return nil, fmt.Errorf("%w; and no copy of it can be made: %w", ErrReadOnly, err)
	}
	for _, part := range []string{"", "-wal"} {
		data, err := os.ReadFile(path + part)
		if err == nil {
			err = os.WriteFile(filepath.Join(dir, "state.db"+part), data, 0o600)
		}
		if err != nil && !errors.Is(err, os.ErrNotExist) {
			os.RemoveAll(dir)
			return nil, fmt.Errorf("%w; and no copy of it can be made: %w", ErrReadOnly, err)
		}
	}
	s, err := open(filepath.Join(dir, "state.db"))
	if err != nil {
		os.RemoveAll(dir)
		return nil, err
	}
	s.copy = dir
	return s, ErrReadOnly
}

// isDamage tells an error of the file's contents from one of reaching it.
func isDamage(path string, err error) bool {
	info, statErr := os.Stat(path)
	return statErr == nil && info.Mode().IsRegular() && info.Size() > 0 && !denied(path) && !errors.Is(err, os.ErrPermission)
}

func open(path string) (*Store, error) {
	if err := checkVersion(path); err != nil {
		return nil, err
	}
	s := &Store{path: path, steps: map[string]steps{}, most: maxStepBytes}
	err := s.connect()
	if err == nil {
		err = s.prepare()
	}
	if err == nil {
		err = s.recognise()
	}
	if err != nil {
		s.disconnect()
		return nil, err
	}
	return s, nil
}

// connect opens the file, and makes it where there is none.
func (s *Store) connect() (err error) {
	// SQLite gives the files beside it the mode that this one has.
	if s.file, err = os.OpenFile(s.path, os.O_CREATE|os.O_RDWR, 0o600); err != nil {
		return fmt.Errorf("opening the state: %w", err)
	}
	for _, part := range []string{"", besides[0], besides[1]} {
		if err := os.Chmod(s.path+part, 0o600); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("opening the state: %w", err)
		}
	}
	// A change waits for its turn at its beginning: in the middle SQLite would not.
	s.db, err = database(s.path, "_txlock=immediate&_pragma=busy_timeout(2000)&_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)&_pragma=secure_delete(ON)")
	return err
}

// disconnect closes what connect opened, in the order that keeps the locks.
func (s *Store) disconnect() (err error) {
	if s.db != nil {
		err = s.db.Close()
	}
	if s.file != nil {
		err = errors.Join(err, s.file.Close())
	}
	return err
}

// recognise keeps in mind which files were opened, so that others in their place are told from
// them.
func (s *Store) recognise() error {
	if !isFile(s.path, s.file) {
		return errMoved
	}
	for i, part := range besides {
		s.beside[i], _ = os.Stat(s.path + part) // nil on file systems where SQLite has none
	}
	return nil
}

// isFile tells whether the file at a path is the one that is open.
func isFile(path string, f *os.File) bool {
	there, err := os.Stat(path)
	opened, err2 := f.Stat()
	return err == nil && err2 == nil && os.SameFile(there, opened)
}

// database opens the file at a path as a database, with SQLite's terms: every reader and
// writer comes this way. What is no regular file could keep it waiting for good.
func database(path, terms string) (*sql.DB, error) {
	if err := file.Check(path); err != nil {
		return nil, fmt.Errorf("the state: %w", err)
	}
	db, err := sql.Open("sqlite", "file:"+path+"?"+terms)
	if err != nil {
		return nil, fmt.Errorf("opening the state: %w", err)
	}
	db.SetMaxOpenConns(1)
	return db, nil
}

// headline is how every file of SQLite begins.
const headline = "SQLite format 3\x00"

// besideIt tells whether what is at the path with an ending is what SQLite opened; true where it
// opened none.
func (s *Store) besideIt(i int) bool {
	there, err := os.Stat(s.path + besides[i])
	return s.beside[i] == nil || err == nil && os.SameFile(there, s.beside[i])
}

// follow opens the file anew where it was removed or another one is in its
// place. It says so in a sentence; empty where it is as it was.
func (s *Store) follow() (words string, err error) {
	same, logged, indexed := isFile(s.path, s.file), s.besideIt(0), s.besideIt(1)
	head := make([]byte, len(headline))
	n, _ := s.file.ReadAt(head, 0)
	begins := string(head[:n]) == headline
	if s.copy != "" || same && logged && indexed && begins && !s.suspect {
		return "", nil
	}
	if readOnly(s.path) { // a copy of it would be none to save in
		return "", ErrReadOnly
	}
	switch _, err := os.Stat(s.path); {
	case errors.Is(err, fs.ErrNotExist):
		words = "The state file was removed; it was written anew."
	case !same:
		words = "The state file was replaced; it is kept on in the one that is there."
	case !begins:
		// SQLite would write over it in closing.
		aside := setAsideName(s.path)
		if err := os.Rename(s.path, aside); err != nil {
			return "", err
		}
		words = "The state file was written over; what was put there is kept as " + filepath.Base(aside) + ", and a new one was written."
	case !logged || !indexed:
		words = "The log of the state file was removed; it was written anew."
	}
	// A log that is left of the file that is gone is none of the new one's. It is ours to remove
	// while it is open: once closed, another file could have its inode.
	for i, part := range besides {
		if !(same && begins) && s.beside[i] != nil && s.besideIt(i) {
			os.Remove(s.path + part)
		}
	}
	s.disconnect()
	fresh, err := Open(s.path)
	if fresh == nil {
		return "", err
	}
	if fresh.copy != "" {
		fresh.Close()
		return "", ErrReadOnly
	}
	var damaged *Damaged
	if errors.As(err, &damaged) {
		what := "What was put in the place of the state file was none"
		if words == "" {
			what = "The state file was damaged"
		}
		words = what + "; it is kept as " + filepath.Base(damaged.Aside) + ", and a new one was written."
	}
	s.db, s.file, s.beside, s.suspect = fresh.db, fresh.file, fresh.beside, false
	s.steps = fresh.steps // of which none is kept in the new one
	return words, nil
}

// checkVersion looks at the version of a file that is there without writing to it.
func checkVersion(path string) error {
	if _, err := os.Stat(path); os.IsNotExist(err) {
		return nil
	}
	db, err := database(path, "mode=ro&_pragma=busy_timeout(2000)")
	if err != nil {
		return err
	}
	defer db.Close()
	var found int
	if err := db.QueryRow("PRAGMA user_version").Scan(&found); err != nil {
		return fmt.Errorf("opening the state: %w", err)
	}
	if found > Version {
		return ErrLater
	}
	return nil
}

// prepare makes the tables of a new file, and checks those of an old one.
func (s *Store) prepare() error {
	var found int
	if err := s.db.QueryRow("PRAGMA user_version").Scan(&found); err != nil {
		return fmt.Errorf("opening the state: %w", err)
	}
	var check string
	if err := s.db.QueryRow("PRAGMA quick_check(1)").Scan(&check); err != nil {
		return fmt.Errorf("checking the state: %w", err)
	}
	if check != "ok" {
		return fmt.Errorf("checking the state: %s", check)
	}
	if found == Version {
		_, err := s.db.Exec(added + "SELECT display, scene, at FROM desks LIMIT 0; SELECT id, display, at, source, words FROM logbook LIMIT 0")
		return err
	}
	if found > 0 {
		if err := s.copyOf(found); err != nil {
			return err
		}
	}
	tx, err := s.db.Begin()
	if err != nil {
		return fmt.Errorf("making the state: %w", err)
	}
	defer tx.Rollback()
	// Another process may have made them since.
	if err := tx.QueryRow("PRAGMA user_version").Scan(&found); err != nil {
		return fmt.Errorf("making the state: %w", err)
	}
	tables := schema
	if found > 0 {
		tables = "" // are there
	}
	if _, err := tx.Exec(tables + added + fmt.Sprintf("PRAGMA user_version = %d", Version)); err != nil {
		return fmt.Errorf("making the state: %w", err)
	}
	return tx.Commit()
}

// copyOf keeps a copy of a file of an earlier version beside it, where there is none yet.
func (s *Store) copyOf(found int) error {
	copy := fmt.Sprintf("%s.version-%d", s.path, found)
	if _, err := os.Stat(copy); err == nil {
		return nil
	}
	if _, err := s.db.Exec("VACUUM INTO ?", copy); err != nil {
		return fmt.Errorf("keeping a copy of the state of version %d: %w", found, err)
	}
	return os.Chmod(copy, 0o600)
}

// Close closes the file.
func (s *Store) Close() error {
	s.mu.Lock()
	defer s.mu.Unlock()
	err := s.disconnect()
	if s.copy != "" {
		err = errors.Join(err, os.RemoveAll(s.copy))
	}
	return err
}

// keyOf is a display's name without its screen, under which what is kept of it stands: :1
// and :1.0 are one keeper's.
func keyOf(display string) string {
	host, number, ok := strings.Cut(display, ":")
	number, _, screen := strings.Cut(number, ".")
	if !ok || !screen {
		return display
	}
	return host + ":" + number
}

// Batch is what is written at once: a desk, nil for none, and what came since the last batch. That
// is what was said, which apps were chosen and what the work was like.
type Batch struct {
	Desk    *desk.Desk
	Entries []Entry
	Chosen  map[string]apps.Choice
	Laid    map[string]time.Time // when plates were, by name
	Use     Use
	// Server is the X server that the desk is on; 0 where its history is not to be kept.
	Server int64
	Point  Point // of the desk; zero for no journal
}

// Point is a change of a journal.
type Point struct {
	Chain  string // the journal's name
	Serial int64  // counts its changes from 1
}

func (b *Batch) empty() bool {
	return b.Desk == nil && len(b.Entries) == 0 && len(b.Chosen) == 0 && len(b.Laid) == 0 && b.Use.empty()
}

// Save keeps the arrangement of a display and what goes with it, as one change. Where the file is not the one
// that was opened any more, it goes on in the one there is, and says so in a
// sentence.
func (s *Store) Save(display string, w Batch) (words string, err error) {
	display = keyOf(display)
	s.mu.Lock()
	defer s.mu.Unlock()
	defer func() {
		switch code(err) & 0xff {
		case sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
			s.suspect = true
		}
	}()
	var b bytes.Buffer
	if w.Desk != nil {
		if err := s.scenes.Write(&b, w.Desk); err != nil {
			return "", err
		}
	}
	if words, err = s.follow(); err != nil {
		return "", fmt.Errorf("saving the state: %w", err)
	}
	if words != "" {
		w.Entries = append(slices.Clip(w.Entries), Entry{At: time.Now(), Source: "host", Words: words})
	}
	tx, err := s.db.Begin()
	if err != nil {
		return words, fmt.Errorf("saving the state: %w", err)
	}
	defer tx.Rollback()
	now := time.Now().UnixMilli()
	if w.Desk != nil {
		_, err = tx.Exec("INSERT INTO desks (display, scene, at) VALUES (?, ?, ?) ON CONFLICT (display) DO UPDATE SET scene = excluded.scene, at = excluded.at",
			display, b.Bytes(), now)
	}
	kept := s.steps[display]
	if err == nil && w.Desk != nil && w.Server != 0 {
		kept, err = s.saveSteps(tx, display, w.Server, w.Desk)
	}
	if err == nil && w.Desk != nil {
		_, err = tx.Exec("INSERT OR REPLACE INTO journals (display, at, server, chain, serial) VALUES (?, ?, ?, ?, ?)", display, now, w.Server, w.Point.Chain, w.Point.Serial)
	}
	if err == nil {
		err = saveEntries(tx, display, w.Entries)
	}
	for name, at := range w.Laid {
		if err == nil {
			_, err = tx.Exec("INSERT OR REPLACE INTO laid (plate, at) VALUES (?, ?)", name, at.UnixMilli())
		}
	}
	for app, c := range w.Chosen {
		if err != nil {
			break
		}
		_, err = tx.Exec("INSERT INTO chosen (app, count, at) VALUES (?, ?, ?) ON CONFLICT (app) DO UPDATE SET count = excluded.count, at = excluded.at",
			app, c.Count, c.At.UnixMilli())
	}
	if err == nil {
		err = w.Use.save(tx, display)
	}
	if err == nil {
		err = tx.Commit()
	}
	if err != nil {
		return words, fmt.Errorf("saving the state: %w", err)
	}
	s.steps[display] = kept
	return words, nil
}

func saveEntries(tx *sql.Tx, display string, entries []Entry) error {
	for _, e := range entries {
		if e.Instead {
			for _, table := range []string{"points", "logbook"} {
				if _, err := tx.Exec("DELETE FROM "+table+" WHERE id = (SELECT max(id) FROM logbook WHERE display = ?)", display); err != nil {
					return err
				}
			}
		}
		if _, err := tx.Exec("INSERT INTO logbook (display, at, source, words) VALUES (?, ?, ?, ?)", display, e.At.UnixMilli(), e.Source, e.Words); err != nil {
			return err
		}
		if e.Server == 0 {
			continue
		}
		if _, err := tx.Exec("INSERT OR REPLACE INTO points (id, server, step) VALUES (last_insert_rowid(), ?, ?)", e.Server, e.Step); err != nil {
			return err
		}
	}
	if len(entries) == 0 {
		return nil
	}
	// Displays share the numbers of lines: each has its own latest ones.
	var oldest int64
	err := tx.QueryRow("SELECT id FROM logbook WHERE display = ? ORDER BY id DESC LIMIT 1 OFFSET ?", display, maxEntries).Scan(&oldest)
	if errors.Is(err, sql.ErrNoRows) {
		return nil // there are not so many
	}
	for _, trim := range []string{
		"DELETE FROM points WHERE id IN (SELECT id FROM logbook WHERE display = ? AND id <= ?)",
		"DELETE FROM logbook WHERE display = ? AND id <= ?",
	} {
		if err == nil {
			_, err = tx.Exec(trim, display, oldest)
		}
	}
	return err
}

// Chosen is how often and how lately apps were chosen.
func (s *Store) Chosen() (map[string]apps.Choice, error) {
	rows, err := s.db.Query("SELECT app, count, at FROM chosen")
	if err != nil {
		return nil, fmt.Errorf("reading what was chosen: %w", err)
	}
	defer rows.Close()
	chosen := map[string]apps.Choice{}
	for rows.Next() {
		var app string
		var count int
		var at int64
		if err := rows.Scan(&app, &count, &at); err != nil {
			return nil, fmt.Errorf("reading what was chosen: %w", err)
		}
		chosen[app] = apps.Choice{Count: count, At: time.UnixMilli(at)}
	}
	return chosen, rows.Err()
}

// Unreadable says that what was kept for a display could not be read, and stays
// in the file under another name.
type Unreadable struct {
	Aside string // the name of a display that it is kept under
	Err   error
}

func (u *Unreadable) Error() string {
	return fmt.Sprintf("the desk kept on disk cannot be read (%v) and is set aside as that of %q", u.Err, u.Aside)
}

func (u *Unreadable) Unwrap() error { return u.Err }

// Desk is the arrangement kept last for a display; nil where there is none. One
// that cannot be read is set aside, so that the next Save does not write over it,
// and the error is an *Unreadable.
func (s *Store) Desk(display string) (*desk.Desk, error) {
	display = keyOf(display)
	s.mu.Lock()
	defer s.mu.Unlock()
	var data []byte
	err := s.db.QueryRow("SELECT scene FROM desks WHERE display = ?", display).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading the state: %w", err)
	}
	d, err := scene.Read(bytes.NewReader(data))
	if err == nil {
		return d, nil
	}
	u := &Unreadable{Aside: fmt.Sprintf("%s, unreadable %s", display, time.Now().Format("2006-01-02 15:04:05.000")), Err: err}
	if _, err := s.db.Exec("UPDATE desks SET display = ? WHERE display = ?", u.Aside, display); err != nil {
		return nil, fmt.Errorf("the desk kept on disk cannot be read (%w), and not be set aside: %w", u.Err, err)
	}
	return nil, u
}

// Logbook gives the last n lines of a display's logbook, the oldest first.
func (s *Store) Logbook(display string, n int) ([]Entry, error) {
	return logbook(s.db, `SELECT at, source, words, coalesce(server, 0), coalesce(step, 0) FROM
		(SELECT id, at, source, words FROM logbook WHERE display = ? ORDER BY id DESC LIMIT ?) LEFT JOIN points USING (id) ORDER BY id`, display, n)
}

// ReadLogbook is the last lines of a display's logbook in the file at a path, which is not
// written to, whatever is in it. It is empty where there is no such file.
func ReadLogbook(path, display string, n int) ([]Entry, error) {
	if path != "" && readOnly(path) {
		s, err := openCopy(path)
		if s == nil {
			return nil, err
		}
		defer s.Close()
		return s.Logbook(display, n)
	}
	db, err := openUse(path, "&mode=ro")
	if db == nil {
		return nil, err
	}
	defer db.Close()
	return logbook(db, "SELECT at, source, words, 0, 0 FROM (SELECT * FROM logbook WHERE display = ? ORDER BY id DESC LIMIT ?) ORDER BY id", display, n)
}

func logbook(db *sql.DB, query, display string, n int) ([]Entry, error) {
	rows, err := db.Query(query, keyOf(display), n)
	if err != nil {
		return nil, fmt.Errorf("reading the logbook: %w", err)
	}
	defer rows.Close()
	var entries []Entry
	for rows.Next() {
		var e Entry
		var at int64
		if err := rows.Scan(&at, &e.Source, &e.Words, &e.Server, &e.Step); err != nil {
			return nil, fmt.Errorf("reading the logbook: %w", err)
		}
		e.At = time.UnixMilli(at)
		e.Source, e.Words = desk.CleanText(e.Source, desk.MaxName), desk.CleanText(e.Words, desk.MaxWords)
		entries = append(entries, e)
	}
	return entries, rows.Err()
}
