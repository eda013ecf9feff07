package lang

import (
	"strings"

	"zatlas/internal/desk"
)

// Near is the input with the word at fault replaced by the nearest that could stand
// there; ok is false where none is near.
func (e *Error) Near() (line string, ok bool) {
	word, rest := e.Found, ""
	if i := strings.IndexByte(word, ':'); i >= 0 { // of a query: app:ledger
		word, rest = word[:i+1], word[i+1:]
	}
	best, least := "", 0
	for _, want := range e.Want {
		if strings.ContainsAny(want, " '") || want == word {
			continue // it is described, and not the word itself
		}
		if d := distance(strings.ToLower(word), want); d <= allowed(word, want) && (best == "" || d < least) {
			best, least = want, d
		}
	}
	runes := []rune(e.Input)
	from, n := e.Column-1, len([]rune(e.Found))
	if best == "" || word == "" || from < 0 || from+n > len(runes) || string(runes[from:from+n]) != e.Found {
		return "", false
	}
	return desk.CleanText(string(runes[:from])+best+rest+string(runes[from+n:]), desk.MaxWords), true
}

// allowed is by how many letters a word may differ from another to be near it.
func allowed(word, want string) int { return min(max(len(word)/3, 1), (len(want)+1)/2, 3) }

// distance is how many letters are to be put in, taken out, replaced or exchanged with
// the next one to make one word of another (the optimal string alignment distance); one
// that is the beginning of the other is one letter away.
func distance(a, b string) int {
	if len(a) >= 2 && strings.HasPrefix(b, a) && a != b {
		return 1
	}
	x, y := []rune(a), []rune(b)
	rows := make([][]int, len(x)+1)
	for i := range rows {
		rows[i] = make([]int, len(y)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(x); i++ {
		for j := 1; j <= len(y); j++ {
			cost := 1
			if x[i-1] == y[j-1] {
				cost = 0
			}
			d := min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+cost)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				d = min(d, rows[i-2][j-2]+1)
			}
			rows[i][j] = d
		}
	}
	return rows[len(x)][len(y)]
}
