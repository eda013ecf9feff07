// Package tui is the screens: a Bubble Tea program that shows a keeper's desk
// as an atlas and acts on it from the keyboard.
package tui

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"charm.land/bubbles/v2/textinput"
	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
)

// Options say how the screens look and what they know of their surroundings.
type Options struct {
	Name  string // what the desk is called in the head
	Title string // of the terminal's window
	Theme Theme
	// Settings is the path of the settings file, which the settings screen
	// writes; empty where none is known. ThemeFixed says that the theme is not
	// the one of that file.
	Settings   string
	ThemeFixed bool
	Chords     [][2]string // keys of the display and their commands, for the page of keys
	// ChordRows makes Chords of changed settings; nil where there is no display.
	ChordRows func(settings.Settings) [][2]string
	First     FirstUse // nil for none
	// Plug plugs a made-up monitor in or pulls it; nil where they are real.
	Plug func(letter byte) error
	// BroughtUp says that the screens run in a window that their keeper shows
	// and hides: they end with it, and begin anew when they get the focus.
	BroughtUp bool
}

// Run shows the screens until they are left.
func Run(ctx context.Context, k keeper.Access, opt Options, more ...tea.ProgramOption) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	m := newModel(ctx, k, opt)
	_, err := tea.NewProgram(m, append([]tea.ProgramOption{tea.WithContext(ctx)}, more...)...).Run()
	if ctx.Err() != nil {
		return nil
	}
	return err
}

// mode is what the next key means.
type mode uint8

const (
	modeMap     mode = iota
	modeTarget       // a place for a verb
	modeLayout       // a letter of a layout
	modePlug         // the letter of a monitor to plug in or pull
	modeName         // the name of a workspace, new or renamed
	modeLine         // a command in words
	modeAsk          // a question before a command
	modeHelp         // the page of keys
	modeScreens      // the letter of another screen
	modeLog          // the logbook
	modeSettings
	modeLetter // a letter a to z for jump or pin
	modeDir    // a direction for a verb
	modeHand   // a window moved or resized by keys
	modeRules  // the rules for windows that open
	modeOpen   // an app to go to or to start
)

// screenKind is which screen is shown where no mode has one of its own.
type screenKind uint8

const (
	screenMap screenKind = iota
	screenGazetteer
	screenStrays
	screenSheet
)

// model is the state of the screens.
type model struct {
	ctx  context.Context
	k    keeper.Access
	opt  Options
	base Theme // opt.Theme before it was fitted to the terminal's colours
	news <-chan keeper.Update

	w, h    int
	profile colorprofile.Profile
	d       *desk.Desk
	lostOn  *desk.Desk     // the desk that lostNow is of
	lostNow []*desk.Window // see lost
	own     desk.Settings  // of what a scene does not tell
	gone    bool           // the keeper is
	tints   map[string]int

	sel     selection
	wide    widened
	touched map[int]bool
	message string
	fault   bool // the message tells one
	serial  int
	heard   int // the serial of the last news from elsewhere that was told
	reloads int
	undo    string // what undo would take back
	redo    string
	held    []replyMsg // whose snapshots have not come yet
	// busy tells that a command of ours is on its way. Keys wait for what it
	// does, or the next would act on what was there before.
	busy  bool
	ahead []tea.KeyPressMsg // the keys that wait

	screen screenKind
	gaz    gazetteer
	opener opener
	hand   hand
	digit  int    // the first cell after snap, 0 for none yet
	cursor int    // the cell that arrows choose after snap, 0 where digits do
	part   string // of the work area after snap, empty for a half
	// quietUndo has the words of the next undo be those that are there.
	quietUndo bool
	mode      mode
	verb      string         // of modeTarget
	target    *desk.Arg      // chosen by arrows in modeTarget, or a monitor waiting for its digit
	app       string         // whose windows modeTarget is about, empty for those chosen
	last      map[string]arg // the target each verb had last
	input     textinput.Model
	stops     []stop // what is drawn and can be chosen by the pointer, the topmost last
	grip      int    // the window that the pointer holds, 0 for none
	asked     desk.Command
	asks      [2]string // what Enter does then, and Escape
	wanted    string    // the screen that a chord asked for last
	calls     int       // how often chords asked
	brought   int       // the call that was followed last
	scroll    int       // of the page of keys
	log       logbook
	set       settingsScreen
	rules     rulesScreen

	ctrlC bool
	steps steps
}

