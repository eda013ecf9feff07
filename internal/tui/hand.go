package tui

import (
	"fmt"
	"slices"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/tui/cells"
)

// handPrompt moves or resizes the chosen window by keys.
type handPrompt struct {
	over
	verb  string       // nudge or resize
	id    int          // of this use, for undo
	unit  desk.ArgKind // Number for pixels, Share for per cent
	step  int          // pixels
	edge  bool         // the next arrow goes to the next edge
	from  int          // the number of the last step of undo before it
	did   int          // that of the step that it made; 0 for none yet
	chord bool         // begun by a chord of the display, which Enter ends
	tree  sheetScreen
}

// draw shows a tile on its sheet, any other window on the whole plane.
func (h *handPrompt) draw(m *model, c *cells.Canvas) *tea.Cursor {
	w := m.d.Window(m.sel.Window)
	if w != nil && m.d.Tiled(w) {
		return h.tree.draw(m, c)
	}
	facts := func(c *cells.Canvas, r geom.Rect) {
		if w == nil {
			return
		}
		for i, f := range m.facts(w) {
			c.Text(r.X+1, r.Y+i, r.W-2, f, m.opt.Theme.Style(m.opt.Theme.Paper))
		}
	}
	m.drawPlaneScreen(c, "BY HAND", "  the window on the whole plane; it follows at once", facts)
	return m.foot(c, m.parts())
}

func (h *handPrompt) hints(m *model) legend {
	lead := h.verb + " " + m.subjectWords()
	if m.parts().rows < 2 { // the place stands in the other row, and names it
		lead = fmt.Sprintf("%s #%d", h.verb, m.sel.Window)
	}
	return legend{lead: lead, first: h.keyHints(), flows: true}
}

func (h *handPrompt) foot(m *model, c *cells.Canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	row := m.messageRow(c, p, h.hints(m))
	words, st := cells.JoinNonEmpty("  ", m.message, m.handWords()), t.Style(t.Brass)
	if m.fault {
		words, st = m.message, cells.Bold(t.Style(t.Coral))
	}
	saying(c, row, words, st)
	m.flowing(c, p, h.hints(m))
	return nil
}

// fixedState is a state in which a window has no place of its own, and the key that
// ends it.
type fixedState struct {
	name, key string
	holds     func(w *desk.Window) bool
}

var fixed = [...]fixedState{
	{"minimised", "M", func(w *desk.Window) bool { return w.Minimised }},
	{"fullscreen", "F", func(w *desk.Window) bool { return w.Fullscreen }},
	{"maximised", "m", func(w *desk.Window) bool { return w.Maximised }},
}

// startHand begins to move or to resize the chosen window by keys.
func (m *model) startHand(verb string) tea.Cmd {
	w := m.d.Window(m.sel.Window)
	switch {
	case w == nil:
		m.say("Choose a window first.", true)
		return nil
	case w.Minimised || w.Fullscreen || w.Maximised:
		i := slices.IndexFunc(fixed[:], func(f fixedState) bool { return f.holds(w) })
		m.say(fmt.Sprintf("%s is %s: %s puts it back first.", w.Label(), fixed[i].name, fixed[i].key), true)
		return nil
	case m.d.Tiled(w) && verb == "nudge":
		m.say(fmt.Sprintf("%s does not float, and only floating windows have a place of their own: f floats it.", w.Label()), true)
		return nil
	}
	m.push(&handPrompt{verb: verb, id: int(time.Now().UnixNano() >> 10), step: 10, unit: desk.Number, from: m.lastStep, tree: sheetScreen{}})
	m.say("", false)
	return nil
}

// handByChord begins that where a chord asks for it.
func (m *model) handByChord(verb string) tea.Cmd {
	cmd := m.startHand(verb)
	if h, ok := m.top().(*handPrompt); ok {
		h.chord = true
	}
	return cmd
}

// handSteps are the pixels of a step, by the digit that chooses them.
var handSteps = map[string]int{"1": 1, "2": 10, "3": 50, "4": 200}

// handShare is the step of resizing in per cent of the work area, by the digit 5.
const handShare = 5

func (h *handPrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	shrink := false
	dirName := name
	if rest, ok := strings.CutPrefix(name, "shift+"); ok && h.verb == "resize" {
		dirName, shrink = rest, true
	}
	if lower := strings.ToLower(k.Text); h.verb == "resize" && k.Text != lower && strings.Contains("HJKL", k.Text) {
		dirName, shrink = lower, true
	}
	dir, isDir := directions()[dirName]
	switch {
	case isDir:
		args := []arg{{Kind: desk.Keyword, Word: dir.String()}}
		px := h.step
		if shrink {
			px = -px
		}
		switch {
		case h.edge && h.verb == "nudge":
			args = append(args, arg{Kind: desk.Keyword, Word: "edge"})
		default:
			args = append(args, arg{Kind: h.unit, N: px})
		}
		h.edge = false
		return m.do(desk.Command{Verb: h.verb, Args: args, Of: m.subject(), Hand: int64(h.id)})
	case k.Text == "5" && h.verb == "resize":
		h.step, h.unit = handShare, desk.Share
		m.say(fmt.Sprintf("Steps of %d per cent of the work area.", handShare), false)
	case handSteps[k.Text] != 0:
		h.step, h.edge, h.unit = handSteps[k.Text], false, desk.Number
		m.say(fmt.Sprintf("Steps of %d pixels.", h.step), false)
	case name == "e" && h.verb == "nudge":
		h.edge = true
		m.say("To the next edge: which way?", false)
	case name == "enter":
		m.pop()
		m.say(m.handWords()+" It stays there.", false)
		if h.chord && m.sel.Window == m.d.Focus { // back to the window, and the screens go
			return m.enter()
		}
	case name == "esc":
		m.pop()
		m.say("Put back exactly where it was.", false)
		if h.did != 0 && h.did == m.lastStep { // nothing else was done since
			m.quietUndo = true
			return m.run("undo")
		}
	default:
		m.say(fmt.Sprintf("%s does nothing here.", named(k)), false)
	}
	return nil
}

// handWords say where the window is by now.
func (m *model) handWords() string {
	w := m.d.Window(m.sel.Window)
	if w == nil {
		return "It is closed."
	}
	if m.d.Tiled(w) {
		return m.d.SizeWords(m.group())
	}
	return m.d.PlaceWords(w)
}

// keyHints are the keys of the mode.
func (h *handPrompt) keyHints() []hint {
	step := fmt.Sprintf("by %d px", h.step)
	if h.unit == desk.Share {
		step = fmt.Sprintf("by %d%%", h.step)
	}
	enter, escape := hint{"Enter", "keeps it"}, hint{"Escape", "puts it back"}
	steps := hint{"1-4", "steps of 1, 10, 50, 200"}
	if h.verb == "resize" {
		return []hint{{"arrows", "edge out " + step}, enter, {"Shift+arrows", "in"}, steps, {"5", "of 5%"}, escape}
	}
	return []hint{{"arrows", step}, enter, {"e arrow", "to the next edge"}, steps, escape}
}
