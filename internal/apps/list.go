package apps

import (
	"cmp"
	"context"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"zatlas/internal/desk"
)

// List is the programs that can be started, by name. It is never written again.
type List struct {
	Apps []App
	own  map[string]int // the names by which windows of a program say whose they are
	by   map[string]int // every name that windows of a program may have, in small letters
}

// NewList makes a list of programs. Of two that have a name in common the first
// is found by it. Names are cleaned: anybody may have written them.
func NewList(list []App) *List {
	l := &List{by: map[string]int{}, own: map[string]int{}}
	for _, a := range list {
		if a.Name = desk.CleanText(a.Name, desk.MaxApp); a.Name == "" {
			continue
		}
		l.Apps = append(l.Apps, a)
	}
	slices.SortStableFunc(l.Apps, func(a, b App) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
	for i, a := range l.Apps {
		for _, n := range []string{a.Class, a.Name, a.ID, a.ID[strings.LastIndexByte(a.ID, '.')+1:]} {
			if _, taken := l.own[strings.ToLower(n)]; !taken && n != "" {
				l.own[strings.ToLower(n)] = i
			}
		}
		for _, n := range a.names() {
			if _, taken := l.by[n]; !taken && n != "" {
				l.by[n] = i
			}
		}
	}
	return l
}

// Find gives the program whose windows are of an app, as far as names tell.
func (l *List) Find(app string) (App, bool) {
	i, ok := l.by[strings.ToLower(app)]
	if !ok {
		return App{}, false
	}
	return l.Apps[i], true
}

// NameOf is the name of the program whose windows have a class and an instance (WM_CLASS). The
// desktop entry with that StartupWMClass, or with either as its name, says it; without one it
// is the class. The instance counts where it is part of the class, such as till of Till-2.1.
// Somebody who gives a program another class, as xterm -class Notes does, tells it from others.
func (l *List) NameOf(class, instance string) string {
	for _, n := range []string{class, instance} {
		if i, ok := l.own[strings.ToLower(n)]; ok && n != "" && strings.Contains(strings.ToLower(class), strings.ToLower(n)) {
			return l.Apps[i].Name
		}
	}
	return class
}

// Index reads the desktop entries of a user, and again only what has changed
// since. It may be used by several goroutines at once.
type Index struct {
	Getenv func(string) string

	mu      sync.Mutex
	list    *List
	began   time.Time     // of the last reading
	reading chan struct{} // closed when the one that is going on ends; nil where none is

	folders map[string]*folder // by path; of the goroutine that reads
	entries map[string]*entry
}

// folder is what a folder held when it was last read.
type folder struct {
	changed time.Time
	names   []string // of entries
	folders []string
}

// entry is a desktop entry as it was last read.
type entry struct {
	changed time.Time
	size    int64
	app     App
	ok      bool
}

// fresh is how long what was read is taken for true without asking.
const fresh = 5 * time.Second

// Installed gives the programs as they were last read, at once, and has them
// read again where that was a while ago. It is empty before they were read.
func (x *Index) Installed() *List {
	x.mu.Lock()
	defer x.mu.Unlock()
	if time.Since(x.began) > fresh {
		x.start()
	}
	if x.list == nil {
		return &List{}
	}
	return x.list
}

// Ready waits until the reading ends that goes on, if one does.
func (x *Index) Ready(ctx context.Context) error {
	x.mu.Lock()
	running := x.reading
	x.mu.Unlock()
	if running == nil {
		return nil
	}
	return wait(ctx, running)
}

// Renew waits until what was installed at the time of the call is known.
func (x *Index) Renew(ctx context.Context) error {
	x.mu.Lock()
	running := x.reading
	x.mu.Unlock()
	if running != nil { // it may have passed by what is new
		if err := wait(ctx, running); err != nil {
			return err
		}
	}
	x.mu.Lock()
	x.start()
	running = x.reading
	x.mu.Unlock()
	return wait(ctx, running)
}

func wait(ctx context.Context, done <-chan struct{}) error {
	select {
	case <-done:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

// start begins a reading, unless one goes on. The lock must be held.
func (x *Index) start() {
	if x.reading != nil {
		return
	}
	done := make(chan struct{})
	x.reading, x.began = done, time.Now()
	go func() {
		list := x.read()
		x.mu.Lock()
		defer x.mu.Unlock()
		x.list, x.reading = list, nil
		close(done)
	}()
}

// read reads what has changed. Of entries with one id the first folder's counts,
// also where it hides the program. Entries that are at fault are left out.
func (x *Index) read() *List {
	if x.folders == nil {
		x.folders, x.entries = map[string]*folder{}, map[string]*entry{}
	}
	locale, desktops := Locale(x.Getenv), x.Getenv("XDG_CURRENT_DESKTOP")
	seen := map[string]bool{}
	var list []App
	there := map[string]bool{}
	for _, root := range Folders(x.Getenv) {
		x.walk(root, 0, func(path string) {
			there[path] = true
			id := strings.TrimSuffix(strings.ReplaceAll(strings.TrimPrefix(path, root+string(filepath.Separator)), string(filepath.Separator), "-"), ".desktop")
			if seen[id] {
				return
			}
			seen[id] = true
			if e := x.entry(path, locale, desktops); e.ok && !e.app.Hidden {
				app := e.app
				app.ID = id
				list = append(list, app)
			}
		})
	}
	for path := range x.entries {
		if !there[path] {
			delete(x.entries, path)
		}
	}
	return NewList(list)
}

// maxNesting is how deep folders of entries are looked into: links may lead
// round in a circle.
const maxNesting = 8

// walk calls visit for every entry under a folder, in the order of names.
func (x *Index) walk(dir string, depth int, visit func(path string)) {
	info, err := os.Stat(dir)
	if err != nil || !info.IsDir() || depth > maxNesting {
		delete(x.folders, dir)
		return // what cannot be read is not there
	}
	f := x.folders[dir]
	// A change within the grain of the clock after the last reading would not show.
	if f == nil || !f.changed.Equal(info.ModTime()) || time.Since(info.ModTime()) < 2*time.Second {
		f = readFolder(dir, info.ModTime())
		x.folders[dir] = f
	}
	for _, n := range f.names {
		visit(filepath.Join(dir, n))
	}
	for _, n := range f.folders {
		x.walk(filepath.Join(dir, n), depth+1, visit)
	}
}

func readFolder(dir string, changed time.Time) *folder {
	f := &folder{changed: changed}
	es, err := os.ReadDir(dir)
	if err != nil {
		return f
	}
	for _, e := range es {
		switch {
		case strings.HasSuffix(e.Name(), ".desktop") && !e.IsDir():
			f.names = append(f.names, e.Name())
		case e.IsDir() || e.Type()&fs.ModeSymlink != 0:
			f.folders = append(f.folders, e.Name())
		}
	}
	return f
}

// entry is the entry at a path, read again where it has changed.
func (x *Index) entry(path, locale, desktops string) *entry {
	info, err := os.Stat(path)
	if err != nil {
		return &entry{}
	}
	if e := x.entries[path]; e != nil && e.changed.Equal(info.ModTime()) && e.size == info.Size() {
		return e
	}
	e := &entry{changed: info.ModTime(), size: info.Size()}
	e.app, e.ok = load(path, locale, desktops)
	x.entries[path] = e
	return e
}
