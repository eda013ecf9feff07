package main

import (
	"cmp"
	"fmt"
	"strings"

	"zatlas/internal/lang"
	"zatlas/internal/settings"
	"zatlas/internal/tui"
)

// reference is the page of everything that is in tables: commands, queries, keys, chords,
// settings.
func reference() string {
	var b strings.Builder
	b.WriteString(`# Reference

All commands, keys, chords and settings. "make docs" writes this page from the tables of the program. [A day with it](GUIDE.md)
explains what they are for. The manual pages, "zatlas help language", "zatlas help settings" and "zatlas COMMAND --help" say the
same. [json.md](json.md) describes the output for programs.

## Commands

Press a command's key on the screens, or write the command: on the line that : opens, with "zatlas do", in chords, or in "zatlas
plan". A command about windows takes "of" and a query at its end. Without a query it acts on the focused window; on the screens,
on the marked windows, or on the chosen one. B is a monitor, 3 a workspace, B3 the sheet where they meet.

`)
	b.WriteString(verbs())
	b.WriteString("\n## Queries\n\nJoin terms by a space (and), or, not and brackets.\n\n| Term | |\n|---|---|\n")
	for _, t := range lang.Terms() {
		fmt.Fprintf(&b, "| %s | %s |\n", code(t.Example), cell(t.Means))
	}
	for _, s := range tui.Keys(nil)[1:] { // after those of the verbs
		fmt.Fprintf(&b, "\n## Keys: %s\n\n", headWords(s.Head))
		if s.About != "" {
			fmt.Fprintf(&b, "%s.\n\n", strings.ToUpper(s.About[:1])+s.About[1:])
		}
		b.WriteString("| Key | |\n|---|---|\n")
		for _, k := range s.Rows {
			fmt.Fprintf(&b, "| %s | %s |\n", code(k.Keys), cell(k.Does))
		}
	}
	b.WriteString("\n## Chords of a display\n\nAtlas stands for the modifier, the setting keeper.atlas_key. Change any chord under [chords] in the settings file.\n\n| Chord | Command |\n|---|---|\n")
	for _, r := range settings.Default().Rows() {
		fmt.Fprintf(&b, "| %s | %s |\n", code(r.Keys), code(r.Command))
	}
	b.WriteString("\n## Settings\n\nIn settings.toml, as \"zatlas config\" prints it.\n\n| Setting | Usual | |\n|---|---|---|\n")
	for _, c := range settings.Choices() {
		fmt.Fprintf(&b, "| %s | %s | %s |\n", code(c.Name()), code(cmp.Or(c.Usual, `""`)), cell(cmp.Or(c.About, c.Help)))
	}
	return b.String()
}

// headWords is a head of capitals in small letters, but for keys.
func headWords(head string) string {
	words := strings.Fields(head)
	for i, w := range words {
		if len(w) > 1 {
			words[i] = strings.ToLower(w)
		}
	}
	return strings.Join(words, " ")
}

// code is a text to be typed, as a cell of a table; empty for none.
func code(text string) string {
	if text == "" {
		return ""
	}
	return "`" + cell(text) + "`"
}

// cell is a text as a cell of a table.
func cell(text string) string { return strings.ReplaceAll(text, "|", `\|`) }
