// Package desk is the model of everything that is open: monitors, workspaces,
// windows, where each is, what is shown and focused; and the commands that
// change it. It is pure: it knows no clock, disk, terminal or X server.
//
// A Desk is never written again once it is handed out. A change makes a new Desk that shares
// what stayed the same with the old one. So a copy to try a command on, a snapshot for a screen
// and a step to take back cost next to nothing.
package desk

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// MaxMonitors is how many letters there are: A to Z.
const MaxMonitors = 26

// MaxWorkspaces bounds the workspaces of a desk, so that a message of another
// program cannot ask for a million of them.
const MaxWorkspaces = 99

// Settings are the rules a desk is kept by.
type Settings struct {
	Gap  int  // pixels between tiled windows and around them, 0 to 500
	Wrap bool // next after the last workspace is the first
	// Growing keeps exactly one empty workspace without a name, the last one.
	Growing bool
	// Separate gives every monitor a workspace of its own; else all show one.
	Separate bool
	// EdgeGoes has move take a window, and focus go, over the edge of the outermost monitor to
	// the next workspace, or the one before.
	EdgeGoes bool
	Layout   layout.Kind       // of sheets that are new
	Grids    map[byte]GridSize // of monitors by letter, 0 for the others; never written
	Pins     map[byte]Query    // by letter a to z; never written
	Rules    []Rule            // for windows that open; never written
	Lay      []string          // plates that are laid when their monitors come; never written
	// Alongside tells that another program manages the windows: every sheet is free,
	// what lays windows out places them once, and facts alone say where they are.
	Alongside bool
	// Lacks are the verbs for which that program takes no request; never written.
	Lacks []string
}

// GridSize is how many columns and rows a monitor is parted into for placing windows
// by cells, numbered by rows from 1.
type GridSize struct{ Cols, Rows int }

// UsualGrid is the grid of monitors that the settings give none.
var UsualGrid = GridSize{3, 3}

// GridOf is the grid of a monitor.
func (d *Desk) GridOf(letter byte) GridSize {
	for _, l := range []byte{letter, 0} {
		if g, ok := d.Settings.Grids[l]; ok {
			return g
		}
	}
	return UsualGrid
}

// Monitor is a screen that is, or was, plugged in.
type Monitor struct {
	Key       string // connector and EDID, by which a host knows it again
	Letter    byte   // 'A' to 'Z', kept once given
	Name      string
	Rect      geom.Rect // of the whole plane; of an unplugged one, its last
	Work      geom.Rect // Rect less what docks reserve
	Primary   bool
	Header    int  // the height in pixels of its piles' and tabs' headers, to layout.MaxHeader; 0 for the usual
	Connected bool // and so has a sheet of every workspace
	// Mirrors is the letter of the monitor whose picture this one shows, in
	// whose rectangle it lies; else 0. One that mirrors is plugged in and has
	// no sheets, and so is not Connected.
	Mirrors byte
}

// Workspace is one place in the user's order.
type Workspace struct {
	ID     int // never used again on this desk
	Name   string
	Home   byte
	Pin    byte                // the letter that jumps to it, or 0
	sheets [MaxMonitors]*Sheet // of connected monitors
	away   [MaxMonitors]*Sheet // of unplugged ones, as they were left
}

// Sheet is what lies of one workspace on one monitor.
type Sheet struct {
	Layout   layout.Kind
	Share    int          // lead's, in per cent
	Leads    int          // how many windows lead, at least 1
	Tiles    *layout.Node // the tiled windows; on a free sheet those that a tiled layout would take up
	NoGaps   bool         // no gap between its tiles or around them
	Next     layout.Split // how the next window splits the focused tile; Leaf for the longer side
	Floating []int        // in stacking order, the lowest first; on a free sheet every window

	// Kept is the tree that the sheet had when it was given another layout, and
	// gets back with the layout tree. Before is its tiles as they were before some
	// of them were floated or minimised, who come back to their places in it as
	// long as the others stand as they did. Both may hold windows that are gone,
	// and are nil where nothing is kept.
	Kept, Before *layout.Node
}

// Kind is what a window is by its own word.
type Kind uint8

// The kinds of windows. Docks and the desktop are no windows of a desk.
const (
	Normal Kind = iota
	Dialog
	Utility
	Splash
)

