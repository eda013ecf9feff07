// Package keeper is the loop that owns a desk: commands and what a host saw go
// in, snapshots come out and the host is shown what should be. One goroutine
// writes; everyone else gets desks that are never written again.
package keeper

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/plate"
	"zatlas/internal/survey"
)

// Source says who asked for a command, or whose doing it was, as the logbook
// writes it.
type Source string

// The sources of what happens to a desk.
const (
	Screen  Source = "key"          // a key or a line of a screen
	Line    Source = "command line" // zatlas do, and other programs on the socket
	Chord   Source = "chord"        // a key of the display
	Pointer Source = "pointer"      // a window let go by the pointer
	Program Source = "program"      // another program, by a message of a standard
	Display Source = "host"         // the display: windows and monitors that come and go
)

// keyed tells whether keys asked for it.
func (s Source) keyed() bool { return s == Screen || s == Chord }

// Event is something a host saw: a fact that happened, or a command asked for.
type Event struct {
	Fact    desk.Fact
	Command *desk.Command
	Source  Source
	// Screen is what the screens in a window of the host's are to show from now
	// on, and Asked how often they were asked for anything, this time included.
	Screen string
	Asked  int
	// Answer is what became of a command that was asked for; nil for none.
	Answer *Answer
}

// ByHand ends the title of screens that a host brought up while they move or resize a window
// by keys; the number of the last request follows. The host then moves their window out of the
// way.
const ByHand = " by hand"

// Away is what it ends with in the same place where the user is done with them, and the
// window is to be put away.
const Away = " away"

// Astray is what it ends with there after they failed at what they were last asked for. The same
// chord asks once more then, and does not put them away.
const Astray = " astray"

// ManagerName is what a keeper calls itself as a display's manager (EWMH,
// _NET_SUPPORTING_WM_CHECK).
const ManagerName = "Zealous Atlas"

// The fewest cells that the screens need.
const (
	LeastColumns = 60
	LeastRows    = 16
)

// Outcome is what became of a command.
type Outcome struct {
	Source Source
	Verb   string // of the command; told to the host alone
	Result desk.Report
	Err    error
	// Unseen tells that another program was asked and has not been seen to do it: what
	// becomes of it is told by an update.
	Unseen bool
	// Serial is that of the first update that shows what it did; of a command that
	// was only tried, of the present one.
	Serial int
	// Desk is what a command that was only tried would lead to, and From the desk
	// that it was tried on, nil in another process.
	Desk, From *desk.Desk

	receipt Receipt
}

// Receipt tells whether a change is safe from the end of this process: Wait waits until
// that is known, and never long.
type Receipt interface{ Wait() bool }

// Unsafe is what is said of a command whose change is lost if the keeper is killed now.
const Unsafe = "Done, but not yet safe from a crash."

// settled is the outcome when its change is safe from a crash, or says that it is not.
func (o Outcome) settled() Outcome {
	if o.Err == nil && o.receipt != nil && !o.receipt.Wait() {
		o.Result.Words = strings.TrimSpace(o.Result.Words + " " + Unsafe)
	}
	return o
}

// Words says in a sentence what happened.
func (o Outcome) Words() string {
	if o.Err != nil {
		return Sentence(o.Err)
	}
	return o.Result.Words
}

// Sentence is an error as a sentence on a screen.
func Sentence(err error) string { return desk.Sentence(err.Error()) }

// Host is where the windows of a desk really are. All its methods but Wake are
// called from the keeper's goroutine alone.
type Host interface {
	// Wake gets a value when Take has something.
	Wake() <-chan struct{}
	// Take gives what happened since the last call, in order. After ErrGone or
	// ErrReplaced the host is over.
	Take() ([]Event, error)
	// Show makes what is on the display as the desk says.
	Show(d *desk.Desk)
	// Close asks the programs of windows to close them.
	Close(ids []int)
	// Kill ends the programs of windows.
	Kill(ids []int)
	// Tell says what became of a command.
	Tell(o Outcome)
	// Stop ends the host in an orderly way and leaves every window in reach.
	Stop()
}

