package apps

import (
	"slices"
	"strings"
	"time"
	"unicode"
)

// Choice is how often and how lately an app was chosen.
type Choice struct {
	Count int
	At    time.Time
}

// Score tells how well a name fits what was typed; ok is false where it does
// not. Every word typed must be found in the name. The whole name counts most, then its
// start, the start of a word, a part, and the letters in their order.
func Score(name, typed string) (score int, ok bool) {
	name, typed = strings.ToLower(name), strings.ToLower(strings.TrimSpace(typed))
	if name == typed {
		return 1000, true
	}
	for word := range strings.FieldsSeq(typed) {
		s := scoreWord(name, word)
		if s == 0 {
			return 0, false
		}
		score += s
	}
	return score, true
}

func scoreWord(name, word string) int {
	i := strings.Index(name, word)
	switch {
	case i == 0:
		return 400
	case i > 0 && startsWord(name, i):
		return 300
	case i > 0:
		return 200
	}
	// Letters in their order: fewer leaps between them are better.
	rest := []rune(word)
	leaps, last := 0, -1
	for j, r := range []rune(name) {
		if len(rest) > 0 && r == rest[0] {
			if j != last+1 {
				leaps++
			}
			last, rest = j, rest[1:]
		}
	}
	if len(rest) > 0 {
		return 0
	}
	return max(100-10*leaps, 1)
}

func startsWord(s string, at int) bool {
	before := []rune(s[:at])
	return !unicode.IsLetter(before[len(before)-1]) && !unicode.IsDigit(before[len(before)-1])
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
