package tui

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// keysPage is the page of keys: what one can do, and its keys, in groups; searched by
// typing, or asked the other way round, for what a key does.
type keysPage struct {
	search bool // what is typed searches
	text   string
	turned bool // the next key is told about
	asked  string
	told   []answer // what it does
	rows   []keyRow
	at     int
}

// answer is where a key was asked about, and what it does there.
type answer struct{ where, does string }

// openKeys opens the page of keys.
func (m *model) openKeys() tea.Cmd {
	p := &keysPage{search: true}
	m.push(p)
	p.fill(m)
	return tea.Batch(m.startText(""), m.askKeys())
}

func (p *keysPage) writes() bool { return p.search && !p.turned }

func (p *keysPage) wrote(m *model) {
	p.text, p.at = m.input.Value(), 0
	p.fill(m)
}

// fill works out the rows that are listed.
func (p *keysPage) fill(m *model) {
	p.rows = found(offered(m.d, keyRows(m.list, m.rows)), p.text, m.lately)
	p.at = geom.Clamp(p.at, 0, max(0, len(p.rows)-1))
}

// row is the one under the cursor; nil where none is listed.
func (p *keysPage) row() *keyRow {
	if p.at >= len(p.rows) {
		return nil
	}
	return &p.rows[p.at]
}

func (p *keysPage) hints(*model) legend {
	switch {
	case p.turned:
		return legend{first: []hint{{"any key or chord", "what it does"}, {"Tab", "turns the question round"}, {"Escape", "back"}}}
	case p.search:
		return legend{first: []hint{{"letters", "search"}, {"up, down", "choose"}, {"Enter", "does it"}, {"Right", "to the rows"}, {"Tab", "what does a key do?"}, {"Escape", "back"}}}
	}
	return legend{first: []hint{{"Enter", "does it"}, {"e", "another chord"}, {"x", "take its chord away"}, {"a", "a chord in words"}, {"u", "undo"}, {"/", "search"}, {"Tab", "what does a key do?"}, {"Escape", "back"}}}
}

func (p *keysPage) pointer(_ *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		p.at = geom.Clamp(p.at+3*wheelOf(e), 0, max(0, len(p.rows)-1))
	}
	return nil
}

func (p *keysPage) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	if p.turned {
		return p.turnedKey(m, k, name)
	}
	step := rowStep(name, len(p.rows))
	if len(name) == 1 && p.search || p.search && (name == "home" || name == "end") {
		step = 0
	}
	switch {
	case name == "ctrl+t" && m.besideChords() != "":
		return m.takeChords()
	case name == "tab":
		return p.turn(m)
	case step != 0:
		p.at = geom.Clamp(p.at+step, 0, max(0, len(p.rows)-1))
		return nil
	case name == "enter":
		return p.enter(m)
	case name == "esc" && p.search && p.text != "":
		m.input.SetValue("")
		p.wrote(m)
		return nil
	case name == "esc":
		m.pop()
		return nil
	case p.search && name == "right" && m.input.Position() == len([]rune(m.input.Value())):
		p.toRows(m)
		return nil
	case p.search:
		return m.write(k)
	}
	return p.rowKey(m, k, name)
}

// toRows leaves the search for the rows.
func (p *keysPage) toRows(m *model) {
	p.search = false
	m.input.Blur()
}

// rowKey follows a key on the rows.
func (p *keysPage) rowKey(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "/":
		p.search = true
		return m.startText(p.text)
	case "?", "q", "left":
		m.pop()
	case "e":
		return p.record(m)
	case "x":
		return p.takeAway(m)
	case "a":
		return m.askText(&textPrompt{label: "New chord, =, and its command, such as Super+F = float: ", accept: addChord}, "")
	default:
		return m.pageKey(k, name)
	}
	return nil
}

// enter does what the row under the cursor does.
func (p *keysPage) enter(m *model) tea.Cmd {
	r := p.row()
	if r == nil {
		m.say("Nothing is listed. Escape clears the search.", true)
		return nil
	}
	m.usedLately(r.verb())
	m.home()
	if r.do == nil {
		return nil
	}
	return r.do(m)
}

// draw draws it.
func (p *keysPage) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	if p.turned {
		p.drawTurned(m, c)
		return nil
	}
	m.titled(c, cells.Words("ALL KEYS", head), cells.Words("  by what one wants to do", quiet))
	value := p.text
	at := 1 + c.Text(1, 1, c.W-2, "Search: ", head)
	c.Text(at, 1, c.W-at-1, value, t.Style(t.Paper))
	if value == "" {
		c.Text(at+1, 1, c.W-at-2, "type any word of what you want to do, or of its key", quiet)
	}
	room := geom.R(1, 3, c.W-2, c.H-7)
	p.drawRows(m, c, room)
	words, st := m.message, t.Style(t.Paper)
	if m.fault {
		st = cells.Bold(t.Style(t.Coral))
	}
	under := "" // how the chosen row is written on the line
	if r := p.row(); r != nil && r.words != "" {
		under = ": " + r.words
	}
	if _, _, does := keyColumns(room.W); words == "" && p.row() != nil && cells.Width(p.row().does) >= does {
		words = p.row().does // of which its row has no room for all
	} else if words == "" {
		words, st, under = under, quiet, ""
	}
	saying(c, c.H-3, words, st)
	switch clashes, beside := m.clashLines(), m.besideChords(); {
	case len(clashes) > 0 && len(m.free()) == 0:
		c.Spans(1, c.H-2, c.W-2, clashes[0]...)
	case beside != "":
		c.Text(1, c.H-2, c.W-2, beside, t.Style(t.Green))
	default:
		c.Text(1, c.H-2, c.W-2, under, quiet)
	}
	m.legend(c, c.H-1, p.hints(m))
	if p.search {
		return m.cursorAt(at, 1)
	}
	return nil
}

