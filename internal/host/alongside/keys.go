package alongside

import (
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/prompt"
)

// commandTime is how long keys wait at most for the command of a chord before them: the
// manager carries it out in its own time.
const commandTime = 50 * time.Millisecond

// do has the reading goroutine do something.
func (h *Host) do(f func()) {
	h.mu.Lock()
	h.calls = append(h.calls, f)
	h.mu.Unlock()
	h.queue.signal()
}

// Configure has other chords be taken, and what else can change.
func (h *Host) Configure(opt Options) {
	h.do(func() {
		h.opt.Board, h.opt.Takes, h.opt.Quiet, h.opt.Screens.Terminal = opt.Board, opt.Takes, opt.Quiet, opt.Screens.Terminal
		h.opt.Line = opt.Line
		h.status.Configure(opt.Line.Spoken())
		h.takeChords()
		h.tellDocks()
	})
}

// takeChords takes the chords, and the corners, that are asked for and whose command can be
// had, once any are.
// The manager's own, and those of other programs, stay theirs.
func (h *Host) takeChords() {
	opt := h.opt.Board
	opt.Chords = h.possible(opt.Chords)
	if !h.opt.Takes || !h.settling.IsZero() {
		opt.Chords, opt.Corners = nil, nil
	}
	switch {
	case h.board != nil:
		h.board.Configure(opt)
	case len(opt.Chords)+len(opt.Corners) > 0:
		h.draw()
		h.board = board.New(board.Home{
			Conn: h.conn, Wire: h.wire, Root: h.root, Drawn: h.drawn, Log: h.log,
			Title: h.entitle, Do: h.chord, Busy: h.busy, Bring: h.atlas.toggle, Rest: h.atlas.rest, Wake: h.wakeAt,
		}, opt)
		if h.desk != nil {
			h.board.Show(h.desk)
		}
		if h.opt.Guarded != nil {
			h.opt.Guarded(h.board.Life())
		}
	}
}

// draw makes what can be drawn on the display.
func (h *Host) draw() {
	if h.paper == nil {
		h.paper = &paint.Screen{Conn: h.conn, Info: h.screen.Info, Title: h.entitle, Wake: h.queue.signal, Dock: h.sayDock, Density: func(r geom.Rect) int { return h.screen.DensityAt(h.monitors, r) }}
		h.paper.Theme = func() draw.Theme { return h.opt.Line.Theme }
		h.drawn = paint.On(h.paper)
		h.drawn.Card.Pictures = h.opt.Album
		h.drawn.Strip.Instead = h.onLine
	}
}

// entitle gives a window of ours a title.
func (h *Host) entitle(win xproto.Window, title string) {
	xproto.ChangeProperty(h.conn, xproto.PropModeReplace, win, h.atoms["_NET_WM_NAME"], h.atoms["UTF8_STRING"], 8, uint32(len(title)), []byte(title))
}

// possible are the chords whose command the manager leaves possible.
func (h *Host) possible(chords []keys.Chord) []keys.Chord {
	lacks := h.lacks()
	return slices.DeleteFunc(slices.Clone(chords), func(c keys.Chord) bool {
		verb, _, _ := strings.Cut(c.Command, " ")
		if l, is := prompt.FindList(c.Command); is && c.Hold {
			verb = l.Verb()
		}
		v, _ := desk.FindVerb(verb)
		return v.Never != "" || slices.Contains(lacks, verb)
	})
}

// chord asks the keeper for the command of a chord, or of the pointer.
func (h *Host) chord(c desk.Command, source keeper.Source) {
	h.pressed = append(h.pressed, keeper.Event{Command: &c, Source: source})
	if source == keeper.Chord {
		h.unanswered++
		h.busyEnd = time.Now().Add(commandTime)
	}
}

// busy tells whether the command of a chord was asked for just now, and is not answered.
func (h *Host) busy() bool {
	if h.unanswered == 0 || time.Now().After(h.busyEnd) {
		return false
	}
	h.wakeAt(h.busyEnd)
	return true
}

// wakeAt has a turn begin at a time, or somewhat before.
func (h *Host) wakeAt(at time.Time) { h.due = soonest(h.due, at) }

// Show takes in the desk as the keeper has it; it is what the display shows.
func (h *Host) Show(d *desk.Desk) {
	h.do(func() {
		h.desk = d
		h.status.Show(d)
		if h.board != nil {
			h.board.Show(d)
		}
		h.tellCamera(d)
	})
}

// tellCamera tells which windows are seen, for their pictures.
func (h *Host) tellCamera(d *desk.Desk) {
	if !h.opt.Camera.On() {
		return
	}
	seen := map[int]xproto.Window{}
	for win, c := range h.clients {
		if c.viewable {
			seen[c.id] = win
		}
	}
	h.opt.Camera.See(d, seen)
}

// Tell shows the words of a chord's result, and puts the atlas window away after a command
// that goes somewhere.
func (h *Host) Tell(o keeper.Outcome) { h.do(func() { h.tell(o) }) }

func (h *Host) tell(o keeper.Outcome) {
	if h.board == nil {
		return
	}
	if o.Source == keeper.Chord {
		h.unanswered = max(h.unanswered-1, 0)
		h.board.LetTyped()
	}
	if (o.Source == keeper.Chord || o.Source == keeper.Pointer) && !h.opt.Quiet {
		h.board.Say(o.Words())
	}
	if o.Source == keeper.Screen {
		h.atlas.Words = o.Words()
	}
	if o.Err == nil && o.Result.Goes && h.atlas.shown {
		h.atlas.hide()
	}
}

// Keys lists the chords and what becomes of each; which could be had, where none is taken.
func (h *Host) Keys(told func([]keeper.Key)) {
	h.do(func() {
		if h.opt.Takes && h.board != nil && h.settling.IsZero() {
			told(h.board.Keys())
			return
		}
		told(board.Tried(board.Home{Conn: h.conn, Root: h.root}, h.possible(h.opt.Board.Chords)))
	})
}

// Probe tells what would become of a chord.
func (h *Host) Probe(name string, told func(keeper.Key, error)) {
	h.do(func() {
		if h.board == nil {
			told(keeper.Key{}, errNoChords)
			return
		}
		told(h.board.Probe(name))
	})
}

// Listen has the next key pressed be told to the screens of the atlas window.
func (h *Host) Listen(window string, told func(keeper.Key, error)) {
	h.do(func() {
		switch {
		case h.board != nil:
			h.board.Listen(h.atlas.up() && h.atlas.Own(window), told)
		case told != nil:
			told(keeper.Key{}, errNoChords)
		}
	})
}

var errNoChords error = &keeper.Failure{Code: keeper.NotHere, Words: "no chords are taken here: zatlas alongside --chords takes those that are free"}