var kindNames = [...]string{"normal", "dialog", "utility", "splash"}

// String is the kind's name in scenes.
func (k Kind) String() string { return kindNames[k] }

// ParseKind finds a kind by its name.
func ParseKind(name string) (Kind, bool) {
	i := slices.Index(kindNames[:], name)
	return Kind(max(i, 0)), i >= 0
}

// Window is one window of a program.
type Window struct {
	ID     int
	App    string // as its desktop entry calls it, else as Class
	Class  string // of WM_CLASS, where that is another name; else empty
	Title  string
	Role   string
	PID    int
	Kind   Kind
	Parent int // the window this one is a dialog of, or 0

	Rect       geom.Rect // where it is, or would be if its workspace were shown
	Floated    geom.Rect // the last place it floated at; empty where it never did
	Loose      geom.Rect // where it floated before it was snapped; empty where it is not
	Bar        int       // height of its title bar in pixels, 0 where unknown
	MinW, MinH int
	Fixed      bool // has one size
	Sizes      Sizes

	Workspace int  // id of its workspace
	Monitor   byte // letter of its monitor, a connected one
	// Away lists the monitors it was taken from when they went, the latest last:
	// it goes back to each of them that comes, unless it is placed by hand.
	Away   []Absence
	Before Before // zero where its monitor has the size that it was placed on

	// Seat is where it was tiled before it was minimised or floated, on the
	// sheet named; nil where it comes back as a new window would.
	Seat *Seat

	Floating   bool // floats by its owner's wish
	Minimised  bool
	Maximised  bool // covers the work area, and keeps its place
	Wide, Tall bool // covers it in one direction alone, where it floats
	Fullscreen bool // covers the monitor, and keeps its place
	Sticky     bool
	Urgent     bool
	NoFocus    bool // takes no keyboard input
	Above      bool // stays above the other floating ones
	Below      bool // stays below them
	Modal      bool // a dialog for which its parent waits: it gets the focus in its place
	Hung       bool // its program does not answer
	// LastSeen tells that its place is from when it was last seen, and may be another
	// by now: it is out of sight, and another program manages it.
	LastSeen bool
	// Refused are the verbs that were asked for and not done, by a program that manages
	// the window besides us, since anything of it changed; never written.
	Refused []string
	Pin     byte // the letter that jumps to this one window, or 0

	Used  int // the desk's count of focus changes when it last had the focus
	Front int // that count when it last became maximised, fullscreen or minimised, or was raised;
	// below 0 when it was lowered
	UsedAt int64 // when that was, as Desk.Now; 0 where it is not known
}

// Seat is the place of a tile that left the tiles of a sheet. It is never written.
type Seat struct {
	layout.Seat
	Workspace int // id
	Monitor   byte
}

// Absence is a monitor that a window was taken from. Place is where it floated
// there, empty where it was a tile, and Work the work area it floated on: the
// monitor may come back at another place of the plane.
type Absence struct {
	Letter  byte
	Floated geom.Rect
	Work    geom.Rect
}

// Before is where a window floated before its monitor took another size, as for a game. It
// returns there with that size, unless somebody has placed it since.
type Before struct {
	Monitor      byte
	Screen, Work geom.Rect // of the monitor then
	Place        geom.Rect // its place then
	Now          geom.Rect // where it was put instead
}

// on is the remembered place on the monitor's work area of now.
func (a Absence) on(w *Window, work geom.Rect) geom.Rect {
	if a.Work.Empty() || a.Work == work {
		return a.Floated
	}
	if a.Work.W == work.W && a.Work.H == work.H {
		r := a.Floated
		r.X, r.Y = r.X+work.X-a.Work.X, r.Y+work.Y-a.Work.Y
		return r
	}
	lost := w.Lost()
	lost.Rect = a.Floated
	return relocate(lost, a.Work, work)
}

// absence is the place in w.Away of the last time it was taken from a monitor;
// -1 where it was not.
func (w *Window) absence(letter byte) int {
	for i, a := range slices.Backward(w.Away) {
		if a.Letter == letter {
			return i
		}
	}
	return -1
}

// maxAway is how far back the way home is remembered. Only monitors that come
// and go in separate mode, while a workspace's home is gone, make it long.
const maxAway = 16

