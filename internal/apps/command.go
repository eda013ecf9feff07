package apps

import (
	"cmp"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"

	"github.com/kballard/go-shellquote"
)

// Words are those of a command, split as a shell splits them, with its quotes and
// backslashes; nothing else of a shell is meant by any sign.
func Words(line string) ([]string, error) {
	words, err := shellquote.Split(line)
	if err != nil {
		return nil, fmt.Errorf("the command %q has a quote that is not closed, or ends in a backslash", line)
	}
	return words, nil
}

// Shell is the user's shell, which runs in a terminal.
func Shell() App {
	shell := cmp.Or(os.Getenv("SHELL"), "/bin/sh")
	return App{Name: filepath.Base(shell), Command: []string{shell}, Terminal: true}
}

// Run is a command as an app that can be started. The error is that of one whose
// program is not in the PATH.
func Run(line string) (App, error) {
	words, err := Words(line)
	if err != nil {
		return App{}, err
	}
	if len(words) == 0 {
		return App{}, errors.New("a command has no words")
	}
	path, err := exec.LookPath(words[0])
	if err != nil {
		return App{}, fmt.Errorf("no program %s can be run: it is not in the PATH", words[0])
	}
	return App{Name: filepath.Base(words[0]), Command: append([]string{path}, words[1:]...)}, nil
}
