// Zatlas shows all open work as one atlas and acts on it from the keyboard.
package main

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"log"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/spf13/cobra"

	"zatlas/internal/file"
	"zatlas/internal/settings"
)

// exitWords is the exit status for words that cannot be read; a command that
// fails exits with 1.
const exitWords = 2

// exitStuck is the exit status of a keeper that had to end without the X server
// or the disk.
const exitStuck = 3

// ofBuild are commands that only the build of the program has.
var ofBuild []func() *cobra.Command

// wordsError marks an error of the words given, not of what they ask for.
type wordsError struct{ error }

func (e wordsError) Unwrap() error { return e.error }

func main() {
	log.SetOutput(io.Discard) // of the HTTP library alone; what it means is in its errors
	root := newRoot()
	if err := root.Execute(); err != nil {
		fmt.Fprintln(os.Stderr, "zatlas: "+err.Error())
		var words wordsError
		if errors.As(err, &words) {
			os.Exit(exitWords)
		}
		os.Exit(1)
	}
}

func newRoot() *cobra.Command {
	var theme, from, on string
	var pictures bool
	root := &cobra.Command{
		Use:   "zatlas",
		Short: "An atlas of all open work: workspaces, monitors, windows",
		Long: `Zealous Atlas shows all your open work as one map, to scale, and you act on it
from the keyboard. Without a command it shows the desk of $DISPLAY: the keeper's
desk, or your windows beside another window manager.

Results go to standard output, everything else to standard error. Exit status: 0;
1 on failure, with a sentence that says why and what to do; 2 for a syntax error.
The settings are ` + fromHome(settings.Path()) + `,
the state is in ` + fromHome(file.StateFolder()) + `.`,
		SilenceErrors: true,
		SilenceUsage:  true,
		Args:          noArguments,
		RunE:          func(cmd *cobra.Command, _ []string) error { return anywhere(cmd.Context(), theme, from, on, pictures) },
	}
	root.Version = cmp.Or(version, "dev")
	root.SetVersionTemplate(versions())
	themeFlag(root, &theme)
	fromFlag(root, &from)
	onFlag(root, &on)
	root.Flags().BoolVar(&pictures, "pictures", false, "with --on: show what is in windows, too")
	root.SetHelpFunc(writeHelp)
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return wordsError{flagFault(err)} })
	root.CompletionOptions.DisableDefaultCmd = true
	root.AddCommand(demoCommand(), configCommand(), keepCommand(), guardCommand(), alongsideCommand(), relayCommand(), doCommand(), drawCommand(), surveyCommand(), lineCommand(), listCommand(), logCommand(), keysCommand(), planCommand(), packCommand(), unpackCommand(), platesCommand(), watchCommand(), doctorCommand(), completionCommand())
	for _, command := range ofBuild {
		root.AddCommand(command())
	}
	root.AddCommand(topicCommands()...)
	groupCommands(root)
	completeRest(root)
	return root
}

// groupCommands lists the commands by what they are for.
func groupCommands(root *cobra.Command) {
	for i, g := range []struct{ title, names string }{
		{"The display:", "keep alongside demo"},
		{"Your desk:", "do list keys line log plates watch"},
		{"Drawings and the survey:", "draw plan survey"},
		{"Setting up:", "config doctor pack unpack completion help relay"},
	} {
		id := strconv.Itoa(i)
		root.AddGroup(&cobra.Group{ID: id, Title: g.title})
		for _, c := range root.Commands() {
			if slices.Contains(strings.Fields(g.names), c.Name()) {
				c.GroupID = id
			}
		}
		if strings.Contains(g.names, "help") {
			root.SetHelpCommandGroupID(id)
		}
	}
}

var numberFault = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`: strconv\.\w+: parsing "[^"]*": [a-z ]+$`) })

// flagFault is the fault of a flag in our words.
func flagFault(err error) error {
	words := numberFault().ReplaceAllString(err.Error(), ": it must be a whole number, or true or false where it takes these")
	return errors.New(strings.Replace(words, ": time: invalid duration", ": no while such as 60s or 5m is", 1))
}

// fromHome is a path as people write it: from ~ on, where it is in the home folder.
func fromHome(path string) string {
	if rest, in := strings.CutPrefix(path, os.Getenv("HOME")+"/"); in && os.Getenv("HOME") != "" {
		return "~/" + rest
	}
	return path
}

// noArguments faults arguments, with the commands there are.
func noArguments(cmd *cobra.Command, args []string) error {
	if len(args) == 0 {
		return nil
	}
	if cmd.HasParent() {
		return wordsError{fmt.Errorf("%s takes no arguments, and got %q", cmd.Name(), args[0])}
	}
	return wordsError{fmt.Errorf("there is no command %q; zatlas --help lists them", args[0])}
}
