// Package plate keeps plates as files of a folder, one each, which a person can read,
// change and carry to another computer.
package plate

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/scene"
)

// MaxFile is how long the file of a plate may be, in bytes.
const MaxFile = 4 << 20

// ending is how the names of the files end.
const ending = ".json"

// Fault is a file that cannot be read as a plate, and why.
type Fault struct {
	Name  string // of the plate it would be
	Words string // with the file, and the line and column where that is known
}

// Folder is the plates of a folder, as they were read last.
type Folder struct {
	path string

	mu    sync.Mutex
	known map[string]entry // by the names of the files
}

// entry is what was read of a file.
type entry struct {
	info   os.FileInfo // nil where it could not be reached
	plate  *desk.Plate // nil where it is at fault, or was let go since there is no room for it
	places int         // that it has
	fault  string
}

// MaxPlaces is how many places all plates may have together. Each takes about 600 bytes of
// memory for as long as a keeper runs.
const MaxPlaces = 20_000

// Beside is the folder of plates that goes with a settings file; nil where none is known.
func Beside(settings string) *Folder {
	if settings == "" {
		return nil
	}
	return At(filepath.Join(filepath.Dir(settings), "plates"))
}

// At is the plates of a folder, which need not be there.
func At(path string) *Folder { return &Folder{path: path, known: map[string]entry{}} }

// Path is where the folder is.
func (f *Folder) Path() string { return f.path }

// Read gives the plates by their names, and the files that are none. What has not changed
// is not read again, and is the same plate.
func (f *Folder) Read() (map[string]*desk.Plate, []Fault) {
	f.mu.Lock()
	defer f.mu.Unlock()
	names, more, err := f.list()
	if err != nil {
		return nil, []Fault{{"", fmt.Sprintf("%s: %v", f.path, reason(err))}}
	}
	plates := map[string]*desk.Plate{}
	var faults []Fault
	if more {
		faults = append(faults, Fault{"", fmt.Sprintf("%s: there are more than %d files, and only so many are looked at: take some away", f.path, maxEntries)})
	}
	known := map[string]entry{}
	room := MaxPlaces
	for _, file := range names {
		e := f.read(file, room)
		if known[file] = e; e.places > room {
			known[file] = entry{info: e.info, places: e.places}
			e.fault = fmt.Sprintf("%s: it has %d places, and all plates together may have %d: take some away", filepath.Join(f.path, file), e.places, MaxPlaces)
		}
		name := strings.TrimSuffix(file, ending)
		for other := range plates {
			if e.fault == "" && strings.EqualFold(other, name) {
				e.fault = fmt.Sprintf("%s: there is a plate %s, and no two are alike but for case", filepath.Join(f.path, file), other)
			}
		}
		if e.fault == "" && len(plates) == desk.MaxPlates {
			e.fault = fmt.Sprintf("%s: there are %d plates, and no more are read", filepath.Join(f.path, file), desk.MaxPlates)
		}
		if e.fault != "" {
			faults = append(faults, Fault{desk.CleanName(name), desk.CleanText(e.fault, desk.MaxWords)})
			continue
		}
		plates[name] = e.plate
		room -= e.places
	}
	f.known = known
	return plates, faults
}

// maxEntries is how many names of a folder are looked at.
const maxEntries = 2000

// list gives the names of the files of plates, in their order, and tells whether there are
// more than are looked at.
func (f *Folder) list() (names []string, more bool, err error) {
	dir, err := os.OpenFile(f.path, os.O_RDONLY|syscall.O_DIRECTORY|syscall.O_NONBLOCK, 0)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, err
	}
	defer dir.Close()
	all, err := dir.ReadDir(maxEntries + 1)
	if err != nil && err != io.EOF && len(all) == 0 {
		return nil, false, err
	}
	more = len(all) > maxEntries
	for _, e := range all[:min(len(all), maxEntries)] {
		if name := e.Name(); strings.HasSuffix(name, ending) && name[0] != '.' {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	return names, more, nil
}

// read gives what a file holds, where there is room for as many places.
func (f *Folder) read(name string, room int) entry {
	path := filepath.Join(f.path, name)
	info, err := os.Stat(path)
	if err != nil {
		return entry{fault: fmt.Sprintf("%s: %v", path, reason(err))}
	}
	e := entry{info: info}
	if was, ok := f.known[name]; ok && was.info != nil && was.info.Size() == info.Size() && was.info.ModTime().Equal(info.ModTime()) && os.SameFile(was.info, info) && time.Since(info.ModTime()) > time.Second {
		if was.plate != nil || was.fault != "" || was.places > room {
			return was
		}
	}
	if err := desk.CheckPlateName(strings.TrimSuffix(name, ending)); err != nil {
		e.fault = fmt.Sprintf("%s: %v", path, err)
		return e
	}
	data, err := file.Read(path, MaxFile)
	if err != nil {
		e.fault = err.Error()
		return e
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")) // a byte order mark, which some editors write
	p, err := scene.ReadPlate(bytes.NewReader(data), strings.TrimSuffix(name, ending))
	if err != nil {
		e.fault = fmt.Sprintf("%s: %v", path, err)
		if at := (*scene.Fault)(nil); errors.As(err, &at) {
			e.fault = fmt.Sprintf("%s:%d:%d: %v", path, at.Line, at.Column, at)
		}
		return e
	}
	if e.places = len(p.As.Windows); e.places <= room {
		e.plate = p
	}
	return e
}

// reason is an error of a path without the path, which stands before it.
func reason(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}

// Keep writes a plate under a name, or removes its file where it is nil. A file that is
// there and cannot be read as a plate is left.
func (f *Folder) Keep(name string, p *desk.Plate) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	if err := desk.CheckPlateName(name); err != nil {
		return err
	}
	path := filepath.Join(f.path, name+ending)
	if _, err := os.Lstat(path); err == nil {
		if e := f.read(name+ending, MaxPlaces); e.fault != "" {
			return fmt.Errorf("the plate %s cannot be read, and is left as it is: %s", name, e.fault)
		}
	}
	if p == nil {
		if err := os.Remove(path); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("%s: %w", path, reason(err))
		}
		return nil
	}
	var b bytes.Buffer
	if err := scene.WritePlate(&b, p); err != nil {
		return err
	}
	if b.Len() > MaxFile {
		return fmt.Errorf("the plate %s would be longer than a file of a plate may be", name)
	}
	if err := os.MkdirAll(f.path, 0o700); err != nil {
		return fmt.Errorf("%s: %w", f.path, reason(err))
	}
	return file.Replace(path, b.Bytes(), cmp.Or(modeOf(path), 0o600))
}

// modeOf is the mode of a file that is there, else 0.
func modeOf(path string) fs.FileMode {
	info, err := os.Stat(path)
	if err != nil {
		return 0
	}
	return info.Mode().Perm()
}

// CopyTo writes every plate into another folder, those that are at fault left out.
func (f *Folder) CopyTo(other *Folder) error {
	plates, _ := f.Read()
	for name, p := range plates {
		if err := other.Keep(name, p); err != nil {
			return err
		}
	}
	return nil
}
