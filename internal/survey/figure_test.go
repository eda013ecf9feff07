package survey

import (
	"slices"
	"testing"
)

// Ticks are round numbers up to the most, and whole ones of what is counted.
func TestTicks(t *testing.T) {
	for _, c := range []struct {
		unit string
		most float64
		want []float64
	}{
		{"windows", 1, []float64{0, 1}}, {"windows", 3, []float64{0, 1, 2, 3}}, {"windows", 9, []float64{0, 2, 4, 6, 8}}, {"windows", 26, []float64{0, 10, 20}},
		{"times", 2000, []float64{0, 500, 1000, 1500, 2000}}, {"hours", 0.4, []float64{0, 0.1, 0.2, 0.3, 0.4}}, {"hours", 7.3, []float64{0, 2, 4, 6}}, {"minutes", 55, []float64{0, 20, 40}},
	} {
		f := Figure{Unit: c.unit, Bars: []Bar{{Parts: []float64{c.most}}}}
		f.scale()
		words := func(vs []float64) (all []string) {
			for _, v := range vs {
				all = append(all, TickWords(v))
			}
			return all
		}
		if !slices.Equal(words(f.Ticks), words(c.want)) {
			t.Errorf("%v %s: %v, want %v", c.most, c.unit, words(f.Ticks), words(c.want))
		}
	}
}

// A figure has a bar for all that has a value, and none where nothing is kept.
func TestFigures(t *testing.T) {
	for _, f := range (&Report{}).Figures() {
		if len(f.Bars)+len(f.Fields) > 0 || f.Words == "" {
			t.Errorf("of nothing %s has %d bars and says %q", f.Head, len(f.Bars), f.Words)
		}
	}
	r := &Report{Period: Week, Seconds: 3600, Found: 1, Switched: 1, Workspaces: []Share{{Label: "Press", Number: 2, Seconds: 3600}}, Switches: [][]int{{0}}, Sources: []string{"key"},
		Slots: []Slot{{Label: "Mon 2", Seconds: []int{3600}, Open: 2, Fullest: 1, Found: 1}}, Apps: []Share{{Label: "Reel", Seconds: 3600}}, Deeds: []Deed{{"go", 3, []int{3}}}}
	for i, want := range []float64{1, 1, 0, 2, 1, 3} {
		if f := r.Figures()[i]; f.Most != want || len(f.Bars)+len(f.Fields) != 1 {
			t.Errorf("%s has %d bars up to %v, want %v", f.Head, len(f.Bars)+len(f.Fields), f.Most, want)
		}
	}
}
