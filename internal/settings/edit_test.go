package settings

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func choice(t *testing.T, name string) Choice {
	t.Helper()
	for _, c := range Choices() {
		if c.Name() == name {
			return c
		}
	}
	t.Fatalf("there is no setting %s", name)
	return Choice{}
}

func TestSet(t *testing.T) {
	for _, c := range []struct{ name, before, key, value, after string }{
		{"a value in its place", "# mine\ntheme = \"night\" # dark\n[desk]\n  gap = 3 # narrow\n", "desk.gap", "8",
			"# mine\ntheme = \"night\" # dark\n[desk]\n  gap = 8 # narrow\n"},
		{"a text of another kind of quotes", "theme='night'", "theme", "day", "theme=\"day\""},
		{"a new line in its table", "[desk] # rules\ngap = 1 # one\n\n# chords\n[chords]\n", "desk.wrap", "true",
			"[desk] # rules\ngap = 1 # one\nwrap = true\n\n# chords\n[chords]\n"},
		{"an empty table at the end", "[desk]", "desk.mode", "separate", "[desk]\nmode = \"separate\"\n"},
		{"a new table", "theme = \"day\"", "keeper.words", "false", "theme = \"day\"\n\n[keeper]\nwords = false\n"},
		{"at the top", "# mine\n[desk]\ngap = 1\n", "theme", "day", "theme = \"day\"\n# mine\n[desk]\ngap = 1\n"},
		{"a dotted key", "desk.gap = 1\n", "desk.gap", "2", "desk.gap = 2\n"},
		{"no file", "", "desk.count", "growing", newFile + "\n[desk]\ncount = \"growing\"\n"},
		{"a chord written otherwise", "[chords]\n\"shift+super+1\" = \"send 2\" # two\n", "Super+Shift+1", "send 3", "[chords]\n\"shift+super+1\" = \"send 3\" # two\n"},
		{"a new chord", "[chords]\n\"Super+1\" = \"\"\n", "ctrl+alt+f", "float", "[chords]\n\"Super+1\" = \"\"\n\"Ctrl+Alt+F\" = \"float\"\n"},
	} {
		path := filepath.Join(t.TempDir(), "zealous-atlas", "settings.toml")
		if c.before != "" {
			os.MkdirAll(filepath.Dir(path), 0o700)
			os.WriteFile(path, []byte(c.before), 0o640)
		}
		var err error
		if strings.Contains(c.key, "+") {
			err = SetChords(path, [][2]string{{c.key, c.value}})
		} else {
			err = choice(t, c.key).Set(path, c.value)
		}
		after, _ := os.ReadFile(path)
		if err != nil || string(after) != c.after {
			t.Errorf("%s: %v\n%s\nwant\n%s", c.name, err, after, c.after)
		}
		if info, _ := os.Stat(path); c.before != "" && info.Mode().Perm() != 0o640 {
			t.Errorf("%s: the mode is %v now", c.name, info.Mode())
		}
	}
}

// What cannot be written leaves the file as it was.
func TestSetFails(t *testing.T) {
	for _, c := range []struct{ before, key, value, want string }{
		{"[desk]\ngap = 900\n", "theme", "day", "Mend that first"},
		{"desk = {gap = 1}\n", "desk.wrap", "true", "by hand"},
		{"theme = \"day\"\n", "theme", "dusk", `"night" or "day"`},
		{"theme = \"day\"\n", "desk.gap", "501", "0 to 500 pixels"},
		{"theme = \"day\"\n", "keeper.terminal", " ", "a command such as"},
		{"theme = \"day\"\n", "Super+Wibble", "go 1", "no key that is known"},
		{"theme = \"day\"\n", "Super+F", "flaot", "flaot"},
	} {
		path := filepath.Join(t.TempDir(), "settings.toml")
		os.WriteFile(path, []byte(c.before), 0o600)
		var err error
		if strings.Contains(c.key, "+") {
			err = SetChords(path, [][2]string{{c.key, c.value}})
		} else {
			err = choice(t, c.key).Set(path, c.value)
		}
		after, _ := os.ReadFile(path)
		if err == nil || !strings.Contains(err.Error(), c.want) || string(after) != c.before {
			t.Errorf("%s = %s: %v\n%s", c.key, c.value, err, after)
		}
	}
}

