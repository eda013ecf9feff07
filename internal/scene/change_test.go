package scene

import (
	"bytes"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// after is the demo desk, and what commands make of it.
func after(t testing.TB, lines ...string) (before, now *desk.Desk) {
	t.Helper()
	before, err := Demo()
	if err != nil {
		t.Fatal(err)
	}
	now = before
	for _, line := range lines {
		c, err := lang.ParseCommand(line)
		if err != nil {
			t.Fatal(err)
		}
		if now, _, err = now.Apply(c); err != nil {
			t.Fatal(err)
		}
	}
	return before, now
}

func change(t testing.TB, now, before *desk.Desk) string {
	t.Helper()
	var b bytes.Buffer
	if err := WriteSince(&b, now, before); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

func TestChangeIsSmall(t *testing.T) {
	for _, c := range []struct {
		line string
		most int // bytes
	}{
		{"go 4", 600}, {"send 3 of #11", 1200}, {"rename Foyer", 3000}, {"minimise of #11", 1200},
	} {
		before, now := after(t, c.line)
		text := change(t, now, before)
		if len(text) > c.most {
			t.Errorf("%s is told in %d bytes, more than %d:\n%s", c.line, len(text), c.most, text)
		}
		got, err := ReadAfter(strings.NewReader(text), before)
		if err != nil || !Equal(got, now) {
			t.Errorf("%s is not read as it was told: %v\n%s", c.line, err, text)
		}
	}
}

func TestChangeShares(t *testing.T) {
	before, now := after(t, "send 3 of #11")
	got, err := ReadAfter(strings.NewReader(change(t, now, before)), before)
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range now.Windows {
		if same := got.Windows[i] == before.Windows[i]; same != (w == before.Windows[i]) {
			t.Errorf("#%d is shared (%v), against the desk itself", w.ID, same)
		}
	}
	for i := range now.Workspaces {
		for _, m := range now.Monitors {
			if same := got.Sheet(i, m.Letter) == before.Sheet(i, m.Letter); same != (now.Sheet(i, m.Letter) == before.Sheet(i, m.Letter)) {
				t.Errorf("the sheet %s is shared (%v), against the desk itself", desk.SheetRef(i, m.Letter), same)
			}
		}
	}
}

func TestChangeFaults(t *testing.T) {
	before, now := after(t, "send 3 of #11")
	text := change(t, now, before)
	for _, c := range []struct{ old, new, want string }{
		{"change/1", "change/2", "format: "},
		{`"at":"A"`, `"at":"Z"`, "monitor Z"},
		{`"at":"A"`, `"at":"A","away":1`, "away: there is no such key"},
		{`{"id":11,`, `{"id":9999,`, "not in the order of their ids"},
		{`"workspace":3,"monitor":"A"`, `"workspace":4,"monitor":"A"`, "says it is on A4"},
		{`"workspace":3,"monitor":"A"`, `"workspace":40,"monitor":"A"`, "there is no workspace 40"},
		{`"workspace":3,"monitor":"A"`, `"workspace":3,"monitor":"A","minimised":true`, "minimised"},
		{`"windows":[{`, `"gone":[12],"windows":[{`, "#12"},
		{`"workspaces":[{"id":1`, `"workspaces":[{"id":77`, "the id 77"},
		{`"workspaces":[`, `"order":[1,2,3,4,5,99],"workspaces":[`, "the id 99"},
		{`"recent":[1`, `"recent":[9`, "recent[0]"},
		{`"clock":`, `"clock":-`, "clock"},
	} {
		faulty := strings.Replace(text, c.old, c.new, 1)
		if faulty == text {
			t.Fatalf("%q is not in the change\n%s", c.old, text)
		}
		if _, err := ReadAfter(strings.NewReader(faulty), before); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s for %s: %v, want %q", c.new, c.old, err, c.want)
		}
	}
}

// No change that is read makes an unsound desk, or one that cannot be told.
func FuzzChange(f *testing.F) {
	for _, line := range []string{"go 4", "send 3 of #11", "minimise of #11", "rename Foyer", "add", "remove 2", "layout tabs", "maximise", "float", "bare", "pull B"} {
		before, now := after(f, line)
		f.Add([]byte(change(f, now, before)))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		before, _ := after(t)
		d, err := ReadAfter(bytes.NewReader(data), before)
		if err != nil {
			return
		}
		if err := d.Check(); err != nil {
			t.Fatalf("read an unsound desk: %v", err)
		}
		got, err := ReadAfter(strings.NewReader(change(t, d, before)), before)
		if err != nil || !Equal(got, d) {
			t.Fatalf("not read as written: %v", err)
		}
	})
}

// A copy made while a workspace was away has the seats that windows left there, once it is back.
func TestSeatComesBack(t *testing.T) {
	d, _ := after(t)
	back, _ := d.With(desk.Changed{ID: 11, Change: func(w *desk.Window) {
		w.Seat = &desk.Seat{Workspace: d.Workspaces[2].ID, Monitor: 'A', Seat: layout.Seat{Beside: []int{12}, Split: layout.Across, Share: 1, Other: 1}}
	}})
	c, err := lang.ParseCommand("remove 3")
	if err != nil {
		t.Fatal(err)
	}
	gone, _, err := back.Apply(c)
	if err != nil || gone.Window(11) != back.Window(11) {
		t.Fatalf("the window changed with the workspace: %v", err)
	}
	var b bytes.Buffer
	if err := Write(&b, gone); err != nil {
		t.Fatal(err)
	}
	copied, err := Read(&b)
	if err != nil {
		t.Fatal(err)
	}
	got, err := ReadAfter(strings.NewReader(change(t, back, gone)), copied)
	if err != nil || !Equal(got, back) {
		t.Errorf("the copy is another desk: %v", err)
	}
}
