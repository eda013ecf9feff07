package board

import (
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"zatlas/internal/geom"
	"zatlas/internal/keeper"
)

// TokenVariable names the variable of the environment by which the screens know that they
// run in the atlas window; its value is in that window's title.
const TokenVariable = "ZEALOUS_ATLAS_WINDOW"

// Title is the title of the atlas window with that token.
func Title(token string) string { return "Zealous Atlas [" + token + "]" }

// ScreenOptions say how screens are shown.
type ScreenOptions struct {
	Display string // as in $DISPLAY; empty for that
	// Terminal is the command that runs another in a terminal whose window fits into a room,
	// in pixels; TITLE in it is the window's title. Empty where there is none.
	Terminal func(room geom.Rect) []string
	Command  []string // what runs in the window; none can be brought up without both
}

// Screens are the screens in the window of a host's own, the atlas window: a terminal with
// this program in it. They are asked for what to show by the keeper, and answer by the end of
// the window's title.
type Screens struct {
	Screen string // what they were last asked to show
	Astray bool   // what they were brought up for has failed
	ByHand bool   // a window is moved or resized by keys typed into them
	Words  string // of the last command that was given in them
	Silent bool   // they did not answer in time, the last time they were waited for

	token    string
	asked    int // how often they were asked to show something
	wake     func()
	terminal *terminal
	held     time.Time // until when the keyboard waits for them at the latest; zero where it does not
}

// NewScreens has no screens shown yet. Wake is called, on any goroutine, when Ended or Late
// may have something to tell.
func NewScreens(wake func()) *Screens {
	b := make([]byte, 8)
	rand.Read(b) // never fails, by its documentation
	return &Screens{token: "zatlas-" + hex.EncodeToString(b), wake: wake}
}

// Own tells whether a token is that of the window.
func (s *Screens) Own(token string) bool { return token != "" && token == s.token }

// Has tells whether a window is theirs: by its startup id, else by the token in its title.
func (s *Screens) Has(startup, title string) bool {
	return s.terminal != nil && (strings.Contains(startup, s.token) || strings.Contains(title, s.token))
}

// Ask gives what the keeper is told, so that they show a screen.
func (s *Screens) Ask(screen string) keeper.Event {
	s.Screen, s.ByHand = screen, screen == "nudge" || screen == "resize"
	s.asked++
	s.Astray, s.Words = false, ""
	return keeper.Event{Screen: screen, Asked: s.asked}
}

// Answer is what the screens said.
type Answer int

// The answers.
const (
	Nothing Answer = iota
	Here           // they show what they were asked for
	Away           // they are to be put away
)

// Answered follows a change of the window's title: it ends with the number of what they show.
func (s *Screens) Answered(title string) Answer {
	n := " " + strconv.Itoa(s.asked)
	switch {
	case !strings.HasSuffix(title, n):
		return Nothing
	case strings.HasSuffix(title, keeper.Away+n):
		return Away
	}
	s.Astray = strings.HasSuffix(title, keeper.Astray+n)
	s.ByHand = strings.HasSuffix(title, keeper.ByHand+n)
	s.Silent = false
	return Here
}

// holdTime is how long the keyboard waits for the screens at most. It is meant for a terminal
// that has to start first.
const holdTime = 4 * time.Second

// Hold has keys wait until the screens answer: typed on at once, a search would go to a
// document, or be taken for commands. It tells whether they are to. Window tells that there
// is one.
func (s *Screens) Hold(window bool) bool {
	if s.Silent || !window && s.terminal == nil {
		return false
	}
	s.held = time.Now().Add(holdTime)
	time.AfterFunc(holdTime, s.wake)
	return true
}

// Release tells whether keys have waited, which do no more.
func (s *Screens) Release() (held bool) {
	held = !s.held.IsZero()
	s.held = time.Time{}
	return held
}

// Late tells whether keys have waited long enough.
func (s *Screens) Late() bool {
	late := !s.held.IsZero() && time.Now().After(s.held)
	s.Silent = s.Silent || late
	return late
}

// terminal is the program of the atlas window, from when it is to be started on.
type terminal struct {
	started chan struct{} // closed when process is there
	process *os.Process
	ended   chan struct{} // closed when it has ended, or has not started, for what fault says
	fault   string
}

// Start has the screens run in a terminal that fits into a room. Its window comes later. The
// words say why it does not.
func (s *Screens) Start(opt ScreenOptions, room geom.Rect) (words string) {
	if s.terminal != nil {
		return ""
	}
	if len(opt.Command) == 0 || opt.Terminal == nil {
		return "No atlas window can be brought up here."
	}
	t := &terminal{started: make(chan struct{}), ended: make(chan struct{})}
	s.terminal = t
	env := []string{TokenVariable + "=" + s.token, "DESKTOP_STARTUP_ID=" + s.token}
	if opt.Display != "" {
		env = append(env, "DISPLAY="+opt.Display)
	}
	go func() { // the disk with the program may not answer
		defer s.wake()
		defer close(t.ended)
		args := append(opt.Terminal(room), opt.Command...)
		if len(args) == len(opt.Command) {
			t.fault = "No terminal is installed for the atlas window. Install xterm, or name another: keeper.terminal."
			return
		}
		t.run(args, env, s.token)
	}()
	return ""
}

// run runs the terminal to its end.
func (t *terminal) run(args, env []string, token string) {
	for i, arg := range args {
		args[i] = strings.ReplaceAll(arg, "TITLE", Title(token))
	}
	cmd := exec.Command(args[0], args[1:]...)
	cmd.Env = append(os.Environ(), env...)
	if err := cmd.Start(); err != nil {
		t.fault = fmt.Sprintf("The terminal %s did not start: %v. The setting keeper.terminal names another.", args[0], err)
		return
	}
	t.process = cmd.Process
	close(t.started)
	cmd.Wait() // its exit status says nothing that its window's end does not
}

// Ended tells whether the terminal has ended, and why it did not start; after that none is
// there.
func (s *Screens) Ended() (words string, ended bool) {
	if s.terminal == nil {
		return "", false
	}
	select {
	case <-s.terminal.ended:
		words = s.terminal.fault
		s.terminal = nil
		return words, true
	default:
		return "", false
	}
}

// Gone forgets the terminal: its window is gone.
func (s *Screens) Gone() { s.terminal = nil }

// Kill ends the terminal where it has no window yet.
func (s *Screens) Kill() {
	if s.terminal == nil {
		return
	}
	select {
	case <-s.terminal.started:
		s.terminal.process.Kill()
	default:
	}
}
