package main

import (
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"strconv"
	"syscall"

	"github.com/jezek/xgb/xproto"
	"github.com/spf13/cobra"

	"zatlas/internal/host/display"
	"zatlas/internal/host/display/board"
)

// guardCommand is what a keeper starts beside itself, so that the keyboard does not stand
// still with it.
func guardCommand() *cobra.Command {
	return &cobra.Command{
		Use: "guard WINDOW PROCESS", Hidden: true, Args: cobra.ExactArgs(2),
		Short: "Give the keyboard back where a keeper stands still",
		RunE: func(_ *cobra.Command, args []string) error {
			window, err := strconv.ParseUint(args[0], 10, 32)
			if err != nil {
				return wordsError{fmt.Errorf("%q is no window", args[0])}
			}
			pid, err := strconv.Atoi(args[1])
			if err != nil || pid <= 1 {
				return wordsError{fmt.Errorf("%q is no process", args[1])}
			}
			return board.Guard(os.Getenv("DISPLAY"), xproto.Window(window), pid)
		},
	}
}

// guarded starts a guard for a keeper, and gives what ends it.
func guarded(self string, life xproto.Window, log *slog.Logger) (end func()) {
	cmd := exec.Command(self, "guard", strconv.FormatUint(uint64(life), 10), strconv.Itoa(os.Getpid()))
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true} // a key of the terminal does not end it
	if err := cmd.Start(); err != nil {
		log.Warn("nothing guards the keyboard, should this process stand still", "error", err.Error())
		return func() {}
	}
	return func() {
		cmd.Process.Kill()
		cmd.Wait()
	}
}

// answers tells whether a display answers.
func answers(name string) bool {
	conn, _, err := display.Connect(name)
	if err != nil {
		return false
	}
	conn.Close()
	return true
}
