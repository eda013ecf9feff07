package survey

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
)

// Duration is seconds as people say them: 6 h 40 min, 12 min, 40 s.
func Duration(seconds int) string {
	h, min := seconds/3600, seconds/60%60
	switch {
	case seconds < 60:
		return fmt.Sprintf("%d s", seconds)
	case h == 0:
		return fmt.Sprintf("%d min", min)
	case min == 0:
		return fmt.Sprintf("%d h", h)
	}
	return fmt.Sprintf("%d h %d min", h, min)
}

// Title says which while it is.
func (r *Report) Title() string {
	last := r.To.AddDate(0, 0, -1)
	switch r.Period {
	case Day:
		return r.From.Format("Monday, 2 January 2006")
	case Week:
		_, week := r.From.ISOWeek()
		return fmt.Sprintf("Week %d, %s to %s", week, r.From.Format("2 January"), last.Format("2 January 2006"))
	}
	return fmt.Sprintf("Four weeks, %s to %s", r.From.Format("2 January"), last.Format("2 January 2006"))
}

// join joins the parts of a sentence.
func join(parts ...string) string { return strings.Join(parts, "; ") + "." }

// Sentence says in one what the report is about.
func (r *Report) Sentence() string {
	if r.Seconds == 0 {
		return "Nothing is kept of this time."
	}
	parts := []string{fmt.Sprintf("%s in front of %s", Duration(r.Seconds), desk.Counted(len(r.Apps), "app"))}
	if most := r.most(r.Workspaces); most.Seconds > 0 {
		parts = append(parts, fmt.Sprintf("%s %d%%", most.Label, geom.Percent(most.Seconds, r.Seconds)))
	}
	return join(append(parts, r.switches())...)
}

// most is the largest share.
func (r *Report) most(of []Share) (most Share) {
	for _, s := range of {
		if s.Seconds > most.Seconds {
			most = s
		}
	}
	return most
}

// switches says how many there were, and between which two the most.
func (r *Report) switches() string {
	if r.Switched == 0 {
		return "no switches"
	}
	most, from, to := 0, 0, 0
	for i := range r.Switches {
		for j := range i {
			if n := r.Switches[i][j] + r.Switches[j][i]; n > most {
				most, from, to = n, j, i
			}
		}
	}
	name := func(i int) string {
		if r.numbered() {
			return fmt.Sprint(r.Workspaces[i].Number)
		}
		return r.Workspaces[i].Label
	}
	return fmt.Sprintf("%s, %d%% of them between %s and %s", counted(r.Switched, "switch", "switches"), geom.Percent(most, r.Switched), name(from), name(to))
}

func counted(n int, one, more string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, more)
}

// numbered tells whether each number stands for one workspace.
func (r *Report) numbered() bool {
	for i := range r.Workspaces[:max(0, len(r.Workspaces)-1)] {
		if r.Workspaces[i].Number == r.Workspaces[i+1].Number {
			return false
		}
	}
	return true
}

// HoursWords say where the time went.
func (r *Report) HoursWords() string {
	if r.Seconds == 0 {
		return "Nothing had the focus."
	}
	busiest, n := Slot{}, 0
	for _, s := range r.Slots {
		if sum := sum(s.Seconds); sum > n {
			busiest, n = s, sum
		}
	}
	when := map[bool]string{true: "from " + busiest.Label + " h on", false: "on " + busiest.Start.Format("Monday, 2 January")}[r.Period == Day]
	most := r.most(r.Workspaces)
	return join(fmt.Sprintf("%s in all", Duration(r.Seconds)), fmt.Sprintf("%s %s", most.Label, Duration(most.Seconds)), fmt.Sprintf("the most %s, %s", when, Duration(n)))
}

func sum(of []int) (n int) {
	for _, k := range of {
		n += k
	}
	return n
}

// AppsWords say which apps had the most of it.
func (r *Report) AppsWords() string {
	if len(r.Apps) == 0 {
		return "No app had the focus."
	}
	first := r.Apps[0]
	words := fmt.Sprintf("%s %s, %d%%", first.Label, Duration(first.Seconds), geom.Percent(first.Seconds, r.Seconds))
	if n := len(r.Apps); n > 3 {
		three := r.Apps[0].Seconds + r.Apps[1].Seconds + r.Apps[2].Seconds
		return join(words, fmt.Sprintf("the first three of %d apps %d%%", n, geom.Percent(three, r.Seconds)))
	}
	return join(words)
}

// SwitchWords say between which workspaces was gone.
func (r *Report) SwitchWords() string {
	words := r.switches()
	words = strings.ToUpper(words[:1]) + words[1:]
	if r.Passed > r.Switched {
		return join(words, fmt.Sprintf("%d with those passed on the way", r.Passed))
	}
	return join(words)
}

// CrowdWords say how crowded it was.
func (r *Report) CrowdWords() string {
	open, full := Slot{}, Slot{}
	for _, s := range r.Slots {
		if s.Open > open.Open {
			open = s
		}
		if s.Fullest > full.Fullest {
			full = s
		}
	}
	if open.Open == 0 {
		return "No count of windows is kept of this time."
	}
	return join(fmt.Sprintf("At most %s open, %s", desk.Counted(open.Open, "window"), r.at(open)), fmt.Sprintf("the fullest sheet had %d, %s", full.Fullest, r.at(full)))
}

// at says when a slot is.
func (r *Report) at(s Slot) string {
	if r.Period == Day {
		return "from " + s.Label + " h on"
	}
	return "on " + s.Label
}

// LostWords say what was lost and found.
func (r *Report) LostWords() string {
	if r.Found == 0 && r.Rescued == 0 {
		return "Nothing was lost."
	}
	return join(counted(r.Found, "window was lost", "windows were lost"), fmt.Sprintf("%d brought back by rescue", r.Rescued))
}

// DoneWords say what was done most, and how.
func (r *Report) DoneWords() string {
	if len(r.Deeds) == 0 {
		return "No command was counted."
	}
	all, by := 0, 0
	for _, d := range r.Deeds {
		all += d.N
		by += d.By[0]
	}
	return join(counted(all, "command", "commands"), fmt.Sprintf("%s the most, %d times", r.Deeds[0].Verb, r.Deeds[0].N), fmt.Sprintf("%d%% by %s", geom.Percent(by, all), r.Sources[0]))
}