// takenFrom notes that the window was taken from a monitor, where it floated at
// a place or was a tile.
func (w *Window) takenFrom(from *Monitor, place geom.Rect) {
	if len(w.Away) < maxAway {
		a := Absence{Letter: from.Letter, Floated: place}
		if !place.Empty() {
			a.Work = from.Work
		}
		w.Away = append(slices.Clip(w.Away), a)
	}
}

// Desk is everything, at one moment.
type Desk struct {
	Monitors   []Monitor    // by letter
	Workspaces []*Workspace // in the user's order
	Windows    []*Window    // by id
	Shown      [MaxMonitors]int
	At         byte
	Focus      int   // the focused window's id, or 0
	Recent     []int // ids of workspaces, the most recently shown first
	Clock      int   // how often the focus has changed
	// Bare tells that no window shows, by a look at the bare desk; BareFocus is
	// the window that gets the focus back after it.
	Bare      bool
	BareFocus int
	// BareClock is Clock when it became bare: windows that had the focus since were brought
	// back, each alone.
	BareClock int
	Settings  Settings
	Plates    map[string]*Plate // by name; never written, and in no scene
	apart     []int             // see isApart; never written
	lastID    int               // the highest workspace id ever given
	strays    []stray.Monitor
	past      *step // what undo takes back
	steps     int   // how many were ever made, for their numbers
	start     int   // the number of the last step before those that are kept
	future    *step // what redo does again
	awaited   *awaited
	book      *rulebook // of the rules in Settings; of others, or nil, it does not count
	expecting []Expect  // programs that were started and have shown no window yet
	// Now is the time as the keeper knows it, in seconds since 1970; 0 where it
	// is not known.
	Now int64
}

// New makes a desk of empty workspaces of those names, or of one without a name, on the
// given monitors, of which at least one must be connected.
func New(monitors []Monitor, s Settings, names ...string) (*Desk, error) {
	b := NewBuilder(s)
	b.Monitors(monitors)
	if len(names) == 0 {
		names = []string{""}
	}
	for _, name := range names {
		b.Workspace(Workspace{Name: name})
	}
	return b.Desk()
}

// MustFloat tells whether no layout may tile the window.
func (w *Window) MustFloat() bool { return w.Fixed || w.Kind != Normal || w.Parent != 0 || w.Sticky }

// floats tells whether the window wants no tile.
func (w *Window) floats() bool { return w.Floating || w.MustFloat() }

// Label is what the window is called in messages: its app and its title, one of
// them when there is no other or the title says it too, else its number; cut to
// 48 letters.
func (w *Window) Label() string {
	app, title := strings.TrimSpace(w.App), strings.TrimSpace(w.Title)
	switch {
	case app == "" && title == "":
		return fmt.Sprintf("#%d", w.ID)
	case title == "":
		return Cut(app, 48)
	case app == "" || strings.Contains(strings.ToLower(title), strings.ToLower(app)):
		return Cut(title, 48)
	}
	return Cut(Cut(app, 20)+" · "+title, 48)
}

// Name is the title, else what Label says: for a second window in a message, and
// where its app stands beside it.
func (w *Window) Name() string {
	if title := strings.TrimSpace(w.Title); title != "" {
		return Cut(title, 40)
	}
	return w.Label()
}

// Cut is s shortened to n runes, the last of them an ellipsis.
func Cut(s string, n int) string {
	if len(s) <= n {
		return s
	}
	runes := []rune(s)
	if len(runes) <= n {
		return s
	}
	return string(runes[:n-1]) + "…"
}

// Lost is the window as the rules for strays see it.
func (w *Window) Lost() stray.Window {
	return stray.Window{Rect: w.Rect, Bar: w.Bar, MinW: w.MinW, MinH: w.MinH, Fixed: w.Fixed}
}

// Title is what the workspace at index i is called: number and name.
func (d *Desk) Title(i int) string {
	if name := d.Workspaces[i].Name; name != "" {
		return strconv.Itoa(i+1) + " " + name
	}
	return strconv.Itoa(i + 1)
}

// Window finds a window by its id; nil where there is none.
func (d *Desk) Window(id int) *Window {
	if i, ok := d.find(id); ok {
		return d.Windows[i]
	}
	return nil
}

