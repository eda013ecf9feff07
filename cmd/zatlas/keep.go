package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/pack"
	"zatlas/internal/picture"
	"zatlas/internal/plate"
	"zatlas/internal/remote"
	"zatlas/internal/settings"
	"zatlas/internal/status"
	"zatlas/internal/store"
)

// recalled is how many lines of earlier keepers the logbook screen shows.
const recalled = 500

func keepCommand() *cobra.Command {
	var opt x11.Options
	var verbose bool
	var edge string
	cmd := &cobra.Command{
		Use:     "keep",
		Short:   "Manage the windows of an X display",
		Example: "  zatlas keep\n  zatlas keep --replace",
		Long: `Keep the windows of the X display in $DISPLAY, as its manager, until ended.
Super with 1 to 9 goes to a workspace. Shift added, the focused window is sent
there; Ctrl added, you go along with it. Super with an arrow moves the focus,
Super with B goes back, Super with Tab held shows the recent windows, Super with
Space brings up the atlas window and Super with K the page of all keys. Chords,
the terminal of the atlas window and more are settings: zatlas config.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if edge != "" && !slices.Contains(lineEdges, edge) {
				return wordsError{fmt.Errorf("--line is %s, and not %q", strings.Join(lineEdges, ", "), edge)}
			}
			log, flush := logTo(cmd.ErrOrStderr(), verbose)
			opt.Log = log
			err := untilTold(cmd.Context(), cmd.ErrOrStderr(), func(ctx context.Context) error { return keep(ctx, opt, edge) })
			flush()
			if errors.Is(err, keeper.ErrRestart) {
				return again()
			}
			return err
		},
	}
	cmd.Flags().BoolVar(&opt.Replace, "replace", false, "ask the display's present manager to go")
	cmd.Flags().BoolVar(&verbose, "verbose", false, "log more")
	cmd.Flags().StringVar(&edge, "line", "", "where the line is, whatever the settings say: "+strings.Join(lineEdges, ", "))
	return cmd
}

// again starts this program in the place of this process, as it is on disk by now.
func again() error {
	self, err := os.Executable()
	if err == nil {
		err = syscall.Exec(self, os.Args, os.Environ())
	}
	return fmt.Errorf("starting the keeper again: %w", err)
}

// lastWait is how long after a signal the end may take. An X server that stands
// still, or a file, must not keep a process from ending that was told to.
const lastWait = 1800 * time.Millisecond

// untilTold runs f until it ends or a signal tells it to. Where it has not ended
// lastWait after the signal, the process does.
func untilTold(ctx context.Context, stderr io.Writer, f func(context.Context) error) error {
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
	defer stop()
	ended := make(chan struct{})
	defer close(ended)
	go func() {
		select {
		case <-ctx.Done():
		case <-ended:
			return
		}
		select {
		case <-time.After(lastWait):
			fmt.Fprintln(stderr, "zatlas: ended as it was told to, without the X server or the disk, which do not answer. The server shows every window")
			os.Exit(exitStuck)
		case <-ended:
		}
	}()
	return f(ctx)
}

// ours tells of a keeper of this user that has the display already.
func ours(display string) error {
	pid, ok := remote.Process(remote.SocketPath(display))
	if !ok {
		return nil
	}
	return fmt.Errorf("a keeper keeps the desk of display %s already, process %d: zatlas shows its screens, zatlas do end ends it, and zatlas keep --replace takes its place", display, pid)
}

func keep(ctx context.Context, opt x11.Options, edge string) (err error) {
	b, err := begin(ctx, opt.Log)
	if err != nil {
		return err
	}
	defer b.close()
	take := func(s settings.Settings) {
		opt.Quiet, opt.Board = !s.Words(), boardOptions(s)
		opt.AtlasKey, opt.Pointing = atlasKey(s), x11.Pointing(s.Pointer())
		opt.Border, opt.Colours = s.Border(), borderColours(s)
		opt.Line = lineOptions(s, false)
		opt.Line.Edge = cmp.Or(edge, opt.Line.Edge)
	}
	take(b.set)
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	b.pictures(ctx)
	opt.Camera, opt.Album = b.camera, b.album
	opt.Screens, opt.NameApp, opt.Amiss = b.screens(), b.nameApp, b.unset
	opt.Settings, opt.Fresh = b.set.ForDesk(), b.set.Fresh()
	start, fault := startPlate(b.shelf, b.set.Start())
	if start != nil {
		opt.Fresh = workspacesOf(start)
	}
	base := journalBase(b.display)
	begins := 0 // the last step of undo that was kept
	if b.state != nil {
		opt.Recall = func(server int64, left *desk.Desk) (d *desk.Desk, here bool) {
			d, here, err := recall(b.state, b.display, base, server, left, opt.Log)
			if err != nil {
				b.note(keeper.Sentence(err))
			}
			if here {
				begins = d.Step()
			}
			return d, here
		}
	}
	host, d, err := x11.Open(opt)
	if err != nil {
		if of := ours(b.display); of != nil && !opt.Replace {
			return of
		}
		return err
	}
	if host.Begun() && fault != "" {
		opt.Log.Warn(fault)
		b.note(fault)
	}
	if host.Begun() && start != nil {
		d = d.Beginning(start)
	}
	if d.Step() != begins { // something was done in taking over the windows
		b.note(d.Undo())
	}
	keeping := b.keeping(func(s settings.Settings) {
		take(s)
		b.camera.Configure(photographed(s))
		host.Configure(opt)
	})
	end := b.save(host.Server(), base, &keeping)
	// Where the connection was cut, the root window has not the last desk.
	defer func() { end(errors.Is(err, keeper.ErrRestart)) }()
	defer guarded(b.self, host.Life(), opt.Log)()
	opt.Log.Info("keeping the display", "display", b.display, "windows", len(d.Windows), "atlas", chordFor(b.set, "atlas"))
	return serve(ctx, keeper.New(d, host, keeping), host, b.display, b.album, time.Now().Add(5*time.Second), opt.Log)
}

// journalBase is how the names of the journals of a display begin; empty where there is no
// folder for them.
func journalBase(display string) string {
	return strings.TrimSuffix(remote.SocketPath(display), ".sock")
}

// recall is the desk as an earlier keeper left it on this X server, else as one left it on
// another. Left is what this server remembers. A journal has what came after that.
func recall(state *store.Store, display, base string, server int64, left *desk.Desk, log *slog.Logger) (d *desk.Desk, here bool, err error) {
	d, of, err := state.Fold(display, base)
	if err != nil {
		log.Warn("what was done last before the keeper was killed may be lost", "error", err.Error())
	}
	switch {
	case d != nil && of == server:
		return d, true, nil
	case left == nil:
		if d, err = state.Desk(display); err != nil {
			log.Warn(err.Error())
		}
		return d, false, err
	}
	if d, err = state.WithSteps(display, server, left); err != nil {
		log.Warn("what was done before cannot be taken back", "error", err.Error())
	}
	return d, true, nil
}

// serve runs a keeper with its socket. Where it is taken, it is tried again until the deadline.
// A keeper that was just replaced lets go of the display before its socket, and so does one
// beside another manager.
func serve(ctx context.Context, k *keeper.Keeper, host keeper.Host, display string, album *picture.Album, deadline time.Time, log *slog.Logger) error {
	server, err := listen(remote.SocketPath(display), k, deadline, log)
	if err != nil {
		host.Stop()
		return err
	}
	defer server.Close()
	if h, has := host.(interface{ Lines() *status.Source }); has {
		server.Lines(h.Lines())
	}
	server.Pictures(album)
	go func() {
		if err := server.Serve(); err != nil {
			log.Error("the socket failed", "error", err.Error())
		}
	}()
	began := time.Now()
	err = run(ctx, k, display)
	if errors.Is(err, keeper.ErrGone) && time.Since(began) > leastTime && answers(display) {
		log.Warn("the connection to the X server was ended, and the server goes on: starting again")
		return keeper.ErrRestart
	}
	return err
}

// leastTime is how long a keeper must have run to start again when its connection is ended.
const leastTime = 3 * time.Second

// settingsAsFar are the settings as far as they are not at fault, and what is, in a
// sentence; empty for nothing. A keeper that does not start would leave the display
// without one.
func settingsAsFar(path string, log *slog.Logger) (set settings.Settings, fault string) {
	if path != "" { // of what was being unpacked when the power went, all is in place before it is read
		if err := pack.Finish(filepath.Dir(path)); err != nil {
			log.Error(err.Error())
		}
	}
	set, err := settings.Load(path)
	if err != nil {
		log.Error("the settings are at fault, and their other rows are in force", "error", err.Error())
		fault = keeper.Sentence(err)
	}
	return set, fault
}

// run runs the keeper to its end, which is no error where another took its place.
func run(ctx context.Context, k *keeper.Keeper, display string) error {
	switch err := k.Run(ctx); {
	case errors.Is(err, keeper.ErrReplaced):
		return nil
	case errors.Is(err, keeper.ErrGone):
		return fmt.Errorf("%w: the X server of %s ended, or closed the connection", err, display)
	default:
		return err
	}
}

// termsOf are the terms on which it is kept what the work is like.
func termsOf(s settings.Settings) store.Terms {
	on, days, away := s.Survey()
	return store.Terms{On: on, Days: days, Away: time.Duration(away) * time.Minute}
}

// saveTo keeps what changes in the state, and has the recorder keep what the work is like. Desks
// are kept only of an X server that has a number, with a journal beside base. The function it
// gives ends that. It writes what waits, as far as there is time, and leaves the journal if
// asked to.
func saveTo(state *store.Store, display string, server int64, base string, keeping *keeper.Options) (recorder *store.Recorder, end func(journal bool)) {
	saver := store.NewSaver(state, display, server, keeping.Log)
	if base != "" && server != 0 {
		saver.Journal(base)
	}
	idle := &idleTime{display: display}
	recorder = store.NewRecorder(saver, idle.get, keeping.Log)
	keeping.Keep = func(u keeper.Update) keeper.Receipt {
		c := store.Change{Desk: u.Desk, Entry: store.Entry{Source: string(u.Source), Words: u.Words, Instead: u.Joined}}
		if server == 0 {
			c.Desk = nil
		}
		receipt := saver.Add(c)
		recorder.Saw(time.Now(), u.Desk, store.Deed{Verb: u.Verb, Form: u.Form, Source: string(u.Source)})
		return receipt
	}
	keeping.KeepChoice, keeping.KeepLaid = saver.AddChoice, saver.AddLaid
	return recorder, func(journal bool) {
		ctx, cancel := context.WithTimeout(context.Background(), 900*time.Millisecond)
		defer cancel()
		soon, cancelSoon := context.WithTimeout(ctx, 300*time.Millisecond)
		defer cancelSoon()
		recorder.Close(soon)
		if journal {
			saver.LeaveJournal()
		}
		saver.Close(ctx)
	}
}

// idleTime asks a display how long nothing was typed, and connects to it when it is
// first asked.
type idleTime struct {
	display string
	x       *display.Idle
}

func (i *idleTime) get() (time.Duration, error) {
	if i.x == nil {
		x, err := display.NewIdle(i.display)
		if err != nil {
			return 0, err
		}
		i.x = x
	}
	return i.x.Time()
}

// remember gives a keeper what the state has of earlier ones: the apps that were chosen,
// when plates were laid, and the last lines of the display's logbook.
func remember(state *store.Store, display string, server int64, keeping *keeper.Options) {
	var err error
	if keeping.Chosen, err = state.Chosen(); err != nil {
		keeping.Log.Warn("what apps were chosen is not known", "error", err.Error())
	}
	if keeping.Laid, err = state.Laid(); err != nil {
		keeping.Log.Warn("when plates were laid is not known", "error", err.Error())
	}
	entries, err := state.Logbook(display, recalled)
	if err != nil {
		keeping.Log.Warn("the logbook kept on disk cannot be read", "error", err.Error())
	}
	for _, e := range entries {
		step := e.Step
		if e.Server == 0 || e.Server != server {
			step = -1
		}
		keeping.Logbook = append(keeping.Logbook, keeper.Recalled{Entry: keeper.Entry{At: e.At, Source: keeper.Source(e.Source), Words: e.Words}, Step: step})
	}
}

// startPlate is the plate that a display begins with; nil where none is named, or, with a
// sentence that says why, where it cannot be had.
func startPlate(shelf *plate.Folder, name string) (p *desk.Plate, fault string) {
	if shelf == nil || name == "" {
		return nil, ""
	}
	var plates map[string]*desk.Plate
	var faults []plate.Fault
	read := make(chan struct{})
	go func() { defer close(read); plates, faults = shelf.Read() }()
	select {
	case <-read:
	case <-time.After(2 * time.Second):
		return nil, fmt.Sprintf("The desk begins without the plate %s: %s does not answer.", name, shelf.Path())
	}
	p = (&desk.Desk{}).WithPlates(plates).Plate(name)
	switch {
	case p != nil && p.Size == desk.OfDesk:
		return p, ""
	case p != nil:
		return nil, fmt.Sprintf("The desk begins without the plate %s: it is none of a desk.", name)
	}
	for _, f := range faults {
		if strings.EqualFold(f.Name, name) {
			return nil, fmt.Sprintf("The desk begins without the plate %s: %s.", name, f.Words)
		}
	}
	return nil, fmt.Sprintf("The desk begins without the plate %s: there is no such plate in %s.", name, shelf.Path())
}

// workspacesOf are the names of the workspaces of a plate.
func workspacesOf(p *desk.Plate) (names []string) {
	for _, ws := range p.As.Workspaces {
		names = append(names, ws.Name)
	}
	return names
}

// listen opens the socket.
func listen(path string, k *keeper.Keeper, deadline time.Time, log *slog.Logger) (*remote.Server, error) {
	for {
		server, err := remote.Listen(path, k, log)
		if !errors.Is(err, remote.ErrTaken) || time.Now().After(deadline) {
			return server, err
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// openState opens what is kept on disk; nil where that cannot be. A keeper works
// all the same without, and where it cannot be written. Amiss says what is, in a
// sentence for the logbook.
func openState(log *slog.Logger) (s *store.Store, writable bool, amiss string) {
	s, err := store.Open(store.Path())
	if err != nil {
		amiss = keeper.Sentence(err)
	}
	var damaged *store.Damaged
	switch {
	case errors.As(err, &damaged), errors.Is(err, store.ErrReadOnly):
		log.Warn(err.Error())
	case err != nil:
		log.Error("nothing is saved on disk; everything else works", "error", err.Error())
	}
	return s, s != nil && !errors.Is(err, store.ErrReadOnly), amiss
}

// chordFor is a chord that stands for a command; empty where none does.
func chordFor(set settings.Settings, command string) string {
	bounds, err := set.Bounds()
	if i := slices.IndexFunc(bounds, func(b settings.Bound) bool { return b.Command == command }); err == nil && i >= 0 {
		return bounds[i].Keys.String()
	}
	return ""
}
