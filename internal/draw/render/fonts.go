package render

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"unicode"

	"codeberg.org/go-fonts/liberation/liberationsansbold"
	"codeberg.org/go-fonts/liberation/liberationsansregular"
	stdfont "golang.org/x/image/font"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
	"golang.org/x/text/unicode/bidi"
	"gonum.org/v1/plot/font"

	"zatlas/internal/file"
)

// typeface is a font of which drawings are set, regular or bold.
type typeface struct {
	name   string // in PDF
	family string // as viewers of SVG know it
	data   []byte
	font   *opentype.Font
	bold   bool
	widths map[rune]float64 // by the em; -1 for a letter that it has not
}

// Fonts are the fonts at hand: of each weight first the one that was asked for.
type Fonts struct {
	mu           sync.Mutex // of the widths
	plain, heavy []*typeface
	buf          sfnt.Buffer
}

// maxFont is the most that is read of a font's file, in bytes.
const maxFont = 64 << 20

// NewFonts are the fonts this program brings along.
func NewFonts() (*Fonts, error) {
	f := &Fonts{}
	for _, t := range []*typeface{
		{name: "sans", family: "Liberation Sans", data: liberationsansregular.TTF},
		{name: "sansbold", family: "Liberation Sans", data: liberationsansbold.TTF, bold: true},
	} {
		if err := f.add(t); err != nil {
			return nil, err
		}
	}
	return f, nil
}

// Own takes the font of a TrueType file before the others.
func (f *Fonts) Own(path string) error {
	data, err := file.Read(path, maxFont)
	if err != nil {
		return fmt.Errorf("the font: %w", err)
	}
	if !slices.Contains([]string{"\x00\x01\x00\x00", "true"}, string(data[:min(4, len(data))])) {
		return fmt.Errorf("the font %s is no TrueType file (.ttf): other kinds cannot be put into a PDF", path)
	}
	for _, t := range []*typeface{{name: "own", data: data}, {name: "ownbold", data: data, bold: true}} {
		if err := f.add(t); err != nil {
			return fmt.Errorf("the font %s cannot be read: %w", path, err)
		}
		if t.family, err = t.font.Name(&f.buf, sfnt.NameIDFamily); err != nil {
			t.family = "own"
		}
	}
	return nil
}

func (f *Fonts) add(t *typeface) (err error) {
	defer func() {
		if recover() != nil { // the reader of fonts trusts them
			err = errors.New("it is damaged")
		}
	}()
	if t.font, err = opentype.Parse(t.data); err != nil {
		return err
	}
	t.widths = map[rune]float64{}
	if _, err = t.font.Metrics(&f.buf, fixed.I(100), stdfont.HintingNone); err != nil {
		return err
	}
	list := &f.plain
	if t.bold {
		list = &f.heavy
	}
	*list = append([]*typeface{t}, *list...)
	return nil
}

func (f *Fonts) list(bold bool) []*typeface {
	if bold {
		return f.heavy
	}
	return f.plain
}

// face is the first font of a weight at a size in points, as plots know it.
func (f *Fonts) face(bold bool, size float64) font.Face {
	t := f.list(bold)[0]
	fnt := font.Font{Typeface: "atlas", Variant: "Sans", Size: font.Length(size)}
	if bold {
		fnt.Weight = stdfont.WeightBold
	}
	return font.Face{Font: fnt, Face: t.font}
}

// cache is the fonts as plots look them up.
func (f *Fonts) cache() *font.Cache {
	return font.NewCache(font.Collection{f.face(false, 0), f.face(true, 0)})
}

// run is a part of a text that one font has.
type run struct {
	face  *typeface
	text  string
	width float64 // by the em
}

// advance is the width of a letter in a font, by the em; negative where it has none.
func (f *Fonts) advance(t *typeface, r rune) float64 {
	if w, known := t.widths[r]; known {
		return w
	}
	w := -1.0
	if i, err := t.font.GlyphIndex(&f.buf, r); err == nil && i != 0 && r <= math.MaxUint16 {
		if a, err := t.font.GlyphAdvance(&f.buf, i, fixed.I(1000), stdfont.HintingNone); err == nil {
			w = float64(a) / 64 / 1000
		}
	}
	t.widths[r] = w
	return w
}

