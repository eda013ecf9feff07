package fuzzy

import (
	"slices"
	"testing"
)

func TestFind(t *testing.T) {
	for _, c := range []struct {
		text, word string
		at         []int
	}{
		{"Ticket Till", "till", []int{7, 8, 9, 10}}, {"Ticket Till", "tt", []int{0, 7}}, {"Hall Plan", "hp", []int{0, 5}},
		{"Screening Times: the week", "stw", []int{0, 10, 21}}, {"abc", "ac", []int{0, 2}}, {"abc", "ca", nil}, {"ÄRGER", "är", []int{0, 1}}, {"x", "", nil},
	} {
		if at, score := Find(c.text, c.word); !slices.Equal(at, c.at) || (score > 0) != (c.at != nil || c.word == "") {
			t.Errorf("%q in %q: %v, %d, want %v", c.word, c.text, at, score, c.at)
		}
	}
	for _, better := range [][3]string{{"Till", "Ticket Till", "till"}, {"Ticket Till", "A Ticket", "tick"}, {"Hall Plan", "Shape", "hp"}} {
		_, a := Find(better[0], better[2])
		_, b := Find(better[1], better[2])
		if a <= b {
			t.Errorf("%q fits %q (%d) no better than %q (%d)", better[2], better[0], a, better[1], b)
		}
	}
}

// Every word must fit one of the texts; each counts as in the one it fits best.
func TestScore(t *testing.T) {
	one := func(text, word string) int { _, n := Find(text, word); return n }
	for _, c := range []struct {
		words, texts []string
		want         int
	}{
		{nil, []string{"Hall Plan"}, 0},
		{[]string{"hall"}, []string{"Hall Plan", "The hall"}, one("Hall Plan", "hall")},
		{[]string{"hall", "refunds"}, []string{"Hall Plan", "Refunds"}, one("Hall Plan", "hall") + one("Refunds", "refunds")},
		{[]string{"hall", "zebra"}, []string{"Hall Plan", "Refunds"}, 0},
		{[]string{"hall"}, nil, 0},
	} {
		if got := Score(c.words, c.texts...); got != c.want {
			t.Errorf("%v in %v: %d, want %d", c.words, c.texts, got, c.want)
		}
	}
}
