package scene

import (
	"bytes"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// platedDemo is the demo desk with a plate of each size.
func platedDemo(t testing.TB) *desk.Desk {
	t.Helper()
	d, err := Demo()
	if err != nil {
		t.Fatal(err)
	}
	for _, line := range []string{"minimise of #33", "stick of #61", "maximise of #24", "layout free of #31", "plate save Day", "plate letter Day d", "plate save Desk workspace", "plate save Pair sheet gather"} {
		c, err := lang.ParseCommand(line)
		if err == nil {
			d, _, err = d.Apply(c)
		}
		if err != nil {
			t.Fatalf("%s: %v", line, err)
		}
	}
	return d
}

func plateText(t testing.TB, p *desk.Plate) string {
	t.Helper()
	var b bytes.Buffer
	if err := WritePlate(&b, p); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// TestPlates holds that a plate that is written is read as the same, and written again
// byte for byte.
func TestPlates(t *testing.T) {
	d := platedDemo(t)
	for name, p := range d.Plates {
		text := plateText(t, p)
		again, err := ReadPlate(strings.NewReader(text), name)
		if err != nil {
			t.Fatalf("%s: %v\n%s", name, err, text)
		}
		if got := plateText(t, again); got != text {
			t.Errorf("%s is written\n%s\nand after that\n%s", name, text, got)
		}
		if changed := d.WithPlates(map[string]*desk.Plate{name: again}).PlatesSince(d); changed[name] != nil {
			t.Errorf("%s is another after it was written", name)
		}
	}
}

const plate = `{
 "format": "zealous-atlas/plate/1",
 "size": "desk",
 "monitors": [{"letter": "A", "rect": [0, 0, 1920, 1200]}],
 "workspaces": [
  {"name": "Programme", "sheets": {"A": {"layout": "lead", "places": [1, 2], "floating": [3]}}},
  {"sheets": {"A": {"tree": {"across": [{"place": 4, "share": 2}, {"place": 5}]}}}}],
 "places": [
  {"id": 1, "app": "Reel Ledger"}, {"id": 2, "app": "Tin Radio", "title": "Late *"},
  {"id": 3, "app": "Hall Plan", "rect": [100, 100, 400, 300]}, {"id": 4, "app": "é"}, {"id": 5}]
}`

// TestPlateFaults holds that every fault is told with its line and its column.
func TestPlateFaults(t *testing.T) {
	if p, err := ReadPlate(strings.NewReader(plate), "Day"); err != nil || len(p.As.Windows) != 5 || p.Name != "Day" {
		t.Fatalf("%+v, %v", p, err)
	}
	for _, c := range []struct {
		old, new     string
		line, column int
		want         string
	}{
		{"plate/1", "plate/9", 2, 12, "format: this must be"},
		{"plate/1", "scene/1", 2, 12, "format: this must be"},
		{`"size": "desk"`, `"size": "room"`, 3, 10, "size: this must be one of"},
		{`"id": 5}`, `"id": 4}`, 10, 94, "places[4].id: another place has the id 4"},
		{`"id": 5}`, `"id": 5, "pid": 7}`, 10, 104, "places[4].pid: there is no such key"},
		{`"places": [1, 2]`, `"places": [1, 9]`, 6, 74, "there is no place 9"},
		{`"floating": [3]`, `"floating": [2]`, 6, 91, "place 2 is on another list already"},
		{`{"place": 5}`, `{"window": 5}`, 7, 67, "this must be a place"},
		{`"size": "desk"`, `"size": "sheet"`, 5, 16, "workspaces: there must be 1"},
		{`"size": "desk"`, `"size": "desk", "gather": true`, 3, 28, "gather: only the plate of a sheet"},
		{`"size": "desk"`, `"size": "desk", "letter": "AB"`, 3, 28, "letter: this must be a letter"},
		{`[0, 0, 1920, 1200]`, `[0, 0, 1920]`, 4, 39, "monitors[0].rect: a rectangle"},
		{`"id": 4,`, `"id": 4`, 10, 73, "not a plate"},
	} {
		text := strings.Replace(plate, c.old, c.new, 1)
		_, err := ReadPlate(strings.NewReader(text), "Day")
		f, ok := err.(*Fault)
		if !ok || f.Line != c.line || f.Column != c.column || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s for %s: %v at %d:%d, want %q at %d:%d", c.new, c.old, err, f.Line, f.Column, c.want, c.line, c.column)
		}
	}
}

// FuzzPlate holds that what can be read of a plate is written and read again as it is,
// and can be laid.
func FuzzPlate(f *testing.F) {
	f.Add(plate)
	for _, p := range platedDemo(f).Plates {
		f.Add(plateText(f, p))
	}
	d, err := Demo()
	if err != nil {
		f.Fatal(err)
	}
	lay, err := lang.ParseCommand("plate lay Day")
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, text string) {
		p, err := ReadPlate(strings.NewReader(text), "Day")
		if err != nil {
			return
		}
		again, err := ReadPlate(strings.NewReader(plateText(t, p)), "Day")
		if err != nil || plateText(t, again) != plateText(t, p) {
			t.Fatalf("%s\nis written\n%s\n%v", text, plateText(t, p), err)
		}
		next, _, err := d.WithPlates(map[string]*desk.Plate{"Day": p}).Apply(lay)
		if err == nil {
			err = next.Check()
		}
		if err != nil {
			t.Fatalf("%s\ncannot be laid: %v", text, err)
		}
	})
}
