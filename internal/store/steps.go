package store

import (
	"bytes"
	"compress/gzip"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/scene"
)

// How many steps of undo are kept of a display, as many of redo, and how many bytes they
// may take in all: the oldest are let go.
const (
	maxSteps     = 300
	maxStepBytes = 48 << 20
)

// side tells steps of undo from those of redo.
type side int

const (
	past side = iota
	future
)

type stepKey struct {
	side   side
	number int
}

// steps is what is kept of the steps of a display: by number, what they said then.
type steps map[stepKey]any

// saveSteps keeps the history of a desk, as far as it has changed since the last time.
func (s *Store) saveSteps(tx *sql.Tx, display string, server int64, d *desk.Desk) (steps, error) {
	was := s.steps[display]
	if was == nil { // of another server, or of before
		if _, err := tx.Exec("DELETE FROM steps WHERE display = ?", display); err != nil {
			return nil, err
		}
	}
	now := steps{}
	undo, redo := d.Steps(maxSteps)
	grown := false
	for at, made := range [][]desk.Made{undo, redo} {
		for _, m := range made {
			key := stepKey{side(at), m.Number}
			now[key] = m.ID
			if was[key] == m.ID {
				continue
			}
			before, after, err := m.Load()
			if err != nil { // it and those beyond it cannot be gone back to
				delete(now, key)
				break
			}
			grown = true
			data, err := packStep(before, after)
			if err != nil {
				return nil, err
			}
			if _, err := tx.Exec("INSERT OR REPLACE INTO steps (display, server, side, number, prev, words, desks) VALUES (?, ?, ?, ?, ?, ?, ?)",
				display, server, at, m.Number, m.Prev, m.Words, data); err != nil {
				return nil, err
			}
		}
	}
	for key := range was {
		if _, there := now[key]; !there {
			if _, err := tx.Exec("DELETE FROM steps WHERE display = ? AND side = ? AND number = ?", display, key.side, key.number); err != nil {
				return nil, err
			}
		}
	}
	if !grown {
		return now, nil
	}
	_, err := tx.Exec(`DELETE FROM steps WHERE display = ?1 AND side = 0 AND number IN (SELECT number FROM
		(SELECT number, sum(length(desks)) OVER (ORDER BY number DESC) AS total FROM steps WHERE display = ?1 AND side = 0) WHERE total > ?2)`, display, maxStepBytes)
	return now, err
}

// stepHead is a step as it is kept.
type stepHead struct {
	plateChange
	Scene  []byte `json:"scene"`
	Change []byte `json:"change"`
}

// plateChange is the plates that a step changed, before and after it: as their files have
// them, null for none.
type plateChange struct {
	Was map[string]json.RawMessage `json:"before,omitempty"`
	Is  map[string]json.RawMessage `json:"after,omitempty"`
}

// platesBetween are the plates that changed between two desks.
func platesBetween(before, after *desk.Desk) (c plateChange, err error) {
	for name, p := range after.PlatesSince(before) {
		if c.Is == nil {
			c = plateChange{map[string]json.RawMessage{}, map[string]json.RawMessage{}}
		}
		if c.Is[name], err = plateText(p); err != nil {
			return c, err
		}
		if c.Was[name], err = plateText(before.Plates[name]); err != nil {
			return c, err
		}
	}
	return c, nil
}

// on gives the desks of a step their plates.
func (c plateChange) on(before, after *desk.Desk) (*desk.Desk, *desk.Desk, error) {
	was, err := readPlates(c.Was)
	if err != nil {
		return nil, nil, err
	}
	is, err := readPlates(c.Is)
	return before.WithPlates(was), after.WithPlates(is), err
}

