package apps

import (
	"errors"
	"fmt"
	"os"
	"os/exec"
	"sync/atomic"
	"syscall"
)

// Launcher starts the programs that are installed, each as a process of its
// own that outlives us.
type Launcher struct {
	Index
	// Terminal is what runs a program in a terminal; empty where nothing does.
	Terminal func() []string

	made atomic.Int64
}

// Start starts a program, directly and by no shell. Its windows are known by
// the startup id, where it follows that protocol, or by the process.
func (l *Launcher) Start(app App) (startupID string, pid int, err error) {
	args := app.Command
	if app.Terminal {
		words := l.Terminal()
		if len(words) == 0 {
			return "", 0, errors.New("it needs a terminal, and none is installed")
		}
		args = append(words, args...)
	}
	if len(args) == 0 {
		return "", 0, errors.New("it names no program")
	}
	startupID = fmt.Sprintf("zatlas-%d-%d_TIME0", os.Getpid(), l.made.Add(1))
	cmd := exec.Command(args[0], args[1:]...)
	// The second is a word to toolkits that wait for a manager with frames of its own.
	cmd.Env = append(os.Environ(), "DESKTOP_STARTUP_ID="+startupID, "_JAVA_AWT_WM_NONREPARENTING=1")
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true}
	if cmd.Dir = app.Dir; cmd.Dir == "" {
		cmd.Dir = l.Getenv("HOME")
	}
	if err := cmd.Start(); err != nil {
		return "", 0, err
	}
	go cmd.Wait() // so that it leaves no trace when it ends
	return startupID, cmd.Process.Pid, nil
}
