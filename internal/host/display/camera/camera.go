// Package camera takes pictures of the windows of a display, small, into an album. It has a
// connection and a goroutine of its own: nothing that it does holds a host up.
//
// A window is pictured while it is seen, wholly and at rest. From before it is looked at until
// its pixels are read, no other window may be in its place. What is hidden keeps its last
// picture.
package camera

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/composite"
	"github.com/jezek/xgb/damage"
	"github.com/jezek/xgb/screensaver"
	"github.com/jezek/xgb/shape"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/display"
	"zatlas/internal/picture"
)

// How often pictures are taken.
const (
	restTime   = 500 * time.Millisecond // without a change of what lies where, before any is taken
	shownEvery = time.Second            // of a window whose picture is shown
	otherEvery = 2 * time.Second        // of any other that is drawn in
	atOnce     = 8                      // windows, before others have a turn
	tries      = 4                      // in a row that come to nothing, before a longer wait
	scrubEvery = 10 * time.Second       // memory that pictures were read into, see scrub
)

// pace is how often pictures are taken.
type pace struct{ rest, shown, other time.Duration }

// Options are what a camera is to do; they can be changed.
type Options struct {
	On      bool
	Private []string // words in the names and classes of apps that are never pictured
}

// Camera takes pictures.
type Camera struct {
	name  string // of the display
	album *picture.Album
	every pace
	wake  chan struct{}

	mu     sync.Mutex
	opt    Options
	desk   *desk.Desk
	seen   map[int]xproto.Window // the windows of the desk that show now
	news   bool                  // one of these is another than before
	failed bool                  // the display cannot be pictured
	events []xgb.Event           // that have come
	gone   bool                  // the connection is

	// Of the goroutine that takes the pictures, and of its connection.
	conn     *xgb.Conn
	wire     *display.Wire
	root     xproto.Window
	formats  formats
	damages  bool
	shapes   bool
	composer xproto.Atom // the selection of a client that composes the screen; 0 without COMPOSITE
	tops     map[xproto.Window]*top
	subjects map[int]*subject
	byWin    map[xproto.Window]*subject
	judged   map[int]judgement
	moved    int // how often anything has changed among what lies on the root
	movedAt  time.Time
	mark     xproto.Window // of ours: its property tells that all events before it have come
	marks    int           // of it that have come
	saver    bool          // the screen saver is on
	lookedAt int           // at which count of moves it was looked whether the screen is locked
	lock     bool          // it was
	spoilt   int           // tries in a row that came to nothing
	left     int           // how often memory is still to be scrubbed of what was dropped
	scrubbed time.Time
}

// top is a child of the root.
type top struct {
	rect     geom.Rect // with its border
	mapped   bool
	unseen   bool // it has no pixels (InputOnly)
	override bool
}

// subject is a window that is to be pictured.
type subject struct {
	id      int
	win     xproto.Window
	damage  damage.Damage // 0 for none
	dirty   bool          // it may look different from its picture
	blocked int           // at which count of moves it could not be pictured
	plain   bool          // it has no pixels of its own, whoever composes the screen
	taken   time.Time
	size    geom.Rect
	title   string
}

// Start makes a camera for a display. It connects only while pictures are on. They go into the
// album, which has its wants call Wake. The camera ends with the context.
func Start(ctx context.Context, name string, album *picture.Album, opt Options, log *slog.Logger) *Camera {
	return start(ctx, name, album, opt, pace{restTime, shownEvery, otherEvery}, log)
}

func start(ctx context.Context, name string, album *picture.Album, opt Options, every pace, log *slog.Logger) *Camera {
	c := &Camera{name: name, album: album, opt: opt, every: every, wake: make(chan struct{}, 1)}
	go func() {
		defer album.Clear()
		for ctx.Err() == nil {
			if c.On() {
				if err := c.work(ctx); err != nil {
					log.Warn("windows are not pictured", "error", err.Error())
					c.mu.Lock()
					c.failed = true
					c.mu.Unlock()
				}
			}
			var again <-chan time.Time
			if c.left > 0 {
				again = time.After(scrubEvery)
			}
			select {
			case <-c.wake:
			case <-again:
				c.scrub(time.Now())
			case <-ctx.Done():
			}
		}
	}()
	return c
}

// connect connects, and knows nothing of the display yet.
func (c *Camera) connect() error {
	conn, wire, err := display.Connect(display.Name(c.name))
	if err != nil {
		return err
	}
	c.mu.Lock()
	c.events, c.gone, c.news = nil, false, true
	c.mu.Unlock()
	c.conn, c.wire, c.root = conn, wire, xproto.Setup(conn).DefaultScreen(conn).Root
	c.tops, c.subjects, c.byWin = map[xproto.Window]*top{}, map[int]*subject{}, map[xproto.Window]*subject{}
	c.judged, c.marks, c.saver, c.lock = map[int]judgement{}, 0, false, false
	if err := c.prepare(); err != nil {
		conn.Close()
		return err
	}
	return nil
}

