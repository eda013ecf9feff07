package plate

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/scene"
)

// However many places plates have, they take a bounded part of memory, and those that are
// not read are told; when others go, they are.
func TestManyPlaces(t *testing.T) {
	const most, plates = 10_000, 12
	m := desk.Monitor{Key: "one", Letter: 'A', Rect: geom.R(0, 0, 1920, 1080), Work: geom.R(0, 0, 1920, 1080), Connected: true, Primary: true}
	d, err := desk.New([]desk.Monitor{m}, desk.Settings{})
	if err != nil {
		t.Fatal(err)
	}
	var facts []desk.Fact
	for i := range most {
		facts = append(facts, desk.Opened{Keep: true, Window: desk.Window{ID: i + 1, App: "Hall Plan", Title: fmt.Sprint("plan ", i), Rect: geom.R(0, 0, 300, 200), Workspace: d.Workspaces[0].ID, Monitor: 'A', Floating: true}})
	}
	d, _ = d.With(facts...)
	var b bytes.Buffer
	if err := scene.WritePlate(&b, &desk.Plate{Name: "p", Size: desk.OfDesk, As: d}); err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	for i := range plates {
		name, old := filepath.Join(dir, fmt.Sprintf("p%02d.json", i)), time.Now().Add(-time.Hour) // else it is read again for a second
		if err := os.WriteFile(name, b.Bytes(), 0o600); err != nil {
			t.Fatal(err)
		}
		if err := os.Chtimes(name, old, old); err != nil {
			t.Fatal(err)
		}
	}
	d, facts = nil, nil
	b.Reset()
	heap := func() int {
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return int(m.HeapAlloc)
	}
	before := heap()
	f := At(dir)
	read, faults := f.Read()
	if len(read) != MaxPlaces/most || len(faults) != plates-len(read) || !strings.Contains(faults[0].Words, fmt.Sprint("all plates together may have ", MaxPlaces)) {
		t.Fatalf("%d plates are read, and told is %v", len(read), faults)
	}
	grown := heap() - before
	t.Logf("%d plates of %d places take %d MB", len(read), most, grown>>20)
	if grown > 64<<20 {
		t.Errorf("%d plates of %d places take %d MB", len(read), most, grown>>20)
	}
	again, _ := f.Read()
	for name, p := range read {
		if again[name] != p {
			t.Errorf("%s is another plate although nothing has changed", name)
		}
	}
	// One that comes first takes the place of another, which is let go.
	if err := os.Rename(filepath.Join(dir, "p11.json"), filepath.Join(dir, "a.json")); err != nil {
		t.Fatal(err)
	}
	if read, _ := f.Read(); read["a"] == nil || read["p01"] != nil || f.known["p01.json"].plate != nil {
		t.Errorf("with another first, %d are read", len(read))
	}
	if err := os.Rename(filepath.Join(dir, "a.json"), filepath.Join(dir, "p11.json")); err != nil {
		t.Fatal(err)
	}
	if err := os.Remove(filepath.Join(dir, "p00.json")); err != nil {
		t.Fatal(err)
	}
	if read, _ := f.Read(); len(read) != MaxPlaces/most || read["p02"] == nil {
		t.Errorf("when one has gone, %d are read", len(read))
	}
}
