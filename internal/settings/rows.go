package settings

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/layout"
)

// Choice is a setting that can be looked at and changed by itself: the only
// place where it is written down. The reader of the file, its example, the
// settings screen and the texts of faults are made from the table of them.
type Choice struct {
	Table, Key string   // where it stands in the file; Table is empty at its top
	Usual      string   // its value where the file has none
	Help       string   // what it is, in a few words
	About      string   // what it is, in sentences
	Values     []string // those it can have; nil for a number or a text
	Min, Max   int      // of a number; both 0 for a text
	Unit       string   // of a number
	Step       int      // by which keys change a number

	want  string // of a text: what it must be
	check func(text string) error
	// takes gives the core the value; nil where it is none of its business.
	takes func(d *desk.Settings, value string)
}

var yesNo = []string{"false", "true"}

// The names of the settings about pictures.
const (
	PicturesName = "pictures"
	PrivateName  = "private"
)

// isWords checks that a text is words, or nothing.
func isWords(text string) error {
	if strings.ContainsAny(text, "\"'\\,;") {
		return errors.New("the words have blanks between them, and no quotes or commas")
	}
	return nil
}

// FindChoice finds a setting by its name.
func FindChoice(name string) (Choice, bool) {
	all := Choices()
	i := slices.IndexFunc(all, func(c Choice) bool { return c.Name() == name })
	if i < 0 {
		return Choice{}, false
	}
	return all[i], true
}

