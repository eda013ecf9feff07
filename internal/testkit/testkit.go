// Package testkit is for tests: real X servers with monitors that come and go,
// real clients on them, and the real binary in a terminal. What it needs must
// be installed: a test without its tools fails.
package testkit

import (
	"bufio"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"
)

// Deadline is how long a condition may take to come true. It is generous: a
// busy machine must not fail a test that an idle one passes.
const Deadline = 40 * time.Second

// Seed is the seed of a random walk: the usual one, and with SOAK=1 in the
// environment, for the long tests, another each time, which is told; SOAK=SEED
// is that one again.
func Seed(t testing.TB, usual uint64) uint64 {
	t.Helper()
	soak := os.Getenv("SOAK")
	if soak == "" {
		return usual
	}
	seed, err := strconv.ParseUint(soak, 10, 64)
	if err != nil || seed == 1 {
		seed = rand.Uint64()
	}
	t.Logf("seed %d", seed)
	return seed
}

// Until waits for a condition, and fails the test with what was waited for.
func Until(t testing.TB, what string, cond func() bool) {
	t.Helper()
	for end := time.Now().Add(Deadline); ; time.Sleep(5 * time.Millisecond) {
		if cond() {
			return
		}
		if time.Now().After(end) {
			t.Fatalf("after %v still not: %s", Deadline, what)
		}
	}
}

// Soon waits a few seconds for a condition, and tells whether it came true: for
// what may have to be done again where the other side was not ready for it yet.
func Soon(cond func() bool) bool {
	for end := time.Now().Add(4 * time.Second); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		if cond() {
			return true
		}
	}
	return false
}

// Run runs a command to its end and gives what it printed. A command that
// fails fails the test.
func Run(t testing.TB, env []string, name string, args ...string) string {
	t.Helper()
	out, err := TryRun(env, name, args...)
	if err != nil {
		t.Fatalf("%s %s: %v\n%s", name, strings.Join(args, " "), err, out)
	}
	return out
}

// TryRun is Run for a command that may fail.
func TryRun(env []string, name string, args ...string) (string, error) {
	cmd := exec.Command(name, args...)
	cmd.Env = append(os.Environ(), env...)
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// Start starts a process that is ended with the test.
func Start(t testing.TB, env []string, name string, args ...string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command(name, args...)
	cmd.Env = append(os.Environ(), env...)
	var log strings.Builder
	cmd.Stderr, cmd.Stdout = &log, &log
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	if err := cmd.Start(); err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	ended := make(chan struct{})
	go func() { cmd.Wait(); close(ended) }()
	t.Cleanup(func() {
		cmd.Process.Kill()
		<-ended
		if t.Failed() {
			t.Logf("%s printed:\n%s", name, log.String())
		}
	})
	return cmd
}

// built is the folder of the program that was built, which Main removes.
var built string

var binary = sync.OnceValues(func() (path string, err error) {
	if built, err = os.MkdirTemp("", "zatlas-test-"); err != nil {
		return "", err
	}
	path = filepath.Join(built, "zatlas")
	out, err := exec.Command("go", "build", "-o", path, "zatlas/cmd/zatlas").CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("building zatlas: %w\n%s", err, out)
	}
	return path, nil
})

// Process is a process that a test sees end.
type Process struct {
	*exec.Cmd
	t     testing.TB
	ended chan struct{}
	log   strings.Builder
}

// Still stops the process by SIGSTOP, and waits until all of it stands still.
func (p *Process) Still() {
	p.t.Helper()
	p.Process.Signal(syscall.SIGSTOP)
	Until(p.t, "the process stands still", func() bool {
		threads, err := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/stat", p.Process.Pid))
		for _, name := range threads {
			stat, unread := os.ReadFile(name)
			if unread != nil || !strings.Contains(string(stat), ") T ") {
				return false
			}
		}
		return err == nil && len(threads) > 0
	})
}

// Spawn starts a process whose end the test waits for.
func Spawn(t testing.TB, env []string, name string, args ...string) *Process {
	t.Helper()
	p := &Process{Cmd: exec.Command(name, args...), t: t, ended: make(chan struct{})}
	p.Env = append(os.Environ(), env...)
	p.Stderr, p.Stdout = &p.log, &p.log
	p.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	if err := p.Start(); err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	go func() { p.Cmd.Wait(); close(p.ended) }()
	t.Cleanup(func() { p.Process.Kill(); <-p.ended })
	return p
}

