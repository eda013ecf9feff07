// Package status is the line at an edge of a monitor: where you are, what is on the other
// workspaces, what just happened, and what the user adds. The keeper draws it, and zatlas line
// prints it.
package status

import (
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
)

// Line is what a line says on one monitor, in pieces.
type Line struct {
	Monitor    string   `json:"monitor"`    // its letter
	Here       bool     `json:"here"`       // you are on it
	Workspaces []Space  `json:"workspaces"` // in their order
	Layout     string   `json:"layout"`     // of its sheet; empty where every sheet is free
	Special    []string `json:"special"`    // what is unusual there
	App        string   `json:"app"`        // of the window with the focus; empty for none
	Title      string   `json:"title"`
	Place      string   `json:"place"` // of that in its pile or tabs, such as "2 of 3"
	Lost       int      `json:"lost"`
	Facts
}

// Space is a workspace.
type Space struct {
	Number  int    `json:"number"`
	Name    string `json:"name"`
	Windows int    `json:"windows"`
	Urgent  int    `json:"urgent"`
	Lost    int    `json:"lost"`
	Current bool   `json:"current"` // this monitor shows it
	Shown   bool   `json:"shown"`   // some monitor shows it
	On      string `json:"on"`      // the letters of the other monitors that do, where each has its own
}

// Facts are what a line says that no desk knows.
type Facts struct {
	News     string `json:"news"`     // the words of what just happened
	Keys     string `json:"keys"`     // the keys pressed so far of several
	Taken    int    `json:"taken"`    // chords that another program has
	Keyboard string `json:"keyboard"` // its layout, where there are several
	Date     string `json:"date"`
	Clock    string `json:"clock"`
	Rows     []Said `json:"rows"` // what the user adds
}

// Said is what a row of the user's says.
type Said struct {
	Text  string `json:"text"`
	Left  bool   `json:"left,omitempty"`  // before the title, else after it
	Width int    `json:"width,omitempty"` // in letters; 0 for as many as it has
	Click string `json:"click,omitempty"` // a command in words
	Fault bool   `json:"fault,omitempty"` // it says what is wrong with the row
}

// Of is what the line on a monitor says.
func Of(o *draw.Overview, letter byte, f Facts) Line {
	l := Line{Monitor: string(rune(letter)), Here: letter == o.At, Lost: len(o.Lost), Facts: f, Special: []string{}}
	shown := o.Index(o.Shown[letter-'A'])
	for i, ws := range o.Workspaces {
		c := o.Counts[i]
		l.Workspaces = append(l.Workspaces, Space{i + 1, ws.Name, c.Windows, c.Urgent, c.Lost, i == shown, c.Shown, others(o.Desk, ws.ID, letter)})
	}
	if shown < 0 {
		return l
	}
	s := o.Sheet(shown, letter)
	l.Layout = draw.LayoutWords(o.Desk, s)
	if s != nil && s.NoGaps && o.Settings.Gap > 0 {
		l.Special = append(l.Special, "gaps off")
	}
	if o.Bare {
		l.Special = append(l.Special, "bare desk")
	}
	if w := o.Window(o.Focus); w != nil && w.Monitor == letter {
		l.App, l.Title = w.App, w.Title
		if place, of := o.PlaceInPile(w); of > 1 {
			l.Place = fmt.Sprintf("%d of %d", place, of)
		}
		l.Special = append(l.Special, special(o.Desk, w)...)
	}
	return l
}

// others are the letters of the monitors but one that show a workspace, where each shows one
// of its own.
func others(d *desk.Desk, id int, letter byte) (letters string) {
	for _, m := range d.Monitors {
		if d.Settings.Separate && m.Connected && m.Letter != letter && d.Shown[m.Letter-'A'] == id {
			letters += string(rune(m.Letter))
		}
	}
	return letters
}

// special are the states of the window with the focus that change what is seen.
func special(d *desk.Desk, w *desk.Window) (words []string) {
	for _, s := range d.States(w) {
		if slices.Contains([]string{"maximised", "fullscreen", "floating", "sticky", "above"}, s) {
			words = append(words, s)
		}
	}
	return words
}

// Label is a workspace's number and name.
func (s Space) Label() string { return strings.TrimSpace(fmt.Sprint(s.Number, " ", s.Name)) }

