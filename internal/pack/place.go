package pack

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"zatlas/internal/file"
)

// Change is what becomes of a file when a pack is unpacked.
type Change struct {
	Name string // in the pack
	Path string // where it goes
	data []byte
	was  []byte // what is there; nil for nothing
	New  bool
	Same bool
}

// Changes are what unpacking files would do, with the path of each; those without one are
// left out.
func (p Pack) Changes(where func(name string) string) ([]Change, error) {
	var list []Change
	for _, name := range p.Names() {
		to := where(name)
		if to == "" {
			continue
		}
		c := Change{Name: name, Path: to, data: p[name]}
		was, err := file.Read(to, maxBytes)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			c.New = true
		case err != nil:
			return nil, fmt.Errorf("what is to be replaced: %w", err)
		default:
			c.was, c.Same = was, bytes.Equal(was, c.data)
		}
		list = append(list, c)
	}
	return list, nil
}

// Place puts files where they go: first all of them into a folder of their own beside the
// first, then by renaming. What they replace is kept beside them, under the name that is
// given back for each; where one cannot be put in place, all is as before.
func Place(changes []Change, now time.Time) (kept []string, err error) {
	var own string
	var undo []func() error
	defer func() {
		if own != "" {
			os.RemoveAll(own)
		}
		if err == nil {
			return
		}
		for i := len(undo) - 1; i >= 0; i-- {
			err = errors.Join(err, undo[i]())
		}
		kept = nil
	}()
	for i, c := range changes {
		if err := os.MkdirAll(filepath.Dir(c.Path), 0o700); err != nil {
			return nil, err
		}
		if own == "" {
			if own, err = os.MkdirTemp(filepath.Dir(c.Path), ".unpacked-*"); err != nil {
				return nil, err
			}
		}
		if err := os.WriteFile(filepath.Join(own, fmt.Sprint(i)), c.data, 0o600); err != nil {
			return nil, err
		}
	}
	for i, c := range changes {
		if c.Same {
			continue
		}
		path := c.Path
		if real, err := filepath.EvalSymlinks(path); err == nil {
			path = real
		}
		if !c.New {
			aside := fmt.Sprintf("%s.before-%s", path, now.Format("20060102-150405"))
			if err := file.Create(aside, c.was); err != nil {
				return nil, fmt.Errorf("keeping what is replaced: %w", err)
			}
			kept = append(kept, aside)
			undo = append(undo, func() error { return os.Rename(aside, path) })
		}
		if err := place(filepath.Join(own, fmt.Sprint(i)), path); err != nil {
			return nil, err
		}
		if c.New {
			undo = append(undo, func() error { return os.Remove(path) })
		}
	}
	return kept, nil
}

// place renames a file, or, to another file system, writes it there as a whole.
func place(from, to string) error {
	if os.Rename(from, to) == nil {
		return nil
	}
	data, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	return file.Replace(to, data, 0o600)
}
