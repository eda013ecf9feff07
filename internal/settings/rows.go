package settings

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"

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
// example. They are not to be changed.
func Choices() []Choice { return choices() }

var choices = sync.OnceValue(func() []Choice {
	return []Choice{
		{Key: "theme", Usual: "night", Values: []string{"night", "day"},
			Help: "colours of the screens", About: `Colours of the screens, cards and the line: "night" or "day".`},
		{Key: "marks", Usual: "auto", Values: []string{"auto", "drawn", "plain"},
			Help: "characters for frames and marks",
			About: `Characters for frames and marks. "drawn": lines and blocks. "plain": ASCII letters. ` +
				`"auto": plain on a console and in terminals that draw lines two columns wide.`},
		{Key: PicturesName, Usual: "false", Values: yesNo,
			Help: "pictures of windows on the screens and in held lists",
			About: "Show small pictures of windows on the screens and in held lists. Pictures stay in memory and are forgotten when the screen " +
				"locks. Apps named in private, and apps with a rule that says private, are never pictured."},
		{Key: PrivateName, Usual: "pinentry askpass polkit keyring password wallet secret locker", want: "words with blanks between them", check: isWords,
			Help: "apps that are never pictured, by words of their names", About: "Apps that are never pictured. Each word is compared with app names and classes. Put blanks between words."},
		{Table: "desk", Key: "mode", Usual: "spanning", Values: []string{"spanning", "separate"},
			Help: "one workspace on all monitors, or one on each",
			About: `"spanning": one workspace covers all monitors. "separate": each monitor shows its own workspace. ` +
				`Each workspace then has a home monitor ("home 3 B"), and going to it changes only that monitor.`,
			takes: func(d *desk.Settings, v string) { d.Separate = v == "separate" }},
		{Table: "desk", Key: "count", Usual: "fixed", Values: []string{"fixed", "growing"},
			Help: "fixed workspaces, or always an empty one at the end",
			About: `"fixed": only you add and remove workspaces. "growing": the last workspace is always empty and unnamed. ` +
				`Other empty workspaces at the end are removed.`,
			takes: func(d *desk.Settings, v string) { d.Growing = v == "growing" }},
		{Table: "desk", Key: "gap", Usual: "0", Max: 500, Step: 2, Unit: "pixels",
			Help: "gap between and around tiled windows (pixels)", About: "Gap between and around tiled windows, 0 to 500 pixels.",
			takes: func(d *desk.Settings, v string) { d.Gap = number(v) }},
		{Table: "desk", Key: "wrap", Usual: "false", Values: yesNo,
			Help: "wrap from the last workspace to the first", About: "Wrap around: next on the last workspace goes to the first.",
			takes: func(d *desk.Settings, v string) { d.Wrap = v == "true" }},
		{Table: "desk", Key: "layout", Usual: "tree", Values: layout.Names(),
			Help:  "layout of the sheets of a new workspace",
			About: "Layout of the sheets of a new workspace: " + quotedList(layout.Names()) + ".",
			takes: func(d *desk.Settings, v string) { d.Layout, _ = layout.ParseKind(v) }},
		{Table: "desk", Key: "edge", Usual: "false", Values: yesNo,
			Help:  "moving past the last monitor goes to the next workspace",
			About: "Moving a window, or the focus, past the last monitor goes to the next workspace, and past the first to the previous one.",
			takes: func(d *desk.Settings, v string) { d.EdgeGoes = v == "true" }},
		{Table: "desk", Key: "grid", Usual: "3x3", want: `columns and rows such as "4x2"`, check: isGrid,
			Help:  "columns and rows of the grid for snap",
			About: "Columns and rows of the grid for snap, 1 to 20 of each. The key p and two digits place a window from cell to cell.",
			takes: func(d *desk.Settings, v string) { d.Grids[0], _ = lang.ParseGrid(v) }},
		{Table: "desk", Key: "workspaces", Usual: "1", Min: 1, Max: desk.MaxWorkspaces, Step: 1,
			Help: "workspaces on a display used for the first time",
			About: "Number of workspaces on a display used for the first time, 1 to 99. Name them in order: " +
				`names = ["Programme", "Subtitles", "Box office"]. More names than workspaces make more workspaces.`},
		{Table: "keeper", Key: "atlas_key", Usual: "Super", want: `modifiers such as "Super" or "Ctrl+Alt"`, check: isAtlasKey,
			Help: "modifier for chords and the pointer",
			About: `Modifier for the keeper's own chords and for moving and resizing with the pointer: Super, Alt, Hyper, Meta, ` +
				`two of them, or one with Ctrl, such as "Ctrl+Alt". Chords write it as Atlas.`},
		{Table: "keeper", Key: "chords", Usual: usualChords, Values: []string{usualChords, fewChords, noChords},
			Help: "built-in chords",
			About: `Built-in chords, which yours are added to. "usual": all those listed under [chords] below. "few": only going, sending, ` +
				`carrying, focus, moving, back, the atlas and the search. "none": only yours.`},
		{Table: "keeper", Key: "card", Usual: "400", Max: 5000, Step: 100, Unit: "milliseconds",
			Help: "delay before the card of next keys (ms)", About: "Delay before the card of next keys, 0 to 5000 milliseconds. 0 shows it at once."},
		{Table: "keeper", Key: "pointer", Usual: "click", Values: []string{"click", "follow", "warp"},
			Help: "focus by click, by pointing, or with the pointer taken along",
			About: `"click": a click in a window gives it the focus. "follow": moving the pointer into it does too. "warp": by click, and the pointer ` +
				`moves to a window that gets the focus by keys.`},
		{Table: "keeper", Key: "terminal", Usual: AutoTerminal, want: `"auto" or a command such as "xterm -e"`, check: notEmpty,
			Help: "terminal for the atlas window",
			About: `Terminal for the atlas window: a command that runs another one in it. "auto": xterm with letters that suit the monitor, else an ` +
				`installed terminal. In "xterm -T TITLE -e", TITLE is replaced by the title that the keeper looks for.`},
		{Table: "keeper", Key: "border", Usual: "2", Min: 1, Max: 32, Step: 1, Unit: "pixels",
			Help: "border around windows (pixels)", About: "Border around windows, 1 to 32 pixels."},
		borderColour("focused", "#d9a441", "the window that has the focus"), borderColour("other", "#2b3d4d", "the other windows"),
		borderColour("urgent", "#e2644d", "windows that want to be looked at"), borderColour("floating", "#2b3d4d", "windows that float"),
		{Table: "keeper", Key: "words", Usual: "true", Values: yesNo,
			Help: "show what a chord did, for two seconds", About: "Show in words what a chord did, for two seconds."},
		lineEdge("keeper", "bottom"),
		{Table: "keeper", Key: "line_on", Usual: "all", want: `"all", "primary", or letters such as "A C"`, check: isLineOn,
			Help: "monitors with the line", About: `Monitors with the line: "all", "primary", or letters such as "A C".`},
		{Table: "keeper", Key: "line_size", Usual: "0", Max: 64, Step: 1, Unit: "pixels",
			Help: "letter height on the line (pixels; 0 suits the monitor)", About: "Letter height on the line, up to 64 pixels. 0 suits the monitor."},
		{Table: "keeper", Key: "clock", Usual: "15:04", want: `a form such as "15:04" or "%H:%M"`, check: isClock,
			Help: "time on the line, such as 15:04 or %H:%M", About: `Time on the line, written as Go writes 15:04:05 ("15:04", "3:04 PM") or as strftime does ("%H:%M"). "" shows none.`},
		{Table: "keeper", Key: "date", Usual: "", want: `a form such as "Mon 2 Jan" or "%a %d %b"`, check: isClock,
			Help: "date on the line, such as Mon 2 Jan or %a %d %b", About: `Date on the line, written as Go writes Mon 2 January 2006 or as strftime does ("%a %d %b"). "" shows none.`},
		{Table: "alongside", Key: "chords", Usual: loginChords, Values: []string{loginChords, "always", "never"},
			Help: "take chords beside another manager",
			About: `Take the free chords of the display beside another manager. "login": only the desk that starts at login does, ` +
				`not a zatlas started by hand. "always", "never".`},
		lineEdge("alongside", "none"),
		{Table: "plates", Key: "start", Usual: "", want: `the name of a plate such as "Office"`, check: isPlate,
			Help: "plate laid when a display is used for the first time",
			About: "Plate laid when a display is used for the first time. Plates are files in the folder plates beside this file. " +
				`lay = ["Docked"] lists plates to lay whenever the monitors they were saved for are plugged in.`},
		{Table: "survey", Key: "on", Usual: "false", Values: yesNo,
			Help: "record which app you use, and for how long",
			About: "Record which app you use, where and for how long, and how often you use each command. Titles are never recorded. " +
				"The record stays on this machine, in your own state folder."},
		{Table: "survey", Key: "days", Usual: "90", Min: 1, Max: 3650, Step: 10, Unit: "days",
			Help: "days to keep the record", About: "Days to keep the record, 1 to 3650."},
		{Table: "survey", Key: "away", Usual: "5", Min: 2, Max: 120, Step: 1, Unit: "minutes",
			Help:  "idle minutes until you count as away",
			About: "Idle minutes until you count as away, 2 to 120. Nothing is recorded while you are away."},
	}
})

// lineEdge is the setting of the edge that the line is at.
func lineEdge(table, usual string) Choice {
	where := "Edge of the keeper's line"
	if table == "alongside" {
		where = "Edge of a line beside another manager"
	}
	return Choice{Table: table, Key: "line", Usual: usual, Values: []string{"bottom", "top", "none"}, Help: "edge of the monitor for the line",
		About: where + `: "bottom", "top" or "none". The line shows the workspaces, the focused window, what just happened and the time. Add rows of your own as [[line]], below.`}
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
		return fmt.Errorf("%s must be %s", c.Key, c.Wants())
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
		return fmt.Errorf("%s must be %s", c.Key, c.Wants())
	}
	return c.set(s, text)
}

// Wants says what its value must be.
func (c Choice) Wants() string {
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
