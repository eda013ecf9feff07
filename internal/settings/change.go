package settings

import (
	"errors"
	"fmt"
	"io/fs"
	"os"

	"zatlas/internal/file"
)

// File is the settings file at a path, as a text.
type File string

// Text is what stands in the file; nothing where there is none.
func (f File) Text() (string, error) {
	data, err := file.Read(string(f), file.MaxSettings)
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	if err != nil {
		return "", fmt.Errorf("the settings: %w", err)
	}
	return string(data), nil
}

// Replace writes a text in the place of another one, unless the file was changed since;
// where there is to be nothing, there is no file.
func (f File) Replace(from, to string) error {
	switch now, err := f.Text(); {
	case err != nil:
		return err
	case now != from:
		return fmt.Errorf("%s was changed since, and is left as it is", string(f))
	}
	if to == "" {
		return os.Remove(string(f))
	}
	return write(string(f), []byte(to))
}

// needed are chords that programs commonly need for themselves, and for what.
var needed = map[string]string{
	"Ctrl+C": "copying, and to stop a program in a terminal", "Ctrl+V": "pasting", "Ctrl+X": "cutting", "Ctrl+A": "selecting all", "Ctrl+Z": "undoing",
	"Ctrl+Shift+Z": "redoing", "Ctrl+Y": "redoing", "Ctrl+S": "saving", "Ctrl+O": "opening a file", "Ctrl+N": "a new window or file", "Ctrl+P": "printing",
	"Ctrl+F": "searching", "Ctrl+G": "searching on", "Ctrl+W": "closing a tab", "Ctrl+T": "a new tab", "Ctrl+Shift+T": "a tab that was closed", "Ctrl+Q": "quitting",
	"Ctrl+R": "loading a page again, and searching in a terminal", "Ctrl+D": "the end of input in a terminal", "Ctrl+L": "the line of addresses",
	"Ctrl+Shift+C": "copying in a terminal", "Ctrl+Shift+V": "pasting in a terminal", "Ctrl+Tab": "the next tab", "Ctrl+Shift+Tab": "the tab before",
	"Ctrl+PageUp": "the tab before", "Ctrl+PageDown": "the next tab", "Ctrl+Left": "a word back", "Ctrl+Right": "a word on", "Ctrl+Home": "the top of a text",
	"Ctrl+End": "the end of a text", "Ctrl+Space": "an input method", "Alt+F4": "closing a window", "Alt+Left": "back", "Alt+Right": "on again",
	"Alt+F": "a menu", "Alt+E": "a menu", "Alt+V": "a menu", "Alt+H": "a menu", "Alt+B": "a word back in a terminal", "Alt+D": "a word in a terminal",
	"Ctrl+Alt+Delete": "the machine's own questions",
}

// Needed says what programs commonly need a chord for; empty for nothing.
func (s Settings) Needed(k Keys) string { return needed[s.Resolved(k).Chord.String()] }

// Written is keys with Atlas in the place of the modifiers of the atlas key.
func (s Settings) Written(k Keys) Keys {
	atlas, err := ParseAtlasKey(s.AtlasKey())
	if err != nil || k.Chord.Atlas {
		return k
	}
	c, of := k.Chord, atlas.modifiers()
	for i, m := range c.modifiers() {
		if *of[i].on && !*m.on {
			return k
		}
		*m.on = *m.on && !*of[i].on
	}
	c.Atlas = true
	k.Chord = c
	return k
}

// Claimed is what keys stand for already: the row of what is pressed alike, of what would
// hide them, or of what they would hide; whole tells that it is the row itself that they
// claim, and not one key of its class. ok is false for nothing.
func (s Settings) Claimed(k Keys) (b Bound, whole, ok bool) {
	at := s.Resolved(k).pressed(Chord{})
	for _, r := range s.Rows() { // a class is claimed by the same class
		if o, err := ParseKeys(r.Row); err == nil && r.Class && s.Resolved(o).pressed(Chord{}) == at {
			return Bound{Keys: s.Resolved(o), Command: r.Command, Row: r.Row}, true, true
		}
	}
	bounds, err := s.Bounds()
	if err != nil {
		return b, false, false
	}
	for _, b := range bounds {
		if o := b.pressed(Chord{}); o == at || o.begins(at) || at.begins(o) {
			row, _ := ParseKeys(b.Row)
			_, class := row.class()
			return b, !class, true
		}
	}
	return b, false, false
}
