package lang

import (
	"fmt"
	"strconv"
	"strings"

	"zatlas/internal/desk"
)

// ParseQuery reads a query: what stands after "of", and in a search line. An
// empty query is every window.
func ParseQuery(input string) (desk.Query, error) {
	p, err := newParser(input)
	if err != nil {
		return nil, err
	}
	if _, ok := p.peek(); !ok {
		return desk.All{}, nil
	}
	if word := p.tokens[0].text; len(p.tokens) == 2 && (word == "not" || word == "or") {
		return desk.Fuzzy{Text: word}, nil // it joins nothing, and so it is a word
	}
	return p.query()
}

// Term is a term of queries: how it is written, by an example, and what it means.
type Term struct{ Example, Means string }

// Terms are those there are, for help.
func Terms() []Term {
	return []Term{
		{"#12", "the window of that number"}, {"all", "every window"},
		{"app:ledger", `a part of the app's name; app:="Reel Ledger" the whole of it`},
		{`title:"reel 3"`, "a part of the title; title:= the whole of it"},
		{"on:3", `of a workspace, by its number or its name, as in on:"Box office"`}, {"at:B", "of a monitor"},
		{"is:stray", "of a state: " + strings.Join(desk.StateNames(), ", ") + "; here is the workspace you are on"},
		{"idle:>2h", "without the focus for longer than that; idle:<10m for less"},
		{"ledger", "a word alone: its letters in their order, in app or title"},
	}
}

var termWords = []string{"all", "#12", "app:", "title:", "on:", "at:", "is:", "not", "(", "a word"}

// query reads to the end of the input.
func (p *parser) query() (desk.Query, error) {
	q, err := p.or(0)
	if err != nil {
		return nil, err
	}
	if _, ok := p.peek(); ok {
		return nil, p.fault([]string{"or", "another term"})
	}
	return q, nil
}

// maxDepth bounds brackets and nots, so that no input can exhaust the stack.
const maxDepth = 64

func (p *parser) or(depth int) (desk.Query, error) {
	qs, err := p.several(depth, p.and, func() bool {
		t, ok := p.peek()
		if ok && !t.quoted && t.text == "or" {
			p.at++
			return true
		}
		return false
	})
	if len(qs) > 1 {
		return desk.Or{Qs: qs}, err
	}
	return first(qs), err
}

func (p *parser) and(depth int) (desk.Query, error) {
	qs, err := p.several(depth, p.term, func() bool {
		t, ok := p.peek()
		return ok && (t.quoted || t.text != "or" && t.text != ")")
	})
	if len(qs) > 1 {
		return desk.And{Qs: qs}, err
	}
	return first(qs), err
}

func first(qs []desk.Query) desk.Query {
	if len(qs) == 0 {
		return nil
	}
	return qs[0]
}

func (p *parser) several(depth int, one func(int) (desk.Query, error), more func() bool) (qs []desk.Query, err error) {
	for {
		q, err := one(depth)
		if err != nil {
			return nil, err
		}
		qs = append(qs, q)
		if !more() {
			return qs, nil
		}
	}
}

func (p *parser) term(depth int) (desk.Query, error) {
	t, ok := p.peek()
	if !ok || depth > maxDepth {
		return nil, p.fault(termWords)
	}
	if t.quoted {
		p.at++
		return desk.Fuzzy{Text: t.text}, nil
	}
	switch t.text {
	case "or", ")":
		return nil, p.fault(termWords)
	case "not":
		p.at++
		q, err := p.term(depth + 1)
		return desk.Not{Q: q}, err
	case "(":
		p.at++
		q, err := p.or(depth + 1)
		if err != nil {
			return nil, err
		}
		if t, ok := p.peek(); !ok || t.text != ")" || t.quoted {
			return nil, p.fault([]string{")", "or", "another term"})
		}
		p.at++
		return q, nil
	case "all":
		p.at++
		return desk.All{}, nil
	}
	if strings.HasPrefix(t.text, "#") {
		arg, ok := parseWindow(t)
		if !ok {
			return nil, p.fault([]string{"a window such as #12"})
		}
		p.at++
		return desk.ByID{ID: arg.N}, nil
	}
	if field, rest, ok := strings.Cut(t.text, ":"); ok {
		return p.field(t, field, rest)
	}
	p.at++
	return desk.Fuzzy{Text: t.text}, nil
}

