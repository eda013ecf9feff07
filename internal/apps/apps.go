// Package apps finds the programs that are installed, by the Desktop Entry
// Specification 1.5 and the XDG Base Directory Specification, and ranks them
// for what somebody types, and starts them. Nothing of an entry ever reaches a
// shell.
package apps

import (
	"cmp"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// App is a program that can be started.
type App struct {
	ID       string // the desktop file's id, such as org.example.Plan
	Name     string // in the user's language
	Command  []string
	Dir      string // the working folder, empty for the user's
	Terminal bool   // runs in a terminal
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

// Installed lists the programs of the folders that are to be shown, by name. Of
// entries with one id the first folder's counts, also where it hides the
// program. Entries that are at fault are left out.
func Installed(folders []string, locale, desktops string) []App {
	seen := map[string]bool{}
	var list []App
	for _, folder := range folders {
		filepath.WalkDir(folder, func(path string, e fs.DirEntry, err error) error {
			if err != nil || e.IsDir() || !strings.HasSuffix(path, ".desktop") {
				return nil // what cannot be read is not there
			}
			rel, err := filepath.Rel(folder, path)
			if err != nil {
				return nil
			}
			id := strings.TrimSuffix(strings.ReplaceAll(rel, string(filepath.Separator), "-"), ".desktop")
			if seen[id] {
				return nil
			}
			seen[id] = true
			if app, ok := load(path, locale, desktops); ok && !app.Hidden {
				app.ID = id
				list = append(list, app)
			}
			return nil
		})
	}
	slices.SortStableFunc(list, func(a, b App) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	return list
}

func load(path, locale, desktops string) (App, bool) {
	info, err := os.Stat(path)
	if err != nil || !info.Mode().IsRegular() || info.Size() > maxFile {
		return App{}, false
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return App{}, false
	}
	app, err := Parse(data, path, locale, desktops)
	return app, err == nil
}

// Runs tells whether windows of that app are this program's, as far as names tell.
func (a App) Runs(app string) bool {
	names := []string{a.Name, a.Class, a.ID, a.ID[strings.LastIndexByte(a.ID, '.')+1:]}
	if len(a.Command) > 0 {
		names = append(names, filepath.Base(a.Command[0]))
	}
	return app != "" && slices.ContainsFunc(names, func(n string) bool { return strings.EqualFold(n, app) })
}
