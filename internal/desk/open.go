package desk

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// Start is an app to be started, and where its first window goes.
type Start struct {
	App       string
	Workspace int // id
	Monitor   byte
	Asked     bool     // a place was named, which no rule overrides
	Run       bool     // App is no app but the words of a command
	Terminal  bool     // it is no app but the terminal, with a shell in it
	For       *Seating // the place of a plate; nil for none
}

// Expect is a program that was started: its first window goes where it was
// started from, or where it was asked to. It is known by its startup id or by
// its process; several things of the same program expected are met in their order.
type Expect struct {
	Start
	StartupID string
	PID       int
}

// maxExpected bounds the programs that never show a window.
const maxExpected = 32

func (f Expect) apply(e *edit) string {
	e.expecting = append(slices.Clip(e.expecting), f)
	e.expecting = e.expecting[max(0, len(e.expecting)-maxExpected):]
	return ""
}

// meet finds what a window that opens was expected as, and expects it no longer.
func (e *edit) meet(o Opened) (Expect, bool) {
	i := slices.IndexFunc(e.expecting, func(x Expect) bool {
		return x.StartupID != "" && x.StartupID == o.StartupID || x.PID != 0 && (x.PID == o.Window.PID || slices.Contains(o.Ancestors, x.PID))
	})
	if i < 0 {
		return Expect{}, false
	}
	x := e.expecting[i]
	e.expecting = slices.Delete(slices.Clone(e.expecting), i, i+1)
	return x, true
}

// open goes to an app that runs, and has one started that does not.
func (e *edit) open(c Command) (string, error) {
	name, another := c.Args[0].Word, false
	start := Start{App: name, Workspace: e.Workspaces[e.Current()].ID, Monitor: e.At}
	where := ""
	for i := 1; i < len(c.Args); i++ {
		if c.Args[i].Word == "another" {
			another = true
			continue
		}
		if e.Settings.Alongside {
			return "", errors.New("where a window opens is for the desktop's manager to say. Open it, and send it from there")
		}
		i++ // the place after "on"
		p, err := e.resolve(c.Args[i], e.Current())
		if err == nil {
			err = e.atHome(p)
		}
		if err != nil {
			return "", err
		}
		if p.workspace >= 0 {
			start.Workspace = e.Workspaces[p.workspace].ID
			start.Monitor = e.fitting(p.workspace, e.At)
		}
		if p.letter != 0 {
			start.Monitor = p.letter
		}
		start.Asked = true
		where = " on " + p.words(e.Desk)
	}
	running := slices.DeleteFunc(slices.Clone(e.Windows), func(w *Window) bool {
		return !strings.EqualFold(w.App, name) && (w.Class == "" || !strings.EqualFold(w.Class, name))
	})
	if len(running) == 0 || another {
		e.start = &start
		return fmt.Sprintf("Started %s%s.", name, where), nil
	}
	if i := slices.IndexFunc(running, func(w *Window) bool { return w.ID == e.Focus }); i >= 0 {
		return e.focusWindow(running[(i+1)%len(running)].ID)
	}
	return e.focusWindow(slices.MaxFunc(running, func(a, b *Window) int { return a.Used - b.Used }).ID)
}

// run has a command started, which is no app.
func (e *edit) run(c Command) (string, error) {
	line := c.Args[0].Word
	e.start = &Start{App: line, Workspace: e.Workspaces[e.Current()].ID, Monitor: e.At, Run: true}
	return fmt.Sprintf("Started %s.", CleanText(line, MaxName)), nil
}

// another has the app of the focused window started once more, or a terminal.
func (e *edit) another(c Command) (string, error) {
	start := Start{App: "a terminal", Workspace: e.Workspaces[e.Current()].ID, Monitor: e.At, Terminal: true}
	if len(c.Args) == 0 {
		w := e.Window(e.Focus)
		if w == nil || w.App == "" {
			return "", errors.New("no window has the focus, and so no app")
		}
		start.App, start.Terminal = w.App, false
	}
	e.start = &start
	return fmt.Sprintf("Started %s.", start.App), nil
}

// Apps lists the apps that have windows, in the order of the desk.
func (d *Desk) Apps() []string {
	var names []string
	for _, w := range d.InOrder() {
		if w.App != "" && !slices.Contains(names, w.App) {
			names = append(names, w.App)
		}
	}
	return names
}

// Runs tells whether an app of exactly that name has windows.
func (d *Desk) Runs(app string) bool {
	return slices.ContainsFunc(d.Windows, func(w *Window) bool { return w.App == app })
}

// Expecting tells whether programs were started that have shown no window yet.
func (d *Desk) Expecting() bool { return len(d.expecting) > 0 }
