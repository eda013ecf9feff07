// Package tui is the screens: a Bubble Tea program that shows a keeper's desk
// as an atlas and acts on it from the keyboard.
package tui

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"charm.land/bubbles/v2/textinput"
	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/picture"
	"zatlas/internal/prompt"
	"zatlas/internal/settings"
	"zatlas/internal/tui/atlasmap"
	"zatlas/internal/tui/cells"
	"zatlas/internal/tui/terminal"
)

// Options say how the screens look and what they know of their surroundings.
type Options struct {
	Name  string // what the desk is called in the head
	Title string // of the terminal's window
	Theme cells.Theme
	// Settings is the path of the settings file, which the settings screen
	// writes; empty where none is known. ThemeFixed says that the theme is not
	// the one of that file.
	Settings   string
	ThemeFixed bool
	// InPath tells whether a program can be run by its name; nil where none can.
	InPath func(name string) bool
	// Window is the word by which a keeper knows the window that these screens are in, and
	// has keys pressed there told; empty for any other.
	Window    string
	First     FirstUse       // nil for none
	Survey    Survey         // nil for none
	Pictures  picture.Source // of windows; nil for none
	Pictured  bool           // whatever the settings are
	Simulated bool           // the desk is made up: its monitors can be plugged in and pulled
	// Afar is the machine that the desk is on, where that is another one; empty for this.
	Afar string
	// BroughtUp says that the screens run in a window that their keeper shows
	// and hides: they end with it, and begin anew when they get the focus.
	BroughtUp bool
	// Above are the processes above this one, the nearest first: one of them has the
	// window that the screens run in. Empty where that is not known.
	Above []int
	On    *terminal.Terminal // where they are shown; nil for the terminal of the process
	asked bool               // the terminal was asked something
}

// Run shows the screens until they are left.
func Run(ctx context.Context, k keeper.Access, opt Options) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	if opt.On == nil {
		t, err := terminal.Own()
		if err != nil {
			return fmt.Errorf("taking over the terminal: %w", err)
		}
		defer t.Close()
		_, err = io.WriteString(t.Out, MarksQuestion+"\r"+ansi.EraseEntireLine)
		opt.On, opt.asked = t, err == nil
	}
	if err := opt.On.Run(ctx, newModel(ctx, k, opt)); ctx.Err() == nil {
		return err
	}
	return nil
}

// New makes the screens as a model, whose views fill a terminal, without one to show them. They
// follow the keeper until the context ends.
func New(ctx context.Context, k keeper.Access, opt Options) tea.Model { return newModel(ctx, k, opt) }

// model is the state of the screens.
type model struct {
	ctx  context.Context
	k    keeper.Access
	opt  Options
	base cells.Theme // opt.Theme before it was fitted to the terminal's colours
	news <-chan keeper.Update

	w, h    int // of the screens, in cells
	rowsAll int // of the terminal
	profile colorprofile.Profile
	// plain has the second set of marks be drawn. Whether ambiguous ones are wide here is
	// known once the terminal has answered.
	plain, wideMarks, knowsMarks bool
	reported                     bool // the terminal has told of a mode
	quits                        bool // they end when the terminal has answered

	d      *desk.Desk
	seen   *atlasmap.Overview // see overview
	keys   []keeper.Key       // of the display
	plates []keeper.Shelved
	// lookAgain is how often the plates are asked for while they are shown; 0 for never.
	lookAgain time.Duration
	charts    []charted     // those worked out last
	own       desk.Settings // of what a scene does not tell
	set       settings.Settings
	rows      []settings.ChordRow // of set
	lately    []string            // the verbs used last, the latest first
	gone      bool                // the keeper is
	pulse     pulse
	tries     int // how often it was asked for since
	tints     map[string]int

	sel     cells.Selection
	wide    widened
	touched map[int]bool
	message string
	fault   bool // the message tells one
	serial  int
	heard   int // the serial of the last news from elsewhere that was told
	reloads int
	undo    string // what undo would take back
	redo    string
	early   []replyMsg // whose snapshots have not come yet
	// busy tells that a command of ours is on its way. Keys wait for what it
	// does, or the next would act on what was there before.
	busy  bool
	ahead []tea.KeyPressMsg // the keys that wait

	rooms []room // the stack of the screens, the map at the bottom
	list  []listed
	would would
	held  held
	burst burst
	stale bool // what was drawn last shows no longer what is
	drawn tea.View
	edge  *cells.Canvas // the line, as it was drawn last
	// canvas is what was drawn last, of which lines that stay the same are kept.
	canvas *cells.Canvas

	// quietUndo has the words of the next undo be those that are there.
	quietUndo  bool
	wroteWords string         // what a change of the settings was
	last       map[string]arg // the target each verb had last
	input      textinput.Model
	stops      []cells.Stop // what is drawn and can be chosen by the pointer, the topmost last
	grip       int          // the window that the pointer holds, 0 for none
	spot       spot         // of what was sent
	wanted     string       // the screen that a chord asked for last
	calls      int          // how often chords asked
	brought    int          // the call that was followed last
	putAway    bool         // the window that was brought up is to be put away again
	panelEnd   int          // the row below the last of the panel beside the map
	questions  int          // how often the keeper was asked for a key, or about one
	askedOwn   bool         // it was asked whether the window of these screens is meant
	unset      string       // what is at fault with the settings, in a sentence; empty for nothing
	lastStep   int          // the number of the step that undo would take back
	called     bool         // it was brought up for a screen of its own, and not for the map

	refused refused
	ctrlC   bool
	click   clicked
	steps   steps
	gallery *gallery
}

