package keeper

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
)

// Launcher knows the programs that can be started. Its methods are called from
// the keeper's goroutine alone, and must not wait.
type Launcher interface {
	Installed() []apps.App
	// Start starts one of them and tells how its windows are known.
	Start(app apps.App) (startupID string, pid int, err error)
}

// App is an app that runs or can be started.
type App struct {
	Name      string // by which its windows are known
	Title     string // by which it is installed, where that is another
	Windows   int    // how many are open
	Installed bool
	Chosen    apps.Choice
}

// Apps lists the apps that run or can be started, those chosen most first.
func (k *Keeper) Apps(ctx context.Context) ([]App, error) {
	r := request{apps: make(chan []App, 1)}
	if err := k.send(ctx, r); err != nil {
		return nil, err
	}
	return <-r.apps, nil
}

// installed are the programs that can be started, by names that are safe to show:
// anybody may have written them.
func (k *Keeper) installed() []apps.App {
	if k.Launch == nil {
		return nil
	}
	list := slices.Clone(k.Launch.Installed())
	for i := range list {
		list[i].Name = desk.CleanText(list[i].Name, desk.MaxApp)
	}
	return slices.DeleteFunc(list, func(a apps.App) bool { return a.Name == "" })
}

// apps are the apps that run, and those installed that do not.
func (k *Keeper) apps() []App {
	var list []App
	for _, name := range k.update.Desk.Apps() {
		n := len(k.update.Desk.Select(desk.ByApp{Text: name, Whole: true}))
		list = append(list, App{Name: name, Windows: n, Chosen: k.Chosen[name]})
	}
	for _, a := range k.installed() {
		i := slices.IndexFunc(list, func(o App) bool { return a.Runs(o.Name) })
		if i >= 0 {
			list[i].Installed = true
			if list[i].Title == "" && a.Name != list[i].Name {
				list[i].Title = a.Name
			}
			continue
		}
		list = append(list, App{Name: a.Name, Installed: true, Chosen: k.Chosen[a.Name]})
	}
	now := time.Now()
	slices.SortStableFunc(list, func(a, b App) int {
		return cmp.Compare(apps.Habit(b.Chosen, now), apps.Habit(a.Chosen, now))
	})
	return list
}

// RankApps lists the apps that fit what was typed, by either of their names, the
// best first.
func RankApps(list []App, typed string) []App {
	byName, chosen := map[string]App{}, map[string]apps.Choice{}
	var names []string
	for _, a := range list {
		for _, n := range []string{a.Name, a.Title} {
			if _, dup := byName[n]; n != "" && !dup {
				names = append(names, n)
				byName[n], chosen[n] = a, a.Chosen
			}
		}
	}
	var ranked []App
	for _, n := range apps.Rank(names, typed, chosen, time.Now()) {
		if a := byName[n]; !slices.Contains(ranked, a) {
			ranked = append(ranked, a)
		}
	}
	return ranked
}

// resolve finds the app that the words of "open" mean: the one that fits them
// best, among equals the one chosen most, then one that runs.
func (k *Keeper) resolve(c desk.Command) (desk.Command, error) {
	if c.Verb != "open" || len(c.Args) == 0 {
		return c, nil
	}
	found := RankApps(k.apps(), c.Args[0].Word)
	if len(found) == 0 {
		return c, fmt.Errorf("no app is called %s: none that runs, and none that is installed", c.Args[0].Word)
	}
	c.Args = slices.Clone(c.Args)
	c.Args[0].Word = found[0].Name
	return c, nil
}

// start starts a program, and has the desk expect its first window.
func (k *Keeper) start(d *desk.Desk, s desk.Start) (*desk.Desk, error) {
	if k.Launch == nil {
		return d, errors.New("no program can be started here")
	}
	all := k.installed()
	i := slices.IndexFunc(all, func(a apps.App) bool { return strings.EqualFold(a.Name, s.App) || a.Runs(s.App) })
	if i < 0 {
		return d, fmt.Errorf("%s is not installed, as far as its name tells", s.App)
	}
	id, pid, err := k.Launch.Start(all[i])
	if err != nil {
		return d, fmt.Errorf("%s could not be started: %w", s.App, err)
	}
	next, _ := d.With(desk.Expect{Start: s, StartupID: id, PID: pid})
	return next, nil
}

// chose counts an app that was opened.
func (k *Keeper) chose(c desk.Command) {
	if c.Verb != "open" {
		return
	}
	if k.Chosen == nil {
		k.Chosen = map[string]apps.Choice{}
	}
	choice := apps.Choice{Count: k.Chosen[c.Args[0].Word].Count + 1, At: time.Now()}
	k.Chosen[c.Args[0].Word] = choice
	if k.KeepChoice != nil {
		k.KeepChoice(c.Args[0].Word, choice)
	}
}

// pin keeps a pin in the settings, and takes it up.
func (k *Keeper) pin(d *desk.Desk, p desk.Pin) (*desk.Desk, error) {
	if k.SavePin == nil || k.Reload == nil {
		return d, errors.New("there are no settings to keep a pin in; pin LETTER window ties it to one window")
	}
	if err := k.SavePin(p); err != nil {
		return d, err
	}
	return k.reload(d)
}
