package x11

import (
	"maps"
	"slices"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display/board"
	"zatlas/internal/keeper"
)

// newBoard takes the chords.
func (h *Host) newBoard() *board.Board {
	return board.New(board.Home{
		Conn: h.conn, Wire: h.wire, Root: h.root, Drawn: h.drawn, Log: h.log,
		Title: h.title,
		Do: func(c desk.Command, source keeper.Source) {
			h.events = append(h.events, keeper.Event{Command: &c, Source: source})
		},
		Busy:  func() bool { return len(h.events) > 0 },
		Bring: func(screen string) bool { return h.atlas.toggle(screen) },
		Rest: func(screen string) {
			if !h.atlas.up || h.atlas.Screen != screen {
				h.atlas.bring(screen)
			}
		},
		Drags: func() bool { return h.drag.id != 0 },
		Wake:  h.wakeAt,
	}, h.opt.Board)
}

// Configure takes the options that can change while a display is kept: the chords, the
// terminal, whether words show, what the pointer does, and borders. It is called on the
// keeper's goroutine.
func (h *Host) Configure(opt Options) {
	h.opt.Board, h.opt.Screens.Terminal, h.opt.Quiet, h.opt.AtlasKey, h.opt.Pointing = opt.Board, opt.Screens.Terminal, opt.Quiet, opt.AtlasKey, opt.Pointing
	h.board.Configure(h.opt.Board)
	h.grabButtons()
	h.configureLine(opt.Line)
	if opt.Colours != nil {
		h.opt.Colours = opt.Colours
	}
	h.doubt = true
	if opt.Border != h.opt.Border && opt.Border != 0 {
		h.opt.Border = opt.Border
		h.describeAgain(slices.Collect(maps.Values(h.clients)))
	}
}

// renewKeys takes chords and buttons of a keyboard that may have changed.
func (h *Host) renewKeys() {
	h.board.Renew()
	h.grabButtons()
}

// Keys lists the chords and what becomes of each.
func (h *Host) Keys(told func([]keeper.Key)) { told(h.board.Keys()) }

// Probe tells what would become of a chord.
func (h *Host) Probe(name string, told func(keeper.Key, error)) { told(h.board.Probe(name)) }

// Listen has the next key pressed be told to the screens of the atlas window.
func (h *Host) Listen(window string, heard func(keeper.Key, error)) {
	h.board.Listen(h.atlas.up && h.atlas.Own(window) && h.atlasFocused(), heard)
}

// atlasFocused tells whether the atlas window, or a window in it, has the X focus.
func (h *Host) atlasFocused() bool {
	r, err := xproto.GetInputFocus(h.conn).Reply()
	if err != nil {
		return false
	}
	for win := r.Focus; win > xproto.InputFocusPointerRoot && win != h.root; {
		if win == h.atlas.win {
			return true
		}
		t, err := xproto.QueryTree(h.conn, win).Reply()
		if err != nil {
			return false
		}
		win = t.Parent
	}
	return false
}

// keyPress follows a key that came here.
func (h *Host) keyPress(e xproto.KeyPressEvent) {
	h.input = e.Time
	if h.drag.keys {
		h.dragKey(e)
		return
	}
	h.board.KeyPress(e)
}

// Life is the window by which a guard watches this process (board.Guard).
func (h *Host) Life() xproto.Window { return h.board.Life() }
