package paint

import (
	"image"
	"image/draw"
	"strings"

	"github.com/jezek/xgb/xproto"
	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/font"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/keys"
	"zatlas/internal/picture"
)

// The sizes of a card in pixels.
const (
	cardPad    = 18
	cardRow    = 26
	cardFont   = 15
	cardGap    = 28  // between columns, and after keys
	cardColumn = 520 // the widest column
)

// Card is a box of rows in a window over all others: what may follow a key, or a list of
// which one row is chosen.
type Card struct {
	s      *Screen
	win    xproto.Window
	gc     xproto.Gcontext
	image  *image.RGBA
	mapped bool
	// Pictures are shown of the windows that are chosen; nil for none.
	Pictures *picture.Album
}

// newCard makes the window. Without one, or without a font, no card is shown.
func newCard(on *Screen) *Card {
	c := &Card{s: on}
	if on.faces.strong != nil {
		c.win, c.gc = on.window("Zealous Atlas card", 1, 2)
	}
	return c
}

// Window is the card's window; 0 where there can be none.
func (c *Card) Window() xproto.Window { return c.win }

// Show shows a card in the middle of a work area. Where not all rows have room, those
// around the chosen one show.
func (c *Card) Show(of keys.Card, work geom.Rect) {
	if c.win == 0 {
		return
	}
	c.image = c.drawn(of, work)
	w, h := c.image.Bounds().Dx(), c.image.Bounds().Dy()
	xproto.ConfigureWindow(c.s.Conn, c.win,
		xproto.ConfigWindowX|xproto.ConfigWindowY|xproto.ConfigWindowWidth|xproto.ConfigWindowHeight|xproto.ConfigWindowStackMode,
		[]uint32{Coordinate(work.X + (work.W-w)/2 - 2), Coordinate(work.Y + (work.H-h)/2 - 2), uint32(w), uint32(h), xproto.StackModeAbove})
	if !c.mapped {
		c.s.ground(c.win)
		c.mapped = true
		xproto.MapWindow(c.s.Conn, c.win)
	}
	c.Draw()
}

// Draw paints what the card shows.
func (c *Card) Draw() {
	if c.image != nil {
		c.s.paint(xproto.Drawable(c.win), c.gc, c.image)
	}
}

// Hide hides the card.
func (c *Card) Hide() {
	if c.mapped {
		xproto.UnmapWindow(c.s.Conn, c.win)
	}
	c.mapped, c.image = false, nil
}

// drawn is the picture of a card.
func (c *Card) drawn(of keys.Card, work geom.Rect) *image.RGBA {
	rows, chosen := of.Rows, of.Chosen
	t := c.s.theme()
	k := c.s.scaleAt(work)
	faces := c.s.facesAt(k)
	strong, plain := faces.strong, faces.words
	pad, high, gap, letters := k.px(cardPad), k.px(cardRow), k.px(cardGap), k.px(cardFont)
	clean := func(face font.Face, text string, most int) (string, int) {
		text = fitted(face, desk.CleanText(strings.TrimSpace(text), desk.MaxTitle), most)
		return text, font.MeasureString(face, text).Ceil()
	}
	room := max(work.W*9/10-2*pad, 100)
	tall := max((work.H*8/10-3*high-2*pad)/high, 1) // rows of a column
	columns := 1
	if chosen < 0 {
		columns = min((len(rows)+tall-1)/max(tall, 1), 3)
		if columns < 2 && len(rows) > 12 {
			columns = 2
		}
	}
	columns = max(columns, 1)
	first, shown := 0, min(len(rows), tall*columns)
	if chosen >= 0 {
		first = geom.Clamp(chosen-shown/2, 0, max(0, len(rows)-shown))
	}
	rows = rows[first : first+shown]
	each := (len(rows) + columns - 1) / columns
	names, texts := make([]string, len(rows)), make([]string, len(rows))
	keyWide, textWide := 0, 0
	widest := min(room/columns-gap, k.px(cardColumn))
	for i, r := range rows {
		var w int
		names[i], w = clean(strong, r.Keys, widest/2)
		keyWide = max(keyWide, w)
	}
	if keyWide > 0 {
		keyWide += gap / 2
	}
	for i, r := range rows {
		var w int
		texts[i], w = clean(plain, r.Does, max(widest-keyWide, 40))
		textWide = max(textWide, w)
	}
	head, headWide := clean(strong, of.Head, room)
	foot, footWide := clean(plain, of.Foot, room)
	column := keyWide + textWide + gap
	wide := max(columns*column-gap, headWide, footWide) + 2*pad
	img := filled(wide, 2*pad+high*(each+2)+high/2, t.Ink)
	write(img, strong, t.Brass, pad, pad+letters, head)
	y0 := pad + high + high/4
	for i := range rows {
		x, y := pad+i/each*column, y0+i%each*high
		key, text := t.Brass, t.Paper
		if first+i == chosen {
			draw.Draw(img, image.Rect(pad/2, y, wide-pad/2, y+high), image.NewUniform(t.Brass), image.Point{}, draw.Src)
			key, text = t.Ink, t.Ink
		}
		write(img, strong, key, x, y+high/2+letters/3, names[i])
		write(img, plain, text, x+keyWide, y+high/2+letters/3, texts[i])
	}
	write(img, plain, t.Slate, pad, y0+high*each+high*3/4+letters/2, foot)
	return c.pictured(img, of, work, k)
}

// pictured is a card with the picture of a window beside it, where there is one: as large as
// the card is high, if there is room. Of one that is hidden it tells how old it is.
func (c *Card) pictured(img *image.RGBA, of keys.Card, work geom.Rect, k scale) *image.RGBA {
	if held, _ := c.Pictures.Held(); len(held) == 0 || of.Window == 0 {
		return img
	}
	// The card is as wide for every window, so that it stays while the choice moves.
	pad, foot := k.px(cardPad), k.px(cardRow)
	size, high := img.Bounds().Size(), max(img.Bounds().Dy(), min(picture.MaxHeight+pad+2*foot, work.H*8/10))
	tall := high - pad - 2*foot
	wide := tall * picture.MaxWidth / picture.MaxHeight
	wide = min(wide, work.W*9/10-size.X)
	if wide < picture.MaxWidth/4 {
		return img
	}
	out := filled(size.X+wide+pad, high, img.At(0, 0))
	draw.Draw(out, img.Bounds(), img, image.Point{}, draw.Src)
	if p := c.Pictures.Get(of.Window); p != nil {
		// No larger than the window itself: it would be blurred.
		scale := min(float64(wide)/float64(p.W), float64(tall)/float64(p.H), max(1, float64(k)/display.UsualDensity))
		w, h := max(1, int(float64(p.W)*scale)), max(1, int(float64(p.H)*scale))
		at := image.Rect(size.X, pad, size.X+w, pad+h).Add(image.Pt((wide-w)/2, (tall-h)/2))
		draw.Draw(out, at.Inset(-1), image.NewUniform(c.s.theme().Slate), image.Point{}, draw.Src)
		xdraw.ApproxBiLinear.Scale(out, at, p.Image(), image.Rect(0, 0, p.W, p.H), draw.Src, nil)
		if of.Hidden {
			write(out, c.s.facesAt(k).words, c.s.theme().Slate, at.Min.X, high-foot, "as of "+p.At.Format("15:04"))
		}
	}
	return out
}
