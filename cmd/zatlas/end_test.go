package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
)

// keeping starts a keeper whose end is seen, and waits until it answers.
func keeping(t *testing.T, s *testkit.Server) *testkit.Process {
	t.Helper()
	p := testkit.Spawn(t, s.Env, testkit.Binary(t), "keep")
	testkit.Until(t, "the keeper answers", func() bool {
		_, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err == nil
	})
	return p
}

// A keeper that is told to end does, also where the X server stands still.
func TestSignalsEndIt(t *testing.T) {
	t.Parallel()
	for _, sig := range []os.Signal{syscall.SIGTERM, os.Interrupt, syscall.SIGHUP} {
		for _, still := range []bool{false, true} {
			s := testkit.NewServer(t)
			p := keeping(t, s)
			if still {
				s.Signal(t, syscall.SIGSTOP)
			}
			began := time.Now()
			p.Process.Signal(sig)
			status, printed := p.End()
			t.Logf("%v, server stands still: %t: ended after %v", sig, still, time.Since(began))
			if still && (status != exitStuck || !strings.Contains(printed, "do not answer")) || !still && status != 0 {
				t.Errorf("%v, server stands still: %t: status %d\n%s", sig, still, status, printed)
			}
		}
	}
}

// One that cannot even begin can be ended too.
func TestSignalWhileItBegins(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Signal(t, syscall.SIGSTOP)
	p := testkit.Spawn(t, s.Env, testkit.Binary(t), "keep")
	testkit.Until(t, "it has opened its state", func() bool {
		_, err := os.Stat(stateOf(s))
		return err == nil
	})
	p.Process.Signal(syscall.SIGTERM)
	if status, printed := p.End(); status != exitStuck {
		t.Errorf("status %d\n%s", status, printed)
	}
}

func TestDisplayDies(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	p := keeping(t, s)
	s.Signal(t, syscall.SIGKILL)
	if status, printed := p.End(); status != 1 || !strings.Contains(printed, "zatlas: the display is gone") {
		t.Errorf("status %d\n%s", status, printed)
	}
}

func TestDisplaysThatAreNone(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	for _, c := range []struct{ name, says string }{
		{"", "no X display is named"}, {"x", "names no display"}, {":", "names no display"}, {":x", "names no display"}, {":-1", "names no display"},
		{":99999999999999999999", "names no display"}, {":0.x", "names no display"}, {"\x1b]0;x\x07:0", "names no display"}, {"::::1", "no X display answers"},
		{":4711", "no X display answers"}, {"localhost:4711", "no X display answers"}, {"/none:0", "no X display answers"}, {s.Display + ".7", "has no screen 7"},
	} {
		p := testkit.Spawn(t, append(s.Env, "DISPLAY="+c.name), testkit.Binary(t), "keep")
		status, printed := p.End()
		if status != 1 || !strings.Contains(printed, c.says) || strings.Contains(printed, "panic") || strings.Contains(printed, "\x1b") {
			t.Errorf("DISPLAY %q: status %d\n%s", c.name, status, printed)
		}
	}
}

