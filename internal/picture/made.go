package picture

import (
	"hash/fnv"
	"image"
	"image/draw"
	"math"
	"math/rand/v2"
	"strings"

	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"
)

// Made is a made-up picture of a made-up app: what it shows follows from its name, and from
// the title which of its kind it is.
func Made(app, title string, w, h int) *Picture {
	w, h = Size(w, h)
	s := sketch{Picture: New(max(w, 1), max(h, 1), paper), Rand: rand.New(rand.NewPCG(seed(app, title), 1))}
	kind := kinds[seed(app, "")%uint64(len(kinds))]
	for _, k := range kinds {
		if strings.Contains(strings.ToLower(app), k.of) {
			kind = k
			break
		}
	}
	kind.draw(&s, title)
	return s.Picture
}

func seed(texts ...string) uint64 {
	h := fnv.New64a()
	for _, t := range texts {
		h.Write([]byte(t))
		h.Write([]byte{0})
	}
	return h.Sum64()
}

// kinds are the made-up apps by a word of their names, and how each is drawn.
var kinds = []struct {
	of   string
	draw func(s *sketch, title string)
}{
	{"times", (*sketch).times}, {"plan", (*sketch).seats}, {"radio", (*sketch).dial}, {"poster", (*sketch).poster},
	{"subtitle", (*sketch).subtitled}, {"trailer", (*sketch).cutting}, {"projection", (*sketch).screening},
	{"ledger", (*sketch).ledger}, {"till", (*sketch).receipt}, {"traffic", (*sketch).ledger}, {"rota", (*sketch).rota}, {"press", (*sketch).letter},
}

// The colours of made-up apps.
var (
	paper  = RGB{236, 232, 220}
	pencil = RGB{48, 54, 66}
	faint  = RGB{150, 152, 150}
	night  = RGB{18, 20, 28}
	bands  = []RGB{{196, 84, 62}, {70, 130, 160}, {214, 168, 70}, {92, 150, 104}, {140, 100, 160}, {60, 90, 140}}
)

// sketch is a picture that is being drawn, with the chance that its title gives.
type sketch struct {
	*Picture
	*rand.Rand
}

// x and y are lengths in hundredths of the width and the height.
func (s *sketch) x(percent int) int { return s.W * percent / 100 }
func (s *sketch) y(percent int) int { return s.H * percent / 100 }

// box fills a rectangle that is given in hundredths.
func (s *sketch) box(x, y, w, h int, c RGB) {
	s.Fill(s.x(x), s.y(y), max(1, s.x(x+w)-s.x(x)), max(1, s.y(y+h)-s.y(y)), c)
}

// band is a colour by chance.
func (s *sketch) band() RGB { return bands[s.IntN(len(bands))] }

// write writes a text in letters a share of the height high, from a point in hundredths.
func (s *sketch) write(text string, x, y, high int, c RGB) {
	face := basicfont.Face7x13
	mask := image.NewAlpha(image.Rect(0, 0, 7*len(text)+1, 13))
	d := font.Drawer{Dst: mask, Src: image.Opaque, Face: face, Dot: fixed.P(0, 11)}
	d.DrawString(text)
	by := max(1, s.y(high)/13)
	for v := range mask.Rect.Dy() {
		for u := range mask.Rect.Dx() {
			if mask.AlphaAt(u, v).A > 127 {
				s.Fill(s.x(x)+u*by, s.y(y)+v*by, by, by, c)
			}
		}
	}
}

// ellipse fills an ellipse in a rectangle that is given in hundredths.
func (s *sketch) ellipse(x, y, w, h int, c RGB) {
	r := image.Rect(s.x(x), s.y(y), s.x(x+w), s.y(y+h))
	a, b := float64(r.Dx())/2, float64(r.Dy())/2
	for v := r.Min.Y; v < r.Max.Y; v++ {
		for u := r.Min.X; u < r.Max.X; u++ {
			dx, dy := (float64(u-r.Min.X)+0.5-a)/a, (float64(v-r.Min.Y)+0.5-b)/b
			if dx*dx+dy*dy <= 1 {
				s.Fill(u, v, 1, 1, c)
			}
		}
	}
}