// prepare asks for what is needed of the server.
func (c *Camera) prepare() (err error) {
	if _, ok := display.Extension(c.conn, "RENDER"); !ok {
		return errors.New("the X server is without RENDER")
	}
	if c.formats, err = readFormats(c.conn); err != nil {
		return err
	}
	if first, ok := display.Extension(c.conn, "DAMAGE"); ok {
		if _, err := damage.QueryVersion(c.conn, 1, 1).Reply(); err == nil {
			c.wire.TellDamage(first)
			c.damages = true
		}
	}
	first, ok := display.Extension(c.conn, "SHAPE")
	if c.shapes = ok; ok {
		c.wire.TellShape(first)
	}
	if c.composer = 0; c.composites() {
		name := fmt.Sprint("_NET_WM_CM_S", c.conn.DefaultScreen)
		if r, err := xproto.InternAtom(c.conn, false, uint16(len(name)), name).Reply(); err == nil {
			c.composer = r.Atom
		}
	}
	if first, ok := display.Extension(c.conn, "MIT-SCREEN-SAVER"); ok {
		c.wire.TellSaver(first)
		screensaver.SelectInput(c.conn, xproto.Drawable(c.root), screensaver.EventNotifyMask)
	}
	if c.mark, err = xproto.NewWindowId(c.conn); err != nil {
		return err
	}
	xproto.CreateWindow(c.conn, 0, c.mark, c.root, -1, -1, 1, 1, 0, xproto.WindowClassInputOnly, 0,
		xproto.CwOverrideRedirect|xproto.CwEventMask, []uint32{1, xproto.EventMaskPropertyChange})
	// Other clients may ask for this too (X protocol, ChangeWindowAttributes).
	xproto.ChangeWindowAttributes(c.conn, c.root, xproto.CwEventMask, []uint32{xproto.EventMaskSubstructureNotify})
	return nil
}

// composites tells whether the pixels of a window can be named (COMPOSITE 0.2).
func (c *Camera) composites() bool {
	if _, ok := display.Extension(c.conn, "Composite"); !ok {
		return false
	}
	r, err := composite.QueryVersion(c.conn, 0, 2).Reply()
	return err == nil && (r.MajorVersion > 0 || r.MinorVersion >= 2)
}

// See tells what is on the display now: the desk, and which of its windows show. It returns at
// once, and keeps what it is given, which must not be written again.
func (c *Camera) See(d *desk.Desk, shown map[int]xproto.Window) {
	c.mu.Lock()
	c.desk, c.seen, c.news = d, shown, true
	c.mu.Unlock()
	c.Wake()
}

// On tells whether the camera is to be told what it sees; there may be no camera (nil).
func (c *Camera) On() bool {
	if c == nil {
		return false
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.opt.On && !c.failed
}

// Configure takes other options.
func (c *Camera) Configure(opt Options) {
	c.mu.Lock()
	c.opt, c.news = opt, true
	c.mu.Unlock()
	c.Wake()
}

// Wake has the camera look whether there is something to do.
func (c *Camera) Wake() {
	select {
	case c.wake <- struct{}{}:
	default:
	}
}

// pump queues what the server tells, without bound, until the connection is gone: the library
// stands still while nobody takes its events.
func (c *Camera) pump(conn *xgb.Conn) {
	for {
		e, err := conn.WaitForEvent()
		c.mu.Lock()
		if e != nil {
			c.events = append(c.events, e)
		}
		gone := e == nil && err == nil
		c.gone = c.gone || gone
		c.mu.Unlock()
		c.Wake()
		if gone {
			return
		}
	}
}

// lost tells whether the connection is gone.
func (c *Camera) lost() bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.gone
}

// work takes pictures until they are turned off, or until the end.
func (c *Camera) work(ctx context.Context) error {
	if err := c.connect(); err != nil {
		return err
	}
	pumped := make(chan struct{})
	go func() { defer close(pumped); c.pump(c.conn) }()
	defer func() {
		c.conn.Close()
		<-pumped
		c.conn, c.wire = nil, nil
		c.album.Clear()
		c.dropped(true)
		if ctx.Err() == nil {
			c.scrub(time.Now())
		}
	}()
	c.learn()
	timer := time.NewTimer(time.Hour)
	defer timer.Stop()
	for {
		c.hear()
		if c.lost() {
			return errors.New("the connection to the X server is gone")
		}
		if !c.On() {
			return nil
		}
		c.meet()
		now := time.Now()
		wait, due := c.look(now)
		if next := c.scrubbed.Add(scrubEvery).Sub(now); c.left > 0 && next <= 0 {
			c.scrub(now)
		} else if c.left > 0 && (!due || next < wait) {
			wait, due = next, true
		}
		if due {
			timer.Reset(max(wait, time.Millisecond))
		} else {
			timer.Stop()
		}
		select {
		case <-ctx.Done():
			return nil
		case <-c.wake:
		case <-timer.C:
		}
	}
}