type arg = desk.Arg

type (
	updateMsg struct {
		keeper.Update
		ok   bool
		news <-chan keeper.Update // of a keeper that is back; else nil
	}
	replyMsg struct {
		command desk.Command
		outcome keeper.Outcome
		err     error
	}
)

func newModel(ctx context.Context, k keeper.Access, opt Options) *model {
	m := &model{
		ctx: ctx, k: k, opt: opt, base: opt.Theme, w: 80, h: 24, rowsAll: 24, profile: colorprofile.TrueColor,
		set: settings.Default(), tints: map[string]int{}, last: map[string]arg{}, touched: map[int]bool{},
		rooms: []room{&mapScreen{}}, list: screens(), stale: true, lookAgain: lookAgain, held: held{now: time.Now},
	}
	m.input = textinput.New()
	m.input.Prompt = ""
	m.input.SetVirtualCursor(false) // the terminal's own is used
	m.input.CharLimit = 1000
	m.news = k.Watch(ctx)
	m.gallery = newGallery(ctx, opt.Pictures)
	m.steps = newSteps(opt.First, opt.Simulated)
	m.reread()
	return m
}

// Init waits for the first snapshot, and asks for the chords and the plates.
func (m *model) Init() tea.Cmd {
	return tea.Batch(m.wait(), m.askKeys(), m.askPlates(), m.beat(), m.gallery.wait())
}

// wait gives the keeper's next news as a message.
func (m *model) wait() tea.Cmd {
	return func() tea.Msg {
		u, ok := <-m.news
		return updateMsg{Update: u, ok: ok}
	}
}

// tryAgain is how long a keeper that is gone is let be before it is asked for again.
const tryAgain = 300 * time.Millisecond

// patience is how long it is until a keeper that is gone is asked for again: of another
// machine, longer each time.
func (m *model) patience() time.Duration {
	if m.opt.Afar == "" {
		return tryAgain
	}
	return min(time.Second<<min(m.tries, 6), 30*time.Second)
}

// waitAgain gives the first news of the keeper once it is back, or that it is not yet.
func (m *model) waitAgain() tea.Cmd {
	after := m.patience()
	return func() tea.Msg {
		select {
		case <-time.After(after):
		case <-m.ctx.Done():
		}
		news := m.k.Watch(m.ctx)
		u, ok := <-news
		return updateMsg{u, ok, news}
	}
}

// Update follows a message, and asks what the command that is pending then would
// lead to.
func (m *model) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	k, isKey := msg.(tea.KeyPressMsg)
	if isKey && m.burst.takes(m, k) {
		return m, m.burst.flushLater() // and nothing is drawn meanwhile
	}
	was, quiet := m.busy, m.pulse.quiet
	cmd := m.follow(msg)
	if isPulse(msg) && quiet == m.pulse.quiet {
		return m, cmd // there is nothing new to draw
	}
	if isKey {
		m.burst.done(false)
	}
	if m.busy && !was {
		return m, cmd // what the command leads to is drawn with what led to it
	}
	m.stale = true
	return m, tea.Batch(cmd, m.look())
}

