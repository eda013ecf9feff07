// Package assign gives each of some rows a column of its own, so that all of it costs as
// little as can be.
package assign

import "math/bits"

// Cost is what it costs to give a row a column. Its parts count in their order: the
// second only where the first is the same, and so on. Costs can be added, and what is
// least for the sums is least part by part in that order.
type Cost [5]int

// sum is a Cost as one number of 128 bits. Each part has the bits that the sum of all rows
// needs, so sums compare as their parts would. It can be added and subtracted in two
// instructions.
type sum struct {
	high int64
	low  uint64
}

func (a sum) plus(b sum) sum {
	low, carry := bits.Add64(a.low, b.low, 0)
	return sum{a.high + b.high + int64(carry), low}
}

func (a sum) minus(b sum) sum {
	low, borrow := bits.Sub64(a.low, b.low, 0)
	return sum{a.high - b.high - int64(borrow), low}
}

func (a sum) less(b sum) bool { return a.high < b.high || a.high == b.high && a.low < b.low }

// packing is where the parts of a Cost lie in a sum: how far up, and how many of their own
// lowest bits are left out.
type packing struct{ up, without [len(Cost{})]int }

// pack finds room for the parts of the costs.
func pack(costs [][]Cost) packing {
	var most, width [len(Cost{})]int
	for _, row := range costs {
		for _, c := range row {
			for k, part := range c {
				most[k] = max(most[k], part, -part)
			}
		}
	}
	all := 3 // bits to spare: prices are a few times as high as costs
	for k, m := range most {
		if m > 0 {
			width[k] = bits.Len(uint(m)) + bits.Len(uint(len(costs))) + 2
		}
		all += width[k]
	}
	var p packing
	for k := len(width) - 1; all > 128; k-- {
		p.without[k] = min(all-128, width[k])
		all -= p.without[k]
	}
	for k := len(width) - 1; k > 0; k-- {
		p.up[k-1] = p.up[k] + width[k] - p.without[k]
	}
	return p
}

func (p packing) sum(c Cost) sum {
	var all sum
	for k, part := range c {
		part, up := int64(part>>p.without[k]), p.up[k]
		if up < 64 {
			all = all.plus(sum{part >> (64 - up), uint64(part) << up})
		} else {
			all.high += part << (up - 64)
		}
	}
	return all
}

// solution is an assignment with prices that prove that none costs less. A pair never costs
// less than the prices of its row and its column together. It costs exactly that if they are
// given to each other.
type solution struct {
	cost     [][]sum // by row and column
	row, col []sum   // their prices; see lower for those of columns
	to       []int   // the column of each row, or none
	of       []int   // the row of each column, or nobody
}

const none, nobody = -1, -1

// Least gives each row a column of its own, at the least cost in all. There must be as many
// columns as rows at least. Of several that cost as little it is the one whose list of columns,
// by row, comes first. It takes time in proportion to the square of the rows and to the columns,
// and far less where few want the same. Where the sums need more than 125 bits, the last parts
// count more coarsely.
//
// It is the Hungarian method (H. W. Kuhn 1955, J. Munkres 1957) with the reduction of rows
// and the shortest augmenting paths of R. Jonker and A. Volgenant (1987).
func Least(rows, cols int, cost func(row, col int) Cost) []int {
	costs := make([][]Cost, rows)
	for i := range costs {
		costs[i] = make([]Cost, cols)
		for j := range costs[i] {
			costs[i][j] = cost(i, j)
		}
	}
	s := &solution{cost: make([][]sum, rows), row: make([]sum, rows), col: make([]sum, cols), to: make([]int, rows), of: make([]int, cols)}
	for p, i := pack(costs), 0; i < rows; i++ {
		s.to[i], s.cost[i] = none, make([]sum, cols)
		for j, c := range costs[i] {
			s.cost[i][j] = p.sum(c)
		}
	}
	for j := range s.of {
		s.of[j] = nobody
	}
	if rows == cols {
		s.lower()
	}
	s.reduce()
	for i, j := range s.to {
		if j == none {
			s.add(i)
		}
	}
	s.first()
	return s.to
}

// lower prices each column at what it costs at least. That can be done where every column has
// a row in the end; else no column's price is above 0, and that of a column without a row is 0.
func (s *solution) lower() {
	for j := range s.col {
		s.col[j] = s.cost[0][j]
		for i := range s.cost {
			if s.cost[i][j].less(s.col[j]) {
				s.col[j] = s.cost[i][j]
			}
		}
	}
}

