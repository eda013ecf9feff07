package tui

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/prompt"
	"zatlas/internal/settings"
	"zatlas/internal/tui/cells"
)

// heardMsg is a key that the keeper was asked for, or a chord that it was asked about.
type heardMsg struct {
	by  room // that asked
	n   int  // the number of the question
	key keeper.Key
	err error
}

// listen asks the keeper for the next key, where these screens are in its window. The
// function ends that.
func (m *model) listen(by room) (tea.Cmd, context.CancelFunc) {
	ctx, cancel := context.WithCancel(m.ctx)
	m.questions++
	n := m.questions
	return func() tea.Msg {
		key, err := m.k.Key(ctx, keeper.KeyAsk{Window: m.opt.Window})
		ended := ctx.Err() != nil
		cancel()
		if ended {
			return nil
		}
		return heardMsg{by, n, key, err}
	}, cancel
}

// probe asks the keeper what would become of a chord.
func (m *model) probe(by room, keys string) tea.Cmd {
	m.questions++
	n := m.questions
	return func() tea.Msg {
		key, err := m.k.Key(m.ctx, keeper.KeyAsk{Chord: keys})
		return heardMsg{by, n, key, err}
	}
}

// gotKey gives what was heard to the room that asked, where it is still there and has asked
// nothing else since.
func (m *model) gotKey(msg heardMsg) tea.Cmd {
	if m.top() != msg.by || msg.n != m.questions {
		return nil
	}
	switch r := msg.by.(type) {
	case *recorder:
		return r.heard(m, msg)
	case *keysPage:
		return r.heard(m, msg)
	}
	return nil
}

// turn has the question be asked the other way round: what does a key do?
func (p *keysPage) turn(m *model) tea.Cmd {
	p.turned, p.asked, p.told = !p.turned, "", nil
	if !p.turned {
		return p.back(m)
	}
	m.input.Blur()
	return p.ask(m)
}

// back goes on as before the question was turned round.
func (p *keysPage) back(m *model) tea.Cmd {
	if !p.search {
		return nil
	}
	return m.startText(p.text)
}

// ask asks the keeper for a key, where it can be.
func (p *keysPage) ask(m *model) tea.Cmd {
	if m.opt.Window == "" {
		return nil
	}
	cmd, _ := m.listen(p)
	return cmd
}

// heard takes a key that the keeper has told.
func (p *keysPage) heard(m *model, msg heardMsg) tea.Cmd {
	switch {
	case !p.turned:
		return nil
	case msg.err != nil: // the terminal's keys are left
		m.say(keeper.Sentence(msg.err)+" Keys that come to this terminal are told.", false)
		return nil
	}
	switch msg.key.Chord {
	case "Tab":
		return p.turn(m)
	case "Escape":
		p.turned = false
		return p.back(m)
	}
	p.tell(m, msg.key.Chord)
	return p.ask(m)
}

// turnedKey follows a key that is asked about.
func (p *keysPage) turnedKey(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "tab":
		return p.turn(m)
	case "esc":
		p.turned = false
		return p.back(m)
	}
	keys := k.Text
	if keys == "" || keys == " " {
		if keys = written(k.Keystroke()); strings.Contains(keys, " ") { // no chord
			keys = strings.ToUpper(name[:1]) + name[1:]
		}
	}
	p.tell(m, keys)
	return nil
}

// elsewhere says where a key of the screens means something, besides the map: in the
// gazetteer, and after the keys that ask.
func (m *model) elsewhere(key string) (told []answer) {
	name := key
	if key == "Return" {
		name = "Enter"
	}
	for _, b := range gazBindings() {
		if b.shown == name {
			told = append(told, answer{"in the gazetteer", desk.Sentence(b.help)})
		}
	}
	for _, verb := range []string{"send", "layout", "snap"} {
		v, _ := desk.FindVerb(verb)
		p, _ := prompt.For(m.askedAbout(v))
		if c, ok := p.Find(key); ok && c.Does != "" {
			told = append(told, answer{"after " + v.Key, desk.Sentence(c.Does)})
		}
	}
	return told
}

// isDigit tells whether a key is one of those that go to workspaces.
func isDigit(key string) bool { return len(key) == 1 && key[0] >= '1' && key[0] <= '9' }

