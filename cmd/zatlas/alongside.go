package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/jezek/xgb/xproto"
	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/host/alongside"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/settings"
)

// lingering is how long what was started for screens goes on after the last of them.
const lingering = 60 * time.Second

func alongsideCommand() *cobra.Command {
	var linger time.Duration
	var verbose, chords, login bool
	cmd := &cobra.Command{
		Use:     "alongside",
		Short:   "Keep a desk beside another window manager",
		Example: "  zatlas alongside\n  zatlas alongside --chords",
		Long: `Keep a desk of the X display in $DISPLAY beside the program that manages its
windows, until ended: what that program keeps is read, and it is asked for what a
command needs, by the standards (EWMH, ICCCM). zatlas without a command starts this
by itself where it is needed, and it ends a minute after the last of its screens.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			log, flush := logTo(cmd.ErrOrStderr(), verbose)
			if _, err := remote.Dial(remote.SocketPath(os.Getenv("DISPLAY"))); err == nil {
				if onTerminal() {
					return attach(cmd.Context(), "", "")
				}
				return fmt.Errorf("one keeps the desk of display %s already: zatlas shows it", os.Getenv("DISPLAY"))
			}
			err := untilTold(cmd.Context(), cmd.ErrOrStderr(), func(ctx context.Context) error {
				return beside(ctx, linger, login, func(s settings.Settings) bool { return chords || s.Beside(login) }, log)
			})
			flush()
			if errors.Is(err, keeper.ErrRestart) {
				return again()
			}
			return err
		},
	}
	cmd.Flags().DurationVar(&linger, "linger", 0, "end so long after the last screen has gone, as 60s; 0 for never")
	cmd.Flags().BoolVar(&chords, "chords", false, "take the chords that are free, whatever alongside.chords is")
	cmd.Flags().BoolVar(&login, "login", false, "this is the desk of the login, for alongside.chords")
	cmd.Flags().BoolVar(&verbose, "verbose", false, "log more")
	return cmd
}

// beside keeps a desk beside another manager. Login tells that it begins with the session, and
// chords whether any are taken.
func beside(ctx context.Context, linger time.Duration, login bool, chords func(settings.Settings) bool, log *slog.Logger) error {
	b, err := begin(ctx, log)
	if err != nil {
		return err
	}
	defer b.close()
	opt := alongside.Options{Display: b.display, Settings: b.set.ForDesk(), Log: log, Begins: login, NameApp: b.nameApp, Screens: b.screens()}
	var guards atomic.Pointer[func()]
	opt.Guarded = func(life xproto.Window) { guards.Store(new(guarded(b.self, life, log))) }
	defer func() {
		if end := guards.Load(); end != nil {
			(*end)()
		}
	}()
	take := func(s settings.Settings) {
		opt.Quiet, opt.Board, opt.Takes = !s.Words(), boardOptions(s), chords(s)
		opt.Line = lineOptions(s, true)
	}
	take(b.set)
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	b.pictures(ctx)
	opt.Camera, opt.Album = b.camera, b.album
	host, d, err := alongside.Open(opt)
	if err != nil {
		return managing(err)
	}
	keeping := b.keeping(func(s settings.Settings) {
		take(s)
		b.camera.Configure(photographed(s))
		host.Configure(opt)
	})
	defer b.save(0, "", &keeping)(false)
	keeping.Watched = lingerer(linger, stop)
	log.Info("beside the display's manager", "display", b.display, "windows", len(d.Windows))
	return serve(ctx, keeper.New(d, host, keeping), host, b.display, b.album, time.Now(), log)
}

// lingerer ends what was started for screens so long after the last of them.
func lingerer(linger time.Duration, stop func()) func(watching int) {
	if linger <= 0 {
		return func(int) {}
	}
	timer := time.AfterFunc(linger, stop)
	return func(watching int) {
		if timer.Stop(); watching == 0 {
			timer.Reset(linger)
		}
	}
}

// managing says what to do where a display cannot be read beside its manager.
func managing(err error) error {
	switch {
	case errors.Is(err, alongside.ErrNoManager):
		return fmt.Errorf("%w, %s. zatlas keep does; zatlas demo shows a made-up desk", err, os.Getenv("DISPLAY"))
	case errors.Is(err, alongside.ErrOurs):
		return fmt.Errorf("%w, %s, and does not answer. zatlas keep --replace starts it anew", err, os.Getenv("DISPLAY"))
	}
	return err
}

// anywhere shows the screens of the machine that is named, else those of $DISPLAY. Where another
// program manages the windows there and nothing keeps the desk yet, a keeper is started.
func anywhere(ctx context.Context, theme, from, on string, pictures bool) error {
	if on != "" {
		return attachAfar(ctx, theme, on, pictures)
	}
	if !onTerminal() || os.Getenv("DISPLAY") == "" {
		return attach(ctx, theme, from)
	}
	if err := ensure(ctx); err != nil {
		return err
	}
	return attach(ctx, theme, from)
}

// ensure has a desk of $DISPLAY be kept: one is started beside its manager where none is.
func ensure(ctx context.Context) error {
	socket := remote.SocketPath(os.Getenv("DISPLAY"))
	if _, err := remote.Dial(socket); !errors.Is(err, remote.ErrNoKeeper) {
		return nil // dialling again tells what is wrong
	}
	if _, err := alongside.Find(os.Getenv("DISPLAY")); err != nil {
		return managing(err)
	}
	return startBeside(ctx, socket)
}

// besideTime is how long a desk beside the display's manager may take to begin. Where it ends,
// that is noticed at once.
const besideTime = time.Minute

// startBeside starts a desk beside the display's manager, in a process of its own that
// outlives this one, and waits until it answers.
func startBeside(ctx context.Context, socket string) error {
	self, err := os.Executable()
	if err != nil {
		return fmt.Errorf("finding this program: %w", err)
	}
	said, err := os.CreateTemp("", "zealous-atlas-*")
	if err != nil {
		return fmt.Errorf("starting a desk beside the display's manager: %w", err)
	}
	defer said.Close()
	defer os.Remove(said.Name())
	cmd := exec.Command(self, "alongside", "--linger", lingering.String())
	cmd.Stderr = said
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true}
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting a desk beside the display's manager: %w", err)
	}
	ended := make(chan struct{})
	go func() { cmd.Wait(); close(ended) }()
	for deadline := time.Now().Add(besideTime); time.Now().Before(deadline); {
		if _, err := remote.Dial(socket); err == nil {
			return nil
		}
		select {
		case <-ended:
			if _, err := remote.Dial(socket); err == nil { // another one was first
				return nil
			}
			return fmt.Errorf("the desk beside the display's manager ended: %s", lastLine(said.Name()))
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
	}
	return errors.New("the desk beside the display's manager does not answer")
}

// lastLine is the last line of a file, as far as it can be told.
func lastLine(path string) string {
	data, err := os.ReadFile(path)
	lines := bytes.Split(bytes.TrimSpace(data), []byte("\n"))
	if err != nil || len(lines) == 0 {
		return "it did not say why"
	}
	return strings.TrimPrefix(desk.CleanText(string(lines[len(lines)-1]), desk.MaxWords), "zatlas: ")
}