// spaces are the workspaces in words: [3] the one that is shown, (3) one that another monitor
// shows, 3* one with windows, 3^ one with a window that is urgent.
func (l Line) spaces() string {
	var words []string
	for _, s := range l.Workspaces {
		word := s.Label()
		if s.Windows > 0 {
			word += "*"
		}
		if s.Urgent > 0 {
			word += "^"
		}
		switch {
		case s.Current:
			word = "[" + word + "]"
		case s.Shown:
			word = "(" + word + ")"
		}
		words = append(words, word)
	}
	return strings.Join(words, "  ")
}

// lost says how many windows are lost; empty for none.
func (l Line) lost() string {
	if l.Lost == 0 {
		return ""
	}
	return fmt.Sprintf("! %d lost", l.Lost)
}

// Text is the desk in one line: the workspaces, the layout, what is lost.
func (l Line) Text() string {
	text := l.spaces()
	if l.Layout != "" {
		layout, _, _ := strings.Cut(l.Layout, " ")
		text += fmt.Sprintf(" | %s %s", l.Monitor, layout)
	}
	if l.Lost > 0 {
		text += " | " + l.lost()
	}
	return text
}

// pieces are the names that a form can have, each with what it stands for.
var pieces = map[string]func(l Line) string{
	"workspaces": Line.spaces,
	"monitor":    func(l Line) string { return l.Monitor },
	"layout":     func(l Line) string { return l.Layout },
	"special":    func(l Line) string { return strings.Join(l.Special, ", ") },
	"app":        func(l Line) string { return l.App },
	"title":      func(l Line) string { return l.Title },
	"place":      func(l Line) string { return l.Place },
	"lost":       Line.lost,
	"news":       func(l Line) string { return l.News },
	"keys":       func(l Line) string { return l.Keys },
	"chords": func(l Line) string {
		if l.Taken == 0 {
			return ""
		}
		return desk.Counted(l.Taken, "chord") + " taken"
	},
	"keyboard": func(l Line) string { return l.Keyboard },
	"date":     func(l Line) string { return l.Date },
	"clock":    func(l Line) string { return l.Clock },
	"rows": func(l Line) string {
		var texts []string
		for _, r := range l.Rows {
			if r.Text != "" {
				texts = append(texts, r.Text)
			}
		}
		return strings.Join(texts, "  ")
	},
}

// Pieces are the names of the pieces, by letter.
func Pieces() []string {
	var names []string
	for name := range pieces {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// Form is a form of a line, such as "{workspaces} {title}": text, and pieces by their names.
// {{ stands for a brace.
type Form []func(l Line) string

// ParseForm reads a form.
func ParseForm(text string) (f Form, err error) {
	literal := func(s string) {
		if s != "" {
			f = append(f, func(Line) string { return s })
		}
	}
	for text != "" {
		before, rest, braced := strings.Cut(text, "{")
		literal(before)
		if !braced {
			break
		}
		if strings.HasPrefix(rest, "{") {
			literal("{")
			text = rest[1:]
			continue
		}
		name, after, closed := strings.Cut(rest, "}")
		piece, known := pieces[name]
		switch {
		case !closed:
			return nil, fmt.Errorf("the brace before %q is not closed", name)
		case !known:
			return nil, fmt.Errorf("there is no piece {%s}: %s", name, strings.Join(Pieces(), ", "))
		}
		f, text = append(f, piece), after
	}
	return f, nil
}

// Print is a line in this form.
func (f Form) Print(l Line) string {
	var b strings.Builder
	for _, piece := range f {
		b.WriteString(piece(l))
	}
	return b.String()
}

// Clean makes a line from outside safe to show.
func (l Line) Clean() Line {
	clean := func(texts ...*string) {
		for _, t := range texts {
			*t = desk.CleanText(*t, desk.MaxTitle)
		}
	}
	l.Workspaces, l.Special, l.Rows = slices.Clone(l.Workspaces), slices.Clone(l.Special), slices.Clone(l.Rows)
	clean(&l.Monitor, &l.Layout, &l.App, &l.Title, &l.Place, &l.News, &l.Keys, &l.Keyboard, &l.Date, &l.Clock)
	for i := range l.Workspaces {
		clean(&l.Workspaces[i].Name, &l.Workspaces[i].On)
	}
	for i := range l.Special {
		clean(&l.Special[i])
	}
	for i := range l.Rows {
		clean(&l.Rows[i].Text, &l.Rows[i].Click)
	}
	return l
}
