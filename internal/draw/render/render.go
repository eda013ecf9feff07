// Package render makes SVG and PDF of what the package draw describes, of the keys and
// of the figures of a survey. Both formats stand behind one canvas, on which plots are
// drawn too; text stays text in both, and the same desk gives the same bytes.
package render

import (
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"strconv"
	"strings"

	"zatlas/internal/draw"
)

// Paper is the size of a page in points; Pixels tells that it was given in pixels,
// which an SVG then says, one for a point.
type Paper struct {
	W, H   float64
	Pixels bool
}

// papers are the sizes that have names, upright.
var papers = map[string]Paper{"a4": {W: 595.28, H: 841.89}, "letter": {W: 612, H: 792}}

// PaperNamed is the paper of a name: a4 or letter.
func PaperNamed(name string) (Paper, error) {
	p, ok := papers[strings.ToLower(name)]
	if !ok {
		return p, fmt.Errorf("there is no paper %q: a4 and letter are", name)
	}
	return p, nil
}

// PaperSized is a paper of a size in pixels, such as 1280x800.
func PaperSized(size string) (Paper, error) {
	w, h, ok := strings.Cut(size, "x")
	wide, err1 := strconv.Atoi(w)
	high, err2 := strconv.Atoi(h)
	if !ok || err1 != nil || err2 != nil || min(wide, high) < 200 || max(wide, high) > 10000 {
		return Paper{}, fmt.Errorf("the size %q is no width and height of 200 to 10000 pixels such as 1280x800", size)
	}
	return Paper{float64(wide), float64(high), true}, nil
}

// Turned is the paper lying on its side.
func (p Paper) Turned() Paper { return Paper{p.H, p.W, p.Pixels} }

func (p Paper) svgWidth() string  { return p.length(p.W) }
func (p Paper) svgHeight() string { return p.length(p.H) }

func (p Paper) length(v float64) string {
	if p.Pixels {
		return num(v)
	}
	return num(v) + "pt"
}

// Style is how is drawn.
type Style struct {
	Fonts *Fonts
	Theme draw.Theme
	Paper Paper
}

// Drawing is pages; as SVG there is one.
type Drawing struct {
	Title, About string
	Pages        []Page
}

// Page is one of a drawing.
type Page struct {
	Title string // its bookmark; empty for none
	Level int    // of the bookmark, from 0
	draw  func(p *pen)
	// overleaf gives several pages instead, if one would be too small to read; it may be nil.
	overleaf func(st Style) []Page
}

// ErrPages is the error of a drawing of several pages as SVG.
var ErrPages = errors.New("it has several pages, and SVG has one: name a file that ends with .pdf")

// FormatOf is the format of a file by its ending; SVG where there is no file.
func FormatOf(path string) (string, error) {
	switch ending := strings.ToLower(filepath.Ext(path)); {
	case path == "":
		return ".svg", nil
	case ending == ".svg", ending == ".pdf":
		return ending, nil
	}
	return "", fmt.Errorf("%s: a drawing's file ends with .svg or .pdf", path)
}

// Write writes a drawing in a format.
func (d *Drawing) Write(w io.Writer, format string, st Style) error {
	if format == ".pdf" {
		d = d.turned(st)
		out := newPDF(st.Fonts, st.Paper, d.Title)
		for i, page := range d.Pages {
			out.page(page.Title, page.Level)
			d.page(out, st, i)
		}
		return out.writeTo(w)
	}
	if len(d.Pages) != 1 {
		return ErrPages
	}
	out := newSVG(st.Fonts, st.Paper, d.Title, d.About)
	d.page(out, st, 0)
	return out.writeTo(w)
}

// turned is a drawing with the pages that go on overleaf.
func (d *Drawing) turned(st Style) *Drawing {
	all := &Drawing{Title: d.Title, About: d.About}
	for _, p := range d.Pages {
		pages := []Page{p}
		if p.overleaf != nil {
			if more := p.overleaf(st); len(more) > 0 {
				pages = more
				pages[0].Level = p.Level
			}
		}
		all.Pages = append(all.Pages, pages...)
	}
	return all
}

func (d *Drawing) page(out format, st Style, i int) {
	p := &pen{canvas: newCanvas(out, st.Paper.H), Style: st}
	// The day is drawn on the paper itself, and a file on the screen has none.
	if _, onScreen := out.(*svg); onScreen || st.Theme.Name != draw.Day.Name {
		p.fill(0, 0, st.Paper.W, st.Paper.H, st.Theme.Ink)
	}
	d.Pages[i].draw(p)
	if n := len(d.Pages); n > 1 {
		words := fmt.Sprintf("%d of %d", i+1, n)
		p.write(st.Paper.W/2-p.wide(7, words)/2, st.Paper.H-margin/2, 7, st.Theme.Slate, words)
	}
}