// runs parts a text by the fonts that have its letters. A letter that none has
// stands as its code point, such as U+4E2D.
func (f *Fonts) runs(bold bool, text string) (all []run) {
	f.mu.Lock()
	defer f.mu.Unlock()
	faces := f.list(bold)
	add := func(t *typeface, s string, w float64) {
		if n := len(all); n > 0 && all[n-1].face == t {
			all[n-1].text += s
			all[n-1].width += w
			return
		}
		all = append(all, run{t, s, w})
	}
next:
	for _, r := range visual(text) {
		if unicode.IsControl(r) {
			continue
		}
		for _, t := range faces {
			if w := f.advance(t, r); w >= 0 {
				add(t, string(r), w)
				continue next
			}
		}
		code, last := fmt.Sprintf("U+%04X", r), faces[len(faces)-1]
		if s, ok := standIns[r]; ok {
			code = s
		}
		for _, c := range code {
			add(last, string(c), f.advance(last, c))
		}
	}
	return all
}

// standIns stand for signs of ours that fonts may not have.
var standIns = map[rune]string{'▁': "_"}

// visual is a text in the order in which its letters stand from left to right.
func visual(text string) string {
	if !strings.ContainsFunc(text, func(r rune) bool {
		return unicode.In(r, unicode.Hebrew, unicode.Arabic, unicode.Syriac, unicode.Thaana)
	}) {
		return text
	}
	var p bidi.Paragraph
	if _, err := p.SetString(text); err != nil {
		return text
	}
	order, err := p.Order()
	if err != nil {
		return text
	}
	var b strings.Builder
	n := order.NumRuns()
	for i := range n {
		r := order.Run(i)
		if !p.IsLeftToRight() { // they come in the order in which they are read
			r = order.Run(n - 1 - i)
		}
		if r.Direction() == bidi.RightToLeft {
			b.WriteString(bidi.ReverseString(r.String()))
		} else {
			b.WriteString(r.String())
		}
	}
	return b.String()
}

// width is how wide a text is in points.
func (f *Fonts) width(bold bool, size float64, text string) (w float64) {
	for _, r := range f.runs(bold, text) {
		w += r.width * size
	}
	return w
}

// whole is how wide a text is where the fonts have all its letters.
func (f *Fonts) whole(bold bool, size float64, text string) (w float64, has bool) {
	if text == "" || !f.has(bold, text) {
		return 0, false
	}
	return f.width(bold, size, text), true
}

// has tells whether each letter of a text is in one of the fonts.
func (f *Fonts) has(bold bool, text string) bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, r := range text {
		if !slices.ContainsFunc(f.list(bold), func(t *typeface) bool { return f.advance(t, r) >= 0 }) {
			return false
		}
	}
	return true
}

// cut is a text cut to a width, with an ellipsis where it was.
func (f *Fonts) cut(bold bool, size float64, text string, width float64) string {
	if f.width(bold, size, text) <= width {
		return text
	}
	letters := []rune(text)
	lo, hi := 0, len(letters)
	for lo < hi { // the most letters that fit
		mid := (lo + hi + 1) / 2
		if f.width(bold, size, string(letters[:mid])+"…") <= width {
			lo = mid
		} else {
			hi = mid - 1
		}
	}
	if lo == 0 {
		return ""
	}
	return strings.TrimRight(string(letters[:lo]), " ") + "…"
}

// wrap breaks a text between words into lines of a width.
func (f *Fonts) wrap(bold bool, size float64, text string, width float64) (lines []string) {
	line := ""
	for word := range strings.FieldsSeq(text) {
		if line != "" && f.width(bold, size, line+" "+word) > width {
			lines, line = append(lines, line), ""
		}
		if line != "" {
			line += " "
		}
		line += f.cut(bold, size, word, width)
	}
	return append(lines, line)
}