func (m *model) follow(msg tea.Msg) tea.Cmd {
	switch msg := msg.(type) {
	case tea.WindowSizeMsg:
		m.w, m.rowsAll = msg.Width, msg.Height
		m.fitHeight()
	case tea.ColorProfileMsg:
		m.profile = msg.Profile
		m.fitTheme()
	case tea.ModeReportMsg: // see the terminal
		m.reported = true
	case quitMsg:
		return tea.Quit
	case pulseMsg:
		if int(msg) != m.pulse.beat {
			return nil // it has been asked since
		}
		return m.askPulse()
	case answeredMsg:
		return m.answers()
	case tea.CursorPositionMsg:
		return m.answered(msg)
	case updateMsg:
		return m.update(msg)
	case replyMsg:
		m.reply(msg)
		return m.typeAhead()
	case keysMsg:
		m.keys = msg
		if n := len(m.free()); n > 0 && m.besideChords() != "" {
			m.steps.offer(freeChords(n))
		}
	case heardMsg:
		return m.gotKey(msg)
	case typedChord:
		m.push(msg.r)
		return msg.r.take(m, msg.keys)
	case platesMsg:
		return m.gotPlates(msg)
	case runMsg:
		return m.runCommand(msg.command)
	case logMsg:
		m.gotLog(msg)
	case surveyMsg:
		return m.gotSurvey(msg)
	case drawnMsg:
		m.gotDrawn(msg)
	case askMsg:
		return m.askFirst(msg.prompt)
	case wouldMsg:
		m.gotWould(msg)
	case picturesMsg:
		m.gallery.take(msg)
		return m.gallery.wait()
	case appsMsg:
		m.gotApps(msg)
	case flushMsg:
		return m.burst.flush(m)
	case tea.KeyPressMsg:
		cmds := []tea.Cmd{m.use(), m.burst.flush(m)} // in their order
		for _, k := range asPressed(msg) {
			cmds = append(cmds, m.pressed(k))
		}
		return tea.Batch(cmds...)
	case tea.PasteMsg:
		if m.typing() {
			return m.write(msg)
		}
	case tea.MouseMsg:
		return m.pointer(msg)
	}
	return nil
}

// asPressed is a key as it was pressed. A terminal sends two quick Escapes as it sends Alt with
// Escape; two are likelier.
func asPressed(k tea.KeyPressMsg) []tea.KeyPressMsg {
	if k.Code != tea.KeyEscape || k.Mod != tea.ModAlt {
		return []tea.KeyPressMsg{k}
	}
	k.Mod = 0
	return []tea.KeyPressMsg{k, k}
}

// pressed follows a key now, or when what the one before does is there.
func (m *model) pressed(k tea.KeyPressMsg) tea.Cmd {
	switch {
	case m.pulse.quiet > 0 && (m.busy || k.String() == "ctrl+c"):
		return m.withoutAnswer(k)
	case m.busy && k.String() != "ctrl+c":
		m.ahead = append(m.ahead, k)
		return nil
	}
	return m.key(k)
}

// fitTheme takes the theme's colours as the terminal has them.
func (m *model) fitTheme() {
	m.opt.Theme = m.base
	switch m.profile {
	case colorprofile.ANSI:
		m.opt.Theme = m.base.Basic()
	case colorprofile.ANSI256:
		m.opt.Theme = m.base.Indexed()
	}
}

// update takes a new snapshot.
func (m *model) update(u updateMsg) tea.Cmd {
	if !u.ok || u.Err != nil {
		return m.keeperGone(u)
	}
	asksPulse := m.use()
	first, back := m.d == nil, m.gone
	if back {
		m.gone, m.heard, m.news = false, 0, u.news
	}
	var asks tea.Cmd
	if u.Reloads != m.reloads {
		m.reloads = u.Reloads
		m.reread()
		asks = m.askKeys()
	}
	if _, shown := on[*plates](m); !shown && keeper.AboutPlates(u.Verb) { // which asks itself
		asks = tea.Batch(asks, m.askPlates())
	}
	m.d, m.serial, m.undo, m.redo = m.withPlates(u.Desk.WithOwn(m.own)), u.Serial, u.Undo, u.Redo
	m.lastStep = u.Step
	draw.AddTints(m.tints, m.d)
	if first {
		m.sel = m.otherThanOwn(m.here())
		m.greet()
	} else if back {
		m.mention("The keeper is back.", false)
	} else if u.Source != keeper.Screen && u.Words != "" {
		m.mention(u.Words, false)
		m.heard = u.Serial
	}
	if u.Source == keeper.Chord {
		m.usedLately(u.Verb)
	}
	m.keepSelection()
	cmds := []tea.Cmd{m.wait(), asks, asksPulse}
	for _, r := range m.rooms {
		if f, ok := r.(follower); ok {
			cmds = append(cmds, f.follow(m))
		}
	}
	m.wanted, m.calls = u.Screen, u.Asked
	early := m.early
	m.early = nil
	for _, r := range early {
		m.reply(r)
	}
	return tea.Batch(append(cmds, m.typeAhead())...)
}

