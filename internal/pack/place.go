package pack

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strconv"
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

// staged is the folder, beside the settings, of what is being put in place. A folder of this
// name is complete: whoever finds one after a crash puts the rest in place.
const staged = ".unpacking"

// move is what becomes of one of the files in it, which have the numbers of the list as names.
type move struct {
	Path  string `json:"path"`
	Aside string `json:"aside,omitempty"` // the name under which the present file is kept; empty for none
}

// Place puts files where they go: first all of them into a folder of their own beside the
// first, then each over what is there. What they replace is kept beside them, under the name
// that is given back for each. Where one cannot be put in place, all is as before; and where
// the process ends midway, Finish puts the rest in place.
func Place(changes []Change, now time.Time) (kept []string, err error) {
	var moves []move
	var data [][]byte
	for _, c := range changes {
		if err := os.MkdirAll(filepath.Dir(c.Path), 0o700); err != nil {
			return nil, err
		}
		if c.Same {
			continue
		}
		m := move{Path: c.Path}
		if real, err := filepath.EvalSymlinks(c.Path); err == nil {
			m.Path = real
		}
		if !c.New {
			m.Aside = fmt.Sprintf("%s.before-%s", m.Path, now.Format("20060102-150405"))
			if _, err := os.Lstat(m.Aside); err == nil {
				return nil, fmt.Errorf("keeping what is replaced: %s: %w", m.Aside, fs.ErrExist)
			}
			kept = append(kept, m.Aside)
		}
		moves, data = append(moves, m), append(data, c.data)
	}
	if len(moves) == 0 {
		return nil, nil
	}
	folder := filepath.Dir(changes[0].Path)
	if err := stage(folder, moves, data); err != nil {
		return nil, err
	}
	undo, err := carryOut(moves, data)
	if err != nil {
		for _, u := range slices.Backward(undo) {
			err = errors.Join(err, u())
		}
		kept = nil
	}
	return kept, errors.Join(err, os.RemoveAll(filepath.Join(folder, staged)))
}

// stage puts all that is to be put in place into the folder for that, at once.
func stage(folder string, moves []move, data [][]byte) error {
	if err := Finish(folder); err != nil {
		return err
	}
	own, err := os.MkdirTemp(folder, staged+"-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(own)
	list, err := json.Marshal(moves)
	if err != nil {
		return err
	}
	for i, d := range append(slices.Clone(data), list) {
		name := strconv.Itoa(i)
		if i == len(data) {
			name = "list"
		}
		if err := file.Replace(filepath.Join(own, name), d, 0o600); err != nil {
			return err
		}
	}
	return os.Rename(own, filepath.Join(folder, staged))
}

// carryOut puts files in place, and gives what takes that back.
func carryOut(moves []move, data [][]byte) (undo []func() error, err error) {
	for i, m := range moves {
		back, err := m.carryOut(data[i])
		if err != nil {
			return undo, err
		}
		undo = append(undo, back)
	}
	return undo, nil
}

// carryOut puts a file in place, unless that is done already. A file that is there and was
// not when this began, or has changed since, is somebody's work, and is left.
func (m move) carryOut(data []byte) (undo func() error, err error) {
	was, err := file.Read(m.Path, maxBytes)
	switch {
	case err == nil && bytes.Equal(was, data):
		return func() error { return nil }, nil
	case err == nil && m.Aside == "":
		return nil, fmt.Errorf("%s is there by now, and is left as it is", m.Path)
	case err == nil:
		err := file.Create(m.Aside, was)
		if errors.Is(err, fs.ErrExist) {
			if kept, err := file.Read(m.Aside, maxBytes); err != nil || !bytes.Equal(kept, was) {
				return nil, fmt.Errorf("%s was changed since, and is left as it is", m.Path)
			}
		} else if err != nil {
			return nil, fmt.Errorf("keeping what is replaced: %w", err)
		}
		undo = func() error { return os.Rename(m.Aside, m.Path) }
	case errors.Is(err, fs.ErrNotExist):
		undo = func() error { return os.Remove(m.Path) }
	default:
		return nil, err
	}
	if err := file.Replace(m.Path, data, 0o600); err != nil {
		return nil, errors.Join(err, m.forgetAside())
	}
	return undo, nil
}

// forgetAside removes what was kept of a file that stays in its place.
func (m move) forgetAside() error {
	if m.Aside == "" {
		return nil
	}
	return os.Remove(m.Aside)
}

// Finish puts the rest in place of what an earlier process was unpacking when it ended, in
// the folder of the settings. Usually there is nothing to do.
func Finish(folder string) error {
	own := filepath.Join(folder, staged)
	list, err := file.Read(filepath.Join(own, "list"), maxBytes)
	if err != nil {
		return nil // there is nothing, or not all of it
	}
	var moves []move
	if err := json.Unmarshal(list, &moves); err != nil {
		return fmt.Errorf("%s: what was being unpacked cannot be read; remove that folder: %w", own, err)
	}
	var failed []error
	for i, m := range moves {
		data, err := file.Read(filepath.Join(own, strconv.Itoa(i)), maxBytes)
		if err == nil {
			_, err = m.carryOut(data)
		}
		failed = append(failed, err)
	}
	if err := errors.Join(failed...); err != nil {
		return errors.Join(fmt.Errorf("what was being unpacked could not be put in place: %w", err), os.RemoveAll(own))
	}
	return os.RemoveAll(own)
}
