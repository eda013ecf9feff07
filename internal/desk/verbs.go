package desk

import (
	"errors"
	"fmt"
	"runtime/debug"
	"slices"
	"strings"
	"sync"

	"zatlas/internal/layout"
)

// Verb is one command: the only place where it is written down. The parser,
// the help, the legend, the prompts of the screens, completion and the
// documentation are made from it. To add one, add a row to the table and write
// its function.
type Verb struct {
	Name string
	// Usage is what follows the name. Words in capitals are kinds of
	// arguments, | parts alternatives, [ ] what can be left out; forms are
	// parted by " / ".
	Usage  string
	Help   string // a sentence
	Also   string // other words that people use for it
	Key    string // on the screens: one letter; empty where it has none
	Bound  string // keys of the screens that stand for forms of it, where Key is empty
	Legend string // what the legend calls it, where that is not its name
	Asks   Ask    // what its key asks for first
	For    Use    // what it is for
	// Purpose is what one wants to do with it: the groups of the page of keys.
	Purpose Purpose
	Rank    int // in the legend: 1 and on, the first ones first; 0 for after those, Unlisted for never
	// Windows tells that the verb acts on windows and takes "of WINDOWS".
	Windows bool
	// Picks tells that it takes "of WINDOWS" instead of an argument, of which one is meant.
	Picks bool
	// Sheet tells that without windows it acts on the current sheet.
	Sheet bool
	// View tells that it changes only what is shown and focused, which is no
	// step of undo.
	View bool
	// Goes tells that the view or the focus moves by it, so that a screen
	// brought up to choose a place has done its work.
	Goes bool
	// Repeats tells when the verb is done again while its key is held.
	Repeats Repetition
	// Bares tells that it leaves the bare desk bare: what it gives the focus comes back alone.
	Bares bool
	// Sends tells that it takes windows to a place, and so may take all of an app.
	Sends bool
	// Rescues tells that it is about what is lost, also where no window is chosen.
	Rescues bool
	// Travels tells that it goes along the history.
	Travels bool
	// Plates tells that it reads or changes plates.
	Plates bool
	// MadeUp tells that it works on desks without a display alone.
	MadeUp bool
	// Joins makes one step of undo of commands about the same thing less than a second apart.
	// Their words may differ: a workspace moves from 4 to 3, then from 3 to 2.
	Joins  bool
	Effect Effect // beyond the desk
	// Instead is the verb that its key stands for on one window, where that is
	// another, as restore is on a minimised one; nil where it never is.
	Instead func(w *Window) string
	// Without is the window it acts on where none is named, 0 for none; nil for the one
	// that has the focus.
	Without func(d *Desk) int
	// Sure asks before it is done by hand; nil where it never does.
	Sure func(d *Desk, c Command) (q Question, asks bool)

	// Never says why it cannot be had where another program manages the windows; empty
	// where it can.
	Never string

	apply func(e *edit, c Command) (string, error)
	// once is apply where another program manages the windows: it places them once.
	// It is nil where that is the same.
	once func(e *edit, c Command) (string, error)
}

// Ask is what the key of a verb asks for before it is done.
type Ask uint8

// What is asked for.
const (
	AskNothing   Ask = iota
	AskPlace         // a workspace, a sheet or a monitor
	AskMonitor       // a monitor
	AskLayout        // a layout
	AskDirection     // a direction, or next and prev
	AskSplit         // across or down
	AskPart          // a part of the work area
	AskSteps         // arrows, one step after the other
	AskLetter        // a letter a to z
	AskName          // a name
	AskApp           // an app
	AskPlate         // the letter of a plate
	AskThat          // nothing: it is about the chosen workspace
)

// Use is what a verb is for.
type Use uint8

// The uses.
const (
	ForAll Use = iota
	ForTiles
	ForFloating
	ForWorkspaces
	ForMonitors
)

// Purpose is what one wants to do.
type Purpose uint8

// The purposes, in the order of the page of keys.
const (
	GoingAbout Purpose = iota
	Sending
	Arranging
	Placing
	Finding
	LostAndFound
	Keeping
	Closing
	OfWorkspaces
	OfMonitors
	Undoing
	OfScreens
)

