package lang

import (
	"cmp"
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// Near is the input as it may have been meant. The word at fault is replaced by the nearest that
// could stand there, a query gets its "of", or a name of several words its quotes. Ok is false
// where none of that helps.
func (e *Error) Near() (line string, ok bool) {
	line, _ = e.guess()
	return line, line != ""
}

// guess is the input as it may have been meant, and what is wrong with the word at fault then.
func (e *Error) guess() (line, wrong string) {
	runes := []rune(e.Input)
	from, n := e.Column-1, len([]rune(e.Found))
	if e.Found == "" || from < 0 || from+n > len(runes) || string(runes[from:from+n]) != e.Found {
		return "", ""
	}
	before, after := string(runes[:from]), string(runes[from+n:])
	line, wrong = e.replaced(before, after), "is not known"
	if line == "" {
		line, wrong = cmp.Or(e.withOf(before, after), e.quoted(before, after)), "does not fit here"
	}
	return desk.CleanText(line, desk.MaxWords), wrong
}

func (e *Error) replaced(before, after string) string {
	word, rest := e.Found, ""
	if i := strings.IndexByte(word, ':'); i >= 0 { // of a query: app:ledger
		word, rest = word[:i+1], word[i+1:]
	}
	best := Nearest(word, slices.DeleteFunc(slices.Clone(e.Want), func(want string) bool {
		described := strings.ContainsAny(want, " '") // it is not the word itself
		return described || want == word || rest != "" && !strings.HasSuffix(want, ":")
	}))
	if best == "" {
		return ""
	}
	return before + best + rest + after
}

// mostApart is by how many letters two words differ at most that are near each other.
const mostApart = 3

// Nearest is the word of a list that another one is like; empty where none is near.
func Nearest(word string, list []string) (best string) {
	least := 0
	for _, w := range list {
		if len(word) > len(w)+mostApart {
			continue // however long it is
		}
		if d := distance(strings.ToLower(word), w); d <= allowed(word, w) && (best == "" || d < least) {
			best, least = w, d
		}
	}
	return best
}

// withOf takes what begins with a term of a query for one.
func (e *Error) withOf(before, after string) string {
	if line := before + "of " + e.Found + after; (e.Found == "all" || strings.ContainsAny(e.Found, "#:")) && isCommand(line) {
		return line
	}
	return ""
}

// mostWords bounds how many more words than two a name may have.
const mostWords = 4

// quoted takes the words up to the next that fits for the rest of the name before them.
func (e *Error) quoted(before, after string) string {
	c, err := ParseCommand(before)
	if err != nil || len(c.Args) == 0 || c.Of != nil || strings.HasSuffix(strings.TrimSpace(before), string(quote)) {
		return ""
	}
	first := c.Args[len(c.Args)-1]
	if first.Kind != desk.Name {
		return ""
	}
	head, name := strings.TrimSuffix(strings.TrimSpace(before), first.Word), first.Word+" "+e.Found
	words := strings.Fields(after)
	for n := 0; n <= min(len(words), mostWords); n++ {
		if line := strings.TrimSpace(head + Quote(name) + " " + strings.Join(words[n:], " ")); isCommand(line) {
			return line
		}
		if n < len(words) {
			name += " " + words[n]
		}
	}
	return ""
}

func isCommand(line string) bool {
	_, err := ParseCommand(line)
	return err == nil
}

// allowed is by how many letters a word may differ from another to be near it.
func allowed(word, want string) int { return min(max(len(word)/3, 1), (len(want)+1)/2, mostApart) }

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
