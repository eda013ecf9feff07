package store

import (
	"bytes"
	"compress/gzip"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"sync"
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

// steps is what the file has of the steps of a display.
type steps map[stepKey]keptStep

// keptStep is a step in the file. Its desks are told since those of the step before it, as
// theirs are, down to one that is whole.
type keptStep struct {
	id   any // the same as long as it says the same
	root int // the number of the step that is whole
	far  int // how many steps that is from here; maxFar where it is not known
	size int // in bytes
}

// maxFar bounds how many steps are read for one.
const maxFar = 32

// cut is the number up to which the steps of undo go, since those after them take as many bytes
// as there may be; 0 for none. One that is known to be told since a step that goes, goes too.
func (s steps) cut(most int) (cut int) {
	numbers, total := []int{}, 0
	for key, k := range s {
		if key.side == past {
			numbers, total = append(numbers, key.number), total+k.size
		}
	}
	if total <= most {
		return 0
	}
	slices.Sort(numbers)
	for _, n := range numbers {
		k := s[stepKey{past, n}]
		if total > most || k.far < maxFar && k.root <= cut {
			cut = n
		}
		total -= k.size
	}
	return cut
}

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
	for at, made := range [][]desk.Made{undo, redo} {
		last, below := keptStep{far: maxFar}, desk.Made{}
		for _, m := range slices.Backward(made) {
			key := stepKey{side(at), m.Number}
			if k, there := was[key]; there && k.id == m.ID {
				now[key], last, below = k, k, m
				continue
			}
			if side(at) == future { // what is done again goes from here, and nothing may hang on it
				last.far = maxFar
			}
			if k, data, err := newStep(m, below, last); err == nil {
				now[key], last, below = k, k, m
				if _, err := tx.Exec("INSERT OR REPLACE INTO steps (display, server, side, number, prev, words, desks) VALUES (?, ?, ?, ?, ?, ?, ?)",
					display, server, at, m.Number, m.Prev, m.Words, data); err != nil {
					return nil, err
				}
				continue
			}
			// It and those before it cannot be gone back to.
			maps.DeleteFunc(now, func(k stepKey, _ keptStep) bool { return k.side == side(at) })
			last.far = maxFar
		}
	}
	root, oldest := math.MaxInt, math.MaxInt
	for key, k := range now {
		if key.side == past {
			root, oldest = min(root, k.root), min(oldest, key.number)
		}
	}
	for key, k := range was {
		if _, there := now[key]; there {
			continue
		}
		if key.side == past && root <= key.number && key.number < oldest { // later ones are told since it
			now[key] = k
			continue
		}
		if _, err := tx.Exec("DELETE FROM steps WHERE display = ? AND side = ? AND number = ?", display, key.side, key.number); err != nil {
			return nil, err
		}
	}
	cut := now.cut(s.most)
	if cut == 0 {
		return now, nil
	}
	maps.DeleteFunc(now, func(k stepKey, _ keptStep) bool { return k.side == past && k.number <= cut })
	_, err := tx.Exec("DELETE FROM steps WHERE display = ? AND side = ? AND number <= ?", display, past, cut)
	return now, err
}

// newStep is a step as it is kept, told since the one below it where that is near a whole one.
func newStep(m, below desk.Made, last keptStep) (k keptStep, data []byte, err error) {
	before, after, err := m.Load()
	if err != nil {
		return k, nil, err
	}
	if last.far+1 < maxFar {
		if _, on, err := below.Load(); err == nil {
			data, err = packStep(before, after, on, below.Number)
			return keptStep{m.ID, last.root, last.far + 1, len(data)}, data, err
		}
	}
	data, err = packStep(before, after, nil, 0)
	return keptStep{m.ID, m.Number, 0, len(data)}, data, err
}

