package store

import (
	"bufio"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/testkit/desks"
)

// role tells a child process of these tests what to do.
const role = "ZATLAS_STORE_TEST"

// child is this test binary, doing one of its roles.
func child(t *testing.T, name string, more ...string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command(os.Args[0], "-test.run=^TestChild$", "-test.v")
	cmd.Env = append(append(os.Environ(), role+"="+name), more...)
	return cmd
}

// TestChild is what the child processes run; by itself it does nothing.
func TestChild(t *testing.T) {
	switch os.Getenv(role) {
	case "saver":
		saveForever(t, os.Getenv("STORE"))
	case "full":
		diskFull(t, tmpfs(t, "size=384k"))
	case "read-only":
		diskReadOnly(t, tmpfs(t, "size=4m"))
	}
}

// marked is the demo desk with a number in the name of its first workspace.
func marked(t *testing.T, n int) *desk.Desk {
	t.Helper()
	d, _, err := desks.Demo(t).Apply(desk.Command{Verb: "rename", Args: []desk.Arg{{Kind: desk.Number, N: 1}, {Kind: desk.Name, Word: fmt.Sprint("mark ", n)}}})
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// mark reads that number from what is kept.
func mark(t *testing.T, s *Store) int {
	t.Helper()
	d, err := s.Desk(":0")
	if err != nil {
		t.Fatal(err)
	}
	if d == nil {
		return 0
	}
	n, err := strconv.Atoi(strings.TrimPrefix(d.Workspaces[0].Name, "mark "))
	if err != nil {
		t.Fatal(err)
	}
	return n
}

// saveForever saves higher and higher marks and tells each that is kept.
func saveForever(t *testing.T, path string) {
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	for n := mark(t, s) + 1; ; n++ {
		if err := save(s, marked(t, n), []Entry{{At: time.Now(), Source: "line", Words: strings.Repeat("x", n%3000)}}); err != nil {
			t.Fatal(err)
		}
		fmt.Printf("kept %d\n", n)
	}
}

// A process that saves is killed at random moments: what it said was kept is
// there, and the file is whole.
func TestKilledInMidWrite(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "state.db")
	rounds := 40
	if testing.Short() {
		rounds = 5
	}
	last := 0
	for range rounds {
		cmd := child(t, "saver", "STORE="+path)
		out, err := cmd.StdoutPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		lines := bufio.NewScanner(out)
		began := false
		for lines.Scan() {
			if n, ok := strings.CutPrefix(lines.Text(), "kept "); ok {
				if last, err = strconv.Atoi(n); err != nil {
					t.Fatal(err)
				}
				if !began {
					began = true
					time.AfterFunc(time.Duration(rand.IntN(20_000))*time.Microsecond, func() { cmd.Process.Kill() })
				}
			}
		}
		cmd.Wait()
		if !began {
			t.Fatal("the child kept nothing")
		}
		s, err := Open(path)
		if err != nil {
			t.Fatalf("after a kill at mark %d: %v", last, err)
		}
		if n := mark(t, s); n < last || n > last+1 {
			t.Fatalf("%d is kept after the kill, and %d was said to be", n, last)
		}
		if lines, err := s.Logbook(":0", 1_000_000); err != nil || len(lines) != mark(t, s) {
			t.Fatalf("the logbook has %d lines after %d, %v", len(lines), last, err)
		}
		s.Close()
	}
}

// inNamespace runs a child that may mount file systems of its own.
func inNamespace(t *testing.T, name string) {
	t.Helper()
	run := func(attr *syscall.SysProcAttr) ([]byte, error) {
		cmd := child(t, name)
		cmd.SysProcAttr = attr
		return cmd.CombinedOutput()
	}
	own := []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getuid(), Size: 1}}
	groups := []syscall.SysProcIDMap{{ContainerID: 0, HostID: os.Getgid(), Size: 1}}
	out, err := run(&syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWUSER | syscall.CLONE_NEWNS, UidMappings: own, GidMappings: groups})
	var exit *exec.ExitError
	if err != nil && !errors.As(err, &exit) && os.Getuid() == 0 {
		out, err = run(&syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWNS})
	}
	if err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
}

// tmpfs mounts a small file system. It goes with the process.
func tmpfs(t *testing.T, options string) string {
	t.Helper()
	dir := t.TempDir()
	if err := syscall.Mount("tmpfs", dir, "tmpfs", 0, options); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { syscall.Unmount(dir, syscall.MNT_DETACH) })
	return dir
}

func TestDiskFull(t *testing.T)     { inNamespace(t, "full") }
func TestDiskReadOnly(t *testing.T) { inNamespace(t, "read-only") }

// diskFull saves until the disk is full: that is an error, what was kept before
// is kept, and with room again it goes on.
func diskFull(t *testing.T, dir string) {
	path := filepath.Join(dir, "state.db")
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	if err := save(s, marked(t, 1), nil); err != nil {
		t.Fatal(err)
	}
	filler := filepath.Join(dir, "filler")
	fill(filler)
	n := 1
	for err = nil; err == nil && n < 1000; n++ {
		err = save(s, marked(t, n+1), []Entry{{At: time.Now(), Source: "line", Words: strings.Repeat("x", 2000)}})
	}
	if err == nil {
		t.Fatal("the disk never was full")
	}
	kept := mark(t, s)
	if kept != n-1 {
		t.Errorf("mark %d is kept, and %d was said to be", kept, n-1)
	}
	s.Close()
	if s, err = Open(path); err != nil {
		t.Fatalf("on the full disk: %v", err)
	}
	if again := mark(t, s); again != kept {
		t.Errorf("mark %d is kept on the full disk, %d before", again, kept)
	}
	os.Remove(filler)
	if err := save(s, marked(t, 5000), nil); err != nil || mark(t, s) != 5000 {
		t.Errorf("with room again: %v", err)
	}
	s.Close()
	os.Remove(path)
	fill(filler)
	if s, err := Open(filepath.Join(dir, "new", "state.db")); err == nil || s != nil {
		t.Errorf("a new file on a full disk: %v, %v", s, err)
	}
}

// fill takes all room that is left.
func fill(path string) {
	f, err := os.Create(path)
	for err == nil {
		_, err = f.Write(make([]byte, 4096))
	}
	f.Close()
}

// diskReadOnly keeps a desk, by a process that is killed so that the log is
// there too, and opens it on a disk that cannot be written.
func diskReadOnly(t *testing.T, dir string) {
	path := filepath.Join(dir, "state.db")
	cmd := child(t, "saver", "STORE="+path)
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	last := 0
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if n, ok := strings.CutPrefix(lines.Text(), "kept "); ok {
			if last, _ = strconv.Atoi(n); last >= 5 {
				cmd.Process.Kill()
			}
		}
	}
	cmd.Wait()
	if err := syscall.Mount("", dir, "", syscall.MS_REMOUNT|syscall.MS_RDONLY, ""); err != nil {
		t.Fatal(err)
	}
	before, _ := os.ReadFile(path)
	s, err := Open(path)
	if !errors.Is(err, ErrReadOnly) || s == nil {
		t.Fatalf("opened with %v, %v", s, err)
	}
	if n := mark(t, s); n < last {
		t.Errorf("mark %d is read, and %d was kept", n, last)
	}
	if err := s.Close(); err != nil {
		t.Error(err)
	}
	if after, _ := os.ReadFile(path); string(after) != string(before) || len(before) == 0 {
		t.Error("the file is another now")
	}
}