// field reads a term of the form field:value. A value may be quoted; it then
// follows the colon, or the = after it, at once.
func (p *parser) field(t token, name, value string) (desk.Query, error) {
	width := len([]rune(name)) + 1
	fail := func(offset int, found string, want ...string) (desk.Query, error) {
		return nil, &Error{Input: p.input, Column: t.column + offset, Found: found, Want: want}
	}
	parsers := map[string]func(value string) (desk.Query, []string){
		"at": func(v string) (desk.Query, []string) {
			m, ok := parseMonitor(token{text: v})
			return desk.At{Letter: m.Letter}, unless(ok, "a monitor's letter")
		},
		"idle": func(v string) (desk.Query, []string) {
			q, ok := parseIdle(v)
			return q, unless(ok, "a time such as >2h or <10m")
		},
		"is": func(v string) (desk.Query, []string) {
			s, ok := desk.ParseState(v)
			return desk.Is{State: s}, unless(ok, desk.StateNames()...)
		},
	}
	p.at++
	if parse, ok := parsers[name]; ok {
		q, want := parse(value)
		if want != nil {
			return fail(width, value, want...)
		}
		return q, nil
	}
	if name != "app" && name != "title" && name != "on" {
		return fail(0, t.text, "app:", "title:", "on:", "at:", "is:", "idle:", `a word in quotes`)
	}
	wanted, whole := "a part of the "+name, false
	if name == "on" {
		wanted = "a workspace's number or name"
		if n, ok := parseNumber(token{text: value}); ok {
			return desk.On{Number: n.N}, nil
		}
	} else if value, whole = strings.CutPrefix(value, "="); whole {
		width++
	}
	end := t.column + len([]rune(t.text))
	if next, ok := p.peek(); value == "" && ok && next.quoted && next.column == end {
		value = next.text
		p.at++
	} else if value == "" && !whole {
		return fail(width, "", wanted)
	}
	switch name {
	case "on":
		return desk.On{Name: value}, nil
	case "app":
		return desk.ByApp{Text: value, Whole: whole}, nil
	}
	return desk.ByTitle{Text: value, Whole: whole}, nil
}

// spans are the units of time of idle:, in seconds, the longest first.
var spans = []struct {
	unit    string
	seconds int64
}{{"d", 86400}, {"h", 3600}, {"m", 60}, {"s", 1}}

func parseIdle(v string) (desk.Idle, bool) {
	rest, more := strings.CutPrefix(v, ">")
	rest, less := strings.CutPrefix(rest, "<")
	for _, s := range spans {
		if number, ok := strings.CutSuffix(rest, s.unit); ok && more != less {
			n, fits := parseNumber(token{text: number})
			return desk.Idle{Seconds: int64(n.N) * s.seconds, Less: less}, fits
		}
	}
	return desk.Idle{}, false
}

func printIdle(q desk.Idle) string {
	sign := ">"
	if q.Less {
		sign = "<"
	}
	for _, s := range spans {
		if q.Seconds%s.seconds == 0 && q.Seconds >= s.seconds {
			return fmt.Sprintf("idle:%s%d%s", sign, q.Seconds/s.seconds, s.unit)
		}
	}
	return "idle:" + sign + "0s"
}

func unless(ok bool, want ...string) []string {
	if ok {
		return nil
	}
	return want
}

// PrintQuery is the query in words; it parses to the same query.
func PrintQuery(q desk.Query) string {
	switch q := q.(type) {
	case desk.ByID:
		return "#" + strconv.Itoa(q.ID)
	case desk.ByApp:
		return "app:" + printPart(q.Text, q.Whole)
	case desk.ByTitle:
		return "title:" + printPart(q.Text, q.Whole)
	case desk.On:
		if q.Name == "" {
			return "on:" + strconv.Itoa(q.Number)
		}
		if _, number := parseNumber(token{text: q.Name}); number {
			return "on:" + Quote(q.Name)
		}
		return "on:" + printPart(q.Name, false)
	case desk.At:
		return "at:" + string(rune(q.Letter))
	case desk.Idle:
		return printIdle(q)
	case desk.Is:
		return "is:" + q.State.String()
	case desk.Fuzzy:
		if plainWord(q.Text) {
			return q.Text
		}
		return Quote(q.Text)
	case desk.Not:
		return "not " + bracket(q.Q)
	case desk.And:
		return join(q.Qs, " ")
	case desk.Or:
		return join(q.Qs, " or ")
	}
	return "all"
}

func join(qs []desk.Query, between string) string {
	words := make([]string, len(qs))
	for i, q := range qs {
		words[i] = bracket(q)
	}
	return strings.Join(words, between)
}

func bracket(q desk.Query) string {
	switch q.(type) {
	case desk.And, desk.Or:
		return "(" + PrintQuery(q) + ")"
	}
	return PrintQuery(q)
}

func printPart(text string, whole bool) string {
	if !plainWord(text) || strings.HasPrefix(text, "=") {
		text = Quote(text)
	}
	if whole {
		return "=" + text
	}
	return text
}

// plainWord tells whether a word stands for itself in a query, without quotes.
func plainWord(s string) bool {
	if s == "" || s == "or" || s == "not" || s == "all" || strings.HasPrefix(s, "#") || strings.Contains(s, ":") {
		return false
	}
	sc := scanner{input: []rune(s)}
	t, ok, err := sc.next()
	return err == nil && ok && !t.quoted && t.text == s && !isBracket([]rune(s)[0])
}