// What is no file is refused at once, by name.
func TestFilesThatAreNone(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	pipe := filepath.Join(dir, "pipe")
	zero := filepath.Join(dir, "zero")
	if err := syscall.Mkfifo(pipe, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Symlink("/dev/zero", zero); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{pipe, zero, dir} {
		for _, args := range [][]string{{"plan", path, "go 1"}, {"list", "--scene", path}} {
			p := testkit.Spawn(t, nil, testkit.Binary(t), args...)
			if status, printed := p.End(); status != 1 || !strings.Contains(printed, path+": it is no regular file") {
				t.Errorf("%v: status %d\n%s", args, status, printed)
			}
		}
	}
	// As the state they keep no command waiting.
	state := filepath.Join(t.TempDir(), "zealous-atlas", "state.db")
	if err := errors.Join(os.MkdirAll(filepath.Dir(state), 0o700), syscall.Mkfifo(state, 0o600)); err != nil {
		t.Fatal(err)
	}
	for _, line := range []string{"survey", "survey --json", "survey advice --scene ../../internal/scene/demo.json", "survey forget", "doctor", "draw survey --out " + filepath.Join(t.TempDir(), "s.svg"), "pack --survey " + filepath.Join(t.TempDir(), "desk.zip"), "log"} {
		ctx, cancel := context.WithTimeout(t.Context(), testkit.Deadline)
		cmd := exec.CommandContext(ctx, testkit.Binary(t), strings.Fields(line)...)
		cmd.Env = append(os.Environ(), "XDG_STATE_HOME="+filepath.Dir(filepath.Dir(state)), "DISPLAY=:99")
		out, err := cmd.CombinedOutput()
		if cancel(); ctx.Err() == context.DeadlineExceeded || err == nil || !strings.Contains(string(out), "a pipe") {
			t.Errorf("%s with a pipe as the state: %v, %s", line, err, out)
		}
	}
	// As settings and state they do not keep the keeper from its work.
	s := testkit.NewServer(t)
	for _, name := range []string{"config/zealous-atlas/settings.toml", "state/zealous-atlas/state.db"} {
		path := filepath.Join(s.Dir, name)
		if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := syscall.Mkfifo(path, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	p := keeping(t, s)
	s.Do(t, "add", "go 2")
	p.Process.Signal(syscall.SIGTERM)
	status, printed := p.End()
	if status != 0 || !strings.Contains(printed, "settings.toml: it is no regular file but a pipe") || !strings.Contains(printed, "state.db: it is no regular file but a pipe") {
		t.Errorf("status %d\n%s", status, printed)
	}
}

// TestKeeperStandsStill holds that screens tell of a keeper that does not answer, and are
// left by their keys all the same; and that they go on when it does.
func TestKeeperStandsStill(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	p := keeping(t, s)
	s.Client(t, "Hall Plan", "xterm")
	for _, leaves := range [][]string{{"q"}, {"C-c"}} {
		term := testkit.NewTerminal(t, 130, 40, s.Env, testkit.Binary(t))
		term.Wait("Hall Plan", "you are on")
		p.Still()
		term.Wait("No answer for", "this is how the desk was seen last. q quits.", "last seen")
		p.Process.Signal(syscall.SIGCONT)
		term.Wait("There is an answer again.", "you are on")
		p.Still()
		term.Keys("a").Type("Late")
		term.Keys("Enter", "Down", "x") // a command that is not answered, and keys that wait for it
		term.Wait("No answer for", "last seen")
		term.Keys(leaves...)
		if got := term.Ended(); got != "0" {
			t.Errorf("%q ended them with %s", leaves, got)
		}
		p.Process.Signal(syscall.SIGCONT)
		s.Do(t, "go 1")
	}
}

// TestConnectionCut holds that a keeper whose connection is cut has, when it has begun again,
// what it had answered just before.
func TestConnectionCut(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeping(t, s)
	x := s.NewX(t)
	check := xproto.Window(0)
	client := answering(t, s)
	for round := range 3 {
		fmt.Sscanf(s.Xprop(t, "root", "_NET_SUPPORTING_WM_CHECK"), "0x%x", &check)
		time.Sleep(leastTime)
		client.Do(t.Context(), desk.Command{Verb: "rename", Args: []desk.Arg{{Kind: desk.Name, Word: "Late"}}}, keeper.Line)
		client.Do(t.Context(), desk.Command{Verb: "rename", Args: []desk.Arg{{Kind: desk.Name, Word: "Last"}}}, keeper.Line)
		xproto.KillClient(x.Conn, uint32(check))
		x.Conn.Sync()
		testkit.Until(t, "it has begun again", func() bool {
			out, err := testkit.TryRun(s.Env, testkit.Binary(t), "log")
			return err == nil && strings.Count(out, "Began with") == round+2
		})
		client = answering(t, s)
		if d, err := client.Desk(t.Context()); err != nil || d.Workspaces[0].Name != "Last" {
			t.Fatalf("round %d: the workspace is %q, %v", round, d.Workspaces[0].Name, err)
		}
	}
}

// TestAbout holds that a command which is not waited for goes on, and that one can ask what
// became of it.
func TestAbout(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	p := keeping(t, s)
	p.Still()
	out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "--wait", "300ms", "rename Foyer", "add Never")
	_, again, ok := strings.Cut(out, "--about ")
	if err == nil || !ok || !strings.Contains(out, "rename Foyer: no answer for 300ms. The command still runs: zatlas do") {
		t.Fatalf("a keeper that stands still: %s", out)
	}
	name, _, _ := strings.Cut(again, " ")
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "--wait", "300ms", "--about", name); err == nil || !strings.Contains(out, "--about "+name) {
		t.Errorf("asked while it stands still: %s, %v", out, err)
	}
	p.Process.Signal(syscall.SIGCONT)
	if out, err := testkit.TryRun(s.Env, testkit.Binary(t), "do", "--about", name); err != nil || !strings.Contains(out, "Foyer") {
		t.Errorf("when it goes on: %s, %v", out, err)
	}
	for _, args := range [][]string{{"do", "--about", "nobody"}, {"do", "--about", name, "go 1"}} {
		if out, err := testkit.TryRun(s.Env, testkit.Binary(t), args...); err == nil || strings.Contains(out, "Foyer") {
			t.Errorf("%v says %s", args, out)
		}
	}
}

// TestKeyboardOfOneThatStandsStill holds that keys go to programs again soon after a keeper was
// stopped between two keys of a chord, and that the keeper goes on then, with every window.
func TestKeyboardOfOneThatStandsStill(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	p := keeping(t, s)
	x := s.NewX(t)
	out := filepath.Join(t.TempDir(), "typed")
	one := s.Client(t, "one", "xterm", "-e", "sh", "-c", "cat >"+out)
	s.Client(t, "two", "xclock")
	testkit.Until(t, "both are on the desk", func() bool { return strings.Count(testkit.Run(t, s.Env, testkit.Binary(t), "list"), "\n") == 2 })
	s.Do(t, "send new of title:two", "go 1")
	s.RootIs(t, "_NET_ACTIVE_WINDOW", one)
	typed := func() string { data, _ := os.ReadFile(out); return string(data) }
	x.Type("a Return")
	testkit.Until(t, "what is typed goes to the window", func() bool { return typed() == "a\n" })
	time.Sleep(leastTime) // what has just begun does not begin again
	p.Still()
	x.Press(testkit.Super, 't') // which goes on with a key, and nobody says with whose
	x.Type("b Return")
	testkit.Until(t, "the keyboard is free again", func() bool { return strings.HasSuffix(typed(), "b\n") })
	testkit.Until(t, "the keeper has begun again", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "log")
		return err == nil && strings.Count(out, "Began with") == 2
	})
	testkit.Until(t, "it answers with what was there", func() bool {
		out, err := testkit.TryRun(s.Env, testkit.Binary(t), "list")
		return err == nil && strings.Contains(out, "one") && strings.Contains(out, "two") && strings.Contains(out, "A2")
	})
	x.Press(testkit.Super, '2')
	s.RootIs(t, "_NET_CURRENT_DESKTOP", "1")
	if got := s.Do(t, "undo"); !strings.Contains(got, "Sent") {
		t.Errorf("undo says %q", got)
	}
}