// String is a purpose in words.
func (p Purpose) String() string {
	return [...]string{"go about", "send", "arrange", "place", "find and start", "lost and found", "plates", "close", "workspaces", "monitors", "undo", "screens"}[p]
}

// Unlisted is the rank of a verb that the legend does not show.
const Unlisted = -1

// Effect is what a verb does beyond the desk.
type Effect uint8

// The effects. Those on windows are on the ones that the command was about.
const (
	NoEffect       Effect = iota
	CloseWindows          // their programs are asked to close them
	KillWindows           // their programs are ended
	ReloadSettings        // the settings are read again
	StartApp              // an app is started, where Result.Start names one
	KeepPin               // the settings keep a pin, where Result.Pin is one
	EndKeeper
	RestartKeeper
)

// Question is what is asked before a command is done: in a sentence, and what
// Enter and Escape do then.
type Question struct{ Text, Does, Leaves string }

// Repetition is when a verb is done again while its key is held. What makes,
// removes, closes, kills, opens, toggles or sends is not: a moment too long must
// not make four workspaces, nor close six windows.
type Repetition uint8

// The repetitions.
const (
	Once  Repetition = iota
	Steps            // with a direction, next or prev: one step after the other
	Held             // always
)

// Repeats tells whether a command is done again while its key is held.
func (c Command) Repeats() bool {
	v, _ := FindVerb(c.Verb)
	steps := slices.ContainsFunc(c.Args, func(a Arg) bool {
		_, dir := ParseDir(a.Word)
		return a.Kind == Keyword && (dir || a.Word == "next" || a.Word == "prev")
	})
	return v.Repeats == Held || v.Repeats == Steps && steps
}

// Command is a verb with its arguments. Of is nil where no windows were named.
type Command struct {
	Verb string
	Args []Arg
	Of   Query
	// At is when it was asked for by a key, in milliseconds of any clock; 0
	// where it was not. Equal commands less than a second apart by this are one
	// step of undo.
	At int64
	// Hand is the same for all commands of one use of a mode of the screens, and 0 outside.
	// Those of one verb are one step, however long it takes.
	Hand int64
}

// ArgKind is what an argument is.
type ArgKind uint8

// The kinds of arguments.
const (
	Keyword ArgKind = iota // a word of the grammar, in Word
	Number                 // a workspace's number, in N
	Letter                 // a monitor's letter, in Letter
	Small                  // a letter a to z, in Letter
	Grid                   // columns and rows, in Grid
	Ref                    // a sheet: Letter and N
	Name                   // a workspace's name, in Word
	Item                   // a window's id, in N
	Share                  // a share in per cent, in N
	Order                  // numbers of workspaces parted by commas, in Word
	Words                  // of a command, in Word
)

// Arg is one argument.
type Arg struct {
	Kind   ArgKind
	Word   string
	N      int
	Letter byte
	Grid   GridSize
}

// Result is what a command did, and what is left to do beyond the desk.
type Result struct {
	Report
	Effect Effect  // beyond the desk
	Pin    *Pin    // to be kept in the settings; nil for none
	Start  *Start  // an app to be started; nil for none
	Starts []Start // apps to be started besides, as far as they can be
	// Travelled are the steps that undo has taken back, or redo done again, in order.
	Travelled []Travelled
	// Fault is what went wrong with a command that did something all the same; nil for
	// nothing.
	Fault error
}

// Report is what a command did, for whoever asked for it.
type Report struct {
	Words   string // what happened, as a sentence or two
	Goes    bool   // the verb moves the view or the focus
	Windows []int  // the windows the command was about
	// Workspace is the id of the workspace the command was about, or 0.
	Workspace int
}

const (
	present = "NUMBER|SHEET|NAME|next|prev|back|first|last"
	places  = "NUMBER|SHEET|MONITOR|NAME|next|prev|back|first|last|new|left|right|up|down / monitor next|prev"
)

