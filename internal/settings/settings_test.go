package settings

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
)

func load(t *testing.T, text string) (Settings, error) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "settings.toml")
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	s, err := Load(path)
	if err != nil && !strings.HasPrefix(err.Error(), path+":") {
		t.Errorf("%v does not begin with the file", err)
	}
	return s, err
}

func TestDefault(t *testing.T) {
	s := Default()
	bounds, err := s.Bounds()
	if s.Theme() != "night" || choice(t, "desk.count").Get(s) != "fixed" || s.Border() != 2 || len(bounds) != 114 || err != nil {
		t.Errorf("the usual settings are %+v, %v", s, err)
	}
	for chord := range s.Chords {
		if c, err := ParseKeys(chord); err != nil || c.String() != chord {
			t.Errorf("%s reads as %s, %v", chord, c, err)
		}
	}
	for _, b := range bounds {
		if err := checkChord(b.Keys.String(), b.Command); err != nil || b.Hidden {
			t.Errorf("%s stands for %s: %v, hidden %v", b.Keys, b.Command, err, b.Hidden)
		}
	}
	if same, err := load(t, Example()); err != nil || len(same.Chords) != len(s.Chords) {
		t.Errorf("the example reads as %+v, %v", same, err)
	}
	if none, err := Load(filepath.Join(t.TempDir(), "none.toml")); err != nil || none.Theme() != "night" {
		t.Errorf("without a file: %+v %v", none, err)
	}
}

// boundsOf are the chords of settings, and what each stands for.
func boundsOf(t *testing.T, s Settings) map[string]string {
	t.Helper()
	bounds, err := s.Bounds()
	if err != nil {
		t.Fatal(err)
	}
	all := map[string]string{}
	for _, b := range bounds {
		all[b.Keys.String()] = b.Command
	}
	return all
}

// The atlas key stands for its modifiers in every chord that is written with it; a row for
// a class stands for each of its keys, and a row for one of them goes before it.
func TestAtlasKey(t *testing.T) {
	for _, c := range []struct {
		text string
		want map[string]string // empty for no such chord
	}{
		{"", map[string]string{"Super+3": "go 3", "Super+Left": "focus left", "Super+Shift+Up": "move up", "Super+F": "float", "Super+Shift+F": "fullscreen", "Super+Z e": "even", "hold Super+Tab": "recent", "Alt+3": ""}},
		{"[keeper]\natlas_key = \"Alt\"", map[string]string{"Alt+3": "go 3", "Alt+Ctrl+3": "", "Ctrl+Alt+3": "carry 3", "Super+3": "", "Alt+F": "float"}},
		{"[keeper]\natlas_key = \"Super+Alt\"", map[string]string{"Super+Alt+3": "go 3", "Super+3": ""}},
		{"[chords]\n\"Super+3\" = \"float\"\n\"Atlas+F\" = \"\"\n\"Super+4\" = \"\"", map[string]string{"Super+3": "float", "Super+2": "go 2", "Super+F": "", "Super+4": ""}},
		{"[chords]\n\"Atlas+Alt+letter\" = \"jump letter\"\n\"Atlas+Alt+Q\" = \"undo\"", map[string]string{"Super+Alt+R": "jump r", "Super+Alt+Q": "undo"}},
		{"[keeper]\natlas_key = \"Hyper\"\n[chords]\n\"Atlas+digit\" = \"\"", map[string]string{"Hyper+3": "", "Hyper+Shift+3": "send 3"}},
	} {
		s, err := load(t, c.text)
		if err != nil {
			t.Errorf("%q: %v", c.text, err)
			continue
		}
		bounds := boundsOf(t, s)
		for chord, command := range c.want {
			if bounds[chord] != command {
				t.Errorf("%q: %s stands for %q, want %q", c.text, chord, bounds[chord], command)
			}
		}
	}
	faulty(t, map[string]string{
		"[keeper]\natlas_key = \"Ctrl+Alt\"":                                                      "2:1: Atlas+, and Atlas+Ctrl+, are the same chord, Ctrl+Alt+,: choose another atlas_key",
		"[keeper]\nborder_focused = \"amber\"":                                                    "2:1: border_focused must be a colour such as \"#d9a441\"",
		"[keeper]\nborder_urgent = \"#12345\"":                                                    "2:1: ",
		"[keeper]\nborder_other = \"#12345g\"":                                                    "2:1: ",
		"[keeper]\natlas_key = \"Shift\"":                                                         "2:1: ",
		"[keeper]\natlas_key = \"Ctrl\"":                                                          "2:1: ",
		"[keeper]\natlas_key = \"Super+Alt+Ctrl\"":                                                "2:1: ",
		"[keeper]\natlas_key = \"Super+Super\"":                                                   "2:1: ",
		"[chords]\n\"Atlas+G\" = \"float\"\n\"Super+G\" = \"close\"":                              "Atlas+G and Super+G are the same chord, Super+G",
		"[chords]\n\"Atlas+Alt+digit\" = \"float\"":                                               "which has no digit in it",
		"[chords]\n\"Atlas+Alt+digit\" = \"go letter\"":                                           "which has no digit in it",
		"[chords]\n\"Atlas+Alt+letter\" = \"jump letter\"\n\"Super+Alt+letter\" = \"pin letter\"": "are the same chord",
	})
}

