package testkit

import (
	"bytes"
	"sync"
)

// Buffer keeps what is written to it, and may be read meanwhile.
type Buffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (w *Buffer) Write(p []byte) (int, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.b.Write(p)
}

// String is all of it.
func (w *Buffer) String() string {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.b.String()
}

// Take is all of it, and leaves nothing.
func (w *Buffer) Take() string {
	w.mu.Lock()
	defer w.mu.Unlock()
	defer w.b.Reset()
	return w.b.String()
}