// Choices are all settings but chords, grids, pins and rules, in the order of the
// example.
func Choices() []Choice {
	return []Choice{
		{Key: "theme", Usual: "night", Values: []string{"night", "day"},
			Help: "colours of the screens", About: `The screens: "night" or "day".`},
		{Key: "marks", Usual: "auto", Values: []string{"auto", "drawn", "plain"},
			Help: "what the screens draw frames and marks with",
			About: `What the screens draw frames and marks with. "drawn": lines and blocks. "plain": letters that every terminal has. ` +
				`"auto": plain on a console, and where the terminal draws lines two columns wide.`},
		{Key: PicturesName, Usual: "false", Values: yesNo,
			Help: "show what is in windows, on the screens and in held lists",
			About: "Whether the screens and held lists show what is in windows, small. Pictures stay in memory, and are forgotten when the screen " +
				"locks. Apps in private, and those with a rule that says private, are never pictured."},
		{Key: PrivateName, Usual: "pinentry askpass polkit keyring password wallet secret locker", want: "words with blanks between them", check: isWords,
			Help: "apps that are never pictured: words of their names", About: "Apps that are never pictured: words that stand in the names or classes of them, with blanks between."},
		{Table: "desk", Key: "mode", Usual: "spanning", Values: []string{"spanning", "separate"},
			Help: "one workspace over all monitors, or each monitor its own",
			About: `"spanning": one workspace covers all monitors, and going to it changes all of them. "separate": each monitor shows a ` +
				`workspace of its own; each workspace has a home monitor ("home 3 B"), and going to it changes that monitor only.`,
			takes: func(d *desk.Settings, v string) { d.Separate = v == "separate" }},
		{Table: "desk", Key: "count", Usual: "fixed", Values: []string{"fixed", "growing"},
			Help: "workspaces made by you alone, or always one empty at the end",
			About: `"fixed": workspaces are made and removed by you alone. "growing": there is always one empty workspace without a name, ` +
				`the last one, and others that are empty at the end go by themselves.`,
			takes: func(d *desk.Settings, v string) { d.Growing = v == "growing" }},
		{Table: "desk", Key: "gap", Usual: "0", Max: 500, Step: 2, Unit: "pixels",
			Help: "pixels between tiled windows and around them", About: "Pixels between tiled windows and around them, 0 to 500.",
			takes: func(d *desk.Settings, v string) { d.Gap = number(v) }},
		{Table: "desk", Key: "wrap", Usual: "false", Values: yesNo,
			Help: "next after the last workspace is the first", About: "Whether next after the last workspace is the first.",
			takes: func(d *desk.Settings, v string) { d.Wrap = v == "true" }},
		{Table: "desk", Key: "layout", Usual: "tree", Values: layout.Names(),
			Help:  "how the sheets of a new workspace lay out their windows",
			About: "How the sheets of a new workspace lay out their windows: " + quotedList(layout.Names()) + ".",
			takes: func(d *desk.Settings, v string) { d.Layout, _ = layout.ParseKind(v) }},
		{Table: "desk", Key: "edge", Usual: "false", Values: yesNo,
			Help:  "move and focus go on to the next workspace at the edge of the outermost monitor",
			About: "Whether a window that is moved over the edge of the outermost monitor goes on to the next workspace, or to the one before, and the focus likewise.",
			takes: func(d *desk.Settings, v string) { d.EdgeGoes = v == "true" }},
		{Table: "desk", Key: "grid", Usual: "3x3", want: `columns and rows such as "4x2"`, check: isGrid,
			Help:  "columns and rows of the grid whose cells p places a window over",
			About: "Columns and rows of the grid whose cells p and two digits place a window over, 1 to 20 of each.",
			takes: func(d *desk.Settings, v string) { d.Grids[0], _ = lang.ParseGrid(v) }},
		{Table: "desk", Key: "workspaces", Usual: "1", Min: 1, Max: desk.MaxWorkspaces, Step: 1,
			Help: "how many workspaces a display begins with that has none yet",
			About: "How many workspaces a display begins with that was never kept before, 1 to 99. Their names stand in names, in their order: " +
				`names = ["Programme", "Subtitles", "Box office"]. With more names than workspaces there are as many as names.`},
		{Table: "keeper", Key: "atlas_key", Usual: "Super", want: `modifiers such as "Super" or "Ctrl+Alt"`, check: isAtlasKey,
			Help: "modifier of the chords and of the pointer, written Atlas in chords",
			About: `The modifier of the keeper's own chords, and of the pointer that moves and resizes windows: Super, Alt, Hyper, Meta, ` +
				`or two of them or one with Ctrl, such as "Ctrl+Alt". In chords it is written Atlas.`},
		{Table: "keeper", Key: "chords", Usual: usualChords, Values: []string{usualChords, fewChords, noChords},
			Help: "the chords that are there without any of your own",
			About: `The chords that those of the file are laid on. "usual": all that are listed under [chords] below. "few": those for going, sending, ` +
				`carrying, focus, moving, back, the atlas and the search. "none": no others than the file's.`},
		{Table: "keeper", Key: "card", Usual: "400", Max: 5000, Step: 100, Unit: "milliseconds",
			Help: "after so long a card shows what may follow a key", About: "After how many milliseconds a card shows what may follow the first key of several, 0 to 5000; with 0 at once."},
		{Table: "keeper", Key: "pointer", Usual: "click", Values: []string{"click", "follow", "warp"},
			Help: "the focus goes by click, follows the pointer, or takes the pointer along",
			About: `"click": a click in a window gives it the focus. "follow": so does moving the pointer into it. "warp": by click, and the pointer ` +
				`is brought into a window that gets the focus by keys, unless it is there.`},
		{Table: "keeper", Key: "terminal", Usual: AutoTerminal, want: `"auto" or a command such as "xterm -e"`, check: notEmpty,
			Help: "command that runs another in a terminal, for the atlas window",
			About: `The command that runs another in a terminal, for the atlas window. "auto": xterm, with letters that suit the monitor, or else a ` +
				`terminal that is installed. In "xterm -T TITLE -e", TITLE stands for the title by which the keeper knows that window.`},
		{Table: "keeper", Key: "border", Usual: "2", Min: 1, Max: 32, Step: 1, Unit: "pixels",
			Help: "pixels around every window", About: "Pixels around every window, 1 to 32."},
		borderColour("focused", "#d9a441", "the window that has the focus"), borderColour("other", "#2b3d4d", "the other windows"),
		borderColour("urgent", "#e2644d", "windows that want to be looked at"), borderColour("floating", "#2b3d4d", "windows that float"),
		{Table: "keeper", Key: "words", Usual: "true", Values: yesNo,
			Help: "a chord's result shows in words for two seconds", About: "Whether the words of a chord's result show for two seconds."},
		lineEdge("keeper", "bottom"),
		{Table: "keeper", Key: "line_on", Usual: "all", want: `"all", "primary", or letters such as "A C"`, check: isLineOn,
			Help: "monitors that have the line", About: `The monitors that have the line: "all", "primary", or letters such as "A C".`},
		{Table: "keeper", Key: "line_size", Usual: "0", Max: 64, Step: 1, Unit: "pixels",
			Help: "height of the line's letters", About: "Height of the letters on the line, up to 64 pixels. 0 suits them to the monitor."},
		{Table: "keeper", Key: "clock", Usual: "15:04", want: `a form such as "15:04" or "%H:%M"`, check: isClock,
			Help: "form of the time on the line", About: `The time on the line, as Go writes 15:04:05 ("15:04", "3:04 PM") or as strftime does ("%H:%M"). "" shows none.`},
		{Table: "keeper", Key: "date", Usual: "", want: `a form such as "Mon 2 Jan" or "%a %d %b"`, check: isClock,
			Help: "form of the date on the line", About: `The date on the line, as Go writes Mon 2 January 2006, or as strftime does ("%a %d %b"). "" shows none.`},
		{Table: "alongside", Key: "chords", Usual: loginChords, Values: []string{loginChords, "always", "never"},
			Help: "whether chords are taken beside another manager",
			About: `Whether the chords of the display that are free are taken beside another manager. "login": by the desk that begins at login, ` +
				`and not by that of a zatlas started by hand. "always", "never".`},
		lineEdge("alongside", "none"),
		{Table: "plates", Key: "start", Usual: "", want: `the name of a plate such as "Office"`, check: isPlate,
			Help: "plate that a display begins with that was never kept before",
			About: "The plate of the desk that a display begins with that was never kept before. Plates are files beside this one, in the folder " +
				`plates. Those that are laid by themselves, when the monitors come for which they were saved, stand in lay: lay = ["Docked"].`},
		{Table: "survey", Key: "on", Usual: "false", Values: yesNo,
			Help: "which app has the focus is kept, where and for how long; never a title",
			About: "Whether it is kept which app has the focus, on which workspace and monitor, and for how long, and how often which command is used. " +
				"Never a title. It is kept in this user's state on this machine, and leaves it nowhere."},
		{Table: "survey", Key: "days", Usual: "90", Min: 1, Max: 3650, Step: 10, Unit: "days",
			Help: "for how many days it is kept", About: "For how many days it is kept, 1 to 3650."},
		{Table: "survey", Key: "away", Usual: "5", Min: 2, Max: 120, Step: 1, Unit: "minutes",
			Help:  "without a key or the pointer moved for so long, you count as away",
			About: "After how many minutes without a key typed or the pointer moved you count as away, 2 to 120: nothing is counted then."},
	}
}

