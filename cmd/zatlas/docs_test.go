package main

import (
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/scene"
	"zatlas/internal/survey"
	"zatlas/internal/testkit"
)

// Every field that programs are told stands in the documentation.
func TestFieldsAreDocumented(t *testing.T) {
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
		"zatlas survey advice --json": {survey.Advice{}, survey.Way{}, survey.Use{}, survey.Together{}, survey.Apart{}, survey.Idle{}},
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
	text, err := os.ReadFile("../../docs/GUIDE.md")
	if err != nil {
		t.Fatal(err)
	}
	d, err := scene.Demo()
	if err != nil {
		t.Fatal(err)
	}
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

// What is done is told as it happens: to programs, and to whoever follows the logbook.
func TestWatch(t *testing.T) {
	s := testkit.NewServer(t)
	s.Keeper(t)
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