// times is a table of times: halls across, hours down, films as blocks.
func (s *sketch) times(title string) {
	s.box(0, 0, 100, 11, pencil)
	s.write(title, 3, 1, 9, paper)
	for hall := range 4 {
		x := 12 + 22*hall
		s.box(x, 11, 1, 89, faint)
		for y := 14 + s.IntN(8); y < 86; {
			high := min(9+s.IntN(14), 97-y)
			c := s.band()
			s.box(x+2, y, 18, high, c)
			s.box(x+3, y+2, 8+s.IntN(8), 2, paper)
			y += high + 3 + s.IntN(8)
		}
	}
	for y := 16; y < 98; y += 10 {
		s.box(3, y, 6, 2, faint)
	}
}

// seats is a plan of a hall: rows of seats before a screen, some of them sold.
func (s *sketch) seats(string) {
	s.box(0, 0, 100, 100, RGB{28, 36, 48})
	s.box(22, 5, 56, 4, paper)
	for row := range 9 {
		for seat := range 16 {
			if seat == 4 || seat == 11 {
				continue
			}
			c := RGB{88, 104, 124}
			if s.IntN(3) > 0 {
				c = RGB{220, 172, 80}
			}
			s.box(6+seat*55/10, 18+row*9, 4, 6, c)
		}
	}
}

// dial is the dial of a radio, with its hand and its knobs.
func (s *sketch) dial(string) {
	wood := RGB{104, 62, 34}
	s.box(0, 0, 100, 100, wood)
	s.box(6, 14, 88, 40, RGB{244, 216, 150})
	for x := 9; x < 92; x += 4 {
		s.box(x, 20, 1, 8+8*(x%3/2), pencil)
	}
	s.box(20+s.IntN(60), 16, 2, 36, RGB{200, 40, 30})
	for _, x := range []int{10, 72} {
		s.ellipse(x, 62, 18, 32, RGB{40, 30, 24})
		s.ellipse(x+7, 66, 4, 8, RGB{220, 200, 160})
	}
	for x := 34; x < 68; x += 5 {
		s.box(x, 64, 2, 28, RGB{60, 36, 22})
	}
}

// poster is a poster: a sky, a sun, hills, and a name.
func (s *sketch) poster(title string) {
	sky, hill := s.band(), s.band()
	s.box(0, 0, 100, 100, sky)
	s.ellipse(50+s.IntN(20), 10, 26, 38, RGB{248, 226, 150})
	turn := s.Float64() * 6
	for x := range 100 {
		high := 38 + int(9*math.Sin(float64(x)/11+turn)+4*math.Sin(float64(x)/5))
		s.box(x, 100-high, 1, high, hill)
	}
	s.box(0, 82, 100, 18, night)
	s.write(title, 5, 84, 14, paper)
}

// subtitled is a frame of a film with a subtitle, and beside it the list of the lines.
func (s *sketch) subtitled(string) {
	s.box(0, 0, 100, 100, RGB{44, 48, 56})
	s.box(3, 4, 60, 66, night)
	s.ellipse(20, 12, 14, 40, RGB{190, 150, 120})
	s.ellipse(38, 18, 14, 36, RGB{150, 110, 90})
	s.box(14, 58, 38, 4, RGB{250, 240, 160})
	s.box(20, 64, 26, 3, RGB{250, 240, 160})
	for y := 6; y < 94; y += 9 {
		s.box(67, y, 8, 3, faint)
		s.box(77, y, 8+s.IntN(14), 3, paper)
	}
	s.box(3, 76, 60, 18, RGB{28, 30, 36})
	for x := 4; x < 62; x++ {
		high := 2 + s.IntN(12)
		s.box(x, 85-high/2, 1, high, RGB{110, 190, 170})
	}
}

