package x11

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11/paint"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// listenTime is for how long without a key the keyboard stays ours at most: what locks
// the screen must be able to have it.
const listenTime = 10 * time.Second

// listening is the keyboard while it is ours, after a chord: for the keys that go on with
// it, for what a verb asks, or for a list that is held.
type listening struct {
	on       bool
	levels   []prompt.Prompt // what may follow; the last one now
	question *question       // that is asked; nil for none
	list     *heldList       // that is held; nil for none
	subject  int             // the window that had the focus, which commands are about; 0 for none
	chord    string          // what began it
	code     xproto.Keycode  // the key of the last press that meant something
	card     time.Time       // when the card is to show; zero where it does, or is not to
	shows    bool            // the card
	until    time.Time
	ends     bool // with the release of code
}

// question is what is asked before a command is done.
type question struct {
	desk.Question
	command desk.Command
}

// begin follows the press of a chord after which the keyboard is ours, or that of the
// atlas window. The keyboard stands still.
func (h *Host) begin(at start, e xproto.KeyPressEvent) {
	h.ours = listening{subject: h.desk.Focus, chord: at.name(), code: e.Detail}
	switch {
	case at.own.Name == "":
		h.askKey(at.sequence(), e.Time)
	case at.own.Hold:
		h.startList(at.own, e)
	default:
		h.deed(at.own.Command, e.Time)
	}
	if !h.ours.on && h.atlas.held.IsZero() {
		h.thaw(e.Time)
	}
}

// deed does what keys stand for: a screen, a verb that asks, or a command.
func (h *Host) deed(command string, now xproto.Timestamp) {
	screen, _, _ := strings.Cut(command, " ")
	if slices.Contains(prompt.Screens(), command) || screen == "line" {
		h.bringScreen(command, now)
		return
	}
	if v, asks := prompt.Asked(command); asks {
		p, can := prompt.For(h.about(v))
		switch {
		case v.Windows && !v.Sheet && h.ours.subject == 0 && v.Name != "rescue": // of which a is about all that are lost
			h.end(fmt.Sprintf("No window has the focus: %s acts on windows.", v.Name))
		case !can:
			h.end(fmt.Sprintf("Nothing can follow %s here.", v.Name))
		case p.Choices[0].Text != "":
			h.bringScreen("line "+p.Choices[0].Text, now)
		default:
			h.askKey(p, now)
		}
		return
	}
	h.carryOut(command, desk.Question{}, now)
}

// carryOut does a command, after asking where its verb asks, or a question is given.
func (h *Host) carryOut(command string, q desk.Question, now xproto.Timestamp) {
	c, err := lang.ParseCommand(command)
	if err != nil {
		h.log.Error("a chord stands for what is no command", "command", command, "error", err.Error())
		h.end("")
		return
	}
	v, _ := desk.FindVerb(c.Verb)
	if v.Windows && !v.Sheet && v.Without == nil && c.Of == nil && h.ours.subject != 0 {
		c.Of = desk.ByID{ID: h.ours.subject}
	}
	if asks := false; q.Text == "" && v.Sure != nil {
		if q, asks = v.Sure(h.desk, c); !asks {
			q = desk.Question{}
		}
	}
	if q.Text != "" {
		h.askSure(&question{q, c}, now)
		return
	}
	h.emitChord(c)
}

// emitChord asks the keeper for a command of a chord.
func (h *Host) emitChord(c desk.Command) {
	h.end("")
	if h.last == nil {
		h.last = map[string]string{}
	}
	if v, _ := desk.FindVerb(c.Verb); v.Asks == desk.AskPlace {
		about := c
		about.Of = nil
		h.last[c.Verb] = lang.Print(about)
	}
	h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Chord})
}

// about is what a verb's question is about.
func (h *Host) about(v desk.Verb) prompt.About {
	a := prompt.About{Desk: h.desk, Verb: v, Workspace: h.desk.Current(), Letter: h.desk.At, Last: h.last[v.Name]}
	if w := h.desk.Window(h.ours.subject); w != nil && v.Windows {
		a.App, a.Words, a.Letter = w.App, fmt.Sprintf("#%d %s", w.ID, desk.Cut(w.Label(), 24)), w.Monitor
		a.Workspace = h.desk.Index(w.Workspace)
	}
	return a
}

// bringScreen brings up the atlas window with a screen. Keys wait until it is there.
func (h *Host) bringScreen(screen string, now xproto.Timestamp) {
	taken := h.ours.on
	if taken {
		h.drawn.Card.Hide()
		h.ours = listening{}
	}
	h.atlas.toggle(screen, now)
	if taken && h.atlas.held.IsZero() {
		h.ungrabKeyboard()
	}
}