// keeperGone tells that the keeper is gone, and waits for the next.
func (m *model) keeperGone(u updateMsg) tea.Cmd {
	if !m.gone {
		m.gone, m.busy, m.early = true, false, nil
		m.tries = 0
		m.say("The keeper is gone. Its windows stay. These screens go on when it is back; q quits.", true)
	}
	if u.Err != nil {
		m.say(keeper.Sentence(u.Err), true)
	}
	m.tries++
	if m.opt.Afar != "" {
		words := fmt.Sprintf("No connection to %s: the desk is as last seen. Trying again in %s.", m.opt.Afar, m.patience().Round(time.Second))
		if u.Err != nil {
			words += " " + keeper.Sentence(u.Err)
		}
		m.say(words, true)
	}
	switch {
	case m.opt.BroughtUp:
		return tea.Quit
	case m.ctx.Err() != nil:
		return nil
	}
	return m.waitAgain()
}

// typeAhead follows the keys that waited, up to the next command. After them and
// what came of them comes the screen that a chord asks for.
func (m *model) typeAhead() tea.Cmd {
	var cmds []tea.Cmd
	for !m.busy && len(m.ahead) > 0 {
		k := m.ahead[0]
		m.ahead = m.ahead[1:]
		cmds = append(cmds, m.key(k))
	}
	if m.opt.BroughtUp && !m.busy && m.calls > m.brought {
		m.brought, m.putAway = m.calls, false
		cmds = append(cmds, m.bringUp(m.wanted))
	}
	return tea.Batch(cmds...)
}

// done puts the window away that a chord brought up for one screen, when a key or a command leaves
// that screen: nobody asked for the map beneath. What went wrong stays there to be read until the
// next key.
func (m *model) done(key string) {
	if m.called && len(m.rooms) == 1 && !m.busy && (!m.fault || key != "" && key != "enter") {
		m.called, m.putAway, m.ahead = false, true, nil
	}
}

// bringUp shows the screen that a chord asked for, on what has the focus.
func (m *model) bringUp(screen string) tea.Cmd {
	m.home()
	m.sel = m.here()
	if m.called = screen != "atlas"; m.fault {
		m.say("", false) // it was about what they were asked for before
	}
	to, line, _ := prompt.FindScreen(screen)
	for _, s := range m.list {
		if s.Name == to.Name {
			return s.open(m, line)
		}
	}
	return nil
}

// greet says what is worth knowing at the start.
func (m *model) greet() {
	if m.unset != "" {
		m.say(m.unset, true)
		return
	}
	lost := m.lost()
	if len(lost) == 0 {
		return
	}
	is := "windows are"
	if len(lost) == 1 {
		is = "window is"
	}
	m.say(fmt.Sprintf("%d %s out of reach. r a brings all of them back.", len(lost), is), true)
}

func (m *model) say(words string, fault bool) { m.message, m.fault = words, fault }

// mention says what nobody here asked for. What was typed and refused just now comes first: it
// is said until the next key.
func (m *model) mention(words string, fault bool) {
	if !m.typing() || !m.fault || m.message == m.pulse.words {
		m.say(words, fault)
	}
}

// reply takes what became of a command of ours, as soon as the snapshot that
// shows it is there.
func (m *model) reply(r replyMsg) {
	m.busy = r.outcome.Serial > m.serial && !m.gone
	switch {
	case r.outcome.Serial > m.serial && !m.gone:
		m.early = append(m.early, r)
		return
	case r.err != nil:
		m.say(keeper.Sentence(r.err), true)
	case r.outcome.Err != nil:
		m.say(keeper.Sentence(r.outcome.Err), true)
	default:
		switch {
		case r.command.Hand != 0:
			if h, ok := m.top().(*handPrompt); ok && m.lastStep != h.from {
				h.did = m.lastStep
			}
			m.say("", false)
		case m.quietUndo && r.command.Verb == "undo":
		case m.heard > r.outcome.Serial: // what came of it was told already
		default:
			m.say(m.wayBack(r.command, r.outcome.Result.Words), false)
		}
		m.quietUndo = false
		if r.command.Verb == "reload" && m.wroteWords != "" {
			m.say(m.wroteWords+" u undoes.", false)
			m.wroteWords = ""
		}
		m.steps.did(r.command)
		m.goWhere(r.outcome.Result, r.command.Verb)
	}
	m.done("")
}