// Access is what screens, servers and commands need of a keeper, in this process
// or in another.
type Access interface {
	// Do carries a command out and waits for it. The error is only about
	// reaching the keeper; the Outcome has the command's own.
	Do(ctx context.Context, c desk.Command, source Source) (Outcome, error)
	// Try tells what a command would do: the Outcome has the desk as it would be.
	Try(ctx context.Context, c desk.Command) (Outcome, error)
	// Log gives the logbook, the oldest line first.
	Log(ctx context.Context) ([]Entry, error)
	// Apps lists the apps that run or can be started, those chosen most first.
	Apps(ctx context.Context) ([]App, error)
	// Keys lists the chords of the display, and what becomes of each.
	Keys(ctx context.Context) ([]Key, error)
	// Key tells what would become of a chord, or which is pressed next.
	Key(ctx context.Context, ask KeyAsk) (Key, error)
	// Plates lists the plates there are.
	Plates(ctx context.Context) ([]Shelved, error)
	// Ping waits until the keeper has a moment.
	Ping(ctx context.Context) error
	// Watch gives the present snapshot at once and then every newer one; one
	// that is not taken in time is left out for the next. The channel closes
	// when the context ends or the keeper does.
	Watch(ctx context.Context) <-chan Update
}

var _ Access = (*Keeper)(nil)

// ErrRestart is the end of a keeper that is to be started again.
var ErrRestart = errors.New("the keeper is to start again")

// ErrGone is the end of a host whose display closed.
var ErrGone error = &Failure{Gone, "the display is gone"}

// ErrReplaced is the end of a host whose place another one took, as it asked to.
var ErrReplaced = errors.New("another manager keeps this display now")

// Entry is a line of the logbook.
type Entry struct {
	At     time.Time
	Source Source
	Words  string
	// Back is the command that takes the desk to the point right after this
	// line; its verb is empty where that is here. Gone says that no command does.
	Back desk.Command
	Gone bool
}

// Recalled is a line of an earlier keeper. Step is the number of the step of undo that it
// stands after, below 0 for one that cannot be gone back to.
type Recalled struct {
	Entry
	Step int
}

// maxLines is how many lines of the logbook a keeper has at hand.
const maxLines = 2000

// written is a line with the step of undo it stands after.
type written struct {
	Entry
	step int
}

// Update is a snapshot of the desk and what was last said about it.
type Update struct {
	Serial int // counts the changes
	Desk   *desk.Desk
	Words  string
	Source Source
	Verb   string // of the command that led to it; empty where it was none
	Form   string // of it as the survey counts it, where keys asked for it; told to this process alone
	Undo   string // what undo would take back, empty for nothing
	Redo   string
	Step   int // the number of the step that undo would take back
	// Reloads counts how often the settings were read again.
	Reloads int
	// Screen is what screens brought up by a chord were last asked to show, and
	// Asked how often they were asked: they follow when it has grown.
	Screen string
	Asked  int
	// Err is why no more updates come, where another process is asked and it is
	// known; then there is no Desk.
	Err error
	// Joined tells that Words replace the words before. A window moved or resized by hand in
	// many steps is one line of the logbook.
	Joined bool

	receipt Receipt
}

// Keeper owns a desk.
type Keeper struct {
	opt      Options
	host     Host
	log      *slog.Logger
	guard    *Guard
	requests chan request
	watchers chan watch
	done     chan struct{}

	update  Update
	reloads int
	screen  string    // what screens brought up by a chord were last asked to show
	asked   int       // how often
	ends    bool      // a command has ended the keeper
	again   bool      // and it is to start again
	hand    int64     // of the last command, see desk.Command
	joined  bool      // the command being carried out goes on with the last one
	book    []written // the logbook, the latest last
	lines   int       // how many lines it ever had
	watches map[chan Update]bool
	pending []Event // of the host, not yet followed

	asking     Asking        // the host, where it asks another program; else nil
	unanswered []*asked      // in the order in which they came
	number     int           // of the last that was asked for
	ready      chan struct{} // closed: it always has something

	text    string         // of the file, as it was last read
	changed *change        // what the command being carried out has done to the file; nil for nothing
	changes map[int]change // by the number of the step

	chores  []*chore // begun, in order
	reading *chore   // the last that reads the plates, for no command; nil for none
	came    chan *chore
	alarm   *time.Timer // rings when one was waited for long enough

	plates  map[string]*desk.Plate // as they were read last
	faults  []plate.Fault
	laid    map[string]time.Time // when plates were laid the last time, by name
	shelved time.Time            // when they were read the last time
	toLay   string               // the plate that is laid when it is quiet; empty for none
	quiet   *time.Timer
}