// takeKeyboard has all keys come here, from a press on that froze the keyboard. It tells
// whether that could be.
func (h *Host) takeKeyboard(now xproto.Timestamp) bool {
	if h.ours.on {
		return true
	}
	r, err := xproto.GrabKeyboard(h.conn, false, h.root, now, xproto.GrabModeAsync, xproto.GrabModeSync).Reply()
	if err != nil || r.Status != xproto.GrabStatusSuccess {
		h.thaw(now)
		h.say("Another program holds the keyboard.")
		return false
	}
	h.ours.on = true
	h.nextKey()
	return true
}

// goOn has the next key come, after one was followed, where the keyboard is ours still.
func (h *Host) goOn() {
	if h.ours.on || h.hearing.heard != nil {
		h.nextKey()
	}
}

// nextKey has the next key come while the keyboard is ours. It stands still from each key
// to the next one that is asked for: what is typed after a key that brings up a screen is
// for that.
func (h *Host) nextKey() {
	xproto.AllowEvents(h.conn, xproto.AllowSyncKeyboard, xproto.TimeCurrentTime)
}

// askKey has the next key answer a question.
func (h *Host) askKey(p prompt.Prompt, now xproto.Timestamp) {
	if !h.takeKeyboard(now) {
		return
	}
	h.ours.levels = append(h.ours.levels, p)
	h.stay()
	h.cardSoon()
}

// stay has the keyboard be ours for a while more.
func (h *Host) stay() {
	h.ours.until = time.Now().Add(listenTime)
	h.wakeAt(h.ours.until)
}

// cardSoon shows the card of what may follow: at once where one shows already.
func (h *Host) cardSoon() {
	if h.ours.shows || h.opt.Card <= 0 {
		h.showCard()
		return
	}
	h.ours.card = time.Now().Add(h.opt.Card)
	h.wakeAt(h.ours.card)
}

// showCard shows what may follow.
func (h *Host) showCard() {
	l := &h.ours
	l.card, l.shows = time.Time{}, true
	p := l.levels[len(l.levels)-1]
	var rows []paint.CardRow
	for _, r := range p.Rows() {
		rows = append(rows, paint.CardRow{Key: r.Keys, Text: r.Does})
	}
	if len(rows) == 0 {
		rows = append(rows, paint.CardRow{Text: p.Empty})
	}
	foot := "Escape leaves"
	if len(l.levels) > 1 {
		foot += ", Backspace goes back one"
	}
	h.drawn.Strip.Hide()
	h.drawn.Card.Show(p.Lead, rows, foot, -1, h.desk.Monitor(h.desk.At).Work)
}

// askSure asks before a command is done; the same key again does it.
func (h *Host) askSure(q *question, now xproto.Timestamp) {
	if !h.takeKeyboard(now) {
		return
	}
	l := &h.ours
	l.question, l.shows, l.card = q, true, time.Time{}
	h.stay()
	key := l.chord
	if len(l.levels) > 0 {
		key = "the same key"
	}
	h.drawn.Strip.Hide()
	h.drawn.Card.Show(q.Text, []paint.CardRow{{Key: key + " again", Text: q.Does}, {Key: "any other key", Text: q.Leaves}}, "", -1, h.desk.Monitor(h.desk.At).Work)
}

// listenKey follows a key while the keyboard is ours.
func (h *Host) listenKey(e xproto.KeyPressEvent) {
	l := &h.ours
	names := h.keys.names(e.Detail, e.State)
	switch {
	case l.ends: // another key before the last one was let go of
		h.giveBack()
		return
	case len(names) == 0:
		return // a modifier
	}
	h.stay()
	if l.list != nil {
		h.listKey(names, e.Detail, e.State&xproto.ModMaskShift != 0)
		return
	}
	if q := l.question; q != nil {
		again := e.Detail == l.code
		l.code = e.Detail
		if again {
			h.emitChord(q.command)
		} else {
			h.end("Left as it was.")
		}
		return
	}
	l.code = e.Detail
	p := l.levels[len(l.levels)-1]
	c, ok := p.Find(names...)
	switch {
	case names[0] == "Escape" || names[0] == "BackSpace" && len(l.levels) == 1:
		h.end("")
	case names[0] == "BackSpace":
		l.levels = l.levels[:len(l.levels)-1]
		h.cardSoon()
	case !ok:
		h.end(fmt.Sprintf("%s means nothing after %s. Everything is as it was.", prompt.Shown(names[len(names)-1]), p.Lead))
	case c.Next != nil:
		h.askKey(c.Next(), e.Time)
	case c.Text != "":
		h.bringScreen("line "+c.Text, e.Time)
	case c.Screen != "":
		h.bringScreen(c.Screen, e.Time)
	case c.Deed != "":
		h.deed(c.Deed, e.Time)
	default:
		h.carryOut(c.Line, c.Question, e.Time)
	}
}

