// Package keys decides what the keys of a display do, from the press of a chord on. It follows
// the keys behind a chord, the questions of verbs, held lists and peeks, and records a chord.
// It knows neither X nor a clock: a host tells it what is pressed and released, and when.
package keys

import (
	"fmt"
	"slices"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// listenTime is for how long without a key the keyboard stays ours at most: what locks the
// screen must be able to have it.
const listenTime = 10 * time.Second

// heldCheck is how often it is asked whether a key that is held is still down, in case its
// release was missed.
const heldCheck = time.Second

// heldWait is how long the release of modifiers is waited for that are up already: where
// they were never down, none comes.
const heldWait = 20 * time.Millisecond

// Press is a key that was pressed.
type Press struct {
	Code    byte     // the key's number
	Names   []string // what it may stand for, the one meant first before others; none for a modifier
	Written string   // as chords are written, with the modifiers held
	Shift   bool
	Again   bool // it is held down, and repeats
	Time    time.Time
}

// Side is a host's side of the keyboard. Every press of a chord finds the keyboard standing
// still: what is typed next waits.
type Side interface {
	// Take has all keys come here from the press that is followed on. It tells whether that
	// could be, and has words for it where not.
	Take() bool
	// Give gives the keyboard back.
	Give()
	// Thaw ends the standstill that the press which is followed began.
	Thaw()
	// Wait has the standstill last until the command that was asked for is done.
	Wait()
	// Next has the next key come, while all do. The keyboard stands still in between.
	Next()
	// KeysOf are the keys of modifiers.
	KeysOf(ms Modifiers) []byte
	// Down tells whether one of some keys is held down.
	Down(codes ...byte) bool
	// Do asks for a command.
	Do(c desk.Command)
	// Bring brings up a screen, or puts it away, and tells whether the keyboard stands
	// still for it.
	Bring(screen string) bool
	Say(words string)
	Show(c Card)
	Hide() // the card
	// Frame shows an outline, and hides it where it is empty.
	Frame(r geom.Rect)
	Wake(at time.Time)
}

// Card is what is shown of what may follow a key, or of a list.
type Card struct {
	Head   string
	Rows   []prompt.Row
	Foot   string
	Chosen int  // the row that is, -1 for none
	Window int  // the id of the window that is chosen, 0 for none
	Hidden bool // that window is not seen now
}

// Machine follows the keys. The zero value with a Side is ready once a desk is shown.
type Machine struct {
	Side Side
	// Delay is after how long a card shows what may follow; 0 for at once.
	Delay time.Duration

	desk   *desk.Desk
	last   map[string]string // what each verb that asks for a place was told last
	now    time.Time         // of what is followed
	asked  int               // how many commands were asked for
	ours   listening
	peek   peek
	record recording
}

// listening is the keyboard while it is ours after a chord: for the keys that follow it, for
// what a verb asks, or for a held list.
type listening struct {
	on       bool
	levels   []prompt.Prompt // what may follow; the last one now
	question *question       // that is asked; nil for none
	list     *held           // that is held; nil for none
	subject  int             // the window that had the focus, which commands are about; 0 for none
	group    []int           // the windows that were chosen in its place; nil for none
	chord    string          // what began it
	code     byte            // the key of the last press that meant something
	card     time.Time       // when the card is to show; zero where it does, or is not to
	shows    bool            // the card
	until    time.Time
	ends     bool // with the release of code
	waits    bool // the keyboard stands still for a screen
}

// question is what is asked before a command is done.
type question struct {
	desk.Question
	command desk.Command
}

// On tells whether the keyboard is ours.
func (m *Machine) On() bool { return m.ours.on }

// See takes in the desk as it is now shown.
func (m *Machine) See(d *desk.Desk) {
	m.desk = d
	m.renewList()
}

// Over ends what was asked: the keyboard is everybody's again, whoever gave it back.
func (m *Machine) Over() {
	m.Side.Hide()
	m.Side.Frame(geom.Rect{})
	m.ours = listening{}
	m.EndRecording(Stalled)
}

// Press follows a key that came because the keyboard is ours; it tells whether it did.
func (m *Machine) Press(p Press) bool {
	m.now = p.Time
	switch {
	case m.record.told != nil:
		m.recorded(p)
	case !m.ours.on:
		return false
	case !p.Again: // else one that is still held
		m.follow(p)
	}
	m.goOn()
	return true
}

// Chord follows the press of a chord.
func (m *Machine) Chord(at Start, p Press) {
	m.now = p.Time
	switch {
	case !at.listens():
		asked := m.asked
		if at.own.Hold {
			m.peekAt(at.own, p)
		} else {
			m.chord(at.own.Command, p.Again)
		}
		if m.asked > asked {
			m.Side.Wait()
		} else {
			m.Side.Thaw()
		}
	case p.Again:
		m.Side.Thaw()
	default:
		m.begin(at, p)
	}
}

// Listens tells whether a chord has keys come here, so that it has to wait for what was
// asked for before.
func (m *Machine) Listens(at Start, p Press) bool { return at.listens() && !p.Again }

// begin follows a chord after which the keyboard is ours, or a screen's.
func (m *Machine) begin(at Start, p Press) {
	m.ours = listening{subject: m.desk.Focus, chord: at.name(), code: p.Code}
	switch {
	case at.own.Name == "":
		m.ask(at.sequence())
	case at.own.Hold:
		m.hold(at.own)
	default:
		m.deed(at.own.Command)
	}
	if !m.ours.on && !m.ours.waits {
		m.Side.Thaw()
	}
}

// chord asks for what a chord stands for. While it is held down, that is done again where
// its verb says so.
func (m *Machine) chord(line string, again bool) {
	c, err := lang.ParseCommand(line)
	switch {
	case err != nil:
		m.Side.Say(fmt.Sprintf("The chord stands for %q, which is no command.", line))
	case !again || c.Repeats():
		m.do(c)
	}
}

func (m *Machine) do(c desk.Command) {
	m.asked++
	m.Side.Do(c)
}

// deed does what keys stand for: a screen, a verb that asks, or a command.
func (m *Machine) deed(command string) {
	if prompt.IsScreen(command) {
		m.bring(command)
		return
	}
	if command == prompt.Around {
		m.around()
		return
	}
	v, asks := prompt.Asked(command)
	if !asks {
		m.carryOut(command, desk.Question{})
		return
	}
	p, can := prompt.For(m.about(v))
	switch {
	case v.Windows && !v.Sheet && m.ours.subject == 0 && !v.Rescues: // of which a is about all that are lost
		m.end(fmt.Sprintf("No window has the focus: %s acts on windows.", v.Name))
	case !can:
		m.end(fmt.Sprintf("Nothing can follow %s here.", v.Name))
	case v.Rescues && m.ours.subject == 0 && p.Refused() != nil:
		m.end("No window is lost.")
	case p.Refused() != nil:
		m.end(desk.Sentence(p.Refused().Error()))
	case p.Choices[0].Text != "":
		m.bring(prompt.Command + " " + p.Choices[0].Text)
	default:
		m.ask(p)
	}
}

// about is what a verb's question is about.
func (m *Machine) about(v desk.Verb) prompt.About {
	a := prompt.About{Desk: m.desk, Verb: v, Workspace: m.desk.Current(), Letter: m.desk.At, Last: m.last[v.Name], Means: m.means}
	if w := m.desk.Window(m.ours.subject); w != nil && v.Windows {
		a.App, a.Words, a.Letter = w.App, fmt.Sprintf("#%d %s", w.ID, desk.Cut(w.Label(), 24)), w.Monitor
		a.Workspace = m.desk.Index(w.Workspace)
	}
	if m.ours.group != nil && v.Windows {
		a.App, a.Words = "", m.ours.groupWords()
	}
	return a
}

// groupWords is the group that was chosen, in words.
func (l *listening) groupWords() string {
	if len(l.group) == 1 {
		return "this window"
	}
	return "the group of " + fmt.Sprint(len(l.group))
}

// Offer shows what can be done with the window that has the focus, as a card; the next key is
// that of a verb.
func (m *Machine) Offer(now time.Time) {
	if m.ours.on || m.desk == nil || m.desk.Focus == 0 {
		return
	}
	m.now = now
	m.ours = listening{subject: m.desk.Focus, group: []int{m.desk.Focus}}
	if m.take() {
		m.offer(prompt.Prompt{Lead: m.ours.groupWords()})
		m.showCard()
	}
}

// Typed is what began the keys that are followed; empty where none are.
func (m *Machine) Typed() string {
	if !m.ours.on || m.ours.list != nil {
		return ""
	}
	return m.ours.chord
}

// around chooses the group around what is chosen, which begins with the tile that has the
// focus. The next key is that of a verb, as on the screens.
func (m *Machine) around() {
	l := &m.ours
	chosen := l.group
	if chosen == nil {
		chosen = []int{l.subject}
	}
	wider := m.desk.Around(chosen)
	if wider == nil {
		m.end("There is no group around that.")
		return
	}
	if !m.take() {
		return
	}
	l.group = wider
	var tiles []geom.Rect
	for _, id := range wider {
		tiles = append(tiles, m.desk.Window(id).Rect)
	}
	m.Side.Frame(geom.Bound(tiles...))
	p := prompt.Prompt{Lead: l.groupWords()}
	if m.desk.Around(wider) != nil {
		p.Choices = append(p.Choices, prompt.Choice{Key: "Z", Does: "the group around it", Deed: prompt.Around})
	}
	m.offer(p)
	m.cardSoon()
}

// offer has the next key be that of a verb that does something with what is chosen.
func (m *Machine) offer(p prompt.Prompt) {
	for _, v := range desk.Verbs() {
		if v.Windows && len(v.Key) == 1 && m.about(v).Refused() == nil {
			p.Choices = append(p.Choices, prompt.Choice{Key: v.Key, Does: v.Name, Deed: v.Name})
		}
	}
	m.ours.levels = []prompt.Prompt{p}
	m.stay()
}

// carryOut does a command, after asking where its verb asks, or a question is given.
func (m *Machine) carryOut(command string, q desk.Question) {
	c, err := lang.ParseCommand(command)
	if err != nil {
		m.end(fmt.Sprintf("The keys stand for %q, which is no command.", command))
		return
	}
	v, _ := desk.FindVerb(c.Verb)
	c = m.means(c)
	if q.Text == "" && v.Sure != nil {
		if sure, asks := v.Sure(m.desk, c); asks {
			q = sure
		}
	}
	if q.Text != "" {
		m.askSure(&question{q, c})
		return
	}
	m.finish(c)
}

// means has a command be about what the keys are about.
func (m *Machine) means(c desk.Command) desk.Command {
	v, _ := desk.FindVerb(c.Verb)
	switch {
	case !v.Windows || c.Of != nil:
	case m.ours.group != nil:
		c.Of = desk.ByIDs(m.ours.group)
	case !v.Sheet && v.Without == nil && m.ours.subject != 0:
		c.Of = desk.ByID{ID: m.ours.subject}
	}
	return c
}

// finish asks for the command that keys have come to.
func (m *Machine) finish(c desk.Command) {
	m.end("")
	if v, _ := desk.FindVerb(c.Verb); v.Asks == desk.AskPlace {
		if m.last == nil {
			m.last = map[string]string{}
		}
		about := c
		about.Of = nil
		m.last[c.Verb] = lang.Print(about)
	}
	m.do(c)
}

// bring brings up a screen. Keys wait until it is there.
func (m *Machine) bring(screen string) {
	taken := m.ours.on
	if taken {
		m.Side.Hide()
		m.Side.Frame(geom.Rect{})
		m.ours = listening{}
	}
	m.ours.waits = m.Side.Bring(screen)
	if taken && !m.ours.waits {
		m.Side.Give()
	}
}

// take has all keys come here.
func (m *Machine) take() bool {
	if !m.ours.on {
		m.ours.on = m.Side.Take()
		m.goOn()
	}
	return m.ours.on
}

// goOn has the next key come, after one was followed, where the keyboard is ours still.
func (m *Machine) goOn() {
	if m.ours.on || m.record.told != nil {
		m.Side.Next()
	}
}

// ask has the next key answer a question.
func (m *Machine) ask(p prompt.Prompt) {
	if m.take() {
		m.ours.levels = append(m.ours.levels, p)
		m.stay()
		m.cardSoon()
	}
}

// stay has the keyboard be ours for a while more.
func (m *Machine) stay() {
	m.ours.until = m.now.Add(listenTime)
	m.Side.Wake(m.ours.until)
}

// cardSoon shows the card of what may follow: at once where one shows already.
func (m *Machine) cardSoon() {
	if m.ours.shows || m.Delay <= 0 {
		m.showCard()
		return
	}
	m.ours.card = m.now.Add(m.Delay)
	m.Side.Wake(m.ours.card)
}

// showCard shows what may follow.
func (m *Machine) showCard() {
	l := &m.ours
	p := l.levels[len(l.levels)-1]
	c := Card{Head: p.Lead, Rows: p.Rows(), Foot: "Escape leaves", Chosen: -1}
	if len(c.Rows) == 0 {
		c.Rows = []prompt.Row{{Does: p.Empty}}
	}
	if len(l.levels) > 1 {
		c.Foot += ", Backspace goes back one"
	}
	m.show(c)
}

// show shows a card at once.
func (m *Machine) show(c Card) {
	m.ours.card, m.ours.shows = time.Time{}, true
	m.Side.Show(c)
}

// askSure asks before a command is done; the same key again does it.
func (m *Machine) askSure(q *question) {
	if !m.take() {
		return
	}
	m.ours.question = q
	m.stay()
	key := m.ours.chord
	if len(m.ours.levels) > 0 {
		key = "the same key"
	}
	m.show(Card{Head: q.Text, Rows: []prompt.Row{{Keys: key + " again", Does: q.Does}, {Keys: "any other key", Does: q.Leaves}}, Chosen: -1})
}

// follow follows a key while the keyboard is ours.
func (m *Machine) follow(p Press) {
	l := &m.ours
	switch {
	case l.ends: // another key before the last one was let go of
		m.giveBack()
		return
	case len(p.Names) == 0:
		return // a modifier
	}
	m.stay()
	if l.list != nil {
		m.listKey(p)
		return
	}
	again := p.Code == l.code
	l.code = p.Code
	switch {
	case l.question == nil:
		m.answer(p)
	case again:
		m.finish(l.question.command)
	default:
		m.end("Left as it was.")
	}
}

// answer follows a key that answers what is asked.
func (m *Machine) answer(p Press) {
	l := &m.ours
	asked := l.levels[len(l.levels)-1]
	c, ok := asked.Find(p.Names...)
	switch {
	case p.Names[0] == "Escape" || p.Names[0] == "BackSpace" && len(l.levels) == 1:
		m.end("")
	case p.Names[0] == "BackSpace":
		l.levels = l.levels[:len(l.levels)-1]
		m.cardSoon()
	case !ok:
		m.end(fmt.Sprintf("%s means nothing after %s. Everything is as it was.", prompt.Shown(p.Names[len(p.Names)-1]), asked.Lead))
	case c.Next != nil:
		m.ask(c.Next())
	case c.Text != "":
		m.bring(prompt.Command + " " + c.Text)
	case c.Screen != "":
		m.bring(c.Screen)
	case c.Deed != "":
		m.deed(c.Deed)
	default:
		m.carryOut(c.Line, c.Question)
	}
}

// end ends what was asked and says why. The keyboard is given back when the last key is
// released: a program must not see the release of a press it has not seen.
func (m *Machine) end(words string) {
	l := &m.ours
	if words != "" {
		m.Side.Say(words)
	}
	if !l.on {
		return
	}
	m.Side.Hide()
	if l.group != nil {
		m.Side.Frame(geom.Rect{})
		l.group = nil
	}
	l.levels, l.question, l.list, l.card, l.shows, l.ends = nil, nil, nil, time.Time{}, false, true
	if !m.Side.Down(l.code) {
		m.giveBack()
		return
	}
	m.stay()
}

// giveBack gives the keyboard back.
func (m *Machine) giveBack() {
	if !m.ours.on {
		return
	}
	m.Side.Hide()
	m.Side.Frame(geom.Rect{})
	m.Side.Give()
	m.ours = listening{subject: m.ours.subject, chord: m.ours.chord, code: m.ours.code}
}

// Release follows a key that is let go of, or that repeats, where a release comes before
// each press.
func (m *Machine) Release(code byte, now time.Time) {
	m.now = now
	defer m.goOn()
	l := &m.ours
	switch {
	case m.peek.on && m.peek.code == code:
		if !m.Side.Down(code) {
			m.endPeek()
		}
	case l.on && l.ends && code == l.code:
		if !m.Side.Down(code) {
			m.giveBack()
		}
	case l.on && l.list != nil && slices.Contains(l.list.mods, code):
		m.letGo()
	}
}

// Tick follows the time.
func (m *Machine) Tick(now time.Time) {
	m.now = now
	m.recordTick()
	m.peekTick()
	l := &m.ours
	if !l.on {
		return
	}
	if !l.card.IsZero() {
		if now.Before(l.card) {
			m.Side.Wake(l.card)
		} else {
			m.showCard()
		}
	}
	m.listTick()
	switch {
	case !l.on:
	case now.Before(l.until):
		m.Side.Wake(l.until)
	default:
		m.giveBack()
	}
}
