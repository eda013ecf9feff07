package settings

import (
	"strings"
	"testing"
)

// TestPrograms is which lines can start a program, and what is left without them.
func TestPrograms(t *testing.T) {
	for _, c := range []struct{ name, text, want, left string }{
		{"none", "theme = \"day\"\n[chords]\n\"Super+F9\" = \"send 2\"\n", "", "theme = \"day\"\n[chords]\n\"Super+F9\" = \"send 2\"\n"},
		{"the terminal", "[keeper]\nterminal = \"sh -c x\" # mine\nborder = 3\n", "2", "[keeper]\n# terminal = \"sh -c x\" # mine\nborder = 3\n"},
		{"over lines", "[keeper]\nterminal = \"\"\"sh \\\n  -c x\"\"\"\nborder = 3\n", "2", "[keeper]\n# terminal = \"\"\"sh \\\n#   -c x\"\"\"\nborder = 3\n"},
		{"dotted", "keeper.terminal = 'x -e'\ntheme = \"day\"", "1", "# keeper.terminal = 'x -e'\ntheme = \"day\""},
		{"chords", "[chords]\n\"Super+F1\" = \"run rm x\"\n\"Super+F2\" = \"open Till\"\n\"Super+F3\" = \"plate lay Day starting\"\n\"Super+F4\" = \"plate lay Day\"\n\"Super+F5\" = \"jump r\"\n", "2 3 4 6",
			"[chords]\n# \"Super+F1\" = \"run rm x\"\n# \"Super+F2\" = \"open Till\"\n# \"Super+F3\" = \"plate lay Day starting\"\n\"Super+F4\" = \"plate lay Day\"\n# \"Super+F5\" = \"jump r\"\n"},
		{"in one line", "chords = {\"Super+F1\" = \"run x\", \"Super+F2\" = \"run y\"}\n", "1", "# chords = {\"Super+F1\" = \"run x\", \"Super+F2\" = \"run y\"}\n"},
		{"without a blank", "[chords]\n\"Super+F1\" = 'open\"XTerm\"'\n\"Super+F3\" = \"send 2 of title:open\"\n", "2",
			"[chords]\n# \"Super+F1\" = 'open\"XTerm\"'\n\"Super+F3\" = \"send 2 of title:open\"\n"},
		{"letters of apps", "[pins]\nq = 'app:=\"XTerm\"'\nr = \"title:Till\"\ns = 'app:Till'\n", "2", "[pins]\n# q = 'app:=\"XTerm\"'\nr = \"title:Till\"\ns = 'app:Till'\n"},
		{"keys that follow", "[chords]\n\"Super+Q r\" = \"run x\"\n", "2", "[chords]\n# \"Super+Q r\" = \"run x\"\n"},
	} {
		lines, err := Programs([]byte(c.text))
		var got []string
		for _, l := range lines {
			got = append(got, string(rune('0'+l.Number)))
		}
		if err != nil || strings.Join(got, " ") != c.want {
			t.Errorf("%s: lines %q, %v, want %q", c.name, got, err, c.want)
		}
		left, err := WithoutPrograms([]byte(c.text))
		if err != nil || string(left) != c.left {
			t.Errorf("%s: %v\n%s\nwant\n%s", c.name, err, left, c.left)
		}
	}
	long, err := Programs([]byte("[keeper]\nterminal = \"\"\"true \\\n  ; rm -r \\\n  x\"\"\"\nborder = 3\n"))
	if want := "terminal = \"\"\"true \\\n; rm -r \\\nx\"\"\""; err != nil || len(long) != 1 || long[0].Text != want {
		t.Errorf("a value over three lines is shown as %+v, %v", long, err)
	}
	if _, err := WithoutPrograms([]byte("theme = \"dusk\"")); err == nil {
		t.Error("a file at fault is taken")
	}
}
