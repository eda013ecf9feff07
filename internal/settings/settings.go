// Package settings reads the user's settings: a TOML file that is kept under
// version control, carried to the next computer, and read anew on "reload".
// Reading is strict; a fault names the line and the column.
package settings

import (
	_ "embed" // for the example
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
	"zatlas/internal/prompt"
)

// Settings are all of them. The zero value of none is meant: see Default.
type Settings struct {
	values map[string]string // of the choices, by their names
	own    map[string]string // the chords of the file, as it writes them
	Chords map[string]string
	Grids  map[string]string // a monitor's letter, and its grid
	// Corners are what the corners of the monitors show, by their names, such as bottomright.
	Corners map[string]string
	Pins    map[string]string // a letter a to z, and the query it jumps to
	Rules   []Rule            // for windows that open
	Line    []LineRow         // what the user adds to the line
	Names   []string          // of the first workspaces of a display that has none yet
	Lay     []string          // the plates that are laid when their monitors come
}

// Theme is the colours of the screens: night or day.
func (s Settings) Theme() string { return s.values["theme"] }

// Marks is which set of marks the screens draw with: auto, drawn or plain.
func (s Settings) Marks() string { return s.values["marks"] }

// Pictures tells whether the screens and held lists show what is in windows.
func (s Settings) Pictures() bool { return s.values[PicturesName] == "true" }

// Private are words in the names of apps that are never pictured.
func (s Settings) Private() []string { return strings.Fields(strings.ToLower(s.values[PrivateName])) }

// AutoTerminal has a terminal be found that is installed.
const AutoTerminal = "auto"

// Terminal is the command that runs another in a terminal, or AutoTerminal.
func (s Settings) Terminal() string { return s.values["keeper.terminal"] }

// AtlasKey is the modifiers of the keeper's own chords and of the pointer.
func (s Settings) AtlasKey() string { return s.values["keeper.atlas_key"] }

// Borders are the colours of the borders of windows, of eight bits each of red, green and blue:
// focused, others, urgent and floating.
func (s Settings) Borders() (focused, other, urgent, floating uint32) {
	of := func(what string) uint32 { return colour(s.values["keeper.border_"+what]) }
	return of("focused"), of("other"), of("urgent"), of("floating")
}

// Start is the plate that a display begins with which was never kept; empty for none.
func (s Settings) Start() string { return s.values["plates.start"] }

// Card is after how many milliseconds a card shows what may follow a key.
func (s Settings) Card() int { return number(s.values["keeper.card"]) }

// Pointer is what the pointer has to do with the focus: click, follow or warp.
func (s Settings) Pointer() string { return s.values["keeper.pointer"] }

// Border is how many pixels there are around every window.
func (s Settings) Border() int { return number(s.values["keeper.border"]) }

// Words tells whether the words of a chord's result show.
func (s Settings) Words() bool { return s.values["keeper.words"] == "true" }

// loginChords is the value of alongside.chords for the desk of a login alone.
const loginChords = "login"

// Beside tells whether chords are taken beside another manager, by the desk of a login or by
// another.
func (s Settings) Beside(login bool) bool {
	value := s.values["alongside.chords"]
	return value == "always" || value == loginChords && login
}

// Survey tells whether it is kept what the work is like, for how many days, and after
// how many minutes without input the user counts as away.
func (s Settings) Survey() (on bool, days, away int) {
	return s.values["survey.on"] == "true", number(s.values["survey.days"]), number(s.values["survey.away"])
}

// clone is a copy that can be written.
func (s Settings) clone() Settings {
	s.values, s.Chords, s.Grids, s.Pins, s.Rules = maps.Clone(s.values), maps.Clone(s.Chords), maps.Clone(s.Grids), maps.Clone(s.Pins), slices.Clone(s.Rules)
	s.Lay = slices.Clone(s.Lay)
	s.Names, s.own, s.Corners = slices.Clone(s.Names), maps.Clone(s.own), maps.Clone(s.Corners)
	s.Line = slices.Clone(s.Line)
	return s
}

// Rule is what becomes of windows that open and match.
type Rule struct {
	Match    string // a query
	To       string // a workspace, a sheet or a monitor, as send takes it
	Place    string // first or last in the order of its sheet
	Layout   string // of its sheet, where it is the first there
	Float    bool
	Sticky   bool
	Above    bool
	NoFocus  bool
	NoBorder bool
	Leave    bool // not managed at all
	Stray    bool // may open out of reach
	Private  bool // never pictured
	Also     bool // the rules after it count too
}

