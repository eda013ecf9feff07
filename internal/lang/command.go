package lang

import (
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// ParseCommand reads a command. The error, an *Error, tells the column of the
// fault and what could stand there.
func ParseCommand(input string) (desk.Command, error) {
	c, _, err := parseCommand(input)
	return c, err
}

// parser walks over the tokens of a command.
type parser struct {
	input  string
	tokens []token
	at     int
}

func newParser(input string) (*parser, error) {
	s := scanner{input: []rune(input)}
	p := &parser{input: input}
	for {
		t, ok, err := s.next()
		if err != nil {
			return nil, err
		}
		if !ok {
			p.tokens = append(p.tokens, t) // the end, with its column
			return p, nil
		}
		p.tokens = append(p.tokens, t)
	}
}

func (p *parser) peek() (token, bool) { return p.tokens[p.at], p.at < len(p.tokens)-1 }

// fault is an error at the next token.
func (p *parser) fault(want []string) error {
	t, _ := p.peek()
	return &Error{Input: p.input, Column: t.column, Found: t.text, Want: want}
}

// parseCommand reads a command, and gives what could have stood where it ends.
func parseCommand(input string) (desk.Command, []string, error) {
	p, err := newParser(input)
	if err != nil {
		return desk.Command{}, nil, err
	}
	t, ok := p.peek()
	v, known := desk.FindVerb(t.text)
	if !ok || !known || t.quoted {
		var names []string
		for _, v := range desk.Verbs() {
			names = append(names, v.Name)
		}
		return desk.Command{}, names, p.fault(names)
	}
	p.at++
	c := desk.Command{Verb: v.Name}
	want, err := p.arguments(&c, v)
	if err != nil {
		return desk.Command{}, want, err
	}
	if t, ok := p.peek(); ok && v.Windows && t.text == "of" && !t.quoted {
		p.at++
		c.Of, err = p.query()
		if err != nil {
			return desk.Command{}, nil, err
		}
		return c, nil, nil
	}
	if v.Windows {
		want = append(want, "of WINDOWS")
	}
	if _, ok := p.peek(); ok {
		return desk.Command{}, want, p.fault(want)
	}
	return c, want, nil
}

// arguments reads what the verb's usage asks for. Optional slots that do not
// fit are passed over; want lists what could have stood at the next token.
func (p *parser) arguments(c *desk.Command, v desk.Verb) (want []string, err error) {
	for _, s := range slotsOf(v.Usage) {
		t, ok := p.peek()
		if s.lead != "" {
			if !ok || t.quoted || t.text != s.lead {
				want = append(want, s.wants()...)
				continue
			}
			p.at++
			want = nil
			c.Args = append(c.Args, desk.Arg{Kind: desk.Keyword, Word: s.lead})
			s.lead, s.optional = "", false
			t, ok = p.peek()
		}
		arg, fits := s.match(t)
		if ok && fits {
			p.at++
			want = nil
			c.Args = append(c.Args, arg)
			continue
		}
		want = append(want, s.wants()...)
		if !s.optional {
			return want, p.fault(want)
		}
	}
	return want, nil
}

// Print is the command in words; it parses to the same command.
func Print(c desk.Command) string {
	words := []string{c.Verb}
	for _, a := range c.Args {
		words = append(words, printArg(a))
	}
	if c.Of != nil {
		words = append(words, "of", PrintQuery(c.Of))
	}
	return strings.Join(words, " ")
}

func printArg(a desk.Arg) string {
	switch a.Kind {
	case desk.Number:
		return fmt.Sprint(a.N)
	case desk.Letter:
		return string(rune(a.Letter))
	case desk.Ref:
		return fmt.Sprintf("%c%d", a.Letter, a.N)
	case desk.Item:
		return fmt.Sprintf("#%d", a.N)
	case desk.Name:
		if bareName(a.Word) && !keyword(a.Word) {
			return a.Word
		}
		return Quote(a.Word)
	}
	return a.Word
}

// keyword tells whether a word is one in some verb's usage.
func keyword(word string) bool {
	return slices.ContainsFunc(desk.Verbs(), func(v desk.Verb) bool {
		return slices.ContainsFunc(slotsOf(v.Usage), func(s slot) bool {
			return s.lead == word || slices.Contains(s.alts, word)
		})
	})
}

// Usage is how a verb is written, with the long lists of targets in one word.
func Usage(v desk.Verb) string {
	words := []string{v.Name}
	for _, s := range slotsOf(v.Usage) {
		part := strings.Join(s.alts, "|")
		if slices.Contains(s.alts, "NUMBER") && len(s.alts) > 3 {
			part = "TARGET"
		}
		if s.lead != "" {
			part = s.lead + " " + part
		}
		if s.optional {
			part = "[" + part + "]"
		}
		words = append(words, part)
	}
	if v.Windows {
		words = append(words, "[of WINDOWS]")
	}
	return strings.Join(words, " ")
}

// Complete lists what could stand at the end of a line: whole words that go on
// with the last one begun, else what the grammar wants next, kinds of
// arguments in words. Workspaces' names are offered where one fits.
func Complete(input string, d *desk.Desk) []string {
	begun := ""
	head := input
	if i := strings.LastIndexAny(input, " \t"); i < len(input)-1 {
		begun, head = input[i+1:], input[:i+1]
	}
	_, want, err := parseCommand(head)
	if e, ok := err.(*Error); ok && e.Found != "" {
		return nil // the fault is further left
	}
	var words []string
	for _, w := range want {
		if w == kinds["NAME"].words && d != nil {
			for _, ws := range d.Workspaces {
				if ws.Name != "" {
					words = append(words, printArg(desk.Arg{Kind: desk.Name, Word: ws.Name}))
				}
			}
			continue
		}
		words = append(words, w)
	}
	return slices.DeleteFunc(words, func(w string) bool {
		return !strings.HasPrefix(strings.ToLower(w), strings.ToLower(begun)) || begun != "" && strings.Contains(w, " ") && w[0] != quote
	})
}
