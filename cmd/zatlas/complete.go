package main

import (
	"context"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
)

// completeCommands goes on with a command that is one argument, in the shell: by the same
// words as Tab on the line of the screens.
func completeCommands(d func() *desk.Desk) cobra.CompletionFunc {
	return func(_ *cobra.Command, _ []string, begun string) ([]string, cobra.ShellCompDirective) {
		head := begun[:strings.LastIndexByte(begun, ' ')+1]
		var lines []string
		for _, word := range lang.Complete(begun, d()) {
			if strings.Contains(word, " ") && word[0] != '"' { // a kind of word, and none itself
				continue
			}
			line := head + strings.TrimSuffix(word, "…")
			if v, ok := desk.FindVerb(line); ok {
				line += "\t" + v.Help
			}
			lines = append(lines, line)
		}
		return lines, cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveKeepOrder
	}
}

// runningDesk is the desk of $DISPLAY's keeper, with the plates there are; nil where none runs.
func runningDesk() *desk.Desk {
	client, err := dial()
	if err != nil {
		return nil
	}
	return deskToComplete(client.Desk(context.Background()))
}

// sceneDesk is the desk of a scene file; nil where that is none.
func sceneDesk(file string) func() *desk.Desk {
	return func() *desk.Desk { return deskToComplete(scene.ReadFile(file)) }
}

func deskToComplete(d *desk.Desk, err error) *desk.Desk {
	if err != nil {
		return nil
	}
	if shelf := plate.Beside(settings.Path()); shelf != nil {
		plates, _ := shelf.Read()
		d = d.WithPlates(plates)
	}
	return d
}
