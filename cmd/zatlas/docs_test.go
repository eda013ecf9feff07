package main

import (
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"syscall"
	"testing"

	"github.com/spf13/cobra"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/draw/render"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// Every field that programs are told stands in the documentation.
func TestFieldsAreDocumented(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/json.md")
	if err != nil {
		t.Fatal(err)
	}
	parts := map[string]string{}
	for _, part := range strings.Split(string(text), "\n## ")[1:] {
		head, rest, _ := strings.Cut(part, "\n")
		parts[head] = rest
	}
	for head, values := range map[string][]any{
		"zatlas list --json":          {listed{}},
		"zatlas line --json":          {lineDesk{}, lineSpace{}},
		"zatlas watch":                {change{}},
		"zatlas log --json":           {logLine{}},
		"zatlas plates --json":        {listedPlate{}},
		"zatlas keys --json":          {keeper.Key{}},
		"zatlas survey --json":        {survey.Report{}, survey.Share{}, survey.Slot{}, survey.Deed{}},
		"zatlas survey advice --json": {survey.Advice{}, survey.Way{}, survey.Use{}, survey.Together{}, survey.Apart{}, survey.Idle{}, survey.ByKeys{}},
	} {
		told := map[string]bool{}
		for _, v := range values {
			for _, f := range reflect.VisibleFields(reflect.TypeOf(v)) {
				name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
				if name == "-" || !f.IsExported() {
					continue
				}
				if told[name] = true; !strings.Contains(parts[head], "`"+name+"`") {
					t.Errorf("%T has the field %q, of which %q in docs/json.md says nothing", v, name, head)
				}
			}
		}
		// And what the first column of its table says is told.
		for line := range strings.Lines(parts[head]) {
			first, _, _ := strings.Cut(strings.TrimPrefix(line, "| "), " |")
			for i, name := range strings.Split(first, "`") {
				if i%2 == 1 && strings.HasPrefix(line, "| ") && !told[name] {
					t.Errorf("%q in docs/json.md has %q, which is not told", head, name)
				}
			}
		}
		delete(parts, head)
	}
	for head := range parts {
		t.Errorf("docs/json.md has %q, which is not looked at", head)
	}
}

// The session of a display manager reads the user's profile, starts the keeper, and says
// in a log why it ended.
func TestSession(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	home, bin := t.TempDir(), t.TempDir()
	if err := os.Symlink(testkit.Binary(t), filepath.Join(bin, "zatlas")); err != nil {
		t.Fatal(err)
	}
	script, err := os.ReadFile("../../dist/zealous-atlas-session")
	if err == nil {
		err = os.WriteFile(filepath.Join(bin, "zealous-atlas-session"), script, 0o755)
	}
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(home, ".profile"), []byte("PROFILE_WAS_READ=yes\nexport PROFILE_WAS_READ\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	log := filepath.Join(s.Dir, "state", "zealous-atlas", "session.log")
	session := func() *testkit.Process {
		return testkit.Spawn(t, append(s.Env, "HOME="+home), filepath.Join(bin, "zealous-atlas-session"))
	}
	keeper := func(p *testkit.Process) string {
		pid, err := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", p.Process.Pid, p.Process.Pid))
		if err != nil {
			t.Fatal(err)
		}
		return strings.TrimSpace(string(pid))
	}
	begins := func() {
		testkit.Until(t, "the keeper answers", func() bool {
			_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
			return err == nil
		})
	}
	p := session()
	begins()
	env, err := os.ReadFile(filepath.Join("/proc", keeper(p), "environ"))
	if err != nil || !strings.Contains(string(env), "PROFILE_WAS_READ=yes") || !strings.Contains(string(env), "XDG_CURRENT_DESKTOP=ZealousAtlas") {
		t.Errorf("the keeper's environment: %v\n%q", err, env)
	}
	s.Do(t, "end")
	if status, printed := p.End(); status != 0 {
		t.Errorf("it ended with %d: %s", status, printed)
	}
	p = session()
	begins()
	testkit.Run(t, nil, "kill", "-KILL", keeper(p))
	if status, _ := p.End(); status != 128+int(syscall.SIGKILL) {
		t.Errorf("after a kill it ended with %d", status)
	}
	text, err := os.ReadFile(log)
	for _, want := range []string{"the session of display " + s.Display + " begins", "the keeper was ended", "the keeper was ended by signal 9"} {
		if err != nil || !strings.Contains(string(text), want) {
			t.Errorf("the log is without %q: %v\n%s", want, err, text)
		}
	}
}

// Every command that the guide shows can be given on the demo desk, in its order, and so
// can every example of the manual pages.
func TestGuide(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/GUIDE.md")
	if err != nil {
		t.Fatal(err)
	}
	d := desks.Demo(t)
	tried := 0
	try := func(line string) {
		c, err := lang.ParseCommand(line)
		if err == nil {
			d, _, err = d.Apply(c)
		}
		if err != nil {
			t.Errorf("%s: %v", line, err)
		}
		tried++
	}
	for i, block := range strings.Split(string(text), "```") {
		if lines, is := strings.CutPrefix(block, "do\n"); is && i%2 == 1 {
			for line := range strings.Lines(lines) {
				try(strings.TrimSpace(line))
			}
		}
	}
	if tried < 25 {
		t.Errorf("only %d commands were found in the guide", tried)
	}
	if d, err = scene.Demo(); err != nil {
		t.Fatal(err)
	}
	for _, line := range examples() {
		try(line)
	}
}

// otherCode is what the documentation has in the type of code besides what can be typed:
// signals, variables, words of arguments and of files.
var otherCode = strings.Fields("SIGKILL TERM INT HUP PREFIX DESTDIR starting gather workspace sheet back a4 letter")

// What the README and the guide have in the type of code can be typed: commands, queries,
// command lines with their flags, targets of make, settings; keys are tried elsewhere.
func TestCodeOfTheDocumentation(t *testing.T) {
	t.Parallel()
	make, err := os.ReadFile("../../Makefile")
	if err != nil {
		t.Fatal(err)
	}
	reads := map[string]func(code string) bool{
		"a command": func(code string) bool { _, err := lang.ParseCommand(code); return err == nil },
		"a query": func(code string) bool {
			_, err := lang.ParseQuery(code)
			return err == nil && strings.ContainsAny(code, ":#")
		},
		"a word": func(code string) bool { // of a command line, or a verb
			_, verb := desk.FindVerb(code)
			return verb || commandLine("zatlas "+code) == nil
		},
		"a drawing": func(code string) bool { _, err := render.ParseRequest(strings.Fields(code)); return err == nil },
		"a key": func(code string) bool {
			return len(code) < 8 && regexp.MustCompile(`^(\S |Enter|Escape|Space)*(\S|Enter|Escape|Space)$`).MatchString(code)
		},
		"a target": func(code string) bool {
			name, is := strings.CutPrefix(code, "make ")
			return is && strings.Contains(string(make), "\n"+name+":")
		},
		"a line": func(code string) bool { return strings.HasPrefix(code, "zatlas") && commandLine(code) == nil },
		"a flag": func(code string) bool {
			return strings.HasPrefix(code, "--") && anyFlag(newRoot(), strings.Fields(code)[0][2:])
		},
		"a setting": func(code string) bool { return isSetting(t, code) },
		"a folder": func(code string) bool {
			return strings.HasPrefix(code, "~/.") || strings.HasPrefix(code, "plates/") || strings.HasPrefix(code, `"title": `)
		},
		"of others": func(code string) bool { return code == "systemctl --user enable zealous-atlas" || code == "man zatlas" },
		"named":     func(code string) bool { return slices.Contains(otherCode, code) },
	}
	found := map[string]int{}
	for _, file := range []string{"../../README.md", "../../docs/GUIDE.md"} {
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		prose := ""
		for i, block := range strings.Split(string(text), "```") {
			if i%2 == 0 {
				prose += block
				continue
			}
			for line := range strings.Lines(block) { // those for a shell
				line, _, _ = strings.Cut(line, "  #")
				if line = strings.TrimSpace(line); strings.HasPrefix(line, "zatlas") {
					if err := commandLine(line); err != nil {
						t.Errorf("%s has the line %s: %v", file, line, err)
					}
					found["a line"]++
				}
			}
		}
	codes:
		for i, code := range strings.Split(prose, "`") {
			if i%2 == 0 {
				continue
			}
			code = strings.Join(strings.Fields(code), " ")
			for kind, is := range reads {
				if is(code) {
					found[kind]++
					continue codes
				}
			}
			t.Errorf("%s has `%s`, which is nothing that can be typed", file, code)
		}
	}
	for kind := range reads {
		if found[kind] == 0 {
			t.Errorf("nothing in the documentation is %s", kind)
		}
	}
}

// The examples that help and the manual pages show are command lines that can be read.
func TestExamplesOfCommands(t *testing.T) {
	t.Parallel()
	tried := 0
	var walk func(cmd *cobra.Command)
	walk = func(cmd *cobra.Command) {
		for line := range strings.Lines(cmd.Example) {
			_, line, _ = strings.Cut(line, "zatlas ") // what is before it feeds it
			line, _, _ = strings.Cut(line, " > ")
			tried++
			if err := commandLine("zatlas " + strings.TrimSpace(line)); err != nil {
				t.Errorf("zatlas %s: %v", line, err)
			}
		}
		for _, below := range cmd.Commands() {
			walk(below)
		}
	}
	if walk(newRoot()); tried < 20 {
		t.Errorf("only %d examples were found", tried)
	}
}

// commandLine tells what is wrong with the words of a command line of ours.
func commandLine(line string) error {
	words, err := apps.Words(line)
	if err != nil {
		return err
	}
	root := newRoot()
	root.InitDefaultHelpCmd()
	cmd, rest, err := root.Find(words[1:])
	if err == nil {
		err = cmd.ParseFlags(rest)
	}
	if err == nil && cmd.Args != nil && (cmd == root || len(words) > 2) { // else it is named alone
		err = cmd.Args(cmd, cmd.Flags().Args())
	}
	if err != nil || cmd.Name() != "do" {
		return err
	}
	for _, c := range cmd.Flags().Args() {
		if _, err := lang.ParseCommand(c); err != nil && c != "-" {
			return err
		}
	}
	return nil
}

// anyFlag tells whether some command has a flag.
func anyFlag(cmd *cobra.Command, name string) bool {
	return cmd.Flags().Lookup(name) != nil || slices.ContainsFunc(cmd.Commands(), func(c *cobra.Command) bool { return anyFlag(c, name) })
}

// isSetting tells whether a piece of a settings file can be read, or names a setting or a
// value of one.
func isSetting(t *testing.T, code string) bool {
	for _, c := range settings.Choices() {
		if code == c.Name() || slices.Contains(c.Values, strings.Trim(code, `"`)) {
			return true
		}
	}
	lists := []string{"[chords]", "[pins]", "[corners]", "[grids]"}
	if slices.Contains(lists, code) || slices.ContainsFunc(settings.Choices(), func(c settings.Choice) bool { return code == "["+c.Table+"]" }) {
		return true
	}
	table, line, whole := strings.Cut(code, "] ")
	texts := []string{table + "]\n" + line}
	if !whole {
		texts = []string{"[chords]\n" + code, "[keeper]\n" + code, "[desk]\n" + code, "[survey]\n" + code, "[[rules]]\nmatch = \"all\"\n" + code, code}
	}
	return slices.ContainsFunc(texts, func(text string) bool {
		path := filepath.Join(t.TempDir(), "settings.toml")
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		_, err := settings.Load(path)
		return err == nil && strings.Contains(text, "=")
	})
}

// What is done is told as it happens: to programs, and to whoever follows the logbook.
func TestWatch(t *testing.T) {
	t.Parallel()
	s := managed(t)
	client(t, s, "one", "xterm")
	watch := testkit.NewTerminal(t, 240, 20, s.Env, testkit.Binary(t), "watch")
	log := testkit.NewTerminal(t, 240, 20, s.Env, testkit.Binary(t), "log", "--follow", "-n", "1")
	log.Wait("Began with")
	testkit.Until(t, "it watches", func() bool {
		s.Do(t, "add", "undo")
		return strings.Contains(watch.Screen(), `"verb":"add"`)
	})
	s.Do(t, "add", "send 2 of title:=one")
	watch.Wait(`"verb":"send","source":"command line","words":"Sent XTerm · one to 2.","windows":[1],"closed":[]`)
	log.Wait("Sent XTerm · one to 2.")
	s.Do(t, "close of title:=one")
	watch.Wait(`"closed":[1]`)
	s.Do(t, "end")
	if got := watch.Ended(); got != "0" {
		t.Errorf("watch ended with %s", got)
	}
}
