package apps

import (
	"cmp"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
)

// Words are those of a command, split as a shell splits them, with its quotes and
// backslashes; nothing else of a shell is meant by any sign.
func Words(line string) ([]string, error) {
	words, last := Parted(line + " ")
	if last.Text != "" || last.Quote != 0 {
		return nil, fmt.Errorf("the command %q has a quote that is not closed, or ends in a backslash", line)
	}
	return words, nil
}

// Begun is the word that a line for a shell ends with.
type Begun struct {
	Text  string // without its quotes
	Quote byte   // the one that is open: ' or ", or 0
}

// Parted splits a line into whole words, and the one begun at its end, which may be empty.
// Quotes and backslashes count as in a POSIX shell (2.2 Quoting).
func Parted(line string) (words []string, last Begun) {
	in := false
	for i := 0; i < len(line); i++ {
		c := line[i]
		switch {
		case last.Quote == 0 && strings.IndexByte(" \t\n", c) >= 0:
			if in {
				words, last, in = append(words, last.Text), Begun{}, false
			}
			continue
		case last.Quote == 0 && (c == '\'' || c == '"'):
			last.Quote = c
		case c == last.Quote && c != 0:
			last.Quote = 0
		case c == '\\' && last.Quote != '\'' && i+1 < len(line):
			if i++; last.Quote == '"' && strings.IndexByte("$`\"\\", line[i]) < 0 {
				last.Text += `\`
			}
			last.Text += line[i : i+1]
		default:
			last.Text += line[i : i+1]
		}
		in = true
	}
	return words, last
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
