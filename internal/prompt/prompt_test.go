package prompt

import (
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/testkit/desks"
)

// samples are the demo's, and one with little on it.
func samples(t *testing.T) (all []*desk.Desk) {
	t.Helper()
	demo, err := scene.Demo()
	if err != nil {
		t.Fatal(err)
	}
	small, err := scene.Read(strings.NewReader(`{"format": "zealous-atlas/scene/1", "monitors": [{"letter": "A", "rect": [0, 0, 1000, 800]}], "workspaces": [{}], "windows": []}`))
	if err != nil {
		t.Fatal(err)
	}
	return []*desk.Desk{demo, small}
}

// everyEnd follows every key of a prompt to the commands it leads to.
func everyEnd(t *testing.T, p Prompt, depth int, end func(c Choice)) {
	t.Helper()
	seen := map[string]bool{}
	for _, c := range p.Choices {
		if seen[c.Key] {
			t.Errorf("%s: %s means two things", p.Lead, c.Key)
		}
		seen[c.Key] = true
		if c.Does == "" && p.Empty == "" || strings.ContainsAny(c.Does, "\n\x1b") {
			t.Errorf("%s: %s says %q", p.Lead, c.Key, c.Does)
		}
		switch {
		case c.Next != nil && depth < 3:
			everyEnd(t, c.Next(), depth+1, end)
		case c.Next == nil:
			end(c)
		}
	}
}

// Every key of every prompt leads to a command of its verb, or to the line.
func TestEveryKey(t *testing.T) {
	asked := 0
	for _, d := range samples(t) {
		for _, v := range desk.Verbs() {
			a := About{Desk: d, Verb: v, Words: "#1 Reel", Workspace: d.Current(), Letter: d.At}
			if w := d.Window(d.Focus); w != nil {
				a.App = w.App
			}
			p, ok := For(a)
			if _, is := Asked(v.Name); is && !ok && v.Asks != desk.AskApp && v.Asks != desk.AskSteps && v.Asks != desk.AskLetter && v.Asks != desk.AskPlate {
				t.Errorf("%s asks, and nothing can be answered", v.Name)
			}
			everyEnd(t, p, 0, func(c Choice) {
				asked++
				if c.Screen != "" {
					if !IsScreen(c.Screen) {
						t.Errorf("%s: %s brings up %q", v.Name, c.Key, c.Screen)
					}
					return
				}
				if c.Text != "" {
					if !strings.HasPrefix(c.Text, v.Name+" ") {
						t.Errorf("%s: %s types %q", v.Name, c.Key, c.Text)
					}
					return
				}
				if got, err := lang.ParseCommand(c.Line); err != nil || got.Verb != v.Name {
					t.Errorf("%s: %s stands for %q: %v", v.Name, c.Key, c.Line, err)
				}
			})
		}
	}
	if asked < 200 {
		t.Errorf("only %d keys lead to something", asked)
	}
}

// What is listed can be done now, and all that can be done is listed. Where nothing can be,
// that has a reason.
func TestOffered(t *testing.T) {
	all := samples(t)
	for _, line := range []string{"go 6", "go 5", "go 3", "pull B", "rescue of is:stray"} {
		all = append(all, desks.After(t, all[0], line))
	}
	listed, left := 0, 0
	for _, d := range all {
		for _, v := range desk.Verbs() {
			a := About{Desk: d, Verb: v, Workspace: d.Current(), Letter: d.At, Means: func(c desk.Command) desk.Command { return c }}
			if w := d.Window(d.Focus); w != nil && v.Windows {
				a.App, a.Words = w.App, w.Label()
			}
			p, _ := For(a)
			rows := " "
			for _, r := range p.Rows() {
				rows += rowKeys.Replace(r.Keys) + " "
			}
			possible, tried := 0, 0
			for _, c := range p.Choices {
				ends, works := 0, 0
				everyEnd(t, Prompt{Choices: []Choice{c}, Empty: p.Empty}, 0, func(c Choice) {
					if c.Line == "" || c.Does == "" {
						return
					}
					ends++
					if cmd, err := lang.ParseCommand(c.Line); err != nil {
						t.Error(err)
					} else if _, _, err := d.Apply(cmd); err == nil {
						works++
					}
				})
				if is := strings.Contains(rows, " "+Shown(c.Key)+" "); ends > 0 && is != (works > 0) {
					t.Errorf("%s with %s: %s is listed: %t; of the %d commands it leads to %d can be done; listed are%s", v.Name, a.Words, c.Key, is, ends, works, rows)
				}
				tried, possible = tried+ends, possible+works
			}
			if refused := p.Refused() != nil; refused != (tried > 0 && possible == 0) || refused && rows != " " {
				t.Errorf("%s with %s is refused with %v; of %d commands %d can be done; listed are%s", v.Name, a.Words, p.Refused(), tried, possible, rows)
			}
			listed, left = listed+len(strings.Fields(rows)), left+tried-possible
		}
	}
	if listed < 1000 || left < 300 {
		t.Errorf("only %d keys are listed, and %d commands cannot be done", listed, left)
	}
}

