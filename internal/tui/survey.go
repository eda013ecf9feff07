package tui

import (
	"errors"
	"fmt"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/keeper"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/tui/cells"
)

// Survey is where the screens have from what the work was like.
type Survey interface {
	// Now is the moment up to which it goes.
	Now() time.Time
	// Read gives what is kept from one moment to another.
	Read(from, to time.Time) (survey.Data, error)
	// Forget erases what is kept since a moment, and gives how many spans it was.
	Forget(since time.Time) (int, error)
	// Kept tells that it is kept by the settings, and not made up or of a file.
	Kept() bool
}

var errNoSurvey = errors.New("no survey is known here")

// surveyScreen shows what the work was like in a period.
type surveyScreen struct {
	period  survey.Period
	later   int  // periods from the present one, 0 or less
	opened  bool // and nothing was read yet
	at      int  // the chart under the cursor
	on      bool
	report  *survey.Report // nil until it is read
	figures []survey.Figure
	data    survey.Data

	reloads int // of the settings, when it was read whether it is on
}

type surveyMsg struct {
	period survey.Period
	later  int
	data   survey.Data
	report *survey.Report
	err    error
}

// openSurvey shows the week.
func (m *model) openSurvey() tea.Cmd {
	if m.opt.Survey == nil {
		m.say(keeper.Sentence(errNoSurvey), true)
		return nil
	}
	s := &surveyScreen{period: survey.Week, opened: true}
	m.goTo(s)
	m.message = ""
	return s.read(m)
}

// read reads what is kept of the period.
func (s *surveyScreen) read(m *model) tea.Cmd {
	s.on, s.reloads = m.surveyOn(), m.reloads
	source, period, later := m.opt.Survey, s.period, s.later
	return func() tea.Msg {
		now := source.Now()
		from, to := period.Bounds(now, later)
		d, err := source.Read(from, to)
		msg := surveyMsg{period: period, later: later, data: d.Within(from, to), err: err}
		if err == nil {
			msg.report = survey.NewReport(d, period, now, later)
		}
		return msg
	}
}

// surveyOn tells whether the settings have it on.
func (m *model) surveyOn() bool {
	set, _ := settings.Load(m.opt.Settings)
	on, _, _ := set.Survey()
	return on
}

// gotSurvey takes what was read, unless another period is asked for by now.
func (m *model) gotSurvey(msg surveyMsg) tea.Cmd {
	s, ok := on[*surveyScreen](m)
	if !ok || msg.period != s.period || msg.later != s.later {
		return nil
	}
	if msg.err != nil {
		m.say(keeper.Sentence(msg.err), true)
		return nil
	}
	s.data, s.report, s.figures = msg.data, msg.report, msg.report.Figures()
	if s.opened && msg.report.Empty() && s.later == 0 { // a week has just begun
		s.later--
		return s.read(m)
	}
	s.opened = false
	if a, ok := on[*adviceScreen](m); ok {
		a.fill(m, s.data)
	}
	return nil
}

// follow takes up that it was turned on or off.
func (s *surveyScreen) follow(m *model) tea.Cmd {
	if s.reloads != m.reloads {
		return s.read(m)
	}
	return nil
}

func (s *surveyScreen) pointer(m *model, msg tea.MouseMsg) tea.Cmd {
	if e, ok := msg.(tea.MouseWheelMsg); ok {
		return m.arrowOf(e)
	}
	return nil
}

func (s *surveyScreen) hints(m *model) legend {
	turn := hint{"O", "turn it on"}
	if s.on {
		turn.does = "turn it off"
	}
	hs := []hint{{"d w f", "day, week, four weeks"}, {"left, right", "back, forth"}, {"a", "advice"}}
	if !m.surveyWhole() {
		hs = append([]hint{{"up, down", "another chart"}}, hs...)
	}
	if m.opt.Survey.Kept() {
		hs = append(hs, turn, hint{"x", "forget"})
	}
	return legend{first: append(hs, hint{"&", "draw it"}, hint{"Escape", "back to the map"}), flows: true}
}

func (s *surveyScreen) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	m.message = ""
	step := rowStep(name, len(s.figures))
	turn := map[string]int{"left": -1, "h": -1, "right": 1, "l": 1}[name]
	switch {
	case turn != 0 && s.later+turn <= 0:
		s.later += turn
		return s.read(m)
	case turn != 0:
		m.say("This is the latest there is.", false)
	case step != 0:
		s.at = geom.Clamp(s.at+step, 0, len(s.figures)-1)
	case name == "d" || name == "w" || name == "f":
		s.period, s.later = map[string]survey.Period{"d": survey.Day, "w": survey.Week, "f": survey.Weeks}[name], 0
		return s.read(m)
	case name == "a":
		return m.openAdvice(s)
	case name == "O" || name == "enter" && !s.on && m.opt.Survey.Kept():
		return s.turn(m)
	case name == "x" && m.opt.Survey.Kept():
		return s.askForget(m)
	case name == "esc" || name == "q":
		m.pop()
	default:
		return m.pageKey(k, name)
	}
	return nil
}

