// Package terminal shows a model's views on a terminal: each as soon as it is there, and nothing
// while nothing changes. The library's own renderer looks sixty times a second whether there is
// something to draw.
package terminal

import (
	"bytes"
	"context"
	"fmt"
	"image/color"
	"io"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	tea "charm.land/bubbletea/v2"
	"github.com/charmbracelet/colorprofile"
	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"
	"github.com/charmbracelet/x/term"
)

// Terminal is where a program's screens are.
type Terminal struct {
	In   io.Reader
	Out  io.Writer
	Env  []string // its variables, such as TERM
	W, H int      // its size in cells, where it cannot be asked

	was *term.State // of In before it was opened; nil where that is no terminal
}

// Own opens the terminal of the process: what is typed is not written on it from now on, and
// comes letter by letter, until it is closed.
func Own() (*Terminal, error) {
	was, err := term.MakeRaw(os.Stdin.Fd())
	return &Terminal{In: os.Stdin, Out: os.Stdout, Env: os.Environ(), W: 80, H: 24, was: was}, err
}

// Close gives the terminal back as it was.
func (t *Terminal) Close() {
	if in, ok := t.In.(term.File); ok && t.was != nil {
		term.Restore(in.Fd(), t.was)
	}
}

// size is how many cells the terminal has.
func (t *Terminal) size() (w, h int) {
	if out, ok := t.Out.(term.File); ok {
		if w, h, err := term.GetSize(out.Fd()); err == nil && w > 0 && h > 0 {
			return w, h
		}
	}
	return t.W, t.H
}

// What is set while views are shown: a screen of their own, without a cursor; pastes, the
// pointer and all keys told, with their releases where the terminal can. It is put back in the
// other order.
const (
	enter = ansi.SetModeAltScreenSaveCursor + ansi.ResetModeTextCursorEnable + ansi.SetModeBracketedPaste +
		ansi.SetModeMouseButtonEvent + ansi.SetModeMouseExtSgr + ansi.SetModifyOtherKeys2
	leave = ansi.ResetModifyOtherKeys + ansi.ResetModeMouseButtonEvent + ansi.ResetModeMouseExtSgr +
		ansi.ResetModeBracketedPaste + ansi.SetModeTextCursorEnable + ansi.ResetModeAltScreenSaveCursor
	keyReports = ansi.KittyDisambiguateEscapeCodes | ansi.KittyReportEventTypes
)

// steadyBlock is the cursor of the screens (DECSCUSR): nothing blinks.
const steadyBlock = 2

// Run shows a model until it ends or the context does.
func (t *Terminal) Run(ctx context.Context, m tea.Model) error {
	s := &screen{Model: m, out: t.Out, drawn: time.Now().Add(atOnce * frameTime)}
	s.renderer = uv.NewTerminalRenderer(&s.frame, t.Env)
	s.renderer.SetFullscreen(true)
	s.renderer.SetRelativeCursor(false)
	s.renderer.SetScrollOptim(true)
	s.renderer.SetTabStops(-1)
	profile := colorprofile.Detect(t.Out, t.Env)
	s.renderer.SetColorProfile(profile)
	io.WriteString(t.Out, enter+ansi.PushKittyKeyboard(keyReports))
	if uv.Environ(t.Env).Getenv("SSH_TTY") == "" { // the answer of one far away might come after the end
		io.WriteString(t.Out, ansi.RequestModeSynchronizedOutput)
	}
	defer s.leave()
	p := tea.NewProgram(s, tea.WithContext(ctx), tea.WithInput(t.In), tea.WithOutput(t.Out), tea.WithEnvironment(t.Env), tea.WithWindowSize(t.size()),
		tea.WithColorProfile(profile), tea.WithoutRenderer(), tea.WithFPS(1))
	defer t.follow(p)()
	_, err := p.Run()
	return err
}

// follow tells a program the terminal's size, now and whenever it changes, until it is told to
// end.
func (t *Terminal) follow(p *tea.Program) (end func()) {
	changes, over := make(chan os.Signal, 1), make(chan struct{})
	signal.Notify(changes, syscall.SIGWINCH)
	go func() {
		for {
			w, h := t.size()
			p.Send(tea.WindowSizeMsg{Width: w, Height: h})
			select {
			case <-changes:
			case <-over:
				return
			}
		}
	}()
	return func() {
		signal.Stop(changes)
		close(over)
	}
}

// screen is a model whose views are drawn as it gives them.
type screen struct {
	tea.Model
	out      io.Writer
	renderer *uv.TerminalRenderer
	frame    bytes.Buffer // of the renderer
	cells    uv.ScreenBuffer
	lines    []string // that are in the cells

	title   string
	ground  color.Color
	cursor  bool      // there is one
	styled  bool      // there was
	whole   bool      // the terminal shows a frame as a whole where it is told its end
	due     bool      // there may be something to draw
	planned bool      // it will be due soon
	drawn   time.Time // when the latest frames would be over, if each took frameTime
}

