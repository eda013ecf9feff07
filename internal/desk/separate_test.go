package desk_test

import (
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// apart is the desk two in separate mode: Main and the third at home on A,
// Side on B.
func apart(t *testing.T) *desk.Desk {
	t.Helper()
	d, _ := read(t, two).With(desk.Settle{Settings: desk.Settings{Separate: true}})
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	d = after(t, d, "home Side B")
	return d
}

func TestSeparate(t *testing.T) {
	for _, c := range []struct {
		lines string
		ids   []int
		want  string
		shown string // A and B
		on    string
	}{
		// Main had most of its windows on A; those of B joined the end there.
		{"go 1", []int{1, 2, 4, 5}, "#1 A1 0,0,250,760 #2 A1 250,0,250,760 #4 A1 500,0,250,760 #5 A1 750,0,250,760", "1 2", "A1"},
		{"go 2", []int{6}, "#6 B2 1000,0,2000,1000", "1 2", "B2"},
		{"go 3", nil, "", "3 2", "A3"},
		{"go 2; go 3; go back", nil, "", "3 2", "B2"},
		{"send 2 of #1", []int{1}, "#1 B2 2000,0,1000,1000", "1 2", "A1"},
		{"send B of #1", []int{1}, "#1 B2 2000,0,1000,1000", "1 2", "A1"},
		{"send right of #1", []int{1}, "#1 B2 2000,0,1000,1000", "1 2", "A1"},
		{"carry 2 of #1", []int{1}, "#1 B2 2000,0,1000,1000", "1 2", "B2"},
		{"focus B", nil, "", "1 2", "B2"},
		{"focus #5; focus right", nil, "", "1 2", "B2"},
		{"home 3 B; go 3", nil, "", "1 3", "B3"},
		{"home 1 B", []int{1}, "#1 B1 1000,0,500,1000", "3 1", "B1"},
		{"go 2; add Extra", nil, "", "1 2", "B2"},
		{"go 2; add Extra; go Extra", nil, "", "1 4", "B4"},
		{"go 2; remove", []int{6}, "#6 A1 800,0,200,760", "1 0", "A1"},
		{"vacate A", []int{1}, "#1 B1 1000,0,500,1000", "0 1", "B1"},
	} {
		d := after(t, apart(t), strings.Split(c.lines, "; ")...)
		if got := where(d, c.ids...); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.lines, got, c.want)
		}
		shown := ""
		for _, l := range []byte("AB") {
			shown += string(rune('1'+d.Index(d.Shown[l-'A']))) + " "
		}
		if on := desk.SheetRef(d.Current(), d.At); strings.TrimSpace(shown) != c.shown || on != c.on {
			t.Errorf("%s: shown %s on %s, want %s on %s", c.lines, shown, on, c.shown, c.on)
		}
	}
	for line, want := range map[string]string{
		"go B1":         "workspace 1 is not at home on B: home 1 B changes that",
		"send B1 of #6": "home 1 B",
		"carry A2":      "home 2 A",
	} {
		if _, _, err := apply(t, apart(t), line); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", line, err, want)
		}
	}
}

// Back to spanning, windows are where they were before.
func TestSeparateAndBack(t *testing.T) {
	d := read(t, two)
	apart, _ := d.With(desk.Settle{Settings: desk.Settings{Separate: true}})
	back, _ := apart.With(desk.Settle{})
	if err := back.Check(); err != nil {
		t.Fatal(err)
	}
	all := []int{1, 2, 3, 4, 5, 6}
	if got, want := where(back, all...), where(d, all...); got != want {
		t.Errorf("there and back:\n got %s\nwant %s", got, want)
	}
}

// The workspaces of a monitor that goes are shown on the receiver, and keep
// their home.
func TestSeparateMonitorGoes(t *testing.T) {
	d := apart(t)
	a := desk.Monitor{Key: "scene-A", Rect: geom.R(0, 0, 1000, 800), Work: geom.R(0, 0, 1000, 760), Primary: true}
	b := desk.Monitor{Key: "scene-B", Rect: geom.R(1000, 0, 2000, 1000)}
	gone, _ := d.With(desk.MonitorsAre{Monitors: []desk.Monitor{a}})
	if err := gone.Check(); err != nil {
		t.Fatal(err)
	}
	if got := where(gone, 6); got != "#6 A2 0,0,1000,760" {
		t.Errorf("unplugged: %s", got)
	}
	gone = after(t, gone, "go 2")
	back, _ := gone.With(desk.MonitorsAre{Monitors: []desk.Monitor{a, b}})
	if err := back.Check(); err != nil {
		t.Fatal(err)
	}
	if got := where(back, 6); got != "#6 B2 1000,0,2000,1000" || back.HomeOf(1) != 'B' {
		t.Errorf("plugged in again: %s", got)
	}
}

func TestGrowing(t *testing.T) {
	d, _ := read(t, two).With(desk.Settle{Settings: desk.Settings{Growing: true}})
	names := func() string {
		s := ""
		for i := range d.Workspaces {
			s += d.Title(i) + ", "
		}
		return s
	}
	for _, c := range []struct{ line, want string }{
		{"go 1", "1 Main, 2 Side, 3, "},
		{"send new of #5", "1 Main, 2 Side, 3, 4, "},
		{"go new", "1 Main, 2 Side, 3, 4, "},
		{"add Extra", "1 Main, 2 Side, 3, 4 Extra, 5, "},
		{"send 2 of #5", "1 Main, 2 Side, 3, 4 Extra, 5, "},
		{"remove 4", "1 Main, 2 Side, 3, "}, // 4 was shown; 3 is the spare one now
	} {
		var err error
		if d, _, err = apply(t, d, c.line); err != nil {
			t.Fatalf("%s: %v", c.line, err)
		}
		if got := names(); got != c.want {
			t.Errorf("after %s: %s, want %s", c.line, got, c.want)
		}
	}
	if _, _, err := apply(t, d, "add"); err == nil || !strings.Contains(err.Error(), "waits at the end") {
		t.Errorf("add without a name: %v", err)
	}
}
