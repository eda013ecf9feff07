package atlasmap

import (
	"strings"
	"testing"

	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/geom"
	"zatlas/internal/stray"
	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui/cells"
)

// The map is drawn without any screen: it names every workspace, what is on the one chosen,
// and how much is lost.
func TestDraw(t *testing.T) {
	d := desks.Demo(t)
	o := OverviewOf(d, nil)
	for chosen, ws := range d.Workspaces {
		c := cells.NewCanvas(160, 40, cells.Night.Style(cells.Night.Paper), false, nil)
		p := Painter{Canvas: c, Theme: cells.Night, Desk: d, Counts: o.Counts, Chart: New(o, nil, geom.R(0, 1, 160, 38), chosen), Tints: map[string]int{}}
		p.Draw()
		drawn := ansi.Strip(c.Render())
		want := []string{ws.Name}
		for _, w := range d.Windows {
			if w.Workspace == ws.ID && d.Visible(w) && d.InFront(w) == w {
				want = append(want, w.App)
			}
		}
		if o.Counts[chosen].Lost > 0 {
			want = append(want, "lost")
		}
		for _, words := range want {
			if !strings.Contains(drawn, words) {
				t.Errorf("with %s chosen there is no %q in\n%s", ws.Name, words, drawn)
			}
		}
	}
}

// A lost window is named in full, and marked as lost, where the columns are narrow too.
func TestLostAreNamed(t *testing.T) {
	d := desks.Demo(t)
	o := OverviewOf(d, nil)
	for _, wide := range []int{160, 100, 80} {
		c := cells.NewCanvas(wide, 20, cells.Night.Style(cells.Night.Paper), false, nil)
		p := Painter{Canvas: c, Theme: cells.Night, Desk: d, Counts: o.Counts, Chart: New(o, nil, geom.R(0, 1, wide, 18), 0), Tints: map[string]int{}}
		p.Draw()
		drawn := ansi.Strip(c.Render())
		for _, w := range d.Windows {
			if d.Lost(w).Cause == stray.None {
				continue
			}
			if !strings.Contains(drawn, "! "+w.App) && !strings.Contains(drawn, "!≈ "+w.App) {
				t.Errorf("%d columns wide there is no %q in\n%s", wide, w.App, drawn)
			}
		}
	}
}