// packStep writes the desks of a step: the one before, and what changed.
func packStep(before, after *desk.Desk) ([]byte, error) {
	var whole, change bytes.Buffer
	if err := scene.Write(&whole, before); err != nil {
		return nil, err
	}
	if err := scene.WriteSince(&change, after, before); err != nil {
		return nil, err
	}
	plates, err := platesBetween(before, after)
	if err != nil {
		return nil, err
	}
	head := stepHead{plates, whole.Bytes(), change.Bytes()}
	var b bytes.Buffer
	z, err := gzip.NewWriterLevel(&b, gzip.BestSpeed)
	if err != nil {
		return nil, err
	}
	if err := errors.Join(json.NewEncoder(z).Encode(head), z.Close()); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// plateText is a plate as its file has it; null for none.
func plateText(p *desk.Plate) (json.RawMessage, error) {
	if p == nil {
		return json.RawMessage("null"), nil
	}
	var b bytes.Buffer
	err := scene.WritePlate(&b, p)
	return b.Bytes(), err
}

// maxStep is how long a step may be once it is unpacked.
const maxStep = 256 << 20

// unpackStep reads what packStep wrote.
func unpackStep(data []byte) (before, after *desk.Desk, err error) {
	z, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, nil, err
	}
	var head stepHead
	if err := json.NewDecoder(io.LimitReader(z, maxStep)).Decode(&head); err != nil {
		return nil, nil, err
	}
	if before, err = scene.Read(bytes.NewReader(head.Scene)); err != nil {
		return nil, nil, err
	}
	if after, err = scene.ReadAfter(bytes.NewReader(head.Change), before); err != nil {
		return nil, nil, err
	}
	return head.on(before, after)
}

func readPlates(texts map[string]json.RawMessage) (map[string]*desk.Plate, error) {
	plates := map[string]*desk.Plate{}
	for name, text := range texts {
		if string(text) == "null" {
			continue
		}
		p, err := scene.ReadPlate(bytes.NewReader(text), name)
		if err != nil {
			return nil, err
		}
		plates[name] = p
	}
	return plates, nil
}

// WithSteps is a desk of a display with the history that was kept of it on that X server,
// whose next step has a number that none had there. What was kept on another is let go.
func (s *Store) WithSteps(display string, server int64, d *desk.Desk) (*desk.Desk, error) {
	display = keyOf(display)
	s.mu.Lock()
	defer s.mu.Unlock()
	rows, err := s.db.Query("SELECT side, number, prev, words, desks FROM steps WHERE display = ? AND server = ? ORDER BY CASE side WHEN 0 THEN -number ELSE number END", display, server)
	if err != nil {
		return d, fmt.Errorf("reading the steps of undo: %w", err)
	}
	defer rows.Close()
	var made [2][]desk.Made
	var keys [2][]stepKey
	for rows.Next() {
		var at side
		var m desk.Made
		var data []byte
		if err := rows.Scan(&at, &m.Number, &m.Prev, &m.Words, &data); err != nil || at != past && at != future {
			return d, fmt.Errorf("reading the steps of undo: %w", err)
		}
		m.Words = desk.CleanText(m.Words, desk.MaxWords)
		m.Load = func() (*desk.Desk, *desk.Desk, error) { return unpackStep(data) }
		made[at], keys[at] = append(made[at], m), append(keys[at], stepKey{at, m.Number})
	}
	if err := rows.Err(); err != nil {
		return d, fmt.Errorf("reading the steps of undo: %w", err)
	}
	var last sql.NullInt64
	if err := s.db.QueryRow("SELECT max(step) FROM points JOIN logbook USING (id) WHERE display = ? AND server = ?", display, server).Scan(&last); err != nil {
		return d, fmt.Errorf("reading the steps of undo: %w", err)
	}
	d, pastIDs, futureIDs := d.Resumed(int(last.Int64)).WithSteps(made[past], made[future])
	known := steps{}
	for at, ids := range [][]any{pastIDs, futureIDs} {
		for i, id := range ids {
			known[keys[at][i]] = id
		}
	}
	s.steps[display] = known
	return d, nil
}

// Laid is when plates were laid the last time, by name.
func (s *Store) Laid() (map[string]time.Time, error) {
	rows, err := s.db.Query("SELECT plate, at FROM laid")
	if err != nil {
		return nil, fmt.Errorf("reading when plates were laid: %w", err)
	}
	defer rows.Close()
	laid := map[string]time.Time{}
	for rows.Next() {
		var name string
		var at int64
		if err := rows.Scan(&name, &at); err != nil {
			return nil, fmt.Errorf("reading when plates were laid: %w", err)
		}
		laid[name] = time.UnixMilli(at)
	}
	return laid, rows.Err()
}