// find is where a window stands in the list, or would. Ids count from 1 and few are
// gone, so that it stands hardly before the place of its number, and never after it.
func (d *Desk) find(id int) (int, bool) {
	hi := min(id, len(d.Windows))
	if id < 1 {
		hi = 0
	}
	lo := hi
	for step := 1; lo > 0 && d.Windows[lo-1].ID >= id; step *= 2 {
		hi, lo = lo, max(0, lo-step)
	}
	i, ok := slices.BinarySearchFunc(d.Windows[lo:hi], id, func(w *Window, id int) int { return w.ID - id })
	return lo + i, ok
}

// Monitor finds a monitor by its letter; nil where there is none.
func (d *Desk) Monitor(letter byte) *Monitor { return find(d.Monitors, letter) }

// AtTime is the desk at a time, in seconds since 1970.
func (d *Desk) AtTime(now int64) *Desk {
	c := *d
	c.Now = now
	return &c
}

// WithOwn is the desk with what a scene does not tell: the letters that settings give to apps,
// and the grids they give to monitors.
func (d *Desk) WithOwn(s Settings) *Desk {
	if d.Settings.Pins != nil && d.Settings.Grids != nil {
		return d
	}
	c := *d
	c.Settings.Pins, c.Settings.Grids = s.Pins, s.Grids
	return &c
}

// Idle is for how many seconds a window has not had the focus; ok is false
// where that is not known.
func (d *Desk) Idle(w *Window) (seconds int64, ok bool) {
	switch {
	case w.ID == d.Focus:
		return 0, true
	case w.UsedAt == 0 || d.Now == 0:
		return 0, false
	}
	return max(d.Now-w.UsedAt, 0), true
}

// Plugged lists the monitors that are plugged in, those that mirror another
// among them.
func (d *Desk) Plugged() []Monitor {
	return slices.DeleteFunc(slices.Clone(d.Monitors), func(m Monitor) bool { return !m.Connected && m.Mirrors == 0 })
}

// Connected tells whether a monitor of that letter is plugged in.
func (d *Desk) Connected(letter byte) bool {
	m := d.Monitor(letter)
	return m != nil && m.Connected
}

// Index is the position of the workspace with that id, from 0; -1 where there is none.
func (d *Desk) Index(id int) int {
	return slices.IndexFunc(d.Workspaces, func(ws *Workspace) bool { return ws.ID == id })
}

// Current is the index of the workspace that At shows; of the most recent one
// where At shows none.
func (d *Desk) Current() int {
	if i := d.shownOn(d.At); i >= 0 {
		return i
	}
	if len(d.Recent) > 0 {
		return max(d.Index(d.Recent[0]), 0)
	}
	return 0
}

// IsShown tells whether a monitor shows the workspace with that id.
func (d *Desk) IsShown(id int) bool {
	for _, m := range d.Monitors {
		if m.Connected && d.Shown[m.Letter-'A'] == id {
			return true
		}
	}
	return false
}

// Sheet is the sheet of the workspace at index i on a monitor; nil where it
// has none there.
func (d *Desk) Sheet(i int, letter byte) *Sheet { return d.Workspaces[i].sheets[letter-'A'] }

// AwaySheet is the sheet that the workspace at index i had on an unplugged
// monitor; nil where it had none.
func (d *Desk) AwaySheet(i int, letter byte) *Sheet { return d.Workspaces[i].away[letter-'A'] }

// Ref is the reference of the sheet the window is on, such as B3.
func (d *Desk) Ref(w *Window) string {
	return fmt.Sprintf("%c%d", w.Monitor, d.Index(w.Workspace)+1)
}

// Visible tells whether the window would be seen if nothing covered it.
func (d *Desk) Visible(w *Window) bool {
	return !d.hidden(w) && d.onShown(w)
}

// hidden tells whether the bare desk hides the window.
func (d *Desk) hidden(w *Window) bool { return d.Bare && w.Used <= d.BareClock }

// onShown tells whether the window would be seen if the desk were not bare.
func (d *Desk) onShown(w *Window) bool {
	return !w.Minimised && (w.Sticky || d.Shown[w.Monitor-'A'] == w.Workspace)
}

// Strays gives the monitors as the rules for strays see them.
func (d *Desk) Strays() []stray.Monitor { return d.strays }

