package desk

import "slices"

// Staying tells which windows of a new stacking order need not move, if each of the others is
// put over the one before it, from below. It is as many as possible: the longest common
// subsequence of both orders.
func Staying[T comparable](old, order []T) []bool {
	place := make(map[T]int, len(old))
	for i, win := range old {
		place[win] = i
	}
	var ends []int                    // of the best part of each length, by their place in order
	before := make([]int, len(order)) // in the best part that ends here; -1 for none
	for i, win := range order {
		at, there := place[win]
		if !there {
			continue
		}
		n, _ := slices.BinarySearchFunc(ends, at, func(end, at int) int { return place[order[end]] - at })
		before[i] = -1
		if n > 0 {
			before[i] = ends[n-1]
		}
		if n == len(ends) {
			ends = append(ends, i)
		} else {
			ends[n] = i
		}
	}
	stays := make([]bool, len(order))
	if len(ends) > 0 {
		for i := ends[len(ends)-1]; i >= 0; i = before[i] {
			stays[i] = true
		}
	}
	return stays
}
