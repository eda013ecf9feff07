package tui

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// hint is a key and what it does, in the legend.
type hint struct{ key, does string }

// twoRows is from how many rows of the terminal on two are for hints.
const twoRows = 24

// pencilling is a screen that always has something pencilled: what has happened is told
// there before what would.
type pencilling interface{ pencils() }

// foot draws the message and the legend of the topmost room, and gives the place
// of the text cursor.
func (m *model) foot(c *cells.Canvas, p parts) *tea.Cursor { return m.footWith(c, p, "") }

// footWith is foot with what is said where there is no message.
func (m *model) footWith(c *cells.Canvas, p parts, quiet string) *tea.Cursor {
	top := m.top()
	if f, ok := top.(footed); ok {
		return f.foot(m, c, p)
	}
	t := m.opt.Theme
	message, st := m.message, t.Style(t.Paper)
	if m.fault {
		st = cells.Bold(t.Style(t.Coral))
	}
	_, always := top.(pencilling)
	passes := true
	if words := m.previewWords(); words != "" && !(always && message != "") {
		message, st, passes = words, t.Style(t.Brass), !always
	} else if message == "" {
		message, st, passes = quiet, t.Style(t.Brass), false
	}
	if !passes { // a second row of words would hide the last one of a list all the time
		message = cells.Fit(message, c.W-2)
	}
	l := top.hints(m)
	l.flows = l.flows || isOver(top) // a prompt says all that it takes
	if message != "" {
		saying(c, m.messageRow(c, p, l), message, st)
	}
	switch {
	case p.rows > 1 && len(l.second) > 0 && !(l.flows && len(m.packed(c, l)) > p.rows): // a row each
		m.legend(c, p.legend, legend{lead: l.lead, first: l.first})
		m.legend(c, p.legend+1, legend{first: l.second})
	case l.flows:
		m.flowing(c, p, l)
	case len(l.second) > 0 && message == "":
		if c.W < 80 {
			l.second = essentials(l.second)
		}
		m.legend(c, p.legend-1, legend{lead: l.lead, first: l.first})
		m.legend(c, p.legend, legend{first: l.second})
	case len(l.second) > 0: // one row for all of them
		m.legend(c, p.legend, legend{lead: l.lead, first: append(essentials(l.second), l.first...)})
	default:
		m.legend(c, p.legend, legend{lead: l.lead, first: append(slices.Clip(l.first), l.second...)})
	}
	return nil
}

// saying writes what is said on a row; what is longer than that takes the one above it too.
func saying(c *cells.Canvas, row int, words string, st uv.Style) {
	if rest := cells.Wrap(words, c.W-2); len(rest) > 1 {
		c.Fill(geom.R(0, row-1, c.W, 2), " ", st)
		c.Text(1, row-1, c.W-2, rest[0], st)
		words = strings.Join(rest[1:], " ")
	}
	c.Text(1, row, c.W-2, words, st)
}

// essentials are the hints without which nobody finds the way, in short words.
func essentials(hs []hint) (kept []hint) {
	short := map[string]string{"u": "undo", "arrows": "choose", "Enter": "go", "?": "keys", "q": "quit", "Escape": "back"}
	for _, h := range hs {
		if words, is := short[h.key]; is {
			kept = append(kept, hint{h.key, words})
		}
	}
	return kept
}

// verbHints are the verbs for what is chosen, from the table of verbs: by their
// rank, and then in its order.
func (m *model) verbHints() []hint {
	w := m.d.Window(m.sel.Window)
	lost := len(m.lost()) > 0
	var vs []desk.Verb
	for _, v := range desk.Verbs() {
		switch {
		case v.Key == "" && v.Bound == "" || v.Rank == desk.Unlisted:
		case v.Rescues && !lost, m.d.Offers(v) != nil:
		case w == nil && v.Windows && !v.Sheet && !v.Rescues && !m.sendsFocused(v):
		case w != nil && v.For == desk.ForWorkspaces:
		case w != nil && m.d.Tiled(w) && v.For == desk.ForFloating:
		case (w != nil && v.For == desk.ForTiles || w == nil && v.For == desk.ForWorkspaces) && m.refuses(v):
		case v.Name == "reorder" && len(m.d.Workspaces) < 2:
		default:
			vs = append(vs, v)
		}
	}
	rank := func(v desk.Verb) int {
		if v.Rank == 0 {
			return 1 << 20
		}
		return v.Rank
	}
	slices.SortStableFunc(vs, func(a, b desk.Verb) int { return rank(a) - rank(b) })
	var hs []hint
	for _, v := range vs {
		name := cmp.Or(v.Legend, v.Name)
		if w != nil && v.Instead != nil && len(m.chosen()) == 1 {
			name = v.Instead(w)
		}
		if m.sendsFocused(v) {
			name = fmt.Sprintf("%s #%d", name, m.d.Focus)
		}
		if w != nil && slices.Contains(w.Refused, v.Name) {
			name += " (refused)"
		}
		hs = append(hs, hint{v.Key + v.Bound, name})
	}
	return hs
}

// refuses tells whether a verb could do nothing with what is chosen, whatever is answered. Marked
// windows may be many, and are not tried.
func (m *model) refuses(v desk.Verb) bool {
	if m.marked() {
		return false
	}
	r := &m.refused
	if ids := m.chosen(); r.d != m.d || r.sel != m.sel || !slices.Equal(r.ids, ids) {
		*r = refused{m.d, m.sel, ids, map[string]bool{}}
	}
	if _, known := r.by[v.Name]; !known {
		r.by[v.Name] = m.askedAbout(v).Refused() != nil
	}
	return r.by[v.Name]
}