// table is the one table of commands, built when it is first asked for: its
// functions read it themselves.
var table = sync.OnceValue(func() verbTable {
	t := verbTable{rows: rows(), index: map[string]int{}}
	for i, v := range t.rows {
		t.index[v.Name] = i
	}
	return t
})

type verbTable struct {
	rows  []Verb
	index map[string]int // by name
}

// rows are the verbs in the order of the page of keys.
func rows() []Verb {
	return []Verb{
		{Name: "go", Also: "switch jump workspace desktop show", Purpose: GoingAbout, Usage: "NUMBER|SHEET|MONITOR|NAME|next|prev|back|first|last|new", Key: "g", View: true, Goes: true, Repeats: Steps, Asks: AskPlace, Rank: Unlisted, apply: (*edit).goTo,
			Help: "Show a workspace, or go to what a monitor shows."},
		{Name: "send", Also: "move drag mouse", Purpose: Sending, Sends: true, Usage: places, Key: "s", Windows: true, Asks: AskPlace, Rank: 1, apply: (*edit).send,
			Help: "Send windows to a workspace or a monitor. The view stays here."},
		{Name: "carry", Also: "move follow take", Purpose: Sending, Sends: true, Usage: places, Key: "c", Windows: true, Goes: true, Asks: AskPlace, Rank: 2, apply: (*edit).carry,
			Help: "Send windows and go along with them."},
		{Name: "focus", Also: "activate select switch", Purpose: GoingAbout, Bares: true, Picks: true, Usage: "left|right|up|down|next|prev|back|urgent|WINDOW|MONITOR / monitor next|prev / app next|prev", View: true, Goes: true, Repeats: Steps, apply: (*edit).focus,
			Help: "Give the focus to another window, or to a monitor."},
		{Name: "add", Also: "new create make workspace desktop", Purpose: OfWorkspaces, Usage: "[NAME] [at NUMBER]", Key: "a", Asks: AskName, Rank: 13, apply: (*edit).add,
			Help: "Add a workspace, at the end or at a place."},
		{Name: "remove", Also: "delete workspace desktop", Purpose: OfWorkspaces, Usage: "[" + present + "] [into " + present + "]", Key: "A", Asks: AskThat, For: ForWorkspaces, Sure: sureToRemove, apply: (*edit).remove,
			Help: "Remove a workspace. Its windows go to the one beside it."},
		{Name: "rename", Also: "name label title", Purpose: OfWorkspaces, Usage: "[" + present + "] NAME|EMPTY", Key: "e", Asks: AskName, For: ForWorkspaces, apply: (*edit).rename,
			Help: `Rename a workspace; "" takes its name away.`},
		{Name: "reorder", Also: "sort order move", Purpose: OfWorkspaces, Usage: "up|down|first|last / as ORDER / " + present + " to NUMBER", Joins: true, Bound: "K J", Legend: "move up, down", For: ForWorkspaces, apply: (*edit).reorder,
			Help: "Move a workspace in the order, or set the whole order."},
		{Name: "home", Purpose: OfWorkspaces, Usage: "[" + present + "] MONITOR", Key: "G", Asks: AskMonitor, For: ForWorkspaces, Never: "separate mode is the keeper's", apply: (*edit).home,
			Help: "Give a workspace a home monitor, for separate mode."},
		{Name: "vacate", Also: "empty evacuate unplug", Purpose: OfMonitors, Usage: "MONITOR [to MONITOR]", Key: "C", Asks: AskMonitor, For: ForMonitors, Rank: Unlisted, apply: (*edit).vacate,
			Help: "Move a monitor's windows to another one before you unplug it."},
		{Name: "plug", Also: "connect attach", Purpose: OfMonitors, Usage: "MONITOR", View: true, MadeUp: true, For: ForMonitors, apply: (*edit).plug,
			Help: "Plug in a monitor of the demo or a scene."},
		{Name: "pull", Also: "unplug disconnect detach", Purpose: OfMonitors, Usage: "MONITOR", View: true, MadeUp: true, For: ForMonitors, apply: (*edit).pull,
			Help: "Unplug a monitor of the demo or a scene."},
		{Name: "layout", Also: "tile columns rows arrange stack", Purpose: Arranging, Usage: strings.Join(layout.Names(), "|") + "|next / lead COUNT", Key: "t", Windows: true, Sheet: true, Asks: AskLayout, Rank: 5, apply: (*edit).layout, once: (*edit).layOnce,
			Help: "Lay out the sheet as columns, rows, lead, tree, pile, tabs or free."},
		{Name: "swap", Also: "exchange switch", Purpose: Arranging, Usage: "left|right|up|down|next|prev", Key: "w", Windows: true, Asks: AskDirection, For: ForTiles, Rank: 7, apply: (*edit).swap, once: (*edit).swapOnce,
			Help: "Swap two tiles."},
		{Name: "move", Purpose: Arranging, Usage: "left|right|up|down", Windows: true, Bound: "H J K L", For: ForTiles, Rank: Unlisted, apply: (*edit).move,
			Help: "Move a tile past its neighbour, out of its group, or to the next monitor."},
		{Name: "put", Also: "drag mouse dock insert", Purpose: Arranging, Usage: "left|right|up|down MONITOR|WINDOW / onto WINDOW", Windows: true, For: ForTiles, Never: noTiles, apply: (*edit).putVerb,
			Help: "Put a tile beside or onto another one, or at an edge of the sheet."},
		{Name: "split", Also: "divide", Purpose: Arranging, Usage: "across|down", Key: "d", Windows: true, Asks: AskSplit, For: ForTiles, Never: noTiles, apply: (*edit).split,
			Help: "Choose where the next window opens: to the right of this tile, or below."},
		{Name: "turn", Also: "rotate flip", Purpose: Arranging, Key: "T", Windows: true, For: ForTiles, Never: noTiles, apply: (*edit).turn,
			Help: "Turn the group around this tile a quarter clockwise."},
		{Name: "mirror", Also: "flip reverse", Purpose: Arranging, Key: "W", Windows: true, For: ForTiles, Never: noTiles, apply: (*edit).mirror,
			Help: "Mirror the group around this tile, left to right."},
		{Name: "group", Also: "stack tabs pile merge together", Purpose: Arranging, Usage: "left|right|up|down|next|prev [pile|tabs]", Key: "y", Windows: true, Asks: AskDirection, For: ForTiles, Never: noTiles, apply: (*edit).group,
			Help: "Group a tile with its neighbour, or make a pile or tabs of them."},
		{Name: "ungroup", Also: "unstack separate", Purpose: Arranging, Usage: "[all]", Key: "Y", Windows: true, For: ForTiles, Never: noTiles, apply: (*edit).ungroup,
			Help: "Ungroup the tiles around this one, or all tiles of the sheet."},
		{Name: "even", Also: "equal balance same", Purpose: Arranging, Usage: "[all]", Key: "=", Windows: true, For: ForTiles, apply: (*edit).even, once: (*edit).evenOnce,
			Help: "Make the tiles of this group, or of the whole sheet, equal."},
		{Name: "share", Also: "wider width narrower bigger smaller grow shrink percentage ratio size", Purpose: Arranging, Usage: "PERCENT", Windows: true, Joins: true, Repeats: Held, Bound: "+ -", For: ForTiles, Rank: Unlisted, apply: (*edit).share, once: (*edit).shareOnce,
			Help: "Make the lead, or this tile, that many per cent wider."},
		{Name: "gaps", Also: "space margin padding gap", Purpose: Arranging, Usage: "[on|off]", Key: "_", Windows: true, Sheet: true, Rank: Unlisted, Never: noTiles, apply: (*edit).gaps,
			Help: "Turn the gaps of a sheet on or off."},
		{Name: "maximise", Also: "bigger full large zoom enlarge", Purpose: Placing, Usage: "[on|off] / across|down [on|off]", Key: "m", Windows: true, Rank: 8, apply: (*edit).maximise,
			Help: "Cover the work area with a window, or put it back."},
		{Name: "fullscreen", Also: "full screen bigger whole", Purpose: Placing, Usage: "[on|off]", Key: "F", Windows: true, apply: (*edit).fullscreen,
			Help: "Cover the monitor with a window, or put it back."},
		{Name: "snap", Also: "half third quarter corner centre center middle grid place tile", Purpose: Placing, Usage: strings.Join(SnapNames(), "|") + " / left|right|top|bottom|middle " + strings.Join(SnapParts(), "|") + " / GRID COUNT COUNT", Key: "p", Windows: true, Asks: AskPart, Rank: 9, apply: (*edit).snap,
			Help: "Place a window on a half, third or quarter of the work area, or on cells of a grid."},
		{Name: "rescue", Also: "recover lost find offscreen bring", Purpose: LostAndFound, Rescues: true, Usage: "[to NUMBER|SHEET|MONITOR|NAME]", Key: "r", Windows: true, Asks: AskPlace, Rank: 3, apply: (*edit).rescue,
			Help: "Bring lost windows back into reach."},
		{Name: "back", Also: "return home", Purpose: LostAndFound, Usage: "home [MONITOR]", apply: (*edit).back,
			Help: "Put windows back on a monitor that was unplugged, as they were."},
		{Name: "cascade", Also: "overlap stairs stack", Purpose: Placing, Usage: "[to MONITOR]", Key: "R", Windows: true, For: ForFloating, apply: (*edit).cascade,
			Help: "Cascade floating windows from the top left of a monitor."},
		{Name: "nudge", Also: "move drag mouse pixels", Purpose: Placing, Usage: "left|right|up|down [COUNT|edge]", Key: "n", Windows: true, Joins: true, Repeats: Held, Asks: AskSteps, For: ForFloating, Rank: 10, apply: (*edit).nudge,
			Help: "Move floating windows by pixels (10 unless you say), or to the next edge."},
		{Name: "resize", Also: "wider width narrower bigger smaller grow shrink size height taller ratio percentage drag mouse", Purpose: Placing, Usage: "left|right|up|down PIXELS|SHARE", Key: "N", Windows: true, Joins: true, Repeats: Held, Asks: AskSteps, Rank: 11, apply: (*edit).resize,
			Help: "Move an edge out by pixels or per cent of the work area; a negative number moves it in."},
		{Name: "float", Also: "floating free untile", Purpose: Placing, Usage: "[on|off]", Key: "f", Windows: true, Rank: 6, Never: "every window floats", apply: (*edit).float,
			Help: "Float windows over the tiles, or tile them again."},
		{Name: "minimise", Also: "hide hidden iconify minimised away", Purpose: Placing, Key: "M", Windows: true, Rank: 12, Instead: restoreMinimised, apply: (*edit).minimise,
			Help: "Minimise windows: they are hidden until you restore them."},
		{Name: "restore", Also: "unhide hidden minimised show", Purpose: Placing, Windows: true, Without: (*Desk).minimisedLast, apply: (*edit).restore,
			Help: "Restore minimised windows, or the last minimised."},
		{Name: "plate", Also: "save load arrangement layout saved restore", Purpose: Keeping, Plates: true, Usage: "save PLATE [sheet|workspace|desk] [gather] / lay PLATE [on MONITOR|" + present + "] [starting] / remove PLATE / rename PLATE PLATE / letter PLATE LETTER|none", Key: "P", Asks: AskPlate, Sure: sureToSave, apply: (*edit).plate,
			Help: "Save an arrangement of windows under a name, or lay it out again."},
		{Name: "close", Also: "delete quit exit", Purpose: Closing, Key: "x", Windows: true, View: true, Rank: 4, Effect: CloseWindows, Instead: killHung, Sure: sureToClose, apply: (*edit).close,
			Help: "Ask the programs to close windows."},
		{Name: "kill", Also: "force terminate quit", Purpose: Closing, Windows: true, View: true, Effect: KillWindows, Sure: sureToKill, apply: (*edit).kill,
			Help: "Kill programs that do not close. Unsaved work is lost."},
		{Name: "raise", Also: "top front", Purpose: Placing, Key: "i", Windows: true, For: ForFloating, apply: (*edit).raiseVerb,
			Help: "Raise floating windows above the other floating ones."},
		{Name: "lower", Also: "bottom behind", Purpose: Placing, Windows: true, For: ForFloating, apply: (*edit).lower,
			Help: "Lower floating windows below the other floating ones."},
		{Name: "above", Also: "top pin always", Purpose: Placing, Usage: "on|off", Windows: true, For: ForFloating, apply: (*edit).above,
			Help: "Keep floating windows above all others, or stop that."},
		{Name: "below", Also: "bottom behind", Purpose: Placing, Usage: "on|off", Windows: true, For: ForFloating, apply: (*edit).below,
			Help: "Keep floating windows below all others, or stop that."},
		{Name: "stick", Also: "sticky everywhere all workspaces pin", Purpose: Placing, Usage: "[on|off]", Key: "S", Windows: true, apply: (*edit).stick,
			Help: "Show windows on every workspace, or only on their own."},
		{Name: "pin", Also: "letter bookmark mark", Purpose: Finding, Usage: "LETTER [window|workspace|off]", Key: "V", Windows: true, Sheet: true, Asks: AskLetter, Effect: KeepPin, apply: (*edit).pin,
			Help: "Give an app, a window or a workspace a letter to jump to it."},
		{Name: "jump", Also: "letter bookmark", Purpose: GoingAbout, Bares: true, Usage: "LETTER", Key: "v", View: true, Goes: true, Asks: AskLetter, apply: (*edit).jump,
			Help: "Jump to what has a letter; start the app if it is not open."},
		{Name: "open", Also: "start launch program app", Purpose: Finding, Bares: true, Usage: "APP [another] [on NUMBER|SHEET|MONITOR|NAME|new]", Key: "o", View: true, Goes: true, Asks: AskApp, Effect: StartApp, apply: (*edit).open,
			Help: "Go to an app, or start it if it is not running."},
		{Name: "run", Also: "start launch execute program", Purpose: Finding, Usage: "WORDS", View: true, Effect: StartApp, apply: (*edit).run,
			Help: "Run a command; its words are split as in a shell."},
		{Name: "another", Also: "copy duplicate new second", Purpose: Finding, Usage: "[terminal]", View: true, Effect: StartApp, apply: (*edit).another,
			Help: "Start another window of this app, or a terminal."},
		{Name: "bare", Also: "desktop hide everything clear show", Purpose: GoingAbout, Bares: true, Usage: "[on|off]", Key: "D", View: true, apply: (*edit).bare,
			Help: "Show the bare desk, or bring everything back."},
		{Name: "reload", Also: "config configuration reread refresh", Purpose: OfScreens, Key: "E", View: true, Effect: ReloadSettings, Rank: Unlisted, apply: (*edit).reload,
			Help: "Read the settings again."},
		{Name: "restart", Also: "again", Purpose: OfScreens, View: true, Effect: RestartKeeper, Sure: sureOfKeeper("Start the keeper again?"), apply: (*edit).restart,
			Help: "Restart the keeper. Every window stays open."},
		{Name: "end", Also: "quit exit stop", Purpose: OfScreens, View: true, Effect: EndKeeper, Sure: sureOfKeeper("End the keeper?"), apply: (*edit).end,
			Help: "End the keeper. Every window stays open."},
		{Name: "undo", Also: "revert history take back", Purpose: Undoing, Travels: true, Usage: "[COUNT]", Key: "u", View: true, Repeats: Held, Rank: Unlisted, apply: (*edit).undo,
			Help: "Undo the last change, or several."},
		{Name: "redo", Also: "again repeat", Purpose: Undoing, Travels: true, Usage: "[COUNT]", Key: "U", View: true, Repeats: Held, Rank: Unlisted, apply: (*edit).redo,
			Help: "Redo what was undone."},
	}
}

