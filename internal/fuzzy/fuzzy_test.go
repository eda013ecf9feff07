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