type request struct {
	command desk.Command
	source  Source
	dry     bool
	reply   chan Outcome
	log     chan []Entry // where it is a question for the logbook
	apps    chan []App   // where it is one for the apps
	keys    chan []Key   // where it is one for the chords
	key     *keyRequest  // where it is one about a single one
	plates  chan []Shelved
	renewed chan struct{} // closed when the plates were read
	ping    bool          // nothing is asked
}

type watch struct {
	ch  chan Update
	off bool
}

// Options are what a keeper is given besides its desk and its host. The zero value
// is that of a desk by itself, whose settings, apps and logbook are nobody's.
type Options struct {
	// Log is where it says what it did; nil for nowhere.
	Log *slog.Logger
	// Now is the clock; nil for that of the system.
	Now func() time.Time
	// Reload reads the settings again, on any goroutine. What it gives takes them up on the
	// keeper's, gives those of the desk and says what has changed of all, in a sentence;
	// empty for nothing. Where some of it is at fault, the error says so, and the rest is in
	// force. It is nil where there are none.
	Reload func() (take func() (s desk.Settings, changed string, err error))
	// File is the settings as a text, which undo takes back; nil where there are none. It is
	// used on any goroutine, as SavePin is.
	File File
	// SavePin keeps a pin in the settings; nil where there are none.
	SavePin func(desk.Pin) error
	// Keep is told of every update, on the keeper's goroutine, before anybody
	// else. It must not wait; nil where nothing is kept. Nobody is answered before the
	// receipt it gives, nil for none, tells that the update is safe or is not.
	Keep func(Update) Receipt
	// Launch starts programs; nil where none can be.
	Launch Launcher
	// Chosen is how often apps were chosen, which is the keeper's from then on.
	Chosen map[string]apps.Choice
	// KeepChoice is told when an app is chosen. It must not wait; nil where
	// nothing is kept.
	KeepChoice func(name string, c apps.Choice)
	// Plates are where plates are kept; nil for the desk alone, and so as long as it is.
	Plates Plates
	// Laid is when plates were laid the last time, by name, which is the keeper's from
	// then on, and KeepLaid is told when one is. It must not wait; nil where nothing is
	// kept.
	Laid     map[string]time.Time
	KeepLaid func(name string, at time.Time)
	// Logbook is the lines of an earlier keeper, the oldest first.
	Logbook []Recalled
	// Real tells that the desk is that of a display: a command can end its keeper,
	// and cannot plug in a monitor.
	Real bool
	// Watched is told how many watch, when that changes. It must not wait; nil where
	// nobody wants to know.
	Watched func(n int)
	// Amiss is what the first line of the logbook says besides, in a sentence, of
	// what could not be taken up from before; empty for nothing.
	Amiss string
}

// New makes a keeper of the desk on a host. Run must be called for it to work.
func New(d *desk.Desk, h Host, opt Options) *Keeper {
	if opt.Log == nil {
		opt.Log = slog.New(slog.DiscardHandler)
	}
	if opt.Now == nil {
		opt.Now = time.Now
	}
	if opt.Watched == nil {
		opt.Watched = func(int) {}
	}
	if opt.Laid == nil {
		opt.Laid = map[string]time.Time{}
	}
	if opt.Chosen == nil {
		opt.Chosen = map[string]apps.Choice{}
	}
	k := &Keeper{
		opt:      opt,
		host:     h,
		log:      opt.Log,
		guard:    NewGuard(opt.Log),
		requests: make(chan request),
		watchers: make(chan watch),
		done:     make(chan struct{}),
		ready:    make(chan struct{}),
		update:   Update{Desk: d},
		watches:  map[chan Update]bool{},
		laid:     opt.Laid,
		changes:  map[int]change{},
		quiet:    time.NewTimer(time.Hour),
		came:     make(chan *chore),
		alarm:    time.NewTimer(time.Hour),
	}
	close(k.ready)
	k.asking, _ = h.(Asking)
	for _, l := range opt.Logbook {
		k.book = append(k.book, written{l.Entry, l.Step})
	}
	return k
}

