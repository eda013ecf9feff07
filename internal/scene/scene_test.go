package scene

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
)

const base = `{"format": "zealous-atlas/scene/1",
 "settings": {"mode": "spanning", "count": "fixed", "gap": 0},
 "monitors": [{"letter": "A", "name": "Laptop", "rect": [0, 0, 1920, 1200], "work": [0, 0, 1920, 1168], "primary": true, "header": 48},
              {"letter": "C", "name": "Projector", "rect": [5360, 0, 1920, 1080], "connected": false}],
 "workspaces": [{"name": "Programme", "sheets": {"A": {"layout": "lead", "share": 60, "windows": [11, 12], "floating": [15]}}},
                {"name": "Guests", "home": "A", "sheets": {"A": {"layout": "tree", "tree":
                   {"across": [{"window": 21, "share": 2}, {"share": 1, "down": [{"window": 22}, {"window": 23}]}]}}}}],
 "windows": [{"id": 11, "app": "Reel Ledger", "title": "Running order"}, {"id": 12}, {"id": 21}, {"id": 22}, {"id": 23},
             {"id": 15, "app": "Hall Plan", "title": "Seats", "rect": [6000, 100, 800, 600], "bar": 28, "min": [300, 200]},
             {"id": 31, "app": "Tin Radio", "title": "Late set", "rect": [40, 40, 500, 300], "workspace": 2}],
 "shown": {"A": 1}, "at": "A", "focus": 11}`

func TestRead(t *testing.T) {
	d, err := Read(strings.NewReader(base))
	if err != nil {
		t.Fatal(err)
	}
	for id, want := range map[int]geom.Rect{
		11: geom.R(0, 0, 1152, 1168), 12: geom.R(1152, 0, 768, 1168),
		21: geom.R(0, 0, 1280, 1168), 22: geom.R(1280, 0, 640, 584), 23: geom.R(1280, 584, 640, 584),
		15: geom.R(6000, 100, 800, 600), 31: geom.R(40, 40, 500, 300),
	} {
		if got := d.Window(id).Rect; got != want {
			t.Errorf("#%d is at %v, want %v", id, got, want)
		}
	}
	if got := d.Ref(d.Window(31)); got != "A2" {
		t.Errorf("#31 floats on %s", got)
	}
	if f := d.Lost(d.Window(15)); f.Cause.String() != "off" || f.Was != 'C' {
		t.Errorf("#15: %v %c", f.Cause, f.Was)
	}
	if d.Focus != 11 || d.At != 'A' || d.Current() != 0 {
		t.Errorf("focus #%d at %c on %d", d.Focus, d.At, d.Current())
	}
}

