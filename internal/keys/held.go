package keys

import (
	"fmt"
	"slices"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
)

// held is a list that shows as long as the modifiers of its chord are down.
type held struct {
	prompt.List
	mods  []byte
	rows  []prompt.ListRow
	at    int
	check time.Time
}

// hold shows a list with the one before chosen.
func (m *Machine) hold(c Chord) {
	c.Shift = false // which goes back while it is held
	l := &held{mods: m.Side.KeysOf(c.Modifiers)}
	l.List, _ = prompt.FindList(c.Command)
	if l.rows, l.at = l.Rows(m.desk); len(l.rows) == 0 {
		m.Side.Say("Nothing is open.")
		return
	}
	if !m.take() {
		return
	}
	m.ours.list = l
	m.stay()
	if m.Side.Down(l.mods...) {
		l.check = m.now.Add(heldCheck)
		m.showList()
	} else { // let go of already: its release, and what came before it, is on the way
		l.check = m.now.Add(heldWait)
	}
	m.Side.Wake(l.check)
}

// showList draws the list.
func (m *Machine) showList() {
	l := m.ours.list
	c := Card{Head: l.Head(m.desk, l.rows), Foot: l.Foot(), Chosen: l.at}
	if !l.Spaces {
		c.Window = l.rows[l.at].ID
		w := m.desk.Window(c.Window)
		c.Hidden = w == nil || !m.desk.Visible(w) || m.desk.Covered(w)
	}
	for i, r := range l.rows {
		one := prompt.Row{Does: r.Text}
		if i < 9 {
			one.Keys = fmt.Sprint(i + 1)
		}
		c.Rows = append(c.Rows, one)
	}
	m.show(c)
}

// listKey follows a key while a list is held.
func (m *Machine) listKey(p Press) {
	l := m.ours.list
	step := map[string]int{"Up": -1, "Left": -1, "Down": 1, "Right": 1}[p.Names[0]]
	if p.Code == m.ours.code {
		step = 1
		if p.Shift {
			step = -1
		}
	}
	digit := slices.IndexFunc(p.Names, func(n string) bool { return len(n) == 1 && n[0] >= '1' && n[0] <= '9' })
	switch {
	case step != 0:
		l.at = (l.at + step + len(l.rows)) % len(l.rows)
		m.showList()
	case p.Names[0] == "Escape":
		m.ours.code = p.Code
		m.end("")
	case p.Names[0] == "Return" || p.Names[0] == "Space":
		m.ours.code = p.Code
		m.accept()
	case digit >= 0 && int(p.Names[digit][0]-'1') < len(l.rows):
		l.at = int(p.Names[digit][0] - '1')
		m.showList()
	case slices.Contains(p.Names, "x") && !l.Spaces:
		m.do(desk.Command{Verb: "close", Of: desk.ByID{ID: l.rows[l.at].ID}})
	}
}

// letGo goes to the chosen one where all modifiers of the list are let go of.
func (m *Machine) letGo() (gone bool) {
	if m.Side.Down(m.ours.list.mods...) {
		return false
	}
	m.accept()
	return true
}

// listTick notices a release that was missed.
func (m *Machine) listTick() {
	l := m.ours.list
	if l == nil {
		return
	}
	if !m.now.Before(l.check) {
		l.check = m.now.Add(heldCheck)
		if m.letGo() {
			return
		}
	}
	m.Side.Wake(l.check)
}

// accept goes to what is chosen.
func (m *Machine) accept() {
	l := m.ours.list
	c := l.Go(m.desk, l.rows[l.at])
	m.end("")
	m.do(c)
}

// renewList takes in what has become of the rows of a list.
func (m *Machine) renewList() {
	l := m.ours.list
	if l == nil {
		return
	}
	gone := func(r prompt.ListRow) bool { return !l.There(m.desk, r) }
	if !slices.ContainsFunc(l.rows, gone) {
		return
	}
	if l.rows, l.at = left(l.rows, l.at, gone); len(l.rows) == 0 {
		m.end("")
		return
	}
	m.showList()
}

// left is what is left of a list, and where the choice is: on its row, or on the one that
// has come to its place.
func left(rows []prompt.ListRow, at int, gone func(prompt.ListRow) bool) ([]prompt.ListRow, int) {
	chosen := at
	for _, r := range rows[:at] {
		if gone(r) {
			chosen--
		}
	}
	rows = slices.DeleteFunc(rows, gone)
	return rows, min(chosen, len(rows)-1)
}

// peek is what a chord shows for as long as it is held.
type peek struct {
	on     bool
	code   byte
	before *desk.Desk
	verb   string
	aside  bool // it may show a window of the same workspace
}

// peekAt shows what a chord that is held stands for.
func (m *Machine) peekAt(c Chord, p Press) {
	if p.Again || m.peek.on {
		return
	}
	does, _ := lang.ParseCommand(c.Command)
	aside := does.Verb == "focus" || len(does.Args) > 0 && does.Args[0].Kind == desk.Letter
	m.peek = peek{true, p.Code, m.desk, does.Verb, aside}
	m.chord(c.Command, false)
	m.Side.Wake(m.now.Add(heldCheck))
}

// endPeek brings back what was there before. A peek at a workspace leaves to go which window has
// the focus: the desk that it began with may not have followed the last focus yet.
func (m *Machine) endPeek() {
	was, verb, aside := m.peek.before, m.peek.verb, m.peek.aside
	m.peek = peek{}
	early := m.desk == was // what it stands for was not carried out yet: it was let go of at once
	if m.desk.Bare != was.Bare || early && verb == "bare" {
		m.do(desk.Command{Verb: "bare"})
		return
	}
	if at := m.desk.Index(was.Workspaces[was.Current()].ID); at >= 0 && (early || at != m.desk.Current()) {
		m.do(desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: at + 1}}})
	}
	if aside && was.Focus != 0 && m.desk.Window(was.Focus) != nil {
		m.do(desk.Command{Verb: "focus", Args: []desk.Arg{{Kind: desk.Item, N: was.Focus}}})
	}
}

// peekTick ends what is shown where the release of the key was missed.
func (m *Machine) peekTick() {
	switch {
	case !m.peek.on:
	case !m.Side.Down(m.peek.code):
		m.endPeek()
	default:
		m.Side.Wake(m.now.Add(heldCheck))
	}
}
