package tui

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/prompt"
	"zatlas/internal/tui/cells"
)

// plates is the screen of the arrangements that are kept: each as a small drawing, the
// chosen one pencilled on the map.
type plates struct {
	name    string // of the chosen one; where it is gone the one at its place is chosen
	at      int    // that place
	coming  string // the name that one is to have which is being saved or renamed
	differs bool   // what would change is listed in the place of the plates
	from    int    // the first line of that list
}

// platesMsg is the plates as the keeper has them; again tells that it asks on.
type platesMsg struct {
	list  []keeper.Shelved
	err   error
	again bool
}

// askPlates asks for the plates.
func (m *model) askPlates() tea.Cmd {
	return func() tea.Msg {
		list, err := m.k.Plates(m.ctx)
		return platesMsg{list: list, err: err}
	}
}

// lookAgain is how long the screen waits until it asks for the plates again: their files
// may be changed by others.
const lookAgain = time.Second

func (m *model) askPlatesAgain() tea.Cmd {
	if m.lookAgain == 0 {
		return nil
	}
	return tea.Tick(m.lookAgain, func(time.Time) tea.Msg {
		list, err := m.k.Plates(m.ctx)
		return platesMsg{list, err, true}
	})
}

// gotPlates takes the plates.
func (m *model) gotPlates(msg platesMsg) tea.Cmd {
	if msg.err == nil {
		m.plates = msg.list
		m.d = m.withPlates(m.d)
	}
	p, ok := on[*plates](m)
	if ok && !m.busy {
		p.coming = ""
	}
	if ok && msg.again {
		return m.askPlatesAgain()
	}
	return nil
}

// withPlates is a desk with the plates that are known.
func (m *model) withPlates(d *desk.Desk) *desk.Desk {
	if d == nil || m.plates == nil {
		return d
	}
	known := map[string]*desk.Plate{}
	for _, s := range m.plates {
		if s.Plate != nil {
			known[s.Plate.Name] = s.Plate
		}
	}
	return d.WithPlates(known)
}

// openPlates shows the plates.
func (m *model) openPlates() tea.Cmd {
	p := &plates{}
	m.goTo(p)
	m.say("", false)
	return tea.Batch(m.askPlates(), m.askPlatesAgain())
}

// follow asks for the plates again after every change.
func (*plates) follow(m *model) tea.Cmd { return m.askPlates() }

// settle leaves the choice where it is.
func (*plates) settle(*model, desk.Report, string) bool { return true }

// platePrompt waits for the letter of a plate, which is laid.
type platePrompt struct{ choosePrompt }

// startPlates asks for the letter of a plate.
func (m *model) startPlates(v desk.Verb) tea.Cmd {
	p, _ := prompt.For(prompt.About{Desk: m.d, Verb: v})
	return tea.Batch(m.prompt(&platePrompt{choosePrompt{Prompt: p, verb: v}}), m.askPlates())
}

func (p *platePrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	if k.Text == "P" {
		m.pop()
		return m.openPlates()
	}
	// Those that are known by now.
	p.Prompt, _ = prompt.For(prompt.About{Desk: m.d, Verb: p.verb})
	return p.choosePrompt.key(m, k, name)
}

func (p *platePrompt) hints(m *model) legend {
	p.Prompt, _ = prompt.For(prompt.About{Desk: m.d, Verb: p.verb})
	l := p.choosePrompt.hints(m)
	if !slices.ContainsFunc(p.Choices, func(c prompt.Choice) bool { return strings.HasPrefix(c.Line, "plate lay ") && c.Does != "" }) {
		l.first = slices.Insert(l.first, 0, hint{"", p.Empty})
	}
	l.first = slices.Insert(l.first, len(l.first)-1, hint{"P", "the screen of plates"})
	return l
}

// chosen is the plate under the cursor, with its place in the list; nil where there is
// none.
func (p *plates) chosen(m *model) (s *keeper.Shelved, at int) {
	for i := range m.plates {
		if nameOf(m.plates[i]) == p.name {
			p.at = i
			return &m.plates[i], i
		}
	}
	if len(m.plates) == 0 || p.name != "" && p.name == p.coming {
		return nil, -1
	}
	at = min(p.at, len(m.plates)-1)
	return &m.plates[at], at
}

func nameOf(s keeper.Shelved) string {
	if s.Plate != nil {
		return s.Plate.Name
	}
	return s.Fault.Name
}

