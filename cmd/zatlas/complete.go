package main

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
)

// The scripts by which shells ask what could follow. Those that the library for arguments
// makes give up on an argument in quotes, such as a command of ours.
//
//go:embed completion
var scripts embed.FS

// shells are those that there is a script for.
var shells = []string{"bash", "zsh", "fish"}

func completionCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "completion bash|zsh|fish",
		Short: "Print a completion script for a shell",
		Long: `Print a script by which bash, zsh or fish goes on with what is typed after zatlas, on Tab:
commands in words and what may follow in them on the running desk, queries, files, the
values of flags. make install puts it where the shells find it.`,
		Example:   "  zatlas completion bash > ~/.local/share/bash-completion/completions/zatlas\n  zatlas completion fish > ~/.config/fish/completions/zatlas.fish",
		ValidArgs: shells,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 || !slices.Contains(shells, args[0]) {
				return wordsError{fmt.Errorf("completion needs the name of one shell: bash, zsh or fish")}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			text, err := scripts.ReadFile("completion/zatlas." + args[0])
			if err == nil {
				_, err = cmd.OutOrStdout().Write(text)
			}
			return err
		},
	}
	cmd.AddCommand(&cobra.Command{
		Use: "words LINE", Hidden: true, Args: cobra.ExactArgs(1),
		Short: "Print what bash could put at the end of a line",
		RunE: func(cmd *cobra.Command, args []string) error {
			return completeLine(cmd.OutOrStdout(), args[0])
		},
	})
	return cmd
}

// completeLine tells bash how a line can go on. It prints whether files fit, and then each text
// that can replace what bash takes for the last word.
func completeLine(out io.Writer, line string) error {
	words, last := apps.Parted(line)
	if len(words) == 0 {
		return nil
	}
	var printed bytes.Buffer
	root := newRoot()
	root.SetArgs(slices.Concat([]string{cobra.ShellCompRequestCmd}, words[1:], []string{last.Text}))
	root.SetOut(&printed)
	root.SetErr(io.Discard)
	if err := root.Execute(); err != nil {
		return err
	}
	lines := strings.Split(strings.TrimSuffix(printed.String(), "\n"), "\n")
	directive, err := strconv.Atoi(strings.TrimPrefix(lines[len(lines)-1], ":"))
	if err != nil {
		return err
	}
	if lines = lines[:len(lines)-1]; len(lines) == 0 && directive&int(cobra.ShellCompDirectiveNoFileComp) == 0 {
		fmt.Fprintln(out, "files")
	} else {
		fmt.Fprintln(out, "none")
	}
	for i, l := range lines {
		lines[i], _, _ = strings.Cut(l, "\t")
	}
	for _, l := range replacements(last, lines) {
		fmt.Fprintln(out, l)
	}
	return nil
}

