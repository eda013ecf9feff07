package apps

import (
	"errors"
	"fmt"
	"os"
	"os/exec"
	"sync/atomic"
	"syscall"
	"time"
)

// Launcher starts the programs that are installed, each as a process of its
// own that outlives us.
type Launcher struct {
	Getenv   func(string) string
	Terminal []string // runs a program in a terminal

	list []App
	read time.Time
	made atomic.Int64
}

// fresh is how long a list of installed programs is taken for true.
const fresh = 5 * time.Second

// Installed lists the programs that are to be shown.
func (l *Launcher) Installed() []App {
	if l.list == nil || time.Since(l.read) > fresh {
		l.list = Installed(Folders(l.Getenv), Locale(l.Getenv), l.Getenv("XDG_CURRENT_DESKTOP"))
		l.read = time.Now()
	}
	return l.list
}

// Start starts a program, directly and by no shell. Its windows are known by
// the startup id, where it follows that protocol, or by the process.
func (l *Launcher) Start(app App) (startupID string, pid int, err error) {
	args := app.Command
	if app.Terminal {
		args = append(append([]string{}, l.Terminal...), args...)
	}
	if len(args) == 0 {
		return "", 0, errors.New("it names no program")
	}
	startupID = fmt.Sprintf("zatlas-%d-%d_TIME0", os.Getpid(), l.made.Add(1))
	cmd := exec.Command(args[0], args[1:]...)
	cmd.Env = append(os.Environ(), "DESKTOP_STARTUP_ID="+startupID)
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
