package picture

import (
	"fmt"
	"math/bits"
	"time"
)

// Cell is a cell of a terminal: its quarters in two colours.
type Cell struct {
	Quarters uint8 // those in the first colour: 1 top left, 2 top right, 4 bottom left, 8 bottom right
	Fg, Bg   RGB
}

// quarters are the signs that fill quarters of a cell (Unicode, Block Elements), by their sum.
var quarters = [16]string{" ", "▘", "▝", "▀", "▖", "▌", "▞", "▛", "▗", "▚", "▐", "▜", "▄", "▙", "▟", "█"}

// Sign is what is written in the cell, in its first colour on its second.
func (c Cell) Sign() string { return quarters[c.Quarters&15] }

// Cells is a picture as cells of a terminal.
type Cells struct {
	Window int
	W, H   int
	Cells  []Cell // by rows; none where there is no picture
	At     time.Time
}

// The bounds of how far contrast is lifted: the deviation from the commonest colour that most
// of a picture is brought to, and by how much at most.
const (
	liftedTo = 150
	maxLift  = 2.5
)

// Cells is the picture in so many cells. Its contrast is lifted around its commonest colour:
// text that was shrunk is hardly to be seen otherwise.
func (p *Picture) Cells(w, h int) Cells {
	small := p.Shrunk(2*w, 2*h)
	small.lift()
	out := Cells{W: w, H: h, At: p.At, Cells: make([]Cell, w*h)}
	for y := range h {
		for x := range w {
			out.Cells[y*w+x] = best([4]RGB{
				small.Pixel(2*x, 2*y), small.Pixel(2*x+1, 2*y), small.Pixel(2*x, 2*y+1), small.Pixel(2*x+1, 2*y+1),
			})
		}
	}
	return out
}

// best is the cell that is nearest to four quarters in two colours.
func best(q [4]RGB) (out Cell) {
	if q[0] == q[1] && q[1] == q[2] && q[2] == q[3] {
		return Cell{0, q[0], q[0]}
	}
	// The error of two groups and the squares of their sums, each divided by their number, add
	// up to the squares of the colours. So the error is least where those are the most.
	var sums [8][3]int // of the quarters of each mask
	for mask := 1; mask < 8; mask++ {
		c, s := q[bits.TrailingZeros(uint(mask))], sums[mask&(mask-1)]
		sums[mask] = [3]int{s[0] + int(c.R), s[1] + int(c.G), s[2] + int(c.B)}
	}
	all := [3]int{sums[7][0] + int(q[3].R), sums[7][1] + int(q[3].G), sums[7][2] + int(q[3].B)}
	most := 0
	for mask := 1; mask < 8; mask++ { // the others are these with the colours exchanged
		n := bits.OnesCount(uint(mask))
		one, score := 12/n, 0
		other := 12 / (4 - n)
		for k, v := range sums[mask] {
			score += v*v*one + (all[k]-v)*(all[k]-v)*other
		}
		if score > most {
			most, out.Quarters = score, uint8(mask)
		}
	}
	out.Fg, out.Bg = mean(q, out.Quarters), mean(q, ^out.Quarters&15)
	return out
}

// mean is the mean of some quarters; black of none.
func mean(q [4]RGB, mask uint8) RGB {
	n := bits.OnesCount8(mask)
	if n == 0 {
		return RGB{}
	}
	r, g, b := 0, 0, 0
	for i, c := range q {
		if mask>>i&1 != 0 {
			r, g, b = r+int(c.R), g+int(c.G), b+int(c.B)
		}
	}
	return RGB{uint8(r / n), uint8(g / n), uint8(b / n)}
}

// lift brings most of what differs from the commonest colour further away from it.
func (p *Picture) lift() {
	n := p.W * p.H
	if n == 0 {
		return
	}
	ground := p.commonest()
	var far [256]int // how many pixels are so far from it
	for i := 0; i < len(p.RGB); i += 3 {
		far[max(diff(p.RGB[i], ground.R), diff(p.RGB[i+1], ground.G), diff(p.RGB[i+2], ground.B))]++
	}
	most := 0
	for nearer := far[0]; nearer <= min(n*95/100, n-1); nearer += far[most] {
		most++
	}
	if most == 0 || most >= liftedTo {
		return
	}
	by := min(float64(liftedTo)/float64(most), maxLift)
	var lifted [3][256]uint8
	for j, g := range [3]uint8{ground.R, ground.G, ground.B} {
		for v := range lifted[j] {
			lifted[j][v] = uint8(min(max(float64(g)+(float64(v)-float64(g))*by, 0), 255))
		}
	}
	for i := 0; i < len(p.RGB); i += 3 {
		p.RGB[i], p.RGB[i+1], p.RGB[i+2] = lifted[0][p.RGB[i]], lifted[1][p.RGB[i+1]], lifted[2][p.RGB[i+2]]
	}
}

func diff(a, b uint8) int {
	if a > b {
		return int(a - b)
	}
	return int(b - a)
}

// commonest is the mean of the colours that most pixels nearly have.
func (p *Picture) commonest() RGB {
	var count [4096]int
	var sums [4096][3]int
	at := 0
	for i := 0; i < len(p.RGB); i += 3 {
		r, g, b := p.RGB[i], p.RGB[i+1], p.RGB[i+2]
		k := int(r>>4)<<8 | int(g>>4)<<4 | int(b>>4)
		count[k]++
		sums[k][0], sums[k][1], sums[k][2] = sums[k][0]+int(r), sums[k][1]+int(g), sums[k][2]+int(b)
		if count[k] > count[at] {
			at = k
		}
	}
	n := max(count[at], 1)
	return RGB{uint8(sums[at][0] / n), uint8(sums[at][1] / n), uint8(sums[at][2] / n)}
}

// cellBytes is how long a cell is where it is sent: its quarters and two colours.
const cellBytes = 7

// Pack is the cells as bytes, seven a cell: quarters, and the two colours.
func (c Cells) Pack() []byte {
	out := make([]byte, 0, cellBytes*len(c.Cells))
	for _, k := range c.Cells {
		out = append(out, k.Quarters, k.Fg.R, k.Fg.G, k.Fg.B, k.Bg.R, k.Bg.G, k.Bg.B)
	}
	return out
}

// Unpack reads what Pack wrote.
func (c *Cells) Unpack(data []byte) error {
	if len(data) != 0 && len(data) != cellBytes*c.W*c.H {
		return fmt.Errorf("a picture of %d by %d cells has %d bytes, not %d", c.W, c.H, cellBytes*c.W*c.H, len(data))
	}
	c.Cells = nil
	for ; len(data) > 0; data = data[cellBytes:] {
		c.Cells = append(c.Cells, Cell{data[0] & 15, RGB{data[1], data[2], data[3]}, RGB{data[4], data[5], data[6]}})
	}
	return nil
}
