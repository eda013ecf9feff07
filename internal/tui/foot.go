package tui

import (
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
)

// hint is a key and what it does, in the legend.
type hint struct{ key, does string }

// foot draws the message and the legend, and gives the place of the text cursor.
func (m *model) foot(c *canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	st := t.style(t.Paper)
	if m.fault {
		st = bold(t.style(t.Coral))
	}
	switch m.mode {
	case modeLine:
		return m.lineFoot(c, p)
	case modeName:
		asks, does := "Name of the new workspace: ", "adds it; without a name it goes by its number"
		if m.verb == "rename" {
			asks, does = "New name of workspace "+m.d.Title(m.workspaceAt())+": ", "renames it; without a name it goes by its number"
		}
		at := 1 + c.text(1, p.legend-1, c.w, asks, bold(t.style(t.Brass)))
		c.text(at, p.legend-1, c.w-at, m.input.Value(), t.style(t.Paper))
		m.legend(c, p.legend, []span{{m.verb, bold(t.style(t.Brass))}}, []hint{{"Enter", does}, {"Escape", "leaves it"}})
		return tea.NewCursor(at+width(string([]rune(m.input.Value())[:m.input.Position()])), p.legend-1)
	}
	message := m.message
	if words := m.previewWords(); words != "" {
		message, st = words, t.style(t.Brass)
	}
	if message != "" {
		c.text(1, p.legend-1, c.w-2, message, st)
	}
	subject := []span{{m.subjectWords() + ":", bold(t.style(t.Brass))}}
	switch m.mode {
	case modeTarget:
		lead := []span{{m.verbWords(), bold(t.style(t.Brass))}}
		places, others := m.targetHints()
		if p.rows > 1 {
			m.legend(c, p.legend, lead, places)
			m.legend(c, p.legend+1, nil, others)
		} else {
			if message != "" && len(places) > 1 { // there is one row
				places = []hint{{fmt.Sprintf("1-%d", len(places)), "workspace"}}
			}
			m.twoRows(c, p, message, lead, append(places, others...))
		}
	case modeLayout:
		m.twoRows(c, p, message, []span{{"lay out sheet " + desk.SheetRef(m.workspaceAt(), m.layoutLetter()) + " as", bold(t.style(t.Brass))}},
			[]hint{{"c", "columns"}, {"r", "rows"}, {"l", "lead"}, {"1-9", "so many leading"}, {"p", "pile"}, {"b", "tabs"}, {"t", "tree"}, {"f", "free"}, {"n", "the next"}, {"Escape", "leaves it"}})
	case modeScreens:
		m.legend(c, p.legend, []span{{"other screens", bold(t.style(t.Brass))}}, append(screenHints(), hint{"Escape", "stays here"}))
	case modePlug:
		m.legend(c, p.legend, []span{{"plug in or pull", bold(t.style(t.Brass))}}, []hint{{"A B C", "a monitor"}, {"Escape", "leaves it"}})
	case modeHand:
		c.text(1, p.legend-1, c.w-2, joinNonEmpty("  ", message, m.handWords()), t.style(t.Brass))
		lead := m.hand.verb + " " + m.subjectWords()
		if p.rows < 2 { // the place stands in the other row, and names it
			lead = fmt.Sprintf("%s #%d", m.hand.verb, m.sel.window)
		}
		m.twoRows(c, p, "the place", []span{{lead, bold(t.style(t.Brass))}}, m.handHints())
	case modeDir:
		hs := map[string][]hint{
			"swap":  {{"arrows", "with the tile that way"}, {"n p", "with the next, the previous"}},
			"group": {{"arrows", "with the tile that way"}, {"n p", "with the next, the previous"}},
			"split": {{"Left Right", "the next window opens beside it"}, {"Up Down", "below it"}},
			"snap":  m.snapHints(),
		}[m.verb]
		m.twoRows(c, p, message, []span{{m.verb + " " + m.subjectWords(), bold(t.style(t.Brass))}}, append(hs, hint{"Escape", "leaves it"}))
	case modeAsk:
		m.legend(c, p.legend, subject, []hint{{"Enter", m.asks[0]}, {"Escape", m.asks[1]}})
	case modeLetter:
		m.legend(c, p.legend, []span{{m.verb + " " + map[bool]string{true: "to", false: m.subjectWords()}[m.verb == "jump"], bold(t.style(t.Brass))}}, m.letterHints())
	default:
		verbs, rest := m.verbHints(), m.mapHints()
		if m.screen == screenGazetteer {
			rest = m.gazHints()
		}
		if m.screen == screenStrays {
			rest = append([]hint{{"up, down", "choose"}, {"Enter", "bring it back"}, {"r a", "all of them"}, {"n", "move it by hand"}, {"Escape", "the map"}}, m.mapHints()[0])
		}
		if p.rows > 1 {
			m.legend(c, p.legend, subject, verbs)
			m.legend(c, p.legend+1, nil, rest)
		} else {
			both := append(verbs, rest...)
			if m.screen == screenGazetteer {
				both = append(rest, verbs...)
			}
			m.legend(c, p.legend, subject, both)
		}
	}
	return nil
}

// legendOrder is the order of verbs in the legend, those used most first; the
// others follow in the order of the table.
var legendOrder = []string{"send", "carry", "rescue", "close", "layout", "float", "swap", "maximise", "snap", "nudge", "resize", "minimise", "add"}

