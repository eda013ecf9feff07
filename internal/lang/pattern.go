package lang

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"

	"zatlas/internal/desk"
)

// A verb's usage is one or more forms, a form a sequence of slots; a slot is a
// set of alternatives that
// can be left out where optional, and its alternatives are keywords or kinds
// of arguments (in capitals). An optional slot may be a keyword and an argument.
type slot struct {
	lead     string // a keyword before the argument, as "at" in [at NUMBER]
	alts     []string
	optional bool
}

// kinds are the arguments a usage names in capitals: how people read them in a
// message, and how a token becomes one.
var kinds = map[string]struct {
	words string
	parse func(t token) (desk.Arg, bool)
}{
	"NUMBER":  {"a workspace's number", parseNumber},
	"SHEET":   {"a sheet such as B3", parseSheet},
	"MONITOR": {"a monitor's letter", parseMonitor},
	"NAME":    {"a workspace's name", parseName},
	"EMPTY":   {empty, parseEmpty},
	"WINDOW":  {"a window such as #12", parseWindow},
	"COUNT":   {"a number", parseNumber},
	"APP":     {"an app's name", parseName},
	"PIXELS":  {"a number of pixels such as 20 or -20", parsePixels},
	"PERCENT": {"per cent such as +5 or -5", parsePercent},
	"SHARE":   {"per cent of the work area such as 5%", parseShare},
	"GRID":    {"a grid such as 4x2", parseGrid},
	"LETTER":  {"a letter a to z", parseSmall},
	"ORDER":   {"an order such as 3,1,2", parseOrder},
	"PLATE":   {"a plate's name", parsePlate},
	"WORDS":   {"a command, which is the rest of the line", parseNothing},
}

// reserved words are no bare names: they mean something after some verb.
var reserved = []string{"all", "and", "at", "back", "by", "down", "first", "into", "last", "left", "new", "next", "not", "of", "or", "prev", "right", "to", "up"}

// known are the forms of each usage that was asked about: those of the verbs.
var known sync.Map

// formsOf are the ways in which a usage lets a verb be written. They are not to be changed.
func formsOf(usage string) [][]slot {
	if forms, ok := known.Load(usage); ok {
		return forms.([][]slot)
	}
	var forms [][]slot
	for _, form := range strings.Split(usage, " / ") {
		forms = append(forms, slotsOf(form))
	}
	known.Store(usage, forms)
	return forms
}

func slotsOf(usage string) []slot {
	var slots []slot
	for usage = strings.TrimSpace(usage); usage != ""; usage = strings.TrimSpace(usage) {
		part, rest, _ := strings.Cut(usage, " ")
		optional := strings.HasPrefix(usage, "[")
		if optional {
			part, rest, _ = strings.Cut(usage[1:], "]")
		}
		s := slot{optional: optional}
		if lead, alts, ok := strings.Cut(part, " "); ok {
			s.lead, part = lead, alts
		}
		s.alts = strings.Split(part, "|")
		slots = append(slots, s)
		usage = rest
	}
	return slots
}

// match reads one argument of the slot from the token.
func (s slot) match(t token) (desk.Arg, bool) {
	if !t.quoted && slices.Contains(s.alts, t.text) {
		return desk.Arg{Kind: desk.Keyword, Word: t.text}, true
	}
	for _, alt := range s.alts {
		if k, ok := kinds[alt]; ok {
			if arg, ok := k.parse(t); ok {
				return arg, true
			}
		}
	}
	return desk.Arg{}, false
}

// wants lists in words what could stand in the slot.
func (s slot) wants() []string {
	if s.lead != "" {
		return []string{s.lead}
	}
	var words []string
	for _, alt := range s.alts {
		if k, ok := kinds[alt]; ok {
			alt = k.words
		}
		words = append(words, alt)
	}
	return words
}

func parseNumber(t token) (desk.Arg, bool) {
	n, err := strconv.Atoi(t.text)
	ok := err == nil && !t.quoted && n >= 0 && n <= 1_000_000 && strconv.Itoa(n) == t.text
	return desk.Arg{Kind: desk.Number, N: n}, ok
}

// parseNothing is of what is read from the line itself.
func parseNothing(token) (desk.Arg, bool) { return desk.Arg{}, false }

func parseSmall(t token) (desk.Arg, bool) {
	if t.quoted || len(t.text) != 1 || t.text[0] < 'a' || t.text[0] > 'z' {
		return desk.Arg{}, false
	}
	return desk.Arg{Kind: desk.Small, Letter: t.text[0]}, true
}

func parsePixels(t token) (desk.Arg, bool) {
	text, minus := strings.CutPrefix(t.text, "-")
	n, ok := parseNumber(token{text: text, quoted: t.quoted})
	if minus {
		n.N = -n.N
		ok = ok && n.N != 0
	}
	return n, ok
}