type arg = desk.Arg

type (
	updateMsg struct {
		keeper.Update
		ok bool
	}
	replyMsg struct {
		command desk.Command
		outcome keeper.Outcome
		err     error
	}
)

func newModel(ctx context.Context, k keeper.Access, opt Options) *model {
	m := &model{
		ctx: ctx, k: k, opt: opt, base: opt.Theme, w: 80, h: 24, profile: colorprofile.TrueColor,
		tints: map[string]int{}, last: map[string]arg{}, touched: map[int]bool{},
	}
	m.input = textinput.New()
	m.input.Prompt = ""
	m.input.SetVirtualCursor(false) // the terminal's own is used
	m.input.CharLimit = 1000
	m.news = k.Watch(ctx)
	m.steps = newSteps(opt.First)
	m.reread()
	return m
}

// Init waits for the first snapshot.
func (m *model) Init() tea.Cmd { return m.wait() }

// wait gives the keeper's next news as a message.
func (m *model) wait() tea.Cmd {
	return func() tea.Msg {
		u, ok := <-m.news
		return updateMsg{u, ok}
	}
}

// Update follows a message.
func (m *model) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	switch msg := msg.(type) {
	case tea.WindowSizeMsg:
		m.w, m.h = msg.Width, msg.Height
	case tea.ColorProfileMsg:
		m.profile = msg.Profile
		m.fitTheme()
	case updateMsg:
		return m, m.update(msg)
	case replyMsg:
		m.reply(msg)
		return m, m.typeAhead()
	case logMsg:
		return m, m.gotLog(msg)
	case wouldMsg:
		m.gotWould(msg)
	case appsMsg:
		m.gotApps(msg)
	case tea.KeyPressMsg:
		if m.busy && msg.String() != "ctrl+c" {
			m.ahead = append(m.ahead, msg)
			return m, nil
		}
		return m, m.key(msg)
	case tea.PasteMsg:
		if m.typing() {
			cmd := m.edit(msg)
			switch {
			case m.mode == modeOpen:
				m.openRank()
			case m.gaz.search && m.screen == screenGazetteer:
				m.gazTyped()
			}
			return m, cmd
		}
	case tea.MouseClickMsg:
		m.click(tea.Mouse(msg))
	case tea.MouseMotionMsg:
		if m.grip != 0 {
			m.drag(tea.Mouse(msg))
		}
	case tea.MouseReleaseMsg:
		return m, m.letGo()
	case tea.MouseWheelMsg:
		return m, m.wheel(tea.Mouse(msg))
	}
	return m, nil
}

// typing tells whether text is being typed.
func (m *model) typing() bool {
	return m.mode == modeLine || m.mode == modeName || m.mode == modeOpen || m.mode == modeRules && m.rules.line || m.gaz.search && m.screen == screenGazetteer || m.mode == modeSettings && m.set.typing != notTyping
}

// fitTheme takes the theme's colours as the terminal has them.
func (m *model) fitTheme() {
	m.opt.Theme = m.base
	switch m.profile {
	case colorprofile.ANSI:
		m.opt.Theme = m.base.basic()
	case colorprofile.ANSI256:
		m.opt.Theme = m.base.indexed()
	}
}

