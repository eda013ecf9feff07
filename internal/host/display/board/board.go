// Package board is the keyboard of an X display, for both hosts. It grabs the chords, holds the
// keyboard while a key is followed, shows cards and lists, and has a guard that gives the
// keyboard back when the process stands still. keys.Machine decides what keys do.
package board

import (
	"log/slog"
	"slices"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/host/display/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/keys"
	"zatlas/internal/status"
)

// Options are what can change while a display is kept.
type Options struct {
	Chords []keys.Chord
	// Read reads a chord as people write it; nil where none can be tried.
	Read    func(name string) (keys.Chord, error)
	Card    time.Duration // after which a card shows what may follow a key
	Corners []Corner
}

// Home is what a board needs of its host.
type Home struct {
	Conn  *xgb.Conn
	Wire  *display.Wire
	Root  xproto.Window
	Drawn paint.Drawn
	Log   *slog.Logger
	// Title gives a window of ours a title, by which others know what it is.
	Title func(win xproto.Window, title string)
	// Do asks the keeper for a command of a chord, or of the pointer.
	Do func(c desk.Command, source keeper.Source)
	// Busy tells whether the keeper was asked for something, and has not done it yet. Turn is
	// called when it has.
	Busy func() bool
	// Bring brings up a screen, or puts it away. It tells whether keys are to wait for it:
	// then the host calls Give when it is there.
	Bring func(screen string) bool
	// Rest brings up a screen because the pointer rests in a corner.
	Rest func(screen string)
	// Drags tells whether the pointer has hold of a window; nil where it never has.
	Drags func() bool
	// Wake has Turn and Tick be called at a time, or somewhat before.
	Wake func(at time.Time)
}

// Board is a keyboard with chords. Its methods are called on one goroutine.
type Board struct {
	home    Home
	opt     Options
	machine keys.Machine
	grabs
	life     xproto.Window // by which the guard sees that the process goes on
	sign     xproto.Atom   // that it gives on that
	desk     *desk.Desk    // as last shown
	at       xproto.Timestamp
	stale    bool // keys come late, and the keyboard is everybody's again
	later    []xproto.KeyPressEvent
	typed    xproto.Timestamp // the press of a chord after which keys wait
	typedEnd time.Time        // until when, at most; zero where none do
	xkb      byte             // the keyboard's extension, by the number of its requests
	group    string           // the layout that is on, where there are several; else empty
	corners  corners
	framed   bool // the outline shows what keys have chosen
	held
}

// held is the key that is held down. It comes as presses without a release, where the server
// can do that, else as presses that follow their release at the same moment.
type held struct {
	detects      bool
	key          xproto.Keycode // 0 for none
	on           bool           // it has repeated
	unseen       bool           // the release of that goes elsewhere
	seenDown     time.Time      // when it was last, though
	time         xproto.Timestamp
	released     xproto.Keycode
	releasedTime xproto.Timestamp
}

// New takes the chords of a display.
func New(home Home, opt Options) *Board {
	b := &Board{home: home, opt: opt}
	b.machine.Side, b.machine.Delay = side{b}, opt.Card
	b.begin()
	b.detects = b.useXKB()
	b.grabs = b.grab(display.ReadKeymap(home.Conn), grabs{}, xproto.GrabModeSync)
	b.readGroup()
	return b
}

// Configure takes other options.
func (b *Board) Configure(opt Options) {
	b.opt, b.machine.Delay = opt, opt.Card
	b.renew(true)
	b.placeCorners(b.desk)
}

// Show takes in the desk as it is now shown.
func (b *Board) Show(d *desk.Desk) {
	b.desk = d
	b.machine.See(d)
	b.placeCorners(d)
}

// Offer shows what can be done with the window that has the focus, as a card, after a press of
// the pointer at some time.
func (b *Board) Offer(at xproto.Timestamp) {
	b.at = at
	b.machine.Offer(time.Now())
}

// Tell tells the line what is to be known of the keyboard.
func (b *Board) Tell(s *status.Source) { s.Keys(b.machine.Typed(), len(b.taken), b.group) }

// On tells whether all keys come here.
func (b *Board) On() bool { return b.machine.On() }