// Every fault names its place.
func TestFaults(t *testing.T) {
	for _, c := range []struct{ old, new, want string }{
		{`"gap": 0`, `"gap": -1`, "settings.gap: "},
		{`"header": 48`, `"header": 481`, "monitors[0].header: "},
		{`"gap": 0`, `"gab": 0`, "settings.gab: there is no such key"},
		{`"mode": "spanning"`, `"mode": "both"`, "settings.mode: "},
		{`scene/1`, `scene/2`, "format: "},
		{`"letter": "C"`, `"letter": "A"`, "monitors[1].letter: another monitor"},
		{`"letter": "C"`, `"letter": "CC"`, "monitors[1].letter: "},
		{`"work": [0, 0, 1920, 1168]`, `"work": [0, 0, 1920, 1300]`, "monitors[0].work: "},
		{`"rect": [0, 0, 1920, 1200]`, `"rect": [0, 0, 1920]`, "monitors[0].rect: a rectangle"},
		{`"sheets": {"A": {"layout": "lead"`, `"sheets": {"C": {"layout": "lead"`, "workspaces[0].sheets.C: "},
		{`"sheets": {"A": {"layout": "lead"`, `"sheets": {"Z": {"layout": "lead"`, "workspaces[0].sheets.Z: "},
		{`"layout": "lead"`, `"layout": "leed"`, "workspaces[0].sheets.A.layout: "},
		{`"share": 60`, `"share": 95`, "workspaces[0].sheets.A.share: "},
		{`"windows": [11, 12]`, `"windows": [11, 99]`, "workspaces[0].sheets.A.windows[1]: there is no window 99"},
		{`"windows": [11, 12]`, `"windows": [11, 11]`, "workspaces[0].sheets.A.windows[1]: window 11 is on another list"},
		{`"floating": [15]`, `"floating": [15, 22]`, "window 22 is on another list already, workspaces[0].sheets.A.floating[1]"},
		{`{"window": 22}, {"window": 23}`, `{"window": 22, "down": []}`, "there is no such key"},
		{`{"window": 22}, {"window": 23}`, ``, "a group needs members"},
		{`"home": "A"`, `"home": "Q"`, "workspaces[1].home: "},
		{`"name": "Guests"`, `"name": "Programme"`, "workspaces[1].name: "},
		{`{"id": 12}`, `{"id": 11}`, "windows[1].id: another window has the id 11"},
		{`{"id": 12}`, `{"id": 12, "minimised": true}`, "window 12 is minimised"},
		{`{"id": 12}`, `{"id": 12, "fixed": true}`, "window 12 is tiled"},
		{`{"id": 12}`, `{"id": 12}, {"id": 13}`, "windows[2]: window 13 is on no sheet"},
		{`{"id": 12}`, `{}`, "windows[1]: a window needs an id"},
		{`"id": 31,`, `"id": 31.5,`, "windows[6].id: "},
		{`"title": "Late set"`, `"title": 7`, "windows[6].title: "},
		{`"workspace": 2`, `"workspace": 3`, "windows[6].workspace: there is no workspace 3"},
		{`"workspace": 2`, `"workspace": 2, "parent": 4`, "windows[6].parent: "},
		{`"shown": {"A": 1}`, `"shown": {"C": 1}`, "shown.C: "},
		{`"shown": {"A": 1}`, `"shown": {"A": 3}`, "shown.A: "},
		{`"focus": 11`, `"focus": 21`, "window 21 cannot have the focus"},
		{`"at": "A"`, `"at": "C"`, "monitor C is not connected"},
		{`"at": "A",`, `"at": "A", "at": "A",`, `the key "at" stands twice`},
		{`"focus": 11}`, `"focus": 11} {}`, "something follows"},
		{`"focus": 11}`, `"focus": 11`, "unexpected EOF"},
	} {
		text := strings.Replace(base, c.old, c.new, 1)
		if text == base {
			t.Fatalf("%q is not in the scene", c.old)
		}
		if _, err := Read(strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s for %s: %v, want %q", c.new, c.old, err, c.want)
		}
	}
}

func TestWriteIsStable(t *testing.T) {
	for name, text := range map[string]string{"base": base, "demo": string(demo)} {
		d, err := Read(strings.NewReader(text))
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		var first, second bytes.Buffer
		if err := Write(&first, d); err != nil {
			t.Fatal(err)
		}
		again, err := Read(bytes.NewReader(first.Bytes()))
		if err != nil {
			t.Fatalf("%s: what was written is not read: %v\n%s", name, err, first.String())
		}
		if err := Write(&second, again); err != nil || !Equal(d, again) || first.String() != second.String() {
			t.Errorf("%s: written differently:\n%s\n%s", name, first.String(), second.String())
		}
	}
}

// The demo desk is what its description says.
func TestDemo(t *testing.T) {
	d, err := Demo()
	if err != nil {
		t.Fatal(err)
	}
	lost := d.Select(desk.Is{State: desk.IsStray})
	if len(d.Workspaces) != 6 || len(d.Windows) < 22 || len(d.Windows) > 28 || len(lost) != 3 {
		t.Errorf("%d workspaces, %d windows, %d lost", len(d.Workspaces), len(d.Windows), len(lost))
	}
	for _, w := range lost {
		if d.Lost(w).Was != 'C' {
			t.Errorf("#%d is not lost where C was", w.ID)
		}
	}
}

// Nothing that is read makes an unsound desk, and all of it is written back.
func FuzzRead(f *testing.F) {
	f.Add([]byte(base))
	f.Add(demo)
	f.Add([]byte(`{"format":"zealous-atlas/scene/1","monitors":[{"letter":"A","rect":[0,0,9,9]}],"workspaces":[{}]}`))
	f.Add([]byte(arranged))
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := Read(bytes.NewReader(data))
		if err != nil {
			return
		}
		if err := d.Check(); err != nil {
			t.Fatalf("read an unsound desk: %v", err)
		}
		var b bytes.Buffer
		if err := Write(&b, d); err != nil {
			t.Fatal(err)
		}
		again, err := Read(bytes.NewReader(b.Bytes()))
		if err != nil || !Equal(d, again) {
			t.Fatalf("not read as written: %v\n%s", err, b.String())
		}
		for _, line := range []string{"restore of all", "float of all", "layout tabs of all", "turn", "ungroup", "even all", "group next", "snap left third of all", "resize right 40", "undo 3"} {
			c, err := lang.ParseCommand(line)
			if err != nil {
				t.Fatal(err)
			}
			next, _, err := d.Apply(c)
			if err != nil {
				continue // it says why
			}
			if err := next.Check(); err != nil {
				t.Fatalf("%s made an unsound desk: %v", line, err)
			}
			d = next
		}
	})
}

