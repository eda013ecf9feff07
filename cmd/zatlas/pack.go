package main

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/charmbracelet/x/term"
	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/pack"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/store"
	"zatlas/internal/survey"
)

func packCommand() *cobra.Command {
	var withSurvey, withLog, force bool
	cmd := &cobra.Command{
		Use:   "pack FILE.zip",
		Short: "Pack settings and plates into one file",
		Long: `Put your settings, with the pins, rules and chords in them, and your plates into one
zip file, for "zatlas unpack" on another computer. What is kept of the work and the
logbook go with them where that is asked for.`,
		Example: "  zatlas pack desk.zip",
		Args:    oneFile("pack"),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := packed(withSurvey, withLog)
			if err != nil {
				return err
			}
			var b bytes.Buffer
			if err := p.Write(&b); err != nil {
				return err
			}
			if err = file.Create(args[0], b.Bytes()); errors.Is(err, fs.ErrExist) && force {
				err = file.Replace(args[0], b.Bytes(), 0o600)
			} else if errors.Is(err, fs.ErrExist) {
				return fmt.Errorf("%s is there already; --force writes over it", args[0])
			}
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Packed %s into %s: %s.\n", desk.Counted(len(p), "file"), args[0], strings.Join(p.Names(), ", "))
			return nil
		},
	}
	cmd.Flags().BoolVar(&withSurvey, "survey", false, "what is kept of the work on this display too")
	cmd.Flags().BoolVar(&withLog, "log", false, "the logbook of this display too")
	cmd.Flags().BoolVar(&force, "force", false, "write over a file that is there")
	return cmd
}

// oneFile faults any other number of arguments.
func oneFile(name string) cobra.PositionalArgs {
	return func(_ *cobra.Command, args []string) error {
		if len(args) != 1 {
			return wordsError{fmt.Errorf("%s needs the name of one zip file", name)}
		}
		return nil
	}
}

// packed is what is one's own here.
func packed(withSurvey, withLog bool) (pack.Pack, error) {
	p := pack.Pack{}
	data, err := file.Read(settings.Path(), file.MaxSettings)
	if err == nil {
		p[pack.Settings] = data
	} else if !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	if shelf := plate.Beside(settings.Path()); shelf != nil {
		plates, faults := shelf.Read()
		for _, f := range faults {
			return nil, fmt.Errorf("a plate is at fault, mend or remove it first: %s", f.Words)
		}
		for name, pl := range plates {
			if pl.Same {
				continue // of this display's windows alone
			}
			var b bytes.Buffer
			if err := scene.WritePlate(&b, pl); err != nil {
				return nil, err
			}
			p[pack.PlateFile(name)] = b.Bytes()
		}
	}
	if withSurvey {
		d, err := surveyData("")
		if err != nil {
			return nil, err
		}
		var b bytes.Buffer
		if err := survey.WriteCSV(&b, d.Spans); err != nil {
			return nil, err
		}
		p[pack.Survey] = b.Bytes()
	}
	if withLog {
		var b bytes.Buffer
		if err := packLog(&b); err != nil {
			return nil, err
		}
		p[pack.Log] = b.Bytes()
	}
	if len(p) == 0 {
		return nil, fmt.Errorf("there is nothing to pack: no %s, and no plates beside it", settings.Path())
	}
	return p, nil
}

// packLog writes the logbook of the display, a line each, its parts parted by tabs.
func packLog(b *bytes.Buffer) error {
	entries, err := store.ReadLogbook(store.Path(), os.Getenv("DISPLAY"), allLines)
	for _, e := range entries {
		fmt.Fprintf(b, "%s\t%s\t%s\n", e.At.Format(time.RFC3339), e.Source, e.Words)
	}
	return err
}

func unpackCommand() *cobra.Command {
	var yes, programs bool
	cmd := &cobra.Command{
		Use:   "unpack FILE.zip",
		Short: "Take over packed settings and plates",
		Long: `Take over what "zatlas pack" has put into a file on another computer. First it is shown
what would change, and asked. What is replaced is kept beside it. Lines of the settings
that can start a program come in as comments, and are listed, unless --programs is given:
look at them before. What is kept of the work and the logbook are put into the folder of
this program's state, as survey.csv and logbook.tsv.`,
		Example: "  zatlas unpack desk.zip",
		Args:    oneFile("unpack"),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := pack.ReadFile(args[0])
			if err != nil {
				return err
			}
			return unpack(cmd, p, yes, programs)
		},
	}
	cmd.Flags().BoolVar(&yes, "yes", false, "do not ask")
	cmd.Flags().BoolVar(&programs, "programs", false, "take over lines that can start a program as they are")
	return cmd
}

