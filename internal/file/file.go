// Package file reads files that anybody may have put there. It reads regular ones only, up to a
// length, and never waits for one that gives nothing.
package file

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"syscall"
)

// The most that is read of a file, in bytes.
const (
	MaxSettings = 1 << 20
	MaxScene    = 64 << 20
)

// StateFolder is where this program keeps what it must know another time: in
// $XDG_STATE_HOME, else in ~/.local/state. It is empty where neither is known.
func StateFolder() string {
	dir := os.Getenv("XDG_STATE_HOME")
	if !filepath.IsAbs(dir) { // by the XDG Base Directory Specification
		home, err := os.UserHomeDir()
		if err != nil {
			return ""
		}
		dir = filepath.Join(home, ".local", "state")
	}
	return filepath.Join(dir, "zealous-atlas")
}

// ErrNotRegular is the error of what is no file to be read: a folder, a device,
// a pipe, a socket.
var ErrNotRegular = errors.New("it is no regular file")

// ErrTooLong is the error of a file that is longer than it may be.
var ErrTooLong = errors.New("it is too long")

// Read gives a file of at most so many bytes. Links are followed. The error is
// ErrNotRegular, ErrTooLong or that of the system, with the path before it.
func Read(path string, most int64) ([]byte, error) {
	f, err := Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, most+1))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, cause(err))
	}
	if int64(len(data)) > most {
		return nil, fmt.Errorf("%s: %w: at most %s are read", path, ErrTooLong, size(most))
	}
	return data, nil
}

// Open opens a regular file for reading, and does not wait where it is none.
func Open(path string) (*os.File, error) {
	// Without O_NONBLOCK the opening of a pipe waits for a writer.
	f, err := os.OpenFile(path, os.O_RDONLY|syscall.O_NONBLOCK|syscall.O_NOCTTY, 0)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, cause(err))
	}
	info, err := f.Stat()
	if err == nil {
		err = regular(info)
	}
	if err != nil {
		f.Close()
		return nil, fmt.Errorf("%s: %w", path, cause(err))
	}
	return f, nil
}

// Check tells whether what is at a path may be opened as a file: nothing may
// be there yet, but nothing that is no regular file.
func Check(path string) error {
	info, err := os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err == nil {
		err = regular(info)
	}
	if err != nil {
		return fmt.Errorf("%s: %w", path, cause(err))
	}
	return nil
}

// Replace puts a file in place as a whole, so that one that was being written when
// the power went is never found. A link stays a link; what is there and no regular
// file is left.
func Replace(path string, data []byte, mode fs.FileMode) error {
	if real, err := filepath.EvalSymlinks(path); err == nil {
		path = real
	}
	if err := Check(path); err != nil {
		return err
	}
	f, err := os.CreateTemp(filepath.Dir(path), "."+filepath.Base(path)+"-*")
	if err != nil {
		return fmt.Errorf("%s: %w", path, cause(err))
	}
	defer os.Remove(f.Name())
	_, err = f.Write(data)
	err = errors.Join(err, f.Chmod(mode), f.Sync(), f.Close())
	if err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		return fmt.Errorf("%s: %w", path, cause(err))
	}
	return nil
}

// Create writes a file of mode 0600 where there is none; the error is fs.ErrExist
// where there is. Of one that cannot be written to its end nothing stays.
func Create(path string, data []byte) error {
	f, err := os.OpenFile(path, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return fmt.Errorf("%s: %w", path, cause(err))
	}
	_, err = f.Write(data)
	if err = errors.Join(err, f.Close()); err != nil {
		os.Remove(path)
		return fmt.Errorf("%s: %w", path, cause(err))
	}
	return nil
}

// kinds are what is no regular file, in words.
var kinds = []struct {
	mode fs.FileMode
	word string
}{
	{fs.ModeDir, "a folder"}, {fs.ModeNamedPipe, "a pipe"}, {fs.ModeSocket, "a socket"}, {fs.ModeDevice, "a device"},
}

func regular(info fs.FileInfo) error {
	if info.Mode().IsRegular() {
		return nil
	}
	for _, k := range kinds {
		if info.Mode()&k.mode != 0 {
			return fmt.Errorf("%w but %s", ErrNotRegular, k.word)
		}
	}
	return ErrNotRegular
}

// cause is an error without the path and the system call that the system puts
// before it.
func cause(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}

func size(n int64) string {
	switch {
	case n >= 1<<20 && n%(1<<20) == 0:
		return fmt.Sprintf("%d MB", n>>20)
	case n >= 1<<10 && n%(1<<10) == 0:
		return fmt.Sprintf("%d kB", n>>10)
	}
	return fmt.Sprintf("%d bytes", n)
}