// Verbs lists every verb in the order of the page of keys. The list is not to be
// written.
func Verbs() []Verb { return table().rows }

// VerbOf is the verb of that name; one without a name where there is none.
func VerbOf(name string) Verb {
	v, _ := FindVerb(name)
	return v
}

// FindVerb finds a verb by its name.
func FindVerb(name string) (Verb, bool) {
	t := table()
	i, ok := t.index[name]
	if !ok {
		return Verb{}, false
	}
	return t.rows[i], true
}

// Breakdown is the error of a command that failed inside, by a mistake of ours.
type Breakdown struct {
	Verb  string
	Cause any    // what the panic said
	Stack string // where
}

// Error says it without the details, which are for a log.
func (f *Breakdown) Error() string { return f.Verb + " failed inside; the desk is as it was" }

// Apply is the desk after the command. Where the command fails, the error says
// why in words for its user, and the desk is as it was. A mistake of ours must
// not take the windows of a whole display with it, nor a screen that only tries
// a command: it is a Breakdown.
func (d *Desk) Apply(c Command) (next *Desk, r Result, err error) {
	defer func() {
		if cause := recover(); cause != nil {
			next, r, err = d, Result{}, &Breakdown{c.Verb, cause, string(debug.Stack())}
		}
	}()
	return d.apply(c)
}