// rowKeys has each key of a row by itself.
var rowKeys = strings.NewReplacer("arrows", "← → ↑ ↓", "A or B", "A B", "1-9", spaced("123456789"),
	"a-z", spaced("abcdefghijklmnopqrstuvwxyz"), "A-Z", spaced("ABCDEFGHIJKLMNOPQRSTUVWXYZ"))

func spaced(letters string) string { return strings.Join(strings.Split(letters, ""), " ") }

// Keys in a row that are alike are listed once.
func TestRows(t *testing.T) {
	d := samples(t)[0]
	v, _ := desk.FindVerb("snap")
	p, _ := For(About{Desk: d, Verb: v, Words: "#1", Letter: 'A'})
	var keys []string
	for _, r := range p.Rows() {
		keys = append(keys, r.Keys)
	}
	if got, want := strings.Join(keys, "|"), "arrows|m|t|T|q|Q|y u b n|g|1-9"; got != want {
		t.Errorf("the keys after p are listed as %s, want %s", got, want)
	}
	if c, ok := p.Find("8", "*", "Left"); !ok || c.Key != "8" {
		t.Errorf("of several names that of the first that means something counts, not %q", c.Key)
	}
}

// Letters that stand for arrows do so where they mean nothing else, and what is said of the
// places means the same after every verb that asks for one.
func TestPlaces(t *testing.T) {
	d := samples(t)[0]
	for _, c := range []struct{ verb, key, line string }{
		{"go", ".", "go next"}, {"send", ",", "send prev"}, {"carry", ".", "carry next"}, {"send", "h", "send left"}, {"send", "b", "send back"},
		{"rescue", "Return", "rescue"}, {"rescue", "2", "rescue to 2"}, {"go", "n", "go new"}, {"snap", "l", "snap right"},
	} {
		v, _ := desk.FindVerb(c.verb)
		p, _ := For(About{Desk: d, Verb: v, Words: "#1", Letter: 'A'})
		if got, ok := p.Find(c.key); !ok || got.Line != c.line {
			t.Errorf("%s %s stands for %q, want %q", c.verb, c.key, got.Line, c.line)
		}
		if _, ok := p.Find("/"); !ok && c.verb != "snap" {
			t.Errorf("%s has no way to name a place in words", c.verb)
		}
	}
}

func TestAsked(t *testing.T) {
	for command, want := range map[string]bool{
		"send": true, "send 3": false, "snap": true, "add": false, "rename": true, "remove": false, "rescue": true, "float": false,
		"atlas": false, "": false, "fly": false, "open": true, "nudge": true, "split": true, "share": true, "above": true, "focus": true, "restore": false, "run": false,
	} {
		if _, got := Asked(command); got != want {
			t.Errorf("%q asks: %v, want %v", command, got, want)
		}
	}
}

// Everything that keys can stand for says what it does.
func TestDoes(t *testing.T) {
	for _, s := range Screens() {
		if Does(s.Name, false) == "" {
			t.Errorf("the screen %s does not say what it is", s.Name)
		}
	}
	for _, l := range Lists() {
		if Does(l, true) == Does(l, false) {
			t.Errorf("the list %s says what the screen of that name does", l)
		}
	}
}

// A plate without a letter is laid by the first of its name, as long as no other begins alike;
// a letter that was given goes before that.
func TestPlateKeys(t *testing.T) {
	d := samples(t)[0].WithPlates(map[string]*desk.Plate{})
	v, _ := desk.FindVerb("plate")
	lines := func(plates ...desk.Plate) string {
		all := map[string]*desk.Plate{}
		for _, p := range plates {
			all[p.Name] = &p
		}
		p, _ := For(About{Desk: d.WithPlates(all), Verb: v})
		var keys []string
		for _, c := range p.Choices {
			if c.Key >= "a" && c.Key <= "z" && c.Does != "" {
				keys = append(keys, c.Key+" "+c.Line)
			}
		}
		return strings.Join(keys, ", ")
	}
	for _, c := range []struct {
		plates []desk.Plate
		want   string
	}{
		{nil, ""},
		{[]desk.Plate{{Name: "Day"}, {Name: "Late show"}, {Name: desk.BackPlate}}, `d plate lay "Day", l plate lay "Late show"`},
		{[]desk.Plate{{Name: "Day"}, {Name: "dusk"}, {Name: "Pair"}}, `p plate lay "Pair"`},
		{[]desk.Plate{{Name: "Day"}, {Name: "Pair", Letter: 'd'}}, `d plate lay "Pair"`},
		{[]desk.Plate{{Name: "7 rooms"}, {Name: "Übung"}}, ""},
	} {
		if got := lines(c.plates...); got != c.want {
			t.Errorf("%v: %s, want %s", c.plates, got, c.want)
		}
	}
}
