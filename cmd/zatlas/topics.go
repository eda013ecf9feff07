package main

import (
	"fmt"
	"io"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
)

// topic is a page of help that belongs to no command.
type topic struct {
	name, section, short string
	write                func(out io.Writer) // as Markdown
}

// topics are the pages besides those of commands: from the same tables as all help.
func topics() []topic {
	return []topic{
		{"language", "7", "the words in which things are asked for", writeLanguage},
		{"settings", "5", "the settings file", writeSettings},
		{"scene", "5", "desks and plates as files", writeScene},
	}
}

// topicCommands are the topics for "zatlas help". Their text is written when it is asked for:
// every command would wait for it otherwise.
func topicCommands() (cmds []*cobra.Command) {
	for _, t := range topics() {
		cmd := &cobra.Command{Use: t.name, Short: "Help on " + t.short}
		cmd.SetHelpFunc(func(cmd *cobra.Command, args []string) {
			var b strings.Builder
			t.write(&b)
			cmd.Long = plainText(b.String())
			cmd.Root().HelpFunc()(cmd, args)
		})
		cmds = append(cmds, cmd)
	}
	return cmds
}

// plainText is Markdown as it is read on a terminal.
func plainText(text string) string {
	text = strings.ReplaceAll(text, "\n# ", "\n\n")
	return strings.NewReplacer("`", "", "**", "", "\\|", "|", "\n:   ", "\n    ").Replace(strings.TrimPrefix(text, "# "))
}

func writeLanguage(out io.Writer) {
	fmt.Fprint(out, `# DESCRIPTION

The same words work everywhere: on the line that : opens on the screens, with "zatlas do", in chords and in "zatlas plan".
A command is a verb and its target. A command about windows takes "of" and a query at its end. Without a query it acts on
the focused window; on the screens, on the marked windows, or on the chosen one.

B is a monitor, 3 a workspace, B3 the sheet where they meet. A name is one bare word, or in quotes.

# COMMANDS

`)
	for _, v := range desk.Verbs() {
		fmt.Fprintf(out, "**%s**", v.Name)
		if v.Key != "" {
			fmt.Fprintf(out, " (%s on the screens)", v.Key)
		}
		fmt.Fprintf(out, "\n:   %s\n\n", v.Help)
		for form := range strings.SplitSeq(lang.Usage(v), ", ") {
			fmt.Fprintf(out, "    `%s`\n\n", form)
		}
	}
	fmt.Fprint(out, `# QUERIES

`)
	for _, t := range lang.Terms() {
		fmt.Fprintf(out, "**%s**\n:   %s\n\n", t.Example, t.Means)
	}
	fmt.Fprint(out, "Join terms by a space (and), \"or\", \"not\" and brackets.\n\n# EXAMPLES\n\n")
	for _, line := range examples() {
		fmt.Fprintf(out, "    %s\n", line)
	}
}

// examples are commands that the pages show. A test tries each of them on the demo desk.
func examples() []string {
	return []string{
		"go 3", "send 2", "carry B", "send 4 of app:ledger", "rescue of is:stray", `rename "Box office" Tickets`, "layout lead of on:2", "snap 4x2 1 6 of #14",
		"resize right 5% of #11", "plate save Call", "plate lay Call", "reorder last to 1", "close of on:4 not is:focused", "undo 2",
	}
}

func writeSettings(out io.Writer) {
	fmt.Fprintf(out, `# DESCRIPTION

The settings are a TOML file, settings.toml in $XDG_CONFIG_HOME/zealous-atlas, else in ~/.config/zealous-atlas. A setting
that is not in the file has the usual value given here. "reload" reads the file again. A fault is reported with its line and
column, and that row keeps its old value. Plates are files beside it, in the folder plates. "zatlas config" prints a whole
file.

# SETTINGS

`)
	for _, c := range settings.Choices() {
		about := c.About
		if about == "" {
			about = strings.ToUpper(c.Help[:1]) + c.Help[1:] + "."
		}
		usual := c.Usual
		if usual == "" {
			usual = `""`
		}
		fmt.Fprintf(out, "**%s**\n:   %s\n\n    Usual: `%s`\n\n", c.Name(), about, usual)
	}
	fmt.Fprint(out, "# LISTS\n\nChords, corners, pins, grids of monitors and rules are tables of their own:\n\n")
	_, lists, _ := strings.Cut(settings.Example(), "\n# Keys of the display")
	for line := range strings.Lines("# Keys of the display" + lists) {
		fmt.Fprint(out, "    "+line)
	}
}

func writeScene(out io.Writer) {
	fmt.Fprint(out, `# DESCRIPTION

A scene is a desk as a file: JSON that begins with "format": "zealous-atlas/scene/1". It has monitors, workspaces with a
sheet for each monitor, windows, and what is shown. A plate has places instead of windows and begins with "format":
"zealous-atlas/plate/1". Both are read strictly. An unknown key, a number used twice or a window on two sheets is a fault;
the message names its place, and for a plate its line and column.

scene.schema.json and plate.schema.json describe both formats. They are installed with the documentation.

# EXAMPLES

    zatlas demo --scene desk.json
    zatlas list --scene desk.json is:stray
    zatlas plan desk.json "send 3 of #11" "go 3"
`)
}