// lineEdge is the setting of the edge that the line is at.
func lineEdge(table, usual string) Choice {
	where := "Where the keeper draws its line"
	if table == "alongside" {
		where = "Where a line is drawn beside another manager"
	}
	return Choice{Table: table, Key: "line", Usual: usual, Values: []string{"bottom", "top", "none"}, Help: "edge of the monitors with the line",
		About: where + `: the workspaces, the window with the focus, what just happened, the time. "bottom", "top" or "none". Rows of your own are written as [[line]], below.`}
}

// isPlate faults what is neither empty nor the name of a plate.
func isPlate(text string) error {
	if text == "" {
		return nil
	}
	return desk.CheckPlateName(text)
}

func isAtlasKey(text string) error {
	_, err := ParseAtlasKey(text)
	return err
}

// borderColour is the setting of the colour of some borders.
func borderColour(what, usual, of string) Choice {
	return Choice{Table: "keeper", Key: "border_" + what, Usual: usual, want: `a colour such as "#d9a441"`, check: isColour,
		Help: "colour of the border of " + of, About: "The colour of the border of " + of + ", as red, green and blue."}
}

func isColour(text string) error {
	if len(text) != 7 || text[0] != '#' || strings.Trim(text[1:], "0123456789abcdefABCDEF") != "" {
		return fmt.Errorf("%q is no colour: # and six digits 0 to f, two for red, green and blue each", text)
	}
	return nil
}