// pending is the command that lays the chosen plate.
func (p *plates) pending(m *model) (desk.Command, bool) {
	s, _ := p.chosen(m)
	if s == nil || s.Plate == nil {
		return desk.Command{}, false
	}
	return layCommand(s.Plate.Name, false), true
}

func layCommand(name string, starting bool) desk.Command {
	c := plateCommand("lay", arg{Kind: desk.Name, Word: name})
	if starting {
		c.Args = append(c.Args, arg{Kind: desk.Keyword, Word: "starting"})
	}
	return c
}

func plateCommand(word string, args ...arg) desk.Command {
	return desk.Command{Verb: "plate", Args: append([]arg{{Kind: desk.Keyword, Word: word}}, args...)}
}

func (*plates) pencils() {}

func (p *plates) hints(m *model) legend {
	if p.differs {
		return legend{first: []hint{{"up, down", "scroll"}, {"Enter", "lay it"}, {"d", "back to the plates"}, {"Escape", "back"}}}
	}
	hs := []hint{{"s", "save"}}
	if s, _ := p.chosen(m); s != nil && s.Plate != nil {
		hs = []hint{{"Enter", "lay it"}, {"E", "lay it and start what is missing"}, {"d", "what would change"}, {"s", "save"}, {"e", "rename"}, {"V", "letter"}, {"x", "remove"}}
	}
	return legend{first: append(hs, hint{"up, down", "choose"}, m.undoHint(), hint{"Escape", "the map"}), flows: true}
}

func (p *plates) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (p *plates) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message, m.fault = "", false
	s, at := p.chosen(m)
	of := p.name
	if s != nil {
		of = nameOf(*s)
	}
	if step := rowStep(name, max(len(m.plates), 1)); step != 0 {
		if p.differs {
			p.from = max(p.from+step, 0)
		} else if s != nil {
			p.name = nameOf(m.plates[geom.Clamp(at+step, 0, len(m.plates)-1)])
		}
		return nil
	}
	switch {
	case name == "esc" || k.Text == "P" || k.Text == "q":
		if p.differs && name == "esc" {
			p.differs = false
			return nil
		}
		m.pop()
		return nil
	case k.Text == "s":
		return p.save(m, s)
	case k.Text == "d" && p.differs:
		p.differs = false
		return nil
	case s == nil && (p.coming == "" || k.Text == "d") && slices.Contains([]string{"enter", "E", "e", "x", "d", "V"}, name):
		m.say("There are no plates yet: s saves one.", false)
		return nil
	case s != nil && s.Plate == nil && slices.Contains([]string{"enter", "E", "e", "x", "d", "V"}, name):
		m.say("This file is no plate: "+s.Fault.Words, true)
		return nil
	case name == "enter":
		return m.do(layCommand(of, false))
	case k.Text == "E":
		return m.do(layCommand(of, true))
	case k.Text == "d":
		p.differs, p.from = true, 0
		return nil
	case k.Text == "x":
		return m.do(plateCommand("remove", arg{Kind: desk.Name, Word: of}))
	case k.Text == "e":
		return m.askText(&textPrompt{label: "New name of the plate " + of + ": ", help: "Letters, digits, spaces, - and _.", does: "renames it", accept: func(m *model, text string) tea.Cmd {
			if err := desk.CheckPlateName(text); err != nil {
				m.say(keeper.Sentence(err), true)
				return nil
			}
			p.name, p.coming = text, text
			return m.do(plateCommand("rename", arg{Kind: desk.Name, Word: of}, arg{Kind: desk.Name, Word: text}))
		}}, of)
	case k.Text == "V":
		m.say(fmt.Sprintf("The letter that lays %s, a to z; - for none.", of), false)
		return m.prompt(&plateLetter{name: of})
	}
	return m.pageKey(k, name)
}

// plateLetter asks for the letter of a plate.
type plateLetter struct {
	over
	name string
}

func (p *plateLetter) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch text := k.Text; {
	case name == "esc":
		return m.leave()
	case text == "-":
		m.pop()
		return m.do(plateCommand("letter", arg{Kind: desk.Name, Word: p.name}, arg{Kind: desk.Keyword, Word: "none"}))
	case len(text) == 1 && text[0] >= 'a' && text[0] <= 'z':
		m.pop()
		return m.do(plateCommand("letter", arg{Kind: desk.Name, Word: p.name}, arg{Kind: desk.Small, Letter: text[0]}))
	}
	m.say(fmt.Sprintf("%s is no letter a to z. Escape cancels.", named(k)), true)
	return nil
}