// turn turns it on after asking, or off.
func (s *surveyScreen) turn(m *model) tea.Cmd {
	switch {
	case !m.opt.Survey.Kept():
		m.say("These figures are made up or come from a file: there is nothing to turn on or off.", false)
		return nil
	case s.on:
		return m.writeSurvey("false", "The survey is off. What was kept stays; x erases it.")
	}
	return m.askFirst(&askPrompt{
		question: desk.Question{Text: "Keep which app has the focus, where and how long? Never a title.", Does: "turns it on", Leaves: "leaves it off"},
		yes: func(m *model) tea.Cmd {
			return m.writeSurvey("true", "The survey is on from now. It stays on this machine.")
		},
	})
}

// writeSurvey writes the setting, and has the keeper take it up.
func (m *model) writeSurvey(value, words string) tea.Cmd {
	return m.setTo("survey.on", value, words)
}

// askForget asks since when to erase what is kept, and then whether it is meant.
func (s *surveyScreen) askForget(m *model) tea.Cmd {
	accept := func(m *model, text string) tea.Cmd {
		since, words := time.Unix(0, 0), "all that is kept"
		if text != "" {
			var err error
			if since, err = survey.ParseSince(text, m.opt.Survey.Now()); err != nil {
				m.say(keeper.Sentence(err), true)
				return nil
			}
			words = "what is kept since " + since.Format("2 January 15:04")
		}
		ask := desk.Question{Text: "Erase " + words + ", for good?", Does: "erases it", Leaves: "keeps it"}
		// The prompt of the text is taken away first, and the question comes then.
		return func() tea.Msg { return askMsg{&askPrompt{question: ask, yes: s.forget(since)}} }
	}
	return m.askText(&textPrompt{label: "Forget since: ", help: "A day such as 2026-11-20, a while such as 2h or 3d; empty for all of it.", accept: accept, does: "goes on"}, "")
}

// askMsg has something asked.
type askMsg struct{ prompt *askPrompt }

func (s *surveyScreen) forget(since time.Time) func(m *model) tea.Cmd {
	return func(m *model) tea.Cmd {
		n, err := m.opt.Survey.Forget(since)
		if err != nil {
			m.say(keeper.Sentence(err), true)
			return nil
		}
		m.say(fmt.Sprintf("Erased %s for good.", desk.Counted(n, "span")), false)
		return s.read(m)
	}
}

// surveyWhole tells whether there is room for all charts at once.
func (m *model) surveyWhole() bool { return m.w >= 110 && m.h >= 38 }

// draw draws the charts, all of them or the one under the cursor.
func (s *surveyScreen) draw(m *model, c *cells.Canvas) *tea.Cursor {
	t := m.opt.Theme
	quiet, head := t.Style(t.Slate), cells.Bold(t.Style(t.Brass))
	m.head(c)
	parts := m.parts()
	r := geom.R(1, 1, c.W-2, parts.legend-2)
	at := r.X + c.Spans(r.X, r.Y, r.W, cells.Words("SURVEY", head), cells.Words("  by ", quiet))
	for i, name := range survey.Periods {
		st := quiet
		if survey.Period(i) == s.period {
			st = cells.Reverse(head)
		}
		at += c.Spans(at, r.Y, r.Right()-at, cells.Words(" "+name+" ", st))
	}
	if s.report == nil {
		c.Text(r.X, r.Y+2, r.W, "Reading what is kept.", quiet)
		return m.foot(c, parts)
	}
	c.Spans(at, r.Y, r.Right()-at, cells.Words("  "+s.report.Title(), cells.Bold(t.Style(t.Paper))))
	y := r.Y + 1
	for _, line := range cells.Wrap(s.report.Sentence(), r.W) {
		c.Text(r.X, y, r.W, line, t.Style(t.Paper))
		y++
	}
	r = geom.R(r.X, y+1, r.W, r.Bottom()-y-1)
	switch {
	case s.report.Empty():
		s.drawNone(m, c, r)
	case m.surveyWhole():
		w, h := (r.W-4)/2, r.H/3
		for i, f := range s.figures {
			drawFigure(m, c, f, geom.R(r.X+i%2*(w+4), r.Y+i/2*h, w, h-1), false)
		}
	default:
		drawFigure(m, c, s.figures[s.at], geom.R(r.X, r.Y, r.W, r.H), true)
	}
	return m.foot(c, parts)
}

// drawNone says what there is to do where nothing is kept.
func (s *surveyScreen) drawNone(m *model, c *cells.Canvas, r geom.Rect) {
	t := m.opt.Theme
	lines := []string{"Nothing is kept of this time. left goes back in it."}
	if !s.on && m.opt.Survey.Kept() {
		lines = []string{
			"The survey is off and records nothing. Enter turns it on, after asking.",
			"",
			"It would keep which app has the focus, on which workspace and monitor, from when",
			"to when; how often which command is used; how many windows are open. Never a title.",
			"Not while you are away. On this machine, for 90 days unless the settings say otherwise.",
			"From that it shows where the time goes, and what could be ordered better.",
			"x erases it for good, all of it or since some time.",
		}
	}
	y := r.Y
	for _, l := range lines {
		for _, line := range cells.Wrap(l, r.W) {
			c.Text(r.X, y, r.W, line, t.Style(t.Paper))
			y++
		}
	}
}