func TestLoad(t *testing.T) {
	s, err := load(t, "theme = \"day\"\n[desk]\ncount = \"growing\"\ngap = 8\n[chords]\n\"super+shift+1\" = \"\"\n\"Ctrl+Alt+Return\" = \"add\"\n")
	if err != nil {
		t.Fatal(err)
	}
	if d := s.ForDesk(); !d.Growing || d.Gap != 8 || s.Theme() != "day" || s.Border() != 2 {
		t.Errorf("read as %+v", s)
	}
	bounds := boundsOf(t, s)
	if _, there := bounds["Super+Shift+1"]; there || bounds["Ctrl+Alt+Return"] != "add" || bounds["Super+1"] != "go 1" || bounds["Super+Shift+2"] != "send 2" {
		t.Errorf("the chords are %v", bounds)
	}
}

func TestGrids(t *testing.T) {
	s, err := load(t, "[desk]\nedge = true\ngrid = \"3x3\"\n[grids]\nB = \"6x2\"\n[[rules]]\nmatch = \"a\"\nlayout = \"tabs\"\n")
	if err != nil {
		t.Fatal(err)
	}
	d := s.ForDesk()
	if !d.EdgeGoes || d.Grids[0] != (desk.GridSize{Cols: 3, Rows: 3}) || d.Grids['B'] != (desk.GridSize{Cols: 6, Rows: 2}) || d.Rules[0].Layout != "tabs" {
		t.Errorf("for the desk they are %+v", d)
	}
}

// faulty holds that texts are refused, with words that name the fault.
func faulty(t *testing.T, faults map[string]string) {
	t.Helper()
	for text, want := range faults {
		if _, err := load(t, text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %q", text, err, want)
		}
	}
}

