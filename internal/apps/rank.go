package apps

import (
	"slices"
	"strings"
	"time"

	"zatlas/internal/fuzzy"
)

// Choice is how often and how lately an app was chosen.
type Choice struct {
	Count int
	At    time.Time
}

// Score tells how well a name fits what was typed; ok is false where it does
// not. Every word typed must be found in the name. The whole name counts most.
func Score(name, typed string) (score int, ok bool) {
	name, typed = strings.ToLower(name), strings.ToLower(strings.TrimSpace(typed))
	if name == typed {
		return 1000, true
	}
	words := strings.Fields(typed)
	score = fuzzy.Score(words, name)
	return score, score > 0 || len(words) == 0
}

// Habit is what having been chosen adds to a score: up to 90, so that it tells
// among names that fit about equally well. A choice counts half after a week.
func Habit(c Choice, now time.Time) int {
	if c.Count == 0 {
		return 0
	}
	weeks := max(now.Sub(c.At), 0).Hours() / (24 * 7)
	return int(float64(min(c.Count, 30)) * 3 / (1 + weeks))
}

// Rank sorts names by how well they fit what was typed and how often they were
// chosen, the best first, and leaves out those that do not fit. Equal ones keep
// their order.
func Rank(names []string, typed string, chosen map[string]Choice, now time.Time) []string {
	type ranked struct {
		name  string
		score int
	}
	var rs []ranked
	for _, n := range names {
		if s, ok := Score(n, typed); ok {
			rs = append(rs, ranked{n, s + Habit(chosen[n], now)})
		}
	}
	slices.SortStableFunc(rs, func(a, b ranked) int { return b.score - a.score })
	out := make([]string, len(rs))
	for i, r := range rs {
		out[i] = r.name
	}
	return out
}
