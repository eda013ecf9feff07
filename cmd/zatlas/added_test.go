package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// No goroutine outlives the tests.
func TestMain(m *testing.M) { testkit.Main(m) }

// overlaid builds a command of ours with a source file changed: each old text in it
// becomes a new one. It gives the path of the program.
func overlaid(t *testing.T, command, file string, changes ...string) string {
	t.Helper()
	dir := t.TempDir()
	file, err := filepath.Abs(filepath.Join("../..", file))
	if err != nil {
		t.Fatal(err)
	}
	text, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	changed := string(text)
	for i := 0; i < len(changes); i += 2 {
		if !strings.Contains(changed, changes[i]) {
			t.Fatalf("%s is without %q", file, changes[i])
		}
		changed = strings.Replace(changed, changes[i], changes[i+1], 1)
	}
	with := filepath.Join(dir, "changed.go")
	overlay, err := json.Marshal(map[string]any{"Replace": map[string]string{file: with}})
	if err != nil {
		t.Fatal(err)
	}
	for path, data := range map[string][]byte{with: []byte(changed), filepath.Join(dir, "overlay.json"): overlay} {
		if err := os.WriteFile(path, data, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	program := filepath.Join(dir, "program")
	testkit.Run(t, nil, "go", "build", "-overlay", filepath.Join(dir, "overlay.json"), "-o", program, command)
	return program
}

// A verb is one row of the table and one function: all else follows.
func TestVerbIsAdded(t *testing.T) {
	t.Parallel()
	const file = "internal/desk/verbs.go"
	changes := []string{
		"	return []Verb{\n", `	return []Verb{
		{Name: "shout", Usage: "left|right|up|down", Key: "Q", Windows: true, Asks: AskDirection, Rank: 1, apply: (*edit).shout,
			Help: "Minimise windows with a shout."},
`,
		"// Apply is the desk after", `func (e *edit) shout(c Command) (string, error) {
	words, err := e.minimise(c)
	return words + " Shouted " + c.Args[0].Word + ".", err
}

// Apply is the desk after`,
	}
	program := overlaid(t, "zatlas/cmd/zatlas", file, changes...)
	scene, err := filepath.Abs("../../internal/scene/demo.json")
	if err != nil {
		t.Fatal(err)
	}
	if out := testkit.Run(t, nil, program, "plan", scene, "shout left of #11"); !strings.Contains(out, `"minimised":true`) {
		t.Error("plan does not know it")
	}
	out, err := testkit.TryRun(nil, program, "plan", scene, "shout sideways")
	if err == nil || !strings.Contains(out, "column 7") || !strings.Contains(out, "left, right, up or down") {
		t.Errorf("its fault is %v: %s", err, out)
	}
	term := testkit.NewTerminal(t, 160, 40, []string{"XDG_STATE_HOME=" + t.TempDir()}, program, "demo")
	term.Wait("#11 Reel Ledger:  Q shout")               // the legend, by its rank
	term.Keys("Q")                                       // its prompt, by what it asks for
	term.Wait("shout #11 Reel Ledger", "Escape cancels") // and its hints
	term.Keys("Left").Wait("Minimised Reel Ledger · Running order. Shouted left. u undoes.")
	term.Keys("u").Wait("Undid: Minimised Reel Ledger · Running order. Shouted left.")
	term.Keys(":").Type("sho").Keys("Tab").Wait(":shout ")
	term.Type("ri")
	term.Keys("Tab", "Enter") // completed
	term.Wait("Shouted right.")
	term.Keys("?").Type("shout").Wait(" Q ", "Minimise windows with a shout.")

	// the table of the reference, made anew beside a copy of what it is made from.
	house := overlaid(t, "zatlas/internal/house", file, changes...)
	root, err := filepath.Abs("../..")
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(house, "verbs")
	cmd.Dir = root
	if table, err := cmd.CombinedOutput(); err != nil || !strings.Contains(string(table), "| `Q` | `shout left\\|right\\|up\\|down` | Minimise windows with a shout. |\n") {
		t.Errorf("the table of verbs: %v\n%s", err, table)
	}
}

// A setting is one row: its reader, the printed example, the settings screen and the
// texts of faults follow.
func TestSettingIsAdded(t *testing.T) {
	t.Parallel()
	program := overlaid(t, "zatlas/cmd/zatlas", "internal/settings/rows.go", "		{Table: \"desk\", Key: \"wrap\"", `		{Table: "desk", Key: "shine", Usual: "3", Min: 1, Max: 9, Step: 2, Unit: "lamps",
			Help: "how many lamps shine", About: "How many lamps shine over the desk, 1 to 9.",
			takes: func(d *desk.Settings, v string) { d.Gap = 10 * number(v) }},
		{Table: "desk", Key: "wrap"`)
	config := t.TempDir()
	env := []string{"XDG_STATE_HOME=" + t.TempDir(), "XDG_CONFIG_HOME=" + config}
	printed := testkit.Run(t, env, program, "config")
	if !strings.Contains(printed, "# How many lamps shine over the desk, 1 to 9.\nshine = 3\n") {
		t.Errorf("the example is\n%s", printed)
	}
	path := filepath.Join(config, "zealous-atlas", "settings.toml")
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, []byte(strings.Replace(printed, "shine = 3", "shine = 77", 1)), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := testkit.TryRun(env, program, "doctor"); !strings.Contains(out, "1 to 9 lamps") {
		t.Errorf("a fault of it: %v: %s", err, out)
	}
	if err := os.WriteFile(path, []byte(printed), 0o600); err != nil {
		t.Fatal(err)
	}
	tmp := t.TempDir()
	term := testkit.NewTerminal(t, 160, 60, append(env, "TMPDIR="+tmp), program, "demo")
	term.Wait("#11 Reel Ledger:", "×1108") // a gap of 30 pixels took effect
	own := demoSettings(t, tmp)
	term.Keys(";", "e").Wait("desk.shine", "how many lamps shine")
	term.Keys("Down", "Down", "Down", "Down", "Down", "Down", "Down", "Right").Wait("desk.shine is 5 now.")
	testkit.Until(t, "the file has it", func() bool {
		text, _ := os.ReadFile(own)
		return strings.Contains(string(text), "shine = 5\n") && strings.Contains(string(text), "# How many lamps shine over the desk, 1 to 9.\n")
	})
}
