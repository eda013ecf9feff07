package store

import (
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/scene"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// journalled is a saver of a display on the X server 7 whose store stands still from now on:
// what is added is in its journal alone.
func journalled(t *testing.T, d *desk.Desk) (v *Saver, path, base string, free func()) {
	t.Helper()
	dir := t.TempDir()
	path, base = filepath.Join(dir, "state.db"), filepath.Join(dir, "run", "display--0")
	v = NewSaver(openAt(t, path), ":0", 7, slog.New(slog.DiscardHandler))
	v.Journal(base)
	if !v.Add(Change{Desk: d, Entry: Entry{Words: "Began."}}).Wait() {
		t.Fatal("the first change is not safe")
	}
	return v, path, base, hold(t, path)
}

// killed is a copy of the files as they are now, as a SIGKILL leaves them.
func killed(t *testing.T, path, base string) (path2, base2 string) {
	t.Helper()
	dir := t.TempDir()
	journals, _ := filepath.Glob(base + "-*")
	for _, name := range append(journals, path, path+"-wal") {
		data, err := os.ReadFile(name)
		if err == nil {
			err = os.WriteFile(filepath.Join(dir, filepath.Base(name)), data, 0o600)
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	return filepath.Join(dir, filepath.Base(path)), filepath.Join(dir, filepath.Base(base))
}

// folded is what the next keeper makes of the store and the journal as they are now.
func folded(t *testing.T, path, base string) (*desk.Desk, *Store) {
	t.Helper()
	path, base = killed(t, path, base)
	s := openAt(t, path)
	d, server, err := s.Fold(":0", base)
	if err != nil || d == nil || server != 7 {
		t.Fatalf("folding gives %v of server %d, %v", d, server, err)
	}
	return d, s
}

func sameHistory(t *testing.T, got, want *desk.Desk) {
	t.Helper()
	if !scene.Equal(got, want) {
		t.Fatal("the desk is another one")
	}
	if got.Undo() != want.Undo() || got.Redo() != want.Redo() || got.Step() != want.Step() {
		t.Fatalf("the history is at %q, %q, %d and was at %q, %q, %d", got.Undo(), got.Redo(), got.Step(), want.Undo(), want.Redo(), want.Step())
	}
}

// What the store did not get is in the journal: a walk is taken up again as it was at any
// moment, with its history and the lines of the logbook, and goes on from there.
func TestJournal(t *testing.T) {
	d := desks.After(t, desks.Demo(t), "plate save Day", "float of #12")
	v, path, base, free := journalled(t, d)
	r := rand.New(rand.NewPCG(1, 2))
	lines := []string{"Began."}
	for i := range 120 {
		line := []string{"send 2 of #11", "send 1 of #11", "float of #13", "undo", "undo 3", "redo", "redo 2", "go 3", "go 1", "add", "layout next", "plate save Eve", "plate remove Day", "fullscreen of #12"}[r.IntN(14)]
		c := Change{Entry: Entry{Source: "line", Words: fmt.Sprint("did ", i)}}
		command := desks.Command(t, line)
		if next, _, err := d.Apply(command); err == nil { // some have nothing to do here
			d = next
		}
		if c.Desk, c.Entry.Instead = d, i%20 == 19; c.Entry.Instead {
			lines = lines[:len(lines)-1]
		}
		lines = append(lines, c.Entry.Words)
		if !v.Add(c).Wait() {
			t.Fatalf("step %d, %s, is not safe", i, line)
		}
		if i%30 != 29 {
			continue
		}
		got, s := folded(t, path, base)
		got = got.WithPlates(d.Plates)
		sameHistory(t, got, d)
		for _, way := range [][]string{{"undo"}, {"undo 9", "redo 5"}, {"undo 2", "float of #13"}} {
			sameHistory(t, desks.After(t, got, way...), desks.After(t, d, way...))
			if a, b := desks.After(t, got, way...), desks.After(t, d, way...); len(a.PlatesSince(b)) > 0 {
				t.Fatalf("after %v the plates are other ones", way)
			}
		}
		if book, err := s.Logbook(":0", 500); err != nil || len(book) != len(lines) || book[len(lines)-1].Words != lines[len(lines)-1] {
			t.Fatalf("%d lines were written, and there are %d: %v, %v", len(lines), len(book), book, err)
		}
		if i%60 != 59 { // else the journal goes on
			continue
		}
		free()
		testkit.Until(t, "the store has all", func() bool { return len(journalText(t, base)) == len(journalHead) })
		free = hold(t, path)
	}
	free()
	v.Close(t.Context())
	if left, _ := filepath.Glob(base + "*"); len(left) > 0 {
		t.Errorf("%v is left", left)
	}
	if d, _, err := openAt(t, path).Fold(":0", base); d != nil || err != nil {
		t.Errorf("without a journal folding gives %v, %v", d, err)
	}
}

// A desk that a version without journals has kept since is not gone on with by a journal.
func TestJournalOfBefore(t *testing.T) {
	d := desks.Demo(t)
	v, path, base, free := journalled(t, d)
	v.Add(Change{Desk: desks.After(t, d, "float of #12"), Entry: Entry{Words: "floats"}}).Wait()
	path, base = killed(t, path, base)
	s := openAt(t, path)
	if _, err := s.db.Exec("UPDATE desks SET at = at + 1"); err != nil {
		t.Fatal(err)
	}
	if d, _, err := s.Fold(":0", base); d != nil || err != nil {
		t.Errorf("folding gives %v, %v", d, err)
	}
	free()
	v.Close(t.Context())
}

// journalText is what is in the only journal beside base.
func journalText(t *testing.T, base string) string {
	t.Helper()
	paths, _ := filepath.Glob(base + "-*" + journalSuffix)
	if len(paths) != 1 {
		t.Fatalf("the journals are %v", paths)
	}
	data, err := os.ReadFile(paths[0])
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// A journal is taken up as far as it is whole: not past a line that is torn, changed or
// missing, and not where it does not follow what the store has.
func TestTornJournal(t *testing.T) {
	d := desks.Demo(t)
	v, path, base, free := journalled(t, d)
	written, ends := []*desk.Desk{d}, []int{len(journalHead)}
	for i := range 6 {
		d = desks.After(t, d, fmt.Sprintf("send %d of #11", i%2+2))
		written = append(written, d)
		v.Add(Change{Desk: d, Entry: Entry{Words: "sent"}}).Wait()
		ends = append(ends, len(journalText(t, base)))
	}
	whole := journalText(t, base)
	without := func(n int) string { return whole[:ends[n-1]] + whole[ends[n]:] }
	paths, _ := filepath.Glob(base + "-*" + journalSuffix)
	for _, c := range []struct {
		name, text string
		want       int // how many of the changes are taken up; -1 for no desk
	}{
		{"whole", whole, 6},
		{"empty", journalHead, 0},
		{"the last cut off", whole[:len(whole)-7], 5},
		{"its newline cut off", whole[:len(whole)-1], 5},
		{"a letter changed", strings.Replace(whole, "sent", "lent", 1), 0},
		{"the third missing", without(3), 2},
		{"the first missing", without(1), 0},
		{"a line twice", whole + whole[ends[5]:], 6},
		{"noise after it", whole + "\x00\xff{}\n", 6},
		{"a length beyond the end", whole + "00000000 99999999\n{}", 6},
		{"a length below 0", whole + "00000000 -1\n{}", 6},
		{"of another program", "x" + whole, -1},
		{"nothing at all", "", -1},
	} {
		t.Run(c.name, func(t *testing.T) {
			at, beside := killed(t, path, base)
			if err := os.WriteFile(beside+strings.TrimPrefix(paths[0], base), []byte(c.text), 0o600); err != nil {
				t.Fatal(err)
			}
			got, _, err := openAt(t, at).Fold(":0", beside)
			if c.want < 0 {
				if got != nil {
					t.Error("a desk was taken up")
				}
				return
			}
			if got == nil {
				t.Fatal("no desk was taken up:", err)
			}
			sameHistory(t, got, written[c.want])
		})
	}
	free()
	v.Close(t.Context())
}

// A journal that cannot be written says so and holds nobody up; what is removed comes back;
// and it works again as soon as the store has what was let go.
func TestJournalAtFault(t *testing.T) {
	d := desks.Demo(t)
	v, path, base, free := journalled(t, d)
	send := func() bool {
		d = desks.After(t, d, fmt.Sprintf("send %d of #11", 2+v.point.Serial%2))
		return v.Add(Change{Desk: d, Entry: Entry{Words: "sent"}}).Wait()
	}
	same := func() {
		t.Helper()
		got, _ := folded(t, path, base)
		sameHistory(t, got, d)
	}
	Unjournal(base)
	if !send() {
		t.Error("the journal that was removed is not made again")
	}
	Unjournal(base)
	os.Remove(filepath.Dir(base))
	if !send() {
		t.Error("the folder that was removed is not made again")
	}
	same()
	Unjournal(base)
	os.Remove(filepath.Dir(base))
	if err := os.WriteFile(filepath.Dir(base), nil, 0o600); err != nil {
		t.Fatal(err)
	}
	for range 2 {
		if send() {
			t.Error("what is kept nowhere is called safe")
		}
	}
	os.Remove(filepath.Dir(base))
	if send() {
		t.Error("a change is called safe that follows one which is kept nowhere")
	}
	free()
	testkit.Until(t, "changes are safe again", send)
	free = hold(t, path)
	if !send() {
		t.Error("a change is not safe once the journal works again")
	}
	same()
	v.journal.tell(func() { v.journal.most = 2000 })
	for range 10 {
		send()
	}
	if send() {
		t.Error("a journal that is full is called safe")
	}
	if left, _ := filepath.Glob(base + "-*"); len(left) > 0 {
		t.Errorf("a journal that is not the latest is left: %v", left)
	}
	v.journal.tell(func() { v.journal.most = maxJournal })
	free()
	testkit.Until(t, "changes are safe after one that was full", send)
	v.Close(t.Context())
}

// A folder that does not answer, here a pipe that nobody reads, is waited for once, and
// then told at once, until it answers.
func TestJournalStandsStill(t *testing.T) {
	t.Parallel()
	out, in, err := os.Pipe()
	if err != nil {
		t.Fatal(err)
	}
	defer out.Close()
	j := newJournal(filepath.Join(t.TempDir(), "display--0"), slog.New(slog.DiscardHandler))
	d := desks.Demo(t)
	j.f, j.last, j.begins = in, d, 0
	go j.run()
	serial := int64(0)
	send := func() bool {
		serial++
		d = desks.After(t, d, fmt.Sprintf("send %d of #11", 2+serial%2))
		return j.add(serial, d, Entry{Words: strings.Repeat("sent ", 200)}).Wait()
	}
	for send() {
		if serial > 5000 {
			t.Fatal("the pipe is never full")
		}
	}
	began := time.Now()
	for range 2 {
		if send() || time.Since(began) > journalPatience/2 {
			t.Errorf("a change after it was waited for %v", time.Since(began))
		}
	}
	for range maxBehind {
		j.add(serial, d, Entry{})
	}
	j.mu.Lock()
	if len(j.waiting) > maxBehind || !j.lost {
		t.Errorf("%d changes wait, let go: %v", len(j.waiting), j.lost)
	}
	j.mu.Unlock()
	go io.Copy(io.Discard, out)
	j.has(1 << 40) // as the store does in the end
	testkit.Until(t, "changes are safe again", send)
	j.end(t.Context(), true)
}

func FuzzJournal(f *testing.F) {
	d, err := desk.New([]desk.Monitor{{Key: "one", Letter: 'A', Rect: geom.R(0, 0, 1200, 800), Work: geom.R(0, 0, 1200, 800), Connected: true, Primary: true}}, desk.Settings{})
	if err != nil {
		f.Fatal(err)
	}
	next, _, _ := d.Apply(desk.Command{Verb: "add"})
	line, err := (&Receipt{serial: 2, desk: next}).line(d)
	if err != nil {
		f.Fatal(err)
	}
	f.Add(line[bytes.IndexByte(line, '\n')+1:])
	f.Fuzz(func(t *testing.T, data []byte) {
		path := filepath.Join(t.TempDir(), "x"+journalSuffix)
		if err := os.WriteFile(path, append([]byte(journalHead), framed(data)...), 0o600); err != nil {
			t.Fatal(err)
		}
		entries, _ := readJournal(path)
		for _, e := range entries {
			next, err := e.after(d)
			if err != nil {
				continue
			}
			if err := next.Check(); err != nil {
				t.Fatal(err)
			}
			past, _ := next.Steps(3)
			for _, m := range past {
				m.Load()
			}
		}
	})
}
