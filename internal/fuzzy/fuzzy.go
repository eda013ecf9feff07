// Package fuzzy finds what somebody types, a few letters of it, in names.
package fuzzy

import (
	"slices"
	"strings"
	"unicode"
)

// Find finds the letters of a word in a text, in their order and case-blind:
// together where they stand so, at the start of a word if they do; else by the
// starts of words as far as these go. It gives the places of the letters, as
// indexes of runes, and how well they fit: 0 where they are not all there.
func Find(text, word string) (at []int, score int) {
	t, w := lower(text), lower(word)
	if len(w) == 0 {
		return nil, 1
	}
	if !canFollow(t, w) {
		return nil, 0
	}
	if i := indexRunes(t, w); i >= 0 {
		for j := range w {
			at = append(at, i+j)
		}
		switch {
		case len(t) == len(w):
			return at, 500
		case i == 0:
			return at, 400
		case wordStart(t, i):
			return at, 300
		}
		score = 200
	}
	if starts, n := byStarts(t, w); n > 0 {
		// Initials are what people type who know a name.
		if s := 250 * n / len(w); s > score {
			return starts, max(s, 1)
		}
	}
	return at, score
}

// Score is how well words fit texts, each the one it fits best: the sum, or 0 where
// one of the words fits none of them.
func Score(words []string, texts ...string) int {
	sum := 0
	for _, word := range words {
		best := 0
		for _, text := range texts {
			_, score := Find(text, word)
			best = max(best, score)
		}
		if best == 0 {
			return 0
		}
		sum += best
	}
	return sum
}

// byStarts finds the letters of w in t. Each is taken at the next start of a word, as long as
// the rest can be found after it, else wherever it comes next. It gives how many are starts, or
// 1 for none.
func byStarts(t, w []rune) (at []int, starts int) {
	from := 0
	for i, r := range w {
		next := -1
		for j := from; j < len(t) && next < 0; j++ {
			if t[j] == r && wordStart(t, j) && canFollow(t[j+1:], w[i+1:]) {
				next = j
				starts++
			}
		}
		for j := from; next < 0; j++ {
			if t[j] == r {
				next = j
			}
		}
		at, from = append(at, next), next+1
	}
	return at, max(starts, 1)
}

// canFollow tells whether the letters of w stand in t in their order.
func canFollow(t, w []rune) bool {
	for _, r := range t {
		if len(w) == 0 {
			break
		}
		if r == w[0] {
			w = w[1:]
		}
	}
	return len(w) == 0
}

func lower(s string) []rune { return []rune(strings.Map(unicode.ToLower, s)) }

func wordStart(t []rune, i int) bool {
	if i == 0 {
		return true
	}
	before := t[i-1]
	return !unicode.IsLetter(before) && !unicode.IsDigit(before)
}

func indexRunes(t, w []rune) int {
	best := -1
	for i := 0; i+len(w) <= len(t); i++ {
		if !slices.Equal(t[i:i+len(w)], w) {
			continue
		}
		if wordStart(t, i) {
			return i
		}
		if best < 0 {
			best = i
		}
	}
	return best
}