func (p *plateLetter) hints(*model) legend {
	return legend{lead: "letter of " + p.name, first: []hint{{"a-z", "lays it from now on"}, {"-", "none"}, escapes}}
}

// plateSaving asks how much is to be saved as a plate.
type plateSaving struct {
	over
	of   *plates
	name string // that stands on the line first
}

func (p *plates) save(m *model, s *keeper.Shelved) tea.Cmd {
	saving := &plateSaving{of: p}
	if s != nil && s.Plate != nil && s.Plate.Name != desk.BackPlate {
		saving.name = s.Plate.Name
	}
	return m.prompt(saving)
}

func (p *plateSaving) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	size, ok := map[string]desk.PlateSize{"d": desk.OfDesk, "enter": desk.OfDesk, "w": desk.OfWorkspace, "s": desk.OfSheet}[name]
	switch {
	case name == "esc":
		return m.leave()
	case !ok:
		m.say(fmt.Sprintf("%s is no answer. Escape cancels.", named(k)), true)
		return nil
	}
	m.pop()
	label := fmt.Sprintf("Save the %s as the plate: ", size)
	return m.askText(&textPrompt{label: label, help: "Letters, digits, spaces, - and _. That of one that is there is saved over, after asking.", does: "saves it", accept: func(m *model, text string) tea.Cmd {
		if err := desk.CheckPlateName(text); err != nil {
			m.say(keeper.Sentence(err), true)
			return nil
		}
		p.of.name, p.of.coming = text, text
		c := plateCommand("save", arg{Kind: desk.Name, Word: text}, arg{Kind: desk.Keyword, Word: size.String()})
		return func() tea.Msg { return runMsg{c} } // once the line is gone, for it may ask
	}}, p.name)
}

func (p *plateSaving) hints(m *model) legend {
	return legend{lead: "save as a plate", first: []hint{{"d", "the whole desk"}, {"w", "workspace " + m.d.Title(m.d.Current())},
		{"s", "sheet " + desk.SheetRef(m.d.Current(), m.d.At)}, escapes}, flows: true}
}

// runMsg has a command carried out, after asking where its verb asks.
type runMsg struct{ command desk.Command }

// draw draws the map with what would change pencilled on it, and the plates.
func (p *plates) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	area, list := m.footedParts()
	pen := m.painter(c, m.chartOf(area, m.workspaceAt()))
	m.head(c)
	pen.Draw()
	if next := m.preview(); next != nil {
		pen.Pencil(next)
		pen.Renumber(next)
	}
	quiet := t.Style(t.Slate)
	c.Fill(list, " ", quiet)
	c.Spans(list.X+1, list.Y, list.W-2, cells.Words("PLATES", cells.Bold(t.Style(t.Brass))), cells.Words("  arrangements that are kept, to lay out again", quiet))
	room := geom.R(list.X+1, list.Y+1, list.W-2, list.H-1)
	switch s, at := p.chosen(m); {
	case s == nil && len(m.plates) == 0:
		for i, line := range []string{"There are no plates yet.", "", "s saves how everything lies now under a name: the desk,", "this workspace or this sheet. Lay it out again later by", "Enter here, or by P and a letter that V gives it."} {
			c.Text(room.X, room.Y+1+i, room.W, line, quiet)
		}
	case p.differs && s != nil && s.Plate != nil:
		p.drawDifference(m, c, room, s)
	default:
		p.drawList(m, c, room, at)
	}
	return m.foot(c, m.parts())
}

// entryRows are how many rows an entry has with its drawing, and the most of the chosen one,
// which shows a row of each workspace.
const (
	entryRows  = 5
	chosenRows = 9
)

// drawList draws each plate; where there is no room for the drawings of all, of the
// chosen one alone.
func (p *plates) drawList(m *model, c *cells.Canvas, r geom.Rect, at int) {
	rows := func(i int) int {
		n := entryRows
		if p := m.plates[i].Plate; i == at && p != nil && p.Size == desk.OfDesk {
			n = geom.Clamp(2+len(p.As.Workspaces), entryRows, chosenRows)
		}
		if len(m.plates)*entryRows+chosenRows-entryRows <= r.H || i == at {
			return n
		}
		return 1
	}
	// As many before the chosen one as there is room for, it in the middle.
	first := max(at, 0)
	used := rows(first)
	for first > 0 && used+rows(first-1) <= r.H && (used < r.H/2 || at == len(m.plates)-1) {
		first--
		used += rows(first)
	}
	y := r.Y
	for i := first; i < len(m.plates); i++ {
		if y+rows(i) > r.Bottom() {
			c.Text(r.X, r.Bottom()-1, r.W, fmt.Sprintf("  and %d more below", len(m.plates)-i), m.opt.Theme.Style(m.opt.Theme.Slate))
			break
		}
		p.drawEntry(m, c, geom.R(r.X, y, r.W, rows(i)), m.plates[i], i == at)
		y += rows(i)
	}
}

