package pack

import (
	"archive/zip"
	"bytes"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"
)

// member is a file of a zip file that is made by hand.
type member struct {
	name, text string
	mode       fs.FileMode
}

func zipped(t testing.TB, files ...member) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, f := range files {
		h := &zip.FileHeader{Name: f.name, Method: zip.Deflate}
		h.SetMode(0o600 | f.mode)
		w, err := z.CreateHeader(h)
		if err == nil {
			_, err = w.Write([]byte(f.text))
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func TestRead(t *testing.T) {
	many := make([]member, maxFiles+1)
	for i := range many {
		many[i].name = PlateFile(strings.Repeat("a", 1+i%60))
	}
	big := strings.Repeat("0", maxBytes/2+1)
	for _, c := range []struct {
		name  string
		files []member
		want  string // of the fault; empty for none
	}{
		{"all there can be", []member{{name: Settings}, {name: "plates/Day 2.json", text: "x"}, {name: Survey}, {name: Log}}, ""},
		{"a folder above", []member{{name: "../settings.toml"}}, "none of the files of a pack"},
		{"a path from the root", []member{{name: "/settings.toml"}}, "none of the files of a pack"},
		{"a plate above", []member{{name: "plates/../x.json"}}, "none of the files of a pack"},
		{"a folder in the plates", []member{{name: "plates/a/x.json"}}, "none of the files of a pack"},
		{"a name that is none", []member{{name: "plates/.json"}}, "none of the files of a pack"},
		{"a name with an escape", []member{{name: "plates/\x1b[31m.json"}}, "none of the files of a pack"},
		{"the plate that is of this display alone is one by its name", []member{{name: "plates/back.json"}}, ""},
		{"a link", []member{{name: Settings, text: "/etc/passwd", mode: fs.ModeSymlink}}, "is no regular file"},
		{"a pipe", []member{{name: Settings, mode: fs.ModeNamedPipe}}, "is no regular file"},
		{"twice", []member{{name: Settings}, {name: Settings}}, "twice"},
		{"alike but for case", []member{{name: "plates/Day.json"}, {name: "plates/day.json"}}, "but for case"},
		{"too many", many, "1001 files"},
		{"too much", []member{{name: Settings, text: big}, {name: Survey, text: big}}, "more than 64 MB"},
		{"nothing", nil, "holds nothing"},
	} {
		p, err := Read(zipped(t, c.files...))
		switch {
		case c.want == "" && (err != nil || len(p) != len(c.files)):
			t.Errorf("%s: %d files, %v", c.name, len(p), err)
		case c.want != "" && (err == nil || !strings.Contains(err.Error(), c.want) || strings.Contains(err.Error(), "\x1b")):
			t.Errorf("%s: %v, want %s", c.name, err, c.want)
		}
	}
	if _, err := Read([]byte("PK\x03\x04 and no more")); err == nil {
		t.Error("half a zip file is read")
	}
}

// TestPlace holds that files are put in place all or none, and what they replace is kept.
func TestPlace(t *testing.T) {
	for _, fails := range []bool{false, true} {
		dir := t.TempDir()
		p := Pack{Settings: []byte("new"), PlateFile("Day"): []byte("new"), PlateFile("Old"): []byte("new"), PlateFile("Same"): []byte("same")}
		where := func(name string) string { return filepath.Join(dir, "zealous-atlas", name) }
		for name, text := range map[string]string{Settings: "mine", PlateFile("Old"): "mine", PlateFile("Same"): "same"} {
			os.MkdirAll(filepath.Dir(where(name)), 0o700)
			if err := os.WriteFile(where(name), []byte(text), 0o600); err != nil {
				t.Fatal(err)
			}
		}
		changes, err := p.Changes(where)
		if err != nil {
			t.Fatal(err)
		}
		now := time.Date(2026, 11, 28, 10, 0, 0, 0, time.UTC)
		if fails { // what is kept of the last one would write over another file
			if err := os.WriteFile(where(Settings)+".before-20261128-100000", []byte("older"), 0o600); err != nil {
				t.Fatal(err)
			}
		}
		kept, err := Place(changes, now)
		if fails != (err != nil) {
			t.Fatalf("%v, and it should fail: %v", err, fails)
		}
		want := map[string]string{Settings: "new", PlateFile("Day"): "new", PlateFile("Old"): "new", PlateFile("Same"): "same",
			Settings + ".before-20261128-100000": "mine", PlateFile("Old") + ".before-20261128-100000": "mine"}
		if fails {
			want = map[string]string{Settings: "mine", PlateFile("Old"): "mine", PlateFile("Same"): "same", Settings + ".before-20261128-100000": "older"}
		} else if len(kept) != 2 {
			t.Errorf("kept are %q", kept)
		}
		var found []string
		filepath.WalkDir(filepath.Join(dir, "zealous-atlas"), func(path string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() {
				name, _ := filepath.Rel(filepath.Join(dir, "zealous-atlas"), path)
				data, _ := os.ReadFile(path)
				if found = append(found, name); string(data) != want[name] {
					t.Errorf("fails %v: %s is %q, want %q", fails, name, data, want[name])
				}
			}
			return err
		})
		if len(found) != len(want) {
			t.Errorf("fails %v: there are %q", fails, found)
		}
	}
}

// FuzzRead holds that whatever is read of a zip file is what packs have, and is packed
// and read again as it is.
func FuzzRead(f *testing.F) {
	f.Add(zipped(f, member{name: Settings, text: "theme = \"day\""}, member{name: PlateFile("Day"), text: "{}"}))
	f.Add(zipped(f, member{name: "../x"}))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := Read(data)
		if err != nil {
			return
		}
		var b bytes.Buffer
		if err := p.Write(&b); err != nil {
			t.Fatal(err)
		}
		again, err := Read(b.Bytes())
		if err != nil || !slices.Equal(again.Names(), p.Names()) {
			t.Fatalf("%q are packed as %q: %v", p.Names(), again.Names(), err)
		}
		for _, name := range p.Names() {
			if name != Settings && name != Survey && name != Log && PlateOf(name) == "" {
				t.Fatalf("%q is taken", name)
			}
		}
	})
}