// keyColumns are how wide the columns of keys, chords and sentences are, for a width; what
// is left is for the words of the line.
func keyColumns(w int) (key, chord, does int) {
	switch {
	case w < 100:
		return 16, 19, w - 35
	case w < 130:
		return 17, 22, w - 39
	}
	return 17, 22, w * 52 / 100
}

// keysLine is a line of the page: a row, the name of a group, or an empty one.
type keysLine struct {
	row  int // -1 for the name of a group, -2 for none
	name string
}

// lines are the rows found, in their groups where nothing is searched for.
func (p *keysPage) lines() (lines []keysLine) {
	grouped := strings.TrimSpace(p.text) == ""
	for i, r := range p.rows {
		if grouped && (i == 0 || p.rows[i-1].purpose != r.purpose) {
			if i > 0 {
				lines = append(lines, keysLine{row: -2})
			}
			lines = append(lines, keysLine{-1, strings.ToUpper(r.purpose.String())})
		}
		lines = append(lines, keysLine{row: i})
	}
	return lines
}

// drawRows draws the rows around the cursor, with the names of their groups where no
// search has mixed them.
func (p *keysPage) drawRows(m *model, c *cells.Canvas, room geom.Rect) {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	lines := p.lines()
	if len(lines) == 0 {
		c.Text(room.X, room.Y, room.W, "Nothing has all of these words. Escape clears the search.", quiet)
		return
	}
	cursor := slices.IndexFunc(lines, func(l keysLine) bool { return l.row == p.at })
	first := geom.Clamp(cursor-room.H/2, 0, max(0, len(lines)-room.H))
	key, chord, does := keyColumns(room.W)
	words := room.W - key - chord - does
	c.Text(room.X+1, room.Y-1, key, "key here", quiet)
	c.Text(room.X+key, room.Y-1, chord, "on the display", quiet)
	c.Text(room.X+key+chord, room.Y-1, does, "what it does", quiet)
	c.Text(room.X+key+chord+does, room.Y-1, words, "in words", quiet)
	for i := first; i < min(len(lines), first+room.H); i++ {
		y := room.Y + i - first
		l := lines[i]
		if l.row < 0 {
			c.Text(room.X, y, room.W, l.name, head)
			continue
		}
		r := p.rows[l.row]
		keySt, chordSt, doesSt := cells.Bold(t.Style(t.Green)), t.Style(t.Paper), t.Style(t.Paper)
		if m.broken(r.chord.Keys) {
			chordSt = t.Style(t.Coral)
		}
		if l.row == p.at {
			keySt = cells.Reverse(head)
			chordSt, doesSt = keySt, keySt
			c.Fill(geom.R(room.X, y, room.W, 1), " ", keySt)
		}
		c.Text(room.X+1, y, key-2, cells.Fit(r.key, key-2), keySt)
		c.Text(room.X+key, y, chord-1, cells.Fit(r.chord.Keys, chord-1), chordSt)
		c.Text(room.X+key+chord, y, does-1, cells.Fit(r.does, does-1), doesSt)
		if words > 0 {
			wordsSt := quiet
			if l.row == p.at {
				wordsSt = doesSt
			}
			c.Text(room.X+key+chord+does, y, words, cells.Fit(r.words, words), wordsSt)
		}
	}
	if left := len(lines) - first - room.H; left > 0 {
		c.Text(room.X, room.Bottom(), room.W, fmt.Sprintf("%d more below", left), quiet)
	}
}

// broken tells whether a chord, or one of a class, does not work.
func (m *model) broken(keys string) bool {
	taken, missing, hidden := m.clashes()
	return keys != "" && slices.Contains(slices.Concat(taken, missing, hidden), keys)
}

// changed has a change of chords taken up.
func (p *keysPage) changed(m *model, err error, words string) tea.Cmd {
	if err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	return m.wroteSettings(words)
}

// takeAway takes the chord of a row away.
func (p *keysPage) takeAway(m *model) tea.Cmd {
	r := p.row()
	if r == nil || r.chord.Row == "" {
		m.say("This row has no chord.", false)
		return nil
	}
	err := settings.SetChords(m.opt.Settings, [][2]string{{r.chord.Row, ""}})
	return p.changed(m, err, r.chord.Keys+" stands for nothing now.")
}

// addChord adds a chord in words.
func addChord(m *model, text string) tea.Cmd {
	chord, command, ok := strings.Cut(text, "=")
	chord, command = strings.TrimSpace(chord), strings.TrimSpace(command)
	if !ok {
		m.say("A chord, =, and a command: Super+F = float", true)
		return nil
	}
	err := settings.SetChords(m.opt.Settings, [][2]string{{chord, command}})
	p, on := on[*keysPage](m)
	if !on {
		return nil
	}
	return p.changed(m, err, fmt.Sprintf("%s stands for %s now.", chord, cmp.Or(command, "nothing")))
}
