package apps

import (
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"syscall"
	"testing"
	"time"
)

// manyEntries are folders of so many desktop entries.
func manyEntries(t testing.TB, n int) (x *Index, dir string) {
	t.Helper()
	dir = filepath.Join(t.TempDir(), "applications")
	for i := range n {
		path := filepath.Join(dir, fmt.Sprint("part", i%20), fmt.Sprintf("p%d.desktop", i))
		if i < 20 {
			if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
				t.Fatal(err)
			}
		}
		text := fmt.Sprintf("[Desktop Entry]\nType=Application\nName=Program %d\nExec=p%d\n", i, i)
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	return &Index{Getenv: func(k string) string {
		return map[string]string{"XDG_DATA_HOME": filepath.Dir(dir), "XDG_DATA_DIRS": "/none"}[k]
	}}, dir
}

func renew(t testing.TB, x *Index) {
	t.Helper()
	if err := x.Renew(t.Context()); err != nil {
		t.Fatal(err)
	}
}

// Only what has changed is read again, and all of that is.
func TestIndexFollows(t *testing.T) {
	x, dir := manyEntries(t, 300)
	if got := x.Installed(); len(got.Apps) != 0 {
		t.Errorf("before it was read there are %d", len(got.Apps))
	}
	renew(t, x)
	if n := len(x.Installed().Apps); n != 300 {
		t.Fatalf("%d are installed", n)
	}
	before := map[string]*entry{}
	for path, e := range x.entries {
		before[path] = e
	}
	path := filepath.Join(dir, "part7", "p7.desktop")
	gone := filepath.Join(dir, "part8", "p8.desktop")
	if err := os.WriteFile(path, []byte("[Desktop Entry]\nType=Application\nName=Another name\nExec=p7\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Remove(gone); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "new.desktop"), []byte("[Desktop Entry]\nType=Application\nName=New\nExec=new\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	renew(t, x)
	l := x.Installed()
	if n := len(l.Apps); n != 300 {
		t.Errorf("%d are installed", n)
	}
	for name, want := range map[string]bool{"another NAME": true, "New": true, "Program 8": false, "p9": true, "part9-p9": true, "Program 7": false} {
		if _, ok := l.Find(name); ok != want {
			t.Errorf("%s is found: %t", name, ok)
		}
	}
	again := 0
	for p, e := range x.entries {
		if before[p] != e {
			again++
		}
	}
	if again != 2 {
		t.Errorf("%d entries were read, and 2 have changed or come", again)
	}
}

// Entries that are no files, and folders that lead round in a circle, end.
func TestIndexOfOddities(t *testing.T) {
	x, dir := manyEntries(t, 3)
	for _, err := range []error{
		syscall.Mkfifo(filepath.Join(dir, "pipe.desktop"), 0o600), os.Symlink("/dev/zero", filepath.Join(dir, "zero.desktop")),
		os.Symlink(dir, filepath.Join(dir, "round")), os.Mkdir(filepath.Join(dir, "folder.desktop"), 0o700), os.Symlink("/none", filepath.Join(dir, "none.desktop")),
	} {
		if err != nil {
			t.Fatal(err)
		}
	}
	renew(t, x)
	names := map[string]bool{}
	for _, a := range x.Installed().Apps {
		names[a.Name] = true
	}
	if len(names) != 3 {
		t.Errorf("installed are %v", names)
	}
}

// Many may ask at once, and nobody waits but for what is new.
func TestIndexAtOnce(t *testing.T) {
	x, _ := manyEntries(t, 2000)
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			for range 5 {
				if err := x.Renew(t.Context()); err != nil {
					t.Error(err)
				}
				x.Installed().Find("Program 7")
			}
		})
	}
	wg.Wait()
	if n := len(x.Installed().Apps); n != 2000 {
		t.Errorf("%d are installed", n)
	}
}

// BenchmarkIndex tells how long 20,000 entries take: looked at again, and ranked.
func BenchmarkIndex(b *testing.B) {
	x, _ := manyEntries(b, 20_000)
	renew(b, x)
	names := make([]string, 0, 20_000)
	for _, a := range x.Installed().Apps {
		names = append(names, a.Name)
	}
	time.Sleep(2 * time.Second) // until changes of the folders show
	for b.Loop() {
		renew(b, x)
	}
	began := time.Now()
	Rank(names, "program 77", nil, time.Now())
	b.ReportMetric(float64(time.Since(began).Microseconds())/1000, "ms-ranked")
}

// A window is called as its desktop entry calls it.
func TestNameOf(t *testing.T) {
	l := NewList([]App{{Name: "Reel Ledger", ID: "film.wexelbrook.Ledger", Class: "ledger-gui", Command: []string{"python3"}}, {Name: "Till", ID: "till", Command: []string{"till-bin"}}})
	for _, c := range [][3]string{
		{"Ledger-GUI", "x", "Reel Ledger"}, {"Ledger", "", "Reel Ledger"}, {"Python3", "python3", "Python3"}, {"Till-2.1", "till", "Till"}, {"Notes", "till", "Notes"}, {"TILL", "", "Till"}, {"", "", ""},
	} {
		if got := l.NameOf(c[0], c[1]); got != c[2] {
			t.Errorf("%s, %s is called %q, want %q", c[0], c[1], got, c[2])
		}
	}
	if got := (&List{}).NameOf("A", "b"); got != "A" {
		t.Errorf("without entries it is called %q", got)
	}
}