func TestFaults(t *testing.T) {
	faulty(t, map[string]string{
		"theme = \"dusk\"":                            ":1:1: theme must be \"night\" or \"day\"",
		"[desk]\n\n  gap = -1":                        ":3:3: gap must be 0 to 500",
		"[desk]\ngap = \"x\"":                         ":2:",
		"[desk]\ncount = 3":                           ":2:",
		"[desk]\nmode = \"both\"":                     ":2:1: mode must be",
		"[desk]\nsize = 3":                            ":2:1: there is no setting \"desk.size\"",
		"[dock]\nx = 1":                               "there is no setting",
		"gap = 8":                                     `there is no setting "gap": did you mean desk.gap?`,
		"[keeper]\ngap = 8":                           "did you mean desk.gap?",
		"[desk]\ngaps = 8":                            "did you mean desk.gap?",
		"[[rule]]\nmatch = \"a\"":                     "did you mean rules?",
		"them = \"day\"":                              "did you mean theme?",
		"[desk]\ngrid = \"4 by 2\"":                   ":2:1: grid must be columns and rows",
		"[desk]\nlayout = \"heap\"":                   ":2:1: layout must be \"tree\" or",
		"[grids]\nA = \"4x2\"\nb = \"4x2\"":           ":3:1: a grid is given to a monitor's letter",
		"[grids]\nA = \"21x2\"":                       ":2:1: \"21x2\" is no grid",
		"[[rules]]\nmatch = \"a\"\nlayout = \"heap\"": ":3:1: layout must be one of tree, columns",
		"theme = ":                                    ":1:",
		"[keeper]\nborder = 0":                        ":2:1: border must be 1 to 32",
		"[keeper]\nterminal = \" \"":                  ":2:1: terminal must be",
		"[chords]\n\"Super+1\" = \"fly 3\"":           ":2:1: Super+1 stands for \"fly 3\": column 1",
		"[chords]\n\"Hyber+1\" = \"go 1\"":            "no modifier",
		"[chords]\n\"Super+Nokey\" = \"go 1\"":        "no key that is known",
		"[chords]\n\"Shift+1\" = \"go 1\"":            "needs Atlas, Super, Hyper, Meta, Ctrl or Alt",
		"[chords]\n\"Super+1\" = 1":                   ":2:",
		"\xff\xfe":                                    ":1:",
	})
}

func TestChords(t *testing.T) {
	for text, want := range map[string]string{
		"super+a": "Super+A", "Shift+Super+3": "Super+Shift+3", "alt+ctrl+pageup": "Ctrl+Alt+PageUp",
		"Super++": "Super++", "Super+-": "Super+-", "Super+F12": "Super+F12",
	} {
		if c, err := ParseChord(text); err != nil || c.String() != want || c.Keysym == 0 {
			t.Errorf("%s reads as %s (%#x), %v", text, c, c.Keysym, err)
		}
	}
	for _, text := range []string{"", "+", "Super+", "a", "Super+Shift", "Super+aa"} {
		if c, err := ParseChord(text); err == nil {
			t.Errorf("%q reads as %+v", text, c)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(Example()))
	f.Add([]byte("[chords]\n\"Super+1\"=\"\""))
	f.Add([]byte("[keeper]\nchords=\"few\"\n[chords]\n\"Atlas+Q s digit\"=\"send digit\"\n\"hold Atlas+F1\"=\"recent\"\n[corners]\ntopleft=\"bare\""))
	usual := Default()
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := parse(data, usual, nil)
		if err == nil && (s.ForDesk().Gap < 0 || s.Border() < 1) {
			t.Errorf("%q is read as %+v", data, s)
		}
	})
}

// A display that was never kept begins with the workspaces that the settings name.
func TestFresh(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"", `[""]`},
		{"[desk]\nworkspaces = 3", `["" "" ""]`},
		{"[desk]\nworkspaces = 3\nnames = [\"Programme\", \"Box office\"]", `["Programme" "Box office" ""]`},
		{"[desk]\nnames = [\"Programme\", \"Press\"]", `["Programme" "Press"]`},
		{"[desk]\nnames = [\"Press\", \"Press\"]", `2:1: two workspaces cannot be called "Press"`},
		{"[desk]\nnames = [\"\"]", `2:1: "" is no name for a workspace`},
		{"[desk]\nnames = [3]", `2:1: names must be a list of texts`},
		{"[desk]\nworkspaces = 0", `2:1: workspaces must be 1 to 99`},
		{"[plates]\nlay = [\"a/b\"]", `2:1: "a/b" is no name of a plate`},
		{"[plates]\nlay = [3]", `2:1: lay must be a list of the names of plates`},
		{"[plates]\nstart = \"a/b\"", `2:1: start must be the name of a plate`},
		{"[plates]\nstart = \"Day 2\"\nlay = [\"Day\"]", `[""]`},
		{"desk = 3", `1:1: there is no setting "desk"`},
	} {
		s, err := parse([]byte(c.text), Default(), nil)
		got := fmt.Sprintf("%q", s.Fresh())
		if err != nil {
			got = err.Error()
		}
		if !strings.HasPrefix(got, c.want) {
			t.Errorf("%q: %s, want %s", c.text, got, c.want)
		}
	}
}

