package paint

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/image/font"

	"zatlas/internal/desk"
	"zatlas/internal/status"
)

// Part is a part of a line, and what a click on it means.
type Part struct {
	From, To int // its columns, in pixels of the line's window
	What     PartKind
	Space    int    // the number of a workspace
	Click    string // of a row of the user's
}

// PartKind is what a part of a line shows.
type PartKind uint8

// The kinds of parts.
const (
	NoPart PartKind = iota
	SpacePart
	TitlePart
	LostPart
	NewsPart
	RowPart
)

// linePicture draws a line: in its middle the scale of the workspaces, which are equal
// divisions of it; before that what you are in, after it what else there is.
type linePicture struct {
	img   *image.RGBA
	faces faces
	look  LineLook
	says  status.Line
	parts []Part
	unit  int // half the size of the letters
}

// The least a wing at the side of the scale has of a line, and for how many letters a
// division has room where there is any.
const (
	wingShare   = 0.15
	wideLetters = 22
)

// drawLine draws what a line says, and gives its parts.
func drawLine(img *image.RGBA, f faces, look LineLook, says status.Line) []Part {
	p := &linePicture{img: img, faces: f, look: look, says: says, unit: max(look.Size/2, 3)}
	if f.words == nil || f.strong == nil {
		return nil
	}
	from, to := p.scaleSpan()
	p.scale(from, to)
	pad := 2 * p.unit
	p.here(pad, from-pad)
	p.rest(to+pad, look.Rect.W-pad)
	return p.parts
}

// scaleSpan is where the scale is: in the middle, so that it stays whatever is beside it.
func (p *linePicture) scaleSpan() (from, to int) {
	w, n := p.look.Rect.W, max(len(p.says.Workspaces), 1)
	want := min(n*wideLetters*p.unit*2*2/3, w*55/100)
	need := 0
	for _, s := range p.says.Workspaces {
		need = max(need, width(p.faces.strong, s.Label())+8*p.unit)
	}
	want = max(want, min(n*need, w-2*int(float64(w)*wingShare)))
	want = max(want, min(n*(width(p.faces.strong, fmt.Sprint(n))+p.unit/2), w)) // the numbers at least
	want = want / n * n
	return (w - want) / 2, (w-want)/2 + want
}

// y0 is a row of the line, counted from its inner edge, for a bar so many rows high.
func (p *linePicture) y0(row, high int) int {
	if p.look.Bottom {
		return row
	}
	return p.look.Rect.H - row - high
}

func (p *linePicture) fill(x, row, w, h int, c color.Color) {
	y := p.y0(row, h)
	draw.Draw(p.img, image.Rect(x, y, x+w, y+h), image.NewUniform(c), image.Point{}, draw.Src)
}

// write writes a text, cut to some pixels, and gives what it takes.
func (p *linePicture) write(face font.Face, c color.Color, x, most int, text string) int {
	if most < p.unit || text == "" {
		return 0
	}
	if text = readable(face, text, most); text == "" {
		return 0
	}
	base := p.look.Rect.H - p.look.Size/2 - 1
	if !p.look.Bottom {
		base = p.look.Size + p.look.Size/4
	}
	write(p.img, face, c, x, base, text)
	return width(face, text)
}

// readable is a text cut to some pixels; empty where next to nothing would be left of it.
func readable(face font.Face, text string, most int) string {
	cut := fitted(face, text, most)
	if cut != text && utf8.RuneCountInString(cut) < 4 && utf8.RuneCountInString(text) > 3 {
		return ""
	}
	return cut
}

func width(face font.Face, text string) int { return font.MeasureString(face, text).Ceil() }

// scale draws the scale: a long tick where a workspace begins, and up to four short ones for
// its windows. The workspace that is shown has a full bar, one that another monitor shows a
// hollow one.
func (p *linePicture) scale(from, to int) {
	t, spaces := p.look.Theme, p.says.Workspaces
	u, n := p.unit, len(spaces)
	p.fill(0, 0, p.look.Rect.W, 1, t.Slate)
	if n == 0 {
		return
	}
	band := u
	p.fill(from, band-1, to-from, 1, t.Slate)
	each := (to - from) / n
	for i, s := range spaces {
		x := from + i*each
		ink, face := t.Slate, p.faces.words
		if s.Windows > 0 {
			ink = t.Paper
		}
		switch {
		case s.Current:
			ink, face = t.Brass, p.faces.strong
			p.fill(x, 0, each, band, t.Brass)
		case s.Shown:
			p.fill(x, 0, each, band, t.Green)
			p.fill(x+2, 2, each-3, max(band-4, 1), t.Ink)
		}
		p.fill(x, 0, max(u/4, 1), band+u/2, t.Slate)
		if s.Windows <= 4 {
			for k := range s.Windows {
				row, c := band, color.Color(ink)
				if s.Current { // notches in its bar
					row, c = band/2, t.Ink
				}
				p.fill(x+u/2+(k+1)*u, row, max(u/3, 1), u/2+1, c)
			}
		}
		indent := min(u, max(each-width(face, fmt.Sprint(s.Number)), 0)/2)
		p.space(s, x+indent, each-indent, face, ink)
		p.parts = append(p.parts, Part{From: x, To: x + each, What: SpacePart, Space: s.Number})
	}
	p.fill(to, 0, max(u/4, 1), band+u/2, t.Slate)
}

