package survey

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"
)

// Period is how much of the time is looked at.
type Period int

// The periods.
const (
	Day Period = iota
	Week
	Weeks // four of them
)

// Periods are their names, in order.
var Periods = [...]string{"day", "week", "four weeks"}

// Bounds are the beginning and the end of the period that a moment lies in, or of
// one so many periods later, where the moment is. Weeks begin on Monday.
func (p Period) Bounds(at time.Time, later int) (from, to time.Time) {
	midnight := func(days int) time.Time {
		return time.Date(at.Year(), at.Month(), at.Day()+days, 0, 0, 0, 0, at.Location())
	}
	monday := -(int(at.Weekday()) + 6) % 7
	switch p {
	case Day:
		return midnight(later), midnight(later + 1)
	case Week:
		return midnight(monday + 7*later), midnight(monday + 7*later + 7)
	}
	return midnight(monday + 28*later - 21), midnight(monday + 28*later + 7)
}

// slots are the beginnings of the hours or days of a while, and its end.
func (p Period) slots(from, to time.Time) []time.Time {
	var all []time.Time
	for at := from; at.Before(to); {
		all = append(all, at)
		if p == Day {
			at = at.Add(time.Hour)
		} else {
			at = time.Date(at.Year(), at.Month(), at.Day()+1, 0, 0, 0, 0, at.Location())
		}
	}
	return append(all, to)
}

// PeriodNames are their names for programs and on the command line, in order.
var PeriodNames = [...]string{"day", "week", "weeks"}

// MarshalText is what programs are told of a period: its name.
func (p Period) MarshalText() ([]byte, error) { return []byte(PeriodNames[p]), nil }

// Share is a part of the time.
type Share struct {
	Label   string `json:"label"`
	Number  int    `json:"number,omitempty"` // of a workspace, as it was last; 0 for apps
	Seconds int    `json:"seconds"`
}

// Slot is an hour or a day of a report.
type Slot struct {
	Start   time.Time `json:"start"`
	Label   string    `json:"-"`       // 09, Mon 23
	Seconds []int     `json:"seconds"` // by workspace, as Report.Workspaces
	Open    int       `json:"open"`    // windows at the most
	Fullest int       `json:"fullest"` // windows on the fullest sheet at the most
	Found   int       `json:"found"`   // windows that got lost; by day alone
	Rescued int       `json:"rescued"`
}

// Deed is a command and how it was asked for.
type Deed struct {
	Verb string `json:"verb"`
	N    int    `json:"times"`
	By   []int  `json:"by"` // as Report.Sources
}

// Report is the figures of the charts.
type Report struct {
	Period     Period    `json:"period"`
	From       time.Time `json:"from"`
	To         time.Time `json:"to"`
	Seconds    int       `json:"seconds"` // in all
	Slots      []Slot    `json:"slots"`
	Workspaces []Share   `json:"workspaces"` // in their order
	Apps       []Share   `json:"apps"`       // the most first
	Switches   [][]int   `json:"switches"`   // from and to, as Workspaces
	Switched   int       `json:"switched"`   // in all
	Passed     int       `json:"passed"`     // switches counted one by one, those over empty workspaces too
	Found      int       `json:"found"`
	Rescued    int       `json:"rescued"`
	Deeds      []Deed    `json:"commands"` // the most first
	Sources    []string  `json:"sources"`  // by which commands were asked for, the most first
	Data       Data      `json:"-"`        // that it sums up
}

// NewReport sums up what is kept of the period a moment lies in, or of one so many
// later, by the clock of where the moment is.
func NewReport(d Data, p Period, at time.Time, later int) *Report {
	r := &Report{Period: p, Workspaces: []Share{}, Deeds: []Deed{}, Sources: []string{}} // lists for programs, also of none
	r.From, r.To = p.Bounds(at, later)
	d = d.Within(r.From, r.To)
	r.Data = d
	slots := p.slots(r.From, r.To)
	for i, s := range slots[:len(slots)-1] {
		label := s.Format("15")
		if p != Day {
			label = s.Format("Mon 2")
		}
		r.Slots = append(r.Slots, Slot{Start: slots[i], Label: label})
	}
	r.places(d.Spans)
	r.times(d.Spans, slots)
	r.tallies(d.Tallies)
	return r
}

