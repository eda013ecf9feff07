package tui

import (
	"errors"
	"os"
	"path/filepath"
	"strings"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/draw/render"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/survey"
)

// drawnMsg tells what became of a drawing.
type drawnMsg struct {
	request render.Request
	err     error
}

// drawWord begins a line that asks for a drawing. It is none of the grammar's: the
// screens draw themselves, where they are.
const drawWord = "draw"

// drawRequest reads a line that asks for a drawing; ok is false for any other.
func drawRequest(line string) (r render.Request, ok bool, err error) {
	words := strings.Fields(line)
	if len(words) == 0 || words[0] != drawWord {
		return r, false, nil
	}
	// A file's name may have spaces.
	n := 2
	if len(words) > 1 && words[1] == "sheet" {
		n = 3
	}
	if len(words) > n+1 {
		_, rest, _ := strings.Cut(line, words[n-1])
		words = append(words[:n:n], strings.TrimSpace(rest))
	}
	r, err = render.ParseRequest(words[1:])
	return r, true, err
}

// completeDraw is what fits at the end of such a line.
func completeDraw(line string) (c lang.Completion) {
	words := strings.Fields(line)
	if !strings.HasPrefix(line, drawWord+" ") || len(words) > 2 || len(words) == 2 && strings.HasSuffix(line, " ") {
		return c
	}
	if len(words) == 2 {
		c.Begun = words[1]
	}
	for _, s := range render.Subjects {
		if strings.HasPrefix(s, c.Begun) {
			c.Words = append(c.Words, s)
		}
	}
	return c
}

// shownRequest is the drawing of what the screen shows.
func (m *model) shownRequest() render.Request {
	switch m.screen().(type) {
	case *sheetScreen:
		i, letter := m.sheetAt()
		return render.Request{What: "sheet", Index: i, Letter: letter}
	case *strays:
		return render.Request{What: "strays"}
	case *surveyScreen, *adviceScreen:
		return render.Request{What: "survey"}
	case *keysPage:
		return render.Request{What: "keys"}
	}
	return render.Request{What: "atlas"}
}

// startDraw asks for the file of a drawing of what is shown.
func (m *model) startDraw() tea.Cmd {
	r := m.shownRequest()
	accept := func(m *model, text string) tea.Cmd {
		r.Path = text
		if _, err := render.FormatOf(text); err != nil || text == "" {
			m.say("A file that ends with .svg or .pdf.", true)
			return nil
		}
		return m.drawTo(r, false)
	}
	what := r.What
	if what == "sheet" {
		what += " " + desk.SheetRef(r.Index, r.Letter)
	}
	return m.askText(&textPrompt{label: "Draw the " + what + " to: ", help: "SVG or PDF, by the ending. :draw book draws all of it.", accept: accept, does: "draws it"}, homely(m.drawingPath(r)))
}

// drawingPath is where a drawing goes that names no file: the present folder, or, in
// a window that the keeper brought up, the user's own.
func (m *model) drawingPath(r render.Request) string {
	dir, err := os.Getwd()
	if home, known := os.UserHomeDir(); known == nil && (err != nil || m.opt.BroughtUp) {
		dir = home
	}
	return filepath.Join(dir, r.Usual())
}

// drawTo draws what was asked for into a file, over one that is there if over is set.
func (m *model) drawTo(r render.Request, over bool) tea.Cmd {
	if r.Path == "" {
		r.Path = m.drawingPath(r)
	}
	if home, err := os.UserHomeDir(); err == nil && strings.HasPrefix(r.Path, "~/") {
		r.Path = filepath.Join(home, r.Path[2:])
	}
	if path, err := filepath.Abs(r.Path); err == nil {
		r.Path = path
	}
	s := render.Subject{Desk: m.d, Name: m.opt.Name, Keys: Keys(m.rows), Keyboard: Keyboard(m.set), Report: m.reporter()}
	m.say("Drawing.", false)
	return func() tea.Msg { return drawnMsg{r, save(s, r, over)} }
}

// save draws on paper by day.
func save(s render.Subject, r render.Request, over bool) error {
	paper, err := render.PaperNamed("a4")
	if err != nil {
		return err
	}
	fonts, err := render.NewFonts()
	if err != nil {
		return err
	}
	d, err := s.Drawing(r, paper)
	if err != nil {
		return err
	}
	return d.Save(r.Path, over, render.Style{Fonts: fonts, Theme: draw.Day, Paper: paper})
}

// reporter gives the figures that the screen of the survey shows, else those of the
// last four weeks.
func (m *model) reporter() func() (*survey.Report, error) {
	if s, ok := on[*surveyScreen](m); ok && s.report != nil {
		return func() (*survey.Report, error) { return s.report, nil }
	}
	source := m.opt.Survey
	return func() (*survey.Report, error) {
		if source == nil {
			return nil, errNoSurvey
		}
		at := source.Now()
		from, to := survey.Weeks.Bounds(at, 0)
		d, err := source.Read(from, to)
		if err != nil {
			return nil, err
		}
		return survey.NewReport(d, survey.Weeks, at, 0), nil
	}
}

// gotDrawn tells of a drawing, and asks where there is a file already.
func (m *model) gotDrawn(msg drawnMsg) {
	r := msg.request
	switch {
	case errors.Is(msg.err, render.ErrThere):
		m.askFirst(&askPrompt{
			question: desk.Question{Text: homely(r.Path) + " is there already. Write over it?", Does: "writes over it", Leaves: "keeps it"},
			yes:      func(m *model) tea.Cmd { return m.drawTo(r, true) },
		})
	case msg.err != nil:
		m.say(keeper.Sentence(msg.err), true)
	default:
		m.say("Drawn to "+homely(r.Path)+".", false)
	}
}
