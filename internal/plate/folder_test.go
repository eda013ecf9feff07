package plate

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
)

// demoPlate is a plate of the demo desk, and what its file holds.
func demoPlate(t *testing.T, name string) (*desk.Plate, string) {
	t.Helper()
	d := desks.Demo(t)
	c, err := lang.ParseCommand("plate save " + lang.Quote(name))
	if err == nil {
		d, _, err = d.Apply(c)
	}
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := scene.WritePlate(&b, d.Plates[name]); err != nil {
		t.Fatal(err)
	}
	return d.Plates[name], b.String()
}

func write(t *testing.T, path, text string) {
	t.Helper()
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, []byte(text), 0o640); err != nil {
		t.Fatal(err)
	}
}

func names(plates map[string]*desk.Plate) []string {
	var list []string
	for name := range plates {
		list = append(list, name)
	}
	slices.Sort(list)
	return list
}

// TestRead is what is read of a folder: a file that is at fault is told, and the others work.
func TestRead(t *testing.T) {
	_, text := demoPlate(t, "Day")
	f := At(filepath.Join(t.TempDir(), "none", "plates"))
	if plates, faults := f.Read(); len(plates)+len(faults) > 0 {
		t.Errorf("where no folder is there are %v, %v", plates, faults)
	}
	for name, text := range map[string]string{
		"Day.json": "\xef\xbb\xbf" + text, "At home-2.json": text, "day.json": text, "a b!.json": text, "No json.json": "{\n \"format\":", "Other key.json": strings.Replace(text, `"size"`, `"sise"`, 1),
		".hidden.json": "", "notes.txt": "", "Long.json": strings.Repeat(" ", MaxFile+1),
	} {
		write(t, filepath.Join(f.Path(), name), text)
	}
	if err := syscall.Mkfifo(filepath.Join(f.Path(), "Pipe.json"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Mkdir(filepath.Join(f.Path(), "Folder.json"), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.Symlink("nowhere", filepath.Join(f.Path(), "Loose.json")); err != nil {
		t.Fatal(err)
	}
	plates, faults := f.Read()
	if got := names(plates); !slices.Equal(got, []string{"At home-2", "Day"}) {
		t.Errorf("the plates are %q", got)
	}
	wants := map[string]string{
		"day": "there is a plate Day, and no two are alike", "a b!": "is no name of a plate", "No json": "No json.json:2:", "Other key": "Other key.json:3:", "Long": "at most 4 MB",
		"Pipe": "a pipe", "Folder": "a folder", "Loose": "no such file",
	}
	for _, fault := range faults {
		if want := wants[fault.Name]; want == "" || !strings.Contains(fault.Words, want) || !strings.HasPrefix(fault.Words, f.Path()) {
			t.Errorf("%s: %s", fault.Name, fault.Words)
		}
		delete(wants, fault.Name)
	}
	for name := range wants {
		t.Errorf("%s is not told", name)
	}
	// A file in the place of the folder is a fault, and nothing more.
	write(t, filepath.Join(t.TempDir(), "x"), "")
	other := At(filepath.Join(t.TempDir(), "x"))
	write(t, other.Path(), "")
	if plates, faults := other.Read(); len(plates) != 0 || len(faults) != 1 {
		t.Errorf("a file as a folder gives %v, %v", plates, faults)
	}
}

// TestMany holds that no more are read than there may be.
func TestMany(t *testing.T) {
	_, text := demoPlate(t, "Day")
	f := At(t.TempDir())
	for i := range desk.MaxPlates + 3 {
		write(t, filepath.Join(f.Path(), fmt.Sprintf("%03d.json", i)), text)
	}
	if plates, faults := f.Read(); len(plates) != desk.MaxPlates || len(faults) != 3 {
		t.Errorf("%d plates and %d faults", len(plates), len(faults))
	}
	f = At(t.TempDir())
	for i := range maxEntries + 1 {
		write(t, filepath.Join(f.Path(), fmt.Sprint(i)), "")
	}
	if _, faults := f.Read(); len(faults) != 1 || !strings.Contains(faults[0].Words, "more than 2000 files") {
		t.Errorf("of too many files it says %v", faults)
	}
}

// TestKeep holds that what is kept is read again, that changes by others are seen, and
// that no file is lost by it.
func TestKeep(t *testing.T) {
	p, text := demoPlate(t, "Day")
	f := At(filepath.Join(t.TempDir(), "plates"))
	path := filepath.Join(f.Path(), "Day.json")
	if err := f.Keep("Day", p); err != nil {
		t.Fatal(err)
	}
	if data, _ := os.ReadFile(path); string(data) != text {
		t.Errorf("the file is\n%s", data)
	}
	other := strings.Replace(text, "Programme", "Programmf", 1) // as long
	write(t, path, other)
	if plates, _ := f.Read(); plates["Day"] == nil || plates["Day"].As.Workspaces[0].Name != "Programmf" {
		t.Error("a change by others is not seen")
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the mode is %v", info.Mode())
	}
	broken := other + "x"
	write(t, path, broken)
	for _, keep := range []*desk.Plate{p, nil} {
		if err := f.Keep("Day", keep); err == nil || !strings.Contains(err.Error(), "left as it is") {
			t.Errorf("what cannot be read is written over: %v", err)
		}
	}
	if data, _ := os.ReadFile(path); string(data) != broken {
		t.Error("what cannot be read is lost")
	}
	// A link stays one.
	real := filepath.Join(t.TempDir(), "real.json")
	write(t, real, text)
	link := filepath.Join(f.Path(), "Link.json")
	if err := os.Symlink(real, link); err != nil {
		t.Fatal(err)
	}
	if err := f.Keep("Link", p); err != nil {
		t.Fatal(err)
	}
	if info, err := os.Lstat(link); err != nil || info.Mode()&os.ModeSymlink == 0 {
		t.Errorf("the link is %v now", info.Mode())
	}
	if err := f.Keep("Link", nil); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(real); err != nil {
		t.Error("what a link led to is gone")
	}
	for _, name := range []string{"", "../x", "a/b", strings.Repeat("x", 65)} {
		if err := f.Keep(name, p); err == nil {
			t.Errorf("%q is taken for a name", name)
		}
	}
}
