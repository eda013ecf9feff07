package main

import (
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/remote"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// annexe is another machine: this one, by a real sshd on the loopback with keys of the
// test's own, where zatlas is that of the test and the displays are those of env.
type annexe struct {
	dir  string
	env  []string // of those who look from here
	sshd *testkit.Process
	path string // of its configuration
}

func newAnnexe(t *testing.T, there []string) *annexe {
	t.Helper()
	sshd, err := exec.LookPath("/usr/sbin/sshd")
	if err != nil {
		t.Fatalf("openssh-server is not installed: %v", err)
	}
	dir := t.TempDir()
	a := &annexe{dir: dir}
	write := func(name, text string, mode os.FileMode) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(text), mode); err != nil {
			t.Fatal(err)
		}
		return path
	}
	for _, key := range []string{"host", "own"} {
		testkit.Run(t, nil, "ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", filepath.Join(dir, key))
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	port := l.Addr().(*net.TCPAddr).Port
	l.Close()
	os.MkdirAll("/run/sshd", 0o755) // which its service makes else
	bin := filepath.Join(dir, "bin")
	if err := os.Mkdir(bin, 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.Symlink(testkit.Binary(t), filepath.Join(bin, "zatlas")); err != nil {
		t.Fatal(err)
	}
	set := "SetEnv HOME=" + dir + " PATH=" + bin + ":/usr/bin:/bin"
	for _, e := range there {
		if !strings.HasPrefix(e, "DISPLAY=") {
			set += " " + e
		}
	}
	a.path = write("sshd_config", fmt.Sprintf(`Port %d
ListenAddress 127.0.0.1
HostKey %s/host
AuthorizedKeysFile %s/own.pub
PidFile none
StrictModes no
UsePAM no
PasswordAuthentication no
PermitRootLogin prohibit-password
X11Forwarding yes
%s
`, port, dir, dir, set), 0o600)
	conf := write("ssh_config", fmt.Sprintf(`Host annexe
 HostName 127.0.0.1
 Port %d
 IdentityFile %s/own
 IdentitiesOnly yes
 UserKnownHostsFile %s/known
 StrictHostKeyChecking accept-new
`, port, dir, dir), 0o600)
	here := filepath.Join(dir, "here")
	if err := os.Mkdir(here, 0o755); err != nil {
		t.Fatal(err)
	}
	write("here/ssh", "#!/bin/sh\necho \"$@\" >>"+dir+"/asked\nexec /usr/bin/ssh -F "+conf+" \"$@\"\n", 0o755)
	a.env = []string{"PATH=" + here + ":" + os.Getenv("PATH"), "DISPLAY=", "XDG_RUNTIME_DIR=" + dir, "XDG_STATE_HOME=" + dir, "XDG_CONFIG_HOME=" + dir}
	a.start(t, sshd)
	return a
}

func (a *annexe) start(t *testing.T, sshd string) {
	t.Helper()
	a.sshd = testkit.Spawn(t, nil, sshd, "-D", "-e", "-f", a.path)
	said := ""
	if !testkit.Soon(func() bool {
		out, err := testkit.TryRun(a.env, filepath.Join(a.dir, "here", "ssh"), "annexe", "true")
		said = out
		return err == nil
	}) {
		t.Fatalf("the machine cannot be reached: %s", said)
	}
}

// cut ends every connection, and lets none come.
func (a *annexe) cut(t *testing.T, display string) {
	t.Helper()
	testkit.TryRun(nil, "pkill", "-f", "zatlas relay "+display+"$") // those of other tests go on
	a.sshd.Process.Kill()
	a.sshd.End()
}

// The desk of another machine is on the same screens.
func TestAfar(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	k := testkit.Spawn(t, s.Env, testkit.Binary(t), "keep")
	testkit.Until(t, "the keeper answers", func() bool { _, err := testkit.TryRun(s.Env, testkit.Binary(t), "list"); return err == nil })
	s.Client(t, "Hall Plan", "xterm")
	s.Client(t, "Press List", "xterm")
	a := newAnnexe(t, s.Env)
	on := "annexe" + s.Display
	out := testkit.Run(t, a.env, testkit.Binary(t), "list", "--on", on)
	if !strings.Contains(out, "Hall Plan") || !strings.Contains(out, "Press List") {
		t.Errorf("the windows there are\n%s", out)
	}
	testkit.Run(t, a.env, testkit.Binary(t), "do", "--on", on, "add Foyer", "send 2 of title:Hall")
	if got := s.Do(t, "undo"); !strings.Contains(got, "Sent") {
		t.Errorf("what was done from afar is, there, %s", got)
	}
	if out := testkit.Run(t, a.env, testkit.Binary(t), "line", "--on", on); !strings.Contains(out, "Foyer") {
		t.Errorf("the line is %s", out)
	}
	asked, err := os.ReadFile(filepath.Join(a.dir, "asked"))
	if want := "-o BatchMode=yes -- annexe zatlas relay " + s.Display + "\n"; err != nil || !strings.Contains(string(asked), want) {
		t.Errorf("ssh was asked for\n%s", asked)
	}
	// What is for there alone is refused, and so are hostile names.
	for _, line := range []string{"run xterm", "end", "restart", "reload", "pin a"} {
		if out, err := testkit.TryRun(a.env, testkit.Binary(t), "do", "--on", on, line); err == nil || !strings.Contains(out, "do it there") {
			t.Errorf("%s from afar: %s, %v", line, out, err)
		}
	}
	for _, on := range []string{"-oProxyCommand=touch /tmp/x", "annexe:0;ls", "annexe:x", "a b:0", "annexe:0.0.0", "@annexe", "-x@annexe:0", "annexe:"} {
		out, err := testkit.TryRun(a.env, testkit.Binary(t), "list", "--on="+on)
		if err == nil {
			t.Errorf("--on %q: %s", on, out)
		}
	}
	if out, err := testkit.TryRun(a.env, testkit.Binary(t), "relay", "annexe:0"); err == nil || !strings.Contains(out, "machine's own") {
		t.Errorf("a relay of another machine's display: %s", out)
	}
	if out, err := testkit.TryRun(a.env, testkit.Binary(t), "list", "--on", "annexe:99"); err == nil || !strings.Contains(out, ":99") {
		t.Errorf("a display that is not there: %s", out)
	}

	for _, c := range [][]string{{"do", "--on", "", "go 1"}, {"list", "--on="}, {"--on", ""}} {
		if out, err := testkit.TryRun(s.Env, testkit.Binary(t), c...); err == nil || !strings.Contains(out, "it names no machine") {
			t.Errorf("zatlas %q: %s", c, out)
		}
	}

	term := testkit.NewTerminal(t, 130, 40, a.env, testkit.Binary(t), "--on", on)
	term.Wait("Hall Plan", "annexe")
	s.Client(t, "Guest Rota", "xterm")
	term.Wait("Guest Rota")
	term.Keys("a").Type("Guests")
	term.Keys("Enter")
	term.Wait("Added workspace 3 Guests")
	a.cut(t, s.Display)
	term.Wait("No connection to annexe", "as last seen", "Hall Plan")
	s.Do(t, "rename 3 Late")
	a.start(t, "/usr/sbin/sshd")
	term.Wait("back", "Late")
	term.Keys("q")
	if got := term.Ended(); got != "0" {
		t.Errorf("the screens end with %s", got)
	}
	// Last, since a keeper that stands still for long starts again.
	k.Still()
	if out, err := testkit.TryRun(a.env, testkit.Binary(t), "do", "--on", on, "--wait", "1s", "go 1"); err == nil || !strings.Contains(out, "zatlas: no answer for 1s") {
		t.Errorf("of a keeper that stands still: %s, %v", out, err)
	}
	k.Process.Signal(syscall.SIGCONT)
}

// A display of another machine is one as any other, by ssh -Y; by -X the connection is
// untrusted, which is told.
func TestForwarded(t *testing.T) {
	s, trusted, _ := testkit.NewGuardedServer(t)
	t.Setenv("XAUTHORITY", trusted)
	m := manager.Start(t, s.Display, 2, manager.Switches{})
	s.Client(t, "Hall Plan", "xterm")
	a := newAnnexe(t, nil)
	env := append(slices.Clone(a.env), "DISPLAY="+s.Display, "XAUTHORITY="+trusted)
	// Said by name: on some systems -X alone is what -Y is.
	ssh := func(flag, script string) (string, error) {
		return testkit.TryRun(env, "timeout", "15", filepath.Join(a.dir, "here", "ssh"), flag, "-oForwardX11Trusted="+map[string]string{"-X": "no", "-Y": "yes"}[flag], "annexe", "XDG_RUNTIME_DIR="+a.dir+"; XDG_STATE_HOME="+a.dir+"; export XDG_RUNTIME_DIR XDG_STATE_HOME; "+script)
	}
	out, err := ssh("-Y", `zatlas alongside --linger 5s & for i in $(seq 40); do zatlas list && break; sleep 0.1; done; zatlas do "go 2" "rename 2 Press" "send 2 of title:Hall" end; wait`)
	if err != nil || !strings.Contains(out, "Hall Plan") || !strings.Contains(out, "Sent") {
		t.Errorf("with -Y: %v\n%s", err, out)
	}
	if current, _, _, _ := m.Shown(); current != 1 {
		t.Errorf("the manager shows %d", current)
	}
	if out, err = ssh("-X", "zatlas alongside"); err == nil || !strings.Contains(out, "untrusted") {
		t.Errorf("with -X: %v\n%s", err, out)
	}
}

// Beside another manager there, a desk is begun.
func TestAfarAlongside(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	manager.Start(t, s.Display, 2, manager.Switches{})
	s.Client(t, "Hall Plan", "xterm")
	a := newAnnexe(t, s.Env)
	out := testkit.Run(t, a.env, testkit.Binary(t), "list", "--on", "annexe"+s.Display)
	if !strings.Contains(out, "Hall Plan") {
		t.Errorf("the windows there are\n%s", out)
	}
	s.Do(t, "end")
}

// A keeper of another version is told of, and one that tells without end is let go.
func TestAfarStrangers(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for name, c := range map[string]struct{ script, want string }{
		"another version": {`printf 'HTTP/1.1 200 OK\r\nZatlas-Protocol: 999\r\nContent-Length: 2\r\n\r\n{}'; sleep 5`, "version 999"},
		"no keeper":       {`printf 'hello\n'; sleep 5`, "malformed"},
		"without end":     {`printf 'HTTP/1.1 200 OK\r\nZatlas-Protocol: ` + remote.Version + `\r\n\r\n'; yes '"title": "x", '`, "not a scene"},
		"it fails":        {`printf 'Host key verification failed.\033[31m\n' >&2; exit 255`, "Host key verification failed"},
	} {
		t.Run(name, func(t *testing.T) {
			bin := filepath.Join(dir, strings.ReplaceAll(name, " ", "-"))
			if err := os.Mkdir(bin, 0o755); err != nil {
				t.Fatal(err)
			}
			if err := os.WriteFile(filepath.Join(bin, "ssh"), []byte("#!/bin/sh\n"+c.script+"\n"), 0o755); err != nil {
				t.Fatal(err)
			}
			out, err := testkit.TryRun([]string{"PATH=" + bin + ":" + os.Getenv("PATH")}, testkit.Binary(t), "list", "--on", "annexe")
			if err == nil || !strings.Contains(out, c.want) || strings.Contains(out, "\x1b") {
				t.Errorf("it says %q, %v; want %s", out, err, c.want)
			}
		})
	}
}