// colour is a colour that was checked.
func colour(text string) uint32 {
	n, _ := strconv.ParseUint(strings.TrimPrefix(text, "#"), 16, 24)
	return uint32(n)
}

// number is a value of a setting that is a number; it was checked.
func number(value string) int {
	n, _ := strconv.Atoi(value)
	return n
}

func notEmpty(text string) error {
	if strings.TrimSpace(text) == "" {
		return fmt.Errorf("it is empty")
	}
	return nil
}

// quotedList is words in quotes, the last after "or".
func quotedList(words []string) string {
	quoted := make([]string, len(words))
	for i, w := range words {
		quoted[i] = strconv.Quote(w)
	}
	return strings.Join(quoted[:len(quoted)-1], ", ") + " or " + quoted[len(quoted)-1]
}

// Name is the setting as messages call it, such as desk.gap.
func (c Choice) Name() string {
	if c.Table == "" {
		return c.Key
	}
	return c.Table + "." + c.Key
}

// Text tells whether the setting is a free text.
func (c Choice) Text() bool { return c.Values == nil && c.Max == 0 }

// Get is its value in the settings, as text.
func (c Choice) Get(s Settings) string { return s.values[c.Name()] }

// Next is the value that a key forward (by 1) or back (by -1) leads to: around
// the values, and to the ends of a number.
func (c Choice) Next(value string, by int) string {
	if c.Values != nil {
		n := len(c.Values)
		return c.Values[(slices.Index(c.Values, value)+by+n)%n]
	}
	return strconv.Itoa(min(max(number(value)+by*c.Step, c.Min), c.Max))
}

// set gives the setting a value; it fails for one that it cannot have.
func (c Choice) set(s *Settings, value string) error {
	if c.Text() {
		value = desk.CleanText(value, desk.MaxTitle)
	}
	if !c.can(value) {
		return fmt.Errorf("%s must be %s", c.Key, c.wants())
	}
	s.values[c.Name()] = value
	return nil
}

// can tells whether the setting can have a value.
func (c Choice) can(value string) bool {
	n, err := strconv.Atoi(value)
	switch {
	case c.Values != nil:
		return slices.Contains(c.Values, value)
	case c.Text():
		return c.check(value) == nil
	}
	return err == nil && n >= c.Min && n <= c.Max
}

// read takes the value that the file has.
func (c Choice) read(s *Settings, value any) error {
	kinds := map[bool]string{true: "bool", false: "string"}
	kind := kinds[slices.Equal(c.Values, yesNo)]
	if c.Max > 0 {
		kind = "number"
	}
	text, is := "", ""
	switch v := value.(type) {
	case string:
		text, is = v, "string"
	case bool:
		text, is = strconv.FormatBool(v), "bool"
	case int64:
		text, is = strconv.FormatInt(v, 10), "number"
	}
	if is != kind {
		return fmt.Errorf("%s must be %s", c.Key, c.wants())
	}
	return c.set(s, text)
}

// wants says what its value must be.
func (c Choice) wants() string {
	switch {
	case c.Text():
		return c.want
	case c.Values == nil:
		return strings.TrimSpace(fmt.Sprintf("%d to %d %s", c.Min, c.Max, c.Unit))
	case slices.Equal(c.Values, yesNo):
		return "false or true"
	}
	quoted := make([]string, len(c.Values))
	for i, v := range c.Values {
		quoted[i] = strconv.Quote(v)
	}
	return strings.Join(quoted, " or ")
}

// literal is a value of it as the file writes it.
func (c Choice) literal(value string) string {
	if c.Max > 0 || slices.Equal(c.Values, yesNo) {
		return value
	}
	return strconv.Quote(value)
}

// example is the setting as the example writes it.
func (c Choice) example() string {
	var b strings.Builder
	line := "#"
	for word := range strings.FieldsSeq(cmp.Or(c.About, c.Help)) {
		if len(line)+1+len(word) > 80 {
			b.WriteString(line + "\n")
			line = "#"
		}
		line += " " + word
	}
	b.WriteString(line + "\n" + c.Key + " = " + c.literal(c.Usual) + "\n")
	return b.String()
}
