package desk_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// What is asked for by on and off is so after it, however often it is asked; one
// direction by itself leaves the other, and what is over comes back.
func TestOnAndOff(t *testing.T) {
	const was = "#3 A1 600,460,400,300"
	for lines, want := range map[string]string{
		"maximise on of #3; maximise on of #3":                                  "#3 A1 0,0,1000,760 maximised",
		"maximise on of #3; maximise off of #3; maximise off of #3":             was,
		"maximise across of #3":                                                 "#3 A1 0,460,1000,300 wide",
		"maximise down on of #3; maximise down on of #3":                        "#3 A1 600,0,400,760 high",
		"maximise across of #3; maximise down of #3":                            "#3 A1 0,0,1000,760 maximised",
		"maximise across of #3; maximise down of #3; maximise across off of #3": "#3 A1 600,0,400,760 high",
		"maximise across of #3; maximise across of #3":                          was,
		"maximise across of #3; maximise of #3; maximise off of #3":             was,
		"maximise down of #3; snap left of #3":                                  "#3 A1 0,0,500,760",
		"maximise down of #3; nudge left 20 of #3":                              "#3 A1 580,0,400,760",
		"maximise down of #3; undo":                                             was,
		"fullscreen on of #3; fullscreen on of #3; fullscreen off of #3":        was,
		"stick on of #3; stick on of #3":                                        was + " sticky",
		"below on of #3; above on of #3":                                        was + " above",
		"below on of #3":                                                        was + " below",
	} {
		d := after(t, read(t, two), strings.Split(lines, "; ")...)
		got := strings.TrimSpace(where(d, 3))
		for _, s := range d.States(d.Window(3)) {
			if !slices.Contains([]string{"floating", "focused"}, s) {
				got += " " + s
			}
		}
		if got != want {
			t.Errorf("%s:\n%s\nwant\n%s", lines, got, want)
		}
	}
	d, _, _ := apply(t, read(t, two), "maximise across of #3")
	d, _ = d.With(desk.Moved{ID: 3, Rect: geom.R(10, 20, 300, 200)})
	if w := d.Window(3); w.Wide || w.Rect != geom.R(10, 20, 300, 200) {
		t.Errorf("moved by its own program it is %+v", w)
	}
	if _, r, err := apply(t, read(t, two), "fullscreen on of #3", "fullscreen on of #3"); err != nil || strings.Contains(r.Words, "Nothing changed") || !strings.Contains(r.Words, "already") {
		t.Errorf("asked for again it says %q, %v", r.Words, err)
	}
}

// withDialogs is a desk on which #1 has the dialog #10, and that the dialog #11.
func withDialogs(t *testing.T, modal bool) *desk.Desk {
	t.Helper()
	d := read(t, two)
	for id, parent := range map[int]int{10: 1} {
		d, _ = d.With(desk.Opened{Window: desk.Window{ID: id, Title: "asks", Kind: desk.Dialog, Parent: parent, Rect: geom.R(950, 300, 200, 100), Modal: modal}, Focus: true})
	}
	d, _ = d.With(desk.Opened{Window: desk.Window{ID: 11, Title: "asks again", Kind: desk.Dialog, Parent: 10}, Focus: true})
	return d
}

func order(d *desk.Desk) string {
	var ids []string
	for _, w := range d.Picture().Windows {
		if w.Shown {
			ids = append(ids, fmt.Sprint(w.ID))
		}
	}
	return strings.Join(ids, " ")
}

// Dialogs are over their parents whatever these are, go out of sight and come back with
// them, and open on one monitor.
func TestDialogs(t *testing.T) {
	d := withDialogs(t, false)
	if r := d.Window(10).Rect; r.X < 0 || r.Right() > 1000 {
		t.Errorf("the dialog is at %v, over the edge of its monitor", r)
	}
	for lines, want := range map[string]string{
		"focus #1":                      "1 2 4 5 3 10 11",
		"fullscreen of #1":              "2 4 5 3 1 10 11",
		"fullscreen of #1; focus #3":    "2 4 5 1 10 11 3",
		"float of #1; above on of #1":   "2 4 5 3 1 10 11",
		"minimise of #1":                "2 4 5 3",
		"minimise of #1; restore of #1": "1 2 4 5 3 10 11",
		"minimise of #10":               "1 2 4 5 3",
		"below on of #3; focus #3":      "1 2 4 5 3 10 11",
	} {
		next, _, err := apply(t, d, strings.Split(lines, "; ")...)
		if err != nil || order(next) != want {
			t.Errorf("%s: from the bottom %s, want %s (%v)", lines, order(next), want, err)
		}
	}
}

// A window that waits for a modal dialog passes the focus on to it.
func TestModal(t *testing.T) {
	d, _, err := apply(t, withDialogs(t, true), "focus #2", "focus #1")
	if err != nil || d.Focus != 10 {
		t.Errorf("the focus is on #%d, %v", d.Focus, err)
	}
	d, _ = d.With(desk.Closed{ID: 10})
	if d, _, err = apply(t, d, "focus #2", "focus #1"); err != nil || d.Focus != 1 {
		t.Errorf("without the dialog the focus is on #%d, %v", d.Focus, err)
	}
}

func TestStacked(t *testing.T) {
	d := read(t, two)
	for _, id := range []int{20, 21, 22} {
		d, _ = d.With(desk.Opened{Window: desk.Window{ID: id, Floating: true, Rect: geom.R(20*id, 100, 30, 100)}, Focus: true})
	}
	for _, c := range []struct {
		fact desk.Stacked
		want string
	}{
		{desk.Stacked{ID: 20}, "3 21 22 20"}, {desk.Stacked{ID: 22, Under: true}, "22 3 20 21"}, {desk.Stacked{ID: 22, Beside: 20}, "3 20 22 21"},
		{desk.Stacked{ID: 22, Beside: 20, Under: true}, "3 22 20 21"}, {desk.Stacked{ID: 1}, "3 20 21 22"}, {desk.Stacked{ID: 22, Beside: 4}, "3 20 21 22"}, {desk.Stacked{ID: 99}, "3 20 21 22"},
	} {
		next, _ := d.With(c.fact)
		if err := next.Check(); err != nil {
			t.Fatal(err)
		}
		if got := strings.TrimPrefix(order(next), "1 2 4 5 "); got != c.want {
			t.Errorf("%+v: %s, want %s", c.fact, got, c.want)
		}
	}
}

// An app is found by the name of its desktop entry and by its class.
func TestClass(t *testing.T) {
	d := read(t, two)
	d, _ = d.With(desk.Changed{ID: 3, Change: func(w *desk.Window) { w.Class = "radio-gui" }})
	for _, q := range []desk.ByApp{{Text: "radio-g"}, {Text: "Radio", Whole: true}, {Text: "RADIO-GUI", Whole: true}} {
		if ws := d.Select(q); len(ws) != 1 || ws[0].ID != 3 {
			t.Errorf("%+v finds %d windows", q, len(ws))
		}
	}
}
