package prompt

import (
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// digits are how many workspaces keys can name.
const digits = 9

// place asks for a workspace, a sheet or a monitor.
func place(a About) Prompt {
	p := a.placeOf("", "")
	if !a.Verb.Sends || a.App == "" {
		return p
	}
	if n := len(a.Desk.Select(ofApp(a.App))); n > 1 {
		p.Choices = append(p.Choices, Choice{Key: "*", Does: fmt.Sprintf("all %d windows of %s, then where", n, a.App), Next: func() Prompt {
			all := a
			all.Words = "all of " + a.App
			return asking(all.placeOf("", " of "+lang.PrintQuery(ofApp(a.App))))
		}})
	}
	return p
}

// allOf says how many are meant: all of several, or the one there is.
func allOf(n int, several, one string) string {
	if n == 1 {
		return one
	}
	return fmt.Sprintf("all %d %s", n, several)
}

// asking has every command of a prompt asked for first.
func asking(p Prompt) Prompt {
	for i, c := range p.Choices {
		if next := c.Next; next != nil {
			p.Choices[i].Next = func() Prompt { return asking(next()) }
			continue
		}
		words := strings.ToUpper(p.Lead[:1]) + p.Lead[1:] + " " + c.Does + "?"
		p.Choices[i].Question = desk.Question{Text: words, Does: "does it", Leaves: "leaves them"}
	}
	return p
}

func ofApp(app string) desk.Query { return desk.ByApp{Text: app, Whole: true} }

// placeOf asks for the place where a monitor may have been said already, and the command
// ends in some words.
func (a About) placeOf(monitor, end string) Prompt {
	to, lead := a.Verb.Name+" ", a.lead("to")
	if a.Verb.Rescues {
		to = "rescue to "
	}
	p := Prompt{Lead: lead}
	add := func(key, does, target string) {
		p.Choices = append(p.Choices, Choice{Key: key, Does: does, Line: to + target + end})
	}
	for i := range a.Desk.Workspaces[:min(digits, len(a.Desk.Workspaces))] {
		add(fmt.Sprint(i+1), workspace(a.Desk, i)+windows(a.Desk.Count(i)), monitor+fmt.Sprint(i+1))
	}
	if monitor != "" {
		p.Lead = lead + " monitor " + monitor + ":"
		add("Return", "as it is", monitor)
		return p
	}
	if ms := a.monitors(); len(ms) > 1 {
		for _, l := range ms {
			p.Choices = append(p.Choices, Choice{Key: l, Does: "monitor " + l + ", then a digit or Enter", Next: func() Prompt { return a.placeOf(l, end) }})
		}
	}
	switch {
	case a.Verb.Rescues:
		if lost := len(a.Desk.Select(desk.Is{State: desk.IsStray})); lost > 0 {
			p.Choices = append(p.Choices, Choice{Key: "a", Does: allOf(lost, "that are lost", "the one that is lost"), Line: "rescue of is:stray"})
		}
		p.Choices = append(p.Choices, Choice{Key: "Return", Does: "this one, the shortest way", Line: "rescue"}, Choice{Key: "/", Does: "in words", Text: to})
		return p
	case a.Verb.Sends:
		if len(a.monitors()) > 1 {
			for _, key := range arrows {
				p.Choices = append(p.Choices, Choice{Key: key, Shown: "arrows", Does: "the monitor that way", Line: to + strings.ToLower(key) + end})
			}
		}
	}
	add("n", "a new workspace", "new")
	if len(a.Desk.Recent) > 1 {
		add("b", "back to "+workspace(a.Desk, a.Desk.Index(a.Desk.Recent[1])), "back")
	}
	add(".", "the next workspace", "next")
	add(",", "the one before it", "prev")
	if end == "" {
		p.Choices = append(p.Choices, Choice{Key: "/", Does: "by name", Text: to})
	}
	for _, ws := range a.Desk.Workspaces {
		if key := string(rune(ws.Pin)); ws.Pin != 0 && !p.has(key) {
			add(key, workspace(a.Desk, a.Desk.Index(ws.ID)), key)
		}
	}
	if a.Last != "" && end == "" {
		p.Choices = append(p.Choices, Choice{Key: "Return", Does: strings.TrimPrefix(a.Last, to) + " as last time", Line: a.Last})
	}
	return p
}

// workspace names one by its name where it has one.
func workspace(d *desk.Desk, i int) string {
	if name := d.Workspaces[i].Name; name != "" {
		return name
	}
	return fmt.Sprintf("workspace %d", i+1)
}

// windows say how many there are on a workspace; nothing for none.
func windows(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf(" (%d)", n)
}

// monitors lists the letters of those that are plugged in.
func (a About) monitors() (letters []string) {
	for _, m := range a.Desk.Plugged() {
		letters = append(letters, string(rune(m.Letter)))
	}
	slices.Sort(letters)
	return letters
}

// monitor asks for a monitor: the home of a workspace, or the one whose windows go.
func monitor(a About) Prompt {
	p := Prompt{Lead: a.lead(), AnyCase: true}
	all := strings.Join(a.monitors(), " or ")
	for _, l := range a.monitors() {
		if a.Verb.Name == "home" {
			p.Choices = append(p.Choices, Choice{Key: l, Shown: all, Does: "the home monitor of " + a.Desk.Title(a.Workspace), Line: fmt.Sprintf("home %d %s", a.Workspace+1, l)})
			continue
		}
		c := Choice{Key: l, Shown: all, Does: "the monitor whose windows go to another", Line: a.Verb.Name + " " + l}
		if len(a.monitors()) > 2 {
			c.Line, c.Next = "", func() Prompt { return a.taker(l) }
		}
		p.Choices = append(p.Choices, c)
	}
	return p
}

// taker asks for the monitor that takes the windows of another.
func (a About) taker(from string) Prompt {
	p := Prompt{Lead: a.Verb.Name + " monitor " + from + " to", AnyCase: true}
	others := slices.DeleteFunc(a.monitors(), func(l string) bool { return l == from })
	for _, l := range others {
		p.Choices = append(p.Choices, Choice{Key: l, Shown: strings.Join(others, " or "), Does: "takes them", Line: a.Verb.Name + " " + from + " to " + l})
	}
	p.Choices = append(p.Choices, Choice{Key: "Return", Does: "the usual one takes them", Line: a.Verb.Name + " " + from})
	return p
}
