package main

import (
	"cmp"
	"errors"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/draw/render"
	"zatlas/internal/lang"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
)

func planCommand() *cobra.Command {
	var f drawFlags
	cmd := &cobra.Command{
		Use:   "plan SCENE COMMAND...",
		Short: "Print a scene as it would be after commands",
		Long: `Print the scene as it would be after the commands, one argument each. No file
is changed. plate lay takes plates from the folder beside your settings. If a command fails, nothing is printed, and the exit
status is 1; for a syntax error it is 2. --draw also draws the desk before and
after, with an arrow for each window that moves.`,
		Example: `  zatlas plan desk.json "send 3" "go 3" --draw plan.svg`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) == 0 {
				return wordsError{fmt.Errorf("plan needs a scene file and the commands to try")}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			commands, err := parseAll(args[1:])
			if err != nil {
				return err
			}
			st, err := f.style()
			if err != nil {
				return err
			}
			if _, err := render.FormatOf(f.out); err != nil || cmd.Flags().Changed("draw") && f.out == "" {
				return wordsError{cmp.Or(err, errors.New("--draw needs a file's name"))}
			}
			d, err := scene.ReadFile(args[0])
			if err != nil {
				return err
			}
			if shelf := plate.Beside(settings.Path()); shelf != nil {
				plates, _ := shelf.Read()
				d = d.WithPlates(plates)
			}
			before := d
			for i, c := range commands {
				if d, _, err = d.Apply(c); err != nil {
					return fmt.Errorf("%s: %w", args[1+i], err)
				}
			}
			if f.out != "" {
				if err := writeDrawing(cmd, render.Plan(before, d, args[1:]), f.out, f.force, st); err != nil {
					return err
				}
			}
			return scene.Write(cmd.OutOrStdout(), d)
		},
	}
	cmd.ValidArgsFunction = func(c *cobra.Command, args []string, begun string) ([]string, cobra.ShellCompDirective) {
		if len(args) == 0 {
			return nil, cobra.ShellCompDirectiveDefault // a file
		}
		return completeCommands(inScene(args[0]))(c, args, begun)
	}
	f.add(cmd)
	cmd.Flags().StringVar(&f.out, "draw", "", "draw the desk before and after into this file, .svg or .pdf")
	return cmd
}

// parseAll reads commands before any of them is carried out.
func parseAll(lines []string) ([]desk.Command, error) {
	commands := make([]desk.Command, len(lines))
	for i, line := range lines {
		c, err := lang.ParseCommand(line)
		if err != nil {
			err = fmt.Errorf("%s: %w", cmp.Or(strings.TrimSpace(line), `""`), err)
			whole := strings.Join(lines, " ")
			if _, one := lang.ParseCommand(whole); len(lines) > 1 && one == nil {
				err = fmt.Errorf("%w. Each argument is a command: if one is meant, write '%s'", err, whole)
			}
			return nil, wordsError{err}
		}
		commands[i] = c
	}
	return commands, nil
}