// refused are verbs that were tried on what is chosen, so that no frame tries them again.
type refused struct {
	d   *desk.Desk
	sel cells.Selection
	ids []int
	by  map[string]bool
}

// undoHint says what undo would take back.
func (m *model) undoHint() hint {
	if m.undo == "" {
		return hint{"u", "nothing to undo"}
	}
	room := 26
	if m.w < 100 {
		room = 14
	}
	return hint{"u", "undo: " + cells.Fit(strings.TrimSuffix(m.undo, "."), room)}
}

func (m *model) mapHints() []hint {
	several := len(m.d.Workspaces) > 1
	leaves := hint{"q", "quit"}
	if m.opt.BroughtUp {
		leaves = hint{"Escape", "away"}
	}
	var hs []hint
	for _, h := range []struct {
		hint
		works bool
	}{
		{m.undoHint(), true}, {hint{"arrows", "choose"}, true}, {hint{"Enter", "go there"}, true},
		{hint{fmt.Sprintf("1-%d", min(len(m.d.Workspaces), 9)), "go"}, several}, {hint{"b", "back"}, len(m.d.Recent) > 1}, {hint{", .", "previous, next"}, several},
		{hint{"Tab", "next window"}, len(m.d.Windows) > 0}, {hint{"z", "look closer"}, true}, {hint{"/", "find"}, len(m.d.Windows) > 0}, {hint{"'", "recent"}, len(m.d.Windows) > 0},
		{hint{"!", "lost"}, true}, {hint{":", "command"}, true}, {hint{";", "other screens"}, true}, {hint{"?", "all keys"}, true}, {leaves, true},
	} {
		if h.works {
			hs = append(hs, h.hint)
		}
	}
	return hs
}

// maxHintRows is over how many rows hints may flow.
const maxHintRows = 3

// packed parts hints among as many rows as they need.
func (m *model) packed(c *cells.Canvas, l legend) (rows [][]hint) {
	hs := append(slices.Clip(l.first), l.second...)
	for wide := 1 + cells.Width(l.lead) + 2; len(hs) > 0 && len(rows) < maxHintRows; wide = 1 {
		n := 0
		for ; n < len(hs) && wide+hs[n].size()-2 < c.W || len(rows) == maxHintRows-1 && n < len(hs); n++ {
			wide += hs[n].size()
		}
		rows, hs = append(rows, hs[:n]), hs[n:]
	}
	return rows
}

// messageRow is the row of the message, over those of the hints. Where these need more
// rows than there are, they lie over the last ones of the screen above: what can be
// typed now matters more.
func (m *model) messageRow(c *cells.Canvas, p parts, l legend) int {
	row := p.legend - 1
	if over := len(m.packed(c, l)) - p.rows; l.flows && over > 0 {
		row -= over
		c.Fill(geom.R(0, row, c.W, over+1), " ", m.opt.Theme.Style(m.opt.Theme.Paper))
	}
	return row
}

// flowing writes hints in as many rows as they need.
func (m *model) flowing(c *cells.Canvas, p parts, l legend) {
	rows := m.packed(c, l)
	top := p.legend + min(0, p.rows-len(rows))
	c.Fill(geom.R(0, top, c.W, len(rows)), " ", m.opt.Theme.Style(m.opt.Theme.Paper))
	for i, hs := range rows {
		m.legend(c, top+i, legend{lead: l.lead, first: hs})
		l.lead = ""
	}
}

// size is how many cells a hint takes with the space after it.
func (h hint) size() int { return cells.Width(h.key) + 1 + cells.Width(h.does) + 2 }

// legend writes one row of hints, as many as there is room for, and never half of
// one. What leads out of here, Escape or the page of keys and quit, is kept.
func (m *model) legend(c *cells.Canvas, y int, l legend) {
	t := m.opt.Theme
	key, does := cells.Bold(t.Style(t.Green)), t.Style(t.Slate)
	x := 1
	if l.lead != "" {
		x += c.Spans(1, y, c.W/2, cells.Words(l.lead, cells.Bold(t.Style(t.Brass)))) + 2
	}
	var kept []hint
	for _, h := range l.first {
		if h.key == "Escape" || h.key == "?" || h.key == "q" || m.h < twoRows && (h.key == "u" || h.key == "arrows" || h.key == "Enter") {
			kept = append(kept, h)
		}
	}
	room := c.W + 1 - x // no space is needed after the last
	for _, h := range kept {
		room -= h.size()
	}
	dropped := map[string]bool{}
	for _, key := range []string{"arrows", "Enter", "u"} { // what is found without words
		if i := slices.IndexFunc(kept, func(h hint) bool { return h.key == key }); room < 0 && i >= 0 {
			room += kept[i].size()
			dropped[key] = true
		}
	}
	for _, h := range l.first {
		if dropped[h.key] {
			continue
		}
		if !slices.Contains(kept, h) {
			if room < h.size() {
				continue
			}
			room -= h.size()
		}
		c.Spans(x, y, c.W-1-x, cells.Words(h.key, key), cells.Words(" "+h.does, does))
		x += h.size()
	}
}
