package survey

import (
	"math/bits"
	"slices"
)

// maxExact is up to how many workspaces the best order is found exactly.
const maxExact = 18

// counts are how often was switched from each workspace to each other, by their
// indexes.
type counts [][]int

func newCounts(n int) counts {
	c := make(counts, n)
	for i := range c {
		c[i] = make([]int, n)
	}
	return c
}

// cost is how many steps the switches take in an order: for each of them the
// distance of the two places.
func (c counts) cost(order []int) (steps int) {
	at := make([]int, len(order))
	for place, i := range order {
		at[i] = place
	}
	for i := range c {
		for j, n := range c[i] {
			steps += n * max(at[i]-at[j], at[j]-at[i])
		}
	}
	return steps
}

// worth is what orders are compared by, the least first: the steps, then how many
// pairs are turned round against today's order. The latter is below pairBound.
type worth int

const pairBound = 1 << 14

func (c counts) worth(order []int) worth {
	w := worth(c.cost(order)) * pairBound
	for i := range order {
		for _, j := range order[:i] {
			if j > order[i] {
				w++
			}
		}
	}
	return w
}

// best is the order of least cost, of those the one with the fewest pairs turned
// round, of those the one with the smaller indexes first; exact is false where it
// may not be.
func (c counts) best() (order []int, exact bool) {
	if len(c) <= maxExact {
		return c.exact(), true
	}
	return c.near(), false
}

// exact finds the best order by dynamic programming over the sets of workspaces
// that stand first. The cost of an order is the sum, over the gaps between places,
// of the switches that go over that gap; so it is known of a set which of the others
// best follows.
func (c counts) exact() []int {
	n := len(c)
	all := 1<<n - 1
	both := make([][]int, n) // either way
	for i := range both {
		both[i] = make([]int, n)
		for j := range n {
			both[i][j] = c[i][j] + c[j][i]
		}
	}
	// over[s] is how many switches go between the set s and the others.
	over := make([]int, all+1)
	for s := 1; s <= all; s++ {
		i := bits.TrailingZeros(uint(s))
		rest := s &^ (1 << i)
		over[s] = over[rest]
		for j := range n {
			switch {
			case j == i:
			case rest>>j&1 == 1:
				over[s] -= both[i][j]
			default:
				over[s] += both[i][j]
			}
		}
	}
	// step is the worth of having i follow the set s.
	step := func(s, i int) worth {
		turned := bits.OnesCount(uint(s >> (i + 1)))
		return worth(over[s|1<<i])*pairBound + worth(turned)
	}
	left := make([]worth, all+1) // of all that follows a set
	for s := all - 1; s >= 0; s-- {
		left[s] = -1
		for i := range n {
			if s>>i&1 == 1 {
				continue
			}
			if w := step(s, i) + left[s|1<<i]; left[s] < 0 || w < left[s] {
				left[s] = w
			}
		}
	}
	order := make([]int, 0, n)
	for s := 0; s != all; {
		for i := range n {
			if s>>i&1 == 0 && step(s, i)+left[s|1<<i] == left[s] {
				order, s = append(order, i), s|1<<i
				break
			}
		}
	}
	return order
}

// near is an order that no move of one workspace makes better, found from today's.
func (c counts) near() []int {
	order := make([]int, len(c))
	for i := range order {
		order[i] = i
	}
	for now := c.worth(order); ; {
		best, bestWorth := order, now
		for from := range order {
			// The worth changes by little when two neighbours change places, so
			// one workspace is taken along to either end by that.
			for _, by := range []int{-1, 1} {
				moved, w := slices.Clone(order), now
				for at := from; at+by >= 0 && at+by < len(order); at += by {
					w += c.swapped(moved, min(at, at+by))
					moved[at], moved[at+by] = moved[at+by], moved[at]
					if w < bestWorth {
						best, bestWorth = slices.Clone(moved), w
					}
				}
			}
		}
		if bestWorth == now {
			return order
		}
		order, now = best, bestWorth
	}
}

// swapped is the change of the worth when the workspace at a place and the next one change
// places. The first comes one step nearer to all behind and one further from all before; the
// second the other way round.
func (c counts) swapped(order []int, place int) worth {
	i, j := order[place], order[place+1]
	steps := 0
	for at, k := range order {
		if k == i || k == j {
			continue
		}
		by := c[i][k] + c[k][i] - c[j][k] - c[k][j]
		if at > place {
			by = -by
		}
		steps += by
	}
	turned := 1
	if i > j {
		turned = -1
	}
	return worth(steps)*pairBound + worth(turned)
}
