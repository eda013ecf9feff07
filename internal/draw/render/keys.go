package render

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/lang"
	"zatlas/internal/survey"
)

// aboutKeys stands under the head of the keys.
const aboutKeys = "They act on what is chosen, in the same words on every screen."

// Keys is the card of keys: on one page, or on as many as they need to be read.
func Keys(sections []draw.Section) *Drawing {
	return &Drawing{Title: "Keys", About: aboutKeys, Pages: []Page{keysPage(sections)}}
}

func keysPage(sections []draw.Section) Page {
	return cardPage("Keys", "KEYS", aboutKeys, sections, func(p *pen) (columns int, share float64) {
		if p.Paper.W > p.Paper.H {
			return 3, 0.24
		}
		return 2, 0.24
	})
}

// leastSize is the least size of letters, in points, on a card that may go on overleaf.
const leastSize = 8

// cardPage is a card as one page, which goes on overleaf where there is another.
func cardPage(title, head, about string, sections []draw.Section, columns func(p *pen) (columns int, share float64)) Page {
	begin := func(p *pen) *card {
		c := &card{pen: p, area: p.under(p.title(head, about))}
		c.columns, c.share = columns(p)
		return c
	}
	return Page{Title: title, draw: func(p *pen) { begin(p).fit(sections) }, overleaf: func(st Style) (pages []Page) {
		c := begin(&pen{canvas: newCanvas(nowhere{}, st.Paper.H), Style: st})
		if c.fit(sections); c.size >= leastSize {
			return nil
		}
		for c.size = leastSize; len(sections) > 0; title = "" {
			these := sections
			if sections = c.set(these, false); len(sections) == len(these) && len(sections[0].Rows) == len(these[0].Rows) {
				return nil // the paper is too small for a row
			}
			pages = append(pages, Page{Title: title, draw: func(p *pen) {
				c := begin(p)
				c.size = leastSize
				c.set(these, true)
			}})
		}
		return pages
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
	about := "Based on how you work. Nothing happens until you do it."
	return cardPage("Advice", "ADVICE", about, sections, func(*pen) (columns int, share float64) { return 1, 0.4 })
}

// Card is the chords that are most worth learning, on one page.
func Card(chords []survey.ToLearn) *Drawing {
	const about = "Their commands were done most often without them, in these four weeks."
	s := draw.Section{Head: "CHORD"}
	for _, c := range chords {
		does := c.Command
		if v := desk.VerbOf(strings.Fields(c.Command)[0]); c.Command == v.Name {
			does += ": " + strings.ToLower(v.Help[:1]) + v.Help[1:]
		}
		s.Rows = append(s.Rows, draw.Key{Keys: c.Chord, Does: fmt.Sprintf("%s · %d times, %d by chord", strings.TrimSuffix(does, "."), c.Times, c.ByChord)})
	}
	page := cardPage("Chords", "CHORDS TO LEARN", about, []draw.Section{s}, func(*pen) (columns int, share float64) { return 1, 0.3 })
	page.overleaf = nil
	return &Drawing{Title: "Chords to learn", About: about, Pages: []Page{page}}
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
	for c.size = 9; c.size > 4 && len(c.set(sections, false)) > 0; c.size -= 0.25 {
	}
	c.set(sections, true)
}

// set sets the sections, or only tells which have no room: the rest of one with its head.
func (c *card) set(sections []draw.Section, really bool) (rest []draw.Section) {
	c.x, c.y, c.column = c.area.x, c.area.y, 0
	w := c.wideColumn()
	keys := w * c.share
	for n, s := range sections {
		// A head stands with its first two rows.
		if !c.room(c.size*1.35*3 + c.size*0.6 + 2) {
			return sections[n:]
		}
		if c.y > c.area.y {
			c.y += c.size * 0.6
		}
		c.y += c.size * 1.35
		if really {
			c.bold(c.x, c.y, c.size, c.Theme.Brass, s.Head)
			c.stroke(0.4, c.Theme.Slate, c.x, c.y+2, c.x+w, c.y+2)
		}
		c.y += 4
		for i, k := range s.Rows {
			left := c.Fonts.wrap(true, c.size, k.Keys, keys-4)
			right := c.Fonts.wrap(false, c.size, k.Does, w-keys)
			high := c.size * 1.3 * float64(max(len(left), len(right)))
			if !c.room(high) {
				s.Rows = s.Rows[i:]
				return append([]draw.Section{s}, sections[n+1:]...)
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
	return nil
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
