package survey

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"zatlas/internal/geom"
)

// Shape is what a figure is drawn as.
type Shape int

// The shapes.
const (
	Upright Shape = iota // a bar for each hour or day
	Lying                // a bar in each row
	Square               // a number in each field
)

// Figure is one chart of a report, worked out: the terminal and paper draw the same.
type Figure struct {
	Head, Words string
	Shape       Shape
	Unit        string // of the values
	Across      string // what upright bars stand for
	Bars        []Bar  // none where there is nothing to draw
	Parts       []string
	// Outline and Filled are what the two values of a bar stand for that has an outline and
	// is filled up to its only part; empty where it has none.
	Outline, Filled string
	Legend          []Share // what the parts are, where their names are not enough
	Most            float64 // the largest value of a bar
	Ticks           []float64

	Names  []string // of the rows and columns of a square
	Fields [][]int
}

// Bar is a bar of parts one on the other, the first at its foot.
type Bar struct {
	Name    string
	Named   bool // it has room for its name
	Parts   []float64
	Outline float64
	Words   string // what it says besides, of a lying one
}

// Figures are the charts of the report, in their order.
func (r *Report) Figures() []Figure {
	all := []Figure{
		{Head: "HOURS BY WORKSPACE", Words: r.HoursWords()}, {Head: "HOURS BY APP", Words: r.AppsWords(), Shape: Lying, Unit: "hours"},
		{Head: "SWITCHES", Words: r.SwitchWords(), Shape: Square}, {Head: "CROWDING", Words: r.CrowdWords(), Unit: "windows", Outline: "open", Filled: "on the fullest sheet"},
		{Head: "LOST AND FOUND", Words: r.LostWords(), Unit: "windows", Outline: "lost", Filled: "brought back"}, {Head: "DONE MOST, AND HOW", Words: r.DoneWords(), Shape: Lying, Unit: "times"},
	}
	for i, fill := range []func(f *Figure){r.hours, r.apps, r.fields, r.crowding, r.lost, r.done} {
		fill(&all[i])
		all[i].scale()
	}
	return all
}

// slots gives a figure a bar for each slot.
func (r *Report) slots(f *Figure, bar func(s Slot) Bar) {
	f.Across = map[bool]string{true: "hour of the day", false: "day"}[r.Period == Day]
	for i, s := range r.Seen() {
		b := bar(s)
		b.Name = s.Label
		b.Named = r.Period == Week || r.Period == Day && i%2 == 0 || r.Period == Weeks && s.Start.Weekday() == time.Monday
		f.Bars = append(f.Bars, b)
	}
}

func (r *Report) hours(f *Figure) {
	if r.Seconds == 0 {
		return
	}
	per := 3600.0
	if f.Unit = "hours"; r.Period == Day {
		f.Unit, per = "minutes", 60
	}
	r.slots(f, func(s Slot) (b Bar) {
		for _, n := range s.Seconds {
			b.Parts = append(b.Parts, float64(n)/per)
		}
		return b
	})
	f.Legend = r.Workspaces
	for _, w := range r.Workspaces {
		f.Parts = append(f.Parts, strconv.Itoa(w.Number))
	}
}

func (r *Report) apps(f *Figure) {
	for _, a := range r.Apps {
		f.Bars = append(f.Bars, Bar{Name: a.Label, Named: true, Parts: []float64{float64(a.Seconds) / 3600}, Words: fmt.Sprintf("%s  %d%%", Duration(a.Seconds), geom.Percent(a.Seconds, r.Seconds))})
	}
}

func (r *Report) done(f *Figure) {
	f.Parts = r.Sources
	for _, d := range r.Deeds {
		b := Bar{Name: d.Verb, Named: true}
		var how []string
		for i, n := range d.By {
			b.Parts = append(b.Parts, float64(n))
			if n > 0 {
				how = append(how, fmt.Sprintf("%s %d", r.Sources[i], n))
			}
		}
		b.Words = fmt.Sprintf("%d: %s", d.N, strings.Join(how, ", "))
		f.Bars = append(f.Bars, b)
	}
}

func (r *Report) crowding(f *Figure) {
	r.slots(f, func(s Slot) Bar { return Bar{Parts: []float64{float64(s.Fullest)}, Outline: float64(s.Open)} })
}

func (r *Report) lost(f *Figure) {
	switch {
	case r.Found+r.Rescued == 0:
	case r.Period == Day:
		f.Shape = Lying
		for i, n := range []int{r.Found, r.Rescued} {
			f.Bars = append(f.Bars, Bar{Name: []string{f.Outline, f.Filled}[i], Named: true, Parts: []float64{float64(n)}, Words: strconv.Itoa(n)})
		}
		f.Outline, f.Filled = "", ""
	default:
		r.slots(f, func(s Slot) Bar { return Bar{Parts: []float64{float64(s.Rescued)}, Outline: float64(s.Found)} })
	}
}

func (r *Report) fields(f *Figure) {
	if r.Switched == 0 {
		return
	}
	f.Fields = r.Switches
	for _, w := range r.Workspaces {
		f.Names = append(f.Names, w.Label)
	}
}

// maxTicks is how many ticks there are at most, but for the one at 0.
const maxTicks = 5

// scale works out how far the values reach, and round numbers on the way: whole ones of what
// is counted.
func (f *Figure) scale() {
	for _, b := range f.Bars {
		sum := 0.0
		for _, v := range b.Parts {
			sum += v
		}
		f.Most = max(f.Most, sum, b.Outline)
	}
	if f.Most == 0 {
		f.Bars = nil
		return
	}
	step := math.Pow(10, math.Floor(math.Log10(f.Most))-1)
	if f.Unit != "hours" {
		step = max(step, 1)
	}
	for i := 0; f.Most/step > maxTicks; i++ {
		step *= []float64{2, 2.5, 2}[i%3]
	}
	for n := 0.0; n*step <= f.Most; n++ {
		f.Ticks = append(f.Ticks, n*step)
	}
}

// TickWords is a tick as it is written.
func TickWords(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }
