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
	"slices"
	"strings"

	"github.com/pelletier/go-toml/v2"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// Settings are all of them. The zero value of none is meant: see Default.
type Settings struct {
	Theme  string            `toml:"theme"`
	Desk   Desk              `toml:"desk"`
	Keeper Keeper            `toml:"keeper"`
	Chords map[string]string `toml:"chords"`
	Grids  map[string]string `toml:"grids"` // a monitor's letter, and its grid
	Pins   map[string]string `toml:"pins"`  // a letter a to z, and the query it jumps to
	Rules  []Rule            `toml:"rules"` // for windows that open
}

// Rule is what becomes of windows that open and match.
type Rule struct {
	Match   string `toml:"match"`  // a query
	To      string `toml:"to"`     // a workspace, a sheet or a monitor, as send takes it
	Place   string `toml:"place"`  // first or last in the order of its sheet
	Layout  string `toml:"layout"` // of its sheet, where it is the first there
	Float   bool   `toml:"float"`
	Sticky  bool   `toml:"sticky"`
	Above   bool   `toml:"above"`
	NoFocus bool   `toml:"nofocus"`
	Leave   bool   `toml:"leave"` // not managed at all
	Stray   bool   `toml:"stray"` // may open out of reach
	Also    bool   `toml:"also"`  // the rules after it count too
}

// Desk are the rules a desk is kept by.
type Desk struct {
	Mode  string `toml:"mode"`  // spanning or separate
	Count string `toml:"count"` // fixed or growing
	Gap   int    `toml:"gap"`   // pixels
	Wrap  bool   `toml:"wrap"`
	// Layout is that of sheets that are new.
	Layout string `toml:"layout"`
	// Edge has move go on to the next workspace at the outermost edge.
	Edge bool   `toml:"edge"`
	Grid string `toml:"grid"` // columns and rows, such as 4x2
}

// Keeper is how a display is kept.
type Keeper struct {
	Terminal string `toml:"terminal"`
	Border   int    `toml:"border"` // pixels
	Words    bool   `toml:"words"`
}

// Screens are what a chord can stand for that brings up the atlas window, by
// the screen it shows there; they are no commands of the grammar.
func Screens() []string { return []string{"atlas", "recent", "find", "strays", "nudge", "resize"} }