// learn asks what lies on the root.
func (c *Camera) learn() {
	tree, err := xproto.QueryTree(c.conn, c.root).Reply()
	if err != nil {
		return
	}
	for _, win := range tree.Children {
		c.ask(win)
	}
}

// ask asks about a child of the root.
func (c *Camera) ask(win xproto.Window) {
	if win == c.mark {
		return
	}
	g := xproto.GetGeometry(c.conn, xproto.Drawable(win))
	a, err := xproto.GetWindowAttributes(c.conn, win).Reply()
	at, err2 := g.Reply()
	if err != nil || err2 != nil {
		return // it is gone already
	}
	c.tops[win] = &top{outer(at.X, at.Y, at.Width, at.Height, at.BorderWidth), a.MapState != xproto.MapStateUnmapped, a.Class == xproto.WindowClassInputOnly, a.OverrideRedirect}
}

// outer is a rectangle with its border.
func outer(x, y int16, w, h, border uint16) geom.Rect {
	return geom.R(int(x), int(y), int(w)+2*int(border), int(h)+2*int(border))
}

// hear follows what has come from the server.
func (c *Camera) hear() {
	c.mu.Lock()
	events := c.events
	c.events = nil
	c.mu.Unlock()
	for _, e := range events {
		c.follow(e)
	}
}

// change notes that something lies elsewhere than before.
func (c *Camera) change() { c.moved, c.movedAt = c.moved+1, time.Now() }

func (c *Camera) follow(e xgb.Event) {
	switch e := e.(type) {
	case xproto.ExposeEvent: // see Wire.TellDamage
		if s := c.byWin[e.Window]; s != nil {
			s.dirty = true
		}
	case xproto.VisibilityNotifyEvent: // see Wire.TellSaver
		if e.Window == c.root {
			if c.saver = e.State == screensaver.StateOn; c.saver {
				c.dropped(c.album.Clear())
			}
		}
	case xproto.PropertyNotifyEvent:
		if e.Window == c.mark {
			c.marks++
		}
	case xproto.CreateNotifyEvent:
		if e.Parent == c.root && e.Window != c.mark {
			// Whether it has pixels is not told: it is taken for one that has.
			c.tops[e.Window] = &top{rect: outer(e.X, e.Y, e.Width, e.Height, e.BorderWidth), override: e.OverrideRedirect}
		}
	case xproto.DestroyNotifyEvent:
		c.lose(e.Window)
	case xproto.ReparentNotifyEvent:
		if e.Parent != c.root {
			c.lose(e.Window)
		} else {
			c.ask(e.Window)
			c.change()
		}
	case xproto.MapNotifyEvent:
		if t := c.tops[e.Window]; t != nil {
			t.mapped, t.override = true, e.OverrideRedirect
			c.change()
		}
	case xproto.UnmapNotifyEvent:
		if t := c.tops[e.Window]; t != nil {
			t.mapped = false
			c.change()
		}
	case xproto.ConfigureNotifyEvent:
		if t := c.tops[e.Window]; t != nil {
			t.rect, t.override = outer(e.X, e.Y, e.Width, e.Height, e.BorderWidth), e.OverrideRedirect
			if t.mapped {
				c.change()
			}
		}
	case xproto.CirculateNotifyEvent, xproto.GravityNotifyEvent: // see Wire.TellShape
		c.change()
	}
}

// lose forgets a child of the root that is none any more.
func (c *Camera) lose(win xproto.Window) {
	if t := c.tops[win]; t != nil && t.mapped {
		c.change()
	}
	delete(c.tops, win)
}

// synced waits until all that the server has told before now was followed; false where the
// connection is gone.
func (c *Camera) synced() bool {
	want := c.marks + 1
	xproto.ChangeProperty(c.conn, xproto.PropModeReplace, c.mark, xproto.AtomWmName, xproto.AtomString, 8, 0, nil)
	if _, err := xproto.GetInputFocus(c.conn).Reply(); err != nil {
		return false
	}
	for {
		if c.hear(); c.marks >= want {
			return true
		}
		if c.lost() {
			return false
		}
		<-c.wake // the pump's: the event is on its way
	}
}

