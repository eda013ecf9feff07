package tui

import (
	"slices"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/prompt"
	"zatlas/internal/tui/cells"
)

// room is what stands on the stack of the screens: a screen, or a prompt that
// asks for something over one. The topmost one gets the keys and the pointer.
type room interface {
	// key follows a key; name is the key's, as Bubble Tea writes it.
	key(m *model, k tea.KeyPressMsg, name string) tea.Cmd
	// draw draws all of the canvas, and gives the place of the text cursor, nil
	// where nothing is typed.
	draw(m *model, c *cells.Canvas) *tea.Cursor
	// hints are what the legend says of its keys.
	hints(m *model) legend
	// pointer follows a click, a move, a button let go or a turn of the wheel.
	pointer(m *model, msg tea.MouseMsg) tea.Cmd
}

// Some rooms do more.
type (
	// writer is a room in which text is typed, now if it says so.
	writer interface {
		writes() bool
		// wrote follows a change of the text.
		wrote(m *model)
	}
	// footed is a room with a foot of its own in the place of message and hints.
	footed interface {
		foot(m *model, c *cells.Canvas, p parts) *tea.Cursor
	}
	// pending is a room that holds a command which Enter would carry out: it is
	// pencilled on the map.
	pending interface {
		pending(m *model) (desk.Command, bool)
	}
	// follower is a room that follows every new snapshot.
	follower interface {
		follow(m *model) tea.Cmd
	}
	// settler is a room that chooses what is chosen next after a command; done is
	// false where that is as everywhere.
	settler interface {
		settle(m *model, r desk.Report, verb string) (done bool)
	}
	// chooser is a room in which several windows are chosen, by marks.
	chooser interface {
		chosen(m *model) []int
	}
)

// legend is what stands at the bottom: what the keys act on, the first ones, and
// those of a row of their own where there are two.
type legend struct {
	lead          string
	first, second []hint
	// flows says that hints without room in the first row go on in the second, or
	// where there is one row in that of the message.
	flows bool
}

// still is a room that has no use for the pointer.
type still struct{}

func (still) pointer(*model, tea.MouseMsg) tea.Cmd { return nil }

// over is a prompt: it is drawn by the screen beneath, with its own hints.
type over struct{ still }

func (over) draw(m *model, c *cells.Canvas) *tea.Cursor { return m.screen().draw(m, c) }

func (over) isOver() {}

func isOver(r room) bool {
	_, over := r.(interface{ isOver() })
	return over
}

// top is the room that gets the keys.
func (m *model) top() room { return m.rooms[len(m.rooms)-1] }

// screen is the topmost room that is a screen.
func (m *model) screen() room {
	for _, r := range slices.Backward(m.rooms) {
		if !isOver(r) {
			return r
		}
	}
	return m.rooms[0]
}

// asking tells whether something is asked for over the screen.
func (m *model) asking() bool { return isOver(m.top()) }

// push puts a room on top. A prompt takes the place of another.
func (m *model) push(r room) {
	if isOver(r) && m.asking() {
		m.pop()
	}
	m.rooms = append(m.rooms, r)
}

// pop leaves the topmost room, but for the map.
func (m *model) pop() {
	if len(m.rooms) > 1 {
		m.rooms = m.rooms[:len(m.rooms)-1]
	}
	m.input.Blur()
}

// home leaves everything but the map.
func (m *model) home() {
	m.rooms = m.rooms[:1]
	m.input.Blur()
}

// goTo shows a screen over the map alone.
func (m *model) goTo(r room) {
	m.home()
	m.rooms = append(m.rooms, r)
}

// on is the screen of some kind on the stack; nil where there is none.
func on[T room](m *model) (found T, ok bool) {
	for _, r := range slices.Backward(m.rooms) {
		if found, ok = r.(T); ok {
			return found, true
		}
	}
	return found, false
}

// leave leaves a prompt with nothing done.
func (m *model) leave() tea.Cmd {
	m.pop()
	return m.unchanged()
}

// unchanged ends what was typed or asked with nothing done.
func (m *model) unchanged() tea.Cmd {
	m.input.Blur()
	m.say("Left as it was.", false)
	return nil
}

// rowStep is by how many rows a cursor key moves in a list of n; 0 for other keys.
func rowStep(name string, n int) int {
	return map[string]int{"up": -1, "k": -1, "down": 1, "j": 1, "pgup": -10, "pgdown": 10, "home": -n, "end": n}[name]
}

// typing tells whether text is being typed.
func (m *model) typing() bool {
	w, ok := m.top().(writer)
	return ok && w.writes()
}

// write has a message change the text that is being typed.
func (m *model) write(msg tea.Msg) tea.Cmd {
	var cmd tea.Cmd
	m.message, m.fault = "", false
	m.input, cmd = m.input.Update(msg)
	m.top().(writer).wrote(m)
	return cmd
}

// startText begins to type, with a text that is there already.
func (m *model) startText(text string) tea.Cmd {
	m.input.SetValue(text)
	m.input.CursorEnd()
	return m.input.Focus()
}

// cursorAt is the text cursor in a line that begins at a cell.
func (m *model) cursorAt(x, y int) *tea.Cursor {
	return tea.NewCursor(x+cells.Width(string([]rune(m.input.Value())[:m.input.Position()])), y)
}

// listed is a screen of the table, and what opens it; line is what is on the line for commands.
type listed struct {
	prompt.Screen
	open func(m *model, line string) tea.Cmd
}

// screens are the screens of the table in prompt, each with what opens it.
func screens() []listed {
	plain := func(open func(m *model) tea.Cmd) func(*model, string) tea.Cmd {
		return func(m *model, _ string) tea.Cmd { return open(m) }
	}
	openers := map[string]func(m *model, line string) tea.Cmd{
		"atlas":        func(*model, string) tea.Cmd { return nil },
		"find":         func(m *model, _ string) tea.Cmd { return m.openGazetteer(true) },
		"gazetteer":    func(m *model, _ string) tea.Cmd { return m.openGazetteer(false) },
		"recent":       plain((*model).openSwitcher),
		"here":         plain((*model).openHere),
		"strays":       plain((*model).openStrays),
		"plates":       plain((*model).openPlates),
		"survey":       plain((*model).openSurvey),
		"logbook":      plain((*model).openLog),
		"rules":        plain((*model).openRules),
		"settings":     plain((*model).openSettings),
		"keys":         plain((*model).openKeys),
		prompt.Command: (*model).openLine,
		"grid":         plain((*model).startGrid),
		"nudge":        func(m *model, _ string) tea.Cmd { return m.handByChord("nudge") },
		"resize":       func(m *model, _ string) tea.Cmd { return m.handByChord("resize") },
		"open":         func(m *model, _ string) tea.Cmd { return m.startOpen(false) },
	}
	var list []listed
	for _, s := range prompt.Screens() {
		list = append(list, listed{s, openers[s.Name]})
	}
	return list
}

// afterSemicolon are the screens that ; opens by a letter.
func afterSemicolon(list []listed) []listed {
	return slices.DeleteFunc(slices.Clone(list), func(s listed) bool { return s.After == "" })
}
