package main

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"strings"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/host/display/board"
	"zatlas/internal/host/display/camera"
	"zatlas/internal/keeper"
	"zatlas/internal/picture"
	"zatlas/internal/plate"
	"zatlas/internal/settings"
	"zatlas/internal/store"
)

// begun is what a keeper begins with, and the desk beside another manager as well.
type begun struct {
	self      string // this program
	path      string // of the settings
	display   string
	log       *slog.Logger
	set       settings.Settings
	launcher  *apps.Launcher
	terminals *terminals
	shelf     *plate.Folder   // nil where there can be none
	state     *store.Store    // nil where it cannot be opened
	writable  bool            // the state
	unset     string          // what is amiss with the settings, in sentences
	amiss     string          // what is not as it should be, with that
	recorder  *store.Recorder // nil where nothing is recorded
	camera    *camera.Camera
	album     *picture.Album
}

// begin reads the settings, opens the state, and has the apps be read.
func begin(ctx context.Context, log *slog.Logger) (*begun, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, fmt.Errorf("finding this program for the atlas window: %w", err)
	}
	b := &begun{self: self, path: settings.Path(), display: os.Getenv("DISPLAY"), log: log}
	set, unset := settingsAsFar(b.path, log)
	b.set, b.unset = set, unset
	b.launcher = &apps.Launcher{Index: apps.Index{Getenv: os.Getenv}}
	b.terminals = newTerminals(&b.launcher.Index)
	b.launcher.Terminal = b.terminals.program
	b.launcher.Installed() // is read meanwhile
	var amiss string
	b.state, b.writable, amiss = openState(log)
	b.amiss = strings.TrimSpace(unset + " " + amiss)
	b.shelf = plate.Beside(b.path)
	b.take(set)
	known, cancel := context.WithTimeout(ctx, 2*time.Second)
	defer cancel()
	b.launcher.Ready(known) // else windows go by their classes
	return b, nil
}

// take takes settings up.
func (b *begun) take(s settings.Settings) {
	if b.recorder != nil {
		b.recorder.Set(termsOf(s))
	}
	b.terminals.command.Store(new(s.Terminal()))
}

// note adds a sentence to what is amiss.
func (b *begun) note(words string) { b.amiss = strings.TrimSpace(b.amiss + " " + words) }

// screens is what runs in the atlas window.
func (b *begun) screens() board.ScreenOptions {
	return board.ScreenOptions{Terminal: b.terminals.window, Command: []string{b.self}}
}

// nameApp is what an app is called by the class and the instance of its windows.
func (b *begun) nameApp(class, instance string) string {
	return b.launcher.Installed().NameOf(class, instance)
}

// keeping are the options of a keeper; take takes settings up that were read anew.
func (b *begun) keeping(take func(settings.Settings)) keeper.Options {
	o := keeper.Options{Log: b.log, SavePin: savePin(b.path), File: settingsFile(b.path), Launch: b.launcher, Real: true, Amiss: b.amiss}
	if b.shelf != nil {
		o.Plates = b.shelf
	}
	o.Reload = reloads(b.path, &b.set, func(s settings.Settings) {
		b.take(s)
		take(s)
	})
	return o
}

// save has a keeper's desk be kept for an X server, with a journal whose name begins with
// base. End ends that, and leaves the journal where it is told to.
func (b *begun) save(server int64, base string, o *keeper.Options) (end func(journal bool)) {
	if b.state != nil {
		remember(b.state, b.display, server, o)
		store.Unjournal(base) // what journals had was taken up
	}
	if !b.writable {
		return func(bool) {}
	}
	b.recorder, end = saveTo(b.state, b.display, server, base, o)
	b.recorder.Set(termsOf(b.set))
	return end
}

// close closes the state.
func (b *begun) close() {
	if b.state != nil {
		b.state.Close()
	}
}
