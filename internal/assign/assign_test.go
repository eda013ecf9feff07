package assign

import (
	"math/rand/v2"
	"slices"
	"testing"
)

func (c Cost) plus(o Cost) Cost {
	for i := range c {
		c[i] += o[i]
	}
	return c
}

func (c Cost) less(o Cost) bool { return slices.Compare(c[:], o[:]) < 0 }

// brute tries every assignment, in the order of their lists.
func brute(rows, cols int, cost func(i, j int) Cost) []int {
	var best []int
	var least Cost
	taken := make([]bool, cols)
	var try func(list []int, sum Cost)
	try = func(list []int, sum Cost) {
		if len(list) == rows {
			if best == nil || sum.less(least) {
				best, least = slices.Clone(list), sum
			}
			return
		}
		for j := range cols {
			if !taken[j] {
				taken[j] = true
				try(append(list, j), sum.plus(cost(len(list), j)))
				taken[j] = false
			}
		}
	}
	try(nil, Cost{})
	return best
}

// TestLeastIsTheLeast holds the assignment against all others: where costs are few they
// tie often, and the first of the least is told from the rest by its list alone.
func TestLeastIsTheLeast(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for n := range 4000 {
		rows := 1 + r.IntN(7)
		cols := rows + r.IntN(8-rows)
		if n%200 == 0 {
			rows, cols = 7, 7
		}
		bound := []int{1, 2, 3, 50}[r.IntN(4)]
		table := map[[2]int]Cost{}
		for i := range rows {
			for j := range cols {
				table[[2]int{i, j}] = Cost{r.IntN(bound), -r.IntN(bound), 0, r.IntN(bound), r.IntN(2)}
			}
		}
		cost := func(i, j int) Cost { return table[[2]int{i, j}] }
		if got, want := Least(rows, cols, cost), brute(rows, cols, cost); !slices.Equal(got, want) {
			t.Fatalf("walk %d, %d×%d: %v, and %v is the first that costs the least", n, rows, cols, got, want)
		}
	}
}

// TestLeastOfMany holds a large assignment against small changes of it: none costs less.
func TestLeastOfMany(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	const n = 60
	var table [n][n]Cost
	for i := range table {
		for j := range table {
			table[i][j] = Cost{0, r.IntN(100), r.IntN(9)}
		}
	}
	cost := func(i, j int) Cost { return table[i][j] }
	to := Least(n, n, cost)
	if got := slices.Sorted(slices.Values(to)); got[0] != 0 || len(slices.Compact(got)) != n || got[n-1] != n-1 {
		t.Fatalf("not one for one: %v", to)
	}
	for a := range n {
		for b := range n {
			for c := range n {
				now := cost(a, to[a]).plus(cost(b, to[b])).plus(cost(c, to[c]))
				if then := cost(a, to[b]).plus(cost(b, to[c])).plus(cost(c, to[a])); a != b && b != c && a != c && then.less(now) {
					t.Fatalf("rows %d, %d and %d would cost less the other way round", a, b, c)
				}
			}
		}
	}
}

// TestLeastOfLargeCosts has costs whose sums have no room in a number: the first parts count
// to the last bit, the others more coarsely.
func TestLeastOfLargeCosts(t *testing.T) {
	cost := func(i, j int) Cost { return Cost{(i + j) % 3 << 40, i * j << 40, -j << 40, i << 40, 1 << 40} }
	if got, want := Least(3, 4, cost), []int{3, 2, 1}; !slices.Equal(got, want) {
		t.Errorf("%v, and %v costs the least", got, want)
	}
	far := func(i, j int) Cost { return Cost{0, 0, 0, 0, -(i ^ j) << 62} }
	if got, want := Least(2, 2, far), []int{1, 0}; !slices.Equal(got, want) {
		t.Errorf("%v, and %v costs the least", got, want)
	}
}