// The example, with every setting changed and changed back, is the example.
func TestSetExample(t *testing.T) {
	real := filepath.Join(t.TempDir(), "dotfiles.toml")
	link := filepath.Join(t.TempDir(), "settings.toml")
	os.WriteFile(real, []byte(Example()), 0o600)
	if err := os.Symlink(real, link); err != nil {
		t.Fatal(err)
	}
	for _, c := range Choices() {
		was := c.Get(Default())
		other := c.Next(was, 1)
		texts := map[string]string{"atlas_key": "Alt", "grid": "5x3", "start": "Office", "line_on": "A C", PrivateName: "vault"}
		if strings.HasPrefix(c.Key, "border_") {
			other = "#0aF93c"
		} else if texts[c.Key] != "" {
			other = texts[c.Key]
		} else if c.Text() {
			other = `vterm "a b" -e`
		}
		if other == was {
			t.Errorf("%s has no other value", c.Name())
		}
		if err := c.Set(link, other); err != nil {
			t.Error(err)
		}
		if s, err := Load(real); err != nil || c.Get(s) != other {
			t.Errorf("%s is %q, %v; want %q", c.Name(), c.Get(s), err, other)
		}
		if err := c.Set(link, was); err != nil {
			t.Error(err)
		}
	}
	if after, _ := os.ReadFile(real); string(after) != Example() {
		t.Errorf("the example is\n%s", after)
	}
}

func TestPinsAndRules(t *testing.T) {
	path := filepath.Join(t.TempDir(), "settings.toml")
	os.WriteFile(path, []byte("# mine\n"), 0o600)
	for _, err := range []error{
		SetPin(path, "r", `app:="Reel Ledger"`), SetPin(path, "t", "app:till"), SetPin(path, "t", ""),
		AddRule(path, Rule{Match: "app:radio", To: "6", Float: true}), AddRule(path, Rule{Match: "title:seats", To: `"Late night"`, Place: "first", Also: true}),
	} {
		if err != nil {
			t.Error(err)
		}
	}
	data, _ := os.ReadFile(path)
	want := "# mine\n\n[pins]\nr = \"app:=\\\"Reel Ledger\\\"\"\nt = \"\"\n\n[[rules]]\nfloat = true\nmatch = 'app:radio'\nto = '6'\n\n" +
		"[[rules]]\nalso = true\nmatch = 'title:seats'\nplace = 'first'\nto = '\"Late night\"'\n"
	if string(data) != want {
		t.Errorf("the file is\n%s\nwant\n%s", data, want)
	}
	s, err := Load(path)
	if d := s.ForDesk(); err != nil || len(d.Pins) != 1 || len(d.Rules) != 2 || d.Rules[0].To.N != 6 || !d.Rules[0].Float || d.Rules[1].To.Word != "Late night" {
		t.Errorf("read as %+v, %v", d, err)
	}
	for _, err := range []error{SetPin(path, "R", "all"), SetPin(path, "rr", "all"), SetPin(path, "r", "is:nothing"), AddRule(path, Rule{Match: "is:"}), AddRule(path, Rule{Match: "all", To: "next"}), AddRule(path, Rule{Match: "all", Place: "middle"})} {
		if err == nil {
			t.Error("what is at fault was written")
		}
	}
	if after, _ := os.ReadFile(path); string(after) != want {
		t.Errorf("the file was changed to\n%s", after)
	}
	for text, place := range map[string]string{
		"[pins]\nR = \"all\"\n": ":2:1:", "[pins]\nr = \"is:none\"\n": ":2:1:",
		"[[rules]]\nmatch = \"all\"\n[[rules]]\nmatch = \"all\"\n  to = \"left\"\n": ":5:3:", "[[rules]]\nmatch = \"all\"\n[[rules]]\nfloat = true\n": ":3:1:",
		"[[rules]]\nmatch = \"all\"\nplace = \"top\"\n": ":3:1:", "[[rules]]\nmatch = \"all\"\nwhere = 3\n": ":3:",
	} {
		if _, err := load(t, text); err == nil || !strings.Contains(err.Error(), place) {
			t.Errorf("%q: %v, want it at %s", text, err, place)
		}
	}
}

