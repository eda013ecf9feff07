package settings

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/layout"
)

// Choice is a setting that can be looked at and changed by itself. The checks
// of a file and the settings screen are made from the table of them.
type Choice struct {
	Table, Key string   // where it stands in the file; Table is empty at its top
	Help       string   // what it is, in a few words
	Values     []string // those it can have; nil for a number or a text
	Min, Max   int      // of a number; both 0 for a text
	Step       int      // by which keys change a number

	field func(s *Settings) any // *string, *int or *bool
	want  string                // of a text: what it must be
	check func(text string) error
}

// Choices are all settings but the chords, in the order of the example.
func Choices() []Choice {
	yesNo := []string{"false", "true"}
	return []Choice{
		{Key: "theme", Help: "colours of the screens", Values: []string{"night", "day"},
			field: func(s *Settings) any { return &s.Theme }},
		{Table: "desk", Key: "mode", Help: "one workspace over all monitors, or each monitor its own", Values: []string{"spanning", "separate"},
			field: func(s *Settings) any { return &s.Desk.Mode }},
		{Table: "desk", Key: "count", Help: "workspaces made by you alone, or always one empty at the end", Values: []string{"fixed", "growing"},
			field: func(s *Settings) any { return &s.Desk.Count }},
		{Table: "desk", Key: "gap", Help: "pixels between tiled windows and around them", Max: 500, Step: 2,
			field: func(s *Settings) any { return &s.Desk.Gap }},
		{Table: "desk", Key: "wrap", Help: "next after the last workspace is the first", Values: yesNo,
			field: func(s *Settings) any { return &s.Desk.Wrap }},
		{Table: "desk", Key: "layout", Help: "how the sheets of a new workspace lay out their windows", Values: layout.Names(),
			field: func(s *Settings) any { return &s.Desk.Layout }},
		{Table: "desk", Key: "edge", Help: "move goes on to the next workspace at the edge of the outermost monitor", Values: yesNo,
			field: func(s *Settings) any { return &s.Desk.Edge }},
		{Table: "desk", Key: "grid", Help: "columns and rows of the grid whose cells p places a window over",
			field: func(s *Settings) any { return &s.Desk.Grid },
			want:  `columns and rows such as "4x2"`, check: isGrid},
		{Table: "keeper", Key: "terminal", Help: "command that runs another in a terminal, for the atlas window",
			field: func(s *Settings) any { return &s.Keeper.Terminal },
			want:  `a command such as "xterm -e"`, check: notEmpty},
		{Table: "keeper", Key: "border", Help: "pixels around every window, from the keeper's next start", Min: 1, Max: 32, Step: 1,
			field: func(s *Settings) any { return &s.Keeper.Border }},
		{Table: "keeper", Key: "words", Help: "a chord's result shows in words for two seconds", Values: yesNo,
			field: func(s *Settings) any { return &s.Keeper.Words }},
	}
}

func notEmpty(text string) error {
	if strings.TrimSpace(text) == "" {
		return fmt.Errorf("it is empty")
	}
	return nil
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
func (c Choice) Get(s Settings) string {
	switch v := c.field(&s).(type) {
	case *int:
		return strconv.Itoa(*v)
	case *bool:
		return strconv.FormatBool(*v)
	case *string:
		return *v
	}
	return ""
}

// Next is the value that a key forward (by 1) or back (by -1) leads to: around
// the values, and to the ends of a number.
func (c Choice) Next(value string, by int) string {
	if c.Values != nil {
		n := len(c.Values)
		return c.Values[(slices.Index(c.Values, value)+by+n)%n]
	}
	n, _ := strconv.Atoi(value)
	return strconv.Itoa(min(max(n+by*c.Step, c.Min), c.Max))
}

// set gives the setting a value; it fails for one that it cannot have.
func (c Choice) set(s *Settings, value string) error {
	switch v := c.field(s).(type) {
	case *int:
		n, err := strconv.Atoi(value)
		if err != nil {
			return fmt.Errorf("%s must be %s", c.Name(), c.wants())
		}
		*v = n
	case *bool:
		*v = value == "true"
	case *string:
		*v = desk.CleanText(value, desk.MaxTitle)
	}
	return c.fault(*s)
}

// fault tells what is wrong with its value in the settings; nil where nothing is.
func (c Choice) fault(s Settings) error {
	value := c.Get(s)
	n, err := strconv.Atoi(value)
	switch {
	case c.Values != nil && slices.Contains(c.Values, value):
		return nil
	case c.Values == nil && c.Max > 0 && err == nil && n >= c.Min && n <= c.Max:
		return nil
	case c.Text() && c.check(value) == nil:
		return nil
	}
	return fmt.Errorf("%s must be %s", c.Key, c.wants())
}

// wants says what its value must be.
func (c Choice) wants() string {
	switch {
	case c.Text():
		return c.want
	case c.Values == nil:
		return fmt.Sprintf("%d to %d pixels", c.Min, c.Max)
	}
	quoted := make([]string, len(c.Values))
	for i, v := range c.Values {
		quoted[i] = strconv.Quote(v)
	}
	return strings.Join(quoted, " or ")
}

// literal is a value of it as the file writes it.
func (c Choice) literal(value string) string {
	if _, text := c.field(&Settings{}).(*string); text {
		return strconv.Quote(value)
	}
	return value
}
