package main

import (
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"sync/atomic"
	"time"

	"zatlas/internal/desk"
)

// behind writes lines on a goroutine of its own, so that nobody who logs waits for a disk or
// for whoever reads a pipe. How many found no room is told.
type behind struct {
	lines chan []byte
	lost  atomic.Int64
	ended chan struct{}
}

// maxBehind is how many lines wait at most.
const maxBehind = 1024

// logTo is a log that nobody waits for, and what ends it: what waits is written first, as far
// as that is soon done.
func logTo(w io.Writer, verbose bool) (log *slog.Logger, end func()) {
	level := slog.LevelInfo
	if verbose {
		level = slog.LevelDebug
	}
	b := &behind{lines: make(chan []byte, maxBehind), ended: make(chan struct{})}
	go b.run(w)
	return slog.New(slog.NewTextHandler(b, &slog.HandlerOptions{Level: level})), b.end
}

// Write never waits, and never fails.
func (b *behind) Write(line []byte) (int, error) {
	select {
	case b.lines <- bytes.Clone(line):
	default:
		b.lost.Add(1)
	}
	return len(line), nil
}

func (b *behind) run(w io.Writer) {
	defer close(b.ended)
	for line := range b.lines {
		if line != nil {
			w.Write(line) // what cannot be written cannot be told of either
		}
		if line != nil && len(b.lines) > 0 {
			continue
		}
		if n := b.lost.Swap(0); n > 0 {
			fmt.Fprintf(w, "zatlas: the log could not be written for a while: %s missing here\n", desk.Counted(int(n), "line"))
		}
		if line == nil {
			return
		}
	}
}

func (b *behind) end() {
	soon := time.After(200 * time.Millisecond)
	select {
	case b.lines <- nil:
	case <-soon:
		return
	}
	select {
	case <-b.ended:
	case <-soon:
	}
}