// tell says what a key or a chord does: on the map, on other screens, on the display.
func (p *keysPage) tell(m *model, key string) {
	p.asked, p.told = key, nil
	for _, r := range keyRows(m.list, m.rows) {
		names := strings.FieldsFunc(r.key, func(c rune) bool { return c == ' ' || c == ',' })
		if key == "," || key == "_" {
			names = []string{r.key}
		}
		if slices.Contains(names, key) || r.key == "1-9" && isDigit(key) || key == "Return" && r.key == "Enter" {
			p.told = append(p.told, answer{"on the map", r.does})
			break
		}
	}
	p.told = append(p.told, m.elsewhere(key)...)
	k, err := settings.ParseKeys(key)
	if err != nil {
		return
	}
	k.Hold = false
	bounds, _ := m.set.Bounds()
	for _, b := range bounds {
		same := b.Keys
		same.Hold = false
		switch {
		case same == m.set.Resolved(k):
			p.told = append(p.told, answer{"on the display", b.Command + ": " + prompt.Does(b.Command, b.Hold)})
		case same.Chord == m.set.Resolved(k).Chord && same.After != "":
			p.told = append(p.told, answer{"on the display", "and then " + same.After + ", " + b.Command})
		}
	}
	for _, state := range m.keys {
		if state.Chord == m.set.Resolved(k).String() && state.State != keeper.KeyOurs {
			p.told = append(p.told, answer{"but", "it does not work: " + string(state.State)})
		}
	}
	if what := m.set.Needed(k); what != "" {
		p.told = append(p.told, answer{"in programs", "Commonly " + what + "."})
	}
}

// drawTurned draws the question and its answer.
func (p *keysPage) drawTurned(m *model, c *cells.Canvas) {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	m.titled(c, cells.Words("WHAT DOES A KEY DO?", head), cells.Words("  press it", quiet))
	y := 3
	switch {
	case p.asked == "":
		from := "what this terminal sends is told; some keys it keeps for itself"
		if m.opt.Window != "" {
			from = "any key or chord of the keyboard, for ten seconds"
		}
		c.Text(2, y, c.W-3, "Press a key: "+from+".", t.Style(t.Paper))
	default:
		c.Text(2, y, c.W-3, p.asked, cells.Bold(t.Style(t.Green)))
		y += 2
		if len(p.told) == 0 {
			c.Text(2, y, c.W-3, "It does nothing, here or on the display.", t.Style(t.Paper))
		}
		for _, s := range p.told[:min(len(p.told), c.H-9)] {
			c.Text(2, y, 18, s.where, quiet)
			for i, line := range cells.Wrap(s.does, c.W-23) {
				c.Text(21, y+i, c.W-22, line, t.Style(t.Paper))
				if i > 0 {
					y++
				}
			}
			y++
		}
	}
	c.Text(1, c.H-2, c.W-2, m.message, t.Style(t.Paper))
	m.legend(c, c.H-1, p.hints(m))
}

// recorder listens for the new chord of a row.
type recorder struct {
	over
	row    keyRow
	keys   string // as pressed so far; empty for nothing yet
	state  string // what is known of it, in a sentence
	amiss  bool   // it cannot be taken
	ends   context.CancelFunc
	listen bool // the keeper listens
}

// record listens for a new chord for the row under the cursor.
func (p *keysPage) record(m *model) tea.Cmd {
	r := p.row()
	switch {
	case r == nil:
		return nil
	case m.opt.Settings == "":
		m.say("No folder for the settings is known: set HOME or XDG_CONFIG_HOME.", true)
		return nil
	case r.command == "":
		m.say("No chord can stand for this alone: a gives one to a whole command.", true)
		return nil
	}
	rec := &recorder{row: *r, ends: func() {}}
	m.push(rec)
	return rec.begin(m)
}

// begin waits for the chord.
func (r *recorder) begin(m *model) tea.Cmd {
	r.keys, r.state, r.amiss, r.listen = "", "", false, m.opt.Window != ""
	if !r.listen {
		return nil
	}
	cmd, cancel := m.listen(r)
	r.ends = cancel
	return cmd
}

func (r *recorder) hints(*model) legend {
	if r.keys == "" {
		return legend{first: []hint{{"chord", "the new one"}, {":", "write it instead"}, {"Escape", "leaves it as it was"}}}
	}
	return legend{first: []hint{{"Enter", "takes it"}, {"keys", "that follow it"}, {"Backspace", "takes the last back"}, {"Escape", "leaves it as it was"}}}
}

// heard takes what the keeper has told: the chord, or what would become of one.
func (r *recorder) heard(m *model, msg heardMsg) tea.Cmd {
	var failure *keeper.Failure
	switch {
	case r.listen && msg.err != nil:
		r.listen = false
		m.say(keeper.Sentence(msg.err), false)
		return nil
	case r.listen && msg.key.Chord == "Escape":
		return m.leave()
	case r.listen && msg.key.Chord == ":":
		r.listen = false
		return r.write(m)
	case r.listen:
		r.listen = false
		return r.take(m, msg.key.Chord)
	case errors.As(msg.err, &failure), msg.err != nil:
		return nil // without a display nothing more is known
	}
	const free = "It is free."
	state := ""
	switch msg.key.State {
	case keeper.KeyTaken:
		state = "Another program holds it: it will not work until that lets it go."
	case keeper.KeyMissing:
		state = "This keyboard has no such key or modifier."
	default:
		return nil
	}
	r.state = strings.TrimSpace(strings.TrimPrefix(r.state, free) + " " + state)
	return nil
}

