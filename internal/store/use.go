package store

import (
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/survey"
)

// Use is what the work was like, to be kept.
type Use struct {
	Spans []KeptSpan
	// Tallies are numbers to be added to those of their day; those of a kind that
	// keeps the most take their place where they are more. N of the key is 0.
	Tallies map[survey.Tally]int
	// Before is the beginning of what is still kept; zero where nothing is let go.
	Before time.Time
}

// KeptSpan is a span, or the same one again, grown since. One that was erased
// meanwhile does not come back by growing.
type KeptSpan struct {
	survey.Span
	Grown bool
}

func (u *Use) empty() bool { return len(u.Spans) == 0 && len(u.Tallies) == 0 && u.Before.IsZero() }

// add adds what came later.
func (u *Use) add(later Use) {
	for _, s := range later.Spans {
		if n := len(u.Spans); s.Grown && n > 0 && u.Spans[n-1].Start.Equal(s.Start) {
			u.Spans[n-1].Span = s.Span
			continue
		}
		u.Spans = append(slices.Clip(u.Spans), s)
	}
	for t, n := range later.Tallies {
		u.Tally(t, n)
	}
	if later.Before.After(u.Before) {
		u.Before = later.Before
	}
}

// Tally counts.
func (u *Use) Tally(t survey.Tally, n int) {
	if u.Tallies == nil {
		u.Tallies = map[survey.Tally]int{}
	}
	if t.Kind.Most() {
		u.Tallies[t] = max(u.Tallies[t], n)
	} else {
		u.Tallies[t] += n
	}
}

// save writes it for a display.
func (u *Use) save(tx *sql.Tx, display string) error {
	for _, s := range u.Spans {
		if s.Grown {
			if _, err := tx.Exec("UPDATE spans SET seconds = ? WHERE display = ? AND start = ?", s.Seconds, display, s.Start.Unix()); err != nil {
				return err
			}
			continue
		}
		_, err := tx.Exec("INSERT OR REPLACE INTO spans (display, start, seconds, number, workspace, monitor, app) VALUES (?, ?, ?, ?, ?, ?, ?)",
			display, s.Start.Unix(), s.Seconds, s.Number, s.Workspace, string(rune(s.Monitor)), s.App)
		if err != nil {
			return err
		}
	}
	for t, n := range u.Tallies {
		how := "n + excluded.n"
		if t.Kind.Most() {
			how = "max(n, excluded.n)"
		}
		_, err := tx.Exec("INSERT INTO tallies (display, day, kind, name, n) VALUES (?, ?, ?, ?, ?) ON CONFLICT (display, day, kind, name) DO UPDATE SET n = "+how,
			display, t.Day, string(t.Kind), t.Name, n)
		if err != nil {
			return err
		}
	}
	if u.Before.IsZero() {
		return nil
	}
	if _, err := tx.Exec("DELETE FROM spans WHERE display = ? AND start < ?", display, u.Before.Unix()); err != nil {
		return err
	}
	_, err := tx.Exec("DELETE FROM tallies WHERE display = ? AND day < ?", display, survey.DayOf(u.Before))
	return err
}

// openUse opens the file at a path, which another process may keep open, for what is
// kept of the work in it; nil where there is no file.
func openUse(path, how string) (*sql.DB, error) {
	if _, err := os.Stat(path); errors.Is(err, fs.ErrNotExist) || path == "" {
		return nil, nil
	}
	if err := checkVersion(path); err != nil {
		return nil, err
	}
	return database(path, "_pragma=busy_timeout(4000)"+how)
}

// ReadSurvey is what the file at a path has of a display from one moment to another,
// in the zone of the first. It is empty where there is no such file.
func ReadSurvey(path, display string, from, to time.Time) (d survey.Data, err error) {
	db, err := openUse(path, "&mode=ro")
	if db == nil {
		return d, err
	}
	defer db.Close()
	defer func() {
		if err != nil && strings.Contains(err.Error(), "no such table") {
			d, err = survey.Data{}, nil // nothing was ever kept
		} else if err != nil {
			err = fmt.Errorf("reading the survey: %w", err)
		}
	}()
	// A span before may reach into the time.
	rows, err := db.Query("SELECT start, seconds, number, workspace, monitor, app FROM spans WHERE display IN (?1, ?1 || '.0') AND start + seconds >= ?2 AND start < ?3 ORDER BY start",
		keyOf(display), from.Unix(), to.Unix())
	if err != nil {
		return d, err
	}
	defer rows.Close()
	for rows.Next() {
		var s survey.Span
		var start int64
		var monitor string
		if err := rows.Scan(&start, &s.Seconds, &s.Number, &s.Workspace, &monitor, &s.App); err != nil {
			return d, err
		}
		s.Workspace, s.App = desk.CleanName(s.Workspace), desk.CleanText(s.App, desk.MaxApp)
		s.Start, s.Monitor = time.Unix(start, 0).In(from.Location()), (monitor + "A")[0]
		d.Spans = append(d.Spans, s)
	}
	if err := rows.Err(); err != nil {
		return d, err
	}
	counted, err := db.Query("SELECT day, kind, name, n FROM tallies WHERE display IN (?1, ?1 || '.0') AND day BETWEEN ?2 AND ?3 ORDER BY day, kind, name", keyOf(display), survey.DayOf(from), survey.DayOf(to))
	if err != nil {
		return d, err
	}
	defer counted.Close()
	for counted.Next() {
		var t survey.Tally
		if err := counted.Scan(&t.Day, &t.Kind, &t.Name, &t.N); err != nil {
			return d, err
		}
		first, second, two := strings.Cut(t.Name, "\t")
		if t.Day, t.Name = desk.CleanText(t.Day, desk.MaxName), desk.CleanText(first, desk.MaxName); two {
			t.Name = survey.Pair(t.Name, desk.CleanText(second, desk.MaxName))
		}
		d.Tallies = append(d.Tallies, t)
	}
	return d, counted.Err()
}

