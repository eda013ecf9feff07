package render

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/survey"
)

// Book is everything: the atlas, a page for each workspace with its sheets and its
// windows, an index of all windows, the keys, and the survey with its advice; nil for none.
func Book(s Subject, r *survey.Report, paper Paper) *Drawing {
	d := s.Desk
	b := &Drawing{Title: "The book of " + s.Name, About: deskFacts(d)}
	a := draw.NewAtlas(d)
	for from := 0; from < len(a.Rows); from += rowsOfPage {
		part := *a
		part.Rows = a.Rows[from:min(from+rowsOfPage, len(a.Rows))]
		page := atlasPage(&part, b.Title, b.About)
		page.Title = map[bool]string{true: "Atlas"}[from == 0]
		b.Pages = append(b.Pages, page)
	}
	for i := range a.Rows {
		b.Pages = append(b.Pages, workspacePages(d, &a.Rows[i], i, paper)...)
	}
	b.Pages = append(b.Pages, indexPages(d, paper)...)
	b.Pages = append(b.Pages, keysPage(s.Keys))
	if r != nil {
		b.Pages = append(b.Pages, surveyPage(r), advicePage(survey.Advise(r.Data, s.Keyboard, d).Items(d)))
	}
	return b
}

// table is rows of text under heads.
type table struct {
	heads  []string
	shares []float64 // of the width, together 1
	rows   [][]string
}

const rowHigh = 11

// fits is how many rows have room in a height.
func (table) fits(high float64) int { return max(int(high/rowHigh)-1, 1) }

// table draws a table into an area.
func (p *pen) table(t table, area box) {
	y := area.y + 8
	cell := func(row []string, write func(x, y, size float64, text string)) {
		x := area.x
		for i, text := range row {
			w := area.w * t.shares[i]
			write(x, y, 7.5, p.Fonts.cut(true, 7.5, text, w-6))
			x += w
		}
		y += rowHigh
	}
	cell(t.heads, func(x, y, size float64, text string) { p.bold(x, y, size, p.Theme.Slate, text) })
	p.stroke(0.4, p.Theme.Slate, area.x, y-7, area.x+area.w, y-7)
	for _, row := range t.rows {
		cell(row, func(x, y, size float64, text string) { p.write(x, y, size, p.Theme.Paper, text) })
	}
}

// states are what is said of a window in a table.
func states(d *desk.Desk, w *desk.Window) string {
	words := d.States(w)
	if d.Lost(w).Cause > 0 {
		words = append(slices.Clip(words), "lost: "+draw.Why(d, w))
	}
	return strings.Join(words, ", ")
}

// workspacePages are the sheets of a workspace and the list of its windows, which goes
// on on further pages where it is long.
func workspacePages(d *desk.Desk, row *draw.Row, index int, paper Paper) (pages []Page) {
	t := table{heads: []string{"Window", "Sheet", "App", "Title", "Size", "States"}, shares: []float64{0.09, 0.07, 0.2, 0.32, 0.12, 0.2}}
	for _, w := range d.Windows {
		if d.Index(w.Workspace) == index {
			t.rows = append(t.rows, []string{fmt.Sprintf("#%d", w.ID), d.Ref(w), cmp.Or(w.App, "—"), w.Title, fmt.Sprintf("%d×%d", w.Rect.W, w.Rect.H), states(d, w)})
		}
	}
	// The sheets have at most the upper three fifths of the page.
	top := margin + 40.0
	room := paper.H - top - margin
	sheets, high := sheetsOf(row, paper.W-2*margin, room*0.6)
	n := min(t.fits(room-high), len(t.rows))
	first := t
	first.rows = t.rows[:n]
	pages = append(pages, Page{Title: row.Title, draw: func(p *pen) {
		y := p.title(row.Title, row.Facts)
		for i := range sheets {
			s := &sheets[i]
			p.sheetAt(s.Sheet, box{margin + s.x, y + s.y + captionHigh, s.w, s.h})
		}
		if len(t.rows) > 0 {
			p.table(first, box{margin, y + high, paper.W - 2*margin, 0})
		}
	}})
	return append(pages, more(t, n, row.Title, room, paper)...)
}

// more are the pages of what is left of a table from a row on.
func more(t table, from int, head string, room float64, paper Paper) (pages []Page) {
	for n := t.fits(room); from < len(t.rows); from += n {
		part := t
		part.rows = t.rows[from:min(from+n, len(t.rows))]
		pages = append(pages, Page{draw: func(p *pen) {
			p.table(part, box{margin, p.title(head, "continued"), paper.W - 2*margin, 0})
		}})
	}
	return pages
}

// placed is a sheet with its place.
type placed struct {
	*draw.Sheet
	box
}

// sheetsOf places the sheets of a workspace at one scale, side by side, or one under the other
// where that makes them larger. It returns the height they take.
func sheetsOf(row *draw.Row, w, h float64) (all []placed, high float64) {
	var sheets []*draw.Sheet
	wide, tall, widest, sum := 0.0, 0.0, 0.0, 0.0
	for i := range row.Sheets {
		if s := &row.Sheets[i]; s.Ref != "" || len(s.Boxes) > 0 {
			sheets = append(sheets, s)
			wide += float64(s.Rect.W)
			tall = max(tall, float64(s.Rect.H))
			widest = max(widest, float64(s.Rect.W))
			sum += float64(s.Rect.H)
		}
	}
	n := float64(len(sheets))
	beside := min((w-10*(n-1))/wide, (h-captionHigh)/tall)
	below := min(w/widest, (h-captionHigh*n-8*(n-1))/sum)
	x, y := 0.0, 0.0
	for _, s := range sheets {
		scale := max(beside, below)
		at := placed{s, box{x, y, float64(s.Rect.W) * scale, float64(s.Rect.H) * scale}}
		all = append(all, at)
		if beside >= below {
			x += at.w + 10
			high = max(high, at.h+captionHigh+14)
		} else {
			y += at.h + captionHigh + 8
			high = y + 8
		}
	}
	return all, high
}

// indexPages list every window by its app and title, with its reference.
func indexPages(d *desk.Desk, paper Paper) []Page {
	t := table{heads: []string{"App", "Title", "Window", "Sheet", "Workspace"}, shares: []float64{0.24, 0.42, 0.09, 0.08, 0.17}}
	ws := slices.Clone(d.Windows)
	slices.SortStableFunc(ws, func(a, b *desk.Window) int {
		return cmp.Or(strings.Compare(strings.ToLower(a.App), strings.ToLower(b.App)), strings.Compare(strings.ToLower(a.Title), strings.ToLower(b.Title)))
	})
	for _, w := range ws {
		t.rows = append(t.rows, []string{cmp.Or(w.App, "—"), w.Title, fmt.Sprintf("#%d", w.ID), d.Ref(w), d.Title(d.Index(w.Workspace))})
	}
	room := paper.H - margin - 40 - margin
	pages := more(t, 0, "INDEX", room, paper)
	if len(pages) == 0 {
		pages = []Page{{draw: func(p *pen) { p.title("INDEX", "No window is open.") }}}
	}
	pages[0].Title = "Index"
	return pages
}
