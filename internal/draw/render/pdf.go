package render

import (
	"fmt"
	"image/color"
	"io"
	"math"
	"strings"
	"time"
	"unicode"

	"codeberg.org/go-pdf/fpdf"
)

// pdf is pages as PDF.
type pdf struct {
	doc   *fpdf.Fpdf
	fonts *Fonts
	paper Paper
}

// epoch is when every PDF says it was made: the same desk gives the same bytes.
var epoch = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

func newPDF(fonts *Fonts, p Paper, title string) *pdf {
	doc := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: p.W, Ht: p.H}})
	doc.SetCreationDate(epoch)
	doc.SetModificationDate(epoch)
	doc.SetCatalogSort(true)
	doc.SetProducer("Zealous Atlas", true)
	doc.SetTitle(basic(title), true)
	doc.SetLang("en")
	doc.SetAutoPageBreak(false, 0)
	doc.SetMargins(0, 0, 0)
	for _, list := range [][]*typeface{fonts.plain, fonts.heavy} {
		for _, t := range list {
			doc.AddUTF8FontFromBytes(t.name, "", t.data)
		}
	}
	return &pdf{doc, fonts, p}
}

// page begins the next page, with a bookmark where it has a title.
func (p *pdf) page(title string, level int) {
	p.doc.AddPageFormat("P", fpdf.SizeType{Wd: p.paper.W, Ht: p.paper.H})
	if title != "" {
		p.doc.SetFont(p.fonts.plain[len(p.fonts.plain)-1].name, "", 10) // bookmarks are UTF-8 with a font that is
		p.doc.Bookmark(basic(title), level, 0)
	}
}

// basic is a text as the package takes it where it sets no type: UTF-8 without what
// lies beyond the basic plane.
func basic(text string) string {
	var b strings.Builder
	for _, r := range strings.ToValidUTF8(text, "\ufffd") {
		switch {
		case r > math.MaxUint16:
			fmt.Fprintf(&b, "U+%04X", r)
		case !unicode.IsControl(r):
			b.WriteRune(r)
		}
	}
	return b.String()
}

// What belongs together is told by SVG alone.
func (*pdf) begin(string, string) {}

func (*pdf) end() {}

func (p *pdf) path(segments []segment, s state, fill bool) {
	how := "F"
	if fill {
		p.doc.SetFillColor(int(s.colour.R), int(s.colour.G), int(s.colour.B))
	} else {
		how = "D"
		p.doc.SetDrawColor(int(s.colour.R), int(s.colour.G), int(s.colour.B))
		p.doc.SetLineWidth(s.width)
		p.doc.SetDashPattern(s.dash, s.offset)
	}
	for _, q := range segments {
		switch q.kind {
		case 'M':
			p.doc.MoveTo(q.x[0], q.y[0])
		case 'L':
			p.doc.LineTo(q.x[0], q.y[0])
		case 'C':
			p.doc.CurveBezierCubicTo(q.x[0], q.y[0], q.x[1], q.y[1], q.x[2], q.y[2])
		case 'Z':
			p.doc.ClosePath()
		}
	}
	p.doc.DrawPath(how)
}

func (p *pdf) text(x, y, angle, size float64, bold bool, text string, c color.NRGBA) {
	p.doc.SetTextColor(int(c.R), int(c.G), int(c.B))
	if angle != 0 {
		p.doc.TransformBegin()
		p.doc.TransformRotate(angle, x, y)
		defer p.doc.TransformEnd()
	}
	for _, r := range p.fonts.runs(bold, text) {
		p.doc.SetFont(r.face.name, "", size)
		p.doc.Text(x, y, r.text)
		x += r.width * size
	}
}

func (p *pdf) writeTo(w io.Writer) (err error) {
	defer func() {
		if cause := recover(); cause != nil { // the package trusts the fonts it is given
			err = fmt.Errorf("the PDF cannot be made, most likely by the font: %v", cause)
		}
	}()
	return p.doc.Output(w)
}