// ForgetSurvey erases for good what the file at a path, and its copies, have of a display
// since a moment. What is deleted is written over. The log beside the file, which may still
// hold it, is emptied. Files set aside as damaged go as a whole, since nobody can tell what is
// in them. It gives how many spans there were, and which files went.
func ForgetSurvey(path, display string, since time.Time) (spans int, gone []string, err error) {
	if spans, err = forget(path, display, since); err != nil || path == "" {
		return spans, nil, err
	}
	quoted := quoteGlob.Replace(path)
	copies, _ := filepath.Glob(quoted + ".version-*") // by a pattern of ours
	for _, name := range copies {
		if strings.HasSuffix(name, "-wal") || strings.HasSuffix(name, "-shm") {
			continue
		}
		if _, err := forget(name, display, since); err != nil {
			return spans, nil, fmt.Errorf("%s may still hold it: %w", name, err)
		}
	}
	damaged, _ := filepath.Glob(quoted + ".damaged-*")
	for _, name := range damaged {
		if err := writeOver(name); err != nil {
			return spans, gone, fmt.Errorf("%s may still hold it: %w", name, err)
		}
		gone = append(gone, name)
	}
	return spans, gone, nil
}

// quoteGlob quotes what has a meaning in a pattern of names.
var quoteGlob = strings.NewReplacer(`*`, `\*`, `?`, `\?`, `[`, `\[`, `\`, `\\`)

// writeOver removes a file whose bytes are written over first; of a link, the link.
func writeOver(path string) error {
	f, err := os.OpenFile(path, os.O_WRONLY|syscall.O_NONBLOCK|syscall.O_NOFOLLOW, 0)
	if errors.Is(err, syscall.ELOOP) {
		return os.Remove(path)
	}
	if err != nil {
		return err
	}
	info, err := f.Stat()
	if err == nil && info.Mode().IsRegular() {
		_, err = io.CopyN(f, zeros{}, info.Size())
	}
	return errors.Join(err, f.Sync(), f.Close(), os.Remove(path))
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }

// forget erases what one file has.
func forget(path, display string, since time.Time) (spans int, err error) {
	db, err := openUse(path, "&_pragma=secure_delete(ON)")
	if db == nil {
		return 0, err
	}
	defer db.Close()
	tx, err := db.Begin()
	if err != nil {
		return 0, fmt.Errorf("erasing the survey: %w", err)
	}
	defer tx.Rollback()
	display = keyOf(display)
	done, err := tx.Exec("DELETE FROM spans WHERE display IN (?1, ?1 || '.0') AND start + seconds > ?2", display, since.Unix())
	if err == nil {
		_, err = tx.Exec("DELETE FROM tallies WHERE display IN (?1, ?1 || '.0') AND day >= ?2", display, survey.DayOf(since))
	}
	if err == nil {
		err = tx.Commit()
	}
	if err != nil {
		if strings.Contains(err.Error(), "no such table") {
			return 0, nil
		}
		return 0, fmt.Errorf("erasing the survey: %w", err)
	}
	n, _ := done.RowsAffected() // which this driver always knows
	return int(n), empty(db)
}

// empty empties the log beside a database. It cannot while another process reads, and tries
// again for a moment: who only looks is done by then.
func empty(db *sql.DB) error {
	var busy, log, moved int
	for range 6 {
		if err := db.QueryRow("PRAGMA wal_checkpoint(TRUNCATE)").Scan(&busy, &log, &moved); err != nil {
			return fmt.Errorf("emptying the log of the state: %w", err)
		}
		if busy == 0 {
			return nil
		}
		time.Sleep(50 * time.Millisecond)
	}
	return errors.New("it is erased, but the log beside the state file is in use and may still hold it: try again when no other command runs")
}

// Sound tells the version of a state file and how long it is, without writing to it: of 0
// where there is none. The error is what is wrong with it.
func Sound(path string) (version int, size int64, err error) {
	info, err := os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		return 0, 0, nil
	}
	if err != nil {
		return 0, 0, fmt.Errorf("the state file cannot be reached: %w", err)
	}
	db, err := database(path, "mode=ro&_pragma=busy_timeout(1000)")
	if err != nil {
		return 0, 0, err
	}
	defer db.Close()
	var said string
	if err := errors.Join(db.QueryRow("PRAGMA user_version").Scan(&version), db.QueryRow("PRAGMA quick_check(1)").Scan(&said)); err != nil {
		return 0, 0, fmt.Errorf("the state file cannot be read: %w", err)
	}
	if said != "ok" {
		return version, info.Size(), fmt.Errorf("the state file is damaged: %s", said)
	}
	return version, info.Size(), nil
}