// setMonitors takes the monitors, by letter.
func (d *Desk) setMonitors(ms []Monitor) {
	d.Monitors = ms
	d.strays = make([]stray.Monitor, len(ms))
	for i, m := range ms {
		d.strays[i] = stray.Monitor{Letter: m.Letter, Rect: m.Rect, Work: m.Work, Primary: m.Primary, Connected: m.Connected}
	}
}

// Tiled tells whether the window has a tile on its sheet right now.
func (d *Desk) Tiled(w *Window) bool {
	if w.Minimised || w.floats() {
		return false
	}
	s := d.Sheet(d.Index(w.Workspace), w.Monitor)
	return s != nil && s.Layout != layout.Free
}

// Untiled is why a window has no tile, with the verb that gives it one; nil for one that has.
func (d *Desk) Untiled(w *Window) error {
	switch {
	case d.Tiled(w):
		return nil
	case w.Minimised:
		return fmt.Errorf("%s is minimised: restore brings it back", w.Label())
	case w.MustFloat():
		return fmt.Errorf("%s always floats: %s", w.Label(), whyFloats(w))
	case w.Floating:
		return fmt.Errorf("%s floats, and has no tile: float gives it one, resize makes it larger", w.Label())
	}
	return fmt.Errorf("%s has no tile: its sheet is free, and layout tiles it", w.Label())
}

// States are the window's states in words, for lists.
func (d *Desk) States(w *Window) []string {
	states := []string{}
	for _, s := range []struct {
		on   bool
		word string
	}{
		{d.Focus == w.ID, "focused"},
		{!w.Minimised && !d.Tiled(w) && !d.Settings.Alongside, "floating"},
		{w.Maximised && d.Covers(w), "maximised"},
		{w.Maximised && !d.Covers(w), "maximised when in front"},
		{w.Wide, "wide"},
		{w.Tall, "high"},
		{w.Fullscreen && d.Covers(w), "fullscreen"},
		{w.Fullscreen && !d.Covers(w), "fullscreen when in front"},
		{w.Minimised, "minimised"},
		{w.Sticky, "sticky"},
		{w.Urgent, "urgent"},
		{d.Covered(w), "covered"},
		{w.Above, "above"},
		{w.Below, "below"},
		{w.Hung, "hung"},
		{w.LastSeen, "last seen"},
	} {
		if s.on {
			states = append(states, s.word)
		}
	}
	return states
}

// Order lists the windows of the workspace at index i on a monitor: tiles
// first, in their order, then the others by id. Minimised ones are left out.
func (d *Desk) Order(i int, letter byte) []*Window {
	s := d.Sheet(i, letter)
	if s == nil {
		return nil
	}
	ids := s.Tiles.Windows()
	tiles := len(ids)
	for _, id := range s.Floating {
		if w := d.Window(id); s.Layout != layout.Free || w.floats() {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids[tiles:])
	ws := make([]*Window, len(ids))
	for i, id := range ids {
		ws[i] = d.Window(id)
	}
	return ws
}

// Minimised lists the minimised windows of the workspace at index i on a monitor, by id.
func (d *Desk) Minimised(i int, letter byte) []*Window {
	var ws []*Window
	for _, w := range d.found(d.apart) {
		if w.Minimised && w.Workspace == d.Workspaces[i].ID && w.Monitor == letter {
			ws = append(ws, w)
		}
	}
	return ws
}

// Count is how many windows the workspace at index i has, minimised ones too.
func (d *Desk) Count(i int) int {
	n := 0
	for _, s := range d.Workspaces[i].sheets {
		if s != nil {
			n += s.count()
		}
	}
	for _, w := range d.found(d.apart) {
		if w.Minimised && w.Workspace == d.Workspaces[i].ID {
			n++
		}
	}
	return n
}

// listed are the windows on the lists of the sheet.
func (s *Sheet) listed() []int {
	if s.Layout == layout.Free {
		return s.Floating
	}
	return slices.Concat(s.Tiles.Windows(), s.Floating)
}

// count is how many windows are on the lists of the sheet.
func (s *Sheet) count() int {
	if s.Layout == layout.Free {
		return len(s.Floating)
	}
	return s.Tiles.Count() + len(s.Floating)
}

// SheetRef names the sheet of the workspace at index i on a monitor.
func SheetRef(i int, letter byte) string { return fmt.Sprintf("%c%d", letter, i+1) }
