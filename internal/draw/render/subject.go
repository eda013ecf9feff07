package render

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/file"
	"zatlas/internal/lang"
	"zatlas/internal/survey"
)

// Subjects are what can be drawn, with what follows the word.
var Subjects = []string{"atlas", "sheet", "strays", "keys", "survey", "book"}

// Subject is what drawings are made of.
type Subject struct {
	Desk *desk.Desk // nil for the keys and the survey alone
	Name string     // of the desk
	Keys []draw.Section
	// Keyboard is the chords there are, for the advice on keys.
	Keyboard survey.Keyboard
	// ToLearn are the chords of a card; without any, all keys are drawn.
	ToLearn []survey.ToLearn
	// Report gives the figures of the survey; an error says why there are none.
	Report func() (*survey.Report, error)
}

// Request is a drawing asked for in words.
type Request struct {
	What   string
	Index  int  // of the workspace of a sheet
	Letter byte // and of its monitor
	Path   string
}

// ParseRequest reads what follows the word draw: what, and, where there is one more
// word, the file.
func ParseRequest(words []string) (r Request, err error) {
	if len(words) == 0 || !slices.Contains(Subjects, words[0]) {
		return r, fmt.Errorf("draw needs what to draw: %s", strings.Join(Subjects, ", "))
	}
	r.What, words = words[0], words[1:]
	if r.What == "sheet" {
		if len(words) == 0 {
			return r, errors.New("draw sheet needs the sheet, such as B3")
		}
		if r.Letter, r.Index, err = lang.ParseSheet(words[0]); err != nil {
			return r, err
		}
		r.Index--
		words = words[1:]
	}
	switch len(words) {
	case 0:
	case 1:
		r.Path = words[0]
	default:
		return r, fmt.Errorf("draw %s takes one file, and not %q", r.What, strings.Join(words, " "))
	}
	return r, nil
}

// Drawing is what was asked for.
func (s Subject) Drawing(r Request, paper Paper) (*Drawing, error) {
	var report *survey.Report
	var err error
	if r.What == "survey" || r.What == "book" {
		if report, err = s.Report(); err != nil && r.What == "survey" {
			return nil, err
		}
	}
	switch r.What {
	case "keys":
		if len(s.ToLearn) > 0 {
			return Card(s.ToLearn), nil
		}
		return Keys(s.Keys), nil
	case "survey":
		return Survey(report), nil
	case "strays":
		return Strays(s.Desk), nil
	case "book":
		return Book(s, report, paper), nil
	case "sheet":
		m := s.Desk.Monitor(r.Letter)
		if r.Index >= len(s.Desk.Workspaces) || m == nil || !m.Connected || !s.Desk.Has(r.Index, r.Letter) {
			return nil, fmt.Errorf("there is no sheet %c%d", r.Letter, r.Index+1)
		}
		return Sheet(s.Desk, r.Index, r.Letter), nil
	}
	return Atlas(s.Desk, s.Name), nil
}

// ErrThere is the error of a file that is there already.
var ErrThere = errors.New("there is a file already")

// Save writes a drawing to a file of mode 0600, in the format that its name ends with.
// One that is there is left, and the error is ErrThere, unless over is set. Where
// writing fails, what was there is there still.
func (d *Drawing) Save(path string, over bool, st Style) error {
	format, err := FormatOf(path)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := d.Write(&b, format, st); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	if over {
		return file.Replace(path, b.Bytes(), 0o600)
	}
	err = file.Create(path, b.Bytes())
	if errors.Is(err, fs.ErrExist) {
		return fmt.Errorf("%s: %w", path, ErrThere)
	}
	return err
}

// Usual is the name of a file for a request that names none, in the present folder.
func (r Request) Usual() string {
	name := r.What
	if r.What == "sheet" {
		name += "-" + desk.SheetRef(r.Index, r.Letter)
	}
	if r.What == "book" {
		return name + ".pdf"
	}
	return name + ".svg"
}