// update takes a new snapshot.
func (m *model) update(u updateMsg) tea.Cmd {
	if !u.ok {
		m.gone, m.busy = true, false
		m.say("The keeper is gone. Its windows stay. q quits.", true)
		if m.opt.BroughtUp {
			return tea.Quit
		}
		return nil
	}
	first := m.d == nil
	if u.Reloads != m.reloads {
		m.reloads = u.Reloads
		m.reread()
	}
	m.d, m.serial, m.undo, m.redo = u.Desk.WithOwn(m.own), u.Serial, u.Undo, u.Redo
	for _, w := range m.d.Windows {
		if _, known := m.tints[w.App]; !known {
			m.tints[w.App] = len(m.tints)
		}
	}
	if first {
		m.sel = m.here()
		m.greet()
	} else if u.Source != keeper.Screen && u.Words != "" {
		m.say(u.Words, false)
		m.heard = u.Serial
	}
	m.keepSelection()
	if m.screen == screenGazetteer {
		m.gazFill()
		m.gazSelect()
	}
	m.wanted, m.calls = u.Screen, u.Asked
	held := m.held
	m.held = nil
	for _, r := range held {
		m.reply(r)
	}
	if m.mode == modeLog {
		return tea.Batch(m.wait(), m.openLog(), m.typeAhead())
	}
	return tea.Batch(m.wait(), m.typeAhead())
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
		m.brought = m.calls
		m.bringUp(m.wanted)
	}
	return tea.Batch(cmds...)
}

// bringUp shows the screen that a chord asked for, on what has the focus.
func (m *model) bringUp(screen string) {
	m.mode, m.screen, m.target, m.sel = modeMap, screenMap, nil, m.here()
	m.input.Blur()
	switch screen {
	case "recent":
		m.openSwitcher()
	case "find":
		m.openGazetteer(true)
	case "strays":
		m.openStrays()
	case "nudge", "resize":
		m.startHand(screen)
		m.hand.chord = true
	}
}