func (d *Desk) apply(c Command) (*Desk, Result, error) {
	v, ok := FindVerb(c.Verb)
	if !ok {
		return d, Result{}, fmt.Errorf("there is no command %q", c.Verb)
	}
	if c.Of != nil && !v.Windows && !v.Picks {
		return d, Result{}, fmt.Errorf("%s takes no windows: leave out %q", v.Name, "of")
	}
	if err := d.Offers(v); err != nil {
		return d, Result{}, err
	}
	if c.Of == nil && v.Without != nil {
		if id := v.Without(d); id != 0 {
			c.Of = ByID{id}
		}
	}
	e := d.edit()
	r := Result{Report: Report{Goes: v.Goes}}
	if v.Windows && (c.Of != nil || !v.Sheet) {
		ids, err := d.subject(c)
		if err == errNoMatch && v.Rescues && c.Of == (Is{IsStray}) {
			return d, Result{Report: Report{Words: "No window is lost."}}, nil
		}
		if err != nil {
			return d, Result{}, err
		}
		r.Windows, e.chosen = ids, ids
	}
	if e.bringing = v.Bares && !d.Settings.Alongside; !e.bringing && v.Name != "bare" {
		e.unbare()
	}
	apply := v.apply
	if d.Settings.Alongside && v.once != nil {
		apply = v.once
	}
	words, err := apply(e, c)
	if err != nil {
		return d, Result{}, err
	}
	r.Words = words
	r.Effect, r.Pin, r.Start, r.Starts, r.Travelled = v.Effect, e.pinned, e.start, e.starts, e.travelled
	if e.touches != nil {
		r.Windows = e.touches
	}
	return d.done(c, v, e, r)
}