// verbHints are the verbs for what is chosen, from the table of verbs.
func (m *model) verbHints() []hint {
	w := m.d.Window(m.sel.window)
	lost := len(m.lost()) > 0
	var vs []desk.Verb
	for _, v := range desk.Verbs() {
		switch {
		case v.Key == "" || slices.Contains([]string{"go", "undo", "redo", "vacate", "reload"}, v.Name):
		case v.Name == "rescue" && !lost:
		case w == nil && v.Windows && !v.Sheet && v.Name != "rescue" && !m.sendsFocused(v):
		case w != nil && slices.Contains([]string{"remove", "rename", "reorder", "home"}, v.Name):
		case w != nil && m.d.Tiled(w) && slices.Contains([]string{"nudge", "cascade", "raise"}, v.Name):
		case w != nil && !m.d.Tiled(w) && slices.Contains([]string{"swap", "split", "turn", "mirror", "even", "group", "ungroup"}, v.Name):
		default:
			vs = append(vs, v)
		}
	}
	rank := func(v desk.Verb) int {
		if i := slices.Index(legendOrder, v.Name); i >= 0 {
			return i
		}
		return len(legendOrder)
	}
	slices.SortStableFunc(vs, func(a, b desk.Verb) int { return rank(a) - rank(b) })
	var hs []hint
	for _, v := range vs {
		name := v.Name
		if w != nil && w.Minimised && name == "minimise" {
			name = "restore"
		}
		if m.sendsFocused(v) {
			name = fmt.Sprintf("%s #%d", name, m.d.Focus)
		}
		hs = append(hs, hint{v.Key, name})
	}
	return hs
}

func screenHints() []hint {
	var hs []hint
	for _, s := range screens() {
		hs = append(hs, hint{s.key, s.name})
	}
	return hs
}

// letterHints are the letters given, for jump, and what a letter does, for pin.
func (m *model) letterHints() []hint {
	if m.verb == "pin" {
		return []hint{{"a-z", "jumps to its app"}, {"A-Z", "jumps to this one window"}, {"Escape", "leaves it"}}
	}
	var hs []hint
	for l := byte('a'); l <= 'z'; l++ {
		if ws := m.d.Pinned(l); len(ws) > 0 {
			hs = append(hs, hint{string(rune(l)), ws[0].App})
		} else if q := m.d.Settings.Pins[l]; q != nil {
			hs = append(hs, hint{string(rune(l)), lang.PrintQuery(q)})
		}
	}
	if len(hs) == 0 {
		hs = append(hs, hint{"no letter was given yet:", "V gives one"})
	}
	return append(hs, hint{"Escape", "leaves it"})
}

func (m *model) mapHints() []hint {
	digits := "1"
	if n := min(len(m.d.Workspaces), 9); n > 1 {
		digits = fmt.Sprintf("1-%d", n)
	}
	undo := hint{"u", "nothing to undo"}
	if m.undo != "" {
		undo.does = "undo: " + fit(strings.TrimSuffix(m.undo, "."), 26)
	}
	return []hint{undo, {"arrows", "choose"}, {"Enter", "go there"}, {digits, "go"}, {"b", "back"}, {", .", "previous, next"},
		{"Tab", "next window"}, {"z", "look closer"}, {"/", "find"}, {"'", "recent"}, {"!", "lost"}, {":", "command"}, {";", "other screens"}, {"?", "all keys"}, {"q", "quit"}}
}

// twoRows writes hints in two rows where they need them: the second one of the
// legend, or on a small screen the row of the message while there is none.
func (m *model) twoRows(c *canvas, p parts, message string, lead []span, hs []hint) {
	first, second := p.legend, p.legend+1
	if p.rows < 2 {
		first, second = p.legend-1, p.legend
	}
	wide := 1
	for _, s := range lead {
		wide += width(s.text)
	}
	n := 0
	for wide += 2; n < len(hs) && wide+hs[n].size() < c.w; n++ {
		wide += hs[n].size()
	}
	if n == len(hs) || p.rows < 2 && message != "" {
		m.legend(c, p.legend, lead, hs)
		return
	}
	m.legend(c, first, lead, hs[:n])
	m.legend(c, second, nil, hs[n:])
}

// size is how many cells a hint takes with the space after it.
func (h hint) size() int { return width(h.key) + 1 + width(h.does) + 2 }

// legend writes hints, as many as there is room for, and never half of one.
// What leads out of here, Escape or the page of keys and quit, is kept.
func (m *model) legend(c *canvas, y int, lead []span, hs []hint) {
	t := m.opt.Theme
	key, does := bold(t.style(t.Green)), t.style(t.Slate)
	x := 1
	if len(lead) > 0 {
		x += c.spans(1, y, c.w/2, lead...) + 2
	}
	var kept []hint
	for _, h := range hs {
		if h.key == "Escape" || h.key == "?" || h.key == "q" {
			kept = append(kept, h)
		}
	}
	room := c.w - 1 - x
	for _, h := range kept {
		room -= h.size()
	}
	for _, h := range hs {
		if !slices.Contains(kept, h) {
			if room < h.size() {
				continue
			}
			room -= h.size()
		}
		x += c.spans(x, y, c.w-x, span{h.key, key}, span{" " + h.does + "  ", does})
	}
}

// previewWords says what the pencilled command would do.
func (m *model) previewWords() string {
	c, ok := m.pending()
	if !ok || m.mode == modeAsk {
		return ""
	}
	_, r, err := m.try(c)
	if err != nil {
		return "Not possible: " + keeper.Sentence(err)
	}
	if m.grip != 0 {
		return "Pencilled: " + r.Words + " Letting go does it, Escape leaves it."
	}
	return "Pencilled: " + r.Words + " Enter does it."
}
