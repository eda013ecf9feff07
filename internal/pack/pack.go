// Package pack carries a user's settings and plates from one computer to another as a zip file.
// The record of the work goes with them if that is asked for.
package pack

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"maps"
	"path"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/scene"
)

// The names of the files in a pack.
const (
	Settings = "settings.toml"
	Survey   = "survey.csv"
	Log      = "logbook.tsv"
	plates   = "plates"
	ending   = ".json"
)

// The most that is read of a pack.
const (
	maxFiles = 1000
	maxBytes = 64 << 20
)

// Pack is the files of one, by their names.
type Pack map[string][]byte

// PlateFile is the name of the file of a plate in a pack.
func PlateFile(name string) string { return plates + "/" + name + ending }

// PlateOf is the plate that a file of a pack is; empty for another one.
func PlateOf(name string) string {
	dir, base := path.Split(name)
	if text, ok := strings.CutSuffix(base, ending); ok && dir == plates+"/" && desk.CheckPlateName(text) == nil {
		return text
	}
	return ""
}

// Names lists the files, in their order.
func (p Pack) Names() []string { return slices.Sorted(maps.Keys(p)) }

// Write writes a pack as a zip file.
func (p Pack) Write(out io.Writer) error {
	z := zip.NewWriter(out)
	for _, name := range p.Names() {
		w, err := z.Create(name)
		if err == nil {
			_, err = w.Write(p[name])
		}
		if err != nil {
			return fmt.Errorf("packing %s: %w", name, err)
		}
	}
	return z.Close()
}

// ReadFile reads a pack. It takes only regular files under the names that packs have, each once.
// Together they must fit into memory: a zip file can say of itself what it likes.
func ReadFile(name string) (Pack, error) {
	data, err := file.Read(name, maxBytes)
	if err != nil {
		return nil, err
	}
	p, err := Read(data)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	return p, nil
}

// Read reads a pack.
func Read(data []byte) (Pack, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, errors.New("it is no zip file")
	}
	if len(z.File) > maxFiles {
		return nil, fmt.Errorf("it holds %d files, and %d at most are taken", len(z.File), maxFiles)
	}
	p, left := Pack{}, int64(maxBytes)
	for _, f := range z.File {
		name := f.Name
		switch {
		case name != Settings && name != Survey && name != Log && PlateOf(name) == "":
			return nil, fmt.Errorf("it holds %s, which is none of the files of a pack: %s, %s/NAME%s, %s, %s", desk.CleanText(fmt.Sprintf("%q", name), 80), Settings, plates, ending, Survey, Log)
		case !f.Mode().IsRegular():
			return nil, fmt.Errorf("%s in it is no regular file", name)
		}
		for other := range p {
			if strings.EqualFold(other, name) {
				return nil, fmt.Errorf("it holds %s twice, or two files that are alike but for case", name)
			}
		}
		if p[name], err = unpack(f, left); err != nil {
			return nil, fmt.Errorf("%s in it: %w", name, err)
		}
		left -= int64(len(p[name]))
	}
	if len(p) == 0 {
		return nil, errors.New("it holds nothing")
	}
	return p, nil
}

// unpack reads a file of at most so many bytes.
func unpack(f *zip.File, most int64) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, errors.New("it cannot be unpacked")
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(r, most+1))
	switch {
	case int64(len(data)) > most:
		return nil, fmt.Errorf("all of it is more than %d MB", maxBytes>>20)
	case err != nil:
		return nil, errors.New("it is damaged")
	}
	return data, nil
}

// Plate reads a plate of a pack.
func (p Pack) Plate(name string) (*desk.Plate, error) {
	plate, err := scene.ReadPlate(bytes.NewReader(p[PlateFile(name)]), name)
	var at *scene.Fault
	if errors.As(err, &at) {
		return nil, fmt.Errorf("%s:%d:%d: %w", PlateFile(name), at.Line, at.Column, err)
	}
	return plate, err
}
