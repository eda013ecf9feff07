// Package store keeps what must outlast a keeper and its display, in SQLite:
// the arrangement of each display after every change, and the logbook of what
// was done.
package store

import (
	"bytes"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"syscall"
	"time"

	_ "modernc.org/sqlite" // the driver

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/scene"
)

// version is of the tables. A file of a later one is left alone.
const version = 1

const schema = `
CREATE TABLE desks (display TEXT PRIMARY KEY, scene BLOB NOT NULL, at INTEGER NOT NULL);
CREATE TABLE logbook (id INTEGER PRIMARY KEY, display TEXT NOT NULL, at INTEGER NOT NULL, source TEXT NOT NULL, words TEXT NOT NULL);
CREATE INDEX logbook_by_display ON logbook (display, id);
`

// added are tables that came later; files without them get them.
const added = `CREATE TABLE IF NOT EXISTS chosen (app TEXT PRIMARY KEY, count INTEGER NOT NULL, at INTEGER NOT NULL);`

// maxEntries is how many lines of the logbook are kept for a display.
const maxEntries = 10_000

// Store is an open file.
type Store struct {
	db   *sql.DB
	copy string // folder of the copy that stands for a file that cannot be written
}

// Entry is a line of the logbook.
type Entry struct {
	At     time.Time
	Source string // who asked for it, as keeper.Source
	Words  string // what happened
	// Instead tells that it takes the place of the line before it.
	Instead bool
}

// Path is where the store is: in $XDG_STATE_HOME, else in ~/.local/state. It is
// empty where neither is known.
func Path() string {
	dir := os.Getenv("XDG_STATE_HOME")
	if dir == "" {
		home, err := os.UserHomeDir()
		if err != nil {
			return ""
		}
		dir = filepath.Join(home, ".local", "state")
	}
	return filepath.Join(dir, "zealous-atlas", "state.db")
}

// ErrLater says that a file was written by a later version. It is left as it is.
var ErrLater = errors.New("the state file is of a later version, and is left as it is")

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
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return nil, fmt.Errorf("the folder of the state: %w", err)
	}
	if readOnly(path) {
		return openCopy(path)
	}
	s, err := open(path)
	if err == nil || errors.Is(err, ErrLater) || !isDamage(path, err) {
		return s, err
	}
	aside := fmt.Sprintf("%s.damaged-%s", path, time.Now().Format("20060102-150405"))
	if renamed := os.Rename(path, aside); renamed != nil {
		return nil, fmt.Errorf("the state file is damaged (%w) and cannot be set aside: %w", err, renamed)
	}
	for _, part := range []string{"-wal", "-shm"} {
		os.Rename(path+part, aside+part) // where they are
	}
	damaged := &Damaged{aside, err}
	if s, err = open(path); err != nil {
		return nil, err
	}
	return s, damaged
}

// readOnly tells whether the file is there and it or its folder, in which
// SQLite keeps its log, cannot be written.
func readOnly(path string) bool {
	if info, err := os.Stat(path); err != nil || !info.Mode().IsRegular() {
		return false
	}
	denied := func(err error) bool { return errors.Is(err, syscall.EROFS) || errors.Is(err, os.ErrPermission) }
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return denied(err)
	}
	f.Close()
	if f, err = os.CreateTemp(filepath.Dir(path), ".try-*"); err != nil {
		return denied(err)
	}
	f.Close()
	os.Remove(f.Name())
	return false
}

// openCopy opens a copy of a file that can only be read, with what SQLite's log
// beside it holds: a database with a log cannot be read without writing.
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
	f, openErr := os.OpenFile(path, os.O_RDWR, 0)
	if openErr != nil || errors.Is(err, os.ErrPermission) {
		return false
	}
	defer f.Close()
	info, statErr := f.Stat()
	return statErr == nil && info.Mode().IsRegular() && info.Size() > 0
}

func open(path string) (*Store, error) {
	if err := checkVersion(path); err != nil {
		return nil, err
	}
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=busy_timeout(2000)&_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)")
	if err != nil {
		return nil, fmt.Errorf("opening the state: %w", err)
	}
	db.SetMaxOpenConns(1)
	s := &Store{db: db}
	if err := s.prepare(); err != nil {
		db.Close()
		return nil, err
	}
	if err := os.Chmod(path, 0o600); err != nil {
		db.Close()
		return nil, fmt.Errorf("opening the state: %w", err)
	}
	return s, nil
}

