package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
)

func keepCommand() *cobra.Command {
	var opt x11.Options
	var terminal string
	var verbose bool
	cmd := &cobra.Command{
		Use:   "keep",
		Short: "Keep the windows of an X display, as its manager",
		Long: `Keep the windows of the X display in $DISPLAY, as its manager, until ended.
Super with 1 to 9 goes to a workspace. Shift added, the focused window is sent
there; Ctrl added, you go along with it. Super with an arrow moves the focus,
Super with Tab goes back, Super with A brings up the atlas window.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			level := slog.LevelInfo
			if verbose {
				level = slog.LevelDebug
			}
			opt.Log = slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), &slog.HandlerOptions{Level: level}))
			opt.Terminal = strings.Fields(terminal)
			if len(opt.Terminal) == 0 {
				return wordsError{errors.New("--terminal needs a command, such as 'xterm -e'")}
			}
			return keep(cmd.Context(), opt)
		},
	}
	cmd.Flags().BoolVar(&opt.Replace, "replace", false, "ask the display's present manager to go")
	cmd.Flags().IntVar(&opt.Border, "border", 2, "pixels of border around windows")
	cmd.Flags().StringVar(&terminal, "terminal", x11.DefaultTerminal, "the command that runs another in a terminal, for the atlas window")
	cmd.Flags().BoolVar(&opt.Quiet, "quiet", false, "show no words after a chord")
	cmd.Flags().BoolVar(&verbose, "verbose", false, "log more")
	return cmd
}

func keep(ctx context.Context, opt x11.Options) error {
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
	defer stop()
	self, err := os.Executable()
	if err != nil {
		return fmt.Errorf("finding this program for the atlas window: %w", err)
	}
	opt.Command = []string{self}
	host, d, err := x11.Open(opt)
	if err != nil {
		return err
	}
	k := keeper.New(d, host, opt.Log)
	path := remote.SocketPath(os.Getenv("DISPLAY"))
	server, err := remote.Listen(path, k, opt.Log)
	if err != nil {
		host.Stop()
		return err
	}
	defer server.Close()
	go func() {
		if err := server.Serve(); err != nil {
			opt.Log.Error("the socket failed", "error", err.Error())
		}
	}()
	opt.Log.Info("keeping the display", "display", os.Getenv("DISPLAY"), "windows", len(d.Windows), "socket", path)
	if err := k.Run(ctx); err != nil && !errors.Is(err, keeper.ErrGone) {
		return err
	}
	return nil
}
