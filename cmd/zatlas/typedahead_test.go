package main

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
	"unsafe"

	"zatlas/internal/testkit"
)

// newPTY opens a pseudo-terminal: the end of a terminal, and the file of a program's.
func newPTY(t *testing.T) (master, slave *os.File) {
	t.Helper()
	master, err := os.OpenFile("/dev/ptmx", os.O_RDWR|syscall.O_NOCTTY, 0)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { master.Close() })
	n := int32(0)
	for _, request := range []uintptr{syscall.TIOCSPTLCK, syscall.TIOCGPTN} { // unlock it, and its number
		if _, _, errno := syscall.Syscall(syscall.SYS_IOCTL, master.Fd(), request, uintptr(unsafe.Pointer(&n))); errno != 0 {
			t.Fatal(errno)
		}
	}
	slave, err = os.OpenFile(fmt.Sprintf("/dev/pts/%d", n), os.O_RDWR|syscall.O_NOCTTY, 0)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { slave.Close() })
	return master, slave
}

// What a slow terminal answers comes to the screens, also where they are left by a key that
// was typed before they began: nothing of it is left for the shell.
func TestTypedAheadQuit(t *testing.T) {
	t.Parallel()
	master, slave := newPTY(t)
	size := [4]uint16{40, 120}
	syscall.Syscall(syscall.SYS_IOCTL, slave.Fd(), syscall.TIOCSWINSZ, uintptr(unsafe.Pointer(&size)))
	if _, err := master.WriteString("q"); err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(testkit.Binary(t), "demo")
	home := t.TempDir()
	cmd.Env = []string{"TERM=xterm-256color", "HOME=" + home, "PATH=" + os.Getenv("PATH"), "TMPDIR=" + home}
	cmd.Stdin, cmd.Stdout, cmd.Stderr = slave, slave, slave
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true, Setctty: true}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	exited := make(chan struct{})
	go func() { cmd.Wait(); close(exited) }()
	go answerLate(master, exited)
	select {
	case <-exited:
	case <-time.After(testkit.Deadline):
		t.Fatal("the screens were not left by q")
	}
	// What is typed last ends what is left.
	script := "stty -icanon -echo min 1; head -c 3 > " + filepath.Join(home, "left")
	shell := exec.Command("sh", "-c", script)
	shell.Stdin, shell.Env = slave, cmd.Env
	if err := shell.Start(); err != nil {
		t.Fatal(err)
	}
	time.AfterFunc(200*time.Millisecond, func() { master.WriteString("END") }) // after all answers
	shell.Wait()
	if left, err := os.ReadFile(filepath.Join(home, "left")); err != nil || string(left) != "END" {
		t.Errorf("for the shell is left %q before what was typed then, %v", left, err)
	}
}

// answerLate answers as a terminal does what it is asked, each question a while after it
// was, or when the program has ended.
func answerLate(master *os.File, exited <-chan struct{}) {
	answers := map[string]string{"\x1b[?2026$p": "\x1b[?2026;0$y", "\x1b[?2027$p": "\x1b[?2027;0$y", "\x1b[?6n": "\x1b[?1;2R"}
	var asked []byte
	buf := make([]byte, 1<<16)
	for {
		n, err := master.Read(buf)
		if err != nil {
			return
		}
		asked = append(asked, buf[:n]...)
		for {
			first, answer, end := -1, "", 0
			for question, a := range answers {
				if at := bytes.Index(asked, []byte(question)); at >= 0 && (first < 0 || at < first) {
					first, answer, end = at, a, at+len(question)
				}
			}
			if first < 0 {
				break
			}
			asked = asked[end:]
			select {
			case <-exited:
			case <-time.After(40 * time.Millisecond):
			}
			master.WriteString(strings.Clone(answer))
		}
	}
}
