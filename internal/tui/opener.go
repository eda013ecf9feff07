package tui

import (
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/tui/cells"
)

// opener is the screen that chooses an app to go to, or to start.
type opener struct {
	still
	another bool // start one more, also where it runs
	all     []keeper.App
	rows    []keeper.App // those that fit what is typed, the best first
	at      int          // -1 for none
	run     string       // what is typed, where it is a command that can be run; listed last
	on      *arg         // the workspace or sheet that is chosen, where something is started; nil for where you are
}

type appsMsg struct {
	apps []keeper.App
	err  error
}

// startOpen asks for the apps there are.
func (m *model) startOpen(another bool) tea.Cmd {
	return m.openList(&opener{another: another, on: m.chosenPlace()}, "")
}

// openNamed lists the apps of a name.
func (m *model) openNamed(name string) tea.Cmd {
	m.home()
	return m.openList(&opener{}, name)
}

// chosenPlace is the workspace or the sheet that is chosen, where that is no window's and
// not the one you are on; nil else.
func (m *model) chosenPlace() *arg {
	i := m.workspaceAt()
	if m.sel.Window != 0 || m.sel.Letter == 0 && i == m.d.Current() || m.sel == m.here() {
		return nil
	}
	if m.sel.Letter == 0 {
		return &arg{Kind: desk.Number, N: i + 1}
	}
	return &arg{Kind: desk.Ref, Letter: m.sel.Letter, N: i + 1}
}

// openList lists apps by what is typed.
func (m *model) openList(o *opener, text string) tea.Cmd {
	m.push(o)
	return tea.Batch(m.startText(text), func() tea.Msg {
		list, err := m.k.Apps(m.ctx)
		return appsMsg{list, err}
	})
}

func (m *model) gotApps(msg appsMsg) {
	o, ok := on[*opener](m)
	switch {
	case !ok: // left meanwhile
	case msg.err != nil:
		m.pop()
		m.say(keeper.Sentence(msg.err), true)
	default:
		o.all = msg.apps
		o.wrote(m)
	}
}

func (*opener) writes() bool { return true }

// wrote works out which apps fit what is typed.
func (o *opener) wrote(m *model) {
	typed := strings.TrimSpace(m.input.Value())
	o.rows, o.at, o.run = keeper.RankApps(o.all, typed), 0, ""
	if words, err := apps.Words(typed); err == nil && len(words) > 0 && m.opt.InPath != nil && m.opt.InPath(words[0]) {
		o.run = typed
	}
	if len(o.rows) == 0 {
		o.at = -1 // a command is never chosen by itself
	}
}

// count is how many rows there are.
func (o *opener) count() int {
	if o.run != "" {
		return len(o.rows) + 1
	}
	return len(o.rows)
}

func (o *opener) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		return m.leave()
	case "up", "down":
		o.at = geom.Clamp(o.at+map[string]int{"up": -1, "down": 1}[name], min(0, len(o.rows)-1), o.count()-1)
		return nil
	case "enter":
		switch {
		case o.at < 0 && o.run != "":
			m.say("No app fits that. Down and Enter run it as a command.", true)
			return nil
		case o.at < 0:
			m.say("No app fits that.", true)
			return nil
		}
		m.pop()
		if o.at == len(o.rows) {
			return m.do(desk.Command{Verb: "run", Args: []arg{{Kind: desk.Words, Word: o.run}}})
		}
		c := desk.Command{Verb: "open", Args: []arg{{Kind: desk.Name, Word: o.rows[o.at].Name}}}
		if o.another {
			c.Args = append(c.Args, arg{Kind: desk.Keyword, Word: "another"})
		}
		if o.on != nil {
			c.Args = append(c.Args, arg{Kind: desk.Keyword, Word: "on"}, *o.on)
		}
		return m.do(c)
	}
	return m.write(k)
}

func (*opener) hints(*model) legend {
	return legend{first: []hint{{"letters", "narrow it down"}, {"up, down", "choose"}, {"Enter", "goes there, or starts it"}, escapes}}
}

// draw draws the list of apps.
func (o *opener) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	m.head(c)
	title := "OPEN, OR GO TO"
	if o.another {
		title = "OPEN ANOTHER"
	}
	c.Spans(1, 1, c.W-2, cells.Words(title, head), cells.Words(fmt.Sprintf("  %d apps, those you choose most first", len(o.rows)), quiet))
	room := c.H - 6
	first := geom.Clamp(o.at-room/2, 0, max(0, o.count()-room))
	there := ""
	if o.on != nil {
		there = " on " + m.placeWords(*o.on)
	}
	for i := first; i < min(o.count(), first+room); i++ {
		a := keeper.App{Name: o.run}
		if i < len(o.rows) {
			a = o.rows[i]
		}
		row, more := t.Style(t.Paper), quiet
		if i == o.at {
			row = cells.Reverse(head)
			more = row
			c.Fill(geom.R(1, 3+i-first, c.W-2, 1), " ", row)
		}
		does := "not running: Enter starts it" + there
		switch {
		case i == len(o.rows):
			does = "no app: Enter runs it as a command"
		case a.Windows > 0 && o.another:
			does = fmt.Sprintf("%s open: Enter starts one more%s", draw.WindowsWord(a.Windows), there)
		case a.Windows > 0:
			does = fmt.Sprintf("%s open: Enter goes there", draw.WindowsWord(a.Windows))
		}
		name := a.Name
		if a.Title != "" {
			name = a.Title + " (" + a.Name + ")"
		}
		name = cells.Fit(name, 34)
		c.Spans(2, 3+i-first, c.W-4, cells.Words(name+strings.Repeat(" ", 36-cells.Width(name)), row), cells.Words(does, more))
	}
	if o.count() == 0 && o.all != nil {
		c.Text(2, 3, c.W-4, "No app fits that: none that runs, none that is installed.", quiet)
	}
	if m.fault {
		c.Text(1, c.H-3, c.W-2, m.message, cells.Bold(t.Style(t.Coral)))
	}
	value := m.input.Value()
	at := 1 + c.Text(1, c.H-2, c.W, "Open: ", head)
	c.Text(at, c.H-2, c.W-at, value, t.Style(t.Paper))
	m.legend(c, c.H-1, o.hints(m))
	return m.cursorAt(at, c.H-2)
}
