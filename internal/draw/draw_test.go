package draw

import (
	"fmt"
	"strings"
	"testing"

	"zatlas/internal/testkit/desks"
)

// A desk is described window by window, each on the sheet where it is seen.
func TestAtlas(t *testing.T) {
	d := desks.Demo(t, "minimise of #12", "layout pile of #13")
	a := NewAtlas(d)
	var columns, ids []string
	for _, c := range a.Columns {
		columns = append(columns, c.Name)
	}
	if got := strings.Join(columns, "; "); got != "A · Laptop 1920×1200; B · Desk screen 3440×1440; C · Projector unplugged" {
		t.Errorf("the columns are %s", got)
	}
	row := a.Rows[0]
	for _, s := range row.Sheets {
		line := s.Ref + " " + s.Layout + ":"
		for _, b := range s.Boxes {
			line += fmt.Sprintf(" %d", b.ID)
			if b.Rect != d.Window(b.ID).Rect {
				t.Errorf("#%d is drawn at %v", b.ID, b.Rect)
			}
		}
		for _, m := range s.Minimised {
			line += " hidden " + m.Name
		}
		for _, h := range s.Heads {
			line += fmt.Sprintf(" [%s %v]", h.Name, h.Active)
		}
		ids = append(ids, line)
	}
	want := "A1 lead 60/40: 11 14 hidden Screening Times; B1 pile: 16 17 13 [1 of 3 · Screening Times true] [ false] [ false];  : 15"
	if got := strings.Join(ids, "; "); got != want {
		t.Errorf("the first row is\n%s\nwant\n%s", got, want)
	}
	if row.Title != "1 Programme" || row.Facts != "shown, 7 windows, 1 lost" || !row.Shown {
		t.Errorf("it is called %q, %q", row.Title, row.Facts)
	}
	stray := row.Sheets[2].Boxes[0]
	if stray.Lost != "it lies where C was" || stray.Marks != "!≈" || stray.Says != "#15 on B1, 900×620 at 6000,300, floating. Lost: it lies where C was" {
		t.Errorf("the stray is described as %+v", stray)
	}
	n := 0
	for _, r := range a.Rows {
		for _, s := range r.Sheets {
			n += len(s.Boxes) + len(s.Minimised)
		}
	}
	if n != len(d.Windows) {
		t.Errorf("%d of %d windows are drawn", n, len(d.Windows))
	}
	if d = desks.Demo(t, "rescue of is:stray"); len(NewAtlas(d).Columns) != 2 {
		t.Error("an unplugged monitor without windows has a column")
	}
}

func TestOneSheet(t *testing.T) {
	s := OneSheet(desks.Demo(t), 2, 'A')
	if s.Title != "A3 Box office on Laptop, tree" || len(s.Boxes) != 3 || s.Boxes[0].Size != "1280×1168 67%" {
		t.Errorf("it is %+v", s)
	}
}

func TestPlane(t *testing.T) {
	p := NewPlane(desks.Demo(t))
	var got []string
	for _, s := range p.Strays {
		got = append(got, fmt.Sprintf("#%d %s %s", s.ID, s.Far, s.Would))
	}
	if want := "#15 640 px right of B rescue puts it on B at 2540,300; #25 100 px right of B rescue puts it on B at 2740,120; #54 940 px right of B rescue puts it on B at 2620,500"; strings.Join(got, "; ") != want {
		t.Errorf("strays: %s\nwant    %s", strings.Join(got, "; "), want)
	}
	if b := p.Bound(); b.W != 7280 || b.H != 1440 {
		t.Errorf("it covers %v", b)
	}
}

// A letter is one wide here, and a text is cut with a dot.
func TestCaptionLines(t *testing.T) {
	m := Measure{
		Width: func(s string) float64 { return float64(len([]rune(s))) },
		Cut: func(s string, w float64) string {
			if r := []rune(s); len(r) > int(w) {
				return string(r[:max(int(w)-1, 0)]) + "."
			}
			return s
		},
	}
	c := Caption{Marks: "●", Name: "Reel Ledger", Title: "Running order", Size: "1152×1168 60%"}
	for _, k := range []struct {
		width float64
		rows  int
		want  string
	}{
		{30, 3, "Reel Ledger|Running order|1152×1168 60%"}, {30, 2, "Reel Ledger|Running order"}, {30, 1, "Reel Ledger · Running order"}, {20, 1, "Reel Ledger · Run."},
		{12, 1, "Reel Ledg."}, {8, 3, "Reel .|Running."}, {5, 3, "Re"}, {3, 2, ""}, {1, 9, "none"}, {30, 0, "none"},
	} {
		lines := c.Lines(m, k.width, k.rows)
		got := strings.Join(lines, "|")
		if lines == nil {
			got = "none"
		}
		if got != k.want {
			t.Errorf("%v wide, %d rows: %q, want %q", k.width, k.rows, got, k.want)
		}
	}
}

func TestThemes(t *testing.T) {
	for _, theme := range []Theme{Night, Day} {
		found, err := FindTheme(theme.Name)
		if err != nil || found != theme {
			t.Errorf("%s is not found: %v", theme.Name, err)
		}
	}
	if Night.Ink.R != 0x0f || Night.Ink.B != 0x24 || Night.Tints[7].G != 0x50 || Day.Tint(8) != Day.Tints[0] {
		t.Errorf("the colours are %v", Night)
	}
	if _, err := FindTheme("dusk"); err == nil {
		t.Error("there is a theme of dusk")
	}
}