func TestRuleLine(t *testing.T) {
	for _, line := range []string{"app:radio then to 6 float", `title:"reel 3" or app:x then to "Late night" first also`, "is:floating then above sticky unfocused", "app:x then borderless", "all then leave", "all then to B3 last stray", "app:till then to 3 tabs also"} {
		r, err := ParseRule(line)
		if err != nil || r.Does() == "" {
			t.Errorf("%s: %v", line, err)
		}
		if again, err := ParseRule(r.String()); err != nil || again != r {
			t.Errorf("%s is written as %s, %v", line, r, err)
		}
	}
	for _, line := range []string{"", "app:radio", "app:radio then", "app:radio then ", "app:radio then fly", "app:radio then to", `app:radio then to "x`, "is:odd then float", "app:radio then to next", " then float", "all then also also on"} {
		if r, err := ParseRule(line); err == nil {
			t.Errorf("%q is read as %+v", line, r)
		}
	}
}

func TestRulesRemovedAndMoved(t *testing.T) {
	const a, b, c = "# The radio.\n# It is small.\n[[rules]]\nmatch = \"app:radio\" # any\nfloat = true\n\n", "[[rules]]\nmatch = \"app:till\"\n", "  # last\n [[rules]]\nmatch = \"all\"\nto = \"2\"\n"
	const head, desk = "# mine\n\n", "# the desk\n[desk]\ngap = 4\n"
	for _, test := range []struct {
		name, before, after string
		do                  func(path string) error
	}{
		{"the first", head + a + b + c, head + b + c, func(p string) error { return RemoveRule(p, 0) }},
		{"the middle", head + a + b + c, head + a + c, func(p string) error { return RemoveRule(p, 1) }},
		{"the last", head + a + b + c, head + a + b, func(p string) error { return RemoveRule(p, 2) }},
		{"the only one", b, "", func(p string) error { return RemoveRule(p, 0) }},
		{"before a table", a + desk + b, desk + b, func(p string) error { return RemoveRule(p, 0) }},
		{"down", head + a + b + c, head + b + a + c, func(p string) error { return SwapRules(p, 0) }},
		{"to the end", a + c, c + a, func(p string) error { return SwapRules(p, 0) }},
		{"over a table", a + desk + b, b + desk + a, func(p string) error { return SwapRules(p, 0) }},
		{"without a last line's end", b + strings.TrimSpace(c), strings.TrimSpace(c) + "\n" + b, func(p string) error { return SwapRules(p, 0) }},
	} {
		path := filepath.Join(t.TempDir(), "settings.toml")
		os.WriteFile(path, []byte(test.before), 0o600)
		if err := test.do(path); err != nil {
			t.Errorf("%s: %v", test.name, err)
		}
		if data, _ := os.ReadFile(path); string(data) != test.after {
			t.Errorf("%s: the file is\n%s\nwant\n%s", test.name, data, test.after)
		}
	}
	// What cannot be done leaves the file alone.
	inline := "rules = [{match = \"all\"}, {match = \"app:till\"}]\n"
	for _, test := range []struct {
		text string
		do   func(path string) error
	}{
		{a, func(p string) error { return RemoveRule(p, 1) }},
		{a, func(p string) error { return RemoveRule(p, -1) }},
		{a, func(p string) error { return SwapRules(p, 0) }},
		{a + b, func(p string) error { return SwapRules(p, -1) }},
		{inline, func(p string) error { return RemoveRule(p, 0) }},
		{inline, func(p string) error { return SwapRules(p, 0) }},
		{"gap = ", func(p string) error { return RemoveRule(p, 0) }},
	} {
		path := filepath.Join(t.TempDir(), "settings.toml")
		os.WriteFile(path, []byte(test.text), 0o600)
		if err := test.do(path); err == nil {
			t.Errorf("%q: no error", test.text)
		}
		if data, _ := os.ReadFile(path); string(data) != test.text {
			t.Errorf("%q became %q", test.text, data)
		}
	}
}
