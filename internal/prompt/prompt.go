// Package prompt is what the verbs ask before they act, key by key. The screens and the cards of
// the display ask the same.
package prompt

import (
	"cmp"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Prompt is what is asked: what was said so far, and what may follow.
type Prompt struct {
	Lead    string // such as "send #4 to"
	Choices []Choice
	Empty   string // what is said where none of them is listed
	AnyCase bool   // letters answer in either case

	try func(line string) error // a command, without doing it; nil where none is tried
}

// Choice is a key that may follow. It completes a command, stands for a deed, or leads to
// the next question.
type Choice struct {
	Key   string // as it is typed: 3, B, *, Left, Return
	Shown string // how several choices in a row that are alike are written, such as 1-9; empty for Key
	Does  string // what it does, in words; empty for what is not listed
	Line  string // the command, in words, which asks for nothing more; else
	Deed  string // what keys of the settings stand for: a screen, a verb that may ask, a command; else
	// Screen is the screen that is brought up, where the screens are not there; on them it
	// is the key of the prompt they have for it; else
	Screen string
	Text   string // what the line of the screens begins with, where words are wanted; else
	Next   func() Prompt
	// Question is asked before the command is done; without a text none is.
	Question desk.Question
}

// Find is the choice of the first of some names of a key, as typed on different
// keyboards; ok is false where none means anything.
func (p Prompt) Find(names ...string) (c Choice, ok bool) {
	for _, name := range names {
		for _, c := range p.Choices {
			if c.Key == name {
				return c, true
			}
		}
	}
	for _, name := range names {
		if arrow, is := letterArrows[name]; is && p.has(arrow) {
			return p.Find(arrow)
		}
	}
	for _, name := range names {
		for _, c := range p.Choices {
			if p.AnyCase && len(name) == 1 && strings.EqualFold(c.Key, name) {
				return c, true
			}
		}
	}
	return Choice{}, false
}

// letterArrows are the letters that stand for arrows where they mean nothing else.
var letterArrows = map[string]string{"h": "Left", "j": "Down", "k": "Up", "l": "Right"}

// has tells whether a key means something.
func (p Prompt) has(key string) bool {
	_, ok := p.Find(key)
	return ok
}

// Row is choices as they are listed.
type Row struct{ Keys, Does string }

// Rows are the choices, those alike in one. One that could not be done now is not among them;
// its key means something all the same, and the command says what is the matter.
func (p Prompt) Rows() []Row {
	if p.Refused() != nil {
		return nil
	}
	var rows []Row
	for left := p.Choices; len(left) > 0; {
		alike := 1
		for alike < len(left) && left[0].Shown != "" && left[alike].Shown == left[0].Shown {
			alike++
		}
		var keys []string
		does := ""
		for _, c := range left[:alike] {
			if why, _ := p.refused(c); c.Does != "" && why == nil {
				keys, does = append(keys, Shown(c.Key)), cmp.Or(does, c.Does)
			}
		}
		switch {
		case len(keys) == 0:
		case len(keys) == alike && left[0].Shown != "":
			rows = append(rows, Row{left[0].Shown, does})
		default:
			rows = append(rows, Row{strings.Join(keys, " "), does})
		}
		left = left[alike:]
	}
	return rows
}

// Refused is why none of the choices that are listed could be done now; nil where one could.
func (p Prompt) Refused() error {
	why, _ := p.tried()
	return why
}

// tried is why none of the choices could be done now, by the last of them: directions come
// first and say the least. What is typed in words, or chosen on a screen, is not tried.
func (p Prompt) tried() (why error, tried bool) {
	for _, c := range p.Choices {
		if c.Does == "" {
			continue
		}
		if err, is := p.refused(c); is {
			why, tried = err, true
			if err == nil {
				break
			}
		}
	}
	return why, tried
}

// refused is why a choice could not be done now; tried is false where that is not known.
func (p Prompt) refused(c Choice) (why error, tried bool) {
	switch {
	case c.Next != nil:
		return c.Next().tried()
	case p.try != nil && c.Line != "":
		return p.try(c.Line), true
	}
	return nil, false
}

// trying has the commands of a prompt, and of those it leads to, tried for Rows.
func (p Prompt) trying(try func(line string) error) Prompt {
	p.try, p.Choices = try, slices.Clone(p.Choices)
	for i, c := range p.Choices {
		if next := c.Next; next != nil {
			p.Choices[i].Next = func() Prompt { return next().trying(try) }
		}
	}
	return p
}

// Shown is a key as it is listed.
func Shown(key string) string {
	switch key {
	case "Left", "Right", "Up", "Down":
		return map[string]string{"Left": "←", "Right": "→", "Up": "↑", "Down": "↓"}[key]
	case "Return":
		return "Enter"
	}
	return key
}

// Asked is the verb that a command names alone, and that asks for more; ok is false
// for any other command.
func Asked(command string) (v desk.Verb, ok bool) {
	v, ok = desk.FindVerb(command)
	switch {
	case !ok || v.Usage == "WORDS":
		return v, false
	case v.Asks == desk.AskName || v.Asks == desk.AskNothing || v.Asks == desk.AskThat:
		_, err := lang.ParseCommand(command)
		return v, err != nil // one that can do without does
	}
	return v, true
}

// About is what a question is about.
type About struct {
	Desk      *desk.Desk
	Verb      desk.Verb
	Words     string // of what the verb acts on, such as "#4 Reel Ledger"
	App       string // of the window it acts on; empty where it has none, or several do
	Workspace int    // the index of the workspace it is about
	Letter    byte   // the monitor it is about
	Last      string
	// Means is what a command means here, such as of which windows. Choices are tried by it;
	// without it none are.
	Means func(desk.Command) desk.Command
}

// For is what a verb asks for; ok is false for one that asks for nothing that keys
// could say.
func For(a About) (p Prompt, ok bool) {
	ask, ok := asks[a.Verb.Asks]
	if !ok {
		if _, asked := Asked(a.Verb.Name); !asked || a.Verb.Asks != desk.AskNothing {
			return Prompt{}, false
		}
		ask = spelled
	}
	p = ask(a)
	if a.Means != nil {
		tried := map[string]error{}
		p = p.trying(func(line string) error {
			if _, ok := tried[line]; !ok {
				tried[line] = a.try(line)
			}
			return tried[line]
		})
	}
	return p, len(p.Choices) > 0
}

// Refused is why the verb could do nothing now, by any answer to what it asks.
func (a About) Refused() error {
	if p, ok := For(a); ok {
		return p.Refused()
	}
	return a.try(a.Verb.Name)
}

// try is what a command would say against being done.
func (a About) try(line string) error {
	c, err := lang.ParseCommand(line)
	if err != nil {
		return err
	}
	if a.Verb.Sends {
		c.Of = nil // all windows of an app go where this one could, and may be many to try
	}
	_, _, err = a.Desk.Apply(a.Means(c))
	return err
}

var asks = map[desk.Ask]func(About) Prompt{
	desk.AskPlace: place, desk.AskMonitor: monitor, desk.AskLayout: layouts, desk.AskDirection: direction, desk.AskSplit: split,
	desk.AskPart: part, desk.AskLetter: letter, desk.AskName: name, desk.AskPlate: plates,
}

// lead is the verb with what it acts on, and perhaps words after it.
func (a About) lead(after ...string) string {
	return strings.Join(strings.Fields(strings.Join(append([]string{a.Verb.Name, a.Words}, after...), " ")), " ")
}

// name asks for a text, which is typed on the screens.
func name(a About) Prompt {
	return Prompt{Lead: a.lead(), Choices: []Choice{{Key: "Return", Does: "type the name", Text: a.Verb.Name + " "}}}
}

var arrows = []string{"Left", "Right", "Up", "Down"}

// direction asks for the tile that way, the next or the previous.
func direction(a About) Prompt {
	p := Prompt{Lead: a.lead()}
	for _, key := range arrows {
		p.Choices = append(p.Choices, Choice{Key: key, Shown: "arrows", Does: "with the tile that way", Line: a.Verb.Name + " " + strings.ToLower(key)})
	}
	p.Choices = append(p.Choices, Choice{Key: "n", Does: "with the next", Line: a.Verb.Name + " next"}, Choice{Key: "p", Does: "with the previous", Line: a.Verb.Name + " prev"})
	return p
}

// split asks where the next window opens.
func split(a About) Prompt {
	p := Prompt{Lead: a.lead()}
	for i, key := range arrows {
		does, word := "the next window opens beside it", "across"
		if i > 1 {
			does, word = "below it", "down"
		}
		p.Choices = append(p.Choices, Choice{Key: key, Shown: []string{"← →", "↑ ↓"}[i/2], Does: does, Line: a.Verb.Name + " " + word})
	}
	return p
}