// end ends what was asked, with words of why, and gives the keyboard back when the last
// key is let go of: its release must not go to a program that has not seen its press.
func (h *Host) end(words string) {
	l := &h.ours
	if words != "" {
		h.say(words)
	}
	if !l.on {
		return
	}
	h.drawn.Card.Hide()
	l.levels, l.question, l.list, l.card, l.shows, l.ends = nil, nil, nil, time.Time{}, false, true
	if !h.down(l.code) {
		h.giveBack()
		return
	}
	h.stay()
}

// giveBack gives the keyboard back.
func (h *Host) giveBack() {
	if !h.ours.on {
		return
	}
	h.drawn.Card.Hide()
	h.ungrabKeyboard()
	h.ours = listening{subject: h.ours.subject, chord: h.ours.chord, code: h.ours.code}
}

// keyRelease follows a key that is let go of, or that repeats, where a release comes
// before each press.
func (h *Host) keyRelease(e xproto.KeyReleaseEvent) {
	h.keys.lets(e)
	defer h.goOn()
	l := &h.ours
	switch {
	case h.peek.code == e.Detail && h.peek.code != 0:
		if !h.down(e.Detail) {
			h.endPeek()
		}
	case l.on && l.ends && e.Detail == l.code:
		if !h.down(e.Detail) {
			h.giveBack()
		}
	case l.on && l.list != nil:
		h.listReleased(e.Detail)
	}
}

// listenTick shows a card when it is due, and gives the keyboard back when no key comes.
func (h *Host) listenTick() {
	l := &h.ours
	now := time.Now()
	if !l.on {
		return
	}
	if !l.card.IsZero() {
		if now.Before(l.card) {
			h.wakeAt(l.card)
		} else {
			h.showCard()
		}
	}
	h.listTick(now)
	switch {
	case !l.on:
	case now.Before(l.until):
		h.wakeAt(l.until)
	default:
		h.giveBack()
	}
}

// down tells whether one of some keys is held down, as the server has it.
func (h *Host) down(codes ...xproto.Keycode) bool {
	r, err := xproto.QueryKeymap(h.conn).Reply()
	if err != nil {
		return false
	}
	return slices.ContainsFunc(codes, func(c xproto.Keycode) bool { return r.Keys[c/8]&(1<<(c%8)) != 0 })
}

// peek is what a chord shows for as long as it is held.
type peek struct {
	code    xproto.Keycode // 0 for none
	before  *desk.Desk
	command string
}

// peekAt shows what a chord that is held stands for.
func (h *Host) peekAt(c Chord, e xproto.KeyPressEvent, repeated bool) {
	if repeated || h.peek.code != 0 {
		return
	}
	h.peek = peek{e.Detail, h.desk, c.Command}
	h.chord(c.Command, false)
	h.wakeAt(time.Now().Add(listCheck))
}

// endPeek brings back what was there before.
func (h *Host) endPeek() {
	was, command := h.peek.before, h.peek.command
	h.peek = peek{}
	back := func(verb string, args ...desk.Arg) {
		h.events = append(h.events, keeper.Event{Command: &desk.Command{Verb: verb, Args: args}, Source: keeper.Chord})
	}
	early := h.desk == was // what it stands for was not carried out yet: it was let go of at once
	if h.desk.Bare != was.Bare || early && command == "bare" {
		back("bare")
		return
	}
	if at := h.desk.Index(was.Workspaces[was.Current()].ID); at >= 0 && (early || at != h.desk.Current()) {
		back("go", desk.Arg{Kind: desk.Number, N: at + 1})
	}
	if was.Focus != 0 && h.desk.Window(was.Focus) != nil {
		back("focus", desk.Arg{Kind: desk.Item, N: was.Focus})
	}
}

// peekTick ends what is shown where the release of the key was missed.
func (h *Host) peekTick() {
	if h.peek.code == 0 {
		return
	}
	if !h.down(h.peek.code) {
		h.endPeek()
		return
	}
	h.wakeAt(time.Now().Add(listCheck))
}