// Run keeps the desk until the context ends, a command ends it, or the host is
// gone. The error is ErrRestart where it is to be started again.
func (k *Keeper) Run(ctx context.Context) error {
	defer close(k.done)
	defer k.host.Stop()
	defer k.letGo()
	d := k.update.Desk
	began := fmt.Sprintf("Began with %s and %s.", desk.Counted(len(d.Workspaces), "workspace"), desk.Counted(len(d.Windows), "window"))
	k.publish(d, strings.TrimSpace(began+" "+k.opt.Amiss), Display)
	k.readPlates(nil, func() {})
	k.chore(&chore{needs: []resource{theSettings}, work: func() func() {
		text := k.opt.text()
		return func() {
			if text != nil {
				k.text = *text
			}
		}
	}})
	var over error // of the host
	for !k.ends {
		if over != nil && len(k.pending) == 0 {
			return over
		}
		wake, more, requests := k.news()
		select {
		case <-ctx.Done():
			return nil
		case <-wake:
			k.guard.Run("taking events", func() {
				var events []Event
				events, over = k.host.Take()
				k.pending = append(k.pending, events...)
			})
			k.events()
		case <-more:
			k.events()
		case r := <-requests:
			k.answer(r)
		case w := <-k.watchers:
			k.watch(w)
		case c := <-k.came:
			k.choreDone(c)
		case <-k.alarm.C:
			k.overdue()
		case <-k.quiet.C:
			k.layWaiting()
		}
		k.others()
	}
	if k.again {
		return ErrRestart
	}
	return nil
}

// answer answers a request.
func (k *Keeper) answer(r request) {
	switch {
	case r.log != nil:
		r.log <- k.logbook()
	case r.apps != nil:
		r.apps <- k.apps()
	case r.keys != nil:
		k.askKeys(r.keys)
	case r.plates != nil:
		r.plates <- k.shelf()
	case r.renewed != nil:
		k.readPlates(nil, func() { close(r.renewed) })
	case r.ping:
	case r.key != nil:
		k.askKey(r.key)
	case r.dry:
		_, next, result, err := k.apply(r.command)
		r.reply <- Outcome{Source: r.source, Result: result.Report, Err: err, Serial: k.update.Serial, Desk: next, From: k.update.Desk}
	default:
		k.begin(r.command, r.source, func(o Outcome) { r.reply <- o })
	}
}

// maxOthers bounds the requests that are answered between two turns of events.
const maxOthers = 64

// others answers those that wait, where a turn of events has ended and the next is
// to begin: which of two is ready is else left to chance.
func (k *Keeper) others() {
	for range maxOthers {
		if len(k.pending) == 0 || k.ends || k.held() {
			return
		}
		select {
		case r := <-k.requests:
			k.answer(r)
		case w := <-k.watchers:
			k.watch(w)
		default:
			return
		}
	}
}

// turn is how long events are followed before others have a turn: another
// program can ask for things faster than they are done.
const turn = 20 * time.Millisecond

// news are the channels by which a host has something to take, by which events are left
// from the last turn, and by which requests come. The host is not asked for more before it
// was shown what became of those.
func (k *Keeper) news() (wake, more <-chan struct{}, requests <-chan request) {
	switch {
	case k.held():
		return nil, nil, nil
	case len(k.pending) > 0:
		return nil, k.ready, k.requests
	}
	return k.host.Wake(), nil, k.requests
}

// events follows what a host saw, for a turn. Facts that come together change
// the desk as one; each command is shown before what came after it.
func (k *Keeper) events() {
	for began := k.opt.Now(); len(k.pending) > 0 && !k.held() && k.opt.Now().Sub(began) < turn; {
		n := slices.IndexFunc(k.pending, func(e Event) bool { return e.Fact == nil })
		if n < 0 {
			n = len(k.pending)
		}
		facts, e := make([]desk.Fact, n), Event{}
		for i := range facts {
			facts[i] = k.pending[i].Fact
		}
		if n == 0 {
			e, n = k.pending[0], 1
		}
		k.pending = k.pending[n:]
		switch {
		case len(facts) > 0:
			next, words := k.with(k.now(), facts)
			k.stirred(facts)
			for _, w := range words {
				k.log.Info(w)
			}
			was := k.update.Desk
			k.publish(next, strings.Join(words, " "), sourceOf(facts))
			k.monitorsChanged(was, next)
		case e.Screen != "":
			k.screen, k.asked = e.Screen, e.Asked
			k.publish(k.update.Desk, "", Display)
		case e.Answer != nil:
			k.answered(*e.Answer)
		default:
			k.begin(*e.Command, e.Source, func(Outcome) {})
		}
	}
}