// End waits until the process has ended, and gives its exit status and what it
// printed.
func (p *Process) End() (status int, printed string) {
	p.t.Helper()
	select {
	case <-p.ended:
		return p.ProcessState.ExitCode(), p.log.String()
	case <-time.After(Deadline):
		p.Process.Kill()
		<-p.ended
		p.t.Fatalf("%s did not end; it printed:\n%s", p.Path, p.log.String())
	}
	return 0, ""
}

// Binary builds the program once and gives its path.
func Binary(t testing.TB) string {
	t.Helper()
	path, err := binary()
	if err != nil {
		t.Fatal(err)
	}
	return path
}

const xorgConfig = `
Section "Device"
 Identifier "d"
 Driver "dummy"
 VideoRam 256000
EndSection
Section "Monitor"
 Identifier "m"
 HorizSync 5-1000
 VertRefresh 5-200
EndSection
Section "Screen"
 Identifier "s"
 Device "d"
 Monitor "m"
 DefaultDepth 24
 SubSection "Display"
  Depth 24
  Modes "1920x1080"
  Virtual 8192 4096
 EndSubSection
EndSection
Section "ServerFlags"
 Option "AutoAddDevices" "false"
 Option "AutoAddGPU" "false"
 Option "DontVTSwitch" "true"
EndSection
`

// Server is an X server of a test's own.
type Server struct {
	Display string
	Env     []string // DISPLAY and folders of its own
	Dir     string

	process *os.Process
}

// Signal sends the server a signal, such as to stand still and to go on.
func (s *Server) Signal(t testing.TB, sig os.Signal) {
	t.Helper()
	if err := s.process.Signal(sig); err != nil {
		t.Fatal(err)
	}
}

// NewServer starts an X server with one monitor of 1920 by 1080.
func NewServer(t testing.TB) *Server {
	t.Helper()
	return newServer(t)
}

// NewServerOfDepth starts one whose root has so many bits a pixel.
func NewServerOfDepth(t testing.TB, bits int) *Server {
	t.Helper()
	return newServer(t, "-depth", strconv.Itoa(bits))
}

// NewGuardedServer starts one that lets in who has its cookie. It gives the paths of an
// authority file with that, and of one for an untrusted connection (the SECURITY
// extension).
func NewGuardedServer(t testing.TB) (s *Server, trusted, untrusted string) {
	t.Helper()
	dir := t.TempDir()
	trusted, untrusted = filepath.Join(dir, "trusted"), filepath.Join(dir, "untrusted")
	for _, display := range []string{":0", ":1", ":2", ":3", ":4", ":5", ":6", ":7", ":8", ":9"} { // which it is shows when it runs
		Run(t, nil, "xauth", "-q", "-f", trusted, "add", display, ".", fmt.Sprintf("%016x%016x", rand.Uint64(), rand.Uint64()))
	}
	s = newServer(t, "-auth", trusted)
	Run(t, []string{"XAUTHORITY=" + trusted}, "xauth", "-q", "-f", untrusted, "generate", s.Display, ".", "untrusted", "timeout", "0")
	return s, trusted, untrusted
}

func newServer(t testing.TB, args ...string) *Server {
	t.Helper()
	dir := t.TempDir()
	config := filepath.Join(dir, "xorg.conf")
	if err := os.WriteFile(config, []byte(xorgConfig), 0o600); err != nil {
		t.Fatal(err)
	}
	r, w, err := os.Pipe()
	if err != nil {
		t.Fatal(err)
	}
	log := filepath.Join(dir, "xorg.log")
	cmd := exec.Command("Xorg", "-displayfd", "3", "-config", config, "-noreset", "-nolisten", "tcp", "-logfile", log)
	cmd.Args = append(cmd.Args, args...)
	cmd.ExtraFiles = []*os.File{w}
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	if err := cmd.Start(); err != nil {
		t.Fatalf("Xorg: %v", err)
	}
	w.Close()
	t.Cleanup(func() { cmd.Process.Kill(); cmd.Wait(); r.Close() })
	number, err := bufio.NewReader(r).ReadString('\n')
	if err != nil {
		text, _ := os.ReadFile(log)
		t.Fatalf("Xorg did not start: %v\n%s", err, text)
	}
	s := &Server{Display: ":" + strings.TrimSpace(number), Dir: dir, process: cmd.Process}
	run := filepath.Join(dir, "run")
	if err := os.Mkdir(run, 0o700); err != nil {
		t.Fatal(err)
	}
	s.Env = []string{"DISPLAY=" + s.Display, "XDG_RUNTIME_DIR=" + run, "XDG_STATE_HOME=" + filepath.Join(dir, "state"), "XDG_CONFIG_HOME=" + filepath.Join(dir, "config")}
	return s
}