// parsePercent reads per cent, with their sign or without.
func parsePercent(t token) (desk.Arg, bool) {
	number := strings.TrimSuffix(strings.TrimPrefix(t.text, "+"), "%")
	return parsePixels(token{text: number, quoted: t.quoted})
}

// parseShare reads per cent with their sign, so that they are not taken for pixels.
func parseShare(t token) (desk.Arg, bool) {
	a, isNumber := parsePercent(t)
	a.Kind = desk.Share
	return a, strings.HasSuffix(t.text, "%") && isNumber && abs(a.N) <= 100
}

func abs(n int) int { return max(n, -n) }

// MaxGrid is the most columns or rows of a grid.
const MaxGrid = 20

// ParseGrid reads a grid such as 4x2.
func ParseGrid(text string) (desk.GridSize, error) {
	a, ok := parseGrid(token{text: text})
	if !ok {
		return desk.GridSize{}, fmt.Errorf("%q is no grid", text)
	}
	return a.Grid, nil
}

func parseGrid(t token) (desk.Arg, bool) {
	cols, rows, ok := strings.Cut(t.text, "x")
	c, okC := parseNumber(token{text: cols})
	r, okR := parseNumber(token{text: rows})
	ok = ok && okC && okR && !t.quoted && c.N >= 1 && r.N >= 1 && c.N <= MaxGrid && r.N <= MaxGrid
	return desk.Arg{Kind: desk.Grid, Grid: desk.GridSize{Cols: c.N, Rows: r.N}}, ok
}

// parseOrder reads numbers of workspaces, parted by commas.
func parseOrder(t token) (desk.Arg, bool) {
	for word := range strings.SplitSeq(t.text, ",") {
		if n, ok := parseNumber(token{text: word, quoted: t.quoted}); !ok || n.N > desk.MaxWorkspaces {
			return desk.Arg{}, false
		}
	}
	return desk.Arg{Kind: desk.Order, Word: t.text}, true
}

func isLetter(b byte) bool { return b >= 'A' && b <= 'Z' }

func parseMonitor(t token) (desk.Arg, bool) {
	if t.quoted || len(t.text) != 1 || !isLetter(t.text[0]) {
		return desk.Arg{}, false
	}
	return desk.Arg{Kind: desk.Letter, Letter: t.text[0]}, true
}

func parseSheet(t token) (desk.Arg, bool) {
	if t.quoted || len(t.text) < 2 || !isLetter(t.text[0]) {
		return desk.Arg{}, false
	}
	n, ok := parseNumber(token{text: t.text[1:]})
	return desk.Arg{Kind: desk.Ref, Letter: t.text[0], N: n.N}, ok
}

// ParseSheet reads a sheet such as B3: its monitor's letter and its workspace's
// number, from 1.
func ParseSheet(text string) (letter byte, number int, err error) {
	a, ok := parseSheet(token{text: text})
	if !ok || a.N < 1 {
		return 0, 0, fmt.Errorf("%q is no sheet such as B3", text)
	}
	return a.Letter, a.N, nil
}

func parseWindow(t token) (desk.Arg, bool) {
	text, ok := strings.CutPrefix(t.text, "#")
	if !ok || t.quoted {
		return desk.Arg{}, false
	}
	n, err := strconv.Atoi(text)
	return desk.Arg{Kind: desk.Item, N: n}, err == nil && n > 0 && strconv.Itoa(n) == text
}

func parseName(t token) (desk.Arg, bool) {
	name := desk.CleanName(t.text)
	if name == "" || !t.quoted && !bareName(t.text) {
		return desk.Arg{}, false
	}
	return desk.Arg{Kind: desk.Name, Word: name}, true
}

// parsePlate reads the name of a plate, which needs no quotes where it is one word.
func parsePlate(t token) (desk.Arg, bool) {
	return desk.Arg{Kind: desk.Name, Word: t.text}, desk.CheckPlateName(t.text) == nil
}

// parseEmpty reads "", which is no name.
func parseEmpty(t token) (desk.Arg, bool) {
	return desk.Arg{Kind: desk.Name}, t.quoted && t.text == ""
}

// bareName tells whether a name needs no quotes: one word that starts with a
// letter and is no reference, no monitor and no keyword.
func bareName(s string) bool {
	for i, r := range s {
		if i == 0 && !unicode.IsLetter(r) || unicode.IsSpace(r) || isBracket(r) || r == quote || r == '\\' {
			return false
		}
	}
	_, monitor := parseMonitor(token{text: s})
	_, sheet := parseSheet(token{text: s})
	return s != "" && !monitor && !sheet && !slices.Contains(reserved, s) && desk.CleanName(s) == s
}