// sourceOf is whose doing facts are: the pointer's where one is a window held by it.
func sourceOf(facts []desk.Fact) Source {
	if slices.ContainsFunc(facts, func(f desk.Fact) bool { _, drags := f.(desk.Dragged); return drags }) {
		return Pointer
	}
	return Display
}

// with is the desk after facts. One that fails inside, by a mistake of ours, is
// logged and left out: it must not take the windows of a whole display with it.
func (k *Keeper) with(d *desk.Desk, facts []desk.Fact) (next *desk.Desk, words []string) {
	defer func() {
		cause := recover()
		if cause == nil {
			return
		}
		next, words = d, nil
		if len(facts) == 1 {
			k.log.Error("what the host saw failed inside", "fact", fmt.Sprintf("%T", facts[0]), "fault", cause, "stack", string(debug.Stack()))
			return
		}
		for i := range facts {
			after, w := k.with(next, facts[i:i+1])
			next, words = after, append(words, w...)
		}
	}()
	return d.With(facts...)
}

// begin carries a command out, and replies when it is done. A fault inside, of the host as
// of the core, is logged and an error.
func (k *Keeper) begin(c desk.Command, source Source, reply func(Outcome)) {
	if source.keyed() {
		c.At = k.opt.Now().UnixMilli()
	}
	t := &task{command: c, source: source, reply: reply}
	if desk.VerbOf(c.Verb).Plates {
		k.readFor(t)
		return
	}
	k.guarded(t, func() { k.carry(t) })
}

// readFor has the plates read that a command is about, and then carries it out.
func (k *Keeper) readFor(t *task) {
	k.readPlates(t, func() {
		if t.over {
			return
		}
		t.fresh = true
		k.carry(t)
	})
}

// guarded runs what is done for a command, which fails by a fault inside.
func (k *Keeper) guarded(t *task, f func()) {
	defer func() {
		if r := recover(); r != nil {
			k.joined = false
			k.answerTask(t, &desk.Breakdown{Verb: t.command.Verb, Cause: r, Stack: string(debug.Stack())})
		}
	}()
	f()
}

// answerTask tells that a command has failed.
func (k *Keeper) answerTask(t *task, err error) {
	var fault *desk.Breakdown
	if errors.As(err, &fault) {
		k.log.Error("a command failed inside", "command", t.command.Verb, "fault", fault.Cause, "stack", fault.Stack)
	}
	o := Outcome{Source: t.source, Verb: t.command.Verb, Err: err}
	k.tell(o)
	t.reply(o)
}

// carry carries a command out with the desk as it is, what it does to files first: that may
// fail, and then nothing has changed.
func (k *Keeper) carry(t *task) {
	meant, next, result, err := k.apply(t.command)
	if k.asking != nil && k.mustWait(t, next, result, err) {
		return
	}
	if err != nil {
		k.answerTask(t, err)
		return
	}
	w, err := k.planned(meant, next, &result)
	switch needs := w.needs(); {
	case err != nil:
		k.answerTask(t, err)
	case len(needs) == 0:
		k.finish(t, meant, next, result, &w, &fileResult{})
	case len(w.plates) > 0 && !t.fresh:
		k.readFor(t)
	default:
		t.on = k.update.Desk
		k.chore(&chore{needs: needs, task: t, work: func() func() {
			got := k.opt.write(w)
			return func() { k.wrote(t, meant, next, result, &w, &got) }
		}})
	}
}

// wrote finishes a command whose files are written. If that took long, the desk may have moved
// on: what does not fit it any more is taken back.
func (k *Keeper) wrote(t *task, meant desk.Command, next *desk.Desk, r desk.Result, w *writing, got *fileResult) {
	err := got.err
	switch {
	case err != nil || t.on == k.update.Desk && !t.over:
	case !t.over && (t.on.Step() == k.update.Desk.Step() || len(got.started) > 0):
		_, next, _, err = k.apply(meant)
	default:
		err = &Failure{NoAnswer, fmt.Sprintf("something else was done while %s did not answer: nothing was changed. Do it again", w.needs()[0])}
	}
	if err == nil {
		k.finish(t, meant, next, r, w, got)
		return
	}
	if len(got.started) > 0 { // they run all the same
		k.publish(k.expecting(k.update.Desk, got), "", Display)
	}
	if len(got.undo) > 0 {
		k.chore(&chore{needs: w.needs(), work: func() func() {
			failed := got.takeBack()
			return func() {
				if failed != nil {
					k.log.Error("what a command wrote could not be taken back", "command", meant.Verb, "error", failed.Error())
				}
			}
		}})
	}
	if !t.over {
		k.answerTask(t, err)
	}
}

