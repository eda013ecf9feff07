package terminal

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strings"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"
	uv "github.com/charmbracelet/ultraviolet"
	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/testkit"
)

// page is a model of one view, with the last key in it.
type page struct{ view tea.View }

func (p *page) Init() tea.Cmd  { return nil }
func (p *page) View() tea.View { return p.view }
func (p *page) Update(msg tea.Msg) (tea.Model, tea.Cmd) {
	switch k, ok := msg.(tea.KeyPressMsg); {
	case !ok:
	case k.Text == "q":
		return p, tea.Quit
	case k.Text == "?":
		return p, Write(ansi.RequestExtendedCursorPositionReport)
	case k.Text == "c":
		p.view.Cursor = tea.NewCursor(1, 1)
	default:
		p.view.Content = "first\nkey " + k.Text
	}
	return p, nil
}

// newScreen is a page on a screen of 20×5 cells, where nothing was drawn for a while.
func newScreen() (*screen, *page, *bytes.Buffer) {
	p, out := &page{}, &bytes.Buffer{}
	s := &screen{Model: p, out: out}
	s.renderer = uv.NewTerminalRenderer(&s.frame, []string{"TERM=xterm-256color"})
	s.renderer.SetFullscreen(true)
	s.renderer.SetRelativeCursor(false)
	s.Update(tea.WindowSizeMsg{Width: 20, Height: 5})
	s.View()
	out.Reset()
	s.drawn = time.Time{}
	return s, p, out
}

func press(s *screen, key string) tea.Cmd {
	_, cmd := s.Update(tea.KeyPressMsg(tea.Key{Text: key, Code: rune(key[0])}))
	s.View()
	return cmd
}

// Some keys after a while are drawn at once, those right after them together, and what changes
// nothing writes nothing.
func TestFrames(t *testing.T) {
	s, _, out := newScreen()
	for _, key := range []string{"a", "b", "d"}[:atOnce] {
		if cmd := press(s, key); cmd != nil || !strings.Contains(out.String(), key) {
			t.Fatalf("%s after a while: %q, and more to come: %t", key, out, cmd != nil)
		}
		out.Reset()
	}
	s.drawn = time.Now().Add(time.Minute)
	later := press(s, "e")
	for _, key := range []string{"f", "g"} {
		if cmd := press(s, key); cmd != nil {
			t.Error("a frame is planned twice")
		}
	}
	if later == nil || out.Len() > 0 {
		t.Fatalf("keys in a burst: %q, and more to come: %t", out, later != nil)
	}
	s.drawn = time.Time{}
	s.Update(frameMsg{})
	if s.View(); !strings.Contains(out.String(), "g") || strings.ContainsAny(out.String(), "ef") {
		t.Errorf("the keys together: %q", out)
	}
	out.Reset()
	s.drawn = time.Time{}
	if press(s, "g"); out.Len() > 0 || !s.drawn.IsZero() {
		t.Errorf("what is there already was written again: %q", out)
	}
}

// A line is written where it is another than before, whatever was there.
func TestLines(t *testing.T) {
	s, p, out := newScreen()
	for _, c := range []struct{ content, written, not string }{
		{"one\ntwo\nthree", "one two three", ""},
		{"one\n2\nthree", "2", "one three"},
		{"one\n2\nthree\nfour\nfive\nsix", "four five", "one six"},
		{"one", "", "one"}, // and nothing else is left, see below
		{"\x1b[31mone\x1b[m", "one", ""},
	} {
		p.view.Content = c.content
		s.drawn = time.Time{}
		s.Update(nil)
		s.View()
		for _, word := range strings.Fields(c.written) {
			if !strings.Contains(out.String(), word) {
				t.Errorf("%q: %q is not written: %q", c.content, word, out)
			}
		}
		for _, word := range strings.Fields(c.not) {
			if strings.Contains(out.String(), word) {
				t.Errorf("%q: %q is written: %q", c.content, word, out)
			}
		}
		out.Reset()
	}
	s.drawn = time.Time{}
	s.Update(Redraw())
	if s.View(); !strings.Contains(out.String(), "one") || strings.Contains(out.String(), "three") {
		t.Errorf("written anew: %q", out)
	}
}

// The cursor is hidden while a frame is written, and a terminal that can shows all of it at
// once.
func TestCursorAndFrame(t *testing.T) {
	s, _, out := newScreen()
	s.Update(tea.ModeReportMsg{Mode: ansi.ModeSynchronizedOutput, Value: ansi.ModeReset})
	press(s, "c")
	for _, key := range []string{"x", "y"} {
		out.Reset()
		s.drawn = time.Time{}
		press(s, key)
	}
	got := out.String()
	order := []string{ansi.SetModeSynchronizedOutput, ansi.ResetModeTextCursorEnable, "y", ansi.SetModeTextCursorEnable, ansi.ResetModeSynchronizedOutput}
	for _, part := range order {
		_, rest, found := strings.Cut(got, part)
		if !found {
			t.Fatalf("%q is missing, or not in its order: %q", part, out)
		}
		got = rest
	}
}

// Whatever ends it, all that was set is put back.
func TestRunPutsBack(t *testing.T) {
	mode := regexp.MustCompile(`\x1b\[\?(\d+)([hl])`)
	for name, end := range map[string]func(keys *io.PipeWriter, cancel func()){
		"quit":    func(keys *io.PipeWriter, _ func()) { io.WriteString(keys, "q") },
		"context": func(_ *io.PipeWriter, cancel func()) { cancel() },
		"input":   func(keys *io.PipeWriter, _ func()) { keys.CloseWithError(errors.New("the terminal is gone")) },
	} {
		t.Run(name, func(t *testing.T) {
			ctx, cancel := context.WithCancel(t.Context())
			defer cancel()
			in, keys := io.Pipe()
			out := &testkit.Buffer{}
			term := &Terminal{In: in, Out: out, Env: []string{"TERM=xterm-256color"}, W: 30, H: 6}
			done := make(chan error, 1)
			go func() {
				done <- term.Run(ctx, &page{view: tea.View{Content: "here", WindowTitle: "title", BackgroundColor: ansi.Blue, Cursor: tea.NewCursor(0, 0)}})
			}()
			testkit.Until(t, "it is written", func() bool { return strings.Contains(out.String(), "here") })
			io.WriteString(keys, "?")
			testkit.Until(t, "it is written", func() bool { return strings.Contains(out.String(), ansi.RequestExtendedCursorPositionReport) })
			end(keys, cancel)
			<-done
			set := map[string]string{}
			for _, m := range mode.FindAllStringSubmatch(out.String(), -1) {
				set[m[1]] = m[2]
			}
			want := map[string]string{"1049": "l", "25": "h", "2004": "l", "1002": "l", "1006": "l"}
			if fmt.Sprint(set) != fmt.Sprint(want) {
				t.Errorf("it left %v, and not %v", set, want)
			}
			for _, back := range []string{ansi.PopKittyKeyboard(1), ansi.ResetModifyOtherKeys, ansi.ResetBackgroundColor, ansi.SetWindowTitle(""), ansi.SetCursorStyle(0)} {
				if !strings.Contains(out.String(), back) {
					t.Errorf("%q is not put back", back)
				}
			}
		})
	}
}