// frameTime is the time of a frame where many are drawn. Up to atOnce of them are drawn at
// once, as for a key, its answer and what it did; what comes faster is drawn together.
const (
	frameTime = time.Second / 60
	atOnce    = 3
)

type (
	frameMsg  struct{} // what was planned is due
	redrawMsg struct{}
	writeMsg  string
)

// Redraw has all of the terminal written anew.
func Redraw() tea.Msg { return redrawMsg{} }

// Write has something written that is no part of a view, such as a question.
func Write(sequence string) tea.Cmd { return func() tea.Msg { return writeMsg(sequence) } }

func (s *screen) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	switch msg := msg.(type) {
	case frameMsg:
		s.planned = false
		return s, s.plan()
	case redrawMsg:
		s.renderer.Erase()
		return s, s.plan()
	case writeMsg:
		io.WriteString(s.out, string(msg))
		return s, nil
	case tea.WindowSizeMsg:
		s.resize(msg.Width, msg.Height)
	case tea.ColorProfileMsg:
		s.renderer.SetColorProfile(msg.Profile)
		s.renderer.Erase()
	case tea.ModeReportMsg:
		s.whole = s.whole || msg.Mode == ansi.ModeSynchronizedOutput && msg.Value == ansi.ModeReset
	}
	var cmd tea.Cmd
	s.Model, cmd = s.Model.Update(msg)
	return s, tea.Batch(cmd, s.plan())
}

// plan has a frame drawn now, or as soon as it is time for one.
func (s *screen) plan() tea.Cmd {
	if s.planned || s.cells.RenderBuffer == nil {
		return nil
	}
	wait := time.Until(s.drawn.Add(-(atOnce - 1) * frameTime))
	if s.due = wait <= 0; s.due {
		return nil
	}
	s.planned = true
	return tea.Tick(wait, func(time.Time) tea.Msg { return frameMsg{} })
}

func (s *screen) resize(w, h int) {
	s.cells, s.lines = uv.NewScreenBuffer(w, h), make([]string, h)
	s.renderer.Resize(w, h)
	s.renderer.Erase()
}

// View draws what is due. The library, which shows nothing itself, asks for it after each
// message.
func (s *screen) View() tea.View {
	if s.due {
		s.due = false
		s.draw(s.Model.View())
	}
	return tea.View{}
}

// draw writes what a view has other than the one before.
func (s *screen) draw(v tea.View) {
	s.render(v)
	var b bytes.Buffer
	if v.WindowTitle != s.title {
		b.WriteString(ansi.SetWindowTitle(v.WindowTitle))
	}
	if v.BackgroundColor != s.ground {
		b.WriteString(background(v.BackgroundColor))
	}
	if s.cursor && (s.frame.Len() > 0 || v.Cursor == nil) {
		b.WriteString(ansi.ResetModeTextCursorEnable)
		s.cursor = false
	}
	b.Write(s.frame.Bytes())
	s.frame.Reset()
	if v.Cursor != nil && !s.cursor {
		b.WriteString(ansi.SetCursorStyle(steadyBlock) + ansi.SetModeTextCursorEnable)
		s.styled = true
	}
	s.title, s.ground, s.cursor = v.WindowTitle, v.BackgroundColor, v.Cursor != nil
	if b.Len() == 0 {
		return
	}
	if now := time.Now(); s.drawn.Before(now) {
		s.drawn = now
	}
	if s.drawn = s.drawn.Add(frameTime); s.whole {
		b = *bytes.NewBufferString(ansi.SetModeSynchronizedOutput + b.String() + ansi.ResetModeSynchronizedOutput)
	}
	s.out.Write(b.Bytes())
}

// render has the renderer work out what is to be written of a view's lines. Those that are as
// before are not looked at.
func (s *screen) render(v tea.View) {
	rest, more := v.Content, true
	for y, was := range s.lines {
		line := ""
		if more {
			line, rest, more = strings.Cut(rest, "\n")
		}
		if line != was {
			uv.NewStyledString(line).Draw(s.cells, uv.Rect(0, y, s.cells.Width(), 1))
			s.lines[y] = line
		}
	}
	s.renderer.Render(s.cells.RenderBuffer)
	if v.Cursor != nil {
		s.renderer.MoveTo(v.Cursor.X, v.Cursor.Y)
	}
	s.renderer.Flush()
}

// background sets the colour of the terminal's ground; nil for its own.
func background(c color.Color) string {
	if c == nil {
		return ansi.ResetBackgroundColor
	}
	r, g, b, _ := c.RGBA()
	return ansi.SetBackgroundColor(fmt.Sprintf("#%02x%02x%02x", r>>8, g>>8, b>>8))
}

// leave puts back what was set.
func (s *screen) leave() {
	var b bytes.Buffer
	b.WriteString(ansi.PopKittyKeyboard(1))
	if s.ground != nil {
		b.WriteString(background(nil))
	}
	if s.title != "" {
		b.WriteString(ansi.SetWindowTitle(""))
	}
	if s.styled {
		b.WriteString(ansi.SetCursorStyle(0))
	}
	b.WriteString(leave)
	s.out.Write(b.Bytes())
}
