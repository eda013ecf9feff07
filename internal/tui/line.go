package tui

import (
	"strings"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

func (m *model) openLine() tea.Cmd {
	m.mode = modeLine
	m.input.SetValue("")
	return m.input.Focus()
}

// inputKey follows a key in a line of text.
func (m *model) inputKey(k tea.KeyPressMsg, name string) tea.Cmd {
	switch name {
	case "esc":
		m.mode = modeMap
		m.input.Blur()
		m.say("Left as it was.", false)
		return nil
	case "tab":
		m.complete()
		return nil
	case "enter":
		return m.accept()
	}
	return m.edit(k)
}

func (m *model) edit(msg tea.Msg) tea.Cmd {
	var cmd tea.Cmd
	m.message = ""
	m.input, cmd = m.input.Update(msg)
	return cmd
}

func (m *model) accept() tea.Cmd {
	value := strings.TrimSpace(m.input.Value())
	if m.mode == modeName {
		m.mode = modeMap
		c := desk.Command{Verb: m.verb}
		if m.verb == "rename" {
			c.Args = []arg{{Kind: desk.Number, N: m.workspaceAt() + 1}}
		}
		if name := desk.CleanName(value); name != "" || m.verb == "rename" {
			c.Args = append(c.Args, arg{Kind: desk.Name, Word: name})
		}
		return m.do(c)
	}
	if value == "" {
		m.mode = modeMap
		return nil
	}
	c, err := lang.ParseCommand(value)
	if err != nil {
		m.say(err.Error(), true)
		return nil // the line stays, to be mended
	}
	m.mode = modeMap
	m.input.Blur()
	return m.runCommand(c)
}

// complete goes on with the word begun, as far as there is one way.
func (m *model) complete() {
	if m.mode != modeLine {
		return
	}
	value := m.input.Value()
	words := lang.Complete(value, m.d)
	var begun string
	if i := strings.LastIndexByte(value, ' '); i < len(value)-1 {
		begun = value[i+1:]
	}
	var fits []string
	for _, w := range words {
		if strings.HasPrefix(w, begun) && (!strings.Contains(w, " ") || w[0] == '"') {
			fits = append(fits, w)
		}
	}
	switch {
	case len(fits) == 1:
		m.input.SetValue(value[:len(value)-len(begun)] + fits[0] + " ")
	case len(fits) > 1:
		m.input.SetValue(value[:len(value)-len(begun)] + common(fits))
	}
	m.input.CursorEnd()
}

// common is the start that all words share.
func common(words []string) string {
	start := words[0]
	for _, w := range words[1:] {
		for !strings.HasPrefix(w, start) {
			start = start[:len(start)-1]
		}
	}
	return start
}

// lineFoot draws the line of a command: what is typed, what it would do or
// what is wrong with it, and what could stand there.
func (m *model) lineFoot(c *canvas, p parts) *tea.Cursor {
	t := m.opt.Theme
	value := m.input.Value()
	words, st := m.previewWords(), t.style(t.Brass)
	_, err := lang.ParseCommand(value)
	var fault *lang.Error
	if e, ok := err.(*lang.Error); ok {
		fault = e
	}
	switch {
	case m.fault && m.message != "":
		words, st = m.message, bold(t.style(t.Coral))
	case fault != nil && strings.TrimSpace(value) == "":
		words, st = "A command, such as: send 3, go B2, add Foyer, layout lead", t.style(t.Slate)
	case fault != nil && fault.Found == "":
		words, st = "", t.style(t.Slate)
	case fault != nil:
		words, st = fault.Error(), t.style(t.Coral)
	}
	c.text(1, p.legend-1, c.w-2, words, st)
	y := p.legend
	at := c.text(1, y, c.w, ":", bold(t.style(t.Brass))) + 1
	m.typed(c, at, y, value, fault)
	x := at + width(value) + 3
	if complete := lang.Complete(value, m.d); len(complete) > 0 && c.w-x > 12 {
		c.text(x, y, c.w-x-1, strings.Join(complete, "  "), t.style(t.Slate))
	}
	if p.rows > 1 {
		m.legend(c, y+1, nil, []hint{{"Enter", "does it"}, {"Tab", "completes"}, {"Escape", "leaves it"}})
	}
	return tea.NewCursor(at+width(string([]rune(value)[:m.input.Position()])), y)
}

// typed writes the line, the part from the fault on in coral.
func (m *model) typed(c *canvas, x, y int, value string, fault *lang.Error) {
	t := m.opt.Theme
	runes := []rune(value)
	split := len(runes)
	if fault != nil && fault.Found != "" {
		split = min(fault.Column-1, len(runes))
	}
	wrong := t.style(t.Coral)
	wrong.Underline = uv.UnderlineSingle
	c.spans(x, y, c.w-x, span{string(runes[:split]), bold(t.style(t.Paper))}, span{string(runes[split:]), wrong})
}
