package bench

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"zatlas/internal/assign"
)

// BenchmarkLay: lay a plate that moves 60 real windows back to where they were, from the
// command to its answer; the floor is the command that sent them away.
func BenchmarkLay(b *testing.B) {
	c, end := crowded(b, 60)
	defer end()
	c.do(parse(b, "plate save Day"))
	var laid, sent []time.Duration
	for range 20 {
		start := time.Now()
		c.do(parse(b, "send 1 of on:3"))
		between := time.Now()
		c.do(parse(b, "plate lay Day"))
		sent, laid = append(sent, between.Sub(start)), append(laid, time.Since(between))
	}
	report(b, laid, sent)
}

// BenchmarkMatch: give 60 places 60 windows at the least cost; the floor sorts the 3,600
// pairs by their costs, which any way must that takes the best of them first.
func BenchmarkMatch(b *testing.B) {
	const n = 60
	r := rand.New(rand.NewPCG(1, 1))
	var table [n][n]assign.Cost
	var pairs []assign.Cost
	for i := range table {
		for j := range table {
			table[i][j] = assign.Cost{0, -r.IntN(200), r.IntN(3), j, r.IntN(8000)}
			pairs = append(pairs, table[i][j])
		}
	}
	var matched, sorted []time.Duration
	for range 50 {
		start := time.Now()
		assign.Least(n, n, func(i, j int) assign.Cost { return table[i][j] })
		matched = append(matched, time.Since(start))
		all := slices.Clone(pairs)
		start = time.Now()
		slices.SortFunc(all, func(x, y assign.Cost) int { return slices.Compare(x[:], y[:]) })
		sorted = append(sorted, time.Since(start))
	}
	report(b, matched, sorted)
}