func (r *recorder) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	switch {
	case name == "esc":
		r.ends()
		return m.leave()
	case r.keys == "" && k.Text == ":":
		r.ends()
		return r.write(m)
	case r.keys == "":
		keys := written(k.Keystroke())
		if _, err := settings.ParseKeys(keys); err != nil {
			m.say(keys, true)
			return nil
		}
		return r.take(m, keys)
	case name == "enter":
		return r.accept(m)
	case name == "backspace":
		words := strings.Fields(r.keys)
		if len(words) == 1 {
			return r.begin(m)
		}
		return r.take(m, strings.Join(words[:len(words)-1], " "))
	}
	word := k.Text
	if word == "" || word == " " {
		word = map[string]string{"left": "Left", "right": "Right", "up": "Up", "down": "Down", "tab": "Tab", "space": "Space"}[name]
	}
	return r.take(m, r.keys+" "+word)
}

// write has the chord typed.
func (r *recorder) write(m *model) tea.Cmd {
	r.listen = false
	row := r.row
	m.pop()
	return m.askText(&textPrompt{label: "Chord for " + row.command + ": ", help: "such as Atlas+Shift+F, or Atlas+Q s 3", accept: func(m *model, text string) tea.Cmd {
		if _, err := settings.ParseKeys(text); err != nil {
			m.say(keeper.Sentence(err), true)
			return nil
		}
		next := &recorder{row: row, ends: func() {}}
		return func() tea.Msg { return typedChord{next, text} }
	}}, "")
}

// typedChord is a chord that was typed, for a recorder that is to show it.
type typedChord struct {
	r    *recorder
	keys string
}

// take takes keys as the new chord, and says what is known of it.
func (r *recorder) take(m *model, keys string) tea.Cmd {
	k, err := settings.ParseKeys(keys)
	if err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	k.Hold = strings.HasPrefix(r.row.chord.Row, "hold ")
	if k, err = sameClass(r.row.chord.Row, k); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	}
	k = m.set.Written(k)
	r.keys, r.amiss = strings.TrimPrefix(k.String(), "hold "), false
	switch b, _, is := m.set.Claimed(k); {
	case is && b.Row == r.row.chord.Row:
		r.state = "It is the chord that it has."
	case is:
		r.state = fmt.Sprintf("It is ours: %s stands for %s. Enter takes it from that.", b.Keys, b.Command)
	default:
		r.state = "It is free."
	}
	if what := m.set.Needed(k); what != "" {
		r.state += " Programs commonly need it for " + what + "."
	}
	if m.opt.Simulated {
		return nil
	}
	return m.probe(r, m.set.Resolved(k).String())
}

// sameClass is keys with the class of the row that they are to replace, such as digit.
func sameClass(row string, k settings.Keys) (settings.Keys, error) {
	was, err := settings.ParseKeys(row)
	if err != nil {
		return k, nil // the row has none
	}
	return k.InClassOf(was)
}

// accept gives the row its new chord.
func (r *recorder) accept(m *model) tea.Cmd {
	p, ok := on[*keysPage](m)
	if !ok || r.keys == "" {
		return nil
	}
	row := r.keys
	if strings.HasPrefix(r.row.chord.Row, "hold ") {
		row = "hold " + row
	}
	var rows [][2]string
	command := r.row.command
	if old := r.row.chord.Row; old != "" {
		command = m.set.Chords[old]
		if old != row {
			rows = append(rows, [2]string{old, ""})
		}
	}
	k, _ := settings.ParseKeys(row)
	if b, whole, is := m.set.Claimed(k); is && whole && b.Row != r.row.chord.Row && b.Row != row { // of a class the others stay
		rows = append(rows, [2]string{b.Row, ""})
	}
	rows = append(rows, [2]string{row, command})
	m.pop()
	err := settings.SetChords(m.opt.Settings, rows)
	return p.changed(m, err, fmt.Sprintf("%s stands for %s now.", row, command))
}

func (r *recorder) draw(m *model, c *cells.Canvas) *tea.Cursor {
	m.screen().draw(m, c)
	t := m.opt.Theme
	c.Fill(geom.R(0, c.H-6, c.W, 6), " ", t.Style(t.Paper))
	c.Spans(1, c.H-5, c.W-2, cells.Words("New chord for ", cells.Bold(t.Style(t.Brass))), cells.Words(r.row.command+"  ", cells.Bold(t.Style(t.Paper))), cells.Words(r.row.does, t.Style(t.Slate)))
	words, st := r.keys, cells.Bold(t.Style(t.Green))
	if words == "" {
		words, st = "press what this terminal can send, or : and write it", t.Style(t.Paper)
		if r.listen {
			words = "press it: the keeper listens to the keyboard for ten seconds"
		}
	}
	at := 1 + c.Text(1, c.H-4, c.W-2, words, st)
	if r.keys != "" {
		lines := cells.Wrap(r.state, c.W-at-3)
		for i, line := range lines[:min(len(lines), 3)] {
			c.Text(at+2, c.H-4+i, c.W-at-3, line, t.Style(t.Paper))
		}
	}
	if m.message != "" {
		c.Text(1, c.H-3, c.W-2, m.message, t.Style(t.Coral))
	}
	m.legend(c, c.H-1, r.hints(m))
	return nil
}