// space writes a workspace into its division: the number always, as much of the name as there
// is room for, and what is to be known of it.
func (p *linePicture) space(s status.Space, x, room int, face font.Face, ink color.Color) {
	t, gap := p.look.Theme, p.unit
	type mark struct {
		long, short string
		ink         color.Color
	}
	var marks []mark
	if s.Lost > 0 {
		marks = append(marks, mark{fmt.Sprintf("! %d lost", s.Lost), fmt.Sprintf("!%d", s.Lost), t.Coral})
	}
	if s.Urgent > 0 {
		marks = append(marks, mark{"^ urgent", "^", t.Brass})
	}
	if s.On != "" {
		marks = append(marks, mark{"on " + s.On, s.On, t.Green})
	}
	if s.Windows > 4 { // fewer have ticks
		marks = append(marks, mark{desk.Counted(s.Windows, "window"), fmt.Sprint(s.Windows), ink})
	}
	number := fmt.Sprint(s.Number)
	left := room - width(face, number) - gap
	taken := func(long bool) (sum int) {
		for _, m := range marks {
			sum += gap + width(p.faces.words, map[bool]string{true: m.long, false: m.short}[long])
		}
		return sum
	}
	long := taken(true)+width(face, s.Name) <= left
	for !long && len(marks) > 0 && taken(false) > left {
		marks = marks[:len(marks)-1]
	}
	x += p.write(face, ink, x, room, number)
	if name := left - taken(long); s.Name != "" && name > 2*p.unit {
		x += gap/2 + p.write(face, ink, x+gap/2, name, s.Name)
	}
	for _, m := range marks {
		text := m.short
		if long {
			text = m.long
		}
		x += gap + p.write(p.faces.words, m.ink, x+gap, room, text)
	}
}

// here writes the part before the scale. It is the news while there is any, else the sheet's
// layout, what is special there, and the window with the focus.
func (p *linePicture) here(from, to int) {
	t, l, gap := p.look.Theme, p.says, 3*p.unit/2
	x := from
	put := func(face font.Face, ink color.Color, text string) {
		if w := p.write(face, ink, x, to-x, text); w > 0 {
			x += w + gap
		}
	}
	for _, r := range l.Rows {
		if r.Left {
			x = p.row(r, x, to, false)
		}
	}
	begin := x
	if l.Keys != "" {
		put(p.faces.strong, t.Brass, l.Keys)
	}
	if l.News != "" {
		put(p.faces.words, t.Paper, l.News)
		p.parts = append(p.parts, Part{From: begin, To: max(x, begin), What: NewsPart})
		return
	}
	quiet := append(slices.DeleteFunc([]string{l.Layout}, func(s string) bool { return s == "" }), l.Special...)
	if words := strings.Join(quiet, " · "); l.App == "" || width(p.faces.words, words)+width(p.faces.strong, desk.Cut(l.App, 12))+gap <= to-x {
		put(p.faces.words, t.Slate, words)
	}
	begin = x
	put(p.faces.strong, t.Paper, l.App)
	if l.Title != l.App {
		room := to
		if l.Place != "" {
			to -= width(p.faces.words, l.Place) + gap
		}
		put(p.faces.words, t.Paper, l.Title)
		to = room
	}
	put(p.faces.words, t.Slate, l.Place)
	p.parts = append(p.parts, Part{From: begin, To: x, What: TitlePart})
}

// rest writes what else there is, at the end of the line, the time last.
func (p *linePicture) rest(from, to int) {
	t, l, gap := p.look.Theme, p.says, 2*p.unit
	x := to
	begin, lost := from, ""
	if l.Lost > 0 {
		lost = fmt.Sprintf("! %d lost", l.Lost)
		from += width(p.faces.strong, lost) + gap // it has its room first
	}
	put := func(face font.Face, ink color.Color, text string) (at Part) {
		w := width(face, text)
		if text == "" || w > x-from {
			return at
		}
		p.write(face, ink, x-w, w, text)
		at = Part{From: x - w, To: x}
		x -= w + gap
		return at
	}
	put(p.faces.strong, t.Paper, l.Clock)
	put(p.faces.words, t.Slate, l.Date)
	put(p.faces.words, t.Slate, l.Keyboard)
	for _, r := range slices.Backward(l.Rows) {
		if !r.Left {
			x = p.row(r, x, from, true)
		}
	}
	if l.Taken > 0 {
		put(p.faces.words, t.Coral, desk.Counted(l.Taken, "chord")+" taken")
	}
	if lost != "" {
		from = begin
		at := put(p.faces.strong, t.Coral, lost)
		at.What = LostPart
		p.parts = append(p.parts, at)
	}
}

// row writes a row of the user's from x towards an end, and gives where the next thing goes.
func (p *linePicture) row(r status.Said, x, end int, back bool) int {
	face, ink := p.faces.words, p.look.Theme.Paper
	if r.Fault {
		ink = p.look.Theme.Coral
	}
	w := width(face, r.Text)
	if r.Width > 0 {
		w = r.Width * width(face, "0")
	}
	room := end - x
	if back {
		room = -room
	}
	if w = min(w, room); w < p.unit {
		return x
	}
	gap := 2 * p.unit
	at := Part{From: x, To: x + w, What: RowPart, Click: r.Click}
	next := x + w + gap
	if back {
		at.From, at.To, next = x-w, x, x-w-gap
	}
	p.write(face, ink, at.From, w, r.Text)
	p.parts = append(p.parts, at)
	return next
}
