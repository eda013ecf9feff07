package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/plate"
	"zatlas/internal/scene"
	"zatlas/internal/settings"
	"zatlas/internal/survey"
	"zatlas/internal/tui"
)

func demoCommand() *cobra.Command {
	var scene, theme, from string
	cmd := &cobra.Command{
		Use:     "demo",
		Short:   "Show a demo desk, or a scene of yours",
		Example: "  zatlas demo\n  zatlas demo --scene desk.json --theme day",
		Long: `Show a made-up desk in this terminal. Nothing outside of it is touched: it begins
with your settings, and what it changes of them ends with it, as its state does.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error { return runDemo(cmd.Context(), scene, theme, from) },
	}
	cmd.Flags().StringVar(&scene, "scene", "", "show this scene file")
	themeFlag(cmd, &theme)
	fromFlag(cmd, &from)
	return cmd
}

func runDemo(ctx context.Context, sceneFile, theme, from string) error {
	set, t, err := look(theme)
	if err != nil {
		return err
	}
	if err := noScreens(); err != nil {
		return err
	}
	d, err := demoDesk(sceneFile)
	if err != nil {
		return err
	}
	source, err := surveyFrom(from)
	if err != nil {
		return err
	}
	if source == nil && sceneFile == "" {
		now := time.Now()
		source = givenSurvey{now, survey.Demo(now)}
	}
	own, err := newDemoFolder(settings.Path())
	if err != nil {
		return err
	}
	defer own.remove()
	if pictures, found := settings.FindChoice(settings.PicturesName); found {
		pictures.Set(own.settings(), "true") // settings at fault are shown as they are
		set, _ = settings.Load(own.settings())
	}
	ctx, stop := signal.NotifyContext(ctx, syscall.SIGTERM, syscall.SIGHUP)
	defer stop()
	host := sim.New()
	name := "demo desk"
	if sceneFile == "" {
		d, _ = sim.Lived(d, time.Now()).With(desk.Settle{Settings: set.ForDesk()})
	} else {
		name = desk.CleanText(filepath.Base(sceneFile), desk.MaxName)
	}
	k := keeper.New(d, host, keeper.Options{
		SavePin: savePin(own.settings()), File: settingsFile(own.settings()), Launch: host, Plates: plate.Beside(own.settings()),
		Reload: reloads(own.settings(), &set, func(settings.Settings) {}),
	})
	go k.Run(ctx) // a simulated host has no way to fail
	return tui.Run(ctx, k, tui.Options{Name: name, Title: "Zealous Atlas: " + name, Theme: t, First: tui.FirstUseFile(own.join("first-steps-done")),
		Survey: source, Settings: own.settings(), ThemeFixed: theme != "", Simulated: true, Pictures: host.Album()})
}

// demoFolder is where a demo has its settings and its state. It ends with it.
type demoFolder string

// newDemoFolder makes one with a copy of the settings at a path, and of the plates beside them.
func newDemoFolder(path string) (demoFolder, error) {
	dir, err := os.MkdirTemp("", "zealous-atlas-demo-*")
	if err != nil {
		return "", fmt.Errorf("a folder for the demo: %w", err)
	}
	own := demoFolder(dir)
	data, err := file.Read(path, file.MaxSettings)
	switch {
	case errors.Is(err, fs.ErrNotExist) || path == "":
		err = nil
	case err == nil:
		err = os.WriteFile(own.settings(), data, 0o600)
	}
	if err == nil && path != "" {
		err = plate.Beside(path).CopyTo(plate.Beside(own.settings()))
	}
	if err != nil {
		own.remove()
		return "", fmt.Errorf("settings for the demo: %w", err)
	}
	return own, nil
}

func (f demoFolder) join(name string) string { return filepath.Join(string(f), name) }

func (f demoFolder) settings() string { return f.join("settings.toml") }

func (f demoFolder) remove() { os.RemoveAll(string(f)) }

func demoDesk(file string) (*desk.Desk, error) {
	if file == "" {
		return scene.Demo()
	}
	return scene.ReadFile(file)
}