// finish shows what a command leads to, and replies.
func (k *Keeper) finish(t *task, c desk.Command, next *desk.Desk, r desk.Result, w *writing, got *fileResult) {
	from := k.withPlates(k.update.Desk)
	next = k.settled(next, c, &r, w, got)
	k.chose(c)
	k.wasLaid(c)
	if k.asking != nil {
		k.askFor(t, desk.Wish{Command: c, From: from, To: next}, r)
		return
	}
	o := Outcome{Source: t.source, Verb: c.Verb, Result: r.Report, Err: r.Fault}
	k.joined, k.hand = c.Hand != 0 && c.Hand == k.hand, c.Hand
	k.host.Show(next)
	k.takeUp(next, r.Words, c, t.source)
	k.joined = false
	k.keepChange(k.changed, next.Step())
	o.Serial, o.receipt = k.update.Serial, k.update.receipt
	switch r.Effect {
	case desk.CloseWindows:
		k.host.Close(r.Windows)
	case desk.KillWindows:
		k.host.Kill(r.Windows)
	case desk.EndKeeper, desk.RestartKeeper:
		k.ends, k.again = true, r.Effect == desk.RestartKeeper
	}
	k.tell(o)
	if !t.over {
		t.reply(o)
	}
}

// tell tells the host what became of a command: a mistake in what it makes of that must not
// end the keeper.
func (k *Keeper) tell(o Outcome) { k.guard.Run("telling the display", func() { k.host.Tell(o) }) }

// ErrRealMonitors is the failure of a command that moves the cable of a made-up
// monitor.
var ErrRealMonitors error = &Failure{RealMonitors, "these monitors are real: plug one in, or pull it, by its cable"}

// apply is the command as it is meant here, and the desk after it.
func (k *Keeper) apply(c desk.Command) (meant desk.Command, next *desk.Desk, r desk.Result, err error) {
	if meant, err = k.resolve(c); err != nil {
		return c, nil, r, err
	}
	if v, _ := desk.FindVerb(meant.Verb); v.MadeUp && k.opt.Real {
		return meant, nil, r, ErrRealMonitors
	}
	if next, r, err = k.now().Apply(meant); err != nil {
		return meant, nil, r, k.faulty(meant, err)
	} else if (r.Effect == desk.EndKeeper || r.Effect == desk.RestartKeeper) && !k.opt.Real {
		err = &Failure{NotHere, "this desk ends with its screens: q quits them"}
	}
	return meant, next, r, err
}

// now is the present desk, which knows what time it is, and which plates there were about
// a second ago.
func (k *Keeper) now() *desk.Desk {
	now := k.opt.Now()
	d := k.update.Desk.AtTime(now.Unix())
	if k.reading == nil && now.Sub(k.shelved).Abs() >= time.Second {
		k.readPlates(nil, func() {})
	}
	return k.withPlates(d)
}

// publish shows a desk that facts have led to, and takes it up even where the
// host fails to show it: they have happened.
func (k *Keeper) publish(next *desk.Desk, words string, source Source) {
	k.guard.Run("showing the desk", func() { k.host.Show(next) })
	k.takeUp(next, words, desk.Command{}, source)
}

// takeUp makes a desk that is shown the present one, and tells everybody.
func (k *Keeper) takeUp(next *desk.Desk, words string, c desk.Command, source Source) {
	k.update = Update{Serial: k.update.Serial + 1, Desk: next, Words: words, Source: source, Verb: c.Verb, Undo: next.Undo(), Redo: next.Redo(), Step: next.Step(), Reloads: k.reloads, Screen: k.screen, Asked: k.asked, Joined: k.joined}
	if source.keyed() {
		k.update.Form = survey.FormOf(c)
	}
	if words != "" {
		line := written{Entry{At: k.opt.Now(), Source: source, Words: words}, next.Step()}
		if k.joined && len(k.book) > 0 {
			k.book = slices.Clone(k.book[:len(k.book)-1])
		} else {
			k.lines++
		}
		k.book = append(k.book[max(0, len(k.book)-maxLines):], line)
	}
	if k.opt.Keep != nil {
		k.update.receipt = k.opt.Keep(k.update)
	}
	for ch := range k.watches {
		offer(ch, k.update)
	}
}

