package tui

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/picture"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// gallery has the pictures that are drawn. Its own goroutine asks for them, and again when
// there are newer ones.
type gallery struct {
	source picture.Source // nil for none
	want   chan []picture.Ask
	come   chan picturesMsg
	end    <-chan struct{} // closed with the screens
	asked  []picture.Ask   // of what was drawn last
	asks   []picture.Ask   // of what is being drawn
	shown  map[picture.Ask]picture.Cells
}

// picturesMsg are pictures that have come, for what was asked.
type picturesMsg []picture.Cells

// newGallery begins to ask; without a source there are no pictures.
func newGallery(ctx context.Context, source picture.Source) *gallery {
	g := &gallery{source: source, want: make(chan []picture.Ask, 1), come: make(chan picturesMsg), end: ctx.Done(), shown: map[picture.Ask]picture.Cells{}}
	if source != nil {
		go g.follow(ctx)
	}
	return g
}

// pictureAgain is how long it takes until pictures are asked for again that could not be had.
const pictureAgain = time.Second

// follow asks for what is wanted, until other pictures are.
func (g *gallery) follow(ctx context.Context) {
	asks := []picture.Ask{}
	for {
		one, end := context.WithCancel(ctx)
		if len(asks) > 0 {
			go g.ask(one, asks)
		}
		select {
		case asks = <-g.want:
		case <-ctx.Done():
		}
		if end(); ctx.Err() != nil {
			return
		}
	}
}

// ask hands on the pictures of windows whenever there are newer ones.
func (g *gallery) ask(ctx context.Context, asks []picture.Ask) {
	since := int64(0)
	for ctx.Err() == nil {
		given, now, err := g.source.Pictures(ctx, since, asks)
		if err != nil {
			if errors.Is(err, errors.ErrUnsupported) {
				return // a keeper that has none
			}
			select {
			case <-time.After(pictureAgain):
			case <-ctx.Done():
			}
			continue
		}
		since = now
		select {
		case g.come <- given:
		case <-ctx.Done():
		}
	}
}

// wait gives the next pictures as a message.
func (g *gallery) wait() tea.Cmd {
	if g.source == nil {
		return nil
	}
	return func() tea.Msg {
		select {
		case p := <-g.come:
			return p
		case <-g.end:
			return nil
		}
	}
}

// take keeps pictures that have come.
func (g *gallery) take(given picturesMsg) {
	for _, c := range given {
		k := picture.Ask{Window: c.Window, W: c.W, H: c.H}
		if delete(g.shown, k); slices.Contains(g.asked, k) && c.Cells != nil {
			g.shown[k] = c
		}
	}
}

// drawn asks for what was drawn where that is not what was drawn before. Pictures that are
// not drawn are not kept.
func (g *gallery) drawn() {
	asks := g.asks
	g.asks = nil
	if slices.Equal(asks, g.asked) {
		return
	}
	for k := range g.shown {
		if !slices.Contains(asks, k) {
			delete(g.shown, k)
		}
	}
	g.asked = slices.Clone(asks)
	select {
	case <-g.want:
	default:
	}
	g.want <- g.asked
}

// The least room for a picture, in cells.
const (
	leastPictureW = 8
	leastPictureH = 3
)

// pictured tells whether pictures are drawn: they are on, and this terminal can draw them.
func (m *model) pictured() bool {
	return m.gallery.source != nil && (m.set.Pictures() || m.opt.Pictured) && m.profile >= colorprofile.ANSI256 && !m.plain
}

// picture gives the picture of a window for so many cells; ok is false where there is none, or
// not yet.
func (m *model) picture(window, w, h int) (c picture.Cells, ok bool) {
	if !m.pictured() || w < leastPictureW || h < leastPictureH || len(m.gallery.asks) >= picture.MaxAsks {
		return c, false
	}
	k := picture.Ask{Window: window, W: w, H: h}
	if !slices.Contains(m.gallery.asks, k) {
		m.gallery.asks = append(m.gallery.asks, k)
	}
	c, ok = m.gallery.shown[k]
	return c, ok
}

// asOf says how old a picture is, of a window that is not seen now; empty of one that is.
func (m *model) asOf(w *desk.Window, c picture.Cells) string {
	if c.At.IsZero() || m.d.Visible(w) && !m.d.Covered(w) {
		return ""
	}
	return "as of " + c.At.Format("15:04")
}

// besidePicture draws the picture of a window in a part of a screen, as large as its own
// sides let it be, and under it how old it is; nothing where there is none.
func (m *model) besidePicture(c *cells.Canvas, r geom.Rect, w *desk.Window) {
	wide, high := r.W, r.H-1
	if w == nil || w.Rect.W <= 0 || w.Rect.H <= 0 || wide < leastPictureW || high < leastPictureH {
		return
	}
	// A cell is twice as high as it is wide.
	if rows := max(wide*w.Rect.H/w.Rect.W/2, leastPictureH); rows < high {
		high = rows
	} else {
		wide = geom.Clamp(2*high*w.Rect.W/w.Rect.H, leastPictureW, wide)
	}
	p, ok := m.picture(w.ID, wide, high)
	if !ok {
		return
	}
	c.Picture(geom.R(r.X, r.Y, wide, high), p, true, m.opt.Theme)
	words := cells.JoinNonEmpty(" · ", w.Label(), m.asOf(w, p))
	c.Text(r.X, r.Y+high, r.W, words, m.opt.Theme.Style(m.opt.Theme.Slate))
}

// togglePictures turns the pictures on or off, in the settings.
func (m *model) togglePictures() tea.Cmd {
	switch {
	case m.gallery.source == nil:
		words := "There are no pictures of windows here."
		if m.opt.Afar != "" {
			words = "Pictures of another machine's windows show with zatlas --on " + m.opt.Afar + " --pictures."
		}
		m.say(words, false)
		return nil
	case m.profile < colorprofile.ANSI256 || m.plain:
		m.say("Pictures need a terminal with 256 colours, and marks that are drawn.", true)
		return nil
	case m.opt.Settings == "":
		m.say("No folder for the settings is known: set HOME or XDG_CONFIG_HOME.", true)
		return nil
	}
	value, words := "true", "Pictures are on: windows are shown as they look. They stay in memory, and private apps are never pictured ("+settings.PrivateName+")."
	if m.set.Pictures() {
		value, words = "false", "Pictures are off, and forgotten."
	}
	return m.setTo(settings.PicturesName, value, words)
}

// togglePrivate keeps the app of the chosen window out of pictures by a rule, or takes that
// rule away.
func (m *model) togglePrivate() tea.Cmd {
	w := m.d.Window(m.sel.Window)
	switch {
	case w == nil:
		m.say("Choose a window first: its app is kept out of pictures.", true)
		return nil
	case m.opt.Settings == "":
		m.say("No folder for the settings is known: set HOME or XDG_CONFIG_HOME.", true)
		return nil
	}
	rule := settings.Rule{Match: lang.PrintQuery(desk.ByApp{Text: w.App, Whole: true}), Private: true}
	words := fmt.Sprintf("%s is never pictured.", w.App)
	at := slices.Index(m.set.Rules, rule)
	err := error(nil)
	if at >= 0 {
		words = fmt.Sprintf("%s may be pictured again.", w.App)
		err = settings.RemoveRule(m.opt.Settings, at)
	} else {
		err = settings.AddRule(m.opt.Settings, rule)
	}
	if err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return m.wroteSettings(words)
}
