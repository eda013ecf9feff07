package render

import (
	"fmt"
	"strings"

	"zatlas/internal/draw"
	"zatlas/internal/lang"
	"zatlas/internal/survey"
)

// aboutKeys stands under the head of the keys.
const aboutKeys = "They act on what is chosen, in the same words on every screen."

// Keys is the card of keys, on one page.
func Keys(sections []draw.Section) *Drawing {
	return &Drawing{Title: "Keys", About: aboutKeys, Pages: []Page{keysPage(sections)}}
}

func keysPage(sections []draw.Section) Page {
	return Page{Title: "Keys", draw: func(p *pen) {
		c := card{pen: p, area: p.under(p.title("KEYS", aboutKeys)), columns: 2, share: 0.24}
		if p.Paper.W > p.Paper.H {
			c.columns = 3
		}
		c.fit(sections)
	}}
}

// advicePage is the advice: what it says at the left, and what it is worth and how to follow
// it beside that.
func advicePage(items []survey.Item) Page {
	var sections []draw.Section
	for _, it := range items {
		if it.Head != "" {
			sections = append(sections, draw.Section{Head: it.Head})
		}
		does := it.Worth
		switch {
		case it.Chord != "":
			does += fmt.Sprintf(" %q = %q under [chords].", it.Chord, it.Form)
		case it.Does():
			does += fmt.Sprintf(" :%s", lang.Print(it.Command))
		}
		s := &sections[len(sections)-1]
		s.Rows = append(s.Rows, draw.Key{Keys: it.Words, Does: strings.TrimSpace(does)})
	}
	return Page{Title: "Advice", draw: func(p *pen) {
		c := card{pen: p, area: p.under(p.title("ADVICE", "By how you work. Nothing of it is ever done by itself.")), columns: 1, share: 0.4}
		c.fit(sections)
	}}
}

// card is the keys in columns, set in a size.
type card struct {
	*pen
	area    box
	columns int
	share   float64 // of a column that the keys take
	size    float64
	x, y    float64
	column  int
}

const cardGap = 16

func (c *card) wideColumn() float64 {
	return (c.area.w - float64(c.columns-1)*cardGap) / float64(c.columns)
}

// fit sets the sections in the largest size in which all of them have room.
func (c *card) fit(sections []draw.Section) {
	for c.size = 9; c.size > 4 && !c.set(sections, false); c.size -= 0.25 {
	}
	c.set(sections, true)
}

// set sets the sections, or only tells whether they have room.
func (c *card) set(sections []draw.Section, really bool) bool {
	c.x, c.y, c.column = c.area.x, c.area.y, 0
	w := c.wideColumn()
	keys := w * c.share
	for _, s := range sections {
		// A head stands with its first two rows.
		if !c.room(c.size*1.35*3 + c.size*0.6 + 2) {
			return false
		}
		if c.y > c.area.y {
			c.y += c.size * 0.6
		}
		c.y += c.size * 1.35
		if really {
			c.bold(c.x, c.y, c.size, c.Theme.Brass, s.Head)
			c.stroke(0.4, c.Theme.Slate, c.x, c.y+2, c.x+w, c.y+2)
		}
		c.y += 2
		for _, k := range s.Rows {
			left := c.Fonts.wrap(true, c.size, k.Keys, keys-4)
			right := c.Fonts.wrap(false, c.size, k.Does, w-keys)
			high := c.size * 1.3 * float64(max(len(left), len(right)))
			if !c.room(high) {
				return false
			}
			if really {
				for i, line := range left {
					c.bold(c.x, c.y+c.size*1.3*float64(i+1), c.size, c.Theme.Green, line)
				}
				for i, line := range right {
					c.write(c.x+keys, c.y+c.size*1.3*float64(i+1), c.size, c.Theme.Paper, line)
				}
			}
			c.y += high
		}
	}
	return true
}

// room goes to the next column where so much has no room in this one; it is false
// where there is none.
func (c *card) room(high float64) bool {
	if c.y+high <= c.area.y+c.area.h {
		return true
	}
	c.column++
	c.x, c.y = c.area.x+float64(c.column)*(c.wideColumn()+cardGap), c.area.y
	return c.column < c.columns
}