// TestCutOff holds that of an unpacking that was cut off everything comes to its place, or
// nothing, wherever that was.
func TestCutOff(t *testing.T) {
	now := time.Date(2026, 11, 28, 10, 0, 0, 0, time.UTC)
	p := Pack{Settings: []byte("new"), PlateFile("Day"): []byte("new"), PlateFile("Old"): []byte("new")}
	for at := range 4 { // files that were put in place
		dir := t.TempDir()
		where := func(name string) string { return filepath.Join(dir, name) }
		for _, name := range []string{Settings, PlateFile("Old")} {
			os.MkdirAll(filepath.Dir(where(name)), 0o700)
			if err := os.WriteFile(where(name), []byte("mine"), 0o600); err != nil {
				t.Fatal(err)
			}
		}
		var moves []move
		var data [][]byte
		for _, name := range p.Names() {
			m := move{Path: where(name)}
			if name != PlateFile("Day") {
				m.Aside = where(name) + ".before-" + now.Format("20060102-150405")
			}
			moves, data = append(moves, m), append(data, p[name])
		}
		if err := stage(dir, moves, data); err != nil {
			t.Fatal(err)
		}
		if _, err := carryOut(moves[:min(at, 3)], data); err != nil {
			t.Fatal(err)
		}
		if err := Finish(dir); err != nil {
			t.Fatal(err)
		}
		if err := Finish(dir); err != nil {
			t.Error(err)
		}
		for i, m := range moves {
			if got, err := os.ReadFile(m.Path); string(got) != "new" {
				t.Errorf("cut off at %d, %s is %q, %v", at, p.Names()[i], got, err)
			}
			if got, err := os.ReadFile(m.Aside); m.Aside != "" && string(got) != "mine" {
				t.Errorf("cut off at %d, %s is kept as %q, %v", at, p.Names()[i], got, err)
			}
		}
		if left, _ := filepath.Glob(filepath.Join(dir, ".*")); len(left) > 0 {
			t.Errorf("left are %q", left)
		}
	}
}

// TestCutOffAndChanged holds that what somebody has written since an unpacking was cut off is
// left, and that it is not tried for ever.
func TestCutOffAndChanged(t *testing.T) {
	dir := t.TempDir()
	where := func(name string) string { return filepath.Join(dir, name) }
	write := func(name, text string) {
		t.Helper()
		if err := os.WriteFile(where(name), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write("changed", "old")
	moves := []move{{where("changed"), where("changed.before")}, {where("new"), ""}, {where("other"), ""}}
	data := [][]byte{[]byte("a"), []byte("b"), []byte("c")}
	if err := stage(dir, moves, data); err != nil {
		t.Fatal(err)
	}
	if _, err := carryOut(moves[:1], data); err != nil {
		t.Fatal(err)
	}
	write("changed", "mine")
	write("new", "mine too")
	if err := Finish(dir); err == nil {
		t.Error("nothing is said")
	}
	for name, want := range map[string]string{"changed": "mine", "changed.before": "old", "new": "mine too", "other": "c"} {
		if got, err := os.ReadFile(where(name)); string(got) != want {
			t.Errorf("%s is %q, %v", name, got, err)
		}
	}
	if err := Finish(dir); err != nil {
		t.Error(err)
	}
}