// arranged is a desk with a tree of all kinds of groups, a window that has left
// its place there, one that was snapped, and one that says what sizes it takes.
const arranged = `{"format": "zealous-atlas/scene/1", "settings": {"gap": 6},
 "monitors": [{"letter": "A", "rect": [0, 0, 1000, 800]}],
 "workspaces": [{"sheets": {"A": {"layout": "tree", "next": "down", "floating": [6], "tree":
   {"across": [{"window": 1, "share": 3}, {"down": [{"tabs": [{"window": 2}, {"window": 3}]}, {"pile": [{"window": 4}, {"window": 5}]}]}]}}}},
   {"sheets": {"A": {"layout": "lead", "leads": 2, "windows": []}}}],
 "windows": [{"id": 1}, {"id": 2, "used": 2}, {"id": 3}, {"id": 4}, {"id": 5},
   {"id": 6, "rect": [0, 0, 500, 800], "loose": [100, 100, 300, 200], "sizes": {"max": [600, 900], "base": [10, 10], "step": [6, 13], "least": [1, 2], "most": [3, 1], "frame": 4}},
   {"id": 7, "minimised": true, "workspace": 1, "monitor": "A", "seat": {"workspace": 1, "monitor": "A", "beside": [4, 5], "split": "down", "after": true, "share": 2, "pair": true, "other": 3,
    "outer": {"beside": [1], "split": "across", "after": true, "share": 1, "other": 1}}}],
 "shown": {"A": 1}, "at": "A", "focus": 2}`

// What a scene says of arranging is read, and written as it was.
func TestArranged(t *testing.T) {
	d, err := Read(strings.NewReader(arranged))
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := Write(&b, d); err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{`"leads":2`, `"loose":[100,100,300,200]`, `"step":[6,13]`, `"outer":{"beside":[1],"split":"across"`, `"pair":true`, `"next":"down"`} {
		if !strings.Contains(b.String(), part) {
			t.Errorf("%s is not written:\n%s", part, b.String())
		}
	}
	c, err := lang.ParseCommand("restore of #7")
	if err != nil {
		t.Fatal(err)
	}
	d, _, err = d.Apply(c)
	if err != nil || fmt.Sprint(d.Sheet(0, 'A').Tiles.Windows()) != "[1 2 3 4 5 7]" {
		t.Errorf("restored, the order is %v, %v", d.Sheet(0, 'A').Tiles.Windows(), err)
	}
	for text, want := range map[string]string{
		strings.Replace(arranged, `"leads": 2`, `"leads": 10`, 1):                          "leads: this must be a whole number from 1 to 9",
		strings.Replace(arranged, `"split": "down"`, `"split": "along"`, 1):                "seat.split: this must be one of",
		strings.Replace(arranged, `"step": [6, 13]`, `"step": [6]`, 1):                     "sizes.step: these must be two numbers",
		strings.Replace(arranged, `"seat": {"workspace": 1`, `"seat": {"workspace": 9`, 1): "seat.workspace: there is no workspace 9",
	} {
		if _, err := Read(strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %q", err, want)
		}
	}
}

// A scene without a monitor that is plugged in is a fault, whatever else it has.
func TestNoMonitor(t *testing.T) {
	for _, monitors := range []string{``, `"monitors": [],`, `"monitors": [{"letter": "A", "rect": [0, 0, 9, 9], "connected": false}],`} {
		text := `{"format": "zealous-atlas/scene/1", ` + monitors + ` "workspaces": [{}], "windows": [{"id": 1, "workspace": 1}]}`
		if _, err := Read(strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), "monitors: no monitor is connected") {
			t.Errorf("%s: %v", monitors, err)
		}
	}
}