// peeks are the verbs that a chord that is held can stand for: what they show goes again.
var peeks = []string{"go", "focus", "bare"}

const head = `# Settings of Zealous Atlas. Copy this file to
#   $XDG_CONFIG_HOME/zealous-atlas/settings.toml   (or ~/.config/zealous-atlas/settings.toml)
# and change what you like; what a file leaves out is as it stands here.
# "reload", as a command or by the key E on the screens, takes changes up.

`

// chordsMark is where the chords stand in the example of lists.
const chordsMark = "[chords]\n"

// What the example says of what is no single choice: the grids of monitors, and
// chords, pins and rules.
var (
	//go:embed grids.toml
	gridsExample string
	//go:embed lists.toml
	listsExample string
)

// Example is a settings file with every key explained, at its usual value.
func Example() string {
	var b strings.Builder
	b.WriteString(head)
	table := ""
	for _, c := range Choices() {
		if c.Table != table {
			b.WriteString("\n")
			if table == "desk" {
				b.WriteString(gridsExample)
			}
			table = c.Table
			b.WriteString("[" + table + "]\n")
		}
		b.WriteString(c.example())
	}
	b.WriteString("\n" + listsExample[:strings.Index(listsExample, chordsMark)] + chordsExample() + listsExample[strings.Index(listsExample, chordsMark)+len(chordsMark):])
	return b.String()
}

var usual = sync.OnceValue(func() Settings {
	s := Settings{values: map[string]string{}}
	for _, c := range Choices() {
		s.values[c.Name()] = c.Usual
	}
	if err := s.rechord(); err != nil {
		panic("the usual settings are at fault: " + err.Error()) // a test reads them
	}
	return s
})

// Default are the usual settings.
func Default() Settings { return usual().clone() }

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
// of it where there is no file. The settings can be used where there is an error, too: a
// Faults tells which rows are at fault, and the others are in force.
func Load(path string) (Settings, error) { return loadOver(path, nil) }

// Reload is Load after a change: a row that is at fault keeps the value that it had.
func (s Settings) Reload(path string) (Settings, error) { return loadOver(path, &s) }

func loadOver(path string, was *Settings) (Settings, error) {
	if path == "" {
		return Default(), nil
	}
	data, err := file.Read(path, file.MaxSettings)
	if errors.Is(err, fs.ErrNotExist) {
		return Default(), nil
	}
	if err != nil {
		s := Default()
		if was != nil {
			s = was.clone()
		}
		s.values["survey.on"] = "false" // it may say so
		return s, fmt.Errorf("the settings: %w", err)
	}
	s, err := parse(data, Default(), was)
	if err != nil {
		return s, fmt.Errorf("%s:%w", path, err)
	}
	return s, nil
}

// checkChord faults a row of chords.
func checkChord(row, command string) error {
	k, err := ParseKeys(row)
	if err != nil || command == "" {
		return err
	}
	if c, is := k.class(); is {
		if !slices.Contains(strings.Fields(command), c.name) {
			return fmt.Errorf("%s stands for %q, which has no %s in it, such as %q", row, command, c.name, "go "+c.name)
		}
		command = c.replaced(command, c.words[0])
	}
	c, err := lang.ParseCommand(command)
	if k.Hold {
		if slices.Contains(prompt.Lists(), command) || err == nil && slices.Contains(peeks, c.Verb) {
			return nil
		}
		return fmt.Errorf("%s stands for %q, which cannot be held: %s show a list, and %s show something for as long as it is held",
			row, command, strings.Join(prompt.Lists(), ", "), strings.Join(peeks, ", "))
	}
	if v, asks := prompt.Asked(command); asks || v.Name == "" && prompt.IsDeed(command) || err == nil {
		return nil
	}
	return fmt.Errorf("%s stands for %q: %w", row, command, err)
}

// chordSet is the set of chords that the file's own are laid on.
func (s *Settings) chordSet() string { return s.values["keeper.chords"] }

// rechord works the chords out again after a change of the file's own, of the set they
// are laid on, or of the atlas key.
func (s *Settings) rechord() error {
	atlas, err := ParseAtlasKey(s.AtlasKey())
	if err != nil {
		return err
	}
	s.Chords = merged(s.chordSet(), s.own, atlas)
	return nil
}

