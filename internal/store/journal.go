package store

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"log/slog"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/scene"
)

// journal keeps what was done safe from a SIGKILL until the store has it. It is a file in
// the runtime folder, which is memory. A goroutine appends each change in one write. The
// first line is journalHead; then come entries, each a change of the desk before. What the
// store has is let go.
type journal struct {
	path    string
	chain   string // names this journal, in the store too
	log     *slog.Logger
	most    int // bytes that may wait for the store
	stirred chan struct{}
	ending  chan struct{}
	ended   chan struct{}
	slow    atomic.Bool // a change was waited for in vain, and none was kept since

	mu      sync.Mutex
	waiting []*Receipt
	saved   int64 // the last change that the store has
	stalled bool  // the store could not be written
	lost    bool  // changes were let go

	// What follows is the goroutine's own.
	f      *os.File
	size   int
	last   *desk.Desk
	tail   []journalLine // those that the store has not, as far as is known
	begins int64         // lines are of use where the store has the change of this number
	serial int64         // of the last change
	failed bool
}

// journalLine is an entry as it is written, and who waits for that; nil for one that is.
type journalLine struct {
	serial int64
	data   []byte
	waits  *Receipt
}

const journalHead = "zealous-atlas/journal/1\n"

// Bounds of a journal, in bytes.
const (
	maxJournal     = 8 << 20   // that may wait for the store
	compactJournal = 256 << 10 // beyond which what the store has is taken out
)

// journalPatience is how long an answer waits until its change is safe. After that the
// others do not wait, until the journal works again.
const journalPatience = 2 * time.Second

// Receipt tells whether a change is safe from the end of this process.
type Receipt struct {
	of     *journal
	serial int64
	desk   *desk.Desk
	entry  Entry
	done   chan struct{} // closed when safe is known
	safe   bool
}

// Wait waits until the change is safe, and tells whether it is. It takes at most two
// seconds, and no time where the change before could not be waited for.
func (r *Receipt) Wait() bool {
	if r == nil {
		return true
	}
	select {
	case <-r.done:
		return r.safe
	default:
	}
	if r.of.slow.Load() {
		return false
	}
	late := time.NewTimer(journalPatience)
	defer late.Stop()
	select {
	case <-r.done:
		return r.safe
	case <-late.C:
		r.of.slow.Store(true)
		return false
	}
}

func (r *Receipt) answer(safe bool) {
	if r != nil {
		r.safe = safe
		close(r.done)
	}
}

// newJournal is a journal in a file of its own beside base. run must be called for it to work.
func newJournal(base string, log *slog.Logger) *journal {
	chain := fmt.Sprintf("%016x", rand.Uint64())
	return &journal{
		path: base + "-" + chain + journalSuffix, chain: chain, log: log, most: maxJournal, begins: 1,
		stirred: make(chan struct{}, 1), ending: make(chan struct{}), ended: make(chan struct{}),
	}
}

// How the names of journals end, and of one that is being put in place.
const (
	journalSuffix = ".journal"
	freshSuffix   = "-new"
)

// add has a change appended. It never waits.
func (j *journal) add(serial int64, d *desk.Desk, e Entry) *Receipt {
	r := &Receipt{of: j, serial: serial, desk: d, entry: e, done: make(chan struct{})}
	j.tell(func() {
		if len(j.waiting) >= maxBehind { // the goroutine stands still
			for _, r := range j.waiting {
				r.answer(false)
			}
			j.waiting, j.lost = nil, true
		}
		j.waiting = append(j.waiting, r)
	})
	return r
}

// maxBehind is how many changes wait for the goroutine at most.
const maxBehind = 10_000

var errBehind = errors.New("the folder does not answer")

// has tells that the store has all changes up to one.
func (j *journal) has(serial int64) { j.tell(func() { j.saved = serial }) }

// stall tells that the store cannot be written.
func (j *journal) stall() { j.tell(func() { j.stalled = true }) }

func (j *journal) tell(f func()) {
	j.mu.Lock()
	f()
	j.mu.Unlock()
	select {
	case j.stirred <- struct{}{}:
	default:
	}
}