// done is the desk after a command that was carried out, and what is told of it.
func (d *Desk) done(c Command, v Verb, e *edit, r Result) (*Desk, Result, error) {
	next := e.finish()
	words := r.Words
	switch {
	case v.View && !e.made:
	case !d.same(next):
		next.past, next.future = d.pushed(d, c, next, words, subjectOf{v.Joins, e.about, fmt.Sprint(e.chosen)}, 0), nil
	case r.Pin == nil && !strings.Contains(words, "already"):
		r.Words += " Nothing changed by it."
	}
	if v.Travels {
		r.Windows = d.gone(next)
	}
	if r.Workspace = e.about; r.Workspace == 0 && v.Goes {
		r.Workspace = next.Workspaces[next.Current()].ID
	}
	if v.Goes && !v.Windows && next.Focus != 0 {
		r.Windows = []int{next.Focus}
	}
	return next, r, nil
}

// subject lists the windows a command acts on: those its query chooses, else
// the focused one. A dialog whose parent is chosen goes with it and is left out.
func (d *Desk) subject(c Command) ([]int, error) {
	if c.Of == nil {
		if d.Focus == 0 {
			return nil, errors.New("no window has the focus. Name one: of #12, or of app:NAME")
		}
		return []int{d.Focus}, nil
	}
	ws := d.Select(c.Of)
	if len(ws) == 0 {
		return nil, errNoMatch
	}
	ids := make([]int, len(ws))
	for i, w := range ws {
		ids[i] = w.ID
	}
	return ids, nil
}