// offer puts the update into a channel of one place, over an older one that
// nobody has taken.
func offer(ch chan Update, u Update) {
	for {
		select {
		case ch <- u:
			return
		default:
		}
		select {
		case <-ch:
		default:
		}
	}
}

func (k *Keeper) watch(w watch) {
	if w.off {
		if k.watches[w.ch] {
			delete(k.watches, w.ch)
			close(w.ch)
			k.opt.Watched(len(k.watches))
		}
		return
	}
	k.watches[w.ch] = true
	k.opt.Watched(len(k.watches))
	offer(w.ch, k.update)
}

// Do carries a command out and waits for it. The error is only about reaching
// the keeper; the Outcome has the command's own.
func (k *Keeper) Do(ctx context.Context, c desk.Command, source Source) (Outcome, error) {
	r := request{command: c, source: source, reply: make(chan Outcome, maxReplies)}
	o, err := k.ask(ctx, r)
	if err == nil && k.renewed(ctx, o) {
		o, err = k.ask(ctx, r)
	}
	if err == nil && o.Unseen && source == Line {
		return k.later(ctx, r, o)
	}
	return o, err
}

// maxReplies is how many there are to a command: what is not yet seen is answered twice.
const maxReplies = 2

// lineTime is how long a command line waits for what another program was asked for.
const lineTime = 30 * time.Second

// later waits for the second reply to a command of the command line, whose caller goes by
// whether it was done.
func (k *Keeper) later(ctx context.Context, r request, o Outcome) (Outcome, error) {
	late := time.NewTimer(lineTime)
	defer late.Stop()
	select {
	case o = <-r.reply:
	case <-ctx.Done():
	case <-late.C:
		o.Err = fmt.Errorf("the desktop's manager has not answered for %v: what was asked for is not yet seen", lineTime)
	}
	return o, nil
}

func (k *Keeper) ask(ctx context.Context, r request) (Outcome, error) {
	if err := k.send(ctx, r); err != nil {
		return Outcome{}, err
	}
	return (<-r.reply).settled(), nil
}

func (k *Keeper) send(ctx context.Context, r request) error {
	select {
	case k.requests <- r:
		return nil
	case <-k.done:
		return ErrGone
	case <-ctx.Done():
		return ctx.Err()
	}
}

// Try tells what a command would do: the Outcome has the desk as it would be.
func (k *Keeper) Try(ctx context.Context, c desk.Command) (Outcome, error) {
	if AboutPlates(c.Verb) {
		k.renewPlates(ctx)
	}
	return k.ask(ctx, request{command: c, source: Screen, dry: true, reply: make(chan Outcome, 1)})
}

// Ping waits until the keeper has a moment.
func (k *Keeper) Ping(ctx context.Context) error {
	return k.send(ctx, request{ping: true})
}

// Log gives the logbook, the oldest line first.
func (k *Keeper) Log(ctx context.Context) ([]Entry, error) {
	r := request{log: make(chan []Entry, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.log, nil
}

// logbook is the logbook as seen from the present.
func (k *Keeper) logbook() []Entry {
	lines := make([]Entry, len(k.book))
	for i, w := range k.book {
		c, ok := k.update.Desk.Back(w.step)
		w.Back, w.Gone = c, !ok
		lines[i] = w.Entry
	}
	return lines
}

// Watch gives the present snapshot at once and then every newer one; one that
// is not taken in time is left out for the next. The channel closes when the
// context ends or the keeper does.
func (k *Keeper) Watch(ctx context.Context) <-chan Update {
	in := make(chan Update, 1)
	out := make(chan Update)
	select {
	case k.watchers <- watch{ch: in}:
	case <-k.done:
		close(out)
		return out
	case <-ctx.Done():
		close(out)
		return out
	}
	go func() {
		defer close(out)
		defer func() {
			select {
			case k.watchers <- watch{ch: in, off: true}:
			case <-k.done:
			}
		}()
		for {
			select {
			case u := <-in:
				if u.receipt != nil {
					u.receipt.Wait()
				}
				select {
				case out <- u:
				case <-ctx.Done():
					return
				case <-k.done:
					return
				}
			case <-ctx.Done():
				return
			case <-k.done:
				return
			}
		}
	}()
	return out
}
