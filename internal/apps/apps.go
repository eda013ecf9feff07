// Package apps finds the programs that are installed, by the Desktop Entry Specification 1.5 and
// the XDG Base Directory Specification. It ranks them by what is typed, and starts them. Nothing
// of an entry ever reaches a shell.
package apps

import (
	"cmp"
	"path/filepath"
	"slices"
	"strings"

	"zatlas/internal/file"
)

// App is a program that can be started.
type App struct {
	ID       string // the desktop file's id, such as org.example.Plan
	Name     string // in the user's language
	Command  []string
	Dir      string // the working folder, empty for the user's
	Terminal bool   // runs in a terminal
	Before   string // of a terminal: the argument after which it takes a program to run
	Class    string // what its windows call themselves, where the entry says
	Hidden   bool   // for programs, not to be listed
}

// maxFile is the most that is read of an entry, in bytes.
const maxFile = 256 << 10

// Folders lists the folders of desktop entries, the most important first.
func Folders(getenv func(string) string) []string {
	home := getenv("XDG_DATA_HOME")
	if home == "" && getenv("HOME") != "" {
		home = filepath.Join(getenv("HOME"), ".local", "share")
	}
	dirs := getenv("XDG_DATA_DIRS")
	if dirs == "" {
		dirs = "/usr/local/share:/usr/share"
	}
	var folders []string
	for _, d := range append([]string{home}, filepath.SplitList(dirs)...) {
		if filepath.IsAbs(d) { // relative ones are to be ignored
			folders = append(folders, filepath.Join(d, "applications"))
		}
	}
	return folders
}

// Locale is the language of messages, as in LC_MESSAGES: de_AT.UTF-8@euro.
func Locale(getenv func(string) string) string {
	return cmp.Or(getenv("LC_ALL"), getenv("LC_MESSAGES"), getenv("LANG"))
}

func load(path, locale, desktops string) (App, bool) {
	data, err := file.Read(path, maxFile)
	if err != nil {
		return App{}, false
	}
	app, err := Parse(data, path, locale, desktops)
	return app, err == nil
}

// names are what windows of the program may call their app, in small letters.
func (a App) names() []string {
	names := []string{a.Name, a.Class, a.ID, a.ID[strings.LastIndexByte(a.ID, '.')+1:]}
	if len(a.Command) > 0 {
		names = append(names, filepath.Base(a.Command[0]))
	}
	for i, n := range names {
		names[i] = strings.ToLower(n)
	}
	return names
}

// Runs tells whether windows of that app are this program's, as far as names tell.
func (a App) Runs(app string) bool {
	return app != "" && slices.Contains(a.names(), strings.ToLower(app))
}