// Turn begins a turn of the host's. Freed tells that the keyboard was given back meanwhile.
func (b *Board) Turn(freed bool) {
	if b.stale = freed; freed { // what was asked is over
		b.machine.Over()
		b.watchHeld()
	}
	later := b.later
	b.later = nil
	for _, e := range later {
		b.down(e, false)
	}
	switch {
	case b.typedEnd.IsZero():
	case time.Now().Before(b.typedEnd):
		b.home.Wake(b.typedEnd)
	default: // the command takes longer
		b.LetTyped()
	}
}

// Tick ends a turn.
func (b *Board) Tick() {
	b.machine.Tick(time.Now())
	b.cornerTick()
	if b.unseen {
		b.watchHeld()
	}
}

// KeyPress follows a key that came here: by a grab of a chord, or because all do.
func (b *Board) KeyPress(e xproto.KeyPressEvent) { b.down(e, b.repeats(e)) }

// down follows a key of which it is known whether it is a repeat: one that had to wait is
// looked at again, and is none by that.
func (b *Board) down(e xproto.KeyPressEvent, again bool) {
	b.at = e.Time
	defer func() {
		if cause := recover(); cause != nil { // the keyboard must not stand still for it
			b.Give()
			b.thaw(e.Time)
			panic(cause)
		}
	}()
	names := b.keymap.Names(e.Detail, e.State)
	p := keys.Press{Code: byte(e.Detail), Names: names, Written: b.Written(names, e.State), Shift: e.State&xproto.ModMaskShift != 0, Again: again, Time: time.Now()}
	switch {
	case b.desk == nil:
		b.thaw(e.Time)
	case !b.machine.Press(p):
		b.chord(e, p)
	}
}

// chord follows the press of a chord.
func (b *Board) chord(e xproto.KeyPressEvent, p keys.Press) {
	at, ok := b.find(e, b.activeGroup)
	switch listens := b.machine.Listens(at, p); {
	case !ok: // in this group of the layout the key is another, and whose it is
		b.key = 0 // its release is told to that
		xproto.AllowEvents(b.home.Conn, xproto.AllowReplayKeyboard, e.Time)
	case listens && b.stale:
		b.thaw(e.Time)
	case listens && b.home.Busy():
		// What was asked for before is done first: the keyboard stands still.
		b.later = append(b.later, e)
	default:
		b.machine.Chord(at, p)
	}
}

// KeyRelease follows a key that is let go of.
func (b *Board) KeyRelease(e xproto.KeyReleaseEvent) {
	b.lets(e)
	b.machine.Release(byte(e.Detail), time.Now())
}

// thaw ends the standstill of the keyboard that the press of a chord began. Until its key is
// let go keys come here. That of a later press, which is told by its time, stays.
func (b *Board) thaw(at xproto.Timestamp) {
	xproto.AllowEvents(b.home.Conn, xproto.AllowAsyncKeyboard, at)
}

// Give gives the keyboard back. The release of a key that is still down goes elsewhere then,
// and is watched for.
func (b *Board) Give() {
	xproto.UngrabKeyboard(b.home.Conn, xproto.TimeCurrentTime)
	b.watchHeld()
}

// take has all keys come here, from a press at some time on.
func (b *Board) take(at xproto.Timestamp) bool {
	r, err := xproto.GrabKeyboard(b.home.Conn, false, b.home.Root, at, xproto.GrabModeAsync, xproto.GrabModeSync).Reply()
	return err == nil && r.Status == xproto.GrabStatusSuccess
}

// typedTime is how long keys typed after a chord wait for its command at most: they are
// meant for the window that has the focus after it. Only a command that needs a file takes
// as long as that.
const typedTime = 50 * time.Millisecond

// LetTyped lets keys that were typed after a chord go to what has the focus: its command is
// done.
func (b *Board) LetTyped() {
	if !b.typedEnd.IsZero() {
		b.typedEnd = time.Time{}
		b.thaw(b.typed)
	}
}

// Say shows words on the monitor you are on, for a while.
func (b *Board) Say(words string) { b.home.Drawn.Strip.Show(words, b.work()) }