// drawEntry draws a plate: its name, what it holds, and where there is room for it a
// small drawing.
func (p *plates) drawEntry(m *model, c *cells.Canvas, r geom.Rect, s keeper.Shelved, chosen bool) {
	t := m.opt.Theme
	row, quiet := t.Style(t.Paper), t.Style(t.Slate)
	head := row
	if chosen {
		head = cells.Reverse(cells.Bold(t.Style(t.Brass)))
		c.Fill(geom.R(r.X, r.Y, r.W, 1), " ", head)
	}
	if s.Plate == nil {
		c.Text(r.X, r.Y, r.W, "! "+cmp.Or(s.Fault.Name, "the folder")+"  cannot be read", map[bool]uv.Style{true: head, false: t.Style(t.Coral)}[chosen])
		for i, line := range cells.Wrap(s.Fault.Words, r.W-2) {
			if i+1 < r.H {
				c.Text(r.X+2, r.Y+1+i, r.W-2, line, quiet)
			}
		}
		return
	}
	letter := " "
	if s.Plate.Letter != 0 {
		letter = string(rune(s.Plate.Letter))
	}
	facts := quiet
	if chosen {
		facts = head
	}
	c.Spans(r.X, r.Y, r.W, cells.Words(letter+" ", cells.Bold(head)), cells.Words(s.Plate.Name, head), cells.Words("  "+holds(s.Plate), facts))
	if r.H < 3 {
		return
	}
	picture := geom.R(r.X+2, r.Y+1, min(36, r.W*3/5), r.H-2)
	m.drawPlate(c, picture, s.Plate)
	x := picture.Right() + 2
	lines := []string{laidWords(s.Laid)}
	if s.Plate.Name == desk.BackPlate {
		lines = append(lines, "what the last laying replaced")
	}
	if m.d.SameMonitors(s.Plate) && s.Plate.Size == desk.OfDesk {
		lines = append(lines, "of these monitors")
	} else if n := len(s.Plate.As.Monitors); s.Plate.Size != desk.OfSheet {
		lines = append(lines, "of "+desk.Counted(n, "monitor"))
	}
	for i, line := range lines {
		c.Text(x, r.Y+1+i, r.Right()-x, line, quiet)
	}
}

// holds says what a plate arranges.
func holds(p *desk.Plate) string {
	places := desk.Counted(len(p.As.Windows), "place")
	if p.Size == desk.OfDesk {
		return fmt.Sprintf("desk, %s, %s", desk.Counted(len(p.As.Workspaces), "workspace"), places)
	}
	return p.Size.String() + ", " + places
}

// laidWords say when a plate was laid.
func laidWords(at time.Time) string {
	if at.IsZero() {
		return "never laid"
	}
	at = at.In(time.Local)
	if time.Since(at) < 20*time.Hour {
		return "laid at " + at.Format("15:04")
	}
	return "laid on " + at.Format("Jan _2")
}

// drawPlate draws a plate small. A desk has a row for each workspace; anything else has all of
// the height. Windows show by their tints and the first letters of their apps.
func (m *model) drawPlate(c *cells.Canvas, r geom.Rect, p *desk.Plate) {
	rows := r.H
	if p.Size == desk.OfDesk {
		rows = min(r.H, len(p.As.Workspaces))
	}
	monitors := draw.PlaneOrder(p.As)
	wide := 0
	for _, mon := range monitors {
		wide += max(mon.Work.W, 1)
	}
	x, named := r.X, map[int]bool{}
	for i, mon := range monitors {
		w := (r.W - len(monitors) + 1) * mon.Work.W / max(wide, 1)
		if i == len(monitors)-1 {
			w = r.Right() - x
		}
		for row := range rows {
			index, at := 0, mon.Work.Y+mon.Work.H*(2*row+1)/(2*rows)
			if p.Size == desk.OfDesk {
				index, at = row, mon.Work.Y+mon.Work.H/3
			}
			m.drawPlateRow(c, geom.R(x, r.Y+row, w, 1), p.As, index, mon, at, named)
		}
		x += w + 1
	}
}

