package prompt

import (
	"fmt"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// Layouts are the letters of layouts, in the order in which they are listed, and the
// words for each.
var Layouts = [][2]string{{"c", "columns"}, {"r", "rows"}, {"l", "lead 1"}, {"p", "pile"}, {"b", "tabs"}, {"t", "tree"}, {"f", "free"}, {"n", "next"}}

// layouts asks how a sheet lays out its windows.
func layouts(a About) Prompt {
	p := Prompt{Lead: "lay out sheet " + desk.SheetRef(a.Workspace, a.Letter) + " as"}
	for _, l := range Layouts {
		does := l[1]
		switch does {
		case "lead 1":
			does = layout.Lead.String()
		case "next":
			does = "the next of these"
		}
		p.Choices = append(p.Choices, Choice{Key: l[0], Does: does, Line: "layout " + l[1]})
	}
	for n := 1; n <= min(desk.MaxLeads, digits); n++ {
		p.Choices = append(p.Choices, Choice{Key: fmt.Sprint(n), Shown: "1-9", Does: "lead, with so many leading", Line: fmt.Sprintf("layout lead %d", n)})
	}
	return p
}

// Parts are the keys for another part of the work area than a half, and Corners those
// of its corners.
var (
	Parts   = [][3]string{{"t", "third", "a third"}, {"T", "two-thirds", "two thirds"}, {"q", "quarter", "a quarter"}, {"Q", "three-quarters", "three quarters"}}
	Corners = [][2]string{{"y", "topleft"}, {"u", "topright"}, {"b", "bottomleft"}, {"n", "bottomright"}}
)

// sides are the sides of the work area, by the arrows.
var sides = map[string]string{"Left": "left", "Right": "right", "Up": "top", "Down": "bottom"}

// part asks for a part of the work area: a side, perhaps after a share; a corner; the
// digits of two cells of the grid.
func part(a About) Prompt {
	p := a.side("a half", "")
	for _, s := range Parts {
		p.Choices = append(p.Choices, Choice{Key: s[0], Does: s[2] + ", then the side", Next: func() Prompt { return a.side(s[2], " "+s[1]) }})
	}
	for _, c := range Corners {
		p.Choices = append(p.Choices, Choice{Key: c[0], Shown: "y u b n", Does: "a corner", Line: "snap " + c[1]})
	}
	grid := a.Desk.GridOf(a.Letter)
	cells := grid.Cols * grid.Rows
	p.Choices = append(p.Choices, Choice{Key: "g", Does: fmt.Sprintf("cells of %d by %d, by arrows", grid.Cols, grid.Rows), Screen: "grid"})
	if cells > digits {
		return p
	}
	for from := 1; from <= cells; from++ {
		next := func() Prompt {
			q := Prompt{Lead: a.lead(fmt.Sprintf("from cell %d to", from))}
			for to := 1; to <= cells; to++ {
				q.Choices = append(q.Choices, Choice{Key: fmt.Sprint(to), Shown: fmt.Sprintf("1-%d", cells), Does: "that cell",
					Line: fmt.Sprintf("snap %dx%d %d %d", grid.Cols, grid.Rows, from, to)})
			}
			return q
		}
		p.Choices = append(p.Choices, Choice{Key: fmt.Sprint(from), Shown: fmt.Sprintf("1-%d", cells), Does: fmt.Sprintf("from that cell of %d by %d, then to which", grid.Cols, grid.Rows), Next: next})
	}
	return p
}

// side asks for the side of a part.
func (a About) side(part, word string) Prompt {
	p := Prompt{Lead: a.lead()}
	if word != "" {
		p.Lead = a.lead("to", part, "at")
	}
	for _, key := range arrows {
		p.Choices = append(p.Choices, Choice{Key: key, Shown: "arrows", Does: part + " at that side", Line: "snap " + sides[key] + word})
	}
	p.Choices = append(p.Choices, Choice{Key: "m", Does: "the middle", Line: "snap middle" + word})
	return p
}

// letter asks for a letter: of what was given one, or any to be given.
func letter(a About) Prompt {
	p := Prompt{Lead: a.lead(), Empty: "no letter was given yet: V on the screens gives one"}
	if a.Verb.Name != "pin" {
		p.Lead = a.Verb.Name + " to"
	}
	for l := byte('a'); l <= 'z'; l++ {
		key := string(rune(l))
		c := Choice{Key: key, Line: a.Verb.Name + " " + key}
		switch {
		case a.Verb.Name == "pin":
			c.Shown, c.Does = "a-z", "jumps to its app from now on"
		default:
			c.Does = given(a.Desk, l) // of another the command says what is the matter
		}
		p.Choices = append(p.Choices, c)
	}
	if a.Verb.Name == "pin" {
		p.Choices = append(p.Choices, Choice{Key: "Tab", Does: "a letter that jumps to this workspace", Next: func() Prompt { return pinWorkspace(a) }})
		for l := 'A'; l <= 'Z'; l++ {
			p.Choices = append(p.Choices, Choice{Key: string(l), Shown: "A-Z", Does: "jumps to this one window", Line: "pin " + strings.ToLower(string(l)) + " window"})
		}
	}
	return p
}

// plates asks for the letter of a plate, which is laid.
func plates(a About) Prompt {
	p := Prompt{Lead: "lay the plate", Empty: "several plates begin alike: V on the screen of plates gives one a letter"}
	if len(a.Desk.PlateList()) == 0 {
		p.Empty = "there are no plates yet: S saves the first"
	}
	by := plateKeys(a.Desk)
	for l := byte('a'); l <= 'z'; l++ {
		c := Choice{Key: string(rune(l)), Line: "plate lay " + string(rune(l))} // of none the command says so
		if plate := by[l]; plate != nil {
			c.Does, c.Line = fmt.Sprintf("%s (%s)", plate.Name, plate.Size), fmt.Sprintf("plate lay %q", plate.Name)
		}
		p.Choices = append(p.Choices, c)
	}
	p.Choices = append(p.Choices, Choice{Key: "S", Does: "save the desk", Text: "plate save "}, Choice{Key: "/", Does: "by name", Text: "plate lay "})
	return p
}

// plateKeys are the plates by the letters that lay them: those they were given, and that with
// which the name of one alone begins. Another plate may take such a letter away, but never has
// it lay another one.
func plateKeys(d *desk.Desk) map[byte]*desk.Plate {
	by := map[byte]*desk.Plate{}
	alike := map[byte]int{}
	for _, plate := range d.PlateList() {
		if plate.Letter != 0 {
			by[plate.Letter] = plate
		} else if plate.Name != desk.BackPlate {
			alike[strings.ToLower(plate.Name)[0]]++
		}
	}
	for _, plate := range d.PlateList() {
		if first := strings.ToLower(plate.Name)[0]; plate.Letter == 0 && alike[first] == 1 && by[first] == nil {
			by[first] = plate
		}
	}
	return by
}

// pinWorkspace asks for the letter of a workspace.
func pinWorkspace(a About) Prompt {
	p := Prompt{Lead: "pin workspace " + a.Desk.Title(a.Workspace) + " to"}
	for l := 'a'; l <= 'z'; l++ {
		p.Choices = append(p.Choices, Choice{Key: string(l), Shown: "a-z", Does: "jumps there from now on", Line: fmt.Sprintf("pin %c workspace", l)})
	}
	return p
}

// given is what a letter was given to, in words; empty for nothing.
func given(d *desk.Desk, l byte) string {
	if ws := d.Pinned(l); len(ws) > 0 {
		if ws[0].App == "" {
			return ws[0].Label()
		}
		return ws[0].App
	}
	if i := d.PinnedWorkspace(l); i >= 0 {
		return "workspace " + d.Title(i)
	}
	if q := d.Settings.Pins[l]; q != nil {
		return strings.Trim(strings.TrimPrefix(lang.PrintQuery(q), "app:="), `"`)
	}
	return ""
}
