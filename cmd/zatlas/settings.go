package main

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
)

func configCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "config",
		Short: "Print a settings file with every setting explained",
		Long: `Print a settings file with every setting explained, at its usual value.
The settings are read from ` + settings.Path() + `.`,
		Example: "  zatlas config > " + settings.Path(),
		Args:    noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := fmt.Fprint(cmd.OutOrStdout(), settings.Example())
			return err
		},
	}
}

// hostChords are the chords of the settings as the host takes them, in an
// order that does not depend on chance.
func hostChords(s settings.Settings) []x11.Chord {
	var cs []x11.Chord
	for name, command := range s.Chords {
		c, err := settings.ParseChord(name)
		if err != nil {
			continue // reading the settings has faulted it
		}
		screen := ""
		if slices.Contains(settings.Screens(), command) {
			screen = command
		}
		cs = append(cs, x11.Chord{Name: name, Command: command, Screen: screen, Super: c.Super, Shift: c.Shift, Ctrl: c.Ctrl, Alt: c.Alt, Keysym: c.Keysym})
	}
	slices.SortFunc(cs, func(a, b x11.Chord) int { return strings.Compare(a.Name, b.Name) })
	return cs
}

// chordRows are the chords as the page of keys lists them, those for the nine
// workspaces in one row each.
func chordRows(s settings.Settings) [][2]string {
	var rows [][2]string
	for _, c := range hostChords(s) {
		name, command := c.Name, c.Command
		if verb, n, ok := strings.Cut(command, " "); ok && len(n) == 1 && n >= "1" && n <= "9" && strings.HasSuffix(name, "+"+n) {
			if n != "1" && s.Chords[strings.TrimSuffix(name, n)+"1"] == verb+" 1" {
				continue
			}
			if n == "1" && s.Chords[strings.TrimSuffix(name, n)+"9"] == verb+" 9" {
				name, command = strings.TrimSuffix(name, n)+"1-9", verb+" 1-9"
			}
		}
		rows = append(rows, [2]string{name, command})
	}
	return rows
}

// savePin gives what keeps a pin in the settings at a path.
func savePin(path string) func(desk.Pin) error {
	return func(p desk.Pin) error {
		query := ""
		if p.Query != nil {
			query = lang.PrintQuery(p.Query)
		}
		return settings.SetPin(path, string(rune(p.Letter)), query)
	}
}

// terminalFor is the terminal's command for a program that needs one: that of
// the atlas window without its title.
func terminalFor(command string) []string {
	words := strings.Fields(command)
	for i := 1; i < len(words); i++ {
		if words[i] == "TITLE" {
			return slices.Delete(words, i-1, i+1)
		}
	}
	return words
}
