package tui

import (
	"cmp"
	"errors"
	"fmt"
	"strings"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/tui/cells"
)

// linePrompt is a command in words.
type linePrompt struct{ over }

// openLine begins a command in words, with what is known of it.
func (m *model) openLine(text string) tea.Cmd {
	m.push(&linePrompt{})
	return m.startText(text)
}

func (*linePrompt) writes() bool { return true }

func (*linePrompt) wrote(*model) {}

func (p *linePrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		return m.leave()
	case "tab":
		m.complete()
		return nil
	case "enter":
		return p.accept(m)
	}
	return m.write(k)
}

func (p *linePrompt) accept(m *model) tea.Cmd {
	value := strings.TrimSpace(m.input.Value())
	if value == "" {
		m.pop()
		return nil
	}
	if r, is, err := drawRequest(value); err != nil {
		m.say(keeper.Sentence(err), true)
		return nil
	} else if is {
		m.pop()
		return m.drawTo(r, false)
	}
	c, err := lang.ParseCommand(value)
	if err != nil {
		m.say(m.lineFault(err), true)
		return nil // the line stays, to be mended
	}
	m.pop()
	return m.runCommand(c)
}

func (*linePrompt) pending(m *model) (desk.Command, bool) {
	c, err := lang.ParseCommand(m.input.Value())
	return m.about(c), err == nil
}

func (*linePrompt) hints(*model) legend {
	return legend{first: []hint{{"Enter", "does it"}, {"Tab", "completes"}, escapes}}
}

// namePrompt asks for the name of a workspace, a new one or the chosen one.
type namePrompt struct {
	over
	verb string
}

// startName begins to type a name.
func (m *model) startName(verb string) tea.Cmd {
	m.push(&namePrompt{verb: verb})
	if verb == "rename" {
		return m.startText(m.d.Workspaces[m.workspaceAt()].Name)
	}
	return m.startText("")
}

func (*namePrompt) writes() bool { return true }

func (*namePrompt) wrote(*model) {}

func (p *namePrompt) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		return m.leave()
	case "tab":
		return nil
	case "enter":
		value := desk.CleanName(strings.TrimSpace(m.input.Value()))
		m.pop()
		c := desk.Command{Verb: p.verb}
		if p.verb == "rename" {
			c.Args = []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}
		}
		if value != "" || p.verb == "rename" {
			c.Args = append(c.Args, arg{Kind: desk.Name, Word: value})
		}
		return m.do(c)
	}
	return m.write(k)
}

func (p *namePrompt) hints(*model) legend {
	does := "adds it; without a name it goes by its number"
	if p.verb == "rename" {
		does = "renames it; without a name it goes by its number"
	}
	return legend{lead: p.verb, first: []hint{{"Enter", does}, escapes}}
}

func (p *namePrompt) foot(m *model, c *cells.Canvas, at parts) *tea.Cursor {
	t := m.opt.Theme
	asks := "Name of the new workspace: "
	if p.verb == "rename" {
		asks = "New name of workspace " + m.d.Title(m.workspaceAt()) + ": "
	}
	x := 1 + c.Text(1, at.legend-1, c.W, asks, cells.Bold(t.Style(t.Brass)))
	c.Text(x, at.legend-1, c.W-x, m.input.Value(), t.Style(t.Paper))
	m.legend(c, at.legend, p.hints(m))
	return m.cursorAt(x, at.legend-1)
}

// complete goes on with the word begun, as far as there is one way.
func (m *model) complete() { m.extend(m.completions(m.input.Value())) }

// extend puts what is sure of a completion in place of the word begun.
func (m *model) extend(c lang.Completion) {
	m.input.SetValue(strings.TrimSuffix(m.input.Value(), c.Begun) + c.Extended())
	m.input.CursorEnd()
}

// completions are what fits at the end of a line.
func (m *model) completions(line string) lang.Completion {
	if _, drawing, _ := drawRequest(line); drawing {
		return completeDraw(line)
	}
	c := lang.Complete(line, m.d)
	if strings.HasPrefix(drawWord, line) {
		c.Words = append(c.Words, drawWord)
	}
	return c
}

// drawWords say what a line that asks for a drawing would do.
func drawWords(line string) string {
	r, _, err := drawRequest(line)
	if err != nil {
		return keeper.Sentence(err)
	}
	return "Enter draws it to " + cmp.Or(r.Path, r.Usual()+" in the present folder") + "."
}

// lineFault says what is wrong with a line. Of a word that is no command, but is known on the
// page of keys, it names the key.
func (m *model) lineFault(err error) string {
	var fault *lang.Error
	if !errors.As(err, &fault) || !fault.Strange() {
		return err.Error()
	}
	for _, r := range found(keyRows(m.list, m.rows), fault.Found, nil) {
		if r.key != "" {
			return fmt.Sprintf("column %d: %q is not a command: try %s (%s)", fault.Column, fault.Found, r.key, cmp.Or(r.command, strings.TrimSuffix(r.does, ".")))
		}
	}
	return err.Error()
}

// foot draws the line of a command: what is typed, what it would do or
// what is wrong with it, and what fits there.
func (l *linePrompt) foot(m *model, c *cells.Canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	value := m.input.Value()
	words, st := m.previewWords(), t.Style(t.Brass)
	_, err := lang.ParseCommand(value)
	_, drawing, _ := drawRequest(value)
	var fault *lang.Error
	if e, ok := err.(*lang.Error); ok {
		fault = e
	}
	switch {
	case m.fault && m.message != "":
		words, st = m.message, cells.Bold(t.Style(t.Coral))
	case fault != nil && strings.TrimSpace(value) == "":
		words, st = "A command, such as: send 3, go B2, add Foyer, layout lead", t.Style(t.Slate)
	case drawing:
		words, fault, st = drawWords(value), nil, t.Style(t.Brass)
	case fault != nil && fault.Found == "":
		words, st = "", t.Style(t.Slate)
	case fault != nil:
		words, st = m.lineFault(fault), t.Style(t.Coral)
	}
	saying(c, p.legend-1, words, st)
	y := p.legend
	at := c.Text(1, y, c.W, ":", cells.Bold(t.Style(t.Brass))) + 1
	m.typed(c, at, y, value, fault)
	x := at + cells.Width(value) + 3
	if more := m.completions(value).All(); len(more) > 0 && c.W-x > 12 {
		c.Text(x, y, c.W-x-1, strings.Join(more, "  "), t.Style(t.Slate))
	}
	if p.rows > 1 {
		m.legend(c, y+1, l.hints(m))
	} else if words == "" {
		m.legend(c, y-1, l.hints(m))
	}
	return m.cursorAt(at, y)
}

// typed writes the line, the part from the fault on in coral.
func (m *model) typed(c *cells.Canvas, x, y int, value string, fault *lang.Error) {
	t := m.opt.Theme
	runes := []rune(value)
	split := len(runes)
	if fault != nil && fault.Found != "" {
		split = min(fault.Column-1, len(runes))
	}
	wrong := t.Style(t.Coral)
	wrong.Underline = uv.UnderlineSingle
	c.Spans(x, y, c.W-x, cells.Words(string(runes[:split]), cells.Bold(t.Style(t.Paper))), cells.Words(string(runes[split:]), wrong))
}