// work is the work area on which cards show.
func (b *Board) work() geom.Rect {
	if b.desk == nil {
		return geom.Rect{}
	}
	return b.desk.Monitor(b.desk.At).Work
}

// isDown tells whether one of some keys is held down, as the server has it.
func (b *Board) isDown(codes ...byte) bool {
	r, err := xproto.QueryKeymap(b.home.Conn).Reply()
	if err != nil {
		return false
	}
	return slices.ContainsFunc(codes, func(c byte) bool { return r.Keys[c/8]&(1<<(c%8)) != 0 })
}

// side is what a machine has done on a board.
type side struct{ b *Board }

func (s side) Take() bool {
	if s.b.take(s.b.at) {
		return true
	}
	s.b.Say("Another program holds the keyboard.")
	return false
}

func (s side) Give() { s.b.Give() }
func (s side) Thaw() { s.b.thaw(s.b.at) }

func (s side) Wait() {
	s.b.typed, s.b.typedEnd = s.b.at, time.Now().Add(typedTime)
	s.b.home.Wake(s.b.typedEnd)
}

func (s side) Next() {
	xproto.AllowEvents(s.b.home.Conn, xproto.AllowSyncKeyboard, xproto.TimeCurrentTime)
}

// KeysOf are the keys of modifiers.
func (s side) KeysOf(ms keys.Modifiers) (codes []byte) {
	mask, _ := s.b.Of(ms)
	per := len(s.b.keymap.Mods) / 8
	for i, code := range s.b.keymap.Mods {
		if mask&(1<<(i/max(per, 1))) != 0 && code != 0 {
			codes = append(codes, byte(code))
		}
	}
	return codes
}

func (s side) Down(codes ...byte) bool  { return s.b.isDown(codes...) }
func (s side) Do(c desk.Command)        { s.b.home.Do(c, keeper.Chord) }
func (s side) Bring(screen string) bool { return s.b.home.Bring(screen) }
func (s side) Say(words string)         { s.b.Say(words) }
func (s side) Hide()                    { s.b.home.Drawn.Card.Hide() }
func (s side) Frame(r geom.Rect) {
	switch {
	case !r.Empty():
		s.b.home.Drawn.Outline.Show(r)
	case s.b.framed: // else it may be that of a window which is dragged
		s.b.home.Drawn.Outline.Hide()
	}
	s.b.framed = !r.Empty()
}
func (s side) Wake(at time.Time) { s.b.home.Wake(at) }

func (s side) Show(c keys.Card) {
	s.b.home.Drawn.Strip.Hide()
	s.b.home.Drawn.Card.Show(c, s.b.work())
}

// Why no key was told.
var (
	errNotInFront = &keeper.Failure{Code: keeper.NotHere, Words: "keys are listened for in the atlas window alone, while it has the focus; here a chord can be typed"}
	errHeld       = &keeper.Failure{Code: keeper.NotHere, Words: "another program holds the keyboard"}
	errNoKey      = &keeper.Failure{Code: keeper.NotHere, Words: "no key was pressed in ten seconds"}
	errPutAway    = &keeper.Failure{Code: keeper.NotHere, Words: "the atlas window was put away"}
)

// Listen has the next key pressed be told, where the screens that ask are in front.
func (b *Board) Listen(inFront bool, heard func(keeper.Key, error)) {
	b.EndListening()
	switch {
	case heard == nil:
	case !inFront || b.machine.On():
		heard(keeper.Key{}, errNotInFront)
	case !b.take(xproto.TimeCurrentTime):
		heard(keeper.Key{}, errHeld)
	default:
		b.machine.Record(time.Now(), func(chord string, why keys.Why) {
			if why != keys.Pressed {
				heard(keeper.Key{}, map[keys.Why]error{keys.NoKey: errNoKey, keys.PutAway: errPutAway, keys.Stalled: errHeld}[why])
				return
			}
			key, err := b.Probe(chord)
			if err != nil { // no chord, such as a letter by itself
				key = keeper.Key{Chord: chord}
			}
			heard(key, nil)
		})
	}
}

// EndListening has no key be told any more: whoever asked was put away.
func (b *Board) EndListening() { b.machine.EndRecording(keys.PutAway) }