// checkVersion looks at the version of a file that is there without writing to it.
func checkVersion(path string) error {
	if _, err := os.Stat(path); os.IsNotExist(err) {
		return nil
	}
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro&_pragma=busy_timeout(2000)")
	if err != nil {
		return fmt.Errorf("opening the state: %w", err)
	}
	defer db.Close()
	var found int
	if err := db.QueryRow("PRAGMA user_version").Scan(&found); err != nil {
		return fmt.Errorf("opening the state: %w", err)
	}
	if found > version {
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
	if found == version {
		_, err := s.db.Exec(added + "SELECT display, scene, at FROM desks LIMIT 0; SELECT id, display, at, source, words FROM logbook LIMIT 0")
		return err
	}
	tx, err := s.db.Begin()
	if err != nil {
		return fmt.Errorf("making the state: %w", err)
	}
	defer tx.Rollback()
	if _, err := tx.Exec(schema + added + fmt.Sprintf("PRAGMA user_version = %d", version)); err != nil {
		return fmt.Errorf("making the state: %w", err)
	}
	return tx.Commit()
}

// Close closes the file.
func (s *Store) Close() error {
	err := s.db.Close()
	if s.copy != "" {
		err = errors.Join(err, os.RemoveAll(s.copy))
	}
	return err
}

// Save keeps the arrangement of a display, with what was said since the last
// time, as one change.
func (s *Store) Save(display string, d *desk.Desk, entries []Entry) error {
	var b bytes.Buffer
	if err := scene.Write(&b, d); err != nil {
		return err
	}
	tx, err := s.db.Begin()
	if err != nil {
		return fmt.Errorf("saving the state: %w", err)
	}
	defer tx.Rollback()
	_, err = tx.Exec("INSERT INTO desks (display, scene, at) VALUES (?, ?, ?) ON CONFLICT (display) DO UPDATE SET scene = excluded.scene, at = excluded.at",
		display, b.Bytes(), time.Now().UnixMilli())
	for _, e := range entries {
		if err != nil {
			break
		}
		if e.Instead {
			_, err = tx.Exec("DELETE FROM logbook WHERE id = (SELECT max(id) FROM logbook WHERE display = ?)", display)
		}
		if err == nil {
			_, err = tx.Exec("INSERT INTO logbook (display, at, source, words) VALUES (?, ?, ?, ?)", display, e.At.UnixMilli(), e.Source, e.Words)
		}
	}
	if err == nil && len(entries) > 0 {
		_, err = tx.Exec("DELETE FROM logbook WHERE display = ?1 AND id <= (SELECT max(id) FROM logbook WHERE display = ?1) - ?2", display, maxEntries)
	}
	if err != nil {
		return fmt.Errorf("saving the state: %w", err)
	}
	return tx.Commit()
}

// SaveChoice keeps how often and how lately an app was chosen.
func (s *Store) SaveChoice(app string, c apps.Choice) error {
	_, err := s.db.Exec("INSERT INTO chosen (app, count, at) VALUES (?, ?, ?) ON CONFLICT (app) DO UPDATE SET count = excluded.count, at = excluded.at",
		app, c.Count, c.At.UnixMilli())
	if err != nil {
		return fmt.Errorf("saving the state: %w", err)
	}
	return nil
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

// Desk is the arrangement kept last for a display; nil where there is none.
func (s *Store) Desk(display string) (*desk.Desk, error) {
	var data []byte
	err := s.db.QueryRow("SELECT scene FROM desks WHERE display = ?", display).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading the state: %w", err)
	}
	return scene.Read(bytes.NewReader(data))
}

// Logbook gives the last n lines of a display's logbook, the oldest first.
func (s *Store) Logbook(display string, n int) ([]Entry, error) {
	rows, err := s.db.Query("SELECT at, source, words FROM (SELECT id, at, source, words FROM logbook WHERE display = ? ORDER BY id DESC LIMIT ?) ORDER BY id", display, n)
	if err != nil {
		return nil, fmt.Errorf("reading the logbook: %w", err)
	}
	defer rows.Close()
	var entries []Entry
	for rows.Next() {
		var e Entry
		var at int64
		if err := rows.Scan(&at, &e.Source, &e.Words); err != nil {
			return nil, fmt.Errorf("reading the logbook: %w", err)
		}
		e.At = time.UnixMilli(at)
		e.Source, e.Words = desk.CleanText(e.Source, desk.MaxName), desk.CleanText(e.Words, desk.MaxWords)
		entries = append(entries, e)
	}
	return entries, rows.Err()
}
