// Package settings reads the user's settings: a TOML file that is kept under
// version control, carried to the next computer, and read anew on "reload".
// Reading is strict; a fault names the line and the column.
package settings

import (
	"bytes"
	_ "embed" // for the example
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/pelletier/go-toml/v2"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Settings are all of them. The zero value of none is meant: see Default.
type Settings struct {
	Theme  string            `toml:"theme"`
	Desk   Desk              `toml:"desk"`
	Keeper Keeper            `toml:"keeper"`
	Chords map[string]string `toml:"chords"`
}

// Desk are the rules a desk is kept by.
type Desk struct {
	Mode  string `toml:"mode"`  // spanning or separate
	Count string `toml:"count"` // fixed or growing
	Gap   int    `toml:"gap"`   // pixels
	Wrap  bool   `toml:"wrap"`
}

// Keeper is how a display is kept.
type Keeper struct {
	Terminal string `toml:"terminal"`
	Border   int    `toml:"border"` // pixels
	Words    bool   `toml:"words"`
}

// Atlas is what a chord stands for that brings up the atlas window; it is no
// command of the grammar.
const Atlas = "atlas"

// example is the commented file that documents every key. Its values are the
// usual ones, so that it is the one place where they are written down.
//
//go:embed example.toml
var example string

// Example is a settings file with every key explained, at its usual value.
func Example() string { return example }

// Default are the usual settings.
func Default() Settings {
	s, err := parse([]byte(example), Settings{})
	if err != nil {
		panic("the example of the settings is at fault: " + err.Error()) // a test reads it
	}
	return s
}

// Path is where the settings are: in $XDG_CONFIG_HOME, else in ~/.config. It is
// empty where neither is known.
func Path() string {
	dir, err := os.UserConfigDir()
	if err != nil {
		return ""
	}
	return filepath.Join(dir, "zealous-atlas", "settings.toml")
}

// Load reads the settings file; what it leaves out is as usual, and so is all
// of it where there is no file.
func Load(path string) (Settings, error) {
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) || path == "" {
		return Default(), nil
	}
	if err != nil {
		return Settings{}, fmt.Errorf("the settings: %w", err)
	}
	s, err := parse(data, Default())
	if err != nil {
		return Settings{}, fmt.Errorf("%s:%w", path, err)
	}
	return s, nil
}

// fault is an error at a place of the file.
func fault(line, column int, format string, args ...any) error {
	return fmt.Errorf("%d:%d: %s", line, column, fmt.Sprintf(format, args...))
}

// parse reads a file over the settings it may leave out.
func parse(data []byte, s Settings) (Settings, error) {
	usual := s.Chords
	s.Chords = nil
	dec := toml.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&s); err != nil {
		var strict *toml.StrictMissingError
		var bad *toml.DecodeError
		switch {
		case errors.As(err, &strict) && len(strict.Errors) > 0:
			line, column := strict.Errors[0].Position()
			return s, fault(line, column, "there is no setting %q; zatlas config lists them", strings.Join(strict.Errors[0].Key(), "."))
		case errors.As(err, &bad):
			line, column := bad.Position()
			return s, fault(line, column, "%s", strings.TrimPrefix(bad.Error(), "toml: "))
		}
		return s, fault(1, 1, "%v", err)
	}
	for _, c := range Choices() {
		if err := c.fault(s); err != nil {
			line, column := place(data, c.Table, c.Key)
			return s, fault(line, column, "%v", err)
		}
	}
	for chord, command := range s.Chords {
		if err := checkChord(chord, command); err != nil {
			line, column := place(data, "chords", chord)
			return s, fault(line, column, "%v", err)
		}
	}
	s.Chords = merged(usual, s.Chords)
	return s, nil
}

func checkChord(chord, command string) error {
	if _, err := ParseChord(chord); err != nil {
		return err
	}
	if command == "" || command == Atlas {
		return nil
	}
	if _, err := lang.ParseCommand(command); err != nil {
		return fmt.Errorf("%s stands for %q: %w", chord, command, err)
	}
	return nil
}

// merged are the chords of a file over the usual ones; an empty command takes
// one away.
func merged(usual, own map[string]string) map[string]string {
	all := map[string]string{}
	set := func(chord, command string) {
		c, err := ParseChord(chord)
		if err != nil {
			return // checked before
		}
		all[c.String()] = command
		if command == "" {
			delete(all, c.String())
		}
	}
	for chord, command := range usual {
		set(chord, command)
	}
	for chord, command := range own {
		set(chord, command)
	}
	return all
}

// place finds the line and the column of a key, from 1; 1, 1 where it is not
// written in a plain way.
func place(data []byte, table, key string) (line, column int) {
	in := ""
	for i, l := range strings.Split(string(data), "\n") {
		bare := strings.TrimSpace(l)
		if strings.HasPrefix(bare, "[") {
			in = strings.Trim(bare, "[] ")
		}
		name, _, ok := strings.Cut(bare, "=")
		if name = strings.Trim(strings.TrimSpace(name), `"'`); ok && in == table && name == key {
			return i + 1, strings.Index(l, bare) + 1
		}
	}
	return 1, 1
}

// ForDesk are the settings as the core takes them.
func (s Settings) ForDesk() desk.Settings {
	return desk.Settings{Gap: s.Desk.Gap, Wrap: s.Desk.Wrap, Growing: s.Desk.Count == "growing", Separate: s.Desk.Mode == "separate"}
}
