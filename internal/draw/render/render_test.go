package render

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"image"
	"image/color"
	"io"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"codeberg.org/go-fonts/liberation/liberationserifregular"
	"gonum.org/v1/plot/vg"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/survey"
	"zatlas/internal/testkit/desks"
)

func style(t testing.TB) Style {
	t.Helper()
	fonts, err := NewFonts()
	if err != nil {
		t.Fatal(err)
	}
	return Style{fonts, draw.Day, papers["a4"]}
}

func write(t testing.TB, d *Drawing, format string, st Style) string {
	t.Helper()
	var b bytes.Buffer
	if err := d.Write(&b, format, st); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// subject is the demo desk with its keys and its survey.
func subject(t testing.TB) Subject {
	now := time.Date(2026, 11, 27, 17, 0, 0, 0, time.UTC)
	return Subject{Desk: desks.Demo(t), Name: "the demo desk", Keys: []draw.Section{{Head: "VERBS", Rows: []draw.Key{{Keys: "s", Does: "send"}, {Does: "■ shows"}}}},
		Report: func() (*survey.Report, error) {
			return survey.NewReport(survey.Demo(now), survey.Weeks, now, 0), nil
		}}
}

// element is one of an SVG, with what is in it.
type element struct {
	name   string
	attrs  map[string]string
	text   string
	inside []*element
}

func (e *element) num(t testing.TB, name string) float64 {
	t.Helper()
	v, err := strconv.ParseFloat(e.attrs[name], 64)
	if err != nil {
		t.Fatalf("%s of %s is %q", name, e.name, e.attrs[name])
	}
	return v
}

// each calls f with an element and all in it.
func (e *element) each(f func(*element)) {
	f(e)
	for _, in := range e.inside {
		in.each(f)
	}
}

// child is the first of a name in an element; nil for none.
func (e *element) child(name string) *element {
	for _, in := range e.inside {
		if in.name == name {
			return in
		}
	}
	return nil
}

// parse reads an SVG, which must be well formed.
func parse(t testing.TB, text string) *element {
	t.Helper()
	dec := xml.NewDecoder(strings.NewReader(text))
	stack := []*element{{}}
	for {
		token, err := dec.Token()
		if err == io.EOF && len(stack) == 1 && len(stack[0].inside) == 1 {
			return stack[0].inside[0]
		}
		if err != nil {
			t.Fatalf("it is not well formed: %v", err)
		}
		top := stack[len(stack)-1]
		switch k := token.(type) {
		case xml.StartElement:
			e := &element{name: k.Name.Local, attrs: map[string]string{}}
			for _, a := range k.Attr {
				e.attrs[a.Name.Local] = a.Value
			}
			top.inside, stack = append(top.inside, e), append(stack, e)
		case xml.EndElement:
			stack = stack[:len(stack)-1]
		case xml.CharData:
			top.text += string(k)
		}
	}
}

// Every window has its title, and its rectangle at its place to the tenth of a point,
// at one scale for all.
func TestAtlasIsTrue(t *testing.T) {
	d, st := desks.Demo(t), style(t)
	svg := parse(t, write(t, Atlas(d, "demo"), ".svg", st))
	if svg.attrs["viewBox"] != "0 0 595.28 841.89" || svg.child("title").text != "Atlas of demo" || svg.child("desc").text == "" {
		t.Errorf("it begins as %v %v", svg.attrs, svg.child("title"))
	}
	at := map[int]*element{} // windows by id
	sheets := map[string]*element{}
	svg.each(func(e *element) {
		var id int
		if desc := e.child("desc"); e.name == "g" && desc != nil {
			if _, err := fmt.Sscanf(desc.text, "#%d on", &id); err == nil {
				at[id] = e
			}
			sheets[strings.Fields(e.child("title").text)[0]] = e
		}
	})
	if len(at) != len(d.Windows) {
		t.Fatalf("%d of %d windows are drawn", len(at), len(d.Windows))
	}
	scale := sheets["B1"].child("rect").num(t, "width") / 3440
	for _, w := range d.Windows {
		e := at[w.ID]
		if want := w.App + " · " + w.Title; e.child("title").text != want {
			t.Errorf("#%d is called %q, want %q", w.ID, e.child("title").text, want)
		}
		if d.Lost(w).Cause != 0 {
			continue // has a sheet without a name
		}
		m, sheet, r := d.Monitor(w.Monitor).Rect, sheets[d.Ref(w)].child("rect"), e.child("rect")
		for _, c := range []struct {
			what      string
			got, want float64
		}{
			{"x", r.num(t, "x"), sheet.num(t, "x") + float64(w.Rect.X-m.X)*scale}, {"y", r.num(t, "y"), sheet.num(t, "y") + float64(w.Rect.Y-m.Y)*scale},
			{"width", r.num(t, "width"), float64(w.Rect.W) * scale}, {"height", r.num(t, "height"), float64(w.Rect.H) * scale},
		} {
			if math.Abs(c.got-c.want) > 0.05 {
				t.Errorf("%s of #%d is %.2f, want %.2f", c.what, w.ID, c.got, c.want)
			}
		}
	}
}

// The same desk gives the same bytes; the texts of all drawings can be found in both
// formats, and none leaves its page.
func TestDrawings(t *testing.T) {
	s, st := subject(t), style(t)
	for what, wants := range map[string][]string{
		"atlas": {"Atlas of the demo desk", "Reel Ledger", "Grand hall, Saturday", "B · Desk screen 3440×1440", "! "}, "sheet": {"Sheet B3", "Hall Plan"},
		"strays": {"Strays", "Guest Rota · Who sits where", "it lies where C was", "rescue puts it on B at 2540,300"}, "keys": {"KEYS", "VERBS", "■ shows"},
		"survey": {"HOURS BY WORKSPACE", "hours", "1 Programme", "SWITCHES", "Late night", "chord"},
	} {
		for _, look := range []struct {
			theme draw.Theme
			paper Paper
		}{{draw.Day, papers["a4"]}, {draw.Night, papers["letter"].Turned()}, {draw.Day, Paper{1280, 800, true}}} {
			st.Theme, st.Paper = look.theme, look.paper
			d, err := s.Drawing(Request{What: what, Letter: 'B', Index: 2}, st.Paper)
			if err != nil {
				t.Fatal(err)
			}
			drawn := write(t, d, ".svg", st)
			text := ""
			parse(t, drawn).each(func(e *element) {
				text += e.text + "\n"
				if e.name == "text" && (e.num(t, "x") < 0 || e.num(t, "y") < 0 || e.num(t, "x") > st.Paper.W || e.num(t, "y") > st.Paper.H) {
					t.Errorf("%s: %q stands at %s, %s of %v", what, e.text, e.attrs["x"], e.attrs["y"], st.Paper)
				}
			})
			pdf := write(t, d, ".pdf", st)
			if again := write(t, d, ".svg", style2(t, st)); again != drawn || write(t, d, ".pdf", style2(t, st)) != pdf {
				t.Errorf("%s differs when it is drawn again", what)
			}
			read := textOf(t, pdf)
			for _, want := range wants {
				if !strings.Contains(text, want) || !strings.Contains(read, want) {
					t.Errorf("%q is in the SVG of %s: %v, and its PDF: %v", want, what, strings.Contains(text, want), strings.Contains(read, want))
				}
			}
		}
	}
}

// style2 is the same style with fonts read anew.
func style2(t *testing.T, st Style) Style {
	st.Fonts = style(t).Fonts
	return st
}

// textOf is the text of a PDF as a reader finds it.
func textOf(t testing.TB, pdf string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "x.pdf")
	if err := os.WriteFile(path, []byte(pdf), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command("pdftotext", path, "-").CombinedOutput()
	if err != nil {
		t.Fatalf("pdftotext: %v\n%s", err, out)
	}
	return string(out)
}

func TestBook(t *testing.T) {
	s, st := subject(t), style(t)
	d, err := s.Drawing(Request{What: "book"}, st.Paper)
	if err != nil {
		t.Fatal(err)
	}
	var marks []string
	for _, p := range d.Pages {
		marks = append(marks, p.Title)
	}
	if got := strings.Join(marks, ", "); got != "Atlas, 1 Programme, 2 Subtitles, 3 Box office, 4 Guests, 5 Press, 6 Late night, Index, Keys, Survey, Advice" {
		t.Errorf("the bookmarks are %s", got)
	}
	text := textOf(t, write(t, d, ".pdf", st))
	for _, w := range s.Desk.Windows {
		if n := strings.Count(text, fmt.Sprintf("#%d\n", w.ID)); n < 2 {
			t.Errorf("#%d is listed %d times", w.ID, n)
		}
	}
	if !strings.Contains(text, "11 of 11") {
		t.Error("the pages have no numbers")
	}
	if !strings.Contains(text, "Keys that could be saved") || !strings.Contains(text, "under [chords]") {
		t.Error("no advice on keys is in it")
	}
	if err := d.Write(io.Discard, ".svg", st); !errors.Is(err, ErrPages) {
		t.Errorf("as SVG: %v", err)
	}
	// Without a survey it is a book all the same, and long lists go on.
	s.Report = func() (*survey.Report, error) { return nil, errors.New("off") }
	s.Desk = many(t, 300)
	if d, err = s.Drawing(Request{What: "book"}, st.Paper); err != nil || len(d.Pages) < 12 || d.Pages[len(d.Pages)-1].Title != "Keys" {
		t.Errorf("a book of 300 windows: %d pages, %v", len(d.Pages), err)
	}
	if text = textOf(t, write(t, d, ".pdf", st)); !strings.Contains(text, "Window 299 ") {
		t.Error("the last window is in no list")
	}
}

// many is the demo desk with so many windows more.
func many(t testing.TB, n int) *desk.Desk {
	d := desks.Demo(t)
	var facts []desk.Fact
	for i := range n {
		facts = append(facts, desk.Opened{Window: desk.Window{ID: 1000 + i, App: fmt.Sprintf("App %d", i%20), Title: fmt.Sprintf("Window %d of many, with a title of some length", i),
			Rect: geom.R(10*i%3000, 7*i%900, 400, 300), Workspace: d.Workspaces[i%6].ID, Monitor: "AB"[i%2]}, Keep: true})
	}
	d, _ = d.With(facts...)
	return d
}

func TestSizes(t *testing.T) {
	s, st := subject(t), style(t)
	s.Desk = many(t, 500)
	for _, what := range []string{"atlas", "book"} {
		d, err := s.Drawing(Request{What: what}, st.Paper)
		if err != nil {
			t.Fatal(err)
		}
		format := map[string]string{"atlas": ".svg", "book": ".pdf"}[what]
		if n := len(write(t, d, format, st)); n > 1<<20 {
			t.Errorf("the %s of 526 windows has %d bytes", what, n)
		}
	}
}

// What a font has not is shown by another, or by its code point; text of the right to
// left stands in its order; a font of one's own comes first.
func TestLetters(t *testing.T) {
	st := style(t)
	for text, want := range map[string]string{
		"Ünïcode é": "Ünïcode é", "Кино": "Кино", "日本": "U+65E5U+672C", "ok 😀": "ok U+1F600", "▁ down": "_ down", "a\x1bb": "ab", "שלום abc": "abc םולש",
	} {
		got := ""
		for _, r := range st.Fonts.runs(false, text) {
			got += r.text
			if r.width <= 0 {
				t.Errorf("%q has a part without width", text)
			}
		}
		if got != want {
			t.Errorf("%q is set as %q, want %q", text, got, want)
		}
	}
	if w := st.Fonts.width(false, 10, "日"); w < 20 {
		t.Errorf("a code point is %v wide", w)
	}
	own := filepath.Join(t.TempDir(), "serif.ttf")
	os.WriteFile(own, liberationserifregular.TTF, 0o600)
	if err := st.Fonts.Own(own); err != nil {
		t.Fatal(err)
	}
	if r := st.Fonts.runs(false, "a■"); r[0].face.family != "Liberation Serif" {
		t.Errorf("with a font of one's own it is set in %v", r)
	}
	d := desks.Demo(t)
	d, _ = d.With(desk.Changed{ID: 11, Change: func(w *desk.Window) { w.Title = "日本語のタイトル" }})
	if svg := write(t, Atlas(d, "x"), ".svg", st); !strings.Contains(svg, ">● <") && !strings.Contains(svg, "日本") || !strings.Contains(svg, "Liberation Serif") {
		t.Error("the letters are not in the SVG, or the font not named")
	}
	if text := textOf(t, write(t, Atlas(d, "x"), ".pdf", st)); !strings.Contains(text, "U+65E5") {
		t.Error("a letter that no font has is shown by nothing")
	}
	for _, bad := range [][]byte{nil, []byte("\x00\x01\x00\x00"), liberationserifregular.TTF[:2000], append([]byte("OTTO"), liberationserifregular.TTF[4:]...)} {
		os.WriteFile(own, bad, 0o600)
		if err := style(t).Fonts.Own(own); err == nil || !strings.Contains(err.Error(), own) {
			t.Errorf("a font of %d bytes: %v", len(bad), err)
		}
	}
}

// FuzzTitles holds that no title breaks a drawing.
func FuzzTitles(f *testing.F) {
	for _, s := range []string{"<script>&amp;\"'</script>", "]]>", "\x1b[31m", "\xff\xfe", "a\u202eb", "\u0000", strings.Repeat("漢", 300), "مرحبا"} {
		f.Add(s, s)
	}
	d, st := desks.Demo(f), style(f)
	f.Fuzz(func(t *testing.T, app, title string) {
		d, _ := d.With(desk.Changed{ID: 11, Change: func(w *desk.Window) { w.App, w.Title = app, title }})
		d, _ = d.With(desk.Changed{ID: 15, Change: func(w *desk.Window) { w.App, w.Title = title, app }})
		for _, drawing := range []*Drawing{Atlas(d, title), Strays(d)} {
			parse(t, write(t, drawing, ".svg", st))
			if pdf := write(t, drawing, ".pdf", st); !strings.HasPrefix(pdf, "%PDF") {
				t.Error("the PDF begins otherwise")
			}
		}
	})
}

func TestSave(t *testing.T) {
	st, path := style(t), filepath.Join(t.TempDir(), "a.svg")
	d := Atlas(desks.Demo(t), "x")
	if err := d.Save(path, false, st); err != nil {
		t.Fatal(err)
	}
	os.WriteFile(path, []byte("mine"), 0o644)
	if err := d.Save(path, false, st); !errors.Is(err, ErrThere) {
		t.Errorf("over a file: %v", err)
	}
	if data, _ := os.ReadFile(path); string(data) != "mine" {
		t.Error("it was written over")
	}
	if err := d.Save(path, true, st); err != nil {
		t.Error(err)
	}
	if info, err := os.Stat(path); err != nil || info.Mode() != 0o600 || info.Size() < 1000 {
		t.Errorf("written over it is %v, %v", info, err)
	}
	for _, bad := range []string{filepath.Dir(path) + "/none/a.svg", filepath.Dir(path), path + "x"} {
		if err := d.Save(bad, true, st); err == nil {
			t.Errorf("it is saved as %s", bad)
		}
	}
}

// The canvas takes what plots draw on it: it is turned, moved and scaled, curves of
// either degree and arcs become curves, an image becomes rectangles.
func TestCanvas(t *testing.T) {
	out := newSVG(style(t).Fonts, Paper{100, 100, true}, "t", "")
	c := newCanvas(out, 100)
	c.Push()
	c.Translate(vg.Point{X: 50, Y: 50})
	c.Rotate(math.Pi / 2)
	c.Scale(2, 2)
	var p vg.Path
	p.Move(vg.Point{})
	p.Line(vg.Point{X: 10})
	c.SetLineDash([]vg.Length{2, 1}, 0)
	c.Stroke(p)
	c.Pop()
	p = nil
	p.Arc(vg.Point{X: 50, Y: 50}, 10, 0, 2*math.Pi)
	p.QuadTo(vg.Point{X: 5}, vg.Point{X: 10})
	p.CubeTo(vg.Point{X: 1}, vg.Point{X: 2}, vg.Point{X: 3})
	p.Close()
	c.SetColor(nil)
	c.Fill(p)
	c.SetColor(color.Transparent)
	c.Fill(p)
	img := image.NewRGBA(image.Rect(0, 0, 2, 1))
	img.Set(1, 0, color.White)
	img.Set(0, 0, color.Black)
	c.DrawImage(vg.Rectangle{Max: vg.Point{X: 20, Y: 10}}, img)
	var b bytes.Buffer
	if err := out.writeTo(&b); err != nil {
		t.Fatal(err)
	}
	svg := parse(t, b.String())
	var got []string
	svg.each(func(e *element) {
		switch e.name {
		case "path":
			got = append(got, fmt.Sprintf("%s %d", strings.SplitN(e.attrs["d"], "C", 2)[0], strings.Count(e.attrs["d"], "C")))
		case "rect":
			got = append(got, e.attrs["x"]+","+e.attrs["y"]+" "+e.attrs["width"]+"×"+e.attrs["height"]+" "+e.attrs["fill"])
		}
	})
	want := "M50 50L50 30 0; M60 50 6; 0,90 10×10 #000000; 10,90 10×10 #ffffff"
	if strings.Join(got, "; ") != want {
		t.Errorf("drawn is %s\nwant     %s", strings.Join(got, "; "), want)
	}
}

// A plan has an arrow for each window that moves.
func TestPlan(t *testing.T) {
	before, c := desks.Demo(t), desk.Command{Verb: "send", Args: []desk.Arg{{Kind: desk.Number, N: 3}}, Of: desk.ByID{ID: 61}}
	after, _, err := before.Apply(c)
	if err != nil {
		t.Fatal(err)
	}
	st := style(t)
	for _, paper := range []Paper{st.Paper, st.Paper.Turned()} {
		st.Paper = paper
		arrows := 0
		parse(t, write(t, Plan(before, after, []string{"send 3 of #61"}), ".svg", st)).each(func(e *element) {
			if title := e.child("title"); title != nil && title.text == "#61 moves" && e.child("desc").text == "B6 to B3" {
				arrows++
			}
		})
		if arrows != 1 {
			t.Errorf("#61 has %d arrows", arrows)
		}
	}
}

// lettering is a format that keeps the texts of a page, and the size of the smallest.
type lettering struct {
	nowhere
	texts []string
	least float64
}

func (l *lettering) text(_, _, _, size float64, _ bool, text string, _ color.NRGBA) {
	l.texts = append(l.texts, text)
	if l.least == 0 || size < l.least {
		l.least = size
	}
}

// Keys go on overleaf before their letters are too small to read, each of them once. Few
// of them are on one page, and paper without room for a row has one page, however small.
func TestKeysGoOnOverleaf(t *testing.T) {
	var rows []draw.Key
	for i := range 300 {
		rows = append(rows, draw.Key{Keys: fmt.Sprintf("Key%d", i), Does: "sends windows to a workspace or a monitor, where they stay until they are sent on"})
	}
	for _, c := range []struct {
		name  string
		n     int
		paper Paper
		pages bool
	}{{"few", 20, papers["a4"], false}, {"many", 300, papers["a4"], true}, {"many, turned", 300, papers["a4"].Turned(), true}} {
		st := style(t)
		st.Paper = c.paper
		d := Keys([]draw.Section{{Head: "VERBS", Rows: rows[:c.n/2]}, {Head: "MORE", Rows: rows[c.n/2 : c.n]}}).turned(st)
		if pages := len(d.Pages) > 1; pages != c.pages {
			t.Errorf("%s: there are %d pages", c.name, len(d.Pages))
		}
		seen := map[string]int{}
		for i := range d.Pages {
			l := &lettering{}
			d.Pages[i].draw(&pen{canvas: newCanvas(l, st.Paper.H), Style: st})
			for _, text := range l.texts {
				seen[text]++
			}
			if c.pages && l.least < leastSize {
				t.Errorf("%s: page %d has letters of %g points", c.name, i+1, l.least)
			}
		}
		for _, r := range rows[:c.n] {
			if seen[r.Keys] != 1 {
				t.Errorf("%s: %s is there %d times", c.name, r.Keys, seen[r.Keys])
			}
		}
	}
	st := style(t)
	st.Paper = Paper{W: 200, H: 60}
	page := cardPage("Keys", "KEYS", "", []draw.Section{{Head: "VERBS", Rows: rows}}, func(*pen) (int, float64) { return 1, 0.3 })
	if pages := page.overleaf(st); pages != nil {
		t.Errorf("where no row has room there are %d pages", len(pages))
	}
}

// A card of chords is one page, as PDF and as SVG, which has a ground of its own.
func TestCard(t *testing.T) {
	s := subject(t)
	s.ToLearn = []survey.ToLearn{{Chord: "Super+F", Command: "float", Times: 40, ByChord: 3}, {Chord: "Super+1", Command: "go 1", Times: 9}}
	st := style(t)
	d, err := s.Drawing(Request{What: "keys"}, st.Paper)
	if err != nil {
		t.Fatal(err)
	}
	text := textOf(t, write(t, d, ".pdf", st))
	for _, want := range []string{"Super+F", "40 times, 3 by chord", "go 1 · 9 times, 0 by chord"} {
		if !strings.Contains(text, want) {
			t.Errorf("the card is without %q:\n%s", want, text)
		}
	}
	ground := parse(t, write(t, d, ".svg", st)).child("rect")
	if ground == nil || ground.attrs["fill"] != hex(color.NRGBAModel.Convert(draw.Day.Ink).(color.NRGBA)) || ground.num(t, "width") != math.Round(100*st.Paper.W)/100 {
		t.Errorf("the ground of the SVG is %+v", ground)
	}
}
