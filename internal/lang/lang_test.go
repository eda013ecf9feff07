package lang

import (
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
)

func TestCommands(t *testing.T) {
	word := func(w string) desk.Arg { return desk.Arg{Kind: desk.Keyword, Word: w} }
	name := func(w string) desk.Arg { return desk.Arg{Kind: desk.Name, Word: w} }
	number := func(n int) desk.Arg { return desk.Arg{Kind: desk.Number, N: n} }
	for line, want := range map[string]desk.Command{
		"go 3":             {Verb: "go", Args: []desk.Arg{number(3)}},
		"  go \t B3 ":      {Verb: "go", Args: []desk.Arg{{Kind: desk.Ref, Letter: 'B', N: 3}}},
		"go Press":         {Verb: "go", Args: []desk.Arg{name("Press")}},
		`go "Press list"`:  {Verb: "go", Args: []desk.Arg{name("Press list")}},
		`go "next"`:        {Verb: "go", Args: []desk.Arg{name("next")}},
		`go "B3"`:          {Verb: "go", Args: []desk.Arg{name("B3")}},
		`go "a\"b\\c"`:     {Verb: "go", Args: []desk.Arg{name(`a"b\c`)}},
		"go next":          {Verb: "go", Args: []desk.Arg{word("next")}},
		"send B":           {Verb: "send", Args: []desk.Arg{{Kind: desk.Letter, Letter: 'B'}}},
		"send left of #12": {Verb: "send", Args: []desk.Arg{word("left")}, Of: desk.ByID{ID: 12}},
		"add":              {Verb: "add"},
		"add Foyer":        {Verb: "add", Args: []desk.Arg{name("Foyer")}},
		"add at 2":         {Verb: "add", Args: []desk.Arg{word("at"), number(2)}},
		"add Foyer at 2":   {Verb: "add", Args: []desk.Arg{name("Foyer"), word("at"), number(2)}},
		`add "at" at 1`:    {Verb: "add", Args: []desk.Arg{name("at"), word("at"), number(1)}},
		"remove into 1":    {Verb: "remove", Args: []desk.Arg{word("into"), number(1)}},
		"remove 2 into 1":  {Verb: "remove", Args: []desk.Arg{number(2), word("into"), number(1)}},
		`rename 2 ""`:      {Verb: "rename", Args: []desk.Arg{number(2), name("")}},
		`rename ""`:        {Verb: "rename", Args: []desk.Arg{name("")}},
		"focus #12":        {Verb: "focus", Args: []desk.Arg{{Kind: desk.Item, N: 12}}},
		"focus of app:x":   {Verb: "focus", Of: desk.ByApp{Text: "x"}},
		"float of all":     {Verb: "float", Of: desk.All{}},
		"rescue to B of is:stray": {Verb: "rescue", Args: []desk.Arg{word("to"), {Kind: desk.Letter, Letter: 'B'}},
			Of: desk.Is{State: desk.IsStray}},
		`close of app:"Reel Ledger" or title:=x`: {Verb: "close", Of: desk.Or{Qs: []desk.Query{
			desk.ByApp{Text: "Reel Ledger"}, desk.ByTitle{Text: "x", Whole: true}}}},
		"float of a b or not c": {Verb: "float", Of: desk.Or{Qs: []desk.Query{
			desk.And{Qs: []desk.Query{desk.Fuzzy{Text: "a"}, desk.Fuzzy{Text: "b"}}}, desk.Not{Q: desk.Fuzzy{Text: "c"}}}}},
	} {
		got, err := ParseCommand(line)
		if err != nil || !reflect.DeepEqual(got, want) {
			t.Errorf("%s: %+v, %v; want %+v", line, got, err, want)
			continue
		}
		if again, err := ParseCommand(Print(got)); err != nil || !reflect.DeepEqual(again, got) {
			t.Errorf("%s is printed as %s, which reads as %+v, %v", line, Print(got), again, err)
		}
	}
}

