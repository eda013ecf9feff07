package main

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// The commands that need no display: what they print, and how they end.
func TestCommandLine(t *testing.T) {
	t.Parallel()
	const desk = `{"format": "zealous-atlas/scene/1",
 "monitors": [{"letter": "A", "name": "Laptop", "rect": [0, 0, 1000, 800], "primary": true}],
 "workspaces": [{"name": "Programme", "sheets": {"A": {"layout": "columns", "windows": [1, 2]}}}, {"name": "Guests"}],
 "windows": [{"id": 1, "app": "Reel Ledger", "title": "Running order"}, {"id": 2, "app": "Tin Radio", "title": "Late set"},
  {"id": 3, "app": "Hall Plan", "title": "Seats\u001b[31m", "rect": [2000, 0, 300, 200], "workspace": 1}],
 "shown": {"A": 1}, "at": "A", "focus": 1}`
	dir := t.TempDir()
	file, bad := filepath.Join(dir, "desk.json"), filepath.Join(dir, "bad.json")
	for path, text := range map[string]string{file: desk, bad: strings.Replace(desk, `[1, 2]`, `[1, 1]`, 1)} {
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	for _, test := range []struct {
		args   []string
		status int
		out    string // a part of what is printed; nothing is where it is empty
		err    string // a part of the message
	}{
		{[]string{"plan", file, "send 2", "undo"}, 0, `"windows":[1,2]`, ""},
		{[]string{"plan", file, "send 2 of app:radio"}, 0, `"tree":{"window":2}`, ""},
		{[]string{"plan", file, "go 2", "send 5"}, 1, "", "send 5: no window has the focus"},
		{[]string{"plan", file, "send 5"}, 1, "", "send 5: there is no workspace 5"},
		{[]string{"plan", file, "add", "snd 5"}, 2, "", "snd 5: column 1"},
		{[]string{"plan", file, "send", "2"}, 2, "", "Each argument is a command: if one is meant, write 'send 2'"},
		{[]string{"plan", file, "add Late", "night"}, 2, "", "night: column 1"},
		{[]string{"plan", bad}, 1, "", "bad.json"},
		{[]string{"plan", filepath.Join(dir, "none.json")}, 1, "", "none.json"},
		{[]string{"plan"}, 2, "", "needs a scene file"},
		{[]string{"list", "--scene", file}, 0, "#2  A1  Tin Radio    Late set", ""},
		{[]string{"list", "is:stray", "--json", "--scene", file}, 0, `"stray": "off"`, ""},
		{[]string{"list", "app:nobody", "--scene", file}, 1, "", "no window matches app:nobody"},
		{[]string{"list", "app:nobody", "--json", "--scene", file}, 0, "[]", ""},
		{[]string{"--version"}, 0, "protocol  7.0", ""},
		{[]string{"help", "language"}, 0, "plate save PLATE", ""},
		{[]string{"help", "settings"}, 0, "desk.gap", ""},
		{[]string{"doctor"}, 0, "Everything is as it should be.", ""},
		{[]string{"log", "-n", "x"}, 2, "", "it must be a whole number"},
		{[]string{"alongside", "--linger", "x"}, 2, "", `no while such as 60s or 5m is "x"`},
		{[]string{"log", "--since", "yesterday"}, 2, "", `"yesterday" is no day`},
		{[]string{"plates", "--json"}, 0, "[]", ""},
		{[]string{"survey", "--json"}, 0, `"period":"weeks"`, ""},
		{[]string{"survey", "--json", "--csv"}, 2, "", "give one of the two"},
		{[]string{"pack", filepath.Join(dir, "x.zip")}, 1, "", "there is nothing to pack"},
		{[]string{"unpack", file}, 1, "", "it is no zip file"},
		{[]string{"unpack"}, 2, "", "unpack needs the name of one zip file"},
		{[]string{"__complete", "plan", file, "layout r"}, 0, "layout rows", "Completion ended"},
		{[]string{"__complete", "plan", file, "send 2 of is:s"}, 0, "send 2 of is:stray", "Completion ended"},
		{[]string{"list", "is:", "--scene", file}, 2, "", "column 4"},
		{[]string{"list", "--lng"}, 2, "", "--lng"},
		{[]string{"nonsense"}, 2, "", `there is no command "nonsense"`},
		{[]string{"demo", "x"}, 2, "", "takes no arguments"},
		{[]string{"demo"}, 1, "", "need a terminal"},
		{[]string{"config"}, 0, "[keeper]", ""},
	} {
		cmd := exec.Command(testkit.Binary(t), test.args...)
		cmd.Env = append(os.Environ(), "HOME="+dir, "XDG_CONFIG_HOME="+dir, "XDG_STATE_HOME="+dir, "DISPLAY=")
		var out, err bytes.Buffer
		cmd.Stdout, cmd.Stderr = &out, &err
		cmd.Run() // how it ends is looked at below
		if got := cmd.ProcessState.ExitCode(); got != test.status {
			t.Errorf("%q ended with %d, want %d\n%s", test.args, got, test.status, &err)
		}
		for _, got := range []struct{ is, want string }{{out.String(), test.out}, {err.String(), test.err}} {
			if !strings.Contains(got.is, got.want) || got.want == "" && got.is != "" || strings.Contains(got.is, "\x1b") {
				t.Errorf("%q printed %q, want %q in it", test.args, got.is, got.want)
			}
		}
		if strings.Count(err.String(), "\n") > 1 {
			t.Errorf("%q: the message is more than a line: %q", test.args, err.String())
		}
	}
	if after, _ := os.ReadFile(file); string(after) != desk {
		t.Errorf("the scene was changed to\n%s", after)
	}
}