// Plug plugs a monitor of 1920 by 1080 in, DUMMY1 and on, at a place of the plane.
func (s *Server) Plug(t testing.TB, output string, x, y int) {
	t.Helper()
	TryRun(s.Env, "xrandr", "--addmode", output, "1920x1080") // may be known already
	Run(t, s.Env, "xrandr", "--output", output, "--mode", "1920x1080", "--pos", fmt.Sprintf("%dx%d", x, y))
}

// Unplug takes a monitor away.
func (s *Server) Unplug(t testing.TB, output string) {
	t.Helper()
	Run(t, s.Env, "xrandr", "--output", output, "--off")
}

// Xprop is a property as xprop prints it, without the name; empty where it is missing.
func (s *Server) Xprop(t testing.TB, window, property string) string {
	t.Helper()
	args := []string{"-root", property}
	if window != "root" {
		args = []string{"-id", window, property}
	}
	out, err := TryRun(s.Env, "xprop", args...)
	if err != nil {
		return ""
	}
	for _, sep := range []string{" = ", ": "} {
		if _, value, ok := strings.Cut(strings.TrimSpace(out), sep); ok {
			return strings.TrimPrefix(value, "window id # ")
		}
	}
	return ""
}

// Settings writes the file of settings that programs on this display read, and gives its path.
func (s *Server) Settings(t testing.TB, text string) string {
	t.Helper()
	path := filepath.Join(s.Dir, "config", "zealous-atlas", "settings.toml")
	if err := errors.Join(os.MkdirAll(filepath.Dir(path), 0o700), os.WriteFile(path, []byte(text), 0o600)); err != nil {
		t.Fatal(err)
	}
	return path
}

// Info is a window's place as xwininfo tells it: x, y, width, height without
// the border, and whether it is viewable. ok is false where it is gone.
func (s *Server) Info(window string) (x, y, w, h int, viewable, ok bool) {
	out, err := TryRun(s.Env, "xwininfo", "-id", window)
	if err != nil {
		return
	}
	for line := range strings.Lines(out) {
		name, value, _ := strings.Cut(strings.TrimSpace(line), ":")
		value = strings.TrimSpace(value)
		for key, p := range map[string]*int{
			"Absolute upper-left X": &x, "Absolute upper-left Y": &y, "Width": &w, "Height": &h,
		} {
			if name == key {
				fmt.Sscan(value, p)
			}
		}
		if name == "Map State" {
			viewable = value == "IsViewable"
		}
	}
	return x, y, w, h, viewable, true
}

// Seen tells whether a window shows.
func (s *Server) Seen(window string) bool {
	_, _, _, _, viewable, _ := s.Info(window)
	return viewable
}

// Focused waits until a window is the active one.
func (s *Server) Focused(t testing.TB, window string) {
	t.Helper()
	s.RootIs(t, "_NET_ACTIVE_WINDOW", window)
}

// RootIs waits until a property of the root window has a value.
func (s *Server) RootIs(t testing.TB, property, want string) {
	t.Helper()
	Until(t, property+" is "+want, func() bool { return s.Xprop(t, "root", property) == want })
}

// Card tells whether a card shows.
func (s *Server) Card() bool {
	out, _ := TryRun(s.Env, "xwininfo", "-name", "Zealous Atlas card")
	return strings.Contains(out, "IsViewable")
}

// Named gives the id of the window with that title, once there is one.
func (s *Server) Named(t testing.TB, title string) string {
	t.Helper()
	id := ""
	Until(t, "a window called "+title, func() bool {
		out, err := TryRun(s.Env, "xwininfo", "-name", title)
		if _, rest, ok := strings.Cut(out, "Window id: "); ok && err == nil {
			id, _, _ = strings.Cut(rest, " ")
		}
		return id != ""
	})
	return id
}

// Client starts a real client with a title and waits until its window is mapped, or
// managed: clients that are started in turn then open in that order.
func (s *Server) Client(t testing.TB, title, name string, args ...string) string {
	t.Helper()
	Start(t, s.Env, name, append([]string{"-title", title}, args...)...)
	id := s.Named(t, title)
	Until(t, title+" is mapped or managed", func() bool {
		out, err := TryRun(s.Env, "xwininfo", "-id", id)
		return err == nil && strings.Contains(out, "IsViewable") || strings.Contains(s.Xprop(t, id, "WM_STATE"), "icon window")
	})
	return id
}