// drawPlateRow draws the windows of a sheet along a line of it. Each is named once.
func (m *model) drawPlateRow(c *cells.Canvas, r geom.Rect, as *desk.Desk, index int, mon *desk.Monitor, y int, named map[int]bool) {
	t := m.opt.Theme
	at := func(cell int) *desk.Window {
		x := mon.Work.X + mon.Work.W*(2*cell+1)/(2*max(r.W, 1))
		s := as.Sheet(index, mon.Letter)
		if s == nil {
			return nil
		}
		var found *desk.Window
		for _, id := range slices.Concat(s.Tiles.Windows(), s.Floating) {
			if w := as.Window(id); w.Rect.Has(geom.Point{X: x, Y: y}) {
				found = w
			}
		}
		return found
	}
	for from := 0; from < r.W; {
		w, to := at(from), from+1
		for to < r.W && at(to) == w {
			to++
		}
		st, words := t.Style(t.Slate), strings.Repeat("·", to-from)
		if w != nil {
			ground := t.Sea
			if n, known := m.tints[w.App]; known {
				ground = t.Tints[n%len(t.Tints)]
			}
			st = uv.Style{Fg: t.Paper, Bg: ground}
			if words = ""; !named[w.ID] {
				words = cells.Fit(w.App, to-from-1)
			}
			named[w.ID] = true
			words += strings.Repeat(" ", max(to-from-1-cells.Width(words), 0))
			c.Put(r.X+to-1, r.Y, "▕", uv.Style{Fg: t.Ink, Bg: ground})
		}
		c.Text(r.X+from, r.Y, max(to-from-map[bool]int{true: 1}[w != nil], 0), words, st)
		from = to
	}
}

// drawDifference lists what is otherwise with a plate laid.
func (p *plates) drawDifference(m *model, c *cells.Canvas, r geom.Rect, s *keeper.Shelved) {
	t := m.opt.Theme
	head, row, quiet := cells.Bold(t.Style(t.Green)), t.Style(t.Paper), t.Style(t.Slate)
	lines := [][]cells.Span{{cells.Words("Now, and with "+s.Plate.Name+" laid", cells.Bold(t.Style(t.Brass)))}}
	f, next, err := m.d.Fit(s.Plate)
	if err != nil {
		lines = append(lines, []cells.Span{cells.Words(keeper.Sentence(err), t.Style(t.Coral))})
	} else {
		lines = append(lines, nil, []cells.Span{cells.Words(fmt.Sprintf("MOVES %d", len(f.Moved)), head)})
		for _, w := range f.Moved {
			was := m.d.Window(w.ID)
			from, to := m.d.Ref(was), next.Ref(w)
			how := fmt.Sprintf("%s → %s", from, to)
			if from == to {
				how = fmt.Sprintf("%s, %d×%d → %d×%d", to, was.Rect.W, was.Rect.H, w.Rect.W, w.Rect.H)
			}
			lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("  %-20s ", how), quiet), cells.Words("#"+fmt.Sprint(w.ID)+" "+w.Label(), row)})
		}
		lines = append(lines, nil, []cells.Span{cells.Words(fmt.Sprintf("PLACES WITHOUT A WINDOW %d", len(f.Empty)), head)})
		for _, w := range f.Empty {
			lines = append(lines, []cells.Span{cells.Words("  "+cells.JoinNonEmpty(" · ", w.App, w.Title), row)})
		}
		lines = append(lines, nil, []cells.Span{cells.Words(fmt.Sprintf("WINDOWS WITHOUT A PLACE %d", len(f.Without)), head), cells.Words("  they stay", quiet)})
		for _, w := range f.Without {
			lines = append(lines, []cells.Span{cells.Words(fmt.Sprintf("  %-4s ", m.d.Ref(w)), quiet), cells.Words("#"+fmt.Sprint(w.ID)+" "+w.Label(), row)})
		}
	}
	p.from = geom.Clamp(p.from, 0, max(0, len(lines)-r.H))
	for i, l := range lines[p.from:] {
		if i >= r.H {
			break
		}
		c.Spans(r.X, r.Y+i, r.W, l...)
	}
	if more := len(lines) - p.from - r.H; more > 0 {
		c.Text(r.X, r.Bottom()-1, r.W, fmt.Sprintf("  and %d more below", more+1), quiet)
	}
}
