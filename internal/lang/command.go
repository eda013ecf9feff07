package lang

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

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
	t, more := p.peek()
	if more && t.text == "" {
		t.text = empty
	}
	return &Error{Input: p.input, Column: t.column, Found: t.text, Want: want}
}

// parseCommand reads a command, and gives what could have stood where it ends.
func parseCommand(input string) (desk.Command, []string, error) {
	if c, ok := wordsOf(input); ok {
		return c, nil, nil
	}
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
	if t, _ := p.peek(); v.Picks && isOf(t) {
		p.at++
		c.Of, err = p.query()
		return c, nil, err
	}
	f := &former{p: p, verb: v}
	for _, form := range formsOf(v.Usage) {
		if args, at, ok := f.fit(form, p.at, nil); ok {
			c.Args, p.at = args, at
			f.wantAt(at, f.after())
			if t, more := p.peek(); more && v.Windows && isOf(t) {
				p.at++
				c.Of, err = p.query()
				return c, nil, err
			}
			return c, f.want, nil
		}
	}
	if v.Picks {
		f.wantAt(p.at, []string{ofWindows})
	}
	p.at = f.furthest
	return desk.Command{}, f.want, p.fault(f.want)
}

// wordsOf reads a verb that takes the rest of the line as it is; ok is false for another
// one, and where nothing is left.
func wordsOf(input string) (c desk.Command, ok bool) {
	name, rest := strings.TrimSpace(input), ""
	if i := strings.IndexFunc(name, unicode.IsSpace); i >= 0 {
		name, rest = name[:i], name[i:]
	}
	v, known := desk.FindVerb(name)
	rest = strings.TrimSpace(rest)
	if !known || v.Usage != "WORDS" || rest == "" {
		return c, false
	}
	return desk.Command{Verb: name, Args: []desk.Arg{{Kind: desk.Words, Word: rest}}}, true
}

// former fits tokens to the forms of a verb, and remembers the furthest token
// that did not fit and what could have stood there.
type former struct {
	p        *parser
	verb     desk.Verb
	furthest int
	want     []string
}

func (f *former) wantAt(at int, words []string) {
	if at > f.furthest {
		f.furthest, f.want = at, nil
	}
	for _, w := range words {
		if at == f.furthest && !slices.Contains(f.want, w) {
			f.want = append(f.want, w)
		}
	}
}

// after is what may follow all arguments, besides the end.
func (f *former) after() []string {
	if f.verb.Windows {
		return []string{ofWindows}
	}
	return nil
}

// ofWindows stands for "of" and a query among what could stand somewhere.
const ofWindows = "of WINDOWS"

func isOf(t token) bool { return !t.quoted && t.text == "of" }

// fit reads the slots from the token at on, to the end or to "of". An optional
// slot is taken where the rest still fits after it, else left out.
func (f *former) fit(slots []slot, at int, args []desk.Arg) ([]desk.Arg, int, bool) {
	t, more := f.p.tokens[at], at < len(f.p.tokens)-1
	if len(slots) == 0 {
		f.wantAt(at, f.after())
		return args, at, !more || f.verb.Windows && isOf(t)
	}
	s, rest := slots[0], slots[1:]
	args = slices.Clip(args)
	if s.lead != "" {
		f.wantAt(at, s.wants())
		if more && !t.quoted && t.text == s.lead {
			arg := desk.Arg{Kind: desk.Keyword, Word: s.lead}
			s.lead, s.optional = "", false
			if got, end, ok := f.fit(append([]slot{s}, rest...), at+1, append(args, arg)); ok {
				return got, end, true
			}
		}
	} else {
		f.wantAt(at, s.wants())
		if arg, fits := s.match(t); more && fits {
			if got, end, ok := f.fit(rest, at+1, append(args, arg)); ok {
				return got, end, true
			}
		}
	}
	if slots[0].optional {
		return f.fit(rest, at, args)
	}
	return nil, at, false
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
	case desk.Share:
		return fmt.Sprintf("%d%%", a.N)
	case desk.Grid:
		return fmt.Sprintf("%dx%d", a.Grid.Cols, a.Grid.Rows)
	case desk.Letter, desk.Small:
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
		return slices.ContainsFunc(slices.Concat(formsOf(v.Usage)...), func(s slot) bool {
			return s.lead == word || slices.Contains(s.alts, word)
		})
	})
}

// Usage is how a verb is written, with the long lists of targets in one word.
func Usage(v desk.Verb) string {
	var forms []string
	for _, form := range formsOf(v.Usage) {
		words := []string{v.Name}
		for _, s := range form {
			part := strings.ReplaceAll(strings.Join(s.alts, "|"), "EMPTY", kinds["EMPTY"].words)
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
		forms = append(forms, strings.Join(words, " "))
	}
	if v.Picks {
		forms = append(forms, v.Name+" "+ofWindows)
	}
	return strings.Join(forms, ", ")
}
