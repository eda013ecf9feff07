package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

func TestDrawCommand(t *testing.T) {
	t.Parallel()
	bin, dir := testkit.Binary(t), t.TempDir()
	scene := "../../internal/scene/demo.json"
	env := []string{"XDG_STATE_HOME=" + t.TempDir(), "XDG_CONFIG_HOME=" + t.TempDir(), "DISPLAY=:987"}
	at := func(name string) string { return filepath.Join(dir, name) }
	for _, what := range []string{"atlas", "sheet B3", "strays", "keys"} {
		args := append(append([]string{"draw"}, strings.Fields(what)...), "--scene", scene)
		if out := testkit.Run(t, env, bin, args...); !strings.HasPrefix(out, "<?xml") || !strings.HasSuffix(out, "</svg>\n") && !strings.HasSuffix(out, "</svg>") {
			t.Errorf("draw %s prints %.60s", what, out)
		}
		file := at(strings.ReplaceAll(what, " ", "-") + ".pdf")
		testkit.Run(t, env, bin, append(args, "-o", file)...)
		info, err := os.Stat(file)
		if err != nil || info.Mode() != 0o600 {
			t.Errorf("draw %s writes %v, %v", what, info, err)
		}
		if text := testkit.Run(t, nil, "pdftotext", file, "-"); len(text) < 20 {
			t.Errorf("the text of %s is %q", what, text)
		}
	}
	file := at("atlas.svg")
	testkit.Run(t, env, bin, "draw", "atlas", "--scene", scene, "-o", file, "--size", "1280x800", "--theme", "night")
	drawn, _ := os.ReadFile(file)
	if !strings.Contains(string(drawn), `width="1280" height="800" viewBox="0 0 1280 800"`) {
		t.Errorf("of 1280x800 it begins with %.200s", drawn)
	}
	csv := spansFile(t)
	for _, c := range []struct{ status, want, args string }{
		{"1", "atlas.svg: there is a file already, which is left as it is: --force writes over it", "draw atlas --scene " + scene + " -o " + file},
		{"2", "x.png: a drawing's file ends with .svg or .pdf", "draw atlas --scene " + scene + " -o x.png"},
		{"2", "draw needs what to draw: atlas, sheet, strays, keys, survey, book", "draw"},
		{"2", `"Z" is no sheet such as B3`, "draw sheet Z --scene " + scene},
		{"1", "there is no sheet C1", "draw sheet C1 --scene " + scene},
		{"1", "there is no sheet A9", "draw sheet A9 --scene " + scene},
		{"1", "name a file that ends with .pdf", "draw book --scene " + scene},
		{"2", `there is no paper "a5"`, "draw keys --paper a5"},
		{"2", `the size "12x800" is no width and height`, "draw keys --size 12x800"},
		{"1", "demo.json is no TrueType file", "draw keys --font " + scene},
		{"1", "the survey is off", "draw survey"},
		{"1", "no such file or directory", "draw keys -o " + at("no/keys.svg")},
		{"0", "", "draw atlas --scene " + scene + " --force -o " + file},
		{"0", "", "draw book --landscape --paper letter --scene " + scene + " -o " + at("book.pdf") + " --from " + csv},
		{"0", "", "draw survey --from " + csv + " -o " + at("survey.pdf")},
		{"0", "", "plan " + scene + " layout\\ rows --draw " + at("plan.svg")},
		{"1", "there is a file already", "plan " + scene + " layout\\ rows --draw " + at("plan.svg")},
	} {
		out, _ := testkit.TryRun(env, "sh", "-c", bin+" "+c.args+"; echo status $?")
		if !strings.Contains(out, c.want) || !strings.HasSuffix(strings.TrimSpace(out), "status "+c.status) {
			t.Errorf("%s: %s\nwant %s, status %s", c.args, out[max(0, len(out)-300):], c.want, c.status)
		}
	}
	text := testkit.Run(t, nil, "pdftotext", "-layout", at("book.pdf"), "-")
	for _, want := range []string{"The book of demo", "Guest Rota", "INDEX", "KEYS", "SURVEY", "1 of "} {
		if !strings.Contains(text, want) {
			t.Errorf("the book is without %q", want)
		}
	}
}

// On the screens a drawing is asked for in words or by a key, and by which file it is.
func TestDrawOnTheScreens(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	term := testkit.NewTerminal(t, 140, 40, []string{"XDG_STATE_HOME=" + t.TempDir(), "HOME=" + dir}, "sh", "-c", "cd "+dir+" && exec "+testkit.Binary(t)+" demo")
	term.Wait("6 workspaces")
	term.Keys(":").Type("draw").Wait("Draw needs what to draw")
	term.Type(" boo").Keys("Tab").Type("my book.pdf").Wait("Enter draws it to my book.pdf.")
	term.Keys("Enter").Wait("Drawn to ~/my book.pdf.")
	term.Keys("z").Wait("SHEET A1")
	term.Keys("&").Wait("Draw the sheet A1 to: ~/sheet-A1.svg")
	term.Keys("Enter").Wait("Drawn to ~/sheet-A1.svg.")
	term.Keys("&", "Enter").Wait("~/sheet-A1.svg is there already. Write over it? Enter writes over it, Escape keeps it.")
	term.Keys("Escape").Wait("Left as it was.")
	term.Keys("!").Wait("STRAYS")
	term.Keys("&", "C-u").Type("a.png").Keys("Enter").Wait("A file that ends with .svg or .pdf.")
	term.Keys("BSpace", "BSpace", "BSpace").Type("pdf").Keys("Enter").Wait("Drawn to ~/a.pdf.")
	term.Keys(";", "s").Wait("SURVEY")
	for name, want := range map[string]string{"my book.pdf": "INDEX", "a.pdf": "Guest Rota · Who sits where"} {
		if text := testkit.Run(t, nil, "pdftotext", filepath.Join(dir, name), "-"); !strings.Contains(text, want) {
			t.Errorf("%s is without %q", name, want)
		}
	}
}