// meet takes up what the host has told last, and what is to be done.
func (c *Camera) meet() {
	c.mu.Lock()
	opt, d, seen, news := c.opt, c.desk, c.seen, c.news
	c.news = false
	c.mu.Unlock()
	if !news || d == nil {
		return
	}
	private := func(w *desk.Window) bool { return c.private(d, w, opt.Private) }
	c.dropped(c.album.Keep(func(id int) bool { w := d.Window(id); return w != nil && !private(w) }))
	for id, s := range c.subjects {
		if w := d.Window(id); w == nil || private(w) || seen[id] != 0 && seen[id] != s.win {
			c.part(s)
		}
	}
	maps.DeleteFunc(c.judged, func(id int, _ judgement) bool { return d.Window(id) == nil })
	for id, win := range seen {
		w := d.Window(id)
		if w == nil || private(w) {
			continue
		}
		s := c.subjects[id]
		if s == nil {
			s = c.add(id, win)
		}
		if s.size != w.Rect || !c.damages && s.title != w.Title {
			s.size, s.title, s.dirty = w.Rect, w.Title, true
		}
	}
}

// scrubs is how often memory is scrubbed after something was dropped: what is free may be kept
// for a goroutine that runs right then, but not each time.
const scrubs = 2

// dropped has memory be scrubbed where pictures were dropped.
func (c *Camera) dropped(some bool) {
	if some {
		c.left = scrubs
	}
}

// scrub gives memory that is free back to the system. The album overwrites what it drops, and the
// wire the server's answers; what a screen was sent or a list has shown is only freed.
func (c *Camera) scrub(now time.Time) {
	debug.FreeOSMemory()
	c.left, c.scrubbed = max(c.left-1, 0), now
}

// judgement is whether a window is private, and what that follows from.
type judgement struct {
	window  *desk.Window
	rules   []desk.Rule
	words   []string
	private bool
}

// private tells whether a window is never to be pictured.
func (c *Camera) private(d *desk.Desk, w *desk.Window, words []string) bool {
	rules := d.Settings.Rules
	j, known := c.judged[w.ID]
	if !known || j.window != w || !same(j.rules, rules) || !same(j.words, words) {
		name := strings.ToLower(w.App + " " + w.Class)
		j = judgement{w, rules, words, d.Rule(w).Private || slices.ContainsFunc(words, func(word string) bool { return strings.Contains(name, word) })}
		c.judged[w.ID] = j
	}
	return j.private
}

// same tells whether two slices are one.
func same[T any](a, b []T) bool { return len(a) == len(b) && (len(a) == 0 || &a[0] == &b[0]) }

// add begins to picture a window.
func (c *Camera) add(id int, win xproto.Window) *subject {
	s := &subject{id: id, win: win, dirty: true, blocked: -1}
	if c.damages {
		if d, err := damage.NewDamageId(c.conn); err == nil {
			s.damage = d
			damage.Create(c.conn, d, xproto.Drawable(win), damage.ReportLevelNonEmpty)
		}
	}
	if c.shapes {
		shape.SelectInput(c.conn, win, true)
	}
	c.subjects[id], c.byWin[win] = s, s
	return s
}

// part ends that.
func (c *Camera) part(s *subject) {
	if s.damage != 0 {
		damage.Destroy(c.conn, s.damage) // of a window that is gone it is gone too
	}
	if c.shapes {
		shape.SelectInput(c.conn, s.win, false)
	}
	delete(c.subjects, s.id)
	delete(c.byWin, s.win)
}

// look takes the pictures that are due, and tells in how long there may be others; due is
// false where nothing is to be waited for but news.
func (c *Camera) look(now time.Time) (wait time.Duration, due bool) {
	if c.saver {
		return 0, false
	}
	c.mu.Lock()
	seen := c.seen
	c.mu.Unlock()
	// What is in the way of a window, or goes, is told by an event.
	rest := c.movedAt.Add(c.every.rest << min(c.spoilt/tries, 4)).Sub(now)
	if rest > 0 {
		return rest, true
	}
	if c.locked() {
		return 0, false
	}
	asked := c.album.Asked()
	var take []*subject
	for id := range seen {
		s := c.subjects[id]
		if s == nil || !s.dirty || s.blocked == c.moved {
			continue // or what is in its way is there still
		}
		every := c.every.other
		if asked[id] {
			every = c.every.shown
		}
		left := s.taken.Add(every).Sub(now)
		if left <= 0 {
			take = append(take, s)
			continue
		}
		if !due || left < wait {
			wait, due = left, true
		}
	}
	if len(take) == 0 {
		return wait, due
	}
	slices.SortFunc(take, func(a, b *subject) int { return a.taken.Compare(b.taken) })
	if !c.take(take[:min(len(take), atOnce)]) {
		c.spoilt++
		return c.every.rest, true
	}
	// Others may be due by what has come meanwhile: they are looked for once more.
	c.spoilt = 0
	return c.every.rest, true
}