// Jump is what a chord stands for after which a letter typed is jumped to.
const Jump = "jump"

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
	if path == "" {
		return Default(), nil
	}
	data, err := file.Read(path, file.MaxSettings)
	if errors.Is(err, fs.ErrNotExist) {
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
			line, column := place(data, c.Table, c.Key, 0)
			return s, fault(line, column, "%v", err)
		}
	}
	for chord, command := range s.Chords {
		if err := checkChord(chord, command); err != nil {
			line, column := place(data, "chords", chord, 0)
			return s, fault(line, column, "%v", err)
		}
	}
	for letter, grid := range s.Grids {
		if err := checkGrid(letter, grid); err != nil {
			line, column := place(data, "grids", letter, 0)
			return s, fault(line, column, "%v", err)
		}
	}
	for letter, query := range s.Pins {
		if err := checkPin(letter, query); err != nil {
			line, column := place(data, "pins", letter, 0)
			return s, fault(line, column, "%v", err)
		}
	}
	for i, r := range s.Rules {
		if key, err := r.check(); err != nil {
			line, column := place(data, "rules", key, i)
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
	if command == "" || command == Jump || slices.Contains(Screens(), command) {
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

// place finds the line and the column of a key in the nth table of a name, from
// 1, or of the table where the key is not there; 1, 1 where it is not written
// in a plain way.
func place(data []byte, table, key string, nth int) (line, column int) {
	in, count := "", -1
	line, column = 1, 1
	if table == "" || !bytes.Contains(data, []byte("[["+table+"]]")) {
		count = nth
	}
	for i, l := range strings.Split(string(data), "\n") {
		bare := strings.TrimSpace(l)
		if strings.HasPrefix(bare, "[") {
			if in = strings.Trim(bare, "[] "); in == table && strings.HasPrefix(bare, "[[") {
				count++
			}
			if in == table && count == nth {
				line, column = i+1, 1
			}
		}
		name, _, ok := strings.Cut(bare, "=")
		if name = strings.Trim(strings.TrimSpace(name), `"'`); ok && in == table && name == key && count == nth {
			return i + 1, strings.Index(l, bare) + 1
		}
	}
	return line, column
}

func checkGrid(letter, grid string) error {
	if len(letter) != 1 || letter[0] < 'A' || letter[0] > 'Z' {
		return fmt.Errorf("a grid is given to a monitor's letter A to Z, and not to %q", letter)
	}
	return isGrid(grid)
}

// isGrid faults what is no grid such as 4x2.
func isGrid(text string) error {
	if _, err := lang.ParseGrid(text); err != nil {
		return fmt.Errorf("%q is no grid: columns and rows from 1 to %d, such as 4x2", text, lang.MaxGrid)
	}
	return nil
}

func checkPin(letter, query string) error {
	if len(letter) != 1 || letter[0] < 'a' || letter[0] > 'z' {
		return fmt.Errorf("a pin is a letter a to z, and not %q", letter)
	}
	if query == "" {
		return nil // taken away
	}
	if _, err := lang.ParseQuery(query); err != nil {
		return fmt.Errorf("the pin %s: %w", letter, err)
	}
	return nil
}

// check faults a rule, and tells the key that is at fault.
func (r Rule) check() (key string, err error) {
	if r.Match == "" {
		return "match", errors.New("a rule needs match, a query")
	}
	if _, err := lang.ParseQuery(r.Match); err != nil {
		return "match", fmt.Errorf("match: %w", err)
	}
	if _, err := r.target(); err != nil {
		return "to", err
	}
	if r.Place != "" && !slices.Contains(desk.Places(), r.Place) {
		return "place", fmt.Errorf("place must be %s", strings.Join(desk.Places(), " or "))
	}
	if _, ok := layout.ParseKind(r.Layout); r.Layout != "" && !ok {
		return "layout", fmt.Errorf("layout must be one of %s", strings.Join(layout.Names(), ", "))
	}
	return "", nil
}

// target is where the rule sends windows; nil for nowhere else.
func (r Rule) target() (*desk.Arg, error) {
	if r.To == "" {
		return nil, nil
	}
	c, err := lang.ParseCommand("send " + r.To)
	if err != nil || c.Of != nil || len(c.Args) != 1 || c.Args[0].Kind == desk.Keyword {
		return nil, fmt.Errorf("to must be a workspace's number or name, a monitor's letter, or a sheet such as B3")
	}
	return &c.Args[0], nil
}

// forDesk is the rule as the core takes it; it was checked.
func (r Rule) forDesk() desk.Rule {
	q, _ := lang.ParseQuery(r.Match)
	to, _ := r.target()
	return desk.Rule{Query: q, To: to, Place: r.Place, Layout: r.Layout, Float: r.Float, Sticky: r.Sticky, Above: r.Above,
		NoFocus: r.NoFocus, Leave: r.Leave, Stray: r.Stray, Also: r.Also}
}

// ForDesk are the settings as the core takes them.
func (s Settings) ForDesk() desk.Settings {
	d := desk.Settings{Gap: s.Desk.Gap, Wrap: s.Desk.Wrap, Growing: s.Desk.Count == "growing", Separate: s.Desk.Mode == "separate"}
	d.Layout, _ = layout.ParseKind(s.Desk.Layout)
	d.EdgeGoes = s.Desk.Edge
	d.Grids = map[byte]desk.GridSize{}
	for letter, grid := range s.Grids {
		d.Grids[letter[0]], _ = lang.ParseGrid(grid)
	}
	d.Grids[0], _ = lang.ParseGrid(s.Desk.Grid)
	d.Pins = map[byte]desk.Query{}
	for letter, query := range s.Pins {
		if q, err := lang.ParseQuery(query); err == nil && query != "" {
			d.Pins[letter[0]] = q
		}
	}
	for _, r := range s.Rules {
		d.Rules = append(d.Rules, r.forDesk())
	}
	return d
}
