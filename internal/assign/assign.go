// Package assign gives each of some rows a column of its own, so that all of it costs as
// little as can be.
package assign

// Cost is what it costs to give a row a column. Its parts count in their order: the
// second only where the first is the same, and so on. Costs can be added, and what is
// least for the sums is least part by part in that order.
type Cost [5]int

func (c Cost) plus(o Cost) Cost {
	for i := range c {
		c[i] += o[i]
	}
	return c
}

func (c Cost) minus(o Cost) Cost {
	for i := range c {
		c[i] -= o[i]
	}
	return c
}

func (c Cost) less(o Cost) bool {
	for i := range c {
		if c[i] != o[i] {
			return c[i] < o[i]
		}
	}
	return false
}

// solution is an assignment with prices that prove that none costs less. A pair never costs
// less than the prices of its row and its column together. It costs exactly that if they are
// given to each other.
type solution struct {
	cost     [][]Cost // by row and column
	row, col []Cost   // their prices; that of a column is not above 0, and 0 where nobody has it
	to       []int    // the column of each row
	of       []int    // the row of each column; nobody for none
}

// Least gives each row a column of its own, of which there must be as many at least, so
// that the sum of their costs is the least there is. Of several that cost as little it
// is the one whose list of columns, by row, comes first. It takes time in proportion to
// the square of the rows and to the columns.
//
// It is the Hungarian method (H. W. Kuhn 1955, J. Munkres 1957) with shortest augmenting
// paths (R. Jonker and A. Volgenant 1987), over costs of several parts.
func Least(rows, cols int, cost func(row, col int) Cost) []int {
	s := &solution{cost: make([][]Cost, rows), row: make([]Cost, rows), col: make([]Cost, cols), to: make([]int, rows), of: make([]int, cols)}
	for i := range s.cost {
		s.to[i], s.cost[i] = -1, make([]Cost, cols)
		for j := range s.cost[i] {
			s.cost[i][j] = cost(i, j)
		}
	}
	for j := range s.of {
		s.of[j] = nobody
	}
	for i := range s.cost {
		s.add(i)
	}
	s.first()
	return s.to
}

// add gives one more row a column, by the path of least cost on which others change
// theirs.
func (s *solution) add(row int) {
	cols := len(s.col)
	least, from := make([]Cost, cols), make([]int, cols) // to each column, and the row before it
	known, done := make([]bool, cols), make([]bool, cols)
	reached := []int{} // columns, whose rows are on the path
	var sum Cost       // of the path up to the row
	at, end := row, -1
	for end < 0 {
		next := -1
		for j := range cols {
			if done[j] {
				continue
			}
			if d := sum.plus(s.left(at, j)); !known[j] || d.less(least[j]) {
				least[j], from[j], known[j] = d, at, true
			}
			if next < 0 || least[j].less(least[next]) {
				next = j
			}
		}
		sum, done[next] = least[next], true
		if s.of[next] < 0 {
			end = next
		} else {
			reached, at = append(reached, next), s.of[next]
		}
	}
	s.row[row] = s.row[row].plus(sum)
	for _, j := range reached {
		by := sum.minus(least[j])
		s.row[s.of[j]] = s.row[s.of[j]].plus(by)
		s.col[j] = s.col[j].minus(by)
	}
	for j := end; j >= 0; {
		i := from[j]
		s.of[j], s.to[i], j = i, j, s.to[i]
	}
}

// left is what a pair costs above the prices of its row and its column.
func (s *solution) left(i, j int) Cost { return s.cost[i][j].minus(s.row[i]).minus(s.col[j]) }

// tight tells whether a pair can be part of an assignment that costs as little.
func (s *solution) tight(i, j int) bool { return s.left(i, j) == Cost{} }

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

// nobody has the columns that no row has.
const nobody = -1

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

// move finds a column for a row after the first, or for nobody, in the place of the one
// it has: the free one, or that of another which can change its own for it.
func (s *solution) move(row, first, free int, seen []bool) bool {
	for j := range s.col {
		if seen[j] || row == nobody && s.col[j] != (Cost{}) || row != nobody && !s.tight(row, j) {
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
