package render

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"image/color"
	"io"
	"strconv"
	"strings"
)

// svg is a page as SVG 1.1, written by encoding/xml.
type svg struct {
	out   bytes.Buffer
	x     *xml.Encoder
	fonts *Fonts
	depth int
}

// newSVG begins a page. Size is as the root element has it.
func newSVG(fonts *Fonts, p Paper, title, about string) *svg {
	s := &svg{fonts: fonts}
	s.x = xml.NewEncoder(&s.out)
	families := []string{}
	for _, t := range fonts.plain {
		families = append(families, "'"+strings.ReplaceAll(t.family, "'", "")+"'")
	}
	s.start("svg", "xmlns", "http://www.w3.org/2000/svg", "width", p.svgWidth(), "height", p.svgHeight(),
		"viewBox", "0 0 "+num(p.W)+" "+num(p.H), "role", "img", "font-family", strings.Join(families, ", ")+", Arial, sans-serif")
	s.title(title, about)
	return s
}

func (s *svg) start(name string, attrs ...string) {
	e := xml.StartElement{Name: xml.Name{Local: name}}
	for i := 0; i < len(attrs); i += 2 {
		e.Attr = append(e.Attr, xml.Attr{Name: xml.Name{Local: attrs[i]}, Value: attrs[i+1]})
	}
	s.x.EncodeToken(e) // an error stays until Flush
	s.depth++
}

func (s *svg) close(name string) {
	s.x.EncodeToken(xml.EndElement{Name: xml.Name{Local: name}})
	s.depth--
	if s.depth < 3 { // so that the file has lines
		s.x.EncodeToken(xml.CharData("\n"))
	}
}

func (s *svg) element(name, text string, attrs ...string) {
	s.start(name, attrs...)
	if text != "" {
		s.x.EncodeToken(xml.CharData(text))
	}
	s.close(name)
}

func (s *svg) title(title, about string) {
	s.element("title", title)
	if about != "" {
		s.element("desc", about)
	}
}

func (s *svg) begin(title, about string) {
	s.start("g")
	s.title(title, about)
}

func (s *svg) end() { s.close("g") }

// num is a number with at most two places.
func num(v float64) string {
	text := strconv.FormatFloat(v, 'f', 2, 64)
	return strings.TrimPrefix(strings.TrimRight(strings.TrimRight(text, "0"), "."), "-0.00")
}

func hex(c color.NRGBA) string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

// how are the attributes of a shape.
func how(s state, fill bool) []string {
	if fill {
		attrs := []string{"fill", hex(s.colour)}
		if s.colour.A < 255 {
			attrs = append(attrs, "fill-opacity", num(float64(s.colour.A)/255))
		}
		return attrs
	}
	attrs := []string{"fill", "none", "stroke", hex(s.colour), "stroke-width", num(s.width)}
	if len(s.dash) > 0 {
		var parts []string
		for _, d := range s.dash {
			parts = append(parts, num(d))
		}
		attrs = append(attrs, "stroke-dasharray", strings.Join(parts, " "))
	}
	return attrs
}

func (s *svg) path(segments []segment, st state, fill bool) {
	if x, y, w, h, ok := rectangle(segments); ok {
		s.element("rect", "", append([]string{"x", num(x), "y", num(y), "width", num(w), "height", num(h)}, how(st, fill)...)...)
		return
	}
	var d strings.Builder
	for _, p := range segments {
		d.WriteByte(p.kind)
		n := map[byte]int{'M': 1, 'L': 1, 'C': 3}[p.kind]
		for i := range n {
			d.WriteString(num(p.x[i]) + " " + num(p.y[i]))
			if i < n-1 {
				d.WriteByte(' ')
			}
		}
	}
	s.element("path", "", append([]string{"d", d.String()}, how(st, fill)...)...)
}

// rectangle tells whether a path is one with level edges.
func rectangle(p []segment) (x, y, w, h float64, ok bool) {
	if len(p) != 5 || p[0].kind != 'M' || p[4].kind != 'Z' || p[1].kind != 'L' || p[2].kind != 'L' || p[3].kind != 'L' {
		return 0, 0, 0, 0, false
	}
	ax, ay, bx, by := p[0].x[0], p[0].y[0], p[2].x[0], p[2].y[0]
	level := p[1].x[0] == ax && p[1].y[0] == by && p[3].x[0] == bx && p[3].y[0] == ay ||
		p[1].x[0] == bx && p[1].y[0] == ay && p[3].x[0] == ax && p[3].y[0] == by
	return min(ax, bx), min(ay, by), max(ax-bx, bx-ax), max(ay-by, by-ay), level
}

func (s *svg) text(x, y, angle, size float64, bold bool, text string, c color.NRGBA) {
	attrs := []string{"x", num(x), "y", num(y), "font-size", num(size), "fill", hex(c)}
	if bold {
		attrs = append(attrs, "font-weight", "bold")
	}
	if w, whole := s.fonts.whole(bold, size, text); whole { // as wide as measured, whatever the viewer's font
		attrs = append(attrs, "textLength", num(w))
	}
	if angle != 0 {
		attrs = append(attrs, "transform", fmt.Sprintf("rotate(%s %s %s)", num(-angle), num(x), num(y)))
	}
	s.element("text", text, attrs...)
}

// writeTo ends the page and writes it.
func (s *svg) writeTo(w io.Writer) error {
	s.close("svg")
	if err := s.x.Close(); err != nil {
		return err
	}
	_, err := io.WriteString(w, xml.Header+s.out.String())
	return err
}
