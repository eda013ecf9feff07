package bench

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"zatlas/internal/assign"
	"zatlas/internal/testkit/desks"
)

// BenchmarkLay: lay a plate that moves 60 real windows back to where they were, and send them
// away, from the command to its answer; the floor is a bare client that asks for the same.
func BenchmarkLay(b *testing.B) {
	c, end := crowded(b, 60)
	defer end()
	c.do(desks.Command(b, "plate save Day"))
	var laid, sent, floors []time.Duration
	floor := newBare(b, 60, 0)
	for range 20 {
		start := time.Now()
		c.do(desks.Command(b, "send 1 of on:3"))
		between := time.Now()
		c.do(desks.Command(b, "plate lay Day"))
		sent, laid = append(sent, between.Sub(start)), append(laid, time.Since(between))
		floors = append(floors, floor.swap())
	}
	b.Run("laid", func(b *testing.B) { report(b, laid, floors) })
	b.Run("sent", func(b *testing.B) { report(b, sent, floors) })
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
