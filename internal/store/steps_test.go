package store

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
)

// TestStepsOutlast holds that a history that is kept takes a desk back and on again as the
// one it is of does, on the same server alone, and that only what is new is written.
func TestStepsOutlast(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	d := desks.After(t, desks.Demo(t), "plate save Day")
	keep := func(server int64) {
		t.Helper()
		if _, err := s.Save(":0", Batch{Desk: d, Server: server, Entries: []Entry{{Words: "x", Server: server, Step: d.Step()}}}); err != nil {
			t.Fatal(err)
		}
	}
	rows := func(what string) (n int) {
		t.Helper()
		if err := s.db.QueryRow("SELECT " + what + " FROM steps").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for i := range 210 {
		d = desks.After(t, d, fmt.Sprintf("send %d of #11", 1+i%2+1), "float of #12", "float of #12")
		if i%10 == 0 {
			keep(7)
		}
	}
	d = desks.After(t, d, "plate remove Day", "undo 3", "send 5 of #13", "undo 2")
	keep(7)
	last := rows("max(rowid)")
	keep(7)
	if now := rows("max(rowid)"); now != last || rows("count(*)") > 2*maxSteps {
		t.Errorf("with nothing new, rows up to %d and then %d are written", last, now)
	}
	s.Close()

	s = openAt(t, path)
	if fresh, err := s.WithSteps(":0", 8, desks.Demo(t)); err != nil || fresh.Undo() != "" {
		t.Errorf("on another server undo is %q, %v", fresh.Undo(), err)
	}
	whole, err := s.Desk(":0")
	if err != nil {
		t.Fatal(err)
	}
	again, err := s.WithSteps(":0", 7, whole.WithPlates(d.Plates))
	if err != nil {
		t.Fatal(err)
	}
	if again.Undo() != d.Undo() || again.Redo() != d.Redo() || again.Step() != d.Step() {
		t.Errorf("kept are %q, %q, %d, and were %q, %q, %d", again.Undo(), again.Redo(), again.Step(), d.Undo(), d.Redo(), d.Step())
	}
	for _, way := range [][]string{{"undo"}, {"undo 250"}, {"redo 2"}, {"undo", "float of #21", "undo"}} {
		a, b := desks.After(t, d, way...), desks.After(t, again, way...)
		if !scene.Equal(a, b) || len(a.PlatesSince(b)) > 0 {
			t.Errorf("%v leads elsewhere than without the disk", way)
		}
	}
	// It goes on from there, with numbers that were never used.
	d = desks.After(t, again, "undo 5", "float of #21")
	keep(7)
	if c, ok := d.Back(again.Step()); ok {
		t.Errorf("a step that was undone and is gone is gone back to by %v", c)
	}
	keep(9)
	if rows("count(*)") == 0 {
		t.Error("on a new server nothing is kept")
	}

	// One that cannot be read is told.
	if _, err := s.db.Exec("UPDATE steps SET desks = x'00'"); err != nil {
		t.Fatal(err)
	}
	broken, err := s.WithSteps(":0", 7, whole)
	if err != nil {
		t.Fatal(err)
	}
	c, _ := lang.ParseCommand("undo")
	if _, _, err := broken.Apply(c); err == nil || !strings.Contains(err.Error(), "cannot be taken back any more") {
		t.Errorf("a broken step: %v", err)
	}
}

// TestStepsFollow holds that a file that is removed gets the whole history again, up to a
// step that cannot be read.
func TestStepsFollow(t *testing.T) {
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	d := desks.After(t, desks.Demo(t), "send 2 of #11", "send 3 of #11", "send 4 of #11")
	keep := func() {
		t.Helper()
		if err := os.Remove(path); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Save(":0", Batch{Desk: d, Server: 7}); err != nil {
			t.Fatal(err)
		}
		s.Close()
		s = openAt(t, path)
		whole, err := s.Desk(":0")
		if err == nil {
			d, err = s.WithSteps(":0", 7, whole)
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.Save(":0", Batch{Desk: d, Server: 7}); err != nil {
		t.Fatal(err)
	}
	want := d
	keep()
	if undo, _ := d.Steps(9); len(undo) != 3 || d.Undo() != want.Undo() {
		t.Fatalf("%d steps are kept, the last %q", len(undo), d.Undo())
	}
	if got := desks.After(t, d, "undo 3"); !scene.Equal(got, desks.After(t, want, "undo 3")) {
		t.Error("they lead elsewhere")
	}
	if _, err := s.db.Exec("UPDATE steps SET desks = x'00' WHERE number = (SELECT min(number) + 1 FROM steps)"); err != nil {
		t.Fatal(err)
	}
	if again, err := s.WithSteps(":0", 7, d); err != nil {
		t.Fatal(err)
	} else {
		d = again
	}
	keep()
	if undo, _ := d.Steps(9); len(undo) != 1 {
		t.Errorf("%d steps are kept, and the second cannot be read", len(undo))
	}
}

// However often a keeper starts again, no more steps are kept than are needed.
func TestStepsOfManyKeepers(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	d := desks.Demo(t)
	for range 12 {
		s := openAt(t, path)
		next, err := s.WithSteps(":0", 7, d)
		if err != nil {
			t.Fatal(err)
		}
		d = next
		for i := range 60 {
			d = desks.After(t, d, fmt.Sprintf("send %d of #11", 2+i%2))
			if i%20 == 19 {
				if _, err := s.Save(":0", Batch{Desk: d, Server: 7, Entries: []Entry{{Words: "x", Server: 7, Step: d.Step()}}}); err != nil {
					t.Fatal(err)
				}
			}
		}
		s.Close()
	}
	s := openAt(t, path)
	var n int
	if err := s.db.QueryRow("SELECT count(*) FROM steps").Scan(&n); err != nil || n < maxSteps || n > maxSteps+3*maxFar {
		t.Errorf("%d steps are kept, %v", n, err)
	}
	again, err := s.WithSteps(":0", 7, d)
	if err != nil {
		t.Fatal(err)
	}
	for _, way := range [][]string{{"undo 7"}, {"undo 299"}} {
		if a, b := desks.After(t, again, way...), desks.After(t, d, way...); !scene.Equal(a, b) {
			t.Errorf("%v gives another desk", way)
		}
	}
}

// A step that is told since another one which is gone, or since itself, cannot be taken back,
// and says so; those above it can.
func TestStepsTornApart(t *testing.T) {
	s := openAt(t, filepath.Join(t.TempDir(), "state.db"))
	d := desks.Demo(t)
	for i := range 40 {
		d = desks.After(t, d, fmt.Sprintf("send %d of #11", 2+i%2))
		if _, err := s.Save(":0", Batch{Desk: d, Server: 7}); err != nil {
			t.Fatal(err)
		}
	}
	var whole int
	if err := s.db.QueryRow("SELECT count(*) FROM steps WHERE length(desks) > 3000").Scan(&whole); err != nil || whole == 0 || whole > 4 {
		t.Errorf("%d of 40 steps are whole, %v", whole, err)
	}
	for what, query := range map[string]string{
		"one that is gone": "DELETE FROM steps WHERE number = 20",
		"one of itself":    `UPDATE steps SET desks = CAST(replace(CAST(desks AS TEXT), '"on":20,', '"on":21,') AS BLOB) WHERE number = 21`,
	} {
		if _, err := s.db.Exec(query); err != nil {
			t.Fatal(err)
		}
		again, err := s.WithSteps(":0", 7, d)
		if err != nil {
			t.Fatal(what, err)
		}
		again = desks.After(t, again, "undo 8") // down to the next that is whole
		c, _ := lang.ParseCommand("undo 30")
		if _, _, err := again.Apply(c); err == nil || !strings.Contains(err.Error(), "cannot be taken back any more") {
			t.Errorf("%s: %v", what, err)
		}
	}
}

// The oldest steps go where all together take too much, and those that remain can be taken back.
func TestStepsAreBounded(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	s := openAt(t, path)
	s.most = 64 << 10
	d := desks.Demo(t)
	total := func() (n, bytes int) {
		t.Helper()
		if err := s.db.QueryRow("SELECT count(*), sum(length(desks)) FROM steps WHERE side = 0").Scan(&n, &bytes); err != nil {
			t.Fatal(err)
		}
		return n, bytes
	}
	for i := range 2 * maxFar {
		d = desks.After(t, d, fmt.Sprint("send ", 2-i%2, " of #11"))
		if _, err := s.Save(":0", Batch{Desk: d, Server: 7}); err != nil {
			t.Fatal(err)
		}
		if n, bytes := total(); bytes > s.most || n == 0 {
			t.Fatalf("%d steps take %d bytes, and %d are allowed", n, bytes, s.most)
		}
	}
	n, _ := total()
	if n >= 2*maxFar {
		t.Fatalf("%d steps are kept: none was let go", n)
	}
	s.Close()
	s = openAt(t, path)
	whole, err := s.Desk(":0")
	if err != nil {
		t.Fatal(err)
	}
	again, err := s.WithSteps(":0", 7, whole)
	if err != nil {
		t.Fatal(err)
	}
	if got, want := desks.After(t, again, fmt.Sprint("undo ", n)), desks.After(t, d, fmt.Sprint("undo ", n)); !scene.Equal(got, want) {
		t.Error("they lead elsewhere than without the disk")
	}
}