func TestFaults(t *testing.T) {
	for _, c := range []struct {
		line   string
		column int
		found  string
		want   string // one of what could stand there, or a part of why
	}{
		{"", 1, "", "send"},
		{"gone 3", 1, "gone", "go"},
		{`"go" 3`, 1, "go", "go"},
		{"go", 3, "", "a workspace's number"},
		{`go ""`, 4, `""`, "a workspace's name"},
		{"go  at", 5, "at", "next"},
		{"go 3 4", 6, "4", ""},
		{"go -1", 4, "-1", "a workspace's name"},
		{"send 3 off #1", 8, "off", "of WINDOWS"},
		{"send 3 of", 10, "", "app:"},
		{"send 3 of #0", 11, "#0", "a window such as #12"},
		{"send 3 of is:gone", 14, "gone", "stray"},
		{"send 3 of on:", 14, "", "a workspace's number or name"},
		{"send 3 of at:x", 14, "x", "a monitor's letter"},
		{"send 3 of size:3", 11, "size:3", "app:"},
		{"send 3 of (a or b", 18, "", ")"},
		{"send 3 of a )", 13, ")", "or"},
		{"send 3 of or", 11, "or", "a word"},
		{"send 3 of app:", 15, "", "a part of the app"},
		{`go "Press`, 4, `"`, "not closed"},
		{"add at x", 8, "x", "a workspace's number"},
		{"focus 12", 7, "12", "a window such as #12"},
		{"layout heap", 8, "heap", "columns"},
		{"go 漢字 x", 7, "x", ""},
	} {
		_, err := ParseCommand(c.line)
		var e *Error
		if !errors.As(err, &e) {
			t.Errorf("%s: %v is no fault of the words", c.line, err)
			continue
		}
		if e.Column != c.column || e.Found != c.found {
			t.Errorf("%s: column %d, %q; want column %d, %q", c.line, e.Column, e.Found, c.column, c.found)
		}
		if c.want != "" && !slices.Contains(e.Want, c.want) && !strings.Contains(e.Why, c.want) {
			t.Errorf("%s: %v does not offer %q", c.line, e, c.want)
		}
		if !strings.Contains(e.Error(), "column ") {
			t.Errorf("%s: %v names no column", c.line, e)
		}
	}
}

// An operator that joins nothing is a word that is searched for.
func TestLoneOperators(t *testing.T) {
	for _, word := range []string{"not", "or"} {
		if q, err := ParseQuery(word); err != nil || q != (desk.Fuzzy{Text: word}) {
			t.Errorf("%s reads as %v, %v", word, q, err)
		}
	}
	if _, err := ParseQuery("not or"); err == nil {
		t.Error("two operators read as a query")
	}
}

func TestDeepQueriesEnd(t *testing.T) {
	for _, q := range []string{strings.Repeat("(", 10_000), strings.Repeat("not ", 10_000) + "a"} {
		if _, err := ParseQuery(q); err == nil {
			t.Errorf("%.10s... is read", q)
		}
	}
}

func TestComplete(t *testing.T) {
	for line, want := range map[string][]string{
		"se":      {"send"},
		"go ne":   {"next", "new"},
		"layout ": {"tree", "columns", "rows", "lead", "pile", "tabs", "free", "next"},
		"send 3 ": {"of", "of WINDOWS"},
		"zz ":     nil,
	} {
		if got := Complete(line, nil).All(); !slices.Equal(got, want) {
			t.Errorf("%q completes to %q, want %q", line, got, want)
		}
	}
}

func TestUsage(t *testing.T) {
	v, _ := desk.FindVerb("remove")
	if got := Usage(v); got != "remove [TARGET] [into TARGET]" {
		t.Errorf("usage is %q", got)
	}
}

// Whatever is read is printed so that it reads the same.
func FuzzCommand(f *testing.F) {
	for _, s := range []string{"go 3", `send "x y" of app:="a" or (not #3 title:b)`, "add at 1", "rescue to B3 of is:stray", `go "\"\\"`} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		c, err := ParseCommand(line)
		if err != nil {
			var e *Error
			if !errors.As(err, &e) || e.Column < 1 || e.Column > len([]rune(line))+1 {
				t.Fatalf("%q: %v has no column in the line", line, err)
			}
			return
		}
		again, err := ParseCommand(Print(c))
		if err != nil || !reflect.DeepEqual(c, again) {
			t.Fatalf("%q is printed as %q, which reads as %+v, %v", line, Print(c), again, err)
		}
	})
}

func FuzzQuery(f *testing.F) {
	for _, s := range []string{"", `app:"x y" -z`, "a (b or c) not d", "#12 on:3 at:B is:urgent", `on:Press on:"Box office" on:"3" on:=x is:lost`, `"or" all`, `title:="="`} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		q, err := ParseQuery(line)
		if err != nil {
			return
		}
		again, err := ParseQuery(PrintQuery(q))
		if err != nil || !reflect.DeepEqual(q, again) {
			t.Fatalf("%q is printed as %q, which reads as %#v, %v", line, PrintQuery(q), again, err)
		}
	})
}
