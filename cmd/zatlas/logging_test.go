package main

import (
	"fmt"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// stuckWriter takes nothing until it is let go.
type stuckWriter struct {
	free chan struct{}
	testkit.Buffer
}

func (w *stuckWriter) Write(p []byte) (int, error) {
	<-w.free
	return w.Buffer.Write(p)
}

// TestLogWaitsForNobody holds that who logs does not wait for who reads, and that lines which
// found no room are counted where they are missing.
func TestLogWaitsForNobody(t *testing.T) {
	t.Parallel()
	w := &stuckWriter{free: make(chan struct{})}
	log, end := logTo(w, false)
	for i := range maxBehind + 500 {
		log.Info(fmt.Sprint("line ", i))
	}
	close(w.free)
	testkit.Until(t, "it tells what is missing", func() bool { return strings.Contains(w.String(), "missing here") })
	end()
	text := w.String()
	kept, missing := strings.Count(text, "msg="), 0
	if _, err := fmt.Sscanf(text[strings.LastIndex(text, "while: "):], "while: %d lines missing here", &missing); err != nil || kept+missing != maxBehind+500 {
		t.Errorf("%d lines are there, and %d are told to be missing, %v", kept, missing, err)
	}
}