// cutting is a film on the table: the frame above, and tracks below.
func (s *sketch) cutting(string) {
	s.box(0, 0, 100, 100, RGB{30, 30, 36})
	s.box(24, 4, 52, 50, s.band())
	s.box(24, 40, 52, 14, night)
	s.ellipse(40, 12, 18, 30, paper)
	for track := range 3 {
		for x := 3; x < 96; {
			w := min(5+s.IntN(18), 97-x)
			s.box(x, 62+track*12, w, 9, s.band())
			x += w + 1
		}
	}
	s.box(20+s.IntN(60), 58, 1, 40, paper)
}

// screening is the log of a projection, a test pattern among it.
func (s *sketch) screening(title string) {
	if strings.Contains(title, "pattern") {
		for i, c := range []RGB{{240, 240, 240}, {230, 220, 60}, {70, 210, 220}, {80, 200, 80}, {200, 70, 190}, {210, 60, 50}, {50, 60, 190}} {
			s.box(i*100/7, 0, 16, 72, c)
		}
		for i := range 11 {
			v := uint8(i * 25)
			s.box(i*100/11, 72, 11, 28, RGB{v, v, v})
		}
		return
	}
	s.box(0, 0, 100, 100, night)
	for y := 4; y < 96; y += 7 {
		s.box(3, y, 12, 2, RGB{110, 190, 120})
		s.box(18, y, 12+s.IntN(50), 2, RGB{190, 200, 190})
	}
}

// ledger is a sheet of figures.
func (s *sketch) ledger(string) {
	s.box(0, 0, 100, 8, RGB{92, 150, 104})
	for row := range 13 {
		y := 11 + row*7
		if row%2 == 0 {
			s.box(0, y-1, 100, 6, RGB{222, 230, 216})
		}
		s.box(3, y+1, 14+s.IntN(14), 2, pencil)
		for x := 40; x < 96; x += 15 {
			w := 4 + s.IntN(6)
			s.box(x+10-w, y+1, w, 2, pencil)
		}
	}
	for x := 36; x < 98; x += 15 {
		s.box(x, 8, 1, 92, faint)
	}
}

// receipt is a till: the sums at the left, keys at the right.
func (s *sketch) receipt(string) {
	s.box(0, 0, 100, 100, RGB{70, 84, 92})
	s.box(5, 5, 40, 90, paper)
	for y := 12; y < 78; y += 7 {
		s.box(9, y, 10+s.IntN(12), 2, pencil)
		s.box(36, y, 6, 2, pencil)
	}
	s.box(9, 84, 33, 5, RGB{196, 84, 62})
	for row := range 4 {
		for col := range 4 {
			c := RGB{196, 202, 206}
			if col == 3 {
				c = bands[row]
			}
			s.box(52+col*11, 10+row*22, 9, 17, c)
		}
	}
}

// rota is a list of people with their faces and their days.
func (s *sketch) rota(string) {
	for row := range 6 {
		y := 4 + row*16
		s.ellipse(4, y, 9, 13, s.band())
		s.box(17, y+2, 14+s.IntN(14), 3, pencil)
		s.box(17, y+8, 10+s.IntN(10), 2, faint)
		for day := range 7 {
			c := RGB{214, 210, 198}
			if s.IntN(3) == 0 {
				c = s.band()
			}
			s.box(50+day*7, y+1, 5, 11, c)
		}
	}
}

// letter is a page of writing with a head.
func (s *sketch) letter(title string) {
	s.box(0, 0, 100, 100, RGB{250, 248, 242})
	s.write(title, 8, 5, 10, RGB{150, 40, 40})
	for y := 22; y < 92; y += 6 {
		w := 84
		if s.IntN(4) == 0 {
			w = 30 + s.IntN(40)
			s.box(8, y, w, 2, pencil)
			y += 4
			continue
		}
		s.box(8, y, w, 2, pencil)
	}
}

// Image is the picture for packages that draw.
func (p *Picture) Image() *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, p.W, p.H))
	draw.Draw(img, img.Rect, image.Black, image.Point{}, draw.Src)
	for i, j := 0, 0; i < len(p.RGB); i, j = i+3, j+4 {
		copy(img.Pix[j:], p.RGB[i:i+3])
	}
	return img
}