// reduce lets each row take the column that costs it least, at a price that leaves it no
// worse than the next best. Who had it looks for another at once, and after some rounds no
// more: those are left for add.
func (s *solution) reduce() {
	for left, row := 4*len(s.to), 0; row < len(s.to); row++ {
		for i := row; i != nobody && left > 0; left-- {
			best, next := s.two(i)
			by := sum{}
			if next != none {
				by = s.left(i, next).minus(s.left(i, best))
			}
			was := s.of[best]
			if was != nobody && by == (sum{}) {
				break
			}
			s.row[i] = s.row[i].plus(s.left(i, best)).plus(by)
			s.col[best] = s.col[best].minus(by)
			s.of[best], s.to[i] = i, best
			if i = was; was != nobody {
				s.to[was] = none
			}
		}
	}
}

// two are the columns that cost a row the least and the least but one.
func (s *solution) two(i int) (best, next int) {
	best, next = none, none
	var least, second sum
	for j := range s.col {
		switch d := s.left(i, j); {
		case best == none || d.less(least):
			best, next, least, second = j, best, d, least
		case next == none || d.less(second):
			next, second = j, d
		}
	}
	return best, next
}

// add gives one more row a column, by the path of least cost on which others change
// theirs.
func (s *solution) add(row int) {
	cols := len(s.col)
	least, from := make([]sum, cols), make([]int, cols) // to each column, and the row before it
	open := make([]int, cols)                           // columns whose least is not known yet
	for j := range open {
		open[j], from[j] = j, nobody
	}
	reached := []int{} // columns, whose rows are on the path
	var all sum        // of the path up to the row
	at, end := row, none
	for end == none {
		next := 0
		base := all.minus(s.row[at])
		for k, j := range open {
			if d := base.plus(s.cost[at][j].minus(s.col[j])); from[j] == nobody || d.less(least[j]) {
				least[j], from[j] = d, at
			}
			if least[j].less(least[open[next]]) {
				next = k
			}
		}
		j := open[next]
		open[next] = open[len(open)-1]
		open, all = open[:len(open)-1], least[j]
		if s.of[j] == nobody {
			end = j
		} else {
			reached, at = append(reached, j), s.of[j]
		}
	}
	s.row[row] = s.row[row].plus(all)
	for _, j := range reached {
		by := all.minus(least[j])
		s.row[s.of[j]] = s.row[s.of[j]].plus(by)
		s.col[j] = s.col[j].minus(by)
	}
	for j := end; j != none; {
		i := from[j]
		s.of[j], s.to[i], j = i, j, s.to[i]
	}
}

// left is what a pair costs above the prices of its row and its column.
func (s *solution) left(i, j int) sum { return s.cost[i][j].minus(s.row[i]).minus(s.col[j]) }

// tight tells whether a pair can be part of an assignment that costs as little.
func (s *solution) tight(i, j int) bool { return s.left(i, j) == sum{} }

// first goes to the assignment whose list of columns comes first, of those that cost as
// little.
func (s *solution) first() {
	for i := range s.to {
		for j := range s.to[i] {
			if s.tight(i, j) && s.swap(i, j) {
				break
			}
		}
	}
}

// swap gives a row another column where those after it can do without that one.
func (s *solution) swap(i, j int) bool {
	seen := make([]bool, len(s.col))
	seen[j] = true
	was, other := s.to[i], s.of[j]
	if other >= 0 && other < i || !s.move(other, i, was, seen) {
		return false
	}
	s.to[i], s.of[j] = j, i
	return true
}

// move gives a row after the first, or nobody, another column than it has: the free one, or one
// whose row can move in the same way.
func (s *solution) move(row, first, free int, seen []bool) bool {
	for j := range s.col {
		if seen[j] || row == nobody && s.col[j] != (sum{}) || row != nobody && !s.tight(row, j) {
			continue
		}
		seen[j] = true
		if of := s.of[j]; j != free && (of == row || of >= 0 && of <= first || !s.move(of, first, free, seen)) {
			continue
		}
		if s.of[j] = row; row != nobody {
			s.to[row] = j
		}
		return true
	}
	return false
}