// ownRow is the row of the file that is the same chord as another, as it writes it; that
// one as it is usually written where there is none.
func (s *Settings) ownRow(k Keys) string {
	atlas, err := ParseAtlasKey(s.AtlasKey())
	for row := range s.own {
		if o, err2 := ParseKeys(row); err == nil && err2 == nil && o.pressed(atlas) == k.pressed(atlas) {
			return row
		}
	}
	return k.String()
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

// CornerNames are the corners of the monitors.
func CornerNames() []string { return []string{"topleft", "topright", "bottomleft", "bottomright"} }

// cornerShows are what a corner can stand for: what only shows something.
var cornerShows = []string{"atlas", "recent", "find", "strays", "keys", "bare"}

func checkCorner(corner, command string) error {
	if !slices.Contains(CornerNames(), corner) {
		return fmt.Errorf("a corner is %s, and not %q", quotedList(CornerNames()), corner)
	}
	if command != "" && !slices.Contains(cornerShows, command) {
		return fmt.Errorf("%s stands for %q: a corner only shows something, %s", corner, command, quotedList(cornerShows))
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
	return desk.Rule{Query: q, To: to, Position: r.Place, Layout: r.Layout, Float: r.Float, Sticky: r.Sticky, Above: r.Above,
		NoFocus: r.NoFocus, NoBorder: r.NoBorder, Leave: r.Leave, Stray: r.Stray, Private: r.Private, Also: r.Also}
}

// ForDesk are the settings as the core takes them.
func (s Settings) ForDesk() desk.Settings {
	d := desk.Settings{Grids: map[byte]desk.GridSize{}, Lay: slices.Clone(s.Lay)}
	for letter, grid := range s.Grids {
		d.Grids[letter[0]], _ = lang.ParseGrid(grid)
	}
	for _, c := range Choices() {
		if c.takes != nil {
			c.takes(&d, c.Get(s))
		}
	}
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

// Fresh are the workspaces that a display begins with which has none yet, by their names,
// empty for none.
func (s Settings) Fresh() []string {
	names := slices.Clone(s.Names)
	for len(names) < number(s.values["desk.workspaces"]) {
		names = append(names, "")
	}
	return names
}

// maxChanges is how many changes Changes names.
const maxChanges = 3

// Changes say in a sentence what is otherwise in the settings than in earlier ones, and
// how it was; empty for nothing.
func (s Settings) Changes(was Settings) string {
	var said []string
	for _, c := range Choices() {
		if now, old := s.values[c.Name()], was.values[c.Name()]; now != old {
			said = append(said, fmt.Sprintf("%s is %s now, it was %s", c.Name(), quoted(now), quoted(old)))
		}
	}
	for _, list := range []struct {
		now, was map[string]string
		what     string
	}{{s.Chords, was.Chords, "%s stands for %s"}, {s.Grids, was.Grids, "the grid of %s is %s"}, {s.Pins, was.Pins, "%s jumps to %s"}, {s.Corners, was.Corners, "the corner %s shows %s"}} {
		keys := slices.Concat(slices.Collect(maps.Keys(list.now)), slices.Collect(maps.Keys(list.was)))
		slices.Sort(keys)
		for _, key := range slices.Compact(keys) {
			if now, old := list.now[key], list.was[key]; now != old {
				said = append(said, fmt.Sprintf(list.what+" now, it was %s", key, quoted(now), quoted(old)))
			}
		}
	}
	if !slices.Equal(s.Names, was.Names) {
		said = append(said, fmt.Sprintf("desk.names are %s now, they were %s", quoted(strings.Join(s.Names, ", ")), quoted(strings.Join(was.Names, ", "))))
	}
	if !slices.Equal(s.Lay, was.Lay) {
		said = append(said, fmt.Sprintf("plates.lay is %s now, it was %s", quoted(strings.Join(s.Lay, ", ")), quoted(strings.Join(was.Lay, ", "))))
	}
	if now, old := len(s.Rules), len(was.Rules); now != old {
		said = append(said, fmt.Sprintf("%s now, before %s", desk.Counted(now, "rule"), desk.Counted(old, "rule")))
	} else if !slices.Equal(s.Rules, was.Rules) {
		said = append(said, "the rules are others now")
	}
	if !slices.Equal(s.Line, was.Line) {
		said = append(said, fmt.Sprintf("%s on the line now, before %s", desk.Counted(len(s.Line), "row"), desk.Counted(len(was.Line), "row")))
	}
	if more := len(said) - maxChanges; more > 0 {
		said = append(said[:maxChanges], fmt.Sprintf("and %d more", more))
	}
	if len(said) == 0 {
		return ""
	}
	words := strings.Join(said, "; ") + "."
	return desk.CleanText(strings.ToUpper(words[:1])+words[1:], desk.MaxWords)
}

// quoted is a value as a sentence names it.
func quoted(value string) string {
	if value == "" {
		return "nothing"
	}
	return value
}