// stepHead is a step as it is kept. On is the number of the step of undo since whose later
// desk its scene is told; 0 for a scene that is whole.
type stepHead struct {
	plateChange
	On     int    `json:"on,omitempty"`
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

// packStep writes the desks of a step: the one before, whole or since that of the step with
// a number, and what changed.
func packStep(before, after, on *desk.Desk, number int) ([]byte, error) {
	var first, change bytes.Buffer
	var err error
	if on == nil {
		err = scene.Write(&first, before)
	} else {
		err = scene.WriteSince(&first, before, on)
	}
	if err != nil {
		return nil, err
	}
	if err := scene.WriteSince(&change, after, before); err != nil {
		return nil, err
	}
	plates, err := platesBetween(before, after)
	if err != nil {
		return nil, err
	}
	data, err := json.Marshal(stepHead{plates, number, first.Bytes(), change.Bytes()})
	if err != nil || len(data) < leastPacked {
		return data, err
	}
	var b bytes.Buffer
	z := compressors.Get().(*gzip.Writer)
	defer compressors.Put(z)
	z.Reset(&b)
	_, err = z.Write(data)
	return b.Bytes(), errors.Join(err, z.Close())
}

// compressors are kept, since one takes more than half a megabyte.
var compressors = sync.Pool{New: func() any {
	z, err := gzip.NewWriterLevel(io.Discard, gzip.BestSpeed)
	if err != nil {
		panic("a usual level of compression is refused: " + err.Error()) // it is a constant
	}
	return z
}}

// leastPacked is from how many bytes on a step is worth compressing.
const leastPacked = 16 << 10

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

// storedStep is a step in the file, read when it is needed.
type storedStep struct {
	number int
	data   []byte
	undo   map[int]*storedStep // the steps of undo, by number

	once          sync.Once
	before, after *desk.Desk // without their plates
	plates        plateChange
	err           error
}

func (s *storedStep) load() (before, after *desk.Desk, err error) {
	s.once.Do(func() { s.err = s.unpack() })
	if s.err != nil {
		return nil, nil, s.err
	}
	return s.plates.on(s.before, s.after)
}

// unpack reads what packStep wrote.
func (s *storedStep) unpack() error {
	var in io.Reader = bytes.NewReader(s.data)
	if !bytes.HasPrefix(s.data, []byte("{")) {
		z, err := gzip.NewReader(in)
		if err != nil {
			return err
		}
		in = io.LimitReader(z, maxStep)
	}
	var head stepHead
	err := json.NewDecoder(in).Decode(&head)
	on := s.undo[head.On]
	switch {
	case err != nil:
		return err
	case head.On == 0:
		s.before, err = scene.Read(bytes.NewReader(head.Scene))
	case on == nil || head.On >= s.number: // which would be a loop
		return errors.New("the step before it is not there")
	default:
		if _, _, err = on.load(); err == nil {
			s.before, err = scene.ReadAfter(bytes.NewReader(head.Scene), on.after)
		}
	}
	if err == nil {
		s.after, err = scene.ReadAfter(bytes.NewReader(head.Change), s.before)
	}
	s.plates, s.data = head.plateChange, nil
	return err
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

// WithSteps is a desk of a display with the history kept of it on that X server. Its next step
// has a number that none had there. What was kept on another is let go.
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
	var sizes [2][]int
	undo := map[int]*storedStep{}
	for rows.Next() {
		var at side
		var m desk.Made
		var data []byte
		if err := rows.Scan(&at, &m.Number, &m.Prev, &m.Words, &data); err != nil || at != past && at != future {
			return d, fmt.Errorf("reading the steps of undo: %w", err)
		}
		m.Words = desk.CleanText(m.Words, desk.MaxWords)
		kept := &storedStep{number: m.Number, data: data, undo: undo}
		if m.Load = kept.load; at == past {
			undo[m.Number] = kept
		}
		made[at], keys[at] = append(made[at], m), append(keys[at], stepKey{at, m.Number})
		sizes[at] = append(sizes[at], len(data))
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
			// The whole one is not further away than that.
			root := keys[at][min(i+maxFar, len(ids)-1)].number
			known[keys[at][i]] = keptStep{id, root, maxFar, sizes[at][i]}
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