// wayBack adds to what was done how to take it back.
func (m *model) wayBack(c desk.Command, words string) string {
	switch {
	case words == "":
	case words == m.undo:
		words += " u undoes."
	case c.Verb == "pull": // a cable is no step of undo
		words += fmt.Sprintf(" @ %s plugs it in again.", strings.ToLower(string(rune(c.Args[0].Letter))))
	}
	return words
}

// goWhere takes the selection to where a command happened, and marks what it
// touched until the next key.
func (m *model) goWhere(r desk.Report, verb string) {
	m.touched = map[int]bool{}
	if !r.Goes || len(r.Windows) > 1 || verb == "carry" {
		for _, id := range r.Windows {
			m.touched[id] = true
		}
	}
	if set, ok := m.screen().(settler); !ok || !set.settle(m, r, verb) {
		m.settle(r, verb)
	}
	m.keepSelection()
}

// settle chooses what is chosen next after a command.
func (m *model) settle(r desk.Report, verb string) {
	switch {
	case r.Goes:
		m.settleThere(r, verb)
		m.home()
		if m.opt.BroughtUp {
			m.ahead = nil // the window goes, and what was typed too early has nowhere to go
		}
	case verb == "send":
		m.stay(r)
	case r.Workspace != 0 && len(m.touched) == 0:
		m.sel = cells.Selection{Workspace: r.Workspace}
	case len(r.Windows) > 0 && !slices.Contains(r.Windows, m.sel.Window):
		m.sel = cells.Selection{Window: r.Windows[0]}
	}
}

// settleThere chooses what has the focus after a command that goes somewhere; a
// choice that was carried along stays what it is.
func (m *model) settleThere(r desk.Report, verb string) {
	if verb != "carry" || !slices.Contains(r.Windows, m.sel.Window) {
		m.sel = m.here()
	}
}

// spot is where the cursor was before windows were sent: on a sheet, at a place of
// the plane and of the order.
type spot struct {
	workspace int // id
	letter    byte
	rect      geom.Rect
	at        int
}

// spotNow is where the cursor is.
func (m *model) spotNow() spot {
	w := m.d.Window(m.sel.Window)
	if w == nil {
		return spot{}
	}
	i := m.d.Index(w.Workspace)
	at := slices.IndexFunc(m.d.Order(i, w.Monitor), func(o *desk.Window) bool { return o.ID == w.ID })
	return spot{w.Workspace, w.Monitor, w.Rect, at}
}

// stay leaves the cursor where it was after windows were sent. It is on the window that took the
// place, so the same keys send the next one. Where they went is where g and Enter go.
func (m *model) stay(r desk.Report) {
	if len(r.Windows) > 0 {
		if w := m.d.Window(r.Windows[0]); w != nil {
			m.last["go"] = arg{Kind: desk.Ref, Letter: w.Monitor, N: m.d.Index(w.Workspace) + 1}
		}
	}
	s := m.spot
	if i := m.d.Index(s.workspace); i >= 0 && m.d.Has(i, s.letter) {
		order := m.d.Order(i, s.letter)
		m.sel = cells.Selection{Workspace: s.workspace, Letter: s.letter}
		if len(order) > 0 {
			m.sel = cells.Selection{Window: order[geom.Clamp(s.at, 0, len(order)-1)].ID}
		}
		center := s.rect.Center()
		for _, w := range order {
			if m.d.Tiled(w) && !m.d.Covered(w) && w.Rect.Has(center) {
				m.sel = cells.Selection{Window: w.ID}
				break
			}
		}
	}
}

// do has the keeper carry out a command.
func (m *model) do(c desk.Command) tea.Cmd {
	if q, asks := m.sureOfOwn(c); asks {
		return m.ask(c, q)
	}
	m.busy, m.spot = true, m.spotNow()
	return func() tea.Msg {
		o, err := m.k.Do(m.ctx, c, keeper.Screen)
		return replyMsg{c, o, err}
	}
}