// Keeper starts the real keeper and waits until it answers. It draws no line unless --line
// says so, so that the whole of a monitor is for windows.
func (s *Server) Keeper(t testing.TB, args ...string) *exec.Cmd {
	t.Helper()
	if !slices.Contains(args, "--line") {
		args = append([]string{"--line", "none"}, args...)
	}
	cmd := Start(t, s.Env, Binary(t), append([]string{"keep"}, args...)...)
	Until(t, "the keeper answers", func() bool {
		_, err := TryRun(s.Env, Binary(t), "list")
		return err == nil
	})
	return cmd
}

// Do has the keeper carry out commands.
func (s *Server) Do(t testing.TB, commands ...string) string {
	t.Helper()
	return Run(t, s.Env, Binary(t), append([]string{"do"}, commands...)...)
}

// List is what zatlas list prints; nothing where no window matches.
func (s *Server) List(t testing.TB, args ...string) string {
	t.Helper()
	out, err := TryRun(s.Env, Binary(t), append([]string{"list"}, args...)...)
	if err != nil && !strings.Contains(out, "no window matches") {
		t.Fatalf("zatlas list %s: %v\n%s", strings.Join(args, " "), err, out)
	}
	if err != nil {
		return ""
	}
	return out
}

// Terminal is the real binary, or any program, under tmux.
type Terminal struct {
	t      testing.TB
	socket string
}

// NewTerminal runs a command in a terminal of that many cells.
func NewTerminal(t testing.TB, w, h int, env []string, command ...string) *Terminal {
	t.Helper()
	term := &Terminal{t: t, socket: filepath.Join(t.TempDir(), "tmux")}
	conf := filepath.Join(filepath.Dir(term.socket), "tmux.conf")
	lines := "set -g status off\nset -g escape-time 0\nset -g default-terminal tmux-256color\nset -g mouse on\n"
	if err := os.WriteFile(conf, []byte(lines), 0o600); err != nil {
		t.Fatal(err)
	}
	quoted := []string{"env"}
	for _, word := range append(append([]string{}, env...), command...) {
		quoted = append(quoted, "'"+strings.ReplaceAll(word, "'", `'\''`)+"'")
	}
	term.tmux("-f", conf, "new-session", "-d", "-x", fmt.Sprint(w), "-y", fmt.Sprint(h), strings.Join(quoted, " ")+"; echo \"exit status $?\"; exec sleep 600")
	t.Cleanup(func() { TryRun(nil, "tmux", "-S", term.socket, "kill-server") })
	return term
}

func (term *Terminal) tmux(args ...string) string {
	term.t.Helper()
	return Run(term.t, nil, "tmux", append([]string{"-S", term.socket}, args...)...)
}

// Keys types keys, as tmux names them; a word that is no key's name is typed.
func (term *Terminal) Keys(keys ...string) *Terminal {
	term.t.Helper()
	for _, k := range keys {
		if k == ";" {
			k = `\;` // else it would part two commands of tmux
		}
		term.tmux("send-keys", "--", k)
	}
	return term
}

// Again types a key that was just typed once more. It waits first, as a finger does: else the key
// would be taken for one that is held.
func (term *Terminal) Again(key string) *Terminal {
	term.t.Helper()
	time.Sleep(150 * time.Millisecond)
	term.Keys(key)
	return term
}

// Type types a text as it stands.
func (term *Terminal) Type(text string) *Terminal {
	term.t.Helper()
	term.tmux("send-keys", "-l", "--", text)
	return term
}

// Resize changes the size of the terminal.
func (term *Terminal) Resize(w, h int) {
	term.t.Helper()
	term.tmux("resize-window", "-x", fmt.Sprint(w), "-y", fmt.Sprint(h))
}

// Screen is what the terminal shows.
func (term *Terminal) Screen() string { return term.tmux("capture-pane", "-p") }

// Wait waits until the screen holds all the texts and is drawn to its end, that
// is, the same twice in a row; and gives it.
func (term *Terminal) Wait(texts ...string) string {
	term.t.Helper()
	screen, before := "", ""
	for end := time.Now().Add(Deadline); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		before, screen = screen, term.Screen()
		missing := false
		for _, text := range texts {
			missing = missing || !strings.Contains(screen, text)
		}
		if !missing && screen == before {
			return screen
		}
	}
	term.t.Fatalf("the screen never showed %q:\n%s", texts, screen)
	return screen
}

// Ended waits until the program has ended, and gives its exit status.
func (term *Terminal) Ended() string {
	term.t.Helper()
	_, status, _ := strings.Cut(term.Wait("exit status"), "exit status ")
	return strings.TrimSpace(status)
}