// places finds the workspaces, by the number that each had last.
func (r *Report) places(spans []Span) {
	numbers := map[string]int{}
	for _, s := range spans {
		numbers[s.Label()] = s.Number
	}
	for label, n := range numbers {
		r.Workspaces = append(r.Workspaces, Share{Label: label, Number: n})
	}
	slices.SortFunc(r.Workspaces, func(a, b Share) int {
		return cmp.Or(cmp.Compare(a.Number, b.Number), strings.Compare(a.Label, b.Label))
	})
	r.Switches = newCounts(len(r.Workspaces))
}

// times sums up the spans.
func (r *Report) times(spans []Span, slots []time.Time) {
	place := map[string]int{}
	for i, w := range r.Workspaces {
		place[w.Label] = i
	}
	for i := range r.Slots {
		r.Slots[i].Seconds = make([]int, len(r.Workspaces))
	}
	apps := map[string]int{}
	at := 0
	for i, s := range spans {
		w := place[s.Label()]
		r.Seconds += s.Seconds
		r.Workspaces[w].Seconds += s.Seconds
		apps[s.App] += s.Seconds
		if i > 0 && follows(spans[i-1], s) && s.Label() != spans[i-1].Label() {
			r.Switches[place[spans[i-1].Label()]][w]++
			r.Switched++
		}
		// Spans come in order, so the slot of one is that of the one before, or later.
		for at < len(r.Slots)-1 && !s.Start.Before(slots[at+1]) {
			at++
		}
		for n, from := at, s.Start; n < len(r.Slots) && from.Before(s.End()); n++ {
			to := slots[n+1]
			if s.End().Before(to) {
				to = s.End()
			}
			r.Slots[n].Seconds[w] += int(to.Sub(from) / time.Second)
			from = to
		}
	}
	r.Apps = shares(apps)
}

// shares are named seconds, the most first.
func shares(of map[string]int) []Share {
	all := []Share{}
	for label, n := range of {
		all = append(all, Share{Label: label, Seconds: n})
	}
	slices.SortFunc(all, func(a, b Share) int {
		return cmp.Or(cmp.Compare(b.Seconds, a.Seconds), strings.Compare(a.Label, b.Label))
	})
	return all
}

// tallies sums up what was counted by day.
func (r *Report) tallies(tallies []Tally) {
	sources, verbs := map[string]int{}, map[string]map[string]int{}
	for _, t := range tallies {
		slot := r.slot(t)
		first, second, _ := strings.Cut(t.Name, "\t")
		switch t.Kind {
		case Open:
			slot.Open = max(slot.Open, t.N)
		case Fullest:
			slot.Fullest = max(slot.Fullest, t.N)
		case Found:
			slot.Found += t.N
			r.Found += t.N
		case Rescued:
			slot.Rescued += t.N
			r.Rescued += t.N
		case Switched:
			r.Passed += t.N
		case Done:
			sources[second] += t.N
			if verbs[first] == nil {
				verbs[first] = map[string]int{}
			}
			verbs[first][second] += t.N
		}
	}
	for _, s := range shares(sources) {
		r.Sources = append(r.Sources, s.Label)
	}
	for _, verb := range slices.Sorted(maps.Keys(verbs)) {
		d := Deed{Verb: verb, By: make([]int, len(r.Sources))}
		for i, s := range r.Sources {
			d.By[i] = verbs[verb][s]
			d.N += d.By[i]
		}
		r.Deeds = append(r.Deeds, d)
	}
	slices.SortStableFunc(r.Deeds, func(a, b Deed) int { return cmp.Compare(b.N, a.N) })
}

// slot is the one a tally belongs to: the hour it names, or its day.
func (r *Report) slot(t Tally) *Slot {
	hour, _ := strconv.Atoi(t.Name)
	for i := range r.Slots {
		s := &r.Slots[i]
		if r.Period == Day && (t.Kind == Open || t.Kind == Fullest) && s.Start.Hour() != hour {
			continue
		}
		if DayOf(s.Start) == t.Day {
			return s
		}
	}
	return &Slot{}
}

// Empty tells whether there is nothing to show.
func (r *Report) Empty() bool { return r.Seconds == 0 && len(r.Deeds) == 0 }

// Seen are the slots worth showing: of a day the hours in which anything was, and
// those of a working day; else all.
func (r *Report) Seen() []Slot {
	if r.Period != Day || len(r.Slots) == 0 {
		return r.Slots
	}
	first, last := min(8, len(r.Slots)-1), min(18, len(r.Slots)-1)
	for i, s := range r.Slots {
		if sum(s.Seconds) > 0 || s.Open > 0 {
			first, last = min(first, i), max(last, i)
		}
	}
	return r.Slots[first : last+1]
}