// unpack takes a pack over.
func unpack(cmd *cobra.Command, p pack.Pack, yes, programs bool) error {
	out := cmd.OutOrStdout()
	said, err := examine(p, programs)
	if err != nil {
		return err
	}
	changes, err := p.Changes(whereTo)
	if err != nil {
		return err
	}
	same := 0
	for _, c := range changes {
		switch {
		case c.Same:
			same++
		case c.New:
			fmt.Fprintf(out, "new      %s\n", c.Path)
		default:
			fmt.Fprintf(out, "replace  %s\n", c.Path)
		}
	}
	for _, line := range said {
		fmt.Fprintln(out, line)
	}
	if same == len(changes) {
		fmt.Fprintln(out, "Nothing to change.")
		return nil
	}
	if !yes {
		if err := agreed(cmd); err != nil {
			return err
		}
	}
	kept, err := pack.Place(changes, time.Now())
	if err != nil {
		return fmt.Errorf("nothing was changed: %w", err)
	}
	fmt.Fprintf(out, "Took over %s.\n", desk.Counted(len(changes)-same, "file"))
	for _, name := range kept {
		fmt.Fprintf(out, "What was there is kept as %s.\n", name)
	}
	return nil
}

// agreed asks on a terminal.
func agreed(cmd *cobra.Command) error {
	if !term.IsTerminal(os.Stdin.Fd()) {
		return errors.New("nothing was changed: this asks first, and there is no terminal to answer on. --yes does it without asking")
	}
	fmt.Fprint(cmd.OutOrStdout(), "Do this? y does it, anything else leaves all as it is: ")
	line, _ := bufio.NewReader(os.Stdin).ReadString('\n')
	if answer := strings.ToLower(strings.TrimSpace(line)); answer != "y" && answer != "yes" {
		return errors.New("nothing was changed")
	}
	return nil
}

// examine holds that all of a pack can be read, takes out of the settings what can start a
// program, and says what it did.
func examine(p pack.Pack, programs bool) (said []string, err error) {
	here := map[string]*desk.Plate{}
	if shelf := plate.Beside(settings.Path()); shelf != nil {
		here, _ = shelf.Read()
	}
	for _, name := range p.Names() {
		of := pack.PlateOf(name)
		if of == "" {
			continue
		}
		if _, err := p.Plate(of); err != nil {
			return nil, err
		}
		for other := range here {
			if other != of && strings.EqualFold(other, of) {
				return nil, fmt.Errorf("it holds a plate %s, and there is a plate %s here: no two are alike but for case. Rename that first", of, other)
			}
		}
	}
	data, ok := p[pack.Settings]
	if !ok {
		return nil, nil
	}
	if len(data) > file.MaxSettings {
		return nil, fmt.Errorf("%s in it is too long", pack.Settings)
	}
	lines, err := settings.Programs(data)
	if err != nil {
		return nil, fmt.Errorf("%s in it is at fault:%w", pack.Settings, err)
	}
	if len(lines) == 0 {
		return nil, nil
	}
	how := "come in as comments; --programs takes them as they are"
	if programs {
		how = "come in as they are"
	} else if p[pack.Settings], err = settings.WithoutPrograms(data); err != nil {
		return nil, fmt.Errorf("%s in it: %w", pack.Settings, err)
	}
	said = append(said, fmt.Sprintf("Of the settings %s can start a program, and %s:", desk.Counted(len(lines), "value"), how))
	for _, l := range lines {
		for i, text := range strings.Split(l.Text, "\n") {
			said = append(said, fmt.Sprintf("  %4d  %s", l.Number+i, text))
		}
	}
	return said, nil
}

// whereTo is where a file of a pack goes; empty for nowhere.
func whereTo(name string) string {
	home, state := settings.Path(), file.StateFolder()
	switch {
	case name == pack.Settings:
		return home
	case pack.PlateOf(name) != "" && home != "":
		return filepath.Join(plate.Beside(home).Path(), filepath.Base(name))
	case (name == pack.Survey || name == pack.Log) && state != "":
		return filepath.Join(state, name)
	}
	return ""
}
