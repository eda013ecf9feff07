package main

import (
	"errors"
	"fmt"
	"os"
	"text/tabwriter"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/lang"
	"zatlas/internal/settings"
	"zatlas/internal/store"
	"zatlas/internal/survey"
	"zatlas/internal/tui"
)

func surveyCommand() *cobra.Command {
	var asCSV, asJSON bool
	var from, period string
	cmd := &cobra.Command{
		Use:   "survey",
		Short: "Print how you worked: a summary, or every span",
		Long: `Print what is kept of the work on this display: in sentences, or with --csv every
span of focus. Nothing is kept until it is turned on, on the screen of the survey
(; s) or by "on = true" under [survey] in the settings. It stays on this machine.`,
		Example: "  zatlas survey\n  zatlas survey --json --period day\n  zatlas survey --csv > spans.csv\n  zatlas survey --from spans.csv --period week",
		Args:    noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			p, err := parsePeriod(period)
			if err != nil {
				return err
			}
			if asCSV && asJSON {
				return wordsError{errors.New("--csv prints every span, and --json what they come to: give one of the two")}
			}
			d, err := surveyData(from)
			if err != nil {
				return err
			}
			if asCSV {
				return survey.WriteCSV(cmd.OutOrStdout(), d.Spans)
			}
			r := survey.NewReport(d, p, lastOf(d), 0)
			if asJSON {
				return printJSONLine(cmd.OutOrStdout(), r)
			}
			for _, words := range []string{r.Title() + ".", r.Sentence(), r.HoursWords(), r.AppsWords(), r.SwitchWords(), r.CrowdWords(), r.LostWords(), r.DoneWords()} {
				fmt.Fprintln(cmd.OutOrStdout(), words)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asCSV, "csv", false, "print every span as CSV")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print the figures of the period as JSON")
	cmd.Flags().StringVar(&period, "period", "weeks", "day, week, or weeks for four of them")
	fromFlag(cmd, &from)
	cmd.AddCommand(adviceCommand(), forgetCommand())
	return cmd
}

func fromFlag(cmd *cobra.Command, from *string) {
	cmd.Flags().StringVar(from, "from", "", "read spans from this CSV file instead of what is kept")
}

func parsePeriod(name string) (survey.Period, error) {
	for i, n := range survey.PeriodNames {
		if n == name {
			return survey.Period(i), nil
		}
	}
	return 0, wordsError{fmt.Errorf("there is no period %q: day, week and weeks are", name)}
}

// maxSpansFile is the most that is read of a file of spans, in bytes.
const maxSpansFile = 256 << 20

// surveyData is what a file of spans has, or, where none is named, what is kept of
// this display.
func surveyData(from string) (survey.Data, error) {
	if from == "" {
		return store.ReadSurvey(store.Path(), os.Getenv("DISPLAY"), time.Unix(0, 0).In(time.Local), time.Now().AddDate(1, 0, 0))
	}
	f, err := file.Open(from)
	if err != nil {
		return survey.Data{}, err
	}
	defer f.Close()
	if info, err := f.Stat(); err == nil && info.Size() > maxSpansFile {
		return survey.Data{}, fmt.Errorf("%s: %w", from, file.ErrTooLong)
	}
	spans, err := survey.ReadCSV(f)
	if err != nil {
		return survey.Data{}, fmt.Errorf("%s: %w", from, err)
	}
	return survey.Data{Spans: spans}, nil
}

// lastOf is the moment that a report of some data is about: now, or the end of the
// data where that is longer ago than the report reaches.
func lastOf(d survey.Data) time.Time {
	now := time.Now()
	if n := len(d.Spans); n > 0 && d.Spans[n-1].End().Before(now.AddDate(0, 0, -20)) {
		return d.Spans[n-1].Start.In(time.Local)
	}
	return now
}

// reportFrom is the report of a file of spans, or of what is kept of this display.
func reportFrom(from string, p survey.Period) (*survey.Report, error) {
	d, err := surveyData(from)
	if err != nil {
		return nil, err
	}
	r := survey.NewReport(d, p, lastOf(d), 0)
	if r.Empty() && !surveyIsOn() {
		return nil, errors.New("there is no record of your work: the survey is off. \"on = true\" under [survey] in the settings turns it on")
	} else if r.Empty() {
		return nil, errors.New("there is no record of your work in these four weeks yet")
	}
	return r, nil
}

// surveyIsOn tells whether the settings have it on.
func surveyIsOn() bool {
	s, _ := settings.Load(settings.Path())
	on, _, _ := s.Survey()
	return on
}

func adviceCommand() *cobra.Command {
	var from, sceneFile string
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "advice",
		Short: "Print what could be ordered better on the desk, by how it is used",
		Long: `Print what could be ordered better on the running desk, or on that of a scene, by
what is kept of the work or by a file of spans: the order of workspaces by which next
and previous take the fewest steps, that by time, apps that belong together, what is
hardly used. It is never done by itself: what is printed are commands to be given.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			data, err := surveyData(from)
			if err != nil {
				return err
			}
			d, err := deskFor(cmd, sceneFile, "")
			if err != nil {
				return err
			}
			set, _ := settings.Load(settings.Path()) // of what is at fault the usual counts
			a := survey.Advise(data, tui.Keyboard(set), d)
			if asJSON {
				return printJSONLine(cmd.OutOrStdout(), a)
			}
			return printAdvice(cmd, a, d)
		},
	}
	fromFlag(cmd, &from)
	cmd.Flags().StringVar(&sceneFile, "scene", "", "advise on this scene file instead of the running desk")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return cmd
}

func printAdvice(cmd *cobra.Command, a *survey.Advice, d *desk.Desk) error {
	out := cmd.OutOrStdout()
	fmt.Fprintf(out, "From %s, %d of them left out: on workspaces that are no more.\n", desk.Counted(a.Spans, "span"), a.LeftOut)
	for _, it := range a.Items(d) {
		if it.Head != "" {
			fmt.Fprintf(out, "\n%s\n", it.Head)
		}
		tw := tabwriter.NewWriter(out, 0, 0, 2, ' ', 0)
		fmt.Fprintf(tw, "  %s\n", it.Words)
		if it.Worth != "" {
			fmt.Fprintf(tw, "  %s\n", it.Worth)
		}
		if it.Command.Verb != "" {
			fmt.Fprintf(tw, "  zatlas do '%s'\n", lang.Print(it.Command))
		}
		if it.Chord != "" {
			fmt.Fprintf(tw, "  %q = %q under [chords]\n", it.Chord, it.Form)
		}
		if err := tw.Flush(); err != nil {
			return err
		}
	}
	return nil
}

func forgetCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "forget [SINCE]",
		Short: "Erase what is kept of the work, all of it or since some time, for good",
		Long: `Erase what is kept of the work on this display, all of it or since some time: a
day such as 2026-11-20, or so long ago, such as 30m, 2h or 3d. Days of counts are
erased as a whole. It is written over, and cannot be brought back.`,
		Example: "  zatlas survey forget\n  zatlas survey forget 2h",
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 1 {
				return wordsError{fmt.Errorf("forget takes one time, and got %q besides", args[1])}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			since := time.Unix(0, 0)
			if len(args) == 1 {
				var err error
				if since, err = survey.ParseSince(args[0], time.Now()); err != nil {
					return wordsError{err}
				}
			}
			n, gone, err := store.ForgetSurvey(store.Path(), os.Getenv("DISPLAY"), since)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Erased %s for good.\n", desk.Counted(n, "span"))
			for _, name := range gone {
				fmt.Fprintf(cmd.OutOrStdout(), "Erased %s, which was damaged and set aside.\n", name)
			}
			return nil
		},
	}
}

// keptSurvey is what is kept of a display, for the screens.
type keptSurvey struct{ path, display string }

func (keptSurvey) Now() time.Time { return time.Now() }

func (k keptSurvey) Read(from, to time.Time) (survey.Data, error) {
	return store.ReadSurvey(k.path, k.display, from, to)
}

func (k keptSurvey) Forget(since time.Time) (int, error) {
	n, _, err := store.ForgetSurvey(k.path, k.display, since)
	return n, err
}

func (keptSurvey) Kept() bool { return true }

// givenSurvey is made up, or of a file.
type givenSurvey struct {
	now  time.Time
	data survey.Data
}

func (g givenSurvey) Now() time.Time { return g.now }

func (g givenSurvey) Read(from, to time.Time) (survey.Data, error) {
	return g.data.Within(from, to), nil
}

func (givenSurvey) Forget(time.Time) (int, error) { return 0, errors.New("there is nothing to erase") }

func (givenSurvey) Kept() bool { return false }

// surveyFrom is a file of spans for the screens; nil where none is named.
func surveyFrom(path string) (tui.Survey, error) {
	if path == "" {
		return nil, nil
	}
	d, err := surveyData(path)
	if err != nil {
		return nil, err
	}
	return givenSurvey{lastOf(d), d}, nil
}