// greet says what is worth knowing at the start.
func (m *model) greet() {
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

// here is the focused window, else the sheet you are on.
func (m *model) here() selection {
	if m.d.Focus != 0 {
		return selection{window: m.d.Focus}
	}
	i := m.d.Current()
	if !m.d.Has(i, m.d.At) {
		return selection{workspace: m.d.Workspaces[i].ID}
	}
	return selection{workspace: m.d.Workspaces[i].ID, letter: m.d.At}
}

// keepSelection moves the selection off what is gone.
func (m *model) keepSelection() {
	s := m.sel
	switch {
	case s.window != 0 && m.d.Window(s.window) != nil:
		return
	case s.window == 0 && m.d.Index(s.workspace) >= 0 && (s.letter == 0 || m.d.Has(m.d.Index(s.workspace), s.letter)):
		if s.letter == 0 || len(m.d.Order(m.d.Index(s.workspace), s.letter)) == 0 {
			return
		}
		m.sel = selection{window: m.d.Order(m.d.Index(s.workspace), s.letter)[0].ID}
		return
	}
	m.sel = m.here()
}

// reply takes what became of a command of ours, as soon as the snapshot that
// shows it is there.
func (m *model) reply(r replyMsg) {
	m.busy = r.outcome.Serial > m.serial && !m.gone
	switch {
	case r.outcome.Serial > m.serial && !m.gone:
		m.held = append(m.held, r)
		return
	case r.err != nil:
		m.say(keeper.Sentence(r.err), true)
	case r.outcome.Err != nil:
		m.say(keeper.Sentence(r.outcome.Err), true)
	default:
		switch {
		case r.command.Hand != 0:
			m.hand.words = r.outcome.Result.Words
			m.say("", false)
		case m.quietUndo && r.command.Verb == "undo":
		case m.heard > r.outcome.Serial: // what came of it was told already
		default:
			m.say(m.withUndo(r.outcome.Result.Words), false)
		}
		m.quietUndo = false
		if r.command.Verb == "reload" && (m.mode == modeSettings || m.mode == modeRules) {
			m.say(m.set.words, false)
		}
		m.steps.did(r.command)
		m.goWhere(r.outcome.Result, r.command.Verb)
	}
}

// withUndo adds to what was done how to take it back.
func (m *model) withUndo(words string) string {
	if words != "" && words == m.undo {
		return words + " u undoes."
	}
	return words
}

// goWhere takes the selection to where a command happened, and marks what it
// touched until the next key.
func (m *model) goWhere(r desk.Result, verb string) {
	m.touched = map[int]bool{}
	if !r.Goes || len(r.Windows) > 1 || verb == "carry" {
		for _, id := range r.Windows {
			m.touched[id] = true
		}
	}
	switch {
	case r.Goes:
		m.sel = m.here()
		if m.screen != screenSheet {
			m.screen = screenMap
		}
	case m.screen == screenGazetteer:
		m.gazSelect() // the cursor stays where it is
	case m.screen == screenStrays && verb == "rescue":
		m.selectStray() // on to the next
	case r.Workspace != 0 && len(m.touched) == 0:
		m.sel = selection{workspace: r.Workspace}
	case len(r.Windows) > 0 && !slices.Contains(r.Windows, m.sel.window):
		m.sel = selection{window: r.Windows[0]}
	}
	m.keepSelection()
}

// do has the keeper carry out a command.
func (m *model) do(c desk.Command) tea.Cmd {
	m.busy = true
	return func() tea.Msg {
		o, err := m.k.Do(m.ctx, c, keeper.Screen)
		return replyMsg{c, o, err}
	}
}

// subject is the query for what is chosen, for verbs that act on windows; nil
// where no window is.
func (m *model) subject() desk.Query {
	var qs []desk.Query
	for _, id := range m.chosen() {
		qs = append(qs, desk.ByID{ID: id})
	}
	switch len(qs) {
	case 0:
		return nil
	case 1:
		return qs[0]
	}
	return desk.Or{Qs: qs}
}

// workspaceAt is the index of the workspace the selection is on.
func (m *model) workspaceAt() int {
	if w := m.d.Window(m.sel.window); w != nil {
		return m.d.Index(w.Workspace)
	}
	return max(m.d.Index(m.sel.workspace), 0)
}

// sheetOf is the monitor of the sheet that stands for a whole workspace: At's,
// or in separate mode its home's.
func (m *model) sheetOf(i int) byte {
	if m.d.Has(i, m.d.At) {
		return m.d.At
	}
	return m.d.HomeOf(i)
}

// monitorAt is the monitor the selection is on, 0 for a whole workspace.
func (m *model) monitorAt() byte {
	if w := m.d.Window(m.sel.window); w != nil {
		return w.Monitor
	}
	return m.sel.letter
}

// subjectWords names what is chosen.
func (m *model) subjectWords() string {
	if n := len(m.group()); n > 1 && !m.marked() {
		return fmt.Sprintf("the group of %d around #%d", n, m.sel.window)
	}
	if n := len(m.chosen()); n > 1 {
		return fmt.Sprintf("%d marked windows", n)
	}
	if w := m.d.Window(m.sel.window); w != nil {
		name := w.App
		if name == "" {
			name = w.Label()
		}
		return fmt.Sprintf("#%d %s", w.ID, fit(name, 24))
	}
	i := m.workspaceAt()
	if m.sel.letter != 0 {
		return "sheet " + desk.SheetRef(i, m.sel.letter)
	}
	return "workspace " + fit(m.d.Title(i), 20)
}

// parts of the screen, in cells.
type parts struct {
	chart  geom.Rect
	panel  geom.Rect // empty where there is no room
	legend int       // the first of its rows
	rows   int       // of the legend
}

const (
	smallestW, smallestH = 60, 16
	panelFrom            = 120 // columns
)

func (m *model) parts() parts {
	p := parts{rows: 1}
	if m.h >= 30 {
		p.rows = 2
	}
	p.legend = m.h - p.rows
	p.chart = geom.R(0, 2, m.w, p.legend-1-2)
	if m.w >= panelFrom {
		w := min(38, m.w/4)
		p.panel = geom.R(m.w-w, 1, w, p.legend-1-1)
		p.chart.W -= w + 1
	}
	return p
}

// chart works the map out for the present screen.
func (m *model) chart() *chart { return newChart(m.d, m.preview(), m.parts().chart, m.workspaceAt()) }

// title is the terminal's title. In a window that the keeper brought up it
// ends with the number of what these screens were last asked to show: keys typed
// meanwhile wait for that.
func (m *model) title() string {
	if !m.opt.BroughtUp {
		return m.opt.Title
	}
	return m.opt.Title + " " + strconv.Itoa(m.brought)
}

// View draws the screen.
func (m *model) View() tea.View {
	v := tea.View{AltScreen: true, MouseMode: tea.MouseModeCellMotion, WindowTitle: m.title()}
	t := m.opt.Theme
	ground := t.style(t.Paper)
	c := newCanvas(max(m.w, 1), max(m.h, 1), ground)
	switch {
	case m.w < smallestW || m.h < smallestH:
		for i, line := range wrap(fmt.Sprintf("The atlas needs %d columns and %d rows; here are %d and %d. q quits.", smallestW, smallestH, m.w, m.h), m.w) {
			c.text(0, i, m.w, line, ground)
		}
	case m.d == nil:
		c.text(2, 1, m.w, "Waiting for the desk.", ground)
	case m.mode == modeHelp:
		m.help(c)
	case m.mode == modeLog:
		m.drawLog(c)
	case m.mode == modeRules:
		v.Cursor = m.drawRules(c)
	case m.mode == modeSettings:
		v.Cursor = m.drawSettings(c)
	default:
		switch {
		case m.mode == modeOpen:
			v.Cursor = m.drawOpen(c)
		case m.byHand() && m.d.Tiled(m.d.Window(m.sel.window)):
			v.Cursor = m.drawSheet(c)
		case m.screen == screenGazetteer:
			v.Cursor = m.drawGazetteer(c)
		case m.screen == screenSheet:
			v.Cursor = m.drawSheet(c)
		case m.screen == screenStrays || m.mode == modeHand:
			v.Cursor = m.drawStrays(c)
		default:
			v.Cursor = m.drawMap(c)
		}
	}
	if v.Cursor != nil {
		v.Cursor.Blink = false
	}
	v.BackgroundColor = t.Ink
	if m.profile <= colorprofile.ASCII {
		v.BackgroundColor = nil
	}
	v.SetContent(c.Render())
	m.stops = c.stops
	return v
}

// drawMap draws the atlas screen and gives the place of the text cursor, nil
// where nothing is typed.
func (m *model) drawMap(c *canvas) *tea.Cursor {
	parts := m.parts()
	ch := m.chart()
	p := m.painter(c, ch)
	m.head(c)
	c.stops = ch.all(m.d)
	p.atlas()
	if next := m.preview(); next != nil {
		p.pencil(next)
	}
	if !parts.panel.Empty() {
		m.panel(p, parts.panel)
	}
	m.firstUse(c, parts)
	return m.foot(c, parts)
}

// painter draws the desk on a canvas by a chart.
func (m *model) painter(c *canvas, ch *chart) *painter {
	return &painter{
		canvas: c, t: m.opt.Theme, framed: m.profile < colorprofile.ANSI256,
		d: m.d, ch: ch, sel: m.sel, also: m.inGroup(), touched: m.touched, tints: m.tints,
	}
}

// preview is the desk as the command being typed or chosen would leave it.
func (m *model) preview() *desk.Desk {
	c, ok := m.pending()
	if !ok {
		return nil
	}
	next, _, err := m.d.Apply(c)
	if err != nil {
		return nil
	}
	return next
}

// pending is the command that Enter would carry out.
func (m *model) pending() (desk.Command, bool) {
	switch m.mode {
	case modeLine:
		c, err := lang.ParseCommand(m.input.Value())
		return m.about(c), err == nil
	case modeTarget:
		if m.target != nil {
			return m.targetCommand(*m.target), true
		}
	case modeAsk:
		return m.asked, true
	case modeDir:
		if m.verb == "snap" && m.cursor > 0 && m.digit > 0 {
			c, err := lang.ParseCommand(m.cellWords())
			return m.about(c), err == nil
		}
	}
	return desk.Command{}, false
}

// about has a command that names no windows act on the chosen one, where its
// verb acts on windows.
func (m *model) about(c desk.Command) desk.Command {
	if v, ok := desk.FindVerb(c.Verb); ok && v.Windows && c.Of == nil {
		c.Of = m.subject()
	}
	return c
}

// head writes the first row: what this is, where you are, what there is.
func (m *model) head(c *canvas) {
	t := m.opt.Theme
	quiet := t.style(t.Slate)
	at := 1 + c.spans(1, 0, c.w, span{"ZEALOUS ATLAS", bold(t.style(t.Brass))}, span{"  " + m.opt.Name, quiet})
	lost := len(m.lost())
	facts := []span{{m.modeWords() + fmt.Sprintf("%d workspaces · %d windows", len(m.d.Workspaces), len(m.d.Windows)), quiet}}
	if n := len(m.d.Select(desk.Is{State: desk.IsUrgent})); n > 0 {
		facts = append(facts, span{" · ", quiet}, span{fmt.Sprintf("^ %d urgent", n), bold(t.style(t.Brass))})
	}
	if lost > 0 {
		facts = append(facts, span{" · ", quiet}, span{fmt.Sprintf("! %d lost", lost), bold(t.style(t.Coral))})
	}
	wide := 0
	for _, s := range facts {
		wide += width(s.text)
	}
	right := c.w - wide - 1
	c.spans(right, 0, wide, facts...)
	where := "● " + m.d.Title(m.d.Current()) + " · " + string(rune(m.d.At))
	if w := m.d.Window(m.d.Focus); w != nil {
		where += " · " + w.App
	}
	words := "you are on  "
	room := right - at - 4
	if m.d.Bare {
		words, where = "", "the desk is bare; D brings everything back"
	}
	if room < width(words+where) {
		words = ""
	}
	where = fit(where, room)
	x := at + 2 + max(0, (room-width(words+where))/2)
	c.spans(x, 0, room, span{words, quiet}, span{where, bold(t.style(t.Green))})
}

// modeWords name what is not as it is by default, where there is room for it.
func (m *model) modeWords() string {
	words := ""
	if m.d.Settings.Separate && m.w >= panelFrom {
		words += "separate · "
	}
	if m.d.Settings.Growing && m.w >= panelFrom {
		words += "growing · "
	}
	return words
}

// lost lists what is lost. It is asked for several times a frame, and worked out
// once for a desk.
func (m *model) lost() []*desk.Window {
	if m.lostOn != m.d {
		m.lostOn, m.lostNow = m.d, m.d.Select(desk.Is{State: desk.IsStray})
	}
	return m.lostNow
}

// targetCommand is the verb of modeTarget with its target.
func (m *model) targetCommand(a arg) desk.Command {
	c := desk.Command{Verb: m.verb, Args: []arg{a}}
	if m.verb == "home" {
		c.Args = []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}, a}
	}
	if m.verb == "rescue" {
		c.Args = []arg{{Kind: desk.Keyword, Word: "to"}, a}
	}
	if m.app != "" {
		c.Of = ofApp(m.app)
	}
	return m.about(c)
}

// joinNonEmpty joins the parts that are not empty.
func joinNonEmpty(sep string, parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return s == "" }), sep)
}