// What has changed in the settings is said with how it was.
func TestChanges(t *testing.T) {
	read := func(text string) Settings {
		t.Helper()
		s, err := parse([]byte(text), Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	for _, c := range []struct{ was, now, want string }{
		{"", "", ""},
		{"", "[desk]\ngap = 12", "Desk.gap is 12 now, it was 0."},
		{"[desk]\ngap = 12", "[desk]\ngap = 0", "Desk.gap is 0 now, it was 12."},
		{"", "theme = \"day\"\n[desk]\nwrap = true", "Theme is day now, it was night; desk.wrap is true now, it was false."},
		{"", "[chords]\n\"Super+F11\" = \"float\"", "Super+F11 stands for float now, it was nothing."},
		{"[pins]\nr = \"app:ledger\"", "", "r jumps to nothing now, it was app:ledger."},
		{"", "[[rules]]\nmatch = \"app:radio\"\nfloat = true", "1 rule now, before 0 rules."},
	} {
		got := read(c.now).Changes(read(c.was))
		if c.want != "" {
			c.want = strings.ToUpper(c.want[:1]) + c.want[1:]
		}
		if got != c.want {
			t.Errorf("from %q to %q: %q, want %q", c.was, c.now, got, c.want)
		}
	}
}

func TestCorners(t *testing.T) {
	s, err := load(t, "[corners]\nbottomright = \"strays\"\ntopleft = \"\"\n")
	if err != nil || s.Corners["bottomright"] != "strays" || len(Default().Corners) != 0 {
		t.Errorf("the corners are %v, %v", s.Corners, err)
	}
	faulty(t, map[string]string{
		"[corners]\nbottom = \"strays\"":                                   "a corner is",
		"[corners]\nbottomright = \"close\"":                               "only shows something",
		"[corners]\nbottomright = \"nudge\"":                               "only shows something",
		"[corners]\nbottomright = 3":                                       "must be a screen in quotes",
		"[keeper]\nchords = \"all\"":                                       "chords must be",
		"[keeper]\ncard = 9000":                                            "card must be 0 to 5000",
		"[chords]\n\"hold Atlas+D\" = \"send 3\"":                          "cannot be held",
		"[chords]\n\"hold Atlas+D d\" = \"bare\"":                          "cannot be held",
		"[chords]\n\"Atlas+Q Escape\" = \"bare\"":                          "no key that can follow",
		"[chords]\n\"Atlas+Q" + strings.Repeat(" s", 33) + "\" = \"bare\"": "too many",
		"[chords]\n\"Atlas+digit letter\" = \"jump letter\"":               "more than one",
	})
}

// Rows that are the same, that hide each other, and sets of usual ones.
func TestSequenceRows(t *testing.T) {
	for _, c := range []struct {
		text   string
		want   map[string]string // empty for no such one
		hidden string
	}{
		{"", map[string]string{"Super+Z k": "kill", "Super+Z": "", "hold Super+Tab": "recent"}, ""},
		{"[chords]\n\"Atlas+Z\" = \"float\"", map[string]string{"Super+Z": "float", "Super+Z k": ""}, ""},
		{"[chords]\n\"Atlas+Z k\" = \"\"", map[string]string{"Super+Z k": "", "Super+Z e": "even"}, ""},
		{"[chords]\n\"Atlas+F s 3\" = \"send 3\"", map[string]string{"Super+F": "", "Super+F s 3": "send 3"}, ""},
		{"[chords]\n\"Atlas+Tab\" = \"go back\"", map[string]string{"Super+Tab": "go back", "hold Super+Tab": ""}, ""},
		{"[chords]\n\"Atlas+Q s\" = \"float\"\n\"Atlas+Q s 3\" = \"send 3\"", map[string]string{"Super+Q s": "float"}, "Super+Q s 3"},
		{"[chords]\n\"Atlas+Q s digit\" = \"send digit\"\n\"atlas+q s 4\" = \"float\"", map[string]string{"Super+Q s 3": "send 3", "Super+Q s 4": "float"}, ""},
		{"[keeper]\nchords = \"few\"", map[string]string{"Super+3": "go 3", "Super+Space": "atlas", "Super+X": "", "Super+Z k": ""}, ""},
		{"[keeper]\nchords = \"none\"\n[chords]\n\"Atlas+X\" = \"close\"", map[string]string{"Super+3": "", "Super+X": "close"}, ""},
	} {
		s, err := load(t, c.text)
		if err != nil {
			t.Errorf("%q: %v", c.text, err)
			continue
		}
		got := boundsOf(t, s)
		for keys, command := range c.want {
			if got[keys] != command {
				t.Errorf("%q: %s stands for %q, want %q", c.text, keys, got[keys], command)
			}
		}
		bounds, _ := s.Bounds()
		for _, b := range bounds {
			if b.Hidden != (b.Keys.String() == c.hidden) {
				t.Errorf("%q: %s is hidden: %v", c.text, b.Keys, b.Hidden)
			}
		}
	}
}

// The usual chords rhyme with the keys of the screens, and need no sign; those that depart
// from that say why.
func TestUsualChordsRhyme(t *testing.T) {
	keyOf := map[string]string{}
	for _, v := range desk.Verbs() {
		keyOf[v.Name] = v.Key
	}
	for _, r := range usualRows(usualChords) {
		k, err := ParseKeys(r.keys)
		if err != nil || k.String() != r.keys {
			t.Errorf("%s reads as %s, %v", r.keys, k, err)
		}
		last := k.Chord.Key
		if words := strings.Fields(k.After); len(words) > 0 {
			last = words[len(words)-1]
		}
		if !isLetter(last[0]) && (r.why == "" || !strings.Contains(".,", last)) { // these two have keys of their own nearly everywhere
			t.Errorf("%s needs the sign %s", r.keys, last)
		}
		key := keyOf[r.command]
		shifted := key != strings.ToLower(key)
		if rhymes := key != "" && k.After == "" && strings.EqualFold(key, k.Chord.Key) && shifted == k.Chord.Shift && !k.Chord.Ctrl; key != "" && !rhymes && r.why == "" {
			t.Errorf("%s stands for %s, whose key is %s, and does not say why", r.keys, r.command, key)
		}
	}
	for _, command := range []string{"close", "remove", "add", "undo", "open", "keys", "atlas", "find", "strays"} {
		if !slices.ContainsFunc(usualRows(usualChords), func(r usualRow) bool { return r.command == command }) {
			t.Errorf("%s has no chord", command)
		}
	}
}

// What keys would take something from is told: a row, one key of a class, or the same class.
func TestClaimed(t *testing.T) {
	s, err := load(t, "[chords]\n\"Atlas+Q s 3\" = \"send 3\"\n")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		keys, row string // empty for free
		whole     bool
	}{
		{"Atlas+M", "Atlas+M", true}, {"Super+M", "Atlas+M", true}, {"Atlas+3", "Atlas+digit", false}, {"Atlas+Shift+digit", "Atlas+Shift+digit", true},
		{"Ctrl+Alt+digit", "", false}, {"Atlas+F9", "", false}, {"Atlas+Q", "Atlas+Q s 3", true}, {"Atlas+Q s", "Atlas+Q s 3", true}, {"Atlas+M x", "Atlas+M", true},
		{"Atlas+Tab", "hold Atlas+Tab", true}, {"Atlas+Q g", "", false},
	} {
		k, err := ParseKeys(c.keys)
		if err != nil {
			t.Fatal(err)
		}
		if b, whole, is := s.Claimed(k); is != (c.row != "") || b.Row != c.row || whole != c.whole {
			t.Errorf("%s is claimed by %q, whole %v, %v; want %q", c.keys, b.Row, whole, is, c.row)
		}
	}
}

// The rows that are not at fault are in force; those that are keep what they had, and one
// about privacy turns off what it protects.
func TestFaultyRows(t *testing.T) {
	const before = "theme = \"day\"\n[desk]\ngap = 12\n[survey]\non = true\n[chords]\n\"Atlas+F5\" = \"float\"\n[pins]\nr = \"app:radio\"\n[[rules]]\nmatch = \"app:till\"\nfloat = true\n"
	was, err := parse([]byte(before), Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	get := func(s Settings, name string) string { return s.values[name] }
	for _, c := range []struct {
		text   string
		faults string
		start  map[string]string // values in force at the start
		reload map[string]string // and after a reload
	}{
		{"theme = \"dusk\"\n[desk]\ngap = 7\n", "1:1:", map[string]string{"theme": "night", "desk.gap": "7"}, map[string]string{"theme": "day", "desk.gap": "7"}},
		{"[desk]\ngap = -3\nwrap = true\n", "2:1:", map[string]string{"desk.gap": "0", "desk.wrap": "true"}, map[string]string{"desk.gap": "12", "desk.wrap": "true"}},
		{"[desk]\ngap = \nwrap = true\n", "2:", map[string]string{"desk.gap": "0", "desk.wrap": "true"}, map[string]string{"desk.gap": "12", "desk.wrap": "true"}},
		{"[survey]\non = true\ndays = -1\n", "3:1:", map[string]string{"survey.on": "false"}, map[string]string{"survey.on": "false"}},
		{"[survey]\non = flase\n[desk]\ngap = 3\n", "2:", map[string]string{"survey.on": "false", "desk.gap": "3"}, map[string]string{"survey.on": "false", "desk.gap": "3"}},
		{"theme = \"day\"\n[desk\ngap = 3\n", "2:", map[string]string{"theme": "day"}, map[string]string{"theme": "day"}},
		{"\x00", "1:", map[string]string{"theme": "night", "survey.on": "false"}, map[string]string{"survey.on": "false"}},
	} {
		s, err := parse([]byte(c.text), Default(), nil)
		if err == nil || !strings.HasPrefix(err.Error(), c.faults) {
			t.Errorf("%q: %v, want a fault at %s", c.text, err, c.faults)
		}
		again, _ := parse([]byte(c.text), Default(), &was)
		for _, at := range []struct {
			when string
			s    Settings
			want map[string]string
		}{{"at the start", s, c.start}, {"after a reload", again, c.reload}} {
			for name, want := range at.want {
				if got := get(at.s, name); got != want {
					t.Errorf("%q: %s %s is %s, want %s", c.text, at.when, name, got, want)
				}
			}
		}
	}
	// Lists: a row of each at fault, and one that is not.
	text := "[chords]\n\"Atlas+F5\" = \"fly\"\n\"Atlas+Period\" = \"go next\"\n\"Atlas+F6\" = \"maximise\"\n\"Super+F6\" = \"turn\"\n[pins]\nr = \"(\"\nq = \"app:till\"\n[[rules]]\nmatch = \"(\"\n[[rules]]\nmatch = \"app:plan\"\nsticky = true\n"
	s, err := parse([]byte(text), Default(), nil)
	var faults Faults
	if !errors.As(err, &faults) || len(faults) != 5 {
		t.Fatalf("the faults are %v", err)
	}
	if s.Chords["Atlas+F6"] != "maximise" || s.Chords["Super+F6"] != "" || s.Pins["q"] != "app:till" || s.Pins["r"] != "" || len(s.Rules) != 1 || !s.Rules[0].Sticky {
		t.Errorf("in force are %q, %q, %+v", s.Chords["Atlas+F6"], s.Pins, s.Rules)
	}
	s, _ = parse([]byte(text), Default(), &was)
	if s.Chords["Atlas+F5"] != "float" || s.Pins["r"] != "app:radio" || len(s.Rules) != 2 || s.Rules[0].Match != "app:till" {
		t.Errorf("after a reload are %q, %q, %+v", s.Chords["Atlas+F5"], s.Pins, s.Rules)
	}
}

// What is done every day needs as few keys as anywhere. A chord is one, each key after it one
// more, and one for what a verb asks.
func TestFewKeys(t *testing.T) {
	bounds := boundsOf(t, Default())
	presses := map[string]int{}
	for keys, command := range bounds {
		n := len(strings.Fields(strings.TrimPrefix(keys, "hold ")))
		if was, is := presses[command]; !is || n < was {
			presses[command] = n
		}
	}
	for _, c := range []struct {
		to       string
		commands []string
		asked    int // keys of the answer
		most     int
	}{
		{"a half", []string{"snap left", "snap right", "snap top", "snap bottom"}, 0, 1},
		{"the next workspace and the one before", []string{"go next", "go prev"}, 0, 1},
		{"a window there, staying", []string{"send next", "send prev"}, 0, 1},
		{"a window there, going along", []string{"carry next", "carry prev"}, 0, 1},
		{"wider, narrower", []string{"share +5", "share -5"}, 0, 1},
		{"equal tiles of the sheet", []string{"even all"}, 0, 2},
		{"gaps", []string{"gaps"}, 0, 2},
		{"another window of this app, another terminal", []string{"another", "another terminal"}, 0, 2},
		{"the group, and a verb", []string{"around"}, 1, 2},
		{"tabs or a pile of two tiles", []string{"group next tabs", "group next pile"}, 0, 2},
		{"all floating windows in steps", []string{"cascade of is:here is:floating"}, 0, 2},
		{"the focus over the edge", []string{"focus left", "focus right"}, 0, 1},
		{"swap, layout, a letter", []string{"swap", "layout", "jump"}, 1, 2},
		{"a new workspace", []string{"go"}, 1, 2},
	} {
		for _, command := range c.commands {
			if n, is := presses[command]; !is || n+c.asked > c.most {
				t.Errorf("%s: %s takes %d keys, want %d at most", c.to, command, n+c.asked, c.most)
			}
		}
	}
}

// Rows of the line that are at fault are told with their places, and the others work; one that
// starts a program is told where settings come from another computer.
func TestLineRows(t *testing.T) {
	file := `[[line]]
command = "loads"
every = "30s"
width = 12
click = "strays"
[[line]]
command = "mails --watch"
follow = true
side = "left"
[[line]]
command = "x"
every = "1ms"
[[line]]
command = "y"
colour = "red"
[[line]]
click = "fly away"
command = "z"
`
	s, err := parse([]byte(file), Default(), nil)
	want := []LineRow{{Command: "loads", Every: 30 * time.Second, Width: 12, Click: "strays"}, {Command: "mails --watch", Follow: true, Left: true}}
	if !slices.Equal(s.Line, want) {
		t.Errorf("the rows are %+v", s.Line)
	}
	for _, words := range []string{"12:1: every of a row of the line must be", `15:1: there is no "colour"`, "17:1: click of a row"} {
		if err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%q is not told: %v", words, err)
		}
	}
	good, _, _ := strings.Cut(file, "[[line]]\ncommand = \"x\"")
	lines, err := Programs([]byte(good))
	if err != nil || len(lines) != 2 {
		t.Errorf("it starts %v, %v", lines, err)
	}
	if left, err := WithoutPrograms([]byte(good)); err != nil || strings.Contains(string(left), "\ncommand") {
		t.Errorf("without programs it is %s, %v", left, err)
	}
}