// replacements are what bash puts in place of what it takes for the word begun: what
// follows the open quote, or the last of = and : outside of quotes. Where one needs quotes
// all have them, or what they have in common would be none of them.
func replacements(w apps.Begun, values []string) (all []string) {
	stub := w.Text[:strings.LastIndexAny(w.Text, "=:")+1]
	quote := byte(0)
	for _, v := range values {
		if w.Quote == 0 && strings.ContainsAny(v, " \t\"'\\$`#()<>&|;*?[]~!") {
			quote = '\''
		}
	}
	for _, v := range values {
		switch {
		case w.Quote == '"':
			v = strings.NewReplacer(`\`, `\\`, `"`, `\"`, "$", `\$`, "`", "\\`").Replace(v)
			if len(values) == 1 && strings.HasSuffix(v, `"`) && lang.Whole(values[0]) {
				v += `"` // which bash takes for there already
			}
		case w.Quote == '\'':
			v = strings.ReplaceAll(v, "'", `'\''`)
		default:
			v = strings.TrimPrefix(v, stub)
			if quote != 0 {
				v = "'" + strings.ReplaceAll(v, "'", `'\''`)
				if len(values) == 1 && lang.Whole(values[0]) {
					v += "'"
				}
			}
		}
		all = append(all, v)
	}
	return all
}

// completeCommands completes a command that is one argument, in the shell, with the words that
// Tab offers on the line of the screens.
func completeCommands(by completer) cobra.CompletionFunc {
	return func(_ *cobra.Command, _ []string, begun string) ([]string, cobra.ShellCompDirective) {
		lines := completed(begun, by, func(line string) bool {
			_, err := lang.ParseCommand(line)
			return err == nil
		})
		for i, line := range lines {
			if v, ok := desk.FindVerb(line); ok {
				lines[i] += "\t" + v.Help
			}
		}
		return lines, cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveKeepOrder
	}
}

// completeQueries completes a query; each argument is a part of it.
func completeQueries(by func(cmd *cobra.Command) completer) cobra.CompletionFunc {
	return func(cmd *cobra.Command, args []string, begun string) ([]string, cobra.ShellCompDirective) {
		by, before := by(cmd), strings.Join(append(args, ""), " ")
		lines := completed(before+begun, func(query string) lang.Completion { return by(lang.ToQuery + query) }, func(line string) bool {
			_, err := lang.ParseQuery(line)
			return err == nil
		})
		for i, line := range lines {
			lines[i] = strings.TrimPrefix(line, before)
		}
		return lines, cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveKeepOrder
	}
}

// completer is lang.Complete on some desk.
type completer func(line string) lang.Completion

// running completes on the desk of $DISPLAY's keeper, which does that itself; on none where none
// runs.
func running(line string) lang.Completion {
	if client, err := dial(); err == nil {
		if c, err := client.Complete(context.Background(), line); err == nil {
			return c
		}
	}
	return lang.Complete(line, nil)
}

// inScene completes on the desk of a scene file.
func inScene(file string) completer {
	d := sceneDesk(file)
	return func(line string) lang.Completion { return lang.Complete(line, d) }
}

// sceneOr completes on the desk of the file that --scene names, else on the running one.
func sceneOr(cmd *cobra.Command) completer {
	if file := cmd.Flags().Lookup("scene").Value.String(); file != "" {
		return inScene(file)
	}
	return running
}

// completed are the lines that could come of one. A shell takes what it is offered for the whole
// argument. So where only one word fits, the words that can follow it are offered too, and the
// word alone only where it means something.
func completed(line string, complete completer, means func(line string) bool) (lines []string) {
	c := complete(line)
	head := strings.TrimSuffix(line, c.Begun)
	for _, w := range c.Words {
		lines = append(lines, head+w)
	}
	if len(lines) != 1 {
		return lines
	}
	next := head + c.Words[0]
	if lang.Whole(c.Words[0]) {
		next += " "
	}
	after := complete(next)
	if len(after.Words) == 0 {
		return lines
	}
	if !means(lines[0]) {
		lines = nil
	}
	for _, w := range after.Words {
		lines = append(lines, strings.TrimSuffix(next, after.Begun)+w)
	}
	return lines
}

// sceneDesk is the desk of a scene file, with the letters and plates of the settings; nil where
// it is none.
func sceneDesk(file string) *desk.Desk {
	d, err := scene.ReadFile(file)
	if err != nil {
		return nil
	}
	if set, err := settings.Load(settings.Path()); err == nil {
		d = d.WithOwn(set.ForDesk())
	}
	if shelf := plate.Beside(settings.Path()); shelf != nil {
		plates, _ := shelf.Read()
		d = d.WithPlates(plates)
	}
	return d
}

// sceneOrRunning is the desk of the file that --scene names, else the running one; nil for none.
func sceneOrRunning(cmd *cobra.Command) *desk.Desk {
	if file := cmd.Flags().Lookup("scene").Value.String(); file != "" {
		return sceneDesk(file)
	}
	client, err := dial()
	if err != nil {
		return nil
	}
	d, _ := client.Desk(context.Background())
	return d
}

// flagValues are the values that flags take, by their names.
var flagValues = map[string][]string{
	"theme": {"night", "day"}, "paper": {"a4", "letter"}, "period": survey.PeriodNames[:], "since": {"30m", "2h", "1d", "7d"}, "linger": {"60s", "5m"},
}

// oneOf completes one of some words.
func oneOf(words []string) cobra.CompletionFunc {
	return func(_ *cobra.Command, _ []string, begun string) ([]string, cobra.ShellCompDirective) {
		fits := slices.DeleteFunc(slices.Clone(words), func(w string) bool { return !strings.HasPrefix(w, begun) })
		return fits, cobra.ShellCompDirectiveNoFileComp | cobra.ShellCompDirectiveKeepOrder
	}
}

// completeRest completes what a command and those below it do not complete themselves: the
// values of flags. Nothing else is offered, unless the command takes files.
func completeRest(cmd *cobra.Command) {
	if cmd.ValidArgsFunction == nil && len(cmd.ValidArgs) == 0 && cmd.Name() != "pack" && cmd.Name() != "unpack" {
		cmd.ValidArgsFunction = cobra.NoFileCompletions
	}
	for name, values := range flagValues {
		if cmd.Flags().Lookup(name) != nil {
			cmd.RegisterFlagCompletionFunc(name, oneOf(values))
		}
	}
	for _, name := range []string{"on", "size", "lines"} { // nothing that could be known, and no files
		if cmd.Flags().Lookup(name) != nil {
			cmd.RegisterFlagCompletionFunc(name, cobra.NoFileCompletions)
		}
	}
	for _, below := range cmd.Commands() {
		completeRest(below)
	}
}

// sheetsOf are the sheets of a desk by their addresses.
func sheetsOf(d *desk.Desk) (refs []string) {
	for i := range d.Workspaces {
		for _, m := range d.Monitors {
			if m.Connected && d.Sheet(i, m.Letter) != nil {
				refs = append(refs, fmt.Sprintf("%c%d", m.Letter, i+1))
			}
		}
	}
	return refs
}