// end ends the journal in the time that the context gives, and removes it where nothing in
// it is needed.
func (j *journal) end(ctx context.Context, remove bool) {
	close(j.ending)
	select {
	case <-j.ended:
	case <-ctx.Done():
		return
	}
	if remove {
		os.Remove(j.path)
	}
}

func (j *journal) run() {
	defer close(j.ended)
	for {
		select {
		case <-j.stirred:
			j.turn()
		case <-j.ending:
			j.turn()
			j.close()
			return
		}
	}
}

// turn takes up what it was told.
func (j *journal) turn() {
	j.mu.Lock()
	waiting, saved, stalled, lost := j.waiting, j.saved, j.stalled, j.lost
	j.waiting, j.stalled, j.lost = nil, false, false
	j.mu.Unlock()
	bytes := 0
	err := j.take(waiting)
	if lost {
		err = errBehind
	}
	for len(j.tail) > 0 && j.tail[0].serial <= saved {
		j.tail[0].waits.answer(true)
		j.tail = j.tail[1:]
	}
	for _, l := range j.tail {
		bytes += len(l.data)
	}
	if err == nil && bytes > j.most {
		err = fmt.Errorf("%d changes wait for the disk", len(j.tail))
	}
	if err == nil && saved >= j.begins {
		err = j.write(bytes)
	}
	switch {
	case err != nil:
		j.fail(err)
	case saved < j.begins && (stalled || j.failed):
		j.answer(false)
	}
}

// take makes lines of changes.
func (j *journal) take(waiting []*Receipt) (err error) {
	for _, r := range waiting {
		var data []byte
		if j.last != nil && err == nil {
			data, err = r.line(j.last)
		}
		j.tail = append(j.tail, journalLine{r.serial, data, r})
		j.last, j.serial = r.desk, r.serial
	}
	return err
}

// write has the file hold what it should.
func (j *journal) write(tail int) (err error) {
	switch {
	case j.f == nil || unlinked(j.f) || j.size > max(compactJournal, 2*tail):
		err = j.rewrite()
	case len(j.tail) == 0 && j.size > len(journalHead):
		err, j.size = j.f.Truncate(int64(len(journalHead))), len(journalHead)
	default:
		var fresh []byte
		for _, l := range j.tail {
			if l.waits != nil {
				fresh = append(fresh, l.data...)
			}
		}
		if len(fresh) > 0 {
			_, err = j.f.Write(fresh)
			j.size += len(fresh)
		}
	}
	if err != nil {
		return err
	}
	j.answer(true)
	j.slow.Store(false)
	if j.failed {
		j.log.Info("what is done is safe from a crash again")
	}
	j.failed = false
	return nil
}

// rewrite puts a new file in place. It is another file, so that whoever reads the old one
// finds it whole.
func (j *journal) rewrite() error {
	j.close()
	if err := os.MkdirAll(filepath.Dir(j.path), 0o700); err != nil {
		return err
	}
	data := []byte(journalHead)
	for _, l := range j.tail {
		data = append(data, l.data...)
	}
	fresh := j.path + freshSuffix
	f, err := os.OpenFile(fresh, os.O_CREATE|os.O_TRUNC|os.O_WRONLY|os.O_APPEND|syscall.O_NOFOLLOW|syscall.O_NONBLOCK, 0o600)
	if err != nil {
		return err
	}
	if _, err = f.Write(data); err == nil {
		err = os.Rename(fresh, j.path)
	}
	if err != nil {
		f.Close()
		os.Remove(fresh)
		return err
	}
	j.f, j.size = f, len(data)
	return nil
}

func (j *journal) close() {
	if j.f != nil {
		j.f.Close()
		j.f = nil
	}
}

// unlinked tells whether a file was removed, or another is in its place.
func unlinked(f *os.File) bool {
	info, err := f.Stat()
	if err != nil {
		return true
	}
	st, ok := info.Sys().(*syscall.Stat_t)
	return ok && st.Nlink == 0
}

// fail lets the journal go, until the store has all there is by now: a keeper that found
// this one would take it for the latest.
func (j *journal) fail(err error) {
	j.close()
	os.Remove(j.path)
	if !j.failed {
		j.log.Error("what is done is not safe from a crash for now; everything else works", "error", err.Error())
	}
	j.failed, j.begins = true, j.serial
	j.answer(false)
	j.tail = nil
}

