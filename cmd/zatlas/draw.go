package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/draw/render"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/tui"
)

// drawFlags are how is drawn, as drawFlags.add has them written.
type drawFlags struct {
	out, theme, paper, size, font, from string
	landscape, force, card              bool
}

func (f *drawFlags) add(cmd *cobra.Command) {
	cmd.Flags().StringVar(&f.theme, "theme", draw.Day.Name, "night or day")
	cmd.Flags().StringVar(&f.paper, "paper", "a4", "a4 or letter")
	cmd.Flags().StringVar(&f.size, "size", "", "width and height in pixels such as 1280x800, instead of a paper")
	cmd.Flags().BoolVar(&f.landscape, "landscape", false, "lay the paper on its side")
	cmd.Flags().StringVar(&f.font, "font", "", "a TrueType file whose letters are taken first")
	cmd.Flags().BoolVar(&f.force, "force", false, "write over a file that is there")
}

// style is what the flags ask for.
func (f *drawFlags) style() (st render.Style, err error) {
	if st.Theme, err = draw.FindTheme(f.theme); err != nil {
		return st, wordsError{err}
	}
	if st.Paper, err = render.PaperNamed(f.paper); f.size != "" {
		st.Paper, err = render.PaperSized(f.size)
	}
	if err != nil {
		return st, wordsError{err}
	}
	if f.landscape && st.Paper.W < st.Paper.H {
		st.Paper = st.Paper.Turned()
	}
	if st.Fonts, err = render.NewFonts(); err == nil && f.font != "" {
		err = st.Fonts.Own(f.font)
	}
	return st, err
}

func drawCommand() *cobra.Command {
	var f drawFlags
	var sceneFile string
	cmd := &cobra.Command{
		Use:   "draw atlas|sheet SHEET|strays|keys|survey|book",
		Short: "Draw the desk, the keys or the survey, as SVG or PDF",
		Long: `Draw the running keeper's desk, or a scene, as SVG or PDF, by the ending of the
file: every sheet (atlas), one at large (sheet B3), what is lost and where it would
go (strays), a card of keys and chords as they are set (keys), the charts of the
survey (survey), or all of it with an index of every window (book, as PDF alone).
Without a file, SVG goes to the standard output.`,
		Example: "  zatlas draw atlas -o atlas.svg\n  zatlas draw sheet B3 --size 1280x800\n  zatlas draw keys -o keys.pdf --landscape\n  zatlas draw keys --card -o card.pdf",
		RunE: func(cmd *cobra.Command, args []string) error {
			r, err := render.ParseRequest(args)
			if err == nil && r.Path != "" {
				err = fmt.Errorf("draw takes its file as -o %s", r.Path)
			}
			if err == nil && cmd.Flags().Changed("out") {
				r.Path = f.out
				if _, err = render.FormatOf(f.out); f.out == "" {
					err = errors.New("-o needs a file's name")
				}
			}
			if err != nil {
				return wordsError{err}
			}
			if f.card && r.What != "keys" {
				return wordsError{errors.New("--card is for draw keys")}
			}
			st, err := f.style()
			if err != nil {
				return err
			}
			s, err := subject(cmd, r, &f, sceneFile)
			if err != nil {
				return err
			}
			d, err := s.Drawing(r, st.Paper)
			if err != nil {
				return err
			}
			return writeDrawing(cmd, d, r.Path, f.force, st)
		},
	}
	f.add(cmd)
	cmd.Flags().StringVarP(&f.out, "out", "o", "", "the file, which ends with .svg or .pdf")
	fromFlag(cmd, &f.from)
	cmd.Flags().BoolVar(&f.card, "card", false, "with keys: one page with the chords that are most worth learning, by the survey")
	cmd.Flags().StringVar(&sceneFile, "scene", "", "draw this scene file instead of the running desk")
	cmd.ValidArgsFunction = func(cmd *cobra.Command, args []string, begun string) ([]string, cobra.ShellCompDirective) {
		var words []string
		if len(args) == 0 {
			words = render.Subjects
		} else if d := sceneOrRunning(cmd); d != nil && len(args) == 1 && args[0] == "sheet" {
			words = sheetsOf(d)
		}
		return oneOf(words)(cmd, args, begun)
	}
	return cmd
}

// writeDrawing writes a drawing to a file, or to the standard output where none is
// named.
func writeDrawing(cmd *cobra.Command, d *render.Drawing, path string, force bool, st render.Style) error {
	if path == "" {
		return d.Write(cmd.OutOrStdout(), ".svg", st)
	}
	err := d.Save(path, force, st)
	if errors.Is(err, render.ErrThere) {
		err = fmt.Errorf("%w, which is left as it is: --force writes over it", err)
	}
	return err
}

// subject is what a request is about.
func subject(cmd *cobra.Command, r render.Request, f *drawFlags, sceneFile string) (render.Subject, error) {
	s := render.Subject{Name: "display " + os.Getenv("DISPLAY"), Report: func() (*survey.Report, error) { return reportFrom(f.from, survey.Weeks) }}
	set, err := settings.Load(settings.Path())
	if err != nil {
		fmt.Fprintln(cmd.ErrOrStderr(), "zatlas: "+err.Error())
		err = nil // the rows that are not at fault are drawn
	}
	s.Keys, s.Keyboard = tui.Keys(set.Rows()), tui.Keyboard(set)
	if f.card {
		if err := toLearn(&s); err != nil {
			return s, err
		}
	}
	if cmd.Flags().Changed("scene") {
		s.Name = desk.CleanText(strings.TrimSuffix(filepath.Base(sceneFile), ".json"), desk.MaxName)
	}
	if r.What != "keys" && r.What != "survey" {
		s.Desk, err = deskFor(cmd, sceneFile, "")
	}
	return s, err
}

// toLearn adds the chords that are worth learning to a subject.
func toLearn(s *render.Subject) error {
	report, err := s.Report()
	if err != nil {
		return err
	}
	if s.ToLearn = s.Keyboard.ToLearn(report.Data.Tallies); len(s.ToLearn) == 0 {
		return errors.New("there is no chord to learn yet: the commands that were counted have none, or were done by it")
	}
	return nil
}