// answer tells those that wait whether their changes are safe.
func (j *journal) answer(safe bool) {
	for i := range j.tail {
		j.tail[i].waits.answer(safe)
		j.tail[i].waits = nil
	}
}

// journalEntry is the head of a change in a journal. The delta of the desk follows it, then
// two for each step.
type journalEntry struct {
	Serial  int64         `json:"serial"`
	At      int64         `json:"at"` // in milliseconds
	Source  string        `json:"source,omitempty"`
	Words   string        `json:"words,omitempty"`
	Instead bool          `json:"instead,omitempty"`
	Undone  int           `json:"undone,omitempty"`
	Redone  int           `json:"redone,omitempty"`
	Past    []journalStep `json:"past,omitempty"`
	Future  []journalStep `json:"future,omitempty"`

	desk json.RawMessage // since that of the entry before
}

// journalStep is a step of undo as a journal has it.
type journalStep struct {
	Number int    `json:"number"`
	Prev   int    `json:"prev"`
	Words  string `json:"words"`
	plateChange

	before json.RawMessage // the desk before it, since that of the entry before
	after  json.RawMessage // the desk after it, since that of its entry
}

// line is the change since a desk as the journal has it: a line with its sum and length,
// then as many bytes.
func (r *Receipt) line(last *desk.Desk) ([]byte, error) {
	var changes bytes.Buffer
	err := scene.WriteSince(&changes, r.desk, last)
	stepsOf := func(made []desk.Made) (steps []journalStep) {
		for _, m := range made {
			before, after, failed := m.Load()
			if err = cmp.Or(err, failed); err != nil {
				return nil
			}
			plates, failed := platesBetween(before, after)
			err = cmp.Or(failed, scene.WriteSince(&changes, before, last), scene.WriteSince(&changes, after, r.desk))
			steps = append(steps, journalStep{Number: m.Number, Prev: m.Prev, Words: m.Words, plateChange: plates})
		}
		return steps
	}
	x := r.desk.HistorySince(last)
	head, failed := json.Marshal(journalEntry{
		Serial: r.serial, At: r.entry.At.UnixMilli(), Source: r.entry.Source, Words: r.entry.Words, Instead: r.entry.Instead,
		Undone: x.Undone, Redone: x.Redone, Past: stepsOf(x.Past), Future: stepsOf(x.Future),
	})
	if err = cmp.Or(err, failed); err != nil {
		return nil, err
	}
	return framed(append(head, changes.Bytes()...)), nil
}

// framed puts the sum and the length of an entry before it.
func framed(entry []byte) []byte {
	return append(fmt.Appendf(nil, "%08x %d\n", crc32.ChecksumIEEE(entry), len(entry)), entry...)
}

// readJournal reads the entries of a journal, up to the first that is torn.
func readJournal(path string) (entries []journalEntry, err error) {
	data, err := file.Read(path, 4*maxJournal)
	if err != nil {
		return nil, err
	}
	rest, ok := strings.CutPrefix(string(data), journalHead)
	if !ok {
		return nil, fmt.Errorf("%s: it is no journal of this program", path)
	}
	for {
		var sum uint32
		var length int
		line, more, _ := strings.Cut(rest, "\n")
		if _, err := fmt.Sscanf(line, "%08x %d", &sum, &length); err != nil || length < 0 || length > len(more) {
			return entries, nil
		}
		var e journalEntry
		if entry := []byte(more[:length]); crc32.ChecksumIEEE(entry) != sum || !e.read(entry) {
			return entries, nil
		}
		entries, rest = append(entries, e), more[length:]
	}
}

// read reads an entry; ok is false for what is none.
func (e *journalEntry) read(data []byte) (ok bool) {
	dec := json.NewDecoder(bytes.NewReader(data))
	err := cmp.Or(dec.Decode(e), dec.Decode(&e.desk))
	for _, steps := range [][]journalStep{e.Past, e.Future} {
		for i := range steps {
			err = cmp.Or(err, dec.Decode(&steps[i].before), dec.Decode(&steps[i].after))
		}
	}
	return err == nil
}

// after is the desk after an entry, with its history.
func (e *journalEntry) after(old *desk.Desk) (*desk.Desk, error) {
	d, err := scene.ReadAfter(bytes.NewReader(e.desk), old)
	if err != nil {
		return nil, err
	}
	made := func(steps []journalStep) (made []desk.Made) {
		for _, s := range steps {
			made = append(made, desk.Made{Number: s.Number, Prev: s.Prev, Words: desk.CleanText(s.Words, desk.MaxWords), Load: func() (before, after *desk.Desk, err error) {
				before, err = scene.ReadAfter(bytes.NewReader(s.before), old)
				if err == nil {
					after, err = scene.ReadAfter(bytes.NewReader(s.after), d)
				}
				if err != nil {
					return nil, nil, err
				}
				return s.on(before, after)
			}})
		}
		return made
	}
	return d.WithHistory(desk.History{Undone: e.Undone, Redone: e.Redone, Past: made(e.Past), Future: made(e.Future)})
}

// Fold takes what a killed keeper had done from its journal beside base into the store. It
// gives the desk with its history as that keeper left it, and the number of its X server. The
// desk is nil without such a journal, as after an orderly end. The error is about writing it to
// the store; the desk is right even so.
func (s *Store) Fold(display, base string) (d *desk.Desk, server int64, err error) {
	display = keyOf(display)
	// Journals first: a keeper that is about to go may take out what it has saved since.
	journals := map[string][]journalEntry{}
	for _, path := range journalsOf(base) {
		chain := strings.TrimSuffix(strings.TrimPrefix(path, base+"-"), journalSuffix)
		if entries, err := readJournal(path); err == nil {
			journals[chain] = entries
		}
	}
	d, server, at, err := s.journalled(display)
	entries, there := journals[at.Chain]
	if d == nil || !there {
		return nil, 0, err
	}
	if d, err = s.WithSteps(display, server, d); err != nil {
		return nil, 0, err
	}
	var lines []Entry
	for _, e := range entries {
		if e.Serial <= at.Serial {
			continue
		}
		next, wrong := e.after(d)
		if wrong != nil || e.Serial != at.Serial+1 {
			err = cmp.Or(wrong, fmt.Errorf("change %d follows change %d", e.Serial, at.Serial))
			break
		}
		d, at.Serial = next, e.Serial
		lines = withLine(lines, Entry{
			At: time.UnixMilli(e.At), Source: desk.CleanText(e.Source, desk.MaxName), Words: desk.CleanText(e.Words, desk.MaxWords),
			Instead: e.Instead, Server: server, Step: d.Step(),
		})
	}
	if err != nil {
		err = fmt.Errorf("the journal of a keeper that was killed: %w", err)
	}
	_, unsaved := s.Save(display, Batch{Desk: d, Server: server, Point: at, Entries: lines})
	return d, server, errors.Join(err, unsaved)
}

// journalled is the desk that the store has of a display, and where in which journal it is;
// nil where there is none. A version of this program without journals changes the desk alone,
// and its time tells.
func (s *Store) journalled(display string) (d *desk.Desk, server int64, at Point, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	var data []byte
	row := s.db.QueryRow("SELECT scene, server, chain, serial FROM desks JOIN journals USING (display, at) WHERE display = ?", display)
	if row.Scan(&data, &server, &at.Chain, &at.Serial) != nil {
		return nil, 0, at, nil
	}
	d, err = scene.Read(bytes.NewReader(data))
	return d, server, at, err
}

// Unjournal removes the journals of a display's earlier keepers.
func Unjournal(base string) {
	for _, path := range journalsOf(base) {
		os.Remove(path)
	}
}

// journalsOf are the journals beside base, those that were being written too; none where base
// is empty.
func journalsOf(base string) (paths []string) {
	if base == "" {
		return nil
	}
	files, _ := os.ReadDir(filepath.Dir(base))
	for _, f := range files {
		path := filepath.Join(filepath.Dir(base), f.Name())
		if name := strings.TrimSuffix(path, freshSuffix); strings.HasPrefix(name, base+"-") && strings.HasSuffix(name, journalSuffix) {
			paths = append(paths, path)
		}
	}
	return paths
}
